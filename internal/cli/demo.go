package cli

import (
	"errors"
	"fmt"
	"os"
	"path/filepath"

	"github.com/spf13/cobra"

	"ramekin/internal/demo"
	"ramekin/internal/report"
	"ramekin/internal/source"
)

func newDemo(e *env) *cobra.Command {
	var only bool
	c := &cobra.Command{
		Use:   "demo [FOLDER]",
		Short: "Unpack the demo project and run the whole job on it",
		Long: `Unpacks the demo project (two databases and two applications of a small ferry
line) into a new folder (saltmarsh, where none is named), then reads its signatures, checks its calls and writes
its bindings, with a word before each.`,
		Args: cobra.MaximumNArgs(1),
		RunE: func(_ *cobra.Command, args []string) error {
			dir := ""
			if len(args) > 0 {
				dir = args[0]
			} else {
				dir = newFolder(e.dir, "saltmarsh")
			}
			full := dir
			if !filepath.IsAbs(full) {
				full = filepath.Join(e.dir, dir)
			}
			if err := demo.Unpack(full); err != nil {
				return err
			}
			if only {
				fmt.Fprintf(e.out, "The demo project is in %s; its README.md tells what is planted where.\n", dir)
				return nil
			}
			return (&env{e.in, e.out, e.err, full}).runDemo(dir)
		},
	}
	c.Flags().BoolVar(&only, "unpack-only", false, "unpack the project and run nothing")
	return c
}

// newFolder is name, or name with the first number that no file below dir has.
func newFolder(dir, name string) string {
	folder := name
	for i := 2; ; i++ {
		if _, err := os.Stat(filepath.Join(dir, folder)); errors.Is(err, os.ErrNotExist) {
			return folder
		}
		folder = fmt.Sprintf("%s-%d", name, i)
	}
}

// runDemo does the whole job in the demo's folder.
func (e *env) runDemo(shown string) error {
	s, err := findSettings(e.dir)
	if err != nil {
		return err
	}
	look := e.look()
	say := func(step, text string) { fmt.Fprint(e.out, report.Step(step, text, look)) }

	say("1", "Saltmarsh Ferries keeps its ticket desk on SQL Server, its timetable on MySQL, the loading plans on PostgreSQL and the harbour office on Oracle. These are the signatures in their DDL (ramekin routines db):")
	loaded, errs := source.Load([]string{filepath.Join(e.dir, "db")}, source.Options{Tree: source.Tree{Dir: e.dir}})
	report.Catalog(e.out, loaded.Catalog, look)
	report.Problems(e.out, loaded.Catalog.Problems, look)
	report.CatalogSummary(e.out, loaded.Catalog, len(loaded.Files), howKnown(loaded.Files), look)

	say("2", "Two applications call the first two, one in Java and one in C#. Most calls are right; these are not (ramekin check):")
	result, more, err := e.check(nil, nil, "")
	if err != nil {
		return err
	}
	e.showFindings(result)

	say("3", "Bindings take the typing away. These are written from the same DDL (ramekin bind):")
	if err := e.bindSettings(s); err != nil && !errors.As(err, new(statusError)) {
		return err
	}
	say("4", fmt.Sprintf("The project stays in %s. Its README.md tells what is planted where; mend a call there and run ramekin check again.", shown))
	if errs = append(errs, more...); len(errs) > 0 {
		e.tell(errs)
		return statusError(exitUnable)
	}
	return nil
}
