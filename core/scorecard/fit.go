package scorecard

import (
	"errors"
	"fmt"
	"math"

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
