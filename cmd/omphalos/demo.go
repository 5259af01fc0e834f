package main

import (
	"context"
	_ "embed"
	"fmt"
	"net"
	"net/netip"
	"os"
	"slices"
	"strconv"

	"github.com/spf13/cobra"

	"omphalos/interchange/country"
	"omphalos/outbox"
	"omphalos/store"
	"omphalos/web"
	"omphalos/web/player"
)

// The demo's quizzes: one that is public and has been answered, and a draft of which
// something is found.
//
//go:embed demo/orchard.json
var orchard []byte

//go:embed demo/keeper.json
var keeper []byte

//go:embed demo/finder.json
var finder []byte

//go:embed demo/day.json
var day []byte

// season has ten questions and a contact section: it is there where many responses are
// wanted, and they are its.
//
//go:embed demo/season.json
var season []byte

// The demo's sign-in. It opens nothing but invented data on this machine.
const (
	defaultStandIns = "127.0.0.1:8643"

	demoEmail    = "marketer@quillbrook.example"
	demoPassword = "hives-for-hire"
	demoZone     = "Europe/Dublin"
)

func demoCommand() *cobra.Command {
	var file, listen, standIns, sources string
	var remake, quiet bool
	responses := demoResponses
	c := &cobra.Command{
		Use: "demo", Short: "Make a workspace with invented data, and serve it", Args: cobra.NoArgs,
		RunE: func(c *cobra.Command, _ []string) error {
			at, err := standInsAt(listen, standIns)
			if err != nil {
				return err
			}
			if err := mayBeDemo(c.Context(), file); err != nil {
				return err
			}
			if remake {
				for _, end := range []string{"", "-wal", "-shm"} {
					if err := os.Remove(file + end); err != nil && !os.IsNotExist(err) {
						return fmt.Errorf("removing the old demo: %w", err)
					}
				}
			}
			s, err := openWorkspace(file)
			if err != nil {
				return err
			}
			defer s.Close()
			if err := fillDemo(c.Context(), s, at, responses); err != nil {
				return err
			}
			if quiet {
				return nil
			}
			known, err := country.StandIn()
			if err != nil {
				return err
			}
			with := web.Options{
				Countries: athome(known.Of),
				Limits:    player.DefaultLimits,
				Reaches:   outbox.Reach{Allowed: []netip.Prefix{netip.MustParsePrefix("127.0.0.0/8")}}, // its stand-ins
				Proxies:   loopback,
				Sources:   sources,
			}
			return serve(c.Context(), s, listen, at, unfinishedKept, with, func(net.Addr) {
				fmt.Fprintf(
					c.OutOrStdout(),
					"\n  Studio    http://%s/studio\n  Sign in   %s\n  Password  %s\n  Quiz      "+
						"http://%s/q/is-your-orchard-ready-for-hired-bees\n\n",
					listen,
					demoEmail,
					demoPassword,
					listen,
				)
			})
		},
	}
	flags := c.Flags()
	flags.StringVar(&file, "workspace", "workspace/demo/omphalos.db", "file of the workspace")
	flags.StringVar(&listen, "listen", defaultListen, "address to listen on")
	flags.StringVar(&standIns, "stand-ins", portAfter, "address of the stand-ins")
	flags.IntVar(&responses, "responses", responses,
		"how many responses the demo has; those beyond 64 are of a quiz with ten questions, over 90 days")
	flags.StringVar(&sources, "sources", "",
		"folder of the sources, from which templates and assets come as they are saved; make dev uses it")
	flags.BoolVar(&remake, "remake", false, "throw the demo away and make it anew")
	flags.BoolVar(&quiet, "only-make", false, "make the workspace and do not serve it")
	return c
}

// portAfter stands for the address of the stand-ins where none is said.
const portAfter = "the port after"

// standInsAt returns the address of the stand-ins: what is said, or the port after that of
// the application.
func standInsAt(listen, said string) (string, error) {
	if said != portAfter {
		return said, nil
	}
	host, port, err := net.SplitHostPort(listen)
	if err != nil {
		return "", fmt.Errorf("the address to listen on: %w", err)
	}
	n, err := strconv.Atoi(port)
	if err != nil || n == 0 {
		return "", fmt.Errorf(
			"the address %q does not say a port: say where the stand-ins are with --stand-ins",
			listen,
		)
	}
	return net.JoinHostPort(host, strconv.Itoa(n+1)), nil
}

// mayBeDemo tells whether a file is free for the demo, or the demo's: one with other people
// in it is not.
func mayBeDemo(ctx context.Context, file string) error {
	if _, err := os.Stat(file); err != nil {
		return nil
	}
	s, err := openWorkspace(file)
	if err != nil {
		return err
	}
	defer s.Close()
	people, err := s.People.Users(ctx)
	if err != nil {
		return err
	}
	there, err := s.Definitions.Quizzes(ctx)
	if err != nil {
		return err
	}
	theirs := slices.ContainsFunc(people, func(u store.User) bool { return u.Email == demoEmail })
	if theirs && len(people) <= 1+len(colleagues) || len(people)+len(there) == 0 {
		return nil
	}
	return fmt.Errorf(
		"the workspace %s was not made by the demo and is left alone: name another file with "+
			"--workspace, or serve it with “omphalos serve”",
		file,
	)
}

// athome lets those who try the demo on the machine that serves it come from Ireland, as its
// owners do: their own addresses say nothing of a country.
func athome(of func(netip.Addr) string) func(netip.Addr) string {
	return func(from netip.Addr) string {
		if from.IsLoopback() {
			return "IE"
		}
		return of(from)
	}
}
