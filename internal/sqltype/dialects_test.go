package sqltype_test

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"ramekin/internal/sqltext"
	"ramekin/internal/sqltype"
)

// TestDialects reads types as each manual lists them: text, name, and what
// describe says of it. "=" stands for the text in lower case.
func TestDialects(t *testing.T) {
	for _, d := range []struct {
		name  string
		read  sqltype.Reader
		lex   *sqltext.Lexis
		types [][3]string
	}{
		{"postgresql", sqltype.PostgreSQL, &sqltext.PostgreSQL, [][3]string{
			{"smallint", "=", "int16 0 0 0"}, {"int4", "=", "int32 0 0 0"}, {"BIGINT", "=", "int64 0 0 0"}, {"numeric(10,2)", "numeric", "decimal 0 10 2"},
			{"float(24)", "float", "float32 0 0 0"}, {"float(25)", "float", "float64 0 0 0"}, {"double precision", "=", "float64 0 0 0"}, {"money", "=", "decimal 0 0 0"},
			{"character varying(5)", "character varying", "string 5 0 0"}, {"char", "=", "string 0 0 0"}, {`"char"`, "char", "string 0 0 0"}, {"name", "=", "string 0 0 0"},
			{"national character(3)", "national character", "string 3 0 0 n"}, {"bytea", "=", "bytes 0 0 0"}, {"bit varying(7)", "bit varying", "bits 7 0 0"},
			{"timestamp(3) without time zone", "timestamp without time zone", "timestamp 0 3 0"}, {"timestamp with time zone", "=", "timestamptz 0 0 0"},
			{"timetz", "=", "time 0 0 0"}, {"time(2) with time zone", "time with time zone", "time 0 2 0"}, {"interval day to second(3)", "interval", "interval 0 3 0"},
			{"uuid", "=", "uuid 0 0 0"}, {"jsonb", "=", "json 0 0 0"}, {"xml", "=", "xml 0 0 0"}, {"geometry(Point, 4326)", "geometry", "spatial 0 0 0"},
			{"refcursor", "=", "cursor 0 0 0"}, {"record", "=", "record 0 0 0"}, {"void", "=", "void 0 0 0"}, {"trigger", "=", "unknown 0 0 0"}, {"internal", "=", "unknown 0 0 0"},
			{"anyelement", "=", "unknown 0 0 0"}, {`"any"`, "any", "any 0 0 0"}, {"int[]", "int", "array 0 0 0"}, {"int ARRAY[4]", "int", "array 4 0 0"}, {"text[][]", "text", "array 0 0 0"},
			{"desk.fare_code", "desk.fare_code", "user 0 0 0"}, {`pg_catalog.int4`, "int4", "int32 0 0 0"}, {`desk."Mixed"`, "desk.mixed", "user 0 0 0"}, {`"int4"`, "int4", "int32 0 0 0"},
			{"desk.sailings.id%TYPE", "desk.sailings.id%type", "anchored 0 0 0"}, {"sailings%ROWTYPE", "sailings%rowtype", "anchored 0 0 0"}, {"oidvector", "=", "array 0 0 0"},
		}},
		{"oracle", sqltype.Oracle, &sqltext.Oracle, [][3]string{
			{"NUMBER", "number", "decimal 0 0 0"}, {"NUMBER(9,2)", "number", "decimal 0 9 2"}, {"INTEGER", "integer", "decimal 0 0 0"}, {"PLS_INTEGER", "=", "int32 0 0 0"},
			{"SIMPLE_INTEGER", "=", "int32 0 0 0"}, {"BINARY_FLOAT", "=", "float32 0 0 0"}, {"BINARY_DOUBLE", "=", "float64 0 0 0"}, {"VARCHAR2(20 CHAR)", "varchar2", "string 20 0 0"},
			{"NVARCHAR2(5)", "nvarchar2", "string 5 0 0 n"}, {"NCLOB", "nclob", "string 0 0 0 n"}, {"LONG RAW", "long raw", "bytes 0 0 0"}, {"RAW(16)", "raw", "bytes 16 0 0"},
			{"DATE", "date", "timestamp 0 0 0"}, {"TIMESTAMP(3) WITH LOCAL TIME ZONE", "timestamp with local time zone", "timestamptz 0 3 0"}, {"TIMESTAMP", "timestamp", "timestamp 0 0 0"},
			{"INTERVAL YEAR(2) TO MONTH", "interval year to month", "interval 0 0 0"}, {"INTERVAL DAY(2) TO SECOND(6)", "interval day to second", "interval 0 6 0"},
			{"SYS_REFCURSOR", "=", "cursor 0 0 0"}, {"REF CURSOR", "=", "cursor 0 0 0"}, {"BOOLEAN", "=", "bool 0 0 0"}, {"XMLTYPE", "=", "xml 0 0 0"}, {"SYS.XMLTYPE", "xmltype", "xml 0 0 0"},
			{"MDSYS.SDO_GEOMETRY", "sdo_geometry", "spatial 0 0 0"}, {"harbour.dues.kind_t", "harbour.dues.kind_t", "user 0 0 0"}, {"berths.name%TYPE", "berths.name%type", "anchored 0 0 0"},
			{"berths%ROWTYPE", "berths%rowtype", "anchored 0 0 0"}, {"REF tide_window", "ref", "user 0 0 0"}, {"ANYDATA", "anydata", "any 0 0 0"}, {"VARCHAR2 CHARACTER SET ANY_CS", "varchar2", "string 0 0 0"},
		}},
		{"hana", sqltype.HANA, &sqltext.HANA, [][3]string{
			{"TINYINT", "=", "uint8 0 0 0"}, {"SMALLDECIMAL", "=", "decimal 0 0 0"}, {"DECIMAL(9,2)", "decimal", "decimal 0 9 2"}, {"FLOAT(24)", "float", "float32 0 0 0"}, {"FLOAT", "float", "float64 0 0 0"},
			{"REAL", "real", "float32 0 0 0"}, {"NVARCHAR(20)", "nvarchar", "string 20 0 0 n"}, {"ALPHANUM(4)", "alphanum", "string 4 0 0"}, {"SECONDDATE", "=", "timestamp 0 0 0"}, {"VARBINARY(8)", "varbinary", "bytes 8 0 0"},
			{"ST_GEOMETRY(4326)", "st_geometry", "spatial 0 0 0"}, {"INTEGER ARRAY", "integer", "array 0 0 0"}, {`"pkg::tt.rows"`, "pkg::tt.rows", "user 0 0 0"},
		}},
		{"snowflake", sqltype.Snowflake, &sqltext.Snowflake, [][3]string{
			{"NUMBER(38,0)", "number", "decimal 0 38 0"}, {"BYTEINT", "=", "decimal 0 0 0"}, {"FLOAT", "=", "float64 0 0 0"}, {"REAL", "=", "float64 0 0 0"}, {"STRING", "=", "string 0 0 0"}, {"VARCHAR(10)", "varchar", "string 10 0 0"},
			{"VARIANT", "=", "any 0 0 0"}, {"OBJECT", "=", "json 0 0 0"}, {"ARRAY", "=", "array 0 0 0"}, {"ARRAY(NUMBER(5))", "array", "array 0 0 0"}, {"VECTOR(FLOAT, 256)", "vector", "array 256 0 0"}, {"DATETIME", "=", "timestamp 0 0 0"},
			{"TIMESTAMP_LTZ(9)", "timestamp_ltz", "timestamptz 0 9 0"}, {"TIMESTAMP_NTZ", "=", "timestamp 0 0 0"}, {"GEOGRAPHY", "=", "spatial 0 0 0"}, {"BINARY(16)", "binary", "bytes 16 0 0"}, {"MAP(VARCHAR, NUMBER)", "map", "json 0 0 0"},
		}},
		{"db2", sqltype.Db2, &sqltext.Db2, [][3]string{
			{"DECFLOAT(16)", "decfloat", "decimal 0 16 0"}, {"FLOAT(10)", "float", "float32 0 0 0"}, {"CHAR(8) FOR BIT DATA", "char", "bytes 8 0 0"}, {"VARCHAR(20) FOR SBCS DATA", "varchar", "string 20 0 0"}, {"CLOB(1M)", "clob", "string 1048576 0 0"},
			{"BLOB(2G)", "blob", "bytes 2147483648 0 0"}, {"DBCLOB(3K)", "dbclob", "string 3072 0 0"}, {"CHARACTER LARGE OBJECT(5)", "character large object", "string 5 0 0"}, {"GRAPHIC(4)", "graphic", "string 4 0 0"}, {"VARCHAR(9 OCTETS)", "varchar", "string 9 0 0"},
			{"TIMESTAMP(12)", "timestamp", "timestamp 0 12 0"}, {"XML", "xml", "xml 0 0 0"}, {"ANCHOR DATA TYPE TO pay.crew.name", "pay.crew.name%type", "anchored 0 0 0"}, {"ANCHOR ROW OF crew", "crew%rowtype", "anchored 0 0 0"}, {"NCHAR(3)", "nchar", "string 3 0 0 n"},
			{"CHAR(10) CCSID UNICODE", "char", "string 10 0 0"}, {"pay.names", "pay.names", "user 0 0 0"}, {"CURSOR", "cursor", "cursor 0 0 0"},
		}},
		{"firebird", sqltype.Firebird, &sqltext.Firebird, [][3]string{
			{"INT128", "=", "decimal 0 0 0"}, {"FLOAT", "=", "float32 0 0 0"}, {"FLOAT(30)", "float", "float64 0 0 0"}, {"BLOB", "blob", "bytes 0 0 0"}, {"BLOB SUB_TYPE TEXT", "blob", "string 0 0 0"}, {"BLOB SUB_TYPE 1 SEGMENT SIZE 80", "blob", "string 0 0 0"},
			{"BLOB SUB_TYPE -2", "blob", "bytes 0 0 0"}, {"BLOB(80, 1)", "blob", "string 0 0 0"}, {"CHAR(16) CHARACTER SET OCTETS", "char", "bytes 16 0 0"}, {"VARCHAR(9) CHARACTER SET UTF8", "varchar", "string 9 0 0"}, {"TYPE OF d_code", "d_code", "user 0 0 0"},
			{"TYPE OF COLUMN stores.name", "stores.name%type", "anchored 0 0 0"}, {"NATIONAL CHAR VARYING(4)", "national char varying", "string 4 0 0 n"}, {"TIME WITH TIME ZONE", "time with time zone", "time 0 0 0"}, {"CSTRING(80)", "cstring", "string 80 0 0"},
		}},
		{"teradata", sqltype.Teradata, &sqltext.Teradata, [][3]string{
			{"BYTEINT", "=", "int8 0 0 0"}, {"FLOAT", "=", "float64 0 0 0"}, {"NUMBER(10,2)", "number", "decimal 0 10 2"}, {"VARBYTE(16)", "varbyte", "bytes 16 0 0"}, {"CHAR(3) CHARACTER SET LATIN", "char", "string 3 0 0"}, {"LONG VARCHAR", "long varchar", "string 0 0 0"},
			{"PERIOD(TIMESTAMP(3))", "period", "period 0 0 0"}, {"INTERVAL DAY(2) TO SECOND(3)", "interval day to second", "interval 0 3 0"}, {"TIMESTAMP(6) WITH TIME ZONE", "timestamp with time zone", "timestamptz 0 6 0"}, {"JSON(1000)", "json", "json 0 0 0"},
			{"TD_ANYTYPE", "=", "any 0 0 0"}, {"SYSUDTLIB.money", "sysudtlib.money", "user 0 0 0"},
		}},
		{"sqlpsm", sqltype.SQLPSM, &sqltext.SQLPSM, [][3]string{
			{"REAL", "real", "float32 0 0 0"}, {"FLOAT(10)", "float", "float64 0 0 0"}, {"INTEGER ARRAY[5]", "integer", "array 5 0 0"}, {"VARCHAR(3) ARRAY", "varchar", "array 0 0 0"}, {"BIT VARYING(8)", "bit varying", "bits 8 0 0"}, {"OTHER", "other", "any 0 0 0"},
			{"INTERVAL DAY TO SECOND(3)", "interval", "interval 0 3 0"}, {"BINARY LARGE OBJECT(2K)", "binary large object", "bytes 2048 0 0"}, {"ROW(a INT, b INT)", "row", "record 0 0 0"}, {"CHARACTER(3) CHARACTER SET latin1", "character", "string 3 0 0"},
		}},
		{"mariadb", sqltype.MariaDB, &sqltext.MariaDB, [][3]string{
			{"INET6", "inet6", "string 0 0 0"}, {"VARCHAR2(9)", "varchar2", "string 9 0 0"}, {"NUMBER(6)", "number", "decimal 0 6 0"}, {"RAW(3)", "raw", "bytes 3 0 0"}, {"ROW(a INT, b CHAR(3))", "row", "record 0 0 0"}, {"ROW TYPE OF s.t", "s.t%rowtype", "anchored 0 0 0"},
			{"TYPE OF t.a", "t.a%type", "anchored 0 0 0"}, {"t.a%TYPE", "t.a%type", "anchored 0 0 0"}, {"c%ROWTYPE", "c%rowtype", "anchored 0 0 0"}, {"mariadb_schema.DATE", "date", "date 0 0 0"}, {"SYS_REFCURSOR", "sys_refcursor", "cursor 0 0 0"}, {"INT(5) UNSIGNED", "int", "uint32 0 0 0"},
		}},
	} {
		for _, test := range d.types {
			got, rest, ok := read(d.read, d.lex, test[0]+" , x")
			require.True(t, ok, "%s: %s", d.name, test[0])
			name := test[1]
			if name == "=" {
				name = strings.ToLower(test[0])
			}
			assert.Equal(t, test[2], describe(got), "%s: %s", d.name, test[0])
			assert.Equal(t, name, got.Name, "%s: %s", d.name, test[0])
			assert.Equal(t, test[0], got.Text, d.name)
			assert.Equal(t, ", x", rest, "%s: the reader stops behind %s", d.name, test[0])
		}
		_, _, ok := read(d.read, d.lex, ") x")
		assert.False(t, ok, d.name)
	}
}
