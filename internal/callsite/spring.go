package callsite

import (
	"strings"

	"ramekin/internal/hostcode"
	"ramekin/internal/signature"
)

// spring follows Spring's JDBC classes: SimpleJdbcCall and StoredProcedure with
// their declared parameters, JdbcTemplate and its kind with statements
// (Spring Framework reference, "Data Access with JDBC").
var spring = API{
	Name:   "spring-jdbc",
	Hosts:  []string{"java"},
	Words:  springWords,
	create: springCreate,
	call:   springCall,
	own:    storedProcedure,
}

var springWords = []string{"SimpleJdbcCall", "StoredProcedure", "JdbcTemplate", "jdbcTemplate", "JdbcOperations", "JdbcClient"}

var (
	springConvention   = Convention{Captures: "Add withReturnValue() and look at it.", API: "spring-jdbc", ByName: true, AddsSigil: true, NullAsksDefault: false, Registers: "new SqlOutParameter(name, type)"}
	templateConvention = Convention{API: "spring-jdbc", IndexFrom: 1, AddsSigil: true, Registers: "new SqlOutParameter(name, type)"}
)

// sqlParameter is new SqlParameter(name, type) and its kind.
type sqlParameter struct {
	inert
	direction Direction
	name      string
	kind      signature.Kind
	national  bool
	rows      bool
	u         *unit
	node      hostcode.NodeID
}

func springCreate(ev *evaluator, typ string, args []value, node hostcode.NodeID) (value, bool) {
	if ev.p.classes[typ] != nil {
		return value{}, false
	}
	switch typ {
	case "SimpleJdbcCall":
		b := newBound(ev, node, value{}, &springConvention)
		b.isName, b.canCapture = true, true
		return value{kind: objectValue, obj: &jdbcCallObject{bound: b}, typ: typ}, true
	case "SqlParameter", "SqlOutParameter", "SqlInOutParameter", "SqlReturnResultSet":
		p := &sqlParameter{direction: In, kind: signature.KindUnknown, u: ev.u, node: node}
		switch typ {
		case "SqlOutParameter":
			p.direction = Out
		case "SqlInOutParameter":
			p.direction = InOut
		case "SqlReturnResultSet":
			p.rows = true
		}
		for i, a := range args {
			if name, ok := a.constantText(); ok && i == 0 {
				p.name = name
			} else if k, national, ok := jdbcType(a); ok && p.kind == signature.KindUnknown {
				p.kind, p.national = k, national
			}
		}
		return value{kind: objectValue, obj: p, typ: typ}, true
	case "MapSqlParameterSource", "HashMap", "LinkedHashMap", "TreeMap", "BeanPropertySqlParameterSource":
		r := newRecord(ev.u, node)
		if len(args) == 2 {
			r.put(args[:1], args[1])
		} else if len(args) > 0 {
			r.open = true
			if other, ok := args[0].obj.(*record); ok {
				r = other
			}
		}
		if typ != "MapSqlParameterSource" && !usesSpring(ev.u) {
			return value{}, false
		}
		return value{kind: listValue, obj: r, typ: typ}, true
	}
	return value{}, false
}

func usesSpring(u *unit) bool {
	for _, w := range springWords {
		if u.has(w) {
			return true
		}
	}
	return false
}

// jdbcCallObject is a SimpleJdbcCall, or an object of a class built on
// StoredProcedure.
type jdbcCallObject struct {
	*bound
	function bool
	declared []*sqlParameter
}

func (c *jdbcCallObject) invoke(ev *evaluator, method string, args []value, node hostcode.NodeID) value {
	self := value{kind: objectValue, obj: c, typ: "SimpleJdbcCall"}
	text := func() string {
		if len(args) > 0 {
			s, _ := args[0].constantText()
			return s
		}
		return ""
	}
	switch method {
	case "withProcedureName", "setProcedureName", "withFunctionName", "setFunctionName", "setSql":
		if len(args) > 0 {
			c.text = args[0]
		}
		if strings.Contains(method, "Function") {
			c.function = true
			c.captures = true
		}
	case "withSchemaName", "setSchemaName":
		c.schema = text()
	case "withCatalogName", "setCatalogName": // a package, of Oracle
		c.container = text()
	case "withReturnValue", "setReturnValueRequired":
		d := c.bindAt(statusKey, "")
		d.direction, d.registered, d.at = Return, true, ev.u.span(node)
	case "setFunction":
		c.function = true
		c.captures = true
	case "declareParameters", "declareParameter", "addDeclaredParameter":
		for _, a := range args {
			for _, e := range a.elements() {
				if p, ok := e.obj.(*sqlParameter); ok {
					c.declare(p)
				} else {
					c.open = "a parameter is made where it cannot be seen"
				}
			}
		}
	case "returningResultSet":
		c.readsRows, c.rowsEscape, c.rowsAt = true, true, ev.u.span(node)
	case "execute", "executeFunction", "executeObject", "doExecute":
		return c.execute(ev, method, args, node)
	}
	return self
}

func (c *jdbcCallObject) declare(p *sqlParameter) {
	if p.rows {
		c.readsRows, c.rowsEscape = true, true
		return
	}
	c.declared = append(c.declared, p)
	if c.function && len(c.declared) == 1 && p.direction == Out { // a function's first is its result
		d := c.bindAt(statusKey, "")
		d.direction, d.registered, d.kind, d.explicit, d.at = Return, true, p.kind, true, p.u.span(p.node)
		return
	}
	d := c.bindAt(nameKey(p.name), p.name)
	d.at = p.u.span(p.node)
	d.setType(p.kind, p.national)
	if p.direction != In {
		d.registered, d.direction = true, p.direction
	}
}

// execute follows execute(map), execute(values…), executeFunction(type, …).
func (c *jdbcCallObject) execute(ev *evaluator, method string, args []value, node hostcode.NodeID) value {
	c.executed = true
	if (method == "executeFunction" || method == "executeObject") && len(args) > 0 {
		args = args[1:]
		if method == "executeFunction" {
			c.captures = true
		}
	}
	if len(c.declared) == 0 { // outputs come from the server's own description
		c.open = "parameters that are not declared are filled in from the server when the program runs"
	}
	switch {
	case len(args) == 1:
		switch o := args[0].obj.(type) {
		case *record:
			c.giveRecord(ev, o, node)
		default:
			if args[0].kind == unknownValue || args[0].kind == symbolValue {
				c.open = "the arguments are made at run time"
			} else {
				c.positional(ev, args, node)
			}
		}
	case len(args) > 1:
		c.positional(ev, args, node)
	}
	return value{kind: objectValue, obj: &outputMap{b: c.bound}, typ: "Map"}
}

// positional gives values to the declared inputs in their order.
func (c *jdbcCallObject) positional(ev *evaluator, args []value, node hostcode.NodeID) {
	i := 0
	for _, p := range c.declared {
		if p.direction == Out || i >= len(args) {
			continue
		}
		d := c.bindAt(nameKey(p.name), p.name)
		d.setValue(args[i])
		i++
	}
	for ; i < len(args); i++ {
		c.give(ev, bindKey{index: i + 1}, "", args[i], node)
	}
}

// outputMap is the map of outputs that a call gives back.
type outputMap struct {
	inert
	b *bound
}

func (m *outputMap) invoke(ev *evaluator, method string, args []value, node hostcode.NodeID) value {
	switch method {
	case "get", "getOrDefault":
		if len(args) > 0 {
			if name, ok := args[0].constantText(); ok {
				if strings.HasPrefix(name, "#result-set") || strings.HasPrefix(name, "#update-count") {
					m.b.readsRows, m.b.rowsEscape = true, true
					return value{}
				}
				key := m.b.keyNamed(name)
				if name == "return" || strings.EqualFold(name, "RETURN_VALUE") {
					key = statusKey
				}
				for _, d := range m.b.binds {
					if d.key == key && (d.registered || d.direction == Return) {
						return m.b.readOutput(ev, key, node)
					}
				}
				if m.b.open == "" {
					return m.b.readOutput(ev, key, node)
				}
				return value{}
			}
		}
	}
	m.escape("")
	return value{}
}

func (m *outputMap) escape(string) { (&outputs{b: m.b}).escape("") }

// templateMethods are those of JdbcTemplate and its kind that take a statement.
var templateMethods = map[string]bool{"query": true, "queryForObject": true, "queryForList": true, "queryForMap": true, "queryForRowSet": true, "queryForStream": true, "update": true, "execute": true, "batchUpdate": true, "sql": true, "queryForInt": true, "queryForLong": true}

func springCall(ev *evaluator, recv value, method string, args []value, node hostcode.NodeID) (value, bool) {
	if v, ok := storedProcedure(ev, recv, method, args, node); ok {
		return v, true
	}
	if !templateMethods[method] || len(args) == 0 || !looksLikeStatement(args[0]) {
		return value{}, false
	}
	typ := recv.typ
	if typ == "" && recv.kind == symbolValue {
		typ = ev.fieldType(recv.sym)
	}
	name := strings.ToLower(typ + lastWord(recv))
	if !strings.Contains(name, "jdbc") && !strings.Contains(name, "template") {
		return value{}, false
	}
	b := newBound(ev, node, args[0], &templateConvention)
	b.executed, b.style = true, colonMarks
	if !strings.Contains(name, "named") && method != "sql" {
		b.style = 0
	}
	var values []value
	for _, a := range args[1:] {
		switch {
		case a.kind == lambdaValue, strings.HasSuffix(lastWord(a), "class"), strings.HasSuffix(a.typ, "Mapper"), strings.HasSuffix(a.typ, "Extractor"), strings.HasSuffix(a.typ, "Handler"), strings.HasSuffix(a.typ, "Setter"):
			if strings.HasSuffix(a.typ, "Setter") || a.kind == lambdaValue && method == "update" {
				b.open = "the arguments are set in a function of their own"
			}
		case a.typ == "Class" || a.kind == symbolValue && strings.Contains(strings.ToLower(a.sym), "mapper"):
		default:
			values = append(values, a)
		}
	}
	switch {
	case len(values) > 0:
		if l, ok := values[0].obj.(*list); ok {
			b.giveList(ev, l, node)
		} else {
			b.giveAll(ev, values, node)
		}
	case method == "execute" && len(args) > 1:
		b.open = "the arguments are set in a function of their own"
	}
	if strings.HasPrefix(method, "query") || method == "sql" {
		return b.takeRows(ev, node), true
	}
	return value{typ: "int"}, true
}

// storedProcedure follows the methods that a class built on StoredProcedure
// calls on itself.
func storedProcedure(ev *evaluator, recv value, method string, args []value, node hostcode.NodeID) (value, bool) {
	t := ev.u.tree
	fn := t.Child(node, 0)
	own := t.Kind(fn) != hostcode.Member || recv.sym == "this"
	if ev.class == nil || !own || !buildsOn(ev.p, ev.class, "StoredProcedure") {
		return value{}, false
	}
	const key = "\x00procedure"
	have, ok := ev.fields[key]
	object := func() *jdbcCallObject {
		if ok {
			o, _ := have.obj.(*jdbcCallObject)
			return o
		}
		b := newBound(ev, node, value{}, &springConvention)
		b.isName, b.canCapture = true, true
		o := &jdbcCallObject{bound: b}
		ev.fields[key] = value{kind: objectValue, obj: o}
		return o
	}
	switch method {
	case "super":
		o := object()
		for _, a := range args {
			if isTexty(a) {
				o.text = a
			}
		}
		return value{}, true
	case "declareParameter", "setFunction", "setSql", "execute", "setParameters":
		o := object()
		if o == nil {
			return value{}, false
		}
		return o.invoke(ev, method, args, node), true
	}
	return value{}, false
}

func buildsOn(p *project, c *classInfo, base string) bool {
	found := false
	p.family(c, func(k *classInfo) bool {
		for _, b := range k.bases {
			found = found || b == base
		}
		return found
	})
	return found
}
