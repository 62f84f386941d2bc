package callsite

import (
	"bytes"
	"regexp"
	"strings"

	"ramekin/internal/signature"
	"ramekin/internal/sqlcall"
	"ramekin/internal/sqltext"
)

// mapperConvention is that of the statements in mapper files, whose places say
// themselves which way they go.
var mapperConvention = Convention{Captures: "Write {#{status, mode=OUT, jdbcType=INTEGER} = call …} and look at it.", API: "mapper", AddsSigil: true, IndexFrom: 1, Registers: "mode=OUT, jdbcType=…"}

var (
	mapperElement = regexp.MustCompile(`(?is)<(select|insert|update|delete)\b([^>]*)>`)
	mapperTag     = regexp.MustCompile(`(?s)<!--.*?-->|<!\[CDATA\[|\]\]>|</?[A-Za-z][^>]*>`)
	mapperPlace   = regexp.MustCompile(`\$\{[^}]*\}`)
)

// IsMapper reports whether a file is one of statements for an object mapper.
func IsMapper(path string, text []byte) bool {
	return strings.HasSuffix(strings.ToLower(path), ".xml") && (bytes.Contains(text, []byte("<mapper")) || bytes.Contains(text, []byte("<sqlMap")))
}

// FromMapper finds the calls in the statements of a mapper file.
func FromMapper(path string, src []byte) []*Call {
	lines := sqltext.NewLineTable(src)
	span := func(from, to int) Span {
		s := Span{File: path}
		s.Line, s.Column = lines.Position(from)
		s.EndLine, s.EndColumn = lines.Position(to)
		return s
	}
	comments := regexp.MustCompile(`(?s)<!--.*?-->`).FindAllIndex(src, -1)
	var calls []*Call
	for _, m := range mapperElement.FindAllSubmatchIndex(src, -1) {
		if inside(comments, m[0]) {
			continue
		}
		name := strings.ToLower(string(src[m[2]:m[3]]))
		attributes := string(src[m[4]:m[5]])
		end := bytes.Index(bytes.ToLower(src[m[1]:]), []byte("</"+name))
		if strings.HasSuffix(attributes, "/") || end < 0 {
			continue
		}
		text, holes := mapperText(src[m[1] : m[1]+end])
		flat, marks := canonical(text, hashMarks)
		for _, sc := range sqlcall.All([]byte(flat), hostLexis(flat)) {
			if sc.Dynamic {
				continue
			}
			calls = append(calls, mapperCall(name, attributes, text, m[1], marks, holes, &sc, span))
		}
	}
	return calls
}

func inside(extents [][]int, offset int) bool {
	for _, e := range extents {
		if offset >= e[0] && offset < e[1] {
			return true
		}
	}
	return false
}

// mapperText is the text of a statement with the tags inside made blanks, so
// that offsets stay, and the extents of the text that the program joins in.
func mapperText(content []byte) (string, [][]int) {
	out := append([]byte(nil), content...)
	blank := func(from, to int) {
		for i := from; i < to; i++ {
			if out[i] != '\n' {
				out[i] = ' '
			}
		}
	}
	for _, t := range mapperTag.FindAllIndex(content, -1) {
		blank(t[0], t[1])
	}
	text := string(out)
	for entity, mark := range map[string]string{"&lt;": "<   ", "&gt;": ">   ", "&amp;": "&    ", "&quot;": "\"     ", "&apos;": "'     "} {
		text = strings.ReplaceAll(text, entity, mark)
	}
	holes := mapperPlace.FindAllStringIndex(text, -1)
	b := []byte(text)
	for _, h := range holes {
		for i := h[0]; i < h[1]; i++ {
			b[i] = '_'
		}
	}
	return string(b), holes
}

func mapperCall(element, attributes, text string, base int, marks map[int]mark, holes [][]int, sc *sqlcall.Call, span func(from, to int) Span) *Call {
	c := &Call{Host: "xml", API: "mapper", State: Named, Name: sc.Name, Verb: sc.Verb, StatusArg: -1, Conv: &mapperConvention, Executed: true,
		At: span(base+sc.NameStart, base+sc.NameEnd), Text: strings.Join(strings.Fields(text), " "), CanCapture: sc.Verb != "expression" || sc.Return != "", Placeholder: len(marks)}
	c.Use = c.At
	if element == "select" && (strings.Contains(attributes, "resultMap") || strings.Contains(attributes, "resultType")) {
		c.ReadsRows, c.RowsEscape, c.RowsAt = true, true, c.At
	}
	for _, h := range holes {
		if h[0] < sc.NameEnd && h[1] > sc.NameStart {
			c.State, c.Name = Unresolved, nil
			c.Reason = "the routine's name is only known when the program runs: " + clipText(c.Text, 80)
		}
	}
	if sc.Return != "" && !sc.ReturnIsVariable {
		a := mapperArgument(marks[sc.ReturnStart])
		a.At = span(base+sc.ReturnStart, base+sc.ReturnStart+1)
		a.ValueAt = a.At
		a.Direction, a.Registered = Return, true
		a.Reads = []Read{{At: a.At, Kind: signature.KindUnknown}}
		c.Captures, c.CaptureAt, c.StatusArg, c.Status = true, a.At, 0, &StatusUse{Escapes: true}
		c.Arguments = append(c.Arguments, a)
	}
	for i, sa := range sc.Arguments {
		at := span(base+sa.Start, base+sa.End)
		a := Argument{Position: i + 1, Name: sa.Name, Value: sa.Text, Direction: In, OutWord: sa.OutWord, Valued: true, At: at, ValueAt: at, IsNull: sa.Kind == sqlcall.Null}
		a.Form, a.Kind = formOf(sa)
		if m, ok := marks[sa.ValueStart]; ok && sa.Kind == sqlcall.Placeholder {
			b := mapperArgument(m)
			b.Position, b.Name, b.At, b.ValueAt = a.Position, a.Name, at, at
			a = b
		}
		for _, h := range holes {
			if h[0] < sa.ValueEnd && h[1] > sa.ValueStart {
				a.Form, a.Kind = Joined, signature.KindUnknown
				c.Holes = append(c.Holes, span(base+h[0], base+h[1]))
			}
		}
		c.Arguments = append(c.Arguments, a)
	}
	return c
}

// mapperArgument reads property, mode=OUT, jdbcType=INTEGER.
func mapperArgument(m mark) Argument {
	a := Argument{Form: Bound, Direction: In, Valued: true, Kind: signature.KindUnknown, Index: m.ordinal}
	for i, p := range strings.Split(m.name, ",") {
		key, val, _ := strings.Cut(strings.TrimSpace(p), "=")
		val = strings.TrimSpace(val)
		switch strings.TrimSpace(key) {
		case "mode":
			switch strings.ToUpper(val) {
			case "OUT":
				a.Direction, a.Registered, a.Valued = Out, true, false
			case "INOUT":
				a.Direction, a.Registered = InOut, true
			}
		case "jdbcType":
			if k, ok := jdbcTypes[val]; ok {
				a.Kind, a.Explicit = k, true
				a.National = strings.HasPrefix(val, "N") && k == signature.KindString
			}
			if val == "CURSOR" {
				a.Kind, a.Explicit = signature.KindCursor, true
			}
		case "javaType":
			if k := hostKind(bareType(val)); k != signature.KindUnknown && a.Kind == signature.KindUnknown {
				a.Kind = k
			}
		default:
			if i == 0 {
				a.Value = strings.TrimSpace(p)
			}
		}
	}
	if a.Registered { // the object or map that was passed has it afterwards
		a.Reads = []Read{{Kind: signature.KindUnknown}}
		if a.Direction == Out {
			a.Value = ""
		}
	}
	return a
}
