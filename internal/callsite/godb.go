package callsite

import (
	"ramekin/internal/hostcode"
	"ramekin/internal/signature"
)

// goSQL follows database/sql, what is built on it, and pgx: statements with
// arguments behind them, sql.Named, sql.Out and the return status of SQL
// Server's driver.
var goSQL = API{
	Name:   "go-sql",
	Hosts:  []string{"go"},
	Words:  []string{"go-mssqldb", "sql.Named(", "sql.Out{"},
	Weak:   []string{".Exec", ".Query", ".Prepare", ".MustExec", ".NamedExec", ".NamedQuery", ".Raw(", ".Get(", ".Select(", ".Queue("},
	create: goCreate,
	call:   goCall,
}

var goDrivers = []driver{
	{"go-mssqldb", signature.SQLServer, 0}, {"go-sql-driver/mysql", signature.MySQL, 0}, {"lib/pq", signature.PostgreSQL, dollarMarks | noQuestion}, {"jackc/pgx", signature.PostgreSQL, dollarMarks | noQuestion},
	{"godror", signature.Oracle, colonMarks}, {"go-ora", signature.Oracle, colonMarks}, {"gosnowflake", signature.Snowflake, 0}, {"go-hdb", signature.HANA, 0},
	{"firebirdsql", signature.Firebird, 0}, {"go_ibm_db", signature.Db2, 0},
}

var goConvention = Convention{Captures: "Pass a *mssql.ReturnStatus behind the arguments and look at it.", API: "go-sql", IndexFrom: 1, AddsSigil: true, Registers: "sql.Out{Dest: &v}"}

// goTextMethods say at which argument the statement may stand.
var goTextMethods = map[string]int{"Exec": 1, "ExecContext": 1, "Query": 1, "QueryContext": 1, "QueryRow": 1, "QueryRowContext": 1, "Prepare": 1, "PrepareContext": 1,
	"MustExec": 0, "MustExecContext": 1, "NamedExec": 0, "NamedExecContext": 1, "NamedQuery": 0, "Queryx": 0, "QueryxContext": 1, "QueryRowx": 0, "QueryRowxContext": 1, "Preparex": 0,
	"Get": 2, "GetContext": 2, "Select": 2, "SelectContext": 2, "Raw": 0, "Queue": 0}

func goCreate(_ *evaluator, typ string, _ []value, _ hostcode.NodeID) (value, bool) {
	if typ == "Out" {
		return value{kind: objectValue, obj: &goOut{}, typ: typ}, true
	}
	return value{}, false
}

// goOut is sql.Out{Dest: &v, In: true}.
type goOut struct {
	inert
	dest *reference
	in   bool
}

func (o *goOut) set(_ *evaluator, member string, v value, _ hostcode.NodeID) {
	switch member {
	case "Dest":
		o.dest, _ = v.obj.(*reference)
	case "In":
		o.in = sourceText(v) == "true"
	}
}

func (o *goOut) register(ev *evaluator, b *bound, d *bind, _ hostcode.NodeID) {
	d.registered, d.direction = true, Out
	if o.dest != nil {
		if k := hostKind(o.dest.v.typ); k != signature.KindUnknown {
			d.kind = k
		}
		if o.in {
			d.setValue(o.dest.v)
			d.value = o.dest.text()
		}
	}
	if o.in {
		d.valued, d.direction = true, InOut
	}
	b.reads[d.key] = append(b.reads[d.key], Read{At: d.at, Kind: signature.KindUnknown})
}

// goNamed is sql.Named(name, value).
type goNamed struct {
	goOut
	name string
	v    value
}

func goCall(ev *evaluator, recv value, method string, args []value, node hostcode.NodeID) (value, bool) {
	t := ev.u.tree
	if t.Kind(t.Child(node, 0)) != hostcode.Member {
		return value{}, false
	}
	if method == "Named" && len(args) == 2 && (recv.sym == "sql" || recv.sym == "mssql") {
		if name, ok := args[0].constantText(); ok {
			return value{kind: objectValue, obj: &goNamed{name: name, v: args[1]}}, true
		}
		return value{spread: true}, true
	}
	last, ok := goTextMethods[method]
	if !ok || notDatabase(recv) {
		return value{}, false
	}
	at := -1
	for i := 0; i <= last && i < len(args); i++ {
		if looksLikeStatement(args[i]) || isTexty(args[i]) && goName(args[i]) && ev.u.has("mssql") {
			at = i
			break
		}
	}
	if at < 0 {
		return value{}, false
	}
	d := driverOf(ev.u, goDrivers)
	if d.word == "" {
		d.style = dollarMarks | colonMarks
	}
	if method == "NamedExec" || method == "NamedQuery" || method == "NamedExecContext" {
		d.style |= colonMarks
	}
	b := newBound(ev, node, args[at], &goConvention)
	b.dialect, b.style, b.byVariable, b.executed = d.dialect, d.style, true, true
	b.maybeName = d.dialect == signature.SQLServer || ev.u.has("mssql")
	b.canCapture = b.maybeName
	if method == "Prepare" || method == "PrepareContext" || method == "Preparex" {
		b.executed = false
		return value{kind: objectValue, obj: &goStatement{b}}, true
	}
	b.goArguments(ev, args[at+1:], node)
	if method == "Get" || method == "Select" || method == "GetContext" || method == "SelectContext" {
		b.takeRows(ev, node)
		return value{}, true
	}
	return value{kind: objectValue, obj: &goResult{b: b, method: method}}, true
}

// goName reports whether a text is the bare name of a routine.
func goName(v value) bool {
	text, ok := v.constantText()
	return ok && plainName.MatchString(text) && !isWordStatement(text)
}

// goArguments binds what stands behind the text.
func (b *bound) goArguments(ev *evaluator, args []value, node hostcode.NodeID) {
	n := 0
	for _, a := range args {
		at := node
		if a.use != 0 && a.useTree == ev.u {
			at = a.use
		}
		if a.spread {
			b.open = "the arguments are made at run time"
			continue
		}
		switch o := a.obj.(type) {
		case *goNamed:
			n++
			d := b.bindAt(nameKey(o.name), o.name)
			d.at = ev.u.span(at)
			if out, ok := o.v.obj.(outputObject); ok {
				out.register(ev, b, d, at)
			} else {
				d.setValue(o.v)
			}
			continue
		case *record:
			b.giveRecord(ev, o, node)
			continue
		case *reference:
			if o.v.typ == "ReturnStatus" {
				d := b.bindAt(statusKey, "")
				d.direction, d.registered, d.at, d.kind = Return, true, ev.u.span(at), signature.KindInt32
				b.reads[statusKey] = append(b.reads[statusKey], Read{At: d.at, Kind: signature.KindInt32})
				b.use(statusKey).escapes = true
				continue
			}
		}
		n++
		b.giveOne(ev, bindKey{index: n}, "", a, at)
	}
}

// goResult is what a statement gives back, with an error beside it.
type goResult struct {
	inert
	b      *bound
	method string
}

func (r *goResult) part(_ *evaluator, _ string, i int, _ hostcode.NodeID) value {
	if i > 0 {
		return value{}
	}
	return value{kind: objectValue, obj: r}
}

func (r *goResult) invoke(ev *evaluator, method string, _ []value, node hostcode.NodeID) value {
	switch method {
	case "Next", "Scan", "NextResultSet", "StructScan", "MapScan", "SliceScan", "Columns", "ScanRow", "Rows", "Find", "First", "Values":
		r.b.takeRows(ev, node)
	}
	return value{kind: objectValue, obj: r}
}

func (r *goResult) escape(string) {
	if r.method != "Exec" && r.method != "ExecContext" {
		r.b.readsRows, r.b.rowsEscape = true, true
	}
}

// goStatement is a prepared statement.
type goStatement struct{ *bound }

func (s *goStatement) part(_ *evaluator, _ string, i int, _ hostcode.NodeID) value {
	if i > 0 {
		return value{}
	}
	return value{kind: objectValue, obj: s}
}

func (s *goStatement) invoke(ev *evaluator, method string, args []value, node hostcode.NodeID) value {
	switch method {
	case "ExecContext", "QueryContext", "QueryRowContext":
		if len(args) > 0 {
			args = args[1:]
		}
	case "Exec", "Query", "QueryRow":
	default:
		return value{}
	}
	s.executed = true
	s.goArguments(ev, args, node)
	return value{kind: objectValue, obj: &goResult{b: s.bound, method: method}}
}
