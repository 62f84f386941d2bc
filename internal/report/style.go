// Package report turns catalogs, calls and findings into what is shown: text
// for people, JSON for programs. It writes to the writer it is given and knows
// nothing of flags or files.
package report

import (
	"fmt"
	"io"
	"strings"

	"github.com/charmbracelet/lipgloss"
	"github.com/mattn/go-runewidth"

	"ramekin/internal/check"
)

// Look is how text output is drawn.
type Look struct {
	// Width is the number of columns to fill.
	Width int
	// Renderer decides on colours for the writer.
	Renderer *lipgloss.Renderer
}

// NewLook returns the look for a writer: colours only where it is a terminal
// that shows them and NO_COLOR is not set.
func NewLook(w io.Writer, width int) Look {
	return Look{Width: width, Renderer: lipgloss.NewRenderer(w)}
}

type palette struct {
	name, place, in, out, typ, note, err, warn, mend, ok lipgloss.Style
}

// palette holds the program's colours: brine for names, sand for outputs, kelp for mends.
func (l Look) palette() palette {
	s := l.Renderer.NewStyle
	col := func(light, dark string) lipgloss.AdaptiveColor {
		return lipgloss.AdaptiveColor{Light: light, Dark: dark}
	}
	return palette{
		name:  s().Bold(true).Foreground(col("#0b5a73", "#6cc6dd")),
		place: s().Foreground(col("#6b6f76", "#8a9099")),
		in:    s().Foreground(col("#44506b", "#a9b7d6")),
		out:   s().Foreground(col("#8a5a00", "#e8b968")),
		typ:   s(),
		note:  s().Foreground(col("#44506b", "#a9b7d6")),
		err:   s().Bold(true).Foreground(col("#a3212f", "#ff8e8a")),
		warn:  s().Bold(true).Foreground(col("#8a5a00", "#e8b968")),
		mend:  s().Foreground(col("#2f6b3a", "#8fcf9a")),
		ok:    s().Foreground(col("#2f6b3a", "#8fcf9a")),
	}
}

// pad fills s with spaces to the width w.
func pad(s string, w int) string {
	if n := w - lipgloss.Width(s); n > 0 {
		return s + strings.Repeat(" ", n)
	}
	return s
}

// fit cuts s to the width w and marks the cut.
func fit(s string, w int) string {
	if w < 1 || runewidth.StringWidth(s) <= w {
		return s
	}
	return runewidth.Truncate(s, w, "…")
}

// wrap breaks text into lines of at most w columns, at spaces where there are any.
func wrap(text string, w int) []string {
	w = max(w, 16)
	var lines []string
	line := ""
	for _, word := range strings.Fields(text) {
		switch {
		case line == "":
			line = word
		case runewidth.StringWidth(line)+1+runewidth.StringWidth(word) <= w:
			line += " " + word
		default:
			lines = append(lines, line)
			line = word
		}
		for runewidth.StringWidth(line) > w {
			head := runewidth.Truncate(line, w, "")
			lines = append(lines, head)
			line = line[len(head):]
		}
	}
	if line != "" {
		lines = append(lines, line)
	}
	return lines
}

// Plural counts things: "1 call", "2 calls".
func Plural(n int, one, many string) string {
	if n == 1 {
		return "1 " + one
	}
	return itoa(n) + " " + many
}

func plainWidth(s string) int { return lipgloss.Width(s) }

func padLeft(s string, w int) string {
	if n := w - lipgloss.Width(s); n > 0 {
		return strings.Repeat(" ", n) + s
	}
	return s
}

func severityStyle(p palette, s check.Severity) lipgloss.Style {
	switch s {
	case check.Error:
		return p.err
	case check.Warning:
		return p.warn
	}
	return p.note
}

// Step is a headline between the parts of a longer output.
func Step(number, text string, look Look) string {
	p := look.palette()
	s := "\n"
	for i, line := range wrap(text, look.Width-4) {
		mark := "  "
		if i == 0 {
			mark = p.name.Render(number + " ")
		}
		s += mark + " " + p.name.Render(line) + "\n"
	}
	return s + "\n"
}

// Item writes a text under a line that it belongs to, indented and wrapped.
func Item(w io.Writer, text string, look Look) {
	indent := "  "
	for _, line := range wrap(text, look.Width-4) {
		fmt.Fprintln(w, indent+line)
		indent = "    "
	}
}
