package hostcode

import "slices"

// Parser reads files one after the other and uses its memory again. It is not
// safe for use by several goroutines.
type Parser struct {
	s     scanner
	toks  []token
	i     int
	depth int
	t     *Tree
	// noIn is set where in is no operator, in the header of a for; thens counts the
	// conditional expressions whose colon is still to come.
	noIn  bool
	thens int
	// notes is where annotations with members go; nil to leave them out.
	notes *children
	// self is what the method at hand calls its object, in Python.
	self string
	// with is the word that began the With block at hand, in Visual Basic.
	with token
}

// mostNested bounds how deep expressions and blocks may stand in each other; what is
// deeper is passed over.
const mostNested = 250

// Parse reads src into a tree of its own.
func Parse(src []byte, lang *Language) *Tree {
	var p Parser
	return p.Parse(src, lang, &Tree{})
}

// Parse reads src into t, whose memory it uses again.
func (p *Parser) Parse(src []byte, lang *Language, t *Tree) *Tree {
	p.s = scanner{src: src, lang: lang, tokens: p.s.tokens[:0], open: p.s.open[:0], comments: p.s.comments[:0]}
	// About as many as source has; growing step by step would copy them often.
	p.s.tokens = slices.Grow(p.s.tokens, len(src)/5+16)
	t.Nodes = slices.Grow(t.Nodes[:0], len(src)/6+16)
	p.s.scan(0, len(src))
	p.toks, p.i, p.depth, p.noIn, p.thens, p.self, p.with = p.s.tokens, 0, 0, false, 0, "", token{}
	*t = Tree{Src: src, Lang: lang, Nodes: append(t.Nodes[:0], Node{})}
	p.t = t
	t.Root = p.node(File, 0)
	var list children
	if lang.file != nil {
		lang.file(p, &list)
	} else {
		p.members(&list)
	}
	p.finish(t.Root, &list, len(src))
	for i := range t.Nodes { // a node cut off by the end of the text has no extent
		if n := &t.Nodes[i]; n.End < n.Start {
			n.End = n.Start
		}
	}
	return t
}

// members reads the members of a file.
func (p *Parser) members(list *children) {
	for !p.done() {
		before := p.i
		p.member(list, "")
		if p.i == before {
			p.i++
		}
	}
}

// Comments returns the comments of the last file that was read. The slice is
// used again by the next.
func (p *Parser) Comments() []Comment { return p.s.comments }

// children links the children of one node.
type children struct{ first, last NodeID }

func (p *Parser) link(l *children, id NodeID) {
	if id == 0 {
		return
	}
	if l.first == 0 {
		l.first = id
	} else {
		p.t.Nodes[l.last].NextSibling = id
	}
	l.last = id
}

func (p *Parser) node(k Kind, start int32) NodeID {
	p.t.Nodes = append(p.t.Nodes, Node{Kind: k, Start: start, End: start})
	return NodeID(len(p.t.Nodes) - 1)
}

// named makes a node that begins at and is called like the token.
func (p *Parser) named(k Kind, start int32, name token) NodeID {
	id := p.node(k, start)
	n := &p.t.Nodes[id]
	n.NameStart, n.NameEnd, n.End = name.start, name.end, name.end
	return id
}

// finish closes a node: its children and where it ends.
func (p *Parser) finish(id NodeID, l *children, end int) NodeID {
	n := &p.t.Nodes[id]
	n.First = l.first
	n.End = int32(end)
	return id
}

// close closes a node behind the last token that was read.
func (p *Parser) close(id NodeID, l *children) NodeID {
	end := int(p.t.Nodes[id].Start)
	if p.i > 0 && p.i-1 < len(p.toks) {
		end = max(end, int(p.toks[p.i-1].end))
	}
	return p.finish(id, l, end)
}

func (p *Parser) done() bool { return p.i >= len(p.toks) }

func (p *Parser) peek() token { return p.ahead(0) }

func (p *Parser) ahead(n int) token {
	if p.i+n < len(p.toks) {
		return p.toks[p.i+n]
	}
	end := int32(len(p.s.src))
	return token{start: end, end: end}
}

func (p *Parser) next() token {
	t := p.peek()
	if !p.done() {
		p.i++
	}
	return t
}

func (p *Parser) at(op byte) bool {
	t := p.peek()
	return t.kind == tokOp && t.op == op
}

func (p *Parser) accept(op byte) bool {
	if p.at(op) {
		p.i++
		return true
	}
	return false
}

func (p *Parser) atKw(k keyword) bool { return p.peek().kw == k }

func (p *Parser) acceptKw(k keyword) bool {
	if p.peek().kw == k {
		p.i++
		return true
	}
	return false
}

func (p *Parser) text(t token) string { return string(p.s.src[t.start:t.end]) }

func (p *Parser) is(t token, word string) bool {
	return t.kind == tokName && string(p.s.src[t.start:t.end]) == word
}

// isName reports whether the token can name something.
func isName(t token) bool {
	if t.kind != tokName {
		return false
	}
	switch t.kw {
	case notKeyword, kwAs, kwAwait, kwIs, kwIn, kwRecord, kwVar, kwWhen, kwWhere, kwWith, kwYield, kwModifier, kwOperator, kwDelegate, kwOut, kwRef, kwPackage, kwNamespace:
		return true
	}
	return false
}

// tooDeep counts one more level, or passes over what stands here where there are
// too many; rise counts it back.
func (p *Parser) tooDeep() bool {
	if p.depth++; p.depth > mostNested {
		p.depth--
		p.skipGroup()
		return true
	}
	return false
}

func (p *Parser) rise() { p.depth-- }

// opaqueTooDeep is tooDeep for an expression: it returns a node for what was
// passed over, 0 where there are not too many levels.
func (p *Parser) opaqueTooDeep() NodeID {
	start := p.peek().start
	if !p.tooDeep() {
		return 0
	}
	return p.close(p.node(Opaque, start), &children{})
}

// copyType makes another node of a type, as a node has one place among its
// siblings; 0 for none.
func (p *Parser) copyType(typ NodeID) NodeID {
	if typ == 0 {
		return 0
	}
	ty := p.node(Type, p.t.Nodes[typ].Start)
	p.t.Nodes[ty].End = p.t.Nodes[typ].End
	return ty
}

// braced reads { statements } by what reads one.
func (p *Parser) braced(statement func(list *children)) NodeID {
	id := p.node(Block, p.peek().start)
	end := int(p.peek().match)
	p.i++
	var l children
	if p.depth++; p.depth > mostNested {
		p.i = max(p.i, end)
	}
	for !p.done() && p.i < end {
		before := p.i
		statement(&l)
		if p.i == before {
			p.i++
		}
	}
	p.depth--
	p.i = max(p.i, min(end+1, len(p.toks)))
	return p.close(id, &l)
}

// skipGroup moves behind the bracket that matches the one here.
func (p *Parser) skipGroup() {
	t := p.peek()
	if t.kind == tokOp && (t.op == '(' || t.op == '[' || t.op == '{') && int(t.match) > p.i {
		p.i = min(int(t.match)+1, len(p.toks))
		return
	}
	p.i++
}

// skipType returns the index of the token behind a type that begins at token
// i, or -1.
func (p *Parser) skipType(i int) int {
	n := len(p.toks)
	if i < n && p.toks[i].kw == kwRef {
		i++
	}
	if i < n && p.toks[i].kind == tokOp && p.toks[i].op == '(' { // a tuple
		m := int(p.toks[i].match)
		if m <= i+1 || m >= n {
			return -1
		}
		return p.typeSuffix(m + 1)
	}
	for {
		for i+1 < n && p.toks[i].kind == tokOp && p.toks[i].op == '@' && p.toks[i+1].kind == tokName {
			i += 2 // an annotation of the type
		}
		if i >= n || p.toks[i].kind != tokName || !(isName(p.toks[i]) || p.toks[i].kw == kwPrimitive) {
			return -1
		}
		i++
		if i < n && p.toks[i].kind == tokOp && p.toks[i].op == '<' {
			if i = p.skipTypeArguments(i); i < 0 {
				return -1
			}
		}
		if i < n && p.toks[i].kind == tokOp && (p.toks[i].op == '.' || p.toks[i].op == OpScope) {
			i++
			continue
		}
		return p.typeSuffix(i)
	}
}

// typeSuffix passes over [], ? and … behind a type.
func (p *Parser) typeSuffix(i int) int {
	n := len(p.toks)
	for i < n && p.toks[i].kind == tokOp {
		switch t := p.toks[i]; {
		case t.op == '?', t.op == '*', t.op == OpEllipsis:
			i++
		case t.op == '[' && int(t.match) == i+1:
			i += 2
		case t.op == '[' && i+1 < n && p.toks[i+1].kind == tokOp && p.toks[i+1].op == ',' && int(t.match) < n && int(t.match) > i:
			i = int(t.match) + 1
		default:
			return i
		}
	}
	return i
}

// skipTypeArguments returns the index behind <…> at token i, or -1.
func (p *Parser) skipTypeArguments(i int) int {
	const longest = 96
	depth := 0
	for k := i; k < len(p.toks) && k < i+longest; k++ {
		t := p.toks[k]
		switch {
		case t.kind == tokName:
			if !isName(t) && t.kw != kwPrimitive && t.kw != kwExtends && t.kw != kwThis {
				return -1
			}
		case t.kind != tokOp:
			return -1
		case t.op == '<':
			depth++
		case t.op == '>':
			if depth--; depth == 0 {
				return k + 1
			}
		case t.op == '.' || t.op == ',' || t.op == '?' || t.op == '@' || t.op == '[' || t.op == ']' || t.op == OpScope || t.op == '&':
		case t.op == '(' || t.op == ')': // tuples
		default:
			return -1
		}
	}
	return -1
}

// typeNode makes a node of the tokens from here up to end.
func (p *Parser) typeNode(end int) NodeID {
	id := p.node(Type, p.peek().start)
	p.i = end
	p.t.Nodes[id].End = p.toks[end-1].end
	return id
}

// modifiers passes over annotations, attributes and modifiers.
func (p *Parser) modifiers() Flags {
	var f Flags
	for {
		t := p.peek()
		switch {
		case t.kind == tokOp && t.op == '@' && p.ahead(1).kind == tokName && p.ahead(1).kw != kwInterface:
			if id := p.annotation(); p.notes != nil && p.t.Nodes[id].First != 0 {
				p.link(p.notes, id)
			}
		case t.kind == tokOp && t.op == '[' && p.s.lang.attributes:
			p.skipGroup()
		case t.kw == kwStatic:
			if n := p.ahead(1); n.kind == tokOp && n.op == '{' {
				return f
			}
			f |= Static
			p.i++
		case t.kw == kwConst:
			f |= Static | Constant
			p.i++
		case t.kw == kwFinal, t.kw == kwReadonly:
			f |= Constant
			p.i++
		case t.kw == kwModifier && p.ahead(1).kind == tokName, t.kw == kwModifier && p.ahead(1).kind == tokOp && (p.ahead(1).op == '(' || p.ahead(1).op == '[' || p.ahead(1).op == '<' || p.ahead(1).op == '@'):
			p.i++
		case t.kw == kwDefault && p.ahead(1).kind == tokName, t.kw == kwSynchronized && p.ahead(1).kind == tokName, t.kw == kwNew && p.ahead(1).kind == tokName && p.lineIsDeclaration():
			p.i++
		case t.kind == tokName && p.is(t, "non") && p.ahead(1).op == '-' && p.is(p.ahead(2), "sealed"):
			p.i += 3
		case t.kw == kwRef && p.ahead(1).kw == kwStruct:
			p.i++
		default:
			return f
		}
	}
}

// annotation reads @Name(members).
func (p *Parser) annotation() NodeID {
	start := p.next().start
	name := p.next()
	for p.at('.') && p.ahead(1).kind == tokName {
		p.i++
		name = p.next()
	}
	id := p.named(Annotate, start, name)
	var l children
	if p.at('(') {
		p.arguments(&l)
	}
	return p.close(id, &l)
}

// lineIsDeclaration reports whether new stands as a modifier.
func (p *Parser) lineIsDeclaration() bool {
	n := p.ahead(1)
	return n.kw == kwModifier || n.kw == kwStatic || n.kw == kwConst || n.kw == kwPrimitive
}

// member reads one member of a type or file. class is the name of the type.
func (p *Parser) member(list *children, class string) {
	start := p.peek().start
	if p.accept(';') {
		return
	}
	switch {
	case p.atKw(kwPackage), p.atKw(kwImport):
		p.skipStatement()
		return
	case p.atKw(kwUsing) && class == "":
		if n := p.ahead(1); !(n.kind == tokOp && n.op == '(') && !p.isUsingDeclaration() {
			p.skipStatement()
			return
		}
	case p.atKw(kwNamespace):
		p.i++
		for p.peek().kind == tokName || p.at('.') {
			p.i++
		}
		if !p.accept(';') && p.accept('{') {
			for !p.done() && !p.at('}') {
				before := p.i
				p.member(list, "")
				if p.i == before {
					p.i++
				}
			}
			p.accept('}')
		}
		return
	}
	p.notes = list
	flags := p.modifiers()
	p.notes = nil
	t := p.peek()
	switch t.kw {
	case kwClass, kwInterface, kwStruct, kwEnum:
		p.class(list, start)
		return
	case kwRecord:
		if n := p.ahead(1); isName(n) || n.kw == kwClass || n.kw == kwStruct {
			p.class(list, start)
			return
		}
	case kwDelegate:
		p.skipStatement()
		return
	case kwStatic: // static { … }
		p.i++
		t = p.peek()
	}
	if t.kind == tokOp && t.op == '@' && p.ahead(1).kw == kwInterface {
		p.i++
		p.class(list, start)
		return
	}
	if t.kind == tokOp && t.op == '{' {
		id := p.node(Func, start)
		p.t.Nodes[id].Flags = flags | Constructor
		var l children
		p.link(&l, p.block())
		p.link(list, p.close(id, &l))
		return
	}
	if t.kind == tokOp && t.op == '<' { // type parameters of a method
		if j := p.skipTypeArguments(p.i); j > 0 {
			p.i = j
			t = p.peek()
		}
	}
	// A constructor: the class's name and a bracket.
	if n := p.ahead(1); class != "" && t.kind == tokName && p.text(t) == class && n.kind == tokOp && (n.op == '(' || n.op == '{') {
		p.i++
		p.function(list, start, t, 0, flags|Constructor)
		return
	}
	if t.kind == tokOp && t.op == '~' {
		p.i++
		name := p.next()
		p.function(list, start, name, 0, flags)
		return
	}
	if t.kw == kwModifier { // implicit operator and the like, left over by modifiers
		p.i++
		t = p.peek()
	}
	typeEnd := p.skipType(p.i)
	if typeEnd < 0 || typeEnd >= len(p.toks) {
		if class == "" {
			p.statement(list)
			return
		}
		p.skipMember()
		return
	}
	name := p.toks[typeEnd]
	if class == "" && !(isName(name) && typeEnd+1 < len(p.toks) && p.toks[typeEnd+1].kind == tokOp && p.toks[typeEnd+1].op == '(' && p.hasBodyBehind(typeEnd+1)) {
		p.statement(list) // a statement of a file without a class
		return
	}
	if name.kw == kwOperator {
		p.i = typeEnd + 1
		for !p.done() && !p.at('(') {
			p.i++
		}
		p.function(list, start, name, 0, flags)
		return
	}
	if name.kw == kwThis && typeEnd+1 < len(p.toks) && p.toks[typeEnd+1].op == '[' { // an indexer
		p.i = typeEnd + 1
		p.skipGroup()
		p.property(list, start, name, 0, flags)
		return
	}
	if !isName(name) {
		p.skipMember()
		return
	}
	typ := p.typeNode(typeEnd)
	p.i++
	// An explicit interface's member: Type IFace<T>.Name(
	for {
		if j := p.skipTypeArguments(p.i); p.at('<') && j > 0 && p.toksAt(j).kind == tokOp && p.toksAt(j).op == '.' {
			p.i = j
		}
		if !p.at('.') || p.ahead(1).kind != tokName {
			break
		}
		p.i++
		name = p.next()
	}
	if p.at('<') {
		if j := p.skipTypeArguments(p.i); j > 0 {
			p.i = j
		}
	}
	switch {
	case p.at('('):
		p.function(list, start, name, typ, flags)
	case p.at('{'), p.at(OpArrow):
		p.property(list, start, name, typ, flags)
	default:
		p.fields(list, start, typ, name, flags)
	}
}

// hasBodyBehind reports whether a body stands behind the brackets at token i,
// as it does behind those of a local function.
func (p *Parser) hasBodyBehind(i int) bool {
	m := int(p.toks[i].match)
	if m <= i || m+1 >= len(p.toks) {
		return false
	}
	t := p.toks[m+1]
	return t.kind == tokOp && (t.op == '{' || t.op == OpArrow) || t.kw == kwWhere || t.kw == kwExtends
}

func (p *Parser) isUsingDeclaration() bool {
	i := 1
	if p.ahead(1).kw == kwAwait {
		i++
	}
	j := p.skipType(p.i + i)
	return j > 0 && j+1 < len(p.toks) && isName(p.toks[j]) && p.toks[j+1].kind == tokOp && p.toks[j+1].op == '='
}

func (p *Parser) class(list *children, start int32) {
	kw := p.next()
	if kw.kw == kwRecord && (p.atKw(kwClass) || p.atKw(kwStruct)) {
		p.i++
	}
	name := p.next()
	id := p.named(Class, start, name)
	var l children
	if p.at('<') {
		if j := p.skipTypeArguments(p.i); j > 0 {
			p.i = j
		}
	}
	bases := false
	for !p.done() && !p.at('{') && !p.at(';') {
		switch {
		case p.at('('):
			p.skipGroup()
			continue
		case p.atKw(kwExtends) || p.at(':'):
			bases = true
		case p.atKw(kwWhere):
			bases = false
		case bases && isName(p.peek()):
			if j := p.skipType(p.i); j > p.i {
				p.link(&l, p.typeNode(j))
				continue
			}
		}
		p.i++
	}
	if p.accept(';') || p.done() {
		p.link(list, p.close(id, &l))
		return
	}
	end := int(p.peek().match)
	p.i++
	if p.depth++; p.depth > mostNested {
		p.i = max(end, p.i)
	}
	className := p.text(name)
	if kw.kw == kwEnum {
		p.enumConstants(&l, end)
	}
	for !p.done() && !p.at('}') {
		before := p.i
		p.member(&l, className)
		if p.i == before {
			p.i++
		}
	}
	p.depth--
	p.accept('}')
	p.link(list, p.close(id, &l))
}

// enumConstants passes over the constants of an enum up to the semicolon or
// the end.
func (p *Parser) enumConstants(_ *children, end int) {
	for p.i < end && !p.accept(';') {
		if p.at('(') || p.at('{') || p.at('[') {
			p.skipGroup()
			continue
		}
		p.i++
	}
}

// function reads from the bracket of the parameters through the body; result
// is the type that stood before the name, or 0.
func (p *Parser) function(list *children, start int32, name token, result NodeID, flags Flags) {
	id := p.named(Func, start, name)
	p.t.Nodes[id].Flags = flags
	var l children
	if result != 0 {
		p.link(&l, result)
	}
	if p.at('(') {
		p.params(&l)
	}
	for !p.done() && !p.at('{') && !p.at(';') && !p.at(OpArrow) && !p.at('}') {
		if p.at('(') { // : base(…)
			p.skipGroup()
			continue
		}
		p.i++
	}
	p.functionBody(&l)
	p.link(list, p.close(id, &l))
}

// functionBody reads a block, or an arrow and an expression, or nothing.
func (p *Parser) functionBody(l *children) {
	switch {
	case p.at('{'):
		p.link(l, p.block())
	case p.accept(OpArrow):
		p.link(l, p.arrowBlock())
		p.accept(';')
	default:
		p.accept(';')
	}
}

// arrowBlock is a block that returns the expression here.
func (p *Parser) arrowBlock() NodeID {
	block := p.node(Block, p.peek().start)
	ret := p.node(Return, p.peek().start)
	var inner, outer children
	p.link(&inner, p.expression())
	p.link(&outer, p.close(ret, &inner))
	return p.close(block, &outer)
}

func (p *Parser) params(l *children) {
	end := int(p.peek().match)
	p.i++
	for p.i < end && !p.done() {
		start := p.peek().start
		p.modifiers()
		for p.atKw(kwOut) || p.atKw(kwRef) || p.atKw(kwIn) || p.atKw(kwThis) || p.atKw(kwFinal) {
			p.i++
		}
		if j := p.skipType(p.i); j > 0 && j < end && isName(p.toks[j]) {
			typ := p.typeNode(j)
			name := p.next()
			id := p.named(Param, start, name)
			var c children
			p.link(&c, typ)
			if p.accept('=') {
				p.link(&c, p.expression())
			}
			p.link(l, p.close(id, &c))
		} else if isName(p.peek()) && (p.ahead(1).op == ',' || p.i+1 == end) { // of a lambda, without a type
			name := p.next()
			p.link(l, p.named(Param, start, name))
		}
		for p.i < end && !p.at(',') {
			p.skipGroup()
		}
		p.accept(',')
	}
	p.i = min(end+1, len(p.toks))
}

// property reads { get … set … } = value, or => expression.
func (p *Parser) property(list *children, start int32, name token, typ NodeID, flags Flags) {
	if p.accept(OpArrow) {
		id := p.named(Func, start, name)
		p.t.Nodes[id].Flags = flags
		var l children
		p.link(&l, p.arrowBlock())
		p.accept(';')
		p.link(list, p.close(id, &l))
		return
	}
	end := int(p.peek().match)
	p.i++
	for p.i < end && !p.done() {
		t := p.next()
		if t.kind == tokName && (p.at('{') || p.at(OpArrow)) {
			id := p.named(Func, t.start, name)
			p.t.Nodes[id].Flags = flags
			var l children
			p.functionBody(&l)
			p.link(list, p.close(id, &l))
		}
	}
	p.i = min(end+1, len(p.toks))
	if p.at('=') {
		p.fields(list, start, typ, name, flags)
	}
}

// fields reads [= value] {, name [= value]} ;
func (p *Parser) fields(list *children, start int32, typ NodeID, name token, flags Flags) {
	p.declarators(list, Field, start, typ, name, flags)
	if !p.accept(';') && !p.at('}') {
		p.skipMember()
	}
}

// declarators reads [= value] {, name [= value]} behind the first name; each
// has its own copy of the type, as a node has one place among its siblings.
func (p *Parser) declarators(list *children, kind Kind, start int32, typ NodeID, name token, flags Flags) {
	for {
		id := p.named(kind, start, name)
		p.t.Nodes[id].Flags = flags
		var l children
		p.link(&l, p.copyType(typ))
		for p.at('[') {
			p.skipGroup()
		}
		if p.accept('=') {
			p.link(&l, p.initializer())
		}
		p.link(list, p.close(id, &l))
		if !p.accept(',') || !isName(p.peek()) {
			return
		}
		name = p.next()
	}
}

// skipMember moves behind the next semicolon or block.
func (p *Parser) skipMember() {
	for !p.done() {
		switch {
		case p.accept(';'):
			return
		case p.at('}'):
			return
		case p.at('{'):
			p.skipGroup()
			return
		}
		p.skipGroup()
	}
}

// skipStatement moves behind the next semicolon.
func (p *Parser) skipStatement() {
	for !p.done() && !p.at('}') {
		if p.accept(';') {
			return
		}
		p.skipGroup()
	}
}
