package sheet

import (
	"slices"
	"strings"

	"golang.org/x/text/currency"

	"omphalos/core/edit"
	"omphalos/core/quiz"
	"omphalos/web/studio/desk"
)

// A scaleRow is a scale as it is set up under the ledger.
type scaleRow struct {
	*quiz.Scale
	Path     quiz.Pointer
	Key      string
	Column   int
	Kinds    []choice
	Methods  []choice
	Outcomes []choice
	Others   []choice // keywords that it can be merged into
	Names    []string // what a formula can name
	Fees     []feeRow
	Decimals string
	Fraction bool // it is rounded to decimals
	Counts   bool // it starts at 0 and is a sum
	Mind     *mind
	First    bool
	Last     bool
}

type feeRow struct {
	*quiz.Fee
	Path quiz.Pointer
}

var scaleKinds = []choice{
	{string(quiz.Points), "points", ""},
	{string(quiz.Keyword), "a keyword", ""},
	{string(quiz.Pull), "a pull", ""},
	{string(quiz.Money), "money", ""},
}

var methods = []choice{
	{string(quiz.Sum), "a sum", ""},
	{string(quiz.Mean), "the mean of what is answered", ""},
	{string(quiz.Percent), "percent of what could be reached", ""},
	{string(quiz.Formula), "a formula", ""},
}

// currencies are those that come first; any other code of ISO 4217 can be typed.
var currencies = []string{
	currency.EUR.String(),
	currency.USD.String(),
	currency.GBP.String(),
	currency.CHF.String(),
	currency.SEK.String(),
	currency.DKK.String(),
	currency.PLN.String(),
}

// A scalesPart is the scales as they are set up.
type scalesPart struct {
	Before     threadRow
	Scales     []scaleRow
	Keywords   []string
	Currencies []string
}

func (sh *Sheet) scales() []scaleRow {
	var rows []scaleRow
	keys := quiz.InOrder(sh.Doc.Scales)
	for i, k := range keys {
		s := sh.Doc.Scales[k]
		path := quiz.At("scales", k)
		r := scaleRow{
			Scale:    s,
			Key:      k,
			Path:     path,
			Column:   i,
			Kinds:    scaleKinds,
			Methods:  methods,
			Outcomes: sh.choices(),
			Mind:     sh.mind(path),
			First:    i == 0,
			Last:     i == len(keys)-1,
			Counts: s.Kind == quiz.Keyword ||
				s.Kind == quiz.Pull,
			Fraction: s.Method == quiz.Mean || s.Method == quiz.Percent || s.Method == quiz.Formula,
		}
		if s.Decimals != nil {
			r.Decimals = string(rune('0' + *s.Decimals))
		}
		if s.Method == quiz.Formula {
			r.Names = slices.DeleteFunc(sh.Doc.FormulaNames(), func(name string) bool { return name == k })
		}
		for _, other := range keys {
			if o := sh.Doc.Scales[other]; other != k && s.Kind == quiz.Keyword && o.Kind == quiz.Keyword {
				r.Others = append(r.Others, choice{other, o.Name, ""})
			}
		}
		for _, fee := range quiz.InOrder(s.Fees) {
			r.Fees = append(r.Fees, feeRow{s.Fees[fee], path.Join("fees", fee)})
		}
		rows = append(rows, r)
	}
	return rows
}

// NewFee returns the patch that adds a fee to the scale.
func (r scaleRow) NewFee() string {
	for i := 1; ; i++ {
		key := "fee_" + desk.Itoa(uint(i))
		if r.Scale.Fees[key] == nil {
			fresh := &quiz.Fee{Order: float64(i)}
			return desk.PatchText([]edit.Op{{Op: "add", Path: r.Path.Join("fees", key), Value: fresh}})
		}
	}
}

// A keywordTag is a keyword on an answer.
type keywordTag struct{ Name, Remove string }

// tags returns the keywords of an answer.
func (sh *Sheet) tags(a *quiz.Answer, path quiz.Pointer) []keywordTag {
	var list []keywordTag
	for _, k := range quiz.InOrder(sh.Doc.Scales) {
		if s := sh.Doc.Scales[k]; s.Kind == quiz.Keyword && a.Adds[k] != 0 {
			list = append(list, keywordTag{strings.TrimSpace(s.Name), desk.Removal(path.Join("adds", k))})
		}
	}
	return list
}

// tagging tells whether the quiz has keywords.
func (sh *Sheet) tagging() bool {
	for _, s := range sh.Doc.Scales {
		if s.Kind == quiz.Keyword {
			return true
		}
	}
	return false
}

// keywords are the names of the keywords, to choose from while typing.
func (sh *Sheet) keywords() []string {
	var names []string
	for _, k := range quiz.InOrder(sh.Doc.Scales) {
		if s := sh.Doc.Scales[k]; s.Kind == quiz.Keyword {
			names = append(names, s.Name)
		}
	}
	return names
}
