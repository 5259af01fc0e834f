package inference

import (
	"math"

	"gonum.org/v1/gonum/stat/distuv"
)

// Items are what questions added to a scale, of many who were asked all of them. The zero
// Items are none.
type Items struct {
	n     int
	mean  []float64
	cross [][]float64 // sums of products of the distances from the mean, [i][j] for j ≤ i
}

// Add adds what each question added with one person.
func (s *Items) Add(scores []float64) {
	if s.mean == nil {
		s.mean, s.cross = make([]float64, len(scores)), make([][]float64, len(scores))
		for i := range s.cross {
			s.cross[i] = make([]float64, i+1)
		}
	}
	s.n++
	n := float64(s.n)
	// Distances are from the mean before it moves, which counts (n−1)/n of each product (B. P.
	// Welford 1962): large scores lose nothing.
	for i, x := range scores {
		for j := 0; j < i; j++ {
			s.cross[i][j] += (x - s.mean[i]) * (scores[j] - s.mean[j]) * (n - 1) / n
		}
		away := x - s.mean[i]
		s.cross[i][i] += away * away * (n - 1) / n
	}
	for i, x := range scores {
		s.mean[i] += (x - s.mean[i]) / n
	}
}

// Count returns how many persons were added.
func (s *Items) Count() int { return s.n }

// Mean returns the mean of a question.
func (s *Items) Mean(i int) float64 { return s.mean[i] }

// Spread returns the standard deviation of a question.
func (s *Items) Spread(i int) float64 { return math.Sqrt(s.variance(i, i)) }

// variance returns how two questions vary together.
func (s *Items) variance(i, j int) float64 {
	if s.n < 2 {
		return 0
	}
	return s.cross[max(i, j)][min(i, j)] / float64(s.n-1)
}

// withAll returns how a question varies together with the sum of all.
func (s *Items) withAll(i int) (sum float64) {
	for j := range s.mean {
		sum += s.variance(i, j)
	}
	return sum
}

// Alpha returns Cronbach's coefficient: how far the questions of a scale say the same, from
// 1 where each says what the others say down to 0 and below; and the interval in which it
// lies in 19 of 20 cases. It is not known for fewer than two questions or three persons, and
// where nothing varies.
//
// Source: L. J. Cronbach, Coefficient alpha and the internal structure of tests,
// Psychometrika 1951;16:297–334; the interval L. S. Feldt, The approximate sampling
// distribution of Kuder-Richardson reliability coefficient twenty, Psychometrika
// 1965;30:357–370.
func (s *Items) Alpha() (alpha, low, high float64, known bool) {
	sum, total := 0.0, 0.0
	for i := range s.mean {
		sum += s.variance(i, i)
		total += s.withAll(i)
	}
	if len(s.mean) < 2 || s.n < 3 || total <= 0 {
		return 0, 0, 0, false
	}
	alpha = AlphaOf(len(s.mean), sum, total)
	persons := float64(s.n - 1)
	f := distuv.F{D1: persons, D2: persons * float64(len(s.mean)-1)}
	return alpha, 1 - (1-alpha)*f.Quantile(0.975), 1 - (1-alpha)*f.Quantile(0.025), true
}

// AlphaOf returns Cronbach's coefficient of so many questions, from the sum of their
// variances and the variance of their sum.
func AlphaOf(questions int, sum, total float64) float64 {
	k := float64(questions)
	return k / (k - 1) * (1 - sum/total)
}

// Rest returns how a question goes along with the sum of the others, from −1 to 1, and the
// interval in which that lies in 19 of 20 cases. It is not known where one of both does not
// vary.
func (s *Items) Rest(i int) (r, low, high float64, known bool) {
	own, with, total := s.variance(i, i), s.withAll(i), 0.0
	for j := range s.mean {
		total += s.withAll(j)
	}
	return s.correlation(with-own, own, total-2*with+own)
}

// Pair returns how two questions go along with each other, as Rest does.
func (s *Items) Pair(i, j int) (r, low, high float64, known bool) {
	return s.correlation(s.variance(i, j), s.variance(i, i), s.variance(j, j))
}

// correlation returns that of two variables from how they vary, with its interval by Fisher's
// transformation.
//
// Source: R. A. Fisher, On the “probable error” of a coefficient of correlation deduced from
// a small sample, Metron 1921;1:3–32.
func (s *Items) correlation(together, one, other float64) (r, low, high float64, known bool) {
	if one <= 0 || other <= 0 || s.n < 4 {
		return 0, -1, 1, false
	}
	r = min(max(together/math.Sqrt(one*other), -1), 1)
	reach := z / math.Sqrt(float64(s.n-3))
	at := math.Atanh(r)
	return r, math.Tanh(at - reach), math.Tanh(at + reach), true
}
