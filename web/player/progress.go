package player

import (
	"math"

	"omphalos/core/quiz"
)

// A progress says how far a passage is: after Done questions, with More expected.
type progress struct {
	Done, More int
	About      bool    // the way depends on what is answered
	Share      float64 // of the way, 0 to 1
	Knots      []knot
	Line       float64 // length of what is done
	Tongue     tongue
	Form       quiz.Progress // "" for none
}

// Words say it to those who don't see the line.
func (p progress) Words() string {
	switch {
	case p.More == 0:
		return p.Tongue.say("Question %d, the last one", p.Done)
	case p.About:
		return p.Tongue.say("Question %d, about %d more to come", p.Done, p.More)
	}
	return p.Tongue.say("Question %d, %d more to come", p.Done, p.More)
}

type knot struct {
	X    float64
	Full bool
}

// The progress line is drawn so long, with so many knots at most.
const (
	width     = 326
	mostKnots = 15
)

// newProgress draws the progress of somebody who has come past done questions to the next,
// which remaining others are expected to follow.
func newProgress(in tongue, done int, remaining, share float64) progress {
	p := progress{
		Tongue: in,
		Done:   done + 1,
		More:   int(math.Round(remaining)),
		About:  remaining != math.Trunc(remaining),
		Share:  share,
	}
	p.Line = 6 + share*(width-12)
	if all := p.Done + p.More; all > 1 && all <= mostKnots {
		step := float64(width-12) / float64(all-1)
		for i := range all {
			p.Knots = append(p.Knots, knot{6 + step*float64(i), i < done})
		}
		p.Line = 6 + step*float64(done)
	}
	return p
}

// progress tells how far along somebody is who is asked a question: by the length that is
// to be expected from there. It never tells less than at a question before.
func (j *journey) progress(at int) progress {
	if j.program.Quiz.Pace == quiz.OnePage {
		return progress{}
	}
	remaining := j.remaining()
	done, share := 0, 0.0
	for i, q := range j.path() {
		share = max(share, float64(i)/(float64(i)+1+remaining[j.program.Key(q)]))
		if done = i; q == at {
			break
		}
	}
	more := remaining[j.program.Key(at)]
	if j.asksContact() {
		share *= (float64(done) + 1 + more) / (float64(done) + 2 + more)
		more++
	}
	return j.shaped(newProgress(j.tongue(), done, more, share))
}

// asksContact tells whether contact is a step on the way to the result.
func (j *journey) asksContact() bool {
	c := j.program.Quiz.Contact
	return c != nil && c.Place == quiz.BeforeResult && len(c.Fields) > 0 && !j.anonymous()
}

// atContact tells how far along somebody is who is asked who they are: at the last step.
func (j *journey) atContact() progress {
	if j.program.Quiz.Pace == quiz.OnePage {
		return progress{}
	}
	done := len(j.path())
	return j.shaped(newProgress(j.tongue(), done, 0, float64(done)/float64(done+1)))
}

// shaped is a progress as the look shows it.
func (j *journey) shaped(p progress) progress {
	p.Form = j.dress.Progress
	return p
}
