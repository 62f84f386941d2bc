package callsite

import (
	"slices"
	"strconv"
	"strings"

	"ramekin/internal/hostcode"
	"ramekin/internal/signature"
	"ramekin/internal/sqlcall"
	"ramekin/internal/sqltext"
)

// bound is a statement of a client API with the values and outputs that the
// program binds to it: a text with placeholders, or a routine's name. It is what
// most APIs come down to.
type bound struct {
	site
	conv    *Convention
	dialect signature.Dialect
	style   placeholderStyle
	// isName is set where the text is the name of a routine and nothing else.
	isName bool
	// maybeName is set where it is one if it looks like one.
	maybeName bool
	binds     []*bind
	// canCapture is set where the API hands back the status or result; captures
	// where the program takes it without a bind for it.
	canCapture, captures bool
	// byVariable is set where the text's @variables are bound by name.
	byVariable bool
	// inOut is set where every argument goes both ways, as the API passes variables.
	inOut bool
	// byReference are the binds whose variables go both ways, whatever the
	// parameter is.
	byReference []*bind
	// schema and container stand before the routine's name.
	schema, container string
}

// bind is one value or output that is bound.
type bind struct {
	key              bindKey
	name             string
	direction        Direction
	valued           bool
	registered       bool
	kind             signature.Kind
	explicit         bool
	national         bool
	size             int
	hasSize          bool
	value            string
	isNull, hostNull bool
	at               Span
}

func newBound(ev *evaluator, node hostcode.NodeID, text value, conv *Convention) *bound {
	b := &bound{site: newSite(ev, node, text), conv: conv}
	ev.p.sites = append(ev.p.sites, b)
	return b
}

// bindAt returns the bind of a key, made where there is none.
func (b *bound) bindAt(key bindKey, name string) *bind {
	for _, have := range b.binds {
		if have.key == key {
			return have
		}
	}
	n := &bind{key: key, name: name, kind: signature.KindUnknown}
	b.binds = append(b.binds, n)
	return n
}

// give binds a value to a place.
func (b *bound) give(ev *evaluator, key bindKey, name string, v value, node hostcode.NodeID) *bind {
	d := b.bindAt(key, name)
	d.setValue(v)
	d.at = ev.u.span(node)
	if v.use != 0 && v.useTree == ev.u {
		d.at = ev.u.span(v.use)
	}
	return d
}

func (d *bind) setValue(v value) {
	d.valued = true
	d.value = sourceText(v)
	d.isNull = v.kind == nullValue
	d.hostNull = d.isNull
	if k := valueKindOf(v); k != signature.KindUnknown && !d.explicit {
		d.kind = k
	}
	switch d.direction {
	case Out:
		if d.registered {
			d.direction = InOut
		}
	case "":
		d.direction = In
	}
}

func (d *bind) register(dir Direction) {
	d.registered = true
	d.direction = dir
	if dir == Out && d.valued {
		d.direction = InOut
	}
}

// setType notes the type that the program names for a bind.
func (d *bind) setType(k signature.Kind, national bool) {
	if k != signature.KindUnknown {
		d.kind, d.explicit, d.national = k, true, national
	}
}

// giveAll binds the values of an API call: one list or map, or each by itself.
func (b *bound) giveAll(ev *evaluator, args []value, node hostcode.NodeID) {
	for i, a := range args {
		if a.kind == lambdaValue {
			continue
		}
		switch o := a.obj.(type) {
		case *list:
			if i == 0 || len(args) == 1 {
				b.giveList(ev, o, node)
				return
			}
		case *record:
			b.giveRecord(ev, o, node)
			return
		}
		if a.spread {
			b.open = "the arguments are made at run time"
			continue
		}
		if len(args) == 1 && a.kind == unknownValue && a.typ == "" || len(args) == 1 && a.kind == symbolValue {
			if b.countMarks() != 1 {
				b.open = "the arguments are made at run time"
				continue
			}
		}
		b.give(ev, bindKey{index: i + 1}, "", a, node)
	}
}

func (b *bound) countMarks() int {
	if b.text.kind != textValue {
		return -1
	}
	_, marks := canonical(b.text.sqlText(), b.style)
	return len(marks)
}

func (b *bound) giveList(ev *evaluator, l *list, node hostcode.NodeID) {
	if l.open {
		b.open = "the arguments are made at run time"
	}
	for i, v := range l.items {
		if v.spread {
			b.open = "the arguments are made at run time"
			return
		}
		b.giveOne(ev, bindKey{index: i + 1}, "", v, node)
	}
}

func (b *bound) giveRecord(ev *evaluator, r *record, node hostcode.NodeID) {
	if r.open {
		b.open = "the arguments are made at run time"
	}
	for _, k := range r.keys {
		at := r.nodes[k]
		if at == 0 || r.u != ev.u {
			at = node
		}
		b.giveOne(ev, nameKey(k), k, r.values[k], at)
	}
}

// outputObject is a value that registers an output when it is bound.
type outputObject interface {
	register(ev *evaluator, b *bound, d *bind, node hostcode.NodeID)
}

// giveOne binds one element of a list or map: a value, or what describes one.
func (b *bound) giveOne(ev *evaluator, key bindKey, name string, v value, node hostcode.NodeID) {
	at := node
	if v.use != 0 && v.useTree == ev.u {
		at = v.use
	}
	if o, ok := v.obj.(outputObject); ok {
		d := b.bindAt(key, name)
		d.at = ev.u.span(at)
		o.register(ev, b, d, at)
		return
	}
	if r, ok := v.obj.(*record); ok {
		if describeBind(ev, b, key, name, r, at) {
			return
		}
	}
	d := b.give(ev, key, name, v, at)
	if b.inOut {
		d.registered, d.direction = true, InOut
	}
}

// typeFrom notes the type that a value names, with its size.
func (d *bind) typeFrom(v value) {
	d.setType(scriptType(v))
	if v.kind == symbolValue && v.n > 0 && (d.kind == signature.KindString || d.kind == signature.KindBytes) {
		d.size, d.hasSize = int(v.n), true
	}
}

// describeBind reads { dir, type, val, maxSize }, as several libraries describe
// a bind. It returns false where the map is no such thing.
func describeBind(ev *evaluator, b *bound, key bindKey, name string, r *record, node hostcode.NodeID) bool {
	known := false
	for _, k := range r.keys {
		switch k {
		case "dir", "type", "val", "maxSize", "value", "direction":
			known = true
		}
	}
	if !known {
		return false
	}
	d := b.bindAt(key, name)
	d.at = ev.u.span(node)
	for _, k := range []string{"val", "value"} {
		if v, ok := r.lookup(k); ok {
			d.setValue(v)
		}
	}
	if v, ok := r.lookup("type"); ok {
		d.typeFrom(v)
	}
	if v, ok := r.lookup("maxSize"); ok {
		d.hasSize = true
		if v.kind == intValue {
			d.size = int(v.n)
		}
	}
	for _, k := range []string{"dir", "direction"} {
		if v, ok := r.lookup(k); ok {
			switch word := lastWord(v); {
			case strings.Contains(word, "INOUT"), strings.Contains(word, "InOut"), strings.Contains(word, "InputOutput"):
				d.registered, d.direction = true, InOut
			case strings.HasSuffix(word, "OUT"), strings.HasSuffix(word, "Out"), strings.HasSuffix(word, "Output"):
				d.register(Out)
			case v.kind == intValue && v.n == 3003:
				d.register(Out)
			case v.kind == intValue && v.n == 3002:
				d.registered, d.direction = true, InOut
			}
		}
	}
	if d.direction == "" && !d.registered {
		d.direction = In
	}
	return true
}

// lastWord is the last part of a symbol: BIND_OUT of oracledb.BIND_OUT.
func lastWord(v value) string {
	if v.kind != symbolValue {
		return ""
	}
	return v.sym[strings.LastIndexByte(v.sym, '.')+1:]
}

// readOutput notes that the program reads the output of key.
func (b *bound) readOutput(ev *evaluator, key bindKey, node hostcode.NodeID) value {
	return b.read(ev, key, signature.KindUnknown, node)
}

func (b *bound) takeRows(ev *evaluator, node hostcode.NodeID) value {
	if !b.readsRows {
		b.readsRows, b.rowsAt = true, ev.u.span(node)
	}
	return value{kind: objectValue, obj: &rows{&b.site}}
}

func (b *bound) invoke(ev *evaluator, method string, args []value, node hostcode.NodeID) value {
	return value{}
}
func (b *bound) get(*evaluator, string, hostcode.NodeID) value    { return value{} }
func (b *bound) set(*evaluator, string, value, hostcode.NodeID)   {}
func (b *bound) index(*evaluator, []value, hostcode.NodeID) value { return value{} }
func (b *bound) close(*evaluator)                                 {}

func (b *bound) finish() []*Call {
	var calls []*Call
	for _, text := range b.text.forks() {
		if text.tree == nil {
			text.tree, text.node = b.text.tree, b.text.node
		}
		if text.use == 0 {
			text.useTree, text.use = b.text.useTree, b.text.use
		}
		calls = append(calls, b.finishText(text)...)
	}
	return calls
}

func (b *bound) finishText(text value) []*Call {
	if text.kind != textValue {
		if !b.isName {
			return nil
		}
		c := unresolvedText(&b.site, text)
		b.common(c)
		return []*Call{c}
	}
	sql := text.sqlText()
	if b.isName || b.maybeName && plainName.MatchString(sql) && !isWordStatement(sql) {
		return []*Call{b.byName(text, sql)}
	}
	flat, marks := canonical(sql, b.style)
	lex := b.lexis(flat)
	var calls []*Call
	for _, sc := range sqlcall.All([]byte(flat), lex) {
		if sc.Dynamic || sc.Verb == "expression" && usesOnlyWithoutRoutines(b.u) {
			continue
		}
		c := b.textCall(text, sql, flat, marks, &sc)
		c.Private = sc.Verb == "expression" && len(sc.Name) == 1 && isServerFunction(sc.Name[0])
		calls = append(calls, c)
	}
	return calls
}

// isWordStatement tells a statement of one word from a routine's name.
func isWordStatement(sql string) bool {
	switch strings.ToLower(strings.Trim(sql, "; \n\t")) {
	case "begin", "commit", "rollback", "end", "vacuum", "analyze", "checkpoint", "reset":
		return true
	}
	return false
}

func (b *bound) lexis(sql string) *sqltext.Lexis {
	switch b.dialect {
	case signature.MySQL, signature.MariaDB:
		return &sqltext.MySQL
	case signature.PostgreSQL:
		return &sqltext.PostgreSQL
	case signature.Oracle:
		return &sqltext.Oracle
	case signature.Snowflake:
		return &sqltext.Snowflake
	}
	return hostLexis(sql)
}

func (b *bound) common(c *Call) {
	c.API, c.Conv, c.Dialect = b.conv.API, b.conv, b.dialect
	c.CanCapture = b.canCapture
}

// byName is a call whose text is the routine's name.
func (b *bound) byName(text value, sql string) *Call {
	c := &Call{State: Named}
	b.describe(c)
	c.Text = strings.TrimSpace(text.shownText())
	c.At = c.Use
	if p, ok := text.partAt(len(sql) - 1); ok && p.node != 0 {
		c.At = p.tree.span(p.node)
	}
	b.common(c)
	if sqlcall.HasHole(sql) {
		c.State = Unresolved
		c.Reason = "the routine's name is only known when the program runs: " + clipText(c.Text, 80)
	} else {
		c.Name = dottedParts(sql)
		if b.container != "" && len(c.Name) == 1 {
			c.Name = append([]string{b.container}, c.Name...)
		}
		if b.schema != "" && (len(c.Name) == 1 || b.container != "" && len(c.Name) == 2) {
			c.Name = append([]string{b.schema}, c.Name...)
		}
	}
	position := 0
	named := false
	for _, d := range b.binds {
		named = named || d.name != ""
	}
	slices.SortStableFunc(b.binds, func(x, y *bind) int { return boolInt(y.direction == Return) - boolInt(x.direction == Return) })
	for _, d := range b.binds {
		a := d.argument()
		a.Reads = b.reads[d.key]
		if a.Direction == Return {
			a.Name = ""
			c.Captures, c.CaptureAt, c.StatusArg = true, a.At, len(c.Arguments)
			c.Status = b.statusUse(d.key)
			c.Arguments = append(c.Arguments, a)
			continue
		}
		position++
		a.Position = position
		if !named {
			a.Index = d.key.index
		}
		c.Arguments = append(c.Arguments, a)
	}
	b.capture(c)
	if b.conv.ByName && named {
		for _, k := range b.readOrder {
			if k.name != "" && !hasArgument(c, k) && !isStatusKey(k) {
				c.Strays = append(c.Strays, Bind{Name: k.name, Index: -1, Read: true, At: b.reads[k][0].At})
			}
		}
	}
	return c
}

// statusKey is the key under which the status or result of a call is read where
// the API has it in a place of its own.
var statusKey = bindKey{index: -2000}

func isStatusKey(k bindKey) bool { return k == statusKey }

// capture notes that the API hands the status or result back in a place of its own.
func (b *bound) capture(c *Call) {
	if len(b.reads[statusKey]) > 0 && !c.Captures {
		r := b.reads[statusKey][0]
		c.Captures, c.CaptureAt = true, r.At
		c.Status = b.statusUse(statusKey)
		c.StatusArg = len(c.Arguments)
		c.Arguments = append(c.Arguments, Argument{Direction: Return, Form: Bound, At: r.At, ValueAt: r.At, Registered: true, Kind: r.Kind, Reads: b.reads[statusKey]})
		slices.SortStableFunc(c.Arguments, func(x, y Argument) int { return boolInt(y.Direction == Return) - boolInt(x.Direction == Return) })
		c.StatusArg = 0
	}
	if b.captures && !c.Captures {
		c.Captures, c.CaptureAt = true, c.Use
		c.Status = &StatusUse{Escapes: true}
	}
}

func boolInt(b bool) int {
	if b {
		return 1
	}
	return 0
}

// argument describes a bind as an argument of a call.
func (d *bind) argument() Argument {
	a := Argument{Name: d.name, Form: Bound, Direction: d.direction, Kind: d.kind, Value: d.value, At: d.at, ValueAt: d.at, Valued: d.valued,
		Registered: d.registered, Explicit: d.explicit, National: d.national, Size: d.size, HasSize: d.hasSize, IsNull: d.isNull, HostNull: d.hostNull}
	if d.direction == "" {
		a.Direction = Unset
	}
	if d.direction == Out || d.direction == Return {
		a.Value = ""
	}
	return a
}

// textCall is a call that stands in a text.
func (b *bound) textCall(text value, sql, flat string, marks map[int]mark, sc *sqlcall.Call) *Call {
	c := newTextCall(&b.site, text, sql, sc)
	if sc.Verb == "expression" {
		c.Bare = false
		c.Executed = true
	}
	b.common(c)
	if rest := strings.Trim(flat[:min(sc.Start, len(flat))]+flat[min(sc.End, len(flat)):], " \t\r\n;{}"); rest != "" && sc.Verb != "expression" {
		c.RowsOfText, c.Columns = true, nil
	}
	c.CanCapture = c.CanCapture || sc.Verb == "exec" || sc.Verb == "escape"
	if sc.Verb == "expression" {
		c.CanCapture = false
	}
	named := false
	for _, d := range b.binds {
		named = named || d.name != ""
	}
	used := map[*bind]bool{}
	find := func(offset int) *bind {
		m, ok := marks[offset]
		if !ok {
			return nil
		}
		keys := []bindKey{m.key(), {index: m.ordinal}}
		if m.name != "" && !named { // positional values for named places count the names
			keys = []bindKey{{index: uniqueOrdinal(marks, m)}}
		}
		for _, k := range keys {
			for _, d := range b.binds {
				if d.key == k {
					used[d] = true
					return d
				}
			}
		}
		return nil
	}
	variable := func(name string) *bind {
		if n, err := strconv.Atoi(strings.TrimPrefix(name, "@p")); err == nil { // @p1 is the first by position
			for _, d := range b.binds {
				if d.name == "" && d.key.index == n {
					used[d] = true
					return d
				}
			}
		}
		for _, d := range b.binds {
			if d.name != "" && nameKey(d.name) == nameKey(name) {
				used[d] = true
				return d
			}
		}
		return nil
	}
	if sc.Return != "" {
		var d *bind
		if sc.ReturnIsVariable {
			d = variable(sc.Return)
		} else {
			d = find(sc.ReturnStart)
		}
		switch {
		case d != nil:
			a := d.argument()
			a.Direction, a.Name = Return, ""
			a.Reads = b.reads[d.key]
			c.Captures, c.CaptureAt, c.StatusArg = true, a.At, 0
			c.Status = b.statusUse(d.key)
			c.CanCapture = true
			c.Arguments = append(c.Arguments, a)
		case !sc.ReturnIsVariable:
			c.Captures, c.CaptureAt, c.CanCapture = true, c.At, true
			c.StatusArg = 0
			c.Arguments = append(c.Arguments, Argument{Direction: Return, Form: Bound, At: c.At, Kind: signature.KindUnknown})
		case sc.Verb != "expression":
			c.Captures, c.CaptureAt = true, c.At
			c.StatusArg = 0
			uses := textUses(flat, sc.Return, sc.End)
			a := Argument{Direction: Return, Form: Variable, Value: sc.Return, At: c.At, ValueAt: c.At, Registered: true, Kind: signature.KindUnknown}
			if uses > 0 {
				a.Reads = []Read{{At: c.At, Kind: signature.KindUnknown}}
			}
			c.Arguments = append(c.Arguments, a)
			c.Status = &StatusUse{Escapes: uses > 0}
		}
	}
	for i, sa := range sc.Arguments {
		a := textArgument(b.u, text, sql, sa, i+1)
		var d *bind
		switch sa.Kind {
		case sqlcall.Placeholder:
			d = find(sa.ValueStart)
		case sqlcall.Variable:
			if strings.HasPrefix(sa.Text, "@") && b.byVariable {
				d = variable(sa.Text)
			}
		default:
			for off := range marks { // a placeholder inside an expression
				if off >= sa.ValueStart && off < sa.ValueEnd {
					find(off)
				}
			}
		}
		switch {
		case d != nil:
			name, position, outWord, index := a.Name, a.Position, a.OutWord, 0
			if m, ok := marks[sa.ValueStart]; ok {
				index = m.ordinal
			}
			a = d.argument()
			a.Name, a.Position, a.OutWord, a.Index = name, position, outWord, index
			if slices.Contains(b.byReference, d) {
				a.Form = Variable
			}
			a.Reads = b.reads[d.key]
		case sa.Kind == sqlcall.Placeholder:
			a.Form, a.Direction, a.Value, a.Valued, a.Kind = Bound, Unset, "", false, signature.KindUnknown
			a.Index = marks[sa.ValueStart].ordinal
			if b.open != "" {
				a.Direction, a.Valued = In, true
			}
		case sa.Kind == sqlcall.Variable && strings.HasPrefix(sa.Text, "@"):
			a = b.textVariable(flat, sc, sa, a)
		}
		c.Arguments = append(c.Arguments, a)
	}
	c.Placeholder = len(marks)
	for _, d := range b.binds {
		if used[d] || d.key.index > 0 && d.key.index <= len(marks) || d.name != "" || len(marks) > 0 && d.key.index == 0 {
			continue
		}
		if d.direction == Return {
			at := d.at
			c.LostCapture = &at
			continue
		}
		if sc.Verb != "expression" {
			c.Strays = append(c.Strays, Bind{Index: d.key.index, At: d.at})
		}
	}
	b.capture(c)
	return c
}

// textVariable describes @x that the text itself holds: a variable that it
// declares, a user variable of MySQL, or a parameter that nothing is bound to.
func (b *bound) textVariable(flat string, sc *sqlcall.Call, sa sqlcall.Argument, a Argument) Argument {
	declared := declaresVariable(flat, sa.Text)
	switch {
	case declared:
		a.Form, a.Valued = Variable, true
		if sa.OutWord {
			a.Direction, a.Registered = Out, true
			if textUses(flat, sa.Text, sc.End) > 0 {
				a.Reads = []Read{{At: a.At, Kind: signature.KindUnknown}}
			}
		}
	case sc.Verb == "call" || b.dialect == signature.MySQL || b.dialect == signature.MariaDB:
		a.Form, a.Direction, a.Valued = Variable, InOut, true // a user variable, passed by reference
		if textUses(flat, sa.Text, sc.End) > 0 || b.userVariableRead(sa.Text) {
			a.Reads = []Read{{At: a.At, Kind: signature.KindUnknown}}
		}
	case b.byVariable:
		a.Form, a.Direction, a.Valued = Bound, Unset, false
		if b.open != "" {
			a.Direction, a.Valued = In, true
		}
	}
	return a
}

// userVariableRead reports whether another text of the file reads a variable of
// the session.
func (b *bound) userVariableRead(name string) bool {
	return strings.Count(strings.ToLower(string(b.u.tree.Src)), strings.ToLower(name)) > 1
}

// textUses counts the places behind offset that name a variable.
func textUses(sql, name string, offset int) int {
	if offset > len(sql) {
		return 0
	}
	return strings.Count(strings.ToLower(sql[offset:]), strings.ToLower(name))
}

// uniqueOrdinal counts the different names up to m.
func uniqueOrdinal(marks map[int]mark, m mark) int {
	first := map[string]int{}
	for _, other := range marks {
		if n, ok := first[other.name]; !ok || other.ordinal < n {
			first[other.name] = other.ordinal
		}
	}
	n := 1
	for name, at := range first {
		if name != m.name && at < first[m.name] {
			n++
		}
	}
	return n
}

// isServerFunction reports whether an unqualified name begins as those of servers'
// own functions do: it is told only where a catalog has it.
func isServerFunction(name string) bool {
	lower := strings.ToLower(name)
	for _, prefix := range []string{"pg_", "pragma_", "xml", "json_", "st_", "sys_", "fn_", "conflict", "vector_", "ts_", "inet_", "regr_", "has_", "to_", "try_to_", "as_", "is_"} {
		if strings.HasPrefix(lower, prefix) {
			return true
		}
	}
	return false
}

// sqlBuiltIn reports whether a name is that of a function that servers have.
func sqlBuiltIn(name string) bool { return sqlcall.IsBuiltIn(name) }
