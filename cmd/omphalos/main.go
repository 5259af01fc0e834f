// Command omphalos is the application: it serves the studio and the quizzes,
// makes the demo, and computes quizzes from files.
package main

import (
	"context"
	"errors"
	"fmt"
	"os"
	"runtime/debug"
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

// number is that of the release, or of the one that this is on the way to.
const number = "0.1.0"

// version tells the number and, as far as it was built from a checkout, its commit.
func version() string {
	info, known := debug.ReadBuildInfo()
	if !known {
		return number
	}
	commit, changed := "", ""
	for _, s := range info.Settings {
		switch {
		case s.Key == "vcs.revision":
			commit = " " + s.Value[:min(12, len(s.Value))]
		case s.Key == "vcs.modified" && s.Value == "true":
			changed = ", changed since"
		}
	}
	return number + commit + changed
}

func root() *cobra.Command {
	c := &cobra.Command{
		Use:           "omphalos",
		Version:       version(),
		Short:         "Quizzes that qualify leads: designed on one sheet, decided by exact scores",
		SilenceUsage:  true,
		SilenceErrors: true,
	}
	c.AddCommand(
		serveCommand(),
		demoCommand(),
		userCommand(),
		backupCommand(),
		restoreCommand(),
		forgetCommand(),
		checkCommand(),
		scoreCommand(),
		oddsCommand(),
		translateCommand(),
		rehearseCommand(),
		replayCommand(),
		schemaCommand(),
		describeCommand(),
		exportCommand(),
		importCommand(),
	)
	return c
}
