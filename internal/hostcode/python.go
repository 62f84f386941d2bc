package hostcode

import (
	"bytes"
	"strings"
)

// Python is Python 3 (The Python Language Reference, chapter 2 for its lexical
// structure).
var Python = Language{
	Name:       "python",
	Extensions: []string{".py", ".pyw"},

	DeclaresByAssigning: true,

	keyword: pythonKeyword, scan: pythonScan, file: pythonFile, expression: (*Parser).pyTest,
	StringValue: pythonStringValue, holes: pythonHoles, PartValue: pythonPartValue,
}

func pythonKeyword(w []byte) keyword {
	switch string(w) {
	case "and":
		return kwAnd
	case "as":
		return kwAs
	case "assert", "del", "global", "nonlocal", "pass":
		return kwModifier
	case "async":
		return kwSynchronized
	case "await":
		return kwAwait
	case "break":
		return kwBreak
	case "class":
		return kwClass
	case "continue":
		return kwContinue
	case "def":
		return kwDef
	case "elif":
		return kwElif
	case "else":
		return kwElse
	case "except":
		return kwExcept
	case "finally":
		return kwFinally
	case "for":
		return kwFor
	case "from", "import":
		return kwImport
	case "if":
		return kwIf
	case "in":
		return kwIn
	case "is":
		return kwIs
	case "lambda":
		return kwFn
	case "None":
		return kwNull
	case "True":
		return kwTrue
	case "False":
		return kwFalse
	case "not":
		return kwNot
	case "or":
		return kwOr
	case "raise":
		return kwThrow
	case "return":
		return kwReturn
	case "try":
		return kwTry
	case "while":
		return kwWhile
	case "with":
		return kwWith
	case "yield":
		return kwYield
	}
	return notKeyword
}

// pythonScan reads tokens; line ends and changes of indentation outside of
// brackets are tokens too.
func pythonScan(s *scanner, from, to int) {
	src := s.src[:to]
	s.pos = from
	indents := []int{0}
	inside := from > 0 || to < len(s.src) // an expression of a literal: no lines
	lineStart := !inside
	for {
		if lineStart {
			lineStart = false
			column := 0
			i := s.pos
			for i < len(src) && (src[i] == ' ' || src[i] == '\t' || src[i] == '\f') {
				if src[i] == '\t' {
					column = column/8*8 + 8
				} else {
					column++
				}
				i++
			}
			s.pos = i
			if i >= len(src) || src[i] == '\n' || src[i] == '\r' || src[i] == '#' {
				goto line
			}
			if column > indents[len(indents)-1] {
				indents = append(indents, column)
				s.add(token{start: int32(i), end: int32(i), kind: tokIndent})
			}
			for column < indents[len(indents)-1] {
				indents = indents[:len(indents)-1]
				s.add(token{start: int32(i), end: int32(i), kind: tokDedent})
			}
		}
	line:
		if s.pos >= len(src) {
			break
		}
		c := src[s.pos]
		start := s.pos
		d := byteAt(src, start+1)
		switch {
		case c == '\n':
			s.pos++
			if inside {
				continue
			}
			if len(s.open) > 0 && beginsDefinition(src, s.pos) { // a bracket that is not closed
				s.closeAll()
			}
			if len(s.open) == 0 {
				if n := len(s.tokens); n > 0 && s.tokens[n-1].kind != tokNewline {
					s.add(token{start: int32(start), end: int32(start), kind: tokNewline})
				}
				lineStart = true
			}
		case c == ' ' || c == '\t' || c == '\r' || c == '\f':
			s.pos++
		case c == '\\' && (d == '\n' || d == '\r' && byteAt(src, start+2) == '\n'):
			s.pos = lineEnd(src, start) + 1
		case c == '#':
			s.pos = lineEnd(src, start)
			s.comments = append(s.comments, Comment{int32(start), int32(s.pos)})
		case c == '"' || c == '\'':
			s.pythonString(src, start, start)
		case identStart[c] && c != '$':
			i := start + 1
			for i < len(src) && identPart[src[i]] && src[i] != '$' {
				i++
			}
			if i-start <= 2 && (byteAt(src, i) == '"' || byteAt(src, i) == '\'') && isStringPrefix(src[start:i]) {
				s.pythonString(src, start, i)
				continue
			}
			s.pos = i
			s.add(token{start: int32(start), end: int32(i), kind: tokName, kw: pythonKeyword(src[start:i])})
		case c >= '0' && c <= '9' || c == '.' && d >= '0' && d <= '9':
			s.number(src)
			if byteAt(src, s.pos) == '.' && byteAt(src, s.pos+1) != '.' && !identPart[byteAt(src, s.pos+1)] {
				s.pos++
			}
			s.add(token{start: int32(start), end: int32(s.pos), kind: tokNumber})
		case (c == '/' || c == '*' || c == '<' || c == '>') && d == c:
			s.pos += 2
			op := c
			if byteAt(src, s.pos) == '=' {
				s.pos++
				op = OpAssign
			}
			s.add(token{start: int32(start), end: int32(s.pos), kind: tokOp, op: op})
		case (c == ':' || c == '@') && d == '=':
			s.pos += 2
			s.add(token{start: int32(start), end: int32(s.pos), kind: tokOp, op: OpAssign})
		case (c == '+' || c == '-' || c == '&' || c == '|') && d == c, c == '?', c == '.' && d == '.' && byteAt(src, start+2) != '.', c == ':':
			s.pos++ // no operators of two characters
			s.add(token{start: int32(start), end: int32(s.pos), kind: tokOp, op: c})
		default:
			s.operator(src, c)
		}
	}
	if !inside {
		s.closeAll()
		end := int32(len(src))
		s.add(token{start: end, end: end, kind: tokNewline})
		for range indents[1:] {
			s.add(token{start: end, end: end, kind: tokDedent})
		}
	}
}

// beginsDefinition reports whether the line at from begins with def or class.
func beginsDefinition(src []byte, from int) bool {
	line := bytes.TrimLeft(src[from:min(len(src), from+64)], " \t")
	return bytes.HasPrefix(line, []byte("def ")) || bytes.HasPrefix(line, []byte("class ")) || bytes.HasPrefix(line, []byte("async def "))
}

func isStringPrefix(w []byte) bool {
	for _, c := range w {
		switch c | 0x20 {
		case 'r', 'b', 'u', 'f', 't':
		default:
			return false
		}
	}
	return true
}

// pythonString reads a literal whose prefix begins at start and whose quote
// stands at quote.
func (s *scanner) pythonString(src []byte, start, quote int) {
	prefix := bytes.ToLower(src[start:quote])
	kind := tokString
	if bytes.ContainsAny(prefix, "ft") {
		kind = tokInterp
	}
	s.pos = pythonStringEnd(src, quote, kind == tokInterp, 0)
	s.add(token{start: int32(start), end: int32(s.pos), kind: kind})
}

// pythonStringEnd is the end of the literal whose quote stands at open.
func pythonStringEnd(src []byte, open int, formatted bool, depth int) int {
	q := src[open]
	triple := byteAt(src, open+1) == q && byteAt(src, open+2) == q
	i := open + 1
	if triple {
		i = open + 3
	}
	for i < len(src) {
		switch c := src[i]; {
		case c == '\\' && formatted && byteAt(src, i+1) == '{':
			i++ // the brace begins an expression all the same
		case c == '\\':
			i += 2
		case c == q && (!triple || byteAt(src, i+1) == q && byteAt(src, i+2) == q):
			if triple {
				return i + 3
			}
			return i + 1
		case c == '\n' && !triple:
			return i
		case c == '{' && formatted:
			if byteAt(src, i+1) == '{' {
				i += 2
				continue
			}
			i = pythonHoleEnd(src, i+1, q, triple, depth)
		default:
			i++
		}
	}
	return len(src)
}

// pythonHoleEnd is the offset behind the expression of a formatted literal that
// begins at from. Before Python 3.12 the quote of the literal could not stand
// inside; where no brace closes before the line ends it ends the literal.
func pythonHoleEnd(src []byte, from int, q byte, triple bool, depth int) int {
	brackets := 0
	for i := from; i < len(src); i++ {
		switch c := src[i]; c {
		case '{', '(', '[':
			brackets++
		case ')', ']':
			brackets--
		case '}':
			if brackets <= 0 {
				return i + 1
			}
			brackets--
		case '\n':
			if !triple {
				return i
			}
		case '"', '\'':
			if c == q && !closesBefore(src, i, triple) {
				return i
			}
			if depth < deepestLiteral {
				i = pythonStringEnd(src, i, false, depth+1) - 1
			}
		}
	}
	return len(src)
}

// closesBefore reports whether a quote inside an expression begins a literal of
// its own: a brace follows it on its line.
func closesBefore(src []byte, i int, triple bool) bool {
	end := lineEnd(src, i)
	if triple {
		return byteAt(src, i+1) != src[i] || byteAt(src, i+2) != src[i]
	}
	j := bytes.IndexByte(src[i+1:end], src[i])
	return j >= 0 && bytes.IndexByte(src[i+1+j:end], '}') >= 0
}

// pythonForm tells how a literal is written: its prefix and where its quote stands.
func pythonForm(text string) (prefix string, open, quotes int) {
	open = strings.IndexAny(text, `"'`)
	if open < 0 {
		return "", 0, 0
	}
	quotes = 1
	if q := text[open : open+1]; strings.HasPrefix(text[open:], q+q+q) {
		quotes = 3
	}
	return strings.ToLower(text[:open]), open, quotes
}

func pythonStringValue(text string) string {
	prefix, open, quotes := pythonForm(text)
	if quotes == 0 {
		return text
	}
	from := min(open+quotes, len(text))
	end := max(from, len(text)-quotes)
	inner := text[from:end]
	if strings.ContainsRune(prefix, 'r') {
		return inner
	}
	return unescape(inner)
}

func pythonHoles(src []byte, start, end int, part func(value bool, from, to int)) {
	text := string(src[start:end])
	_, open, quotes := pythonForm(text)
	from, to := start+open+quotes, max(start+open+quotes, end-quotes)
	at := from
	for i := from; i < to; i++ {
		switch c := src[i]; {
		case c == '\\':
			if byteAt(src, i+1) != '{' {
				i++
			}
		case (c == '{' || c == '}') && byteAt(src, i+1) == c:
			i++
		case c == '{':
			if i > at {
				part(true, at, i)
			}
			stop := min(pythonHoleEnd(src[:end], i+1, src[start+open], quotes == 3, 0), to)
			part(false, i+1, pythonExpressionEnd(src, i+1, max(i+1, stop-1)))
			i, at = stop-1, stop
		}
	}
	if to > at {
		part(true, at, to)
	}
}

// pythonExpressionEnd leaves out the format, conversion and = behind an expression.
func pythonExpressionEnd(src []byte, from, to int) int {
	brackets := 0
	for i := from; i < to; i++ {
		switch c := src[i]; c {
		case '(', '[', '{':
			brackets++
		case ')', ']', '}':
			brackets--
		case '"', '\'':
			i = pythonStringEnd(src[:to], i, false, 0) - 1
		case ':':
			if brackets == 0 {
				return i
			}
		case '!':
			if brackets == 0 && byteAt(src, i+1) != '=' {
				return i
			}
		case '=':
			if rest := bytes.TrimLeft(src[i+1:to], " "); brackets == 0 && (len(rest) == 0 || rest[0] == ':' || rest[0] == '!') && src[i-1] != '=' && src[i-1] != '!' && src[i-1] != '<' && src[i-1] != '>' {
				return i
			}
		}
	}
	return to
}

func pythonPartValue(src []byte, literal, from, to int) string {
	prefix, _, _ := pythonForm(string(src[literal:min(literal+4, len(src))]))
	text := strings.ReplaceAll(strings.ReplaceAll(string(src[from:to]), "{{", "{"), "}}", "}")
	if strings.ContainsRune(prefix, 'r') {
		return text
	}
	return unescape(text)
}
