package learn

import (
	"fmt"
	"math"
	"runtime"
	"slices"
	"strings"

	"golang.org/x/sync/errgroup"

	"omphalos/core/inference"
	"omphalos/core/quiz"
	"omphalos/store/tally"
	"omphalos/web/ui"
)

// A reach is how many there still are at a question, drawn from its top to its bottom.
type reach struct {
	All, Asked string // paths: who are still there, and who were asked this
	Leave      string // path of those who left, "" for none
	Broad      float64
	People     int // who were asked
	Left       int
	Part       string // who left, of those who were asked
	Out        int    // who were screened out here
	OutPart    string
	Later      int    // who left, or were screened out, further on
	After      string // half of them after so long
	Strong     bool   // more leave than anywhere else
}

const (
	streamMiddle = 46.0
	streamMost   = 76.0
)

// leftAlong says of each question who left there, by after how many seconds; who left at a page
// that asks nothing left at the question behind it. Those who left elsewhere are counted.
func (r *reading) leftAlong(list []questionFigure) [][]tally.Bin {
	f := &r.flow
	along, at := make([][]tally.Bin, len(list)), map[string]int{}
	behind := len(list)
	for i := len(r.keys) - 1; i >= 0; i-- {
		if k := slices.IndexFunc(list, func(q questionFigure) bool { return q.Key == r.keys[i] }); k >= 0 {
			behind = k
		}
		if !slices.Contains(r.before, r.keys[i]) {
			at[r.keys[i]] = behind
		}
	}
	for place, bins := range f.left {
		i, known := at[place]
		switch {
		case known && i < len(list):
			along[i] = together(along[i], bins)
		case place == contactPlace || known: // it is behind all questions
			f.AtContact += countOf(bins)
		default:
			f.Elsewhere += countOf(bins)
		}
	}
	return along
}

// outAlong says of each question how many were screened out there.
func (r *reading) outAlong(list []questionFigure) []int {
	along := make([]int, len(list))
	for _, s := range r.flow.out {
		if i := slices.IndexFunc(list, func(q questionFigure) bool { return q.Key == s.Place }); i >= 0 {
			along[i] += s.Count
		}
	}
	return along
}

// reaches draws the stream along the questions.
func (r *reading) reaches(list []questionFigure) {
	if past := slices.IndexFunc(list, func(q questionFigure) bool { return q.Past }); past >= 0 {
		list = list[:past]
	}
	f := &r.flow
	left, out := r.leftAlong(list), make([]int, len(list))
	if f.Told {
		out = r.outAlong(list)
	}
	here, most := f.Finished+f.AtContact, 0.0
	from := make([]int, len(list)+1) // how many are still there before each question
	for i := range list {
		here += countOf(left[i]) + out[i]
	}
	worst := -1
	asked := make([]int, len(list))
	for i, q := range list {
		left := countOf(left[i])
		from[i] = here
		here -= left + out[i]
		// Whoever left further on was asked this as often as those who finished were.
		asked[i] = left + out[i] + q.Asked + int(math.Round(float64(q.Asked)*part(here-f.Finished, f.Finished)))
		if share := part(left, asked[i]); share > most && left > 4 {
			worst, most = i, share
		}
	}
	from[len(list)] = here
	if from[0] == 0 {
		return
	}
	scale := streamMost / float64(from[0])
	for i := range list {
		q, bins := &list[i], left[i]
		left := countOf(bins)
		s := &reach{
			All:    band(float64(from[i])*scale, float64(from[i+1])*scale),
			Asked:  band(float64(asked[i])*scale, float64(asked[i]-left-out[i])*scale),
			People: asked[i], Left: left, Part: ui.Percent(part(left, asked[i])), Strong: i == worst && most > 0.03,
			Out: out[i], OutPart: ui.Percent(part(out[i], asked[i])), Later: asked[i] - left - out[i] - q.Asked,
		}
		if left > 0 {
			edge := streamMiddle - float64(from[i])*scale/2
			s.Leave = fmt.Sprintf("M%.1f 34C%.1f 40 %.1f 52 %.1f 74", edge+2, edge-8, max(edge-12, 2), max(edge-14, 1))
			s.Broad = max(1.5, min(float64(left)*scale, 12))
			if after, known := inference.Median(bins); known {
				s.After = duration(after)
			}
		}
		q.Reach = s
	}
}

// band is a band from one width at the top to another at the bottom.
func band(top, bottom float64) string {
	l1, r1, l2, r2 := streamMiddle-top/2, streamMiddle+top/2, streamMiddle-bottom/2, streamMiddle+bottom/2
	return fmt.Sprintf("M%.2f 0H%.2fC%.2f 60 %.2f 40 %.2f 100H%.2fC%.2f 40 %.2f 60 %.2f 0Z", l1, r1, r1, r2, r2,
		l2, l2, l1, l1)
}

// times are how long half of the slice stayed at each question at most, by its key.
func (r *reading) times() map[string]string {
	keys := r.keys
	texts := make([]string, len(keys))
	var work errgroup.Group // each reads a number of everybody
	work.SetLimit(runtime.GOMAXPROCS(0))
	for i, key := range keys {
		work.Go(func() error {
			if at, known := inference.Median(r.in.Values(tally.Property{Kind: tally.Spent, Key: key}, 1)); known {
				texts[i] = duration(at)
			}
			return nil
		})
	}
	_ = work.Wait() // none fails
	times := map[string]string{}
	for i, key := range keys {
		times[key] = texts[i]
	}
	return times
}

// asked counts who were asked a question, and tells of it in words.
func (r *reading) asked(f *questionFigure, asked *quiz.Question) {
	f.Asked = r.in.And(tally.Part{Of: tally.Property{Kind: tally.Asked, Key: f.Key}, Values: []string{""}}).Count()
	f.Asked = max(f.Asked, f.Answered)
	f.Stay = r.stays[f.Key]
	f.Skipped = f.Asked - f.Answered
	if asked.Kind.Personal() && r.quiz.IsAnonymous() { // what they said is not kept
		f.Skipped = 0
	}
}

// Told says what came of those who were asked and did not answer, and how long they stayed:
// with those who answered they are all who were asked.
func (f questionFigure) Told() string {
	var words []string
	say := func(n int, what string) {
		if n > 0 {
			words = append(words, ui.Count(n)+" "+what)
		}
	}
	say(f.Skipped, "skipped")
	if r := f.Reach; r != nil {
		say(r.Left, "left here ("+r.Part+"), half of them after "+r.After)
		say(r.Out, "screened out here ("+r.OutPart+")")
		say(r.Later, "left later")
		if r.People > f.Answered {
			words = append([]string{"of " + ui.Count(r.People) + " asked"}, words...)
		}
	}
	if f.Stay != "" {
		words = append(words, "half stay at most "+f.Stay)
	}
	return strings.Join(words, " · ")
}
