package ddl

import (
	"bytes"

	"ramekin/internal/sqltext"
)

// bodyText is the text of a body that stands in a string.
type bodyText struct {
	*reader // places offsets of the text
	src     []byte
	// start and end are where the body stands in src.
	start, end int
}

// within returns the text inside a string token: the file itself where the
// string has no escapes, else a copy without them. It returns nil inside of a
// text that is itself a copy.
func (r *reader) within(t sqltext.Token) *bodyText {
	if r.origin != nil {
		return nil
	}
	start, end, plain := sqltext.Content(r.src, t, r.d.Lexis)
	if plain {
		return &bodyText{r, r.src, start, end}
	}
	inner, origin := undouble(r.src, int(t.Start), int(t.End))
	if len(inner) == 0 {
		return nil
	}
	sub := &reader{d: r.d, src: inner, file: r.file, opts: r.opts, origin: origin, depth: r.depth + 1}
	return &bodyText{sub, inner, 0, len(inner)}
}

// cursorWithin is a cursor over the tokens of a body. Its tokens are good until
// the next body is read.
func (r *reader) cursorWithin(b *bodyText) sqltext.Cursor {
	s := sqltext.NewScanner(b.src[:b.end], r.d.Lexis)
	s.Skip(b.start)
	r.inner = r.inner[:0]
	for t := s.Next(); t.Kind != sqltext.EOF; t = s.Next() {
		r.inner = append(r.inner, t)
	}
	return sqltext.NewCursor(b.src, r.d.Lexis, r.inner)
}

// undouble is the content of the string at src[start:end] with doubled quotes
// undone, and where each byte of it stands in src.
func undouble(src []byte, start, end int) ([]byte, []int32) {
	open := bytes.IndexByte(src[start:end], '\'')
	if open < 0 {
		return nil, nil
	}
	var text []byte
	var origin []int32
	for i := start + open + 1; i < end-1; i++ {
		text = append(text, src[i])
		origin = append(origin, int32(i))
		if src[i] == '\'' {
			i++
		}
	}
	return text, append(origin, int32(end-1))
}
