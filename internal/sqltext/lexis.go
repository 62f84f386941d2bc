// Package sqltext turns SQL text into tokens. There is one [Scanner]; what
// differs between dialects (quotes, comments, client commands, sigils) is data
// in a [Lexis]. The scanner works on bytes, keeps offsets instead of copies and
// allocates nothing per token; a [LineTable] turns an offset into a line and a
// column when somebody asks.
//
//	s := sqltext.NewScanner(src, &lexis)
//	for t := s.Next(); t.Kind != sqltext.EOF; t = s.Next() {
//		fmt.Println(t.Kind, string(t.Bytes(src)))
//	}
package sqltext

// Lexis is a dialect's lexical rules.
type Lexis struct {
	// NestedComments is set where /* /* */ */ is one comment.
	NestedComments bool
	// HashComments is set where # begins a comment.
	HashComments bool
	// DashNeedsSpace is set where -- begins a comment only before white space.
	DashNeedsSpace bool
	// BracketNames is set where [name] is a quoted name.
	BracketNames bool
	// BacktickNames is set where `name` is a quoted name.
	BacktickNames bool
	// DoubleQuotedStrings is set where "…" is a string and not a name.
	DoubleQuotedStrings bool
	// Backslash is set where a backslash escapes a character of a string.
	Backslash bool
	// HashWords is set where # may begin a name, and $ before a digit a number.
	HashWords bool
	// QuotedVariables is set where @'x', @"x" and @`x` are variables.
	QuotedVariables bool
	// BatchWord is the word that ends a batch when it stands alone on a line.
	BatchWord string
	// ColonLines is set where a line that begins with a colon, or with !!, is
	// for the script client.
	ColonLines bool
	// DelimiterCommand is set where the client's DELIMITER command, \d, \g and \G are known.
	DelimiterCommand bool
	// DigitNames is set where a name may begin with a digit.
	DigitNames bool
	// DollarQuotes is set where $tag$ … $tag$ is a string.
	DollarQuotes bool
	// EscapeStrings is set where E'…' has backslash escapes and '…' has none.
	EscapeStrings bool
	// ChosenQuotes is set where q'[…]' is a string between marks of its writer's choice.
	ChosenQuotes bool
	// SlashEnds is set where a slash alone on a line ends a batch.
	SlashEnds bool
	// BackslashCommands is set where a backslash begins a command for the
	// script client, to the end of the line.
	BackslashCommands bool
	// ColonNames is set where :name stands for a name or a variable.
	ColonNames bool
	// AmpersandNames is set where &name stands for a name.
	AmpersandNames bool
	// AtPlaceholders is set where @name@ stands for a name.
	AtPlaceholders bool
	// Templates is set where {{ … }} stands for a name.
	Templates bool
	// SlashComments is set where // begins a comment.
	SlashComments bool
	// TerminatorComment is set where the comment --#SET TERMINATOR x sets the delimiter.
	TerminatorComment bool
	// NameMarks are the marks that continue a name; "" for $, # and @.
	NameMarks string
	// MariaDBComments is set where /*M! … */ is run as /*! … */ is.
	MariaDBComments bool
	// ExecutableUpTo is the highest server version whose /*! comments are run; 0
	// where there are none.
	ExecutableUpTo int
}

// SQLServer is the lexis of Transact-SQL as its script clients read it
// ("Database identifiers", "Slash star comments", "GO").
var SQLServer = Lexis{
	NestedComments: true,
	BracketNames:   true,
	HashWords:      true,
	BatchWord:      "GO",
	ColonLines:     true,
}

// MySQL is the lexis of MySQL as its command-line client reads it ("Language
// structure", "mysql client commands"). Executable comments above the newest
// version are comments.
var MySQL = Lexis{
	HashComments:        true,
	DashNeedsSpace:      true,
	BacktickNames:       true,
	DoubleQuotedStrings: true,
	Backslash:           true,
	QuotedVariables:     true,
	DelimiterCommand:    true,
	DigitNames:          true,
	NameMarks:           "$",
	ExecutableUpTo:      90999,
}

// MariaDB is the lexis of MariaDB as its command-line client reads it. A
// comment for MariaDB alone, /*M!, is executable too ("Comment syntax").
var MariaDB = func() Lexis {
	l := MySQL
	l.ExecutableUpTo = 999999
	l.MariaDBComments = true
	return l
}()

// MariaDBANSI is MariaDB's where sql_mode has ANSI_QUOTES, which ORACLE implies.
var MariaDBANSI = func() Lexis {
	l := MariaDB
	l.DoubleQuotedStrings = false
	return l
}()

// Oracle is the lexis of SQL and PL/SQL as SQL*Plus reads it ("Literals",
// "Schema object naming rules", SQL*Plus "Using substitution variables").
var Oracle = Lexis{ChosenQuotes: true, SlashEnds: true, ColonNames: true, AmpersandNames: true, NameMarks: "$#"}

// PostgreSQL is the lexis of PostgreSQL as psql reads it ("Lexical structure",
// psql "Meta-commands").
var PostgreSQL = Lexis{
	NestedComments: true, DollarQuotes: true, EscapeStrings: true, BackslashCommands: true, ColonNames: true,
	AtPlaceholders: true, NameMarks: "$",
}

// HANA is the lexis of SAP HANA SQL and SQLScript ("Notation").
var HANA = Lexis{ColonNames: true, NameMarks: "$#"}

// Snowflake is the lexis of Snowflake ("String & binary data types", "Identifier
// requirements"); scripts have templates and variables of their clients.
var Snowflake = Lexis{
	DollarQuotes: true, Backslash: true, ColonNames: true, AmpersandNames: true, Templates: true, SlashComments: true, NameMarks: "$",
}

// Db2 is the lexis of Db2 as its command line processor reads it ("SQL
// identifiers", "Statement termination").
var Db2 = Lexis{NestedComments: true, TerminatorComment: true, ColonNames: true}

// Firebird is the lexis of Firebird as isql reads it ("Identifiers").
var Firebird = Lexis{ChosenQuotes: true, ColonNames: true, NameMarks: "$"}

// Teradata is the lexis of Teradata ("Object names").
var Teradata = Lexis{ColonNames: true, NameMarks: "$#"}

// SQLPSM is the lexis of the standard (ISO/IEC 9075-2, clause 5.2), with the
// names that HSQLDB takes.
var SQLPSM = Lexis{ColonNames: true, NameMarks: "$"}
