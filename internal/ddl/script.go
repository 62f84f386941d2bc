package ddl

import (
	"bytes"

	"ramekin/internal/sqltext"
)

// keywords is a set of keywords that costs one look-up.
type keywords [512]bool

func keywordSet(words ...sqltext.Keyword) *keywords {
	var set keywords
	for _, k := range words {
		set[k] = true
	}
	return &set
}

// frameRules say where the statements of a dialect's scripts end.
type frameRules struct {
	// begins holds the words that may begin the declaration of a routine.
	begins *keywords
	// heads holds the words behind them that mean something with a body.
	heads *keywords
	// anonymous holds the words that begin a block on its own.
	anonymous keywords
	// blocks holds the words that open what END closes.
	blocks *keywords
	// bareTransaction is set where BEGIN before a semicolon begins a transaction.
	bareTransaction bool
	// sections is set where DECLARE begins a section of declarations before BEGIN.
	sections bool
	// endIsReserved is set where END is never a name.
	endIsReserved bool
	// client reads a command for the script client that t begins, and reports
	// whether it was one. It is asked at the start of a statement.
	client func(r *reader, t sqltext.Token) bool
	// recover finds where to go on behind something that is not closed, or 0.
	recover func(src []byte, offset int) int
	// onlyDelimiter says what a semicolon does not end once the script has set a
	// delimiter of its own.
	onlyDelimiter delimiterRule
}

// delimiterRule says what only the delimiter of the script ends.
type delimiterRule uint8

const (
	endsNothing delimiterRule = iota
	endsRoutines
	endsAll
)

// eachStatement reads the text statement by statement. read finds the tokens of
// each in r.tokens; they are sound up to the offset limit.
func (r *reader) eachStatement(rules *frameRules, read func(limit int)) {
	fr := framer{rules: rules}
	for {
		tokens := r.tokens[:0] // a local one, as this is the innermost loop
		var t sqltext.Token
		r.scan.Read(&t)
		for rules.client != nil && rules.client(r, t) {
			r.scan.Read(&t)
		}
		for t.Kind != sqltext.EOF && t.Kind < sqltext.BatchEnd {
			tokens = append(tokens, t)
			framed := t.Kw != sqltext.NoKeyword || t.Op == ';' || t.Op == '(' || t.Op == ')' || len(tokens) == 1
			if framed && fr.ends(tokens) && !r.onlyDelimiter(&fr) {
				break
			}
			r.scan.Read(&t)
		}
		r.tokens = tokens
		limit := len(r.src)
		if len(r.scan.Errors) > 0 {
			e := r.scan.Errors[0]
			r.scan.Errors = r.scan.Errors[:0]
			limit = e.Offset
			r.problem(e.Offset, fr.routine, "%s", e.Message)
			read(limit)
			if rules.recover != nil && t.Kind == sqltext.EOF && r.origin == nil {
				if next := rules.recover(r.src, e.Offset); next > 0 {
					r.scan.Skip(next)
					continue
				}
			}
		} else {
			read(limit)
		}
		if t.Kind == sqltext.EOF {
			return
		}
	}
}

// onlyDelimiter reports whether a semicolon does not end the statement at hand.
func (r *reader) onlyDelimiter(f *framer) bool {
	switch f.rules.onlyDelimiter {
	case endsAll:
		return r.scan.CustomDelimiter()
	case endsRoutines:
		return f.routine && r.scan.CustomDelimiter()
	}
	return false
}

// statementCursor is a cursor over the statement at hand, without its semicolon.
func (r *reader) statementCursor() sqltext.Cursor {
	c := sqltext.NewCursor(r.src, r.d.Lexis, r.tokens)
	if n := len(r.tokens); n > 0 && r.tokens[n-1].Kind == sqltext.Punct && r.tokens[n-1].Op == ';' {
		c.Tokens = c.Tokens[:n-1]
	}
	return c
}

// lineAlone finds the next line behind offset on which word stands alone, in any
// case: where the line begins and where it ends, or 0.
func lineAlone(src []byte, offset int, word string) (start, end int) {
	for offset < len(src) {
		i := bytes.IndexByte(src[offset:], '\n')
		if i < 0 {
			return 0, 0
		}
		offset += i + 1
		line := src[offset:]
		if j := bytes.IndexByte(line, '\n'); j >= 0 {
			line = line[:j]
		}
		if bytes.EqualFold(bytes.TrimSpace(line), []byte(word)) {
			return offset, offset + len(line)
		}
	}
	return 0, 0
}

// cutOff reports whether the statement reaches past limit, where the text itself
// is at fault; that has been told then.
func cutOff(c *sqltext.Cursor, limit int) bool {
	n := len(c.Tokens)
	return n > 0 && int(c.Tokens[n-1].End) > limit
}

// cursorOver is a cursor over the tokens of src from offset start up to end.
func cursorOver(src []byte, lex *sqltext.Lexis, start, end int) sqltext.Cursor {
	s := sqltext.NewScanner(src[:end], lex)
	s.Skip(start)
	var tokens []sqltext.Token
	for t := s.Next(); t.Kind != sqltext.EOF; t = s.Next() {
		tokens = append(tokens, t)
	}
	return sqltext.NewCursor(src, lex, tokens)
}

// framer finds the end of a statement whose delimiter is a semicolon: inside
// the body of a routine, a trigger or an event, semicolons part its statements.
type framer struct {
	rules    *frameRules
	macro    bool
	declares bool // between DECLARE and BEGIN
	header   bool // CREATE was the first word and its object is not known yet
	routine  bool
	parens   int
	open     []byte // 'c' for each open CASE, 'b' for each other block
	endAt    int    // index of the last END that closed something
	repeatAt int    // index of a REPEAT that may be a function, or -1
	handler  bool   // inside DECLARE … HANDLER
	until    bool   // inside UNTIL …
}

// ends takes the last of tokens and reports whether the statement ends with it.
// It need be called only for the first token, for keywords, brackets and semicolons.
func (f *framer) ends(tokens []sqltext.Token) bool {
	n := len(tokens) - 1
	t := tokens[n]
	if n == 0 {
		*f = framer{rules: f.rules, header: f.rules.begins[t.Kw] || f.rules.anonymous[t.Kw], endAt: -2, repeatAt: -1, open: f.open[:0]}
		if f.header && f.rules.heads[t.Kw] {
			f.header, f.routine = false, true
		}
		if f.rules.anonymous[t.Kw] {
			f.header, f.routine = false, true
			f.anonymous(t)
		}
		return t.Kind == sqltext.Punct && t.Op == ';'
	}
	if f.repeatAt >= 0 && f.repeatAt < n {
		if next := tokens[f.repeatAt+1]; next.Kind != sqltext.Punct || next.Op != '(' {
			f.open = append(f.open, 'b')
		}
		f.repeatAt = -1
	}
	if t.Kind == sqltext.Punct {
		switch t.Op {
		case '(':
			f.parens++
		case ')':
			f.parens = max(f.parens-1, 0)
		case ';':
			if f.macro && f.parens > 0 {
				return false
			}
			f.handler, f.until = false, false
			f.parens = 0
			if k := len(f.open); k > 0 && f.rules.bareTransaction && tokens[n-1].Kw == sqltext.BEGIN {
				f.open = f.open[:k-1] // a transaction begins
			}
			return len(f.open) == 0
		}
		return false
	}
	if f.header {
		switch {
		case f.rules.heads[t.Kw]:
			f.header, f.routine = false, true
			f.macro = t.Kw == sqltext.MACRO
			return false
		}
		switch t.Kw {
		case sqltext.TABLE, sqltext.VIEW, sqltext.SCHEMA, sqltext.AS, sqltext.SELECT:
			f.header = false
		}
		return false
	}
	prev := tokens[n-1]
	if !f.routine || prev.Kind == sqltext.Punct && prev.Op == '.' {
		return false
	}
	afterEnd := f.endAt == n-1
	switch t.Kw {
	case sqltext.BEGIN:
		if f.declares {
			f.declares = false // its block was opened by DECLARE
			break
		}
		if f.statementStart(prev) || prev.Kw == sqltext.AS {
			f.open = append(f.open, 'b')
		}
	case sqltext.DECLARE:
		if f.rules.sections && f.statementStart(prev) && !f.declares {
			f.open = append(f.open, 'b')
			f.declares = true
		}
	case sqltext.TRANSACTION:
		if k := len(f.open); k > 0 && prev.Kw == sqltext.BEGIN && f.open[k-1] == 'b' {
			f.open = f.open[:k-1] // BEGIN TRANSACTION opens no block
		}
	case sqltext.FOR:
		if f.rules.blocks[t.Kw] && !afterEnd && !f.handler && len(f.open) > 0 && f.statementStart(prev) {
			f.open = append(f.open, 'b')
		}
	case sqltext.IF, sqltext.LOOP, sqltext.WHILE:
		if f.rules.blocks[t.Kw] && !afterEnd && f.statementStart(prev) {
			f.open = append(f.open, 'b')
		}
	case sqltext.REPEAT:
		if f.rules.blocks[t.Kw] && !afterEnd && f.statementStart(prev) {
			f.repeatAt = n
		}
	case sqltext.CASE:
		if !afterEnd {
			f.open = append(f.open, 'c')
		}
	case sqltext.HANDLER:
		f.handler = true
	case sqltext.UNTIL:
		f.until = true
	case sqltext.END:
		if k := len(f.open); k > 0 && (f.rules.endIsReserved || f.open[k-1] == 'c' || f.until || f.statementStart(prev)) {
			f.open = f.open[:k-1]
			f.until = false
			f.endAt = n
		}
	}
	return false
}

// anonymous begins a block that no header stands before.
func (f *framer) anonymous(t sqltext.Token) {
	switch t.Kw {
	case sqltext.DECLARE:
		f.open = append(f.open, 'b')
		f.declares = true
	case sqltext.BEGIN:
		f.open = append(f.open, 'b')
	}
}

// statementStart reports whether a statement can begin behind the token p.
func (f *framer) statementStart(p sqltext.Token) bool {
	if f.parens > 0 {
		return false
	}
	if p.Kind == sqltext.Punct {
		return p.Op == ';' || p.Op == ':' || len(f.open) == 0 && p.Op == ')'
	}
	switch p.Kw {
	case sqltext.BEGIN, sqltext.THEN, sqltext.ELSE, sqltext.DO, sqltext.LOOP, sqltext.REPEAT, sqltext.ATOMIC:
		return true
	case sqltext.PROCEDURE, sqltext.FUNCTION, sqltext.TRIGGER, sqltext.EVENT, sqltext.DROP:
		return false
	}
	return f.handler || len(f.open) == 0
}
