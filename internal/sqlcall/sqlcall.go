// Package sqlcall reads the statements that call a routine: EXEC and EXECUTE,
// CALL, and the {call …} escape of the call-level interfaces (ISO/IEC 9075-3,
// ODBC "Procedure calls"). It is used for scripts, for routine bodies and for
// the call text in application code, which differ only in what stands around
// the call.
package sqlcall

import (
	"slices"
	"strings"

	"ramekin/internal/sqltext"
)

// HoleMark begins and HoleEnd ends a part of a call's text that is not known
// without running the program. They are private characters that the scanner
// takes for letters, so that a hole reads as a name, or as part of one.
const (
	HoleMark = "\uE000"
	HoleEnd  = "\uE001"
)

// HasHole reports whether text has a part that is not known.
func HasHole(text string) bool { return strings.Contains(text, HoleMark) }

// ArgumentKind says what stands in an argument's place.
type ArgumentKind uint8

// The kinds of argument.
const (
	Expression  ArgumentKind = iota
	Placeholder              // ?
	Variable                 // @name, or a bare name where variables have no sigil
	Null                     // NULL
	Text                     // a string
	Number                   // a number, signed or not
	DefaultWord              // DEFAULT
	Hole                     // text joined in by the program
)

// Argument is one argument of a call.
type Argument struct {
	// Name is the parameter that the argument names, "" where it is positional.
	Name string
	Kind ArgumentKind
	// Text is the argument as written, white space folded.
	Text string
	// OutWord is set where OUT or OUTPUT stands behind the argument.
	OutWord bool
	// Holes is set where the argument has text that is not known.
	Holes bool
	// Placeholders is how many ? the argument has.
	Placeholders int
	// Start and End are offsets of the argument, its name included, in the text;
	// ValueEnd is where its value ends, before any OUT word.
	Start, End, ValueEnd int
	// ValueStart is where the value begins, after the argument's name.
	ValueStart int
}

// Call is one call of a routine.
type Call struct {
	// Verb is "exec", "call" or "escape".
	Verb string
	// Name holds the parts of the routine's name, the innermost last. It is
	// empty where the name is a variable or placeholder.
	Name []string
	// NameText is the name as written.
	NameText         string
	NameStart        int
	NameEnd          int
	NameIsVariable   bool
	Arguments        []Argument
	Parenthesised    bool
	Return           string // the variable or placeholder that takes the result, or ""
	ReturnStart      int
	ReturnIsVariable bool
	Start, End       int
	// Dynamic is set for EXEC of a text instead of a routine.
	Dynamic bool
}

// endsArguments holds the words that no argument of an unbracketed list
// begins with and that end one.
var endsArguments = func() (set [512]bool) {
	for _, k := range []sqltext.Keyword{sqltext.WITH, sqltext.SELECT, sqltext.INSERT, sqltext.UPDATE, sqltext.DELETE, sqltext.MERGE,
		sqltext.SET, sqltext.DECLARE, sqltext.IF, sqltext.ELSE, sqltext.WHILE, sqltext.BEGIN, sqltext.END, sqltext.RETURN,
		sqltext.EXEC, sqltext.EXECUTE, sqltext.PRINT, sqltext.RAISERROR, sqltext.FETCH, sqltext.OPEN, sqltext.CLOSE,
		sqltext.DEALLOCATE, sqltext.CREATE, sqltext.ALTER, sqltext.DROP, sqltext.TRUNCATE, sqltext.COMMIT, sqltext.ROLLBACK,
		sqltext.SAVE, sqltext.WAITFOR, sqltext.GOTO, sqltext.BREAK, sqltext.CONTINUE, sqltext.USE, sqltext.GRANT, sqltext.THROW} {
		set[k] = true
	}
	return set
}()

// AtCall reports whether a call begins at the cursor.
func AtCall(c *sqltext.Cursor) bool {
	switch t := c.Peek(); {
	case t.Kw == sqltext.EXECUTE && c.Ahead(1).Kw == sqltext.PROCEDURE: // Firebird
		return isRoutineName(c.Ahead(2))
	case t.Kw == sqltext.EXEC, t.Kw == sqltext.EXECUTE:
		n := c.Ahead(1)
		if n.Is(c.Src, "immediate") || n.Is(c.Src, "block") || n.Is(c.Src, "statement") || n.Is(c.Src, "as") {
			return false
		}
		return isRoutineName(n) || n.Kind == sqltext.Variable || n.Kind == sqltext.Placeholder || n.Kind == sqltext.Punct && n.Op == '('
	case t.Kw == sqltext.CALL:
		n := c.Ahead(1)
		return isRoutineName(n) || n.Kind == sqltext.Placeholder
	case t.Kind == sqltext.Placeholder && c.Ahead(1).Op == '=':
		k := c.Ahead(2).Kw
		return k == sqltext.CALL || k == sqltext.EXEC || k == sqltext.EXECUTE
	case t.Kind == sqltext.Punct && t.Op == '{':
		i := 1
		if c.Ahead(i).Kind == sqltext.Placeholder || c.Ahead(i).Kind == sqltext.Variable {
			i += 2
		}
		return c.Ahead(i).Kw == sqltext.CALL
	}
	return false
}

// isRoutineName reports whether a routine can be called what the token says.
func isRoutineName(t sqltext.Token) bool {
	return t.IsName() && !endsArguments[t.Kw] && t.Kw != sqltext.FROM && t.Kw != sqltext.WHERE && t.Kw != sqltext.AS
}

// Parse reads the call that begins at the cursor and moves past it. It returns
// false where there is none.
func Parse(c *sqltext.Cursor) (Call, bool) {
	if !AtCall(c) {
		return Call{}, false
	}
	call := Call{Start: int(c.Peek().Start), Verb: "call"}
	braced := c.AcceptOp('{')
	if t := c.Peek(); t.Kind == sqltext.Placeholder || t.Kind == sqltext.Variable {
		call.setReturn(c)
	}
	switch c.Next().Kw {
	case sqltext.EXEC, sqltext.EXECUTE:
		call.Verb = "exec"
		if c.AcceptKw(sqltext.PROCEDURE) {
			call.Verb = "execute"
		}
	}
	if braced {
		call.Verb = "escape"
	}
	if call.Verb == "exec" {
		if c.AtOp('(') {
			call.Dynamic = true
			call.NameStart = int(c.Peek().Start)
			call.Arguments = append(call.Arguments, bracketed(c)...)
			call.End = int(c.At(c.I - 1).End)
			return call, true
		}
		if t := c.Peek(); (t.Kind == sqltext.Variable || t.Kind == sqltext.Placeholder) && c.Ahead(1).Op == '=' {
			call.setReturn(c)
		}
	}
	if !call.readName(c) {
		return Call{}, false
	}
	if c.AtOp('(') {
		call.Parenthesised = true
		call.Arguments = bracketed(c)
	} else if call.Verb == "execute" && c.Peek().Is(c.Src, "returning_values") {
	} else if call.Verb != "call" || c.Peek().Kind == sqltext.Placeholder {
		call.Arguments = open(c)
	}
	if call.Verb == "execute" {
		call.Arguments = append(call.Arguments, ReturningValues(c)...)
	}
	call.End = int(c.At(c.I - 1).End)
	if braced && c.AtOp('}') {
		call.End = int(c.Next().End)
	}
	return call, true
}

// ReturningValues reads RETURNING_VALUES (variable, …), where Firebird's EXECUTE
// PROCEDURE puts the outputs; they are arguments behind the others. It returns
// nothing, without moving, where no such word follows.
func ReturningValues(c *sqltext.Cursor) []Argument {
	if !c.AcceptWord("returning_values") {
		return nil
	}
	var args []Argument
	if c.AtOp('(') {
		args = bracketed(c)
	} else {
		args = open(c)
	}
	for i := range args {
		args[i].OutWord, args[i].Kind = true, Variable
		args[i].Text = strings.TrimPrefix(args[i].Text, ":")
	}
	return args
}

// ParseBare reads a call that no verb begins, as procedural languages have it:
// name, or name(argument, …). It returns false, without moving, where there is
// no name.
func ParseBare(c *sqltext.Cursor) (Call, bool) {
	start := c.I
	call := Call{Start: int(c.Peek().Start), Verb: "call"}
	if !c.Peek().IsName() || !call.readName(c) {
		c.I = start
		return Call{}, false
	}
	if c.AtOp('(') {
		call.Parenthesised = true
		call.Arguments = bracketed(c)
	}
	call.End = int(c.At(c.I - 1).End)
	return call, true
}

func (call *Call) setReturn(c *sqltext.Cursor) {
	t := c.Next()
	call.Return, call.ReturnStart = c.Text(t), int(t.Start)
	call.ReturnIsVariable = t.Kind == sqltext.Variable
	c.AcceptOp('=')
}

func (call *Call) readName(c *sqltext.Cursor) bool {
	t := c.Peek()
	call.NameStart = int(t.Start)
	first := c.I
	switch {
	case t.Kind == sqltext.Variable || t.Kind == sqltext.Placeholder:
		c.I++
		call.NameIsVariable = true
	case t.IsName():
		call.Name = c.DottedName()
		if c.AtOp(';') && c.Ahead(1).Kind == sqltext.Number && call.Verb != "call" {
			if n := c.Text(c.Ahead(1)); n != "1" {
				call.Name[len(call.Name)-1] += ";" + n
			}
			c.I += 2
		}
	default:
		return false
	}
	call.NameEnd = int(c.At(c.I - 1).End)
	call.NameText = c.FoldFrom(first)
	return true
}

// bracketed reads ( argument, … ).
func bracketed(c *sqltext.Cursor) []Argument {
	c.I++
	var args []Argument
	if c.AcceptOp(')') {
		return nil
	}
	for !c.Done() {
		first, depth := c.I, 0
		for !c.Done() {
			t := c.Peek()
			if t.Kind == sqltext.Punct {
				if depth == 0 && (t.Op == ',' || t.Op == ')') {
					break
				}
				switch t.Op {
				case '(', '{':
					depth++
				case ')', '}':
					depth--
				}
			}
			c.I++
		}
		args = append(args, argument(c, first, c.I))
		if !c.AcceptOp(',') {
			break
		}
	}
	c.AcceptOp(')')
	return args
}

// open reads argument, … without brackets: each argument is a value, which
// operators may continue, so the list ends where neither a comma nor an
// operator follows.
func open(c *sqltext.Cursor) []Argument {
	var args []Argument
	for !c.Done() {
		t := c.Peek()
		if endsArguments[t.Kw] || t.Kind == sqltext.Punct && t.Op != '-' && t.Op != '+' && t.Op != '(' || t.Kind == sqltext.BatchEnd || t.Kind == sqltext.Delimiter {
			break
		}
		first := c.I
		operand(c)
		for c.Peek().Kind == sqltext.Punct {
			op := c.Peek().Op
			if op == ',' || op == ';' || op == ')' || op == '}' {
				break
			}
			c.I++
			if op != '(' {
				operand(c)
			} else {
				c.I--
				c.SkipParens()
			}
		}
		for k := c.Peek().Kw; k == sqltext.OUT || k == sqltext.OUTPUT; k = c.Peek().Kw {
			c.I++
		}
		args = append(args, argument(c, first, c.I))
		if c.I == first || !c.AcceptOp(',') {
			break
		}
	}
	return args
}

func operand(c *sqltext.Cursor) {
	for c.AtOp('-') || c.AtOp('+') {
		c.I++
	}
	if c.AtOp('(') {
		c.SkipParens()
		return
	}
	if t := c.Peek(); t.Kind != sqltext.Punct && t.Kind != sqltext.BatchEnd && t.Kind != sqltext.Delimiter {
		c.I++
	}
}

// argument describes the tokens from first up to last as one argument.
func argument(c *sqltext.Cursor, first, last int) Argument {
	a := Argument{}
	if first >= last {
		at := int(c.At(first).Start)
		return Argument{Start: at, ValueStart: at, ValueEnd: at, End: at}
	}
	a.Start, a.End = int(c.At(first).Start), int(c.At(last-1).End)
	if t, op := c.At(first), c.At(first+1); last-first > 2 && op.Kind == sqltext.Punct &&
		(op.Op == sqltext.OpArrow || op.Op == '=' && t.Kind == sqltext.Variable || op.Op == sqltext.OpAssign && t.IsName()) {
		a.Name = c.Name(t)
		first += 2
	}
	for last-first > 1 { // IN a => 1, OUT b => :x, as HANA has it
		w := c.At(first)
		if out := w.Kw == sqltext.OUT || w.Is(c.Src, "inout"); !out && w.Kw != sqltext.IN || c.At(first+1).Kind == sqltext.Punct && c.At(first+1).Op != ':' {
			break
		} else if out {
			a.OutWord = true
		}
		first++
		if op := c.At(first + 1); last-first > 2 && c.At(first).IsName() && op.Kind == sqltext.Punct && op.Op == sqltext.OpArrow {
			a.Name = c.Name(c.At(first))
			first += 2
		}
	}
	for last-first > 1 && (c.At(last-1).Kw == sqltext.OUT || c.At(last-1).Kw == sqltext.OUTPUT) {
		a.OutWord = true
		last--
	}
	a.ValueStart, a.ValueEnd = int(c.At(first).Start), int(c.At(last-1).End)
	tokens := c.Slice(first, last)
	a.Text = sqltext.Fold(c.Src, tokens)
	a.Holes = HasHole(a.Text)
	for _, t := range tokens {
		if t.Kind == sqltext.Placeholder {
			a.Placeholders++
		}
	}
	a.Kind = kindOf(c, tokens)
	return a
}

func kindOf(c *sqltext.Cursor, tokens []sqltext.Token) ArgumentKind {
	for len(tokens) > 1 && tokens[0].Kind == sqltext.Punct && (tokens[0].Op == '-' || tokens[0].Op == '+') {
		if tokens[1].Kind != sqltext.Number && len(tokens) == 2 {
			return Expression
		}
		tokens = tokens[1:]
	}
	if len(tokens) != 1 {
		if len(tokens) == 2 && tokens[0].Kind == sqltext.Word && tokens[1].Kind == sqltext.String {
			return Text // a character set before a string
		}
		if len(tokens) == 3 && tokens[1].Op == '.' && tokens[0].IsName() {
			return Variable // NEW.column, OLD.column
		}
		return Expression
	}
	switch t := tokens[0]; t.Kind {
	case sqltext.Placeholder:
		return Placeholder
	case sqltext.Variable:
		if strings.HasPrefix(c.Text(t), "@@") {
			return Expression
		}
		return Variable
	case sqltext.String:
		if HasHole(c.Text(t)) {
			return Hole
		}
		return Text
	case sqltext.Number:
		return Number
	case sqltext.Word, sqltext.QuotedName:
		switch {
		case HasHole(c.Text(t)):
			return Hole
		case t.Kw == sqltext.NULL:
			return Null
		case t.Kw == sqltext.DEFAULT:
			return DefaultWord
		case t.Is(c.Src, "true"), t.Is(c.Src, "false"):
			return Number
		}
		if c.Lex.BracketNames {
			return Text // a bare word is a string constant in Transact-SQL
		}
		return Variable
	}
	return Expression
}

// statementCanBegin reports whether a statement can begin at the cursor: CALL
// is no reserved word everywhere, and stands for a column too.
func statementCanBegin(c *sqltext.Cursor) bool {
	if c.I == 0 {
		return true
	}
	prev := c.At(c.I - 1)
	if prev.Kind == sqltext.Punct {
		return prev.Op == ';' || prev.Op == '{' || prev.Op == ')' || prev.Op == ':'
	}
	switch prev.Kw {
	case sqltext.SELECT, sqltext.WHERE, sqltext.AND, sqltext.OR, sqltext.ON, sqltext.BY, sqltext.FROM, sqltext.AS, sqltext.JOIN, sqltext.IS, sqltext.NOT:
		return false
	}
	return c.Peek().Kw != sqltext.CALL || prev.Kw == sqltext.BEGIN || prev.Kw == sqltext.THEN || prev.Kw == sqltext.ELSE || prev.Kind == sqltext.Delimiter
}

// Find returns the calls in a call text of an application, which may have
// other statements around them.
func Find(src []byte, lex *sqltext.Lexis) []Call { return find(cursorOver(src, lex)) }

func find(c sqltext.Cursor) []Call {
	var calls []Call
	for !c.Done() {
		if statementCanBegin(&c) {
			if call, ok := Parse(&c); ok {
				calls = append(calls, call)
				continue
			}
		}
		c.I++
	}
	return calls
}

// All returns every call in a call text: statements, statements of a block, and
// functions in expressions; in the order of the text.
func All(src []byte, lex *sqltext.Lexis) []Call {
	c := cursorOver(src, lex)
	calls := find(c)
	have := map[int]bool{}
	for _, call := range calls {
		have[call.NameStart] = true
	}
	for _, more := range [][]Call{block(c), expressions(c)} {
		for _, call := range more {
			if !have[call.NameStart] {
				have[call.NameStart] = true
				calls = append(calls, call)
			}
		}
	}
	slices.SortStableFunc(calls, func(a, b Call) int { return a.NameStart - b.NameStart })
	return calls
}

// List reads argument, … without brackets, up to the end of the statement.
func List(c *sqltext.Cursor) []Argument {
	var args []Argument
	for !c.Done() && !c.AtOp(';') {
		first, depth := c.I, 0
		for ; !c.Done(); c.I++ {
			t := c.Peek()
			if t.Kind != sqltext.Punct {
				if depth == 0 && (t.Kind == sqltext.BatchEnd || t.Kind == sqltext.Delimiter) {
					break
				}
				continue
			}
			if depth == 0 && (t.Op == ',' || t.Op == ';' || t.Op == ')') {
				break
			}
			switch t.Op {
			case '(':
				depth++
			case ')':
				depth--
			}
		}
		args = append(args, argument(c, first, c.I))
		if !c.AcceptOp(',') {
			break
		}
	}
	return args
}
