package ddl

import (
	"ramekin/internal/body"
	"ramekin/internal/signature"
	"ramekin/internal/sqltext"
	"ramekin/internal/sqltype"
)

// HANA reads SAP HANA scripts and design-time files ("CREATE PROCEDURE", "CREATE
// FUNCTION", "CREATE LIBRARY", "CREATE TYPE").
var HANA = Dialect{
	Name:  signature.HANA,
	Lexis: &sqltext.HANA,
	Type:  sqltype.HANA,
	Marks: Marks{
		"sqlscript": 8, "nclob": 1, "seconddate": 5, "_sys_bic": 6, "alphanum": 4, "smalldecimal": 5, "hdbprocedure": 4, "ce_": 3,
		"apply_filter": 4, "shorttext": 4, "rlang": 4, "sequential": 1, "_sys_repo": 5, "dummy": 2, "nvarchar": 1, "invoker": 1, "afllang": 5, "elseif": 1,
		markScopedName: 5, markDirectionFirst: 1, markColonVariable: 1, markEndIf: 1,
	},
	read: readStandard(hanaRules),
}

var hanaRules = &standardRules{
	frame: &frameRules{
		begins:        keywordSet(sqltext.CREATE, sqltext.ALTER, sqltext.PROCEDURE, sqltext.FUNCTION, sqltext.TYPE),
		heads:         keywordSet(sqltext.PROCEDURE, sqltext.FUNCTION, sqltext.TRIGGER, sqltext.LIBRARY),
		blocks:        keywordSet(sqltext.BEGIN, sqltext.IF, sqltext.LOOP, sqltext.WHILE, sqltext.FOR),
		endIsReserved: true,
		anonymous:     *keywordSet(sqltext.DO),
	},
	profile:     &body.HANAProfile,
	style:       &parameterStyle{modes: modesBefore, typ: hanaType, equals: true},
	create:      hanaCreate,
	returns:     hanaReturns,
	unbracketed: true,
	characteristic: func(_ standardReader, c *sqltext.Cursor, rt *signature.Routine) bool {
		if !c.AtWord("configuration") && !(c.AtWord("at") && c.Ahead(1).IsName()) {
			return false
		}
		rt.Language = "virtual" // it runs on a remote source
		c.I = len(c.Tokens)
		return true
	},
}

// hanaType reads a type, or an inline table type.
func hanaType(c *sqltext.Cursor) (signature.Type, bool) {
	if !c.AtKw(sqltext.TABLE) || c.Ahead(1).Op != '(' {
		return sqltype.HANA(c)
	}
	first := c.I
	c.I++
	cols := columnDefinitions(c, sqltype.HANA)
	return signature.Type{Text: c.FoldFrom(first), Name: "table", Kind: signature.KindTable, Columns: cols}, true
}

// hanaReturns reads a type, TABLE and its columns, a table type, or the named
// results of a scalar function.
func hanaReturns(r standardReader, c *sqltext.Cursor, rt *signature.Routine) *syntaxError {
	first := c.I
	if c.AtKw(sqltext.TABLE) {
		return standardReturns(r, c, rt)
	}
	bracketed := c.AcceptOp('(')
	inner := c.I
	var cols []signature.Column
	for c.Peek().IsName() && c.Ahead(1).IsName() && startsType(c) {
		name := c.Name(c.Next())
		t, ok := hanaType(c)
		if !ok {
			return r.unexpected(c, "the type of "+name)
		}
		cols = append(cols, signature.Column{Name: name, Type: &t})
		if !c.AcceptOp(',') {
			break
		}
	}
	switch {
	case len(cols) == 1 && cols[0].Type.Kind == signature.KindTable:
		rt.Returns = &signature.Returns{Type: *cols[0].Type, Set: true, Columns: cols[0].Type.Columns}
	case len(cols) == 1:
		rt.Returns = &signature.Returns{Type: *cols[0].Type}
	case len(cols) > 1:
		rt.Returns = &signature.Returns{Columns: cols,
			Type: signature.Type{Text: sqltext.Fold(c.Src, c.Slice(inner, c.I)), Name: "record", Kind: signature.KindRecord, Columns: cols}}
	}
	if bracketed {
		c.AcceptOp(')')
	}
	if rt.Returns != nil {
		return nil
	}
	c.I = first
	t, ok := hanaType(c)
	if !ok {
		return r.unexpected(c, "the type of the result")
	}
	// A function that does not return a built-in type returns a table type.
	rt.Returns = &signature.Returns{Type: t, Set: t.Kind == signature.KindUser}
	return nil
}

// startsType reports whether the name at the cursor is followed by its type,
// and not by the next clause of the function.
func startsType(c *sqltext.Cursor) bool {
	switch next := c.Ahead(1); {
	case next.Kw == sqltext.LANGUAGE, next.Kw == sqltext.AS, next.Kw == sqltext.BEGIN, next.Kw == sqltext.DEFAULT, next.Kw == sqltext.WITH:
		return false
	case next.Is(c.Src, "sql"), next.Is(c.Src, "deterministic"), next.Is(c.Src, "reads"), next.Is(c.Src, "array"), next.Is(c.Src, "varying"):
		return false
	}
	return true
}

// hanaCreate reads types, tables and libraries.
func hanaCreate(r standardReader, c *sqltext.Cursor) {
	if c.At(c.I-1).Kw == sqltext.TYPE { // a design-time file
		c.I--
	}
	if c.AcceptKw(sqltext.LIBRARY) {
		r.library(c)
		return
	}
	standardCreate(r, c)
}

// library reads the public members of a library.
func (r standardReader) library(c *sqltext.Cursor) {
	parts := r.names(c)
	if len(parts) == 0 {
		return
	}
	owner := r.owner(parts)
	r.change(r.container(opensContainer, parts))
	for !c.Done() && !c.AtKw(sqltext.BEGIN) {
		c.I++
	}
	c.I++
	for !c.Done() {
		first := c.I
		public := c.AcceptWord("public")
		if !public {
			c.AcceptWord("private")
		}
		isFunction := c.AtKw(sqltext.FUNCTION)
		if !isFunction && !c.AtKw(sqltext.PROCEDURE) {
			for !c.Done() && !c.AcceptOp(';') {
				c.I++
			}
			continue
		}
		c.I++
		last := memberEnd(c, r.rules.frame, first)
		inner := *c
		inner.Tokens = c.Tokens[:last]
		rt := *owner
		rt.Kind = signature.Procedure
		if isFunction {
			rt.Kind = signature.Function
		}
		if r.routine(&inner, &rt, first, len(r.src)) && public {
			r.declare(&rt, false)
		}
		c.I = last
		c.AcceptOp(';')
	}
}

// memberEnd is the index behind the END of the member that begins at first.
func memberEnd(c *sqltext.Cursor, rules *frameRules, first int) int {
	f := framer{rules: rules}
	for i := first; i < len(c.Tokens); i++ {
		t := c.Tokens[i]
		if i == first {
			f.ends(c.Tokens[first : first+1])
			f.header, f.routine = false, true
			continue
		}
		if (t.Kw != sqltext.NoKeyword || t.Kind == sqltext.Punct) && f.ends(c.Tokens[first:i+1]) {
			return i
		}
	}
	return len(c.Tokens)
}
