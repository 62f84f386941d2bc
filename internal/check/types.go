package check

import (
	"fmt"

	"ramekin/internal/callsite"
	"ramekin/internal/signature"
)

const groupTypes = "Types"

// family puts kinds together that convert into each other without loss of meaning.
func family(k signature.Kind) string {
	switch {
	case k.IsInteger(), k == signature.KindDecimal, k == signature.KindFloat32, k == signature.KindFloat64:
		return "number"
	}
	switch k {
	case signature.KindBool, signature.KindBits:
		return "bool"
	case signature.KindString, signature.KindJSON, signature.KindXML:
		return "text"
	case signature.KindDate, signature.KindTimestamp, signature.KindTimestampTZ:
		return "date"
	}
	return string(k)
}

func sameFamily(a, b signature.Kind) bool { return family(a) == family(b) }

// acceptsInput reports whether a value of kind have can be sent for a parameter
// of kind want. Conversions that servers make by themselves are accepted.
func acceptsInput(have, want signature.Kind) bool {
	h, w := family(have), family(want)
	switch {
	case h == w:
		return true
	case h == "text":
		return w != string(signature.KindBytes) && w != string(signature.KindTable) && w != string(signature.KindCursor) && w != string(signature.KindArray)
	case h == "number":
		return w == "bool" || w == "text" || w == string(signature.KindBytes)
	case h == "bool":
		return w == "number" || w == "text"
	case h == "date":
		return w == "text" || w == string(signature.KindTime) && have != signature.KindDate
	case h == string(signature.KindTime):
		return w == "text" || want == signature.KindTimestamp
	case h == string(signature.KindBytes):
		return w == "text" || w == "number" || w == string(signature.KindUUID) || w == string(signature.KindSpatial) || w == "bool"
	case h == string(signature.KindUUID):
		return w == "text" || w == string(signature.KindBytes)
	}
	return false
}

// carriesOutput reports whether an output of kind want arrives in one that is
// registered as have.
func carriesOutput(have, want signature.Kind) bool {
	h, w := family(have), family(want)
	switch {
	case h == w:
		return true
	case h == "text":
		return w != string(signature.KindBytes) && w != string(signature.KindTable) && w != string(signature.KindCursor)
	case w == "bool":
		return h == "number"
	case w == string(signature.KindSpatial), w == string(signature.KindUUID), w == "bits":
		return h == string(signature.KindBytes)
	}
	return false
}

var typeMismatch = Rule{
	Name: "type-mismatch", Severity: Error, Group: groupTypes,
	Fires:   "the bound or registered type cannot carry the parameter's type",
	Why:     "The server or the client library refuses the value when the call runs.",
	Routine: "CREATE PROCEDURE fare.quote @sailing_day date, @total decimal(8,2) OUTPUT AS …",
	Examples: []Example{
		{"java", `cs.registerOutParameter(2, Types.DATE);`, `cs.registerOutParameter(2, Types.DECIMAL);`},
		{"csharp", `cmd.Parameters.Add("@sailing_day", SqlDbType.Int).Value = day;`, `cmd.Parameters.Add("@sailing_day", SqlDbType.Date).Value = day;`},
	},
	Call: func(p *Pass, c *callsite.Call) {
		if c.Routine == nil || outOfRange(c) || c.Derived {
			return
		}
		for i := range c.Arguments {
			a := &c.Arguments[i]
			q := a.Parameter
			if q == nil || a.Direction == callsite.Return || a.Direction == callsite.Unset || a.Twice || !q.Type.Kind.IsKnown() {
				continue
			}
			if a.Kind.IsKnown() && !a.IsNull {
				ok := true
				switch {
				case a.Registered && (a.Explicit || a.Local != nil):
					ok = carriesOutput(a.Kind, q.Type.Kind)
				case a.Form == callsite.Bound || a.Form == callsite.Variable:
					ok = acceptsInput(a.Kind, q.Type.Kind)
				case a.Form == callsite.Constant:
					ok = constantFits(a, q.Type.Kind)
				}
				if !ok {
					verb := "passes"
					if a.Registered {
						verb = "takes it as"
					}
					p.Report(c, a.At, i, fmt.Sprintf("%s is %s, but the call %s %s.", q.Name, q.Type.Text, verb, article(a.Kind)),
						fmt.Sprintf("Use %s.", typeHint(c, &q.Type)))
					continue
				}
			}
			for _, r := range a.Reads {
				if r.Cast && r.Kind.IsKnown() && !castFits(r.Kind, q.Type.Kind) {
					p.Report(c, r.At, i, fmt.Sprintf("%s is %s, but it is read as %s.", q.Name, q.Type.Text, article(r.Kind)), fmt.Sprintf("Read it as %s.", article(q.Type.Kind)))
					break
				}
			}
		}
	},
}

// constantFits judges a literal in a call's text. Servers convert text and
// numbers into much; only what can never be one is told.
func constantFits(a *callsite.Argument, want signature.Kind) bool {
	if a.Kind == signature.KindString {
		return true
	}
	switch want {
	case signature.KindDate, signature.KindTime, signature.KindUUID, signature.KindTimestampTZ:
		return false
	}
	return true
}

// castFits reports whether a cast of a boxed value can succeed: the kinds must
// be near each other.
func castFits(have, want signature.Kind) bool {
	if sameFamily(have, want) {
		return true
	}
	return have == signature.KindBool && family(want) == "number" || family(have) == "number" && want == signature.KindBool
}

func article(k signature.Kind) string {
	switch k {
	case signature.KindInt8, signature.KindInt16, signature.KindInt32, signature.KindInt64, signature.KindUint16, signature.KindUint32, signature.KindUint64, signature.KindUint8:
		return "a whole number"
	case signature.KindDecimal:
		return "a decimal"
	case signature.KindFloat32, signature.KindFloat64:
		return "a binary float"
	case signature.KindString:
		return "text"
	case signature.KindBytes:
		return "bytes"
	case signature.KindBool:
		return "a true or false"
	case signature.KindDate:
		return "a date"
	case signature.KindTime:
		return "a time of day"
	case signature.KindTimestamp, signature.KindTimestampTZ:
		return "a date and time"
	case signature.KindUUID:
		return "a uuid"
	case signature.KindTable:
		return "a table"
	}
	return "a value of kind " + string(k)
}

func typeHint(c *callsite.Call, t *signature.Type) string {
	switch c.API {
	case "jdbc":
		return "Types." + jdbcTypeFor(t)
	case "adonet":
		return "the provider's type for " + t.Text
	}
	return t.Text
}

var sizeMissing = Rule{
	Name: "size-missing", Severity: Error, Group: groupTypes,
	Fires:   "a variable-length output is registered without the size that the API needs",
	Why:     "The client library refuses a size of 0, or cuts the output to the length of the value that was put in.",
	Routine: berthRoutine,
	Examples: []Example{
		{"csharp", `cmd.Parameters.Add("@note", SqlDbType.NVarChar).Direction = ParameterDirection.Output;`, `cmd.Parameters.Add("@note", SqlDbType.NVarChar, 200).Direction = ParameterDirection.Output;`},
		{"csharp", `var p = new SqlParameter("@note", "") { Direction = ParameterDirection.InputOutput };`, `var p = new SqlParameter("@note", SqlDbType.NVarChar, 200) { Direction = ParameterDirection.InputOutput, Value = "" };`},
	},
	Call: func(p *Pass, c *callsite.Call) {
		if c.Routine == nil || c.Conv == nil || c.Derived || !needsSize(c) {
			return
		}
		for i := range c.Arguments {
			a := &c.Arguments[i]
			q := a.Parameter
			if q == nil || !a.Registered || a.HasSize || a.Direction == callsite.Return || a.Form != callsite.Bound || a.Twice || q.Direction == signature.In {
				continue
			}
			if q.Type.Kind != signature.KindString && q.Type.Kind != signature.KindBytes {
				continue
			}
			if a.Kind.IsKnown() && a.Kind != signature.KindString && a.Kind != signature.KindBytes {
				continue
			}
			reason := fmt.Sprintf("The output %s (%s) has no size.", q.Name, q.Type.Text)
			if a.SizeFromValue {
				reason = fmt.Sprintf("The output %s (%s) takes its size from the value that is put in, and is cut to it.", q.Name, q.Type.Text)
			}
			p.Report(c, a.At, i, reason, fmt.Sprintf("Set Size = %d.", wantedSize(q)))
		}
	},
}

// needsSize reports whether the call's client needs sizes: the provider says
// so, or the provider is not known and the server is one whose providers do.
func needsSize(c *callsite.Call) bool {
	if c.API != "adonet" {
		return false
	}
	return c.Conv.NeedsSize || c.Dialect == "" && signature.NamingOf(c.Routine.Dialect).OutputsNeedSize
}

func wantedSize(q *signature.Parameter) int {
	if q.Type.Length != 0 {
		return q.Type.Length
	}
	return 1 // varchar without a length is one character long
}

var sizeMismatch = Rule{
	Name: "size-mismatch", Severity: Warning, Group: groupTypes,
	Fires:   "the size given is smaller than the parameter's, so the value is cut",
	Why:     "Longer values lose their end without a word.",
	Routine: berthRoutine,
	Examples: []Example{
		{"csharp", `cmd.Parameters.Add("@note", SqlDbType.NVarChar, 50).Direction = ParameterDirection.Output;`, `cmd.Parameters.Add("@note", SqlDbType.NVarChar, 200).Direction = ParameterDirection.Output;`},
		{"sql", "DECLARE @n nvarchar(50);\nEXEC berth.assign_berth 7, @n OUTPUT;", "DECLARE @n nvarchar(200);\nEXEC berth.assign_berth 7, @n OUTPUT;"},
	},
	Call: func(p *Pass, c *callsite.Call) {
		if c.Routine == nil || c.Derived {
			return
		}
		for i := range c.Arguments {
			a := &c.Arguments[i]
			q := a.Parameter
			if q == nil || a.Direction == callsite.Return || a.Twice || q.Type.Kind != signature.KindString && q.Type.Kind != signature.KindBytes {
				continue
			}
			have := 0
			switch {
			case a.HasSize:
				have = a.Size
			case a.Local != nil && a.Registered && (a.Local.Kind == signature.KindString || a.Local.Kind == signature.KindBytes):
				have = a.Local.Length
				if have == 0 && signature.NamingOf(c.Routine.Dialect).UnsizedIsOne && a.Local.Text == a.Local.Name && !unbounded(a.Local) {
					have = 1
				}
			}
			if have <= 0 || !smaller(have, q.Type.Length) {
				continue
			}
			want := fmt.Sprint(q.Type.Length)
			if q.Type.Length < 0 {
				want = "max"
			}
			what := "The size " + fmt.Sprint(have)
			mend := fmt.Sprintf("Set the size to %d.", q.Type.Length)
			if a.Local != nil && !a.HasSize {
				what = fmt.Sprintf("The variable %s is %s, which", a.Value, a.Local.Text)
				mend = fmt.Sprintf("Declare %s as %s.", a.Value, q.Type.Text)
			}
			p.Report(c, a.At, i, fmt.Sprintf("%s is smaller than %s of %s: longer values are cut.", what, want, q.Name), mend)
		}
	},
}

func unbounded(t *signature.Type) bool {
	switch t.Name {
	case "text", "ntext", "image", "xml":
		return true
	}
	return false
}

// smaller compares lengths, where -1 has no limit and 0 is not known.
func smaller(have, want int) bool { return want < 0 || want > 0 && have < want }
