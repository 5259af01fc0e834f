package main

import (
	"context"
	"encoding/json"
	"fmt"
	"io"
	"os"
	"path/filepath"

	"github.com/spf13/cobra"

	"omphalos/core/finding"
	"omphalos/core/odds"
	"omphalos/core/program"
	"omphalos/core/quiz"
	"omphalos/interchange/sarif"
	"omphalos/interchange/schema"
)

// problems is the exit status of a command whose input has problems; what can't
// be read at all ends with 2.
const problems exit = 1

func checkCommand() *cobra.Command {
	var format, from, day string
	c := &cobra.Command{
		Use: "check QUIZ.json", Short: "Check a quiz: what is noticed about it, each with its place",
		Args: cobra.ExactArgs(1),
		Long: `Check reads a quiz ("-" is standard input) and writes what is noticed about it: errors, which keep
it from being released, warnings of what will not work as it was meant, and hints; each with its
place as a JSON pointer (RFC 6901).

The format is text, json (with the patches, RFC 6902, that mend what a machine can mend), or sarif
(SARIF 2.1.0, for continuous integration). The exit status is 0 without errors, 1 with some, 2 if
nothing can be read; --fail-on tells from which level on it is 1: error, warning or hint.`,
		RunE: func(c *cobra.Command, args []string) error {
			level := finding.Level(from)
			if severity(level) == 0 {
				return fmt.Errorf("--fail-on is %q, and must be error, warning or hint", from)
			}
			document, err := readDocument(c, args[0])
			if err != nil {
				return err
			}
			q, list, err := findings(c.Context(), document, day)
			if err != nil {
				return err
			}
			out := c.OutOrStdout()
			switch format {
			case "text":
				if len(list) == 0 {
					fmt.Fprintf(
						out,
						"%s: nothing found in %s, %s, %s\n",
						args[0],
						quiz.Count(len(q.Questions), "question"),
						quiz.Count(len(q.Scales), "scale"),
						quiz.Count(len(q.Outcomes), "outcome"),
					)
				}
				for _, f := range list {
					fmt.Fprintf(out, "%-7s  %s  %s (%s)\n", f.Level, f.Pointer, f.Sentence, f.Code)
				}
			case "json":
				e := json.NewEncoder(out)
				e.SetIndent("", "  ")
				e.SetEscapeHTML(false)
				err = e.Encode(map[string]any{"findings": list})
			case "sarif":
				err = sarif.Write(out, filepath.ToSlash(args[0]), document, list)
			default:
				return fmt.Errorf("--format is %q, and must be text, json or sarif", format)
			}
			if err != nil {
				return err
			}
			for _, f := range list {
				if severity(f.Level) >= severity(level) {
					return problems
				}
			}
			return nil
		},
	}
	flags := c.Flags()
	flags.StringVar(&format, "format", "text", "how findings are written: text, json or sarif")
	flags.StringVar(&day, "day", "", dayHelp)
	flags.StringVar(&from, "fail-on", "error", "from which level on the exit status is 1: error, warning or hint")
	return c
}

func severity(l finding.Level) int {
	return map[finding.Level]int{finding.Hint: 1, finding.Warning: 2, finding.Error: 3}[l]
}

// findings finds what there is; what keeps the document from being a quiz is all that is
// found then. Dates are asked for on a day, today where none is named.
func findings(ctx context.Context, document []byte, day string) (*quiz.Quiz, []finding.Finding, error) {
	q, err := quiz.Read(document)
	if err != nil {
		var list []finding.Finding
		for _, p := range quiz.Mistakes(document) {
			list = append(list, finding.Finding{Code: p.Code, Level: finding.Error, Pointer: p.Pointer, Sentence: p.Message})
		}
		return nil, list, nil
	}
	today, err := dayOf(q, day)
	if err != nil {
		return nil, nil, err
	}
	var with odds.Options
	defer timely(ctx, &with)()
	list, _, _ := finding.Of(q, with, finding.Outside{Today: today})
	return q, append([]finding.Finding{}, list...), nil
}

// readDocument reads a file, or standard input under "-".
func readDocument(c *cobra.Command, file string) ([]byte, error) {
	var data []byte
	var err error
	if file == "-" {
		data, err = io.ReadAll(io.LimitReader(c.InOrStdin(), quiz.MaxSize+1))
	} else {
		data, err = os.ReadFile(file)
	}
	if err != nil {
		return nil, fmt.Errorf("reading the quiz: %w", err)
	}
	return data, nil
}

// readQuiz reads the quiz in a file. An error that is a quiz.Problem is about what
// the file says.
func readQuiz(c *cobra.Command, file string) (*quiz.Quiz, error) {
	data, err := readDocument(c, file)
	if err != nil {
		return nil, err
	}
	return quiz.Read(data)
}

// readProgram reads and compiles the quiz in a file.
func readProgram(c *cobra.Command, file string) (*program.Program, error) {
	q, err := readQuiz(c, file)
	if err != nil {
		return nil, fmt.Errorf("%s: %w", file, err)
	}
	p, err := program.Compile(q)
	if err != nil {
		return nil, fmt.Errorf("%s: %w", file, err)
	}
	return p, nil
}

func schemaCommand() *cobra.Command {
	return &cobra.Command{
		Use: "schema", Short: "Print the JSON Schema of the quiz format", Args: cobra.NoArgs,
		RunE: func(c *cobra.Command, _ []string) error {
			_, err := c.OutOrStdout().Write(schema.Quiz())
			return err
		},
	}
}
