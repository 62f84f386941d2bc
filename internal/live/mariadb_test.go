package live_test

import (
	"context"
	"database/sql"
	"fmt"
	"os"
	"path/filepath"
	"regexp"
	"strings"
	"testing"
	"unicode/utf8"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"ramekin/internal/ddl"
	"ramekin/internal/live"
	"ramekin/internal/signature"
	"ramekin/internal/testkit"
)

// mysqlTest parts a file of MariaDB's own test suite into its statements, with
// the delimiter as the file sets it. Commands of the test language go.
func mysqlTest(text string) []string {
	var statements []string
	delimiter := ";"
	var b strings.Builder
	quote := byte(0)
	for line := range strings.Lines(text) {
		trimmed := strings.TrimSpace(line)
		if b.Len() == 0 {
			if strings.HasPrefix(trimmed, "#") || strings.HasPrefix(trimmed, "--") || trimmed == "" || trimmed == "}" || trimmed == "{" {
				continue
			}
			if m := delimiterLine.FindStringSubmatch(trimmed); m != nil {
				delimiter = strings.TrimSuffix(m[1], delimiter)
				continue
			}
		}
		for i := 0; i < len(line); i++ {
			c := line[i]
			switch {
			case quote != 0:
				if c == '\\' && quote != '`' && i+1 < len(line) {
					b.WriteByte(c)
					i++
					c = line[i]
				} else if c == quote {
					quote = 0
				}
			case c == '\'' || c == '"' || c == '`':
				quote = c
			case c == '#' || c == '-' && strings.HasPrefix(line[i:], "-- "):
				i = len(line) - 1
				c = '\n'
			case strings.HasPrefix(line[i:], delimiter):
				statements = append(statements, strings.TrimSpace(b.String()))
				b.Reset()
				i += len(delimiter) - 1
				continue
			}
			b.WriteByte(c)
		}
		if strings.TrimSpace(b.String()) == "" {
			b.Reset()
		}
	}
	return statements
}

var (
	delimiterLine  = regexp.MustCompile(`(?i)^delimiter\s+(\S+)$`)
	createsRoutine = regexp.MustCompile(`(?is)^CREATE\s+(OR\s+REPLACE\s+)?(DEFINER\s*=\s*\S+(\s*@\s*\S+)?\s+)?(AGGREGATE\s+)?(PROCEDURE|FUNCTION|PACKAGE)\b`)
	setsMode       = regexp.MustCompile(`(?is)^SET\s+(SESSION\s+|@@(session\.)?|@@)?sql_mode\s*=`)
	aboutTables    = regexp.MustCompile(`(?is)^(CREATE|DROP|ALTER)\s+(OR\s+REPLACE\s+)?(TEMPORARY\s+)?TABLE\b`)
	ofAnotherPlace = regexp.MustCompile(`(?is)\b(mysql|test\d*|mtr|db\w*|mysqltest\d*|information_schema)\s*\.`)
)

// sameMariaDBType holds the type that a file writes against the one that the
// server shows, which spells out what it adds.
func sameMariaDBType(file, server *signature.Type) bool {
	switch {
	case file.Kind == signature.KindBool && server.Kind == signature.KindInt8: // BOOLEAN is TINYINT(1)
		return true
	case file.Kind == signature.KindJSON && server.Kind == signature.KindString: // JSON is LONGTEXT
		return true
	case file.Name == "number" && server.Kind == signature.KindFloat64: // NUMBER without digits is DOUBLE
		return file.Precision == 0
	case file.Kind == signature.KindAnchored || server.Kind == signature.KindAnchored:
		return true // the server keeps the words, and looks the type up when it runs
	}
	if file.Kind != server.Kind {
		return false
	}
	return (file.Length == 0 || file.Length == server.Length || server.Length == 0) &&
		(file.Precision == 0 || file.Precision == server.Precision) && (file.Scale == 0 || file.Scale == server.Scale)
}

// TestMariaDBSuite gives the routines of MariaDB's own test suite, in both
// modes, to a server and to the reader of files.
func TestMariaDBSuite(t *testing.T) {
	if testing.Short() {
		t.Skip("starts a server")
	}
	const suite = "/usr/share/mysql/mysql-test"
	files, _ := filepath.Glob(suite + "/main/*.test")
	more, _ := filepath.Glob(suite + "/suite/*/t/*.test")
	oracle, _ := filepath.Glob(suite + "/suite/compat/oracle/t/*.test")
	include, _ := filepath.Glob(suite + "/include/*.inc")
	files = append(append(append(files, more...), oracle...), include...)
	if len(files) == 0 {
		if os.Getenv("RAMEKIN_REQUIRE_TOOLS") != "" {
			t.Fatal("the test suite of MariaDB is not installed")
		}
		t.Skip("the test suite of MariaDB is not installed")
	}
	port := testkit.StartMariaDB(t)
	db, err := sql.Open("mysql", fmt.Sprintf("root@tcp(127.0.0.1:%d)/", port))
	require.NoError(t, err)
	t.Cleanup(func() { _ = db.Close() })
	same, refused := 0, 0
	for _, path := range files {
		text, err := os.ReadFile(path)
		require.NoError(t, err)
		if !utf8.Valid(text) || !regexp.MustCompile(`(?i)create[^;]*\b(procedure|function|package)\b`).Match(text) {
			continue
		}
		s, r := compareMariaDB(t, db, port, strings.TrimPrefix(path, suite+"/"), string(text))
		same += s
		refused += r
	}
	t.Logf("%d routines are the same; the server refused %d statements, most of them on purpose", same, refused)
	assert.Greater(t, same, 1500)
}

// compareMariaDB runs one file and returns how many routines are the same, and
// how many statements the server refused.
func compareMariaDB(t *testing.T, db *sql.DB, port int, name, text string) (same, refused int) {
	ctx := context.Background()
	conn, err := db.Conn(ctx)
	require.NoError(t, err)
	defer func() { _ = conn.Close() }()
	exec := func(s string) error { _, err := conn.ExecContext(ctx, s); return err }
	for _, s := range []string{"DROP DATABASE IF EXISTS fidelity", "CREATE DATABASE fidelity", "USE fidelity", "SET SESSION sql_mode=DEFAULT", "SET NAMES utf8mb4"} {
		require.NoError(t, exec(s))
	}
	// Routines stay until one of the same name comes; then all are compared, and
	// the database is made anew with the tables that it had.
	const head = "DELIMITER \x01\n"
	script, tables, n := head, []string{}, 0
	flush := func() {
		if n > 0 {
			same += holdMariaDB(t, conn, port, name, script)
		}
		mode := ""
		require.NoError(t, conn.QueryRowContext(ctx, "SELECT @@sql_mode").Scan(&mode))
		for _, s := range []string{"SET SESSION sql_mode=DEFAULT", "DROP DATABASE fidelity", "CREATE DATABASE fidelity", "USE fidelity"} {
			require.NoError(t, exec(s))
		}
		script, n = head, 0
		for _, s := range tables {
			if exec(s) == nil {
				script += s + "\x01\n"
			}
		}
		require.NoError(t, exec("SET SESSION sql_mode='"+mode+"'"))
	}
	for _, s := range mysqlTest(text) {
		if strings.Contains(s, "$") && !strings.Contains(s, "$$") || !utf8.ValidString(s) || strings.Contains(s, "\x01") {
			continue
		}
		switch {
		case setsMode.MatchString(s):
			_ = exec(s)
		case aboutTables.MatchString(s) && !ofAnotherPlace.MatchString(s):
			if exec(s) == nil {
				tables = append(tables, s)
				script += s + "\x01\n"
			}
		case createsRoutine.MatchString(s):
			if ofAnotherPlace.MatchString(strings.SplitN(s, "(", 2)[0]) {
				continue
			}
			replaces := strings.Contains(strings.ToUpper(strings.SplitN(s, "(", 2)[0]), "REPLACE")
			if replaces && !strings.Contains(strings.ToUpper(s[:min(len(s), 60)]), "BODY") {
				flush()
			}
			err := exec(s)
			if err != nil && strings.Contains(err.Error(), "already exists") {
				flush()
				err = exec(s)
			}
			if err != nil {
				refused++
				continue
			}
			n++
			// The mode at hand decides how the text is read.
			var mode string
			require.NoError(t, conn.QueryRowContext(ctx, "SELECT @@sql_mode").Scan(&mode))
			script += "SET sql_mode='" + mode + "'\x01\n" + s + "\x01\n"
		}
	}
	flush()
	return same, refused
}

// holdMariaDB holds the script that made the database against what the server
// says, and returns how many routines are the same.
func holdMariaDB(t *testing.T, conn *sql.Conn, port int, name, script string) (same int) {
	server, err := live.Read(context.Background(), fmt.Sprintf("mariadb://root@127.0.0.1:%d/fidelity", port), live.Options{})
	require.NoError(t, err)
	file := ddl.Assemble([]*ddl.File{ddl.Read(name, []byte(script), &ddl.MariaDB, ddl.Options{})})
	for _, p := range file.Problems {
		assert.Fail(t, name+": "+p.Message)
	}
	index := map[string][]*signature.Routine{}
	key := func(rt *signature.Routine) string {
		return strings.ToLower(string(rt.Kind) + rt.Container + "." + rt.Name)
	}
	for i := range file.Routines {
		index[key(&file.Routines[i])] = append(index[key(&file.Routines[i])], &file.Routines[i])
	}
	for i := range server.Routines {
		s := &server.Routines[i]
		list := index[key(s)]
		if len(list) == 0 {
			if s.Container == "" && !isAggregate(conn, s.Name) {
				assert.Fail(t, name+": only on the server: "+outline(s, func(t *signature.Type) string { return t.Text }))
			}
			continue
		}
		f := list[0]
		index[key(s)] = list[1:]
		if d := differences(f, s, sameMariaDBType); len(d) > 0 {
			assert.Fail(t, name+": "+strings.Join(d, "\n"))
			continue
		}
		same++
	}
	for _, left := range index {
		for _, f := range left {
			if f.Container == "" {
				assert.Fail(t, name+": only in the file: "+outline(f, func(t *signature.Type) string { return t.Text }))
			}
		}
	}
	return same
}

// isAggregate reports whether a function is an aggregate, which is no routine.
func isAggregate(conn *sql.Conn, name string) bool {
	var aggregate string
	err := conn.QueryRowContext(context.Background(), "SELECT aggregate FROM mysql.proc WHERE db = 'fidelity' AND type = 'FUNCTION' AND name = ?", name).Scan(&aggregate)
	return err == nil && aggregate == "GROUP"
}
