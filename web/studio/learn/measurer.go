package learn

import (
	"cmp"
	"context"
	"fmt"
	"math"
	"slices"
	"strings"

	"omphalos/core/decimal"
	"omphalos/core/inference"
	"omphalos/core/passage"
	"omphalos/core/program"
	"omphalos/core/quiz"
	"omphalos/store"
)

// A measurer walks responses again.
type measurer struct {
	program *program.Program
	places  []itemPlace     // what can add to a scale: a question, or a row of a grid
	sums    []map[int64]int // scores by scale
	fed     [][]bool        // by scale and place: it has added something
	given   [][]bool        // of each response, by place: it was answered
	added   [][][]float64   // of each response, by scale and place
	steps   []map[int]int   // by step and part
	others  int             // decided by none
	tied    int
	walked  int
}

// An itemPlace is a question, or a row of a grid.
type itemPlace struct{ question, row int }

// placesOf are the places of a program: each row of a grid is an item by itself.
func placesOf(p *program.Program) (list []itemPlace) {
	for i := range p.Questions {
		if len(p.Questions[i].Rows) == 0 {
			list = append(list, itemPlace{i, program.None})
		}
		for row := range p.Questions[i].Rows {
			list = append(list, itemPlace{i, row})
		}
	}
	return list
}

func (s *Room) measure(ctx context.Context, id uint, in *sliced, p *program.Program, page *measurePage) error {
	m := &measurer{program: p, places: placesOf(p), sums: make([]map[int64]int, len(p.Scales)),
		fed: make([][]bool, len(p.Scales)), steps: make([]map[int]int, len(p.Steps))}
	for i := range m.sums {
		m.sums[i], m.fed[i] = map[int64]int{}, make([]bool, len(m.places))
	}
	reader, walker := store.NewReader(p), passage.NewWalker(p)
	most := max(500, min(mostMeasured, mostPoints/max(1, len(m.places)*len(p.Scales))))
	err := s.Store.Responses.NewestOf(ctx, id, in.slice.All(), most, func(r *store.Response) error {
		m.add(walker, walker.Walk(reader.Next(r)))
		return nil
	})
	if err != nil {
		return err
	}
	page.Count, page.Few, page.Tied = m.walked, m.walked < fewest, m.tied
	for i, key := range p.ScaleKeys() {
		if one, any := m.scale(i, in.quiz.Scales[key]); any {
			page.Scales = append(page.Scales, one)
		}
	}
	page.Steps = m.decided(in.quiz)
	return nil
}

// add takes down a passage that has been walked.
func (m *measurer) add(w *passage.Walker, r *passage.Result) {
	m.walked++
	given, added := make([]bool, len(m.places)), make([][]float64, len(m.fed))
	for scale := range m.fed {
		m.sums[scale][int64(r.Scores[scale])]++
		added[scale] = make([]float64, len(m.places))
		for i, at := range m.places {
			amount, answered := w.AddedByRow(at.question, at.row, scale)
			given[i], added[scale][i] = answered, amount.Float64()
			m.fed[scale][i] = m.fed[scale][i] || amount != 0
		}
	}
	m.given, m.added = append(m.given, given), append(m.added, added)
	if f := w.Finish(); f.End == program.Decided {
		if f.Tied != "" {
			m.tied++
		}
		if f.Step == program.Otherwise {
			m.others++
			return
		}
		if m.steps[f.Step] == nil {
			m.steps[f.Step] = map[int]int{}
		}
		m.steps[f.Step][f.Part]++
	}
}

// The numbers from which on something is said.
const (
	muchTheSame = 0.8 // of alpha, and of two questions that say the same
	alongside   = 0.6 // of alpha
	nothing     = 0.1 // below it a question goes along with nothing
)

// scale works out how the questions of a scale go together; false where none feeds it.
func (m *measurer) scale(scale int, of *quiz.Scale) (measure, bool) {
	if !slices.Contains(m.fed[scale], true) {
		return measure{}, false
	}
	bins := binsOf(m.sums[scale])
	one := measure{Name: of.Name, Mean: rounded(inference.Mean(bins)).Words(),
		Spread: rounded(math.Sqrt(inference.Variance(bins))).Words()}
	// What few have answered would leave hardly anybody who has answered all of it.
	var places []int
	for i, fed := range m.fed[scale] {
		n := 0
		for _, given := range m.given {
			if given[i] {
				n++
			}
		}
		if fed && 2*n >= m.walked {
			places = append(places, i)
		}
	}
	var items inference.Items
	scores := make([]float64, len(places))
	for person, given := range m.given {
		if slices.ContainsFunc(places, func(i int) bool { return !given[i] }) {
			continue
		}
		for n, i := range places {
			scores[n] = m.added[person][scale][i]
		}
		items.Add(scores)
	}
	one.Persons, one.Left = items.Count(), m.walked-items.Count()
	if items.Count() == 0 {
		return one, true
	}
	apart := true // then it says nothing of a question that it stands alone
	if alpha, low, high, known := items.Alpha(); known && len(places) > 1 {
		apart = alpha < alongside
		one.Alpha, one.Range, one.Says = short(alpha), short(low)+" to "+short(high), alphaSays(alpha)
	}
	for n, i := range places {
		number, label := m.named(m.places[i])
		row := item{Number: number, Label: label, Mean: short(items.Mean(n)), Spread: short(items.Spread(n))}
		if r, low, high, known := items.Rest(n); known && len(places) > 1 {
			row.Rest, row.Range = short(r), short(low)+" to "+short(high)
			switch {
			case high < 0 && r <= -nothing:
				row.Says = "Goes against the others."
			case high < nothing && !apart:
				row.Says = "Says nothing of what the others say."
			}
		}
		if items.Spread(n) == 0 {
			row.Says = "Changes nothing: everybody gets the same here."
		}
		for before := range n {
			if _, low, _, known := items.Pair(n, before); known && low > muchTheSame {
				same, _ := m.named(m.places[places[before]])
				row.Says = fmt.Sprintf("Says the same as question %s.", same)
			}
		}
		one.Items = append(one.Items, row)
	}
	return one, true
}

// named returns the number of an item as the sheet counts, 3 or 3.2 for a row of a grid, and
// what it asks.
func (m *measurer) named(at itemPlace) (number, label string) {
	asked := m.program.Question(at.question)
	if number = fmt.Sprint(at.question + 1); at.row == program.None {
		return number, asked.Label
	}
	row := m.program.RowKeys(at.question)[at.row]
	return fmt.Sprint(number, ".", at.row+1), asked.Label + " · " + asked.Rows[row].Label
}

// alphaSays says what a coefficient means for a quiz.
func alphaSays(alpha float64) string {
	switch {
	case alpha >= muchTheSame:
		return "The questions say much the same: they measure one thing."
	case alpha >= alongside:
		return "The questions go along with each other."
	}
	return "The questions say different things. That is right for a score that adds up several reasons; " +
		"it is no measure of one thing."
}

func short(n float64) string { return rounded(n * float64(decimal.One)).Words() }

// decided tells what took whom, in the order of the decision.
func (m *measurer) decided(q *quiz.Quiz) []decided {
	var list []decided
	row := func(words string, count int) decided {
		return decided{Words: words, Count: count, Part: part(count, m.walked)}
	}
	for i, step := range m.program.Steps {
		all := 0
		for _, n := range m.steps[i] {
			all += n
		}
		one := row(q.StepSentence(step.Key), all)
		for k := range parts(&step) {
			one.Rows = append(one.Rows, row(partWords(q, &step, k), m.steps[i][k]))
		}
		list = append(list, one)
	}
	if m.others > 0 || len(list) > 0 {
		list = append(list, row("Otherwise", m.others))
	}
	return list
}

// parts is how many rules, bands or contenders a step has.
func parts(s *program.Step) int {
	switch s.Kind {
	case quiz.TableStep:
		return len(s.Rules)
	case quiz.LeaderStep:
		return len(s.Contenders)
	}
	return len(s.Cuts) // of a rule none
}

// partWords says a part of a step: what it asks, and what it leads to.
func partWords(q *quiz.Quiz, s *program.Step, k int) string {
	of := q.Decision.Steps[s.Key]
	leads := func(outcome int) string {
		if outcome == program.None {
			return ": goes on"
		}
		key := quiz.InOrder(q.Outcomes)[outcome]
		return ": “" + cmp.Or(q.Outcomes[key].Name, key) + "”"
	}
	switch s.Kind {
	case quiz.TableStep:
		var asks []string
		for _, cell := range s.Rules[k].Cells {
			asks = append(asks, q.Sentence(cell.Source))
		}
		return cmp.Or(strings.Join(asks, " and "), "whoever is left") + leads(s.Rules[k].Outcome)
	case quiz.LeaderStep:
		key := quiz.InOrder(of.Contenders)[k]
		if scale := q.Scales[key]; scale != nil {
			key = cmp.Or(scale.Name, key)
		}
		return key + leads(s.Contenders[k].Outcome)
	}
	switch cuts := of.CutKeys(); {
	case len(cuts) == 0:
		return "any score" + leads(s.Cuts[k].Outcome)
	case k == 0:
		return "below " + of.Cuts[cuts[0]].At.Words() + leads(s.Cuts[k].Outcome)
	default:
		return "from " + of.Cuts[cuts[k-1]].At.Words() + leads(s.Cuts[k].Outcome)
	}
}
