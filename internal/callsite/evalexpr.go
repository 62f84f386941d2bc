package callsite

import (
	"strconv"
	"strings"

	"ramekin/internal/hostcode"
	"ramekin/internal/signature"
)

// eval evaluates an expression.
func (ev *evaluator) eval(id hostcode.NodeID) value {
	if id == 0 {
		return value{}
	}
	if ev.depth++; ev.depth > deepestEval {
		ev.depth--
		return value{}
	}
	defer func() { ev.depth-- }()
	t := ev.u.tree
	n := t.At(id)
	switch n.Kind {
	case hostcode.String:
		return value{kind: textValue, typ: "String", tree: ev.u, node: id,
			parts: []part{{text: t.Lang.StringValue(t.Text(id)), tree: ev.u, node: id}}}
	case hostcode.Interp:
		return ev.interpolated(id)
	case hostcode.Number:
		return ev.number(id)
	case hostcode.Keyword:
		switch strings.ToLower(t.Text(id)) {
		case "null", "none", "nil", "nothing", "undefined":
			return value{kind: nullValue, tree: ev.u, node: id}
		case "true", "false":
			return value{typ: "boolean", tree: ev.u, node: id}
		case "this", "base", "super":
			return value{sym: "this", kind: symbolValue}
		}
		return value{}
	case hostcode.Name:
		return ev.name(id)
	case hostcode.Member:
		return ev.member(id)
	case hostcode.Call:
		return ev.call(id)
	case hostcode.New:
		typ := t.Text(t.Child(id, 0))
		return ev.creation(id, bareType(typ), elementType(typ))
	case hostcode.Binary:
		return ev.binary(id)
	case hostcode.Assign:
		return ev.assign(id)
	case hostcode.Postfix, hostcode.Unary:
		return ev.unary(id)
	case hostcode.Cond:
		mark := len(ev.comparisons)
		ev.eval(t.Child(id, 0))
		ev.handled(mark, true)
		return join(ev.eval(t.Child(id, 1)), ev.eval(t.Child(id, 2)))
	case hostcode.Cast:
		v := ev.eval(t.Child(id, 1))
		if typ := bareType(t.Text(t.Child(id, 0))); typ != "object" && typ != "Object" && v.kind != textValue && v.kind != intValue && v.kind != nullValue {
			v.typ = typ
		}
		ev.noteReadType(v, bareType(t.Text(t.Child(id, 0))), n.Op != hostcode.OpAs)
		return v
	case hostcode.Index:
		recv := ev.eval(t.Child(id, 0))
		args, _ := ev.arguments(id, 1, "")
		for _, f := range recv.forks() {
			if f.obj != nil {
				return f.obj.index(ev, args, id)
			}
		}
		return value{}
	case hostcode.Lambda:
		v := value{kind: lambdaValue, fn: &lambda{u: ev.u, node: id}}
		ev.walkAlone(v)
		return v
	case hostcode.Self:
		return value{sym: "this", kind: symbolValue}
	case hostcode.Tuple:
		return ev.listOf("", id)
	case hostcode.Tagged:
		return ev.tagged(id)
	case hostcode.Spread:
		return ev.eval(t.Child(id, 0))
	case hostcode.Pair:
		ev.eval(t.Child(id, 0))
		return ev.eval(t.Child(id, 1))
	case hostcode.Class:
		ev.p.localClass(ev.u, id, ev.class)
		return value{}
	case hostcode.OutArg:
		c := t.Child(id, 0)
		if t.Kind(c) == hostcode.VarDecl {
			ev.declaration(c)
		} else if t.Kind(c) == hostcode.Name {
			if v := ev.lookup(t.Name(c)); v != nil && v.v.kind != objectValue {
				ev.assignTo(v, value{typ: v.v.typ})
			}
		}
		return value{}
	case hostcode.Init:
		if n.Flags&hostcode.Keyed != 0 {
			return ev.recordOf(id)
		}
		return ev.listOf("", id)
	case hostcode.Named:
		return ev.eval(t.Child(id, 0))
	case hostcode.SwitchExp:
		return ev.switchCases(id)
	case hostcode.Opaque:
		for c := range t.Children(id) {
			v := ev.eval(c)
			ev.escape(v, "it is used in a way that was not understood")
		}
	}
	return value{}
}

func (ev *evaluator) interpolated(id hostcode.NodeID) value {
	t := ev.u.tree
	out := value{kind: textValue, typ: "string", tree: ev.u, node: id}
	for c := range t.Children(id) {
		if t.At(c).Flags&hostcode.Part != 0 && t.Kind(c) == hostcode.String {
			n := t.At(c)
			out.parts = append(out.parts, part{text: t.Lang.PartValue(t.Src, int(t.At(id).Start), int(n.Start), int(n.End)), tree: ev.u, node: id})
			continue
		}
		out.parts = append(out.parts, ev.eval(c).asParts(ev.u, c)...)
	}
	return out
}

func (ev *evaluator) number(id hostcode.NodeID) value {
	text := ev.u.tree.Text(id)
	v := value{tree: ev.u, node: id, typ: "int"}
	if strings.HasPrefix(text, "'") {
		v.typ = "char"
		return v
	}
	clean := strings.ReplaceAll(text, "_", "")
	trimmed := strings.TrimRight(clean, "lLuU")
	if n, err := strconv.ParseInt(trimmed, 0, 64); err == nil {
		v.kind, v.n = intValue, n
		if trimmed != clean {
			v.typ = "long"
		}
		return v
	}
	switch clean[len(clean)-1] | 0x20 {
	case 'm':
		v.typ = "decimal"
	case 'f':
		v.typ = "float"
	default:
		v.typ = "double"
	}
	return v
}

// name evaluates a bare name: a local, a field, a constant, a property.
func (ev *evaluator) name(id hostcode.NodeID) value {
	name := ev.u.tree.Name(id)
	if v := ev.lookup(name); v != nil {
		return v.v
	}
	if v, ok := ev.fields[name]; ok && ev.u.tree.Lang.BareMembers {
		return v
	}
	if v, ok := ev.u.globals[name]; ok {
		return v
	}
	if v, ok := ev.inherited(name); ok {
		return v
	}
	if lineEnds[name] {
		return lineEnd(ev.u, id)
	}
	if v, ok := ev.p.packageName(ev.u, name); ok {
		return v
	}
	return value{kind: symbolValue, sym: name, tree: ev.u, node: id}
}

// lineEnds are the names that the languages have for the end of a line.
var lineEnds = map[string]bool{"vbCrLf": true, "vbNewLine": true, "vbLf": true, "PHP_EOL": true, "Environment.NewLine": true, "os.linesep": true, "os.EOL": true}

func lineEnd(u *unit, id hostcode.NodeID) value {
	return value{kind: textValue, typ: "string", tree: u, node: id, parts: []part{{text: "\n", tree: u, node: id}}}
}

// isRequire reports whether a call is require("module").
func isRequire(t *hostcode.Tree, id hostcode.NodeID) bool {
	fn := t.Child(id, 0)
	return t.Kind(id) == hostcode.Call && t.Kind(fn) == hostcode.Name && t.Name(fn) == "require"
}

// inherited is the value of a field of the class at hand, of what it builds
// on, or of the classes around it.
func (ev *evaluator) inherited(name string) (v value, ok bool) {
	if ev.class == nil {
		return v, false
	}
	ok = ev.p.family(ev.class, func(c *classInfo) bool { v, ok = ev.p.field(c, name); return ok })
	return v, ok
}

// field is the value of a class's field, from its initializer.
func (p *project) field(c *classInfo, name string) (value, bool) {
	if v, ok := c.values[name]; ok {
		return v, true
	}
	f, ok := c.fields[name]
	if !ok {
		for _, m := range c.methods[name] { // a property that returns an expression
			t := c.u.tree
			if b := t.Child(m, 0); t.Kind(b) == hostcode.Block && !c.busy[name] {
				c.busy[name] = true
				ev := &evaluator{p: p, u: c.u, class: c, fields: map[string]value{}, inlined: deepestInline}
				v := ev.function(m, nil)
				c.busy[name] = false
				if _, constant := v.constantText(); constant {
					return v, true
				}
			}
		}
		return value{}, false
	}
	t := c.u.tree
	if t.Kind(f) == hostcode.Import {
		v := p.imported(c.u, f)
		c.values[name] = v
		return v, true
	}
	v := value{}
	if init := fieldInit(t, f); init != 0 && !c.busy[name] {
		c.busy[name] = true
		ev := &evaluator{p: p, u: c.u, class: c, fields: map[string]value{}, inlined: deepestInline}
		if k := t.Kind(init); k != hostcode.New && k != hostcode.Call || isRequire(t, init) || !p.mayTouch(c.u, f) {
			v = ev.eval(init)
		}
		c.busy[name] = false
	}
	if ty := t.Child(f, 0); ty != 0 && t.Kind(ty) == hostcode.Type {
		v.typ = bareType(t.Text(ty))
	}
	more := c.assigned[name]
	if c.busy[name] || len(more) > mostAlternatives {
		v, more = value{typ: v.typ}, nil
	}
	for _, other := range more { // assigned more than once: any of them
		c.busy[name] = true
		if k := t.Kind(other); k == hostcode.String || k == hostcode.Interp || k == hostcode.Binary {
			ev := &evaluator{p: p, u: c.u, class: c, fields: map[string]value{}, inlined: deepestInline}
			v = join(v, ev.eval(other))
		} else {
			v = value{typ: v.typ}
		}
		c.busy[name] = false
	}
	c.values[name] = v
	return v, true
}

func (ev *evaluator) member(id hostcode.NodeID) value {
	t := ev.u.tree
	base := t.Child(id, 0)
	name := t.Name(id)
	recv := ev.eval(base)
	var out value
	found := false
	for _, f := range recv.forks() {
		if f.obj == nil {
			continue
		}
		v := f.obj.get(ev, name, id)
		if !found {
			out, found = v, true
		} else {
			out = join(out, v)
		}
	}
	if found {
		return out
	}
	switch {
	case recv.kind == symbolValue && recv.sym == "this":
		if v, ok := ev.fields[name]; ok {
			return v
		}
		v, _ := ev.inherited(name)
		return v
	case recv.kind == symbolValue:
		last := recv.sym
		if i := strings.LastIndexByte(last, '.'); i >= 0 {
			last = last[i+1:]
		}
		if (startsUpper(last) || ev.p.classes[last] != nil) && !isAPIEnum(last) {
			if c := ev.p.class(last); c != nil {
				var v value
				if ev.p.family(c, func(c *classInfo) (ok bool) { v, ok = ev.p.field(c, name); return ok }) {
					return v
				}
			}
		}
		if lineEnds[recv.sym+"."+name] {
			return lineEnd(ev.u, id)
		}
		return value{kind: symbolValue, sym: recv.sym + "." + name, tree: ev.u, node: id}
	}
	if recv.origin != nil { // reader.Value.Length and the like read the value
		return value{origin: recv.origin}
	}
	return value{}
}

func startsUpper(s string) bool { return s != "" && (s[0] >= 'A' && s[0] <= 'Z') }

func (ev *evaluator) binary(id hostcode.NodeID) value {
	t := ev.u.tree
	op := t.At(id).Op
	ln, rn := t.Child(id, 0), t.Child(id, 1)
	l := ev.eval(ln)
	if op == hostcode.OpIs {
		for c := rn; c != 0; c = t.At(c).NextSibling {
			ev.compare("==", l, ev.eval(c), ev.u.span(c), true)
		}
		return value{typ: "bool"}
	}
	r := ev.eval(rn)
	if op == '%' && isTexty(l) && t.Lang.DeclaresByAssigning { // text % (values)
		return ev.percent(l, r, rn, id)
	}
	switch op {
	case '+':
		if isTexty(l) || isTexty(r) {
			return concat(ev.u, l, ln, r, rn, id)
		}
		if l.kind == intValue && r.kind == intValue {
			return value{kind: intValue, n: l.n + r.n, typ: l.typ}
		}
		return value{typ: wider(l.typ, r.typ)}
	case '-', '*':
		if l.kind == intValue && r.kind == intValue {
			if op == '-' {
				return value{kind: intValue, n: l.n - r.n, typ: l.typ}
			}
			return value{kind: intValue, n: l.n * r.n, typ: l.typ}
		}
		return value{typ: wider(l.typ, r.typ)}
	case hostcode.OpEq, hostcode.OpNe, '<', '>', hostcode.OpLe, hostcode.OpGe:
		word := t.Src[t.At(ln).End:t.At(rn).Start]
		opText := strings.TrimSpace(string(word))
		if l.origin != nil {
			ev.compare(opText, l, r, ev.u.span(rn), op != hostcode.OpEq)
		} else if r.origin != nil {
			ev.compare(mirror(opText), r, l, ev.u.span(ln), op != hostcode.OpEq)
		}
		return value{typ: "boolean"}
	case hostcode.OpCoalesce:
		if l.kind == unknownValue || l.kind == symbolValue {
			l.typ = firstNonEmpty(l.typ, r.typ)
			return l
		}
		return join(l, r)
	case hostcode.OpAnd, hostcode.OpOr:
		return value{typ: "boolean"}
	}
	return value{typ: wider(l.typ, r.typ)}
}

func firstNonEmpty(a, b string) string {
	if a != "" {
		return a
	}
	return b
}

func wider(a, b string) string {
	if a == b {
		return a
	}
	return ""
}

func mirror(op string) string {
	switch op {
	case "<":
		return ">"
	case ">":
		return "<"
	case "<=":
		return ">="
	case ">=":
		return "<="
	}
	return op
}

func isTexty(v value) bool {
	for _, f := range v.forks() {
		if f.kind == textValue {
			return true
		}
	}
	return v.typ == "String" || v.typ == "string"
}

// concat joins two texts; alternatives on either side give one text each.
func concat(u *unit, l value, ln hostcode.NodeID, r value, rn hostcode.NodeID, id hostcode.NodeID) value {
	var out []value
	for _, a := range l.forks() {
		for _, b := range r.forks() {
			v := value{kind: textValue, typ: "String", tree: u, node: id}
			v.parts = append(append(v.parts, a.asParts(u, ln)...), b.asParts(u, rn)...)
			if len(out) < mostAlternatives {
				out = append(out, v)
			}
		}
	}
	if len(out) == 1 {
		return out[0]
	}
	return value{alts: out, typ: "String"}
}

func (ev *evaluator) assign(id hostcode.NodeID) value {
	t := ev.u.tree
	target, source := t.Child(id, 0), t.Child(id, 1)
	if ev.assignTuple(id, target, source) {
		return value{}
	}
	if k := t.Kind(target); t.At(id).Op == 0 && (k == hostcode.Init || k == hostcode.Tuple) {
		v := ev.eval(source)
		ev.destructure(target, v, t.At(id).Flags&hostcode.Declared != 0 || t.Lang.DeclaresByAssigning)
		return v
	}
	var v value
	if t.Kind(source) == hostcode.New {
		typ := ""
		if t.Kind(target) == hostcode.Name {
			if have := ev.lookup(t.Name(target)); have != nil {
				typ = have.v.typ
			} else if ev.class != nil {
				typ = ev.fieldType(t.Name(target))
			}
		}
		v = ev.initOf(typ, source)
	} else {
		v = ev.eval(source)
	}
	if op := t.At(id).Op; op != 0 {
		old := value{}
		if t.Kind(target) == hostcode.Name {
			if have := ev.lookup(t.Name(target)); have != nil {
				old = have.v
			}
		}
		switch {
		case op == '?':
			if old.kind == objectValue {
				v = old
			}
		case op == '+' && (isTexty(old) || isTexty(v)):
			v = concat(ev.u, old, target, v, source, id)
		case (op == '+' || op == '-') && old.kind == intValue && v.kind == intValue:
			n := v.n
			if op == '-' {
				n = -n
			}
			v = value{kind: intValue, n: old.n + n, typ: old.typ}
		default:
			v = value{typ: old.typ}
		}
	}
	return ev.store(id, target, v)
}

// assignTuple follows (a, b) = (x, y), part by part, the right side first. It
// returns false where the sides are not both written out.
func (ev *evaluator) assignTuple(id, target, source hostcode.NodeID) bool {
	t := ev.u.tree
	tuple := func(id hostcode.NodeID) bool {
		k := t.Kind(id)
		return k == hostcode.Opaque || k == hostcode.Tuple
	}
	if !tuple(target) || !tuple(source) || t.At(id).Op != 0 {
		return false
	}
	var targets, sources []hostcode.NodeID
	for c := range t.Children(target) {
		targets = append(targets, c)
	}
	for c := range t.Children(source) {
		sources = append(sources, c)
	}
	if len(targets) < 2 || len(targets) != len(sources) {
		return false
	}
	values := make([]value, len(sources))
	for i, c := range sources {
		values[i] = ev.eval(c)
	}
	for i, c := range targets {
		if t.At(id).Flags&hostcode.Declared != 0 && t.Kind(c) == hostcode.Name {
			ev.define(t.Name(c), values[i])
			continue
		}
		ev.store(id, c, values[i])
	}
	return true
}

// store puts a value where the assignment at id has its target, and returns it.
func (ev *evaluator) store(id, target hostcode.NodeID, v value) value {
	t := ev.u.tree
	switch t.Kind(target) {
	case hostcode.Name:
		name := t.Name(target)
		if have := ev.lookup(name); have != nil {
			if have.v.typ != "" && v.kind != objectValue {
				v.typ = have.v.typ
			}
			ev.noteReadType(v, have.v.typ, false)
			ev.assignTo(have, v)
			return v
		}
		if t.Lang.DeclaresByAssigning {
			ev.define(name, v)
			return v
		}
		ev.setField(name, v)
	case hostcode.Member:
		base := ev.eval(t.Child(target, 0))
		name := t.Name(target)
		if base.kind == symbolValue && base.sym == "this" {
			ev.setField(name, v)
			return v
		}
		handled := false
		for _, f := range base.forks() {
			if f.obj != nil {
				f.obj.set(ev, name, v, id)
				handled = true
			}
		}
		if !handled {
			ev.escape(v, "it is kept in another object")
		}
	case hostcode.Index, hostcode.Call:
		base := ev.eval(t.Child(target, 0))
		args, _ := ev.arguments(target, 1, "")
		for _, f := range base.forks() {
			if r, ok := f.obj.(*record); ok {
				r.put(args, v)
				return v
			}
		}
		if t.Kind(target) == hostcode.Call {
			ev.eval(target)
		}
		ev.escape(v, "it is kept in a collection")
	case hostcode.Unary: // *p = v
		return ev.store(id, t.Child(target, 0), v)
	}
	return v
}

func (ev *evaluator) fieldType(name string) string {
	typ := ""
	if ev.class != nil {
		ev.p.family(ev.class, func(c *classInfo) bool {
			f, ok := c.fields[name]
			if ok {
				if ty := c.u.tree.Child(f, 0); ty != 0 && c.u.tree.Kind(ty) == hostcode.Type {
					typ = bareType(c.u.tree.Text(ty))
				}
			}
			return ok
		})
	}
	return typ
}

func (ev *evaluator) setField(name string, v value) {
	ev.escapeOrigin(v)
	if ev.fields == nil {
		return
	}
	switch {
	case v.kind == objectValue || len(v.alts) > 0 && v.alts[0].kind == objectValue:
		ev.fields[name] = v
	case v.kind == textValue || v.kind == listValue || v.kind == lambdaValue || v.kind == intValue:
		if have, ok := ev.fields[name]; ok {
			v = join(have, v)
		}
		ev.fields[name] = v
	}
}

func (ev *evaluator) unary(id hostcode.NodeID) value {
	t := ev.u.tree
	c := t.Child(id, 0)
	op := t.At(id).Op
	v := ev.eval(c)
	switch op {
	case hostcode.OpInc, hostcode.OpDec:
		if t.Kind(c) == hostcode.Name {
			if have := ev.lookup(t.Name(c)); have != nil {
				after := value{typ: v.typ}
				if v.kind == intValue {
					after = value{kind: intValue, n: v.n + 1, typ: v.typ}
					if op == hostcode.OpDec {
						after.n = v.n - 1
					}
				}
				ev.assignTo(have, after)
				if t.Kind(id) == hostcode.Unary {
					return after
				}
			}
		}
		return v
	case '-':
		if v.kind == intValue {
			v.n = -v.n
			v.node, v.tree = id, ev.u
			return v
		}
		return value{typ: v.typ}
	case '!':
		return value{typ: "boolean"}
	case '&':
		v.useTree, v.use = ev.u, c
		return value{kind: objectValue, obj: &reference{node: c, u: ev.u, v: v}, typ: v.typ}
	}
	return v
}

// arguments evaluates the arguments of a call, creation or index; skip is how many
// children stand before them, element the type that new(…) makes there.
func (ev *evaluator) arguments(id hostcode.NodeID, skip int, element string) ([]value, []hostcode.NodeID) {
	t := ev.u.tree
	var args []value
	var nodes []hostcode.NodeID
	i := 0
	for c := range t.Children(id) {
		if i++; i <= skip {
			continue
		}
		if k := t.Kind(c); k == hostcode.Init && t.Kind(id) == hostcode.New || k == hostcode.Class {
			continue
		}
		var v value
		switch k := t.Kind(c); k {
		case hostcode.Spread:
			inner := ev.eval(t.Child(c, 0))
			if more, ok := ev.spreadOut(inner); ok {
				args = append(args, more...)
				for range more {
					nodes = append(nodes, c)
				}
				continue
			}
			v = value{spread: true, param: inner.param}
		case hostcode.Lambda:
			v = value{kind: lambdaValue, fn: &lambda{u: ev.u, node: c}}
		case hostcode.Named:
			if t.Kind(id) == hostcode.Call || t.Kind(id) == hostcode.New {
				v = ev.initOf(element, t.Child(c, 0))
				v.argName = t.Name(c)
				break
			}
			v = ev.initOf(element, c)
		default:
			v = ev.initOf(element, c)
		}
		use := c
		if t.Kind(c) == hostcode.Named {
			use = t.Child(c, 0)
		}
		if v.node == 0 {
			v.tree, v.node = ev.u, use
		}
		if !v.fromCaller {
			v.useTree, v.use = ev.u, use
		}
		args = append(args, v)
		nodes = append(nodes, c)
	}
	return args, nodes
}

// call evaluates a method call.
func (ev *evaluator) call(id hostcode.NodeID) value {
	t := ev.u.tree
	fn := t.Child(id, 0)
	var recv value
	method := t.Name(fn)
	switch t.Kind(fn) {
	case hostcode.Member:
		recv = ev.eval(t.Child(fn, 0))
	case hostcode.Name:
		if have := ev.lookup(method); have != nil { // a delegate or lambda
			if v, ok := ev.callValue(have.v, id); ok {
				return v
			}
			if have.v.kind != symbolValue {
				method = ""
			}
		} else if !t.Lang.BareMembers && (ev.class == nil || len(ev.class.methods[method]) == 0) {
			if v := ev.name(fn); v.kind == lambdaValue {
				out, _ := ev.callValue(v, id)
				return out
			}
		}
	case hostcode.Keyword, hostcode.Self:
		method = t.Text(fn)
	case hostcode.Lambda:
		args, _ := ev.arguments(id, 1, "")
		return ev.apply(value{kind: lambdaValue, fn: &lambda{u: ev.u, node: fn}}, args, id)
	default:
		v := ev.eval(fn)
		method = ""
		if out, ok := ev.callValue(v, id); ok {
			return out
		}
	}
	args, nodes := ev.arguments(id, 1, elementOf(recv))
	if method == "require" && t.Kind(fn) == hostcode.Name && len(args) == 1 {
		if path, ok := args[0].constantText(); ok {
			return ev.p.importedPath(ev.u, path, "")
		}
	}
	defer ev.walkRest(args)
	if out, ok := ev.promised(recv, method, args, id); ok {
		return out
	}
	if method == "ConfigureAwait" || method == "GetAwaiter" || method == "GetResult" || method == "AsTask" || method == "WaitAsync" {
		return recv
	}
	var out value
	handled := false
	for _, f := range recv.forks() {
		if f.obj == nil {
			continue
		}
		if t.Lang.ParenthesesIndex && method != "" { // a property's element looks like a call
			if m := f.obj.get(ev, method, fn); m.obj != nil {
				return m.obj.index(ev, args, id)
			}
		}
		v := f.obj.invoke(ev, method, args, id)
		if !handled {
			out, handled = v, true
		} else {
			out = join(out, v)
		}
	}
	if handled {
		for _, a := range args { // a reader or parameter handed to an object stays in its sight
			ev.escapeOrigin(a)
		}
		return out
	}
	if t.Kind(fn) == hostcode.Name && !t.Lang.BareMembers && startsUpper(method) { // a class called makes an object
		if c := ev.p.classes[ev.className(fn)]; c != nil {
			return ev.instantiate(c, args, id)
		}
	}
	if t.Kind(fn) == hostcode.Member || !t.Lang.BareMembers {
		if v, ok := ev.ownClass(fn, recv, method, args, id); ok {
			return v
		}
		for _, api := range APIs {
			if !api.serves(t.Lang) {
				continue
			}
			if v, ok := api.call(ev, recv, method, args, id); ok {
				return v
			}
		}
	}
	if k := t.Kind(fn); t.Lang.BareMembers && (k == hostcode.Name || k == hostcode.Keyword || k == hostcode.Self) {
		for _, api := range APIs {
			if api.own == nil || !api.serves(t.Lang) {
				continue
			}
			if v, ok := api.own(ev, recv, method, args, id); ok {
				return v
			}
		}
	}
	if t.Lang == &hostcode.Java {
		if v, ok := mapOf(ev, recv, method, args, id); ok {
			return v
		}
	}
	if v, ok := ev.textMethod(recv, method, args, nodes, id); ok {
		return v
	}
	if v, ok := ev.helper(fn, recv, method, args, id); ok {
		return v
	}
	if recv.origin != nil && !isConversion(method) && method != "" {
		ev.escapeOrigin(recv)
	}
	if isConversion(method) {
		for _, v := range append([]value{recv}, args...) {
			if v.origin != nil {
				from := *v.origin
				from.converted = from.converted || !handsOnAsIs(method)
				return value{origin: &from, typ: conversionType(method)}
			}
		}
	}
	for _, a := range args {
		ev.escape(a, "it is handed to "+firstNonEmpty(method, "a function"))
		if !isOutput(method) {
			ev.escapeOrigin(a)
		}
	}
	if k, _ := scriptType(value{kind: symbolValue, sym: method}); k != signature.KindUnknown && recv.kind == symbolValue && !t.Lang.BareMembers { // sql.VarChar(50)
		v := value{kind: symbolValue, sym: recv.sym + "." + method}
		if len(args) > 0 && args[0].kind == intValue {
			v.n = args[0].n
		}
		return v
	}
	return value{typ: resultType(method)}
}

// className is the name of the class that a name means, which an import may
// have given another.
func (ev *evaluator) className(fn hostcode.NodeID) string {
	if v := ev.name(fn); v.kind == symbolValue {
		return v.sym[strings.LastIndexByte(v.sym, '.')+1:]
	}
	return ev.u.tree.Name(fn)
}

// resultType is what methods of well-known names return.
func resultType(method string) string {
	switch method {
	case "getConnection", "GetConnection", "OpenConnection", "openConnection":
		return "Connection"
	case "toString", "ToString":
		return "String"
	}
	return ""
}

// isConversion reports whether a method hands its argument's value on in another type.
func isConversion(method string) bool {
	switch method {
	case "ToInt32", "ToInt16", "ToInt64", "ToByte", "ToDecimal", "ToDouble", "ToBoolean", "ToString", "ToDateTime", "Parse", "valueOf", "parseInt", "parseLong",
		"intValue", "longValue", "shortValue", "toString", "ChangeType", "requireNonNull", "ofNullable", "orElse", "trim", "Trim", "FromDbValue", "GetValueOrDefault", "doubleValue", "toBigInteger",
		"CInt", "CLng", "CStr", "CDec", "CBool", "CDbl", "CDate", "Number", "String", "Boolean", "int", "float", "str", "Int", "intval", "floatval":
		return true
	}
	return false
}

// handsOnAsIs reports whether a conversion only tells what happens where there is no value.
func handsOnAsIs(method string) bool {
	switch method {
	case "requireNonNull", "ofNullable", "orElse", "GetValueOrDefault":
		return true
	}
	return false
}

func conversionType(method string) string {
	switch method {
	case "ToInt32", "parseInt", "intValue":
		return "int"
	case "ToInt64", "parseLong", "longValue":
		return "long"
	case "ToBoolean":
		return "bool"
	case "ToString", "toString":
		return "string"
	}
	return ""
}

// isOutput reports whether a method only shows or logs what it is given.
func isOutput(method string) bool {
	switch method {
	case "println", "print", "printf", "WriteLine", "Write", "info", "debug", "warn", "error", "trace", "log", "fine",
		"LogInformation", "LogDebug", "LogWarning", "LogError", "LogTrace", "Info", "Debug", "Warn", "Error", "Trace", "Information", "Warning":
		return true
	}
	return false
}
