package main

import (
	"fmt"
	"io"
	"os"
	"strings"
	"sync/atomic"
	"time"

	"github.com/mattn/go-isatty"
	"github.com/schollz/progressbar/v3"
	"github.com/spf13/cobra"

	"omphalos/core/program"
	"omphalos/interchange/table"
)

func scoreCommand() *cobra.Command {
	var from, to, output string
	var o table.Options
	c := &cobra.Command{
		Use: "score QUIZ.json [ANSWERS]", Short: "Compute what respondents in a table get", Args: cobra.RangeArgs(1, 2),
		Long: `Score reads a table of answers, a row per respondent, as CSV or JSON Lines (by the file's ending, or
--from), and writes id, every scale, outcome, landing, address and how the passage ended. Without
ANSWERS, or with "-", it reads standard input.

Columns are named by question key; several picks are separated by |, grid cells are question.row,
words written in are question.text, facts of the visitor are visitor.country and so on, and id is
passed through. Responses as Learn exports them (answer.crop, number, country) are read as well.

Cells are parted by commas, semicolons or tabs, as the heading tells; the text is UTF-8. A bad row
is reported with its line on standard error and leaves the others alone. The exit status is 0 if all
rows were good, 1 if some were bad, 2 if the quiz or the table can't be read.`,
		RunE: func(c *cobra.Command, args []string) error {
			p, err := readProgram(c, args[0])
			if err != nil {
				return err
			}
			in, size, err := answers(c, args[1:], &from)
			if err != nil {
				return err
			}
			defer in.Close()
			out := c.OutOrStdout()
			if output != "" {
				f, err := os.Create(output)
				if err != nil {
					return fmt.Errorf("making the output: %w", err)
				}
				defer f.Close()
				out = f
			}
			o.From, o.To = table.Format(from), table.Format(to)
			return score(c, p, in, size, out, o)
		},
	}
	flags := c.Flags()
	flags.StringVar(&from, "from", "", "format of the answers: csv or jsonl (default by the file's ending)")
	flags.StringVar(&to, "format", "csv", "format of the output: csv or jsonl")
	flags.StringVarP(&output, "output", "o", "", "file to write to instead of standard output")
	flags.BoolVar(&o.Explain, "explain", false, "add why each respondent got the result")
	flags.BoolVar(&o.Ignore, "ignore-unknown", false, "leave columns out that belong to nothing in the quiz")
	return c
}

// leftOut tells of a column that belongs to nothing in the quiz.
func leftOut(to io.Writer) func(string) {
	return func(column string) {
		fmt.Fprintf(to, "the column %q is left out: nothing in the quiz has that name\n", column)
	}
}

// answers opens the table and settles its format.
func answers(c *cobra.Command, args []string, format *string) (io.ReadCloser, int64, error) {
	if len(args) == 0 || args[0] == "-" {
		if *format == "" {
			*format = "csv"
		}
		return io.NopCloser(c.InOrStdin()), -1, nil
	}
	if *format == "" {
		*format = "csv"
		if strings.HasSuffix(args[0], ".jsonl") || strings.HasSuffix(args[0], ".ndjson") {
			*format = "jsonl"
		}
	}
	f, err := os.Open(args[0])
	if err != nil {
		return nil, 0, fmt.Errorf("opening the answers: %w", err)
	}
	info, err := f.Stat()
	if err != nil {
		return nil, 0, fmt.Errorf("opening the answers: %w", err)
	}
	return f, info.Size(), nil
}

func score(c *cobra.Command, p *program.Program, in io.Reader, size int64, out io.Writer, o table.Options) error {
	for name, format := range map[string]table.Format{"--from": o.From, "--format": o.To} {
		if format != table.CSV && format != table.JSONL {
			return fmt.Errorf("%s is %q, and must be csv or jsonl", name, format)
		}
	}
	stderr := c.ErrOrStderr()
	if isTerminal(stderr) {
		bar := progressbar.NewOptions64(
			size,
			progressbar.OptionSetWriter(stderr),
			progressbar.OptionShowBytes(true),
			progressbar.OptionThrottle(100*time.Millisecond),
			progressbar.OptionClearOnFinish(),
			progressbar.OptionSetDescription("scoring"),
		)
		defer bar.Finish()
		reader := progressbar.NewReader(in, bar)
		in = &reader
	}
	o.Bad = func(e *table.RowError) { fmt.Fprintln(stderr, e) }
	o.Left = leftOut(stderr)
	var blank atomic.Int64
	o.Blank = func(int, int) { blank.Add(1) }
	good, bad, err := table.Score(p, in, out, o)
	if err != nil {
		return err
	}
	if n := blank.Load(); n > 0 {
		fmt.Fprintf(stderr, "%d of %d rows left required questions, or rows of them, blank: "+
			"what is blank counts as skipped\n", n, good+bad)
	}
	if bad > 0 {
		fmt.Fprintf(stderr, "%d of %d rows could not be scored\n", bad, good+bad)
		return problems
	}
	return nil
}

func isTerminal(w io.Writer) bool {
	f, ok := w.(*os.File)
	return ok && isatty.IsTerminal(f.Fd())
}
