package cli

import (
	"os"
	"path/filepath"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"ramekin/internal/report"
	"ramekin/internal/signature"
	"ramekin/internal/source"
)

// project writes files into a folder of the test's own.
func project(t *testing.T, files map[string]string) source.Tree {
	t.Helper()
	dir := t.TempDir()
	for name, text := range files {
		path := filepath.Join(dir, filepath.FromSlash(name))
		require.NoError(t, os.MkdirAll(filepath.Dir(path), 0o755))
		require.NoError(t, os.WriteFile(path, []byte(text), 0o644))
	}
	return source.Tree{Dir: dir}
}

func loadPaths(t *testing.T, tree source.Tree, paths ...string) *application {
	t.Helper()
	entries, problems, errs := walkCode(tree, paths)
	require.Empty(t, problems)
	require.Empty(t, errs)
	return loadApplication(entries, tree, "")
}

func placed(app *application) []string {
	var out []string
	for _, c := range app.calls {
		out = append(out, c.At.File+":"+strings.Join(c.Name, "."))
	}
	return out
}

const javaCall = "import java.sql.*; class X { void m(Connection c) throws SQLException { c.prepareCall(%).execute(); } }"

func TestCallsComeInTheOrderOfTheFiles(t *testing.T) {
	tree := project(t, map[string]string{
		"a/Z.java":     strings.Replace(javaCall, "%", `"{call z}"`, 1),
		"b/m.sql":      "EXEC dbo.m",
		"c/A.cs":       `using System.Data; class A { void M(SqlConnection c) { new SqlCommand("a", c) { CommandType = CommandType.StoredProcedure }.ExecuteNonQuery(); } }`,
		"d/B.java":     strings.Replace(javaCall, "%", "Texts.B", 1),
		"d/Texts.java": `class Texts { static final String B = "{call b}"; }`,
		"e/note.txt":   "EXEC dbo.nothing",
	})
	app := loadPaths(t, tree, ".")
	assert.Equal(t, []string{"a/Z.java:z", "b/m.sql:dbo.m", "c/A.cs:a", "d/Texts.java:b"}, placed(app))
	assert.Equal(t, 5, app.files)
	assert.Empty(t, app.problems)
}

func TestOneFileAndTheConstantsBesideIt(t *testing.T) {
	tree := project(t, map[string]string{
		"B.java":       strings.Replace(javaCall, "%", "Texts.B", 1),
		"Texts.java":   `class Texts { static final String B = "{call b}"; }`,
		"Unasked.java": strings.Replace(javaCall, "%", `"{call unasked}"`, 1),
	})
	app := loadPaths(t, tree, "B.java")
	assert.Equal(t, []string{"Texts.java:b"}, placed(app))
	assert.Equal(t, 1, app.files)
}

func TestKeep(t *testing.T) {
	tree := project(t, map[string]string{
		"A.java": strings.Replace(javaCall, "%", "Texts.B", 1), "Texts.java": `class Texts { static final String B = "{call b}"; }`,
		"C.java": strings.Replace(javaCall, "%", `"{call c}"`, 1) + "// ramekin: allow status-ignored -- x",
	})
	app := loadPaths(t, tree, ".")
	require.Len(t, app.calls, 2)
	app.keep(map[string]bool{"A.java": true})
	assert.Equal(t, []string{"Texts.java:b"}, placed(app), "the file uses it")
	assert.Empty(t, app.suppressions)
	assert.Equal(t, 1, app.files)
}

func TestScriptDialects(t *testing.T) {
	for text, want := range map[string]signature.Dialect{
		"EXEC p": signature.SQLServer, "call p();": signature.MySQL, "SELECT 1": "", "CALL p; EXEC q": "",
	} {
		assert.Equal(t, want, callDialect([]byte(text)), text)
	}
	calls, problems := scriptCalls("a.sql", []byte("CALL p(1)"), "")
	assert.Len(t, calls, 1)
	assert.Empty(t, problems)
	_, problems = scriptCalls("a.sql", []byte("CREATE PROCEDURE vague(a INT) CALL q"), "")
	require.Len(t, problems, 1)
	assert.Contains(t, problems[0].Message, "--dialect")
	calls, _ = scriptCalls("a.sql", []byte("SELECT 1"), "")
	assert.Empty(t, calls)
}

func TestUnreadableCodeIsAProblem(t *testing.T) {
	tree := project(t, map[string]string{"A.java": "class A \x00", "B.java": strings.Replace(javaCall, "%", `"{call b}"`, 1)})
	app := loadPaths(t, tree, ".")
	assert.Len(t, app.calls, 1)
	require.Len(t, app.problems, 1)
	assert.Equal(t, "A.java", app.problems[0].File)
	assert.Contains(t, app.problems[0].Message, "binary file")
}

// TestApplicationsSeeOnlyTheirDatabases gives two databases a routine of one
// name, and an application for each.
func TestApplicationsSeeOnlyTheirDatabases(t *testing.T) {
	tree := project(t, map[string]string{
		"ramekin.toml": `
[databases.one]
dialect = "sqlserver"
ddl = ["one.sql"]
[databases.two]
dialect = "mysql"
ddl = ["two.sql"]
[applications.a]
code = ["a/*.java"]
databases = ["one"]
[applications.b]
code = ["b/*.java"]
databases = ["two"]
[applications.both]
code = ["both/*.java"]
`,
		"one.sql": "CREATE PROC same AS SET NOCOUNT ON\nGO\n", "two.sql": "CREATE PROCEDURE same() SET @x = 1;",
		"a/A.java": strings.Replace(javaCall, "%", `"{call same}"`, 1), "b/B.java": strings.Replace(javaCall, "%", `"{call same}"`, 1),
		"both/C.java": strings.Replace(javaCall, "%", `"{call same}"`, 1),
	})
	result, errs, err := (&env{dir: tree.Dir}).check(nil, nil, "")
	require.NoError(t, err)
	require.Empty(t, errs)
	require.Len(t, result.Calls, 3)
	assert.Equal(t, signature.SQLServer, result.Calls[0].Routine.Dialect)
	assert.Equal(t, "one", result.Calls[0].Routine.Database)
	assert.Equal(t, signature.MySQL, result.Calls[1].Routine.Dialect)
	require.Len(t, result.Findings, 1)
	assert.Equal(t, "ambiguous-call", result.Findings[0].Rule.Name)
	assert.Equal(t, report.Summary{Files: 5, Calls: 3, Resolved: 2, Unresolved: 1, Warnings: 1}, result.Summary())
}

func TestPatternsThatMatchNothingAreTold(t *testing.T) {
	tree := project(t, map[string]string{"ramekin.toml": "[databases.one]\nddl = [\"none/*.sql\"]\n[applications.a]\ncode = [\"none/*.java\"]\n"})
	_, errs, err := (&env{dir: tree.Dir}).check(nil, nil, "")
	require.NoError(t, err)
	require.Len(t, errs, 2)
	assert.Contains(t, errs[0].Error(), "databases.one.ddl matches no file")
	assert.Contains(t, errs[1].Error(), "applications.a.code matches no file")
}

func TestExitStatuses(t *testing.T) {
	var status statusError
	assert.NoError(t, readStatus(nil, 0))
	require.ErrorAs(t, readStatus(nil, 1), &status)
	assert.EqualValues(t, exitFindings, status)
	require.ErrorAs(t, readStatus([]error{os.ErrNotExist}, 0), &status)
	assert.EqualValues(t, exitUnable, status)
}
