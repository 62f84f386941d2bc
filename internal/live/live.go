// Package live reads the catalog of a running database from its system tables.
// Each kind of server is one [Server] value in a file of its own, listed in
// [Servers]; the drivers are pure Go.
//
// Nothing is written to the database. A password may stand in the URL, in the
// environment or in the password file that the server's own clients use; it is
// in no error, no catalog and no place that this package returns.
package live

import (
	"context"
	"database/sql"
	"errors"
	"fmt"
	"net/url"
	"os"
	"path/filepath"
	"strings"
	"time"

	"ramekin/internal/ddl"
	"ramekin/internal/signature"
	"ramekin/internal/sqltext"
	"ramekin/internal/sqltype"
)

// Server is a kind of server that a catalog can be read from.
type Server struct {
	// Schemes are those of the URLs that name such a server.
	Schemes []string
	// Example is a URL with all its parts.
	Example string
	driver  string
	// source makes the driver's data source name.
	source func(u *url.URL, opts Options) (string, error)
	// readOnly is set where the driver can open a transaction that cannot write.
	readOnly bool
	read     func(r *reader) error
}

// Servers lists every kind of server.
var Servers = []*Server{&PostgreSQL, &MySQL, &Firebird, &SQLServer, &Oracle}

// Options say how a server is reached.
type Options struct {
	// Timeout bounds the whole reading; 0 for [DefaultTimeout].
	Timeout time.Duration
	// Getenv looks up the environment; nil for that of the process.
	Getenv func(string) string
	// Home is the folder that password files are looked for in; "" for that of
	// the user.
	Home string
}

// DefaultTimeout bounds a reading for which nothing else is said.
const DefaultTimeout = 30 * time.Second

func (o Options) complete() Options {
	if o.Timeout == 0 {
		o.Timeout = DefaultTimeout
	}
	if o.Getenv == nil {
		o.Getenv = os.Getenv
	}
	if o.Home == "" {
		o.Home, _ = os.UserHomeDir()
	}
	return o
}

// ServerOf returns the kind of server that source names, or nil where it is no
// URL of one.
func ServerOf(source string) *Server {
	scheme, _, ok := strings.Cut(source, "://")
	if !ok {
		return nil
	}
	for _, s := range Servers {
		for _, known := range s.Schemes {
			if strings.EqualFold(scheme, known) {
				return s
			}
		}
	}
	return nil
}

// Show is the URL as it may be told: without its password and its options.
func Show(source string) string {
	u, err := url.Parse(source)
	if err != nil {
		scheme, _, _ := strings.Cut(source, "://")
		return scheme + "://…"
	}
	u.RawQuery, u.Fragment = "", ""
	if u.User != nil {
		u.User = url.User(u.User.Username())
	}
	return u.String()
}

// Read reads the catalog of the database that the URL source names.
func Read(ctx context.Context, source string, opts Options) (*signature.Catalog, error) {
	server := ServerOf(source)
	if server == nil {
		return nil, fmt.Errorf("%s: no kind of server is known by that name", Show(source))
	}
	opts = opts.complete()
	u, err := url.Parse(source)
	if err != nil { // the error would repeat the URL, and so the password
		return nil, fmt.Errorf("%s: this is not a URL: write it as %s, with special characters of the password as %%40 and the like", Show(source), server.Example)
	}
	password, _ := u.User.Password()
	dsn, err := server.source(u, opts)
	if err != nil {
		return nil, fmt.Errorf("%s: %w", Show(source), hide(err, password, ""))
	}
	ctx, cancel := context.WithTimeout(ctx, opts.Timeout)
	defer cancel()
	cat, err := read(ctx, server, dsn, Show(source))
	if err != nil {
		if errors.Is(ctx.Err(), context.DeadlineExceeded) {
			return nil, fmt.Errorf("%s: no answer within %s: is the server there, and the port open?", Show(source), opts.Timeout)
		}
		return nil, fmt.Errorf("%s: %w", Show(source), hide(err, password, dsn))
	}
	return cat, nil
}

func read(ctx context.Context, server *Server, dsn, place string) (*signature.Catalog, error) {
	db, err := sql.Open(server.driver, dsn)
	if err != nil {
		return nil, err
	}
	defer func() { _ = db.Close() }()
	db.SetMaxOpenConns(1)
	if err := db.PingContext(ctx); err != nil {
		return nil, err
	}
	tx, err := db.BeginTx(ctx, &sql.TxOptions{ReadOnly: server.readOnly})
	if err != nil {
		return nil, err
	}
	defer func() { _ = tx.Rollback() }()
	r := &reader{query: func(query string, args ...any) ([]row, error) { return rows(ctx, tx, query, args...) }, place: place}
	if err := server.read(r); err != nil {
		return nil, err
	}
	return r.catalog(), nil
}

// hiddenError is an error whose text has no password.
type hiddenError struct {
	text string
	err  error
}

func (e *hiddenError) Error() string { return e.text }
func (e *hiddenError) Unwrap() error { return e.err }

func hide(err error, secrets ...string) error {
	text := strings.Join(strings.Fields(err.Error()), " ") // some drivers write over several lines
	for _, s := range secrets {
		if s != "" {
			text = strings.ReplaceAll(text, s, "…")
			text = strings.ReplaceAll(text, url.QueryEscape(s), "…")
		}
	}
	return &hiddenError{text, err}
}

// row is one row of a system table; what is null is "".
type row map[string]string

// is reports whether a column says yes in one of the ways that servers have.
func (r row) is(column string) bool {
	switch strings.ToLower(strings.TrimSpace(r[column])) {
	case "1", "t", "true", "y", "yes":
		return true
	}
	return false
}

// number is the whole number in a column, 0 where it is none.
func (r row) number(column string) int {
	n, negative := 0, false
	for i, c := range strings.TrimSpace(r[column]) {
		switch {
		case c == '-' && i == 0:
			negative = true
		case c >= '0' && c <= '9' && n < 1<<40:
			n = n*10 + int(c-'0')
		default:
			return n
		}
	}
	if negative {
		return -n
	}
	return n
}

func rows(ctx context.Context, tx *sql.Tx, query string, args ...any) ([]row, error) {
	rs, err := tx.QueryContext(ctx, query, args...)
	if err != nil {
		return nil, err
	}
	defer func() { _ = rs.Close() }()
	names, err := rs.Columns()
	if err != nil {
		return nil, err
	}
	values := make([]sql.NullString, len(names))
	into := make([]any, len(names))
	for i := range values {
		into[i] = &values[i]
	}
	var list []row
	for rs.Next() {
		if err := rs.Scan(into...); err != nil {
			return nil, err
		}
		r := row{}
		for i, name := range names {
			r[strings.ToLower(name)] = values[i].String
		}
		list = append(list, r)
	}
	return list, rs.Err()
}

// reader gathers the routines of one database.
type reader struct {
	query    func(query string, args ...any) ([]row, error)
	place    string
	routines []*signature.Routine
	byID     map[string]*signature.Routine
	problems []signature.Problem
}

// add adds a routine that the server knows by id.
func (r *reader) add(id string, rt *signature.Routine) *signature.Routine {
	if r.byID == nil {
		r.byID = map[string]*signature.Routine{}
	}
	rt.At = signature.Extent{File: r.place}
	rt.Quoted = signature.SchemaPart | signature.ContainerPart | signature.NamePart // names are as the server stores them
	rt.SetKey()
	r.routines = append(r.routines, rt)
	r.byID[id] = rt
	return rt
}

// parameter adds a parameter to a routine.
func (r *reader) parameter(rt *signature.Routine, p signature.Parameter) {
	p.Position = len(rt.Parameters) + 1
	p.At = rt.At.Place()
	rt.Parameters = append(rt.Parameters, p)
}

func (r *reader) problem(format string, args ...any) {
	r.problems = append(r.problems, signature.Problem{File: r.place, Message: fmt.Sprintf(format, args...)})
}

func (r *reader) catalog() *signature.Catalog {
	cat := &signature.Catalog{Problems: r.problems}
	for _, rt := range r.routines {
		cat.Routines = append(cat.Routines, *rt)
	}
	return cat
}

// typeOf reads a type that the server writes out.
func typeOf(read sqltype.Reader, lex *sqltext.Lexis, text string) signature.Type {
	src := []byte(text)
	s := sqltext.NewScanner(src, lex)
	var tokens []sqltext.Token
	for t := s.Next(); t.Kind != sqltext.EOF; t = s.Next() {
		tokens = append(tokens, t)
	}
	c := sqltext.NewCursor(src, lex, tokens)
	t, ok := read(&c)
	if !ok {
		return signature.Type{Text: text, Name: strings.ToLower(text), Kind: signature.KindUnknown}
	}
	t.Text = text
	return t
}

// fromText fills in what only the text of a routine tells: status codes and
// result sets, and defaults where takeDefaults is set.
func fromText(rt *signature.Routine, d *ddl.Dialect, text string, takeDefaults bool) {
	rt.SendsMore = rt.Kind == signature.Procedure
	cat := ddl.Assemble([]*ddl.File{ddl.Read("", []byte(text), d, ddl.Options{})})
	if len(cat.Routines) != 1 {
		if rt.Status == nil && rt.Kind == signature.Procedure && signature.NamingOf(rt.Dialect).HasStatus {
			rt.Status = &signature.Status{Open: true}
		}
		return
	}
	read := &cat.Routines[0]
	rt.Status, rt.Results, rt.SendsMore = read.Status, read.Results, read.SendsMore
	if takeDefaults && len(read.Parameters) == len(rt.Parameters) {
		for i := range rt.Parameters {
			rt.Parameters[i].Default = read.Parameters[i].Default
		}
	}
}

// option is the value that the environment gives for the first of names that it has.
func (o Options) option(names ...string) string {
	for _, n := range names {
		if v := o.Getenv(n); v != "" {
			return v
		}
	}
	return ""
}

// file reads a file below the home folder; "" where there is none.
func (o Options) file(name string) string {
	if o.Home == "" {
		return ""
	}
	data, err := os.ReadFile(filepath.Join(o.Home, name))
	if err != nil {
		return ""
	}
	return string(data)
}
