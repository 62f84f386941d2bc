package ddl

import (
	"strconv"
	"strings"

	"ramekin/internal/sqltext"
)

// compiled is the tokens that conditional compilation leaves ("PL/SQL
// conditional compilation"): $IF … $THEN … $ELSIF … $ELSE … $END. An inquiry
// directive that nothing defines is null, as it is for the server.
func compiled(src []byte, tokens []sqltext.Token) []sqltext.Token {
	at := -1
	for i, t := range tokens {
		if t.Kind == sqltext.Word && src[t.Start] == '$' && t.Is(src, "$if") {
			at = i
			break
		}
	}
	if at < 0 {
		return tokens
	}
	out := append([]sqltext.Token{}, tokens[:at]...)
	// Each open $IF: whether its text counts here, and whether a branch was taken.
	type open struct{ outer, active, taken bool }
	var stack []open
	active := true
	for i := at; i < len(tokens); i++ {
		t := tokens[i]
		directive := ""
		if t.Kind == sqltext.Word && src[t.Start] == '$' {
			directive = strings.ToLower(t.Text(src))
		}
		switch directive {
		case "$if", "$elsif":
			end := i + 1
			for end < len(tokens) && !tokens[end].Is(src, "$then") {
				end++
			}
			value := (&condition{src: src, tokens: tokens[i+1 : min(end, len(tokens))]}).eval()
			if directive == "$if" {
				stack = append(stack, open{outer: active})
			} else if len(stack) == 0 {
				continue
			}
			top := &stack[len(stack)-1]
			top.active = value && !top.taken
			top.taken = top.taken || value
			active = top.outer && top.active
			i = end
		case "$else":
			if len(stack) > 0 {
				top := &stack[len(stack)-1]
				active = top.outer && !top.taken
				top.taken = true
			}
		case "$end":
			if len(stack) > 0 {
				active = stack[len(stack)-1].outer
				stack = stack[:len(stack)-1]
			}
		case "$error":
			for i+1 < len(tokens) && !tokens[i+1].Is(src, "$end") {
				i++
			}
			i++
		default:
			if active {
				out = append(out, t)
			}
		}
	}
	return out
}

// condition is a static expression of conditional compilation.
type condition struct {
	src    []byte
	tokens []sqltext.Token
	i      int
	depth  int
}

// static is the value of a part of a condition; known is false for null.
type static struct {
	n     int
	known bool
}

func truth(b bool) static {
	if b {
		return static{1, true}
	}
	return static{0, true}
}

func (c *condition) eval() bool {
	v := c.or()
	return v.known && v.n != 0
}

func (c *condition) word(w string) bool {
	if c.i < len(c.tokens) && c.tokens[c.i].Is(c.src, w) {
		c.i++
		return true
	}
	return false
}

func (c *condition) or() static {
	v := c.and()
	for c.word("or") {
		w := c.and()
		switch {
		case v.known && v.n != 0 || w.known && w.n != 0:
			v = truth(true)
		case !v.known || !w.known:
			v = static{}
		}
	}
	return v
}

func (c *condition) and() static {
	v := c.not()
	for c.word("and") {
		w := c.not()
		switch {
		case v.known && v.n == 0 || w.known && w.n == 0:
			v = truth(false)
		case !v.known || !w.known:
			v = static{}
		}
	}
	return v
}

func (c *condition) not() static {
	const deepest = 100
	if c.depth++; c.depth > deepest {
		return static{}
	}
	if c.word("not") {
		v := c.not()
		return static{1 - v.n, v.known}
	}
	v := c.primary()
	if c.word("is") {
		negated := c.word("not")
		c.word("null")
		return truth(v.known == negated)
	}
	if c.i >= len(c.tokens) || c.tokens[c.i].Kind != sqltext.Punct {
		return v
	}
	op := c.tokens[c.i].Text(c.src)
	switch op {
	case "=", "<", ">", "<=", ">=", "<>", "!=":
	default:
		return v
	}
	c.i++
	w := c.primary()
	if !v.known || !w.known {
		return static{}
	}
	switch op {
	case "=":
		return truth(v.n == w.n)
	case "<":
		return truth(v.n < w.n)
	case ">":
		return truth(v.n > w.n)
	case "<=":
		return truth(v.n <= w.n)
	case ">=":
		return truth(v.n >= w.n)
	}
	return truth(v.n != w.n)
}

// newestVersion is the server that DBMS_DB_VERSION speaks for.
const newestVersion = 23

func (c *condition) primary() static {
	if c.i >= len(c.tokens) {
		return static{}
	}
	t := c.tokens[c.i]
	c.i++
	switch {
	case t.Kind == sqltext.Punct && t.Op == '(':
		v := c.or()
		if c.i < len(c.tokens) && c.tokens[c.i].Op == ')' {
			c.i++
		}
		return v
	case t.Kind == sqltext.Number:
		n, err := strconv.Atoi(t.Text(c.src))
		return static{n, err == nil}
	case t.Is(c.src, "true"):
		return truth(true)
	case t.Is(c.src, "false"):
		return truth(false)
	}
	name := strings.ToLower(t.Text(c.src))
	for c.i+1 < len(c.tokens) && c.tokens[c.i].Kind == sqltext.Punct && c.tokens[c.i].Op == '.' {
		name += "." + strings.ToLower(c.tokens[c.i+1].Text(c.src))
		c.i += 2
	}
	switch {
	case name == "dbms_db_version.version":
		return static{newestVersion, true}
	case name == "dbms_db_version.release":
		return static{0, true}
	case strings.HasPrefix(name, "dbms_db_version.ver_le_"):
		return truth(false)
	}
	return static{}
}
