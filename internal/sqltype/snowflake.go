package sqltype

import (
	"ramekin/internal/signature"
	"ramekin/internal/sqltext"
)

// snowflake holds the types of Snowflake ("SQL data types reference"). Every
// whole number is a decimal there.
var snowflake = vocabulary{
	kinds: words(map[signature.Kind]string{
		signature.KindBool:    "boolean",
		signature.KindDecimal: "number, decimal, dec, numeric, int, integer, bigint, smallint, tinyint, byteint, decfloat",
		signature.KindFloat64: "float, float4, float8, double, double precision, real",
		signature.KindString: `varchar, char, character, nchar, string, text, nvarchar, nvarchar2, char varying, nchar varying,
			character varying, national char, national character`,
		signature.KindBytes: "binary, varbinary, binary varying", signature.KindDate: "date", signature.KindTime: "time",
		signature.KindTimestamp:   "timestamp, timestamp_ntz, timestampntz, datetime",
		signature.KindTimestampTZ: "timestamp_ltz, timestampltz, timestamp_tz, timestamptz",
		signature.KindAny:         "variant", signature.KindJSON: "object, map", signature.KindSpatial: "geography, geometry", signature.KindUUID: "uuid",
		signature.KindVoid: "void", signature.KindCursor: "resultset", signature.KindTable: "table",
	}),
	special: func(c *sqltext.Cursor, t *signature.Type) bool {
		vector := c.AtWord("vector")
		if !vector && !c.AtWord("array") || c.Ahead(1).Kind == sqltext.Punct && c.Ahead(1).Op == '.' {
			return false
		}
		t.Name, t.Kind = lower(c.Text(c.Next())), signature.KindArray
		if open := c.I; c.AtOp('(') {
			c.I++
			if e, ok := snowflakeTypes.read(c); ok {
				t.Element = &e
				if c.AcceptOp(',') && c.Peek().Kind == sqltext.Number {
					t.Length = number(c.Text(c.Peek()))
				}
			}
			c.I = open
			c.SkipParens()
		}
		return true
	},
}

var snowflakeTypes *vocabulary

func init() { snowflakeTypes = snowflake.prepare() }

// Snowflake reads a Snowflake type.
func Snowflake(c *sqltext.Cursor) (signature.Type, bool) { return snowflakeTypes.read(c) }
