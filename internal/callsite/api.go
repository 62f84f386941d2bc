package callsite

import (
	"bytes"
	"slices"
	"strings"

	"ramekin/internal/hostcode"
	"ramekin/internal/signature"
)

// API is a family of client libraries that call routines in one manner.
type API struct {
	Name string
	// Hosts are the languages that the API is of.
	Hosts []string
	// Words are those without which a file cannot use the API. Those of Weak say so
	// only in a file that has the text of a statement too.
	Words, Weak []string
	// enums are types whose members are the API's constants.
	enums []string
	// create follows new Type(…); call follows receiver.method(…) where the
	// receiver is no object of an API.
	create func(ev *evaluator, typ string, args []value, node hostcode.NodeID) (value, bool)
	call   func(ev *evaluator, recv value, method string, args []value, node hostcode.NodeID) (value, bool)
	// own follows what a class calls on itself or on what it builds on, in languages
	// in which a bare name does that; it may be nil.
	own func(ev *evaluator, recv value, method string, args []value, node hostcode.NodeID) (value, bool)
	// tagged follows tag`text`; it may be nil.
	tagged func(ev *evaluator, recv value, method string, text value, node hostcode.NodeID) (value, bool)
}

// APIs lists every client API that is followed.
var APIs []*API

// The table is filled at start, as the functions in it refer back to it.
func init() {
	APIs = []*API{&jdbc, &adonet, &dbapi, &nodeClients, &goSQL, &phpClients, &netMappers, &spring, &jpa}
	for _, a := range APIs {
		for _, h := range a.Hosts {
			apiWords[h] = append(append(apiWords[h], a.Words...), a.Weak...)
			if len(a.Weak) > 0 {
				weakWords[h] = weakWords[h].add(a.Weak)
			}
		}
		for _, h := range a.Hosts {
			if skimmers[h] == nil {
				skimmers[h] = skimmers[h].add(typeWords(h))
			}
			skimmers[h] = skimmers[h].add(append(append([]string(nil), a.Words...), a.Weak...))
		}
		for _, e := range a.enums {
			apiEnums[e] = true
		}
	}
}

// serves reports whether the API is one of the language.
func (a *API) serves(lang *hostcode.Language) bool { return slices.Contains(a.Hosts, lang.Name) }

var (
	// apiWords are the words of the APIs of a language, weakWords those that do not
	// suffice alone.
	apiWords  = map[string][]string{}
	weakWords = map[string]*matcher{}
	// skimmers look for all of them, and for the declarations of types.
	skimmers = map[string]*matcher{}
	apiEnums = map[string]bool{}
)

func isAPIEnum(name string) bool { return apiEnums[name] }

// wordsOf returns the words of the APIs of a language.
func wordsOf(lang *hostcode.Language) []string { return apiWords[lang.Name] }

// MayCall reports whether a file's text can have a call in it.
func MayCall(lang *hostcode.Language, text []byte) bool {
	calls, _ := Skim(lang, text)
	return calls
}

// Skim reports whether a file's text can have a call in it, and where it cannot,
// the names of the types that it declares, which other files may use. It looks
// for a few words; the file need not be parsed for it.
func Skim(lang *hostcode.Language, text []byte) (calls bool, types []string) {
	weak, strong := false, false
	skimmers[lang.Name].each(text, func(word string, at int) bool {
		switch {
		case word[len(word)-1] == ' ' && isTypeWord[word]:
			if at > 0 && text[at-1] != ' ' && text[at-1] != '\n' && text[at-1] != '\t' {
				return true
			}
			begin := at + len(word)
			end := begin
			for end < len(text) && (text[end] == '_' || text[end]|0x20 >= 'a' && text[end]|0x20 <= 'z' || text[end] >= '0' && text[end] <= '9') {
				end++
			}
			if end > begin {
				types = append(types, string(text[begin:end]))
			}
		case weakWords[lang.Name] != nil && weakWords[lang.Name].has(word):
			weak = true
		default:
			strong = true
			return false
		}
		return true
	})
	if strong || weak && hasStatementText(text) {
		return true, nil
	}
	return false, types
}

// typeWords stand before the name of a type that a file declares.
func typeWords(lang string) []string {
	switch lang {
	case "go":
		return nil // found by their package
	case "java", "csharp", "vb":
		return []string{"class ", "interface ", "enum ", "record ", "struct "}
	}
	return []string{"class "}
}

var isTypeWord = map[string]bool{"class ": true, "interface ": true, "enum ": true, "record ": true, "struct ": true}

// matcher looks for several words at once: by the pairs of bytes that one
// begins with.
type matcher struct {
	begins [1 << 16]bool
	words  map[uint16][][]byte
}

func (m *matcher) add(words []string) *matcher {
	if m == nil {
		m = &matcher{words: map[uint16][][]byte{}}
	}
	for _, w := range words {
		pair := uint16(w[0])<<8 | uint16(w[1])
		m.begins[pair] = true
		m.words[pair] = append(m.words[pair], []byte(w))
	}
	return m
}

func (m *matcher) has(word string) bool {
	for _, w := range m.words[uint16(word[0])<<8|uint16(word[1])] {
		if string(w) == word {
			return true
		}
	}
	return false
}

// each calls found for every word in the text, with its offset, until found
// returns false.
func (m *matcher) each(text []byte, found func(word string, at int) bool) {
	if m == nil || len(text) == 0 {
		return
	}
	pair := uint16(text[0])
	for i, c := range text[1:] {
		if pair = pair<<8 | uint16(c); m.begins[pair] {
			for _, w := range m.words[pair] {
				if bytes.HasPrefix(text[i:], w) && !found(string(w), i) {
					return
				}
			}
		}
	}
}

// hasStatementText reports whether a literal begins as a statement that calls,
// or as one with a function in it.
func hasStatementText(text []byte) bool {
	for i := 0; i < len(text); i++ {
		if c := text[i]; c != '"' && c != '\'' && c != '`' {
			continue
		}
		j := i + 1
		for j < len(text) && (text[j] <= ' ' || text[j] == '{' || text[j] == '?' || text[j] == '=' || text[j] == '"') {
			j++
		}
		word := j
		for j < len(text) && text[j]|0x20 >= 'a' && text[j]|0x20 <= 'z' && j-word < 10 {
			j++
		}
		if j == word || j >= len(text) || text[j] > ' ' && text[j] != '\\' {
			continue
		}
		switch strings.ToLower(string(text[word:j])) {
		case "call", "exec", "execute", "begin", "declare", "perform", "set", "if":
			return true
		case "select", "with", "insert":
			end := bytes.IndexByte(text[j:], text[i])
			if end < 0 || bytes.IndexByte(text[j:j+end], '(') >= 0 || bytes.IndexByte(text[j:j+end], '$') >= 0 {
				return true
			}
		}
	}
	return false
}

// hostKinds are the types of the host languages by what they can carry.
var hostKinds = map[string]signature.Kind{
	"int": signature.KindInt32, "Integer": signature.KindInt32, "Int32": signature.KindInt32, "uint": signature.KindUint32, "UInt32": signature.KindUint32,
	"long": signature.KindInt64, "Long": signature.KindInt64, "Int64": signature.KindInt64, "ulong": signature.KindUint64, "UInt64": signature.KindUint64,
	"BigInteger": signature.KindDecimal,
	"short":      signature.KindInt16, "Short": signature.KindInt16, "Int16": signature.KindInt16, "ushort": signature.KindUint16,
	"byte": signature.KindUint8, "Byte": signature.KindUint8, "sbyte": signature.KindInt8,
	"boolean": signature.KindBool, "Boolean": signature.KindBool, "bool": signature.KindBool,
	"BigDecimal": signature.KindDecimal, "decimal": signature.KindDecimal, "Decimal": signature.KindDecimal, "SqlDecimal": signature.KindDecimal,
	"float": signature.KindFloat32, "Float": signature.KindFloat32, "Single": signature.KindFloat32,
	"double": signature.KindFloat64, "Double": signature.KindFloat64,
	"String": signature.KindString, "string": signature.KindString, "char": signature.KindString, "Character": signature.KindString, "CharSequence": signature.KindString,
	"byte[]": signature.KindBytes, "Byte[]": signature.KindBytes, "InputStream": signature.KindBytes, "Blob": signature.KindBytes,
	"LocalDate": signature.KindDate, "DateOnly": signature.KindDate,
	"LocalTime": signature.KindTime, "Time": signature.KindTime, "TimeSpan": signature.KindTime, "TimeOnly": signature.KindTime,
	"LocalDateTime": signature.KindTimestamp, "Timestamp": signature.KindTimestamp, "DateTime": signature.KindTimestamp,
	"OffsetDateTime": signature.KindTimestampTZ, "ZonedDateTime": signature.KindTimestampTZ, "Instant": signature.KindTimestampTZ, "DateTimeOffset": signature.KindTimestampTZ,
	"UUID": signature.KindUUID, "Guid": signature.KindUUID, "SQLXML": signature.KindXML, "XmlReader": signature.KindXML, "SqlXml": signature.KindXML,
	"DataTable": signature.KindTable, "SQLServerDataTable": signature.KindTable,
	// of Python, JavaScript, PHP and Go
	"str": signature.KindString, "bytes": signature.KindBytes, "datetime": signature.KindTimestamp, "date": signature.KindDate, "time": signature.KindTime, "Date": signature.KindTimestamp,
	"Buffer": signature.KindBytes, "array": signature.KindArray, "int8": signature.KindInt8, "int16": signature.KindInt16, "int32": signature.KindInt32, "int64": signature.KindInt64,
	"uint8": signature.KindUint8, "uint16": signature.KindUint16, "uint32": signature.KindUint32, "uint64": signature.KindUint64, "float32": signature.KindFloat32, "float64": signature.KindFloat64,
	"[]byte": signature.KindBytes, "NullString": signature.KindString, "NullInt64": signature.KindInt64, "NullInt32": signature.KindInt32, "NullTime": signature.KindTimestamp, "NullBool": signature.KindBool,
	"NullFloat64": signature.KindFloat64,
}

// hostKind is what a type of a host language can carry.
func hostKind(typ string) signature.Kind {
	if k, ok := hostKinds[strings.TrimSuffix(typ, "?")]; ok {
		return k
	}
	return signature.KindUnknown
}

// valueKindOf is what a value can carry, by its static type.
func valueKindOf(v value) signature.Kind {
	if len(v.alts) > 0 {
		for _, a := range v.alts {
			if k := valueKindOf(a); k != signature.KindUnknown {
				return k
			}
		}
	}
	if v.kind == textValue {
		return signature.KindString
	}
	return hostKind(v.typ)
}

// bindKey names a place of a call: a bind index from 1, or a parameter's name.
type bindKey struct {
	index int
	name  string
}

func nameKey(name string) bindKey {
	return bindKey{name: strings.ToLower(signature.BareName(strings.TrimPrefix(name, ":")))}
}

// comparison and use are the mutable forms of Comparison and StatusUse.
type comparison struct {
	op      string
	value   int64
	at      Span
	handled bool
}

type use struct {
	comparisons []*comparison
	escapes     bool
	switchAt    *Span
}

// site is what the objects of all APIs have in common.
type site struct {
	u    *unit
	node hostcode.NodeID // where the object was made
	text value
	uses map[bindKey]*use
	// inlined is how many helper functions deep the object was made, and caller
	// the path there.
	inlined    int
	caller     string
	returned   bool
	escaped    string
	executed   bool
	rowsOpen   bool
	readsRows  bool
	rowsAt     Span
	rowsEscape bool
	columns    []ColumnRead
	countUsed  *Span
	open       string
	reads      map[bindKey][]Read
	readOrder  []bindKey
}

func (s *site) base() *site { return s }

func newSite(ev *evaluator, node hostcode.NodeID, text value) site {
	return site{u: ev.u, node: node, text: text, uses: map[bindKey]*use{}, reads: map[bindKey][]Read{},
		inlined: ev.inlined, caller: ev.caller}
}

func (s *site) use(k bindKey) *use {
	u := s.uses[k]
	if u == nil {
		u = &use{}
		s.uses[k] = u
	}
	return u
}

func (s *site) escape(reason string) {
	if s.escaped == "" {
		s.escaped = reason
	}
}

// read notes that the output of key is read, as kind where that is known.
func (s *site) read(ev *evaluator, key bindKey, kind signature.Kind, node hostcode.NodeID) value {
	if len(s.reads[key]) == 0 {
		s.readOrder = append(s.readOrder, key)
	}
	s.reads[key] = append(s.reads[key], Read{At: ev.u.span(node), Kind: kind, BeforeCall: !s.executed && s.escaped == "", BeforeRows: s.rowsOpen})
	return value{origin: &origin{site: s, key: key}}
}

// noteReadType notes the type that the last read of key is taken as.
func (s *site) noteReadType(key bindKey, kind signature.Kind, cast bool) {
	if rs := s.reads[key]; len(rs) > 0 && rs[len(rs)-1].Kind == signature.KindUnknown {
		rs[len(rs)-1].Kind = kind
		rs[len(rs)-1].Cast = cast
	}
}

// statusUse is what became of the value of key.
func (s *site) statusUse(key bindKey) *StatusUse {
	out := &StatusUse{}
	u := s.uses[key]
	if u == nil {
		return out
	}
	out.Escapes = u.escapes
	for _, c := range u.comparisons {
		at := c.at
		if u.switchAt != nil && len(u.comparisons) > 0 && c == u.comparisons[0] {
			out.Switch = u.switchAt
		}
		out.Comparisons = append(out.Comparisons, Comparison{Op: c.op, Value: c.value, At: at, Handled: c.handled})
	}
	return out
}

// describe fills in what is common to the calls of all APIs.
func (s *site) describe(c *Call) {
	c.Host = s.u.tree.Lang.Name
	c.Use = s.u.span(s.node)
	c.StatusArg = -1
	c.Executed = s.executed
	c.ReadsRows, c.RowsAt, c.Columns, c.RowsEscape = s.readsRows, s.rowsAt, s.columns, s.rowsEscape
	c.Escaped = s.escaped != ""
	c.CountUsed = s.countUsed
	if s.open != "" {
		c.Open, c.OpenReason = true, s.open
	}
	if c.Escaped && !c.Open {
		c.Open, c.OpenReason = true, s.escaped
	}
}

// rows is a result set or reader of a call.
type rows struct {
	s *site
}

func (r *rows) invoke(ev *evaluator, method string, args []value, node hostcode.NodeID) value {
	switch method {
	case "next", "fetchone", "fetchall", "fetchmany", "nextset", "mappings", "one", "all", "scalar", "fetch", "fetchAll", "fetchColumn", "fetchAssoc", "fetch_assoc", "fetch_all", "fetch_row", "Next", "Scan", "Read", "ReadAsync", "first", "NextResult", "NextResultAsync", "beforeFirst", "getMetaData", "GetSchemaTable", "Load", "last", "absolute", "unwrap":
		r.touch(ev, node)
		return value{}
	case "close", "Close", "Dispose", "DisposeAsync", "CloseAsync":
		r.s.rowsOpen = false
		return value{}
	}
	if strings.HasPrefix(method, "get") || strings.HasPrefix(method, "Get") || method == "findColumn" || method == "IsDBNull" || method == "IsDBNullAsync" {
		r.touch(ev, node)
		if len(args) > 0 {
			a := args[0]
			// An index that is counted up differs from row to row; only a literal counts.
			literal := a.use != 0 && a.useTree.tree.Kind(a.use) == hostcode.Number
			if name, ok := a.constantText(); ok {
				r.s.columns = append(r.s.columns, ColumnRead{Name: name, At: ev.u.span(node)})
			} else if a.kind == intValue && literal {
				r.s.columns = append(r.s.columns, ColumnRead{Index: int(a.n), ByIndex: true, At: ev.u.span(node)})
			}
		}
	}
	return value{}
}

func (r *rows) iterate(ev *evaluator, node hostcode.NodeID) value {
	r.touch(ev, node)
	return value{kind: objectValue, obj: r}
}

func (r *rows) touch(ev *evaluator, node hostcode.NodeID) {
	if !r.s.readsRows {
		r.s.readsRows, r.s.rowsAt = true, ev.u.span(node)
	}
}

func (r *rows) get(ev *evaluator, member string, node hostcode.NodeID) value {
	switch member {
	case "HasRows", "FieldCount", "RecordsAffected":
		r.touch(ev, node)
	}
	return value{}
}

func (r *rows) set(*evaluator, string, value, hostcode.NodeID) {}

func (r *rows) index(ev *evaluator, args []value, node hostcode.NodeID) value {
	return r.invoke(ev, "getObject", args, node)
}

func (r *rows) escape(string) {
	r.s.readsRows, r.s.rowsEscape = true, true
}

func (r *rows) close(*evaluator) { r.s.rowsOpen = false }
