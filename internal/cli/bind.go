package cli

import (
	"errors"
	"fmt"
	"os"
	"path/filepath"
	"strings"

	"github.com/bmatcuk/doublestar/v4"
	"github.com/spf13/cobra"

	"ramekin/internal/bind"
	"ramekin/internal/report"
	"ramekin/internal/signature"
	"ramekin/internal/source"
)

func newBind(e *env) *cobra.Command {
	var dialect, language, out, pkg string
	var catalogs, routines []string
	c := &cobra.Command{
		Use:   "bind",
		Short: "Write typed functions that call the routines",
		Long: `Writes a typed function for each routine: inputs as parameters, outputs, status
code and rows as a typed result. With a ramekin.toml it writes the bindings that
are set there.

Languages: ` + targetList() + `

Writing again without a change of the DDL writes the same bytes. A routine with
a type that has no safe mapping is refused by name; the exit status is then 1.`,
		Example: `  ramekin bind
  ramekin bind --catalog db/ --language java --package ferry.desk --out src/gen`,
		Args: cobra.NoArgs,
		RunE: func(*cobra.Command, []string) error {
			d, err := parseDialect(dialect)
			if err != nil {
				return err
			}
			if len(catalogs) > 0 {
				if language == "" || out == "" {
					return errors.New("say what to write and where with --language and --out")
				}
				loaded, errs := source.Load(catalogs, source.Options{Tree: source.Tree{Dir: e.dir}, Dialect: d})
				e.tell(errs)
				refused, err := e.writeBindings(loaded.Catalog, bindingSettings{Language: language, Out: out, Package: pkg, Routines: routines}, e.dir)
				if err != nil {
					return err
				}
				return readStatus(errs, refused)
			}
			s, err := findSettings(e.dir)
			switch {
			case err != nil:
				return err
			case s == nil:
				return errors.New("there is no ramekin.toml here or above: write one, or give the signatures with --catalog")
			case len(s.Bindings) == 0:
				return fmt.Errorf("%s wants no bindings: add [[bindings]] with database, language and out", s.path)
			}
			return e.bindSettings(s)
		},
	}
	dialectFlag(c, &dialect)
	c.Flags().StringArrayVar(&catalogs, "catalog", nil, "source of signatures; may be repeated")
	c.Flags().StringVar(&language, "language", "", "language to write: "+strings.Join(bind.TargetNames(), ", "))
	c.Flags().StringVar(&out, "out", "", "folder to write to")
	c.Flags().StringVar(&pkg, "package", "", "package of the generated files")
	c.Flags().StringArrayVar(&routines, "routine", nil, "pattern of the routines to bind, such as berth.*; may be repeated")
	_ = c.RegisterFlagCompletionFunc("language", cobra.FixedCompletions(bind.TargetNames(), cobra.ShellCompDirectiveNoFileComp))
	return c
}

func targetList() string {
	var lines []string
	for _, t := range bind.Targets {
		lines = append(lines, fmt.Sprintf("%s (%s)", t.Name, t.Summary))
	}
	return strings.Join(lines, "; ")
}

func (e *env) bindSettings(s *settings) error {
	base := filepath.Dir(s.path)
	tree := source.Tree{Dir: e.dir, Base: base, Exclude: s.Exclude}
	var all []error
	total := 0
	for _, b := range s.Bindings {
		loaded, errs := loadDatabase(s, b.Database, tree, false)
		e.tell(errs)
		all = append(all, errs...)
		refused, err := e.writeBindings(loaded.Catalog, b, base)
		if err != nil {
			return err
		}
		total += refused
	}
	return readStatus(all, total)
}

// writeBindings writes the bindings of a catalog and tells what it wrote. It
// returns how many routines were refused.
func (e *env) writeBindings(cat *signature.Catalog, b bindingSettings, base string) (int, error) {
	target := bind.TargetNamed(b.Language)
	if target == nil {
		return 0, fmt.Errorf("there is no language %q to bind to: choose one of %s", b.Language, strings.Join(bind.TargetNames(), ", "))
	}
	var wanted []*signature.Routine
	for i := range cat.Routines {
		if r := &cat.Routines[i]; matchesAny(b.Routines, r.QualifiedName()) {
			wanted = append(wanted, r)
		}
	}
	files, refusals, err := target.Generate(wanted, bind.Options{Package: b.Package})
	if err != nil {
		return 0, err
	}
	out := b.Out
	if !filepath.IsAbs(out) {
		out = filepath.Join(base, out)
	}
	changed := 0
	for _, f := range files {
		path := filepath.Join(out, filepath.FromSlash(f.Path))
		before, readErr := os.ReadFile(path)
		if err := writeFile(path, f.Content); err != nil {
			return 0, err
		}
		if readErr != nil || string(before) != string(f.Content) {
			changed++
		}
	}
	shown := source.Tree{Dir: e.dir}.Show(out)
	fmt.Fprintf(e.out, "%s: %s in %s, %d changed\n", target.Name, report.Plural(len(files), "file", "files"), shown, changed)
	for _, r := range refusals {
		report.Item(e.out, fmt.Sprintf("no binding for %s (%s:%d): %s", r.Routine.QualifiedName(), r.Routine.At.File, r.Routine.At.Line, r.Reason), e.look())
	}
	return len(refusals), nil
}

func matchesAny(patterns []string, name string) bool {
	if len(patterns) == 0 {
		return true
	}
	for _, p := range patterns {
		if ok, _ := doublestar.Match(strings.ToLower(p), strings.ToLower(name)); ok {
			return true
		}
	}
	return false
}
