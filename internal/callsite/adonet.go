package callsite

import (
	"regexp"
	"strings"

	"ramekin/internal/hostcode"
	"ramekin/internal/signature"
	"ramekin/internal/sqlcall"
	"ramekin/internal/sqltext"
)

// adonet follows commands and parameters of System.Data.Common and the
// providers built on it (".NET documentation, DbCommand, DbParameter").
var adonet = API{
	Name:   "adonet",
	Hosts:  []string{"csharp", "vb"},
	Words:  []string{"CommandType", "SqlCommand", "DbCommand", "OdbcCommand", "OracleCommand", "NpgsqlCommand", "CreateCommand"},
	enums:  []string{"CommandType", "ParameterDirection", "SqlDbType", "DbType", "MySqlDbType", "OdbcType", "OleDbType", "OracleDbType", "NpgsqlDbType", "CommandBehavior"},
	create: adonetCreate,
	call:   adonetCall,
}

// provider is what one ADO.NET provider does in its own way.
type provider struct {
	prefix     string
	dialect    signature.Dialect
	positional bool
	conv       Convention
}

// providers by the prefix of their types; the first is for code that is written
// against the common base.
var providers = []provider{
	{prefix: "Db", conv: Convention{API: "adonet", ByName: true, OutputsLast: true, Registers: "Direction = ParameterDirection.Output"}},
	{prefix: "IDb", conv: Convention{API: "adonet", ByName: true, OutputsLast: true, Registers: "Direction = ParameterDirection.Output"}},
	// SqlParameter.Size: required for output parameters of variable length.
	{prefix: "Sql", dialect: signature.SQLServer, conv: Convention{API: "adonet", ByName: true, AddsSigil: true, OutputsLast: true, NeedsSize: true, NullAsksDefault: true, Registers: "Direction = ParameterDirection.Output"}},
	{prefix: "MySql", dialect: signature.MySQL, conv: Convention{API: "adonet", ByName: true, AddsSigil: true, OutputsLast: true, Registers: "Direction = ParameterDirection.Output"}},
	{prefix: "Odbc", positional: true, conv: Convention{API: "adonet", OutputsLast: true, NeedsSize: true, Registers: "Direction = ParameterDirection.Output", IndexFrom: 0}},
	{prefix: "OleDb", positional: true, conv: Convention{API: "adonet", OutputsLast: true, NeedsSize: true, Registers: "Direction = ParameterDirection.Output", IndexFrom: 0}},
	{prefix: "Npgsql", conv: Convention{API: "adonet", ByName: true, AddsSigil: true, Registers: "Direction = ParameterDirection.Output"}},
	{prefix: "Oracle", positional: true, conv: Convention{API: "adonet", NeedsSize: true, Registers: "Direction = ParameterDirection.Output"}},
}

var adonetTypes = regexp.MustCompile(`^(I?Db|Sql|MySql|Odbc|OleDb|Npgsql|Oracle)(Command|Parameter|Connection|DataAdapter|CommandBuilder)$`)

// providerOf returns the provider of a type, and which of its types it is.
func providerOf(typ string) (*provider, string) {
	m := adonetTypes.FindStringSubmatch(typ)
	if m == nil {
		return nil, ""
	}
	for i := range providers {
		if providers[i].prefix == m[1] {
			return &providers[i], m[2]
		}
	}
	return nil, ""
}

// adonetKinds are the members of DbType and of the providers' type enums.
var adonetKinds = map[string]signature.Kind{
	"bit": signature.KindBool, "boolean": signature.KindBool, "bool": signature.KindBool,
	"tinyint": signature.KindUint8, "byte": signature.KindUint8, "ubyte": signature.KindUint8, "unsignedtinyint": signature.KindUint8, "sbyte": signature.KindInt8,
	"smallint": signature.KindInt16, "int16": signature.KindInt16, "year": signature.KindInt16, "uint16": signature.KindUint16,
	"int": signature.KindInt32, "int32": signature.KindInt32, "integer": signature.KindInt32, "int24": signature.KindInt32, "uint32": signature.KindUint32, "uint24": signature.KindUint32,
	"bigint": signature.KindInt64, "int64": signature.KindInt64, "uint64": signature.KindUint64,
	"decimal": signature.KindDecimal, "numeric": signature.KindDecimal, "money": signature.KindDecimal, "smallmoney": signature.KindDecimal, "currency": signature.KindDecimal, "newdecimal": signature.KindDecimal, "varnumeric": signature.KindDecimal,
	"real": signature.KindFloat32, "single": signature.KindFloat32, "float": signature.KindFloat64, "double": signature.KindFloat64,
	"char": signature.KindString, "varchar": signature.KindString, "text": signature.KindString, "nchar": signature.KindString, "nvarchar": signature.KindString, "ntext": signature.KindString,
	"string": signature.KindString, "ansistring": signature.KindString, "stringfixedlength": signature.KindString, "ansistringfixedlength": signature.KindString,
	"varstring": signature.KindString, "tinytext": signature.KindString, "mediumtext": signature.KindString, "longtext": signature.KindString,
	"wchar": signature.KindString, "varwchar": signature.KindString, "longvarchar": signature.KindString, "longvarwchar": signature.KindString, "bstr": signature.KindString, "enum": signature.KindString, "set": signature.KindString,
	"binary": signature.KindBytes, "varbinary": signature.KindBytes, "image": signature.KindBytes, "timestamp_": signature.KindBytes, "blob": signature.KindBytes, "longvarbinary": signature.KindBytes, "tinyblob": signature.KindBytes, "mediumblob": signature.KindBytes, "longblob": signature.KindBytes,
	"date": signature.KindDate, "dbdate": signature.KindDate, "newdate": signature.KindDate, "time": signature.KindTime, "dbtime": signature.KindTime,
	"datetime": signature.KindTimestamp, "datetime2": signature.KindTimestamp, "smalldatetime": signature.KindTimestamp, "dbtimestamp": signature.KindTimestamp,
	"datetimeoffset": signature.KindTimestampTZ, "guid": signature.KindUUID, "uniqueidentifier": signature.KindUUID, "xml": signature.KindXML, "json": signature.KindJSON,
	"variant": signature.KindAny, "object": signature.KindAny, "structured": signature.KindTable, "udt": signature.KindUser, "geometry": signature.KindSpatial,
}

// adonetType reads an argument that names a type: SqlDbType.Int.
func adonetType(v value) (kind signature.Kind, national, ok bool) {
	if v.kind != symbolValue {
		return "", false, false
	}
	enum, member, found := strings.Cut(v.sym, ".")
	for found && strings.Contains(member, ".") {
		enum, member, _ = strings.Cut(member, ".")
	}
	if !found || !strings.HasSuffix(enum, "Type") {
		return "", false, false
	}
	name := strings.ToLower(member)
	if name == "timestamp" {
		name = "datetime"
		if enum == "SqlDbType" {
			name = "timestamp_"
		}
	}
	kind, known := adonetKinds[name]
	if !known {
		kind = signature.KindUnknown
	}
	national = strings.HasPrefix(name, "n") && kind == signature.KindString || strings.Contains(name, "wchar") || enum == "DbType" && strings.HasPrefix(name, "string")
	return kind, national, true
}

// parameter is one parameter object.
type parameter struct {
	p         *provider
	cmd       *command
	u         *unit
	made      Span
	name      string
	nameKnown bool
	kind      signature.Kind
	explicit  bool
	national  bool
	hasType   bool
	size      int
	hasSize   bool
	sizeFrom  int
	direction string
	dirAt     Span
	valued    bool
	value     string
	valueKind signature.Kind
	isNull    bool
	hostNull  bool
	valueText int // length of a known text value, -1 where it is not known
	// b and key are the statement that the parameter went to where it is no
	// command's, and its place there.
	b   *bound
	key bindKey
}

// command is one command object.
type command struct {
	site
	p       *provider
	params  []*parameter
	ctype   string
	derived bool
	// settled is set where the command has run and was made ready for another
	// call, which has not run yet.
	settled bool
	// byNameSet is set where the program asks for parameters by name.
	byNameSet bool
}

// settle keeps what the command stands for so far as a call of its own, where it
// has run: the program goes on to use it for another.
func (c *command) settle(ev *evaluator) {
	if !c.executed {
		return
	}
	done := *c
	done.params = append([]*parameter(nil), c.params...)
	ev.p.sites = append(ev.p.sites, &done)
	c.site.uses, c.site.reads, c.site.readOrder = map[bindKey]*use{}, map[bindKey][]Read{}, nil
	c.executed, c.rowsOpen, c.readsRows, c.rowsEscape, c.columns, c.countUsed, c.open = false, false, false, false, nil, nil, ""
	c.settled = true
}

func adonetCreate(ev *evaluator, typ string, args []value, node hostcode.NodeID) (value, bool) {
	p, what := providerOf(typ)
	if p == nil || ev.p.classes[typ] != nil {
		return value{}, false
	}
	switch what {
	case "Command":
		c := newCommand(ev, p, node)
		if len(args) > 0 {
			c.setText(ev, args[0])
		}
		return value{kind: objectValue, obj: c, typ: typ}, true
	case "Parameter":
		q := newParameter(ev, p, args, node)
		return value{kind: objectValue, obj: q, typ: typ}, true
	case "DataAdapter":
		if len(args) > 0 {
			if c, ok := args[0].obj.(*command); ok {
				return value{kind: objectValue, obj: &adapter{c}, typ: typ}, true
			}
		}
		c := newCommand(ev, p, node)
		if len(args) > 0 {
			c.setText(ev, args[0])
		}
		return value{kind: objectValue, obj: &adapter{c}, typ: typ}, true
	}
	return value{}, false
}

func newCommand(ev *evaluator, p *provider, node hostcode.NodeID) *command {
	c := &command{site: newSite(ev, node, value{}), p: p}
	ev.p.sites = append(ev.p.sites, c)
	return c
}

// adonetCall follows connection.CreateCommand() and DeriveParameters(command).
func adonetCall(ev *evaluator, recv value, method string, args []value, node hostcode.NodeID) (value, bool) {
	switch method {
	case "CreateCommand":
		if len(args) > 0 {
			return value{}, false
		}
		typ := recv.typ
		if typ == "" && recv.kind == symbolValue {
			typ = ev.fieldType(recv.sym)
		}
		p, what := providerOf(typ)
		if p == nil {
			if typ != "" && typ != "var" && !strings.HasSuffix(typ, "Connection") && !strings.HasSuffix(typ, "Factory") || !usesAdonet(ev.u) {
				return value{}, false
			}
			p = &providers[0]
		} else if what != "Connection" {
			return value{}, false
		}
		return value{kind: objectValue, obj: newCommand(ev, p, node), typ: p.prefix + "Command"}, true
	case "DeriveParameters":
		for _, a := range args {
			if c, ok := a.obj.(*command); ok {
				c.derived = true
				return value{}, true
			}
		}
	}
	return value{}, false
}

func usesAdonet(u *unit) bool {
	for _, w := range []string{"System.Data", "Data.SqlClient", "DbCommand", "DbConnection", "MySqlConnector", "MySql.Data", "CommandType"} {
		if u.has(w) {
			return true
		}
	}
	return false
}

func (c *command) setText(ev *evaluator, v value) {
	if v.kind != textValue && len(v.alts) == 0 {
		if v.node == 0 {
			return
		}
	}
	c.settle(ev)
	c.text = v
}

// assigned is v with the place where the assignment at node takes it from.
func assigned(ev *evaluator, v value, node hostcode.NodeID) value {
	if ev.u.tree.Kind(node) == hostcode.Assign && !v.fromCaller {
		v.useTree, v.use = ev.u, ev.u.tree.Child(node, 1)
	}
	return v
}

func (c *command) get(ev *evaluator, member string, node hostcode.NodeID) value {
	switch member {
	case "Parameters":
		return value{kind: objectValue, obj: &parameterList{c}}
	case "CommandText":
		return c.text
	case "Connection", "Transaction":
		return value{typ: c.p.prefix + member}
	}
	return value{}
}

func (c *command) set(ev *evaluator, member string, v value, node hostcode.NodeID) {
	switch member {
	case "CommandText":
		c.setText(ev, assigned(ev, v, node))
	case "BindByName":
		c.byNameSet = strings.EqualFold(sourceText(assigned(ev, v, node)), "true")
	case "CommandType":
		c.ctype = "?"
		if v.kind == symbolValue && strings.HasPrefix(v.sym, "CommandType.") || strings.Contains(v.sym, ".CommandType.") {
			c.ctype = v.sym[strings.LastIndexByte(v.sym, '.')+1:]
		}
	}
}

func (c *command) invoke(ev *evaluator, method string, args []value, node hostcode.NodeID) value {
	switch method {
	case "ExecuteNonQuery", "ExecuteNonQueryAsync", "EndExecuteNonQuery":
		c.executed = true
		return value{typ: "int", origin: &origin{site: &c.site, key: bindKey{index: changedRows}}}
	case "ExecuteScalar", "ExecuteScalarAsync":
		c.executed = true
		c.readsRows, c.rowsAt = true, ev.u.span(node)
		return value{typ: "object"}
	case "ExecuteReader", "ExecuteReaderAsync", "ExecuteXmlReader", "ExecuteXmlReaderAsync":
		c.executed, c.rowsOpen = true, true
		return value{kind: objectValue, obj: &rows{&c.site}, typ: c.p.prefix + "DataReader"}
	case "CreateParameter":
		return value{kind: objectValue, obj: newParameter(ev, c.p, nil, node), typ: c.p.prefix + "Parameter"}
	case "Prepare", "PrepareAsync", "Cancel", "Dispose", "DisposeAsync", "ResetCommandTimeout":
		return value{}
	case "Clone":
		c.escape("it is cloned")
		return value{}
	}
	if v, ok := ev.extension(value{kind: objectValue, obj: c, typ: c.p.prefix + "Command"}, method, args); ok {
		return v
	}
	if addsSomething(method) {
		c.open = "the method " + method + " may add parameters, and is not in the files that were read"
	}
	return value{}
}

// addsSomething reports whether a method that is not known may add parameters.
func addsSomething(method string) bool {
	for _, prefix := range []string{"Add", "With", "Set", "Bind", "Fill", "Attach", "Derive"} {
		if strings.HasPrefix(method, prefix) {
			return true
		}
	}
	return false
}

// changedRows is the bind index under which the count of changed rows is followed.
const changedRows = -1000

func (c *command) index(*evaluator, []value, hostcode.NodeID) value { return value{} }
func (c *command) close(*evaluator)                                 {}

// adapter is a data adapter over a command.
type adapter struct{ c *command }

func (a *adapter) invoke(ev *evaluator, method string, _ []value, node hostcode.NodeID) value {
	switch method {
	case "Fill", "FillAsync", "FillSchema":
		a.c.executed = true
		a.c.readsRows, a.c.rowsAt, a.c.rowsEscape = true, ev.u.span(node), true
	}
	return value{}
}

func (a *adapter) get(_ *evaluator, member string, _ hostcode.NodeID) value {
	if member == "SelectCommand" {
		return value{kind: objectValue, obj: a.c}
	}
	return value{}
}

func (a *adapter) set(_ *evaluator, member string, v value, _ hostcode.NodeID) {
	if c, ok := v.obj.(*command); ok && member == "SelectCommand" {
		a.c = c
	}
}
func (a *adapter) index(*evaluator, []value, hostcode.NodeID) value { return value{} }
func (a *adapter) escape(reason string)                             { a.c.escape(reason) }
func (a *adapter) close(*evaluator)                                 {}

// newParameter makes a parameter from the arguments of its constructor, or of
// Parameters.Add.
func newParameter(ev *evaluator, p *provider, args []value, node hostcode.NodeID) *parameter {
	q := &parameter{p: p, u: ev.u, made: ev.u.span(node), direction: "Input", valueText: -1, kind: signature.KindUnknown, valueKind: signature.KindUnknown}
	if len(args) > 0 {
		q.setName(args[0])
	}
	if len(args) > 1 {
		if kind, national, ok := adonetType(args[1]); ok {
			q.setType(kind, national)
		} else {
			q.setValue(args[1])
		}
	}
	if len(args) > 2 && args[2].kind == intValue {
		q.size, q.hasSize = int(args[2].n), true
	}
	for i, a := range args { // the long constructors
		if i > 2 && a.kind == symbolValue && strings.Contains(a.sym, "ParameterDirection.") {
			q.setDirection(a, q.made)
			if len(args) > i+1 {
				q.setValue(args[len(args)-1])
			}
		}
	}
	return q
}

func (q *parameter) setName(v value) {
	if text, ok := v.constantText(); ok {
		q.name, q.nameKnown = text, true
	} else {
		q.nameKnown = false
	}
}

func (q *parameter) setType(kind signature.Kind, national bool) {
	q.kind, q.national, q.explicit, q.hasType = kind, national, true, true
}

func (q *parameter) setValue(v value) {
	q.valued = true
	q.value = sourceText(v)
	q.valueKind = valueKindOf(v)
	q.isNull, q.hostNull, q.valueText = false, false, -1
	switch {
	case v.kind == nullValue:
		q.isNull, q.hostNull = true, true
	case v.kind == symbolValue && strings.HasSuffix(v.sym, "DBNull.Value"):
		q.isNull = true
	}
	if text, ok := v.constantText(); ok {
		q.valueText = len([]rune(text))
	}
	if v.kind == symbolValue && (v.sym == "String.Empty" || v.sym == "string.Empty") {
		q.valueText, q.valueKind = 0, signature.KindString
	}
}

func (q *parameter) setDirection(v value, at Span) {
	q.direction = "?"
	if v.kind == symbolValue {
		q.direction = v.sym[strings.LastIndexByte(v.sym, '.')+1:]
	}
	q.dirAt = at
}

func (q *parameter) nameKey() bindKey { return nameKey(q.name) }

// register hands what the parameter says to a bind of another API.
func (q *parameter) register(_ *evaluator, b *bound, d *bind, _ hostcode.NodeID) {
	if q.nameKnown {
		d.name, d.key = q.name, q.nameKey()
	}
	q.b, q.key = b, d.key
	a := q.argument()
	d.direction, d.valued, d.registered, d.kind, d.explicit, d.national = a.Direction, a.Valued, a.Registered, a.Kind, a.Explicit, a.National
	d.size, d.hasSize, d.value, d.isNull, d.hostNull = a.Size, a.HasSize, a.Value, a.IsNull, a.HostNull
}

func (q *parameter) get(ev *evaluator, member string, node hostcode.NodeID) value {
	switch member {
	case "Value", "SqlValue":
		if q.b != nil {
			return q.b.readOutput(ev, q.key, node)
		}
		if q.cmd == nil {
			return value{}
		}
		return q.cmd.read(ev, q.nameKey(), signature.KindUnknown, node)
	case "Direction":
		return value{kind: symbolValue, sym: "ParameterDirection." + q.direction}
	}
	return value{}
}

func (q *parameter) set(ev *evaluator, member string, v value, node hostcode.NodeID) {
	switch member {
	case "ParameterName":
		q.setName(v)
	case "Value", "SqlValue":
		q.setValue(assigned(ev, v, node))
	case "Direction":
		q.setDirection(v, ev.u.span(node))
	case "Size":
		if v.kind == intValue {
			q.size = int(v.n)
		}
		q.hasSize = true
		if v.kind != intValue {
			q.size = 0
			q.sizeFrom = 1 // a size that is worked out
		}
	case "DbType", "SqlDbType", "MySqlDbType", "OdbcType", "OleDbType", "OracleDbType", "NpgsqlDbType":
		if kind, national, ok := adonetType(v); ok {
			q.setType(kind, national)
		} else {
			q.explicit, q.hasType = true, true
		}
	}
}

func (q *parameter) invoke(*evaluator, string, []value, hostcode.NodeID) value { return value{} }
func (q *parameter) index(*evaluator, []value, hostcode.NodeID) value          { return value{} }
func (q *parameter) close(*evaluator)                                          {}
func (q *parameter) escape(reason string) {
	if q.cmd != nil {
		q.cmd.use(q.nameKey()).escapes = true
		q.cmd.reads[q.nameKey()] = append(q.cmd.reads[q.nameKey()], Read{At: q.made, Kind: signature.KindUnknown})
	}
}

// parameterList is a command's Parameters.
type parameterList struct{ c *command }

func (l *parameterList) invoke(ev *evaluator, method string, args []value, node hostcode.NodeID) value {
	c := l.c
	switch method {
	case "Add", "AddWithValue", "Insert":
		if method == "Insert" && len(args) == 2 {
			args = args[1:]
		}
		if len(args) == 1 {
			var out value
			for _, f := range args[0].forks() {
				if q, ok := f.obj.(*parameter); ok {
					l.attach(q)
					out = f
				}
			}
			if out.obj == nil {
				c.open = "a parameter is made where it cannot be seen"
			}
			return out
		}
		q := newParameter(ev, c.p, args, node)
		if !q.nameKnown && len(args) > 0 {
			c.open = "the name of a parameter is worked out when the program runs"
		}
		if ev.loops > 0 && !q.nameKnown {
			return value{kind: objectValue, obj: q}
		}
		l.attach(q)
		return value{kind: objectValue, obj: q, typ: c.p.prefix + "Parameter"}
	case "AddRange":
		for _, a := range args {
			for _, e := range a.elements() {
				if q, ok := e.obj.(*parameter); ok {
					l.attach(q)
				} else {
					c.open = "the parameters are made where they cannot be seen"
				}
			}
		}
	case "Clear":
		c.settle(ev)
		c.params = nil
	case "Contains", "IndexOf":
	default:
		if v, ok := ev.extension(value{kind: objectValue, obj: l}, method, args); ok {
			return v
		}
		if addsSomething(method) {
			c.open = "the method " + method + " may add parameters, and is not in the files that were read"
		}
	}
	return value{}
}

func (l *parameterList) elementType() string { return l.c.p.prefix + "Parameter" }

func (l *parameterList) attach(q *parameter) {
	q.cmd = l.c
	l.c.params = append(l.c.params, q)
}

func (l *parameterList) get(*evaluator, string, hostcode.NodeID) value  { return value{} }
func (l *parameterList) set(*evaluator, string, value, hostcode.NodeID) {}
func (l *parameterList) escape(reason string)                           { l.c.escape(reason) }
func (l *parameterList) close(*evaluator)                               {}

func (l *parameterList) index(ev *evaluator, args []value, node hostcode.NodeID) value {
	if len(args) != 1 {
		return value{}
	}
	if name, ok := args[0].constantText(); ok {
		for _, q := range l.c.params {
			if q.nameKnown && strings.EqualFold(q.name, name) {
				return value{kind: objectValue, obj: q}
			}
		}
		for _, q := range l.c.params { // providers that add the sigil find it without
			if q.nameKnown && nameKey(q.name) == nameKey(name) && l.c.p.conv.AddsSigil {
				return value{kind: objectValue, obj: q}
			}
		}
		stray := &parameter{p: l.c.p, cmd: l.c, u: ev.u, made: ev.u.span(node), name: name, nameKnown: true}
		return value{kind: objectValue, obj: stray}
	}
	if args[0].kind == intValue && args[0].n >= 0 && int(args[0].n) < len(l.c.params) {
		return value{kind: objectValue, obj: l.c.params[args[0].n]}
	}
	return value{}
}

var plainName = regexp.MustCompile(`^\s*(\[[^\]]+\]|"[^"]+"|` + "`[^`]+`" + `|[\pL_#@$][\pL\pN_#@$]*)(\s*\.\s*(\[[^\]]*\]|"[^"]*"|` + "`[^`]*`" + `|[\pL_#@$]?[\pL\pN_#@$]*))*(\s*;\s*\d+)?\s*;?\s*$`)

func (c *command) finish() []*Call {
	if c.settled && !c.executed {
		return nil
	}
	if c.derived {
		c.open = "the parameters are filled in from the server when the program runs"
	}
	var calls []*Call
	for _, text := range c.text.forks() {
		calls = append(calls, c.finishText(text)...)
	}
	return calls
}

// hasOutputs reports whether a parameter takes something back, as those of a
// routine do.
func (c *command) hasOutputs() bool {
	for _, q := range c.params {
		if q.direction != "Input" {
			return true
		}
	}
	return false
}

func (c *command) finishText(text value) []*Call {
	if text.kind != textValue {
		if c.ctype != "StoredProcedure" && !c.hasOutputs() {
			return nil
		}
		if text.node == 0 {
			text.node, text.tree = c.node, c.u
		}
		call := unresolvedText(&c.site, text)
		c.common(call)
		c.byName(call)
		return []*Call{call}
	}
	sql := text.sqlText()
	bare := plainName.MatchString(sql)
	if c.ctype == "StoredProcedure" || c.ctype == "?" && bare {
		return []*Call{c.procedure(text, sql)}
	}
	if c.ctype == "TableDirect" {
		return nil
	}
	if bare && c.ctype == "" && len(c.params) > 0 {
		call := c.procedure(text, sql)
		call.Bare = true
		return []*Call{call}
	}
	lex := hostLexis(sql)
	if c.p.dialect == signature.MySQL {
		lex = &sqltext.MySQL
	}
	style := placeholderStyle(0)
	if c.p.prefix == "Oracle" || c.p.prefix == "Npgsql" {
		style = colonMarks
	}
	flat, marks := canonical(sql, style)
	var calls []*Call
	for _, sc := range sqlcall.All([]byte(flat), lex) {
		if !sc.Dynamic {
			calls = append(calls, c.textCall(text, sql, marks, &sc))
		}
	}
	return calls
}

// common fills in what is the same for every kind of command.
func (c *command) common(call *Call) {
	call.API, call.Conv, call.Dialect = "adonet", &c.p.conv, c.p.dialect
	call.CanCapture = true
	call.Derived = c.derived
	call.StatusArg = -1
	if u := c.uses[bindKey{index: changedRows}]; u != nil && len(u.comparisons) > 0 {
		at := u.comparisons[0].at
		call.CountUsed = &at
	}
}

// procedure is a command whose text is a routine's name.
func (c *command) procedure(text value, sql string) *Call {
	call := &Call{State: Named}
	c.describe(call)
	call.Text = strings.TrimSpace(text.shownText())
	call.At = call.Use
	if p, ok := text.partAt(len(sql) - 1); ok && p.node != 0 {
		call.At = p.tree.span(p.node)
	}
	c.common(call)
	if sqlcall.HasHole(sql) {
		call.State = Unresolved
		call.Reason = "the routine's name is only known when the program runs: " + clipText(call.Text, 80)
	} else {
		call.Name = dottedParts(sql)
	}
	c.byName(call)
	return call
}

func dottedParts(sql string) []string {
	s := sqltext.NewScanner([]byte(sql), hostLexis(sql))
	var tokens []sqltext.Token
	for t := s.Next(); t.Kind != sqltext.EOF; t = s.Next() {
		tokens = append(tokens, t)
	}
	cur := sqltext.NewCursor([]byte(sql), hostLexis(sql), tokens)
	parts := cur.DottedName()
	if cur.AtOp(';') && cur.Ahead(1).Kind == sqltext.Number && len(parts) > 0 {
		if n := cur.Text(cur.Ahead(1)); n != "1" {
			parts[len(parts)-1] += ";" + n
		}
	}
	if len(parts) == 0 || !cur.Done() && !cur.AtOp(';') {
		return []string{strings.TrimSpace(sql)}
	}
	return parts
}

// byName makes an argument of each parameter of the command.
func (c *command) byName(call *Call) {
	position := 0
	for _, q := range c.params {
		a := q.argument()
		if a.Direction == Return {
			call.Captures, call.CaptureAt = true, a.At
			call.StatusArg = len(call.Arguments)
			call.Status = c.statusUse(q.nameKey())
			a.Position = 0
		} else {
			position++
			a.Position = position
		}
		if c.p.positional && !c.byNameSet && a.Direction != Return {
			a.Name = ""
		}
		a.Reads = c.reads[q.nameKey()]
		call.Arguments = append(call.Arguments, a)
	}
	for _, k := range c.readOrder {
		known := false
		for _, q := range c.params {
			known = known || q.nameKey() == k
		}
		if !known {
			call.Strays = append(call.Strays, Bind{Name: k.name, Index: -1, Read: true, At: c.reads[k][0].At})
		}
	}
}

// argument describes the parameter as an argument of a call.
func (q *parameter) argument() Argument {
	a := Argument{Name: q.name, Form: Bound, At: q.made, ValueAt: q.made, Valued: q.valued, Value: q.value, Explicit: q.explicit,
		National: q.national, Size: q.size, HasSize: q.hasSize, IsNull: q.isNull, HostNull: q.hostNull, Kind: q.kind}
	if !q.hasType && q.valued {
		a.Kind = q.valueKind
		if !q.hasSize && q.valueText >= 0 {
			a.SizeFromValue = true
		}
	}
	switch q.direction {
	case "Output":
		a.Direction, a.Registered = Out, true
		a.Value = ""
	case "InputOutput":
		a.Direction, a.Registered = InOut, true
	case "ReturnValue":
		a.Direction, a.Registered = Return, true
		a.Value = ""
	default:
		a.Direction = In
	}
	if q.sizeFrom > 0 {
		a.Size = -1
	}
	return a
}

// textCall is a call that stands in a command's text.
func (c *command) textCall(text value, sql string, marks map[int]mark, sc *sqlcall.Call) *Call {
	call := newTextCall(&c.site, text, sql, sc)
	c.common(call)
	if sc.Verb == "expression" {
		call.CanCapture = false
	}
	used := map[*parameter]bool{}
	find := func(name string) *parameter {
		for _, q := range c.params {
			if q.nameKnown && nameKey(q.name) == nameKey(name) {
				used[q] = true
				return q
			}
		}
		return nil
	}
	next := 0
	nextPositional := func() *parameter {
		if next >= len(c.params) {
			return nil
		}
		q := c.params[next]
		next++
		used[q] = true
		return q
	}
	placed := func(offset int) *parameter {
		if m := marks[offset]; m.name != "" && (c.byNameSet || !c.p.positional) {
			return find(m.name)
		}
		return nextPositional()
	}
	if sc.Verb == "expression" && sc.Return == "" || sc.Start > 0 { // those of what stands before
		for off, m := range marks {
			if off < min(sc.Start, max(sc.ReturnStart, 0)) || sc.Return == "" && off < sc.Start {
				if m.name == "" || c.p.positional && !c.byNameSet {
					nextPositional()
				}
			}
		}
	}
	if sc.Return != "" {
		var q *parameter
		if sc.ReturnIsVariable {
			q = find(sc.Return)
		} else {
			q = placed(sc.ReturnStart)
		}
		if q != nil {
			a := q.argument()
			a.Direction = Return
			a.Reads = c.reads[q.nameKey()]
			call.Captures, call.CaptureAt = true, a.At
			call.Status = c.statusUse(q.nameKey())
			call.StatusArg = 0
			call.Arguments = append(call.Arguments, a)
		} else {
			call.Captures = true
			call.Status = &StatusUse{Escapes: true}
		}
	}
	for i, sa := range sc.Arguments {
		a := textArgument(c.u, text, sql, sa, i+1)
		var q *parameter
		switch sa.Kind {
		case sqlcall.Placeholder:
			q = placed(sa.ValueStart)
		case sqlcall.Variable:
			q = find(sa.Text)
		}
		switch {
		case q != nil:
			name, position, outWord := a.Name, a.Position, a.OutWord
			b := q.argument()
			b.Name, b.Position, b.OutWord = name, position, outWord
			b.Reads = c.reads[q.nameKey()]
			if sa.Kind == sqlcall.Variable && b.Registered && !outWord && c.p.conv.ByName && sc.Verb == "exec" {
				b.Direction = In // without the word in the text nothing comes back
			}
			a = b
		case sa.Kind == sqlcall.Placeholder:
			a.Form, a.Direction, a.Value, a.Valued = Bound, Unset, "", false
		case sa.Kind == sqlcall.Variable && sc.Verb != "expression" && !declaresVariable(sql, sa.Text) && strings.HasPrefix(sa.Text, "@"):
			a.Form, a.Direction, a.Valued = Bound, Unset, false
			if c.p.dialect == signature.MySQL {
				a.Form, a.Direction, a.Valued = Variable, In, true // a user variable
			}
		}
		call.Arguments = append(call.Arguments, a)
	}
	call.Placeholder = len(marks)
	for _, q := range c.params {
		if !used[q] && q.direction == "ReturnValue" {
			at := q.made
			call.LostCapture = &at
		}
	}
	return call
}

// declaresVariable reports whether a text declares a variable itself.
func declaresVariable(sql, name string) bool {
	src := []byte(sql)
	s := sqltext.NewScanner(src, &sqltext.SQLServer)
	declaring := false
	for t := s.Next(); t.Kind != sqltext.EOF; t = s.Next() {
		switch {
		case t.Kw == sqltext.DECLARE:
			declaring = true
		case t.Kind == sqltext.Punct && t.Op == ';', t.Kw == sqltext.EXEC, t.Kw == sqltext.EXECUTE, t.Kw == sqltext.SET, t.Kw == sqltext.SELECT:
			declaring = false
		case declaring && t.Kind == sqltext.Variable && strings.EqualFold(t.Text(src), name):
			return true
		}
	}
	return false
}
