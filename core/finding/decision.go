package finding

import (
	"fmt"
	"math/big"
	"slices"
	"strings"

	"omphalos/core/coverage"
	"omphalos/core/edit"
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
			f.why(s.When),
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

func (f *finder) table(pointer quiz.Pointer, key string, s *quiz.Step, last bool) {
	c, err := coverage.OfTable(f.p, key, f.o.Range)
	hidden := map[string]bool{}
	if err == nil {
		for _, r := range c.Rules {
			if r.New.Sign() == 0 && r.Again.Sign() > 0 {
				hidden[r.Key] = true
				rule := pointer.Join("rules", r.Key)
				f.note(
					"shadowed",
					rule,
					mend("remove-the-row", remove(rule)),
					"row-of-the-table",
					place(s.Rules, r.Key),
				)
			}
		}
	}
	for _, k := range quiz.InOrder(s.Rules) {
		rule := pointer.Join("rules", k)
		verdict := f.o.Rows[key][k]
		_, decides := f.o.Steps[key][k]
		switch {
		case hidden[k] || !f.exactEnds() || decides:
		case !verdict.Held:
			f.note(
				"never-holds",
				rule,
				mend("remove-the-row", remove(rule)),
				"row-of-the-table-never",
				place(s.Rules, k),
			)
		default:
			f.note(
				"shadowed",
				rule,
				mend("remove-the-row", remove(rule)),
				"row-of-the-table-never-decides",
				place(s.Rules, k),
			)
		}
	}
	if err != nil || len(c.Left) == 0 {
		return
	}
	left := new(big.Int).Sub(c.All, c.Covered)
	level := say("go-to-otherwise")
	if !last {
		level = say("go-on-to-the-next")
	}
	var changes []edit.Op
	most := 0.0
	for _, r := range s.Rules {
		most = max(most, r.Order)
	}
	for i, row := range c.Left {
		k := free(i, func(key string) bool { return s.Rules[key] != nil })
		changes = append(
			changes,
			put(
				pointer.Join("rules", k),
				&quiz.TableRule{Order: most + float64(i) + 1, Cells: row.Cells, Outcome: f.q.Decision.Otherwise},
			),
		)
	}
	rows := "row"
	if len(c.Left) > 1 {
		rows = "rows"
	}
	f.note("not-covered", pointer, mendWith(say("fill-in-rows", len(c.Left), rows), changes...),
		"the-table-covers-of", c.Covered, c.All, left, level, f.left(c))
}

// left describes what a table leaves out.
func (f *finder) left(c *coverage.Coverage) string {
	words := make([]string, len(c.Left))
	for i, r := range c.Left {
		if words[i] = say("everything-else"); len(r.Cells) > 0 {
			words[i] = f.q.Sentence(c.Condition(r))
		}
	}
	if len(words) > 2 {
		return say("and-more-rows", words[0], words[1], len(words)-2)
	}
	return strings.Join(words, "; ")
}

func place(rules map[string]*quiz.TableRule, key string) int {
	return slices.Index(quiz.InOrder(rules), key) + 1
}

// free returns the n-th key that is not taken.
func free(n int, taken func(key string) bool) string {
	for i := 1; ; i++ {
		key := fmt.Sprintf("rest_%d", i)
		if taken(key) {
			continue
		}
		if n == 0 {
			return key
		}
		n--
	}
}

// rulesTogether notes what rule steps leave out where nothing else decides.
func (f *finder) rulesTogether(steps []string) {
	if len(steps) < 2 ||
		slices.ContainsFunc(steps, func(k string) bool { return f.q.Decision.Steps[k].Kind != quiz.RuleStep }) {
		return
	}
	c, err := coverage.OfRules(f.p, steps, f.o.Range)
	if err != nil || len(c.Left) == 0 {
		return
	}
	last := 0.0
	for _, s := range f.q.Decision.Steps {
		last = max(last, s.Order)
	}
	var changes []edit.Op
	for i, row := range c.Left {
		changes = append(
			changes,
			put(
				quiz.At("decision", "steps", free(i, func(key string) bool { return f.q.Decision.Steps[key] != nil })),
				&quiz.Step{
					Kind:    quiz.RuleStep,
					Order:   last + float64(i) + 1,
					When:    c.Condition(row),
					Outcome: f.q.Decision.Otherwise,
				},
			),
		)
	}
	written := mendWith(say("write-them-out", quiz.Count(len(c.Left), "rule")), changes...)
	if slices.ContainsFunc(c.Left, func(r coverage.Row) bool { return len(r.Cells) == 0 }) {
		written = nil // no test can say it
	}
	f.note(
		"not-covered",
		quiz.At("decision", "steps"),
		written,
		"the-rules-cover-of",
		c.Covered,
		c.All,
		new(big.Int).Sub(c.All, c.Covered),
		f.left(c),
	)
}

// bands that no score lies in, or that nobody gets to.
func (f *finder) bands(pointer quiz.Pointer, key string, s *quiz.Step) {
	if !f.weighing() {
		return
	}
	cuts := s.CutKeys()
	for i := range len(cuts) + 1 {
		in, _ := f.meets(s.Scale, bandTest(s, cuts, i))
		part, outcome, where := "", s.Lowest, pointer+"/lowest"
		if i > 0 {
			part, outcome, where = cuts[i-1], s.Cuts[cuts[i-1]].Outcome, pointer.Join("cuts", cuts[i-1])
		}
		_, decides := f.o.Steps[key][part]
		switch {
		case !in && len(cuts) > 0:
			f.note(
				"band-out-of-reach",
				where,
				f.withoutBand(pointer, s, cuts, i),
				"band-out-of-reach",
				f.band(s, cuts, i),
				f.bandOutcome(outcome),
				f.ends(s.Scale),
			)
		case in && outcome != "" && !decides && f.exactEnds() && len(f.o.Steps[key]) > 0:
			f.note(
				"shadowed",
				where,
				nil,
				"for-never-decides-the",
				f.band(s, cuts, i),
				f.bandOutcome(outcome),
			)
		}
	}
}

// bandTest is what scores of a band meet.
func bandTest(s *quiz.Step, cuts []string, i int) quiz.Test {
	switch {
	case len(cuts) == 0:
		return quiz.Test{Op: quiz.IsAnswered}
	case i == 0:
		return quiz.Test{Op: quiz.LessThan, Value: quiz.Amount(s.Cuts[cuts[0]].At)}
	case i == len(cuts):
		return quiz.Test{Op: quiz.AtLeast, Value: quiz.Amount(s.Cuts[cuts[i-1]].At)}
	}
	return quiz.Test{
		Op:    quiz.Between,
		Value: quiz.ListOf(quiz.Amount(s.Cuts[cuts[i-1]].At), quiz.Amount(s.Cuts[cuts[i]].At-1)),
	}
}

func (f *finder) bandOutcome(key string) string {
	if key == "" {
		return say("the-next-step")
	}
	return f.outcome(key)
}

// band says which band it is.
func (f *finder) band(s *quiz.Step, cuts []string, i int) string {
	switch {
	case i == 0:
		return say("the-band-below", s.Cuts[cuts[0]].At.Words())
	case i == len(cuts):
		return say("the-band-from", s.Cuts[cuts[i-1]].At.Words())
	}
	return say("the-band-from-to", s.Cuts[cuts[i-1]].At.Words(), s.Cuts[cuts[i]].At.Words())
}

// withoutBand removes a band: the lowest gives its place to the next.
func (f *finder) withoutBand(pointer quiz.Pointer, s *quiz.Step, cuts []string, i int) *Mend {
	if i > 0 {
		return mend("remove-the-band", remove(pointer.Join("cuts", cuts[i-1])))
	}
	next := s.Cuts[cuts[0]].Outcome
	first := remove(pointer + "/lowest")
	switch {
	case next != "":
		first = put(pointer+"/lowest", next)
	case s.Lowest == "":
		return mend("remove-the-band", remove(pointer.Join("cuts", cuts[0])))
	}
	return mend("remove-the-band", first, remove(pointer.Join("cuts", cuts[0])))
}
