package check

import (
	"fmt"
	"slices"
	"strconv"
	"strings"

	"ramekin/internal/callsite"
	"ramekin/internal/signature"
)

const groupStatus = "Status codes and results"

const statusRoutine = "CREATE PROCEDURE berth.assign_berth @vessel_id int AS … RETURN 40 … RETURN 41 … RETURN 0"

// tellsCodes reports whether a routine hands back more than one status code.
func tellsCodes(r *signature.Routine) bool {
	if r == nil || r.Status == nil {
		return false
	}
	n := len(r.Status.Codes)
	return n > 1 || n == 1 && r.Status.Open
}

func codesText(r *signature.Routine) string {
	var words []string
	for _, c := range r.Status.Codes {
		words = append(words, strconv.FormatInt(c, 10))
	}
	if r.Status.Open {
		words = append(words, "others")
	}
	return list(words, "and")
}

var statusIgnored = Rule{
	Name: "status-ignored", Severity: Warning, Group: groupStatus,
	Fires:   "the routine hands back more than one status code and the call site does not capture it",
	Why:     "The routine refuses, and the program reports success.",
	Routine: statusRoutine,
	Examples: []Example{
		{"java", `conn.prepareCall("{call berth.assign_berth(?)}")`, `conn.prepareCall("{? = call berth.assign_berth(?)}")`},
		{"csharp", `cmd.ExecuteNonQuery();`, "var rc = cmd.Parameters.Add(\"@rc\", SqlDbType.Int);\nrc.Direction = ParameterDirection.ReturnValue;\ncmd.ExecuteNonQuery();\nif ((int)rc.Value != 0) …"},
		{"sql", `EXEC berth.assign_berth @vessel_id = 7;`, `EXEC @rc = berth.assign_berth @vessel_id = 7;`},
	},
	Call: func(p *Pass, c *callsite.Call) {
		if !tellsCodes(c.Routine) || !c.CanCapture || c.Escaped || c.Open || c.RowsTaken || c.LostCapture != nil || c.StatusWord() != "ignored" || shifted(c) >= 0 {
			return
		}
		name := c.Routine.QualifiedName()
		if c.CountUsed != nil && !c.Captures {
			p.Report(c, *c.CountUsed, -1, fmt.Sprintf("What ExecuteNonQuery returns is the count of changed rows, not the status code of %s (%s).", name, codesText(c.Routine)), captureMend(c))
			return
		}
		if c.Captures {
			p.Report(c, c.CaptureAt, c.StatusArg, fmt.Sprintf("The status code of %s (%s) is asked for and never read.", name, codesText(c.Routine)), "Read it after the call and act on it.")
			return
		}
		p.Report(c, c.At, -1, fmt.Sprintf("%s hands back %s, and this call never looks.", name, codesText(c.Routine)), captureMend(c))
	},
}

func captureMend(c *callsite.Call) string {
	name := c.Routine.QualifiedName()
	switch {
	case c.Host == "sql":
		return fmt.Sprintf("Write EXEC @status = %s …, and look at @status.", name)
	case c.API == "jdbc" && c.Verb == "exec":
		return fmt.Sprintf("Write exec ? = %s …, register index 1 as Types.INTEGER and move the others up by one.", name)
	case c.API == "jdbc":
		return fmt.Sprintf("Write {? = call %s(…)}, register index 1 as Types.INTEGER and move the others up by one.", name)
	case c.API == "adonet" && c.Verb == "exec":
		return fmt.Sprintf("Write EXEC @status = %s … and add @status as an output.", name)
	}
	if c.Conv != nil && c.Conv.Captures != "" {
		return c.Conv.Captures
	}
	if c.Verb == "exec" {
		return fmt.Sprintf("Write EXEC @status = %s … and take @status back with the outputs.", name)
	}
	if c.API == "adonet" || c.API == "dapper" {
		return "Add a parameter with Direction = ParameterDirection.ReturnValue and look at its value."
	}
	return fmt.Sprintf("Write {? = call %s(…)} and take the first placeholder back.", name)
}

var statusNotHandled = Rule{
	Name: "status-not-handled", Severity: Warning, Group: groupStatus,
	Fires:   "the captured code is compared, and a code that the routine can hand back falls to no branch",
	Why:     "That refusal is treated as if nothing had happened.",
	Routine: statusRoutine,
	Examples: []Example{
		{"java", "switch (rc) {\n    case 0: done(); break;\n    case 40: full(); break;\n}", "switch (rc) {\n    case 0: done(); break;\n    case 40: full(); break;\n    default: refused(rc);\n}"},
		{"csharp", "if (rc == 40) Full();", "if (rc == 40) Full();\nelse if (rc != 0) Refused(rc);"},
	},
	Call: func(p *Pass, c *callsite.Call) {
		u := c.Status
		if u == nil || u.Escapes || len(u.Comparisons) == 0 || !tellsCodes(c.Routine) {
			return
		}
		seen := map[int64]bool{0: true}
		for _, k := range u.Comparisons {
			if k.Handled || k.Op != "==" {
				return
			}
			seen[k.Value] = true
		}
		var left []string
		for _, code := range c.Routine.Status.Codes {
			if !seen[code] {
				left = append(left, strconv.FormatInt(code, 10))
			}
		}
		if len(left) == 0 {
			return
		}
		at := u.Comparisons[0].At
		if u.Switch != nil {
			at = *u.Switch
			at.EndLine, at.EndColumn = at.Line, at.Column+len("switch")
		}
		verb := "falls"
		if len(left) > 1 {
			verb = "fall"
		}
		p.Report(c, at, c.StatusArg, fmt.Sprintf("%s also hands back %s, which %s to no branch here.", c.Routine.QualifiedName(), list(left, "and"), verb),
			"Add a branch for every other code.")
	},
}

var statusNeverReturned = Rule{
	Name: "status-never-returned", Severity: Warning, Group: groupStatus,
	Fires:   "the captured code is compared with a value that the routine never hands back",
	Why:     "The branch never runs: the code was renumbered, or belongs to another routine.",
	Routine: statusRoutine,
	Examples: []Example{
		{"java", `if (rc == 44) throw new BerthTaken();`, `if (rc == 41) throw new BerthTaken();`},
		{"sql", `IF @rc = 44 PRINT 'taken';`, `IF @rc = 41 PRINT 'taken';`},
	},
	Call: func(p *Pass, c *callsite.Call) {
		if c.Status == nil || c.Routine == nil || c.Routine.Status == nil || c.Routine.Status.Open {
			return
		}
		codes := c.Routine.Status.Codes
		for _, k := range c.Status.Comparisons {
			if k.Op != "==" && k.Op != "!=" || k.Value == 0 || slices.Contains(codes, k.Value) {
				continue
			}
			mend := "It hands back " + codesText(c.Routine) + "."
			if len(codes) == 0 {
				mend = "It has no RETURN with a value, so its status is always 0."
			}
			p.Report(c, k.At, c.StatusArg, fmt.Sprintf("%s never hands back %d.", c.Routine.QualifiedName(), k.Value), mend)
		}
	},
}

var statusNotAvailable = Rule{
	Name: "status-not-available", Severity: Error, Group: groupStatus,
	Fires:   "the call captures a status code or result that this routine, dialect or API does not give",
	Why:     "The server refuses the call, or the variable stays empty and looks like success.",
	Routine: "CREATE PROCEDURE cancel_sailing(IN p_id INT) …   -- mysql",
	Examples: []Example{
		{"java", `conn.prepareCall("{? = call cancel_sailing(?)}")`, `conn.prepareCall("{call cancel_sailing(?)}")`},
		{"csharp", "cmd.CommandText = \"EXEC berth.assign_berth @id\";\ncmd.Parameters.Add(rc); // ReturnValue", "cmd.CommandText = \"berth.assign_berth\";\ncmd.CommandType = CommandType.StoredProcedure;\ncmd.Parameters.Add(rc); // ReturnValue"},
	},
	Call: func(p *Pass, c *callsite.Call) {
		r := c.Routine
		if r == nil {
			return
		}
		if c.LostCapture != nil {
			p.Report(c, *c.LostCapture, -1, "A ReturnValue parameter gets nothing beside the text of a statement; it works only with a routine's name and CommandType.StoredProcedure.",
				fmt.Sprintf("Use the name %s as the text with CommandType.StoredProcedure, or write EXEC @status = %s … and make @status an output.", r.QualifiedName(), r.QualifiedName()))
			return
		}
		if !c.Captures || !signature.NamingOf(r.Dialect).CallRulesKnown {
			return
		}
		at := c.CaptureAt
		if at.Line == 0 {
			at = c.At
		}
		switch {
		case r.Kind == signature.Procedure && !signature.NamingOf(r.Dialect).HasStatus:
			mend := "Take the capture away; what the routine has to tell comes in its outputs."
			if c.Verb == "escape" {
				mend = fmt.Sprintf("Write {call %s(…)} and move every index down by one.", r.QualifiedName())
			}
			p.Report(c, at, c.StatusArg, fmt.Sprintf("%s is a %s procedure; it has no status code to capture.", r.QualifiedName(), r.Dialect), mend)
		case r.Kind == signature.Function && !r.ReturnsValue():
			p.Report(c, at, c.StatusArg, fmt.Sprintf("%s gives no single value to capture.", r.QualifiedName()), "Select from it instead.")
		}
	},
}

var statusTypeMismatch = Rule{
	Name: "status-type-mismatch", Severity: Error, Group: groupStatus,
	Fires:   "the status code or result is captured in a type that cannot carry it",
	Why:     "A status code is a whole number: taken as anything else it fails, or every code but one becomes the same.",
	Routine: statusRoutine,
	Examples: []Example{
		{"java", `cs.registerOutParameter(1, Types.BIT);`, `cs.registerOutParameter(1, Types.INTEGER);`},
		{"sql", `DECLARE @rc bit;`, `DECLARE @rc int;`},
	},
	Call: func(p *Pass, c *callsite.Call) {
		r := c.Routine
		if r == nil || c.StatusArg < 0 || shifted(c) >= 0 {
			return
		}
		a := &c.Arguments[c.StatusArg]
		want, what := signature.KindInt32, "The status code is a whole number"
		if r.Kind == signature.Function {
			if !r.ReturnsValue() {
				return
			}
			want, what = r.Returns.Type.Kind, fmt.Sprintf("%s returns %s", r.QualifiedName(), r.Returns.Type.Text)
		} else if r.Status == nil {
			return
		}
		if !want.IsKnown() {
			return
		}
		if a.Explicit && a.Kind.IsKnown() && !carriesResult(a.Kind, want, c.Host == "sql") {
			p.Report(c, a.At, c.StatusArg, fmt.Sprintf("%s, but the call takes it as %s.", what, a.Kind), "Take it as "+string(want)+".")
			return
		}
		for _, rd := range a.Reads {
			if rd.Cast && rd.Kind.IsKnown() && !carriesResult(rd.Kind, want, false) {
				p.Report(c, rd.At, c.StatusArg, fmt.Sprintf("%s, but it is read as %s.", what, rd.Kind), "Read it as "+string(want)+".")
				return
			}
		}
	},
}

// carriesResult reports whether a status or result of kind want arrives in a
// variable of kind have. A script converts a number to text by itself.
func carriesResult(have, want signature.Kind, script bool) bool {
	if have == want {
		return true
	}
	number := func(k signature.Kind) bool {
		return k.IsInteger() || k == signature.KindDecimal || k == signature.KindFloat32 || k == signature.KindFloat64
	}
	switch {
	case number(want) && number(have):
		return true
	case want == signature.KindBool:
		return number(have) || have == signature.KindString && script
	case have == signature.KindString && (script || !number(want)):
		return want != signature.KindBytes && want != signature.KindTable
	}
	return sameFamily(have, want)
}

var resultSetIgnored = Rule{
	Name: "result-set-ignored", Severity: Note, Group: groupStatus,
	Fires:   "the routine sends rows that the call site never reads",
	Why:     "The rows are made, sent and thrown away; often they held the answer.",
	Routine: "CREATE PROCEDURE deck.list_free @deck int AS SELECT slot, length FROM …",
	Examples: []Example{
		{"java", `cs.executeUpdate();`, `try (ResultSet rs = cs.executeQuery()) { … }`},
		{"csharp", `cmd.ExecuteNonQuery();`, `using var rows = cmd.ExecuteReader();`},
	},
	Call: func(p *Pass, c *callsite.Call) {
		if c.RowsOfText {
			return
		}
		if c.Routine == nil || c.Routine.Kind != signature.Procedure || len(c.Routine.SentResults()) == 0 || !c.Executed || c.Escaped || c.ResultsWord() != "ignored" {
			return
		}
		p.Report(c, c.At, -1, fmt.Sprintf("%s sends rows (%s) that this call never reads.", c.Routine.QualifiedName(), firstColumns(c.Routine)), "Read them, or call a routine that sends none.")
	},
}

func firstColumns(r *signature.Routine) string {
	var names []string
	for i, col := range r.SentResults()[0].Columns {
		if i == 4 {
			names = append(names, "…")
			break
		}
		if col.Name == "" {
			names = append(names, "(no name)")
			continue
		}
		names = append(names, col.Name)
	}
	if len(names) == 0 {
		return "columns not known"
	}
	return strings.Join(names, ", ")
}

var resultSetMissing = Rule{
	Name: "result-set-missing", Severity: Error, Group: groupStatus,
	Fires:   "the call site reads rows, or a column, that the routine does not send",
	Why:     "The client library fails when it runs, or finds nothing and says so.",
	Routine: "CREATE PROCEDURE deck.list_free @deck int AS SELECT slot, length FROM …",
	Examples: []Example{
		{"java", `rs.getInt("slot_no")`, `rs.getInt("slot")`},
		{"java", `rs.getInt(0)`, `rs.getInt(1)`},
		{"csharp", `reader["slot_no"]`, `reader["slot"]`},
	},
	Call: func(p *Pass, c *callsite.Call) {
		if c.RowsOfText {
			return
		}
		r := c.Routine
		if r == nil || r.Kind != signature.Procedure || c.Host == "sql" || r.SendsMore || c.Open || c.Conv == nil || !signature.NamingOf(r.Dialect).CallRulesKnown {
			return
		}
		sent := r.SentResults()
		if len(sent) == 0 {
			if len(r.Results) > 0 {
				return // they come through an output
			}
			if c.ReadsRows && c.RowsAt.Line > 0 {
				p.Report(c, c.RowsAt, -1, fmt.Sprintf("%s sends no rows, but this call reads some.", r.QualifiedName()), "Execute it without a result set"+outputsHint(r)+".")
			}
			return
		}
		have := map[string]bool{}
		var names []string
		most := 0
		for _, rs := range sent {
			if len(rs.Columns) == 0 {
				return
			}
			most = max(most, len(rs.Columns))
			for _, col := range rs.Columns {
				if col.Name == "*" {
					return
				}
				if !have[strings.ToLower(col.Name)] && col.Name != "" {
					names = append(names, col.Name)
				}
				have[strings.ToLower(col.Name)] = true
			}
		}
		for _, col := range c.Columns {
			if col.ByIndex {
				if first := c.Conv.IndexFrom; col.Index < first || col.Index >= first+most {
					reason := fmt.Sprintf("%s sends %s, and %d is the index of none.", r.QualifiedName(), count(most, "column", "columns"), col.Index)
					mend := fmt.Sprintf("Indexes run from %d to %d here.", first, first+most-1)
					if most == 1 {
						mend = fmt.Sprintf("Its index is %d here.", first)
					}
					p.Report(c, col.At, -1, reason, mend)
				}
				continue
			}
			if !have[strings.ToLower(col.Name)] {
				p.Report(c, col.At, -1, fmt.Sprintf("%s sends no column %s.", r.QualifiedName(), col.Name), fmt.Sprintf("It sends %s.", list(names, "and")))
			}
		}
	},
}

func outputsHint(r *signature.Routine) string {
	var names []string
	for _, q := range r.Outputs() {
		names = append(names, q.Name)
	}
	if len(names) == 0 {
		return ""
	}
	return "; what it tells comes in " + list(names, "and")
}
