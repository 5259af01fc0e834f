package learn

import (
	"context"
	"fmt"
	"math"
	"runtime"
	"slices"
	"strings"

	"golang.org/x/sync/errgroup"

	"omphalos/core/inference"
	"omphalos/core/quiz"
	"omphalos/store"
	"omphalos/store/tally"
	"omphalos/web/ui"
)

// A flow is how far those came whom the sentence names. Of those who have left it is not
// known what they answered or would have got: where the sentence asks that, it tells of those
// who have finished alone.
type flow struct {
	Told                  bool // of those who left, too
	Seen, Began, Finished int
	Under                 int    // who are under way
	AtContact             int    // who left behind the questions, as they were asked who they are
	Elsewhere             int    // who left at what is not asked any more, or before that was kept
	BeganPart             string // of those who saw it, with its interval
	FinishedPart          string // of those who began and are not under way
	FinishedRange         string
	Beside                *beside // of the other slice: how many finish

	left      map[string][]tally.Bin // by question: after how many seconds
	otherOver int                    // who are not under way, of the other slice
}

// contactPlace is where those are who are asked for their contact before the result.
const contactPlace = "your-contact"

// flowOf counts those who have not finished.
func flowOf(ctx context.Context, responses *store.Responses, quiz uint, parts []tally.Part) (flow, error) {
	f := flow{}
	f.Told = !slices.ContainsFunc(parts, func(p tally.Part) bool { return !store.Tells(p.Of) })
	if !f.Told {
		return f, nil
	}
	came, err := responses.Flow(ctx, quiz, parts)
	if err != nil {
		return f, err
	}
	f.left, f.Under, f.Seen = came.Left, came.Under, came.Seen
	return f, nil
}

// with is the flow with those who have finished, and rates.
func (f flow) with(finished int) flow {
	if !f.Told {
		f.Finished = finished
		return f
	}
	f.Finished = finished
	f.Began = f.Finished + f.Under + f.gone()
	f.Seen = max(f.Seen, f.Began) // links lead past the opening, and sights are counted since later
	if f.Seen > 0 {
		f.BeganPart = ui.Percent(part(f.Began, f.Seen))
	}
	if over := f.Began - f.Under; over > 0 {
		low, high := inference.Wilson(f.Finished, over)
		f.FinishedPart, f.FinishedRange = ui.Percent(part(f.Finished, over)), fmt.Sprintf("%.0f–%.0f %%", 100*low, 100*high)
	}
	return f
}

// gone is how many have left.
func (f *flow) gone() (n int) {
	for _, bins := range f.left {
		n += countOf(bins)
	}
	return n
}

func countOf(bins []tally.Bin) (n int) {
	for _, b := range bins {
		n += b.Count
	}
	return n
}

// less is the flow without those of another that are part of it.
func (f flow) less(other flow) flow {
	rest := flow{Told: f.Told && other.Told, Seen: f.Seen - other.Seen, Under: f.Under - other.Under,
		left: map[string][]tally.Bin{}}
	for place, bins := range f.left {
		rest.left[place] = []tally.Bin{{Count: countOf(bins) - countOf(other.left[place])}}
	}
	return rest
}

// against compares how many of those who began have finished.
func (f *flow) against(v *comparing, other flow) {
	if v.named, v.asked = false, false; f.Told && other.Told {
		f.otherOver = other.Began - other.Under
		f.Beside = v.share("Finished", f.Finished, f.Began-f.Under, other.Finished, f.otherOver)
	}
}

// flows counts those who have not finished, of the sentence and of what it is compared with;
// what they return is told how many have.
func (s *Room) flows(ctx context.Context, quiz uint, sl *sentence) (these, those func(finished int) flow, err error) {
	count := func(parts []tally.Part) (flow, error) { return flowOf(ctx, s.Store.Responses, quiz, parts) }
	f, err := count(sl.All())
	if err != nil {
		return nil, nil, err
	}
	other := flow{}
	switch {
	case sl.versus == "":
	case sl.value == "others":
		if other, err = count(nil); err == nil {
			other = other.less(f)
		}
	case sl.value == "before":
		before, _ := sl.before()
		other, err = count(before.All())
	default:
		other, err = count(sl.other(strings.TrimPrefix(sl.versus, "vs."), sl.value).All())
	}
	return f.with, other.with, err
}

// A reach is how many there still are at a question, drawn from its top to its bottom.
type reach struct {
	All, Asked string // paths: who are still there, and who were asked this
	Leave      string // path of those who left, "" for none
	Broad      float64
	People     int // who were asked
	Left       int
	Part       string // who left, of those who were asked
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

// reaches draws the stream along the questions.
func (r *reading) reaches(list []questionFigure) {
	if past := slices.IndexFunc(list, func(q questionFigure) bool { return q.Past }); past >= 0 {
		list = list[:past]
	}
	f := &r.flow
	left := r.leftAlong(list)
	here, most := f.Finished+f.AtContact, 0.0
	from := make([]int, len(list)+1) // how many are still there before each question
	for i := range list {
		here += countOf(left[i])
	}
	worst := -1
	asked := make([]int, len(list))
	for i, q := range list {
		left := countOf(left[i])
		from[i] = here
		here -= left
		// Whoever left further on was asked this as often as those who finished were.
		asked[i] = left + q.Asked + int(math.Round(float64(q.Asked)*part(here-f.Finished, f.Finished)))
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
			Asked:  band(float64(asked[i])*scale, float64(asked[i]-left)*scale),
			People: asked[i], Left: left, Part: ui.Percent(part(left, asked[i])), Strong: i == worst && most > 0.03,
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
func (r *reading) asked(f *questionFigure, kind quiz.Kind) {
	f.Asked = r.in.And(tally.Part{Of: tally.Property{Kind: tally.Asked, Key: f.Key}, Values: []string{""}}).Count()
	f.Asked = max(f.Asked, f.Answered)
	f.Stay = r.stays[f.Key]
	f.Skipped = f.Asked - f.Answered
	if kind.Personal() { // what they said is with their contact
		f.Skipped = 0
	}
}

// Told says how many were asked, skipped it, left, and how long they stayed.
func (f questionFigure) Told() string {
	var words []string
	if f.Reach != nil && f.Reach.People > f.Answered {
		words = append(words, ui.Count(f.Reach.People)+" asked")
	}
	if f.Skipped > 0 {
		words = append(words, ui.Count(f.Skipped)+" skipped")
	}
	if f.Reach != nil && f.Reach.Left > 0 {
		words = append(words, fmt.Sprintf("%s left (%s), half of them after %s", ui.Count(f.Reach.Left),
			f.Reach.Part, f.Reach.After))
	}
	if f.Stay != "" {
		words = append(words, "half stay at most "+f.Stay)
	}
	return strings.Join(words, " · ")
}
