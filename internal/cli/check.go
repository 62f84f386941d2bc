package cli

import (
	"errors"
	"fmt"
	"path/filepath"
	"strings"

	"github.com/spf13/cobra"

	"ramekin/internal/callsite"
	"ramekin/internal/check"
	"ramekin/internal/report"
	"ramekin/internal/signature"
	"ramekin/internal/source"
)

func newCheck(e *env) *cobra.Command {
	var format, dialect, failOn string
	var catalogs []string
	c := &cobra.Command{
		Use:   "check [PATH…]",
		Short: "Compare calls with signatures and report where they disagree",
		Long: `Compares every call with the signature of the routine it calls. With a
ramekin.toml it checks each application against its databases, and the routines
that call each other; without one, give the signatures with --catalog.

A comment "ramekin: allow RULE -- reason" on a finding's line or the line above
silences it there.

The exit status is 1 where there are findings at or above --fail-on.`,
		Example: `  ramekin check
  ramekin check --catalog db/ app/
  ramekin check --catalog catalog.json --format json --fail-on warning app/`,
		RunE: func(_ *cobra.Command, args []string) error {
			if err := checkFormat(format, "text", "json", "sarif"); err != nil {
				return err
			}
			limit := check.Severity(failOn)
			if limit.Rank() == 0 && failOn != "never" {
				return fmt.Errorf("there is no severity %q: choose error, warning, note or never", failOn)
			}
			d, err := parseDialect(dialect)
			if err != nil {
				return err
			}
			result, errs, err := e.check(args, catalogs, d)
			if err != nil {
				return err
			}
			e.tell(errs)
			switch format {
			case "json":
				err = result.JSON(e.out)
			case "sarif":
				err = result.SARIF(e.out, Version)
			default:
				e.showFindings(result)
			}
			if err != nil {
				return err
			}
			if len(errs) > 0 {
				return statusError(exitUnable)
			}
			for _, f := range result.Findings {
				if limit.Rank() > 0 && f.Severity.Rank() >= limit.Rank() {
					return statusError(exitFindings)
				}
			}
			return nil
		},
	}
	formatFlag(c, &format, "text", "json", "sarif")
	dialectFlag(c, &dialect)
	c.Flags().StringArrayVar(&catalogs, "catalog", nil, "source of signatures; may be repeated")
	c.Flags().StringVar(&failOn, "fail-on", "note", "lowest severity that makes the exit status 1: error, warning, note, never")
	_ = c.RegisterFlagCompletionFunc("fail-on", cobra.FixedCompletions([]string{"error", "warning", "note", "never"}, cobra.ShellCompDirectiveNoFileComp))
	return c
}

func (e *env) showFindings(result *report.Result) {
	look := e.look()
	told := map[signature.Place]bool{}
	for _, f := range result.Findings {
		told[f.At.Place()] = true
	}
	shown := *result
	shown.Problems = nil
	for _, p := range result.Problems { // a routine that cannot be read is a finding too
		if !p.Routine || !told[signature.Place{File: p.File, Line: p.Line, Column: p.Column}] {
			shown.Problems = append(shown.Problems, p)
		}
	}
	result = &shown
	report.Findings(e.out, result, look)
	report.Problems(e.out, result.Problems, look)
	report.ResultSummary(e.out, result, true, look)
}

// check runs the rules, by the settings or by the catalogs that are given.
func (e *env) check(paths, catalogs []string, d signature.Dialect) (*report.Result, []error, error) {
	if len(catalogs) > 0 {
		result, errs := e.checkPaths(paths, catalogs, d)
		return result, errs, nil
	}
	s, err := findSettings(e.dir)
	if err != nil {
		return nil, nil, err
	}
	if s == nil {
		return nil, nil, errors.New("there is no ramekin.toml here or above: write one, or give the signatures with --catalog")
	}
	result, errs := e.checkSettings(s, paths)
	return result, errs, nil
}

func (e *env) checkPaths(paths, catalogs []string, d signature.Dialect) (*report.Result, []error) {
	tree := source.Tree{Dir: e.dir}
	loaded, errs := source.Load(catalogs, source.Options{Tree: tree, Dialect: d, Detail: len(paths) == 0})
	index := signature.NewIndex(loaded.Catalog)
	result := &report.Result{}
	run := &runner{result: result}
	problems := loaded.Catalog.Problems
	if len(paths) == 0 { // the routines that call each other
		run.routines(loaded, index)
	} else {
		entries, more, missing := walkCode(tree, paths)
		errs = append(errs, missing...)
		problems = append(more, problems...)
		app := loadApplication(entries, tree, d)
		problems = append(problems, app.problems...)
		run.application(app, index)
	}
	run.problems(problems)
	run.finish()
	return result, errs
}

func (e *env) checkSettings(s *settings, paths []string) (*report.Result, []error) {
	tree := source.Tree{Dir: e.dir, Base: filepath.Dir(s.path), Exclude: s.Exclude}
	severities, _ := s.severities()
	run := &runner{result: &report.Result{}, severities: severities}
	var errs []error
	loaded := map[string]*source.Loaded{}
	for _, name := range sortedKeys(s.Databases) {
		l, more := loadDatabase(s, name, tree, true)
		errs = append(errs, more...)
		loaded[name] = l
		if len(paths) == 0 {
			run.problems(l.Catalog.Problems)
		}
	}
	within := func(path string) bool {
		if len(paths) == 0 {
			return true
		}
		for _, p := range paths {
			abs := p
			if !filepath.IsAbs(abs) {
				abs = filepath.Join(e.dir, p)
			}
			if path == abs || strings.HasPrefix(path, abs+string(filepath.Separator)) {
				return true
			}
		}
		return false
	}
	for _, name := range sortedKeys(s.Applications) {
		set := s.Applications[name]
		entries, err := tree.Glob(set.Code)
		if err != nil {
			errs = append(errs, fmt.Errorf("%s: applications.%s.code: %w", s.path, name, err))
			continue
		}
		kept := map[string]bool{}
		for _, en := range entries {
			if within(en.Path) {
				kept[tree.Show(en.Path)] = true
			}
		}
		if len(entries) == 0 && len(paths) == 0 {
			errs = append(errs, fmt.Errorf("%s: applications.%s.code matches no file", s.path, name))
		}
		var catalogs []*signature.Catalog
		var dialect signature.Dialect
		names := set.Databases
		if len(names) == 0 {
			names = sortedKeys(s.Databases)
		}
		for _, db := range names {
			catalogs = append(catalogs, loaded[db].Catalog)
		}
		if len(names) == 1 {
			dialect = signature.Dialect(s.Databases[names[0]].Dialect)
		}
		// The whole application is read: its constants and helpers may stand anywhere.
		app := loadApplication(entries, tree, dialect)
		if len(paths) > 0 {
			app.keep(kept)
		}
		run.problems(app.problems)
		run.application(app, signature.NewIndex(catalogs...))
	}
	if len(paths) == 0 {
		for _, name := range sortedKeys(s.Databases) {
			run.routines(loaded[name], signature.NewIndex(loaded[name].Catalog))
		}
	}
	run.finish()
	return run.result, errs
}

// loadDatabase reads the catalog of a database of the settings.
func loadDatabase(s *settings, name string, tree source.Tree, detail bool) (*source.Loaded, []error) {
	db := s.Databases[name]
	entries, err := tree.Glob(db.DDL)
	var errs []error
	if err != nil {
		errs = append(errs, fmt.Errorf("%s: databases.%s.ddl: %w", s.path, name, err))
	} else if len(entries) == 0 {
		errs = append(errs, fmt.Errorf("%s: databases.%s.ddl matches no file", s.path, name))
	}
	loaded, more := source.LoadEntries(entries, source.Options{Tree: tree, Dialect: signature.Dialect(db.Dialect), Detail: detail})
	loaded.Catalog.Name = name
	for i := range loaded.Catalog.Routines {
		loaded.Catalog.Routines[i].Database = name
	}
	return loaded, append(errs, more...)
}

// runner gathers the findings of several applications.
type runner struct {
	result       *report.Result
	severities   map[string]check.Severity
	suppressions []*check.Suppression
}

func (r *runner) application(app *application, index *signature.Index) {
	r.result.Files += app.files
	r.suppressions = append(r.suppressions, app.suppressions...)
	r.calls(callsite.Resolve(app.calls, index), index)
}

// routines checks the calls that the routines of a database make.
func (r *runner) routines(loaded *source.Loaded, index *signature.Index) {
	var calls []*callsite.Call
	for _, f := range loaded.DDL {
		calls = append(calls, callsite.FromSQL(f)...)
		r.suppressions = append(r.suppressions, check.Suppressions(f.Path, f.Source)...)
	}
	r.result.Files += len(loaded.DDL)
	r.calls(callsite.Resolve(calls, index), index)
}

func (r *runner) calls(calls []*callsite.Call, index *signature.Index) {
	r.result.Calls = append(r.result.Calls, calls...)
	r.result.Findings = append(r.result.Findings, check.Run(calls, nil, check.Options{Severities: r.severities, Index: index})...)
}

func (r *runner) problems(problems []signature.Problem) {
	r.result.Problems = append(r.result.Problems, problems...)
	r.result.Findings = append(r.result.Findings, check.Run(nil, problems, check.Options{Severities: r.severities, Index: signature.NewIndex()})...)
}

func (r *runner) finish() {
	var problems []signature.Problem
	r.result.Findings, r.result.Suppressed, problems = check.Suppress(r.result.Findings, r.suppressions)
	r.result.Problems = append(r.result.Problems, problems...)
}
