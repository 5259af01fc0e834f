package explore

import (
	"math"
	"math/bits"
	"slices"

	"omphalos/core/decimal"
	"omphalos/core/program"
	"omphalos/core/quiz"
)

// A Vector holds sums and counts side by side in a few bits each, so that what an
// answer adds to all of them is added at once.
type Vector [2]uint64

// Add returns the Vector with what an effect adds.
func (v Vector) Add(f *Effect) Vector { return Vector{v[0] + f.delta[0], v[1] + f.delta[1]} }

type quantity uint8

const (
	asSum quantity = iota
	asLow
	asHigh
	asCount
	asStanding // of a contender beside the others of its step
	asLength   // questions asked
)

// A field is one quantity of a Vector, in units from −offset on.
type field struct {
	of          quantity
	scale       int
	until       int // the last place that asks for it
	unit        int64
	low, high   int64 // the least and the most, in units
	word, shift uint
	mask        uint64
}

func (f *field) get(v Vector) int64 { return int64(v[f.word]>>f.shift&f.mask) + f.low }

func (f *field) put(v *Vector, n int64) {
	v[f.word] = v[f.word]&^(f.mask<<f.shift) | uint64(n-f.low)<<f.shift
}

// add adds n, which may be negative, to a delta. Fields of sums stay within their
// range, so nothing is carried over from one to the next for good.
func (f *field) add(delta *Vector, n int64) { delta[f.word] += uint64(n) << f.shift }

// amount returns what a piece of question i, or having seen it, adds to a field.
func (e *Explorer) amount(f *field, i int, p *piece) int64 {
	q := &e.p.Questions[i]
	if f.until < before(i) || f.scale == program.None && f.of != asLength {
		return 0
	}
	switch f.of {
	case asSum, asStanding:
		return int64(p.adds[f.scale])
	case asCount:
		return p.counts[f.scale]
	case asLength:
		if q.Kind == quiz.Interlude {
			return 0
		}
		return 1
	}
	for _, s := range q.Spans {
		if s.Scale == f.scale && f.of == asLow {
			return int64(s.Low)
		} else if s.Scale == f.scale {
			return int64(s.High)
		}
	}
	return 0
}

// lay chooses the fields, and turns pieces into effects on them.
func (e *Explorer) lay(pieces [][]piece) error {
	grouped := e.standingScales()
	for i, s := range e.p.Scales {
		if e.until[i] < 0 || s.Method == quiz.Formula || slices.Contains(grouped, i) {
			continue
		}
		e.fields = append(e.fields, field{of: asSum, scale: i, until: e.until[i]})
		switch s.Method {
		case quiz.Mean:
			e.fields = append(e.fields, field{of: asCount, scale: i, until: e.until[i]})
		case quiz.Percent:
			e.fields = append(
				e.fields,
				field{of: asLow, scale: i, until: e.until[i]},
				field{of: asHigh, scale: i, until: e.until[i]},
			)
		}
	}
	if e.purpose == forPath {
		e.fields = append(e.fields, field{of: asLength, scale: program.None, until: before(len(pieces))})
	}
	for i := range e.fields {
		e.span(&e.fields[i], pieces)
	}
	if e.lands() {
		for i := range e.p.Steps {
			e.addStanding(&e.p.Steps[i], pieces, grouped)
		}
	}
	if err := e.pack(); err != nil {
		return err
	}
	e.effects = make([][]Effect, len(pieces))
	for i := range pieces {
		e.effects[i] = e.merge(i, pieces[i])
	}
	e.clamp()
	e.begin()
	e.runs = make([][]Run, len(pieces))
	for i := range pieces {
		e.runs[i] = e.findRuns(i)
	}
	return nil
}

// span finds the unit and the ends of a field that starts at 0.
func (e *Explorer) span(f *field, pieces [][]piece) {
	f.unit = 0
	for i := range pieces {
		for k := range pieces[i] {
			f.unit = divisor(f.unit, e.amount(f, i, &pieces[i][k]))
		}
	}
	f.unit = max(f.unit, 1)
	for i := range pieces {
		low, high := e.gain(f, i, pieces[i])
		f.low, f.high = f.low+low, f.high+high
	}
}

// gain returns the least and the most that question i adds, in units; it may not
// be seen, so at most and at least 0.
func (e *Explorer) gain(f *field, i int, pieces []piece) (low, high int64) {
	for k := range pieces {
		n := e.amount(f, i, &pieces[k]) / f.unit
		low, high = min(low, n), max(high, n)
	}
	return low, high
}

// divisor returns the greatest common divisor of a, which is not negative, and b.
func divisor(a, b int64) int64 {
	if b < 0 {
		b = -b
	}
	for b != 0 {
		a, b = b, a%b
	}
	return a
}

// pack gives each field its bits.
func (e *Explorer) pack() error {
	used := [2]uint{}
	for i := range e.fields {
		f := &e.fields[i]
		if f.low < -math.MaxInt32 || f.high > math.MaxInt32 {
			return ErrWide
		}
		n := uint(max(bits.Len64(uint64(f.high-f.low)), 1))
		f.word = 0
		if used[0]+n > 64 {
			f.word = 1
		}
		if used[f.word]+n > 64 {
			return ErrWide
		}
		f.shift, f.mask = used[f.word], 1<<n-1
		used[f.word] += n
	}
	e.masks = make([]Vector, len(e.p.Questions)+1)
	for q := range e.masks {
		for _, f := range e.fields {
			if f.until >= before(q) {
				e.masks[q][f.word] |= f.mask << f.shift
			}
		}
	}
	return nil
}

// begin makes the Vector of passages before the first question.
func (e *Explorer) begin() {
	for i := range e.fields {
		e.fields[i].put(&e.start, 0)
	}
	for i := range e.standings {
		e.standings[i].begin(e)
	}
}

// load puts a Vector into the walk.
func (e *Explorer) load(v Vector) {
	w := &e.w
	w.Moved()
	for i := range e.fields {
		f := &e.fields[i]
		n := f.get(v) * f.unit
		switch f.of {
		case asSum:
			w.Sums[f.scale] = decimal.Decimal(n)
		case asLow:
			w.Lows[f.scale] = decimal.Decimal(n)
		case asHigh:
			w.Highs[f.scale] = decimal.Decimal(n)
		case asCount:
			w.Counts[f.scale] = n
		}
	}
	for i := range e.standings {
		e.standings[i].load(e, v)
	}
	for scale, slot := range e.fedSlots {
		if slot != program.None {
			w.Fed[scale] = e.fed[slot]
		}
	}
}
