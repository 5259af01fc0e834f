package sheet

import (
	"context"
	"fmt"
	"time"

	"github.com/gin-gonic/gin"

	"omphalos/core/finding"
	"omphalos/core/odds"
	"omphalos/store"
	"omphalos/web/ui"
)

// How a quiz is looked at is kept in cookies of its own.
const (
	oddsCookie = "odds"
	eyesCookie = "eyes"
	viewTime   = 7 * 24 * 60 * 60 // seconds
)

// oddsMode returns which odds are wanted.
func oddsMode(c *gin.Context) string {
	mode, _ := c.Cookie(oddsCookie)
	return mode
}

// asked returns the sheet that an address names, or answers that it is not there.
func (s *Room) asked(c *gin.Context) (*Sheet, bool) {
	z, ok := s.QuizOf(c)
	if !ok {
		return nil, false
	}
	sh, err := s.Read(c, z)
	if err != nil {
		s.Fail(c, err)
		return nil, false
	}
	return sh, true
}

// Read works out what the sheet of a draft shows.
func (s *Room) Read(c *gin.Context, z *store.Quiz) (*Sheet, error) {
	sh, err := s.read(c, z, eyes(c), oddsMode(c) == "observed")
	if err != nil {
		return nil, err
	}
	if sh.Answered > 0 && sh.program != nil && movesWanted(c) {
		if sh.Moves, err = s.moves(c.Request.Context(), sh); err != nil {
			return nil, err
		}
	}
	return sh, s.rehearsed(c.Request.Context(), sh)
}

// ForEverybody is Read with nobody's eyes, whatever somebody looks at on the sheet.
func (s *Room) ForEverybody(c *gin.Context, z *store.Quiz) (*Sheet, error) {
	sh, err := s.read(c, z, eyesPart{}, false)
	if err != nil {
		return nil, err
	}
	return sh, s.rehearsed(c.Request.Context(), sh)
}

// read is Read with the eyes of a visitor and of what is expected or observed, without what
// was rehearsed.
func (s *Room) read(c *gin.Context, z *store.Quiz, as eyesPart, observed bool) (*Sheet, error) {
	q, problems, err := z.Checked()
	if err != nil {
		return nil, fmt.Errorf("reading the draft of quiz %d: %w", z.ID, err)
	}
	sh := &Sheet{Quiz: z, Doc: q}
	if sh.Undo, sh.Redo, err = s.Store.Definitions.History(c.Request.Context(), z); err != nil {
		return nil, err
	}
	sh.eyes = as
	timed, stop := context.WithTimeout(c.Request.Context(), mostTime)
	defer stop()
	exact, stop := context.WithTimeout(timed, exactTime)
	defer stop()
	with := odds.Options{Steps: mostSteps, Sample: sampleSize, Visitor: &sh.eyes.Visitor, Context: timed, Exact: exact}
	if sh.Answered, err = s.Store.Responses.Answered(c.Request.Context(), z.ID); err != nil {
		return nil, err
	}
	if err := s.tables(c.Request.Context(), sh); err != nil {
		return nil, err
	}
	sh.Findings, sh.program, sh.odds = finding.OfChecked(
		q,
		problems,
		with,
		finding.Outside{Signpost: sh.signpostUp, Product: sh.productThere, Unsaid: sh.productsUnsaid,
			Places: sh.placesThere, Calendar: sh.calendarOpen, Receiver: sh.receiverThere,
			List: sh.listThere, Mailless: !sh.beyond.mail, Lost: s.Lost, Today: ui.Today(q)},
	)
	sh.possible = sh.odds
	if sh.Answered > 0 && sh.program != nil && observed {
		if sh.odds, err = s.observed(c.Request.Context(), sh); err != nil {
			return nil, err
		}
		sh.Observed = true
	}
	sh.threads = threads(q, sh.odds)
	sh.columns()
	sh.filled = q.Filled([]byte(z.Draft))
	if z.Led {
		if sh.walked, err = s.Store.Definitions.Walked(c.Request.Context(), z.ID); err != nil {
			return nil, err
		}
	}
	sh.fixed, err = s.fixed(c.Request.Context(), z)
	return sh, err
}

// How long an edit waits for odds at the most, and for exact ones: a bound for quizzes
// that nobody means, since steps bound the others.
const (
	mostTime  = 4 * time.Second
	exactTime = 2 * time.Second
)

// At every edit the odds are worked out in at most mostSteps steps a walk; beyond,
// from a sample, whose standard error is at most half a percent.
const (
	mostSteps  = 1 << 18
	sampleSize = 1 << 14
)
