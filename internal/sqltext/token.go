package sqltext

import (
	"bytes"
	"sort"
	"strings"
	"unicode/utf8"
)

// Kind is the kind of a token.
type Kind uint8

// The kinds of token. Comments and white space are no tokens. The last two end
// what stands before them.
const (
	EOF         Kind = iota
	Word             // a name or keyword without quotes
	QuotedName       // a name in quotes, brackets or backticks
	String           // a string with its quotes and prefix
	Number           // a number
	Variable         // @name, @@name
	Placeholder      // ?
	Punct            // an operator or other mark: see Token.Op
	BatchEnd         // a batch word alone on its line, with its count
	Delimiter        // a statement delimiter other than ;
)

// Operators of more than one character; those of one are their own byte.
const (
	OpAssign   byte = 128 + iota // :=
	OpArrow                      // =>
	OpScope                      // ::
	OpCompare                    // <> <= >= != !< !> <=>
	OpCompound                   // += -= *= /= %= &= ^= |=
	OpOther                      // || and the like
)

// Token is one token of a text: offsets into it, no copy.
type Token struct {
	Start, End int32
	Kw         Keyword
	Kind       Kind
	Op         byte
}

// Bytes is the token's text in src.
func (t Token) Bytes(src []byte) []byte { return src[t.Start:t.End] }

// Text is the token's text in src as a string.
func (t Token) Text(src []byte) string { return string(src[t.Start:t.End]) }

// Is reports whether the token is the unquoted word lower, given in lower case.
func (t Token) Is(src []byte, lower string) bool {
	return t.Kind == Word && equalFold(src[t.Start:t.End], lower)
}

// IsName reports whether the token can stand as a name: quoted, or a word.
func (t Token) IsName() bool { return t.Kind == Word || t.Kind == QuotedName }

// Name is the name that the token stands for, without the quotes around it
// and with doubled quotes inside undone.
func (t Token) Name(src []byte) string {
	text := t.Text(src)
	switch t.Kind {
	case QuotedName:
		return unquote(text)
	case Variable:
		if len(text) > 2 && strings.IndexByte("'\"`", text[1]) >= 0 {
			return "@" + unquote(text[1:])
		}
	}
	return text
}

// unquote takes the quotes from a quoted name, also where the closing one is missing.
func unquote(s string) string {
	if s == "" {
		return s
	}
	closing := s[0]
	if closing == '[' {
		closing = ']'
	}
	s = s[1:]
	if n := len(s); n > 0 && s[n-1] == closing {
		s = s[:n-1]
	}
	q := string(closing)
	return strings.ReplaceAll(s, q+q, q)
}

// StringValue is the value of a string token: prefix and quotes taken off,
// doubled quotes undone, and backslash escapes too where the lexis has them.
func StringValue(text string, lex *Lexis) string {
	if start, end, ok := verbatim(text, lex); ok {
		return text[start:end]
	}
	i := strings.IndexAny(text, "'\"")
	if i < 0 {
		return text
	}
	backslash := lex.Backslash || lex.EscapeStrings && i == 1 && text[0]|0x20 == 'e'
	quote := text[i]
	text = text[i+1:]
	if n := len(text); n > 0 && text[n-1] == quote {
		text = text[:n-1]
	}
	if strings.IndexByte(text, quote) < 0 && (!backslash || strings.IndexByte(text, '\\') < 0) {
		return text
	}
	var b strings.Builder
	for i := 0; i < len(text); i++ {
		c := text[i]
		switch {
		case c == quote && i+1 < len(text) && text[i+1] == quote:
			i++
		case c == '\\' && backslash && i+1 < len(text):
			i++
			c = text[i]
			switch c {
			case 'n':
				c = '\n'
			case 't':
				c = '\t'
			case 'r':
				c = '\r'
			case '0':
				c = 0
			}
		}
		b.WriteByte(c)
	}
	return b.String()
}

// verbatim finds the content of a string that has no escapes: one in dollar
// quotes, or in quotes of its writer's choice.
func verbatim(text string, lex *Lexis) (start, end int, ok bool) {
	switch {
	case lex.DollarQuotes && strings.HasPrefix(text, "$"):
		if i := strings.IndexByte(text[1:], '$'); i >= 0 {
			tag := text[:i+2]
			return len(tag), max(len(strings.TrimSuffix(text, tag)), len(tag)), true
		}
	case lex.ChosenQuotes:
		i := strings.IndexByte(text, '\'')
		if i > 0 && text[i-1]|0x20 == 'q' && len(text) > i+1 {
			return i + 2, max(len(text)-2, i+2), true
		}
	}
	return 0, 0, false
}

// Content finds where the content of a string token stands in src. plain is
// false where it has escapes, so that the value of the string is another text.
func Content(src []byte, t Token, lex *Lexis) (start, end int, plain bool) {
	text := src[t.Start:t.End]
	base := int(t.Start)
	if lex.DollarQuotes && text[0] == '$' {
		if i := bytes.IndexByte(text[1:], '$'); i >= 0 {
			tag := text[:i+2]
			last := len(text)
			if bytes.HasSuffix(text[len(tag):], tag) {
				last -= len(tag)
			}
			return base + len(tag), base + last, true
		}
	}
	i := bytes.IndexByte(text, '\'')
	if i < 0 {
		return base, base + len(text), false
	}
	last := len(text)
	if last > i+1 && text[last-1] == '\'' {
		last--
	}
	inner := text[i+1 : last]
	escapes := lex.Backslash || lex.EscapeStrings && i == 1 && text[0]|0x20 == 'e'
	plain = bytes.IndexByte(inner, '\'') < 0 && (!escapes || bytes.IndexByte(inner, '\\') < 0) && (i == 0 || text[i-1]|0x20 != 'q')
	return base + i + 1, base + last, plain
}

// Fold is the text of tokens as src writes it, with white space folded to one
// space and comments left out. Strings and quoted names keep every character.
func Fold(src []byte, tokens []Token) string {
	if len(tokens) == 0 {
		return ""
	}
	first, last := tokens[0].Start, tokens[len(tokens)-1].End
	if isFolded(src[first:last]) {
		return string(src[first:last])
	}
	var b strings.Builder
	for i, t := range tokens {
		if i > 0 {
			prev := tokens[i-1]
			gap := src[prev.End:t.Start]
			if gapHasSpace(gap) || len(gap) > 0 && glues(prev) && glues(t) {
				b.WriteByte(' ')
			}
		}
		b.Write(t.Bytes(src))
	}
	return b.String()
}

// isFolded reports whether a text has nothing to fold: no white space but
// single blanks, and nothing that may be a comment.
func isFolded(text []byte) bool {
	for i, c := range text {
		switch {
		case c == ' ':
			if i+1 < len(text) && text[i+1] == ' ' {
				return false
			}
		case c < ' ', c == '/', c == '-', c == '#':
			return i == 0 && len(text) > 1 && c == '-' && text[1] != '-' && isFolded(text[1:])
		}
	}
	return true
}

// glues reports whether the token would run together with a neighbour like it.
func glues(t Token) bool { return t.Kind == Word || t.Kind == Number || t.Kind == Variable }

// gapHasSpace reports whether what stands between two tokens has white space
// outside of block comments.
func gapHasSpace(gap []byte) bool {
	depth := 0
	for i := 0; i < len(gap); i++ {
		switch c := gap[i]; {
		case c == '/' && i+1 < len(gap) && gap[i+1] == '*':
			depth++
			i++
		case c == '*' && i+1 < len(gap) && gap[i+1] == '/':
			depth = max(depth-1, 0)
			i++
		case depth == 0 && (c == ' ' || c >= '\t' && c <= '\r'):
			return true
		}
	}
	return false
}

// LineTable turns offsets of one text into lines and columns.
type LineTable struct {
	src   []byte
	lines []int32 // offset at which each line begins
	// The place last asked for: the next is near it, and a line may be long.
	lastLine, lastOffset, lastColumn int
}

// NewLineTable prepares the table of src; it is built when first asked.
func NewLineTable(src []byte) *LineTable { return &LineTable{src: src} }

// Position returns the line and column of offset, both counted from 1; the
// column counts characters.
func (t *LineTable) Position(offset int) (line, column int) {
	if t.lines == nil {
		t.lines = append(make([]int32, 0, bytes.Count(t.src, []byte("\n"))+1), 0)
		for at := 0; ; {
			i := bytes.IndexByte(t.src[at:], '\n')
			if i < 0 {
				break
			}
			at += i + 1
			t.lines = append(t.lines, int32(at))
		}
	}
	offset = min(max(offset, 0), len(t.src))
	line = sort.Search(len(t.lines), func(i int) bool { return int(t.lines[i]) > offset })
	start := int(t.lines[line-1])
	switch from := t.lastOffset; {
	case line != t.lastLine || offset-start < max(from-offset, offset-from):
		column = utf8.RuneCount(t.src[start:offset]) + 1
	case offset >= from:
		column = t.lastColumn + utf8.RuneCount(t.src[from:offset])
	default:
		column = t.lastColumn - utf8.RuneCount(t.src[offset:from])
	}
	t.lastLine, t.lastOffset, t.lastColumn = line, offset, column
	return line, column
}
