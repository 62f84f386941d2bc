package sqltext

import (
	"bytes"
	"encoding/binary"
	"strings"
)

// Error is something wrong with the text itself.
type Error struct {
	Offset  int
	Message string
}

// Scanner reads the tokens of one text. The zero value is not useful; call
// [NewScanner], or [Scanner.Reset] to use one again for another text.
type Scanner struct {
	src        []byte
	lex        *Lexis
	pos        int
	delimiter  []byte     // nil while it is ;
	delimFirst byte       // its first byte, or 0
	delimName  bool       // it can stand inside a name
	fresh      bool       // no token since the last delimiter
	executable int        // open /*! comments
	part       *[256]bool // the bytes that continue a name
	// Errors are the faults found so far.
	Errors []Error
}

// NewScanner returns a scanner at the start of src.
func NewScanner(src []byte, lex *Lexis) *Scanner {
	s := &Scanner{}
	s.Reset(src, lex)
	return s
}

// Reset puts the scanner at the start of src.
func (s *Scanner) Reset(src []byte, lex *Lexis) {
	*s = Scanner{src: src, lex: lex, fresh: true, Errors: s.Errors[:0], part: nameParts[lex.NameMarks]}
	if s.part == nil {
		s.part = &namePart
	}
}

// CustomDelimiter reports whether the script has set a delimiter other than
// the semicolon.
func (s *Scanner) CustomDelimiter() bool { return s.delimiter != nil }

// eightSpaces are eight blanks, read as one number.
const eightSpaces = 0x2020202020202020

// simpleMark holds the marks that begin no operator of two characters.
var simpleMark = [256]bool{',': true, ';': true, '(': true, ')': true, '.': true, '{': true, '}': true, '~': true}

// The classes of bytes that the scanner tells apart.
const (
	classOther = iota
	classSpace
	classLetter
	classDigit
)

var classes = func() (c [256]uint8) {
	for i := range 256 {
		switch b := byte(i); {
		case b == ' ' || b >= '\t' && b <= '\r':
			c[i] = classSpace
		case b >= 'a' && b <= 'z' || b >= 'A' && b <= 'Z' || b == '_' || b >= 0x80:
			c[i] = classLetter
		case b >= '0' && b <= '9':
			c[i] = classDigit
		}
	}
	return c
}()

// isNamePart reports whether c can continue a name.
var namePart = func() (p [256]bool) {
	for i := range 256 {
		p[i] = classes[i] == classLetter || classes[i] == classDigit || i == '$' || i == '#' || i == '@'
	}
	return p
}()

// nameParts holds namePart for each [Lexis.NameMarks] in use.
var nameParts = func() map[string]*[256]bool {
	m := map[string]*[256]bool{}
	for _, marks := range []string{"$", "$#"} {
		p := namePart
		p['$'], p['#'], p['@'] = false, false, false
		for _, c := range []byte(marks) {
			p[c] = true
		}
		m[marks] = &p
	}
	return m
}()

// Next returns the next token; at the end of the text one of kind EOF, again
// and again.
func (s *Scanner) Next() Token {
	var t Token
	s.Read(&t)
	return t
}

// Read is Next into a token that the caller has.
func (s *Scanner) Read(t *Token) {
	src := s.src
	for {
		start := s.pos
		for start < len(src) && classes[src[start]] == classSpace {
			start++
			for start+8 <= len(src) && binary.LittleEndian.Uint64(src[start:]) == eightSpaces {
				start += 8 // indentation
			}
		}
		s.pos = start
		if start >= len(src) {
			break
		}
		c := src[start]
		if c == s.delimFirst && c != 0 && s.atDelimiter(start) {
			s.pos += len(s.delimiter)
			s.fresh = true
			s.token(t, Delimiter, start, 0)
			return
		}
		switch classes[c] {
		case classLetter:
			if s.word(t, start) {
				return
			}
			continue
		case classDigit:
			s.number(start)
			if s.lex.DigitNames && s.digitName(start) {
				s.restOfName()
				s.plain(t, Word, start, 0)
				return
			}
			s.plain(t, Number, start, 0)
			return
		}
		switch c {
		case '-':
			if s.at(start+1, '-') && (!s.lex.DashNeedsSpace || start+2 >= len(src) || src[start+2] <= ' ') {
				if s.lex.TerminatorComment && s.terminatorComment() {
					s.fresh = true
				}
				s.skipLine()
				continue
			}
		case '/':
			if s.at(start+1, '*') {
				s.comment(start)
				continue
			}
			if s.lex.SlashComments && s.at(start+1, '/') {
				s.skipLine()
				continue
			}
			if s.lex.SlashEnds && s.lineBegins(start) && s.lineEnds(start+1) {
				s.pos = start + 1
				s.fresh = true
				s.token(t, BatchEnd, start, 0)
				return
			}
		case '*':
			if s.executable > 0 && s.at(start+1, '/') {
				s.executable--
				s.pos += 2
				continue
			}
		case '#':
			if s.lex.HashComments {
				s.skipLine()
				continue
			}
			if s.lex.HashWords {
				s.pos++
				s.restOfName()
				s.plain(t, Word, start, 0)
				return
			}
		case '\'':
			s.quoted(start, c, s.lex.Backslash, "string")
			s.plain(t, String, start, 0)
			return
		case '"':
			if s.lex.DoubleQuotedStrings {
				s.quoted(start, c, s.lex.Backslash, "string")
				s.plain(t, String, start, 0)
				return
			}
			s.quoted(start, c, false, "quoted name")
			s.plain(t, QuotedName, start, 0)
			return
		case '`':
			if s.lex.BacktickNames {
				s.quoted(start, c, false, "quoted name")
				s.plain(t, QuotedName, start, 0)
				return
			}
		case '[':
			if s.lex.BracketNames {
				s.quoted(start, ']', false, "bracketed name")
				s.plain(t, QuotedName, start, 0)
				return
			}
		case '@':
			if s.lex.AtPlaceholders {
				if s.enclosed(start, '@') {
					s.plain(t, Word, start, 0)
					return
				}
				break
			}
			s.variable(start)
			s.plain(t, Variable, start, 0)
			return
		case '?':
			s.pos++
			s.plain(t, Placeholder, start, 0)
			return
		case '.':
			if start+1 < len(src) && classes[src[start+1]] == classDigit && (start == 0 || !s.part[src[start-1]]) {
				s.number(start)
				s.plain(t, Number, start, 0)
				return
			}
		case '$':
			if s.dollar(t, start) {
				return
			}
		case '&':
			if s.lex.AmpersandNames {
				i := start + 1
				if s.at(i, '&') {
					i++
				}
				if s.at(i, '{') {
					s.pos = i
					if s.enclosed(i, '}') {
						s.plain(t, Word, start, 0)
						return
					}
				} else if i < len(src) && classes[src[i]] == classLetter {
					s.pos = i
					s.restOfName()
					s.plain(t, Word, start, 0)
					return
				}
			}
		case '{':
			if s.lex.Templates && s.at(start+1, '{') {
				if i := bytes.Index(src[start:], []byte("}}")); i > 0 && bytes.IndexByte(src[start:start+i], '\n') < 0 {
					s.pos = start + i + 2
					s.restOfName()
					s.plain(t, Word, start, 0)
					return
				}
			}
		case ':':
			if s.lex.ColonNames && start+1 < len(src) && s.colonName(start) {
				kind := Variable
				if s.lex.BackslashCommands { // a variable of the script client, whose text takes its place
					kind = Word
				}
				s.plain(t, kind, start, 0)
				return
			}
			if s.lex.ColonLines && start+1 < len(src) && classes[src[start+1]] == classLetter && s.lineBegins(start) {
				s.skipLine()
				continue
			}
		case '!':
			if s.lex.ColonLines && s.at(start+1, '!') && s.lineBegins(start) {
				s.skipLine()
				continue
			}
		case '\\':
			if s.lex.BackslashCommands {
				if s.backslashCommand(t, start) {
					return
				}
				continue
			}
			if s.lex.DelimiterCommand && start+1 < len(src) {
				if next := src[start+1]; next == 'g' || next == 'G' { // end a statement
					s.pos = start + 2
					s.fresh = true
					s.token(t, Delimiter, start, 0)
					return
				}
				if s.clientEscape(start) {
					continue
				}
			}
		}
		s.operator(t, start, c)
		return
	}
	if s.executable > 0 {
		s.fail(len(src), "a /*! comment is not closed: add */")
		s.executable = 0
	}
	*t = Token{Start: int32(len(src)), End: int32(len(src)), Kind: EOF}
}

func (s *Scanner) token(t *Token, k Kind, start int, op byte) {
	t.Start, t.End, t.Kw, t.Kind, t.Op = int32(start), int32(s.pos), NoKeyword, k, op
}

// plain is token for everything that belongs to a statement.
func (s *Scanner) plain(t *Token, k Kind, start int, op byte) {
	s.fresh = op == ';' && s.delimiter == nil
	t.Start, t.End, t.Kw, t.Kind, t.Op = int32(start), int32(s.pos), NoKeyword, k, op
}

func (s *Scanner) fail(offset int, message string) {
	s.Errors = append(s.Errors, Error{offset, message})
}

func (s *Scanner) at(i int, c byte) bool { return i < len(s.src) && s.src[i] == c }

// atDelimiter reports whether the script's own delimiter stands at start. One
// made of letters counts only where no name continues before or after it.
func (s *Scanner) atDelimiter(start int) bool {
	d := s.delimiter
	if !bytes.HasPrefix(s.src[start:], d) {
		return false
	}
	if classes[d[0]] == classLetter && start > 0 && s.part[s.src[start-1]] {
		return false
	}
	end := start + len(d)
	return classes[d[len(d)-1]] != classLetter || end >= len(s.src) || !s.part[s.src[end]]
}

func (s *Scanner) skipLine() {
	if i := bytes.IndexByte(s.src[s.pos:], '\n'); i >= 0 {
		s.pos += i + 1
	} else {
		s.pos = len(s.src)
	}
}

// lineBegins reports whether only white space stands before offset on its line.
func (s *Scanner) lineBegins(offset int) bool {
	for i := offset - 1; i >= 0; i-- {
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

// comment skips a block comment at start, or enters an executable one.
func (s *Scanner) comment(start int) {
	if mark := start + 2; s.lex.ExecutableUpTo > 0 && (s.at(mark, '!') || s.lex.MariaDBComments && s.at(mark, 'M') && s.at(mark+1, '!')) {
		if s.src[mark] == 'M' {
			mark++
		}
		version, i := 0, mark+1
		for i < len(s.src) && classes[s.src[i]] == classDigit && i < mark+7 {
			version = version*10 + int(s.src[i]-'0')
			i++
		}
		if version <= s.lex.ExecutableUpTo {
			s.executable++
			s.pos = i
			return
		}
	}
	depth, i := 1, start+2
	for depth > 0 {
		j := bytes.IndexByte(s.src[i:], '*') // both marks have a star
		if j < 0 {
			s.fail(start, "this comment is not closed: add */")
			s.pos = len(s.src)
			return
		}
		star := i + j
		i = star + 1
		switch {
		case s.at(star+1, '/'):
			depth--
			i++
		case s.lex.NestedComments && j > 0 && s.src[star-1] == '/':
			depth++
		}
	}
	s.pos = i
}

// quoted moves past a quoted text whose opening quote stands at open and whose
// closing one is closing, doubled to stand for itself.
func (s *Scanner) quoted(open int, closing byte, backslash bool, what string) {
	src := s.src
	i := open + 1
	for {
		j := bytes.IndexByte(src[i:], closing)
		if j < 0 {
			s.fail(open, "this "+what+" is not closed: add "+string(closing))
			s.pos = len(src)
			return
		}
		if backslash {
			if k := bytes.IndexByte(src[i:i+j], '\\'); k >= 0 {
				i = min(i+k+2, len(src))
				continue
			}
		}
		i += j + 1
		if i < len(src) && src[i] == closing {
			i++
			continue
		}
		s.pos = i
		return
	}
}

func (s *Scanner) restOfName() {
	src, part := s.src, s.part
	i := s.pos
	if !s.delimName {
		for i < len(src) && part[src[i]] {
			i++
		}
	} else {
		for i < len(src) && part[src[i]] && !(src[i] == s.delimFirst && s.atDelimiter(i)) {
			i++
		}
	}
	s.pos = i
}

// word reads a name or keyword, a string with a prefix, a batch word, or a
// DELIMITER command. It returns false where what it read is no token.
func (s *Scanner) word(t *Token, start int) bool {
	src, part := s.src, s.part
	i := start + 1
	if first := s.delimFirst; !s.delimName {
		for i < len(src) && part[src[i]] {
			i++
		}
	} else {
		for i < len(src) && part[src[i]] && (src[i] != first || !s.atDelimiter(i)) {
			i++
		}
	}
	s.pos = i
	word := src[start:i]
	if len(word) <= 2 && i < len(src) && (src[i] == '\'' || src[i] == '"' && s.lex.DoubleQuotedStrings) && s.prefixed(word, i) {
		s.plain(t, String, start, 0)
		return true
	}
	if batch := s.lex.BatchWord; len(word) == len(batch) && batch != "" && (word[0]|0x20) == (batch[0]|0x20) &&
		strings.EqualFold(string(word), batch) && s.batchEnd(start) {
		s.fresh = true
		s.token(t, BatchEnd, start, 0)
		return true
	}
	kw := lookupKeyword(src, start, i)
	if kw == DELIMITER && s.lex.DelimiterCommand && (s.fresh || s.lineBegins(start)) && s.delimiterCommand() {
		return false
	}
	if kw == NoKeyword && s.fresh && s.lex.DelimiterCommand && equalFold(word, "source") && s.lineBegins(start) {
		s.skipLine()
		return false
	}
	s.fresh = false
	t.Start, t.End, t.Kw, t.Kind, t.Op = int32(start), int32(i), kw, Word, 0
	return true
}

// batchEnd reports whether the batch word that ends at s.pos stands alone on
// its line, but for a count and a comment, and moves past them.
func (s *Scanner) batchEnd(start int) bool {
	if !s.lineBegins(start) {
		return false
	}
	i := s.pos
	blank := func() {
		for i < len(s.src) && (s.src[i] == ' ' || s.src[i] == '\t' || s.src[i] == '\r') {
			i++
		}
	}
	blank()
	for i < len(s.src) && classes[s.src[i]] == classDigit {
		i++
	}
	blank()
	if s.at(i, ';') {
		i++
		blank()
	}
	if i < len(s.src) && s.src[i] != '\n' && !bytes.HasPrefix(s.src[i:], []byte("--")) && !bytes.HasPrefix(s.src[i:], []byte("/*")) {
		return false
	}
	s.pos = i
	return true
}

// delimiterCommand reads what follows the word DELIMITER on its line: the new
// delimiter, bare or in quotes.
func (s *Scanner) delimiterCommand() bool {
	i := s.pos
	for i < len(s.src) && (s.src[i] == ' ' || s.src[i] == '\t') {
		i++
	}
	if i == s.pos || i >= len(s.src) || s.src[i] == '\n' || s.src[i] == '\r' {
		return false
	}
	begin, end := i, i
	if q := s.src[i]; q == '\'' || q == '"' || q == '`' {
		begin++
		end = begin
		for end < len(s.src) && s.src[end] != q && s.src[end] != '\n' {
			end++
		}
	} else {
		for end < len(s.src) && classes[s.src[end]] != classSpace {
			end++
		}
	}
	if end == begin {
		return false
	}
	s.delimiter = s.src[begin:end]
	s.delimFirst = s.delimiter[0]
	if string(s.delimiter) == ";" {
		s.delimiter, s.delimFirst = nil, 0
	}
	s.delimName = s.part[s.delimFirst] && s.delimFirst != 0
	s.pos = end
	s.skipLine()
	s.fresh = true
	return true
}

// clientEscape reads a backslash command of the client that is no part of a
// statement.
func (s *Scanner) clientEscape(start int) bool {
	switch s.src[start+1] {
	case 'd':
		s.pos = start + 2
		return s.delimiterCommand()
	case '.', 'u', 'W', 'w':
		if s.lineBegins(start) {
			s.skipLine()
			return true
		}
	}
	return false
}

func (s *Scanner) number(start int) {
	src := s.src
	i := start + 1
	if src[start] == '0' && i < len(src) && (src[i] == 'x' || src[i] == 'X') {
		for i++; i < len(src) && s.part[src[i]]; i++ {
		}
		s.pos = i
		return
	}
	for i < len(src) {
		c := src[i]
		switch {
		case classes[c] == classDigit || c == '.':
		case (c == 'e' || c == 'E') && i+1 < len(src) &&
			(classes[src[i+1]] == classDigit || (src[i+1] == '-' || src[i+1] == '+') && i+2 < len(src) && classes[src[i+2]] == classDigit):
			i++
		default:
			s.pos = i
			return
		}
		i++
	}
	s.pos = i
}

// digitName reports whether the digits from start up to the scanner's place
// begin a name.
func (s *Scanner) digitName(start int) bool {
	if s.pos >= len(s.src) || classes[s.src[s.pos]] != classLetter {
		return false
	}
	for _, c := range s.src[start:s.pos] {
		if classes[c] != classDigit {
			return false
		}
	}
	return start == 0 || s.src[start-1] != '.'
}

// SetLexis changes the lexical rules for what follows.
func (s *Scanner) SetLexis(lex *Lexis) { s.lex = lex }

func (s *Scanner) variable(start int) {
	s.pos = start + 1
	if s.at(s.pos, '@') {
		s.pos++
	}
	if s.lex.QuotedVariables && s.pos < len(s.src) {
		switch q := s.src[s.pos]; q {
		case '\'', '"', '`':
			s.quoted(s.pos, q, false, "variable's name")
			return
		}
	}
	s.restOfName()
	// A user variable's name may have points in it.
	for s.lex.QuotedVariables && s.pos+1 < len(s.src) && s.src[s.pos] == '.' && s.part[s.src[s.pos+1]] {
		s.pos++
		s.restOfName()
	}
}

// dollar reads what may begin with a dollar sign: $(name) of a script client,
// a money amount, $action.
func (s *Scanner) dollar(t *Token, start int) bool {
	if start+1 >= len(s.src) {
		return false
	}
	next := s.src[start+1]
	if s.lex.DollarQuotes && s.dollarQuoted(start) {
		s.plain(t, String, start, 0)
		return true
	}
	switch {
	case next == '{':
		s.pos++
		if s.enclosed(s.pos, '}') {
			s.restOfName()
			s.plain(t, Word, start, 0)
			return true
		}
		s.pos = start
	case s.lex.EscapeStrings && classes[next] == classDigit: // $1
		for s.pos++; s.pos < len(s.src) && classes[s.src[s.pos]] == classDigit; s.pos++ {
		}
		s.plain(t, Placeholder, start, 0)
		return true
	case s.lex.ColonLines && next == '(':
		end := bytes.IndexByte(s.src[start:], ')')
		if end < 0 || bytes.IndexByte(s.src[start:start+end], '\n') >= 0 {
			return false
		}
		s.pos = start + end + 1
		s.restOfName()
		s.plain(t, Word, start, 0)
		return true
	case s.lex.HashWords && classes[next] == classDigit:
		s.number(start + 1)
		s.plain(t, Number, start, 0)
		return true
	case classes[next] == classLetter || next == '$':
		s.pos++
		s.restOfName()
		s.plain(t, Word, start, 0)
		return true
	}
	return false
}

func (s *Scanner) operator(t *Token, start int, c byte) {
	s.pos = start + 1
	if simpleMark[c] || s.pos >= len(s.src) {
		s.plain(t, Punct, start, c)
		return
	}
	op := c
	switch d := s.src[s.pos]; {
	case c == ':' && d == '=':
		op = OpAssign
	case c == '=' && d == '>':
		op = OpArrow
	case c == ':' && d == ':':
		op = OpScope
	case (c == '<' || c == '>' || c == '!') && (d == '=' || d == '>' || d == '<'):
		op = OpCompare
	case d == '=' && (c == '+' || c == '-' || c == '*' || c == '/' || c == '%' || c == '&' || c == '^' || c == '|'):
		op = OpCompound
	case c == '|' && d == '|', c == '&' && d == '&', c == '-' && d == '>':
		op = OpOther
	default:
		s.plain(t, Punct, start, c)
		return
	}
	s.pos++
	s.plain(t, Punct, start, op)
}

// Skip moves the scanner to offset, out of whatever it was in.
func (s *Scanner) Skip(offset int) {
	s.pos = min(max(offset, 0), len(s.src))
	s.executable = 0
	s.fresh = true
}
