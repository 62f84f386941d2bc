package callsite

import (
	"strings"

	"ramekin/internal/hostcode"
	"ramekin/internal/signature"
)

// nodeClients follows the client libraries of Node.js: requests with named
// inputs and outputs (mssql, tedious), statements with binds (oracledb, mysql2,
// mariadb, pg, snowflake-sdk, knex and the like), prepared calls and procedure
// proxies (HANA), and tagged templates.
var nodeClients = API{
	Name:   "node",
	Hosts:  []string{"javascript", "typescript"},
	Words:  []string{"mssql", "tedious", "oracledb", "loadProcedure", "mysql2", "snowflake-sdk", "@sap/hana-client", "'hdb'", "pg-promise"},
	Weak:   []string{".request(", "Request(", ".query(", ".execute(", ".exec(", ".raw(", ".prepare(", "sqlText", "ueryRaw", "xecuteRaw", "sql`", ".none(", ".any(", ".one("},
	create: nodeCreate,
	call:   nodeCall,
	tagged: nodeTagged,
}

var nodeDrivers = []driver{
	{"mssql", signature.SQLServer, 0}, {"tedious", signature.SQLServer, 0}, {"msnodesqlv8", signature.SQLServer, 0},
	{"oracledb", signature.Oracle, colonMarks}, {"mysql", signature.MySQL, 0}, {"'mariadb'", signature.MariaDB, 0}, {"\"mariadb\"", signature.MariaDB, 0},
	{"'pg'", signature.PostgreSQL, dollarMarks | noQuestion}, {"\"pg\"", signature.PostgreSQL, dollarMarks | noQuestion}, {"pg-promise", signature.PostgreSQL, dollarMarks | noQuestion}, {"'postgres'", signature.PostgreSQL, dollarMarks | noQuestion}, {"\"postgres\"", signature.PostgreSQL, dollarMarks | noQuestion},
	{"@sap/", signature.HANA, 0}, {"'hdb'", signature.HANA, 0}, {"\"hdb\"", signature.HANA, 0}, {"snowflake", signature.Snowflake, colonMarks},
	{"ibm_db", signature.Db2, 0}, {"node-firebird", signature.Firebird, 0},
}

var (
	mssqlConvention = Convention{Captures: "Look at result.returnValue after the call.", API: "mssql", ByName: true, AddsSigil: true, Registers: "request.output(name, type)"}
	// "Request": addOutputParameter(name, type, value, options).
	tediousConvention  = Convention{Captures: "Look at the returnStatus that the doneProc event brings.", API: "tedious", ByName: true, AddsSigil: true, Registers: "request.addOutputParameter(name, type)"}
	oracledbConvention = Convention{API: "oracledb", IndexFrom: 0, AddsSigil: true, Registers: "{ dir: oracledb.BIND_OUT, type: … }"}
	nodeConvention     = Convention{API: "node", IndexFrom: 0, AddsSigil: true, Registers: "a variable that is selected after the call"}
	proxyConvention    = Convention{API: "hana-procedure", IndexFrom: 0, AddsSigil: true, NullAsksDefault: true, Registers: "the result of the call"}
)

// nodeTextMethods take a statement first.
var nodeTextMethods = map[string]bool{"query": true, "execute": true, "exec": true, "raw": true, "run": true, "all": true, "any": true, "one": true, "none": true, "many": true,
	"oneOrNone": true, "manyOrNone": true, "batch": true, "executeSql": true, "execQuery": true, "multi": true, "result": true, "get": true, "each": true,
	"$queryRawUnsafe": true, "$executeRawUnsafe": true, "$queryRaw": true, "$executeRaw": true, "unsafe": true, "executeImmediate": true}

func nodeDriver(u *unit) driver {
	d := driverOf(u, nodeDrivers)
	if d.word == "" && d.style == percentMarks|colonMarks {
		d.style = dollarMarks | colonMarks
	}
	return d
}

func nodeCreate(ev *evaluator, typ string, args []value, node hostcode.NodeID) (value, bool) {
	if typ != "Request" && typ != "PreparedStatement" || ev.p.classes[typ] != nil {
		return value{}, false
	}
	if ev.u.has("tedious") && len(args) > 0 {
		r := newRequest(ev, node, args[0], &tediousConvention)
		r.maybeName = true
		r.withResult(ev, args, node)
		return value{kind: objectValue, obj: r, typ: "Request"}, true
	}
	if ev.u.has("mssql") || len(args) == 1 && (isPoolName(args[0]) || args[0].kind == symbolValue) && ev.u.has("sql") {
		return value{kind: objectValue, obj: newRequest(ev, node, value{}, &mssqlConvention), typ: "Request"}, true
	}
	return value{}, false
}

func isPoolName(v value) bool {
	s := strings.ToLower(lastWord(v))
	return strings.Contains(s, "pool") || strings.Contains(s, "conn") || strings.Contains(s, "trans") || s == "tx"
}

// request is a request of mssql or tedious: inputs and outputs by name, then a
// routine's name or a text.
type request struct {
	*bound
	used bool
}

func newRequest(ev *evaluator, node hostcode.NodeID, text value, conv *Convention) *request {
	b := newBound(ev, node, text, conv)
	b.dialect, b.canCapture, b.byVariable = signature.SQLServer, true, true
	return &request{bound: b}
}

// again gives the request that a further statement goes through: what was bound
// stays bound.
func (r *request) again(ev *evaluator, node hostcode.NodeID, text value) {
	if r.used {
		old := r.bound
		b := newBound(ev, node, text, old.conv)
		b.dialect, b.canCapture, b.byVariable = old.dialect, true, true
		b.binds, b.open = old.binds, old.open
		r.bound = b
	}
	r.used = true
	r.text, r.executed = text, true
}

func (r *request) invoke(ev *evaluator, method string, args []value, node hostcode.NodeID) value {
	self := value{kind: objectValue, obj: r, typ: "Request"}
	switch method {
	case "input", "addParameter":
		if len(args) < 2 {
			return self
		}
		d, ok := r.named(ev, args[0], node)
		if !ok {
			return self
		}
		v := args[len(args)-1]
		switch {
		case method == "addParameter":
			v = args[min(2, len(args)-1)]
			d.typeFrom(args[1])
		case len(args) > 2:
			d.typeFrom(args[1])
		}
		d.setValue(v)
	case "output", "addOutputParameter":
		if len(args) == 0 {
			return self
		}
		d, ok := r.named(ev, args[0], node)
		if !ok {
			return self
		}
		if len(args) > 1 {
			d.typeFrom(args[1])
		}
		if len(args) > 2 && args[2].kind != nullValue {
			d.setValue(args[2])
			d.direction = Out
		}
		d.registered, d.direction = true, Out
		if d.valued {
			d.direction = InOut
		}
	case "execute":
		if len(args) == 0 {
			return value{}
		}
		r.again(ev, node, args[0])
		r.isName = true
		return r.withResult(ev, args, node)
	case "query", "batch":
		if len(args) == 0 {
			return value{}
		}
		r.again(ev, node, args[0])
		return r.withResult(ev, args, node)
	case "on", "once":
		r.on(ev, args, node)
	case "pipe", "cancel", "setTimeout", "prepare", "unprepare":
	}
	return self
}

func (r *request) named(ev *evaluator, name value, node hostcode.NodeID) (*bind, bool) {
	text, ok := name.constantText()
	if !ok {
		r.open = "the name of a parameter is worked out when the program runs"
		return nil, false
	}
	d := r.bindAt(nameKey(text), text)
	d.at = ev.u.callSpan(node)
	return d, true
}

// on follows the events of tedious and of streams.
func (r *request) on(ev *evaluator, args []value, node hostcode.NodeID) {
	if len(args) < 2 {
		return
	}
	event, _ := args[0].constantText()
	switch event {
	case "returnValue":
		for _, d := range r.binds {
			r.reads[d.key] = append(r.reads[d.key], Read{At: ev.u.span(node), Kind: signature.KindUnknown})
		}
	case "doneProc":
		status := r.read(ev, statusKey, signature.KindUnknown, node)
		ev.apply(args[1], []value{{}, {}, status, {}}, node)
	case "row", "recordset", "columnMetadata":
		r.readsRows, r.rowsEscape, r.rowsAt = true, true, ev.u.span(node)
	}
}

// callProcedure and execSql of a tedious connection.
func (r *request) sent(byName bool) {
	r.executed = true
	r.isName, r.maybeName = byName, false
}

// withResult hands the result to the callback among the arguments.
func (b *bound) withResult(ev *evaluator, args []value, node hostcode.NodeID) value {
	res := value{kind: objectValue, obj: &sqlResult{b: b}}
	for _, a := range args {
		if a.kind == lambdaValue {
			params := []value{{kind: nullValue}, res, res}
			if b.conv == &mssqlConvention {
				params[2] = value{obj: &lazyStatus{b: b}, kind: objectValue}
			}
			if b.conv == &proxyConvention || b.dialect == signature.HANA {
				params = []value{{kind: nullValue}, {kind: objectValue, obj: &outputs{b: b}}, res}
			}
			ev.apply(a, params, node)
		}
	}
	return res
}

// lazyStatus is the status code as a callback gets it; it counts as read where
// it is used.
type lazyStatus struct {
	inert
	b *bound
}

func (l *lazyStatus) escape(string) { l.b.captures = true }

// sqlResult is what a statement gives back.
type sqlResult struct {
	inert
	b *bound
}

func (r *sqlResult) get(ev *evaluator, member string, node hostcode.NodeID) value {
	switch member {
	case "output", "outBinds", "outParams", "outputParameters":
		return value{kind: objectValue, obj: &outputs{b: r.b}}
	case "returnValue", "returnStatus":
		return r.b.read(ev, statusKey, signature.KindUnknown, node)
	case "recordset", "recordsets", "rows", "results", "resultSet", "implicitResults", "rowCount", "length":
		if member != "rowCount" {
			return r.b.takeRows(ev, node)
		}
		return value{}
	case "rowsAffected", "metaData", "fields", "warnings", "columns":
		return value{}
	}
	return r.b.takeRows(ev, node)
}

func (r *sqlResult) index(ev *evaluator, args []value, node hostcode.NodeID) value {
	if len(args) == 1 {
		if text, ok := args[0].constantText(); ok {
			return r.get(ev, text, node)
		}
	}
	return r.b.takeRows(ev, node)
}

func (r *sqlResult) part(ev *evaluator, name string, i int, node hostcode.NodeID) value {
	if name != "" {
		return r.get(ev, name, node)
	}
	if i > 0 {
		return value{}
	}
	return r.b.takeRows(ev, node)
}

func (r *sqlResult) iterate(ev *evaluator, node hostcode.NodeID) value { return r.b.takeRows(ev, node) }

func (r *sqlResult) invoke(ev *evaluator, method string, args []value, node hostcode.NodeID) value {
	switch method {
	case "then", "catch":
	case "fetchall", "fetch", "next", "getRow", "getRows", "map", "forEach", "find", "getValue", "getValues":
		r.b.takeRows(ev, node)
	}
	return value{}
}

// escape: whoever gets the result may read all of it.
func (r *sqlResult) escape(string) {
	r.b.captures = r.b.canCapture
	r.b.readsRows, r.b.rowsEscape = true, true
	(&outputs{b: r.b}).escape("")
}

// outputs are the outputs of a call, by name or number.
type outputs struct {
	inert
	b *bound
}

func (o *outputs) key(name string) bindKey {
	for _, d := range o.b.binds {
		if d.name != "" && nameKey(d.name) == nameKey(name) {
			return d.key
		}
	}
	return nameKey(name)
}

func (o *outputs) get(ev *evaluator, member string, node hostcode.NodeID) value {
	return o.b.readOutput(ev, o.key(member), node)
}

func (o *outputs) index(ev *evaluator, args []value, node hostcode.NodeID) value {
	if len(args) == 1 {
		if text, ok := args[0].constantText(); ok {
			return o.get(ev, text, node)
		}
		if args[0].kind == intValue { // outputs alone are counted
			n := int(args[0].n)
			for _, d := range o.b.binds {
				if d.registered {
					if n == 0 {
						return o.b.readOutput(ev, d.key, node)
					}
					n--
				}
			}
			return value{}
		}
	}
	o.escape("")
	return value{}
}

func (o *outputs) part(ev *evaluator, name string, i int, node hostcode.NodeID) value {
	if name != "" {
		return o.get(ev, name, node)
	}
	return o.index(ev, []value{{kind: intValue, n: int64(i)}}, node)
}

func (o *outputs) escape(string) {
	for _, d := range o.b.binds {
		if d.registered && len(o.b.reads[d.key]) == 0 {
			o.b.reads[d.key] = []Read{{At: d.at, Kind: signature.KindUnknown}}
		}
	}
}

func (o *outputs) invoke(*evaluator, string, []value, hostcode.NodeID) value {
	o.escape("")
	return value{}
}

func nodeCall(ev *evaluator, recv value, method string, args []value, node hostcode.NodeID) (value, bool) {
	t := ev.u.tree
	fn := t.Child(node, 0)
	if v, ok := procedureProxy(ev, method, args, node); ok {
		return v, true
	}
	if t.Kind(fn) != hostcode.Member {
		return value{}, false
	}
	switch method {
	case "request":
		if len(args) == 0 && !notDatabase(recv) && (ev.u.has("mssql") || isPoolName(recv) || recv.kind == unknownValue && ev.u.has("sql")) {
			return value{kind: objectValue, obj: newRequest(ev, node, value{}, &mssqlConvention), typ: "Request"}, true
		}
		return value{}, false
	case "callProcedure", "execSql", "execSqlBatch":
		for _, a := range args {
			if r, ok := a.obj.(*request); ok {
				r.sent(method == "callProcedure")
				return value{}, true
			}
		}
		return value{}, false
	case "prepare", "createStatement":
		if len(args) == 0 || notDatabase(recv) || !looksLikeStatement(args[0]) {
			return value{}, false
		}
		b := nodeStatement(ev, args[0], node)
		st := value{kind: objectValue, obj: &preparedStatement{b}}
		for _, a := range args {
			if a.kind == lambdaValue {
				ev.apply(a, []value{{kind: nullValue}, st}, node)
			}
		}
		return st, true
	case "func", "proc":
		if len(args) == 0 || notDatabase(recv) || !isTexty(args[0]) || !ev.u.has("pg-promise") && !ev.u.has("massive") {
			return value{}, false
		}
		b := nodeStatement(ev, args[0], node)
		b.isName, b.executed = true, true
		if len(args) > 1 {
			b.giveAll(ev, args[1:2], node)
		}
		return b.withResult(ev, args[1:], node), true
	}
	if !nodeTextMethods[method] || len(args) == 0 || notDatabase(recv) {
		return value{}, false
	}
	return nodeText(ev, args, node)
}

func nodeStatement(ev *evaluator, text value, node hostcode.NodeID) *bound {
	d := nodeDriver(ev.u)
	conv := &nodeConvention
	if d.dialect == signature.Oracle {
		conv = &oracledbConvention
	}
	b := newBound(ev, node, text, conv)
	b.dialect, b.style = d.dialect, d.style
	return b
}

// nodeText follows query(text, values, callback) and query({ text, values }).
func nodeText(ev *evaluator, args []value, node hostcode.NodeID) (value, bool) {
	text, rest := args[0], args[1:]
	if r, ok := text.obj.(*record); ok {
		found := false
		for _, k := range []string{"text", "sqlText", "sql", "query"} {
			if v, has := r.lookup(k); has {
				text, found = v, true
				break
			}
		}
		if !found {
			return value{}, false
		}
		var inside []value
		for _, k := range []string{"values", "binds", "parameters", "complete"} {
			if v, has := r.lookup(k); has {
				inside = append(inside, v)
			}
		}
		rest = append(inside, rest...)
	}
	if !looksLikeStatement(text) {
		return value{}, false
	}
	b := nodeStatement(ev, text, node)
	b.executed = true
	for i, a := range rest {
		if a.kind == lambdaValue || a.kind == nullValue {
			continue
		}
		if r, ok := a.obj.(*record); ok {
			used := false
			for _, k := range []string{"replacements", "bind"} {
				if v, has := r.lookup(k); has {
					b.style |= colonMarks
					b.giveAll(ev, []value{v}, node)
					used = true
				}
			}
			if used || i > 0 {
				continue
			}
			if len(r.keys) > 0 && isOptions(r) {
				continue
			}
		}
		if i == 0 {
			if _, isList := a.obj.(*list); isList || a.obj != nil {
				b.giveAll(ev, []value{a}, node)
			} else {
				b.giveAll(ev, valuesOnly(rest), node)
				break
			}
		}
	}
	return b.withResult(ev, rest, node), true
}

// isOptions tells the options of a query from its values.
func isOptions(r *record) bool {
	for _, k := range r.keys {
		switch k {
		case "type", "raw", "transaction", "autoCommit", "outFormat", "plain", "nest", "rowsAsArray", "timeout", "logging":
		default:
			return false
		}
	}
	return true
}

func valuesOnly(args []value) []value {
	var out []value
	for _, a := range args {
		if a.kind != lambdaValue {
			out = append(out, a)
		}
	}
	return out
}

// preparedStatement is a statement that is executed later.
type preparedStatement struct{ *bound }

func (p *preparedStatement) invoke(ev *evaluator, method string, args []value, node hostcode.NodeID) value {
	switch method {
	case "exec", "execute", "execQuery", "execBatch", "query", "run", "all", "get", "executeQuery", "executeUpdate":
		p.executed = true
		values := valuesOnly(args)
		if len(values) > 0 {
			p.giveAll(ev, values[:1], node)
		}
		return p.withResult(ev, args, node)
	case "getParameterValue":
		if len(args) == 1 && args[0].kind == intValue {
			return p.readOutput(ev, bindKey{index: int(args[0].n) + 1}, node)
		}
	}
	return value{}
}

// procedureProxy follows loadProcedure(connection, schema, name, callback), which
// gives a function that calls the procedure, and callProcedure(function, values).
func procedureProxy(ev *evaluator, method string, args []value, node hostcode.NodeID) (value, bool) {
	switch {
	case strings.Contains(method, "oadProcedure"):
		var texts []value
		for _, a := range args {
			if isTexty(a) || a.kind == nullValue {
				texts = append(texts, a)
			}
		}
		if len(texts) == 0 || texts[len(texts)-1].kind != textValue {
			return value{}, false
		}
		p := &proxy{name: texts[len(texts)-1]}
		if len(texts) > 1 {
			p.schema, _ = texts[len(texts)-2].constantText()
		}
		v := value{kind: objectValue, obj: p}
		for _, a := range args {
			if a.kind == lambdaValue {
				ev.apply(a, []value{{kind: nullValue}, v}, node)
			}
		}
		return v, true
	case strings.Contains(method, "allProcedure"):
		if len(args) > 0 {
			if p, ok := args[0].obj.(*proxy); ok {
				return p.called(ev, args[1:], node), true
			}
		}
	}
	return value{}, false
}

// proxy is a function that stands for a procedure.
type proxy struct {
	inert
	name   value
	schema string
}

func (p *proxy) called(ev *evaluator, args []value, node hostcode.NodeID) value {
	b := newBound(ev, node, p.name, &proxyConvention)
	b.isName, b.executed, b.dialect, b.schema = true, true, signature.HANA, p.schema
	if values := valuesOnly(args); len(values) > 0 {
		b.giveAll(ev, values, node)
	}
	return b.withResult(ev, args, node)
}

// nodeTagged follows sql`…` and $queryRaw`…`: what is joined in is bound.
func nodeTagged(ev *evaluator, recv value, method string, text value, node hostcode.NodeID) (value, bool) {
	tag := strings.ToLower(method)
	if tag != "sql" && !strings.Contains(tag, "queryraw") && !strings.Contains(tag, "executeraw") && tag != "query" && tag != "execute" {
		return value{}, false
	}
	if text.kind != textValue || !looksLikeStatement(text) {
		return value{}, false
	}
	b := nodeStatement(ev, value{}, node)
	b.style &^= noQuestion
	b.executed = true
	b.bindHoles(ev, text)
	return value{kind: objectValue, obj: &sqlResult{b: b}}, true
}

// bindHoles takes a text whose joined-in values are bound as arguments.
func (b *bound) bindHoles(ev *evaluator, text value) {
	flat := value{kind: textValue, typ: text.typ, tree: text.tree, node: text.node}
	n := 0
	for _, p := range text.parts {
		if !p.hole {
			flat.parts = append(flat.parts, p)
			continue
		}
		n++
		flat.parts = append(flat.parts, part{text: "?", tree: p.tree, node: p.node})
		d := b.bindAt(bindKey{index: n}, "")
		v := value{tree: p.tree, node: p.node, useTree: p.tree, use: p.node}
		if p.tree == ev.u {
			known := ev.eval(p.node)
			v.typ, v.kind = known.typ, known.kind
			if o, ok := known.obj.(outputObject); ok {
				d.at = ev.u.span(p.node)
				o.register(ev, b, d, p.node)
				continue
			}
		}
		d.setValue(v)
		d.at = p.tree.span(p.node)
	}
	b.text = flat
}
