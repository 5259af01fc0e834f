package main

import (
	"encoding/json"
	"fmt"
	"io"
	"slices"
	"strings"
	"text/tabwriter"

	"github.com/spf13/cobra"

	"omphalos/core/quiz"
	"omphalos/core/replay"
	"omphalos/interchange/table"
)

func replayCommand() *cobra.Command {
	var against, from string
	var asJSON bool
	o := table.ReplayOptions{Most: 20}
	c := &cobra.Command{
		Use:   "replay QUIZ.json [RESPONSES]",
		Short: "Tell who would land elsewhere if responses had gone through another version", Args: cobra.RangeArgs(1, 2),
		Long: `Replay reads responses as they are taken out (or a table as score reads it), walks each through
QUIZ.json, and tells how many would land elsewhere than their column "outcome" says. With --against
OTHER.json what they got is what that version gives them; then it also tells, for each change
between the two, how many it moves by itself and for whom it is to blame.

Without RESPONSES, or with "-", it reads standard input. What a version asks that somebody was not
asked counts as skipped; how many that touches is told. An answer that QUIZ.json does not know any
more counts as skipped, too.

The exit status is 0 if all rows were good, 1 if some were bad, 2 if a quiz or the table can't be
read.`,
		RunE: func(c *cobra.Command, args []string) error {
			after, err := readQuiz(c, args[0])
			if err != nil {
				return fmt.Errorf("%s: %w", args[0], err)
			}
			before := after
			if o.Kept = against == ""; !o.Kept {
				if before, err = readQuiz(c, against); err != nil {
					return fmt.Errorf("%s: %w", against, err)
				}
			}
			if o.Most < 0 {
				return fmt.Errorf("--movers is %d, and must be 0 or more", o.Most)
			}
			r, err := replay.New(before, after)
			if err != nil {
				return err
			}
			in, _, err := answers(c, args[1:], &from)
			if err != nil {
				return err
			}
			defer in.Close()
			if o.From = table.Format(from); o.From != table.CSV && o.From != table.JSONL {
				return fmt.Errorf("--from is %q, and must be csv or jsonl", from)
			}
			o.Bad = func(e *table.RowError) { fmt.Fprintln(c.ErrOrStderr(), e) }
			sums, bad, err := table.Replay(r, in, o)
			if err != nil {
				return err
			}
			if asJSON {
				err = replayedJSON(c.OutOrStdout(), r, sums)
			} else {
				err = replayedText(c.OutOrStdout(), r, sums)
			}
			if err == nil && bad > 0 {
				fmt.Fprintf(c.ErrOrStderr(), "%d of %d rows could not be walked\n", bad, bad+sums.Count)
				return problems
			}
			return err
		},
	}
	flags := c.Flags()
	flags.StringVar(&against, "against", "", "the version that tells what they got (default the column \"outcome\")")
	flags.StringVar(&from, "from", "", "format of the responses: csv or jsonl (default by the file's ending)")
	flags.BoolVar(&asJSON, "json", false, "write JSON")
	flags.IntVar(&o.Most, "movers", o.Most, "how many of those who move are named, the newest first")
	return c
}

// movesOf are the moves of a replay, most first.
func movesOf(s *replay.Sums) []replay.Move {
	var list []replay.Move
	for move := range s.Flow {
		list = append(list, move)
	}
	slices.SortFunc(list, func(a, b replay.Move) int {
		if by := s.Flow[b] - s.Flow[a]; by != 0 {
			return by
		}
		if a.Before != b.Before {
			return strings.Compare(a.Before, b.Before)
		}
		return strings.Compare(a.After, b.After)
	})
	return list
}

func replayedText(out io.Writer, r *replay.Replay, s *replay.Sums) error {
	w := tabwriter.NewWriter(out, 0, 4, 2, ' ', 0)
	fmt.Fprintf(w, "%s, %d would land elsewhere\n\n", quiz.Count(s.Count, "response"), s.Moved())
	fmt.Fprintln(w, "before\tafter\tresponses")
	for _, move := range movesOf(s) {
		fmt.Fprintf(w, "%s\t%s\t%d\n", move.Before, move.After, s.Flow[move])
	}
	if s.Touched > 0 {
		fmt.Fprintf(w, "\n%d would be asked what they were not asked: that counts as skipped\n", s.Touched)
	}
	if len(r.Changes) > 0 {
		fmt.Fprintln(w, "\nchange\tmoves by itself\tis to blame for")
		for i, c := range r.Changes {
			alone := fmt.Sprint(s.Moves[i])
			if !c.Alone {
				alone = "–" // it can't be made by itself
			}
			fmt.Fprintf(w, "%s\t%s\t%d\n", c.Sentence, alone, s.Blamed[i])
		}
		fmt.Fprintf(w, "several together\t\t%d\n", s.Several)
		if s.Earlier > 0 {
			fmt.Fprintf(w, "an earlier version\t\t%d\n", s.Earlier)
		}
	}
	if len(s.Movers) > 0 {
		fmt.Fprintln(w, "\nnumber\tbefore\tafter\tbecause of")
		for _, m := range s.Movers {
			fmt.Fprintf(w, "%d\t%s\t%s\t%s\n", m.Number, m.Before, m.After, because(r, m))
		}
	}
	return w.Flush()
}

// because says what is to blame for a move.
func because(r *replay.Replay, m replay.Mover) string {
	switch {
	case len(r.Changes) == 0:
		return ""
	case m.Blame == replay.Several:
		return "several changes together"
	case m.Blame == replay.Earlier:
		return "an earlier version"
	}
	return r.Changes[m.Blame].Sentence
}

func replayedJSON(out io.Writer, r *replay.Replay, s *replay.Sums) error {
	type flow struct {
		Before    string `json:"before"`
		After     string `json:"after"`
		Responses int    `json:"responses"`
	}
	type change struct {
		Pointer  string `json:"pointer"`
		Sentence string `json:"sentence"`
		Moves    *int   `json:"moves"` // by itself; null where it can't be made by itself
		Blamed   int    `json:"blamed"`
	}
	type mover struct {
		Number  int    `json:"number"`
		Before  string `json:"before"`
		After   string `json:"after"`
		Because string `json:"because,omitempty"`
	}
	told := struct {
		Responses int      `json:"responses"`
		Moved     int      `json:"moved"`
		Touched   int      `json:"touched"`
		Flow      []flow   `json:"flow"`
		Changes   []change `json:"changes"`
		Several   int      `json:"several"`
		Movers    []mover  `json:"movers"`
	}{s.Count, s.Moved(), s.Touched, []flow{}, []change{}, s.Several, []mover{}}
	for _, move := range movesOf(s) {
		told.Flow = append(told.Flow, flow{move.Before, move.After, s.Flow[move]})
	}
	for i, c := range r.Changes {
		one := change{string(c.Pointer), c.Sentence, nil, s.Blamed[i]}
		if c.Alone {
			one.Moves = &s.Moves[i]
		}
		told.Changes = append(told.Changes, one)
	}
	for _, m := range s.Movers {
		told.Movers = append(told.Movers, mover{m.Number, m.Before, m.After, because(r, m)})
	}
	e := json.NewEncoder(out)
	e.SetIndent("", "  ")
	e.SetEscapeHTML(false)
	return e.Encode(told)
}
