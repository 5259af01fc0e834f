package passage

import (
	"omphalos/core/fillin"
	"omphalos/core/quiz"
)

// Together returns those questions of a passage that are asked on one page with
// another of it, by the quiz's pace: itself, those beside it in its section, or all.
func (p *Program) Together(seen []int, at int) []int {
	switch p.quiz.Pace {
	case quiz.OnePage:
		return seen
	case quiz.BySection:
		var page []int
		for _, i := range seen {
			if p.questions[i].section == p.questions[at].section {
				page = append(page, i)
			}
		}
		return page
	}
	return []int{at}
}

// LandingOf returns the definition of the landing that a finished result takes.
func (p *Program) LandingOf(r *Result) *quiz.Landing {
	return p.quiz.Outcomes[p.OutcomeKey(r)].Landings[p.LandingKey(r)]
}

// AddressOf returns the address template of a redirect landing without a
// signpost, nil for other landings.
func (p *Program) AddressOf(r *Result) *fillin.Address {
	return p.outcomes[r.Outcome].landings[r.Landing].address
}

// Blocks returns the keys of the blocks on the landing's page whose conditions
// hold, in order. It asks about the last Walk, which must have finished.
func (w *Walker) Blocks() []string {
	var shown []string
	l := &w.course.p.outcomes[w.result.Outcome].landings[w.result.Landing]
	for _, b := range l.blocks {
		if b.when.holds(&w.course) {
			shown = append(shown, b.key)
		}
	}
	return shown
}

// Products returns the product keys and the tags that the landing shows, as
// Blocks does.
func (w *Walker) Products() (named, tags []string) {
	l := &w.course.p.outcomes[w.result.Outcome].landings[w.result.Landing]
	holding := func(list []block) (keys []string) {
		for _, b := range list {
			if b.when.holds(&w.course) {
				keys = append(keys, b.key)
			}
		}
		return keys
	}
	return holding(l.named), holding(l.tags)
}

// A block of a page, or a product of a list, with its condition.
type block struct {
	key  string
	when *condition
}

func (c *compiler) landing(key string, l *quiz.Landing) landing {
	to := landing{key: key, when: c.condition(l.When)}
	if l.Kind == quiz.RedirectLanding && l.Signpost == nil {
		to.address, _ = fillin.ParseAddress(l.Address) // Check has parsed it before
	}
	for _, k := range quiz.InOrder(l.Blocks) {
		to.blocks = append(to.blocks, block{k, c.condition(l.Blocks[k].When)})
	}
	if l.Products != nil {
		for _, n := range l.Products.Named {
			to.named = append(to.named, block{n.Key, c.condition(n.When)})
		}
		for _, n := range l.Products.Tags {
			to.tags = append(to.tags, block{n.Key, c.condition(n.When)})
		}
	}
	return to
}
