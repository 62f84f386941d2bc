package callsite

import (
	"strings"

	"ramekin/internal/signature"
	"ramekin/internal/sqlcall"
)

// Resolve ties the calls to the routines of the catalogs in ix. It returns the
// calls without those that turn out to be none.
func Resolve(calls []*Call, ix *signature.Index) []*Call {
	kept := calls[:0:0]
	for _, c := range calls {
		if c.resolve(ix) {
			kept = append(kept, c)
		}
	}
	return kept
}

// Certain returns the calls that are calls whatever the catalogs say.
func Certain(calls []*Call) []*Call {
	kept := calls[:0:0]
	for _, c := range calls {
		if c.Verb != "expression" || c.Host != "sql" && !c.Private || c.certain() {
			kept = append(kept, c)
		}
	}
	return kept
}

func (c *Call) resolve(ix *signature.Index) bool {
	if c.State == Unresolved || len(c.Name) == 0 {
		return true
	}
	found := ix.Find(c.Name, c.Dialect)
	if len(found) == 0 && c.Dialect != "" && c.Host != "sql" {
		found = ix.Find(c.Name, "")
	}
	if c.Verb == "expression" && len(found) == 0 {
		// A name with arguments may be much else; it is told where the text is of an
		// application and the schema one of the catalogs'.
		if c.Host == "sql" || !c.certain() || !ix.HasSchema(c.Name[len(c.Name)-2]) {
			return false
		}
	}
	if len(found) > 1 {
		found = c.fitting(found)
	}
	switch len(found) {
	case 0:
		if c.Bare || c.Private {
			return false
		}
		c.State = Unknown
		c.Reason = "no catalog has a routine of this name"
		if c.IsSystem() {
			c.Reason = "the routine belongs to the server itself"
		}
	case 1:
		if found[0].ParametersHidden {
			c.State = Unresolved
			c.Reason = found[0].QualifiedName() + " is wrapped; its parameters are not known"
			return true
		}
		c.State = Resolved
		c.Routine = found[0]
		if !signature.NamingOf(c.Routine.Dialect).CallRulesKnown && c.Routine.Kind == signature.Function && len(c.Routine.Outputs()) > 0 {
			c.Open = true
			c.OpenReason = "some client libraries take the outputs of a function for its result"
		}
		if c.Bare { // the parameters of a text are not passed to the routine
			c.Arguments = nil
			c.StatusArg = -1
		}
		c.match()
	default:
		c.State = Ambiguous
		c.Candidates = found
		var names []string
		for _, r := range found {
			names = append(names, r.QualifiedName()+" ("+string(r.Dialect)+")")
		}
		c.Reason = "several routines fit: " + strings.Join(names, ", ")
	}
	return true
}

// certain reports whether a name with arguments in an expression is that of a
// stored function whatever the catalogs say: it has a schema, and is no method
// of a value.
func (c *Call) certain() bool {
	if len(c.Name) < 2 || c.IsSystem() || sqlcall.IsBuiltIn(c.Name[len(c.Name)-1]) {
		return false
	}
	name := strings.ToLower(c.Name[len(c.Name)-1])
	switch name {
	case "nodes", "exist", "modify", "extend", "first", "prior", "delete", "tostring", "getvalue", "getclobval", "getstringval", "existsnode", "extract", "writexml":
		return false
	}
	return !strings.HasPrefix(name, "st")
}

// IsSystem reports whether the called routine belongs to the server itself.
func (c *Call) IsSystem() bool {
	if len(c.Name) == 0 {
		return false
	}
	schema := ""
	if len(c.Name) > 1 {
		schema = c.Name[len(c.Name)-2]
	}
	name := c.Name[len(c.Name)-1]
	if c.Dialect != "" {
		return signature.NamingOf(c.Dialect).System(schema, name)
	}
	for _, d := range signature.Dialects() {
		if signature.NamingOf(d).System(schema, name) {
			return true
		}
	}
	return false
}

// fitting keeps the candidates whose parameters the arguments can be for.
func (c *Call) fitting(found []*signature.Routine) []*signature.Routine {
	if c.Open {
		return found
	}
	var fit []*signature.Routine
	for _, r := range found {
		n, least := 0, 0
		named := true
		for _, a := range c.Arguments {
			if a.Direction == Return {
				continue
			}
			n++
			if a.Name != "" && ParameterNamed(r, a.Name) == nil {
				named = false
			}
		}
		for _, p := range r.Parameters {
			if p.Default == nil {
				least++
			}
		}
		if named && n <= len(r.Parameters) && n >= least {
			fit = append(fit, r)
		}
	}
	if len(fit) == 0 {
		return found
	}
	return fit
}

// ParameterNamed finds the parameter that a name means, with or without sigil.
func ParameterNamed(r *signature.Routine, name string) *signature.Parameter {
	bare := signature.BareName(name)
	for i := range r.Parameters {
		if signature.SameName(signature.BareName(r.Parameters[i].Name), bare) {
			return &r.Parameters[i]
		}
	}
	return nil
}

// match ties arguments to parameters: by name where they have one, else by
// position.
func (c *Call) match() {
	seen := map[*signature.Parameter]bool{}
	position := 0
	for i := range c.Arguments {
		a := &c.Arguments[i]
		if a.Direction == Return {
			continue
		}
		if a.Name != "" {
			a.Parameter = ParameterNamed(c.Routine, a.Name)
		} else if position < len(c.Routine.Parameters) {
			a.Parameter = &c.Routine.Parameters[position]
		}
		position++
		if a.Parameter == nil {
			continue
		}
		a.Twice = seen[a.Parameter]
		seen[a.Parameter] = true
		if a.Form == Variable && a.Direction == InOut && !a.OutWord { // by reference
			a.Direction = Direction(a.Parameter.Direction)
			a.Registered = a.Direction != In
		}
	}
}
