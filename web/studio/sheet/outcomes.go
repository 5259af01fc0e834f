package sheet

import (
	"cmp"
	"slices"

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

// Choices are the outcomes, for the part "otherwise".
func (sh *Sheet) Choices() []choice { return sh.choices() }

// Thread is the path margin beside the decision's heading.
func (sh *Sheet) Thread() threadRow { return sh.threads["/decision"] }

// Passing is the path margin beside what lies between the decision's heading
// and the outcomes.
func (sh *Sheet) Passing() threadRow { return sh.threads["/decision"].Under() }

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

type outcomePart struct {
	*quiz.Outcome
	Path     quiz.Pointer
	Key      string
	Letter   string
	Class    string
	Thread   threadRow
	Passing  threadRow
	Share    float64
	Told     bool // Share can be told
	Sampled  bool // from a sample
	Landings []landingPart
	Shown    pictures.PicturePart
	Reviewed bool     // right answers can be shown with the result
	Shows    []choice // scales whose score may be shown
	Mind     *mind
	Said     []said
	First    bool
	Last     bool
}

func (sh *Sheet) outcome(key string) outcomePart {
	o := sh.Doc.Outcomes[key]
	path := quiz.At("outcomes", key)
	keys := quiz.InOrder(sh.Doc.Outcomes)
	i := slices.Index(keys, key)
	p := outcomePart{
		Outcome: o,
		Key:     key,
		Path:    path,
		Letter:  sh.Doc.Letter(key),
		Class:   desk.Hue(i),
		Thread:  sh.threads[path],
		Mind:    sh.mind(path),
		Said:    sh.said(path),
		First:   i == 0,
		Last:    i == len(keys)-1,
	}
	if sh.odds != nil && sh.odds.Outcomes != nil {
		p.Share, p.Told, p.Sampled = sh.odds.Outcomes[key], true, !sh.odds.ExactOutcomes()
	}
	p.Passing = sh.threads[path].Under()
	p.Shown = pictures.PictureOf(o.Picture, path+"/picture", "outcome "+p.Letter)
	for _, c := range sh.Columns {
		p.Shows = append(p.Shows, choice{c.Key, "their " + c.Name, ""})
	}
	p.Reviewed = sh.Doc.Settings != nil && sh.Doc.Settings.Review == quiz.ReviewEnd
	p.Landings = sh.landings(o, path, p.Letter)
	return p
}
