package signature

import (
	"slices"
	"strings"
)

// Dialect names the SQL that a text is written in.
type Dialect string

// The dialects of the vocabulary. Which of them can be read is settled by the
// table of readers in package ddl.
const (
	SQLServer  Dialect = "sqlserver"
	MySQL      Dialect = "mysql"
	MariaDB    Dialect = "mariadb"
	PostgreSQL Dialect = "postgresql"
	Oracle     Dialect = "oracle"
	HANA       Dialect = "hana"
	Snowflake  Dialect = "snowflake"
	Db2        Dialect = "db2"
	Firebird   Dialect = "firebird"
	Teradata   Dialect = "teradata"
	SQLPSM     Dialect = "sqlpsm"
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
	// ExecCalls is true where EXEC or EXECUTE calls a routine; elsewhere it runs a
	// prepared statement, or nothing.
	ExecCalls bool
	// ShownOutputs is true where a placeholder in a script stands for an output
	// that the console shows.
	ShownOutputs bool
	// NamedArguments is true where the call statement takes arguments by name.
	NamedArguments bool
	// CallRulesKnown is true where the rules about status codes, rows and kinds of
	// routine have been written for the dialect. Elsewhere they stay silent.
	CallRulesKnown bool
	// OneNameSpace is true where a procedure and a function cannot share a name.
	OneNameSpace bool
	// RowsByCursor is true where a procedure's rows come only through an output
	// parameter that is a cursor.
	RowsByCursor bool
	// Overloads is true where routines of one name may differ in their parameters.
	Overloads bool
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
		HasStatus: true, CallsFunctions: true, ExecCalls: true, NamedArguments: true, OneNameSpace: true, CallRulesKnown: true,
		TablesMayBeLeftOut: true, UnsizedIsOne: true, OutputsNeedSize: true, QuoteOpen: "[", QuoteClose: "]",
		System: func(schema, name string) bool {
			s, n := strings.ToLower(schema), strings.ToLower(name)
			return s == "sys" || strings.HasPrefix(n, "sp_") || strings.HasPrefix(n, "xp_")
		},
	},
	// Routine names are stored as written and compared without case
	// ("Identifier case sensitivity").
	MySQL: mySQLNaming,
	// As MySQL; packages have members ("CREATE PACKAGE").
	MariaDB: mySQLNaming,
	// "Identifiers and key words"; OUT parameters are given a value in CALL.
	PostgreSQL: {
		Fold: strings.ToLower, DefaultSchema: "public", RowsByCursor: true, NamedArguments: true, Overloads: true, OneNameSpace: true,
		QuoteOpen: `"`, QuoteClose: `"`, System: systemSchemas("pg_catalog", "information_schema"),
	},
	// "Database object naming rules".
	Oracle: {
		Fold: strings.ToUpper, RowsByCursor: true, CallsFunctions: true, ExecCalls: true, NamedArguments: true, Overloads: true, OneNameSpace: true, QuoteOpen: `"`, QuoteClose: `"`,
		System: func(schema, name string) bool {
			s := strings.ToLower(schema)
			return s == "sys" || s == "standard" || strings.HasPrefix(s, "dbms_") || strings.HasPrefix(s, "utl_") || strings.HasPrefix(s, "owa") ||
				strings.HasPrefix(s, "htp") || strings.EqualFold(name, "raise_application_error")
		},
	},
	// "Identifiers".
	HANA: {
		Fold: strings.ToUpper, NamedArguments: true, ShownOutputs: true, QuoteOpen: `"`, QuoteClose: `"`, TablesMayBeLeftOut: true,
		System: systemSchemas("sys", "_sys_afl", "_sys_bic", "_sys_repo", "sqlscript_print", "sqlscript_string"),
	},
	// "Identifier requirements".
	Snowflake: {
		Fold: strings.ToUpper, DefaultSchema: "public", NamedArguments: true, Overloads: true, QuoteOpen: `"`, QuoteClose: `"`,
		System: func(schema, name string) bool {
			return strings.EqualFold(schema, "information_schema") || strings.HasPrefix(strings.ToLower(name), "system$")
		},
	},
	// "Identifiers", "SQLPL RETURN statement".
	Db2: {
		Fold: strings.ToUpper, HasStatus: true, NamedArguments: true, ShownOutputs: true, Overloads: true, QuoteOpen: `"`, QuoteClose: `"`,
		System: systemSchemas("sysproc", "sysibm", "sysfun", "sysibmadm", "sysibminternal", "syscat"),
	},
	// "Rules for regular object identifiers".
	Firebird: {Fold: strings.ToUpper, QuoteOpen: `"`, QuoteClose: `"`, System: func(schema, _ string) bool { return strings.HasPrefix(strings.ToLower(schema), "rdb$") }},
	// Names keep their case and are compared without it ("Object names").
	Teradata: {
		Fold: asWritten, ExecCalls: true, QuoteOpen: `"`, QuoteClose: `"`,
		System: systemSchemas("dbc", "syslib", "sysudtlib", "td_sysfnlib", "td_sysxml", "sqlj"),
	},
	// ISO/IEC 9075-2, clause 5.4.
	SQLPSM: {
		Fold: strings.ToUpper, DefaultSchema: "PUBLIC", Overloads: true, QuoteOpen: `"`, QuoteClose: `"`,
		System: systemSchemas("information_schema", "system_lobs"),
	},
}

var mySQLNaming = Naming{
	Fold: asWritten, LoadableHideParameters: true, CallRulesKnown: true, QuoteOpen: "`", QuoteClose: "`", System: systemSchemas("sys", "mysql"),
}

// systemSchemas is a [Naming.System] that goes by the schema.
func systemSchemas(names ...string) func(schema, name string) bool {
	return func(schema, _ string) bool { return slices.Contains(names, strings.ToLower(schema)) }
}

// order lists the dialects as they are shown.
var order = []Dialect{SQLServer, MySQL, MariaDB, PostgreSQL, Oracle, HANA, Snowflake, Db2, Firebird, Teradata, SQLPSM}

// Dialects lists the dialects whose naming rules are known, in a fixed order.
func Dialects() []Dialect { return slices.Clone(order) }

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
