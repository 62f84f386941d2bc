package ddl

import (
	"strings"

	"ramekin/internal/body"
	"ramekin/internal/signature"
	"ramekin/internal/sqltext"
)

// standardReader reads the dialects whose routines look as those of ISO/IEC
// 9075-4 do: a header, characteristics in any order, and a body of SQL
// statements or of another language.
type standardReader struct {
	*reader
	rules *standardRules
}

// standardRules is what sets such a dialect apart.
type standardRules struct {
	frame   *frameRules
	profile *body.Profile
	style   *parameterStyle
	// create reads what follows CREATE and its like where it is no routine.
	create func(r standardReader, c *sqltext.Cursor)
	// returns reads what follows RETURNS.
	returns func(r standardReader, c *sqltext.Cursor, rt *signature.Routine) *syntaxError
	// characteristic reads one that only this dialect has.
	characteristic func(r standardReader, c *sqltext.Cursor, rt *signature.Routine) bool
	// procedureReturns is set where procedures have a RETURNS clause.
	procedureReturns bool
	// bodyless is set where a header alone is a declaration.
	bodyless bool
	// externalResults is set where DYNAMIC RESULT SETS n of an external routine
	// says how many it sends.
	externalResults bool
	// unnamedProcedures is set where a procedure's parameter may be its type alone.
	unnamedProcedures bool
	// unbracketed is set where a routine without parameters has no brackets.
	unbracketed bool
}

// standardHeader is what a header says beside the signature.
type standardHeader struct {
	external   bool
	aggregate  bool
	resultSets int
	hasBody    bool
	// text is the string that holds the body, where isText is set.
	text   sqltext.Token
	isText bool
}

// readStandard is the read function of a dialect with these rules.
func readStandard(rules *standardRules) func(r *reader) {
	return func(r *reader) { r.eachStatement(rules.frame, standardReader{r, rules}.statement) }
}

func (r standardReader) statement(limit int) {
	cursor := r.statementCursor()
	c := &cursor
	switch t := c.Peek(); {
	case t.Kw == sqltext.DROP:
		c.I++
		r.drop(c)
	case r.rules.frame.begins[t.Kw]:
		r.declaration(c, limit)
	default:
		if r.opts.Detail && !c.Done() {
			r.scope(nil, body.PSM(c, r.rules.profile, r.bodyOptions(nil)))
		}
	}
}

// drop reads DROP [SPECIFIC] PROCEDURE, FUNCTION, ROUTINE or MACRO.
func (r standardReader) drop(c *sqltext.Cursor) {
	specific := c.AcceptWord("specific")
	var kind signature.RoutineKind
	switch {
	case c.AcceptKw(sqltext.PROCEDURE):
		kind = signature.Procedure
	case c.AcceptKw(sqltext.FUNCTION):
		kind = signature.Function
	case c.AcceptKw(sqltext.MACRO):
		kind = signature.Macro
	case c.AcceptWord("routine"):
	case c.AcceptWord("module"), c.AcceptWord("library"):
		if parts := r.names(c); len(parts) > 0 {
			r.change(r.container(dropsContainer, parts))
		}
		return
	default:
		return
	}
	if !specific {
		r.dropList(c, kind)
		return
	}
	if parts := r.names(c); len(parts) > 0 {
		ch := target(drops, parts)
		ch.specific, ch.onlyKind = true, kind
		r.change(ch)
	}
}

// declaration reads CREATE, REPLACE or ALTER.
func (r standardReader) declaration(c *sqltext.Cursor, limit int) {
	verb := c.Peek().Kw
	first := c.I
	if verb != sqltext.PROCEDURE && verb != sqltext.FUNCTION {
		c.I++
	}
	for c.AtKw(sqltext.OR) || c.AtKw(sqltext.REPLACE) || c.AtKw(sqltext.ALTER) || c.AtWord("secure") || c.AtWord("temp") || c.AtWord("temporary") ||
		c.AtWord("virtual") || c.AtKw(sqltext.EXTERNAL) {
		c.I++
	}
	rt := &signature.Routine{Dialect: r.d.Name, Language: "sql"}
	switch {
	case c.AcceptKw(sqltext.PROCEDURE):
		rt.Kind = signature.Procedure
	case c.AcceptKw(sqltext.FUNCTION):
		rt.Kind = signature.Function
	case c.AcceptKw(sqltext.MACRO):
		rt.Kind = signature.Macro
	default:
		if r.rules.create != nil {
			r.rules.create(r, c)
		}
		return
	}
	keepsOld := false
	if c.AtKw(sqltext.IF) && c.Ahead(1).Kw == sqltext.NOT {
		c.I += 3
		keepsOld = true
	}
	if verb == sqltext.ALTER && r.alters(c, rt.Kind) {
		return
	}
	if r.routine(c, rt, first, limit) {
		r.declare(rt, keepsOld)
	}
}

// alters reads ALTER PROCEDURE name(types) RENAME TO name, and reports whether
// the statement changes something else than the whole routine.
func (r standardReader) alters(c *sqltext.Cursor, kind signature.RoutineKind) bool {
	start := c.I
	if c.AcceptKw(sqltext.IF) {
		c.AcceptKw(sqltext.EXISTS)
	}
	parts := r.names(c)
	if len(parts) == 0 {
		return true
	}
	ch := target(renames, parts)
	ch.onlyKind = kind
	r.overload(c, &ch)
	if c.AtWord("rename") {
		c.I += 2
		if to := r.names(c); len(to) > 0 {
			ch.to = to[len(to)-1]
			if len(to) > 1 {
				ch.toSchema = to[len(to)-2]
			}
			r.change(ch)
		}
		return true
	}
	for ; !c.Done(); c.I++ {
		if c.AtKw(sqltext.BEGIN) || c.AtKw(sqltext.AS) {
			c.I = start
			return false // the whole routine anew
		}
	}
	return true
}

// routine reads a routine from its name on, and reports whether it is one to
// declare.
func (r standardReader) routine(c *sqltext.Cursor, rt *signature.Routine, first, limit int) bool {
	var h standardHeader
	parts := r.names(c)
	if len(parts) == 0 || parts[len(parts)-1].name == "" {
		r.broken(rt, r.unexpected(c, "the routine's name"))
		return false
	}
	if rt.Container == "" {
		r.nameRoutine(rt, parts)
	} else {
		rt.Name = parts[len(parts)-1].name
		if parts[len(parts)-1].quoted {
			rt.Quoted |= signature.NamePart
		}
		rt.SetKey()
	}
	if err := r.header(c, rt, &h); err != nil {
		r.broken(rt, err)
		return false
	}
	if h.aggregate || cutOff(c, limit) {
		return false
	}
	r.body(c, rt, &h)
	last := len(c.Tokens)
	rt.At = r.extent(c, first, last)
	if n := len(r.tokens); n > last && r.origin == nil && rt.Container == "" {
		rt.At.EndLine = max(rt.At.EndLine, r.place(int(r.tokens[n-1].Start)).Line)
	}
	return true
}

func (r standardReader) header(c *sqltext.Cursor, rt *signature.Routine, h *standardHeader) *syntaxError {
	switch {
	case c.AcceptOp('('):
		style := *r.rules.style
		style.unnamed = style.unnamed && (rt.Kind == signature.Function || r.rules.unnamedProcedures)
		if err := r.parameterList(c, rt, &style); err != nil {
			return err
		}
	case rt.Kind != signature.Macro && !r.rules.unbracketed:
		return r.unexpected(c, "( before the parameters")
	}
	return r.characteristics(c, rt, h)
}

// characteristics reads what stands between the parameters and the body.
func (r standardReader) characteristics(c *sqltext.Cursor, rt *signature.Routine, h *standardHeader) *syntaxError {
	for !c.Done() {
		t := c.Peek()
		if r.rules.characteristic != nil && r.rules.characteristic(r, c, rt) {
			continue
		}
		switch {
		case t.Kw == sqltext.RETURNS && c.Ahead(1).Kw != sqltext.NULL && rt.Returns == nil && (rt.Kind == signature.Function || r.rules.procedureReturns):
			c.I++
			if err := r.rules.returns(r, c, rt); err != nil {
				return err
			}
		case t.Kw == sqltext.LANGUAGE:
			c.I++
			rt.Language = strings.ToLower(c.Name(c.Next()))
			if rt.Language == "sqlscript" {
				rt.Language = "sql"
			}
		case t.Is(c.Src, "specific"):
			c.I++
			if name := r.names(c); len(name) > 0 {
				rt.Specific = name[len(name)-1].name
			}
		case t.Is(c.Src, "class"): // CLASS AGGREGATE
			c.I++
			h.aggregate = h.aggregate || c.AcceptKw(sqltext.AGGREGATE)
		case t.Kw == sqltext.AGGREGATE:
			h.aggregate = true
			c.I++
		case t.Kw == sqltext.RESULT && c.Ahead(1).Is(c.Src, "sets"):
			c.I += 2
			if n := c.Peek(); n.Kind == sqltext.Number {
				h.resultSets = 0
				for _, d := range c.Text(n) {
					h.resultSets = min(h.resultSets*10+int(d-'0'), 1000)
				}
				c.I++
			}
		case t.Kw == sqltext.EXTERNAL && !c.Ahead(1).Is(c.Src, "action") && !c.Ahead(1).Is(c.Src, "security"):
			h.external = true
			c.I++
		case t.Kw == sqltext.COMMIT: // COMMIT ON RETURN YES
			c.I += 4
		case t.Kw == sqltext.AS:
			c.I++
			h.hasBody = true
			if s := c.Peek(); s.Kind == sqltext.String {
				h.text, h.isText = s, true
			}
			return nil
		case r.bodyBegins(c):
			h.hasBody = true
			return nil
		case t.Kind == sqltext.Punct && t.Op == '(':
			c.SkipParens()
		case t.Kind == sqltext.Punct && t.Op == ')':
			return r.unexpected(c, "the body")
		default:
			c.I++
		}
	}
	if !h.external && rt.Language == "sql" && !r.rules.bodyless {
		return r.unexpected(c, "the body")
	}
	if rt.Kind == signature.Function && rt.Returns == nil && !h.aggregate {
		return r.unexpected(c, "RETURNS")
	}
	return nil
}

// bodyBegins reports whether the statement of the body stands at the cursor.
func (r standardReader) bodyBegins(c *sqltext.Cursor) bool {
	switch t := c.Peek(); t.Kw {
	case sqltext.BEGIN, sqltext.RETURN, sqltext.SELECT, sqltext.INSERT, sqltext.UPDATE, sqltext.DELETE, sqltext.MERGE, sqltext.CALL,
		sqltext.SET, sqltext.IF, sqltext.WHILE, sqltext.FOR, sqltext.LOOP, sqltext.REPEAT, sqltext.DECLARE, sqltext.SIGNAL, sqltext.CASE:
		return true
	case sqltext.NoKeyword:
		next := c.Ahead(1)
		return t.IsName() && next.Kind == sqltext.Punct && next.Op == ':' && c.Ahead(2).Kw != sqltext.NoKeyword
	}
	return false
}

// body reads what the body does.
func (r standardReader) body(c *sqltext.Cursor, rt *signature.Routine, h *standardHeader) {
	switch {
	case h.isText:
		r.textBody(rt, h.text)
		return
	case h.external, rt.Language != "sql":
		rt.SendsMore = true
		if rt.Kind == signature.Procedure && signature.NamingOf(rt.Dialect).HasStatus {
			rt.Status = &signature.Status{Open: true}
		}
		if r.rules.externalResults {
			for range h.resultSets {
				rt.Results = append(rt.Results, signature.ResultSet{Line: r.place(int(c.At(0).Start)).Line})
			}
		}
		return
	case !h.hasBody:
		if rt.Kind == signature.Procedure && signature.NamingOf(rt.Dialect).HasStatus {
			rt.Status = &signature.Status{}
		}
		return
	}
	profile := r.rules.profile
	if rt.Kind == signature.Macro {
		profile = &body.MacroProfile
		if c.AcceptOp('(') && len(c.Tokens) > 0 && c.Tokens[len(c.Tokens)-1].Op == ')' {
			inner := *c
			inner.Tokens = c.Tokens[:len(c.Tokens)-1]
			r.finish(rt, body.PSM(&inner, profile, r.bodyOptions(rt)))
			return
		}
	}
	r.finish(rt, body.PSM(c, profile, r.bodyOptions(rt)))
}

// textBody reads a body that stands in a string.
func (r standardReader) textBody(rt *signature.Routine, text sqltext.Token) {
	rt.SendsMore = false
	if !r.opts.Detail {
		return
	}
	inner := r.within(text)
	if inner == nil {
		return
	}
	sub := standardReader{inner.reader, r.rules}
	switch {
	case rt.Language == "sql":
		c := r.cursorWithin(inner)
		sub.finish(rt, body.PSM(&c, r.rules.profile, r.bodyOptions(rt)))
	case body.IsEmbedded(rt.Language):
		sub.finish(rt, &body.Body{Mentions: body.Mentions(inner.src[inner.start:inner.end], rt.Language, parameterNames(rt), inner.start)})
	}
}

// standardReturns reads a type, or TABLE and its columns.
func standardReturns(r standardReader, c *sqltext.Cursor, rt *signature.Routine) *syntaxError {
	first := c.I
	if c.AtKw(sqltext.TABLE) {
		c.I++
		if !c.AtOp('(') {
			for c.Peek().Kind == sqltext.Word && !c.AtKw(sqltext.LANGUAGE) { // TABLE VARYING COLUMNS (n)
				c.I++
			}
			c.SkipParens()
			rt.Returns = tableOf(nil, c.FoldFrom(first))
			return nil
		}
		cols := r.columnDefinitions(c)
		rt.Returns = tableOf(cols, c.FoldFrom(first))
		return nil
	}
	t, ok := r.d.Type(c)
	if !ok {
		return r.unexpected(c, "the type of the result")
	}
	rt.Returns = &signature.Returns{Type: t}
	notNull(c)
	if c.AtWord("cast") { // CAST FROM type
		c.I += 2
		r.d.Type(c)
	}
	return nil
}

// typesIdentity tells overloads apart by the types of their inputs.
func typesIdentity(rt *signature.Routine) string {
	var b strings.Builder
	for i := range rt.Parameters {
		p := &rt.Parameters[i]
		if p.Direction == signature.Out && rt.Kind == signature.Function {
			continue
		}
		t := &p.Type
		if t.Kind == signature.KindArray && t.Element != nil {
			t = t.Element
			b.WriteString("array of ")
		}
		if t.Kind.IsKnown() {
			b.WriteString(string(t.Kind))
		} else {
			b.WriteString(t.Name)
		}
		b.WriteByte(',')
	}
	return b.String()
}

// countIdentity tells overloads apart by the number of their parameters.
func countIdentity(rt *signature.Routine) string {
	return strings.Repeat("?", len(rt.Parameters))
}

// skipLocator moves past AS LOCATOR.
func skipLocator(c *sqltext.Cursor, _ *signature.Parameter) {
	if c.AtKw(sqltext.AS) && c.Ahead(1).Is(c.Src, "locator") {
		c.I += 2
	}
}
