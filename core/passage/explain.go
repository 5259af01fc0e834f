package passage

import (
	"fmt"
	"strings"

	"omphalos/core/decimal"
	"omphalos/core/formula"
	"omphalos/core/quiz"
)

// An Explanation says why a passage ended where it did. It is data; Sentences
// writes it out.
type Explanation struct {
	Asked    []Asked      `json:"asked"`              // the questions on the passage
	Passed   []Passed     `json:"passed,omitempty"`   // what did not show
	Scales   []Reached    `json:"scales"`             // what the scales came to
	Steps    []Considered `json:"steps,omitempty"`    // the decision's steps up to the one that named the outcome
	Landings []Considered `json:"landings,omitempty"` // the landings up to the one taken
	End      End          `json:"end"`
	Outcome  string       `json:"outcome,omitempty"` // key
	Landing  string       `json:"landing,omitempty"` // key
}

// Asked is a question on the passage, with its answer in words.
type Asked struct {
	Question string  `json:"question"`
	Label    string  `json:"label"`
	Answer   string  `json:"answer,omitempty"` // "" where it was skipped
	Adds     []Added `json:"adds,omitempty"`
	Then     string  `json:"then,omitempty"` // where the answer led, if not to the next question
}

// Added is an amount that an answer, or a row of a grid, put on a scale.
type Added struct {
	Scale  string          `json:"scale"`
	Name   string          `json:"name"`
	Row    string          `json:"row,omitempty"`
	Amount decimal.Decimal `json:"amount"`
}

// Passed is a question or a section that did not show, and why.
type Passed struct {
	Question string `json:"question,omitempty"`
	Section  string `json:"section,omitempty"`
	Because  string `json:"because"`
}

// Reached is what a scale came to.
type Reached struct {
	Scale string          `json:"scale"`
	Name  string          `json:"name"`
	Value decimal.Decimal `json:"value"`
	Text  string          `json:"text"`           // with decimals, unit or currency
	Note  string          `json:"note,omitempty"` // what had to be decided by rule
}

// Considered is a step of the decision or a landing, and why it was taken or not.
type Considered struct {
	Key     string `json:"key"`
	Taken   bool   `json:"taken"`
	Because string `json:"because"`
}

// Explain walks the passage and says why it ended as it did.
func (p *Program) Explain(in Input) Explanation {
	t := &explainer{p: p, in: in}
	r := p.Walker().run(in, t)
	t.fillIn(p.Filler(in, r, ""))
	e := t.e
	e.End = r.End
	switch r.End {
	case Unfinished:
		return e
	case Named, Parted:
		how := "An answer leads straight to " + p.outcomeName(r.Outcome)
		if r.End == Parted {
			how = "An answer parts ways with " + p.outcomeName(r.Outcome) + "; nothing is kept"
		}
		e.Steps = []Considered{{Taken: true, Because: how}}
	case Decided:
		if r.Step == Otherwise {
			e.Steps = append(e.Steps, Considered{"otherwise", true, "Otherwise it is " + p.outcomeName(r.Outcome)})
		}
	}
	e.Outcome = p.OutcomeKey(r)
	e.Landing = p.LandingKey(r)
	return e
}

// OutcomeKey returns the key of the result's outcome, "" when unfinished.
func (p *Program) OutcomeKey(r *Result) string {
	if r.End == Unfinished {
		return ""
	}
	return p.outcomes[r.Outcome].key
}

// LandingKey returns the key of the result's landing, "" when unfinished.
func (p *Program) LandingKey(r *Result) string {
	if r.End == Unfinished {
		return ""
	}
	return p.outcomes[r.Outcome].landings[r.Landing].key
}

// Sentences writes the explanation out, one sentence a line.
func (e *Explanation) Sentences() []string {
	var lines []string
	say := func(format string, args ...any) { lines = append(lines, fmt.Sprintf(format, args...)+".") }
	for _, a := range e.Asked {
		line := fmt.Sprintf("To “%s” the answer was “%s”", a.Label, a.Answer)
		if a.Answer == "" {
			line = fmt.Sprintf("“%s” was not answered", a.Label)
		}
		if len(a.Adds) > 0 {
			parts := make([]string, len(a.Adds))
			for i, add := range a.Adds {
				parts[i] = add.Name + " " + add.Amount.Signed()
				if add.Row != "" {
					parts[i] += " (" + add.Row + ")"
				}
			}
			line += ": " + strings.Join(parts, ", ")
		}
		if a.Then != "" {
			line += "; then " + a.Then
		}
		say("%s", line)
	}
	for _, p := range e.Passed {
		say("%s", p.Because)
	}
	for _, s := range e.Scales {
		line := s.Name + " came to " + s.Text
		if s.Note != "" {
			line += " (" + s.Note + ")"
		}
		say("%s", line)
	}
	for _, c := range append(append([]Considered(nil), e.Steps...), e.Landings...) {
		say("%s", c.Because)
	}
	return lines
}

// An explainer is the tracer that gathers an explanation.
type explainer struct {
	p     *Program
	in    Input
	e     Explanation
	notes map[int]formula.Notes
}

func (p *Program) scaleName(i int) string { return p.quiz.Scales[p.scales[i].key].Name }

func (p *Program) outcomeName(i int) string {
	if i == none {
		return "no outcome yet"
	}
	return "“" + p.quiz.Outcomes[p.outcomes[i].key].Name + "”"
}

func (t *explainer) passedSection(i int) {
	key := t.p.sections[i].key
	s := t.p.quiz.Sections[key]
	name := s.Heading
	if name == "" {
		name = key
	}
	t.e.Passed = append(t.e.Passed, Passed{Section: key,
		Because: fmt.Sprintf(
			"The section “%s” did not show, for it shows only if %s",
			name,
			t.p.quiz.Sentence(s.ShowWhen),
		)})
}

func (t *explainer) passedQuestion(i int) {
	q := t.p.Question(i)
	t.e.Passed = append(t.e.Passed, Passed{Question: t.p.Key(i),
		Because: fmt.Sprintf("“%s” did not show, for it shows only if %s", q.Label, t.p.quiz.Sentence(q.ShowWhen))})
}

func (t *explainer) asked(i int, v *Value) {
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

func (t *explainer) added(scale int, amount decimal.Decimal, row string) {
	last := &t.e.Asked[len(t.e.Asked)-1]
	if row != "" {
		row = t.p.quiz.Questions[last.Question].Rows[row].Label
	}
	last.Adds = append(last.Adds, Added{t.p.scales[scale].key, t.p.scaleName(scale), row, amount})
}

func (t *explainer) then(to *then) {
	words := "to the decision"
	switch to.way {
	case quiz.ToQuestion, quiz.ToSection:
		if to.question < len(t.p.questions) {
			words = "on to “" + t.p.Question(to.question).Label + "”"
		}
	case quiz.ToOutcome:
		words = "straight to " + t.p.outcomeName(to.outcome)
	case quiz.PartWays:
		words = "parting ways with " + t.p.outcomeName(to.outcome)
	}
	t.e.Asked[len(t.e.Asked)-1].Then = words
}

func (t *explainer) formula(scale int, n formula.Notes) {
	if t.notes == nil {
		t.notes = map[int]formula.Notes{}
	}
	t.notes[scale] = n
}

func (t *explainer) reached(i int, value decimal.Decimal) {
	var notes []string
	if t.notes[i].DividedByZero {
		notes = append(notes, "a division by zero was taken as 0")
	}
	if t.notes[i].OutOfRange || value == decimal.Max || value == decimal.Min {
		notes = append(notes, "the value is beyond the range and stopped at its end")
	}
	t.e.Scales = append(
		t.e.Scales,
		Reached{t.p.scales[i].key, t.p.scaleName(i), value, t.p.ScoreText(i, value), strings.Join(notes, "; ")},
	)
}

func (t *explainer) step(s *step, taken bool, format string, args ...any) {
	t.e.Steps = append(t.e.Steps, Considered{s.key, taken, fmt.Sprintf(format, args...)})
}

func (t *explainer) ruleHeld(s *step) {
	t.step(s, true, "It holds that %s, so it is %s", t.ruleWords(s), t.p.outcomeName(s.outcome))
}

func (t *explainer) ruleFailed(s *step) {
	t.step(s, false, "It does not hold that %s", t.ruleWords(s))
}

func (t *explainer) ruleWords(s *step) string {
	return t.p.quiz.Sentence(t.p.quiz.Decision.Steps[s.key].When)
}

func (t *explainer) tableHit(s *step, rule int) {
	words := make([]string, len(s.rules[rule].cells))
	for i, cell := range s.rules[rule].cells {
		words[i] = t.p.quiz.Sentence(cell.source)
	}
	if len(words) == 0 {
		words = []string{"it takes everybody who is left"}
	}
	t.step(
		s,
		true,
		"Rule %d of the table fits, for %s, so it is %s",
		rule+1,
		strings.Join(words, " and "),
		t.p.outcomeName(s.rules[rule].outcome),
	)
}

func (t *explainer) tableMissed(s *step) {
	t.step(s, false, "None of the table's rules fits (%d)", len(s.rules))
}

func (t *explainer) band(s *step, band int, score decimal.Decimal) {
	var where string
	switch {
	case len(s.cuts) == 1:
		where = "the only band"
	case band == 0:
		where = "the band below " + s.cuts[1].at.Words()
	case band == len(s.cuts)-1:
		where = "the band from " + s.cuts[band].at.Words()
	default:
		where = fmt.Sprintf("the band from %s to below %s", s.cuts[band].at.Words(), s.cuts[band+1].at.Words())
	}
	if s.cuts[band].outcome == none {
		t.step(s, false, "%s of %s lies in %s, which is open", t.p.scaleName(s.scale), score.Words(), where)
		return
	}
	t.step(
		s,
		true,
		"%s of %s lies in %s, so it is %s",
		t.p.scaleName(s.scale),
		score.Words(),
		where,
		t.p.outcomeName(s.cuts[band].outcome),
	)
}

func (t *explainer) leaderUnfed(s *step) {
	t.step(s, false, "Nothing was added to any of the contenders")
}

func (t *explainer) leaderBelow(s *step, leader int, best decimal.Decimal) {
	t.step(
		s,
		false,
		"%s leads with %s, which is less than the %s that are needed",
		t.p.scaleName(s.contenders[leader].scale),
		best.Words(),
		s.least.Words(),
	)
}

func (t *explainer) leaderClose(s *step, leader int, ahead decimal.Decimal) {
	t.step(
		s,
		false,
		"%s leads by %s, which is less than the lead of %s that is needed",
		t.p.scaleName(s.contenders[leader].scale),
		ahead.Words(),
		s.lead.Words(),
	)
}

func (t *explainer) leads(s *step, leader int, best decimal.Decimal) {
	t.step(
		s,
		true,
		"%s leads with %s, so it is %s",
		t.p.scaleName(s.contenders[leader].scale),
		best.Words(),
		t.p.outcomeName(s.contenders[leader].outcome),
	)
}

func (t *explainer) tied(w *walk, s *step, scores []decimal.Decimal, best decimal.Decimal, outcome int) {
	var names []string
	for _, c := range s.contenders {
		if scores[c.scale] == best {
			names = append(names, t.p.scaleName(c.scale))
		}
	}
	tie := fmt.Sprintf("%s are tied at %s", strings.Join(names, " and "), best.Words())
	switch s.ties {
	case quiz.TieNext:
		t.step(s, false, "%s, and the decision goes on", tie)
	case quiz.TieOutcome:
		t.step(s, true, "%s, so it is %s", tie, t.p.outcomeName(outcome))
	case quiz.TieQuestion:
		t.step(s, true, "%s; %s, so it is %s", tie, t.settled(w, s, scores, best), t.p.outcomeName(outcome))
	default:
		t.step(s, true, "%s; the first in order counts, so it is %s", tie, t.p.outcomeName(outcome))
	}
}

// settled says what settled a tie by the answer to a question.
func (t *explainer) settled(w *walk, s *step, scores []decimal.Decimal, best decimal.Decimal) string {
	label := t.p.Question(s.tieBy).Label
	switch v := w.given(s.tieBy); {
	case !w.seen[s.tieBy]:
		return fmt.Sprintf("“%s” would settle it and was not asked on this passage: the first in order counts", label)
	case v == nil:
		return fmt.Sprintf("“%s” would settle it and was not answered: the first in order counts", label)
	}
	most, alike := decimal.Min, 0
	for _, c := range s.contenders {
		if scores[c.scale] != best {
			continue
		}
		switch added := w.addedBy(s.tieBy, c.scale); {
		case added > most:
			most, alike = added, 1
		case added == most:
			alike++
		}
	}
	if alike > 1 {
		return fmt.Sprintf("the answer to “%s” counts and leaves them tied: the first of those in order counts", label)
	}
	return fmt.Sprintf("the answer to “%s” counts", label)
}

func (t *explainer) landing(outcome, i int, taken bool) {
	key := t.p.outcomes[outcome].landings[i].key
	l := t.p.quiz.Outcomes[t.p.outcomes[outcome].key].Landings[key]
	var because string
	switch {
	case l.When == nil && i == 0:
		because = "The landing is " + landingWords(l)
	case l.When == nil:
		because = "The last landing takes everybody else: " + landingWords(l)
	case taken:
		because = fmt.Sprintf("It holds that %s, so the landing is %s", t.p.quiz.Sentence(l.When), landingWords(l))
	default:
		because = fmt.Sprintf("The landing for “%s” is passed over", t.p.quiz.Sentence(l.When))
	}
	t.e.Landings = append(t.e.Landings, Considered{key, taken, because})
}

func landingWords(l *quiz.Landing) string {
	switch {
	case l.Kind == quiz.PageLanding:
		return "a page"
	case l.Kind == quiz.ProductsLanding:
		return "a list of products"
	case l.Signpost != nil:
		return fmt.Sprintf("a redirect by the signpost %s in %s", l.Signpost.Row, l.Signpost.Table)
	}
	_, site, _ := strings.Cut(l.Address, "//")
	if end := strings.IndexAny(site, "/?#{"); end >= 0 {
		site = site[:end]
	}
	return "a redirect to " + site
}
