package report

import (
	"fmt"
	"io"
	"strings"

	"ramekin/internal/check"
)

// RuleList writes one line a rule, by group.
func RuleList(w io.Writer, rules []*check.Rule, look Look) {
	p := look.palette()
	width := 0
	for _, r := range rules {
		width = max(width, len(r.Name))
	}
	group := ""
	for _, r := range rules {
		if r.Group != group {
			if group != "" {
				fmt.Fprintln(w)
			}
			group = r.Group
			fmt.Fprintln(w, p.name.Render(group))
		}
		if look.Width < 72 { // one below the other
			fmt.Fprintf(w, "  %s  %s\n", r.Name, severityStyle(p, r.Severity).Render(string(r.Severity)))
			for _, line := range wrap(r.Fires, look.Width-4) {
				fmt.Fprintf(w, "    %s\n", line)
			}
			continue
		}
		for i, line := range wrap(r.Fires, look.Width-width-13) {
			name, sev := "", ""
			if i == 0 {
				name, sev = r.Name, string(r.Severity)
			}
			fmt.Fprintf(w, "  %s  %s  %s\n", pad(name, width), severityStyle(p, r.Severity).Render(pad(sev, 7)), line)
		}
	}
}

// Explain writes the page of one rule.
func Explain(w io.Writer, r *check.Rule, look Look) {
	p := look.palette()
	fmt.Fprintf(w, "%s  %s\n\n", p.name.Render(r.Name), severityStyle(p, r.Severity).Render(string(r.Severity)))
	for _, line := range wrap("Fires when "+r.Fires+".", look.Width) {
		fmt.Fprintln(w, line)
	}
	fmt.Fprintln(w)
	for _, line := range wrap(r.Why, look.Width) {
		fmt.Fprintln(w, line)
	}
	if r.Routine != "" {
		fmt.Fprintf(w, "\n%s\n", p.note.Render("The routine"))
		code(w, r.Routine)
	}
	for _, ex := range r.Examples {
		fmt.Fprintf(w, "\n%s  %s\n", p.err.Render("the mistake"), p.place.Render(ex.Language))
		code(w, ex.Wrong)
		fmt.Fprintln(w, p.mend.Render("the mend"))
		code(w, ex.Right)
	}
}

func code(w io.Writer, text string) {
	for _, line := range strings.Split(text, "\n") {
		fmt.Fprintln(w, "    "+line)
	}
}
