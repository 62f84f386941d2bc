package callsite

import (
	"strings"

	"ramekin/internal/hostcode"
	"ramekin/internal/signature"
)

// phpClients follows PDO, mysqli, sqlsrv, oci8, pgsql, db2 and odbc, and the
// statement methods of the frameworks over them (PHP manual, "Database
// Extensions").
var phpClients = API{
	Name:  "php",
	Hosts: []string{"php"},
	Words: []string{"sqlsrv_", "oci_", "mysqli_", "db2_", "odbc_", "fbird_", "ibase_", "pg_query"},
	Weak:  []string{"->prepare", "->query", "->exec", "->multi_query", "DB::", "->executeQuery", "->executeStatement", "->fetch", "->select", "->statement", "->real_query"},
	create: func(*evaluator, string, []value, hostcode.NodeID) (value, bool) {
		return value{}, false
	},
	call: phpCall,
}

var phpDrivers = []driver{
	{"sqlsrv", signature.SQLServer, colonMarks}, {"dblib:", signature.SQLServer, colonMarks}, {"oci_", signature.Oracle, colonMarks}, {"oci:", signature.Oracle, colonMarks}, {"mysqli", signature.MySQL, 0}, {"mysql:", signature.MySQL, colonMarks},
	{"pgsql:", signature.PostgreSQL, colonMarks}, {"pg_query", signature.PostgreSQL, dollarMarks}, {"db2_", signature.Db2, 0}, {"ibm:", signature.Db2, colonMarks}, {"firebird:", signature.Firebird, colonMarks}, {"fbird_", signature.Firebird, 0},
}

var (
	pdoConvention    = Convention{API: "pdo", IndexFrom: 1, AddsSigil: true, Registers: "bindParam(…, PDO::PARAM_INPUT_OUTPUT, length)"}
	mysqliConvention = Convention{API: "mysqli", IndexFrom: 1, AddsSigil: true, Registers: "a variable of the session that is selected after the call"}
	sqlsrvConvention = Convention{API: "sqlsrv", IndexFrom: 1, AddsSigil: true, Registers: "array(&$v, SQLSRV_PARAM_OUT)"}
	oci8Convention   = Convention{API: "oci8", IndexFrom: 1, AddsSigil: true, Registers: "oci_bind_by_name(…, length)"}
	phpConvention    = Convention{API: "php", IndexFrom: 1, AddsSigil: true, Registers: "an output parameter"}
)

// phpFunctions are the functions that take a connection and a statement, with
// how they are bound.
var phpFunctions = map[string]*Convention{"mysqli_query": &mysqliConvention, "mysqli_prepare": &mysqliConvention, "mysqli_multi_query": &mysqliConvention, "mysqli_real_query": &mysqliConvention,
	"sqlsrv_query": &sqlsrvConvention, "sqlsrv_prepare": &sqlsrvConvention, "oci_parse": &oci8Convention, "ociparse": &oci8Convention, "pg_query": &phpConvention, "pg_query_params": &phpConvention,
	"pg_send_query": &phpConvention, "pg_send_query_params": &phpConvention, "db2_prepare": &phpConvention, "db2_exec": &phpConvention, "odbc_prepare": &phpConvention, "odbc_exec": &phpConvention, "fbird_query": &phpConvention, "ibase_query": &phpConvention, "fbird_prepare": &phpConvention}

var phpTextMethods = map[string]bool{"query": true, "exec": true, "multi_query": true, "real_query": true, "executeQuery": true, "executeStatement": true, "executeUpdate": true, "fetchAllAssociative": true,
	"fetchAssociative": true, "fetchOne": true, "fetchAll": true, "fetchNumeric": true, "fetchFirstColumn": true, "select": true, "selectOne": true, "statement": true, "unprepared": true, "raw": true, "insert": true, "update": true, "scalar": true, "selectResultSets": true}

func phpCall(ev *evaluator, recv value, method string, args []value, node hostcode.NodeID) (value, bool) {
	t := ev.u.tree
	fn := t.Child(node, 0)
	if t.Kind(fn) == hostcode.Name {
		return phpFunction(ev, method, args, node)
	}
	if t.Kind(fn) != hostcode.Member || len(args) == 0 || notDatabase(recv) || !looksLikeStatement(args[0]) {
		return value{}, false
	}
	conv := &pdoConvention
	if ev.u.has("mysqli") {
		conv = &mysqliConvention
	}
	switch {
	case method == "prepare":
		st := phpStatementOf(ev, args[0], conv, node)
		return value{kind: objectValue, obj: st}, true
	case phpTextMethods[method]:
		st := phpStatementOf(ev, args[0], conv, node)
		st.executed = true
		if len(args) > 1 {
			st.phpArguments(ev, args[1], node)
		}
		if method != "exec" && method != "executeStatement" && method != "statement" && method != "unprepared" && method != "query" && method != "multi_query" && method != "real_query" && method != "executeQuery" {
			return st.takeRows(ev, node), true
		}
		return value{kind: objectValue, obj: st}, true
	}
	return value{}, false
}

func phpStatementOf(ev *evaluator, text value, conv *Convention, node hostcode.NodeID) *phpStatement {
	d := driverOf(ev.u, phpDrivers)
	if conv == &pdoConvention {
		d.style |= colonMarks
	}
	b := newBound(ev, node, text, conv)
	b.dialect, b.style = d.dialect, d.style
	switch conv {
	case &sqlsrvConvention:
		b.dialect, b.style = signature.SQLServer, 0
	case &oci8Convention:
		b.dialect, b.style = signature.Oracle, colonMarks
	}
	return &phpStatement{b}
}

// phpFunction follows the functions of the extensions.
func phpFunction(ev *evaluator, name string, args []value, node hostcode.NodeID) (value, bool) {
	lower := strings.ToLower(name)
	if conv := phpFunctions[lower]; conv != nil {
		for i, a := range args {
			if i > 1 || !looksLikeStatement(a) {
				continue
			}
			st := phpStatementOf(ev, a, conv, node)
			st.executed = !strings.HasSuffix(lower, "prepare") && lower != "oci_parse" && lower != "ociparse"
			if len(args) > i+1 {
				st.phpArguments(ev, args[i+1], node)
			}
			return value{kind: objectValue, obj: st}, true
		}
		return value{}, false
	}
	var st *phpStatement
	if len(args) > 0 {
		for _, f := range args[0].forks() {
			if s, ok := f.obj.(*phpStatement); ok {
				st = s
			}
		}
	}
	if st == nil {
		return value{}, false
	}
	switch lower {
	case "oci_bind_by_name", "ocibindbyname":
		st.bindVariable(ev, args[1:], node)
	case "oci_execute", "sqlsrv_execute", "mysqli_stmt_execute", "db2_execute", "odbc_execute", "ociexecute":
		st.executed = true
		if len(args) > 1 && lower != "oci_execute" {
			st.phpArguments(ev, args[1], node)
		}
	case "mysqli_stmt_bind_param":
		st.bindTyped(ev, args[1:], node)
	case "db2_bind_param":
		if len(args) > 2 && args[1].kind == intValue {
			d := st.give(ev, bindKey{index: int(args[1].n)}, "", args[2], node)
			if len(args) > 3 && strings.Contains(sourceText(args[3]), "OUT") {
				d.registered, d.direction = true, Out
				if strings.Contains(sourceText(args[3]), "INOUT") {
					d.direction = InOut
				}
				st.markRead(d)
			}
		}
	case "sqlsrv_fetch_array", "sqlsrv_fetch", "sqlsrv_fetch_object", "oci_fetch_array", "oci_fetch_all", "oci_fetch_assoc", "oci_fetch_row", "oci_fetch", "oci_fetch_object", "mysqli_fetch_assoc",
		"mysqli_fetch_all", "mysqli_fetch_array", "mysqli_fetch_row", "mysqli_stmt_get_result", "mysqli_stmt_fetch", "pg_fetch_all", "pg_fetch_assoc", "pg_fetch_result", "pg_fetch_row", "pg_fetch_array",
		"db2_fetch_assoc", "db2_fetch_array", "db2_fetch_row", "odbc_fetch_array", "odbc_fetch_row", "odbc_result", "mysqli_use_result", "mysqli_store_result", "fbird_fetch_assoc", "ibase_fetch_assoc":
		st.readsRows, st.rowsEscape = true, true
		return st.takeRows(ev, node), true
	case "sqlsrv_next_result", "sqlsrv_free_stmt", "oci_free_statement", "mysqli_stmt_close":
	default:
		return value{}, false
	}
	return value{typ: "bool"}, true
}

// phpStatement is a statement of PDO, mysqli and the others.
type phpStatement struct{ *bound }

func (st *phpStatement) markRead(d *bind) {
	st.reads[d.key] = append(st.reads[d.key], Read{At: d.at, Kind: signature.KindUnknown})
}

func (st *phpStatement) invoke(ev *evaluator, method string, args []value, node hostcode.NodeID) value {
	self := value{kind: objectValue, obj: st}
	switch method {
	case "bindValue":
		if len(args) > 1 {
			if key, name, ok := phpKey(args[0]); ok {
				d := st.give(ev, key, name, args[1], node)
				if len(args) > 2 {
					d.phpType(args[2])
				}
			} else {
				st.open = "the index of a placeholder is worked out when the program runs"
			}
		}
	case "bindParam":
		if len(args) > 1 {
			st.bindVariable(ev, args, node)
		}
	case "bind_param":
		st.bindTyped(ev, args, node)
	case "execute", "executeQuery", "executeStatement":
		st.executed = true
		if len(args) > 0 {
			st.phpArguments(ev, args[0], node)
		}
		if method != "execute" {
			return self
		}
	case "fetch", "fetchAll", "fetchColumn", "fetchObject", "get_result", "fetch_assoc", "fetch_all", "fetch_row", "fetch_array", "fetch_object", "bind_result", "store_result", "use_result", "setFetchMode", "fetchAssociative", "fetchAllAssociative", "fetchOne", "fetchNumeric":
		return st.takeRows(ev, node)
	case "nextRowset", "next_result", "more_results", "closeCursor", "close", "free", "rowCount":
		return value{}
	}
	return self
}

// phpArguments binds what execute and the like are given: a list or a map.
func (st *phpStatement) phpArguments(ev *evaluator, v value, node hostcode.NodeID) {
	switch o := v.obj.(type) {
	case *list:
		if o.open {
			st.open = "the arguments are made at run time"
		}
		for i, item := range o.items {
			st.phpArgument(ev, bindKey{index: i + 1}, item, node)
		}
	case *record:
		for _, k := range o.keys {
			st.giveOne(ev, nameKey(k), strings.TrimPrefix(k, ":"), o.values[k], node)
		}
	default:
		if v.kind != nullValue {
			st.open = "the arguments are made at run time"
		}
	}
}

// phpArgument binds one element; sqlsrv has a list of the value, its direction
// and types.
func (st *phpStatement) phpArgument(ev *evaluator, key bindKey, item value, node hostcode.NodeID) {
	l, ok := item.obj.(*list)
	if !ok || len(l.items) == 0 {
		st.giveOne(ev, key, "", item, node)
		return
	}
	d := st.bindAt(key, "")
	d.at = ev.u.span(node)
	if item.use != 0 && item.useTree == ev.u {
		d.at = ev.u.span(item.use)
	}
	out := ""
	if len(l.items) > 1 {
		out = sourceText(l.items[1])
	}
	if !strings.HasSuffix(out, "PARAM_OUT") {
		d.setValue(l.items[0])
	}
	switch {
	case strings.HasSuffix(out, "INOUT"):
		d.registered, d.direction = true, InOut
	case strings.HasSuffix(out, "OUT"):
		d.registered, d.direction = true, Out
	}
	if d.registered {
		st.markRead(d)
	}
	for _, t := range l.items[min(2, len(l.items)):] {
		d.phpType(t)
	}
}

// phpType notes a type constant: PDO::PARAM_INT, SQLSRV_SQLTYPE_INT.
func (d *bind) phpType(v value) {
	word := sourceText(v)
	for _, prefix := range []string{"PDO::", "ParameterType::", "SQLSRV_SQLTYPE_", "SQLSRV_PHPTYPE_", "Types::"} {
		word = strings.TrimPrefix(word, prefix)
	}
	word, _, _ = strings.Cut(word, "|")
	word, _, _ = strings.Cut(strings.TrimSpace(word), "(")
	switch k, national := scriptType(value{kind: symbolValue, sym: word}); {
	case word == "PARAM_STR" || word == "PARAM_INT" || word == "PARAM_BOOL": // what the driver sends, not what it declares
		if d.kind == signature.KindUnknown {
			d.kind = k
		}
	default:
		d.setType(k, national)
	}
}

// phpKey is the place that a key names: a number from 1, or a name.
func phpKey(v value) (bindKey, string, bool) {
	if v.kind == intValue {
		return bindKey{index: int(v.n)}, "", true
	}
	if text, ok := v.constantText(); ok {
		return nameKey(text), strings.TrimPrefix(text, ":"), true
	}
	return bindKey{}, "", false
}

// bindVariable follows bindParam(key, variable, type, length) and
// oci_bind_by_name(key, variable, length, type). The variable may go both ways.
func (st *phpStatement) bindVariable(ev *evaluator, args []value, node hostcode.NodeID) {
	if len(args) < 2 {
		return
	}
	key, name, ok := phpKey(args[0])
	if !ok {
		st.open = "the name of a placeholder is worked out when the program runs"
		return
	}
	d := st.give(ev, key, name, args[1], node)
	oci := st.conv == &oci8Convention
	both := oci
	for i, a := range args[2:] {
		text := sourceText(a)
		if strings.Contains(text, "INPUT_OUTPUT") {
			both = true
		}
		if a.kind == intValue && a.n > 0 && (i == 1 || oci && i == 0) {
			d.size, d.hasSize = int(a.n), true
			both = true
		}
		if i == 0 && !oci || i == 1 && oci {
			d.phpType(a)
		}
	}
	if both {
		d.registered, d.direction = true, InOut
		st.markRead(d)
		st.byReference = append(st.byReference, d)
	}
}

// bindTyped follows bind_param("is", $a, $b) of mysqli.
func (st *phpStatement) bindTyped(ev *evaluator, args []value, node hostcode.NodeID) {
	if len(args) == 0 {
		return
	}
	types, _ := args[0].constantText()
	for i, a := range args[1:] {
		if a.spread {
			st.open = "the arguments are made at run time"
			return
		}
		at := node
		if a.use != 0 && a.useTree == ev.u {
			at = a.use
		}
		d := st.give(ev, bindKey{index: i + 1}, "", a, at)
		if i < len(types) && d.kind == signature.KindUnknown {
			d.kind = map[byte]signature.Kind{'i': signature.KindInt64, 'd': signature.KindFloat64, 's': signature.KindString, 'b': signature.KindBytes}[types[i]]
			if d.kind == "" {
				d.kind = signature.KindUnknown
			}
		}
	}
}

func (st *phpStatement) iterate(ev *evaluator, node hostcode.NodeID) value {
	return st.takeRows(ev, node)
}

func (st *phpStatement) get(*evaluator, string, hostcode.NodeID) value    { return value{} }
func (st *phpStatement) set(*evaluator, string, value, hostcode.NodeID)   {}
func (st *phpStatement) index(*evaluator, []value, hostcode.NodeID) value { return value{} }
