package hostcode

import (
	"bytes"
	"strconv"
	"strings"
	"unicode/utf8"
)

// Java is Java up to its current version (The Java Language Specification,
// chapter 3 for its lexical structure).
var Java = Language{
	Name:       "java",
	Extensions: []string{".java"},

	anonymousClasses: true, BareMembers: true, bracketsBehindNames: true,

	keyword:     javaKeyword,
	stringAt:    javaString,
	StringValue: javaStringValue,
}

func javaKeyword(w []byte) keyword {
	switch string(w) {
	case "break":
		return kwBreak
	case "case":
		return kwCase
	case "catch":
		return kwCatch
	case "class":
		return kwClass
	case "continue":
		return kwContinue
	case "default":
		return kwDefault
	case "do":
		return kwDo
	case "else":
		return kwElse
	case "enum":
		return kwEnum
	case "extends", "implements", "throws", "permits":
		return kwExtends
	case "final":
		return kwFinal
	case "finally":
		return kwFinally
	case "for":
		return kwFor
	case "if":
		return kwIf
	case "import":
		return kwImport
	case "instanceof":
		return kwInstanceof
	case "interface":
		return kwInterface
	case "new":
		return kwNew
	case "null":
		return kwNull
	case "true":
		return kwTrue
	case "false":
		return kwFalse
	case "this", "super":
		return kwThis
	case "package":
		return kwPackage
	case "record":
		return kwRecord
	case "return":
		return kwReturn
	case "static":
		return kwStatic
	case "switch":
		return kwSwitch
	case "synchronized":
		return kwSynchronized
	case "throw":
		return kwThrow
	case "try":
		return kwTry
	case "while":
		return kwWhile
	case "yield":
		return kwYield
	case "public", "private", "protected", "abstract", "native", "transient", "volatile", "strictfp", "sealed":
		return kwModifier
	case "int", "long", "short", "byte", "char", "boolean", "float", "double", "void":
		return kwPrimitive
	}
	return notKeyword
}

func javaString(src []byte, start int) (int, tokenKind) {
	switch src[start] {
	case '"':
		if bytes.HasPrefix(src[start:], []byte(`"""`)) {
			return blockEnd(src, start+3, `"""`), tokString
		}
		return lineLiteralEnd(src, start, '"'), tokString
	case '\'':
		return lineLiteralEnd(src, start, '\''), tokChar
	}
	return 0, tokEOF
}

// lineLiteralEnd is the end of a literal with backslash escapes that must close
// on its line.
func lineLiteralEnd(src []byte, start int, quote byte) int {
	for i := start + 1; i < len(src); i++ {
		switch src[i] {
		case '\\':
			i++
		case quote:
			return i + 1
		case '\n':
			return i
		}
	}
	return len(src)
}

// blockEnd is the end of a literal that closing ends, behind any backslash escapes.
func blockEnd(src []byte, from int, closing string) int {
	for i := from; i < len(src); i++ {
		if src[i] == '\\' {
			i++
			continue
		}
		if src[i] == closing[0] && bytes.HasPrefix(src[i:], []byte(closing)) {
			return i + len(closing)
		}
	}
	return len(src)
}

func javaStringValue(text string) string {
	if strings.HasPrefix(text, `"""`) {
		return unescape(javaTextBlock(strings.TrimSuffix(text[3:], `"""`)))
	}
	return unescape(trimQuotes(text, '"'))
}

func trimQuotes(text string, quote byte) string {
	if text != "" && text[0] == quote {
		text = text[1:]
	}
	if n := len(text); n > 0 && text[n-1] == quote {
		text = text[:n-1]
	}
	return text
}

// javaTextBlock takes the first line end and the common indentation from a
// text block (JLS 3.10.6).
func javaTextBlock(s string) string {
	s = strings.ReplaceAll(s, "\r\n", "\n")
	if i := strings.IndexByte(s, '\n'); i >= 0 {
		s = s[i+1:]
	}
	lines := strings.Split(s, "\n")
	indent := -1
	for i, l := range lines {
		blank := strings.TrimSpace(l) == ""
		if blank && i < len(lines)-1 {
			continue
		}
		if n := len(l) - len(strings.TrimLeft(l, " \t")); indent < 0 || n < indent {
			indent = n
		}
	}
	for i, l := range lines {
		lines[i] = strings.TrimRight(l[min(max(indent, 0), len(l)):], " \t")
	}
	return strings.Join(lines, "\n")
}

// unescape undoes the backslash escapes that Java and C# share.
func unescape(s string) string {
	if strings.IndexByte(s, '\\') < 0 {
		return s
	}
	var b strings.Builder
	for i := 0; i < len(s); i++ {
		c := s[i]
		if c != '\\' || i+1 >= len(s) {
			b.WriteByte(c)
			continue
		}
		i++
		switch c := s[i]; c {
		case 'n':
			b.WriteByte('\n')
		case 't':
			b.WriteByte('\t')
		case 'r':
			b.WriteByte('\r')
		case 's':
			b.WriteByte(' ')
		case 'b':
			b.WriteByte('\b')
		case 'f':
			b.WriteByte('\f')
		case '\n': // a line that goes on
		case 'u', 'x', 'U':
			j := i + 1
			for c == 'u' && j < len(s) && s[j] == 'u' {
				j++
			}
			most := 4
			if c == 'U' {
				most = 8
			}
			k := j
			for k < len(s) && k < j+most && isHex(s[k]) {
				k++
			}
			n, err := strconv.ParseUint(s[j:k], 16, 32)
			if err != nil {
				b.WriteByte(c)
				continue
			}
			b.Write(utf8.AppendRune(nil, rune(n)))
			i = k - 1
		case '0', '1', '2', '3', '4', '5', '6', '7':
			j := i
			for j < len(s) && j < i+3 && s[j] >= '0' && s[j] <= '7' {
				j++
			}
			n, _ := strconv.ParseUint(s[i:j], 8, 16)
			b.WriteByte(byte(n))
			i = j - 1
		default:
			b.WriteByte(c)
		}
	}
	return b.String()
}

func isHex(c byte) bool {
	return c >= '0' && c <= '9' || c >= 'a' && c <= 'f' || c >= 'A' && c <= 'F'
}
