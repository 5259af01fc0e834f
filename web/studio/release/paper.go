package release

import (
	"fmt"
	"net/http"
	"strings"

	"github.com/gin-gonic/gin"

	"omphalos/core/fillin"
	"omphalos/core/quiz"
	"omphalos/web/studio/desk"
	"omphalos/web/ui"
)

// A paperPage is the quiz as a sheet to print and to fill in by hand.
type paperPage struct {
	desk.Frame
	Heading  string
	Text     string
	Owner    string
	Address  string // of the public quiz, "" where there is none
	Sections []paperSection
}

type paperSection struct {
	Heading, Text string
	If            string // when it is asked, "" for always
	Questions     []paperQuestion
}

type paperQuestion struct {
	*quiz.Question
	Label, Help string
	Number      int // 0 where nothing is asked
	If          string
	Hint        string // how many may be chosen, what is meant
	Answers     []paperAnswer
	Rows        []string
	Points      []string // of a rating
	Lines       []int    // to write on
	Rules       []string // where it goes on
}

type paperAnswer struct {
	Label   string
	WriteIn bool
	Then    string // where it goes on, "" for with the next
}

// On paper, a rating of more points than that is written as a number.
const mostPaperPoints = 11

// paper shows the draft as a sheet that prints well: every question, with when it is asked and
// where it goes on in words.
func (s *Room) paper(c *gin.Context) {
	z, q, ok := s.DraftOf(c)
	if !ok {
		return
	}
	page := paperOf(q)
	page.Frame = s.Frame(c, q.Title, "release", z)
	if z.Released > 0 {
		page.Address = ui.Origin(c.Request, s.Public) + "/q/" + z.Slug
	}
	s.Show(c, http.StatusOK, "paper", page)
}

// A paper writes a quiz out for people with a pen.
type paper struct {
	*quiz.Quiz
	numbers map[string]int // of what is asked, from 1
}

func paperOf(q *quiz.Quiz) paperPage {
	w := paper{q, map[string]int{}}
	page := paperPage{Heading: q.Title}
	if q.Opening != nil {
		page.Heading, page.Text = blank(q.Opening.Heading), blank(q.Opening.Text)
	}
	if q.Look != nil {
		page.Owner = q.Look.Owner
	}
	keys := q.QuestionKeys()
	for _, k := range keys {
		if q.Questions[k].Kind != quiz.Interlude {
			w.numbers[k] = len(w.numbers) + 1
		}
	}
	for i, k := range keys {
		name := q.Questions[k].Section
		if i == 0 || q.Questions[keys[i-1]].Section != name {
			part := paperSection{}
			if section := q.Sections[name]; section != nil {
				part.Heading, part.Text, part.If = blank(section.Heading), blank(section.Text), w.when(section.ShowWhen)
			}
			page.Sections = append(page.Sections, part)
		}
		last := &page.Sections[len(page.Sections)-1]
		last.Questions = append(last.Questions, w.question(q.Questions[k], w.numbers[k]))
	}
	if who := q.Contact; who != nil && len(who.Fields) > 0 {
		part := paperSection{Heading: blank(who.Heading), Text: blank(who.Text), If: w.when(who.When)}
		for i, k := range quiz.InOrder(who.Fields) {
			part.Questions = append(part.Questions, w.question(who.Fields[k], len(w.numbers)+i+1))
		}
		page.Sections = append(page.Sections, part)
	}
	return page
}

// blank leaves a place to fill in where an answer would stand.
func blank(text string) string {
	return fillin.Plain(text, func(string) (string, bool) { return "……", true })
}

func (w paper) when(c *quiz.Condition) string {
	if c == nil {
		return ""
	}
	return w.Sentence(c)
}

func (w paper) question(asked *quiz.Question, number int) paperQuestion {
	p := paperQuestion{Question: asked, Label: blank(asked.Label), Help: blank(asked.Help), Number: number,
		If: w.when(asked.ShowWhen)}
	for _, k := range quiz.InOrder(asked.Answers) {
		a := asked.Answers[k]
		row := paperAnswer{Label: blank(a.Label), WriteIn: a.WriteIn}
		if a.Then != nil {
			row.Then = w.then(*a.Then)
		}
		p.Answers = append(p.Answers, row)
	}
	for _, k := range quiz.InOrder(asked.Rows) {
		p.Rows = append(p.Rows, blank(asked.Rows[k].Label))
	}
	for _, k := range quiz.InOrder(asked.Then) {
		rule := asked.Then[k]
		words := w.then(rule.Then)
		if rule.When != nil {
			words = "if " + w.Sentence(rule.When) + ": " + words
		}
		p.Rules = append(p.Rules, words)
	}
	switch asked.Kind {
	case quiz.Several:
		p.Hint = picks(asked.Picks)
	case quiz.Rating, quiz.Stars:
		if values := asked.Lattice(); values.Count() <= mostPaperPoints {
			for i := range values.Count() {
				p.Points = append(p.Points, values.At(i).String())
			}
		} else {
			p.Hint, p.Lines = between(asked), []int{1}
		}
	case quiz.Number, quiz.Date:
		p.Hint, p.Lines = between(asked), []int{1}
	case quiz.LongText:
		p.Lines = []int{1, 2, 3, 4}
	case quiz.Interlude, quiz.Consent:
	default:
		if len(p.Answers) == 0 {
			p.Lines = []int{1}
		}
	}
	return p
}

func picks(p *quiz.Picks) string {
	switch {
	case p == nil || p.Min == 0 && p.Max == 0:
		return "as many as you like"
	case p.Max == 0:
		return fmt.Sprintf("at least %d", p.Min)
	case p.Min == 0:
		return fmt.Sprintf("at most %d", p.Max)
	case p.Min == p.Max:
		return fmt.Sprintf("%d of them", p.Min)
	}
	return fmt.Sprintf("%d to %d of them", p.Min, p.Max)
}

// between says between what a number or a date lies.
func between(asked *quiz.Question) string {
	limits := asked.Limits
	if limits == nil {
		return ""
	}
	words := limits.Unit
	switch {
	case limits.Low != nil && limits.High != nil:
		words = fmt.Sprintf("%s to %s %s", limits.Low.Words(), limits.High.Words(), words)
	case limits.Low != nil:
		words = fmt.Sprintf("from %s %s", limits.Low.Words(), words)
	case limits.High != nil:
		words = fmt.Sprintf("at most %s %s", limits.High.Words(), words)
	}
	return strings.TrimSpace(words)
}

// then says where it goes on.
func (w paper) then(t quiz.Then) string {
	switch t.Go {
	case quiz.ToQuestion:
		if n := w.numbers[t.To]; n > 0 {
			return fmt.Sprintf("go on with %d", n)
		}
		if to := w.Questions[t.To]; to != nil {
			return "go on with “" + blank(to.Label) + "”"
		}
	case quiz.ToSection:
		if to := w.Sections[t.To]; to != nil && to.Heading != "" {
			return "go on with “" + blank(to.Heading) + "”"
		}
		for _, k := range w.QuestionKeys() {
			if w.Questions[k].Section == t.To && w.numbers[k] > 0 {
				return fmt.Sprintf("go on with %d", w.numbers[k])
			}
		}
	}
	return "that is all"
}
