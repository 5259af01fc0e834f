package finding

import (
	"slices"

	"omphalos/core/odds"
	"omphalos/core/program"
	"omphalos/core/quiz"
)

type point = odds.Point

// manyTies is the share of respondents without a single leader that is worth knowing.
const manyTies = 0.05

func (f *finder) decision() {
	if _, decided := f.o.Ends[program.Decided]; !decided {
		return
	}
	var steps []string
	for _, k := range quiz.InOrder(f.q.Decision.Steps) {
		if !f.q.Decision.Steps[k].Off {
			steps = append(steps, k)
		}
	}
	for i, k := range steps {
		s := f.q.Decision.Steps[k]
		pointer := quiz.At("decision", "steps", k)
		if s.Kind != quiz.RuleStep && f.exactEnds() && !f.comesTo(steps[i:]) {
			f.note(
				"shadowed",
				pointer,
				mend("remove-the-step", remove(pointer)),
				"nobody-comes-to-this",
			)
			continue
		}
		switch s.Kind {
		case quiz.RuleStep:
			f.rule(pointer, k, s, i+1 < len(steps))
		case quiz.TableStep:
			f.table(pointer, k, s, i+1 == len(steps))
		case quiz.BandsStep:
			f.bands(pointer, k, s)
		case quiz.LeaderStep:
			f.unsettled(pointer, s, i+1 == len(steps))
			if share := f.o.Ties[k]; share > manyTies {
				f.note(
					"ties",
					pointer,
					nil,
					"of-respondents-have-no",
					percent(share),
				)
			}
		}
	}
	f.rulesTogether(steps)
}

// unsettled notes that a lead which is asked for leaves no tie to be settled.
func (f *finder) unsettled(pointer quiz.Pointer, s *quiz.Step, last bool) {
	if s.Lead == nil || *s.Lead <= 0 || s.Ties == nil || s.Ties.By == quiz.TieNext {
		return
	}
	to := say("the-next-step")
	if last {
		to = "“otherwise”"
	}
	f.note(
		"tie-never-settled",
		pointer+"/ties",
		mend("let-ties-go-on", put(pointer+"/ties", &quiz.Ties{By: quiz.TieNext})),
		"a-tie-is-never",
		s.Lead,
		to,
	)
}

// comesTo tells whether some passage comes to the first of the steps.
func (f *finder) comesTo(steps []string) bool {
	for _, k := range steps {
		if len(f.o.Steps[k]) > 0 {
			return true
		}
	}
	return f.o.Open > 0
}

func (f *finder) rule(pointer quiz.Pointer, key string, s *quiz.Step, more bool) {
	if s.When == nil || !f.exactEnds() {
		return
	}
	verdict := f.o.Held[s.When]
	switch _, decides := f.o.Steps[key]; {
	case !verdict.Held && !f.noted("never-holds", pointer+"/when"):
		f.note(
			"never-holds",
			pointer+"/when",
			mend("remove-the-rule", remove(pointer)),
			"the-rule-for-never",
			f.outcome(s.Outcome),
			f.q.Sentence(s.When),
			f.why(s.When, deciding),
		)
	case verdict.Held && !decides:
		f.note(
			"shadowed",
			pointer,
			mend("remove-the-rule", remove(pointer)),
			"the-rule-for-never-decides",
			f.outcome(s.Outcome),
			f.q.Sentence(s.When),
		)
	case !verdict.Failed && more:
		f.note(
			"always-holds",
			pointer+"/when",
			nil,
			"the-rule-for-always",
			f.outcome(s.Outcome),
			f.q.Sentence(s.When),
		)
	}
}

// noted tells whether something has been found at a place or below.
func (f *finder) noted(code string, pointer quiz.Pointer) bool {
	return slices.ContainsFunc(f.list, func(n Finding) bool {
		return n.Code == code && n.Pointer.Within(pointer)
	})
}
