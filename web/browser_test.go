package web_test

import (
	"context"
	"database/sql"
	"net"
	"net/http"
	"net/http/httptest"
	"os"
	"path/filepath"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"omphalos/core/quiz"
	"omphalos/outbox"
	"omphalos/store"
	"omphalos/web"
	"omphalos/web/player"
	"omphalos/web/standin"
)

const (
	email    = "marketer@quillbrook.example"
	password = "hives-for-hire"
)

// An app is a running application over a workspace of its own.
type app struct {
	*httptest.Server
	store    *store.Store
	file     string // of the workspace
	standIns string // address of the stand-ins
	services *standin.Services
	mailPort int // where they take mail
}

func newApp(t testing.TB) *app {
	return newAppBehind(t, func(h http.Handler) http.Handler { return h })
}

// newAppBehind is newApp with something between the application and its visitors.
func newAppBehind(t testing.TB, front func(http.Handler) http.Handler) *app {
	t.Helper()
	return openApp(t, web.Options{}, front)
}

// newAppWith is newApp with options.
func newAppWith(t testing.TB, with web.Options) *app {
	t.Helper()
	return openApp(t, with, func(h http.Handler) http.Handler { return h })
}

func openApp(t testing.TB, with web.Options, front func(http.Handler) http.Handler) *app {
	t.Helper()
	return openFile(t, filepath.Join(t.TempDir(), "omphalos.db"), with, front)
}

// openFile serves the workspace in a file.
func openFile(t testing.TB, file string, with web.Options, front func(http.Handler) http.Handler) *app {
	t.Helper()
	s, err := store.Open(file)
	require.NoError(t, err)
	require.NoError(t, s.People.PutUser(t.Context(), email, "Quillbrook marketing", password))
	server := httptest.NewUnstartedServer(nil)
	base := "http://" + server.Listener.Addr().String()
	services := standin.New(base)
	beside := httptest.NewServer(web.StandIns(services))
	box, err := net.Listen("tcp", "127.0.0.1:0")
	require.NoError(t, err)
	go func() { _ = services.Mail.Serve(box) }()
	with.StandIns = beside.URL
	reaches, err := outbox.ParseReach([]string{"127.0.0.0/8"})
	require.NoError(t, err)
	with.Outbox = outbox.New(s, outbox.Options{Base: base, Reaches: reaches, Voice: player.Voice})
	sending, stop := context.WithCancel(context.Background())
	sent := make(chan struct{})
	go func() { with.Outbox.Run(sending); close(sent) }()
	server.Config.Handler = front(web.New(s, with))
	server.Start()
	t.Cleanup(func() {
		stop()
		<-sent
		_ = services.Mail.Close()
		server.CloseClientConnections()
		beside.Close()
		server.Close()
		require.NoError(t, s.Close())
	})
	return &app{server, s, file, beside.URL, services, box.Addr().(*net.TCPAddr).Port}
}

// lock holds the workspace as another process would, until it is freed.
func (a *app) lock(t testing.TB) (free func()) {
	t.Helper()
	db, err := sql.Open("sqlite3", a.file)
	require.NoError(t, err)
	db.SetMaxOpenConns(1)
	_, err = db.Exec("BEGIN IMMEDIATE")
	require.NoError(t, err)
	return func() {
		_, err := db.Exec("ROLLBACK")
		require.NoError(t, err)
		require.NoError(t, db.Close())
	}
}

// calendar keeps a calendar that is open day and night, in half-hours.
func (a *app) calendar(t testing.TB, name string) {
	t.Helper()
	c := store.NewCalendar(name, "Europe/Dublin")
	for day := range c.Hours {
		c.Hours[day] = "0–24"
	}
	require.NoError(t, a.store.Definitions.PutCalendar(t.Context(), c))
}

// orchardQuiz is the demo's lead quiz, whose booking page is this application's.
func (a *app) orchardQuiz(t testing.TB) *quiz.Quiz {
	t.Helper()
	data, err := os.ReadFile("../cmd/omphalos/demo/orchard.json")
	require.NoError(t, err)
	q, err := quiz.Read([]byte(strings.ReplaceAll(string(data), "http://127.0.0.1:8643", a.standIns)))
	require.NoError(t, err)
	return q
}

// orchard is that without its pictures, among the quizzes.
func (a *app) orchard(t testing.TB) *store.Quiz {
	t.Helper()
	q := a.orchardQuiz(t)
	plain(q)
	z, err := a.store.Definitions.AddQuiz(t.Context(), q)
	require.NoError(t, err)
	return z
}

// plain takes away what a quiz shows beside its words, for tests of these.
func plain(q *quiz.Quiz) {
	q.Opening.Picture = nil
	q.Look.Made = ""
	q.Settings.Results = nil
	for _, o := range q.Outcomes {
		o.Picture = nil
	}
	for _, asked := range q.Questions {
		asked.Layout = ""
		for _, answer := range asked.Answers {
			answer.Picture = nil
		}
	}
}

func (a *app) add(t testing.TB, document string) *store.Quiz {
	t.Helper()
	q, err := quiz.Read([]byte(document))
	require.NoError(t, err)
	z, err := a.store.Definitions.AddQuiz(t.Context(), q)
	require.NoError(t, err)
	return z
}

// edit changes a draft as another person does.
func (a *app) edit(t testing.TB, id uint, patch string) {
	t.Helper()
	z, err := a.store.Definitions.Quiz(t.Context(), id)
	require.NoError(t, err)
	_, _, err = a.store.Definitions.Edit(t.Context(), id, z.Revision, []byte(patch), 1)
	require.NoError(t, err)
}

func (a *app) release(t testing.TB, z *store.Quiz) *store.Release {
	t.Helper()
	r, err := a.store.Definitions.Release(t.Context(), z.ID, z.Revision, 1)
	require.NoError(t, err)
	return r
}
