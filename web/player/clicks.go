package player

import (
	"maps"

	"omphalos/core/passage"
	"omphalos/core/program"
	"omphalos/core/quiz"
	"omphalos/store"
)

// What names the click of an ad waits in memory, as what says who somebody is does: it reaches
// the disk with consent alone.

// setAside takes what names clicks out of what is known of a visitor.
func setAside(of *program.Program, v *program.Visitor) map[string]string {
	var clicks map[string]string
	for i := range of.FollowUps {
		name := of.Quiz.FollowUps[of.FollowUps[i].Key].Click
		if value, came := v.Query[name]; came && name != "" {
			if clicks == nil {
				clicks = map[string]string{}
			}
			clicks[name] = value
			delete(v.Query, name)
		}
	}
	return clicks
}

// sizeOfClicks is how much memory they take, in bytes.
func sizeOfClicks(clicks map[string]string) int {
	size := 0
	for name, value := range clicks {
		size += len(name) + len(value) + 50
	}
	return size
}

// withClicks is what is known of the visitor of a passage, with what waits in memory.
func (p *player) withClicks(begun *store.Passage) *program.Visitor {
	v := begun.Facts()
	if clicks, wait := p.clicks.Get(begun.ID); wait {
		v.Query = maps.Clone(v.Query)
		if v.Query == nil {
			v.Query = map[string]string{}
		}
		maps.Copy(v.Query, clicks)
	}
	return v
}

// settleClicks keeps what names clicks where somebody agreed to it, and forgets it otherwise;
// where they are still to be asked, it waits on. It returns the walk of what is known then.
func (j *journey) settleClicks(w *passage.Walker, asked bool) *passage.Result {
	r := w.Walk(j.input())
	clicks, wait := j.player.clicks.Get(j.passage.ID)
	if !wait {
		return r
	}
	kept := maps.Clone(clicks)
	for _, name := range w.Unkept() {
		delete(kept, name)
		delete(j.visitor.Query, name)
	}
	j.passage.KeepQuery(kept)
	if asked || len(kept) == len(clicks) {
		j.player.clicks.Remove(j.passage.ID)
	}
	j.reckoned = reckoned{}
	return w.Walk(j.input())
}

// asksAfter tells whether the quiz asks who somebody is below the result.
func (j *journey) asksAfter() bool {
	c := j.program.Quiz.Contact
	return c != nil && c.Place == quiz.AfterResult && !j.anonymous()
}
