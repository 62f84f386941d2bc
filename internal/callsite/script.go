package callsite

import (
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
	if d := ddl.DialectOf(f.Dialect); d == nil || !d.CallsRead {
		return nil
	}
	r := &scriptReader{f: f, session: map[string]bool{}}
	for _, s := range f.Scopes {
		for _, u := range s.Body.Uses {
			r.session[strings.ToLower(u.Name)] = true
		}
	}
	var calls []*Call
	for i := range f.Scopes {
		calls = append(calls, r.scope(&f.Scopes[i])...)
	}
	calls = append(calls, r.expressions()...)
	sort.SliceStable(calls, func(i, j int) bool {
		a, b := calls[i].At, calls[j].At
		return a.Line < b.Line || a.Line == b.Line && a.Column < b.Column
	})
	return calls
}

// expressions finds names with arguments where a value is wanted. Most are
// functions and no calls of this kind; [Resolve] keeps those that turn out to be
// procedures, which cannot stand there.
func (r *scriptReader) expressions() []*Call {
	lex := ddl.DialectOf(r.f.Dialect).Lexis
	src := r.f.Source
	s := sqltext.NewScanner(src, lex)
	var calls []*Call
	var window [3]sqltext.Token // the last tokens, the newest last
	for t := s.Next(); t.Kind != sqltext.EOF; t = s.Next() {
		if name, before := window[2], window[1]; t.Kind == sqltext.Punct && t.Op == '(' && name.IsName() && name.Kw == sqltext.NoKeyword {
			parts := []string{name.Name(src)}
			start := name.Start
			if before.Kind == sqltext.Punct && before.Op == '.' && window[0].IsName() {
				// schema.name( : what stands before the schema is out of the window
				parts = []string{window[0].Name(src), parts[0]}
				start = window[0].Start
				before = tokenBefore(src, lex, int(start))
			}
			if wantsValue(before) {
				c := &Call{Host: "sql", API: "expression", Dialect: r.f.Dialect, State: Named, Name: parts, Verb: "expression", StatusArg: -1,
					At: r.span(int(start), int(name.End)), Executed: true, Open: true, ReadsRows: true}
				c.Use, c.Text = c.At, string(src[start:name.End])
				calls = append(calls, c)
			}
		}
		window = [3]sqltext.Token{window[1], window[2], t}
	}
	return calls
}

// wantsValue reports whether a value stands behind the token: an assignment, a
// select list, an argument.
func wantsValue(t sqltext.Token) bool {
	if t.Kind == sqltext.Punct {
		return t.Op == '=' || t.Op == sqltext.OpAssign || t.Op == '+' || t.Op == '-' || t.Op == '*' || t.Op == '/'
	}
	return t.Kw == sqltext.SELECT || t.Kw == sqltext.RETURN || t.Kw == sqltext.PRINT
}

// tokenBefore is the operator or word right before offset, on the same line.
func tokenBefore(src []byte, lex *sqltext.Lexis, offset int) sqltext.Token {
	begin := offset
	for begin > 0 && src[begin-1] != '\n' {
		begin--
	}
	var last sqltext.Token
	s := sqltext.NewScanner(src[begin:offset], lex)
	for t := s.Next(); t.Kind != sqltext.EOF; t = s.Next() {
		last = t
	}
	return last
}

// scriptReader turns the calls of one file into call sites.
type scriptReader struct {
	f *ddl.File
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
		if bc.Dynamic {
			continue
		}
		c := &Call{Host: "sql", API: bc.Verb, Dialect: r.f.Dialect, State: Named, Name: bc.Name, Verb: bc.Verb, StatusArg: -1,
			At: r.span(bc.NameStart, bc.NameEnd), Executed: true, RowsTaken: bc.RowsTaken, InRoutine: s.Routine,
			Text: r.text(bc)}
		c.Use = c.At
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
