package sheet

import (
	"html/template"
	"net/http"

	"github.com/gin-gonic/gin"

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
	screened int        // who were screened out beside them
	Answered int        // how many responses there are
	Moves    *movesPart // nil where it is not wanted, or not known, who would land elsewhere
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
	calendars []store.Calendar
	looks     []store.KeptLook // that the workspace keeps
	beyond    beyond
	threads   map[quiz.Pointer]threadRow
	broke     map[string]store.Edit           // by rehearsal that does not hold: the edit that broke it
	remarks   map[quiz.Pointer][]store.Remark // that are not settled, by place
	walked    bool                            // a rehearsal has come to its end
	filled    map[string]bool                 // what texts, addresses and formulas name
	fixed     map[string]bool                 // keys of questions that the public release has
	version   string                          // that it shows, "" for the draft as it is edited
}

// A part is a piece of the sheet that is rendered by itself. Its rows, where it has such, are
// pieces within it: its template leaves a place for each, and where nothing else of the part
// has changed, they are sent alone.
type part struct {
	ID       string // of the element
	template string
	data     any
	rows     []part
	kept     bool // it is as on the sheet before
}

type sheetPage struct {
	desk.Frame
	Sheet  *Sheet
	Parts  map[string]template.HTML
	Order  []string // of the questions' parts
	Ends   []string // of the outcomes' parts
	Steps  []string // of the decision's parts
	Goes   []string // of the follow-ups' parts
	Placed []string // tables of places

	Ready       string // JSON of the ready-made questions
	Commonplace string // words that say nothing of what a question is about
	Calendars   []store.Calendar
	Shown       string // mark of what is shown
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
	if mode := c.Query("moves"); mode != "" {
		s.SetCookie(c, movesCookie, mode, desk.Address(z), viewTime)
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
		Order: r.orders["questions"], Ends: r.orders["outcomes"], Steps: r.orders["steps"],
		Goes: r.orders["followUps"], Placed: sh.placed, Ready: desk.JSONText(starter.Questions),
		Commonplace: starter.Commonplace, Calendars: sh.calendars, Shown: r.mark}
	for _, id := range r.order {
		page.Parts[id] = template.HTML(r.whole(id))
	}
	c.Header("ETag", etag(z.Revision))
	s.Show(c, http.StatusOK, "sheet", page)
}

// parts lists what the sheet is made of. What is as it was on the one before is not made again.
func (sh *Sheet) parts(before *rendered) []part {
	list := []part{
		{ID: "part-title", template: "titlebox", data: sh},
		{ID: "part-bar", template: "bar", data: sh},
		{ID: "part-outline", template: "outline", data: sh.outline()},
		{ID: "part-findings", template: "findings", data: sh.groups()},
		{ID: "part-targets", template: "targets", data: sh.targets()},
		{ID: "part-fills", template: "allfills", data: sh.fills()},
		{ID: "part-lead", template: "lead", data: sh.lead()},
		{ID: "part-head", template: "ledgerhead", data: sh},
		{ID: "part-opening", template: "opening", data: sh.opening()},
	}
	list = append(list, sh.asked(before)...)
	add := func(id, template string, data any) { list = append(list, part{ID: id, template: template, data: data}) }
	add("part-foot", "foot", sh)
	add("part-scales", "scales", scalesPart{sh.Before(), sh.scales(), sh.keywords(), currencies})
	list = append(list, sh.decisionHead())
	for _, k := range quiz.InOrder(sh.Doc.Decision.Steps) {
		list = append(list, sh.stepPart(k))
	}
	list = append(list, sh.otherwise(), sh.throughEyes())
	for _, k := range quiz.InOrder(sh.Doc.Outcomes) {
		list = append(list, sh.outcomePart(k))
	}
	add("part-contact", "contact", sh.contact())
	add("part-followups", "followups", sh.followUpsHead())
	for _, k := range quiz.InOrder(sh.Doc.FollowUps) {
		add("part-f-"+k, "followup", sh.followUp(k))
	}
	worn := sh.look()
	add("part-look", "look", worn)
	add("part-words", "wording", worn)
	return list
}
