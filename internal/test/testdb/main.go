// Command testdb starts and stops the throw-away PostgreSQL that all packages' tests share.
package main

import (
	"fmt"
	"os"

	"copperlark/internal/postgres"
)

func main() {
	if len(os.Args) != 3 {
		fmt.Fprintln(os.Stderr, "testdb start|stop|owner FOLDER")
		os.Exit(2)
	}
	var err error
	switch os.Args[1] {
	case "start":
		_, err = postgres.StartThrowaway(os.Args[2])
	case "owner": // the address by which its owner comes in, who may do everything
		if c := postgres.AttachThrowaway(os.Args[2]); c != nil {
			fmt.Println(c.OwnerURL("postgres"))
		}
	default:
		if c := postgres.AttachThrowaway(os.Args[2]); c != nil {
			err = c.Stop()
		}
	}
	if err != nil {
		fmt.Fprintln(os.Stderr, "testdb:", err)
		os.Exit(1)
	}
}
