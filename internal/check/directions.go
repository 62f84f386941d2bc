package check

import (
	"fmt"

	"ramekin/internal/callsite"
	"ramekin/internal/signature"
)

const groupDirections = "Directions"

var outNotReceived = Rule{
	Name: "out-not-received", Severity: Error, Group: groupDirections,
	Fires:   "an output parameter is passed as an input, without the OUT or OUTPUT word, registration or direction that the API or dialect needs",
	Why:     "The call runs, and the value silently stays null.",
	Routine: berthRoutine,
	Examples: []Example{
		{"java", "cs.setInt(1, id);\ncs.setString(2, \"\");\ncs.execute();", "cs.setInt(1, id);\ncs.registerOutParameter(2, Types.NVARCHAR);\ncs.execute();"},
		{"csharp", `cmd.Parameters.Add("@note", SqlDbType.NVarChar, 200);`, `cmd.Parameters.Add("@note", SqlDbType.NVarChar, 200).Direction = ParameterDirection.Output;`},
		{"sql", `EXEC berth.assign_berth @vessel_id = 7, @note = @n;`, `EXEC berth.assign_berth @vessel_id = 7, @note = @n OUTPUT;`},
	},
	Call: func(p *Pass, c *callsite.Call) {
		if c.Routine == nil || c.Derived || outOfRange(c) {
			return
		}
		for i := range c.Arguments {
			a := &c.Arguments[i]
			q := a.Parameter
			if q == nil || a.Direction != callsite.In || a.Twice || a.Form != callsite.Bound && a.Form != callsite.Variable {
				continue
			}
			if q.Direction == signature.Out || q.Direction == signature.InOut && !a.OutWord && a.Form == callsite.Variable {
				reason := fmt.Sprintf("%s is an output of %s, but the call passes it as an input: its value never arrives.", q.Name, c.Routine.QualifiedName())
				f := p.Report(c, a.At, i, reason, outMend(c, a, q))
				if c.Host == "sql" && a.Form == callsite.Variable && signature.NamingOf(c.Routine.Dialect).Sigil != 0 {
					at := a.ValueAt
					at.Line, at.Column = at.EndLine, at.EndColumn
					f.Fix = &Fix{Description: "add OUTPUT behind " + a.Value, Edits: []Edit{{at, " OUTPUT"}}}
				}
			}
		}
		for _, s := range c.Strays { // read, but never added
			if s.Name == "" || !s.Read {
				continue
			}
			if q := callsite.ParameterNamed(c.Routine, s.Name); q != nil && q.Direction != signature.In && !c.Open {
				p.Report(c, s.At, -1, fmt.Sprintf("%s is read here, but the call never asks for it.", q.Name), addMend(c, q)).about(q)
			}
		}
	},
}

// outMend says how the API at hand asks for the output q.
func outMend(c *callsite.Call, a *callsite.Argument, q *signature.Parameter) string {
	switch {
	case c.Host == "sql":
		return fmt.Sprintf("Write OUTPUT behind %s.", a.Value)
	case c.API == "jdbc":
		where := fmt.Sprint(a.Index)
		if a.Index == 0 {
			where = `"` + signature.BareName(q.Name) + `"`
		}
		return fmt.Sprintf("Write registerOutParameter(%s, Types.%s).", where, jdbcTypeFor(&q.Type))
	case a.Registered && !a.OutWord:
		return fmt.Sprintf("Write OUTPUT behind %s in the text of the command too.", q.Name)
	case c.API == "adonet":
		return "Set its Direction to ParameterDirection.Output."
	}
	if c.Conv != nil && c.Conv.Registers != "" {
		return fmt.Sprintf("Ask for it as an output: %s.", c.Conv.Registers)
	}
	return "Ask for it as an output."
}

func addMend(c *callsite.Call, q *signature.Parameter) string {
	if c.API == "adonet" {
		return fmt.Sprintf("Add %s with Direction = ParameterDirection.Output.", q.Name)
	}
	return fmt.Sprintf("Register %s before the call runs.", q.Name)
}

// jdbcTypeFor is the member of java.sql.Types for a type.
func jdbcTypeFor(t *signature.Type) string {
	switch t.Kind {
	case signature.KindBool:
		return "BIT"
	case signature.KindInt8, signature.KindUint8:
		return "TINYINT"
	case signature.KindInt16:
		return "SMALLINT"
	case signature.KindInt32, signature.KindUint16:
		return "INTEGER"
	case signature.KindInt64, signature.KindUint32:
		return "BIGINT"
	case signature.KindDecimal, signature.KindUint64:
		return "DECIMAL"
	case signature.KindFloat32:
		return "REAL"
	case signature.KindFloat64:
		return "DOUBLE"
	case signature.KindBytes, signature.KindBits:
		return "VARBINARY"
	case signature.KindDate:
		return "DATE"
	case signature.KindTime:
		return "TIME"
	case signature.KindTimestamp:
		return "TIMESTAMP"
	case signature.KindTimestampTZ:
		return "TIMESTAMP_WITH_TIMEZONE"
	}
	if t.National {
		return "NVARCHAR"
	}
	return "VARCHAR"
}

var inReceivedAsOut = Rule{
	Name: "in-received-as-out", Severity: Error, Group: groupDirections,
	Fires:   "an input parameter is registered or marked as an output",
	Why:     "The server refuses the call, or the value that comes back is the one that was sent, or null.",
	Routine: berthRoutine,
	Examples: []Example{
		{"java", `cs.registerOutParameter(1, Types.INTEGER);`, `cs.setInt(1, id);`},
		{"sql", `EXEC berth.assign_berth @vessel_id = @id OUTPUT, @note = @n OUTPUT;`, `EXEC berth.assign_berth @vessel_id = @id, @note = @n OUTPUT;`},
	},
	Call: func(p *Pass, c *callsite.Call) {
		if c.Routine == nil || c.Derived || outOfRange(c) {
			return
		}
		for i := range c.Arguments {
			a := &c.Arguments[i]
			if a.Parameter == nil || a.Direction == callsite.Return || a.Parameter.Direction != signature.In || !a.Registered && !a.OutWord {
				continue
			}
			mend := "Pass it as an input."
			switch {
			case a.OutWord:
				mend = "Take the OUTPUT word away."
			case c.API == "jdbc" && !a.Valued:
				mend = fmt.Sprintf("Set a value at index %d instead of registering it.", a.Index)
			case c.API == "adonet":
				mend = "Leave its Direction at ParameterDirection.Input."
			}
			p.Report(c, a.At, i, fmt.Sprintf("%s is an input of %s, but the call asks for it as an output.", a.Parameter.Name, c.Routine.QualifiedName()), mend)
		}
	},
}

var inoutHalfBound = Rule{
	Name: "inout-half-bound", Severity: Error, Group: groupDirections,
	Fires:   "an in-out parameter gets a value but no registration, or a registration but no value",
	Why:     "Half of its journey is missing: the routine reads null, or the caller never sees the new value.",
	Routine: "CREATE PROCEDURE shift_sailing(IN p_id INT, INOUT p_minutes INT) …   -- mysql",
	Examples: []Example{
		{"java", "cs.setInt(2, 15);\ncs.execute();\nint now = cs.getInt(2);", "cs.setInt(2, 15);\ncs.registerOutParameter(2, Types.INTEGER);\ncs.execute();\nint now = cs.getInt(2);"},
		{"csharp", `cmd.Parameters.AddWithValue("p_minutes", 15);`, `cmd.Parameters.AddWithValue("p_minutes", 15).Direction = ParameterDirection.InputOutput;`},
	},
	Call: func(p *Pass, c *callsite.Call) {
		if c.Routine == nil || c.Open || outOfRange(c) {
			return
		}
		for i := range c.Arguments {
			a := &c.Arguments[i]
			q := a.Parameter
			if q == nil || q.Direction != signature.InOut || a.Form != callsite.Bound || a.Direction == callsite.Unset {
				continue
			}
			if q.Type.Kind == signature.KindCursor {
				continue // what goes in names the cursor, and may be left to the server
			}
			switch {
			case a.Valued && !a.Registered:
				mend := "Set its Direction to ParameterDirection.InputOutput."
				if c.API == "jdbc" {
					mend = fmt.Sprintf("Write registerOutParameter(%d, Types.%s) too.", a.Index, jdbcTypeFor(&q.Type))
				}
				p.Report(c, a.At, i, fmt.Sprintf("%s is in and out; the call gives it a value but does not ask for the new one.", q.Name), mend)
			case a.Registered && (!a.Valued || a.Direction == callsite.Out):
				mend := "Give it a value, with Direction = ParameterDirection.InputOutput."
				if c.API == "jdbc" {
					mend = fmt.Sprintf("Set a value at index %d too.", a.Index)
				}
				p.Report(c, a.At, i, fmt.Sprintf("%s is in and out; the call asks for its value but gives none.", q.Name), mend)
			}
		}
	},
}

var literalForOut = Rule{
	Name: "literal-for-out", Severity: Error, Group: groupDirections,
	Fires:   "a constant or an expression is passed where a variable must receive an output",
	Why:     "The server refuses the statement, or the output goes nowhere.",
	Routine: berthRoutine,
	Examples: []Example{
		{"sql", `EXEC berth.assign_berth 7, '';`, `EXEC berth.assign_berth 7, @note OUTPUT;`},
		{"java", `conn.prepareCall("{call berth.assign_berth(?, '')}")`, `conn.prepareCall("{call berth.assign_berth(?, ?)}")`},
	},
	Call: func(p *Pass, c *callsite.Call) {
		if c.Routine == nil || c.Derived {
			return
		}
		for i := range c.Arguments {
			a := &c.Arguments[i]
			isValue := a.Form == callsite.Constant || a.Form == callsite.NullText || a.Form == callsite.Computed || a.Form == callsite.Joined
			if !isValue || a.Parameter == nil || a.Parameter.Direction == signature.In && !a.OutWord {
				continue
			}
			if a.Parameter.Direction == signature.In { // told as in-received-as-out
				continue
			}
			mend := "Pass a variable."
			if c.Host != "sql" {
				mend = "Write a placeholder and register it as an output."
			} else if signature.NamingOf(c.Routine.Dialect).Sigil != 0 {
				mend = "Pass a variable with the OUTPUT word."
			}
			p.Report(c, a.At, i, fmt.Sprintf("%s is an output, but the call passes %s, which cannot receive it.", a.Parameter.Name, a.Value), mend)
		}
	},
}

var outNeverRead = Rule{
	Name: "out-never-read", Severity: Note, Group: groupDirections,
	Fires:   "an output is registered and never read",
	Why:     "What the routine has to say is lost: often the message that tells why it refused.",
	Routine: berthRoutine,
	Examples: []Example{
		{"java", "cs.registerOutParameter(2, Types.NVARCHAR);\ncs.execute();", "cs.registerOutParameter(2, Types.NVARCHAR);\ncs.execute();\nString note = cs.getString(2);"},
		{"sql", "DECLARE @n nvarchar(200);\nEXEC berth.assign_berth 7, @n OUTPUT;", "DECLARE @n nvarchar(200);\nEXEC berth.assign_berth 7, @n OUTPUT;\nSELECT @n AS note;"},
	},
	Call: func(p *Pass, c *callsite.Call) {
		if c.Routine == nil || c.Escaped || !c.Executed || c.Open || outOfRange(c) {
			return
		}
		for i := range c.Arguments {
			a := &c.Arguments[i]
			if a.Parameter == nil || a.Parameter.Direction == signature.In || !a.Registered || a.Direction == callsite.Return || len(a.Reads) > 0 || a.Direction == callsite.In {
				continue
			}
			if a.Form != callsite.Bound && a.Form != callsite.Variable {
				continue
			}
			p.Report(c, a.At, i, fmt.Sprintf("The output %s is asked for and never read.", a.Parameter.Name), "Read it after the call, or say in a comment why not.")
		}
	},
}

var outReadTooEarly = Rule{
	Name: "out-read-too-early", Severity: Error, Group: groupDirections,
	Fires:   "an output or status code is read before the call is executed, or before its result sets are consumed where the client API delivers outputs last",
	Why:     "The value is still null, or the one of the call before.",
	Routine: berthRoutine,
	Examples: []Example{
		{"java", "cs.registerOutParameter(2, Types.NVARCHAR);\nString note = cs.getString(2);\ncs.execute();", "cs.registerOutParameter(2, Types.NVARCHAR);\ncs.execute();\nString note = cs.getString(2);"},
		{"csharp", "using (var r = cmd.ExecuteReader())\n{\n    var n = (string)note.Value;\n}", "using (var r = cmd.ExecuteReader())\n{\n    …\n}\nvar n = (string)note.Value;"},
	},
	Call: func(p *Pass, c *callsite.Call) {
		if c.Open {
			return
		}
		for i := range c.Arguments {
			a := &c.Arguments[i]
			if !a.Registered && a.Direction != callsite.Return {
				continue
			}
			name := "The status code"
			if a.Parameter != nil {
				name = a.Parameter.Name
			} else if a.Direction != callsite.Return {
				continue
			}
			for _, r := range a.Reads {
				switch {
				case r.BeforeCall && (c.Executed || c.Host != "sql" && c.API == "jdbc"):
					p.Report(c, r.At, i, name+" is read before the call runs.", "Read it behind the execute.")
				case r.BeforeRows && c.Conv != nil && c.Conv.OutputsLast:
					p.Report(c, r.At, i, name+" is read while the reader is open; outputs arrive behind the last row.", "Close the reader first.")
				default:
					continue
				}
				break
			}
		}
	},
}
