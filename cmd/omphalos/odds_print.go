package main

import (
	"fmt"
	"io"
	"maps"
	"slices"
	"strings"
	"text/tabwriter"

	"omphalos/core/decimal"
	"omphalos/core/odds"
	"omphalos/core/program"
	"omphalos/core/quiz"
)

// printOdds writes odds as tables, and each scale as a histogram.
func printOdds(out io.Writer, p *program.Program, o *odds.Odds) error {
	q := p.Quiz
	w := tabwriter.NewWriter(out, 0, 0, 2, ' ', 0)
	fmt.Fprintln(w, q.Title)
	if s := o.Sampled; s != nil {
		fmt.Fprintf(
			w,
			"sampled over %d passages with seed %d: standard error at most %.2f %%\n",
			s.Size,
			s.Seed,
			100*s.Error(0.5),
		)
	} else {
		fmt.Fprintln(w, "exact")
	}
	if len(o.Faults) > 0 {
		fmt.Fprintf(w, "the exact odds did not add up and are not shown (a fault of omphalos): %s\n",
			strings.Join(o.Faults, ", "))
	}
	for _, a := range o.Assumed {
		fmt.Fprintf(w, "assumed of %s: %s\n", a.Question, assumedWords(p, a))
	}
	if o.Partial {
		fmt.Fprintln(w, "not every kind of visitor was followed: what is none met may be reached by others")
	}
	about := func(exact bool) string {
		if exact {
			return ""
		}
		return "\t±"
	}
	fmt.Fprintf(w, "\nOUTCOME\tSHARE%s\n", about(o.ExactOutcomes()))
	for _, k := range quiz.InOrder(q.Outcomes) {
		share, reached := o.Outcomes[k]
		fmt.Fprintf(w, "%s\t%s", q.Outcomes[k].Name, shareText(share, reached, !o.Possible[k]))
		if !o.ExactOutcomes() {
			fmt.Fprintf(w, "\t%.2f %%", 100*o.Sampled.Error(share))
		}
		fmt.Fprintln(w)
		if landings := quiz.InOrder(q.Outcomes[k].Landings); len(landings) > 1 {
			for _, l := range landings {
				share, reached := o.Landings[k][l]
				fmt.Fprintf(w, "  %s\t%s\n", l, shareText(share, reached, o.ExactOutcomes() && !o.Partial))
			}
		}
	}
	fmt.Fprintf(w, "\nQUESTION\tSEEN BY%s\n", about(true))
	for i := range len(p.Questions) {
		key := p.Key(i)
		share, reached := o.Seen[key]
		fmt.Fprintf(w, "%s\t%s\n", key, shareText(share, reached, o.ExactPath() && !o.Partial))
		for _, name := range p.Names(i) {
			fmt.Fprintf(w, "  %s\t%s\n", name, shareText(o.Answers[key][name], reached, o.ExactPath() && !o.Partial))
		}
	}
	fmt.Fprintf(w, "\nquestions asked\t%.2f on average, %d at the most\n", o.Questions(), len(o.Lengths)-1)
	if o.ExactPath() {
		fmt.Fprintf(w, "passages\t%s\n", o.Passages)
	}
	fmt.Fprintf(w, "combinations\t%s\n", o.Answered)
	for _, end := range slices.Sorted(maps.Keys(o.Ends)) {
		fmt.Fprintf(w, "%s\t%s\n", end, shareText(o.Ends[end], true, true))
	}
	for _, step := range slices.Sorted(maps.Keys(o.Ties)) {
		fmt.Fprintf(w, "ties in %s\t%s\n", step, shareText(o.Ties[step], true, true))
	}
	if err := w.Flush(); err != nil {
		return err
	}
	for _, k := range p.ScaleKeys() {
		histogram(out, q.Scales[k], o.Scores[k], o.ExactScale(k))
	}
	return nil
}

// assumedWords says what odds rest on that nobody has stated.
func assumedWords(p *program.Program, a odds.Assumed) string {
	if a.Because == "no limits" {
		return "it has no limits, so every stretch that something tells apart is as likely as the others"
	}
	names := p.Names(p.Position(a.Question))
	return "as many answer one way as another: " + strings.Join(names, "; ")
}

// shareText writes a share; proven tells that what nobody was met at is out of reach.
func shareText(share float64, reached, proven bool) string {
	switch {
	case !reached && proven:
		return "out of reach"
	case !reached:
		return "none met"
	}
	return fmt.Sprintf("%6.2f %%", 100*share)
}

func withinWords(b odds.Bounds) string {
	end := func(d *decimal.Decimal, open string) string {
		if d == nil {
			return open
		}
		return d.String()
	}
	if b.Low == nil && b.High == nil {
		return "any bound: it is unbounded"
	}
	return end(b.Low, "no end below") + " to " + end(b.High, "no end above")
}

const (
	mostBars = 32
	barWidth = 48
)

// histogram draws a scale lying down, several scores to a bar where there are many.
func histogram(out io.Writer, scale *quiz.Scale, s *odds.Scale, exact bool) {
	fmt.Fprintf(out, "\n%s: %s to %s, mean %.2f, spread %.2f", scale.Name, s.Lowest(), s.Highest(), s.Mean, s.Spread)
	if !exact {
		fmt.Fprintf(out, ", sampled; never beyond %s", withinWords(s.Within))
	}
	named, parted := 0.0, 0.0
	for _, p := range s.Points {
		named, parted = named+p.Named, parted+p.Parted
	}
	if named+parted > 0 {
		fmt.Fprintf(
			out,
			"; of all: %.2f %% sent to an outcome, %.2f %% parted with before the decision",
			100*named,
			100*parted,
		)
	}
	fmt.Fprintln(out)
	if len(s.Points) == 0 {
		return
	}
	type bar struct {
		from, to decimal.Decimal
		share    float64
	}
	each := (len(s.Points) + mostBars - 1) / mostBars
	var bars []bar
	most := 0.0
	for points := range slices.Chunk(s.Points, each) {
		b := bar{from: points[0].Score, to: points[len(points)-1].Score}
		for _, p := range points {
			b.share += p.Share
		}
		bars, most = append(bars, b), max(most, b.share)
	}
	w := tabwriter.NewWriter(out, 0, 0, 1, ' ', tabwriter.AlignRight)
	for _, b := range bars {
		label := b.from.String()
		if b.to != b.from {
			label += " to " + b.to.String()
		}
		eighths := int(8*barWidth*b.share/most + 0.5)
		drawn := strings.Repeat("█", eighths/8)
		if rest := eighths % 8; rest > 0 {
			drawn += string([]rune(" ▏▎▍▌▋▊▉")[rest])
		}
		fmt.Fprintf(w, "%s\t%6.2f %%\t %s\n", label, 100*b.share, drawn)
	}
	_ = w.Flush() // to a writer whose errors the caller sees
}
