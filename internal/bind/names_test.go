package bind

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"ramekin/internal/signature"
)

func TestWords(t *testing.T) {
	for name, want := range map[string]string{
		"@vessel_id":     "vessel id",
		"vesselId":       "vessel id",
		"VesselID":       "vessel id",
		"HTMLPage":       "html page",
		"p_port":         "port",
		"p_":             "p",
		"in_count":       "count",
		"out_height_cm":  "height cm",
		"P_NAME":         "name",
		"get_URL2Fetch":  "get url2 fetch",
		"a  b-c.d":       "a b c d",
		"2nd_deck":       "n2nd deck",
		"größe_m":        "größe m",
		"___":            "value",
		"":               "value",
		"ALLCAPS":        "allcaps",
		"x":              "x",
		"COUNT(*)":       "count",
		"berth no (new)": "berth no new",
	} {
		assert.Equal(t, want, strings.Join(words(name), " "), name)
	}
}

func TestStyles(t *testing.T) {
	assert.Equal(t, "vesselId", camel("@vessel_id", nil))
	assert.Equal(t, "VesselId", pascal("@vessel_id", nil))
	assert.Equal(t, "VesselID", pascal("@vessel_id", goInitialisms))
	assert.Equal(t, "idOfURL", camel("id_of_url", map[string]bool{"url": true}))
	assert.Equal(t, "x", camel("X", nil))
}

func TestNamer(t *testing.T) {
	n := newNamer(set("class int"), "taken")
	assert.Equal(t, "a", n.name("a"))
	assert.Equal(t, "a2", n.name("a"))
	assert.Equal(t, "a3", n.name("a"))
	assert.Equal(t, "classValue", n.name("class"))
	assert.Equal(t, "classValue2", n.name("class"))
	assert.Equal(t, "taken2", n.name("taken"))
}

func TestQuotedName(t *testing.T) {
	r := signature.Routine{Dialect: signature.SQLServer, Schema: "odd]schema", Name: "fares;2"}
	assert.Equal(t, "[odd]]schema].[fares];2", quotedName(&r))
	r = signature.Routine{Dialect: signature.MySQL, Schema: "a`b", Name: "p q"}
	assert.Equal(t, "`a``b`.`p q`", quotedName(&r))
}

func TestSignatureLines(t *testing.T) {
	r := signature.Routine{Parameters: []signature.Parameter{
		{Name: "@a", Direction: signature.In, Type: signature.Type{Text: "int"}},
		{Name: "@longer", Direction: signature.InOut, Type: signature.Type{Text: "nvarchar(20)"}, Default: &signature.Default{Text: "N'x'"}},
	}, Returns: &signature.Returns{Type: signature.Type{Text: "TABLE (a\n int)"}}}
	assert.Equal(t, []string{
		"@a       in     int",
		"@longer  inout  nvarchar(20)  = N'x'",
		"returns TABLE (a int)",
	}, signatureLines(&r))
}

func TestLiterals(t *testing.T) {
	assert.Equal(t, `"a\"b\\c\n\t"`, javaString("a\"b\\c\n\t"))
	assert.Equal(t, "`a\"b`", goString(`a"b`))
	assert.Equal(t, "\"a`b\\n\"", goString("a`b\n"))
	assert.Equal(t, "&#64;a &lt;b&gt; &amp; *&#47;", javadoc("@a <b> & */"))
	assert.Equal(t, "MINUS_7", codeName(-7))
	assert.Equal(t, "40", codeName(40))
	assert.Equal(t, "any", goNull("any"))
	assert.Equal(t, "[]byte", goNull("[]byte"))
	assert.Equal(t, "sql.Null[int32]", goNull("int32"))
}

func TestTidy(t *testing.T) {
	assert.Equal(t, "a {\n    b\n\n    c\n}\n", string(tidy([]byte("\n\na {\n\n    b  \n\n\n\n    c\n\n}\n\n\n"))))
}

func TestDistinct(t *testing.T) {
	set := func(names ...string) signature.ResultSet {
		var rs signature.ResultSet
		for _, n := range names {
			rs.Columns = append(rs.Columns, signature.Column{Name: n})
		}
		return rs
	}
	got := distinct([]signature.ResultSet{set("a", "b"), set("A", "B"), set("a"), set("a", "b"), set("ab")})
	require.Len(t, got, 3)
	assert.Len(t, got[1].Columns, 1)
	assert.Equal(t, "ab", got[2].Columns[0].Name)
}

func TestEveryKindIsMappedOrRefused(t *testing.T) {
	for _, m := range []typeMap{javaTypes, goTypes} {
		for _, k := range []signature.Kind{signature.KindBool, signature.KindInt64, signature.KindUint64, signature.KindDecimal, signature.KindString, signature.KindBytes, signature.KindDate,
			signature.KindTime, signature.KindTimestamp, signature.KindTimestampTZ, signature.KindUUID, signature.KindJSON, signature.KindXML, signature.KindSpatial, signature.KindAny} {
			assert.Empty(t, m.unsafe("x", &signature.Type{Kind: k}), k)
			assert.NotEmpty(t, m[k].Type, k)
		}
		for _, k := range []signature.Kind{signature.KindTable, signature.KindCursor, signature.KindRecord, signature.KindArray, signature.KindUser, signature.KindAnchored, signature.KindUnknown} {
			assert.NotEmpty(t, m.unsafe("x", &signature.Type{Kind: k, Text: "T"}), k)
		}
		assert.NotContains(t, m[signature.KindDecimal].Type, "loat", "decimals keep their digits")
	}
}
