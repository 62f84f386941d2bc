package hostcode

// block reads { statements }.
func (p *Parser) block() NodeID {
	id := p.node(Block, p.peek().start)
	end := int(p.peek().match)
	p.i++
	var l children
	if p.depth++; p.depth > mostNested {
		p.i = max(p.i, end)
	}
	for !p.done() && !p.at('}') {
		before := p.i
		p.statement(&l)
		if p.i == before {
			p.i++
		}
	}
	p.depth--
	p.accept('}')
	return p.close(id, &l)
}

// body reads a statement as a block, with or without braces.
func (p *Parser) body() NodeID {
	if p.at('{') {
		return p.block()
	}
	id := p.node(Block, p.peek().start)
	var l children
	if p.depth++; p.depth > mostNested {
		p.skipStatement()
	} else {
		p.statement(&l)
	}
	p.depth--
	return p.close(id, &l)
}

// condition reads an expression in brackets.
func (p *Parser) condition(l *children) {
	if !p.at('(') {
		return
	}
	end := int(p.peek().match)
	p.i++
	p.link(l, p.expression())
	p.i = max(p.i, min(end+1, len(p.toks)))
}

func (p *Parser) statement(list *children) {
	t := p.peek()
	start := t.start
	if t.kind == tokOp {
		switch t.op {
		case '{':
			p.link(list, p.block())
			return
		case ';':
			p.i++
			return
		case '}':
			return
		case '@', '[':
			p.modifiers()
			t = p.peek()
		}
	}
	var l children
	switch t.kw {
	case kwIf:
		p.i++
		id := p.node(If, start)
		p.condition(&l)
		p.link(&l, p.body())
		if p.acceptKw(kwElse) {
			p.link(&l, p.body())
		}
		p.link(list, p.close(id, &l))
	case kwElse, kwFinally:
		p.i++
		p.link(list, p.body())
	case kwFor, kwForeach, kwWhile:
		p.i++
		id := p.node(Loop, start)
		if p.at('(') {
			p.loopHeader(&l)
		}
		p.link(&l, p.body())
		p.link(list, p.close(id, &l))
	case kwDo:
		p.i++
		id := p.node(Loop, start)
		body := p.body()
		if p.acceptKw(kwWhile) {
			p.condition(&l)
		}
		p.accept(';')
		p.link(&l, body)
		p.link(list, p.close(id, &l))
	case kwSwitch:
		id := p.node(Switch, start)
		p.i++
		p.condition(&l)
		p.cases(&l)
		p.link(list, p.close(id, &l))
	case kwReturn, kwThrow:
		p.i++
		k := Return
		if t.kw == kwThrow {
			k = Throw
		}
		id := p.node(k, start)
		if !p.at(';') && !p.at('}') {
			p.link(&l, p.expression())
		}
		p.link(list, p.close(id, &l))
		p.endStatement()
	case kwYield:
		if n := p.ahead(1); n.kw == kwReturn || n.kw == kwBreak {
			p.i += 2
			id := p.node(ExprStmt, start)
			if !p.at(';') {
				p.link(&l, p.expression())
			}
			p.link(list, p.close(id, &l))
			p.endStatement()
			return
		}
		p.simple(list)
	case kwBreak, kwContinue, kwGoto:
		p.i++
		p.link(list, p.close(p.node(Jump, start), &l))
		p.skipStatement()
	case kwTry:
		p.try(list)
	case kwSynchronized, kwLock:
		p.i++
		if p.at('(') {
			p.loopHeader(list)
		}
		p.link(list, p.body())
	case kwUsing:
		p.using(list)
	case kwAwait:
		switch p.ahead(1).kw {
		case kwUsing:
			p.i++
			p.using(list)
		case kwForeach:
			p.i++
			p.statement(list)
		default:
			p.simple(list)
		}
	case kwClass, kwInterface, kwEnum, kwStruct:
		p.class(list, start)
	case kwRecord:
		if n, m := p.ahead(1), p.ahead(2); isName(n) && m.kind == tokOp && (m.op == '(' || m.op == '{') {
			p.class(list, start)
			return
		}
		p.simple(list)
	default:
		if n := p.ahead(1); n.kind == tokOp && n.op == '{' && (p.is(t, "checked") || p.is(t, "unchecked") || p.is(t, "unsafe")) {
			p.i++
			p.link(list, p.block())
			return
		}
		if t.kind == tokName && p.ahead(1).kind == tokOp && p.ahead(1).op == ':' && t.kw != kwDefault { // a label
			p.i += 2
			return
		}
		p.simple(list)
	}
}

// endStatement moves behind the semicolon, over what was not understood before it.
func (p *Parser) endStatement() {
	if p.accept(';') || p.at('}') {
		return
	}
	p.skipStatement()
}

// simple reads a declaration, a local function or an expression.
func (p *Parser) simple(list *children) {
	start := p.peek().start
	save := p.i
	flags := p.modifiers()
	if p.atKw(kwClass) || p.atKw(kwEnum) || p.atKw(kwInterface) {
		p.class(list, start)
		return
	}
	if j := p.skipType(p.i); j > 0 && j < len(p.toks) && isName(p.toks[j]) && j > p.i {
		var after token
		if j+1 < len(p.toks) {
			after = p.toks[j+1]
		}
		isPlain := after.kind == tokOp && (after.op == '=' || after.op == ';' || after.op == ',' || after.op == '[' && p.s.lang.bracketsBehindNames)
		switch {
		case isPlain && p.peek().kw != kwReturn:
			p.declaration(list, start, j, flags)
			p.endStatement()
			return
		case after.kind == tokOp && (after.op == '(' || after.op == '<') && p.toks[p.i].kw != kwNew && p.toks[p.i].kw != kwAwait:
			k := j + 1
			if after.op == '<' {
				k = p.skipTypeArguments(k)
			}
			if k > 0 && k < len(p.toks) && p.toks[k].op == '(' && p.hasBodyBehind(k) {
				name, result := p.toks[j], p.typeNode(j)
				p.i = k
				p.function(list, start, name, result, flags)
				return
			}
		}
	}
	if p.i == save && flags != 0 {
		p.i++
	}
	id := p.node(ExprStmt, p.peek().start)
	var l children
	p.link(&l, p.expression())
	p.link(list, p.close(id, &l))
	p.endStatement()
}

// declaration reads Type name [= value] {, name [= value]}; the type ends
// before token typeEnd.
func (p *Parser) declaration(list *children, start int32, typeEnd int, flags Flags) {
	typ := p.typeNode(typeEnd)
	name := p.next()
	p.declarators(list, VarDecl, start, typ, name, flags)
}

// initializer reads a value, or { elements } of an array.
func (p *Parser) initializer() NodeID {
	if p.at('{') {
		return p.init()
	}
	return p.expression()
}

// loopHeader reads what stands in the brackets behind for, foreach or while.
func (p *Parser) loopHeader(l *children) {
	end := int(p.peek().match)
	p.i++
	for p.i < end && !p.done() {
		before := p.i
		start := p.peek().start
		p.modifiers()
		if j := p.skipType(p.i); j > p.i && j < end && isName(p.toks[j]) && j+1 <= end {
			after := p.toksAt(j + 1)
			if after.kind == tokOp && (after.op == '=' || after.op == ':' || after.op == ',') || after.kw == kwIn {
				p.declaration(l, start, j, 0)
				if p.accept(':') || p.acceptKw(kwIn) {
					p.link(l, p.expression())
				}
				p.accept(';')
				continue
			}
		}
		if !p.accept(';') && !p.accept(',') && !p.acceptKw(kwIn) {
			p.link(l, p.expression())
		}
		if p.i == before {
			p.i++
		}
	}
	p.i = min(end+1, len(p.toks))
}

// cases reads { case …: statements } or { case … -> … }.
func (p *Parser) cases(l *children) {
	if !p.at('{') {
		return
	}
	end := int(p.peek().match)
	p.i++
	for p.i < end && !p.done() {
		before := p.i
		p.oneCase(l, end)
		if p.i == before {
			p.i++
		}
	}
	p.i = min(end+1, len(p.toks))
}

func (p *Parser) oneCase(list *children, end int) {
	id := p.node(Case, p.peek().start)
	var l children
	flags := Flags(0)
	switch {
	case p.acceptKw(kwCase):
	case p.acceptKw(kwDefault):
		flags |= Default
	default: // statements without a label
		p.statement(list)
		return
	}
	for p.i < end && !p.at(':') && !p.at(OpArrow) {
		if p.acceptKw(kwDefault) || p.is(p.peek(), "_") && p.ahead(1).kind == tokOp {
			flags |= Default
			if p.is(p.peek(), "_") {
				p.i++
			}
		} else if p.acceptKw(kwWhen) || p.accept(',') {
			continue
		} else {
			before := p.i
			p.link(&l, p.ternary())
			if p.i == before {
				p.i++
			}
		}
		p.accept(',')
	}
	arrow := p.at(OpArrow)
	p.i++
	body := p.node(Block, p.peek().start)
	var b children
	if arrow {
		flags |= Arrow
		if p.at('{') {
			p.link(&b, p.block())
		} else {
			p.statement(&b)
		}
	} else {
		for p.i < end && !p.atKw(kwCase) && !(p.atKw(kwDefault) && p.ahead(1).op == ':' && p.ahead(1).kind == tokOp) {
			before := p.i
			p.statement(&b)
			if p.i == before {
				p.i++
			}
		}
	}
	p.link(&l, p.close(body, &b))
	p.t.Nodes[id].Flags = flags
	p.link(list, p.close(id, &l))
}

func (p *Parser) try(list *children) {
	id := p.node(Try, p.next().start)
	var l children
	if p.at('(') { // resources
		p.loopHeader(&l)
	}
	if p.at('{') {
		p.link(&l, p.block())
	}
	for {
		start := p.peek().start
		switch {
		case p.acceptKw(kwCatch):
			c := p.node(Catch, start)
			var cl children
			if p.at('(') {
				p.skipGroup()
			}
			if p.acceptKw(kwWhen) && p.at('(') {
				p.skipGroup()
			}
			if p.at('{') {
				p.link(&cl, p.block())
			}
			p.link(&l, p.close(c, &cl))
			continue
		case p.acceptKw(kwFinally):
			if p.at('{') {
				p.link(&l, p.block())
			}
		}
		break
	}
	p.link(list, p.close(id, &l))
}

// using reads using (resource) body, or using declaration;.
func (p *Parser) using(list *children) {
	id := p.node(Using, p.next().start)
	var l children
	if p.at('(') {
		p.loopHeader(&l)
		p.link(&l, p.body())
		p.link(list, p.close(id, &l))
		return
	}
	p.t.Nodes[id].Flags |= Declared
	p.simple(&l)
	p.link(list, p.close(id, &l))
}
