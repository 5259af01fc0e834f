package odds

import (
	"cmp"
	"fmt"
	"math/big"
	"slices"

	"omphalos/core/expect"
	"omphalos/core/passage"
	"omphalos/core/program"
)

// Ways are all ways through a quiz, or those through picked knots: the net.
type Ways struct {
	Kinds   []Kind // the most frequent first
	Knots   map[Knot]float64
	Strands map[Strand]float64
	Share   float64 // of all respondents, that take these ways
	Sampled int     // from how many passages this is told; 0 where it is exact
}

// A Kind is passages that go the same way: they are asked the same questions and end by the
// same step, with the same outcome and landing.
type Kind struct {
	Questions []int // positions
	Finish    program.Finish
	Share     float64
	Passages  *big.Int      // how many different ones; nil where it is told from a sample
	Example   passage.Input // one of them
}

// A Knot is an answer on the net: its question's position and its name (program.Names),
// "" for any; or an outcome, whose Question is End.
type Knot struct {
	Question int
	Name     string
	Parts    bool // of an outcome: nothing is kept
}

// End is the Question of knots that are outcomes.
const End = -1

// A Strand is the passages that go from one knot to the next.
type Strand struct{ From, To Knot }

const (
	mostWays  = 1 << 14 // states that are kept, with how they were led to
	mostPaths = 1 << 10 // different lists of questions
	drawnWays = 1 << 12 // passages of a sample
)

// Through returns the ways through the picked knots: of those of one question through any,
// of several questions through all. Where following them takes too many states they are
// told from a sample. The error is the context's.
func Through(p *program.Program, with Options, picked []Knot) (*Ways, error) {
	with = with.whole()
	if with.Shares == nil {
		with.Shares = expect.Expected(p)
	}
	n := net{p: p, assumed: expect.Assume(p, with.Visitor, with.Shares), ends: map[string]bool{}}
	n.assumed.Given, n.assumed.Through = with.Given, make([]expect.Names, len(p.Questions))
	for _, k := range picked {
		if k.Question == End {
			n.ends[k.Name] = true
			continue
		}
		if n.assumed.Through[k.Question] == nil {
			n.assumed.Through[k.Question] = expect.Names{}
		}
		n.assumed.Through[k.Question][k.Name] = true
	}
	w := n.follow(with)
	if w == nil {
		w = n.draw(with)
	}
	if err := with.Context.Err(); err != nil {
		return nil, fmt.Errorf("following the ways: %w", err)
	}
	slices.SortStableFunc(w.Kinds, func(a, b Kind) int {
		return cmp.Or(cmp.Compare(b.Share, a.Share), slices.Compare(a.Questions, b.Questions))
	})
	return w, nil
}
