package decimal

import (
	"fmt"
	"math/big"
	"strconv"
	"strings"

	"omphalos/core/excerpt"
)

var powers = [Places + 1]int64{1_000_000, 100_000, 10_000, 1_000, 100, 10, 1}

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
