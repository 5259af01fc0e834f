package learn

import (
	"cmp"
	"math"
	"net/http"
	"strings"

	"github.com/gin-gonic/gin"

	"omphalos/core/decimal"
	"omphalos/core/excerpt"
	"omphalos/interchange/rows"
	"omphalos/store"
	"omphalos/web/ui"
)

// Every figure goes out as a picture (SVG) and as the table that it shows (CSV), by its name:
// outcomes, stream, answer.KEY, score.KEY.

// A chart is a figure by itself: a bar a row, with a line where it was expected and a second
// bar where it is compared.
type chart struct {
	Title, About string
	Slice        string // of which responses it is, "" for all
	Rows         []chartRow
	Versus       string // with what it is compared, "" for nothing
	Height       float64
}

type chartRow struct {
	Label           string
	Short           string // as much of it as fits
	Count           int
	Part            float64
	Percent         string  // as the page says it, "" for Part by itself
	Expected        float64 // a share, below 0 where it is not known
	Other           *beside
	Class           string
	Y               float64
	X, OtherX, Mark float64 // of bars and the line
	Text            string
}

// The measures of a chart, in pixels.
const (
	chartHead  = 64.0
	chartLine  = 30.0
	chartLabel = 250.0
	chartBars  = 330.0
	chartLong  = 36 // letters of a label
)

// lay puts the rows under each other.
func (c *chart) lay() {
	for i := range c.Rows {
		r := &c.Rows[i]
		r.Short, r.Y = excerpt.Of(r.Label, chartLong), chartHead+float64(i)*chartLine
		r.X, r.Text, r.Mark = chartBars*min(r.Part, 1), cmp.Or(r.Percent, ui.Percent(r.Part)), -1
		if r.Expected >= 0 {
			r.Mark = chartLabel + chartBars*min(r.Expected, 1)
		}
		if r.Other != nil {
			r.OtherX = chartBars * min(r.Other.Part, 1)
			r.Text += " against " + ui.Percent(r.Other.Part)
		}
	}
	c.Height = chartHead + float64(len(c.Rows))*chartLine + 16
}

func rowOfChart(r rowFigure) chartRow {
	one := chartRow{Label: r.Label, Count: r.Count, Part: r.Part, Percent: r.Percent, Expected: -1, Other: r.Beside}
	if r.Mark >= 0 {
		one.Expected = r.Mark / 100
	}
	return one
}

// about says of how many people a figure is, and of which.
func (p *learnPage) about() string {
	said := ui.Plural(p.Count, "response", "responses")
	if p.Flow.Out > 0 {
		said += ", " + ui.Count(p.Flow.Out) + " screened out"
	}
	return said + p.sliceWords()
}

// sliceWords says which slice a figure is of, "" where it is of all.
func (p *learnPage) sliceWords() string {
	if p.Slice == "" {
		return ""
	}
	return " · " + p.Slice
}

// chart returns the figure with a name, and whether there is one.
func (p *learnPage) chart(name string) (*chart, bool) {
	c := &chart{About: p.about(), Slice: p.Slice, Versus: p.Versus.Words}
	kind, key, _ := strings.Cut(name, ".")
	switch kind {
	case "outcomes":
		c.Title = "Outcomes"
		for _, o := range p.Outcomes {
			row := chartRow{Label: o.Name, Count: o.Count, Part: o.Part, Percent: o.Percent, Expected: o.Mark / 100,
				Other: o.Beside, Class: o.Class}
			c.Rows = append(c.Rows, row)
		}
		return c, true
	case "stream":
		c.Title = "How far they came"
		c.Rows = append(c.Rows, chartRow{Label: "Saw it", Count: p.Flow.Seen, Part: 1, Expected: -1},
			chartRow{Label: "Began", Count: p.Flow.Began, Part: part(p.Flow.Began, p.Flow.Seen), Expected: -1})
		for _, q := range p.Questions {
			if q.Reach != nil {
				c.Rows = append(c.Rows, chartRow{Label: q.Number + " " + q.Label, Count: q.Reach.People,
					Part: part(q.Reach.People, p.Flow.Seen), Expected: -1})
			}
		}
		if p.Flow.Out > 0 {
			c.Rows = append(c.Rows, chartRow{Label: "Screened out", Count: p.Flow.Out,
				Part: part(p.Flow.Out, p.Flow.Seen), Expected: -1})
		}
		c.Rows = append(c.Rows, chartRow{Label: "Finished", Count: p.Flow.Finished,
			Part: part(p.Flow.Finished, p.Flow.Seen), Expected: -1})
		return c, p.Flow.Told
	case "answer":
		for _, q := range p.Questions {
			if q.Key != key {
				continue
			}
			c.Title, c.About = q.Label, ui.Count(q.Answered)+" answered"+p.sliceWords()
			for _, r := range q.Rows {
				c.Rows = append(c.Rows, rowOfChart(r))
			}
			if q.Grid != nil {
				for _, r := range q.Grid.Rows {
					for i, cell := range r.Cells {
						c.Rows = append(c.Rows, chartRow{Label: r.Label + ": " + q.Grid.Columns[i],
							Count: cell.Count, Part: cell.Part, Percent: cell.Percent, Expected: -1, Other: cell.Beside})
					}
				}
			}
			return c, len(c.Rows) > 0
		}
	case "score":
		for _, s := range p.Came {
			if s.Key == key {
				c.Title, c.About = s.Name, "mean "+s.Mean+", spread "+s.Spread+p.sliceWords()
				for _, r := range s.Rows {
					c.Rows = append(c.Rows, rowOfChart(r))
				}
				return c, true
			}
		}
	}
	return nil, false
}

// picture sends a figure as SVG or CSV.
func (s *Room) picture(c *gin.Context) {
	z, in, ok := s.sliced(c)
	if !ok {
		return
	}
	page := learnPage{}
	if err := s.figure(c, z, in, &page); err != nil {
		s.Fail(c, err)
		return
	}
	name := c.Param("file")
	dot := strings.LastIndexByte(name, '.')
	var one *chart
	if dot > 0 {
		one, ok = page.chart(name[:dot])
	}
	if one == nil || !ok || name[dot:] != ".svg" && name[dot:] != ".csv" {
		s.Fail(c, store.ErrNotFound)
		return
	}
	c.Header("Content-Disposition", `attachment; filename="`+name+`"`)
	if name[dot:] == ".csv" {
		c.Header("Content-Type", rows.CSV.Media())
		if err := one.write(c.Writer); err != nil {
			s.Fail(c, err)
		}
		return
	}
	one.lay()
	svg, err := s.Views.Part("learn", "chart", one)
	if err != nil {
		s.Fail(c, err)
		return
	}
	c.Data(http.StatusOK, "image/svg+xml", svg)
}

// write writes the chart as a table: shares are of 1.
func (c *chart) write(to http.ResponseWriter) error {
	columns := []rows.Column{{Key: "what"}, {Key: "count", Kind: rows.Whole}, {Key: "share", Kind: rows.Number},
		{Key: "expected", Kind: rows.Number},
		{Key: "other_count", Kind: rows.Whole}, {Key: "other_share", Kind: rows.Number}}
	if c.Versus == "" {
		columns = columns[:4]
	}
	if c.Slice != "" {
		columns = append(columns, rows.Column{Key: "slice"})
	}
	w, err := rows.New(rows.CSV, to, columns, rows.Options{})
	if err != nil {
		return err
	}
	number := func(share float64) rows.Cell {
		return rows.Cell{Given: share >= 0, N: int64(math.Round(share * float64(decimal.One)))}
	}
	for _, r := range c.Rows {
		cells := []rows.Cell{rows.Said(r.Label), rows.Counted(int64(r.Count)), number(r.Part), number(r.Expected), {}, {}}
		if r.Other != nil {
			cells[4], cells[5] = rows.Counted(int64(r.Other.Count)), number(r.Other.Part)
		}
		if c.Versus == "" {
			cells = cells[:4]
		}
		if c.Slice != "" {
			cells = append(cells, rows.Said(c.Slice))
		}
		if err := w.Row(cells); err != nil {
			return err
		}
	}
	return w.Close()
}

// charted is where a figure goes out, without the end of its name.
func (s *sentence) charted(name string) pair {
	return pair{s.beside("pictures/" + name + ".svg"), s.beside("pictures/" + name + ".csv")}
}

// A pair of addresses: of the picture and of its table.
type pair struct{ SVG, CSV string }
