package rehearse

import (
	"context"
	"errors"
	"fmt"
	"maps"
	"math"
	"slices"
	"strings"
	"time"

	"omphalos/core/excerpt"
	"omphalos/core/finding"
	"omphalos/core/odds"
	"omphalos/core/passage"
	"omphalos/core/program"
	"omphalos/core/quiz"
	"omphalos/core/rehearsal"
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

// An away is an outcome or a question that nobody comes to as this visitor: why, or how
// somebody would.
type away struct {
	What    string
	Why     string
	Jump    string
	Example string // the answers of one who comes there
	Answers string // JSON of a rehearsal, "" where nobody can
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
	all, err := odds.Through(d.program, with, nil)
	if err != nil {
		return nil, err
	}
	picks := picksOf(d, v)
	some := all
	if len(picks) > 0 {
		if some, err = odds.Through(d.program, with, picks); err != nil {
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

// mostAway is how many places that nobody comes to are told.
const mostAway = 12

// away tells what nobody comes to: a passage that does, where there is one, or the reason.
func (n *net) away(ctx context.Context, d *draft, all *odds.Ways, with odds.Options) {
	look := func(what, jump string, at quiz.Pointer, target odds.Target) {
		if len(n.Away) == mostAway || ctx.Err() != nil {
			return
		}
		one := away{What: what, Jump: jump}
		in, err := odds.Find(d.program, with, target)
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
			Sample: 1 << 12}, finding.Outside{})
	}
	for _, f := range d.found {
		if f.Pointer == at && strings.HasPrefix(f.Code, "unreachable") {
			return f.Sentence
		}
	}
	return "No way leads there."
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

// draw lays the net out.
func (n *net) draw(d *draft, v view, all, some *odds.Ways, picks []odds.Knot) {
	into := n.fold(d, v, all, picks)
	place := n.columns(d, into, all)
	merge := func(k odds.Knot) odds.Knot {
		if k.Question >= 0 && into[k.Question] != k.Question {
			return odds.Knot{Question: into[k.Question]}
		}
		if k.Question >= 0 && folded(into, k.Question) {
			return odds.Knot{Question: k.Question}
		}
		k.Parts = false
		return k
	}
	lay := func(w *odds.Ways, picked bool) {
		type line struct {
			from, to odds.Knot
			parts    bool
		}
		shares := map[line]float64{}
		for s, share := range w.Strands {
			from, to := merge(s.From), merge(s.To)
			if from != to {
				shares[line{from, to, s.To.Parts}] += share
			}
		}
		lines := slices.Collect(maps.Keys(shares))
		slices.SortFunc(lines, func(a, b line) int { return strings.Compare(fmt.Sprint(a), fmt.Sprint(b)) })
		for _, l := range lines {
			a, b := place[l.from], place[l.to]
			if a == nil || b == nil {
				continue
			}
			st := strand{Width: math.Max(widest*shares[l], 1.2), Picked: picked, Parts: l.parts}
			if l.to.Question == odds.End {
				st.Class = hueOf(d.doc, l.to.Name)
			}
			reach := (b.X - a.X) * 0.45
			st.Path = fmt.Sprintf("M%.0f %.0fC%.0f %.0f %.0f %.0f %.0f %.0f", a.X, a.Y, a.X+reach, a.Y, b.X-reach, b.Y, b.X, b.Y)
			if l.parts { // those who part go below all others
				low := float64(n.Height) - 14
				st.Path = fmt.Sprintf("M%.0f %.0fC%.0f %.0f %.0f %.0f %.0f %.0f", a.X, a.Y, a.X+60, low, b.X-60, low, b.X, b.Y)
			}
			n.Strands = append(n.Strands, st)
		}
	}
	lay(all, len(picks) == 0)
	if len(picks) > 0 {
		lay(some, true)
	}
	n.name(d, v, all, place)
	order := slices.Collect(maps.Keys(place))
	slices.SortFunc(order, func(a, b odds.Knot) int {
		return int(1000*(place[a].X-place[b].X) + place[a].Y - place[b].Y)
	})
	for _, k := range order {
		n.Knots = append(n.Knots, *place[k])
	}
}

// fold returns for each question the one into whose column it is folded: a stretch of
// questions at which nobody parts is one column.
func (n *net) fold(d *draft, v view, all *odds.Ways, picks []odds.Knot) []int {
	into := make([]int, len(d.program.Questions))
	onward, from := make([]map[int]bool, len(into)), make([]map[int]bool, len(into))
	for i := range into {
		into[i], onward[i], from[i] = i, map[int]bool{}, map[int]bool{}
	}
	for s := range all.Strands {
		onward[s.From.Question][s.To.Question] = true
		if s.To.Question >= 0 {
			from[s.To.Question][s.From.Question] = true
		}
	}
	picked := map[int]bool{}
	for _, k := range picks {
		picked[k.Question] = true
	}
	if v.Open || len(into) <= foldFrom {
		n.Folds = len(into) > foldFrom
		return into
	}
	// on tells that all who are asked a question come from the one before, and only they.
	on := func(i int) bool {
		return i > 0 && i < len(into) && len(onward[i-1]) == 1 && onward[i-1][i] && len(from[i]) == 1
	}
	for i := 1; i < len(into); i++ { // the first and the last of a stretch stay to be seen
		if on(i-1) && on(i) && on(i+1) && !picked[i] && !picked[i-1] {
			into[i] = into[i-1]
			n.Folds = true
		}
	}
	return into
}

func folded(into []int, i int) bool { return i+1 < len(into) && into[i+1] == i }

// columns places the knots of each column, and returns them by what they are.
func (n *net) columns(d *draft, into []int, all *odds.Ways) map[odds.Knot]*knot {
	place, v := map[odds.Knot]*knot{}, n
	high := 1
	x := float64(netLeft)
	put := func(label, whole string, knots []odds.Knot) {
		v.Columns = append(v.Columns, column{x, excerpt.Of(label, letters), whole})
		for i, k := range knots {
			place[k] = &knot{X: x + 8, Y: float64(netTop + i*knotApart)}
		}
		high = max(high, len(knots))
		x += columnWidth
	}
	for i := range into {
		if into[i] != i {
			continue
		}
		last := i
		for last+1 < len(into) && into[last+1] == i {
			last++
		}
		if last > i {
			k := odds.Knot{Question: i}
			put(fmt.Sprintf("Questions %d to %d", i+1, last+1), "", []odds.Knot{k})
			place[k].Label = fmt.Sprintf("%d questions", last-i+1)
			continue
		}
		var knots []odds.Knot
		for _, name := range append(d.program.Names(i), "") {
			k := odds.Knot{Question: i, Name: name}
			if _, there := all.Knots[k]; there {
				knots = append(knots, k)
			}
		}
		if len(knots) == 0 {
			continue // nobody comes here
		}
		put(d.program.Question(i).Label, d.program.Question(i).Label, knots)
	}
	var ends []odds.Knot
	for _, key := range quiz.InOrder(d.program.Quiz.Outcomes) {
		ends = append(ends, odds.Knot{Question: odds.End, Name: key})
	}
	put("Outcome", "", ends)
	n.Width, n.Height = int(x)+10, netTop+high*knotApart+26
	return place
}

// name gives the knots their words, once it is known what is picked.
func (n *net) name(d *draft, v view, all *odds.Ways, place map[odds.Knot]*knot) {
	for k, at := range place {
		share := all.Knots[k]
		if k.Question == odds.End {
			share += all.Knots[odds.Knot{Question: odds.End, Name: k.Name, Parts: true}]
			at.Class, at.Letter = hueOf(d.doc, k.Name), d.doc.Letter(k.Name)
		}
		if at.Label != "" { // a fold
			continue
		}
		at.Share = ui.Percent(share)
		whole := knotWords(d, k)
		at.Label = excerpt.Of(strings.Join(strings.Fields(whole), " "), letters)
		if k.Name == "" {
			continue
		}
		name := nameOf(d, k)
		at.Picked, at.Pick = slices.Contains(v.Picks, name), v.Pick(name)
		what := "Pick the ways through “" + whole + "”, " + at.Share
		if at.Picked {
			what = "Let go of “" + whole + "”"
		}
		at.Words = what
	}
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
