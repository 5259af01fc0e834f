package program

import (
	"slices"

	"omphalos/core/fillin"
	"omphalos/core/quiz"
)

func (c *compiler) outcome(key string, o *quiz.Outcome) {
	to := Outcome{Key: key}
	for _, k := range quiz.InOrder(o.Landings) {
		to.Landings = append(to.Landings, c.landing(k, o.Landings[k]))
	}
	c.p.Outcomes = append(c.p.Outcomes, to)
}

// A Block of a page, or a product of a list, with its condition.
type Block struct {
	Key  string
	When *Condition
}

func (c *compiler) landing(key string, l *quiz.Landing) Landing {
	to := Landing{Key: key, When: c.condition(l.When)}
	if l.Kind == quiz.RedirectLanding && l.Signpost == nil {
		to.Address, _ = fillin.ParseAddress(l.Address) // Check has parsed it before
	}
	for _, k := range quiz.InOrder(l.Blocks) {
		to.Blocks = append(to.Blocks, Block{k, c.condition(l.Blocks[k].When)})
	}
	if l.Products != nil {
		for _, n := range l.Products.Named {
			to.Named = append(to.Named, Block{n.Key, c.condition(n.When)})
		}
		for _, n := range l.Products.Tags {
			to.Tags = append(to.Tags, Block{n.Key, c.condition(n.When)})
		}
	}
	return to
}

// AsksArrivals tells whether something beside the landings themselves is asked of those who
// have landed, or in parts.
func (p *Program) AsksArrivals() bool {
	asks := p.ContactWhen != nil
	for _, f := range p.FollowUps {
		asks = asks || f.When != nil
	}
	for _, o := range p.Outcomes {
		for _, l := range o.Landings {
			asks = asks || l.When != nil && l.When.Group != ""
			for _, blocks := range [][]Block{l.Blocks, l.Named, l.Tags} {
				asks = asks || slices.ContainsFunc(blocks, func(b Block) bool { return b.When != nil })
			}
		}
	}
	return asks
}

// An Outcome with its landings in their order; the last has no condition.
type Outcome struct {
	Key      string
	Landings []Landing
}

// A Landing is what an outcome does.
type Landing struct {
	Key     string
	When    *Condition
	Address *fillin.Address
	Blocks  []Block
	Named   []Block // products
	Tags    []Block // of products
}
