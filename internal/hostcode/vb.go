package hostcode

import (
	"bytes"
	"strings"
)

// VisualBasic is Visual Basic .NET (The Visual Basic Language Specification,
// chapter 2 "Lexical Grammar").
var VisualBasic = Language{
	Name:       "vb",
	Extensions: []string{".vb"},

	IgnoresCase: true, BareMembers: true, ParenthesesIndex: true,

	keyword: func([]byte) keyword { return notKeyword }, scan: vbScan, file: vbFile, expression: (*Parser).vbExpression,
	StringValue: vbStringValue, holes: vbHoles, PartValue: vbPartValue,
}

// vbScan reads tokens; line ends that end a statement are tokens too.
func vbScan(s *scanner, from, to int) {
	src := s.src[:to]
	s.pos = from
	inside := from > 0 || to < len(s.src)
	for s.pos < len(src) {
		c := src[s.pos]
		start := s.pos
		d := byteAt(src, start+1)
		switch {
		case c == '\n':
			s.pos++
			if n := len(s.tokens); !inside && n > 0 && s.tokens[n-1].kind != tokNewline && !s.vbContinues(src) {
				s.add(token{start: int32(start), end: int32(start), kind: tokNewline})
			}
		case c == ' ' || c == '\t' || c == '\r' || c == '\f' || c == 0xEF && d == 0xBB:
			s.pos++
		case c == '_' && vbLineEnds(src, start+1):
			s.pos = min(lineEnd(src, start)+1, len(src))
		case c == '\'' || (c == 'R' || c == 'r') && vbIsRem(src, start):
			s.pos = lineEnd(src, start)
			s.comments = append(s.comments, Comment{int32(start), int32(s.pos)})
		case c == '#' && s.lineBegins(start):
			s.pos = lineEnd(src, start) // a directive
		case c == '#': // a date
			end := lineEnd(src, start)
			if i := bytes.IndexByte(src[start+1:end], '#'); i >= 0 {
				s.pos = start + 1 + i + 1
				s.add(token{start: int32(start), end: int32(s.pos), kind: tokNumber})
			} else {
				s.pos++
			}
		case c == '"' || c == '$' && d == '"':
			end := vbStringEnd(src, start)
			k := tokString
			if c == '$' {
				k = tokInterp
			} else if byteAt(src, end)|0x20 == 'c' && !identPart[byteAt(src, end+1)] {
				end++
				k = tokChar
			}
			s.pos = end
			s.add(token{start: int32(start), end: int32(end), kind: k})
		case identStart[c] && c != '$':
			i := start + 1
			for i < len(src) && identPart[src[i]] && src[i] != '$' {
				i++
			}
			t := token{start: int32(start), end: int32(i), kind: tokName}
			if x := byteAt(src, i); (x == '%' || x == '$' || x == '@' || x == '&' && !identPart[byteAt(src, i+1)] && byteAt(src, i+1) != ' ' && byteAt(src, i+1) != '"') && !identStart[byteAt(src, i+1)] {
				i++ // a type character
			}
			s.pos = i
			s.countWith(t)
			s.add(t)
		case c == '[' && identStart[d]:
			i := start + 1
			for i < len(src) && identPart[src[i]] {
				i++
			}
			s.pos = min(i+1, len(src))
			s.add(token{start: int32(start + 1), end: int32(i), kind: tokName, kw: kwModifier}) // no keyword
		case c >= '0' && c <= '9' || c == '.' && d >= '0' && d <= '9':
			s.number(src)
			if x := byteAt(src, s.pos); x == '%' || x == '@' || x == '!' && !identStart[byteAt(src, s.pos+1)] || x == '#' {
				s.pos++
			}
			s.add(token{start: int32(start), end: int32(s.pos), kind: tokNumber})
		case c == '&' && (d|0x20 == 'h' || d|0x20 == 'o' || d|0x20 == 'b') && byteAt(src, start+2) < 0x80 && isHex(byteAt(src, start+2)) && !s.vbOperandBefore():
			i := start + 2
			for i < len(src) && identPart[src[i]] {
				i++
			}
			s.pos = i
			s.add(token{start: int32(start), end: int32(i), kind: tokNumber})
		case c == ':' && d == '=', c == '<' && d == '>', c == '<' && d == '<', c == '>' && d == '>':
			s.pos += 2
			op := OpNe
			switch {
			case c == ':':
				op = OpAssign
			case d == c:
				op = '*'
			}
			if d == c && byteAt(src, s.pos) == '=' {
				op = OpAssign
				s.pos++
			}
			s.add(token{start: int32(start), end: int32(s.pos), kind: tokOp, op: op})
		case (c == '&' || c == '\\' || c == '^') && d == '=':
			s.pos += 2
			s.add(token{start: int32(start), end: int32(s.pos), kind: tokOp, op: OpAssign})
		case c == '=' || c == '&' || c == '?' && d == '?' || c == '-' && d == '-' || c == '+' && d == '+' || c == '|' || c == ':' || c == '!':
			s.pos++
			s.add(token{start: int32(start), end: int32(s.pos), kind: tokOp, op: c})
		default:
			s.operator(src, c)
		}
	}
	if !inside {
		s.closeAll()
		s.add(token{start: int32(len(src)), end: int32(len(src)), kind: tokNewline})
	}
}

// countWith keeps count of the With blocks around.
func (s *scanner) countWith(t token) {
	if t.end-t.start != 4 || !equalASCIIFold(string(s.src[t.start:t.end]), "with") {
		return
	}
	n := len(s.tokens)
	switch {
	case n == 0 || s.tokens[n-1].kind == tokNewline:
		s.withs++
	case s.tokens[n-1].kind == tokName && equalASCIIFold(string(s.src[s.tokens[n-1].start:s.tokens[n-1].end]), "end"):
		s.withs = max(0, s.withs-1)
	}
}

func vbLineEnds(src []byte, i int) bool {
	for ; i < len(src); i++ {
		switch src[i] {
		case ' ', '\t', '\r':
			continue
		case '\n', '\'':
			return true
		}
		return false
	}
	return true
}

func vbIsRem(src []byte, start int) bool {
	return len(src) >= start+3 && strings.EqualFold(string(src[start:start+3]), "rem") && !identPart[byteAt(src, start+3)] && byteAt(src, start+3) != '.' &&
		(start == 0 || !identPart[src[start-1]] && src[start-1] != '.')
}

func (s *scanner) vbOperandBefore() bool {
	n := len(s.tokens)
	if n == 0 {
		return false
	}
	t := s.tokens[n-1]
	return t.kind == tokName && t.end == int32(s.pos) || t.kind == tokString || t.kind == tokNumber || t.kind == tokOp && t.op == ')'
}

// vbContinues reports whether the statement goes on behind the line end: behind
// an operator, a comma or an opening bracket, before a dot or a closing one
// (specification, 2.1.3 "Implicit line continuations").
func (s *scanner) vbContinues(src []byte) bool {
	if n := len(s.open); n > 0 { // inside brackets only so far as a line can be continued
		if t := s.tokens[s.open[n-1]]; t.op == '{' || t.op == '(' {
			if !s.vbStatementFollows(src) {
				return true
			}
		}
	}
	t := s.tokens[len(s.tokens)-1]
	switch {
	case t.kind == tokOp:
		switch t.op {
		case ',', '(', '{', '+', '-', '*', '/', '&', '<', '=', OpNe, OpLe, OpGe, OpAssign, '.', '^', '\\':
			return true
		}
	case t.kind == tokName && t.kw == notKeyword:
		switch strings.ToLower(string(s.src[t.start:t.end])) {
		case "and", "or", "andalso", "orelse", "xor", "mod", "is", "isnot", "like", "in", "from", "with", "of":
			return strings.ToLower(string(s.src[t.start:t.end])) != "with" || len(s.tokens) > 1 && s.tokens[len(s.tokens)-2].kind == tokOp && s.tokens[len(s.tokens)-2].op == ')' || s.vbBraceFollows(src)
		}
	}
	i := s.pos
	for i < len(src) && (src[i] == ' ' || src[i] == '\t' || src[i] == '\r' || src[i] == '\n') {
		i++
	}
	switch byteAt(src, i) {
	case ')', '}':
		return true
	case '.': // a chain goes on; in a With block a dot begins a statement
		return t.kind == tokOp && t.op == ')' && s.withs == 0 && identStart[byteAt(src, i+1)]
	}
	return false
}

func (s *scanner) vbBraceFollows(src []byte) bool {
	rest := bytes.TrimLeft(src[s.pos:min(len(src), s.pos+200)], " \t\r\n")
	return len(rest) > 0 && rest[0] == '{'
}

// vbStatementFollows reports whether the next line begins as only a statement
// does: inside brackets that is the body of a lambda, or a bracket that is not closed.
func (s *scanner) vbStatementFollows(src []byte) bool {
	line := strings.ToLower(strings.TrimSpace(string(src[s.pos:min(lineEnd(src, s.pos), s.pos+60)])))
	for _, w := range []string{"end ", "dim ", "if ", "return", "public ", "private ", "for ", "using ", "try", "while ", "sub ", "else", "next", "catch", "finally", "await ", "throw ", "call ", "select case"} {
		if strings.HasPrefix(line, w) {
			return true
		}
	}
	t := s.tokens[len(s.tokens)-1]
	if t.kind == tokOp && t.op == ')' { // Sub(x) at the end of a line: the body follows
		if k := s.openerOf(len(s.tokens) - 1); k > 0 {
			w := strings.ToLower(string(s.src[s.tokens[k-1].start:s.tokens[k-1].end]))
			return w == "sub" || w == "function"
		}
	}
	return s.vbInLambda()
}

// vbInLambda reports whether the last line inside the brackets was a statement.
func (s *scanner) vbInLambda() bool {
	from := s.open[len(s.open)-1]
	for i := len(s.tokens) - 1; i > int(from); i-- {
		if s.tokens[i].kind == tokNewline {
			return true
		}
	}
	return false
}

func vbStringEnd(src []byte, start int) int {
	i := start + 1
	interpolated := src[start] == '$'
	if interpolated {
		i++
	}
	for ; i < len(src); i++ {
		switch c := src[i]; {
		case c == '"':
			if byteAt(src, i+1) == '"' {
				i++
				continue
			}
			return i + 1
		case interpolated && c == '{' && byteAt(src, i+1) != '{':
			depth := 1
			for i++; i < len(src) && depth > 0; i++ {
				switch src[i] {
				case '{':
					depth++
				case '}':
					depth--
				case '"':
					i = vbStringEnd(src, i) - 1
				}
			}
			i--
		case interpolated && c == '{':
			i++
		}
	}
	return len(src)
}

func vbStringValue(text string) string { return strings.ReplaceAll(trimQuotes(text, '"'), `""`, `"`) }

func vbHoles(src []byte, start, end int, part func(value bool, from, to int)) {
	text := start + 2
	for i := start + 2; i < end-1; i++ {
		if src[i] != '{' {
			continue
		}
		if byteAt(src, i+1) == '{' {
			i++
			continue
		}
		exprEnd, holeEnd := csharpHoleEnd(src, i+1, end-1)
		if i > text {
			part(true, text, i)
		}
		part(false, i+1, exprEnd)
		i, text = holeEnd, min(holeEnd+1, end-1)
	}
	if end-1 > text {
		part(true, text, end-1)
	}
}

func vbPartValue(src []byte, _, from, to int) string {
	text := strings.ReplaceAll(strings.ReplaceAll(string(src[from:to]), "{{", "{"), "}}", "}")
	return strings.ReplaceAll(text, `""`, `"`)
}
