package main

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"os"
	"strings"
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
	var shares, observed, witness, day string
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
--observed as in a table of answers that score reads, or in responses as Learn exports them. Dates
that today bounds are bounded by --day.
--witness OUTCOME (or OUTCOME/LANDING) writes a set of answers that gets there, as a table that
score reads.

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
			today, err := dayOf(p.Quiz, day)
			if err != nil {
				return err
			}
			if witness != "" {
				return writeWitness(c, p.On(today), with, witness)
			}
			if with.Shares, err = sharesOf(c, p, even, shares, observed); err != nil {
				return err
			}
			p = p.On(today)
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
	flags.StringVar(&day, "day", "", dayHelp)
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

const dayHelp = "the day on which it is asked, such as 2026-11-26 (default: today, where the quiz is at home)"

// dayOf reads the day on which a quiz is asked, today where none is named.
func dayOf(q *quiz.Quiz, named string) (decimal.Decimal, error) {
	if named == "" {
		return quiz.DayOf(time.Now().In(q.Zone())), nil
	}
	day, err := quiz.ParseDay(named)
	if err != nil {
		return 0, fmt.Errorf("--day is %q, and must be a day such as 2026-11-26", named)
	}
	return day, nil
}

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

func sharesOf(c *cobra.Command, p *program.Program, even bool, shares, observed string) (expect.Shares, error) {
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
		from, bad := "", 0
		f, _, err := answers(c, []string{observed}, &from)
		if err != nil {
			return nil, err
		}
		defer f.Close()
		stderr := c.ErrOrStderr()
		found, n, err := table.Observe(p, f, table.Options{From: table.Format(from), Ignore: true, Left: leftOut(stderr),
			Bad: func(e *table.RowError) { bad++; fmt.Fprintln(stderr, e) }})
		if err == nil && n == 0 {
			err = fmt.Errorf("%s has no answers that this quiz takes", observed)
		}
		if err == nil {
			fmt.Fprintf(stderr, "shares are observed in %d of %d rows of %s\n", n, n+bad, observed)
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
