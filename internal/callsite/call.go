// Package callsite finds the places that call a stored routine and says what
// each passes, argument by argument.
//
// Application code comes as trees of package hostcode. A small evaluator walks
// over the functions and follows texts, whole numbers and the objects of the
// client libraries through variables, fields, branches and helper functions.
// What a library's methods mean is told by an [API], one file a family. SQL
// scripts and routine bodies come from package ddl.
//
// The result is a list of [Call] values, which [Resolve] ties to the routines
// of a catalog.
package callsite

import (
	"strings"

	"ramekin/internal/signature"
)

// Direction is what a call site does with an argument.
type Direction string

// The directions of an argument.
const (
	In     Direction = "in"
	Out    Direction = "out"
	InOut  Direction = "inout"
	Return Direction = "return"
	Unset  Direction = "unset"
)

// State says how far a call is understood.
type State string

// The states of a call.
const (
	Resolved   State = "resolved"   // to exactly one signature
	Unknown    State = "unknown"    // no catalog has the routine
	Ambiguous  State = "ambiguous"  // several fit
	Unresolved State = "unresolved" // not known without running the program
	Named      State = "named"      // the name is known; no catalog was given
)

// Form is what stands in an argument's place.
type Form uint8

// The forms of an argument.
const (
	Bound    Form = iota // a placeholder or a parameter object of the client API
	Variable             // a variable of the script
	Constant             // a literal in the text
	NullText             // NULL in the text
	Default              // the DEFAULT word
	Computed             // an expression
	Joined               // text joined in by the program
)

// Span is an extent in a file.
type Span struct {
	File                             string
	Line, Column, EndLine, EndColumn int
}

// Place returns where the span begins.
func (s Span) Place() signature.Place {
	return signature.Place{File: s.File, Line: s.Line, Column: s.Column}
}

// Convention is what a client API does in its own way, as data of its file.
type Convention struct {
	API string
	// ByName is set where arguments are matched by parameter name.
	ByName bool
	// AddsSigil is set where the API adds a missing sigil to a name.
	AddsSigil bool
	// OutputsLast is set where outputs arrive behind all rows.
	OutputsLast bool
	// NeedsSize is set where an output of variable length must have a size.
	NeedsSize bool
	// NullAsksDefault is set where the host language's null leaves the
	// parameter out, so that the routine takes its default.
	NullAsksDefault bool
	// Registers is how an output is asked for, in the words of a message.
	Registers string
	// Captures is how the status code is asked for, in the words of a message.
	Captures string
	// IndexFrom is the first bind index.
	IndexFrom int
}

// Argument is one argument of a call.
type Argument struct {
	Position  int
	Name      string
	Direction Direction
	Kind      signature.Kind
	Value     string
	Form      Form
	At        Span
	// ValueAt is the extent of the value alone.
	ValueAt Span
	// Index is the bind index of a placeholder, 0 where there is none.
	Index int
	// OutWord is set where OUT or OUTPUT stands in the call's text.
	OutWord bool
	// Registered and Valued tell what the client API was given.
	Registered, Valued bool
	// Explicit is set where the program names the type itself.
	Explicit bool
	// National is set where that type is a national character type.
	National bool
	// Size is the size given; HasSize is false where none is.
	Size    int
	HasSize bool
	// SizeFromValue is set where the API takes the size from the value.
	SizeFromValue bool
	// IsNull is set for a value that is null for certain, HostNull where it is the
	// host language's own null and not the one of the database.
	IsNull, HostNull bool
	// Local is the declared type of a script's variable.
	Local *signature.Type
	// Reads are the places that read the output.
	Reads []Read
	// Twice is set where another argument of the call has the same name or index.
	Twice bool
	// Parameter is the parameter that the argument is for, once resolved.
	Parameter *signature.Parameter
}

// Read is a place that reads an output or a status code.
type Read struct {
	At Span
	// Kind is the type it is read as; Cast is set where another type fails.
	Kind signature.Kind
	Cast bool
	// BeforeCall and BeforeRows tell of a read that comes too early.
	BeforeCall, BeforeRows bool
}

// Comparison is a place that compares a captured status code with a constant.
type Comparison struct {
	Op    string // ==, !=, <, …
	Value int64
	At    Span
	// Handled is set where the other codes have a branch too, or never get past.
	Handled bool
}

// StatusUse is what becomes of a captured status code.
type StatusUse struct {
	Comparisons []Comparison
	// Switch is the switch over the code, where there is one.
	Switch *Span
	// Escapes is set where the code is handed on to somewhere else.
	Escapes bool
}

// ColumnRead is a place that reads a column of a result set, by its name or by
// an index that is written there.
type ColumnRead struct {
	Name    string
	Index   int // counted from the client's IndexFrom
	ByIndex bool
	At      Span
}

// Bind is a value or registration that no placeholder of the call takes, or a
// read of an output that the call does not have.
type Bind struct {
	Name  string
	Index int
	Read  bool
	At    Span
}

// Call is one call site.
type Call struct {
	Host, API string
	At        Span
	// Use is where the text is handed to the client API.
	Use  Span
	Text string
	// Name holds the parts of the routine's name; nil where it is not known.
	Name   []string
	State  State
	Reason string

	Routine    *signature.Routine
	Candidates []*signature.Routine

	Arguments []Argument
	// Open is set where further arguments are made at run time, or out of sight.
	Open       bool
	OpenReason string
	// Derived is set where the parameters are filled in from the server.
	Derived bool

	// Captures is set where the call takes the status code or result;
	// Status is what it does with it.
	Captures    bool
	CaptureAt   Span
	Status      *StatusUse
	StatusArg   int // index in Arguments of the return argument, or -1
	CanCapture  bool
	LostCapture *Span // a ReturnValue parameter beside call text
	CountUsed   *Span // the count of changed rows, used as if it were the status

	Executed    bool
	ReadsRows   bool
	RowsAt      Span
	Columns     []ColumnRead
	RowsEscape  bool
	RowsTaken   bool // INSERT … EXEC
	RowsOfText  bool // the rows that are read may be those of other statements of the text
	Strays      []Bind
	Holes       []Span // values joined into the text
	Verb        string
	Placeholder int // how many placeholders the text has
	Escaped     bool
	Bare        bool // a name without CommandType.StoredProcedure
	Conv        *Convention
	Dialect     signature.Dialect
	// Private is set for a name that the file around declares itself: where no
	// catalog has it, it is private to a package or a block.
	Private bool
	// InRoutine is the routine whose body the call stands in.
	InRoutine *signature.Routine
	Comments  []string
}

// Named is the routine's name at the call site.
func (c *Call) Named() string { return strings.Join(c.Name, ".") }

// StatusWord is "captured", "ignored" or "none".
func (c *Call) StatusWord() string {
	switch {
	case !c.CanCapture || c.Routine != nil && c.Routine.Status == nil && !c.Routine.ReturnsValue():
		return "none"
	case c.Captures && (c.StatusArg < 0 || len(c.Arguments[c.StatusArg].Reads) > 0 || c.Escaped || c.Conv == nil):
		return "captured"
	}
	return "ignored"
}

// ResultsWord is "read", "ignored", "none" or "unknown".
func (c *Call) ResultsWord() string {
	switch {
	case c.RowsOfText:
		return "unknown"
	case c.ReadsRows || c.RowsTaken:
		return "read"
	case c.Routine == nil || c.Escaped:
		return "unknown"
	case len(c.Routine.SentResults()) > 0 || c.Routine.Returns != nil && c.Routine.Returns.Set:
		return "ignored"
	case c.Routine.SendsMore:
		return "unknown"
	}
	return "none"
}
