package callsite

import (
	"strconv"
	"strings"

	"ramekin/internal/hostcode"
)

func itoa(n int) string { return strconv.Itoa(n) }

// The bounds of the walk through helper functions.
const (
	deepestInline = 4
	mostInlines   = 20000
	deepestEval   = 400
)

// variable is a local variable.
type variable struct {
	name string
	v    value
}

// evaluator walks over one function.
type evaluator struct {
	p      *project
	u      *unit
	class  *classInfo
	fields map[string]value // fields of the class that hold objects
	vars   []variable
	scopes []int
	// closers are the objects to close at the end of each scope.
	closers []scopeCloser
	returns []value
	inlined int // how many helper functions deep
	caller  string
	loops   int
	depth   int
	// comparisons gathers those of the condition at hand.
	comparisons []*comparison
}

type scopeCloser struct {
	scope int
	v     value
}

func (ev *evaluator) push() { ev.scopes = append(ev.scopes, len(ev.vars)) }

func (ev *evaluator) pop() {
	n := len(ev.scopes) - 1
	for len(ev.closers) > 0 && ev.closers[len(ev.closers)-1].scope == len(ev.scopes) {
		last := len(ev.closers) - 1
		ev.closeValue(ev.closers[last].v)
		ev.closers = ev.closers[:last]
	}
	ev.vars = ev.vars[:ev.scopes[n]]
	ev.scopes = ev.scopes[:n]
}

func (ev *evaluator) closeValue(v value) {
	for _, f := range v.forks() {
		if f.obj != nil {
			f.obj.close(ev)
		}
	}
}

func (ev *evaluator) define(name string, v value) { ev.vars = append(ev.vars, variable{name, v}) }

func (ev *evaluator) lookup(name string) *variable {
	for i := len(ev.vars) - 1; i >= 0; i-- {
		if ev.vars[i].name == name {
			return &ev.vars[i]
		}
	}
	return nil
}

// function walks over a function whose parameters have the values args, or
// unknown ones where args is nil.
func (ev *evaluator) function(fn hostcode.NodeID, args []value) value {
	t := ev.u.tree
	ev.push()
	i := 0
	for c := range t.Children(fn) {
		switch t.Kind(c) {
		case hostcode.Param:
			typ := ""
			if ty := t.Child(c, 0); ty != 0 && t.Kind(ty) == hostcode.Type {
				typ = bareType(t.Text(ty))
			}
			v := value{typ: typ, param: true, tree: ev.u, node: c}
			if i < len(args) {
				v = args[i]
				if v.typ == "" {
					v.typ = typ
				}
			}
			ev.define(t.Name(c), v)
			i++
		case hostcode.Block:
			ev.statement(c)
		}
	}
	ev.pop()
	if len(ev.returns) == 0 {
		return value{}
	}
	v := ev.returns[0]
	for _, r := range ev.returns[1:] {
		v = join(v, r)
	}
	return v
}

// bareType is a type's name without arguments, package and null mark.
func bareType(s string) string {
	if i := strings.IndexByte(s, '<'); i >= 0 && !strings.HasSuffix(s, "]") {
		s = s[:i]
	}
	s = strings.TrimRight(strings.TrimSpace(s), "?")
	if i := strings.LastIndexByte(s, '.'); i >= 0 {
		s = s[i+1:]
	}
	return s
}

// statement walks over a statement and reports whether control leaves with it.
func (ev *evaluator) statement(id hostcode.NodeID) bool {
	if ev.depth++; ev.depth > deepestEval {
		ev.depth--
		return false
	}
	defer func() { ev.depth-- }()
	t := ev.u.tree
	switch t.Kind(id) {
	case hostcode.Block:
		ev.push()
		leaves := false
		for c := range t.Children(id) {
			leaves = ev.statement(c) || leaves
		}
		ev.pop()
		return leaves
	case hostcode.VarDecl, hostcode.Field:
		ev.declaration(id)
	case hostcode.ExprStmt:
		for c := range t.Children(id) {
			ev.eval(c)
		}
	case hostcode.If:
		return ev.branch(id)
	case hostcode.Loop:
		ev.loop(id)
	case hostcode.Switch:
		ev.switchCases(id)
	case hostcode.Return:
		if c := t.Child(id, 0); c != 0 {
			mark := len(ev.comparisons)
			v := ev.eval(c)
			ev.handled(mark, true)
			ev.returns = append(ev.returns, v)
			ev.escapeOrigin(v)
			for _, f := range v.forks() {
				if s, ok := f.obj.(siteObject); ok {
					s.base().returned = s.base().returned || s.base().inlined == 0 && ev.inlined == 0
				}
				if f.obj != nil && ev.inlined == 0 {
					f.obj.escape("it is returned to callers")
				}
			}
		}
		return true
	case hostcode.Throw:
		if c := t.Child(id, 0); c != 0 {
			ev.escapeOrigin(ev.eval(c))
		}
		return true
	case hostcode.Jump:
		return true
	case hostcode.Try:
		ev.try(id)
	case hostcode.Using:
		return ev.using(id)
	case hostcode.Func:
		sub := *ev
		sub.returns = nil
		sub.function(id, nil)
	case hostcode.Class:
	default:
		ev.eval(id)
	}
	return false
}

func (ev *evaluator) declaration(id hostcode.NodeID) {
	t := ev.u.tree
	typ := ""
	var init hostcode.NodeID
	for c := range t.Children(id) {
		if t.Kind(c) == hostcode.Type {
			typ = t.Text(c)
		} else {
			init = c
		}
	}
	v := value{}
	if init != 0 {
		v = ev.initOf(typ, init)
	}
	if typ != "" && typ != "var" {
		v.typ = bareType(typ)
		ev.noteReadType(v, v.typ, false)
	}
	ev.define(t.Name(id), v)
}

// initOf evaluates an initializer; new() takes the declared type.
func (ev *evaluator) initOf(typ string, init hostcode.NodeID) value {
	t := ev.u.tree
	if t.Kind(init) == hostcode.New {
		if ty := t.Child(init, 0); ty != 0 && t.Text(ty) == "" {
			return ev.creation(init, bareType(typ))
		}
	}
	return ev.eval(init)
}

func (ev *evaluator) typedInit(field, init hostcode.NodeID) value {
	typ := ""
	if ty := ev.u.tree.Child(field, 0); ty != 0 && ev.u.tree.Kind(ty) == hostcode.Type {
		typ = ev.u.tree.Text(ty)
	}
	return ev.initOf(typ, init)
}

func (ev *evaluator) snapshot() []variable { return append([]variable(nil), ev.vars...) }

// merge joins the variables of two paths.
func (ev *evaluator) merge(a, b []variable) {
	n := min(len(a), len(b), len(ev.vars))
	for i := range n {
		ev.vars[i].v = join(a[i].v, b[i].v)
	}
}

func (ev *evaluator) branch(id hostcode.NodeID) bool {
	t := ev.u.tree
	cond, then, els := t.Child(id, 0), t.Child(id, 1), t.Child(id, 2)
	if t.Kind(cond) == hostcode.Block { // a condition that was not understood
		cond, then, els = 0, cond, then
	}
	mark := len(ev.comparisons)
	if cond != 0 {
		ev.eval(cond)
	}
	mine := append([]*comparison(nil), ev.comparisons[mark:]...)
	ev.comparisons = ev.comparisons[:mark]
	before := ev.snapshot()
	fieldsBefore := copyFields(ev.fields)
	thenLeaves := ev.statement(then)
	after := ev.snapshot()
	fieldsThen := copyFields(ev.fields)
	copy(ev.vars, before)
	elseLeaves := false
	if els != 0 {
		restoreFields(ev.fields, fieldsBefore)
		elseLeaves = ev.statement(els)
		for k, v := range fieldsThen {
			if w, ok := ev.fields[k]; !ok || w.kind != objectValue {
				ev.fields[k] = v
			}
		}
	}
	for _, c := range mine {
		c.handled = c.handled || els != 0 && !isElseIf(t, els) || thenLeaves
		if els != 0 && isElseIf(t, els) { // the chain's last part decides for all
			c.handled = c.handled || chainHandles(t, els)
		}
	}
	switch {
	case thenLeaves && !elseLeaves:
	case elseLeaves && !thenLeaves:
		copy(ev.vars, after)
	default:
		ev.merge(after, ev.snapshot())
	}
	return thenLeaves && els != 0 && elseLeaves
}

func copyFields(m map[string]value) map[string]value {
	out := make(map[string]value, len(m))
	for k, v := range m {
		out[k] = v
	}
	return out
}

func restoreFields(m, to map[string]value) {
	clear(m)
	for k, v := range to {
		m[k] = v
	}
}

// isElseIf reports whether an else holds one if and nothing more.
func isElseIf(t *hostcode.Tree, els hostcode.NodeID) bool {
	first := t.Child(els, 0)
	return t.Kind(first) == hostcode.If && t.At(first).NextSibling == 0
}

// chainHandles reports whether a chain of else if ends in an else.
func chainHandles(t *hostcode.Tree, els hostcode.NodeID) bool {
	for isElseIf(t, els) {
		els = t.Child(t.Child(els, 0), 2)
		if els == 0 {
			return false
		}
	}
	return true
}

func (ev *evaluator) loop(id hostcode.NodeID) {
	t := ev.u.tree
	ev.push()
	var body hostcode.NodeID
	for c := range t.Children(id) {
		if t.Kind(c) == hostcode.Block && t.At(c).NextSibling == 0 {
			body = c
			break
		}
	}
	mark := len(ev.comparisons)
	for c := range t.Children(id) {
		if c == body {
			break
		}
		if t.Kind(c) == hostcode.VarDecl {
			ev.declaration(c)
		} else if k := t.Kind(c); k != hostcode.Postfix && k != hostcode.Assign && k != hostcode.Unary {
			ev.eval(c)
		}
	}
	ev.handled(mark, true)
	// What the loop counts is not known inside it.
	walk(t, id, func(n hostcode.NodeID) {
		var target hostcode.NodeID
		switch t.Kind(n) {
		case hostcode.Postfix:
			target = t.Child(n, 0)
		case hostcode.Unary:
			if op := t.At(n).Op; op == hostcode.OpInc || op == hostcode.OpDec {
				target = t.Child(n, 0)
			}
		case hostcode.Assign:
			target = t.Child(n, 0)
		}
		if target != 0 && t.Kind(target) == hostcode.Name {
			if v := ev.lookup(t.Name(target)); v != nil && v.v.kind == intValue {
				v.v = value{typ: v.v.typ}
			}
		}
	})
	ev.loops++
	if body != 0 {
		ev.statement(body)
	}
	ev.loops--
	ev.pop()
}

// switchCases walks over a switch statement or expression; it returns the
// value of an expression.
func (ev *evaluator) switchCases(id hostcode.NodeID) value {
	t := ev.u.tree
	subject := ev.eval(t.Child(id, 0))
	hasDefault := false
	for c := range t.Children(id) {
		if t.Kind(c) == hostcode.Case && t.At(c).Flags&hostcode.Default != 0 {
			hasDefault = true
		}
	}
	before := ev.snapshot()
	var out value
	first := true
	for c := range t.Children(id) {
		if t.Kind(c) != hostcode.Case {
			continue
		}
		copy(ev.vars, before)
		for l := range t.Children(c) {
			if t.Kind(l) == hostcode.Block {
				if st := t.Child(l, 0); t.Kind(id) == hostcode.SwitchExp && t.Kind(st) == hostcode.ExprStmt {
					v := ev.eval(t.Child(st, 0))
					if first {
						out, first = v, false
					} else {
						out = join(out, v)
					}
				} else {
					ev.statement(l)
				}
				continue
			}
			label := ev.eval(l)
			ev.compare("==", subject, label, ev.u.span(l), hasDefault || t.Kind(id) == hostcode.SwitchExp)
		}
		after := ev.snapshot()
		copy(ev.vars, before)
		ev.merge(before, after)
		before = ev.snapshot()
	}
	if subject.origin != nil {
		if u := subject.origin.site.use(subject.origin.key); u.switchAt == nil {
			at := ev.u.span(id)
			u.switchAt = &at
		}
	}
	return out
}

func (ev *evaluator) try(id hostcode.NodeID) {
	t := ev.u.tree
	ev.push()
	blockDone := false
	var resources []value
	for c := range t.Children(id) {
		switch t.Kind(c) {
		case hostcode.VarDecl:
			ev.declaration(c)
			if v := ev.lookup(t.Name(c)); v != nil {
				resources = append(resources, v.v)
			}
		case hostcode.Block, hostcode.Catch:
			before := ev.snapshot()
			if t.Kind(c) == hostcode.Catch {
				for b := range t.Children(c) {
					ev.statement(b)
				}
				ev.merge(before, ev.snapshot())
				continue
			}
			ev.statement(c)
			if !blockDone {
				blockDone = true
				for i := len(resources) - 1; i >= 0; i-- {
					ev.closeValue(resources[i])
				}
			}
		default:
			ev.eval(c)
		}
	}
	ev.pop()
}

func (ev *evaluator) using(id hostcode.NodeID) bool {
	t := ev.u.tree
	if t.At(id).Flags&hostcode.Declared != 0 {
		for c := range t.Children(id) {
			ev.statement(c)
			if t.Kind(c) == hostcode.VarDecl {
				if v := ev.lookup(t.Name(c)); v != nil {
					ev.closers = append(ev.closers, scopeCloser{len(ev.scopes), v.v})
				}
			}
		}
		return false
	}
	ev.push()
	var held []value
	leaves := false
	for c := range t.Children(id) {
		switch t.Kind(c) {
		case hostcode.VarDecl:
			ev.declaration(c)
			if v := ev.lookup(t.Name(c)); v != nil {
				held = append(held, v.v)
			}
		case hostcode.Block:
			leaves = ev.statement(c)
		default:
			held = append(held, ev.eval(c))
		}
	}
	for i := len(held) - 1; i >= 0; i-- {
		ev.closeValue(held[i])
	}
	ev.pop()
	return leaves
}

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
		switch t.Text(id) {
		case "null":
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
		ty := t.Child(id, 0)
		return ev.creation(id, bareType(t.Text(ty)))
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
		if v.kind != textValue && v.kind != intValue && v.kind != nullValue {
			v.typ = bareType(t.Text(t.Child(id, 0)))
		}
		ev.noteReadType(v, bareType(t.Text(t.Child(id, 0))), n.Op != hostcode.OpAs)
		return v
	case hostcode.Index:
		recv := ev.eval(t.Child(id, 0))
		var args []value
		for c := t.At(t.Child(id, 0)).NextSibling; c != 0; c = t.At(c).NextSibling {
			args = append(args, ev.eval(c))
		}
		for _, f := range recv.forks() {
			if f.obj != nil {
				return f.obj.index(ev, args, id)
			}
		}
		return value{}
	case hostcode.Lambda:
		ev.push()
		for c := range t.Children(id) {
			switch t.Kind(c) {
			case hostcode.Param:
				typ := ""
				if ty := t.Child(c, 0); ty != 0 {
					typ = bareType(t.Text(ty))
				}
				ev.define(t.Name(c), value{typ: typ})
			case hostcode.Block:
				saved := ev.returns
				ev.statement(c)
				ev.returns = saved
			default:
				ev.escapeOrigin(ev.eval(c))
			}
		}
		ev.pop()
		return value{}
	case hostcode.OutArg:
		c := t.Child(id, 0)
		if t.Kind(c) == hostcode.VarDecl {
			ev.declaration(c)
		} else if t.Kind(c) == hostcode.Name {
			if v := ev.lookup(t.Name(c)); v != nil && v.v.kind != objectValue {
				v.v = value{typ: v.v.typ}
			}
		}
		return value{}
	case hostcode.Init:
		out := value{kind: listValue}
		for c := range t.Children(id) {
			out.list = append(out.list, ev.eval(c))
		}
		return out
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
		if t.Kind(c) == hostcode.String {
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
	if v, ok := ev.fields[name]; ok {
		return v
	}
	for c := ev.class; c != nil; c = c.outer {
		if v, ok := ev.p.field(c, name); ok {
			return v
		}
	}
	return value{kind: symbolValue, sym: name, tree: ev.u, node: id}
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
	v := value{}
	if init := fieldInit(t, f); init != 0 && !c.busy[name] {
		c.busy[name] = true
		ev := &evaluator{p: p, u: c.u, class: c, fields: map[string]value{}, inlined: deepestInline}
		if k := t.Kind(init); k != hostcode.New && k != hostcode.Call || !p.mayTouch(c.u, init) {
			v = ev.eval(init)
		}
		c.busy[name] = false
	}
	if ty := t.Child(f, 0); ty != 0 && t.Kind(ty) == hostcode.Type {
		v.typ = bareType(t.Text(ty))
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
		for c := ev.class; c != nil; c = c.outer {
			if v, ok := ev.p.field(c, name); ok {
				return v
			}
		}
		return value{}
	case recv.kind == symbolValue:
		last := recv.sym
		if i := strings.LastIndexByte(last, '.'); i >= 0 {
			last = last[i+1:]
		}
		if startsUpper(last) && !isAPIEnum(last) {
			if c := ev.p.class(last); c != nil {
				if v, ok := ev.p.field(c, name); ok {
					return v
				}
			}
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
		v = ev.initOf(firstNonEmpty(typ, ""), source)
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
	switch t.Kind(target) {
	case hostcode.Name:
		name := t.Name(target)
		if have := ev.lookup(name); have != nil {
			if have.v.typ != "" && v.kind != objectValue {
				v.typ = have.v.typ
			}
			ev.noteReadType(v, have.v.typ, false)
			have.v = v
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
	case hostcode.Index:
		ev.eval(target)
		ev.escape(v, "it is kept in a collection")
	}
	return v
}

func (ev *evaluator) fieldType(name string) string {
	for c := ev.class; c != nil; c = c.outer {
		if f, ok := c.fields[name]; ok {
			if ty := c.u.tree.Child(f, 0); ty != 0 && c.u.tree.Kind(ty) == hostcode.Type {
				return bareType(c.u.tree.Text(ty))
			}
		}
	}
	return ""
}

func (ev *evaluator) setField(name string, v value) {
	ev.escapeOrigin(v)
	if ev.fields == nil {
		return
	}
	if v.kind == objectValue || len(v.alts) > 0 && v.alts[0].kind == objectValue {
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
				have.v = after
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
	}
	return v
}

// arguments evaluates the arguments of a call or creation; skip is how many
// children stand before them.
func (ev *evaluator) arguments(id hostcode.NodeID, skip int) ([]value, []hostcode.NodeID) {
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
		v := ev.eval(c)
		if v.node == 0 {
			v.tree, v.node = ev.u, c
		}
		if !v.fromCaller {
			v.useTree, v.use = ev.u, c
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
			method = ""
		}
	default:
		ev.eval(fn)
		method = ""
	}
	args, nodes := ev.arguments(id, 1)
	if method == "ConfigureAwait" || method == "GetAwaiter" || method == "GetResult" || method == "AsTask" || method == "WaitAsync" {
		return recv
	}
	var out value
	handled := false
	for _, f := range recv.forks() {
		if f.obj == nil {
			continue
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
	if t.Kind(fn) == hostcode.Member {
		for _, api := range APIs {
			if v, ok := api.call(ev, recv, method, args, id); ok {
				return v
			}
		}
		if v, ok := ev.textMethod(recv, method, args, nodes, id); ok {
			return v
		}
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
				return value{origin: v.origin, typ: conversionType(method)}
			}
		}
	}
	for _, a := range args {
		ev.escape(a, "it is handed to "+firstNonEmpty(method, "a function"))
		if !isOutput(method) {
			ev.escapeOrigin(a)
		}
	}
	return value{typ: resultType(method)}
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
		"intValue", "longValue", "shortValue", "toString", "ChangeType", "requireNonNull", "ofNullable", "orElse", "trim", "Trim", "FromDbValue", "GetValueOrDefault", "doubleValue", "toBigInteger":
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

// helper walks through a function of the tree that the call names.
func (ev *evaluator) helper(fn hostcode.NodeID, recv value, method string, args []value, id hostcode.NodeID) (value, bool) {
	if method == "" || ev.inlined >= deepestInline || ev.p.inlines >= mostInlines {
		return value{}, false
	}
	t := ev.u.tree
	var c *classInfo
	own := false
	switch {
	case t.Kind(fn) == hostcode.Name, recv.kind == symbolValue && recv.sym == "this":
		for k := ev.class; k != nil; k = k.outer {
			if len(k.methods[method]) > 0 {
				c, own = k, true
				break
			}
		}
	case recv.kind == symbolValue && startsUpper(recv.sym):
		c = ev.p.classes[recv.sym]
		if c == nil && ev.interesting(args) {
			c = ev.p.class(recv.sym)
		}
	case recv.typ != "":
		c = ev.p.classes[recv.typ]
	case recv.kind == symbolValue:
		if typ := ev.fieldType(recv.sym); typ != "" {
			c = ev.p.classes[typ]
		}
	}
	if c == nil {
		return value{}, false
	}
	var target hostcode.NodeID
	for _, m := range c.methods[method] {
		n := 0
		for k := range c.u.tree.Children(m) {
			if c.u.tree.Kind(k) == hostcode.Param {
				n++
			}
		}
		if n == len(args) {
			target = m
			break
		}
		if n > len(args) && target == 0 { // the rest have defaults
			target = m
		}
	}
	if target == 0 || c.u.tree.Last(target) == 0 || c.u.tree.Kind(c.u.tree.Last(target)) != hostcode.Block {
		return value{}, false
	}
	if !ev.interesting(args) && !ev.p.mayTouch(c.u, target) {
		return value{}, false
	}
	ev.p.inlines++
	sub := &evaluator{p: ev.p, u: c.u, class: c, inlined: ev.inlined + 1, loops: ev.loops, fields: map[string]value{}}
	if own {
		sub.fields = ev.fields
	}
	at := ev.u.span(id)
	sub.caller = ev.caller + ">" + ev.u.path + ":" + itoa(at.Line) + ":" + itoa(at.Column)
	passed := make([]value, len(args))
	for i, a := range args {
		passed[i] = a
		passed[i].fromCaller = true
	}
	return sub.function(target, passed), true
}

// interesting reports whether any argument is worth following.
func (ev *evaluator) interesting(args []value) bool {
	for _, a := range args {
		if a.kind == objectValue || a.kind == textValue || len(a.alts) > 0 || a.origin != nil {
			return true
		}
	}
	return false
}

// escape tells the objects of v that they go out of sight.
func (ev *evaluator) escape(v value, reason string) {
	for _, f := range v.forks() {
		if f.obj != nil {
			f.obj.escape(reason)
		}
		for _, e := range f.list {
			ev.escape(e, reason)
		}
	}
}

// escapeOrigin notes that a status code or output is handed on.
func (ev *evaluator) escapeOrigin(v value) {
	for _, f := range v.forks() {
		if f.origin != nil {
			f.origin.site.use(f.origin.key).escapes = true
		}
	}
	if v.origin != nil {
		v.origin.site.use(v.origin.key).escapes = true
	}
}

// noteReadType notes the type that a value read from an output is taken as.
func (ev *evaluator) noteReadType(v value, typ string, cast bool) {
	if v.origin == nil || typ == "" || typ == "var" || typ == "object" || typ == "Object" {
		return
	}
	v.origin.site.noteReadType(v.origin.key, hostKind(typ), cast)
}

// compare notes that a status code is compared with a constant.
func (ev *evaluator) compare(op string, l, r value, at Span, handled bool) {
	if l.origin == nil {
		return
	}
	u := l.origin.site.use(l.origin.key)
	if r.kind != intValue {
		u.escapes = true
		return
	}
	c := &comparison{op: op, value: r.n, at: at, handled: handled}
	u.comparisons = append(u.comparisons, c)
	ev.comparisons = append(ev.comparisons, c)
}

// handled marks the comparisons since mark as having a branch for every code.
func (ev *evaluator) handled(mark int, yes bool) {
	for _, c := range ev.comparisons[mark:] {
		c.handled = c.handled || yes
	}
	ev.comparisons = ev.comparisons[:mark]
}
