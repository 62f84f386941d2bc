// Package hostcode reads application source into one small common tree, for
// every language the same: types, functions, declarations, branches, calls and
// literals. It knows nothing of databases.
//
// There is one scanner and one parser; what differs between languages stands in
// a [Language], one file each. The reader is tolerant: what it does not
// understand becomes an [Opaque] node or is passed over up to the next
// statement, so that new syntax costs one statement and never a file.
//
// A [Tree] is an array of nodes linked by index. It holds offsets into the
// source and no copies, so that reading a large file makes few allocations.
package hostcode

import (
	"bytes"
	"sort"
	"unicode/utf8"
)

// Kind is the kind of a node.
type Kind uint8

// The kinds of node. What stands behind each are its children in order.
const (
	Invalid Kind = iota

	// Declarations.
	File    // members and statements
	Class   // Type… that it builds on, members; named
	Func    // [Type] of the result, Param…, then a Block unless it has no body; named
	Param   // [Type], [default]; named
	Field   // [Type], [initial value]; named
	Type    // no children; its text is the type
	Block   // statements
	VarDecl // [Type], [initial value]; named

	// Statements.
	ExprStmt // expression
	If       // condition, Block, [Block]
	Loop     // header expressions and declarations, then a Block
	Switch   // expression, Case…
	Case     // labels, then a Block; no labels for default
	Return   // [expression]
	Throw    // [expression]
	Jump     // break, continue
	Try      // resource declarations, Block, Catch… , Block
	Catch    // [VarDecl], Block
	Using    // declaration or expression, Block

	// Expressions.
	Name      // named
	Member    // operand; named
	Call      // called expression, arguments
	New       // Type, arguments, [Init]
	Init      // elements: expressions or Named
	Named     // value; named: an argument or member given by name
	String    // no children
	Interp    // String and expression parts in order
	Number    // no children
	Keyword   // true, false, null, this: its text tells
	Binary    // left, right; Op
	Assign    // target, value; Op is 0 for =, else the operator before it
	Unary     // operand; Op
	Postfix   // operand; Op
	Cond      // condition, then, else
	Index     // operand, arguments
	Lambda    // Param…, then a Block or an expression
	Cast      // Type, operand
	OutArg    // operand or VarDecl: an argument behind out or ref
	SwitchExp // expression, Case…
	Opaque    // whatever it could make out inside
	Pair      // key, value: an element of a map whose key is worked out
	Spread    // operand: elements or members of another; Op is '*' for elements, 'm' for members, 0 for either
	Self      // the object a method is called on
	Tuple     // elements
	Tagged    // tag, String or Interp: a template with a function before it
	Import    // String of the module, [Name in it]; named as the file calls it
	Annotate  // arguments; named: an annotation or decorator with arguments
)

// NodeID names a node of a tree; 0 is no node.
type NodeID int32

// Node is one node: its extent, its name if it has one, and its links.
type Node struct {
	Kind               Kind
	Op                 byte
	Flags              Flags
	Start, End         int32
	NameStart, NameEnd int32
	First, NextSibling NodeID
}

// Flags are properties of a declaration.
type Flags uint16

// The flags.
const (
	Static      Flags = 1 << iota // belongs to the class
	Constant                      // cannot be assigned again
	Constructor                   // a function that makes its class
	Declared                      // a Using that is a declaration and lasts to the end of its block
	Default                       // a Case for everything else
	Arrow                         // a Case that does not fall through
	Await                         // an expression behind await
	Keyed                         // an Init that is a map of names to values
	Part                          // a String that is part of a literal with expressions inside
	Concat                        // an Interp of whole literals that stand side by side
	Rest                          // a parameter that takes all further arguments
)

// Tree is one source file as read.
type Tree struct {
	Src   []byte
	Lang  *Language
	Nodes []Node
	Root  NodeID
	lines []int32
}

// At returns the node id.
func (t *Tree) At(id NodeID) *Node { return &t.Nodes[id] }

// Kind returns the kind of node id; Invalid for no node.
func (t *Tree) Kind(id NodeID) Kind { return t.Nodes[id].Kind }

// Name is the name of node id.
func (t *Tree) Name(id NodeID) string {
	n := &t.Nodes[id]
	return string(t.Src[n.NameStart:n.NameEnd])
}

// Text is the source text of node id.
func (t *Tree) Text(id NodeID) string {
	n := &t.Nodes[id]
	return string(t.Src[n.Start:n.End])
}

// Child returns child i of node id, or 0.
func (t *Tree) Child(id NodeID, i int) NodeID {
	c := t.Nodes[id].First
	for ; i > 0 && c != 0; i-- {
		c = t.Nodes[c].NextSibling
	}
	return c
}

// Children calls yield for each child of node id, in order.
func (t *Tree) Children(id NodeID) func(yield func(NodeID) bool) {
	return func(yield func(NodeID) bool) {
		for c := t.Nodes[id].First; c != 0; c = t.Nodes[c].NextSibling {
			if !yield(c) {
				return
			}
		}
	}
}

// Last returns the last child of node id, or 0.
func (t *Tree) Last(id NodeID) NodeID {
	var last NodeID
	for c := t.Nodes[id].First; c != 0; c = t.Nodes[c].NextSibling {
		last = c
	}
	return last
}

// Position returns the line and column of an offset, both from 1; the column
// counts characters.
func (t *Tree) Position(offset int) (line, column int) {
	if t.lines == nil {
		t.lines = append(t.lines, 0)
		for at := 0; ; {
			i := bytes.IndexByte(t.Src[at:], '\n')
			if i < 0 {
				break
			}
			at += i + 1
			t.lines = append(t.lines, int32(at))
		}
	}
	line = sort.Search(len(t.lines), func(i int) bool { return int(t.lines[i]) > offset })
	return line, utf8.RuneCount(t.Src[t.lines[line-1]:offset]) + 1
}

// Comment is a comment of the source, with its marks.
type Comment struct{ Start, End int32 }
