// Package expect is how often each answer is given: as the marketer expects it, as it
// was observed, or even. Odds are told under such an assumption, and passages drawn.
package expect

import (
	"math"

	"omphalos/core/program"
)

// Shares say how often each answer is given, of those who see a question: by
// question, then by name, in percent (0 to 100). Names are those of Names; numbers and
// dates are named by their value, and what is named counts for the value nearest to it.
// What is not named shares alike in what remains; where all are named they are taken
// as proportions. Of several picks, each is the chance that this answer is among those
// picked, within the limits on how many are (see Misfits for those that can't be had);
// what is not named leaves open. A nil map, or a question without an entry, is even:
// every answer that can be given is as likely as the others, and passing by as likely
// as one of them.
type Shares map[string]map[string]float64

// Expected returns the shares that the quiz's marketer expects.
func Expected(p *program.Program) Shares {
	s := Shares{}
	for i := range p.Questions {
		for name, percent := range p.Question(i).Expect {
			if s[p.Key(i)] == nil {
				s[p.Key(i)] = map[string]float64{}
			}
			s[p.Key(i)][name] = percent.Float64()
		}
	}
	return s
}

func expectedOf(p *program.Program, i int, percents map[string]float64) (e Frequencies) {
	q := &p.Questions[i]
	switch {
	case q.Form == program.OfSome:
		expectPicks(q, &e, percents)
	case q.Form == program.OfGrid:
		expectRows(q, &e, percents)
	case q.Form == program.OfAmount && !q.Rated():
		e.Amounts = amountsOf(q, percents)
	default:
		e.Values = q.Values()
		names := make([]string, len(e.Values))
		for k, v := range e.Values {
			names[k] = q.NameOf(v)
		}
		e.Shares = spread(percents, names, evenly(len(names)))
	}
	return e
}

func expectPicks(q *program.Question, e *Frequencies, percents map[string]float64) {
	want := target{picked: make([]float64, len(q.Answers)), none: -1}
	for o, a := range q.Answers {
		want.picked[o] = wish(percents, a.Key)
	}
	want.none = wish(percents, program.SkippedName)
	e.Picks, e.nearest, e.misfit = fit(want, q.MinPicks, q.MaxPicks, q.Skippable())
}

// wish returns the share that is wanted, −1 where nothing is.
func wish(percents map[string]float64, name string) float64 {
	percent, found := percents[name]
	if !found || math.IsNaN(percent) {
		return -1
	}
	return min(max(percent/100, 0), 1)
}

// expectRows divides each row among its columns and leaving it alone. Rows are answered
// without regard to each other, but where passing the whole grid by has a share.
func expectRows(q *program.Question, e *Frequencies, percents map[string]float64) {
	columns, rows := len(q.Answers), len(q.Rows)
	if columns == 0 || rows == 0 {
		e.Picks = Design{mayBeNone: true, none: 1}
		return
	}
	want := target{picked: make([]float64, rows), none: -1}
	if q.Skippable() && rows > 1 {
		want.none = wish(percents, program.SkippedName)
	}
	some := 1 - max(want.none, 0)
	for r := range q.Rows {
		names := make([]string, 0, columns+1)
		for o := range q.Answers {
			names = append(names, q.CellName(r, o))
		}
		if !q.Skippable() {
			e.Rows, want.picked[r] = append(e.Rows, spread(percents, names, evenly(columns))), 1
			continue
		}
		names = append(names, q.CellName(r, program.None))
		of := make(map[string]float64, len(names)) // those who do not pass the whole by
		for _, name := range names {
			if w := wish(percents, name); w >= 0 && some > 0 {
				of[name] = 100 * w / some
			}
		}
		shares := spread(of, names, evenly(len(names)))
		answered := 1 - shares[columns]
		if want.picked[r] = answered * some; answered > 0 {
			for o := range columns {
				shares[o] /= answered
			}
		} else {
			copy(shares, evenly(columns))
		}
		e.Rows = append(e.Rows, shares[:columns])
	}
	if want.none >= 0 {
		e.Picks, e.nearest, e.misfit = fit(want, 1, rows, true)
		return
	}
	e.Picks, e.nearest = Design{Chances: want.picked, least: 1, most: rows, mayBeNone: q.Skippable(), none: -1}, want
}

// spread divides 1 among things by the percents named for some of them; even is
// what each gets where nothing is named. A negative percent is as 0.
func spread(percents map[string]float64, names []string, even []float64) []float64 {
	shares, sum, unnamed := make([]float64, len(names)), 0.0, 0.0
	named := make([]bool, len(names))
	for i, name := range names {
		if percent, found := percents[name]; found && !math.IsNaN(percent) {
			named[i], shares[i] = true, max(percent, 0)/100
			sum += shares[i]
		} else {
			unnamed += even[i]
		}
	}
	rest := max(1-sum, 0)
	for i := range shares {
		if !named[i] && unnamed > 0 {
			shares[i] = rest * even[i] / unnamed
		}
	}
	total := 0.0
	for _, s := range shares {
		total += s
	}
	if total <= 0 {
		return even
	}
	for i := range shares {
		shares[i] /= total
	}
	return shares
}

// evenly returns n like shares.
func evenly(n int) []float64 {
	shares := make([]float64, n)
	for i := range shares {
		shares[i] = 1 / float64(n)
	}
	return shares
}
