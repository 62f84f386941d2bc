package check_test

import (
	"fmt"
	"os"
	"sort"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"ramekin/internal/callsite"
	"ramekin/internal/check"
	"ramekin/internal/ddl"
	"ramekin/internal/signature"
)

func load(t *testing.T, path string, d *ddl.Dialect) *signature.Catalog {
	src, err := os.ReadFile(path)
	require.NoError(t, err)
	cat := ddl.Assemble([]*ddl.File{ddl.Read(path, src, d, ddl.Options{})})
	require.Empty(t, cat.Problems)
	return cat
}

func catalogs(t *testing.T) *signature.Index {
	return signature.NewIndex(load(t, "testdata/desk.sql", &ddl.SQLServer), load(t, "testdata/timetable.sql", &ddl.MySQL))
}

func callsOf(t *testing.T, path string) ([]byte, []*callsite.Call) {
	src, err := os.ReadFile("testdata/" + path)
	require.NoError(t, err)
	if strings.HasSuffix(path, ".sql") {
		return src, callsite.FromSQL(ddl.Read(path, src, &ddl.SQLServer, ddl.Options{Detail: true}))
	}
	return src, callsite.Analyze([]callsite.File{{Path: path, Text: src}}, callsite.Source{})
}

// TestRules holds the findings on real-looking source against the comments on
// its lines.
func TestRules(t *testing.T) {
	fired := map[string]bool{}
	for _, path := range []string{"Rules.java", "Types.java", "Rules.cs", "Types.cs", "Rules.py", "Rules.ts", "Rules.php", "rules.sql"} {
		t.Run(path, func(t *testing.T) {
			index := catalogs(t)
			src, calls := callsOf(t, path)
			findings := check.Run(callsite.Resolve(calls, index), nil, check.Options{Index: index})
			findings, _, problems := check.Suppress(findings, check.Suppressions(path, src))
			assert.Empty(t, problems)
			got := map[int][]string{}
			for _, f := range findings {
				got[f.At.Line] = append(got[f.At.Line], f.Rule.Name)
				fired[f.Rule.Name] = true
				assert.NotEmpty(t, f.Reason, f.Rule.Name)
				assert.NotContains(t, f.Message(), "%!", f.Rule.Name)
				assert.Contains(t, []string{path}, f.At.File)
			}
			for i, line := range strings.Split(string(src), "\n") {
				var want []string
				if _, w, ok := strings.Cut(line, " finds "); ok && !strings.Contains(line, `"finds`) {
					want = strings.Fields(w)
				}
				sort.Strings(want)
				sort.Strings(got[i+1])
				assert.Equal(t, want, got[i+1], "line %d: %s", i+1, strings.TrimSpace(line))
			}
		})
	}
	for _, r := range check.Rules {
		if r.Problem == nil {
			assert.True(t, fired[r.Name], "no test data fires %s", r.Name)
		}
	}
}

func TestEveryRuleIsDocumented(t *testing.T) {
	names := map[string]bool{}
	for _, r := range check.Rules {
		assert.False(t, names[r.Name], "%s stands twice", r.Name)
		names[r.Name] = true
		assert.Regexp(t, `^[a-z]+(-[a-z]+)+$`, r.Name)
		assert.Positive(t, r.Severity.Rank(), r.Name)
		assert.NotEmpty(t, r.Group, r.Name)
		assert.NotEmpty(t, r.Fires, r.Name)
		assert.True(t, strings.HasSuffix(r.Why, "."), r.Name)
		assert.NotEmpty(t, r.Examples, r.Name)
		for _, ex := range r.Examples {
			assert.NotEqual(t, ex.Wrong, ex.Right, r.Name)
		}
	}
}

func TestMessagesTellReasonAndMend(t *testing.T) {
	index := catalogs(t)
	_, calls := callsOf(t, "rules.sql")
	findings := check.Run(callsite.Resolve(calls, index), nil, check.Options{Index: index})
	for _, f := range findings {
		if f.Rule.Name != "out-not-received" {
			continue
		}
		assert.Equal(t, "@note is an output of berth.assign, but the call passes it as an input: its value never arrives. Write OUTPUT behind @note.", f.Message())
		assert.Equal(t, "@note", f.Parameter)
		assert.Equal(t, "berth.assign", f.Routine)
		require.Len(t, f.Related, 1)
		assert.Equal(t, signature.Place{File: "testdata/desk.sql", Line: 1, Column: 64}, f.Related[0].At)
		require.NotNil(t, f.Fix)
		require.Len(t, f.Fix.Edits, 1)
		e := f.Fix.Edits[0]
		assert.Equal(t, " OUTPUT", e.Text)
		assert.Equal(t, [2]int{f.At.EndLine, f.At.EndColumn}, [2]int{e.At.Line, e.At.Column}, "it goes right behind the argument")
		return
	}
	t.Fatal("no finding")
}

func TestSeverities(t *testing.T) {
	index := catalogs(t)
	_, calls := callsOf(t, "rules.sql")
	calls = callsite.Resolve(calls, index)
	all := check.Run(calls, nil, check.Options{Index: index})
	some := check.Run(calls, nil, check.Options{Index: index, Severities: map[string]check.Severity{"missing-argument": check.Off, "status-ignored": check.Error}})
	assert.Less(t, len(some), len(all))
	for _, f := range some {
		assert.NotEqual(t, "missing-argument", f.Rule.Name)
		if f.Rule.Name == "status-ignored" {
			assert.Equal(t, check.Error, f.Severity)
		}
	}
}

func TestSavedCatalogsAreSilentWhereTheyCannotKnow(t *testing.T) {
	cat := load(t, "testdata/desk.sql", &ddl.SQLServer)
	data, err := cat.MarshalJSON()
	require.NoError(t, err)
	saved, err := signature.DecodeCatalog(data)
	require.NoError(t, err)
	index := signature.NewIndex(saved)
	src := `import java.sql.*; class A { void a(Connection c) throws SQLException { CallableStatement s = c.prepareCall("{call fare.dynamic(?)}"); s.setString(1, "x"); s.executeQuery().next(); } }`
	calls := callsite.Resolve(callsite.Analyze([]callsite.File{{Path: "A.java", Text: []byte(src)}}, callsite.Source{}), index)
	assert.Empty(t, check.Run(calls, nil, check.Options{Index: index}), "a saved catalog does not tell what dynamic statements send")
}

func TestUnreadableRoutine(t *testing.T) {
	f := ddl.Read("a.sql", []byte("CREATE PROC p @a int @b int AS SELECT 1"), &ddl.SQLServer, ddl.Options{})
	findings := check.Run(nil, f.Problems, check.Options{Index: signature.NewIndex()})
	require.Len(t, findings, 1)
	assert.Equal(t, "unreadable-routine", findings[0].Rule.Name)
	assert.Equal(t, "The header of p cannot be read: a comma is missing before @b.", findings[0].Reason)
	assert.Equal(t, 22, findings[0].At.Column)
}

func TestSuppressions(t *testing.T) {
	text := []byte("a // ramekin: allow status-ignored -- told elsewhere\nb\n-- ramekin: allow missing-argument, extra-argument\n/* ramekin: allow no-such-rule */\n\"ramekin: allow status-ignored\"\n")
	sup := check.Suppressions("x", text)
	require.Len(t, sup, 3)
	assert.Equal(t, "told elsewhere", sup[0].Reason)
	assert.Equal(t, []string{"missing-argument", "extra-argument"}, sup[1].Rules)
	at := func(rule string, line int) *check.Finding {
		return &check.Finding{Rule: check.RuleNamed(rule), At: callsite.Span{File: "x", Line: line}}
	}
	kept, dropped, problems := check.Suppress([]*check.Finding{at("status-ignored", 1), at("status-ignored", 2), at("status-ignored", 3), at("extra-argument", 1)}, sup)
	assert.Equal(t, 2, dropped, "on the line of the comment and on the next")
	assert.Len(t, kept, 2)
	require.Len(t, problems, 2)
	assert.Contains(t, fmt.Sprint(problems), "suppresses nothing")
	assert.Contains(t, fmt.Sprint(problems), "there is no rule no-such-rule")
}
