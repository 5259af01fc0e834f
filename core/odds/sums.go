package odds

import (
	"errors"
	"fmt"
	"math"

	"omphalos/core/program"
)

// ErrSums says that shares of all respondents do not add up to everybody.
var ErrSums = errors.New("the odds do not add up")

// nearOne is how far sums of shares may lie from 1.
const nearOne = 1e-9

// Astray returns what of the odds does not add up to everybody, none where all does:
// outcomes, their landings, ends, steps (with those whom no step gave an outcome), lengths
// of passages, those who come to an end, and the points of each scale are each a division
// of all respondents.
func (o *Odds) Astray() (list []string) {
	check := func(what string, sum, all float64) {
		if !(math.Abs(sum-all) <= nearOne) { // also where it is no number
			list = append(list, fmt.Sprintf("%s come to %.2f %% of %.2f %%", what, 100*sum, 100*all))
		}
	}
	check("outcomes", total(o.Outcomes), 1)
	check("landings", nested(o.Landings), 1)
	check("ends", total(o.Ends), 1)
	check("steps", nested(o.Steps)+o.Open, o.Ends[program.Decided])
	for outcome, share := range o.Outcomes {
		check("landings of "+outcome, total(o.Landings[outcome]), share)
	}
	lengths, arrivals := 0.0, 0.0
	for _, share := range o.Lengths {
		lengths += share
	}
	check("lengths", lengths, 1)
	for _, f := range o.Flows {
		if f.To == "" {
			arrivals += f.Share
		}
	}
	if o.ExactPath() {
		check("arrivals", arrivals, 1)
	}
	for key, s := range o.Scores {
		points := 0.0
		for _, p := range s.Points {
			points += p.Share
		}
		check("points of "+key, points, 1)
	}
	return list
}

func total[K comparable](shares map[K]float64) (sum float64) {
	for _, share := range shares {
		sum += share
	}
	return sum
}

func nested(shares map[string]map[string]float64) (sum float64) {
	for _, of := range shares {
		sum += total(of)
	}
	return sum
}
