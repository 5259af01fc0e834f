package main

import (
	"fmt"

	"github.com/spf13/cobra"

	"omphalos/core/quiz"
)

func forgetCommand() *cobra.Command {
	var file string
	c := &cobra.Command{
		Use: "forget PERSON", Short: "Delete all responses in which somebody gave a name, an e-mail " +
			"address, a phone number or a company", Args: cobra.ExactArgs(1),
		RunE: func(c *cobra.Command, args []string) error {
			s, err := openWorkspace(file)
			if err != nil {
				return err
			}
			defer s.Close()
			n, err := s.Responses.ErasePerson(c.Context(), args[0], 0)
			if err != nil {
				return err
			}
			fmt.Fprintf(
				c.OutOrStdout(),
				"%s deleted, with everything that was kept of them.\n",
				quiz.Count(n, "response"),
			)
			return nil
		},
	}
	c.Flags().StringVar(&file, "workspace", "workspace/omphalos.db", "file of the workspace")
	return c
}
