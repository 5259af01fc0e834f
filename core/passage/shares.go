package passage

import (
	"math"
	"math/big"

	"omphalos/core/quiz"
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
func (p *Program) Expected() Shares {
	s := Shares{}
	for i := range p.questions {
		for name, percent := range p.Question(i).Expect {
			if s[p.Key(i)] == nil {
				s[p.Key(i)] = map[string]float64{}
			}
			s[p.Key(i)][name] = percent.Float64()
		}
	}
	return s
}

// An Assumption is what odds are told under: a visitor, who may be nil, and how
// often each answer is given. It is read-only and serves any number of goroutines.
type Assumption struct {
	Visitor *Visitor
	each    []expected
}

// expected is how often the answers to one question are given.
type expected struct {
	values []Value   // of choices, ratings, stars, words and statements
	shares []float64 // theirs

	amounts amounts // of numbers and dates

	picks   design      // of several picks; of a grid, which rows are answered
	rows    [][]float64 // of a grid: per row that is answered, the share of each column
	nearest target      // of several picks and grids: what can be had
	misfit  bool        // and is not what was wanted
}

// Assume returns the assumption of a visitor and of shares.
func (p *Program) Assume(v *Visitor, shares Shares) *Assumption {
	a := &Assumption{Visitor: v, each: make([]expected, len(p.questions))}
	for i := range p.questions {
		a.each[i] = p.expect(i, shares[p.questions[i].key])
	}
	return a
}

func (p *Program) expect(i int, percents map[string]float64) (e expected) {
	q := &p.questions[i]
	switch {
	case q.form == ofSome:
		q.expectPicks(&e, percents)
	case q.form == ofGrid:
		q.expectRows(&e, percents)
	case q.form == ofAmount && !q.rated():
		e.amounts = q.amounts(percents)
	default:
		e.values = q.values()
		names := make([]string, len(e.values))
		for k, v := range e.values {
			names[k] = q.nameOf(v)
		}
		e.shares = spread(percents, names, evenly(len(names)))
	}
	return e
}

// rated tells whether the values of a number have names: those of ratings and stars.
func (q *question) rated() bool { return q.kind == quiz.Rating || q.kind == quiz.Stars }

func (q *question) expectPicks(e *expected, percents map[string]float64) {
	want := target{picked: make([]float64, len(q.answers)), none: -1}
	for o, a := range q.answers {
		want.picked[o] = wish(percents, a.key)
	}
	want.none = wish(percents, SkippedName)
	e.picks, e.nearest, e.misfit = fit(want, q.minPicks, q.maxPicks, q.skippable())
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
func (q *question) expectRows(e *expected, percents map[string]float64) {
	columns, rows := len(q.answers), len(q.rows)
	if columns == 0 || rows == 0 {
		e.picks = design{mayBeNone: true, none: 1}
		return
	}
	want := target{picked: make([]float64, rows), none: -1}
	if q.skippable() && rows > 1 {
		want.none = wish(percents, SkippedName)
	}
	some := 1 - max(want.none, 0)
	for r := range q.rows {
		names := make([]string, 0, columns+1)
		for o := range q.answers {
			names = append(names, q.cellName(r, o))
		}
		if !q.skippable() {
			e.rows, want.picked[r] = append(e.rows, spread(percents, names, evenly(columns))), 1
			continue
		}
		names = append(names, q.cellName(r, none))
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
		e.rows = append(e.rows, shares[:columns])
	}
	if want.none >= 0 {
		e.picks, e.nearest, e.misfit = fit(want, 1, rows, true)
		return
	}
	e.picks, e.nearest = design{chances: want.picked, least: 1, most: rows, mayBeNone: q.skippable(), none: -1}, want
}

func (q *question) skippable() bool { return !q.required && q.kind != quiz.Interlude }

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

// Chances returns, for each of Names, the share of those who see question i that
// give it.
func (p *Program) Chances(i int, a *Assumption) []float64 {
	q, e := &p.questions[i], &a.each[i]
	switch {
	case q.form == ofSome:
		list, none := e.picks.picked()
		if q.skippable() {
			list = append(list, none)
		}
		return list
	case q.form == ofGrid:
		if len(e.rows) == 0 {
			return make([]float64, len(p.Names(i)))
		}
		var list []float64
		answered, none := e.picks.picked()
		for r, row := range e.rows {
			for _, share := range row {
				list = append(list, answered[r]*share)
			}
			if q.skippable() && len(q.rows) > 1 { // of those who do not pass the whole by
				list = append(list, max(1-none-answered[r], 0))
			}
		}
		if q.skippable() {
			list = append(list, none)
		}
		return list
	case q.form == ofAmount && !q.rated():
		if q.skippable() {
			return []float64{e.amounts.skipped}
		}
		return nil
	}
	names := p.Names(i)
	return e.shares[len(e.shares)-len(names):] // words that nothing tells apart have no name
}

// Ways returns how many different answers question i can get: of words, and of numbers
// and dates without a limit, as many as conditions tell apart; passing by is one more.
func (p *Program) Ways(i int) *big.Int {
	q := &p.questions[i]
	n := big.NewInt(int64(len(q.answers)))
	all := new(big.Int)
	switch {
	case q.form == ofSome:
		sets := big.NewInt(1) // of k answers: n over k
		for k := 1; k <= q.maxPicks; k++ {
			sets.Mul(sets, big.NewInt(int64(len(q.answers)-k+1)))
			sets.Quo(sets, big.NewInt(int64(k)))
			if k >= q.minPicks {
				all.Add(all, sets)
			}
		}
	case q.form == ofGrid:
		if q.skippable() { // a row can be left alone
			n.Add(n, big.NewInt(1))
		}
		return all.Exp(n, big.NewInt(int64(len(q.rows))), nil)
	case q.form == ofAmount && !q.rated():
		if all.SetInt64(q.lattice.Count()); q.lattice.Open() {
			all.SetInt64(int64(len(q.stretches())))
		}
	default:
		return all.SetInt64(int64(len(q.values())))
	}
	if q.skippable() || all.Sign() == 0 {
		all.Add(all, big.NewInt(1))
	}
	return all
}
