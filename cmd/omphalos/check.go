package main

import (
	"errors"
	"fmt"
	"io"
	"os"

	"github.com/spf13/cobra"

	"omphalos/core/quiz"
	"omphalos/interchange/schema"
)

// problems is the exit status of a command whose input has problems; what can't
// be read at all ends with 2.
const problems exit = 1

func checkCommand() *cobra.Command {
	return &cobra.Command{
		Use: "check QUIZ.json", Short: "Check a quiz: a line for each problem, with its place", Args: cobra.ExactArgs(1),
		Long: "Check reads a quiz (\"-\" is standard input) and writes a line for each problem: its place as a JSON pointer,\n" +
			"what is wrong and what to do. The exit status is 0 without problems, 1 with some, 2 if nothing can be read.",
		RunE: func(c *cobra.Command, args []string) error {
			q, err := readQuiz(c, args[0])
			var p quiz.Problem
			if errors.As(err, &p) {
				fmt.Fprintln(c.OutOrStdout(), p.Error())
				return problems
			}
			if err != nil {
				return err
			}
			found := q.Check()
			for _, p := range found {
				fmt.Fprintln(c.OutOrStdout(), p.Error())
			}
			if len(found) > 0 {
				return problems
			}
			fmt.Fprintf(c.OutOrStdout(), "%s: no problems in %d questions, %d scales, %d outcomes\n", args[0], len(q.Questions), len(q.Scales), len(q.Outcomes))
			return nil
		},
	}
}

// readQuiz reads the quiz in a file, or standard input under "-". An error
// that is a quiz.Problem is about what the file says.
func readQuiz(c *cobra.Command, file string) (*quiz.Quiz, error) {
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
	return quiz.Read(data)
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
