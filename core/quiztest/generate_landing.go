package quiztest

import (
	"fmt"

	"omphalos/core/quiz"
)

// landings give some outcomes a landing more with a condition, and blocks with conditions,
// and ask for contact or send a mail of some respondents.
func (g *generator) landings() {
	keys := g.m.QuestionKeys()
	for _, o := range quiz.InOrder(g.m.Outcomes) {
		outcome := g.m.Outcomes[o]
		outcome.Landings["page"].Order = 9
		if g.chance(3, "landing") {
			outcome.Landings["first"] = &quiz.Landing{Kind: quiz.PageLanding, When: g.condition(keys)}
		}
		for _, l := range quiz.InOrder(outcome.Landings) {
			landing := outcome.Landings[l]
			for i := 0; g.chance(3, "block"); i++ {
				if landing.Blocks == nil {
					landing.Blocks = map[string]*quiz.Block{}
				}
				landing.Blocks[fmt.Sprintf("b%d", i)] = &quiz.Block{Order: float64(i), Kind: quiz.TextBlock,
					Text: "Bees", When: g.condition(keys)}
			}
		}
	}
	if g.chance(4, "contact") {
		mail := &quiz.Question{Kind: quiz.Email, Label: "E-mail"}
		g.m.Contact = &quiz.Contact{Place: quiz.BeforeResult, When: g.condition(keys),
			Fields: map[string]*quiz.Question{"mail": mail}}
		g.m.FollowUps = map[string]*quiz.FollowUp{"mail": {Kind: quiz.MailFollowUp, Subject: "Bees",
			Blocks: map[string]*quiz.Block{"hello": {Kind: quiz.TextBlock, Text: "Bees"}},
			When:   g.condition(keys)}}
	}
}
