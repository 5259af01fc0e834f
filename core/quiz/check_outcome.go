package quiz

import (
	"slices"

	"omphalos/core/fillin"
)

func (c *checker) outcome(key string, o *Outcome) {
	p := At("outcomes", key)
	c.key(p, key, false)
	c.text(p+"/name", o.Name, MaxTitle)
	if o.Name == "" {
		c.note("empty", p+"/name", "the-outcome-has-no")
	}
	c.fillins(p+"/headline", o.Headline, MaxLabel)
	c.fillins(p+"/text", o.Text, MaxText)
	c.picture(p+"/picture", o.Picture)
	word(c, p+"/layout", o.Layout, Layouts)
	c.oneOf(p+"/standing", string(o.Standing), "", string(Fit), string(KeepWarm), string(NotAFit))
	word(c, p+"/showAs", o.ShowAs, ScoreForms)
	c.shared(p+"/shared", o.Shared)
	if o.ShowScore != "" && c.q.Scales[o.ShowScore] == nil {
		c.note("unknown", p+"/showScore", "shows-the-scale-which", clip(o.ShowScore))
	}
	keys := InOrder(o.Landings)
	if len(keys) == 0 {
		c.note("landing", p+"/landings", "the-outcome-lands-nowhere")
		return
	}
	for _, k := range keys {
		c.landing(p.Join("landings", k), k, o.Landings[k])
	}
	if last := keys[len(keys)-1]; o.Landings[last].When != nil {
		c.note(
			"landing",
			p.Join("landings", last, "when"),
			"the-last-landing-must",
		)
	}
}

func (c *checker) landing(p Pointer, key string, l *Landing) {
	c.key(p, key, false)
	c.condition(p+"/when", l.When, after, true)
	switch l.Kind {
	case PageLanding:
		for _, k := range InOrder(l.Blocks) {
			c.block(p.Join("blocks", k), k, l.Blocks[k])
		}
	case ProductsLanding:
		if l.Products == nil || len(l.Products.Named)+len(l.Products.Tags) == 0 {
			c.note("products", p+"/products", "shows-no-products-yet")
			return
		}
		for _, n := range slices.Concat(l.Products.Named, l.Products.Tags) {
			c.condition(p+"/products", n.When, after, true)
		}
	case RedirectLanding:
		if l.After < 0 || l.After > 30 {
			c.refuse("after", p+"/after", "a-redirect-waits-0")
		}
		c.target(p, l.Address, l.Signpost)
	default:
		c.oneOf(p+"/kind", string(l.Kind), string(PageLanding), string(ProductsLanding), string(RedirectLanding))
	}
}

func (c *checker) block(p Pointer, key string, b *Block) {
	c.key(p, key, false)
	c.condition(p+"/when", b.When, after, true)
	switch b.Kind {
	case TextBlock:
		c.fillins(p+"/text", b.Text, MaxText)
	case PictureBlock:
		c.picture(p+"/picture", b.Picture)
	case ActionBlock, LinkBlock:
		c.label(p+"/label", b.Label)
		if b.Address != "" && b.Signpost == nil {
			c.leadsTo(p+"/address", b.Address, fillin.ParseButton)
		} else {
			c.target(p, b.Address, b.Signpost)
		}
	case BillBlock:
		if s := c.q.Scales[b.Scale]; s == nil || s.Kind != Money {
			c.note("unknown", p+"/scale", "the-bill-needs-a")
		}
	default:
		c.oneOf(
			p+"/kind",
			string(b.Kind),
			string(TextBlock),
			string(PictureBlock),
			string(ActionBlock),
			string(LinkBlock),
			string(BillBlock),
		)
	}
}

// target checks an address or a signpost, of which there must be one.
func (c *checker) target(p Pointer, address string, s *Signpost) {
	switch {
	case s != nil:
		if s.Table == "" || s.Row == "" {
			c.note("signpost", p+"/signpost", "needs-a-table-and")
		}
		c.fillins(p+"/signpost/row", s.Row, MaxTitle)
	case address == "":
		c.note("address", p+"/address", "has-no-address-yet")
	default:
		c.address(p+"/address", address)
	}
}

func (c *checker) address(p Pointer, s string) { c.leadsTo(p, s, fillin.ParseAddress) }

func (c *checker) leadsTo(p Pointer, s string, parse func(string) (*fillin.Address, error)) {
	a, err := parse(s)
	if err != nil {
		c.refuse("address", p, "told", err)
		return
	}
	for _, name := range a.Names() {
		if !c.q.Fills(name) {
			c.note("fillin", p, "stands-for-nothing-in", name)
		}
	}
}
