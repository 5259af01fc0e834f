package sheet

import (
	"cmp"
	"context"
	"fmt"
	"html/template"
	"net/http"
	"strings"
	"time"

	"github.com/gin-gonic/gin"

	"omphalos/core/decimal"
	"omphalos/core/finding"
	"omphalos/core/odds"
	"omphalos/core/passage"
	"omphalos/core/program"
	"omphalos/core/quiz"
	"omphalos/core/starter"
	"omphalos/store"
	"omphalos/web/studio/desk"
)

// A Sheet is what the page of a draft shows. It is rendered in parts, so that
// an edit sends only those that have changed.
type Sheet struct {
	Quiz     *store.Quiz
	Doc      *quiz.Quiz
	Undo     string // sentence of what undo takes back
	Redo     string
	Columns  []column
	Findings []finding.Finding
	Observed bool       // the odds are told by what respondents answered
	Answered int        // how many responses there are
	odds     *odds.Odds // that are shown; nil where they can't be told
	possible *odds.Odds // what passages can come to, whichever odds are shown; nil as odds
	program  *program.Program
	eyes     eyesPart
	sampled  struct {
		in     passage.Input
		result *passage.Result
	}
	names     []fill
	signposts []store.Signpost
	catalogue []store.Product
	placed    []string // tables that have places
	threads   map[quiz.Pointer]threadRow
}

// A column of the ledger.
type column struct {
	Key, Name, Kind string
	Lowest, Highest string
	Mean            string
	Place           int
	Dead            bool            // nothing feeds it
	most            decimal.Decimal // the largest weight, up or down, at least 1
}

// A part is a piece of the sheet that is rendered by itself.
type part struct {
	ID       string // of the element
	template string
	data     any
}

type sheetPage struct {
	desk.Frame
	Sheet  *Sheet
	Parts  map[string]template.HTML
	Order  []string // of the questions' parts
	Ends   []string // of the outcomes' parts
	Steps  []string // of the decision's parts
	Ready  string   // JSON of the ready-made questions
	Placed []string // tables of places
	Shown  string   // mark of what is shown
}

func (s *Room) sheet(c *gin.Context) {
	z, ok := s.QuizOf(c)
	if !ok {
		return
	}
	if mode := c.Query("odds"); mode != "" {
		s.SetCookie(c, oddsCookie, mode, desk.Address(z), viewTime)
		c.Redirect(http.StatusSeeOther, desk.Address(z))
		return
	}
	if c.Query("eyes") != "" {
		s.lookAs(c, z)
		c.Redirect(http.StatusSeeOther, desk.Address(z)+"#part-eyes")
		return
	}
	sh, err := s.Read(c, z)
	if err != nil {
		s.Fail(c, err)
		return
	}
	r, err := s.render(sh)
	if err != nil {
		s.Fail(c, err)
		return
	}
	page := sheetPage{Frame: s.Frame(c, z.Title, "sheet", z), Sheet: sh, Parts: map[string]template.HTML{},
		Order: r.orders["questions"], Ends: r.orders["outcomes"], Steps: r.orders["steps"], Ready: desk.JsonText(starter.Questions), Placed: sh.placed, Shown: r.mark}
	for id, html := range r.parts {
		page.Parts[id] = template.HTML(html)
	}
	c.Header("ETag", etag(z.Revision))
	s.Show(c, http.StatusOK, "sheet", page)
}

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

// Read works out what the sheet of a draft shows.
func (s *Room) Read(c *gin.Context, z *store.Quiz) (*Sheet, error) {
	q, err := z.Document()
	if err != nil {
		return nil, fmt.Errorf("reading the draft of quiz %d: %w", z.ID, err)
	}
	sh := &Sheet{Quiz: z, Doc: q}
	if sh.Undo, sh.Redo, err = s.Store.Definitions.History(c.Request.Context(), z); err != nil {
		return nil, err
	}
	sh.eyes = eyes(c)
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
	sh.Findings, sh.program, sh.odds = finding.Of(
		q,
		with,
		finding.Outside{Signpost: sh.signpostUp, Product: sh.productThere, Places: sh.placesThere},
	)
	sh.possible = sh.odds
	if sh.Answered > 0 && sh.program != nil && oddsMode(c) == "observed" {
		if sh.odds, err = s.observed(c.Request.Context(), sh); err != nil {
			return nil, err
		}
		sh.Observed = true
	}
	sh.threads = threads(q, sh.odds)
	sh.columns()
	return sh, nil
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

func (sh *Sheet) columns() {
	for i, k := range quiz.InOrder(sh.Doc.Scales) {
		scale := sh.Doc.Scales[k]
		col := column{
			Key:   k,
			Place: i,
			Name:  cmp.Or(scale.Name, k),
			Kind:  string(scale.Kind),
			Dead:  !fed(sh.Doc, k),
			most:  heaviest(sh.Doc, k),
		}
		if sh.possible != nil && len(sh.possible.Scores[k].Points) > 0 {
			can := sh.possible.Scores[k]
			col.Lowest, col.Highest, col.Mean = can.Lowest().Words(), can.Highest().Words(), oneDecimal(can.Mean)
			if !sh.possible.ExactScale(k) { // what a sample has met is not the end of it
				col.Lowest = bound("≥ ", can.Within.Low)
				col.Highest = bound("≤ ", can.Within.High)
				col.Mean = "≈ " + col.Mean
			}
		}
		if sh.Observed {
			col.Mean = oneDecimal(sh.odds.Scores[k].Mean)
		}
		sh.Columns = append(sh.Columns, col)
	}
}

// mostObserved is how many responses, of the newest, the sheet counts.
const mostObserved = 2048

// observed counts the newest responses as the draft takes them.
func (s *Room) observed(ctx context.Context, sh *Sheet) (*odds.Odds, error) {
	last, err := s.Store.Responses.Last(ctx, sh.Quiz.ID)
	if err != nil {
		return nil, err
	}
	of := fmt.Sprint(sh.Quiz.ID, " ", sh.Answered, " ", last) // one that is deleted changes it, too
	list, known := s.newest.Get(of)
	if !known {
		if list, err = s.Store.Responses.Newest(ctx, sh.Quiz.ID, mostObserved); err != nil {
			return nil, err
		}
		s.newest.Add(of, list)
	}
	inputs := make([]passage.Input, len(list))
	reader := store.NewReader(sh.program)
	for i := range list {
		inputs[i] = reader.Input(&list[i])
	}
	return odds.Observe(sh.program, inputs), nil
}

func oneDecimal(x float64) string { return strings.Replace(fmt.Sprintf("%.1f", x), "-", "−", 1) }

// bound writes a proven end of a scale.
func bound(sign string, d *decimal.Decimal) string {
	if d == nil {
		return "no end"
	}
	return sign + d.Words()
}

// fed tells whether any answer adds to the scale.
func fed(q *quiz.Quiz, scale string) bool {
	for _, asked := range q.Questions {
		for _, a := range asked.Answers {
			if a.Adds[scale] != 0 {
				return true
			}
		}
		if asked.Weigh[scale] != nil {
			return true
		}
	}
	return q.Scales[scale].Method == quiz.Formula
}

func heaviest(q *quiz.Quiz, scale string) decimal.Decimal {
	most := decimal.One
	for _, asked := range q.Questions {
		for _, a := range asked.Answers {
			most = max(most, a.Adds[scale], -a.Adds[scale])
		}
		for _, row := range asked.Rows {
			for _, adds := range row.Adds {
				most = max(most, adds[scale], -adds[scale])
			}
		}
		if w := asked.Weigh[scale]; w != nil {
			for _, b := range w.Brackets {
				most = max(most, b.Adds, -b.Adds)
			}
		}
	}
	return most
}

// parts lists what the sheet is made of.
func (sh *Sheet) parts() []part {
	list := []part{
		{
			"part-title",
			"titlebox",
			sh,
		}, {"part-bar", "bar", sh}, {"part-outline", "outline", sh.outline()}, {"part-findings", "findings", sh}, {"part-targets", "targets", sh}, {"part-fills", "allfills", sh.fills()},
		{"part-head", "ledgerhead", sh}, {"part-opening", "opening", sh.opening()},
	}
	list = append(list, sh.asked()...)
	list = append(
		list,
		part{"part-foot", "foot", sh},
		part{"part-scales", "scales", sh},
		part{"part-decision", "decisionhead", sh},
	)
	for _, k := range quiz.InOrder(sh.Doc.Decision.Steps) {
		list = append(list, part{"part-s-" + k, "step", sh.step(k)})
	}
	list = append(list, part{"part-otherwise", "otherwise", sh}, part{"part-eyes", "eyes", struct {
		eyesPart
		Passing threadRow
		Devices []string
	}{sh.eyes, sh.Passing(), []string{"phone", "tablet", "desktop"}}})
	for _, k := range quiz.InOrder(sh.Doc.Outcomes) {
		list = append(list, part{"part-o-" + k, "outcome", sh.outcome(k)})
	}
	list = append(list, part{"part-contact", "contact", sh.contact()}, part{"part-look", "look", sh.look()})
	return list
}

type outlineItem struct {
	Part, Mark, Words string
	Hue               string
	Findings          int
}

func (sh *Sheet) outline() []outlineItem {
	items := []outlineItem{{Part: "part-opening", Words: "Opening", Findings: len(sh.findings("/opening"))}}
	section := ""
	for i, k := range sh.Doc.QuestionKeys() {
		if at := sh.Doc.Questions[k].Section; at != section && sh.headed() && sh.Doc.Sections[at] != nil {
			section = at
			items = append(
				items,
				outlineItem{
					Part:     "part-sec-" + at,
					Words:    cmp.Or(sh.Doc.Sections[at].Heading, "A section"),
					Findings: len(sh.findings(quiz.At("sections", at))),
				},
			)
		}
		items = append(
			items,
			outlineItem{
				"part-q-" + k,
				fmt.Sprint(i + 1),
				cmp.Or(sh.Doc.Questions[k].Label, "No words yet"),
				"",
				len(sh.findings(quiz.At("questions", k))),
			},
		)
	}
	items = append(items, outlineItem{Part: "part-scales", Words: "Scales", Findings: len(sh.findings("/scales"))})
	items = append(items, outlineItem{Part: "decision", Words: "Decision", Findings: len(sh.findings("/decision"))})
	for i, k := range quiz.InOrder(sh.Doc.Outcomes) {
		items = append(
			items,
			outlineItem{
				"part-o-" + k,
				sh.Doc.Letter(k),
				sh.Doc.Outcomes[k].Name,
				desk.Hue(i),
				len(sh.findings(quiz.At("outcomes", k))),
			},
		)
	}
	return append(items, outlineItem{Part: "part-contact", Words: "Contact", Findings: len(sh.findings("/contact"))},
		outlineItem{Part: "part-look", Words: "Look and words", Findings: len(sh.findings("/look"))})
}
