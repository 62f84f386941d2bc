package cli

import (
	"bytes"
	"path/filepath"
	"strings"

	"ramekin/internal/callsite"
	"ramekin/internal/check"
	"ramekin/internal/ddl"
	"ramekin/internal/hostcode"
	"ramekin/internal/signature"
	"ramekin/internal/source"
)

// application is the code of one application as read.
type application struct {
	files        int
	calls        []*callsite.Call
	problems     []signature.Problem
	suppressions []*check.Suppression
}

// keep drops what does not stand in, or is not used by, one of the files.
func (a *application) keep(files map[string]bool) {
	var calls []*callsite.Call
	for _, c := range a.calls {
		if files[c.At.File] || files[c.Use.File] {
			calls = append(calls, c)
		}
	}
	var problems []signature.Problem
	for _, p := range a.problems {
		if files[p.File] {
			problems = append(problems, p)
		}
	}
	var suppressions []*check.Suppression
	for _, s := range a.suppressions {
		if files[s.File] {
			suppressions = append(suppressions, s)
		}
	}
	a.calls, a.problems, a.suppressions, a.files = calls, problems, suppressions, len(files)
}

func isCode(name string) bool {
	return hostcode.LanguageOf(name) != nil || source.IsDDL(name) || callsite.IsSheet(name) || strings.HasSuffix(strings.ToLower(name), ".xml")
}

// loadApplication reads the files of entries and finds the calls in them. The
// dialect is that of SQL scripts; "" to work it out from their text.
func loadApplication(entries []source.Entry, tree source.Tree, dialect signature.Dialect) *application {
	type result struct {
		text     []byte
		problem  string
		skipped  bool
		classes  []string
		names    []string
		sql      []*callsite.Call
		more     []signature.Problem
		suppress []*check.Suppression
	}
	results := make([]result, len(entries))
	source.Each(len(entries), func(i int) {
		r := &results[i]
		path := entries[i].Path
		isHost := hostcode.LanguageOf(path) != nil
		if !isHost && !isCode(path) && !entries[i].Named {
			r.skipped = true
			return
		}
		text, err := source.ReadText(path)
		if err != nil {
			r.problem = source.PlainReason(err)
			return
		}
		shown := tree.Show(path)
		r.suppress = check.Suppressions(shown, text)
		switch {
		case callsite.IsSheet(path):
			r.sql, r.more = callsite.FromSheet(shown, text)
			return
		case strings.HasSuffix(strings.ToLower(path), ".xml"):
			if r.skipped = !callsite.IsMapper(path, text); !r.skipped {
				r.sql = callsite.FromMapper(shown, text)
			}
			return
		}
		if !isHost {
			r.sql, r.more = scriptCalls(shown, text, dialect)
			return
		}
		if strings.HasSuffix(path, ".go") {
			r.names = packageNames(text)
		}
		calls, classes := callsite.Skim(hostcode.LanguageOf(path), text)
		if calls {
			r.text = text
			return
		}
		r.classes = classes
	})
	app := &application{}
	declares := map[string][]int{}
	var hosts []callsite.File
	for i := range results {
		r := &results[i]
		if r.skipped {
			continue
		}
		app.files++
		shown := tree.Show(entries[i].Path)
		app.suppressions = append(app.suppressions, r.suppress...)
		app.problems = append(app.problems, r.more...)
		if r.problem != "" {
			app.problems = append(app.problems, signature.Problem{File: shown, Message: "this file could not be read: " + r.problem})
			continue
		}
		if r.text != nil {
			hosts = append(hosts, callsite.File{Path: shown, Text: r.text})
		}
		for _, c := range r.classes {
			declares[c] = append(declares[c], i)
		}
	}
	code := &codeTree{entries: entries, tree: tree, declares: declares, packageNames: map[string]map[string][]int{}}
	for i := range results {
		dir := filepath.Dir(entries[i].Path)
		for _, n := range results[i].names {
			if code.packageNames[dir] == nil {
				code.packageNames[dir] = map[string][]int{}
			}
			code.packageNames[dir][n] = append(code.packageNames[dir][n], i)
		}
	}
	calls := callsite.Analyze(hosts, callsite.Source{Find: code.declaring, Module: code.module, Beside: code.beside})
	// Calls come in the order of the files, whichever language they are in.
	byFile := map[string][]*callsite.Call{}
	for _, c := range calls {
		byFile[c.At.File] = append(byFile[c.At.File], c)
	}
	for i := range results {
		shown := tree.Show(entries[i].Path)
		app.calls = append(app.calls, byFile[shown]...)
		delete(byFile, shown)
		app.calls = append(app.calls, results[i].sql...)
	}
	for _, c := range calls { // texts of files beside those that were named
		if byFile[c.At.File] != nil {
			app.calls = append(app.calls, c)
		}
	}
	return app
}

// callWords are those without which a script calls nothing: a statement that
// calls, or one that functions can stand in.
var callWords = [][]byte{[]byte("exec"), []byte("call"), []byte("select"), []byte("perform"), []byte("begin"), []byte("return"), []byte("set")}

// mayCallSQL finds the words without which a script calls nothing.
func mayCallSQL(text []byte) bool {
	lower := bytes.ToLower(text)
	for _, w := range callWords {
		if bytes.Contains(lower, w) {
			return true
		}
	}
	return false
}

// callDialect tells the dialect of a script by the statement that it calls
// routines with; "" where it has both or none.
func callDialect(text []byte) signature.Dialect {
	lower := bytes.ToLower(text)
	switch exec, call := bytes.Contains(lower, []byte("exec")), bytes.Contains(lower, []byte("call")); {
	case exec && !call:
		return signature.SQLServer
	case call && !exec:
		return signature.MySQL
	}
	return ""
}

// saysCall reports whether a text has a statement that calls.
func saysCall(text []byte) bool {
	lower := bytes.ToLower(text)
	return bytes.Contains(lower, []byte("exec")) || bytes.Contains(lower, []byte("call"))
}

// scriptCalls finds the calls of an SQL file.
func scriptCalls(path string, text []byte, dialect signature.Dialect) ([]*callsite.Call, []signature.Problem) {
	if !mayCallSQL(text) {
		return nil, nil
	}
	if dialect == "" {
		g := ddl.Detect(text)
		dialect = g.Dialect
		if dialect == "" && !g.Declares { // a script of calls alone
			dialect = callDialect(text)
		}
	}
	d := ddl.DialectOf(dialect)
	if d == nil && !saysCall(text) {
		return nil, nil // functions in queries may be anything
	}
	if d == nil {
		return nil, []signature.Problem{{File: path, Line: 1, Column: 1,
			Message: "the dialect of this file does not show from its text: give it with --dialect, or in ramekin.toml"}}
	}
	f := ddl.Read(path, text, d, ddl.Options{Detail: true})
	return callsite.FromSQL(f), f.Problems
}

// walkCode finds the files of application code under paths.
func walkCode(tree source.Tree, paths []string) ([]source.Entry, []signature.Problem, []error) {
	return tree.Files(paths, func(name string) bool { return isCode(name) && !strings.HasPrefix(name, ".") })
}
