package sqltype

import (
	"strings"

	"ramekin/internal/signature"
	"ramekin/internal/sqltext"
)

// mySQLKinds holds the types and their synonyms ("Data types", "Using data
// types from other database engines").
var mySQLKinds = map[string]signature.Kind{
	"tinyint": signature.KindInt8, "int1": signature.KindInt8, "smallint": signature.KindInt16, "int2": signature.KindInt16,
	"mediumint": signature.KindInt32, "middleint": signature.KindInt32, "int3": signature.KindInt32,
	"int": signature.KindInt32, "integer": signature.KindInt32, "int4": signature.KindInt32,
	"bigint": signature.KindInt64, "int8": signature.KindInt64, "serial": signature.KindUint64,
	"bool": signature.KindBool, "boolean": signature.KindBool, "year": signature.KindInt16,
	"decimal": signature.KindDecimal, "dec": signature.KindDecimal, "numeric": signature.KindDecimal, "fixed": signature.KindDecimal,
	"float": signature.KindFloat32, "float4": signature.KindFloat32, "float8": signature.KindFloat64,
	"double": signature.KindFloat64, "double precision": signature.KindFloat64, "real": signature.KindFloat64,
	"char": signature.KindString, "character": signature.KindString, "varchar": signature.KindString, "varcharacter": signature.KindString,
	"nchar": signature.KindString, "nvarchar": signature.KindString, "long": signature.KindString, "long varchar": signature.KindString,
	"tinytext": signature.KindString, "text": signature.KindString, "mediumtext": signature.KindString, "longtext": signature.KindString,
	"enum": signature.KindString, "set": signature.KindString, "inet4": signature.KindString, "inet6": signature.KindString,
	"binary": signature.KindBytes, "varbinary": signature.KindBytes, "tinyblob": signature.KindBytes, "blob": signature.KindBytes,
	"mediumblob": signature.KindBytes, "longblob": signature.KindBytes, "long varbinary": signature.KindBytes,
	"bit": signature.KindBits, "date": signature.KindDate, "time": signature.KindTime,
	"datetime": signature.KindTimestamp, "timestamp": signature.KindTimestampTZ, "json": signature.KindJSON, "uuid": signature.KindUUID,
	"geometry": signature.KindSpatial, "point": signature.KindSpatial, "linestring": signature.KindSpatial, "polygon": signature.KindSpatial,
	"multipoint": signature.KindSpatial, "multilinestring": signature.KindSpatial, "multipolygon": signature.KindSpatial,
	"geometrycollection": signature.KindSpatial, "geomcollection": signature.KindSpatial, "vector": signature.KindArray,
	// What a loadable function returns.
	"string": signature.KindString,
}

var unsignedKinds = map[signature.Kind]signature.Kind{
	signature.KindInt8: signature.KindUint8, signature.KindInt16: signature.KindUint16,
	signature.KindInt32: signature.KindUint32, signature.KindInt64: signature.KindUint64,
}

// MySQL reads a MySQL type with its attributes: unsigned, zerofill, character
// set and collation.
func MySQL(c *sqltext.Cursor) (signature.Type, bool) { return readMySQL(c, mySQLKinds) }

func readMySQL(c *sqltext.Cursor, kinds map[string]signature.Kind) (signature.Type, bool) {
	if c.Peek().Kind != sqltext.Word {
		return signature.Type{}, false
	}
	first := c.I
	name := lowerName(c.Next().Bytes(c.Src))
	national := false
	switch name {
	case "national":
		if c.AtWord("char") || c.AtWord("character") || c.AtWord("varchar") || c.AtWord("varcharacter") {
			name += " " + lower(c.Text(c.Next()))
			national = true
			if c.AcceptKw(sqltext.VARYING) {
				name += " varying"
			}
		}
	case "char", "character", "nchar":
		if c.AcceptKw(sqltext.VARYING) || c.AcceptWord("varchar") || c.AcceptWord("varcharacter") {
			name += " varying"
		}
	case "double":
		if c.AcceptWord("precision") {
			name = "double precision"
		}
	case "long":
		if c.AtWord("varchar") || c.AtWord("varbinary") {
			name += " " + lower(c.Text(c.Next()))
		}
	}
	t := signature.Type{Name: name}
	a, b, n := arguments(c)
	base := strings.TrimPrefix(strings.TrimSuffix(name, " varying"), "national ")
	kind, known := kinds[base]
	if !known {
		kind = signature.KindUser
	}
	t.Kind = kind
	isEnum := base == "enum" || base == "set"
	switch kind {
	case signature.KindString, signature.KindBytes, signature.KindBits, signature.KindArray:
		if !isEnum {
			t.Length = a
		}
		t.National = national || base == "nchar" || base == "nvarchar"
	case signature.KindDecimal:
		t.Precision, t.Scale = a, b
	case signature.KindTime, signature.KindTimestamp, signature.KindTimestampTZ:
		t.Precision = a
	case signature.KindFloat32:
		if n == 1 && a > 24 && base == "float" {
			t.Kind = signature.KindFloat64
		}
	}
	if kind == signature.KindArray {
		t.Element = &signature.Type{Text: "float", Name: "float", Kind: signature.KindFloat32}
	}
	mySQLAttributes(c, &t)
	t.Text = c.FoldFrom(first)
	return t, true
}

// mySQLAttributes reads what may follow a type.
func mySQLAttributes(c *sqltext.Cursor, t *signature.Type) {
	for {
		switch {
		case c.AcceptWord("unsigned"), c.AcceptWord("zerofill"): // ZEROFILL implies UNSIGNED
			if u, ok := unsignedKinds[t.Kind]; ok {
				t.Kind = u
			}
		case c.AcceptWord("signed"), c.AcceptWord("ascii"), c.AcceptWord("unicode"):
		case t.Kind == signature.KindString && c.AcceptWord("binary"): // the collation, not the type
		case t.Kind == signature.KindString && c.AcceptWord("byte"):
			t.Kind = signature.KindBytes
		case c.AtWord("charset"):
			c.I++
			charset(c, t)
		case (c.AtWord("character") || c.AtWord("char")) && c.Ahead(1).Kw == sqltext.SET:
			c.I += 2
			charset(c, t)
		case c.AtKw(sqltext.COLLATE):
			c.I += 2
		default:
			return
		}
	}
}

func charset(c *sqltext.Cursor, t *signature.Type) {
	set := c.Next()
	name := lower(set.Name(c.Src))
	if set.Kind == sqltext.String {
		name = lower(sqltext.StringValue(c.Text(set), c.Lex))
	}
	if name == "binary" && t.Kind == signature.KindString && t.Name != "enum" && t.Name != "set" {
		t.Kind = signature.KindBytes
	}
}
