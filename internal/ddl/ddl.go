// Package ddl reads SQL text and tells which routines it declares. Each dialect
// is one value in a file of its own, listed in [Dialects]; the pieces of
// grammar that dialects share stand in this file.
//
// [Read] turns one file into the changes it makes to a database, in order.
// [Assemble] applies the changes of several files one after the other, resolves
// the types they declare, and gives the catalog that a server would have.
package ddl

import (
	"fmt"

	"ramekin/internal/body"
	"ramekin/internal/signature"
	"ramekin/internal/sqltext"
	"ramekin/internal/sqltype"
)

// Dialect is how the DDL of one SQL is read.
type Dialect struct {
	Name  signature.Dialect
	Lexis *sqltext.Lexis
	Type  sqltype.Reader
	// Marks score words and other tokens that speak for the dialect.
	Marks Marks
	// identity tells the overloads of one name apart; nil where a later
	// declaration of the name replaces the earlier one.
	identity func(rt *signature.Routine) string
	// read reads the whole text of r.
	read func(r *reader)
}

// Dialects lists every dialect that can be read.
var Dialects = []*Dialect{
	&SQLServer, &MySQL, &MariaDB, &PostgreSQL, &Oracle, &HANA, &Snowflake, &Db2, &Firebird, &Teradata, &SQLPSM,
}

// DialectOf returns the dialect called name, or nil.
func DialectOf(name signature.Dialect) *Dialect {
	for _, d := range Dialects {
		if d.Name == name {
			return d
		}
	}
	return nil
}

// Options say what is wanted beside the signatures.
type Options struct {
	// Detail keeps what bodies and scripts do, statement by statement, in
	// [File.Scopes].
	Detail bool
}

// File is what one text declares.
type File struct {
	Path     string
	Dialect  signature.Dialect
	Problems []signature.Problem
	// Scopes are the routine bodies and script parts in textual order; only
	// with [Options.Detail].
	Scopes []Scope
	Lines  *sqltext.LineTable
	// Source is the text that was read.
	Source []byte

	changes []change
	types   []declared
}

// Scope is a run of statements: a routine's body, or a part of a script.
type Scope struct {
	// Routine is nil for a script.
	Routine *signature.Routine
	Body    *body.Body
}

// Read reads the routines that src, the text of the file path, declares.
func Read(path string, src []byte, d *Dialect, opts Options) *File {
	f := &File{Path: path, Dialect: d.Name, Lines: sqltext.NewLineTable(src)}
	if opts.Detail {
		f.Source = src
	}
	r := &reader{d: d, src: src, file: f, opts: opts}
	r.scan.Reset(src, d.Lexis)
	d.read(r)
	return f
}

// reader reads one text.
type reader struct {
	d    *Dialect
	src  []byte
	file *File
	opts Options
	scan sqltext.Scanner
	// tokens holds the batch or statement at hand; it is used again for the next.
	tokens []sqltext.Token
	// inner holds those of the body at hand, where it stands in a string.
	inner []sqltext.Token
	// parameters holds those of the routine at hand; it is used again too.
	parameters []signature.Parameter
	// origin maps offsets of a text inside a string to the file; nil for the
	// file itself.
	origin []int32
	depth  int
}

func (r *reader) place(offset int) signature.Place {
	if r.origin != nil {
		offset = int(r.origin[min(max(offset, 0), len(r.origin)-1)])
	}
	line, column := r.file.Lines.Position(offset)
	return signature.Place{File: r.file.Path, Line: line, Column: column}
}

func (r *reader) problem(offset int, routine bool, format string, args ...any) {
	p := r.place(offset)
	r.file.Problems = append(r.file.Problems, signature.Problem{
		File: p.File, Line: p.Line, Column: p.Column, Message: fmt.Sprintf(format, args...), Routine: routine,
	})
}

// syntaxError is a header that cannot be read.
type syntaxError struct {
	offset  int
	message string
}

func (e *syntaxError) Error() string { return e.message }

// broken tells of a routine whose header cannot be read.
func (r *reader) broken(rt *signature.Routine, err *syntaxError) {
	name := "the header of this routine"
	if rt != nil && rt.Name != "" {
		name = "the header of " + rt.QualifiedName()
	}
	r.problem(err.offset, true, "%s cannot be read: %s", name, err.message)
}

func (r *reader) unexpected(c *sqltext.Cursor, want string) *syntaxError {
	t := c.Peek()
	if t.Kind == sqltext.EOF {
		return &syntaxError{int(t.Start), "the text ends where " + want + " should stand"}
	}
	return &syntaxError{int(t.Start), fmt.Sprintf("%q stands where %s should stand", clip(c.Text(t), 40), want)}
}

func clip(s string, n int) string {
	if r := []rune(s); len(r) > n {
		return string(r[:n-1]) + "…"
	}
	return s
}

// keepParameters gives the routine a copy of the parameters that were read.
func (r *reader) keepParameters(rt *signature.Routine) {
	rt.Parameters = make([]signature.Parameter, len(r.parameters))
	copy(rt.Parameters, r.parameters)
}

// nameRoutine fills in the name of a routine from the parts that the DDL
// writes. A database before the schema is not kept.
func (r *reader) nameRoutine(rt *signature.Routine, parts []ident) {
	rt.Name = parts[len(parts)-1].name
	rt.Quoted = 0
	if parts[len(parts)-1].quoted {
		rt.Quoted |= signature.NamePart
	}
	if len(parts) > 1 {
		rt.Schema = parts[len(parts)-2].name
		if parts[len(parts)-2].quoted {
			rt.Quoted |= signature.SchemaPart
		}
	}
	rt.SetKey()
}

// extent is the extent from the token at first to the one before last.
func (r *reader) extent(c *sqltext.Cursor, first, last int) signature.Extent {
	p := r.place(int(c.At(first).Start))
	end := r.place(int(c.At(max(last-1, first)).End) - 1)
	return signature.Extent{File: p.File, Line: p.Line, Column: p.Column, EndLine: end.Line}
}

// fill takes over what the body tells about the routine.
func (r *reader) fill(rt *signature.Routine, b *body.Body) {
	if rt.Kind != signature.Function {
		if signature.NamingOf(rt.Dialect).HasStatus {
			rt.Status = b.StatusOf()
		}
		for _, res := range b.Results {
			rs := signature.ResultSet{Line: r.place(res.Offset).Line, Through: res.Through}
			for _, name := range res.Columns {
				rs.Columns = append(rs.Columns, signature.Column{Name: name})
			}
			rt.Results = append(rt.Results, rs)
		}
		rt.SendsMore = len(b.Dynamic) > 0
		for _, c := range b.Calls {
			rt.SendsMore = rt.SendsMore || !c.RowsTaken
		}
	}
}

func (r *reader) scope(rt *signature.Routine, b *body.Body) {
	if r.opts.Detail && r.origin == nil {
		r.file.Scopes = append(r.file.Scopes, Scope{rt, b})
	}
}

// finish takes over what the body tells, and keeps it where it is wanted.
func (r *reader) finish(rt *signature.Routine, b *body.Body) {
	r.fill(rt, b)
	r.scope(rt, b)
}

// bodyOptions are the options for walking over the body of rt, or of a script.
func (r *reader) bodyOptions(rt *signature.Routine) body.Options {
	o := body.Options{Detail: r.opts.Detail, Type: r.d.Type}
	if rt == nil {
		o.Script = true
		return o
	}
	o.Function = rt.Kind == signature.Function
	for _, p := range rt.Outputs() {
		o.Outputs = append(o.Outputs, p.Name)
	}
	return o
}

// columnDefinitions reads ( name type …, … ) of a table type.
func (r *reader) columnDefinitions(c *sqltext.Cursor) []signature.Column {
	return columnDefinitions(c, r.d.Type)
}

func columnDefinitions(c *sqltext.Cursor, read sqltype.Reader) []signature.Column {
	if !c.AcceptOp('(') {
		return nil
	}
	var cols []signature.Column
	for !c.Done() {
		t := c.Peek()
		if t.Kind == sqltext.QuotedName || t.Kind == sqltext.Word && !isTableConstraint(c, t) {
			c.I++
			col := signature.Column{Name: c.Name(t)}
			if !c.AtKw(sqltext.AS) {
				if typ, ok := read(c); ok {
					col.Type = &typ
				}
			}
			cols = append(cols, col)
		}
		depth := 0
		for !c.Done() {
			t := c.Next()
			if t.Kind != sqltext.Punct {
				continue
			}
			if t.Op == '(' {
				depth++
			} else if t.Op == ')' {
				if depth--; depth < 0 {
					return cols
				}
			} else if t.Op == ',' && depth == 0 {
				break
			}
		}
	}
	return cols
}

func isTableConstraint(c *sqltext.Cursor, t sqltext.Token) bool {
	for _, w := range []string{"constraint", "primary", "unique", "check", "index", "foreign", "key"} {
		if t.Is(c.Src, w) {
			return true
		}
	}
	return false
}
