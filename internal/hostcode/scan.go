package hostcode

import (
	"bytes"
	"encoding/binary"
)

// eightSpaces are eight blanks, read as one number.
const eightSpaces = 0x2020202020202020

// tokenKind is the kind of a token.
type tokenKind uint8

const (
	tokEOF tokenKind = iota
	tokName
	tokNumber
	tokString // a literal without parts
	tokInterp // a literal with expressions inside
	tokChar
	tokOp
	tokRegexp
	tokMarkup // a JSX element with its expressions
	tokNewline
	tokIndent
	tokDedent
)

// Operators of more than one character; those of one are their own byte.
const (
	OpEq       byte = 128 + iota // ==
	OpNe                         // !=
	OpLe                         // <=
	OpGe                         // >=
	OpAnd                        // &&
	OpOr                         // ||
	OpCoalesce                   // ??
	OpInc                        // ++
	OpDec                        // --
	OpArrow                      // -> and =>
	OpScope                      // ::
	OpSafe                       // ?.
	OpAssign                     // += and the like; the operator itself is the token's first byte
	OpIs                         // is, instanceof
	OpAs                         // as
	OpRange                      // ..
	OpEllipsis                   // ...
)

// token is one token; match is the index of the bracket that closes it, for an
// opening bracket that is closed; for a closing one it is 1 more than the index of
// the one it closes.
type token struct {
	start, end int32
	match      int32
	kind       tokenKind
	op         byte
	kw         keyword
}

// keyword is a word that the parser knows.
type keyword uint8

const (
	notKeyword keyword = iota
	kwAbstract
	kwAs
	kwAwait
	kwBreak
	kwCase
	kwCatch
	kwClass
	kwConst
	kwContinue
	kwDefault
	kwDelegate
	kwDo
	kwElse
	kwEnum
	kwExtends
	kwFinal
	kwFinally
	kwFor
	kwForeach
	kwGoto
	kwIf
	kwImport
	kwIn
	kwInstanceof
	kwInterface
	kwIs
	kwLock
	kwNamespace
	kwNew
	kwNull
	kwTrue
	kwFalse
	kwThis
	kwOperator
	kwOut
	kwPackage
	kwReadonly
	kwRecord
	kwRef
	kwReturn
	kwStatic
	kwStruct
	kwSwitch
	kwSynchronized
	kwThrow
	kwTry
	kwUsing
	kwVar
	kwWhen
	kwWhere
	kwWhile
	kwWith
	kwYield
	kwFunction
	kwFn
	kwExport
	kwTypeof // and the other operators that are words
	kwDef
	kwElif
	kwExcept
	kwAnd
	kwOr
	kwNot
	kwUse
	kwEcho
	kwEnd      // what ends a block of the alternative syntax
	kwModifier // public, private, async, override, …
	kwPrimitive
)

// scanner turns source into tokens. Errors do not stop it: a literal that is
// not closed ends at its line, or at the end of the text.
type scanner struct {
	src      []byte
	lang     *Language
	pos      int
	tokens   []token
	open     []int32
	comments []Comment
	// closes is the index, plus 1, of the bracket that the last closing one closed.
	closes int32
	// withs counts the With blocks that are open, in Visual Basic.
	withs int
}

var identStart, identPart [256]bool

func init() {
	for i := range 256 {
		c := byte(i)
		identStart[i] = c >= 'a' && c <= 'z' || c >= 'A' && c <= 'Z' || c == '_' || c == '$' || c >= 0x80
		identPart[i] = identStart[i] || c >= '0' && c <= '9'
	}
}

// scan reads the tokens of src[from:to] into s.tokens.
func (s *scanner) scan(from, to int) {
	if own := s.lang.scan; own != nil {
		own(s, from, to)
		s.closeAll()
		return
	}
	src := s.src[:to]
	s.pos = from
	for s.pos < len(src) {
		c := src[s.pos]
		start := s.pos
		switch {
		case c == ' ' || c == '\t' || c == '\n' || c == '\r' || c == '\f':
			i := start + 1
			for i+8 <= len(src) && binary.LittleEndian.Uint64(src[i:]) == eightSpaces {
				i += 8 // indentation
			}
			for i < len(src) && (src[i] == ' ' || src[i] == '\n') {
				i++
			}
			s.pos = i
			continue
		case identStart[c]:
			if c == '$' && s.tryString(src, start) {
				continue
			}
			i := start + 1
			for i < len(src) && identPart[src[i]] {
				i++
			}
			s.pos = i
			s.add(token{start: int32(start), end: int32(i), kind: tokName, kw: s.lang.keyword(src[start:i])})
			continue
		case c >= '0' && c <= '9' || c == '.' && start+1 < len(src) && src[start+1] >= '0' && src[start+1] <= '9':
			s.number(src)
			s.add(token{start: int32(start), end: int32(s.pos), kind: tokNumber})
			continue
		case c == '/' && start+1 < len(src) && src[start+1] == '/':
			if i := bytes.IndexByte(src[start:], '\n'); i >= 0 {
				s.pos = start + i
			} else {
				s.pos = len(src)
			}
			s.comments = append(s.comments, Comment{int32(start), int32(s.pos)})
			continue
		case c == '/' && start+1 < len(src) && src[start+1] == '*':
			if i := bytes.Index(src[start+2:], []byte("*/")); i >= 0 {
				s.pos = start + 2 + i + 2
			} else {
				s.pos = len(src)
			}
			s.comments = append(s.comments, Comment{int32(start), int32(s.pos)})
			continue
		case c == '#' && s.lang.directives && s.lineBegins(start):
			for s.pos < len(src) && src[s.pos] != '\n' {
				s.pos++
			}
			continue
		}
		if (c == '"' || c == '\'' || c == '@' || c == '`') && s.tryString(src, start) {
			continue
		}
		if c == '@' && s.lang.verbatimNames && start+1 < len(src) && identStart[src[start+1]] {
			i := start + 2
			for i < len(src) && identPart[src[i]] {
				i++
			}
			s.pos = i
			s.add(token{start: int32(start + 1), end: int32(i), kind: tokName})
			continue
		}
		s.operator(src, c)
	}
	s.closeAll()
}

// closeAll closes what is still open: it ends with the text.
func (s *scanner) closeAll() {
	for _, i := range s.open {
		s.tokens[i].match = int32(len(s.tokens))
	}
	s.open = s.open[:0]
}

func (s *scanner) tryString(src []byte, start int) bool {
	end, kind := s.lang.stringAt(src, start)
	if end <= start {
		return false
	}
	s.pos = end
	s.add(token{start: int32(start), end: int32(end), kind: kind})
	return true
}

func (s *scanner) lineBegins(at int) bool {
	for i := at - 1; i >= 0 && s.src[i] != '\n'; i-- {
		if s.src[i] != ' ' && s.src[i] != '\t' {
			return false
		}
	}
	return true
}

func (s *scanner) add(t token) { s.tokens = append(s.tokens, t) }

func (s *scanner) number(src []byte) {
	i := s.pos + 1
	for i < len(src) {
		c := src[i]
		if identPart[c] || c == '.' && i+1 < len(src) && src[i+1] >= '0' && src[i+1] <= '9' ||
			(c == '+' || c == '-') && (src[i-1]|0x20) == 'e' && !(src[s.pos] == '0' && (src[s.pos+1]|0x20) == 'x') {
			i++
			continue
		}
		break
	}
	s.pos = i
}

// operator reads an operator or bracket, and matches brackets on the way.
func (s *scanner) operator(src []byte, c byte) {
	start := s.pos
	s.pos++
	t := token{start: int32(start), kind: tokOp, op: c}
	var d byte
	if s.pos < len(src) {
		d = src[s.pos]
	}
	two := func(op byte) { t.op = op; s.pos++ }
	switch c {
	case '(', '[', '{':
		t.match = -1
		s.open = append(s.open, int32(len(s.tokens)))
	case ')', ']', '}':
		s.closes = 0
		s.close(c)
		t.match = s.closes
	case '=':
		if d == '=' {
			two(OpEq)
		} else if d == '>' {
			two(OpArrow)
		}
	case '!':
		if d == '=' {
			two(OpNe)
		}
	case '<':
		if d == '=' {
			two(OpLe)
		}
	case '>':
		if d == '=' {
			two(OpGe)
		}
	case '&':
		if d == '&' {
			two(OpAnd)
			if s.pos < len(src) && src[s.pos] == '=' {
				two(OpAssign)
			}
		} else if d == '=' {
			two(OpAssign)
		}
	case '|':
		if d == '|' {
			two(OpOr)
			if s.pos < len(src) && src[s.pos] == '=' {
				two(OpAssign)
			}
		} else if d == '=' {
			two(OpAssign)
		}
	case '?':
		if d == '?' {
			two(OpCoalesce)
			if s.pos < len(src) && src[s.pos] == '=' {
				two(OpAssign)
			}
		} else if d == '.' && !(s.pos+1 < len(src) && src[s.pos+1] >= '0' && src[s.pos+1] <= '9') {
			two(OpSafe)
		}
	case '+':
		if d == '+' {
			two(OpInc)
		} else if d == '=' {
			two(OpAssign)
		}
	case '-':
		if d == '-' {
			two(OpDec)
		} else if d == '=' {
			two(OpAssign)
		} else if d == '>' {
			two(OpArrow)
		}
	case ':':
		if d == ':' {
			two(OpScope)
		}
	case '*', '/', '%', '^':
		if d == '=' {
			two(OpAssign)
		}
	case '.':
		if d == '.' {
			two(OpRange)
			if s.pos < len(src) && src[s.pos] == '.' {
				two(OpEllipsis)
			}
		}
	}
	t.end = int32(s.pos)
	s.add(t)
}

// close matches a closing bracket with the nearest open one of its kind. One
// that closes a brace closes what is open inside it too; a stray one is passed over.
func (s *scanner) close(c byte) {
	var opener byte
	switch c {
	case ')':
		opener = '('
	case ']':
		opener = '['
	default:
		opener = '{'
	}
	for i := len(s.open) - 1; i >= 0; i-- {
		op := s.tokens[s.open[i]].op
		if op == opener {
			s.tokens[s.open[i]].match = int32(len(s.tokens))
			s.closes = s.open[i] + 1
			for _, k := range s.open[i+1:] { // not closed: they end before this one
				s.tokens[k].match = int32(len(s.tokens) - 1)
			}
			s.open = s.open[:i]
			return
		}
		if op == '{' { // a round or square bracket does not close a block
			return
		}
	}
}
