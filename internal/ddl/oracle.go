package ddl

import (
	"strings"

	"ramekin/internal/body"
	"ramekin/internal/signature"
	"ramekin/internal/sqltext"
	"ramekin/internal/sqltype"
)

// Oracle reads Oracle scripts as SQL*Plus does ("CREATE PROCEDURE", "CREATE
// FUNCTION", "CREATE PACKAGE", "CREATE TYPE", "PL/SQL conditional compilation").
var Oracle = Dialect{
	Name:  signature.Oracle,
	Lexis: &sqltext.Oracle,
	Type:  sqltype.Oracle,
	Marks: Marks{
		"varchar2": 4, "pls_integer": 5, "dbms_output": 5, "nocopy": 5, "sys_refcursor": 5, "pipelined": 5, "authid": 5, "nvl": 1,
		"sysdate": 2, "dual": 2, "number": 1, "pragma": 3, "raise_application_error": 4, "editionable": 5, "binary_integer": 4, "nvarchar2": 2, "bulk": 1,
		"sqlerrm": 2, "elsif": 1, "to_char": 1, "utl_file": 3, "prompt": 2, "no_data_found": 2, "result_cache": 3, "deterministic": 1, "forall": 3,
		"clob": 1, "subtype": 4, "sqlplus": 2, "serveroutput": 4, "varray": 4, "instantiable": 4, "nclob": 1, "raw": 1, "wrapped": 4, "rowid": 1,
		markSlashLine: 4, markDirectionAfter: 2, markPackage: 4, markRowType: 2, markEndIf: 1, markPercentType: 2,
		markReturnType: 3, markHeaderIs: 2, markAssign: 1,
	},
	identity: oracleIdentity,
	read:     readOracle,
}

// sqlPlusCommands are the commands of SQL*Plus that take the rest of their
// line (SQL*Plus "Command reference").
var sqlPlusCommands = map[string]bool{
	"prompt": true, "rem": true, "remark": true, "show": true, "sho": true, "spool": true, "whenever": true, "define": true, "def": true, "undefine": true,
	"undef": true, "column": true, "col": true, "accept": true, "acc": true, "exit": true, "quit": true, "connect": true, "conn": true, "start": true,
	"host": true, "ttitle": true, "btitle": true, "break": true, "clear": true, "variable": true, "var": true, "print": true, "pause": true,
	"timing": true, "set": true, "exec": true, "describe": true, "desc": true, "disconnect": true, "disc": true, "execute": true, "list": true, "run": true,
}

type oracleReader struct{ *reader }

func readOracle(rd *reader) {
	r := oracleReader{rd}
	for {
		tokens := r.tokens[:0]
		unit := false
		var t sqltext.Token
		for r.scan.Read(&t); t.Kind != sqltext.EOF && t.Kind != sqltext.BatchEnd; r.scan.Read(&t) {
			if len(tokens) == 0 && r.client(t) {
				continue
			}
			tokens = append(tokens, t)
			if len(tokens) <= 6 && !unit {
				unit = isOracleUnit(r.src, tokens)
			}
			if unit && len(tokens) < 12 && t.Is(r.src, "wrapped") {
				r.scan.Skip(endOfWrapped(r.src, r.scan.Pos()))
			}
			if !unit && t.Kind == sqltext.Punct && t.Op == ';' {
				break
			}
		}
		r.tokens = tokens
		limit := len(r.src)
		if len(r.scan.Errors) > 0 {
			e := r.scan.Errors[0]
			r.scan.Errors = r.scan.Errors[:0]
			limit = e.Offset
			r.problem(e.Offset, unit, "%s", e.Message)
			r.batch(limit)
			if next := nextSlash(r.src, e.Offset); t.Kind == sqltext.EOF && next > 0 {
				r.scan.Skip(next)
				continue
			}
		} else {
			r.batch(limit)
		}
		if t.Kind == sqltext.EOF {
			return
		}
	}
}

// client moves past a line for SQL*Plus, and reports whether t begins one.
func (r oracleReader) client(t sqltext.Token) bool {
	switch {
	case t.Kind == sqltext.Variable || t.Kind == sqltext.Punct && (t.Op == '@' || t.Op == '!'):
		if r.scan.BeginsLine(int(t.Start)) {
			r.scan.SkipLine()
		}
		return true
	case t.Kind == sqltext.Punct && t.Op == ';':
		return true
	case t.Kind == sqltext.Word && t.End-t.Start < 12 && sqlPlusCommands[strings.ToLower(t.Text(r.src))]:
		if t.Kw == sqltext.SET {
			rest := strings.ToLower(r.scan.RestOfLine())
			if strings.HasPrefix(rest, "transaction") || strings.HasPrefix(rest, "role") || strings.HasPrefix(rest, "constraint") {
				return false
			}
		}
		for strings.HasSuffix(r.scan.RestOfLine(), "-") { // goes on in the next line
			r.scan.SkipLine()
		}
		r.scan.SkipLine()
		return true
	}
	return false
}

// isOracleUnit reports whether the first tokens of a statement begin one that
// has semicolons inside.
func isOracleUnit(src []byte, tokens []sqltext.Token) bool {
	switch tokens[0].Kw {
	case sqltext.DECLARE, sqltext.BEGIN:
		return true
	case sqltext.CREATE:
	default:
		return tokens[0].Kind == sqltext.Punct && tokens[0].Op == sqltext.OpCompare // a label
	}
	for _, t := range tokens[1:] {
		switch t.Kw {
		case sqltext.PROCEDURE, sqltext.FUNCTION, sqltext.PACKAGE, sqltext.TYPE, sqltext.TRIGGER:
			return true
		case sqltext.OR, sqltext.REPLACE, sqltext.IF, sqltext.NOT, sqltext.EXISTS:
			continue
		}
		if !t.Is(src, "editionable") && !t.Is(src, "noneditionable") && !t.Is(src, "and") && !t.Is(src, "resolve") && !t.Is(src, "compile") {
			return false
		}
	}
	return false
}

// endOfWrapped is the offset of the slash that ends a wrapped unit.
func endOfWrapped(src []byte, offset int) int {
	if start, _ := lineAlone(src, offset, "/"); start > 0 {
		return start
	}
	return len(src)
}

// nextSlash finds the line behind the next slash that stands alone, or 0.
func nextSlash(src []byte, offset int) int {
	if _, end := lineAlone(src, offset, "/"); end > 0 && end < len(src) {
		return end + 1
	}
	return 0
}

// batch reads the statements in r.tokens. There is more than one where the
// slash between units is left out.
func (r oracleReader) batch(limit int) {
	r.tokens = compiled(r.src, r.tokens)
	c := sqltext.NewCursor(r.src, r.d.Lexis, r.tokens)
	for !c.Done() {
		before := c.I
		switch c.Peek().Kw {
		case sqltext.CREATE:
			r.create(&c, limit)
		case sqltext.DROP:
			r.drop(&c)
			toSemicolon(&c)
		case sqltext.DECLARE, sqltext.BEGIN:
			b := body.PSMBlock(&c, &body.OracleProfile, r.bodyOptions(nil))
			r.scope(nil, b)
		default:
			if r.opts.Detail && (c.AtKw(sqltext.CALL) || c.Peek().Op == sqltext.OpCompare) {
				r.scope(nil, body.PSM(&c, &body.OracleProfile, r.bodyOptions(nil)))
				break
			}
			toSemicolon(&c)
		}
		if c.I == before {
			c.I++
		}
		c.AcceptOp(';')
	}
}

// toSemicolon moves to the next semicolon outside of brackets.
func toSemicolon(c *sqltext.Cursor) {
	depth := 0
	for ; !c.Done(); c.I++ {
		t := c.Peek()
		if t.Kind != sqltext.Punct {
			continue
		}
		switch t.Op {
		case '(':
			depth++
		case ')':
			depth--
		case ';':
			return
		}
	}
}

func (r oracleReader) drop(c *sqltext.Cursor) {
	c.I++
	switch {
	case c.AcceptKw(sqltext.PROCEDURE):
		r.dropList(c, signature.Procedure)
	case c.AcceptKw(sqltext.FUNCTION):
		r.dropList(c, signature.Function)
	case c.AcceptKw(sqltext.PACKAGE), c.AcceptKw(sqltext.TYPE):
		r.dropPackage(c)
	}
}

func (r oracleReader) create(c *sqltext.Cursor, limit int) {
	first := c.I
	c.I++
	for c.AtKw(sqltext.OR) || c.AtKw(sqltext.REPLACE) || c.AtWord("editionable") || c.AtWord("noneditionable") || c.AtWord("public") ||
		c.AtWord("global") || c.AtWord("private") || c.AtWord("temporary") {
		c.I++
	}
	switch {
	case c.AtKw(sqltext.PROCEDURE), c.AtKw(sqltext.FUNCTION):
		r.standalone(c, first, limit)
	case c.AcceptKw(sqltext.PACKAGE):
		r.pack(c, first)
	case c.AcceptKw(sqltext.TYPE):
		r.createType(c, first)
	case c.AcceptKw(sqltext.TABLE):
		r.createTable(c, signature.KindRecord)
		toSemicolon(c)
	case c.AtKw(sqltext.TRIGGER):
		c.I = len(c.Tokens)
	default:
		toSemicolon(c)
	}
}

func (r oracleReader) standalone(c *sqltext.Cursor, first, limit int) {
	keepsOld := c.Ahead(1).Kw == sqltext.IF
	m := r.member(c, nil, 0)
	if m == nil || m.aggregate {
		return
	}
	if int(c.At(max(c.I-1, 0)).End) > limit {
		return // told already, as the fault of the text
	}
	if m.wrapped {
		c.I = len(c.Tokens)
		m.rt.ParametersHidden = true
		r.problem(int(c.At(first).Start), true, "%s is wrapped: its parameters cannot be read; read them from the database, or from the source before it was wrapped", m.rt.QualifiedName())
	}
	m.rt.At = r.extent(c, first, c.I)
	r.declare(m.rt, keepsOld)
}

// oracleMember is a procedure or function as read.
type oracleMember struct {
	rt *signature.Routine
	// hasBody is false for a declaration alone.
	hasBody            bool
	aggregate, wrapped bool
}

// member reads a procedure or function up to its end, the semicolon included.
// It returns nil where the header cannot be read, and has told so. owner is the
// routine whose container it is put in; nil outside of packages.
func (r oracleReader) member(c *sqltext.Cursor, owner *signature.Routine, depth int) *oracleMember {
	rt := &signature.Routine{Dialect: r.d.Name, Kind: signature.Procedure, Language: "sql"}
	m := &oracleMember{rt: rt}
	first := c.I
	if c.Next().Kw == sqltext.FUNCTION {
		rt.Kind = signature.Function
	}
	parts := r.unitName(c)
	if len(parts) == 0 {
		r.broken(rt, r.unexpected(c, "the routine's name"))
		r.resync(c, depth)
		return nil
	}
	if owner != nil {
		rt.Schema, rt.Container, rt.Name, rt.Quoted = owner.Schema, owner.Container, parts[len(parts)-1].name, owner.Quoted
		if parts[len(parts)-1].quoted {
			rt.Quoted |= signature.NamePart
		}
		rt.SetKey()
	} else {
		r.nameRoutine(rt, parts)
	}
	if c.AtWord("wrapped") {
		m.wrapped = true
		return m
	}
	if err := r.header(c, m); err != nil {
		r.broken(rt, err)
		r.resync(c, depth)
		return nil
	}
	if c.AtKw(sqltext.IS) || c.AtKw(sqltext.AS) {
		c.I++
		m.hasBody = true
		r.memberBody(c, m, depth)
	}
	c.AcceptOp(';')
	rt.At = r.extent(c, first, c.I)
	return m
}

var oracleParameters = parameterStyle{modes: modesAfter}

func (r oracleReader) header(c *sqltext.Cursor, m *oracleMember) *syntaxError {
	rt := m.rt
	if c.AcceptOp('(') {
		if err := r.parameterList(c, rt, &oracleParameters); err != nil {
			return err
		}
	}
	if rt.Kind == signature.Function && !c.AtWord("aggregate") {
		if !c.AcceptKw(sqltext.RETURN) {
			return r.unexpected(c, "RETURN and the type of the result")
		}
		if c.AtWord("self") && c.Ahead(1).Kw == sqltext.AS {
			from := c.I
			c.I += 3
			rt.Returns = &signature.Returns{Type: signature.Type{Text: c.FoldFrom(from), Name: strings.ToLower(rt.Container), Kind: signature.KindUser}}
		} else {
			t, ok := r.d.Type(c)
			if !ok {
				return r.unexpected(c, "the type of the result")
			}
			rt.Returns = &signature.Returns{Type: t}
		}
	}
	for !c.Done() {
		switch t := c.Peek(); {
		case t.Kw == sqltext.IS, t.Kw == sqltext.AS, t.Kind == sqltext.Punct && (t.Op == ';' || t.Op == ',' || t.Op == ')'):
			return nil
		case t.Is(c.Src, "pipelined"):
			if rt.Returns != nil {
				rt.Returns.Set = true
			}
			c.I++
		case t.Is(c.Src, "aggregate"):
			m.aggregate = true
			c.I++
		case t.Kind == sqltext.Punct && t.Op == '(':
			c.SkipParens()
		case t.Kind == sqltext.Word, t.Kind == sqltext.QuotedName, t.Kind == sqltext.Punct && t.Op == '.':
			if t.Kw == sqltext.CREATE {
				return nil
			}
			c.I++
		default:
			return r.unexpected(c, "IS and the body")
		}
	}
	return nil
}

// memberBody reads what stands behind IS: a call specification, or the
// declarations and the block.
func (r oracleReader) memberBody(c *sqltext.Cursor, m *oracleMember, depth int) {
	rt := m.rt
	switch {
	case c.AtKw(sqltext.LANGUAGE):
		rt.Language = strings.ToLower(c.Text(c.Ahead(1)))
	case c.AtKw(sqltext.EXTERNAL):
		rt.Language = "c"
	case c.AtWord("mle"):
		rt.Language = "javascript"
		for i := range 6 {
			if c.Ahead(i).Kw == sqltext.LANGUAGE {
				rt.Language = strings.ToLower(c.Text(c.Ahead(i + 1)))
			}
		}
	default:
		locals := r.declarations(c, nil, nil, depth+1)
		if !c.AtKw(sqltext.BEGIN) {
			return
		}
		if depth > 0 && rt.Container == "" && rt.Schema == "" { // a local subprogram
			body.PSMBlock(c, &body.OracleProfile, body.Options{})
			return
		}
		opts := r.bodyOptions(rt)
		b := body.PSMBlock(c, &body.OracleProfile, opts)
		b.Locals = append(locals, b.Locals...)
		r.finish(rt, b)
		return
	}
	rt.SendsMore = true
	toSemicolon(c)
}

// resync moves behind the routine whose header cannot be read.
func (r oracleReader) resync(c *sqltext.Cursor, depth int) {
	for ; !c.Done(); c.I++ {
		t := c.Peek()
		switch {
		case t.Kind == sqltext.Punct && t.Op == ';':
			c.I++
			return
		case t.Kw == sqltext.CREATE, t.Kw == sqltext.PROCEDURE, t.Kw == sqltext.FUNCTION:
			return
		case (t.Kw == sqltext.IS || t.Kw == sqltext.AS) && depth < deepestNesting:
			c.I++
			r.declarations(c, nil, nil, depth+1)
			if c.AtKw(sqltext.BEGIN) {
				body.PSMBlock(c, &body.OracleProfile, body.Options{})
			}
			c.AcceptOp(';')
			return
		}
	}
}

// deepestNesting bounds subprograms inside subprograms.
const deepestNesting = 40

// declarations reads a declarative part up to BEGIN or END. owner gives the
// members of a package their names, and each is told of them.
func (r oracleReader) declarations(c *sqltext.Cursor, owner *signature.Routine, each func(m *oracleMember), depth int) []body.Local {
	var locals []body.Local
	for !c.Done() {
		before := c.I
		switch t := c.Peek(); {
		case t.Kw == sqltext.BEGIN, t.Kw == sqltext.END, t.Kw == sqltext.CREATE && c.Ahead(1).Kw != sqltext.NoKeyword:
			return locals
		case t.Kw == sqltext.PROCEDURE || t.Kw == sqltext.FUNCTION:
			if depth > deepestNesting {
				c.I++
				break
			}
			scoped := owner
			if scoped == nil {
				scoped = &signature.Routine{} // a local subprogram has no name outside
			}
			saved := r.parameters
			r.parameters = nil
			m := r.member(c, scoped, depth)
			r.parameters = saved
			if m != nil && each != nil {
				each(m)
			}
		case t.Kw == sqltext.TYPE:
			c.I++
			r.localType(c, owner)
			toSemicolon(c)
		case t.Is(c.Src, "subtype"):
			c.I++
			if name := r.names(c); len(name) == 1 && owner != nil && c.AcceptKw(sqltext.IS) {
				if typ, ok := r.d.Type(c); ok {
					r.packageType(owner, name[0].name, typ, false)
				}
			}
			toSemicolon(c)
		case t.Kw == sqltext.CURSOR, t.Is(c.Src, "pragma"):
			toSemicolon(c)
		case t.IsName():
			c.I++
			c.AcceptWord("constant")
			if typ, ok := r.d.Type(c); ok && typ.Name != "exception" {
				if owner != nil {
					r.packageType(owner, c.Name(t), typ, true)
				} else if r.opts.Detail {
					locals = append(locals, body.Local{Name: c.Name(t), Type: typ, Offset: int(t.Start)})
				}
			}
			toSemicolon(c)
		default:
			toSemicolon(c)
		}
		c.AcceptOp(';')
		if c.I == before {
			c.I++
		}
	}
	return locals
}

// packageType notes a type, or a variable, that a package declares.
func (r oracleReader) packageType(owner *signature.Routine, name string, t signature.Type, variable bool) {
	d := declared{container: owner.Container, variable: variable}
	d.Schema, d.Name, d.Type = owner.Schema, name, t
	r.file.types = append(r.file.types, d)
}

// localType reads name IS RECORD (…), TABLE OF …, VARRAY (n) OF …, REF CURSOR.
func (r oracleReader) localType(c *sqltext.Cursor, owner *signature.Routine) {
	name := r.names(c)
	if len(name) != 1 || owner == nil || !c.AcceptKw(sqltext.IS) {
		return
	}
	var t signature.Type
	switch {
	case c.AcceptWord("record"):
		t = signature.Type{Kind: signature.KindRecord, Columns: r.columnDefinitions(c)}
	case c.AtWord("ref"):
		t = signature.Type{Kind: signature.KindCursor}
	default:
		var ok bool
		if t, ok = r.collection(c); !ok {
			return
		}
	}
	r.packageType(owner, name[0].name, t, false)
}

// collection reads TABLE OF type, VARRAY (n) OF type and VARYING ARRAY (n) OF type.
func (r oracleReader) collection(c *sqltext.Cursor) (signature.Type, bool) {
	t := signature.Type{Kind: signature.KindArray}
	switch {
	case c.AcceptKw(sqltext.TABLE):
	case c.AcceptWord("varray"), c.AcceptKw(sqltext.VARYING):
		c.AcceptWord("array")
		if c.AtOp('(') && c.Ahead(1).Kind == sqltext.Number {
			for _, digit := range c.Text(c.Ahead(1)) {
				if digit >= '0' && digit <= '9' && t.Length < 1<<24 {
					t.Length = t.Length*10 + int(digit-'0')
				}
			}
		}
		c.SkipParens()
	default:
		return t, false
	}
	if !c.AcceptWord("of") {
		return t, false
	}
	c.AcceptOp('(')
	e, ok := r.d.Type(c)
	if !ok {
		return t, false
	}
	t.Element = &e
	return t, true
}

// pack reads a package, or its body.
func (r oracleReader) pack(c *sqltext.Cursor, first int) {
	parts, isBody := r.packageName(c)
	if len(parts) == 0 {
		c.I = len(c.Tokens)
		return
	}
	if c.AtWord("wrapped") {
		r.wrappedPackage(c, first, parts, isBody)
		return
	}
	for !c.Done() && !c.AtKw(sqltext.IS) && !c.AtKw(sqltext.AS) {
		if !c.SkipParens() {
			c.I++
		}
	}
	c.I++
	owner := r.beginPackage(parts, isBody)
	r.declarations(c, owner, func(m *oracleMember) {
		switch {
		case m.aggregate:
		case !isBody:
			r.declare(m.rt, false)
		case m.hasBody: // the others are declared ahead of their bodies
			r.change(change{kind: fills, routine: m.rt})
		}
	}, 1)
	if c.AtKw(sqltext.BEGIN) {
		body.PSMBlock(c, &body.OracleProfile, body.Options{})
	} else if c.AcceptKw(sqltext.END) {
		r.names(c)
	}
	c.AcceptOp(';')
}

func (r oracleReader) wrappedPackage(c *sqltext.Cursor, first int, parts []ident, isBody bool) {
	p := r.place(int(c.At(first).Start))
	what := "this package"
	if isBody {
		what = "the body of this package"
	}
	ch := r.container(hides, parts)
	ch.isBody = isBody
	ch.problem = &signature.Problem{File: p.File, Line: p.Line, Column: p.Column, Routine: true,
		Message: what + " is wrapped: its members cannot be read; read them from the database, or from the source before it was wrapped"}
	r.change(ch)
	c.I = len(c.Tokens)
}

// createType reads an object type with its methods, a collection type, or the
// body of an object type.
func (r oracleReader) createType(c *sqltext.Cursor, first int) {
	isBody := c.AcceptKw(sqltext.BODY)
	parts := r.unitName(c)
	if len(parts) == 0 {
		toSemicolon(c)
		return
	}
	owner := r.owner(parts)
	if c.AtWord("wrapped") {
		r.wrappedPackage(c, first, parts, isBody)
		return
	}
	for !c.Done() && !c.AtKw(sqltext.IS) && !c.AtKw(sqltext.AS) && !c.AtWord("under") && !c.AtOp(';') {
		if !c.SkipParens() {
			c.I++
		}
	}
	under := c.AcceptWord("under")
	if !under {
		c.I++
	}
	switch {
	case isBody:
		r.change(r.container(closesBody, parts))
		for !c.Done() && !c.AtKw(sqltext.END) && !c.AtKw(sqltext.CREATE) {
			before := c.I
			if !r.methodWords(c) {
				toSemicolon(c)
				c.AcceptOp(';')
			} else if m := r.member(c, owner, 1); m != nil && m.hasBody {
				r.change(change{kind: fills, routine: m.rt})
			}
			if c.I == before {
				c.I++
			}
		}
		c.AcceptKw(sqltext.END)
		toSemicolon(c)
	case under:
		r.names(c)
		r.objectType(c, owner, parts)
	case c.AcceptWord("object"):
		r.objectType(c, owner, parts)
	default:
		if t, ok := r.collection(c); ok {
			r.typeDeclared(parts, t)
		}
		toSemicolon(c)
	}
}

// methodWords moves past the words before PROCEDURE or FUNCTION, and reports
// whether a method begins there.
func (r oracleReader) methodWords(c *sqltext.Cursor) bool {
	first := c.I
	for c.AtKw(sqltext.NOT) || c.AtWord("member") || c.AtWord("static") || c.AtWord("constructor") || c.AtWord("map") || c.AtKw(sqltext.ORDER) ||
		c.AtWord("overriding") || c.AtWord("final") || c.AtWord("instantiable") {
		c.I++
	}
	if c.AtKw(sqltext.PROCEDURE) || c.AtKw(sqltext.FUNCTION) {
		return true
	}
	c.I = first
	return false
}

// objectType reads ( attribute type, …, methods ).
func (r oracleReader) objectType(c *sqltext.Cursor, owner *signature.Routine, parts []ident) {
	t := signature.Type{Kind: signature.KindRecord}
	r.change(r.container(opensContainer, parts))
	if c.AtKw(sqltext.EXTERNAL) || !c.AcceptOp('(') {
		for !c.Done() && !c.AtOp('(') && !c.AtOp(';') {
			c.I++
		}
		if !c.AcceptOp('(') {
			return
		}
	}
	for !c.Done() && !c.AtOp(')') {
		before := c.I
		switch {
		case r.methodWords(c):
			rt := r.member(c, owner, 1)
			if rt != nil {
				r.declare(rt.rt, false)
			}
		case c.AtWord("pragma"):
			skipExpression(c)
		case c.Peek().IsName():
			name := c.Name(c.Next())
			col := signature.Column{Name: name}
			if typ, ok := r.d.Type(c); ok {
				col.Type = &typ
			}
			t.Columns = append(t.Columns, col)
			skipExpression(c)
		default:
			skipExpression(c)
		}
		c.AcceptOp(',')
		if c.I == before {
			c.I++
		}
	}
	r.typeDeclared(parts, t)
	toSemicolon(c)
}

// oracleIdentity tells overloads apart by the types of all parameters. Outside
// of packages there are none.
func oracleIdentity(rt *signature.Routine) string {
	if rt.Container == "" {
		return ""
	}
	var b strings.Builder
	for i := range rt.Parameters {
		b.WriteString(rt.Parameters[i].Type.Name)
		b.WriteByte(',')
	}
	return b.String()
}
