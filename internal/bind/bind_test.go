package bind_test

import (
	"go/parser"
	"go/token"
	"os"
	"path/filepath"
	"regexp"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"ramekin/internal/bind"
	"ramekin/internal/ddl"
	"ramekin/internal/signature"
	"ramekin/internal/testkit"
)

func parse(t *testing.T, d *ddl.Dialect, text string) []*signature.Routine {
	t.Helper()
	cat := ddl.Assemble([]*ddl.File{ddl.Read("db.sql", []byte(text), d, ddl.Options{})})
	require.Empty(t, cat.Problems)
	return routines(cat)
}

// one generates the binding of a single routine and returns its file.
func one(t *testing.T, target *bind.Target, d *ddl.Dialect, text string) string {
	t.Helper()
	files, refusals, err := target.Generate(parse(t, d, text), bind.Options{Package: "p"})
	require.NoError(t, err)
	require.Empty(t, refusals)
	for _, f := range files {
		if !strings.HasSuffix(f.Path, "session.go") {
			return string(f.Content)
		}
	}
	t.Fatal("no file")
	return ""
}

func TestTargets(t *testing.T) {
	assert.Equal(t, []string{"java", "go"}, bind.TargetNames())
	assert.Equal(t, &bind.Go, bind.TargetNamed("go"))
	assert.Nil(t, bind.TargetNamed("cobol"))
}

func TestJavaNames(t *testing.T) {
	text := one(t, &bind.Java, &ddl.SQLServer, "CREATE PROC dbo.get_URL2Fetch @class int, @p_name int, @name int, @status int, @2nd int, @größe_m int AS RETURN 0")
	for _, want := range []string{
		"package p.dbo;", "public final class GetUrl2Fetch {",
		"call(Connection connection, Integer classValue, Integer name, Integer name2, Integer statusValue, Integer n2nd, Integer größeM)",
		`"{? = call [dbo].[get_URL2Fetch](@class = ?, @p_name = ?, @name = ?, @status = ?, @2nd = ?, @größe_m = ?)}"`,
	} {
		assert.Contains(t, text, want)
	}
}

func TestJavaClassNamesDoNotCollide(t *testing.T) {
	files, _, err := bind.Java.Generate(parse(t, &ddl.SQLServer, "CREATE PROC a_b AS RETURN 0\nGO\nCREATE PROC aB AS RETURN 0\nGO\nCREATE PROC x.a_b AS RETURN 0\nGO\nCREATE PROC [integer] AS RETURN 0"), bind.Options{})
	require.NoError(t, err)
	var paths []string
	for _, f := range files {
		paths = append(paths, f.Path)
	}
	assert.ElementsMatch(t, []string{"routines/AB.java", "routines/AB2.java", "routines/x/AB.java", "routines/IntegerValue.java"}, paths)
}

func TestJavaDefaultsAreLeftOutByName(t *testing.T) {
	text := one(t, &bind.Java, &ddl.SQLServer, "CREATE PROC q @a int, @b nvarchar(9) = N'x', @c decimal(8,2) OUTPUT AS RETURN 4")
	for _, want := range []string{
		"public static final class Options", "public Options b(String value)", "STATUS_4 = 4",
		`new StringBuilder("@a = ?, @c = ?")`, `append("@b = ?")`, "Types.NVARCHAR", "record Result(int status, BigDecimal c)",
		"statement.registerOutParameter(3, Types.DECIMAL);", "statement.getObject(3, BigDecimal.class)",
		"Sets {@code &#64;b}", "call(connection, a, new Options())",
	} {
		if want == "Sets {@code &#64;b}" {
			want = "Sets {@code @b}, whose default is {@code N'x'}."
		}
		assert.Contains(t, text, want)
	}
}

func TestJavaFunctions(t *testing.T) {
	text := one(t, &bind.Java, &ddl.SQLServer, "CREATE FUNCTION dbo.f (@a int, @b int = 2) RETURNS decimal(8,2) AS BEGIN RETURN 1 END")
	assert.Contains(t, text, "public static BigDecimal call(Connection connection, Integer a, Options options)")
	assert.Contains(t, text, `(options.hasB ? ", ?" : ", DEFAULT")`)
	text = one(t, &bind.Java, &ddl.SQLServer, "CREATE FUNCTION dbo.t (@a int) RETURNS @r TABLE (id int, [odd name] nvarchar(5)) AS BEGIN RETURN END")
	assert.Contains(t, text, "public record Row(Integer id, String oddName)")
	assert.Contains(t, text, `"SELECT [id], [odd name] FROM [dbo].[t](?)"`)
	assert.Contains(t, text, "List<Row> call(Connection connection, Integer a)")
	text = one(t, &bind.Java, &ddl.MySQL, "CREATE FUNCTION f(a INT) RETURNS DATE RETURN NOW();")
	assert.Contains(t, text, "\"{? = call `f`(?)}\"")
	assert.Contains(t, text, "statement.getObject(1, LocalDate.class)")
}

func TestResultSetShapes(t *testing.T) {
	branches := "CREATE PROC q @a int AS IF @a = 1 SELECT id, name FROM t ELSE SELECT id, name FROM u"
	assert.Contains(t, one(t, &bind.Java, &ddl.SQLServer, branches), "List<Row> rows)", "the same columns from two branches are one list")
	two := "CREATE PROC q AS BEGIN SELECT id FROM t SELECT * FROM u SELECT COUNT(*) FROM u END"
	text := one(t, &bind.Java, &ddl.SQLServer, two)
	assert.Contains(t, text, "List<Row1> rows1, List<Map<String, Object>> rows2)")
	text = one(t, &bind.Go, &ddl.SQLServer, two)
	assert.Contains(t, text, "Rows1  []QRow1")
	assert.Contains(t, text, "Rows2  []map[string]any")
}

func TestGoText(t *testing.T) {
	text := one(t, &bind.Go, &ddl.SQLServer, "CREATE PROC desk.q @vessel_id int, @b nvarchar(9) = N'x', @url varchar(20) OUTPUT AS RETURN -1")
	for _, want := range []string{
		"package p\n", "VesselID sql.Null[int32]", "B Optional[string]", "URL sql.Null[string]", "QStatusMinus1 = -1",
		"DECLARE @ramekin_status int, @ramekin_3 varchar(20); EXEC @ramekin_status = [desk].[q]",
		"@vessel_id = @p1, @url = @ramekin_3 OUTPUT", "@b = @p2", "SELECT @ramekin_status AS [ramekin status], @ramekin_3 AS [ramekin url]",
		"// Code generated by ramekin from db.sql:1 (sqlserver). DO NOT EDIT.",
	} {
		assert.Contains(t, text, want)
	}
	text = one(t, &bind.Go, &ddl.MySQL, "CREATE PROCEDURE q(IN p_a INT, INOUT p_b BIT(8), OUT p_c DATETIME) SELECT 1;")
	assert.Contains(t, text, "\"CALL `q`(?, @ramekin_2, @ramekin_3)\"")
	assert.Contains(t, text, "SET @ramekin_2 = ?")
	assert.Contains(t, text, "SELECT @ramekin_2 + 0, @ramekin_3")
	assert.Contains(t, text, "moment{&out.C}")
}

func TestRefusals(t *testing.T) {
	list := parse(t, &ddl.SQLServer, `CREATE TYPE dbo.Rows AS TABLE (a int)
GO
CREATE PROC a @r dbo.Rows READONLY AS RETURN 0
GO
CREATE PROC b @x dbo.Nowhere AS RETURN 0
GO
CREATE PROC c @x cursor VARYING OUTPUT AS RETURN 0
GO
CREATE PROC d @x int AS RETURN 0`)
	for _, target := range bind.Targets {
		files, refusals, err := target.Generate(list, bind.Options{})
		require.NoError(t, err)
		require.Len(t, refusals, 3)
		assert.Equal(t, "@r is the table type dbo.Rows, which no neutral driver call can pass", refusals[0].Reason)
		assert.Equal(t, "@x is of type dbo.Nowhere, which the source does not declare: add its CREATE TYPE", refusals[1].Reason)
		assert.Contains(t, refusals[2].Reason, "no safe mapping")
		assert.NotEmpty(t, files)
	}
}

func TestSameBytesInAnyOrder(t *testing.T) {
	list := parse(t, &ddl.SQLServer, string(testkit.DemoFile(t, "db/desk/fares.sql"))+"\nGO\n"+string(testkit.DemoFile(t, "db/desk/berths.sql")))
	for _, target := range bind.Targets {
		first, _, err := target.Generate(list, bind.Options{Package: "x"})
		require.NoError(t, err)
		turned := append([]*signature.Routine(nil), list...)
		for i, j := 0, len(turned)-1; i < j; i, j = i+1, j-1 {
			turned[i], turned[j] = turned[j], turned[i]
		}
		again, _, err := target.Generate(turned, bind.Options{Package: "x"})
		require.NoError(t, err)
		assert.Equal(t, first, again, target.Name)
	}
}

// TestGeneratedTextIsTidy looks at what every target makes of the demo.
func TestGeneratedTextIsTidy(t *testing.T) {
	desk := parse(t, &ddl.SQLServer, string(testkit.DemoFile(t, "db/desk/types.sql"))+string(testkit.DemoFile(t, "db/desk/berths.sql"))+string(testkit.DemoFile(t, "db/desk/passes.sql")))
	timetable := parse(t, &ddl.MySQL, string(testkit.DemoFile(t, "db/timetable/timetable.sql")))
	for _, target := range bind.Targets {
		for _, list := range [][]*signature.Routine{desk, timetable} {
			files, _, err := target.Generate(list, bind.Options{Package: "made"})
			require.NoError(t, err)
			for _, f := range files {
				text := string(f.Content)
				assert.NotRegexp(t, regexp.MustCompile(`(?m)[ \t]+$`), text, f.Path)
				assert.NotContains(t, text, "\n\n\n", f.Path)
				assert.True(t, strings.HasSuffix(text, "}\n"), f.Path)
				assert.Contains(t, text[:80], "ramekin", f.Path)
				assert.NotContains(t, text, "<no value>", f.Path)
			}
		}
	}
}

func TestGoFilesParse(t *testing.T) {
	files, _, err := bind.Go.Generate(parse(t, &ddl.SQLServer, string(testkit.DemoFile(t, "db/desk/passes.sql"))+"\nGO\nCREATE TYPE dbo.PassCode FROM varchar(14)"), bind.Options{})
	require.NoError(t, err)
	for _, f := range files {
		_, err := parser.ParseFile(token.NewFileSet(), f.Path, f.Content, parser.ParseComments)
		assert.NoError(t, err, f.Path)
	}
}

// TestDeskBindingsCompile compiles what is made of the SQL Server routines,
// for which no server is at hand.
func TestDeskBindingsCompile(t *testing.T) {
	if testing.Short() {
		t.Skip("runs compilers")
	}
	var text string
	for _, f := range []string{"types", "berths", "passes", "fares"} {
		text += string(testkit.DemoFile(t, "db/desk/"+f+".sql")) + "\nGO\n"
	}
	text += "CREATE FUNCTION dbo.many(@a int = 1, @d datetimeoffset, @u uniqueidentifier = NULL, @x xml = NULL) RETURNS datetime2 AS BEGIN RETURN NULL END\nGO\n" +
		"CREATE PROC dbo.nothing AS SET NOCOUNT ON\nGO\nCREATE PROC dbo.only_defaults @a int = 1, @b bit = 0, @c varbinary(max) = NULL AS SELECT 1\nGO\n" +
		"CREATE FUNCTION dbo.rows_of(@a int = 1) RETURNS TABLE AS RETURN (SELECT * FROM t)\nGO\n"
	list := parse(t, &ddl.SQLServer, text)
	var kept []*signature.Routine
	for _, r := range list {
		if r.Name != "load_convoy" {
			kept = append(kept, r)
		}
	}
	t.Run("java", func(t *testing.T) {
		testkit.Need(t, "javac")
		dir := t.TempDir()
		generate(t, &bind.Java, kept, "desk", dir)
		var files []string
		require.NoError(t, filepath.WalkDir(dir, func(path string, _ os.DirEntry, err error) error {
			if strings.HasSuffix(path, ".java") {
				files = append(files, path)
			}
			return err
		}))
		require.Len(t, files, len(kept))
		run(t, dir, "javac", append([]string{"-Xlint:all", "-Xdoclint:all,-missing", "-Werror", "-d", "classes"}, files...)...)
	})
	t.Run("go", func(t *testing.T) {
		testkit.Need(t, "go")
		dir := t.TempDir()
		generate(t, &bind.Go, kept, "desk", dir)
		require.NoError(t, os.WriteFile(filepath.Join(dir, "go.mod"), []byte("module desk\n\ngo 1.26\n"), 0o644))
		run(t, dir, "go", "vet", "./...")
	})
}
