package report

import (
	"fmt"
	"io"
	"path"
	"strconv"
	"strings"

	"ramekin/internal/callsite"
	"ramekin/internal/check"
	"ramekin/internal/signature"
)

// FindingsFormat and FindingsVersion head the JSON of findings and calls.
const (
	FindingsFormat  = "ramekin.findings"
	FindingsVersion = 1
)

// Result is everything that a run of check or calls has to say.
type Result struct {
	Files      int
	Calls      []*callsite.Call
	Findings   []*check.Finding
	Suppressed int
	Problems   []signature.Problem
}

// Summary counts a result.
type Summary struct {
	Files      int `json:"files"`
	Calls      int `json:"calls"`
	Resolved   int `json:"resolved"`
	Unresolved int `json:"unresolved"`
	Errors     int `json:"errors"`
	Warnings   int `json:"warnings"`
	Notes      int `json:"notes"`
	Suppressed int `json:"suppressed"`
}

// Summary counts the result.
func (r *Result) Summary() Summary {
	s := Summary{Files: r.Files, Calls: len(r.Calls), Suppressed: r.Suppressed}
	for _, c := range r.Calls {
		switch c.State {
		case callsite.Resolved:
			s.Resolved++
		case callsite.Named:
		default:
			s.Unresolved++
		}
	}
	for _, f := range r.Findings {
		switch f.Severity {
		case check.Error:
			s.Errors++
		case check.Warning:
			s.Warnings++
		case check.Note:
			s.Notes++
		}
	}
	return s
}

type relatedJSON struct {
	File    string `json:"file"`
	Line    int    `json:"line"`
	Column  int    `json:"column"`
	Message string `json:"message"`
}

type editJSON struct {
	File      string `json:"file"`
	Line      int    `json:"line"`
	Column    int    `json:"column"`
	EndLine   int    `json:"end_line"`
	EndColumn int    `json:"end_column"`
	Text      string `json:"text"`
}

type fixJSON struct {
	Description string     `json:"description"`
	Edits       []editJSON `json:"edits"`
}

type findingJSON struct {
	Rule      string        `json:"rule"`
	Severity  string        `json:"severity"`
	File      string        `json:"file"`
	Line      int           `json:"line"`
	Column    int           `json:"column"`
	EndLine   int           `json:"end_line"`
	EndColumn int           `json:"end_column"`
	Routine   string        `json:"routine"`
	Parameter string        `json:"parameter"`
	Message   string        `json:"message"`
	Related   []relatedJSON `json:"related"`
	Fix       *fixJSON      `json:"fix"`
}

type argumentJSON struct {
	Position  int    `json:"position"`
	Name      string `json:"name"`
	Direction string `json:"direction"`
	Type      string `json:"type"`
	Value     string `json:"value"`
	Line      int    `json:"line"`
}

type callJSON struct {
	File      string         `json:"file"`
	Line      int            `json:"line"`
	Column    int            `json:"column"`
	Host      string         `json:"host"`
	API       string         `json:"api"`
	Text      string         `json:"text"`
	Named     string         `json:"named"`
	Routine   string         `json:"routine"`
	State     string         `json:"state"`
	Reason    string         `json:"reason"`
	Arguments []argumentJSON `json:"arguments"`
	Status    string         `json:"status"`
	Results   string         `json:"results"`
}

type resultJSON struct {
	Format   string              `json:"format"`
	Version  int                 `json:"version"`
	Summary  Summary             `json:"summary"`
	Findings []findingJSON       `json:"findings"`
	Calls    []callJSON          `json:"calls"`
	Problems []signature.Problem `json:"problems"`
}

// JSON writes the result in the format "ramekin.findings", version 1.
func (r *Result) JSON(w io.Writer) error {
	out := resultJSON{Format: FindingsFormat, Version: FindingsVersion, Summary: r.Summary(),
		Findings: []findingJSON{}, Calls: []callJSON{}, Problems: append([]signature.Problem{}, r.Problems...)}
	for _, f := range r.Findings {
		j := findingJSON{Rule: f.Rule.Name, Severity: string(f.Severity), File: f.At.File, Line: f.At.Line, Column: f.At.Column,
			EndLine: f.At.EndLine, EndColumn: f.At.EndColumn, Routine: f.Routine, Parameter: f.Parameter, Message: f.Message(), Related: []relatedJSON{}}
		for _, rel := range f.Related {
			j.Related = append(j.Related, relatedJSON{rel.At.File, rel.At.Line, rel.At.Column, rel.Message})
		}
		if f.Fix != nil {
			j.Fix = &fixJSON{Description: f.Fix.Description, Edits: []editJSON{}}
			for _, e := range f.Fix.Edits {
				j.Fix.Edits = append(j.Fix.Edits, editJSON{e.At.File, e.At.Line, e.At.Column, e.At.EndLine, e.At.EndColumn, e.Text})
			}
		}
		out.Findings = append(out.Findings, j)
	}
	for _, c := range r.Calls {
		j := callJSON{File: c.At.File, Line: c.At.Line, Column: c.At.Column, Host: c.Host, API: c.API, Text: c.Text, Named: c.Named(),
			State: string(c.State), Reason: c.Reason, Arguments: []argumentJSON{}, Status: c.StatusWord(), Results: c.ResultsWord()}
		if j.Reason == "" && c.Open {
			j.Reason = c.OpenReason
		}
		if c.Routine != nil {
			j.Routine = c.Routine.Key
		}
		for i := range c.Arguments {
			a := &c.Arguments[i]
			j.Arguments = append(j.Arguments, argumentJSON{a.Position, a.Name, string(a.Direction), string(a.Kind), a.Value, a.At.Line})
		}
		out.Calls = append(out.Calls, j)
	}
	return JSON(w, out)
}

// Calls writes the calls as text: one block a call, one line an argument.
func Calls(w io.Writer, r *Result, look Look) {
	p := look.palette()
	for _, c := range r.Calls {
		name := c.Named()
		if name == "" {
			name = "(name not known)"
		}
		head := p.name.Render(name) + "  " + c.Host
		if c.API != c.Host {
			head += ", " + c.API
		}
		if c.State == callsite.Unknown || c.State == callsite.Ambiguous {
			head += ", " + string(c.State)
		}
		writeHead(w, head, placeText(c.At.Place()), look, p)
		if c.Text != "" {
			fmt.Fprintf(w, "  %s\n", p.place.Render(fit(oneLine(c.Text), look.Width-2)))
		}
		rows := make([][5]string, 0, len(c.Arguments))
		var width [5]int
		for i := range c.Arguments {
			row := argumentCells(&c.Arguments[i])
			rows = append(rows, row)
			for k, cell := range row {
				width[k] = max(width[k], plainWidth(cell))
			}
		}
		for _, row := range rows {
			dir := p.in
			if row[2] != "in" {
				dir = p.out
			}
			line := fmt.Sprintf("  %s  %s  %s  %s  ", p.place.Render(padLeft(row[0], width[0])), pad(row[1], width[1]), dir.Render(pad(row[2], width[2])), pad(row[3], width[3]))
			fmt.Fprintln(w, strings.TrimRight(line+fit(row[4], max(8, look.Width-plainWidth(line))), " "))
		}
		if c.State == callsite.Unresolved || c.Open {
			reason := c.Reason
			if reason == "" {
				reason = "further arguments are not in sight: " + c.OpenReason
			}
			for _, line := range wrap(reason, look.Width-4) {
				fmt.Fprintf(w, "  %s\n", p.warn.Render(line))
			}
		}
		if back := comesBack(c); back != "" {
			fmt.Fprintf(w, "  %s\n", p.note.Render(back))
		}
		fmt.Fprintln(w)
	}
}

func comesBack(c *callsite.Call) string {
	var parts []string
	if s := c.StatusWord(); s == "captured" {
		parts = append(parts, "status captured")
	}
	if c.ResultsWord() == "read" && c.Host != "sql" {
		parts = append(parts, "rows read")
	}
	return strings.Join(parts, ", ")
}

func oneLine(s string) string { return strings.Join(strings.Fields(s), " ") }

// argumentCells are the cells of an argument: position, name, direction, type, value.
func argumentCells(a *callsite.Argument) [5]string {
	row := [5]string{strconv.Itoa(a.Position), a.Name, string(a.Direction), string(a.Kind), oneLine(a.Value)}
	if a.Position == 0 {
		row[0] = "="
	}
	if row[3] == "unknown" {
		row[3] = ""
	}
	return row
}

// Findings writes the calls that have findings, each beside its declaration.
func Findings(w io.Writer, r *Result, look Look) {
	p := look.palette()
	var order []*callsite.Call
	byCall := map[*callsite.Call][]*check.Finding{}
	for _, f := range r.Findings {
		if _, ok := byCall[f.Call]; !ok {
			order = append(order, f.Call)
		}
		byCall[f.Call] = append(byCall[f.Call], f)
	}
	for _, c := range order {
		if c == nil {
			for _, f := range byCall[c] {
				writeHead(w, p.name.Render("declaration"), spanText(f.At), look, p)
				writeFinding(w, f, "  ", false, look, p)
				fmt.Fprintln(w)
			}
			continue
		}
		writeCall(w, c, byCall[c], look, p)
	}
	var open []*callsite.Call
	for _, c := range r.Calls {
		if c.State == callsite.Unresolved || c.State == callsite.Resolved && c.Open {
			open = append(open, c)
		}
	}
	if len(open) > 0 {
		fmt.Fprintln(w, p.note.Render("Not fully understood, so checked only as far as known:"))
		for _, c := range open {
			reason := c.Reason
			if reason == "" {
				reason = c.Named() + ": " + c.OpenReason
			}
			fmt.Fprintf(w, "  %s\n", p.place.Render(placeText(c.At.Place())))
			for _, line := range wrap(reason, look.Width-4) {
				fmt.Fprintf(w, "    %s\n", line)
			}
		}
		fmt.Fprintln(w)
	}
}

func spanText(s callsite.Span) string { return placeText(s.Place()) }

// writeCall writes one call with its declaration beside it, parameter by
// parameter, and the findings under the line that they concern.
func writeCall(w io.Writer, c *callsite.Call, findings []*check.Finding, look Look, p palette) {
	name := c.Named()
	if c.Routine != nil {
		name = c.Routine.QualifiedName()
	}
	if name == "" {
		name = "a call whose routine is not known"
	}
	place := spanText(usedAt(c))
	if c.At.File != usedAt(c).File {
		text := c.At
		if path.Dir(text.File) == path.Dir(c.Use.File) {
			text.File = path.Base(text.File)
		}
		place += " (text in " + spanText(text) + ")"
	}
	writeHead(w, p.name.Render(name), place, look, p)
	done := map[*check.Finding]bool{}
	under := func(match func(f *check.Finding) bool) {
		for _, f := range findings {
			if !done[f] && match(f) {
				done[f] = true
				head := usedAt(c)
				elsewhere := f.At != c.At && (f.At.File != head.File || f.At.Line != head.Line)
				writeFinding(w, f, "     ", elsewhere, look, p)
			}
		}
	}
	if r := c.Routine; r != nil {
		rows := pairs(c)
		left, right := 0, 0
		for _, row := range rows {
			left, right = max(left, plainWidth(row.declared)), max(right, plainWidth(row.passed))
		}
		left = max(left, plainWidth("declared"))
		half := (look.Width - 9) / 2
		if left+right+9 > look.Width {
			left = min(left, half)
		}
		stacked := look.Width < 72
		if !stacked {
			fmt.Fprintf(w, "     %s   %s\n", p.place.Render(pad("declared", left)), p.place.Render("this call"))
		}
		for _, row := range rows {
			number := p.place.Render(padLeft(row.number, 3))
			switch {
			case stacked:
				if row.declared != "" {
					fmt.Fprintf(w, "%s  %s\n", number, fit(row.declared, look.Width-6))
				}
				fmt.Fprintf(w, "     %s\n", p.note.Render(fit(row.passed, look.Width-6)))
			default:
				mark := "│"
				if row.hasFinding(findings) {
					mark = p.err.Render("┃")
				}
				fmt.Fprintf(w, "%s  %s %s %s\n", number, pad(fit(row.declared, left), left), mark, fit(row.passed, look.Width-left-8))
			}
			under(func(f *check.Finding) bool { return row.concerns(f) })
		}
	} else {
		fmt.Fprintf(w, "     %s\n", p.place.Render(fit(oneLine(c.Text), look.Width-6)))
	}
	under(func(*check.Finding) bool { return true })
	fmt.Fprintln(w)
}

// usedAt is where a call is made: its text may be a constant of another file.
func usedAt(c *callsite.Call) callsite.Span {
	if c.Use.File != "" && c.Use.File != c.At.File {
		return c.Use
	}
	return c.At
}

// pair is one line of a declaration and what the call gives for it.
type pair struct {
	number, declared, passed string
	argument                 int
	parameter                string
}

func (r pair) concerns(f *check.Finding) bool {
	return f.Argument >= 0 && f.Argument == r.argument || f.Parameter != "" && f.Parameter == r.parameter && f.Argument < 0
}

func (r pair) hasFinding(findings []*check.Finding) bool {
	for _, f := range findings {
		if r.concerns(f) {
			return true
		}
	}
	return false
}

// pairs lines the parameters up with the arguments.
func pairs(c *callsite.Call) []pair {
	var rows []pair
	r := c.Routine
	names := 0
	for _, q := range r.Parameters {
		names = max(names, len(q.Name))
	}
	if r.Status != nil && (len(r.Status.Codes) > 0 || r.Status.Open) || c.StatusArg >= 0 {
		row := pair{declared: "status", argument: -1, passed: "not captured"}
		switch {
		case r.ReturnsValue():
			row.declared = "returns " + r.Returns.Type.Text
		case r.Status == nil:
			row.declared = "(no status code)"
		default:
			row.declared += " " + StatusText(r.Status)
		}
		if c.StatusArg >= 0 {
			row.passed = argumentText(c, &c.Arguments[c.StatusArg])
			row.argument = c.StatusArg
		} else if c.Captures {
			row.passed = "captured"
		}
		rows = append(rows, row)
	}
	for i := range r.Parameters {
		q := &r.Parameters[i]
		row := pair{number: strconv.Itoa(q.Position), parameter: q.Name, argument: -1}
		row.declared = fmt.Sprintf("%-*s  %-5s  %s", names, q.Name, q.Direction, q.Type.Text)
		if q.Default != nil {
			row.declared += " = " + q.Default.Text
		}
		row.passed = "nothing"
		if q.Default != nil {
			row.passed = "left out: " + q.Default.Text
		}
		if c.Open {
			row.passed = "(not in sight)"
		}
		for k := range c.Arguments {
			if a := &c.Arguments[k]; a.Parameter == q && !a.Twice {
				row.passed, row.argument = argumentText(c, a), k
			}
		}
		rows = append(rows, row)
	}
	for k := range c.Arguments {
		if a := &c.Arguments[k]; a.Direction != callsite.Return && (a.Parameter == nil || a.Twice) {
			rows = append(rows, pair{argument: k, passed: argumentText(c, a)})
		}
	}
	return rows
}

// argumentText tells what the call does for one argument.
func argumentText(c *callsite.Call, a *callsite.Argument) string {
	var parts []string
	if a.Name != "" {
		parts = append(parts, a.Name)
	}
	if a.Value != "" {
		parts = append(parts, oneLine(a.Value))
	}
	kind := ""
	if a.Kind.IsKnown() {
		kind = string(a.Kind)
	}
	if a.HasSize && a.Size != 0 {
		kind += "(" + strconv.Itoa(a.Size) + ")"
	}
	if kind != "" {
		parts = append(parts, kind)
	}
	if a.At.Line > 0 && (a.At.File != usedAt(c).File || a.At.Line != c.At.Line) {
		parts = append(parts, "line "+strconv.Itoa(a.At.Line))
	}
	return strings.TrimRight(fmt.Sprintf("%-7s ", a.Direction)+strings.Join(parts, "  "), " ")
}

func writeFinding(w io.Writer, f *check.Finding, indent string, withPlace bool, look Look, p palette) {
	head := severityStyle(p, f.Severity).Render(string(f.Severity)) + " " + f.Rule.Name
	place := spanText(f.At)
	if f.Call != nil && usedAt(f.Call).File == f.At.File {
		place = "line " + strconv.Itoa(f.At.Line)
	}
	if withPlace && len(indent)+plainWidth(head)+2+plainWidth(place) <= look.Width {
		head += "  " + p.place.Render(place)
	} else if withPlace {
		head += "\n" + indent + "  " + p.place.Render(place)
	}
	fmt.Fprintf(w, "%s%s\n", indent, head)
	for _, line := range wrap(f.Reason, look.Width-len(indent)-2) {
		fmt.Fprintf(w, "%s  %s\n", indent, line)
	}
	for _, line := range wrap(f.Mend, look.Width-len(indent)-2) {
		fmt.Fprintf(w, "%s  %s\n", indent, p.mend.Render(line))
	}
}

// ResultSummary writes the closing line of calls and check.
func ResultSummary(w io.Writer, r *Result, checked bool, look Look) {
	p := look.palette()
	s := r.Summary()
	text := Plural(s.Files, "file", "files") + ", " + Plural(s.Calls, "call", "calls")
	if s.Resolved > 0 || checked {
		text += ": " + strconv.Itoa(s.Resolved) + " resolved"
	}
	if s.Unresolved > 0 {
		text += ", " + strconv.Itoa(s.Unresolved) + " unresolved"
	}
	if checked {
		if len(r.Findings) == 0 {
			text += ". No findings"
		} else {
			text += ". " + Plural(s.Errors, "error", "errors") + ", " + Plural(s.Warnings, "warning", "warnings") + ", " + Plural(s.Notes, "note", "notes")
		}
		if s.Suppressed > 0 {
			text += ", " + strconv.Itoa(s.Suppressed) + " suppressed"
		}
	}
	if n := len(r.Problems); n > 0 {
		text += ", " + Plural(n, "problem", "problems")
	}
	fmt.Fprintln(w, p.ok.Render(text))
}
