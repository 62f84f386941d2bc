package hostcode

// expression reads one expression, assignments and lambdas included.
func (p *Parser) expression() NodeID {
	if id := p.opaqueTooDeep(); id != 0 {
		return id
	}
	defer p.rise()
	if l := p.lambda(); l != 0 {
		return l
	}
	start := p.peek().start
	left := p.ternary()
	t := p.peek()
	if t.kind != tokOp || t.op != '=' && t.op != OpAssign {
		return left
	}
	p.i++
	id := p.node(Assign, start)
	if t.op == OpAssign {
		p.t.Nodes[id].Op = p.s.src[t.start]
	}
	var l children
	p.link(&l, left)
	p.link(&l, p.initializer())
	return p.close(id, &l)
}

// lambda reads x -> …, (x, y) => …, async x => …; 0 where none begins here.
func (p *Parser) lambda() NodeID {
	i := p.i
	if p.toksAt(i).kw == kwModifier || p.toksAt(i).kw == kwStatic {
		i++
	}
	t := p.toksAt(i)
	var arrow int
	switch {
	case t.kind == tokName && isName(t):
		arrow = i + 1
	case t.kind == tokOp && t.op == '(' && int(t.match) > i:
		arrow = int(t.match) + 1
	case t.kw == kwDelegate && p.toksAt(i+1).op == '(':
		return 0
	default:
		return 0
	}
	if a := p.toksAt(arrow); a.kind != tokOp || a.op != OpArrow {
		return 0
	}
	id := p.node(Lambda, p.peek().start)
	var l children
	p.i = i
	if p.at('(') {
		p.params(&l)
	} else {
		name := p.next()
		p.link(&l, p.named(Param, name.start, name))
	}
	p.i = arrow + 1
	if p.at('{') {
		p.link(&l, p.block())
	} else {
		p.link(&l, p.expression())
	}
	return p.close(id, &l)
}

func (p *Parser) toksAt(i int) token {
	if i < len(p.toks) {
		return p.toks[i]
	}
	return token{}
}

func (p *Parser) ternary() NodeID {
	start := p.peek().start
	cond := p.binary(1)
	if !p.at('?') {
		return cond
	}
	p.i++
	id := p.node(Cond, start)
	var l children
	p.link(&l, cond)
	p.link(&l, p.expression())
	p.accept(':')
	p.link(&l, p.expression())
	return p.close(id, &l)
}

// precedence of a binary operator; 0 for what is none.
func precedence(t token) int {
	if t.kind != tokOp {
		if t.kw == kwIs || t.kw == kwInstanceof || t.kw == kwAs {
			return 7
		}
		return 0
	}
	switch t.op {
	case OpCoalesce:
		return 1
	case OpOr:
		return 2
	case OpAnd:
		return 3
	case '|', '^', '&':
		return 4
	case OpEq, OpNe:
		return 6
	case '<', '>', OpLe, OpGe:
		return 7
	case '+', '-':
		return 9
	case '*', '/', '%':
		return 10
	case OpRange:
		return 11
	}
	return 0
}

func (p *Parser) binary(least int) NodeID {
	start := p.peek().start
	left := p.unary()
	for {
		t := p.peek()
		prec := precedence(t)
		if prec < least || prec == 0 {
			return left
		}
		p.i++
		op := t.op
		if t.kind == tokName {
			left = p.typeTest(start, left, t)
			continue
		}
		if op == '>' && p.at('>') { // a shift
			p.i++
			p.accept('>')
		} else if op == '<' && p.at('<') {
			p.i++
		}
		id := p.node(Binary, start)
		p.t.Nodes[id].Op = op
		var l children
		p.link(&l, left)
		p.link(&l, p.binary(prec+1))
		left = p.close(id, &l)
	}
}

// typeTest reads what stands behind is, as or instanceof: a type, a constant
// or a pattern.
func (p *Parser) typeTest(start int32, left NodeID, t token) NodeID {
	var l children
	p.link(&l, left)
	if t.kw == kwAs {
		id := p.node(Cast, start)
		p.t.Nodes[id].Op = OpAs
		if j := p.skipType(p.i); j > 0 {
			var c children
			p.link(&c, p.typeNode(j))
			p.link(&c, left)
			return p.close(id, &c)
		}
		return p.close(id, &l)
	}
	id := p.node(Binary, start)
	p.t.Nodes[id].Op = OpIs
	if p.is(p.peek(), "not") {
		p.i++
	}
	for {
		switch {
		case p.at('{'), p.at('('):
			p.skipGroup()
			if isName(p.peek()) && !p.is(p.peek(), "or") && !p.is(p.peek(), "and") {
				p.i++
			}
		case p.at('<') || p.at('>') || p.at(OpLe) || p.at(OpGe): // a range
			p.i++
			p.unary()
		case p.peek().kind == tokNumber || p.peek().kind == tokString || p.at('-') || p.atKw(kwNull):
			p.link(&l, p.unary())
		default:
			if j := p.skipType(p.i); j > 0 {
				p.i = j
				if isName(p.peek()) && !p.is(p.peek(), "or") && !p.is(p.peek(), "and") {
					p.i++
				}
			} else {
				p.i++
			}
		}
		if p.is(p.peek(), "or") || p.is(p.peek(), "and") {
			p.i++
			continue
		}
		return p.close(id, &l)
	}
}

func (p *Parser) unary() NodeID {
	t := p.peek()
	if id := p.opaqueTooDeep(); id != 0 {
		return id
	}
	defer p.rise()
	switch {
	case t.kind == tokOp && (t.op == '-' || t.op == '+' || t.op == '!' || t.op == '~' || t.op == OpInc || t.op == OpDec || t.op == '&' || t.op == '*' || t.op == '^'):
		p.i++
		id := p.node(Unary, t.start)
		p.t.Nodes[id].Op = t.op
		var l children
		p.link(&l, p.unary())
		return p.close(id, &l)
	case t.kw == kwAwait && p.startsOperand(p.ahead(1)):
		p.i++
		inner := p.unary()
		p.t.Nodes[inner].Flags |= Await
		return inner
	case t.kind == tokOp && t.op == '(' && p.isCast():
		id := p.node(Cast, t.start)
		end := int(t.match)
		p.i++
		var l children
		p.link(&l, p.typeNode(end))
		p.i = end + 1
		if f := p.lambda(); f != 0 {
			p.link(&l, f)
		} else {
			p.link(&l, p.unary())
		}
		return p.close(id, &l)
	case t.kw == kwOut || t.kw == kwRef || t.kw == kwIn && p.startsOperand(p.ahead(1)):
		return p.outArgument()
	case t.kw == kwThrow:
		p.i++
		return p.expression()
	}
	return p.postfix(p.primary())
}

// outArgument reads out x, ref x, out var x, out int x.
func (p *Parser) outArgument() NodeID {
	id := p.node(OutArg, p.next().start)
	var l children
	if j := p.skipType(p.i); j > 0 && j < len(p.toks) && isName(p.toks[j]) {
		typ := p.typeNode(j)
		v := p.named(VarDecl, p.t.Nodes[typ].Start, p.next())
		var c children
		p.link(&c, typ)
		p.link(&l, p.close(v, &c))
	} else {
		p.link(&l, p.unary())
	}
	return p.close(id, &l)
}

// startsOperand reports whether an operand can begin with t, so that what
// stands before it is a cast or await.
func (p *Parser) startsOperand(t token) bool {
	switch t.kind {
	case tokString, tokNumber, tokInterp, tokChar:
		return true
	case tokName:
		return t.kw != kwIs && t.kw != kwAs && t.kw != kwInstanceof && t.kw != kwIn && t.kw != kwWhen
	case tokOp:
		return t.op == '(' || t.op == '!' || t.op == '~'
	}
	return false
}

// isCast reports whether the bracket here holds a type and an operand follows.
func (p *Parser) isCast() bool {
	t := p.peek()
	end := int(t.match)
	if end <= p.i+1 || end+1 > len(p.toks) {
		return false
	}
	j := p.skipType(p.i + 1)
	for j > 0 && j < end && p.toks[j].kind == tokOp && p.toks[j].op == '&' { // an intersection
		j = p.skipType(j + 1)
	}
	if j != end {
		return false
	}
	after := p.toksAt(end + 1)
	if p.toks[end-1].kw == kwPrimitive && end == p.i+2 {
		return p.startsOperand(after) || after.kind == tokOp && (after.op == '-' || after.op == '+')
	}
	return p.startsOperand(after)
}

func (p *Parser) primary() NodeID {
	t := p.peek()
	switch t.kind {
	case tokString:
		p.i++
		return p.close(p.node(String, t.start), &children{})
	case tokChar, tokNumber:
		p.i++
		return p.close(p.node(Number, t.start), &children{})
	case tokInterp:
		p.i++
		return p.interpolated(t)
	case tokName:
		switch t.kw {
		case kwNew:
			return p.creation()
		case kwNull, kwTrue, kwFalse, kwThis:
			p.i++
			return p.close(p.node(Keyword, t.start), &children{})
		case kwSwitch:
			id := p.node(SwitchExp, t.start)
			p.i++
			var l children
			p.condition(&l)
			p.cases(&l)
			return p.close(id, &l)
		case kwDefault:
			p.i++
			if p.at('(') {
				p.skipGroup()
			}
			return p.close(p.node(Keyword, t.start), &children{})
		case kwDelegate:
			id := p.node(Lambda, t.start)
			p.i++
			var l children
			if p.at('(') {
				p.params(&l)
			}
			if p.at('{') {
				p.link(&l, p.block())
			}
			return p.close(id, &l)
		}
		if p.s.lang.queries && p.is(t, "from") && isName(p.ahead(1)) && p.ahead(2).kw == kwIn {
			return p.query()
		}
		if n := p.ahead(1); p.is(t, "var") && n.kind == tokOp && n.op == '(' { // var (a, b) = …
			p.i++
			p.skipGroup()
			return p.close(p.node(Opaque, t.start), &children{})
		}
		if isName(t) || t.kw == kwPrimitive {
			p.i++
			return p.named(Name, t.start, t)
		}
	case tokOp:
		switch t.op {
		case '(':
			end := int(t.match)
			p.i++
			var l children
			for p.i < end && !p.done() {
				before := p.i
				p.link(&l, p.expression())
				if !p.accept(',') || p.i == before {
					break
				}
			}
			p.i = max(p.i, min(end+1, len(p.toks)))
			if l.first != 0 && l.first == l.last {
				return l.first
			}
			id := p.node(Opaque, t.start)
			return p.close(id, &l)
		case '@': // an annotation among the members of another
			if p.ahead(1).kind == tokName && p.ahead(1).kw != kwInterface {
				return p.annotation()
			}
		case '[': // a collection
			return p.collection('[')
		case '{':
			return p.init()
		}
	}
	id := p.node(Opaque, t.start)
	if !p.at(')') && !p.at(']') && !p.at('}') && !p.at(';') && !p.at(',') {
		p.i++
	}
	return p.close(id, &children{})
}

// queryWords part the clauses of a query expression.
var queryWords = map[string]bool{"from": true, "where": true, "select": true, "orderby": true, "let": true, "join": true, "on": true, "equals": true,
	"into": true, "group": true, "by": true, "ascending": true, "descending": true}

// query reads from x in … where … select …: the expressions between its words.
func (p *Parser) query() NodeID {
	id := p.node(Opaque, p.peek().start)
	var l children
	for !p.done() && !p.at(';') && !p.at(')') && !p.at('}') && !p.at(']') {
		t := p.peek()
		if t.kind == tokName && (queryWords[p.text(t)] || t.kw == kwIn) {
			p.i++
			if n := p.ahead(1); isName(p.peek()) && (n.kw == kwIn || n.kind == tokOp && n.op == '=') { // the variable of from, join and let
				p.i += 2
			}
			continue
		}
		before := p.i
		p.link(&l, p.ternary())
		p.accept(',')
		if p.i == before {
			p.i++
		}
	}
	return p.close(id, &l)
}

// interpolated reads the expressions inside a literal.
func (p *Parser) interpolated(t token) NodeID {
	id := p.node(Interp, t.start)
	var l children
	p.s.lang.holes(p.s.src, int(t.start), int(t.end), func(value bool, from, to int) {
		if value {
			s := p.node(String, int32(from))
			p.t.Nodes[s].End, p.t.Nodes[s].Flags = int32(to), Part
			p.link(&l, s)
			return
		}
		p.link(&l, p.inside(from, to))
	})
	return p.finish(id, &l, int(t.end))
}

// inside reads the expression in src[from:to], which is part of a token.
func (p *Parser) inside(from, to int) NodeID {
	if p.depth > mostNested/4 {
		id := p.node(Opaque, int32(from))
		p.t.Nodes[id].End = int32(to)
		return id
	}
	sub := scanner{src: p.s.src, lang: p.s.lang}
	sub.scan(from, to)
	toks, i := p.toks, p.i
	p.toks, p.i = sub.tokens, 0
	p.depth++
	read := (*Parser).expression
	if own := p.s.lang.expression; own != nil {
		read = own
	}
	id := read(p)
	p.depth--
	p.toks, p.i = toks, i
	return id
}

// creation reads new Type(…) {…}, new(…), new[] {…}, new {…}.
func (p *Parser) creation() NodeID {
	id := p.node(New, p.next().start)
	var l children
	typ := p.node(Type, p.peek().start)
	if p.peek().kind == tokName {
		j := p.skipCreatedType(p.i)
		if j > p.i {
			p.t.Nodes[typ].End = p.toks[j-1].end
			p.i = j
		}
	}
	p.link(&l, typ)
	if p.at('[') { // an array: its type has the brackets
		var lengths children
		for p.at('[') {
			end := int(p.peek().match)
			for p.i++; p.i < end && !p.done(); {
				before := p.i
				p.link(&lengths, p.expression())
				p.accept(',')
				if p.i == before {
					p.i++
				}
			}
			p.i = max(p.i, min(end+1, len(p.toks)))
		}
		p.t.Nodes[typ].End = max(p.t.Nodes[typ].End, p.toks[p.i-1].end)
		if p.at('{') {
			p.link(&l, p.init())
		} else {
			p.linkAll(&l, &lengths)
		}
		return p.close(id, &l)
	}
	if p.at('(') {
		p.arguments(&l)
	}
	if p.at('{') {
		if p.s.lang.anonymousClasses && p.t.Nodes[typ].End > p.t.Nodes[typ].Start { // an anonymous class
			p.anonymous(&l)
		} else {
			p.link(&l, p.init())
		}
	}
	return p.close(id, &l)
}

// skipCreatedType is skipType without the brackets of an array.
func (p *Parser) skipCreatedType(i int) int {
	for i < len(p.toks) && p.toks[i].kind == tokName {
		i++
		if i < len(p.toks) && p.toks[i].kind == tokOp && p.toks[i].op == '<' {
			if j := p.skipTypeArguments(i); j > 0 {
				i = j
			}
		}
		if i+1 < len(p.toks) && p.toks[i].kind == tokOp && (p.toks[i].op == '.' || p.toks[i].op == OpScope) && p.toks[i+1].kind == tokName {
			i++
			continue
		}
		break
	}
	return i
}

func (p *Parser) anonymous(list *children) {
	id := p.node(Class, p.peek().start)
	end := int(p.peek().match)
	p.i++
	var l children
	if p.depth++; p.depth > mostNested {
		p.i = max(p.i, end)
	}
	for !p.done() && !p.at('}') {
		before := p.i
		p.member(&l, "\x00")
		if p.i == before {
			p.i++
		}
	}
	p.depth--
	p.accept('}')
	p.link(list, p.close(id, &l))
}

// init reads { element, Name = value, [index] = value, … }.
func (p *Parser) init() NodeID { return p.collection('{') }

func (p *Parser) collection(open byte) NodeID {
	t := p.peek()
	id := p.node(Init, t.start)
	end := int(t.match)
	p.i++
	var l children
	for p.i < end && !p.done() {
		before := p.i
		if n := p.ahead(1); open == '{' && isName(p.peek()) && n.kind == tokOp && n.op == '=' {
			name := p.next()
			p.i++
			nm := p.named(Named, name.start, name)
			var c children
			p.link(&c, p.initializer())
			p.link(&l, p.close(nm, &c))
		} else if p.at('{') {
			p.link(&l, p.init())
		} else {
			p.link(&l, p.expression())
		}
		p.accept(',')
		if p.i == before {
			p.i++
		}
	}
	p.i = min(end+1, len(p.toks))
	return p.close(id, &l)
}

// arguments reads (…), named arguments included, and links them to l.
func (p *Parser) arguments(l *children) {
	end := int(p.peek().match)
	p.i++
	for p.i < end && !p.done() {
		before := p.i
		if n := p.ahead(1); p.s.lang.namedArguments && isName(p.peek()) && n.kind == tokOp && n.op == ':' {
			name := p.next()
			p.i++
			id := p.named(Named, name.start, name)
			var c children
			p.link(&c, p.expression())
			p.link(l, p.close(id, &c))
		} else {
			p.link(l, p.expression())
		}
		for p.i < end && !p.at(',') && !p.at(';') {
			p.skipGroup() // what was not understood
		}
		if p.at(';') { // the bracket is not closed
			return
		}
		p.accept(',')
		if p.i == before {
			p.i++
		}
	}
	p.i = max(p.i, min(end+1, len(p.toks)))
}

// postfix reads what stands behind an operand: members, calls, indexes.
func (p *Parser) postfix(left NodeID) NodeID {
	for {
		start := p.t.Nodes[left].Start
		t := p.peek()
		if t.kind == tokName {
			if t.kw == kwSwitch && p.ahead(1).op == '{' { // x switch { … }
				left = p.switchExpression(start, left)
				continue
			}
			if t.kw == kwWith && p.ahead(1).op == '{' {
				p.i++
				p.skipGroup()
				continue
			}
			return left
		}
		if t.kind != tokOp {
			return left
		}
		switch t.op {
		case '.', OpSafe, OpScope:
			p.i++
			if p.at('<') { // Java's type arguments before a method
				if j := p.skipTypeArguments(p.i); j > 0 {
					p.i = j
				}
			}
			n := p.peek()
			if n.kind != tokName {
				if t.op == OpSafe && p.at('[') {
					continue
				}
				return left
			}
			p.i++
			if n.kw == kwNew && p.peek().kind == tokName { // outer.new Inner()
				p.i--
				left = p.creation()
				continue
			}
			id := p.named(Member, start, n)
			var l children
			p.link(&l, left)
			left = p.close(id, &l)
		case '(':
			id := p.node(Call, start)
			var l children
			p.link(&l, left)
			p.arguments(&l)
			left = p.close(id, &l)
		case '[':
			id := p.node(Index, start)
			var l children
			p.link(&l, left)
			end := int(t.match)
			p.i++
			for p.i < end && !p.done() {
				before := p.i
				p.link(&l, p.expression())
				p.accept(',')
				if p.i == before {
					p.i++
				}
			}
			p.i = max(p.i, min(end+1, len(p.toks)))
			left = p.close(id, &l)
		case OpInc, OpDec:
			p.i++
			id := p.node(Postfix, start)
			p.t.Nodes[id].Op = t.op
			var l children
			p.link(&l, left)
			left = p.close(id, &l)
		case '!': // C#'s null-forgiving operator
			if n := p.ahead(1); !p.s.lang.nullForgiving || n.kind == tokOp && n.op == '=' {
				return left
			}
			p.i++
		case '<':
			k := p.t.Nodes[left].Kind
			if k != Name && k != Member {
				return left
			}
			j := p.skipTypeArguments(p.i)
			if j < 0 {
				return left
			}
			if a := p.toksAt(j); a.kind == tokOp && (a.op == '(' || a.op == OpScope || a.op == '.') {
				p.i = j
				continue
			}
			return left
		default:
			return left
		}
	}
}

// switchExpression reads x switch { pattern => value, … }.
func (p *Parser) switchExpression(start int32, left NodeID) NodeID {
	p.i++
	id := p.node(SwitchExp, start)
	var l children
	p.link(&l, left)
	end := int(p.peek().match)
	p.i++
	for p.i < end && !p.done() {
		before := p.i
		c := p.node(Case, p.peek().start)
		flags := Arrow
		var cl children
		for p.i < end && !p.at(OpArrow) {
			if p.is(p.peek(), "_") {
				flags |= Default
				p.i++
			} else if p.peek().kind == tokNumber || p.peek().kind == tokString || p.at('-') || isName(p.peek()) && !p.is(p.peek(), "or") && !p.atKw(kwWhen) {
				p.link(&cl, p.binary(5))
			} else {
				if p.peek().op == '<' || p.peek().op == '>' || p.peek().op == OpLe || p.peek().op == OpGe {
					flags |= Default // a range: taken for everything else
				}
				p.i++
			}
		}
		p.accept(OpArrow)
		body := p.node(Block, p.peek().start)
		st := p.node(ExprStmt, p.peek().start)
		var sl, bl children
		p.link(&sl, p.expression())
		p.link(&bl, p.close(st, &sl))
		p.link(&cl, p.close(body, &bl))
		p.t.Nodes[c].Flags = flags
		p.link(&l, p.close(c, &cl))
		p.accept(',')
		if p.i == before {
			p.i++
		}
	}
	p.i = min(end+1, len(p.toks))
	return p.close(id, &l)
}
