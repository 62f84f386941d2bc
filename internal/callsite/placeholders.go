package callsite

import (
	"strconv"
	"strings"
)

// placeholderStyle tells which marks a client API takes for placeholders; the
// question mark of SQL is one everywhere.
type placeholderStyle uint8

const (
	percentMarks placeholderStyle = 1 << iota // %s, %(name)s
	colonMarks                                // :name, :1
	dollarMarks                               // $1, $name
	atMarks                                   // @name, where the text declares no such variable
	hashMarks                                 // #{name}, of mapper files
	braceMarks                                // {0}
	noQuestion                                // ? is an operator
)

// mark is one placeholder of a call text.
type mark struct {
	// name is what it is called, number what it counts itself as, and ordinal
	// which of the text it is, from 1.
	name            string
	number, ordinal int
}

// key is what a bound value is found by.
func (m mark) key() bindKey {
	switch {
	case m.name != "":
		return nameKey(m.name)
	case m.number > 0:
		return bindKey{index: m.number}
	}
	return bindKey{index: m.ordinal}
}

// canonical replaces the placeholders of every style by question marks, padded
// so that all offsets stay, and returns what stood at each. Strings, quoted
// names and comments are left alone.
func canonical(sql string, style placeholderStyle) (string, map[int]mark) {
	out := []byte(sql)
	marks := map[int]mark{}
	put := func(from, to int, m mark) int {
		m.ordinal = len(marks) + 1
		marks[from] = m
		for i := from; i < to; i++ {
			out[i] = ' '
		}
		out[from] = '?'
		return to - 1
	}
	ident := func(i int) int {
		for i < len(sql) && (sql[i] == '_' || sql[i] == '$' && style&dollarMarks == 0 || sql[i]|0x20 >= 'a' && sql[i]|0x20 <= 'z' || sql[i] >= '0' && sql[i] <= '9') {
			i++
		}
		return i
	}
	for i := 0; i < len(sql); i++ {
		next := byte(0)
		if i+1 < len(sql) {
			next = sql[i+1]
		}
		switch c := sql[i]; {
		case c == '\'' || c == '"' || c == '`':
			if c == '\'' && style&percentMarks != 0 && strings.HasPrefix(sql[i:], "'%s'") { // quoted by mistake; drivers replace it anyway
				i = put(i+1, i+3, mark{}) + 1
				continue
			}
			for i++; i < len(sql) && sql[i] != c; i++ {
				if sql[i] == '\\' && c == '\'' && i+1 < len(sql) && sql[i+1] == c {
					i++
				}
			}
		case c == '-' && next == '-':
			for i < len(sql) && sql[i] != '\n' {
				i++
			}
		case c == '/' && next == '*':
			if end := strings.Index(sql[i+2:], "*/"); end >= 0 {
				i += 2 + end + 1
			} else {
				i = len(sql)
			}
		case c == '?' && style&noQuestion == 0:
			to := ident(i + 1)
			if n, err := strconv.Atoi(sql[i+1 : to]); err == nil { // ?1, of JPA
				i = put(i, to, mark{number: n})
			} else {
				i = put(i, i+1, mark{})
			}
		case c == '%' && style&percentMarks != 0:
			switch {
			case next == '%':
				i++
			case next == 's' || next == 'd' || next == 'b' || next == 't' || next == 'i' || next == 'f':
				i = put(i, i+2, mark{})
			case next == '(':
				if end := strings.IndexByte(sql[i:], ')'); end > 0 && i+end+1 < len(sql) {
					i = put(i, i+end+2, mark{name: sql[i+2 : i+end]})
				}
			}
		case c == ':' && style&colonMarks != 0 && (i == 0 || sql[i-1] != ':' && ident(i-1) == i-1):
			if next == '"' {
				if end := strings.IndexByte(sql[i+2:], '"'); end > 0 {
					i = put(i, i+3+end, mark{name: sql[i+2 : i+2+end]})
				}
				continue
			}
			if to := ident(i + 1); to > i+1 {
				m := mark{name: sql[i+1 : to]}
				if n, err := strconv.Atoi(m.name); err == nil {
					m = mark{number: n}
				}
				i = put(i, to, m)
			}
		case c == '$' && style&dollarMarks != 0:
			if to := ident(i + 1); to > i+1 {
				m := mark{name: sql[i+1 : to]}
				if n, err := strconv.Atoi(m.name); err == nil {
					m = mark{number: n}
				}
				i = put(i, to, m)
			}
		case c == '{' && style&braceMarks != 0 && next >= '0' && next <= '9':
			if end := strings.IndexByte(sql[i:], '}'); end > 0 {
				if n, err := strconv.Atoi(sql[i+1 : i+end]); err == nil {
					i = put(i, i+end+1, mark{number: n + 1})
				}
			}
		case (c == '#' || c == '$' && style&dollarMarks == 0) && next == '{' && style&hashMarks != 0:
			if end := strings.IndexByte(sql[i:], '}'); end > 0 {
				i = put(i, i+end+1, mark{name: strings.TrimSpace(sql[i+2 : i+end])})
			}
		}
	}
	return string(out), marks
}
