package ddl

import (
	"bytes"
	"strings"

	"ramekin/internal/signature"
	"ramekin/internal/sqltext"
)

// Marks are what speaks for a dialect in a text, each with its weight.
type Marks struct {
	Words             map[string]int
	BatchWord         int // GO alone on its line
	BracketName       int // [name]
	BacktickName      int // `name`
	AtParameter       int // a parameter that begins with @
	SystemVariable    int // @@name
	NationalString    int // N'…'
	ExecutableComment int // /*!50003 … */
	DirectionFirst    int // (IN name …
	EndIf             int // END IF
}

// foreignMarks speak for dialects that cannot be read; a text that has more of
// them than of its best dialect is not guessed at.
var foreignMarks = map[string]int{
	"plpgsql": 6, "varchar2": 4, "pls_integer": 4, "dbms_output": 4, "nocopy": 4, "sqlscript": 6, "suspend": 3, "term": 3,
	"nclob": 3, "volatile": 1, "rowtype": 4, "raise": 1, "snowflake": 4,
	"elsif": 4, "perform": 3, "refcursor": 3, "sys_refcursor": 5, "number": 1, "setof": 5,
}

// mostDetected bounds how much of a text is looked at, and how often one mark counts.
const (
	mostDetected = 1 << 18
	mostCounted  = 4
	leastScore   = 2
)

// mixedLexis scans a text whose dialect is not known.
var mixedLexis = sqltext.Lexis{BracketNames: true, BacktickNames: true, HashWords: true, BatchWord: "GO", Backslash: false}

// Guess is what Detect finds.
type Guess struct {
	// Dialect is "" where the text does not tell.
	Dialect signature.Dialect
	// Certain is false where little speaks for the dialect.
	Certain bool
	// Declares is true where the text seems to declare a routine at all.
	Declares bool
}

// Detect works out the dialect of src from its text: from its beginning, and
// where that does not tell, from its end.
func Detect(src []byte) Guess {
	if len(src) <= mostDetected {
		return detect(src)
	}
	if g := detect(src[:mostDetected]); g.Dialect != "" {
		return g
	}
	end := src[len(src)-mostDetected:]
	if i := bytes.IndexByte(end, '\n'); i >= 0 {
		end = end[i+1:]
	}
	return detect(end)
}

func detect(src []byte) Guess {
	scores := make([]int, len(Dialects))
	counts := map[string]int{}
	foreign := 0
	declares := false
	mark := func(key string, weight func(m *Marks) int) {
		if counts[key]++; counts[key] > mostCounted {
			return
		}
		for i, d := range Dialects {
			scores[i] += weight(&d.Marks)
		}
	}
	if n := strings.Count(string(src), "/*!"); n > 0 {
		mark("/*!", func(m *Marks) int { return m.ExecutableComment })
	}
	s := sqltext.NewScanner(src, &mixedLexis)
	var prev sqltext.Token
	for t := s.Next(); t.Kind != sqltext.EOF; t = s.Next() {
		switch t.Kind {
		case sqltext.BatchEnd:
			mark("GO", func(m *Marks) int { return m.BatchWord })
		case sqltext.QuotedName:
			switch src[t.Start] {
			case '[':
				mark("[", func(m *Marks) int { return m.BracketName })
			case '`':
				mark("`", func(m *Marks) int { return m.BacktickName })
			}
		case sqltext.String:
			if src[t.Start]|0x20 == 'n' {
				mark("N'", func(m *Marks) int { return m.NationalString })
			}
		case sqltext.Variable:
			if t.End-t.Start > 2 && src[t.Start+1] == '@' {
				mark("@@", func(m *Marks) int { return m.SystemVariable })
			} else if declares && (prev.IsName() && prev.Kw == sqltext.NoKeyword || prev.Op == '(') {
				mark("@p", func(m *Marks) int { return m.AtParameter })
			}
		case sqltext.Punct:
			if t.Op == sqltext.OpAssign {
				foreign++
			}
		case sqltext.Word:
			switch t.Kw {
			case sqltext.PROC, sqltext.PROCEDURE, sqltext.FUNCTION:
				if prev.Kw == sqltext.CREATE || prev.Kw == sqltext.ALTER || prev.Kw == sqltext.REPLACE || prev.Kind == sqltext.Variable || prev.Kind == sqltext.QuotedName {
					declares = true
				}
			case sqltext.IN, sqltext.OUT, sqltext.INOUT:
				if prev.Kind == sqltext.Punct && (prev.Op == '(' || prev.Op == ',') {
					mark("(IN", func(m *Marks) int { return m.DirectionFirst })
				}
			case sqltext.IF:
				if prev.Kw == sqltext.END {
					mark("END IF", func(m *Marks) int { return m.EndIf })
				}
			}
			if t.End-t.Start < 24 {
				w := strings.ToLower(t.Text(src))
				mark(w, func(m *Marks) int { return m.Words[w] })
				if counts[w] <= mostCounted {
					foreign += foreignMarks[w]
				}
			}
		}
		prev = t
	}
	g := Guess{Declares: declares}
	best, second := -1, 0
	for i, sc := range scores {
		switch {
		case best < 0 || sc > scores[best]:
			if best >= 0 {
				second = scores[best]
			}
			best = i
		case sc > second:
			second = sc
		}
	}
	if best < 0 || scores[best] < leastScore || scores[best] == second || foreign >= scores[best] {
		return g
	}
	g.Dialect = Dialects[best].Name
	g.Certain = scores[best] >= 6 && scores[best] >= 2*second
	return g
}
