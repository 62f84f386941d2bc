package callsite

import (
	"strings"

	"ramekin/internal/hostcode"
)

// builder is a StringBuilder whose text is followed.
type builder struct{ v value }

func (b *builder) invoke(ev *evaluator, method string, args []value, node hostcode.NodeID) value {
	switch method {
	case "append", "Append", "AppendLine":
		if len(args) > 0 {
			v := concat(ev.u, b.v, node, args[0], args[0].node, node)
			if ev.loops > 0 { // how often it is appended is not known
				v = concat(ev.u, b.v, node, value{}, node, node)
			}
			b.v = v
		}
		if method == "AppendLine" {
			b.v = concat(ev.u, b.v, node, value{kind: textValue, parts: []part{{text: "\n", tree: ev.u, node: node}}}, node, node)
		}
		return value{kind: objectValue, obj: b, typ: "StringBuilder"}
	case "toString", "ToString":
		return b.v
	case "setLength", "Clear":
		b.v = value{kind: textValue, typ: "String"}
	case "length", "Length":
		return value{typ: "int"}
	default:
		b.v = value{kind: textValue, typ: "String", parts: []part{{hole: true, tree: ev.u, node: node, expr: ev.u.tree.Text(node)}}}
	}
	return value{kind: objectValue, obj: b, typ: "StringBuilder"}
}

func (b *builder) get(*evaluator, string, hostcode.NodeID) value    { return value{} }
func (b *builder) set(*evaluator, string, value, hostcode.NodeID)   {}
func (b *builder) index(*evaluator, []value, hostcode.NodeID) value { return value{} }
func (b *builder) escape(string)                                    {}
func (b *builder) close(*evaluator)                                 {}

// creation evaluates new Type(…) {…}.
func (ev *evaluator) creation(id hostcode.NodeID, typ string) value {
	t := ev.u.tree
	args, _ := ev.arguments(id, 1)
	out := value{typ: typ}
	made := false
	if typ == "StringBuilder" || typ == "StringBuffer" {
		b := &builder{v: value{kind: textValue, typ: "String"}}
		if len(args) > 0 && isTexty(args[0]) {
			b.v = args[0]
		}
		out, made = value{kind: objectValue, obj: b, typ: typ}, true
	}
	for _, api := range APIs {
		if made {
			break
		}
		out, made = api.create(ev, typ, args, id)
	}
	if !made {
		out = value{typ: typ}
		if typ == "" || strings.HasSuffix(typ, "]") || strings.HasPrefix(typ, "List") || strings.HasPrefix(typ, "ArrayList") {
			out.kind = listValue
		}
	}
	for c := range t.Children(id) {
		switch t.Kind(c) {
		case hostcode.Init:
			ev.initialize(&out, c)
		case hostcode.Class: // an anonymous class: its methods see what stands around
			for m := range t.Children(c) {
				if t.Kind(m) == hostcode.Func {
					ev.statement(m)
				}
			}
		}
	}
	if !made {
		for _, a := range args {
			ev.escape(a, "it is handed to new "+typ)
			ev.escapeOrigin(a)
		}
	}
	return out
}

// initialize applies an initializer: members by name, or elements to add.
func (ev *evaluator) initialize(to *value, init hostcode.NodeID) {
	t := ev.u.tree
	for e := range t.Children(init) {
		if t.Kind(e) != hostcode.Named {
			v := ev.eval(e)
			if to.kind == listValue {
				to.list = append(to.list, v)
			} else if to.obj != nil {
				to.obj.invoke(ev, "Add", v.listOr(), e)
			} else {
				ev.escape(v, "it is put into another object")
				ev.escapeOrigin(v)
			}
			continue
		}
		name, val := t.Name(e), t.Child(e, 0)
		if to.obj != nil && t.Kind(val) == hostcode.Init { // Parameters = { … }
			member := to.obj.get(ev, name, e)
			ev.initialize(&member, val)
			continue
		}
		v := ev.eval(val)
		if v.node == 0 {
			v.tree, v.node = ev.u, val
		}
		v.useTree, v.use = ev.u, val
		if to.obj != nil {
			to.obj.set(ev, name, v, e)
		} else {
			ev.escape(v, "it is put into another object")
			ev.escapeOrigin(v)
		}
	}
}

func (v value) listOr() []value {
	if v.kind == listValue {
		return v.list
	}
	return []value{v}
}

// textMethod follows the methods of the languages' own text types.
func (ev *evaluator) textMethod(recv value, method string, args []value, nodes []hostcode.NodeID, id hostcode.NodeID) (value, bool) {
	isStringClass := recv.kind == symbolValue && (recv.sym == "String" || recv.sym == "string")
	switch method {
	case "format", "Format", "formatted":
		if isStringClass && len(args) > 0 {
			return ev.format(args[0], args[1:], nodes[1:], method == "Format", id), true
		}
		if method == "formatted" && isTexty(recv) {
			return ev.format(recv, args, nodes, false, id), true
		}
	case "concat", "Concat":
		if isStringClass {
			out := value{kind: textValue, typ: "String"}
			for i, a := range args {
				out = concat(ev.u, out, id, a, nodes[i], id)
			}
			return out, true
		}
		if isTexty(recv) && len(args) == 1 {
			return concat(ev.u, recv, id, args[0], nodes[0], id), true
		}
	case "trim", "strip", "stripIndent", "stripLeading", "stripTrailing", "intern", "toString", "Trim", "TrimEnd", "TrimStart", "ToString", "Normalize", "translateEscapes":
		if recv.kind == textValue || len(recv.alts) > 0 && isTexty(recv) {
			return recv, true
		}
	}
	return value{}, false
}

// format fills the places of a format text: %s in Java, {0} in C#.
func (ev *evaluator) format(f value, args []value, nodes []hostcode.NodeID, braces bool, id hostcode.NodeID) value {
	text, ok := f.constantText()
	if !ok {
		return value{kind: textValue, typ: "String", parts: []part{{hole: true, tree: ev.u, node: id, expr: ev.u.tree.Text(id)}}}
	}
	lit := f.parts[0]
	out := value{kind: textValue, typ: "String", tree: ev.u, node: id}
	constant := func(s string) {
		if s != "" {
			out.parts = append(out.parts, part{text: s, tree: lit.tree, node: lit.node})
		}
	}
	fill := func(i int) {
		if i < 0 || i >= len(args) {
			out.parts = append(out.parts, part{hole: true, tree: ev.u, node: id, expr: ev.u.tree.Text(id)})
			return
		}
		out.parts = append(out.parts, args[i].asParts(ev.u, nodes[i])...)
	}
	from, next := 0, 0
	for i := 0; i < len(text); i++ {
		switch {
		case braces && text[i] == '{' && i+1 < len(text) && text[i+1] >= '0' && text[i+1] <= '9':
			end := strings.IndexByte(text[i:], '}')
			if end < 0 {
				continue
			}
			constant(text[from:i])
			fill(int(text[i+1] - '0'))
			i += end
			from = i + 1
		case !braces && text[i] == '%' && i+1 < len(text):
			if text[i+1] == '%' {
				constant(text[from : i+1])
				i++
				from = i + 1
				continue
			}
			j := i + 1
			for j < len(text) && strings.IndexByte("0123456789$-+ #,(.", text[j]) >= 0 {
				j++
			}
			if j >= len(text) {
				continue
			}
			constant(text[from:i])
			if text[j] == 'n' {
				constant("\n")
			} else {
				fill(next)
				next++
			}
			i = j
			from = j + 1
		}
	}
	constant(text[from:])
	return out
}
