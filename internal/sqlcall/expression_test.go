package sqlcall_test

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"

	"ramekin/internal/sqlcall"
	"ramekin/internal/sqltext"
)

func shown(calls []sqlcall.Call) string {
	var out []string
	for _, c := range calls {
		var args []string
		for _, a := range c.Arguments {
			s := a.Text
			if a.Name != "" {
				s = a.Name + ": " + s
			}
			if a.OutWord {
				s += " out"
			}
			args = append(args, s)
		}
		s := strings.Join(c.Name, ".") + "(" + strings.Join(args, "; ") + ")"
		if c.Return != "" {
			s = c.Return + " = " + s
		}
		out = append(out, s)
	}
	return strings.Join(out, " ")
}

// TestExpressions tells functions of the user's from all else that has a name
// and a bracket behind it.
func TestExpressions(t *testing.T) {
	for sql, want := range map[string]string{
		"SELECT fares.quote(1, ?) FROM t":                                        "fares.quote(1; ?)",
		"SELECT count(*), max(x), coalesce(a, b), CAST(c AS varchar(10)) FROM t": "",
		"SELECT quote_fare(free(1), upper(x))":                                   "quote_fare(free(1); upper(x)) free(1)",
		"SELECT * FROM fares.rows_for(?) r JOIN other.f(1) ON r.a = g.h(2)":      "fares.rows_for(?) other.f(1) g.h(2)",
		"INSERT INTO fares.log (a, b) VALUES (fares.f(1), 2)":                    "fares.f(1)",
		"INSERT INTO log (a, b) SELECT a, my_f(b) FROM c":                        "my_f(b)",
		"CREATE TABLE a.b (c int, d varchar(3)); SELECT a.f(1)":                  "a.f(1)",
		"CREATE FUNCTION a.f (x int) RETURNS int":                                "",
		"SELECT a FROM t WITH (NOLOCK) WHERE b IN (1, 2) AND dbo.ok(a) = 1":      "dbo.ok(a)",
		"SELECT a FROM dbo.t (NOLOCK)":                                           "",
		"WITH x (a, b) AS (SELECT 1, s.f(2)) SELECT * FROM x":                    "s.f(2)",
		"UPDATE t SET a = s.f(?) WHERE b > s.g()":                                "s.f(?) s.g()",
		"SELECT 's.f(1)', \"s.g(1)\" -- s.h(1)":                                  "",
		"SELECT CASE WHEN s.f(1) THEN s.g(2) ELSE s.h(3) END":                    "s.f(1) s.g(2) s.h(3)",
		"DROP FUNCTION s.f(int)":                                                 "",
		"SELECT * FROM (SELECT s.f(1)) x (a)":                                    "s.f(1)",
	} {
		assert.Equal(t, want, shown(sqlcall.Expressions([]byte(sql), &sqltext.SQLServer)), sql)
	}
}

func TestResultsOfExpressions(t *testing.T) {
	assert.Equal(t, "? = fares.quote(?)", shown(sqlcall.Expressions([]byte("begin ? := fares.quote(?); end;"), &sqltext.Oracle)))
	assert.Equal(t, "v_n = fares.quote(v_a)", shown(sqlcall.Expressions([]byte("v_n := fares.quote(v_a);"), &sqltext.Oracle)))
}

// TestBlock tells calls from the other statements of a block.
func TestBlock(t *testing.T) {
	for sql, want := range map[string]string{
		"BEGIN harbour.book(?, p_n => ?); END;":        "harbour.book(?; p_n: ?)",
		"begin a.b; c(1); null; commit; raise x; end;": "a.b() c(1)",
		"DECLARE n NUMBER(3); t VARCHAR2(9); BEGIN IF n > 1 THEN a(n); ELSE b(n); END IF; LOOP c(1); EXIT; END LOOP; END;": "a(n) b(n) c(1)",
		"BEGIN SELECT f(1) INTO x FROM t; INSERT INTO t (a) VALUES (1); x := g(2); h(3); END;":                             "h(3)",
		"BEGIN TRANSACTION; EXEC p; COMMIT": "",
		"SELECT a(1)":                       "",
		"a(1);":                             "",
	} {
		assert.Equal(t, want, shown(sqlcall.Block([]byte(sql), &sqltext.Oracle)), sql)
	}
}

func TestCallsOfOtherDialects(t *testing.T) {
	for sql, want := range map[string]string{
		"EXECUTE PROCEDURE fares(1, 'x') RETURNING_VALUES :a, b": "fares(1; 'x'; a out; b out)",
		"EXECUTE PROCEDURE fares RETURNING_VALUES (a)":           "fares(a out)",
		"CALL p(IN a => 1, OUT b => :x, INOUT c => :y)":          "p(a: 1; b: :x out; c: :y out)",
		"EXECUTE IMMEDIATE 'x'":                                  "",
		"EXECUTE BLOCK AS BEGIN END":                             "",
	} {
		assert.Equal(t, want, shown(sqlcall.Find([]byte(sql), &sqltext.Firebird)), sql)
	}
}

func TestBuiltIns(t *testing.T) {
	for _, name := range []string{"COUNT", "nvl", "DATEADD", "json_value", "in", "values"} {
		assert.True(t, sqlcall.IsBuiltIn(name), name)
	}
	for _, name := range []string{"quote_fare", "assign_berth"} {
		assert.False(t, sqlcall.IsBuiltIn(name), name)
	}
}
