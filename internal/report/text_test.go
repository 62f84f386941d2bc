package report_test

import (
	"bytes"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"ramekin/internal/callsite"
	"ramekin/internal/check"
	"ramekin/internal/ddl"
	"ramekin/internal/report"
	"ramekin/internal/signature"
)

// catalogText is the text of what a script declares, at a width.
func catalogText(t *testing.T, d *ddl.Dialect, src string, width int) string {
	t.Helper()
	cat := ddl.Assemble([]*ddl.File{ddl.Read("db.sql", []byte(src), d, ddl.Options{})})
	var b bytes.Buffer
	report.Catalog(&b, cat, report.NewLook(&b, width))
	return b.String()
}

func TestCatalogBlocks(t *testing.T) {
	for name, test := range map[string]struct {
		d     *ddl.Dialect
		src   string
		width int
		want  string
	}{
		"no parameters, rows without names": {&ddl.SQLServer, "CREATE PROC p AS SELECT 1", 60, `
p  procedure, sqlserver                             db.sql:1
  no parameters
  rows      (no name)
`},
		"several result sets": {&ddl.SQLServer, "CREATE PROC p AS BEGIN SELECT a, b FROM t SELECT * FROM u END", 60, `
p  procedure, sqlserver                             db.sql:1
  no parameters
  rows 1    a, b
  rows 2    *
`},
		"rows that are not known": {&ddl.MySQL, "CREATE PROCEDURE p() SHOW TABLES;", 60, `
p  procedure, mysql                                 db.sql:1
  no parameters
  rows      columns not known
`},
		"a type that is declared elsewhere": {&ddl.SQLServer, "CREATE PROC p @a dbo.X AS RETURN @@ERROR", 60, `
p  procedure, sqlserver                             db.sql:1
  1  @a            in     dbo.X (declared elsewhere)
  status    others worked out when run
`},
		"an external one": {&ddl.SQLServer, "CREATE PROC p @a int AS EXTERNAL NAME a.b.c", 60, `
p  procedure, sqlserver, clr                        db.sql:1
  1  @a            in     int
  status    others worked out when run
`},
		"a function": {&ddl.MySQL, "CREATE FUNCTION f(a INT) RETURNS DECIMAL(8,2) RETURN 1;", 60, `
f  function, mysql                                  db.sql:1
  1  a             in     INT
  returns   DECIMAL(8,2)
`},
		"a default on a line of its own": {&ddl.SQLServer, "CREATE PROC p @message nvarchar(200) = N'nothing to say about it', @b int = 1 AS SET NOCOUNT ON", 48, `
p  procedure, sqlserver                 db.sql:1
  1  @message      in     nvarchar(200)
                          = N'nothing to say ab…
  2  @b            in     int            = 1
`},
		"many columns are wrapped": {&ddl.SQLServer, "CREATE PROC p AS SELECT first_column, second_column, third_column, fourth_column FROM t", 50, `
p  procedure, sqlserver                   db.sql:1
  no parameters
  rows      first_column, second_column,
            third_column, fourth_column
`},
	} {
		assert.Equal(t, strings.TrimPrefix(test.want, "\n")+"\n", catalogText(t, test.d, test.src, test.width), name)
	}
}

func TestCallsText(t *testing.T) {
	src := `import java.sql.*;
class A {
  void a(Connection c, int id, String step) throws SQLException {
    CallableStatement s = c.prepareCall("{? = call berth.assign(?, 5, ?)}");
    s.registerOutParameter(1, Types.INTEGER);
    s.setInt(2, id);
    s.execute();
    show(s.getInt(1));
    c.prepareCall("{call night." + step + "}").execute();
    keep(c.prepareCall("{call away(?)}"));
    ResultSet r = c.prepareCall("{call list}").executeQuery(); r.next();
  }
}`
	calls := callsite.Analyze([]callsite.File{{Path: "A.java", Text: []byte(src)}}, callsite.Source{})
	result := &report.Result{Files: 1, Calls: calls}
	var b bytes.Buffer
	look := report.NewLook(&b, 70)
	report.Calls(&b, result, look)
	report.ResultSummary(&b, result, false, look)
	assert.Equal(t, `berth.assign  java, jdbc                                      A.java:4
  {? = call berth.assign(?, 5, ?)}
  =    return  int32
  1    in      int32  id
  2    in      int32  5
  3    unset
  status captured

(name not known)  java, jdbc                                  A.java:9
  {call night.<step>}
  the routine's name is only known when the program runs: {call
  night.<step>}

away  java, jdbc                                             A.java:10
  {call away(?)}
  1    unset
  further arguments are not in sight: it is handed to keep

list  java, jdbc                                             A.java:11
  {call list}
  rows read

1 file, 4 calls, 1 unresolved
`, b.String())
}

// checkedText is the text of the findings on a script, at a width.
func checkedText(t *testing.T, src string, width int) string {
	t.Helper()
	f := ddl.Read("db.sql", []byte(src), &ddl.SQLServer, ddl.Options{Detail: true})
	index := signature.NewIndex(ddl.Assemble([]*ddl.File{f}))
	calls := callsite.Resolve(callsite.FromSQL(f), index)
	result := &report.Result{Files: 1, Calls: calls, Findings: check.Run(calls, nil, check.Options{Index: index})}
	var b bytes.Buffer
	look := report.NewLook(&b, width)
	report.Findings(&b, result, look)
	report.ResultSummary(&b, result, true, look)
	return b.String()
}

func TestFindingsBesideTheirLines(t *testing.T) {
	const src = `CREATE PROC p @a int, @b int = 2, @c varchar(9) OUTPUT AS SET @c = 'x'
GO
DECLARE @x varchar(5)
EXEC p 1, DEFAULT, @x OUTPUT, 4
SELECT @x
EXEC nowhere
`
	assert.Equal(t, `p                                                               db.sql:4
     declared                this call
  1  @a  in     int        │ in      1  int32
  2  @b  in     int = 2    │ in      DEFAULT
  3  @c  out    varchar(9) ┃ out     @x  string
     warning size-mismatch
       The variable @x is varchar(5), which is smaller than 9 of @c:
       longer values are cut.
       Declare @x as varchar(9).
                           ┃ in      4  int32
     error extra-argument
       p has 3 parameters; the call gives 4.
       Take away what stands behind the first 3.

nowhere                                                         db.sql:6
     EXEC nowhere
     error unknown-routine
       No catalog of this application has a routine nowhere.
       Correct the name, or add the file that declares it to the
       catalog.

1 file, 2 calls: 1 resolved, 1 unresolved. 2 errors, 1 warning, 0 notes
`, checkedText(t, src, 72))
	assert.Contains(t, checkedText(t, src, 60), `
  3  @c  out    varchar(9)
     out     @x  string
     warning size-mismatch`)
}

func TestNothingFound(t *testing.T) {
	assert.Equal(t, "1 file, 1 call: 1 resolved. No findings\n", checkedText(t, "CREATE PROC p @a int AS SET NOCOUNT ON\nGO\nEXEC p 1\n", 80))
	assert.Equal(t, "1 file, 0 calls: 0 resolved. No findings\n", checkedText(t, "SELECT 1", 80))
}

func TestStep(t *testing.T) {
	var b bytes.Buffer
	assert.Equal(t, "\n1  a few words that do not fit on\n   one line\n\n", report.Step("1", "a few words that do not fit on one line", report.NewLook(&b, 36)))
}

func TestPlural(t *testing.T) {
	assert.Equal(t, "1 call", report.Plural(1, "call", "calls"))
	assert.Equal(t, "0 calls", report.Plural(0, "call", "calls"))
}

func TestStatusText(t *testing.T) {
	assert.Equal(t, "-1, 0, others worked out when run", report.StatusText(&signature.Status{Codes: []int64{-1, 0}, Open: true}))
}

func TestRulesReferenceNamesEveryRule(t *testing.T) {
	text := report.RulesReference(check.Rules)
	for _, r := range check.Rules {
		assert.Contains(t, text, "### `"+r.Name+"`")
	}
	require.Equal(t, strings.Count(text, "```")%2, 0, "every block is closed")
}

func TestRowsOfFunctions(t *testing.T) {
	typed := func(text, name string, cols ...string) *signature.Returns {
		r := &signature.Returns{Set: true, Type: signature.Type{Text: text, Name: name}}
		for _, c := range cols {
			r.Columns = append(r.Columns, signature.Column{Name: c})
		}
		return r
	}
	for want, ret := range map[string]*signature.Returns{
		"rows of a, b":                  typed("TABLE (a int, b int)", "table", "a", "b"),
		"rows of columns not known":     typed("TABLE", "table"),
		"rows of integer":               typed("integer", "integer"),
		"rows of desk.tide: opens, low": typed("desk.tide", "desk.tide", "opens", "low"),
	} {
		var b strings.Builder
		report.Catalog(&b, &signature.Catalog{Routines: []signature.Routine{{Kind: signature.Function, Name: "f", Returns: ret}}}, report.Look{Width: 80})
		assert.Contains(t, b.String(), "  returns   "+want+"\n")
	}
}

func TestSummaryOfDatabases(t *testing.T) {
	var b strings.Builder
	report.CatalogSummary(&b, &signature.Catalog{}, 1, map[string]int{"postgresql, " + report.FromDatabase: 1}, report.Look{Width: 80})
	assert.Equal(t, "no routines in 1 database\npostgresql, as it runs: 1 database\n", b.String())
	b.Reset()
	report.CatalogSummary(&b, &signature.Catalog{}, 2, map[string]int{"postgresql, " + report.FromDatabase: 1, "oracle, as given": 1}, report.Look{Width: 80})
	assert.Contains(t, b.String(), "no routines in 2 files")
}
