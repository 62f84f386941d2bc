package body

import (
	"strings"

	"ramekin/internal/sqlcall"
	"ramekin/internal/sqltext"
)

// tsqlStarts holds the reserved words that begin a Transact-SQL statement.
// Statements need no end mark, so these words are where one ends and the next
// begins.
var tsqlStarts = keywords(sqltext.SELECT, sqltext.INSERT, sqltext.UPDATE, sqltext.DELETE, sqltext.MERGE, sqltext.SET,
	sqltext.DECLARE, sqltext.IF, sqltext.ELSE, sqltext.WHILE, sqltext.BEGIN, sqltext.END, sqltext.RETURN, sqltext.EXEC,
	sqltext.EXECUTE, sqltext.PRINT, sqltext.RAISERROR, sqltext.FETCH, sqltext.OPEN, sqltext.CLOSE, sqltext.DEALLOCATE,
	sqltext.CREATE, sqltext.ALTER, sqltext.DROP, sqltext.TRUNCATE, sqltext.COMMIT, sqltext.ROLLBACK, sqltext.SAVE,
	sqltext.WAITFOR, sqltext.GOTO, sqltext.BREAK, sqltext.CONTINUE, sqltext.USE, sqltext.GRANT, sqltext.DENY,
	sqltext.REVOKE, sqltext.KILL, sqltext.BULK)

// The words that end a select list, and an OUTPUT list.
var (
	tsqlListEnds = keywords(sqltext.INTO, sqltext.FROM, sqltext.WHERE, sqltext.GROUP, sqltext.HAVING, sqltext.ORDER,
		sqltext.UNION, sqltext.EXCEPT, sqltext.INTERSECT, sqltext.FOR, sqltext.OPTION)
	tsqlOutputEnds = keywords(sqltext.INTO, sqltext.FROM, sqltext.WHERE, sqltext.VALUES, sqltext.DEFAULT, sqltext.OPTION,
		sqltext.OUTPUT, sqltext.WITH)
)

// The names that the server gives to the one column of FOR XML and FOR JSON.
const (
	forXMLColumn  = "XML_F52E2B61-18A1-11d1-B105-00805F49916B"
	forJSONColumn = "JSON_F52E2B61-18A1-11d1-B105-00805F49916B"
)

type tsqlWalker struct {
	walker
	cursors []cursorDecl
	// paths says what is assigned on the way to the statement at hand.
	paths paths
	// tried is the TRY block that ended last, for the CATCH behind it.
	tried frame
	// unfinished is set behind a word that another statement belongs to.
	unfinished bool
}

// cursorDecl is a declared cursor and the token after its SELECT.
type cursorDecl struct {
	name string
	list int
}

// TSQL walks over Transact-SQL statements from the cursor to the end of the
// batch, or to a CREATE PROCEDURE or FUNCTION that begins inside it.
func TSQL(c *sqltext.Cursor, opts Options) *Body {
	w := &tsqlWalker{walker: walker{Cursor: c, b: &Body{}, opts: opts}}
	w.paths.outputs = opts.Outputs
	w.assigned = w.paths.assign
	for !w.Done() {
		before := w.I
		w.unfinished = false
		if !w.statement() {
			break
		}
		if w.I == before {
			w.I++
		}
		if !w.unfinished {
			w.endSingle()
		}
	}
	w.paths.finish(w.b, int(w.Peek().Start))
	w.b.End = w.I
	return w.b
}

// endSingle ends the IF and WHILE that govern the statement that was just read.
func (w *tsqlWalker) endSingle() {
	for w.paths.topSingle() {
		i := w.I
		for w.At(i).Kind == sqltext.Punct && w.At(i).Op == ';' {
			i++
		}
		if w.At(i).Kw == sqltext.ELSE && w.paths.topIf() {
			return
		}
		w.paths.pop()
	}
}

// begin walks over what stands behind BEGIN.
func (w *tsqlWalker) begin() {
	switch w.Peek().Kw {
	case sqltext.TRAN, sqltext.TRANSACTION, sqltext.DISTRIBUTED, sqltext.DIALOG, sqltext.CONVERSATION:
		w.rest()
		return
	case sqltext.CATCH: // what TRY assigned may not have been
		w.I++
		after := w.paths.now
		w.paths.now = w.tried.entry
		w.paths.push(blockFrame, "")
		w.paths.top().meet(after)
	case sqltext.ATOMIC:
		w.I++
		if w.AcceptKw(sqltext.WITH) {
			w.SkipParens()
		}
		w.paths.push(blockFrame, "")
	default:
		w.AcceptKw(sqltext.TRY)
		w.paths.push(blockFrame, "")
	}
	w.unfinished = true
}

// end walks over what stands behind END.
func (w *tsqlWalker) end() {
	if w.AtKw(sqltext.CONVERSATION) {
		w.rest()
		return
	}
	if f := w.paths.top(); f != nil && w.AtKw(sqltext.TRY) {
		w.tried = *f
		w.unfinished = true // CATCH follows
	}
	w.paths.pop()
	if w.AtKw(sqltext.TRY) || w.AtKw(sqltext.CATCH) {
		w.I++
	}
}

// AtRoutine reports whether CREATE or ALTER of a procedure or function begins
// at the cursor.
func AtRoutine(c *sqltext.Cursor) bool {
	switch c.Peek().Kw {
	case sqltext.CREATE, sqltext.ALTER:
	default:
		return false
	}
	i := 1
	if c.Ahead(i).Kw == sqltext.OR {
		i += 2
	}
	k := c.Ahead(i).Kw
	return k == sqltext.PROC || k == sqltext.PROCEDURE || k == sqltext.FUNCTION
}

// statement walks over one statement, or over a word of control flow. It
// returns false where the body ends before the batch does.
func (w *tsqlWalker) statement() bool {
	t := w.Peek()
	switch t.Kw {
	case sqltext.BEGIN:
		w.I++
		w.begin()
	case sqltext.END:
		w.I++
		w.end()
	case sqltext.IF, sqltext.WHILE:
		w.I++
		kind := ifFrame
		if t.Kw == sqltext.WHILE {
			kind = loopFrame
		}
		w.paths.push(kind, "")
		w.paths.single(true)
		w.unfinished = true
		w.rest()
	case sqltext.ELSE:
		w.I++
		w.paths.branch(true)
		w.unfinished = true
	case sqltext.BREAK:
		w.I++
		w.paths.leaveTo("", false)
		w.rest()
	case sqltext.CONTINUE, sqltext.THROW:
		w.I++
		w.paths.leave()
		w.rest()
	case sqltext.GOTO:
		w.paths.unknown = true
		w.rest()
	case sqltext.RETURN:
		w.returns()
	case sqltext.SELECT:
		w.query(true)
	case sqltext.WITH:
		w.commonTables()
	case sqltext.INSERT, sqltext.UPDATE, sqltext.DELETE, sqltext.MERGE:
		w.change()
	case sqltext.EXEC, sqltext.EXECUTE:
		if c, ok := sqlcall.Parse(w.Cursor); ok {
			w.call(c, false)
			if w.opts.Detail {
				w.usesOf(c)
			}
		} else {
			w.I++
		}
		w.rest()
	case sqltext.DECLARE:
		w.declare()
	case sqltext.SET:
		w.set()
	case sqltext.FETCH:
		w.fetch()
	case sqltext.GRANT, sqltext.DENY, sqltext.REVOKE:
		w.I++
		for !w.Done() && !w.AtKw(sqltext.ON) && !w.AtOp(';') {
			w.I++
		}
		w.rest()
	case sqltext.CREATE, sqltext.ALTER, sqltext.DROP:
		if AtRoutine(w.Cursor) {
			return false
		}
		if w.opts.Script {
			w.b.Statements = append(w.b.Statements, Statement{t.Kw, w.I})
		}
		k := w.Ahead(1).Kw
		if t.Kw != sqltext.DROP && (k == sqltext.VIEW || k == sqltext.TRIGGER || w.Ahead(1).Kw == sqltext.OR) {
			w.I = len(w.Tokens) // alone in its batch; its SELECT sends nothing now
			return true
		}
		w.I++
		w.rest()
	case sqltext.BULK:
		w.I += 2
		w.rest()
	case sqltext.RECEIVE:
		w.receive()
	default:
		if t.Kind == sqltext.Punct && t.Op == '(' && w.bracketedQuery() {
			w.query(true)
			return true
		}
		if t.Kind == sqltext.Punct && t.Op == '{' && sqlcall.AtCall(w.Cursor) {
			c, _ := sqlcall.Parse(w.Cursor)
			w.call(c, false)
			return true
		}
		w.I++
		if t.Kind != sqltext.Punct {
			w.rest()
		}
		w.unfinished = t.Kind == sqltext.Punct || w.At(w.I-1).Op == ':' // between statements, or a label
	}
	return true
}

// bracketedQuery reports whether the bracket here opens a query.
func (w *tsqlWalker) bracketedQuery() bool {
	const deepest = 100 // no query has more brackets before it
	i := 0
	for i < deepest && w.Ahead(i).Op == '(' && w.Ahead(i).Kind == sqltext.Punct {
		i++
	}
	return w.Ahead(i).Kw == sqltext.SELECT
}

// rest moves to the end of the statement: a semicolon, or a word that begins
// another one.
func (w *tsqlWalker) rest() { w.until(nil) }

// until moves on to the end of the statement, or to a token outside of
// brackets at which stop is true.
func (w *tsqlWalker) until(stop func(t sqltext.Token) bool) bool {
	depth, cases := 0, 0
	afterOffset := false
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
				if depth == 0 {
					return false
				}
			}
		case sqltext.BatchEnd:
			return false
		case sqltext.Variable:
			if w.opts.Detail {
				w.use()
			}
		case sqltext.Word:
			if t.Kw == sqltext.NoKeyword || depth > 0 {
				break
			}
			switch {
			case t.Kw == sqltext.CASE:
				cases++
			case cases > 0:
				if t.Kw == sqltext.END {
					cases--
				}
			case stop != nil && stop(t):
				return true
			case t.Kw == sqltext.OFFSET:
				afterOffset = true
			case t.Kw == sqltext.FETCH && afterOffset:
				afterOffset = false
			case t.Kw == sqltext.WITH:
				if w.atCommonTable() {
					return false
				}
			case t.Kw == sqltext.IF && w.Ahead(1).Kw == sqltext.EXISTS && w.Ahead(2).Op != '(':
				w.I++ // DROP … IF EXISTS name
			case tsqlStarts[t.Kw], t.Kw == sqltext.THROW && w.throws():
				return false
			}
		}
		w.I++
	}
	return false
}

// throws reports whether THROW, which is no reserved word, is a statement here.
func (w *tsqlWalker) throws() bool {
	next := w.Ahead(1)
	return next.Kind == sqltext.Number || next.Kind == sqltext.Variable || next.Kind == sqltext.EOF || next.Kw == sqltext.END ||
		next.Kind == sqltext.Punct && next.Op == ';'
}

// atCommonTable reports whether WITH begins a common table expression and is
// not a hint or an option.
func (w *tsqlWalker) atCommonTable() bool {
	if w.Ahead(1).Is(w.Src, "xmlnamespaces") {
		return true
	}
	if !w.Ahead(1).IsName() {
		return false
	}
	i := 2
	if w.Ahead(i).Op == '(' && w.Ahead(i).Kind == sqltext.Punct {
		for depth := 0; w.I+i < len(w.Tokens); i++ {
			if t := w.Ahead(i); t.Kind == sqltext.Punct && t.Op == '(' {
				depth++
			} else if t.Kind == sqltext.Punct && t.Op == ')' {
				if depth--; depth == 0 {
					i++
					break
				}
			}
		}
	}
	return w.Ahead(i).Kw == sqltext.AS
}

func (w *tsqlWalker) returns() {
	at := w.offset()
	w.I++
	defer w.paths.exit(w.b, at)
	t := w.Peek()
	if t.Kind == sqltext.EOF || t.Kind == sqltext.BatchEnd || t.Kind == sqltext.Punct && t.Op == ';' || tsqlStarts[t.Kw] && t.Kind == sqltext.Word {
		return
	}
	if next := w.Ahead(1); t.Kind == sqltext.Word && next.Kind == sqltext.Punct && next.Op == ':' {
		return // a label on the next line
	}
	if w.opts.Function {
		w.rest()
		return
	}
	code, constant := w.constantReturn()
	if constant {
		n := w.Peek()
		// An operator behind the number makes it an expression.
		if n.Kind == sqltext.Punct && n.Op != ';' {
			constant = false
		}
	}
	w.b.Returns = append(w.b.Returns, Return{at, code, constant})
	if !constant {
		w.rest()
	}
}

// query walks over a SELECT with whatever UNION joins to it. The rows go to
// the caller where sends is true and the query neither assigns nor stores.
func (w *tsqlWalker) query(sends bool) {
	at := w.offset()
	for w.AcceptOp('(') {
	}
	w.I++ // SELECT
	w.listPrefix()
	if w.Peek().Kind == sqltext.Variable && w.isAssignment(w.Ahead(1)) {
		w.assignments()
		sends = false
	} else {
		w.selectList(func(t sqltext.Token) bool { return tsqlListEnds[t.Kw] || tsqlStarts[t.Kw] })
	}
	result := -1
	if sends && !w.AtKw(sqltext.INTO) {
		result = len(w.b.Results)
		w.addResult(at, w.columnName)
	}
	// INTO of the first SELECT alone decides; the rest is passed over.
	for {
		stopped := w.until(func(t sqltext.Token) bool {
			return t.Kw == sqltext.UNION || t.Kw == sqltext.EXCEPT || t.Kw == sqltext.INTERSECT || t.Kw == sqltext.FOR
		})
		if !stopped {
			break
		}
		if w.AcceptKw(sqltext.FOR) {
			if result >= 0 && w.AtWord("xml") {
				w.b.Results[result].Columns = []string{forXMLColumn}
			} else if result >= 0 && w.AtWord("json") {
				w.b.Results[result].Columns = []string{forJSONColumn}
			}
			w.I++
			continue
		}
		w.I++
		w.AcceptWord("all")
		for w.AcceptOp('(') {
		}
		w.AcceptKw(sqltext.SELECT)
	}
}

// listPrefix passes over ALL, DISTINCT and TOP.
func (w *tsqlWalker) listPrefix() {
	for w.AcceptWord("all") || w.AcceptKw(sqltext.DISTINCT) {
	}
	if w.AtKw(sqltext.TOP) {
		w.I++
		if !w.SkipParens() {
			w.I++
		}
		w.AcceptWord("percent")
		if w.AtKw(sqltext.WITH) && w.Ahead(1).Is(w.Src, "ties") {
			w.I += 2
		}
	}
}

func (w *tsqlWalker) isAssignment(op sqltext.Token) bool {
	return op.Kind == sqltext.Punct && (op.Op == '=' || op.Op == sqltext.OpCompound)
}

// assignments reads @a = …, @b = … of a SELECT.
func (w *tsqlWalker) assignments() {
	depth, cases, start := 0, 0, true
	for !w.Done() {
		t := w.Peek()
		if start && t.Kind == sqltext.Variable && w.isAssignment(w.Ahead(1)) {
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
		case t.Kind == sqltext.Punct && t.Op == ',' && depth == 0 && cases == 0:
			start = true
		case t.Kind == sqltext.Punct && t.Op == ';' && depth <= 0, t.Kind == sqltext.BatchEnd:
			return
		case t.Kind == sqltext.Variable:
			if w.opts.Detail {
				w.use()
			}
		case t.Kw == sqltext.CASE:
			cases++
		case t.Kw == sqltext.END && cases > 0:
			cases--
		case depth == 0 && cases == 0 && (tsqlListEnds[t.Kw] || tsqlStarts[t.Kw]):
			return
		}
		w.I++
	}
}

// columnName names the column of one item of a select list, as the server does.
func (w *tsqlWalker) columnName(first, last int) string {
	n := last - first
	t, end := w.At(first), w.At(last-1)
	if n >= 3 && w.At(first+1).Op == '=' && w.At(first+1).Kind == sqltext.Punct && (t.IsName() || t.Kind == sqltext.String) {
		return w.label(t)
	}
	if n >= 2 && w.At(last-2).Kw == sqltext.AS {
		return w.label(end)
	}
	for i := first; i < last-1; i++ {
		if w.At(i).Kw == sqltext.COLLATE { // a column keeps its name
			return w.columnName(first, i)
		}
	}
	isPath := true // name.name.name
	for i := first; i < last; i++ {
		tok := w.At(i)
		wantName := (i-first)%2 == 0
		if wantName && !tok.IsName() && !(tok.Op == '*' && i == last-1) || !wantName && tok.Op != '.' {
			isPath = false
			break
		}
	}
	switch {
	case end.Kind == sqltext.Punct && end.Op == '*':
		return "*"
	case isPath:
		if n == 1 && end.Kw == sqltext.NULL {
			return ""
		}
		return w.Name(end)
	case n >= 2 && (end.IsName() && end.Kw == sqltext.NoKeyword || end.Kind == sqltext.String) && w.endsOperand(w.At(last-2)):
		return w.label(end) // an alias without AS
	}
	return ""
}

// endsOperand reports whether an expression can end with t, so that a name
// behind it is an alias.
func (w *tsqlWalker) endsOperand(t sqltext.Token) bool {
	switch t.Kind {
	case sqltext.Punct:
		return t.Op == ')'
	case sqltext.Word:
		return t.Kw == sqltext.NoKeyword || t.Kw == sqltext.END || t.Kw == sqltext.NULL || t.Kw == sqltext.LEFT || t.Kw == sqltext.RIGHT
	}
	return true
}

// commonTables walks over WITH name AS (…), … and the statement behind it.
func (w *tsqlWalker) commonTables() {
	if !w.atCommonTable() {
		w.I++
		w.rest()
		return
	}
	w.I++
	for !w.Done() && !w.AtOp(';') {
		switch k := w.Peek().Kw; k {
		case sqltext.SELECT:
			w.query(true)
			return
		case sqltext.INSERT, sqltext.UPDATE, sqltext.DELETE, sqltext.MERGE:
			w.change()
			return
		}
		if w.AtOp('(') {
			w.SkipParens()
			continue
		}
		w.I++
	}
}

// change walks over INSERT, UPDATE, DELETE or MERGE, whose OUTPUT clause sends
// rows unless it stores them.
func (w *tsqlWalker) change() {
	at := w.offset()
	kind := w.Next().Kw
	ownsSelect, ownsSet := kind == sqltext.INSERT, kind == sqltext.UPDATE
	merge := kind == sqltext.MERGE
	for {
		stopped := w.until(func(t sqltext.Token) bool {
			switch t.Kw {
			case sqltext.OUTPUT:
				return true
			case sqltext.SELECT, sqltext.EXEC, sqltext.EXECUTE, sqltext.WITH:
				return ownsSelect && (t.Kw != sqltext.WITH || w.atCommonTable())
			case sqltext.SET, sqltext.INSERT, sqltext.UPDATE, sqltext.DELETE:
				return merge || ownsSet && t.Kw == sqltext.SET
			case sqltext.DEFAULT, sqltext.VALUES:
				ownsSelect = false
			}
			return false
		})
		if !stopped {
			return
		}
		switch k := w.Peek().Kw; k {
		case sqltext.OUTPUT:
			w.I++
			w.selectList(func(t sqltext.Token) bool { return tsqlOutputEnds[t.Kw] || tsqlStarts[t.Kw] })
			if !w.AtKw(sqltext.INTO) {
				w.addResult(at, w.columnName)
			}
		case sqltext.SELECT:
			w.query(false)
			return
		case sqltext.WITH:
			ownsSelect = true
			w.I++
		case sqltext.EXEC, sqltext.EXECUTE:
			c, ok := sqlcall.Parse(w.Cursor)
			if !ok {
				w.I++
				continue
			}
			w.call(c, true)
			if w.opts.Detail {
				w.usesOf(c)
			}
			w.rest()
			return
		case sqltext.SET:
			ownsSet = false
			w.I++
			if w.Peek().Kind == sqltext.Variable && w.isAssignment(w.Ahead(1)) {
				w.assign(w.Name(w.Peek()), w.offset())
			}
		default:
			w.I++
		}
	}
}

// usesOf notes the variables that a call's inputs read.
func (w *tsqlWalker) usesOf(c sqlcall.Call) {
	end := w.I
	for i := end - 1; i >= 0 && int(w.At(i).Start) >= c.NameEnd; i-- {
		if w.At(i).Kind == sqltext.Variable && int(w.At(i).Start) > c.NameEnd && w.At(i+1).Op != '=' {
			k := w.At(i + 1).Kw
			if k == sqltext.OUT || k == sqltext.OUTPUT {
				continue
			}
			w.b.Uses = append(w.b.Uses, Use{Name: w.Name(w.At(i)), Offset: int(w.At(i).Start)})
		}
	}
}

func (w *tsqlWalker) declare() {
	w.I++
	for !w.Done() {
		t := w.Peek()
		if t.Kind != sqltext.Variable {
			w.cursorQuery(w.Name(t))
			return
		}
		w.I++
		w.AcceptKw(sqltext.AS)
		if w.AtKw(sqltext.TABLE) {
			w.I++
			w.SkipParens()
		} else if w.AtKw(sqltext.CURSOR) {
			w.I++
		} else if w.opts.Detail && w.opts.Type != nil {
			if typ, ok := w.opts.Type(w.Cursor); ok {
				w.b.Locals = append(w.b.Locals, Local{w.Name(t), typ, int(t.Start)})
			}
		}
		if !w.pastComma() {
			return
		}
	}
}

// pastComma moves behind the next comma outside of brackets and returns true,
// or to the end of the statement and returns false.
func (w *tsqlWalker) pastComma() bool {
	depth, cases := 0, 0
	for !w.Done() {
		t := w.Peek()
		switch {
		case t.Kind == sqltext.Punct && t.Op == '(':
			depth++
		case t.Kind == sqltext.Punct && t.Op == ')':
			depth--
		case t.Kind == sqltext.Punct && depth == 0 && cases == 0 && t.Op == ',':
			w.I++
			return true
		case t.Kind == sqltext.Punct && depth <= 0 && t.Op == ';', t.Kind == sqltext.BatchEnd:
			return false
		case t.Kind == sqltext.Variable && w.opts.Detail:
			w.use()
		case t.Kw == sqltext.CASE:
			cases++
		case t.Kw == sqltext.END && cases > 0:
			cases--
		case depth == 0 && cases == 0 && t.Kind == sqltext.Word && (tsqlStarts[t.Kw] || t.Kw == sqltext.WITH && w.atCommonTable()):
			return false
		}
		w.I++
	}
	return false
}

// cursorQuery walks over the query behind FOR, whose rows stay in the cursor.
func (w *tsqlWalker) cursorQuery(name string) {
	if !w.until(func(t sqltext.Token) bool { return t.Kw == sqltext.FOR }) {
		return
	}
	w.I++
	if w.AtKw(sqltext.WITH) && w.atCommonTable() {
		for !w.Done() && !w.AtKw(sqltext.SELECT) {
			if !w.SkipParens() {
				w.I++
			}
		}
	}
	if w.AtKw(sqltext.SELECT) {
		w.cursors = append(w.cursors, cursorDecl{name, w.I + 1})
		w.query(false)
	}
	w.rest()
}

func (w *tsqlWalker) set() {
	w.I++
	if t := w.Peek(); t.Kind == sqltext.Variable {
		w.I++
		if w.isAssignment(w.Peek()) {
			w.assign(w.Name(t), int(t.Start))
			w.I++
		}
		if w.AtKw(sqltext.CURSOR) {
			w.cursorQuery(w.Name(t))
			return
		}
	}
	w.rest()
}

// fetch walks over FETCH, which sends its row where it has no INTO.
func (w *tsqlWalker) fetch() {
	at := w.offset()
	w.I++
	name := ""
	stopped := w.until(func(t sqltext.Token) bool { return t.Kw == sqltext.INTO })
	if !stopped {
		if prev := w.At(w.I - 1); prev.IsName() || prev.Kind == sqltext.Variable {
			name = w.Name(prev)
		}
		end := w.I
		w.items = w.items[:0]
		for _, cur := range w.cursors {
			if strings.EqualFold(cur.name, name) {
				w.I = cur.list
				w.listPrefix()
				w.selectList(func(t sqltext.Token) bool { return tsqlListEnds[t.Kw] || tsqlStarts[t.Kw] })
			}
		}
		w.I = end
		w.addResult(at, w.columnName)
		return
	}
	w.I++
	for w.Peek().Kind == sqltext.Variable {
		t := w.Next()
		w.assign(w.Name(t), int(t.Start))
		if !w.AcceptOp(',') {
			break
		}
	}
	w.rest()
}

// receive walks over RECEIVE, which takes messages from a queue as SELECT does.
func (w *tsqlWalker) receive() {
	at := w.offset()
	w.I++
	w.listPrefix()
	if w.Peek().Kind == sqltext.Variable && w.isAssignment(w.Ahead(1)) {
		w.assignments()
		w.rest()
		return
	}
	w.selectList(func(t sqltext.Token) bool { return tsqlListEnds[t.Kw] || tsqlStarts[t.Kw] })
	mark := len(w.b.Results)
	w.addResult(at, w.columnName)
	if w.until(func(t sqltext.Token) bool { return t.Kw == sqltext.INTO }) {
		w.b.Results = w.b.Results[:mark]
		w.I++
		w.rest()
	}
}

// TSQLColumns reads the query at the cursor, in brackets or behind common table
// expressions, and returns the names of its columns.
func TSQLColumns(c *sqltext.Cursor) []string {
	w := &tsqlWalker{walker: walker{Cursor: c, b: &Body{}}}
	for w.AcceptOp('(') {
	}
	if w.AtKw(sqltext.WITH) {
		for !w.Done() && !w.AtKw(sqltext.SELECT) {
			if !w.SkipParens() {
				w.I++
			}
		}
	}
	if !w.AtKw(sqltext.SELECT) {
		return nil
	}
	w.I++
	w.listPrefix()
	w.selectList(func(t sqltext.Token) bool { return tsqlListEnds[t.Kw] || tsqlStarts[t.Kw] })
	var names []string
	for _, it := range w.items {
		names = append(names, w.columnName(it[0], it[1]))
	}
	return names
}
