package hostcode

// This file reads the statements and expressions of JavaScript and TypeScript
// (ECMA-262, clauses 13 to 16).

func javascriptFile(p *Parser, list *children) {
	for !p.done() {
		before := p.i
		p.jsStatement(list)
		if p.i == before {
			p.i++
		}
	}
}

// lineBreak reports whether the token here begins a line.
func (p *Parser) lineBreak() bool {
	if p.i == 0 || p.done() {
		return true
	}
	for _, c := range p.s.src[p.toks[p.i-1].end:p.toks[p.i].start] {
		if c == '\n' {
			return true
		}
	}
	return false
}

// jsEnd ends a statement: at a semicolon, a brace or a line. What was not
// understood on the line is passed over.
func (p *Parser) jsEnd() {
	for !p.done() && !p.accept(';') && !p.at('}') && !p.lineBreak() {
		p.skipGroup()
	}
}

func (p *Parser) jsBlock() NodeID { return p.braced(p.jsStatement) }

func (p *Parser) jsBody() NodeID {
	if p.at('{') {
		return p.jsBlock()
	}
	id := p.node(Block, p.peek().start)
	var l children
	if p.depth++; p.depth <= mostNested {
		p.jsStatement(&l)
	} else {
		p.skipGroup()
	}
	p.depth--
	return p.close(id, &l)
}

// jsCondition reads an expression in brackets.
func (p *Parser) jsCondition(l *children) {
	if !p.at('(') {
		return
	}
	end := int(p.peek().match)
	p.i++
	p.jsList(l, end)
}

// jsList reads expressions parted by commas up to token end, and passes it.
func (p *Parser) jsList(l *children, end int) {
	for p.i < end && !p.done() {
		before := p.i
		if p.accept(',') {
			continue
		}
		p.link(l, p.jsExpression())
		if p.i == before {
			p.i++
		}
	}
	p.i = max(p.i, min(end+1, len(p.toks)))
}

func (p *Parser) jsStatement(list *children) {
	if p.tooDeep() {
		return
	}
	defer p.rise()
	t := p.peek()
	start := t.start
	var l children
	if t.kind == tokOp {
		switch t.op {
		case '{':
			p.link(list, p.jsBlock())
			return
		case ';':
			p.i++
			return
		case '}':
			return
		case '@':
			p.jsDecorators(list)
			p.jsStatement(list)
			return
		}
	}
	n := p.ahead(1)
	isCall := n.kind == tokOp && (n.op == '(' || n.op == '.' || n.op == '=' || n.op == OpSafe || n.op == ':' && t.kw != kwDefault)
	switch t.kw {
	case kwVar:
		if isName(n) || n.kind == tokOp && (n.op == '[' || n.op == '{') || n.kind == tokName && !isCall {
			if p.is(n, "enum") { // const enum
				p.i++
				p.jsStatement(list)
				return
			}
			p.i++
			p.jsDeclarations(list, Constant*flagIf(p.is(t, "const")))
			p.jsEnd()
			return
		}
	case kwFunction:
		p.jsFunction(list, Func, start)
		return
	case kwClass:
		p.jsClass(list, start)
		return
	case kwIf:
		p.i++
		id := p.node(If, start)
		p.jsConditionOne(&l)
		p.link(&l, p.jsBody())
		if p.acceptKw(kwElse) {
			p.link(&l, p.jsBody())
		}
		p.link(list, p.close(id, &l))
		return
	case kwFor:
		p.i++
		p.acceptKw(kwAwait)
		id := p.node(Loop, start)
		if p.at('(') {
			p.jsForHeader(&l)
		}
		p.link(&l, p.jsBody())
		p.link(list, p.close(id, &l))
		return
	case kwWhile, kwWith:
		if n.op != '(' {
			break
		}
		p.i++
		k := Loop
		if t.kw == kwWith {
			k = Using
		}
		id := p.node(k, start)
		p.jsCondition(&l)
		p.link(&l, p.jsBody())
		p.link(list, p.close(id, &l))
		return
	case kwDo:
		p.i++
		id := p.node(Loop, start)
		body := p.jsBody()
		if p.acceptKw(kwWhile) && p.at('(') {
			p.jsCondition(&l)
		}
		p.accept(';')
		p.link(&l, body)
		p.link(list, p.close(id, &l))
		return
	case kwSwitch:
		p.i++
		id := p.node(Switch, start)
		p.jsConditionOne(&l)
		p.jsCases(&l)
		p.link(list, p.close(id, &l))
		return
	case kwReturn, kwThrow:
		p.i++
		k := Return
		if t.kw == kwThrow {
			k = Throw
		}
		id := p.node(k, start)
		if !p.at(';') && !p.at('}') && !p.lineBreak() {
			p.link(&l, p.jsSequence())
		}
		p.link(list, p.close(id, &l))
		p.jsEnd()
		return
	case kwBreak, kwContinue:
		p.i++
		if p.peek().kind == tokName && !p.lineBreak() {
			p.i++
		}
		p.link(list, p.close(p.node(Jump, start), &l))
		p.accept(';')
		return
	case kwTry:
		p.jsTry(list)
		return
	case kwImport:
		if n.kind != tokOp || n.op != '(' && n.op != '.' {
			p.jsImport(list)
			return
		}
	case kwExport:
		p.jsExport(list)
		return
	case notKeyword:
		if p.jsContextual(list, t, n) {
			return
		}
	}
	if t.kind == tokName && n.kind == tokOp && n.op == ':' && t.kw != kwDefault && t.kw != kwCase { // a label
		p.i += 2
		return
	}
	id := p.node(ExprStmt, start)
	p.link(&l, p.jsSequence())
	p.link(list, p.close(id, &l))
	p.jsEnd()
}

func flagIf(b bool) Flags {
	if b {
		return 1
	}
	return 0
}

// jsConditionOne reads what stands in brackets as one expression.
func (p *Parser) jsConditionOne(l *children) {
	if !p.at('(') {
		return
	}
	end := int(p.peek().match)
	p.i++
	if p.i < end {
		p.link(l, p.jsSequence())
	}
	p.i = max(p.i, min(end+1, len(p.toks)))
}

// jsContextual reads the statements that begin with a word that is no keyword
// everywhere: async functions, and the declarations of TypeScript.
func (p *Parser) jsContextual(list *children, t, n token) bool {
	word := p.s.src[t.start:t.end]
	switch string(word) {
	case "async":
		if n.kw == kwFunction {
			p.i++
			p.jsFunction(list, Func, t.start)
			return true
		}
	case "interface", "type", "namespace", "module", "declare", "abstract", "enum", "global":
		if !p.s.lang.typed || !(n.kind == tokName || n.kind == tokString || string(word) == "global" && n.op == '{') || n.kw == kwIn || n.kw == kwInstanceof {
			return false
		}
		if p.i++; p.lineBreak() && string(word) != "enum" {
			p.i--
			return false
		}
	default:
		return false
	}
	switch string(word) {
	case "declare", "abstract":
		p.jsStatement(list)
	case "interface":
		for !p.done() && !p.at('{') {
			p.skipGroup()
		}
		p.skipGroup()
	case "type":
		p.i++
		if p.at('<') {
			if j := p.tsArguments(p.i); j > 0 {
				p.i = j
			}
		}
		if p.accept('=') {
			if j := p.tsType(p.i); j > 0 {
				p.i = j
			}
		}
		p.jsEnd()
	case "namespace", "module", "global":
		for !p.done() && !p.at('{') && !p.at(';') {
			p.i++
		}
		if p.at('{') {
			var inner children
			b := p.jsBlock()
			for c := range p.t.Children(b) {
				inner.last = c
			}
			if first := p.t.Nodes[b].First; first != 0 { // its statements count as the file's
				p.link(list, first)
				list.last = inner.last
			}
		}
	case "enum":
		id := p.named(Class, t.start, p.next())
		var l children
		if p.at('{') {
			end := int(p.peek().match)
			p.i++
			for p.i < end && !p.done() {
				before := p.i
				name := p.next()
				if name.kind == tokString {
					name.start, name.end = name.start+1, name.end-1
				}
				f := p.named(Field, name.start, name)
				p.t.Nodes[f].Flags = Static | Constant
				var c children
				if p.accept('=') {
					p.link(&c, p.jsExpression())
				}
				p.link(&l, p.close(f, &c))
				for p.i < end && !p.accept(',') {
					p.skipGroup()
				}
				if p.i == before {
					p.i++
				}
			}
			p.i = min(end+1, len(p.toks))
		}
		p.link(list, p.close(id, &l))
	case "async":
		return false
	}
	return true
}

// jsDeclarations reads name [: type] [= value] {, …} behind const, let or var.
func (p *Parser) jsDeclarations(list *children, flags Flags) {
	for !p.done() {
		start := p.peek().start
		if p.at('{') || p.at('[') {
			id := p.node(Assign, start)
			p.t.Nodes[id].Flags = Declared
			var l children
			p.link(&l, p.jsPrimary())
			p.jsTypeNote()
			if p.accept('=') {
				p.link(&l, p.jsExpression())
			} else if p.is(p.peek(), "of") || p.atKw(kwIn) {
				p.i++
				p.link(&l, p.jsExpression())
			}
			id = p.close(id, &l)
			st := p.node(ExprStmt, start)
			var sl children
			p.link(&sl, id)
			p.link(list, p.close(st, &sl))
		} else if p.peek().kind == tokName {
			id := p.named(VarDecl, start, p.next())
			p.t.Nodes[id].Flags = flags
			var l children
			if p.s.lang.typed {
				p.accept('!')
			}
			if typ := p.jsTypeNote(); typ != 0 {
				p.link(&l, typ)
			}
			if p.accept('=') {
				p.link(&l, p.jsExpression())
			}
			p.link(list, p.close(id, &l))
		} else {
			return
		}
		if !p.accept(',') {
			return
		}
	}
}

// jsTypeNote reads : type and returns its node, or 0.
func (p *Parser) jsTypeNote() NodeID {
	if !p.s.lang.typed || !p.at(':') {
		return 0
	}
	p.i++
	if j := p.tsType(p.i); j > p.i && j <= len(p.toks) {
		return p.typeNode(j)
	}
	return 0
}

func (p *Parser) jsForHeader(l *children) {
	end := int(p.peek().match)
	p.i++
	if p.atKw(kwVar) {
		p.i++
		var d children
		save := p.noIn
		p.noIn = true
		p.jsDeclarations(&d, 0)
		p.noIn = save
		for c := d.first; c != 0; {
			next := p.t.Nodes[c].NextSibling
			p.t.Nodes[c].NextSibling = 0
			p.link(l, c)
			c = next
		}
	}
	for p.i < end && !p.done() {
		before := p.i
		if p.accept(';') || p.accept(',') || p.is(p.peek(), "of") && p.acceptName() || p.acceptKw(kwIn) {
			continue
		}
		save := p.noIn
		p.noIn = true
		p.link(l, p.jsExpression())
		p.noIn = save
		if p.i == before {
			p.i++
		}
	}
	p.i = max(p.i, min(end+1, len(p.toks)))
}

func (p *Parser) acceptName() bool { p.i++; return true }

func (p *Parser) jsCases(l *children) {
	if !p.at('{') {
		return
	}
	end := int(p.peek().match)
	p.i++
	for p.i < end && !p.done() {
		before := p.i
		c := p.node(Case, p.peek().start)
		var cl children
		flags := Flags(0)
		if p.acceptKw(kwCase) {
			p.link(&cl, p.jsSequence())
		} else if p.acceptKw(kwDefault) {
			flags = Default
		}
		p.accept(':')
		b := p.node(Block, p.peek().start)
		var bl children
		for p.i < end && !p.atKw(kwCase) && !(p.atKw(kwDefault) && p.ahead(1).op == ':') {
			at := p.i
			p.jsStatement(&bl)
			if p.i == at {
				p.i++
			}
		}
		p.link(&cl, p.close(b, &bl))
		p.t.Nodes[c].Flags = flags
		p.link(l, p.close(c, &cl))
		if p.i == before {
			p.i++
		}
	}
	p.i = max(p.i, min(end+1, len(p.toks)))
}

func (p *Parser) jsTry(list *children) {
	id := p.node(Try, p.next().start)
	var l children
	if p.at('{') {
		p.link(&l, p.jsBlock())
	}
	if start := p.peek().start; p.acceptKw(kwCatch) {
		c := p.node(Catch, start)
		var cl children
		if p.at('(') {
			p.skipGroup()
		}
		if p.at('{') {
			p.link(&cl, p.jsBlock())
		}
		p.link(&l, p.close(c, &cl))
	}
	if p.acceptKw(kwFinally) && p.at('{') {
		p.link(&l, p.jsBlock())
	}
	p.link(list, p.close(id, &l))
}

// jsImport reads import a, { b as c }, * as d from "module".
func (p *Parser) jsImport(list *children) {
	start := p.next().start
	type binding struct{ local, original token }
	var names []binding
	if p.is(p.peek(), "type") && p.ahead(1).kind != tokString && !p.is(p.ahead(1), "from") {
		p.i++
	}
	for !p.done() && p.peek().kind != tokString && !p.at(';') {
		t := p.next()
		switch {
		case t.kind == tokOp && t.op == '*' && p.is(p.peek(), "as"):
			p.i++
			names = append(names, binding{local: p.next()})
		case t.kind == tokOp && t.op == '{':
			for end := int(t.match); p.i < end && !p.done(); {
				original := p.next()
				local := original
				if p.is(p.peek(), "as") && p.ahead(1).kind == tokName {
					p.i++
					local = p.next()
				}
				if original.kind == tokName || original.kind == tokString {
					names = append(names, binding{local, original})
				}
				p.accept(',')
			}
			p.accept('}')
		case t.kind == tokName && !p.is(t, "from"):
			names = append(names, binding{local: t})
		}
		if p.lineBreak() && p.peek().kind == tokName && !p.is(p.peek(), "from") {
			break
		}
	}
	module := p.peek()
	if module.kind == tokString {
		p.i++
		for _, n := range names {
			p.link(list, p.importNode(start, n.local, module, n.original))
		}
	}
	p.jsEnd()
}

// importNode makes an Import of what the file calls local; original is its name
// in the module, the zero token for the module itself.
func (p *Parser) importNode(start int32, local, module, original token) NodeID {
	id := p.named(Import, start, local)
	m := p.node(String, module.start)
	p.t.Nodes[m].End = module.end
	var l children
	p.link(&l, m)
	if original.end > 0 {
		p.link(&l, p.named(Name, original.start, original))
	}
	return p.finish(id, &l, int(local.end))
}

func (p *Parser) jsExport(list *children) {
	start := p.next().start
	switch {
	case p.acceptKw(kwDefault):
		if t := p.peek(); t.kw == kwClass || t.kw == kwFunction || p.is(t, "async") && p.ahead(1).kw == kwFunction || p.is(t, "abstract") {
			p.jsStatement(list)
			return
		}
		id := p.node(ExprStmt, start)
		var l children
		p.link(&l, p.jsSequence())
		p.link(list, p.close(id, &l))
		p.jsEnd()
	case p.at('{') || p.at('*'):
		for !p.done() && !p.at(';') && !(p.lineBreak() && !p.at('{') && !p.at('*')) {
			p.skipGroup()
		}
		p.accept(';')
	case p.at('='): // export = x
		p.i++
		id := p.node(ExprStmt, start)
		var l children
		p.link(&l, p.jsSequence())
		p.link(list, p.close(id, &l))
		p.jsEnd()
	case p.is(p.peek(), "as") && p.is(p.ahead(1), "namespace"):
		p.i += 2
		p.jsEnd()
	default:
		p.jsStatement(list)
	}
}

func (p *Parser) jsDecorators(list *children) {
	for p.at('@') {
		start := p.next().start
		if p.at('(') {
			p.skipGroup()
			continue
		}
		name := p.peek()
		id := p.named(Annotate, start, name)
		p.i++
		for p.at('.') && p.ahead(1).kind == tokName {
			p.i++
			name = p.next()
		}
		p.t.Nodes[id].NameStart, p.t.Nodes[id].NameEnd = name.start, name.end
		var l children
		if p.at('(') {
			p.jsArguments(&l)
		}
		p.link(list, p.close(id, &l))
	}
}

// jsFunction reads function [*] [name] (…) {…}.
func (p *Parser) jsFunction(list *children, kind Kind, start int32) {
	p.acceptKw(kwFunction)
	p.accept('*')
	id := p.node(kind, start)
	if p.peek().kind == tokName {
		n := p.next()
		p.t.Nodes[id].NameStart, p.t.Nodes[id].NameEnd = n.start, n.end
	}
	var l children
	p.jsSignature(&l)
	if p.at('{') {
		p.link(&l, p.jsBlock())
	} else {
		p.accept(';')
	}
	p.link(list, p.close(id, &l))
}

// jsSignature reads [<T>] (parameters) [: type]; the type stands first in l.
func (p *Parser) jsSignature(l *children) {
	if p.at('<') {
		if j := p.tsArguments(p.i); j > 0 {
			p.i = j
		}
	}
	var params children
	if p.at('(') {
		p.jsParams(&params)
	}
	if p.at(':') {
		if typ := p.jsTypeNote(); typ != 0 {
			p.link(l, typ)
		}
	}
	if params.first != 0 {
		p.link(l, params.first)
		l.last = params.last
	}
}

func (p *Parser) jsParams(l *children) {
	end := int(p.peek().match)
	p.i++
	for p.i < end && !p.done() {
		before := p.i
		start := p.peek().start
		flags := Flags(0)
		if p.at('@') {
			var d children
			p.jsDecorators(&d)
		}
		for p.s.lang.typed && p.peek().kind == tokName && p.ahead(1).kind == tokName && p.i+1 < end { // private readonly x
			flags = Static
			p.i++
		}
		if p.accept(OpEllipsis) {
			flags |= Rest
		}
		id := p.node(Param, start)
		var c children
		if p.at('{') || p.at('[') {
			p.link(&c, p.jsPrimary())
		} else if t := p.peek(); t.kind == tokName {
			p.i++
			p.t.Nodes[id].NameStart, p.t.Nodes[id].NameEnd = t.start, t.end
		}
		if p.s.lang.typed {
			p.accept('?')
		}
		if typ := p.jsTypeNote(); typ != 0 {
			p.link(&c, typ)
		}
		if p.accept('=') {
			p.link(&c, p.jsExpression())
		}
		p.t.Nodes[id].Flags = flags
		p.link(l, p.close(id, &c))
		for p.i < end && !p.at(',') {
			p.skipGroup()
		}
		p.accept(',')
		if p.i == before {
			p.i++
		}
	}
	p.i = max(p.i, min(end+1, len(p.toks)))
}

func (p *Parser) jsClass(list *children, start int32) {
	p.i++
	id := p.node(Class, start)
	var l children
	if t := p.peek(); t.kind == tokName && t.kw != kwExtends && !p.is(t, "implements") {
		p.i++
		p.t.Nodes[id].NameStart, p.t.Nodes[id].NameEnd = t.start, t.end
	}
	if p.at('<') {
		if j := p.tsArguments(p.i); j > 0 {
			p.i = j
		}
	}
	for !p.done() && !p.at('{') {
		switch {
		case p.acceptKw(kwExtends):
			if t := p.peek(); t.kind == tokName && (p.ahead(1).op == '{' || p.ahead(1).op == '<' || p.ahead(1).kind == tokName) {
				p.link(&l, p.typeNode(p.i+1))
				continue
			}
			p.link(&l, p.jsPostfix(p.jsPrimary()))
		case p.is(p.peek(), "implements"):
			p.i++
			for !p.done() && !p.at('{') {
				if j := p.tsType(p.i); j > p.i {
					p.i = j
				}
				if !p.accept(',') {
					break
				}
			}
		case p.at('<'):
			if j := p.tsArguments(p.i); j > 0 {
				p.i = j
				continue
			}
			p.i++
		case p.at(';'), p.at('}'):
			p.link(list, p.close(id, &l))
			return
		default:
			p.i++
		}
	}
	if p.done() {
		p.link(list, p.close(id, &l))
		return
	}
	end := int(p.peek().match)
	p.i++
	if p.depth++; p.depth > mostNested {
		p.i = max(p.i, end)
	}
	for p.i < end && !p.done() {
		before := p.i
		p.jsMember(&l)
		if p.i == before {
			p.i++
		}
	}
	p.depth--
	p.i = max(p.i, min(end+1, len(p.toks)))
	p.link(list, p.close(id, &l))
}

// endsMemberName reports whether t stands behind the name of a member, so that
// the word before it is the name and no modifier.
func endsMemberName(t token) bool {
	if t.kind != tokOp {
		return t.kind == tokEOF
	}
	switch t.op {
	case '(', '=', ';', '}', ':', '?', '!', '<', ',':
		return true
	}
	return false
}

func (p *Parser) jsMember(list *children) {
	if p.tooDeep() {
		return
	}
	defer p.rise()
	start := p.peek().start
	if p.accept(';') || p.accept(',') {
		return
	}
	p.jsDecorators(list)
	flags := Flags(0)
	for t := p.peek(); t.kind == tokName && !endsMemberName(p.ahead(1)); t = p.peek() {
		if t.kw == kwStatic {
			flags |= Static
			if p.ahead(1).op == '{' {
				p.i++
				p.link(list, p.jsBlock())
				return
			}
		} else if !jsModifier(string(p.s.src[t.start:t.end])) {
			break
		} else if p.i++; p.lineBreak() && !p.at('*') && string(p.s.src[t.start:t.end]) != "async" {
			p.i-- // a field of that name
			break
		} else {
			p.i--
		}
		p.i++
	}
	p.accept('*')
	name, computed := p.jsMemberName()
	if p.s.lang.typed && !p.accept('?') {
		p.accept('!')
	}
	if p.at('(') || p.at('<') {
		if p.is(name, "constructor") {
			flags |= Constructor
		}
		id := p.named(Func, start, name)
		p.t.Nodes[id].Flags = flags
		var l children
		p.link(&l, computed)
		p.jsSignature(&l)
		if flags&Constructor != 0 && p.s.lang.typed {
			p.parameterFields(list, &l)
		}
		if p.at('{') {
			p.link(&l, p.jsBlock())
		} else {
			p.accept(';')
		}
		p.link(list, p.close(id, &l))
		return
	}
	id := p.named(Field, start, name)
	p.t.Nodes[id].Flags = flags
	var l children
	if typ := p.jsTypeNote(); typ != 0 {
		p.link(&l, typ)
	}
	if p.accept('=') {
		p.link(&l, p.jsExpression())
	}
	p.link(list, p.close(id, &l))
	p.jsEnd()
}

// parameterFields makes a field of each parameter of a constructor that has a
// modifier (TypeScript handbook, "Parameter Properties").
func (p *Parser) parameterFields(list *children, params *children) {
	for c := params.first; c != 0; c = p.t.Nodes[c].NextSibling {
		n := p.t.Nodes[c]
		if n.Kind != Param || n.Flags&Static == 0 || n.NameEnd == 0 {
			continue
		}
		f := p.node(Field, n.Start)
		p.t.Nodes[f].NameStart, p.t.Nodes[f].NameEnd = n.NameStart, n.NameEnd
		var l children
		if n.First != 0 && p.t.Nodes[n.First].Kind == Type {
			p.link(&l, p.copyType(n.First))
		}
		p.link(list, p.finish(f, &l, int(n.End)))
	}
}

func jsModifier(word string) bool {
	switch word {
	case "async", "get", "set", "public", "private", "protected", "readonly", "abstract", "override", "declare", "accessor":
		return true
	}
	return false
}

// jsMemberName reads a member's name; of a computed one it returns the node.
func (p *Parser) jsMemberName() (name token, computed NodeID) {
	t := p.peek()
	switch {
	case t.kind == tokOp && t.op == '[':
		end := int(t.match)
		p.i++
		if p.i < end {
			computed = p.jsExpression()
		}
		p.i = max(p.i, min(end+1, len(p.toks)))
		return token{start: t.start, end: t.start}, computed
	case t.kind == tokString && t.end-t.start >= 2:
		p.i++
		t.start, t.end = t.start+1, t.end-1
		return t, 0
	case t.kind == tokName, t.kind == tokNumber:
		p.i++
		return t, 0
	}
	return token{start: t.start, end: t.start}, 0
}

// jsSequence reads a, b: a tuple where there are several.
func (p *Parser) jsSequence() NodeID {
	start := p.peek().start
	first := p.jsExpression()
	if !p.at(',') {
		return first
	}
	id := p.node(Opaque, start)
	var l children
	p.link(&l, first)
	for p.accept(',') {
		before := p.i
		p.link(&l, p.jsExpression())
		if p.i == before {
			break
		}
	}
	return p.close(id, &l)
}

// jsExpression reads one expression, assignments and arrow functions included.
func (p *Parser) jsExpression() NodeID {
	if id := p.opaqueTooDeep(); id != 0 {
		return id
	}
	defer p.rise()
	if l := p.jsArrow(); l != 0 {
		return l
	}
	start := p.peek().start
	if p.atKw(kwYield) {
		p.i++
		p.accept('*')
		if p.done() || p.lineBreak() || p.at(')') || p.at(']') || p.at('}') || p.at(',') || p.at(';') {
			return p.close(p.node(Opaque, start), &children{})
		}
		return p.jsExpression()
	}
	left := p.jsTernary()
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
	p.link(&l, p.jsExpression())
	return p.close(id, &l)
}

// jsArrow reads x => …, (x, y): T => …, async x => …; 0 where none begins here.
func (p *Parser) jsArrow() NodeID {
	i := p.i
	if t := p.toksAt(i); t.kind == tokName && p.is(t, "async") && (p.toksAt(i+1).kind == tokName || p.toksAt(i+1).op == '(' || p.toksAt(i+1).op == '<') {
		if n := p.toksAt(i + 1); n.kw == kwFunction {
			return 0
		}
		i++
	}
	t := p.toksAt(i)
	if t.kind == tokOp && t.op == '<' && p.s.lang.typed {
		if i = p.tsArguments(i); i < 0 {
			return 0
		}
		t = p.toksAt(i)
	}
	switch {
	case t.kind == tokName && (isName(t) || t.kw == kwNull || t.kw == kwYield):
		if a := p.toksAt(i + 1); a.kind != tokOp || a.op != OpArrow {
			return 0
		}
	case t.kind == tokOp && t.op == '(' && int(t.match) > i:
		k := int(t.match) + 1
		if p.s.lang.typed && p.toksAt(k).op == ':' && p.toksAt(k).kind == tokOp && p.thens == 0 {
			if k = p.tsType(k + 1); k < 0 {
				return 0
			}
		}
		if a := p.toksAt(k); a.kind != tokOp || a.op != OpArrow {
			return 0
		}
	default:
		return 0
	}
	id := p.node(Lambda, p.peek().start)
	var l children
	p.i = i
	if p.at('(') {
		p.jsParams(&l)
	} else {
		name := p.next()
		p.link(&l, p.named(Param, name.start, name))
	}
	if p.at(':') {
		p.i = p.tsType(p.i + 1)
	}
	p.accept(OpArrow)
	thens, noIn := p.thens, p.noIn
	p.thens, p.noIn = 0, false
	if p.at('{') {
		p.link(&l, p.jsBlock())
	} else {
		p.link(&l, p.jsExpression())
	}
	p.thens, p.noIn = thens, noIn
	return p.close(id, &l)
}

func (p *Parser) jsTernary() NodeID {
	start := p.peek().start
	cond := p.jsBinary(1)
	if !p.at('?') {
		return cond
	}
	p.i++
	id := p.node(Cond, start)
	var l children
	p.link(&l, cond)
	p.thens++
	p.link(&l, p.jsExpression())
	p.thens--
	p.accept(':')
	p.link(&l, p.jsExpression())
	return p.close(id, &l)
}

func (p *Parser) jsBinary(least int) NodeID {
	start := p.peek().start
	left := p.jsUnary()
	for {
		t := p.peek()
		prec := precedence(t)
		if t.kind == tokName {
			switch {
			case t.kw == kwIn && !p.noIn:
				prec = 7
			case p.s.lang.typed && (p.is(t, "as") || p.is(t, "satisfies")) && !p.lineBreak():
				p.i++
				if j := p.tsType(p.i); j > p.i {
					p.i = j
				}
				continue
			}
		}
		if prec < least || prec == 0 {
			return left
		}
		p.i++
		op := t.op
		if t.kind == tokName {
			op = 0
		} else if op == '>' || op == '<' {
			for p.at(op) && p.peek().start == p.toks[p.i-1].end { // a shift
				p.i++
			}
		}
		id := p.node(Binary, start)
		p.t.Nodes[id].Op = op
		var l children
		p.link(&l, left)
		p.link(&l, p.jsBinary(prec+1))
		left = p.close(id, &l)
	}
}

func (p *Parser) jsUnary() NodeID {
	t := p.peek()
	if id := p.opaqueTooDeep(); id != 0 {
		return id
	}
	defer p.rise()
	switch {
	case t.kind == tokOp && (t.op == '-' || t.op == '+' || t.op == '!' || t.op == '~' || t.op == OpInc || t.op == OpDec):
		p.i++
		id := p.node(Unary, t.start)
		p.t.Nodes[id].Op = t.op
		var l children
		p.link(&l, p.jsUnary())
		return p.close(id, &l)
	case t.kind == tokOp && t.op == OpEllipsis:
		p.i++
		id := p.node(Spread, t.start)
		var l children
		p.link(&l, p.jsExpression())
		return p.close(id, &l)
	case t.kind == tokOp && t.op == '<' && p.s.lang.typed: // <T>x
		if j := p.tsArguments(p.i); j > 0 {
			p.i = j
			return p.jsUnary()
		}
	case t.kw == kwTypeof:
		p.i++
		id := p.node(Unary, t.start)
		var l children
		p.link(&l, p.jsUnary())
		return p.close(id, &l)
	case t.kw == kwAwait && !endsMemberName(p.ahead(1)) || t.kw == kwAwait && p.ahead(1).op == '(':
		if n := p.ahead(1); n.kind == tokOp && n.op != '(' && n.op != '[' && n.op != '{' && n.op != '!' && n.op != '-' && n.op != '+' && n.op != '~' {
			break
		}
		p.i++
		inner := p.jsUnary()
		p.t.Nodes[inner].Flags |= Await
		return inner
	}
	return p.jsPostfix(p.jsPrimary())
}

func (p *Parser) jsPrimary() NodeID {
	t := p.peek()
	switch t.kind {
	case tokString:
		p.i++
		return p.close(p.node(String, t.start), &children{})
	case tokNumber:
		p.i++
		return p.close(p.node(Number, t.start), &children{})
	case tokRegexp:
		p.i++
		return p.close(p.node(Opaque, t.start), &children{})
	case tokInterp:
		p.i++
		return p.interpolated(t)
	case tokMarkup:
		p.i++
		id := p.interpolated(t)
		p.t.Nodes[id].Kind = Opaque
		return id
	case tokName:
		switch t.kw {
		case kwFunction:
			var l children
			p.jsFunction(&l, Lambda, t.start)
			return l.first
		case kwClass:
			var l children
			p.jsClass(&l, t.start)
			return l.first
		case kwNew:
			return p.jsNew()
		case kwNull, kwTrue, kwFalse, kwThis:
			p.i++
			return p.close(p.node(Keyword, t.start), &children{})
		}
		if n := p.ahead(1); p.is(t, "async") && n.kw == kwFunction && n.kind == tokName {
			p.i++
			var l children
			p.jsFunction(&l, Lambda, t.start)
			return l.first
		}
		p.i++
		return p.named(Name, t.start, t)
	case tokOp:
		switch t.op {
		case '(':
			end := int(t.match)
			p.i++
			thens, noIn := p.thens, p.noIn
			p.thens, p.noIn = 0, false
			var l children
			p.jsList(&l, end)
			p.thens, p.noIn = thens, noIn
			if l.first != 0 && l.first == l.last {
				return l.first
			}
			id := p.node(Opaque, t.start)
			return p.close(id, &l)
		case '[', '{':
			thens, noIn := p.thens, p.noIn
			p.thens, p.noIn = 0, false
			id := p.jsLiteral()
			p.thens, p.noIn = thens, noIn
			return id
		case '@': // a decorated class expression
			var l children
			p.jsDecorators(&l)
			if p.atKw(kwClass) {
				return p.jsPrimary()
			}
		}
	}
	id := p.node(Opaque, t.start)
	if !p.at(')') && !p.at(']') && !p.at('}') && !p.at(';') && !p.at(',') && !p.done() {
		p.i++
	}
	return p.close(id, &children{})
}

// jsNew reads new Type(…), new Type, new.target.
func (p *Parser) jsNew() NodeID {
	t := p.next()
	if p.at('.') {
		p.i += 2
		return p.close(p.node(Opaque, t.start), &children{})
	}
	id := p.node(New, t.start)
	var l children
	first := p.peek()
	if isName(first) || first.kw == kwThis {
		i := p.i + 1
		for p.toksAt(i).kind == tokOp && p.toksAt(i).op == '.' && p.toksAt(i+1).kind == tokName {
			i += 2
		}
		p.link(&l, p.typeNode(i))
		if p.at('[') { // new (types[name])
			p.skipGroup()
		}
	} else {
		typ := p.node(Type, first.start)
		p.link(&l, typ)
		if p.at('(') || first.kw == kwClass || first.kw == kwNew || first.kw == kwFunction {
			p.link(&l, p.jsPrimary())
		}
	}
	if p.at('<') && p.s.lang.typed {
		if j := p.tsArguments(p.i); j > 0 {
			p.i = j
		}
	}
	if p.at('(') {
		p.jsArguments(&l)
	}
	return p.close(id, &l)
}

// jsLiteral reads [elements] or { members }.
func (p *Parser) jsLiteral() NodeID {
	t := p.peek()
	id := p.node(Init, t.start)
	end := int(t.match)
	p.i++
	var l children
	if p.depth++; p.depth > mostNested {
		p.i = max(p.i, end)
	}
	for p.i < end && !p.done() {
		before := p.i
		switch {
		case p.at(','):
			if t.op == '[' { // an element that is left out
				p.link(&l, p.close(p.node(Opaque, p.peek().start), &children{}))
			}
		case t.op == '[':
			p.link(&l, p.jsExpression())
		default:
			p.jsProperty(&l)
		}
		for p.i < end && !p.at(',') {
			if p.i == before || !p.at(';') {
				p.skipGroup()
				continue
			}
			break
		}
		p.accept(',')
		if p.i == before {
			p.i++
		}
	}
	p.depth--
	p.i = max(p.i, min(end+1, len(p.toks)))
	if t.op == '{' {
		p.t.Nodes[id].Flags = Keyed
	}
	return p.close(id, &l)
}

func (p *Parser) jsProperty(list *children) {
	start := p.peek().start
	if p.at(OpEllipsis) {
		p.i++
		id := p.node(Spread, start)
		p.t.Nodes[id].Op = 'm'
		var l children
		p.link(&l, p.jsExpression())
		p.link(list, p.close(id, &l))
		return
	}
	for t := p.peek(); t.kind == tokName && !endsMemberName(p.ahead(1)); t = p.peek() {
		if word := string(p.s.src[t.start:t.end]); word != "async" && word != "get" && word != "set" {
			break
		}
		p.i++
	}
	p.accept('*')
	name, computed := p.jsMemberName()
	var value NodeID
	switch {
	case p.at('(') || p.at('<'):
		value = p.node(Lambda, start)
		var l children
		p.jsSignature(&l)
		if p.at('{') {
			p.link(&l, p.jsBlock())
		}
		value = p.close(value, &l)
	case p.accept(':'):
		value = p.jsExpression()
	case p.at('='): // a default in a pattern
		p.i++
		value = p.node(Assign, start)
		var l children
		p.link(&l, p.named(Name, name.start, name))
		p.link(&l, p.jsExpression())
		value = p.close(value, &l)
	default:
		value = p.named(Name, name.start, name)
	}
	if computed != 0 {
		id := p.node(Pair, start)
		var l children
		p.link(&l, computed)
		p.link(&l, value)
		p.link(list, p.close(id, &l))
		return
	}
	id := p.named(Named, start, name)
	var l children
	p.link(&l, value)
	p.link(list, p.close(id, &l))
}

func (p *Parser) jsArguments(l *children) {
	end := int(p.peek().match)
	p.i++
	thens, noIn := p.thens, p.noIn
	p.thens, p.noIn = 0, false
	for p.i < end && !p.done() {
		before := p.i
		p.link(l, p.jsExpression())
		for p.i < end && !p.at(',') && !p.at(';') {
			p.skipGroup()
		}
		if p.at(';') {
			break
		}
		p.accept(',')
		if p.i == before {
			p.i++
		}
	}
	p.thens, p.noIn = thens, noIn
	if !p.at(';') {
		p.i = max(p.i, min(end+1, len(p.toks)))
	}
}

// jsPostfix reads what stands behind an operand.
func (p *Parser) jsPostfix(left NodeID) NodeID {
	for {
		start := p.t.Nodes[left].Start
		t := p.peek()
		if t.kind == tokString || t.kind == tokInterp {
			if p.s.src[t.start] != '`' || p.t.Nodes[left].Kind == Number || p.t.Nodes[left].Kind == String {
				return left
			}
			id := p.node(Tagged, start)
			var l children
			p.link(&l, left)
			p.link(&l, p.jsPrimary())
			left = p.close(id, &l)
			continue
		}
		if t.kind != tokOp {
			return left
		}
		switch t.op {
		case '.', OpSafe:
			p.i++
			n := p.peek()
			if n.kind != tokName {
				if t.op == OpSafe && (p.at('[') || p.at('(')) {
					continue
				}
				return left
			}
			p.i++
			id := p.named(Member, start, n)
			var l children
			p.link(&l, left)
			left = p.close(id, &l)
		case '(':
			id := p.node(Call, start)
			var l children
			p.link(&l, left)
			p.jsArguments(&l)
			left = p.close(id, &l)
		case '[':
			id := p.node(Index, start)
			var l children
			p.link(&l, left)
			end := int(t.match)
			p.i++
			thens, noIn := p.thens, p.noIn
			p.thens, p.noIn = 0, false
			p.jsList(&l, end)
			p.thens, p.noIn = thens, noIn
			left = p.close(id, &l)
		case OpInc, OpDec:
			if p.lineBreak() {
				return left
			}
			p.i++
			id := p.node(Postfix, start)
			p.t.Nodes[id].Op = t.op
			var l children
			p.link(&l, left)
			left = p.close(id, &l)
		case '!':
			if !p.s.lang.typed || p.lineBreak() {
				return left
			}
			p.i++
		case '<':
			if !p.s.lang.typed {
				return left
			}
			j := p.tsArguments(p.i)
			if j < 0 {
				return left
			}
			if a := p.toksAt(j); a.kind == tokOp && (a.op == '(' || a.op == '.' || a.op == ')' || a.op == OpSafe) || (a.kind == tokString || a.kind == tokInterp) && p.s.src[a.start] == '`' {
				p.i = j
				continue
			}
			return left
		default:
			return left
		}
	}
}

// tsArguments returns the index behind <…> at token i, or -1.
func (p *Parser) tsArguments(i int) int {
	const longest = 400
	depth := 0
	for k := i; k < len(p.toks) && k < i+longest; k++ {
		t := p.toks[k]
		if t.kind != tokOp {
			if t.kind == tokRegexp || t.kind == tokMarkup {
				return -1
			}
			continue
		}
		switch t.op {
		case '<':
			depth++
		case '>':
			if depth--; depth == 0 {
				return k + 1
			}
		case '(', '[', '{':
			if int(t.match) <= k {
				return -1
			}
			k = int(t.match)
		case '.', ',', '?', ':', '|', '&', '=', OpArrow, '-', OpEllipsis, '@', OpSafe:
		default:
			return -1
		}
	}
	return -1
}

// tsType returns the index behind the type at token i, or -1
// (TypeScript handbook, "Creating Types from Types").
func (p *Parser) tsType(i int) int {
	if p.depth++; p.depth > mostNested {
		p.depth--
		return -1
	}
	defer func() { p.depth-- }()
	for t := p.toksAt(i); t.kind == tokOp && (t.op == '|' || t.op == '&'); t = p.toksAt(i) {
		i++
	}
	for {
		if i = p.tsOperand(i); i < 0 {
			return -1
		}
		t := p.toksAt(i)
		switch {
		case t.kind == tokOp && (t.op == '|' || t.op == '&'):
			i++
			continue
		case t.kw == kwExtends: // A extends B ? C : D
			j := p.tsType(i + 1)
			if j < 0 || p.toksAt(j).op != '?' {
				return i
			}
			if j = p.tsType(j + 1); j < 0 || p.toksAt(j).op != ':' {
				return i
			}
			return p.tsType(j + 1)
		case t.kind == tokName && p.is(t, "is") && p.sameLine(i):
			i++
			continue
		}
		return i
	}
}

func (p *Parser) sameLine(i int) bool {
	save := p.i
	p.i = i
	yes := !p.lineBreak()
	p.i = save
	return yes
}

func (p *Parser) tsOperand(i int) int {
	t := p.toksAt(i)
	switch t.kind {
	case tokName:
		switch word := string(p.s.src[t.start:t.end]); word {
		case "keyof", "typeof", "readonly", "unique", "infer", "asserts", "abstract":
			if n := p.toksAt(i + 1); n.kind == tokName || n.kind == tokOp && (n.op == '(' || n.op == '[' || n.op == '{') {
				return p.tsOperand(i + 1)
			}
		case "new":
			return p.tsOperand(i + 1)
		case "import":
			if m := p.toksAt(i + 1); m.op == '(' && int(m.match) > i {
				return p.tsSuffix(int(m.match) + 1)
			}
		}
		i++
	case tokString, tokNumber, tokInterp:
		i++
	case tokOp:
		switch t.op {
		case '-':
			return p.tsOperand(i + 1)
		case '<': // <T>(a: T) => U
			if j := p.tsArguments(i); j > 0 {
				return p.tsOperand(j)
			}
			return -1
		case '(':
			k := int(t.match) + 1
			if k <= i+1 {
				return -1
			}
			if a := p.toksAt(k); a.kind == tokOp && a.op == OpArrow {
				return p.tsType(k + 1)
			}
			i = k
		case '[', '{':
			if int(t.match) <= i {
				return -1
			}
			i = int(t.match) + 1
		default:
			return -1
		}
	default:
		return -1
	}
	return p.tsSuffix(i)
}

func (p *Parser) tsSuffix(i int) int {
	for {
		t := p.toksAt(i)
		if t.kind != tokOp {
			return i
		}
		switch {
		case t.op == '.' && p.toksAt(i+1).kind == tokName:
			i += 2
		case t.op == '<':
			j := p.tsArguments(i)
			if j < 0 {
				return i
			}
			i = j
		case t.op == '[' && int(t.match) > i && p.sameLine(i):
			i = int(t.match) + 1
		default:
			return i
		}
	}
}
