package decimal

import (
	"encoding/json"
	"math/big"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"
)

func TestParseAndPrint(t *testing.T) {
	for text, want := range map[string]string{"0": "0", "-0": "0", "12": "12", "0.25": "0.25", "-.5": "",
		"−3": "-3", "+4": "4", "1e3": "1000", "25e-2": "0.25", "1.500000": "1.5",
		"9000000000000": "9000000000000", "0.000001": "0.000001", "-0.000001": "-0.000001"} {
		d, err := Parse(text)
		if want == "" {
			want = "-0.5"
		}
		require.NoError(t, err, text)
		assert.Equal(t, want, d.String(), text)
	}
	for text, why := range map[string]error{"": ErrSyntax, "x": ErrSyntax, "1.2.3": ErrSyntax,
		"0x10": ErrSyntax, "1_000": ErrSyntax, "1/2": ErrSyntax, "NaN": ErrSyntax, "Infinity": ErrSyntax,
		"0.1234567": ErrPlaces, "1e-7": ErrPlaces, "10000000000000": ErrRange, "1e99": ErrRange, "1e9999": ErrRange} {
		_, err := Parse(text)
		assert.ErrorIs(t, err, why, text)
	}
	assert.Equal(t, "12.50", Must("12.5").Text(2))
	assert.Equal(t, "-3", Must("-2.5").Text(0))
	assert.Equal(t, "−0.5", Must("-0.5").Signed())
	assert.Equal(t, Must("-5.25"), Must("−5.25"), "a true minus is read")
	assert.Equal(t, Must("-5e-3"), Must("−5e-3"), "in whatever form")
	_, err := Parse("−−5")
	assert.ErrorIs(t, err, ErrSyntax)
	assert.Equal(t, "−5.25", Must("-5.25").Words())
	assert.Error(t, json.Unmarshal([]byte(`"1"`), new(Decimal)), "a number in quotes is no number")
}

func TestRounding(t *testing.T) {
	for _, c := range []struct {
		in     string
		places int
		want   string
	}{{"0.5", 0, "1"}, {"-0.5", 0, "-1"}, {"0.49", 0, "0"}, {"2.345", 2, "2.35"}, {"-2.345", 2, "-2.35"},
		{"2.344999", 2, "2.34"}, {"7", 4, "7"}} {
		assert.Equal(t, c.want, Must(c.in).Round(c.places).String(), c.in)
	}
	// A product, or a quotient, that lies in the middle of two millionths goes away from zero;
	// one a little less goes toward it.
	for _, sign := range []string{"", "-"} {
		half, less := Must(sign+"0.001"), Must(sign+"0.000999")
		assert.Equal(t, Must(sign+"0.000001"), half.Mul(Must("0.0005")), "1 × 5 ten-millionths")
		assert.Equal(t, Must("0"), less.Mul(Must("0.0005")))
		assert.Equal(t, Must(sign+"0.000001"), Must(sign+"1").Div(FromInt(2_000_000)))
		assert.Equal(t, Must("0"), Must(sign+"1").Div(FromInt(2_000_001)))
		assert.Equal(t, Must(sign+"0.000003"), Must(sign+"5").Div(FromInt(2_000_000)), "2.5 millionths")
	}
	assert.Equal(t, "33.33", FromInt(1).Ratio(100, FromInt(3), 2).String())
	assert.Equal(t, "66.67", FromInt(2).Ratio(100, FromInt(3), 2).String())
	assert.Equal(t, "0", FromInt(2).Ratio(100, 0, 2).String())
	// Rounded once: 0.444445 is not first 0.44445, then 0.4445, then 0.445.
	assert.Equal(t, "0.44", Must("0.444445").Round(2).String())
}

// Within the range arithmetic is that of fractions; beyond it stops at the ends.
func TestArithmeticIsExact(t *testing.T) {
	limit := new(big.Rat).SetFrac64(int64(Max), int64(One))
	clamp := func(r *big.Rat) Decimal {
		switch {
		case r.Cmp(limit) > 0:
			return Max
		case r.Cmp(new(big.Rat).Neg(limit)) < 0:
			return Min
		}
		d, _ := FromRat(r, Places)
		return d
	}
	rapid.Check(t, func(t *rapid.T) {
		a := Decimal(rapid.Int64Range(int64(Min), int64(Max)).Draw(t, "a"))
		b := Decimal(rapid.Int64Range(int64(Min), int64(Max)).Draw(t, "b"))
		if rapid.Bool().Draw(t, "small") {
			a, b = a%(1000*One), b%(1000*One)
		}
		require.Equal(t, clamp(new(big.Rat).Add(a.Rat(), b.Rat())), a.Add(b))
		require.Equal(t, clamp(new(big.Rat).Sub(a.Rat(), b.Rat())), a.Sub(b))
		require.Equal(t, clamp(new(big.Rat).Mul(a.Rat(), b.Rat())), a.Mul(b))
		if b != 0 {
			require.Equal(t, clamp(new(big.Rat).Quo(a.Rat(), b.Rat())), a.Div(b))
		}
		read, err := Parse(a.String())
		require.NoError(t, err)
		require.Equal(t, a, read)
		places := rapid.IntRange(0, 6).Draw(t, "places")
		if a < Max/2 && a > Min/2 {
			want, _ := FromRat(a.Rat(), places)
			require.Equal(t, want, a.Round(places))
		}
	})
}
