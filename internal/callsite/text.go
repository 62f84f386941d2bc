package callsite

import (
	"strconv"
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
				more := part{hole: true, grows: true, tree: ev.u, node: node, expr: "…"}
				v = concat(ev.u, v, node, value{kind: textValue, parts: []part{more}}, node, node)
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

// creation evaluates new Type(…) {…}; element is the type of what it holds,
// where it is an array or a collection.
func (ev *evaluator) creation(id hostcode.NodeID, typ, element string) value {
	t := ev.u.tree
	args, _ := ev.arguments(id, 1, "")
	defer ev.walkRest(args)
	out := value{typ: typ}
	made := false
	if typ == "StringBuilder" || typ == "StringBuffer" {
		b := &builder{v: value{kind: textValue, typ: "String"}}
		if len(args) > 0 && isTexty(args[0]) {
			b.v = args[0]
		}
		out, made = value{kind: objectValue, obj: b, typ: typ}, true
	}
	if members := ev.anonymousMembers(id); members != 0 {
		return ev.anonymousObject(members)
	}
	for _, api := range APIs {
		if made {
			break
		}
		if !api.serves(t.Lang) {
			continue
		}
		out, made = api.create(ev, typ, args, id)
	}
	if !made {
		out = value{typ: typ}
		if c := ev.p.classes[typ]; c != nil && len(c.methods) > 0 {
			if v := ev.instantiate(c, args, id); v.obj != nil {
				out, made = v, true
			}
		}
	}
	if !made {
		if typ == "" && len(args) == 0 || strings.HasSuffix(typ, "]") || strings.HasSuffix(typ, "List") {
			out.kind, out.obj = listValue, &list{element: element}
		}
	}
	for c := range t.Children(id) {
		switch t.Kind(c) {
		case hostcode.Init:
			ev.initialize(&out, c, element)
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

// anonymousMembers is the initializer of new { A = 1, b }, an object without a
// class; 0 where id is something else.
func (ev *evaluator) anonymousMembers(id hostcode.NodeID) hostcode.NodeID {
	t := ev.u.tree
	typ, init := t.Child(id, 0), t.Child(id, 1)
	if t.Kind(init) != hostcode.Init || t.Kind(typ) != hostcode.Type || t.At(typ).End > t.At(typ).Start {
		return 0
	}
	between := strings.ToLower(strings.TrimSpace(string(t.Src[t.At(id).Start:t.At(init).Start])))
	if between != "new" && !strings.HasSuffix(between, "with") {
		return 0
	}
	return init
}

// anonymousObject is a map of the members; one without a name is called as what
// it is taken from.
func (ev *evaluator) anonymousObject(init hostcode.NodeID) value {
	t := ev.u.tree
	r := newRecord(ev.u, init)
	for e := range t.Children(init) {
		switch t.Kind(e) {
		case hostcode.Named:
			r.add(t.Name(e), ev.memberValue(t.Child(e, 0)), e)
		case hostcode.Name, hostcode.Member:
			r.add(t.Name(e), ev.memberValue(e), e)
		default:
			r.open = true
		}
	}
	return value{kind: listValue, obj: r, tree: ev.u, node: init}
}

// elementType is the type of the elements of an array or collection type.
func elementType(typ string) string {
	if i := strings.IndexByte(typ, '<'); i >= 0 && strings.HasSuffix(typ, ">") {
		return typ[i+1 : len(typ)-1]
	}
	return strings.TrimRight(typ, "[]")
}

// holder is an object that elements are added to. The type of one is what
// new(…) makes there.
type holder interface{ elementType() string }

// elementOf is the type of the elements that v holds, "" where it is not told.
func elementOf(v value) string {
	if h, ok := v.obj.(holder); ok {
		return h.elementType()
	}
	return ""
}

// initialize applies an initializer: members by name, or elements to add.
func (ev *evaluator) initialize(to *value, init hostcode.NodeID, element string) {
	t := ev.u.tree
	for e := range t.Children(init) {
		if t.Kind(e) != hostcode.Named {
			v := ev.initOf(element, e)
			if to.obj != nil {
				addElement(ev, to.obj, v, e)
			} else {
				ev.escape(v, "it is put into another object")
				ev.escapeOrigin(v)
			}
			continue
		}
		name, val := t.Name(e), t.Child(e, 0)
		if to.obj != nil && t.Kind(val) == hostcode.Init { // Parameters = { … }
			member := to.obj.get(ev, name, e)
			ev.initialize(&member, val, elementOf(member))
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

// addElement adds an element of an initializer: { name, value } is two arguments.
func addElement(ev *evaluator, to object, v value, node hostcode.NodeID) {
	if _, isList := to.(*list); isList {
		to.invoke(ev, "Add", []value{v}, node)
		return
	}
	to.invoke(ev, "Add", v.elements(), node)
}

// elements are those of a list, or the value alone.
func (v value) elements() []value {
	if l, ok := v.obj.(*list); ok {
		return l.items
	}
	return []value{v}
}

// list is an array or collection whose elements are followed.
type list struct {
	items   []value
	element string // the type of one, "" where it is not told
	// open is set where the list went out of sight and may have more.
	open bool
}

// listOf evaluates the elements of { … } or [ … ]; element is the type of one.
func (ev *evaluator) listOf(element string, id hostcode.NodeID) value {
	l := &list{element: element}
	for c := range ev.u.tree.Children(id) {
		v := ev.initOf(element, c)
		if !v.fromCaller {
			v.useTree, v.use = ev.u, c
		}
		l.items = append(l.items, v)
	}
	return value{kind: listValue, obj: l}
}

func (l *list) invoke(_ *evaluator, method string, args []value, _ hostcode.NodeID) value {
	switch method {
	case "Add", "add", "Append", "addAll", "AddRange":
		for _, a := range args {
			l.items = append(l.items, a.elements()...)
		}
	case "ToArray", "ToList", "AsEnumerable", "toArray", "stream", "asList", "Concat":
		return value{kind: listValue, obj: l}
	case "forEach", "ForEach":
	}
	return value{}
}

func (l *list) elementType() string { return l.element }

func (l *list) get(*evaluator, string, hostcode.NodeID) value  { return value{typ: "int"} }
func (l *list) set(*evaluator, string, value, hostcode.NodeID) {}

func (l *list) index(_ *evaluator, args []value, _ hostcode.NodeID) value {
	if len(args) == 1 && args[0].kind == intValue && args[0].n >= 0 && int(args[0].n) < len(l.items) {
		return l.items[args[0].n]
	}
	return value{}
}

func (l *list) escape(reason string) {
	items := l.items
	l.items, l.open = nil, true // a list may hold itself
	for _, v := range items {
		for _, f := range v.forks() {
			if f.obj != nil {
				f.obj.escape(reason)
			}
		}
	}
	l.items = items
}

func (l *list) close(*evaluator) {}

// textMethod follows the methods of the languages' own text types.
func (ev *evaluator) textMethod(recv value, method string, args []value, nodes []hostcode.NodeID, id hostcode.NodeID) (value, bool) {
	isStringClass := recv.kind == symbolValue && (recv.sym == "String" || recv.sym == "string")
	switch method {
	case "format", "Format", "formatted":
		if isStringClass && len(args) > 0 {
			return ev.format(args[0], args[1:], nodes[1:], method == "Format", id), true
		}
		if method == "format" && isTexty(recv) && ev.u.tree.Lang.Name == hostcode.Python.Name {
			return ev.pythonFormat(recv, args, id), true
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
	case "join", "Join", "implode":
		if v, ok := ev.joined(recv, method, args, id); ok {
			return v, true
		}
	case "Sprintf", "sprintf", "vsprintf", "Sprint":
		if len(args) > 0 && isTexty(args[0]) && recv.kind != textValue && method != "Sprint" {
			return ev.format(args[0], args[1:], nodes[1:], false, id), true
		}
	case "dedent", "cleandoc", "TrimSpace", "rtrim", "ltrim":
		if len(args) > 0 && isTexty(args[0]) {
			return args[0], true
		}
	case "trim", "strip", "stripIndent", "stripLeading", "stripTrailing", "intern", "toString", "Trim", "TrimEnd", "TrimStart", "ToString", "Normalize", "translateEscapes":
		if recv.kind == textValue || len(recv.alts) > 0 && isTexty(recv) {
			return recv, true
		}
		if method == "trim" && len(args) == 1 && isTexty(args[0]) {
			return args[0], true
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

// joined follows separator.join(list), list.join(separator) and implode(separator, list).
func (ev *evaluator) joined(recv value, method string, args []value, id hostcode.NodeID) (value, bool) {
	var l *list
	sep := value{kind: textValue, parts: []part{{text: ","}}}
	take := func(v value) {
		if o, ok := v.obj.(*list); ok {
			l = o
		} else if v.kind == textValue {
			sep = v
		}
	}
	take(recv)
	for _, a := range args {
		take(a)
	}
	if l == nil || method == "join" && recv.obj == nil && recv.kind != textValue && len(args) < 2 {
		return value{}, false
	}
	out := value{kind: textValue, typ: "String", tree: ev.u, node: id}
	if l.open {
		out.parts = []part{{hole: true, grows: true, tree: ev.u, node: id, expr: ev.u.tree.Text(id)}}
		return out, true
	}
	for i, v := range l.items {
		if i > 0 {
			out.parts = append(out.parts, sep.parts...)
		}
		node := v.node
		if v.use != 0 && v.useTree == ev.u {
			node = v.use
		}
		if node == 0 || v.tree != nil && v.tree != ev.u && v.use == 0 {
			node = id
		}
		out.parts = append(out.parts, v.asParts(ev.u, node)...)
	}
	return out, true
}

// percent follows text % value, as Python formats.
func (ev *evaluator) percent(f, v value, vn, id hostcode.NodeID) value {
	switch o := v.obj.(type) {
	case *list:
		var nodes []hostcode.NodeID
		for _, it := range o.items {
			n := vn
			if it.use != 0 && it.useTree == ev.u {
				n = it.use
			}
			nodes = append(nodes, n)
		}
		return ev.format(f, o.items, nodes, false, id)
	case *record:
		return ev.namedFormat(f, "%(", ")", func(name string) (value, bool) { return o.lookup(name) }, id)
	}
	return ev.format(f, []value{v}, []hostcode.NodeID{vn}, false, id)
}

// pythonFormat follows "…{}…{name}…".format(values).
func (ev *evaluator) pythonFormat(f value, args []value, id hostcode.NodeID) value {
	next := 0
	return ev.namedFormat(f, "{", "}", func(name string) (value, bool) {
		name, _, _ = strings.Cut(name, ":")
		name, _, _ = strings.Cut(name, "!")
		i := next
		if name == "" {
			next++
		} else if n, err := strconv.Atoi(name); err == nil {
			i = n
		} else {
			for _, a := range args {
				if a.argName == name {
					return a, true
				}
			}
			return value{}, false
		}
		if i < len(args) && args[i].argName == "" {
			return args[i], true
		}
		return value{}, false
	}, id)
}

// namedFormat fills the places of a format text that stand between two marks.
func (ev *evaluator) namedFormat(f value, open, closing string, find func(name string) (value, bool), id hostcode.NodeID) value {
	text, ok := f.constantText()
	if !ok || len(f.parts) == 0 {
		return value{kind: textValue, typ: "str", parts: []part{{hole: true, tree: ev.u, node: id, expr: ev.u.tree.Text(id)}}}
	}
	lit := f.parts[0]
	out := value{kind: textValue, typ: "str", tree: ev.u, node: id}
	constant := func(s string) {
		if s != "" {
			out.parts = append(out.parts, part{text: strings.ReplaceAll(s, "%%", "%"), tree: lit.tree, node: lit.node})
		}
	}
	for {
		i := strings.Index(text, open)
		if i < 0 {
			break
		}
		j := strings.Index(text[i:], closing)
		if j < 0 {
			break
		}
		if open == "{" && strings.HasPrefix(text[i:], "{{") {
			constant(text[:i+1])
			text = text[i+2:]
			continue
		}
		constant(text[:i])
		v, found := find(text[i+len(open) : i+j])
		node := id
		if found && v.use != 0 && v.useTree == ev.u {
			node = v.use
		}
		if found {
			out.parts = append(out.parts, v.asParts(ev.u, node)...)
		} else {
			out.parts = append(out.parts, part{hole: true, tree: ev.u, node: id, expr: text[i : i+j+1]})
		}
		text = text[i+j+1:]
		if open == "%(" && text != "" {
			text = text[1:] // the s behind the name
		}
	}
	constant(text)
	return out
}

// mapOf follows Map.of(key, value, …), List.of(…) and Arrays.asList(…).
func mapOf(ev *evaluator, recv value, method string, args []value, node hostcode.NodeID) (value, bool) {
	switch {
	case method == "of" && recv.sym == "Map", method == "ofEntries":
		r := newRecord(ev.u, node)
		for i := 0; i+1 < len(args); i += 2 {
			r.put(args[i:i+1], args[i+1])
		}
		return value{kind: listValue, obj: r}, true
	case method == "of" && (recv.sym == "List" || recv.sym == "Set"), method == "asList" && recv.sym == "Arrays":
		return value{kind: listValue, obj: &list{items: args}}, true
	}
	return value{}, false
}
