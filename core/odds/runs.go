package odds

import (
	"cmp"
	"context"
	"slices"

	"omphalos/core/odds/explore"
)

// A spot is where passages stand on a line that a run of effects moves them along.
type spot struct {
	line  explore.Vector
	at    int64
	share float64
}

// slide leads a crowd on by a run of effects that go the same way: to each spot of a
// line come those who stood up to Count − 1 strides before it, all by shares alike. It
// tells how many states it came to.
func (r *walked) slide(
	ctx context.Context,
	c *crowd,
	run *explore.Run,
	into *crowd,
	at int,
	f *explore.Effect,
) (states int) {
	spots := slices.Grow(r.spots[:0], len(c.vectors))[:len(c.vectors)]
	r.spots = spots
	for n, v := range c.vectors {
		line, at := run.Along(v)
		spots[n] = spot{line, at, c.shares[n]}
	}
	slices.SortFunc(spots, func(a, b spot) int {
		return cmp.Or(cmp.Compare(a.line[0], b.line[0]), cmp.Compare(a.line[1], b.line[1]), cmp.Compare(a.at, b.at))
	})
	count := int64(run.Count)
	for from := 0; from < len(spots) && ctx.Err() == nil; {
		to := from
		for to < len(spots) && spots[to].line == spots[from].line {
			to++
		}
		states += r.line(spots[from:to], count, run, into, at, f)
		from = to
	}
	return states
}

// line leads on those on one line.
func (r *walked) line(
	spots []spot,
	count int64,
	run *explore.Run,
	into *crowd,
	at int,
	f *explore.Effect,
) (states int) {
	below := slices.Grow(r.below[:0], len(spots)+1)[:len(spots)+1] // shares of the spots before each
	r.below, below[0] = below, 0
	for i, s := range spots {
		below[i+1] = below[i] + s.share
	}
	first, last := 0, 0 // the spots within reach
	for n := spots[0].at; first < len(spots); n++ {
		for last < len(spots) && spots[last].at <= n {
			last++
		}
		for first < last && spots[first].at+count <= n {
			first++
		}
		if first == last {
			if first < len(spots) {
				n = spots[first].at - 1 // nobody is in between
			}
			continue
		}
		into.put(r.e.Narrow(at, run.Moved(spots[0].line, n).Add(f)), (below[last]-below[first])*f.Share, nil)
		states++
	}
	return states
}
