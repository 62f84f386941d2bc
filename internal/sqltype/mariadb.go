package sqltype

import (
	"maps"
	"strings"

	"ramekin/internal/signature"
	"ramekin/internal/sqltext"
)

// mariaDBKinds are MySQL's types and those of MariaDB alone, the names that
// sql_mode=ORACLE knows included ("Data types", "Synonyms").
var mariaDBKinds = func() map[string]signature.Kind {
	m := maps.Clone(mySQLKinds)
	maps.Copy(m, map[string]signature.Kind{
		"varchar2": signature.KindString, "nvarchar2": signature.KindString, "clob": signature.KindString, "number": signature.KindDecimal,
		"raw": signature.KindBytes, "sys_refcursor": signature.KindCursor, "xmltype": signature.KindString, "ref cursor": signature.KindCursor,
		"row": signature.KindRecord,
	})
	return m
}()

// MariaDB reads a MariaDB type: those of MySQL, ROW (…), TYPE OF and %TYPE.
func MariaDB(c *sqltext.Cursor) (signature.Type, bool) {
	first := c.I
	switch {
	case c.AtWord("row") && c.Ahead(1).Op == '(':
		c.I++
		t := signature.Type{Name: "row", Kind: signature.KindRecord, Columns: rowFields(c)}
		t.Text = c.FoldFrom(first)
		return t, true
	case c.AtWord("row") && c.Ahead(1).Kw == sqltext.TYPE, c.AtKw(sqltext.TYPE) && c.Ahead(1).Is(c.Src, "of"):
		suffix := "%type"
		if c.AcceptWord("row") {
			suffix = "%rowtype"
		}
		c.I += 2
		parts := c.DottedName()
		t := signature.Type{Name: lower(strings.Join(parts, ".")) + suffix, Kind: signature.KindAnchored, Text: c.FoldFrom(first)}
		return t, len(parts) > 0
	}
	if c.Peek().IsName() { // name%TYPE
		probe := *c
		if parts := probe.DottedName(); probe.AtOp('%') && probe.Ahead(1).Kind == sqltext.Word {
			how := lower(c.Text(probe.Ahead(1)))
			c.I = probe.I + 2
			return signature.Type{Name: lower(strings.Join(parts, ".")) + "%" + how, Kind: signature.KindAnchored, Text: c.FoldFrom(first)}, true
		}
	}
	if next := c.Ahead(1); next.Kind == sqltext.Punct && next.Op == '.' && c.Peek().IsName() && c.Ahead(2).IsName() { // mariadb_schema.date
		c.I += 2
		t, ok := readMySQL(c, mariaDBKinds)
		t.Text = c.FoldFrom(first)
		return t, ok
	}
	return readMySQL(c, mariaDBKinds)
}

// rowFields reads ( name type, … ).
func rowFields(c *sqltext.Cursor) []signature.Column {
	if !c.AcceptOp('(') {
		return nil
	}
	var cols []signature.Column
	for c.Peek().IsName() {
		col := signature.Column{Name: c.Name(c.Next())}
		if t, ok := MariaDB(c); ok {
			col.Type = &t
		}
		cols = append(cols, col)
		for c.AtKw(sqltext.NOT) || c.AtKw(sqltext.NULL) {
			c.I++
		}
		if !c.AcceptOp(',') {
			break
		}
	}
	c.AcceptOp(')')
	return cols
}
