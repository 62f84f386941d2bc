// Package testkit holds what the tests of several packages share: source texts
// of the demo project, large texts made from them, and ways to break a text.
package testkit

import (
	"bytes"
	"fmt"
	"testing"

	"github.com/stretchr/testify/require"

	"ramekin/internal/demo"
)

// DemoFile returns a file of the demo project.
func DemoFile(t testing.TB, path string) []byte {
	t.Helper()
	data, err := demo.ReadFile(path)
	require.NoError(t, err)
	return data
}

// Large repeats files of the demo project until the text has size bytes. Names
// are left as they are; a comment tells the copies apart.
func Large(t testing.TB, size int, comment string, paths ...string) []byte {
	t.Helper()
	var b bytes.Buffer
	for i := 0; b.Len() < size; i++ {
		for _, p := range paths {
			fmt.Fprintf(&b, "%s copy %d of %s\n", comment, i, p)
			b.Write(DemoFile(t, p))
			b.WriteByte('\n')
		}
	}
	return b.Bytes()
}

// Broken calls try with every prefix of text, and with text less any one of its
// bytes.
func Broken(text []byte, try func(broken []byte)) {
	for i := range text {
		try(text[:i])
		try(append(append([]byte{}, text[:i]...), text[i+1:]...))
	}
}
