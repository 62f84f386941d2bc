package report_test

import (
	"bytes"
	"encoding/json"
	"flag"
	"os"
	"strings"
	"testing"

	"github.com/mattn/go-runewidth"
	"github.com/owenrumney/go-sarif/v3/pkg/report/v210/sarif"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"ramekin/internal/callsite"
	"ramekin/internal/check"
	"ramekin/internal/ddl"
	"ramekin/internal/report"
	"ramekin/internal/signature"
)

var update = flag.Bool("update", false, "write the files that are made from the program's tables")

// TestRulesReference holds docs/rules.md against the table of rules; run it
// with -update to write the file.
func TestRulesReference(t *testing.T) {
	const path = "../../docs/rules.md"
	want := report.RulesReference(check.Rules)
	if *update {
		require.NoError(t, os.WriteFile(path, []byte(want), 0o644))
	}
	got, err := os.ReadFile(path)
	require.NoError(t, err)
	assert.Equal(t, want, string(got), "run: go test ./internal/report -run TestRulesReference -update")
}

func sample(t *testing.T) (*signature.Catalog, *report.Result) {
	t.Helper()
	ddlText := []byte("CREATE PROCEDURE berth.assign @vessel_id int, @note nvarchar(200) = NULL OUTPUT AS\nBEGIN\n  IF 1 = 2 RETURN 40\n  SET @note = N'x'\n  RETURN 0\nEND\nGO\nCREATE PROC bad @a int @b int AS SELECT 1\n")
	f := ddl.Read("db/berth.sql", ddlText, &ddl.SQLServer, ddl.Options{})
	cat := ddl.Assemble([]*ddl.File{f})
	src := `import java.sql.*;
class A {
  void a(Connection c, int vesselId) throws SQLException {
    CallableStatement cs = c.prepareCall("{call berth.assign(?, ?)}");
    cs.setInt(1, vesselId);
    cs.setString(2, "");
    cs.execute();
  }
}`
	index := signature.NewIndex(cat)
	calls := callsite.Resolve(callsite.Analyze([]callsite.File{{Path: "app/A.java", Text: []byte(src)}}, callsite.Source{}), index)
	findings := check.Run(calls, cat.Problems, check.Options{Index: index})
	return cat, &report.Result{Files: 1, Calls: calls, Findings: findings, Problems: cat.Problems}
}

func TestCatalogText(t *testing.T) {
	cat, _ := sample(t)
	var b bytes.Buffer
	look := report.NewLook(&b, 80)
	report.Catalog(&b, cat, look)
	report.Problems(&b, cat.Problems, look)
	report.CatalogSummary(&b, cat, 1, map[string]int{"sqlserver, as given": 1}, look)
	assert.Equal(t, `berth.assign  procedure, sqlserver                                db/berth.sql:1
  1  @vessel_id    in     int
  2  @note         out    nvarchar(200)  = NULL
  status    0, 40

1 problem:
  db/berth.sql:8:24
    the header of bad cannot be read: a comma is missing before @b

1 procedure in 1 file, 1 problem
sqlserver, as given: 1 file
`, b.String())
}

func TestFindingsText(t *testing.T) {
	_, result := sample(t)
	var b bytes.Buffer
	look := report.NewLook(&b, 84)
	report.Findings(&b, result, look)
	report.ResultSummary(&b, result, true, look)
	assert.Equal(t, `berth.assign                                                            app/A.java:4
     declared                                  this call
     status 0, 40                            │ not captured
  1  @vessel_id  in     int                  │ in      vesselId  int32  line 5
  2  @note       out    nvarchar(200) = NULL ┃ in      ""  string  line 6
     error out-not-received  line 6
       @note is an output of berth.assign, but the call passes it as an input: its
       value never arrives.
       Write registerOutParameter(2, Types.NVARCHAR).
     warning status-ignored
       berth.assign hands back 0 and 40, and this call never looks.
       Write {? = call berth.assign(…)}, register index 1 as Types.INTEGER and move
       the others up by one.

declaration                                                           db/berth.sql:8
  warning unreadable-routine
    The header of bad cannot be read: a comma is missing before @b.
    Mend the declaration; its calls are not checked until then.

1 file, 1 call: 1 resolved. 1 error, 2 warnings, 0 notes, 1 problem
`, b.String())
}

func TestNarrowText(t *testing.T) {
	cat, result := sample(t)
	for _, width := range []int{40, 52, 71, 72, 90} {
		var b bytes.Buffer
		look := report.NewLook(&b, width)
		report.Catalog(&b, cat, look)
		report.Findings(&b, result, look)
		report.Calls(&b, result, look)
		report.RuleList(&b, check.Rules, look)
		for _, line := range strings.Split(b.String(), "\n") {
			assert.LessOrEqual(t, runewidth.StringWidth(line), width, line)
		}
		assert.Contains(t, b.String(), "out-not-received", width)
	}
}

func TestJSONHasEveryField(t *testing.T) {
	_, result := sample(t)
	var b bytes.Buffer
	require.NoError(t, result.JSON(&b))
	var doc struct {
		Format   string
		Summary  report.Summary
		Findings []map[string]any
		Calls    []map[string]any
		Problems []map[string]any
	}
	require.NoError(t, json.Unmarshal(b.Bytes(), &doc))
	assert.Equal(t, "ramekin.findings", doc.Format)
	assert.Equal(t, report.Summary{Files: 1, Calls: 1, Resolved: 1, Errors: 1, Warnings: 2}, doc.Summary)
	require.Len(t, doc.Findings, 3)
	assert.Equal(t, "out-not-received", doc.Findings[1]["rule"])
	assert.Equal(t, "@note", doc.Findings[1]["parameter"])
	assert.EqualValues(t, 6, doc.Findings[1]["line"])
	assert.EqualValues(t, 5, doc.Findings[1]["column"])
	require.Len(t, doc.Calls, 1)
	assert.Equal(t, "ignored", doc.Calls[0]["status"])
	assert.Equal(t, "none", doc.Calls[0]["results"])
	assert.Len(t, doc.Problems, 1)
}

func TestSARIF(t *testing.T) {
	_, result := sample(t)
	var b bytes.Buffer
	require.NoError(t, result.SARIF(&b, "1.2.3"))
	report, err := sarif.FromString(b.String())
	require.NoError(t, err)
	require.NoError(t, report.Validate(), "it holds to the standard's schema")
	require.Len(t, report.Runs, 1)
	run := report.Runs[0]
	assert.Equal(t, "ramekin", *run.Tool.Driver.Name)
	assert.Len(t, run.Tool.Driver.Rules, 3)
	require.Len(t, run.Results, 3)
	first := run.Results[1]
	assert.Equal(t, "out-not-received", *first.RuleID)
	assert.Equal(t, "error", first.Level)
	place := first.Locations[0].PhysicalLocation
	assert.Equal(t, "app/A.java", *place.ArtifactLocation.URI)
	assert.Equal(t, 6, *place.Region.StartLine)
	assert.Equal(t, 5, *place.Region.StartColumn)
	assert.Len(t, first.RelatedLocations, 1)
}

func TestExplain(t *testing.T) {
	for _, r := range check.Rules {
		var b bytes.Buffer
		report.Explain(&b, r, report.NewLook(&b, 100))
		for _, want := range []string{r.Name, string(r.Severity), "the mistake", "the mend"} {
			assert.Contains(t, b.String(), want)
		}
	}
}

func TestSchemas(t *testing.T) {
	for _, name := range report.SchemaNames {
		text, err := report.Schema(name)
		require.NoError(t, err)
		assert.True(t, json.Valid(text))
	}
	_, err := report.Schema("other")
	assert.ErrorContains(t, err, "choose catalog or findings")
}

// TestSARIFMends reads the mend of a script out of the report and applies it.
func TestSARIFMends(t *testing.T) {
	cat, _ := sample(t)
	script := "DECLARE @rc int, @n nvarchar(200);\nEXEC @rc = berth.assign 7, @n;\nSELECT @rc, @n;\n"
	calls := callsite.FromSQL(ddl.Read("db/try it.sql", []byte(script), &ddl.SQLServer, ddl.Options{Detail: true}))
	index := signature.NewIndex(cat)
	findings := check.Run(callsite.Resolve(calls, index), nil, check.Options{Index: index})
	var b bytes.Buffer
	require.NoError(t, (&report.Result{Files: 1, Calls: calls, Findings: findings}).SARIF(&b, "1.2.3"))
	r, err := sarif.FromString(b.String())
	require.NoError(t, err)
	require.NoError(t, r.Validate())
	require.Len(t, r.Runs[0].Results, 1)
	require.Len(t, r.Runs[0].Results[0].Fixes, 1)
	change := r.Runs[0].Results[0].Fixes[0].ArtifactChanges[0]
	assert.Equal(t, "db/try%20it.sql", *change.ArtifactLocation.URI)
	at, text := change.Replacements[0].DeletedRegion, *change.Replacements[0].InsertedContent.Text
	lines := strings.Split(script, "\n")
	line := lines[*at.StartLine-1]
	assert.Equal(t, "EXEC @rc = berth.assign 7, @n OUTPUT;", line[:*at.StartColumn-1]+text+line[*at.EndColumn-1:])
}
