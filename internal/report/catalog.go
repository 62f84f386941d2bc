package report

import (
	"fmt"
	"io"
	"maps"
	"slices"
	"sort"
	"strconv"
	"strings"

	"ramekin/internal/signature"
)

// Catalog writes the routines of c as text: one block a routine, its
// parameters one to a line in the order they are declared.
func Catalog(w io.Writer, c *signature.Catalog, look Look) {
	p := look.palette()
	for i := range c.Routines {
		r := &c.Routines[i]
		head := p.name.Render(r.QualifiedName()) + "  " + describeKind(r)
		writeHead(w, head, placeText(r.At.Place()), look, p)
		writeParameters(w, r, look, p)
		for _, l := range tail(r) {
			for j, line := range wrap(l[1], look.Width-12) {
				label := ""
				if j == 0 {
					label = l[0]
				}
				fmt.Fprintf(w, "  %s  %s\n", p.note.Render(pad(label, 8)), line)
			}
		}
		fmt.Fprintln(w)
	}
}

func describeKind(r *signature.Routine) string {
	s := string(r.Kind) + ", " + string(r.Dialect)
	if r.Language != "sql" {
		s += ", " + r.Language
	}
	return s
}

// writeHead writes a headline with its place at the right end, or below it
// where the line is too short for both.
func writeHead(w io.Writer, head, place string, look Look, p palette) {
	plain := plainWidth(head)
	if gap := look.Width - plain - plainWidth(place); gap >= 2 {
		fmt.Fprintf(w, "%s%s%s\n", head, strings.Repeat(" ", gap), p.place.Render(place))
		return
	}
	fmt.Fprintf(w, "%s\n  %s\n", head, p.place.Render(place))
}

func placeText(p signature.Place) string {
	if p.Line == 0 {
		return p.File
	}
	return p.File + ":" + strconv.Itoa(p.Line)
}

// signatureRows are the cells of a routine's parameters: position, name,
// direction, type, default.
func signatureRows(r *signature.Routine) [][5]string {
	rows := make([][5]string, 0, len(r.Parameters))
	for _, q := range r.Parameters {
		row := [5]string{strconv.Itoa(q.Position), q.Name, string(q.Direction), q.Type.Text, ""}
		if q.Name == "" {
			row[1] = "(no name)"
		}
		if q.Variadic {
			row[2] = "in…"
		}
		if q.Type.Kind == signature.KindUser {
			row[3] += " (declared elsewhere)"
		}
		if q.Default != nil {
			row[4] = "= " + q.Default.Text
		}
		rows = append(rows, row)
	}
	return rows
}

func writeParameters(w io.Writer, r *signature.Routine, look Look, p palette) {
	rows := signatureRows(r)
	var width [5]int
	for _, row := range rows {
		for i, cell := range row {
			width[i] = max(width[i], plainWidth(cell))
		}
	}
	width[1] = max(width[1], 12)
	width[2] = max(width[2], 5)
	// In a narrow terminal names are cut last: they are what people look for.
	room := look.Width - width[0] - width[1] - width[2] - 8
	if room < 12 {
		width[1] = max(8, width[1]-(12-room))
		room = 12
	}
	width[3] = min(width[3], room)
	for _, row := range rows {
		dir := p.in
		if row[2] != string(signature.In) {
			dir = p.out
		}
		line := fmt.Sprintf("  %s  %s  %s  %s", p.place.Render(padLeft(row[0], width[0])), pad(fit(row[1], width[1]), width[1]),
			dir.Render(pad(row[2], width[2])), pad(fit(row[3], width[3]), width[3]))
		left := look.Width - plainWidth(line) - 2
		switch def := row[4]; {
		case def == "":
		case plainWidth(def) <= left || left >= 24:
			line += "  " + p.note.Render(fit(def, left))
		default: // on a line of its own, under the type
			indent := look.Width - room
			line = strings.TrimRight(line, " ") + "\n" + strings.Repeat(" ", indent) + p.note.Render(fit(def, room))
		}
		fmt.Fprintln(w, strings.TrimRight(line, " "))
	}
	if len(rows) == 0 {
		fmt.Fprintf(w, "  %s\n", p.place.Render("no parameters"))
	}
}

// tail are the lines under the parameters: what comes back.
func tail(r *signature.Routine) [][2]string {
	var lines [][2]string
	if ret := r.Returns; ret != nil {
		text := ret.Type.Text
		if ret.Set {
			text = rowsOf(ret)
		}
		lines = append(lines, [2]string{"returns", text})
	}
	if st := r.Status; st != nil && (len(st.Codes) > 0 || st.Open) {
		lines = append(lines, [2]string{"status", StatusText(st)})
	}
	for i, rs := range r.Results {
		label := "rows"
		if len(r.Results) > 1 {
			label = "rows " + strconv.Itoa(i+1)
		}
		lines = append(lines, [2]string{label, columnList(rs.Columns)})
	}
	return lines
}

// rowsOf says what a function returns that returns rows.
func rowsOf(ret *signature.Returns) string {
	switch {
	case ret.Type.Name == "table" || ret.Type.Text == "":
		return "rows of " + columnList(ret.Columns)
	case len(ret.Columns) == 0:
		return "rows of " + ret.Type.Text
	}
	return "rows of " + ret.Type.Text + ": " + columnList(ret.Columns)
}

// StatusText lists the status codes of a routine in words.
func StatusText(st *signature.Status) string {
	var parts []string
	for _, c := range st.Codes {
		parts = append(parts, strconv.FormatInt(c, 10))
	}
	if st.Open {
		parts = append(parts, "others worked out when run")
	}
	return strings.Join(parts, ", ")
}

func columnList(cols []signature.Column) string {
	if len(cols) == 0 {
		return "columns not known"
	}
	names := make([]string, len(cols))
	for i, c := range cols {
		names[i] = c.Name
		if names[i] == "" {
			names[i] = "(no name)"
		}
	}
	return strings.Join(names, ", ")
}

// Problems writes what could not be read, each with its place.
func Problems(w io.Writer, problems []signature.Problem, look Look) {
	if len(problems) == 0 {
		return
	}
	p := look.palette()
	fmt.Fprintln(w, p.warn.Render(Plural(len(problems), "problem:", "problems:")))
	for _, q := range problems {
		place := q.File
		if q.Line > 0 {
			place = fmt.Sprintf("%s:%d:%d", q.File, q.Line, q.Column)
		}
		fmt.Fprintf(w, "  %s\n", p.place.Render(place))
		for _, line := range wrap(q.Message, look.Width-4) {
			fmt.Fprintf(w, "    %s\n", line)
		}
	}
	fmt.Fprintln(w)
}

// CatalogSummary writes the closing line of a catalog: how many routines of
// which dialect, and how the dialect came to be known.
func CatalogSummary(w io.Writer, c *signature.Catalog, files int, how map[string]int, look Look) {
	p := look.palette()
	kinds := map[signature.RoutineKind]int{}
	for i := range c.Routines {
		kinds[c.Routines[i].Kind]++
	}
	var parts []string
	for _, k := range []signature.RoutineKind{signature.Procedure, signature.Function, signature.Macro} {
		if n := kinds[k]; n > 0 {
			parts = append(parts, Plural(n, string(k), string(k)+"s"))
		}
	}
	if len(parts) == 0 {
		parts = []string{"no routines"}
	}
	one, many := "file", "files"
	if len(how) > 0 && !slices.ContainsFunc(slices.Collect(maps.Keys(how)), func(k string) bool { return !ofDatabase(k) }) {
		one, many = "database", "databases"
	}
	text := strings.Join(parts, ", ") + " in " + Plural(files, one, many)
	if n := len(c.Problems); n > 0 {
		text += ", " + Plural(n, "problem", "problems")
	}
	fmt.Fprintln(w, p.ok.Render(text))
	var hows []string
	for k := range how {
		hows = append(hows, k)
	}
	sort.Strings(hows)
	for _, k := range hows {
		one, many := "file", "files"
		if ofDatabase(k) {
			one, many = "database", "databases"
		}
		fmt.Fprintln(w, p.place.Render(k+": "+Plural(how[k], one, many)))
	}
}

// FromDatabase ends the way in which a running database's dialect is known.
const FromDatabase = "as it runs"

func ofDatabase(how string) bool { return strings.HasSuffix(how, FromDatabase) }
