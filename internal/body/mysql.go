package body

import (
	"ramekin/internal/sqlcall"
	"ramekin/internal/sqltext"
)

// mysqlListEnds holds the words that end a select list.
var mysqlListEnds = keywords(sqltext.INTO, sqltext.FROM, sqltext.WHERE, sqltext.GROUP, sqltext.HAVING, sqltext.ORDER,
	sqltext.LIMIT, sqltext.UNION, sqltext.EXCEPT, sqltext.INTERSECT, sqltext.FOR, sqltext.WINDOW)

// mysqlModifiers are the words between SELECT and its list.
var mysqlModifiers = []string{"all", "distinct", "distinctrow", "high_priority", "straight_join", "sql_small_result",
	"sql_big_result", "sql_buffer_result", "sql_no_cache", "sql_cache", "sql_calc_found_rows"}

type mysqlWalker struct{ walker }

// MySQL walks over MySQL statements from the cursor to the end of its tokens.
// Statements are parted by semicolons; those of control flow by their own words.
func MySQL(c *sqltext.Cursor, opts Options) *Body {
	w := &mysqlWalker{walker{Cursor: c, b: &Body{}, opts: opts}}
	for !w.Done() {
		before := w.I
		w.statement()
		if w.I == before {
			w.I++
		}
	}
	w.b.End = w.I
	return w.b
}

func (w *mysqlWalker) statement() {
	t := w.Peek()
	switch t.Kw {
	case sqltext.BEGIN, sqltext.LOOP, sqltext.ELSE:
		w.I++
	case sqltext.REPEAT:
		w.I++
	case sqltext.END: // END IF, END label, END
		w.rest()
	case sqltext.IF, sqltext.ELSEIF:
		w.I++
		w.condition(sqltext.THEN)
	case sqltext.CASE:
		w.I++
		w.condition(sqltext.WHEN)
		w.condition(sqltext.THEN)
	case sqltext.WHEN:
		w.condition(sqltext.THEN)
	case sqltext.WHILE:
		w.I++
		w.condition(sqltext.DO)
	case sqltext.UNTIL:
		w.condition(sqltext.END)
	case sqltext.DECLARE:
		w.declare()
	case sqltext.SELECT, sqltext.WITH, sqltext.TABLE, sqltext.VALUES:
		w.query()
	case sqltext.INSERT, sqltext.REPLACE, sqltext.UPDATE, sqltext.DELETE:
		w.change()
	case sqltext.CALL:
		if c, ok := sqlcall.Parse(w.Cursor); ok {
			w.call(c, false)
		} else {
			w.I++
		}
		w.rest()
	case sqltext.SET:
		w.set()
	case sqltext.FETCH:
		w.I++
		w.until(func(t sqltext.Token) bool { return t.Kw == sqltext.INTO })
		w.into()
		w.rest()
	case sqltext.GET:
		w.diagnostics()
	case sqltext.RETURN:
		w.I++
		w.rest()
	case sqltext.EXECUTE:
		w.b.Dynamic = append(w.b.Dynamic, int(t.Start))
		w.rest()
	case sqltext.SHOW, sqltext.EXPLAIN, sqltext.DESCRIBE, sqltext.DESC, sqltext.ANALYZE, sqltext.CHECK:
		w.b.Results = append(w.b.Results, Result{Offset: int(t.Start)})
		w.rest()
	case sqltext.CREATE, sqltext.ALTER, sqltext.DROP:
		if w.opts.Script {
			w.b.Statements = append(w.b.Statements, Statement{t.Kw, w.I})
		}
		w.rest()
	default:
		switch {
		case t.IsName() && w.Ahead(1).Op == ':' && w.Ahead(1).Kind == sqltext.Punct: // a label
			w.I += 2
		case t.Kind == sqltext.Punct && t.Op == '(':
			w.query()
		case t.Is(w.Src, "checksum"), t.Is(w.Src, "optimize"), t.Is(w.Src, "repair"), t.Is(w.Src, "help"):
			w.b.Results = append(w.b.Results, Result{Offset: int(t.Start)})
			w.rest()
		default:
			w.rest()
		}
	}
}

func (w *mysqlWalker) rest() { w.until(nil) }

// until moves to the semicolon that ends the statement, or to a token outside
// of brackets at which stop is true.
func (w *mysqlWalker) until(stop func(t sqltext.Token) bool) bool {
	depth := 0
	for !w.Done() {
		t := w.Peek()
		switch t.Kind {
		case sqltext.Punct:
			switch t.Op {
			case '(':
				depth++
			case ')':
				depth = max(depth-1, 0)
			case ';':
				return false
			}
		case sqltext.Delimiter:
			return false
		case sqltext.Variable:
			if w.opts.Detail {
				w.use()
			}
		case sqltext.Word:
			if stop != nil && depth == 0 && t.Kw != sqltext.NoKeyword && stop(t) {
				return true
			}
		}
		w.I++
	}
	return false
}

// condition moves behind the word that ends a condition, over CASE expressions
// that have that word inside.
func (w *mysqlWalker) condition(end sqltext.Keyword) {
	cases := 0
	stopped := w.until(func(t sqltext.Token) bool {
		switch {
		case t.Kw == sqltext.CASE:
			cases++
		case cases > 0 && t.Kw == sqltext.END:
			cases--
		case cases == 0 && t.Kw == end:
			return true
		}
		return false
	})
	if stopped {
		w.I++
	}
}

// declare walks over a declaration. The statement of a handler is left to the
// caller, as it can send rows.
func (w *mysqlWalker) declare() {
	first := w.I
	w.I++
	switch t := w.Peek(); {
	case w.Ahead(1).Kw == sqltext.HANDLER:
		w.I += 2
		w.AcceptKw(sqltext.FOR)
		for {
			w.handlerCondition()
			if !w.AcceptOp(',') {
				return
			}
		}
	case w.Ahead(1).Kw == sqltext.CURSOR:
		w.rest()
	case w.opts.Detail && w.opts.Type != nil && t.IsName():
		from := len(w.b.Locals)
		for {
			n := w.Next()
			w.b.Locals = append(w.b.Locals, Local{Name: w.Name(n), Offset: int(n.Start)})
			if !w.AcceptOp(',') {
				break
			}
		}
		typ, _ := w.opts.Type(w.Cursor)
		for i := from; i < len(w.b.Locals); i++ {
			w.b.Locals[i].Type = typ
		}
		w.rest()
	default:
		w.I = first
		w.rest()
	}
}

// handlerCondition passes over SQLSTATE [VALUE] '…', NOT FOUND, a number or a name.
func (w *mysqlWalker) handlerCondition() {
	switch {
	case w.AcceptWord("sqlstate"):
		w.AcceptWord("value")
		w.I++
	case w.AcceptKw(sqltext.NOT):
		w.I++
	default:
		w.I++
	}
}

// query walks over a SELECT, a TABLE or a VALUES statement with all that is
// joined to it. INTO may stand behind the list or at the end.
func (w *mysqlWalker) query() {
	at := w.offset()
	for w.AcceptOp('(') {
	}
	if w.AtKw(sqltext.WITH) {
		w.until(func(t sqltext.Token) bool {
			return t.Kw == sqltext.SELECT || t.Kw == sqltext.UPDATE || t.Kw == sqltext.DELETE || t.Kw == sqltext.INSERT
		})
		if !w.AtKw(sqltext.SELECT) {
			w.rest()
			return
		}
	}
	w.items = w.items[:0]
	if w.Next().Kw == sqltext.SELECT {
		for w.atModifier() {
			w.I++
		}
		w.selectList(func(t sqltext.Token) bool { return mysqlListEnds[t.Kw] })
	}
	mark := len(w.b.Results)
	w.addResult(at, w.columnName)
	for w.until(func(t sqltext.Token) bool { return t.Kw == sqltext.INTO }) {
		w.b.Results = w.b.Results[:mark] // the rows go elsewhere
		w.into()
	}
}

func (w *mysqlWalker) atModifier() bool {
	for _, m := range mysqlModifiers {
		if w.AtWord(m) {
			return true
		}
	}
	return false
}

// into reads the targets behind INTO.
func (w *mysqlWalker) into() {
	if !w.AcceptKw(sqltext.INTO) {
		return
	}
	for t := w.Peek(); t.IsName() || t.Kind == sqltext.Variable; t = w.Peek() {
		w.assign(w.Name(t), int(t.Start))
		w.I++
		if !w.AcceptOp(',') {
			return
		}
	}
}

// columnName names the column of one item of a select list, as the server
// does: the alias, the column, or the text of the expression.
func (w *mysqlWalker) columnName(first, last int) string {
	n := last - first
	end := w.At(last - 1)
	switch {
	case n >= 2 && w.At(last-2).Kw == sqltext.AS:
		return w.label(end)
	case end.Kind == sqltext.Punct && end.Op == '*' && (n == 1 || w.At(last-2).Op == '.'):
		return "*"
	case n >= 3 && w.At(last-2).Op == '.' && w.At(last-2).Kind == sqltext.Punct && end.IsName() && (n == 3 || n == 5):
		return w.Name(end)
	case n == 1:
		return w.label(end)
	case n >= 2 && (end.IsName() && end.Kw == sqltext.NoKeyword || end.Kind == sqltext.String) && w.endsOperand(w.At(last-2)):
		return w.label(end)
	}
	return string(w.Src[w.At(first).Start:end.End])
}

func (w *mysqlWalker) endsOperand(t sqltext.Token) bool {
	switch t.Kind {
	case sqltext.Punct:
		return t.Op == ')'
	case sqltext.Word:
		return t.Kw == sqltext.NoKeyword || t.Kw == sqltext.END || t.Kw == sqltext.NULL
	}
	return true
}

// change walks over INSERT, REPLACE, UPDATE or DELETE; a RETURNING clause
// sends rows.
func (w *mysqlWalker) change() {
	at := w.offset()
	w.I++
	if w.until(func(t sqltext.Token) bool { return t.Kw == sqltext.RETURNING }) {
		w.I++
		w.selectList(func(t sqltext.Token) bool { return mysqlListEnds[t.Kw] })
		w.addResult(at, w.columnName)
	}
	w.rest()
}

// set reads SET a = …, b := ….
func (w *mysqlWalker) set() {
	w.I++
	start, depth := true, 0
	for !w.Done() {
		t := w.Peek()
		op := w.Ahead(1)
		if start && (t.IsName() || t.Kind == sqltext.Variable) && op.Kind == sqltext.Punct && (op.Op == '=' || op.Op == sqltext.OpAssign) {
			w.assign(w.Name(t), int(t.Start))
			w.I += 2
			start = false
			continue
		}
		start = false
		switch {
		case t.Kind == sqltext.Punct && t.Op == '(':
			depth++
		case t.Kind == sqltext.Punct && t.Op == ')':
			depth--
		case t.Kind == sqltext.Punct && t.Op == ',' && depth == 0:
			start = true
		case t.Kind == sqltext.Punct && t.Op == ';', t.Kind == sqltext.Delimiter:
			return
		case t.Kind == sqltext.Variable && w.opts.Detail:
			w.use()
		}
		w.I++
	}
}

// diagnostics reads GET DIAGNOSTICS … name = ITEM, ….
func (w *mysqlWalker) diagnostics() {
	w.I++
	for !w.Done() && !w.AtOp(';') {
		if t := w.Peek(); t.IsName() && w.Ahead(1).Op == '=' {
			w.assign(w.Name(t), int(t.Start))
		}
		w.I++
	}
}
