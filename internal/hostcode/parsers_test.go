package hostcode_test

import (
	"archive/zip"
	"bufio"
	"bytes"
	"fmt"
	"go/ast"
	"go/parser"
	"go/token"
	"io"
	"os"
	"os/exec"
	"path/filepath"
	"sort"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"ramekin/internal/hostcode"
	"ramekin/internal/testkit"
)

// The tests of this file hold the reader against the languages' own parsers on
// whatever large trees of source the machine has: every call of a name with a
// text among its arguments must be found on the same line with the same number
// of arguments.

// leastFound is the share of calls that must be found.
const leastFound = 0.999

// textCalls lists the calls of names that have a text among their arguments.
func textCalls(t *hostcode.Tree) []string {
	var out []string
	for id := hostcode.NodeID(1); int(id) < len(t.Nodes); id++ {
		if t.Kind(id) != hostcode.Call {
			continue
		}
		fn := t.Child(id, 0)
		name, at := t.Name(fn), t.At(fn).NameStart
		switch t.Kind(fn) {
		case hostcode.Name, hostcode.Member:
		case hostcode.Keyword: // super(…), which javac counts too
			if t.Lang != &hostcode.Java {
				continue
			}
			name, at = t.Text(fn), t.At(fn).Start
		default:
			continue
		}
		n, text := -1, false
		for c := range t.Children(id) {
			n++
			text = text || n > 0 && isText(t, c)
		}
		if text && name != "import" && !(t.Lang == &hostcode.PHP && strings.HasPrefix(name, "$")) { // import("module") and $f("x") are no calls of a name
			line, _ := t.Position(int(at))
			out = append(out, fmt.Sprintf("%d\t%s\t%d", line, name, n))
		}
	}
	return out
}

func isText(t *hostcode.Tree, id hostcode.NodeID) bool {
	k := t.Kind(id)
	if k == hostcode.Binary && t.Lang == &hostcode.Java { // javac joins literals
		return t.At(id).Op == '+' && isText(t, t.Child(id, 0)) && isText(t, t.Child(id, 1))
	}
	return k == hostcode.String || k == hostcode.Interp
}

// tree is a tree of source to compare on.
type tree struct {
	root       string
	extensions []string
	most       int // files
	skip       func(path string) bool
}

func (tr tree) files(t *testing.T) []string {
	var files []string
	err := filepath.WalkDir(tr.root, func(path string, d os.DirEntry, err error) error {
		if err != nil || d.IsDir() || !d.Type().IsRegular() {
			return nil
		}
		for _, e := range tr.extensions {
			if strings.HasSuffix(path, e) && (tr.skip == nil || !tr.skip(path)) {
				files = append(files, path)
			}
		}
		return nil
	})
	require.NoError(t, err)
	sort.Strings(files)
	if n := len(files); tr.most > 0 && n > tr.most { // evenly over the tree
		some := files[:0:0]
		for i := range tr.most {
			some = append(some, files[i*n/tr.most])
		}
		files = some
	}
	return files
}

// holdAgainstParser compares the reader with the output of a parser's command.
func holdAgainstParser(t *testing.T, lang func(path string) *hostcode.Language, files []string, parser *exec.Cmd) {
	if len(files) == 0 {
		if os.Getenv("RAMEKIN_REQUIRE_TOOLS") != "" {
			t.Fatal("no source of that language on this machine")
		}
		t.Skip("no source of that language on this machine")
	}
	parser.Stdin = strings.NewReader(strings.Join(files, "\n") + "\n")
	var errs bytes.Buffer
	parser.Stderr = &errs
	out, err := parser.Output()
	require.NoError(t, err, errs.String())
	want := map[string][]string{}
	for s := bufio.NewScanner(bytes.NewReader(out)); s.Scan(); {
		file, call, ok := strings.Cut(s.Text(), "\t")
		if !ok {
			continue
		}
		if strings.HasPrefix(call, "0\t") {
			want[file] = append(want[file], []string{}...)
			if want[file] == nil {
				want[file] = []string{}
			}
			continue
		}
		want[file] = append(want[file], call)
	}
	compareCalls(t, lang, files, want)
}

func compareCalls(t *testing.T, lang func(path string) *hostcode.Language, files []string, want map[string][]string) {
	var parser hostcode.Parser
	var read hostcode.Tree
	total, missed, extra, bytes := 0, 0, 0, 0
	var shown, shownMore []string
	for _, f := range files {
		calls, ok := want[f]
		if !ok {
			continue // the language's own parser finds faults in it
		}
		src, err := os.ReadFile(f)
		require.NoError(t, err)
		bytes += len(src)
		have := map[string]int{}
		for _, c := range textCalls(parser.Parse(src, lang(f), &read)) {
			have[c]++
		}
		total += len(calls)
		for _, c := range calls {
			if have[c] == 0 {
				missed++
				if len(shown) < 40 {
					shown = append(shown, f+"\t"+c)
				}
				continue
			}
			have[c]--
		}
		for c, n := range have {
			extra += n
			if n > 0 && len(shownMore) < 20 {
				shownMore = append(shownMore, f+"\t"+c)
			}
		}
	}
	found := float64(total-missed) / float64(max(total, 1))
	t.Logf("%d files, %.1f MB, %d calls with a text: %d missed, %d more (%.4f %% found)", len(want), float64(bytes)/1e6, total, missed, extra, 100*found)
	if len(shown) > 0 {
		t.Logf("missed, among others:\n%s", strings.Join(shown[:min(len(shown), 12)], "\n"))
	}
	assert.GreaterOrEqual(t, found, leastFound, "missed:\n%s", strings.Join(shown, "\n"))
	assert.Less(t, float64(extra), 0.001*float64(total)+1, "the reader finds calls that are none:\n%s", strings.Join(shownMore, "\n"))
}

func always(l *hostcode.Language) func(string) *hostcode.Language {
	return func(string) *hostcode.Language { return l }
}

// packages is where the npm packages are that the tests read: a folder with
// node_modules in it.
func packages(t *testing.T) string {
	dir := os.Getenv("RAMEKIN_NODE_PACKAGES")
	if dir == "" && os.Getenv("RAMEKIN_REQUIRE_TOOLS") != "" {
		t.Fatal("RAMEKIN_NODE_PACKAGES names no folder with node_modules")
	}
	if dir == "" {
		t.Skip("RAMEKIN_NODE_PACKAGES names no folder with node_modules")
	}
	return filepath.Join(dir, "node_modules")
}

func TestScriptAgainstItsCompiler(t *testing.T) {
	testkit.Need(t, "node")
	root := packages(t)
	files := tree{root: root, extensions: []string{".js", ".mjs", ".cjs", ".jsx", ".ts", ".tsx"}, most: 3000,
		skip: func(p string) bool { return strings.HasSuffix(p, ".min.js") || strings.Contains(p, "/compiled/") }}.files(t)
	holdAgainstParser(t, hostcode.LanguageOf, files, exec.Command("node", "testdata/parsers/calls.js", filepath.Join(root, "typescript")))
}

func TestPythonAgainstItsParser(t *testing.T) {
	testkit.Need(t, "python3")
	lib, err := exec.Command("python3", "-c", "import sysconfig; print(sysconfig.get_paths()['stdlib'])").Output()
	require.NoError(t, err)
	files := tree{root: strings.TrimSpace(string(lib)), extensions: []string{".py"}, most: 1500}.files(t)
	holdAgainstParser(t, always(&hostcode.Python), files, exec.Command("python3", "testdata/parsers/calls.py"))
}

func TestPHPAgainstItsTokenizer(t *testing.T) {
	testkit.Need(t, "php")
	files := tree{root: "/usr/share/php", extensions: []string{".php"}, most: 4000}.files(t)
	holdAgainstParser(t, always(&hostcode.PHP), files, exec.Command("php", "testdata/parsers/calls.php"))
}

func TestGoAgainstItsParser(t *testing.T) {
	files := tree{root: testkit.GoSources(t), extensions: []string{".go"}, most: 1500}.files(t)
	want := map[string][]string{}
	for _, f := range files {
		fset := token.NewFileSet()
		file, err := parser.ParseFile(fset, f, nil, parser.SkipObjectResolution)
		if err != nil {
			continue
		}
		want[f] = []string{}
		ast.Inspect(file, func(n ast.Node) bool {
			call, ok := n.(*ast.CallExpr)
			if !ok {
				return true
			}
			var name *ast.Ident
			switch f := call.Fun.(type) {
			case *ast.Ident:
				name = f
			case *ast.SelectorExpr:
				name = f.Sel
			}
			for _, a := range call.Args {
				if lit, ok := a.(*ast.BasicLit); ok && lit.Kind == token.STRING && name != nil && (!call.Ellipsis.IsValid() || a != call.Args[len(call.Args)-1]) {
					want[f] = append(want[f], fmt.Sprintf("%d\t%s\t%d", fset.PositionFor(name.Pos(), false).Line, name.Name, len(call.Args)))
					break
				}
			}
			return true
		})
	}
	compareCalls(t, always(&hostcode.Go), files, want)
}

func TestJavaAgainstItsCompiler(t *testing.T) {
	testkit.Need(t, "java", "javac")
	archives, _ := filepath.Glob("/usr/lib/jvm/*/lib/src.zip")
	if len(archives) == 0 {
		t.Skip("no JDK sources on this machine")
	}
	archive, err := zip.OpenReader(archives[0])
	require.NoError(t, err)
	defer func() { _ = archive.Close() }()
	dir := t.TempDir()
	n := 0
	for _, f := range archive.File {
		if !strings.HasSuffix(f.Name, ".java") {
			continue
		}
		if n++; n%6 != 0 { // some 2,500 of 15,000
			continue
		}
		r, err := f.Open()
		require.NoError(t, err)
		text, err := io.ReadAll(r)
		require.NoError(t, err)
		path := filepath.Join(dir, filepath.FromSlash(f.Name))
		require.NoError(t, os.MkdirAll(filepath.Dir(path), 0o755))
		require.NoError(t, os.WriteFile(path, text, 0o644))
	}
	files := tree{root: dir, extensions: []string{".java"}}.files(t)
	holdAgainstParser(t, always(&hostcode.Java), files, exec.Command("java", "testdata/parsers/Calls.java"))
}
