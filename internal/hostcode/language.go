package hostcode

// Language is what the reader must know of one language.
type Language struct {
	// Name is the language's name in output and settings.
	Name string
	// Extensions are those of its files, with the point.
	Extensions []string
	// directives is set where a line that begins with # is for a preprocessor.
	directives bool
	// attributes is set where [X] may stand before a declaration.
	attributes bool
	// namedArguments is set where name: value may be an argument.
	namedArguments bool
	// nullForgiving is set where ! may stand behind an operand.
	nullForgiving bool
	// queries is set where from x in … begins an expression.
	queries bool
	// anonymousClasses is set where { members } may stand behind new T().
	anonymousClasses bool
	// bracketsBehindNames is set where int x[] declares an array.
	bracketsBehindNames bool
	// verbatimNames is set where @ may stand before a name.
	verbatimNames bool
	// DeclaresByAssigning is set where the first assignment to a name declares it,
	// for the whole function.
	DeclaresByAssigning bool
	// IgnoresCase is set where names differ by more than case.
	IgnoresCase bool
	// typed is set where types may stand behind names.
	typed bool
	// BareMembers is set where a bare name may mean a member of the class around.
	BareMembers bool
	// ParenthesesIndex is set where x(1) may be an element of x.
	ParenthesesIndex bool
	// scan reads tokens, where the scanner of C's family will not do; file reads
	// a file's statements into a list, where the parser of Java and C# will not
	// do; expression reads one expression inside a literal.
	scan       func(s *scanner, from, to int)
	file       func(p *Parser, list *children)
	expression func(p *Parser) NodeID
	// keyword tells which keyword a word is.
	keyword func(word []byte) keyword
	// stringAt finds the end of the string or character literal that begins at
	// start, and its kind; 0 where none begins there.
	stringAt func(src []byte, start int) (end int, kind tokenKind)
	// StringValue is the value of a string literal, and the offset in its text at
	// which the value's first character stands.
	StringValue func(text string) string
	// holes calls part for each part of a literal with expressions inside: text
	// with its value, or the extent of an expression.
	holes func(src []byte, start, end int, part func(value bool, from, to int))
	// PartValue is the value of a text part of such a literal.
	PartValue func(src []byte, literal, from, to int) string
}

// Languages lists every language that can be read.
var Languages = []*Language{&Java, &CSharp, &JavaScript, &TypeScript, &Python, &PHP, &Go, &VisualBasic}

// LanguageOf returns the language of a file by its name, or nil.
func LanguageOf(path string) *Language {
	for _, l := range Languages {
		for _, ext := range l.Extensions {
			if len(path) > len(ext) && equalASCIIFold(path[len(path)-len(ext):], ext) {
				return l
			}
		}
	}
	return nil
}

func equalASCIIFold(a, b string) bool {
	if len(a) != len(b) {
		return false
	}
	for i := range len(a) {
		x, y := a[i], b[i]
		if 'A' <= x && x <= 'Z' {
			x |= 0x20
		}
		if x != y {
			return false
		}
	}
	return true
}
