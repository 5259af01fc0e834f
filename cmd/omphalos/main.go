// Command omphalos is the application: it serves the studio and the quizzes,
// makes the demo, and computes quizzes from files.
package main

import (
	"context"
	"errors"
	"fmt"
	"os"
	_ "time/tzdata" // time zones are the same on every machine

	"github.com/spf13/cobra"
)

func main() {
	if err := root().ExecuteContext(context.Background()); err != nil {
		var silent exit
		if errors.As(err, &silent) {
			os.Exit(int(silent))
		}
		fmt.Fprintln(os.Stderr, "omphalos:", err)
		os.Exit(2)
	}
}

// An exit ends the command with a status, when everything has been said already.
type exit int

func (e exit) Error() string { return fmt.Sprintf("exit status %d", int(e)) }

func root() *cobra.Command {
	c := &cobra.Command{
		Use:           "omphalos",
		Short:         "Quizzes that qualify leads: designed on one sheet, decided by exact scores",
		SilenceUsage:  true,
		SilenceErrors: true,
	}
	c.AddCommand(serveCommand(), demoCommand(), userCommand(), backupCommand(), restoreCommand(), forgetCommand(), checkCommand(), scoreCommand(), oddsCommand(), schemaCommand())
	return c
}
