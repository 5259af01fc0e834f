package explore

import (
	"slices"

	"omphalos/core/decimal"
	"omphalos/core/program"
	"omphalos/core/quiz"
)

// A standing is how the contenders of a leader step stand beside each other. Only
// the differences decide, so the best of them is 0 and the others are below; those
// that can't come near it any more are all the same, and out. A least score is one
// more contender that nothing is added to.
type standing struct {
	step   *program.Step
	fields []field
	lead   int64
	gain   [][][]int64 // per question, i, j: the most that i can still make up on j
	most   [][]int64   // per question, i: the most of these
}

// standingScales returns the contenders that only one leader step asks for, as
// sums beside the sums of its other contenders.
func (e *Explorer) standingScales() []int {
	var list []int
	if !e.lands() {
		return nil
	}
	for i := range e.p.Steps {
		s := &e.p.Steps[i]
		beside := s.Kind == quiz.LeaderStep && len(s.Contenders) < mostStanding
		for _, c := range s.Contenders {
			scale := &e.p.Scales[c.Scale]
			beside = beside && scale.Method == quiz.Sum && len(scale.Fees) == 0 && e.leads[c.Scale] == 1 &&
				e.alone[c.Scale] &&
				len(e.compared[c.Scale]) == 0
		}
		if !beside {
			continue
		}
		for _, c := range s.Contenders {
			list = append(list, c.Scale)
		}
	}
	return list
}

// addStanding adds the standing of a step whose contenders are grouped.
func (e *Explorer) addStanding(s *program.Step, pieces [][]piece, grouped []int) {
	if len(s.Contenders) == 0 || !slices.Contains(grouped, s.Contenders[0].Scale) {
		return
	}
	st := standing{step: s}
	unit := int64(s.Lead)
	until := before(len(pieces))
	for _, c := range s.Contenders {
		f := field{of: asStanding, scale: c.Scale, until: until}
		e.span(&f, pieces)
		unit = divisor(divisor(unit, f.unit), int64(e.p.Scales[c.Scale].Start))
		st.fields = append(st.fields, f)
	}
	if s.Least != decimal.Min {
		unit = divisor(unit, int64(s.Least))
		st.fields = append(st.fields, field{of: asStanding, scale: program.None, until: until})
	}
	unit = max(unit, 1)
	k := len(st.fields)
	for i := range st.fields {
		st.fields[i].unit = unit
	}
	st.lead = int64(s.Lead) / unit
	st.gain, st.most = make([][][]int64, len(pieces)+1), make([][]int64, len(pieces)+1)
	for q := len(pieces); q >= 0; q-- {
		st.gain[q], st.most[q] = make([][]int64, k), make([]int64, k)
		for i := range k {
			st.gain[q][i] = make([]int64, k)
			for j := range k {
				if q < len(pieces) {
					most := int64(0)
					for p := range pieces[q] {
						piece := &pieces[q][p]
						most = max(most, e.amount(&st.fields[i], q, piece)-e.amount(&st.fields[j], q, piece))
					}
					st.gain[q][i][j] = st.gain[q+1][i][j] + most/unit
				}
				st.most[q][i] = max(st.most[q][i], st.gain[q][i][j])
			}
		}
	}
	for i := range st.fields {
		f := &st.fields[i]
		down, up := int64(0), int64(0)
		for q := range pieces {
			low, high := e.gain(f, q, pieces[q])
			down, up = min(down, low), max(up, high)
		}
		f.low, f.high = down-st.most[0][i]-st.lead-1, up
	}
	e.fields = append(e.fields, st.fields...)
	e.standings = append(e.standings, st)
}

// begin puts the start values of the contenders into the first Vector.
func (st *standing) begin(e *Explorer) {
	first := slices.IndexFunc(
		e.fields,
		func(f field) bool { return f.of == asStanding && f.scale == st.fields[0].scale },
	)
	copy(st.fields, e.fields[first:]) // with their bits
	var at [mostStanding]int64
	for i, f := range st.fields {
		d := st.step.Least
		if f.scale != program.None {
			d = e.p.Scales[f.scale].Start
		}
		at[i] = int64(d) / f.unit
	}
	st.set(0, &e.start, at[:len(st.fields)])
}

// mostStanding is how many contenders are held beside each other.
const mostStanding = 64

func (st *standing) narrow(i int, v *Vector) {
	var at [mostStanding]int64
	for k := range st.fields {
		at[k] = st.fields[k].get(*v)
	}
	st.set(i, v, at[:len(st.fields)])
}

func (st *standing) set(q int, v *Vector, at []int64) {
	best := slices.Max(at)
	for i, n := range at {
		f, gain := &st.fields[i], st.gain[q][i]
		out := false
		for j, other := range at {
			if other-n > gain[j]+st.lead && i != j {
				out = true
				break
			}
		}
		if out {
			f.put(v, -st.most[q][i]-st.lead-1)
		} else {
			f.put(v, n-best)
		}
	}
}

func (st *standing) load(e *Explorer, v Vector) {
	shift := int64(0)
	if last := &st.fields[len(st.fields)-1]; last.scale == program.None {
		shift = int64(st.step.Least) - last.get(v)*last.unit
	}
	for i := range st.fields {
		if f := &st.fields[i]; f.scale != program.None {
			e.w.Sums[f.scale] = decimal.Decimal(shift + f.get(v)*f.unit - int64(e.p.Scales[f.scale].Start))
		}
	}
}
