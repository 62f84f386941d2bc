package check

import (
	"fmt"
	"strings"

	"ramekin/internal/callsite"
	"ramekin/internal/signature"
)

var defaultMissing = Rule{
	Name: "default-missing", Severity: Error, Group: "Defaults",
	Fires:   "the call asks for the default of a parameter that has none",
	Why:     "The server refuses the call: the parameter was not supplied.",
	Routine: berthRoutine,
	Examples: []Example{
		{"sql", `EXEC berth.assign_berth @vessel_id = DEFAULT, @note = @n OUTPUT;`, `EXEC berth.assign_berth @vessel_id = 7, @note = @n OUTPUT;`},
		{"csharp", `cmd.Parameters.AddWithValue("@vessel_id", null);`, `cmd.Parameters.AddWithValue("@vessel_id", DBNull.Value);`},
	},
	Call: func(p *Pass, c *callsite.Call) {
		if c.Routine == nil || c.Derived {
			return
		}
		for i := range c.Arguments {
			a := &c.Arguments[i]
			q := a.Parameter
			if q == nil || a.Direction == callsite.Return || !required(c.Routine, q) {
				continue
			}
			switch {
			case a.Form == callsite.Default:
				p.Report(c, a.At, i, fmt.Sprintf("%s has no default to ask for.", q.Name), "Pass a value.")
			case a.HostNull && a.Direction == callsite.In && q.Direction == signature.In && c.Conv != nil && c.Conv.NullAsksDefault:
				p.Report(c, a.At, i, fmt.Sprintf("null leaves %s out and asks for its default, which it has not.", q.Name), "Pass DBNull.Value to send a null.")
			}
		}
	},
}

var valueInCallText = Rule{
	Name: "value-in-call-text", Severity: Warning, Group: "Calls built at run time",
	Fires:   "a value is joined into the text of a call instead of passed as an argument",
	Why:     "The value can carry SQL of its own, and every value costs a new plan.",
	Routine: berthRoutine,
	Examples: []Example{
		{"java", `stmt.execute("EXEC berth.assign_berth " + id);`, "cs = conn.prepareCall(\"{call berth.assign_berth(?)}\");\ncs.setInt(1, id);"},
		{"csharp", `cmd.CommandText = $"EXEC berth.assign_berth {id}";`, "cmd.CommandText = \"EXEC berth.assign_berth @id\";\ncmd.Parameters.AddWithValue(\"@id\", id);"},
	},
	Call: func(p *Pass, c *callsite.Call) {
		if len(c.Holes) == 0 || c.State == callsite.Unresolved {
			return
		}
		argument := -1
		for i := range c.Arguments {
			if c.Arguments[i].Form == callsite.Joined {
				argument = i
				break
			}
		}
		mend := "Write a placeholder and bind the value."
		if c.API == "adonet" {
			mend = "Write a parameter in its place and add the value to Parameters."
		}
		p.Report(c, c.Holes[0], argument, "A value is joined into the text of the call.", mend)
	},
}

var unreadableRoutine = Rule{
	Name: "unreadable-routine", Severity: Warning, Group: "Inside a routine",
	Fires:   "a routine's header could not be read; the place and the reason",
	Why:     "Calls of the routine cannot be checked, and the server would most likely refuse the file.",
	Routine: "",
	Examples: []Example{
		{"sql", `CREATE PROCEDURE berth.assign_berth @vessel_id int note nvarchar(200) AS …`, `CREATE PROCEDURE berth.assign_berth @vessel_id int, @note nvarchar(200) AS …`},
	},
	Problem: func(p *Pass, q signature.Problem) {
		if !q.Routine {
			return
		}
		at := callsite.Span{File: q.File, Line: q.Line, Column: q.Column, EndLine: q.Line, EndColumn: q.Column + 1}
		p.Report(nil, at, -1, strings.ToUpper(q.Message[:1])+q.Message[1:]+".", "Mend the declaration; its calls are not checked until then.")
	},
}
