package report

import (
	"fmt"
	"strings"

	"ramekin/internal/check"
)

// RulesReference is the reference of the rules as Markdown.
func RulesReference(rules []*check.Rule) string {
	var b strings.Builder
	b.WriteString("# The rules\n\nMade from the table of rules; `ramekin explain RULE` shows the same in a terminal.\n")
	b.WriteString("Severities can be set in `ramekin.toml`; a finding is silenced by a comment\n`ramekin: allow RULE -- reason` on its line or the line above.\n")
	group := ""
	for _, r := range rules {
		if r.Group != group {
			group = r.Group
			fmt.Fprintf(&b, "\n## %s\n", group)
		}
		fmt.Fprintf(&b, "\n### `%s`\n\n*%s.* Fires when %s.\n\n%s\n", r.Name, r.Severity, r.Fires, r.Why)
		if r.Routine != "" {
			fmt.Fprintf(&b, "\n```sql\n%s\n```\n", r.Routine)
		}
		for _, ex := range r.Examples {
			fmt.Fprintf(&b, "\nThe mistake:\n\n```%s\n%s\n```\n\nThe mend:\n\n```%s\n%s\n```\n", ex.Language, ex.Wrong, ex.Language, ex.Right)
		}
	}
	return b.String()
}
