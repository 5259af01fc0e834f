package sheet

import (
	"cmp"
	"fmt"
	"html/template"
	"slices"

	"omphalos/core/inference"
	"omphalos/core/quiz"
	"omphalos/web/studio/desk"
)

// A stepPart is a step of the decision on the sheet.
type stepPart struct {
	*quiz.Step
	Path       quiz.Pointer
	Key        string
	Quiz       uint
	Number     int
	When       whenPart
	Ruler      ruler
	Choices    []choice // outcomes
	Scales     []choice
	Contenders []contenderRow
	Others     []choice // scales that may contend, too, as patches
	Ties       tiesPart
	Lead       string
	Least      string
	Table      tablePart
	Share      float64 // decided here
	Even       float64 // what each contender of a leader step would get of that by an even split
	Told       bool
	Mind       *mind
	Passing    template.HTML // its place, as are
	Decided    template.HTML // the share that is decided here
	Measured   template.HTML // and the ruler
	First      bool
	Last       bool
}

// A choice is an option of a drop-down.
type choice struct{ Key, Name, Letter string }

// A contenderRow is a scale that a leader step compares, and what it stands for.
type contenderRow struct {
	Path      quiz.Pointer
	Key, Name string
	Outcome   string
	Own       bool // it is a pull, and stands for its own outcome
	Share     float64
	Percent   string
	Class     string
	First     bool
	Last      bool
}

// A bandShare is how many get into a band, beside its words. Most edits change it.
type bandShare struct {
	ID      string
	Class   string
	Share   float64
	Percent string
}

// A stepShare is how many are decided by a step.
type stepShare struct {
	ID    string
	Off   bool
	Told  bool
	Share float64
}

// A measuredRow is a ruler as a row of its step.
type measuredRow struct {
	ruler
	ID string
}

// stepPart returns a step as a part of the sheet, with what most edits change as rows of it: the
// thread beside it, the share that it decides, the ruler and the shares of its bands.
func (sh *Sheet) stepPart(key string) part {
	s := sh.step(key)
	p := part{ID: "part-s-" + key, template: "step"}
	row := func(name, template string, data func(id string) any) template.HTML {
		id := "row-" + string(s.Path) + name
		p.rows = append(p.rows, part{ID: id, template: template, data: data(id)})
		return placeOf(id)
	}
	place, passing := sh.passing(p.ID)
	s.Passing, p.rows = place, []part{passing}
	s.Decided = row("-share", "stepshare", func(id string) any { return stepShare{id, s.Off, s.Told, s.Share} })
	if s.Kind == quiz.BandsStep {
		drawn := s.Ruler
		s.Measured = row("-ruler", "measured", func(id string) any { return measuredRow{drawn, id} })
		s.Ruler, s.Share = ruler{Told: drawn.Told, Bands: slices.Clone(drawn.Bands)}, 0
		for i, b := range drawn.Bands {
			kept := &s.Ruler.Bands[i]
			kept.Middle, kept.Width, kept.Share, kept.Percent = 0, 0, 0, ""
			if drawn.Told {
				share := func(id string) any { return bandShare{id, b.Class, b.Share, b.Percent} }
				kept.Odds = row(fmt.Sprintf("-band-%d", i), "bandshare", share)
			}
		}
	}
	p.data = s
	return p
}

// A tiesPart says how ties are settled, and how many there are.
type tiesPart struct {
	By        quiz.TiePolicy
	Policies  []patchChoice
	Question  string
	Questions []choice
	Outcome   string
	Share     float64
}

func (sh *Sheet) step(key string) stepPart {
	s := sh.Doc.Decision.Steps[key]
	path := quiz.At("decision", "steps", key)
	p := stepPart{
		Step:    s,
		Key:     key,
		Quiz:    sh.Quiz.ID,
		Path:    path,
		Choices: sh.choices(),
		Mind:    sh.mind(path),
	}
	keys := quiz.InOrder(sh.Doc.Decision.Steps)
	p.Number = slices.Index(keys, key) + 1
	p.First, p.Last = p.Number == 1, p.Number == len(keys)
	for _, c := range sh.Columns {
		p.Scales = append(p.Scales, choice{c.Key, c.Name, ""})
	}
	if sh.odds != nil && sh.odds.Steps != nil {
		p.Told = true
		for _, share := range sh.odds.Steps[key] {
			p.Share += share
		}
	}
	switch s.Kind {
	case quiz.BandsStep:
		p.Ruler = newRuler(sh.Doc, key, s, sh.odds, sh.possible)
	case quiz.RuleStep:
		p.When = sh.when(path+"/when", fmt.Sprintf("step %d decides", p.Number), s.When)
	case quiz.LeaderStep:
		sh.leader(&p)
	case quiz.TableStep:
		p.Table = sh.table(key, s, sh.decidedBy(key, p.Share))
	}
	return p
}

// decidedBy writes the shares that the parts of a step decide, of what it decides altogether.
func (sh *Sheet) decidedBy(step string, share float64) func(part string) string {
	if sh.odds == nil {
		return inference.PercentsWithin("", nil)
	}
	return inference.PercentsWithin(inference.Percent(share), sh.odds.Steps[step])
}

func (sh *Sheet) leader(p *stepPart) {
	keys := quiz.InOrder(p.Step.Contenders)
	p.Even = p.Share / float64(max(len(keys), 1))
	percents := sh.decidedBy(p.Key, p.Share)
	for i, k := range keys {
		c := p.Step.Contenders[k]
		row := contenderRow{
			Key:     k,
			Path:    p.Path.Join("contenders", k),
			Name:    k,
			Outcome: c.Outcome,
			First:   i == 0,
			Last:    i == len(keys)-1,
		}
		if scale := sh.Doc.Scales[k]; scale != nil {
			row.Name, row.Own = cmp.Or(scale.Name, k), scale.Kind == quiz.Pull
			row.Outcome = cmp.Or(row.Outcome, scale.Outcome)
		}
		if p.Told {
			row.Share, row.Percent = sh.odds.Steps[p.Key][k], percents(k)
		}
		row.Class = hueOf(sh.Doc, row.Outcome)
		p.Contenders = append(p.Contenders, row)
	}
	for _, k := range quiz.InOrder(sh.Doc.Scales) {
		if p.Step.Contenders[k] == nil {
			patch := fmt.Sprintf(
				`[{"op":"add","path":"%s/contenders/%s","value":{"order":%d}}]`,
				p.Path,
				k,
				len(keys)+1,
			)
			p.Others = append(p.Others, choice{patch, cmp.Or(sh.Doc.Scales[k].Name, k), ""})
		}
	}
	if p.Step.Lead != nil {
		p.Lead = p.Step.Lead.String()
	}
	if p.Step.Least != nil {
		p.Least = p.Step.Least.String()
	}
	t := tiesPart{By: quiz.TieOrder}
	if p.Step.Ties != nil {
		t.By, t.Question, t.Outcome = p.Step.Ties.By, p.Step.Ties.Question, p.Step.Ties.Outcome
	}
	for _, k := range sh.Doc.QuestionKeys() {
		if q := sh.Doc.Questions[k]; q.Kind != quiz.Interlude && !q.Kind.Contact() {
			t.Questions = append(t.Questions, choice{k, short(cmp.Or(q.Label, k)), ""})
		}
	}
	last := ""
	if len(t.Questions) > 0 {
		last = t.Questions[len(t.Questions)-1].Key
	}
	for _, policy := range []struct {
		by   quiz.TiePolicy
		name string
	}{{quiz.TieOrder, "the one that is listed first"},
		{quiz.TieQuestion, "the one that an answer adds most to"},
		{quiz.TieOutcome, "an outcome of its own, for between two"}, {quiz.TieNext, "nobody: go on to the next step"}} {
		ties := quiz.Ties{By: policy.by}
		if policy.by == quiz.TieQuestion {
			ties.Question = cmp.Or(t.Question, last)
		}
		t.Policies = append(
			t.Policies,
			patchChoice{
				policy.name,
				fmt.Sprintf(`[{"op":"add","path":"%s/ties","value":%s}]`, p.Path, desk.JSONText(ties)),
				policy.by == t.By,
			},
		)
	}
	if sh.odds != nil {
		t.Share = sh.odds.Ties[p.Key]
	}
	p.Ties = t
}
