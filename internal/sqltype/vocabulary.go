package sqltype

import (
	"slices"
	"strings"

	"ramekin/internal/signature"
	"ramekin/internal/sqltext"
)

// vocabulary is the types of a dialect that writes them as the standard does
// (ISO/IEC 9075-2, clause 6.1): a name of one or more words, arguments in
// brackets, and what may follow.
type vocabulary struct {
	// kinds holds every name, in lower case, its words parted by one space.
	kinds map[string]signature.Kind
	// national holds the names of types in the national character set.
	national []string
	// doubleFrom is the precision from which FLOAT(n) is a float64; 0 where the
	// name alone tells.
	doubleFrom int
	// brackets is set where type[] and type ARRAY[n] are arrays.
	brackets bool
	// anchors is set where name%TYPE and name%ROWTYPE are types.
	anchors bool
	// quotedKnown is set where the server keeps the names of its types in lower
	// case, so that they may be quoted.
	quotedKnown bool
	// special reads the types that are written in a way of their own. It
	// returns false, without moving, where there is none.
	special func(c *sqltext.Cursor, t *signature.Type) bool
	// suffix reads what may follow a type and belongs to it.
	suffix func(c *sqltext.Cursor, t *signature.Type)
	// phrases holds the rest of each name of several words, by its first
	// word, the longest first. It is made from kinds.
	phrases map[string][][]string
}

// prepare fills in what follows from the rest.
func (v vocabulary) prepare() *vocabulary {
	v.phrases = map[string][][]string{}
	names := make([]string, 0, len(v.kinds))
	for name := range v.kinds {
		names = append(names, name)
		known[name] = name
	}
	slices.Sort(names)
	for _, name := range names {
		if words := strings.Fields(name); len(words) > 1 {
			v.phrases[words[0]] = append(v.phrases[words[0]], words[1:])
		}
	}
	for _, rest := range v.phrases {
		slices.SortStableFunc(rest, func(a, b []string) int { return len(b) - len(a) })
	}
	return &v
}

// read is the vocabulary as a [Reader].
func (v *vocabulary) read(c *sqltext.Cursor) (signature.Type, bool) {
	first := c.I
	var t signature.Type
	if v.special != nil && v.special(c, &t) {
		v.arrays(c, &t, first)
		t.Text = c.FoldFrom(first)
		return t, true
	}
	if !c.Peek().IsName() {
		return t, false
	}
	kind, known := signature.KindUser, false
	t.Name, kind, known = v.name(c)
	t.Kind = kind
	if link := c.Peek(); v.anchors && link.Kind == sqltext.Variable && c.Ahead(1).Kind == sqltext.Punct && c.Ahead(1).Op == '%' {
		c.I++ // name@link%TYPE
		t.Name += lower(c.Text(link))
	}
	if v.anchors && c.AtOp('%') && c.Ahead(1).Kind == sqltext.Word {
		c.I++
		t.Name += "%" + lowerName(c.Next().Bytes(c.Src))
		t.Kind = signature.KindAnchored
	} else {
		v.arguments(c, &t, known)
	}
	if v.suffix != nil {
		v.suffix(c, &t)
	}
	v.arrays(c, &t, first)
	t.Text = c.FoldFrom(first)
	return t, true
}

// name reads the name of a type, and tells whether the dialect knows it.
func (v *vocabulary) name(c *sqltext.Cursor) (string, signature.Kind, bool) {
	next := c.Ahead(1)
	if c.Peek().Kind == sqltext.Word && !(next.Kind == sqltext.Punct && next.Op == '.') {
		name := lowerName(c.Next().Bytes(c.Src))
		for _, rest := range v.phrases[name] {
			if v.follows(c, rest) {
				c.I += len(rest)
				name += " " + strings.Join(rest, " ")
				return name, v.kinds[name], true
			}
		}
		if kind, ok := v.kinds[name]; ok {
			return name, kind, true
		}
		return name, signature.KindUser, false
	}
	quoted := c.Peek().Kind == sqltext.QuotedName
	parts := c.DottedName()
	name := lower(strings.Join(parts, "."))
	if len(parts) == 2 && builtinSchemas[lower(parts[0])] {
		name = lower(parts[1])
	} else if quoted && len(parts) == 1 {
		if kind, ok := v.kinds[`"`+name+`"`]; ok {
			return name, kind, true
		}
	}
	if kind, ok := v.kinds[name]; ok && (!quoted || v.quotedKnown && parts[0] == name) {
		return name, kind, true
	}
	return name, signature.KindUser, false
}

// builtinSchemas hold the types that a server brings with it.
var builtinSchemas = map[string]bool{"pg_catalog": true, "sys": true, "mdsys": true, "sysibm": true, "standard": true}

func (v *vocabulary) follows(c *sqltext.Cursor, words []string) bool {
	for i, w := range words {
		if !c.Ahead(i).Is(c.Src, w) {
			return false
		}
	}
	return true
}

// arguments reads what stands in brackets behind the name, and the words of a
// time type behind that.
func (v *vocabulary) arguments(c *sqltext.Cursor, t *signature.Type, known bool) {
	a, b, n := arguments(c)
	switch t.Kind {
	case signature.KindString, signature.KindBytes, signature.KindBits:
		t.Length = a
		t.National = slices.Contains(v.national, t.Name)
	case signature.KindDecimal:
		t.Precision, t.Scale = a, b
	case signature.KindTime, signature.KindTimestamp, signature.KindTimestampTZ:
		t.Precision = a
		timeZone(c, t)
	case signature.KindInterval:
		if strings.HasSuffix(t.Name, "second") || t.Name == "interval" {
			t.Precision = a
		}
	case signature.KindFloat32, signature.KindFloat64:
		if v.doubleFrom > 0 && t.Name == "float" && n == 1 {
			t.Kind = signature.KindFloat32
			if a >= v.doubleFrom {
				t.Kind = signature.KindFloat64
			}
		}
	}
	if !known {
		t.Kind = signature.KindUser
	}
}

// timeZone reads WITH [LOCAL] TIME ZONE and WITHOUT TIME ZONE.
func timeZone(c *sqltext.Cursor, t *signature.Type) {
	without := c.AtWord("without")
	if !without && !c.AtKw(sqltext.WITH) {
		return
	}
	n := 1
	if c.Ahead(n).Is(c.Src, "local") {
		n++
	}
	if !c.Ahead(n).Is(c.Src, "time") || !c.Ahead(n+1).Is(c.Src, "zone") {
		return
	}
	first := c.I
	c.I += n + 2
	t.Name += " " + lower(c.FoldFrom(first))
	if t.Kind == signature.KindTimestamp && !without {
		t.Kind = signature.KindTimestampTZ
	}
}

// arrays reads [] and ARRAY [n] behind a type.
func (v *vocabulary) arrays(c *sqltext.Cursor, t *signature.Type, first int) {
	if !v.brackets {
		return
	}
	for {
		last := c.I
		length := 0
		switch {
		case c.AtWord("array"):
			c.I++
			length, _ = bracket(c)
		case c.AtOp('['):
			n, ok := bracket(c)
			if !ok {
				return
			}
			length = n
		default:
			return
		}
		if t.Kind == signature.KindArray && t.Element != nil {
			t.Length = 0 // dimensions are not told apart
			continue
		}
		element := *t
		element.Text = sqltext.Fold(c.Src, c.Slice(first, last))
		*t = signature.Type{Name: t.Name, Kind: signature.KindArray, Length: length, Element: &element}
	}
}

// bracket reads [n] or [] and returns n.
func bracket(c *sqltext.Cursor) (int, bool) {
	if !c.AtOp('[') {
		return 0, false
	}
	n := 0
	i := 1
	if t := c.Ahead(i); t.Kind == sqltext.Number {
		n = number(c.Text(t))
		i++
	}
	if end := c.Ahead(i); end.Kind != sqltext.Punct || end.Op != ']' {
		return 0, false
	}
	c.I += i + 1
	return n, true
}

// words makes a map of kinds from lists of names.
func words(lists map[signature.Kind]string) map[string]signature.Kind {
	m := map[string]signature.Kind{}
	for kind, names := range lists {
		for name := range strings.SplitSeq(names, ",") {
			m[strings.TrimSpace(name)] = kind
		}
	}
	return m
}

// skipWords moves past each of the given phrases as often as they follow.
func skipWords(c *sqltext.Cursor, phrases ...string) {
	for moved := true; moved; {
		moved = false
		for _, p := range phrases {
			list := strings.Fields(p)
			ok := true
			for i, w := range list {
				ok = ok && c.Ahead(i).Is(c.Src, w)
			}
			if ok {
				c.I += len(list)
				moved = true
			}
		}
	}
}
