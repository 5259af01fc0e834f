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
	"fmt"
	"math"
	"math/big"
	"math/bits"
	"strconv"
	"strings"

	"omphalos/core/excerpt"
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

var powers = [Places + 1]int64{1_000_000, 100_000, 10_000, 1_000, 100, 10, 1}

// FromInt returns i as a Decimal, Max or Min where it is out of range.
func FromInt(i int64) Decimal { return One.times(i) }

// Parse reads a decimal number such as "-12", "0.25" or "1e3". A minus may be
// the hyphen or the true minus sign; a leading plus is allowed. The error wraps
// ErrSyntax, ErrPlaces or ErrRange.
func Parse(s string) (Decimal, error) {
	text := strings.Replace(s, "−", "-", 1)
	if d, ok := parsePlain(text); ok {
		return d, nil
	}
	return parseSlow(s, text)
}

// parsePlain reads the common form: a sign, at most twelve digits, at most six decimals.
func parsePlain(s string) (Decimal, bool) {
	negative := false
	if s != "" && (s[0] == '-' || s[0] == '+') {
		negative, s = s[0] == '-', s[1:]
	}
	var n int64
	digits, places := 0, -1
	for i := 0; i < len(s); i++ {
		c := s[i]
		switch {
		case c == '.' && places < 0:
			places = 0
		case c >= '0' && c <= '9':
			n = n*10 + int64(c-'0')
			digits++
			if places >= 0 {
				places++
			}
		default:
			return 0, false
		}
	}
	if digits == 0 || digits > 12 || places > Places || places == 0 {
		return 0, false
	}
	if places < 0 {
		places = 0
	}
	n *= powers[places]
	if negative {
		n = -n
	}
	return Decimal(n), true
}

func parseSlow(shown, s string) (Decimal, error) {
	if s == "" || len(s) > 64 || strings.ContainsAny(s, "/_xXbBoOpPiInN") {
		return 0, fmt.Errorf("%q %w", excerpt.Of(shown, 41), ErrSyntax)
	}
	if i := strings.IndexAny(s, "eE"); i >= 0 && len(s)-i > 4 {
		return 0, fmt.Errorf("%q %w", excerpt.Of(shown, 41), ErrRange)
	}
	r, ok := new(big.Rat).SetString(s)
	if !ok {
		return 0, fmt.Errorf("%q %w", excerpt.Of(shown, 41), ErrSyntax)
	}
	r.Mul(r, big.NewRat(int64(One), 1))
	if !r.IsInt() {
		return 0, fmt.Errorf("%q %w", excerpt.Of(shown, 41), ErrPlaces)
	}
	if !r.Num().IsInt64() || Decimal(r.Num().Int64()) < Min {
		return 0, fmt.Errorf("%q %w", excerpt.Of(shown, 41), ErrRange)
	}
	return Decimal(r.Num().Int64()), nil
}

// Must is Parse for constants in code; it panics where Parse fails.
func Must(s string) Decimal {
	d, err := Parse(s)
	if err != nil {
		panic(err)
	}
	return d
}

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

// String returns d in plain notation without trailing zeros: "-0.25".
func (d Decimal) String() string { return string(d.append(nil, -1)) }

// Text returns d, rounded, with exactly places decimals (0 to 6): "12.50".
func (d Decimal) Text(places int) string {
	return string(d.Round(places).append(nil, min(max(places, 0), Places)))
}

// AtLeast returns d exactly, with so many decimals (0 to 6) or more: "12.50", "0.125".
func (d Decimal) AtLeast(places int) string {
	if s := d.Text(places); Must(s) == d {
		return s
	}
	return d.String()
}

// AppendTo appends d as String writes it.
func (d Decimal) AppendTo(b []byte) []byte { return d.append(b, -1) }

// append writes d with exactly places decimals, or the fewest that are exact
// where places is negative.
func (d Decimal) append(b []byte, places int) []byte {
	if d < 0 {
		b = append(b, '-')
	}
	m := magnitude(d)
	b = strconv.AppendUint(b, m/uint64(One), 10)
	frac := m % uint64(One)
	if frac == 0 && places <= 0 {
		return b
	}
	var digits [Places]byte
	for i := Places - 1; i >= 0; i-- {
		digits[i] = byte('0' + frac%10)
		frac /= 10
	}
	n := places
	if places < 0 {
		for n = Places; n > 0 && digits[n-1] == '0'; n-- {
		}
	}
	if n == 0 {
		return b
	}
	return append(append(b, '.'), digits[:n]...)
}

// Words returns String as people read it, with a true minus: "−0.25".
func (d Decimal) Words() string {
	if d < 0 {
		return "−" + d.String()[1:]
	}
	return d.String()
}

// Signed returns String with a plus before what is above zero and a true minus
// before what is below: "+4", "0", "−0.5".
func (d Decimal) Signed() string {
	switch {
	case d > 0:
		return "+" + d.String()
	case d < 0:
		return "−" + (-d).String()
	}
	return "0"
}

// MarshalJSON writes d as a JSON number.
func (d Decimal) MarshalJSON() ([]byte, error) { return d.AppendTo(nil), nil }

// UnmarshalJSON reads a JSON number; a number in quotation marks is refused.
func (d *Decimal) UnmarshalJSON(b []byte) error {
	if string(b) == "null" {
		return nil
	}
	parsed, err := Parse(string(b))
	if err == nil {
		*d = parsed
	}
	return err
}
