package learn

import (
	"errors"
	"net/http"
	"strings"

	"github.com/gin-gonic/gin"

	"omphalos/core/quiz"
	"omphalos/interchange/rows"
	"omphalos/store"
	"omphalos/store/slice"
	"omphalos/web/studio/desk"
)

// Shown is what is shown of a quiz: the newest release, or the draft where there is none, and
// what earlier ones asked. It is the same until there is another release.
type shown struct {
	quiz    *quiz.Quiz
	of      int         // number of the release
	pool    *slice.Pool // with what earlier releases asked and offered
	columns []rows.Column
}

// mostShown is how many are remembered.
const mostShown = 32

// A sliced quiz is what is shown of it, with the slice that the address names.
type sliced struct {
	*shown
	slice *sentence
}

// sliced returns the quiz and the slice of it that the address names, or answers that they
// are not there.
func (s *Room) sliced(c *gin.Context) (*store.Quiz, *sliced, bool) {
	z, ok := s.QuizOf(c)
	if !ok {
		return nil, nil, false
	}
	in, err := s.sliceAt(c, z)
	switch {
	case errors.Is(err, slice.ErrSentence):
		s.Tell(c, http.StatusBadRequest, "These responses can't be shown", "The address asks for more than is known: "+
			strings.TrimPrefix(err.Error(), slice.ErrSentence.Error()+": ")+". Open Learn again to see all of them.")
	case err != nil:
		s.Fail(c, err)
	}
	return z, in, err == nil
}

// sliceAt reads the slice that the address names.
func (s *Room) sliceAt(c *gin.Context, z *store.Quiz) (*sliced, error) {
	releases, err := s.Store.Definitions.Releases(c.Request.Context(), z.ID)
	if err != nil {
		return nil, err
	}
	shown, err := s.shownOf(z, releases)
	if err != nil {
		return nil, err
	}
	place := func(table, key string) string { return s.Store.Definitions.PlaceName(c.Request.Context(), table, key) }
	room := desk.Address(z) + "/learn"
	zone := s.Store.Responses.Zone()
	columns := slice.TableOf(shown.columns, releases, zone)
	asked, err := sentenceAt(room, shown.pool.Quiz, releases, place, c.Request.URL.Query(), columns, slice.DaysIn(zone))
	return &sliced{shown, asked}, err
}

// shownOf reads what is shown of a quiz with some releases, the newest first.
func (s *Room) shownOf(z *store.Quiz, releases []store.Release) (*shown, error) {
	if len(releases) == 0 {
		q, err := z.Document()
		if err != nil {
			return nil, err
		}
		return &shown{quiz: q, pool: slice.PoolOf(q, nil), columns: slice.Columns(q, nil)}, nil
	}
	if known, is := s.shown.Get(releases[0].ID); is {
		return known, nil
	}
	q, err := releases[0].Read()
	if err != nil {
		return nil, err
	}
	in := &shown{quiz: q, of: releases[0].Number, pool: slice.PoolOf(q, releases), columns: slice.Columns(q, releases)}
	s.shown.Add(releases[0].ID, in)
	return in, nil
}
