package main

import (
	"bytes"
	"errors"
	"fmt"
	"io"
	"os"

	"github.com/spf13/cobra"

	"omphalos/core/quiz"
	"omphalos/interchange/bundle"
	"omphalos/interchange/qti"
	"omphalos/store"
)

func exportCommand() *cobra.Command {
	var file, address, as string
	var taken takenOut
	c := &cobra.Command{
		Use: "export [FILE]", Short: "Take a quiz along, or its responses out", Args: cobra.MaximumNArgs(1),
		Long: `Export writes the draft of the quiz at a public address into one file, which import takes into
another workspace: with its pictures, rehearsals and the table rows that it uses.

With --format it writes the responses to the quiz: a row for each, a column for each thing by its
key. --where names some of them as the address of the room Learn does: outcome=walk,
answer.crop=apples, score.readiness=10..18, source=letter. Several --where must all fit; values of
the same field are "or".

Without FILE, or with "-", it writes to standard output.`,
		Example: "  omphalos export --quiz orchard orchard.zip\n" +
			"  omphalos export --quiz orchard --format parquet --since 2026-10-01 --where outcome=walk responses.parquet",
		RunE: func(c *cobra.Command, args []string) error {
			if as != "" && as != "qti" {
				return fmt.Errorf("--as takes qti, or nothing for a file of our own; not %q", as)
			}
			if taken.format == "" && taken.asked() {
				return errors.New("--since, --until, --where and --words are about responses: say in which --format, too")
			}
			if taken.format != "" && as != "" {
				return errors.New("--as is about the quiz and --format about its responses: say one of them")
			}
			s, err := openWorkspace(file)
			if err != nil {
				return err
			}
			defer s.Close()
			z, err := s.Definitions.QuizAt(c.Context(), address)
			if errors.Is(err, store.ErrNotFound) {
				return fmt.Errorf("there is no quiz at %q: --quiz names the last part of its address", address)
			}
			if err != nil {
				return err
			}
			to := "-"
			if len(args) > 0 {
				to = args[0]
			}
			if taken.format != "" {
				return taken.write(c, s, z, to)
			}
			b, err := s.Definitions.Pack(c.Context(), z)
			if err != nil {
				return err
			}
			var packed bytes.Buffer
			var lost []string
			if as == "qti" {
				lost, err = writeQTI(&packed, b)
			} else {
				err = bundle.Write(&packed, b)
			}
			if err != nil {
				return err
			}
			if to == "-" {
				_, err = c.OutOrStdout().Write(packed.Bytes())
				return err
			}
			if err := os.WriteFile(to, packed.Bytes(), 0o600); err != nil {
				return fmt.Errorf("writing the file: %w", err)
			}
			fmt.Fprintf(c.OutOrStdout(), "%s holds “%s”\n", to, z.Title)
			tell(c, lost)
			return nil
		},
	}
	c.Flags().StringVar(&file, "workspace", "workspace/omphalos.db", "file of the workspace")
	c.Flags().StringVar(&address, "quiz", "", "the last part of the quiz's public address")
	c.Flags().StringVar(&as, "as", "", `"qti" for a package of QTI 3.0`)
	taken.flags(c)
	_ = c.MarkFlagRequired("quiz")
	return c
}

// writeQTI writes a quiz as a package of QTI 3.0.
func writeQTI(to io.Writer, b bundle.Bundle) ([]string, error) {
	q, err := quiz.Read(b.Document)
	if err != nil {
		return nil, err
	}
	return qti.Write(to, q, b.Pictures)
}

// tell says what there were no words for.
func tell(c *cobra.Command, lost []string) {
	for _, sentence := range lost {
		fmt.Fprintln(c.OutOrStdout(), "  "+sentence)
	}
}

func importCommand() *cobra.Command {
	var file string
	c := &cobra.Command{
		Use:   "import FROM.zip",
		Short: "Take a quiz into a workspace: a file of export, a package of QTI 3.0, or a quiz.json",
		Args:  cobra.ExactArgs(1),
		RunE: func(c *cobra.Command, args []string) error {
			data, err := os.ReadFile(args[0])
			if err != nil {
				return fmt.Errorf("reading the file: %w", err)
			}
			b, lost, err := bundle.Open(data)
			if err != nil {
				return fmt.Errorf("%s: %w", args[0], err)
			}
			s, err := openWorkspace(file)
			if err != nil {
				return err
			}
			defer s.Close()
			z, err := s.Definitions.Unpack(c.Context(), b)
			if err != nil {
				return fmt.Errorf("%s: %w", args[0], err)
			}
			fmt.Fprintf(c.OutOrStdout(), "“%s” is a draft now; its address is going to be /q/%s\n", z.Title, z.Slug)
			tell(c, lost)
			return nil
		},
	}
	c.Flags().StringVar(&file, "workspace", "workspace/omphalos.db", "file of the workspace")
	return c
}
