package cli

import (
	"errors"

	"github.com/spf13/cobra"

	"ramekin/internal/callsite"
	"ramekin/internal/report"
	"ramekin/internal/signature"
	"ramekin/internal/source"
)

func newCalls(e *env) *cobra.Command {
	var format, dialect string
	var catalogs []string
	c := &cobra.Command{
		Use:   "calls PATH…",
		Short: "Find the calls in application code and show what each one passes",
		Long: `Finds the calls of stored routines in application code and SQL scripts, and shows
each call's arguments with direction, type and value. With --catalog, calls are
tied to the routines of that source.

A call whose text is only known when the program runs is listed as unresolved,
with the reason.`,
		Example: `  ramekin calls app/
  ramekin calls --catalog db/ --format json app/`,
		Args: cobra.MinimumNArgs(1),
		RunE: func(_ *cobra.Command, args []string) error {
			if err := checkFormat(format, "text", "json"); err != nil {
				return err
			}
			d, err := parseDialect(dialect)
			if err != nil {
				return err
			}
			tree := source.Tree{Dir: e.dir}
			entries, problems, errs := walkCode(tree, args)
			app := loadApplication(entries, tree, d)
			result := &report.Result{Files: app.files, Calls: app.calls, Problems: append(problems, app.problems...)}
			if len(catalogs) > 0 {
				loaded, more := source.Load(catalogs, source.Options{Tree: tree, Dialect: d})
				errs = append(errs, more...)
				result.Calls = callsite.Resolve(result.Calls, signature.NewIndex(loaded.Catalog))
				result.Problems = append(result.Problems, loaded.Catalog.Problems...)
			}
			if len(catalogs) == 0 {
				result.Calls = callsite.Certain(result.Calls)
			}
			e.tell(errs)
			if format == "json" {
				err = result.JSON(e.out)
			} else {
				look := e.look()
				report.Calls(e.out, result, look)
				report.Problems(e.out, result.Problems, look)
				report.ResultSummary(e.out, result, false, look)
			}
			return errors.Join(err, readStatus(errs, len(result.Problems)))
		},
	}
	formatFlag(c, &format, "text", "json")
	dialectFlag(c, &dialect)
	c.Flags().StringArrayVar(&catalogs, "catalog", nil, "source of signatures to tie calls to; may be repeated")
	return c
}
