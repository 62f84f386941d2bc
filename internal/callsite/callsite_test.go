package callsite_test

import (
	"fmt"
	"os"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"ramekin/internal/callsite"
	"ramekin/internal/ddl"
	"ramekin/internal/hostcode"
	"ramekin/internal/signature"
	"ramekin/internal/testkit"
)

// describe is a call in one line, as the test data write it.
func describe(c *callsite.Call) string {
	if c.State == callsite.Unresolved {
		return "?"
	}
	var args []string
	for _, a := range c.Arguments {
		parts := []string{string(a.Direction)}
		if a.Direction != callsite.Unset {
			parts = append(parts, string(a.Kind))
		}
		for _, s := range []string{a.Name, a.Value} {
			if s != "" {
				parts = append(parts, s)
			}
		}
		args = append(args, strings.Join(parts, " "))
	}
	s := fmt.Sprintf("%s(%s)", c.Named(), strings.Join(args, ", "))
	if c.Captures {
		s += " captured"
	}
	if c.ReadsRows && c.Host != "sql" {
		s += " read"
	}
	if c.Open {
		s += " open"
	}
	return s
}

// holdAgainst compares calls with the comments of the source, line by line.
func holdAgainst(t *testing.T, src []byte, mark string, calls []*callsite.Call) {
	t.Helper()
	got := map[int][]string{}
	for _, c := range calls {
		got[c.At.Line] = append(got[c.At.Line], describe(c))
	}
	for i, line := range strings.Split(string(src), "\n") {
		var want []string
		if _, w, ok := strings.Cut(line, mark+" call "); ok {
			want = strings.Split(w, " // call ")
		}
		if strings.Contains(line, "blocks.text") {
			continue // its line has no room for a comment; see TestTextBlock
		}
		assert.Equal(t, want, got[i+1], "line %d: %s", i+1, strings.TrimSpace(line))
	}
}

func analyze(t *testing.T, path string) ([]byte, []*callsite.Call) {
	src, err := os.ReadFile("testdata/" + path)
	require.NoError(t, err)
	require.True(t, callsite.MayCall(hostcode.LanguageOf(path), src))
	return src, callsite.Analyze([]callsite.File{{Path: path, Text: src}}, callsite.Source{})
}

func TestJDBC(t *testing.T) {
	src, calls := analyze(t, "Jdbc.java")
	var rest []*callsite.Call
	built := 0
	for _, c := range calls {
		if c.Named() == "built.step" { // its text is made of three pieces
			assert.Equal(t, "built.step(in int32 a)", describe(c))
			built++
			continue
		}
		rest = append(rest, c)
	}
	assert.Equal(t, 1, built)
	holdAgainst(t, src, "//", rest)
}

func TestADONET(t *testing.T) {
	src, calls := analyze(t, "Ado.cs")
	var rest []*callsite.Call
	for _, c := range calls {
		if c.Named() == "text.raw" { // a raw text of several lines
			assert.Equal(t, "text.raw(in int32 @a 1)", describe(c))
			continue
		}
		rest = append(rest, c)
	}
	holdAgainst(t, src, "//", rest)
}

func TestPython(t *testing.T) {
	for _, path := range []string{"Dbapi.py", "clients.py"} {
		src, calls := analyze(t, path)
		holdAgainst(t, src, "#", calls)
	}
}

func TestNodeClients(t *testing.T) {
	for _, path := range []string{"node.ts", "node.js", "clients.js"} {
		t.Run(path, func(t *testing.T) {
			src, calls := analyze(t, path)
			holdAgainst(t, src, "//", calls)
		})
	}
}

func TestGo(t *testing.T) {
	src, err := os.ReadFile("testdata/desk.go.txt")
	require.NoError(t, err)
	require.True(t, callsite.MayCall(&hostcode.Go, src))
	holdAgainst(t, src, "//", callsite.Analyze([]callsite.File{{Path: "desk.go", Text: src}}, callsite.Source{}))
}

func TestPHP(t *testing.T) {
	src, calls := analyze(t, "desk.php")
	var rest []*callsite.Call
	for _, c := range calls {
		if c.Named() == "tide.heredoc" { // its line has no room for a comment
			assert.Equal(t, "tide.heredoc(in int32 $id, in int32 5)", describe(c))
			continue
		}
		rest = append(rest, c)
	}
	assert.Len(t, rest, len(calls)-1)
	holdAgainst(t, src, "//", rest)
}

func TestSpringAndPersistence(t *testing.T) {
	src, calls := analyze(t, "Spring.java")
	holdAgainst(t, src, "//", calls)
}

func TestNetMappers(t *testing.T) {
	src, calls := analyze(t, "Mappers.cs")
	holdAgainst(t, src, "//", calls)
}

func TestVisualBasic(t *testing.T) {
	src, calls := analyze(t, "Desk.vb")
	holdAgainst(t, src, "'", calls)
}

func TestListsAndHelpers(t *testing.T) {
	for _, path := range []string{"Lists.cs", "More.java"} {
		t.Run(path, func(t *testing.T) {
			src, calls := analyze(t, path)
			holdAgainst(t, src, "//", calls)
		})
	}
}

func TestTextBlock(t *testing.T) {
	src := `import java.sql.*;
class A {
    void a(Connection c) throws SQLException {
        CallableStatement cs = c.prepareCall("""
            {? = call blocks.text(?)}
            """);
        cs.registerOutParameter(1, Types.INTEGER);
        cs.setInt(2, 7);
        cs.execute();
        if (cs.getInt(1) == 41) throw new SQLException();
    }
}`
	calls := callsite.Analyze([]callsite.File{{Path: "A.java", Text: []byte(src)}}, callsite.Source{})
	require.Len(t, calls, 1)
	c := calls[0]
	assert.Equal(t, "blocks.text(return int32, in int32 7) captured", describe(c))
	assert.Equal(t, "{? = call blocks.text(?)}", c.Text)
	assert.Equal(t, callsite.Span{File: "A.java", Line: 4, Column: 46, EndLine: 6, EndColumn: 16}, c.At)
	require.Len(t, c.Status.Comparisons, 1)
	assert.Equal(t, int64(41), c.Status.Comparisons[0].Value)
	assert.True(t, c.Status.Comparisons[0].Handled, "the other codes never get past the guard")
}

func TestConstantsOfOtherFiles(t *testing.T) {
	user := `import java.sql.*; class A { void a(Connection c) throws SQLException { CallableStatement s = c.prepareCall(Texts.ASSIGN); s.setInt(1, 2); s.execute(); } }`
	asked := 0
	calls := callsite.Analyze([]callsite.File{{Path: "A.java", Text: []byte(user)}}, callsite.Source{Find: func(_, class string) []callsite.File {
		if class != "Texts" {
			return nil
		}
		asked++
		return []callsite.File{{Path: "Texts.java", Text: []byte("class Texts {\n  static final String ASSIGN = \"{call berth.assign(?)}\";\n}")}}
	}})
	require.Len(t, calls, 1)
	assert.Equal(t, "berth.assign(in int32 2)", describe(calls[0]))
	assert.Equal(t, "Texts.java", calls[0].At.File, "the place is where the routine is named")
	assert.Equal(t, 2, calls[0].At.Line)
	assert.Equal(t, "A.java", calls[0].Use.File)
	assert.Equal(t, 1, asked)
}

func TestReadsAndStatus(t *testing.T) {
	src := `using System.Data; using Microsoft.Data.SqlClient;
class A {
  void M(SqlConnection conn) {
    using var cmd = new SqlCommand("p", conn) { CommandType = CommandType.StoredProcedure };
    var o = cmd.Parameters.Add("@o", SqlDbType.Int);
    o.Direction = ParameterDirection.Output;
    var early = (int)o.Value;
    using (var r = cmd.ExecuteReader()) {
      var inside = o.Value;
    }
    var after = (string)o.Value;
    var n = cmd.ExecuteNonQuery();
    if (n == 0) return;
  }
}`
	calls := callsite.Analyze([]callsite.File{{Path: "A.cs", Text: []byte(src)}}, callsite.Source{})
	require.Len(t, calls, 1)
	reads := calls[0].Arguments[0].Reads
	require.Len(t, reads, 3)
	assert.True(t, reads[0].BeforeCall)
	assert.Equal(t, signature.KindInt32, reads[0].Kind)
	assert.True(t, reads[1].BeforeRows)
	assert.False(t, reads[2].BeforeRows)
	assert.True(t, reads[2].Cast)
	assert.Equal(t, signature.KindString, reads[2].Kind)
	require.NotNil(t, calls[0].CountUsed, "the count of rows is compared as if it were the status")
	assert.Equal(t, 13, calls[0].CountUsed.Line)
}

func TestScripts(t *testing.T) {
	src := []byte(`DECLARE @rc int, @note nvarchar(50);
EXEC @rc = berth.assign 7, @note OUTPUT, DEFAULT; -- call berth.assign(return int32 @rc, in int32 7, out string @note, in unknown DEFAULT) captured
IF @rc = 41 PRINT @note;
INSERT INTO #t EXEC berth.list @day = '2026-05-04' -- call berth.list(in string @day '2026-05-04')
EXEC @proc 1 -- call ?
EXEC ('SELECT 1') EXECUTE [a].[b c];3 -- call a.b c;3()
/* EXEC decoy.commented */ PRINT 'EXEC decoy.printed'
EXECUTE AS USER = 'desk'
GO
CREATE PROCEDURE p @in int AS
  EXEC inner_one @in, -1.5 -- call inner_one(in int32 @in, in decimal -1.5)
GO
`)
	f := ddl.Read("a.sql", src, &ddl.SQLServer, ddl.Options{Detail: true})
	calls := callsite.Certain(callsite.FromSQL(f))
	holdAgainst(t, src, "--", calls)
	require.NotEmpty(t, calls)
	require.Len(t, calls[0].Status.Comparisons, 1)
	assert.Equal(t, int64(41), calls[0].Status.Comparisons[0].Value)
	assert.NotEmpty(t, calls[0].Arguments[2].Reads)
	assert.True(t, calls[1].RowsTaken)
	assert.Equal(t, "p", calls[4].InRoutine.Name)
}

func TestMySQLScripts(t *testing.T) {
	src := []byte(`CALL list_tides('2026-05-04', NULL, @n); -- call list_tides(in string '2026-05-04', in unknown NULL, inout unknown @n)
CALL ` + "`harbour`.`no arguments`" + `; -- call harbour.no arguments()
DELIMITER //
CREATE PROCEDURE p(IN a INT) BEGIN
  DECLARE v VARCHAR(10);
  IF a THEN CALL inner_one(a, v, a + 1); END IF; -- call inner_one(inout int32 a, inout string v, in unknown a + 1)
END//
`)
	f := ddl.Read("a.sql", src, &ddl.MySQL, ddl.Options{Detail: true})
	holdAgainst(t, src, "--", callsite.Certain(callsite.FromSQL(f)))
}

func TestResolve(t *testing.T) {
	f := ddl.Read("a.sql", []byte(`CREATE PROC berth.assign @id int, @note nvarchar(9) = N'' OUTPUT AS RETURN 0
GO
CREATE PROC berth.release @id int AS RETURN 0
GO
CREATE PROC deck.release @id int AS RETURN 0
GO
CREATE PROC dbo.lone @a int AS RETURN 0
GO
EXEC ASSIGN 1, @n OUTPUT
EXEC berth.assign @note = @n, @id = 1
EXEC release 1
EXEC lone 1, 2
EXEC Desk.dbo.lone @b = 1
EXEC berth.lone 1
EXEC sp_who
`), &ddl.SQLServer, ddl.Options{Detail: true})
	cat := ddl.Assemble([]*ddl.File{f})
	calls := callsite.Resolve(callsite.FromSQL(f), signature.NewIndex(cat))
	require.Len(t, calls, 7)
	states := []callsite.State{}
	for _, c := range calls {
		states = append(states, c.State)
	}
	assert.Equal(t, []callsite.State{"resolved", "resolved", "ambiguous", "resolved", "resolved", "unknown", "unknown"}, states)
	assert.Equal(t, "@note", calls[0].Arguments[1].Parameter.Name)
	assert.Equal(t, "@note", calls[1].Arguments[0].Parameter.Name)
	assert.Len(t, calls[2].Candidates, 2)
	assert.Nil(t, calls[3].Arguments[1].Parameter)
	assert.Nil(t, calls[4].Arguments[0].Parameter)
	assert.True(t, calls[6].IsSystem())
}

// sources are the test data by the name that each is read under.
var sources = map[string]string{"Jdbc.java": "Jdbc.java", "Spring.java": "Spring.java", "Ado.cs": "Ado.cs", "Mappers.cs": "Mappers.cs", "Desk.vb": "Desk.vb",
	"Dbapi.py": "Dbapi.py", "node.ts": "node.ts", "node.js": "node.js", "clients.js": "clients.js", "clients.py": "clients.py", "desk.php": "desk.php", "desk.go": "desk.go.txt",
	"Mapper.xml": "Mapper.xml", "night.calls.csv": "night.calls.csv", "night.calls.toml": "night.calls.toml"}

// callsOf reads a file of any kind.
func callsOf(path string, text []byte) []*callsite.Call {
	switch {
	case callsite.IsSheet(path):
		calls, _ := callsite.FromSheet(path, text)
		return calls
	case strings.HasSuffix(path, ".xml"):
		return callsite.FromMapper(path, text)
	}
	return callsite.Analyze([]callsite.File{{Path: path, Text: text}}, callsite.Source{})
}

// TestBrokenSources reads every file cut off at, or less, some of its bytes: no
// panic, and what stands before is still found.
func TestBrokenSources(t *testing.T) {
	for path, file := range sources {
		t.Run(path, func(t *testing.T) {
			src, err := os.ReadFile("testdata/" + file)
			require.NoError(t, err)
			every := max(1, 2*len(src)/1500) // some of them keep the suite short
			if testing.Short() {
				every *= 5
			}
			n, i := 0, 0
			testkit.Broken(src, func(broken []byte) {
				if i++; i%every == 0 {
					n += len(callsOf(path, broken))
				}
			})
			assert.Positive(t, n)
		})
	}
}

func FuzzAnalyze(f *testing.F) {
	var paths []string
	for path, file := range sources {
		src, err := os.ReadFile("testdata/" + file)
		if err != nil {
			f.Fatal(err)
		}
		f.Add(src)
		paths = append(paths, path)
	}
	f.Fuzz(func(t *testing.T, src []byte) {
		for _, path := range paths {
			for _, c := range callsOf(path, src) {
				if c.At.Line < 1 || c.State == "" {
					t.Fatalf("%+v", c)
				}
			}
		}
	})
}
