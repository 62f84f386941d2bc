package hostcode

import (
	"fmt"
	"strings"
)

var kindNames = [...]string{"Invalid", "File", "Class", "Func", "Param", "Field", "Type", "Block", "VarDecl", "ExprStmt", "If", "Loop",
	"Switch", "Case", "Return", "Throw", "Jump", "Try", "Catch", "Using", "Name", "Member", "Call", "New", "Init", "Named", "String",
	"Interp", "Number", "Keyword", "Binary", "Assign", "Unary", "Postfix", "Cond", "Index", "Lambda", "Cast", "OutArg", "SwitchExp", "Opaque",
	"Pair", "Spread", "Self", "Tuple", "Tagged", "Import", "Annotate"}

// String is the kind's name.
func (k Kind) String() string { return kindNames[k] }

// Dump writes the nodes under id as nested lists, for tests.
func (t *Tree) Dump(id NodeID) string {
	var b strings.Builder
	t.dump(&b, id)
	return b.String()
}

func (t *Tree) dump(b *strings.Builder, id NodeID) {
	n := t.At(id)
	b.WriteString(n.Kind.String())
	if n.NameEnd > n.NameStart {
		b.WriteString(" " + t.Name(id))
	}
	switch n.Kind {
	case String, Number, Keyword, Type:
		fmt.Fprintf(b, " %q", t.Text(id))
	}
	if n.First == 0 {
		return
	}
	b.WriteString("(")
	for c := range t.Children(id) {
		if c != n.First {
			b.WriteString(" ")
		}
		t.dump(b, c)
	}
	b.WriteString(")")
}
