// Command ramekin reads the signatures of stored routines from DDL, checks the
// code that calls them, and writes typed bindings.
package main

import (
	"os"

	"ramekin/internal/cli"
)

func main() { os.Exit(cli.Main(os.Args[1:], os.Stdin, os.Stdout, os.Stderr)) }
