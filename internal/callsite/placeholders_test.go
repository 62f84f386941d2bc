package callsite

import (
	"sort"
	"testing"

	"github.com/stretchr/testify/assert"
)

func TestPlaceholdersBecomeQuestionMarks(t *testing.T) {
	for _, test := range []struct {
		sql   string
		style placeholderStyle
		want  string
		keys  []bindKey
	}{
		{"CALL p(?, '?', \"?\")", 0, "CALL p(?, '?', \"?\")", []bindKey{{index: 1}}},
		{"CALL p(%s, %(who)s, '%%', 'x%s')", percentMarks, "CALL p(? , ?      , '%%', 'x%s')", []bindKey{{index: 1}, {name: "who"}}},
		{"CALL p(:a, :1, b::int, x := 1)", colonMarks, "CALL p(? , ? , b::int, x := 1)", []bindKey{{name: "a"}, {index: 1}}},
		{"CALL p($2, $1, a ? b)", dollarMarks | noQuestion, "CALL p(? , ? , a ? b)", []bindKey{{index: 2}, {index: 1}}},
		{"EXEC p {1}, {0}", braceMarks, "EXEC p ?  , ?  ", []bindKey{{index: 2}, {index: 1}}},
		{"CALL p(?2, ?1)", 0, "CALL p(? , ? )", []bindKey{{index: 2}, {index: 1}}},
		{"CALL p(? /* ? */, -- ?\n ?)", 0, "CALL p(? /* ? */, -- ?\n ?)", []bindKey{{index: 1}, {index: 2}}},
		{"CALL p(#{a, mode=OUT})", hashMarks, "CALL p(?             )", []bindKey{{name: "a, mode=out"}}},
	} {
		got, marks := canonical(test.sql, test.style)
		assert.Equal(t, test.want, got, "the text keeps its length")
		var offsets []int
		for off := range marks {
			offsets = append(offsets, off)
		}
		sort.Ints(offsets)
		var keys []bindKey
		for _, off := range offsets {
			keys = append(keys, marks[off].key())
		}
		assert.Equal(t, test.keys, keys, test.sql)
	}
}

func TestUnclosedPlaceholders(t *testing.T) {
	for _, sql := range []string{"%(a", ":\"a", "{0", "#{a", "'", "/*", "--", "$", ":", "%"} {
		got, marks := canonical(sql, percentMarks|colonMarks|dollarMarks|braceMarks|hashMarks)
		assert.Equal(t, sql, got)
		assert.Empty(t, marks, sql)
	}
}

// TestReceiversByName: what runs other things than statements is told by the
// words of its name, not by letters inside of them.
func TestReceiversByName(t *testing.T) {
	for name, want := range map[string]bool{
		"logger": true, "shipLog": true, "ssh_runner": true, "console": true,
		"catalog": false, "catalogDb": false, "taskPool": false, "dialog": false, "cur": false, "self.conn": false, "": false,
	} {
		assert.Equal(t, want, notDatabase(value{kind: symbolValue, sym: name}), name)
	}
	assert.Equal(t, []string{"ship", "log", "db"}, nameWords("shipLog_DB"))
}
