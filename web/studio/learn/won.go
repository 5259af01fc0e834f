package learn

import (
	"fmt"
	"net/http"
	"strings"

	"github.com/gin-gonic/gin"

	"omphalos/core/edit"
	"omphalos/core/program"
	"omphalos/core/scorecard"
	"omphalos/store"
	"omphalos/web/studio/desk"
)

// Leads that were won and lost say which answers speak for winning, which points would have sorted
// them best, and how well the draft's do.

type wonPage struct {
	desk.Frame
	whatIf
	Chips     []string
	Wrong     string // why the draft can't be walked
	Scale     string // by which the draft sorts, "" where it has none that can be learned
	Wins      int
	Losses    int
	Fewest    int
	Few       bool
	Yours     sorted
	Learned   sorted
	Judged    string // whether the suggestion is better, and how sure that is
	Questions []spoken
	Adopt     string // where points are taken over
	Patch     string // takes all points over that are suggested, "" where none are

	ordered []string
	ops     []edit.Op // all of them
}

// A sorted score is how well it sorts.
type sorted struct {
	Area, Range, Tenth, Words string
	Path                      string // of its curve
}

// won shows what can be learned from the leads of the slice that were won and lost.
func (s *Room) won(c *gin.Context) {
	z, in, ok := s.sliced(c)
	if !ok {
		return
	}
	page, err := s.learned(c, z, in)
	if err != nil {
		s.Fail(c, err)
		return
	}
	s.Show(c, http.StatusOK, "won", page)
}

// ordered are the questions whose points shall rise or fall along their answers.
func ordered(c *gin.Context) []string { return c.QueryArray("ordered") }

func (s *Room) learned(c *gin.Context, z *store.Quiz, in *sliced) (*wonPage, error) {
	ctx := c.Request.Context()
	page := &wonPage{Frame: s.Frame(c, z.Title, "learn", z), whatIf: in.slice.whatIf("won"),
		Chips: in.slice.words(), Fewest: scorecard.Fewest,
		Adopt: takenAt(c), ordered: ordered(c)}
	q, problems, err := z.Checked()
	if err != nil {
		return nil, err
	}
	p, err := program.CompileDraft(q, problems)
	if err != nil {
		page.Wrong = "The draft can’t be walked yet: its findings say what is missing."
		return page, nil
	}
	l := scorecard.NewLearner(p, page.ordered)
	if err := s.gather(ctx, z, in, l); err != nil {
		return nil, err
	}
	if l.Scale != "" {
		page.Scale = q.Scales[l.Scale].Name
	}
	page.fill(in, l, l.Learn())
	if len(page.ops) > 0 {
		page.Patch = desk.PatchText(page.ops)
	}
	return page, nil
}

// fill tells what was learned.
func (page *wonPage) fill(in *sliced, l *scorecard.Learner, of *scorecard.Learned) {
	page.Wins, page.Losses, page.Few = of.All.Won, of.All.Lost, of.Suggested == nil
	page.Yours = sortedOf("Your points", of.Yours)
	if of.Suggested != nil {
		page.Learned = sortedOf("Suggested points", *of.Suggested)
	}
	if of.Better != nil {
		page.Judged = judged(*of.Better)
	}
	for _, one := range of.Questions {
		page.Questions = append(page.Questions, page.told(in, l, one))
	}
}

// curveSide is how wide and high curves are drawn, in pixels.
const curveSide = 200

func sortedOf(words string, c scorecard.Curve) sorted {
	if len(c.Points) == 0 {
		return sorted{}
	}
	var path strings.Builder
	pen := "M"
	for _, p := range c.Points {
		fmt.Fprintf(&path, "%s%.1f %.1f", pen, curveSide*p.Lost, curveSide*(1-p.Won))
		pen = "L"
	}
	return sorted{
		Area: fmt.Sprintf("%.2f", c.Area), Range: fmt.Sprintf("%.2f–%.2f", max(c.Area-1.96*c.Error, 0),
			min(c.Area+1.96*c.Error, 1)),
		Tenth: fmt.Sprintf("%.1f", c.Tenth), Words: words, Path: path.String(),
	}
}

// judged says whether the suggestion is better than what stands, and how sure that is.
func judged(d scorecard.Difference) string {
	by := minus(fmt.Sprintf("by %.2f (%.2f to %.2f in 19 of 20 cases)", d.By, d.Low, d.High))
	switch {
	case d.By == 0:
		return "The suggestion sorts them as your points do."
	case d.Low > 0:
		return "The suggestion sorts better than your points, " + by + ": very likely not chance."
	case d.High < 0:
		return "Your points sort better than the suggestion, " + by + ": leave them."
	}
	return "Whether the suggestion sorts better can’t be said yet, " + by + ": it may be chance."
}
