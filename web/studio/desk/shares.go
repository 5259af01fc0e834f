package desk

import (
	"omphalos/core/inference"
	"omphalos/core/quiz"
	"omphalos/store"
)

// A Share is an outcome's part of the responses.
type Share struct {
	Outcome, Name, Letter, Class, Standing string
	Count                                  int
	Part                                   float64
	Percent                                string  // of a page whose percents add up to 100
	X, Width                               float64 // in a bar of 100
}

// A Counted is how many got an outcome.
type Counted struct {
	Outcome string
	Count   int
}

// Shares is SharesOf what the store counts.
func Shares(q *quiz.Quiz, counts []store.OutcomeCount) []Share {
	list := make([]Counted, len(counts))
	for i, n := range counts {
		list[i] = Counted{n.Outcome, n.Count}
	}
	return SharesOf(q, list)
}

// SharesOf puts the counts in the order of the outcomes; outcomes that the draft
// does not know any more come last under their keys.
func SharesOf(q *quiz.Quiz, counts []Counted) []Share {
	total := 0
	by := map[string]int{}
	for _, n := range counts {
		total += n.Count
		by[n.Outcome] = n.Count
	}
	var list []Share
	x := 0.0
	add := func(one Share) {
		if total > 0 {
			one.Part = float64(one.Count) / float64(total)
		}
		one.X, one.Width = x, 100*one.Part
		x += one.Width
		list = append(list, one)
	}
	for i, k := range quiz.InOrder(q.Outcomes) {
		o := q.Outcomes[k]
		add(
			Share{
				Outcome:  k,
				Name:     o.Name,
				Letter:   q.Letter(k),
				Class:    Hue(i),
				Standing: string(o.Standing),
				Count:    by[k],
			},
		)
		delete(by, k)
	}
	for _, n := range counts {
		if _, left := by[n.Outcome]; left {
			add(Share{Outcome: n.Outcome, Name: n.Outcome, Letter: "?", Class: "to-none", Count: n.Count})
		}
	}
	Divide(list)
	return list
}

// Divide writes the percents of shares that are all there are.
func Divide(list []Share) {
	parts, all := make([]float64, len(list)), 0.0
	for i, one := range list {
		parts[i] = one.Part
		all += one.Part
	}
	for i, percent := range inference.Percents(parts) {
		if list[i].Percent = percent; all == 0 {
			list[i].Percent = "–"
		}
	}
}

// Hue is the class of the colour of the outcome at a place.
func Hue(i int) string { return "to-" + string(rune('0'+i%8)) }
