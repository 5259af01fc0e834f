package passage

import (
	"strings"

	"omphalos/core/decimal"
	"omphalos/core/program"
	"omphalos/core/quiz"
)

func (t *explainer) step(s *program.Step, taken bool, words string, parts ...any) {
	t.e.Steps = append(t.e.Steps, Considered{s.Key, taken, t.say(words, parts...)})
}

func (t *explainer) RuleHeld(s *program.Step) {
	t.step(s, true, "rule-held", t.ruleWords(s), t.outcome(s.Outcome))
}

func (t *explainer) RuleFailed(s *program.Step) {
	t.step(s, false, "rule-failed", t.ruleWords(s))
}

func (t *explainer) ruleWords(s *program.Step) string {
	return t.p.Quiz.SentenceIn(t.in.Voice, t.p.Quiz.Decision.Steps[s.Key].When)
}

func (t *explainer) TableHit(s *program.Step, rule int) {
	words := make([]string, len(s.Rules[rule].Cells))
	for i, cell := range s.Rules[rule].Cells {
		words[i] = t.p.Quiz.SentenceIn(t.in.Voice, cell.Source)
	}
	if len(words) == 0 {
		words = []string{t.say("takes-who-is-left")}
	}
	t.step(
		s,
		true,
		"table-hit",
		rule+1,
		strings.Join(words, t.say("and")),
		t.outcome(s.Rules[rule].Outcome),
	)
}

func (t *explainer) TableMissed(s *program.Step) {
	t.step(s, false, "table-missed", len(s.Rules))
}

func (t *explainer) Band(s *program.Step, band int, score decimal.Decimal) {
	var where string
	switch {
	case len(s.Cuts) == 1:
		where = t.say("only-band")
	case band == 0:
		where = t.say("band-below", t.figure(s.Cuts[1].At))
	case band == len(s.Cuts)-1:
		where = t.say("band-from", t.figure(s.Cuts[band].At))
	default:
		where = t.say("the-band-from-to", t.figure(s.Cuts[band].At), t.figure(s.Cuts[band+1].At))
	}
	if s.Cuts[band].Outcome == program.None {
		t.step(s, false, "open-band", scaleName(t.p, s.Scale), t.figure(score), where)
		return
	}
	t.step(
		s,
		true,
		"band",
		scaleName(t.p, s.Scale),
		t.figure(score),
		where,
		t.outcome(s.Cuts[band].Outcome),
	)
}

func (t *explainer) LeaderUnfed(s *program.Step) {
	t.step(s, false, "leader-unfed")
}

func (t *explainer) LeaderBelow(s *program.Step, leader int, best decimal.Decimal) {
	t.step(
		s,
		false,
		"leader-below",
		scaleName(t.p, s.Contenders[leader].Scale),
		t.figure(best),
		t.figure(s.Least),
	)
}

func (t *explainer) LeaderClose(s *program.Step, leader int, ahead decimal.Decimal) {
	t.step(
		s,
		false,
		"leader-close",
		scaleName(t.p, s.Contenders[leader].Scale),
		t.figure(ahead),
		t.figure(s.Lead),
	)
}

func (t *explainer) Leads(s *program.Step, leader int, best decimal.Decimal) {
	t.step(
		s,
		true,
		"leads",
		scaleName(t.p, s.Contenders[leader].Scale),
		t.figure(best),
		t.outcome(s.Contenders[leader].Outcome),
	)
}

func (t *explainer) Tied(w *program.Course, s *program.Step, scores []decimal.Decimal, best decimal.Decimal,
	outcome int) {
	var names []string
	for _, c := range s.Contenders {
		if scores[c.Scale] == best {
			names = append(names, scaleName(t.p, c.Scale))
		}
	}
	tie := t.say("tied", strings.Join(names, t.say("and")), t.figure(best))
	switch s.Ties {
	case quiz.TieNext:
		t.step(s, false, "tied-and-goes-on", tie)
	case quiz.TieOutcome:
		t.step(s, true, "tied-so-it-is", tie, t.outcome(outcome))
	case quiz.TieQuestion:
		t.step(s, true, "settled-so-it-is", tie, t.settled(w, s, scores, best), t.outcome(outcome))
	default:
		t.step(s, true, "tied-first-counts", tie, t.outcome(outcome))
	}
}

// settled says what settled a tie by the answer to a question.
func (t *explainer) settled(w *program.Course, s *program.Step, scores []decimal.Decimal, best decimal.Decimal) string {
	label := t.p.Question(s.TieBy).Label
	switch v := w.Given(s.TieBy); {
	case !w.Seen[s.TieBy]:
		return t.say("would-settle-unasked", label)
	case v == nil:
		return t.say("would-settle-unanswered", label)
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
		return t.say("the-answer-leaves-them-tied", label)
	}
	return t.say("the-answer-counts", label)
}

func (t *explainer) Landing(outcome, i int, taken bool) {
	key := t.p.Outcomes[outcome].Landings[i].Key
	l := t.p.Quiz.Outcomes[t.p.Outcomes[outcome].Key].Landings[key]
	var because string
	switch {
	case l.When == nil && i == 0:
		because = t.say("landing", landingWords(t.in.Voice, l))
	case l.When == nil:
		because = t.say("last-landing", landingWords(t.in.Voice, l))
	case taken:
		because = t.say("landing-holds", t.p.Quiz.SentenceIn(t.in.Voice, l.When), landingWords(t.in.Voice, l))
	default:
		because = t.say("landing-passed-over", t.p.Quiz.SentenceIn(t.in.Voice, l.When))
	}
	t.e.Landings = append(t.e.Landings, Considered{key, taken, because})
}
