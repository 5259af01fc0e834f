package learn

import (
	"cmp"
	"fmt"
	"math"
	"net/url"
	"slices"
	"strings"
	"time"

	"omphalos/core/decimal"
	"omphalos/core/inference"
	"omphalos/core/quiz"
	"omphalos/store/slice"
	"omphalos/store/tally"
	"omphalos/web/studio/desk"
	"omphalos/web/ui"
)

// A slice is compared with another that the address names beside it: vs=others are all that
// are not in it, vs=before those of as many days before it, and vs.source=search those that
// have another value of a part of the sentence. Whoever is in the slice is not in the other.

// against reads the other slice of a sentence; its field and value, which are "" for none.
func (s *sentence) against(query url.Values) {
	for _, field := range slice.Fields(query) {
		value := query.Get(field)
		if field != "vs" && !strings.HasPrefix(field, "vs.") || value == "" {
			continue
		}
		_, before := s.before()
		of := strings.TrimPrefix(field, "vs.")
		switch {
		case value == "others" && field == "vs" && len(s.Parts) > 0, value == "before" && field == "vs" && before:
		case field != "vs" && s.Asked.Has(of) && of != "from" && of != "to" && s.other(of, value).Parts[of].Of.Kind != "":
		default:
			continue
		}
		s.versus, s.value = field, value
		return
	}
}

// other is the sentence with another value of a field.
func (s *sentence) other(field, value string) slice.Slice {
	fields := url.Values{}
	for f, values := range s.Asked {
		fields[f] = values
	}
	fields[field] = []string{value}
	read, _ := slice.Read(s.releases, fields)
	return read
}

// before is the sentence of as many days before those that it names, and whether it names
// both the first and the last.
func (s *sentence) before() (slice.Slice, bool) {
	from, err1 := time.Parse(time.DateOnly, s.Asked.Get("from"))
	to, err2 := time.Parse(time.DateOnly, s.Asked.Get("to"))
	if err1 != nil || err2 != nil || to.Before(from) {
		return slice.Slice{}, false
	}
	fields := url.Values{}
	for f, values := range s.Asked {
		fields[f] = values
	}
	days := int(to.Sub(from).Hours()/24) + 1
	fields["from"], fields["to"] = []string{from.AddDate(0, 0, -days).Format(time.DateOnly)},
		[]string{from.AddDate(0, 0, -1).Format(time.DateOnly)}
	read, _ := slice.Read(s.releases, fields)
	return read, true
}

// those returns the responses of the other slice.
func (s *sentence) those(t *tally.Tally, in tally.Slice) tally.Slice {
	switch s.value {
	case "others":
		return t.Slice().Without(in)
	case "before":
		read, _ := s.before()
		return t.Slice(read.All()...).Without(in)
	}
	return t.Slice(s.other(strings.TrimPrefix(s.versus, "vs."), s.value).All()...).Without(in)
}

// A versus is a slice that this one can be compared with.
type versus struct {
	Words, Address string
	Chosen         bool
}

// mostVersus is how many other values of a part are offered, mostOffers how many altogether.
const (
	mostVersus = 6
	mostOffers = 60
)

// offers are the slices that this one can be compared with. Where it is all responses, it is
// one part of them against the others.
func (s *sentence) offers(list []desk.Facet) []versus {
	var offers []versus
	offer := func(words, field, value string, fields url.Values) {
		fields.Set(field, value)
		offers = append(offers, versus{words, s.at(fields), s.versus == field && s.value == value})
	}
	if len(s.Parts) > 0 {
		offer("with all others", "vs", "others", s.alone())
	}
	if _, dated := s.before(); dated {
		offer("with as many days before", "vs", "before", s.alone())
	}
	for _, f := range list {
		chosen := s.Asked[f.Field]
		for _, o := range f.Options[:min(len(f.Options), mostVersus)] {
			switch {
			case len(s.Parts) == 0:
				fields := url.Values{f.Field: {o.Value}}
				offer(f.Before+o.Name+" with all others", "vs", "others", fields)
			case len(chosen) > 0 && !slices.Contains(chosen, o.Value):
				offer("with those "+f.Before+o.Name, "vs."+f.Field, o.Value, s.alone())
			}
		}
	}
	for _, field := range slice.Fields(s.Asked) {
		key, ofAnswers := strings.CutPrefix(field, "answer.")
		if asked := s.quiz.Questions[key]; ofAnswers && asked != nil {
			for _, answer := range quiz.InOrder(asked.Answers) {
				if !slices.Contains(s.Asked[field], answer) {
					offer("with those "+s.said(field, []string{answer}), "vs."+field, answer, s.alone())
				}
			}
		}
	}
	return offers[:min(len(offers), mostOffers)]
}

// versusWords says what the slice is compared with.
func (s *sentence) versusWords(list []desk.Facet) string {
	switch s.value {
	case "others":
		return "all others"
	case "before":
		other, _ := s.before()
		return "those from " + other.Asked.Get("from") + " to " + other.Asked.Get("to")
	}
	field := strings.TrimPrefix(s.versus, "vs.")
	for _, f := range list {
		if f.Field != field {
			continue
		}
		for _, o := range f.Options {
			if o.Value == s.value {
				return "those " + f.Before + o.Name
			}
		}
		return "those " + f.Before + s.asking(tally.Kind(field), s.value)
	}
	return "those " + s.said(field, []string{s.value})
}

// A beside is a figure of the other slice, with how far both differ.
type beside struct {
	Count int
	Part  float64
	Width float64 // of a bar of 100
	Words string  // the difference and its interval
	Sure  string  // whether it is chance, "" where that can not be told
}

// A comparing reads a second slice at the places of the first.
type comparing struct {
	in    tally.Slice
	count int
	looks []look
	asked bool // answers are compared, not what came of them
	named bool // the sentence itself is about what is compared: that they differ says nothing
}

// A look is a difference that was looked at.
type look struct {
	chance float64 // how often it is so large where there is nothing behind
	asked  bool    // it is of an answer
	says   string
	of     *beside
	apart  float64 // in standard terms, to put the largest first
}

// share compares how many of all have something in both slices.
func (v *comparing) share(what string, count1, all1, count2, all2 int) *beside {
	difference, low, high := inference.Newcombe(count1, all1, count2, all2)
	b := &beside{Count: count2, Part: part(count2, all2)}
	b.Width = 100 * b.Part
	if v.named || all1 == 0 || all2 == 0 {
		return b
	}
	b.Words = fmt.Sprintf("%s points (%s to %s)", points(difference), points(low), points(high))
	often := "more often"
	if difference < 0 {
		often = "less often"
	}
	says := fmt.Sprintf("%s %s: %s against %s", what, often, ui.Percent(part(count1, all1)), ui.Percent(b.Part))
	v.looks = append(v.looks, look{inference.TwoProportions(count1, all1, count2, all2), v.asked, says, b,
		math.Abs(difference)})
	return b
}

// mean compares the means of numbers in millionths.
func (v *comparing) mean(what string, of1, of2 []tally.Bin) *beside {
	difference, low, high, chance := inference.Welch(of1, of2)
	b := &beside{}
	if v.named || len(of2) == 0 || math.IsInf(low, 0) {
		return b
	}
	signed := func(n float64) string { return decimal.Decimal(rounded(n)).Signed() }
	b.Words = fmt.Sprintf("%s there, which is %s (%s to %s)", rounded(inference.Mean(of2)).Words(),
		signed(difference), signed(low), signed(high))
	says := fmt.Sprintf("%s: a mean of %s against %s", what, rounded(inference.Mean(of1)).Words(),
		rounded(inference.Mean(of2)).Words())
	v.looks = append(v.looks, look{chance, v.asked, says, b, 0})
	return b
}

// about says of which field of the sentence the figures are that are compared next.
func (r *reading) about(field string) {
	if r.versus != nil {
		r.versus.asked = strings.HasPrefix(field, "answer.") || strings.HasPrefix(field, "amount.")
		r.versus.named = r.slice.Asked.Has(field) || r.slice.versus == "vs."+field
	}
}

func part(count, all int) float64 { return float64(count) / float64(max(all, 1)) }

// points writes a difference of shares in percent points.
func points(n float64) string { return decimal.FromInt(int64(math.Round(100 * n))).Signed() }

// mostSaid is how many differences are said in sentences.
const mostSaid = 6

// A comparison is what two slices differ in.
type comparison struct {
	Words string // what it is compared with
	Drop  string // address without it
	Count int
	Few   string // a warning, "" where there are enough on both sides
	Looks int    // how many figures were looked at
	Said  []string
	Need  string // how many more would show the largest difference, where none is sure
}

// The chance that is left out of account, and the one that is hardly any, with all looks
// taken together.
const (
	likely     = 0.05
	veryLikely = 0.01
)

// settle says of each difference whether it is chance, with all of them taken together, and
// puts the surest into sentences.
func (v *comparing) settle(count1 int) comparison {
	c := comparison{Count: v.count, Looks: len(v.looks)}
	if least := min(count1, v.count); least < fewest {
		c.Few = fmt.Sprintf("%s on a side: wait for %d before you believe a difference.",
			ui.Plural(least, "response", "responses"), fewest)
	}
	// What came of them is asked first, and answers, of which there are many, by themselves.
	sure := append(surest(v.looks, false), surest(v.looks, true)...)
	for _, s := range sure[:min(len(sure), mostSaid)] {
		c.Said = append(c.Said, s.says+", "+s.of.Sure)
	}
	return c
}

// surest says of each look, at answers or at what came of them, whether it is chance with all
// of these taken together, and returns those that are not, the surest first.
func surest(looks []look, asked bool) []look {
	var these []look
	var chances []float64
	for _, l := range looks {
		if l.asked == asked {
			these, chances = append(these, l), append(chances, l.chance)
		}
	}
	var sure []look
	for i, together := range inference.Holm(chances) {
		l := these[i]
		switch {
		case together < veryLikely:
			l.of.Sure = "very likely not chance"
		case together < likely:
			l.of.Sure = "likely not chance"
		default:
			l.of.Sure = "may be chance"
			continue
		}
		sure = append(sure, l)
	}
	slices.SortStableFunc(sure, func(a, b look) int {
		return cmp.Or(cmp.Compare(a.chance, b.chance), cmp.Compare(b.apart, a.apart))
	})
	return sure
}

// need says how many more on each side would show that one of them is finished more often, or
// else the largest difference of outcomes, where that is not sure.
func (r *reading) need(list []outcomeFigure) string {
	best, words := 0, ""
	if f := r.flow; f.Beside != nil && f.Beside.Sure == "may be chance" && ui.Percent(f.Beside.Part) != f.FinishedPart {
		over := f.Began - f.Under
		if more := inference.Enough(part(f.Finished, over), f.Beside.Part) - min(over, f.otherOver); more > 0 {
			return fmt.Sprintf("If %s against %s who finish is how it is, about %s on each side would show it.",
				f.FinishedPart, ui.Percent(f.Beside.Part), ui.Plural(more, "more who begin", "more who begin"))
		}
	}
	for _, o := range list {
		if o.Beside == nil || o.Beside.Sure != "may be chance" || ui.Percent(o.Part) == ui.Percent(o.Beside.Part) {
			continue
		}
		enough := inference.Enough(o.Part, o.Beside.Part)
		if more := enough - min(r.count, r.versus.count); more > 0 && (best == 0 || more < best) {
			best = more
			words = fmt.Sprintf("If %s against %s for %s is how it is, about %s on each side would show it.",
				ui.Percent(o.Part), ui.Percent(o.Beside.Part), o.Name, ui.Plural(more, "more response", "more responses"))
		}
	}
	return words
}
