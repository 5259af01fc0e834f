package qti

import (
	"slices"
	"strconv"
	"strings"

	"github.com/beevik/etree"

	"omphalos/core/quiz"
)

// item writes a question: what is answered, what is shown, and what the answer adds.
func (w *writer) item(key string, q *quiz.Question) *etree.Document {
	title := q.Label
	if title == "" {
		title = key
	}
	doc, root := newDocument("qti-assessment-item", spaceItem,
		"identifier", key, "title", title, "adaptive", "false", "time-dependent", "false", "xml:lang", w.language())
	w.declare(root, q)
	w.declareScales(root, w.feeds(q))
	body := add(root, "qti-item-body")
	if q.Kind == quiz.Interlude {
		words(body, "h2", q.Label)
		paragraphs(body, q.Help)
		w.picture(body, q.Picture)
	} else {
		w.picture(body, q.Picture)
		w.interaction(body, key, q)
	}
	w.weigh(root, key, q)
	w.tellOf(key, q)
	doc.Indent(2)
	return doc
}

func (w *writer) language() string {
	if w.q.Settings != nil && w.q.Settings.Language != "" {
		return w.q.Settings.Language
	}
	return "en"
}

// feeds returns the scales to which a question can add, in their order.
func (w *writer) feeds(q *quiz.Question) []string {
	feeds := map[string]bool{}
	for _, a := range q.Answers {
		for scale := range a.Adds {
			feeds[scale] = true
		}
	}
	for scale := range q.Weigh {
		feeds[scale] = true
	}
	return slices.DeleteFunc(quiz.InOrder(w.q.Scales), func(key string) bool { return !feeds[key] })
}

// declare declares the response, and which answers are right.
func (w *writer) declare(root *etree.Element, q *quiz.Question) {
	cardinality, base := "single", "string"
	switch {
	case q.Kind == quiz.Interlude:
		return
	case q.Kind == quiz.Grid:
		cardinality, base = "multiple", "directedPair"
	case q.Kind == quiz.Several:
		cardinality, base = "multiple", "identifier"
	case q.Kind.HasAnswers():
		base = "identifier"
	case q.Kind == quiz.Rating || q.Kind == quiz.Stars:
		base = "integer"
	case q.Kind.Numeric():
		base = "float"
	}
	d := add(root, "qti-response-declaration", "identifier", response, "cardinality", cardinality, "base-type", base)
	var right []string
	for _, key := range quiz.InOrder(q.Answers) {
		if q.Answers[key].Right {
			right = append(right, key)
		}
	}
	if len(right) > 0 && q.Kind != quiz.Grid {
		c := add(d, "qti-correct-response")
		for _, key := range right {
			words(c, "qti-value", key)
		}
		if len(right) > 1 && cardinality == "single" {
			d.CreateAttr("cardinality", "multiple")
		}
	}
}

// interaction writes how a question asks.
func (w *writer) interaction(body *etree.Element, key string, q *quiz.Question) {
	least := "0"
	if q.Required {
		least = "1"
	}
	begin := func(name string, pairs ...string) *etree.Element {
		e := add(body, name, append([]string{"response-identifier", response, kindOf, string(q.Kind)}, pairs...)...)
		prompt := add(e, "qti-prompt")
		words(prompt, "p", q.Label)
		for _, p := range strings.Split(q.Help, "\n\n") {
			if p = strings.TrimSpace(p); p != "" {
				words(prompt, "p", p, "class", "help")
			}
		}
		return e
	}
	switch {
	case q.Kind == quiz.Grid:
		e := begin("qti-match-interaction", "max-associations", strconv.Itoa(max(len(q.Rows), 1)))
		rows, columns := add(e, "qti-simple-match-set"), add(e, "qti-simple-match-set")
		for _, k := range quiz.InOrder(q.Rows) {
			words(rows, "qti-simple-associable-choice", q.Rows[k].Label, "identifier", k, "match-max", "1", "match-min", least)
		}
		for _, k := range quiz.InOrder(q.Answers) {
			words(columns, "qti-simple-associable-choice", q.Answers[k].Label, "identifier", k, "match-max",
				strconv.Itoa(max(len(q.Rows), 1)))
		}
	case q.Kind.HasAnswers():
		most := "1"
		if q.Kind == quiz.Several {
			most = "0"
			if q.Picks != nil {
				most = strconv.Itoa(q.Picks.Max)
				least = strconv.Itoa(max(q.Picks.Min, len(least)-1))
			}
		}
		e := begin("qti-choice-interaction", "max-choices", most, "min-choices", least)
		for _, k := range quiz.InOrder(q.Answers) {
			a := q.Answers[k]
			choice := words(e, "qti-simple-choice", a.Label, "identifier", k)
			w.picture(choice, a.Picture)
			if a.WriteIn {
				w.lost.tell("Answers that take own words take none there.")
			}
		}
	case q.Kind == quiz.Rating || q.Kind == quiz.Stars:
		low, high := q.Range()
		begin("qti-slider-interaction", "lower-bound", low.String(), "upper-bound", high.String(), "step", "1")
		if l := q.Limits; l != nil && l.LowWords+l.HighWords != "" {
			w.lost.tell("The words at the ends of %s are not there.", nameOf(key, q))
		}
	case q.Kind.Numeric() || q.Kind == quiz.Date || q.Kind.Contact() || q.Kind == quiz.ShortText:
		p := add(body, "p")
		p.SetText(q.Label + " ")
		add(p, "qti-text-entry-interaction", "response-identifier", response, kindOf, string(q.Kind))
		for _, h := range strings.Split(q.Help, "\n\n") {
			if h = strings.TrimSpace(h); h != "" {
				words(body, "p", h, "class", "help")
			}
		}
		if q.Limits != nil && (q.Limits.Low != nil || q.Limits.High != nil) {
			w.lost.tell("The bounds of %s are not there.", nameOf(key, q))
		}
	default:
		begin("qti-extended-text-interaction")
		if q.Kind != quiz.LongText {
			w.lost.tell("%s offers a list that comes from elsewhere: there it asks for text.", nameOf(key, q))
		}
	}
}

func (w *writer) picture(to *etree.Element, p *quiz.Picture) {
	if p == nil {
		return
	}
	at := p.Source
	if name, own := strings.CutPrefix(p.Source, "/pictures/"); own {
		w.pictures[name] = true
		at = "../pictures/" + name
	}
	add(to, "img", "src", at, "alt", p.Description)
}

// tellOf tells what of a question the standard has no words for.
func (w *writer) tellOf(key string, q *quiz.Question) {
	if q.ShowWhen != nil {
		w.lost.tell("%s is asked of some only: there it is asked of all.", nameOf(key, q))
	}
	leads := len(q.Then) > 0
	for _, a := range q.Answers {
		leads = leads || a.Then != nil
	}
	if leads {
		w.lost.tell("%s leads elsewhere than to the next question: there it does not.", nameOf(key, q))
	}
	if len(q.Cap) > 0 {
		w.lost.tell("What several picks of %s add together is bounded: there it is not.", nameOf(key, q))
	}
	if len(q.Expect) > 0 {
		w.lost.tell("Expected shares are not there.")
	}
	if q.Reason != "" {
		w.lost.tell("Why an answer is right is not said there.")
	}
}
