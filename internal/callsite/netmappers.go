package callsite

import (
	"strings"

	"ramekin/internal/hostcode"
	"ramekin/internal/signature"
)

// netMappers follows the object mappers of .NET: Execute and Query methods that
// take a statement or a routine's name with an object of values or
// DynamicParameters, and the raw and interpolated statements of EF Core
// ("SQL Queries").
var netMappers = API{
	Name:   "net-mapper",
	Hosts:  []string{"csharp", "vb"},
	Words:  []string{"DynamicParameters", "CommandType.StoredProcedure", "FromSql", "ExecuteSql", "SqlQuery"},
	Weak:   []string{".Query", ".Execute"},
	create: netMapperCreate,
	call:   netMapperCall,
}

var (
	dapperConvention = Convention{API: "dapper", ByName: true, AddsSigil: true, Registers: "direction: ParameterDirection.Output"}
	efConvention     = Convention{API: "efcore", ByName: true, Registers: "Direction = ParameterDirection.Output"}
)

var netDrivers = []driver{
	{"SqlConnection", signature.SQLServer, 0}, {"SqlClient", signature.SQLServer, 0}, {"MySql", signature.MySQL, 0}, {"Npgsql", signature.PostgreSQL, colonMarks}, {"OracleConnection", signature.Oracle, colonMarks},
}

func netMapperCreate(ev *evaluator, typ string, args []value, node hostcode.NodeID) (value, bool) {
	if typ != "DynamicParameters" || ev.p.classes[typ] != nil {
		return value{}, false
	}
	p := &dynamicParameters{}
	if len(args) > 0 {
		p.addAll(args[0])
	}
	return value{kind: objectValue, obj: p, typ: typ}, true
}

// dynamicParameters are the parameters of a call, gathered before it.
type dynamicParameters struct {
	inert
	items []dynamicParameter
	open  string
	b     *bound
}

type dynamicParameter struct {
	name      string
	v         *value
	direction string
	typ       value
	size      value
	u         *unit
	at        hostcode.NodeID
}

func (p *dynamicParameters) addAll(v value) {
	r, ok := v.obj.(*record)
	if !ok {
		p.open = "the parameters are made where they cannot be seen"
		return
	}
	for _, k := range r.keys {
		one := r.values[k]
		p.items = append(p.items, dynamicParameter{name: k, v: &one, u: r.u, at: r.nodes[k]})
	}
}

func (p *dynamicParameters) invoke(ev *evaluator, method string, args []value, node hostcode.NodeID) value {
	switch method {
	case "Add":
		d := dynamicParameter{u: ev.u, at: node}
		for i, a := range args {
			a := a
			switch {
			case a.argName == "name" || a.argName == "" && i == 0:
				name, ok := a.constantText()
				if !ok {
					p.open = "the name of a parameter is worked out when the program runs"
					return value{}
				}
				d.name = name
			case a.kind == symbolValue && strings.Contains(a.sym, "ParameterDirection."):
				d.direction = lastWord(a)
			case a.kind == symbolValue && strings.Contains(a.sym, "DbType."):
				d.typ = a
			case a.argName == "size" || a.argName == "" && i == 4:
				d.size = a
			case a.argName == "value" || a.argName == "" && i == 1:
				d.v = &a
			}
		}
		p.items = append(p.items, d)
	case "AddDynamicParams":
		for _, a := range args {
			p.addAll(a)
		}
	case "Get":
		if len(args) == 1 && p.b != nil {
			if name, ok := args[0].constantText(); ok {
				v := p.b.readOutput(ev, p.b.keyNamed(name), node)
				if typ := typeArgument(ev, node); typ != "" {
					ev.noteReadType(v, typ, false)
					v.typ = typ
				}
				return v
			}
		}
	}
	return value{}
}

// typeArgument is T of Get<T>(…) or Get(Of T)(…).
func typeArgument(ev *evaluator, node hostcode.NodeID) string {
	text := ev.u.tree.Text(node)
	for _, marks := range [][2]string{{"Get<", ">("}, {"Get(Of ", ")("}} {
		if i := strings.LastIndex(text, marks[0]); i >= 0 {
			if j := strings.Index(text[i:], marks[1]); j > 0 {
				return bareType(text[i+len(marks[0]) : i+j])
			}
		}
	}
	return ""
}

// keyNamed is the key of the bind of a name, the status included.
func (b *bound) keyNamed(name string) bindKey {
	for _, d := range b.binds {
		if d.name != "" && nameKey(d.name) == nameKey(name) {
			return d.key
		}
	}
	return nameKey(name)
}

// bindTo binds all parameters to a statement.
func (p *dynamicParameters) bindTo(ev *evaluator, b *bound) {
	p.b = b
	if p.open != "" {
		b.open = p.open
	}
	for _, it := range p.items {
		d := b.bindAt(nameKey(it.name), it.name)
		if it.at != 0 {
			d.at = it.u.callSpan(it.at)
		}
		if it.v != nil {
			d.setValue(*it.v)
		}
		if k, national, ok := adonetType(it.typ); ok {
			d.setType(k, national)
		}
		if it.size.kind == intValue {
			d.size, d.hasSize = int(it.size.n), true
		}
		switch it.direction {
		case "Output":
			d.registered, d.direction = true, Out
		case "InputOutput":
			d.registered, d.direction = true, InOut
		case "ReturnValue":
			d.registered, d.direction = true, Return
		default:
			d.direction = In
		}
	}
}

func (p *dynamicParameters) escape(reason string) {
	p.open = "the parameters go out of sight: " + reason
	if p.b != nil {
		p.b.escape(reason)
	}
}

func netMapperCall(ev *evaluator, recv value, method string, args []value, node hostcode.NodeID) (value, bool) {
	name := strings.TrimSuffix(method, "Async")
	switch {
	case strings.HasPrefix(name, "FromSql"), strings.HasPrefix(name, "ExecuteSql"), strings.HasPrefix(name, "SqlQuery"):
		return efCall(ev, name, args, node)
	case !strings.HasPrefix(name, "Execute") && !strings.HasPrefix(name, "Query"), len(args) == 0, recv.kind == textValue:
		return value{}, false
	}
	procedure, param, seen := false, value{}, false
	if !isTexty(args[0]) && !(args[0].kind == symbolValue || args[0].param) {
		return value{}, false
	}
	for i, a := range args {
		switch {
		case a.kind == symbolValue && strings.Contains(a.sym, "CommandType."):
			procedure = procedure || strings.HasSuffix(a.sym, "StoredProcedure")
		case i == 0, a.argName == "transaction", a.argName == "commandTimeout", a.argName == "buffered", a.argName == "splitOn", a.kind == lambdaValue:
		case a.argName == "param" || a.argName == "" && !seen:
			param, seen = a, true
		}
	}
	if !procedure && !looksLikeStatement(args[0]) {
		return value{}, false
	}
	b := newBound(ev, node, args[0], &dapperConvention)
	b.isName, b.executed, b.byVariable, b.canCapture = procedure, true, true, true
	d := driverOf(ev.u, netDrivers)
	b.dialect, b.style = d.dialect, colonMarks
	switch o := param.obj.(type) {
	case *dynamicParameters:
		o.bindTo(ev, b)
	case *record:
		b.giveRecord(ev, o, node)
	case *list:
	default:
		if seen && param.kind != nullValue {
			b.open = "the arguments are made at run time"
		}
	}
	if strings.HasPrefix(name, "Query") || strings.Contains(name, "Scalar") || strings.Contains(name, "Reader") {
		return b.takeRows(ev, node), true
	}
	return value{typ: "int", origin: &origin{site: &b.site, key: bindKey{index: changedRows}}}, true
}

// efCall follows FromSqlRaw(text, values) and FromSqlInterpolated($"…").
func efCall(ev *evaluator, name string, args []value, node hostcode.NodeID) (value, bool) {
	if len(args) == 0 || !looksLikeStatement(args[0]) {
		return value{}, false
	}
	b := newBound(ev, node, args[0], &efConvention)
	d := driverOf(ev.u, netDrivers)
	b.dialect, b.style, b.byVariable, b.executed = d.dialect, d.style|braceMarks, true, true
	raw := strings.Contains(name, "Raw") || strings.HasSuffix(name, "Command")
	if !raw && args[0].kind == textValue {
		b.bindHoles(ev, args[0])
	} else {
		rest := args[1:]
		if len(rest) == 1 {
			if l, ok := rest[0].obj.(*list); ok {
				rest = l.items
			}
		}
		for i, a := range rest {
			at := node
			if a.use != 0 && a.useTree == ev.u {
				at = a.use
			}
			b.giveOne(ev, bindKey{index: i + 1}, "", a, at)
		}
	}
	if strings.HasPrefix(name, "ExecuteSql") {
		return value{typ: "int", origin: &origin{site: &b.site, key: bindKey{index: changedRows}}}, true
	}
	return b.takeRows(ev, node), true
}
