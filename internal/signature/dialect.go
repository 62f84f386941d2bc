package signature

import "strings"

// Dialect names the SQL that a text is written in.
type Dialect string

// The dialects of the vocabulary. Which of them can be read is settled by the
// table of readers in package ddl.
const (
	SQLServer Dialect = "sqlserver"
	MySQL     Dialect = "mysql"
)

// Naming is how a dialect's server stores, compares and completes names. It is
// data, so that nothing that resolves names switches on a dialect.
type Naming struct {
	// Fold stores an unquoted name as the server does.
	Fold func(string) string
	// DefaultSchema is the schema that an unqualified name means for most
	// callers; "" where that depends on the session.
	DefaultSchema string
	// Sigil is the character that belongs to parameter names, or 0.
	Sigil byte
	// HasStatus is true where procedures hand back a status code.
	HasStatus bool
	// CallsFunctions is true where a function can be called by the statement
	// that calls procedures.
	CallsFunctions bool
	// NamedArguments is true where the call statement takes arguments by name.
	NamedArguments bool
	// OneNameSpace is true where a procedure and a function cannot share a name.
	OneNameSpace bool
	// TablesMayBeLeftOut is true where a call may leave a table parameter out,
	// which is then empty.
	TablesMayBeLeftOut bool
	// UnsizedIsOne is true where text declared without a length has one character.
	UnsizedIsOne bool
	// OutputsNeedSize is true where the usual client libraries need a size for
	// outputs of variable length.
	OutputsNeedSize bool
	// LoadableHideParameters is true where a function of a library is declared
	// without its parameters.
	LoadableHideParameters bool
	// QuoteOpen and QuoteClose stand around a quoted name.
	QuoteOpen, QuoteClose string
	// System reports whether a routine belongs to the server itself.
	System func(schema, name string) bool
}

func asWritten(s string) string { return s }

var namings = map[Dialect]Naming{
	// Identifiers keep their case and are compared by the database's collation,
	// which does not tell case apart by default ("Database identifiers").
	SQLServer: {
		Fold: asWritten, DefaultSchema: "dbo", Sigil: '@',
		HasStatus: true, CallsFunctions: true, NamedArguments: true, OneNameSpace: true,
		TablesMayBeLeftOut: true, UnsizedIsOne: true, OutputsNeedSize: true, QuoteOpen: "[", QuoteClose: "]",
		System: func(schema, name string) bool {
			s, n := strings.ToLower(schema), strings.ToLower(name)
			return s == "sys" || strings.HasPrefix(n, "sp_") || strings.HasPrefix(n, "xp_")
		},
	},
	// Routine names are stored as written and compared without case
	// ("Identifier case sensitivity").
	MySQL: {
		Fold: asWritten, LoadableHideParameters: true, QuoteOpen: "`", QuoteClose: "`",
		System: func(schema, _ string) bool {
			s := strings.ToLower(schema)
			return s == "sys" || s == "mysql"
		},
	},
}

// Dialects lists the dialects whose naming rules are known, in a fixed order.
func Dialects() []Dialect { return []Dialect{SQLServer, MySQL} }

// NamingOf returns the naming rules of d; for an unknown dialect, rules that
// take every name as it is written.
func NamingOf(d Dialect) Naming {
	if n, ok := namings[d]; ok {
		return n
	}
	return Naming{Fold: asWritten, QuoteOpen: `"`, QuoteClose: `"`, System: func(string, string) bool { return false }}
}

// SameName reports whether two names mean the same thing to a server that does
// not tell case apart.
func SameName(a, b string) bool { return strings.EqualFold(a, b) }

// BareName is a parameter's name without the sigil that some dialects make
// part of it.
func BareName(name string) string { return strings.TrimLeft(name, "@:?$") }
