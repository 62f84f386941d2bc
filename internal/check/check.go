// Package check compares call sites with signatures. Each rule is one value of
// type [Rule] in the table [Rules], with its explanation and its function; a
// rule that cannot be sure stays silent.
package check

import (
	"fmt"
	"sort"
	"strings"

	"ramekin/internal/callsite"
	"ramekin/internal/signature"
)

// Severity says how much a finding matters.
type Severity string

// The severities, from the gravest. Off silences a rule.
const (
	Error   Severity = "error"
	Warning Severity = "warning"
	Note    Severity = "note"
	Off     Severity = "off"
)

// Rank orders severities: the higher, the graver; 0 for off.
func (s Severity) Rank() int {
	switch s {
	case Error:
		return 3
	case Warning:
		return 2
	case Note:
		return 1
	}
	return 0
}

// Example shows a mistake and its mend in one language.
type Example struct {
	Language     string
	Wrong, Right string
}

// Rule is one kind of finding.
type Rule struct {
	Name     string
	Severity Severity
	// Group is the heading under which the reference lists the rule.
	Group string
	// Fires says in one clause when it fires; Why says what happens then.
	Fires, Why string
	// Routine declares what the examples call.
	Routine  string
	Examples []Example
	// Call looks at one call.
	Call func(p *Pass, c *callsite.Call)
	// Problem looks at one thing in the DDL that could not be read.
	Problem func(p *Pass, q signature.Problem)
}

// Rules lists every rule in the order of the reference.
var Rules = []*Rule{
	&unknownRoutine, &ambiguousCall, &kindMismatch, &missingArgument, &extraArgument, &unknownParameter,
	&duplicateArgument, &positionalAfterNamed, &unsetPlaceholder, &indexOutOfRange, &swappedArguments,
	&outNotReceived, &inReceivedAsOut, &inoutHalfBound, &literalForOut, &outNeverRead, &outReadTooEarly,
	&typeMismatch, &sizeMissing, &sizeMismatch,
	&defaultMissing,
	&statusIgnored, &statusNotHandled, &statusNeverReturned, &statusNotAvailable, &statusTypeMismatch,
	&resultSetIgnored, &resultSetMissing,
	&valueInCallText,
	&unreadableRoutine,
}

// RuleNamed returns the rule of a name, or nil.
func RuleNamed(name string) *Rule {
	for _, r := range Rules {
		if r.Name == name {
			return r
		}
	}
	return nil
}

// Related is another place that a finding speaks of.
type Related struct {
	At      signature.Place
	Message string
}

// Edit replaces the text of a span.
type Edit struct {
	At   callsite.Span
	Text string
}

// Fix is a mend that is right for certain.
type Fix struct {
	Description string
	Edits       []Edit
}

// Finding is one disagreement.
type Finding struct {
	Rule      *Rule
	Severity  Severity
	At        callsite.Span
	Routine   string
	Parameter string
	// Reason says what the signature wants and what the call does; Mend says what
	// to write instead.
	Reason, Mend string
	Related      []Related
	Fix          *Fix
	// Call is the call that the finding is about, Argument the index of its
	// argument, or -1.
	Call     *callsite.Call
	Argument int
}

// Message is the finding in one text.
func (f *Finding) Message() string {
	if f.Mend == "" {
		return f.Reason
	}
	return f.Reason + " " + f.Mend
}

// Options set what rules do.
type Options struct {
	// Severities overrides the severity of rules by name.
	Severities map[string]Severity
	// Index holds the routines of every catalog at hand.
	Index *signature.Index
}

// Pass is one run of one rule.
type Pass struct {
	rule     *Rule
	severity Severity
	index    *signature.Index
	findings []*Finding
}

// Report adds a finding about call c at a place; argument is the index of the
// argument it is about, or -1.
func (p *Pass) Report(c *callsite.Call, at callsite.Span, argument int, reason, mend string) *Finding {
	f := &Finding{Rule: p.rule, Severity: p.severity, At: at, Reason: reason, Mend: mend, Call: c, Argument: argument}
	if c != nil {
		f.Routine = c.Named()
		if r := c.Routine; r != nil {
			f.Routine = r.Key
			place := r.At.Place()
			text := "declared here: " + r.QualifiedName()
			if argument >= 0 && argument < len(c.Arguments) && c.Arguments[argument].Parameter != nil {
				q := c.Arguments[argument].Parameter
				f.Parameter = q.Name
				if q.At.Line > 0 {
					place = q.At
				}
				text = "declared here: " + Declaration(q)
			}
			f.Related = append(f.Related, Related{place, text})
		}
		if c.Use.File != "" && (c.Use.File != c.At.File || c.Use.Line != c.At.Line) && at == c.At {
			f.Related = append(f.Related, Related{c.Use.Place(), "used here"})
		}
	}
	p.findings = append(p.findings, f)
	return f
}

// about sets the parameter that a finding speaks of, where no argument is for it.
func (f *Finding) about(q *signature.Parameter) *Finding {
	f.Parameter = q.Name
	if len(f.Related) > 0 && q.At.Line > 0 {
		f.Related[0] = Related{q.At, "declared here: " + Declaration(q)}
	}
	return f
}

// Declaration is a parameter as a signature shows it.
func Declaration(q *signature.Parameter) string {
	s := strings.TrimSpace(q.Name + " " + q.Type.Text)
	if q.Direction != signature.In {
		s += " " + string(q.Direction)
	}
	if q.Default != nil {
		s += " = " + q.Default.Text
	}
	return s
}

// Run applies every rule to the calls and to the problems of the catalogs. The
// findings come in the order of their places.
func Run(calls []*callsite.Call, problems []signature.Problem, opts Options) []*Finding {
	var all []*Finding
	for _, r := range Rules {
		p := &Pass{rule: r, severity: r.Severity, index: opts.Index}
		if s, ok := opts.Severities[r.Name]; ok {
			p.severity = s
		}
		if p.severity == Off {
			continue
		}
		if r.Call != nil {
			for _, c := range calls {
				r.Call(p, c)
			}
		}
		if r.Problem != nil {
			for _, q := range problems {
				r.Problem(p, q)
			}
		}
		all = append(all, p.findings...)
	}
	order := map[string]int{}
	for _, c := range calls {
		for _, f := range []string{c.At.File, c.Use.File} {
			if _, ok := order[f]; !ok {
				order[f] = len(order)
			}
		}
	}
	place := func(f *Finding) int {
		if n, ok := order[f.At.File]; ok {
			return n
		}
		return len(order)
	}
	sort.SliceStable(all, func(i, j int) bool {
		a, b := all[i], all[j]
		if x, y := place(a), place(b); x != y {
			return x < y
		}
		if a.At.File != b.At.File {
			return a.At.File < b.At.File
		}
		if a.At.Line != b.At.Line {
			return a.At.Line < b.At.Line
		}
		return a.At.Column < b.At.Column
	})
	return unique(all)
}

// unique drops findings that say the same of the same place: a text that two
// calls share.
func unique(all []*Finding) []*Finding {
	seen := map[string]bool{}
	kept := all[:0]
	for _, f := range all {
		key := fmt.Sprint(f.Rule.Name, f.At, f.Parameter, f.Reason)
		if !seen[key] {
			seen[key] = true
			kept = append(kept, f)
		}
	}
	return kept
}

func count(n int, one, many string) string {
	if n == 1 {
		return "1 " + one
	}
	return fmt.Sprintf("%d %s", n, many)
}

// list joins words as a sentence does.
func list(words []string, last string) string {
	switch len(words) {
	case 0:
		return ""
	case 1:
		return words[0]
	}
	return strings.Join(words[:len(words)-1], ", ") + " " + last + " " + words[len(words)-1]
}
