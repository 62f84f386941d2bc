// Package body reads what the statements of a routine, or of a script, do that
// a caller must know: the status codes they hand back, the result sets they
// send, the outputs they assign and the routines they call. Each dialect's
// statements have a walker of their own ([TSQL]) or a [Profile] of the one for SQL/PSM and
// PL/SQL ([PSM]); all fill a [Body].
//
// A walker goes over the statements flat, in textual order, and does not build
// a tree of them: what is asked of a body so far does not depend on the path.
package body

import (
	"slices"
	"strconv"
	"strings"

	"ramekin/internal/signature"
	"ramekin/internal/sqlcall"
	"ramekin/internal/sqltext"
)

// Body is what the statements of one routine or script do. Offsets are into
// the text that was read.
type Body struct {
	Returns  []Return
	Results  []Result
	Assigned []Assignment
	Calls    []Call
	// Dynamic holds the offsets of statements that run other statements given as text.
	Dynamic []int
	Locals  []Local
	Uses    []Use
	// Statements holds the tokens of top-level statements that declare, drop or
	// rename something; only scripts are asked for them.
	Statements []Statement
	// Suspends holds the offset of the first SUSPEND.
	Suspends []int
	// Exits are the ways out of the statements, where outputs were asked for.
	Exits []Exit
	// Mentions are the parameters that a body in another language names.
	Mentions []Mention
	// End is the index of the token at which the walk ended.
	End int
}

// Return is one RETURN of a value.
type Return struct {
	Offset int
	// Code is the constant whole number; Constant is false where the value is
	// something else.
	Code     int64
	Constant bool
}

// Result is one statement that sends rows.
type Result struct {
	Offset  int
	Columns []string
	// Through is the output parameter whose cursor has the rows, "" where they
	// are sent beside the outputs.
	Through string
}

// Exit is one way out of the statements: a RETURN, or their end.
type Exit struct {
	Offset int
	// Missing are the outputs that some way to this exit does not assign.
	Missing []string
}

// Assignment is one statement that gives a variable or output a value.
type Assignment struct {
	Name   string
	Offset int
}

// Call is a call of another routine.
type Call struct {
	sqlcall.Call
	// RowsTaken is set where the rows of the call go into a table.
	RowsTaken bool
}

// Local is a variable that the statements declare.
type Local struct {
	Name   string
	Type   signature.Type
	Offset int
}

// Use is a place that reads a variable. Where it compares the variable with a
// constant, Op says how and Value is the constant's text, at ValueOffset.
type Use struct {
	Name        string
	Offset      int
	Op          string
	Value       string
	ValueOffset int
}

// Statement is a statement that starts with a word that changes what is declared.
type Statement struct {
	Keyword sqltext.Keyword
	First   int // index of its first token
}

// Options say what a walk is asked for.
type Options struct {
	// Outputs are the names whose assignments are wanted.
	Outputs []string
	// Detail asks for locals and uses too, which only a reader of call sites needs.
	Detail bool
	// Script asks for the statements that declare, drop or rename.
	Script bool
	// Function is set for bodies whose RETURN is a function's result.
	Function bool
	// Type reads the types of locals.
	Type func(*sqltext.Cursor) (signature.Type, bool)
}

// StatusOf sums the RETURN statements of a procedure up.
func (b *Body) StatusOf() *signature.Status {
	st := &signature.Status{}
	for _, r := range b.Returns {
		if !r.Constant {
			st.Open = true
		} else if !slices.Contains(st.Codes, r.Code) {
			st.Codes = append(st.Codes, r.Code)
		}
	}
	slices.Sort(st.Codes)
	return st
}

// walker is what the walkers of all dialects share.
type walker struct {
	*sqltext.Cursor
	b    *Body
	opts Options
	// items are the first and last tokens of the select list last read; the
	// slice is used again for each list.
	items [][2]int
	// assigned is told of each assignment to an output, by its index.
	assigned func(output int)
}

func (w *walker) offset() int { return int(w.Peek().Start) }

// assign notes an assignment to name where it is one of the wanted outputs.
func (w *walker) assign(name string, offset int) {
	name = strings.TrimPrefix(name, ":")
	for i, o := range w.opts.Outputs {
		if strings.EqualFold(o, name) {
			w.b.Assigned = append(w.b.Assigned, Assignment{o, offset})
			if w.assigned != nil {
				w.assigned(i)
			}
			return
		}
	}
}

// call notes a call, and the outputs that are passed on to it.
func (w *walker) call(c sqlcall.Call, rowsTaken bool) {
	if c.Dynamic {
		w.b.Dynamic = append(w.b.Dynamic, c.Start)
		w.b.Calls = append(w.b.Calls, Call{c, rowsTaken})
		return
	}
	if len(c.Name) > 0 && strings.EqualFold(c.Name[len(c.Name)-1], "sp_executesql") {
		w.b.Dynamic = append(w.b.Dynamic, c.Start)
	}
	w.b.Calls = append(w.b.Calls, Call{c, rowsTaken})
	if c.ReturnIsVariable {
		w.assign(c.Return, c.ReturnStart)
	}
	for _, a := range c.Arguments {
		if a.Kind == sqlcall.Variable && (a.OutWord || c.Verb == "call") {
			w.assign(a.Text, a.ValueStart)
		}
	}
}

// constantReturn reads signs, brackets and one whole number. It returns false,
// without moving, where the expression is anything else.
func (w *walker) constantReturn() (int64, bool) {
	start := w.I
	negative, depth := false, 0
	for {
		switch {
		case w.AcceptOp('-'):
			negative = !negative
			continue
		case w.AcceptOp('+'):
			continue
		case w.AcceptOp('('):
			depth++
			continue
		}
		break
	}
	t := w.Peek()
	if t.Kind == sqltext.Number {
		n, err := strconv.ParseInt(w.Text(t), 10, 64)
		if err == nil {
			w.I++
			for depth > 0 && w.AcceptOp(')') {
				depth--
			}
			if depth == 0 {
				if negative {
					n = -n
				}
				return n, true
			}
		}
	}
	w.I = start
	return 0, false
}

// use notes that the variable at the current token is read, and how.
func (w *walker) use() {
	t := w.Peek()
	u := Use{Name: w.Name(t), Offset: int(t.Start)}
	op := w.Ahead(1)
	isComparison := op.Kind == sqltext.Punct && (op.Op == '=' || op.Op == '<' || op.Op == '>' || op.Op == sqltext.OpCompare)
	if isComparison {
		i, sign := 2, ""
		if w.Ahead(i).Op == '-' && w.Ahead(i).Kind == sqltext.Punct {
			i, sign = 3, "-"
		}
		if v := w.Ahead(i); v.Kind == sqltext.Number || v.Kind == sqltext.String {
			u.Op, u.Value, u.ValueOffset = w.Text(op), sign+w.Text(v), int(w.Ahead(2).Start)
		}
	}
	w.b.Uses = append(w.b.Uses, u)
}

// addResult notes a statement that sends the rows of the select list last read.
func (w *walker) addResult(offset int, name func(first, last int) string) {
	cols := make([]string, 0, len(w.items))
	for _, it := range w.items {
		cols = append(cols, name(it[0], it[1]))
	}
	w.b.Results = append(w.b.Results, Result{Offset: offset, Columns: cols})
}

// selectList reads the items of a select list up to a token at which stop is
// true, outside of brackets and CASE. It leaves them in w.items.
func (w *walker) selectList(stop func(t sqltext.Token) bool) {
	w.items = w.items[:0]
	first := w.I
	depth, cases := 0, 0
	for !w.Done() {
		t := w.Peek()
		switch {
		case t.Kind == sqltext.Punct:
			switch t.Op {
			case '(':
				depth++
			case ')':
				if depth == 0 {
					w.endItem(first)
					return
				}
				depth--
			case ',':
				if depth == 0 && cases == 0 {
					w.endItem(first)
					w.I++
					first = w.I
					continue
				}
			case ';':
				if depth == 0 {
					w.endItem(first)
					return
				}
			}
		case t.Kind == sqltext.Delimiter || t.Kind == sqltext.BatchEnd:
			w.endItem(first)
			return
		case t.Kind == sqltext.Variable:
			if w.opts.Detail {
				w.use()
			}
		case t.Kw == sqltext.NoKeyword || depth > 0:
		case t.Kw == sqltext.CASE:
			cases++
		case t.Kw == sqltext.END && cases > 0:
			cases--
		case cases == 0 && stop(t):
			w.endItem(first)
			return
		}
		w.I++
	}
	w.endItem(first)
}

func (w *walker) endItem(first int) {
	if w.I > first {
		w.items = append(w.items, [2]int{first, w.I})
	}
}

// label is the name that a token gives to a column.
func (w *walker) label(t sqltext.Token) string {
	if t.Kind == sqltext.String {
		return sqltext.StringValue(w.Text(t), w.Lex)
	}
	return w.Name(t)
}

// isKeyword holds words as a set that costs one look-up.
type isKeyword [512]bool

func keywords(words ...sqltext.Keyword) *isKeyword {
	var set isKeyword
	for _, k := range words {
		set[k] = true
	}
	return &set
}
