package passage

import (
	"slices"

	"omphalos/core/quiz"
)

// Places on the sheet, in the order in which something is asked for there: whether
// question i shows, what was answered and where it leads, …, and the end.
func showing(i int) int { return 2 * i }
func before(i int) int  { return 2*i + 1 }

// A comparison of a scale with a number.
type comparison struct {
	op      quiz.Op
	numbers []int64 // decimals
}

// liveness finds, for each scale and each answer, the last place that asks for it.
func (e *Explorer) liveness() {
	p := e.p
	n, end := len(p.questions), before(len(p.questions))
	e.asked = fill(n, -1)
	e.clauses = make([][]*condition, n)
	e.numbers = make([]bool, n)
	e.settles = make([][]int, n)
	e.class = make([]int, n)
	scales := len(p.scales)
	e.until = fill(scales, -1)
	e.alone = make([]bool, scales)
	e.leads = make([]int, scales)
	e.compared = make([][]comparison, scales)
	e.fedSlots = fill(scales, none)
	for i := range e.alone {
		e.alone[i] = true
	}
	for s := range p.sections {
		e.note(p.sections[s].when, showing(max(p.sectionEnd(s)-1, 0)))
	}
	for i := range p.questions {
		e.note(p.questions[i].when, showing(i))
		for _, r := range p.questions[i].then {
			e.note(r.when, before(i))
		}
	}
	if e.purpose == forEnds {
		for i := range p.steps {
			e.noteStep(&p.steps[i], end)
		}
		for _, o := range p.outcomes {
			for _, l := range o.landings {
				e.note(l.when, end)
			}
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
	e.classes, e.signed = make([][]Value, n), make([]map[string]int, n)
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
func (e *Explorer) note(c *condition, at int) {
	if c == nil {
		return
	}
	for _, part := range c.parts {
		e.note(part, at)
	}
	if c.group != "" {
		return
	}
	switch c.subject {
	case ofOption, ofPicks, ofNumber, ofText:
		e.asked[c.question] = max(e.asked[c.question], at)
		if !slices.Contains(e.clauses[c.question], c) {
			e.clauses[c.question] = append(e.clauses[c.question], c)
		}
	case ofScale:
		e.noteScale(c.scale, at)
		to := comparison{op: c.op}
		for _, d := range c.numbers {
			to.numbers = append(to.numbers, int64(d))
		}
		e.compared[c.scale] = append(e.compared[c.scale], to)
	}
}

func (e *Explorer) noteScale(i, at int) {
	if e.until[i] >= at {
		return
	}
	e.until[i] = at
	for _, o := range e.p.scales[i].reads {
		if o.question >= 0 {
			e.asked[o.question] = max(e.asked[o.question], at)
			e.numbers[o.question] = true
		} else {
			e.alone[o.scale] = false
			e.noteScale(o.scale, at)
		}
	}
}

func (e *Explorer) noteStep(s *step, at int) {
	e.note(s.when, at)
	for _, r := range s.rules {
		for _, c := range r.cells {
			e.note(c, at)
		}
	}
	if s.kind == quiz.BandsStep {
		e.noteScale(s.scale, at)
		for _, c := range s.cuts[1:] {
			e.compared[s.scale] = append(e.compared[s.scale], comparison{quiz.AtLeast, []int64{int64(c.at)}})
		}
	}
	for _, c := range s.contenders {
		e.noteScale(c.scale, at)
		e.leads[c.scale]++
	}
	if s.kind == quiz.LeaderStep && s.ties == quiz.TieQuestion {
		e.asked[s.tieBy] = max(e.asked[s.tieBy], at)
		for _, c := range s.contenders {
			e.settles[s.tieBy] = append(e.settles[s.tieBy], c.scale)
		}
	}
}

// feeders gives a bit to each leader step that tells whether anything was added
// to its contenders, or to a scale by itself where several steps want to know.
func (e *Explorer) feeders() {
	used := map[int][]int{} // by scale: the steps that want to know
	var note func(scale, step int)
	note = func(scale, step int) {
		s := &e.p.scales[scale]
		switch s.method {
		case quiz.Mean: // tells by its count
		case quiz.Formula:
			for _, o := range s.feeders {
				if o.question < 0 {
					note(o.scale, step)
				}
			}
		default:
			if !slices.Contains(used[scale], step) {
				used[scale] = append(used[scale], step)
			}
		}
	}
	for i := range e.p.steps {
		for _, c := range e.p.steps[i].contenders {
			note(c.scale, i)
		}
	}
	slots := map[int]int{}
	for scale := range e.p.scales {
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
