package odds

import (
	"slices"

	"omphalos/core/decimal"
	"omphalos/core/program"
	"omphalos/core/quiz"
)

// A Ruler is the scale that sorts respondents: that of the decision's first bands, or the
// first scale with ends that is no money.
type Ruler struct {
	Scale     int             // its position
	Low, High decimal.Decimal // its ends, Low below High
	Cuts      []program.Cut   // of the bands, the first at decimal.Min; nil without bands
}

// RulerOf returns the ruler of a program, and false where no scale has two ends.
func RulerOf(p *program.Program) (Ruler, bool) {
	bounds := BoundsOf(p)
	of := func(scale int, cuts []program.Cut) (Ruler, bool) {
		b := bounds[scale]
		if b.Low == nil || b.High == nil || *b.Low >= *b.High {
			return Ruler{}, false
		}
		return Ruler{scale, *b.Low, *b.High, cuts}, true
	}
	for _, s := range p.Steps {
		if s.Kind == quiz.BandsStep {
			return of(s.Scale, s.Cuts)
		}
	}
	for i, key := range p.ScaleKeys() {
		if p.Quiz.Scales[key].Kind == quiz.Money {
			continue
		}
		if r, has := of(i, nil); has {
			return r, true
		}
	}
	return Ruler{}, false
}

// Reach is how far along the ruler a score lies, in thousandths: 0 at its low end, 1000 at
// its high one.
func (r Ruler) Reach(score decimal.Decimal) int {
	along := (score.Float64() - r.Low.Float64()) / (r.High.Float64() - r.Low.Float64())
	return int(1000*min(max(along, 0), 1) + 0.5)
}

// A RulerBand is the part of a ruler, in thousandths, that leads to an outcome, or to None.
type RulerBand struct{ From, To, Outcome int }

// Bands are the parts between the cuts that lie on the ruler; none without bands.
func (r Ruler) Bands() []RulerBand {
	var list []RulerBand
	for i, cut := range r.Cuts {
		from, to := r.Reach(max(cut.At, r.Low)), 1000
		if i+1 < len(r.Cuts) {
			to = r.Reach(max(r.Cuts[i+1].At, r.Low))
		}
		list = append(list, RulerBand{from, to, cut.Outcome})
	}
	return slices.DeleteFunc(list, func(b RulerBand) bool { return b.From >= b.To })
}
