package ddl_test

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"ramekin/internal/ddl"
	"ramekin/internal/signature"
)

// TestHeadersThatCannotBeRead holds each fault's place and message.
func TestHeadersThatCannotBeRead(t *testing.T) {
	for _, test := range []struct {
		d       *ddl.Dialect
		src     string
		line    int
		column  int
		message string
	}{
		{&ddl.SQLServer, "CREATE PROC", 1, 12, "the header of this routine cannot be read: the text ends where the routine's name should stand"},
		{&ddl.SQLServer, "CREATE PROC 'x' AS SELECT 1", 1, 13, `the header of this routine cannot be read: "'x'" stands where the routine's name should stand`},
		{&ddl.SQLServer, "CREATE PROC [] AS SELECT 1", 1, 16, `the header of this routine cannot be read: "AS" stands where the routine's name should stand`},
		{&ddl.SQLServer, "CREATE PROC p @a", 1, 17, "the header of p cannot be read: the text ends where the type of @a should stand"},
		{&ddl.SQLServer, "CREATE PROC p @a OUTPUT AS SELECT 1", 1, 18, `the header of p cannot be read: "OUTPUT" stands where the type of @a should stand`},
		{&ddl.SQLServer, "CREATE PROC p\n  @a int = , @b int AS SELECT 1", 2, 12, `the header of p cannot be read: "," stands where the default of @a should stand`},
		{&ddl.SQLServer, "CREATE PROC p (@a int AS SELECT 1", 1, 23, `the header of p cannot be read: "AS" stands where a comma or the ) that closes the parameters should stand`},
		{&ddl.SQLServer, "CREATE PROC p @a int,", 1, 22, "the header of p cannot be read: the text ends where a parameter's name, which begins with @ should stand"},
		{&ddl.SQLServer, "CREATE PROC p @a int NOT AS SELECT 1", 1, 26, `the header of p cannot be read: "AS" stands where NULL behind NOT should stand`},
		{&ddl.SQLServer, "CREATE PROC p @a int FOR x AS SELECT 1", 1, 26, `the header of p cannot be read: "x" stands where REPLICATION should stand`},
		{&ddl.SQLServer, "CREATE PROC p WITH EXECUTE OWNER AS SELECT 1", 1, 28, `the header of p cannot be read: "OWNER" stands where AS behind EXECUTE should stand`},
		{&ddl.SQLServer, "CREATE FUNCTION f @a int RETURNS int AS BEGIN RETURN 1 END", 1, 19, `the header of f cannot be read: "@a" stands where ( before the parameters should stand`},
		{&ddl.SQLServer, "CREATE FUNCTION dbo.f () AS BEGIN RETURN 1 END", 1, 26, `the header of dbo.f cannot be read: "AS" stands where RETURNS should stand`},
		{&ddl.SQLServer, "CREATE FUNCTION f () RETURNS 5 AS BEGIN RETURN 1 END", 1, 30, `the header of f cannot be read: "5" stands where the type of the result should stand`},
		{&ddl.SQLServer, "CREATE FUNCTION f () RETURNS @t (a int) AS BEGIN RETURN END", 1, 33, `the header of f cannot be read: "(" stands where TABLE should stand`},
		{&ddl.SQLServer, "CREATE FUNCTION f () RETURNS TABLE AS SELECT 1 AS a", 1, 39, `the header of f cannot be read: "SELECT" stands where RETURN and the query should stand`},
		{&ddl.SQLServer, "CREATE FUNCTION f () RETURNS int AS RETURN 1", 1, 37, `the header of f cannot be read: "RETURN" stands where BEGIN should stand`},
		{&ddl.MySQL, "CREATE PROCEDURE", 1, 17, "the header of this routine cannot be read: the text ends where the routine's name should stand"},
		{&ddl.MySQL, "CREATE PROCEDURE p SELECT 1", 1, 20, `the header of p cannot be read: "SELECT" stands where ( before the parameters should stand`},
		{&ddl.MySQL, "CREATE PROCEDURE p(IN INT) SELECT 1", 1, 26, `the header of p cannot be read: ")" stands where the type of INT should stand`},
		{&ddl.MySQL, "CREATE PROCEDURE p(IN a INT, ) SELECT 1", 1, 30, `the header of p cannot be read: ")" stands where a parameter's name should stand`},
		{&ddl.MySQL, "CREATE PROCEDURE p(a INT) NOT SQL SELECT 1", 1, 31, `the header of p cannot be read: "SQL" stands where DETERMINISTIC behind NOT should stand`},
		{&ddl.MySQL, "CREATE PROCEDURE p(a INT) DETERMINISTIC", 1, 40, "the header of p cannot be read: the text ends where the body should stand"},
		{&ddl.MySQL, "CREATE FUNCTION f(a INT) RETURN 1", 1, 26, `the header of f cannot be read: "RETURN" stands where RETURNS should stand`},
		{&ddl.MySQL, "CREATE FUNCTION f RETURNS STRING", 1, 33, "the header of f cannot be read: the text ends where SONAME and the library should stand"},
	} {
		cat := read("a.sql", []byte(test.src), test.d)
		assert.Empty(t, cat.Routines, test.src)
		if assert.Len(t, cat.Problems, 1, test.src) {
			p := cat.Problems[0]
			assert.Equal(t, test.message, p.Message, test.src)
			assert.Equal(t, []int{test.line, test.column}, []int{p.Line, p.Column}, test.src)
			assert.True(t, p.Routine)
		}
	}
}

// routineNames reads a script and lists what it declares.
func routineNames(t *testing.T, d *ddl.Dialect, src string) string {
	t.Helper()
	cat := read("a.sql", []byte(src), d)
	assert.Empty(t, cat.Problems, src)
	var names []string
	for i := range cat.Routines {
		names = append(names, cat.Routines[i].QualifiedName())
	}
	return strings.Join(names, " ")
}

// TestMySQLFrames finds the end of routines without a delimiter of their own.
func TestMySQLFrames(t *testing.T) {
	for _, src := range []string{
		"CREATE PROCEDURE a() SELECT 1; CREATE PROCEDURE b() SELECT 2;",
		"CREATE PROCEDURE a() BEGIN SELECT 1; END; CREATE PROCEDURE b() BEGIN END;",
		"CREATE PROCEDURE a() BEGIN IF 1 THEN SELECT 1; ELSEIF 2 THEN SELECT 2; ELSE SELECT 3; END IF; END; CREATE PROCEDURE b() SELECT 1;",
		"CREATE PROCEDURE a() IF 1 THEN SELECT 1; END IF; CREATE PROCEDURE b() SELECT 1;",
		"CREATE PROCEDURE a() BEGIN SELECT IF(1, 2, 3); END; CREATE PROCEDURE b() SELECT 1;",
		"CREATE PROCEDURE a() BEGIN CASE 1 WHEN 1 THEN SELECT 1; END CASE; END; CREATE PROCEDURE b() SELECT 1;",
		"CREATE PROCEDURE a() BEGIN SELECT CASE 1 WHEN 1 THEN 2 END; END; CREATE PROCEDURE b() SELECT 1;",
		"CREATE PROCEDURE a() l: BEGIN x: LOOP LEAVE x; END LOOP x; END l; CREATE PROCEDURE b() SELECT 1;",
		"CREATE PROCEDURE a() BEGIN WHILE 1 DO SELECT 1; END WHILE; REPEAT SELECT 1; UNTIL 1 END REPEAT; END; CREATE PROCEDURE b() SELECT 1;",
		"CREATE PROCEDURE a() BEGIN SELECT REPEAT('x', 3), t.begin, t.end FROM t; END; CREATE PROCEDURE b() SELECT 1;",
		"CREATE PROCEDURE a() BEGIN DECLARE EXIT HANDLER FOR NOT FOUND BEGIN SELECT 1; END; END; CREATE PROCEDURE b() SELECT 1;",
		"CREATE PROCEDURE a() BEGIN DROP TABLE IF EXISTS t; END; CREATE PROCEDURE b() SELECT 1;",
		"CREATE PROCEDURE IF NOT EXISTS a() BEGIN END; CREATE PROCEDURE b() SELECT 1;",
		"CREATE TRIGGER t BEFORE INSERT ON x FOR EACH ROW BEGIN SET NEW.a = 1; END; CREATE PROCEDURE a() SELECT 1; CREATE PROCEDURE b() SELECT 1;",
		"CREATE TABLE begin_ (a INT); CREATE PROCEDURE a() SELECT 1; CREATE PROCEDURE b() SELECT 1",
		"DELIMITER |\nCREATE PROCEDURE a() BEGIN SELECT 1; END|\nCREATE PROCEDURE b() SELECT 1|",
		"DELIMITER $$\nDROP PROCEDURE IF EXISTS a; CREATE PROCEDURE a() BEGIN END$$\nCREATE PROCEDURE b() BEGIN SELECT '$$'; END $$",
		"DELIMITER go\nCREATE PROCEDURE a() BEGIN SELECT category, gold FROM t; END\ngo\nCREATE PROCEDURE b() SELECT 1 go",
		"CREATE PROCEDURE a() SELECT 1\\G\nCREATE PROCEDURE b() SELECT 1\\g",
	} {
		assert.Equal(t, "a b", routineNames(t, &ddl.MySQL, src), src)
	}
}

func TestSQLServerScripts(t *testing.T) {
	for src, want := range map[string]string{
		"create proc a as begin create table #t (x int) end\ngo\ncreate proc b as select 1":                               "a b",
		"IF OBJECT_ID('a') IS NOT NULL DROP PROC a\nGO\nCREATE PROC a AS SELECT 1":                                        "a",
		"CREATE PROC a AS SELECT 1\nGO\nIF 1 = 1 DROP PROCEDURE dbo.a\nGO":                                                "",
		"CREATE VIEW v AS SELECT 1 AS x\nGO\nCREATE TRIGGER t ON x AFTER INSERT AS EXEC a\nGO\nCREATE PROC a AS SELECT 1": "a",
		"CREATE PROC a AS SELECT 1 CREATE PROC b AS SELECT 2":                                                             "a b",
		"CREATE PROC a AS EXEC('CREATE PROC inner_one AS SELECT 1')":                                                      "a",
		"EXEC('CREATE PROC made AS EXEC(''CREATE PROC deeper AS SELECT 1'')')":                                            "made",
		"DECLARE @s nvarchar(max) = N'CREATE PROC text_only AS SELECT 1' EXEC (@s)":                                       "",
		":setvar db Desk\nUSE $(db)\nGO\nCREATE PROC $(schema).a AS SELECT 1":                                             "$(schema).a",
		"CREATE PROC a AS SELECT 1\nGO\nEXEC sp_rename @objname = N'dbo.a', @newname = N'b'":                              "b",
		"CREATE PROC a AS SELECT 1\nGO\nALTER SCHEMA s TRANSFER OBJECT::dbo.a":                                            "a",
		"CREATE PROC dbo.a AS SELECT 1\nGO\nALTER SCHEMA s TRANSFER OBJECT::dbo.a":                                        "s.a",
		"EXEC sp_addtype 'code', 'varchar(5)', 'NOT NULL'\nGO\nCREATE PROC a @x code AS SELECT 1":                         "a",
		"SELECT 'go\ngo\n'\ngo\nCREATE PROC a AS SELECT 1\ngo\n\n":                                                        "a",
		"BEGIN TRAN\nGO\nCREATE/**/PROC/**/a/**/AS/**/SELECT/**/1":                                                        "a",
	} {
		if strings.Contains(src, "CREATE PROC a AS SELECT 1\nGO\nALTER SCHEMA s") {
			want = "s.a" // dbo is where an unqualified name stands
		}
		assert.Equal(t, want, routineNames(t, &ddl.SQLServer, src), src)
	}
}

func TestScopes(t *testing.T) {
	f := ddl.Read("a.sql", []byte("PRINT 1\nGO\nCREATE PROC p AS EXEC q\nGO\nEXEC p"), &ddl.SQLServer, ddl.Options{Detail: true})
	require.Len(t, f.Scopes, 3)
	assert.Nil(t, f.Scopes[0].Routine)
	assert.Equal(t, "p", f.Scopes[1].Routine.Name)
	assert.Len(t, f.Scopes[1].Body.Calls, 1)
	assert.Len(t, f.Scopes[2].Body.Calls, 1)
	assert.Empty(t, ddl.Read("a.sql", []byte("EXEC p"), &ddl.SQLServer, ddl.Options{}).Scopes)
}

func TestWhatABodySends(t *testing.T) {
	for src, want := range map[string]bool{
		"CREATE PROC p AS SELECT 1":                           false,
		"CREATE PROC p AS EXEC (@x)":                          true,
		"CREATE PROC p AS EXEC sp_executesql @x":              true,
		"CREATE PROC p AS EXEC q":                             true,
		"CREATE PROC p AS INSERT INTO t EXEC q":               false,
		"CREATE PROC p AS EXTERNAL NAME a.b.c":                true,
		"CREATE PROC p AS DECLARE @x int SET @x = (SELECT 1)": false,
	} {
		cat := read("a.sql", []byte(src), &ddl.SQLServer)
		require.Len(t, cat.Routines, 1, src)
		assert.Equal(t, want, cat.Routines[0].SendsMore, src)
	}
}

func TestDialects(t *testing.T) {
	for _, d := range ddl.Dialects {
		assert.Equal(t, d, ddl.DialectOf(d.Name))
		assert.NotNil(t, d.Lexis)
		assert.NotNil(t, d.Type)
	}
	assert.Nil(t, ddl.DialectOf(signature.Dialect("other")))
}
