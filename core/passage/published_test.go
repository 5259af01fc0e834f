package passage_test

import (
	"fmt"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"

	"omphalos/core/decimal"
	"omphalos/core/program"
	"omphalos/core/quiz"
	"omphalos/core/quiztest"
)

// Instruments from the literature, used as arithmetic only. Their tables were
// written from memory of the sources named at each.

// brackets reads "45=2 55=3": from the number on, the amount.
func brackets(s string) *quiz.Weighing {
	w := &quiz.Weighing{Brackets: map[string]*quiz.Bracket{}}
	for i, pair := range strings.Fields(s) {
		from, adds, _ := strings.Cut(pair, "=")
		w.Brackets[fmt.Sprintf("from_%d", i)] = &quiz.Bracket{
			From: quiz.NumberBound(decimal.Must(from)),
			Adds: decimal.Must(adds),
		}
	}
	return w
}

func is(answer, value string) *quiz.Condition {
	return &quiz.Condition{
		Subject: quiz.Subject{Answer: answer},
		Test:    quiz.Test{Op: quiz.Is, Value: quiz.Words(value)},
	}
}

// Lindström & Tuomilehto, The Diabetes Risk Score, Diabetes Care 2003;26:725–731,
// in the form FINDRISC; values from memory of the form. "Over 30", "over 102"
// and so on are read as from the next tenth.
func findrisc(t *testing.T) *program.Program {
	m := quiztest.New("low", "slight", "moderate", "high", "very_high")
	m.Scale("risk", quiz.Sum)
	number := func(key, table string, when *quiz.Condition) {
		q := m.Ask(key, quiz.Number)
		q.Weigh, q.ShowWhen = map[string]*quiz.Weighing{"risk": brackets(table)}, when
	}
	m.Ask("sex", quiz.Single, "woman", "man")
	number("age", "45=2 55=3 65=4", nil)
	number("bmi", "25=1 30.1=3", nil)
	number("waist_men", "94=3 102.1=4", is("sex", "man"))
	number("waist_women", "80=3 88.1=4", is("sex", "woman"))
	m.Ask("active", quiz.YesNo, "yes", "no risk=2")
	m.Ask("vegetables", quiz.YesNo, "daily", "not_daily risk=1")
	m.Ask("medicine", quiz.YesNo, "no", "yes risk=2")
	m.Ask("glucose", quiz.YesNo, "no", "yes risk=5")
	m.Ask("family", quiz.Single, "none", "distant risk=3", "close risk=5")
	m.Bands("risk", "low", "7=slight", "12=moderate", "15=high", "21=very_high")
	return m.Compile(t)
}

func TestFindrisc(t *testing.T) {
	p := findrisc(t)
	for _, c := range []struct {
		answers string
		score   string
		outcome string
	}{
		// Every boundary, on both sides.
		{"age=44.9", "0", "low"}, {"age=45", "2", "low"}, {"age=54.9", "2", "low"}, {"age=55", "3", "low"},
		{"age=64", "3", "low"}, {"age=65", "4", "low"},
		{"bmi=24.9", "0", "low"}, {"bmi=25", "1", "low"}, {"bmi=30", "1", "low"}, {"bmi=30.1", "3", "low"},
		{"sex=man waist_men=93.9", "0", "low"}, {"sex=man waist_men=94", "3", "low"},
		{"sex=man waist_men=102", "3", "low"}, {"sex=man waist_men=102.1", "4", "low"},
		{"sex=woman waist_women=79.9", "0", "low"}, {"sex=woman waist_women=80", "3", "low"},
		{"sex=woman waist_women=88", "3", "low"}, {"sex=woman waist_women=88.1", "4", "low"},
		// A man's waist is not asked of a woman, and counts nothing if it was typed.
		{"sex=woman waist_men=120 waist_women=79", "0", "low"},
		// The bands <7, 7–11, 12–14, 15–20, >20.
		{"age=65 active=no", "6", "low"}, {"age=65 active=no vegetables=not_daily", "7", "slight"},
		{"glucose=yes family=close vegetables=not_daily", "11", "slight"},
		{"glucose=yes family=close active=no", "12", "moderate"},
		{"glucose=yes family=close age=65", "14", "moderate"},
		{"glucose=yes family=close age=65 vegetables=not_daily", "15", "high"},
		{"glucose=yes family=close age=65 active=no vegetables=not_daily bmi=30.1", "20", "high"},
		{"glucose=yes family=close age=65 active=no medicine=yes bmi=30.1", "21", "very_high"},
		// From the lowest to the highest.
		{"sex=man age=30 bmi=20 waist_men=80 active=yes vegetables=daily medicine=no glucose=no family=none", "0", "low"},
		{"sex=man age=70 bmi=35 waist_men=110 active=no vegetables=not_daily medicine=yes glucose=yes family=close", "26", "very_high"},
	} {
		got := quiztest.Walk(t, p, strings.Fields(c.answers)...)
		assert.Equal(t, c.score, got.Scores["risk"], c.answers)
		assert.Equal(t, c.outcome, got.Outcome, c.answers)
	}
}

// Babor et al., AUDIT, WHO 2001; values from memory of the manual: ten
// questions of 0–4 (9 and 10: 0, 2, 4); whoever never drinks goes to 9, and so
// does whoever has 0 together in 2 and 3; zones 0–7, 8–15, 16–19, 20–40.
func audit(t *testing.T) *program.Program {
	m := quiztest.New("one", "two", "three", "four")
	m.Scale("total", quiz.Sum)
	m.Scale("amount", quiz.Sum) // of 2 and 3
	for i := 1; i <= 10; i++ {
		var answers []string
		for points := range 5 {
			if i >= 9 && points%2 == 1 {
				continue
			}
			adds := fmt.Sprintf("p%d total=%d", points, points)
			if i == 2 || i == 3 {
				adds += fmt.Sprintf(" amount=%d", points)
			}
			answers = append(answers, adds)
		}
		m.Ask(fmt.Sprintf("q%d", i), quiz.Single, answers...).Required = true
	}
	m.Questions["q1"].Answers["p0"].Then = &quiz.Then{Go: quiz.ToQuestion, To: "q9"}
	m.Questions["q3"].Then = map[string]*quiz.ThenRule{"none": {
		When: &quiz.Condition{
			Subject: quiz.Subject{Scale: "amount"},
			Test:    quiz.Test{Op: quiz.Is, Value: quiz.Amount(0)},
		},
		Then: quiz.Then{Go: quiz.ToQuestion, To: "q9"}}}
	m.Bands("total", "one", "8=two", "16=three", "20=four")
	return m.Compile(t)
}

func TestAudit(t *testing.T) {
	p := audit(t)
	answers := func(points ...int) []string {
		var list []string
		for i, n := range points {
			list = append(list, fmt.Sprintf("q%d=p%d", i+1, n))
		}
		return list
	}
	for _, c := range []struct {
		points  []int
		total   string
		outcome string
		seen    int
	}{
		{[]int{0, 4, 4, 4, 4, 4, 4, 4, 4, 4}, "8", "two", 3}, // never: 1, 9, 10
		{[]int{0, 0, 0, 0, 0, 0, 0, 0, 0, 0}, "0", "one", 3},
		{[]int{4, 0, 0, 4, 4, 4, 4, 4, 2, 0}, "6", "one", 5}, // 2 and 3 sum to 0: 1, 2, 3, 9, 10
		{[]int{4, 1, 0, 0, 0, 0, 0, 0, 2, 0}, "7", "one", 10},
		{[]int{4, 1, 1, 0, 0, 0, 0, 0, 2, 0}, "8", "two", 10},
		{[]int{4, 1, 1, 1, 1, 1, 1, 1, 4, 0}, "15", "two", 10},
		{[]int{4, 1, 1, 1, 1, 1, 1, 2, 4, 0}, "16", "three", 10},
		{[]int{4, 1, 1, 1, 1, 1, 1, 1, 4, 4}, "19", "three", 10},
		{[]int{4, 1, 1, 1, 1, 1, 1, 2, 4, 4}, "20", "four", 10},
		{[]int{4, 4, 4, 4, 4, 4, 4, 4, 4, 4}, "40", "four", 10},
	} {
		got := quiztest.Walk(t, p, answers(c.points...)...)
		assert.Equal(t, c.total, got.Scores["total"], c.points)
		assert.Equal(t, c.outcome, got.Outcome, c.points)
		assert.Len(t, got.Seen, c.seen, c.points)
	}
}

// Apgar, A Proposal for a New Method of Evaluation of the Newborn Infant, 1953;
// values from memory: five items of 0–2; 0–3, 4–6, 7–10.
func TestApgar(t *testing.T) {
	m := quiztest.New("low", "middle", "high")
	m.Scale("total", quiz.Sum)
	for _, k := range []string{"appearance", "pulse", "grimace", "activity", "respiration"} {
		m.Ask(k, quiz.Single, "zero total=0", "one total=1", "two total=2").Required = true
	}
	m.Bands("total", "low", "4=middle", "7=high")
	p := m.Compile(t)
	counts := map[string]int{}
	quiztest.Every(p, func(answers []string) {
		sum := 0
		for _, a := range answers {
			_, word, _ := strings.Cut(a, "=")
			sum += map[string]int{"one": 1, "two": 2}[word]
		}
		got := quiztest.Walk(t, p, answers...)
		want := "low"
		if sum >= 4 {
			want = "middle"
		}
		if sum >= 7 {
			want = "high"
		}
		assert.Equal(t, fmt.Sprint(sum), got.Scores["total"], answers)
		assert.Equal(t, want, got.Outcome, answers)
		counts[want]++
	})
	assert.Equal(t, 243, counts["low"]+counts["middle"]+counts["high"])
}

// Reichheld, The One Number You Need to Grow, HBR December 2003: 0–6
// detractor, 7–8 passive, 9–10 promoter; a rating of 6 or lower asks what can be
// done better; score = % promoters − % detractors (values from memory).
func TestNetPromoter(t *testing.T) {
	m := quiztest.New("detractor", "passive", "promoter")
	one := decimal.One
	m.Scale("likely", quiz.Sum)
	m.Ask("recommend", quiz.Rating).Weigh = map[string]*quiz.Weighing{"likely": {Factor: &one}}
	m.Ask("better", quiz.LongText).ShowWhen = &quiz.Condition{
		Subject: quiz.Subject{Answer: "recommend"},
		Test:    quiz.Test{Op: quiz.AtMost, Value: quiz.Amount(decimal.FromInt(6))},
	}
	m.Bands("likely", "detractor", "7=passive", "9=promoter")
	p := m.Compile(t)
	counts := map[string]int{}
	for rating := range 11 {
		got := quiztest.Walk(t, p, fmt.Sprintf("recommend=%d", rating))
		counts[got.Outcome]++
		assert.Equal(t, rating <= 6, slices.Contains(got.Seen, "better"), rating)
		want := "detractor"
		if rating >= 9 {
			want = "promoter"
		} else if rating >= 7 {
			want = "passive"
		}
		assert.Equal(t, want, got.Outcome, rating)
	}
	assert.Equal(t, map[string]int{"detractor": 7, "passive": 2, "promoter": 2}, counts)
	_, err := p.Read(0, program.Typed{Values: []string{"11"}})
	assert.ErrorIs(t, err, program.ErrLimits)
}
