package sqlcall

import (
	"strings"

	"ramekin/internal/sqltext"
)

// Expressions returns the names with arguments that stand where a value or rows
// are wanted: SELECT f(…), FROM f(…), :x := f(…). Built-in functions are left
// out. Statements that declare something are not looked at.
func Expressions(src []byte, lex *sqltext.Lexis) []Call { return expressions(cursorOver(src, lex)) }

func expressions(c sqltext.Cursor) []Call {
	var calls []Call
	declares := false
	for !c.Done() {
		t := c.Peek()
		if t.Kind == sqltext.Punct && t.Op == ';' || t.Kind == sqltext.BatchEnd || t.Kind == sqltext.Delimiter {
			declares = false
			c.I++
			continue
		}
		if beginsStatement(&c) {
			declares = declaring(&c)
		}
		if declares || !t.IsName() || c.I > 0 && c.At(c.I-1).Kind == sqltext.Punct && c.At(c.I-1).Op == '.' {
			c.I++
			continue
		}
		call, ok := expressionAt(&c)
		if !ok {
			c.I++
			continue
		}
		calls = append(calls, call)
	}
	return calls
}

func cursorOver(src []byte, lex *sqltext.Lexis) sqltext.Cursor {
	s := sqltext.NewScanner(src, lex)
	var tokens []sqltext.Token
	for t := s.Next(); t.Kind != sqltext.EOF; t = s.Next() {
		tokens = append(tokens, t)
	}
	return sqltext.NewCursor(src, lex, tokens)
}

func beginsStatement(c *sqltext.Cursor) bool {
	if c.I == 0 {
		return true
	}
	t := c.At(c.I - 1)
	return t.Kind == sqltext.Punct && t.Op == ';' || t.Kind == sqltext.BatchEnd || t.Kind == sqltext.Delimiter
}

func declaring(c *sqltext.Cursor) bool {
	switch c.Peek().Kw {
	case sqltext.CREATE, sqltext.ALTER, sqltext.DROP, sqltext.GRANT:
		return true
	}
	for _, w := range []string{"revoke", "comment", "truncate", "vacuum", "analyze", "reindex"} {
		if c.Peek().Is(c.Src, w) {
			return true
		}
	}
	return false
}

// expressionAt reads name(…) at the cursor where it is a function in the place
// of a value. It leaves the cursor behind the opening bracket, so that calls
// among the arguments are found too; without one it does not move.
func expressionAt(c *sqltext.Cursor) (Call, bool) {
	start := c.I
	before := sqltext.Token{}
	if start > 0 {
		before = c.At(start - 1)
	}
	call := Call{Start: int(c.Peek().Start), Verb: "expression"}
	quoted := c.Peek().Kind == sqltext.QuotedName
	if !call.readName(c) || !c.AtOp('(') || len(call.Name) == 0 {
		c.I = start
		return Call{}, false
	}
	open := c.I
	last := call.Name[len(call.Name)-1]
	if len(call.Name) == 1 && !quoted && (c.At(open-1).Kw != sqltext.NoKeyword || IsBuiltIn(last)) || !wantsValue(c, before, start) {
		c.I = start
		return Call{}, false
	}
	call.Parenthesised = true
	call.Arguments = bracketed(c)
	call.End = int(c.At(c.I - 1).End)
	if isTableHint(call.Arguments) {
		c.I = start
		return Call{}, false
	}
	if before.Kind == sqltext.Punct && (before.Op == sqltext.OpAssign || before.Op == '=' && !c.Lex.ColonNames) && start >= 2 {
		if target := c.At(start - 2); target.Kind == sqltext.Placeholder || target.Kind == sqltext.Variable || target.IsName() && before.Op == sqltext.OpAssign {
			call.Return, call.ReturnStart = c.Text(target), int(target.Start)
			call.ReturnIsVariable = target.Kind != sqltext.Placeholder
		}
	}
	c.I = open + 1
	return call, true
}

// wantsValue reports whether a value or rows are wanted behind the token before
// the name at index at.
func wantsValue(c *sqltext.Cursor, before sqltext.Token, at int) bool {
	if before.Kind == sqltext.Punct {
		switch before.Op {
		case ')', '.', '}', ';', ':':
			return false
		case ',', '(':
			return !inColumnList(c, at)
		}
		return true
	}
	if before.Kind != sqltext.Word {
		return false
	}
	switch strings.ToLower(c.Text(before)) {
	case "select", "distinct", "all", "where", "and", "or", "not", "on", "when", "then", "else", "between", "like", "by", "having", "return", "print", "set",
		"do", "values", "lateral", "if", "while", "until", "case", "in", "is", "from", "join", "apply", "using", "elseif", "elsif", "top", "limit", "offset", "returning", "with_", "any", "some":
		return true
	}
	return false
}

// inColumnList reports whether the bracket around the token at index at holds
// names of columns or the definition of a table: INSERT INTO t (…), t (…) AS.
func inColumnList(c *sqltext.Cursor, at int) bool {
	depth := 0
	for i := at - 1; i >= 0 && at-i < 2000; i-- {
		t := c.At(i)
		if t.Kind != sqltext.Punct {
			continue
		}
		switch t.Op {
		case ')':
			depth++
		case ';':
			return false
		case '(':
			if depth--; depth >= 0 {
				continue
			}
			for k := i - 1; k >= 0 && i-k < 8; k-- {
				switch w := c.At(k); {
				case w.Is(c.Src, "into"), w.Is(c.Src, "table"), w.Is(c.Src, "references"):
					return w.Is(c.Src, "into") || k == 0 || c.At(k-1).Kw != sqltext.FROM && !c.At(k-1).Is(c.Src, "join") && c.At(k+1).Op != '('
				case w.IsName() && w.Kw == sqltext.NoKeyword && !IsBuiltIn(c.Text(w)), w.Kind == sqltext.Punct && w.Op == '.':
					continue
				}
				break
			}
			return false
		}
	}
	return false
}

// isTableHint tells FROM t (NOLOCK) from a function with arguments.
func isTableHint(args []Argument) bool {
	for _, a := range args {
		switch strings.ToLower(a.Text) {
		case "nolock", "readpast", "updlock", "holdlock", "tablock", "tablockx", "rowlock", "xlock", "readuncommitted", "readcommitted", "serializable", "paglock", "nowait", "snapshot":
			continue
		}
		return false
	}
	return len(args) > 0
}

// blockWords begin the statements of a block that call no routine.
var blockWords = wordSet(`begin declare end if elsif elseif else then case when loop while for repeat until open close fetch select insert update delete
	merge execute exec call return raise exit continue leave iterate goto commit rollback savepoint set lock null print with use throw waitfor truncate create alter drop
	values pragma exception exceptions forall perform assert get signal resignal start suspend grant revoke explain describe analyze procedure function cursor type as is in out
	declare_ variable language do let`)

func wordSet(words string) map[string]bool {
	set := map[string]bool{}
	for _, w := range strings.Fields(words) {
		set[w] = true
	}
	return set
}

// Block returns the calls that are statements of a block of their own: BEGIN
// pkg.proc(…); END. It finds none in a text that is no block.
func Block(src []byte, lex *sqltext.Lexis) []Call { return block(cursorOver(src, lex)) }

func block(c sqltext.Cursor) []Call {
	if !isBlock(&c) {
		return nil
	}
	var calls []Call
	statement, declared := false, c.Peek().Kw == sqltext.DECLARE
	for !c.Done() {
		t := c.Peek()
		if statement && t.IsName() && !(t.Kind == sqltext.Word && blockWords[strings.ToLower(c.Text(t))]) && !declared {
			at := c.I
			if call, ok := ParseBare(&c); ok && (call.Parenthesised || c.AtOp(';')) && (c.AtOp(';') || c.Done()) {
				calls = append(calls, call)
				statement = false
				continue
			}
			c.I = at
		}
		if t.Kw == sqltext.BEGIN {
			declared = false
		}
		statement = t.Kind == sqltext.Punct && t.Op == ';' || t.Kw == sqltext.BEGIN || t.Kw == sqltext.THEN || t.Kw == sqltext.ELSE || t.Is(c.Src, "loop")
		c.I++
	}
	return calls
}

// isBlock reports whether a text is a block: it begins with BEGIN or DECLARE
// and its statements are parted by semicolons.
func isBlock(c *sqltext.Cursor) bool {
	first := c.Peek()
	if first.Kw != sqltext.BEGIN && first.Kw != sqltext.DECLARE {
		return false
	}
	if n := c.Ahead(1); n.Kind == sqltext.Variable || n.Is(c.Src, "tran") || n.Is(c.Src, "transaction") || n.Is(c.Src, "work") || n.Kind == sqltext.Punct && n.Op == ';' {
		return false
	}
	for i := len(c.Src) - 1; i >= 0; i-- { // a block ends in END
		if b := c.Src[i]; b == ' ' || b == '\n' || b == '\r' || b == '\t' || b == ';' || b == '/' {
			continue
		}
		return i >= 2 && strings.EqualFold(string(c.Src[i-2:i+1]), "end") || first.Kw == sqltext.BEGIN
	}
	return false
}
