package passage

import (
	"omphalos/core/fillin"
	"omphalos/core/program"
	"omphalos/core/quiz"
)

// OutcomeKey returns the key of the result's outcome, "" when unfinished.
func OutcomeKey(p *program.Program, r *Result) string {
	if r.End == program.Unfinished {
		return ""
	}
	return p.Outcomes[r.Outcome].Key
}

// LandingKey returns the key of the result's landing, "" when unfinished.
func LandingKey(p *program.Program, r *Result) string {
	if r.End == program.Unfinished {
		return ""
	}
	return p.Outcomes[r.Outcome].Landings[r.Landing].Key
}

// Together returns those questions of a passage that are asked on one page with
// another of it, by the quiz's pace: itself, those beside it in its section, or all.
func Together(p *program.Program, seen []int, at int) []int {
	switch p.Quiz.Pace {
	case quiz.OnePage:
		return seen
	case quiz.BySection:
		var page []int
		for _, i := range seen {
			if p.Questions[i].Section == p.Questions[at].Section {
				page = append(page, i)
			}
		}
		return page
	}
	return []int{at}
}

// LandingOf returns the definition of the landing that a finished result takes.
func LandingOf(p *program.Program, r *Result) *quiz.Landing {
	return p.Quiz.Outcomes[OutcomeKey(p, r)].Landings[LandingKey(p, r)]
}

// AddressOf returns the address template of a redirect landing without a
// signpost, nil for other landings.
func AddressOf(p *program.Program, r *Result) *fillin.Address {
	return p.Outcomes[r.Outcome].Landings[r.Landing].Address
}

// Blocks returns the keys of the blocks on the landing's page whose conditions
// hold, in order. It asks about the last Walk, which must have finished.
func (w *Walker) Blocks() []string {
	return w.holding(w.course.Program.Outcomes[w.result.Outcome].Landings[w.result.Landing].Blocks)
}

// holding returns the keys of those whose conditions hold.
func (w *Walker) holding(list []program.Block) (keys []string) {
	for _, b := range list {
		if b.When.Holds(&w.course) {
			keys = append(keys, b.Key)
		}
	}
	return keys
}

// Products returns the product keys and the tags that the landing shows, as
// Blocks does.
func (w *Walker) Products() (named, tags []string) {
	l := &w.course.Program.Outcomes[w.result.Outcome].Landings[w.result.Landing]
	return w.holding(l.Named), w.holding(l.Tags)
}
