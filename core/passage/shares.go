package passage

import (
	"math"
	"math/big"
	"slices"
	"strings"

	"omphalos/core/decimal"
	"omphalos/core/quiz"
)

// Shares say how often each answer is given, of those who see a question: by
// question, then by name, in percent (0 to 100). Names are those of Names. What
// is not named shares alike in what remains; where all are named they are taken
// as proportions. Of several picks, each is the chance that this answer is among
// those picked, before the limits on how many are picked have their say, and even
// is one half. A nil map, or a question without an entry, is even: every answer as
// likely as the others, and passing by as likely as one of them.
type Shares map[string]map[string]float64

// SkippedName is the name of passing a question by, among the names of answers.
const SkippedName = "-"

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

// Names returns what Shares can name of question i: the keys of its answers, the
// values of ratings and stars ("7"), "row.column" of a grid, and SkippedName where
// it can be passed by. Numbers, dates and texts have no names but that.
func (p *Program) Names(i int) []string {
	q := &p.questions[i]
	var names []string
	switch {
	case q.form == ofOne, q.form == ofSome:
		names = p.AnswerKeys(i)
	case q.form == ofGrid:
		for _, r := range q.rows {
			for _, a := range q.answers {
				names = append(names, r.key+"."+a.key)
			}
		}
	case q.kind == quiz.Rating || q.kind == quiz.Stars:
		for n := *q.low; n <= *q.high; n += decimal.One {
			names = append(names, n.String())
		}
	}
	if q.skippable() {
		names = append(names, SkippedName)
	}
	return names
}

// NamesOf returns the names under which an answer to question i counts. Numbers and
// dates count under their value.
func (p *Program) NamesOf(i int, v Value) []string {
	q := &p.questions[i]
	switch {
	case v.State != Given && !q.skippable():
		return nil
	case v.State != Given:
		return []string{SkippedName}
	}
	switch q.form {
	case ofOne:
		return []string{q.answers[v.Option].key}
	case ofAmount:
		if q.kind == quiz.Date {
			return []string{quiz.DayText(v.Number)}
		}
		return []string{v.Number.String()}
	case ofSome, ofGrid:
		var names []string
		for k, o := range v.Picks {
			switch {
			case o < 0:
			case q.form == ofGrid:
				names = append(names, q.rows[k].key+"."+q.answers[o].key)
			default:
				names = append(names, q.answers[o].key)
			}
		}
		return names
	}
	return nil
}

func (q *question) skippable() bool {
	if q.form == ofSome {
		return q.minPicks == 0
	}
	return !q.required && q.kind != quiz.Statement
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

// evenly returns n like shares, of which the last may be of passing by.
func evenly(n int) []float64 {
	shares := make([]float64, n)
	for i := range shares {
		shares[i] = 1 / float64(n)
	}
	return shares
}

// valueShares returns the shares of values, which are not of several picks or a grid.
func (q *question) valueShares(percents map[string]float64, values []Value, names []string) []float64 {
	switch {
	case len(values) == 0:
		return nil
	case q.form == ofOne && len(names) == len(values):
		return spread(percents, names, evenly(len(names)))
	case q.form == ofAmount:
		return q.amountShares(percents, values)
	case len(values) == 2:
		return spread(percents, []string{"", SkippedName}, evenly(2))
	}
	return evenly(len(values))
}

// cells returns the share of each column for each row of a grid, and the share of
// passing the whole grid by.
func (q *question) cells(percents map[string]float64) (rows [][]float64, skipped float64) {
	columns := make([]string, len(q.answers))
	for _, r := range q.rows {
		for o, a := range q.answers {
			columns[o] = r.key + "." + a.key
		}
		rows = append(rows, spread(percents, columns, evenly(len(columns))))
	}
	if q.required || len(q.rows) == 0 || len(q.answers) == 0 {
		return rows, 0
	}
	passing := 1 / float64(len(q.answers)+1)
	return rows, spread(percents, []string{SkippedName, ""}, []float64{passing, 1 - passing})[0]
}

// chances returns how likely each answer is to be among those picked.
func (q *question) chances(percents map[string]float64) []float64 {
	list := make([]float64, len(q.answers))
	for o, a := range q.answers {
		list[o] = 0.5
		if percent, found := percents[a.key]; found && !math.IsNaN(percent) {
			list[o] = min(max(percent/100, 0), 1)
		}
	}
	return list
}

// amountShares returns the shares of the values of a number or a date, and of passing
// it by as the last where that is allowed. A percent counts for the value nearest
// to its name.
func (q *question) amountShares(percents map[string]float64, values []Value) []float64 {
	names := make([]string, len(values))
	gathered := map[string]float64{}
	for k, v := range values {
		names[k] = SkippedName
		if v.State == Given {
			names[k] = v.Number.String()
		}
	}
	for name, percent := range percents {
		n, err := decimal.Parse(name)
		if q.kind == quiz.Date && name != SkippedName {
			n, err = quiz.ParseDay(name)
		}
		if name == SkippedName || err != nil {
			gathered[name] += percent
			continue
		}
		nearest := slices.MinFunc(values, func(a, b Value) int {
			return compareFar(a, b, n)
		})
		gathered[nearest.Number.String()] += percent
	}
	return spread(gathered, names, evenly(len(names)))
}

// compareFar compares how far two values are from a number; none is farther than any.
func compareFar(a, b Value, n decimal.Decimal) int {
	far := func(v Value) float64 {
		if v.State != Given {
			return math.Inf(1)
		}
		return math.Abs((v.Number - n).Float64())
	}
	switch x, y := far(a), far(b); {
	case x < y:
		return -1
	case x > y:
		return 1
	}
	return 0
}

// Chances returns, for each of Names, the share of those who see question i that
// give it.
func (p *Program) Chances(i int, shares Shares) []float64 {
	q, names := &p.questions[i], p.Names(i)
	percents := shares[q.key]
	switch {
	case q.form == ofSome:
		return q.picked(percents)
	case q.form == ofGrid:
		rows, skipped := q.cells(percents)
		var list []float64
		for _, row := range rows {
			for _, share := range row {
				list = append(list, share*(1-skipped))
			}
		}
		if q.skippable() {
			list = append(list, skipped)
		}
		return list
	case q.kind == quiz.Statement || len(names) == 0:
		return nil
	}
	values := q.values()
	list := q.valueShares(percents, values, names)
	return list[len(list)-len(names):] // of numbers and texts only passing by has a name
}

// picked returns the chance of each answer to be picked under the limits, and that
// of none where it is allowed.
func (q *question) picked(percents map[string]float64) []float64 {
	chances := q.chances(percents)
	n := len(chances)
	after := q.rest(chances)
	slices.Reverse(chances)
	before := q.rest(chances)
	slices.Reverse(chances)
	slices.Reverse(before) // before[o][k] is the chance of k picks among the answers before o
	all := q.valid(before[n])
	if all <= 0 && percents != nil {
		return q.picked(nil)
	} else if all <= 0 {
		return make([]float64, n)
	}
	var list []float64
	for o := range chances {
		share := 0.0
		rest := after[o+1]
		sums := make([]float64, len(rest)+1)
		for k, s := range rest {
			sums[k+1] = sums[k] + s
		}
		for k, s := range before[o] {
			from, to := min(max(q.minPicks-1-k, 0), len(rest)), min(q.maxPicks-k, len(rest))
			if to > from {
				share += s * (sums[to] - sums[from])
			}
		}
		list = append(list, chances[o]*share/all)
	}
	if q.skippable() {
		list = append(list, before[n][0]/all)
	}
	return list
}

// Ways returns how many different answers question i can get: of numbers and dates,
// as many as something tells apart; of texts, one; passing by is one more.
func (p *Program) Ways(i int) *big.Int {
	q := &p.questions[i]
	n := big.NewInt(int64(len(q.answers)))
	switch q.form {
	case ofSome:
		sum := new(big.Int)
		for k := q.minPicks; k <= q.maxPicks; k++ {
			sum.Add(sum, new(big.Int).Binomial(n.Int64(), int64(k)))
		}
		return sum
	case ofGrid:
		all := new(big.Int).Exp(n, big.NewInt(int64(len(q.rows))), nil)
		if q.skippable() {
			all.Add(all, big.NewInt(1))
		}
		return all
	}
	return big.NewInt(int64(len(q.values())))
}

// A Then names an answer or a rule of a question that leads somewhere.
type Then struct{ Answer, Rule string }

// Thens returns where question i can lead on, answers first.
func (p *Program) Thens(i int) []Then {
	var list []Then
	for _, a := range p.questions[i].answers {
		if a.then != nil {
			list = append(list, Then{Answer: a.key})
		}
	}
	for _, k := range quiz.InOrder(p.Question(i).Then) {
		list = append(list, Then{Rule: k})
	}
	return list
}

// OutcomeAt returns the key of the outcome at a position.
func (p *Program) OutcomeAt(i int) string { return p.outcomes[i].key }

// LandingAt returns the key of a landing of the outcome at a position.
func (p *Program) LandingAt(outcome, landing int) string {
	return p.outcomes[outcome].landings[landing].key
}

// Giving returns an answer to question i that counts under a name of Names, and
// whether there is one.
func (p *Program) Giving(i int, name string) (Value, bool) {
	q := &p.questions[i]
	if !slices.Contains(p.Names(i), name) {
		return Value{}, false
	}
	v := Value{State: Given}
	switch {
	case name == SkippedName:
		return Value{State: Skipped}, true
	case q.form == ofOne:
		v.Option = int16(q.options[name])
	case q.form == ofSome:
		v.Picks = []int16{int16(q.options[name])}
		for o := 0; len(v.Picks) < q.minPicks; o++ {
			if o != q.options[name] {
				v.Picks = append(v.Picks, int16(o))
			}
		}
		slices.Sort(v.Picks)
	case q.form == ofGrid:
		row, column, _ := strings.Cut(name, ".")
		v.Picks = make([]int16, len(q.rows))
		v.Picks[q.rowIndex[row]] = int16(q.options[column])
	default:
		v.Number, _ = decimal.Parse(name)
	}
	return v, true
}

// Named tells whether every answer to question i has a name: numbers, dates and
// texts have not.
func (p *Program) Named(i int) bool {
	q := &p.questions[i]
	return q.form == ofOne || q.form == ofSome || q.form == ofGrid || q.kind == quiz.Rating || q.kind == quiz.Stars || q.kind == quiz.Statement
}
