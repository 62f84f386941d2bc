package source_test

import (
	"os"
	"path/filepath"
	"strings"
	"sync/atomic"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"ramekin/internal/signature"
	"ramekin/internal/source"
)

func write(t *testing.T, dir string, files map[string]string) {
	t.Helper()
	for name, text := range files {
		path := filepath.Join(dir, filepath.FromSlash(name))
		require.NoError(t, os.MkdirAll(filepath.Dir(path), 0o755))
		require.NoError(t, os.WriteFile(path, []byte(text), 0o644))
	}
}

func TestDecode(t *testing.T) {
	for name, test := range map[string]struct{ data, want string }{
		"utf-8":                 {"gr\u00f6\u00dfe", "gr\u00f6\u00dfe"},
		"utf-8 with a mark":     {"\xef\xbb\xbfa", "a"},
		"utf-16, low first":     {"\xff\xfea\x00\xf6\x00", "a\u00f6"},
		"utf-16, high first":    {"\xfe\xff\x00a\x00\xf6", "a\u00f6"},
		"latin-1":               {"gr\xf6\xdfe", "gr\u00f6\u00dfe"},
		"nothing":               {"", ""},
		"a surrogate pair":      {"\xff\xfe\x3d\xd8\xf3\xde", "\U0001F6F3"},
		"half a character more": {"\xff\xfea\x00b", "a\ufffd"},
	} {
		got, err := source.Decode([]byte(test.data))
		require.NoError(t, err, name)
		assert.Equal(t, test.want, string(got), name)
	}
	_, err := source.Decode([]byte("CREATE \x00\x01"))
	assert.ErrorIs(t, err, source.ErrBinary)
}

func TestFiles(t *testing.T) {
	dir := t.TempDir()
	write(t, dir, map[string]string{
		"b/two.sql": "", "a/one.sql": "", "a/skip.txt": "", "a/.gitignore": "gen/\n*.tmp.sql\n!keep.tmp.sql\n# note\n",
		"a/gen/three.sql": "", "a/x.tmp.sql": "", "a/keep.tmp.sql": "", "node_modules/four.sql": "", ".git/five.sql": "", "old/six.sql": "",
	})
	tree := source.Tree{Dir: dir, Exclude: []string{"old/**"}}
	entries, problems, errs := tree.Files([]string{".", "a/one.sql", "missing", "a/skip.txt"}, source.IsDDL)
	var got []string
	for _, e := range entries {
		got = append(got, tree.Show(e.Path))
	}
	assert.Equal(t, []string{"a/keep.tmp.sql", "a/one.sql", "b/two.sql", "a/skip.txt"}, got, "each once, sorted, and what is named even so")
	assert.Empty(t, problems)
	require.Len(t, errs, 1)
	assert.EqualError(t, errs[0], "missing: there is no such file or folder")
}

func TestGlob(t *testing.T) {
	dir := t.TempDir()
	write(t, dir, map[string]string{"db/a.sql": "", "db/x/b.sql": "", "db/c.txt": "", "app/A.java": ""})
	tree := source.Tree{Dir: filepath.Join(dir, "app"), Base: dir, Exclude: []string{"**/x/**"}}
	entries, err := tree.Glob([]string{"db/**/*.sql", "db/*.sql", "nowhere/*.sql"})
	require.NoError(t, err)
	require.Len(t, entries, 1)
	assert.True(t, strings.HasSuffix(tree.Show(entries[0].Path), "/db/a.sql"))
	_, err = tree.Glob([]string{"db/[a"})
	assert.ErrorContains(t, err, "is not closed")
}

func TestLoadWorksTheDialectOutPerFile(t *testing.T) {
	dir := t.TempDir()
	write(t, dir, map[string]string{
		"1.sql": "CREATE PROCEDURE [dbo].[p] @a int AS SET NOCOUNT ON\nGO\n",
		"2.sql": "DELIMITER //\nCREATE PROCEDURE q(IN a INT) SELECT 1//\n",
		"3.sql": "INSERT INTO t VALUES (1)",
		"4.sql": "CREATE PROCEDURE vague(a INT) RETURN 1;",
	})
	loaded, errs := source.Load([]string{"."}, source.Options{Tree: source.Tree{Dir: dir}})
	assert.Empty(t, errs)
	require.Len(t, loaded.Catalog.Routines, 2)
	assert.Equal(t, signature.SQLServer, loaded.Catalog.Routines[0].Dialect)
	assert.Equal(t, signature.MySQL, loaded.Catalog.Routines[1].Dialect)
	require.Len(t, loaded.Catalog.Problems, 1)
	assert.Equal(t, "4.sql", loaded.Catalog.Problems[0].File)

	// Where the neighbours agree, the file that does not tell is read as they are.
	require.NoError(t, os.Remove(filepath.Join(dir, "1.sql")))
	loaded, _ = source.Load([]string{"."}, source.Options{Tree: source.Tree{Dir: dir}})
	assert.Len(t, loaded.Catalog.Routines, 2)
	assert.Equal(t, source.Neighbour, loaded.Files[2].How)
}

func TestUnreadableFilesAreProblems(t *testing.T) {
	dir := t.TempDir()
	write(t, dir, map[string]string{"a.sql": "CREATE PROC x AS \x00", "b.sql": "CREATE PROC [b] AS RETURN 0\nGO"})
	loaded, errs := source.Load([]string{"."}, source.Options{Tree: source.Tree{Dir: dir}})
	assert.Empty(t, errs)
	require.Len(t, loaded.Catalog.Problems, 1)
	assert.Contains(t, loaded.Catalog.Problems[0].Message, "binary file")
	assert.Len(t, loaded.Catalog.Routines, 1)
}

func TestEach(t *testing.T) {
	var sum atomic.Int64
	source.Each(1000, func(i int) { sum.Add(int64(i)) })
	assert.EqualValues(t, 499500, sum.Load())
	source.Each(0, func(int) { t.Fatal("there is nothing to do") })
}

func FuzzDecode(f *testing.F) {
	for _, seed := range []string{"a", "\xff\xfea\x00", "\xfe\xff\x00", "\xef\xbb\xbf", "\xf6"} {
		f.Add([]byte(seed))
	}
	f.Fuzz(func(t *testing.T, data []byte) {
		text, err := source.Decode(data)
		if err == nil && strings.ToValidUTF8(string(text), "") != string(text) {
			t.Fatalf("%q is no UTF-8", text)
		}
	})
}
