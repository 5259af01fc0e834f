package sheet

import (
	"cmp"
	"fmt"
	"slices"
	"strings"

	"omphalos/core/excerpt"
	"omphalos/core/inference"
	"omphalos/core/odds"
	"omphalos/core/program"
	"omphalos/core/quiz"
	"omphalos/web/studio/desk"
)

// A chart is the map of a quiz: its questions from top to bottom, streams between them
// as wide as their share of respondents, ending in outcomes. Lengths are in pixels.
//
// Places stand under each other, their bars begin at one line. A stream to the next place
// runs straight down; one that passes places by runs in a lane to their right, the
// shorter the nearer, so that streams cross only where their ends lie crosswise.
type chart struct {
	Width, Height float64
	Places        []chartPlace
	Streams       []stream
	Lanes         int
}

// A chartPlace is a question, several that are folded, the decision or an outcome.
type chartPlace struct {
	Key     string // "crop", "/decision", "/outcomes/a"
	Jump    string // ID of the part of the sheet
	Number  string
	Words   []string // lines
	Share   float64
	Percent string
	X, Y    float64 // upper left of the bar
	Breadth float64
	Tall    float64
	Letter  string // of an outcome
	Class   string
	Lands   []string // where an outcome lands
	TextX   float64
	Outcome bool
}

// newChart draws the map of a quiz by its odds; fold puts questions in a row that
// nobody leaves or joins between into one place.
func newChart(q *quiz.Quiz, o *odds.Odds, fold bool) chart {
	var c chart
	rows := c.rows(q, o, fold)
	outcomes := quiz.InOrder(q.Outcomes)
	c.flows(q, o, rows, outcomes)
	c.allot(len(rows))
	c.place(q, o, rows, outcomes)
	c.connect()
	return c
}

// rows lists the places above the outcomes, each with the keys of its questions; the
// opening is first, the decision last.
func (c *chart) rows(q *quiz.Quiz, o *odds.Odds, fold bool) [][]string {
	rows := [][]string{{""}}
	keys := q.QuestionKeys()
	joins := map[string]bool{} // a question that is come to from elsewhere than the one before, or left for elsewhere
	for _, f := range o.Flows {
		if to := slices.Index(keys, f.To); f.End != "" || to < 0 || slices.Index(keys, f.From) != to-1 {
			joins[f.To] = true
			if f.From != "" {
				joins["after "+f.From] = true
			}
		}
	}
	for i, k := range keys {
		if fold && i > 0 && !joins[k] && !joins["after "+keys[i-1]] {
			rows[len(rows)-1] = append(rows[len(rows)-1], k)
			continue
		}
		rows = append(rows, []string{k})
	}
	return append(rows, []string{"/decision"})
}

// allot gives each stream that passes places by the nearest lane that is free beside
// them; the shorter come first.
func (c *chart) allot(rows int) {
	var off []*stream
	for i := range c.Streams {
		if s := &c.Streams[i]; s.b > s.a+1 && s.a < rows-1 {
			off = append(off, s)
		}
	}
	end := func(s *stream) int { return min(s.b, rows) }
	slices.SortStableFunc(off, func(x, y *stream) int {
		return cmp.Or(cmp.Compare(end(x)-x.a, end(y)-y.a), cmp.Compare(y.a, x.a))
	})
	for i, s := range off {
		for s.lane = 1; slices.ContainsFunc(off[:i], func(o *stream) bool {
			return o.lane == s.lane && o.a < end(s) && s.a < end(o)
		}); s.lane++ {
		}
		c.Lanes = max(c.Lanes, s.lane)
	}
}

// place puts the places.
func (c *chart) place(q *quiz.Quiz, o *odds.Odds, rows [][]string, outcomes []string) {
	numbers := q.QuestionKeys()
	for i, keys := range rows {
		p := chartPlace{
			Key:   keys[0],
			X:     chartLeft,
			Y:     chartTop + float64(i)*chartRow,
			Tall:  chartTall,
			Class: "bar",
			TextX: chartLeft - 16,
		}
		switch keys[0] {
		case "":
			p.Words, p.Jump, p.Share = []string{"Opening"}, "part-opening", 1
			if len(keys) > 1 {
				p.Words = append(p.Words, fmt.Sprintf("and questions 1 to %d", len(keys)-1))
			}
		case "/decision":
			p.Words, p.Jump, p.Share = []string{"Decision"}, "decision", o.Ends[program.Decided]
		default:
			n := slices.Index(numbers, keys[0])
			p.Number, p.Jump, p.Share = fmt.Sprint(n+1), "part-q-"+keys[0], o.Seen[keys[0]]
			p.Words = wrapped(cmp.Or(q.Questions[keys[0]].Label, "No words yet"), 34, 2)
			if len(keys) > 1 {
				p.Words = append(
					wrapped(cmp.Or(q.Questions[keys[0]].Label, "No words yet"), 34, 1),
					fmt.Sprintf("and on to question %d", n+len(keys)),
				)
			}
		}
		p.Breadth, p.Percent = max(p.Share*chartBar, 2), inference.Percent(p.Share)
		c.Places = append(c.Places, p)
	}
	y, x := chartTop+float64(len(rows))*chartRow+40, 60.0
	percents := inference.NamedPercents(o.Outcomes)
	for i, k := range outcomes {
		share := o.Outcomes[k]
		p := chartPlace{
			Key:     "/outcomes/" + k,
			Jump:    "part-o-" + k,
			X:       x,
			Y:       y,
			Share:   share,
			Percent: percents(k),
			Breadth: max(share*chartBar, 2),
			Tall:    chartTall,
			Letter:  q.Letter(k),
			Class:   desk.Hue(i),
			Outcome: true,
			TextX:   x,
			Words:   wrapped(cmp.Or(q.Outcomes[k].Name, "No name yet"), 17, 2),
		}
		landings := quiz.InOrder(q.Outcomes[k].Landings)
		for _, l := range landings {
			words := map[quiz.LandingKind]string{quiz.PageLanding: "a page", quiz.ProductsLanding: "products",
				quiz.RedirectLanding: "a redirect"}[q.Outcomes[k].Landings[l].Kind]
			if len(landings) > 1 {
				words += ", " + inference.PercentsWithin(p.Percent, o.Landings[k])(l)
			}
			p.Lands = append(p.Lands, "→ "+words)
		}
		c.Places = append(c.Places, p)
		x += max(p.Breadth, outcomeMin) + outcomeGap
	}
	deepest := 0
	for _, p := range c.Places {
		deepest = max(deepest, len(p.Lands))
	}
	c.Height = y + 90 + 18*float64(deepest)
	c.Width = x
}

// wrapped breaks a text into lines of at most so many letters.
func wrapped(s string, letters, lines int) []string {
	var out []string
	line := ""
	for _, w := range strings.Fields(s) {
		w = excerpt.Of(w, letters)
		if line != "" && excerpt.Length(line)+1+excerpt.Length(w) > letters {
			out = append(out, line)
			line = ""
		}
		if line != "" {
			line += " "
		}
		line += w
	}
	out = append(out, line)
	if len(out) > lines {
		out = out[:lines]
		out[lines-1] = strings.TrimSpace(excerpt.First(out[lines-1], letters-1)) + "…"
	}
	return out
}
