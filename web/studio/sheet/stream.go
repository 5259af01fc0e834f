package sheet

import (
	"cmp"
	"fmt"
	"slices"

	"omphalos/core/inference"
	"omphalos/core/odds"
	"omphalos/core/program"
	"omphalos/core/quiz"
	"omphalos/web/studio/desk"
)

// A stream is the respondents who go from one place to another.
type stream struct {
	From, To string
	Share    float64
	Class    string
	Path     string
	Title    string
	Parts    bool // parts ways
	lane     int
	breadth  float64
	a, b     int     // rows
	x1, x2   float64 // where it leaves and arrives, left edges
}

// flows makes the streams.
func (c *chart) flows(q *quiz.Quiz, o *odds.Odds, rows [][]string, outcomes []string) {
	row := map[string]int{}
	for i, keys := range rows {
		for _, k := range keys {
			row[k] = i
		}
	}
	last := len(rows) - 1
	name := func(k string) string {
		if asked := q.Questions[k]; asked != nil {
			return "“" + short(asked.Label) + "”"
		}
		return map[string]string{"": "the opening", "/decision": "the decision"}[k]
	}
	sums := map[string]*stream{}
	add := func(s stream, from, to string) {
		if s.Share <= 0 || s.a == s.b {
			return
		}
		at := fmt.Sprint(s.a, " ", s.b, " ", s.Parts)
		if known := sums[at]; known != nil {
			known.Share += s.Share
			s = *known
		} else {
			sums[at] = &s
		}
		sums[at].Title = fmt.Sprintf("%s go from %s to %s", inference.Percent(s.Share), from, to)
	}
	for _, f := range o.Flows {
		s := stream{a: row[f.From], Share: f.Share, Class: "stream"}
		switch {
		case f.To != "":
			s.b = row[f.To]
			add(s, name(f.From), name(f.To))
		case f.End == program.Decided:
			s.b = last
			add(s, name(f.From), name("/decision"))
		default:
			i := slices.Index(outcomes, f.Outcome)
			s.b, s.Class, s.Parts = last+1+i, desk.Hue(i), f.End == program.Parted
			to := q.Outcomes[f.Outcome].Name
			if s.Parts {
				to += ", parting ways"
			}
			add(s, name(f.From), to)
		}
	}
	decided := map[string]float64{}
	for k, share := range o.Outcomes {
		decided[k] = share
	}
	for _, f := range o.Flows {
		if f.Outcome != "" {
			decided[f.Outcome] -= f.Share
		}
	}
	for i, k := range outcomes {
		if decided[k] > 1e-9 {
			add(
				stream{a: last, b: last + 1 + i, Share: decided[k], Class: desk.Hue(i)},
				name("/decision"),
				q.Outcomes[k].Name,
			)
		}
	}
	for _, s := range sums {
		s.breadth = max(s.Share*chartBar, 1.5)
		c.Streams = append(c.Streams, *s)
	}
	slices.SortFunc(c.Streams, func(x, y stream) int {
		return cmp.Or(
			cmp.Compare(x.a, y.a),
			cmp.Compare(x.b, y.b),
			cmp.Compare(fmt.Sprint(x.Parts), fmt.Sprint(y.Parts)),
		)
	})
}

// connect draws the streams: at each place those that leave share its bar from the left,
// the nearest goal first, and those that arrive, the nearest origin first.
func (c *chart) connect() {
	out, in := make([]float64, len(c.Places)), make([]float64, len(c.Places))
	leave := slices.Clone(c.order(func(s *stream) (int, int, int) { return s.a, s.lane, s.b }))
	for _, s := range leave {
		s.x1 = c.Places[s.a].X + out[s.a]
		out[s.a] += s.breadth
	}
	for _, s := range c.order(func(s *stream) (int, int, int) { return s.b, s.lane, -s.a }) {
		s.x2 = c.Places[s.b].X + in[s.b]
		in[s.b] += s.breadth
	}
	breadths := make([]float64, c.Lanes+1)
	for _, s := range c.Streams {
		breadths[s.lane] = max(breadths[s.lane], s.breadth)
	}
	lanes := make([]float64, c.Lanes+1)
	at := float64(chartLeft + chartBar + chartLetgo)
	for l := 1; l <= c.Lanes; l++ {
		lanes[l] = at
		at += breadths[l] + chartGap
	}
	c.Width = max(c.Width, at+20)
	for i := range c.Streams {
		s := &c.Streams[i]
		from, to := c.Places[s.a], c.Places[s.b]
		s.From, s.To = from.Key, to.Key
		y1, y2 := from.Y+from.Tall, to.Y
		if s.lane == 0 {
			s.Path = ribbon(s.x1, y1, s.x2, y2, s.breadth)
			continue
		}
		x, bend := lanes[s.lane], float64(chartRow-chartTall)
		s.Path = ribbon(s.x1, y1, x, y1+bend, s.breadth) + " " + fmt.Sprintf(
			"M%.1f %.1fV%.1fH%.1fV%.1fZ",
			x,
			y1+bend,
			y2-bend,
			x+s.breadth,
			y1+bend,
		) + " " + ribbon(x, y2-bend, s.x2, y2, s.breadth)
	}
}

// order returns the streams by three measures.
func (c *chart) order(by func(s *stream) (int, int, int)) []*stream {
	var list []*stream
	for i := range c.Streams {
		list = append(list, &c.Streams[i])
	}
	slices.SortStableFunc(list, func(x, y *stream) int {
		a1, b1, c1 := by(x)
		a2, b2, c2 := by(y)
		return cmp.Or(cmp.Compare(a1, a2), cmp.Compare(b1, b2), cmp.Compare(c1, c2))
	})
	return list
}

// ribbon draws a band from one level edge down to another.
func ribbon(x1, y1, x2, y2, breadth float64) string {
	m := (y1 + y2) / 2
	return fmt.Sprintf(
		"M%.1f %.1fC%.1f %.1f %.1f %.1f %.1f %.1fH%.1fC%.1f %.1f %.1f %.1f %.1f %.1fZ",
		x1,
		y1,
		x1,
		m,
		x2,
		m,
		x2,
		y2,
		x2+breadth,
		x2+breadth,
		m,
		x1+breadth,
		m,
		x1+breadth,
		y1,
	)
}
