package sqltype

import (
	"ramekin/internal/signature"
	"ramekin/internal/sqltext"
)

// postgreSQL holds the built-in types and their internal names ("Data types").
var postgreSQL = vocabulary{
	kinds: words(map[signature.Kind]string{
		signature.KindBool:   "boolean, bool",
		signature.KindInt16:  "smallint, int2, smallserial, serial2",
		signature.KindInt32:  "integer, int, int4, serial, serial4",
		signature.KindInt64:  "bigint, int8, bigserial, serial8",
		signature.KindUint32: "oid, xid, cid", signature.KindUint64: "xid8",
		signature.KindDecimal: "decimal, numeric, dec, money",
		signature.KindFloat32: "real, float4",
		signature.KindFloat64: "double precision, float8, float",
		signature.KindString: `character varying, varchar, character, char, "char", bpchar, text, name, national character varying,
			national char varying, national character, national char, nchar, nchar varying, char varying, inet, cidr, macaddr, macaddr8, tsvector, tsquery, jsonpath,
			regclass, regproc, regprocedure, regoper, regoperator, regtype, regrole, regnamespace, regconfig, regdictionary, regcollation, citext, pg_lsn`,
		signature.KindBytes: "bytea", signature.KindBits: "bit varying, varbit, bit",
		signature.KindDate: "date", signature.KindTime: "time, timetz", signature.KindTimestamp: "timestamp", signature.KindTimestampTZ: "timestamptz",
		signature.KindInterval: "interval", signature.KindUUID: "uuid", signature.KindJSON: "json, jsonb", signature.KindXML: "xml",
		signature.KindSpatial: "point, line, lseg, box, path, polygon, circle, geometry, geography, raster, box2d, box3d, topogeometry, box2df, gidx",
		signature.KindCursor:  "refcursor", signature.KindRecord: "record", signature.KindVoid: "void",
		signature.KindAny: `"any"`,
		signature.KindUnknown: `trigger, event_trigger, internal, cstring, language_handler, fdw_handler, table_am_handler, index_am_handler, tsm_handler,
			pg_ddl_command, unknown, opaque, anyelement, anyarray, anynonarray, anyenum, anyrange, anymultirange, anycompatible,
			anycompatiblearray, anycompatiblenonarray, anycompatiblerange, anycompatiblemultirange, any, tid, int4range, int8range, numrange, tsrange, tstzrange,
			daterange, int4multirange, int8multirange, nummultirange, tsmultirange, tstzmultirange, datemultirange, pg_snapshot, txid_snapshot, aclitem, gtsvector`,
	}),
	national:   []string{"national character varying", "national char varying", "national character", "national char", "nchar", "nchar varying"},
	doubleFrom: 25,
	brackets:   true,
	anchors:    true, quotedKnown: true,
	suffix: intervalFields,
	special: func(c *sqltext.Cursor, t *signature.Type) bool {
		element := ""
		switch next := c.Ahead(1); {
		case next.Kind == sqltext.Punct && next.Op == '.':
		case c.AtWord("int2vector"):
			element = "int2"
		case c.AtWord("oidvector"):
			element = "oid"
		}
		if element == "" {
			return false
		}
		t.Name, t.Kind = lower(c.Text(c.Next())), signature.KindArray
		kind := signature.KindInt16
		if element == "oid" {
			kind = signature.KindUint32
		}
		t.Element = &signature.Type{Text: element, Name: element, Kind: kind}
		return true
	},
}

var postgreSQLTypes = postgreSQL.prepare()

// PostgreSQL reads a PostgreSQL type, arrays and %TYPE included.
func PostgreSQL(c *sqltext.Cursor) (signature.Type, bool) {
	t, ok := postgreSQLTypes.read(c)
	if ok && t.Kind == signature.KindUser && len(t.Name) > 1 && t.Name[0] == '_' && c.Lex.DollarQuotes {
		// An array type by its own name, as old declarations have it.
		if kind, known := postgreSQLTypes.kinds[t.Name[1:]]; known {
			t.Kind = signature.KindArray
			t.Element = &signature.Type{Text: t.Name[1:], Name: t.Name[1:], Kind: kind}
		}
	}
	return t, ok
}

// intervalFields reads what limits an interval: YEAR TO MONTH, SECOND(3).
func intervalFields(c *sqltext.Cursor, t *signature.Type) {
	if t.Kind != signature.KindInterval {
		return
	}
	field := func() bool {
		for _, f := range []string{"year", "month", "day", "hour", "minute", "second"} {
			if c.AcceptWord(f) {
				if a, b, n := arguments(c); n > 0 && f == "second" {
					t.Precision = a
					if n > 1 {
						t.Precision = b
					}
				}
				return true
			}
		}
		return false
	}
	if field() && c.AcceptWord("to") {
		field()
	}
}
