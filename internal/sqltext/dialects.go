package sqltext

import (
	"bytes"
	"strings"
)

// lineEnds reports whether only white space stands from offset to the end of its line.
func (s *Scanner) lineEnds(offset int) bool {
	for i := offset; i < len(s.src); i++ {
		switch s.src[i] {
		case '\n':
			return true
		case ' ', '\t', '\r', '\f':
		default:
			return false
		}
	}
	return true
}

// prefixed reads the string at open whose prefix is word, and reports whether
// it is one: N'…', X'…', B'…', E'…', and q'[…]' where the lexis has it.
func (s *Scanner) prefixed(word []byte, open int) bool {
	last := word[len(word)-1] | 0x20
	if len(word) == 2 && (word[0]|0x20 != 'n' || last != 'q' || !s.lex.ChosenQuotes) {
		return false
	}
	switch last {
	case 'q':
		return s.lex.ChosenQuotes && s.src[open] == '\'' && s.chosenQuotes(open)
	case 'e':
		s.quoted(open, s.src[open], s.lex.Backslash || s.lex.EscapeStrings, "string")
	case 'n', 'x', 'b':
		s.quoted(open, s.src[open], s.lex.Backslash, "string")
	default:
		return false
	}
	return true
}

// chosenQuotes reads what stands behind the q of q'[…]'.
func (s *Scanner) chosenQuotes(open int) bool {
	if open+1 >= len(s.src) || classes[s.src[open+1]] == classSpace {
		return false
	}
	closing := s.src[open+1]
	switch closing {
	case '[':
		closing = ']'
	case '(':
		closing = ')'
	case '{':
		closing = '}'
	case '<':
		closing = '>'
	}
	end := bytes.Index(s.src[min(open+2, len(s.src)):], []byte{closing, '\''})
	if end < 0 {
		s.fail(open, "this string is not closed: add "+string(rune(closing))+"'")
		s.pos = len(s.src)
		return true
	}
	s.pos = open + 2 + end + 2
	return true
}

// dollarQuoted reads $tag$ … $tag$ at start.
func (s *Scanner) dollarQuoted(start int) bool {
	src := s.src
	i := start + 1
	for i < len(src) && (classes[src[i]] == classLetter || classes[src[i]] == classDigit && i > start+1) {
		i++
	}
	if i >= len(src) || src[i] != '$' {
		return false
	}
	tag := src[start : i+1]
	end := bytes.Index(src[i+1:], tag)
	if end < 0 {
		s.fail(start, "this string is not closed: add "+string(tag))
		s.pos = len(src)
		return true
	}
	s.pos = i + 1 + end + len(tag)
	return true
}

// enclosed moves past a name between the mark at open and closing, on one line,
// and reports whether there is one.
func (s *Scanner) enclosed(open int, closing byte) bool {
	const longestName = 128
	i := open + 1
	for i < len(s.src) && i < open+longestName && s.src[i] != closing {
		if c := classes[s.src[i]]; c != classLetter && c != classDigit && s.src[i] != ':' && s.src[i] != '.' && s.src[i] != '-' {
			return false
		}
		i++
	}
	if !s.at(i, closing) || i == open+1 {
		return false
	}
	s.pos = i + 1
	return true
}

// colonName reads :name, :'name' and :"name" at start; it is none where the
// colon ends a label or belongs to an operator.
func (s *Scanner) colonName(start int) bool {
	next := s.src[start+1]
	switch {
	case start > 0 && s.part[s.src[start-1]]:
		return false
	case classes[next] == classLetter:
		s.pos = start + 1
		s.restOfName()
		return true
	case s.lex.BackslashCommands && (next == '\'' || next == '"'):
		return s.enclosed(start+1, next)
	}
	return false
}

// backslashCommand reads a command of the script client. One that sends the
// statement before it is a token that ends it.
func (s *Scanner) backslashCommand(t *Token, start int) bool {
	if s.at(start+1, ';') { // parts statements that are sent together
		s.pos = start + 2
		s.plain(t, Punct, start, ';')
		return true
	}
	s.pos = start + 1
	s.restOfName()
	word := string(s.src[start+1 : s.pos])
	s.skipLine()
	sends := strings.HasPrefix(word, "g") || word == "watch" || strings.HasPrefix(word, "crosstab")
	if sends && !s.fresh {
		s.fresh = true
		s.token(t, Delimiter, start, 0)
		return true
	}
	return false
}

// terminatorComment reads --#SET TERMINATOR x at the scanner's place.
func (s *Scanner) terminatorComment() bool {
	line := s.src[s.pos:]
	if i := bytes.IndexByte(line, '\n'); i >= 0 {
		line = line[:i]
	}
	const head = "--#set terminator"
	if len(line) <= len(head) || !bytes.EqualFold(line[:len(head)], []byte(head)) {
		return false
	}
	s.SetDelimiter(string(bytes.TrimSpace(line[len(head):])))
	return true
}

// SetDelimiter sets what ends a statement; the semicolon where mark is "" or ";".
func (s *Scanner) SetDelimiter(mark string) {
	if i := strings.IndexAny(mark, " \t"); i > 0 {
		mark = mark[:i]
	}
	if mark == "" || mark == ";" {
		s.delimiter, s.delimFirst, s.delimName = nil, 0, false
		return
	}
	s.delimiter, s.delimFirst = []byte(mark), mark[0]
	s.delimName = s.part[mark[0]]
}

// Delimiter is what ends a statement now.
func (s *Scanner) Delimiter() string {
	if s.delimiter == nil {
		return ";"
	}
	return string(s.delimiter)
}

// SkipLine moves the scanner to the next line.
func (s *Scanner) SkipLine() {
	s.skipLine()
	s.fresh = true
}

// Line is what stands between the scanner and the end of the line.
func (s *Scanner) Line() string {
	line := s.src[s.pos:]
	if i := bytes.IndexByte(line, '\n'); i >= 0 {
		line = line[:i]
	}
	return string(line)
}

// RestOfLine is [Scanner.Line] without the white space around it.
func (s *Scanner) RestOfLine() string { return strings.TrimSpace(s.Line()) }

// Pos is the offset at which the scanner stands.
func (s *Scanner) Pos() int { return s.pos }

// BeginsLine reports whether only white space stands before offset on its line.
func (s *Scanner) BeginsLine(offset int) bool { return s.lineBegins(offset) }
