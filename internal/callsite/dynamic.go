package callsite

import (
	"strings"

	"ramekin/internal/hostcode"
)

// This file holds what the evaluator needs for languages without declared
// types: maps of names to values, functions as values, destructuring, modules.

// record is a map of names to values: an object literal, a dictionary, an
// array with keys.
type record struct {
	inert
	keys   []string
	values map[string]value
	nodes  map[string]hostcode.NodeID
	u      *unit
	node   hostcode.NodeID
	// open is set where it may have more than is known.
	open bool
}

func newRecord(u *unit, node hostcode.NodeID) *record {
	return &record{values: map[string]value{}, nodes: map[string]hostcode.NodeID{}, u: u, node: node}
}

// recordOf evaluates { name: value, … }.
func (ev *evaluator) recordOf(id hostcode.NodeID) value {
	t := ev.u.tree
	r := newRecord(ev.u, id)
	for c := range t.Children(id) {
		switch t.Kind(c) {
		case hostcode.Named:
			v := ev.memberValue(t.Child(c, 0))
			r.add(t.Name(c), v, c)
		case hostcode.Pair:
			key := ev.eval(t.Child(c, 0))
			v := ev.memberValue(t.Child(c, 1))
			if name, ok := key.keyText(); ok {
				r.add(name, v, c)
			} else {
				r.open = true
			}
		case hostcode.Spread:
			if other, ok := ev.eval(t.Child(c, 0)).obj.(*record); ok {
				for _, k := range other.keys {
					r.add(k, other.values[k], other.nodes[k])
				}
				r.open = r.open || other.open
			} else {
				r.open = true
			}
		default: // an element without a key
			r.add(itoa(len(r.keys)), ev.memberValue(c), c)
		}
	}
	return value{kind: listValue, obj: r, tree: ev.u, node: id}
}

// memberValue evaluates the value of a member, with its place.
func (ev *evaluator) memberValue(node hostcode.NodeID) value {
	v := ev.eval(node)
	if v.node == 0 {
		v.tree, v.node = ev.u, node
	}
	if !v.fromCaller {
		v.useTree, v.use = ev.u, node
	}
	return v
}

// keyText is the key that a value stands for in a map.
func (v value) keyText() (string, bool) {
	if v.kind == intValue {
		return itoa(int(v.n)), true
	}
	return v.constantText()
}

func (r *record) add(key string, v value, node hostcode.NodeID) {
	if _, ok := r.values[key]; !ok {
		r.keys = append(r.keys, key)
	}
	r.values[key], r.nodes[key] = v, node
}

// put follows map[key] = value.
func (r *record) put(args []value, v value) {
	if len(args) == 1 {
		if key, ok := args[0].keyText(); ok {
			r.add(key, v, 0)
			return
		}
	}
	if len(args) == 0 {
		r.add(itoa(len(r.keys)), v, 0)
		return
	}
	r.open = true
}

func (r *record) lookup(name string) (value, bool) {
	v, ok := r.values[name]
	return v, ok
}

func (r *record) get(_ *evaluator, member string, _ hostcode.NodeID) value { return r.values[member] }

func (r *record) set(_ *evaluator, member string, v value, node hostcode.NodeID) {
	r.add(member, v, node)
}

func (r *record) index(_ *evaluator, args []value, _ hostcode.NodeID) value {
	if len(args) == 1 {
		if key, ok := args[0].keyText(); ok {
			return r.values[key]
		}
		var out value // any of them
		for i, k := range r.keys {
			if i == 0 {
				out = r.values[k]
			} else {
				out = join(out, r.values[k])
			}
		}
		return out
	}
	return value{}
}

func (r *record) invoke(ev *evaluator, method string, args []value, node hostcode.NodeID) value {
	if v, ok := r.values[method]; ok && v.kind == lambdaValue {
		return ev.apply(v, args, node)
	}
	switch method {
	case "get":
		v := r.index(ev, args[:min(1, len(args))], node)
		if len(args) > 1 && v.kind == unknownValue {
			return args[1]
		}
		return v
	case "put", "set", "setdefault", "Add", "addValue", "add":
		if len(args) == 2 {
			r.put(args[:1], args[1])
		}
		return value{kind: listValue, obj: r}
	case "values", "items", "entries":
		l := &list{open: r.open}
		for _, k := range r.keys {
			l.items = append(l.items, r.values[k])
		}
		return value{kind: listValue, obj: l}
	case "update", "putAll", "merge", "assign":
		for _, a := range args {
			if other, ok := a.obj.(*record); ok {
				for _, k := range other.keys {
					r.add(k, other.values[k], 0)
				}
			} else {
				r.open = true
			}
		}
	}
	return value{}
}

// reference is the address of a variable, as &x gives it.
type reference struct {
	inert
	u    *unit
	node hostcode.NodeID
	v    value
}

// text is the name of the variable.
func (r *reference) text() string { return strings.Join(strings.Fields(r.u.tree.Text(r.node)), " ") }

// spreadOut are the arguments that *list, ...list or **map stand for, where all
// of them are known.
func (ev *evaluator) spreadOut(v value) ([]value, bool) {
	switch o := v.obj.(type) {
	case *list:
		if !o.open {
			return append([]value(nil), o.items...), true
		}
	case *record:
		if !o.open {
			var out []value
			for _, k := range o.keys {
				a := o.values[k]
				a.argName = k
				out = append(out, a)
			}
			return out, true
		}
	}
	return nil, false
}

// destructure gives the names of a pattern their parts of v.
func (ev *evaluator) destructure(pattern hostcode.NodeID, v value, declare bool) {
	t := ev.u.tree
	i := 0
	for c := range t.Children(pattern) {
		target, part := c, value{}
		switch t.Kind(c) {
		case hostcode.Named:
			target, part = t.Child(c, 0), ev.partOf(v, t.Name(c), -1, c)
		case hostcode.Pair:
			target = t.Child(c, 1)
			if key, ok := ev.eval(t.Child(c, 0)).keyText(); ok {
				part = ev.partOf(v, key, -1, c)
			}
		case hostcode.Spread:
			target = t.Child(c, 0)
		default:
			part = ev.partOf(v, "", i, c)
		}
		i++
		if t.Kind(target) == hostcode.Assign { // with a default
			if d := t.Child(target, 1); part.kind == unknownValue && part.origin == nil {
				part = ev.eval(d)
			}
			target = t.Child(target, 0)
		}
		switch k := t.Kind(target); {
		case k == hostcode.Init || k == hostcode.Tuple:
			ev.destructure(target, part, declare)
		case k == hostcode.Name && declare && (ev.lookup(t.Name(target)) == nil || !t.Lang.DeclaresByAssigning):
			ev.define(t.Name(target), part)
		case k != hostcode.Opaque:
			ev.store(target, target, part)
		}
	}
}

// partOf is one part of a value: a member by name, or an element by number.
func (ev *evaluator) partOf(v value, name string, i int, node hostcode.NodeID) value {
	var out value
	found := false
	for _, f := range v.forks() {
		if f.obj == nil {
			continue
		}
		var one value
		switch o := f.obj.(type) {
		case tupled:
			one = o.part(ev, name, i, node)
		default:
			if name != "" {
				one = f.obj.get(ev, name, node)
			} else {
				one = f.obj.index(ev, []value{{kind: intValue, n: int64(i)}}, node)
			}
		}
		if !found {
			out, found = one, true
		} else {
			out = join(out, one)
		}
	}
	if !found && i == 0 && ev.u.tree.Lang.Name == hostcode.Go.Name { // a result with an error behind it
		return v
	}
	if !found && v.kind == symbolValue && name != "" {
		return value{kind: symbolValue, sym: v.sym + "." + name}
	}
	return out
}

// tupled is an object that a call gives back with others beside it.
type tupled interface {
	part(ev *evaluator, name string, i int, node hostcode.NodeID) value
}

// walkAlone runs a function with unknown arguments, unless someone ran it already.
func (ev *evaluator) walkAlone(v value) {
	if v.fn.walked || v.fn.u != ev.u {
		return
	}
	v.fn.walked = true
	saved, result := ev.returns, ev.result
	ev.returns = nil
	ev.function(v.fn.node, nil)
	for _, r := range ev.returns {
		ev.escape(r, "it is returned to callers")
	}
	ev.returns, ev.result = saved, result
}

// walkRest runs the functions among the arguments that nobody ran.
func (ev *evaluator) walkRest(args []value) {
	for _, a := range args {
		if a.kind == lambdaValue {
			ev.walkAlone(a)
		}
	}
}

// apply runs a function with the given arguments and returns what it returns.
func (ev *evaluator) apply(f value, args []value, node hostcode.NodeID) value {
	if f.fn == nil || ev.inlined >= deepestInline || ev.p.inlines >= mostInlines {
		return value{}
	}
	f.fn.walked = true
	args = passedOn(args)
	caller := ev.callerAt(node)
	if f.fn.u != ev.u {
		return ev.into(f.fn.u.classes[0], map[string]value{}, caller).function(f.fn.node, args)
	}
	ev.p.inlines++
	saved, result, outer := ev.returns, ev.result, ev.caller
	ev.returns, ev.caller = nil, caller
	ev.inlined++
	out := ev.function(f.fn.node, args)
	ev.inlined--
	ev.returns, ev.result, ev.caller = saved, result, outer
	return out
}

// callValue calls a value: a function, or an element of a collection where
// brackets of both kinds look alike. It returns false where v is neither.
func (ev *evaluator) callValue(v value, id hostcode.NodeID) (value, bool) {
	for _, f := range v.forks() {
		switch {
		case f.kind == lambdaValue:
			args, _ := ev.arguments(id, 1, "")
			var out value
			if ev.worthRunning(f, args) {
				out = ev.apply(f, args, id)
			}
			ev.walkRest(args)
			return out, true
		case f.obj != nil:
			args, _ := ev.arguments(id, 1, "")
			if c, ok := f.obj.(callable); ok {
				out := c.called(ev, args, id)
				ev.walkRest(args)
				return out, true
			}
			if ev.u.tree.Lang.ParenthesesIndex {
				return f.obj.index(ev, args, id), true
			}
		}
	}
	return value{}, false
}

// worthRunning reports whether a call of a function can lead to one of a
// routine: it is handed an object, or its own text speaks of a client API, or it
// is short and passes on what it is given.
func (ev *evaluator) worthRunning(f value, args []value) bool {
	for _, a := range args {
		if a.obj != nil && a.kind == objectValue || a.kind == lambdaValue || a.origin != nil {
			return true
		}
	}
	n := f.fn.u.tree.At(f.fn.node)
	return n.End-n.Start <= 2*shortFunction || ev.p.mayTouch(f.fn.u, f.fn.node)
}

// callable is an object that can be called itself.
type callable interface {
	called(ev *evaluator, args []value, node hostcode.NodeID) value
}

// promised follows what is chained to a promise: then(f) runs f with its value.
func (ev *evaluator) promised(recv value, method string, args []value, id hostcode.NodeID) (value, bool) {
	switch method {
	case "then":
		for _, a := range args {
			if a.kind == lambdaValue {
				out := ev.apply(a, []value{recv}, id)
				return out, true
			}
		}
	case "catch", "finally":
		if len(args) == 1 && args[0].kind == lambdaValue {
			ev.walkAlone(args[0])
			return recv, true
		}
	}
	return value{}, false
}

// imported is what an Import stands for: a name of another file of the tree, a
// whole such file, or a symbol of a library.
func (p *project) imported(u *unit, id hostcode.NodeID) value {
	t := u.tree
	path := strings.Trim(t.Text(t.Child(id, 0)), "\"'`")
	original := ""
	if n := t.Child(id, 1); n != 0 {
		original = t.Name(n)
	}
	return p.importedPath(u, path, original)
}

// importedPath is what a name of the module at path stands for; the module
// itself where original is "".
func (p *project) importedPath(u *unit, path, original string) value {
	if ms := p.module(u, path); len(ms) > 0 {
		if original == "" || original == "default" {
			return value{kind: listValue, obj: &moduleRef{ms: ms, name: path[strings.LastIndexByte(path, '/')+1:]}}
		}
		for _, m := range ms {
			if v, ok := p.exported(m, original); ok {
				return v
			}
		}
		if p.classes[original] != nil {
			return value{kind: symbolValue, sym: original}
		}
	} else if original != "" { // from package import module
		if ms := p.module(u, path+"/"+original); len(ms) > 0 {
			return value{kind: listValue, obj: &moduleRef{ms: ms, name: original}}
		}
	}
	name := path[strings.LastIndexByte(path, '/')+1:]
	if original != "" && original != "default" {
		name += "." + original
	}
	return value{kind: symbolValue, sym: name}
}

// exported is a name that a file defines for others.
func (p *project) exported(m *unit, name string) (value, bool) {
	c := m.classes[0]
	if v, ok := m.globals[name]; ok {
		return v, true
	}
	if f, ok := c.fields[name]; ok && m.tree.Kind(f) != hostcode.Import {
		if v, ok := p.field(c, name); ok && v.kind != unknownValue || len(v.alts) > 0 {
			return v, true
		}
	}
	if ms := c.methods[name]; len(ms) > 0 {
		return value{kind: lambdaValue, fn: &lambda{u: m, node: ms[0], walked: true}}, true
	}
	if v, ok := p.field(c, "module.exports"); ok {
		if r, ok := v.obj.(*record); ok {
			if one, ok := r.values[name]; ok {
				return one, true
			}
		}
	}
	return value{}, false
}

// module finds the file of the tree that an import path means, or nil.
func (p *project) module(u *unit, path string) []*unit {
	if p.source.Module == nil || path == "" {
		return nil
	}
	key := u.tree.Lang.Name + ":" + path + ":" + folder(u.path)
	if m, ok := p.modules[key]; ok {
		return m
	}
	p.modules[key] = nil
	var parser hostcode.Parser
	for _, f := range p.source.Module(u.path, path) {
		if l := hostcode.LanguageOf(f.Path); l == nil || l.Name != u.tree.Lang.Name && !(strings.HasSuffix(l.Name, "script") && strings.HasSuffix(u.tree.Lang.Name, "script")) {
			continue
		}
		m := p.unitOf(f.Path)
		if m == nil {
			m = p.add(f, &parser)
		}
		p.modules[key] = append(p.modules[key], m)
		if u.tree.Lang != &hostcode.Go {
			break // a package of Go has several files
		}
	}
	return p.modules[key]
}

// packageName is what another file of the same package declares under a name.
func (p *project) packageName(u *unit, name string) (value, bool) {
	if u.tree.Lang != &hostcode.Go || p.source.Beside == nil || len(name) < 3 {
		return value{}, false
	}
	key := folder(u.path) + name
	if v, ok := p.beside[key]; ok {
		return v, v.kind != unknownValue
	}
	p.beside[key] = value{}
	var parser hostcode.Parser
	for _, f := range p.source.Beside(u.path, name) {
		m := p.unitOf(f.Path)
		if m == nil {
			m = p.add(f, &parser)
		}
		if v, ok := p.exported(m, name); ok {
			p.beside[key] = v
			return v, true
		}
	}
	return value{}, false
}

func folder(path string) string { return path[:strings.LastIndexByte(path, '/')+1] }

func (p *project) unitOf(path string) *unit {
	for _, u := range p.units {
		if u.path == path {
			return u
		}
	}
	return nil
}

// moduleRef is a file of the tree as a value.
type moduleRef struct {
	inert
	ms   []*unit
	name string
}

func (r *moduleRef) get(ev *evaluator, member string, _ hostcode.NodeID) value {
	for _, m := range r.ms {
		if v, ok := ev.p.exported(m, member); ok {
			return v
		}
	}
	return value{kind: symbolValue, sym: r.name + "." + member}
}

func (r *moduleRef) invoke(ev *evaluator, method string, args []value, node hostcode.NodeID) value {
	for _, m := range r.ms {
		if v, ok := ev.p.exported(m, method); ok && v.kind == lambdaValue {
			return ev.apply(v, args, node)
		}
	}
	if c := ev.p.classes[method]; c != nil {
		return ev.instantiate(c, args, node)
	}
	return value{}
}

// ownClass calls a method of an object whose class the tree declares.
func (ev *evaluator) ownClass(fn hostcode.NodeID, recv value, method string, args []value, id hostcode.NodeID) (value, bool) {
	if recv.typ == "" || recv.obj != nil || ev.u.tree.Kind(fn) != hostcode.Member {
		return value{}, false
	}
	c := ev.p.classes[recv.typ]
	if c == nil {
		return value{}, false
	}
	has := false
	ev.p.family(c, func(k *classInfo) bool { has = has || len(k.methods[method]) > 0; return has })
	if !has {
		return value{}, false
	}
	v, ok := ev.helper(fn, recv, method, args, id)
	if !ok {
		v = value{}
	}
	return v, true
}

// instance is an object of a class of the tree, with what its constructor left
// in its fields.
type instance struct {
	inert
	c      *classInfo
	fields map[string]value
}

// instantiate makes an object of a class of the tree: it runs the constructor
// where it is given something worth following.
func (ev *evaluator) instantiate(c *classInfo, args []value, id hostcode.NodeID) value {
	out := value{typ: c.name}
	if !ev.interesting(args) || ev.inlined >= deepestInline || ev.p.inlines >= mostInlines {
		return out
	}
	o := &instance{c: c, fields: map[string]value{}}
	ev.p.family(c, func(k *classInfo) bool {
		for _, name := range []string{k.name, "__init__", "constructor", "__construct", "New"} {
			for _, m := range k.methods[name] {
				if k.u.tree.At(m).Flags&hostcode.Constructor == 0 || countParams(k.u.tree, m) < len(args) && !k.u.tree.Lang.DeclaresByAssigning {
					continue
				}
				ev.into(k, o.fields, ev.callerAt(id)).function(m, passedOn(args))
				return true
			}
		}
		return false
	})
	if len(o.fields) == 0 {
		return out
	}
	out.kind, out.obj = listValue, o
	return out
}

func (o *instance) invoke(ev *evaluator, method string, args []value, node hostcode.NodeID) value {
	if ev.inlined >= deepestInline || ev.p.inlines >= mostInlines {
		return value{}
	}
	var out value
	ev.p.family(o.c, func(k *classInfo) bool {
		for _, m := range k.methods[method] {
			if countParams(k.u.tree, m) < len(args) && !k.u.tree.Lang.DeclaresByAssigning && !takesRest(k.u.tree, m) {
				continue
			}
			out = ev.into(k, o.fields, ev.callerAt(node)).function(m, passedOn(args))
			return true
		}
		return false
	})
	return out
}

func (o *instance) get(_ *evaluator, member string, _ hostcode.NodeID) value { return o.fields[member] }
func (o *instance) set(_ *evaluator, member string, v value, _ hostcode.NodeID) {
	o.fields[member] = v
}

// tagged evaluates a template with a tag. The tag decides what becomes of the
// parts.
func (ev *evaluator) tagged(id hostcode.NodeID) value {
	t := ev.u.tree
	tag, lit := t.Child(id, 0), t.Child(id, 1)
	text := ev.eval(lit)
	recv, method := value{}, t.Name(tag)
	if t.Kind(tag) == hostcode.Member {
		recv = ev.eval(t.Child(tag, 0))
	} else if t.Kind(tag) == hostcode.Name {
		recv = ev.eval(tag)
	}
	for _, api := range APIs {
		if api.tagged == nil || !api.serves(t.Lang) {
			continue
		}
		if v, ok := api.tagged(ev, recv, method, text, id); ok {
			return v
		}
	}
	return text
}
