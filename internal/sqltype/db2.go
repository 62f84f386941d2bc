package sqltype

import (
	"strings"

	"ramekin/internal/signature"
	"ramekin/internal/sqltext"
)

// db2 holds the built-in types of Db2 ("Data types", "CREATE TYPE").
var db2 = vocabulary{
	kinds: words(map[signature.Kind]string{
		signature.KindBool: "boolean", signature.KindInt16: "smallint", signature.KindInt32: "integer, int", signature.KindInt64: "bigint",
		signature.KindDecimal: "decimal, dec, numeric, num, decfloat, number",
		signature.KindFloat32: "real", signature.KindFloat64: "double, double precision, float",
		signature.KindString: `char, character, varchar, varchar2, char varying, character varying, long varchar, clob, char large object, character large object,
			dbclob, graphic, vargraphic, long vargraphic, nchar, nvarchar, nvarchar2, nclob, national char, national character, national char varying,
			national character varying, nchar varying, nchar large object, national character large object`,
		signature.KindBytes: "binary, varbinary, binary varying, blob, binary large object, raw, rowid", signature.KindDate: "date", signature.KindTime: "time",
		signature.KindTimestamp: "timestamp", signature.KindXML: "xml", signature.KindCursor: "cursor",
		signature.KindSpatial: "st_geometry, st_point, st_polygon, st_linestring",
	}),
	national: []string{"nchar", "nvarchar", "nvarchar2", "nclob", "national char", "national character", "national char varying",
		"national character varying", "nchar varying", "nchar large object", "national character large object"},
	doubleFrom: 25,
	brackets:   true,
	special: func(c *sqltext.Cursor, t *signature.Type) bool {
		if !c.AtWord("anchor") {
			return false
		}
		c.I++
		if c.AtWord("data") && c.Ahead(1).Kw == sqltext.TYPE {
			c.I += 2
		}
		c.AcceptWord("to")
		suffix := "%type"
		if c.AtWord("row") {
			c.I++
			c.AcceptWord("of")
			suffix = "%rowtype"
		}
		parts := c.DottedName()
		t.Name, t.Kind = lower(strings.Join(parts, "."))+suffix, signature.KindAnchored
		return len(parts) > 0
	},
	suffix: func(c *sqltext.Cursor, t *signature.Type) {
		if c.AtKw(sqltext.FOR) && c.Ahead(2).Is(c.Src, "data") { // FOR BIT DATA, FOR SBCS DATA
			if c.Ahead(1).Is(c.Src, "bit") {
				t.Kind = signature.KindBytes
			}
			c.I += 3
		}
		if c.AtWord("ccsid") {
			c.I += 2
		}
	},
}

var db2Types = db2.prepare()

// Db2 reads a Db2 type, anchored ones included.
func Db2(c *sqltext.Cursor) (signature.Type, bool) { return db2Types.read(c) }
