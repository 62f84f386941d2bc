package cli

import (
	"os"
	"path/filepath"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"ramekin/internal/check"
	"ramekin/internal/demo"
)

func TestSettings(t *testing.T) {
	text, err := demo.ReadFile("ramekin.toml")
	require.NoError(t, err)
	s, err := parseSettings("ramekin.toml", text)
	require.NoError(t, err)
	assert.Equal(t, []string{"desk", "office", "timetable"}, sortedKeys(s.Databases))
	assert.Equal(t, "mysql", s.Databases["timetable"].Dialect)
	assert.Equal(t, []string{"desk", "timetable"}, s.Applications["boarding"].Databases)
	require.Len(t, s.Bindings, 2)
	assert.Equal(t, "ferry.gen", s.Bindings[0].Package)
	sev, err := s.severities()
	require.NoError(t, err)
	assert.Equal(t, check.Note, sev["result-set-ignored"])
}

func TestSettingsRefuse(t *testing.T) {
	for text, want := range map[string]string{
		"exclud = []":                                   `ramekin.toml:1:1: there is no setting "exclud"; did you mean "exclude"?`,
		"[databases.a]\nddl = [\"x\"]\nhost = 1":        `ramekin.toml:3:1: there is no setting "databases.a.host"`,
		"[databases.a]\ndialect = \"mysql\"":            "databases.a.ddl: name the files",
		"[applications.a]\ndatabases = []":              "applications.a.code: name its files",
		"[severities]\nno-such = \"off\"":               `there is no rule "no-such"`,
		"[severities]\nstatus-ignored = \"loud\"":       `"loud" is no severity`,
		"exclude = 3":                                   "ramekin.toml:1:",
		"[[bindings]]\ndatabase = \"x\"":                `there is no database "x" here`,
		"[databases.a]\nddl = [\"x\"]\nddl = [\"y\"]\n": "ramekin.toml:3:",
	} {
		_, err := parseSettings("ramekin.toml", []byte(text))
		assert.ErrorContains(t, err, want, text)
	}
}

func TestFindSettingsUpwards(t *testing.T) {
	dir := t.TempDir()
	below := filepath.Join(dir, "a", "b")
	require.NoError(t, os.MkdirAll(below, 0o755))
	s, err := findSettings(below)
	require.NoError(t, err)
	assert.Nil(t, s)
	require.NoError(t, os.WriteFile(filepath.Join(dir, settingsFile), []byte("exclude = [\"x\"]"), 0o644))
	s, err = findSettings(below)
	require.NoError(t, err)
	require.NotNil(t, s)
	assert.Equal(t, filepath.Join(dir, settingsFile), s.path)
}

func TestWriteFile(t *testing.T) {
	dir := t.TempDir()
	path := filepath.Join(dir, "new", "a.txt")
	require.NoError(t, writeFile(path, []byte("one")))
	info, err := os.Stat(path)
	require.NoError(t, err)
	require.NoError(t, writeFile(path, []byte("one")), "the same again")
	again, err := os.Stat(path)
	require.NoError(t, err)
	assert.Equal(t, info.ModTime(), again.ModTime(), "a file that does not change is left alone")
	require.NoError(t, writeFile(path, []byte("two")))
	data, err := os.ReadFile(path)
	require.NoError(t, err)
	assert.Equal(t, "two", string(data))
	left, err := os.ReadDir(filepath.Dir(path))
	require.NoError(t, err)
	assert.Len(t, left, 1, "no temporary file is left")
	assert.Error(t, writeFile(filepath.Join(path, "below-a-file"), []byte("x")))
}

func TestNewFolder(t *testing.T) {
	dir := t.TempDir()
	assert.Equal(t, "trip", newFolder(dir, "trip"))
	require.NoError(t, os.Mkdir(filepath.Join(dir, "trip"), 0o755))
	assert.Equal(t, "trip-2", newFolder(dir, "trip"))
}

func FuzzSettings(f *testing.F) {
	f.Add([]byte("[databases.a]\nddl = [\"x\"]\n[[bindings]]\ndatabase = \"a\"\n[severities]\nx = \"y\""))
	f.Add([]byte("exclude = [\"**/[\"]\n[applications.b]\ncode=['c']"))
	f.Fuzz(func(_ *testing.T, text []byte) {
		if s, err := parseSettings("ramekin.toml", text); err == nil {
			_, _ = s.severities()
		}
	})
}
