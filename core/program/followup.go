package program

import (
	"slices"

	"omphalos/core/quiz"
)

// A FollowUp is what goes out when somebody has landed.
type FollowUp struct {
	Key     string
	When    *Condition
	Consent *Condition // that must have been given, nil for none
	Blocks  []Block
}

// followUps compiles what goes out. The conditions are asked when a passage has ended, and
// nothing of the passage hangs on them: the questions shall not tell more answers apart for
// their sake.
func (c *compiler) followUps() {
	scratch := *c.p
	scratch.Questions = slices.Clone(c.p.Questions)
	for i := range scratch.Questions {
		scratch.Questions[i].Wordings = &Wordings{}
	}
	apart := compiler{q: c.q, p: &scratch}
	for _, key := range quiz.InOrder(c.q.FollowUps) {
		f := c.q.FollowUps[key]
		if f.Off {
			continue
		}
		to := FollowUp{Key: key, When: apart.condition(f.When)}
		if f.Consent != "" {
			to.Consent = apart.condition(&quiz.Condition{Subject: quiz.Subject{Answer: f.Consent},
				Test: quiz.Test{Op: quiz.IsAnswered}})
		}
		for _, k := range quiz.InOrder(f.Blocks) {
			to.Blocks = append(to.Blocks, Block{k, apart.condition(f.Blocks[k].When)})
		}
		c.p.FollowUps = append(c.p.FollowUps, to)
	}
}
