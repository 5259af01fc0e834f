package quiz

import (
	"iter"
	"strings"
)

// Elsewhere tells whether a picture is on another site, from where it is not shown.
func (p *Picture) Elsewhere() bool {
	return p.Source != "" && (!strings.HasPrefix(p.Source, "/") || strings.HasPrefix(p.Source, "//"))
}

// Pictures returns all pictures of a quiz with their pointers.
func (q *Quiz) Pictures() iter.Seq2[Pointer, *Picture] {
	return func(yield func(Pointer, *Picture) bool) {
		on := true
		give := func(p *Picture, parts ...string) {
			if on && p != nil {
				on = yield(At(parts...)+"/picture", p)
			}
		}
		if q.Opening != nil {
			give(q.Opening.Picture, "opening")
		}
		for k, s := range q.Sections {
			give(s.Picture, "sections", k)
		}
		for k, asked := range q.Questions {
			give(asked.Picture, "questions", k)
			for a, answer := range asked.Answers {
				give(answer.Picture, "questions", k, "answers", a)
			}
		}
		for k, o := range q.Outcomes {
			give(o.Picture, "outcomes", k)
			if o.Shared != nil {
				give(o.Shared.Picture, "outcomes", k, "shared")
			}
			for l, landing := range o.Landings {
				for b, block := range landing.Blocks {
					give(block.Picture, "outcomes", k, "landings", l, "blocks", b)
				}
			}
		}
		for k, f := range q.FollowUps {
			for b, block := range f.Blocks {
				give(block.Picture, "followUps", k, "blocks", b)
			}
		}
		if q.Look != nil && q.Look.Shared != nil {
			give(q.Look.Shared.Picture, "look", "shared")
		}
		if q.Look != nil && on {
			for name, p := range map[string]*Picture{"logo": q.Look.Logo, "background": q.Look.Background} {
				if on && p != nil {
					on = yield(At("look", name), p)
				}
			}
		}
	}
}
