package sqltext

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
)

func cursorOver(src string, lex *Lexis) *Cursor {
	s := NewScanner([]byte(src), lex)
	var tokens []Token
	for t := s.Next(); t.Kind != EOF; t = s.Next() {
		tokens = append(tokens, t)
	}
	c := NewCursor([]byte(src), lex, tokens)
	return &c
}

func TestCursorPastTheEnd(t *testing.T) {
	c := cursorOver("a b", &SQLServer)
	assert.Equal(t, "a", c.Text(c.Next()))
	assert.Equal(t, "b", c.Text(c.Peek()))
	assert.Equal(t, EOF, c.Ahead(1).Kind)
	c.Next()
	assert.True(t, c.Done())
	assert.Equal(t, EOF, c.Next().Kind)
	assert.Equal(t, EOF, c.Next().Kind)
	assert.Equal(t, 2, c.I, "it does not run away")
	c.I += 7
	assert.Equal(t, "b", c.FoldFrom(1), "the last token stands for what lies past the end")
	assert.Equal(t, EOF, c.Peek().Kind)
	assert.Equal(t, EOF, c.At(-1).Kind)
	empty := cursorOver("", &SQLServer)
	assert.True(t, empty.Done())
	assert.Nil(t, empty.DottedName())
	assert.False(t, empty.SkipParens())
}

func TestCursorAccepts(t *testing.T) {
	c := cursorOver("CREATE OR Alter [proc] = thing", &SQLServer)
	assert.False(t, c.AcceptKw(ALTER))
	assert.True(t, c.AcceptKw(CREATE))
	assert.True(t, c.AcceptWord("or"))
	assert.True(t, c.AtKw(ALTER))
	c.Next()
	assert.False(t, c.AcceptWord("proc"), "a name in brackets is no keyword")
	assert.Equal(t, "proc", c.Name(c.Next()))
	assert.False(t, c.AcceptOp('<'))
	assert.True(t, c.AcceptOp('='))
	assert.True(t, c.AtWord("thing"))
}

func TestSkipParens(t *testing.T) {
	for src, want := range map[string]string{
		"(a, (b), ')', [)]) c": "c",
		"() c":                 "c",
		"((((a)))) c":          "c",
	} {
		c := cursorOver(src, &SQLServer)
		assert.True(t, c.SkipParens(), src)
		assert.Equal(t, want, c.Text(c.Peek()), src)
	}
	open := cursorOver("(a, (b)", &SQLServer)
	assert.False(t, open.SkipParens())
	assert.True(t, open.Done())
	none := cursorOver("a", &SQLServer)
	assert.False(t, none.SkipParens())
	assert.Equal(t, 0, none.I)
}

func TestDottedName(t *testing.T) {
	for src, want := range map[string]string{
		"a":                  "a",
		"a.b.c d":            "a/b/c",
		"[a b].\"c\"\"d\".e": `a b/c"d/e`,
		"db..p":              "db//p",
		"srv...p":            "srv///p",
		"a . b":              "a/b",
		"a.":                 "a",
		"a.5":                "a",
		"a/**/./**/b":        "a/b",
		"$(db).[x]":          "$(db)/x",
	} {
		assert.Equal(t, want, strings.Join(cursorOver(src, &SQLServer).DottedName(), "/"), src)
	}
	assert.Equal(t, "a b/c`d", strings.Join(cursorOver("`a b`.`c``d`", &MySQL).DottedName(), "/"))
}

func TestTokenNames(t *testing.T) {
	for src, want := range map[string]string{
		"word": "word", "[br]]acket]": "br]acket", `"qu""oted"`: `qu"oted`, "@var": "@var", "@@sys": "@@sys", "[not closed": "not closed", "#temp": "#temp",
	} {
		c := cursorOver(src, &SQLServer)
		assert.Equal(t, want, c.Name(c.Peek()), src)
	}
	for src, want := range map[string]string{"`a``b`": "a`b", "@`my var`": "@my var", "@'x'": "@x", "@plain.name": "@plain.name"} {
		c := cursorOver(src, &MySQL)
		assert.Equal(t, want, c.Name(c.Peek()), src)
	}
}

func TestStringValues(t *testing.T) {
	for _, test := range []struct {
		text string
		lex  *Lexis
		want string
	}{
		{"'plain'", &SQLServer, "plain"},
		{"N'it''s'", &SQLServer, "it's"},
		{`'a\'`, &SQLServer, `a\`},
		{`'a\'b\n\\'`, &MySQL, "a'b\n\\"},
		{`"x""y"`, &MySQL, `x"y`},
		{"'open", &SQLServer, "open"},
		{"''", &SQLServer, ""},
		{"none", &SQLServer, "none"},
		{`'\t\r\0\z'`, &MySQL, "\t\r\x00z"},
	} {
		assert.Equal(t, test.want, StringValue(test.text, test.lex), test.text)
	}
}

func TestSkipLeavesWhatItWasIn(t *testing.T) {
	src := "/*!50003 a b\nDELIMITER //\nc//"
	s := NewScanner([]byte(src), &MySQL)
	assert.Equal(t, "a", s.Next().Text([]byte(src)))
	s.Skip(strings.Index(src, "DELIMITER"))
	assert.Equal(t, "c", s.Next().Text([]byte(src)))
	assert.Equal(t, Delimiter, s.Next().Kind)
	assert.True(t, s.CustomDelimiter())
	assert.Equal(t, EOF, s.Next().Kind)
	assert.Empty(t, s.Errors)
}

func TestResetForgets(t *testing.T) {
	s := NewScanner([]byte("DELIMITER //\n'open"), &MySQL)
	for s.Next().Kind != EOF {
	}
	assert.Len(t, s.Errors, 1)
	s.Reset([]byte("a;"), &MySQL)
	assert.Empty(t, s.Errors)
	assert.False(t, s.CustomDelimiter())
	assert.Equal(t, Word, s.Next().Kind)
}
