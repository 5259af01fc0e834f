package formula

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"omphalos/core/decimal"
)

var names = []string{"need", "budget", "size"}

var values = map[string]decimal.Decimal{"need": decimal.Must("0.1"), "budget": decimal.Must("0.2"), "size": decimal.FromInt(-7)}

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
		"need + bugdet":                   {7, "unknown name bugdet"},
		"need +":                          {5, "unexpected token"},
		"":                                {0, "unexpected token"},
		"need > 1":                        {5, "no number"},
		`"a" + "b"`:                       {0, "made of numbers"},
		"need ? 1 : 2":                    {0, "bool"},
		"len(need)":                       {0, "unknown name len"},
		"map([1], # * 2)":                 {0, "made of numbers"},
		"need ** 2":                       {5, "no number"},
		"min()":                           {0, "not enough arguments"},
		strings.Repeat("1+", 600) + "1":   {1000, "at most 1000 characters"},
		"7 % 3":                           {2, "no number"},
		"let x = 1; x":                    {0, ""},
		"1" + strings.Repeat("0", 40):     {0, ""},
		strings.Repeat("-", 400) + "need": {0, ""},
	} {
		_, err := Compile(source, names)
		var wrong *Error
		if assert.ErrorAs(t, err, &wrong, source) && want.says != "" {
			assert.Contains(t, wrong.Message, want.says, source)
			assert.Equal(t, want.at, wrong.At, source)
		}
	}
}

// FuzzFormula: whatever compiles gives the same value twice and never panics;
// what does not has a place within the text.
func FuzzFormula(f *testing.F) {
	for _, seed := range []string{"(need + budget) / 2", "need > 3 ? size : -size", "min(1, max(need, 2.5)) / 3", "1e5 * 0.1", "not (need == 1) ? 1 : 0"} {
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
		second, _ := formula.Eval(4, value)
		require.Equal(t, first, second)
	})
}
