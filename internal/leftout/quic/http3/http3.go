// Package http3 stands in the place of the one that gin would serve over QUIC with, which this program never does:
// go.mod puts it there, so that eighteen packages are not compiled for nothing.
package http3

import (
	"errors"
	"net/http"
)

// ListenAndServeQUIC is refused: the program serves over TCP.
func ListenAndServeQUIC(string, string, string, http.Handler) error {
	return errors.New("this program does not serve over QUIC")
}
