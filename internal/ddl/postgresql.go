package ddl

import (
	"bytes"
	"strings"

	"ramekin/internal/body"
	"ramekin/internal/signature"
	"ramekin/internal/sqltext"
	"ramekin/internal/sqltype"
)

// PostgreSQL reads PostgreSQL scripts as psql does ("CREATE FUNCTION", "CREATE
// PROCEDURE"), dump files and the scripts of extensions included.
var PostgreSQL = Dialect{
	Name:  signature.PostgreSQL,
	Lexis: &sqltext.PostgreSQL,
	Type:  sqltype.PostgreSQL,
	Marks: Marks{
		"plpgsql": 6, "setof": 4, "immutable": 2, "stable": 1, "strict": 2, "bytea": 3, "jsonb": 4, "timestamptz": 3,
		"perform": 2, "tsvector": 3, "refcursor": 3, "ilike": 2, "search_path": 4, "variadic": 2, "leakproof": 3, "parallel": 1,
		"refresh": 1, "pg_catalog": 4, "serial": 1, "regclass": 3, "elsif": 1, "int4": 2, "int8": 1, "float8": 2, "bigserial": 2,
		"extension": 1, "language": 1, "volatile": 1, "anyelement": 4, "owner": 1, "returns": 1, "cost": 1, "found": 1,
		markDollarQuote: 5, markDirectionFirst: 1, markCast: 2, markBackslashLine: 5, markRaiseNotice: 4,
	},
	identity: postgreSQLIdentity,
	read:     readPostgreSQL,
}

var postgreSQLFrame = frameRules{
	begins: keywordSet(sqltext.CREATE),
	heads:  keywordSet(sqltext.PROCEDURE, sqltext.FUNCTION),
	blocks: keywordSet(sqltext.BEGIN),
	client: func(_ *reader, t sqltext.Token) bool { return t.Kind == sqltext.Punct && t.Op == ';' },
}

type postgreSQLReader struct{ *reader }

func readPostgreSQL(rd *reader) {
	r := postgreSQLReader{rd}
	r.eachStatement(&postgreSQLFrame, r.statement)
}

func (r postgreSQLReader) statement(limit int) {
	c := r.statementCursor()
	switch c.Peek().Kw {
	case sqltext.CREATE:
		c.I++
		if c.AcceptKw(sqltext.OR) {
			c.I++ // REPLACE
		}
		r.create(&c, limit)
	case sqltext.DROP:
		c.I++
		switch {
		case c.AcceptKw(sqltext.FUNCTION):
			r.dropList(&c, signature.Function)
		case c.AcceptKw(sqltext.PROCEDURE):
			r.dropList(&c, signature.Procedure)
		case c.AcceptWord("routine"):
			r.dropList(&c, "")
		}
	case sqltext.ALTER:
		c.I++
		r.alter(&c)
	case sqltext.DO:
		r.block(&c)
	default:
		if c.AtWord("copy") {
			r.skipData(&c)
			return
		}
		r.bare(&c)
	}
}

// block reads what an anonymous block declares. It may do so on a condition
// only; a reader of the file takes it for declared.
func (r postgreSQLReader) block(c *sqltext.Cursor) {
	for i := 1; i < len(c.Tokens); i++ {
		if c.Tokens[i].Kind != sqltext.String {
			continue
		}
		inner := r.within(c.Tokens[i])
		if inner == nil || inner.origin != nil || r.depth > 2 {
			return
		}
		ic := cursorOver(inner.src, r.d.Lexis, inner.start, inner.end)
		if r.opts.Detail {
			probe := ic
			r.scope(nil, body.PSM(&probe, &body.PLpgSQLProfile, r.bodyOptions(nil)))
		}
		for !ic.Done() {
			first := ic.I
			t := ic.Next()
			if t.Kw != sqltext.CREATE || first > 0 && !startsStatement(ic.At(first-1)) {
				continue
			}
			toSemicolon(&ic)
			one := ic
			one.Tokens, one.I = ic.Tokens[first:ic.I], 1
			if one.AcceptKw(sqltext.OR) {
				one.I++ // REPLACE
			}
			r.create(&one, inner.end)
		}
		return
	}
}

// startsStatement reports whether a statement can begin behind the token.
func startsStatement(t sqltext.Token) bool {
	switch t.Kw {
	case sqltext.BEGIN, sqltext.THEN, sqltext.ELSE, sqltext.LOOP:
		return true
	}
	return t.Kind == sqltext.Punct && t.Op == ';'
}

// bare walks over a statement that declares nothing, for its calls.
func (r postgreSQLReader) bare(c *sqltext.Cursor) {
	if r.opts.Detail && !c.Done() {
		c.I = 0
		r.scope(nil, body.PSM(c, &body.PLpgSQLProfile, r.bodyOptions(nil)))
	}
}

// skipData moves past the data behind COPY … FROM stdin, which end with \. on a
// line of its own.
func (r postgreSQLReader) skipData(c *sqltext.Cursor) {
	from := false
	for ; !c.Done(); c.I++ {
		from = from || c.AtKw(sqltext.FROM)
		if from && c.AtWord("stdin") {
			rest := r.src[r.scan.Pos():]
			if i := bytes.Index(rest, []byte("\n\\.")); i >= 0 {
				r.scan.Skip(r.scan.Pos() + i + 3)
			} else if bytes.HasPrefix(bytes.TrimLeft(rest, "\r\n"), []byte("\\.")) || len(rest) > 0 && from {
				r.scan.Skip(len(r.src))
			}
			return
		}
	}
}

func (r postgreSQLReader) create(c *sqltext.Cursor, limit int) {
	switch {
	case c.AcceptKw(sqltext.FUNCTION):
		r.routine(c, signature.Function, limit)
		return
	case c.AcceptKw(sqltext.PROCEDURE):
		r.routine(c, signature.Procedure, limit)
		return
	case c.AcceptKw(sqltext.TYPE):
		r.createType(c)
		return
	case c.AcceptWord("domain"):
		r.createDomain(c)
		return
	}
	for c.AtWord("temp") || c.AtWord("temporary") || c.AtWord("global") || c.AtWord("local") || c.AtWord("unlogged") || c.AtWord("foreign") {
		c.I++
	}
	if c.AcceptKw(sqltext.TABLE) {
		r.createTable(c, signature.KindRecord)
	}
}

// createType reads CREATE TYPE: composite and enumerated types have a meaning
// here, base and range types stay as they are.
func (r postgreSQLReader) createType(c *sqltext.Cursor) {
	parts := r.names(c)
	if len(parts) == 0 {
		return
	}
	base := signature.Type{Name: strings.ToLower(parts[len(parts)-1].name), Kind: signature.KindUser}
	if !c.AcceptKw(sqltext.AS) {
		r.typeDeclared(parts, base)
		return
	}
	switch {
	case c.AcceptWord("range"):
		r.typeDeclared(parts, base)
	case c.AtOp('('):
		r.typeDeclared(parts, signature.Type{Kind: signature.KindRecord, Columns: r.columnDefinitions(c)})
	case c.AcceptWord("enum"):
		r.typeDeclared(parts, signature.Type{Kind: signature.KindString})
	}
}

// alter reads ALTER FUNCTION name(types) RENAME TO name | SET SCHEMA name.
func (r postgreSQLReader) alter(c *sqltext.Cursor) {
	var kind signature.RoutineKind
	switch {
	case c.AcceptKw(sqltext.FUNCTION):
		kind = signature.Function
	case c.AcceptKw(sqltext.PROCEDURE):
		kind = signature.Procedure
	case c.AcceptWord("routine"):
	default:
		return
	}
	parts := r.names(c)
	if len(parts) == 0 {
		return
	}
	ch := target(renames, parts)
	ch.onlyKind = kind
	r.overload(c, &ch)
	switch {
	case c.AtWord("rename"):
		c.I += 2 // TO
	case c.AtKw(sqltext.SET) && c.Ahead(1).Kw == sqltext.SCHEMA:
		c.I += 2
		ch.kind = movesSchema
	default:
		return
	}
	if to := r.names(c); len(to) == 1 {
		ch.to = to[0]
		r.change(ch)
	}
}

func (r postgreSQLReader) routine(c *sqltext.Cursor, kind signature.RoutineKind, limit int) {
	rt := &signature.Routine{Dialect: r.d.Name, Kind: kind}
	def, err := r.header(c, rt)
	if err != nil {
		r.broken(rt, err)
		return
	}
	if cutOff(c, limit) {
		return // told already, as the fault of the text
	}
	rt.At = r.extent(c, 0, len(c.Tokens))
	if n := len(r.tokens); n == len(c.Tokens)+1 {
		rt.At.EndLine = r.place(int(r.tokens[n-1].Start)).Line
	}
	r.body(c, rt, def)
	r.declare(rt, false)
}

var postgreSQLParameters = parameterStyle{modes: modesEither, unnamed: true, equals: true, variadic: true}

// definition is where the body of a routine stands: the tokens of an SQL body,
// or the string behind AS.
type definition struct {
	first, last int // tokens
	text        sqltext.Token
	isText      bool
}

func (r postgreSQLReader) header(c *sqltext.Cursor, rt *signature.Routine) (definition, *syntaxError) {
	var def definition
	parts := r.names(c)
	if len(parts) == 0 || parts[len(parts)-1].name == "" {
		return def, r.unexpected(c, "the routine's name")
	}
	r.nameRoutine(rt, parts)
	if !c.AcceptOp('(') {
		return def, r.unexpected(c, "( before the parameters")
	}
	if err := r.parameterList(c, rt, &postgreSQLParameters); err != nil {
		return def, err
	}
	if c.AtKw(sqltext.RETURNS) && c.Ahead(1).Kw != sqltext.NULL {
		c.I++
		if err := r.returns(c, rt); err != nil {
			return def, err
		}
	}
	return def, r.attributes(c, rt, &def)
}

func (r postgreSQLReader) returns(c *sqltext.Cursor, rt *signature.Routine) *syntaxError {
	first := c.I
	if c.AtKw(sqltext.TABLE) && c.Ahead(1).Op == '(' {
		c.I++
		cols := r.columnDefinitions(c)
		rt.Returns = tableOf(cols, c.FoldFrom(first))
		return nil
	}
	rt.Returns = &signature.Returns{Set: c.AcceptWord("setof")}
	t, ok := r.d.Type(c)
	if !ok {
		return r.unexpected(c, "the type of the result")
	}
	rt.Returns.Type = t
	return nil
}

// attributes reads what stands between the header and the end, in any order.
func (r postgreSQLReader) attributes(c *sqltext.Cursor, rt *signature.Routine, def *definition) *syntaxError {
	for !c.Done() {
		switch t := c.Peek(); {
		case t.Kw == sqltext.LANGUAGE:
			c.I++
			l := c.Next()
			rt.Language = strings.ToLower(l.Name(c.Src))
			if l.Kind == sqltext.String {
				rt.Language = strings.ToLower(sqltext.StringValue(c.Text(l), c.Lex))
			}
		case t.Kw == sqltext.AS:
			c.I++
			if c.Peek().Kind != sqltext.String {
				return r.unexpected(c, "the text of the body")
			}
			def.text, def.isText = c.Next(), true
			for c.AcceptOp(',') { // AS 'object', 'symbol'
				c.I++
			}
		case t.Kw == sqltext.BEGIN || t.Kw == sqltext.RETURN:
			def.first, def.last = c.I, len(c.Tokens)
			c.I = len(c.Tokens)
		case t.Is(c.Src, "transform"):
			for c.I++; c.AtKw(sqltext.FOR) || c.AtKw(sqltext.TYPE) || c.AtOp(','); {
				if c.AcceptKw(sqltext.TYPE) {
					r.d.Type(c)
					continue
				}
				c.I++
			}
		case t.Kw == sqltext.SET:
			c.I++
			c.DottedName()
			r.skipSetting(c)
		case t.Kw == sqltext.WITH:
			c.I++
			c.SkipParens()
		case t.Kind == sqltext.Word || t.Kind == sqltext.Number:
			c.I++
		case t.Is(c.Src, "support"):
			c.I++
			c.DottedName()
		case t.Kind == sqltext.Punct && t.Op == '.':
			c.I += 2 // SUPPORT schema.name
		default:
			return r.unexpected(c, "an attribute of the routine, or its body")
		}
	}
	if rt.Language == "" {
		rt.Language = "sql"
	}
	if !def.isText && def.last == 0 {
		return r.unexpected(c, "the body")
	}
	return nil
}

// skipSetting moves past the value of SET name = value, …
func (r postgreSQLReader) skipSetting(c *sqltext.Cursor) {
	if c.AcceptKw(sqltext.FROM) {
		c.I++ // CURRENT
		return
	}
	if !c.AcceptOp('=') {
		c.AcceptWord("to")
	}
	for {
		c.AcceptOp('-')
		c.I++
		for c.AcceptOp('.') {
			c.I++
		}
		if !c.AcceptOp(',') {
			return
		}
	}
}

// body reads what the body does, as far as somebody wants to know.
func (r postgreSQLReader) body(c *sqltext.Cursor, rt *signature.Routine, def definition) {
	if !def.isText {
		inner := *c
		inner.I, inner.Tokens = def.first, c.Tokens[:def.last]
		r.finish(rt, body.PSM(&inner, &body.PLpgSQLProfile, r.bodyOptions(rt)))
		return
	}
	rt.SendsMore = rt.Kind == signature.Procedure
	if !r.opts.Detail && !(rt.Kind == signature.Procedure && hasCursorOutput(rt)) {
		return
	}
	inner := r.within(def.text)
	if inner == nil {
		return
	}
	ic := r.cursorWithin(inner)
	switch {
	case rt.Language == "plpgsql", rt.Language == "sql":
		inner.finish(rt, body.PSM(&ic, &body.PLpgSQLProfile, r.bodyOptions(rt)))
	case body.IsEmbedded(rt.Language):
		b := &body.Body{Mentions: body.Mentions(inner.src[inner.start:inner.end], rt.Language, parameterNames(rt), inner.start)}
		inner.finish(rt, b)
		rt.SendsMore = true
	}
}

// hasCursorOutput reports whether rows can come through an output.
func hasCursorOutput(rt *signature.Routine) bool {
	for _, p := range rt.Outputs() {
		if p.Type.Kind == signature.KindCursor {
			return true
		}
	}
	return false
}

func parameterNames(rt *signature.Routine) []string {
	var names []string
	for i := range rt.Parameters {
		if n := rt.Parameters[i].Name; n != "" {
			names = append(names, n)
		}
	}
	return names
}

// postgreSQLNames are the names under which the server keeps the built-in
// types, where it has another than the one written.
var postgreSQLNames = map[string]string{
	"int": "integer", "int4": "integer", "int8": "bigint", "int2": "smallint", "float8": "double precision", "float": "double precision", "float4": "real",
	"bool": "boolean", "varchar": "character varying", "char varying": "character varying", "bpchar": "character", "char": "character", "nchar": "character",
	"timestamptz": "timestamp with time zone", "timestamp": "timestamp without time zone", "timetz": "time with time zone", "time": "time without time zone",
	"decimal": "numeric", "dec": "numeric", "varbit": "bit varying", "national character": "character", "national character varying": "character varying",
}

// postgreSQLIdentity is the types of the inputs, which tell overloads apart
// ("Function overloading").
func postgreSQLIdentity(rt *signature.Routine) string {
	var b strings.Builder
	for i := range rt.Parameters {
		p := &rt.Parameters[i]
		if p.Direction == signature.Out {
			continue
		}
		b.WriteString(postgreSQLTypeName(&p.Type))
		b.WriteByte(',')
	}
	return b.String()
}

func postgreSQLTypeName(t *signature.Type) string {
	if t.Kind == signature.KindArray && t.Element != nil {
		return postgreSQLTypeName(t.Element) + "[]"
	}
	name := t.Name
	if t.Text == `"char"` {
		return name + `"`
	}
	if known := postgreSQLNames[name]; known != "" {
		name = known
	}
	if t.Kind == signature.KindUser {
		_, name = sqltype.SplitName(name)
	}
	return name
}
