package callsite_test

import (
	"os"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"ramekin/internal/callsite"
	"ramekin/internal/ddl"
	"ramekin/internal/signature"
)

func TestMapperFiles(t *testing.T) {
	src, err := os.ReadFile("testdata/Mapper.xml")
	require.NoError(t, err)
	require.True(t, callsite.IsMapper("Mapper.xml", src))
	assert.False(t, callsite.IsMapper("pom.xml", []byte("<project/>")))
	clean := strings.ReplaceAll(string(src), " -->", "")
	holdAgainst(t, []byte(clean), "<!--", callsite.FromMapper("Mapper.xml", src))
}

func TestSheetOfLines(t *testing.T) {
	src, err := os.ReadFile("testdata/night.calls.csv")
	require.NoError(t, err)
	require.True(t, callsite.IsSheet("x/night.calls.csv"))
	assert.False(t, callsite.IsSheet("x/night.csv"), "any other table is none")
	calls, problems := callsite.FromSheet("night.calls.csv", src)
	var got []string
	for _, c := range calls {
		got = append(got, describe(c))
	}
	assert.Equal(t, []string{
		"berth.assign(return int32, in int32 @vessel_id 7, out string @note) captured",
		"fares.quote(return int32, in int32 vessel, out decimal) captured",
		"tide.close_all()",
		"tide.close()",
	}, got)
	assert.Equal(t, callsite.Span{File: "night.calls.csv", Line: 3, Column: 8, EndLine: 3, EndColumn: 20}, calls[0].At)
	assert.Equal(t, 200, calls[0].Arguments[2].Size)
	assert.Equal(t, 4, calls[0].Arguments[2].At.Line)
	assert.NotEmpty(t, calls[0].Arguments[2].Reads, "a variable takes it")
	require.Len(t, problems, 1)
	assert.Equal(t, `"x" is no position: write a whole number`, problems[0].Message)
	assert.Equal(t, 10, problems[0].Line)
}

func TestSheetOfTables(t *testing.T) {
	src, err := os.ReadFile("testdata/night.calls.toml")
	require.NoError(t, err)
	calls, problems := callsite.FromSheet("night.calls.toml", src)
	require.Len(t, calls, 2)
	assert.Equal(t, "berth.assign(in int32 @vessel_id 7, out string @note)", describe(calls[0]))
	assert.Equal(t, 3, calls[0].At.Line)
	assert.Equal(t, 11, calls[0].Arguments[1].At.Line)
	assert.Empty(t, calls[0].Arguments[1].Reads, "nothing takes it")
	assert.Equal(t, "fares.quote(in unknown vessel, in unknown)", describe(calls[1]))
	require.Len(t, problems, 1)
	assert.Equal(t, `"sideways" is no direction: write in, out, inout or return`, problems[0].Message)
}

func TestSheetsThatCannotBeRead(t *testing.T) {
	for text, want := range map[string]string{
		"a,b\n1,2":             `there is no column "a"`,
		"":                     "begins with a line of column names",
		"call\nx":              "no column routine",
		"routine\n\"x":         "this line cannot be read",
		"routine,position\n,1": "this line names no routine",
	} {
		_, problems := callsite.FromSheet("a.calls.csv", []byte(text))
		assert.True(t, told(problems, want), "%s: %v", text, problems)
	}
	for text, want := range map[string]string{
		"[[call]]\nroutine = 1":                         "no TOML that can be read",
		"[[call]]\nroutin = \"x\"":                      "there is no call.routin",
		"[[call]]\n":                                    "names no routine",
		"[[call]]\nroutine = \"x\"\nresults = \"lost\"": "results is read or ignored",
	} {
		_, problems := callsite.FromSheet("a.calls.toml", []byte(text))
		assert.True(t, told(problems, want), "%s: %v", text, problems)
	}
}

func told(problems []signature.Problem, want string) bool {
	return slices.ContainsFunc(problems, func(p signature.Problem) bool { return strings.Contains(p.Message, want) })
}

// TestPrivateRoutines: what a package declares for itself is no call of a
// routine that a catalog should have; a name that nobody declares is.
func TestPrivateRoutines(t *testing.T) {
	src := "CREATE OR REPLACE PACKAGE BODY a.k AS\n  PROCEDURE hidden(x NUMBER) IS BEGIN NULL; END;\n  PROCEDURE open_one IS BEGIN hidden(1); missing(2); END;\nEND;\n/\n"
	spec := "CREATE OR REPLACE PACKAGE a.k AS PROCEDURE open_one; END;\n/\n"
	body := ddl.Read("k.pkb", []byte(src), &ddl.Oracle, ddl.Options{Detail: true})
	catalog := ddl.Assemble([]*ddl.File{ddl.Read("k.pks", []byte(spec), &ddl.Oracle, ddl.Options{}), body})
	var got []string
	for _, c := range callsite.Resolve(callsite.FromSQL(body), signature.NewIndex(catalog)) {
		got = append(got, string(c.State)+" "+c.Named())
	}
	assert.Equal(t, []string{"unknown missing"}, got)
}

// TestNamesLikeTheServers: a function called as servers call theirs is told where
// a catalog has it.
func TestNamesLikeTheServers(t *testing.T) {
	src := "def f(cur, a):\n    cur.execute(\"SELECT is_open(%s), to_local(%s)\", (a, a))\n"
	find := func() []*callsite.Call {
		return callsite.Analyze([]callsite.File{{Path: "a.py", Text: []byte(src)}}, callsite.Source{})
	}
	assert.Empty(t, callsite.Certain(find()))
	ddlText := "CREATE FUNCTION is_open(a int) RETURNS boolean LANGUAGE sql AS $$ SELECT true $$;"
	catalog := ddl.Assemble([]*ddl.File{ddl.Read("f.sql", []byte(ddlText), &ddl.PostgreSQL, ddl.Options{})})
	calls := callsite.Resolve(find(), signature.NewIndex(catalog))
	require.Len(t, calls, 1)
	assert.Equal(t, "is_open(in unknown a)", describe(calls[0]))
}
