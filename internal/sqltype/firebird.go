package sqltype

import (
	"strings"

	"ramekin/internal/signature"
	"ramekin/internal/sqltext"
)

// firebird holds the types of Firebird ("Data types and subtypes").
var firebird = vocabulary{
	kinds: words(map[signature.Kind]string{
		signature.KindBool: "boolean", signature.KindInt16: "smallint", signature.KindInt32: "integer, int", signature.KindInt64: "bigint",
		signature.KindDecimal: "decimal, dec, numeric, decfloat, int128", signature.KindFloat32: "float, real", signature.KindFloat64: "double precision, long float",
		signature.KindString: `char, character, varchar, char varying, character varying, nchar, nchar varying, national char, national character,
			national char varying, national character varying, cstring`,
		signature.KindBytes: "binary, varbinary, binary varying, blob", signature.KindDate: "date", signature.KindTime: "time", signature.KindTimestamp: "timestamp",
	}),
	national:   []string{"nchar", "nchar varying", "national char", "national character", "national char varying", "national character varying"},
	doubleFrom: 25,
	special: func(c *sqltext.Cursor, t *signature.Type) bool {
		if !c.AtKw(sqltext.TYPE) || !c.Ahead(1).Is(c.Src, "of") {
			return false
		}
		c.I += 2
		suffix := "" // a domain
		if c.AcceptWord("column") {
			suffix = "%type"
		}
		parts := c.DottedName()
		t.Name, t.Kind = lower(strings.Join(parts, "."))+suffix, signature.KindUser
		if suffix != "" {
			t.Kind = signature.KindAnchored
		}
		return len(parts) > 0
	},
	suffix: func(c *sqltext.Cursor, t *signature.Type) {
		if t.Name == "blob" {
			firebirdBlob(c, t)
		}
		if c.AtWord("character") && c.Ahead(1).Kw == sqltext.SET {
			c.I += 2
			if set := lower(c.Name(c.Next())); t.Kind == signature.KindString && t.Name != "blob" && (set == "octets" || set == "binary") {
				t.Kind = signature.KindBytes
			}
		}
	},
}

// firebirdBlob reads SUB_TYPE and SEGMENT SIZE; arguments in brackets are the
// segment size and the subtype.
func firebirdBlob(c *sqltext.Cursor, t *signature.Type) {
	if i := c.I; t.Length != 0 || c.At(i-1).Op == ')' {
		if v := c.At(i - 2); c.Text(v) == "1" && c.At(i-3).Op == ',' {
			t.Kind = signature.KindString
		}
		t.Length = 0
	}
	for {
		switch {
		case c.AcceptWord("sub_type"):
			negative := c.AcceptOp('-')
			if s := c.Next(); !negative && (s.Is(c.Src, "text") || c.Text(s) == "1") {
				t.Kind = signature.KindString
			}
		case c.AtWord("segment"):
			c.I += 3
		default:
			return
		}
	}
}

var firebirdTypes = firebird.prepare()

// Firebird reads a Firebird type, TYPE OF and TYPE OF COLUMN included.
func Firebird(c *sqltext.Cursor) (signature.Type, bool) { return firebirdTypes.read(c) }
