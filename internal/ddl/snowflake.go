package ddl

import (
	"strings"

	"ramekin/internal/body"
	"ramekin/internal/signature"
	"ramekin/internal/sqltext"
	"ramekin/internal/sqltype"
)

// Snowflake reads Snowflake scripts ("CREATE PROCEDURE", "CREATE FUNCTION",
// "CREATE EXTERNAL FUNCTION").
var Snowflake = Dialect{
	Name:  signature.Snowflake,
	Lexis: &sqltext.Snowflake,
	Type:  sqltype.Snowflake,
	Marks: Marks{
		"variant": 4, "snowflake": 6, "handler": 1, "runtime_version": 6, "packages": 3, "warehouse": 5, "timestamp_ntz": 5,
		"timestamp_ltz": 5, "timestamp_tz": 5, "resultset": 4, "snowpark": 6, "caller": 2, "javascript": 3, "python": 2, "stage": 1,
		"qualify": 2, "number": 1, "copy": 1, "grants": 2, "imports": 2, "memoizable": 5, "secure": 3, "number38": 1, "iff": 2, "let": 2, "api_integration": 5,
		markColonVariable:    1,
		markProcedureReturns: 3, markExecuteAs: 3, markDollarQuote: 3,
	},
	identity: typesIdentity,
	read:     readStandard(snowflakeRules),
}

var snowflakeRules = &standardRules{
	frame: &frameRules{
		begins:          keywordSet(sqltext.CREATE, sqltext.ALTER),
		heads:           keywordSet(sqltext.PROCEDURE, sqltext.FUNCTION),
		blocks:          keywordSet(sqltext.BEGIN, sqltext.IF, sqltext.LOOP, sqltext.WHILE, sqltext.REPEAT, sqltext.FOR),
		endIsReserved:   true,
		anonymous:       *keywordSet(sqltext.DECLARE, sqltext.BEGIN),
		sections:        true,
		bareTransaction: true,
		client:          snowflakeClient,
	},
	profile: &body.SnowflakeProfile,
	style:   &parameterStyle{modes: modesAfter, longModes: true, typ: snowflakeArgument},
	create:  standardCreate,
	returns: standardReturns,
	characteristic: func(_ standardReader, c *sqltext.Cursor, rt *signature.Routine) bool {
		switch {
		case c.AtWord("api_integration"):
			rt.Language = "external"
		case c.AtKw(sqltext.EXECUTE) && c.Ahead(1).Kw == sqltext.AS: // EXECUTE AS CALLER
			c.I += 3
			return true
		case c.AtWord("comment") && c.Ahead(1).Op == '=', c.AtWord("handler") && c.Ahead(1).Op == '=':
			c.I += 3
			return true
		}
		return false
	},
	procedureReturns: true,
}

// snowflakeClient moves past a line for the script client, and past a line of
// a template.
func snowflakeClient(r *reader, t sqltext.Token) bool {
	switch {
	case t.Kind == sqltext.Punct && t.Op == '!' && r.scan.BeginsLine(int(t.Start)):
	case t.Kind == sqltext.Punct && t.Op == '{' && strings.HasPrefix(string(r.src[t.Start:min(int(t.Start)+2, len(r.src))]), "{%"):
	case t.Is(r.src, "put"), t.Kw == sqltext.GET: // their paths have slashes
	case t.Kind == sqltext.Punct && t.Op == ';':
		return true
	default:
		return false
	}
	r.scan.SkipLine()
	return true
}

// snowflakeArgument reads a type, or TABLE (type, …).
func snowflakeArgument(c *sqltext.Cursor) (signature.Type, bool) {
	if !c.AtKw(sqltext.TABLE) {
		return sqltype.Snowflake(c)
	}
	first := c.I
	c.I++
	cols := columnDefinitions(c, sqltype.Snowflake)
	for i := range cols {
		if cols[i].Type == nil { // types alone
			cols = nil
			break
		}
	}
	return signature.Type{Text: c.FoldFrom(first), Name: "table", Kind: signature.KindTable, Columns: cols}, true
}
