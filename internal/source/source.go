// Package source is where catalogs come from: files and folders of DDL, saved
// catalogs, and running databases. It walks folders, honours ignore files, decodes text and
// works out dialects; what the text means is for package ddl.
package source

import (
	"bytes"
	"context"
	"path/filepath"
	"strings"

	"ramekin/internal/ddl"
	"ramekin/internal/live"
	"ramekin/internal/signature"
)

// DDLExtensions are those of the files that are looked into below a folder.
var DDLExtensions = map[string]bool{
	".sql": true, ".ddl": true, ".tsql": true, ".mysql": true, ".prc": true, ".proc": true, ".sp": true, ".fnc": true,
	".func": true, ".udf": true, ".dump": true, ".pks": true, ".pkb": true, ".pck": true, ".pls": true, ".plsql": true, ".plb": true, ".tps": true, ".tpb": true,
	".pgsql": true, ".db2": true, ".clp": true, ".btq": true, ".bteq": true, ".spl": true, ".hdbprocedure": true, ".hdbfunction": true, ".hdblibrary": true,
	".hdbscalarfunction": true, ".hdbtablefunction": true, ".hdbtabletype": true,
}

// IsDDL reports whether a file of this name is looked into below a folder.
func IsDDL(name string) bool { return DDLExtensions[strings.ToLower(filepath.Ext(name))] }

// extensions are those of the files that only one dialect has.
var extensions = map[string]signature.Dialect{
	".pks": signature.Oracle, ".pkb": signature.Oracle, ".pck": signature.Oracle, ".pls": signature.Oracle, ".plsql": signature.Oracle, ".plb": signature.Oracle,
	".tps": signature.Oracle, ".tpb": signature.Oracle, ".pgsql": signature.PostgreSQL, ".tsql": signature.SQLServer, ".btq": signature.Teradata, ".bteq": signature.Teradata,
	".hdbprocedure": signature.HANA, ".hdbfunction": signature.HANA, ".hdblibrary": signature.HANA, ".hdbscalarfunction": signature.HANA,
	".hdbtablefunction": signature.HANA, ".hdbtabletype": signature.HANA, ".db2": signature.Db2, ".clp": signature.Db2,
}

// How the dialect of a file came to be known.
const (
	Given     = "given"
	Certain   = "certain"
	Likely    = "likely"
	Neighbour = "as its neighbours"
	Running   = "a running database"
	NoDialect = "nothing in it shows a dialect or a routine"
)

// FileInfo tells what was made of one file.
type FileInfo struct {
	Path    string
	Dialect signature.Dialect
	How     string
}

// Loaded is a catalog and what is known of its reading.
type Loaded struct {
	Catalog *signature.Catalog
	Files   []FileInfo
	// DDL are the files as read; nil for a saved catalog.
	DDL []*ddl.File
}

// Options say how a source is read.
type Options struct {
	Tree Tree
	// Dialect is the dialect of every file; "" to work it out per file.
	Dialect signature.Dialect
	// Detail keeps what the bodies do, for the calls between routines.
	Detail bool
	// Live says how running databases are reached.
	Live live.Options
}

// Load reads the catalog of a source given as paths and as URLs of databases.
// What is not there comes back as errors beside the catalog of the rest.
func Load(sources []string, opts Options) (*Loaded, []error) {
	var paths, urls []string
	for _, s := range sources {
		if live.ServerOf(s) != nil {
			urls = append(urls, s)
		} else {
			paths = append(paths, s)
		}
	}
	entries, problems, errs := opts.Tree.Files(paths, IsDDL)
	loaded, more := LoadEntries(entries, opts)
	errs = append(errs, more...)
	loaded.Catalog.Problems = append(problems, loaded.Catalog.Problems...)
	for _, u := range urls {
		cat, err := live.Read(context.Background(), u, opts.Live)
		if err != nil {
			errs = append(errs, err)
			continue
		}
		info := FileInfo{Path: live.Show(u), How: Running}
		if len(cat.Routines) > 0 {
			info.Dialect = cat.Routines[0].Dialect
		}
		loaded.Files = append(loaded.Files, info)
		loaded.Catalog.Routines = append(loaded.Catalog.Routines, cat.Routines...)
		loaded.Catalog.Problems = append(loaded.Catalog.Problems, cat.Problems...)
	}
	return loaded, errs
}

// LoadEntries reads the catalog that the files of entries declare together.
func LoadEntries(entries []Entry, opts Options) (*Loaded, []error) {
	type result struct {
		text    []byte
		guess   ddl.Guess
		file    *ddl.File
		saved   *signature.Catalog
		problem string
		err     error
	}
	results := make([]result, len(entries))
	read := func(i int, d signature.Dialect) {
		r := &results[i]
		r.file = ddl.Read(opts.Tree.Show(entries[i].Path), r.text, ddl.DialectOf(d), ddl.Options{Detail: opts.Detail})
		r.text = nil
	}
	Each(len(entries), func(i int) {
		r := &results[i]
		text, err := ReadText(entries[i].Path)
		if err != nil {
			r.problem = PlainReason(err)
			return
		}
		if strings.EqualFold(filepath.Ext(entries[i].Path), ".json") || bytes.Contains(text[:min(len(text), 256)], []byte(signature.CatalogFormat)) {
			r.saved, r.err = signature.DecodeCatalog(text)
			return
		}
		r.text = text
		if opts.Dialect != "" {
			read(i, opts.Dialect)
			return
		}
		r.guess = ddl.Detect(text)
		if d := extensions[strings.ToLower(filepath.Ext(entries[i].Path))]; d != "" && !(r.guess.Certain && r.guess.Dialect != d) {
			r.guess = ddl.Guess{Dialect: d, Certain: true, Declares: r.guess.Declares} // a file of this name is written for one server
		}
		if r.guess.Dialect != "" {
			read(i, r.guess.Dialect)
		}
	})
	neighbour := commonDialect(len(results), func(i int) signature.Dialect { return results[i].guess.Dialect })
	loaded := &Loaded{Catalog: &signature.Catalog{}}
	var errs []error
	var problems []signature.Problem
	var saved []signature.Routine
	for i := range results {
		r := &results[i]
		path := opts.Tree.Show(entries[i].Path)
		info := FileInfo{Path: path, How: Certain}
		switch {
		case r.err != nil:
			errs = append(errs, &FileError{path, r.err})
			continue
		case r.problem != "":
			problems = append(problems, signature.Problem{File: path, Line: 0, Message: "this file could not be read: " + r.problem})
			continue
		case r.saved != nil:
			saved = append(saved, r.saved.Routines...)
			problems = append(problems, r.saved.Problems...)
			loaded.Files = append(loaded.Files, FileInfo{Path: path, How: "saved catalog"})
			continue
		case opts.Dialect != "":
			info.How = Given
		case r.guess.Dialect == "" && neighbour != "":
			read(i, neighbour)
			info.How = Neighbour
		case r.guess.Dialect == "":
			if r.guess.Declares {
				problems = append(problems, signature.Problem{File: path, Line: 1, Column: 1,
					Message: "the dialect of this file does not show from its text: give it with --dialect, or in ramekin.toml"})
			}
			loaded.Files = append(loaded.Files, FileInfo{Path: path, How: NoDialect})
			continue
		case !r.guess.Certain:
			info.How = Likely
		}
		info.Dialect = r.file.Dialect
		loaded.Files = append(loaded.Files, info)
		loaded.DDL = append(loaded.DDL, r.file)
	}
	cat := ddl.Assemble(loaded.DDL)
	cat.Routines = append(saved, cat.Routines...)
	cat.Problems = append(problems, cat.Problems...)
	loaded.Catalog = cat
	return loaded, errs
}

// commonDialect is the dialect of all files that show one, or "" where they
// differ.
func commonDialect(n int, dialect func(i int) signature.Dialect) signature.Dialect {
	var common signature.Dialect
	for i := range n {
		d := dialect(i)
		if d == "" || d == common {
			continue
		}
		if common != "" {
			return ""
		}
		common = d
	}
	return common
}

// FileError is a file that cannot serve as what it was named for.
type FileError struct {
	Path string
	Err  error
}

func (e *FileError) Error() string { return e.Path + ": " + e.Err.Error() }

// Unwrap returns the reason.
func (e *FileError) Unwrap() error { return e.Err }
