package ddl

import (
	"bytes"
	"strings"

	"ramekin/internal/signature"
	"ramekin/internal/sqltext"
)

// Marks are what speaks for a dialect in a text, each with its weight: words in
// lower case, and the marks below.
type Marks map[string]int

// What speaks for a dialect beside its words. Each has a character that no word has.
const (
	markBatchWord         = "GO alone"
	markBracketName       = "[name]"
	markBacktickName      = "`name`"
	markAtParameter       = "(@name"
	markSystemVariable    = "@@name"
	markNationalString    = "N'…'"
	markExecutableComment = "/*!"
	markMariaDBOwn        = "what only MariaDB has"
	markDirectionFirst    = "(IN name"
	markDirectionAfter    = "(name IN"
	markEndIf             = "END IF"
	markDollarQuote       = "AS $$"
	markCast              = "::type"
	markScopedName        = `"a::b"`
	markBackslashLine     = `\word`
	markRaiseNotice       = "RAISE NOTICE"
	markSlashLine         = "/ alone"
	markPackage           = "CREATE PACKAGE"
	markRowType           = "%ROWTYPE"
	markPercentType       = "%TYPE"
	markTerminator        = "--#SET TERMINATOR"
	markAtTerminator      = "END@"
	markSetTerm           = "SET TERM"
	markSuspend           = "SUSPEND;"
	markDotLine           = ".word"
	markReplaceFirst      = "REPLACE PROCEDURE"
	markColonVariable     = ":name"
	markReturnsOutputs    = "PROCEDURE RETURNS ("
	markProcedureReturns  = "PROCEDURE RETURNS type"
	markBeginAtomic       = "BEGIN ATOMIC"
	markReturnType        = "FUNCTION RETURN type"
	markHeaderIs          = ") IS"
	markAssign            = ":="
	markExecuteAs         = "EXECUTE AS CALLER"
	markOracleMode        = "sql_mode=ORACLE"
)

// mostDetected bounds how much of a text is looked at, and how often one mark counts.
const (
	mostDetected = 1 << 18
	mostCounted  = 4
	leastScore   = 2
	leastLead    = 2
)

// mixedLexis scans a text whose dialect is not known.
var mixedLexis = sqltext.Lexis{BracketNames: true, BacktickNames: true, HashWords: true, BatchWord: "GO", SlashEnds: true, ColonNames: true, AmpersandNames: true}

// Guess is what Detect finds.
type Guess struct {
	// Dialect is "" where the text does not tell.
	Dialect signature.Dialect
	// Certain is false where little speaks for the dialect.
	Certain bool
	// Declares is true where the text seems to declare a routine at all.
	Declares bool
}

// Detect works out the dialect of src from its text: from its beginning, and
// where that does not tell, from its end.
func Detect(src []byte) Guess {
	if len(src) <= mostDetected {
		return detect(src)
	}
	if g := detect(src[:mostDetected]); g.Dialect != "" {
		return g
	}
	end := src[len(src)-mostDetected:]
	if i := bytes.IndexByte(end, '\n'); i >= 0 {
		end = end[i+1:]
	}
	return detect(end)
}

// detector counts the marks of a text.
type detector struct {
	src      []byte
	counts   map[string]int
	declares bool
	// procedure is set behind the word PROCEDURE until its parameters are over.
	procedure, function bool
	depth               int
}

func (d *detector) mark(key string) {
	if d.counts[key] < mostCounted {
		d.counts[key]++
	}
}

func detect(src []byte) Guess {
	d := &detector{src: src, counts: map[string]int{}}
	d.texts()
	s := sqltext.NewScanner(src, &mixedLexis)
	var prev, before sqltext.Token
	for t := s.Next(); t.Kind != sqltext.EOF; t = s.Next() {
		d.token(s, t, prev, before)
		before, prev = prev, t
	}
	g := Guess{Declares: d.declares}
	scores := make([]int, len(Dialects))
	best, second := 0, 0
	for i, dialect := range Dialects {
		for key, n := range d.counts {
			scores[i] += n * dialect.Marks[key]
		}
		if scores[i] > scores[best] {
			best = i
		}
	}
	for i, score := range scores {
		if i != best && !related(Dialects[i], Dialects[best]) {
			second = max(second, score)
		}
	}
	if scores[best] < leastScore || scores[best] < second+leastLead {
		return g
	}
	g.Dialect = Dialects[best].Name
	g.Certain = scores[best] >= 6 && scores[best] >= 2*second
	return g
}

// related reports whether two dialects are so near that a text of one can be
// one of the other; the first of them in [Dialects] is meant where nothing
// speaks for the second alone.
func related(a, b *Dialect) bool {
	family := func(d *Dialect) bool { return d == Dialects[1] || d == Dialects[2] }
	return family(a) && family(b)
}

// texts counts the marks that are no tokens.
func (d *detector) texts() {
	for _, m := range []struct{ text, key string }{
		{"/*!", markExecutableComment}, {"/*M!", markMariaDBOwn}, {"-- MariaDB dump", markMariaDBOwn}, {"--#SET TERMINATOR", markTerminator}, {"--#set terminator", markTerminator},
	} {
		if bytes.Contains(d.src, []byte(m.text)) {
			d.mark(m.key)
		}
	}
	if db2Terminator(d.src) == "@" {
		d.mark(markAtTerminator)
	}
	for line := range bytes.Lines(d.src) {
		if line = bytes.TrimSpace(line); len(line) < 3 {
			continue
		}
		switch c := line[1] | 0x20; {
		case c < 'a' || c > 'z':
		case line[0] == '\\':
			d.mark(markBackslashLine)
		case line[0] == '.':
			d.mark(markDotLine)
		}
	}
}

// token counts what the token t says behind prev, which stands behind before.
func (d *detector) token(s *sqltext.Scanner, t, prev, before sqltext.Token) {
	switch t.Kind {
	case sqltext.BatchEnd:
		if d.src[t.Start] == '/' {
			d.mark(markSlashLine)
		} else {
			d.mark(markBatchWord)
		}
	case sqltext.QuotedName:
		switch text := t.Bytes(d.src); {
		case text[0] == '[':
			d.mark(markBracketName)
		case text[0] == '`':
			d.mark(markBacktickName)
		case bytes.Contains(text, []byte("::")):
			d.mark(markScopedName)
		}
	case sqltext.String:
		if d.src[t.Start]|0x20 == 'n' {
			d.mark(markNationalString)
		}
	case sqltext.Variable:
		switch {
		case d.src[t.Start] == ':':
			d.mark(markColonVariable)
		case t.End-t.Start > 2 && d.src[t.Start+1] == '@':
			d.mark(markSystemVariable)
		case d.declares && (prev.IsName() && prev.Kw == sqltext.NoKeyword || prev.Op == '('):
			d.mark(markAtParameter)
		}
	case sqltext.Punct:
		switch t.Op {
		case '(':
			d.depth++
		case ')':
			d.depth--
		case ';':
			d.procedure, d.function, d.depth = false, false, 0
		case sqltext.OpScope:
			d.mark(markCast)
		case sqltext.OpAssign:
			d.mark(markAssign)
		}
	case sqltext.Word:
		d.word(t, prev, before)
	}
}

func (d *detector) word(t, prev, before sqltext.Token) {
	punct := func(op byte) bool { return prev.Kind == sqltext.Punct && prev.Op == op }
	switch t.Kw {
	case sqltext.PROC, sqltext.PROCEDURE, sqltext.FUNCTION:
		if prev.Kw == sqltext.CREATE || prev.Kw == sqltext.ALTER || prev.Kw == sqltext.REPLACE || prev.Kind == sqltext.Variable || prev.Kind == sqltext.QuotedName ||
			prev.Is(d.src, "recreate") || prev.Is(d.src, "secure") || prev.Is(d.src, "editionable") {
			d.declares = true
		}
		if prev.Kw == sqltext.REPLACE && before.Kw != sqltext.OR {
			d.mark(markReplaceFirst)
		}
		if prev.Kw == sqltext.REPLACE && before.Kw == sqltext.OR && d.counts["delimiter"] > 0 {
			d.mark(markMariaDBOwn) // MySQL has no OR REPLACE
		}
		d.procedure, d.function, d.depth = t.Kw != sqltext.FUNCTION, t.Kw == sqltext.FUNCTION, 0
	case sqltext.MACRO, sqltext.PACKAGE:
		if prev.Kw == sqltext.CREATE || prev.Kw == sqltext.REPLACE || prev.Is(d.src, "editionable") {
			d.declares = true
			if t.Kw == sqltext.PACKAGE {
				d.mark(markPackage)
			}
		}
	case sqltext.IN, sqltext.OUT, sqltext.INOUT:
		switch {
		case punct('(') || punct(','):
			d.mark(markDirectionFirst)
		case prev.IsName() && prev.Kw == sqltext.NoKeyword && before.Kind == sqltext.Punct && (before.Op == '(' || before.Op == ',') && d.depth == 1 && (d.procedure || d.function):
			d.mark(markDirectionAfter)
		}
	case sqltext.IF:
		if prev.Kw == sqltext.END {
			d.mark(markEndIf)
		}
	case sqltext.RETURNS:
		d.function = false
		if d.procedure && d.depth == 0 {
			d.mark(markProcedureReturns)
			d.mark("returns")
			return
		}
	case sqltext.RETURN:
		if d.function && d.depth == 0 && (punct(')') || prev.IsName()) {
			d.mark(markReturnType)
			d.function = false
		}
	case sqltext.IS, sqltext.AS:
		if t.Kw == sqltext.IS && (d.procedure || d.function) && d.depth == 0 {
			d.mark(markHeaderIs)
		}
		d.procedure, d.function = false, false
	case sqltext.ATOMIC:
		if prev.Kw == sqltext.BEGIN {
			d.mark(markBeginAtomic)
		}
	case sqltext.SUSPEND:
		d.mark(markSuspend)
	case sqltext.TYPE:
		if punct('%') {
			d.mark(markPercentType)
		}
	}
	if t.End-t.Start >= 24 {
		return
	}
	switch w := strings.ToLower(t.Text(d.src)); {
	case w == "term" && prev.Kw == sqltext.SET:
		d.mark(markSetTerm)
	case w == "rowtype" && punct('%'):
		d.mark(markRowType)
	case w[0] == '$' && w[len(w)-1] == '$' && prev.Kw == sqltext.AS:
		d.mark(markDollarQuote)
	case prev.Kw == sqltext.RAISE && (w == "notice" || w == "exception" || w == "warning" || w == "info"):
		d.mark(markRaiseNotice)
	case w == "oracle" && punct('=') && bytes.HasSuffix(bytes.ToLower(before.Bytes(d.src)), []byte("sql_mode")):
		d.mark(markOracleMode)
	case prev.Kw == sqltext.AS && before.Kw == sqltext.EXECUTE && (w == "caller" || w == "owner"):
		d.mark(markExecuteAs)
		d.mark(w)
	default:
		d.mark(w)
	}
}
