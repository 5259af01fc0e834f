package qti

import (
	"strconv"
	"strings"

	"github.com/beevik/etree"

	"omphalos/core/quiz"
)

// decide takes up the outcomes that the test's feedback tells of, and the bands that decide.
func (r *reader) decide() {
	if r.test == nil {
		return
	}
	for i, f := range r.test.SelectElements("qti-test-feedback") {
		id := f.SelectAttrValue("identifier", "")
		key := freeKey(r.q.Outcomes, id, "outcome")
		o := &quiz.Outcome{Order: float64(i + 1), Name: clip(f.SelectAttrValue("title", id), quiz.MaxTitle),
			Landings: map[string]*quiz.Landing{"page": {Order: 1, Kind: quiz.PageLanding}}}
		if h := f.FindElement(".//h2"); h != nil {
			o.Headline = clip(plain(h), quiz.MaxLabel)
		}
		o.Text = clip(strings.Join(paragraphsOf(f), "\n\n"), quiz.MaxText)
		r.q.Outcomes[key] = o
	}
	process := r.test.SelectElement("qti-outcome-processing")
	if process == nil {
		return
	}
	for _, c := range process.SelectElements("qti-outcome-condition") {
		if !r.bands(c) {
			r.lost.tell("A condition of the outcome processing can't be said here: say on the sheet how it is decided.")
		}
	}
	for _, set := range process.SelectElements("qti-set-outcome-value") {
		if key := r.sets(set); key != "" {
			r.q.Decision.Otherwise = key
		}
	}
}

// sets returns the outcome that is set, "" for none.
func (r *reader) sets(set *etree.Element) string {
	value := set.SelectElement("qti-base-value")
	if set.SelectAttrValue("identifier", "") != outcome || value == nil {
		return ""
	}
	if key := strings.TrimSpace(value.Text()); r.q.Outcomes[key] != nil {
		return key
	}
	return ""
}

// bands reads a condition that asks whether a scale is at least this or that, from above, and
// tells whether it was one.
func (r *reader) bands(c *etree.Element) bool {
	step := &quiz.Step{Order: float64(len(r.q.Decision.Steps) + 1), Kind: quiz.BandsStep, Cuts: map[string]*quiz.Cut{}}
	for i, b := range c.ChildElements() {
		set := b.SelectElement("qti-set-outcome-value")
		if set == nil {
			return false
		}
		key := r.sets(set)
		if b.Tag == "qti-outcome-else" {
			step.Lowest = key
			r.q.Decision.Otherwise = key
			continue
		}
		at := b.SelectElement("qti-gte")
		if at == nil || at.SelectElement("qti-variable") == nil {
			return false
		}
		from, ok := numberOf(at.SelectElement("qti-base-value"))
		scale := r.scaleOf(at.SelectElement("qti-variable").SelectAttrValue("identifier", ""))
		if !ok || scale == "" || step.Scale != "" && step.Scale != scale {
			return false
		}
		step.Scale = scale
		step.Cuts["cut_"+strconv.Itoa(i+1)] = &quiz.Cut{At: from, Outcome: key}
	}
	if len(step.Cuts) == 0 {
		return false
	}
	if r.q.Decision.Steps == nil {
		r.q.Decision.Steps = map[string]*quiz.Step{}
	}
	r.q.Decision.Steps["bands_"+strconv.Itoa(len(r.q.Decision.Steps)+1)] = step
	return true
}

// scaleOf returns the scale that is declared under an identifier, "" for none.
func (r *reader) scaleOf(id string) string {
	if key := quiz.KeyOf(id); r.q.Scales[key] != nil {
		return key
	}
	return ""
}
