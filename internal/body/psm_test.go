package body_test

import (
	"fmt"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"

	"ramekin/internal/body"
	"ramekin/internal/sqltext"
	"ramekin/internal/sqltype"
)

// dialect is what a test needs to walk over a body.
type dialect struct {
	lex     *sqltext.Lexis
	profile *body.Profile
	typ     sqltype.Reader
}

var (
	oracle    = dialect{&sqltext.Oracle, &body.OracleProfile, sqltype.Oracle}
	plpgsql   = dialect{&sqltext.PostgreSQL, &body.PLpgSQLProfile, sqltype.PostgreSQL}
	hana      = dialect{&sqltext.HANA, &body.HANAProfile, sqltype.HANA}
	snowflake = dialect{&sqltext.Snowflake, &body.SnowflakeProfile, sqltype.Snowflake}
	db2       = dialect{&sqltext.Db2, &body.Db2Profile, sqltype.Db2}
	firebird  = dialect{&sqltext.Firebird, &body.FirebirdProfile, sqltype.Firebird}
	teradata  = dialect{&sqltext.Teradata, &body.TeradataProfile, sqltype.Teradata}
	macro     = dialect{&sqltext.Teradata, &body.MacroProfile, sqltype.Teradata}
	mySQL     = dialect{&sqltext.MySQL, &body.MySQLProfile, sqltype.MySQL}
	mariaDB   = dialect{&sqltext.MariaDB, &body.MariaDBOracleProfile, sqltype.MariaDB}
)

func (d dialect) walk(src string, outputs ...string) *body.Body {
	return body.PSM(cursor(src, d.lex), d.profile, body.Options{Outputs: outputs, Detail: true, Type: d.typ})
}

// exits lists the outputs that each way out leaves without a value: "-" for none.
func exits(b *body.Body) string {
	var list []string
	for _, e := range b.Exits {
		if len(e.Missing) == 0 {
			list = append(list, "-")
			continue
		}
		list = append(list, strings.Join(e.Missing, "+"))
	}
	return strings.Join(list, " ")
}

// TestPaths: on which ways out of a body its outputs a and b have no value.
func TestPaths(t *testing.T) {
	for _, test := range []struct {
		d    dialect
		src  string
		want string
	}{
		{mySQL, "BEGIN SET a = 1; SET b = 2; END", "-"},
		{mySQL, "BEGIN SET a = 1; END", "b"},
		{mySQL, "BEGIN IF x THEN SET a = 1; END IF; SET b = 1; END", "a"},
		{mySQL, "BEGIN IF x THEN SET a = 1; ELSE SET a = 2; END IF; SET b = 1; END", "-"},
		{mySQL, "BEGIN IF x THEN SET a = 1; ELSEIF y THEN SET b = 1; ELSE SET a = 2; END IF; END", "a+b"},
		{mySQL, "BEGIN CASE x WHEN 1 THEN SET a = 1; WHEN 2 THEN SET a = 2; END CASE; SET b = 1; END", "-"},
		{mySQL, "BEGIN CASE x WHEN 1 THEN SET a = 1; ELSE BEGIN END; END CASE; SET b = 1; END", "a"},
		{mySQL, "BEGIN CASE x WHEN 1 THEN SET b = 3; WHEN 2 THEN SET a = 2; END CASE; END", "a+b"},
		{mySQL, "BEGIN WHILE x DO SET a = 1; END WHILE; SET b = 1; END", "a"},
		{mySQL, "BEGIN REPEAT SET a = 1; UNTIL x END REPEAT; SET b = 1; END", "-"},
		{mySQL, "BEGIN l: LOOP IF x THEN LEAVE l; END IF; SET a = 1; END LOOP; SET b = 1; END", "a"},
		{mySQL, "BEGIN l: LOOP SET a = 1; IF x THEN LEAVE l; END IF; END LOOP; SET b = 1; END", "-"},
		{mySQL, "p: BEGIN IF x THEN LEAVE p; END IF; SET a = 1, b = 2; END", "a+b"},
		{mySQL, "BEGIN DECLARE EXIT HANDLER FOR SQLEXCEPTION SET a = 0; SET a = 1; SET b = 2; END", "b"},
		{mySQL, "BEGIN DECLARE CONTINUE HANDLER FOR NOT FOUND SET b = 0; SET a = 1; END", "b"},
		{mySQL, "BEGIN DECLARE EXIT HANDLER FOR 1062 BEGIN SET a = 0; SET b = 0; END; SET a = 1; SET b = 2; END", "-"},
		{mySQL, "BEGIN IF x THEN SIGNAL SQLSTATE '45000'; END IF; SELECT 1, 2 INTO a, b; END", "-"},
		{mySQL, "BEGIN IF x THEN SIGNAL SQLSTATE '01000'; ELSE SET a = 1, b = 1; END IF; END", "a+b"},
		{mySQL, "BEGIN CALL q(a, b); END", "-"},
		{db2, "BEGIN IF x = 1 THEN RETURN 4; END IF; SET (a, b) = (1, 2); RETURN 0; END", "a+b -"},
		{db2, "BEGIN FOR v AS SELECT i FROM t DO SET a = v.i; END FOR; VALUES 1 INTO b; END", "a"},
		{db2, "BEGIN GOTO l; SET a = 1; l: SET b = 1; END", ""},
		{oracle, "DECLARE x NUMBER; BEGIN a := 1; b := 2; EXCEPTION WHEN OTHERS THEN a := 0; END", "b"},
		{oracle, "BEGIN a := 1; b := 2; EXCEPTION WHEN OTHERS THEN RAISE; END", "-"},
		{oracle, "BEGIN IF x THEN RETURN; END IF; a := 1; b := 2; END", "a+b -"},
		{oracle, "BEGIN IF x THEN a := 1; ELSIF y THEN a := 2; ELSE raise_application_error(-20001, 'x'); END IF; b := 1; END", "-"},
		{oracle, "BEGIN FOR r IN c LOOP EXIT WHEN r.x > 1; a := 1; END LOOP; OPEN b FOR SELECT 1 FROM dual; END", "a"},
		{oracle, "BEGIN LOOP a := 1; EXIT WHEN a > 1; END LOOP; EXECUTE IMMEDIATE 'x' INTO b; END", "-"},
		{oracle, "BEGIN EXECUTE IMMEDIATE 'BEGIN p(:1, :2); END;' USING OUT a, IN 1, OUT b; END", "-"},
		{oracle, "BEGIN SELECT 1, 2 BULK COLLECT INTO a, b FROM t; END", "-"},
		{oracle, "BEGIN UPDATE t SET x = 1 RETURNING x INTO a; a.f(1).g := 2; b(3) := 1; END", "-"},
		{oracle, "<<outer>> LOOP LOOP EXIT outer; END LOOP; a := 1; END LOOP; b := 1;", "a"},
		{plpgsql, "BEGIN a := 1; IF NOT FOUND THEN RAISE NOTICE 'x'; ELSE b = 1; END IF; END", "b"},
		{plpgsql, "BEGIN IF x THEN RAISE EXCEPTION 'x'; END IF; SELECT i INTO STRICT a FROM t; b := a; END", "-"},
		{plpgsql, "BEGIN RETURN NEXT; RETURN QUERY SELECT 1; a := 1; b := 1; END", "-"},
		{plpgsql, "BEGIN FOREACH x IN ARRAY y LOOP a := x; END LOOP; EXECUTE 'x' INTO b USING 1; END", "a"},
		{hana, "BEGIN a = SELECT 1 AS x FROM dummy; IF :x > 1 THEN b := 1; ELSEIF :x = 1 THEN b := 2; ELSE b := 3; END IF; END", "-"},
		{snowflake, "DECLARE n INT; BEGIN LET x := 1; IF (x > 1) THEN a := 1; RETURN 'x'; END IF; b := 1; RETURN 'y'; EXCEPTION WHEN OTHER THEN RETURN 'z'; END", "b a a+b"},
		{firebird, "BEGIN IF (x > 1) THEN a = 1; ELSE a = 2; b = 1; END", "-"},
		{firebird, "BEGIN IF (x > 1) THEN a = 1; b = 1; END", "a"},
		{firebird, "BEGIN IF (x > 1) THEN IF (y > 1) THEN a = 1; ELSE a = 2; ELSE BEGIN a = 3; END b = 1; END", "-"},
		{firebird, "BEGIN IF (x > 1) THEN EXCEPTION e 'no'; IF (y) THEN EXIT; a = 1; b = 2; END", "a+b -"},
		{firebird, "BEGIN WHILE (x > 1) DO BEGIN a = 1; LEAVE; END FOR SELECT i FROM t INTO :b DO SUSPEND; END", "a+b"},
		{firebird, "BEGIN EXECUTE PROCEDURE p(1) RETURNING_VALUES :a, :b; END", "-"},
		{teradata, "BEGIN SET a = 1; FETCH c INTO b; END", "-"},
		{mariaDB, "x INT := 1; BEGIN a := 1; b := 2; END", "-"},
	} {
		assert.Equal(t, test.want, exits(test.d.walk(test.src, "a", "b")), test.src)
	}
}

// TestPathsInTSQL: as TestPaths, where a branch governs one statement and
// nothing needs to end it.
func TestPathsInTSQL(t *testing.T) {
	for src, want := range map[string]string{
		"SET @a = 1 SET @b = 2":                                                                   "-",
		"SET @a = 1; RETURN 0":                                                                    "@b",
		"IF @x = 1 SET @a = 1 SET @b = 2":                                                         "@a",
		"IF @x = 1 SET @a = 1 ELSE SET @a = 2 SET @b = 2":                                         "-",
		"IF @x = 1 SET @a = 1; ELSE SET @a = 2; SET @b = 2":                                       "-",
		"IF @x = 1 BEGIN SET @a = 1; SET @b = 1 END ELSE SET @a = 2":                              "@b",
		"IF @x = 1 BEGIN RETURN 4 END SELECT @a = 1, @b = 2 RETURN 0":                             "@a+@b -",
		"IF @x = 1 IF @y = 1 SET @a = 1 ELSE SET @a = 2 ELSE SET @a = 3 SET @b = 1":               "-",
		"IF @x = 1 IF @y = 1 SET @a = 1 ELSE SET @a = 2 SET @b = 1":                               "@a",
		"WHILE @x < 3 BEGIN SET @a = 1 IF @a > 1 BREAK SET @b = 1 END":                            "@a+@b",
		"IF @x IS NULL BEGIN RAISERROR('x', 16, 1) RETURN 9 END EXEC p @a OUTPUT, @b = @b OUTPUT": "@a+@b -",
		"IF @x IS NULL THROW 50000, 'x', 1; SET @a = 1; SET @b = 1":                               "-",
		"BEGIN TRY SET @a = 1 SET @b = 1 END TRY BEGIN CATCH SET @a = 0 END CATCH":                "@b",
		"BEGIN TRY SET @a = 1 SET @b = 1 END TRY BEGIN CATCH THROW END CATCH":                     "-",
		"BEGIN TRY SET @a = 1; END TRY BEGIN CATCH RETURN -1; END CATCH; SET @b = 2; RETURN 0":    "@a+@b -",
		"BEGIN TRANSACTION; UPDATE t SET @a = c = 1; COMMIT; FETCH NEXT FROM k INTO @b":           "-",
		"IF @x = 1 GOTO done SET @a = 1 done: SET @b = 1":                                         "",
		"IF EXISTS (SELECT 1 FROM t) INSERT t SELECT 1 FROM u UNION SELECT 2 ELSE SET @a = 1":     "@a+@b",
		"IF @x = CASE WHEN 1 = 1 THEN 1 END SELECT @a = 1 ELSE SELECT @a = 2; SET @b = 1":         "-",
	} {
		assert.Equal(t, want, exits(tsql(src, "@a", "@b")), src)
	}
}

// TestCallsOfEveryDialect: what calls, runs texts, and sends rows.
func TestCallsOfEveryDialect(t *testing.T) {
	for _, test := range []struct {
		d             dialect
		src           string
		calls         string
		dynamic       int
		rows, locals_ string
	}{
		{oracle, "BEGIN dbms_output.put_line('x; y'); pkg.run(1, p_b => 2); bare; x := f(1); EXECUTE IMMEDIATE 'y'; END", "dbms_output.put_line pkg.run bare", 1, "", ""},
		{oracle, "DECLARE v NUMBER(9) := 1; c CONSTANT VARCHAR2(3) := 'x'; PROCEDURE l IS BEGIN inner_call; END; BEGIN NULL; END", "inner_call", 0, "", "v c"},
		{oracle, "BEGIN FORALL i IN 1..2 INSERT INTO t VALUES (i); COMMIT; p(1); END", "p", 0, "", ""},
		{plpgsql, "BEGIN PERFORM f(1); CALL p(a, 2); EXECUTE format('x'); RETURN QUERY EXECUTE 'y'; END", "f p", 2, "", ""},
		{hana, "BEGIN CALL \"S\".\"p\"(:a, ?); EXEC 'x'; SELECT a, b AS c FROM t; EXECUTE IMMEDIATE 'y'; END", "S.p", 2, "a,c", ""},
		{snowflake, "BEGIN CALL p(:a); EXECUTE IMMEDIATE 'x'; BEGIN TRANSACTION; COMMIT; LET y INT := 1; END", "p", 1, "", "y"},
		{db2, "BEGIN DECLARE c CURSOR WITH RETURN TO CALLER FOR SELECT i, j AS k FROM t; DECLARE d CURSOR FOR SELECT 1; OPEN d; OPEN c; CALL p(1); PREPARE s FROM x; EXECUTE s; END", "p", 1, "i,k", ""},
		{db2, "BEGIN DECLARE c CURSOR WITH HOLD WITH RETURN FOR s; OPEN c; END", "", 0, "", ""},
		{firebird, "BEGIN EXECUTE PROCEDURE p (1, :a) RETURNING_VALUES :b; EXECUTE STATEMENT 'x'; FOR EXECUTE STATEMENT 'y' INTO :z DO SUSPEND; END", "p", 2, "", ""},
		{macro, "SEL (a + 1) (NAMED a), b AS c (TITLE 'C') FROM t; EXEC other(:x); LOCKING ROW FOR ACCESS SELECT d FROM t; UPDATE t SET a = 1;", "other", 0, "a,c | d", ""},
		{mariaDB, "BEGIN p(1); SELECT 2 AS two; pkg.q; OPEN a FOR SELECT 3 AS three; END", "p pkg.q", 0, "two | three", ""},
		{mySQL, "BEGIN CALL s.p(1); PREPARE x FROM 'y'; EXECUTE x; SELECT 1 AS one; END", "s.p", 1, "one", ""},
	} {
		b := test.d.walk(test.src, "a")
		var calls, locals []string
		for _, c := range b.Calls {
			calls = append(calls, strings.Join(c.Name, "."))
		}
		for _, l := range b.Locals {
			locals = append(locals, l.Name)
		}
		assert.Equal(t, test.calls, strings.Join(calls, " "), test.src)
		assert.Len(t, b.Dynamic, test.dynamic, test.src)
		assert.Equal(t, test.rows, rows(b), test.src)
		if test.locals_ != "" {
			assert.Equal(t, test.locals_, strings.Join(locals, " "), test.src)
		}
	}
}

func TestRowsThroughOutputs(t *testing.T) {
	b := oracle.walk("BEGIN OPEN p FOR SELECT a, b FROM t; OPEN local_c FOR SELECT 1 FROM t; OPEN p FOR 'SELECT 1'; END", "p")
	if assert.Len(t, b.Results, 2, "a cursor of the body's own sends nothing") {
		assert.Equal(t, []string{"a", "b"}, b.Results[0].Columns)
		assert.Equal(t, "p", b.Results[0].Through)
		assert.Empty(t, b.Results[1].Columns)
	}
	assert.Len(t, b.Dynamic, 1)
}

func TestConstantStatus(t *testing.T) {
	for src, want := range map[string]string{
		"BEGIN IF x THEN RETURN 4; END IF; RETURN (-1); END":                 "[-1 4] false",
		"BEGIN RETURN SQLCODE; END":                                          "[] true",
		"BEGIN RETURN 1 + 1; END":                                            "[] true",
		"BEGIN DECLARE EXIT HANDLER FOR SQLEXCEPTION RETURN -7; RETURN; END": "[-7] false",
	} {
		st := db2.walk(src).StatusOf()
		assert.Equal(t, want, fmt.Sprint(st.Codes, " ", st.Open), src)
	}
}

func TestMentions(t *testing.T) {
	for _, test := range []struct{ language, text, want string }{
		{"javascript", "var x = passId + PASSID; // passid\n y.passid = 'passid' + \"PASSID\"; /* PASSID */", "passId PASSID"},
		{"javascript", "`select ${PASSID} from passid where ${f({a: passid})}`", "PASSID passid"},
		{"python", "def run(passid):\n  # PASSID\n  \"\"\"passId\n it's\"\"\"\n  return passid + 'x' + obj.PASSID", "passid passid"},
		{"r", "passid <- PASSID # passid", "passid PASSID"},
		{"java", "int x = it's + Passid;", "Passid"},
		{"python", "'not closed passid\nPASSID", "passid PASSID"},
	} {
		var found []string
		for _, m := range body.Mentions([]byte(test.text), test.language, []string{"PASSID"}, 10) {
			assert.Equal(t, m.As, test.text[m.Offset-10:m.Offset-10+len(m.As)])
			found = append(found, m.As)
		}
		assert.Equal(t, test.want, strings.Join(found, " "), test.text)
	}
	assert.Empty(t, body.Mentions([]byte("x"), "python", nil, 0))
	assert.True(t, body.IsEmbedded("javascript"))
	assert.False(t, body.IsEmbedded("sql"))
}

// TestDeepNesting: a body nested beyond reason is read, and says nothing of its ways.
func TestDeepNesting(t *testing.T) {
	b := mySQL.walk(strings.Repeat("BEGIN ", 5000)+"SET a = 1;"+strings.Repeat("END; ", 5000), "a")
	assert.Empty(t, b.Exits)
	assert.Len(t, b.Assigned, 1)
}
