package signature

import (
	"bytes"
	"encoding/json"
	"errors"
	"fmt"
	"slices"
	"strings"
)

// CatalogFormat and CatalogVersion head the JSON of a catalog.
const (
	CatalogFormat  = "ramekin.catalog"
	CatalogVersion = 1
)

// Catalog holds the signatures of one database in the order of their
// declaration, and what could not be read of them.
type Catalog struct {
	// Name is the database's name in the settings, "" without settings.
	Name     string
	Routines []Routine
	Problems []Problem
}

type catalogJSON struct {
	Format   string    `json:"format"`
	Version  int       `json:"version"`
	Routines []Routine `json:"routines"`
	Problems []Problem `json:"problems"`
}

// MarshalJSON writes the catalog in the format "ramekin.catalog", version 1.
func (c *Catalog) MarshalJSON() ([]byte, error) {
	out := catalogJSON{CatalogFormat, CatalogVersion, make([]Routine, len(c.Routines)), c.Problems}
	for i := range c.Routines {
		out.Routines[i] = c.Routines[i].complete()
	}
	if out.Problems == nil {
		out.Problems = []Problem{}
	}
	var b bytes.Buffer
	enc := json.NewEncoder(&b)
	enc.SetEscapeHTML(false)
	if err := enc.Encode(out); err != nil {
		return nil, err
	}
	return bytes.TrimRight(b.Bytes(), "\n"), nil
}

// complete returns r with every nil list made empty, as the format wants.
func (r Routine) complete() Routine {
	r.Parameters = append([]Parameter{}, r.Parameters...)
	for i := range r.Parameters {
		r.Parameters[i].Type = r.Parameters[i].Type.complete()
	}
	if r.Returns != nil {
		ret := *r.Returns
		ret.Type = ret.Type.complete()
		ret.Columns = completeColumns(ret.Columns)
		r.Returns = &ret
	}
	if r.Status != nil {
		st := *r.Status
		st.Codes = append([]int64{}, st.Codes...)
		r.Status = &st
	}
	r.Results = append([]ResultSet{}, r.Results...)
	for i := range r.Results {
		r.Results[i].Columns = completeColumns(r.Results[i].Columns)
	}
	return r
}

func (t Type) complete() Type {
	t.Columns = completeColumns(t.Columns)
	if t.Element != nil {
		e := t.Element.complete()
		t.Element = &e
	}
	return t
}

func completeColumns(cols []Column) []Column {
	out := make([]Column, len(cols))
	for i, c := range cols {
		if c.Type != nil {
			t := c.Type.complete()
			c.Type = &t
		}
		out[i] = c
	}
	return out
}

// ErrNotCatalog is returned by DecodeCatalog for JSON that is no catalog.
var ErrNotCatalog = errors.New("not a saved catalog: it has no \"format\": \"" + CatalogFormat + "\"")

// DecodeCatalog reads a saved catalog. It refuses another format or version by
// name and does not guess at its meaning.
func DecodeCatalog(data []byte) (*Catalog, error) {
	var head struct {
		Format  string `json:"format"`
		Version int    `json:"version"`
	}
	if err := json.Unmarshal(data, &head); err != nil {
		return nil, describeJSONError(data, err)
	}
	if head.Format != CatalogFormat {
		return nil, ErrNotCatalog
	}
	if head.Version != CatalogVersion {
		return nil, fmt.Errorf("a catalog of version %d; this program reads version %d: save it again with `ramekin routines --format json`",
			head.Version, CatalogVersion)
	}
	var in catalogJSON
	if err := json.Unmarshal(data, &in); err != nil {
		return nil, describeJSONError(data, err)
	}
	for i := range in.Routines {
		r := &in.Routines[i]
		// The format does not say whether a body sends more than it lists; a
		// list with nothing in it proves nothing.
		r.SendsMore = len(r.Results) == 0
		for j := range r.Parameters {
			r.Parameters[j].At = r.At.Place()
		}
	}
	return &Catalog{Routines: in.Routines, Problems: in.Problems}, nil
}

func describeJSONError(data []byte, err error) error {
	var offset int64
	if se := (*json.SyntaxError)(nil); errors.As(err, &se) {
		offset = se.Offset
	} else if te := (*json.UnmarshalTypeError)(nil); errors.As(err, &te) {
		offset = te.Offset
	} else {
		return err
	}
	before := data[:max(0, min(int(offset)-1, len(data)))] // the offset is behind the fault
	line := bytes.Count(before, []byte("\n")) + 1
	column := len(before) - bytes.LastIndexByte(before, '\n')
	return fmt.Errorf("line %d, column %d: %w", line, column, err)
}

// Index finds routines by name over the catalogs of one application.
type Index struct {
	routines []*Routine
	byName   map[string][]*Routine
}

// NewIndex indexes the routines of catalogs.
func NewIndex(catalogs ...*Catalog) *Index {
	ix := &Index{byName: map[string][]*Routine{}}
	for _, c := range catalogs {
		for i := range c.Routines {
			r := &c.Routines[i]
			ix.routines = append(ix.routines, r)
			name := strings.ToLower(r.Name)
			ix.byName[name] = append(ix.byName[name], r)
		}
	}
	return ix
}

// HasSchema reports whether some routine is in a schema or container of that name.
func (ix *Index) HasSchema(name string) bool {
	for _, r := range ix.routines {
		if SameName(r.Schema, name) || SameName(r.Container, name) {
			return true
		}
	}
	return false
}

// All returns every routine in the index, in catalog order.
func (ix *Index) All() []*Routine { return ix.routines }

// Find returns the routines that a call of name, given as its parts from the
// outermost to the innermost, can mean. Only routines of dialect are looked at,
// or of every dialect where it is "".
//
// A schema is left out as often as it is written, on either side, so a missing
// one matches; where several schemas then fit, the dialect's default schema
// wins.
func (ix *Index) Find(parts []string, dialect Dialect) []*Routine {
	if len(parts) == 0 {
		return nil
	}
	name := parts[len(parts)-1]
	schema := ""
	if len(parts) > 1 {
		schema = parts[len(parts)-2]
	}
	var found []*Routine
	for _, r := range ix.byName[strings.ToLower(strings.TrimSuffix(name, ";1"))] {
		if dialect != "" && r.Dialect != dialect {
			continue
		}
		if r.Container != "" {
			if inContainer(r, parts[:len(parts)-1]) {
				found = append(found, r)
			}
			continue
		}
		if schema == "" || r.Schema == "" || SameName(schema, r.Schema) {
			found = append(found, r)
		}
	}
	if len(found) < 2 {
		return found
	}
	// Several fit: a member of a container is named with it and a standalone routine
	// without, an exact schema beats an open one, the default schema the others.
	for _, want := range []func(*Routine) bool{
		func(r *Routine) bool { return (r.Container != "") == (len(parts) > 1) && hasMembers(found) },
		func(r *Routine) bool { return schema != "" && SameName(r.Schema, schema) },
		func(r *Routine) bool {
			d := NamingOf(r.Dialect).DefaultSchema
			return schema == "" && (r.Schema == "" || d != "" && SameName(r.Schema, d))
		},
	} {
		var best []*Routine
		for _, r := range found {
			if want(r) {
				best = append(best, r)
			}
		}
		if len(best) > 0 {
			return best
		}
	}
	return found
}

// hasMembers reports whether some of the routines belong to a container.
func hasMembers(list []*Routine) bool {
	return slices.ContainsFunc(list, func(r *Routine) bool { return r.Container != "" })
}

// inContainer reports whether the parts before a name can be the container of
// the member r, with or without its schema. Inside its container a member needs
// none.
func inContainer(r *Routine, before []string) bool {
	switch n := len(before); {
	case n == 0:
		return true
	case !SameName(before[n-1], r.Container):
		return false
	case n > 1:
		return r.Schema == "" || SameName(before[n-2], r.Schema)
	}
	return true
}

// Nearest returns the routine whose name is spelled most like name, or nil
// where none is near enough to be what was meant.
func (ix *Index) Nearest(name string) *Routine {
	var best *Routine
	bestAt := len(name)/3 + 2
	for _, r := range ix.routines {
		if d := EditDistance(strings.ToLower(name), strings.ToLower(r.Name)); d < bestAt {
			best, bestAt = r, d
		}
	}
	return best
}

// EditDistance counts the insertions, deletions, replacements and swaps of
// neighbours that turn a into b.
func EditDistance(a, b string) int {
	x, y := []rune(a), []rune(b)
	prev2 := make([]int, len(y)+1)
	prev := make([]int, len(y)+1)
	cur := make([]int, len(y)+1)
	for j := range prev {
		prev[j] = j
	}
	for i := 1; i <= len(x); i++ {
		cur[0] = i
		for j := 1; j <= len(y); j++ {
			cost := 1
			if x[i-1] == y[j-1] {
				cost = 0
			}
			cur[j] = min(prev[j]+1, cur[j-1]+1, prev[j-1]+cost)
			if i > 1 && j > 1 && x[i-1] == y[j-2] && x[i-2] == y[j-1] {
				cur[j] = min(cur[j], prev2[j-2]+1)
			}
		}
		prev2, prev, cur = prev, cur, prev2
	}
	return prev[len(y)]
}
