package sheet

import (
	"cmp"
	"html/template"
	"slices"

	"omphalos/core/inference"
	"omphalos/core/quiz"
	"omphalos/web/studio/desk"
	"omphalos/web/studio/pictures"
)

func (sh *Sheet) choices() []choice {
	var list []choice
	for _, k := range quiz.InOrder(sh.Doc.Outcomes) {
		list = append(list, choice{k, sh.Doc.Outcomes[k].Name, sh.Doc.Letter(k)})
	}
	return list
}

// passing is the path margin beside a part between the decision's heading and the outcomes.
func (sh *Sheet) passing(of string) (place template.HTML, row part) {
	return beside(of, sh.threads["/decision"].Under())
}

// beside is the path margin beside a part, as a row of it: nearly every edit makes threads
// wider or narrower, and leaves the rest of the part as it is.
func beside(of string, t threadRow) (place template.HTML, row part) {
	t.ID = "row-" + of + "-beside"
	return placeOf(t.ID), part{ID: t.ID, template: "thread", data: t}
}

// An otherwisePart says what is decided where no step decides.
type otherwisePart struct {
	Passing template.HTML // its place
	Steps   bool          // there are some
	Choices []choice      // outcomes
	Chosen  string
}

func (sh *Sheet) otherwise() part {
	p := part{ID: "part-otherwise", template: "otherwise"}
	place, passing := sh.passing(p.ID)
	p.rows = []part{passing}
	p.data = otherwisePart{place, len(sh.Doc.Decision.Steps) > 0, sh.choices(), sh.Doc.Decision.Otherwise}
	return p
}

// A decisionHead is the heading of the decision, with what its odds rest on.
type decisionHead struct {
	Thread template.HTML // its place
	Notes  []string
}

func (sh *Sheet) decisionHead() part {
	p := part{ID: "part-decision", template: "decisionhead"}
	place, thread := beside(p.ID, sh.threads["/decision"])
	p.rows = []part{thread}
	p.data = decisionHead{place, sh.Notes()}
	return p
}

func (sh *Sheet) throughEyes() part {
	p := part{ID: "part-eyes", template: "eyes"}
	place, passing := sh.passing(p.ID)
	p.rows = []part{passing}
	p.data = eyesBox{sh.eyes, place, []string{"phone", "tablet", "desktop"}}
	return p
}

// Before is the path margin beside what follows the last question.
func (sh *Sheet) Before() threadRow { return sh.threads["/decision"].above() }

// A foot is a line under the ledger.
type foot struct {
	Name   string
	Values []string
}

// Feet are the lines under the ledger: what each scale can come to.
func (sh *Sheet) Feet() []foot {
	feet := []foot{{Name: "lowest"}, {Name: "highest"}, {Name: "expected"}}
	if sh.Observed {
		feet[2].Name = "observed"
	}
	for _, c := range sh.Columns {
		for i, v := range []string{c.Lowest, c.Highest, c.Mean} {
			feet[i].Values = append(feet[i].Values, cmp.Or(v, "–"))
		}
	}
	return feet
}

// An outcomeHead is the line of an outcome with its share, which most edits change.
type outcomeHead struct {
	Name     string
	Standing quiz.Standing
	Path     quiz.Pointer
	Letter   string
	Class    string
	Thread   threadRow
	Percent  string // of respondents
	Told     bool   // Percent can be told
	Sampled  bool   // from a sample
	First    bool
	Last     bool
}

func (h outcomeHead) id() string { return "row-" + string(h.Path) }

type outcomePart struct {
	*quiz.Outcome
	Head     template.HTML // its place
	Beside   template.HTML // the place of the thread beside what follows it
	Path     quiz.Pointer
	Key      string
	Letter   string
	Passing  threadRow // beside what is said
	Landings []landingPart
	Shown    pictures.PicturePart
	Layout   lookPick
	Drawn    lookPick        // how scores are drawn
	PassedOn quiz.Shared     // what is said where it is passed on
	AsPassed desk.SharedCard // and what is shown there
	Passes   bool            // respondents may pass it on
	Reviewed bool            // right answers can be shown with the result
	Shows    []choice        // scales whose score may be shown
	Mind     *mind
	Said     []said
}

// outcomePart returns an outcome as a part of the sheet, with what most edits change as rows of
// it: its head, and the thread beside what follows.
func (sh *Sheet) outcomePart(key string) part {
	head := sh.outcomeHead(key)
	body := sh.outcome(key)
	place, under := beside(string(head.Path), sh.threads[head.Path].Under())
	body.Head, body.Beside = placeOf(head.id()), place
	return part{ID: "part-o-" + key, template: "outcome", data: body, rows: []part{
		{ID: head.id(), template: "outcomehead", data: head},
		under,
	}}
}

func (sh *Sheet) outcomeHead(key string) outcomeHead {
	o, path := sh.Doc.Outcomes[key], quiz.At("outcomes", key)
	keys := quiz.InOrder(sh.Doc.Outcomes)
	i := slices.Index(keys, key)
	h := outcomeHead{Name: o.Name, Standing: o.Standing, Path: path, Letter: sh.Doc.Letter(key),
		Class: desk.Hue(i), Thread: sh.threads[path], First: i == 0, Last: i == len(keys)-1}
	if sh.odds != nil && sh.odds.Outcomes != nil {
		h.Percent, h.Told = inference.NamedPercents(sh.odds.Outcomes)(key), true
		h.Sampled = !sh.odds.ExactOutcomes()
	}
	return h
}

func (sh *Sheet) outcome(key string) outcomePart {
	o := sh.Doc.Outcomes[key]
	path := quiz.At("outcomes", key)
	p := outcomePart{
		Outcome: o,
		Key:     key,
		Path:    path,
		Letter:  sh.Doc.Letter(key),
		Mind:    sh.mind(path),
		Said:    sh.said(path),
	}
	if len(p.Said) > 0 {
		p.Passing = sh.threads[path].Under()
	}
	p.Shown = pictures.PictureOf(o.Picture, path+"/picture", "outcome "+p.Letter)
	p.Drawn = pickOf("drawn", "How scores are drawn for outcome "+p.Letter, "", path+"/showAs", o.ShowAs,
		quiz.OnRuler, quiz.ScoreForms, "scores")
	p.PassedOn, p.Passes = sh.passedOn(o), sh.passes()
	p.AsPassed = desk.SharedOf(sh.Quiz, sh.Doc, key)
	p.Layout = sh.layoutPick(path, o.Layout, "outcome "+p.Letter)
	for _, c := range sh.Columns {
		p.Shows = append(p.Shows, choice{c.Key, "their " + c.Name, ""})
	}
	p.Reviewed = sh.Doc.Settings != nil && sh.Doc.Settings.Review == quiz.ReviewEnd
	p.Landings = sh.landings(o, path, p.Letter)
	return p
}
