package learn

import (
	"slices"

	"omphalos/core/passage"
	"omphalos/core/quiz"
	"omphalos/store/tally"
)

// A landingFigure is how many came to a landing of an outcome, and what they pressed there.
type landingFigure struct {
	Outcome string
	Class   string
	Row     rowFigure   // the landing; its part is of all
	Presses []rowFigure // their parts are of those who came there
}

// landings counts who landed where.
func (r *reading) landings() []landingFigure {
	var list []landingFigure
	outcome, landing := tally.Property{Kind: tally.Outcome}, tally.Property{Kind: tally.Landing}
	out := map[[2]string]int{}
	for _, s := range r.flow.out {
		out[[2]string{s.Outcome, s.Landing}] += s.Count
	}
	r.about("landing")
	for _, key := range quiz.InOrder(r.quiz.Outcomes) {
		o := r.quiz.Outcomes[key]
		got := r.in.And(tally.Part{Of: outcome, Values: []string{key}})
		for _, k := range quiz.InOrder(o.Landings) {
			l := o.Landings[k]
			came := got.And(tally.Part{Of: landing, Values: []string{k}})
			one := landingFigure{Outcome: o.Name, Row: r.rowOf(passage.LandingWords(l), came.Count()+out[[2]string{key, k}],
				nil, r.count+r.outAll)}
			if one.Row.Count == 0 {
				continue
			}
			for _, b := range quiz.InOrder(l.Blocks) {
				block := l.Blocks[b]
				if block.Kind != quiz.ActionBlock && block.Kind != quiz.LinkBlock {
					continue
				}
				value := k + "." + b
				pressed := came.And(tally.Part{Of: tally.Property{Kind: tally.Pressed}, Values: []string{value}})
				row := r.rowOf(block.Label, pressed.Count(), nil, came.Count())
				row.Address, row.Chosen = r.slice.with("pressed", value), slices.Contains(r.slice.Asked["pressed"], value)
				one.Presses = append(one.Presses, row)
			}
			list = append(list, one)
		}
	}
	rows := make([]*rowFigure, len(list))
	for i := range list {
		rows[i] = &list[i].Row
	}
	divide(rows, r.count+r.outAll)
	return list
}

// later counts who said who they are, and who pressed anything at the end.
func (r *reading) later() (contact, pressed rowFigure) {
	those := r.in.And(tally.Part{Of: tally.Property{Kind: tally.Contact}, Values: []string{"yes"}}).Count()
	contact = r.rowOf("left a contact", those, nil, r.count)
	contact.Address = r.slice.with("contact", "yes")
	var blocks []string
	for _, c := range r.in.Split(tally.Property{Kind: tally.Pressed}) {
		blocks = append(blocks, c.Value)
	}
	any := r.in.And(tally.Part{Of: tally.Property{Kind: tally.Pressed}, Values: blocks}).Count()
	return contact, r.rowOf("went on from there", any, nil, r.count)
}
