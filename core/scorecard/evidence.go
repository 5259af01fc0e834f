// Package scorecard learns from leads that were won and lost: how much each answer says of winning,
// which weights would have sorted them best, and how well a score sorts them.
//
// It is arithmetic on counts and columns of numbers; what they are of is told by who calls it.
package scorecard

import (
	"math"

	"gonum.org/v1/gonum/stat/distuv"
)

// z is the 97.5 % point of the normal distribution.
const z = 1.959963984540054

// A Tally is how many were won and lost of those with something in common.
type Tally struct{ Won, Lost int }

// All is how many they are.
func (t Tally) All() int { return t.Won + t.Lost }

// Evidence is how much something says of winning.
type Evidence struct {
	Tally
	Weight float64 // of evidence: ln of its share of the won over its share of the lost
	Value  float64 // what it adds to the information value
}

// Weigh returns the weights of evidence of parts that make up a whole, and the information value of
// all of them. Below 0.02 that says nothing, below 0.1 little, below 0.3 something; more is strong,
// and above 0.5 it is worth asking whether it is known before the end. Where a part has none of one
// kind, half a one is added to both.
//
// Source: N. Siddiqi, Credit Risk Scorecards, Wiley 2006, chapter 6.
func Weigh(parts []Tally) (list []Evidence, value float64) {
	var all Tally
	for _, p := range parts {
		all.Won, all.Lost = all.Won+p.Won, all.Lost+p.Lost
	}
	for _, p := range parts {
		e := Evidence{Tally: p}
		if p.All() > 0 && all.Won > 0 && all.Lost > 0 {
			won, lost := float64(p.Won), float64(p.Lost)
			if p.Won == 0 || p.Lost == 0 {
				won, lost = won+0.5, lost+0.5
			}
			won, lost = won/float64(all.Won), lost/float64(all.Lost)
			e.Weight = math.Log(won / lost)
			e.Value = (won - lost) * e.Weight
		}
		value += e.Value
		list = append(list, e)
	}
	return list, value
}

// Chance returns the information value that so many kinds of answer have on average, and at the
// most in 19 of 20 cases, where they say nothing of winning: of many won and lost it is
// distributed as chi-square with one degree less than there are kinds, times 1/won + 1/lost.
// Looks is among how many values the largest was chosen.
//
// Source: B. Yurdakul, Statistical Properties of Population Stability Index, Western Michigan
// University 2018 (values from memory of it).
func Chance(kinds, looks int, all Tally) (mean, most float64) {
	if kinds < 2 || all.Won == 0 || all.Lost == 0 {
		return 0, 0
	}
	each := 1/float64(all.Won) + 1/float64(all.Lost)
	free := float64(kinds - 1)
	return free * each, distuv.ChiSquared{K: free}.Quantile(1-0.05/float64(max(looks, 1))) * each
}

// Odds are how many times as likely those with something are to be won as the others, with the
// interval in which that lies in 19 of 20 cases. Half a one is added to each count, so that there is
// always an answer.
//
// Source: B. Woolf, Annals of Human Genetics 1955;19:251–253; J. B. S. Haldane, 1956;20:309–311.
type Odds struct{ Ratio, Low, High float64 }

// Compare returns the odds of those with something against the others.
func Compare(with, others Tally) Odds {
	a, b := float64(with.Won)+0.5, float64(with.Lost)+0.5
	c, d := float64(others.Won)+0.5, float64(others.Lost)+0.5
	at, reach := math.Log(a*d/(b*c)), z*math.Sqrt(1/a+1/b+1/c+1/d)
	return Odds{math.Exp(at), math.Exp(at - reach), math.Exp(at + reach)}
}

// Leaks tells whether something seems to be known only of those who were won: a question that the
// lost never came to says how they ended, and nothing of who they were.
func Leaks(with, all Tally) bool {
	return with.Won >= leastLeak && with.Lost == 0 && all.Lost >= leastLeak
}

const leastLeak = 5
