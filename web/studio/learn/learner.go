package learn

import (
	"context"
	"math"
	"slices"
	"sync"

	"omphalos/core/odds"
	"omphalos/core/passage"
	"omphalos/core/program"
	"omphalos/core/quiz"
	"omphalos/core/scorecard"
	"omphalos/store"
)

// mostLearned is how many leads are learned from, of the newest.
const mostLearned = 10_000

// A learner gathers how leads with known ends answer the draft.
type learner struct {
	program *program.Program
	ruler   odds.Ruler
	ruled   bool
	ordered []string
	first   []int // by question: its first column, -1 where it has none
	columns int
	keys    [][]string // by question: its answers

	mine   sync.Mutex
	cases  []scorecard.Case
	scores []float64
	asked  []scorecard.Tally // by question
	given  []scorecard.Tally // by column
	order  [][2]int          // of each case: the number of its response, and its place

	low, high []float64 // by column of a question with a number: its ends
}

func newLearner(p *program.Program, ordered []string) *learner {
	l := &learner{program: p, ordered: ordered, asked: make([]scorecard.Tally, len(p.Questions)), keys: make([][]string, len(p.Questions))}
	l.ruler, l.ruled = odds.RulerOf(p)
	for i := range p.Questions {
		l.first = append(l.first, -1)
		if kind := p.Question(i).Kind; kind.HasAnswers() && kind != quiz.Grid {
			l.first[i], l.keys[i] = l.columns, p.AnswerKeys(i)
			l.columns += len(l.keys[i])
		} else if kind.Numeric() {
			l.first[i] = l.columns
			l.columns++
		}
	}
	l.given = make([]scorecard.Tally, l.columns)
	return l
}

// gather walks the leads of the slice that were won and lost through the draft.
func (s *Room) gather(ctx context.Context, z *store.Quiz, in *sliced, l *learner) error {
	settings, err := s.Store.Responses.LeadSettings(ctx)
	if err != nil {
		return err
	}
	ended, err := s.Store.Responses.EndedOf(ctx, z.ID, 0, append(settings.Ends(store.Won), settings.Ends(store.Lost)...))
	if err != nil {
		return err
	}
	numbers, err := s.Store.Responses.NewestNumbers(ctx, z.ID, in.slice.All(), 1<<31)
	if err != nil {
		return err
	}
	numbers = slices.DeleteFunc(numbers, func(n int) bool { return ended[n] == "" })
	numbers = numbers[:min(len(numbers), mostLearned)]
	slices.Reverse(numbers)
	take := func(list []store.Response) error {
		reader, walker := store.NewReader(l.program), passage.NewWalker(l.program)
		for i := range list {
			input := reader.Input(&list[i])
			l.take(list[i].Number, input, walker.Walk(input), settings.State(ended[list[i].Number]).End == store.Won)
		}
		return nil
	}
	with := store.Reading{Visitor: true, Contacts: true}
	if err := s.Store.Responses.EachNumbered(ctx, z.ID, numbers, with, take, func(int) error { return nil }); err != nil {
		return err
	}
	l.sort()
	return nil
}

// take takes down a lead that has been walked.
func (l *learner) take(number int, in passage.Input, r *passage.Result, won bool) {
	one := scorecard.Case{Won: won}
	var seen []int
	for _, i := range r.Seen {
		seen = append(seen, i)
		if l.first[i] < 0 || in.Answers[i].State != program.Given {
			continue
		}
		v := &in.Answers[i]
		if l.number(i) {
			one.Columns, one.Values = append(one.Columns, l.first[i]), append(one.Values, v.Number.Float64())
			continue
		}
		picks := []int16{v.Option}
		if l.program.Question(i).Kind == quiz.Several {
			picks = v.Picks
		}
		for _, pick := range picks {
			one.Columns, one.Values = append(one.Columns, l.first[i]+int(pick)), append(one.Values, 1)
		}
	}
	score := 0.0
	if l.ruled {
		score = r.Scores[l.ruler.Scale].Float64()
	}
	l.mine.Lock()
	defer l.mine.Unlock()
	l.cases, l.scores = append(l.cases, one), append(l.scores, score)
	l.order = append(l.order, [2]int{number, len(l.cases) - 1})
	count := func(t *scorecard.Tally) {
		if won {
			t.Won++
		} else {
			t.Lost++
		}
	}
	for _, i := range seen {
		count(&l.asked[i])
	}
	for _, column := range one.Columns {
		count(&l.given[column])
	}
}

// number tells whether a question with columns is answered by a number: it has one column.
func (l *learner) number(i int) bool { return l.first[i] >= 0 && l.keys[i] == nil }

// sort puts the leads in the order of their numbers, so that what is learned is the same each time,
// and brings the numbers that were answered to 0 to 1.
func (l *learner) sort() {
	slices.SortFunc(l.order, func(a, b [2]int) int { return a[0] - b[0] })
	cases, scores := make([]scorecard.Case, len(l.cases)), make([]float64, len(l.cases))
	for i, n := range l.order {
		cases[i], scores[i] = l.cases[n[1]], l.scores[n[1]]
	}
	l.cases, l.scores = cases, scores
	l.low, l.high = make([]float64, l.columns), make([]float64, l.columns)
	number := make([]bool, l.columns)
	for i := range l.first {
		if l.number(i) {
			at := l.first[i]
			number[at], l.low[at], l.high[at] = true, math.Inf(1), math.Inf(-1)
		}
	}
	for _, c := range cases {
		for k, column := range c.Columns {
			l.low[column], l.high[column] = min(l.low[column], c.Values[k]), max(l.high[column], c.Values[k])
		}
	}
	for _, c := range cases {
		for k, column := range c.Columns {
			if number[column] {
				c.Values[k] = (c.Values[k] - l.low[column]) / max(l.high[column]-l.low[column], 1e-9)
			}
		}
	}
}

// ends are how the leads ended.
func (l *learner) ends() (won []bool, all scorecard.Tally) {
	for _, c := range l.cases {
		won = append(won, c.Won)
		if c.Won {
			all.Won++
		} else {
			all.Lost++
		}
	}
	return won, all
}

// scale is the scale whose points can be learned, "" for none: a plain sum.
func (l *learner) scale(q *quiz.Quiz) string {
	if !l.ruled {
		return ""
	}
	key := l.program.ScaleKeys()[l.ruler.Scale]
	if s := q.Scales[key]; s.Method != quiz.Sum && s.Method != "" {
		return ""
	}
	return key
}

// factorOf is what a question's number is multiplied by for a scale, and whether it is.
func factorOf(asked *quiz.Question, scale string) (float64, bool) {
	w := asked.Weigh[scale]
	if w == nil || w.Factor == nil || w.Reversed || len(w.Brackets) > 0 {
		return 0, false
	}
	return w.Factor.Float64(), true
}
