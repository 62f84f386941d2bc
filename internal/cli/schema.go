package cli

import (
	"github.com/spf13/cobra"

	"ramekin/internal/report"
)

func newSchema(e *env) *cobra.Command {
	return &cobra.Command{
		Use:       "schema catalog|findings",
		Short:     "Print the JSON Schema of an output format",
		Args:      cobra.ExactArgs(1),
		ValidArgs: report.SchemaNames,
		RunE: func(_ *cobra.Command, args []string) error {
			text, err := report.Schema(args[0])
			if err == nil {
				_, err = e.out.Write(text)
			}
			return err
		},
	}
}
