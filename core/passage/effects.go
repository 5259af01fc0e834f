package passage

import (
	"math"
	"math/big"
	"slices"
	"strconv"

	"omphalos/core/decimal"
	"omphalos/core/quiz"
)

// An Effect is what one or several answers to a question do.
type Effect struct {
	Share   float64   // of those who see the question, all answers being as likely
	Ways    *big.Int  // how many different answers have this effect
	Chosen  []float64 // per answer: the part of Share that chooses it
	Skipped bool
	adds    []decimal.Decimal // by scale
	counts  []int64
	fed     []bool
	class   int
}

// MostPieces bounds how many different answers to one question are told apart.
const MostPieces = 1 << 14

// Explorable tells whether no question has more different answers than
// MostPieces.
func (p *Program) Explorable() bool {
	for i := range p.questions {
		q, pieces := &p.questions[i], 1.0
		switch q.form {
		case ofSome:
			pieces = math.Pow(2, float64(len(q.answers)))
		case ofGrid:
			pieces = math.Pow(float64(len(q.answers)), float64(len(q.rows)))
		}
		if pieces > MostPieces {
			return false
		}
	}
	return true
}

// answer works out the effects of the answers to question i.
func (e *Explorer) answer(i int) {
	q := &e.p.questions[i]
	e.classes = append(e.classes, nil)
	e.signed = append(e.signed, map[string]int{})
	e.effects = append(e.effects, nil)
	options, shares := e.values(i), e.Shares(i)
	for k, v := range options {
		f := Effect{Share: shares[k], Ways: big.NewInt(1), Chosen: make([]float64, len(q.answers)), Skipped: v.State != Given}
		switch {
		case v.State != Given:
		case q.form == ofOne:
			f.Chosen[v.Option] = shares[k]
		case q.form == ofSome:
			for _, o := range v.Picks {
				f.Chosen[o] = shares[k]
			}
		}
		e.effects[i] = append(e.effects[i], e.measure(i, v, f))
	}
	e.effects[i] = e.merge(e.effects[i])
}

// Values returns every different answer to question i that counts: all choices
// and picks, all rows of a grid, numbers and dates at the points that something
// asks for and between, texts answered or not; and passing by where it is allowed.
func (e *Explorer) Values(i int) []Value { return e.values(i) }

// Shares returns how likely each of Values is when all are alike; passing a grid
// by is as likely as one of the columns of a row.
func (e *Explorer) Shares(i int) []float64 {
	q, values := &e.p.questions[i], e.values(i)
	shares := make([]float64, len(values))
	skip := 1 / float64(len(q.answers)+1)
	for k, v := range values {
		shares[k] = 1 / float64(len(values))
		if q.form == ofGrid && !q.required {
			shares[k] = skip
			if v.State == Given {
				shares[k] = (1 - skip) / float64(len(values)-1)
			}
		}
	}
	return shares
}

// Effects returns what the answers to question i do, merged.
func (e *Explorer) Effects(i int) []Effect { return e.effects[i] }

func (e *Explorer) values(i int) []Value {
	q := &e.p.questions[i]
	var list []Value
	switch {
	case q.form == ofOne:
		for o := range q.answers {
			list = append(list, Value{State: Given, Option: int16(o)})
		}
	case q.form == ofSome:
		list = picks(len(q.answers), q.minPicks, q.maxPicks)
	case q.form == ofGrid:
		list = cells(len(q.rows), len(q.answers))
	case q.kind == quiz.Rating || q.kind == quiz.Stars:
		for n := *q.low; n <= *q.high; n += decimal.One {
			list = append(list, Value{State: Given, Number: n})
		}
	case q.form == ofAmount:
		for _, n := range e.points(i) {
			list = append(list, Value{State: Given, Number: n})
		}
	case q.kind == quiz.Statement:
		return []Value{{State: Skipped}}
	default:
		list = []Value{{State: Given, Text: "…"}}
	}
	if !q.required && !(q.form == ofSome && q.minPicks == 0) || len(list) == 0 {
		list = append(list, Value{State: Skipped})
	}
	return list
}

// picks lists the sets of answers within the limits; the empty one is Skipped.
func picks(n, least, most int) []Value {
	var list []Value
	for set := range 1 << n {
		v := Value{State: Given}
		for o := range n {
			if set>>o&1 == 1 {
				v.Picks = append(v.Picks, int16(o))
			}
		}
		if len(v.Picks) == 0 {
			v.State = Skipped
		}
		if len(v.Picks) >= least && len(v.Picks) <= most {
			list = append(list, v)
		}
	}
	return list
}

// cells lists the full answers to a grid.
func cells(rows, columns int) []Value {
	list := []Value{{State: Given}}
	for range rows {
		var longer []Value
		for _, v := range list {
			for c := range columns {
				longer = append(longer, Value{State: Given, Picks: append(slices.Clone(v.Picks), int16(c))})
			}
		}
		list = longer
	}
	return list
}

// points returns numbers at and between all that something compares the answer with.
func (e *Explorer) points(i int) []decimal.Decimal {
	q := &e.p.questions[i]
	var at []decimal.Decimal
	for c := range e.refs[i] {
		if c != nil {
			at = append(at, c.numbers...)
		}
	}
	for _, w := range q.weighs {
		for _, b := range w.brackets {
			if b.from != decimal.Min {
				from := b.from
				if w.turns {
					from = w.reversed.Sub(from)
				}
				at = append(at, from)
			}
		}
	}
	for _, limit := range []*decimal.Decimal{q.low, q.high} {
		if limit != nil {
			at = append(at, *limit)
		}
	}
	slices.Sort(at)
	at = slices.Compact(at)
	if len(at) == 0 {
		at = []decimal.Decimal{0}
	}
	step := max(q.step, 0)
	if step == 0 {
		step = decimal.One
	}
	all := []decimal.Decimal{at[0].Sub(step)}
	for k, n := range at {
		all = append(all, n)
		if k+1 < len(at) {
			if between := n + (at[k+1]-n)/2; between > n && (q.kind != quiz.Date || between%decimal.One == 0 || at[k+1]-n >= 2*decimal.One) {
				if q.kind == quiz.Date {
					between = between.Round(0)
				}
				all = append(all, between)
			}
		}
	}
	all = append(all, at[len(at)-1].Add(step))
	return slices.DeleteFunc(slices.Compact(all), func(n decimal.Decimal) bool { low, high := q.outside(n); return low || high })
}

// measure works out what a value adds, and its class: what later steps can tell of it.
func (e *Explorer) measure(i int, v Value, eff Effect) Effect {
	q, w := &e.p.questions[i], &e.w
	clear(w.sums)
	clear(w.counts)
	clear(w.fed)
	w.weigh(q, &v)
	eff.adds, eff.counts, eff.fed = slices.Clone(w.sums), slices.Clone(w.counts), slices.Clone(w.fed)
	eff.class = e.classOf(i, v)
	return eff
}

// classOf returns the class of a value: values of which every condition that
// asks says the same, and whose thens and numbers are the same, are one class.
func (e *Explorer) classOf(i int, v Value) int {
	sig := e.signature(i, v)
	if k, known := e.signed[i][sig]; known {
		return k
	}
	k := len(e.classes[i])
	e.signed[i][sig] = k
	e.classes[i] = append(e.classes[i], v)
	return k
}

func (e *Explorer) signature(i int, v Value) string {
	w := &e.w
	w.answers[i], w.seen[i] = v, true
	defer func() { w.answers[i], w.seen[i] = Value{}, false }()
	sig := strconv.Itoa(int(v.State))
	keep := e.refs[i][nil]
	for _, c := range e.ordered(i) {
		sig += strconv.FormatBool(c.clauseHolds(w))
	}
	for _, s := range e.p.scales {
		for _, o := range s.reads {
			keep = keep || o.question == i
		}
	}
	if t := e.p.questions[i].ownThen(&v); t != nil {
		sig += string(t.way) + strconv.Itoa(t.question) + "," + strconv.Itoa(t.outcome)
	}
	if keep {
		sig += v.Number.String() + strconv.Itoa(int(v.Option))
		for _, p := range v.Picks {
			sig += "," + strconv.Itoa(int(p))
		}
	}
	return sig
}

// ordered returns the clauses that ask for question i, in a stable order.
func (e *Explorer) ordered(i int) []*condition {
	var list []*condition
	for c := range e.refs[i] {
		if c != nil {
			list = append(list, c)
		}
	}
	slices.SortFunc(list, func(a, b *condition) int {
		return slices.Compare([]string{string(a.op), a.key()}, []string{string(b.op), b.key()})
	})
	return list
}

func (c *condition) key() string {
	key := strconv.Itoa(c.row)
	for _, w := range c.words {
		key += "\x00" + w
	}
	return key
}

// merge puts effects together that do the same.
func (e *Explorer) merge(list []Effect) []Effect {
	at := map[string]int{}
	var merged []Effect
	for _, f := range list {
		key := strconv.Itoa(f.class)
		for s := range f.adds {
			key += "," + strconv.FormatInt(int64(f.adds[s]), 36) + ":" + strconv.FormatInt(f.counts[s], 36) + strconv.FormatBool(f.fed[s])
		}
		key += strconv.FormatBool(f.Skipped)
		k, found := at[key]
		if !found {
			at[key] = len(merged)
			merged = append(merged, f)
			continue
		}
		merged[k].Share += f.Share
		merged[k].Ways = new(big.Int).Add(merged[k].Ways, f.Ways)
		for a := range f.Chosen {
			merged[k].Chosen[a] += f.Chosen[a]
		}
	}
	return merged
}
