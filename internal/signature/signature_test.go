package signature_test

import (
	"encoding/json"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"ramekin/internal/signature"
)

func routine(schema, name string, d signature.Dialect) signature.Routine {
	return signature.Routine{Dialect: d, Kind: signature.Procedure, Schema: schema, Name: name, Key: strings.Trim(schema+"."+name, ".")}
}

func names(list []*signature.Routine) []string {
	var out []string
	for _, r := range list {
		out = append(out, r.QualifiedName()+"/"+string(r.Dialect))
	}
	return out
}

func TestFind(t *testing.T) {
	ix := signature.NewIndex(&signature.Catalog{Routines: []signature.Routine{
		routine("berth", "assign", signature.SQLServer), routine("dbo", "release", signature.SQLServer), routine("deck", "release", signature.SQLServer),
		routine("", "plain", signature.SQLServer), routine("a", "twin", signature.SQLServer), routine("b", "twin", signature.SQLServer),
	}}, &signature.Catalog{Routines: []signature.Routine{routine("", "assign", signature.MySQL)}})
	for _, test := range []struct {
		name    string
		dialect signature.Dialect
		want    []string
	}{
		{"berth.ASSIGN", signature.SQLServer, []string{"berth.assign/sqlserver"}},
		{"assign", signature.SQLServer, []string{"berth.assign/sqlserver"}},
		{"assign", signature.MySQL, []string{"assign/mysql"}},
		{"harbour.assign", signature.MySQL, []string{"assign/mysql"}},
		{"berth.assign", "", []string{"berth.assign/sqlserver"}},
		{"release", "", []string{"dbo.release/sqlserver"}},
		{"deck.release", "", []string{"deck.release/sqlserver"}},
		{"Desk.dbo.plain", "", []string{"plain/sqlserver"}},
		{"plain;1", "", []string{"plain/sqlserver"}},
		{"twin", "", []string{"a.twin/sqlserver", "b.twin/sqlserver"}},
		{"other.release", "", nil},
		{"nothing", "", nil},
	} {
		assert.Equal(t, test.want, names(ix.Find(strings.Split(test.name, "."), test.dialect)), "%s in %q", test.name, test.dialect)
	}
	assert.Equal(t, "assign", ix.Nearest("asign").Name)
	assert.Nil(t, ix.Nearest("something_else_entirely"))
	assert.Empty(t, ix.Find(nil, ""))
}

func TestEditDistance(t *testing.T) {
	for _, test := range []struct {
		a, b string
		want int
	}{{"", "", 0}, {"abc", "", 3}, {"vesel", "vessel", 1}, {"noet", "note", 1}, {"kitten", "sitting", 3}, {"größe", "grösse", 2}} {
		assert.Equal(t, test.want, signature.EditDistance(test.a, test.b), "%s %s", test.a, test.b)
		assert.Equal(t, test.want, signature.EditDistance(test.b, test.a), "%s %s", test.b, test.a)
	}
}

func TestCatalogJSON(t *testing.T) {
	cat := &signature.Catalog{Routines: []signature.Routine{{
		Dialect: signature.SQLServer, Kind: signature.Function, Schema: "dbo", Name: "f", Key: "dbo.f", Language: "sql",
		Parameters: []signature.Parameter{{Position: 1, Name: "@a<b", Direction: signature.In, Type: signature.Type{Text: "int", Name: "int", Kind: signature.KindInt32}}},
		Returns:    &signature.Returns{Type: signature.Type{Text: "table", Kind: signature.KindTable}, Set: true, Columns: []signature.Column{{Name: "x"}}},
		At:         signature.Extent{File: "a.sql", Line: 1, Column: 1, EndLine: 2},
	}}}
	data, err := json.Marshal(cat)
	require.NoError(t, err)
	text := string(data)
	assert.NotContains(t, text, `"parameters":null`)
	for _, want := range []string{`{"format":"ramekin.catalog","version":1,"routines":[{"dialect":"sqlserver","kind":"function","schema":"dbo","container":"","name":"f","key":"dbo.f"`,
		`"default":null,"variadic":false}`, `"columns":[{"name":"x","type":null}]}`, `"status":null,"results":[],"at":{"file":"a.sql","line":1,"column":1,"end_line":2}`, `"problems":[]}`} {
		assert.Contains(t, text, want)
	}
	back, err := signature.DecodeCatalog(data)
	require.NoError(t, err)
	again, err := json.Marshal(back)
	require.NoError(t, err)
	assert.Equal(t, text, string(again))
}

func TestDecodeCatalogRefuses(t *testing.T) {
	for text, want := range map[string]string{
		`{"format":"ramekin.catalog","version":2}`:  "a catalog of version 2; this program reads version 1",
		`{"format":"ramekin.findings","version":1}`: "not a saved catalog",
		`[]`:                 "line 1, column 1",
		"{\n \"format\": x}": "line 2, column 12",
		`{"format":"ramekin.catalog","version":1,"routines":7}`: "line 1",
	} {
		_, err := signature.DecodeCatalog([]byte(text))
		assert.ErrorContains(t, err, want, text)
	}
}

func TestNamesAndKinds(t *testing.T) {
	assert.Equal(t, "vessel_id", signature.BareName("@vessel_id"))
	r := routine("berth", "assign", signature.SQLServer)
	r.Container = "pkg"
	assert.Equal(t, "berth.pkg.assign", r.QualifiedName())
	r.Parameters = []signature.Parameter{{Direction: signature.In}, {Direction: signature.InOut}, {Direction: signature.Out}}
	assert.Len(t, r.Outputs(), 2)
	assert.False(t, r.ReturnsValue())
	assert.True(t, signature.KindUint16.IsInteger())
	assert.False(t, signature.KindDecimal.IsInteger())
	assert.False(t, signature.KindUser.IsKnown())
	assert.True(t, signature.KindString.IsKnown())
	for _, d := range signature.Dialects() {
		n := signature.NamingOf(d)
		assert.NotNil(t, n.Fold, d)
		assert.False(t, n.System("berth", "assign_berth"), d)
	}
	for d, routine := range map[signature.Dialect][2]string{
		signature.SQLServer: {"", "sp_executesql"}, signature.MySQL: {"sys", "x"}, signature.PostgreSQL: {"pg_catalog", "now"},
		signature.Oracle: {"DBMS_OUTPUT", "PUT_LINE"}, signature.HANA: {"SYS", "x"}, signature.Snowflake: {"", "SYSTEM$WAIT"}, signature.Db2: {"SYSPROC", "ADMIN_CMD"},
		signature.Teradata: {"DBC", "SysExecSQL"}, signature.SQLPSM: {"INFORMATION_SCHEMA", "x"}, signature.Firebird: {"RDB$TIME_ZONE_UTIL", "TRANSITIONS"},
	} {
		assert.True(t, signature.NamingOf(d).System(routine[0], routine[1]), d)
	}
	assert.False(t, signature.NamingOf("other").System("sys", "x"))
}

func FuzzDecodeCatalog(f *testing.F) {
	f.Add([]byte(`{"format":"ramekin.catalog","version":1,"routines":[{"name":"p","parameters":[{"type":{"element":{"columns":[{}]}}}],"returns":{},"status":{},"results":[{}]}],"problems":[{}]}`))
	f.Add([]byte(`{"format":"ramekin.catalog","version":9}`))
	f.Fuzz(func(t *testing.T, data []byte) {
		cat, err := signature.DecodeCatalog(data)
		if err != nil {
			return
		}
		signature.NewIndex(cat).Find([]string{"a", "b"}, "")
		if _, err := json.Marshal(cat); err != nil {
			t.Fatal(err)
		}
	})
}
