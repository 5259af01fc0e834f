package formula

import (
	"math/big"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"omphalos/core/decimal"
)

var names = NamesOf([]string{"need", "budget", "size"})

var values = map[string]decimal.Decimal{
	"need":   decimal.Must("0.1"),
	"budget": decimal.Must("0.2"),
	"size":   decimal.FromInt(-7),
}

func eval(t *testing.T, source string, places int) (string, Notes) {
	t.Helper()
	f, err := Compile(source, names)
	require.NoError(t, err, source)
	d, notes := f.Eval(places, func(i int) decimal.Decimal { return values[f.Names()[i]] })
	return d.String(), notes
}

func TestFormulasAreExact(t *testing.T) {
	for source, want := range map[string]string{
		"need + budget":                         "0.3",
		"(need + budget) * 10 == 3 ? 1 : 0":     "1", // binary floating point says 0
		"1 / 3":                                 "0.3333",
		"2 / 3":                                 "0.6667",
		"-2 / 3":                                "-0.6667",
		"1.00005":                               "1.0001", // half away from zero
		"-1.00005":                              "-1.0001",
		"10 / 4 * 4":                            "10",
		"1 / 3 * 3":                             "1", // nothing is rounded on the way
		"min(need, budget, 3)":                  "0.1",
		"max(need, size)":                       "0.1",
		"abs(size) + round(2.5) + round(-2.5)":  "7",
		"floor(size / 2) + ceil(size / 2)":      "-7",
		"need > 0 and not (budget < 0) ? 5 : 6": "5",
		"size >= 0 or budget != 0.2 ? 1 : 2":    "2",
		"100 * need":                            "10",
	} {
		got, _ := eval(t, source, 4)
		assert.Equal(t, want, got, source)
	}
}

// Division by zero gives 0, what is beyond the range stops at its end; both are noted.
func TestFormulasNeverFail(t *testing.T) {
	got, notes := eval(t, "5 / (need - need) + 2", 2)
	assert.Equal(t, "2", got)
	assert.True(t, notes.DividedByZero)
	got, notes = eval(t, "1000000000000 * 1000000000000 * -1", 2)
	assert.Equal(t, decimal.Min.String(), got)
	assert.True(t, notes.OutOfRange)
	_, notes = eval(t, "need", 2)
	assert.Equal(t, Notes{}, notes)
}

func TestWhatIsNoFormulaIsToldWithItsPlace(t *testing.T) {
	for source, want := range map[string]struct {
		at   int
		says string
	}{
		"need + bugdet":   {7, "There is no scale and no number “bugdet” here"},
		"need +":          {5, "Something is missing after “+”"},
		"need + * budget": {7, "Something is missing before “*”"},
		"need budget": {5,
			"Something is missing between “need” and “budget”, such as + or *"},
		"(need + 1":        {8, "A bracket ( is not closed"},
		"need + 1)":        {8, "There is no bracket ( before this )"},
		"need = 3 ? 1 : 2": {5, "Equality is written =="},
		"need × 3":         {5, "“×” is written *"},
		"need + 2 €":       {9, "“€” has no meaning in a formula"},
		"1,5 + need":       {1, "A decimal is written with a point, such as 1.5"},
		"": {0,
			"The formula is empty: name a scale or a question whose answer is a number"},
		"need > 1": {5,
			"A comparison gives no number: write what it shall be, such as need > 3 ? 1 : 0"},
		`"a" + "b"`:                            {0, "made of numbers"},
		"need + 'x'":                           {5, "A formula counts with numbers, not with words in quotation marks"},
		"need ? 1 : 2":                         {0, "A condition before ? compares numbers, such as need > 3"},
		"len(need)":                            {0, "There is no scale and no number “len” here"},
		"map([1], # * 2)":                      {0, "made of numbers"},
		"need ** 2":                            {5, "“**” is not part of formulas, which know + - * /"},
		"min()":                                {0, "min takes one number or more, in brackets"},
		"round(need, 2)":                       {0, "round takes one number, in brackets"},
		"7 % 3":                                {2, "“%” is not part of formulas, which know + - * /"},
		strings.Repeat("1+", 600) + "1":        {1000, "at most 1000 characters"},
		strings.Repeat("need * ", 20) + "need": {82, "Too much is multiplied and divided with one another here"},
		"let x = 1; x":                         {0, ""},
		"1" + strings.Repeat("0", 40):          {0, ""},
		strings.Repeat("-", 400) + "need":      {0, ""},
	} {
		_, err := Compile(source, names)
		var wrong *Error
		if assert.ErrorAs(t, err, &wrong, source) && want.says != "" {
			assert.Contains(t, wrong.Message, want.says, source)
			assert.Equal(t, want.at, wrong.At, source)
		}
	}
}

// Bounds of a formula hold its value, whatever its names are between their own.
func TestRangesHoldEveryValue(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		source := rapid.SampledFrom([]string{"need * budget - size", "need / budget",
			"(need - 3) * (size + 1) / 2", "max(need, size, 2) * abs(budget)",
			"need > 1 ? budget : -size", "floor(need / 3) + ceil(size) - round(budget)", "min(need, 0 - budget) * size"}).
			Draw(t, "formula")
		f, err := Compile(source, names)
		require.NoError(t, err)
		given, low, high := make([]decimal.Decimal, 3), make([]*big.Rat, 3), make([]*big.Rat, 3)
		for i := range given {
			tenths := rapid.SliceOfN(rapid.IntRange(-50, 50), 3, 3).Draw(t, "tenths")
			slices.Sort(tenths)
			given[i] = decimal.Decimal(tenths[1]) * decimal.One / 10
			if rapid.Bool().Draw(t, "bounded below") {
				low[i] = big.NewRat(int64(tenths[0]), 10)
			}
			if rapid.Bool().Draw(t, "bounded above") {
				high[i] = big.NewRat(int64(tenths[2]), 10)
			}
		}
		value, _ := f.Eval(4, func(i int) decimal.Decimal { return given[i] })
		slow, _ := decimal.FromRat(f.root.exact(func(i int) decimal.Decimal { return given[i] }, new(Notes)), 4)
		require.Equal(t, slow, value, "on 64 bits as on any number of them")
		least, most := f.Range(func(i int) (*big.Rat, *big.Rat) { return low[i], high[i] })
		slack := big.NewRat(1, 20000) // rounding
		require.False(
			t,
			least != nil && new(big.Rat).Add(value.Rat(), slack).Cmp(least) < 0,
			"%s is below %s",
			value,
			least,
		)
		require.False(
			t,
			most != nil && new(big.Rat).Sub(value.Rat(), slack).Cmp(most) > 0,
			"%s is above %s",
			value,
			most,
		)
	})
}

// FuzzFormula: whatever compiles gives the same value twice and never panics;
// what does not has a place within the text.
func FuzzFormula(f *testing.F) {
	for _, seed := range []string{"(need + budget) / 2", "need > 3 ? size : -size",
		"min(1, max(need, 2.5)) / 3", "1e5 * 0.1", "not (need == 1) ? 1 : 0"} {
		f.Add(seed)
	}
	f.Fuzz(func(t *testing.T, source string) {
		formula, err := Compile(source, names)
		if err != nil {
			var wrong *Error
			require.ErrorAs(t, err, &wrong)
			require.LessOrEqual(t, wrong.At, len(source))
			return
		}
		value := func(i int) decimal.Decimal { return values[formula.Names()[i]] }
		first, _ := formula.Eval(4, value)
		second, _ := decimal.FromRat(formula.root.exact(value, new(Notes)), 4)
		require.Equal(t, second, first)
	})
}
