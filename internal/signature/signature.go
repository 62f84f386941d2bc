// Package signature is the model that everything else in the program speaks:
// what a caller must know of a stored routine, and nothing of how it was read.
//
// A [Catalog] holds the [Routine] values of one database, whatever they were
// read from. A routine has [Parameter] values in order, each with a
// [Direction] and a [Type]; it may return a value or a table ([Returns]), hand
// back a status code ([Status]) and send result sets ([ResultSet]).
//
// The JSON form of a catalog is written by [Catalog.MarshalJSON] through the
// struct tags here, in the order of the fields, and read by [DecodeCatalog].
// Fields that do not apply are null, "", [] or 0 and never missing.
package signature

import "strings"

// RoutineKind tells procedures, functions and macros apart. Triggers and
// aggregates are not routines.
type RoutineKind string

// The kinds of routine.
const (
	Procedure RoutineKind = "procedure"
	Function  RoutineKind = "function"
	Macro     RoutineKind = "macro"
)

// Direction is the way a value travels between caller and routine.
type Direction string

// The directions a parameter can be declared with.
const (
	In    Direction = "in"
	Out   Direction = "out"
	InOut Direction = "inout"
)

// Kind is what a type can carry, named alike for all dialects.
type Kind string

// The kinds of type.
const (
	KindBool        Kind = "bool"
	KindInt8        Kind = "int8"
	KindInt16       Kind = "int16"
	KindInt32       Kind = "int32"
	KindInt64       Kind = "int64"
	KindUint8       Kind = "uint8"
	KindUint16      Kind = "uint16"
	KindUint32      Kind = "uint32"
	KindUint64      Kind = "uint64"
	KindDecimal     Kind = "decimal"
	KindFloat32     Kind = "float32"
	KindFloat64     Kind = "float64"
	KindString      Kind = "string"
	KindBytes       Kind = "bytes"
	KindBits        Kind = "bits"
	KindDate        Kind = "date"
	KindTime        Kind = "time"
	KindTimestamp   Kind = "timestamp"
	KindTimestampTZ Kind = "timestamptz"
	KindInterval    Kind = "interval"
	KindPeriod      Kind = "period"
	KindUUID        Kind = "uuid"
	KindJSON        Kind = "json"
	KindXML         Kind = "xml"
	KindSpatial     Kind = "spatial"
	KindArray       Kind = "array"
	KindCursor      Kind = "cursor"
	KindTable       Kind = "table"
	KindRecord      Kind = "record"
	KindAnchored    Kind = "anchored"
	KindUser        Kind = "user"
	KindAny         Kind = "any"
	KindVoid        Kind = "void"
	KindUnknown     Kind = "unknown"
)

// IsInteger reports whether k is a whole number of some width.
func (k Kind) IsInteger() bool {
	switch k {
	case KindInt8, KindInt16, KindInt32, KindInt64, KindUint8, KindUint16, KindUint32, KindUint64:
		return true
	}
	return false
}

// IsKnown reports whether k says what a value of the type can be. The kinds
// that do not are the open ones: any, user, anchored, unknown and the empty kind.
func (k Kind) IsKnown() bool {
	switch k {
	case "", KindAny, KindUser, KindAnchored, KindUnknown:
		return false
	}
	return true
}

// Type is the type of a parameter, a column or a result.
type Type struct {
	// Text is the type as the DDL writes it, with white space folded and
	// comments left out.
	Text string `json:"text"`
	// Name is the base type in lower case, without its arguments.
	Name string `json:"name"`
	// Kind is what the type can carry.
	Kind Kind `json:"kind"`
	// Length is the declared length in the type's own unit; -1 for no limit by
	// declaration, 0 where none is written and the name implies none.
	Length int `json:"length"`
	// Precision is the number of digits of a decimal, or of fractional seconds.
	Precision int `json:"precision"`
	// Scale is the number of a decimal's digits after the point.
	Scale int `json:"scale"`
	// National is set for character types in the national character set.
	National bool `json:"national"`
	// Columns are those of a table or record type.
	Columns []Column `json:"columns"`
	// Element is the type of an array's elements.
	Element *Type `json:"element"`
}

// Column is a named value of a table, a record or a result set. Type is nil
// where it is not known.
type Column struct {
	Name string `json:"name"`
	Type *Type  `json:"type"`
}

// Default is the value that a parameter takes when a call leaves it out.
type Default struct {
	// Text is the expression as written, without the word or sign before it.
	Text string `json:"text"`
}

// Parameter is one declared parameter.
type Parameter struct {
	// Position counts from 1.
	Position  int       `json:"position"`
	Name      string    `json:"name"`
	Direction Direction `json:"direction"`
	Type      Type      `json:"type"`
	Default   *Default  `json:"default"`
	Variadic  bool      `json:"variadic"`
	// At is where the parameter's declaration begins; it is not part of the
	// catalog's JSON.
	At Place `json:"-"`
}

// Returns is what a function hands back.
type Returns struct {
	Type Type `json:"type"`
	// Set is true where the function returns rows.
	Set     bool     `json:"set"`
	Columns []Column `json:"columns"`
}

// Status is the whole number that a procedure hands back beside its parameters.
type Status struct {
	// Codes are the constant status codes in the body, ascending.
	Codes []int64 `json:"codes"`
	// Open is true where the body also hands back something that is no constant.
	Open bool `json:"open"`
}

// ResultSet is one statement of the body that sends rows to the caller.
type ResultSet struct {
	Columns []Column `json:"columns"`
	Line    int      `json:"line"`
	// Through is the output parameter whose cursor has the rows, "" where they
	// are sent beside the outputs. It is not part of the JSON.
	Through string `json:"-"`
}

// Place is a position in a file. Lines and columns count from 1; a column
// counts characters, not bytes.
type Place struct {
	File   string `json:"file"`
	Line   int    `json:"line"`
	Column int    `json:"column"`
}

// Extent is a place that covers several lines.
type Extent struct {
	File    string `json:"file"`
	Line    int    `json:"line"`
	Column  int    `json:"column"`
	EndLine int    `json:"end_line"`
}

// Place returns where the extent begins.
func (e Extent) Place() Place { return Place{File: e.File, Line: e.Line, Column: e.Column} }

// Routine is one stored procedure or function with all that its callers must know.
type Routine struct {
	Dialect    Dialect     `json:"dialect"`
	Kind       RoutineKind `json:"kind"`
	Schema     string      `json:"schema"`
	Container  string      `json:"container"`
	Name       string      `json:"name"`
	Key        string      `json:"key"`
	Specific   string      `json:"specific"`
	Language   string      `json:"language"`
	Parameters []Parameter `json:"parameters"`
	Returns    *Returns    `json:"returns"`
	Status     *Status     `json:"status"`
	Results    []ResultSet `json:"results"`
	At         Extent      `json:"at"`

	// SendsMore is true where the body may send rows that Results does not
	// list: nested calls, dynamic statements, or a body that was not at hand.
	// It is knowledge about the reading, not part of the contract, and so not
	// part of the JSON.
	SendsMore bool `json:"-"`
	// ParametersHidden is true where the source does not show the parameters: the
	// routine is wrapped. It is not part of the JSON.
	ParametersHidden bool `json:"-"`
	// Quoted says which parts of the name are written in quotes.
	Quoted NameParts `json:"-"`
	// Database names the catalog that the routine came from, where several are
	// in use at once.
	Database string `json:"-"`
}

// NameParts is a set of the parts of a routine's name.
type NameParts uint8

// The parts of a routine's name.
const (
	SchemaPart NameParts = 1 << iota
	ContainerPart
	NamePart
)

// SetKey works the key out from the parts of the name, as the dialect's server
// would store them.
func (r *Routine) SetKey() {
	fold := NamingOf(r.Dialect).Fold
	parts := make([]string, 0, 3)
	for i, p := range [...]string{r.Schema, r.Container, r.Name} {
		if p == "" {
			continue
		}
		if r.Quoted&(1<<i) == 0 {
			p = fold(p)
		}
		parts = append(parts, p)
	}
	r.Key = strings.Join(parts, ".")
}

// QualifiedName is the name with its schema and container, as written.
func (r *Routine) QualifiedName() string {
	parts := make([]string, 0, 3)
	for _, p := range []string{r.Schema, r.Container, r.Name} {
		if p != "" {
			parts = append(parts, p)
		}
	}
	return strings.Join(parts, ".")
}

// Outputs returns the parameters that carry a value back to the caller.
func (r *Routine) Outputs() []*Parameter {
	var outs []*Parameter
	for i := range r.Parameters {
		if r.Parameters[i].Direction != In {
			outs = append(outs, &r.Parameters[i])
		}
	}
	return outs
}

// SentResults returns the result sets that come beside the outputs, and not
// through one of them.
func (r *Routine) SentResults() []ResultSet {
	if NamingOf(r.Dialect).RowsByCursor {
		return nil
	}
	var sent []ResultSet
	for _, rs := range r.Results {
		if rs.Through == "" {
			sent = append(sent, rs)
		}
	}
	return sent
}

// ReturnsValue reports whether the routine is a function with one scalar result.
func (r *Routine) ReturnsValue() bool {
	return r.Returns != nil && !r.Returns.Set && r.Returns.Type.Kind != KindVoid
}

// Problem is something that could not be read, with its place and the reason.
type Problem struct {
	File    string `json:"file"`
	Line    int    `json:"line"`
	Column  int    `json:"column"`
	Message string `json:"message"`
	// Routine is true where what could not be read is the header of a routine.
	Routine bool `json:"-"`
}
