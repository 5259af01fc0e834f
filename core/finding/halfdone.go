package finding

import (
	"net/url"
	"slices"
	"strings"

	"omphalos/core/quiz"
)

// halfDone notes what can be released and is not what anybody means: a score that decides
// and that nothing feeds, an outcome of which respondents read nothing, an address that is
// still the sample's.
func (f *finder) halfDone() {
	for _, key := range quiz.InOrder(f.q.Decision.Steps) {
		f.unfed(quiz.At("decision", "steps", key), f.q.Decision.Steps[key])
	}
	for _, key := range quiz.InOrder(f.q.Outcomes) {
		f.wordless(quiz.At("outcomes", key), key, f.q.Outcomes[key])
		for _, t := range outcomeTexts(quiz.At("outcomes", key), f.q.Outcomes[key]) {
			f.sample(t)
		}
	}
}

// unfed notes a step that goes by a score to which nothing adds.
func (f *finder) unfed(pointer quiz.Pointer, s *quiz.Step) {
	if s.Off {
		return
	}
	switch s.Kind {
	case quiz.BandsStep:
		if scale := f.q.Scales[s.Scale]; scale != nil && !f.feeds(s.Scale, scale) {
			f.note("score-unfed", pointer+"/scale", nil, "nothing-adds-to", f.scale(s.Scale))
		}
	case quiz.LeaderStep:
		for key := range s.Contenders {
			if scale := f.q.Scales[key]; scale != nil && f.feeds(key, scale) {
				return
			}
		}
		if len(s.Contenders) > 0 {
			f.note("score-unfed", pointer+"/contenders", nil, "nothing-adds-to-any")
		}
	}
}

// feeds tells whether anything adds to a scale.
func (f *finder) feeds(key string, s *quiz.Scale) bool {
	if s.Method == quiz.Formula {
		return true
	}
	for _, q := range f.q.Questions {
		if q.Weigh[key] != nil {
			return true
		}
		for _, a := range q.Answers {
			if _, adds := a.Adds[key]; adds {
				return true
			}
		}
		for _, r := range q.Rows {
			for _, adds := range r.Adds {
				if _, there := adds[key]; there {
					return true
				}
			}
		}
	}
	return false
}

// wordless notes an outcome of which respondents see a page without any words.
func (f *finder) wordless(pointer quiz.Pointer, key string, o *quiz.Outcome) {
	if strings.TrimSpace(o.Headline+o.Text) != "" {
		return
	}
	for _, l := range o.Landings {
		if l != nil && l.Kind == quiz.PageLanding && len(l.Blocks) == 0 {
			f.note("outcome-wordless", pointer+"/headline", nil, "reads-nothing", f.outcome(key))
			return
		}
	}
}

// samples are the sites that are set aside for examples (RFC 2606, section 3).
var samples = []string{"example.com", "example.net", "example.org"}

// sample notes an address of a site that is nobody's.
func (f *finder) sample(t text) {
	if t.pointer.Key() != "address" || t.text == "" {
		return
	}
	at, err := url.Parse(strings.SplitN(t.text, "{", 2)[0])
	if err != nil {
		return
	}
	host := strings.TrimPrefix(strings.ToLower(at.Hostname()), "www.")
	if slices.Contains(samples, host) {
		f.note("sample-address", t.pointer, nil, "is-a-sample", host)
	}
}
