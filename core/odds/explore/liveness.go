package explore

import (
	"slices"

	"omphalos/core/program"
	"omphalos/core/quiz"
)

// Places on the sheet, in the order in which something is asked for there: whether
// question i shows, what was answered and where it leads, …, and the end.
func showing(i int) int { return 2 * i }

func before(i int) int { return 2*i + 1 }

// A comparison of a scale with a number.
type comparison struct {
	op      quiz.Op
	numbers []int64 // decimals
}

// liveness finds, for each scale and each answer, the last place that asks for it.
func (e *Explorer) liveness() {
	p := e.p
	n, end := len(p.Questions), before(len(p.Questions))
	e.asked = fill(n, -1)
	e.clauses = make([][]*program.Condition, n)
	e.numbers = make([]bool, n)
	e.settles = make([][]int, n)
	e.class = make([]int, n)
	scales := len(p.Scales)
	e.until = fill(scales, -1)
	e.alone = make([]bool, scales)
	e.leads = make([]int, scales)
	e.compared = make([][]comparison, scales)
	e.fedSlots = fill(scales, program.None)
	for i := range e.alone {
		e.alone[i] = true
	}
	for s := range p.Sections {
		e.note(p.Sections[s].When, showing(max(p.SectionEnd(s)-1, 0)))
	}
	for i := range p.Questions {
		e.note(p.Questions[i].When, showing(i))
		for _, r := range p.Questions[i].Then {
			e.note(r.When, before(i))
		}
	}
	if e.lands() {
		for i := range p.Steps {
			e.noteStep(&p.Steps[i], end)
		}
		for _, o := range p.Outcomes {
			for _, l := range o.Landings {
				e.note(l.When, end)
				for _, c := range e.shown(&l) {
					e.note(c, end)
				}
			}
		}
		for _, c := range e.afterwards() {
			e.note(c, end)
		}
		e.feeders()
	}
	for _, scale := range e.tracks {
		e.noteScale(scale, end)
		e.alone[scale] = false
	}
	e.fills()
	for i := range n {
		if e.asked[i] > before(i) {
			e.kept = append(e.kept, i)
		}
	}
	e.classes, e.signed = make([][]program.Value, n), make([]map[string]int, n)
	e.fed = make([]bool, e.fedCount)
}

func fill(n, with int) []int {
	list := make([]int, n)
	for i := range list {
		list[i] = with
	}
	return list
}

// note takes down what a condition asks for at a place.
func (e *Explorer) note(c *program.Condition, at int) {
	if c == nil {
		return
	}
	for _, part := range c.Parts {
		e.note(part, at)
	}
	if c.Group != "" {
		return
	}
	switch c.Subject {
	case program.OfOption, program.OfPicks, program.OfNumber, program.OfText:
		e.asked[c.Question] = max(e.asked[c.Question], at)
		if !slices.Contains(e.clauses[c.Question], c) {
			e.clauses[c.Question] = append(e.clauses[c.Question], c)
		}
	case program.OfScale:
		e.noteScale(c.Scale, at)
		to := comparison{op: c.Op}
		for _, d := range c.Numbers {
			to.numbers = append(to.numbers, int64(d))
		}
		e.compared[c.Scale] = append(e.compared[c.Scale], to)
	}
}

func (e *Explorer) noteScale(i, at int) {
	if e.until[i] >= at {
		return
	}
	e.until[i] = at
	for _, o := range e.p.Scales[i].Reads {
		if o.Question >= 0 {
			e.asked[o.Question] = max(e.asked[o.Question], at)
			e.numbers[o.Question] = true
		} else {
			e.alone[o.Scale] = false
			e.noteScale(o.Scale, at)
		}
	}
}

func (e *Explorer) noteStep(s *program.Step, at int) {
	e.note(s.When, at)
	for _, r := range s.Rules {
		for _, c := range r.Cells {
			e.note(c, at)
		}
	}
	if s.Kind == quiz.BandsStep {
		e.noteScale(s.Scale, at)
		for _, c := range s.Cuts[1:] {
			e.compared[s.Scale] = append(e.compared[s.Scale], comparison{quiz.AtLeast, []int64{int64(c.At)}})
		}
	}
	for _, c := range s.Contenders {
		e.noteScale(c.Scale, at)
		e.leads[c.Scale]++
	}
	if s.Kind == quiz.LeaderStep && s.Ties == quiz.TieQuestion {
		e.asked[s.TieBy] = max(e.asked[s.TieBy], at)
		for _, c := range s.Contenders {
			e.settles[s.TieBy] = append(e.settles[s.TieBy], c.Scale)
		}
	}
}

// feeders gives a bit to each leader step that tells whether anything was added
// to its contenders, or to a scale by itself where several steps want to know.
func (e *Explorer) feeders() {
	used := map[int][]int{} // by scale: the steps that want to know
	var note func(scale, step int)
	note = func(scale, step int) {
		s := &e.p.Scales[scale]
		switch s.Method {
		case quiz.Mean: // tells by its count
		case quiz.Formula:
			for _, o := range s.Feeders {
				if o.Question < 0 {
					note(o.Scale, step)
				}
			}
		default:
			if !slices.Contains(used[scale], step) {
				used[scale] = append(used[scale], step)
			}
		}
	}
	for i := range e.p.Steps {
		for _, c := range e.p.Steps[i].Contenders {
			note(c.Scale, i)
		}
	}
	slots := map[int]int{}
	for scale := range e.p.Scales {
		steps := used[scale]
		if len(steps) == 0 {
			continue
		}
		if slot, given := slots[steps[0]]; given && len(steps) == 1 {
			e.fedSlots[scale] = slot
			continue
		}
		e.fedSlots[scale] = e.fedCount
		if len(steps) == 1 {
			slots[steps[0]] = e.fedCount
		}
		e.fedCount++
	}
}
