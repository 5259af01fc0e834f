package finding

import (
	"slices"
	"strconv"
	"strings"

	"omphalos/core/program"
	"omphalos/core/quiz"
)

// Outcomes that take more, or less, than these shares sort respondents hardly at all.
const (
	nearlyEverybody = 0.95
	nearlyNobody    = 0.01
)

func (f *finder) outcomes() {
	keys := quiz.InOrder(f.q.Outcomes)
	for _, key := range keys {
		o := f.q.Outcomes[key]
		pointer := quiz.At("outcomes", key)
		share, reached := f.o.Outcomes[key]
		switch {
		case !reached && !f.o.Possible[key] && f.weighing():
			f.note("unreachable-outcome", pointer, nil, "nobody-can-get", f.outcome(key), f.whyNot(key))
		case len(keys) > 1 && share >= nearlyEverybody && f.weighing():
			f.note(
				"nearly-everybody",
				pointer,
				nil,
				"takes-of-respondents-the",
				f.outcome(key),
				percent(share),
			)
		case share > 0 && share < nearlyNobody:
			f.note(
				"nearly-nobody",
				pointer,
				nil,
				"takes-of-respondents-if",
				f.outcome(key),
				percent(share),
			)
		}
		if reached {
			f.landings(pointer, key, o)
		}
		f.missing(pointer, f.outcome(key), outcomeTexts(pointer, o))
		f.outsideOf(pointer, o)
	}
}

// whyNot gives the reason why an outcome is out of reach.
func (f *finder) whyNot(key string) string {
	var named []string
	for _, k := range quiz.InOrder(f.q.Decision.Steps) {
		s := f.q.Decision.Steps[k]
		if s.Off {
			continue
		}
		pointer := quiz.At("decision", "steps", k)
		switch {
		case s.Kind == quiz.RuleStep && s.Outcome == key:
			named = append(named, say("its-rule-never-decides"))
		case s.Kind == quiz.TableStep && slices.ContainsFunc(quiz.InOrder(s.Rules), func(r string) bool {
			return s.Rules[r].Outcome == key
		}):
			named = append(named, say("its-rows-never-decide"))
		case s.Kind == quiz.BandsStep:
			bands := 0
			if s.Lowest == key {
				bands++
			}
			for _, c := range s.Cuts {
				if c.Outcome == key {
					bands++
				}
			}
			if bands > 0 && f.noted("band-out-of-reach", pointer) {
				named = append(named, say("its-band-is-out", f.ends(s.Scale, deciding)))
			} else if bands > 0 {
				named = append(named, say("nobody-gets-to-its-band"))
			}
		case s.Kind == quiz.LeaderStep:
			for scale, c := range s.Contenders {
				if c.Outcome == key || c.Outcome == "" && f.q.Scales[scale] != nil && f.q.Scales[scale].Outcome == key {
					named = append(named, say("never-leads", f.scale(scale)))
				}
			}
			if s.Ties != nil && s.Ties.By == quiz.TieOutcome && s.Ties.Outcome == key {
				named = append(named, say("never-a-tie"))
			}
		}
	}
	for _, k := range f.q.QuestionKeys() {
		q := f.q.Questions[k]
		leads := slices.ContainsFunc(
			quiz.InOrder(q.Answers),
			func(a string) bool { t := q.Answers[a].Then; return t != nil && t.To == key && ends(t.Go) },
		) ||
			slices.ContainsFunc(
				quiz.InOrder(q.Then),
				func(r string) bool { return q.Then[r].To == key && ends(q.Then[r].Go) },
			)
		if leads {
			named = append(named, say("nobody-is-led-to", f.label(k)))
		}
	}
	if f.q.Decision.Otherwise == key {
		named = append(named, say("otherwise-never-applies"))
	}
	if len(named) == 0 {
		return say("nothing-leads-to-it")
	}
	return strings.Join(named, "; ")
}

func ends(w quiz.Way) bool { return w == quiz.ToOutcome || w == quiz.PartWays }

func (f *finder) landings(pointer quiz.Pointer, key string, o *quiz.Outcome) {
	if !f.exactEnds() {
		return
	}
	landings := quiz.InOrder(o.Landings)
	for i, l := range landings {
		when := o.Landings[l].When
		verdict, asked := f.o.Held[when]
		place := pointer.Join("landings", l)
		if when != nil && asked && verdict.Held && !verdict.Failed && i+1 < len(landings) &&
			!f.noted("always-holds", place) {
			f.note(
				"always-holds",
				place+"/when",
				nil,
				"always-lands-here-no",
				f.outcome(key),
				f.q.Sentence(when),
			)
		}
		if _, reached := f.o.Landings[key][l]; reached {
			continue
		}
		reason := say("landings-before-take-all")
		if when != nil && asked && !verdict.Held {
			reason = say("and-that-never-happens", f.q.Sentence(when), f.why(when, landed))
		}
		f.note(
			"unreachable-landing",
			place,
			mend("remove-the-landing", remove(place)),
			"nobody-with-lands-here",
			f.outcome(key),
			strings.TrimSuffix(reason, ".")+".",
		)
	}
}

// outsideOf notes signposts and products that are not there.
func (f *finder) outsideOf(pointer quiz.Pointer, o *quiz.Outcome) {
	signpost := func(pointer quiz.Pointer, s *quiz.Signpost) {
		if s != nil && f.outside.Signpost != nil && !strings.Contains(s.Row, "{") &&
			!f.outside.Signpost(s.Table, s.Row) {
			f.note(
				"signpost-missing",
				pointer+"/signpost",
				nil,
				"there-is-no-signpost",
				s.Row,
				s.Table,
			)
		}
	}
	for _, l := range quiz.InOrder(o.Landings) {
		landing := o.Landings[l]
		place := pointer.Join("landings", l)
		signpost(place, landing.Signpost)
		for _, b := range quiz.InOrder(landing.Blocks) {
			signpost(place.Join("blocks", b), landing.Blocks[b].Signpost)
		}
		if landing.Products == nil || f.outside.Product == nil {
			continue
		}
		for i, p := range landing.Products.Named {
			if !f.outside.Product(p.Key) {
				where := place.Join("products", "named", strconv.Itoa(i))
				f.note(
					"product-missing",
					where,
					mend("take-it-off-the", remove(where)),
					"the-catalogue-has-no",
					p.Key,
				)
			}
		}
	}
}

// contact notes contact that is asked for where nothing is kept.
func (f *finder) contact() {
	c := f.q.Contact
	if c == nil || !f.exactPath() || !f.exactEnds() {
		return
	}
	parted := map[string]float64{}
	for _, flow := range f.o.Flows {
		if flow.End == program.Parted {
			parted[flow.Outcome] += flow.Share
		}
	}
	if c.When == nil {
		return
	}
	each("/contact/when", c.When, func(pointer quiz.Pointer, c *quiz.Condition) {
		if !c.Outcome || c.Value == nil || c.Op != quiz.Is && c.Op != quiz.IsOneOf {
			return
		}
		for _, item := range c.Value.Items {
			key := item.String()
			if share, ends := parted[key]; ends && share > 0 && f.o.Outcomes[key]-share < 1e-12 {
				f.note(
					"contact-unasked",
					pointer,
					nil,
					"contact-is-asked-for",
					f.outcome(key),
				)
			}
		}
	})
}
