package explore

import (
	"slices"
	"strings"

	"omphalos/core/fillin"
	"omphalos/core/quiz"
)

// fills finds, for each question and each outcome, the questions whose answers its
// texts fill in.
func (e *Explorer) fills() {
	q := e.p.Quiz
	e.filled = make([][]int, len(e.p.Questions))
	e.filledAt = make([][]int, len(e.p.Outcomes))
	e.missing = map[[2]int]bool{}
	if e.purpose == forPath {
		for i := range e.p.Questions {
			asked := e.p.Question(i)
			texts := []string{asked.Label, asked.Help}
			for _, a := range asked.Answers {
				texts = append(texts, a.Label, a.Note)
			}
			e.filled[i] = e.answersIn(texts)
			for _, k := range e.filled[i] {
				e.asked[k] = max(e.asked[k], showing(i))
			}
		}
	}
	if e.purpose != forEnds {
		return
	}
	for i, key := range quiz.InOrder(q.Outcomes) {
		o := q.Outcomes[key]
		texts := []string{o.Headline, o.Text}
		for _, l := range o.Landings {
			for _, b := range l.Blocks {
				texts = append(texts, b.Text, b.Label)
			}
		}
		e.filledAt[i] = e.answersIn(texts)
		for _, k := range e.filledAt[i] {
			e.asked[k] = max(e.asked[k], before(len(e.p.Questions)))
		}
	}
}

// answersIn returns the questions whose answers are filled into texts.
func (e *Explorer) answersIn(texts []string) []int {
	var list []int
	for _, text := range texts {
		for _, name := range fillin.Names(text) {
			key, part, _ := strings.Cut(name, ".")
			if i, known := e.p.QuestionIndex[key]; known && part != "label" && !slices.Contains(list, i) {
				list = append(list, i)
			}
		}
	}
	return list
}

// miss takes down which answers are missing where passages come to question i.
func (e *Explorer) miss(filled []int, place int) {
	for _, k := range filled {
		if e.w.Given(k) == nil {
			e.missed = append(e.missed, [2]int{place, k})
		}
	}
}

// Missing calls f with the questions whose answers are filled in and can be missing:
// where passages come to a question, or, from an Explorer of ends, to an outcome.
func (e *Explorer) Missing(f func(place, asked int)) {
	for at := range e.missing {
		f(at[0], at[1])
	}
}
