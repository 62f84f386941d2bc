package ddl

import (
	"fmt"
	"strings"

	"ramekin/internal/body"
	"ramekin/internal/signature"
	"ramekin/internal/sqlcall"
	"ramekin/internal/sqltext"
	"ramekin/internal/sqltype"
)

// SQLServer reads Transact-SQL scripts ("CREATE PROCEDURE (Transact-SQL)",
// "CREATE FUNCTION (Transact-SQL)").
var SQLServer = Dialect{
	Name:  signature.SQLServer,
	Lexis: &sqltext.SQLServer,
	Type:  sqltype.SQLServer,
	Marks: Marks{
		"nvarchar": 2, "dbo": 2, "datetime2": 3, "uniqueidentifier": 3, "nolock": 3, "sysname": 2,
		"raiserror": 2, "nocount": 4, "sp_executesql": 3, "varbinary": 1, "proc": 2, "datetimeoffset": 3, "schemabinding": 3,
		"scope_identity": 3, "readonly": 1, "xact_abort": 4, "getdate": 2, "sysdatetime": 3, "exec": 2, "print": 1,
		markBatchWord: 4, markBracketName: 1, markAtParameter: 5, markSystemVariable: 2, markNationalString: 1,
	},
	read: readSQLServer,
}

// sqlServerReader reads one script batch by batch.
type sqlServerReader struct{ *reader }

func readSQLServer(rd *reader) {
	r := sqlServerReader{rd}
	for {
		tokens := r.tokens[:0] // a local one, as this is the innermost loop
		var t sqltext.Token
		for r.scan.Read(&t); t.Kind != sqltext.EOF && t.Kind != sqltext.BatchEnd; r.scan.Read(&t) {
			tokens = append(tokens, t)
		}
		r.tokens = tokens
		broken := len(r.scan.Errors) > 0
		if broken {
			e := r.scan.Errors[0]
			r.scan.Errors = r.scan.Errors[:0]
			c := sqltext.NewCursor(r.src, r.d.Lexis, r.tokens)
			r.problem(e.Offset, r.batchDeclares(&c, e.Offset), "%s", e.Message)
			r.readBatch(e.Offset)
			// What is not closed swallows the rest of the file; go on behind the
			// next batch word as a person reading it would.
			if t.Kind == sqltext.EOF && r.origin == nil {
				if next := nextBatch(r.src, e.Offset); next > 0 {
					r.scan.Skip(next)
					continue
				}
			}
		} else {
			r.readBatch(len(r.src))
		}
		if t.Kind == sqltext.EOF {
			return
		}
	}
}

// nextBatch finds the line behind the first GO line after offset, or 0.
func nextBatch(src []byte, offset int) int {
	_, end := lineAlone(src, offset, "GO")
	return end
}

// batchDeclares reports whether a routine is declared before the fault at offset.
func (r sqlServerReader) batchDeclares(c *sqltext.Cursor, offset int) bool {
	for ; !c.Done() && int(c.Peek().Start) < offset; c.I++ {
		if body.AtRoutine(c) {
			return true
		}
	}
	return false
}

// readBatch reads the batch in r.tokens. A routine that reaches beyond limit
// is not taken: its text is broken there.
func (r sqlServerReader) readBatch(limit int) {
	c := sqltext.NewCursor(r.src, r.d.Lexis, r.tokens)
	for !c.Done() {
		if body.AtRoutine(&c) {
			r.routine(&c, limit)
			continue
		}
		before := c.I
		b := body.TSQL(&c, r.bodyOptions(nil))
		r.script(&c, b)
		r.scope(nil, b)
		if c.I == before {
			c.I++
		}
	}
}

// script takes over what the statements outside of routines declare.
func (r sqlServerReader) script(c *sqltext.Cursor, b *body.Body) {
	end := c.I
	si := 0
	for _, call := range b.Calls {
		for si < len(b.Statements) && int(c.At(b.Statements[si].First).Start) < call.Start {
			r.statement(c, b.Statements[si])
			si++
		}
		r.systemCall(call.Call)
	}
	for ; si < len(b.Statements); si++ {
		r.statement(c, b.Statements[si])
	}
	c.I = end
}

func (r sqlServerReader) statement(c *sqltext.Cursor, s body.Statement) {
	c.I = s.First + 1
	switch {
	case s.Keyword == sqltext.DROP && (c.AcceptKw(sqltext.PROC) || c.AcceptKw(sqltext.PROCEDURE)):
		r.dropList(c, signature.Procedure)
	case s.Keyword == sqltext.DROP && c.AcceptKw(sqltext.FUNCTION):
		r.dropList(c, signature.Function)
	case s.Keyword == sqltext.CREATE && c.AcceptKw(sqltext.TYPE):
		r.createType(c)
	case s.Keyword == sqltext.ALTER && c.AcceptKw(sqltext.SCHEMA): // … TRANSFER [OBJECT::] name
		to := r.names(c)
		if len(to) == 0 || !c.AcceptWord("transfer") {
			return
		}
		parts := r.names(c)
		if c.AcceptOp(sqltext.OpScope) {
			parts = r.names(c)
		}
		if len(parts) == 2 {
			ch := target(movesSchema, parts)
			ch.to = to[0]
			r.change(ch)
		}
	}
}

// createType reads the name and definition of an alias or table type.
func (r sqlServerReader) createType(c *sqltext.Cursor) {
	parts := r.names(c)
	if len(parts) == 0 {
		return
	}
	var typ signature.Type
	switch {
	case c.AcceptKw(sqltext.FROM):
		t, ok := r.d.Type(c)
		if !ok {
			return
		}
		typ = t
	case c.AtKw(sqltext.AS) && c.Ahead(1).Kw == sqltext.TABLE:
		c.I += 2
		typ = signature.Type{Kind: signature.KindTable, Columns: r.columnDefinitions(c)}
	default:
		return
	}
	r.typeDeclared(parts, typ)
}

// systemCall follows the calls that change what is declared: a routine made in
// a string, and the system procedures that rename an object or make a type.
func (r sqlServerReader) systemCall(call sqlcall.Call) {
	if call.Dynamic {
		r.stringScript(call.Arguments)
		return
	}
	if len(call.Name) == 0 {
		return
	}
	arg := func(name string, position int) (sqlcall.Argument, bool) {
		for i, a := range call.Arguments {
			if signature.SameName(a.Name, name) || a.Name == "" && i == position {
				return a, true
			}
		}
		return sqlcall.Argument{}, false
	}
	text := func(a sqlcall.Argument) string {
		return sqltext.StringValue(string(r.src[a.ValueStart:a.ValueEnd]), r.d.Lexis)
	}
	switch strings.ToLower(call.Name[len(call.Name)-1]) {
	case "sp_executesql":
		if a, ok := arg("@statement", 0); ok {
			r.stringScript([]sqlcall.Argument{a})
		}
	case "sp_rename":
		from, ok1 := arg("@objname", 0)
		to, ok2 := arg("@newname", 1)
		if !ok1 || !ok2 || from.Kind != sqlcall.Text || to.Kind != sqlcall.Text || text(to) == "" {
			return
		}
		parts := r.nameParts(text(from))
		if len(parts) > 0 {
			ch := target(renames, parts)
			ch.to = ident{name: text(to)}
			r.change(ch)
		}
	case "sp_addtype":
		name, ok1 := arg("@typename", 0)
		base, ok2 := arg("@phystype", 1)
		if !ok1 || !ok2 {
			return
		}
		inner := []byte(text(base))
		c := cursorOver(inner, r.d.Lexis, 0, len(inner))
		if t, ok := r.d.Type(&c); ok {
			if parts := r.nameParts(text(name)); len(parts) > 0 {
				r.typeDeclared(parts, t)
			}
		}
	}
}

func (r sqlServerReader) nameParts(text string) []ident {
	c := cursorOver([]byte(text), r.d.Lexis, 0, len(text))
	inner := *r.reader
	return inner.names(&c)
}

// stringScript reads a script that stands in a constant string, where it
// declares a routine: a stub that an ALTER replaces later.
func (r sqlServerReader) stringScript(args []sqlcall.Argument) {
	if len(args) != 1 || args[0].Kind != sqlcall.Text || r.depth > 2 {
		return
	}
	a := args[0]
	inner, origin := undouble(r.src, a.ValueStart, a.ValueEnd)
	if len(inner) == 0 || r.origin != nil {
		return
	}
	c := cursorOver(inner, r.d.Lexis, 0, len(inner))
	if !body.AtRoutine(&c) {
		return
	}
	sub := &reader{d: r.d, src: inner, file: r.file, opts: r.opts, origin: origin, depth: r.depth + 1}
	sub.scan.Reset(inner, r.d.Lexis)
	readSQLServer(sub)
}

// routine reads one routine to its end: that of the batch, or the next
// routine's CREATE.
func (r sqlServerReader) routine(c *sqltext.Cursor, limit int) {
	first := c.I
	rt, b, err := r.header(c)
	if err != nil {
		r.broken(rt, err)
		body.TSQL(c, body.Options{})
		return
	}
	if b == nil { // an external routine, or an inline table function
		body.TSQL(c, body.Options{Function: true})
		b = &body.Body{}
	}
	if len(c.Tokens) > 0 && int(c.At(c.I-1).End) > limit {
		return // told already, as the fault of the text
	}
	rt.At = r.extent(c, first, c.I)
	r.fill(rt, b)
	if rt.Language == "clr" && rt.Kind == signature.Procedure {
		rt.Status.Open = true
		rt.SendsMore = true
	}
	r.scope(rt, b)
	r.declare(rt, false)
}

// header reads from CREATE or ALTER through the body.
func (r sqlServerReader) header(c *sqltext.Cursor) (*signature.Routine, *body.Body, *syntaxError) {
	rt := &signature.Routine{Dialect: r.d.Name, Kind: signature.Procedure, Language: "sql"}
	c.I++
	if c.AcceptKw(sqltext.OR) {
		c.I++ // ALTER
	}
	if c.Next().Kw == sqltext.FUNCTION {
		rt.Kind = signature.Function
	}
	parts := r.names(c)
	if len(parts) == 0 || parts[len(parts)-1].name == "" {
		return rt, nil, r.unexpected(c, "the routine's name")
	}
	if rt.Kind == signature.Procedure && c.AtOp(';') && c.Ahead(1).Kind == sqltext.Number {
		if n := c.Text(c.Ahead(1)); n != "1" {
			parts[len(parts)-1].name += ";" + n
		}
		c.I += 2
	}
	r.nameRoutine(rt, parts)
	if err := r.parameters(c, rt); err != nil {
		return rt, nil, err
	}
	if rt.Kind == signature.Function {
		return r.functionTail(c, rt)
	}
	if err := r.withOptions(c); err != nil {
		return rt, nil, err
	}
	if c.AcceptKw(sqltext.FOR) {
		if !c.AcceptKw(sqltext.REPLICATION) {
			return rt, nil, r.unexpected(c, "REPLICATION")
		}
	}
	if !c.AcceptKw(sqltext.AS) {
		return rt, nil, r.unexpected(c, "AS and the body")
	}
	if c.AtKw(sqltext.EXTERNAL) {
		rt.Language = "clr"
		return rt, nil, nil
	}
	return rt, body.TSQL(c, r.bodyOptions(rt)), nil
}

func (r sqlServerReader) parameters(c *sqltext.Cursor, rt *signature.Routine) *syntaxError {
	bracketed := c.AcceptOp('(')
	if rt.Kind == signature.Function && !bracketed {
		return r.unexpected(c, "( before the parameters")
	}
	if bracketed && c.AcceptOp(')') {
		return nil
	}
	if !bracketed && c.Peek().Kind != sqltext.Variable {
		return nil
	}
	r.reader.parameters = r.reader.parameters[:0]
	defer r.keepParameters(rt)
	for {
		if c.Peek().Kind != sqltext.Variable {
			return r.unexpected(c, "a parameter's name, which begins with @")
		}
		p, err := r.parameter(c)
		if err != nil {
			return err
		}
		p.Position = len(r.reader.parameters) + 1
		r.reader.parameters = append(r.reader.parameters, p)
		if !c.AcceptOp(',') {
			break
		}
	}
	if t := c.Peek(); t.Kind == sqltext.Variable {
		return &syntaxError{int(t.Start), fmt.Sprintf("a comma is missing before %s", c.Text(t))}
	}
	if bracketed && !c.AcceptOp(')') {
		return r.unexpected(c, "a comma or the ) that closes the parameters")
	}
	return nil
}

func (r sqlServerReader) parameter(c *sqltext.Cursor) (signature.Parameter, *syntaxError) {
	name := c.Next()
	p := signature.Parameter{Name: c.Name(name), Direction: signature.In, At: r.place(int(name.Start))}
	c.AcceptKw(sqltext.AS)
	if k := c.Peek().Kw; k == sqltext.OUTPUT || k == sqltext.OUT || k == sqltext.READONLY || k == sqltext.SELECT || k == sqltext.BEGIN {
		return p, r.unexpected(c, "the type of "+p.Name)
	}
	t, ok := r.d.Type(c)
	if !ok {
		return p, r.unexpected(c, "the type of "+p.Name)
	}
	p.Type = t
	for {
		switch {
		case c.AcceptKw(sqltext.VARYING), c.AcceptKw(sqltext.NULL):
		case c.AcceptKw(sqltext.NOT):
			if !c.AcceptKw(sqltext.NULL) {
				return p, r.unexpected(c, "NULL behind NOT")
			}
		case c.AcceptKw(sqltext.OUTPUT), c.AcceptKw(sqltext.OUT):
			p.Direction = signature.Out
		case c.AcceptKw(sqltext.READONLY):
		case c.AcceptOp('='):
			first := c.I
			for c.AcceptOp('-') || c.AcceptOp('+') {
			}
			switch v := c.Peek(); v.Kind {
			case sqltext.Punct, sqltext.EOF:
				return p, r.unexpected(c, "the default of "+p.Name)
			}
			c.I++
			p.Default = &signature.Default{Text: c.FoldFrom(first)}
		default:
			return p, nil
		}
	}
}

// withOptions passes over WITH option, option.
func (r sqlServerReader) withOptions(c *sqltext.Cursor) *syntaxError {
	if !c.AcceptKw(sqltext.WITH) {
		return nil
	}
	for {
		switch {
		case c.AcceptKw(sqltext.EXECUTE), c.AcceptKw(sqltext.EXEC):
			if !c.AcceptKw(sqltext.AS) {
				return r.unexpected(c, "AS behind EXECUTE")
			}
			c.I++ // CALLER, OWNER, SELF or a user in quotes
		case c.AcceptKw(sqltext.RETURNS), c.AcceptWord("called"): // … NULL ON NULL INPUT, ON NULL INPUT
			for c.AtKw(sqltext.NULL) || c.AtKw(sqltext.ON) || c.AtWord("input") {
				c.I++
			}
		case c.Peek().Kind == sqltext.Word:
			c.I++
			if c.AcceptOp('=') {
				c.I++
			}
		default:
			return r.unexpected(c, "an option")
		}
		if !c.AcceptOp(',') {
			return nil
		}
	}
}

// functionTail reads from RETURNS through the body.
func (r sqlServerReader) functionTail(c *sqltext.Cursor, rt *signature.Routine) (*signature.Routine, *body.Body, *syntaxError) {
	if !c.AcceptKw(sqltext.RETURNS) {
		return rt, nil, r.unexpected(c, "RETURNS")
	}
	ret := &signature.Returns{}
	rt.Returns = ret
	inline := false
	tableFrom := c.I
	switch t := c.Peek(); {
	case t.Kind == sqltext.Variable: // RETURNS @rows TABLE (…)
		c.I++
		tableFrom = c.I
		if !c.AcceptKw(sqltext.TABLE) {
			return rt, nil, r.unexpected(c, "TABLE")
		}
		ret.Columns = r.columnDefinitions(c)
		ret.Set = true
	case t.Kw == sqltext.TABLE:
		c.I++
		ret.Set = true
		if c.AtOp('(') {
			ret.Columns = r.columnDefinitions(c)
		} else {
			inline = true
		}
	default:
		typ, ok := r.d.Type(c)
		if !ok {
			return rt, nil, r.unexpected(c, "the type of the result")
		}
		ret.Type = typ
	}
	if ret.Set {
		ret.Type = signature.Type{Text: c.FoldFrom(tableFrom), Name: "table", Kind: signature.KindTable, Columns: ret.Columns}
	}
	if err := r.withOptions(c); err != nil {
		return rt, nil, err
	}
	if c.AcceptWord("order") || c.AtKw(sqltext.ORDER) {
		c.I++
		c.SkipParens()
	}
	c.AcceptKw(sqltext.AS)
	switch {
	case c.AtKw(sqltext.EXTERNAL):
		rt.Language = "clr"
		return rt, nil, nil
	case inline:
		if !c.AcceptKw(sqltext.RETURN) {
			return rt, nil, r.unexpected(c, "RETURN and the query")
		}
		for _, name := range body.TSQLColumns(c) {
			ret.Columns = append(ret.Columns, signature.Column{Name: name})
		}
		ret.Type.Columns = ret.Columns
		return rt, nil, nil
	case !c.AtKw(sqltext.BEGIN):
		return rt, nil, r.unexpected(c, "BEGIN")
	}
	return rt, body.TSQL(c, r.bodyOptions(rt)), nil
}
