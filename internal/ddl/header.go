package ddl

import (
	"ramekin/internal/signature"
	"ramekin/internal/sqltext"
)

// modeStyle says where IN, OUT and INOUT stand.
type modeStyle uint8

const (
	modesBefore modeStyle = iota // before the name
	modesAfter                   // between the name and the type
	modesEither
	modesNone // parameters have no direction
)

// parameterStyle is how a dialect writes the list of parameters.
type parameterStyle struct {
	modes modeStyle
	// unnamed is set where a parameter may be its type alone.
	unnamed bool
	// equals is set where = begins a default.
	equals bool
	// variadic is set where VARIADIC is a mode.
	variadic bool
	// longModes is set where INPUT and OUTPUT are modes too.
	longModes bool
	// direction is that of a parameter without a mode; "" for in.
	direction signature.Direction
	// typ reads a type where the dialect's reader is not enough.
	typ func(c *sqltext.Cursor) (signature.Type, bool)
	// after moves past what may stand behind a type, and behind a default.
	after func(c *sqltext.Cursor, p *signature.Parameter)
	// bare is set where nothing but a default may stand behind a type.
	bare bool
	// attributes are the words that end a default, in lower case.
	attributes []string
}

// parameterList reads the parameters behind the opening bracket, up to the
// closing one, and adds them to those of the routine.
func (r *reader) parameterList(c *sqltext.Cursor, rt *signature.Routine, style *parameterStyle) *syntaxError {
	r.parameters = append(r.parameters[:0], rt.Parameters...)
	defer r.keepParameters(rt)
	if c.AcceptOp(')') {
		return nil
	}
	for {
		p, err := r.parameter(c, style)
		if err != nil {
			return err
		}
		p.Position = len(r.parameters) + 1
		r.parameters = append(r.parameters, p)
		if c.AcceptOp(',') {
			continue
		}
		if !c.AcceptOp(')') {
			return r.unexpected(c, "a comma or the ) that closes the parameters")
		}
		return nil
	}
}

func (r *reader) parameter(c *sqltext.Cursor, style *parameterStyle) (signature.Parameter, *syntaxError) {
	p := signature.Parameter{Direction: style.direction, At: r.place(int(c.Peek().Start))}
	if p.Direction == "" {
		p.Direction = signature.In
	}
	if style.modes == modesBefore || style.modes == modesEither {
		mode(c, &p, style)
	}
	if !c.Peek().IsName() {
		return p, r.unexpected(c, "a parameter's name")
	}
	read := r.d.Type
	if style.typ != nil {
		read = style.typ
	}
	first := c.I
	if style.unnamed {
		if t, ok := read(c); ok && endsParameter(c, style) {
			p.Type = t
			return p, r.parameterTail(c, &p, style)
		}
		c.I = first
	}
	p.Name = c.Name(c.Next())
	if style.modes == modesAfter || style.modes == modesEither {
		mode(c, &p, style)
	}
	t, ok := read(c)
	if !ok {
		return p, r.unexpected(c, "the type of "+p.Name)
	}
	p.Type = t
	return p, r.parameterTail(c, &p, style)
}

// endsParameter reports whether nothing of the type is left to come.
func endsParameter(c *sqltext.Cursor, style *parameterStyle) bool {
	t := c.Peek()
	switch t.Kind {
	case sqltext.Punct:
		return t.Op == ',' || t.Op == ')' || t.Op == sqltext.OpAssign || style.equals && t.Op == '='
	case sqltext.Word:
		return t.Kw == sqltext.DEFAULT || t.Kw == sqltext.AS
	}
	return false
}

// mode reads IN, OUT, INOUT, IN OUT and VARIADIC.
func mode(c *sqltext.Cursor, p *signature.Parameter, style *parameterStyle) {
	switch {
	case c.AcceptKw(sqltext.IN), style.longModes && c.AcceptWord("input"):
		p.Direction = signature.In
		if c.AcceptKw(sqltext.OUT) {
			p.Direction = signature.InOut
		}
	case c.AcceptKw(sqltext.OUT), style.longModes && c.AcceptKw(sqltext.OUTPUT):
		p.Direction = signature.Out
	case c.AcceptKw(sqltext.INOUT):
		p.Direction = signature.InOut
	case style.variadic && c.AcceptWord("variadic"):
		p.Direction, p.Variadic = signature.In, true
	}
	if style.modes != modesBefore {
		c.AcceptWord("nocopy")
	}
}

// parameterTail reads what stands behind a parameter's type.
func (r *reader) parameterTail(c *sqltext.Cursor, p *signature.Parameter, style *parameterStyle) *syntaxError {
	if !style.bare {
		notNull(c)
	}
	if style.after != nil {
		style.after(c, p)
	}
	isDefault := c.AcceptKw(sqltext.DEFAULT) || c.AcceptOp(sqltext.OpAssign) || style.equals && c.AcceptOp('=')
	if !isDefault {
		return nil
	}
	first := c.I
	skipExpression(c, style.attributes...)
	if c.I == first {
		return r.unexpected(c, "the default of "+p.Name)
	}
	p.Default = &signature.Default{Text: c.FoldFrom(first)}
	if style.after != nil {
		style.after(c, p)
	}
	return nil
}

// notNull moves past NOT NULL and COLLATE name.
func notNull(c *sqltext.Cursor) {
	if c.AtKw(sqltext.NOT) && c.Ahead(1).Kw == sqltext.NULL {
		c.I += 2
	}
	if c.AcceptKw(sqltext.COLLATE) {
		c.DottedName()
	}
}

// skipExpression moves past an expression, up to a comma or a closing bracket
// that does not belong to it, or to one of the words.
func skipExpression(c *sqltext.Cursor, words ...string) {
	depth := 0
	for !c.Done() {
		t := c.Peek()
		if t.Kind == sqltext.Punct {
			switch t.Op {
			case '(', '[', '{':
				depth++
			case ')', ']', '}':
				if depth == 0 {
					return
				}
				depth--
			case ',':
				if depth == 0 {
					return
				}
			case ';':
				return
			}
		}
		if t.Kind == sqltext.Delimiter || t.Kind == sqltext.BatchEnd {
			return
		}
		if depth == 0 && t.Kind == sqltext.Word {
			for _, w := range words {
				if t.Is(c.Src, w) {
					return
				}
			}
		}
		c.I++
	}
}

// tableOf is what a function gives that returns rows with these columns.
func tableOf(columns []signature.Column, text string) *signature.Returns {
	return &signature.Returns{
		Type: signature.Type{Text: text, Name: "table", Kind: signature.KindTable, Columns: columns},
		Set:  true, Columns: columns,
	}
}

// createTable notes the columns of a table, or of a table type, for the types
// that are anchored to them. The cursor stands on the name.
func (r *reader) createTable(c *sqltext.Cursor, kind signature.Kind) {
	if c.AcceptKw(sqltext.IF) {
		for c.AtKw(sqltext.NOT) || c.AtKw(sqltext.EXISTS) {
			c.I++
		}
	}
	parts := r.names(c)
	if len(parts) == 0 {
		return
	}
	if kind == signature.KindTable && c.AcceptKw(sqltext.AS) && !c.AcceptKw(sqltext.TABLE) {
		return
	}
	if !c.AtOp('(') {
		return
	}
	if cols := r.columnDefinitions(c); len(cols) > 0 {
		r.typeDeclared(parts, signature.Type{Kind: kind, Columns: cols})
	}
}

func (r *reader) typeDeclared(parts []ident, t signature.Type) {
	var d declared
	d.Name, d.Type = parts[len(parts)-1].name, t
	if len(parts) > 1 {
		d.Schema = parts[len(parts)-2].name
	}
	r.file.types = append(r.file.types, d)
}

// createDomain reads name AS type, of a domain, a distinct or an alias type.
func (r *reader) createDomain(c *sqltext.Cursor) {
	parts := r.names(c)
	if len(parts) == 0 {
		return
	}
	c.AcceptKw(sqltext.AS)
	if t, ok := r.d.Type(c); ok {
		if c.AtKw(sqltext.CURSOR) { // AS row CURSOR
			t.Kind = signature.KindCursor
		}
		r.typeDeclared(parts, t)
	}
}
