package hostcode

import (
	"bytes"
	"strings"
)

// PHP is PHP up to version 8 (PHP manual, "Language Reference"); what stands
// between its tags is read, the text around them passed over.
var PHP = Language{
	Name:       "php",
	Extensions: []string{".php", ".phtml", ".inc"},

	DeclaresByAssigning: true,

	keyword: phpKeyword, scan: phpScan, file: phpFile, expression: (*Parser).phpExpression,
	StringValue: phpStringValue, holes: phpHoles, PartValue: phpPartValue,
}

func phpKeyword(w []byte) keyword {
	if len(w) > 12 || w[0] == '$' {
		return notKeyword
	}
	var lower [12]byte
	for i, c := range w {
		if c >= 'A' && c <= 'Z' {
			c |= 0x20
		}
		lower[i] = c
	}
	switch string(lower[:len(w)]) {
	case "abstract", "public", "private", "protected", "readonly", "var":
		return kwModifier
	case "final":
		return kwFinal
	case "and":
		return kwAnd
	case "or", "xor":
		return kwOr
	case "as":
		return kwAs
	case "break":
		return kwBreak
	case "case":
		return kwCase
	case "catch":
		return kwCatch
	case "class", "trait":
		return kwClass
	case "clone", "print", "include", "include_once", "require", "require_once":
		return kwTypeof
	case "const":
		return kwConst
	case "continue":
		return kwContinue
	case "default":
		return kwDefault
	case "do":
		return kwDo
	case "echo":
		return kwEcho
	case "else":
		return kwElse
	case "elseif":
		return kwElif
	case "endif", "endfor", "endforeach", "endwhile", "endswitch", "enddeclare":
		return kwEnd
	case "enum":
		return kwEnum
	case "extends", "implements":
		return kwExtends
	case "finally":
		return kwFinally
	case "fn":
		return kwFn
	case "for":
		return kwFor
	case "foreach":
		return kwForeach
	case "function":
		return kwFunction
	case "goto":
		return kwGoto
	case "if":
		return kwIf
	case "instanceof":
		return kwInstanceof
	case "interface":
		return kwInterface
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
	case "return":
		return kwReturn
	case "static":
		return kwStatic
	case "switch", "match":
		return kwSwitch
	case "throw":
		return kwThrow
	case "try":
		return kwTry
	case "use":
		return kwUse
	case "while":
		return kwWhile
	case "yield":
		return kwYield
	}
	return notKeyword
}

var phpOpen = []byte("<?")

// phpMarkup is the offset behind the next opening tag, or the end of the text.
func phpMarkup(src []byte, from int) (at int, echo bool) {
	for {
		i := bytes.Index(src[from:], phpOpen)
		if i < 0 {
			return len(src), false
		}
		from += i + 2
		switch {
		case len(src) >= from+3 && strings.EqualFold(string(src[from:from+3]), "php") && !identPart[byteAt(src, from+3)]:
			return from + 3, false
		case byteAt(src, from) == '=':
			return from + 1, true
		case byteAt(src, from) == ' ' || byteAt(src, from) == '\n' || byteAt(src, from) == '\r' || byteAt(src, from) == '\t':
			return from, false
		}
	}
}

func phpScan(s *scanner, from, to int) {
	src := s.src[:to]
	s.pos = from
	if from == 0 && to == len(s.src) {
		s.phpTag(src)
	}
	for s.pos < len(src) {
		c := src[s.pos]
		start := s.pos
		d := byteAt(src, start+1)
		switch {
		case c == ' ' || c == '\t' || c == '\n' || c == '\r' || c == '\f':
			s.pos++
			for s.pos < len(src) && (src[s.pos] == ' ' || src[s.pos] == '\n') {
				s.pos++
			}
		case c == '$' && identStart[d] && d != '$', identStart[c] && c != '$', c == '\\' && identStart[d]:
			i := start + 1
			for i < len(src) && (identPart[src[i]] && src[i] != '$' || src[i] == '\\' && c != '$' && identStart[byteAt(src, i+1)]) {
				i++
			}
			s.pos = i
			s.add(token{start: int32(start), end: int32(i), kind: tokName, kw: phpKeyword(src[start:i])})
			if i-start == 15 && strings.EqualFold(string(src[start:i]), "__halt_compiler") {
				s.pos = len(src)
			}
		case c >= '0' && c <= '9' || c == '.' && d >= '0' && d <= '9':
			s.number(src)
			if byteAt(src, s.pos) == '.' && byteAt(src, s.pos+1) != '.' && !identPart[byteAt(src, s.pos+1)] && byteAt(src, s.pos+1) != '=' && byteAt(src, s.pos+1) != ' ' {
				s.pos++
			}
			s.add(token{start: int32(start), end: int32(s.pos), kind: tokNumber})
		case c == '#' && d != '[', c == '/' && d == '/':
			end := lineEnd(src, start)
			if i := bytes.Index(src[start:end], []byte("?>")); i >= 0 {
				end = start + i
			}
			s.pos = end
			s.comments = append(s.comments, Comment{int32(start), int32(end)})
		case c == '/' && d == '*':
			s.pos = commentEnd(src, start)
			s.comments = append(s.comments, Comment{int32(start), int32(s.pos)})
		case c == '#': // #[Attribute]
			s.pos++
			s.add(token{start: int32(start), end: int32(s.pos), kind: tokOp, op: '#'})
		case c == '?' && d == '>':
			s.pos += 2
			s.add(token{start: int32(start), end: int32(s.pos), kind: tokOp, op: ';'})
			s.phpTag(src)
		case c == '\'':
			s.pos = quotedEnd(src, start, '\'')
			s.add(token{start: int32(start), end: int32(s.pos), kind: tokString})
		case c == '"' || c == '`':
			s.pos = phpTextEnd(src, start)
			s.add(token{start: int32(start), end: int32(s.pos), kind: phpTextKind(src[start:s.pos])})
		case c == '<' && d == '<' && byteAt(src, start+2) == '<' && s.heredoc(src, start):
		case c == '-' && d == '>', c == '?' && d == '-' && byteAt(src, start+2) == '>':
			s.pos += 2
			if c == '?' {
				s.pos++
			}
			s.add(token{start: int32(start), end: int32(s.pos), kind: tokOp, op: OpSafe})
		case (c == '=' || c == '!') && d == '=' && byteAt(src, start+2) == '=', c == '<' && d == '=' && byteAt(src, start+2) == '>':
			op := OpEq
			if c == '!' {
				op = OpNe
			} else if c == '<' {
				op = OpLe
			}
			s.pos += 3
			s.add(token{start: int32(start), end: int32(s.pos), kind: tokOp, op: op})
		case c == '<' && d == '>':
			s.pos += 2
			s.add(token{start: int32(start), end: int32(s.pos), kind: tokOp, op: OpNe})
		case c == '.' && d == '=' || (c == '*' || c == '<' || c == '>') && d == c:
			s.pos += 2
			op := c
			if d == '=' {
				op = OpAssign
			} else if byteAt(src, s.pos) == '=' {
				s.pos++
				op = OpAssign
			}
			s.add(token{start: int32(start), end: int32(s.pos), kind: tokOp, op: op})
		case c == '.' && d != '.' || c == '?' && d != '?':
			s.pos++
			s.add(token{start: int32(start), end: int32(s.pos), kind: tokOp, op: c})
		default:
			s.operator(src, c)
		}
	}
}

// phpTag passes over the text up to the next opening tag.
func (s *scanner) phpTag(src []byte) {
	start := s.pos
	at, echo := phpMarkup(src, s.pos)
	s.pos = at
	if echo {
		s.add(token{start: int32(start), end: int32(at), kind: tokName, kw: kwEcho})
	}
}

// quotedEnd is the end of a literal with backslash escapes, over lines.
func quotedEnd(src []byte, start int, quote byte) int {
	for i := start + 1; i < len(src); i++ {
		switch src[i] {
		case '\\':
			i++
		case quote:
			return i + 1
		}
	}
	return len(src)
}

// phpTextEnd is the end of a literal with variables inside; an expression in
// braces may have literals of its own.
func phpTextEnd(src []byte, start int) int {
	for i := start + 1; i < len(src); i++ {
		switch c := src[i]; {
		case c == '\\':
			i++
		case c == src[start]:
			return i + 1
		case c == '{' && byteAt(src, i+1) == '$':
			if end := phpBraceEnd(src[:min(len(src), i+longestHole)], i+1); end < len(src) && src[end] == '}' {
				i = end
			}
		}
	}
	return len(src)
}

// longestHole bounds the expressions inside literals.
const longestHole = 4096

func phpTextKind(text []byte) tokenKind {
	for i := 0; i+1 < len(text); i++ {
		switch {
		case text[i] == '\\':
			i++
		case text[i] == '$' && (identStart[text[i+1]] && text[i+1] != '$' || text[i+1] == '{'), text[i] == '{' && text[i+1] == '$':
			return tokInterp
		}
	}
	return tokString
}

// heredoc reads <<<NAME … NAME (PHP manual, "Heredoc", "Nowdoc").
func (s *scanner) heredoc(src []byte, start int) bool {
	open, end := heredocExtent(src, start)
	if end <= open {
		return false
	}
	kind := tokString
	if !bytes.Contains(src[start:open], []byte("'")) {
		kind = phpTextKind(src[open:end])
	}
	s.pos = end
	s.add(token{start: int32(start), end: int32(end), kind: kind})
	return true
}

// heredocExtent returns where the text of a heredoc begins, and where the whole
// ends; 0 where none begins at start.
func heredocExtent(src []byte, start int) (text, end int) {
	line := lineEnd(src[:min(len(src), start+200)], start)
	if line == start+200 {
		return 0, 0 // no name is that long
	}
	name := strings.Trim(strings.TrimSpace(string(src[start+3:line])), `"'`)
	if name == "" || !identStart[name[0]] || strings.ContainsAny(name, " ;(),") {
		return 0, 0
	}
	for at := line; at < len(src); at = lineEnd(src, at+1) {
		i := at + 1
		for i < len(src) && (src[i] == ' ' || src[i] == '\t') {
			i++
		}
		if bytes.HasPrefix(src[min(i, len(src)):], []byte(name)) && !identPart[byteAt(src, i+len(name))] {
			return line + 1, i + len(name)
		}
	}
	return line, len(src)
}

// heredocText is the text of a heredoc without the closing name's indentation.
func heredocText(text string) string {
	open, end := heredocExtent([]byte(text), 0)
	if end <= open {
		return text
	}
	body := text[open:end]
	last := strings.LastIndexByte(body, '\n')
	if last < 0 {
		return ""
	}
	indent := body[last+1 : last+1+len(body[last+1:])-len(strings.TrimLeft(body[last+1:], " \t"))]
	lines := strings.Split(strings.TrimSuffix(body[:last], "\r"), "\n")
	for i := range lines {
		lines[i] = strings.TrimPrefix(lines[i], indent)
	}
	return strings.Join(lines, "\n")
}

func phpStringValue(text string) string {
	switch {
	case strings.HasPrefix(text, "<<<"):
		inner := heredocText(text)
		if strings.Contains(text[:min(len(text), 5)], "'") {
			return inner
		}
		return unescapePHP(inner)
	case strings.HasPrefix(text, "'"):
		inner := trimQuotes(text, '\'')
		return strings.ReplaceAll(strings.ReplaceAll(inner, `\'`, `'`), `\\`, `\`)
	case text == "":
		return ""
	}
	return unescapePHP(trimQuotes(text, text[0]))
}

func unescapePHP(s string) string { return unescape(s) }

// phpHoles splits a text with variables inside (PHP manual, "Variable parsing").
func phpHoles(src []byte, start, end int, part func(value bool, from, to int)) {
	from, to := start+1, end-1
	if src[start] == '<' {
		from, to = heredocExtent(src[:end], start)
		if i := bytes.LastIndexByte(src[from:to], '\n'); i >= 0 {
			to = from + i
		} else {
			to = from
		}
	}
	at := from
	hole := func(begin, exprFrom, exprTo, behind int) int {
		if begin > at {
			part(true, at, begin)
		}
		part(false, exprFrom, exprTo)
		at = behind
		return behind - 1
	}
	for i := from; i < to; i++ {
		switch c := src[i]; {
		case c == '\\':
			i++
		case c == '{' && byteAt(src, i+1) == '$':
			close := phpBraceEnd(src[:to], i+1)
			i = hole(i, i+1, close, min(close+1, to))
		case c == '$' && byteAt(src, i+1) == '{':
			close := phpBraceEnd(src[:to], i+2)
			i = hole(i, i+2, close, min(close+1, to))
		case c == '$' && identStart[byteAt(src, i+1)] && src[i+1] != '$':
			j := i + 1
			for j < to && identPart[src[j]] && src[j] != '$' {
				j++
			}
			switch {
			case byteAt(src[:to], j) == '[':
				if k := bytes.IndexByte(src[j:to], ']'); k > 0 {
					j += k + 1
				}
			case byteAt(src[:to], j) == '-' && byteAt(src[:to], j+1) == '>' && identStart[byteAt(src[:to], j+2)]:
				j += 2
				for j < to && identPart[src[j]] && src[j] != '$' {
					j++
				}
			}
			i = hole(i, i, j, j)
		}
	}
	if to > at {
		part(true, at, to)
	}
}

func phpBraceEnd(src []byte, from int) int {
	depth := 0
	for i := from; i < len(src); i++ {
		switch c := src[i]; c {
		case '{':
			depth++
		case '}':
			if depth == 0 {
				return i
			}
			depth--
		case '\'', '"':
			i = quotedEnd(src, i, c) - 1
		}
	}
	return len(src)
}

func phpPartValue(src []byte, _, from, to int) string { return unescapePHP(string(src[from:to])) }
