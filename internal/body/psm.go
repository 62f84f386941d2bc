package body

import (
	"strings"

	"ramekin/internal/sqlcall"
	"ramekin/internal/sqltext"
)

// psmListEnds holds the words that end a select list.
var psmListEnds = keywords(sqltext.INTO, sqltext.FROM, sqltext.WHERE, sqltext.GROUP, sqltext.HAVING, sqltext.ORDER,
	sqltext.LIMIT, sqltext.UNION, sqltext.EXCEPT, sqltext.INTERSECT, sqltext.FOR, sqltext.WINDOW)

// psmModifiers are the words between SELECT and its list.
var psmModifiers = []string{"all", "distinct", "distinctrow", "high_priority", "straight_join", "sql_small_result",
	"sql_big_result", "sql_buffer_result", "sql_no_cache", "sql_cache", "sql_calc_found_rows"}

type psmWalker struct {
	walker
	p *Profile
	// paths says what is assigned on the way to the statement at hand.
	paths paths
	// section is set between DECLARE and BEGIN.
	section bool
	// cursors are those declared to send their rows when opened.
	cursors map[string][]string
	// pending is the label before the statement at hand.
	pending string
	// block asks the walk to end with the block that it began with.
	block bool
	// began is set behind the first BEGIN.
	began bool
}

// MySQL walks over MySQL statements from the cursor to the end of its tokens.
func MySQL(c *sqltext.Cursor, opts Options) *Body { return PSM(c, &MySQLProfile, opts) }

// PSM walks over statements from the cursor to the end of its tokens.
// Statements are parted by semicolons; those of control flow by their own words.
func PSM(c *sqltext.Cursor, p *Profile, opts Options) *Body {
	return (&psmWalker{p: p}).run(c, opts)
}

// PSMBlock walks over one block, which begins at the cursor, and leaves the
// cursor behind its END.
func PSMBlock(c *sqltext.Cursor, p *Profile, opts Options) *Body {
	return (&psmWalker{p: p, block: true}).run(c, opts)
}

// PSMSection is PSMBlock for a block that declarations may stand before.
func PSMSection(c *sqltext.Cursor, p *Profile, opts Options) *Body {
	return (&psmWalker{p: p, block: true, section: true}).run(c, opts)
}

func (w *psmWalker) run(c *sqltext.Cursor, opts Options) *Body {
	w.walker = walker{Cursor: c, b: &Body{}, opts: opts}
	w.paths.outputs = w.opts.Outputs
	w.assigned = w.paths.assign
	for !w.Done() {
		w.step()
		if w.block && w.began && len(w.paths.open) == 0 && !w.section {
			break
		}
	}
	w.paths.finish(w.b, int(w.Peek().Start))
	w.b.End = w.I
	return w.b
}

// step walks over one statement, or over what stands between two.
func (w *psmWalker) step() {
	before := w.I
	w.statement()
	if w.I == before {
		w.I++
	}
	if w.p.SingleBranches {
		w.endSingle(before)
	}
}

// handler walks over the statement of a handler, which is not on the way of
// the statements behind it. An EXIT handler goes to the end of its block.
func (w *psmWalker) handler(exits bool) {
	saved, depth := w.paths.now, len(w.paths.open)
	block := w.paths.top()
	if exits && block != nil {
		w.paths.now = block.entry
	}
	for !w.Done() {
		w.step()
		if len(w.paths.open) <= depth && (w.AtOp(';') || w.Peek().Kind == sqltext.Delimiter) {
			break
		}
	}
	if block = w.paths.top(); exits && block != nil && len(w.paths.open) == depth {
		block.meet(w.paths.now)
	}
	w.paths.now = saved
}

func (w *psmWalker) statement() {
	t := w.Peek()
	label := w.pending
	w.pending = ""
	if w.section && w.declaration(t) {
		return
	}
	switch t.Kw {
	case sqltext.BEGIN:
		w.I++
		if w.transaction() {
			w.rest()
			return
		}
		w.section, w.began = false, true
		w.paths.push(blockFrame, label)
		for w.AtKw(sqltext.ATOMIC) || w.AtKw(sqltext.NOT) && w.Ahead(1).Kw == sqltext.ATOMIC || w.blockOption() {
			w.I++
		}
	case sqltext.LOOP:
		w.I++
		w.paths.push(endlessFrame, label)
	case sqltext.REPEAT:
		w.I++
		w.paths.push(repeatFrame, label)
	case sqltext.ELSE:
		w.I++
		w.paths.branch(true)
	case sqltext.END: // END IF, END label, END
		w.I++
		w.paths.pop()
		for w.Peek().Kind == sqltext.Word || w.Peek().Kind == sqltext.QuotedName {
			if w.p.SingleBranches { // END has no semicolon and no label there
				break
			}
			w.I++
		}
	case sqltext.IF:
		w.I++
		w.paths.push(ifFrame, label)
		w.condition(sqltext.THEN, sqltext.THEN)
		w.paths.single(w.p.SingleBranches)
	case sqltext.ELSEIF, sqltext.ELSIF:
		w.I++
		w.paths.branch(false)
		w.condition(sqltext.THEN, sqltext.THEN)
	case sqltext.CASE:
		w.I++
		w.paths.push(caseFrame, label)
		w.condition(sqltext.WHEN, sqltext.WHEN)
		w.condition(sqltext.THEN, sqltext.THEN)
	case sqltext.WHEN:
		w.paths.branch(false)
		w.condition(sqltext.THEN, sqltext.DO)
	case sqltext.WHILE:
		w.I++
		w.paths.push(loopFrame, label)
		w.condition(sqltext.DO, sqltext.LOOP)
		w.paths.single(w.p.SingleBranches)
	case sqltext.FOR:
		w.I++
		w.paths.push(loopFrame, label)
		w.forLoop()
		w.paths.single(w.p.SingleBranches)
	case sqltext.UNTIL:
		w.condition(sqltext.END, sqltext.END)
		w.I--
	case sqltext.DECLARE:
		w.declare()
	case sqltext.SELECT, sqltext.WITH, sqltext.TABLE, sqltext.VALUES:
		w.query()
	case sqltext.INSERT, sqltext.REPLACE, sqltext.UPDATE, sqltext.DELETE, sqltext.MERGE:
		w.change()
	case sqltext.CALL:
		w.callStatement()
	case sqltext.SET:
		w.set()
	case sqltext.FETCH:
		w.I++
		if w.until(func(t sqltext.Token) bool { return t.Kw == sqltext.INTO }) {
			w.into()
		}
		w.rest()
	case sqltext.GET:
		w.diagnostics()
	case sqltext.RETURN:
		w.returns()
	case sqltext.EXECUTE, sqltext.EXEC:
		w.execute()
	case sqltext.OPEN:
		w.open()
	case sqltext.SUSPEND:
		w.I++
		if len(w.b.Suspends) == 0 {
			w.b.Suspends = append(w.b.Suspends, int(t.Start))
		}
		w.rest()
	case sqltext.PERFORM:
		w.I++
		w.bareCall("perform")
	case sqltext.EXCEPTION:
		w.I++
		if w.p.HandlerArms {
			w.paths.handlers()
			return
		}
		w.paths.leave() // EXCEPTION name: raises it
		w.rest()
	case sqltext.EXIT, sqltext.LEAVE, sqltext.BREAK:
		w.leave()
	case sqltext.ITERATE, sqltext.CONTINUE:
		w.next()
	case sqltext.SIGNAL, sqltext.THROW:
		w.I++
		if v := w.Ahead(1); !(v.Kind == sqltext.String && strings.HasPrefix(sqltext.StringValue(w.Text(v), w.Lex), "01")) {
			w.paths.leave()
		}
		w.rest()
	case sqltext.RAISE:
		w.raise()
	case sqltext.GOTO:
		w.paths.unknown = true
		w.rest()
	case sqltext.SHOW, sqltext.EXPLAIN, sqltext.DESCRIBE, sqltext.DESC, sqltext.ANALYZE, sqltext.CHECK:
		if w.p.QueriesSend && !w.p.ColonAssigns {
			w.b.Results = append(w.b.Results, Result{Offset: int(t.Start)})
		}
		w.rest()
	case sqltext.CREATE, sqltext.ALTER, sqltext.DROP:
		if w.opts.Script {
			w.b.Statements = append(w.b.Statements, Statement{t.Kw, w.I})
		}
		w.rest()
	default:
		w.other(t)
	}
}

// other walks over the statements that no keyword begins.
func (w *psmWalker) other(t sqltext.Token) {
	next := w.Ahead(1)
	switch {
	case t.IsName() && next.Op == ':' && next.Kind == sqltext.Punct: // a label
		w.pending = w.Name(t)
		w.I += 2
	case t.Kind == sqltext.Punct && t.Op == sqltext.OpCompare && w.Text(t) == "<<":
		w.pending = w.Name(next)
		w.I += 3
	case t.Kind == sqltext.Punct && t.Op == '(':
		if w.p.QueriesSend {
			w.query()
		} else {
			w.I++
		}
	case w.p.Macro && t.Is(w.Src, "sel"):
		w.query()
	case w.p.Macro && (t.Is(w.Src, "locking") || t.Is(w.Src, "lock")): // LOCKING … FOR ACCESS SELECT …
		w.I++
		for !w.Done() && !w.AtKw(sqltext.SELECT) && !w.AtWord("sel") && !w.AtOp(';') {
			w.I++
		}
	case t.Is(w.Src, "resignal"):
		w.paths.leave()
		w.rest()
	case w.p.QueriesSend && !w.p.ColonAssigns && (t.Is(w.Src, "checksum") || t.Is(w.Src, "optimize") || t.Is(w.Src, "repair") || t.Is(w.Src, "help")):
		w.b.Results = append(w.b.Results, Result{Offset: int(t.Start)})
		w.rest()
	case w.p.ColonAssigns && t.Is(w.Src, "let"):
		w.I++
		w.letStatement()
	case w.p.Sections && t.Is(w.Src, "foreach"):
		w.I++
		w.paths.push(loopFrame, "")
		w.condition(sqltext.LOOP, sqltext.DO)
	case t.Is(w.Src, "forall") && w.p.BareCalls, t.Is(w.Src, "pipe"):
		w.forall()
	case t.IsName() || t.Kind == sqltext.Variable:
		// A keyword alone is a statement (NULL, COMMIT); with arguments it is a name.
		callable := t.IsName() && (t.Kw == sqltext.NoKeyword || next.Kind == sqltext.Punct && (next.Op == '(' || next.Op == '.'))
		if !w.assignment() && !(w.p.BareCalls && callable && w.bareCall("call")) {
			w.rest()
		}
	default:
		w.rest()
	}
}

// declaration walks over one declaration of a section and reports whether it
// was one.
func (w *psmWalker) declaration(t sqltext.Token) bool {
	if t.Kw == sqltext.BEGIN || t.Kw == sqltext.DECLARE || t.Kw == sqltext.END {
		return false
	}
	if t.Kind == sqltext.Punct && t.Op == ';' {
		w.I++
		return true
	}
	if t.Kw == sqltext.PROCEDURE || t.Kw == sqltext.FUNCTION { // a local subprogram: its block is passed over
		w.until(func(t sqltext.Token) bool { return t.Kw == sqltext.BEGIN })
		if w.AtKw(sqltext.BEGIN) {
			inner := PSMBlock(w.Cursor, w.p, Options{})
			w.b.Calls = append(w.b.Calls, inner.Calls...)
			w.b.Dynamic = append(w.b.Dynamic, inner.Dynamic...)
		}
		w.section = true
		return true
	}
	w.AcceptWord("variable") // Firebird's DECLARE VARIABLE
	if w.opts.Detail && w.opts.Type != nil && w.Peek().IsName() && w.Ahead(1).IsName() && !w.AtKw(sqltext.CURSOR) && !w.AtKw(sqltext.TYPE) {
		n := w.Next()
		w.AcceptWord("constant")
		if typ, ok := w.opts.Type(w.Cursor); ok {
			w.b.Locals = append(w.b.Locals, Local{Name: w.Name(n), Offset: int(n.Start), Type: typ})
		}
	}
	w.rest()
	w.AcceptOp(';')
	return true
}

func (w *psmWalker) transaction() bool {
	t := w.Peek()
	return w.p.BareTransaction && (t.Op == ';' && t.Kind == sqltext.Punct || t.Kind == sqltext.EOF || t.Kw == sqltext.TRANSACTION || t.Is(w.Src, "work") || t.Is(w.Src, "name"))
}

func (w *psmWalker) blockOption() bool {
	for _, option := range []string{"sequential", "parallel", "autonomous"} {
		if w.AtWord(option) {
			w.I++
			return true // and the word behind it
		}
	}
	return false
}

// endSingle ends the statements that govern the one that was just read.
func (w *psmWalker) endSingle(before int) {
	last := w.At(w.I - 1)
	ended := w.AtOp(';') || last.Kw == sqltext.END || last.Kind == sqltext.Punct && last.Op == ';'
	if !ended || w.I == before {
		return
	}
	for w.paths.topSingle() {
		i := w.I
		if w.At(i).Kind == sqltext.Punct && w.At(i).Op == ';' {
			i++
		}
		if w.At(i).Kw == sqltext.ELSE && w.paths.topIf() {
			w.I = i
			return
		}
		w.paths.pop()
	}
}

// forLoop walks over the head of FOR, up to DO or LOOP.
func (w *psmWalker) forLoop() {
	if w.AtKw(sqltext.EXECUTE) {
		w.b.Dynamic = append(w.b.Dynamic, w.offset())
	}
	stop := func(t sqltext.Token) bool { return t.Kw == sqltext.DO || t.Kw == sqltext.LOOP || t.Kw == sqltext.INTO }
	for w.until(stop) {
		if w.AtKw(sqltext.INTO) {
			w.into()
			continue
		}
		w.I++
		return
	}
}

// forall walks over FORALL … and PIPE ROW, whose statement follows on.
func (w *psmWalker) forall() {
	w.until(func(t sqltext.Token) bool {
		return t.Kw == sqltext.INSERT || t.Kw == sqltext.UPDATE || t.Kw == sqltext.DELETE || t.Kw == sqltext.EXECUTE
	})
}

// letStatement reads what follows LET: name [type] := value, or a cursor.
func (w *psmWalker) letStatement() {
	n := w.Peek()
	if w.opts.Detail && w.opts.Type != nil && n.IsName() {
		l := Local{Name: w.Name(n), Offset: int(n.Start)}
		if next := w.Ahead(1); next.IsName() && next.Kw != sqltext.DEFAULT && next.Kw != sqltext.CURSOR {
			w.I++
			if typ, ok := w.opts.Type(w.Cursor); ok {
				l.Type = typ
			}
		}
		w.b.Locals = append(w.b.Locals, l)
	}
	w.rest()
}

// assignment reads name := value and its like, and reports whether it was one.
func (w *psmWalker) assignment() bool {
	if !w.p.ColonAssigns && !w.p.EqualsAssigns {
		return false
	}
	i := 1
	for { // name, name.field, name(index)
		t := w.Ahead(i)
		if t.Kind != sqltext.Punct {
			return false
		}
		switch {
		case t.Op == '.':
			i += 2
			continue
		case t.Op == '(' || t.Op == '[':
			i = w.closing(i)
			if i < 0 {
				return false
			}
			continue
		case t.Op == sqltext.OpAssign && w.p.ColonAssigns, t.Op == '=' && w.p.EqualsAssigns:
			t := w.Peek()
			w.assign(w.Name(t), int(t.Start))
			w.I += i + 1
			w.rest()
			return true
		}
		return false
	}
}

// closing returns how far ahead the token behind the bracket is that closes the
// one i tokens ahead, or -1.
func (w *psmWalker) closing(i int) int {
	depth := 0
	for ; w.I+i < len(w.Tokens); i++ {
		t := w.Ahead(i)
		if t.Kind != sqltext.Punct {
			continue
		}
		switch t.Op {
		case '(', '[':
			depth++
		case ')', ']':
			if depth--; depth == 0 {
				return i + 1
			}
		case ';':
			return -1
		}
	}
	return -1
}

// bareCall reads a call that no CALL begins, and reports whether it was one.
func (w *psmWalker) bareCall(verb string) bool {
	start := w.I
	c, ok := sqlcall.ParseBare(w.Cursor)
	end := w.Peek()
	if !ok || verb == "call" && !w.Done() && end.Kind != sqltext.Delimiter && !(end.Kind == sqltext.Punct && end.Op == ';') {
		w.I = start
		if verb == "perform" {
			w.rest()
		}
		return false
	}
	c.Verb = verb
	if name := c.Name[len(c.Name)-1]; strings.EqualFold(name, "raise_application_error") {
		w.paths.leave()
	}
	w.call(c, false)
	w.rest()
	return true
}

func (w *psmWalker) callStatement() {
	if c, ok := sqlcall.Parse(w.Cursor); ok {
		w.call(c, false)
	} else {
		w.I++
	}
	w.rest()
}

// returns reads RETURN. RETURN NEXT and RETURN QUERY add rows and go on.
func (w *psmWalker) returns() {
	at := w.offset()
	w.I++
	goesOn := w.AtWord("next") || w.AtWord("query")
	if w.AtWord("query") && w.Ahead(1).Kw == sqltext.EXECUTE {
		w.b.Dynamic = append(w.b.Dynamic, at)
	}
	if t := w.Peek(); !w.opts.Function && !goesOn && t.Kind != sqltext.EOF && !(t.Kind == sqltext.Punct && t.Op == ';') {
		code, constant := w.constantReturn()
		if constant && !w.AtOp(';') && !w.Done() && w.Peek().Kind != sqltext.Delimiter && w.Peek().Kw != sqltext.END {
			code, constant = 0, false
		}
		w.b.Returns = append(w.b.Returns, Return{Offset: at, Code: code, Constant: constant})
	}
	if !goesOn {
		w.paths.exit(w.b, at)
	}
	w.rest()
}

// execute reads EXECUTE: of a prepared or a given text, of a procedure.
func (w *psmWalker) execute() {
	at := w.offset()
	named := w.Ahead(1).Kw == sqltext.PROCEDURE && w.Ahead(2).IsName() // Firebird
	if named || w.p.Macro && w.Ahead(1).IsName() {
		w.I++
		if named {
			w.I++
		}
		if c, ok := sqlcall.ParseBare(w.Cursor); ok {
			c.Verb = "execute"
			for _, a := range sqlcall.ReturningValues(w.Cursor) {
				w.assign(a.Text, a.ValueStart)
				c.Arguments = append(c.Arguments, a)
			}
			w.call(c, false)
		}
		w.rest()
		return
	}
	w.b.Dynamic = append(w.b.Dynamic, at)
	w.I++
	for w.until(func(t sqltext.Token) bool { return t.Kw == sqltext.INTO || t.Kw == sqltext.USING }) {
		if w.AcceptKw(sqltext.USING) {
			w.outArguments()
			continue
		}
		w.into()
	}
}

// outArguments reads the OUT variables of a USING clause.
func (w *psmWalker) outArguments() {
	w.until(func(t sqltext.Token) bool {
		if t.Kw == sqltext.OUT {
			if n := w.Ahead(1); n.IsName() {
				w.assign(w.Name(n), int(n.Start))
			}
		}
		return t.Kw == sqltext.INTO
	})
}

// open reads OPEN of a cursor.
func (w *psmWalker) open() {
	at := w.offset()
	w.I++
	t := w.Next()
	name := strings.TrimPrefix(w.Name(t), ":")
	cols, sends := w.cursors[strings.ToLower(name)]
	output := w.isOutput(name)
	w.assign(name, int(t.Start))
	if w.AcceptKw(sqltext.FOR) && w.p.OutputCursors && output {
		switch w.Peek().Kw {
		case sqltext.SELECT, sqltext.WITH:
			w.b.Results = append(w.b.Results, Result{Offset: at, Columns: w.columnsOfQuery(), Through: name})
		default: // a text
			w.b.Dynamic = append(w.b.Dynamic, at)
			w.b.Results = append(w.b.Results, Result{Offset: at, Through: name})
		}
	} else if sends {
		w.b.Results = append(w.b.Results, Result{Offset: at, Columns: cols})
	}
	w.rest()
}

func (w *psmWalker) isOutput(name string) bool {
	for _, o := range w.opts.Outputs {
		if strings.EqualFold(o, name) {
			return true
		}
	}
	return false
}

// columnsOfQuery reads the select list of the query at the cursor.
func (w *psmWalker) columnsOfQuery() []string {
	w.items = w.items[:0]
	if w.AtKw(sqltext.WITH) {
		w.until(func(t sqltext.Token) bool { return t.Kw == sqltext.SELECT })
	}
	for w.AcceptOp('(') {
	}
	if w.AcceptKw(sqltext.SELECT) {
		w.selectItems()
	}
	cols := make([]string, 0, len(w.items))
	for _, it := range w.items {
		cols = append(cols, w.columnName(it[0], it[1]))
	}
	return cols
}

func (w *psmWalker) selectItems() {
	for w.atModifier() {
		w.I++
	}
	if w.AcceptKw(sqltext.TOP) && !w.AcceptOp('(') {
		w.I++
	}
	w.selectList(func(t sqltext.Token) bool {
		return psmListEnds[t.Kw] || t.Kw == sqltext.BULK || t.Kw == sqltext.FETCH && w.p.CursorsSend
	})
}

// leave reads EXIT, LEAVE and BREAK.
func (w *psmWalker) leave() {
	at := w.offset()
	exits := w.Next().Kw == sqltext.EXIT && w.p.ExitReturns
	if exits {
		w.paths.exit(w.b, at)
		w.rest()
		return
	}
	label := ""
	if w.Peek().IsName() && !w.AtKw(sqltext.WHEN) {
		label = w.Name(w.Next())
	}
	if w.AtKw(sqltext.WHEN) {
		w.paths.leaveTo(label, true)
	} else if !w.paths.leaveTo(label, false) && label != "" {
		w.paths.exit(w.b, at) // the label of the routine's own block
	}
	w.rest()
}

// next reads ITERATE and CONTINUE.
func (w *psmWalker) next() {
	w.I++
	if w.AtKw(sqltext.WHEN) || w.Ahead(1).Kw == sqltext.WHEN {
		w.rest()
		return
	}
	w.paths.leave()
	w.rest()
}

// raise reads RAISE, which goes on where it only tells something.
func (w *psmWalker) raise() {
	w.I++
	for _, level := range []string{"notice", "info", "warning", "debug", "log"} {
		if w.AtWord(level) {
			w.rest()
			return
		}
	}
	w.paths.leave()
	w.rest()
}

func (w *psmWalker) rest() { w.until(nil) }

// until moves to the semicolon that ends the statement, or to a token outside
// of brackets at which stop is true.
func (w *psmWalker) until(stop func(t sqltext.Token) bool) bool {
	depth := 0
	tokens := w.Tokens // a local one, as this is the innermost loop
	for i := w.I; i < len(tokens); i++ {
		t := &tokens[i]
		switch t.Kind {
		case sqltext.Punct:
			switch t.Op {
			case '(':
				depth++
			case ')':
				depth = max(depth-1, 0)
			case ';':
				w.I = i
				return false
			}
		case sqltext.Delimiter:
			w.I = i
			return false
		case sqltext.Variable:
			if w.opts.Detail {
				w.I = i
				w.use()
			}
		case sqltext.Word:
			if stop != nil && depth == 0 && t.Kw != sqltext.NoKeyword {
				w.I = i // stop may look around
				if stop(*t) {
					return true
				}
			}
		}
	}
	w.I = max(w.I, len(tokens))
	return false
}

// condition moves behind the word that ends a condition, over CASE expressions
// that have that word inside.
func (w *psmWalker) condition(end, or sqltext.Keyword) {
	cases := 0
	stopped := w.until(func(t sqltext.Token) bool {
		switch {
		case t.Kw == sqltext.CASE:
			cases++
		case cases > 0 && t.Kw == sqltext.END:
			cases--
		case cases == 0 && (t.Kw == end || t.Kw == or):
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
func (w *psmWalker) declare() {
	first := w.I
	w.I++
	switch t := w.Peek(); {
	case w.p.Sections:
		w.section = true
	case w.Ahead(1).Kw == sqltext.HANDLER:
		exits := w.AtKw(sqltext.EXIT)
		w.I += 2
		w.AcceptKw(sqltext.FOR)
		for {
			w.handlerCondition()
			if !w.AcceptOp(',') {
				break
			}
		}
		w.handler(exits)
	case w.Ahead(1).Kw == sqltext.CURSOR, w.p.CursorsSend && w.cursorAhead():
		w.cursor()
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
func (w *psmWalker) handlerCondition() {
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
