package sheet

import (
	"net/http"

	"github.com/gin-gonic/gin"

	"omphalos/core/finding"
	"omphalos/web/studio/desk"
	"omphalos/web/ui"
)

// A libraryPage shows the parts that rooms are built from, each in its states: for those
// who build rooms. Where it is right to use which says docs/front.md.
type libraryPage struct {
	desk.Frame
	Schemes   []string // classes of a light and of a dark side
	Standings []string
	Knots     []knot
	Levels    []string
	Cells     []cell
	Bars      []bare
	Spread    []slide
	Shares    []desk.Share
	Minds     []mind
	Ways      []wayPart
	Pick      map[string]any
}

type knot struct{ Class, Letter string }

// A bare bar of odds: with a path it can be dragged.
type bare struct {
	Path, Words string
	Share       float64
	Percent     string
	Set         bool
}

func (s *Room) library(c *gin.Context) {
	page := libraryPage{
		Frame:     s.Frame(c, "Parts", "", nil),
		Schemes:   []string{"scheme-light", "scheme-dark"},
		Standings: []string{"fit", "keep warm", "not a fit"},
		Levels:    []string{"error", "warning", "hint"},
		Shares: []desk.Share{
			{Name: "Walk the rows together", Letter: "A", Class: desk.Hue(0), Count: 6, Part: 0.6, Percent: "60 %", Width: 60},
			{Name: "Not this season", Letter: "B", Class: desk.Hue(1), Count: 4, Part: 0.4, Percent: "40 %", X: 60, Width: 40},
		},
		Pick: map[string]any{
			"Label": "A choice", "Path": "/parts/outcome", "Chosen": "rows", "None": "choose an outcome", "New": "a new outcome",
			"Choices": []choice{{Key: "rows", Letter: "A", Name: "Walk the rows together"},
				{Key: "not", Letter: "B", Name: "Not this season"}},
		},
		Bars: []bare{
			{Share: 0.25, Percent: "25 %"},
			{Share: 0.6, Percent: "60 %", Path: "/parts/expect/a", Words: "Expected share of an answer"},
			{Share: 0.9, Percent: "90 %", Path: "/parts/expect/b", Words: "Expected share of another", Set: true},
		},
		Ways: []wayPart{
			{Words: "leads on", Label: "Where an answer leads"},
			{Words: "then on to 4 · Where will it stand?", Label: "Where another leads", Leads: true},
			{Words: "then parts ways", Label: "Where a third leads", Leads: true, Parts: true},
		},
	}
	for i := range 8 {
		page.Knots = append(page.Knots, knot{desk.Hue(i), string(rune('A' + i))})
	}
	page.Knots = append(page.Knots, knot{"to-none", "?"})
	for i, class := range []string{"none", "", "up-1", "up-3", "up-5", "down-1", "down-3", "down-5"} {
		values := []string{"", "0", "+1", "+3", "+5", "−1", "−3", "−5"}
		page.Cells = append(page.Cells, cell{Class: class, Value: values[i], Label: "Weight " + values[i], Type: "number"})
	}
	for i, share := range []float64{0.1, 0.3, 0.6} {
		page.Spread = append(page.Spread, slide{
			Path:    "/parts/expect/c",
			Name:    []string{"0", "1", "Every week"}[i],
			Words:   "Expected share of a point",
			Share:   share,
			Percent: ui.Percent(share),
			Set:     i == 2,
		})
	}
	for _, level := range page.Levels {
		f := finding.Finding{Level: finding.Level(level), Sentence: "What is wrong here, and what to do about it."}
		page.Minds = append(page.Minds, mind{Told: Told{Finding: f}})
	}
	s.Show(c, http.StatusOK, "library", page)
}
