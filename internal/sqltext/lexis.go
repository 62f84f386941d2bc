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
	ExecutableUpTo:      90999,
}
