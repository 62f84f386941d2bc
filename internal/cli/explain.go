package cli

import (
	"fmt"
	"strings"

	"github.com/spf13/cobra"

	"ramekin/internal/check"
	"ramekin/internal/report"
)

func newExplain(e *env) *cobra.Command {
	var names []string
	for _, r := range check.Rules {
		names = append(names, r.Name)
	}
	return &cobra.Command{
		Use:       "explain [RULE]",
		Short:     "Say what a rule means, with an example of the mistake and of its mend",
		Long:      "Says when a rule fires, what happens then, and shows the mistake and its mend.\nWithout a rule it lists them all.",
		Example:   "  ramekin explain out-not-received",
		Args:      cobra.MaximumNArgs(1),
		ValidArgs: names,
		RunE: func(_ *cobra.Command, args []string) error {
			look := e.look()
			if len(args) == 0 {
				report.RuleList(e.out, check.Rules, look)
				return nil
			}
			r := check.RuleNamed(args[0])
			if r == nil {
				var near []string
				for _, n := range names {
					if strings.Contains(n, strings.Trim(args[0], "-")) {
						near = append(near, n)
					}
				}
				hint := "`ramekin explain` lists them"
				if len(near) > 0 {
					hint = "did you mean " + strings.Join(near, " or ") + "?"
				}
				return fmt.Errorf("there is no rule %q: %s", args[0], hint)
			}
			report.Explain(e.out, r, look)
			return nil
		},
	}
}
