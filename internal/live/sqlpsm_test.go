package live_test

import (
	"os"
	"os/exec"
	"path/filepath"
	"strconv"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"ramekin/internal/ddl"
	"ramekin/internal/signature"
	"ramekin/internal/testkit"
)

// hsqldbKind is the kind of what HSQLDB's information schema calls a type.
var hsqldbKind = map[string]signature.Kind{
	"CHARACTER VARYING": "string", "CHARACTER": "string", "CHARACTER LARGE OBJECT": "string", "VARCHAR_IGNORECASE": "string", "VARCHAR": "string", "CLOB": "string",
	"BIGINT": "int64", "INTEGER": "int32", "SMALLINT": "int16", "TINYINT": "int8", "DECIMAL": "decimal", "NUMERIC": "decimal", "DECFLOAT": "decimal",
	"DOUBLE PRECISION": "float64", "DOUBLE": "float64", "REAL": "float64", "FLOAT": "float64", "BOOLEAN": "bool", "BIT": "bits", "BIT VARYING": "bits",
	"BINARY": "bytes", "BINARY VARYING": "bytes", "BINARY LARGE OBJECT": "bytes", "VARBINARY": "bytes", "BLOB": "bytes", "DATE": "date", "TIME": "time",
	"TIME WITH TIME ZONE": "time", "TIME WITHOUT TIME ZONE": "time", "TIMESTAMP": "timestamp", "TIMESTAMP WITHOUT TIME ZONE": "timestamp",
	"TIMESTAMP WITH TIME ZONE": "timestamptz", "UUID": "uuid", "OTHER": "any", "ARRAY": "array", "INTERVAL": "interval",
}

// TestHSQLDB gives routines to HSQLDB, and holds what its information schema
// says against what the reader says.
func TestHSQLDB(t *testing.T) {
	const jar = "/usr/share/java/hsqldb.jar"
	testkit.Need(t, "java", "javac")
	if _, err := os.Stat(jar); err != nil {
		if os.Getenv("RAMEKIN_REQUIRE_TOOLS") != "" {
			t.Fatal("HSQLDB is not installed")
		}
		t.Skip("HSQLDB is not installed")
	}
	own, err := os.ReadFile("testdata/sqlpsm.sql")
	require.NoError(t, err)
	statements := strings.Split(string(own), "\n--%\n")
	dir := t.TempDir()
	path := filepath.Join(dir, "statements")
	require.NoError(t, os.WriteFile(path, []byte(strings.Join(statements, "\x01")), 0o644))
	out, err := exec.Command("java", "-Dhsqldb.method_class_names=java.lang.*", "-cp", jar, "testdata/Rows.java", path).CombinedOutput()
	require.NoError(t, err, string(out))

	// A semicolon ends each statement of the script that the reader gets.
	file := ddl.Assemble([]*ddl.File{ddl.Read("sqlpsm.sql", []byte(strings.Join(statements, ";\n")), &ddl.SQLPSM, ddl.Options{})})
	assert.Empty(t, file.Problems)
	server := map[string]*signature.Routine{} // by specific name
	for line := range strings.Lines(string(out)) {
		f := strings.Split(strings.TrimRight(line, "\n"), "\t")
		switch f[0] {
		case "REFUSED":
			assert.Fail(t, line)
		case "R":
			rt := &signature.Routine{Dialect: signature.SQLPSM, Kind: signature.Procedure, Specific: f[1], Schema: f[2], Name: f[3], Language: "sql"}
			if f[10] == "EXTERNAL" {
				rt.Language = strings.ToLower(f[9])
			}
			if f[4] == "FUNCTION" {
				rt.Kind = signature.Function
				rt.Returns = &signature.Returns{Type: hsqldbType(t, f[5], f[6], f[7], f[8])}
			}
			server[f[1]] = rt
		case "P":
			rt := server[f[1]]
			if !assert.NotNil(t, rt, line) {
				continue
			}
			p := signature.Parameter{Position: len(rt.Parameters) + 1, Name: f[4], Direction: signature.In, Type: hsqldbType(t, f[5], f[6], f[7], f[8])}
			switch f[3] {
			case "OUT":
				p.Direction = signature.Out
			case "INOUT":
				p.Direction = signature.InOut
			}
			rt.Parameters = append(rt.Parameters, p)
		}
	}
	same := 0
	for _, s := range server {
		var best []string
		found := false
		for i := range file.Routines {
			f := &file.Routines[i]
			schema := strings.ToUpper(f.Schema)
			if schema == "" {
				schema = "PUBLIC"
			}
			if !strings.EqualFold(f.Name, s.Name) || schema != s.Schema || len(f.Parameters) != len(s.Parameters) || f.Specific != "" && !strings.EqualFold(f.Specific, s.Specific) {
				continue
			}
			found = true
			header := *f // of result sets the information schema says nothing
			header.Results = nil
			if header.Returns != nil && header.Returns.Type.Kind == signature.KindTable && s.Returns.Type.Kind == signature.KindUser {
				header.Returns = s.Returns // ROW (…)
			}
			if d := differences(&header, s, sameHSQLDBType); best == nil || len(d) < len(best) {
				best = d
				if len(d) == 0 {
					break
				}
			}
		}
		switch {
		case s.Name == "UDAVG": // an aggregate, which is no routine
			assert.False(t, found)
		case !found:
			assert.Fail(t, "only on the server: "+s.Name)
		case len(best) > 0:
			assert.Fail(t, strings.Join(best, "\n"))
		default:
			same++
		}
	}
	t.Logf("%d routines are the same", same)
	assert.Equal(t, same, len(file.Routines))
	assert.Equal(t, 14, same)
}

func hsqldbType(t *testing.T, name, length, precision, scale string) signature.Type {
	typ := signature.Type{Text: name, Name: strings.ToLower(name)}
	if base, ok := strings.CutSuffix(name, " ARRAY"); ok || strings.Contains(name, " ARRAY") {
		typ.Name, name = strings.ToLower(base), "ARRAY"
	}
	if strings.HasPrefix(name, "INTERVAL") {
		name = "INTERVAL"
	}
	typ.Kind = hsqldbKind[name]
	if name == "USER-DEFINED" || strings.HasPrefix(name, "ROW") {
		typ.Kind = signature.KindUser
	} else if typ.Kind == "" {
		t.Logf("a type that is not known: %q", name)
	}
	number := func(s string) int { n, _ := strconv.Atoi(s); return n }
	switch typ.Kind {
	case signature.KindString, signature.KindBytes, signature.KindBits:
		typ.Length = number(length)
	case signature.KindDecimal:
		typ.Precision, typ.Scale = number(precision), number(scale)
	}
	return typ
}

// sameHSQLDBType: the server keeps REAL as a double, and gives lengths where
// none are written.
func sameHSQLDBType(file, server *signature.Type) bool {
	if file.Kind == signature.KindFloat32 && server.Kind == signature.KindFloat64 {
		return true
	}
	return file.Kind == server.Kind && (file.Length == 0 || server.Length == 0 || file.Length == server.Length) &&
		(file.Precision == 0 || file.Kind != signature.KindDecimal || file.Precision == server.Precision && (server.Scale == 0 || file.Scale == server.Scale))
}
