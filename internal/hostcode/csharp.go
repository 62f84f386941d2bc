package hostcode

import (
	"bytes"
	"strings"
)

// CSharp is C# up to its current version (the C# language specification, 6
// "Lexical structure").
var CSharp = Language{
	Name:        "csharp",
	Extensions:  []string{".cs"},
	directives:  true,
	BareMembers: true, attributes: true, namedArguments: true, nullForgiving: true, queries: true,
	verbatimNames: true,
	keyword:       csharpKeyword,
	stringAt:      csharpString,
	StringValue:   csharpStringValue,
	holes:         csharpHoles,
	PartValue:     csharpPartValue,
}

func csharpKeyword(w []byte) keyword {
	switch string(w) {
	case "as":
		return kwAs
	case "await":
		return kwAwait
	case "break":
		return kwBreak
	case "case":
		return kwCase
	case "catch":
		return kwCatch
	case "class":
		return kwClass
	case "const":
		return kwConst
	case "continue":
		return kwContinue
	case "default":
		return kwDefault
	case "delegate":
		return kwDelegate
	case "do":
		return kwDo
	case "else":
		return kwElse
	case "enum":
		return kwEnum
	case "finally":
		return kwFinally
	case "for":
		return kwFor
	case "foreach":
		return kwForeach
	case "goto":
		return kwGoto
	case "if":
		return kwIf
	case "in":
		return kwIn
	case "interface":
		return kwInterface
	case "is":
		return kwIs
	case "lock", "fixed":
		return kwLock
	case "namespace":
		return kwNamespace
	case "new":
		return kwNew
	case "null":
		return kwNull
	case "true":
		return kwTrue
	case "false":
		return kwFalse
	case "this", "base":
		return kwThis
	case "operator":
		return kwOperator
	case "out":
		return kwOut
	case "readonly":
		return kwReadonly
	case "record":
		return kwRecord
	case "ref", "params":
		return kwRef
	case "return":
		return kwReturn
	case "static":
		return kwStatic
	case "struct":
		return kwStruct
	case "switch":
		return kwSwitch
	case "throw":
		return kwThrow
	case "try":
		return kwTry
	case "using":
		return kwUsing
	case "when":
		return kwWhen
	case "where":
		return kwWhere
	case "while":
		return kwWhile
	case "with":
		return kwWith
	case "yield":
		return kwYield
	case "public", "private", "protected", "internal", "abstract", "sealed", "virtual", "override", "extern", "unsafe",
		"volatile", "partial", "async", "event", "implicit", "explicit", "required", "file":
		return kwModifier
	case "int", "uint", "long", "ulong", "short", "ushort", "byte", "sbyte", "char", "bool", "float", "double", "decimal", "object", "string", "void":
		return kwPrimitive
	}
	return notKeyword
}

// csharpForm tells how a string literal is written: how many $ and whether @
// stand before it, and how many quotes open it.
func csharpForm(src []byte, start int) (dollars int, verbatim bool, quotes, open int) {
	i := start
	for i < len(src) && (src[i] == '$' || src[i] == '@') {
		if src[i] == '$' {
			dollars++
		} else {
			verbatim = true
		}
		i++
	}
	open = i
	for i < len(src) && src[i] == '"' {
		quotes++
		i++
	}
	return dollars, verbatim, quotes, open
}

func csharpString(src []byte, start int) (int, tokenKind) {
	switch src[start] {
	case '\'':
		return lineLiteralEnd(src, start, '\''), tokChar
	case '"', '$', '@':
	default:
		return 0, tokEOF
	}
	dollars, verbatim, quotes, open := csharpForm(src, start)
	if quotes == 0 {
		return 0, tokEOF
	}
	kind := tokString
	if dollars > 0 {
		kind = tokInterp
	}
	if quotes >= 3 && !verbatim { // a raw literal
		i := bytes.Index(src[open+quotes:], bytes.Repeat([]byte{'"'}, quotes))
		if i < 0 {
			return len(src), kind
		}
		end := open + quotes + i + quotes
		for end < len(src) && src[end] == '"' {
			end++
		}
		return end, kind
	}
	if dollars == 0 && !verbatim {
		return lineLiteralEnd(src, start, '"'), kind
	}
	depth := 0
	for i := open + 1; i < len(src); i++ {
		c := src[i]
		switch {
		case dollars > 0 && c == '{':
			if depth == 0 && i+1 < len(src) && src[i+1] == '{' {
				i++
			} else {
				depth++
			}
		case dollars > 0 && c == '}':
			if depth > 0 {
				depth--
			}
		case depth > 0 && (c == '"' || c == '\'' || c == '$' || c == '@'): // a literal inside an expression
			if end, _ := csharpString(src, i); end > i {
				i = end - 1
			}
		case depth > 0:
		case c == '\\' && !verbatim:
			i++
		case c == '"':
			if verbatim && i+1 < len(src) && src[i+1] == '"' {
				i++
				continue
			}
			return i + 1, kind
		case c == '\n' && !verbatim:
			return i, kind
		}
	}
	return len(src), kind
}

func csharpStringValue(text string) string {
	_, verbatim, quotes, open := csharpForm([]byte(text), 0)
	switch {
	case quotes >= 3 && !verbatim:
		end := len(text)
		for end > open+quotes && text[end-1] == '"' && len(text)-end < quotes {
			end--
		}
		return rawText(text[open+quotes : end])
	case verbatim:
		return strings.ReplaceAll(trimQuotes(text[open:], '"'), `""`, `"`)
	}
	return unescape(trimQuotes(text, '"'))
}

// rawText takes the first and last line end and the indentation of the last
// line from a raw literal of several lines.
func rawText(s string) string {
	s = strings.ReplaceAll(s, "\r\n", "\n")
	first := strings.IndexByte(s, '\n')
	last := strings.LastIndexByte(s, '\n')
	if first < 0 || strings.TrimSpace(s[:first]) != "" {
		return s
	}
	indent := s[last+1:]
	if last == first {
		return ""
	}
	lines := strings.Split(s[first+1:last], "\n")
	for i, l := range lines {
		lines[i] = strings.TrimPrefix(l, indent)
	}
	return strings.Join(lines, "\n")
}

// csharpHoles splits an interpolated literal into text and expressions. A
// format or alignment behind an expression is left out.
func csharpHoles(src []byte, start, end int, part func(value bool, from, to int)) {
	dollars, verbatim, quotes, open := csharpForm(src[:end], start)
	raw := quotes >= 3 && !verbatim
	braces := 1
	from, to := open+1, end-1
	if raw {
		braces = dollars
		from, to = open+quotes, end-quotes
	}
	text := from
	for i := from; i < to; i++ {
		c := src[i]
		if c == '\\' && !verbatim && !raw {
			i++
			continue
		}
		if c != '{' {
			continue
		}
		run := 0
		for i+run < to && src[i+run] == '{' {
			run++
		}
		if !raw && run >= 2 { // doubled braces stand for themselves
			i += run/2*2 - 1
			continue
		}
		if run < braces {
			i += run - 1
			continue
		}
		i += run
		if i-braces > text {
			part(true, text, i-braces)
		}
		exprEnd, holeEnd := csharpHoleEnd(src, i, to)
		part(false, i, exprEnd)
		i = holeEnd + braces - 1
		text = min(holeEnd+braces, to)
	}
	if to > text {
		part(true, text, to)
	}
}

// csharpHoleEnd finds the end of an expression inside a literal, and the brace
// that closes it.
func csharpHoleEnd(src []byte, from, to int) (exprEnd, holeEnd int) {
	depth := 0
	exprEnd = -1
	for i := from; i < to; i++ {
		switch c := src[i]; c {
		case '(', '[', '{':
			depth++
		case ')', ']':
			depth--
		case '}':
			if depth == 0 {
				if exprEnd < 0 {
					exprEnd = i
				}
				return exprEnd, i
			}
			depth--
		case '"', '\'', '$', '@':
			if exprEnd < 0 {
				if end, _ := csharpString(src[:to], i); end > i {
					i = end - 1
				}
			}
		case ':', ',':
			if depth == 0 && exprEnd < 0 {
				exprEnd = i
			}
		}
	}
	if exprEnd < 0 {
		exprEnd = to
	}
	return exprEnd, to
}

func csharpPartValue(src []byte, literal, from, to int) string {
	_, verbatim, quotes, _ := csharpForm(src, literal)
	text := string(src[from:to])
	if quotes >= 3 && !verbatim {
		return text
	}
	text = strings.ReplaceAll(strings.ReplaceAll(text, "{{", "{"), "}}", "}")
	if verbatim {
		return strings.ReplaceAll(text, `""`, `"`)
	}
	return unescape(text)
}
