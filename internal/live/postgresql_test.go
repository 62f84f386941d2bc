package live_test

import (
	"context"
	"database/sql"
	"os"
	"path/filepath"
	"regexp"
	"strings"
	"testing"

	_ "github.com/jackc/pgx/v5/stdlib"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"ramekin/internal/ddl"
	"ramekin/internal/live"
	"ramekin/internal/signature"
	"ramekin/internal/testkit"
)

// postgreSQL is a server that a test started.
type postgreSQL struct {
	t   *testing.T
	url string
	// names holds what the server calls a type, by the text of a file.
	names map[string]string
}

func (s *postgreSQL) exec(database, statement string) error {
	db, err := sql.Open("pgx", s.url+"/"+database)
	require.NoError(s.t, err)
	defer func() { _ = db.Close() }()
	conn, err := db.Conn(context.Background())
	require.NoError(s.t, err)
	defer func() { _ = conn.Close() }()
	_, err = conn.ExecContext(context.Background(), statement)
	return err
}

// resolve asks the server for its names of the types that routines have.
func (s *postgreSQL) resolve(database string, cat *signature.Catalog) {
	db, err := sql.Open("pgx", s.url+"/"+database)
	require.NoError(s.t, err)
	defer func() { _ = db.Close() }()
	s.names = map[string]string{}
	each(cat, func(t *signature.Type) {
		text := strings.ReplaceAll(t.Text, "@extschema@.", "")
		if _, known := s.names[t.Text]; known {
			return
		}
		var name sql.NullString
		s.names[t.Text] = t.Text
		if t.Kind != signature.KindAnchored && !strings.Contains(text, "%") {
			if err := db.QueryRow("SELECT to_regtype($1)::text", text).Scan(&name); err == nil && name.Valid {
				s.names[t.Text] = name.String
			}
		}
	})
}

// each calls f with every type of the routines' headers.
func each(cat *signature.Catalog, f func(t *signature.Type)) {
	for i := range cat.Routines {
		rt := &cat.Routines[i]
		for k := range rt.Parameters {
			f(&rt.Parameters[k].Type)
		}
		if rt.Returns != nil {
			f(&rt.Returns.Type)
			for _, c := range rt.Returns.Columns {
				if c.Type != nil {
					f(c.Type)
				}
			}
		}
	}
}

// compare reads the database and holds it against the catalog of the files.
func (s *postgreSQL) compare(database, schema string, cat *signature.Catalog, known []explained) int {
	server, err := live.Read(context.Background(), s.url+"/"+database, live.Options{})
	require.NoError(s.t, err)
	s.resolve(database, cat)
	lines := func(cat *signature.Catalog, name func(t *signature.Type) string) (list []string) {
		for i := range cat.Routines {
			rt := cat.Routines[i]
			if rt.Schema == "pg_catalog" {
				continue // what is put beside the server's own is not listed
			}
			if rt.Returns != nil && !rt.Returns.Set && len(rt.Outputs()) > 0 && rt.Kind == signature.Function {
				rt.Returns = nil // the server works the result out where none is written
			}
			rt.Key = strings.ReplaceAll(strings.TrimPrefix(rt.Key, "@extschema@."), "@extschema@", "public")
			rt.Key = strings.TrimPrefix(rt.Key, schema+".")
			list = append(list, outline(&rt, func(t *signature.Type) string { return name(t) + ":" + string(t.Kind) }))
		}
		return list
	}
	return compare(s.t, database, lines(cat, func(t *signature.Type) string { return s.names[t.Text] }),
		lines(server, func(t *signature.Type) string { return strings.TrimPrefix(t.Text, "public.") }), known)
}

// postgreSQLExplained are the differences between extension scripts and the
// server that docs/fidelity.md explains.
var postgreSQLExplained = []explained{
	{`server: function \w*(range)\(.* language internal$`, "CREATE TYPE … AS RANGE makes its constructors by itself"},
}

// TestPostgreSQLExtensions creates every extension that is installed, and holds
// what the server says of its routines against what its scripts say.
func TestPostgreSQLExtensions(t *testing.T) {
	if testing.Short() {
		t.Skip("starts a server")
	}
	dirs, _ := filepath.Glob("/usr/share/postgresql/*/extension")
	if len(dirs) == 0 {
		testkit.Need(t, "initdb")
		t.Skip("no extensions")
	}
	dir := dirs[len(dirs)-1]
	s := &postgreSQL{t: t, url: testkit.StartPostgreSQL(t)}
	controls, err := filepath.Glob(dir + "/*.control")
	require.NoError(t, err)
	total, created := 0, 0
	for _, control := range controls {
		name := strings.TrimSuffix(filepath.Base(control), ".control")
		scripts := extensionScripts(t, dir, name, map[string]bool{})
		if scripts == nil {
			continue
		}
		database := "x_" + regexp.MustCompile(`\W`).ReplaceAllString(name, "_")
		require.NoError(t, s.exec("postgres", "CREATE DATABASE "+database+" TEMPLATE template0"))
		if err := s.exec(database, `CREATE EXTENSION "`+name+`" CASCADE`); err != nil {
			t.Logf("%s cannot be created here: %v", name, err)
			continue
		}
		created++
		var files []*ddl.File
		for _, path := range scripts {
			src, err := os.ReadFile(path)
			require.NoError(t, err)
			files = append(files, ddl.Read(filepath.Base(path), src, &ddl.PostgreSQL, ddl.Options{}))
		}
		cat := ddl.Assemble(files)
		assert.Empty(t, cat.Problems, name)
		text, err := os.ReadFile(control)
		require.NoError(t, err)
		schema := "public" // where what is written without a schema goes
		if m := regexp.MustCompile(`(?m)^\s*schema\s*=\s*'?(\w+)`).FindStringSubmatch(string(text)); m != nil {
			schema = m[1]
		}
		total += s.compare(database, schema, cat, postgreSQLExplained)
	}
	t.Logf("%d routines of %d extensions are the same", total, created)
	assert.Greater(t, total, 300)
}

// TestPostgreSQLOwn holds a file of every kind of header against the server.
func TestPostgreSQLOwn(t *testing.T) {
	if testing.Short() {
		t.Skip("starts a server")
	}
	s := &postgreSQL{t: t, url: testkit.StartPostgreSQL(t)}
	src, err := os.ReadFile("testdata/postgresql.sql")
	require.NoError(t, err)
	require.NoError(t, s.exec("postgres", string(src)))
	cat := ddl.Assemble([]*ddl.File{ddl.Read("postgresql.sql", src, &ddl.PostgreSQL, ddl.Options{})})
	assert.Empty(t, cat.Problems)
	n := s.compare("postgres", "public", cat, []explained{{`function anchored\(`, "the server puts the column's type in the place of %TYPE"}})
	assert.Equal(t, len(cat.Routines)-1, n)
	assert.Equal(t, 20, n)
	t.Logf("%d routines are the same", n)

	_, err = live.Read(context.Background(), strings.Replace(s.url, "postgres@", "nobody:s3cret@", 1)+"/postgres", live.Options{})
	require.Error(t, err)
	assert.Contains(t, err.Error(), "nobody")
	assert.NotContains(t, err.Error(), "s3cret")
	_, err = live.Read(context.Background(), s.url+"/not_there", live.Options{})
	assert.ErrorContains(t, err, "not_there")
}

var (
	controlLine = regexp.MustCompile(`(?m)^\s*(\w+)\s*=\s*'?([^'\n#]*)'?`)
	versionPart = regexp.MustCompile(`^(.+?)--(.+?)(?:--(.+))?\.sql$`)
)

// extensionScripts lists the scripts that CREATE EXTENSION runs, those of the
// extensions that it requires first.
func extensionScripts(t *testing.T, dir, name string, seen map[string]bool) []string {
	if seen[name] || name == "plpgsql" { // which is there before any other
		return []string{}
	}
	seen[name] = true
	text, err := os.ReadFile(dir + "/" + name + ".control")
	if err != nil {
		return nil
	}
	settings := map[string]string{}
	for _, m := range controlLine.FindAllStringSubmatch(string(text), -1) {
		settings[m[1]] = strings.TrimSpace(m[2])
	}
	var list []string
	for _, required := range strings.FieldsFunc(settings["requires"], func(r rune) bool { return r == ',' || r == ' ' }) {
		list = append(list, extensionScripts(t, dir, required, seen)...)
	}
	target := settings["default_version"]
	found, _ := filepath.Glob(dir + "/" + name + "--*.sql")
	updates := map[string]map[string]string{} // from, to, path
	base := map[string]string{}
	for _, path := range found {
		m := versionPart.FindStringSubmatch(filepath.Base(path))
		if m == nil || m[1] != name {
			continue
		}
		if m[3] == "" {
			base[m[2]] = path
			continue
		}
		if updates[m[2]] == nil {
			updates[m[2]] = map[string]string{}
		}
		updates[m[2]][m[3]] = path
	}
	if p := base[target]; p != "" {
		return append(list, p)
	}
	// The shortest way from a whole script to the version that is wanted.
	type way struct {
		at    string
		paths []string
	}
	var queue []way
	for v, p := range base {
		queue = append(queue, way{v, []string{p}})
	}
	visited := map[string]bool{}
	for len(queue) > 0 {
		w := queue[0]
		queue = queue[1:]
		if w.at == target {
			return append(list, w.paths...)
		}
		if visited[w.at] {
			continue
		}
		visited[w.at] = true
		for to, p := range updates[w.at] {
			queue = append(queue, way{to, append(append([]string{}, w.paths...), p)})
		}
	}
	return nil
}
