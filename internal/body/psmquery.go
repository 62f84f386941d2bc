package body

import (
	"strings"

	"ramekin/internal/sqltext"
)

// query walks over a SELECT, a TABLE or a VALUES statement with all that is
// joined to it. INTO may stand behind the list or at the end.
func (w *psmWalker) query() {
	at := w.offset()
	for w.AcceptOp('(') {
	}
	if w.AtKw(sqltext.WITH) {
		w.until(func(t sqltext.Token) bool {
			return t.Kw == sqltext.SELECT || t.Kw == sqltext.UPDATE || t.Kw == sqltext.DELETE || t.Kw == sqltext.INSERT
		})
		if !w.AtKw(sqltext.SELECT) {
			w.rest()
			return
		}
	}
	w.items = w.items[:0]
	if t := w.Next(); t.Kw == sqltext.SELECT || w.p.Macro && t.Is(w.Src, "sel") {
		w.selectItems()
	}
	mark := len(w.b.Results)
	if w.p.QueriesSend {
		w.addResult(at, w.columnName)
	}
	for w.until(func(t sqltext.Token) bool { return t.Kw == sqltext.INTO }) {
		w.b.Results = w.b.Results[:mark] // the rows go elsewhere
		w.into()
	}
}

func (w *psmWalker) atModifier() bool {
	for _, m := range psmModifiers {
		if w.AtWord(m) {
			return true
		}
	}
	return false
}

// into reads the targets behind INTO.
func (w *psmWalker) into() {
	if w.AcceptKw(sqltext.INTO) {
		w.AcceptWord("strict")
		w.targets()
	}
}

// targets reads the variables that take values, as far as they go.
func (w *psmWalker) targets() {
	for t := w.Peek(); t.IsName() || t.Kind == sqltext.Variable; t = w.Peek() {
		w.assign(w.Name(t), int(t.Start))
		w.I++
		for w.AtOp('.') || w.AtOp('(') || w.AtOp('[') { // a field, an element
			if n := w.closing(0); !w.AtOp('.') && n > 0 {
				w.I += n
			} else {
				w.I += 2
			}
		}
		if !w.AcceptOp(',') {
			return
		}
	}
}

// cursorAhead reports whether a cursor with its options is declared here.
func (w *psmWalker) cursorAhead() bool {
	for i := 1; i < 5; i++ { // name [ASENSITIVE | INSENSITIVE] [[NO] SCROLL] CURSOR
		if t := w.Ahead(i); t.Kw == sqltext.CURSOR {
			return true
		} else if t.Kind != sqltext.Word {
			return false
		}
	}
	return false
}

// cursor reads the declaration of a cursor; one that sends its rows is kept.
func (w *psmWalker) cursor() {
	name := strings.ToLower(w.Name(w.Peek()))
	returns := false
	w.until(func(t sqltext.Token) bool {
		returns = returns || t.Kw == sqltext.RETURN || t.Kw == sqltext.RESULT && w.At(w.I-1).Kw == sqltext.WITH
		return t.Kw == sqltext.FOR
	})
	w.AcceptKw(sqltext.FOR)
	if returns && w.p.CursorsSend {
		if w.cursors == nil {
			w.cursors = map[string][]string{}
		}
		w.cursors[name] = w.columnsOfQuery()
	}
	w.rest()
}

// columnName names the column of one item of a select list, as the server
// does: the alias, the column, or the text of the expression.
func (w *psmWalker) columnName(first, last int) string {
	n := last - first
	end := w.At(last - 1)
	for w.p.Macro && n > 4 && end.Op == ')' && end.Kind == sqltext.Punct && w.At(last-4).Op == '(' { // (NAMED z), (TITLE 'x')
		if w.At(last-3).Is(w.Src, "named") {
			return w.label(w.At(last - 2))
		}
		if !w.At(last-3).Is(w.Src, "title") && !w.At(last-3).Is(w.Src, "format") {
			break
		}
		last -= 4
		n, end = last-first, w.At(last-1)
	}
	switch {
	case n >= 2 && w.At(last-2).Kw == sqltext.AS:
		return w.label(end)
	case end.Kind == sqltext.Punct && end.Op == '*' && (n == 1 || w.At(last-2).Op == '.'):
		return "*"
	case n >= 3 && w.At(last-2).Op == '.' && w.At(last-2).Kind == sqltext.Punct && end.IsName() && (n == 3 || n == 5):
		return w.Name(end)
	case n == 1 && (w.p.TextNames || end.IsName() && end.Kw == sqltext.NoKeyword):
		return w.label(end)
	case n >= 2 && (end.IsName() && end.Kw == sqltext.NoKeyword || end.Kind == sqltext.String) && w.endsOperand(w.At(last-2)):
		return w.label(end)
	}
	if !w.p.TextNames {
		return ""
	}
	return string(w.Src[w.At(first).Start:end.End])
}

func (w *psmWalker) endsOperand(t sqltext.Token) bool {
	switch t.Kind {
	case sqltext.Punct:
		return t.Op == ')'
	case sqltext.Word:
		return t.Kw == sqltext.NoKeyword || t.Kw == sqltext.END || t.Kw == sqltext.NULL
	}
	return true
}

// change walks over INSERT, REPLACE, UPDATE or DELETE; a RETURNING clause
// sends rows.
func (w *psmWalker) change() {
	at := w.offset()
	w.I++
	if w.until(func(t sqltext.Token) bool { return t.Kw == sqltext.RETURNING }) {
		w.I++
		w.selectList(func(t sqltext.Token) bool { return psmListEnds[t.Kw] })
		if w.AtKw(sqltext.INTO) {
			w.into()
		} else if w.p.QueriesSend {
			w.addResult(at, w.columnName)
		}
	}
	w.rest()
}

// set reads SET a = …, b := ….
func (w *psmWalker) set() {
	w.I++
	start, depth := true, 0
	for !w.Done() {
		t := w.Peek()
		op := w.Ahead(1)
		if start && (t.IsName() || t.Kind == sqltext.Variable) && op.Kind == sqltext.Punct && (op.Op == '=' || op.Op == sqltext.OpAssign) {
			w.assign(w.Name(t), int(t.Start))
			w.I += 2
			start = false
			continue
		}
		if start && t.Kind == sqltext.Punct && t.Op == '(' { // SET (a, b) = …
			w.I++
			w.targets()
			start = false
			continue
		}
		start = false
		switch {
		case t.Kind == sqltext.Punct && t.Op == '(':
			depth++
		case t.Kind == sqltext.Punct && t.Op == ')':
			depth--
		case t.Kind == sqltext.Punct && t.Op == ',' && depth == 0:
			start = true
		case t.Kind == sqltext.Punct && t.Op == ';', t.Kind == sqltext.Delimiter:
			return
		case t.Kind == sqltext.Variable && w.opts.Detail:
			w.use()
		}
		w.I++
	}
}

// diagnostics reads GET DIAGNOSTICS … name = ITEM, ….
func (w *psmWalker) diagnostics() {
	w.I++
	for !w.Done() && !w.AtOp(';') {
		if t := w.Peek(); t.IsName() && w.Ahead(1).Op == '=' {
			w.assign(w.Name(t), int(t.Start))
		}
		w.I++
	}
}
