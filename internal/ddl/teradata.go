package ddl

import (
	"ramekin/internal/body"
	"ramekin/internal/signature"
	"ramekin/internal/sqltext"
	"ramekin/internal/sqltype"
)

// Teradata reads Teradata scripts as BTEQ does ("CREATE PROCEDURE (SQL form)",
// "CREATE MACRO", "CREATE FUNCTION (SQL form)").
var Teradata = Dialect{
	Name:  signature.Teradata,
	Lexis: &sqltext.Teradata,
	Type:  sqltype.Teradata,
	Marks: Marks{
		"macro": 6, "byteint": 5, "multiset": 5, "volatile": 1, "casespecific": 5, "activity_count": 4, "sel": 3, "locking": 4,
		"td_anytype": 6, "varbyte": 4, "qualify": 3, "collect": 1, "sqlstate": 1, "bteq": 5, "fallback": 4, "sysudtlib": 5, "errorcode": 2,
		"title": 1, "latin": 2, "unicode": 1, "uppercase": 1, "dynamic": 1, "logon": 2, "elseif": 1, "leave": 1,
		markDotLine: 4, markReplaceFirst: 4, markDirectionFirst: 1, markEndIf: 1,
	},
	read: readStandard(teradataRules),
}

var teradataRules = &standardRules{
	frame: &frameRules{
		begins:        keywordSet(sqltext.CREATE, sqltext.REPLACE),
		heads:         keywordSet(sqltext.PROCEDURE, sqltext.FUNCTION, sqltext.TRIGGER, sqltext.MACRO),
		blocks:        keywordSet(sqltext.BEGIN, sqltext.IF, sqltext.LOOP, sqltext.WHILE, sqltext.REPEAT, sqltext.FOR),
		endIsReserved: true,
		client: func(r *reader, t sqltext.Token) bool {
			if t.Kind == sqltext.Punct && t.Op == '.' || t.Kind == sqltext.Number && r.src[t.Start] == '.' {
				r.scan.SkipLine()
				return true
			}
			return t.Kind == sqltext.Punct && t.Op == ';'
		},
	},
	profile: &body.TeradataProfile,
	style: &parameterStyle{modes: modesBefore, unnamed: true, attributes: []string{"title", "format", "named", "not", "casespecific", "uppercase"}, after: func(c *sqltext.Cursor, _ *signature.Parameter) {
		sqltype.SkipTeradataAttributes(c)
		if c.AtOp('(') && c.Ahead(1).Kind == sqltext.Word { // (TITLE 'x')
			c.SkipParens()
		}
	}},
	create:      standardCreate,
	returns:     standardReturns,
	unbracketed: true,
}
