package callsite

import (
	"bytes"
	"runtime"
	"sort"
	"strings"
	"sync"
	"sync/atomic"

	"ramekin/internal/hostcode"
)

// unit is one source file.
type unit struct {
	path     string
	tree     *hostcode.Tree
	comments []hostcode.Comment
	classes  []*classInfo
	// globals are the objects that the statements outside of functions leave.
	globals map[string]value
	// words are those that were looked for in the text.
	words map[string]bool
}

// has reports whether the file's text has a word.
func (u *unit) has(word string) bool {
	v, ok := u.words[word]
	if !ok {
		v = bytes.Contains(u.tree.Src, []byte(word))
		u.words[word] = v
	}
	return v
}

func (u *unit) span(id hostcode.NodeID) Span {
	n := u.tree.At(id)
	return u.extent(int(n.Start), int(n.End))
}

// callSpan is the extent of a call from its method's name on: what stands before
// it in a chain is no part of it.
func (u *unit) callSpan(id hostcode.NodeID) Span {
	if fn := u.tree.Child(id, 0); u.tree.Kind(id) == hostcode.Call && u.tree.Kind(fn) == hostcode.Member {
		return u.extent(int(u.tree.At(fn).NameStart), int(u.tree.At(id).End))
	}
	return u.span(id)
}

func (u *unit) extent(start, end int) Span {
	s := Span{File: u.path}
	s.Line, s.Column = u.tree.Position(start)
	s.EndLine, s.EndColumn = u.tree.Position(end)
	return s
}

// classInfo is a class of the tree with what the evaluator looks up in it.
type classInfo struct {
	u       *unit
	node    hostcode.NodeID
	name    string
	outer   *classInfo
	bases   []string
	fields  map[string]hostcode.NodeID
	methods map[string][]hostcode.NodeID
	// assigned are the values that a field is given after its first.
	assigned map[string][]hostcode.NodeID
	// values are those of fields, once worked out.
	values map[string]value
	busy   map[string]bool
}

// Source gives the application's files to the reader of call sites. Find
// returns the path and text of files in which a class of that name may be
// declared; it is asked only for classes that no file at hand declares.
type Source struct {
	Find func(from, class string) []File
	// Module returns the files that an import path in a file may mean.
	Module func(from, path string) []File
	// Beside returns the other files of the package that a file belongs to which
	// have a name in them, for languages in which they share their names.
	Beside func(path, name string) []File
}

// File is one file of application code.
type File struct {
	Path string
	Text []byte
}

// project is the application code under analysis.
type project struct {
	units   []*unit
	classes map[string]*classInfo
	source  Source
	missing map[string]bool
	sites   []siteObject
	inlines int
	touches map[funcKey]bool
	modules map[string][]*unit
	beside  map[string]value
	// local are the classes inside functions that were walked over.
	local map[funcKey]bool
	// current is the path of the file that is walked over.
	current string
}

type funcKey struct {
	u  *unit
	id hostcode.NodeID
}

// siteObject is an object of a client API that stands for calls.
type siteObject interface {
	object
	// finish gives the calls that the object made.
	finish() []*Call
	base() *site
}

// addAll reads files, several at a time, and adds them in their order.
func (p *project) addAll(files []File) {
	units := make([]*unit, len(files))
	var next atomic.Int64
	var workers sync.WaitGroup
	for range min(runtime.GOMAXPROCS(0), len(files)) {
		workers.Go(func() {
			var parser hostcode.Parser
			for i := int(next.Add(1)) - 1; i < len(files); i = int(next.Add(1)) - 1 {
				units[i] = read(files[i], &parser)
			}
		})
	}
	workers.Wait()
	for _, u := range units {
		p.units = append(p.units, u)
		p.gather(u, u.tree.Root, nil)
	}
}

func (p *project) add(f File, parser *hostcode.Parser) *unit {
	u := read(f, parser)
	p.units = append(p.units, u)
	p.gather(u, u.tree.Root, nil)
	return u
}

func read(f File, parser *hostcode.Parser) *unit {
	lang := hostcode.LanguageOf(f.Path)
	u := &unit{path: f.Path, tree: parser.Parse(f.Text, lang, &hostcode.Tree{}), globals: map[string]value{}, words: map[string]bool{}}
	u.comments = append(u.comments, parser.Comments()...)
	return u
}

// gather notes the classes under a node, and a class of its own for what a
// file holds outside of any.
func (p *project) gather(u *unit, id hostcode.NodeID, outer *classInfo) {
	c := &classInfo{u: u, node: id, outer: outer, fields: map[string]hostcode.NodeID{}, methods: map[string][]hostcode.NodeID{},
		values: map[string]value{}, busy: map[string]bool{}, assigned: map[string][]hostcode.NodeID{}}
	if u.tree.Kind(id) == hostcode.Class {
		c.name = u.tree.Name(id)
	}
	u.classes = append(u.classes, c)
	if c.name != "" {
		if p.classes[c.name] == nil {
			p.classes[c.name] = c
		}
	}
	for m := range u.tree.Children(id) {
		switch u.tree.Kind(m) {
		case hostcode.Type:
			c.bases = append(c.bases, bareType(u.tree.Text(m)))
		case hostcode.Field, hostcode.VarDecl, hostcode.Import:
			c.declare(u.tree.Name(m), m)
		case hostcode.ExprStmt:
			if a := u.tree.Child(m, 0); u.tree.Kind(a) == hostcode.Assign && u.tree.At(a).Op == 0 {
				p.gatherAssigned(c, a)
			}
		case hostcode.Block, hostcode.If, hostcode.Try: // names that a file defines under a condition
			if u.tree.Lang.DeclaresByAssigning && c.name == "" {
				p.gatherBlock(c, m)
			}
		case hostcode.Func:
			if name := u.tree.Name(m); name != "" {
				c.methods[name] = append(c.methods[name], m)
			}
		case hostcode.Class:
			p.gather(u, m, c)
		}
	}
}

// declare notes a field, or another value of one that there is already.
func (c *classInfo) declare(name string, node hostcode.NodeID) {
	t := c.u.tree
	init := t.Last(node)
	if have, ok := c.fields[name]; ok && t.Kind(have) != hostcode.Import {
		if init != 0 {
			c.assigned[name] = append(c.assigned[name], init)
		}
		return
	}
	c.fields[name] = node
	if k := t.Kind(init); k == hostcode.Lambda {
		c.methods[name] = append(c.methods[name], init)
	}
}

// gatherAssigned notes what a statement outside of functions assigns: a name of
// the file, or what the file exports.
func (p *project) gatherAssigned(c *classInfo, a hostcode.NodeID) {
	t := c.u.tree
	target := t.Child(a, 0)
	switch t.Kind(target) {
	case hostcode.Name:
		if t.Lang.DeclaresByAssigning {
			c.declare(t.Name(target), a)
		} else if _, ok := c.fields[t.Name(target)]; ok {
			c.declare(t.Name(target), a)
		}
	case hostcode.Member: // exports.x = …, module.exports = …
		base := t.Child(target, 0)
		switch {
		case t.Kind(base) == hostcode.Name && t.Name(base) == "module" && t.Name(target) == "exports":
			c.declare("module.exports", a)
		case t.Kind(base) == hostcode.Name && t.Name(base) == "exports", t.Kind(base) == hostcode.Member && t.Name(base) == "exports":
			c.declare(t.Name(target), a)
		}
	}
}

// gatherBlock notes the assignments in a block outside of functions.
func (p *project) gatherBlock(c *classInfo, id hostcode.NodeID) {
	t := c.u.tree
	for m := range t.Children(id) {
		switch t.Kind(m) {
		case hostcode.Block, hostcode.If, hostcode.Try, hostcode.Catch:
			p.gatherBlock(c, m)
		case hostcode.Class:
			p.gather(c.u, m, c)
		case hostcode.Func:
			if name := t.Name(m); name != "" {
				c.methods[name] = append(c.methods[name], m)
			}
		case hostcode.ExprStmt:
			if a := t.Child(m, 0); t.Kind(a) == hostcode.Assign && t.At(a).Op == 0 {
				p.gatherAssigned(c, a)
			}
		}
	}
}

// class finds a class by name, in the files at hand or in another of the tree.
func (p *project) class(name string) *classInfo {
	if c := p.classes[name]; c != nil {
		return c
	}
	if p.missing[name] || p.source.Find == nil {
		return nil
	}
	p.missing[name] = true
	var parser hostcode.Parser
	for _, f := range p.source.Find(p.current, name) {
		if hostcode.LanguageOf(f.Path) != nil {
			p.add(f, &parser)
		}
	}
	return p.classes[name]
}

// family calls visit for a class, for what it builds on and for the classes
// around it, until visit returns true.
func (p *project) family(c *classInfo, visit func(*classInfo) bool) bool {
	const mostAncestors = 8
	for ; c != nil; c = c.outer {
		seen := 0
		var up func(c *classInfo) bool
		up = func(c *classInfo) bool {
			if seen++; seen > mostAncestors {
				return false
			}
			if visit(c) {
				return true
			}
			for _, b := range c.bases {
				if base := p.class(b); base != nil && base != c && up(base) {
					return true
				}
			}
			return false
		}
		if up(c) {
			return true
		}
	}
	return false
}

// Analyze finds the calls in files of application code, in order.
func Analyze(files []File, source Source) []*Call {
	p := &project{classes: map[string]*classInfo{}, source: source, missing: map[string]bool{}, touches: map[funcKey]bool{}, modules: map[string][]*unit{}, beside: map[string]value{}, local: map[funcKey]bool{}}
	p.addAll(files)
	for _, u := range p.units[:len(files)] {
		for _, c := range u.classes {
			p.analyzeClass(c)
		}
	}
	return p.calls()
}

// localClass walks over a class that a function declares.
func (p *project) localClass(u *unit, id hostcode.NodeID, outer *classInfo) {
	key := funcKey{u, id}
	if p.local[key] {
		return
	}
	p.local[key] = true
	from := len(u.classes)
	p.gather(u, id, outer)
	inlines := p.inlines
	for _, c := range u.classes[from:] {
		p.analyzeClass(c)
	}
	p.inlines = inlines
}

// analyzeClass walks over the functions of a class: constructors and those
// that fill fields first, as the others use what they leave there.
func (p *project) analyzeClass(c *classInfo) {
	t := c.u.tree
	p.inlines, p.current = 0, c.u.path
	var early, late []hostcode.NodeID
	var loose []hostcode.NodeID
	for m := range t.Children(c.node) {
		switch t.Kind(m) {
		case hostcode.Func:
			if t.At(m).Flags&hostcode.Constructor != 0 || p.fillsField(c, m) {
				early = append(early, m)
			} else {
				late = append(late, m)
			}
		case hostcode.Annotate:
			p.annotated(c, m)
		case hostcode.Class, hostcode.Field, hostcode.Type:
		default:
			loose = append(loose, m)
		}
	}
	fields := map[string]value{}
	for m := range t.Children(c.node) { // fields that begin as an object of an API
		if t.Kind(m) == hostcode.Field && c.name != "" {
			if init := fieldInit(t, m); init != 0 && p.mayTouch(c.u, m) {
				ev := &evaluator{p: p, u: c.u, class: c, fields: fields}
				v := ev.typedInit(m, init)
				if v.kind == objectValue || len(v.alts) > 0 {
					fields[t.Name(m)] = v
				}
			}
		}
	}
	if len(loose) > 0 {
		ev := &evaluator{p: p, u: c.u, class: c, fields: fields}
		ev.push()
		for _, id := range loose {
			if t.Kind(id) == hostcode.Import {
				continue // looked up where it is used
			}
			ev.statement(id)
		}
		if c.name == "" {
			for _, v := range ev.vars {
				if v.v.obj != nil || len(v.v.alts) > 0 && v.v.alts[0].obj != nil {
					c.u.globals[v.name] = v.v
				}
			}
		}
		ev.pop()
	}
	for _, m := range append(early, late...) {
		ev := &evaluator{p: p, u: c.u, class: c, fields: fields}
		ev.function(m, nil)
	}
}

func fieldInit(t *hostcode.Tree, field hostcode.NodeID) hostcode.NodeID {
	if t.Kind(field) == hostcode.Assign {
		return t.Child(field, 1)
	}
	last := t.Last(field)
	if last == 0 || t.Kind(last) == hostcode.Type {
		return 0
	}
	return last
}

// fillsField reports whether a function assigns a field of its class.
func (p *project) fillsField(c *classInfo, fn hostcode.NodeID) bool {
	found := false
	walk(c.u.tree, fn, func(id hostcode.NodeID) {
		if c.u.tree.Kind(id) != hostcode.Assign {
			return
		}
		target := c.u.tree.Child(id, 0)
		switch c.u.tree.Kind(target) {
		case hostcode.Name, hostcode.Member:
			if _, ok := c.fields[c.u.tree.Name(target)]; ok && p.mayTouch(c.u, id) {
				found = true
			}
		}
	})
	return found
}

// walk calls visit for every node under id, and for id.
func walk(t *hostcode.Tree, id hostcode.NodeID, visit func(hostcode.NodeID)) {
	visit(id)
	for c := t.At(id).First; c != 0; c = t.At(c).NextSibling {
		walk(t, c, visit)
	}
}

// mayTouch reports whether the text of a node speaks of a client API.
func (p *project) mayTouch(u *unit, id hostcode.NodeID) bool {
	key := funcKey{u, id}
	if v, ok := p.touches[key]; ok {
		return v
	}
	text := u.tree.Text(id)
	found := false
	for _, w := range wordsOf(u.tree.Lang) {
		if strings.Contains(text, w) {
			found = true
			break
		}
	}
	p.touches[key] = found
	return found
}

// calls gathers the calls of all sites. A helper that is run on its own and
// for each of its callers gives a call for whichever knows more.
func (p *project) calls() []*Call {
	type created struct {
		u    *unit
		node hostcode.NodeID
	}
	inlined := map[created]bool{}
	alone := map[created]*site{}
	for _, s := range p.sites {
		b := s.base()
		if b.inlined > 0 {
			inlined[created{b.u, b.node}] = true
		} else {
			alone[created{b.u, b.node}] = b
		}
	}
	var calls []*Call
	seen := map[string]bool{}
	for _, s := range p.sites {
		b := s.base()
		key := created{b.u, b.node}
		if b.inlined == 0 && b.needsCaller() && inlined[key] {
			continue
		}
		if a := alone[key]; b.inlined > 0 && a != nil && !a.needsCaller() {
			continue
		}
		for _, c := range s.finish() {
			key := c.At.File + "\x00" + c.Use.File + "\x00" + itoa(c.At.Line) + ":" + itoa(c.At.Column) + ":" + itoa(c.Use.Line) + ":" + itoa(c.Use.Column) + ":" + c.Named()
			if b.inlined > 0 && b.fromCaller() {
				key += b.caller
			}
			if seen[key] {
				continue
			}
			seen[key] = true
			calls = append(calls, c)
		}
	}
	order := map[string]int{}
	for i, u := range p.units {
		if _, ok := order[u.path]; !ok {
			order[u.path] = i
		}
	}
	sort.SliceStable(calls, func(i, j int) bool { return callLess(calls[i], calls[j], order) })
	return calls
}

func callLess(a, b *Call, order map[string]int) bool {
	if a.At.File != b.At.File {
		return order[a.At.File] < order[b.At.File]
	}
	if a.At.Line != b.At.Line {
		return a.At.Line < b.At.Line
	}
	if a.At.Column != b.At.Column {
		return a.At.Column < b.At.Column
	}
	return a.Use.Line < b.Use.Line
}

// fromCaller reports whether the text came in through a helper's parameter, so
// that each caller's is a call of its own.
func (s *site) fromCaller() bool {
	for _, f := range s.text.forks() {
		if f.fromCaller {
			return true
		}
	}
	return false
}

// needsCaller reports whether what the object stands for is only known where
// the function that makes it is called.
func (s *site) needsCaller() bool { return s.returned || textHasParam(s.text) }

func textHasParam(v value) bool {
	for _, f := range v.forks() {
		for _, p := range f.parts {
			if p.param {
				return true
			}
		}
		if f.param {
			return true
		}
	}
	return false
}
