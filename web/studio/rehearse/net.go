package rehearse

import (
	"context"
	"slices"
	"strings"
	"time"

	"omphalos/core/odds"
	"omphalos/core/program"
	"omphalos/web/ui"
)

// The net shows all ways through the quiz at once: questions as columns of knots, answers as
// knots, passages as strands as wide as their share.
type net struct {
	Width, Height int
	Columns       []column
	Knots         []knot
	Strands       []strand
	Kinds         []kind
	More          int    // kinds that are not listed
	Said          string // how many kinds there are, and through what
	Picked        bool
	Folds         bool // some questions are folded
	Open          bool
	Nobody        bool // nobody goes through all that is picked
	Away          []away
}

type column struct {
	X     float64
	Label string
	Whole string
}

type knot struct {
	X, Y   float64
	Label  string
	Class  string
	Picked bool
	Pick   string // address
	Words  string
	Letter string
	Share  string
}

type strand struct {
	Path   string
	Width  float64
	Class  string
	Picked bool
	Parts  bool
}

const (
	columnWidth = 168
	knotApart   = 46
	netTop      = 58
	netLeft     = 20
	widest      = 44 // a strand of everybody
	mostKinds   = 40 // that are listed
	foldFrom    = 8  // questions
	letters     = 19 // of a knot's label
	netTime     = 700 * time.Millisecond
	netSteps    = 1 << 17
)

// netOf follows the ways of a draft as a visitor.
func (s *Room) netOf(ctx context.Context, d *draft, visitor *program.Visitor, v view) (*net, error) {
	if d.cant != "" {
		return nil, nil
	}
	exact, stop := context.WithTimeout(ctx, netTime)
	defer stop()
	with := odds.Options{Visitor: visitor, Steps: netSteps, Context: ctx, Exact: exact}
	all, err := odds.Through(d.today, with, nil)
	if err != nil {
		return nil, err
	}
	picks := picksOf(d, v)
	some := all
	if len(picks) > 0 {
		if some, err = odds.Through(d.today, with, picks); err != nil {
			return nil, err
		}
	}
	n := &net{Open: v.Open, Picked: len(picks) > 0, Nobody: len(picks) > 0 && len(some.Kinds) == 0}
	n.draw(d, v, all, some, picks)
	n.kinds(d, some)
	n.Said = ui.Plural(len(some.Kinds), "kind of way", "kinds of ways")
	if n.Picked {
		var names []string
		for _, k := range picks {
			names = append(names, "“"+knotWords(d, k)+"”")
		}
		n.Said += ", taken by " + ui.Percent(some.Share) + ", through " + strings.Join(names, " and ")
	}
	if drawn := max(all.Sampled, some.Sampled); drawn > 0 {
		n.Said += ", told from " + ui.Count(drawn) + " passages that were drawn"
	}
	n.away(ctx, d, all, with)
	return n, nil
}

// picksOf reads the picked knots of an address; what the draft does not know is left out.
func picksOf(d *draft, v view) []odds.Knot {
	var list []odds.Knot
	for _, name := range v.Picks {
		question, answer, _ := strings.Cut(name, ".")
		i := d.program.Position(question)
		switch {
		case question == "" && d.program.Quiz.Outcomes[answer] != nil:
			list = append(list, odds.Knot{Question: odds.End, Name: answer})
		case i >= 0 && d.program.Questions[i].Listed() && slices.Contains(d.program.Names(i), answer):
			list = append(list, odds.Knot{Question: i, Name: answer})
		}
	}
	return list
}

// knotWords says what a knot is.
func knotWords(d *draft, k odds.Knot) string {
	switch {
	case k.Question == odds.End:
		return d.doc.Outcomes[k.Name].Name
	case k.Name == program.SkippedName:
		return "passed by"
	case k.Name == "":
		return "any answer"
	}
	if a := d.program.Question(k.Question).Answers[k.Name]; a != nil {
		return a.Label
	}
	return k.Name
}
