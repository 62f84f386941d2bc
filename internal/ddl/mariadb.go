package ddl

import (
	"strings"

	"ramekin/internal/body"
	"ramekin/internal/signature"
	"ramekin/internal/sqltext"
	"ramekin/internal/sqltype"
)

// MariaDB reads MariaDB scripts as the command-line client does ("Stored
// routines", "CREATE PACKAGE", "sql_mode=ORACLE").
var MariaDB = Dialect{
	Name:  signature.MariaDB,
	Lexis: &sqltext.MariaDB,
	Type:  sqltype.MariaDB,
	Marks: Marks{
		"delimiter": 6, "definer": 3, "unsigned": 2, "auto_increment": 3, "engine": 1, "sqlexception": 2, "sqlstate": 1,
		"deterministic": 1, "iterate": 1, "leave": 1, "ifnull": 1, "mediumtext": 2, "longtext": 2, "invoker": 2, "elseif": 1, "soname": 3, "utf8mb4": 3,
		"charset": 1, "inout": 1, "datetime": 1, "zerofill": 3, "call": 1, "mariadb": 8, "inet6": 4, "inet4": 4, "aria": 4,
		markBacktickName: 2, markExecutableComment: 5, markDirectionFirst: 1, markEndIf: 1, markMariaDBOwn: 6, markOracleMode: 40,
	},
	read: readMariaDB,
}

// mariaDBFrame is where the statements of MariaDB end.
var mariaDBFrame = frameRules{
	begins:  keywordSet(sqltext.CREATE),
	heads:   keywordSet(sqltext.PROCEDURE, sqltext.FUNCTION, sqltext.TRIGGER, sqltext.EVENT, sqltext.PACKAGE),
	blocks:  keywordSet(sqltext.BEGIN, sqltext.IF, sqltext.LOOP, sqltext.WHILE, sqltext.REPEAT, sqltext.FOR),
	recover: nextDelimiter,
	// The bodies of sql_mode=ORACLE have semicolons before their BEGIN.
	onlyDelimiter: endsRoutines,
}

// mariaDBReader reads one script. Which of the two languages a routine is in
// follows from sql_mode as the script sets it.
type mariaDBReader struct {
	mySQLReader
	oracle *bool
}

func readMariaDB(rd *reader) {
	oracle := false
	r := mariaDBReader{mySQLReader{rd}, &oracle}
	r.eachStatement(&mariaDBFrame, r.statement)
}

func (r mariaDBReader) statement(limit int) {
	c := r.statementCursor()
	switch {
	case c.AtKw(sqltext.SET):
		r.mode(&c)
	case c.AtKw(sqltext.CREATE):
		i := createWords(&c)
		if c.Ahead(i).Is(r.src, "temporary") {
			i++
		}
		switch k := c.Ahead(i).Kw; {
		case k == sqltext.TABLE:
			c.I = i + 1
			r.createTable(&c, signature.KindRecord)
			c.I = 0
		case k == sqltext.PACKAGE:
			c.I = i + 1
			r.pack(&c)
			return
		case *r.oracle && (k == sqltext.PROCEDURE || k == sqltext.FUNCTION) && !(k == sqltext.FUNCTION && c.Ahead(i-1).Kw == sqltext.AGGREGATE):
			c.I = i
			rt, keepsOld := r.member(&c, nil, limit)
			if rt != nil {
				rt.At = r.extent(&c, 0, len(c.Tokens))
				r.declare(rt, keepsOld)
			}
			return
		}
	case c.AtKw(sqltext.DROP) && c.Ahead(1).Kw == sqltext.PACKAGE:
		c.I = 2
		r.dropPackage(&c)
		return
	}
	r.mySQLReader.statement(limit)
}

// createWords counts the words from CREATE up to what is created.
func createWords(c *sqltext.Cursor) int {
	i := 1
	for {
		switch t := c.Ahead(i); {
		case t.Kw == sqltext.OR, t.Kw == sqltext.REPLACE, t.Kw == sqltext.AGGREGATE:
			i++
		case t.Kw == sqltext.DEFINER: // DEFINER = user@host
			probe := *c
			probe.I += i + 1
			probe.AcceptOp('=')
			mySQLReader{}.account(&probe)
			if probe.I-c.I <= i {
				return i
			}
			i = probe.I - c.I
		default:
			return i
		}
	}
}

// mode reads SET [SESSION | GLOBAL | @@] sql_mode = …
func (r mariaDBReader) mode(c *sqltext.Cursor) {
	for i := 1; i < 6; i++ {
		t := c.Ahead(i)
		if name := strings.ToLower(c.Text(t)); name != "sql_mode" && name != "@@sql_mode" && !strings.HasSuffix(name, ".sql_mode") {
			continue
		}
		var value strings.Builder
		for k := i + 1; c.I+k < len(c.Tokens); k++ {
			value.WriteString(strings.ToLower(c.Text(c.Ahead(k))))
		}
		v := value.String()
		if strings.Contains(v, "@@") && !strings.Contains(v, "oracle") && !strings.Contains(v, "ansi") {
			return // something added to the mode at hand
		}
		*r.oracle = strings.Contains(v, "oracle")
		lexis := &sqltext.MariaDB
		if *r.oracle || strings.Contains(v, "ansi") {
			lexis = &sqltext.MariaDBANSI
		}
		r.scan.SetLexis(lexis)
		return
	}
}

var mariaDBOracleParameters = parameterStyle{modes: modesEither}

// member reads PROCEDURE or FUNCTION in the language of sql_mode=ORACLE. It
// returns nil where the header cannot be read, and has told so.
func (r mariaDBReader) member(c *sqltext.Cursor, owner *signature.Routine, limit int) (rt *signature.Routine, keepsOld bool) {
	rt = &signature.Routine{Dialect: r.d.Name, Kind: signature.Procedure, Language: "sql"}
	if c.Next().Kw == sqltext.FUNCTION {
		rt.Kind = signature.Function
	}
	if c.AtKw(sqltext.IF) && c.Ahead(1).Kw == sqltext.NOT {
		c.I += 3
		keepsOld = true
	}
	parts := r.names(c)
	if len(parts) == 0 {
		r.broken(rt, r.unexpected(c, "the routine's name"))
		return nil, false
	}
	r.nameRoutine(rt, parts)
	if owner != nil {
		rt.Schema, rt.Container = owner.Schema, owner.Container
		rt.SetKey()
	}
	if err := r.oracleHeader(c, rt); err != nil {
		r.broken(rt, err)
		return nil, false
	}
	if cutOff(c, limit) {
		return nil, false
	}
	profile := &body.MySQLProfile
	if *r.oracle {
		profile = &body.MariaDBOracleProfile
	}
	if c.AcceptKw(sqltext.AS) || c.AcceptKw(sqltext.IS) || owner == nil && !c.AtOp(';') {
		var b *body.Body
		if owner == nil && !*r.oracle {
			b = body.PSM(c, profile, r.bodyOptions(rt))
		} else {
			b = body.PSMSection(c, profile, r.bodyOptions(rt))
		}
		r.finish(rt, b)
	} else if c.AtKw(sqltext.BEGIN) {
		b := body.PSMBlock(c, profile, r.bodyOptions(rt))
		r.finish(rt, b)
	}
	return rt, keepsOld
}

func (r mariaDBReader) oracleHeader(c *sqltext.Cursor, rt *signature.Routine) *syntaxError {
	if c.AcceptOp('(') {
		if err := r.parameterList(c, rt, &mariaDBOracleParameters); err != nil {
			return err
		}
	}
	if rt.Kind == signature.Function {
		if !c.AcceptKw(sqltext.RETURN) && !c.AcceptKw(sqltext.RETURNS) {
			return r.unexpected(c, "RETURN and the type of the result")
		}
		t, ok := r.d.Type(c)
		if !ok {
			return r.unexpected(c, "the type of the result")
		}
		rt.Returns = &signature.Returns{Type: t}
	}
	for !c.Done() {
		switch {
		case c.AtKw(sqltext.AS), c.AtKw(sqltext.IS), c.AtKw(sqltext.BEGIN), c.AtOp(';'), c.AtKw(sqltext.END):
			return nil
		case c.AtKw(sqltext.COMMENT):
			c.I += 2
		case c.Peek().Kind == sqltext.Word:
			if k := c.Peek().Kw; k == sqltext.PROCEDURE || k == sqltext.FUNCTION || k == sqltext.SELECT || k == sqltext.RETURN {
				return nil
			}
			c.I++
		default:
			return r.unexpected(c, "AS and the body")
		}
	}
	return nil
}

// pack reads a package, or its body.
func (r mariaDBReader) pack(c *sqltext.Cursor) {
	parts, isBody := r.packageName(c)
	if len(parts) == 0 {
		return
	}
	owner := r.beginPackage(parts, isBody)
	for !c.Done() {
		switch {
		case c.AtKw(sqltext.PROCEDURE), c.AtKw(sqltext.FUNCTION):
			first := c.I
			rt, _ := r.member(c, owner, len(r.src))
			if rt == nil {
				c.I = max(c.I, first+1)
				toSemicolon(c)
				continue
			}
			rt.At = r.extent(c, first, c.I)
			switch {
			case !isBody:
				if c.AtOp(';') {
					rt.At = r.extent(c, first, c.I+1)
				}
				r.declare(rt, false)
			case c.At(c.I-1).Kw == sqltext.END || c.I > 1 && c.At(c.I-2).Kw == sqltext.END:
				r.change(change{kind: fills, routine: rt})
			}
		case c.AtKw(sqltext.BEGIN): // what is run when the package is first used
			body.PSMBlock(c, &body.MariaDBOracleProfile, body.Options{})
		default:
			c.I++
		}
	}
}
