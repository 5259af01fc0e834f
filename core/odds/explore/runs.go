package explore

import (
	"omphalos/core/program"
)

// A Run is a number of effects of a question that follow each other and differ only in
// what they add, each by the same more than the one before it: the values of a number.
// What passages come to by all of them is a sliding sum over what they had added up.
type Run struct {
	From, Count int // among the Effects
	stride      Vector
	field       *field // one that it moves
	step        int64  // by so much, in units
}

// shortestRun is how many effects make it worth while.
const shortestRun = 4

// Runs returns the runs among the effects of question i, in their order.
func (e *Explorer) Runs(i int) []Run { return e.runs[i] }

func (e *Explorer) findRuns(i int) (list []Run) {
	effects := e.effects[i]
	for from := 0; from+shortestRun <= len(effects); {
		first, stride := &effects[from], apart(&effects[from], &effects[from+1])
		to := from + 1
		for to < len(effects) && alike(first, &effects[to]) && apart(&effects[to-1], &effects[to]) == stride {
			to++
		}
		if f, step := e.moved(first, &effects[from+1]); f != nil && to-from >= shortestRun {
			list = append(list, Run{from, to - from, stride, f, step})
			from = to
		} else {
			from++
		}
	}
	return list
}

// apart is what one effect adds more than another.
func apart(a, b *Effect) Vector { return Vector{b.delta[0] - a.delta[0], b.delta[1] - a.delta[1]} }

// alike tells whether effects do the same beside what they add.
func alike(a, b *Effect) bool {
	return a.class == b.class && a.fed == b.fed && a.Own == b.Own && a.Share == b.Share
}

// moved returns a field to which one effect adds more than another, and how many units.
func (e *Explorer) moved(a, b *Effect) (*field, int64) {
	for k := range e.fields {
		f := &e.fields[k]
		if f.scale == program.None || f.of != asSum && f.of != asStanding {
			continue
		}
		if n := int64(b.adds[f.scale]-a.adds[f.scale]) / f.unit; n != 0 {
			return f, n
		}
	}
	return nil, 0
}

// Along returns where a Vector stands on the line that a run moves passages along, and
// what tells lines apart: the Vector where the line begins.
func (r *Run) Along(v Vector) (line Vector, at int64) {
	n := r.field.get(v) - r.field.low
	at = n / r.step
	if n%r.step != 0 && (n < 0) != (r.step < 0) {
		at--
	}
	return r.Moved(v, -at), at
}

// Moved returns a Vector moved along by so many strides.
func (r *Run) Moved(v Vector, n int64) Vector {
	return Vector{v[0] + uint64(n)*r.stride[0], v[1] + uint64(n)*r.stride[1]}
}
