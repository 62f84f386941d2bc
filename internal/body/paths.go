package body

import "strings"

// paths follows which outputs are assigned on every way to the statement at
// hand. It is told where branches, loops and blocks begin and end, and joins
// the ways where they meet.
type paths struct {
	outputs []string
	now     way
	open    []frame
	// unknown is set where a jump makes the ways unknown.
	unknown bool
}

// mostOutputs is how many outputs one word has bits for.
const mostOutputs = 64

// way is a way through the statements up to some place.
type way struct {
	assigned uint64
	dead     bool // nothing comes this way
}

type frameKind uint8

const (
	blockFrame   frameKind = iota
	ifFrame                // may be left without any branch taken
	caseFrame              // an error where no branch fits and there is no ELSE
	loopFrame              // may not be entered at all
	repeatFrame            // runs once at least
	endlessFrame           // ends by leaving it
)

// frame is an open branch, loop or block.
type frame struct {
	kind    frameKind
	label   string
	entry   way
	join    way
	joined  bool
	hasElse bool
	single  bool // governs one statement
}

func (f *frame) meet(w way) {
	switch {
	case w.dead:
	case !f.joined:
		f.join, f.joined = w, true
	default:
		f.join.assigned &= w.assigned
	}
}

// assign notes that output i is assigned here.
func (p *paths) assign(i int) {
	if i < mostOutputs {
		p.now.assigned |= 1 << i
	}
}

func (p *paths) push(kind frameKind, label string) {
	const deepest = 500
	if len(p.open) > deepest {
		p.unknown = true
	}
	p.open = append(p.open, frame{kind: kind, label: label, entry: p.now})
}

func (p *paths) top() *frame {
	if len(p.open) == 0 {
		return nil
	}
	return &p.open[len(p.open)-1]
}

// single marks the innermost frame as one that governs one statement.
func (p *paths) single(is bool) {
	if f := p.top(); f != nil {
		f.single = is
	}
}

func (p *paths) topSingle() bool { f := p.top(); return f != nil && f.single }

func (p *paths) topIf() bool { f := p.top(); return f != nil && f.kind == ifFrame && !f.hasElse }

// branch begins the next branch of the innermost frame.
func (p *paths) branch(isElse bool) {
	f := p.top()
	if f == nil {
		return
	}
	f.meet(p.now)
	f.hasElse = f.hasElse || isElse
	p.now = f.entry
}

// handlers begins the part of a block that handles its errors.
func (p *paths) handlers() {
	if f := p.top(); f != nil {
		f.meet(p.now)
		p.now = way{dead: true}
	}
}

// pop ends the innermost frame.
func (p *paths) pop() {
	f := p.top()
	if f == nil {
		return
	}
	switch f.kind {
	case ifFrame:
		f.meet(p.now)
		if !f.hasElse {
			f.meet(f.entry)
		}
	case loopFrame:
		f.meet(f.entry)
	case endlessFrame:
	default:
		f.meet(p.now)
	}
	p.now = f.join
	p.now.dead = !f.joined
	p.open = p.open[:len(p.open)-1]
}

// leave ends the way here: an error is raised, or the next round begins.
func (p *paths) leave() { p.now.dead = true }

// leaveTo goes to the end of the frame called label, or of the innermost loop.
// It reports whether there is one.
func (p *paths) leaveTo(label string, conditional bool) bool {
	for i := len(p.open) - 1; i >= 0; i-- {
		f := &p.open[i]
		isLoop := f.kind == loopFrame || f.kind == repeatFrame || f.kind == endlessFrame
		if label == "" && isLoop || label != "" && strings.EqualFold(f.label, label) {
			f.meet(p.now)
			p.now.dead = p.now.dead || !conditional
			return true
		}
	}
	p.now.dead = p.now.dead || !conditional
	return false
}

// exit notes a way out of the statements.
func (p *paths) exit(b *Body, offset int) {
	if !p.now.dead && len(p.outputs) > 0 && len(p.outputs) <= mostOutputs {
		e := Exit{Offset: offset}
		for i, name := range p.outputs {
			if p.now.assigned&(1<<i) == 0 {
				e.Missing = append(e.Missing, name)
			}
		}
		b.Exits = append(b.Exits, e)
	}
	p.now.dead = true
}

// finish notes the end of the statements.
func (p *paths) finish(b *Body, offset int) {
	p.exit(b, offset)
	if p.unknown {
		b.Exits = nil
	}
}
