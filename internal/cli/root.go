// Package cli is the program's surface: commands, settings, the terminal and
// exit statuses. Everything below it works without.
package cli

import (
	"errors"
	"fmt"
	"io"
	"os"
	"strconv"
	"strings"

	"github.com/spf13/cobra"
	"golang.org/x/term"

	"ramekin/internal/ddl"
	"ramekin/internal/report"
	"ramekin/internal/signature"
	"ramekin/internal/source"
)

// Version is the program's version; the linker may set it.
var Version = "0.1.0"

// The exit statuses.
const (
	exitClean    = 0 // nothing at or above the chosen severity
	exitFindings = 1 // findings, or problems in what was read
	exitUnable   = 2 // the run could not be done as asked
)

// statusError ends the program with a status and nothing more to say.
type statusError int

func (e statusError) Error() string { return "exit status " + strconv.Itoa(int(e)) }

// env is what the commands work with instead of the process's globals.
type env struct {
	in       io.Reader
	out, err io.Writer
	dir      string
}

// Main runs the program with args and returns its exit status.
func Main(args []string, in io.Reader, out, errOut io.Writer) int {
	dir, err := os.Getwd()
	if err != nil {
		fmt.Fprintln(errOut, "ramekin:", err)
		return exitUnable
	}
	e := &env{in, out, errOut, dir}
	root := newRoot(e)
	root.SetArgs(args)
	root.SetIn(in)
	root.SetOut(out)
	root.SetErr(errOut)
	err = root.Execute()
	var status statusError
	switch {
	case err == nil:
		return exitClean
	case errors.As(err, &status):
		return int(status)
	}
	for _, line := range strings.Split(err.Error(), "\n") {
		fmt.Fprintln(errOut, "ramekin:", line)
	}
	return exitUnable
}

func newRoot(e *env) *cobra.Command {
	root := &cobra.Command{
		Use:   "ramekin",
		Short: "Signatures of stored routines, and whether your calls match them",
		Long: `Ramekin reads the signatures of stored procedures and functions from SQL files,
finds the code that calls them, says where the two disagree and what to write
instead, and writes typed bindings.`,
		Version:       Version,
		SilenceUsage:  true,
		SilenceErrors: true,
		Args:          cobra.NoArgs,
		RunE:          func(c *cobra.Command, _ []string) error { return c.Help() },
	}
	root.AddCommand(newRoutines(e), newCalls(e), newCheck(e), newBind(e), newExplain(e), newSchema(e), newDemo(e), newVersion(e))
	return root
}

func newVersion(e *env) *cobra.Command {
	return &cobra.Command{
		Use: "version", Short: "Say which version this is", Args: cobra.NoArgs,
		Run: func(*cobra.Command, []string) { fmt.Fprintln(e.out, "ramekin", Version) },
	}
}

// look is how text is drawn on the standard output.
func (e *env) look() report.Look {
	const widest, narrowest, unknown = 130, 40, 100
	width := unknown
	if n, err := strconv.Atoi(os.Getenv("COLUMNS")); err == nil && n > 0 {
		width = n
	}
	if f, ok := e.out.(*os.File); ok && term.IsTerminal(int(f.Fd())) {
		if w, _, err := term.GetSize(int(f.Fd())); err == nil && w > 0 {
			width = w
		}
	}
	return report.NewLook(e.out, min(max(width, narrowest), widest))
}

// tell writes errors that do not stop a run.
func (e *env) tell(errs []error) {
	for _, err := range errs {
		fmt.Fprintln(e.err, "ramekin:", err)
	}
}

// formatFlag adds --format with the forms that a command can write.
func formatFlag(c *cobra.Command, to *string, forms ...string) {
	c.Flags().StringVar(to, "format", forms[0], "form of the output: "+strings.Join(forms, ", "))
	_ = c.RegisterFlagCompletionFunc("format", cobra.FixedCompletions(forms, cobra.ShellCompDirectiveNoFileComp))
}

func checkFormat(given string, forms ...string) error {
	for _, f := range forms {
		if f == given {
			return nil
		}
	}
	return fmt.Errorf("there is no format %q: choose %s", given, strings.Join(forms, " or "))
}

// dialectFlag adds --dialect.
func dialectFlag(c *cobra.Command, to *string) {
	c.Flags().StringVar(to, "dialect", "", "dialect of the SQL files ("+dialectList()+"); worked out from the text where it is not given")
	_ = c.RegisterFlagCompletionFunc("dialect", cobra.FixedCompletions(strings.Split(dialectList(), ", "), cobra.ShellCompDirectiveNoFileComp))
}

func dialectList() string {
	var names []string
	for _, d := range ddl.Dialects {
		names = append(names, string(d.Name))
	}
	return strings.Join(names, ", ")
}

func parseDialect(name string) (signature.Dialect, error) {
	if name == "" || ddl.DialectOf(signature.Dialect(name)) != nil {
		return signature.Dialect(name), nil
	}
	return "", fmt.Errorf("there is no dialect %q: choose one of %s", name, dialectList())
}

// howKnown counts files by dialect and by how it came to be known, in words.
func howKnown(files []source.FileInfo) map[string]int {
	how := map[string]int{}
	for _, f := range files {
		switch f.How {
		case source.Given:
			how[string(f.Dialect)+", as given"]++
		case source.Certain:
			how[string(f.Dialect)+", from the text"]++
		case source.Likely:
			how[string(f.Dialect)+", most likely, from the text (say so with --dialect to be sure)"]++
		case source.Neighbour:
			how[string(f.Dialect)+", as the files beside it"]++
		case source.Running:
			name := string(f.Dialect)
			if name == "" {
				name = "no dialect"
			}
			how[name+", "+report.FromDatabase]++
		default:
			how[f.How]++
		}
	}
	return how
}
