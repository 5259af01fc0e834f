package learn

import (
	"fmt"
	"math"
	"slices"
	"strconv"
	"strings"

	"github.com/gin-gonic/gin"

	"omphalos/core/decimal"
	"omphalos/core/edit"
	"omphalos/core/excerpt"
	"omphalos/core/inference"
	"omphalos/core/odds"
	"omphalos/core/program"
	"omphalos/core/quiz"
	"omphalos/store"
	"omphalos/web/studio/desk"
)

// An aimed band is what it takes now and what it would take.
type aimed struct {
	Key           desk.Share
	Field         string // of the wanted share
	Wanted        string
	Was           string // as the form shows it, if nobody changes it
	Band          int
	Asked         bool   // it was asked for; the others fill the rest
	Before, After string // shares
	From, FromNow string // the score at which it begins
	Won, Lost     [2]int // before, after
}

// An aimRuler is how scores are distributed, with the cuts as they are and as they would be.
type aimRuler struct {
	Bars      []aimBar
	Now, Then []aimCut
}

type aimBar struct{ X, Y, Width, Height float64 }

type aimCut struct {
	X    float64
	Text string
}

func (s *Room) aimed(c *gin.Context, z *store.Quiz, in *sliced) (*aimPage, error) {
	ctx := c.Request.Context()
	page := &aimPage{Frame: s.Frame(c, z.Title, "learn", z), whatIf: in.slice.whatIf("aim"),
		Chips: in.slice.words(), Hidden: in.slice.hide(),
		Way: c.DefaultQuery("way", byShares), Source: c.DefaultQuery("scores", "observed"),
		Wanted: c.Query("wanted"), Part: c.DefaultQuery("part", "30")}
	q, problems, err := z.Checked()
	if err != nil {
		return nil, err
	}
	p, err := program.CompileDraft(q, problems)
	if err != nil {
		page.Wrong = "The draft can’t be walked yet: its findings say what is missing."
		return page, nil
	}
	key, step := firstBands(q)
	if step == nil || step.Scale == "" || len(step.Cuts) == 0 {
		page.Wrong = "The draft’s decision has no bands with a cut: there is nothing to aim. Add bands " +
			"of a score on the sheet."
		return page, nil
	}
	page.Scale = q.Scales[step.Scale].Name
	seen, err := s.sight(ctx, z, in, p, p.ScaleIndex[step.Scale])
	if err != nil {
		return nil, err
	}
	page.Count, page.Few = seen.count, seen.count < fewest
	points := odds.PointsOf(seen.all, mostPointsAimed)
	if page.Source == "exact" {
		if o := expected(ctx, p); o != nil && o.Scores[step.Scale] != nil {
			points = o.Scores[step.Scale].Decided()
		}
	}
	other := "exact"
	if page.Source == "exact" {
		other = "observed"
	}
	page.Other = in.aimAt(c, "scores", other)
	page.Adopt = takenAt(c)
	if len(points) == 0 {
		return page, nil
	}
	weeks := max(seen.newest.Sub(seen.oldest).Hours()/(24*7), 1.0/7)
	page.Week = fmt.Sprintf("%.0f", float64(seen.count)/weeks)
	page.place(c, q, key, step, points, seen, weeks)
	return page, nil
}

// place fills in what the bands take now, what is wanted, and what the nearest cuts would take.
func (p *aimPage) place(c *gin.Context, q *quiz.Quiz, key string, step *quiz.Step, points []odds.Point,
	seen *sighting, weeks float64) {
	cuts := step.CutKeys()
	now := []decimal.Decimal{decimal.Min}
	outcomes := []string{step.Lowest}
	for _, k := range cuts {
		now, outcomes = append(now, step.Cuts[k].At), append(outcomes, step.Cuts[k].Outcome)
	}
	before := odds.SharesAt(points, now)
	wanted, asked := p.wanted(c, before, weeks, seen.count)
	at, after := now, before
	if asked {
		found, shares, err := (&odds.Scale{Points: points}).Aim(wanted)
		if err != nil {
			p.Wrong = "There are fewer different scores than bands: take a cut away on the sheet, or " +
				"weigh the answers more finely."
		} else {
			at, after = append([]decimal.Decimal{decimal.Min}, found...), shares
		}
	}
	var ops []edit.Op
	for i, k := range cuts {
		if at[i+1] != now[i+1] {
			ops = append(ops, edit.Op{Op: "add", Path: quiz.At("decision", "steps", key, "cuts", k, "at"), Value: at[i+1]})
		}
	}
	if len(ops) > 0 {
		p.Patch = desk.PatchText(ops)
	}
	wants, are, come := wantedTexts(wanted), inference.Percents(before), inference.Percents(after)
	for i := len(outcomes) - 1; i >= 0; i-- {
		one := aimed{Key: shownOutcome(q, outcomes[i]), Field: "share." + strconv.Itoa(i),
			Before: are[i], After: come[i],
			From: "the lowest", FromNow: "the lowest", Wanted: wants[i],
			Band: i, Asked: p.asked != nil && p.asked[i]}
		one.Was = one.Wanted
		if typed := c.Query(one.Field); p.Wrong != "" && typed != "" {
			one.Wanted = typed // it is still there
		}
		if outcomes[i] == "" {
			one.Key.Name = "goes on to the next step"
		}
		if i > 0 {
			one.From, one.FromNow = at[i].String(), now[i].String()
		}
		one.Won = [2]int{inBand(seen.won, now, i), inBand(seen.won, at, i)}
		one.Lost = [2]int{inBand(seen.lost, now, i), inBand(seen.lost, at, i)}
		p.Lines = append(p.Lines, one)
	}
	p.Ruler = aimRulerOf(points, now[1:], at[1:])
}

// wanted are the shares that are wanted of the bands, from the lowest, and whether any were asked for.
// Those that are not named keep their proportions.
func (p *aimPage) wanted(c *gin.Context, before []float64, weeks float64, count int) (list []float64, asked bool) {
	list = slices.Clone(before)
	highest := -1.0
	switch p.Way {
	case byWeek:
		if n, ok := p.number(p.Wanted, "how many a week", math.MaxInt32); ok && count > 0 {
			highest = min(n*weeks/float64(count), 1)
		}
	case byWins:
		if n, ok := p.number(p.Part, "a part in percent", 100); ok && c.Query("way") != "" {
			highest = n / 100
		}
	default:
		return p.shares(c, before)
	}
	if highest < 0 {
		return list, false
	}
	return odds.WithHighest(before, highest), true
}

// shares are those that are typed for bands: what was changed from what the form showed, now or
// before, is what is asked for; the others fill the rest, for everybody to see.
func (p *aimPage) shares(c *gin.Context, before []float64) (list []float64, any bool) {
	list, p.asked = slices.Clone(before), make([]bool, len(before))
	stood := wantedTexts(before)
	for i := range list {
		field := "share." + strconv.Itoa(i)
		typed := c.Query(field)
		n, ok := p.number(typed, "a share in percent", 100)
		if !ok {
			continue
		}
		list[i] = n / 100
		p.asked[i] = slices.Contains(c.QueryArray("asked"), strconv.Itoa(i)) || typed != c.DefaultQuery("was."+
			strconv.Itoa(i), stood[i])
		any = any || p.asked[i]
	}
	if p.Wrong != "" || !any {
		return slices.Clone(before), false
	}
	scaled, err := odds.Rescaled(list, p.asked)
	if err != nil {
		p.Wrong = desk.SentenceOf(err.Error())
		return slices.Clone(before), false
	}
	return scaled, true
}

// wantedTexts writes the shares of bands in percent, to a tenth, so that they come to 100.
func wantedTexts(shares []float64) []string {
	list, thousandths := make([]string, len(shares)), make([]float64, len(shares))
	for i, share := range shares {
		thousandths[i] = 1000 * share
	}
	for i, n := range inference.Apportion(1000, thousandths) {
		list[i] = (decimal.FromInt(int64(n)) / 10).String()
	}
	return list
}

// number reads what is wanted; what is none is told, and asks for nothing.
func (p *aimPage) number(text, what string, most float64) (float64, bool) {
	text = strings.TrimSpace(text)
	if text == "" {
		return 0, false
	}
	n, err := strconv.ParseFloat(strings.Replace(text, ",", ".", 1), 64)
	if err != nil || !(n >= 0 && n <= most) {
		p.Wrong = fmt.Sprintf("“%s” is not %s: write a number such as 12.5.", excerpt.Line(text, 40), what)
		return 0, false
	}
	return n, true
}

// inBand counts those in a band.
func inBand(counts map[decimal.Decimal]int, from []decimal.Decimal, band int) (n int) {
	for score, many := range counts {
		if odds.BandAt(from, score) == band {
			n += many
		}
	}
	return n
}

// aimRulerOf draws the distribution in bars of one width, with the cuts.
func aimRulerOf(points []odds.Point, now, then []decimal.Decimal) aimRuler {
	low, high := points[0].Score, points[len(points)-1].Score
	for _, cut := range slices.Concat(now, then) {
		low, high = min(low, cut), max(high, cut)
	}
	wide := max((high - low).Float64(), 1e-6)
	bars := min(aimBars, max(len(points), 2))
	heights := make([]float64, bars)
	place := func(score decimal.Decimal) float64 { return (score - low).Float64() / wide }
	for _, p := range points {
		heights[min(int(place(p.Score)*float64(bars)), bars-1)] += p.Share
	}
	most := slices.Max(heights)
	r := aimRuler{}
	each := aimWide / float64(bars)
	for i, h := range heights {
		if h > 0 {
			r.Bars = append(r.Bars, aimBar{float64(i) * each, aimHigh * (1 - h/most), each - 1, aimHigh * h / most})
		}
	}
	for _, of := range []struct {
		cuts []decimal.Decimal
		to   *[]aimCut
	}{{now, &r.Now}, {then, &r.Then}} {
		for _, cut := range of.cuts {
			*of.to = append(*of.to, aimCut{aimWide * place(cut), cut.String()})
		}
	}
	return r
}
