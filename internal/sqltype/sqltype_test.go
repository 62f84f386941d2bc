package sqltype_test

import (
	"fmt"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"ramekin/internal/signature"
	"ramekin/internal/sqltext"
	"ramekin/internal/sqltype"
)

// read reads the type at the beginning of src and tells what stands behind it.
func read(reader sqltype.Reader, lex *sqltext.Lexis, src string) (t signature.Type, rest string, ok bool) {
	s := sqltext.NewScanner([]byte(src), lex)
	var tokens []sqltext.Token
	for tok := s.Next(); tok.Kind != sqltext.EOF; tok = s.Next() {
		tokens = append(tokens, tok)
	}
	c := sqltext.NewCursor([]byte(src), lex, tokens)
	t, ok = reader(&c)
	return t, src[min(int(c.Peek().Start), len(src)):], ok
}

// describe is a type as kind, length, precision, scale and n for national.
func describe(t signature.Type) string {
	s := fmt.Sprintf("%s %d %d %d", t.Kind, t.Length, t.Precision, t.Scale)
	if t.National {
		s += " n"
	}
	return s
}

func TestSQLServer(t *testing.T) {
	for _, test := range []struct{ src, name, want string }{
		{"bit", "bit", "bool 0 0 0"},
		{"tinyint", "tinyint", "uint8 0 0 0"},
		{"smallint", "smallint", "int16 0 0 0"},
		{"INT", "int", "int32 0 0 0"},
		{"integer", "integer", "int32 0 0 0"},
		{"bigint", "bigint", "int64 0 0 0"},
		{"decimal", "decimal", "decimal 0 0 0"},
		{"decimal(9)", "decimal", "decimal 0 9 0"},
		{"dec(9, 2)", "dec", "decimal 0 9 2"},
		{"numeric (38 , 38)", "numeric", "decimal 0 38 38"},
		{"money", "money", "decimal 0 0 0"},
		{"smallmoney", "smallmoney", "decimal 0 0 0"},
		{"real", "real", "float32 0 0 0"},
		{"float", "float", "float64 0 0 0"},
		{"float(24)", "float", "float32 0 0 0"},
		{"float(53)", "float", "float64 0 0 0"},
		{"double precision", "double precision", "float64 0 0 0"},
		{"char(3)", "char", "string 3 0 0"},
		{"character(3)", "character", "string 3 0 0"},
		{"char varying (20)", "char varying", "string 20 0 0"},
		{"varchar(max)", "varchar", "string -1 0 0"},
		{"varchar", "varchar", "string 0 0 0"},
		{"nchar(2)", "nchar", "string 2 0 0 n"},
		{"nvarchar(200)", "nvarchar", "string 200 0 0 n"},
		{"national char(5)", "national char", "string 5 0 0 n"},
		{"national character varying(5)", "national character varying", "string 5 0 0 n"},
		{"national text", "national text", "string 0 0 0 n"},
		{"ntext", "ntext", "string 0 0 0 n"},
		{"sysname", "sysname", "string 128 0 0 n"},
		{"sys.sysname", "sysname", "string 128 0 0 n"},
		{"binary(8)", "binary", "bytes 8 0 0"},
		{"binary varying(8)", "binary varying", "bytes 8 0 0"},
		{"varbinary(max)", "varbinary", "bytes -1 0 0"},
		{"image", "image", "bytes 0 0 0"},
		{"rowversion", "rowversion", "bytes 0 0 0"},
		{"timestamp", "timestamp", "bytes 0 0 0"},
		{"date", "date", "date 0 0 0"},
		{"time(3)", "time", "time 0 3 0"},
		{"datetime", "datetime", "timestamp 0 0 0"},
		{"datetime2(0)", "datetime2", "timestamp 0 0 0"},
		{"smalldatetime", "smalldatetime", "timestamp 0 0 0"},
		{"datetimeoffset(7)", "datetimeoffset", "timestamptz 0 7 0"},
		{"uniqueidentifier", "uniqueidentifier", "uuid 0 0 0"},
		{"xml", "xml", "xml 0 0 0"},
		{"xml(CONTENT dbo.Notes)", "xml", "xml 0 0 0"},
		{"sql_variant", "sql_variant", "any 0 0 0"},
		{"geography", "geography", "spatial 0 0 0"},
		{"hierarchyid", "hierarchyid", "user 0 0 0"},
		{"cursor", "cursor", "cursor 0 0 0"},
		{"dbo.PassCode", "dbo.passcode", "user 0 0 0"},
		{"[dbo].[Pass Code]", "dbo.pass code", "user 0 0 0"},
		{"[nvarchar](7)", "nvarchar", "string 7 0 0 n"},
	} {
		got, rest, ok := read(sqltype.SQLServer, &sqltext.SQLServer, test.src+" = 1")
		require.True(t, ok, test.src)
		assert.Equal(t, test.want, describe(got), test.src)
		assert.Equal(t, test.name, got.Name, test.src)
		assert.Equal(t, test.src, got.Text, "the text is as written")
		assert.Equal(t, "= 1", rest, "the reader stops behind the type: %s", test.src)
	}
	_, _, ok := read(sqltype.SQLServer, &sqltext.SQLServer, "= 1")
	assert.False(t, ok)
}

func TestMySQL(t *testing.T) {
	for _, test := range []struct{ src, name, want string }{
		{"TINYINT", "tinyint", "int8 0 0 0"},
		{"TINYINT(1)", "tinyint", "int8 0 0 0"},
		{"TINYINT UNSIGNED", "tinyint", "uint8 0 0 0"},
		{"BOOL", "bool", "bool 0 0 0"},
		{"SMALLINT(5) ZEROFILL", "smallint", "uint16 0 0 0"},
		{"MEDIUMINT SIGNED", "mediumint", "int32 0 0 0"},
		{"INT(11) UNSIGNED ZEROFILL", "int", "uint32 0 0 0"},
		{"BIGINT UNSIGNED", "bigint", "uint64 0 0 0"},
		{"INT8", "int8", "int64 0 0 0"},
		{"SERIAL", "serial", "uint64 0 0 0"},
		{"DECIMAL(10,2) UNSIGNED", "decimal", "decimal 0 10 2"},
		{"FIXED", "fixed", "decimal 0 0 0"},
		{"FLOAT", "float", "float32 0 0 0"},
		{"FLOAT(24)", "float", "float32 0 0 0"},
		{"FLOAT(25)", "float", "float64 0 0 0"},
		{"FLOAT(7,3)", "float", "float32 0 0 0"},
		{"REAL", "real", "float64 0 0 0"},
		{"DOUBLE PRECISION", "double precision", "float64 0 0 0"},
		{"BIT(8)", "bit", "bits 8 0 0"},
		{"CHAR(3)", "char", "string 3 0 0"},
		{"CHAR(3) BYTE", "char", "bytes 3 0 0"},
		{"CHAR(3) ASCII", "char", "string 3 0 0"},
		{"CHAR VARYING(9)", "char varying", "string 9 0 0"},
		{"VARCHAR(20) CHARACTER SET utf8mb4 COLLATE utf8mb4_bin", "varchar", "string 20 0 0"},
		{"VARCHAR(20) CHARSET 'latin1'", "varchar", "string 20 0 0"},
		{"VARCHAR(20) CHARACTER SET binary", "varchar", "bytes 20 0 0"},
		{"VARCHAR(20) BINARY", "varchar", "string 20 0 0"},
		{"NCHAR(2)", "nchar", "string 2 0 0 n"},
		{"NATIONAL VARCHAR(2)", "national varchar", "string 2 0 0 n"},
		{"NATIONAL CHARACTER VARYING(2)", "national character varying", "string 2 0 0 n"},
		{"LONG", "long", "string 0 0 0"},
		{"LONG VARBINARY", "long varbinary", "bytes 0 0 0"},
		{"TINYTEXT", "tinytext", "string 0 0 0"},
		{"TEXT(100)", "text", "string 100 0 0"},
		{"LONGBLOB", "longblob", "bytes 0 0 0"},
		{"VARBINARY(16)", "varbinary", "bytes 16 0 0"},
		{"ENUM('a,b','c)''d')", "enum", "string 0 0 0"},
		{"ENUM('a') CHARACTER SET binary", "enum", "string 0 0 0"},
		{"SET('x','y')", "set", "string 0 0 0"},
		{"DATE", "date", "date 0 0 0"},
		{"TIME(6)", "time", "time 0 6 0"},
		{"DATETIME(3)", "datetime", "timestamp 0 3 0"},
		{"TIMESTAMP", "timestamp", "timestamptz 0 0 0"},
		{"YEAR(4)", "year", "int16 0 0 0"},
		{"JSON", "json", "json 0 0 0"},
		{"MULTIPOLYGON", "multipolygon", "spatial 0 0 0"},
		{"INET6", "inet6", "string 0 0 0"},
		{"VECTOR(3)", "vector", "array 3 0 0"},
	} {
		got, rest, ok := read(sqltype.MySQL, &sqltext.MySQL, test.src+" , x")
		require.True(t, ok, test.src)
		assert.Equal(t, test.want, describe(got), test.src)
		assert.Equal(t, test.name, got.Name, test.src)
		assert.Equal(t, test.src, got.Text)
		assert.Equal(t, ", x", rest, test.src)
	}
	_, _, ok := read(sqltype.MySQL, &sqltext.MySQL, "'x'")
	assert.False(t, ok)
}

func TestSplitName(t *testing.T) {
	schema, name := sqltype.SplitName("a.b.c")
	assert.Equal(t, []string{"a.b", "c"}, []string{schema, name})
	schema, name = sqltype.SplitName("c")
	assert.Equal(t, []string{"", "c"}, []string{schema, name})
}
