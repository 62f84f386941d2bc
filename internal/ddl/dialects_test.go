package ddl_test

import (
	"fmt"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"ramekin/internal/ddl"
	"ramekin/internal/signature"
)

// names lists the routines of a catalog.
func names(cat *signature.Catalog) string {
	var list []string
	for i := range cat.Routines {
		list = append(list, cat.Routines[i].QualifiedName())
	}
	return strings.Join(list, " ")
}

// TestFaultsOfEveryDialect: a header that cannot be read is told of with its
// place and with what should stand there, and the routines beside it are read.
func TestFaultsOfEveryDialect(t *testing.T) {
	for _, test := range []struct {
		d     *ddl.Dialect
		fault string // between two sound routines
		says  string
		at    string // line:column of the fault
	}{
		{&ddl.PostgreSQL, "CREATE FUNCTION bad(a int b int) RETURNS int LANGUAGE sql AS '';", `the header of bad cannot be read: "b" stands where a comma or the ) that closes the parameters should stand`, "2:27"},
		{&ddl.PostgreSQL, "CREATE FUNCTION bad RETURNS int LANGUAGE sql AS '';", "( before the parameters should stand", "2:21"},
		{&ddl.PostgreSQL, "CREATE FUNCTION bad() RETURNS LANGUAGE sql;", "the body should stand", "2:44"},
		{&ddl.PostgreSQL, "CREATE FUNCTION bad() RETURNS int LANGUAGE plpgsql AS 5;", `"5" stands where the text of the body should stand`, "2:55"},
		{&ddl.PostgreSQL, "CREATE PROCEDURE bad(a int DEFAULT ) LANGUAGE sql AS '';", "the default of a should stand", "2:36"},
		{&ddl.Oracle, "CREATE PROCEDURE bad(a NUMBER b NUMBER) IS BEGIN NULL; END;\n/", `"b" stands where a comma or the )`, "3:31"},
		{&ddl.Oracle, "CREATE FUNCTION bad(a NUMBER) IS BEGIN RETURN 1; END;\n/", `"IS" stands where RETURN and the type of the result should stand`, "3:31"},
		{&ddl.Oracle, "CREATE PROCEDURE (a NUMBER) IS BEGIN NULL; END;\n/", `the header of this routine cannot be read: "(" stands where the routine's name should stand`, "3:18"},
		{&ddl.HANA, "CREATE PROCEDURE bad (IN a) AS BEGIN END;", `")" stands where the type of a should stand`, "2:27"},
		{&ddl.HANA, "CREATE PROCEDURE bad (IN a INT);", "the text ends where the body should stand", "2:33"},
		{&ddl.Snowflake, "CREATE PROCEDURE bad(a NUMBER DEFAULT) RETURNS INT LANGUAGE SQL AS '';", "the default of a should stand", "2:38"},
		{&ddl.Db2, "CREATE PROCEDURE bad (IN a INTEGER,) BEGIN END;", `")" stands where a parameter's name should stand`, "2:36"},
		{&ddl.Db2, "CREATE FUNCTION bad (a INTEGER) RETURNS ;", "the text ends where the type of the result should stand", "2:42"},
		{&ddl.Firebird, "CREATE PROCEDURE bad (a INTEGER RETURNS (b INTEGER) AS BEGIN END^", `"RETURNS" stands where a comma or the )`, "3:33"},
		{&ddl.Firebird, "CREATE FUNCTION bad (a INTEGER) AS BEGIN END^", "RETURNS and the type of the result should stand", "3:33"},
		{&ddl.Firebird, "CREATE PROCEDURE bad RETURNS b INTEGER AS BEGIN END^", "( before the outputs should stand", "3:30"},
		{&ddl.Firebird, "DECLARE EXTERNAL FUNCTION bad INTEGER ENTRY_POINT 'x' MODULE_NAME 'y'^", "RETURNS", "3:70"},
		{&ddl.Teradata, "REPLACE MACRO bad (a INTEGER b INTEGER) AS (SEL 1;);", `"b" stands where a comma or the )`, "2:30"},
		{&ddl.Teradata, "CREATE FUNCTION bad (a INTEGER) LANGUAGE C EXTERNAL NAME 'x';", "RETURNS", "2:62"},
		{&ddl.SQLPSM, "CREATE PROCEDURE bad(IN a INT, OUT) BEGIN ATOMIC END;", `")" stands where a parameter's name should stand`, "2:35"},
		{&ddl.MariaDB, "CREATE PROCEDURE bad(IN a INT DEFAULT ) SELECT 1//", "the default of a should stand", "3:39"},
	} {
		sound := map[*ddl.Dialect][2]string{
			&ddl.PostgreSQL: {"CREATE FUNCTION one() RETURNS int LANGUAGE sql AS '';", "CREATE FUNCTION two() RETURNS int LANGUAGE sql AS '';"},
			&ddl.Oracle:     {"CREATE PROCEDURE one IS BEGIN NULL; END;\n/", "CREATE PROCEDURE two IS BEGIN NULL; END;\n/"},
			&ddl.HANA:       {"CREATE PROCEDURE one AS BEGIN END;", "CREATE PROCEDURE two AS BEGIN END;"},
			&ddl.Snowflake:  {"CREATE FUNCTION one() RETURNS INT AS '1';", "CREATE FUNCTION two() RETURNS INT AS '1';"},
			&ddl.Db2:        {"CREATE PROCEDURE one() BEGIN END;", "CREATE PROCEDURE two() BEGIN END;"},
			&ddl.Firebird:   {"SET TERM ^ ;\nCREATE PROCEDURE one AS BEGIN END^", "CREATE PROCEDURE two AS BEGIN END^"},
			&ddl.Teradata:   {"CREATE MACRO one AS (SEL 1;);", "CREATE MACRO two AS (SEL 1;);"},
			&ddl.SQLPSM:     {"CREATE PROCEDURE one() BEGIN ATOMIC END;", "CREATE PROCEDURE two() BEGIN ATOMIC END;"},
			&ddl.MariaDB:    {"DELIMITER //\nCREATE PROCEDURE one() SELECT 1//", "CREATE PROCEDURE two() SELECT 1//"},
		}[test.d]
		cat := read("a.sql", []byte(sound[0]+"\n"+test.fault+"\n"+sound[1]), test.d)
		what := fmt.Sprintf("%s: %s", test.d.Name, test.fault)
		assert.Equal(t, "one two", names(cat), what)
		if assert.Len(t, cat.Problems, 1, what) {
			p := cat.Problems[0]
			assert.Contains(t, p.Message, test.says, what)
			assert.Equal(t, test.at, fmt.Sprintf("%d:%d", p.Line, p.Column), what)
			assert.True(t, p.Routine, what)
		}
	}
}

// TestOpenTextsOfDialects: what is not closed is told of where it opens, and costs
// no routine before it; where the script can be taken up again, none behind it.
func TestOpenTextsOfDialects(t *testing.T) {
	for _, test := range []struct {
		d    *ddl.Dialect
		src  string
		want string
		line int
	}{
		{&ddl.PostgreSQL, "CREATE FUNCTION one() RETURNS int LANGUAGE sql AS '';\nCREATE FUNCTION two() RETURNS int LANGUAGE sql AS $x$ SELECT 1;", "one", 2},
		{&ddl.PostgreSQL, "CREATE FUNCTION one() RETURNS int LANGUAGE sql AS '';\n/* open", "one", 2},
		{&ddl.Oracle, "CREATE PROCEDURE one IS BEGIN NULL; END;\n/\nCREATE PROCEDURE two IS BEGIN p('open; END;\n/\nCREATE PROCEDURE three IS BEGIN NULL; END;\n/", "one three", 3},
		{&ddl.Oracle, "CREATE PROCEDURE one IS BEGIN NULL; END;\n/\nCREATE PROCEDURE two IS BEGIN p(q'[open; END;\n/\nCREATE PROCEDURE three IS BEGIN NULL; END;\n/", "one three", 3},
		{&ddl.MariaDB, "DELIMITER //\nCREATE PROCEDURE one() SELECT 1//\nCREATE PROCEDURE two() SELECT 'open//\nDELIMITER //\nCREATE PROCEDURE three() SELECT 1//", "one three", 3},
		{&ddl.Snowflake, "CREATE FUNCTION one() RETURNS INT AS '1';\nCREATE FUNCTION two() RETURNS INT AS $$ 1;", "one", 2},
		{&ddl.Firebird, "SET TERM ^ ;\nCREATE PROCEDURE one AS BEGIN END^\nCREATE PROCEDURE two AS BEGIN x = 'open; END^", "one", 3},
	} {
		cat := read("a.sql", []byte(test.src), test.d)
		assert.Equal(t, test.want, names(cat), test.src)
		if assert.NotEmpty(t, cat.Problems, test.src) {
			assert.Contains(t, cat.Problems[0].Message, "not closed", test.src)
			assert.Equal(t, test.line, cat.Problems[0].Line, test.src)
		}
	}
}

// TestScriptClients: what stands between statements for the client of a script,
// and what sets where statements end.
func TestScriptClients(t *testing.T) {
	for _, test := range []struct {
		d    *ddl.Dialect
		src  string
		want string
	}{
		{&ddl.Oracle, "SET DEFINE OFF\nPROMPT it's\nREM don't; CREATE PROCEDURE no IS\nCOLUMN a FORMAT a10 -\n  HEADING 'x\nCREATE PROCEDURE yes IS BEGIN NULL; END;\n/\nEXIT", "yes"},
		{&ddl.Oracle, "SET TRANSACTION READ ONLY;\nWHENEVER SQLERROR EXIT\n@@other.sql it's\nstart x.sql\n!ls 'x\nCREATE PROCEDURE yes IS BEGIN NULL; END;\n/", "yes"},
		{&ddl.Oracle, "CREATE TABLE t (a NUMBER);\nCREATE PROCEDURE a IS\nBEGIN\n  EXIT;\n  SET_IT;\nEND;\n/\nINSERT INTO t VALUES ('CREATE PROCEDURE no IS BEGIN END;');\nCREATE PROCEDURE b IS BEGIN NULL; END;\n/", "a b"},
		{&ddl.PostgreSQL, "\\set x 'it''s'\n\\if true\nCREATE FUNCTION a() RETURNS int LANGUAGE sql AS ''\\g\n\\endif\nSELECT 1 \\gset\nCREATE FUNCTION b() RETURNS int LANGUAGE sql AS '';", "a b"},
		{&ddl.PostgreSQL, "COPY t FROM stdin;\nCREATE FUNCTION no() it's\n\\.\nCOPY t TO stdout;\nCREATE FUNCTION a() RETURNS int LANGUAGE sql AS '';", "a"},
		{&ddl.Firebird, "SET TERM ^;\nCREATE PROCEDURE a AS BEGIN END^\nset term ; ^ CREATE PROCEDURE b AS BEGIN END;\nSET TERM !! ;\nCREATE PROCEDURE c AS BEGIN x = '^'; END!!\nSET TERM ;!!\nCREATE TABLE t (a INT);", "a b c"},
		{&ddl.Db2, "CREATE PROCEDURE a() BEGIN SET x = '@'; END@\nCREATE PROCEDURE b()\nBEGIN\n  SET x = 1;\nEND\n@\nCREATE TABLE t (a INTEGER)@", "a b"},
		{&ddl.Db2, "--#SET TERMINATOR !\nCREATE PROCEDURE a() BEGIN SET x = 1; END!\n--#set terminator ;\nCREATE PROCEDURE b() SET x = 1;", "a b"},
		{&ddl.Db2, "CREATE PROCEDURE a() BEGIN SET x = 1; END;\nCREATE PROCEDURE b() BEGIN SET x = 2; END;", "a b"},
		{&ddl.Teradata, ".IF ERRORCODE <> 0 THEN .QUIT 1;\n.LABEL it's\nREPLACE PROCEDURE a () BEGIN SET x = 1; END;\n.COMPILE FILE x\nREPLACE MACRO b AS (SEL 'a;b';);", "a b"},
		{&ddl.Snowflake, "!set x=it's\n{% if it's %}\nPUT file:///tmp/x @s;\nCREATE FUNCTION a() RETURNS INT AS '1';\n{% endif %}\nBEGIN;\nCOMMIT;\nBEGIN TRANSACTION; COMMIT;\nCREATE FUNCTION b() RETURNS INT AS '1';", "a b"},
		{&ddl.Snowflake, "BEGIN\n  CREATE FUNCTION no() RETURNS INT AS '1';\nEND;\nDECLARE x INT;\nBEGIN\n  x := 1;\nEND;\nCREATE FUNCTION a() RETURNS INT AS '1';", "a"},
		{&ddl.SQLPSM, "\\p it's\n* x\n.;\nCREATE FUNCTION a() RETURNS INT RETURN 1;", "a"},
		{&ddl.HANA, "DO BEGIN\n  DECLARE x INT;\n  IF :x > 1 THEN x = 2; END IF;\nEND;\nCREATE PROCEDURE a AS BEGIN END;", "a"},
	} {
		cat := read("a.sql", []byte(test.src), test.d)
		assert.Equal(t, test.want, names(cat), "%s: %s", test.d.Name, test.src)
		assert.Empty(t, cat.Problems, test.src)
	}
}

// TestPlacesInDialects: where a routine begins and ends, and where its
// parameters and its rows are.
func TestPlacesInDialects(t *testing.T) {
	for _, test := range []struct {
		d   *ddl.Dialect
		src string
		at  signature.Extent
	}{
		{&ddl.PostgreSQL, "-- x\n  CREATE FUNCTION f(a int)\nRETURNS int LANGUAGE sql\nAS $$\n SELECT 1\n$$\n;", signature.Extent{Line: 2, Column: 3, EndLine: 7}},
		{&ddl.Oracle, "PROMPT x\nCREATE OR REPLACE\n PROCEDURE p IS\nBEGIN\n  NULL;\nEND p;\n/\n", signature.Extent{Line: 2, Column: 1, EndLine: 6}},
		{&ddl.Oracle, "CREATE PACKAGE k AS\n  PROCEDURE p(\n    a NUMBER);\nEND;\n/", signature.Extent{Line: 2, Column: 3, EndLine: 3}},
		{&ddl.Firebird, "SET TERM ^ ;\nCREATE PROCEDURE p\nAS\nBEGIN\nEND^", signature.Extent{Line: 2, Column: 1, EndLine: 5}},
		{&ddl.Db2, "CREATE PROCEDURE p()\nBEGIN\nEND;\n", signature.Extent{Line: 1, Column: 1, EndLine: 3}},
		{&ddl.Snowflake, "\nCREATE PROCEDURE p() RETURNS INT LANGUAGE SQL AS '\nBEGIN RETURN ''x''; END\n';", signature.Extent{Line: 2, Column: 1, EndLine: 4}},
	} {
		cat := read("a.sql", []byte(test.src), test.d)
		require.Len(t, cat.Routines, 1, test.src)
		test.at.File = "a.sql"
		assert.Equal(t, test.at, cat.Routines[0].At, "%s: %s", test.d.Name, test.src)
	}
	cat := read("a.sql", []byte("CREATE PROCEDURE p(a int,\n  INOUT c refcursor) LANGUAGE plpgsql AS '\nBEGIN\n  OPEN c FOR SELECT ''x'' AS x;\nEND';"), &ddl.PostgreSQL)
	require.Len(t, cat.Routines, 1)
	assert.Equal(t, signature.Place{File: "a.sql", Line: 2, Column: 3}, cat.Routines[0].Parameters[1].At)
	require.Len(t, cat.Routines[0].Results, 1)
	assert.Equal(t, 4, cat.Routines[0].Results[0].Line, "a body in a string has its own lines")
}
