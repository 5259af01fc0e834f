package store

import (
	"context"
	"hash/maphash"
	"slices"
	"strconv"
	"sync"
	"sync/atomic"
	"time"

	"omphalos/store/tally"
)

// A flowing counts those of a quiz who have not finished. It is read once from departures and
// passages, and then follows what is written: a passage that is gone on with is under way, one
// that nobody has gone on with for a while has been left, until somebody does.
type flowing struct {
	reading sync.Mutex // whoever reads it

	mu      sync.Mutex
	ready   bool             // it has been read
	waiting []func()         // what was written meanwhile
	left    *tally.Tally     // numbered in the order in which they came in
	at      map[uint64]int   // number of those that are passages, by theirs
	under   map[uint64]onWay // the passages under way
	used    time.Time
	size    atomic.Int64 // about, in bytes, when it was read
}

// onWay is what is counted of a passage.
type onWay struct {
	release uint
	place   string
	seconds int
	last    time.Time // when somebody went on with it
	came    Came
}

// flows are the flowings of quizzes that were asked for lately.
type flows struct {
	sync.Mutex
	of map[uint]*flowing
}

// mostFlowing is how much memory those take who have left, in bytes; those of the quiz in use
// may take more.
const mostFlowing = 32 << 20

var flowSeed = maphash.MakeSeed()

func idOf(passage string) uint64 { return maphash.String(flowSeed, passage) }

// flowing gives f the flowing of a quiz, brought up to date.
func (rs *Responses) flowing(ctx context.Context, quiz uint, f func(*flowing)) error {
	rs.flows.Lock()
	if rs.flows.of == nil {
		rs.flows.of = map[uint]*flowing{}
	}
	x := rs.flows.of[quiz]
	if x == nil {
		x = &flowing{}
		rs.flows.of[quiz] = x
	}
	rs.flows.shrink(quiz)
	x.used = now()
	rs.flows.Unlock() // what is written from now on is followed
	if err := x.read(func() error { return rs.readFlowing(ctx, quiz, x) }); err != nil {
		rs.flows.forget(quiz) // or it would follow for nothing
		return err
	}
	x.mu.Lock()
	defer x.mu.Unlock()
	x.settle()
	f(x)
	return nil
}

// read reads it where that has not been done. Nobody who writes waits for it.
func (x *flowing) read(all func() error) error {
	x.reading.Lock()
	defer x.reading.Unlock()
	if x.ready {
		return nil
	}
	if err := all(); err != nil {
		return err
	}
	x.mu.Lock()
	defer x.mu.Unlock()
	for _, wrote := range x.waiting { // again, where it was read already
		wrote()
	}
	x.ready, x.waiting = true, nil
	x.size.Store(int64(x.left.Size() + 32*len(x.at) + 200*len(x.under)))
	return nil
}

// shrink forgets those that were not asked for longest, but one, where they take too much.
func (fs *flows) shrink(but uint) {
	for {
		held, oldest := int64(0), uint(0)
		for quiz, x := range fs.of {
			held += x.size.Load()
			if quiz != but && (oldest == 0 || x.used.Before(fs.of[oldest].used)) {
				oldest = quiz
			}
		}
		if held <= mostFlowing || oldest == 0 {
			return
		}
		delete(fs.of, oldest)
	}
}

// forget has a quiz's flowing read anew.
func (fs *flows) forget(quiz uint) {
	fs.Lock()
	defer fs.Unlock()
	delete(fs.of, quiz)
}

// settle takes those as left with whom nothing has happened for a while.
func (x *flowing) settle() {
	idle := now().Add(-stillThere)
	for id, one := range x.under {
		if one.last.Before(idle) {
			x.at[id] = x.add(one)
			delete(x.under, id)
		}
	}
}

// add adds one who has left, and returns its number.
func (x *flowing) add(one onWay) int {
	e := tally.Entry{Number: x.left.Last() + 1}
	e.Sets = append(e.Sets, tally.Member{Of: placeOf, Value: one.place})
	e.Set(tally.Release, strconv.FormatUint(uint64(one.release), 10))
	for i, kind := range cameKinds {
		e.Set(kind, one.came.facts()[i])
	}
	e.Values = []tally.Value{{Of: tally.Property{Kind: tally.Seconds}, Value: int64(one.seconds)},
		{Of: tally.Property{Kind: tally.Finished}, Value: one.last.Unix()}}
	x.left.Add(&e)
	return e.Number
}

// placeOf is the question at which somebody left.
var placeOf = tally.Property{Kind: "place"}

// facts are in the order of cameKinds.
func (c Came) facts() [6]string {
	return [6]string{c.Source, c.Medium, c.Campaign, c.Country, c.Language, c.Device}
}

// count counts those who fit all parts.
func (x *flowing) count(f *Flow, parts []tally.Part) {
	for _, one := range x.under {
		if !slices.ContainsFunc(parts, func(p tally.Part) bool { return !one.fits(p) }) {
			f.Under++
		}
	}
	in := x.left.Slice(parts...)
	for _, at := range in.Split(placeOf) {
		there := in.And(tally.Part{Of: placeOf, Values: []string{at.Value}})
		f.Left[at.Value] = there.Values(tally.Property{Kind: tally.Seconds}, 1)
	}
}

func (one *onWay) fits(p tally.Part) bool {
	if p.Of.Kind == tally.Finished {
		at := one.last.Unix()
		return p.From <= at && at <= p.To
	}
	value := strconv.FormatUint(uint64(one.release), 10)
	if i := slices.Index(cameKinds, p.Of.Kind); i >= 0 {
		value = one.came.facts()[i]
	}
	return slices.Contains(p.Values, value)
}

// wrote follows a passage that has been written: it is under way, or over.
func (fs *flows) wrote(p *Passage, over bool) {
	fs.Lock()
	x := fs.of[p.QuizID]
	fs.Unlock()
	if x == nil {
		return
	}
	id, way := idOf(p.ID), p.onWay()
	x.mu.Lock()
	defer x.mu.Unlock()
	if !x.ready {
		x.waiting = append(x.waiting, func() { x.wrote(id, way, over) })
		return
	}
	x.wrote(id, way, over)
}

func (x *flowing) wrote(id uint64, way onWay, over bool) {
	if number, left := x.at[id]; left {
		x.left.Remove(number)
		delete(x.at, id)
	}
	if delete(x.under, id); !over {
		x.under[id] = way
	}
}
