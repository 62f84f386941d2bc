package ddl

import (
	"slices"
	"strings"

	"ramekin/internal/signature"
	"ramekin/internal/sqltype"
)

// declared is a named type, a table, or a variable that others anchor to.
type declared struct {
	sqltype.Declared
	// container is the package that the type or variable belongs to.
	container string
	variable  bool
}

// types finds what a source declares beside its routines.
type types struct {
	byName map[string]*signature.Type
	// variables are those of packages.
	variables map[string]*signature.Type
	done      map[*signature.Type]bool
}

func newTypes(files []*File) *types {
	ts := &types{byName: map[string]*signature.Type{}, variables: map[string]*signature.Type{}, done: map[*signature.Type]bool{}}
	for _, f := range files {
		for i := range f.types {
			d := &f.types[i]
			into := ts.byName
			if d.variable {
				into = ts.variables
			}
			name := strings.ToLower(d.Name)
			if d.container != "" {
				name = strings.ToLower(d.container) + "." + name
			}
			into[name] = &d.Type
			into[strings.ToLower(d.Schema)+"."+name] = &d.Type
		}
	}
	return ts
}

// routine resolves the types of one routine.
func (ts *types) routine(r *signature.Routine) {
	at := scopeNames{strings.ToLower(r.Schema), strings.ToLower(r.Container)}
	for i := range r.Parameters {
		ts.resolve(&r.Parameters[i].Type, at, 0)
	}
	if r.Returns != nil {
		ts.resolve(&r.Returns.Type, at, 0)
		if r.Returns.Set && len(r.Returns.Columns) == 0 && (r.Returns.Type.Kind == signature.KindTable || r.Returns.Type.Kind == signature.KindRecord) {
			r.Returns.Columns = r.Returns.Type.Columns
		}
		for i := range r.Returns.Columns {
			if t := r.Returns.Columns[i].Type; t != nil {
				ts.resolve(t, at, 0)
			}
		}
	}
}

// scopeNames is where a name is looked up first.
type scopeNames struct{ schema, container string }

// find looks a type up by its name in lower case.
func (ts *types) find(in map[string]*signature.Type, name string, at scopeNames) *signature.Type {
	if at.container != "" {
		if t := in[at.container+"."+name]; t != nil {
			return t
		}
	}
	if at.schema != "" && !strings.Contains(name, ".") {
		if t := in[at.schema+"."+name]; t != nil {
			return t
		}
	}
	if t := in[name]; t != nil {
		return t
	}
	if strings.Contains(name, ".") { // declared without its schema
		_, bare := sqltype.SplitName(name)
		if t := in["."+bare]; t != nil {
			return t
		}
		if _, rest, ok := strings.Cut(name, "."); ok && strings.Contains(rest, ".") {
			return in[rest]
		}
	}
	return nil
}

// resolve gives a named or anchored type the kind and the rest of what it
// means; its text and name stay.
func (ts *types) resolve(t *signature.Type, at scopeNames, depth int) {
	const deepest = 12
	if depth > deepest {
		return
	}
	var d *signature.Type
	switch t.Kind {
	case signature.KindUser:
		d = ts.find(ts.byName, t.Name, at)
		if d == nil && ts.arrayName(t, at, depth) {
			return
		}
	case signature.KindAnchored:
		d = ts.anchor(t.Name, at)
	default:
		ts.parts(t, at, depth)
		return
	}
	if d == nil || d == t {
		return
	}
	got := *d
	got.Columns = slices.Clone(d.Columns)
	for i := range got.Columns {
		if c := got.Columns[i].Type; c != nil {
			copied := *c
			got.Columns[i].Type = &copied
		}
	}
	inner := at
	if schema, _ := sqltype.SplitName(t.Name); schema != "" && t.Kind == signature.KindUser {
		inner.container = schema
		if i := strings.LastIndexByte(schema, '.'); i >= 0 {
			inner.container = schema[i+1:]
		}
	}
	ts.resolve(&got, inner, depth+1)
	if got.Kind == signature.KindUser || got.Kind == signature.KindAnchored {
		return
	}
	text, name := t.Text, t.Name
	*t = got
	t.Text, t.Name = text, name
}

// arrayName resolves an array type by the name that PostgreSQL gives it: that
// of its elements with an underscore before it.
func (ts *types) arrayName(t *signature.Type, at scopeNames, depth int) bool {
	schema, name := sqltype.SplitName(t.Name)
	element, ok := strings.CutPrefix(name, "_")
	if !ok || element == "" {
		return false
	}
	if schema != "" {
		element = schema + "." + element
	}
	if ts.find(ts.byName, element, at) == nil {
		return false
	}
	e := signature.Type{Text: element, Name: element, Kind: signature.KindUser}
	ts.resolve(&e, at, depth+1)
	*t = signature.Type{Text: t.Text, Name: t.Name, Kind: signature.KindArray, Element: &e}
	return true
}

// parts resolves the columns and the element of a type.
func (ts *types) parts(t *signature.Type, at scopeNames, depth int) {
	if ts.done[t] {
		return
	}
	for i := range t.Columns {
		if c := t.Columns[i].Type; c != nil {
			ts.resolve(c, at, depth+1)
		}
	}
	if t.Element != nil {
		e := *t.Element
		ts.resolve(&e, at, depth+1)
		t.Element = &e
	}
}

// anchor finds what name%type or name%rowtype means.
func (ts *types) anchor(anchor string, at scopeNames) *signature.Type {
	name, how, _ := strings.Cut(anchor, "%")
	if how == "rowtype" {
		if t := ts.find(ts.byName, name, at); t != nil {
			row := *t
			row.Kind = signature.KindRecord
			return &row
		}
		return nil
	}
	if t := ts.find(ts.variables, name, at); t != nil {
		return t
	}
	table, column := sqltype.SplitName(name)
	if table == "" {
		return nil
	}
	t := ts.find(ts.byName, table, at)
	if t == nil {
		return nil
	}
	for i := range t.Columns {
		if strings.EqualFold(t.Columns[i].Name, column) {
			return t.Columns[i].Type
		}
	}
	return nil
}
