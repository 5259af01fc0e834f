package scorecard

import (
	"math"
	"slices"
)

// A Question is columns of which somebody has one (the answers of a single choice), or any number.
type Question struct {
	Columns []int
	Counts  []int // how many have each
	One     bool  // one of them is given: what counts is how much more one adds than another
	Ordered bool  // the answers have an order: points rise or fall along it
}

// Points turns weights into points: whole numbers, of one size for all questions, so that the
// questions together reach as far as they are meant to. The least of a question with one answer is 0;
// of others an answer may take away. By column.
func Points(weights []float64, questions []Question, reach float64) []int {
	flat, per := scaled(weights, questions, reach)
	points := make([]int, len(weights))
	for _, q := range questions {
		low, _ := ends(flat, q)
		for _, column := range q.Columns {
			at := flat[column]
			if q.One {
				at -= low
			}
			points[column] = int(math.Round(at * per))
		}
	}
	return points
}

// PerWeight is how many points stand for a weight of 1; see Points.
func PerWeight(weights []float64, questions []Question, reach float64) float64 {
	_, per := scaled(weights, questions, reach)
	return per
}

// scaled returns the weights with those in order made straight, and the points for one.
func scaled(weights []float64, questions []Question, reach float64) (flat []float64, per float64) {
	flat = slices.Clone(weights)
	wide := 0.0
	for _, q := range questions {
		if q.Ordered {
			straighten(flat, q)
		}
		low, high := ends(flat, q)
		wide += high - low
	}
	if wide == 0 {
		return flat, 0
	}
	return flat, reach / wide
}

// ends are the least and the most that a question adds.
func ends(weights []float64, q Question) (low, high float64) {
	if q.One {
		low, high = math.Inf(1), math.Inf(-1)
		for _, column := range q.Columns {
			low, high = min(low, weights[column]), max(high, weights[column])
		}
		if len(q.Columns) == 0 {
			return 0, 0
		}
		return low, high
	}
	for _, column := range q.Columns {
		low, high = low+min(weights[column], 0), high+max(weights[column], 0)
	}
	return low, high
}

// straighten makes the weights of a question rise along its answers, or fall: whichever is nearer by
// least squares, each counting as many as have given it (pool adjacent violators).
//
// Source: M. Ayer et al., Annals of Mathematical Statistics 1955;26:641–647.
func straighten(weights []float64, q Question) {
	at, count := make([]float64, len(q.Columns)), make([]float64, len(q.Columns))
	for i, column := range q.Columns {
		at[i], count[i] = weights[column], float64(q.Counts[i])+1e-6
	}
	rising := pooled(at, count)
	turned := slices.Clone(at)
	for i := range turned {
		turned[i] = -turned[i]
	}
	falling := pooled(turned, count)
	for i := range falling {
		falling[i] = -falling[i]
	}
	away := func(list []float64) (sum float64) {
		for i := range list {
			sum += count[i] * (list[i] - at[i]) * (list[i] - at[i])
		}
		return sum
	}
	best := rising
	if away(falling) < away(rising) {
		best = falling
	}
	for i, column := range q.Columns {
		weights[column] = best[i]
	}
}

// pooled returns the nearest numbers that do not fall.
func pooled(at, count []float64) []float64 {
	type block struct {
		mean, weight float64
		size         int
	}
	var blocks []block
	for i := range at {
		blocks = append(blocks, block{at[i], count[i], 1})
		for len(blocks) > 1 && blocks[len(blocks)-2].mean > blocks[len(blocks)-1].mean {
			a, b := blocks[len(blocks)-2], blocks[len(blocks)-1]
			weight := a.weight + b.weight
			blocks = append(blocks[:len(blocks)-2], block{(a.mean*a.weight + b.mean*b.weight) / weight, weight, a.size + b.size})
		}
	}
	var list []float64
	for _, b := range blocks {
		for range b.size {
			list = append(list, b.mean)
		}
	}
	return list
}
