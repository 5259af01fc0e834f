package learn

import (
	"context"
	"errors"
	"fmt"
	"math"
	"net/http"
	"slices"
	"strings"
	"sync"

	"github.com/gin-gonic/gin"

	"omphalos/core/decimal"
	"omphalos/core/edit"
	"omphalos/core/inference"
	"omphalos/core/odds"
	"omphalos/core/passage"
	"omphalos/core/program"
	"omphalos/core/quiz"
	"omphalos/core/scorecard"
	"omphalos/store"
	"omphalos/web/studio/desk"
	"omphalos/web/ui"
)

// Leads that were won and lost say which answers speak for winning, which points would have sorted
// them best, and how well the draft's do.

// mostLearned is how many leads are learned from, of the newest.
const mostLearned = 10_000

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
	Draft     bool   // something can be taken over
}

// A sorted score is how well it sorts.
type sorted struct {
	Area, Range, Tenth, Words string
	Path                      string // of its curve
}

// A spoken question is how much its answers say.
type spoken struct {
	Number       int
	Key, Label   string
	Value        string // information value
	Says         string
	Leaks        string // what is suspicious
	One, Ordered bool
	Turn         string // address where its points rise or fall, or need not
	Rows         []spokenRow
	Differs      bool
}

type spokenRow struct {
	Label, Answer string
	Won, All      int
	Share, Range  string // who were won of those who gave it
	Odds          string
	Evidence      string
	Left, Width   float64 // of the bar of evidence in 100, 50 is nothing
	Class         string
	Yours         string
	Suggested     string
	Off           string // by how much the suggestion may be off
	Patch         string // takes it over, "" where it is so already
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

// adoptAt is where points are taken over, with the sentence.
func adoptAt(in *sliced, ordered []string) string {
	fields := in.slice.clone()
	for _, key := range ordered {
		fields.Add("ordered", key)
	}
	if len(fields) == 0 {
		return in.slice.address + "/won/adopt"
	}
	return in.slice.address + "/won/adopt?" + fields.Encode()
}

func (s *Room) learned(c *gin.Context, z *store.Quiz, in *sliced) (*wonPage, error) {
	ctx := c.Request.Context()
	page := &wonPage{Frame: s.Frame(c, z.Title, "learn", z), whatIf: in.slice.whatIf("won"), Chips: in.slice.words(), Fewest: scorecard.Fewest,
		Adopt: adoptAt(in, ordered(c))}
	q, problems, err := z.Checked()
	if err != nil {
		return nil, err
	}
	p, err := program.CompileDraft(q, problems)
	if err != nil {
		page.Wrong = "The draft can’t be walked yet: its findings say what is missing."
		return page, nil
	}
	l := newLearner(p, ordered(c))
	if err := s.gather(ctx, z, in, l); err != nil {
		return nil, err
	}
	l.fill(page, in, q)
	return page, nil
}

// A learner gathers how leads with known ends answer the draft.
type learner struct {
	program *program.Program
	ruler   odds.Ruler
	ruled   bool
	ordered []string
	first   []int // by question: its first column, -1 where it has none
	columns int
	keys    [][]string // by question: its answers

	mine   sync.Mutex
	cases  []scorecard.Case
	scores []float64
	asked  []scorecard.Tally // by question
	given  []scorecard.Tally // by column
	order  [][2]int          // of each case: the number of its response, and its place

	low, high []float64 // by column of a question with a number: its ends
}

func newLearner(p *program.Program, ordered []string) *learner {
	l := &learner{program: p, ordered: ordered, asked: make([]scorecard.Tally, len(p.Questions)), keys: make([][]string, len(p.Questions))}
	l.ruler, l.ruled = odds.RulerOf(p)
	for i := range p.Questions {
		l.first = append(l.first, -1)
		if kind := p.Question(i).Kind; kind.HasAnswers() && kind != quiz.Grid {
			l.first[i], l.keys[i] = l.columns, p.AnswerKeys(i)
			l.columns += len(l.keys[i])
		} else if kind.Numeric() {
			l.first[i] = l.columns
			l.columns++
		}
	}
	l.given = make([]scorecard.Tally, l.columns)
	return l
}

// gather walks the leads of the slice that were won and lost through the draft.
func (s *Room) gather(ctx context.Context, z *store.Quiz, in *sliced, l *learner) error {
	settings, err := s.Store.Responses.LeadSettings(ctx)
	if err != nil {
		return err
	}
	ended, err := s.Store.Responses.EndedOf(ctx, z.ID, 0, append(settings.Ends(store.Won), settings.Ends(store.Lost)...))
	if err != nil {
		return err
	}
	numbers, err := s.Store.Responses.NewestNumbers(ctx, z.ID, in.slice.All(), 1<<31)
	if err != nil {
		return err
	}
	numbers = slices.DeleteFunc(numbers, func(n int) bool { return ended[n] == "" })
	numbers = numbers[:min(len(numbers), mostLearned)]
	slices.Reverse(numbers)
	take := func(list []store.Response) error {
		reader, walker := store.NewReader(l.program), passage.NewWalker(l.program)
		for i := range list {
			input := reader.Input(&list[i])
			l.take(list[i].Number, input, walker.Walk(input), settings.State(ended[list[i].Number]).End == store.Won)
		}
		return nil
	}
	with := store.Reading{Visitor: true, Contacts: true}
	if err := s.Store.Responses.EachNumbered(ctx, z.ID, numbers, with, take, func(int) error { return nil }); err != nil {
		return err
	}
	l.sort()
	return nil
}

// take takes down a lead that has been walked.
func (l *learner) take(number int, in passage.Input, r *passage.Result, won bool) {
	one := scorecard.Case{Won: won}
	var seen []int
	for _, i := range r.Seen {
		seen = append(seen, i)
		if l.first[i] < 0 || in.Answers[i].State != program.Given {
			continue
		}
		v := &in.Answers[i]
		if l.number(i) {
			one.Columns, one.Values = append(one.Columns, l.first[i]), append(one.Values, v.Number.Float64())
			continue
		}
		picks := []int16{v.Option}
		if l.program.Question(i).Kind == quiz.Several {
			picks = v.Picks
		}
		for _, pick := range picks {
			one.Columns, one.Values = append(one.Columns, l.first[i]+int(pick)), append(one.Values, 1)
		}
	}
	score := 0.0
	if l.ruled {
		score = r.Scores[l.ruler.Scale].Float64()
	}
	l.mine.Lock()
	defer l.mine.Unlock()
	l.cases, l.scores = append(l.cases, one), append(l.scores, score)
	l.order = append(l.order, [2]int{number, len(l.cases) - 1})
	count := func(t *scorecard.Tally) {
		if won {
			t.Won++
		} else {
			t.Lost++
		}
	}
	for _, i := range seen {
		count(&l.asked[i])
	}
	for _, column := range one.Columns {
		count(&l.given[column])
	}
}

// number tells whether a question with columns is answered by a number: it has one column.
func (l *learner) number(i int) bool { return l.first[i] >= 0 && l.keys[i] == nil }

// sort puts the leads in the order of their numbers, so that what is learned is the same each time,
// and brings the numbers that were answered to 0 to 1.
func (l *learner) sort() {
	slices.SortFunc(l.order, func(a, b [2]int) int { return a[0] - b[0] })
	cases, scores := make([]scorecard.Case, len(l.cases)), make([]float64, len(l.cases))
	for i, n := range l.order {
		cases[i], scores[i] = l.cases[n[1]], l.scores[n[1]]
	}
	l.cases, l.scores = cases, scores
	l.low, l.high = make([]float64, l.columns), make([]float64, l.columns)
	number := make([]bool, l.columns)
	for i := range l.first {
		if l.number(i) {
			at := l.first[i]
			number[at], l.low[at], l.high[at] = true, math.Inf(1), math.Inf(-1)
		}
	}
	for _, c := range cases {
		for k, column := range c.Columns {
			l.low[column], l.high[column] = min(l.low[column], c.Values[k]), max(l.high[column], c.Values[k])
		}
	}
	for _, c := range cases {
		for k, column := range c.Columns {
			if number[column] {
				c.Values[k] = (c.Values[k] - l.low[column]) / max(l.high[column]-l.low[column], 1e-9)
			}
		}
	}
}

// ends are how the leads ended.
func (l *learner) ends() (won []bool, all scorecard.Tally) {
	for _, c := range l.cases {
		won = append(won, c.Won)
		if c.Won {
			all.Won++
		} else {
			all.Lost++
		}
	}
	return won, all
}

const learnSeed = 1 // the same suggestion each time

func (l *learner) fill(page *wonPage, in *sliced, q *quiz.Quiz) {
	won, all := l.ends()
	page.Wins, page.Losses = all.Won, all.Lost
	fit, without, part, err := scorecard.Choose(l.cases, l.columns, learnSeed)
	page.Few = errors.Is(err, scorecard.ErrFew)
	if err != nil {
		fit = nil
	}
	scale := l.scale(q)
	if scale != "" {
		page.Scale = q.Scales[scale].Name
	}
	yours, _ := scorecard.CurveOf(l.scores, won)
	page.Yours = sortedOf("Your points", yours)
	if fit != nil {
		without = scorecard.Places(without, part)
		learned, _ := scorecard.CurveOf(without, won)
		page.Learned = sortedOf("Suggested points", learned)
		page.Judged = judged(scorecard.Places(l.scores, part), without, won)
	}
	l.questions(page, in, q, scale, fit, all)
}

// scale is the scale whose points can be learned, "" for none: a plain sum.
func (l *learner) scale(q *quiz.Quiz) string {
	if !l.ruled {
		return ""
	}
	key := l.program.ScaleKeys()[l.ruler.Scale]
	if s := q.Scales[key]; s.Method != quiz.Sum && s.Method != "" {
		return ""
	}
	return key
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
		Area: fmt.Sprintf("%.2f", c.Area), Range: fmt.Sprintf("%.2f–%.2f", max(c.Area-1.96*c.Error, 0), min(c.Area+1.96*c.Error, 1)),
		Tenth: fmt.Sprintf("%.1f", c.Tenth), Words: words, Path: path.String(),
	}
}

// judged says whether the suggestion sorts better than what stands, and how sure that is.
func judged(yours, learned []float64, won []bool) string {
	d, is := scorecard.Differ(yours, learned, won)
	if !is {
		return ""
	}
	by := fmt.Sprintf("by %.2f (%.2f to %.2f in 19 of 20 cases)", d.By, d.Low, d.High)
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

// questions fills in what each answer says, and which points are suggested.
func (l *learner) questions(page *wonPage, in *sliced, q *quiz.Quiz, scale string, fit *scorecard.Fit, all scorecard.Tally) {
	var shapes []scorecard.Question
	var asked []int
	reach := 0.0
	for i := range l.program.Questions {
		if l.first[i] < 0 {
			continue
		}
		kind, key := l.program.Question(i).Kind, l.program.Key(i)
		if l.number(i) {
			if factor, is := factorOf(q.Questions[key], scale); is && l.given[l.first[i]].All() > 0 {
				column := l.first[i]
				reach += abs(factor) * (l.high[column] - l.low[column])
				shapes = append(shapes, scorecard.Question{Columns: []int{column}, Counts: []int{l.given[column].All()}})
				asked = append(asked, i)
			}
			continue
		}
		shape := scorecard.Question{One: kind != quiz.Several, Ordered: slices.Contains(l.ordered, key)}
		low, high, sum := 0.0, 0.0, [2]float64{}
		for k, answer := range l.keys[i] {
			column := l.first[i] + k
			shape.Columns, shape.Counts = append(shape.Columns, column), append(shape.Counts, l.given[column].All())
			adds := q.Questions[key].Answers[answer].Adds[scale].Float64()
			if k == 0 {
				low, high = adds, adds
			}
			low, high = min(low, adds), max(high, adds)
			sum[0], sum[1] = sum[0]+min(adds, 0), sum[1]+max(adds, 0)
		}
		if !shape.One {
			low, high = sum[0], sum[1]
		}
		reach += high - low
		shapes, asked = append(shapes, shape), append(asked, i)
	}
	var points []int
	per := 0.0
	if fit != nil && scale != "" {
		points = scorecard.Points(fit.Weights, shapes, reach)
		per = scorecard.PerWeight(fit.Weights, shapes, reach)
	}
	for n, i := range asked {
		if l.number(i) {
			one := l.amount(q, scale, i, fit, per)
			if one.Rows[0].Patch != "" {
				page.Draft, one.Differs = true, true
			}
			page.Questions = append(page.Questions, one)
			continue
		}
		one := l.question(in, q, scale, i, shapes[n], all)
		for k := range one.Rows {
			if points == nil {
				continue
			}
			row, column := &one.Rows[k], l.first[i]+k
			if all := l.given[column]; all.All() == 0 {
				continue // nobody says anything of it
			}
			row.Suggested, row.Off = fmt.Sprint(points[column]), fmt.Sprintf("± %.0f", 1.96*fit.Errors[column]*per)
			if row.Suggested != row.Yours {
				row.Patch = desk.PatchText([]edit.Op{addsOp(one.Key, row.Answer, scale, points[column])})
				page.Draft, one.Differs = true, true
			}
		}
		page.Questions = append(page.Questions, one)
	}
}

// factorOf is what a question's number is multiplied by for a scale, and whether it is.
func factorOf(asked *quiz.Question, scale string) (float64, bool) {
	w := asked.Weigh[scale]
	if w == nil || w.Factor == nil || w.Reversed || len(w.Brackets) > 0 {
		return 0, false
	}
	return w.Factor.Float64(), true
}

// amount is what a question with a number says: how many points each one more stands for.
func (l *learner) amount(q *quiz.Quiz, scale string, i int, fit *scorecard.Fit, per float64) spoken {
	key, column := l.program.Key(i), l.first[i]
	one := spoken{Number: 1 + slices.Index(q.QuestionKeys(), key), Key: key, Label: q.Questions[key].Label,
		Says: fmt.Sprintf("answered with %g to %g", l.low[column], l.high[column])}
	factor, _ := factorOf(q.Questions[key], scale)
	row := spokenRow{Label: "each one more", Won: l.given[column].Won, All: 0, Yours: decimal.Decimal(math.Round(factor * float64(decimal.One))).String()}
	if wide := l.high[column] - l.low[column]; fit != nil && wide > 0 && per > 0 {
		to := decimal.Decimal(math.Round(fit.Weights[column]*per/wide*100)) * (decimal.One / 100)
		row.Suggested, row.Off = to.String(), fmt.Sprintf("± %.2f", 1.96*fit.Errors[column]*per/wide)
		if row.Suggested != row.Yours {
			row.Patch = desk.PatchText([]edit.Op{factorOp(key, scale, to)})
		}
	}
	one.Rows = []spokenRow{row}
	return one
}

// factorOp has a question's number multiplied.
func factorOp(question, scale string, by decimal.Decimal) edit.Op {
	return edit.Op{Op: "add", Path: quiz.At("questions", question, "weigh", scale, "factor"), Value: by}
}

// addsOp gives an answer points.
func addsOp(question, answer, scale string, points int) edit.Op {
	return edit.Op{Op: "add", Path: quiz.At("questions", question, "answers", answer, "adds", scale), Value: points}
}

// question is what the answers to a question say.
func (l *learner) question(in *sliced, q *quiz.Quiz, scale string, i int, shape scorecard.Question, all scorecard.Tally) spoken {
	key := l.program.Key(i)
	one := spoken{Number: 1 + slices.Index(q.QuestionKeys(), key), Key: key, Label: q.Questions[key].Label, One: shape.One, Ordered: shape.Ordered}
	turned := slices.DeleteFunc(slices.Clone(l.ordered), func(k string) bool { return k == key })
	if !shape.Ordered {
		turned = append(turned, key)
	}
	fields := in.slice.clone()
	fields["ordered"] = turned
	one.Turn = in.slice.address + "/won?" + fields.Encode()
	var parts []scorecard.Tally
	for _, column := range shape.Columns {
		parts = append(parts, l.given[column])
	}
	evidence, value := scorecard.Weigh(parts)
	if !shape.One { // several can be given: each answer against not giving it
		value = 0
		for k, column := range shape.Columns {
			with := l.given[column]
			two, v := scorecard.Weigh([]scorecard.Tally{with, {Won: l.asked[i].Won - with.Won, Lost: l.asked[i].Lost - with.Lost}})
			evidence[k] = two[0]
			value = max(value, v)
		}
	}
	one.Value, one.Says = fmt.Sprintf("%.2f", value), valueWords(value)
	if scorecard.Leaks(l.asked[i], all) {
		one.Leaks = "Only leads that were won were asked this: it says how they ended, and not who they were. Leave it out."
	}
	for k, answer := range l.keys[i] {
		with := l.given[shape.Columns[k]]
		a := q.Questions[key].Answers[answer]
		row := spokenRow{Label: a.Label, Answer: answer, Won: with.Won, All: with.All(), Yours: a.Adds[scale].String(), Class: "speaks"}
		if with.All() > 0 {
			low, high := inference.Wilson(with.Won, with.All())
			others := scorecard.Tally{Won: l.asked[i].Won - with.Won, Lost: l.asked[i].Lost - with.Lost}
			o := scorecard.Compare(with, others)
			row.Share, row.Range = ui.Percent(float64(with.Won)/float64(with.All())), ui.Percent(low)+" to "+ui.Percent(high)
			row.Odds = fmt.Sprintf("%.1f (%.1f–%.1f)", o.Ratio, o.Low, o.High)
			row.Evidence = fmt.Sprintf("%+.2f", evidence[k].Weight)
			row.Width = min(abs(evidence[k].Weight), 2) * 25
			if row.Left = 50; evidence[k].Weight < 0 {
				row.Left, row.Class = 50-row.Width, "speaks against"
			}
			if scorecard.Leaks(with, all) && one.Leaks == "" && with.Won > 20 {
				one.Leaks = "Everybody who answered “" + a.Label + "” was won. Is it known before the end?"
			}
		}
		one.Rows = append(one.Rows, row)
	}
	return one
}

func abs(v float64) float64 { return max(v, -v) }

// valueWords says what an information value means (Siddiqi 2006).
func valueWords(value float64) string {
	switch {
	case value < 0.02:
		return "says nothing of winning"
	case value < 0.1:
		return "says a little"
	case value < 0.3:
		return "says something"
	case value < 0.5:
		return "says much"
	}
	return "says very much: make sure that it is known before the end"
}

// takeOver takes points over into the draft: those of an answer, or all of them.
func (s *Room) takeOver(c *gin.Context) {
	z, in, ok := s.sliced(c)
	if !ok {
		return
	}
	page, err := s.learned(c, z, in)
	if err != nil {
		s.Fail(c, err)
		return
	}
	var ops []edit.Op
	scale := s.scaleNamed(z, page.Scale)
	for _, q := range page.Questions {
		for _, row := range q.Rows {
			if row.Patch == "" || c.PostForm("question") != "" && (c.PostForm("question") != q.Key || c.PostForm("answer") != row.Answer) {
				continue
			}
			points, err := decimal.Parse(row.Suggested)
			switch {
			case err != nil:
			case row.Answer == "":
				ops = append(ops, factorOp(q.Key, scale, points))
			default:
				ops = append(ops, addsOp(q.Key, row.Answer, scale, int(points/decimal.One)))
			}
		}
	}
	back := strings.Replace(adoptAt(in, ordered(c)), "/won/adopt", "/won", 1)
	s.edited(c, z, ops, back, fmt.Sprintf("The draft has the points of %s now. It can be undone on the sheet.", ui.Plural(len(ops), "answer", "answers")))
}

// scaleNamed is the key of the draft's scale with a name.
func (s *Room) scaleNamed(z *store.Quiz, name string) string {
	q, err := z.Document()
	if err != nil {
		return ""
	}
	for _, key := range quiz.InOrder(q.Scales) {
		if q.Scales[key].Name == name {
			return key
		}
	}
	return ""
}

// edited changes the draft, says so, and leads back.
func (s *Room) edited(c *gin.Context, z *store.Quiz, ops []edit.Op, back, words string) {
	if len(ops) == 0 {
		s.Say(c, "Nothing was changed: the draft has it so already.", "")
		c.Redirect(http.StatusSeeOther, back)
		return
	}
	_, _, err := s.Store.Definitions.Edit(c.Request.Context(), z.ID, z.Revision, []byte(desk.PatchText(ops)), s.User(c))
	switch {
	case errors.Is(err, store.ErrStale):
		s.Say(c, "The quiz was being changed just then. Press once more.", "")
	case err != nil:
		s.Fail(c, err)
		return
	default:
		s.Say(c, words, "")
	}
	c.Redirect(http.StatusSeeOther, back)
}
