package passage_test

import (
	"encoding/json"
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

func read(t *testing.T, s string, to any) {
	t.Helper()
	require.NoError(t, json.Unmarshal([]byte(s), to), s)
}

// Every operator on every kind of subject, answered and not.
func TestConditions(t *testing.T) {
	for _, c := range []struct{ condition, holds, fails, sentence string }{
		{`{"answer":"crop","op":"is","value":"apples"}`, "crop=apples", "crop=pears; ", `“crop” is “apples”`},
		{`{"answer":"crop","op":"is not","value":"apples"}`, "crop=pears; ", "crop=apples", `“crop” is not “apples”`},
		{`{"answer":"crop","op":"is one of","value":["apples","plums"]}`, "crop=apples; crop=plums",
			"crop=pears; ", `“crop” is one of “apples”, “plums”`},
		{`{"answer":"crop","op":"is answered"}`, "crop=pears", "", `“crop” is answered`},
		{`{"answer":"crop","op":"is skipped"}`, "; crop=", "crop=pears", `“crop” is skipped`},
		{`{"answer":"topics","op":"is","value":["price","care"]}`, "topics=care|price",
			"topics=care; topics=care|price|law; ", `“topics” is “price”, “care”`},
		{`{"answer":"topics","op":"is not","value":"care"}`, "topics=care|law; topics=law; ", "topics=care",
			`“topics” is not “care”`},
		{`{"answer":"topics","op":"is one of","value":["price","care"]}`, "topics=care|law; topics=price",
			"topics=law; ", `“topics” is one of “price”, “care”`},
		{`{"answer":"topics","op":"includes","value":["price","care"]}`, "topics=price|care|law",
			"topics=price|law; ", `“topics” includes “price”, “care”`},
		{`{"answer":"habits","row":"mow","op":"is","value":"often"}`, "habits.mow=often",
			"habits.mow=never; habits.feed=often; ", `“habits” for “mow” is “often”`},
		{`{"answer":"habits","row":"mow","op":"is skipped"}`, "habits.feed=often; ", "habits.mow=never",
			`“habits” for “mow” is skipped`},
		{`{"answer":"area","op":"at least","value":2.5}`, "area=2.5; area=3", "area=2.499999; ",
			`“area” is at least 2.5`},
		{`{"answer":"area","op":"at most","value":2}`, "area=2", "area=2.1; ", `“area” is at most 2`},
		{`{"answer":"area","op":"more than","value":2}`, "area=2.1", "area=2; ", `“area” is more than 2`},
		{`{"answer":"area","op":"less than","value":2}`, "area=1", "area=2; ", `“area” is less than 2`},
		{`{"answer":"area","op":"between","value":[2,4]}`, "area=2; area=4", "area=1; area=4.1; ",
			`“area” is between 2 and 4`},
		{`{"answer":"area","op":"is","value":2}`, "area=2; area=2.0", "area=3; ", `“area” is 2`},
		{`{"answer":"area","op":"is not","value":2}`, "area=3; ", "area=2", `“area” is not 2`},
		{`{"answer":"area","op":"is one of","value":[1,2]}`, "area=2", "area=3; ", `“area” is one of 1, 2`},
		{`{"answer":"when","op":"less than","value":"2026-05-01"}`, "when=2026-04-30", "when=2026-05-01; ",
			`“when” is less than “2026-05-01”`},
		{`{"answer":"when","op":"between","value":["2026-05-01","2026-05-31"]}`, "when=2026-05-31",
			"when=2026-06-01; ", `“when” is between “2026-05-01” and “2026-05-31”`},
		{`{"answer":"words","op":"contains","value":"BEE"}`, "words=Honey bees", "words=wasps; ",
			`“words” contains “BEE”`},
		{`{"answer":"words","op":"is","value":" bees"}`, "words=Bees", "words=bee; ", `“words” is “bees”`},
		{`{"scale":"points","op":"at least","value":4}`, "crop=apples", "crop=pears; ", `points is at least 4`},
		{`{"visitor":"country","op":"is one of","value":["IE","FR"]}`, "visitor.country=ie",
			"visitor.country=DE; ", `the visitor's country is one of “Ireland”, “France”`},
		{`{"visitor":"query.ref","op":"is answered"}`, "visitor.query.ref=7", "", `the address's “ref” is answered`},
		{`{"visitor":"query.ref","op":"more than","value":9}`, "visitor.query.ref=10",
			"visitor.query.ref=8; visitor.query.ref=x; ", `the address's “ref” is more than 9`},
		{`{"visitor":"date","op":"at least","value":"2026-05-01"}`, "visitor.date=2026-05-01",
			"visitor.date=2026-04-30; ", `the visitor's date is at least “2026-05-01”`},
		{`{"visitor":"time","op":"between","value":["09:00","17:30"]}`,
			"visitor.time=09:00; visitor.time=17:30", "visitor.time=17:31; ",
			`the visitor's time is between “09:00” and “17:30”`},
		{`{"outcome":true,"op":"is","value":"b"}`, "crop=apples", "crop=pears; ", `the outcome is “b”`},
		{`{"all":[{"answer":"crop","op":"is","value":"apples"},{"answer":"area","op":"more than","value":1}]}`,
			"crop=apples area=2", "crop=apples; area=2; ", `“crop” is “apples” and “area” is more than 1`},
		{`{"any":[{"answer":"crop","op":"is","value":"apples"},{"answer":"area","op":"more than","value":1}]}`,
			"crop=apples; area=2", "crop=pears; ", `“crop” is “apples” or “area” is more than 1`},
		{`{"none":[{"answer":"crop","op":"is","value":"apples"},{"answer":"area","op":"more than","value":1}]}`,
			"crop=pears area=1; ", "crop=apples; area=2", `neither “crop” is “apples” nor “area” is more than 1`},
		{`{"one":[{"answer":"crop","op":"is","value":"apples"},{"answer":"area","op":"more than","value":1},{"answer":"area","op":"more than","value":5}]}`, "crop=apples; crop=pears area=2", "crop=pears; crop=apples area=2; crop=pears area=6; ",
			`exactly one of “crop” is “apples”, “area” is more than 1 and “area” is more than 5`},
		{`{"all":[{"any":[{"answer":"crop","op":"is","value":"apples"},{"answer":"crop","op":"is","value":"pears"}]},{"none":[{"answer":"area","op":"is answered"}]}]}`, "crop=pears", "crop=pears area=1; ",
			`(“crop” is “apples” or “crop” is “pears”) and it is not so that “area” is answered`},
	} {
		m := quiztest.New("a", "b")
		m.Scale("points", quiz.Sum)
		m.Ask("crop", quiz.Single, "apples points=4", "pears", "plums")
		m.Ask("topics", quiz.Several, "price", "care", "law")
		m.Ask("habits", quiz.Grid, "never", "often").Rows = map[string]*quiz.Row{
			"mow":  {Label: "mow"},
			"feed": {Order: 1, Label: "feed"},
		}
		m.Ask("area", quiz.Number)
		m.Ask("when", quiz.Date)
		m.Ask("words", quiz.ShortText)
		m.Bands("points", "a", "4=b")
		var when quiz.Condition
		read(t, c.condition, &when)
		m.Contact = &quiz.Contact{Place: quiz.AfterResult, When: &when, Fields: map[string]*quiz.Question{}}
		p := m.Compile(t)
		assert.Equal(t, c.sentence, m.Sentence(&when))
		for want, answers := range map[bool]string{true: c.holds, false: c.fails} {
			for _, one := range strings.Split(answers, "; ") {
				fields := strings.Split(one, " ")
				if strings.HasPrefix(one, "words=") {
					fields = []string{one}
				}
				if one == "" {
					fields = nil
				}
				if one == "" && want && !strings.Contains(c.holds, ";") {
					continue
				}
				assert.Equal(t, want, passage.Walk(p, quiztest.Input(t, p, fields...)).Contact, "%s with %q", c.condition, one)
			}
		}
	}
}

// Going back and choosing another branch loses nothing that was typed, but what
// is off the passage adds nothing, fills in nothing and is not on the record.
func TestAnotherBranch(t *testing.T) {
	m := quiztest.New("a", "b")
	m.Scale("points", quiz.Sum)
	m.Ask("own", quiz.YesNo, "yes points=1", "no")
	m.Questions["own"].Answers["no"].Then = &quiz.Then{Go: quiz.ToQuestion, To: "name"}
	m.Ask("hives", quiz.Single, "few points=10", "many points=20")
	m.Ask("name", quiz.ShortText)
	m.Outcomes["a"].Text = "{name}, you have {hives}: {points}."
	p := m.Compile(t)
	text := func(in passage.Input) string {
		return passage.NewFiller(p, in, passage.Walk(p, in), "").Text(m.Outcomes["a"].Text)
	}
	in := quiztest.Input(t, p, "own=yes", "hives=many", "name=Ann")
	assert.Equal(t, "Ann, you have many: 21.", text(in))
	in.Answers[0] = quiztest.Input(t, p, "own=no").Answers[0]
	assert.Equal(t, "Ann, you have : 0.", text(in))
	assert.Equal(t, []string{"own", "name"}, quiztest.Walk(t, p, "own=no", "hives=many", "name=Ann").Seen)
	in.Answers[0] = quiztest.Input(t, p, "own=yes").Answers[0]
	assert.Equal(t, "Ann, you have many: 21.", text(in), "it is all still there")
}

// A then to a question that does not show is passed over to the next that does;
// a section shows or not as a whole; parting ways names an outcome and no score counts.
func TestPaths(t *testing.T) {
	m := quiztest.New("a", "b", "gone")
	m.Scale("points", quiz.Sum)
	m.Sections["extra"] = &quiz.Section{Order: 2, Heading: "Extra"}
	m.Sections["last"] = &quiz.Section{Order: 3}
	m.Ask("q1", quiz.Single, "skip points=1", "jump points=5", "leave points=9", "end", "straight")
	m.Ask("q2", quiz.YesNo, "yes", "no")
	m.Ask("q3", quiz.YesNo, "yes", "no").ShowWhen = &quiz.Condition{
		Subject: quiz.Subject{Scale: "points"},
		Test:    quiz.Test{Op: quiz.LessThan, Value: quiz.Amount(decimal.FromInt(3))},
	}
	m.Ask("q4", quiz.YesNo, "yes", "no").Section = "extra"
	m.Ask("q5", quiz.YesNo, "yes", "no").Section = "last"
	m.Sections["extra"].ShowWhen = is("q1", "skip")
	for answer, then := range map[string]quiz.Then{"jump": {Go: quiz.ToQuestion, To: "q3"},
		"leave": {Go: quiz.PartWays, To: "gone"}, "end": {Go: quiz.Decide},
		"straight": {Go: quiz.ToOutcome, To: "b"}, "skip": {Go: quiz.ToSection, To: "extra"}} {
		m.Questions["q1"].Answers[answer].Then = &then
	}
	p := m.Compile(t)
	for answer, want := range map[string]struct {
		seen    string
		end     program.End
		outcome string
	}{
		"skip": {"q1 q4 q5", program.Decided, "a"}, "jump": {"q1 q5", program.Decided, "a"},
		"leave": {"q1", program.Parted, "gone"},
		"end":   {"q1", program.Decided, "a"}, "straight": {"q1", program.Named, "b"},
		"": {"q1 q2 q3 q5", program.Decided, "a"},
	} {
		got := quiztest.Walk(t, p, "q1="+answer, "q2=yes", "q3=yes", "q4=yes", "q5=yes")
		assert.Equal(t, want.seen, strings.Join(got.Seen, " "), answer)
		assert.Equal(t, want.end, got.End, answer)
		assert.Equal(t, want.outcome, got.Outcome, answer)
	}
	m.Ask("q6", quiz.YesNo, "yes", "no").Section = "extra" // a section of several hides with all of them
	m.Ask("q7", quiz.YesNo, "yes", "no").Section = "extra"
	several := m.Compile(t)
	all := []string{"q2=yes", "q3=yes", "q4=yes", "q5=yes", "q6=yes", "q7=yes"}
	assert.Equal(t, "q1 q2 q3 q5", strings.Join(quiztest.Walk(t, several, append(all, "q1=")...).Seen, " "))
	assert.Equal(t, "q1 q4 q6 q7 q5", strings.Join(quiztest.Walk(t, several, append(all, "q1=skip")...).Seen, " "))
	e := passage.Explain(p, quiztest.Input(t, p, "q1=jump"))
	said := strings.Join(e.Sentences(), "\n")
	assert.Contains(t, said, `“q3” did not show, for it shows only if points is less than 3.`)
	assert.Contains(t, said, `The section “Extra” did not show, for it shows only if “q1” is “skip”.`)
	assert.Contains(t, said, `To “q1” the answer was “jump”: points +5; then on to “q3”.`)
	assert.Contains(
		t,
		strings.Join(explain(p, quiztest.Input(t, p, "q1=leave")), "\n"),
		"An answer parts ways with “gone”; nothing is kept.",
	)
}

func explain(p *program.Program, in passage.Input) []string {
	e := passage.Explain(p, in)
	return e.Sentences()
}

// A leader needs its least score and its lead; the explanation says what was missing.
func TestLeaders(t *testing.T) {
	m := quiztest.New("none", "honey", "calm")
	for _, k := range []string{"n_honey", "n_calm"} {
		m.Scale(k, quiz.Sum).Kind = quiz.Keyword
	}
	m.Ask("one", quiz.Single, "h n_honey=1", "c n_calm=1", "hh n_honey=3")
	m.Ask("two", quiz.Single, "h n_honey=1", "c n_calm=1")
	two, one := decimal.FromInt(2), decimal.One
	m.Decide(
		quiz.Step{
			Kind:  quiz.LeaderStep,
			Least: &two,
			Lead:  &one,
			Contenders: map[string]*quiz.Contender{
				"n_honey": {Outcome: "honey"},
				"n_calm":  {Order: 1, Outcome: "calm"},
			},
		},
	)
	p := m.Compile(t)
	for answers, want := range map[string][2]string{
		"one=h two=h":  {"honey", "n_honey leads with 2, so it is “honey”."},
		"one=hh two=c": {"honey", "n_honey leads with 3, so it is “honey”."},
		"one=c":        {"none", "n_calm leads with 1, which is less than the 2 that are needed."},
		"":             {"none", "Nothing was added to any of the contenders."},
	} {
		assert.Equal(t, want[0], quiztest.Walk(t, p, strings.Fields(answers)...).Outcome, answers)
		assert.Contains(t, explain(p, quiztest.Input(t, p, strings.Fields(answers)...)), want[1])
	}
}

// What respondents type is checked, in words for them.
func TestWhatIsTyped(t *testing.T) {
	m := quiztest.New("a")
	m.Ask("crop", quiz.Single, "apples", "other").Answers["other"].WriteIn = true
	m.Ask("area", quiz.Number).Limits = &quiz.Limits{Low: quiztest.NumberBound(1), High: quiztest.NumberBound(9)}
	half := decimal.Must("0.5")
	m.Questions["area"].Limits.Step = &half
	m.Ask("mail", quiz.Email)
	m.Ask("call", quiz.Phone)
	m.Ask("day", quiz.Date)
	m.Ask("stars", quiz.Stars)
	m.Ask("note", quiz.ShortText).Limits = &quiz.Limits{Low: quiztest.NumberBound(3), High: quiztest.NumberBound(5)}
	m.Ask("yes", quiz.Consent)
	p := m.Compile(t)
	for _, c := range []struct{ question, typed, becomes, says string }{
		{"crop", "apples", "apples", ""}, {"crop", "plums", "", "is not one of the answers"},
		{"area", "2,5", "2.5", ""}, {"area", "0.5", "", "must be between 1 and 9"},
		{"area", "2.25", "", "steps of 0.5 from 1"}, {"area", "many", "", "is not a number"},
		{"mail", "ann@example.org", "ann@example.org", ""}, {"mail", "ann@example", "",
			"such as name@example.org"}, {"mail", "a b@example.org", "", "such as"},
		{"call", "+353 (0)1 234 5678", "+35312345678", ""}, {"call", "12345", "", "country code"},
		{"day", "2026-02-28", "2026-02-28", ""}, {"day", "2026-02-30", "", "is not a date"},
		{"stars", "5", "5", ""}, {"stars", "6", "", "between 1 and 5"}, {"stars", "4.5", "", "steps of 1"},
		{"note", "bees", "bees", ""}, {"note", "b", "", "must be between 3 and 5 characters"},
		{"note", "bees & more", "", "characters"},
		{"yes", "yes", "yes", ""}, {"yes", "on", "", ""},
	} {
		i := p.Position(c.question)
		v, err := p.Read(i, program.Typed{Values: []string{c.typed}})
		if c.says != "" {
			assert.ErrorContains(t, err, c.says, c.typed)
			continue
		}
		require.NoError(t, err, c.typed)
		typed := p.Typed(i, v)
		assert.Equal(t, c.becomes, strings.Join(typed.Values, ","), c.typed)
	}
	v, err := p.Read(0, program.Typed{Values: []string{"other"}, WriteIn: "quinces"})
	require.NoError(t, err)
	assert.Equal(t, "quinces", p.Words(0, v))
}

// A tie that a question should settle says so where that question was not asked, was not
// answered, or leaves them tied.
func TestWhatSettlesATieIsTold(t *testing.T) {
	m := quiztest.New("a", "b")
	m.Scale("x", quiz.Sum)
	m.Scale("y", quiz.Sum)
	m.Ask("first", quiz.Single, "both x=2 y=2", "skip x=2 y=2").Required = true
	m.Ask("last", quiz.Single, "x x=1 y=1", "y").Label = "Which?"
	m.Questions["first"].Answers["skip"].Then = &quiz.Then{Go: quiz.Decide}
	m.Decide(
		quiz.Step{
			Kind:       quiz.LeaderStep,
			Contenders: map[string]*quiz.Contender{"x": {Outcome: "a"}, "y": {Order: 1, Outcome: "b"}},
			Ties:       &quiz.Ties{By: quiz.TieQuestion, Question: "last"},
		},
	)
	p := m.Compile(t)
	for answers, says := range map[string]string{
		"first=skip":        "“Which?” would settle it and was not asked on this passage: the first in order counts",
		"first=both":        "“Which?” would settle it and was not answered: the first in order counts",
		"first=both last=x": "the answer to “Which?” counts and leaves them tied: the first of those in order counts",
	} {
		e := passage.Explain(p, quiztest.Input(t, p, strings.Fields(answers)...))
		assert.Contains(t, e.Steps[0].Because, says, answers)
	}
	m.Questions["last"].Answers["y"].Adds = quiztest.Amounts("y=1")
	m.Questions["last"].Answers["x"].Adds = nil
	m.Questions["first"].Answers["both"].Adds = quiztest.Amounts("x=3 y=2")
	p = m.Compile(t)
	e := passage.Explain(p, quiztest.Input(t, p, "first=both", "last=y"))
	assert.Equal(t, "x and y are tied at 3; the answer to “Which?” counts, so it is “b”", e.Steps[0].Because)
}
