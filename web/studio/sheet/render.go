package sheet

import (
	"bytes"
	"fmt"
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
// were made of: a part that would be made of the same is not made again.
type rendered struct {
	mark   string // tells it from every other
	parts  map[string]string
	made   map[string]any
	orders map[string][]string // of the parts in each list
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

// asked lists the questions, under the heads of their sections.
func (sh *Sheet) asked() []part {
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
				part{"part-sec-" + sections[head], "section", sh.section(head, sections[head], above.Under())},
			)
		}
	}
	for i, k := range keys {
		heads(slices.Index(sections, sh.Doc.Questions[k].Section) + 1)
		list = append(list, part{"part-q-" + k, "question", sh.question(i, k)})
	}
	heads(len(sections))
	return list
}

// kept names the rendered sheet of a quiz, by the odds that it shows.
func (sh *Sheet) kept() string { return fmt.Sprint(sh.Quiz.ID, sh.Observed, sh.eyes) }

func (s *Room) render(sh *Sheet) (*rendered, error) {
	r := &rendered{
		mark:   strconv.FormatInt(marks.Add(1), 36),
		parts:  map[string]string{},
		made:   map[string]any{},
		orders: map[string][]string{"questions": {}, "outcomes": {}, "steps": {}},
	}
	old, sent := new(rendered), []*rendered(nil)
	if sent, _ = s.rendered.Get(sh.kept()); len(sent) > 0 {
		old = sent[0]
	}
	all := sh.parts()
	drawn, err := s.draw(all, old)
	if err != nil {
		return nil, err
	}
	for i, p := range all {
		r.made[p.ID], r.parts[p.ID] = p.data, drawn[i]
		for prefix, list := range map[string]string{"part-q-": "questions", "part-sec-": "questions", "part-o-": "outcomes", "part-s-": "steps"} {
			if strings.HasPrefix(p.ID, prefix) {
				r.orders[list] = append(r.orders[list], p.ID)
			}
		}
	}
	list := []*rendered{r}
	for _, before := range sent[:min(len(sent), farBehind-1)] { // what they were made of is not asked for any more
		list = append(list, &rendered{mark: before.mark, parts: before.parts, orders: before.orders})
	}
	s.rendered.Add(sh.kept(), list)
	return r, nil
}

// draw returns the HTML of parts: those that are made of the same as before are as they
// were, the others are drawn side by side.
func (s *Room) draw(all []part, old *rendered) ([]string, error) {
	drawn := make([]string, len(all))
	var work errgroup.Group
	work.SetLimit(runtime.GOMAXPROCS(0))
	for i, p := range all {
		if _, whole := p.data.(*Sheet); !whole && reflect.DeepEqual(old.made[p.ID], p.data) {
			drawn[i] = old.parts[p.ID]
			continue
		}
		work.Go(func() error {
			html, err := s.Views.Part("sheet", p.template, p.data)
			drawn[i] = string(bytes.TrimSpace(html))
			return err
		})
	}
	return drawn, work.Wait()
}
