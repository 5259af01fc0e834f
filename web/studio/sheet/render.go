package sheet

import (
	"bytes"
	"fmt"
	"html/template"
	"reflect"
	"runtime"
	"slices"
	"strconv"
	"strings"
	"sync/atomic"
	"time"

	"golang.org/x/sync/errgroup"

	"omphalos/core/quiz"
)

// mostRendered is how many sheets are kept as they were sent last.
const mostRendered = 64

// A rendered sheet is its parts as HTML, by the element's ID, with what they
// were made of: a part that would be made of the same is not made again. What has rows has
// their places, and the rows stand beside it.
type rendered struct {
	mark   string   // tells it from every other
	sheet  *Sheet   // of which it is
	order  []string // of the parts that are not rows
	html   map[string]string
	made   map[string]any
	orders map[string][]string // of the parts in each list
}

// The place of a row in the HTML of its part is its ID between two letters that no HTML has.
const around = "\x00"

func placeOf(row string) template.HTML { return template.HTML(around + row + around) }

// rows lists the rows that have a place in a part.
func (r *rendered) rows(part string) []string {
	var rows []string
	for i, piece := range strings.Split(r.html[part], around) {
		if i%2 == 1 {
			rows = append(rows, piece)
		}
	}
	return rows
}

// part returns a part with its rows as it was made.
func (r *rendered) part(id string) part {
	p := part{ID: id, data: r.made[id], kept: true}
	for _, row := range r.rows(id) {
		p.rows = append(p.rows, part{ID: row, data: r.made[row], kept: true})
	}
	return p
}

// whole returns the HTML of a part with its rows.
func (r *rendered) whole(part string) string {
	pieces := strings.Split(r.html[part], around)
	for i := 1; i < len(pieces); i += 2 {
		pieces[i] = r.html[pieces[i]]
	}
	return strings.Join(pieces, "")
}

// since returns the HTML of what differs from another rendering, or of all parts where
// there is none: of a part of which rows alone differ, those.
func (r *rendered) since(old *rendered) map[string]string {
	differs := map[string]string{}
	for _, id := range r.order {
		if old == nil || old.html[id] != r.html[id] {
			differs[id] = r.whole(id)
			continue
		}
		for _, row := range r.rows(id) {
			if old.html[row] != r.html[row] {
				differs[row] = r.html[row]
			}
		}
	}
	return differs
}

// farBehind is how many sheets of a quiz are kept as they were sent.
const farBehind = 8

// marks counts the sheets that were rendered, from a number that no earlier run had.
var marks atomic.Int64

func init() { marks.Store(time.Now().UnixNano()) }

// sent returns the sheet that was sent under a mark, or nil.
func (s *Room) sent(sheet, mark string) *rendered {
	list, _ := s.rendered.Get(sheet)
	for _, r := range list {
		if r.mark == mark {
			return r
		}
	}
	return nil
}

// asked lists the questions, under the heads of their sections. Questions are made side by
// side.
func (sh *Sheet) asked(before *rendered) []part {
	var list []part
	keys, sections := sh.Doc.QuestionKeys(), quiz.InOrder(sh.Doc.Sections)
	head := 0
	heads := func(until int) {
		for ; sh.headed() && head < until; head++ {
			above := sh.threads["/opening"]
			if len(list) > 0 {
				above = sh.Before()
			}
			list = append(
				list,
				part{
					ID:       "part-sec-" + sections[head],
					template: "section",
					data:     sh.section(head, sections[head], above.Under()),
				},
			)
		}
	}
	questions := make([]part, len(keys))
	leaves := sh.leaves(before.sheet)
	var work errgroup.Group
	work.SetLimit(runtime.GOMAXPROCS(0))
	for i, k := range keys {
		work.Go(func() error {
			if leaves && sh.leavesAlone(before.sheet, k) {
				questions[i] = before.part("part-q-" + k)
				return nil
			}
			questions[i] = sh.questionPart(i, k)
			return nil
		})
	}
	work.Wait()
	for i, k := range keys {
		heads(slices.Index(sections, sh.Doc.Questions[k].Section) + 1)
		list = append(list, questions[i])
	}
	heads(len(sections))
	return list
}

// kept names the rendered sheet of a quiz, by the odds that it shows.
func (sh *Sheet) kept() string { return fmt.Sprint(sh.Quiz.ID, sh.version, sh.Observed, sh.eyes) }

func (s *Room) render(sh *Sheet) (*rendered, error) {
	r := &rendered{
		mark:   strconv.FormatInt(marks.Add(1), 36),
		sheet:  sh,
		html:   map[string]string{},
		made:   map[string]any{},
		orders: map[string][]string{"questions": {}, "outcomes": {}, "steps": {}, "followUps": {}},
	}
	old, sent := new(rendered), []*rendered(nil)
	if sent, _ = s.rendered.Get(sh.kept()); len(sent) > 0 {
		old = sent[0]
	}
	all := sh.parts(old)
	for _, p := range all {
		r.order = append(r.order, p.ID)
		for prefix, list := range lists {
			if strings.HasPrefix(p.ID, prefix) {
				r.orders[list] = append(r.orders[list], p.ID)
			}
		}
	}
	for _, p := range slices.Clone(all) {
		all = append(all, p.rows...)
	}
	drawn, err := s.draw(all, old)
	if err != nil {
		return nil, err
	}
	for i, p := range all {
		r.made[p.ID], r.html[p.ID] = p.data, drawn[i]
	}
	list := []*rendered{r}
	for _, before := range sent[:min(len(sent), farBehind-1)] { // what they were made of is not asked for any more
		list = append(list, &rendered{mark: before.mark, html: before.html})
	}
	s.rendered.Add(sh.kept(), list)
	return r, nil
}

// lists are the lists that parts stand in, by how their IDs begin.
var lists = map[string]string{
	"part-q-": "questions", "part-sec-": "questions", "part-o-": "outcomes", "part-s-": "steps", "part-f-": "followUps",
}

// draw returns the HTML of parts: those that are made of the same as before are as they
// were, the others are drawn. Both is done side by side.
func (s *Room) draw(all []part, old *rendered) ([]string, error) {
	drawn := make([]string, len(all))
	var work errgroup.Group
	work.SetLimit(runtime.GOMAXPROCS(0))
	for i, p := range all {
		work.Go(func() error {
			if _, whole := p.data.(*Sheet); p.kept || !whole && reflect.DeepEqual(old.made[p.ID], p.data) {
				drawn[i] = old.html[p.ID]
				return nil
			}
			html, err := s.Views.Part("sheet", p.template, p.data)
			drawn[i] = string(bytes.TrimSpace(html))
			return err
		})
	}
	return drawn, work.Wait()
}
