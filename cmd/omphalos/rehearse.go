package main

import (
	"cmp"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"os"
	"strings"

	"github.com/spf13/cobra"

	"omphalos/core/finding"
	"omphalos/core/passage"
	"omphalos/core/program"
	"omphalos/core/quiz"
	"omphalos/core/rehearsal"
	"omphalos/interchange/table"
)

func rehearseCommand() *cobra.Command {
	var given, facts []string
	var keep string
	var asJSON bool
	c := &cobra.Command{
		Use:   "rehearse QUIZ.json",
		Short: "Walk one passage and say why it ends where it does, or run those that are kept", Args: cobra.ExactArgs(1),
		Long: `Rehearse walks the passage of somebody who answers so, and writes what each answer added, what was
passed over and why, which step decided and where it lands. Answers are named as the columns of
score: crop=apples, topics=a|b, grid.row=column, crop.text=words; several are parted by commas or
given one by one. What is not named is passed by.

--keep NAME keeps the passage in the quiz as a rehearsal, with the outcome and the landing that it
gets today. Without --answers, the rehearsals that are kept are run: each holds, or what it gets
instead is told.

The exit status is 0, 1 if a kept rehearsal does not hold, 2 if something can't be read.`,
		RunE: func(c *cobra.Command, args []string) error {
			p, err := readProgram(c, args[0])
			if err != nil {
				return err
			}
			out := c.OutOrStdout()
			if len(given) == 0 {
				if keep != "" {
					return errors.New("--keep needs --answers: what is to be kept")
				}
				return runKept(out, p, asJSON)
			}
			in, err := answersOf(p, given)
			if err != nil {
				return err
			}
			if in.Visitor, err = visitorOf(facts); err != nil {
				return err
			}
			if keep != "" {
				if err := keepRehearsal(c, args[0], p, in, keep); err != nil {
					return err
				}
			}
			return tellWalk(out, p, in, asJSON)
		},
	}
	flags := c.Flags()
	flags.StringArrayVar(&given, "answers", nil, "answers such as crop=apples,size=large; may be given several times")
	flags.StringArrayVar(&facts, "visitor", nil, "a fact of the visitor, such as country=IE; may be given several times")
	flags.StringVar(&keep, "keep", "", "keep the passage in the quiz under this name")
	flags.BoolVar(&asJSON, "json", false, "write it as JSON")
	return c
}

// answersOf reads answers such as "crop=apples,size=large". A comma begins another answer
// where a name and an equals sign follow.
func answersOf(p *program.Program, given []string) (passage.Input, error) {
	var names, cells []string
	for _, list := range given {
		for n, piece := range strings.Split(list, ",") {
			name, cell, named := strings.Cut(piece, "=")
			if !named || strings.ContainsAny(strings.TrimSpace(name), " ") {
				if n == 0 {
					return passage.Input{}, fmt.Errorf("--answers %q is no answer such as crop=apples", piece)
				}
				cells[len(cells)-1] += "," + piece
				continue
			}
			names, cells = append(names, name), append(cells, cell)
		}
	}
	in, err := table.ReadOne(p, names, cells)
	if err != nil {
		return in, fmt.Errorf("--answers: %w", err)
	}
	return in, nil
}

// tellWalk writes why a passage ends where it does.
func tellWalk(out io.Writer, p *program.Program, in passage.Input, asJSON bool) error {
	why := passage.Explain(p, in)
	var missing []string
	for _, i := range passage.Walk(p, in).Missing {
		missing = append(missing, p.Key(i))
	}
	if asJSON {
		return writeJSON(out, struct {
			passage.Explanation
			Missing []string `json:"missing,omitempty"`
		}{why, missing})
	}
	for _, line := range why.Sentences() {
		fmt.Fprintln(out, line)
	}
	if len(missing) > 0 {
		fmt.Fprintf(out, "A respondent could not leave out: %s.\n", strings.Join(missing, ", "))
	}
	return nil
}

func runKept(out io.Writer, p *program.Program, asJSON bool) error {
	list := rehearsal.All(p)
	broken := 0
	for _, v := range list {
		if !v.Holds {
			broken++
		}
	}
	if asJSON {
		if err := writeJSON(out, map[string]any{"rehearsals": append([]rehearsal.Verdict{}, list...)}); err != nil {
			return err
		}
	} else {
		tellKept(out, p, list, broken)
	}
	if broken > 0 {
		return problems
	}
	return nil
}

func tellKept(out io.Writer, p *program.Program, list []rehearsal.Verdict, broken int) {
	if len(list) == 0 {
		fmt.Fprintln(out, "No rehearsal is kept with this quiz: --answers … --keep NAME keeps one.")
		return
	}
	for _, v := range list {
		name := cmp.Or(p.Quiz.Rehearsals[v.Key].Name, v.Key)
		if v.Holds {
			fmt.Fprintf(out, "holds   %s: %s\n", name, v.Outcome)
		} else {
			fmt.Fprintf(out, "broken  %s\n", finding.Broken(p.Quiz, v))
		}
	}
	fmt.Fprintf(out, "%s, %d broken\n", quiz.Count(len(list), "kept rehearsal"), broken)
}

// keepRehearsal writes a passage into the file of its quiz.
func keepRehearsal(c *cobra.Command, file string, p *program.Program, in passage.Input, name string) error {
	if file == "-" {
		return errors.New("--keep needs a file: standard input can't be written to")
	}
	q, err := readQuiz(c, file)
	if err != nil {
		return fmt.Errorf("%s: %w", file, err)
	}
	rehearsal.Keep(q, name, rehearsal.Of(p, in))
	if err := os.WriteFile(file, q.Write(), 0o644); err != nil {
		return fmt.Errorf("keeping the rehearsal: %w", err)
	}
	return nil
}

func writeJSON(out io.Writer, v any) error {
	e := json.NewEncoder(out)
	e.SetIndent("", "  ")
	e.SetEscapeHTML(false)
	return e.Encode(v)
}
