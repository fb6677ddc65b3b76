// Command run is the provider of the tests as a program of its own: it prints its address, and lets in whoever the file that
// is named says.
package main

import (
	"encoding/json"
	"fmt"
	"net"
	"net/http"
	"os"

	"copperlark/internal/test/provider"
)

func main() {
	if err := run(os.Args[1]); err != nil {
		fmt.Fprintln(os.Stderr, err)
		os.Exit(1)
	}
}

func run(file string) error {
	p, err := provider.New()
	if err != nil {
		return err
	}
	text, err := os.ReadFile(file)
	if err != nil {
		return err
	}
	claims := map[string]any{}
	if err := json.Unmarshal(text, &claims); err != nil {
		return err
	}
	p.Say(claims)
	listener, err := net.Listen("tcp", "127.0.0.1:0")
	if err != nil {
		return err
	}
	p.Address = "http://" + listener.Addr().String()
	fmt.Println(p.Address)
	return http.Serve(listener, p)
}
