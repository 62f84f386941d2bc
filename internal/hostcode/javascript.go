package hostcode

import (
	"bytes"
	"strings"
)

// JavaScript is ECMAScript up to its current edition (ECMA-262, clause 12 for
// its lexical structure), JSX included.
var JavaScript = Language{
	Name:       "javascript",
	Extensions: []string{".js", ".mjs", ".cjs", ".jsx"},

	keyword: javascriptKeyword, scan: javascriptScan, file: javascriptFile, expression: (*Parser).jsExpression,
	StringValue: javascriptStringValue, holes: javascriptHoles, PartValue: javascriptPartValue,
}

// TypeScript is JavaScript with types (TypeScript handbook); TSX included.
var TypeScript = func() Language {
	l := JavaScript
	l.Name, l.Extensions, l.typed = "typescript", []string{".ts", ".tsx", ".mts", ".cts"}, true
	return l
}()

func javascriptKeyword(w []byte) keyword {
	switch string(w) {
	case "break":
		return kwBreak
	case "case":
		return kwCase
	case "catch":
		return kwCatch
	case "class":
		return kwClass
	case "const", "let", "var":
		return kwVar
	case "continue":
		return kwContinue
	case "default":
		return kwDefault
	case "do":
		return kwDo
	case "else":
		return kwElse
	case "export":
		return kwExport
	case "extends":
		return kwExtends
	case "finally":
		return kwFinally
	case "for":
		return kwFor
	case "function":
		return kwFunction
	case "if":
		return kwIf
	case "import":
		return kwImport
	case "in":
		return kwIn
	case "instanceof":
		return kwInstanceof
	case "new":
		return kwNew
	case "null", "undefined":
		return kwNull
	case "true":
		return kwTrue
	case "false":
		return kwFalse
	case "return":
		return kwReturn
	case "static":
		return kwStatic
	case "super", "this":
		return kwThis
	case "switch":
		return kwSwitch
	case "throw":
		return kwThrow
	case "try":
		return kwTry
	case "typeof", "void", "delete":
		return kwTypeof
	case "while":
		return kwWhile
	case "with":
		return kwWith
	case "await":
		return kwAwait
	case "yield":
		return kwYield
	}
	return notKeyword
}

// deepestLiteral bounds how deep templates and elements may stand in each other.
const deepestLiteral = 40

func javascriptScan(s *scanner, from, to int) { s.javascript(from, to, false, 0) }

// javascript reads tokens up to to; nested, only up to the brace that closes
// the expression of a template or element around it, whose offset it returns.
func (s *scanner) javascript(from, to int, nested bool, depth int) int {
	src := s.src[:to]
	s.pos = from
	braces := 0
	if from == 0 && bytes.HasPrefix(src, []byte("#!")) {
		s.pos = lineEnd(src, 0)
	}
	for s.pos < len(src) {
		c := src[s.pos]
		start := s.pos
		var d byte
		if start+1 < len(src) {
			d = src[start+1]
		}
		switch {
		case c == ' ' || c == '\t' || c == '\n' || c == '\r' || c == '\f' || c == '\v':
			s.pos++
			for s.pos < len(src) && (src[s.pos] == ' ' || src[s.pos] == '\n') {
				s.pos++
			}
		case identStart[c] || c == '#' && identStart[d] || c == '\\' && d == 'u':
			i := start + 1
			for i < len(src) && (identPart[src[i]] || src[i] == '\\' && i+1 < len(src) && src[i+1] == 'u') {
				i++
			}
			s.pos = i
			s.add(token{start: int32(start), end: int32(i), kind: tokName, kw: javascriptKeyword(src[start:i])})
		case c >= '0' && c <= '9' || c == '.' && d >= '0' && d <= '9':
			s.number(src)
			if s.pos < len(src) && src[s.pos] == '.' && !identPart[byteAt(src, s.pos+1)] && byteAt(src, s.pos+1) != '.' {
				s.pos++ // 1.
			}
			s.add(token{start: int32(start), end: int32(s.pos), kind: tokNumber})
		case c == '/' && d == '/':
			s.pos = lineEnd(src, start)
			s.comments = append(s.comments, Comment{int32(start), int32(s.pos)})
		case c == '/' && d == '*':
			s.pos = commentEnd(src, start)
			s.comments = append(s.comments, Comment{int32(start), int32(s.pos)})
		case c == '"' || c == '\'':
			s.pos = continuedLiteralEnd(src, start, c)
			s.add(token{start: int32(start), end: int32(s.pos), kind: tokString})
		case c == '`':
			end, holes := s.templateEnd(start, to, depth)
			k := tokString
			if holes {
				k = tokInterp
			}
			s.pos = end
			s.add(token{start: int32(start), end: int32(end), kind: k})
		case c == '/' && s.operandExpected():
			end := regexpEnd(src, start)
			s.pos = end
			s.add(token{start: int32(start), end: int32(end), kind: tokRegexp})
		case c == '<' && (identStart[d] || d == '>') && s.operandExpected() && s.beginsMarkup(src, start):
			end := s.markupEnd(start, to, depth)
			s.pos = end
			s.add(token{start: int32(start), end: int32(end), kind: tokMarkup})
		case (c == '=' || c == '!') && d == '=' && byteAt(src, start+2) == '=':
			op := OpEq
			if c == '!' {
				op = OpNe
			}
			s.pos += 3
			s.add(token{start: int32(start), end: int32(s.pos), kind: tokOp, op: op})
		case c == '*' && d == '*':
			s.pos += 2
			op := byte('*')
			if byteAt(src, s.pos) == '=' {
				op = OpAssign
				s.pos++
			}
			s.add(token{start: int32(start), end: int32(s.pos), kind: tokOp, op: op})
		case (c == '<' || c == '>') && d == c && (byteAt(src, start+2) == '=' || byteAt(src, start+2) == '>' && byteAt(src, start+3) == '='):
			s.pos = start + 3
			if byteAt(src, start+2) == '>' {
				s.pos++
			}
			s.add(token{start: int32(start), end: int32(s.pos), kind: tokOp, op: OpAssign})
		default:
			if nested {
				if c == '{' {
					braces++
				} else if c == '}' {
					if braces == 0 {
						return start
					}
					braces--
				}
			}
			s.operator(src, c)
		}
	}
	return len(src)
}

func byteAt(src []byte, i int) byte {
	if i < len(src) {
		return src[i]
	}
	return 0
}

func lineEnd(src []byte, from int) int {
	if i := bytes.IndexByte(src[from:], '\n'); i >= 0 {
		return from + i
	}
	return len(src)
}

func commentEnd(src []byte, from int) int {
	if i := bytes.Index(src[from+2:], []byte("*/")); i >= 0 {
		return from + 2 + i + 2
	}
	return len(src)
}

// continuedLiteralEnd is lineLiteralEnd for languages in which a backslash
// continues the line.
func continuedLiteralEnd(src []byte, start int, quote byte) int {
	for i := start + 1; i < len(src); i++ {
		switch src[i] {
		case '\\':
			i++
			if i < len(src) && src[i] == '\r' && byteAt(src, i+1) == '\n' {
				i++
			}
		case quote:
			return i + 1
		case '\n':
			return i
		}
	}
	return len(src)
}

// operandExpected reports whether an operand, not an operator, comes next: so a
// slash begins a regular expression and < an element (ECMA-262, 12.9.5).
func (s *scanner) operandExpected() bool {
	n := len(s.tokens)
	if n == 0 {
		return true
	}
	t := s.tokens[n-1]
	switch t.kind {
	case tokNumber, tokString, tokInterp, tokRegexp, tokMarkup:
		return false
	case tokName:
		if n > 1 && s.tokens[n-2].kind == tokOp && (s.tokens[n-2].op == '.' || s.tokens[n-2].op == OpSafe) {
			return false
		}
		switch t.kw {
		case notKeyword:
			return string(s.src[t.start:t.end]) == "of" && n > 1 && s.tokens[n-2].kind == tokName
		case kwThis, kwNull, kwTrue, kwFalse:
			return false
		}
		return true
	}
	switch t.op {
	case ']', OpInc, OpDec:
		return false
	case ')':
		k := s.openerOf(n - 1)
		if k <= 0 {
			return false
		}
		switch s.tokens[k-1].kw {
		case kwIf, kwWhile, kwFor, kwWith:
			return k < 2 || s.tokens[k-2].op != '.' || s.tokens[k-2].kind != tokOp
		}
		return false
	case '}':
		k := s.openerOf(n - 1)
		if k < 0 {
			return true
		}
		return !s.isObject(k)
	case '!':
		// x! / y in TypeScript; !/re/ everywhere
		return !s.lang.typed || n < 2 || s.tokens[n-2].end != t.start || s.tokens[n-2].kind == tokOp && s.tokens[n-2].op != ')' && s.tokens[n-2].op != ']'
	}
	return true
}

// openerOf returns the index of the bracket that token i closes, or -1.
func (s *scanner) openerOf(i int) int {
	if m := s.tokens[i].match; m > 0 {
		return int(m) - 1
	}
	return -1
}

// isObject reports whether the brace at token k begins an object, not a block.
func (s *scanner) isObject(k int) bool {
	if k == 0 {
		return false
	}
	p := s.tokens[k-1]
	switch p.kind {
	case tokName:
		return p.kw == kwReturn || p.kw == kwTypeof || p.kw == kwIn || p.kw == kwNew || p.kw == kwAwait || p.kw == kwYield || p.kw == kwThrow || p.kw == kwCase
	case tokOp:
		switch p.op {
		case ')', '}', ';', '{', OpArrow:
			return false
		case ':': // a: {…} in an object, or a label or case
			return k < 3 || s.tokens[k-2].kw != kwDefault
		}
		return true
	}
	return p.kind != tokEOF && p.kind != tokString && p.kind != tokRegexp && p.kind != tokNumber
}

// templateEnd is the end of the template at start, and whether it has
// expressions inside.
func (s *scanner) templateEnd(start, to, depth int) (end int, holes bool) {
	src := s.src
	for i := start + 1; i < to; i++ {
		switch src[i] {
		case '\\':
			i++
		case '`':
			return i + 1, holes
		case '$':
			if byteAt(src, i+1) == '{' {
				holes = true
				i = s.bracedEnd(i+2, to, depth)
			}
		}
	}
	return to, holes
}

// bracedEnd is the offset of the brace that closes the expression at from.
func (s *scanner) bracedEnd(from, to, depth int) int {
	if depth >= deepestLiteral {
		return lineEnd(s.src[:to], from)
	}
	sub := scanner{src: s.src, lang: s.lang}
	return sub.javascript(from, to, true, depth+1)
}

// regexpEnd is the end of the regular expression at start, flags included.
func regexpEnd(src []byte, start int) int {
	class := false
	for i := start + 1; i < len(src); i++ {
		switch c := src[i]; {
		case c == '\\':
			i++
		case c == '\n':
			return start + 1
		case c == '[':
			class = true
		case c == ']':
			class = false
		case c == '/' && !class:
			i++
			for i < len(src) && identPart[src[i]] {
				i++
			}
			return i
		}
	}
	return start + 1
}

// beginsMarkup tells <Tag from type arguments and assertions of TypeScript.
func (s *scanner) beginsMarkup(src []byte, start int) bool {
	i := start + 1
	for i < len(src) && (identPart[src[i]] || src[i] == '-' || src[i] == '.' || src[i] == ':') {
		i++
	}
	j := i
	for j < len(src) && (src[j] == ' ' || src[j] == '\n' || src[j] == '\r' || src[j] == '\t') {
		j++
	}
	switch c := byteAt(src, j); {
	case c == '/':
		return byteAt(src, j+1) == '>'
	case c == '>':
		if !s.lang.typed || i == start+1 {
			return true
		}
		// <T>x and <T>(x) => … are no elements; an element has its closing tag.
		return bytes.Contains(src[j:min(len(src), j+1<<16)], append([]byte("</"), append(append([]byte(nil), src[start+1:i]...), '>')...))
	case c == '{':
		return true
	case identStart[c]:
		return j > i && !bytes.HasPrefix(src[j:], []byte("extends "))
	}
	return false
}

// markupEnd is the end of the element at start.
func (s *scanner) markupEnd(start, to, depth int) int {
	i, open := start, 0
	for i < to {
		if s.src[i] == '<' {
			end, kind := s.tagEnd(i, to, depth)
			i = end
			switch kind {
			case '<':
				open++
			case '/':
				open--
			}
			if open <= 0 {
				return i
			}
			continue
		}
		if s.src[i] == '{' {
			i = min(s.bracedEnd(i+1, to, depth)+1, to)
			continue
		}
		i++
	}
	return to
}

// tagEnd is the end of the tag at start and what it is: '<' opens, '/' closes,
// 0 does both.
func (s *scanner) tagEnd(start, to, depth int) (int, byte) {
	closing := byteAt(s.src, start+1) == '/'
	for i := start + 1; i < to; i++ {
		switch c := s.src[i]; c {
		case '"', '\'':
			j := bytes.IndexByte(s.src[i+1:to], c)
			if j < 0 {
				return to, '/'
			}
			i += j + 1
		case '{':
			i = s.bracedEnd(i+1, to, depth)
		case '>':
			switch {
			case closing:
				return i + 1, '/'
			case s.src[i-1] == '/':
				return i + 1, 0
			}
			return i + 1, '<'
		}
	}
	return to, '/'
}

// javascriptHoles splits a template into text and expressions; of an element it
// gives the expressions alone.
func javascriptHoles(src []byte, start, end int, part func(value bool, from, to int)) {
	sub := scanner{src: src, lang: &Language{}}
	if src[start] == '<' {
		quote := byte(0)
		tag := false
		for i := start; i < end; i++ {
			switch c := src[i]; {
			case quote != 0:
				if c == quote {
					quote = 0
				}
			case c == '<':
				tag = true
			case c == '>':
				tag = false
			case tag && (c == '"' || c == '\''):
				quote = c
			case c == '{':
				close := sub.bracedEnd(i+1, end, 0)
				part(false, i+1, close)
				i = close
			}
		}
		return
	}
	text := start + 1
	for i := start + 1; i < end; i++ {
		switch src[i] {
		case '\\':
			i++
		case '$':
			if byteAt(src, i+1) != '{' {
				continue
			}
			if i > text {
				part(true, text, i)
			}
			close := sub.bracedEnd(i+2, end, 0)
			part(false, i+2, close)
			i, text = close, close+1
		}
	}
	if last := end - 1; last > text {
		part(true, text, last)
	}
}

func javascriptPartValue(src []byte, _, from, to int) string { return unescapeJS(string(src[from:to])) }

func javascriptStringValue(text string) string {
	if text == "" {
		return ""
	}
	return unescapeJS(trimQuotes(text, text[0]))
}

// unescapeJS undoes the escapes of JavaScript, \u{…} included.
func unescapeJS(s string) string {
	if strings.IndexByte(s, '\\') < 0 {
		return s
	}
	if i := strings.Index(s, `\u{`); i >= 0 {
		if j := strings.IndexByte(s[i:], '}'); j > 0 {
			return unescapeJS(s[:i]) + unescape(`\U`+padHex(s[i+3:i+j])) + unescapeJS(s[i+j+1:])
		}
	}
	return unescape(strings.ReplaceAll(s, "\\\r\n", "\\\n"))
}

func padHex(h string) string { return strings.Repeat("0", max(0, 8-len(h))) + h }
