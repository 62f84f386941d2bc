package ddl

import (
	"bytes"

	"ramekin/internal/body"
	"ramekin/internal/signature"
	"ramekin/internal/sqltext"
	"ramekin/internal/sqltype"
)

// MySQL reads MySQL scripts as the command-line client does ("CREATE PROCEDURE
// and CREATE FUNCTION statements").
var MySQL = Dialect{
	Name:  signature.MySQL,
	Lexis: &sqltext.MySQL,
	Type:  sqltype.MySQL,
	Marks: Marks{
		"delimiter": 6, "definer": 3, "unsigned": 2, "auto_increment": 3, "engine": 1, "sqlexception": 2,
		"sqlstate": 1, "deterministic": 1, "iterate": 1, "leave": 1, "ifnull": 1, "mediumtext": 2, "longtext": 2, "invoker": 2,
		"elseif": 1, "soname": 3, "utf8mb4": 3, "charset": 1, "inout": 1, "datetime": 1, "zerofill": 3, "call": 1,
		markBacktickName: 2, markExecutableComment: 5, markDirectionFirst: 1, markEndIf: 1,
	},
	read: readMySQL,
}

// mySQLReader reads one script statement by statement.
type mySQLReader struct{ *reader }

func readMySQL(rd *reader) {
	r := mySQLReader{rd}
	r.eachStatement(&mySQLFrame, r.statement)
}

// mySQLFrame is where the statements of MySQL end.
var mySQLFrame = frameRules{
	begins:  keywordSet(sqltext.CREATE),
	heads:   keywordSet(sqltext.PROCEDURE, sqltext.FUNCTION, sqltext.TRIGGER, sqltext.EVENT),
	blocks:  keywordSet(sqltext.BEGIN, sqltext.IF, sqltext.LOOP, sqltext.WHILE, sqltext.REPEAT),
	recover: nextDelimiter,
}

// nextDelimiter finds the next line after offset that begins with the client's
// DELIMITER command, or 0.
func nextDelimiter(src []byte, offset int) int {
	for offset < len(src) {
		i := bytes.IndexByte(src[offset:], '\n')
		if i < 0 {
			return 0
		}
		offset += i + 1
		const word = "delimiter "
		if len(src)-offset > len(word) && bytes.EqualFold(src[offset:offset+len(word)], []byte(word)) {
			return offset
		}
	}
	return 0
}

// statement reads the statement in r.tokens.
func (r mySQLReader) statement(limit int) {
	c := r.statementCursor()
	switch k := c.Peek().Kw; {
	case k == sqltext.CREATE:
		if r.create(&c, limit) {
			return
		}
		c.I = 0
	case k == sqltext.DROP:
		switch c.Ahead(1).Kw {
		case sqltext.PROCEDURE:
			c.I = 2
			r.dropList(&c, signature.Procedure)
			return
		case sqltext.FUNCTION:
			c.I = 2
			r.dropList(&c, signature.Function)
			return
		}
	}
	if r.opts.Detail && !c.Done() {
		r.scope(nil, body.MySQL(&c, r.bodyOptions(nil)))
	}
}

// create reads a CREATE statement and reports whether it was one of a routine,
// or of something else with a body.
func (r mySQLReader) create(c *sqltext.Cursor, limit int) bool {
	c.I++
	if c.AcceptKw(sqltext.OR) {
		c.I++ // REPLACE
	}
	if c.AtKw(sqltext.DEFINER) {
		c.I++
		c.AcceptOp('=')
		r.account(c)
	}
	aggregate := c.AcceptKw(sqltext.AGGREGATE)
	rt := &signature.Routine{Dialect: r.d.Name, Language: "sql", Kind: signature.Procedure}
	switch c.Next().Kw {
	case sqltext.PROCEDURE:
	case sqltext.FUNCTION:
		rt.Kind = signature.Function
	case sqltext.TRIGGER, sqltext.EVENT:
		if r.opts.Detail {
			c.I = len(c.Tokens)
		}
		return true
	default:
		return false
	}
	if aggregate { // no routine, but it takes the place of one
		if parts := r.names(c); len(parts) > 0 {
			ch := target(drops, parts)
			ch.onlyKind = signature.Function
			r.change(ch)
		}
		return true
	}
	keepsOld, err := r.header(c, rt)
	if err != nil {
		r.broken(rt, err)
		return true
	}
	if cutOff(c, limit) {
		return true
	}
	b := &body.Body{}
	if rt.Language == "sql" {
		b = body.MySQL(c, r.bodyOptions(rt))
	} else {
		rt.SendsMore = true
	}
	rt.At = r.extent(c, 0, len(c.Tokens))
	more := rt.SendsMore
	r.fill(rt, b)
	rt.SendsMore = rt.SendsMore || more
	r.scope(rt, b)
	r.declare(rt, keepsOld)
	return true
}

// account passes over user@host, CURRENT_USER or CURRENT_USER().
func (r mySQLReader) account(c *sqltext.Cursor) {
	c.I++
	if c.AtOp('(') {
		c.SkipParens()
	}
	if c.Peek().Kind == sqltext.Variable {
		c.I++
		for c.AtOp('.') || c.AtOp('%') || c.AtOp('-') {
			c.I += 2
		}
	}
}

// mySQLParameters is the list of both servers; only MariaDB has defaults.
var mySQLParameters = parameterStyle{modes: modesBefore, bare: true}

// header reads from the name up to the body.
func (r mySQLReader) header(c *sqltext.Cursor, rt *signature.Routine) (keepsOld bool, err *syntaxError) {
	if c.AtKw(sqltext.IF) && c.Ahead(1).Kw == sqltext.NOT {
		c.I += 3
		keepsOld = true
	}
	parts := r.names(c)
	if len(parts) == 0 || parts[len(parts)-1].name == "" {
		return false, r.unexpected(c, "the routine's name")
	}
	r.nameRoutine(rt, parts)
	loadable := rt.Kind == signature.Function && c.AtKw(sqltext.RETURNS)
	if !loadable {
		if !c.AcceptOp('(') {
			return false, r.unexpected(c, "( before the parameters")
		}
		if err := r.parameterList(c, rt, &mySQLParameters); err != nil {
			return false, err
		}
	}
	if rt.Kind == signature.Function {
		if !c.AcceptKw(sqltext.RETURNS) {
			return false, r.unexpected(c, "RETURNS")
		}
		t, ok := r.d.Type(c)
		if !ok {
			return false, r.unexpected(c, "the type of the result")
		}
		rt.Returns = &signature.Returns{Type: t}
	}
	if loadable {
		if !c.AcceptKw(sqltext.SONAME) {
			return false, r.unexpected(c, "SONAME and the library")
		}
		if rt.Returns.Type.Name == "integer" {
			rt.Returns.Type.Kind = signature.KindInt64
		}
		rt.Language = "c"
		c.I = len(c.Tokens)
		return keepsOld, nil
	}
	return keepsOld, r.characteristics(c, rt)
}

// characteristics reads what stands between the header and the body.
func (r mySQLReader) characteristics(c *sqltext.Cursor, rt *signature.Routine) *syntaxError {
	for {
		switch {
		case c.AcceptKw(sqltext.COMMENT):
			c.I++
			for c.Peek().Kind == sqltext.String {
				c.I++
			}
		case c.AcceptKw(sqltext.LANGUAGE):
			rt.Language = string(bytes.ToLower(c.Next().Bytes(c.Src)))
		case c.AcceptKw(sqltext.NOT):
			if !c.AcceptWord("deterministic") {
				return r.unexpected(c, "DETERMINISTIC behind NOT")
			}
		case c.AcceptWord("deterministic"):
		case c.AtWord("contains"), c.AtWord("no"):
			c.I += 2
		case c.AtWord("reads"), c.AtWord("modifies"):
			c.I += 3
		case c.AtWord("sql") && c.Ahead(1).Is(c.Src, "security"):
			c.I += 3
		case c.AtKw(sqltext.USING):
			c.I++
			c.SkipParens()
		default:
			if rt.Language != "sql" {
				c.I = len(c.Tokens)
				return nil
			}
			if c.Done() {
				return r.unexpected(c, "the body")
			}
			return nil
		}
	}
}
