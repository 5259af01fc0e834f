package sheet

import (
	"fmt"
	"html/template"
	"strings"

	"omphalos/core/edit"
	"omphalos/core/inference"
	"omphalos/core/quiz"
	"omphalos/web/studio/pictures"
	"omphalos/web/ui"
)

type openingPart struct {
	*quiz.Opening
	Thread   threadRow
	Shown    pictures.PicturePart
	Layout   lookPick
	Said     []said
	Deciding []way // in which answers can decide, where none does yet
}

// A way in which answers can decide, as it is offered where none does yet.
type way struct{ Kind, Name, About string }

var deciding = []way{
	{edit.ByPoints, "Points", "Answers add up to a score; the score decides. For leads, offers, readiness."},
	{edit.ByKeywords, "Keywords", "Answers carry a word for each outcome; the word met most often wins. " +
		"For types and personalities."},
	{edit.ByCloseness, "Closeness",
		"Answers pull toward outcomes, strongly or a little, or away from them. For product finders."},
	{edit.ByRight, "Right answers", "Some answers are right; how many were right decides. For tests and trivia."},
}

func (sh *Sheet) opening() openingPart {
	p := openingPart{Opening: sh.Doc.Opening, Thread: sh.threads["/opening"], Said: sh.said("/opening")}
	if len(sh.Doc.Scales)+len(sh.Doc.Decision.Steps) == 0 {
		p.Deciding = deciding
	}
	if p.Opening != nil {
		p.Shown = pictures.PictureOf(p.Opening.Picture, "/opening/picture", "the opening")
		p.Layout = sh.layoutPick("/opening", p.Opening.Layout, "the opening")
	}
	return p
}

type questionPart struct {
	*quiz.Question
	Path     quiz.Pointer
	Key      string
	Number   int
	Kinds    []kindGroup
	Shown    pictures.PicturePart
	Setup    setup
	Grid     []gridRow
	Value    *value   // of numbers and dates
	Heard    []slide  // of words: what conditions tell apart
	Columns  []column // of the ledger
	Even     []column // scales that can be weighed on, where it weighs
	Thread   threadRow
	After    threadRow // beside what follows the answers
	Rows     []answerRow
	When     whenPart
	Thens    []thenRule
	Mind     *mind
	Said     []said // remarks that are not settled
	HasRight bool   // an answer is marked as right
	Seen     string // the share that sees it, where that is not everybody
	First    bool
	Last     bool
	Follows  bool // its key follows its words
}

// A list of more than longList answers shows its first shownOf until it is opened.
const (
	longList = 8
	shownOf  = 6
)

// More says what a long list holds beyond its first answers, "" where it is not long.
func (p questionPart) More() string {
	if len(p.Rows) <= longList {
		return ""
	}
	share := 0.0
	for _, row := range p.Rows[shownOf:] {
		share += row.Share
	}
	rest := fmt.Sprintf("%d more answers", len(p.Rows)-shownOf)
	if p.Kind == quiz.Several { // their shares are of picks, and have no sum
		return rest
	}
	return rest + ", " + ui.Percent(share) + " together"
}

type answerRow struct {
	*quiz.Answer
	Path       quiz.Pointer
	Key        string
	Number     int
	Thread     threadRow
	Cells      []cell
	Shown      pictures.PicturePart
	Noted      bool // it has a line below its words, or a place for one
	Share      float64
	Percent    string
	Expect     quiz.Pointer // path of what is expected of it, "" where that can not be set
	Set        bool         // it has been set
	MayWrite   bool         // the kind takes own words
	MayBeRight bool         // answers of the quiz can be right
	Tagging    bool         // the quiz has keywords
	Tags       []keywordTag
	Way        wayPart
	First      bool
	Last       bool
}

// questionPart returns a question as a part of the sheet, its answers as rows of it. What rows
// show and what they weigh is theirs alone.
func (sh *Sheet) questionPart(i int, key string) part {
	q := sh.question(i, key)
	p := part{ID: "part-q-" + key, template: "question"}
	rows := make([]answerRow, len(q.Rows))
	for i, row := range q.Rows {
		p.rows = append(p.rows, part{ID: row.id(), template: "answer", data: row})
		rows[i] = answerRow{Path: row.Path, Share: row.Share, Percent: row.Percent}
	}
	q.Rows = rows
	if weighsAlone(q.Question) {
		light := weightless(q.Question)
		q.Question = &light
	}
	p.data = q
	return p
}

func (sh *Sheet) question(i int, key string) questionPart {
	q := sh.Doc.Questions[key]
	path := quiz.At("questions", key)
	p := questionPart{
		Question: q,
		Key:      key,
		Path:     path,
		Number:   i + 1,
		Kinds:    kindGroups,
		Shown:    pictures.PictureOf(q.Picture, path+"/picture", fmt.Sprintf("question %d", i+1)),
		Setup:    setupOf(q),
		Grid:     sh.gridRows(q, key, path),
		Value:    sh.value(q, key, path),
		Heard:    sh.heard(q, key, path),
		Columns:  sh.named(),
		When:     sh.when(path+"/showWhen", fmt.Sprintf("question %d shows", i+1), q.ShowWhen),
		Thens:    sh.thenRules(q, path, i),
		Thread:   sh.threads[path],
		After:    sh.threads[path].Under(),
		Mind:     sh.mind(path),
		Said:     sh.said(path),
		First:    i == 0,
		Last:     i == len(sh.Doc.Questions)-1,
		Follows:  !sh.fixed[key] && edit.Follows(sh.Doc, key, sh.filled),
	}
	if sh.odds != nil && sh.odds.Seen[key] < 1-1e-9 {
		p.Seen = ui.Percent(sh.odds.Seen[key]) + " see it"
	}
	if q.Kind.HasAnswers() || p.Value != nil {
		for _, c := range sh.Columns {
			if sh.Doc.Scales[c.Key].Method != quiz.Formula {
				p.Even = append(p.Even, column{Key: c.Key, Name: c.Name})
			}
		}
	}
	keys := quiz.InOrder(q.Answers)
	shares := sh.shares(key, keys)
	percents := inference.NamedPercents(shares)
	for j, k := range keys {
		a := q.Answers[k]
		row := answerRow{
			Answer:     a,
			Shown:      pictures.PictureOf(a.Picture, path.Join("answers", k, "picture"), fmt.Sprintf("answer %d", j+1)),
			Key:        k,
			Path:       path.Join("answers", k),
			Number:     j + 1,
			Noted:      a.Note != "" || q.Layout == quiz.AsCards,
			Share:      shares[k],
			Percent:    percents(k),
			MayWrite:   q.Kind != quiz.Grid,
			MayBeRight: q.Kind != quiz.Grid && (a.Right || sh.Doc.Settings != nil && sh.Doc.Settings.Review != ""),
			Thread:     sh.threads[path.Join("answers", k)],
			First:      j == 0,
			Last:       j == len(keys)-1,
		}
		p.HasRight = p.HasRight || a.Right
		row.Thread.Loose = row.Path + "/then"
		row.Way = sh.wayOf(a.Then, row.Path+"/then", i, fmt.Sprintf("Answer %d of question %d", j+1, i+1))
		if _, row.Set = q.Expect[k]; q.Kind != quiz.Grid && !sh.Observed {
			row.Expect = path.Join("expect", k)
		}
		row.Tagging, row.Tags = sh.tagging(), sh.tags(a, row.Path)
		for n, col := range sh.Columns {
			row.Cells = append(row.Cells, cellOf(a, row.Path, col, n))
		}
		p.Rows = append(p.Rows, row)
		p.After = row.Thread.Under()
	}
	return p
}

func (row answerRow) id() string { return "row-" + string(row.Path) }

// Within is the place of the row in its question.
func (row answerRow) Within() template.HTML { return placeOf(row.id()) }

// named returns the columns without what is reckoned at their foot, so that a question is
// the same as before when that changes.
func (sh *Sheet) named() []column {
	named := make([]column, len(sh.Columns))
	for i, c := range sh.Columns {
		named[i] = column{Key: c.Key, Name: c.Name, Place: c.Place}
	}
	return named
}

// shares are the parts of those who see a question that give each of its answers, or pass it by;
// of a grid, over its rows. Where it can't be told, they are even.
func (sh *Sheet) shares(question string, answers []string) map[string]float64 {
	shares := map[string]float64{}
	if sh.odds == nil || sh.odds.Seen[question] == 0 {
		for _, answer := range answers {
			shares[answer] = 1 / float64(len(answers))
		}
		return shares
	}
	rows := sh.Doc.Questions[question].Rows
	for name, given := range sh.odds.Answers[question] {
		given /= sh.odds.Seen[question]
		if len(rows) > 0 {
			_, name, _ = strings.Cut(name, ".")
			given /= float64(len(rows))
		}
		shares[name] += given
	}
	return shares
}
