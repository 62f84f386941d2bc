package sqltype

import (
	"ramekin/internal/signature"
	"ramekin/internal/sqltext"
)

// teradata holds the types of Teradata ("Data types and literals").
var teradata = vocabulary{
	kinds: words(map[signature.Kind]string{
		signature.KindInt8: "byteint", signature.KindInt16: "smallint", signature.KindInt32: "integer, int", signature.KindInt64: "bigint",
		signature.KindDecimal: "decimal, dec, numeric, number", signature.KindFloat64: "float, real, double precision, double",
		signature.KindString: `char, character, varchar, char varying, character varying, long varchar, clob, character large object, graphic, vargraphic,
			long vargraphic`,
		signature.KindBytes: "byte, varbyte, blob, binary large object", signature.KindDate: "date", signature.KindTime: "time", signature.KindTimestamp: "timestamp",
		signature.KindInterval: "interval year, interval month, interval day, interval hour, interval minute, interval second",
		signature.KindPeriod:   "period", signature.KindXML: "xml", signature.KindJSON: "json", signature.KindSpatial: "st_geometry, mbr, mbb",
		signature.KindAny: "td_anytype", signature.KindVoid: "void",
	}),
	suffix: func(c *sqltext.Cursor, t *signature.Type) {
		if t.Kind == signature.KindInterval && c.AcceptWord("to") {
			t.Name += " to " + lower(c.Text(c.Next()))
			if a, _, n := arguments(c); n > 0 {
				t.Precision = a
			}
		}
		if (c.AtWord("character") || c.AtWord("char")) && c.Ahead(1).Kw == sqltext.SET {
			c.I += 3
		}
	},
}

var teradataTypes = teradata.prepare()

// Teradata reads a Teradata type without its attributes.
func Teradata(c *sqltext.Cursor) (signature.Type, bool) { return teradataTypes.read(c) }

// SkipTeradataAttributes moves past the attributes behind a type, which say how
// a value is shown and compared ("Data type default formats", "Data type
// phrases").
func SkipTeradataAttributes(c *sqltext.Cursor) {
	for {
		before := c.I
		skipWords(c, "not null", "not casespecific", "casespecific", "not cs", "cs", "uppercase", "uc")
		for _, w := range []string{"format", "title", "named"} {
			if c.AtWord(w) {
				c.I += 2
			}
		}
		if c.I == before {
			return
		}
	}
}
