package sqltext

// Cursor walks over the tokens of one statement or batch. Past the last token
// it stands on one of kind EOF, so a look ahead needs no check.
type Cursor struct {
	Src    []byte
	Lex    *Lexis
	Tokens []Token
	I      int
	end    Token
}

// NewCursor returns a cursor on the first of tokens, which are tokens of src.
func NewCursor(src []byte, lex *Lexis, tokens []Token) Cursor {
	end := Token{Kind: EOF, Start: int32(len(src)), End: int32(len(src))}
	if n := len(tokens); n > 0 {
		end.Start, end.End = tokens[n-1].End, tokens[n-1].End
	}
	return Cursor{Src: src, Lex: lex, Tokens: tokens[:len(tokens):len(tokens)], end: end}
}

// Peek returns the current token.
func (c *Cursor) Peek() Token { return c.At(c.I) }

// Ahead returns the token n places after the current one.
func (c *Cursor) Ahead(n int) Token { return c.At(c.I + n) }

// At returns token i.
func (c *Cursor) At(i int) Token {
	if uint(i) < uint(len(c.Tokens)) {
		return c.Tokens[i]
	}
	return c.end
}

// Done reports whether the cursor stands at the end.
func (c *Cursor) Done() bool { return c.I >= len(c.Tokens) }

// Next returns the current token and moves on.
func (c *Cursor) Next() Token {
	t := c.Peek()
	if c.I < len(c.Tokens) {
		c.I++
	}
	return t
}

// AtKw reports whether the current token is the keyword k.
func (c *Cursor) AtKw(k Keyword) bool { return c.Peek().Kw == k }

// AcceptKw moves past the keyword k where it is the current token.
func (c *Cursor) AcceptKw(k Keyword) bool {
	if c.Peek().Kw == k {
		c.I++
		return true
	}
	return false
}

// AtWord reports whether the current token is the unquoted word lower.
func (c *Cursor) AtWord(lower string) bool { return c.Peek().Is(c.Src, lower) }

// AcceptWord moves past the unquoted word lower where it is the current token.
func (c *Cursor) AcceptWord(lower string) bool {
	if c.AtWord(lower) {
		c.I++
		return true
	}
	return false
}

// AtOp reports whether the current token is the operator op.
func (c *Cursor) AtOp(op byte) bool {
	t := c.Peek()
	return t.Op == op && t.Kind == Punct
}

// AcceptOp moves past the operator op where it is the current token.
func (c *Cursor) AcceptOp(op byte) bool {
	if c.AtOp(op) {
		c.I++
		return true
	}
	return false
}

// SkipParens moves past a bracketed group where one begins here, and reports
// whether it was closed.
func (c *Cursor) SkipParens() bool {
	if !c.AtOp('(') {
		return false
	}
	depth := 0
	for !c.Done() {
		switch t := c.Next(); {
		case t.Kind != Punct:
		case t.Op == '(':
			depth++
		case t.Op == ')':
			if depth--; depth == 0 {
				return true
			}
		}
	}
	return false
}

// Text is what the token says.
func (c *Cursor) Text(t Token) string { return t.Text(c.Src) }

// Name is the name that the token stands for.
func (c *Cursor) Name(t Token) string { return t.Name(c.Src) }

// Slice returns the tokens from first up to last, as far as there are any.
func (c *Cursor) Slice(first, last int) []Token {
	last = min(max(last, 0), len(c.Tokens))
	return c.Tokens[min(max(first, 0), last):last]
}

// FoldFrom is the folded text from token i up to the current one.
func (c *Cursor) FoldFrom(i int) string { return Fold(c.Src, c.Slice(i, c.I)) }

// DottedName reads a name of one or more parts with points between, where
// parts in the middle may be empty, and returns the parts without quotes.
func (c *Cursor) DottedName() []string {
	var parts []string
	if !c.Peek().IsName() {
		return nil
	}
	parts = append(parts, c.Name(c.Next()))
	for c.AtOp('.') {
		n := 1
		for c.Ahead(n).Kind == Punct && c.Ahead(n).Op == '.' {
			n++
		}
		if !c.Ahead(n).IsName() {
			break
		}
		for range n - 1 {
			parts = append(parts, "")
		}
		c.I += n
		parts = append(parts, c.Name(c.Next()))
	}
	return parts
}
