package scorecard

import (
	"cmp"
	"math"
	"slices"
	"sync"

	"omphalos/core/decimal"
	"omphalos/core/odds"
	"omphalos/core/passage"
	"omphalos/core/program"
	"omphalos/core/quiz"
)

// A Learner takes down how leads whose end is known answer a quiz. It serves several goroutines.
type Learner struct {
	Program *program.Program
	Scale   string // key of the sum by which the quiz sorts, "" for none whose points can be learned

	ruler   odds.Ruler
	ruled   bool
	ordered []string
	first   []int      // by question: its first column, -1 where it has none
	keys    [][]string // by question: its answers, nil of one with a number
	columns int

	mine  sync.Mutex
	leads []ended
	asked []Tally // by question
	given []Tally // by column

	low, high []float64 // by column of a question with a number: its ends
}

// An ended lead is a case with the score that they reached.
type ended struct {
	Case
	number int
	score  float64
}

// NewLearner returns a Learner for a quiz. The points of ordered questions shall rise or fall along
// their answers.
func NewLearner(p *program.Program, ordered []string) *Learner {
	l := &Learner{Program: p, ordered: ordered, asked: make([]Tally, len(p.Questions)),
		keys: make([][]string, len(p.Questions))}
	if l.ruler, l.ruled = odds.RulerOf(p); l.ruled {
		if key := p.ScaleKeys()[l.ruler.Scale]; cmp.Or(p.Quiz.Scales[key].Method, quiz.Sum) == quiz.Sum {
			l.Scale = key
		}
	}
	for i := range p.Questions {
		l.first = append(l.first, -1)
		switch kind := p.Question(i).Kind; {
		case kind.HasAnswers() && kind != quiz.Grid:
			l.first[i], l.keys[i] = l.columns, p.AnswerKeys(i)
			l.columns += len(l.keys[i])
		case kind.Numeric():
			l.first[i] = l.columns
			l.columns++
		}
	}
	l.given = make([]Tally, l.columns)
	return l
}

// number tells whether a question with columns is answered by a number: it has one column.
func (l *Learner) number(i int) bool { return l.first[i] >= 0 && l.keys[i] == nil }

// Take takes down a lead, by a number of theirs, as the quiz was walked with their answers.
func (l *Learner) Take(number int, in passage.Input, r *passage.Result, won bool) {
	one := ended{Case: Case{Won: won}, number: number}
	if l.ruled {
		one.score = r.Scores[l.ruler.Scale].Float64()
	}
	seen := slices.Clone(r.Seen)
	for _, i := range seen {
		if l.first[i] < 0 || in.Answers[i].State != program.Given {
			continue
		}
		v := &in.Answers[i]
		if l.number(i) {
			one.add(l.first[i], v.Number.Float64())
			continue
		}
		picks := []int16{v.Option}
		if l.Program.Question(i).Kind == quiz.Several {
			picks = v.Picks
		}
		for _, pick := range picks {
			one.add(l.first[i]+int(pick), 1)
		}
	}
	l.mine.Lock()
	defer l.mine.Unlock()
	l.leads = append(l.leads, one)
	for _, i := range seen {
		l.asked[i] = l.asked[i].with(won)
	}
	for _, column := range one.Columns {
		l.given[column] = l.given[column].with(won)
	}
}

func (c *Case) add(column int, value float64) {
	c.Columns, c.Values = append(c.Columns, column), append(c.Values, value)
}

// Learned is what leads say of a quiz.
type Learned struct {
	All       Tally
	Yours     Curve       // of the quiz's own points; without Points where one kind of lead is missing
	Suggested *Curve      // judged by leads that the points were not learned from; nil where there are too few
	Better    *Difference // of the suggested points, judged in the same way; nil as Suggested
	Questions []Said
}

// Said is what the answers to a question say.
type Said struct {
	Question     int // its position
	One, Ordered bool
	Number       bool    // it is answered by a number: there is one Answer, for each one more
	Low, High    float64 // of the numbers that were answered
	Value        float64 // information value; of several picks the most that one of them has
	Chance, Most float64 // what chance gives for so many kinds and leads: on average, and in 19 of 20 cases
	Leaks        bool    // none of the lost was asked
	Answers      []Answer
}

// An Answer is what those say who gave it.
type Answer struct {
	Key string // "" of a number
	Evidence
	Odds      Odds // against the others who were asked
	Leaks     bool // many gave it, and none of the lost
	Yours     decimal.Decimal
	Suggested bool            // Points are
	Points    decimal.Decimal // whole ones; of a number with two decimals
	Off       float64         // how far they may be off, in 19 of 20 cases
}

// manyLeak is how many leads have to give an answer before it is suspicious that all were won.
const manyLeak = 20

// Learn works out what the leads say that were taken down: the same each time for the same leads.
func (l *Learner) Learn() *Learned {
	slices.SortFunc(l.leads, func(a, b ended) int { return cmp.Compare(a.number, b.number) })
	cases, scores, won := make([]Case, len(l.leads)), make([]float64, len(l.leads)), make([]bool, len(l.leads))
	to := &Learned{}
	for i, lead := range l.leads {
		cases[i], scores[i], won[i] = lead.Case, lead.score, lead.Won
		to.All = to.All.with(lead.Won)
	}
	l.even(cases)
	to.Yours, _ = CurveOf(scores, won)
	fit, without, part, err := Choose(cases, l.columns, seed)
	if err != nil { // too few
		fit = nil
	} else {
		without = Places(without, part)
		c, _ := CurveOf(without, won)
		to.Suggested = &c
		if d, is := Differ(Places(scores, part), without, won); is {
			to.Better = &d
		}
	}
	l.say(to, fit)
	return to
}

const seed = 1

// even brings the numbers that were answered to 0 to 1.
func (l *Learner) even(cases []Case) {
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
	for i, c := range cases {
		values := slices.Clone(c.Values)
		for k, column := range c.Columns {
			if number[column] {
				values[k] = (values[k] - l.low[column]) / max(l.high[column]-l.low[column], math.SmallestNonzeroFloat64)
			}
		}
		cases[i].Values = values
	}
}
