package sqltext

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// scanAll lists the tokens of src as kind and text.
func scanAll(src string, lex *Lexis) (tokens []string, errs []Error) {
	s := NewScanner([]byte(src), lex)
	names := map[Kind]string{Word: "w", QuotedName: "q", String: "s", Number: "n", Variable: "v", Placeholder: "?", Punct: "p", BatchEnd: "GO", Delimiter: "D"}
	for t := s.Next(); t.Kind != EOF; t = s.Next() {
		tokens = append(tokens, names[t.Kind]+":"+t.Text([]byte(src)))
	}
	return tokens, s.Errors
}

func TestScanSQLServer(t *testing.T) {
	for _, test := range []struct{ name, src, want string }{
		{"names in brackets, a bracket doubled", `[a]]b] "c""d" #t @x @@y`, `q:[a]]b] q:"c""d" w:#t v:@x v:@@y`},
		{"national string with a doubled quote", `N'it''s' 'a'`, `s:N'it''s' s:'a'`},
		{"nested comments", "a /* b /* c */ d */ e -- f\ng", "w:a w:e w:g"},
		{"a comment that ends where it seems to begin", "/*/ x */y", "w:y"},
		{"numbers", "1 1.5 .5 1e-3 0xFF $1.50 a.b", "n:1 n:1.5 n:.5 n:1e-3 n:0xFF n:$1.50 w:a p:. w:b"},
		{"GO alone on its line, with a count and in any case", "a\nGO\nb\n go 5 \nc", "w:a GO:GO w:b GO:go 5  w:c"},
		{"GO with a comment behind it", "a\nGO -- next\nb", "w:a GO:GO  w:b"},
		{"GO inside a string and a comment", "'\nGO\n' /*\nGO\n*/ x", "s:'\nGO\n' w:x"},
		{"GO as a column", "SELECT go FROM t", "w:SELECT w:go w:FROM w:t"},
		{"lines and names of the script client", ":setvar x 1\n$(db).dbo.p", "w:$(db) p:. w:dbo p:. w:p"},
		{"operators", "a<>b a+=1 a::b a=-1", "w:a p:<> w:b w:a p:+= n:1 w:a p::: w:b w:a p:= p:- n:1"},
	} {
		t.Run(test.name, func(t *testing.T) {
			got, errs := scanAll(test.src, &SQLServer)
			assert.Equal(t, test.want, strings.Join(got, " "))
			assert.Empty(t, errs)
		})
	}
}

func TestScanMySQL(t *testing.T) {
	for _, test := range []struct{ name, src, want string }{
		{"backticks and double-quoted strings", "`a``b` \"c\" 'd\\'e'", "q:`a``b` s:\"c\" s:'d\\'e'"},
		{"a dash needs a blank to begin a comment", "5--3 -- x\n# y\nz", "n:5 p:- p:- n:3 w:z"},
		{"comments do not nest", "/* a /* b */ c", "w:c"},
		{"executable comments are statement text", "/*!50003 CREATE*/ /*!50020 a /* b */ c */ d", "w:CREATE w:a w:c w:d"},
		{"executable comments of a newer server are comments", "/*!99999 CREATE */ a", "w:a"},
		{"a delimiter of marks", "DELIMITER //\na; b//\nDELIMITER ;\nc;", "w:a p:; w:b D:// w:c p:;"},
		{"a delimiter that could end a name", "delimiter $$\nEND$$ x", "w:END D:$$ w:x"},
		{"a delimiter in quotes, and one of letters", "DELIMITER 'go'\ncategory go\n", "w:category D:go"},
		{"a delimiter inside a string or comment", "DELIMITER //\n'//' /* // */ a//", "s:'//' w:a D://"},
		{"the short form, and what ends a statement", `\d ;;` + "\na;; b\\G", "w:a D:;; w:b D:\\G"},
		{"user variables", "@a @`b c` @'d' @@session.x", "v:@a v:@`b c` v:@'d' v:@@session.x"},
		{"delimiter as a word", "SELECT delimiter FROM t;", "w:SELECT w:delimiter w:FROM w:t p:;"},
	} {
		t.Run(test.name, func(t *testing.T) {
			got, errs := scanAll(test.src, &MySQL)
			assert.Equal(t, test.want, strings.Join(got, " "))
			assert.Empty(t, errs)
		})
	}
}

func TestScanTellsWhatIsNotClosed(t *testing.T) {
	for _, test := range []struct {
		src    string
		lex    *Lexis
		offset int
		says   string
	}{
		{"a 'b", &SQLServer, 2, "string is not closed: add '"},
		{"a [b", &SQLServer, 2, "bracketed name is not closed: add ]"},
		{"a /* b /* */", &SQLServer, 2, "comment is not closed: add */"},
		{"a \"b", &MySQL, 2, "string is not closed: add \""},
		{"/*!50003 a", &MySQL, 10, "/*! comment is not closed"},
	} {
		_, errs := scanAll(test.src, test.lex)
		require.Len(t, errs, 1, test.src)
		assert.Equal(t, test.offset, errs[0].Offset, test.src)
		assert.Contains(t, errs[0].Message, test.says)
	}
}

func TestKeywordsInAnyCase(t *testing.T) {
	for k := Keyword(1); k < keywordCount; k++ {
		for _, w := range []string{keywordNames[k], strings.ToUpper(keywordNames[k]), keywordNames[k] + " and more behind it"} {
			s := NewScanner([]byte(w), &Lexis{})
			assert.Equal(t, k, s.Next().Kw, w)
		}
	}
	for _, w := range []string{"selec", "selects", "s", "procedures_", "@elect", "zzzzzzzzzzzzzzz"} {
		s := NewScanner([]byte(w), &Lexis{})
		assert.Equal(t, NoKeyword, s.Next().Kw, w)
	}
}

func TestFold(t *testing.T) {
	for src, want := range map[string]string{
		"decimal ( 10 ,\n\t2 )":      "decimal ( 10 , 2 )",
		"decimal/* digits */(10,2)":  "decimal(10,2)",
		"national/**/char -- x\n(5)": "national char (5)",
		"-1":                         "-1",
		"enum('a  b',  'c')":         "enum('a  b', 'c')",
	} {
		s := NewScanner([]byte(src), &SQLServer)
		var tokens []Token
		for tok := s.Next(); tok.Kind != EOF; tok = s.Next() {
			tokens = append(tokens, tok)
		}
		assert.Equal(t, want, Fold([]byte(src), tokens))
	}
}

func TestPositions(t *testing.T) {
	lines := NewLineTable([]byte("ab\ncäd\r\n\ne"))
	for _, test := range []struct{ offset, line, column int }{{0, 1, 1}, {1, 1, 2}, {3, 2, 1}, {6, 2, 3}, {9, 3, 1}, {10, 4, 1}, {999, 4, 2}} {
		line, column := lines.Position(test.offset)
		assert.Equal(t, []int{test.line, test.column}, []int{line, column}, "offset %d", test.offset)
	}
}

func FuzzScan(f *testing.F) {
	for _, seed := range []string{"CREATE PROC [a] @b int = N'x' AS\nGO 2\n", "DELIMITER $$\n/*!50003 a*/ 'b\\'' `c`$$", "/* /* */", "$(x) $1.5 :r a\n", "\\d //\n-- \x00",
		"$a$ x $a$ E'\\' \\echo a\n@x@ :v", "q'[a]' &&x. \n/\n", "--#SET TERMINATOR @\na@", "{{ a }} ${b} &{c} // d", "1a 2.b"} {
		f.Add([]byte(seed))
	}
	f.Fuzz(func(t *testing.T, src []byte) {
		for _, lex := range []*Lexis{&SQLServer, &MySQL, &MariaDBANSI, &PostgreSQL, &Oracle, &Snowflake, &Db2, &Firebird, &Teradata, {}} {
			s := NewScanner(src, lex)
			last := int32(0)
			for tok := s.Next(); tok.Kind != EOF; tok = s.Next() {
				if tok.Start < last || tok.End <= tok.Start || int(tok.End) > len(src) {
					t.Fatalf("token %v behind offset %d of %d", tok, last, len(src))
				}
				last = tok.End
				if tok.Kind == String {
					if start, end, _ := Content(src, tok, lex); start < int(tok.Start) || end < start || end > int(tok.End) {
						t.Fatalf("content %d to %d of the string %v", start, end, tok)
					}
					StringValue(tok.Text(src), lex)
				}
			}
		}
	})
}
