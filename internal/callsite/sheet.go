package callsite

import (
	"bytes"
	"encoding/csv"
	"errors"
	"fmt"
	"io"
	"regexp"
	"slices"
	"strconv"
	"strings"

	"github.com/pelletier/go-toml/v2"

	"ramekin/internal/signature"
	"ramekin/internal/sqlcall"
)

// A mapping sheet tells of calls that stand in no code: those that people type
// into tables of other programs. It is a CSV file with one line an argument, or
// a TOML file; docs/formats.md describes both.

var (
	sheetByName     = Convention{Captures: "Add a line with the direction return and a variable to take it.", API: "sheet", ByName: true, AddsSigil: true, NeedsSize: true, Registers: "direction out"}
	sheetByPosition = Convention{Captures: "Begin the text with ? = and add a line with the direction return.", API: "sheet", IndexFrom: 1, AddsSigil: true, NeedsSize: true, Registers: "direction out"}
)

// IsSheet reports whether a file is a mapping sheet, by its name.
func IsSheet(path string) bool {
	lower := strings.ToLower(path)
	return strings.HasSuffix(lower, ".calls.csv") || strings.HasSuffix(lower, ".calls.toml")
}

// sheetCall is a call of a sheet as it is written.
type sheetCall struct {
	Name     string          `toml:"name"`
	Routine  string          `toml:"routine"`
	Text     string          `toml:"text"`
	Dialect  string          `toml:"dialect"`
	Results  string          `toml:"results"`
	Argument []sheetArgument `toml:"argument"`
	at       Span
}

// sheetArgument is one argument of a call of a sheet.
type sheetArgument struct {
	Position  *int   `toml:"position"`
	Parameter string `toml:"parameter"`
	Direction string `toml:"direction"`
	Type      string `toml:"type"`
	Size      *int   `toml:"size"`
	Value     any    `toml:"value"`
	Variable  string `toml:"variable"`
	at        Span
}

// FromSheet reads the calls of a mapping sheet. What is wrong in it comes as
// problems; the rest is read.
func FromSheet(path string, text []byte) ([]*Call, []signature.Problem) {
	r := &sheetReader{path: path}
	if strings.HasSuffix(strings.ToLower(path), ".toml") {
		r.toml(text)
	} else {
		r.csv(text)
	}
	var calls []*Call
	for i := range r.calls {
		if c := r.call(&r.calls[i]); c != nil {
			calls = append(calls, c)
		}
	}
	slices.SortStableFunc(r.problems, func(a, b signature.Problem) int { return a.Line - b.Line })
	return calls, r.problems
}

type sheetReader struct {
	path     string
	calls    []sheetCall
	problems []signature.Problem
}

func (r *sheetReader) problem(line, column int, format string, args ...any) {
	r.problems = append(r.problems, signature.Problem{File: r.path, Line: line, Column: column, Message: fmt.Sprintf(format, args...)})
}

// sheetColumns are the columns that a sheet may have.
var sheetColumns = []string{"call", "routine", "dialect", "position", "parameter", "direction", "type", "size", "value", "variable", "results"}

func (r *sheetReader) csv(text []byte) {
	in := csv.NewReader(bytes.NewReader(text))
	in.FieldsPerRecord, in.Comment, in.TrimLeadingSpace = -1, '#', true
	if head, _, _ := bytes.Cut(text, []byte("\n")); bytes.Count(head, []byte(";")) > bytes.Count(head, []byte(",")) {
		in.Comma = ';'
	}
	head, err := in.Read()
	if err != nil {
		r.problem(1, 1, "a mapping sheet begins with a line of column names: %s", strings.Join(sheetColumns, ", "))
		return
	}
	column := map[string]int{}
	for i, h := range head {
		h = strings.ToLower(strings.TrimSpace(strings.TrimPrefix(h, "\ufeff")))
		if !slices.Contains(sheetColumns, h) {
			line, col := in.FieldPos(i)
			r.problem(line, col, "there is no column %q; a mapping sheet has: %s", h, strings.Join(sheetColumns, ", "))
			continue
		}
		column[h] = i
	}
	if _, ok := column["routine"]; !ok {
		r.problem(1, 1, "this mapping sheet has no column routine, so it names nothing that is called")
		return
	}
	for {
		fields, err := in.Read()
		if errors.Is(err, io.EOF) {
			return
		}
		var bad *csv.ParseError
		if errors.As(err, &bad) {
			r.problem(bad.Line, bad.Column, "this line cannot be read: %v; close the quotes", bad.Err)
			if fields == nil {
				continue
			}
		} else if err != nil {
			r.problem(1, 1, "this file cannot be read: %v", err)
			return
		}
		get := func(name string) (string, Span) {
			i, ok := column[name]
			if !ok || i >= len(fields) {
				return "", Span{}
			}
			line, col := in.FieldPos(i)
			return strings.TrimSpace(fields[i]), Span{File: r.path, Line: line, Column: col, EndLine: line, EndColumn: col + len([]rune(fields[i]))}
		}
		r.row(get)
	}
}

// row reads one line: an argument of the call of the lines above, or of a new one.
func (r *sheetReader) row(get func(string) (string, Span)) {
	name, nameAt := get("call")
	routine, routineAt := get("routine")
	last := len(r.calls) - 1
	goesOn := last >= 0 && (routine == "" || routine == r.calls[last].Routine) && (name == "" || name == r.calls[last].Name) && (name != "" || routine == "" || r.calls[last].Name == "")
	if !goesOn {
		if routine == "" {
			r.problem(max(nameAt.Line, routineAt.Line), 1, "this line names no routine")
			return
		}
		dialect, _ := get("dialect")
		results, _ := get("results")
		r.calls = append(r.calls, sheetCall{Name: name, Routine: routine, Dialect: dialect, Results: results, at: routineAt})
		last++
	}
	a := sheetArgument{}
	var at, posAt, sizeAt Span
	var position, size, value string
	position, posAt = get("position")
	a.Parameter, at = get("parameter")
	if at.Line == 0 || a.Parameter == "" {
		at = posAt
	}
	a.at = at
	a.Direction, _ = get("direction")
	a.Type, _ = get("type")
	size, sizeAt = get("size")
	value, _ = get("value")
	a.Variable, _ = get("variable")
	if position == "" && a.Parameter == "" {
		if a.Direction != "" || value != "" || a.Variable != "" {
			r.problem(routineAt.Line, 1, "this argument has neither a position nor a parameter")
		}
		return
	}
	if position != "" {
		n, err := strconv.Atoi(position)
		if err != nil {
			r.problem(posAt.Line, posAt.Column, "%q is no position: write a whole number", position)
			return
		}
		a.Position = &n
	}
	if size != "" {
		n, err := strconv.Atoi(size)
		if err != nil {
			r.problem(sizeAt.Line, sizeAt.Column, "%q is no size: write a whole number", size)
		} else {
			a.Size = &n
		}
	}
	if value != "" {
		a.Value = value
	}
	r.calls[last].Argument = append(r.calls[last].Argument, a)
}

var (
	sheetCallHead     = regexp.MustCompile(`^\s*\[\[\s*call\s*\]\]`)
	sheetArgumentHead = regexp.MustCompile(`^\s*\[\[\s*call\s*\.\s*argument\s*\]\]`)
	sheetRoutineLine  = regexp.MustCompile(`^\s*(?:routine|text)\s*=\s*`)
)

func (r *sheetReader) toml(text []byte) {
	var file struct {
		Call []sheetCall `toml:"call"`
	}
	dec := toml.NewDecoder(bytes.NewReader(text))
	dec.DisallowUnknownFields()
	if err := dec.Decode(&file); err != nil {
		var strict *toml.StrictMissingError
		var bad *toml.DecodeError
		switch {
		case errors.As(err, &strict) && len(strict.Errors) > 0:
			for _, e := range strict.Errors {
				line, column := e.Position()
				r.problem(line, column, "there is no %s in a mapping sheet", strings.Join(e.Key(), "."))
			}
		case errors.As(err, &bad):
			line, column := bad.Position()
			r.problem(line, column, "this is no TOML that can be read: %s", strings.TrimPrefix(bad.Error(), "toml: "))
			return
		default:
			r.problem(1, 1, "this file cannot be read: %v", err)
			return
		}
	}
	call, argument := -1, -1
	for i, line := range strings.Split(string(text), "\n") {
		at := Span{File: r.path, Line: i + 1, Column: 1, EndLine: i + 1, EndColumn: len([]rune(strings.TrimRight(line, "\r"))) + 1}
		switch {
		case sheetCallHead.MatchString(line):
			call, argument = call+1, -1
			if call < len(file.Call) {
				file.Call[call].at = at
			}
		case sheetArgumentHead.MatchString(line):
			argument++
			if call >= 0 && call < len(file.Call) && argument < len(file.Call[call].Argument) {
				file.Call[call].Argument[argument].at = at
			}
		case call >= 0 && call < len(file.Call) && argument < 0:
			if m := sheetRoutineLine.FindStringIndex(line); m != nil {
				at.Column = m[1] + 1
				file.Call[call].at = at
			}
		}
	}
	for _, c := range file.Call {
		if c.Routine == "" {
			c.Routine = c.Text
		}
		if c.at.Line == 0 {
			c.at = Span{File: r.path, Line: 1, Column: 1, EndLine: 1, EndColumn: 1}
		}
		for i := range c.Argument {
			if c.Argument[i].at.Line == 0 {
				c.Argument[i].at = c.at
			}
		}
		r.calls = append(r.calls, c)
	}
}

// call makes a call site of what the sheet says.
func (r *sheetReader) call(s *sheetCall) *Call {
	if s.Routine == "" {
		r.problem(s.at.Line, s.at.Column, "this call names no routine: write routine = \"schema.name\", or the call's text")
		return nil
	}
	c := &Call{Host: "sheet", API: "sheet", State: Named, At: s.at, Use: s.at, Text: s.Routine, StatusArg: -1, Executed: true, CanCapture: true,
		Dialect: signature.Dialect(s.Dialect)}
	switch strings.ToLower(s.Results) {
	case "", "ignored", "none":
	case "read":
		c.ReadsRows, c.RowsEscape, c.RowsAt = true, true, s.at
	default:
		r.problem(s.at.Line, s.at.Column, "results is read or ignored, not %q", s.Results)
	}
	if s.Dialect != "" && !slices.Contains(signature.Dialects(), c.Dialect) {
		r.problem(s.at.Line, s.at.Column, "there is no dialect %q", s.Dialect)
		c.Dialect = ""
	}
	args := make([]Argument, 0, len(s.Argument))
	least := 1
	for i := range s.Argument {
		if p := s.Argument[i].Position; p != nil {
			least = min(least, *p)
		}
	}
	for i := range s.Argument {
		if a, ok := r.argument(&s.Argument[i], least); ok {
			args = append(args, a)
		}
	}
	named := len(args) > 0 && args[0].Name != ""
	c.Conv = &sheetByPosition
	if named {
		c.Conv = &sheetByName
	}
	if plainName.MatchString(s.Routine) {
		c.Name = dottedParts(s.Routine)
		r.byName(c, args, named)
		return c
	}
	flat, marks := canonical(s.Routine, 0)
	for _, sc := range sqlcall.All([]byte(flat), hostLexis(flat)) {
		if sc.Dynamic || len(sc.Name) == 0 {
			continue
		}
		c.Name, c.Verb = sc.Name, sc.Verb
		c.CanCapture = sc.Verb != "expression" || sc.Return != ""
		c.Placeholder = len(marks)
		r.byText(c, &sc, marks, args)
		return c
	}
	c.State, c.Reason = Unresolved, "the text is no call that is understood"
	return c
}

// byName takes the arguments as the parameters of the routine: those with a
// name by it, the others in the order of their positions.
func (r *sheetReader) byName(c *Call, args []Argument, named bool) {
	if !named {
		slices.SortStableFunc(args, func(a, b Argument) int { return a.Index - b.Index })
	}
	position := 0
	for _, a := range args {
		if a.Direction == Return {
			r.captured(c, a)
			continue
		}
		position++
		a.Position = position
		c.Arguments = append(c.Arguments, a)
	}
}

func (r *sheetReader) captured(c *Call, a Argument) {
	a.Position, a.Name = 0, ""
	c.Captures, c.CaptureAt, c.StatusArg = true, a.At, 0
	c.Status = &StatusUse{Escapes: len(a.Reads) > 0}
	c.Arguments = append([]Argument{a}, c.Arguments...)
}

// byText takes the arguments as those of the placeholders of a text, the
// status first where the text has its place.
func (r *sheetReader) byText(c *Call, sc *sqlcall.Call, marks map[int]mark, args []Argument) {
	at := func(offset int) *Argument {
		m, ok := marks[offset]
		if !ok {
			return nil
		}
		for i := range args {
			if args[i].Index == m.ordinal {
				return &args[i]
			}
		}
		return nil
	}
	if sc.Return != "" && !sc.ReturnIsVariable {
		a := Argument{Direction: Return, Form: Bound, At: c.At, ValueAt: c.At, Kind: signature.KindUnknown, Index: 1}
		if given := at(sc.ReturnStart); given != nil {
			a = *given
			a.Direction = Return
		}
		r.captured(c, a)
	}
	for i, sa := range sc.Arguments {
		a := Argument{Position: i + 1, Name: sa.Name, Value: sa.Text, Direction: In, OutWord: sa.OutWord, Valued: true, At: c.At, ValueAt: c.At, IsNull: sa.Kind == sqlcall.Null}
		a.Form, a.Kind = formOf(sa)
		if sa.Kind == sqlcall.Placeholder {
			a = Argument{Position: i + 1, Name: sa.Name, Form: Bound, Direction: Unset, At: c.At, ValueAt: c.At, Kind: signature.KindUnknown, Index: marks[sa.ValueStart].ordinal}
			if given := at(sa.ValueStart); given != nil {
				name, index := a.Name, a.Index
				a = *given
				a.Position, a.Name, a.Index = i+1, name, index
			}
			a.OutWord = sa.OutWord
		}
		c.Arguments = append(c.Arguments, a)
	}
	for _, a := range args {
		if a.Index > len(marks) {
			c.Strays = append(c.Strays, Bind{Index: a.Index, At: a.At})
		}
	}
}

// argument reads what the sheet says of one argument; least is the lowest
// position of the call, from which they are counted where it is 0.
func (r *sheetReader) argument(s *sheetArgument, least int) (Argument, bool) {
	a := Argument{Name: s.Parameter, Form: Bound, Direction: In, At: s.at, ValueAt: s.at, Kind: signature.KindUnknown}
	if s.Position == nil && s.Parameter == "" {
		r.problem(s.at.Line, s.at.Column, "this argument has neither a position nor a parameter")
		return a, false
	}
	if s.Position != nil {
		a.Index = *s.Position
		if least == 0 {
			a.Index++
		}
	}
	if s.Value != nil {
		a.Value, a.Valued = fmt.Sprint(s.Value), true
		a.IsNull = strings.EqualFold(a.Value, "null")
	}
	if s.Variable != "" {
		a.Value, a.Valued = s.Variable, true
	}
	switch strings.ToLower(s.Direction) {
	case "", "in", "input":
	case "out", "output":
		a.Direction, a.Registered, a.Valued = Out, true, false
		a.Value = ""
	case "inout", "in out", "inputoutput":
		a.Direction, a.Registered = InOut, true
	case "return", "returnvalue", "status":
		a.Direction, a.Registered = Return, true
		a.Value = ""
	default:
		r.problem(s.at.Line, s.at.Column, "%q is no direction: write in, out, inout or return", s.Direction)
	}
	if a.Registered && s.Variable != "" {
		a.Reads = []Read{{At: s.at, Kind: signature.KindUnknown}}
	}
	if s.Type != "" {
		word, rest, _ := strings.Cut(s.Type, "(")
		word = strings.ToLower(strings.TrimSpace(word))
		k, ok := adonetKinds[word]
		if !ok {
			k, ok = scriptTypes[word]
		}
		if ok {
			a.Kind, a.Explicit = k, true
			a.National = strings.HasPrefix(word, "n") && k == signature.KindString
		}
		if n, err := strconv.Atoi(strings.TrimSpace(strings.TrimSuffix(strings.TrimSpace(rest), ")"))); err == nil && (k == signature.KindString || k == signature.KindBytes) {
			a.Size, a.HasSize = n, true
		}
	}
	if s.Size != nil {
		a.Size, a.HasSize = *s.Size, true
	}
	return a, true
}
