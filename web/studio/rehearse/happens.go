package rehearse

import (
	"context"
	"net/http"
	"slices"
	"strings"
	"time"

	"github.com/gin-gonic/gin"

	"omphalos/core/fillin"
	"omphalos/core/passage"
	"omphalos/core/program"
	"omphalos/core/quiz"
	"omphalos/core/rehearsal"
	"omphalos/store"
	"omphalos/web/player"
	"omphalos/web/studio/desk"
)

// happens is what is told beside the frames: each answer and what it added, what was passed
// over and why, where the passage would end from here.
type happens struct {
	Cant    string
	Room    string // address of the room
	Sheet   string // and of the sheet
	Walk    string
	Lines   []line
	Scales  []scale
	Ended   bool
	End     endPart
	Why     []passage.Considered // the steps, up to the one that decides
	Lands   []passage.Considered
	Leaves  string // the address that they are sent to
	Shares  []desk.Share
	Told    bool // the shares could be told
	Sampled bool
	More    float64 // questions that are expected to come
	Minutes string
	View    string // how the room is looked at
	Missing []string
	Goes    []goesOut // what would go out
}

// A line is a question on the way, or one that was passed over.
type line struct {
	Number  int
	Key     string
	Label   string
	Answer  string
	Skipped bool
	Adds    []string
	Then    string
	Because string // why it was passed over
	Now     bool   // it is asked now
	Jump    string // its place on the sheet
	Page    string // its page in the frames
	Choices []option
}

type option struct {
	Key, Name string
	Chosen    bool
}

// endPart is where it ends, or would.
type endPart struct{ Class, Letter, Name, Standing string }

func endOf(q *quiz.Quiz, outcome string) endPart {
	o := q.Outcomes[outcome]
	if o == nil {
		return endPart{Class: "to-none", Letter: "?", Name: "no outcome"}
	}
	hue := desk.Hue(slices.Index(quiz.InOrder(q.Outcomes), outcome))
	return endPart{hue, q.Letter(outcome), o.Name, string(o.Standing)}
}

// happensPart answers with what happens on a walk, as a piece of the page.
func (s *Room) happensPart(c *gin.Context) {
	d, ok := s.asked(c)
	if !ok {
		return
	}
	walk, err := s.Store.Definitions.Walk(c.Request.Context(), c.Query("walk"))
	if err == nil && walk.QuizID != d.ID {
		err = store.ErrNotFound
	}
	if err != nil {
		s.Fail(c, err)
		return
	}
	html, err := s.Views.Part("rehearse", "happens", s.happens(c.Request.Context(), d, walk, viewOf(c.Query("view"))))
	if err != nil {
		s.Fail(c, err)
		return
	}
	c.Data(http.StatusOK, "text/html; charset=utf-8", html)
}

// inputOf returns the answers of a walk.
func (s *Room) inputOf(ctx context.Context, d *draft, walk *store.Walk) passage.Input {
	given := map[string]*quiz.Given{}
	for key, t := range walk.Typed() {
		given[key] = &quiz.Given{Values: t.Values, Words: t.WriteIn, Rows: t.Rows}
	}
	in, _ := rehearsal.Input(d.program, &quiz.Rehearsal{Answers: given})
	in.Contact = map[string]string{}
	for i, key := range d.program.ContactKeys() {
		if v, err := d.program.ReadContact(i, walk.Typed()[key]); err == nil && v.State == program.Given {
			in.Contact[key] = v.Text
		}
	}
	in.Visitor = walk.Facts()
	in.Place = func(table, key string) string { return s.Store.Definitions.PlaceName(ctx, table, key) }
	in.Zone = func(calendar string) *time.Location { return store.Diary{Store: s.Store}.Zone(ctx, calendar) }
	return in
}

func (s *Room) happens(ctx context.Context, d *draft, walk *store.Walk, v view) happens {
	h := happens{Room: address(d), Sheet: desk.Address(d.Quiz), Walk: walk.ID, Cant: d.cant, View: v.Query()}
	if d.cant != "" {
		return h
	}
	in := s.inputOf(ctx, d, walk)
	in.Stop = true
	walker := passage.NewWalker(d.program)
	now := walker.Walk(in)
	h.Ended = now.End != program.Unfinished
	told := passage.Explain(d.program, in)
	h.lines(d, walk, in, told, now)
	given := make(program.Answers, len(d.program.Questions))
	for _, i := range now.Seen {
		given[i] = in.Answers[i]
	}
	scores := slices.Clone(now.Scores)
	h.ahead(ctx, d, in, given, scores)
	in.Stop = false
	whole := walker.Walk(in)
	why := passage.Explain(d.program, in)
	h.End = endOf(d.doc, passage.OutcomeKey(d.program, whole))
	h.Why, h.Lands = why.Steps, why.Landings
	if h.Ended {
		h.Leaves = s.leaves(ctx, d, in, whole)
		if goal, err := s.Goals(ctx); err == nil { // told without, where they can't be read
			h.Goes = going(d, walker, h.Room, walk.ID, goal)
		}
		for _, i := range whole.Missing {
			h.Missing = append(h.Missing, d.program.Question(i).Label)
		}
	}
	return h
}

// lines tells the questions in the order of the quiz.
func (h *happens) lines(d *draft, walk *store.Walk, in passage.Input, told passage.Explanation, now *passage.Result) {
	asked, passed := map[string]passage.Asked{}, map[string]string{}
	for _, a := range told.Asked {
		asked[a.Question] = a
	}
	sections := map[string]string{}
	for _, p := range told.Passed {
		if p.Section != "" {
			sections[p.Section] = p.Because
		} else {
			passed[p.Question] = p.Because
		}
	}
	number := 0
	for i, key := range d.program.Quiz.QuestionKeys() {
		q := d.program.Question(i)
		l := line{Key: key, Label: q.Label, Jump: "part-q-" + key, Page: player.RehearsalPrefix + walk.ID + "/" + key}
		if because, is := sections[q.Section]; is {
			h.Lines = append(h.Lines, line{Because: because, Jump: "part-sec-" + q.Section})
			delete(sections, q.Section)
		}
		a, was := asked[key]
		switch {
		case was:
			number++
			l.Number, l.Answer, l.Skipped, l.Then = number, a.Answer, a.Answer == "", a.Then
			for _, add := range a.Adds {
				l.Adds = append(l.Adds, strings.TrimSpace(add.Name+" "+add.Amount.Signed()))
			}
			l.Choices = choicesOf(d, i, in)
		case passed[key] != "":
			l.Because = passed[key]
		case now.End == program.Unfinished && now.Next == i:
			number++
			l.Number, l.Now = number, true
		default:
			continue
		}
		h.Lines = append(h.Lines, l)
	}
}

// choicesOf lists the answers to choose from, of a question that takes one.
func choicesOf(d *draft, i int, in passage.Input) []option {
	q := d.program.Question(i)
	if !q.Kind.Choice() {
		return nil
	}
	var list []option
	for k, key := range d.program.AnswerKeys(i) {
		v := in.Answers[i]
		list = append(list, option{key, q.Answers[key].Label, v.State == program.Given && int(v.Option) == k})
	}
	return list
}

// leaves returns the address that a passage is sent to, "" where it lands on a page.
func (s *Room) leaves(ctx context.Context, d *draft, in passage.Input, r *passage.Result) string {
	l := passage.LandingOf(d.program, r)
	if l.Kind != quiz.RedirectLanding || r.End == program.Parted {
		return ""
	}
	f := passage.NewFiller(d.program, in, r, sampleResponse)
	to := l.Address
	if l.Signpost != nil {
		var err error
		if to, err = s.Store.Definitions.SignpostAt(ctx, l.Signpost.Table, f.Row(l.Signpost.Row)); err != nil || to == "" {
			return ""
		}
	}
	template, err := fillin.ParseAddress(to)
	if err != nil {
		return ""
	}
	filled, err := f.Address(template)
	if err != nil {
		return ""
	}
	return filled
}

// sampleResponse stands for the number that other systems would get.
const sampleResponse = "sample"
