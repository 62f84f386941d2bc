package ddl_test

import (
	"strconv"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"ramekin/internal/ddl"
	"ramekin/internal/signature"
)

// assembled describes what texts, as files one after the other, declare.
func assembled(t *testing.T, d *ddl.Dialect, withKinds bool, texts ...string) ([]string, []signature.Problem) {
	t.Helper()
	var files []*ddl.File
	for i, text := range texts {
		files = append(files, ddl.Read(string(rune('a'+i))+".sql", []byte(text), d, ddl.Options{}))
	}
	cat := ddl.Assemble(files)
	list := []string{}
	for i := range cat.Routines {
		list = append(list, describe(&cat.Routines[i], withKinds))
	}
	return list, cat.Problems
}

func TestOverTime(t *testing.T) {
	for _, test := range []struct {
		name  string
		d     *ddl.Dialect
		texts []string
		want  []string
	}{
		{"a folded name replaces, a quoted one does not", &ddl.PostgreSQL,
			[]string{`CREATE FUNCTION F(a int) RETURNS int LANGUAGE sql AS ''; CREATE FUNCTION "F"(a int) RETURNS int LANGUAGE sql AS '';`, `CREATE FUNCTION public.f(b integer) RETURNS text LANGUAGE sql AS '';`},
			[]string{`function "F"(a in int) returns int`, "function public.f(b in integer) returns text"}},
		{"outputs do not tell functions apart", &ddl.PostgreSQL,
			[]string{"CREATE FUNCTION f(a int) RETURNS int LANGUAGE sql AS '';", "CREATE OR REPLACE FUNCTION f(a int, OUT b int) RETURNS int LANGUAGE sql AS '';"},
			[]string{"function f(a in int, b out int) returns int"}},
		{"DROP of one overload, by types written otherwise", &ddl.PostgreSQL,
			[]string{"CREATE FUNCTION f(a timestamptz, b varchar(5)[]) RETURNS int LANGUAGE sql AS ''; CREATE FUNCTION f() RETURNS int LANGUAGE sql AS '';",
				"DROP FUNCTION f(timestamp with time zone, character varying[]);"},
			[]string{"function f() returns int"}},
		{"DROP without types takes the one there is; of another schema, none", &ddl.PostgreSQL,
			[]string{"CREATE PROCEDURE s.p(a int) LANGUAGE sql AS '';", "DROP PROCEDURE p; DROP FUNCTION s.p;"},
			[]string{"procedure s.p(a in int)"}},
		{"a specification read after its body, with and without its schema", &ddl.Oracle,
			[]string{"CREATE PACKAGE BODY k AS PROCEDURE p(c OUT SYS_REFCURSOR) IS BEGIN OPEN c FOR SELECT 1 AS one FROM dual; END; PROCEDURE hidden IS BEGIN NULL; END; END;\n/",
				"CREATE PACKAGE harbour.k AS PROCEDURE p(c OUT SYS_REFCURSOR); END;\n/"},
			[]string{"procedure harbour.k.p(c out SYS_REFCURSOR) rows [one]"}},
		{"a package declared anew loses its old members", &ddl.Oracle,
			[]string{"CREATE PACKAGE k AS PROCEDURE p; PROCEDURE q; END;\n/", "CREATE OR REPLACE PACKAGE K AS PROCEDURE q(a NUMBER); END;\n/"},
			[]string{"procedure K.q(a in NUMBER)"}},
		{"DROP PACKAGE takes body and members; DROP PACKAGE BODY the body alone", &ddl.Oracle,
			[]string{"CREATE PACKAGE k AS PROCEDURE p; END;\n/\nCREATE PACKAGE BODY j AS PROCEDURE x IS BEGIN NULL; END; END;\n/", "DROP PACKAGE k;\nDROP PACKAGE BODY j;"},
			[]string{}},
		{"a package dropped and made again", &ddl.Oracle,
			[]string{"CREATE PACKAGE s.k AS PROCEDURE p; END;\n/\nDROP PACKAGE s.k;\nCREATE PACKAGE s.k AS PROCEDURE q; END;\n/\nCREATE PACKAGE BODY k AS PROCEDURE q IS BEGIN NULL; END; PROCEDURE r IS BEGIN NULL; END; END;\n/"},
			[]string{"procedure s.k.q()"}},
		{"a standalone procedure is not overloaded", &ddl.Oracle,
			[]string{"CREATE PROCEDURE p(a NUMBER) IS BEGIN NULL; END;\n/", "CREATE OR REPLACE PROCEDURE p(a NUMBER, b NUMBER) IS BEGIN NULL; END;\n/"},
			[]string{"procedure p(a in NUMBER, b in NUMBER)"}},
		{"procedures of Db2 differ in their number of parameters", &ddl.Db2,
			[]string{"CREATE PROCEDURE p(IN a INTEGER) BEGIN END;\nCREATE PROCEDURE p(IN a CHAR(3)) BEGIN END;\nCREATE PROCEDURE p(IN a INTEGER, IN b INTEGER) BEGIN END;"},
			[]string{"procedure p(a in CHAR(3)) status []", "procedure p(a in INTEGER, b in INTEGER) status []"}},
		{"what is added to a module and not published is not callable", &ddl.Db2,
			[]string{"ALTER MODULE m ADD PROCEDURE p(IN a INTEGER) BEGIN RETURN 1; END;"},
			[]string{}},
		{"a module's member dropped again", &ddl.Db2,
			[]string{"CREATE MODULE m;\nALTER MODULE m PUBLISH PROCEDURE p(IN a INTEGER);\nALTER MODULE m PUBLISH PROCEDURE q();\nALTER MODULE m DROP PROCEDURE p;"},
			[]string{"procedure m.q() status []"}},
		{"overloads of Snowflake", &ddl.Snowflake,
			[]string{"CREATE FUNCTION f(a NUMBER) RETURNS INT AS '1'; CREATE FUNCTION f(a VARCHAR) RETURNS INT AS '1'; CREATE OR REPLACE FUNCTION F(b INT) RETURNS INT AS '2';"},
			[]string{"function f(a in VARCHAR) returns INT", "function F(b in INT) returns INT"}},
		{"RECREATE and ALTER of Firebird", &ddl.Firebird,
			[]string{"SET TERM ^ ;\nCREATE PROCEDURE p AS BEGIN END^\nALTER PROCEDURE P (a INT) AS BEGIN END^\nCREATE PROCEDURE \"p\" AS BEGIN END^\nSET TERM ; ^\n"},
			[]string{"procedure P(a in INT)", "procedure p()"}},
		{"a library dropped", &ddl.HANA,
			[]string{"CREATE LIBRARY l LANGUAGE SQLSCRIPT AS BEGIN PUBLIC PROCEDURE p() AS BEGIN END; END;", "DROP LIBRARY l;"}, []string{}},
		{"an aggregate takes the place of a function", &ddl.MariaDB,
			[]string{"CREATE FUNCTION f(a INT) RETURNS INT RETURN 1;", "CREATE OR REPLACE AGGREGATE FUNCTION f(a INT) RETURNS INT RETURN 1;"}, []string{}},
		{"a mode is for what follows", &ddl.MariaDB,
			[]string{"SET @@sql_mode='ORACLE';\nDELIMITER /\nCREATE PROCEDURE p(a OUT INT) AS BEGIN a := 1; END;\n/\nSET sql_mode=''/\nCREATE PROCEDURE q(OUT a INT) SET a = 1/\n"},
			[]string{"procedure p(a out INT)", "procedure q(a out INT)"}},
	} {
		got, problems := assembled(t, test.d, false, test.texts...)
		assert.Equal(t, test.want, got, test.name)
		assert.Empty(t, problems, test.name)
	}
}

// TestManyChanges: the time is proportional to the number of changes, whatever
// they are. One that grew with its square would take minutes here.
func TestManyChanges(t *testing.T) {
	const n = 20000
	repeat := func(head, each, tail string) string {
		var b strings.Builder
		b.WriteString(head)
		for i := range n {
			b.WriteString(strings.ReplaceAll(each, "#", strconv.Itoa(i)))
		}
		return b.String() + tail
	}
	for _, test := range []struct {
		d    *ddl.Dialect
		text string
		want int
	}{
		{&ddl.SQLServer, repeat("", "CREATE PROC p# AS RETURN 1\nGO\nDROP PROC p#\nGO\n", ""), 0},
		{&ddl.PostgreSQL, repeat("", "CREATE FUNCTION f(a t#) RETURNS int LANGUAGE sql AS '';", ""), n},
		{&ddl.PostgreSQL, repeat("", "CREATE OR REPLACE FUNCTION f(a int) RETURNS int LANGUAGE sql AS '';", ""), 1},
		{&ddl.Oracle, repeat("", "CREATE PACKAGE k# AS PROCEDURE p; END;\n/\n", ""), n},
		{&ddl.Oracle, repeat("", "CREATE PACKAGE BODY k# AS PROCEDURE p IS BEGIN NULL; END; END;\n/\n", ""), n},
		{&ddl.Oracle, repeat("CREATE PACKAGE k AS ", "PROCEDURE p(a t#);", " END;\n/\nCREATE PACKAGE BODY k AS ") + repeat("", "PROCEDURE p(a t#) IS BEGIN NULL; END;", " END;\n/"), n},
	} {
		got, _ := assembled(t, test.d, false, test.text)
		assert.Len(t, got, test.want)
	}
}

func TestKeysAreAsTheServerStoresThem(t *testing.T) {
	for _, test := range []struct {
		d         *ddl.Dialect
		text, key string
	}{
		{&ddl.PostgreSQL, `CREATE FUNCTION Desk."Kept"() RETURNS int LANGUAGE sql AS ''`, "desk.Kept"},
		{&ddl.Oracle, `CREATE PROCEDURE "desk".settle IS BEGIN NULL; END;`, "desk.SETTLE"},
		{&ddl.Oracle, `CREATE PACKAGE Harbour."Dues" AS PROCEDURE charge; END;`, "HARBOUR.Dues.CHARGE"},
		{&ddl.HANA, `CREATE PROCEDURE "S"."a::b" AS BEGIN END;`, "S.a::b"},
		{&ddl.Snowflake, `CREATE FUNCTION db.desk.f() RETURNS INT AS '1'`, "DESK.F"},
		{&ddl.Db2, "CREATE PROCEDURE pay.p() BEGIN END", "PAY.P"},
		{&ddl.Firebird, "CREATE PROCEDURE take AS BEGIN END", "TAKE"},
		{&ddl.SQLPSM, `CREATE PROCEDURE boat."x y"() BEGIN ATOMIC END`, "BOAT.x y"},
		{&ddl.MariaDB, "CREATE PROCEDURE Desk.P() SELECT 1", "Desk.P"},
	} {
		cat := ddl.Assemble([]*ddl.File{ddl.Read("a.sql", []byte(test.text), test.d, ddl.Options{})})
		require.Len(t, cat.Routines, 1, test.text)
		assert.Equal(t, test.key, cat.Routines[0].Key, test.text)
	}
}

// TestTypesInAnyOrder: named and anchored types are found wherever the source
// declares them, in the package of the routine first.
func TestTypesInAnyOrder(t *testing.T) {
	got, _ := assembled(t, &ddl.Oracle, true,
		"CREATE PACKAGE k AS SUBTYPE money_t IS NUMBER(9,2); PROCEDURE p(a money_t, b j.money_t, c stores.price%TYPE, d stores%ROWTYPE, e k.limit_of%TYPE, f list_t, g nowhere.x%TYPE); limit_of money_t; END;\n/",
		"CREATE PACKAGE j AS SUBTYPE money_t IS VARCHAR2(9); END;\n/\nCREATE TABLE stores (id NUMBER, price NUMBER(7,3));\nCREATE TYPE list_t AS VARRAY(5) OF k.money_t;\n/")
	assert.Equal(t, []string{"procedure k.p(a in money_t:decimal, b in j.money_t:string(9), c in stores.price%TYPE:decimal, d in stores%ROWTYPE:record, " +
		"e in k.limit_of%TYPE:decimal, f in list_t:array(5), g in nowhere.x%TYPE:anchored)"}, got)

	got, _ = assembled(t, &ddl.PostgreSQL, true,
		"CREATE FUNCTION f(a code, b code[], c desk.code, d _tide, e other.code) RETURNS tide LANGUAGE sql AS '';",
		"CREATE DOMAIN code AS base_code; CREATE DOMAIN base_code AS varchar(7); CREATE TYPE tide AS (opens date); CREATE DOMAIN loop_a AS loop_b; CREATE DOMAIN loop_b AS loop_a;",
		"CREATE FUNCTION g(a loop_a) RETURNS int LANGUAGE sql AS '';")
	assert.Equal(t, []string{
		"function f(a in code:string(7), b in code[]:array, c in desk.code:string(7), d in _tide:array, e in other.code:string(7)) returns tide:record",
		"function g(a in loop_a:user) returns int:int32"}, got)

	cat := ddl.Assemble([]*ddl.File{ddl.Read("a.sql", []byte("CREATE TYPE tide AS (opens code, deep numeric(5,2)[]);\nCREATE DOMAIN code AS int;\nCREATE FUNCTION f() RETURNS SETOF tide LANGUAGE sql AS '';"), &ddl.PostgreSQL, ddl.Options{})})
	require.Len(t, cat.Routines, 1)
	cols := cat.Routines[0].Returns.Columns
	require.Len(t, cols, 2, "rows of a composite type have its columns")
	assert.Equal(t, signature.KindInt32, cols[0].Type.Kind)
	assert.Equal(t, signature.KindDecimal, cols[1].Type.Element.Kind)
}

func TestWrappedPackages(t *testing.T) {
	open := "CREATE PACKAGE k AS PROCEDURE p; END;\n/\n"
	body := "CREATE PACKAGE BODY k wrapped\na000000\nit's\n/\n"
	got, problems := assembled(t, &ddl.Oracle, false, body, open)
	assert.Equal(t, []string{"procedure k.p()"}, got)
	assert.Empty(t, problems, "a wrapped body behind an open specification hides nothing")
	_, problems = assembled(t, &ddl.Oracle, false, body)
	if assert.Len(t, problems, 1) {
		assert.Equal(t, 1, problems[0].Line)
		assert.True(t, problems[0].Routine)
	}
}

func TestConditionalCompilation(t *testing.T) {
	for condition, want := range map[string]string{
		"$$x":                                   "else",
		"$$x IS NULL":                           "then",
		"$$x IS NOT NULL":                       "else",
		"NOT $$x":                               "else", // null is not true
		"TRUE":                                  "then",
		"FALSE OR DBMS_DB_VERSION.VERSION > 11": "then",
		"DBMS_DB_VERSION.VER_LE_12":             "else",
		"(1 = 1) AND 2 <> 3":                    "then",
		"$$x = 1 OR 1 >= 1":                     "then",
		"$$x AND FALSE":                         "else",
		"harbour.flags.c_on":                    "else",
	} {
		text := "CREATE PACKAGE k AS $IF " + condition + " $THEN PROCEDURE then_one; $ELSE PROCEDURE else_one; $IF FALSE $THEN PROCEDURE never; $END $END END;\n/\n"
		got, problems := assembled(t, &ddl.Oracle, false, text)
		assert.Equal(t, []string{"procedure k." + want + "_one()"}, got, condition)
		assert.Empty(t, problems)
	}
}

// TestScopesOfDialects: with detail the bodies come with what they do.
func TestScopesOfDialects(t *testing.T) {
	for _, test := range []struct {
		d    *ddl.Dialect
		text string
	}{
		{&ddl.PostgreSQL, "CREATE PROCEDURE p(a int) LANGUAGE plpgsql AS $$ BEGIN CALL q(a); END $$;"},
		{&ddl.Oracle, "CREATE PROCEDURE p(a NUMBER) IS BEGIN q(a); END;\n/"},
		{&ddl.HANA, "CREATE PROCEDURE p(IN a INT) AS BEGIN CALL q(:a); END;"},
		{&ddl.Snowflake, "CREATE PROCEDURE p(a INT) RETURNS INT LANGUAGE SQL AS $$ BEGIN CALL q(:a); END $$;"},
		{&ddl.Snowflake, "CREATE PROCEDURE p(a INT) RETURNS INT LANGUAGE SQL AS BEGIN CALL q(:a); END;"},
		{&ddl.Db2, "CREATE PROCEDURE p(IN a INT) BEGIN CALL q(a); END"},
		{&ddl.Firebird, "SET TERM ^ ;\nCREATE PROCEDURE p(a INT) AS BEGIN EXECUTE PROCEDURE q(a); END^"},
		{&ddl.Teradata, "REPLACE MACRO p (a INT) AS (EXEC q(:a););"},
		{&ddl.SQLPSM, "CREATE PROCEDURE p(IN a INT) BEGIN ATOMIC CALL q(a); END"},
		{&ddl.MariaDB, "SET sql_mode=ORACLE;\nDELIMITER /\nCREATE PROCEDURE p(a INT) AS BEGIN q(a); END;\n/"},
	} {
		f := ddl.Read("a.sql", []byte(test.text), test.d, ddl.Options{Detail: true})
		var calls []string
		for _, s := range f.Scopes {
			if s.Routine == nil {
				continue
			}
			assert.Equal(t, "p", s.Routine.Name)
			for _, c := range s.Body.Calls {
				calls = append(calls, c.Name[0])
				assert.Len(t, c.Arguments, 1, test.text)
			}
		}
		assert.Equal(t, []string{"q"}, calls, test.text)
	}
	f := ddl.Read("a.sql", []byte("CREATE PROCEDURE p(PASS_ID FLOAT) RETURNS FLOAT LANGUAGE JAVASCRIPT AS $$ return pass_id + PASS_ID; $$;"), &ddl.Snowflake, ddl.Options{Detail: true})
	require.Len(t, f.Scopes, 1)
	require.Len(t, f.Scopes[0].Body.Mentions, 2)
	assert.Equal(t, "pass_id", f.Scopes[0].Body.Mentions[0].As)
}
