package main

import (
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"maps"
	"os"
	"slices"
	"strings"
	"text/tabwriter"

	"github.com/spf13/cobra"

	"omphalos/core/decimal"
	"omphalos/core/odds"
	"omphalos/core/passage"
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
		Use: "odds QUIZ.json", Short: "Tell what scores and outcomes a quiz gives before anyone takes it", Args: cobra.ExactArgs(1),
		Long: "Odds computes the share of each outcome, landing, question and answer, and how the scores are distributed, over all\n" +
			"passages through a quiz. They are exact, and a sample with its standard error only where that would take too many steps.\n\n" +
			"Answers are given as the quiz expects; with --even every answer is as likely as the others; with --shares as a table says\n" +
			"(CSV: question, answer, percent; the answer \"-\" is passing by); with --observed as in a table of answers that score reads.\n" +
			"--witness OUTCOME (or OUTCOME/LANDING) writes a set of answers that gets there, as a table that score reads.\n\n" +
			"The exit status is 0, 1 if no way leads to the witness, 2 if something can't be read.",
		RunE: func(c *cobra.Command, args []string) error {
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
			o, err := odds.Of(p, with)
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
	c.Flags().BoolVar(&asJSON, "json", false, "write all of it as JSON")
	c.Flags().BoolVar(&even, "even", false, "every answer is as likely as the others, whatever the quiz expects")
	c.Flags().StringVar(&shares, "shares", "", "table of how often answers are given")
	c.Flags().StringVar(&observed, "observed", "", "table of answers that were given")
	c.Flags().StringVar(&witness, "witness", "", "write answers that get to this outcome, or OUTCOME/LANDING")
	c.Flags().StringArrayVar(&facts, "visitor", nil, "a fact of the visitor, such as country=IE; may be given several times")
	c.Flags().IntVar(&with.Steps, "steps", patience, "the most steps of an exact computation")
	c.Flags().IntVar(&with.Sample, "sample", odds.SampleSize, "passages of a sample, beyond that")
	c.Flags().Uint64Var(&with.Seed, "seed", 1, "seed of the sample")
	return c
}

func visitorOf(facts []string) (*passage.Visitor, error) {
	v := &passage.Visitor{}
	for _, f := range facts {
		name, value, found := strings.Cut(f, "=")
		if !found || !v.Set(name, value) {
			return nil, fmt.Errorf("--visitor %q is no fact such as country=IE or query.name=value", f)
		}
	}
	return v, nil
}

func sharesOf(p *passage.Program, even bool, shares, observed string) (passage.Shares, error) {
	switch {
	case even:
		return passage.Shares{}, nil
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
func writeWitness(c *cobra.Command, p *passage.Program, with odds.Options, target string) error {
	outcome, landing, _ := strings.Cut(target, "/")
	if o := p.Quiz().Outcomes[outcome]; o == nil || landing != "" && o.Landings[landing] == nil {
		return fmt.Errorf("there is no outcome %q; the outcomes are %s", target, strings.Join(quiz.InOrder(p.Quiz().Outcomes), ", "))
	}
	w, err := odds.Witness(p, with.Visitor, with.Steps)
	if err != nil {
		return err
	}
	in, err := w.To(odds.Target{Outcome: outcome, Landing: landing})
	if errors.Is(err, odds.ErrUnreachable) {
		fmt.Fprintf(c.ErrOrStderr(), "no way through the quiz leads to %s\n", target)
		return problems
	}
	if err != nil {
		return err
	}
	return table.WriteAnswers(c.OutOrStdout(), p, in)
}

// printOdds writes odds as tables, and each scale as a histogram.
func printOdds(out io.Writer, p *passage.Program, o *odds.Odds) error {
	q := p.Quiz()
	w := tabwriter.NewWriter(out, 0, 0, 2, ' ', 0)
	fmt.Fprintln(w, q.Title)
	if s := o.Sampled; s != nil {
		fmt.Fprintf(w, "sampled over %d passages with seed %d: standard error at most %.2f %%\n", s.Size, s.Seed, 100*s.Error(0.5))
	} else {
		fmt.Fprintln(w, "exact")
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
		fmt.Fprintf(w, "%s\t%s", q.Outcomes[k].Name, shareText(share, reached, o.ExactOutcomes()))
		if !o.ExactOutcomes() {
			fmt.Fprintf(w, "\t%.2f %%", 100*o.Sampled.Error(share))
		}
		fmt.Fprintln(w)
		if landings := quiz.InOrder(q.Outcomes[k].Landings); len(landings) > 1 {
			for _, l := range landings {
				share, reached := o.Landings[k][l]
				fmt.Fprintf(w, "  %s\t%s\n", l, shareText(share, reached, o.ExactOutcomes()))
			}
		}
	}
	fmt.Fprintf(w, "\nQUESTION\tSEEN BY%s\n", about(true))
	for i := range p.Questions() {
		key := p.Key(i)
		share, reached := o.Seen[key]
		fmt.Fprintf(w, "%s\t%s\n", key, shareText(share, reached, o.ExactPath()))
		for _, name := range p.Names(i) {
			fmt.Fprintf(w, "  %s\t%s\n", name, shareText(o.Answers[key][name], reached, o.ExactPath()))
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
	for _, k := range p.Scales() {
		histogram(out, q.Scales[k], o.Scores[k], o.ExactScale(k))
	}
	return nil
}

func shareText(share float64, reached, exact bool) string {
	switch {
	case !reached && exact:
		return "out of reach"
	case !reached:
		return "none met"
	}
	return fmt.Sprintf("%6.2f %%", 100*share)
}

const (
	mostBars = 32
	barWidth = 48
)

// histogram draws a scale lying down, several scores to a bar where there are many.
func histogram(out io.Writer, scale *quiz.Scale, s *odds.Scale, exact bool) {
	if len(s.Points) == 0 {
		fmt.Fprintf(out, "\n%s: nobody comes to the decision\n", scale.Name)
		return
	}
	how := ""
	if !exact {
		how = ", sampled"
	}
	fmt.Fprintf(out, "\n%s: %s to %s, mean %.2f, spread %.2f%s\n", scale.Name, s.Lowest(), s.Highest(), s.Mean, s.Spread, how)
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
