package rehearse

import (
	"fmt"
	"maps"
	"math"
	"slices"
	"strings"

	"omphalos/core/excerpt"
	"omphalos/core/odds"
	"omphalos/core/quiz"
	"omphalos/web/ui"
)

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
