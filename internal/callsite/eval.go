package callsite

import (
	"maps"
	"slices"
	"strconv"
	"strings"

	"ramekin/internal/hostcode"
)

func itoa(n int) string { return strconv.Itoa(n) }

// The bounds of the walk through helper functions.
const (
	deepestInline = 4
	mostInlines   = 300 // for the functions of one class or file
	deepestEval   = 400
	mostElements  = 200
	shortFunction = 300 // bytes; one that is shorter is followed whatever it is given
)

// variable is a local variable.
type variable struct {
	name string
	v    value
	at   int // its index
}

// change is the value that a variable had before it was assigned.
type change struct {
	at  int
	old value
}

// evaluator walks over one function.
type evaluator struct {
	p      *project
	u      *unit
	class  *classInfo
	fields map[string]value // fields of the class that hold objects
	vars   []variable
	scopes []int
	// names counts the variables of each name.
	names map[string]int
	// log holds what assignments changed, so that a branch can be undone.
	log []change
	// closers are the objects to close at the end of each scope.
	closers []scopeCloser
	returns []value
	// result is the type that the function around returns, "" where it is not told.
	result  string
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
	for _, v := range ev.vars[ev.scopes[n]:] {
		ev.names[ev.key(v.name)]--
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

func (ev *evaluator) define(name string, v value) {
	ev.vars = append(ev.vars, variable{name, v, len(ev.vars)})
	if ev.names == nil {
		ev.names = map[string]int{}
	}
	ev.names[ev.key(name)]++
}

// key is what a name is told apart from others by.
func (ev *evaluator) key(name string) string {
	if ev.u.tree.Lang.IgnoresCase {
		return strings.ToLower(name)
	}
	return name
}

// assignTo gives a variable another value.
func (ev *evaluator) assignTo(have *variable, v value) {
	ev.log = append(ev.log, change{have.at, have.v})
	have.v = v
}

// isolated runs a branch, undoes what it assigned and returns the values that
// its variables had at its end. It costs what the branch assigns, however many
// variables there are.
func (ev *evaluator) isolated(run func()) map[int]value {
	mark := len(ev.log)
	run()
	var changed map[int]value
	for i := len(ev.log) - 1; i >= mark; i-- {
		c := ev.log[i]
		if c.at >= len(ev.vars) {
			continue // its scope has ended
		}
		if changed == nil {
			changed = map[int]value{}
		}
		if _, ok := changed[c.at]; !ok {
			changed[c.at] = ev.vars[c.at].v
		}
		ev.vars[c.at].v = c.old
	}
	ev.log = ev.log[:mark]
	return changed
}

// accept gives variables the values of a branch; joined keeps those they had as
// alternatives.
func (ev *evaluator) accept(changed map[int]value, joined bool) {
	for _, at := range slices.Sorted(maps.Keys(changed)) {
		v := changed[at]
		if joined {
			v = join(v, ev.vars[at].v)
		}
		ev.assignTo(&ev.vars[at], v)
	}
}

func (ev *evaluator) lookup(name string) *variable {
	if ev.names[ev.key(name)] == 0 {
		return nil
	}
	for i := len(ev.vars) - 1; i >= 0; i-- {
		if ev.vars[i].name == name || ev.u.tree.Lang.IgnoresCase && strings.EqualFold(ev.vars[i].name, name) {
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
	ev.result = ""
	if first := t.Child(fn, 0); t.Kind(first) == hostcode.Type {
		ev.result = t.Text(first)
	}
	ev.parameters(fn, args)
	var out value
	for c := range t.Children(fn) {
		switch k := t.Kind(c); k {
		case hostcode.Block:
			ev.statement(c)
		case hostcode.Type, hostcode.Param, hostcode.Annotate:
		default: // the expression of a short function
			out = ev.eval(c)
			ev.escapeOrigin(out)
		}
	}
	ev.pop()
	for i, r := range ev.returns {
		if i == 0 {
			out = r
		} else {
			out = join(out, r)
		}
	}
	return out
}

// parameters defines the parameters of a function with the values of args: by
// name where one has a name, else in order, the rest as a list. One that is left
// out has its default, and is unknown where args is nil.
func (ev *evaluator) parameters(fn hostcode.NodeID, args []value) {
	t := ev.u.tree
	i := 0
	named := func(name string) (value, bool) {
		for _, a := range args {
			if a.argName != "" && a.argName == strings.TrimPrefix(name, "$") {
				return a, true
			}
		}
		return value{}, false
	}
	for c := range t.Children(fn) {
		if t.Kind(c) != hostcode.Param {
			continue
		}
		typ := ""
		var init, pattern hostcode.NodeID
		for k := range t.Children(c) {
			switch t.Kind(k) {
			case hostcode.Type:
				typ = bareType(t.Text(k))
			case hostcode.Annotate:
			case hostcode.Init:
				if t.Name(c) == "" && pattern == 0 {
					pattern = k
					continue
				}
				init = k
			default:
				init = k
			}
		}
		v := value{typ: typ, param: true, tree: ev.u, node: c}
		given, byName := named(t.Name(c))
		switch {
		case t.At(c).Flags&hostcode.Rest != 0 && args != nil:
			rest := &list{}
			for ; i < len(args); i++ {
				if args[i].spread {
					rest.open = true
				} else if args[i].argName == "" {
					rest.items = append(rest.items, args[i])
				}
			}
			v = value{kind: listValue, obj: rest}
		case byName:
			v = given
			v.argName = ""
		case i < len(args) && args[i].argName == "":
			v = args[i]
			if v.spread {
				v, i = value{typ: typ, param: true, tree: ev.u, node: c}, i-1
			}
			if v.typ == "" {
				v.typ = typ
			}
			i++
		case args != nil && init != 0:
			v = ev.eval(init)
			if v.typ == "" {
				v.typ = typ
			}
		}
		if pattern != 0 {
			ev.destructure(pattern, v, true)
			continue
		}
		ev.define(t.Name(c), v)
	}
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
		scoped := !t.Lang.DeclaresByAssigning
		if scoped {
			ev.push()
		}
		leaves := false
		for c := range t.Children(id) {
			if t.Kind(c) == hostcode.Func && t.Name(c) != "" { // callable before it is declared
				ev.define(t.Name(c), value{kind: lambdaValue, fn: &lambda{u: ev.u, node: c}})
			}
		}
		for c := range t.Children(id) {
			leaves = ev.statement(c) || leaves
		}
		if scoped {
			ev.pop()
		}
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
			v := ev.initOf(ev.result, c)
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
	case hostcode.Import:
		ev.define(t.Name(id), ev.p.imported(ev.u, id))
	case hostcode.Class:
		ev.p.localClass(ev.u, id, ev.class)
	case hostcode.Type:
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
			return ev.creation(init, bareType(typ), elementType(typ))
		}
	}
	if t.Kind(init) == hostcode.Init && t.At(init).Flags&hostcode.Keyed == 0 {
		return ev.listOf(elementType(typ), init)
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
	fieldsBefore := copyFields(ev.fields)
	var thenLeaves, elseLeaves bool
	inThen := ev.isolated(func() { thenLeaves = ev.statement(then) })
	fieldsThen := copyFields(ev.fields)
	var inElse map[int]value
	if els != 0 {
		restoreFields(ev.fields, fieldsBefore)
		inElse = ev.isolated(func() { elseLeaves = ev.statement(els) })
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
		ev.accept(inElse, false)
	case elseLeaves && !thenLeaves:
		ev.accept(inThen, false)
	default:
		for at, v := range inThen { // of both branches; what one leaves alone it leaves as it was
			other, ok := inElse[at]
			if !ok {
				other = ev.vars[at].v
			}
			inThen[at] = join(v, other)
			delete(inElse, at)
		}
		ev.accept(inThen, false)
		ev.accept(inElse, true)
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
		if t.Kind(c) == hostcode.Tuple || t.Kind(c) == hostcode.ExprStmt && t.Kind(t.Child(c, 0)) == hostcode.Assign {
			if over := t.At(c).NextSibling; t.Kind(c) == hostcode.Tuple && over != 0 && over != body {
				ev.iterated(ev.eval(over), over)
				ev.destructure(c, value{}, true)
				continue
			}
			ev.statement(c)
		} else if t.Kind(c) == hostcode.VarDecl {
			ev.declaration(c)
			if over := t.At(c).NextSibling; over != 0 && over != body && t.Last(c) == t.Child(c, 0) {
				if row, ok := ev.iterated(ev.eval(over), over); ok {
					if v := ev.lookup(t.Name(c)); v != nil {
						ev.assignTo(v, row)
					}
					continue
				}
			}
			if items, ok := ev.elementsOver(c, body); ok {
				ev.unroll(t.Name(c), items, body)
				ev.handled(mark, true)
				ev.pop()
				return
			}
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
				ev.assignTo(v, value{typ: v.v.typ})
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

// iterable is an object that a loop can go over; it returns one element.
type iterable interface {
	iterate(ev *evaluator, node hostcode.NodeID) value
}

// iterated tells an object that a loop goes over it, and returns an element.
func (ev *evaluator) iterated(v value, node hostcode.NodeID) (value, bool) {
	for _, f := range v.forks() {
		if it, ok := f.obj.(iterable); ok {
			return it.iterate(ev, node), true
		}
	}
	return value{}, false
}

// elementsOver returns the elements that the variable of a for-each goes over,
// where all of them are known.
func (ev *evaluator) elementsOver(decl, body hostcode.NodeID) ([]value, bool) {
	t := ev.u.tree
	next := t.At(decl).NextSibling
	if t.Last(decl) != t.Child(decl, 0) || next == 0 || next == body {
		return nil, false
	}
	l, ok := ev.eval(next).obj.(*list)
	if !ok || l.open || len(l.items) > mostElements {
		return nil, false
	}
	return append([]value(nil), l.items...), true
}

// unroll walks over the body of a loop once for each element.
func (ev *evaluator) unroll(name string, items []value, body hostcode.NodeID) {
	for _, item := range items {
		if v := ev.lookup(name); v != nil {
			item.fromCaller = true // its expression in the list says more than the variable's name
			ev.assignTo(v, item)
		}
		if body != 0 {
			ev.statement(body)
		}
	}
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
	var out value
	first := true
	for c := range t.Children(id) {
		if t.Kind(c) != hostcode.Case {
			continue
		}
		changed := ev.isolated(func() {
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
		})
		ev.accept(changed, true)
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
			if t.Kind(c) == hostcode.Catch {
				ev.accept(ev.isolated(func() {
					for b := range t.Children(c) {
						ev.statement(b)
					}
				}), true)
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
