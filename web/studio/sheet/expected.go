package sheet

import (
	"fmt"
	"maps"
	"strings"

	"omphalos/core/inference"
	"omphalos/core/program"
	"omphalos/core/quiz"
)

// A slide is an expected share that can be dragged.
type slide struct {
	Path    quiz.Pointer
	Name    string
	Words   string // for what is read out
	Share   float64
	Percent string
	Set     bool
}

func (sh *Sheet) slide(question, name string, path quiz.Pointer, label string) slide {
	s := slide{Path: path.Join("expect", name), Name: label, Words: fmt.Sprintf("Expected share of %s", label)}
	s.Percent = inference.Percent(0)
	if sh.odds != nil && sh.odds.Seen[question] > 0 {
		shares := maps.Clone(sh.odds.Answers[question])
		for of := range shares {
			shares[of] /= sh.odds.Seen[question]
		}
		s.Share, s.Percent = shares[name], inference.NamedPercents(shares)(name)
	}
	_, s.Set = sh.Doc.Questions[question].Expect[name]
	return s
}

// spread lists the points of a rating with their shares.
func (sh *Sheet) spread(q *quiz.Question, key string, path quiz.Pointer) []slide {
	if sh.Observed || q.Kind != quiz.Rating && q.Kind != quiz.Stars {
		return nil
	}
	values := q.Lattice()
	if values.Count() > mostSlides {
		return nil
	}
	var list []slide
	for i := range values.Count() {
		n := values.At(i)
		list = append(list, sh.slide(key, n.String(), path, n.Words()))
	}
	return list
}

// heard lists the ways in which conditions tell the answers to a question in words
// apart, with their shares: nobody can count those, so the marketer says what to expect.
func (sh *Sheet) heard(q *quiz.Question, key string, path quiz.Pointer) []slide {
	if sh.program == nil || q.Kind.HasAnswers() || q.Kind.Numeric() || q.Kind == quiz.Date {
		return nil
	}
	var list []slide
	for _, name := range sh.program.Names(sh.program.Position(key)) {
		if name == program.SkippedName {
			continue
		}
		label := "Whoever writes what " + strings.ReplaceAll(name, " and ", " and what ")
		if name == "else" {
			label = "Whoever writes anything else"
		}
		s := sh.slide(key, name, path, label)
		if sh.Observed {
			s.Path = ""
		}
		list = append(list, s)
	}
	return list
}
