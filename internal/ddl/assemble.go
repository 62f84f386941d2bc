package ddl

import (
	"cmp"
	"maps"
	"slices"
	"strings"

	"ramekin/internal/signature"
	"ramekin/internal/sqltext"
)

// ident is one part of a name as the DDL writes it.
type ident struct {
	name   string
	quoted bool
}

// changeKind says what a statement does to the routines of a database.
type changeKind uint8

const (
	declares       changeKind = iota
	drops                     // routines of the name
	renames                   // routines of the name
	movesSchema               // routines of the name
	opensContainer            // a package is declared anew: its old members go
	notesContainer            // a container is known
	closesBody                // a package's body is declared anew
	dropsContainer            // a package goes with its members
	dropsBody                 // the body of a package goes
	fills                     // a routine in the body of a package
	hides                     // a wrapped package: problem tells of it
)

// change is what one statement does.
type change struct {
	kind    changeKind
	routine *signature.Routine // declares, fills
	// schema, container and name say which routines are meant; the container
	// is that of opensContainer and its like.
	schema, container, name ident
	to                      ident // renames, movesSchema
	toSchema                ident // renames into another schema
	keepsOld                bool  // IF NOT EXISTS
	onlyKind                signature.RoutineKind
	// identity limits the change to one overload where hasIdentity is set.
	identity    string
	hasIdentity bool
	specific    bool // name is a specific name
	dialect     signature.Dialect
	// problem is told where the specification of the container is not in the
	// source, or where isBody is not set.
	problem *signature.Problem
	isBody  bool
}

func (r *reader) change(ch change) {
	ch.dialect = r.d.Name
	r.file.changes = append(r.file.changes, ch)
}

func (r *reader) declare(rt *signature.Routine, keepsOld bool) {
	r.change(change{kind: declares, routine: rt, keepsOld: keepsOld})
}

// names reads a name of one or more parts with points between.
func (r *reader) names(c *sqltext.Cursor) []ident {
	first := c.I
	parts := c.DottedName()
	idents := make([]ident, 0, len(parts))
	i := first
	for _, p := range parts {
		if p == "" { // db..name; in &owner..name the first point ends the placeholder
			if len(idents) > 0 && !r.d.Lexis.AmpersandNames {
				idents = append(idents, ident{})
			}
			continue
		}
		for !c.At(i).IsName() {
			i++
		}
		idents = append(idents, ident{p, c.At(i).Kind == sqltext.QuotedName})
		i++
	}
	return idents
}

// target is a change to the routines that parts name.
func target(kind changeKind, parts []ident) change {
	ch := change{kind: kind, name: parts[len(parts)-1]}
	if len(parts) > 1 {
		ch.schema = parts[len(parts)-2]
	}
	return ch
}

// container is a change to the package or type that parts name.
func (r *reader) container(kind changeKind, parts []ident) change {
	ch := target(kind, parts)
	ch.container, ch.name = ch.name, ident{}
	return ch
}

// owner is the package, module or library that parts name, for its members to
// take their names from.
func (r *reader) owner(parts []ident) *signature.Routine {
	owner := &signature.Routine{Dialect: r.d.Name, Language: "sql"}
	r.nameRoutine(owner, parts)
	owner.Container, owner.Name = owner.Name, ""
	if owner.Quoted&signature.NamePart != 0 {
		owner.Quoted = owner.Quoted&^signature.NamePart | signature.ContainerPart
	}
	return owner
}

// unitName reads [IF NOT EXISTS] name.
func (r *reader) unitName(c *sqltext.Cursor) []ident {
	for c.AtKw(sqltext.IF) || c.AtKw(sqltext.NOT) || c.AtKw(sqltext.EXISTS) {
		c.I++
	}
	return r.names(c)
}

// packageName reads [BODY] [IF NOT EXISTS] name, and tells where there is no name.
func (r *reader) packageName(c *sqltext.Cursor) (parts []ident, isBody bool) {
	isBody = c.AcceptKw(sqltext.BODY)
	if parts = r.unitName(c); len(parts) == 0 {
		r.problem(int(c.Peek().Start), true, "%s", r.unexpected(c, "the package's name").message)
	}
	return parts, isBody
}

// beginPackage notes that a package, or its body, is declared anew, and returns
// what its members take their names from.
func (r *reader) beginPackage(parts []ident, isBody bool) *signature.Routine {
	kind := opensContainer
	if isBody {
		kind = closesBody
	}
	r.change(r.container(kind, parts))
	return r.owner(parts)
}

// dropPackage reads [BODY] [IF EXISTS] name behind DROP PACKAGE.
func (r *reader) dropPackage(c *sqltext.Cursor) {
	kind := dropsContainer
	if c.AcceptKw(sqltext.BODY) {
		kind = dropsBody
	}
	if c.AcceptKw(sqltext.IF) {
		c.AcceptKw(sqltext.EXISTS)
	}
	if parts := r.names(c); len(parts) > 0 {
		r.change(r.container(kind, parts))
	}
}

// dropList reads [IF EXISTS] name [(types)], name behind DROP PROCEDURE or FUNCTION.
func (r *reader) dropList(c *sqltext.Cursor, kind signature.RoutineKind) {
	if c.AcceptKw(sqltext.IF) {
		c.AcceptKw(sqltext.EXISTS)
	}
	for c.Peek().IsName() {
		parts := r.names(c)
		ch := target(drops, parts)
		ch.onlyKind = kind
		r.overload(c, &ch)
		r.change(ch)
		if !c.AcceptOp(',') {
			return
		}
	}
}

// overload reads the types that tell one overload from the others, where they
// stand behind the name.
func (r *reader) overload(c *sqltext.Cursor, ch *change) {
	if r.d.identity == nil || !c.AtOp('(') {
		return
	}
	var probe signature.Routine
	probe.Dialect, probe.Kind = r.d.Name, ch.onlyKind
	c.I++
	saved := r.parameters
	r.parameters = nil
	if err := r.parameterList(c, &probe, &parameterStyle{modes: modesEither, unnamed: true, variadic: true, equals: true}); err == nil {
		ch.identity, ch.hasIdentity = r.d.identity(&probe), true
	}
	r.parameters = saved
}

// database applies changes one after the other. What a change means is found
// by indexes, so that the time is proportional to the number of changes.
type database struct {
	list []*signature.Routine // nil where one was taken away
	// byName holds the indexes into list of the routines of a name, in lower case
	// and without the number of a numbered procedure; bySpecific of a specific name.
	byName, bySpecific map[string][]int
	// slots holds the index of the routine that a declaration would replace.
	slots map[string]int
	// members are the indexes of the routines of a container.
	members map[containerID][]int
	// bodies are the routines of package bodies, by container.
	bodies map[containerID][]*signature.Routine
	// specs are the containers whose specification is in the source, and
	// specNames those of each name whatever their schema.
	specs     map[containerID]bool
	specNames map[containerID][]containerID
}

// containerID is a package, module, library or object type as the server knows it.
type containerID struct {
	dialect      signature.Dialect
	schema, name string
}

func newDatabase() *database {
	return &database{byName: map[string][]int{}, bySpecific: map[string][]int{}, slots: map[string]int{}, members: map[containerID][]int{},
		bodies: map[containerID][]*signature.Routine{}, specs: map[containerID]bool{}, specNames: map[containerID][]containerID{}}
}

// Assemble applies the changes of files in their order and resolves the types
// that any of them declares.
func Assemble(files []*File) *signature.Catalog {
	cat := &signature.Catalog{}
	db := newDatabase()
	types := newTypes(files)
	for _, f := range files {
		for i := range f.changes {
			db.apply(&f.changes[i])
		}
	}
	for _, f := range files {
		first := len(cat.Problems)
		cat.Problems = append(cat.Problems, f.Problems...)
		for i := range f.changes {
			ch := &f.changes[i]
			if ch.kind != hides {
				continue
			}
			if _, open := db.spec(containerKey(ch.dialect, ch.schema, ch.container)); !ch.isBody || !open {
				cat.Problems = append(cat.Problems, *ch.problem)
			}
		}
		slices.SortStableFunc(cat.Problems[first:], func(a, b signature.Problem) int {
			return cmp.Or(cmp.Compare(a.Line, b.Line), cmp.Compare(a.Column, b.Column))
		})
	}
	db.joinBodies()
	order := map[string]int{}
	for i, f := range files {
		if _, there := order[f.Path]; !there {
			order[f.Path] = i
		}
	}
	db.list = slices.DeleteFunc(db.list, func(r *signature.Routine) bool { return r == nil })
	slices.SortStableFunc(db.list, func(a, b *signature.Routine) int {
		return cmp.Or(cmp.Compare(order[a.At.File], order[b.At.File]), cmp.Compare(a.At.Line, b.At.Line), cmp.Compare(a.At.Column, b.At.Column))
	})
	for _, r := range db.list {
		types.routine(r)
		cat.Routines = append(cat.Routines, *r)
	}
	return cat
}

// stored is a part of a name as the server keeps it, ready to be compared.
func stored(d signature.Dialect, part string, quoted bool) string {
	n := signature.NamingOf(d)
	if !quoted {
		part = n.Fold(part)
	}
	if n.Fold("aA") == "aA" { // compared without case
		part = strings.ToLower(part)
	}
	return part
}

// sameSchema reports whether two schemas mean the same one. A schema that is
// left out is the default one.
func sameSchema(d signature.Dialect, a string, aQuoted bool, b string, bQuoted bool) bool {
	def := signature.NamingOf(d).DefaultSchema
	if a == "" {
		a = def
	}
	if b == "" {
		b = def
	}
	return stored(d, a, aQuoted) == stored(d, b, bQuoted)
}

// matches reports whether a change means the routine.
func (db *database) matches(r *signature.Routine, ch *change) bool {
	if r.Dialect != ch.dialect || ch.onlyKind != "" && r.Kind != ch.onlyKind {
		return false
	}
	name := r.Name
	if ch.kind == drops && ch.dialect == signature.SQLServer {
		name, _, _ = strings.Cut(name, ";") // DROP takes every number
	}
	if ch.specific {
		name = r.Specific
		if name == "" {
			return false
		}
	}
	if stored(r.Dialect, name, !ch.specific && r.Quoted&signature.NamePart != 0) != stored(r.Dialect, ch.name.name, ch.name.quoted) {
		return false
	}
	if ch.container.name == "" && r.Container != "" && !ch.specific {
		return false
	}
	if !sameSchema(r.Dialect, r.Schema, r.Quoted&signature.SchemaPart != 0, ch.schema.name, ch.schema.quoted) {
		return false
	}
	return !ch.hasIdentity || DialectOf(r.Dialect).identity(r) == ch.identity
}

// plainName is a name as the indexes have it.
func plainName(name string) string {
	name, _, _ = strings.Cut(strings.ToLower(name), ";")
	return name
}

// named returns the indexes of the routines that may be called name.
func (db *database) named(name string) []int { return db.byName[plainName(name)] }

func (db *database) add(r *signature.Routine) {
	i := len(db.list)
	db.list = append(db.list, r)
	db.index(r, i)
	if r.Specific != "" {
		name := strings.ToLower(r.Specific)
		db.bySpecific[name] = append(db.bySpecific[name], i)
	}
	if r.Container != "" {
		id := containerOf(r)
		db.members[id] = append(db.members[id], i)
	}
}

// index notes the routine at i under its name.
func (db *database) index(r *signature.Routine, i int) {
	name := plainName(r.Name)
	db.byName[name] = append(db.byName[name], i)
	db.slots[slot(r)] = i
}

// slot is what two routines share of which the later replaces the earlier.
func slot(r *signature.Routine) string {
	naming := signature.NamingOf(r.Dialect)
	schema, quoted := r.Schema, r.Quoted&signature.SchemaPart != 0
	if schema == "" {
		schema, quoted = naming.DefaultSchema, false
	}
	kind := string(r.Kind)
	if naming.OneNameSpace {
		kind = ""
	}
	identity := ""
	if f := DialectOf(r.Dialect).identity; f != nil {
		identity = f(r)
	}
	return strings.Join([]string{string(r.Dialect), kind, stored(r.Dialect, schema, quoted), stored(r.Dialect, r.Container, r.Quoted&signature.ContainerPart != 0),
		stored(r.Dialect, r.Name, r.Quoted&signature.NamePart != 0), identity}, "\x00")
}

// remove takes away what gone is true for.
func (db *database) remove(indexes []int, gone func(r *signature.Routine) bool) {
	for _, i := range indexes {
		if r := db.list[i]; r != nil && gone(r) {
			db.list[i] = nil
		}
	}
}

// closeContainer takes the members of a container away.
func (db *database) closeContainer(id containerID) {
	for _, i := range db.members[id] {
		db.list[i] = nil
	}
	delete(db.members, id)
}

// addSpec notes that the specification of a container is in the source.
func (db *database) addSpec(id containerID) {
	if !db.specs[id] {
		db.specs[id] = true
		whatever := containerID{dialect: id.dialect, name: id.name}
		if !slices.Contains(db.specNames[whatever], id) {
			db.specNames[whatever] = append(db.specNames[whatever], id)
		}
	}
}

// containerKey names a container; a schema that is left out is none.
func containerKey(d signature.Dialect, schema, container ident) containerID {
	return containerID{d, stored(d, schema.name, schema.quoted), stored(d, container.name, container.quoted)}
}

func containerOf(r *signature.Routine) containerID {
	return containerKey(r.Dialect, ident{r.Schema, r.Quoted&signature.SchemaPart != 0}, ident{r.Container, r.Quoted&signature.ContainerPart != 0})
}

// spec finds the specification of the container whose body is id. One of the
// two may be written without its schema.
func (db *database) spec(id containerID) (containerID, bool) {
	if db.specs[id] {
		return id, true
	}
	found, n := containerID{}, 0
	for _, s := range db.specNames[containerID{dialect: id.dialect, name: id.name}] {
		if db.specs[s] && (s.schema == "" || id.schema == "") {
			found = s
			n++
		}
	}
	return found, n == 1
}

func (db *database) apply(ch *change) {
	key := containerKey(ch.dialect, ch.schema, ch.container)
	switch ch.kind {
	case declares:
		db.declare(ch)
	case drops:
		indexes := db.named(ch.name.name)
		if ch.specific {
			indexes = db.bySpecific[strings.ToLower(ch.name.name)]
		}
		db.remove(indexes, func(r *signature.Routine) bool { return db.matches(r, ch) })
	case notesContainer:
		db.addSpec(key)
	case opensContainer:
		db.addSpec(key)
		db.closeContainer(key)
	case closesBody, dropsBody:
		db.bodies[key] = nil
	case dropsContainer:
		delete(db.specs, key)
		delete(db.bodies, key)
		db.closeContainer(key)
	case fills:
		k := containerOf(ch.routine)
		db.bodies[k] = append(db.bodies[k], ch.routine)
	case renames, movesSchema:
		for _, i := range slices.Clone(db.named(ch.name.name)) {
			r := db.list[i]
			if r == nil || !db.matches(r, ch) {
				continue
			}
			part := signature.NamePart
			if ch.kind == renames {
				r.Name = ch.to.name
				if ch.toSchema.name != "" {
					r.Schema = ch.toSchema.name
					r.Quoted &^= signature.SchemaPart
					if ch.toSchema.quoted {
						r.Quoted |= signature.SchemaPart
					}
				}
			} else {
				r.Schema = ch.to.name
				part = signature.SchemaPart
			}
			r.Quoted &^= part
			if ch.to.quoted {
				r.Quoted |= part
			}
			r.SetKey()
			db.index(r, i)
		}
	}
}

// declare adds a routine, in the place of the one that it replaces.
func (db *database) declare(ch *change) {
	rt := ch.routine
	// The members of a package come with it, and may overload one another.
	if rt.Container == "" || !signature.NamingOf(rt.Dialect).Overloads {
		if i, there := db.slots[slot(rt)]; there && db.list[i] != nil && slot(db.list[i]) == slot(rt) {
			if ch.keepsOld {
				return
			}
			db.list[i] = nil
		}
	}
	db.add(rt)
}

// joinBodies gives the members of packages what their bodies do. Where only
// the body of a package is in the source, its members stand for the package.
func (db *database) joinBodies() {
	ids := slices.Collect(maps.Keys(db.bodies))
	slices.SortFunc(ids, func(a, b containerID) int {
		return cmp.Or(cmp.Compare(a.dialect, b.dialect), cmp.Compare(a.schema, b.schema), cmp.Compare(a.name, b.name))
	})
	for _, id := range ids {
		members := db.bodies[id]
		key, there := db.spec(id)
		if !there {
			for _, m := range members {
				db.add(m)
			}
			continue
		}
		declared := map[string][]*signature.Routine{}
		for _, i := range db.members[key] {
			if r := db.list[i]; r != nil {
				h := header(r)
				declared[h] = append(declared[h], r)
			}
		}
		for _, m := range members {
			h := header(m)
			if list := declared[h]; len(list) > 0 {
				list[0].Results, list[0].Status, list[0].SendsMore = m.Results, m.Status, m.SendsMore
				declared[h] = list[1:]
			}
		}
	}
}

// header is what a member of a package's body shares with its declaration in
// the specification.
func header(r *signature.Routine) string {
	var b strings.Builder
	b.WriteString(string(r.Kind) + " " + stored(r.Dialect, r.Name, r.Quoted&signature.NamePart != 0))
	for i := range r.Parameters {
		p := &r.Parameters[i]
		b.WriteString("\x00" + strings.ToLower(p.Name) + " " + strings.ToLower(p.Type.Text))
	}
	return b.String()
}
