package bind

import (
	"bytes"
	"fmt"
	"sort"
	"strings"
	"text/template"

	"ramekin/internal/signature"
)

// Java writes one class a routine, over plain JDBC (java.sql, Java 17).
var Java = Target{
	Name:     "java",
	Summary:  "one class a routine over JDBC, for Java 17",
	Generate: generateJava,
}

// javaDialects are those whose drivers the generated calls were written for.
var javaDialects = map[signature.Dialect]bool{signature.SQLServer: true, signature.MySQL: true, signature.MariaDB: true}

// javaTypes maps kinds to boxed types, so that null is null, and to the member
// of java.sql.Types that carries them.
var javaTypes = typeMap{
	signature.KindBool: {"Boolean", "BIT"}, signature.KindInt8: {"Byte", "TINYINT"}, signature.KindUint8: {"Short", "SMALLINT"},
	signature.KindInt16: {"Short", "SMALLINT"}, signature.KindUint16: {"Integer", "INTEGER"}, signature.KindInt32: {"Integer", "INTEGER"},
	signature.KindUint32: {"Long", "BIGINT"}, signature.KindInt64: {"Long", "BIGINT"}, signature.KindUint64: {"BigDecimal", "DECIMAL"},
	signature.KindDecimal: {"BigDecimal", "DECIMAL"}, signature.KindFloat32: {"Float", "REAL"}, signature.KindFloat64: {"Double", "DOUBLE"},
	signature.KindString: {"String", "VARCHAR"}, signature.KindBytes: {"byte[]", "VARBINARY"}, signature.KindBits: {"byte[]", "VARBINARY"},
	signature.KindDate: {"LocalDate", "DATE"}, signature.KindTime: {"LocalTime", "TIME"}, signature.KindTimestamp: {"LocalDateTime", "TIMESTAMP"},
	signature.KindTimestampTZ: {"OffsetDateTime", "TIMESTAMP_WITH_TIMEZONE"}, signature.KindUUID: {"String", "CHAR"},
	signature.KindJSON: {"String", "VARCHAR"}, signature.KindXML: {"String", "SQLXML"}, signature.KindSpatial: {"byte[]", "VARBINARY"},
	signature.KindAny: {"Object", "OTHER"},
}

var javaReserved = set(`abstract assert boolean break byte case catch char class const continue default do double else enum extends
final finally float for goto if implements import instanceof int interface long native new package private protected public return
short static strictfp super switch synchronized this throw throws transient try void volatile while true false null var record yield
connection statement found more options result status text hashCode toString notify notifyAll wait getClass finalize clone CALL Options Result`)

var javaTemplate = parseTemplate("java.tmpl", template.FuncMap{"join": strings.Join, "add": func(a, b int) int { return a + b }, "javadoc": javadoc, "javaString": javaString})

var javaImports = map[string]string{"BigDecimal": "java.math.BigDecimal", "LocalDate": "java.time.LocalDate", "LocalTime": "java.time.LocalTime",
	"LocalDateTime": "java.time.LocalDateTime", "OffsetDateTime": "java.time.OffsetDateTime"}

// javadoc is text that may stand in a doc comment.
func javadoc(s string) string {
	return strings.NewReplacer("&", "&amp;", "<", "&lt;", ">", "&gt;", "@", "&#64;", "*/", "*&#47;").Replace(s)
}

// javaString is text as a Java string literal.
func javaString(s string) string {
	return `"` + strings.NewReplacer(`\`, `\\`, `"`, `\"`, "\n", `\n`, "\r", `\r`, "\t", `\t`).Replace(s) + `"`
}

func generateJava(routines []*signature.Routine, opts Options) ([]File, []Refusal, error) {
	var files []File
	var refusals []Refusal
	base := opts.Package
	if base == "" {
		base = "routines"
	}
	classes := map[string]*namer{}
	for _, r := range sorted(routines) {
		pkg := base
		if r.Schema != "" {
			pkg += "." + strings.Join(words(r.Schema), "")
			if last := pkg[strings.LastIndexByte(pkg, '.')+1:]; javaReserved[last] {
				pkg += "_"
			}
		}
		if classes[pkg] == nil {
			classes[pkg] = newNamer(set("Object String Integer Long Short Byte Boolean Float Double List Map Connection ResultSet Types"))
		}
		locals := newNamer(javaReserved)
		rows := func(i, n int) (string, string) {
			if n == 1 {
				return "Row", "rows"
			}
			return fmt.Sprintf("Row%d", i+1), fmt.Sprintf("rows%d", i+1)
		}
		// Columns have a name space of their own in each record.
		name := func(s string) string {
			c := camel(s, nil)
			if javaReserved[c] {
				c += "Value"
			}
			return c
		}
		m, why := common(r, javaTypes, name, name, rows)
		if why == "" && !javaDialects[r.Dialect] {
			why = "this target does not call " + string(r.Dialect) + " routines yet"
		}
		if why != "" {
			refusals = append(refusals, Refusal{r, why})
			continue
		}
		for i := range m.All {
			m.All[i].Name = locals.name(m.All[i].Name)
		}
		takeOver(m)
		m.Package = pkg
		m.Name = classes[pkg].name(pascal(r.Name, nil))
		m.Imports = javaImportsOf(m)
		javaCall(m, r)
		var b bytes.Buffer
		if err := javaTemplate.Execute(&b, m); err != nil {
			return nil, nil, err
		}
		files = append(files, File{strings.ReplaceAll(pkg, ".", "/") + "/" + m.Name + ".java", tidy(b.Bytes())})
	}
	return files, refusals, nil
}

// tidy takes trailing blanks and doubled empty lines from generated text.
func tidy(text []byte) []byte {
	var out []string
	for _, line := range strings.Split(string(text), "\n") {
		line = strings.TrimRight(line, " \t")
		if line == "" && (len(out) == 0 || out[len(out)-1] == "" || strings.HasSuffix(out[len(out)-1], "{")) {
			continue
		}
		if strings.TrimSpace(line) == "}" && len(out) > 0 && out[len(out)-1] == "" {
			out = out[:len(out)-1]
		}
		out = append(out, line)
	}
	return []byte(strings.TrimRight(strings.Join(out, "\n"), "\n") + "\n")
}

func javaImportsOf(m *model) []string {
	need := map[string]bool{"java.sql.Connection": true, "java.sql.SQLException": true}
	use := func(typ string) {
		if i, ok := javaImports[typ]; ok {
			need[i] = true
		}
	}
	for _, v := range m.All {
		use(v.Type)
	}
	if m.Returns != nil {
		use(m.Returns.Type)
	}
	for _, s := range m.Shapes {
		need["java.sql.ResultSet"], need["java.util.List"], need["java.util.ArrayList"] = true, true, true
		if s.Open {
			need["java.util.Map"], need["java.util.LinkedHashMap"] = true, true
			continue
		}
		for _, c := range s.Columns {
			use(c.Type)
		}
	}
	if m.IsTable {
		need["java.sql.PreparedStatement"] = true
		if len(m.All) > 0 {
			need["java.sql.Types"] = true
		}
	} else {
		need["java.sql.CallableStatement"] = true
		if len(m.All) > 0 || m.Status || m.Returns != nil {
			need["java.sql.Types"] = true
		}
	}
	var out []string
	for i := range need {
		out = append(out, i)
	}
	sort.Strings(out)
	return out
}

// javaCall works out the text of the call and the place of each argument. In
// a dialect with named arguments the text names them, so that defaults can be
// left out.
func javaCall(m *model, r *signature.Routine) {
	named := signature.NamingOf(r.Dialect).NamedArguments && r.Kind == signature.Procedure
	var fixed []string
	for _, v := range m.All {
		switch {
		case v.Optional && named:
		case named:
			fixed = append(fixed, v.SQL+" = ?")
		default:
			fixed = append(fixed, "?")
		}
	}
	m.Extra["arguments"] = strings.Join(fixed, ", ")
	switch {
	case m.IsTable:
		columns := "*"
		if len(m.Shapes) > 0 && !m.Shapes[0].Open {
			var cols []string
			for _, c := range m.Shapes[0].Columns {
				cols = append(cols, "["+strings.ReplaceAll(c.SQL, "]", "]]")+"]")
			}
			columns = strings.Join(cols, ", ")
		}
		m.Extra["open"], m.Extra["close"] = "SELECT "+columns+" FROM "+m.SQLName+"(", ")"
	case m.Status || m.Returns != nil:
		m.Extra["open"], m.Extra["close"] = "{? = call "+m.SQLName+"(", ")}"
	default:
		m.Extra["open"], m.Extra["close"] = "{call "+m.SQLName+"(", ")}"
	}
	if len(m.All) == 0 && !m.IsTable && m.Returns == nil {
		m.Extra["open"], m.Extra["close"] = strings.TrimSuffix(m.Extra["open"], "("), "}"
	}
	for i := range m.All {
		v := &m.All[i]
		v.Extra = title(v.Name)
		if r.Parameters[i].Type.National {
			v.Code = "N" + v.Code
		}
	}
	takeOver(m)
	first := 1
	if m.Status {
		first = 2
	}
	for _, v := range m.All {
		if v.Optional && (named || m.IsTable || m.Returns != nil) {
			continue
		}
		v.Index = len(m.Fixed)
		m.Fixed = append(m.Fixed, v)
		if v.Out {
			v.Index += first
			m.Outs = append(m.Outs, v)
		}
	}
	if named {
		m.Extra["named"] = "yes"
	}
}

// takeOver copies what was worked out for the parameters in All into the lists
// by use.
func takeOver(m *model) {
	byIndex := map[int]value{}
	for _, v := range m.All {
		byIndex[v.Index] = v
	}
	for _, list := range [][]value{m.Inputs, m.Optionals, m.Outputs} {
		for i := range list {
			list[i] = byIndex[list[i].Index]
		}
	}
}
