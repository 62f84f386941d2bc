package check

import (
	"bytes"
	"fmt"
	"regexp"
	"strings"

	"ramekin/internal/signature"
)

// Suppression is a comment that silences rules on its line and the next.
type Suppression struct {
	File   string
	Line   int
	Column int
	Rules  []string
	Reason string
	used   bool
}

// The comment forms of every host: //, --, #, /* */, ' and the star of a block.
var suppressionForm = regexp.MustCompile(`(?://|--|/\*|#|'|\*)\s*ramekin:\s*allow\s+([a-z][a-z-]*(?:\s*,\s*[a-z][a-z-]*)*)\s*(?:--\s*(.*?))?\s*(?:\*/)?\s*$`)

// Suppressions finds the suppression comments in the text of a file.
func Suppressions(file string, text []byte) []*Suppression {
	const mark = "ramekin:"
	if !bytes.Contains(text, []byte(mark)) {
		return nil
	}
	var out []*Suppression
	for i, line := range bytes.Split(text, []byte("\n")) {
		if !bytes.Contains(line, []byte(mark)) {
			continue
		}
		m := suppressionForm.FindSubmatchIndex(bytes.TrimRight(line, "\r"))
		if m == nil {
			continue
		}
		s := &Suppression{File: file, Line: i + 1, Column: len([]rune(string(line[:m[0]]))) + 1}
		for _, r := range strings.Split(string(line[m[2]:m[3]]), ",") {
			s.Rules = append(s.Rules, strings.TrimSpace(r))
		}
		if m[4] >= 0 {
			s.Reason = string(line[m[4]:m[5]])
		}
		out = append(out, s)
	}
	return out
}

// Suppress drops the findings that a comment allows. It returns the rest, how
// many it dropped, and a problem for each comment that suppresses nothing or
// names no rule.
func Suppress(findings []*Finding, suppressions []*Suppression) ([]*Finding, int, []signature.Problem) {
	byFile := map[string][]*Suppression{}
	for _, s := range suppressions {
		byFile[s.File] = append(byFile[s.File], s)
	}
	kept := findings[:0:0]
	for _, f := range findings {
		dropped := false
		for _, s := range byFile[f.At.File] {
			if s.Line != f.At.Line && s.Line != f.At.Line-1 {
				continue
			}
			for _, r := range s.Rules {
				if r == f.Rule.Name {
					s.used, dropped = true, true
				}
			}
		}
		if !dropped {
			kept = append(kept, f)
		}
	}
	var problems []signature.Problem
	for _, s := range suppressions {
		p := signature.Problem{File: s.File, Line: s.Line, Column: s.Column}
		for _, r := range s.Rules {
			if RuleNamed(r) == nil {
				p.Message = fmt.Sprintf("there is no rule %s to allow here: see `ramekin explain`", r)
				problems = append(problems, p)
				s.used = true
			}
		}
		if !s.used {
			p.Message = fmt.Sprintf("this comment allows %s, but suppresses nothing: take it away", strings.Join(s.Rules, ", "))
			problems = append(problems, p)
		}
	}
	return kept, len(findings) - len(kept), problems
}
