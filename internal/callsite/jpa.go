package callsite

import (
	"strings"

	"ramekin/internal/hostcode"
	"ramekin/internal/signature"
)

// jpa follows the stored procedure queries of Jakarta Persistence, its native
// queries, and the annotations that declare either (specification, 3.10.17
// "Stored Procedures").
var jpa = API{
	Name:  "jpa",
	Hosts: []string{"java"},
	Words: []string{"StoredProcedureQuery", "createNativeQuery", "@Procedure", "nativeQuery"},
	create: func(*evaluator, string, []value, hostcode.NodeID) (value, bool) {
		return value{}, false
	},
	call: jpaCall,
}

var (
	jpaConvention      = Convention{API: "jpa", ByName: true, AddsSigil: true, IndexFrom: 1, Registers: "registerStoredProcedureParameter(…, ParameterMode.OUT)"}
	jpaIndexConvention = Convention{API: "jpa", AddsSigil: true, IndexFrom: 1, Registers: "registerStoredProcedureParameter(…, ParameterMode.OUT)"}
)

func jpaCall(ev *evaluator, _ value, method string, args []value, node hostcode.NodeID) (value, bool) {
	if len(args) == 0 {
		return value{}, false
	}
	switch method {
	case "createStoredProcedureQuery":
		b := newBound(ev, node, args[0], &jpaConvention)
		b.isName = true
		return value{kind: objectValue, obj: &jpaQuery{b}, typ: "StoredProcedureQuery"}, true
	case "createNamedStoredProcedureQuery":
		name, ok := args[0].constantText()
		if !ok {
			return value{}, false
		}
		if b := ev.namedQuery(name, node); b != nil {
			return value{kind: objectValue, obj: &jpaQuery{b}, typ: "StoredProcedureQuery"}, true
		}
	case "createNativeQuery", "createNativeMutationQuery":
		if !looksLikeStatement(args[0]) {
			return value{}, false
		}
		b := newBound(ev, node, args[0], &jpaIndexConvention)
		b.style = colonMarks
		return value{kind: objectValue, obj: &jpaQuery{b}, typ: "Query"}, true
	}
	return value{}, false
}

// namedQuery makes the statement that an annotation declares.
func (ev *evaluator) namedQuery(name string, node hostcode.NodeID) *bound {
	for _, u := range ev.p.units {
		t := u.tree
		for id := hostcode.NodeID(1); int(id) < len(t.Nodes); id++ {
			if t.Kind(id) != hostcode.Annotate || t.Name(id) != "NamedStoredProcedureQuery" {
				continue
			}
			in := &evaluator{p: ev.p, u: u, class: u.classes[0], fields: map[string]value{}, inlined: deepestInline}
			member := in.annotationMembers(id)
			if text, _ := in.eval(member["name"]).constantText(); text != name {
				continue
			}
			b := newBound(ev, node, in.memberValue(member["procedureName"]), &jpaConvention)
			b.isName = true
			for p := range annotations(t, member["parameters"]) {
				m := in.annotationMembers(p)
				text, _ := in.eval(m["name"]).constantText()
				key := nameKey(text)
				if text == "" {
					key = bindKey{index: len(b.binds) + 1}
				}
				d := b.bindAt(key, text)
				d.at = u.span(p)
				b.mode(d, in.eval(m["mode"]))
				if m["type"] != 0 {
					if k := hostKind(strings.TrimSuffix(bareType(strings.TrimSuffix(t.Text(m["type"]), ".class")), ".class")); k != signature.KindUnknown {
						d.setType(k, false)
					}
				}
			}
			return b
		}
	}
	return nil
}

// annotationMembers are the values of an annotation by name.
func (ev *evaluator) annotationMembers(id hostcode.NodeID) map[string]hostcode.NodeID {
	t := ev.u.tree
	out := map[string]hostcode.NodeID{}
	for c := range t.Children(id) {
		switch t.Kind(c) {
		case hostcode.Assign:
			out[t.Name(t.Child(c, 0))] = t.Child(c, 1)
		case hostcode.Named:
			out[t.Name(c)] = t.Child(c, 0)
		default:
			out["value"] = c
		}
	}
	return out
}

// annotations calls yield for the annotations in a value: one, or { … }.
func annotations(t *hostcode.Tree, id hostcode.NodeID) func(yield func(hostcode.NodeID) bool) {
	return func(yield func(hostcode.NodeID) bool) {
		if id == 0 {
			return
		}
		if t.Kind(id) == hostcode.Annotate {
			yield(id)
			return
		}
		for c := range t.Children(id) {
			if t.Kind(c) == hostcode.Annotate && !yield(c) {
				return
			}
		}
	}
}

// annotated follows the annotations that make a method of an interface a call:
// its parameters are the arguments.
func (p *project) annotated(c *classInfo, note hostcode.NodeID) {
	t := c.u.tree
	name := t.Name(note)
	if t.Lang != &hostcode.Java || name != "Procedure" && name != "Query" {
		return
	}
	fn := t.At(note).NextSibling
	for t.Kind(fn) == hostcode.Annotate {
		fn = t.At(fn).NextSibling
	}
	if t.Kind(fn) != hostcode.Func {
		return
	}
	ev := &evaluator{p: p, u: c.u, class: c, fields: map[string]value{}}
	member := ev.annotationMembers(note)
	var text value
	for _, k := range []string{"procedureName", "value", "name"} {
		if text.kind != textValue && member[k] != 0 {
			text = ev.memberValue(member[k])
		}
	}
	if name == "Query" && (member["nativeQuery"] == 0 || t.Text(member["nativeQuery"]) != "true" || !looksLikeStatement(text)) {
		return
	}
	if text.kind != textValue { // the method is called as the procedure
		n := t.At(fn)
		text = value{kind: textValue, tree: c.u, node: fn, parts: []part{{text: string(t.Src[n.NameStart:n.NameEnd]), tree: c.u, node: fn}}}
	}
	b := newBound(ev, note, text, &jpaIndexConvention)
	b.isName, b.style, b.executed = name == "Procedure", colonMarks, true
	b.readsRows, b.rowsEscape = true, true
	i := 0
	for c := range t.Children(fn) {
		if t.Kind(c) != hostcode.Param {
			continue
		}
		i++
		key, bindName := bindKey{index: i}, ""
		if name == "Query" && strings.Contains(t.Text(c), "@Param") {
			bindName = t.Name(c)
			key = nameKey(bindName)
		}
		d := b.bindAt(key, bindName)
		d.at, d.direction, d.valued, d.value = ev.u.span(c), In, true, t.Name(c)
		if ty := t.Child(c, 0); t.Kind(ty) == hostcode.Type {
			d.kind = hostKind(bareType(t.Text(ty)))
		}
	}
}

// mode registers a parameter by ParameterMode.
func (b *bound) mode(d *bind, mode value) {
	switch lastWord(mode) {
	case "OUT", "REF_CURSOR":
		d.registered, d.direction = true, Out
		if lastWord(mode) == "REF_CURSOR" {
			d.setType(signature.KindCursor, false)
		}
	case "INOUT":
		d.registered, d.direction = true, InOut
	}
}

// jpaQuery is a StoredProcedureQuery or a native Query.
type jpaQuery struct{ *bound }

func (q *jpaQuery) invoke(ev *evaluator, method string, args []value, node hostcode.NodeID) value {
	self := value{kind: objectValue, obj: q, typ: "StoredProcedureQuery"}
	place := func() (bindKey, string, bool) {
		if len(args) == 0 {
			return bindKey{}, "", false
		}
		if args[0].kind == intValue {
			if q.isName {
				q.conv = &jpaIndexConvention
			}
			return bindKey{index: int(args[0].n)}, "", true
		}
		text, ok := args[0].constantText()
		if !ok {
			q.open = "the name of a parameter is worked out when the program runs"
		}
		return nameKey(text), text, ok
	}
	switch method {
	case "registerStoredProcedureParameter", "registerParameter":
		key, name, ok := place()
		if !ok || len(args) < 3 {
			return self
		}
		d := q.bindAt(key, name)
		d.at = ev.u.callSpan(node)
		if k := hostKind(bareType(strings.TrimSuffix(sourceText(args[1]), ".class"))); k != signature.KindUnknown {
			d.setType(k, false)
		}
		q.mode(d, args[2])
	case "setParameter":
		key, name, ok := place()
		if !ok || len(args) < 2 {
			return self
		}
		d := q.bindAt(key, name)
		if !d.registered && d.direction == "" {
			d.at = ev.u.callSpan(node)
		}
		if d.direction == Out {
			d.setValue(args[1])
			break
		}
		dir := d.direction
		d.setValue(args[1])
		if dir == InOut {
			d.direction = InOut
		}
	case "execute", "executeUpdate":
		q.executed = true
		return value{typ: "boolean"}
	case "getOutputParameterValue":
		if key, _, ok := place(); ok {
			return q.readOutput(ev, key, node)
		}
		return value{}
	case "getResultList", "getSingleResult", "getResultStream", "getSingleResultOrNull":
		q.executed = true
		return q.takeRows(ev, node)
	case "hasMoreResults", "getUpdateCount":
		return value{}
	}
	return self
}
