package finding

import (
	"fmt"
	"math/big"
	"slices"
	"strings"

	"omphalos/core/coverage"
	"omphalos/core/edit"
	"omphalos/core/quiz"
)

func (f *finder) table(pointer quiz.Pointer, key string, s *quiz.Step, last bool) {
	c, err := coverage.OfTable(f.p, key, f.o.Range)
	hidden := map[string]bool{}
	if err == nil {
		for _, r := range c.Rules {
			_, decides := f.o.Steps[key][r.Key]
			if r.New.Sign() == 0 && r.Again.Sign() > 0 && !decides && (f.exactEnds() || f.counted(s)) {
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

// counted tells whether whatever can come to a table is among its combinations: a required
// question that is passed over is not.
func (f *finder) counted(s *quiz.Step) bool {
	for _, c := range s.Columns {
		if q := f.q.Questions[c.Answer]; q != nil && q.Required {
			return false
		}
	}
	return true
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
