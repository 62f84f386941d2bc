package ddl_test

import (
	"fmt"
	"os"
	"regexp"
	"strconv"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"ramekin/internal/ddl"
	"ramekin/internal/signature"
	"ramekin/internal/testkit"
)

// describe is a routine in one line, as the test data write it. Kinds are
// written where withKinds asks for them.
func describe(r *signature.Routine, withKinds bool) string {
	typ := func(t *signature.Type) string {
		s := t.Text
		if withKinds {
			s += ":" + string(t.Kind)
			if t.Length != 0 || t.National {
				s += fmt.Sprintf("(%d)", t.Length)
			} else if t.Precision != 0 && t.Scale == 0 {
				s += fmt.Sprintf("(%d)", t.Precision)
			}
			if t.National {
				s += "n"
			}
		}
		return s
	}
	var b strings.Builder
	quoted := func(part string) string { // as the wants write names that a blank would part
		if strings.ContainsAny(part, "]ABCDEFGHIJKLMNOPQRSTUVWXYZ ") && strings.Contains(wantsQuotes, string(r.Dialect)) {
			return `"` + part + `"`
		}
		if strings.Contains(part, "]") {
			return "[" + strings.ReplaceAll(part, "]", "]]") + "]"
		}
		return part
	}
	name := r.Name
	if r.Dialect == signature.PostgreSQL {
		name = quoted(name)
	}
	if r.Container != "" {
		name = r.Container + "." + name
	}
	if r.Schema != "" {
		name = quoted(r.Schema) + "." + name
	}
	fmt.Fprintf(&b, "%s %s(", r.Kind, name)
	for i := range r.Parameters {
		p := &r.Parameters[i]
		if i > 0 {
			b.WriteString(", ")
		}
		name := p.Name
		if r.Dialect != signature.SQLServer && name != "" {
			name = quoted(name)
		}
		fmt.Fprintf(&b, "%s %s %s", name, p.Direction, typ(&p.Type))
		if p.Variadic {
			b.WriteString(" variadic")
		}
		if p.Default != nil {
			b.WriteString(" = " + p.Default.Text)
		}
	}
	b.WriteString(")")
	if r.Returns != nil {
		b.WriteString(" returns ")
		if r.Returns.Set && r.Returns.Type.Name == "table" {
			var cols []string
			for _, c := range r.Returns.Columns {
				cols = append(cols, quoted(c.Name))
			}
			fmt.Fprintf(&b, "set %v", cols)
		} else {
			b.WriteString(typ(&r.Returns.Type))
			if r.Returns.Type.Name == "record" || r.Returns.Type.Name == "row" {
				for _, c := range r.Returns.Columns {
					fmt.Fprintf(&b, " %s", c.Name)
				}
			}
			if r.Returns.Set {
				b.WriteString(" set")
			}
		}
	}
	if r.Specific != "" {
		b.WriteString(" specific " + r.Specific)
	}
	if r.Language != "sql" {
		b.WriteString(" language " + r.Language)
	}
	if r.Status != nil {
		fmt.Fprintf(&b, " status %v", r.Status.Codes)
		if r.Status.Open {
			b.WriteString(" open")
		}
	}
	if len(r.Results) > 0 {
		var sets []string
		for _, rs := range r.Results {
			var cols []string
			for _, c := range rs.Columns {
				cols = append(cols, c.Name)
			}
			if len(cols) == 0 {
				cols = []string{"? SHOW"}
			}
			sets = append(sets, strings.Join(cols, " "))
		}
		fmt.Fprintf(&b, " rows [%s]", strings.Join(sets, " | "))
	}
	return b.String()
}

// wantsQuotes lists the dialects whose wants show which names are in quotes.
const wantsQuotes = "postgresql"

func read(path string, src []byte, d *ddl.Dialect) *signature.Catalog {
	return ddl.Assemble([]*ddl.File{ddl.Read(path, src, d, ddl.Options{})})
}

// withKinds tells whether a want gives the kinds of types.
var withKinds = regexp.MustCompile(`[^:\s]:[a-z]+[0-9]*(\(|[,)n]|$| )`)

// TestFiles reads the files of testdata and holds what they declare against
// the comments in them.
func TestFiles(t *testing.T) {
	for _, d := range ddl.Dialects {
		t.Run(string(d.Name), func(t *testing.T) {
			path := "testdata/" + string(d.Name) + ".sql"
			src, err := os.ReadFile(path)
			require.NoError(t, err)
			var wanted, problems []string
			for _, line := range strings.Split(string(src), "\n") {
				if w, ok := strings.CutPrefix(line, "-- want: "); ok {
					wanted = append(wanted, w)
				} else if p, ok := strings.CutPrefix(line, "-- problem: "); ok {
					problems = append(problems, p)
				}
			}
			cat := read(path, src, d)
			byName := map[string][]*signature.Routine{}
			for i := range cat.Routines {
				name := strings.SplitN(describe(&cat.Routines[i], false), "(", 2)[0]
				byName[name] = append(byName[name], &cat.Routines[i])
			}
			matched := map[*signature.Routine]bool{}
			for _, w := range wanted {
				signaturePart := strings.SplitN(w, " rows ", 2)[0]
				kinds := withKinds.MatchString(signaturePart)
				closest := ""
				for _, r := range byName[strings.SplitN(w, "(", 2)[0]] {
					if matched[r] {
						continue
					}
					closest = describe(r, kinds)
					if closest == w {
						matched[r] = true
						break
					}
				}
				assert.Equal(t, w, closest)
			}
			for i := range cat.Routines {
				if r := &cat.Routines[i]; !matched[r] {
					t.Errorf("line %d, not wanted: %s", r.At.Line, describe(r, true))
				}
			}
			if assert.Len(t, cat.Problems, len(problems)) {
				for i, p := range problems {
					assert.Contains(t, cat.Problems[i].Message, p)
					assert.True(t, cat.Problems[i].Routine)
				}
			}
		})
	}
}

func TestPlaces(t *testing.T) {
	src := "-- first\r\nSET ANSI_NULLS ON\r\nGO\r\n\r\n  CREATE PROCEDURE p\r\n    @größe int,\r\n    @b int\r\nAS\r\n  SELECT 1 AS one\r\nGO\r\n"
	cat := read("a.sql", []byte(src), &ddl.SQLServer)
	require.Len(t, cat.Routines, 1)
	r := cat.Routines[0]
	assert.Equal(t, signature.Extent{File: "a.sql", Line: 5, Column: 3, EndLine: 9}, r.At)
	assert.Equal(t, signature.Place{File: "a.sql", Line: 7, Column: 5}, r.Parameters[1].At)
	assert.Equal(t, 9, r.Results[0].Line)
}

func TestStubInAStringHasItsPlace(t *testing.T) {
	cat := read("a.sql", []byte("EXEC('\n CREATE PROC p @a varchar(9) = ''x'' AS RETURN 1')\n"), &ddl.SQLServer)
	require.Len(t, cat.Routines, 1)
	assert.Equal(t, 2, cat.Routines[0].At.Line)
	assert.Equal(t, "'x'", cat.Routines[0].Parameters[0].Default.Text)
}

func TestTypesOverFiles(t *testing.T) {
	a := ddl.Read("a.sql", []byte("CREATE PROC p @c berth.Code, @l Rows READONLY AS RETURN 0"), &ddl.SQLServer, ddl.Options{})
	b := ddl.Read("b.sql", []byte("CREATE TYPE berth.Code FROM dbo.Plain;\nGO\nCREATE TYPE dbo.Plain FROM nvarchar(7);\nGO\nCREATE TYPE dbo.Rows AS TABLE (c berth.Code)"), &ddl.SQLServer, ddl.Options{})
	cat := ddl.Assemble([]*ddl.File{a, b})
	require.Len(t, cat.Routines, 1)
	code, rows := cat.Routines[0].Parameters[0].Type, cat.Routines[0].Parameters[1].Type
	assert.Equal(t, signature.KindString, code.Kind)
	assert.Equal(t, 7, code.Length)
	assert.True(t, code.National)
	assert.Equal(t, "berth.Code", code.Text)
	assert.Equal(t, signature.KindTable, rows.Kind)
	require.Len(t, rows.Columns, 1)
	assert.Equal(t, 7, rows.Columns[0].Type.Length)
}

func TestLaterFilesReplaceAndDrop(t *testing.T) {
	read := func(path, src string) *ddl.File {
		return ddl.Read(path, []byte(src), &ddl.SQLServer, ddl.Options{})
	}
	cat := ddl.Assemble([]*ddl.File{
		read("1.sql", "CREATE PROC dbo.p @a int AS RETURN 1\nGO\nCREATE PROC q AS RETURN 2\nGO\nCREATE PROC fares;1 AS RETURN 1\nGO\nCREATE PROC fares;2 AS RETURN 2"),
		read("2.sql", "ALTER PROC P @a int, @b int AS RETURN 3\nGO\nDROP PROC dbo.q, fares"),
	})
	require.Len(t, cat.Routines, 1, "dbo is the schema that is meant where none is written")
	assert.Equal(t, "2.sql", cat.Routines[0].At.File)
	assert.Len(t, cat.Routines[0].Parameters, 2)
}

func TestCreateIfNotExistsKeepsTheFirst(t *testing.T) {
	cat := read("a.sql", []byte("CREATE PROCEDURE p(a INT) SELECT 1;\nCREATE PROCEDURE IF NOT EXISTS p(a INT, b INT) SELECT 1;\nCREATE FUNCTION p() RETURNS INT RETURN 1;"), &ddl.MySQL)
	require.Len(t, cat.Routines, 2, "a function may have the name of a procedure")
	assert.Len(t, cat.Routines[0].Parameters, 1)
}

func TestWhatIsNotClosedCostsOnlyItsRoutine(t *testing.T) {
	for _, test := range []struct {
		d    *ddl.Dialect
		src  string
		line int
	}{
		{&ddl.SQLServer, "CREATE PROC a AS RETURN 1\nGO\nCREATE PROC b AS PRINT 'open\nGO\nCREATE PROC c AS RETURN 3\nGO\n", 3},
		{&ddl.SQLServer, "CREATE PROC a AS RETURN 1\nGO\n/* open\nCREATE PROC b AS PRINT 1\nGO\nCREATE PROC c AS RETURN 3\nGO\n", 3},
		{&ddl.MySQL, "CREATE PROCEDURE a() SELECT 1;\nDELIMITER //\nCREATE PROCEDURE b() SELECT 'open//\nDELIMITER //\nCREATE PROCEDURE c() SELECT 1//\n", 3},
	} {
		cat := read("a.sql", []byte(test.src), test.d)
		var names []string
		for _, r := range cat.Routines {
			names = append(names, r.Name)
		}
		assert.Equal(t, []string{"a", "c"}, names, test.src)
		if assert.Len(t, cat.Problems, 1) {
			assert.Equal(t, test.line, cat.Problems[0].Line)
			assert.Contains(t, cat.Problems[0].Message, "not closed")
		}
	}
}

func TestDetect(t *testing.T) {
	for name, src := range map[string]string{
		"sqlserver": "CREATE PROCEDURE [dbo].[p] @a int AS BEGIN SET NOCOUNT ON END\nGO\n",
		"mysql":     "DELIMITER $$\nCREATE PROCEDURE `p`(IN a INT) BEGIN SELECT 1; END$$\n",
	} {
		g := ddl.Detect([]byte(src))
		assert.Equal(t, signature.Dialect(name), g.Dialect)
		assert.True(t, g.Certain, name)
		assert.True(t, g.Declares, name)
	}
	for src, want := range map[string]signature.Dialect{
		"CREATE FUNCTION f(a int) RETURNS int LANGUAGE plpgsql AS $$ BEGIN RETURN a; END $$;":             signature.PostgreSQL,
		"CREATE OR REPLACE PROCEDURE p(a IN OUT NOCOPY VARCHAR2) IS BEGIN NULL; END;\n/\n":                signature.Oracle,
		"create or replace function f(a number) return number is begin return a; end;\n/\n":               signature.Oracle,
		"SET TERM ^ ;\nCREATE PROCEDURE p RETURNS (a INT) AS BEGIN SUSPEND; END^":                         signature.Firebird,
		"CREATE PROCEDURE p(a NUMBER) RETURNS VARCHAR LANGUAGE SQL EXECUTE AS CALLER AS $$ BEGIN END $$;": signature.Snowflake,
		"CREATE PROCEDURE p (IN a INT) LANGUAGE SQLSCRIPT AS BEGIN SELECT 1 FROM DUMMY; END;":             signature.HANA,
		"REPLACE MACRO m (a BYTEINT) AS (SEL 1;);":                                                        signature.Teradata,
		"--#SET TERMINATOR @\nCREATE PROCEDURE p (IN a INTEGER) LANGUAGE SQL BEGIN END @":                 signature.Db2,
		"CREATE PROCEDURE p(IN a INT)\nBEGIN ATOMIC\n SET a = 1;\nEND;":                                   signature.SQLPSM,
		"/*M!100100 SET x=1 */;\nDELIMITER //\nCREATE OR REPLACE PROCEDURE p(a INET6) BEGIN END//":        signature.MariaDB,
	} {
		g := ddl.Detect([]byte(src))
		assert.Equal(t, want, g.Dialect, src)
		assert.True(t, g.Declares, src)
	}
	for _, src := range []string{
		"CREATE PROCEDURE p (IN a INTEGER, OUT b INTEGER) BEGIN SET b = a; END;",
		"CREATE FUNCTION f(a INT) RETURNS INT RETURN a + 1;",
		"select 1", "",
	} {
		assert.Empty(t, ddl.Detect([]byte(src)).Dialect, "a wrong guess is worse than asking: %s", src)
	}
	for _, d := range ddl.Dialects { // each file of the test data
		src, err := os.ReadFile("testdata/" + string(d.Name) + ".sql")
		require.NoError(t, err)
		assert.Equal(t, d.Name, ddl.Detect(src).Dialect, "%s", d.Name)
	}
	for _, path := range []string{"db/desk/berths.sql", "db/desk/passes.sql", "db/desk/fares.sql", "db/desk/types.sql"} {
		assert.Equal(t, signature.SQLServer, ddl.Detect(testkit.DemoFile(t, path)).Dialect, path)
	}
	for _, path := range []string{"db/timetable/timetable.sql", "db/timetable/crew.sql"} {
		assert.Equal(t, signature.MySQL, ddl.Detect(testkit.DemoFile(t, path)).Dialect, path)
	}
}

// TestLongRoutines reads what the benchmarks read: it must be read whole, or
// the figures would mean nothing.
func TestLongRoutines(t *testing.T) {
	for _, d := range ddl.Dialects {
		text := testkit.Long(string(d.Name), 1<<16)
		cat := read("long.sql", text, d)
		assert.Empty(t, cat.Problems, d.Name)
		assert.Len(t, cat.Routines, strings.Count(strings.ToLower(string(text)), "procedure "), d.Name)
		for i := range cat.Routines {
			r := &cat.Routines[i]
			assert.GreaterOrEqual(t, len(r.Parameters), 3, d.Name)
			if d.Name != signature.Snowflake && d.Name != signature.Teradata && d.Name != signature.SQLPSM {
				assert.Len(t, r.Results, 1, d.Name)
			}
		}
	}
}

// TestBrokenFiles reads every prefix of the test data, and the data less any
// one byte: it must not fail, and not take longer than the text is long.
func TestBrokenFiles(t *testing.T) {
	for _, d := range ddl.Dialects {
		src, err := os.ReadFile("testdata/" + string(d.Name) + ".sql")
		require.NoError(t, err)
		if testing.Short() {
			src = src[:len(src)/4]
		}
		n := 0
		testkit.Broken(src, func(broken []byte) {
			f := ddl.Read("broken.sql", broken, d, ddl.Options{Detail: true})
			cat := ddl.Assemble([]*ddl.File{f})
			n += len(cat.Routines)
		})
		assert.Positive(t, n)
	}
}

func FuzzRead(f *testing.F) {
	for _, d := range ddl.Dialects {
		src, err := os.ReadFile("testdata/" + string(d.Name) + ".sql")
		if err != nil {
			f.Fatal(err)
		}
		f.Add(src)
		for _, part := range strings.Split(string(src), "-- want: ") {
			f.Add([]byte(part))
		}
	}
	f.Fuzz(func(t *testing.T, src []byte) {
		ddl.Detect(src)
		for _, d := range ddl.Dialects {
			cat := ddl.Assemble([]*ddl.File{ddl.Read("fuzz.sql", src, d, ddl.Options{Detail: true})})
			for i := range cat.Routines {
				r := &cat.Routines[i]
				if r.Name == "" || r.At.Line < 1 || r.At.EndLine < r.At.Line {
					t.Fatalf("%s: %q at %+v", d.Name, r.Name, r.At)
				}
				for k, p := range r.Parameters {
					if p.Position != k+1 || p.Type.Text == "" {
						t.Fatalf("%s: parameter %s of %s", d.Name, strconv.Quote(p.Name), r.Name)
					}
				}
			}
		}
	})
}

// TestMySQLOrMariaDB: what both have is taken for MySQL's.
func TestMySQLOrMariaDB(t *testing.T) {
	for src, want := range map[string]signature.Dialect{
		"-- MySQL dump 10.13\n/*!50003 SET sql_mode = 'STRICT_TRANS_TABLES' */ ;\nDELIMITER ;;\nCREATE DEFINER=`a`@`b` PROCEDURE `p`(IN a INT) BEGIN SELECT 1; END ;;":   signature.MySQL,
		"-- MariaDB dump 10.19\n/*!50003 SET sql_mode = 'STRICT_TRANS_TABLES' */ ;\nDELIMITER ;;\nCREATE DEFINER=`a`@`b` PROCEDURE `p`(IN a INT) BEGIN SELECT 1; END ;;": signature.MariaDB,
		"DELIMITER $$\nCREATE OR REPLACE PROCEDURE p(OUT a INT)\nBEGIN\n  SET a = 1;\nEND$$\n":                                                                           signature.MariaDB,
		"DELIMITER $$\nCREATE PROCEDURE p(OUT a INT)\nBEGIN\n  SET a = 1;\nEND$$\n":                                                                                      signature.MySQL,
	} {
		assert.Equal(t, want, ddl.Detect([]byte(src)).Dialect, src)
	}
}
