// Package bson stands in the place of the codec of a document database that gin would read and write bodies with, which
// no route of this program takes or gives: go.mod puts it there, so that it is not compiled for nothing.
package bson

import "errors"

var errLeftOut = errors.New("this program neither reads nor writes BSON")

// Marshal is refused.
func Marshal(any) ([]byte, error) { return nil, errLeftOut }

// Unmarshal is refused.
func Unmarshal([]byte, any) error { return errLeftOut }
