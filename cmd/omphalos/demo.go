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
	"strings"
	"time"

	"github.com/spf13/cobra"

	"omphalos/core/quiz"
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

// fillDemo puts the demo's data into an empty workspace, with the stand-ins at an address.
// One that has quizzes is left as it is.
func fillDemo(ctx context.Context, s *store.Store, standIns string, responses int) error {
	people, err := s.People.Users(ctx)
	if err != nil {
		return err
	}
	if len(people) == 0 {
		if err := s.People.PutUser(ctx, demoEmail, "Quillbrook marketing", demoPassword); err != nil {
			return err
		}
		for _, name := range colleagues { // who work the leads; nobody knows their passwords
			if err := s.People.PutUser(ctx, strings.ToLower(name)+"@quillbrook.example", name, store.Token()); err != nil {
				return err
			}
		}
	}
	there, err := s.Definitions.Quizzes(ctx)
	if err != nil || len(there) > 0 {
		return err
	}
	q, err := quiz.Read([]byte(strings.ReplaceAll(string(orchard), defaultStandIns, standIns)))
	if err != nil {
		return fmt.Errorf("the demo's quiz: %w", err)
	}
	z, err := s.Definitions.AddQuiz(ctx, q)
	if err != nil {
		return err
	}
	r, err := s.Definitions.Release(ctx, z.ID, z.Revision, 1)
	if err != nil {
		return err
	}
	if err := answerDemo(ctx, s, r, z.Slug, min(responses, leadResponses)); err != nil {
		return err
	}
	if q, err = quiz.Read(finder); err != nil {
		return fmt.Errorf("the demo's finder: %w", err)
	}
	if z, err = s.Definitions.AddQuiz(ctx, q); err != nil {
		return err
	}
	if _, err = s.Definitions.Release(ctx, z.ID, z.Revision, 1); err != nil {
		return err
	}
	if err := fillTables(ctx, s, standIns); err != nil {
		return err
	}
	if err := connect(ctx, s, standIns); err != nil {
		return err
	}
	if q, err = quiz.Read(keeper); err != nil {
		return fmt.Errorf("the demo's draft: %w", err)
	}
	if _, err = s.Definitions.AddQuiz(ctx, q); err != nil {
		return err
	}
	if q, err = quiz.Read(day); err != nil {
		return fmt.Errorf("the demo's day: %w", err)
	}
	q.Settings.Frames = []string{"http://" + standIns}
	if z, err = s.Definitions.AddQuiz(ctx, q); err != nil {
		return err
	}
	if _, err = s.Definitions.Release(ctx, z.ID, z.Revision, 1); err != nil || responses <= leadResponses {
		return err
	}
	if q, err = quiz.Read(season); err != nil {
		return fmt.Errorf("the demo's season: %w", err)
	}
	if z, err = s.Definitions.AddQuiz(ctx, q); err != nil {
		return err
	}
	if r, err = s.Definitions.Release(ctx, z.ID, z.Revision, 1); err != nil {
		return err
	}
	second, err := softer(ctx, s, z)
	if err != nil {
		return err
	}
	if err := answerSeason(ctx, s, [2]*store.Release{r, second}, z.Slug, responses-leadResponses); err != nil {
		return err
	}
	return stricter(ctx, s, z.ID)
}

// stricter changes the season's draft: who would land elsewhere is asked before it is released.
func stricter(ctx context.Context, s *store.Store, id uint) error {
	for _, patch := range []string{
		`[{"op":"replace","path":"/questions/budget/answers/little/adds/promise","value":2}]`,
		`[{"op":"replace","path":"/decision/steps/bands/cuts/hot/at","value":22}]`,
	} {
		z, err := s.Definitions.Quiz(ctx, id)
		if err != nil {
			return err
		}
		if _, _, err := s.Definitions.Edit(ctx, id, z.Revision, []byte(patch), 1); err != nil {
			return err
		}
	}
	return nil
}

// colleagues of the demo's marketer work its leads.
var colleagues = []string{"Ada", "Joss"}

// tried is for how many days the season's quiz has asked about money in another way, of half of
// those who come: the others are asked as before.
const tried = 21

// softer releases the season's quiz with other words for the question that most leave at, and
// tries the earlier release beside it.
func softer(ctx context.Context, s *store.Store, z *store.Quiz) (*store.Release, error) {
	patch := `[{"op": "replace", "path": "/questions/budget/label",
		"value": "Roughly, what could good pollination be worth to you this year?"}]`
	z, _, err := s.Definitions.Edit(ctx, z.ID, z.Revision, []byte(patch), 1)
	if err != nil {
		return nil, err
	}
	r, err := s.Definitions.Release(ctx, z.ID, z.Revision, 1)
	if err != nil {
		return nil, err
	}
	return r, s.Definitions.TrySince(ctx, z.ID, r.Number-1, 0.5, time.Now().AddDate(0, 0, -tried))
}

// fillTables puts the demo's products into the catalogue, and its signposts up.
func fillTables(ctx context.Context, s *store.Store, standIns string) error {
	err := s.Definitions.PutProducts(ctx, []store.Product{
		{
			Key:         "deep_box",
			Name:        "Deep-box hive",
			Text:        "Two deep boxes of larch, a floor with a gate for wasps, a tin roof.",
			Picture:     "/assets/drawing-hive.svg",
			Description: "A hive",
			Price:       "289",
			SalePrice:   "249",
			Currency:    "EUR",
			Tags:        "hive",
			Address:     "https://quillbrook.example/deep-box",
			InStock:     true,
		},
		{
			Key:         "half_box",
			Name:        "Half-box hive",
			Text:        "Four half boxes of pine. None weighs more than twelve kilograms, full.",
			Picture:     "/assets/drawing-hive.svg",
			Description: "A hive",
			Price:       "264",
			Currency:    "EUR",
			Tags:        "hive",
			Address:     "https://quillbrook.example/half-box",
			InStock:     true,
		},
		{
			Key:         "long_hive",
			Name:        "Long hive on legs",
			Text:        "Twenty combs side by side, at the height of a table.",
			Picture:     "/assets/drawing-hive.svg",
			Description: "A hive",
			Price:       "342",
			Currency:    "EUR",
			Tags:        "hive",
			Address:     "https://quillbrook.example/long-hive",
			InStock:     true,
		},
		{
			Key:         "season_set",
			Name:        "First season’s set",
			Text:        "Suit, smoker, brush and a hive tool that does not rust.",
			Picture:     "/assets/drawing-jar.svg",
			Description: "A jar of honey",
			Price:       "118.50",
			Currency:    "EUR",
			Tags:        "first season, tools",
			Address:     "https://quillbrook.example/season-set",
			InStock:     true,
		},
		{
			Key:      "swarm",
			Name:     "A gentle swarm, in May",
			Text:     "From our own queens; you come and fetch it.",
			Price:    "140",
			Currency: "EUR",
			Tags:     "first season",
			Address:  "https://quillbrook.example/swarm",
		},
	})
	if err != nil {
		return err
	}
	err = s.Definitions.PutPlaces(ctx, []store.Place{
		{
			Table:     "yards",
			Key:       "north",
			Name:      "North yard",
			Address:   "Behind the mill, Quillbrook",
			Latitude:  54.1,
			Longitude: -8.4,
		},
		{
			Table:     "yards",
			Key:       "river",
			Name:      "River yard",
			Address:   "By the ferry, Lower Quillbrook",
			Latitude:  52.7,
			Longitude: -8.6,
		},
		{
			Table:     "yards",
			Key:       "hill",
			Name:      "Hill yard",
			Address:   "At the end of Heather Lane, Upfield",
			Latitude:  51.9,
			Longitude: -7.1,
		},
	})
	if err != nil {
		return err
	}
	visits := store.NewCalendar("visits", "Europe/Dublin")
	visits.Minutes, visits.Buffer, visits.Lead = 45, 15, 24
	visits.Hours = [7]string{"", "9–12", "9–12, 13–17", "", "9–12, 13–17", "9–12", ""}
	visits.Off = "2026-12-24 to 2027-01-03"
	if err := s.Definitions.PutCalendar(ctx, visits); err != nil {
		return err
	}
	return s.Definitions.PutSignposts(ctx, []store.Signpost{
		{Table: "visits", Row: "IE", Address: "http://" + standIns + "/standin/booking?yard=ie&passage={passage}"},
		{Table: "visits", Row: "GB", Address: "http://" + standIns + "/standin/booking?yard=gb&passage={passage}"},
		{Table: "visits", Row: "shelf", Address: "https://quillbrook.example/new"},
	}, 1)
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
