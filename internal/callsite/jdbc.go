package callsite

import (
	"strings"

	"ramekin/internal/hostcode"
	"ramekin/internal/signature"
	"ramekin/internal/sqlcall"
	"ramekin/internal/sqltext"
)

// jdbc follows java.sql: call text with placeholders counted from 1, where the
// place for the result is the first (JDBC 4.3 specification, 13.3
// "CallableStatement objects").
var jdbc = API{
	Name:   "jdbc",
	Hosts:  []string{"java"},
	Words:  []string{"prepareCall", "CallableStatement", "prepareStatement", "createStatement"},
	enums:  []string{"Types", "JDBCType", "OracleTypes"},
	create: func(*evaluator, string, []value, hostcode.NodeID) (value, bool) { return value{}, false },
	call:   jdbcCall,
}

var jdbcConvention = Convention{API: "jdbc", IndexFrom: 1, AddsSigil: true, Registers: "registerOutParameter"}

// jdbcTypes are the members of java.sql.Types and of the drivers' own.
var jdbcTypes = map[string]signature.Kind{
	"BIT": signature.KindBool, "BOOLEAN": signature.KindBool, "TINYINT": signature.KindUint8, "SMALLINT": signature.KindInt16,
	"INTEGER": signature.KindInt32, "BIGINT": signature.KindInt64, "REAL": signature.KindFloat32, "FLOAT": signature.KindFloat64,
	"DOUBLE": signature.KindFloat64, "NUMERIC": signature.KindDecimal, "DECIMAL": signature.KindDecimal, "MONEY": signature.KindDecimal, "SMALLMONEY": signature.KindDecimal,
	"CHAR": signature.KindString, "VARCHAR": signature.KindString, "LONGVARCHAR": signature.KindString, "CLOB": signature.KindString,
	"NCHAR": signature.KindString, "NVARCHAR": signature.KindString, "LONGNVARCHAR": signature.KindString, "NCLOB": signature.KindString,
	"BINARY": signature.KindBytes, "VARBINARY": signature.KindBytes, "LONGVARBINARY": signature.KindBytes, "BLOB": signature.KindBytes,
	"DATE": signature.KindDate, "TIME": signature.KindTime, "TIMESTAMP": signature.KindTimestamp, "DATETIME": signature.KindTimestamp, "SMALLDATETIME": signature.KindTimestamp,
	"TIMESTAMP_WITH_TIMEZONE": signature.KindTimestampTZ, "TIME_WITH_TIMEZONE": signature.KindTime, "DATETIMEOFFSET": signature.KindTimestampTZ,
	"GUID": signature.KindUUID, "SQLXML": signature.KindXML, "ARRAY": signature.KindArray, "STRUCT": signature.KindRecord,
	"REF_CURSOR": signature.KindCursor, "STRUCTURED": signature.KindTable,
}

// jdbcCodes are the values of the commonest members, for code that writes them out.
var jdbcCodes = map[int64]string{-7: "BIT", -6: "TINYINT", 5: "SMALLINT", 4: "INTEGER", -5: "BIGINT", 7: "REAL", 6: "FLOAT", 8: "DOUBLE", 2: "NUMERIC",
	3: "DECIMAL", 1: "CHAR", 12: "VARCHAR", -1: "LONGVARCHAR", -15: "NCHAR", -9: "NVARCHAR", 91: "DATE", 92: "TIME", 93: "TIMESTAMP", -2: "BINARY", -3: "VARBINARY", 16: "BOOLEAN"}

// jdbcAccessors are what stands behind set and get, with what it carries.
var jdbcAccessors = map[string]signature.Kind{
	"Int": signature.KindInt32, "Long": signature.KindInt64, "Short": signature.KindInt16, "Byte": signature.KindInt8, "Boolean": signature.KindBool,
	"String": signature.KindString, "NString": signature.KindString, "BigDecimal": signature.KindDecimal, "Double": signature.KindFloat64, "Float": signature.KindFloat32,
	"Date": signature.KindDate, "Time": signature.KindTime, "Timestamp": signature.KindTimestamp, "Bytes": signature.KindBytes,
	"BinaryStream": signature.KindBytes, "Blob": signature.KindBytes, "CharacterStream": signature.KindString, "NCharacterStream": signature.KindString,
	"AsciiStream": signature.KindString, "UnicodeStream": signature.KindString, "Clob": signature.KindString, "NClob": signature.KindString, "URL": signature.KindString,
	"SQLXML": signature.KindXML, "Array": signature.KindArray, "RowId": signature.KindBytes, "Ref": signature.KindUnknown, "Object": signature.KindUnknown,
	"DateTimeOffset": signature.KindTimestampTZ, "Money": signature.KindDecimal, "SmallMoney": signature.KindDecimal, "UniqueIdentifier": signature.KindUUID,
	"Structured": signature.KindTable, "DateTime": signature.KindTimestamp, "SmallDateTime": signature.KindTimestamp, "Null": signature.KindUnknown,
}

// jdbcBind is what the program gives to one placeholder.
type jdbcBind struct {
	key        bindKey
	name       string
	set        bool
	registered bool
	kind       signature.Kind
	explicit   bool
	national   bool
	value      string
	isNull     bool
	setAt      Span
	regAt      Span
	regKind    signature.Kind
}

// statement is a java.sql statement.
type statement struct {
	site
	callable bool
	plain    bool // created without text
	binds    []*jdbcBind
}

// jdbcCall follows the methods of a connection.
func jdbcCall(ev *evaluator, recv value, method string, args []value, node hostcode.NodeID) (value, bool) {
	if !isConnection(ev, recv) {
		return value{}, false
	}
	switch method {
	case "prepareCall", "prepareStatement":
		if len(args) == 0 {
			return value{}, false
		}
		var out value
		for i, text := range args[0].forks() {
			if text.kind != textValue {
				text.node, text.tree = args[0].node, args[0].tree
			}
			st := &statement{site: newSite(ev, node, text), callable: method == "prepareCall"}
			ev.p.sites = append(ev.p.sites, st)
			v := value{kind: objectValue, obj: st, typ: "CallableStatement"}
			if i == 0 {
				out = v
			} else {
				out = join(out, v)
			}
		}
		return out, true
	case "createStatement":
		st := &statement{site: newSite(ev, node, value{}), plain: true}
		return value{kind: objectValue, obj: st, typ: "Statement"}, true
	}
	return value{}, false
}

// isConnection reports whether a receiver can be a java.sql.Connection: by its
// type, or where that is not known, because the file uses java.sql.
func isConnection(ev *evaluator, recv value) bool {
	typ := recv.typ
	if typ == "" && recv.kind == symbolValue {
		typ = ev.fieldType(recv.sym)
		if recv.sym == "this" {
			return false
		}
	}
	if typ != "" && typ != "var" {
		if c := ev.p.classes[typ]; c != nil {
			for _, m := range c.methods["prepareCall"] { // a class of the program's own that is called so
				if body := c.u.tree.Last(m); body != 0 && c.u.tree.Kind(body) == hostcode.Block {
					return false
				}
			}
		}
		return strings.HasSuffix(typ, "Connection") || strings.HasSuffix(typ, "Conn")
	}
	return ev.u.has("java.sql") || ev.u.has("javax.sql") || ev.u.has("CallableStatement")
}

func (st *statement) invoke(ev *evaluator, method string, args []value, node hostcode.NodeID) value {
	switch method {
	case "registerOutParameter":
		st.register(ev, args, node)
		return value{}
	case "execute", "executeUpdate", "executeLargeUpdate", "executeQuery", "addBatch", "executeBatch":
		return st.execute(ev, method, args, node)
	case "getResultSet":
		st.readsRows, st.rowsAt = true, ev.u.span(node)
		return value{kind: objectValue, obj: &rows{&st.site}, typ: "ResultSet"}
	case "getMoreResults":
		return value{typ: "boolean"}
	case "unwrap":
		return value{kind: objectValue, obj: st, typ: "CallableStatement"}
	case "close", "wasNull", "getUpdateCount", "getConnection", "getWarnings", "getMetaData", "getParameterMetaData", "getGeneratedKeys",
		"getFetchSize", "getMaxRows", "getQueryTimeout", "setQueryTimeout", "setFetchSize", "setFetchDirection", "setMaxRows", "setMaxFieldSize",
		"setEscapeProcessing", "setCursorName", "setPoolable", "closeOnCompletion", "setLargeMaxRows", "clearParameters", "cancel", "clearWarnings",
		"isClosed", "getLargeUpdateCount", "getFetchDirection", "setResponseBuffering", "clearBatch":
		return value{}
	}
	switch {
	case strings.HasPrefix(method, "set") && len(args) > 0:
		st.bind(ev, strings.TrimPrefix(method, "set"), args, node)
	case strings.HasPrefix(method, "get") && len(args) > 0:
		return st.readOutput(ev, strings.TrimPrefix(method, "get"), args, node)
	}
	return value{}
}

// place returns the bind for the index or name in v; nil where it is only
// known when the program runs.
func (st *statement) place(v value) *jdbcBind {
	var key bindKey
	name := ""
	switch text, isText := v.constantText(); {
	case v.kind == intValue:
		key.index = int(v.n)
		if v.n <= 0 {
			key.index = int(v.n) - 1 // 0 is an index that the program gave
		}
	case isText:
		key, name = nameKey(text), text
	default:
		st.open = "the index of a placeholder is worked out when the program runs"
		return nil
	}
	for _, b := range st.binds {
		if b.key == key {
			return b
		}
	}
	b := &jdbcBind{key: key, name: name}
	st.binds = append(st.binds, b)
	return b
}

func (st *statement) bind(ev *evaluator, accessor string, args []value, node hostcode.NodeID) {
	kind, known := jdbcAccessors[accessor]
	if !known {
		return
	}
	b := st.place(args[0])
	if b == nil {
		return
	}
	first := !b.set
	b.set = true
	if first {
		b.setAt = ev.u.span(node)
	}
	if len(args) > 1 && accessor != "Null" {
		b.value = sourceText(args[1])
		b.isNull = args[1].kind == nullValue
		if kind == signature.KindUnknown {
			kind = valueKindOf(args[1])
		} else {
			b.explicit = true
		}
		if len(args) > 2 {
			if k, national, ok := jdbcType(args[2]); ok {
				kind, b.explicit, b.national = k, true, national
			}
		}
	}
	if accessor == "Null" {
		if first {
			b.value, b.isNull = "null", true
		}
		if len(args) > 1 {
			if k, national, ok := jdbcType(args[1]); ok {
				kind, b.explicit, b.national = k, true, national
			}
		}
	}
	if strings.HasPrefix(accessor, "N") && accessor != "Null" {
		b.national = true
	}
	if b.kind == "" || b.kind == signature.KindUnknown || first {
		b.kind = kind
	}
}

// jdbcType reads an argument that names a type.
func jdbcType(v value) (kind signature.Kind, national, ok bool) {
	name := ""
	switch {
	case v.kind == symbolValue:
		name = v.sym[strings.LastIndexByte(v.sym, '.')+1:]
	case v.kind == intValue:
		name = jdbcCodes[v.n]
	}
	if name == "" {
		return signature.KindUnknown, false, false
	}
	kind, ok = jdbcTypes[name]
	if !ok {
		kind = signature.KindUnknown
	}
	return kind, strings.HasPrefix(name, "N") && name != "NUMERIC" && name != "NULL" || name == "LONGNVARCHAR", true
}

func (st *statement) register(ev *evaluator, args []value, node hostcode.NodeID) {
	if len(args) < 2 {
		return
	}
	b := st.place(args[0])
	if b == nil {
		return
	}
	if !b.registered {
		b.regAt = ev.u.span(node)
	}
	b.registered = true
	b.regKind, b.national, _ = jdbcType(args[1])
}

func (st *statement) execute(ev *evaluator, method string, args []value, node hostcode.NodeID) value {
	if st.plain {
		if len(args) == 0 {
			return value{}
		}
		var out value
		for _, text := range args[0].forks() {
			if text.kind != textValue {
				text.node, text.tree = args[0].node, args[0].tree
			}
			one := &statement{site: newSite(ev, node, text)}
			one.executed = true
			if method == "executeQuery" {
				one.readsRows, one.rowsAt = true, ev.u.span(node)
			}
			ev.p.sites = append(ev.p.sites, one)
			out = value{kind: objectValue, obj: &rows{&one.site}, typ: "ResultSet"}
		}
		return out
	}
	st.executed = true
	switch method {
	case "executeQuery":
		st.readsRows, st.rowsAt = true, ev.u.span(node)
		return value{kind: objectValue, obj: &rows{&st.site}, typ: "ResultSet"}
	case "executeUpdate", "executeLargeUpdate":
		return value{typ: "int"}
	}
	return value{typ: "boolean"}
}

func (st *statement) readOutput(ev *evaluator, accessor string, args []value, node hostcode.NodeID) value {
	kind, known := jdbcAccessors[accessor]
	if !known {
		return value{}
	}
	if accessor == "Object" && len(args) > 1 {
		t := args[1]
		if t.kind == symbolValue {
			kind = hostKind(strings.TrimSuffix(t.sym, ".class"))
		}
	}
	b := st.lookup(args[0])
	if b == (bindKey{}) {
		return value{}
	}
	v := st.read(ev, b, kind, node)
	switch kind {
	case signature.KindInt32:
		v.typ = "int"
	case signature.KindInt64:
		v.typ = "long"
	case signature.KindString:
		v.typ = "String"
	case signature.KindDecimal:
		v.typ = "BigDecimal"
	}
	return v
}

func (st *statement) lookup(v value) bindKey {
	if text, ok := v.constantText(); ok {
		return nameKey(text)
	}
	if v.kind == intValue {
		if v.n <= 0 {
			return bindKey{index: int(v.n) - 1}
		}
		return bindKey{index: int(v.n)}
	}
	st.open = "the index of an output is worked out when the program runs"
	return bindKey{}
}

func (st *statement) get(*evaluator, string, hostcode.NodeID) value    { return value{} }
func (st *statement) set(*evaluator, string, value, hostcode.NodeID)   {}
func (st *statement) index(*evaluator, []value, hostcode.NodeID) value { return value{} }
func (st *statement) close(*evaluator)                                 {}

// sourceText is the text of the expression that a value was written as.
func sourceText(v value) string {
	if v.use != 0 {
		return strings.Join(strings.Fields(v.useTree.tree.Text(v.use)), " ")
	}
	if v.tree == nil || v.node == 0 {
		return ""
	}
	return strings.Join(strings.Fields(v.tree.tree.Text(v.node)), " ")
}

func (st *statement) finish() []*Call {
	if st.plain {
		return nil
	}
	if st.text.kind != textValue {
		if !st.callable {
			return nil
		}
		c := unresolvedText(&st.site, st.text)
		c.API = "jdbc"
		c.Conv = &jdbcConvention
		return []*Call{c}
	}
	sql := st.text.sqlText()
	var calls []*Call
	lex := hostLexis(sql)
	flat, _ := canonical(sql, 0)
	for _, sc := range sqlcall.All([]byte(flat), lex) {
		if sc.Dynamic {
			continue
		}
		calls = append(calls, st.finishCall(sql, &sc))
	}
	if len(calls) == 0 && st.callable {
		c := unresolvedText(&st.site, st.text)
		c.API, c.Conv = "jdbc", &jdbcConvention
		if _, constant := st.text.constantText(); constant {
			c.Reason = "the text is no call that is understood"
		}
		return []*Call{c}
	}
	return calls
}

// hostLexis chooses lexical rules for a call text whose dialect is not known.
func hostLexis(sql string) *sqltext.Lexis {
	if strings.ContainsAny(sql, "`") || strings.Contains(sql, "\\'") {
		return &sqltext.MySQL
	}
	return &sqltext.SQLServer
}

func (st *statement) finishCall(sql string, sc *sqlcall.Call) *Call {
	c := newTextCall(&st.site, st.text, sql, sc)
	c.API, c.Conv = "jdbc", &jdbcConvention
	c.CanCapture = sc.Verb != "expression" || sc.Return != ""
	used := map[*jdbcBind]bool{}
	index := 0
	bindOf := func(i int) *jdbcBind {
		for _, b := range st.binds {
			if b.key.index == i {
				used[b] = true
				return b
			}
		}
		return nil
	}
	first := sc.Start
	if sc.Return != "" {
		first = min(first, sc.ReturnStart)
	}
	for i := 0; i < first && i < len(sql); i++ {
		if sql[i] == '?' {
			index++ // of a statement before the call
		}
	}
	if sc.Return == "?" {
		index++
		a := Argument{Direction: Return, Form: Bound, Index: index, At: c.At, Kind: signature.KindUnknown}
		c.Captures, c.CaptureAt = true, c.Use
		if b := bindOf(index); b != nil {
			st.fill(&a, b)
			a.Direction = Return // also where a value was put there by mistake
			c.CaptureAt = a.At
		}
		a.Reads = st.reads[bindKey{index: index}]
		c.Status = st.statusUse(bindKey{index: index})
		c.StatusArg = 0
		c.Arguments = append(c.Arguments, a)
	} else if sc.Return != "" {
		c.Captures = true
	}
	named := false
	for _, b := range st.binds {
		named = named || b.key.name != ""
	}
	if named {
		st.namedArguments(c, sc, used)
	} else {
		for i, sa := range sc.Arguments {
			a := textArgument(st.u, st.text, sql, sa, i+1)
			switch {
			case sa.Kind == sqlcall.Placeholder:
				index++
				a.Index, a.Form, a.Direction, a.Kind, a.Value = index, Bound, Unset, signature.KindUnknown, ""
				if b := bindOf(index); b != nil {
					st.fill(&a, b)
				}
				a.Reads = st.reads[bindKey{index: index}]
			case sa.Placeholders > 0:
				for range sa.Placeholders {
					index++
					bindOf(index)
				}
			}
			c.Arguments = append(c.Arguments, a)
		}
	}
	c.Placeholder = strings.Count(sql, "?")
	for _, b := range st.binds {
		if used[b] || b.key.index > 0 && b.key.index <= c.Placeholder || b.key.name != "" {
			continue
		}
		at := b.setAt
		if !b.set {
			at = b.regAt
		}
		c.Strays = append(c.Strays, Bind{Index: givenIndex(b.key.index), At: at})
	}
	for _, k := range st.readOrder {
		if k.name == "" && (k.index < 0 || k.index > c.Placeholder) {
			c.Strays = append(c.Strays, Bind{Index: givenIndex(k.index), Read: true, At: st.reads[k][0].At})
		}
		if k.name != "" && !hasArgument(c, k) {
			c.Strays = append(c.Strays, Bind{Name: k.name, Index: -1, Read: true, At: st.reads[k][0].At})
		}
	}
	return c
}

// givenIndex undoes the shift of indexes below 1.
func givenIndex(i int) int {
	if i < 0 {
		return i + 1
	}
	return i
}

func hasArgument(c *Call, k bindKey) bool {
	for _, a := range c.Arguments {
		if a.Name != "" && nameKey(a.Name) == k {
			return true
		}
	}
	return false
}

// namedArguments makes one argument of each bind by name; the placeholders
// only say how many there are.
func (st *statement) namedArguments(c *Call, sc *sqlcall.Call, used map[*jdbcBind]bool) {
	for _, b := range st.binds {
		if b.key.name == "" {
			continue
		}
		used[b] = true
		a := Argument{Position: len(c.Arguments) + 1, Name: b.name, Form: Bound}
		if c.StatusArg >= 0 {
			a.Position--
		}
		st.fill(&a, b)
		a.Reads = st.reads[b.key]
		c.Arguments = append(c.Arguments, a)
	}
	for i, sa := range sc.Arguments {
		if sa.Kind != sqlcall.Placeholder {
			c.Arguments = append(c.Arguments, textArgument(st.u, st.text, "", sa, i+1))
		}
	}
}

// fill takes what the program gave to the bind over into the argument.
func (st *statement) fill(a *Argument, b *jdbcBind) {
	a.Valued, a.Registered = b.set, b.registered
	a.Value, a.IsNull = b.value, b.isNull
	a.Kind, a.Explicit, a.National = b.kind, b.explicit, b.national
	switch {
	case b.set && b.registered:
		a.Direction, a.At = InOut, b.regAt
	case b.registered:
		a.Direction, a.At = Out, b.regAt
	case b.set:
		a.Direction, a.At = In, b.setAt
	}
	if b.registered {
		a.Kind, a.Explicit = b.regKind, true
	}
	if a.Kind == "" {
		a.Kind = signature.KindUnknown
	}
	a.ValueAt = a.At
}
