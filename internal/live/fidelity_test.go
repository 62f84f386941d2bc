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
