package main

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"maps"
	"os"
	"slices"
	"strings"
	"text/tabwriter"
	"time"

	"github.com/spf13/cobra"

	"omphalos/core/decimal"
	"omphalos/core/expect"
	"omphalos/core/odds"
	"omphalos/core/program"
	"omphalos/core/quiz"
	"omphalos/interchange/table"
)

// patience is how many steps somebody at a terminal waits for: some seconds.
const patience = 1 << 24

func oddsCommand() *cobra.Command {
	var asJSON, even bool
	var shares, observed, witness string
	var facts []string
	with := odds.Options{}
	c := &cobra.Command{
		Use: "odds QUIZ.json", Short: "Tell what scores and outcomes a quiz gives before anyone takes it",
		Args: cobra.ExactArgs(1),
		Long: `Odds computes the share of each outcome, landing, question and answer, and how the scores are
distributed, over all passages through a quiz, those that a then ends by name or by parting
included. They are exact where they equal a walk over every answer that can be given, and a sample
with its standard error where that would take too long or where a number has too many values; "out
of reach" is said of what is proven, "none met" of what a sample has not met.

Answers are given as the quiz expects; with --even every answer is as likely as the others; with
--shares as a table says (CSV: question, answer, percent; the answer "-" is passing by); with
--observed as in a table of answers that score reads. --witness OUTCOME (or OUTCOME/LANDING) writes
a set of answers that gets there, as a table that score reads.

The exit status is 0, 1 if no way leads to the witness, 2 if something can't be read.`,
		RunE: func(c *cobra.Command, args []string) error {
			for name, n := range map[string]int{"--steps": with.Steps, "--sample": with.Sample} {
				if n < 1 {
					return fmt.Errorf("%s is %d, and must be 1 or more", name, n)
				}
			}
			p, err := readProgram(c, args[0])
			if err != nil {
				return err
			}
			if with.Visitor, err = visitorOf(facts); err != nil {
				return err
			}
			if witness != "" {
				return writeWitness(c, p, with, witness)
			}
			if with.Shares, err = sharesOf(p, even, shares, observed); err != nil {
				return err
			}
			defer timely(c.Context(), &with)()
			o, err := odds.Of(p, with)
			if errors.Is(err, context.DeadlineExceeded) {
				return errors.New("the odds of this quiz could not be worked out in time")
			}
			if err != nil {
				return err
			}
			if asJSON {
				e := json.NewEncoder(c.OutOrStdout())
				e.SetIndent("", "  ")
				return e.Encode(o)
			}
			return printOdds(c.OutOrStdout(), p, o)
		},
	}
	flags := c.Flags()
	flags.BoolVar(&asJSON, "json", false, "write all of it as JSON")
	flags.BoolVar(&even, "even", false, "every answer is as likely as the others, whatever the quiz expects")
	flags.StringVar(&shares, "shares", "", "table of how often answers are given")
	flags.StringVar(&observed, "observed", "", "table of answers that were given")
	flags.StringVar(&witness, "witness", "", "write answers that get to this outcome, or OUTCOME/LANDING")
	flags.StringArrayVar(&facts, "visitor", nil,
		"a fact of the visitor, such as country=IE; may be given several times")
	flags.IntVar(&with.Steps, "steps", patience, "the most steps of an exact computation")
	flags.IntVar(&with.Sample, "sample", odds.SampleSize, "passages of a sample, beyond that")
	flags.Uint64Var(&with.Seed, "seed", 1, "seed of the sample")
	return c
}

// How long somebody at a terminal waits for what is exact, and for all.
var (
	forExact = 2 * time.Second
	forAll   = 4500 * time.Millisecond
)

// timely puts the bounds of time into options.
func timely(ctx context.Context, with *odds.Options) (stop func()) {
	var stops [2]context.CancelFunc
	with.Exact, stops[0] = context.WithTimeout(ctx, forExact)
	with.Context, stops[1] = context.WithTimeout(ctx, forAll)
	return func() { stops[0](); stops[1]() }
}

func visitorOf(facts []string) (*program.Visitor, error) {
	v := &program.Visitor{}
	for _, f := range facts {
		name, value, found := strings.Cut(f, "=")
		if !found {
			return nil, fmt.Errorf("--visitor %q is no fact such as country=IE or query.name=value", f)
		}
		if err := v.Read(name, value); err != nil {
			return nil, fmt.Errorf("--visitor %s: %w", f, err)
		}
	}
	return v, nil
}

func sharesOf(p *program.Program, even bool, shares, observed string) (expect.Shares, error) {
	switch {
	case even:
		return expect.Shares{}, nil
	case shares != "":
		f, err := os.Open(shares)
		if err != nil {
			return nil, fmt.Errorf("opening the shares: %w", err)
		}
		defer f.Close()
		return table.ReadShares(p, f)
	case observed != "":
		f, err := os.Open(observed)
		if err != nil {
			return nil, fmt.Errorf("opening the answers: %w", err)
		}
		defer f.Close()
		found, n, err := table.Observe(p, f, table.Options{Ignore: true})
		if err == nil && n == 0 {
			err = fmt.Errorf("%s has no answers", observed)
		}
		return found, err
	}
	return nil, nil
}

// writeWitness writes the answers of a passage as the table that score reads.
func writeWitness(c *cobra.Command, p *program.Program, with odds.Options, target string) error {
	outcome, landing, _ := strings.Cut(target, "/")
	if o := p.Quiz.Outcomes[outcome]; o == nil || landing != "" && o.Landings[landing] == nil {
		return fmt.Errorf(
			"there is no outcome %q; the outcomes are %s",
			target,
			strings.Join(quiz.InOrder(p.Quiz.Outcomes), ", "),
		)
	}
	defer timely(c.Context(), &with)()
	in, err := odds.Find(p, with, odds.Target{Outcome: outcome, Landing: landing})
	switch {
	case errors.Is(err, odds.ErrUnreachable):
		fmt.Fprintf(c.ErrOrStderr(), "no way through the quiz leads to %s\n", target)
		return problems
	case errors.Is(err, odds.ErrNotFound):
		fmt.Fprintf(c.ErrOrStderr(), "%v to %s; that there is none is not proven\n", err, target)
		return problems
	}
	if err != nil {
		return err
	}
	return table.WriteAnswers(c.OutOrStdout(), p, in)
}

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
