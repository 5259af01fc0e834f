package rehearse

import (
	"fmt"
	"slices"
	"strings"

	"omphalos/core/excerpt"
	"omphalos/core/odds"
	"omphalos/core/passage"
	"omphalos/core/program"
	"omphalos/core/quiz"
	"omphalos/core/rehearsal"
	"omphalos/web/ui"
)

// A kind is passages that go the same way.
type kind struct {
	Number  int
	Share   string
	Count   string
	Asked   int
	Minutes string
	End     endPart
	Landing string
	Without string // the questions that it is not asked
	Example string // its answers in words
	Answers string // JSON of a rehearsal
}

// kinds lists the kinds of ways, the most frequent first.
func (n *net) kinds(d *draft, some *odds.Ways) {
	for i, k := range some.Kinds {
		if i == mostKinds {
			n.More = len(some.Kinds) - i
			break
		}
		one := kind{Number: i + 1, Share: ui.Percent(k.Share), End: endOf(d.doc, d.program.OutcomeAt(k.Finish.Outcome))}
		for _, q := range k.Questions {
			if d.program.Asks(q) {
				one.Asked++
			}
		}
		one.Minutes = minutes(d.doc, float64(one.Asked))
		if k.Passages != nil {
			one.Count = k.Passages.String()
			if k.Passages.IsInt64() && k.Passages.Int64() < 1e15 {
				one.Count = ui.Count(k.Passages.Int64())
			} else {
				one.Count = "10" + raised(len(one.Count)-1) + " or so"
			}
		}
		one.Landing = landingOf(d, k.Finish)
		one.Without = without(d, k.Questions)
		r := rehearsal.Of(d.program, k.Example)
		one.Example, one.Answers = answersIn(d, k.Example, k.Questions), toJSON(r)
		n.Kinds = append(n.Kinds, one)
	}
}

// raised writes a power.
func raised(n int) string {
	return strings.NewReplacer("0", "⁰", "1", "¹", "2", "²", "3", "³", "4", "⁴", "5", "⁵", "6", "⁶",
		"7", "⁷", "8", "⁸", "9", "⁹").Replace(fmt.Sprint(n))
}

func landingOf(d *draft, f program.Finish) string {
	if f.End == program.Parted {
		return "parts ways: nothing is kept"
	}
	o := d.program.Quiz.Outcomes[d.program.OutcomeAt(f.Outcome)]
	return passage.LandingWords(o.Landings[d.program.LandingAt(f.Outcome, f.Landing)])
}

// without names the questions that a way is not asked.
func without(d *draft, asked []int) string {
	var names []string
	for i := range d.program.Questions {
		if !slices.Contains(asked, i) {
			names = append(names, "“"+excerpt.Of(d.program.Question(i).Label, 40)+"”")
		}
	}
	if len(names) > 3 {
		return fmt.Sprintf("%s and %d more", strings.Join(names[:2], ", "), len(names)-2)
	}
	return strings.Join(names, ", ")
}

// answersIn writes the answers of a passage in a line.
func answersIn(d *draft, in passage.Input, asked []int) string {
	var words []string
	for _, i := range asked {
		if in.Answers[i].State == program.Given {
			words = append(words, excerpt.Of(d.program.Words(i, in.Answers[i]), 30))
		}
	}
	if len(words) > 8 {
		words = append(words[:7], fmt.Sprintf("%d more", len(words)-7))
	}
	return strings.Join(words, " · ")
}

func walkFrom(r *quiz.Rehearsal) map[string]program.Typed {
	typed := map[string]program.Typed{}
	for key, g := range r.Answers {
		if g != nil {
			typed[key] = program.Typed{Values: g.Values, WriteIn: g.Words, Rows: g.Rows}
		}
	}
	return typed
}

func visitorFrom(r *quiz.Rehearsal, d *draft) *program.Visitor {
	v := anybody(d)
	for name, value := range r.Visitor {
		_ = v.Read(name, value) // what can't be read is as if not known
	}
	return v
}
