package check

import (
	"fmt"
	"strings"

	"ramekin/internal/callsite"
	"ramekin/internal/signature"
)

const groupShape = "The shape of a call"

const berthRoutine = "CREATE PROCEDURE berth.assign_berth @vessel_id int, @note nvarchar(200) OUTPUT AS …"

var unknownRoutine = Rule{
	Name: "unknown-routine", Severity: Error, Group: groupShape,
	Fires:   "the call names a routine that no catalog of this application has",
	Why:     "The server refuses the call when it runs: the routine was renamed, dropped, or the name is misspelled.",
	Routine: berthRoutine,
	Examples: []Example{
		{"java", `conn.prepareCall("{call berth.asign_berth(?, ?)}")`, `conn.prepareCall("{call berth.assign_berth(?, ?)}")`},
		{"csharp", `new SqlCommand("berth.asign_berth", conn) { CommandType = CommandType.StoredProcedure }`, `new SqlCommand("berth.assign_berth", conn) { CommandType = CommandType.StoredProcedure }`},
	},
	Call: func(p *Pass, c *callsite.Call) {
		if c.State != callsite.Unknown || c.IsSystem() || len(p.index.All()) == 0 {
			return
		}
		mend := "Correct the name, or add the file that declares it to the catalog."
		if near := p.index.Nearest(c.Name[len(c.Name)-1]); near != nil {
			mend = fmt.Sprintf("Did you mean %s (%s:%d)?", near.QualifiedName(), near.At.File, near.At.Line)
		}
		p.Report(c, c.At, -1, fmt.Sprintf("No catalog of this application has a routine %s.", c.Named()), mend)
	},
}

var ambiguousCall = Rule{
	Name: "ambiguous-call", Severity: Warning, Group: groupShape,
	Fires:   "more than one routine fits the call equally well",
	Why:     "Which one runs depends on the session's schema or on the server's choice, and can change without a change of the code.",
	Routine: "CREATE PROCEDURE berth.release @id int AS …\nCREATE PROCEDURE deck.release @id int AS …",
	Examples: []Example{
		{"java", `conn.prepareCall("{call release(?)}")`, `conn.prepareCall("{call berth.release(?)}")`},
		{"sql", `EXEC release @id = 4`, `EXEC berth.release @id = 4`},
	},
	Call: func(p *Pass, c *callsite.Call) {
		if c.State != callsite.Ambiguous {
			return
		}
		var names []string
		for _, r := range c.Candidates {
			names = append(names, r.QualifiedName())
		}
		f := p.Report(c, c.At, -1, fmt.Sprintf("%s can mean %s.", c.Named(), list(names, "or")), "Write the schema before the name.")
		for _, r := range c.Candidates {
			f.Related = append(f.Related, Related{r.At.Place(), "declared here: " + r.QualifiedName()})
		}
	},
}

var kindMismatch = Rule{
	Name: "kind-mismatch", Severity: Error, Group: groupShape,
	Fires:   "a function is called as a procedure where the dialect does not allow it, or a procedure is used as an expression",
	Why:     "The server refuses the statement when it runs.",
	Routine: "CREATE FUNCTION fare_for(p_sailing INT) RETURNS DECIMAL(8,2) …   -- mysql",
	Examples: []Example{
		{"java", `conn.prepareCall("{call fare_for(?)}")`, `conn.prepareCall("{? = call fare_for(?)}")`},
		{"sql", `CALL fare_for(12);`, `SELECT fare_for(12);`},
	},
	Call: func(p *Pass, c *callsite.Call) {
		r := c.Routine
		if r == nil || !signature.NamingOf(r.Dialect).CallRulesKnown {
			return
		}
		name := r.QualifiedName()
		if c.Verb == "expression" && r.Kind == signature.Function {
			return
		}
		if c.Verb == "expression" {
			verb := "CALL"
			if signature.NamingOf(r.Dialect).HasStatus {
				verb = "EXEC"
			}
			p.Report(c, c.At, -1, fmt.Sprintf("%s is a procedure; it has no value to stand in an expression.", name), fmt.Sprintf("Call it with %s, and take what it tells from its outputs.", verb))
			return
		}
		if r.Kind != signature.Function {
			return
		}
		switch {
		case r.Returns != nil && r.Returns.Set:
			p.Report(c, c.At, -1, fmt.Sprintf("%s is a function that returns rows; it cannot be called like a procedure.", name),
				fmt.Sprintf("Write SELECT … FROM %s(…).", name))
		case !signature.NamingOf(r.Dialect).CallsFunctions && !c.Captures:
			mend := fmt.Sprintf("Write SELECT %s(…).", name)
			if c.Verb == "escape" {
				mend = fmt.Sprintf("Write {? = call %s(…)} and register the first placeholder, or SELECT %s(…).", name, name)
			}
			p.Report(c, c.At, -1, fmt.Sprintf("%s is a function; %s calls only procedures this way.", name, r.Dialect), mend)
		}
	},
}

// shifted returns the index of a value bound to the status code's own place,
// or -1: every index is then one too low.
func shifted(c *callsite.Call) int {
	if i := c.StatusArg; i >= 0 && i < len(c.Arguments) && c.Conv != nil && c.Conv.IndexFrom == 1 {
		if a := &c.Arguments[i]; a.Valued && !a.Registered {
			return i
		}
	}
	return -1
}

// outOfRange reports whether any bind index of the call is wrong.
func outOfRange(c *callsite.Call) bool {
	if shifted(c) >= 0 {
		return true
	}
	for _, s := range c.Strays {
		if s.Name == "" {
			return true
		}
	}
	return false
}

// countable reports whether the arguments of a call are all in sight.
func countable(c *callsite.Call) bool {
	return c.Routine != nil && !c.Open && !c.Derived
}

var missingArgument = Rule{
	Name: "missing-argument", Severity: Error, Group: groupShape,
	Fires:   "a parameter without a default gets no argument",
	Why:     "The server refuses the call when it runs.",
	Routine: berthRoutine,
	Examples: []Example{
		{"java", `conn.prepareCall("{call berth.assign_berth(?)}")`, `conn.prepareCall("{call berth.assign_berth(?, ?)}")`},
		{"sql", `EXEC berth.assign_berth @vessel_id = 7;`, `EXEC berth.assign_berth @vessel_id = 7, @note = @note OUTPUT;`},
	},
	Call: func(p *Pass, c *callsite.Call) {
		if !countable(c) {
			return
		}
		given := map[*signature.Parameter]bool{}
		meant := map[*signature.Parameter]bool{}
		for i := range c.Arguments {
			a := &c.Arguments[i]
			if a.Parameter != nil {
				given[a.Parameter] = true
			} else if a.Name != "" && a.Direction != callsite.Return {
				if q := nearestParameter(c.Routine, a.Name); q != nil {
					meant[q] = true // told as unknown-parameter
				}
			}
		}
		for i := range c.Routine.Parameters {
			q := &c.Routine.Parameters[i]
			if given[q] || meant[q] || !required(c.Routine, q) {
				continue
			}
			mend := fmt.Sprintf("Pass %s, parameter %d.", Declaration(q), q.Position)
			switch {
			case c.Bare:
				mend = "Set CommandType = CommandType.StoredProcedure: without it the command's parameters are not passed to the routine."
			case c.Conv != nil && !c.Conv.ByName && len(c.Arguments) > 0 && c.Verb != "":
				mend = fmt.Sprintf("Add a placeholder for %s at position %d.", Declaration(q), q.Position)
			}
			p.Report(c, c.At, -1, fmt.Sprintf("%s gets no argument for %s, which has no default.", c.Routine.QualifiedName(), q.Name), mend).about(q)
		}
	},
}

// required reports whether a call must give an argument for q. A table
// parameter that is left out is empty; a type that is not known may be one.
func required(r *signature.Routine, q *signature.Parameter) bool {
	if q.Default != nil || q.Variadic {
		return false
	}
	return !signature.NamingOf(r.Dialect).TablesMayBeLeftOut || q.Type.Kind != signature.KindTable && q.Type.Kind != signature.KindUser
}

var extraArgument = Rule{
	Name: "extra-argument", Severity: Error, Group: groupShape,
	Fires:   "there are more arguments or placeholders than parameters",
	Why:     "The server refuses the call when it runs; often the routine was replaced by one with fewer parameters.",
	Routine: berthRoutine,
	Examples: []Example{
		{"java", `conn.prepareCall("{call berth.assign_berth(?, ?, ?)}")`, `conn.prepareCall("{call berth.assign_berth(?, ?)}")`},
		{"sql", `EXEC berth.assign_berth 7, @note OUTPUT, 3;`, `EXEC berth.assign_berth 7, @note OUTPUT;`},
	},
	Call: func(p *Pass, c *callsite.Call) {
		if c.Routine == nil {
			return
		}
		n, first := 0, -1
		for i := range c.Arguments {
			a := &c.Arguments[i]
			if a.Direction == callsite.Return {
				continue
			}
			n++
			if a.Name == "" && a.Parameter == nil && first < 0 {
				first = i
			}
		}
		if first < 0 {
			return
		}
		want := len(c.Routine.Parameters)
		at := c.Arguments[first].At
		if at.Line == 0 {
			at = c.At
		}
		p.Report(c, at, first, fmt.Sprintf("%s has %s; the call gives %d.", c.Routine.QualifiedName(), count(want, "parameter", "parameters"), n),
			fmt.Sprintf("Take away what stands behind the first %d.", want))
	},
}

// nearestParameter is the parameter that a wrong name most likely means, or nil.
func nearestParameter(r *signature.Routine, name string) *signature.Parameter {
	bare := strings.ToLower(signature.BareName(name))
	plain := plainWord(bare)
	var best *signature.Parameter
	least := len(bare)/3 + 2
	for i := range r.Parameters {
		have := strings.ToLower(signature.BareName(r.Parameters[i].Name))
		d := signature.EditDistance(bare, have)
		if plainWord(have) == plain {
			d = 0
		}
		if d < least {
			best, least = &r.Parameters[i], d
		}
	}
	return best
}

// plainWord is a name without case, underscores, sigils and the usual prefixes.
func plainWord(name string) string {
	s := strings.ToLower(signature.BareName(name))
	for _, prefix := range []string{"p_", "in_", "out_"} {
		if len(s) > len(prefix) {
			s = strings.TrimPrefix(s, prefix)
		}
	}
	return strings.ReplaceAll(s, "_", "")
}

var unknownParameter = Rule{
	Name: "unknown-parameter", Severity: Error, Group: groupShape,
	Fires:   "an argument, or the reading of an output, names a parameter that the routine has not",
	Why:     "The server or the client library refuses the name when the call runs: a misspelling, or an old name.",
	Routine: berthRoutine,
	Examples: []Example{
		{"csharp", `cmd.Parameters.Add("@vesel_id", SqlDbType.Int).Value = id;`, `cmd.Parameters.Add("@vessel_id", SqlDbType.Int).Value = id;`},
		{"sql", `EXEC berth.assign_berth @vessel = 7, @note = @note OUTPUT;`, `EXEC berth.assign_berth @vessel_id = 7, @note = @note OUTPUT;`},
	},
	Call: func(p *Pass, c *callsite.Call) {
		if c.Routine == nil || c.Derived {
			return
		}
		tell := func(at callsite.Span, i int, name, verb string) {
			mend := "Its parameters are " + parameterNames(c.Routine) + "."
			if len(c.Routine.Parameters) == 0 {
				mend = "It has no parameters."
			}
			near := nearestParameter(c.Routine, name)
			if near != nil {
				mend = fmt.Sprintf("Did you mean %s?", near.Name)
			}
			f := p.Report(c, at, i, fmt.Sprintf("%s has no parameter %s, which the call %s.", c.Routine.QualifiedName(), name, verb), mend)
			f.Parameter = name
		}
		for i := range c.Arguments {
			if a := &c.Arguments[i]; a.Name != "" && a.Parameter == nil && a.Direction != callsite.Return {
				tell(a.At, i, a.Name, "passes")
			}
		}
		for _, s := range c.Strays {
			if s.Name == "" || !s.Read || callsite.ParameterNamed(c.Routine, s.Name) != nil {
				continue
			}
			// Where parameters are added out of sight, a name of its own may be the
			// status code's; a misspelling of a parameter's is not.
			if !c.Open || nearestParameter(c.Routine, s.Name) != nil {
				tell(s.At, -1, s.Name, "reads")
			}
		}
	},
}

func parameterNames(r *signature.Routine) string {
	var names []string
	for _, q := range r.Parameters {
		names = append(names, q.Name)
	}
	return list(names, "and")
}

var duplicateArgument = Rule{
	Name: "duplicate-argument", Severity: Error, Group: groupShape,
	Fires:   "the same parameter is given twice",
	Why:     "The server refuses the call when it runs.",
	Routine: berthRoutine,
	Examples: []Example{
		{"csharp", "cmd.Parameters.AddWithValue(\"@vessel_id\", id);\ncmd.Parameters.AddWithValue(\"@vessel_id\", other);", "cmd.Parameters.AddWithValue(\"@vessel_id\", id);"},
		{"sql", `EXEC berth.assign_berth 7, @vessel_id = 8;`, `EXEC berth.assign_berth 7, @note = @note OUTPUT;`},
	},
	Call: func(p *Pass, c *callsite.Call) {
		for i := range c.Arguments {
			if a := &c.Arguments[i]; a.Twice && a.Parameter != nil {
				p.Report(c, a.At, i, fmt.Sprintf("%s is given twice.", a.Parameter.Name), "Take one of the two away.")
			}
		}
	},
}

var positionalAfterNamed = Rule{
	Name: "positional-after-named", Severity: Error, Group: groupShape,
	Fires:   "a positional argument follows a named one where the dialect forbids it",
	Why:     "The server refuses the statement: once one argument is named, all behind it must be.",
	Routine: berthRoutine,
	Examples: []Example{
		{"sql", `EXEC berth.assign_berth @vessel_id = 7, @n OUTPUT;`, `EXEC berth.assign_berth @vessel_id = 7, @note = @n OUTPUT;`},
		{"java", `conn.prepareCall("exec berth.assign_berth @vessel_id = ?, ? output")`, `conn.prepareCall("exec berth.assign_berth @vessel_id = ?, @note = ? output")`},
	},
	Call: func(p *Pass, c *callsite.Call) {
		if c.Verb != "exec" || c.Routine == nil || !signature.NamingOf(c.Routine.Dialect).NamedArguments {
			return
		}
		named := false
		for i := range c.Arguments {
			a := &c.Arguments[i]
			if a.Direction == callsite.Return {
				continue
			}
			if a.Name != "" {
				named = true
			} else if named {
				mend := "Name it too."
				if a.Parameter != nil {
					mend = fmt.Sprintf("Write %s = %s.", a.Parameter.Name, a.Value)
				}
				at, what := a.At, a.Value
				if c.Host != "sql" { // the name is to be added to the text
					at, what = c.At, "A placeholder"
					if a.Parameter != nil {
						mend = fmt.Sprintf("Write %s = ?.", a.Parameter.Name)
					}
				}
				p.Report(c, at, i, fmt.Sprintf("%s stands without a name behind an argument with one.", what), mend)
				return
			}
		}
	},
}

var unsetPlaceholder = Rule{
	Name: "unset-placeholder", Severity: Error, Group: groupShape,
	Fires:   "a placeholder is neither given a value nor registered as an output",
	Why:     "The client library or the server refuses the call when it runs.",
	Routine: berthRoutine,
	Examples: []Example{
		{"java", "cs = conn.prepareCall(\"{call berth.assign_berth(?, ?)}\");\ncs.setInt(1, id);\ncs.execute();", "cs = conn.prepareCall(\"{call berth.assign_berth(?, ?)}\");\ncs.setInt(1, id);\ncs.registerOutParameter(2, Types.NVARCHAR);\ncs.execute();"},
		{"csharp", "cmd.CommandText = \"EXEC berth.assign_berth @id, @note OUTPUT\";\ncmd.Parameters.AddWithValue(\"@id\", id);", "cmd.CommandText = \"EXEC berth.assign_berth @id, @note OUTPUT\";\ncmd.Parameters.AddWithValue(\"@id\", id);\ncmd.Parameters.Add(\"@note\", SqlDbType.NVarChar, 200).Direction = ParameterDirection.Output;"},
	},
	Call: func(p *Pass, c *callsite.Call) {
		if c.Routine == nil || c.Open || c.Derived || !c.Executed || outOfRange(c) {
			return
		}
		for i := range c.Arguments {
			a := &c.Arguments[i]
			if a.Direction != callsite.Unset && !(a.Direction == callsite.Return && a.Form == callsite.Bound && !a.Registered && !a.Valued && c.Conv != nil && a.Index > 0) {
				continue
			}
			what := fmt.Sprintf("Placeholder %d", a.Index)
			if a.Value != "" || a.Index == 0 {
				what = "A placeholder"
			}
			reason, mend := what+" is neither given a value nor registered as an output.", ""
			if a.Direction == callsite.Return {
				reason = what + ", which takes the status code, is not registered."
				mend = fmt.Sprintf("Register it: cs.registerOutParameter(%d, Types.INTEGER).", a.Index)
			} else if q := a.Parameter; q != nil {
				reason = fmt.Sprintf("%s, for %s, is neither given a value nor registered as an output.", what, Declaration(q))
				mend = "Set it before the call runs."
				if q.Direction != signature.In {
					mend = "Register it as an output before the call runs."
				}
			}
			p.Report(c, c.At, i, reason, mend)
		}
	},
}

var indexOutOfRange = Rule{
	Name: "index-out-of-range", Severity: Error, Group: groupShape,
	Fires:   "a bind index is 0 where the API counts from 1, past the last placeholder, or shifted by the status code's own place",
	Why:     "The client library refuses the index when it runs; a shifted one puts every value on the wrong parameter.",
	Routine: berthRoutine,
	Examples: []Example{
		{"java", "cs = conn.prepareCall(\"{? = call berth.assign_berth(?, ?)}\");\ncs.setInt(1, id);", "cs = conn.prepareCall(\"{? = call berth.assign_berth(?, ?)}\");\ncs.registerOutParameter(1, Types.INTEGER);\ncs.setInt(2, id);"},
		{"java", "cs = conn.prepareCall(\"{call berth.assign_berth(?, ?)}\");\ncs.setInt(0, id);", "cs = conn.prepareCall(\"{call berth.assign_berth(?, ?)}\");\ncs.setInt(1, id);"},
	},
	Call: func(p *Pass, c *callsite.Call) {
		if i := shifted(c); i >= 0 {
			p.Report(c, c.Arguments[i].At, i, "Index 1 is the place of the status code in this text; the value bound there belongs to the first parameter.",
				"Register index 1 as the status code and move every other index up by one.")
			return
		}
		for _, s := range c.Strays {
			if s.Name != "" {
				continue
			}
			what := "bound"
			if s.Read {
				what = "read"
			}
			reason := fmt.Sprintf("Index %d is %s, but the text has %s.", s.Index, what, count(c.Placeholder, "placeholder", "placeholders"))
			mend := fmt.Sprintf("Use the indexes 1 to %d.", c.Placeholder)
			switch {
			case s.Index <= 0:
				reason = fmt.Sprintf("Index %d is %s, but placeholders are counted from 1.", s.Index, what)
				mend = "Move every index up by one."
			case c.Placeholder == 0:
				mend = "Add the placeholder to the text."
			}
			p.Report(c, s.At, -1, reason, mend)
			return
		}
	},
}

var swappedArguments = Rule{
	Name: "swapped-arguments", Severity: Warning, Group: groupShape,
	Fires:   "the arguments' own names match the parameters' names in another order",
	Why:     "Values of the same type that change places are accepted without a word.",
	Routine: "CREATE PROCEDURE deck.move_vehicle @from_deck int, @to_deck int AS …",
	Examples: []Example{
		{"java", "cs.setInt(1, toDeck);\ncs.setInt(2, fromDeck);", "cs.setInt(1, fromDeck);\ncs.setInt(2, toDeck);"},
		{"sql", `EXEC deck.move_vehicle @to_deck, @from_deck;`, `EXEC deck.move_vehicle @from_deck, @to_deck;`},
	},
	Call: func(p *Pass, c *callsite.Call) {
		if c.Routine == nil || outOfRange(c) {
			return
		}
		for i := range c.Arguments {
			for j := i + 1; j < len(c.Arguments); j++ {
				a, b := &c.Arguments[i], &c.Arguments[j]
				if a.Parameter == nil || b.Parameter == nil || a.Parameter == b.Parameter {
					continue
				}
				x, y := valueName(a.Value), valueName(b.Value)
				if x == "" || y == "" || x == y {
					continue
				}
				if x == plainWord(b.Parameter.Name) && y == plainWord(a.Parameter.Name) {
					p.Report(c, a.At, i, fmt.Sprintf("%s is passed for %s, and %s for %s.", a.Value, a.Parameter.Name, b.Value, b.Parameter.Name), "Swap the two.")
					return
				}
			}
		}
	},
}

// valueName is the name that an argument's value goes by, in plain form: the
// last part of berth.vesselId or getVesselId().
func valueName(v string) string {
	v = strings.TrimSuffix(strings.TrimSpace(v), "()")
	if i := strings.LastIndexAny(v, "."); i >= 0 {
		v = v[i+1:]
	}
	if strings.HasPrefix(v, "get") && len(v) > 3 && v[3] >= 'A' && v[3] <= 'Z' {
		v = v[3:]
	}
	for _, c := range v {
		if c != '_' && c != '@' && (c < '0' || c > '9') && (c < 'A' || c > 'Z') && (c < 'a' || c > 'z') {
			return ""
		}
	}
	return plainWord(v)
}
