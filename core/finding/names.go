package finding

import (
	"strings"

	"omphalos/core/excerpt"
	"omphalos/core/inference"
	"omphalos/core/quiz"
)

// said makes a sentence of a problem.
func (f *finder) said(p quiz.Problem) string {
	s := strings.TrimSpace(p.Message)
	if s == "" {
		return s
	}
	return f.subject(p.Pointer) + s + "."
}

// subject names what a pointer leads to where a problem's message does not.
func (f *finder) subject(pointer quiz.Pointer) string {
	keys := pointer.Keys()
	switch {
	case pointer.Fits("/questions/*/answers/*/**"):
		if q := f.q.Questions[keys[1]]; q != nil && q.Answers[keys[3]] != nil {
			return say("subject-answer", f.label(keys[1]), quote(q.Answers[keys[3]].Label, keys[3]))
		}
	case pointer.Fits("/questions/*/**"):
		return say("subject", f.label(keys[1]))
	case pointer.Fits("/outcomes/*/**") && f.q.Outcomes[keys[1]] != nil:
		return say("subject", quote(f.q.Outcomes[keys[1]].Name, keys[1]))
	case pointer.Fits("/scales/*/**") && f.q.Scales[keys[1]] != nil:
		return say("subject", f.scale(keys[1]))
	case pointer.Within("/decision"):
		return say("the-decision")
	case pointer.Within("/contact"):
		return say("contact")
	}
	return ""
}

func (f *finder) label(question string) string {
	q := f.q.Ask(question)
	if q == nil {
		return "“" + question + "”"
	}
	return quote(q.Label, question)
}

func (f *finder) scale(key string) string {
	if s := f.q.Scales[key]; s != nil && s.Name != "" {
		return s.Name
	}
	return key
}

func (f *finder) outcome(key string) string {
	if o := f.q.Outcomes[key]; o != nil {
		return quote(o.Name, key)
	}
	return quote(key, key)
}

// quote puts words in quotation marks, shortened, or the key where there are none.
func quote(words, key string) string {
	words = strings.Join(strings.Fields(words), " ")
	if words == "" {
		words = key
	}
	return "“" + excerpt.Of(words, 60) + "”"
}

func percent(share float64) string {
	switch written := inference.Percent(share); written[0] {
	case '<':
		return say("under-1")
	case '>':
		return say("over-99")
	default:
		return written
	}
}
