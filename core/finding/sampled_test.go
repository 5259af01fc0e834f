package finding_test

import (
	"fmt"

	"omphalos/core/decimal"
	"omphalos/core/finding"
	"omphalos/core/quiz"
	"omphalos/core/quiztest"
)

func outcome(m quiztest.Maker, key string) {
	m.Outcomes[key] = &quiz.Outcome{
		Order:    9,
		Name:     key,
		Landings: map[string]*quiz.Landing{"page": {Kind: quiz.PageLanding}},
	}
}

func rule(m quiztest.Maker, order float64, when *quiz.Condition) {
	m.Decide(quiz.Step{Kind: quiz.RuleStep, Outcome: "yes", When: when}).Order = order
}

func then(m quiztest.Maker, when *quiz.Condition) {
	m.Questions["crop"].Then = map[string]*quiz.ThenRule{"t": {When: when, Then: quiz.Then{Go: quiz.Decide}}}
}

func table(m quiztest.Maker, rules ...map[string]string) {
	m.Decide(tableOf(rules...))
	m.Decision.Steps["step_b"] = m.Decision.Steps["step_"+string(rune('a'+len(m.Decision.Steps)-1))]
	m.Decision.Steps["step_b"].Order = -1
	if len(m.Decision.Steps) == 2 && m.Decision.Steps["step_a"] == m.Decision.Steps["step_b"] {
		delete(m.Decision.Steps, "step_a")
	}
}

func number(m quiztest.Maker, key string, from int64) {
	q := m.Ask("size", quiz.Number)
	q.Required, q.Limits = true, &quiz.Limits{Low: quiztest.NumberBound(0), High: quiztest.NumberBound(500)}
	q.Weigh = map[string]*quiz.Weighing{
		"need": {
			Brackets: map[string]*quiz.Bracket{"small": {}, key: {From: quiztest.NumberBound(from), Adds: decimal.One}},
		},
	}
}

// stepped weighs a number in steps of ten by brackets from and to.
func stepped(m quiztest.Maker, from, to int64) {
	ten := decimal.FromInt(10)
	q := m.Ask("size", quiz.Number)
	q.Required, q.Limits = true, &quiz.Limits{Low: quiztest.NumberBound(0), High: quiztest.NumberBound(500), Step: &ten}
	q.Weigh = map[string]*quiz.Weighing{
		"need": {
			Brackets: map[string]*quiz.Bracket{
				"small": {},
				"odd":   {From: quiztest.NumberBound(from), Adds: decimal.One},
				"rest":  {From: quiztest.NumberBound(to)},
			},
		},
	}
}

// huge adds a number of more values than are counted one by one, two of them so that no
// sum of theirs can be, and a band from a score on.
func huge(m quiztest.Maker, from int64) {
	half := decimal.One / 2
	for _, key := range []string{"size", "width"} {
		q := m.Ask(key, quiz.Number)
		q.Limits = &quiz.Limits{Low: quiztest.NumberBound(0), High: quiztest.NumberBound(500)}
		q.Weigh = map[string]*quiz.Weighing{"need": {Factor: &half}}
	}
	outcome(m, "maybe")
	m.Decision.Steps["step_a"].Cuts["high"] = &quiz.Cut{At: decimal.FromInt(from), Outcome: "maybe"}
}

// open adds a number without limits.
func open(m quiztest.Maker, factor int64) {
	times := decimal.FromInt(factor)
	m.Ask("size", quiz.Number).Weigh = map[string]*quiz.Weighing{"need": {Factor: &times}}
}

// wants asks for one or two of three, which are expected so often.
func wants(m quiztest.Maker, percents ...int64) {
	q := m.Ask("wants", quiz.Several, "fruit need=1", "honey need=1", "calm need=1")
	q.Required, q.Picks, q.Expect = true, &quiz.Picks{Max: 2}, map[string]decimal.Decimal{}
	for i, key := range []string{"fruit", "honey", "calm"} {
		q.Expect[key] = decimal.FromInt(percents[i])
	}
}

// rows adds a grid of which one row has amounts of its own in some columns.
func rows(m quiztest.Maker, own ...string) {
	q := m.Ask("habits", quiz.Grid, "rarely need=1", "often need=2")
	q.Rows = map[string]*quiz.Row{"mow": {Label: "mow", Adds: map[string]map[string]decimal.Decimal{}}}
	for _, k := range own {
		q.Rows["mow"].Adds[k] = quiztest.Amounts("need=3")
	}
}

// expect says how many answer what weighs nothing, to both questions.
func expect(m quiztest.Maker, plums, later int64) {
	m.Questions["crop"].Expect = map[string]decimal.Decimal{"plums": decimal.FromInt(plums)}
	m.Questions["when"].Expect = map[string]decimal.Decimal{"later": decimal.FromInt(later)}
}

func leader(m quiztest.Maker, answers ...string) {
	m.Scale("rival", quiz.Sum)
	m.Ask("more", quiz.Single, answers...).Required = true
	delete(m.Decision.Steps, "step_a")
	m.Decision.Steps["step_b"] = &quiz.Step{
		Kind:       quiz.LeaderStep,
		Contenders: map[string]*quiz.Contender{"need": {Outcome: "yes"}, "rival": {Outcome: "no"}},
	}
	for _, q := range []string{"crop", "when"} {
		for _, a := range m.Questions[q].Answers {
			a.Adds["need"] = a.Adds["need"].Div(decimal.FromInt(2))
		}
	}
	m.Questions["crop"].Answers["pears"].Adds["need"] = decimal.One
	m.Questions["when"].Answers["now"].Adds["need"] = 0
}

func contact(m quiztest.Maker, way quiz.Way) {
	outcome(m, "far")
	m.Questions["when"].Answers["later"].Then = &quiz.Then{Go: way, To: "far"}
	m.Contact = &quiz.Contact{
		Place:  quiz.AfterResult,
		Fields: map[string]*quiz.Question{"mail": {Kind: quiz.Email, Label: "E-mail"}},
		When: &quiz.Condition{
			Subject: quiz.Subject{Outcome: true},
			Test:    quiz.Test{Op: quiz.Is, Value: quiz.Words("far")},
		},
	}
}

func signpost(m quiztest.Maker, row string) {
	m.Outcomes["yes"].Landings["page"] = &quiz.Landing{
		Kind:     quiz.RedirectLanding,
		Signpost: &quiz.Signpost{Table: "yards", Row: row},
	}
}

func goesOut(m quiztest.Maker, f quiz.FollowUp) {
	m.FollowUps = map[string]*quiz.FollowUp{"out": &f}
}

func products(m quiztest.Maker, keys ...string) {
	l := &quiz.Landing{Kind: quiz.ProductsLanding, Products: &quiz.Products{}}
	for _, k := range keys {
		l.Products.Named = append(l.Products.Named, quiz.Named{Key: k})
	}
	m.Outcomes["yes"].Landings["page"] = l
}

func ask(m quiztest.Maker, more int) {
	for i := range more {
		m.Ask(fmt.Sprintf("q%d", i), quiz.Single, "a need=0.01", "b need=0").Required = true
	}
}

func county(m quiztest.Maker, n int) {
	var answers []string
	for i := range n {
		answers = append(answers, fmt.Sprintf("c%d need=0.0%d", i, i%3))
	}
	m.Ask("county", quiz.Single, answers...).Required = true
}

var outside = finding.Outside{
	Signpost: func(table, row string) bool { return table == "yards" && row == "south" },
	Product:  func(key string) bool { return key == "hive" },
	Unsaid: func(shown *quiz.Products, language string) int {
		if language == "de" {
			return 0
		}
		return len(shown.Named)
	},
	Places:   func(table string) bool { return table == "yards" },
	Calendar: func(name string) bool { return name == "visits" },
	Receiver: func(key string) bool { return key == "book" },
	List:     func(key string) bool { return key == "letter" },
	Mailless: true,
	Lost:     true,
	Today:    20783 * decimal.One, // 2026-11-26
}

// date asks for a day from tomorrow until another.
func date(m quiztest.Maker, until string) {
	tomorrow := 1
	day, _ := quiz.ParseDay(until)
	m.Ask("when", quiz.Date).Limits = &quiz.Limits{Soonest: &tomorrow, High: quiz.DayBound(day)}
}
