package finding

import (
	"maps"
	"slices"

	"omphalos/core/passage"
	"omphalos/core/quiz"
	"omphalos/core/rehearsal"
)

// rehearsals notes those that are kept and do not get what they must any more.
func (f *finder) rehearsals() {
	for _, v := range rehearsal.All(f.p) {
		if !v.Holds {
			f.note("rehearsal-broken", quiz.At("rehearsals", v.Key), Accept(f.q, v), "as-it-is", f.broken(v))
		}
	}
}

// Broken says what a rehearsal that does not hold must get, and what it gets.
func Broken(q *quiz.Quiz, v rehearsal.Verdict) string { return (&finder{q: q}).broken(v) }

func (f *finder) broken(v rehearsal.Verdict) string {
	r := f.q.Rehearsals[v.Key]
	must := rehearsal.Ending{Outcome: r.Outcome, Landing: r.Landing, Parts: r.Parts}
	cant := ""
	for _, key := range slices.Sorted(maps.Keys(v.Wrong)) {
		cant += say("rehearsal-cant-answer", f.label(key), v.Wrong[key])
	}
	same := v.Outcome == must.Outcome
	return say("rehearsal-must-get", quote(r.Name, v.Key), f.ending(must, same), f.ending(v.Ending, same), cant)
}

// Accept is the Mend that makes what a rehearsal gets the thing that it must get.
func Accept(q *quiz.Quiz, v rehearsal.Verdict) *Mend {
	r := *q.Rehearsals[v.Key]
	rehearsal.Accept(&r, v.Ending)
	return mend("it-may-get-that-now", put(quiz.At("rehearsals", v.Key), r))
}

// ending names the outcome, and the landing where that makes the difference.
func (f *finder) ending(e rehearsal.Ending, landing bool) string {
	o := f.q.Outcomes[e.Outcome]
	switch {
	case o == nil:
		return say("an-outcome-gone")
	case e.Parts && !(landing && e.Landing != ""):
		return say("ending-parts", f.outcome(e.Outcome))
	case !landing || e.Landing == "":
		return f.outcome(e.Outcome)
	}
	lands := say("a-landing-gone")
	if l := o.Landings[e.Landing]; l != nil {
		lands = passage.LandingWords(l)
	}
	ends := say("ending-lands", f.outcome(e.Outcome), lands)
	if e.Parts {
		return say("ending-parts", ends)
	}
	return ends
}
