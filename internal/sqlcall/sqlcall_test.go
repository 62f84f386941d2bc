package sqlcall_test

import (
	"fmt"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"ramekin/internal/sqlcall"
	"ramekin/internal/sqltext"
)

var kinds = map[sqlcall.ArgumentKind]string{sqlcall.Expression: "expr", sqlcall.Placeholder: "?", sqlcall.Variable: "var", sqlcall.Null: "null",
	sqlcall.Text: "text", sqlcall.Number: "num", sqlcall.DefaultWord: "default", sqlcall.Hole: "hole"}

func describe(c sqlcall.Call) string {
	var args []string
	for _, a := range c.Arguments {
		s := kinds[a.Kind] + " " + a.Text
		if a.Name != "" {
			s = a.Name + "=" + s
		}
		if a.OutWord {
			s += " OUT"
		}
		args = append(args, s)
	}
	name := strings.Join(c.Name, ".")
	if c.NameIsVariable {
		name = "$" + c.NameText
	}
	if c.Dynamic {
		name = "dynamic"
	}
	if c.Return != "" {
		name = c.Return + " = " + name
	}
	return fmt.Sprintf("%s %s(%s)", c.Verb, name, strings.Join(args, "; "))
}

func TestFind(t *testing.T) {
	for _, test := range []struct{ text, want string }{
		{"{call p(?, ?)}", "escape p(? ?; ? ?)"},
		{"{? = call berth.p(?)}", "escape ? = berth.p(? ?)"},
		{" { call p } ", "escape p()"},
		{"call p()", "call p()"},
		{"? = call p(?)", "call ? = p(? ?)"},
		{"exec p ?, ? output", "exec p(? ?; ? ? OUT)"},
		{"exec ? = [berth].[p q] ?", "exec ? = berth.p q(? ?)"},
		{"EXECUTE @rc = dbo.p @a = 1, @b = @x OUT, @c = DEFAULT", "exec @rc = dbo.p(@a=num 1; @b=var @x OUT; @c=default DEFAULT)"},
		{"EXEC p -1, N'a,b', NULL, bare, 0x1F, $2.50, +3", "exec p(num -1; text N'a,b'; null NULL; text bare; num 0x1F; num $2.50; num +3)"},
		{"EXEC p @@ROWCOUNT, @a + 1, (1)", "exec p(expr @@ROWCOUNT; expr @a + 1; expr (1))"},
		{"EXEC p;2 5", "exec p;2(num 5)"},
		{"EXEC p 1 SELECT 2", "exec p(num 1)"},
		{"EXEC p WITH RECOMPILE", "exec p()"},
		{"EXEC @name 1", "exec $@name(num 1)"},
		{"EXEC ('SELECT ' + @x)", "exec dynamic(expr 'SELECT ' + @x)"},
		{"DECLARE @rc int; EXEC @rc = p @a; SELECT @rc", "exec @rc = p(var @a)"},
		{"{call p(f(?, ?), 'x)', (1))}", "escape p(expr f(?, ?); text 'x)'; expr (1))"},
		{"call p(@a = ?, b => 2)", "call p(@a=? ?; b=num 2)"},
		{"EXEC Desk..p", "exec Desk..p()"},
		{"SELECT call FROM t WHERE exec = 1", ""},
		{"EXECUTE AS USER = 'x'", ""},
		{"exec", ""},
		{"", ""},
	} {
		var got []string
		for _, c := range sqlcall.Find([]byte(test.text), &sqltext.SQLServer) {
			got = append(got, describe(c))
		}
		assert.Equal(t, test.want, strings.Join(got, " | "), test.text)
	}
}

func TestHoles(t *testing.T) {
	text := "{call p('" + sqlcall.HoleMark + "h" + sqlcall.HoleEnd + "', " + sqlcall.HoleMark + "h" + sqlcall.HoleEnd + ", 1)}"
	calls := sqlcall.Find([]byte(text), &sqltext.SQLServer)
	require.Len(t, calls, 1)
	require.Len(t, calls[0].Arguments, 3)
	assert.True(t, calls[0].Arguments[0].Holes)
	assert.Equal(t, sqlcall.Hole, calls[0].Arguments[1].Kind)
	assert.False(t, calls[0].Arguments[2].Holes)
}

func TestMySQLVariables(t *testing.T) {
	calls := sqlcall.Find([]byte("CALL `a b`.p(@x, v, NEW.id, true, _utf8'x')"), &sqltext.MySQL)
	require.Len(t, calls, 1)
	assert.Equal(t, "call a b.p(var @x; var v; var NEW.id; num true; text _utf8'x')", describe(calls[0]))
}

func FuzzFind(f *testing.F) {
	for _, seed := range []string{"{? = call p(?, f(?))}", "exec ? = p @a = ?, ? output", "EXEC p;2 -1, N'x'", "call p(", "{call", "EXEC ("} {
		f.Add([]byte(seed))
	}
	f.Fuzz(func(t *testing.T, text []byte) {
		for _, lex := range []*sqltext.Lexis{&sqltext.SQLServer, &sqltext.MySQL} {
			for _, c := range sqlcall.Find(text, lex) {
				if c.Start > c.End || c.End > len(text) {
					t.Fatalf("call at %d to %d of %d", c.Start, c.End, len(text))
				}
				for _, a := range c.Arguments {
					if a.Start > a.End || a.ValueStart > a.ValueEnd || a.End > len(text) {
						t.Fatalf("%+v", a)
					}
				}
			}
		}
	})
}
