package player

import (
	"errors"
	"fmt"
	"log/slog"
	"net/http"
	"strconv"
	"strings"

	"github.com/gin-gonic/gin"

	"omphalos/core/place"
	"omphalos/core/program"
	"omphalos/core/quiz"
	"omphalos/store"
	"omphalos/web/ui"
)

// A placesView offers the places of a table to choose from.
type placesView struct {
	List  []placeView
	Sorts bool // they can be brought into the order of their distance from the respondent
}

type placeView struct {
	store.Place
	Chosen   bool
	Distance string
}

// manyPlaces is how many there are at least where one looks for them by name.
const manyPlaces = 6

// Many tells whether one looks for places by name.
func (v *placesView) Many() bool { return len(v.List) >= manyPlaces }

// places lists the places of a location question, by name.
func (j *journey) places(q *quiz.Question, chosen string) *placesView {
	list, err := j.player.store.Definitions.Places(j.ctx, q.Table)
	if err != nil {
		slog.Error("reading places", "error", err)
	}
	view := &placesView{Sorts: !j.fresh}
	for _, one := range list {
		view.List = append(view.List, placeView{Place: one, Chosen: one.Key == chosen})
	}
	return view
}

// nearest shows a location question with the nearest places first. Where the respondent
// is stays in the request: it is not kept.
func (p *player) nearest(c *gin.Context, j *journey, at int) {
	q := j.program.Question(at)
	north, east, _ := strings.Cut(c.Query("near"), ",")
	var from place.Point
	var wrong error
	if from.Latitude, wrong = strconv.ParseFloat(north, 64); wrong == nil {
		from.Longitude, wrong = strconv.ParseFloat(east, 64)
	}
	page := j.page(j.together(at), nil)
	if wrong != nil || !from.Valid() || q.Kind != quiz.Location {
		p.lead(c, j.address(at))
		return
	}
	for s := range page.Sections {
		for i := range page.Sections[s].Questions {
			if view := page.Sections[s].Questions[i].Places; view != nil {
				view.sort(from)
			}
		}
	}
	p.show(c, http.StatusOK, "question", page)
}

func (v *placesView) sort(from place.Point) {
	points := make([]place.Point, len(v.List))
	for i, one := range v.List {
		points[i] = one.Point()
	}
	order, away := place.Nearest(from, points)
	sorted := make([]placeView, len(order))
	for i, n := range order {
		sorted[i] = v.List[n]
		sorted[i].Distance = fmt.Sprintf("%.0f km", away[i])
		if away[i] < 10 {
			sorted[i].Distance = fmt.Sprintf("%.1f km", away[i])
		}
	}
	v.List, v.Sorts = sorted, false
}

// refuses tells what is wrong with an answer that only the workspace or the clock can check,
// "" for nothing: a place, a time or a day that is not offered.
func (p *player) refuses(j *journey, at int, v program.Value) string {
	q := j.program.Question(at)
	switch q.Kind {
	case quiz.Location:
		view := j.places(q, v.Text)
		for _, one := range view.List {
			if one.Chosen {
				return ""
			}
		}
		return j.tongue().say("This place is not among them any more. Choose another one.")
	case quiz.Appointment:
		return p.refusesTime(j, q, v.Text)
	case quiz.Date:
		var refused *program.Refused
		if err := j.program.OnDay(at, v, ui.Today(j.program.Quiz)); errors.As(err, &refused) {
			return j.tongue().refused(refused)
		}
	}
	return ""
}
