package cli

import (
	"bytes"
	"errors"
	"fmt"
	"strings"
	"time"

	"github.com/spf13/cobra"

	"ramekin/internal/live"
	"ramekin/internal/report"
	"ramekin/internal/source"
)

func newRoutines(e *env) *cobra.Command {
	var format, dialect, save string
	var timeout time.Duration
	c := &cobra.Command{
		Use:   "routines SOURCE…",
		Short: "Read signatures and show them, or save them as a catalog",
		Long: `Reads the routines that SQL files and folders declare, a saved catalog, or a
running database, and shows each one's parameters, result, status codes and
result sets.

A database is named by a URL: ` + liveSchemes() + `.
Its password may stand in the URL, in the environment or in the password file of
the server's own clients; it is shown nowhere. Nothing is written to the database.

What could not be read is listed at the end, and the exit status is then 1.`,
		Example: `  ramekin routines db/
  ramekin routines --dialect sqlserver --format json db/ > catalog.json
  ramekin routines --save catalog.json db/
  ramekin routines postgres://desk@localhost/tickets`,
		Args: cobra.MinimumNArgs(1),
		RunE: func(_ *cobra.Command, args []string) error {
			if err := checkFormat(format, "text", "json"); err != nil {
				return err
			}
			d, err := parseDialect(dialect)
			if err != nil {
				return err
			}
			loaded, errs := source.Load(args, source.Options{Tree: source.Tree{Dir: e.dir}, Dialect: d, Live: live.Options{Timeout: timeout}})
			e.tell(errs)
			if save != "" {
				var b bytes.Buffer
				if err := report.JSON(&b, loaded.Catalog); err != nil {
					return err
				}
				if err := writeFile(save, b.Bytes()); err != nil {
					return err
				}
			}
			switch {
			case format == "json":
				if err := report.JSON(e.out, loaded.Catalog); err != nil {
					return err
				}
			case save != "":
				fmt.Fprintf(e.out, "saved %s to %s\n", report.Plural(len(loaded.Catalog.Routines), "routine", "routines"), save)
			default:
				look := e.look()
				report.Catalog(e.out, loaded.Catalog, look)
				report.Problems(e.out, loaded.Catalog.Problems, look)
				report.CatalogSummary(e.out, loaded.Catalog, len(loaded.Files), howKnown(loaded.Files), look)
			}
			return readStatus(errs, len(loaded.Catalog.Problems))
		},
	}
	formatFlag(c, &format, "text", "json")
	dialectFlag(c, &dialect)
	c.Flags().DurationVar(&timeout, "timeout", live.DefaultTimeout, "how long a running database may take to answer")
	c.Flags().StringVar(&save, "save", "", "save the catalog to this file")
	return c
}

// liveSchemes lists how URLs of databases begin.
func liveSchemes() string {
	var names []string
	for _, s := range live.Servers {
		for _, scheme := range s.Schemes {
			names = append(names, scheme+"://")
		}
	}
	return strings.Join(names, ", ")
}

// readStatus is the exit status of a command that reads: unable where
// something named is not there, findings where something could not be read.
func readStatus(errs []error, problems int) error {
	switch {
	case errors.Join(errs...) != nil:
		return statusError(exitUnable)
	case problems > 0:
		return statusError(exitFindings)
	}
	return nil
}
