// Package decimal holds the number that quizzes count with: an exact
// fixed-point decimal of six places.
//
// Weights, scores, cuts, prices and typed numbers are all Decimals, so that
// 0.1 + 0.2 meets a cut at 0.3. Sums and differences are exact within the
// range; products and quotients are rounded half away from zero to the sixth
// place. Arithmetic never wraps around: what would leave the range stops at
// Max or Min.
package decimal

import (
	"errors"
	"math"
	"math/big"
	"math/bits"
)

// Decimal is a number in millionths: Decimal(1_500_000) is 1.5.
// The zero value is 0.
type Decimal int64

// Places is the number of decimals that a Decimal keeps.
const Places = 6

// The unit and the ends of the range, about ±9.2 × 10¹².
const (
	One Decimal = 1_000_000
	Max Decimal = math.MaxInt64
	Min Decimal = -math.MaxInt64
)

// Reasons why a text is not a Decimal.
var (
	ErrSyntax = errors.New("is not a number")
	ErrPlaces = errors.New("has more than six decimals")
	ErrRange  = errors.New("is too large")
)

// FromInt returns i as a Decimal, Max or Min where it is out of range.
func FromInt(i int64) Decimal { return One.times(i) }

// Add returns d + o, stopped at the ends of the range.
func (d Decimal) Add(o Decimal) Decimal {
	sum := d + o
	if (sum^d)&(sum^o) < 0 { // both have a sign that the sum has lost
		return d.end()
	}
	return max(sum, Min)
}

func (d Decimal) end() Decimal {
	if d < 0 {
		return Min
	}
	return Max
}

// Sub returns d − o, stopped at the ends of the range.
func (d Decimal) Sub(o Decimal) Decimal { return d.Add(-o) }

// Mul returns d × o, rounded half away from zero to the sixth place.
func (d Decimal) Mul(o Decimal) Decimal { return mulDiv(d, o, One) }

// Div returns d ÷ o, rounded half away from zero to the sixth place, and 0
// where o is 0.
func (d Decimal) Div(o Decimal) Decimal {
	if o == 0 {
		return 0
	}
	return mulDiv(d, One, o)
}

// Ratio returns times × d ÷ o rounded once, half away from zero, to places
// decimals (0 to 6), and 0 where o is 0. It serves means and shares.
func (d Decimal) Ratio(times int64, o Decimal, places int) Decimal {
	if o == 0 {
		return 0
	}
	places = min(max(places, 0), Places)
	steps := mulDiv(d, Decimal(times*int64(One)/powers[places]), o)
	return steps.times(powers[places])
}

func (d Decimal) times(n int64) Decimal { return mulDiv(d, Decimal(n), 1) }

// mulDiv returns a × b ÷ c through 128 bits, rounded half away from zero. c is not 0.
func mulDiv(a, b, c Decimal) Decimal {
	negative := (a < 0) != (b < 0) != (c < 0)
	hi, lo := bits.Mul64(magnitude(a), magnitude(b))
	div := magnitude(c)
	if hi >= div {
		return signed(uint64(Max), negative)
	}
	quo, rem := bits.Div64(hi, lo, div)
	if rem >= div-rem {
		quo++
	}
	return signed(quo, negative)
}

func magnitude(d Decimal) uint64 {
	if d < 0 {
		return uint64(-d)
	}
	return uint64(d)
}

func signed(m uint64, negative bool) Decimal {
	if m > uint64(Max) {
		m = uint64(Max)
	}
	if negative {
		return -Decimal(m)
	}
	return Decimal(m)
}

// Round returns d rounded half away from zero to places decimals (0 to 6).
func (d Decimal) Round(places int) Decimal {
	if places >= Places {
		return d
	}
	step := Decimal(powers[max(places, 0)])
	if d > Max-step || d < Min+step {
		return d
	}
	half := step / 2
	if d < 0 {
		half = -half
	}
	return (d + half) / step * step
}

// Rat returns d as an exact fraction.
func (d Decimal) Rat() *big.Rat { return big.NewRat(int64(d), int64(One)) }

// FromRat returns r rounded half away from zero to places decimals, and false
// with Max or Min where it is out of range.
func FromRat(r *big.Rat, places int) (Decimal, bool) {
	step := big.NewInt(powers[min(max(places, 0), Places)])
	num := new(big.Int).Mul(r.Num(), big.NewInt(int64(One)))
	den := new(big.Int).Mul(r.Denom(), step)
	quo, rem := new(big.Int).QuoRem(num, den, new(big.Int))
	if rem.Abs(rem).Lsh(rem, 1).Cmp(den) >= 0 {
		quo.Add(quo, big.NewInt(int64(r.Sign())))
	}
	quo.Mul(quo, step)
	if quo.IsInt64() && Decimal(quo.Int64()) >= Min {
		return Decimal(quo.Int64()), true
	}
	if r.Sign() < 0 {
		return Min, false
	}
	return Max, false
}

// Float64 returns the nearest binary floating-point number, for drawing only.
func (d Decimal) Float64() float64 { return float64(d) / float64(One) }
