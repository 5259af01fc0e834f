package desk

import (
	"maps"
	"slices"

	"omphalos/core/inference"
	"omphalos/core/quiz"
)

// A Share is an outcome's part of the responses.
type Share struct {
	Outcome, Name, Letter, Class, Standing string
	Count                                  int
	Part                                   float64
	Percent                                string  // of a page whose percents add up to 100
	X, Width                               float64 // in a bar of 100
}

// Shares puts the counts of respondents by outcome in the order of the outcomes; outcomes
// that the draft does not know any more come last under their keys.
func Shares(q *quiz.Quiz, counts map[string]int) []Share {
	total, by := 0, maps.Clone(counts)
	for _, n := range counts {
		total += n
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
	for _, k := range slices.Sorted(maps.Keys(by)) {
		add(Share{Outcome: k, Name: k, Letter: "?", Class: "to-none", Count: by[k]})
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
