package callsite

import (
	"strings"

	"ramekin/internal/signature"
)

// scriptTypes are the type names of client libraries of JavaScript, Python, Go
// and PHP, in lower case, by what they carry.
var scriptTypes = map[string]signature.Kind{
	"bit": signature.KindBool, "boolean": signature.KindBool, "bool": signature.KindBool, "db_type_boolean": signature.KindBool, "param_bool": signature.KindBool,
	"tinyint": signature.KindUint8, "smallint": signature.KindInt16, "int": signature.KindInt32, "integer": signature.KindInt32, "bigint": signature.KindInt64,
	"db_type_binary_integer": signature.KindInt32, "param_int": signature.KindInt64, "sqlt_int": signature.KindInt32, "native_int": signature.KindInt32,
	"number": signature.KindDecimal, "db_type_number": signature.KindDecimal, "decimal": signature.KindDecimal, "numeric": signature.KindDecimal, "money": signature.KindDecimal, "smallmoney": signature.KindDecimal,
	"float": signature.KindFloat64, "real": signature.KindFloat32, "double": signature.KindFloat64, "db_type_binary_double": signature.KindFloat64, "native_float": signature.KindFloat64,
	"varchar": signature.KindString, "nvarchar": signature.KindString, "char": signature.KindString, "nchar": signature.KindString, "text": signature.KindString, "ntext": signature.KindString,
	"string": signature.KindString, "str": signature.KindString, "unicode": signature.KindString, "unicodetext": signature.KindString, "db_type_varchar": signature.KindString, "db_type_nvarchar": signature.KindString, "db_type_char": signature.KindString, "db_type_clob": signature.KindString, "clob": signature.KindString,
	"param_str": signature.KindString, "sqlt_chr": signature.KindString, "sqlt_lng": signature.KindString, "long_string": signature.KindString, "fixed_char": signature.KindString,
	"varbinary": signature.KindBytes, "binary": signature.KindBytes, "image": signature.KindBytes, "buffer": signature.KindBytes, "bytes": signature.KindBytes, "db_type_raw": signature.KindBytes, "db_type_blob": signature.KindBytes, "blob": signature.KindBytes, "param_lob": signature.KindBytes, "largebinary": signature.KindBytes,
	"date": signature.KindDate, "time": signature.KindTime, "datetime": signature.KindTimestamp, "datetime2": signature.KindTimestamp, "smalldatetime": signature.KindTimestamp, "timestamp": signature.KindTimestamp,
	"db_type_date": signature.KindTimestamp, "db_type_timestamp": signature.KindTimestamp, "db_type_timestamp_tz": signature.KindTimestampTZ, "datetimeoffset": signature.KindTimestampTZ, "sqlt_odt": signature.KindTimestamp,
	"uniqueidentifier": signature.KindUUID, "uuid": signature.KindUUID, "xml": signature.KindXML, "json": signature.KindJSON, "db_type_json": signature.KindJSON,
	"cursor": signature.KindCursor, "db_type_cursor": signature.KindCursor, "sqlt_rset": signature.KindCursor, "oci_b_cursor": signature.KindCursor, "tvp": signature.KindTable, "table": signature.KindTable, "variant": signature.KindAny,
}

// scriptType reads a value that names a type: sql.VarChar(50), oracledb.NUMBER.
func scriptType(v value) (signature.Kind, bool) {
	word := lastWord(v)
	if word == "" {
		if text, ok := v.constantText(); ok {
			word = text
		} else {
			word = v.typ
		}
	}
	lower := strings.ToLower(word)
	if k, ok := scriptTypes[lower]; ok {
		return k, strings.HasPrefix(lower, "n") && k == signature.KindString || lower == "db_type_nvarchar"
	}
	return signature.KindUnknown, false
}
