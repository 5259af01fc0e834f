package main

import (
	"cmp"
	"context"
	"errors"
	"fmt"
	"log/slog"
	"net"
	"net/http"
	"os"
	"os/signal"
	"path/filepath"
	"runtime/debug"
	"strconv"
	"strings"
	"syscall"
	"time"

	"github.com/spf13/cobra"

	"omphalos/interchange/country"
	"omphalos/outbox"
	"omphalos/store"
	"omphalos/web"
	"omphalos/web/player"
	"omphalos/web/standin"
)

const defaultListen = "127.0.0.1:8642"

// loopback is where a server in front on the same machine comes from, which is believed
// when it says who a visitor is.
var loopback = []string{"127.0.0.1", "::1"}

func serveCommand() *cobra.Command {
	var file, listen, countries, standIns string
	var reach []string
	unfinished := unfinishedKept
	with := web.Options{Limits: player.DefaultLimits, Proxies: loopback}
	c := &cobra.Command{
		Use: "serve", Short: "Serve a workspace", Args: cobra.NoArgs,
		RunE: func(c *cobra.Command, _ []string) error {
			if err := web.CheckProxies(with.Proxies); err != nil {
				return err
			}
			if with.Public != "" {
				if err := web.CheckPublic(with.Public); err != nil {
					return err
				}
				with.Public = strings.TrimSuffix(with.Public, "/")
			}
			if countries != "" {
				known, err := country.Open(countries)
				if err != nil {
					return err
				}
				defer known.Close()
				with.Countries = known.Of
			}
			reaches, err := outbox.ParseReach(reach)
			if err != nil {
				return err
			}
			with.Reaches = reaches
			if standIns != "" {
				var err error
				if standIns, err = standInsAt(listen, standIns); err != nil {
					return err
				}
			}
			s, err := openWorkspace(file)
			if err != nil {
				return err
			}
			defer s.Close()
			return serve(c.Context(), s, listen, standIns, unfinished, with, func(at net.Addr) {
				fmt.Fprintf(c.OutOrStdout(), "Serving %s at http://%s/studio\n", file, at)
			})
		},
	}
	flags := c.Flags()
	flags.StringVar(&file, "workspace", "workspace/omphalos.db", "file of the workspace")
	flags.StringVar(&listen, "listen", defaultListen, "address to listen on")
	flags.StringVar(&countries, "countries", "", "database of countries by address, in the MaxMind DB format")
	flags.StringSliceVar(&with.Proxies, "proxy", with.Proxies,
		"address or range of a proxy that says who a visitor is")
	flags.StringSliceVar(&reach, "reach", nil,
		"address or range that calls and mail may go to beside the open net, such as 10.1.0.0/16")
	flags.StringVar(&with.Public, "public-address", "",
		"address under which it is known, such as https://quiz.example.org: the base of every address that it writes out")
	flags.StringVar(&with.Security, "security-contact", "",
		"where security problems are told, mailto:… or https://…, for /.well-known/security.txt")
	flags.DurationVar(&with.Idle, "idle", 12*time.Hour, "after which a session ends in which nobody did anything")
	flags.DurationVar(&unfinished, "unfinished", unfinishedKept,
		"after which a passage is forgotten that nobody goes on with")
	flags.StringVar(&standIns, "stand-ins", "",
		"serve the stand-ins too, for trying things: at the port after that of --listen, or at --stand-ins=ADDRESS")
	flags.Lookup("stand-ins").NoOptDefVal = portAfter
	flags.IntVar(&with.Limits.Starts, "starts", with.Limits.Starts,
		"most passages begun from one address in a minute, 0 for any number")
	flags.IntVar(&with.Limits.Finishes, "finishes", with.Limits.Finishes,
		"most passages finished from one address in a minute, 0 for any number")
	return c
}

func openWorkspace(file string) (*store.Store, error) {
	if err := os.MkdirAll(filepath.Dir(file), 0o700); err != nil {
		return nil, fmt.Errorf("making the folder of the workspace: %w", err)
	}
	return store.Open(file)
}

// garbage is how much the heap may grow, in percent, before it is swept: what is kept in
// memory is small and what passes through is much, so that seldom sweeping is worth more
// than it takes.
const garbage = 400

// serve serves until it is interrupted, then lets the requests under way end. The stand-ins
// are served at an address of their own, or not at all where that is "".
func serve(
	ctx context.Context,
	s *store.Store,
	listen, standIns string,
	unfinished time.Duration,
	with web.Options,
	started func(net.Addr),
) error {
	ctx, stop := signal.NotifyContext(ctx, os.Interrupt, syscall.SIGTERM, syscall.SIGHUP)
	defer stop()
	listener, err := net.Listen("tcp", listen)
	if err != nil {
		return fmt.Errorf("listening on %s: %w", listen, err)
	}
	defer listener.Close()
	if err := s.Serving(fmt.Sprintf("process %d at http://%s", os.Getpid(), listener.Addr())); err != nil {
		return err
	}
	if os.Getenv("GOGC") == "" {
		debug.SetGCPercent(garbage)
	}
	if os.Getenv("GOMEMLIMIT") == "" {
		debug.SetMemoryLimit(memoryLimit())
	}
	failed := make(chan error, 2)
	ending := make(chan struct{})
	with.Ending = ending
	base := cmp.Or(with.Public, "http://"+listener.Addr().String())
	var beside *http.Server
	if standIns != "" {
		other, err := net.Listen("tcp", standIns)
		if err != nil {
			return fmt.Errorf("listening on %s for the stand-ins: %w", standIns, err)
		}
		with.StandIns = "http://" + other.Addr().String()
		services := standin.New(base)
		box, err := net.Listen("tcp", mailboxAt(other.Addr()))
		if err != nil {
			return fmt.Errorf("listening for the mailbox among the stand-ins: %w", err)
		}
		go func() { _ = services.Mail.Serve(box) }() // ends when it is closed
		defer services.Mail.Close()
		beside = newServer(web.StandIns(services))
		go func() { failed <- beside.Serve(other) }()
		defer beside.Close()
	}
	out := outbox.New(s, outbox.Options{Base: base, Reaches: with.Reaches, Voice: player.Voice})
	with.Outbox = out
	sending, stopSending := context.WithCancel(ctx)
	sent := make(chan struct{})
	go func() { out.Run(sending); close(sent) }()
	defer func() { stopSending(); <-sent }()
	server := newServer(web.New(s, with))
	server.RegisterOnShutdown(func() { close(ending) })
	go func() { failed <- server.Serve(listener) }()
	go tend(ctx, s, unfinished)
	started(listener.Addr())
	select {
	case err := <-failed:
		return err
	case <-ctx.Done():
	}
	slog.Info("ending; requests under way are finished first")
	last, cancel := context.WithTimeout(context.Background(), 20*time.Second)
	defer cancel()
	if err := server.Shutdown(last); err != nil {
		return fmt.Errorf("ending: %w", err)
	}
	if err := <-failed; !errors.Is(err, http.ErrServerClosed) {
		return err
	}
	return nil
}

// mailboxAt is where the mailbox among the stand-ins takes mail: at the port after theirs.
func mailboxAt(standIns net.Addr) string {
	at := standIns.(*net.TCPAddr)
	return net.JoinHostPort(at.IP.String(), strconv.Itoa(at.Port+1))
}

func newServer(handler http.Handler) *http.Server {
	return &http.Server{Handler: handler, ReadHeaderTimeout: 10 * time.Second, ReadTimeout: 30 * time.Second,
		WriteTimeout: 60 * time.Second, IdleTimeout: 2 * time.Minute, MaxHeaderBytes: 64 << 10}
}

// Of the machine's memory the heap may have an eighth before it is swept all the time:
// what is kept in memory is small.
const (
	leastMemory = 192 << 20
	mostMemory  = 240 << 20
)

func memoryLimit() int64 {
	machine, err := machineMemory()
	if err != nil {
		return mostMemory
	}
	return min(max(machine/8, leastMemory), mostMemory)
}
