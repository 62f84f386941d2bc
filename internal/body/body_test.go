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

func cursor(src string, lex *sqltext.Lexis) *sqltext.Cursor {
	s := sqltext.NewScanner([]byte(src), lex)
	var tokens []sqltext.Token
	for t := s.Next(); t.Kind != sqltext.EOF; t = s.Next() {
		tokens = append(tokens, t)
	}
	c := sqltext.NewCursor([]byte(src), lex, tokens)
	return &c
}

func tsql(src string, outputs ...string) *body.Body {
	return body.TSQL(cursor(src, &sqltext.SQLServer), body.Options{Outputs: outputs, Detail: true, Type: sqltype.SQLServer})
}

func mysql(src string, outputs ...string) *body.Body {
	return body.MySQL(cursor(src, &sqltext.MySQL), body.Options{Outputs: outputs, Detail: true, Type: sqltype.MySQL})
}

// rows lists the columns of each result set.
func rows(b *body.Body) string {
	var sets []string
	for _, r := range b.Results {
		sets = append(sets, strings.Join(r.Columns, ","))
	}
	return strings.Join(sets, " | ")
}

func assigned(b *body.Body) string {
	var names []string
	for _, a := range b.Assigned {
		names = append(names, a.Name)
	}
	return strings.Join(names, " ")
}

func TestTSQLColumns(t *testing.T) {
	for src, want := range map[string]string{
		"SELECT a, t.b, s.t.c FROM t":                                                                       "a,b,c",
		"SELECT TOP (5) PERCENT WITH TIES a FROM t":                                                         "a",
		"SELECT DISTINCT TOP 5 a b FROM t":                                                                  "b",
		"SELECT x = 1, [y z] = 2, 'q' = 3":                                                                  "x,y z,q",
		"SELECT 1, 'a', @v, NULL, COUNT(*), a + b":                                                          ",,,,,",
		"SELECT CASE WHEN 1 = 1 THEN 2 END c, (SELECT 1) AS d":                                              "c,d",
		"SELECT t.*, * FROM t":                                                                              "*,*",
		"SELECT a COLLATE Latin1_General_BIN, b AS \"quoted name\"":                                         "a,quoted name",
		"SELECT LEFT(a, 1) l, RIGHT(b, 2)":                                                                  "l,",
		"(SELECT a FROM t) UNION ALL (SELECT b FROM u)":                                                     "a",
		"WITH c (n) AS (SELECT 1) SELECT n FROM c":                                                          "n",
		"WITH c AS (SELECT 1 AS n) UPDATE t SET a = 1 FROM c":                                               "",
		"SELECT a FROM t FOR XML AUTO":                                                                      "XML_F52E2B61-18A1-11d1-B105-00805F49916B",
		"INSERT t (a) OUTPUT inserted.a, inserted.b AS bb SELECT 1":                                         "a,bb",
		"INSERT t DEFAULT VALUES SELECT 2 AS two":                                                           "two",
		"INSERT INTO t (a) VALUES (1), (2); SELECT 3 AS three":                                              "three",
		"DELETE TOP (1) FROM t OUTPUT deleted.* WHERE a = 1":                                                "*",
		"IF UPDATE(a) SELECT 1 AS x ELSE SELECT 2 AS y":                                                     "x | y",
		"WHILE 1 = 1 BEGIN SELECT a FROM t BREAK END":                                                       "a",
		"GRANT SELECT ON t TO u; DENY SELECT ON t TO u":                                                     "",
		"ALTER TABLE t ADD CONSTRAINT f FOREIGN KEY (a) REFERENCES u (a) ON DELETE CASCADE SELECT 1 AS one": "one",
		"SET @c = CURSOR FOR SELECT a FROM t OPEN @c FETCH @c":                                              "a",
		"DECLARE @x int = (SELECT 1), @y int SELECT @y = 2":                                                 "",
		"RECEIVE TOP (1) message_body FROM q":                                                               "message_body",
		"RECEIVE message_body FROM q INTO @t":                                                               "",
		"BEGIN TRANSACTION SELECT 1 AS a COMMIT":                                                            "a",
		"BEGIN CONVERSATION TIMER (@h) TIMEOUT = 1; END CONVERSATION @h; SELECT 2 AS b":                     "b",
		"RETURN (SELECT COUNT(*) FROM t)":                                                                   "",
		"RAISERROR('x', 16, 1) WITH NOWAIT SELECT 1 AS a":                                                   "a",
		"EXEC p 'SELECT 1' SELECT 2 AS b":                                                                   "b",
		"label: SELECT 1 AS a GOTO label":                                                                   "a",
	} {
		assert.Equal(t, want, rows(tsql(src)), src)
	}
}

func TestTSQLReturns(t *testing.T) {
	for src, want := range map[string]string{
		"RETURN":                         "[] false",
		"RETURN 5":                       "[5] false",
		"RETURN -(+(7)); RETURN ((3))":   "[-7 3] false",
		"RETURN 1 + 1":                   "[] true",
		"RETURN @@ERROR":                 "[] true",
		"RETURN 'x'":                     "[] true",
		"RETURN 1.5":                     "[] true",
		"IF 1 = 1 RETURN ELSE RETURN 2":  "[2] false",
		"BEGIN RETURN END RETURN 3":      "[3] false",
		"RETURN 1 SELECT 2":              "[1] false",
		"RETURN 99999999999999999999999": "[] true",
		"RETURN\nfailed: RETURN -99":     "[-99] false",
	} {
		st := tsql(src).StatusOf()
		assert.Equal(t, want, fmt.Sprint(st.Codes, " ", st.Open), src)
	}
}

func TestTSQLAssignments(t *testing.T) {
	for src, want := range map[string]string{
		"SET @o = 1":                                "@o",
		"SET @O += 1":                               "@o",
		"SELECT @x = 1, @o = MAX(a) FROM t":         "@o",
		"SELECT @x = CASE WHEN @o = 1 THEN 2 END":   "",
		"EXEC p @a = @o OUTPUT, @b = @o":            "@o",
		"EXEC @o = p":                               "@o",
		"FETCH NEXT FROM c INTO @x, @o":             "@o",
		"UPDATE t SET @o = a = 2":                   "@o",
		"IF @o = 1 PRINT @o":                        "",
		"INSERT t EXEC p @o OUT":                    "@o",
		"DECLARE @o2 int = 1 SELECT 1 WHERE @o = 2": "",
	} {
		assert.Equal(t, want, assigned(tsql(src, "@o")), src)
	}
}

func TestTSQLDetail(t *testing.T) {
	b := tsql("DECLARE @a int, @b AS nvarchar(20) = N'x', @t TABLE (c int); EXEC @a = p @b; IF @a <> -1 AND @a = 5 PRINT @b EXEC ('x')")
	assert.Len(t, b.Locals, 2)
	assert.Equal(t, "nvarchar(20)", b.Locals[1].Type.Text)
	var compared []string
	for _, u := range b.Uses {
		if u.Op != "" {
			compared = append(compared, u.Name+u.Op+u.Value)
		}
	}
	assert.Equal(t, []string{"@a<>-1", "@a=5"}, compared)
	assert.Len(t, b.Calls, 2)
	assert.Len(t, b.Dynamic, 1)
}

func TestMySQLResults(t *testing.T) {
	for src, want := range map[string]string{
		"SELECT a, t.b, s.t.c, d AS e, f g, 'x', 1, COUNT( * ), @v, NULL":                  "a,b,c,e,g,x,1,COUNT( * ),@v,NULL",
		"SELECT SQL_CALC_FOUND_ROWS DISTINCT a FROM t LIMIT 1":                             "a",
		"SELECT a INTO @x FROM t":                                                          "",
		"SELECT a FROM t INTO x":                                                           "",
		"SELECT a FROM t LIMIT 1 INTO OUTFILE '/x'":                                        "",
		"SELECT @x := 5":                                                                   "@x := 5",
		"(SELECT a FROM t) UNION (SELECT b FROM u)":                                        "a",
		"WITH c AS (SELECT 1) SELECT n FROM c":                                             "n",
		"WITH c AS (SELECT 1) DELETE FROM t":                                               "",
		"TABLE t":                                                                          "",
		"INSERT INTO t SELECT a FROM u":                                                    "",
		"CREATE TABLE t AS SELECT a FROM u":                                                "",
		"DECLARE c CURSOR FOR SELECT a FROM t":                                             "",
		"DECLARE EXIT HANDLER FOR 1062, SQLEXCEPTION SELECT 'e' AS message":                "message",
		"IF a THEN SELECT 1 AS x; ELSEIF b THEN SELECT 2 AS y; ELSE SELECT 3 AS z; END IF": "x | y | z",
		"CASE a WHEN 1 THEN SELECT 1 AS x; ELSE SELECT 2 AS y; END CASE":                   "x | y",
		"CASE WHEN a = CASE 1 WHEN 2 THEN 3 END THEN SELECT 1 AS x; END CASE":              "x",
		"WHILE a DO SELECT 1 AS x; END WHILE; REPEAT SELECT 2 AS y; UNTIL b END REPEAT":    "x | y",
		"l: LOOP SELECT 1 AS x; LEAVE l; END LOOP l":                                       "x",
		"SHOW TABLES; EXPLAIN SELECT 1":                                                    " | ",
		"DELETE FROM t WHERE a = 1 RETURNING a, b":                                         "a,b",
		"SET @x = (SELECT 1); RETURN (SELECT 2)":                                           "",
	} {
		b := mysql(src)
		if src == "TABLE t" {
			assert.Len(t, b.Results, 1, src)
			continue
		}
		assert.Equal(t, want, rows(b), src)
	}
}

func TestMySQLAssignments(t *testing.T) {
	for src, want := range map[string]string{
		"SET o = 1, x = 2":                             "o",
		"SET x = 1, O := f(2, 3)":                      "o",
		"SET @o = 1":                                   "",
		"SELECT a, b INTO x, o FROM t":                 "o",
		"FETCH c INTO o":                               "o",
		"FETCH NEXT FROM c INTO x, o":                  "o",
		"CALL p(1, o)":                                 "o",
		"CALL p(1, o + 1)":                             "",
		"GET DIAGNOSTICS CONDITION 1 o = MESSAGE_TEXT": "o",
		"UPDATE t SET o = 1":                           "",
		"IF o = 1 THEN SET x = o; END IF":              "",
		"BEGIN DECLARE EXIT HANDLER FOR NOT FOUND SET o = 1; END": "o",
	} {
		assert.Equal(t, want, assigned(mysql(src, "o")), src)
	}
}

func TestMySQLDetail(t *testing.T) {
	b := mysql("DECLARE a, b VARCHAR(10) DEFAULT 'x'; CALL p(a, @y); SELECT @y; EXECUTE s")
	assert.Len(t, b.Locals, 2)
	assert.Equal(t, 10, b.Locals[0].Type.Length)
	assert.Len(t, b.Calls, 1)
	assert.Len(t, b.Uses, 1)
	assert.Len(t, b.Dynamic, 1)
}
