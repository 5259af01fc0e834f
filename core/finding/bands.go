package finding

import (
	"omphalos/core/quiz"
)

// bands that no score lies in, or that nobody gets to.
func (f *finder) bands(pointer quiz.Pointer, key string, s *quiz.Step) {
	if !f.weighing() {
		return
	}
	cuts := s.CutKeys()
	for i := range len(cuts) + 1 {
		in, _ := f.meets(s.Scale, bandTest(s, cuts, i), deciding)
		part, outcome, where := "", s.Lowest, pointer+"/lowest"
		if i > 0 {
			part, outcome, where = cuts[i-1], s.Cuts[cuts[i-1]].Outcome, pointer.Join("cuts", cuts[i-1])
		}
		_, decides := f.o.Steps[key][part]
		switch {
		case !in && len(cuts) > 0:
			f.note(
				"band-out-of-reach",
				where,
				f.withoutBand(pointer, s, cuts, i),
				"band-out-of-reach",
				f.band(s, cuts, i),
				f.bandOutcome(outcome),
				f.ends(s.Scale, deciding),
			)
		case in && outcome != "" && !decides && f.exactEnds() && len(f.o.Steps[key]) > 0:
			f.note(
				"shadowed",
				where,
				nil,
				"for-never-decides-the",
				f.band(s, cuts, i),
				f.bandOutcome(outcome),
			)
		}
	}
}

// bandTest is what scores of a band meet.
func bandTest(s *quiz.Step, cuts []string, i int) quiz.Test {
	switch {
	case len(cuts) == 0:
		return quiz.Test{Op: quiz.IsAnswered}
	case i == 0:
		return quiz.Test{Op: quiz.LessThan, Value: quiz.Amount(s.Cuts[cuts[0]].At)}
	case i == len(cuts):
		return quiz.Test{Op: quiz.AtLeast, Value: quiz.Amount(s.Cuts[cuts[i-1]].At)}
	}
	return quiz.Test{
		Op:    quiz.Between,
		Value: quiz.ListOf(quiz.Amount(s.Cuts[cuts[i-1]].At), quiz.Amount(s.Cuts[cuts[i]].At-1)),
	}
}

func (f *finder) bandOutcome(key string) string {
	if key == "" {
		return say("the-next-step")
	}
	return f.outcome(key)
}

// band says which band it is.
func (f *finder) band(s *quiz.Step, cuts []string, i int) string {
	switch {
	case i == 0:
		return say("the-band-below", s.Cuts[cuts[0]].At.Words())
	case i == len(cuts):
		return say("the-band-from", s.Cuts[cuts[i-1]].At.Words())
	}
	return say("the-band-from-to", s.Cuts[cuts[i-1]].At.Words(), s.Cuts[cuts[i]].At.Words())
}

// withoutBand removes a band: the lowest gives its place to the next.
func (f *finder) withoutBand(pointer quiz.Pointer, s *quiz.Step, cuts []string, i int) *Mend {
	if i > 0 {
		return mend("remove-the-band", remove(pointer.Join("cuts", cuts[i-1])))
	}
	next := s.Cuts[cuts[0]].Outcome
	first := remove(pointer + "/lowest")
	switch {
	case next != "":
		first = put(pointer+"/lowest", next)
	case s.Lowest == "":
		return mend("remove-the-band", remove(pointer.Join("cuts", cuts[0])))
	}
	return mend("remove-the-band", first, remove(pointer.Join("cuts", cuts[0])))
}
