package bind

import (
	"bytes"
	"fmt"
	"go/format"
	"path/filepath"
	"strconv"
	"strings"
	"text/template"

	"ramekin/internal/signature"
)

// Go writes one function a routine over database/sql.
var Go = Target{
	Name:     "go",
	Summary:  "one function a routine over database/sql",
	Generate: generateGo,
}

// goTypes maps kinds to types that database/sql scans without loss; sql.Null
// around them carries null. Code is "time" for what is read through a scanner.
var goTypes = typeMap{
	signature.KindBool: {"bool", ""}, signature.KindInt8: {"int8", ""}, signature.KindUint8: {"uint8", ""},
	signature.KindInt16: {"int16", ""}, signature.KindUint16: {"uint16", ""}, signature.KindInt32: {"int32", ""}, signature.KindUint32: {"uint32", ""},
	signature.KindInt64: {"int64", ""}, signature.KindUint64: {"uint64", ""}, signature.KindDecimal: {"Decimal", ""},
	signature.KindFloat32: {"float32", ""}, signature.KindFloat64: {"float64", ""}, signature.KindString: {"string", ""},
	signature.KindBytes: {"[]byte", ""}, signature.KindBits: {"uint64", "bits"}, signature.KindDate: {"time.Time", "time"}, signature.KindTime: {"string", "clock"},
	signature.KindTimestamp: {"time.Time", "time"}, signature.KindTimestampTZ: {"time.Time", "time"}, signature.KindUUID: {"string", "uuid"},
	signature.KindJSON: {"string", ""}, signature.KindXML: {"string", ""}, signature.KindSpatial: {"[]byte", ""}, signature.KindAny: {"any", ""},
}

var goInitialisms = set("id url uri ip api html http json xml sql uuid eta")

var goReserved = set(`break default func interface select case defer go map struct chan else goto package switch const fallthrough if range
type continue for import return var nil true false error string int any len cap new make`)

var goTemplate = parseTemplate("go.tmpl", template.FuncMap{"goString": goString, "add": func(a, b int) int { return a + b }, "null": goNull})

var goSession = parseTemplate("session.go.tmpl", nil)

func goString(s string) string {
	if strings.ContainsAny(s, "`\n") {
		return strconv.Quote(s)
	}
	return "`" + s + "`"
}

// goNull is a type that can be null.
func goNull(typ string) string {
	if typ == "any" || typ == "[]byte" {
		return typ
	}
	return "sql.Null[" + typ + "]"
}

func generateGo(routines []*signature.Routine, opts Options) ([]File, []Refusal, error) {
	pkg := opts.Package
	if pkg == "" {
		pkg = "routines"
	}
	pkg = filepath.Base(filepath.ToSlash(pkg))
	names := newNamer(goReserved, "Session", "Decimal", "Optional", "Value", "Set", "SetNull", "Null")
	fileNames := newNamer(nil, "session")
	var files []File
	var refusals []Refusal
	for _, r := range sorted(routines) {
		field := func(s string) string { return pascal(s, goInitialisms) }
		m, why := common(r, goTypes, field, field, func(i, n int) (string, string) {
			if n == 1 {
				return "Row", "Rows"
			}
			return fmt.Sprintf("Row%d", i+1), fmt.Sprintf("Rows%d", i+1)
		})
		if _, ok := goStyles[r.Dialect]; !ok && why == "" {
			why = "this target does not call " + string(r.Dialect) + " routines yet"
		}
		if why != "" {
			refusals = append(refusals, Refusal{r, why})
			continue
		}
		fields := newNamer(nil, "Status")
		for i := range m.All {
			m.All[i].Name = fields.name(m.All[i].Name)
		}
		takeOver(m)
		m.Package = pkg
		m.Name = names.name(pascal(r.Name, goInitialisms))
		for i := range m.Shapes {
			m.Shapes[i].Name = m.Name + m.Shapes[i].Name
		}
		for i := range m.Codes {
			m.Codes[i].Name = strings.ReplaceAll(m.Codes[i].Name, "MINUS_", "Minus")
		}
		goCall(m, r)
		var b bytes.Buffer
		if err := goTemplate.Execute(&b, m); err != nil {
			return nil, nil, err
		}
		body := b.Bytes()
		if bytes.Count(body, []byte("sql.")) == 0 { // nothing in it can be null
			body = bytes.Replace(body, []byte("\t\"database/sql\"\n"), nil, 1)
		}
		text, err := format.Source(body)
		if err != nil {
			return nil, nil, fmt.Errorf("%s: %w", r.QualifiedName(), err)
		}
		files = append(files, File{fileNames.name(strings.Join(words(m.Name), "_")) + ".go", text})
	}
	if len(files) > 0 {
		var b bytes.Buffer
		if err := goSession.Execute(&b, map[string]string{"Package": pkg}); err != nil {
			return nil, nil, err
		}
		text, err := format.Source(b.Bytes())
		if err != nil {
			return nil, nil, err
		}
		files = append(files, File{"session.go", text})
	}
	return files, refusals, nil
}

// goStyle is how a dialect's routines are called through database/sql.
type goStyle struct {
	// placeholder is what stands for argument i, counted from 1.
	placeholder func(i int) string
	procedure   func(m *model, r *signature.Routine)
}

var goStyles = map[signature.Dialect]goStyle{
	signature.MySQL:     {func(int) string { return "?" }, goMySQL},
	signature.MariaDB:   {func(int) string { return "?" }, goMySQL},
	signature.SQLServer: {func(i int) string { return fmt.Sprintf("@p%d", i) }, goSQLServer},
}

// goCall works out the statements. MySQL hands outputs over in user variables
// of the connection; SQL Server in variables of a batch that selects them at
// its end, so that each has the declared type and size.
func goCall(m *model, r *signature.Routine) {
	style := goStyles[r.Dialect]
	if m.IsTable || m.Returns != nil {
		goFunction(m, style.placeholder)
	} else {
		style.procedure(m, r)
	}
	imports := []string{"context", "database/sql"}
	if m.Extra["read"] != "" {
		imports = append(imports, "errors")
	}
	std := len(imports)
	for _, v := range m.All {
		if v.Type == "time.Time" {
			imports = append(imports, "time")
			break
		}
	}
	if len(imports) == std && m.Returns != nil && m.Returns.Type == "time.Time" {
		imports = append(imports, "time")
	}
	if len(imports) == std {
	shapes:
		for _, s := range m.Shapes {
			for _, c := range s.Columns {
				if c.Type == "time.Time" && !s.Open {
					imports = append(imports, "time")
					break shapes
				}
			}
		}
	}
	m.Imports = imports
}

func goMySQL(m *model, _ *signature.Routine) {
	var args, reads []string
	for i := range m.All {
		v := &m.All[i]
		if !v.Out {
			args = append(args, "?")
			continue
		}
		v.Extra = fmt.Sprintf("@ramekin_%d", v.Index)
		args = append(args, v.Extra)
		read := v.Extra
		if v.Code == "bits" {
			read += " + 0"
		}
		reads = append(reads, read)
	}
	takeOver(m)
	m.Extra["call"] = "CALL " + m.SQLName + "(" + strings.Join(args, ", ") + ")"
	if len(reads) > 0 {
		m.Extra["read"] = "SELECT " + strings.Join(reads, ", ")
	}
}

func goFunction(m *model, placeholder func(i int) string) {
	var args []string
	for i := range m.All {
		v := &m.All[i]
		v.Extra = placeholder(i + 1)
		args = append(args, v.Extra)
	}
	takeOver(m)
	list := strings.Join(args, ", ")
	m.Extra["open"] = "SELECT " + m.SQLName + "("
	m.Extra["close"] = ")"
	if m.IsTable {
		cols := "*"
		if !m.Shapes[0].Open {
			var names []string
			for _, c := range m.Shapes[0].Columns {
				names = append(names, "["+strings.ReplaceAll(c.SQL, "]", "]]")+"]")
			}
			cols = strings.Join(names, ", ")
		}
		m.Extra["open"] = "SELECT " + cols + " FROM " + m.SQLName + "("
	}
	m.Extra["call"] = m.Extra["open"] + list + m.Extra["close"]
}

func goSQLServer(m *model, r *signature.Routine) {
	var declares, args, reads []string
	if m.Status {
		declares = append(declares, "@ramekin_status int")
		reads = append(reads, "@ramekin_status AS [ramekin status]")
	}
	for i := range m.All {
		v := &m.All[i]
		switch {
		case v.Out:
			local := fmt.Sprintf("@ramekin_%d", v.Index)
			declares = append(declares, local+" "+r.Parameters[i].Type.Text)
			args = append(args, v.SQL+" = "+local+" OUTPUT")
			reads = append(reads, fmt.Sprintf("%s AS [ramekin %s]", local, strings.ReplaceAll(v.Bare, "]", "]]")))
		case !v.Optional:
			v.Extra = fmt.Sprintf("p%d", v.Index)
			args = append(args, v.SQL+" = @"+v.Extra)
		default:
			v.Extra = fmt.Sprintf("p%d", v.Index)
		}
	}
	takeOver(m)
	text := ""
	if len(declares) > 0 {
		text = "DECLARE " + strings.Join(declares, ", ") + "; "
	}
	text += "EXEC "
	if m.Status {
		text += "@ramekin_status = "
	}
	m.Extra["open"] = text + m.SQLName
	m.Extra["arguments"] = strings.Join(args, ", ")
	m.Extra["close"] = ""
	if len(reads) > 0 {
		m.Extra["close"] = "; SELECT " + strings.Join(reads, ", ")
	}
	m.Extra["call"] = strings.TrimRight(m.Extra["open"]+" "+m.Extra["arguments"], " ") + m.Extra["close"]
	m.Extra["batch"] = "yes"
}
