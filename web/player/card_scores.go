package player

import (
	"cmp"
	"slices"
	"strings"

	"omphalos/interchange/postcard"
)

// onceRead is all that a picture of scores says, as one text; "" of none.
func (s *scores) onceRead() string {
	if s == nil {
		return ""
	}
	var said []string
	if s.Ruler != nil {
		said = append(said, s.Ruler.Words())
	}
	for _, row := range s.Rows {
		said = append(said, row.Name, row.Text)
	}
	return strings.Join(said, "\n")
}

// line is the ruler as a card has it; nil of none, and where its ends are not known.
func (s *scores) line() *postcard.Score {
	if s == nil || s.Ruler == nil || s.Ruler.X < 0 {
		return nil
	}
	r := s.Ruler
	share := func(x float64) float64 { return (x - rulerRoom) / (rulerWidth - 2*rulerRoom) }
	line := &postcard.Score{Words: r.Words(), At: share(r.X), From: share(r.From), To: share(r.To)}
	for _, cut := range r.Cuts {
		line.Cuts = append(line.Cuts, share(cut))
	}
	return line
}

// bars are the rows as a card has them, a wheel's too: where there are more than fit, those on
// which somebody came furthest.
func (s *scores) bars() []postcard.Bar {
	if s == nil {
		return nil
	}
	rows := s.Rows
	if len(rows) > postcard.MostBars {
		rows = slices.Clone(rows)
		slices.SortStableFunc(rows, func(a, b scoreRow) int { return cmp.Compare(b.Share, a.Share) })
		rows = rows[:postcard.MostBars]
	}
	var bars []postcard.Bar
	for _, row := range rows {
		bars = append(bars, postcard.Bar{Name: row.Name, Words: row.Text, Share: row.Share, First: row.First})
	}
	return bars
}
