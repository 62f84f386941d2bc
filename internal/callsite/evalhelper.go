package callsite

import (
	"strings"

	"ramekin/internal/hostcode"
)

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
		if ev.class != nil {
			ev.p.family(ev.class, func(k *classInfo) bool {
				if len(k.methods[method]) > 0 {
					c, own = k, true
				}
				return own
			})
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
		n := countParams(c.u.tree, m)
		if n == len(args) {
			target = m
			if last := n - 1; n > 0 && takesRest(c.u.tree, m) && args[last].kind != listValue && !strings.HasSuffix(args[last].typ, "]") {
				args = append(append([]value(nil), args[:last]...), value{kind: listValue, obj: &list{items: args[last:]}})
			}
			break
		}
		if n > len(args) && target == 0 { // the rest have defaults
			target = m
			if n == len(args)+1 && takesRest(c.u.tree, m) {
				args = append(append([]value(nil), args...), value{kind: listValue, obj: &list{}})
				break
			}
		}
		if n > 0 && n < len(args) && target == 0 && takesRest(c.u.tree, m) {
			target = m
			rest := &list{items: append([]value(nil), args[n-1:]...)}
			args = append(append([]value(nil), args[:n-1]...), value{kind: listValue, obj: rest})
		}
	}
	if target == 0 || c.u.tree.Last(target) == 0 || c.u.tree.Kind(c.u.tree.Last(target)) != hostcode.Block {
		return value{}, false
	}
	n := c.u.tree.At(target)
	if n.End-n.Start > shortFunction && !ev.p.mayTouch(c.u, target) && (!ev.interesting(args) || !t.Lang.BareMembers && !handsObjects(args) && n.End-n.Start > 2*shortFunction) {
		return value{}, false
	}
	fields := map[string]value{}
	if own {
		fields = ev.fields
	}
	return ev.into(c, fields, ev.callerAt(id)).function(target, passedOn(args)), true
}

// into is an evaluator for a function of a class, one helper deeper; fields are
// those of the object that it belongs to.
func (ev *evaluator) into(c *classInfo, fields map[string]value, caller string) *evaluator {
	ev.p.inlines++
	return &evaluator{p: ev.p, u: c.u, class: c, fields: fields, inlined: ev.inlined + 1, loops: ev.loops, caller: caller}
}

// callerAt is the path of calls that ends in the one at id.
func (ev *evaluator) callerAt(id hostcode.NodeID) string {
	at := ev.u.span(id)
	return ev.caller + ">" + ev.u.path + ":" + itoa(at.Line) + ":" + itoa(at.Column)
}

// passedOn are arguments as the function that gets them sees them.
func passedOn(args []value) []value {
	passed := make([]value, len(args))
	for i, a := range args {
		passed[i] = a
		passed[i].fromCaller = true
	}
	return passed
}

// extension walks through a static function of the tree that is called as a
// method of its first parameter. It returns false where there is none.
func (ev *evaluator) extension(self value, method string, args []value) (value, bool) {
	if ev.inlined >= deepestInline || ev.p.inlines >= mostInlines {
		return value{}, false
	}
	for _, u := range ev.p.units {
		for _, c := range u.classes {
			for _, m := range c.methods[method] {
				if u.tree.At(m).Flags&hostcode.Static == 0 || countParams(u.tree, m) < len(args)+1 {
					continue
				}
				return ev.into(c, map[string]value{}, ev.caller).function(m, passedOn(append([]value{self}, args...))), true
			}
		}
	}
	return value{}, false
}

// takesRest reports whether the last parameter of a function takes any number
// of arguments.
func takesRest(t *hostcode.Tree, fn hostcode.NodeID) bool {
	rest := false
	for k := range t.Children(fn) {
		if t.Kind(k) == hostcode.Param {
			typ := t.Text(t.Child(k, 0))
			rest = strings.HasSuffix(typ, "]") || strings.HasSuffix(typ, "...")
		}
	}
	return rest
}

func countParams(t *hostcode.Tree, fn hostcode.NodeID) int {
	n := 0
	for k := range t.Children(fn) {
		if t.Kind(k) == hostcode.Param {
			n++
		}
	}
	return n
}

// handsObjects reports whether any argument is more than a text: without declared
// types nearly every function is given one.
func handsObjects(args []value) bool {
	for _, a := range args {
		if a.kind == objectValue || a.kind == lambdaValue || a.origin != nil {
			return true
		}
	}
	return false
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
	v.origin.site.noteReadType(v.origin.key, hostKind(typ), cast && !v.origin.converted)
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
