package bind_test

import (
	"database/sql"
	"fmt"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"testing"

	_ "github.com/go-sql-driver/mysql"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"ramekin/internal/bind"
	"ramekin/internal/ddl"
	"ramekin/internal/signature"
	"ramekin/internal/testkit"
)

func run(t *testing.T, dir, name string, args ...string) string {
	t.Helper()
	cmd := exec.Command(name, args...)
	cmd.Dir = dir
	cmd.Env = append(os.Environ(), "GOFLAGS=-mod=mod", "GOWORK=off", "LC_ALL=C.UTF-8")
	out, err := cmd.CombinedOutput()
	require.NoError(t, err, "%s %s\n%s", name, strings.Join(args, " "), out)
	return string(out)
}

// startMariaDB starts a server with an empty database and returns its port.
func startMariaDB(t *testing.T) int {
	t.Helper()
	testkit.Need(t, "mariadb")
	port := testkit.StartMariaDB(t)
	db, err := sql.Open("mysql", fmt.Sprintf("root@tcp(127.0.0.1:%d)/", port))
	require.NoError(t, err)
	defer func() { _ = db.Close() }()
	_, err = db.Exec("CREATE DATABASE harbour CHARACTER SET utf8mb4")
	require.NoError(t, err)
	return port
}

func harbour(t *testing.T) []*signature.Routine {
	src, err := os.ReadFile("testdata/harbour.sql")
	require.NoError(t, err)
	cat := ddl.Assemble([]*ddl.File{ddl.Read("harbour.sql", src, &ddl.MySQL, ddl.Options{})})
	require.Empty(t, cat.Problems)
	return routines(cat)
}

func routines(cat *signature.Catalog) []*signature.Routine {
	var list []*signature.Routine
	for i := range cat.Routines {
		list = append(list, &cat.Routines[i])
	}
	return list
}

func generate(t *testing.T, target *bind.Target, list []*signature.Routine, pkg, dir string) {
	t.Helper()
	files, refusals, err := target.Generate(list, bind.Options{Package: pkg})
	require.NoError(t, err)
	require.Empty(t, refusals)
	for _, f := range files {
		path := filepath.Join(dir, filepath.FromSlash(f.Path))
		require.NoError(t, os.MkdirAll(filepath.Dir(path), 0o755))
		require.NoError(t, os.WriteFile(path, f.Content, 0o644))
	}
}

// TestBindingsOnMariaDB loads routines into a real server, writes the bindings
// from the same file, compiles them and calls every one.
func TestBindingsOnMariaDB(t *testing.T) {
	if testing.Short() {
		t.Skip("starts a server")
	}
	port := startMariaDB(t)
	script, err := filepath.Abs("testdata/harbour.sql")
	require.NoError(t, err)
	run(t, ".", "mariadb", "--no-defaults", "-uroot", "-h127.0.0.1", fmt.Sprintf("-P%d", port), "--default-character-set=utf8mb4", "harbour", "-e", "source "+script)

	t.Run("go", func(t *testing.T) {
		testkit.Need(t, "go")
		dir := t.TempDir()
		for _, name := range []string{"go.mod", "go.sum"} {
			data, err := os.ReadFile("../../" + name)
			require.NoError(t, err)
			require.NoError(t, os.WriteFile(filepath.Join(dir, name), data, 0o644))
		}
		main, err := os.ReadFile("testdata/main.go.txt")
		require.NoError(t, err)
		require.NoError(t, os.WriteFile(filepath.Join(dir, "main.go"), main, 0o644))
		generate(t, &bind.Go, harbour(t), "harbour", filepath.Join(dir, "harbour"))
		run(t, dir, "go", "vet", "./...")
		want := strings.Join([]string{
			"echo -32768 18446744073709551615 12345678901234567890.0123456789 Fähre 🛳 'x' 9999-12-31 2026-05-04 06:12:13.123456 [0 1 255] 0.1 true",
			"nulls null null null null null null true null null",
			"tides 2 2 1", "tides 1 1 0", "shift 45", "tides 2 2 0", "dues 38.85", "refuse true", "",
		}, "\n")
		run(t, dir, "go", "build", "-o", "calls", ".")
		for _, options := range []string{"", "?parseTime=true"} {
			out := run(t, dir, "./calls", fmt.Sprintf("root@tcp(127.0.0.1:%d)/harbour%s", port, options))
			assert.Equal(t, want, out, "with %q", options)
		}
	})

	t.Run("java", func(t *testing.T) {
		testkit.Need(t, "javac", "java")
		jar := "/usr/share/java/mariadb-java-client.jar"
		if _, err := os.Stat(jar); err != nil {
			if os.Getenv("RAMEKIN_REQUIRE_TOOLS") != "" {
				t.Fatal("MariaDB's JDBC driver is not installed")
			}
			t.Skip("MariaDB's JDBC driver is not installed")
		}
		dir := t.TempDir()
		generate(t, &bind.Java, harbour(t), "harbour", dir)
		main, err := os.ReadFile("testdata/Main.java.txt")
		require.NoError(t, err)
		require.NoError(t, os.WriteFile(filepath.Join(dir, "Main.java"), main, 0o644))
		files, err := filepath.Glob(filepath.Join(dir, "harbour", "*.java"))
		require.NoError(t, err)
		run(t, dir, "javac", append([]string{"-Xlint:all", "-Werror", "-d", "classes", "Main.java"}, files...)...)
		out := run(t, dir, "java", "-cp", "classes:"+jar, "Main", fmt.Sprintf("jdbc:mariadb://127.0.0.1:%d/harbour?user=root", port))
		assert.Equal(t, strings.Join([]string{
			"echo -32768 18446744073709551615 12345678901234567890.0123456789 true 9999-12-31 2026-05-04T06:12:13.123456 [0, 1, -1] 0.1 true",
			"nulls null null null null null null null null null",
			"tides 2 2 1 412 412", "tides 1 1 0", "shift 45", "tides 2", "dues 38.85", "refuse true", "",
		}, "\n"), out)
	})
}
