package hostcode

import "strings"

// This file reads the statements and expressions of Visual Basic .NET (The
// Visual Basic Language Specification, chapters 4 to 11).

func vbFile(p *Parser, list *children) {
	for !p.done() {
		before := p.i
		p.vbMember(list)
		if p.i == before {
			p.i++
		}
	}
}

// vb reports whether token n from here is the word, in whatever case.
func (p *Parser) vb(n int, word string) bool {
	t := p.ahead(n)
	return t.kind == tokName && t.kw == notKeyword && int(t.end-t.start) == len(word) && equalASCIIFold(string(p.s.src[t.start:t.end]), word)
}

func (p *Parser) vbAccept(word string) bool {
	if p.vb(0, word) {
		p.i++
		return true
	}
	return false
}

func (p *Parser) vbAny(n int, words ...string) bool {
	for _, w := range words {
		if p.vb(n, w) {
			return true
		}
	}
	return false
}

func (p *Parser) vbLineEnd() {
	for !p.done() && !p.atKind(tokNewline) {
		p.skipGroup()
	}
	p.i++
}

// vbEndStatement passes what is left of a statement.
func (p *Parser) vbEndStatement() {
	for !p.done() && !p.atKind(tokNewline) && !p.at(':') && !p.vb(0, "else") {
		p.skipGroup()
	}
	if p.at(':') || p.atKind(tokNewline) {
		p.i++
	}
}

func (p *Parser) vbAttributes() {
	for p.at('<') {
		for !p.done() && !p.at('>') && !p.atKind(tokNewline) {
			p.skipGroup()
		}
		p.accept('>')
		if p.atKind(tokNewline) {
			p.i++
		}
	}
}

var vbModifiers = map[string]bool{"public": true, "private": true, "protected": true, "friend": true, "shared": true, "overrides": true, "overridable": true,
	"notoverridable": true, "mustoverride": true, "overloads": true, "shadows": true, "partial": true, "mustinherit": true, "notinheritable": true, "readonly": true,
	"writeonly": true, "withevents": true, "default": true, "async": true, "iterator": true, "static": true, "dim": true, "const": true, "widening": true, "narrowing": true, "custom": true}

// vbMember reads one declaration of a file or type.
func (p *Parser) vbMember(list *children) {
	if p.tooDeep() {
		return
	}
	defer p.rise()
	if p.atKind(tokNewline) || p.accept(':') {
		if p.atKind(tokNewline) {
			p.i++
		}
		return
	}
	start := p.peek().start
	p.vbAttributes()
	flags := Flags(0)
	field := false
	for {
		t := p.peek()
		word := strings.ToLower(p.text(t))
		if t.kind != tokName || t.kw != notKeyword || !vbModifiers[word] {
			break
		}
		field = true
		switch word {
		case "shared":
			flags |= Static
		case "const":
			flags |= Static | Constant
		case "readonly":
			flags |= Constant
		}
		p.i++
	}
	switch {
	case p.vbAny(0, "class", "module", "structure", "interface") && p.ahead(1).kind == tokName:
		p.vbClass(list, start, p.vb(0, "module"))
	case p.vb(0, "namespace"), p.vb(0, "imports"), p.vb(0, "option"), p.vb(0, "end"), p.vb(0, "implements"), p.vb(0, "delegate"), p.vb(0, "declare"), p.vb(0, "event"), p.vb(0, "inherits"):
		p.vbLineEnd()
	case p.vb(0, "enum"):
		p.vbEnum(list, start)
	case p.vbAny(0, "sub", "function", "operator"):
		p.vbFunction(list, start, flags)
	case p.vb(0, "property"):
		p.vbProperty(list, start, flags)
	case field && p.peek().kind == tokName:
		p.vbDeclarators(list, Field, start, flags)
		p.vbEndStatement()
	default:
		p.vbStatement(list)
	}
}

func (p *Parser) vbClass(list *children, start int32, module bool) {
	word := strings.ToLower(p.text(p.next()))
	id := p.named(Class, start, p.next())
	var l children
	p.vbLineEnd()
	if p.depth++; p.depth > mostNested {
		p.depth--
		return
	}
	for !p.done() && !(p.vb(0, "end") && p.vb(1, word)) {
		before := p.i
		if p.vb(0, "inherits") || p.vb(0, "implements") {
			p.i++
			for !p.done() && !p.atKind(tokNewline) {
				if j := p.vbType(p.i); j > p.i {
					p.link(&l, p.typeNode(j))
				}
				if !p.accept(',') {
					break
				}
			}
			p.vbLineEnd()
			continue
		}
		first := l.last
		p.vbMember(&l)
		if module && l.last != first && l.last != 0 {
			p.t.Nodes[l.last].Flags |= Static
		}
		if p.i == before {
			p.i++
		}
	}
	p.depth--
	p.vbLineEnd()
	p.link(list, p.close(id, &l))
}

func (p *Parser) vbEnum(list *children, start int32) {
	p.i++
	id := p.named(Class, start, p.next())
	var l children
	p.vbLineEnd()
	for !p.done() && !p.vb(0, "end") {
		name := p.next()
		if name.kind != tokName {
			continue
		}
		f := p.named(Field, name.start, name)
		p.t.Nodes[f].Flags = Static | Constant
		var c children
		if p.accept('=') {
			p.link(&c, p.vbExpression())
		}
		p.link(&l, p.close(f, &c))
		p.vbLineEnd()
	}
	p.vbLineEnd()
	p.link(list, p.close(id, &l))
}

// vbFunction reads Sub name(…) … End Sub.
func (p *Parser) vbFunction(list *children, start int32, flags Flags) {
	word := strings.ToLower(p.text(p.next()))
	name := p.next()
	if equalASCIIFold(p.text(name), "new") {
		flags |= Constructor
	}
	id := p.named(Func, start, name)
	p.t.Nodes[id].Flags = flags
	var l, params children
	if p.at('(') && p.vb(1, "of") {
		p.skipGroup()
	}
	if p.at('(') {
		p.vbParams(&params)
	}
	if p.vbAccept("as") {
		if j := p.vbType(p.i); j > p.i {
			p.link(&l, p.typeNode(j))
		}
	}
	p.linkAll(&l, &params)
	noBody := false
	for k := p.i; k > 0 && p.toks[k-1].kind != tokNewline; k-- {
		t := p.toks[k-1]
		noBody = noBody || t.kind == tokName && equalASCIIFold(p.text(t), "mustoverride")
	}
	p.vbLineEnd()
	if !noBody && p.vbHasEnd(word) {
		p.link(&l, p.vbBlock(word))
		p.vbLineEnd()
	}
	p.link(list, p.close(id, &l))
}

// vbHasEnd reports whether End word comes before another declaration: a member
// of an interface has no body.
func (p *Parser) vbHasEnd(word string) bool {
	for k := p.i; k+1 < len(p.toks); k++ {
		t := p.toks[k]
		if t.kind != tokName || t.kw != notKeyword || k > 0 && p.toks[k-1].kind != tokNewline {
			continue
		}
		n := p.toks[k+1]
		if equalASCIIFold(p.text(t), "end") && n.kind == tokName {
			w := p.text(n)
			return equalASCIIFold(w, word) || !equalASCIIFold(w, "interface") && !equalASCIIFold(w, "class") && !equalASCIIFold(w, "module") && !equalASCIIFold(w, "structure")
		}
		if w := p.text(t); equalASCIIFold(w, "sub") || equalASCIIFold(w, "function") {
			return false
		}
	}
	return false
}

func (p *Parser) linkAll(l, more *children) {
	if more.first != 0 {
		p.link(l, more.first)
		l.last = more.last
	}
}

func (p *Parser) vbParams(l *children) {
	end := int(p.peek().match)
	p.i++
	for p.i < end && !p.done() {
		before := p.i
		start := p.peek().start
		p.vbAttributes()
		flags := Flags(0)
		for p.vbAny(0, "byval", "byref", "optional", "paramarray") {
			if p.vb(0, "paramarray") {
				flags = Rest
			}
			p.i++
		}
		id := p.named(Param, start, p.next())
		p.t.Nodes[id].Flags = flags
		var c children
		if p.at('(') {
			p.skipGroup()
		}
		p.accept('?')
		if p.vbAccept("as") {
			if j := p.vbType(p.i); j > p.i {
				p.link(&c, p.typeNode(j))
			}
		}
		if p.accept('=') {
			p.link(&c, p.vbExpression())
		}
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

func (p *Parser) vbProperty(list *children, start int32, flags Flags) {
	p.i++
	name := p.next()
	if p.at('(') {
		p.skipGroup()
	}
	id := p.named(Field, start, name)
	p.t.Nodes[id].Flags = flags
	var l children
	if p.vbAccept("as") {
		p.vbNewOrType(&l)
	}
	if p.accept('=') {
		p.link(&l, p.vbExpression())
	}
	p.link(list, p.close(id, &l))
	p.vbLineEnd()
	if !p.vbAny(0, "get", "set", "public", "private", "protected", "friend") || p.vbAny(0, "public", "private", "protected", "friend") && !p.vbAny(1, "get", "set") {
		return
	}
	for !p.done() && !(p.vb(0, "end") && p.vb(1, "property")) {
		switch {
		case p.vb(0, "get"), p.vb(0, "set"):
			word := strings.ToLower(p.text(p.peek()))
			fn := p.named(Func, p.peek().start, name)
			p.t.Nodes[fn].Flags = flags
			p.i++
			var fl children
			if p.at('(') {
				p.vbParams(&fl)
			}
			p.vbLineEnd()
			p.link(&fl, p.vbBlock(word))
			p.vbLineEnd()
			p.link(list, p.close(fn, &fl))
		case p.vb(0, "end") && p.vbAny(1, "class", "module", "structure", "sub", "function"):
			return
		default:
			p.i++
		}
	}
	p.vbLineEnd()
}

// vbBlock reads statements up to End word, which it leaves.
func (p *Parser) vbBlock(word string) NodeID {
	return p.vbUntil(func() bool {
		return p.vb(0, "end") && p.vb(1, word)
	})
}

func (p *Parser) vbUntil(stop func() bool) NodeID {
	id := p.node(Block, p.peek().start)
	var l children
	p.depth++
	for !p.done() && !stop() {
		before := p.i
		if p.vb(0, "end") && p.vbAny(1, "sub", "function", "class", "module", "structure", "property", "namespace") { // one that closes what is around
			break
		}
		if p.depth > mostNested {
			p.i++
			continue
		}
		p.vbStatement(&l)
		if p.i == before {
			p.i++
		}
	}
	p.depth--
	return p.close(id, &l)
}

func (p *Parser) vbNewOrType(l *children) {
	if p.vb(0, "new") {
		n := p.vbNew()
		p.link(l, p.copyType(p.t.Nodes[n].First))
		p.link(l, n)
		return
	}
	if j := p.vbType(p.i); j > p.i {
		p.link(l, p.typeNode(j))
	}
}

// vbDeclarators reads a, b As T [= value], c As New T(…).
func (p *Parser) vbDeclarators(list *children, kind Kind, start int32, flags Flags) {
	for p.peek().kind == tokName {
		id := p.named(kind, start, p.next())
		p.t.Nodes[id].Flags = flags
		var l children
		p.accept('?')
		if p.at('(') {
			p.skipGroup()
		}
		if p.vbAccept("as") {
			p.vbNewOrType(&l)
		}
		if p.accept('=') {
			p.link(&l, p.vbExpression())
		}
		p.link(list, p.close(id, &l))
		if !p.accept(',') {
			return
		}
	}
}

// vbType returns the index behind the type at token i, or -1.
func (p *Parser) vbType(i int) int {
	for {
		t := p.toksAt(i)
		if t.kind != tokName {
			return -1
		}
		i++
		if n := p.toksAt(i); n.kind == tokOp && n.op == '(' && int(n.match) > i {
			of := p.toksAt(i + 1)
			if int(n.match) == i+1 || of.kind == tokName && equalASCIIFold(p.text(of), "of") || of.kind == tokOp && of.op == ',' {
				i = int(n.match) + 1
			}
		}
		for n := p.toksAt(i); n.kind == tokOp && (n.op == '?' || n.op == '(' && int(n.match) == i+1); n = p.toksAt(i) {
			if n.op == '?' {
				i++
			} else {
				i += 2
			}
		}
		if n := p.toksAt(i); n.kind == tokOp && n.op == '.' {
			i++
			continue
		}
		return i
	}
}

func (p *Parser) vbStatement(list *children) {
	if p.tooDeep() {
		return
	}
	defer p.rise()
	t := p.peek()
	start := t.start
	var l children
	if t.kind == tokNewline || p.at(':') {
		p.i++
		return
	}
	if t.kind == tokName && p.ahead(1).kind == tokOp && p.ahead(1).op == ':' && p.ahead(2).kind == tokNewline && !p.vb(0, "else") { // a label
		p.i += 2
		return
	}
	p.vbAttributes()
	switch {
	case p.vbAny(0, "dim", "const", "static") && p.ahead(1).kind == tokName:
		flags := Flags(0)
		if p.vb(0, "const") {
			flags = Constant
		}
		p.i++
		p.vbDeclarators(list, VarDecl, start, flags)
		p.vbEndStatement()
	case p.vb(0, "if"):
		p.vbIf(list)
	case p.vb(0, "for"):
		p.vbFor(list)
	case p.vb(0, "while"):
		p.i++
		id := p.node(Loop, start)
		p.link(&l, p.vbExpression())
		p.vbLineEnd()
		p.link(&l, p.vbBlock("while"))
		p.vbLineEnd()
		p.link(list, p.close(id, &l))
	case p.vb(0, "do"):
		p.i++
		id := p.node(Loop, start)
		if p.vbAccept("while") || p.vbAccept("until") {
			p.link(&l, p.vbExpression())
		}
		p.vbLineEnd()
		body := p.vbUntil(func() bool { return p.vb(0, "loop") })
		p.vbAccept("loop")
		if p.vbAccept("while") || p.vbAccept("until") {
			p.link(&l, p.vbExpression())
		}
		p.vbLineEnd()
		p.link(&l, body)
		p.link(list, p.close(id, &l))
	case p.vb(0, "select") && p.vb(1, "case"):
		p.vbSelect(list)
	case p.vb(0, "try") && p.ahead(1).kind == tokNewline:
		p.vbTry(list)
	case p.vb(0, "using"):
		p.vbUsing(list)
	case p.vb(0, "with") && p.ahead(1).kind != tokOp:
		with := p.next()
		id := p.node(Block, start)
		v := p.named(VarDecl, start, with)
		var c children
		p.link(&c, p.vbExpression())
		p.link(&l, p.close(v, &c))
		p.vbLineEnd()
		outer := p.with
		p.with = with
		p.link(&l, p.vbBlock("with"))
		p.with = outer
		p.vbLineEnd()
		p.link(list, p.close(id, &l))
	case p.vb(0, "synclock"):
		p.vbLineEnd()
		p.link(list, p.vbBlock("synclock"))
		p.vbLineEnd()
	case p.vbAny(0, "return", "throw") && (p.ahead(1).kind != tokOp || p.ahead(1).op == '(' || p.ahead(1).op == '-' || p.ahead(1).op == '{'):
		k := Return
		if p.vb(0, "throw") {
			k = Throw
		}
		p.i++
		id := p.node(k, start)
		if !p.atKind(tokNewline) && !p.at(':') && !p.vb(0, "else") {
			p.link(&l, p.vbExpression())
		}
		p.link(list, p.close(id, &l))
		p.vbEndStatement()
	case p.vbAny(0, "exit", "continue", "goto") && p.ahead(1).kind == tokName:
		p.link(list, p.node(Jump, start))
		p.vbEndStatement()
	case p.vb(0, "end") && p.ahead(1).kind != tokOp, p.vb(0, "on") && p.vb(1, "error"), p.vb(0, "redim"), p.vb(0, "erase"), p.vb(0, "option"), p.vb(0, "stop") && p.ahead(1).kind == tokNewline, p.vb(0, "imports"):
		p.vbEndStatement()
	default:
		if p.vb(0, "call") && p.ahead(1).kind == tokName || p.vbAny(0, "addhandler", "removehandler", "raiseevent", "yield") && p.ahead(1).kind != tokOp {
			p.i++
		}
		id := p.node(ExprStmt, start)
		var left NodeID
		if p.vb(0, "await") && p.startsOperand(p.ahead(1)) {
			left = p.vbUnary()
		} else {
			left = p.vbPostfix(p.vbPrimary())
		}
		if op := p.peek(); op.kind == tokOp && (op.op == '=' || op.op == OpAssign) {
			p.i++
			a := p.node(Assign, start)
			if op.op == OpAssign {
				if c := p.s.src[op.start]; c == '&' {
					p.t.Nodes[a].Op = '+'
				} else {
					p.t.Nodes[a].Op = c
				}
			}
			var al children
			p.link(&al, left)
			p.link(&al, p.vbExpression())
			left = p.close(a, &al)
		}
		p.link(&l, left)
		for p.accept(',') {
			p.link(&l, p.vbExpression())
		}
		p.link(list, p.close(id, &l))
		p.vbEndStatement()
	}
}

func (p *Parser) vbIf(list *children) {
	start := p.next().start
	id := p.node(If, start)
	var l children
	p.link(&l, p.vbExpression())
	p.vbAccept("then")
	if !p.atKind(tokNewline) && !p.done() { // on one line
		line := func() NodeID {
			b := p.node(Block, p.peek().start)
			var bl children
			for !p.done() && !p.atKind(tokNewline) && !p.vb(0, "else") {
				before := p.i
				p.vbStatement(&bl)
				if p.i > 0 && p.toks[p.i-1].kind == tokNewline {
					p.i--
				}
				if p.i == before {
					p.i++
				}
			}
			return p.close(b, &bl)
		}
		p.link(&l, line())
		if p.vbAccept("else") {
			p.link(&l, line())
		}
		p.i++
		p.link(list, p.close(id, &l))
		return
	}
	p.i++
	stop := func() bool {
		return p.vb(0, "elseif") || p.vb(0, "else") || p.vb(0, "end") && p.vb(1, "if")
	}
	p.link(&l, p.vbUntil(stop))
	switch {
	case p.vb(0, "elseif"), p.vb(0, "else") && p.vb(1, "if"):
		if p.vb(0, "else") {
			p.i++
		}
		b := p.node(Block, p.peek().start)
		var bl children
		if p.depth++; p.depth < mostNested {
			p.vbIf(&bl)
		} else {
			p.i++
		}
		p.depth--
		p.link(&l, p.close(b, &bl))
		p.link(list, p.close(id, &l))
		return
	case p.vbAccept("else"):
		p.link(&l, p.vbBlock("if"))
	}
	p.vbLineEnd()
	p.link(list, p.close(id, &l))
}

func (p *Parser) vbFor(list *children) {
	start := p.next().start
	id := p.node(Loop, start)
	var l children
	each := p.vbAccept("each")
	name := p.peek()
	if name.kind == tokName && (p.vb(1, "as") || p.vb(1, "in") || p.ahead(1).op == '=' || p.ahead(1).op == '?') {
		v := p.named(VarDecl, name.start, p.next())
		var c children
		p.accept('?')
		if p.vbAccept("as") {
			if j := p.vbType(p.i); j > p.i {
				p.link(&c, p.typeNode(j))
			}
		}
		if !each && p.accept('=') {
			p.link(&c, p.vbExpression())
		}
		p.link(&l, p.close(v, &c))
	}
	for !p.done() && !p.atKind(tokNewline) {
		before := p.i
		if !p.vbAccept("in") && !p.vbAccept("to") && !p.vbAccept("step") && !p.accept('=') {
			p.link(&l, p.vbExpression())
		}
		if p.i == before {
			p.i++
		}
	}
	p.i++
	p.link(&l, p.vbUntil(func() bool { return p.vb(0, "next") }))
	if p.vb(0, "next") {
		p.vbEndStatement()
	}
	p.link(list, p.close(id, &l))
}

func (p *Parser) vbSelect(list *children) {
	id := p.node(Switch, p.next().start)
	p.i++
	var l children
	p.link(&l, p.vbExpression())
	p.vbLineEnd()
	for !p.done() && !(p.vb(0, "end") && p.vb(1, "select")) {
		before := p.i
		if p.atKind(tokNewline) {
			p.i++
			continue
		}
		c := p.node(Case, p.peek().start)
		var cl children
		flags := Arrow
		if p.vbAccept("case") {
			for !p.done() && !p.atKind(tokNewline) && !p.at(':') {
				at := p.i
				switch {
				case p.vbAccept("else"), p.vbAccept("is"): // a comparison: taken for everything else
					flags |= Default
				case p.vbAccept("to"):
					flags |= Default
				case p.at(','), p.at('<'), p.at('>'), p.at('='), p.at(OpLe), p.at(OpGe), p.at(OpNe):
					p.i++
				default:
					p.link(&cl, p.vbExpression())
				}
				if p.i == at {
					p.i++
				}
			}
			p.i++
		}
		p.link(&cl, p.vbUntil(func() bool { return p.vb(0, "case") || p.vb(0, "end") && p.vb(1, "select") }))
		p.t.Nodes[c].Flags = flags
		p.link(&l, p.close(c, &cl))
		if p.i == before {
			break
		}
	}
	p.vbLineEnd()
	p.link(list, p.close(id, &l))
}

func (p *Parser) vbTry(list *children) {
	id := p.node(Try, p.next().start)
	var l children
	stop := func() bool {
		return p.vb(0, "catch") || p.vb(0, "finally") || p.vb(0, "end") && p.vb(1, "try")
	}
	p.link(&l, p.vbUntil(stop))
	for {
		start := p.peek().start
		if p.vbAccept("catch") {
			c := p.node(Catch, start)
			var cl children
			p.vbLineEnd()
			p.link(&cl, p.vbUntil(stop))
			p.link(&l, p.close(c, &cl))
			continue
		}
		if p.vbAccept("finally") {
			p.link(&l, p.vbUntil(stop))
			continue
		}
		break
	}
	p.vbLineEnd()
	p.link(list, p.close(id, &l))
}

func (p *Parser) vbUsing(list *children) {
	start := p.next().start
	id := p.node(Using, start)
	var l children
	if p.peek().kind == tokName && (p.vb(1, "as") || p.ahead(1).op == '=' && p.ahead(1).kind == tokOp) {
		p.vbDeclarators(&l, VarDecl, p.peek().start, 0)
	} else {
		p.link(&l, p.vbExpression())
	}
	p.vbLineEnd()
	p.link(&l, p.vbBlock("using"))
	p.vbLineEnd()
	p.link(list, p.close(id, &l))
}

// vbPrecedence of a binary operator (specification, 11.11).
func (p *Parser) vbPrecedence() (prec int, op byte, words int) {
	t := p.peek()
	if t.kind == tokOp {
		switch t.op {
		case '=':
			return 5, OpEq, 1
		case OpNe, '<', '>', OpLe, OpGe:
			return 5, t.op, 1
		case '&':
			return 7, '+', 1
		case '+', '-':
			return 8, t.op, 1
		case '*', '/', '\\', '^':
			return 10, t.op, 1
		}
		return 0, 0, 0
	}
	switch {
	case t.kind != tokName:
	case p.vb(0, "orelse"), p.vb(0, "or"), p.vb(0, "xor"):
		return 2, OpOr, 1
	case p.vb(0, "andalso"), p.vb(0, "and"):
		return 3, OpAnd, 1
	case p.vb(0, "is"):
		return 5, OpEq, 1
	case p.vb(0, "isnot"):
		return 5, OpNe, 1
	case p.vb(0, "like"):
		return 5, 'l', 1
	case p.vb(0, "mod"):
		return 9, '%', 1
	}
	return 0, 0, 0
}

func (p *Parser) vbExpression() NodeID {
	if id := p.opaqueTooDeep(); id != 0 {
		return id
	}
	defer p.rise()
	return p.vbBinary(1)
}

func (p *Parser) vbBinary(least int) NodeID {
	start := p.peek().start
	left := p.vbUnary()
	for {
		prec, op, _ := p.vbPrecedence()
		if prec == 0 || prec < least {
			return left
		}
		p.i++
		id := p.node(Binary, start)
		p.t.Nodes[id].Op = op
		var l children
		p.link(&l, left)
		p.link(&l, p.vbBinary(prec+1))
		left = p.close(id, &l)
	}
}

func (p *Parser) vbUnary() NodeID {
	t := p.peek()
	if id := p.opaqueTooDeep(); id != 0 {
		return id
	}
	defer p.rise()
	switch {
	case p.vb(0, "not"):
		p.i++
		id := p.node(Unary, t.start)
		p.t.Nodes[id].Op = '!'
		var l children
		p.link(&l, p.vbBinary(5))
		return p.close(id, &l)
	case p.at('-'), p.at('+'):
		p.i++
		id := p.node(Unary, t.start)
		p.t.Nodes[id].Op = t.op
		var l children
		p.link(&l, p.vbUnary())
		return p.close(id, &l)
	case p.vb(0, "await") && p.startsOperand(p.ahead(1)):
		p.i++
		inner := p.vbUnary()
		p.t.Nodes[inner].Flags |= Await
		return inner
	case p.vb(0, "addressof"):
		p.i++
		return p.vbUnary()
	case p.vb(0, "typeof"):
		p.i++
		id := p.node(Opaque, t.start)
		var l children
		p.link(&l, p.vbPostfix(p.vbPrimary()))
		if p.vbAccept("is") || p.vbAccept("isnot") {
			if j := p.vbType(p.i); j > p.i {
				p.i = j
			}
		}
		return p.close(id, &l)
	}
	return p.vbPostfix(p.vbPrimary())
}

func (p *Parser) vbPrimary() NodeID {
	t := p.peek()
	switch t.kind {
	case tokString:
		p.i++
		return p.close(p.node(String, t.start), &children{})
	case tokNumber, tokChar:
		p.i++
		return p.close(p.node(Number, t.start), &children{})
	case tokInterp:
		p.i++
		return p.interpolated(t)
	case tokName:
		switch {
		case p.vb(0, "nothing"), p.vb(0, "true"), p.vb(0, "false"):
			p.i++
			return p.close(p.node(Keyword, t.start), &children{})
		case p.vb(0, "me"), p.vb(0, "mybase"), p.vb(0, "myclass"):
			p.i++
			return p.close(p.node(Self, t.start), &children{})
		case p.vb(0, "new"):
			return p.vbNew()
		case p.vbAny(0, "function", "sub") && p.ahead(1).op == '(':
			return p.vbLambda(t.start)
		case p.vb(0, "async") && p.vbAny(1, "function", "sub"):
			p.i++
			return p.vbLambda(t.start)
		case p.vbAny(0, "ctype", "directcast", "trycast") && p.ahead(1).op == '(':
			p.i++
			end := int(p.peek().match)
			p.i++
			id := p.node(Cast, t.start)
			var l children
			v := p.vbExpression()
			if p.accept(',') {
				if j := p.vbType(p.i); j > p.i {
					p.link(&l, p.typeNode(j))
				}
			}
			if l.first == 0 {
				p.link(&l, p.node(Type, t.start))
			}
			p.link(&l, v)
			p.i = max(p.i, min(end+1, len(p.toks)))
			return p.close(id, &l)
		case p.vb(0, "if") && p.ahead(1).op == '(':
			return p.vbTernary(t.start)
		case p.vb(0, "from") && p.ahead(1).kind == tokName && p.vbAny(2, "in", "as"):
			return p.vbQuery()
		case p.vb(0, "gettype") && p.ahead(1).op == '(':
			p.i++
			p.skipGroup()
			return p.close(p.node(Opaque, t.start), &children{})
		}
		p.i++
		return p.named(Name, t.start, t)
	case tokOp:
		switch t.op {
		case '(':
			end := int(t.match)
			p.i++
			var l children
			p.vbList(&l, end)
			if l.first != 0 && l.first == l.last {
				return l.first
			}
			id := p.node(Tuple, t.start)
			return p.close(id, &l)
		case '{':
			id := p.node(Init, t.start)
			end := int(t.match)
			p.i++
			var l children
			p.vbList(&l, end)
			return p.close(id, &l)
		case '.', '!': // a member of what With names
			if p.ahead(1).kind == tokName && p.with.end > 0 {
				return p.named(Name, p.with.start, p.with)
			}
		}
	}
	id := p.node(Opaque, t.start)
	if !p.at(')') && !p.at('}') && !p.at(',') && !p.atKind(tokNewline) && !p.at(':') && !p.done() {
		p.i++
	}
	return p.close(id, &children{})
}

// vbList reads expressions parted by commas up to token end, and passes it.
func (p *Parser) vbList(l *children, end int) {
	for p.i < end && !p.done() {
		before := p.i
		if p.atKind(tokNewline) || p.accept(',') {
			if p.atKind(tokNewline) {
				p.i++
			}
			continue
		}
		p.link(l, p.vbArgument())
		if p.i == before {
			p.i++
		}
	}
	p.i = max(p.i, min(end+1, len(p.toks)))
}

func (p *Parser) vbArgument() NodeID {
	if n := p.ahead(1); p.peek().kind == tokName && n.kind == tokOp && n.op == OpAssign && p.s.src[n.start] == ':' {
		name := p.next()
		p.i++
		id := p.named(Named, name.start, name)
		var c children
		p.link(&c, p.vbExpression())
		return p.close(id, &c)
	}
	return p.vbExpression()
}

func (p *Parser) vbTernary(start int32) NodeID {
	p.i++
	end := int(p.peek().match)
	p.i++
	var parts []NodeID
	for p.i < end && !p.done() {
		before := p.i
		if !p.accept(',') {
			parts = append(parts, p.vbExpression())
		}
		if p.i == before {
			p.i++
		}
	}
	p.i = max(p.i, min(end+1, len(p.toks)))
	k := Cond
	if len(parts) == 2 {
		k = Binary
	}
	id := p.node(k, start)
	if k == Binary {
		p.t.Nodes[id].Op = OpCoalesce
	}
	var l children
	for _, x := range parts {
		p.link(&l, x)
	}
	return p.close(id, &l)
}

// vbNew reads New T(…) [With {.A = 1}] [From {…}], New T() {…}, New With {…}.
func (p *Parser) vbNew() NodeID {
	t := p.next()
	id := p.node(New, t.start)
	var l children
	typ := p.node(Type, p.peek().start)
	if p.peek().kind == tokName && !p.vb(0, "with") {
		i := p.i
		for {
			i++
			if n := p.toksAt(i); n.kind == tokOp && n.op == '(' && p.toksAt(i+1).kind == tokName && equalASCIIFold(p.text(p.toksAt(i+1)), "of") && int(n.match) > i {
				i = int(n.match) + 1
			}
			if n := p.toksAt(i); n.kind == tokOp && n.op == '.' && p.toksAt(i+1).kind == tokName {
				i++
				continue
			}
			break
		}
		p.t.Nodes[typ].End = p.toks[i-1].end
		p.i = i
	}
	p.link(&l, typ)
	if p.at('(') {
		end := int(p.peek().match)
		p.i++
		p.vbList(&l, end)
	}
	switch {
	case p.vb(0, "with") && p.ahead(1).op == '{':
		p.i++
		p.link(&l, p.vbMembers())
	case p.vb(0, "from") && p.ahead(1).op == '{':
		p.i++
		p.link(&l, p.vbPrimary())
	case p.at('{'): // an array
		p.t.Nodes[typ].End = max(p.t.Nodes[typ].End, p.toks[p.i-1].end)
		p.link(&l, p.vbPrimary())
	}
	return p.close(id, &l)
}

// vbMembers reads { .Name = value, [Key] .Other = value }.
func (p *Parser) vbMembers() NodeID {
	t := p.peek()
	id := p.node(Init, t.start)
	end := int(t.match)
	p.i++
	var l children
	for p.i < end && !p.done() {
		before := p.i
		p.vbAccept("key")
		if p.at('.') && p.ahead(1).kind == tokName {
			p.i++
			name := p.next()
			nm := p.named(Named, name.start, name)
			var c children
			if p.accept('=') {
				p.link(&c, p.vbExpression())
			}
			p.link(&l, p.close(nm, &c))
		} else if !p.accept(',') && !p.atKind(tokNewline) {
			p.link(&l, p.vbExpression())
		}
		if p.i == before {
			p.i++
		}
	}
	p.i = max(p.i, min(end+1, len(p.toks)))
	return p.close(id, &l)
}

func (p *Parser) vbLambda(start int32) NodeID {
	word := strings.ToLower(p.text(p.next()))
	id := p.node(Lambda, start)
	var l children
	if p.at('(') {
		p.vbParams(&l)
	}
	if p.vbAccept("as") {
		if j := p.vbType(p.i); j > p.i {
			p.i = j
		}
	}
	if p.atKind(tokNewline) {
		p.i++
		p.link(&l, p.vbBlock(word))
		p.i += 2
		return p.close(id, &l)
	}
	if word == "sub" {
		b := p.node(Block, p.peek().start)
		st := p.node(ExprStmt, p.peek().start)
		var bl, sl children
		left := p.vbPostfix(p.vbPrimary())
		if p.accept('=') {
			a := p.node(Assign, p.t.Nodes[left].Start)
			var al children
			p.link(&al, left)
			p.link(&al, p.vbExpression())
			left = p.close(a, &al)
		}
		p.link(&sl, left)
		p.link(&bl, p.close(st, &sl))
		p.link(&l, p.close(b, &bl))
		return p.close(id, &l)
	}
	p.link(&l, p.vbExpression())
	return p.close(id, &l)
}

// vbQuery reads From x In … Where … Select …: the expressions between its words.
func (p *Parser) vbQuery() NodeID {
	id := p.node(Opaque, p.peek().start)
	var l children
	for !p.done() && !p.atKind(tokNewline) && !p.at(')') && !p.at('}') {
		before := p.i
		switch {
		case p.vbAny(0, "from", "join", "let", "aggregate") && p.ahead(1).kind == tokName:
			p.i += 2
		case p.vbAny(0, "in", "where", "select", "order", "by", "on", "equals", "into", "group", "ascending", "descending", "distinct", "skip", "take"):
			p.i++
		case p.accept(','), p.accept('='):
		default:
			p.link(&l, p.vbExpression())
		}
		if p.i == before {
			p.i++
		}
	}
	return p.close(id, &l)
}

func (p *Parser) vbPostfix(left NodeID) NodeID {
	for {
		start := p.t.Nodes[left].Start
		t := p.peek()
		if t.kind != tokOp {
			return left
		}
		switch t.op {
		case '.', OpSafe:
			n := p.ahead(1)
			if n.kind != tokName {
				return left
			}
			p.i += 2
			id := p.named(Member, start, n)
			var l children
			p.link(&l, left)
			left = p.close(id, &l)
		case '!':
			n := p.ahead(1)
			if n.kind != tokName || n.start != t.end {
				return left
			}
			p.i += 2
			id := p.node(Index, start)
			var l children
			p.link(&l, left)
			p.link(&l, p.named(Name, n.start, n))
			left = p.close(id, &l)
		case '?':
			if n := p.ahead(1); n.kind == tokOp && (n.op == '(' || n.op == '.') {
				p.i++
				continue
			}
			return left
		case '(':
			if p.vb(1, "of") { // type arguments
				p.skipGroup()
				continue
			}
			id := p.node(Call, start)
			var l children
			p.link(&l, left)
			end := int(t.match)
			p.i++
			p.vbList(&l, end)
			left = p.close(id, &l)
		default:
			return left
		}
	}
}
