package callsite

import (
	"strings"
	"unicode"

	"ramekin/internal/hostcode"
	"ramekin/internal/signature"
)

// dbapi follows cursors of Python's database modules (PEP 249), what the
// drivers add to it, and SQLAlchemy.
var dbapi = API{
	Name:  "dbapi",
	Hosts: []string{"python"},
	Words: []string{"callproc", "callfunc", "sqlalchemy", "read_sql", "exec_driver_sql", "pyodbc", "psycopg", "oracledb", "cx_Oracle", "pymssql", "pymysql", "mysql.connector", "hdbcli"},
	Weak:  []string{".execute", ".fetchrow(", ".fetchval(", ".fetch("},
	create: func(*evaluator, string, []value, hostcode.NodeID) (value, bool) {
		return value{}, false
	},
	call: dbapiCall,
}

// driver is a database module with the dialect it speaks and the marks that it
// takes for placeholders.
type driver struct {
	word    string
	dialect signature.Dialect
	style   placeholderStyle
}

var pythonDrivers = []driver{
	{"psycopg", signature.PostgreSQL, percentMarks | noQuestion}, {"asyncpg", signature.PostgreSQL, dollarMarks | noQuestion}, {"pg8000", signature.PostgreSQL, percentMarks | colonMarks},
	{"pymysql", signature.MySQL, percentMarks}, {"mysql.connector", signature.MySQL, percentMarks}, {"MySQLdb", signature.MySQL, percentMarks}, {"import mariadb", signature.MariaDB, percentMarks},
	{"cx_Oracle", signature.Oracle, colonMarks}, {"oracledb", signature.Oracle, colonMarks},
	{"pymssql", signature.SQLServer, percentMarks}, {"snowflake", signature.Snowflake, percentMarks | colonMarks}, {"hdbcli", signature.HANA, colonMarks},
	{"ibm_db", signature.Db2, 0}, {"firebirdsql", signature.Firebird, 0}, {"import fdb", signature.Firebird, 0}, {"firebird.driver", signature.Firebird, 0}, {"teradatasql", signature.Teradata, 0},
	{"pyodbc", "", 0},
}

// driverOf is the one driver that a file uses, by the words in its text.
func driverOf(u *unit, drivers []driver) driver {
	found := driver{style: percentMarks | colonMarks}
	n := 0
	for _, d := range drivers {
		if u.has(d.word) {
			found = d
			n++
		}
	}
	if n > 1 {
		return driver{style: percentMarks | colonMarks}
	}
	return found
}

var (
	dbapiConvention      = Convention{API: "dbapi", IndexFrom: 0, AddsSigil: true, Registers: "cursor.var(…)"}
	sqlalchemyConvention = Convention{API: "sqlalchemy", IndexFrom: 0, AddsSigil: true, ByName: true, Registers: "outparam(…)"}
)

// textMethods are the methods of cursors and connections that take a statement.
var pythonTextMethods = map[string]bool{"execute": true, "executemany": true, "exec_driver_sql": true, "read_sql": true, "read_sql_query": true,
	"fetch": true, "fetchrow": true, "fetchval": true, "raw": true, "scalar": true, "scalars": true, "execute_async": true}

func dbapiCall(ev *evaluator, recv value, method string, args []value, node hostcode.NodeID) (value, bool) {
	t := ev.u.tree
	fn := t.Child(node, 0)
	if t.Kind(fn) == hostcode.Name { // a bare function, as it was imported
		sym := ev.name(fn)
		switch {
		case method == "text" && strings.HasSuffix(sym.sym, ".text") && len(args) > 0:
			return value{kind: objectValue, obj: &clause{text: args[0], binds: newRecord(ev.u, node)}}, true
		case method == "outparam" && len(args) > 0:
			return value{kind: objectValue, obj: &pythonVar{}}, true
		case (method == "read_sql" || method == "read_sql_query") && len(args) > 0:
			return newCursor(ev).text(ev, args, node), true
		}
		return value{}, false
	}
	if v, ok := sqlFunction(ev, recv, method, args, node); ok {
		return v, true
	}
	switch {
	case method == "cursor":
		c := newCursor(ev)
		return value{kind: objectValue, obj: c}, true
	case method == "var" && len(args) > 0 && (isCursorName(recv.sym) || recv.param):
		return cursorVar(args), true
	case method == "output" && len(args) > 0 && recv.sym == "pymssql":
		v := &pythonVar{}
		v.kind, _ = scriptType(args[0])
		return value{kind: objectValue, obj: v}, true
	case method == "text" && strings.HasSuffix(recv.sym, "sqlalchemy") && len(args) > 0:
		return value{kind: objectValue, obj: &clause{text: args[0], binds: newRecord(ev.u, node)}}, true
	case method == "callproc", method == "callfunc":
		if len(args) == 0 || notDatabase(recv) {
			return value{}, false
		}
	case pythonTextMethods[method]:
		if len(args) == 0 || notDatabase(recv) || !looksLikeStatement(args[0]) {
			return value{}, false
		}
	default:
		return value{}, false
	}
	c := newCursor(ev)
	ev.adopt(fn, value{kind: objectValue, obj: c})
	return c.invoke(ev, method, args, node), true
}

// notDatabase reports whether a receiver is something that runs other things
// than statements.
func notDatabase(v value) bool {
	if v.kind == lambdaValue || v.kind == textValue || v.kind == intValue {
		return true
	}
	if _, ok := v.obj.(*record); ok {
		return true
	}
	other := false
	for _, word := range nameWords(lastWord(v)) {
		if databaseWords[word] {
			return false
		}
		other = other || otherWords[word]
	}
	return other
}

// databaseWords are parts of the names of what runs statements, otherWords those
// of what runs other things.
var (
	databaseWords = map[string]bool{"db": true, "database": true, "conn": true, "connection": true, "cursor": true, "cur": true, "pool": true, "client": true, "session": true, "sql": true, "pdo": true, "stmt": true, "tx": true}
	otherWords    = map[string]bool{"log": true, "logger": true, "shell": true, "subprocess": true, "console": true, "command": true, "job": true, "task": true, "thread": true, "executor": true,
		"ssh": true, "runner": true, "mock": true, "printer": true, "parser": true, "expect": true}
)

// nameWords are the words that a name is made of: two for shipLog and ship_log.
func nameWords(name string) []string {
	var words []string
	var b strings.Builder
	end := func() {
		if b.Len() > 0 {
			words = append(words, b.String())
			b.Reset()
		}
	}
	for i, r := range name {
		switch {
		case r == '_' || r == '$' || r == '.':
			end()
			continue
		case unicode.IsUpper(r) && i > 0 && !unicode.IsUpper(rune(name[i-1])):
			end()
		}
		b.WriteRune(unicode.ToLower(r))
	}
	end()
	return words
}

// withoutRoutines are databases that have no stored routines: what a file that
// uses only such a one runs are no calls.
var withoutRoutines = []string{"sqlite3", "sqlite:", "better-sqlite", "aiosqlite", "duckdb", "go-sqlite"}

// usesOnlyWithoutRoutines reports whether a file's database has no stored
// routines, so that a function in a query is the program's own.
func usesOnlyWithoutRoutines(u *unit) bool {
	for _, drivers := range [][]driver{pythonDrivers, nodeDrivers, phpDrivers, goDrivers} {
		if d := driverOf(u, drivers); d.word != "" {
			return false
		}
	}
	for _, w := range withoutRoutines {
		if u.has(w) {
			return true
		}
	}
	return false
}

// looksLikeStatement reports whether a value can be a statement's text: one that
// is known must have a word that calls.
func looksLikeStatement(v value) bool {
	known, yes := false, false
	for _, f := range v.forks() {
		switch {
		case f.kind == textValue:
			known = true
			lower := strings.ToLower(f.shownText())
			for _, w := range []string{"call", "exec", "select", "begin", "declare", "perform"} {
				yes = yes || strings.Contains(lower, w)
			}
		case f.obj != nil:
			if _, ok := f.obj.(*clause); ok {
				return true
			}
		}
	}
	return yes && known
}

func isCursorName(s string) bool {
	s = strings.ToLower(s)
	return strings.Contains(s, "cur") || strings.Contains(s, "conn")
}

// adopt puts an object in the place of the receiver of the call of fn, so that
// what the program does with it later is seen too.
func (ev *evaluator) adopt(fn hostcode.NodeID, v value) {
	t := ev.u.tree
	base := t.Child(fn, 0)
	switch t.Kind(base) {
	case hostcode.Name:
		if have := ev.lookup(t.Name(base)); have != nil {
			if have.v.obj == nil {
				v.typ, v.param = have.v.typ, have.v.param
				ev.assignTo(have, v)
			}
			return
		}
		if _, ok := ev.u.globals[t.Name(base)]; !ok && len(ev.scopes) > 0 {
			ev.define(t.Name(base), v)
		}
	case hostcode.Member:
		if inner := t.Child(base, 0); t.Kind(inner) == hostcode.Self || t.Text(inner) == "this" {
			if _, ok := ev.fields[t.Name(base)]; !ok && ev.fields != nil {
				ev.fields[t.Name(base)] = v
			}
		}
	}
}

// clause is a statement text of SQLAlchemy.
type clause struct {
	inert
	text  value
	binds *record
}

func (c *clause) invoke(_ *evaluator, method string, args []value, node hostcode.NodeID) value {
	if method == "bindparams" || method == "params" {
		for _, a := range args {
			if a.argName != "" {
				c.binds.add(a.argName, a, node)
			}
		}
	}
	return value{kind: objectValue, obj: c}
}

// sqlFunction follows func.schema.name(arguments) of SQLAlchemy.
func sqlFunction(ev *evaluator, recv value, method string, args []value, node hostcode.NodeID) (value, bool) {
	if recv.kind != symbolValue {
		return value{}, false
	}
	_, rest, ok := strings.Cut(recv.sym+".", "sqlalchemy.func.")
	if !ok {
		if _, rest, ok = strings.Cut(recv.sym+".", "sqlalchemy.sql.func."); !ok {
			return value{}, false
		}
	}
	name := strings.TrimSuffix(rest, ".")
	if name == "" && sqlBuiltIn(method) || name == "" && sqlGeneric[method] {
		return value{}, false
	}
	full := strings.TrimPrefix(name+"."+method, ".")
	fn := ev.u.tree.Child(node, 0)
	text := value{kind: textValue, typ: "str", tree: ev.u, node: fn, parts: []part{{text: full, tree: ev.u, node: fn}}}
	b := newBound(ev, node, text, &sqlalchemyConvention)
	b.isName, b.executed = true, true
	b.dialect = driverOf(ev.u, pythonDrivers).dialect
	b.readsRows, b.rowsEscape = true, true
	for i, a := range args {
		b.giveOne(ev, bindKey{index: i + 1}, "", a, node)
	}
	return value{}, true
}

// sqlGeneric are functions that SQLAlchemy knows itself.
var sqlGeneric = map[string]bool{"now": true, "count": true, "sum": true, "max": true, "min": true, "coalesce": true}

// cursor is a cursor of a database module, with the statement it ran last.
type cursor struct {
	inert
	driver driver
	cur    *bound
}

func newCursor(ev *evaluator) *cursor {
	return &cursor{driver: driverOf(ev.u, pythonDrivers)}
}

// cursorVar is cursor.var(type, size).
func cursorVar(args []value) value {
	v := &pythonVar{}
	for i, a := range args {
		switch {
		case i == 0 || a.argName == "typ":
			v.kind, v.national = scriptType(a)
		case i == 1 || a.argName == "size":
			v.hasSize = true
			if a.kind == intValue {
				v.size = int(a.n)
			}
		}
	}
	return value{kind: objectValue, obj: v}
}

func (c *cursor) invoke(ev *evaluator, method string, args []value, node hostcode.NodeID) value {
	self := value{kind: objectValue, obj: c}
	switch method {
	case "cursor", "connect", "begin", "__enter__", "execution_options", "connection":
		return self
	case "var", "arrayvar":
		return cursorVar(args)
	case "callproc", "callfunc":
		return c.procedure(ev, method, args, node)
	case "stored_results", "fetchone", "fetchall", "fetchmany", "nextset", "next", "mappings", "first", "one", "all", "scalar", "scalars", "one_or_none", "scalar_one", "scalar_one_or_none", "fetch_pandas_all":
		if pythonTextMethods[method] && len(args) > 0 && looksLikeStatement(args[0]) {
			return c.text(ev, args, node)
		}
		if c.cur != nil {
			if method != "nextset" {
				return c.cur.takeRows(ev, node)
			}
			c.cur.readsRows, c.cur.rowsEscape = true, true
		}
		return value{}
	case "close", "commit", "rollback", "setinputsizes", "setoutputsize", "prepare", "__exit__":
		return value{}
	}
	if pythonTextMethods[method] && len(args) > 0 {
		return c.text(ev, args, node)
	}
	return value{}
}

// procedure follows callproc(name, arguments) and callfunc(name, type, arguments).
func (c *cursor) procedure(ev *evaluator, method string, args []value, node hostcode.NodeID) value {
	if len(args) == 0 {
		return value{}
	}
	b := newBound(ev, node, args[0], &dbapiConvention)
	b.isName, b.executed, b.dialect = true, true, c.driver.dialect
	c.cur = b
	rest := args[1:]
	if method == "callfunc" {
		b.canCapture = true
		d := b.bindAt(statusKey, "")
		d.direction, d.registered, d.at = Return, true, ev.u.span(node)
		if len(rest) > 0 {
			if k, national := scriptType(rest[0]); k != signature.KindUnknown {
				d.setType(k, national)
			}
			rest = rest[1:]
		}
	}
	// What MySQL's drivers are given they keep in variables of the session, which
	// go both ways.
	b.inOut = b.dialect == signature.MySQL || b.dialect == signature.MariaDB
	for i, a := range rest {
		switch o := a.obj.(type) {
		case *list:
			b.giveList(ev, o, node)
		case *record:
			b.giveRecord(ev, o, node)
		default:
			if i == 0 || a.argName == "parameters" || a.argName == "args" || a.argName == "keyword_parameters" || a.argName == "keywordParameters" {
				if a.kind != nullValue {
					b.open = "the arguments are made at run time"
				}
			}
		}
	}
	if method == "callfunc" {
		return b.readOutput(ev, statusKey, node)
	}
	return value{kind: objectValue, obj: &callResult{b: b}}
}

// callResult is what callproc returns: the arguments as the routine left them.
type callResult struct {
	inert
	b *bound
}

func (r *callResult) index(ev *evaluator, args []value, node hostcode.NodeID) value {
	if len(args) == 1 {
		if args[0].kind == intValue {
			return r.b.readOutput(ev, bindKey{index: int(args[0].n) + 1}, node)
		}
		if text, ok := args[0].constantText(); ok {
			return r.b.readOutput(ev, nameKey(text), node)
		}
	}
	r.escape("")
	return value{}
}

func (r *callResult) part(ev *evaluator, name string, i int, node hostcode.NodeID) value {
	if i >= 0 {
		return r.b.readOutput(ev, bindKey{index: i + 1}, node)
	}
	return r.b.readOutput(ev, nameKey(name), node)
}

func (r *callResult) iterate(*evaluator, hostcode.NodeID) value {
	r.escape("")
	return value{}
}

// escape counts as a read of every output.
func (r *callResult) escape(string) {
	for _, d := range r.b.binds {
		if len(r.b.reads[d.key]) == 0 {
			r.b.reads[d.key] = []Read{{At: d.at, Kind: signature.KindUnknown}}
		}
		r.b.use(d.key).escapes = true
	}
}

// text follows execute(statement, arguments).
func (c *cursor) text(ev *evaluator, args []value, node hostcode.NodeID) value {
	text, conv, style := args[0], &dbapiConvention, c.driver.style
	var preset *record
	if cl, ok := text.obj.(*clause); ok {
		text, conv, style, preset = cl.text, &sqlalchemyConvention, colonMarks, cl.binds
	}
	b := newBound(ev, node, text, conv)
	b.executed, b.dialect, b.style = true, c.driver.dialect, style
	c.cur = b
	if preset != nil && len(preset.keys) > 0 {
		b.giveRecord(ev, preset, node)
	}
	var rest []value
	for _, a := range args[1:] {
		switch a.argName {
		case "":
			rest = append(rest, a)
		case "params", "parameters", "vars", "args", "seq_of_params", "bindparams":
			rest = append(rest, a)
		case "con", "multi", "map_results", "execution_options", "bind_arguments", "timeout", "prepare", "many", "index_col", "parse_dates", "chunksize", "named_params":
		default: // a bind by name
			b.giveOne(ev, nameKey(a.argName), a.argName, a, node)
		}
	}
	if name := ev.u.tree.Name(ev.u.tree.Child(node, 0)); strings.HasPrefix(name, "read_sql") && len(rest) > 0 {
		rest = rest[1:] // the connection
	}
	if len(rest) == 1 { // many rows of arguments: the first stands for all
		if l, ok := rest[0].obj.(*list); ok && len(l.items) > 0 {
			switch l.items[0].obj.(type) {
			case *list, *record:
				rest = l.items[:1]
			}
		}
	}
	b.giveAll(ev, rest, node)
	switch ev.u.tree.Name(ev.u.tree.Child(node, 0)) {
	case "fetch", "fetchrow", "fetchval", "scalar", "scalars", "read_sql", "read_sql_query", "raw":
		return b.takeRows(ev, node)
	}
	return value{kind: objectValue, obj: c}
}

func (c *cursor) iterate(ev *evaluator, node hostcode.NodeID) value {
	if c.cur != nil {
		return c.cur.takeRows(ev, node)
	}
	return value{}
}

func (c *cursor) escape(reason string) {
	if c.cur != nil {
		c.cur.rowsEscape, c.cur.readsRows = true, true
	}
}

// pythonVar is an output variable of a cursor.
type pythonVar struct {
	inert
	kind     signature.Kind
	national bool
	size     int
	hasSize  bool
	b        *bound
	key      bindKey
	preset   *value
}

func (v *pythonVar) register(ev *evaluator, b *bound, d *bind, _ hostcode.NodeID) {
	v.b, v.key = b, d.key
	d.register(Out)
	d.setType(v.kind, v.national)
	d.size, d.hasSize = v.size, v.hasSize
	if v.preset != nil {
		d.setValue(*v.preset)
		d.direction = InOut
	}
}

func (v *pythonVar) invoke(ev *evaluator, method string, args []value, node hostcode.NodeID) value {
	switch method {
	case "getvalue":
		if v.b != nil {
			return v.b.readOutput(ev, v.key, node)
		}
	case "setvalue":
		if len(args) > 1 {
			preset := args[1]
			v.preset = &preset
		}
	}
	return value{}
}

func (v *pythonVar) get(ev *evaluator, member string, node hostcode.NodeID) value {
	if (member == "values" || member == "value") && v.b != nil {
		return v.b.readOutput(ev, v.key, node)
	}
	return value{}
}
func (v *pythonVar) escape(string) {
	if v.b != nil {
		v.b.reads[v.key] = append(v.b.reads[v.key], Read{Kind: signature.KindUnknown})
	}
}
