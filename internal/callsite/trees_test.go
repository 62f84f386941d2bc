package callsite_test

import (
	"archive/zip"
	"fmt"
	"io"
	"math/rand/v2"
	"os"
	"os/exec"
	"path/filepath"
	"sort"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"ramekin/internal/callsite"
	"ramekin/internal/hostcode"
	"ramekin/internal/testkit"
)

// The tests of this file put calls at random places of large real trees of
// source, the statements and comments of others between prepare, bind and
// execute, and look for them again.

// planted is how a call is written in one language: its steps, between which
// other text may stand.
type planted struct {
	extension string
	files     func(t *testing.T) []string
	steps     []string
	want      string
	indented  bool
}

// between are the texts that may stand between two steps, by the language's form.
func between(extension string) []string {
	switch extension {
	case ".py":
		return []string{"", "# CALL decoy.one(1)", `_ = "CALL decoy.two(?)"`, "pass", `log("it's {CALL decoy.three(?)}")`, "_ = [x for x in (1, 2) if x]"}
	case ".go":
		return []string{"", "// CALL decoy.one(1)", "_ = `CALL decoy.two(?)`", "if true {\n}", "for range 2 {\n}", "_ = func() int { return '\"' }"}
	case ".php":
		return []string{"", "# CALL decoy.one(1)", `$_ = 'CALL decoy.two(?)';`, "if (true) { }", `error_log("it's {CALL decoy.three(?)}");`, "/* } */", "?> text <?php"}
	case ".js":
		return []string{"", "// CALL decoy.one(1)", "`CALL decoy.two(${1 + 1})`;", "if (true) { }", `console.log("it's CALL decoy.three(?)");`, "/* } */", `/["'}]/.test("x");`}
	}
	return []string{"", "// CALL decoy.one(1)", `Object o_ = "{call decoy.two(?)}";`, "if (true) { }", `System.out.println("it's {call decoy.three(?)}");`, "/* } */", "char c_ = '\"';"}
}

func sourceFiles(root, extension string, most int) func(t *testing.T) []string {
	return func(t *testing.T) []string {
		var files []string
		_ = filepath.WalkDir(root, func(path string, d os.DirEntry, err error) error {
			if err == nil && d.Type().IsRegular() && strings.HasSuffix(path, extension) && !strings.HasSuffix(path, ".min.js") {
				files = append(files, path)
			}
			return nil
		})
		sort.Strings(files)
		var some []string
		for i := 0; i < most && len(files) > 0; i++ {
			some = append(some, files[i*len(files)/most])
		}
		return some
	}
}

func pythonLibrary(t *testing.T) []string {
	out, err := exec.Command("python3", "-c", "import sysconfig; print(sysconfig.get_paths()['stdlib'])").Output()
	if err != nil {
		return nil
	}
	return sourceFiles(strings.TrimSpace(string(out)), ".py", 400)(t)
}

func jdkSources(t *testing.T) []string {
	archives, _ := filepath.Glob("/usr/lib/jvm/*/lib/src.zip")
	if len(archives) == 0 {
		return nil
	}
	archive, err := zip.OpenReader(archives[0])
	require.NoError(t, err)
	defer func() { _ = archive.Close() }()
	dir := t.TempDir()
	var files []string
	for i, f := range archive.File {
		if i%40 != 0 || !strings.HasSuffix(f.Name, ".java") {
			continue
		}
		r, err := f.Open()
		require.NoError(t, err)
		text, err := io.ReadAll(r)
		require.NoError(t, err)
		path := filepath.Join(dir, fmt.Sprintf("f%d.java", i))
		require.NoError(t, os.WriteFile(path, text, 0o644))
		files = append(files, path)
	}
	return files
}

func TestPlantedCallsAreFound(t *testing.T) {
	node := os.Getenv("RAMEKIN_NODE_PACKAGES")
	for _, p := range []planted{
		{extension: ".java", files: jdkSources, want: "planted.call(in int32 7, out string)",
			steps: []string{`java.sql.CallableStatement cs_ = ((java.sql.Connection) null).prepareCall("{call planted.call(?, ?)}");`, `cs_.setInt(1, 7);`, `cs_.registerOutParameter(2, java.sql.Types.VARCHAR);`, `cs_.execute();`}},
		{extension: ".py", files: pythonLibrary, indented: true, want: "planted.call(in int32 7, in string 'x')",
			steps: []string{`sql_ = "{CALL planted.call(?, ?)}"`, `cur_ = db_.cursor()`, `args_ = (7, 'x')`, `cur_.execute(sql_, args_)`}},
		{extension: ".js", files: sourceFiles(filepath.Join(node, "node_modules"), ".js", 400), want: "planted.call(in int32 7, in string 'x')",
			steps: []string{`const sql_ = 'CALL planted.call(?, ?)';`, `const args_ = [7, 'x'];`, `db_.query(sql_, args_);`}},
		{extension: ".go", files: sourceFiles(testkit.GoSources(t), ".go", 400), want: `planted.call(in int32 7, in string "x")`,
			steps: []string{`text_ := "CALL planted.call(?, ?)"`, `first_ := 7`, `db_.Exec(text_, first_, "x")`}},
		{extension: ".php", files: sourceFiles("/usr/share/php", ".php", 400), want: `planted.call(in int32 7, in string "x")`,
			steps: []string{`$st_ = $db_->prepare('CALL planted.call(?, ?)');`, `$st_->bindValue(1, 7);`, `$st_->bindValue(2, "x");`, `$st_->execute();`}},
	} {
		t.Run(p.extension, func(t *testing.T) {
			files := p.files(t)
			if len(files) == 0 || p.extension == ".js" && node == "" {
				t.Skip("no source of that language on this machine")
			}
			random := rand.New(rand.NewPCG(1, uint64(len(p.extension))))
			tried, missed := 0, 0
			var shown []string
			for _, f := range files {
				src, err := os.ReadFile(f)
				require.NoError(t, err)
				if len(src) > 200_000 {
					continue
				}
				planted, ok := plant(src, p, random)
				if !ok {
					continue
				}
				tried++
				var got []string
				for _, c := range callsite.Analyze([]callsite.File{{Path: f, Text: planted}}, callsite.Source{}) {
					if strings.HasPrefix(c.Named(), "planted") || strings.HasPrefix(c.Named(), "decoy") {
						got = append(got, strings.Replace(describe(c), "a7", "7", 1))
					}
				}
				want := p.want
				if p.extension == ".go" {
					want = strings.Replace(want, "int32 7", "int32 first_", 1)
				}
				if len(got) != 1 || got[0] != want {
					missed++
					if len(shown) < 8 {
						shown = append(shown, fmt.Sprint(f, " ", got))
					}
				}
			}
			t.Logf("%d calls planted, %d not found as they are", tried, missed)
			require.Greater(t, tried, 50)
			assert.LessOrEqual(t, float64(missed), 0.001*float64(tried)+1, strings.Join(shown, "\n"))
		})
	}
}

// plant puts the steps at the beginning of a function of the source.
func plant(src []byte, p planted, random *rand.Rand) ([]byte, bool) {
	tree := hostcode.Parse(src, hostcode.LanguageOf("x"+p.extension))
	var places []int
	for id := hostcode.NodeID(1); int(id) < len(tree.Nodes); id++ {
		if tree.Kind(id) != hostcode.Func {
			continue
		}
		block := tree.Last(id)
		if tree.Kind(block) != hostcode.Block || tree.At(block).First == 0 {
			continue
		}
		first := tree.At(tree.At(block).First)
		at := int(tree.At(block).Start)
		switch {
		case p.indented: // before the first statement, which begins its line
			at = int(first.Start)
			line := at
			for line > 0 && src[line-1] == ' ' {
				line--
			}
			if line == 0 || src[line-1] != '\n' || line == at {
				continue
			}
		case src[at] != '{':
			continue
		case strings.HasPrefix(strings.TrimSpace(string(src[at+1:min(len(src), at+200)])), "super("), strings.HasPrefix(strings.TrimSpace(string(src[at+1:min(len(src), at+200)])), "this("):
			continue
		default:
			at++
		}
		places = append(places, at)
	}
	if len(places) == 0 {
		return nil, false
	}
	at := places[random.IntN(len(places))]
	indent := ""
	if p.indented {
		for i := at - 1; i >= 0 && src[i] == ' '; i-- {
			indent += " "
		}
	}
	fill := between(p.extension)
	var b strings.Builder
	for i, s := range p.steps {
		if i > 0 || !p.indented {
			b.WriteString("\n" + indent)
		}
		b.WriteString(s)
		if f := fill[random.IntN(len(fill))]; f != "" && i < len(p.steps)-1 {
			b.WriteString("\n" + indent + f)
		}
	}
	b.WriteString("\n" + indent)
	return append(append(append([]byte(nil), src[:at]...), b.String()...), src[at:]...), true
}
