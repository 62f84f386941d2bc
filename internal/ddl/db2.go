package ddl

import (
	"bytes"

	"ramekin/internal/body"
	"ramekin/internal/signature"
	"ramekin/internal/sqltext"
	"ramekin/internal/sqltype"
)

// Db2 reads Db2 scripts as the command line processor does ("CREATE PROCEDURE
// (SQL)", "CREATE FUNCTION", "ALTER MODULE", "CREATE TYPE").
var Db2 = Dialect{
	Name:  signature.Db2,
	Lexis: &sqltext.Db2,
	Type:  sqltype.Db2,
	Marks: Marks{
		"sysibm": 4, "sysdummy1": 5, "db2": 4, "dynamic": 2, "specific": 2, "sysproc": 5, "modifies": 1, "inherit": 2, "registers": 3,
		"sqlcode": 1, "module": 4, "publish": 4, "anchor": 5, "decfloat": 3, "graphic": 3, "vargraphic": 4, "dbclob": 4, "fenced": 4, "sqlstate": 1,
		"locator": 2, "inout": 1, "octets": 3, "codeunits32": 4, "ccsid": 4, "leave": 1, "atomic": 1, "diagnostics": 1, "elseif": 1, "undo": 2,
		markTerminator: 6, markDirectionFirst: 1, markEndIf: 1, markAtTerminator: 5,
	},
	identity: db2Identity,
	read: func(r *reader) {
		if mark := db2Terminator(r.src); mark != "" {
			r.scan.SetDelimiter(mark)
		}
		readStandard(db2Rules)(r)
	},
}

var db2Rules = &standardRules{
	frame: &frameRules{
		begins:        keywordSet(sqltext.CREATE, sqltext.ALTER),
		heads:         keywordSet(sqltext.PROCEDURE, sqltext.FUNCTION, sqltext.TRIGGER),
		blocks:        keywordSet(sqltext.BEGIN, sqltext.IF, sqltext.LOOP, sqltext.WHILE, sqltext.REPEAT, sqltext.FOR),
		endIsReserved: true,
		anonymous:     *keywordSet(sqltext.BEGIN),
	},
	profile:           &body.Db2Profile,
	style:             &parameterStyle{modes: modesBefore, unnamed: true, equals: true, after: skipLocator},
	create:            db2Create,
	returns:           db2Returns,
	unbracketed:       true,
	unnamedProcedures: true,
	characteristic: func(_ standardReader, c *sqltext.Cursor, rt *signature.Routine) bool {
		if c.AtWord("source") && rt.Kind == signature.Function { // a function after another
			c.I = len(c.Tokens)
			rt.Language = "source"
			return true
		}
		return false
	},
}

// db2Terminator finds the statement terminator that the command line sets (-td@
// and its like), which shows only behind the END of a routine.
func db2Terminator(src []byte) string {
	if bytes.Contains(bytes.ToUpper(src[:min(len(src), 1<<16)]), []byte("--#SET TERMINATOR")) {
		return ""
	}
	// The first routine tells; a longer search would cost more than it finds.
	src = src[:min(len(src), mostDetected)]
	for at := 0; at < len(src); {
		line := src[at:]
		if i := bytes.IndexByte(line, '\n'); i >= 0 {
			line = line[:i]
		}
		at += len(line) + 1
		line = bytes.TrimSpace(line)
		if len(line) == 0 {
			continue
		}
		mark := line[len(line)-1]
		if bytes.IndexByte([]byte("@!%#$^~|/"), mark) < 0 {
			continue
		}
		head := bytes.TrimSpace(line[:len(line)-1])
		ended := len(head) >= 3 && bytes.EqualFold(head[:3], []byte("end")) && len(bytes.Fields(head)) <= 2
		if len(head) == 0 && mark != '/' || ended {
			return string(mark)
		}
	}
	return ""
}

func db2Returns(r standardReader, c *sqltext.Cursor, rt *signature.Routine) *syntaxError {
	first := c.I
	if c.AtWord("row") && c.Ahead(1).Op == '(' {
		c.I++
		cols := r.columnDefinitions(c)
		rt.Returns = &signature.Returns{Columns: cols,
			Type: signature.Type{Text: c.FoldFrom(first), Name: "row", Kind: signature.KindRecord, Columns: cols}}
		return nil
	}
	if c.AtWord("generic") && c.Ahead(1).Kw == sqltext.TABLE {
		c.I += 2
		rt.Returns = tableOf(nil, c.FoldFrom(first))
		return nil
	}
	err := standardReturns(r, c, rt)
	skipLocator(c, nil)
	return err
}

// db2Create reads what is no routine: types, tables, variables and modules.
func db2Create(r standardReader, c *sqltext.Cursor) {
	switch {
	case c.AcceptWord("module"):
		r.module(c)
	case c.AcceptWord("variable"):
		if parts := r.names(c); len(parts) > 0 {
			if t, ok := r.d.Type(c); ok {
				r.typeDeclared(parts, t)
				r.file.types[len(r.file.types)-1].variable = true
			}
		}
	default:
		standardCreate(r, c)
	}
}

// module reads CREATE MODULE, and ALTER MODULE with what it adds or publishes.
func (r standardReader) module(c *sqltext.Cursor) {
	parts := r.names(c)
	if len(parts) == 0 {
		return
	}
	owner := r.owner(parts)
	r.change(r.container(notesContainer, parts))
	publishes := c.AcceptWord("publish")
	if !publishes && !c.AcceptKw(sqltext.ADD) {
		if c.AcceptKw(sqltext.DROP) {
			r.dropMember(c, owner)
		}
		return
	}
	switch {
	case c.AtKw(sqltext.PROCEDURE), c.AtKw(sqltext.FUNCTION):
		rt := *owner
		rt.Kind = signature.Procedure
		if c.Next().Kw == sqltext.FUNCTION {
			rt.Kind = signature.Function
		}
		inner := r
		rules := *r.rules
		rules.bodyless = true
		inner.rules = &rules
		if !inner.routine(c, &rt, 0, len(r.src)) {
			return
		}
		if publishes {
			r.declare(&rt, false)
		} else {
			r.change(change{kind: fills, routine: &rt})
		}
	case c.AtKw(sqltext.TYPE), c.AtWord("variable"):
		before := len(r.file.types)
		db2Create(r, c)
		for i := before; i < len(r.file.types); i++ {
			r.file.types[i].Schema, r.file.types[i].container = owner.Schema, owner.Container
		}
	}
}

// dropMember reads ALTER MODULE name DROP PROCEDURE name.
func (r standardReader) dropMember(c *sqltext.Cursor, owner *signature.Routine) {
	var kind signature.RoutineKind
	switch {
	case c.AcceptKw(sqltext.PROCEDURE):
		kind = signature.Procedure
	case c.AcceptKw(sqltext.FUNCTION):
		kind = signature.Function
	default:
		return
	}
	if parts := r.names(c); len(parts) > 0 {
		ch := target(drops, parts)
		ch.onlyKind = kind
		ch.schema = ident{owner.Schema, owner.Quoted&signature.SchemaPart != 0}
		ch.container = ident{owner.Container, owner.Quoted&signature.ContainerPart != 0}
		r.change(ch)
	}
}

// db2Identity: functions are told apart by their types, procedures by the
// number of their parameters ("Routine overloading").
func db2Identity(rt *signature.Routine) string {
	if rt.Kind == signature.Procedure {
		return countIdentity(rt)
	}
	return typesIdentity(rt)
}
