package hostcode

import (
	"go/ast"
	"go/parser"
	gotoken "go/token"
	"strconv"
	"strings"
)

// Go is Go, read by the standard library's own parser (The Go Programming
// Language Specification).
var Go = Language{
	Name:       "go",
	Extensions: []string{".go"},

	keyword: func([]byte) keyword { return notKeyword },
	scan:    func(*scanner, int, int) {}, file: goFile,
	StringValue: goStringValue,
}

func goStringValue(text string) string {
	if s, err := strconv.Unquote(text); err == nil {
		return s
	}
	return trimQuotes(text, '"')
}

// goFile turns the syntax tree of package go/ast into the common one.
func goFile(p *Parser, list *children) {
	fset := gotoken.NewFileSet()
	f, _ := parser.ParseFile(fset, "", p.s.src, parser.ParseComments|parser.SkipObjectResolution|parser.AllErrors)
	if f == nil {
		return
	}
	g := goReader{p: p, size: len(p.s.src)}
	for _, group := range f.Comments {
		for _, c := range group.List {
			p.s.comments = append(p.s.comments, Comment{g.at(c.Pos()), g.at(c.End())})
		}
	}
	for _, im := range f.Imports {
		g.imported(list, im)
	}
	classes := map[string]*goClass{}
	var order []*goClass
	class := func(name string, at *ast.Ident) *goClass {
		c := classes[name]
		if c == nil {
			c = &goClass{id: p.named(Class, g.at(at.Pos()), g.ident(at))}
			classes[name] = c
			order = append(order, c)
		}
		return c
	}
	for _, d := range f.Decls {
		switch d := d.(type) {
		case *ast.GenDecl:
			for _, s := range d.Specs {
				switch s := s.(type) {
				case *ast.ValueSpec:
					g.values(list, s, Field, d.Tok == gotoken.CONST)
				case *ast.TypeSpec:
					g.typeSpec(class(s.Name.Name, s.Name), s)
				}
			}
		case *ast.FuncDecl:
			if d.Recv == nil || len(d.Recv.List) == 0 {
				g.function(list, d)
				continue
			}
			if name := receiverType(d.Recv.List[0].Type); name != nil {
				g.function(&class(name.Name, name).members, d)
			}
		}
	}
	for _, c := range order {
		p.link(list, p.finish(c.id, &c.members, int(p.t.Nodes[c.id].End)))
	}
}

type goClass struct {
	id      NodeID
	members children
}

func receiverType(e ast.Expr) *ast.Ident {
	switch e := e.(type) {
	case *ast.Ident:
		return e
	case *ast.StarExpr:
		return receiverType(e.X)
	case *ast.IndexExpr:
		return receiverType(e.X)
	case *ast.IndexListExpr:
		return receiverType(e.X)
	case *ast.ParenExpr:
		return receiverType(e.X)
	}
	return nil
}

type goReader struct {
	p    *Parser
	size int
	// self is the receiver's name in the method at hand.
	self  string
	depth int
}

func (g *goReader) at(pos gotoken.Pos) int32 {
	return int32(min(max(int(pos)-1, 0), g.size))
}

// ident is the token of a name, whose extent its node takes over.
func (g *goReader) ident(n *ast.Ident) token {
	return token{start: g.at(n.Pos()), end: g.at(n.End()), kind: tokName}
}

func (g *goReader) node(k Kind, n ast.Node) NodeID {
	id := g.p.node(k, g.at(n.Pos()))
	g.p.t.Nodes[id].End = g.at(n.End())
	return id
}

func (g *goReader) with(id NodeID, kids ...NodeID) NodeID {
	var l children
	for _, k := range kids {
		g.p.link(&l, k)
	}
	g.p.t.Nodes[id].First = l.first
	return id
}

func (g *goReader) imported(list *children, im *ast.ImportSpec) {
	path := goStringValue(im.Path.Value)
	start, end := g.at(im.Path.Pos())+1, g.at(im.Path.End())-1
	local := token{start: start, end: end}
	if im.Name != nil {
		local = g.ident(im.Name)
	} else {
		name := path
		last := path[strings.LastIndexByte(path, '/')+1:]
		if len(last) > 1 && last[0] == 'v' && strings.Trim(last[1:], "0123456789") == "" && len(last) < len(path) { // a major version
			name = path[:len(path)-len(last)-1]
		}
		from := strings.LastIndexByte(name, '/') + 1
		base := name[from:]
		if i := strings.Index(base, ".v"); i > 0 {
			base = base[:i]
		}
		base = strings.TrimPrefix(base, "go-")
		from += len(name[from:]) - len(strings.TrimPrefix(name[from:], "go-"))
		local.start = start + int32(from)
		local.end = local.start + int32(len(base))
	}
	if local.end < local.start {
		return
	}
	module := token{start: g.at(im.Path.Pos()), end: g.at(im.Path.End())}
	g.p.link(list, g.p.importNode(g.at(im.Pos()), local, module, token{}))
}

func (g *goReader) values(list *children, s *ast.ValueSpec, kind Kind, constant bool) {
	for i, n := range s.Names {
		id := g.p.named(kind, g.at(n.Pos()), g.ident(n))
		if kind == Field {
			g.p.t.Nodes[id].Flags = Static
		}
		if constant {
			g.p.t.Nodes[id].Flags |= Constant
		}
		var kids []NodeID
		if s.Type != nil {
			kids = append(kids, g.node(Type, s.Type))
		}
		if i < len(s.Values) && len(s.Values) == len(s.Names) {
			kids = append(kids, g.expr(s.Values[i]))
		} else if i == 0 && len(s.Values) == 1 {
			kids = append(kids, g.expr(s.Values[0]))
		}
		g.p.t.Nodes[id].End = g.at(s.End())
		g.p.link(list, g.with(id, kids...))
	}
}

func (g *goReader) typeSpec(c *goClass, s *ast.TypeSpec) {
	g.p.t.Nodes[c.id].End = g.at(s.End())
	st, ok := s.Type.(*ast.StructType)
	if !ok {
		return
	}
	for _, f := range st.Fields.List {
		if len(f.Names) == 0 {
			g.p.link(&c.members, g.node(Type, f.Type))
		}
		for _, n := range f.Names {
			id := g.p.named(Field, g.at(n.Pos()), g.ident(n))
			g.p.link(&c.members, g.with(id, g.node(Type, f.Type)))
		}
	}
}

func (g *goReader) function(list *children, d *ast.FuncDecl) {
	id := g.p.named(Func, g.at(d.Pos()), g.ident(d.Name))
	g.p.t.Nodes[id].End = g.at(d.End())
	if d.Recv == nil {
		g.p.t.Nodes[id].Flags = Static
	}
	self := g.self
	g.self = ""
	if d.Recv != nil && len(d.Recv.List) > 0 && len(d.Recv.List[0].Names) > 0 {
		g.self = d.Recv.List[0].Names[0].Name
	}
	kids := g.signature(d.Type)
	if d.Body != nil {
		block := g.block(d.Body)
		g.results(block, d.Type)
		kids = append(kids, block)
	}
	g.self = self
	g.p.link(list, g.with(id, kids...))
}

// results declares the named results of a function at the head of its block.
func (g *goReader) results(block NodeID, t *ast.FuncType) {
	if t.Results == nil {
		return
	}
	var l children
	for _, f := range t.Results.List {
		for _, n := range f.Names {
			id := g.p.named(VarDecl, g.at(n.Pos()), g.ident(n))
			g.p.link(&l, g.with(id, g.node(Type, f.Type)))
		}
	}
	if l.first != 0 {
		g.p.t.Nodes[l.last].NextSibling = g.p.t.Nodes[block].First
		g.p.t.Nodes[block].First = l.first
	}
}

func (g *goReader) signature(t *ast.FuncType) []NodeID {
	var kids []NodeID
	if t.Results != nil && len(t.Results.List) > 0 {
		kids = append(kids, g.node(Type, t.Results.List[0].Type))
	}
	for _, f := range t.Params.List {
		for _, n := range f.Names {
			id := g.p.named(Param, g.at(n.Pos()), g.ident(n))
			typ := f.Type
			if e, ok := typ.(*ast.Ellipsis); ok {
				g.p.t.Nodes[id].Flags = Rest
				if e.Elt != nil {
					typ = e.Elt
				}
			}
			kids = append(kids, g.with(id, g.node(Type, typ)))
		}
	}
	return kids
}

func (g *goReader) block(b *ast.BlockStmt) NodeID {
	if b == nil {
		return 0
	}
	return g.statements(g.node(Block, b), b.List)
}

func (g *goReader) statements(id NodeID, list []ast.Stmt) NodeID {
	var l children
	g.depth++
	for _, s := range list {
		if g.depth < mostNested {
			g.stmt(&l, s)
		}
	}
	g.depth--
	g.p.t.Nodes[id].First = l.first
	return id
}

// stmt converts a statement; several nodes may come of one.
func (g *goReader) stmt(list *children, s ast.Stmt) {
	link := func(id NodeID) { g.p.link(list, id) }
	switch s := s.(type) {
	case *ast.ExprStmt:
		link(g.with(g.node(ExprStmt, s), g.expr(s.X)))
	case *ast.DeferStmt:
		link(g.with(g.node(ExprStmt, s), g.expr(s.Call)))
	case *ast.GoStmt:
		link(g.with(g.node(ExprStmt, s), g.expr(s.Call)))
	case *ast.SendStmt:
		link(g.with(g.node(ExprStmt, s), g.expr(s.Value)))
	case *ast.DeclStmt:
		if d, ok := s.Decl.(*ast.GenDecl); ok {
			for _, spec := range d.Specs {
				if v, ok := spec.(*ast.ValueSpec); ok {
					g.values(list, v, VarDecl, d.Tok == gotoken.CONST)
				}
			}
		}
	case *ast.AssignStmt:
		g.assign(list, s)
	case *ast.IncDecStmt:
		id := g.node(Postfix, s)
		g.p.t.Nodes[id].Op = OpInc
		if s.Tok == gotoken.DEC {
			g.p.t.Nodes[id].Op = OpDec
		}
		link(g.with(g.node(ExprStmt, s), g.with(id, g.expr(s.X))))
	case *ast.BlockStmt:
		link(g.block(s))
	case *ast.LabeledStmt:
		g.stmt(list, s.Stmt)
	case *ast.ReturnStmt:
		id := g.node(Return, s)
		link(g.with(id, g.tuple(s, s.Results)))
	case *ast.BranchStmt:
		if s.Tok != gotoken.FALLTHROUGH {
			link(g.node(Jump, s))
		}
	case *ast.IfStmt:
		if s.Init != nil {
			b := g.node(Block, s)
			var l children
			g.stmt(&l, s.Init)
			g.p.link(&l, g.ifStmt(s))
			g.p.t.Nodes[b].First = l.first
			link(b)
			return
		}
		link(g.ifStmt(s))
	case *ast.ForStmt:
		var l children
		if s.Init != nil {
			g.stmt(&l, s.Init)
		}
		if s.Cond != nil {
			g.p.link(&l, g.expr(s.Cond))
		}
		if s.Post != nil {
			g.stmt(&l, s.Post)
		}
		id := g.node(Loop, s)
		g.p.link(&l, g.block(s.Body))
		g.p.t.Nodes[id].First = l.first
		link(id)
	case *ast.RangeStmt:
		id := g.node(Loop, s)
		var kids []NodeID
		if v, ok := s.Value.(*ast.Ident); ok && v.Name != "_" {
			kids = append(kids, g.p.named(VarDecl, g.at(v.Pos()), g.ident(v)))
		}
		link(g.with(id, append(kids, g.expr(s.X), g.block(s.Body))...))
	case *ast.SwitchStmt:
		g.switchStmt(list, s)
	case *ast.TypeSwitchStmt:
		id := g.node(Switch, s)
		link(g.with(id, append([]NodeID{g.node(Opaque, s.Assign)}, g.cases(s.Body)...)...))
	case *ast.SelectStmt:
		id := g.node(Switch, s)
		link(g.with(id, append([]NodeID{g.p.node(Opaque, g.at(s.Pos()))}, g.cases(s.Body)...)...))
	}
}

func (g *goReader) ifStmt(s *ast.IfStmt) NodeID {
	id := g.node(If, s)
	kids := []NodeID{g.expr(s.Cond), g.block(s.Body)}
	if s.Else != nil {
		if b, ok := s.Else.(*ast.BlockStmt); ok {
			kids = append(kids, g.block(b))
		} else {
			kids = append(kids, g.statements(g.node(Block, s.Else), []ast.Stmt{s.Else}))
		}
	}
	return g.with(id, kids...)
}

// switchStmt converts a switch; one without a value becomes a chain of ifs.
func (g *goReader) switchStmt(list *children, s *ast.SwitchStmt) {
	outer := list
	var own children
	if s.Init != nil {
		list = &own
		g.stmt(list, s.Init)
	}
	if s.Tag != nil {
		id := g.node(Switch, s)
		g.p.link(list, g.with(id, append([]NodeID{g.expr(s.Tag)}, g.cases(s.Body)...)...))
	} else {
		g.p.link(list, g.chain(s.Body.List))
	}
	if s.Init != nil {
		b := g.node(Block, s)
		g.p.t.Nodes[b].First = own.first
		g.p.link(outer, b)
	}
}

func (g *goReader) chain(clauses []ast.Stmt) NodeID {
	var last []ast.Stmt
	var conditional []*ast.CaseClause
	var fallback *ast.CaseClause
	for _, c := range clauses {
		if c, ok := c.(*ast.CaseClause); ok {
			if c.List == nil {
				fallback, last = c, c.Body
			} else {
				conditional = append(conditional, c)
			}
		}
	}
	var els NodeID
	if fallback != nil {
		els = g.statements(g.node(Block, fallback), last)
	}
	for i := len(conditional) - 1; i >= 0; i-- {
		c := conditional[i]
		id := g.node(If, c)
		cond := g.expr(c.List[0])
		for _, more := range c.List[1:] {
			or := g.node(Binary, more)
			g.p.t.Nodes[or].Op = OpOr
			cond = g.with(or, cond, g.expr(more))
		}
		kids := []NodeID{cond, g.statements(g.node(Block, c), c.Body)}
		if els != 0 {
			kids = append(kids, els)
		}
		whole := g.with(id, kids...)
		if i == 0 {
			return whole
		}
		els = g.with(g.node(Block, c), whole)
	}
	return els
}

func (g *goReader) cases(b *ast.BlockStmt) []NodeID {
	var out []NodeID
	for _, c := range b.List {
		var kids []NodeID
		var body []ast.Stmt
		id := g.node(Case, c)
		g.p.t.Nodes[id].Flags = Arrow
		var l children
		switch c := c.(type) {
		case *ast.CaseClause:
			if c.List == nil {
				g.p.t.Nodes[id].Flags |= Default
			}
			for _, e := range c.List {
				kids = append(kids, g.expr(e))
			}
			body = c.Body
		case *ast.CommClause:
			if c.Comm != nil {
				g.stmt(&l, c.Comm)
			}
			body = c.Body
		}
		block := g.node(Block, c)
		for _, s := range body {
			g.stmt(&l, s)
		}
		g.p.t.Nodes[block].First = l.first
		out = append(out, g.with(id, append(kids, block)...))
	}
	return out
}

func (g *goReader) assign(list *children, s *ast.AssignStmt) {
	one := len(s.Lhs) == 1 && len(s.Rhs) == 1
	if name, ok := s.Lhs[0].(*ast.Ident); ok && one && s.Tok == gotoken.DEFINE {
		id := g.p.named(VarDecl, g.at(s.Pos()), g.ident(name))
		g.p.t.Nodes[id].End = g.at(s.End())
		g.p.link(list, g.with(id, g.expr(s.Rhs[0])))
		return
	}
	id := g.node(Assign, s)
	switch s.Tok {
	case gotoken.DEFINE:
		g.p.t.Nodes[id].Flags = Declared
	case gotoken.ASSIGN:
	default:
		g.p.t.Nodes[id].Op = s.Tok.String()[0]
	}
	g.p.link(list, g.with(g.node(ExprStmt, s), g.with(id, g.tuple(s, s.Lhs), g.tuple(s, s.Rhs))))
}

// tuple is the one expression of a list, or a tuple of them; 0 for none.
func (g *goReader) tuple(at ast.Node, list []ast.Expr) NodeID {
	switch len(list) {
	case 0:
		return 0
	case 1:
		return g.expr(list[0])
	}
	id := g.node(Tuple, at)
	var kids []NodeID
	for _, e := range list {
		kids = append(kids, g.expr(e))
	}
	return g.with(id, kids...)
}

var goOps = map[gotoken.Token]byte{gotoken.EQL: OpEq, gotoken.NEQ: OpNe, gotoken.LEQ: OpLe, gotoken.GEQ: OpGe, gotoken.LAND: OpAnd, gotoken.LOR: OpOr,
	gotoken.LSS: '<', gotoken.GTR: '>', gotoken.ADD: '+', gotoken.SUB: '-', gotoken.MUL: '*', gotoken.QUO: '/', gotoken.REM: '%', gotoken.AND: '&', gotoken.OR: '|', gotoken.NOT: '!'}

func (g *goReader) expr(e ast.Expr) NodeID {
	if g.depth++; g.depth > mostNested {
		g.depth--
		return g.node(Opaque, e)
	}
	defer func() { g.depth-- }()
	switch e := e.(type) {
	case nil:
		return 0
	case *ast.Ident:
		switch {
		case e.Name == "nil" || e.Name == "true" || e.Name == "false":
			return g.node(Keyword, e)
		case e.Name == g.self && g.self != "" && g.self != "_":
			return g.node(Self, e)
		}
		return g.p.named(Name, g.at(e.Pos()), g.ident(e))
	case *ast.BasicLit:
		if e.Kind == gotoken.STRING {
			return g.node(String, e)
		}
		return g.node(Number, e)
	case *ast.ParenExpr:
		return g.expr(e.X)
	case *ast.SelectorExpr:
		id := g.node(Member, e)
		g.p.t.Nodes[id].NameStart, g.p.t.Nodes[id].NameEnd = g.at(e.Sel.Pos()), g.at(e.Sel.End())
		return g.with(id, g.expr(e.X))
	case *ast.CallExpr:
		return g.call(e)
	case *ast.IndexExpr:
		return g.with(g.node(Index, e), g.expr(e.X), g.expr(e.Index))
	case *ast.IndexListExpr:
		return g.expr(e.X)
	case *ast.SliceExpr:
		return g.with(g.node(Opaque, e), g.expr(e.X), g.expr(e.Low), g.expr(e.High), g.expr(e.Max))
	case *ast.StarExpr:
		id := g.node(Unary, e)
		g.p.t.Nodes[id].Op = '*'
		return g.with(id, g.expr(e.X))
	case *ast.UnaryExpr:
		if e.Op == gotoken.AND {
			if _, ok := e.X.(*ast.CompositeLit); ok {
				return g.expr(e.X)
			}
		}
		id := g.node(Unary, e)
		g.p.t.Nodes[id].Op = goOps[e.Op]
		return g.with(id, g.expr(e.X))
	case *ast.BinaryExpr:
		id := g.node(Binary, e)
		g.p.t.Nodes[id].Op = goOps[e.Op]
		return g.with(id, g.expr(e.X), g.expr(e.Y))
	case *ast.FuncLit:
		id := g.node(Lambda, e)
		kids := g.signature(e.Type)
		if len(kids) > 0 && g.p.t.Nodes[kids[0]].Kind == Type {
			kids = kids[1:]
		}
		return g.with(id, append(kids, g.block(e.Body))...)
	case *ast.TypeAssertExpr:
		if e.Type == nil {
			return g.expr(e.X)
		}
		return g.with(g.node(Cast, e), g.node(Type, e.Type), g.expr(e.X))
	case *ast.CompositeLit:
		return g.composite(e)
	case *ast.KeyValueExpr:
		return g.pair(e)
	case *ast.Ellipsis, *ast.ArrayType, *ast.MapType, *ast.ChanType, *ast.FuncType, *ast.InterfaceType, *ast.StructType:
		return g.node(Type, e)
	}
	return g.node(Opaque, e)
}

func (g *goReader) call(e *ast.CallExpr) NodeID {
	switch f := e.Fun.(type) {
	case *ast.ArrayType, *ast.MapType, *ast.InterfaceType, *ast.FuncType, *ast.ChanType:
		if len(e.Args) == 1 {
			return g.with(g.node(Cast, e), g.node(Type, f), g.expr(e.Args[0]))
		}
	}
	id := g.node(Call, e)
	kids := []NodeID{g.expr(e.Fun)}
	for i, a := range e.Args {
		k := g.expr(a)
		if e.Ellipsis.IsValid() && i == len(e.Args)-1 {
			s := g.node(Spread, a)
			g.p.t.Nodes[s].Op = '*'
			k = g.with(s, k)
		}
		kids = append(kids, k)
	}
	return g.with(id, kids...)
}

// composite is a struct as New with named members, else the elements alone.
func (g *goReader) composite(e *ast.CompositeLit) NodeID {
	init := g.node(Init, e)
	var l children
	for _, el := range e.Elts {
		g.p.link(&l, g.expr(el))
	}
	g.p.t.Nodes[init].First = l.first
	switch t := e.Type.(type) {
	case *ast.MapType:
		g.p.t.Nodes[init].Flags = Keyed
		return init
	case *ast.ArrayType:
		return init
	case nil:
		if l.first != 0 && g.p.t.Nodes[l.first].Kind == Named {
			g.p.t.Nodes[init].Flags = Keyed
		}
		return init
	default:
		return g.with(g.node(New, e), g.node(Type, t), init)
	}
}

func (g *goReader) pair(e *ast.KeyValueExpr) NodeID {
	value := g.expr(e.Value)
	switch k := e.Key.(type) {
	case *ast.Ident:
		id := g.p.named(Named, g.at(e.Pos()), g.ident(k))
		g.p.t.Nodes[id].End = g.at(e.End())
		return g.with(id, value)
	case *ast.BasicLit:
		if k.Kind == gotoken.STRING && len(k.Value) > 2 {
			id := g.p.named(Named, g.at(e.Pos()), token{start: g.at(k.Pos()) + 1, end: g.at(k.End()) - 1})
			g.p.t.Nodes[id].End = g.at(e.End())
			return g.with(id, value)
		}
	}
	return g.with(g.node(Pair, e), g.expr(e.Key), value)
}
