// Package sqltype reads the data types that SQL text declares, each dialect's
// with a function of its own in a file of its own. A type that the dialect does
// not know by itself (an alias, a domain, a table type) comes back with kind
// "user"; whoever has the declarations at hand resolves it.
package sqltype

import (
	"strconv"
	"strings"

	"ramekin/internal/signature"
	"ramekin/internal/sqltext"
)

// Reader reads the type at the cursor and moves past it. It returns false,
// without moving, where no type begins there.
type Reader func(c *sqltext.Cursor) (signature.Type, bool)

// Declared is a named type that a source declares.
type Declared struct {
	Schema, Name string
	Type         signature.Type
}

// SplitName splits schema.name at its last point.
func SplitName(dotted string) (schema, name string) {
	if i := strings.LastIndexByte(dotted, '.'); i >= 0 {
		return dotted[:i], dotted[i+1:]
	}
	return "", dotted
}

// arguments reads ( n [, m] ) or ( max ) and returns the numbers; it moves past
// whatever else stands in the brackets.
func arguments(c *sqltext.Cursor) (first, second int, n int) {
	if !c.AtOp('(') {
		return 0, 0, 0
	}
	start := c.I + 1
	if !c.SkipParens() {
		return 0, 0, 0
	}
	for i := start; i < c.I-1; i++ {
		t := c.At(i)
		v, known := 0, false
		switch {
		case t.Kind == sqltext.Number:
			v = number(c.Text(t)) * unit(c, i+1)
			known = true
		case t.Is(c.Src, "max"):
			v, known = -1, true
		}
		if !known {
			continue
		}
		if n == 0 {
			first = v
		} else if n == 1 {
			second = v
		}
		n++
	}
	return first, second, n
}

// number is the value of a whole number, 0 where it is none or too large.
func number(text string) int {
	v, err := strconv.Atoi(text)
	if err != nil {
		return 0
	}
	return v
}

// unit is what the letter K, M or G behind a length stands for.
func unit(c *sqltext.Cursor, i int) int {
	switch t := c.At(i); {
	case t.Is(c.Src, "k"):
		return 1 << 10
	case t.Is(c.Src, "m"):
		return 1 << 20
	case t.Is(c.Src, "g"):
		return 1 << 30
	}
	return 1
}

func lower(s string) string { return strings.ToLower(s) }

// known holds the names of types that are spelled in one word, so that reading
// one makes no new string.
var known = func() map[string]string {
	m := map[string]string{}
	for name := range sqlServerKinds {
		m[name] = name
	}
	for name := range mySQLKinds {
		m[name] = name
	}
	return m
}()

// lowerName is the word in lower case.
func lowerName(word []byte) string {
	var buf [24]byte
	if len(word) > len(buf) {
		return lower(string(word))
	}
	for i, c := range word {
		if 'A' <= c && c <= 'Z' {
			c |= 0x20
		}
		if c >= 0x80 {
			return lower(string(word))
		}
		buf[i] = c
	}
	if name, ok := known[string(buf[:len(word)])]; ok {
		return name
	}
	return string(buf[:len(word)])
}
