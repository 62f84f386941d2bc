package sqltype

import (
	"ramekin/internal/signature"
	"ramekin/internal/sqltext"
)

// oracle holds the types of SQL and PL/SQL ("Data types", "PL/SQL data types",
// the packages STANDARD and SYS).
var oracle = vocabulary{
	kinds: words(map[signature.Kind]string{
		signature.KindBool:    "boolean, bool",
		signature.KindInt32:   "pls_integer, binary_integer, natural, naturaln, positive, positiven, signtype, simple_integer",
		signature.KindDecimal: "number, numeric, decimal, dec, integer, int, smallint, bigint",
		signature.KindFloat32: "binary_float, simple_float",
		signature.KindFloat64: "binary_double, simple_double, float, real, double precision",
		signature.KindString: `varchar2, varchar, char, character, character varying, char varying, nvarchar2, nchar, nchar varying, national character, national char,
			national character varying, national char varying, string, long, clob, nclob, rowid, urowid, dbms_id, dbms_quoted_id, character large object, char large object,
			nchar large object, national character large object`,
		signature.KindBytes:     "raw, long raw, blob, bfile, binary large object",
		signature.KindTimestamp: "date, timestamp, timestamp_unconstrained", signature.KindTimestampTZ: "timestamp_tz_unconstrained, timestamp_ltz_unconstrained",
		signature.KindInterval: "interval year, interval day, yminterval_unconstrained, dsinterval_unconstrained",
		signature.KindXML:      "xmltype", signature.KindJSON: "json, json_object_t, json_array_t, json_element_t", signature.KindCursor: "sys_refcursor",
		signature.KindSpatial: "sdo_geometry", signature.KindAny: "anydata, anytype, anydataset", signature.KindArray: "vector",
	}),
	national: []string{"nvarchar2", "nchar", "nchar varying", "national character", "national char", "national character varying", "national char varying",
		"nclob", "nchar large object", "national character large object"},
	anchors: true,
	special: func(c *sqltext.Cursor, t *signature.Type) bool {
		if c.AtWord("ref") && c.Ahead(1).IsName() { // REF type; REF CURSOR
			c.I++
			if c.AcceptKw(sqltext.CURSOR) {
				t.Name, t.Kind = "ref cursor", signature.KindCursor
				return true
			}
			c.DottedName()
			t.Name, t.Kind = "ref", signature.KindUser
			return true
		}
		return false
	},
	suffix: func(c *sqltext.Cursor, t *signature.Type) {
		if t.Kind == signature.KindInterval && c.AcceptWord("to") { // YEAR TO MONTH, DAY TO SECOND
			t.Name += " to " + lower(c.Text(c.Next()))
			if a, _, n := arguments(c); n > 0 {
				t.Precision = a
			}
		}
		if c.AtWord("character") && c.Ahead(1).Kw == sqltext.SET { // CHARACTER SET ANY_CS, CHARACTER SET p%CHARSET
			c.I += 3
			if c.AcceptOp('%') {
				c.I++
			}
		}
		if t.Kind == signature.KindArray && t.Element == nil {
			t.Element = &signature.Type{Text: "float32", Name: "float32", Kind: signature.KindFloat32}
		}
	},
}

var oracleTypes = oracle.prepare()

// Oracle reads an Oracle type, %TYPE and %ROWTYPE included.
func Oracle(c *sqltext.Cursor) (signature.Type, bool) { return oracleTypes.read(c) }
