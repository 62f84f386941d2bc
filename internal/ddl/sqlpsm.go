package ddl

import (
	"ramekin/internal/body"
	"ramekin/internal/signature"
	"ramekin/internal/sqltext"
	"ramekin/internal/sqltype"
)

// SQLPSM reads the standard's own routines (ISO/IEC 9075-4; ISO/IEC 9075-2,
// clause 11.60, SQL-invoked routines) as HSQLDB takes them.
var SQLPSM = Dialect{
	Name:  signature.SQLPSM,
	Lexis: &sqltext.SQLPSM,
	Type:  sqltype.SQLPSM,
	Marks: Marks{
		"specific": 1, "classpath": 4, "longvarchar": 3, "modifies": 1, "reads": 1, "dynamic": 1, "sqlstate": 1,
		"atomic": 1, "varchar_ignorecase": 4, "savepoint": 1, "inout": 1, "elseif": 1, "iterate": 1,
		markBeginAtomic: 3, markDirectionFirst: 1, markEndIf: 1,
	},
	identity: typesIdentity,
	read:     readStandard(sqlPSMRules),
}

var sqlPSMRules = &standardRules{
	frame: &frameRules{
		begins:        keywordSet(sqltext.CREATE, sqltext.ALTER),
		heads:         keywordSet(sqltext.PROCEDURE, sqltext.FUNCTION, sqltext.TRIGGER),
		blocks:        keywordSet(sqltext.BEGIN, sqltext.IF, sqltext.LOOP, sqltext.WHILE, sqltext.REPEAT, sqltext.FOR),
		endIsReserved: true,
		client: func(r *reader, t sqltext.Token) bool { // \p and . lines of the script client
			if t.Kind == sqltext.Punct && (t.Op == '\\' || t.Op == '*') && r.scan.BeginsLine(int(t.Start)) {
				r.scan.SkipLine()
				return true
			}
			return t.Kind == sqltext.Punct && (t.Op == ';' || t.Op == '.')
		},
	},
	profile:         &body.StandardProfile,
	style:           &parameterStyle{modes: modesBefore, unnamed: true, after: skipLocator},
	create:          standardCreate,
	returns:         standardReturns,
	externalResults: true,
}

// standardCreate reads CREATE TYPE, DOMAIN and TABLE.
func standardCreate(r standardReader, c *sqltext.Cursor) {
	for c.AtWord("global") || c.AtWord("local") || c.AtWord("temporary") || c.AtWord("memory") || c.AtWord("cached") || c.AtWord("text") ||
		c.AtWord("column") || c.AtWord("row") || c.AtWord("distinct") || c.AtWord("multiset") || c.AtKw(sqltext.SET) || c.AtWord("volatile") ||
		c.AtWord("transient") || c.AtWord("history") || c.AtWord("dynamic") || c.AtWord("hybrid") {
		c.I++
	}
	switch {
	case c.AcceptKw(sqltext.TABLE):
		r.createTable(c, signature.KindRecord)
	case c.AcceptWord("domain"):
		r.createDomain(c)
	case c.AcceptKw(sqltext.TYPE):
		start := c.I
		parts := r.names(c)
		if len(parts) > 0 && c.AcceptKw(sqltext.AS) {
			switch {
			case c.AcceptKw(sqltext.TABLE):
				r.typeDeclared(parts, signature.Type{Kind: signature.KindTable, Columns: r.columnDefinitions(c)})
				return
			case c.AcceptWord("row"):
				r.typeDeclared(parts, signature.Type{Kind: signature.KindRecord, Columns: r.columnDefinitions(c)})
				return
			case c.AtOp('('):
				r.typeDeclared(parts, signature.Type{Kind: signature.KindRecord, Columns: r.columnDefinitions(c)})
				return
			}
		}
		c.I = start
		r.createDomain(c)
	}
}
