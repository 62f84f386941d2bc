package callsite

import (
	"bytes"
	"sort"
	"strconv"
	"strings"

	"ramekin/internal/body"
	"ramekin/internal/ddl"
	"ramekin/internal/signature"
	"ramekin/internal/sqlcall"
	"ramekin/internal/sqltext"
)

// FromSQL finds the calls in the scripts and routine bodies of an SQL file
// that was read with detail.
func FromSQL(f *ddl.File) []*Call {
	d := ddl.DialectOf(f.Dialect)
	if d == nil {
		return nil
	}
	r := &scriptReader{f: f, lex: d.Lexis, session: map[string]bool{}, seen: map[int]bool{}}
	for _, s := range f.Scopes {
		for _, u := range s.Body.Uses {
			r.session[strings.ToLower(u.Name)] = true
		}
	}
	r.declaredNames()
	var calls []*Call
	for i := range f.Scopes {
		calls = append(calls, r.scope(&f.Scopes[i])...)
	}
	calls = append(calls, r.statements()...)
	calls = append(calls, r.expressions(f.Source, 0)...)
	sort.SliceStable(calls, func(i, j int) bool {
		a, b := calls[i].At, calls[j].At
		return a.Line < b.Line || a.Line == b.Line && a.Column < b.Column
	})
	return calls
}

// declaredNames notes what stands behind PROCEDURE and FUNCTION: routines of a
// package that nobody outside can call are in no catalog.
func (r *scriptReader) declaredNames() {
	r.declared = map[string]bool{}
	s := sqltext.NewScanner(r.f.Source, r.lex)
	var before sqltext.Token
	for t := s.Next(); t.Kind != sqltext.EOF; t = s.Next() {
		if t.IsName() && (before.Kw == sqltext.PROCEDURE || before.Kw == sqltext.FUNCTION) {
			r.declared[strings.ToLower(t.Name(r.f.Source))] = true
		}
		before = t
	}
}

// statements finds the calls of the script itself: statements, EXEC lines of the
// client and blocks without a name, which belong to no scope.
func (r *scriptReader) statements() []*Call {
	n := signature.NamingOf(r.f.Dialect)
	if n.Sigil != 0 || r.f.Dialect == signature.MySQL || r.f.Dialect == signature.MariaDB {
		return nil // their scripts are scopes
	}
	var b body.Body
	for _, list := range [][]sqlcall.Call{sqlcall.Find(r.f.Source, r.lex), sqlcall.Block(r.f.Source, r.lex)} {
		for _, c := range list {
			if c.Dynamic || r.seen[c.NameStart] || c.Verb == "exec" && !n.ExecCalls {
				continue
			}
			b.Calls = append(b.Calls, body.Call{Call: c})
		}
	}
	return append(r.scope(&ddl.Scope{Body: &b}), r.immediate()...)
}

// immediate finds the calls in statements that are run from a text: EXECUTE
// IMMEDIATE '…' USING arguments, and EXECUTE '…' USING in PL/pgSQL.
func (r *scriptReader) immediate() []*Call {
	var calls []*Call
	var scan func(src []byte, base int)
	scan = func(src []byte, base int) {
		s := sqltext.NewScanner(src, r.lex)
		var tokens []sqltext.Token
		for t := s.Next(); t.Kind != sqltext.EOF; t = s.Next() {
			tokens = append(tokens, t)
		}
		c := sqltext.NewCursor(src, r.lex, tokens)
		for ; !c.Done(); c.I++ {
			t := c.Peek()
			if base == 0 && t.Kind == sqltext.String && r.lex.DollarQuotes && src[t.Start] == '$' {
				mark := bytes.IndexByte(src[t.Start+1:t.End], '$') + 2
				if from, to := int(t.Start)+mark, int(t.End)-mark; from < to {
					scan(src[from:to], from)
				}
				continue
			}
			if t.Kw != sqltext.EXECUTE {
				continue
			}
			c.I++
			if !c.AcceptWord("immediate") {
				c.AcceptWord("statement")
			}
			text := c.Peek()
			if text.Kind != sqltext.String {
				c.I--
				continue
			}
			for c.I++; !c.Done() && !c.AtOp(';') && !c.AtWord("using"); c.I++ {
			}
			var given []sqlcall.Argument
			if c.AcceptWord("using") {
				given = sqlcall.List(&c)
				for i := range given {
					given[i].Start, given[i].End = given[i].Start+base, given[i].End+base
				}
			}
			calls = append(calls, r.inText(sqltext.StringValue(string(text.Bytes(src)), r.lex), r.span(base+int(text.Start), base+int(text.End)), &ddl.Scope{Body: &body.Body{}}, given)...)
			c.I--
		}
	}
	scan(r.f.Source, 0)
	return calls
}

// expressions finds names with arguments where a value is wanted. Most are
// functions that nobody declares; [Resolve] keeps those that some catalog has.
func (r *scriptReader) expressions(src []byte, base int) []*Call {
	var calls []*Call
	for _, sc := range sqlcall.Expressions(src, r.lex) {
		if r.seen[base+sc.NameStart] {
			continue
		}
		r.seen[base+sc.NameStart] = true
		c := &Call{Host: "sql", API: "expression", Dialect: r.f.Dialect, State: Named, Name: sc.Name, Verb: "expression", StatusArg: -1,
			At: r.span(base+sc.NameStart, base+sc.NameEnd), Executed: true, ReadsRows: true}
		c.Use, c.Text = c.At, strings.Join(strings.Fields(string(src[sc.Start:sc.End])), " ")
		for i, sa := range sc.Arguments {
			a := Argument{Position: i + 1, Name: sa.Name, Value: sa.Text, Valued: true, IsNull: sa.Kind == sqlcall.Null, Direction: In,
				At: r.span(base+sa.Start, base+sa.End), ValueAt: r.span(base+sa.ValueStart, base+sa.ValueEnd)}
			a.Form, a.Kind = formOf(sa)
			c.Arguments = append(c.Arguments, a)
		}
		calls = append(calls, c)
	}
	if base == 0 && r.lex.DollarQuotes && !r.embedded() { // bodies that are strings
		s := sqltext.NewScanner(src, r.lex)
		for t := s.Next(); t.Kind != sqltext.EOF; t = s.Next() {
			if t.Kind != sqltext.String || src[t.Start] != '$' {
				continue
			}
			mark := bytes.IndexByte(src[t.Start+1:t.End], '$') + 2
			if from, to := int(t.Start)+mark, int(t.End)-mark; from < to {
				calls = append(calls, r.expressions(src[from:to], from)...)
			}
		}
	}
	return calls
}

// embedded reports whether some routine of the file is in another language.
func (r *scriptReader) embedded() bool {
	for _, s := range r.f.Scopes {
		if s.Routine != nil && s.Routine.Language != "sql" && s.Routine.Language != "plpgsql" {
			return true
		}
	}
	return false
}

// scriptReader turns the calls of one file into call sites.
type scriptReader struct {
	f   *ddl.File
	lex *sqltext.Lexis
	// declared holds the names of procedures and functions that the file declares,
	// also those inside of others, in lower case.
	declared map[string]bool
	// seen holds the offsets of the names of calls that are told already.
	seen map[int]bool
	// session holds the variables that any statement of the file reads.
	session map[string]bool
}

func (r *scriptReader) span(start, end int) Span {
	s := Span{File: r.f.Path}
	s.Line, s.Column = r.f.Lines.Position(start)
	s.EndLine, s.EndColumn = r.f.Lines.Position(end)
	return s
}

func (r *scriptReader) scope(s *ddl.Scope) []*Call {
	var calls []*Call
	hasSigil := signature.NamingOf(r.f.Dialect).Sigil != 0
	for i, bc := range s.Body.Calls {
		calls = append(calls, r.dynamic(s, bc)...)
		if bc.Dynamic || r.seen[bc.NameStart] {
			continue
		}
		r.seen[bc.NameStart] = true
		c := &Call{Host: "sql", API: bc.Verb, Dialect: r.f.Dialect, State: Named, Name: bc.Name, Verb: bc.Verb, StatusArg: -1,
			At: r.span(bc.NameStart, bc.NameEnd), Executed: true, RowsTaken: bc.RowsTaken, InRoutine: s.Routine,
			Text: r.text(bc)}
		c.Use = c.At
		c.Private = len(bc.Name) == 1 && r.declared[strings.ToLower(bc.Name[0])]
		// What a script selects or a routine calls goes on to whoever runs it.
		c.ReadsRows = !bc.RowsTaken
		c.CanCapture = hasSigil
		if bc.NameIsVariable {
			c.State, c.Name = Unresolved, nil
			c.Reason = "the routine's name is in the variable " + bc.NameText
		}
		if bc.Return != "" {
			c.Captures = true
			at := r.span(bc.ReturnStart, bc.ReturnStart+len(bc.Return))
			c.CaptureAt = at
			c.StatusArg = 0
			c.Status = r.statusUse(s, i)
			a := Argument{Direction: Return, Form: Variable, Value: bc.Return, At: at, ValueAt: at, Registered: true, Kind: signature.KindUnknown}
			r.local(s, &a)
			c.Arguments = append(c.Arguments, a)
		}
		for j, sa := range bc.Arguments {
			a := Argument{Position: j + 1, Name: sa.Name, Value: sa.Text, OutWord: sa.OutWord, Registered: sa.OutWord, Valued: true,
				IsNull: sa.Kind == sqlcall.Null, Direction: In, At: r.span(sa.Start, sa.End), ValueAt: r.span(sa.ValueStart, sa.ValueEnd)}
			a.Form, a.Kind = formOf(sa)
			if a.Form == Bound { // of the console
				if signature.NamingOf(r.f.Dialect).ShownOutputs {
					a.Direction, a.Registered, a.Valued, a.Value = Out, true, false, ""
					a.Reads = []Read{{At: a.At, Kind: signature.KindUnknown}}
				} else {
					a.Form = Computed
				}
			}
			if a.Form == Variable {
				r.local(s, &a)
				if sa.OutWord {
					a.Direction = Out
				} else if !hasSigil {
					a.Direction = InOut // passed by reference, until the signature tells
				}
				if sa.OutWord || !hasSigil {
					r.reads(s, i, &a)
				}
			} else if sa.OutWord {
				a.Direction = Out
			}
			c.Arguments = append(c.Arguments, a)
		}
		calls = append(calls, c)
	}
	return calls
}

// dynamic finds the calls in a statement that is given as a text: EXEC ('…') and
// sp_executesql N'…', N'declarations', arguments.
func (r *scriptReader) dynamic(s *ddl.Scope, bc body.Call) []*Call {
	system := len(bc.Name) > 0 && strings.EqualFold(bc.Name[len(bc.Name)-1], "sp_executesql")
	if !bc.Dynamic && !system || len(bc.Arguments) == 0 || bc.Arguments[0].Kind != sqlcall.Text {
		return nil
	}
	first := bc.Arguments[0]
	text := sqltext.StringValue(string(r.f.Source[first.ValueStart:first.ValueEnd]), r.lex)
	at := r.span(first.ValueStart, first.ValueEnd)
	return r.inText(text, at, s, bc.Arguments[min(2, len(bc.Arguments)):])
}

// inText finds the calls in a statement's text that stands at a place; given are
// the arguments passed to it by name.
func (r *scriptReader) inText(text string, at Span, s *ddl.Scope, given []sqlcall.Argument) []*Call {
	var calls []*Call
	flat, _ := canonical(text, colonMarks)
	if signature.NamingOf(r.f.Dialect).Sigil != 0 {
		flat = text
	}
	for _, sc := range sqlcall.All([]byte(flat), r.lex) {
		if sc.Dynamic || sc.NameIsVariable {
			continue
		}
		c := &Call{Host: "sql", API: "dynamic", Dialect: r.f.Dialect, State: Named, Name: sc.Name, Verb: sc.Verb, StatusArg: -1, At: at, Use: at,
			Executed: true, ReadsRows: true, InRoutine: s.Routine, Text: strings.Join(strings.Fields(text), " ")}
		next := 0
		for i, sa := range sc.Arguments {
			a := Argument{Position: i + 1, Name: sa.Name, Value: sa.Text, OutWord: sa.OutWord, Registered: sa.OutWord, Valued: true, IsNull: sa.Kind == sqlcall.Null, Direction: In, At: at, ValueAt: at}
			a.Form, a.Kind = formOf(sa)
			if sa.OutWord {
				a.Direction = Out
			}
			var from *sqlcall.Argument
			for k := range given {
				if a.Form == Variable && strings.EqualFold(given[k].Name, sa.Text) {
					from = &given[k]
				}
			}
			if a.Form == Bound && next < len(given) {
				from = &given[next]
				next++
			} else if a.Form == Bound {
				a.Direction, a.Valued, a.Value = Unset, false, ""
			}
			if from != nil {
				a.Form, a.Value = Variable, from.Text
				if from.Kind != sqlcall.Variable {
					a.Form, a.Kind = formOf(*from)
				}
				a.At = r.span(from.Start, from.End)
				a.ValueAt = a.At
				r.local(s, &a)
				if from.OutWord {
					a.Direction, a.Registered = InOut, true
				}
			}
			if a.Registered || a.Form == Variable {
				a.Reads = []Read{{At: a.At, Kind: signature.KindUnknown}}
			}
			c.Arguments = append(c.Arguments, a)
		}
		calls = append(calls, c)
	}
	return calls
}

// text is the call as written, white space folded.
func (r *scriptReader) text(bc body.Call) string {
	src := r.f.Source[bc.Start:bc.End]
	return strings.Join(strings.Fields(string(src)), " ")
}

// local fills in the declared type of a variable.
func (r *scriptReader) local(s *ddl.Scope, a *Argument) {
	for k := range s.Body.Locals {
		if l := &s.Body.Locals[k]; signature.SameName(l.Name, a.Value) {
			a.Local, a.Kind, a.Explicit = &l.Type, l.Type.Kind, true
			return
		}
	}
	if s.Routine != nil {
		for k := range s.Routine.Parameters {
			if p := &s.Routine.Parameters[k]; signature.SameName(p.Name, a.Value) {
				a.Local, a.Kind, a.Explicit = &p.Type, p.Type.Kind, true
				return
			}
		}
	}
}

// reads notes whether the variable that takes an output is read anywhere.
func (r *scriptReader) reads(s *ddl.Scope, at int, a *Argument) {
	found := false
	if strings.HasPrefix(a.Value, "@") {
		for _, u := range s.Body.Uses {
			found = found || signature.SameName(u.Name, a.Value)
		}
		if !found && !signature.NamingOf(r.f.Dialect).HasStatus { // variables of the session
			found = r.session[strings.ToLower(a.Value)]
		}
		for k, other := range s.Body.Calls {
			for _, sa := range other.Arguments {
				found = found || k != at && signature.SameName(sa.Text, a.Value)
			}
		}
	} else {
		found = true // reads of variables without a sigil are not followed
	}
	if s.Routine != nil && !found {
		for _, p := range s.Routine.Outputs() {
			found = found || signature.SameName(p.Name, a.Value)
		}
	}
	if found {
		a.Reads = append(a.Reads, Read{At: a.At, Kind: signature.KindUnknown})
	}
}

// statusUse gathers the comparisons of the variable that took the status of
// call i, up to the next call that fills it again.
func (r *scriptReader) statusUse(s *ddl.Scope, i int) *StatusUse {
	bc := s.Body.Calls[i]
	end := len(r.f.Source)
	for _, other := range s.Body.Calls[i+1:] {
		if signature.SameName(other.Return, bc.Return) {
			end = other.Start
			break
		}
	}
	out := &StatusUse{}
	for _, u := range s.Body.Uses {
		if !signature.SameName(u.Name, bc.Return) || u.Offset < bc.End || u.Offset > end {
			continue
		}
		n, err := strconv.ParseInt(u.Value, 10, 64)
		if u.Op == "" || err != nil {
			out.Escapes = true
			continue
		}
		op := u.Op
		switch op {
		case "=":
			op = "=="
		case "<>":
			op = "!="
		}
		// Which branch the other codes take is not followed in scripts.
		out.Comparisons = append(out.Comparisons, Comparison{Op: op, Value: n, Handled: true, At: r.span(u.ValueOffset, u.ValueOffset+len(u.Value))})
	}
	return out
}
