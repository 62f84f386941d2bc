package live_test

import (
	"fmt"
	"regexp"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"

	"ramekin/internal/signature"
)

// outline is a routine in one line that does not depend on where it was read.
// typ gives a type as both sides can write it.
func outline(rt *signature.Routine, typ func(t *signature.Type) string) string {
	var b strings.Builder
	fmt.Fprintf(&b, "%s %s(", rt.Kind, strings.TrimPrefix(rt.Key, "public."))
	for i := range rt.Parameters {
		p := &rt.Parameters[i]
		if i > 0 {
			b.WriteString(", ")
		}
		fmt.Fprintf(&b, "%s %s %s", p.Direction, strings.ToLower(p.Name), typ(&p.Type)) // names are folded where they are not quoted
		if p.Variadic {
			b.WriteString(" variadic")
		}
		if p.Default != nil {
			b.WriteString(" =")
		}
	}
	b.WriteString(")")
	if rt.Returns != nil {
		b.WriteString(" returns ")
		if rt.Returns.Set {
			b.WriteString("set of ")
		}
		if rt.Returns.Type.Name == "table" {
			for _, c := range rt.Returns.Columns {
				fmt.Fprintf(&b, "[%s %s]", strings.ToLower(c.Name), typ(c.Type))
			}
		} else {
			b.WriteString(typ(&rt.Returns.Type))
		}
	}
	b.WriteString(" language " + rt.Language)
	for _, rs := range rt.Results {
		b.WriteString(" rows")
		for _, c := range rs.Columns {
			b.WriteString(" " + c.Name)
		}
	}
	return b.String()
}

// differences compares two readings of the same routine, where same says
// whether two types are.
func differences(file, server *signature.Routine, same func(file, server *signature.Type) bool) []string {
	var list []string
	differ := func(what string, f, s any) {
		list = append(list, fmt.Sprintf("%s %s: %s: the file says %v, the server %v", file.Kind, file.Key, what, f, s))
	}
	if file.Kind != server.Kind {
		differ("kind", file.Kind, server.Kind)
	}
	if file.Language != server.Language {
		differ("language", file.Language, server.Language)
	}
	if len(file.Parameters) != len(server.Parameters) {
		differ("parameters", len(file.Parameters), len(server.Parameters))
		return list
	}
	for i := range file.Parameters {
		f, s := &file.Parameters[i], &server.Parameters[i]
		if !strings.EqualFold(f.Name, s.Name) || f.Position != s.Position {
			differ("name", f.Name, s.Name)
		}
		if f.Direction != s.Direction {
			differ("direction of "+f.Name, f.Direction, s.Direction)
		}
		if !same(&f.Type, &s.Type) {
			differ("type of "+f.Name, fmt.Sprintf("%+v", f.Type), fmt.Sprintf("%+v", s.Type))
		}
		if (f.Default == nil) != (s.Default == nil) {
			differ("default of "+f.Name, f.Default, s.Default)
		}
	}
	if (file.Returns == nil) != (server.Returns == nil) {
		differ("result", file.Returns, server.Returns)
	} else if file.Returns != nil && (file.Returns.Set != server.Returns.Set || !same(&file.Returns.Type, &server.Returns.Type)) {
		differ("result", fmt.Sprintf("%+v", file.Returns), fmt.Sprintf("%+v", server.Returns))
	}
	if len(file.Results) != len(server.Results) {
		differ("result sets", file.Results, server.Results)
	} else {
		for i := range file.Results {
			if len(file.Results[i].Columns) != len(server.Results[i].Columns) {
				differ("result set", file.Results[i], server.Results[i])
			}
		}
	}
	return list
}

// explained is a kind of difference that docs/fidelity.md explains.
type explained struct {
	pattern string
	why     string
}

// compare holds what a file says against what the server says, line by line,
// and returns the number of routines that are the same.
func compare(t *testing.T, what string, file, server []string, known []explained) int {
	t.Helper()
	slices.Sort(file)
	slices.Sort(server)
	patterns := make([]*regexp.Regexp, len(known))
	for i, k := range known {
		patterns[i] = regexp.MustCompile(k.pattern)
	}
	isKnown := func(line string) bool {
		return slices.ContainsFunc(patterns, func(p *regexp.Regexp) bool { return p.MatchString(line) })
	}
	same, i, j := 0, 0, 0
	for i < len(file) || j < len(server) {
		switch {
		case j == len(server) || i < len(file) && file[i] < server[j]:
			if line := what + " file: " + file[i]; !isKnown(line) {
				assert.Fail(t, line)
			}
			i++
		case i == len(file) || server[j] < file[i]:
			if line := what + " server: " + server[j]; !isKnown(line) {
				assert.Fail(t, line)
			}
			j++
		default:
			same++
			i++
			j++
		}
	}
	return same
}
