package passage_test

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"omphalos/core/decimal"
	"omphalos/core/passage"
	"omphalos/core/program"
	"omphalos/core/quiz"
	"omphalos/core/quiztest"
)

func TestScales(t *testing.T) {
	m := quiztest.New("a")
	m.Scale("total", quiz.Sum).Start = decimal.FromInt(2)
	m.Scale("average", quiz.Mean).Start = decimal.FromInt(9)
	m.Scale("part", quiz.Percent)
	m.Scale("joined", quiz.Formula).Formula = "(total + area) / average"
	m.Ask("one", quiz.Single, "x total=1.5 average=1 part=1", "y average=2 part=4")
	m.Ask("two", quiz.Single, "x average=2 part=0", "y average=2 part=10").Required = true
	q := m.Ask("some", quiz.Several, "a total=4", "b total=3", "c total=-9")
	q.Picks, q.Cap = &quiz.Picks{Max: 2}, map[string]decimal.Decimal{"total": decimal.FromInt(5)}
	area := m.Ask("area", quiz.Number)
	area.Limits = &quiz.Limits{Low: quiztest.NumberBound(0), High: quiztest.NumberBound(10)}
	factor := decimal.Must("0.5")
	area.Weigh = map[string]*quiz.Weighing{"total": {Factor: &factor, Reversed: true}}
	day := m.Ask("day", quiz.Date)
	read(t, `{"total":{"brackets":{"early":{"adds":7},"late":{"from":"2026-06-01","adds":1}}}}`, &day.Weigh)
	p := m.Compile(t)
	for answers, want := range map[string]string{
		"": "2 9 0 0.22", // (2 + 0) / 9
		// 1 of −0 … 4 in "one" (may be skipped), of 0 … 10 in "two" only if seen: (1−0)/(14−0) is told below
		"one=x":                "3.5 1 10 3.5",
		"one=y two=x":          "2 2 28.57 1",  // (4 − 0) ÷ (4 + 10 − 0)
		"some=a|b":             "7 9 0 0.78",   // 4 + 3 capped at 5
		"some=a|c":             "-3 9 0 -0.33", // 4 − 9 = −5
		"area=4":               "5 9 0 1",      // (0 + 10 − 4) × 0.5 on 2; (5 + 4) / 9
		"day=2026-05-31":       "9 9 0 1",
		"day=2026-06-01":       "3 9 0 0.33",
		"one=x two=y area=2.5": "7.25 1.5 78.57 6.5",
	} {
		got := quiztest.Walk(t, p, strings.Fields(answers)...)
		if answers == "one=x" {
			want = "3.5 1 7.14 3.5" // 100 × 1 ÷ 14: both questions are seen
		}
		assert.Equal(
			t,
			want,
			strings.Join(
				[]string{got.Scores["total"], got.Scores["average"], got.Scores["part"], got.Scores["joined"]},
				" ",
			),
			answers,
		)
	}
	_, err := p.Read(p.Position("some"), program.Typed{Values: []string{"a", "b", "c"}})
	assert.ErrorIs(t, err, program.ErrLimits)
}

// A quote: an amount per answer, quantity × price, 2.9 % and 0.30 on top (common
// practice, no source); the currency's decimals by ISO 4217.
func TestQuotes(t *testing.T) {
	m := quiztest.New("a")
	price := m.Scale("price", quiz.Sum)
	price.Kind, price.Currency = quiz.Money, "EUR"
	price.Fees = map[string]*quiz.Fee{
		"card": {Order: 1, Name: "Card", Percent: decimal.Must("2.9"), Fixed: decimal.Must("0.30")},
	}
	m.Ask("visit", quiz.Single, "half price=45", "full price=80")
	each := decimal.Must("12.35")
	m.Ask("hives", quiz.Number).Weigh = map[string]*quiz.Weighing{"price": {Factor: &each}}
	p := m.Compile(t)
	w := passage.NewWalker(p)
	in := quiztest.Input(t, p, "visit=half", "hives=3")
	r := w.Walk(in)
	assert.Equal(
		t,
		"84.73 EUR",
		p.ScoreText(0, r.Scores[0]),
	) // 45 + 3 × 12.35 = 82.05; 2.9 % of it is 2.37945, rounded 2.38; and 0.30
	lines, total := w.Bill("price")
	var said []string
	for _, l := range lines {
		said = append(said, strings.TrimSpace(l.Words+" "+l.Detail)+": "+l.Text)
	}
	assert.Equal(t, []string{"half: 45.00", "hives 3 × 12.35: 37.05", "Sum: 82.05", "Card 2.9 % + 0.30: 2.68"}, said)
	assert.Equal(t, r.Scores[0], total)
	for code, places := range map[string]int{"EUR": 2, "JPY": 0, "KWD": 3} {
		assert.Equal(t, places, program.CurrencyPlaces(code), code)
	}
}

// The first landing whose condition holds is taken: by the visitor, the score
// and an answer together.
func TestLandings(t *testing.T) {
	m := quiztest.New("a")
	m.Scale("points", quiz.Sum)
	m.Ask("crop", quiz.Single, "apples points=4", "pears points=1")
	m.Outcomes["a"].Landings = map[string]*quiz.Landing{}
	read(
		t,
		`{"irish":{"order":1,"kind":"redirect","address":"https://ie.example/{crop}{?points,passage,visitor.query.ref}","when":{"all":[{"visitor":"country","op":"is","value":"IE"},{"scale":"points","op":"at least","value":3}]}},
		"rest":{"order":2,"kind":"page","blocks":{"a":{"order":1,"kind":"action","label":"Apples","address":"https://x.example","when":{"answer":"crop","op":"is","value":"apples"}},"b":{"order":2,"kind":"text","text":"All"}}}}`,
		&m.Outcomes["a"].Landings,
	)
	p := m.Compile(t)
	w := passage.NewWalker(p)
	in := quiztest.Input(t, p, "crop=apples", "visitor.country=IE", "visitor.query.ref=a&b")
	r := w.Walk(in)
	assert.Equal(t, "irish", passage.LandingKey(p, r))
	address, err := passage.NewFiller(p, in, r, "n7").Address(passage.AddressOf(p, r))
	require.NoError(t, err)
	assert.Equal(t, "https://ie.example/apples?points=4&passage=n7&visitor.query.ref=a%26b", address)
	r = w.Walk(quiztest.Input(t, p, "crop=pears", "visitor.country=IE"))
	assert.Equal(t, "rest", passage.LandingKey(p, r))
	assert.Equal(t, []string{"b"}, w.Blocks())
	w.Walk(quiztest.Input(t, p, "crop=apples"))
	assert.Equal(t, []string{"a", "b"}, w.Blocks())
	assert.Contains(t, explain(p, quiztest.Input(t, p, "crop=pears")), "The last landing takes everybody else: a page.")
}

// What a required question that was passed by could have added counts for a percent: nothing,
// and from there on whatever its answers add, less than nothing included.
func TestSpanOfABlankRequiredQuestion(t *testing.T) {
	m := quiztest.New("only")
	m.Scale("share", quiz.Percent)
	m.Ask("first", quiz.Single, "low share=2", "high share=5").Required = true
	m.Ask("second", quiz.Single, "none", "ten share=10").Required = true
	m.Ask("third", quiz.Single, "worse share=-5", "bad share=-1").Required = true
	p := m.Compile(t)
	for given, want := range map[string]string{
		"first=low second=ten third=bad": "82.35", // 11 between −3 and 14
		"second=ten third=bad":           "73.68", // 9 between −5 and 14: the first from 0 to 5
		"first=low second=ten":           "83.33", // 12 between −3 and 15: the third from −5 to 0
	} {
		in := quiztest.Input(t, p, strings.Fields(given)...)
		got := passage.Walk(p, in).Scores[0]
		assert.Equal(t, want, got.String(), given)
	}
}
