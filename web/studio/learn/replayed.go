package learn

import (
	"cmp"
	"context"
	"fmt"

	"omphalos/core/quiz"
	"omphalos/core/replay"
	"omphalos/store"
	"omphalos/web/studio/desk"
	"omphalos/web/ui"
)

// A replayed slice is what the walk came to.
type replayed struct {
	Count, Moved int
	Part         float64
	Few          bool
	Streams      streams
	Figures      []change
	Changes      []changed
	Several      int
	Earlier      int // who came by an earlier release, which gave something else
	Tried        int // responses for which changes were tried by themselves, 0 for all
	Touched      int
	Movers       []mover
	More         int // movers that are not listed
}

// A change is a figure before and after.
type change struct{ Before, After, Words string }

// A changed place with what it does.
type changed struct {
	Words  string
	Moves  int // by itself, -1 where it can't be made by itself
	Blamed int
}

// A mover is somebody who would land elsewhere.
type mover struct {
	Name, Address string
	From, To      desk.Share
	Because       string
}

// filled fills in what the walk came to.
func (s *Room) filled(ctx context.Context, z *store.Quiz, in *sliced, r *replay.Replay, page *replayPage,
	sums *replay.Sums) error {
	page.Count, page.Moved, page.Touched = sums.Count, sums.Moved(), sums.Touched
	page.Several, page.Earlier = sums.Several, sums.Earlier
	page.Part, page.Few = float64(page.Moved)/float64(max(page.Count, 1)), page.Count < fewest
	before, after := in.quiz, r.After.Quiz
	page.Streams = streamsOf(before, after, sums.Flow)
	page.Figures = figuresOf(before, after, sums)
	if sums.Tried < sums.Count {
		page.Tried = sums.Tried
	}
	for i, c := range r.Changes {
		one := changed{Words: c.Sentence, Moves: sums.Moves[i], Blamed: sums.Blamed[i]}
		if !c.Alone {
			one.Moves = -1
		}
		page.Changes = append(page.Changes, one)
	}
	numbers := make([]int, len(sums.Movers))
	for i, m := range sums.Movers {
		numbers[i] = m.Number
	}
	names, err := s.Store.Responses.NamesOf(ctx, z.ID, numbers)
	if err != nil {
		return err
	}
	for _, m := range sums.Movers {
		one := mover{Name: cmp.Or(names[m.Number], fmt.Sprintf("No. %d", m.Number)), Address: in.slice.of(m.Number),
			From: shownOutcome(before, m.Before), To: shownOutcome(after, m.After), Because: "several changes together"}
		switch m.Blame {
		case replay.Several:
		case replay.Earlier:
			one.Because = "changes before " + page.Before
		default:
			one.Because = r.Changes[m.Blame].Sentence
		}
		page.Movers = append(page.Movers, one)
	}
	page.More = page.Moved - len(page.Movers)
	return nil
}

// shownOutcome is how an outcome is shown, whichever version has it.
func shownOutcome(q *quiz.Quiz, key string) desk.Share {
	if o := desk.OutcomeOf(q, key); o.Name != "" {
		return o
	}
	return desk.Share{Outcome: key, Name: cmp.Or(key, "nothing"), Letter: "?", Class: "to-none"}
}

// figuresOf are the figures that a marketer looks at first: who fits, of all and of the leads that
// were won and lost.
func figuresOf(before, after *quiz.Quiz, s *replay.Sums) []change {
	fits := func(q *quiz.Quiz, key string) bool { o := q.Outcomes[key]; return o != nil && o.Standing == quiz.Fit }
	count := func(flow map[replay.Move]int) (was, is, all int) {
		for m, n := range flow {
			all += n
			if fits(before, m.Before) {
				was += n
			}
			if fits(after, m.After) {
				is += n
			}
		}
		return was, is, all
	}
	var list []change
	if was, is, all := count(s.Flow); all > 0 {
		list = append(list, change{ui.Percent(float64(was) / float64(all)),
			ui.Percent(float64(is) / float64(all)), "fit, of all"})
	}
	for _, end := range []string{store.Won, store.Lost} {
		if was, is, all := count(s.Groups[end]); all > 0 {
			list = append(list, change{ui.Count(was), ui.Count(is), "fit, of " + ui.Plural(all, "lead",
				"leads") + " that were " + end})
		}
	}
	return list
}
