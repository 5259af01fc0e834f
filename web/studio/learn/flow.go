package learn

import (
	"context"
	"slices"
	"strings"

	"omphalos/core/inference"
	"omphalos/core/odds"
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
	Out                   int    // who were screened out
	OutPart               string // of those who began and are not under way
	AtContact             int    // who left behind the questions, as they were asked who they are
	Elsewhere             int    // who left at what is not asked any more, or before that was kept
	BeganPart             string // of those who saw it, with its interval
	FinishedPart          string // of those who began and are not under way
	FinishedRange         string
	Beside                *beside // of the other slice: how many finish

	left      map[string][]tally.Bin // by question: after how many seconds
	out       []odds.Screened
	otherOver int // who are not under way, of the other slice
}

// contactPlace is where those are who are asked for their contact before the result.
const contactPlace = "your-contact"

// outBy counts those who were screened out by outcome.
func (f *flow) outBy() map[string]int {
	by := map[string]int{}
	for _, s := range f.out {
		by[s.Outcome] += s.Count
	}
	return by
}

// flowOf counts those who have not finished.
func flowOf(ctx context.Context, responses *store.Responses, quiz uint, parts []tally.Part) (flow, error) {
	f := flow{}
	f.Told = !slices.ContainsFunc(parts, func(p tally.Part) bool { return !store.Tells(p.Of) })
	var err error
	if f.out, err = responses.Screened(ctx, quiz, parts); err != nil {
		return f, err
	}
	for _, s := range f.out {
		f.Out += s.Count
	}
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
	f.Began = f.Finished + f.Under + f.gone() + f.Out
	f.Seen = max(f.Seen, f.Began) // links lead past the opening, and sights are counted since later
	if f.Seen > 0 {
		f.BeganPart = ui.Percent(part(f.Began, f.Seen))
	}
	if over := f.Began - f.Under; over > 0 {
		low, high := inference.Wilson(f.Finished, over)
		told := inference.PercentsOf(f.Finished, f.Out, over-f.Finished-f.Out)
		f.FinishedPart, f.OutPart, f.FinishedRange = told[0], told[1], intervalWords(low, high)
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
		Out: f.Out - other.Out, left: map[string][]tally.Bin{}, out: slices.Clone(f.out)}
	for i, s := range rest.out {
		for _, o := range other.out {
			if o.Place == s.Place && o.Outcome == s.Outcome && o.Landing == s.Landing {
				rest.out[i].Count -= o.Count
			}
		}
	}
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
