package callsite

import (
	"strings"

	"ramekin/internal/signature"
	"ramekin/internal/sqlcall"
)

// unresolvedText is a call whose text is not known without running the program.
func unresolvedText(s *site, text value) *Call {
	c := &Call{State: Unresolved}
	s.describe(c)
	c.At = c.Use
	what := "the text of the call"
	if text.use != 0 {
		c.At = text.useTree.span(text.use)
		what += " (" + clipText(sourceText(text), 60) + ")"
	} else if text.tree != nil && text.node != 0 {
		c.At = text.tree.span(text.node)
		what += " (" + clipText(sourceText(text), 60) + ")"
	}
	switch {
	case text.kind == symbolValue && strings.Contains(text.sym, "."):
		c.Reason = what + " is declared in a file that was not read, or is only known when the program runs"
	case text.param:
		c.Reason = what + " comes from callers that are not seen"
	default:
		c.Reason = what + " is only known when the program runs"
	}
	c.Text = text.shownText()
	return c
}

func clipText(s string, n int) string {
	if r := []rune(s); len(r) > n {
		return string(r[:n-1]) + "…"
	}
	return s
}

// newTextCall makes a call of one that was found in a call text.
func newTextCall(s *site, text value, sql string, sc *sqlcall.Call) *Call {
	c := &Call{State: Named, Name: sc.Name, Verb: sc.Verb}
	s.describe(c)
	c.Text = strings.TrimSpace(text.shownText())
	c.At = c.Use
	if p, ok := text.partAt(max(sc.NameEnd-1, 0)); ok && p.node != 0 {
		c.At = p.tree.span(p.node)
	}
	if sc.NameIsVariable || sqlcall.HasHole(strings.Join(sc.Name, ".")) || len(sc.Name) == 0 {
		c.Name = nil
		c.State = Unresolved
		c.Reason = "the routine's name is only known when the program runs: " + clipText(c.Text, 80)
	}
	for _, a := range sc.Arguments {
		if a.Holes {
			at := c.Use
			if p, ok := text.partAt(a.ValueStart + holeIn(sql, a)); ok && p.node != 0 {
				if p.grows {
					c.Open, c.OpenReason = true, "the text of the call grows in a loop"
					continue
				}
				at = p.tree.span(p.node)
			}
			c.Holes = append(c.Holes, at)
		}
	}
	return c
}

// holeIn is the offset of the first hole in an argument.
func holeIn(sql string, a sqlcall.Argument) int {
	if a.ValueEnd > len(sql) || a.ValueStart > a.ValueEnd {
		return 0
	}
	return max(0, strings.Index(sql[a.ValueStart:a.ValueEnd], sqlcall.HoleMark))
}

// textArgument is an argument as the call text writes it.
func textArgument(_ *unit, text value, sql string, sa sqlcall.Argument, position int) Argument {
	a := Argument{Position: position, Name: sa.Name, Value: sa.Text, Direction: In, OutWord: sa.OutWord, Valued: true}
	if p, ok := text.partAt(sa.Start); ok && p.node != 0 && sql != "" {
		a.At = p.tree.span(p.node)
	} else if len(text.parts) > 0 && text.parts[0].node != 0 {
		a.At = text.parts[0].tree.span(text.parts[0].node)
	}
	a.ValueAt = a.At
	a.Form, a.Kind = formOf(sa)
	a.IsNull = sa.Kind == sqlcall.Null
	if sa.OutWord {
		a.Direction = Out
		a.Registered = true
	}
	if sa.Holes {
		a.Value = holesShown(text, sa)
	}
	return a
}

func holesShown(text value, sa sqlcall.Argument) string {
	for _, p := range text.parts {
		if p.hole {
			if one, ok := text.partAt(sa.ValueStart); ok && one.node == p.node {
				return "<" + strings.Join(strings.Fields(p.expr), " ") + ">"
			}
		}
	}
	clean := strings.ReplaceAll(strings.ReplaceAll(sa.Text, sqlcall.HoleMark+"h", "<…"), sqlcall.HoleEnd, ">")
	return clean
}

// formOf tells what an argument of a text is, and what its value can carry.
func formOf(sa sqlcall.Argument) (Form, signature.Kind) {
	switch sa.Kind {
	case sqlcall.Placeholder:
		return Bound, signature.KindUnknown
	case sqlcall.Variable:
		return Variable, signature.KindUnknown
	case sqlcall.Null:
		return NullText, signature.KindUnknown
	case sqlcall.Text:
		return Constant, signature.KindString
	case sqlcall.Number:
		if strings.ContainsAny(sa.Text, ".eE") && !strings.HasPrefix(strings.ToLower(sa.Text), "0x") {
			return Constant, signature.KindDecimal
		}
		return Constant, signature.KindInt32
	case sqlcall.DefaultWord:
		return Default, signature.KindUnknown
	case sqlcall.Hole:
		return Joined, signature.KindUnknown
	}
	if sa.Holes {
		return Joined, signature.KindUnknown
	}
	return Computed, signature.KindUnknown
}
