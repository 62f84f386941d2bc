package body

import (
	"bytes"
	"strings"
)

// Mention is a place at which a body in another language names a parameter.
type Mention struct {
	// Name is the parameter as declared, As the name as the body writes it.
	Name, As string
	Offset   int
}

// comments are what begins a comment to the end of its line, per language.
var comments = map[string]string{
	"javascript": "//", "plv8": "//", "java": "//", "scala": "//", "c#": "//", "csharp": "//", "go": "//",
	"python": "#", "plpython3u": "#", "plpythonu": "#", "plpython2u": "#", "plperl": "#", "plperlu": "#", "pltcl": "#", "pltclu": "#",
	"r": "#", "plr": "#", "rlang": "#", "ruby": "#", "lua": "--", "pllua": "--",
}

// IsEmbedded reports whether language is one of those whose bodies can be
// searched for the names of parameters.
func IsEmbedded(language string) bool { return comments[language] != "" }

// Mentions finds the names of parameters, in whatever case, in the body of a
// routine in another language. Names inside strings and comments do not count,
// but for those in the holes of a template string. base is added to offsets.
func Mentions(text []byte, language string, parameters []string, base int) []Mention {
	if len(parameters) == 0 {
		return nil
	}
	comment := comments[language]
	var found []Mention
	for i := 0; i < len(text); {
		c := text[i]
		switch {
		case comment != "" && bytes.HasPrefix(text[i:], []byte(comment)):
			i = skipTo(text, i, "\n")
		case comment == "//" && bytes.HasPrefix(text[i:], []byte("/*")):
			i = skipTo(text, i+2, "*/")
		case comment == "#" && (bytes.HasPrefix(text[i:], []byte(`"""`)) || bytes.HasPrefix(text[i:], []byte("'''"))):
			i = skipTo(text, i+3, string(text[i:i+3]))
		case c == '\'' || c == '"':
			i = skipString(text, i)
		case c == '`' && comment == "//":
			end := i + 1
			for end < len(text) && text[end] != '`' {
				switch {
				case text[end] == '\\':
					end++
				case text[end] == '$' && end+1 < len(text) && text[end+1] == '{':
					closing := hole(text, end+2)
					found = append(found, Mentions(text[end+2:closing], language, parameters, base+end+2)...)
					end = closing
				}
				end++
			}
			i = min(end+1, len(text))
		case isLetter(c):
			end := i + 1
			for end < len(text) && (isLetter(text[end]) || text[end] >= '0' && text[end] <= '9') {
				end++
			}
			field := i > 0 && text[i-1] == '.'
			for _, p := range parameters {
				if !field && strings.EqualFold(p, string(text[i:end])) {
					found = append(found, Mention{p, string(text[i:end]), base + i})
				}
			}
			i = end
		case c >= '0' && c <= '9':
			for i++; i < len(text) && (isLetter(text[i]) || text[i] >= '0' && text[i] <= '9'); i++ {
			}
		default:
			i++
		}
	}
	return found
}

// hole returns the offset of the brace that closes the hole at i, or the end.
func hole(text []byte, i int) int {
	depth := 0
	for ; i < len(text); i++ {
		switch text[i] {
		case '{':
			depth++
		case '}':
			if depth == 0 {
				return i
			}
			depth--
		}
	}
	return i
}

func isLetter(c byte) bool {
	return c == '_' || c == '$' || c >= 'a' && c <= 'z' || c >= 'A' && c <= 'Z' || c >= 0x80
}

// skipTo returns the offset behind the next mark, or the end.
func skipTo(text []byte, i int, mark string) int {
	if i > len(text) {
		return len(text)
	}
	if j := bytes.Index(text[i:], []byte(mark)); j >= 0 {
		return i + j + len(mark)
	}
	return len(text)
}

// skipString returns the offset behind the string that begins at i. One that
// does not end on its line is none.
func skipString(text []byte, i int) int {
	for j := i + 1; j < len(text); j++ {
		switch text[j] {
		case '\\':
			j++
		case text[i]:
			return j + 1
		case '\n':
			return i + 1
		}
	}
	return i + 1
}
