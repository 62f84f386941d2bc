// Package bind writes typed functions that call routines correctly, one
// [Target] a language. A target is a template that can be read, a type map and
// a naming style.
package bind

import (
	"embed"
	"fmt"
	"sort"
	"strconv"
	"strings"
	"text/template"
	"unicode"

	"ramekin/internal/signature"
)

//go:embed templates
var templates embed.FS

// Options say what is wanted of the bindings.
type Options struct {
	// Package is the package of the generated files; "" for the target's default.
	Package string
}

// File is one generated file; Path is relative to the output folder.
type File struct {
	Path    string
	Content []byte
}

// Refusal is a routine that got no binding, and why.
type Refusal struct {
	Routine *signature.Routine
	Reason  string
}

// Target is one language to bind to.
type Target struct {
	Name string
	// Summary says what is generated, in a line.
	Summary string
	// Generate writes the files for routines. The same routines give the same
	// bytes.
	Generate func(routines []*signature.Routine, opts Options) ([]File, []Refusal, error)
}

// Targets lists every language that can be bound to.
var Targets = []*Target{&Java, &Go}

// TargetNamed returns the target of a language, or nil.
func TargetNamed(name string) *Target {
	for _, t := range Targets {
		if t.Name == name {
			return t
		}
	}
	return nil
}

// TargetNames lists the languages.
func TargetNames() []string {
	var names []string
	for _, t := range Targets {
		names = append(names, t.Name)
	}
	return names
}

func parseTemplate(name string, funcs template.FuncMap) *template.Template {
	return template.Must(template.New(name).Funcs(funcs).ParseFS(templates, "templates/"+name))
}

// words splits a name of the database into lower-case words, without sigil and
// without the prefix that marks it as a parameter.
func words(name string) []string {
	name = signature.BareName(name)
	lower := strings.ToLower(name)
	for _, prefix := range []string{"p_", "in_", "out_"} {
		if strings.HasPrefix(lower, prefix) && len(name) > len(prefix) {
			name = name[len(prefix):]
			break
		}
	}
	var out []string
	word := ""
	flush := func() {
		if word != "" {
			out = append(out, strings.ToLower(word))
			word = ""
		}
	}
	runes := []rune(name)
	for i, r := range runes {
		switch {
		case !unicode.IsLetter(r) && !unicode.IsDigit(r):
			flush()
			continue
		case unicode.IsUpper(r) && i > 0 && (unicode.IsLower(runes[i-1]) || unicode.IsDigit(runes[i-1]) || i+1 < len(runes) && unicode.IsLower(runes[i+1])):
			flush()
		}
		word += string(r)
	}
	flush()
	if len(out) == 0 {
		out = []string{"value"}
	}
	if c := out[0][0]; c >= '0' && c <= '9' {
		out[0] = "n" + out[0]
	}
	return out
}

// title is a word with its first letter in upper case.
func title(w string) string {
	r := []rune(w)
	r[0] = unicode.ToUpper(r[0])
	return string(r)
}

// pascal is the name in PascalCase, with the words of whole upper case given.
func pascal(name string, upper map[string]bool) string {
	s := ""
	for _, w := range words(name) {
		if upper[w] {
			s += strings.ToUpper(w)
		} else {
			s += title(w)
		}
	}
	return s
}

// camel is the name in camelCase.
func camel(name string, upper map[string]bool) string {
	ws := words(name)
	return ws[0] + strings.TrimPrefix(pascal(strings.Join(append([]string{"x"}, ws[1:]...), "_"), upper), "X")
}

// namer gives each name once: a second use gets a number.
type namer struct {
	used     map[string]bool
	reserved map[string]bool
}

func newNamer(reserved map[string]bool, taken ...string) *namer {
	n := &namer{used: map[string]bool{}, reserved: reserved}
	for _, t := range taken {
		n.used[t] = true
	}
	return n
}

func (n *namer) name(want string) string {
	if n.reserved[want] {
		want += "Value"
	}
	name := want
	for i := 2; n.used[name]; i++ {
		name = want + strconv.Itoa(i)
	}
	n.used[name] = true
	return name
}

func set(list string) map[string]bool {
	m := map[string]bool{}
	for _, w := range strings.Fields(list) {
		m[w] = true
	}
	return m
}

// value is a parameter, column or result as a template sees it.
type value struct {
	Name     string // in the target language
	Field    string // as a field, where fields are named another way
	SQL      string // as the routine declares it
	Bare     string // without sigil
	Type     string // in the target language
	SQLType  string
	Code     string // the target's code for the type
	Doc      string
	Optional bool
	In, Out  bool
	Index    int
	Default  string
	Kind     signature.Kind
	Extra    string // the name again, as the target wants it for something else
}

// shape is one kind of row that a routine sends.
type shape struct {
	Name    string // of the row type
	Field   string // of the list of rows
	Columns []value
	Open    bool // columns are not known: rows are maps
}

// constant is a status code with its name.
type constant struct {
	Name string
	Code int64
}

// model is a routine as a template sees it.
type model struct {
	Package   string
	Name      string
	Routine   string
	Place     string
	Dialect   string
	SQLName   string // quoted for the call
	Signature []string
	Inputs    []value // required
	Optionals []value
	Outputs   []value
	All       []value // parameters in declared order
	Fixed     []value // those that stand in every call, Index counting from 0
	Outs      []value // outputs with their place in the call
	Status    bool
	Codes     []constant
	Shapes    []shape
	Returns   *value
	IsTable   bool
	HasResult bool
	Imports   []string
	Extra     map[string]string
}

// signatureLines are the parameters of a routine for a doc comment, aligned.
func signatureLines(r *signature.Routine) []string {
	names, types := 0, 0
	for _, q := range r.Parameters {
		names, types = max(names, len(q.Name)), max(types, len(q.Type.Text))
	}
	var lines []string
	for _, q := range r.Parameters {
		line := fmt.Sprintf("%-*s  %-5s  %-*s", names, q.Name, q.Direction, types, q.Type.Text)
		if q.Default != nil {
			line += "  = " + q.Default.Text
		}
		lines = append(lines, strings.TrimRight(strings.Join(strings.Fields(strings.ReplaceAll(line, "\n", " ")), " "), " "))
		lines[len(lines)-1] = strings.TrimRight(line, " ")
	}
	if r.Returns != nil {
		lines = append(lines, "returns "+strings.Join(strings.Fields(r.Returns.Type.Text), " "))
	}
	return lines
}

// quotedName is the routine's name for a call, every part in the dialect's quotes.
func quotedName(r *signature.Routine) string {
	naming := signature.NamingOf(r.Dialect)
	open, closing := naming.QuoteOpen, naming.QuoteClose
	var parts []string
	for _, p := range []string{r.Schema, r.Container, r.Name} {
		if p != "" {
			name, number, numbered := strings.Cut(p, ";")
			q := open + strings.ReplaceAll(name, closing, closing+closing) + closing
			if numbered {
				q += ";" + number
			}
			parts = append(parts, q)
		}
	}
	return strings.Join(parts, ".")
}

// codeName names a status code: STATUS_40, STATUS_MINUS_1.
func codeName(code int64) string {
	if code < 0 {
		return "MINUS_" + strconv.FormatInt(-code, 10)
	}
	return strconv.FormatInt(code, 10)
}

// sorted orders routines by key, so that files come out the same however they
// were found.
func sorted(routines []*signature.Routine) []*signature.Routine {
	out := append([]*signature.Routine(nil), routines...)
	sort.SliceStable(out, func(i, j int) bool { return strings.ToLower(out[i].Key) < strings.ToLower(out[j].Key) })
	return out
}

// typeMap maps the kinds of one target; a kind that is missing has no safe mapping.
type typeMap map[signature.Kind]struct{ Type, Code string }

// unsafe says why a type has no mapping, "" where it has one.
func (m typeMap) unsafe(what string, t *signature.Type) string {
	if _, ok := m[t.Kind]; ok {
		return ""
	}
	switch t.Kind {
	case signature.KindTable:
		return fmt.Sprintf("%s is the table type %s, which no neutral driver call can pass", what, t.Text)
	case signature.KindUser:
		return fmt.Sprintf("%s is of type %s, which the source does not declare: add its CREATE TYPE", what, t.Text)
	}
	return fmt.Sprintf("%s is of type %s (%s), which has no safe mapping", what, t.Text, t.Kind)
}

// common builds what the models of all targets share.
func common(r *signature.Routine, m typeMap, name func(string) string, field func(string) string, row func(i, n int) (typ, list string)) (*model, string) {
	out := &model{Routine: r.QualifiedName(), Dialect: string(r.Dialect), SQLName: quotedName(r), Signature: signatureLines(r), Extra: map[string]string{}}
	out.Place = r.At.File + ":" + strconv.Itoa(r.At.Line)
	if r.Kind == signature.Function && r.Language == "c" && signature.NamingOf(r.Dialect).LoadableHideParameters {
		return nil, "it is a loadable function, whose parameters no DDL tells"
	}
	make := func(sql string, t *signature.Type) value {
		e := m[t.Kind]
		return value{SQL: sql, Bare: signature.BareName(sql), Type: e.Type, Code: e.Code, SQLType: t.Text, Kind: t.Kind}
	}
	for i := range r.Parameters {
		q := &r.Parameters[i]
		what := q.Name
		if what == "" {
			what = "parameter " + strconv.Itoa(q.Position)
		}
		if why := m.unsafe(what, &q.Type); why != "" {
			return nil, why
		}
		v := make(q.Name, &q.Type)
		if q.Name == "" {
			v.Name = name("arg_" + strconv.Itoa(q.Position))
		} else {
			v.Name = name(q.Name)
		}
		v.Field = field(q.Name)
		v.Index = q.Position
		v.In, v.Out = q.Direction != signature.Out, q.Direction != signature.In
		if q.Default != nil {
			v.Default = q.Default.Text
			v.Optional = v.In && !v.Out
		}
		v.Doc = strings.Join(strings.Fields(declaration(q)), " ")
		out.All = append(out.All, v)
		if v.In && !v.Optional {
			out.Inputs = append(out.Inputs, v)
		}
		if v.Optional {
			out.Optionals = append(out.Optionals, v)
		}
		if v.Out {
			out.Outputs = append(out.Outputs, v)
		}
	}
	if st := r.Status; st != nil {
		out.Status = true
		for _, c := range st.Codes {
			out.Codes = append(out.Codes, constant{codeName(c), c})
		}
	}
	results := r.SentResults()
	if ret := r.Returns; ret != nil {
		if ret.Set {
			out.IsTable = true
			results = []signature.ResultSet{{Columns: ret.Columns}}
		} else {
			if why := m.unsafe("the result", &ret.Type); why != "" {
				return nil, why
			}
			v := make("", &ret.Type)
			out.Returns = &v
		}
	}
	var unknown *shape
	for _, rs := range distinct(results) {
		s := shape{}
		names := newNamer(nil)
		seen := map[string]bool{}
		for k, col := range rs.Columns {
			if col.Name == "" || col.Name == "*" || seen[strings.ToLower(col.Name)] {
				s.Open = true
			}
			seen[strings.ToLower(col.Name)] = true
			v := value{SQL: col.Name, Type: m[signature.KindAny].Type, Code: m[signature.KindAny].Code, Kind: signature.KindAny, Index: k + 1}
			if col.Type != nil {
				if _, ok := m[col.Type.Kind]; ok {
					v = make(col.Name, col.Type)
					v.Index = k + 1
				}
			}
			v.Name = names.name(name(col.Name))
			v.Field = v.Name
			s.Columns = append(s.Columns, v)
		}
		switch {
		case !s.Open && len(rs.Columns) > 0:
			out.Shapes = append(out.Shapes, s)
		case unknown == nil: // all rows of unknown columns go into one list
			unknown = &shape{Open: true}
		}
	}
	if unknown != nil {
		out.Shapes = append(out.Shapes, *unknown)
	}
	for i := range out.Shapes {
		out.Shapes[i].Name, out.Shapes[i].Field = row(i, len(out.Shapes))
	}
	out.HasResult = len(out.Outputs) > 0 || out.Status || len(out.Shapes) > 0
	return out, ""
}

// distinct leaves out result sets with the columns of one before: a routine
// often sends the same rows from several branches.
func distinct(results []signature.ResultSet) []signature.ResultSet {
	var out []signature.ResultSet
	seen := map[string]bool{}
	for _, rs := range results {
		key := ""
		for _, c := range rs.Columns {
			key += strings.ToLower(c.Name) + "\x00"
		}
		if !seen[key] {
			seen[key] = true
			out = append(out, rs)
		}
	}
	return out
}

func declaration(q *signature.Parameter) string {
	s := q.Name + " " + string(q.Direction) + " " + q.Type.Text
	if q.Default != nil {
		s += " = " + q.Default.Text
	}
	return s
}
