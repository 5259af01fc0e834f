package scorecard

import (
	"cmp"
	"errors"
	"fmt"
	"math"
	"math/rand/v2"
	"slices"

	"golang.org/x/sync/errgroup"
	"gonum.org/v1/gonum/mat"
)

// A Case is somebody of whom it is known how they ended: the columns in which they have something,
// with how much (1 for an answer that was given).
type Case struct {
	Columns []int
	Values  []float64
	Won     bool
}

// A Fit is what each column adds to the logarithm of the odds of winning.
type Fit struct {
	Base    float64   // the logarithm of the odds of whoever has nothing
	Weights []float64 // by column
	Errors  []float64 // of the weights, see Contrast for differences of two
	Ridge   float64   // how strongly weights were held near 0

	covariance *mat.SymDense // of base and weights
}

// ErrFew says that there are too few to learn from.
var ErrFew = errors.New("there are too few to learn from")

// Fewest is how many there have to be of each kind.
const Fewest = 30

// Learn fits weights to cases by logistic regression with a ridge: the likelihood less half the
// ridge times the sum of squares of the weights (not of the base). The error wraps ErrFew.
//
// Source: S. le Cessie and J. C. van Houwelingen, Ridge estimators in logistic regression, Applied
// Statistics 1992;41:191–201.
func Learn(cases []Case, columns int, ridge float64) (*Fit, error) {
	var all Tally
	for _, c := range cases {
		all = all.with(c.Won)
	}
	if all.Won < 1 || all.Lost < 1 {
		return nil, fmt.Errorf("%w: %d won, %d lost", ErrFew, all.Won, all.Lost)
	}
	n := columns + 1 // the base first
	at := make([]float64, n)
	at[0] = math.Log(float64(all.Won) / float64(all.Lost))
	slope, curve := make([]float64, n), mat.NewSymDense(n, nil)
	value := derive(cases, at, ridge, slope, curve)
	for range mostSteps {
		var factor mat.Cholesky
		if !factor.Factorize(curve) {
			return nil, errors.New("the columns can't be told apart without a ridge")
		}
		var step mat.VecDense
		if err := factor.SolveVecTo(&step, mat.NewVecDense(n, slope)); err != nil {
			return nil, fmt.Errorf("fitting weights: %w", err)
		}
		// Newton's step, halved until it goes up.
		next, size, better := make([]float64, n), 1.0, false
		for range 30 {
			for i := range next {
				next[i] = at[i] + size*step.AtVec(i)
			}
			if v := derive(cases, next, ridge, slope, curve); v >= value-1e-12 {
				better = v > value+1e-9
				value = v
				break
			}
			size /= 2
		}
		copy(at, next)
		if !better {
			break
		}
	}
	var factor mat.Cholesky
	if !factor.Factorize(curve) {
		return nil, errors.New("the columns can't be told apart without a ridge")
	}
	f := &Fit{Base: at[0], Weights: at[1:], Ridge: ridge, covariance: mat.NewSymDense(n, nil)}
	if err := factor.InverseTo(f.covariance); err != nil {
		return nil, fmt.Errorf("fitting weights: %w", err)
	}
	for i := range columns {
		f.Errors = append(f.Errors, math.Sqrt(f.covariance.At(i+1, i+1)))
	}
	return f, nil
}

const mostSteps = 60

// derive returns the penalised log-likelihood, its slope and its curvature turned round.
func derive(cases []Case, at []float64, ridge float64, slope []float64, curve *mat.SymDense) float64 {
	n := len(at)
	clear(slope)
	second := curve.RawSymmetric().Data
	clear(second)
	value := 0.0
	for i := range cases {
		c := &cases[i]
		eta := at[0]
		for k, column := range c.Columns {
			eta += at[column+1] * c.Values[k]
		}
		p := 1 / (1 + math.Exp(-eta))
		left := -p
		if c.Won {
			left = 1 - p
			value -= math.Log1p(math.Exp(-eta))
		} else {
			value -= math.Log1p(math.Exp(eta))
		}
		w := p * (1 - p)
		slope[0] += left
		second[0] += w
		for k, column := range c.Columns {
			slope[column+1] += left * c.Values[k]
			second[column+1] += w * c.Values[k]
			for l, other := range c.Columns {
				if other >= column {
					second[(column+1)*n+other+1] += w * c.Values[k] * c.Values[l]
				}
			}
		}
	}
	for i := 1; i < n; i++ {
		value -= ridge * at[i] * at[i] / 2
		slope[i] -= ridge * at[i]
		second[i*n+i] += ridge
	}
	second[0] += 1e-9
	return value
}

// Score is the logarithm of somebody's odds.
func (f *Fit) Score(c *Case) float64 {
	eta := f.Base
	for k, column := range c.Columns {
		eta += f.Weights[column] * c.Values[k]
	}
	return eta
}

// Contrast returns a sum of weights, each times a number, with its standard error: 1 and −1 for how
// much more one column adds than another.
func (f *Fit) Contrast(times map[int]float64) (sum, err float64) {
	variance := 0.0
	for i, a := range times {
		sum += a * f.Weights[i]
		for j, b := range times {
			variance += a * b * f.covariance.At(i+1, j+1)
		}
	}
	return sum, math.Sqrt(max(variance, 0))
}

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
