package hostcode

// This file reads the statements and expressions of PHP (PHP manual, "Language
// Reference").

func phpFile(p *Parser, list *children) {
	for !p.done() {
		before := p.i
		p.phpStatement(list)
		if p.i == before {
			p.i++
		}
	}
}

func (p *Parser) phpEnd() {
	for !p.done() && !p.accept(';') && !p.at('}') {
		p.skipGroup()
	}
}

func (p *Parser) phpBlock() NodeID { return p.braced(p.phpStatement) }

// phpBody reads { … }, : … endif, or one statement.
func (p *Parser) phpBody() NodeID {
	if p.at('{') {
		return p.phpBlock()
	}
	id := p.node(Block, p.peek().start)
	var l children
	p.depth++
	switch {
	case p.depth > mostNested:
		p.skipGroup()
	case p.accept(':'):
		for !p.done() && !p.atKw(kwEnd) && !p.atKw(kwElse) && !p.atKw(kwElif) && !p.at('}') {
			before := p.i
			p.phpStatement(&l)
			if p.i == before {
				p.i++
			}
		}
		if p.acceptKw(kwEnd) {
			p.accept(';')
		}
	default:
		p.phpStatement(&l)
	}
	p.depth--
	return p.close(id, &l)
}

func (p *Parser) phpCondition(l *children) {
	if !p.at('(') {
		return
	}
	end := int(p.peek().match)
	p.i++
	if p.i < end {
		p.link(l, p.phpExpression())
	}
	p.i = max(p.i, min(end+1, len(p.toks)))
}

func (p *Parser) phpAttributes() {
	for p.at('#') && p.ahead(1).op == '[' {
		p.i++
		p.skipGroup()
	}
}

func (p *Parser) phpStatement(list *children) {
	if p.tooDeep() {
		return
	}
	defer p.rise()
	p.phpAttributes()
	t := p.peek()
	start := t.start
	n := p.ahead(1)
	var l children
	if t.kind == tokOp {
		switch t.op {
		case '{':
			p.link(list, p.phpBlock())
			return
		case ';':
			p.i++
			return
		case '}':
			return
		}
	}
	switch t.kw {
	case kwIf, kwElif:
		p.i++
		id := p.node(If, start)
		p.phpCondition(&l)
		p.link(&l, p.phpBody())
		switch {
		case p.atKw(kwElif), p.atKw(kwElse) && p.ahead(1).kw == kwIf:
			p.acceptKw(kwElse)
			b := p.node(Block, p.peek().start)
			var bl children
			if p.depth++; p.depth < mostNested {
				p.phpStatement(&bl)
			} else {
				p.i++
			}
			p.depth--
			p.link(&l, p.close(b, &bl))
		case p.acceptKw(kwElse):
			p.link(&l, p.phpBody())
		}
		p.link(list, p.close(id, &l))
		return
	case kwElse, kwFinally:
		p.i++
		p.link(list, p.phpBody())
		return
	case kwFor:
		p.i++
		id := p.node(Loop, start)
		if p.at('(') {
			end := int(p.peek().match)
			p.i++
			for p.i < end && !p.done() {
				before := p.i
				if !p.accept(';') && !p.accept(',') {
					p.link(&l, p.phpExpression())
				}
				if p.i == before {
					p.i++
				}
			}
			p.i = max(p.i, min(end+1, len(p.toks)))
		}
		p.link(&l, p.phpBody())
		p.link(list, p.close(id, &l))
		return
	case kwForeach:
		p.i++
		id := p.node(Loop, start)
		if p.at('(') {
			end := int(p.peek().match)
			p.i++
			over := p.phpExpression()
			if p.acceptKw(kwAs) {
				p.phpTargets(&l, end)
			}
			p.link(&l, over)
			p.i = max(p.i, min(end+1, len(p.toks)))
		}
		p.link(&l, p.phpBody())
		p.link(list, p.close(id, &l))
		return
	case kwWhile:
		p.i++
		id := p.node(Loop, start)
		p.phpCondition(&l)
		p.link(&l, p.phpBody())
		p.link(list, p.close(id, &l))
		return
	case kwDo:
		p.i++
		id := p.node(Loop, start)
		body := p.phpBody()
		if p.acceptKw(kwWhile) {
			p.phpCondition(&l)
		}
		p.accept(';')
		p.link(&l, body)
		p.link(list, p.close(id, &l))
		return
	case kwSwitch:
		if p.is(t, "match") || n.op != '(' {
			break
		}
		p.i++
		id := p.node(Switch, start)
		p.phpCondition(&l)
		p.phpCases(&l)
		p.link(list, p.close(id, &l))
		return
	case kwReturn:
		p.i++
		id := p.node(Return, start)
		if !p.at(';') && !p.at('}') {
			p.link(&l, p.phpExpression())
		}
		p.link(list, p.close(id, &l))
		p.phpEnd()
		return
	case kwThrow:
		p.i++
		id := p.node(Throw, start)
		p.link(&l, p.phpExpression())
		p.link(list, p.close(id, &l))
		p.phpEnd()
		return
	case kwBreak, kwContinue, kwGoto:
		p.i++
		p.link(list, p.close(p.node(Jump, start), &l))
		p.phpEnd()
		return
	case kwTry:
		p.phpTry(list)
		return
	case kwEcho:
		p.i++
		id := p.node(ExprStmt, start)
		for {
			p.link(&l, p.phpExpression())
			if !p.accept(',') {
				break
			}
		}
		p.link(list, p.close(id, &l))
		p.phpEnd()
		return
	case kwUse:
		for !p.done() && !p.accept(';') && !p.at('}') {
			p.skipGroup()
		}
		return
	case kwNamespace:
		if n.kind == tokName || n.op == '{' {
			p.i++
			for p.peek().kind == tokName {
				p.i++
			}
			p.accept(';')
			return // its braces are read as a block of the file
		}
	case kwConst:
		p.i++
		p.phpConstants(list, start)
		return
	case kwFunction:
		if n.kind == tokName || n.op == '&' && p.ahead(2).kind == tokName {
			p.phpFunction(list, start, 0)
			return
		}
	case kwClass, kwInterface:
		if n.kind == tokName {
			p.phpClass(list, start)
			return
		}
	case kwEnum:
		if n.kind == tokName && n.kw != kwExtends {
			p.phpClass(list, start)
			return
		}
	case kwModifier, kwFinal:
		if n.kind == tokName {
			p.i++
			p.phpStatement(list)
			return
		}
	case kwStatic: // static $x = 1;
		if n.kind == tokName && p.s.src[n.start] == '$' {
			p.i++
			p.phpVariables(list, VarDecl, start, 0, Static)
			return
		}
	case notKeyword:
		if p.is(t, "declare") && n.op == '(' {
			p.i++
			p.skipGroup()
			p.accept(';')
			return
		}
		if p.is(t, "global") && n.kind == tokName {
			p.phpEnd()
			return
		}
		if n.kind == tokOp && n.op == ':' && p.s.src[t.start] != '$' { // a label
			p.i += 2
			return
		}
	}
	id := p.node(ExprStmt, start)
	p.link(&l, p.phpExpression())
	p.link(list, p.close(id, &l))
	p.phpEnd()
}

// phpTargets reads $v, $k => $v or a pattern behind as.
func (p *Parser) phpTargets(l *children, end int) {
	for p.i < end && !p.done() {
		before := p.i
		p.accept('&')
		t := p.peek()
		if t.kind == tokName && p.s.src[t.start] == '$' && (p.i+1 == end || p.ahead(1).op == OpArrow) {
			p.i++
			if p.accept(OpArrow) {
				continue // the key
			}
			p.link(l, p.named(VarDecl, t.start, t))
		} else {
			p.link(l, p.phpUnary())
		}
		if p.i == before {
			p.i++
		}
	}
}

func (p *Parser) phpConstants(list *children, start int32) {
	if p.peek().kind == tokName && p.ahead(1).kind == tokName { // a type
		p.i++
	}
	for p.peek().kind == tokName {
		id := p.named(Field, start, p.next())
		p.t.Nodes[id].Flags = Static | Constant
		var l children
		if p.accept('=') {
			p.link(&l, p.phpExpression())
		}
		p.link(list, p.close(id, &l))
		if !p.accept(',') {
			break
		}
	}
	p.phpEnd()
}

// bareVariable is a variable's token without its sign.
func bareVariable(src []byte, t token) token {
	if t.end > t.start && src[t.start] == '$' {
		t.start++
	}
	return t
}

// phpVariables reads $x [= value], …; of fields without the sign.
func (p *Parser) phpVariables(list *children, kind Kind, start int32, typ NodeID, flags Flags) {
	for p.peek().kind == tokName {
		name := p.next()
		if kind == Field {
			name = bareVariable(p.s.src, name)
		}
		id := p.named(kind, start, name)
		p.t.Nodes[id].Flags = flags
		var l children
		p.link(&l, p.copyType(typ))
		if p.accept('=') {
			p.link(&l, p.phpExpression())
		}
		p.link(list, p.close(id, &l))
		if !p.accept(',') {
			break
		}
	}
	if p.at('{') { // property hooks
		p.skipGroup()
		return
	}
	p.phpEnd()
}

func (p *Parser) phpFunction(list *children, start int32, flags Flags) {
	p.i++
	p.accept('&')
	name := p.next()
	if p.is(name, "__construct") {
		flags |= Constructor
	}
	id := p.named(Func, start, name)
	p.t.Nodes[id].Flags = flags
	var l children
	var params children
	if p.at('(') {
		p.phpParams(&params, list)
	}
	if p.accept(':') {
		p.link(&l, p.phpType())
	}
	if params.first != 0 {
		p.link(&l, params.first)
		l.last = params.last
	}
	if p.at('{') {
		p.link(&l, p.phpBlock())
	} else {
		p.accept(';')
	}
	p.link(list, p.close(id, &l))
}

// phpType reads a type: ?A\B|null.
func (p *Parser) phpType() NodeID {
	from := p.i
	for !p.done() {
		t := p.peek()
		if t.kind == tokName && p.s.src[t.start] != '$' && (p.i == from || p.toks[p.i-1].kind == tokOp) || t.kind == tokOp && (t.op == '?' || t.op == '|' || t.op == '&' && p.ahead(1).kind == tokName && p.s.src[p.ahead(1).start] != '$') {
			p.i++
			continue
		}
		if t.kind == tokOp && t.op == '(' && p.i == from {
			p.skipGroup()
			continue
		}
		break
	}
	if p.i == from {
		return 0
	}
	id := p.node(Type, p.toks[from].start)
	p.t.Nodes[id].End = p.toks[p.i-1].end
	return id
}

// phpParams reads parameters; those of a constructor that have a modifier are
// fields too, which go to fields.
func (p *Parser) phpParams(l, fields *children) {
	end := int(p.peek().match)
	p.i++
	for p.i < end && !p.done() {
		before := p.i
		p.phpAttributes()
		start := p.peek().start
		promoted := false
		for p.atKw(kwModifier) || p.atKw(kwFinal) {
			promoted = true
			p.i++
		}
		typ := p.phpType()
		flags := Flags(0)
		p.accept('&')
		if p.accept(OpEllipsis) {
			flags = Rest
		}
		if t := p.peek(); t.kind == tokName {
			p.i++
			id := p.named(Param, start, t)
			p.t.Nodes[id].Flags = flags
			var c children
			p.link(&c, typ)
			if p.accept('=') {
				p.link(&c, p.phpExpression())
			}
			p.link(l, p.close(id, &c))
			if promoted && fields != nil {
				f := p.named(Field, start, bareVariable(p.s.src, t))
				var fc children
				p.link(&fc, p.copyType(typ))
				p.link(fields, p.close(f, &fc))
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
	p.i = max(p.i, min(end+1, len(p.toks)))
}

func (p *Parser) phpClass(list *children, start int32) {
	p.i++
	id := p.node(Class, start)
	var l children
	if t := p.peek(); t.kind == tokName && t.kw != kwExtends {
		p.i++
		p.t.Nodes[id].NameStart, p.t.Nodes[id].NameEnd = t.start, t.end
	}
	p.phpClassBody(&l)
	p.link(list, p.close(id, &l))
}

func (p *Parser) phpClassBody(l *children) {
	bases := false
	for !p.done() && !p.at('{') && !p.at(';') {
		t := p.peek()
		switch {
		case t.kw == kwExtends:
			bases = true
		case bases && t.kind == tokName:
			ty := p.node(Type, t.start)
			p.t.Nodes[ty].End = t.end
			p.link(l, ty)
		}
		p.i++
	}
	if !p.at('{') {
		return
	}
	end := int(p.peek().match)
	p.i++
	if p.depth++; p.depth > mostNested {
		p.i = max(p.i, end)
	}
	for p.i < end && !p.done() {
		before := p.i
		p.phpMember(l)
		if p.i == before {
			p.i++
		}
	}
	p.depth--
	p.i = max(p.i, min(end+1, len(p.toks)))
}

func (p *Parser) phpMember(list *children) {
	p.phpAttributes()
	start := p.peek().start
	flags := Flags(0)
	for {
		switch {
		case p.atKw(kwModifier), p.atKw(kwFinal):
			p.i++
			if p.at('(') { // public private(set)
				p.skipGroup()
			}
			continue
		case p.atKw(kwStatic):
			flags |= Static
			p.i++
			continue
		}
		break
	}
	switch {
	case p.accept(';'):
	case p.acceptKw(kwConst):
		p.phpConstants(list, start)
	case p.atKw(kwFunction):
		p.phpFunction(list, start, flags)
	case p.atKw(kwUse):
		p.i++
		for !p.done() && !p.accept(';') && !p.at('}') {
			if p.at('{') {
				p.skipGroup()
				return
			}
			p.i++
		}
	case p.atKw(kwCase):
		p.i++
		p.phpConstants(list, start)
	default:
		typ := p.phpType()
		if p.peek().kind != tokName {
			p.phpEnd()
			return
		}
		p.phpVariables(list, Field, start, typ, flags)
	}
}

func (p *Parser) phpCases(l *children) {
	end := len(p.toks)
	if p.at('{') {
		end = int(p.peek().match)
		p.i++
	} else if !p.accept(':') {
		return
	}
	for p.i < end && !p.done() && !p.atKw(kwEnd) {
		before := p.i
		c := p.node(Case, p.peek().start)
		var cl children
		flags := Flags(0)
		if p.acceptKw(kwCase) {
			p.link(&cl, p.phpExpression())
		} else if p.acceptKw(kwDefault) {
			flags = Default
		}
		if !p.accept(':') {
			p.accept(';')
		}
		b := p.node(Block, p.peek().start)
		var bl children
		for p.i < end && !p.done() && !p.atKw(kwCase) && !p.atKw(kwDefault) && !p.atKw(kwEnd) && !p.at('}') {
			at := p.i
			p.phpStatement(&bl)
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
	if p.acceptKw(kwEnd) {
		p.accept(';')
		return
	}
	p.i = max(p.i, min(end+1, len(p.toks)))
}

func (p *Parser) phpTry(list *children) {
	id := p.node(Try, p.next().start)
	var l children
	if p.at('{') {
		p.link(&l, p.phpBlock())
	}
	for {
		start := p.peek().start
		if p.acceptKw(kwCatch) {
			c := p.node(Catch, start)
			var cl children
			if p.at('(') {
				p.skipGroup()
			}
			if p.at('{') {
				p.link(&cl, p.phpBlock())
			}
			p.link(&l, p.close(c, &cl))
			continue
		}
		if p.acceptKw(kwFinally) && p.at('{') {
			p.link(&l, p.phpBlock())
			continue
		}
		break
	}
	p.link(list, p.close(id, &l))
}

// phpExpression reads one expression, the operators and, or and xor included.
func (p *Parser) phpExpression() NodeID {
	start := p.peek().start
	left := p.phpAssignment()
	for p.atKw(kwAnd) || p.atKw(kwOr) {
		op := OpAnd
		if p.next().kw == kwOr {
			op = OpOr
		}
		id := p.node(Binary, start)
		p.t.Nodes[id].Op = op
		var l children
		p.link(&l, left)
		p.link(&l, p.phpAssignment())
		left = p.close(id, &l)
	}
	return left
}

func (p *Parser) phpAssignment() NodeID {
	if id := p.opaqueTooDeep(); id != 0 {
		return id
	}
	defer p.rise()
	start := p.peek().start
	left := p.phpBinary(1)
	for p.at('?') {
		p.i++
		id := p.node(Cond, start)
		var l children
		p.link(&l, left)
		if p.at(':') { // ?:
			p.i++
			p.link(&l, p.phpAssignment())
			p.t.Nodes[id].Kind, p.t.Nodes[id].Op = Binary, OpCoalesce
		} else {
			p.link(&l, p.phpAssignment())
			p.accept(':')
			p.link(&l, p.phpBinary(1))
			if t := p.peek(); t.kind == tokOp && (t.op == '=' || t.op == OpAssign) { // a ? b : $c = d
				p.i++
				a := p.node(Opaque, start)
				var al children
				p.link(&al, p.phpAssignment())
				p.link(&l, p.close(a, &al))
			}
		}
		left = p.close(id, &l)
	}
	return left
}

// phpAssign reads = value behind a target; it binds tighter than any operator
// on its left side, as in !$x = f().
func (p *Parser) phpAssign(start int32, left NodeID) NodeID {
	t := p.peek()
	if t.kind != tokOp || t.op != '=' && t.op != OpAssign {
		return left
	}
	p.i++
	id := p.node(Assign, start)
	if t.op == OpAssign {
		p.t.Nodes[id].Op = p.s.src[t.start]
	}
	p.accept('&')
	var l children
	p.link(&l, left)
	p.link(&l, p.phpAssignment())
	return p.close(id, &l)
}

func phpPrecedence(t token) int {
	if t.kind != tokOp {
		if t.kw == kwInstanceof {
			return 12
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
	case '|':
		return 4
	case '^':
		return 5
	case '&':
		return 6
	case OpEq, OpNe:
		return 7
	case '<', '>', OpLe, OpGe:
		if t.end-t.start == 2 && (t.op == '<' || t.op == '>') {
			return 9
		}
		return 8
	case '.', '+', '-':
		return 10
	case '*', '/', '%':
		return 11
	}
	return 0
}

func (p *Parser) phpBinary(least int) NodeID {
	start := p.peek().start
	left := p.phpUnary()
	for {
		t := p.peek()
		prec := phpPrecedence(t)
		if prec == 0 || prec < least {
			return left
		}
		p.i++
		id := p.node(Binary, start)
		op := t.op
		switch {
		case t.kw == kwInstanceof:
			op = 0
		case op == '.':
			op = '+' // the text operator
		}
		p.t.Nodes[id].Op = op
		var l children
		p.link(&l, left)
		next := prec + 1
		if t.op == OpCoalesce && t.kind == tokOp {
			next = prec
		}
		p.link(&l, p.phpBinary(next))
		left = p.close(id, &l)
	}
}

// phpCasts are the types in (type)value.
var phpCasts = map[string]bool{"int": true, "integer": true, "string": true, "float": true, "double": true, "bool": true, "boolean": true, "array": true, "object": true, "binary": true, "unset": true,
	"INT": true, "String": true, "STRING": true, "Int": true}

func (p *Parser) phpUnary() NodeID {
	t := p.peek()
	if id := p.opaqueTooDeep(); id != 0 {
		return id
	}
	defer p.rise()
	n := p.ahead(1)
	switch {
	case t.kind == tokOp && (t.op == '-' || t.op == '+' || t.op == '!' || t.op == '~' || t.op == OpInc || t.op == OpDec):
		p.i++
		id := p.node(Unary, t.start)
		p.t.Nodes[id].Op = t.op
		var l children
		p.link(&l, p.phpUnary())
		return p.close(id, &l)
	case t.kind == tokOp && (t.op == '@' || t.op == '&'):
		p.i++
		return p.phpUnary()
	case t.kind == tokOp && t.op == OpEllipsis:
		p.i++
		id := p.node(Spread, t.start)
		p.t.Nodes[id].Op = '*'
		var l children
		p.link(&l, p.phpUnary())
		return p.close(id, &l)
	case t.kind == tokOp && t.op == '(' && n.kind == tokName && int(t.match) == p.i+2 && phpCasts[p.text(n)]:
		id := p.node(Cast, t.start)
		p.i++
		var l children
		p.link(&l, p.typeNode(p.i+1))
		p.i++
		p.link(&l, p.phpUnary())
		return p.close(id, &l)
	case t.kw == kwTypeof && !(n.kind == tokOp && (n.op == OpScope || n.op == OpSafe)):
		p.i++
		id := p.node(Unary, t.start)
		var l children
		p.link(&l, p.phpAssignment())
		return p.close(id, &l)
	case t.kw == kwThrow:
		p.i++
		return p.phpExpression()
	case t.kw == kwYield:
		p.i++
		if p.is(p.peek(), "from") {
			p.i++
		}
		if p.at(';') || p.at(')') || p.at(',') || p.at(']') {
			return p.close(p.node(Opaque, t.start), &children{})
		}
		v := p.phpExpression()
		if p.accept(OpArrow) {
			return p.phpExpression()
		}
		return v
	}
	left := p.phpPostfix(p.phpPrimary())
	return p.phpAssign(t.start, left)
}

func (p *Parser) phpPrimary() NodeID {
	t := p.peek()
	switch t.kind {
	case tokString:
		p.i++
		return p.close(p.node(String, t.start), &children{})
	case tokInterp:
		p.i++
		return p.interpolated(t)
	case tokNumber:
		p.i++
		return p.close(p.node(Number, t.start), &children{})
	case tokName:
		n := p.ahead(1)
		switch t.kw {
		case kwNull, kwTrue, kwFalse:
			if !(n.kind == tokOp && n.op == '(') {
				p.i++
				return p.close(p.node(Keyword, t.start), &children{})
			}
		case kwNew:
			return p.phpNew()
		case kwFn, kwFunction:
			if n.op == '(' || n.op == '&' {
				return p.phpClosure(t.start)
			}
		case kwStatic:
			if n.kw == kwFn || n.kw == kwFunction {
				p.i++
				return p.phpClosure(t.start)
			}
			p.i++
			return p.close(p.node(Self, t.start), &children{})
		case kwSwitch:
			if n.op == '(' {
				return p.phpMatch(t.start)
			}
		case kwEcho:
			p.i++
			return p.phpExpression()
		}
		p.i++
		if p.is(t, "$this") || p.is(t, "self") || p.is(t, "parent") {
			return p.close(p.node(Self, t.start), &children{})
		}
		if n.kind == tokOp && n.op == '(' && (p.is(t, "array") || p.is(t, "list") || p.is(t, "Array")) {
			return p.phpArray()
		}
		name := t
		for i := t.end - 1; i >= t.start; i-- { // a qualified name counts by its last part
			if p.s.src[i] == '\\' {
				name.start = i + 1
				break
			}
		}
		return p.named(Name, t.start, name)
	case tokOp:
		switch t.op {
		case '(':
			end := int(t.match)
			p.i++
			id := NodeID(0)
			if p.i < end {
				id = p.phpExpression()
			} else {
				id = p.node(Opaque, t.start)
			}
			p.i = max(p.i, min(end+1, len(p.toks)))
			return id
		case '[':
			return p.phpArray()
		case '$': // $$name, ${expression}
			p.i++
			id := p.node(Opaque, t.start)
			var l children
			if p.at('{') {
				end := int(p.peek().match)
				p.i++
				p.link(&l, p.phpExpression())
				p.i = max(p.i, min(end+1, len(p.toks)))
			} else {
				p.link(&l, p.phpPrimary())
			}
			return p.close(id, &l)
		case '#':
			p.phpAttributes()
			if !p.at('#') {
				return p.phpPrimary()
			}
		}
	}
	id := p.node(Opaque, t.start)
	if !p.at(')') && !p.at(']') && !p.at('}') && !p.at(';') && !p.at(',') && !p.at(OpArrow) && !p.done() {
		p.i++
	}
	return p.close(id, &children{})
}

func (p *Parser) phpNew() NodeID {
	id := p.node(New, p.next().start)
	var l children
	p.phpAttributes()
	for p.atKw(kwModifier) || p.atKw(kwFinal) {
		p.i++
	}
	t := p.peek()
	typ := p.node(Type, t.start)
	p.link(&l, typ)
	if p.acceptKw(kwClass) { // an anonymous class
		if p.at('(') {
			p.phpArguments(&l)
		}
		c := p.node(Class, t.start)
		var cl children
		p.phpClassBody(&cl)
		p.link(&l, p.close(c, &cl))
		return p.close(id, &l)
	}
	if t.kind == tokName {
		p.i++
		name := t
		for i := t.end - 1; i >= t.start; i-- {
			if p.s.src[i] == '\\' {
				name.start = i + 1
				break
			}
		}
		if p.s.src[t.start] != '$' {
			p.t.Nodes[typ].Start, p.t.Nodes[typ].End = name.start, name.end
		}
		for p.at(OpSafe) || p.at(OpScope) || p.at('[') { // new $this->type
			if p.at('[') {
				p.skipGroup()
				continue
			}
			p.i += 2
		}
	} else if p.at('(') {
		p.link(&l, p.phpPrimary())
	}
	if p.at('(') {
		p.phpArguments(&l)
	}
	return p.close(id, &l)
}

// phpClosure reads fn (…) => … and function (…) use (…) {…}.
func (p *Parser) phpClosure(start int32) NodeID {
	p.i++
	id := p.node(Lambda, start)
	p.accept('&')
	var l, params children
	if p.at('(') {
		p.phpParams(&params, nil)
	}
	if p.acceptKw(kwUse) && p.at('(') {
		p.skipGroup()
	}
	if p.accept(':') {
		p.phpType()
	}
	l = params
	switch {
	case p.at('{'):
		p.link(&l, p.phpBlock())
	case p.accept(OpArrow):
		p.link(&l, p.phpAssignment())
	}
	return p.close(id, &l)
}

// phpMatch reads match (x) { a, b => c, default => d }.
func (p *Parser) phpMatch(start int32) NodeID {
	p.i++
	id := p.node(SwitchExp, start)
	var l children
	p.phpCondition(&l)
	if !p.at('{') {
		return p.close(id, &l)
	}
	end := int(p.peek().match)
	p.i++
	for p.i < end && !p.done() {
		before := p.i
		c := p.node(Case, p.peek().start)
		var cl children
		flags := Arrow
		for p.i < end && !p.at(OpArrow) {
			at := p.i
			if p.acceptKw(kwDefault) {
				flags |= Default
			} else if !p.accept(',') {
				p.link(&cl, p.phpExpression())
			}
			if p.i == at {
				p.i++
			}
		}
		p.accept(OpArrow)
		b := p.node(Block, p.peek().start)
		st := p.node(ExprStmt, p.peek().start)
		var sl, bl children
		p.link(&sl, p.phpExpression())
		p.link(&bl, p.close(st, &sl))
		p.link(&cl, p.close(b, &bl))
		p.t.Nodes[c].Flags = flags
		p.link(&l, p.close(c, &cl))
		p.accept(',')
		if p.i == before {
			p.i++
		}
	}
	p.i = max(p.i, min(end+1, len(p.toks)))
	return p.close(id, &l)
}

// phpArray reads [elements] and array(elements), with keys or without.
func (p *Parser) phpArray() NodeID {
	t := p.peek()
	id := p.node(Init, t.start)
	end := int(t.match)
	p.i++
	var l children
	for p.i < end && !p.done() {
		before := p.i
		start := p.peek().start
		if p.at(',') { // an element that is left out
			p.link(&l, p.close(p.node(Opaque, start), &children{}))
			p.i++
			continue
		}
		key := p.phpExpression()
		if p.accept(OpArrow) {
			var c children
			p.t.Nodes[id].Flags = Keyed
			if n := p.t.Nodes[key]; n.Kind == String && n.End-n.Start > 2 && p.s.src[n.Start] != '<' {
				nm := p.named(Named, start, token{start: n.Start + 1, end: n.End - 1})
				p.link(&c, p.phpExpression())
				key = p.close(nm, &c)
			} else {
				pair := p.node(Pair, start)
				p.link(&c, key)
				p.link(&c, p.phpExpression())
				key = p.close(pair, &c)
			}
		}
		p.link(&l, key)
		for p.i < end && !p.at(',') {
			p.skipGroup()
		}
		p.accept(',')
		if p.i == before {
			p.i++
		}
	}
	p.i = max(p.i, min(end+1, len(p.toks)))
	return p.close(id, &l)
}

func (p *Parser) phpArguments(l *children) {
	end := int(p.peek().match)
	p.i++
	for p.i < end && !p.done() {
		before := p.i
		if n := p.ahead(1); p.peek().kind == tokName && n.kind == tokOp && n.op == ':' && p.s.src[p.peek().start] != '$' {
			name := p.next()
			p.i++
			id := p.named(Named, name.start, name)
			var c children
			p.link(&c, p.phpExpression())
			p.link(l, p.close(id, &c))
		} else {
			p.link(l, p.phpExpression())
		}
		for p.i < end && !p.at(',') && !p.at(';') {
			p.skipGroup()
		}
		if p.at(';') {
			return
		}
		p.accept(',')
		if p.i == before {
			p.i++
		}
	}
	p.i = max(p.i, min(end+1, len(p.toks)))
}

func (p *Parser) phpPostfix(left NodeID) NodeID {
	for {
		start := p.t.Nodes[left].Start
		t := p.peek()
		if t.kind != tokOp {
			return left
		}
		switch t.op {
		case OpSafe, OpScope:
			p.i++
			n := p.peek()
			id := p.node(Member, start)
			var l children
			p.link(&l, left)
			switch {
			case n.kind == tokName:
				p.i++
				name := n
				if t.op == OpScope {
					name = bareVariable(p.s.src, n)
				}
				p.t.Nodes[id].NameStart, p.t.Nodes[id].NameEnd = name.start, name.end
			case p.at('{'):
				end := int(n.match)
				p.i++
				p.link(&l, p.phpExpression())
				p.i = max(p.i, min(end+1, len(p.toks)))
			case p.at('$'):
				p.link(&l, p.phpPrimary())
			default:
				return left
			}
			left = p.close(id, &l)
		case '(':
			id := p.node(Call, start)
			var l children
			p.link(&l, left)
			p.phpArguments(&l)
			left = p.close(id, &l)
		case '[':
			id := p.node(Index, start)
			var l children
			p.link(&l, left)
			end := int(t.match)
			p.i++
			if p.i < end {
				p.link(&l, p.phpExpression())
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
		default:
			return left
		}
	}
}
