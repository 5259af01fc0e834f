package main

import (
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"os"

	"github.com/spf13/cobra"
	"golang.org/x/text/language"

	"omphalos/core/edit"
	"omphalos/core/quiz"
	"omphalos/interchange/xliff"
)

func translateCommand() *cobra.Command {
	var into, from string
	c := &cobra.Command{
		Use: "translate QUIZ.json", Short: "Hand the texts of a quiz to a translator, and take them in again",
		Args: cobra.ExactArgs(1),
		Long: `Translate with --into de writes all that respondents read, with what is said so in German already,
as XLIFF 2.1, which the tools of translators read. With --from FILE it writes the quiz with what came
back in it, to the standard output; what was taken in, and what is missing, is told beside.

The exit status is 0, or 2 if something can't be read.`,
		RunE: func(c *cobra.Command, args []string) error {
			q, err := readQuiz(c, args[0])
			if err != nil {
				return err
			}
			switch {
			case (into == "") == (from == ""):
				return errors.New("say either --into a language, or --from which file it comes")
			case into != "":
				tag, err := language.ParseBase(into)
				if err != nil || tag.String() == q.Language() {
					return fmt.Errorf("--into is %q, and must be another language than the quiz's, such as de", into)
				}
				return xliff.Write(c.OutOrStdout(), xliff.Of(q, tag.String()))
			}
			f, err := os.Open(from)
			if err != nil {
				return fmt.Errorf("opening what came back: %w", err)
			}
			defer f.Close()
			return takeTexts(c, q, f)
		},
	}
	c.Flags().StringVar(&into, "into", "", "write the texts for whoever puts them into this language")
	c.Flags().StringVar(&from, "from", "", "take this file in")
	return c
}

// takeTexts writes a quiz with what a file says in it.
func takeTexts(c *cobra.Command, q *quiz.Quiz, f io.Reader) error {
	data, err := io.ReadAll(io.LimitReader(f, xliff.MaxSize+1))
	if err != nil {
		return fmt.Errorf("reading what came back: %w", err)
	}
	d, err := xliff.Read(data)
	if err != nil {
		return err
	}
	taken, err := d.Into(q)
	if err != nil {
		return err
	}
	if ops := taken.Ops(q); ops != nil {
		patch, err := json.Marshal(ops)
		if err != nil {
			return err
		}
		change, err := edit.Apply(q.Write(), patch)
		if err != nil {
			return fmt.Errorf("taking the texts in: %w", err)
		}
		q = change.After
	}
	fmt.Fprintln(c.ErrOrStderr(), taken.Sentence())
	_, err = c.OutOrStdout().Write(q.Write())
	return err
}
