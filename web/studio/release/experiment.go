package release

import (
	"errors"
	"fmt"
	"net/http"
	"strconv"
	"strings"
	"time"

	"github.com/gin-gonic/gin"

	"omphalos/store"
	"omphalos/web/studio/desk"
)

// An experiment is two releases side by side, with what came of each so far.
type experiment struct {
	Since time.Time
	Arms  []arm
	Learn string // address where both are compared
}

type arm struct {
	Number  int
	Percent int // of those who begin
	Count   int // responses since then, and who was screened out
	Out     int // of them, who was screened out
	Shares  []desk.Share
	Public  bool
}

func (s *Room) experimentOf(c *gin.Context, z *store.Quiz, releases []store.Release) (*experiment, error) {
	e, is := z.ExperimentOf()
	if !is {
		return nil, nil
	}
	counts, err := s.Store.Responses.AnsweredSince(c.Request.Context(), z.ID, e.Since)
	if err != nil {
		return nil, err
	}
	screened, err := s.Store.Responses.ScreenedSince(c.Request.Context(), z.ID, e.Since)
	if err != nil {
		return nil, err
	}
	x := &experiment{Since: e.Since}
	x.Learn = fmt.Sprintf("%s/learn?from=%s&release=%d&vs.release=%d", desk.Address(z),
		e.Since.UTC().Format(time.RFC3339), e.Release, z.Released)
	percent := int(100*e.Share + 0.5)
	for i := range releases {
		r := &releases[i]
		one := arm{Number: r.Number, Percent: percent}
		switch r.Number {
		case z.Released:
			one.Percent, one.Public = 100-percent, true
		case e.Release:
		default:
			continue
		}
		q, err := r.Read()
		if err != nil {
			return nil, err
		}
		shares := map[string]float64{}
		for outcome, n := range counts[r.ID] {
			one.Count += n
			shares[outcome] = float64(n)
		}
		for outcome, n := range screened[r.ID] {
			one.Count, one.Out = one.Count+n, one.Out+n
			shares[outcome] += float64(n)
		}
		for outcome := range shares {
			shares[outcome] /= float64(one.Count)
		}
		one.Shares = sharesOf(q, shares)
		x.Arms = append(x.Arms, one)
	}
	return x, nil
}

// try begins an experiment, or ends it by keeping one of the two.
func (s *Room) try(c *gin.Context) {
	z, ok := s.QuizOf(c)
	if !ok {
		return
	}
	ctx, said := c.Request.Context(), ""
	var err error
	if keep, wrong := strconv.Atoi(c.PostForm("keep")); wrong == nil {
		if err = s.Store.Definitions.EndExperiment(ctx, z.ID); err == nil && keep != z.Released {
			_, err = s.Store.Definitions.ReleaseAgain(ctx, z.ID, keep, s.User(c))
		}
		said = fmt.Sprintf("Everybody who begins gets release %d now; who is mid-way ends on theirs.", keep)
	} else {
		number, _ := strconv.Atoi(c.PostForm("release"))
		percent, wrong := strconv.ParseFloat(strings.TrimSuffix(strings.TrimSpace(c.PostForm("percent")), "%"), 64)
		if wrong != nil || percent < 1 || percent > 99 {
			s.Say(c, "Say how many of a hundred shall get it: 1 to 99.", "")
			c.Redirect(http.StatusSeeOther, desk.Address(z)+"/release#releases")
			return
		}
		err = s.Store.Definitions.Try(ctx, z.ID, number, percent/100)
		said = fmt.Sprintf("Release %d takes %g of a hundred who begin from now on. Each sees the same "+
			"when they come again.", number, percent)
	}
	switch {
	case errors.Is(err, store.ErrExperiment), errors.Is(err, store.ErrNotFound), errors.Is(err, store.ErrStale):
		said = "This release can't be tried beside the public one: choose another one."
	case err != nil:
		s.Fail(c, err)
		return
	}
	s.Say(c, said, "")
	c.Redirect(http.StatusSeeOther, desk.Address(z)+"/release#releases")
}
