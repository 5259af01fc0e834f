package studio

import (
	"cmp"
	"encoding/json"
	"fmt"
	"slices"
	"strings"

	"omphalos/core/decimal"
	"omphalos/core/edit"
	"omphalos/core/passage"
	"omphalos/core/quiz"
)

// A kindGroup is kinds that are alike, for the drop-down of kinds.
type kindGroup struct {
	Name  string
	Kinds []kindName
}

type kindName struct {
	Kind quiz.Kind
	Name string
}

var kindGroups = []kindGroup{
	{
		"Answers to choose",
		[]kindName{
			{quiz.Single, "one answer"},
			{quiz.Several, "several answers"},
			{quiz.YesNo, "yes or no"},
			{quiz.Dropdown, "one of a long list"},
			{quiz.Pictures, "one picture"},
			{quiz.Grid, "grid"},
		},
	},
	{
		"Numbers",
		[]kindName{{quiz.Rating, "rating"}, {quiz.Stars, "stars"}, {quiz.Number, "number"}, {quiz.Date, "date"}},
	},
	{
		"Words",
		[]kindName{
			{quiz.ShortText, "short text"},
			{quiz.LongText, "long text"},
			{quiz.Interlude, "nothing: an interlude"},
		},
	},
	{
		"Who they are",
		[]kindName{
			{quiz.Name, "name"},
			{quiz.Email, "e-mail"},
			{quiz.Phone, "phone"},
			{quiz.Company, "company"},
			{quiz.Country, "country"},
			{quiz.Consent, "consent"},
		},
	},
	{"From your tables", []kindName{{quiz.Location, "location"}, {quiz.Appointment, "appointment"}}},
}

// A setup is how a question of its kind is set up in place.
type setup struct {
	Picks    bool
	Min, Max string

	Limits         bool
	Date           bool
	Low, High      string
	LowHint        string
	HighHint       string
	Step, Unit     string
	Steps          bool // has a step and a unit
	Ends           bool // has words at its ends
	LowWords       string
	HighWords      string
	Length         bool // is a text, of at most so many characters
	Table, Wanting string
}

func setupOf(q *quiz.Question) setup {
	s := setup{
		Picks:  q.Kind == quiz.Several,
		Date:   q.Kind == quiz.Date,
		Length: q.Kind == quiz.ShortText || q.Kind == quiz.LongText,
		Steps:  q.Kind == quiz.Number,
		Ends:   q.Kind == quiz.Rating,
		Limits: q.Kind.Numeric() || q.Kind == quiz.Date,
	}
	if q.Picks != nil {
		s.Min, s.Max = positive(q.Picks.Min), positive(q.Picks.Max)
	}
	if l := q.Limits; l != nil {
		if l.Low != nil {
			s.Low = l.Low.String()
		}
		if l.High != nil {
			s.High = l.High.String()
		}
		if l.Step != nil {
			s.Step = l.Step.String()
		}
		s.Unit, s.LowWords, s.HighWords = l.Unit, l.LowWords, l.HighWords
	}
	s.LowHint, s.HighHint = "any", "any"
	if q.Kind == quiz.Rating || q.Kind == quiz.Stars {
		low, high := (&quiz.Question{Kind: q.Kind}).Range()
		s.LowHint, s.HighHint = low.String(), high.String()
	}
	switch q.Kind {
	case quiz.Location:
		s.Table, s.Wanting = q.Table, "Which table of places"
	case quiz.Appointment:
		s.Table, s.Wanting = q.Table, "Which calendar"
	}
	return s
}

func positive(n int) string {
	if n == 0 {
		return ""
	}
	return fmt.Sprint(n)
}

// A gridRow is a row of a grid on the sheet.
type gridRow struct {
	*quiz.Row
	Path   quiz.Pointer
	Key    string
	Number int
	Feeds  []patchChoice // which scales the row feeds, where there are several
	Apart  []apartRow    // where the row weighs by itself: a line for each column
	Weigh  string        // patch that lets it weigh by itself, "" where nothing weighs
	Alike  string        // patch that lets it weigh as the columns do
	Spread []slide
	First  bool
	Last   bool
}

// An apartRow is what one column adds in a row of a grid that weighs by itself.
type apartRow struct {
	Label string
	Cells []cell
}

func (sh *sheet) gridRows(q *quiz.Question, key string, path quiz.Pointer) []gridRow {
	var rows []gridRow
	keys, columns := quiz.InOrder(q.Rows), quiz.InOrder(q.Answers)
	for i, k := range keys {
		row := gridRow{
			Row:    q.Rows[k],
			Key:    k,
			Path:   path.Join("rows", k),
			Number: i + 1,
			First:  i == 0,
			Last:   i == len(keys)-1,
		}
		row.Feeds = sh.feeds(row)
		row.Alike = patchText([]edit.Op{{Op: "remove", Path: row.Path + "/adds"}})
		own := map[string]map[string]decimal.Decimal{}
		for _, c := range columns {
			if adds := q.Answers[c].Adds; len(adds) > 0 {
				own[c] = adds
			}
			if row.Row.Adds != nil {
				row.Apart = append(row.Apart, sh.apart(row, c, q.Answers[c]))
			}
			row.Spread = append(row.Spread, sh.slide(key, k+"."+c, path, cmp.Or(q.Answers[c].Label, c)))
		}
		if len(own) > 0 && row.Row.Adds == nil {
			row.Weigh = patchText([]edit.Op{{Op: "add", Path: row.Path + "/adds", Value: own}})
		}
		rows = append(rows, row)
	}
	return rows
}

// feeds lists what a row may feed: every scale, or one only.
func (sh *sheet) feeds(row gridRow) []patchChoice {
	if len(sh.Columns) < 2 {
		return nil
	}
	every := edit.Op{Op: "remove", Path: row.Path + "/scales"}
	if row.Scales == nil {
		every = edit.Op{Op: "add", Path: row.Path + "/label", Value: row.Label} // nothing changes
	}
	list := []patchChoice{{"every scale", patchText([]edit.Op{every}), row.Scales == nil}}
	for _, c := range sh.Columns {
		list = append(
			list,
			patchChoice{
				"only " + c.Name,
				patchText([]edit.Op{{Op: "add", Path: row.Path + "/scales", Value: []string{c.Key}}}),
				len(row.Scales) == 1 && row.Scales[0] == c.Key,
			},
		)
	}
	if len(row.Scales) > 1 {
		list = append(
			list,
			patchChoice{
				quiz.Count(len(row.Scales), "scale"),
				patchText([]edit.Op{{Op: "add", Path: row.Path + "/scales", Value: row.Scales}}),
				true,
			},
		)
	}
	return list
}

func (sh *sheet) apart(row gridRow, column string, a *quiz.Answer) apartRow {
	line := apartRow{Label: cmp.Or(a.Label, column)}
	for n, col := range sh.Columns {
		c := cell{Path: row.Path.Join("adds", column, col.Key), Class: "none", Column: n, Type: "number",
			Label: fmt.Sprintf("%s of %s in row %d", col.Name, line.Label, row.Number)}
		if amount, set := row.Row.Adds[column][col.Key]; set {
			c.Value, c.Class = amount.Signed(), shade(amount, col.most)
		} else if amount, set := a.Adds[col.Key]; set {
			c.Hint = amount.Signed()
		}
		line.Cells = append(line.Cells, c)
	}
	return line
}

// A slide is an expected share that can be dragged.
type slide struct {
	Path  quiz.Pointer
	Name  string
	Words string // for what is read out
	Share float64
	Set   bool
}

func (sh *sheet) slide(question, name string, path quiz.Pointer, label string) slide {
	s := slide{Path: path.Join("expect", name), Name: label, Words: fmt.Sprintf("Expected share of %s", label)}
	if sh.odds != nil && sh.odds.Seen[question] > 0 {
		s.Share = sh.odds.Answers[question][name] / sh.odds.Seen[question]
	}
	_, s.Set = sh.Doc.Questions[question].Expect[name]
	return s
}

// mostSlides is how many points of a rating can be told apart side by side.
const mostSlides = 21

// spread lists the points of a rating with their shares.
func (sh *sheet) spread(q *quiz.Question, key string, path quiz.Pointer) []slide {
	if sh.Observed || q.Kind != quiz.Rating && q.Kind != quiz.Stars {
		return nil
	}
	values := q.Lattice()
	if values.Count() > mostSlides {
		return nil
	}
	var list []slide
	for i := range values.Count() {
		n := values.At(i)
		list = append(list, sh.slide(key, n.String(), path, n.Words()))
	}
	return list
}

// heard lists the ways in which conditions tell the answers to a question in words
// apart, with their shares: nobody can count those, so the marketer says what to expect.
func (sh *sheet) heard(q *quiz.Question, key string, path quiz.Pointer) []slide {
	if sh.program == nil || q.Kind.HasAnswers() || q.Kind.Numeric() || q.Kind == quiz.Date {
		return nil
	}
	var list []slide
	for _, name := range sh.program.Names(sh.program.Position(key)) {
		if name == passage.SkippedName {
			continue
		}
		label := "Whoever writes what " + strings.ReplaceAll(name, " and ", " and what ")
		if name == "else" {
			label = "Whoever writes anything else"
		}
		s := sh.slide(key, name, path, label)
		if sh.Observed {
			s.Path = ""
		}
		list = append(list, s)
	}
	return list
}

// A value says how numbers or dates of a question weigh: a row for the factor, and
// one for each bracket.
type value struct {
	Factor   []cell // nil of dates
	Brackets []bracketRow
	Add      string // patch that adds a bracket, "" where no scale can take it
	Reversed bool
	On, Off  string // patches that reverse it, and do not; "" where nothing weighs
	Curves   []curve
	Spread   []slide // of ratings: how many are expected at each point
	Date     bool
}

type bracketRow struct {
	From   string       // "" for the one below the others
	Path   quiz.Pointer // of the lower end on the first scale
	Also   string       // of the others
	Cells  []cell
	Remove string // patch
}

// bracketKeys returns the keys of a question's brackets over all scales, rising.
func bracketKeys(q *quiz.Question) (keys []string, from map[string]*quiz.Bound) {
	from = map[string]*quiz.Bound{}
	for _, scale := range slices.Sorted(mapKeys(q.Weigh)) {
		for k, b := range q.Weigh[scale].Brackets {
			if _, known := from[k]; !known {
				from[k] = b.From
				keys = append(keys, k)
			}
		}
	}
	at := func(k string) decimal.Decimal {
		if from[k] == nil {
			return decimal.Min
		}
		return from[k].Value()
	}
	slices.SortFunc(keys, func(a, b string) int { return cmp.Or(cmp.Compare(at(a), at(b)), cmp.Compare(a, b)) })
	return keys, from
}

func mapKeys[V any](m map[string]V) func(func(string) bool) {
	return func(yield func(string) bool) {
		for k := range m {
			if !yield(k) {
				return
			}
		}
	}
}

func (sh *sheet) value(q *quiz.Question, key string, path quiz.Pointer) *value {
	if !q.Kind.Numeric() && q.Kind != quiz.Date {
		return nil
	}
	v := value{Date: q.Kind == quiz.Date, Spread: sh.spread(q, key, path)}
	keys, from := bracketKeys(q)
	var on, off []edit.Op
	for n, col := range sh.Columns {
		w := q.Weigh[col.Key]
		at := path.Join("weigh", col.Key)
		if w != nil {
			v.Reversed = v.Reversed || w.Reversed
			on, off = append(
				on,
				edit.Op{Op: "add", Path: at + "/reversed", Value: true},
			), append(
				off,
				edit.Op{Op: "add", Path: at + "/reversed", Value: false},
			)
			if len(w.Brackets) > 0 {
				v.Curves = append(v.Curves, newCurve(col.Name, w, keys))
			}
		}
		if v.Date {
			continue
		}
		c := cell{Path: at, Type: "factor", Class: "none", Column: n, Label: fmt.Sprintf("%s of each point", col.Name)}
		if w != nil && w.Factor != nil {
			c.Path, c.Type, c.Value, c.Class = at+"/factor", "times", "×"+w.Factor.String(), shade(*w.Factor, col.most)
		} else if w != nil && len(w.Brackets) > 0 {
			c.Hint = "below"
		}
		v.Factor = append(v.Factor, c)
	}
	if on != nil && !v.Date {
		v.On, v.Off = patchText(on), patchText(off)
	}
	for _, k := range keys {
		row := bracketRow{}
		var gone []edit.Op
		if from[k] != nil {
			row.From = from[k].String()
		}
		for n, col := range sh.Columns {
			at := path.Join("weigh", col.Key, "brackets", k)
			c := cell{
				Path:   at,
				Type:   "bracket",
				Class:  "none",
				Column: n,
				Label:  fmt.Sprintf("%s from %s", col.Name, cmp.Or(row.From, "the lowest on")),
			}
			if from[k] != nil {
				c.From = jsonText(from[k])
			}
			if w := q.Weigh[col.Key]; w != nil && w.Brackets[k] != nil {
				c.Value, c.Class = w.Brackets[k].Adds.Signed(), shade(w.Brackets[k].Adds, col.most)
				gone = append(gone, edit.Op{Op: "remove", Path: at})
				if row.Path == "" {
					row.Path = at + "/from"
				} else {
					row.Also += string(at) + "/from "
				}
			} else if w != nil && w.Factor != nil {
				c.Path, c.Replaces = path.Join("weigh", col.Key), k
			}
			row.Cells = append(row.Cells, c)
		}
		row.Remove = patchText(gone)
		v.Brackets = append(v.Brackets, row)
	}
	v.Add = sh.addBracket(q, path, keys, from)
	return &v
}

// addBracket prepares the patch that adds a bracket above the others, on the scales
// that have brackets, or on the first.
func (sh *sheet) addBracket(q *quiz.Question, path quiz.Pointer, keys []string, from map[string]*quiz.Bound) string {
	var start *quiz.Bound
	if len(keys) > 0 {
		start = quiz.NumberBound(decimal.One)
		if q.Kind == quiz.Date {
			start = quiz.DayBound(decimal.FromInt(20454)) // the first of 2026
		}
		if last := from[keys[len(keys)-1]]; last != nil && q.Kind == quiz.Date {
			start = quiz.DayBound(last.Value().Add(decimal.FromInt(30)))
		} else if last != nil {
			start = quiz.NumberBound(last.Value().Add(decimal.One))
		} else if low, _ := q.Bounds(); low != nil && q.Kind != quiz.Date {
			start = quiz.NumberBound(low.Add(decimal.One))
		}
	}
	key := ""
	for i := len(keys) + 1; ; i++ {
		if key = fmt.Sprintf("bracket_%d", i); !slices.Contains(keys, key) {
			break
		}
	}
	fresh := &quiz.Bracket{From: start}
	var ops []edit.Op
	for _, col := range sh.Columns {
		if w := q.Weigh[col.Key]; w != nil && len(w.Brackets) > 0 {
			ops = append(ops, edit.Op{Op: "add", Path: path.Join("weigh", col.Key, "brackets", key), Value: fresh})
		}
	}
	if ops == nil && len(sh.Columns) > 0 {
		ops = append(
			ops,
			edit.Op{
				Op:    "add",
				Path:  path.Join("weigh", sh.Columns[0].Key),
				Value: &quiz.Weighing{Brackets: map[string]*quiz.Bracket{key: fresh}},
			},
		)
	}
	if ops == nil {
		return ""
	}
	return patchText(ops)
}

func patchText(ops []edit.Op) string { return jsonText(ops) }

func jsonText(v any) string {
	b, err := json.Marshal(v)
	if err != nil {
		panic(fmt.Sprintf("studio: %v can't be written: %v", v, err)) // no type of it can fail
	}
	return string(b)
}

// A curve draws what brackets add, as steps: a path in a drawing of 132 × 26.
type curve struct{ Name, Path string }

const curveWidth, curveHeight = 132, 26

func newCurve(name string, w *quiz.Weighing, keys []string) curve {
	var adds []float64
	if first := w.Brackets[keys[0]]; first == nil || first.From != nil {
		adds = append(adds, 0) // below the lowest bracket nothing is added
	}
	for _, k := range keys {
		if b := w.Brackets[k]; b != nil {
			adds = append(adds, b.Adds.Float64())
		}
	}
	low, high := slices.Min(adds), slices.Max(adds)
	y := func(n float64) float64 {
		if high == low {
			return curveHeight / 2
		}
		return 3 + (curveHeight-6)*(high-n)/(high-low)
	}
	step := float64(curveWidth) / float64(len(adds))
	path := fmt.Sprintf("M0 %.1f", y(adds[0]))
	for i, n := range adds {
		path += fmt.Sprintf("V%.1fH%.1f", y(n), step*float64(i+1))
	}
	return curve{name, path}
}

// shade is the class of a cell by sign and size: five shades each way, by the share
// of the largest weight of the column.
func shade(amount, most decimal.Decimal) string {
	switch n := min(int(4.99*amount.Float64()/most.Float64()), 4) + 1; {
	case amount > 0:
		return fmt.Sprintf("up-%d", n)
	case amount < 0:
		return fmt.Sprintf("down-%d", min(2-n, 5))
	}
	return "nought"
}

// A sectionPart heads the questions of a section.
type sectionPart struct {
	*quiz.Section
	Path   quiz.Pointer
	Key    string
	Number int
	Thread threadRow
	When   whenPart
	Mind   *mind
	First  bool
	Last   bool
}

// headed tells whether sections are told apart on the sheet: a single one without
// words is not seen.
func (sh *sheet) headed() bool {
	if len(sh.Doc.Sections) > 1 {
		return true
	}
	for _, s := range sh.Doc.Sections {
		return s.Heading != "" || s.Text != "" || s.ShowWhen != nil
	}
	return false
}

func (sh *sheet) section(i int, key string, before threadRow) sectionPart {
	s := sh.Doc.Sections[key]
	p := sectionPart{
		Section: s,
		Key:     key,
		Path:    quiz.At("sections", key),
		Number:  i + 1,
		Thread:  before,
		Mind:    sh.mind(quiz.At("sections", key)),
		First:   i == 0,
		Last:    i == len(sh.Doc.Sections)-1,
	}
	p.When = sh.when(p.Path+"/showWhen", fmt.Sprintf("section %d shows", p.Number), s.ShowWhen)
	return p
}
