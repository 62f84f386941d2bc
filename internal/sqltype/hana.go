package sqltype

import (
	"ramekin/internal/signature"
	"ramekin/internal/sqltext"
)

// hana holds the types of SAP HANA ("Data types").
var hana = vocabulary{
	kinds: words(map[signature.Kind]string{
		signature.KindBool: "boolean", signature.KindUint8: "tinyint", signature.KindInt16: "smallint", signature.KindInt32: "integer, int", signature.KindInt64: "bigint",
		signature.KindDecimal: "decimal, dec, smalldecimal, numeric, fixed",
		signature.KindFloat32: "real", signature.KindFloat64: "double, double precision, float",
		signature.KindString: "varchar, nvarchar, char, nchar, character, alphanum, shorttext, clob, nclob, text, bintext, string, character varying",
		signature.KindBytes:  "varbinary, binary, blob, cs_raw, binary varying", signature.KindDate: "date, daydate, cs_date", signature.KindTime: "time, secondtime, cs_time",
		signature.KindTimestamp: "timestamp, seconddate, longdate",
		signature.KindSpatial:   "st_geometry, st_point, st_linestring, st_polygon, st_multipoint, st_multilinestring, st_multipolygon, st_geometrycollection, st_circularstring",
		signature.KindArray:     "real_vector, half_vector",
	}),
	national:   []string{"nvarchar", "nchar", "nclob", "shorttext"},
	doubleFrom: 25,
	brackets:   true,
	suffix: func(_ *sqltext.Cursor, t *signature.Type) {
		if t.Kind == signature.KindArray && t.Element == nil {
			t.Element = &signature.Type{Text: "real", Name: "real", Kind: signature.KindFloat32}
		}
	},
}

var hanaTypes = hana.prepare()

// HANA reads an SAP HANA type. Inline table types are read with the header.
func HANA(c *sqltext.Cursor) (signature.Type, bool) { return hanaTypes.read(c) }
