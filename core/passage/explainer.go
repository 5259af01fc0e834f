package passage

import (
	"cmp"
	"strings"
	"time"

	"omphalos/core/decimal"
	"omphalos/core/formula"
	"omphalos/core/program"
	"omphalos/core/quiz"
	"omphalos/core/saying"
)

// An explainer is the tracer that gathers an explanation.
type explainer struct {
	p     *program.Program
	in    Input
	e     Explanation
	notes map[int]formula.Notes
}

func scaleName(p *program.Program, i int) string { return p.Quiz.Scales[p.Scales[i].Key].Name }

func (t *explainer) say(key string, parts ...any) string { return sayIn(t.in.Voice, key, parts...) }

func (t *explainer) outcome(i int) string {
	if i == program.None {
		return t.say("no-outcome")
	}
	return t.say("quoted", t.p.Quiz.Outcomes[t.p.Outcomes[i].Key].Name)
}

func (t *explainer) PassedSection(i int) {
	key := t.p.Sections[i].Key
	s := t.p.Quiz.Sections[key]
	name := s.Heading
	if name == "" {
		name = key
	}
	t.e.Passed = append(t.e.Passed, Passed{Section: key,
		Because: t.say(
			"section-did-not-show",
			name,
			t.p.Quiz.SentenceIn(t.in.Voice, s.ShowWhen),
		)})
}

func (t *explainer) PassedQuestion(i int) {
	q := t.p.Question(i)
	t.e.Passed = append(t.e.Passed, Passed{Question: t.p.Key(i),
		Because: t.say("question-did-not-show", q.Label, t.p.Quiz.SentenceIn(t.in.Voice, q.ShowWhen))})
}

func (t *explainer) Asked(i int, v *program.Value) {
	t.e.Asked = append(
		t.e.Asked,
		Asked{Question: t.p.Key(i), Label: t.p.Question(i).Label, Answer: t.in.words(t.p, i, *v)},
	)
}

// fillIn fills in the words of the quiz, as the respondent saw them; what was typed stays
// as it is.
func (t *explainer) fillIn(f *Filler) {
	for i := range t.e.Asked {
		a := &t.e.Asked[i]
		a.Label, a.Then = f.Plainly(a.Label), f.Plainly(a.Then)
		if at := t.p.Position(a.Question); t.p.Question(at).Kind.HasAnswers() && f.in.Answers[at].Text == "" {
			a.Answer = f.Plainly(a.Answer)
		}
	}
	for i := range t.e.Passed {
		t.e.Passed[i].Because = f.Plainly(t.e.Passed[i].Because)
	}
	for _, list := range [][]Considered{t.e.Steps, t.e.Landings} {
		for i := range list {
			list[i].Because = f.Plainly(list[i].Because)
		}
	}
}

func (t *explainer) Added(scale int, amount decimal.Decimal, row string) {
	last := &t.e.Asked[len(t.e.Asked)-1]
	if row != "" {
		row = t.p.Quiz.Questions[last.Question].Rows[row].Label
	}
	last.Adds = append(last.Adds, Added{t.p.Scales[scale].Key, scaleName(t.p, scale), row, amount})
}

func (t *explainer) Then(to *program.Onward) {
	words := t.say("to-the-decision")
	switch to.Way {
	case quiz.ToQuestion, quiz.ToSection:
		if to.Question < len(t.p.Questions) {
			words = t.say("on-to", t.p.Question(to.Question).Label)
		}
	case quiz.ToOutcome:
		words = t.say("straight-to", t.outcome(to.Outcome))
	case quiz.PartWays:
		words = t.say("parting-ways", t.outcome(to.Outcome))
	}
	t.e.Asked[len(t.e.Asked)-1].Then = words
}

func (t *explainer) Formula(scale int, n formula.Notes) {
	if t.notes == nil {
		t.notes = map[int]formula.Notes{}
	}
	t.notes[scale] = n
}

func (t *explainer) Reached(i int, value decimal.Decimal) {
	var notes []string
	if t.notes[i].DividedByZero {
		notes = append(notes, t.say("divided-by-zero"))
	}
	if t.notes[i].OutOfRange || value == decimal.Max || value == decimal.Min {
		notes = append(notes, t.say("beyond-range"))
	}
	t.e.Scales = append(
		t.e.Scales,
		Reached{t.p.Scales[i].Key, scaleName(t.p, i), value, t.in.Voice.Figures(t.p.ScoreText(i, value)),
			strings.Join(notes, "; ")},
	)
}

// figure writes a number.
func (t *explainer) figure(n decimal.Decimal) string { return t.in.Voice.Figures(n.Words()) }

// LandingWords says what a landing is: "a page", "a redirect to www.example.org".
func LandingWords(l *quiz.Landing) string { return landingWords(nil, l) }

func landingWords(in *saying.Voice, l *quiz.Landing) string {
	switch {
	case l.Kind == quiz.PageLanding:
		return sayIn(in, "page")
	case l.Kind == quiz.ProductsLanding:
		return sayIn(in, "products")
	case l.Signpost != nil:
		return sayIn(in, "signpost", l.Signpost.Row, l.Signpost.Table)
	}
	_, site, _ := strings.Cut(l.Address, "//")
	if end := strings.IndexAny(site, "/?#{"); end >= 0 {
		site = site[:end]
	}
	return sayIn(in, "redirect", site)
}

// words returns an answer as a person reads it: places by their names, appointments in the
// zone of their calendar, figures and days as the voice writes them.
func (in *Input) words(p *program.Program, i int, v program.Value) string {
	q, text := p.Question(i), p.Words(i, v)
	switch {
	case v.State != program.Given:
	case q.Kind == quiz.Location && in.Place != nil:
		return cmp.Or(in.Place(q.Table, v.Text), v.Text)
	case q.Kind == quiz.Appointment:
		if at, err := time.Parse(time.RFC3339, v.Text); err == nil {
			zone := p.Zone()
			if in.Zone != nil {
				zone = in.Zone(q.Table)
			}
			return in.Voice.Day(at.In(zone), true) + at.In(zone).Format(", 15:04")
		}
	case q.Kind == quiz.Date:
		return in.Voice.Day(quiz.TimeOf(v.Number), false)
	case q.Kind.Numeric():
		return in.Voice.Figures(text)
	}
	return text
}
