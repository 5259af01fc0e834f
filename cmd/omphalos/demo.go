package main

import (
	"context"
	_ "embed"
	"fmt"
	"math/rand/v2"
	"net"
	"os"
	"strconv"
	"strings"
	"time"

	"github.com/spf13/cobra"

	"omphalos/core/passage"
	"omphalos/core/quiz"
	"omphalos/interchange/country"
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

// The demo's sign-in. It opens nothing but invented data on this machine.
const (
	defaultStandIns = "127.0.0.1:8643"

	demoEmail    = "marketer@quillbrook.example"
	demoPassword = "hives-for-hire"
)

func demoCommand() *cobra.Command {
	var file, listen, standIns string
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
			with := web.Options{Countries: known.Of, Limits: player.DefaultLimits, Proxies: loopback}
			return serve(c.Context(), s, listen, at, unfinishedKept, with, func(net.Addr) {
				fmt.Fprintf(c.OutOrStdout(), "\n  Studio    http://%s/studio\n  Sign in   %s\n  Password  %s\n  Quiz      http://%s/q/is-your-orchard-ready-for-hired-bees\n\n", listen, demoEmail, demoPassword, listen)
			})
		},
	}
	c.Flags().StringVar(&file, "workspace", "workspace/demo/omphalos.db", "file of the workspace")
	c.Flags().StringVar(&listen, "listen", defaultListen, "address to listen on")
	c.Flags().StringVar(&standIns, "stand-ins", portAfter, "address of the stand-ins")
	c.Flags().IntVar(&responses, "responses", responses, "how many responses the demo's first quiz has")
	c.Flags().BoolVar(&remake, "remake", false, "throw the demo away and make it anew")
	c.Flags().BoolVar(&quiet, "only-make", false, "make the workspace and do not serve it")
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
		return "", fmt.Errorf("the address %q does not say a port: say where the stand-ins are with --stand-ins", listen)
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
	if len(people) == 1 && people[0].Email == demoEmail || len(people)+len(there) == 0 {
		return nil
	}
	return fmt.Errorf("the workspace %s was not made by the demo and is left alone: name another file with --workspace, or serve it with “omphalos serve”", file)
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
	if err := answerDemo(ctx, s, r, z.Slug, responses); err != nil {
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
	_, err = s.Definitions.Release(ctx, z.ID, z.Revision, 1)
	return err
}

// fillTables puts the demo's products into the catalogue, and its signposts up.
func fillTables(ctx context.Context, s *store.Store, standIns string) error {
	err := s.Definitions.PutProducts(ctx, []store.Product{
		{Key: "deep_box", Name: "Deep-box hive", Text: "Two deep boxes of larch, a floor with a gate for wasps, a tin roof.", Picture: "/assets/drawing-hive.svg", Description: "A hive", Price: "289", SalePrice: "249", Currency: "EUR", Tags: "hive", Address: "https://quillbrook.example/deep-box", InStock: true},
		{Key: "half_box", Name: "Half-box hive", Text: "Four half boxes of pine. None weighs more than twelve kilograms, full.", Picture: "/assets/drawing-hive.svg", Description: "A hive", Price: "264", Currency: "EUR", Tags: "hive", Address: "https://quillbrook.example/half-box", InStock: true},
		{Key: "long_hive", Name: "Long hive on legs", Text: "Twenty combs side by side, at the height of a table.", Picture: "/assets/drawing-hive.svg", Description: "A hive", Price: "342", Currency: "EUR", Tags: "hive", Address: "https://quillbrook.example/long-hive", InStock: true},
		{Key: "season_set", Name: "First season’s set", Text: "Suit, smoker, brush and a hive tool that does not rust.", Picture: "/assets/drawing-jar.svg", Description: "A jar of honey", Price: "118.50", Currency: "EUR", Tags: "first season, tools", Address: "https://quillbrook.example/season-set", InStock: true},
		{Key: "swarm", Name: "A gentle swarm, in May", Text: "From our own queens; you come and fetch it.", Price: "140", Currency: "EUR", Tags: "first season", Address: "https://quillbrook.example/swarm"},
	})
	if err != nil {
		return err
	}
	err = s.Definitions.PutPlaces(ctx, []store.Place{
		{Table: "yards", Key: "north", Name: "North yard", Address: "Behind the mill, Quillbrook", Latitude: 54.1, Longitude: -8.4},
		{Table: "yards", Key: "river", Name: "River yard", Address: "By the ferry, Lower Quillbrook", Latitude: 52.7, Longitude: -8.6},
		{Table: "yards", Key: "hill", Name: "Hill yard", Address: "At the end of Heather Lane, Upfield", Latitude: 51.9, Longitude: -7.1},
	})
	if err != nil {
		return err
	}
	return s.Definitions.PutSignposts(ctx, []store.Signpost{
		{Table: "visits", Row: "IE", Address: "http://" + standIns + "/standin/booking?yard=ie&passage={passage}"},
		{Table: "visits", Row: "GB", Address: "http://" + standIns + "/standin/booking?yard=gb&passage={passage}"},
		{Table: "visits", Row: "shelf", Address: "https://quillbrook.example/new"},
	}, 1)
}

// demoDays is over how many days the demo's responses have come in.
const demoDays = 90

// demoBatch is how many responses are kept in one commit where there are many.
const demoBatch = 4000

// answerDemo lets invented respondents answer, the same ones every time: the newest as they
// would through the pages, those before them over ninety days, from several sources.
func answerDemo(ctx context.Context, s *store.Store, r *store.Release, slug string, respondents int) error {
	q, err := r.Read()
	if err != nil {
		return err
	}
	program, err := passage.Compile(q)
	if err != nil {
		return err
	}
	d := demoRespondents{rand.New(rand.NewPCG(7, 11)), program, program.Walker()}
	earlier := respondents - demoResponses
	now := time.Now().UTC()
	var batch []*store.Response
	for i := range max(earlier, 0) {
		begun := store.Begin("", r, slug, passage.Visitor{
			Language: []string{"en", "en", "de", "nl"}[d.chance.IntN(4)], Device: []string{"phone", "phone", "desktop", "tablet"}[d.chance.IntN(4)],
			Country: []string{"IE", "IE", "GB", "NL", "DE"}[d.chance.IntN(5)], Source: []string{"", "letter", "letter", "search", "fair"}[d.chance.IntN(5)]})
		response, _, err := d.answers(begun)
		if err != nil {
			return err
		}
		left := time.Duration(float64(demoDays*24*time.Hour) * (1 - float64(i)/float64(earlier)))
		response.QuizID, response.ReleaseID, response.Passage, response.Visitor = begun.QuizID, begun.ReleaseID, begun.ID, begun.Visitor
		response.Finished = now.Add(-left - time.Duration(d.chance.IntN(3600))*time.Second)
		response.Started = response.Finished.Add(-time.Duration(20+d.chance.IntN(160)) * time.Second)
		if batch = append(batch, response); len(batch) == demoBatch || i == earlier-1 {
			if err := s.Responses.AddResponses(ctx, batch); err != nil {
				return err
			}
			batch = nil
		}
	}
	for range min(respondents, demoResponses) {
		begun, err := s.Responses.Start(ctx, r, slug, passage.Visitor{Language: "en", Device: []string{"phone", "desktop"}[d.chance.IntN(2)]})
		if err != nil {
			return err
		}
		response, typed, err := d.answers(begun)
		if err != nil {
			return err
		}
		if _, err := s.Responses.Finish(ctx, begun, typed, response); err != nil {
			return err
		}
	}
	return nil
}

// demoResponses is how many responses the demo has by itself.
const demoResponses = 64

// demoRespondents answer by chance: most of them grow something and have thought about it a
// little.
type demoRespondents struct {
	chance  *rand.Rand
	program *passage.Program
	walker  *passage.Walker
}

func (d *demoRespondents) answers(begun *store.Passage) (*store.Response, map[string]passage.Typed, error) {
	in := passage.Input{Answers: make(passage.Answers, d.program.Questions()), Visitor: begun.Facts()}
	typed := map[string]passage.Typed{}
	for i := range in.Answers {
		keys := d.program.AnswerKeys(i)
		t := passage.Typed{Values: []string{keys[min(d.chance.IntN(len(keys)), d.chance.IntN(len(keys)+1))]}}
		var err error
		if in.Answers[i], err = d.program.Read(i, t); err != nil {
			return nil, nil, err
		}
		typed[d.program.Key(i)] = t
	}
	result := d.walker.Walk(in)
	response := store.Record(d.program, in, result)
	if template := d.program.AddressOf(result); template != nil {
		var err error
		if response.Address, err = d.program.Filler(in, result, store.ResponseNumber(begun.ID)).Address(template); err != nil {
			return nil, nil, err
		}
	}
	return response, typed, nil
}
