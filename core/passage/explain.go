package passage

import (
	"cmp"
	"fmt"
	"strings"

	"omphalos/core/decimal"
	"omphalos/core/formula"
	"omphalos/core/program"
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
	End      program.End  `json:"end"`
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
func Explain(p *program.Program, in Input) Explanation {
	t := &explainer{p: p, in: in}
	r := NewWalker(p).run(in, t)
	t.fillIn(NewFiller(p, in, r, ""))
	e := t.e
	e.End = r.End
	switch r.End {
	case program.Unfinished:
		return e
	case program.Named, program.Parted:
		how := "An answer leads straight to " + outcomeName(p, r.Outcome)
		if r.End == program.Parted {
			how = "An answer parts ways with " + outcomeName(p, r.Outcome) + "; nothing is kept"
		}
		e.Steps = []Considered{{Taken: true, Because: how}}
	case program.Decided:
		if r.Step == program.Otherwise {
			e.Steps = append(e.Steps, Considered{"otherwise", true, "Otherwise it is " + outcomeName(p, r.Outcome)})
		}
	}
	e.Outcome = OutcomeKey(p, r)
	e.Landing = LandingKey(p, r)
	return e
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
	p     *program.Program
	in    Input
	e     Explanation
	notes map[int]formula.Notes
}

func scaleName(p *program.Program, i int) string { return p.Quiz.Scales[p.Scales[i].Key].Name }

func outcomeName(p *program.Program, i int) string {
	if i == program.None {
		return "no outcome yet"
	}
	return "“" + p.Quiz.Outcomes[p.Outcomes[i].Key].Name + "”"
}

func (t *explainer) PassedSection(i int) {
	key := t.p.Sections[i].Key
	s := t.p.Quiz.Sections[key]
	name := s.Heading
	if name == "" {
		name = key
	}
	t.e.Passed = append(t.e.Passed, Passed{Section: key,
		Because: fmt.Sprintf(
			"The section “%s” did not show, for it shows only if %s",
			name,
			t.p.Quiz.Sentence(s.ShowWhen),
		)})
}

func (t *explainer) PassedQuestion(i int) {
	q := t.p.Question(i)
	t.e.Passed = append(t.e.Passed, Passed{Question: t.p.Key(i),
		Because: fmt.Sprintf("“%s” did not show, for it shows only if %s", q.Label, t.p.Quiz.Sentence(q.ShowWhen))})
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
	words := "to the decision"
	switch to.Way {
	case quiz.ToQuestion, quiz.ToSection:
		if to.Question < len(t.p.Questions) {
			words = "on to “" + t.p.Question(to.Question).Label + "”"
		}
	case quiz.ToOutcome:
		words = "straight to " + outcomeName(t.p, to.Outcome)
	case quiz.PartWays:
		words = "parting ways with " + outcomeName(t.p, to.Outcome)
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
		notes = append(notes, "a division by zero was taken as 0")
	}
	if t.notes[i].OutOfRange || value == decimal.Max || value == decimal.Min {
		notes = append(notes, "the value is beyond the range and stopped at its end")
	}
	t.e.Scales = append(
		t.e.Scales,
		Reached{t.p.Scales[i].Key, scaleName(t.p, i), value, t.p.ScoreText(i, value), strings.Join(notes, "; ")},
	)
}

func (t *explainer) step(s *program.Step, taken bool, format string, args ...any) {
	t.e.Steps = append(t.e.Steps, Considered{s.Key, taken, fmt.Sprintf(format, args...)})
}

func (t *explainer) RuleHeld(s *program.Step) {
	t.step(s, true, "It holds that %s, so it is %s", t.ruleWords(s), outcomeName(t.p, s.Outcome))
}

func (t *explainer) RuleFailed(s *program.Step) {
	t.step(s, false, "It does not hold that %s", t.ruleWords(s))
}

func (t *explainer) ruleWords(s *program.Step) string {
	return t.p.Quiz.Sentence(t.p.Quiz.Decision.Steps[s.Key].When)
}

func (t *explainer) TableHit(s *program.Step, rule int) {
	words := make([]string, len(s.Rules[rule].Cells))
	for i, cell := range s.Rules[rule].Cells {
		words[i] = t.p.Quiz.Sentence(cell.Source)
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
		outcomeName(t.p, s.Rules[rule].Outcome),
	)
}

func (t *explainer) TableMissed(s *program.Step) {
	t.step(s, false, "None of the table's rules fits (%d)", len(s.Rules))
}

func (t *explainer) Band(s *program.Step, band int, score decimal.Decimal) {
	var where string
	switch {
	case len(s.Cuts) == 1:
		where = "the only band"
	case band == 0:
		where = "the band below " + s.Cuts[1].At.Words()
	case band == len(s.Cuts)-1:
		where = "the band from " + s.Cuts[band].At.Words()
	default:
		where = fmt.Sprintf("the band from %s to below %s", s.Cuts[band].At.Words(), s.Cuts[band+1].At.Words())
	}
	if s.Cuts[band].Outcome == program.None {
		t.step(s, false, "%s of %s lies in %s, which is open", scaleName(t.p, s.Scale), score.Words(), where)
		return
	}
	t.step(
		s,
		true,
		"%s of %s lies in %s, so it is %s",
		scaleName(t.p, s.Scale),
		score.Words(),
		where,
		outcomeName(t.p, s.Cuts[band].Outcome),
	)
}

func (t *explainer) LeaderUnfed(s *program.Step) {
	t.step(s, false, "Nothing was added to any of the contenders")
}

func (t *explainer) LeaderBelow(s *program.Step, leader int, best decimal.Decimal) {
	t.step(
		s,
		false,
		"%s leads with %s, which is less than the %s that are needed",
		scaleName(t.p, s.Contenders[leader].Scale),
		best.Words(),
		s.Least.Words(),
	)
}

func (t *explainer) LeaderClose(s *program.Step, leader int, ahead decimal.Decimal) {
	t.step(
		s,
		false,
		"%s leads by %s, which is less than the lead of %s that is needed",
		scaleName(t.p, s.Contenders[leader].Scale),
		ahead.Words(),
		s.Lead.Words(),
	)
}

func (t *explainer) Leads(s *program.Step, leader int, best decimal.Decimal) {
	t.step(
		s,
		true,
		"%s leads with %s, so it is %s",
		scaleName(t.p, s.Contenders[leader].Scale),
		best.Words(),
		outcomeName(t.p, s.Contenders[leader].Outcome),
	)
}

func (t *explainer) Tied(w *program.Course, s *program.Step, scores []decimal.Decimal, best decimal.Decimal, outcome int) {
	var names []string
	for _, c := range s.Contenders {
		if scores[c.Scale] == best {
			names = append(names, scaleName(t.p, c.Scale))
		}
	}
	tie := fmt.Sprintf("%s are tied at %s", strings.Join(names, " and "), best.Words())
	switch s.Ties {
	case quiz.TieNext:
		t.step(s, false, "%s, and the decision goes on", tie)
	case quiz.TieOutcome:
		t.step(s, true, "%s, so it is %s", tie, outcomeName(t.p, outcome))
	case quiz.TieQuestion:
		t.step(s, true, "%s; %s, so it is %s", tie, t.settled(w, s, scores, best), outcomeName(t.p, outcome))
	default:
		t.step(s, true, "%s; the first in order counts, so it is %s", tie, outcomeName(t.p, outcome))
	}
}

// settled says what settled a tie by the answer to a question.
func (t *explainer) settled(w *program.Course, s *program.Step, scores []decimal.Decimal, best decimal.Decimal) string {
	label := t.p.Question(s.TieBy).Label
	switch v := w.Given(s.TieBy); {
	case !w.Seen[s.TieBy]:
		return fmt.Sprintf("“%s” would settle it and was not asked on this passage: the first in order counts", label)
	case v == nil:
		return fmt.Sprintf("“%s” would settle it and was not answered: the first in order counts", label)
	}
	most, alike := decimal.Min, 0
	for _, c := range s.Contenders {
		if scores[c.Scale] != best {
			continue
		}
		switch added := w.AddedBy(s.TieBy, c.Scale); {
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

func (t *explainer) Landing(outcome, i int, taken bool) {
	key := t.p.Outcomes[outcome].Landings[i].Key
	l := t.p.Quiz.Outcomes[t.p.Outcomes[outcome].Key].Landings[key]
	var because string
	switch {
	case l.When == nil && i == 0:
		because = "The landing is " + landingWords(l)
	case l.When == nil:
		because = "The last landing takes everybody else: " + landingWords(l)
	case taken:
		because = fmt.Sprintf("It holds that %s, so the landing is %s", t.p.Quiz.Sentence(l.When), landingWords(l))
	default:
		because = fmt.Sprintf("The landing for “%s” is passed over", t.p.Quiz.Sentence(l.When))
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

// words is Program.Words where places have names.
func (in *Input) words(p *program.Program, i int, v program.Value) string {
	if q := p.Question(i); q.Kind == quiz.Location && v.State == program.Given && in.Place != nil {
		return cmp.Or(in.Place(q.Table, v.Text), v.Text)
	}
	return p.Words(i, v)
}
