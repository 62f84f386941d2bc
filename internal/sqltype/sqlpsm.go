package sqltype

import (
	"ramekin/internal/signature"
	"ramekin/internal/sqltext"
)

// sqlPSM holds the standard's types (ISO/IEC 9075-2, clause 6.1) and those that
// HSQLDB adds.
var sqlPSM = vocabulary{
	kinds: words(map[signature.Kind]string{
		signature.KindBool: "boolean", signature.KindInt8: "tinyint", signature.KindInt16: "smallint", signature.KindInt32: "integer, int", signature.KindInt64: "bigint",
		signature.KindDecimal: "decimal, dec, numeric, decfloat", signature.KindFloat32: "real", signature.KindFloat64: "double, double precision, float",
		signature.KindString: `char, character, varchar, char varying, character varying, longvarchar, long varchar, clob, char large object, character large object,
			nchar, nchar varying, nvarchar, nclob, nchar large object, national char, national character, national char varying, national character varying,
			national character large object, varchar_ignorecase`,
		signature.KindBytes: "binary, varbinary, binary varying, longvarbinary, long varbinary, blob, binary large object",
		signature.KindBits:  "bit, bit varying", signature.KindDate: "date", signature.KindTime: "time", signature.KindTimestamp: "timestamp, datetime",
		signature.KindInterval: "interval", signature.KindUUID: "uuid", signature.KindJSON: "json", signature.KindXML: "xml", signature.KindAny: "other, object",
	}),
	national: []string{"nchar", "nchar varying", "nvarchar", "nclob", "nchar large object", "national char", "national character", "national char varying",
		"national character varying", "national character large object"},
	brackets: true,
	special: func(c *sqltext.Cursor, t *signature.Type) bool {
		if !c.AtWord("row") || c.Ahead(1).Op != '(' {
			return false
		}
		c.I++
		c.SkipParens()
		t.Name, t.Kind = "row", signature.KindRecord
		return true
	},
	suffix: func(c *sqltext.Cursor, t *signature.Type) {
		intervalFields(c, t)
		if c.AtWord("character") && c.Ahead(1).Kw == sqltext.SET {
			c.I += 2
			c.DottedName()
		}
	},
}

var sqlPSMTypes = sqlPSM.prepare()

// SQLPSM reads a type of the standard.
func SQLPSM(c *sqltext.Cursor) (signature.Type, bool) { return sqlPSMTypes.read(c) }
