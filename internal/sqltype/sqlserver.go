package sqltype

import (
	"strings"

	"ramekin/internal/signature"
	"ramekin/internal/sqltext"
)

// sysnameLength is the length of sysname, which is nvarchar(128) without nulls
// ("nchar and nvarchar", remarks).
const sysnameLength = 128

// sqlServerKinds holds the system types ("Data types (Transact-SQL)").
var sqlServerKinds = map[string]signature.Kind{
	"bit": signature.KindBool, "tinyint": signature.KindUint8, "smallint": signature.KindInt16,
	"int": signature.KindInt32, "integer": signature.KindInt32, "bigint": signature.KindInt64,
	"decimal": signature.KindDecimal, "dec": signature.KindDecimal, "numeric": signature.KindDecimal,
	"money": signature.KindDecimal, "smallmoney": signature.KindDecimal,
	"real": signature.KindFloat32, "float": signature.KindFloat64, "double precision": signature.KindFloat64,
	"char": signature.KindString, "character": signature.KindString, "varchar": signature.KindString, "text": signature.KindString,
	"nchar": signature.KindString, "nvarchar": signature.KindString, "ntext": signature.KindString, "sysname": signature.KindString,
	"binary": signature.KindBytes, "varbinary": signature.KindBytes, "image": signature.KindBytes,
	"timestamp": signature.KindBytes, "rowversion": signature.KindBytes,
	"date": signature.KindDate, "time": signature.KindTime, "datetime": signature.KindTimestamp,
	"datetime2": signature.KindTimestamp, "smalldatetime": signature.KindTimestamp, "datetimeoffset": signature.KindTimestampTZ,
	"uniqueidentifier": signature.KindUUID, "xml": signature.KindXML, "json": signature.KindJSON,
	"sql_variant": signature.KindAny, "cursor": signature.KindCursor, "table": signature.KindTable,
	"geometry": signature.KindSpatial, "geography": signature.KindSpatial, "vector": signature.KindArray,
	"hierarchyid": signature.KindUser,
}

// SQLServer reads a Transact-SQL type.
func SQLServer(c *sqltext.Cursor) (signature.Type, bool) {
	if !c.Peek().IsName() {
		return signature.Type{}, false
	}
	first := c.I
	name := ""
	if next := c.Ahead(1); c.Peek().Kind == sqltext.Word && !(next.Kind == sqltext.Punct && next.Op == '.') {
		name = lowerName(c.Next().Bytes(c.Src))
	} else {
		parts := c.DottedName()
		name = lower(strings.Join(parts, "."))
		if len(parts) == 2 && strings.EqualFold(parts[0], "sys") {
			name = lower(parts[1])
		}
	}
	national := false
	switch name {
	case "national": // national char[acter] [varying], national text
		if c.AtWord("char") || c.AtWord("character") || c.AtWord("text") {
			name += " " + lower(c.Text(c.Next()))
			national = true
			if c.AcceptKw(sqltext.VARYING) {
				name += " varying"
			}
		}
	case "char", "character", "binary", "nchar":
		if c.AcceptKw(sqltext.VARYING) {
			name += " varying"
		}
	case "double":
		if c.AcceptWord("precision") {
			name = "double precision"
		}
	}
	t := signature.Type{Name: name}
	a, b, n := arguments(c)
	t.Text = c.FoldFrom(first)
	base := strings.TrimPrefix(strings.TrimSuffix(name, " varying"), "national ")
	kind, known := sqlServerKinds[base]
	if !known {
		kind = signature.KindUser
	}
	t.Kind = kind
	switch kind {
	case signature.KindString, signature.KindBytes:
		t.Length = a
		t.National = national || strings.HasPrefix(base, "n") || base == "sysname"
		if base == "sysname" {
			t.Length = sysnameLength
		}
	case signature.KindDecimal:
		t.Precision, t.Scale = a, b
	case signature.KindTime, signature.KindTimestamp, signature.KindTimestampTZ:
		t.Precision = a
	case signature.KindArray:
		t.Length = a
		t.Element = &signature.Type{Text: "real", Name: "real", Kind: signature.KindFloat32}
	case signature.KindFloat64:
		if n > 0 && a <= 24 && base == "float" {
			t.Kind = signature.KindFloat32
		}
	}
	return t, true
}
