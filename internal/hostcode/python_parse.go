package hostcode

import "strings"

// This file reads the statements and expressions of Python (The Python Language
// Reference, chapters 6 to 8).

func pythonFile(p *Parser, list *children) {
	for !p.done() {
		before := p.i
		p.pyStatement(list, false)
		if p.i == before {
			p.i++
		}
	}
}

func (p *Parser) atKind(k tokenKind) bool { return p.peek().kind == k && !p.done() }

// pyLineEnd passes what is left of the line.
func (p *Parser) pyLineEnd() {
	for !p.done() && !p.atKind(tokNewline) && !p.at(';') && !p.atKind(tokDedent) {
		p.skipGroup()
	}
	if p.atKind(tokNewline) || p.at(';') {
		p.i++
	}
}

// pyBlock reads what stands behind the colon of a compound statement.
func (p *Parser) pyBlock(class bool) NodeID {
	for !p.done() && !p.at(':') && !p.atKind(tokNewline) {
		p.skipGroup()
	}
	p.accept(':')
	id := p.node(Block, p.peek().start)
	var l children
	p.pySuite(&l, class)
	return p.close(id, &l)
}

// pySuite reads the statements of a block into l.
func (p *Parser) pySuite(l *children, class bool) {
	if !p.atKind(tokNewline) { // on the same line
		for !p.done() && !p.atKind(tokNewline) && !p.atKind(tokDedent) {
			before := p.i
			p.pySimple(l, class)
			if p.i == before {
				p.i++
			}
			if p.i > 0 && p.toks[p.i-1].kind == tokNewline {
				return
			}
		}
		if p.atKind(tokNewline) {
			p.i++
		}
		return
	}
	p.i++
	if !p.atKind(tokIndent) {
		return
	}
	p.i++
	p.depth++
	for !p.done() && !p.atKind(tokDedent) {
		before := p.i
		if p.depth > mostNested {
			p.i++
			continue
		}
		p.pyStatement(l, class)
		if p.i == before {
			p.i++
		}
	}
	p.depth--
	if p.atKind(tokDedent) {
		p.i++
	}
}

// pyStatement reads one statement; class is set in the body of a class.
func (p *Parser) pyStatement(list *children, class bool) {
	if p.tooDeep() {
		return
	}
	defer p.rise()
	t := p.peek()
	start := t.start
	var l children
	switch t.kw {
	case kwSynchronized: // async
		p.i++
		p.pyStatement(list, class)
		return
	case kwDef:
		p.pyFunction(list, class, false)
		return
	case kwClass:
		p.pyClass(list, start)
		return
	case kwIf, kwElif:
		p.i++
		id := p.node(If, start)
		p.link(&l, p.pyNamed())
		p.link(&l, p.pyBlock(class))
		switch {
		case p.atKw(kwElif):
			b := p.node(Block, p.peek().start)
			var bl children
			p.depth++
			if p.depth < mostNested {
				p.pyStatement(&bl, class)
			} else {
				p.i++
			}
			p.depth--
			p.link(&l, p.close(b, &bl))
		case p.acceptKw(kwElse):
			p.link(&l, p.pyBlock(class))
		}
		p.link(list, p.close(id, &l))
		return
	case kwElse, kwFinally, kwExcept:
		p.i++
		p.link(list, p.pyBlock(class))
		return
	case kwWhile:
		p.i++
		id := p.node(Loop, start)
		p.link(&l, p.pyNamed())
		p.link(&l, p.pyBlock(false))
		p.link(list, p.close(id, &l))
		return
	case kwFor:
		p.i++
		id := p.node(Loop, start)
		p.pyTargets(&l)
		if p.acceptKw(kwIn) {
			p.link(&l, p.pyTestList())
		}
		p.link(&l, p.pyBlock(false))
		p.link(list, p.close(id, &l))
		return
	case kwTry:
		p.i++
		id := p.node(Try, start)
		p.link(&l, p.pyBlock(class))
		for {
			at := p.peek().start
			if p.acceptKw(kwExcept) {
				c := p.node(Catch, at)
				var cl children
				p.accept('*')
				if !p.at(':') {
					p.pyTestList()
				}
				p.link(&cl, p.pyBlock(class))
				p.link(&l, p.close(c, &cl))
				continue
			}
			if p.acceptKw(kwElse) || p.acceptKw(kwFinally) {
				p.link(&l, p.pyBlock(class))
				continue
			}
			break
		}
		p.link(list, p.close(id, &l))
		return
	case kwWith:
		p.pyWith(list)
		return
	case notKeyword:
		if p.is(t, "match") && p.pyIsMatch() {
			p.pyMatch(list)
			return
		}
	}
	if t.kind == tokOp && t.op == '@' {
		p.pyDecorated(list, class)
		return
	}
	if t.kind == tokIndent || t.kind == tokDedent || t.kind == tokNewline {
		p.i++
		return
	}
	p.pySimple(list, class)
}

func (p *Parser) pyDecorated(list *children, class bool) {
	static := false
	for p.at('@') {
		start := p.next().start
		if last := p.pyLineHas("staticmethod"); last {
			static = true
		}
		id := p.node(Annotate, start)
		var l children
		p.link(&l, p.pyNamed())
		p.link(list, p.close(id, &l))
		p.pyLineEnd()
	}
	if p.atKw(kwSynchronized) {
		p.i++
	}
	if p.atKw(kwDef) {
		p.pyFunction(list, class, static)
		return
	}
	p.pyStatement(list, class)
}

func (p *Parser) pyLineHas(word string) bool { return p.is(p.peek(), word) }

func (p *Parser) pyFunction(list *children, method, static bool) {
	start := p.next().start
	id := p.node(Func, start)
	if p.peek().kind == tokName {
		n := p.next()
		p.t.Nodes[id].NameStart, p.t.Nodes[id].NameEnd = n.start, n.end
		if method && p.is(n, "__init__") {
			p.t.Nodes[id].Flags |= Constructor
		}
	}
	if static {
		p.t.Nodes[id].Flags |= Static
	}
	if p.at('[') {
		p.skipGroup()
	}
	var l, params children
	self := p.self
	if p.at('(') {
		end := int(p.peek().match)
		p.i++
		if first := p.peek(); method && !static && first.kind == tokName && p.i < end {
			p.self = p.text(first)
			p.i++
			p.accept(',')
		}
		p.pyParams(&params, end)
		p.i = max(p.i, min(end+1, len(p.toks)))
	}
	if p.accept(OpArrow) {
		typ := p.peek()
		p.pyTest()
		ty := p.node(Type, typ.start)
		p.t.Nodes[ty].End = p.toks[p.i-1].end
		p.link(&l, ty)
	}
	if params.first != 0 {
		p.link(&l, params.first)
		l.last = params.last
	}
	p.link(&l, p.pyBlock(false))
	p.self = self
	p.link(list, p.close(id, &l))
}

// pyParams reads parameters up to token end, or up to the colon of a lambda.
func (p *Parser) pyParams(l *children, end int) {
	for p.i < end && !p.done() && !p.at(':') {
		before := p.i
		start := p.peek().start
		flags := Flags(0)
		if p.accept('*') {
			flags = Rest
		}
		if p.accept('/') || p.at(',') {
			p.accept(',')
			continue
		}
		id := p.node(Param, start)
		if p.peek().kind == tokName {
			n := p.next()
			p.t.Nodes[id].NameStart, p.t.Nodes[id].NameEnd = n.start, n.end
		}
		p.t.Nodes[id].Flags = flags
		var c children
		if end < len(p.toks) && p.toks[end].op == ')' && p.toks[end].kind == tokOp && p.accept(':') {
			typ := p.peek()
			p.pyTest()
			ty := p.node(Type, typ.start)
			p.t.Nodes[ty].End = p.toks[p.i-1].end
			p.link(&c, ty)
		}
		if p.accept('=') {
			p.link(&c, p.pyTest())
		}
		p.link(l, p.close(id, &c))
		if !p.accept(',') && p.i == before {
			p.i++
		}
	}
}

func (p *Parser) pyClass(list *children, start int32) {
	p.i++
	id := p.node(Class, start)
	if p.peek().kind == tokName {
		n := p.next()
		p.t.Nodes[id].NameStart, p.t.Nodes[id].NameEnd = n.start, n.end
	}
	var l children
	if p.at('[') {
		p.skipGroup()
	}
	if p.at('(') {
		end := int(p.peek().match)
		p.i++
		for p.i < end && !p.done() {
			from := p.i
			if p.peek().kind == tokName && !(p.ahead(1).kind == tokOp && p.ahead(1).op == '=') {
				for p.peek().kind == tokName || p.at('.') {
					p.i++
				}
				ty := p.node(Type, p.toks[from].start)
				p.t.Nodes[ty].End = p.toks[p.i-1].end
				if p.i < end && !p.at(',') { // a call that gives the class, or type arguments
					to := p.i
					p.i = from
					p.link(&l, p.pyTest())
					p.i = max(p.i, to)
				} else {
					p.link(&l, ty)
				}
			} else {
				p.pyArgument(&l)
			}
			for p.i < end && !p.at(',') {
				p.skipGroup()
			}
			p.accept(',')
		}
		p.i = max(p.i, min(end+1, len(p.toks)))
	}
	for !p.done() && !p.at(':') && !p.atKind(tokNewline) {
		p.skipGroup()
	}
	p.accept(':')
	self := p.self
	p.self = ""
	p.pySuite(&l, true)
	p.self = self
	p.link(list, p.close(id, &l))
}

func (p *Parser) pyWith(list *children) {
	id := p.node(Using, p.next().start)
	var l children
	// with ( a as b, c ): brackets around the whole list.
	if t := p.peek(); t.kind == tokOp && t.op == '(' && p.toksAt(int(t.match)+1).op == ':' && p.toksAt(int(t.match)+1).kind == tokOp {
		end := int(t.match)
		for k := p.i + 1; k < end; k++ {
			if p.toks[k].kw == kwAs {
				p.i++
				break
			}
		}
	}
	for !p.done() && !p.at(':') && !p.atKind(tokNewline) {
		before := p.i
		start := p.peek().start
		value := p.pyNamed()
		if p.acceptKw(kwAs) {
			if n := p.peek(); n.kind == tokName && (p.ahead(1).op == ',' || p.ahead(1).op == ':' || p.ahead(1).op == ')') && p.ahead(1).kind == tokOp {
				p.i++
				v := p.named(VarDecl, start, n)
				var c children
				p.link(&c, value)
				p.link(&l, p.close(v, &c))
			} else {
				v := p.node(Assign, start)
				var c children
				p.link(&c, p.pyTest())
				p.link(&c, value)
				p.link(&l, p.close(v, &c))
			}
		} else {
			p.link(&l, value)
		}
		p.accept(')')
		p.accept(',')
		p.accept(')')
		if p.i == before {
			p.i++
		}
	}
	p.link(&l, p.pyBlock(false))
	p.link(list, p.close(id, &l))
}

// pyIsMatch reports whether match begins a match statement: a colon ends its line.
func (p *Parser) pyIsMatch() bool {
	n := p.ahead(1)
	if n.kind == tokOp && (n.op == '.' || n.op == '=' || n.op == ',' || n.op == ')' || n.op == ':') || n.kind == tokNewline {
		return false
	}
	for k := p.i + 1; k < len(p.toks); k++ {
		t := p.toks[k]
		if t.kind == tokNewline {
			last := p.toks[k-1]
			return last.kind == tokOp && last.op == ':' && k+1 < len(p.toks) && p.toks[k+1].kind == tokIndent
		}
		if t.kind == tokOp && int(t.match) > k && (t.op == '(' || t.op == '[' || t.op == '{') {
			k = int(t.match)
		}
	}
	return false
}

func (p *Parser) pyMatch(list *children) {
	id := p.node(Switch, p.next().start)
	var l children
	p.link(&l, p.pyTestList())
	for !p.done() && !p.atKind(tokNewline) {
		p.i++
	}
	p.i++
	if p.atKind(tokIndent) {
		p.i++
	}
	for !p.done() && !p.atKind(tokDedent) {
		before := p.i
		c := p.node(Case, p.peek().start)
		var cl children
		p.i++ // case
		flags := Arrow
		if p.is(p.peek(), "_") && p.ahead(1).op == ':' {
			flags |= Default
		}
		for !p.done() && !p.at(':') && !p.atKind(tokNewline) {
			at := p.i
			if p.accept('|') || p.accept(',') || p.acceptKw(kwIf) || p.acceptKw(kwAs) {
				continue
			}
			if label := p.pyBinary(6); flags&Default == 0 {
				p.link(&cl, label)
			}
			if p.i == at {
				p.i++
			}
		}
		p.link(&cl, p.pyBlock(false))
		p.t.Nodes[c].Flags = flags
		p.link(&l, p.close(c, &cl))
		if p.i == before {
			p.i++
		}
	}
	if p.atKind(tokDedent) {
		p.i++
	}
	p.link(list, p.close(id, &l))
}

// pySimple reads a simple statement and passes the end of its line.
func (p *Parser) pySimple(list *children, class bool) {
	t := p.peek()
	start := t.start
	var l children
	switch t.kw {
	case kwReturn, kwThrow:
		p.i++
		k := Return
		if t.kw == kwThrow {
			k = Throw
		}
		id := p.node(k, start)
		if !p.atKind(tokNewline) && !p.at(';') {
			p.link(&l, p.pyTestList())
			if p.is(p.peek(), "from") {
				p.i++
				p.link(&l, p.pyTest())
			}
		}
		p.link(list, p.close(id, &l))
		p.pyLineEnd()
		return
	case kwBreak, kwContinue:
		p.i++
		p.link(list, p.close(p.node(Jump, start), &l))
		p.pyLineEnd()
		return
	case kwImport:
		p.pyImport(list)
		p.pyLineEnd()
		return
	case kwModifier: // assert, del, global, …
		p.i++
		if word := p.text(t); word == "assert" || word == "del" {
			id := p.node(ExprStmt, start)
			p.link(&l, p.pyTestList())
			p.link(list, p.close(id, &l))
		}
		p.pyLineEnd()
		return
	}
	left := p.pyTestList()
	switch {
	case p.at(':') && p.t.Nodes[left].Kind != Opaque: // name: type [= value]
		p.i++
		typ := p.peek()
		p.pyTest()
		ty := p.node(Type, typ.start)
		p.t.Nodes[ty].End = p.toks[max(p.i-1, 0)].end
		k := VarDecl
		if class {
			k = Field
		}
		if p.t.Nodes[left].Kind != Name {
			k = ExprStmt
		}
		id := p.node(k, start)
		if k != ExprStmt {
			n := p.t.Nodes[left]
			p.t.Nodes[id].NameStart, p.t.Nodes[id].NameEnd = n.NameStart, n.NameEnd
			p.link(&l, ty)
			if p.accept('=') {
				p.link(&l, p.pyTestList())
			}
		} else if p.accept('=') {
			a := p.node(Assign, start)
			var al children
			p.link(&al, left)
			p.link(&al, p.pyTestList())
			p.link(&l, p.close(a, &al))
		}
		p.link(list, p.close(id, &l))
	case class && p.at('=') && p.t.Nodes[left].Kind == Name:
		p.i++
		n := p.t.Nodes[left]
		id := p.node(Field, start)
		p.t.Nodes[id].NameStart, p.t.Nodes[id].NameEnd = n.NameStart, n.NameEnd
		p.t.Nodes[id].Flags = Static
		p.link(&l, p.pyAssigned())
		p.link(list, p.close(id, &l))
	default:
		id := p.node(ExprStmt, start)
		if p.at('=') || p.at(OpAssign) {
			left = p.pyAssignment(start, left)
		}
		p.link(&l, left)
		p.link(list, p.close(id, &l))
	}
	p.pyLineEnd()
}

// pyAssigned reads the value of an assignment: a list, or another assignment.
func (p *Parser) pyAssigned() NodeID {
	start := p.peek().start
	v := p.pyTestList()
	if p.at('=') {
		return p.pyAssignment(start, v)
	}
	return v
}

func (p *Parser) pyAssignment(start int32, left NodeID) NodeID {
	t := p.next()
	id := p.node(Assign, start)
	if t.op == OpAssign {
		p.t.Nodes[id].Op = p.s.src[t.start]
	}
	if p.depth++; p.depth > mostNested {
		p.depth--
		p.pyLineEnd()
		return id
	}
	var l children
	p.link(&l, left)
	p.link(&l, p.pyAssigned())
	p.depth--
	return p.close(id, &l)
}

// pyImport reads import a.b as c, d and from a import b as c, *.
func (p *Parser) pyImport(list *children) {
	start := p.peek().start
	from := p.is(p.next(), "from")
	moduleStart := p.peek().start
	dotted := func() token {
		first := p.peek()
		last := first
		for !p.done() && (p.peek().kind == tokName && p.peek().kw == notKeyword || p.at('.') || p.at(OpEllipsis)) {
			last = p.next()
		}
		return token{start: first.start, end: last.end, kind: tokName}
	}
	if !from {
		for !p.done() && !p.atKind(tokNewline) && !p.at(';') {
			before := p.i
			module := dotted()
			local := module
			if i := strings.IndexByte(string(p.s.src[module.start:module.end]), '.'); i > 0 {
				local.end = local.start + int32(i)
			}
			if p.acceptKw(kwAs) {
				local = p.next()
			}
			p.link(list, p.importNode(start, local, module, token{}))
			p.accept(',')
			if p.i == before {
				return
			}
		}
		return
	}
	module := dotted()
	module.start = moduleStart
	p.acceptKw(kwImport)
	end := len(p.toks)
	if p.at('(') {
		end = int(p.peek().match)
		p.i++
	}
	for p.i < end && !p.done() && !p.atKind(tokNewline) && !p.at(';') {
		before := p.i
		original := p.next()
		local := original
		if p.acceptKw(kwAs) {
			local = p.next()
		}
		if original.kind == tokName {
			p.link(list, p.importNode(start, local, module, original))
		}
		p.accept(',')
		if p.i == before {
			p.i++
		}
	}
	if end < len(p.toks) {
		p.i = max(p.i, end)
	}
}

// pyTargets reads the targets of a for: a variable, or a tuple of them.
func (p *Parser) pyTargets(l *children) {
	n := p.peek()
	if n.kind == tokName && p.ahead(1).kw == kwIn {
		p.i++
		p.link(l, p.named(VarDecl, n.start, n))
		return
	}
	id := p.node(Tuple, n.start)
	var c children
	for !p.done() && !p.atKw(kwIn) && !p.at(':') && !p.atKind(tokNewline) {
		before := p.i
		if p.accept('(') || p.accept(')') || p.accept(',') || p.accept('*') || p.accept('[') || p.accept(']') {
			continue
		}
		p.link(&c, p.pyPostfix(p.pyAtom()))
		if p.i == before {
			p.i++
		}
	}
	p.link(l, p.close(id, &c))
}

// pyTestList reads a, b, *c: a tuple where there is a comma.
func (p *Parser) pyTestList() NodeID {
	start := p.peek().start
	first := p.pyNamed()
	if !p.at(',') {
		return first
	}
	id := p.node(Tuple, start)
	var l children
	p.link(&l, first)
	for p.accept(',') {
		if !p.pyOperandHere() {
			break
		}
		p.link(&l, p.pyNamed())
	}
	return p.close(id, &l)
}

// pyOperandHere reports whether an expression can begin here.
func (p *Parser) pyOperandHere() bool {
	t := p.peek()
	if p.done() || t.kind == tokNewline || t.kind == tokDedent || t.kind == tokIndent {
		return false
	}
	if t.kind == tokOp {
		switch t.op {
		case ')', ']', '}', '=', ':', ';', ',', OpAssign:
			return false
		}
	}
	return t.kw != kwIn && t.kw != kwFor && t.kw != kwIf && t.kw != kwElse && t.kw != kwAs
}

// pyNamed reads an expression with := or a star before it.
func (p *Parser) pyNamed() NodeID {
	start := p.peek().start
	if p.at('*') {
		op := byte('*')
		if t := p.next(); t.end-t.start == 2 {
			op = 'm'
		}
		id := p.node(Spread, start)
		p.t.Nodes[id].Op = op
		var l children
		p.link(&l, p.pyBinary(1))
		return p.close(id, &l)
	}
	if p.atKw(kwYield) {
		p.i++
		if p.is(p.peek(), "from") {
			p.i++
		}
		if !p.pyOperandHere() {
			return p.close(p.node(Opaque, start), &children{})
		}
		return p.pyTestList()
	}
	left := p.pyTest()
	if t := p.peek(); t.kind == tokOp && t.op == OpAssign && p.s.src[t.start] == ':' {
		p.i++
		id := p.node(Assign, start)
		var l children
		p.link(&l, left)
		p.link(&l, p.pyTest())
		return p.close(id, &l)
	}
	return left
}

// pyTest reads a conditional expression or a lambda.
func (p *Parser) pyTest() NodeID {
	t := p.peek()
	if id := p.opaqueTooDeep(); id != 0 {
		return id
	}
	defer p.rise()
	if t.kw == kwFn {
		p.i++
		id := p.node(Lambda, t.start)
		var l children
		p.pyParams(&l, len(p.toks))
		p.accept(':')
		p.link(&l, p.pyTest())
		return p.close(id, &l)
	}
	value := p.pyBinary(1)
	if !p.atKw(kwIf) || p.noIn {
		return value
	}
	p.i++
	id := p.node(Cond, t.start)
	var l children
	p.link(&l, p.pyBinary(1))
	p.link(&l, value)
	if p.acceptKw(kwElse) {
		p.link(&l, p.pyTest())
	}
	return p.close(id, &l)
}

func pyPrecedence(t token) int {
	switch t.kw {
	case kwOr:
		return 1
	case kwAnd:
		return 2
	case kwIn, kwIs, kwNot:
		return 4
	}
	if t.kind != tokOp {
		return 0
	}
	switch t.op {
	case '<', '>', OpLe, OpGe, OpEq, OpNe:
		if t.end-t.start == 2 && (t.op == '<' || t.op == '>') {
			return 8
		}
		return 4
	case '|':
		return 5
	case '^':
		return 6
	case '&':
		return 7
	case '+', '-':
		return 9
	case '*', '/', '%', '@':
		if t.op == '*' && t.end-t.start == 2 {
			return 12
		}
		return 10
	}
	return 0
}

func (p *Parser) pyBinary(least int) NodeID {
	start := p.peek().start
	left := p.pyUnary()
	for {
		t := p.peek()
		prec := pyPrecedence(t)
		if prec == 0 || prec < least || t.kw == kwNot && p.ahead(1).kw != kwIn {
			return left
		}
		p.i++
		op := t.op
		switch t.kw {
		case kwOr:
			op = OpOr
		case kwAnd:
			op = OpAnd
		case kwIs:
			op = OpEq
			if p.acceptKw(kwNot) {
				op = OpNe
			}
		case kwNot:
			p.acceptKw(kwIn)
			op = 0
		case kwIn:
			op = 0
		}
		id := p.node(Binary, start)
		p.t.Nodes[id].Op = op
		var l children
		p.link(&l, left)
		p.link(&l, p.pyBinary(prec+1))
		left = p.close(id, &l)
	}
}

func (p *Parser) pyUnary() NodeID {
	t := p.peek()
	if id := p.opaqueTooDeep(); id != 0 {
		return id
	}
	defer p.rise()
	switch {
	case t.kw == kwNot:
		p.i++
		id := p.node(Unary, t.start)
		p.t.Nodes[id].Op = '!'
		var l children
		p.link(&l, p.pyBinary(4))
		return p.close(id, &l)
	case t.kind == tokOp && (t.op == '-' || t.op == '+' || t.op == '~'):
		p.i++
		id := p.node(Unary, t.start)
		p.t.Nodes[id].Op = t.op
		var l children
		p.link(&l, p.pyUnary())
		return p.close(id, &l)
	case t.kw == kwAwait:
		p.i++
		inner := p.pyUnary()
		p.t.Nodes[inner].Flags |= Await
		return inner
	case t.kw == kwFn:
		return p.pyTest()
	}
	return p.pyPostfix(p.pyAtom())
}

func (p *Parser) pyAtom() NodeID {
	t := p.peek()
	switch t.kind {
	case tokString, tokInterp:
		return p.pyText()
	case tokNumber:
		p.i++
		return p.close(p.node(Number, t.start), &children{})
	case tokName:
		switch t.kw {
		case kwNull, kwTrue, kwFalse:
			p.i++
			return p.close(p.node(Keyword, t.start), &children{})
		case notKeyword:
			p.i++
			if p.self != "" && p.is(t, p.self) {
				return p.close(p.node(Self, t.start), &children{})
			}
			return p.named(Name, t.start, t)
		}
		if t.kw == kwYield {
			return p.pyNamed()
		}
	case tokOp:
		switch t.op {
		case '(', '[', '{':
			return p.pyDisplay(t)
		case OpEllipsis:
			p.i++
			return p.close(p.node(Opaque, t.start), &children{})
		}
	}
	id := p.node(Opaque, t.start)
	if p.pyOperandHere() {
		p.i++
	}
	return p.close(id, &children{})
}

// pyText reads literals that stand side by side as one text.
func (p *Parser) pyText() NodeID {
	one := func() NodeID {
		t := p.next()
		if t.kind == tokInterp {
			return p.interpolated(t)
		}
		return p.close(p.node(String, t.start), &children{})
	}
	start := p.peek().start
	first := one()
	if !p.atKind(tokString) && !p.atKind(tokInterp) {
		return first
	}
	id := p.node(Interp, start)
	p.t.Nodes[id].Flags = Concat
	var l children
	p.link(&l, first)
	for p.atKind(tokString) || p.atKind(tokInterp) {
		p.link(&l, one())
	}
	return p.close(id, &l)
}

// pyDisplay reads (…), […] and {…}: a value, a tuple, a list, a dictionary, or a
// comprehension of any.
func (p *Parser) pyDisplay(t token) NodeID {
	end := int(t.match)
	p.i++
	noIn := p.noIn
	p.noIn = false
	defer func() { p.noIn = noIn }()
	kind := Init
	if t.op == '(' {
		kind = Tuple
	}
	id := p.node(kind, t.start)
	var l children
	commas, keyed := 0, t.op == '{' && p.i >= end
	for p.i < end && !p.done() {
		before := p.i
		start := p.peek().start
		key := p.pyNamed()
		if t.op == '{' && p.t.Nodes[key].Kind == Spread && p.t.Nodes[key].Op == 'm' {
			keyed = true
		}
		if t.op == '{' && p.accept(':') {
			keyed = true
			var c children
			if n := p.t.Nodes[key]; n.Kind == String && n.End-n.Start > 2 && (p.s.src[n.Start] == '"' || p.s.src[n.Start] == '\'') {
				nm := p.named(Named, start, token{start: n.Start + 1, end: n.End - 1})
				p.link(&c, p.pyTest())
				key = p.close(nm, &c)
			} else {
				pair := p.node(Pair, start)
				p.link(&c, key)
				p.link(&c, p.pyTest())
				key = p.close(pair, &c)
			}
		}
		p.link(&l, key)
		if p.atKw(kwFor) || p.atKw(kwSynchronized) {
			p.pyComprehension(&l, end)
			p.i = max(p.i, min(end+1, len(p.toks)))
			p.t.Nodes[id].Kind = Opaque
			return p.close(id, &l)
		}
		for p.i < end && !p.at(',') {
			p.skipGroup()
		}
		if p.accept(',') {
			commas++
		}
		if p.i == before {
			p.i++
		}
	}
	p.i = max(p.i, min(end+1, len(p.toks)))
	if kind == Tuple && commas == 0 && l.first != 0 {
		return l.first
	}
	if keyed {
		p.t.Nodes[id].Flags = Keyed
	}
	return p.close(id, &l)
}

// pyComprehension reads for … in … if … up to token end.
func (p *Parser) pyComprehension(l *children, end int) {
	p.noIn = true
	for p.i < end && !p.done() {
		before := p.i
		switch {
		case p.acceptKw(kwSynchronized), p.acceptKw(kwIf):
			p.link(l, p.pyTest())
			if p.toks[before].kw == kwSynchronized {
				continue
			}
		case p.acceptKw(kwFor):
			p.pyTargets(&children{})
			if p.acceptKw(kwIn) {
				p.link(l, p.pyBinary(1))
			}
		default:
			p.i++
		}
		if p.i == before {
			p.i++
		}
	}
	p.noIn = false
}

func (p *Parser) pyArgument(l *children) {
	if n := p.ahead(1); p.peek().kind == tokName && n.kind == tokOp && n.op == '=' {
		name := p.next()
		p.i++
		id := p.named(Named, name.start, name)
		var c children
		p.link(&c, p.pyTest())
		p.link(l, p.close(id, &c))
		return
	}
	p.link(l, p.pyNamed())
}

func (p *Parser) pyPostfix(left NodeID) NodeID {
	for {
		start := p.t.Nodes[left].Start
		t := p.peek()
		if t.kind != tokOp {
			return left
		}
		switch t.op {
		case '.':
			p.i++
			n := p.peek()
			if n.kind != tokName {
				return left
			}
			p.i++
			id := p.named(Member, start, n)
			var l children
			p.link(&l, left)
			left = p.close(id, &l)
		case '(':
			end := int(t.match)
			id := p.node(Call, start)
			var l children
			p.link(&l, left)
			p.i++
			noIn := p.noIn
			p.noIn = false
			for p.i < end && !p.done() {
				before := p.i
				p.pyArgument(&l)
				if p.atKw(kwFor) || p.atKw(kwSynchronized) {
					var inner children
					p.pyComprehension(&inner, end)
					if inner.first != 0 {
						o := p.node(Opaque, t.start)
						p.t.Nodes[o].First = inner.first
						p.t.Nodes[l.last].NextSibling = 0
						p.wrapLast(&l, o)
					}
				}
				for p.i < end && !p.at(',') {
					p.skipGroup()
				}
				p.accept(',')
				if p.i == before {
					p.i++
				}
			}
			p.noIn = noIn
			p.i = max(p.i, min(end+1, len(p.toks)))
			left = p.close(id, &l)
		case '[':
			end := int(t.match)
			id := p.node(Index, start)
			var l children
			p.link(&l, left)
			p.i++
			noIn := p.noIn
			p.noIn = false
			for p.i < end && !p.done() {
				before := p.i
				if p.accept(':') || p.accept(',') {
					continue
				}
				p.link(&l, p.pyNamed())
				if p.i == before {
					p.i++
				}
			}
			p.noIn = noIn
			p.i = max(p.i, min(end+1, len(p.toks)))
			left = p.close(id, &l)
		default:
			return left
		}
	}
}

// wrapLast puts the last child of l into the node o, before what o has: the
// element and the clauses of a generator are one argument.
func (p *Parser) wrapLast(l *children, o NodeID) {
	last := l.last
	p.t.Nodes[o].Start = p.t.Nodes[last].Start
	p.t.Nodes[last].NextSibling = p.t.Nodes[o].First
	p.t.Nodes[o].First = last
	if l.first == last {
		l.first, l.last = o, o
		return
	}
	for c := l.first; c != 0; c = p.t.Nodes[c].NextSibling {
		if p.t.Nodes[c].NextSibling == last {
			p.t.Nodes[c].NextSibling = o
			break
		}
	}
	l.last = o
}
