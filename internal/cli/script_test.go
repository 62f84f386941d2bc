package cli

import (
	"os"
	"path/filepath"
	"strings"
	"testing"

	"github.com/rogpeppe/go-internal/testscript"
	"github.com/santhosh-tekuri/jsonschema/v6"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"ramekin/internal/demo"
	"ramekin/internal/report"
)

func TestMain(m *testing.M) {
	testscript.Main(m, map[string]func(){
		"ramekin": func() { os.Exit(Main(os.Args[1:], os.Stdin, os.Stdout, os.Stderr)) },
	})
}

// TestScripts drives the program on files in a temporary folder.
func TestScripts(t *testing.T) {
	testscript.Run(t, testscript.Params{
		Dir: "testdata/script",
		Setup: func(e *testscript.Env) error {
			e.Setenv("NO_COLOR", "1")
			return nil
		},
		Cmds: map[string]func(ts *testscript.TestScript, neg bool, args []string){
			"unpack-demo": func(ts *testscript.TestScript, _ bool, args []string) {
				ts.Check(demo.Unpack(ts.MkAbs(args[0])))
			},
			"valid":    validate,
			"longline": longLine,
			"utf16":    utf16File,
		},
	})
}

// validate holds a JSON file against a schema of the program: valid catalog FILE.
func validate(ts *testscript.TestScript, _ bool, args []string) {
	schema, err := report.Schema(args[0])
	ts.Check(err)
	doc, err := jsonschema.UnmarshalJSON(strings.NewReader(string(schema)))
	ts.Check(err)
	c := jsonschema.NewCompiler()
	ts.Check(c.AddResource("schema.json", doc))
	compiled, err := c.Compile("schema.json")
	ts.Check(err)
	value, err := jsonschema.UnmarshalJSON(strings.NewReader(ts.ReadFile(args[1])))
	ts.Check(err)
	ts.Check(compiled.Validate(value))
}

// longLine writes an SQL file with one line of 50 MB and a routine behind it.
func longLine(ts *testscript.TestScript, _ bool, args []string) {
	var b strings.Builder
	b.WriteString("INSERT INTO t VALUES ('")
	b.WriteString(strings.Repeat("x", 50<<20))
	b.WriteString("')\nGO\nCREATE PROCEDURE behind_it @a int AS SET NOCOUNT ON\nGO\n")
	ts.Check(os.WriteFile(ts.MkAbs(args[0]), []byte(b.String()), 0o644))
}

// utf16File writes a file again in UTF-16, low byte first, with its mark.
func utf16File(ts *testscript.TestScript, _ bool, args []string) {
	out := []byte{0xff, 0xfe}
	for _, r := range ts.ReadFile(args[0]) {
		out = append(out, byte(r), byte(r>>8))
	}
	ts.Check(os.WriteFile(ts.MkAbs(args[1]), out, 0o644))
}

// TestDemoIsWhatItsReadmeTells holds the findings on the demo against the table
// in its README: every rule named there is found in the file named there, and
// no others are.
func TestDemoIsWhatItsReadmeTells(t *testing.T) {
	dir := t.TempDir()
	require.NoError(t, demo.Unpack(dir))
	e := &env{dir: dir}
	result, errs, err := e.check(nil, nil, "")
	require.NoError(t, err)
	require.Empty(t, errs)
	found := map[string]map[string]bool{}
	note := func(m map[string]map[string]bool, file, rule string) {
		if m[file] == nil {
			m[file] = map[string]bool{}
		}
		m[file][rule] = true
	}
	for _, f := range result.Findings {
		file := filepath.Base(f.At.File)
		if file == "Sql.java" { // a constant's findings are told at the caller
			for _, r := range f.Related {
				if r.Message == "used here" {
					file = filepath.Base(r.At.File)
				}
			}
		}
		note(found, file, f.Rule.Name)
	}
	readme, err := demo.ReadFile("README.md")
	require.NoError(t, err)
	told := map[string]map[string]bool{}
	for _, line := range strings.Split(string(readme), "\n") {
		cells := strings.Split(line, "|")
		if len(cells) != 5 || !strings.Contains(cells[1], "`") {
			continue
		}
		file := strings.Split(cells[1], "`")[1]
		for i, part := range strings.Split(cells[3], "`") {
			if i%2 == 1 {
				note(told, file, part)
			}
		}
	}
	assert.Equal(t, told, found)
	assert.Len(t, result.Calls, 62)
	assert.Equal(t, 2, result.Suppressed)
	s := result.Summary()
	assert.Equal(t, 2, s.Unresolved)
}

func TestSameOutputWhateverTheWorkers(t *testing.T) {
	dir := t.TempDir()
	require.NoError(t, demo.Unpack(dir))
	var first string
	for i := range 5 {
		var b strings.Builder
		e := &env{dir: dir, out: &b}
		result, _, err := e.check(nil, nil, "")
		require.NoError(t, err)
		require.NoError(t, result.JSON(&b))
		if i == 0 {
			first = b.String()
		}
		require.Equal(t, first, b.String())
	}
}
