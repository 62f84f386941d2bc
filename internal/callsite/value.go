package callsite

import (
	"strings"

	"ramekin/internal/hostcode"
	"ramekin/internal/sqlcall"
)

// valueKind is what the evaluator knows of a value.
type valueKind uint8

const (
	unknownValue valueKind = iota
	textValue
	intValue
	nullValue
	objectValue
	symbolValue // a name that is not defined in the tree: Types.VARCHAR
	listValue   // the elements of an array or collection
	lambdaValue // a function
)

// value is what the evaluator knows of the value of an expression.
type value struct {
	kind  valueKind
	parts []part
	n     int64
	sym   string
	obj   object
	// alts are the values that a fork in the program leaves open; where there
	// are any, nothing else of the value counts but its type.
	alts []value
	// typ is the static type in the host language, "" where it is not known.
	typ string
	// origin is the output or status code that the value was read from.
	origin *origin
	// param is set for a parameter of the function at hand, whose callers know more.
	param bool
	// literal is the node of a constant, for its place.
	tree *unit
	node hostcode.NodeID
	// useTree and use are the expression that the value is passed as.
	useTree *unit
	use     hostcode.NodeID
	// fromCaller is set where the value came in through a helper's parameter, so
	// that its expression there says more.
	fromCaller bool
	// fn is the function, of a lambdaValue.
	fn *lambda
	// argName is the name that the value was passed under, as an argument.
	argName string
	// spread is set for an argument that stands for any number of them.
	spread bool
}

// lambda is a function that stands as a value.
type lambda struct {
	u    *unit
	node hostcode.NodeID
	// walked is set once the function was run, by whoever it was handed to or alone.
	walked bool
}

// part is a piece of a text: constant, or a hole with the expression that fills it.
type part struct {
	text  string
	hole  bool
	param bool
	// grows is set for a hole that stands for more of what was appended in a loop.
	grows bool
	tree  *unit
	node  hostcode.NodeID
	expr  string
}

// origin ties a value to the call whose output or status it is.
type origin struct {
	site *site
	key  bindKey
	// converted is set behind a conversion: a cast then takes what the
	// conversion made, not what the client delivered.
	converted bool
}

// object is something whose methods the evaluator follows.
type object interface {
	invoke(ev *evaluator, method string, args []value, node hostcode.NodeID) value
	get(ev *evaluator, member string, node hostcode.NodeID) value
	set(ev *evaluator, member string, v value, node hostcode.NodeID)
	index(ev *evaluator, args []value, node hostcode.NodeID) value
	// escape is called where the object goes out of sight.
	escape(reason string)
	// close is called where the object's block ends.
	close(ev *evaluator)
}

// inert is an object that nothing comes of. Others embed it and say only what
// they do.
type inert struct{}

func (inert) invoke(*evaluator, string, []value, hostcode.NodeID) value { return value{} }
func (inert) get(*evaluator, string, hostcode.NodeID) value             { return value{} }
func (inert) set(*evaluator, string, value, hostcode.NodeID)            {}
func (inert) index(*evaluator, []value, hostcode.NodeID) value          { return value{} }
func (inert) escape(string)                                             {}
func (inert) close(*evaluator)                                          {}

const mostAlternatives = 8

// forks returns the alternatives of v, or v alone.
func (v value) forks() []value {
	if len(v.alts) > 0 {
		return v.alts
	}
	return []value{v}
}

// join is the value after a fork: one of a and b.
func join(a, b value) value {
	if same(a, b) {
		return a
	}
	out := value{typ: a.typ}
	if out.typ == "" {
		out.typ = b.typ
	}
	for _, v := range append(append([]value{}, a.forks()...), b.forks()...) {
		dup := false
		for _, have := range out.alts {
			dup = dup || same(have, v)
		}
		if !dup && len(out.alts) < mostAlternatives {
			out.alts = append(out.alts, v)
		}
		if v.origin != nil {
			out.origin = v.origin
		}
	}
	return out
}

func same(a, b value) bool {
	if len(a.alts) != len(b.alts) || a.kind != b.kind || a.n != b.n || a.sym != b.sym || a.obj != b.obj || a.fn != b.fn || a.origin != b.origin || len(a.parts) != len(b.parts) {
		return false
	}
	for i := range a.alts {
		if !same(a.alts[i], b.alts[i]) {
			return false
		}
	}
	for i := range a.parts {
		if a.parts[i].text != b.parts[i].text || a.parts[i].hole != b.parts[i].hole || a.parts[i].node != b.parts[i].node || a.parts[i].tree != b.parts[i].tree {
			return false
		}
	}
	return true
}

// constantText is the text of v where all of it is known.
func (v value) constantText() (string, bool) {
	if v.kind != textValue || len(v.alts) > 0 {
		return "", false
	}
	var b strings.Builder
	for _, p := range v.parts {
		if p.hole {
			return "", false
		}
		b.WriteString(p.text)
	}
	return b.String(), true
}

// sqlText is the text of v with every hole marked.
func (v value) sqlText() string {
	var b strings.Builder
	for _, p := range v.parts {
		if p.hole {
			b.WriteString(sqlcall.HoleMark + "h" + sqlcall.HoleEnd)
			continue
		}
		b.WriteString(p.text)
	}
	return b.String()
}

// shownText is the text of v for people: holes by the expressions that fill them.
func (v value) shownText() string {
	var b strings.Builder
	for _, p := range v.parts {
		if p.hole {
			b.WriteString("<" + strings.Join(strings.Fields(p.expr), " ") + ">")
			continue
		}
		b.WriteString(p.text)
	}
	return b.String()
}

// partAt returns the part that holds the byte at offset of sqlText.
func (v value) partAt(offset int) (part, bool) {
	at := 0
	for _, p := range v.parts {
		n := len(p.text)
		if p.hole {
			n = len(sqlcall.HoleMark) + 1 + len(sqlcall.HoleEnd)
		}
		if offset < at+n {
			return p, true
		}
		at += n
	}
	if n := len(v.parts); n > 0 {
		return v.parts[n-1], true
	}
	return part{}, false
}

// characterValue is the character of a literal like '.' or '\n'.
func characterValue(t *hostcode.Tree, id hostcode.NodeID) string {
	inner := strings.TrimSuffix(strings.TrimPrefix(t.Text(id), "'"), "'")
	switch inner {
	case `\'`, `"`:
		return inner[len(inner)-1:]
	}
	return t.Lang.StringValue(`"` + inner + `"`)
}

// asParts gives v as pieces of a text; what is not known becomes a hole.
func (v value) asParts(u *unit, node hostcode.NodeID) []part {
	switch {
	case len(v.alts) > 0:
		return []part{{hole: true, tree: u, node: node, expr: u.tree.Text(node), param: v.param}}
	case v.kind == textValue:
		return v.parts
	case v.kind == intValue && v.node != 0 && v.tree != nil && v.tree.tree.Kind(v.node) == hostcode.Number:
		return []part{{text: v.tree.tree.Text(v.node), tree: u, node: node}}
	case u.tree.Kind(node) == hostcode.Number && strings.HasPrefix(u.tree.Text(node), "'"):
		return []part{{text: characterValue(u.tree, node), tree: u, node: node}}
	}
	return []part{{hole: true, tree: u, node: node, expr: u.tree.Text(node), param: v.param}}
}
