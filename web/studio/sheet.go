package studio

import (
	"bytes"
	"cmp"
	"context"
	"fmt"
	"html/template"
	"net/http"
	"reflect"
	"slices"
	"strconv"
	"strings"
	"sync/atomic"
	"time"

	"github.com/gin-gonic/gin"
	lru "github.com/hashicorp/golang-lru/v2"

	"omphalos/core/decimal"
	"omphalos/core/finding"
	"omphalos/core/odds"
	"omphalos/core/passage"
	"omphalos/core/program"
	"omphalos/core/quiz"
	"omphalos/core/starter"
	"omphalos/store"
	"omphalos/web/ui"
)

// A sheetRoom is where a quiz is designed, and its map.
type sheetRoom struct {
	*Desk
	rendered *lru.Cache[string, []*rendered]      // by sheet.kept: what was sent last, the newest first
	newest   *lru.Cache[string, []store.Response] // by quiz, number of responses and the last of them: the newest
}

func newSheetRoom(d *Desk) *sheetRoom {
	s := &sheetRoom{Desk: d}
	s.newest, _ = lru.New[string, []store.Response](mostNewest)
	s.rendered, _ = lru.New[string, []*rendered](mostRendered)
	return s
}

// routes are the room's, each with what it takes.
func (s *sheetRoom) routes() []ui.Route {
	return []ui.Route{
		ui.Get("/quizzes/:quiz", s.sheet),
		ui.Get("/quizzes/:quiz/map", s.showMap),
		ui.Get("/quizzes/:quiz/map.svg", s.downloadMap),
		ui.Get("/quizzes/:quiz/draft", s.draft),
		ui.Get("/quizzes/:quiz/questions", s.questions),
		ui.Post("/quizzes/:quiz/reuse/:other/:key", ui.JSON, s.reuse),
		ui.Patch("/quizzes/:quiz/draft", ui.JSON, s.patch),
		ui.Post("/quizzes/:quiz/acts", ui.JSON, s.act),
		ui.Post("/quizzes/:quiz/aim/:step", ui.JSON, s.aim),
		ui.Get("/quizzes/:quiz/tables/:file", s.downloadTable),
		ui.Post("/quizzes/:quiz/tables/:file", ui.JSON, s.takeTable),
		ui.Post("/quizzes/:quiz/undo", ui.JSON, s.undo),
		ui.Post("/quizzes/:quiz/redo", ui.JSON, s.redo),
	}
}

// hearing are the routes of pages that are open, whether somebody is there or not.
func (s *sheetRoom) hearing() []ui.Route {
	return []ui.Route{ui.Get("/quizzes/:quiz/news", s.news)}
}

// How many sheets are kept as they were sent last, and of how many quizzes the newest
// responses.
const (
	mostRendered = 64
	mostNewest   = 4
)

// A sheet is what the page of a draft shows. It is rendered in parts, so that
// an edit sends only those that have changed.
type sheet struct {
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
	frame
	Sheet  *sheet
	Parts  map[string]template.HTML
	Order  []string // of the questions' parts
	Ends   []string // of the outcomes' parts
	Steps  []string // of the decision's parts
	Ready  string   // JSON of the ready-made questions
	Placed []string // tables of places
	Shown  string   // mark of what is shown
}

func (s *sheetRoom) sheet(c *gin.Context) {
	z, ok := s.quiz(c)
	if !ok {
		return
	}
	if mode := c.Query("odds"); mode != "" {
		s.setCookie(c, oddsCookie, mode, address(z), viewTime)
		c.Redirect(http.StatusSeeOther, address(z))
		return
	}
	if c.Query("eyes") != "" {
		s.lookAs(c, z)
		c.Redirect(http.StatusSeeOther, address(z)+"#part-eyes")
		return
	}
	sh, err := s.read(c, z)
	if err != nil {
		s.fail(c, err)
		return
	}
	r, err := s.render(sh)
	if err != nil {
		s.fail(c, err)
		return
	}
	page := sheetPage{frame: s.frame(c, z.Title, "sheet", z), Sheet: sh, Parts: map[string]template.HTML{},
		Order: r.orders["questions"], Ends: r.orders["outcomes"], Steps: r.orders["steps"], Ready: jsonText(starter.Questions), Placed: sh.placed, Shown: r.mark}
	for id, html := range r.parts {
		page.Parts[id] = template.HTML(html)
	}
	c.Header("ETag", etag(z.Revision))
	s.show(c, http.StatusOK, "sheet", page)
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

// read works out what the sheet of a draft shows.
func (s *sheetRoom) read(c *gin.Context, z *store.Quiz) (*sheet, error) {
	q, err := z.Document()
	if err != nil {
		return nil, fmt.Errorf("reading the draft of quiz %d: %w", z.ID, err)
	}
	sh := &sheet{Quiz: z, Doc: q}
	if sh.Undo, sh.Redo, err = s.store.Definitions.History(c.Request.Context(), z); err != nil {
		return nil, err
	}
	sh.eyes = eyes(c)
	timed, stop := context.WithTimeout(c.Request.Context(), mostTime)
	defer stop()
	exact, stop := context.WithTimeout(timed, exactTime)
	defer stop()
	with := odds.Options{Steps: mostSteps, Sample: sampleSize, Visitor: &sh.eyes.Visitor, Context: timed, Exact: exact}
	if sh.Answered, err = s.store.Responses.Answered(c.Request.Context(), z.ID); err != nil {
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

func (sh *sheet) columns() {
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
func (s *sheetRoom) observed(ctx context.Context, sh *sheet) (*odds.Odds, error) {
	last, err := s.store.Responses.Last(ctx, sh.Quiz.ID)
	if err != nil {
		return nil, err
	}
	of := fmt.Sprint(sh.Quiz.ID, " ", sh.Answered, " ", last) // one that is deleted changes it, too
	list, known := s.newest.Get(of)
	if !known {
		if list, err = s.store.Responses.Newest(ctx, sh.Quiz.ID, mostObserved); err != nil {
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
func (sh *sheet) parts() []part {
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

// A rendered sheet is its parts as HTML, by the element's ID, with what they
// were made of: a part that would be made of the same is not made again.
type rendered struct {
	mark   string // tells it from every other
	parts  map[string]string
	made   map[string]any
	orders map[string][]string // of the parts in each list
}

// farBehind is how many sheets of a quiz are kept as they were sent.
const farBehind = 8

// marks counts the sheets that were rendered, from a number that no earlier run had.
var marks atomic.Int64

func init() { marks.Store(time.Now().UnixNano()) }

// sent returns the sheet that was sent under a mark, or nil.
func (s *sheetRoom) sent(sheet, mark string) *rendered {
	list, _ := s.rendered.Get(sheet)
	for _, r := range list {
		if r.mark == mark {
			return r
		}
	}
	return nil
}

// asked lists the questions, under the heads of their sections.
func (sh *sheet) asked() []part {
	var list []part
	keys, sections := sh.Doc.QuestionKeys(), quiz.InOrder(sh.Doc.Sections)
	head := 0
	heads := func(until int) {
		for ; sh.headed() && head < until; head++ {
			above := sh.threads["/opening"]
			if len(list) > 0 {
				above = sh.Before()
			}
			list = append(
				list,
				part{"part-sec-" + sections[head], "section", sh.section(head, sections[head], above.Under())},
			)
		}
	}
	for i, k := range keys {
		heads(slices.Index(sections, sh.Doc.Questions[k].Section) + 1)
		list = append(list, part{"part-q-" + k, "question", sh.question(i, k)})
	}
	heads(len(sections))
	return list
}

// kept names the rendered sheet of a quiz, by the odds that it shows.
func (sh *sheet) kept() string { return fmt.Sprint(sh.Quiz.ID, sh.Observed, sh.eyes) }

func (s *sheetRoom) render(sh *sheet) (*rendered, error) {
	r := &rendered{
		mark:   strconv.FormatInt(marks.Add(1), 36),
		parts:  map[string]string{},
		made:   map[string]any{},
		orders: map[string][]string{"questions": {}, "outcomes": {}, "steps": {}},
	}
	old, sent := new(rendered), []*rendered(nil)
	if sent, _ = s.rendered.Get(sh.kept()); len(sent) > 0 {
		old = sent[0]
	}
	for _, p := range sh.parts() {
		r.made[p.ID] = p.data
		if _, whole := p.data.(*sheet); !whole && reflect.DeepEqual(old.made[p.ID], p.data) {
			r.parts[p.ID] = old.parts[p.ID]
		} else {
			html, err := s.views.Part("sheet", p.template, p.data)
			if err != nil {
				return nil, err
			}
			r.parts[p.ID] = string(bytes.TrimSpace(html))
		}
		for prefix, list := range map[string]string{"part-q-": "questions", "part-sec-": "questions", "part-o-": "outcomes", "part-s-": "steps"} {
			if strings.HasPrefix(p.ID, prefix) {
				r.orders[list] = append(r.orders[list], p.ID)
			}
		}
	}
	list := []*rendered{r}
	for _, before := range sent[:min(len(sent), farBehind-1)] { // what they were made of is not asked for any more
		list = append(list, &rendered{mark: before.mark, parts: before.parts, orders: before.orders})
	}
	s.rendered.Add(sh.kept(), list)
	return r, nil
}

type outlineItem struct {
	Part, Mark, Words string
	Hue               string
	Findings          int
}

func (sh *sheet) outline() []outlineItem {
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
				hue(i),
				len(sh.findings(quiz.At("outcomes", k))),
			},
		)
	}
	return append(items, outlineItem{Part: "part-contact", Words: "Contact", Findings: len(sh.findings("/contact"))},
		outlineItem{Part: "part-look", Words: "Look and words", Findings: len(sh.findings("/look"))})
}
