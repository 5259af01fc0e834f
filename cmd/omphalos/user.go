package main

import (
	"bufio"
	"fmt"
	"io"
	"os"
	"strings"

	"github.com/spf13/cobra"
	"golang.org/x/term"
)

func userCommand() *cobra.Command {
	var file, name string
	c := &cobra.Command{
		Use: "user EMAIL", Short: "Make a user, or give one a new password, read from standard input",
		Args: cobra.ExactArgs(1),
		RunE: func(c *cobra.Command, args []string) error {
			s, err := openWorkspace(file)
			if err != nil {
				return err
			}
			defer s.Close()
			fmt.Fprint(c.ErrOrStderr(), "Password (10 characters at least): ")
			password, err := readPassword(c.InOrStdin(), c.ErrOrStderr())
			if err != nil {
				return fmt.Errorf("reading the password: %w", err)
			}
			if err := s.People.PutUser(c.Context(), args[0], name, password); err != nil {
				return err
			}
			fmt.Fprintln(c.OutOrStdout(), args[0], "may sign in. Sessions with an earlier password have ended.")
			return nil
		},
	}
	flags := c.Flags()
	flags.StringVar(&file, "workspace", "workspace/omphalos.db", "file of the workspace")
	flags.StringVar(&name, "name", "", "the person's name; a user who is there keeps the one they have")
	return c
}

// readPassword reads a line, which is not shown where it is typed.
func readPassword(in io.Reader, prompt io.Writer) (string, error) {
	if terminal, ok := in.(*os.File); ok && term.IsTerminal(int(terminal.Fd())) {
		typed, err := term.ReadPassword(int(terminal.Fd()))
		fmt.Fprintln(prompt)
		return string(typed), err
	}
	line, err := bufio.NewReader(in).ReadString('\n')
	if err == io.EOF {
		err = nil
	}
	return strings.TrimRight(line, "\r\n"), err
}
