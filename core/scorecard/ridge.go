package scorecard

import (
	"cmp"
	"fmt"
	"math"
	"math/rand/v2"
	"slices"

	"golang.org/x/sync/errgroup"
)

// ridges are those among which the best is looked for.
var ridges = []float64{0.1, 0.3, 1, 3, 10, 30, 100}

// folds is into how many parts cases are dealt.
const folds = 10

// Choose fits weights with the ridge that tells best how those end who were left out, and returns
// for each case what is said of it by a fit without its part, and which part that is: what a score
// promises for people who are yet to come. Scores of different parts can't be compared but by their
// Places. Cases are dealt by chance, the same way for the same seed. The error wraps ErrFew.
func Choose(cases []Case, columns int, seed uint64) (f *Fit, without []float64, part []int, err error) {
	var all Tally
	for _, c := range cases {
		all = all.with(c.Won)
	}
	if all.Won < Fewest || all.Lost < Fewest {
		return nil, nil, nil, fmt.Errorf("%w: %d won and %d lost, of %d each", ErrFew, all.Won, all.Lost, Fewest)
	}
	part = deal(cases, seed)
	best, ridge := math.Inf(-1), 0.0
	for _, r := range ridges {
		scores, likely, err := leftOut(cases, columns, part, r)
		if err != nil {
			return nil, nil, nil, err
		}
		if likely > best {
			best, ridge, without = likely, r, scores
		}
	}
	f, err = Learn(cases, columns, ridge)
	return f, without, part, err
}

// Places returns how high each score stands among those of its part: 0 to 1, ties in the middle. A
// fit that has not seen a part is off for all of it in the same way, and against how it ended:
// scores of several parts beside each other would look worse than they are.
func Places(scores []float64, part []int) []float64 {
	places := make([]float64, len(scores))
	for k := range folds {
		var of []int
		for i := range scores {
			if part[i] == k {
				of = append(of, i)
			}
		}
		slices.SortFunc(of, func(a, b int) int { return cmp.Compare(scores[a], scores[b]) })
		for i := 0; i < len(of); {
			first := i
			for i < len(of) && scores[of[i]] == scores[of[first]] {
				i++
			}
			for _, at := range of[first:i] {
				places[at] = float64(first+i) / 2 / float64(len(of))
			}
		}
	}
	return places
}

// deal deals cases into parts, the won and the lost each evenly.
func deal(cases []Case, seed uint64) []int {
	chance := rand.New(rand.NewPCG(seed, 0x5ca1ab1e))
	part := make([]int, len(cases))
	for _, won := range []bool{true, false} {
		var of []int
		for i := range cases {
			if cases[i].Won == won {
				of = append(of, i)
			}
		}
		chance.Shuffle(len(of), func(i, j int) { of[i], of[j] = of[j], of[i] })
		for k, i := range of {
			part[i] = k % folds
		}
	}
	return part
}

// leftOut scores each case by a fit of the other parts, and returns how likely the ends are by that.
func leftOut(cases []Case, columns int, part []int, ridge float64) (scores []float64, likely float64, err error) {
	scores = make([]float64, len(cases))
	var work errgroup.Group // the parts side by side
	for k := range folds {
		work.Go(func() error {
			var others []Case
			for i := range cases {
				if part[i] != k {
					others = append(others, cases[i])
				}
			}
			f, err := Learn(others, columns, ridge)
			if err != nil {
				return err
			}
			for i := range cases {
				if part[i] == k {
					scores[i] = f.Score(&cases[i])
				}
			}
			return nil
		})
	}
	if err := work.Wait(); err != nil {
		return nil, 0, err
	}
	for i := range cases {
		if cases[i].Won {
			likely -= math.Log1p(math.Exp(-scores[i]))
		} else {
			likely -= math.Log1p(math.Exp(scores[i]))
		}
	}
	return scores, likely, nil
}
