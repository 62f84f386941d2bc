package sqltext

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
)

func TestScanDialects(t *testing.T) {
	for _, test := range []struct {
		name      string
		lex       *Lexis
		src, want string
	}{
		{"dollar quotes with tags", &PostgreSQL, "$$a 'b$$ $x$ $$ $x$ $1 a$b$c", "s:$$a 'b$$ s:$x$ $$ $x$ ?:$1 w:a$b$c"},
		{"strings with escapes, and without", &PostgreSQL, `E'a\'b' 'a\' U&'x'`, `s:E'a\'b' s:'a\' w:U p:& s:'x'`},
		{"commands of psql", &PostgreSQL, "\\echo it's\nSELECT 1 \\gset\n\\if :x\na \\; b", "w:SELECT n:1 D:\\gset\n w:a p:\\; w:b"},
		{"variables of psql", &PostgreSQL, `:schema.f(:'v', :"n") a::int b[1:2]`, `w::schema p:. w:f p:( w::'v' p:, w::"n" p:) w:a p::: w:int w:b p:[ n:1 p:: n:2 p:]`},
		{"placeholders of extensions", &PostgreSQL, "@extschema@.f @extschema:other@ a @> b", "w:@extschema@ p:. w:f w:@extschema:other@ w:a p:@ p:> w:b"},
		{"nested comments", &PostgreSQL, "/* /* */ ' */ a --'\nb", "w:a w:b"},
		{"quotes of one's choice", &Oracle, "q'[it's]' nq'{a}b}' Q'!x!' q'xabx' 'q'", "s:q'[it's]' s:nq'{a}b}' s:Q'!x!' s:q'xabx' s:'q'"},
		{"a slash alone, and in a division", &Oracle, "a\n/\nb / c\n /\t\n'\n/\n'", "w:a GO:/ w:b p:/ w:c GO:/ s:'\n/\n'"},
		{"substitution and host variables", &Oracle, "&owner..p(&&x) :NEW.id a:=:b", "w:&owner p:. p:. w:p p:( w:&&x p:) v::NEW p:. w:id w:a p::= v::b"},
		{"names with marks", &Oracle, "sys.v$x #a t#1 a@b", "w:sys p:. w:v$x p:# w:a w:t#1 w:a v:@b"},
		{"labels", &Db2, "l:BEGIN :x", "w:l p:: w:BEGIN v::x"},
		{"a terminator set by a comment", &Db2, "a; b\n--#SET TERMINATOR @\nc; d@ e\n--#SET TERMINATOR ;\nf;", "w:a p:; w:b w:c p:; w:d D:@ w:e w:f p:;"},
		{"templates", &Snowflake, "{{ db }}.f &{v} {a} // x\n$$it's$$ <% y %>", "w:{{ db }} p:. w:f w:&{v} p:{ w:a p:} s:$$it's$$ p:< p:% w:y p:% p:>"},
		{"names that begin with digits", &MySQL, "15298_1 1e3 2x t.1a 0x1F 3", "w:15298_1 n:1e3 w:2x w:t p:. n:1 w:a n:0x1F n:3"},
		{"accounts", &MySQL, "root@localhost a@'' `b`@`%`", "w:root v:@localhost w:a v:@'' q:`b` v:@`%`"},
		{"comments for MariaDB", &MariaDB, "/*M!100100 a */ /*!999999 b */ c", "w:a w:b w:c"},
		{"comments for MariaDB elsewhere", &MySQL, "/*M!100100 a */ c", "w:c"},
		{"quoted names of sql_mode=ORACLE", &MariaDBANSI, `"a" 'b'`, `q:"a" s:'b'`},
		{"a name in braces", &Teradata, "${db}.p", "w:${db} p:. w:p"},
	} {
		t.Run(test.name, func(t *testing.T) {
			got, errs := scanAll(test.src, test.lex)
			assert.Equal(t, test.want, strings.Join(got, " "))
			assert.Empty(t, errs)
		})
	}
}

func TestOpenStringsOfDialects(t *testing.T) {
	for src, lex := range map[string]*Lexis{"a $x$ b $$": &PostgreSQL, "a q'[b ]": &Oracle, "a E'b\\'": &PostgreSQL, "a $$b": &Snowflake} {
		_, errs := scanAll(src, lex)
		if assert.Len(t, errs, 1, src) {
			assert.GreaterOrEqual(t, errs[0].Offset, 2, src)
			assert.Contains(t, errs[0].Message, "not closed")
		}
	}
}

func TestContent(t *testing.T) {
	for _, test := range []struct {
		src   string
		lex   *Lexis
		want  string
		plain bool
	}{
		{"$$it's$$", &PostgreSQL, "it's", true},
		{"$b$ x $b$", &PostgreSQL, " x ", true},
		{"'plain'", &PostgreSQL, "plain", true},
		{"'dou''bled'", &PostgreSQL, "dou'bled", false},
		{`E'esc\'d'`, &PostgreSQL, "esc'd", false},
		{`'back\\slash'`, &Snowflake, `back\slash`, false},
		{"q'[it's]'", &Oracle, "it's", false},
		{"''", &PostgreSQL, "", true},
	} {
		tok := NewScanner([]byte(test.src), test.lex).Next()
		start, end, plain := Content([]byte(test.src), tok, test.lex)
		assert.Equal(t, test.plain, plain, test.src)
		if plain {
			assert.Equal(t, test.want, test.src[start:end], test.src)
		}
		assert.Equal(t, test.want, StringValue(test.src, test.lex), test.src)
	}
}

func TestDelimiterBySetting(t *testing.T) {
	src := []byte("a^ b; c !")
	s := NewScanner(src, &Firebird)
	assert.Equal(t, ";", s.Delimiter())
	s.SetDelimiter("^ ;")
	assert.Equal(t, "^", s.Delimiter())
	assert.Equal(t, "a", s.Next().Text(src))
	assert.Equal(t, Delimiter, s.Next().Kind)
	assert.Equal(t, " b; c !", s.Line())
	assert.Equal(t, "b; c !", s.RestOfLine())
	s.SetDelimiter(";")
	assert.False(t, s.CustomDelimiter())
	assert.True(t, s.BeginsLine(0))
	assert.False(t, s.BeginsLine(3))
	assert.Equal(t, 2, s.Pos())
	s.SkipLine()
	assert.Equal(t, EOF, s.Next().Kind)
}

// TestPositionsInAnyOrder: a place is the same whatever was asked for before.
func TestPositionsInAnyOrder(t *testing.T) {
	src := []byte("größe\nab\xffäö d\n\n" + strings.Repeat("ü,", 50))
	asked := NewLineTable(src)
	for i := range 4 * len(src) {
		offset := i * 37 % len(src)
		for offset > 0 && src[offset]&0xC0 == 0x80 { // inside a character
			offset--
		}
		line, column := asked.Position(offset)
		wantLine, wantColumn := NewLineTable(src).Position(offset)
		assert.Equal(t, [2]int{wantLine, wantColumn}, [2]int{line, column}, "offset %d", offset)
	}
}
