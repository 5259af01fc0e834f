package slice

import (
	"context"
	"io"
	"maps"
	"slices"

	"omphalos/core/decimal"
	"omphalos/core/inference"
	"omphalos/core/odds"
	"omphalos/core/quiz"
	"omphalos/interchange/rows"
	"omphalos/store"
	"omphalos/store/tally"
)

// An Out is a slice on its way into a file.
type Out struct {
	Responses *store.Responses
	Quiz      uint       // its number
	Shown     *quiz.Quiz // whose columns come first
	Releases  []store.Release
	Slice     Slice
	Format    rows.Format
	Words     bool // a second line with words, in CSV
}

// Write writes the responses of the slice, and calls after some of them: what has been written
// then can be sent. A workbook has a sheet with the questions and
// one with the figures behind the responses. The file is whole where err is nil.
func (o Out) Write(ctx context.Context, to io.Writer, after func(written int) error) error {
	table, with := NewTable(o.Shown, o.Releases, o.Responses.Zone()), rows.Options{Name: "Responses", Words: o.Words}
	if o.Format == rows.Workbook {
		with.More = []rows.Sheet{Questions(o.Shown), {}}
		screened, err := o.Responses.Screened(ctx, o.Quiz, o.Slice.All())
		if err != nil {
			return err
		}
		err = o.Responses.Tally(ctx, o.Quiz, func(t *tally.Tally) {
			with.More[1] = Figures(PoolOf(o.Shown, o.Releases), t.Slice(o.Slice.All()...), screened)
		})
		if err != nil {
			return err
		}
	}
	w, err := rows.New(o.Format, to, table.Columns, with)
	if err != nil {
		return err
	}
	written := 0
	one := func(r *store.Response) error {
		written++
		return w.Row(table.Row(r))
	}
	between := func() error {
		if err := w.Flush(); err != nil {
			return err
		}
		return after(written)
	}
	if err := o.Responses.EachOf(ctx, o.Quiz, o.Slice.All(), one, between); err != nil {
		return err
	}
	if err := w.Close(); err != nil {
		return err
	}
	return after(written)
}

// Figures is a sheet with what a slice comes to: how many have each outcome and each answer,
// and the mean of each scale and each question with numbers. Shares are of those who have an
// outcome, screened out or not, or answered. Scores are of the releases that weigh as the
// newest does.
func Figures(p *Pool, of tally.Slice, screened []odds.Screened) rows.Sheet {
	q, out := p.Quiz, map[string]int{}
	for _, s := range screened {
		out[s.Outcome] += s.Count
	}
	s := rows.Sheet{Name: "Figures", Columns: []rows.Column{
		{Key: "column", Words: "Column"}, {Key: "value", Words: "Value"}, {Key: "label", Words: "What it says"},
		{Key: "count", Words: "How many", Kind: rows.Whole}, {Key: "share", Words: "Share", Kind: rows.Number},
		{Key: "mean", Words: "Mean", Kind: rows.Number},
	}}
	counts := func(column string, property tally.Property, label func(value string) string) {
		counts, all := of.Split(property), 0
		if property.Kind == tally.Outcome {
			counts = Together(counts, out)
		}
		for _, c := range counts {
			all += c.Count
		}
		if property.Kind == tally.Answer && property.Row == "" { // several can be chosen
			all = of.And(tally.Part{Of: tally.Property{Kind: tally.Answered, Key: property.Key}, Values: []string{""}}).Count()
		}
		for _, c := range counts {
			share := decimal.FromInt(int64(c.Count)).Div(decimal.FromInt(int64(all)))
			s.Rows = append(s.Rows, []rows.Cell{
				rows.Said(column), rows.Said(c.Value), rows.Said(label(c.Value)), rows.Counted(int64(c.Count)),
				{Given: true, N: int64(share)}, {},
			})
		}
	}
	mean := func(of tally.Slice, column string, property tally.Property, label string) {
		if bins, n := of.Values(property, 1), 0; len(bins) > 0 {
			for _, b := range bins {
				n += b.Count
			}
			s.Rows = append(s.Rows, []rows.Cell{
				rows.Said(column), {}, rows.Said(label), rows.Counted(int64(n)), {}, {Given: true, N: int64(inference.Mean(bins))},
			})
		}
	}
	counts("outcome", tally.Property{Kind: tally.Outcome}, func(value string) string {
		if o := q.Outcomes[value]; o != nil {
			return o.Name
		}
		return ""
	})
	for _, key := range quiz.InOrder(q.Scales) {
		mean(p.ScoredAlike(of), "score."+key, tally.Property{Kind: tally.Score, Key: key}, q.Scales[key].Name)
	}
	for _, key := range append(p.Newest.QuestionKeys(), p.Before...) {
		asked := q.Questions[key]
		label := func(value string) string {
			if a := asked.Answers[value]; a != nil {
				return a.Label
			}
			return ""
		}
		switch {
		case asked.Kind == quiz.Grid:
			for _, row := range quiz.InOrder(asked.Rows) {
				counts("answer."+key+"."+row, tally.Property{Kind: tally.Answer, Key: key, Row: row}, label)
			}
		case asked.Kind.Numeric():
			mean(of, "answer."+key, tally.Property{Kind: tally.Amount, Key: key}, asked.Label)
		default:
			counts("answer."+key, tally.Property{Kind: tally.Answer, Key: key}, label)
		}
	}
	return s
}

// Together adds counts of values to others.
func Together(counts []tally.Count, more map[string]int) []tally.Count {
	for _, value := range slices.Sorted(maps.Keys(more)) {
		i := slices.IndexFunc(counts, func(c tally.Count) bool { return c.Value == value })
		if i < 0 {
			i, counts = len(counts), append(counts, tally.Count{Value: value})
		}
		counts[i].Count += more[value]
	}
	return counts
}
