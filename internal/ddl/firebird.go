package ddl

import (
	"strconv"
	"strings"

	"ramekin/internal/body"
	"ramekin/internal/signature"
	"ramekin/internal/sqltext"
	"ramekin/internal/sqltype"
)

// Firebird reads Firebird scripts as isql does ("CREATE PROCEDURE", "CREATE
// FUNCTION", "CREATE PACKAGE", "DECLARE EXTERNAL FUNCTION", "SET TERM").
var Firebird = Dialect{
	Name:  signature.Firebird,
	Lexis: &sqltext.Firebird,
	Type:  sqltype.Firebird,
	Marks: Marks{
		"suspend": 5, "recreate": 5, "autoddl": 6, "rdb$database": 5, "sub_type": 5, "generator": 4, "gen_id": 5, "returning_values": 5,
		"entry_point": 5, "module_name": 5, "computed": 2, "isql": 4, "cstring": 5, "octets": 2, "domain": 1, "gdscode": 4, "variable": 1,
		markSetTerm: 8, markSuspend: 4, markReturnsOutputs: 3, markColonVariable: 1,
		markProcedureReturns: 1,
	},
	read: readFirebird,
}

var firebirdFrame = frameRules{
	begins:        keywordSet(sqltext.CREATE, sqltext.ALTER),
	heads:         keywordSet(sqltext.PROCEDURE, sqltext.FUNCTION, sqltext.TRIGGER, sqltext.PACKAGE),
	blocks:        keywordSet(sqltext.BEGIN),
	endIsReserved: true,
	anonymous:     *keywordSet(sqltext.EXECUTE),
	sections:      true,
	client:        firebirdClient,
	onlyDelimiter: endsAll,
}

// firebirdClient reads SET TERM.
func firebirdClient(r *reader, t sqltext.Token) bool {
	if t.Kind == sqltext.Punct && t.Op == ';' {
		return true
	}
	if t.Kw != sqltext.SET {
		return false
	}
	rest := r.scan.RestOfLine()
	if len(rest) < 5 || !strings.EqualFold(rest[:4], "term") || !strings.ContainsRune(" \t", rune(rest[4])) {
		return false
	}
	old := r.scan.Delimiter()
	mark := strings.TrimSpace(rest[5:])
	if i := strings.IndexAny(mark, " \t"); i > 0 {
		mark = mark[:i]
	} else {
		mark = strings.TrimSuffix(mark, old)
	}
	if mark == "" {
		mark = ";"
	}
	from := r.scan.Pos() + strings.Index(r.scan.Line(), rest) + 5 + strings.Index(rest[5:], mark) + len(mark)
	if i := strings.Index(rest[5+strings.Index(rest[5:], mark)+len(mark):], old); i >= 0 {
		r.scan.Skip(from + i + len(old)) // a statement may follow on the line
	} else {
		r.scan.SkipLine()
	}
	r.scan.SetDelimiter(mark)
	return true
}

type firebirdReader struct{ *reader }

func readFirebird(rd *reader) {
	r := firebirdReader{rd}
	r.eachStatement(&firebirdFrame, r.statement)
}

func (r firebirdReader) statement(limit int) {
	c := r.statementCursor()
	switch {
	case c.AtWord("recreate"):
		r.create(&c, limit)
	case c.AtKw(sqltext.CREATE), c.AtKw(sqltext.ALTER):
		r.create(&c, limit)
	case c.AtKw(sqltext.DECLARE) && c.Ahead(1).Kw == sqltext.EXTERNAL:
		r.external(&c, limit)
	case c.AtKw(sqltext.DROP):
		c.I++
		switch {
		case c.AcceptKw(sqltext.EXTERNAL):
			c.I++
			r.dropList(&c, signature.Function)
		case c.AcceptKw(sqltext.PROCEDURE):
			r.dropList(&c, signature.Procedure)
		case c.AcceptKw(sqltext.FUNCTION):
			r.dropList(&c, signature.Function)
		case c.AcceptKw(sqltext.PACKAGE):
			r.dropPackage(&c)
		}
	default:
		if r.opts.Detail && !c.Done() {
			r.scope(nil, body.PSM(&c, &body.FirebirdProfile, r.bodyOptions(nil)))
		}
	}
}

func (r firebirdReader) create(c *sqltext.Cursor, limit int) {
	c.I++
	if c.AcceptKw(sqltext.OR) {
		c.I++ // ALTER
	}
	switch {
	case c.AtKw(sqltext.PROCEDURE), c.AtKw(sqltext.FUNCTION):
		if rt := r.routine(c, nil, limit); rt != nil {
			rt.At = r.extent(c, 0, len(c.Tokens))
			if n := len(r.tokens); n > len(c.Tokens) {
				rt.At.EndLine = r.place(int(r.tokens[n-1].Start)).Line
			}
			r.declare(rt, false)
		}
	case c.AcceptKw(sqltext.PACKAGE):
		r.pack(c, limit)
	case c.AcceptWord("domain"):
		r.createDomain(c)
	case c.AcceptWord("global"), c.AtKw(sqltext.TABLE):
		c.AcceptWord("temporary")
		if c.AcceptKw(sqltext.TABLE) {
			r.createTable(c, signature.KindRecord)
		}
	}
}

var (
	firebirdInputs  = parameterStyle{modes: modesNone, equals: true}
	firebirdOutputs = parameterStyle{modes: modesNone, direction: signature.Out}
)

// routine reads PROCEDURE or FUNCTION, its header and, where it has one, its
// body. It returns nil where the header cannot be read, and has told so.
func (r firebirdReader) routine(c *sqltext.Cursor, owner *signature.Routine, limit int) *signature.Routine {
	first := c.I
	rt := &signature.Routine{Dialect: r.d.Name, Kind: signature.Procedure, Language: "sql"}
	if c.Next().Kw == sqltext.FUNCTION {
		rt.Kind = signature.Function
	}
	parts := r.names(c)
	if len(parts) == 0 {
		r.broken(rt, r.unexpected(c, "the routine's name"))
		return nil
	}
	r.nameRoutine(rt, parts)
	if owner != nil {
		rt.Container = owner.Container
		rt.Quoted |= owner.Quoted
		rt.SetKey()
	}
	if err := r.header(c, rt); err != nil {
		r.broken(rt, err)
		return nil
	}
	if cutOff(c, limit) {
		return nil
	}
	switch {
	case c.AcceptKw(sqltext.EXTERNAL):
		rt.Language = "c"
		rt.SendsMore = true
		for !c.Done() && !c.AtOp(';') && !c.AtKw(sqltext.END) {
			if c.AcceptWord("engine") {
				rt.Language = strings.ToLower(c.Name(c.Peek()))
			}
			if k := c.Peek().Kw; owner != nil && (k == sqltext.PROCEDURE || k == sqltext.FUNCTION) {
				break
			}
			c.I++
		}
	case c.AcceptKw(sqltext.AS):
		if c.AcceptKw(sqltext.EXTERNAL) {
			c.I--
			return rt
		}
		r.body(c, rt)
	}
	rt.At = r.extent(c, first, c.I)
	return rt
}

func (r firebirdReader) header(c *sqltext.Cursor, rt *signature.Routine) *syntaxError {
	if c.AcceptOp('(') {
		if err := r.parameterList(c, rt, &firebirdInputs); err != nil {
			return err
		}
	}
	if c.AcceptKw(sqltext.RETURNS) {
		if rt.Kind == signature.Procedure {
			if !c.AcceptOp('(') {
				return r.unexpected(c, "( before the outputs")
			}
			if err := r.parameterList(c, rt, &firebirdOutputs); err != nil {
				return err
			}
		} else {
			t, ok := r.d.Type(c)
			if !ok {
				return r.unexpected(c, "the type of the result")
			}
			rt.Returns = &signature.Returns{Type: t}
			notNull(c)
		}
	} else if rt.Kind == signature.Function {
		return r.unexpected(c, "RETURNS and the type of the result")
	}
	for c.AtWord("deterministic") || c.AtKw(sqltext.NOT) || c.AtWord("sql") || c.AtWord("security") || c.AtWord("invoker") || c.AtKw(sqltext.DEFINER) ||
		c.AtWord("authid") || c.AtWord("owner") || c.AtWord("caller") {
		c.I++
	}
	if !c.Done() && !c.AtKw(sqltext.AS) && !c.AtKw(sqltext.EXTERNAL) && !c.AtOp(';') {
		return r.unexpected(c, "AS and the body")
	}
	return nil
}

// body reads the declarations and the block behind AS.
func (r firebirdReader) body(c *sqltext.Cursor, rt *signature.Routine) {
	b := body.PSMSection(c, &body.FirebirdProfile, r.bodyOptions(rt))
	r.fill(rt, b)
	if rt.Kind == signature.Procedure && len(b.Suspends) > 0 {
		rs := signature.ResultSet{Line: r.place(b.Suspends[0]).Line}
		for i := range rt.Parameters {
			if p := &rt.Parameters[i]; p.Direction == signature.Out {
				t := p.Type
				rs.Columns = append(rs.Columns, signature.Column{Name: p.Name, Type: &t})
			}
		}
		rt.Results = append(rt.Results, rs)
	}
	r.scope(rt, b)
}

// pack reads a package, or its body.
func (r firebirdReader) pack(c *sqltext.Cursor, limit int) {
	parts, isBody := r.packageName(c)
	if len(parts) == 0 {
		return
	}
	owner := r.beginPackage(parts, isBody)
	for !c.Done() && !c.AtKw(sqltext.BEGIN) {
		c.I++
	}
	c.I++
	for !c.Done() && !c.AtKw(sqltext.END) {
		if !c.AtKw(sqltext.PROCEDURE) && !c.AtKw(sqltext.FUNCTION) {
			c.I++
			continue
		}
		first := c.I
		rt := r.routine(c, owner, limit)
		if rt == nil {
			for c.I = max(c.I, first+1); !c.Done() && !c.AtOp(';') && !c.AtKw(sqltext.PROCEDURE) && !c.AtKw(sqltext.FUNCTION); c.I++ {
			}
			continue
		}
		switch hasBody := c.I > 0 && (c.At(c.I-1).Kw == sqltext.END || rt.Language != "sql"); {
		case !isBody:
			if c.AtOp(';') {
				rt.At.EndLine = r.place(int(c.Peek().Start)).Line
			}
			r.declare(rt, false)
		case hasBody:
			r.change(change{kind: fills, routine: rt})
		}
	}
}

// external reads DECLARE EXTERNAL FUNCTION of the old kind.
func (r firebirdReader) external(c *sqltext.Cursor, limit int) {
	c.I += 2
	if !c.AcceptKw(sqltext.FUNCTION) {
		return
	}
	rt := &signature.Routine{Dialect: r.d.Name, Kind: signature.Function, Language: "c"}
	parts := r.names(c)
	if len(parts) == 0 {
		r.broken(rt, r.unexpected(c, "the function's name"))
		return
	}
	r.nameRoutine(rt, parts)
	r.parameters = r.parameters[:0]
	for !c.Done() && !c.AtKw(sqltext.RETURNS) {
		at := c.Peek()
		t, ok := r.d.Type(c)
		if !ok {
			r.broken(rt, r.unexpected(c, "the type of a parameter, or RETURNS"))
			return
		}
		r.parameters = append(r.parameters, signature.Parameter{Position: len(r.parameters) + 1, Direction: signature.In, Type: t, At: r.place(int(at.Start))})
		for !c.Done() && !c.AtKw(sqltext.RETURNS) && !c.AtOp(',') { // BY DESCRIPTOR, NULL
			c.I++
		}
		c.AcceptOp(',')
	}
	r.keepParameters(rt)
	if !c.AcceptKw(sqltext.RETURNS) {
		r.broken(rt, r.unexpected(c, "RETURNS"))
		return
	}
	if c.AtWord("parameter") && c.Ahead(1).Kind == sqltext.Number { // the result is a parameter
		for i := range rt.Parameters {
			if c.Text(c.Ahead(1)) == strconv.Itoa(i+1) {
				rt.Returns = &signature.Returns{Type: rt.Parameters[i].Type}
				rt.Parameters = append(rt.Parameters[:i], rt.Parameters[i+1:]...)
				for k := range rt.Parameters {
					rt.Parameters[k].Position = k + 1
				}
				break
			}
		}
	} else if t, ok := r.d.Type(c); ok {
		rt.Returns = &signature.Returns{Type: t}
	} else {
		r.broken(rt, r.unexpected(c, "the type of the result"))
		return
	}
	if cutOff(c, limit) {
		return
	}
	rt.At = r.extent(c, 0, len(c.Tokens))
	r.declare(rt, false)
}
