package studio

import (
	"bytes"
	"cmp"
	"fmt"
	"html/template"
	"net/http"
	"reflect"
	"slices"
	"strings"

	"github.com/gin-gonic/gin"

	"omphalos/core/decimal"
	"omphalos/core/odds"
	"omphalos/core/passage"
	"omphalos/core/quiz"
	"omphalos/store"
	"omphalos/web/ui"
)

// A sheet is what the page of a draft shows. It is rendered in parts, so that
// an edit sends only those that have changed.
type sheet struct {
	Quiz     *store.Quiz
	Doc      *quiz.Quiz
	Undo     string // sentence of what undo takes back
	Redo     string
	Columns  []column
	Problems []quiz.Problem
	odds     *odds.Odds // nil where it can't be told
	threads  map[string]threadRow
}

// A column of the ledger.
type column struct {
	Key, Name, Kind string
	Lowest, Highest string
	Expected        string
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
	Sheet *sheet
	Parts map[string]template.HTML
	Order []string // of the questions' parts
	Ends  []string // of the outcomes' parts
	Steps []string // of the decision's parts
}

func (s *studio) sheet(c *gin.Context) {
	z, ok := s.quiz(c)
	if !ok {
		return
	}
	sh, err := s.read(z)
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
		Order: r.orders["questions"], Ends: r.orders["outcomes"], Steps: r.orders["steps"]}
	for id, html := range r.parts {
		page.Parts[id] = template.HTML(html)
	}
	c.Header("ETag", etag(z.Revision))
	s.show(c, http.StatusOK, "sheet", page)
}

// read works out what the sheet of a draft shows.
func (s *studio) read(z *store.Quiz) (*sheet, error) {
	q, err := z.Document()
	if err != nil {
		return nil, fmt.Errorf("reading the draft of quiz %d: %w", z.ID, err)
	}
	sh := &sheet{Quiz: z, Doc: q, Problems: q.Check()}
	if sh.Undo, sh.Redo, err = s.store.History(z); err != nil {
		return nil, err
	}
	if p, err := passage.CompileDraft(q); err == nil {
		if o, err := odds.Of(p, nil, mostSteps); err == nil {
			sh.odds = o
		}
	}
	sh.threads = threads(q, sh.odds)
	sh.columns()
	return sh, nil
}

// mostSteps bounds the odds that are worked out at every edit.
const mostSteps = 200_000

func (sh *sheet) columns() {
	for _, k := range quiz.InOrder(sh.Doc.Scales) {
		scale := sh.Doc.Scales[k]
		col := column{Key: k, Name: cmp.Or(scale.Name, k), Kind: string(scale.Kind), Dead: !fed(sh.Doc, k), most: heaviest(sh.Doc, k)}
		if sh.odds != nil && len(sh.odds.Scores[k]) > 0 {
			points := sh.odds.Scores[k]
			col.Lowest, col.Highest = points[0].Score.String(), points[len(points)-1].Score.String()
			sum, all := 0.0, 0.0
			for _, p := range points {
				sum, all = sum+p.Share*p.Score.Float64(), all+p.Share
			}
			col.Expected = fmt.Sprintf("%.1f", sum/all)
		}
		sh.Columns = append(sh.Columns, col)
	}
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
	}
	return most
}

// parts lists what the sheet is made of.
func (sh *sheet) parts() []part {
	list := []part{
		{"part-title", "titlebox", sh}, {"part-bar", "bar", sh}, {"part-outline", "outline", sh.outline()}, {"part-findings", "findings", sh},
		{"part-head", "ledgerhead", sh}, {"part-opening", "opening", sh.opening()},
	}
	for i, k := range sh.Doc.QuestionKeys() {
		list = append(list, part{"part-q-" + k, "question", sh.question(i, k)})
	}
	list = append(list, part{"part-foot", "foot", sh})
	for _, k := range quiz.InOrder(sh.Doc.Decision.Steps) {
		list = append(list, part{"part-s-" + k, "step", sh.step(k)})
	}
	list = append(list, part{"part-otherwise", "otherwise", sh})
	for _, k := range quiz.InOrder(sh.Doc.Outcomes) {
		list = append(list, part{"part-o-" + k, "outcome", sh.outcome(k)})
	}
	return list
}

// A rendered sheet is its parts as HTML, by the element's ID, with what they
// were made of: a part that would be made of the same is not made again.
type rendered struct {
	revision int
	parts    map[string]string
	made     map[string]any
	orders   map[string][]string // of the parts in each list
}

func (s *studio) render(sh *sheet) (*rendered, error) {
	r := &rendered{sh.Quiz.Revision, map[string]string{}, map[string]any{}, map[string][]string{"questions": {}, "outcomes": {}, "steps": {}}}
	old := new(rendered)
	if found, ok := s.rendered.Load(sh.Quiz.ID); ok {
		old = found.(*rendered)
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
		for prefix, list := range map[string]string{"part-q-": "questions", "part-o-": "outcomes", "part-s-": "steps"} {
			if strings.HasPrefix(p.ID, prefix) {
				r.orders[list] = append(r.orders[list], p.ID)
			}
		}
	}
	s.rendered.Store(sh.Quiz.ID, r)
	return r, nil
}

type openingPart struct {
	*quiz.Opening
	Thread threadRow
}

func (sh *sheet) opening() openingPart {
	return openingPart{sh.Doc.Opening, sh.threads["/opening"]}
}

type questionPart struct {
	*quiz.Question
	Key, Path string
	Number    int
	Simple    bool // its answers are listed with their weights
	Thread    threadRow
	After     threadRow // beside what follows the answers
	Rows      []answerRow
	Finish    string // what there is to finish
	Seen      string // the share that sees it, where that is not everybody
	First     bool
	Last      bool
}

type answerRow struct {
	*quiz.Answer
	Key, Path string
	Number    int
	Thread    threadRow
	Cells     []cell
	Share     float64
	Then      string // where it leads, if not to the next question
	First     bool
	Last      bool
}

// A cell of the ledger holds what one answer adds to one scale.
type cell struct {
	Path, Value, Class, Label string
	Column                    int
}

func (sh *sheet) question(i int, key string) questionPart {
	q := sh.Doc.Questions[key]
	path := "/questions/" + key
	p := questionPart{Question: q, Key: key, Path: path, Number: i + 1, Simple: q.Kind.Choice(),
		Thread: sh.threads[path], After: sh.threads[path].Under(), Finish: sh.finish(path), First: i == 0, Last: i == len(sh.Doc.Questions)-1}
	if sh.odds != nil && sh.odds.Seen[key] < 1-1e-9 {
		p.Seen = ui.Percent(sh.odds.Seen[key]) + " see it"
	}
	keys := quiz.InOrder(q.Answers)
	for j, k := range keys {
		a := q.Answers[k]
		row := answerRow{Answer: a, Key: k, Path: path + "/answers/" + k, Number: j + 1, Share: sh.share(key, k, len(keys)),
			Thread: sh.threads[path+"/answers/"+k], First: j == 0, Last: j == len(keys)-1}
		if a.Then != nil {
			row.Then = sh.way(a.Then)
		}
		for n, col := range sh.Columns {
			row.Cells = append(row.Cells, cellOf(a, row.Path, col, n))
		}
		p.Rows = append(p.Rows, row)
		p.After = row.Thread.Under()
	}
	return p
}

// share is the part of those who see a question that gives an answer.
func (sh *sheet) share(question, answer string, answers int) float64 {
	if sh.odds == nil || sh.odds.Seen[question] == 0 {
		return 1 / float64(answers)
	}
	return sh.odds.Answers[question][answer] / sh.odds.Seen[question]
}

// finish says what is to be finished at a place: the first thing, and how many more.
func (sh *sheet) finish(path string) string {
	problems := sh.problems(path)
	if len(problems) == 0 {
		return ""
	}
	first := problems[0]
	said := cmp.Or(sh.Where(first.Pointer), "This") + " " + first.Message
	if more := len(problems) - 1; more > 0 {
		said += fmt.Sprintf(" – and %d more to finish", more)
	}
	return said + "."
}

func cellOf(a *quiz.Answer, path string, col column, n int) cell {
	to := cell{Path: path + "/adds/" + col.Key, Class: "none", Column: n,
		Label: fmt.Sprintf("%s of %s", col.Name, cmp.Or(a.Label, "an answer without words"))}
	amount, set := a.Adds[col.Key]
	if !set {
		return to
	}
	to.Value = amount.Signed()
	// Five shades each way, by the share of the largest weight of the column.
	switch shade := int(4.99*amount.Float64()/col.most.Float64()) + 1; {
	case amount > 0:
		to.Class = fmt.Sprintf("up-%d", shade)
	case amount < 0:
		to.Class = fmt.Sprintf("down-%d", 2-shade)
	default:
		to.Class = "nought"
	}
	return to
}

// way says where a then leads.
func (sh *sheet) way(t *quiz.Then) string {
	switch t.Go {
	case quiz.ToQuestion:
		if q := sh.Doc.Questions[t.To]; q != nil {
			return "then on to “" + q.Label + "”"
		}
	case quiz.ToSection:
		return "then on to the section " + t.To
	case quiz.ToOutcome:
		if o := sh.Doc.Outcomes[t.To]; o != nil {
			return "then straight to " + o.Name
		}
	case quiz.PartWays:
		return "parts ways, nothing kept"
	case quiz.Decide:
		return "then to the decision"
	}
	return "leads nowhere yet"
}

// problems returns what is wrong at a place and below.
func (sh *sheet) problems(path string) []quiz.Problem {
	var list []quiz.Problem
	for _, p := range sh.Problems {
		if p.Pointer == path || strings.HasPrefix(p.Pointer, path+"/") {
			list = append(list, p)
		}
	}
	return list
}

type stepPart struct {
	*quiz.Step
	Key, Path string
	Number    int
	Sentence  string
	Ruler     ruler
	Choices   []choice // outcomes
	Scales    []choice
	Finish    string
	Bands     bool
	Passing   threadRow
}

// A choice is an option of a drop-down.
type choice struct{ Key, Name, Letter string }

func (sh *sheet) step(key string) stepPart {
	s := sh.Doc.Decision.Steps[key]
	path := "/decision/steps/" + key
	p := stepPart{Step: s, Key: key, Path: path, Choices: sh.choices(), Finish: sh.finish(path), Bands: s.Kind == quiz.BandsStep, Passing: sh.Passing()}
	p.Number = slices.Index(quiz.InOrder(sh.Doc.Decision.Steps), key) + 1
	for _, c := range sh.Columns {
		p.Scales = append(p.Scales, choice{c.Key, c.Name, ""})
	}
	if p.Bands {
		p.Ruler = newRuler(sh.Doc, key, s, sh.odds)
		return p
	}
	p.Sentence = sh.Doc.StepSentence(key)
	return p
}

func (sh *sheet) choices() []choice {
	var list []choice
	for _, k := range quiz.InOrder(sh.Doc.Outcomes) {
		list = append(list, choice{k, sh.Doc.Outcomes[k].Name, sh.Doc.Letter(k)})
	}
	return list
}

// Choices are the outcomes, for the part "otherwise".
func (sh *sheet) Choices() []choice { return sh.choices() }

// Thread is the path margin beside the decision's heading.
func (sh *sheet) Thread() threadRow { return sh.threads["/decision"] }

// Passing is the path margin beside what lies between the decision's heading
// and the outcomes.
func (sh *sheet) Passing() threadRow { return sh.threads["/decision"].Under() }

// Before is the path margin beside what follows the last question.
func (sh *sheet) Before() threadRow { return sh.threads["/decision"].above() }

// A foot is a line under the ledger.
type foot struct {
	Name   string
	Values []string
}

// Feet are the lines under the ledger: what each scale can come to.
func (sh *sheet) Feet() []foot {
	feet := []foot{{Name: "lowest"}, {Name: "highest"}, {Name: "expected"}}
	for _, c := range sh.Columns {
		for i, v := range []string{c.Lowest, c.Highest, c.Expected} {
			feet[i].Values = append(feet[i].Values, cmp.Or(v, "–"))
		}
	}
	return feet
}

// Ready tells whether the draft can be released.
func (sh *sheet) Ready() bool { return len(sh.Problems) == 0 }

// Jump returns the ID of the part that a pointer lies in.
func (sh *sheet) Jump(pointer string) string {
	parts := strings.Split(strings.TrimPrefix(pointer, "/"), "/")
	switch {
	case parts[0] == "questions" && len(parts) > 1:
		return "part-q-" + parts[1]
	case parts[0] == "outcomes" && len(parts) > 1:
		return "part-o-" + parts[1]
	case parts[0] == "decision" && len(parts) > 2:
		return "part-s-" + parts[2]
	case parts[0] == "decision":
		return "part-otherwise"
	case parts[0] == "questions":
		return "add-question"
	}
	return "part-opening"
}

// Where names the thing that a pointer leads to, for the list of findings.
func (sh *sheet) Where(pointer string) string {
	parts := strings.Split(strings.TrimPrefix(pointer, "/"), "/")
	if len(parts) < 2 {
		return ""
	}
	switch parts[0] {
	case "questions":
		i := slices.Index(sh.Doc.QuestionKeys(), parts[1])
		if len(parts) > 3 && parts[2] == "answers" && i >= 0 {
			j := slices.Index(quiz.InOrder(sh.Doc.Questions[parts[1]].Answers), parts[3])
			return fmt.Sprintf("Question %d, answer %d", i+1, j+1)
		}
		return fmt.Sprintf("Question %d", i+1)
	case "outcomes":
		return "Outcome " + sh.Doc.Letter(parts[1])
	case "decision":
		return "Decision"
	case "scales":
		return "Ledger"
	}
	return "Opening"
}

type outlineItem struct {
	Part, Mark, Words string
	Hue               string
	Findings          int
}

func (sh *sheet) outline() []outlineItem {
	items := []outlineItem{{Part: "part-opening", Words: "Opening", Findings: len(sh.problems("/opening"))}}
	for i, k := range sh.Doc.QuestionKeys() {
		items = append(items, outlineItem{"part-q-" + k, fmt.Sprint(i + 1), cmp.Or(sh.Doc.Questions[k].Label, "No words yet"), "", len(sh.problems("/questions/" + k))})
	}
	items = append(items, outlineItem{Part: "decision", Words: "Decision", Findings: len(sh.problems("/decision"))})
	for i, k := range quiz.InOrder(sh.Doc.Outcomes) {
		items = append(items, outlineItem{"part-o-" + k, sh.Doc.Letter(k), sh.Doc.Outcomes[k].Name, hue(i), len(sh.problems("/outcomes/" + k))})
	}
	return items
}

type outcomePart struct {
	*quiz.Outcome
	Key, Path string
	Letter    string
	Class     string
	Thread    threadRow
	Passing   threadRow
	Share     float64
	Told      bool // Share can be told
	Landings  []landingPart
	Finish    string
	First     bool
	Last      bool
}

type landingPart struct {
	*quiz.Landing
	Key, Path string
	Sentence  string // its condition
	Blocks    []blockPart
}

type blockPart struct {
	*quiz.Block
	Key, Path string
	First     bool
	Last      bool
}

func (sh *sheet) outcome(key string) outcomePart {
	o := sh.Doc.Outcomes[key]
	path := "/outcomes/" + key
	keys := quiz.InOrder(sh.Doc.Outcomes)
	i := slices.Index(keys, key)
	p := outcomePart{Outcome: o, Key: key, Path: path, Letter: sh.Doc.Letter(key), Class: hue(i), Thread: sh.threads[path],
		Finish: sh.finish(path), First: i == 0, Last: i == len(keys)-1}
	if sh.odds != nil && sh.odds.Outcomes != nil {
		p.Share, p.Told = sh.odds.Outcomes[key], true
	}
	p.Passing = sh.threads[path].Under()
	for _, k := range quiz.InOrder(o.Landings) {
		l := landingPart{Landing: o.Landings[k], Key: k, Path: path + "/landings/" + k}
		if l.When != nil {
			l.Sentence = sh.Doc.Sentence(l.When)
		}
		blocks := quiz.InOrder(l.Landing.Blocks)
		for n, b := range blocks {
			l.Blocks = append(l.Blocks, blockPart{l.Landing.Blocks[b], b, l.Path + "/blocks/" + b, n == 0, n == len(blocks)-1})
		}
		p.Landings = append(p.Landings, l)
	}
	return p
}
