package rehearse

import (
	"context"
	"errors"
	"strings"

	"omphalos/core/excerpt"
	"omphalos/core/finding"
	"omphalos/core/odds"
	"omphalos/core/passage"
	"omphalos/core/quiz"
	"omphalos/core/rehearsal"
	"omphalos/web/ui"
)

// An away is an outcome or a question that nobody comes to as this visitor: why, or how
// somebody would.
type away struct {
	What    string
	Why     string
	Jump    string
	Example string // the answers of one who comes there
	Answers string // JSON of a rehearsal, "" where nobody can
}

// mostAway is how many places that nobody comes to are told.
const mostAway = 12

// away tells what nobody comes to: a passage that does, where there is one, or the reason.
func (n *net) away(ctx context.Context, d *draft, all *odds.Ways, with odds.Options) {
	look := func(what, jump string, at quiz.Pointer, target odds.Target) {
		if len(n.Away) == mostAway || ctx.Err() != nil {
			return
		}
		one := away{What: what, Jump: jump}
		in, err := odds.Find(d.today, with, target)
		switch {
		case err == nil:
			r := rehearsal.Of(d.program, in)
			one.Example, one.Answers = answersIn(d, in, passage.Walk(d.program, in).Seen), toJSON(r)
			if who := visitorWords(r); who != "" {
				one.Example += " (as " + who + ")"
			}
		case errors.Is(err, odds.ErrUnreachable):
			one.Why = d.why(ctx, at)
		default:
			one.Why = "None of those that were drawn comes there."
		}
		n.Away = append(n.Away, one)
	}
	seen := map[int]bool{}
	for k, share := range all.Knots {
		seen[k.Question] = seen[k.Question] || share > 0
	}
	for i, key := range d.program.Quiz.QuestionKeys() {
		if !seen[i] {
			look("“"+excerpt.Of(d.program.Question(i).Label, 60)+"”", "part-q-"+key,
				quiz.At("questions", key), odds.Target{Question: key})
		}
	}
	for _, key := range quiz.InOrder(d.program.Quiz.Outcomes) {
		k := odds.Knot{Question: odds.End, Name: key}
		if all.Knots[k] == 0 && all.Knots[odds.Knot{Question: odds.End, Name: key, Parts: true}] == 0 {
			look(endOf(d.doc, key).Name, "part-o-"+key, quiz.At("outcomes", key), odds.Target{Outcome: key})
		}
	}
}

// why says why nobody can come to a place, as the findings do.
func (d *draft) why(ctx context.Context, at quiz.Pointer) string {
	if d.found == nil {
		d.found, _, _ = finding.Of(d.doc, odds.Options{Context: ctx, Exact: ctx, Steps: netSteps,
			Sample: 1 << 12}, finding.Outside{Today: ui.Today(d.doc)})
	}
	for _, f := range d.found {
		if f.Pointer == at && strings.HasPrefix(f.Code, "unreachable") {
			return f.Sentence
		}
	}
	return "No way leads there."
}
