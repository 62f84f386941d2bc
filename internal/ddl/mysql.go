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
		Words: map[string]int{"delimiter": 6, "definer": 3, "unsigned": 2, "auto_increment": 3, "engine": 1, "sqlexception": 2,
			"sqlstate": 1, "deterministic": 1, "iterate": 1, "leave": 1, "ifnull": 1, "mediumtext": 2, "longtext": 2, "invoker": 2,
			"elseif": 1, "soname": 3, "utf8mb4": 3, "charset": 1, "inout": 1, "datetime": 1, "zerofill": 3, "call": 1},
		BacktickName: 2, ExecutableComment: 5, DirectionFirst: 2, EndIf: 1,
	},
	read: readMySQL,
}

// mySQLReader reads one script statement by statement.
type mySQLReader struct{ *reader }

func readMySQL(rd *reader) {
	r := mySQLReader{rd}
	var fr framer
	for {
		tokens := r.tokens[:0] // a local one, as this is the innermost loop
		var t sqltext.Token
		for r.scan.Read(&t); t.Kind != sqltext.EOF && t.Kind != sqltext.Delimiter; r.scan.Read(&t) {
			tokens = append(tokens, t)
			framed := t.Kw != sqltext.NoKeyword || t.Op == ';' || t.Op == '(' || t.Op == ')' || len(tokens) == 1
			if framed && fr.ends(tokens) {
				break
			}
		}
		r.tokens = tokens
		limit := len(r.src)
		if len(r.scan.Errors) > 0 {
			e := r.scan.Errors[0]
			r.scan.Errors = r.scan.Errors[:0]
			limit = e.Offset
			r.problem(e.Offset, fr.routine, "%s", e.Message)
			r.statement(limit)
			if next := nextDelimiter(r.src, e.Offset); t.Kind == sqltext.EOF && next > 0 {
				r.scan.Skip(next)
				continue
			}
		} else {
			r.statement(limit)
		}
		if t.Kind == sqltext.EOF {
			return
		}
	}
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

// framer finds the end of a statement whose delimiter is a semicolon: inside
// the body of a routine, a trigger or an event, semicolons part its statements.
type framer struct {
	header   bool // CREATE was the first word and its object is not known yet
	routine  bool
	parens   int
	open     []byte // 'c' for each open CASE, 'b' for each other block
	endAt    int    // index of the last END that closed something
	repeatAt int    // index of a REPEAT that may be a function, or -1
	handler  bool   // inside DECLARE … HANDLER
	until    bool   // inside UNTIL …
}

// ends takes the last of tokens and reports whether the statement ends with it.
// It need be called only for the first token, for keywords, brackets and semicolons.
func (f *framer) ends(tokens []sqltext.Token) bool {
	n := len(tokens) - 1
	t := tokens[n]
	if n == 0 {
		*f = framer{header: t.Kw == sqltext.CREATE, endAt: -2, repeatAt: -1, open: f.open[:0]}
		return t.Kind == sqltext.Punct && t.Op == ';'
	}
	if f.repeatAt >= 0 && f.repeatAt < n {
		if next := tokens[f.repeatAt+1]; next.Kind != sqltext.Punct || next.Op != '(' {
			f.open = append(f.open, 'b')
		}
		f.repeatAt = -1
	}
	if t.Kind == sqltext.Punct {
		switch t.Op {
		case '(':
			f.parens++
		case ')':
			f.parens = max(f.parens-1, 0)
		case ';':
			f.handler, f.until = false, false
			f.parens = 0
			return len(f.open) == 0
		}
		return false
	}
	if f.header {
		switch t.Kw {
		case sqltext.PROCEDURE, sqltext.FUNCTION, sqltext.TRIGGER, sqltext.EVENT:
			f.header, f.routine = false, true
		case sqltext.TABLE, sqltext.VIEW, sqltext.SCHEMA, sqltext.AS, sqltext.SELECT:
			f.header = false
		}
		return false
	}
	prev := tokens[n-1]
	if !f.routine || prev.Kind == sqltext.Punct && prev.Op == '.' {
		return false
	}
	afterEnd := f.endAt == n-1
	switch t.Kw {
	case sqltext.BEGIN:
		if f.statementStart(prev) {
			f.open = append(f.open, 'b')
		}
	case sqltext.IF, sqltext.LOOP, sqltext.WHILE:
		if !afterEnd && f.statementStart(prev) {
			f.open = append(f.open, 'b')
		}
	case sqltext.REPEAT:
		if !afterEnd && f.statementStart(prev) {
			f.repeatAt = n
		}
	case sqltext.CASE:
		if !afterEnd {
			f.open = append(f.open, 'c')
		}
	case sqltext.HANDLER:
		f.handler = true
	case sqltext.UNTIL:
		f.until = true
	case sqltext.END:
		if k := len(f.open); k > 0 && (f.open[k-1] == 'c' || f.until || f.statementStart(prev)) {
			f.open = f.open[:k-1]
			f.until = false
			f.endAt = n
		}
	}
	return false
}

// statementStart reports whether a statement can begin behind the token p.
func (f *framer) statementStart(p sqltext.Token) bool {
	if f.parens > 0 {
		return false
	}
	if p.Kind == sqltext.Punct {
		return p.Op == ';' || p.Op == ':' || len(f.open) == 0 && p.Op == ')'
	}
	switch p.Kw {
	case sqltext.BEGIN, sqltext.THEN, sqltext.ELSE, sqltext.DO, sqltext.LOOP, sqltext.REPEAT:
		return true
	case sqltext.PROCEDURE, sqltext.FUNCTION, sqltext.TRIGGER, sqltext.EVENT, sqltext.DROP:
		return false
	}
	return f.handler || len(f.open) == 0
}

// statement reads the statement in r.tokens.
func (r mySQLReader) statement(limit int) {
	c := sqltext.NewCursor(r.src, r.d.Lexis, r.tokens)
	if n := len(r.tokens); n > 0 && r.tokens[n-1].Kind == sqltext.Punct && r.tokens[n-1].Op == ';' {
		c.Tokens = c.Tokens[:n-1]
	}
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
	keepsOld, err := r.header(c, rt)
	if err != nil {
		r.broken(rt, err)
		return true
	}
	if aggregate || len(c.Tokens) > 0 && int(c.At(len(c.Tokens)-1).End) > limit {
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

// header reads from the name up to the body.
func (r mySQLReader) header(c *sqltext.Cursor, rt *signature.Routine) (keepsOld bool, err *syntaxError) {
	if c.AtKw(sqltext.IF) && c.Ahead(1).Kw == sqltext.NOT {
		c.I += 3
		keepsOld = true
	}
	parts := c.DottedName()
	if len(parts) == 0 || parts[len(parts)-1] == "" {
		return false, r.unexpected(c, "the routine's name")
	}
	r.nameRoutine(rt, parts)
	loadable := rt.Kind == signature.Function && c.AtKw(sqltext.RETURNS)
	if !loadable {
		if err := r.parameters(c, rt); err != nil {
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

func (r mySQLReader) parameters(c *sqltext.Cursor, rt *signature.Routine) *syntaxError {
	if !c.AcceptOp('(') {
		return r.unexpected(c, "( before the parameters")
	}
	if c.AcceptOp(')') {
		return nil
	}
	r.reader.parameters = r.reader.parameters[:0]
	defer r.keepParameters(rt)
	for {
		at := c.Peek()
		p := signature.Parameter{Direction: signature.In, Position: len(r.reader.parameters) + 1, At: r.place(int(at.Start))}
		// A parameter may itself be called in, out or inout only in quotes.
		switch at.Kw {
		case sqltext.IN:
			c.I++
		case sqltext.OUT:
			c.I++
			p.Direction = signature.Out
		case sqltext.INOUT:
			c.I++
			p.Direction = signature.InOut
		}
		if !c.Peek().IsName() {
			return r.unexpected(c, "a parameter's name")
		}
		p.Name = c.Name(c.Next())
		t, ok := r.d.Type(c)
		if !ok {
			return r.unexpected(c, "the type of "+p.Name)
		}
		p.Type = t
		r.reader.parameters = append(r.reader.parameters, p)
		if c.AcceptOp(',') {
			continue
		}
		if !c.AcceptOp(')') {
			return r.unexpected(c, "a comma or the ) that closes the parameters")
		}
		return nil
	}
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
