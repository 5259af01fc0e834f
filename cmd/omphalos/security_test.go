package main

import (
	"bytes"
	"fmt"
	"io"
	"net"
	"net/http"
	"net/url"
	"os"
	"os/exec"
	"path/filepath"
	"regexp"
	"strconv"
	"strings"
	"syscall"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"omphalos/core/quiz"
	"omphalos/store"
)

// The demo makes its own workspaces and leaves those of others alone, a remake too.
func TestTheDemoLeavesOthersAlone(t *testing.T) {
	path := filepath.Join(t.TempDir(), "omphalos.db")
	_, complaints, status := run(
		t,
		"smoke-and-honey\n",
		"user",
		"ann@example.org",
		"--name",
		"Ann",
		"--workspace",
		path,
	)
	require.Equal(t, 0, status, complaints)
	for _, args := range [][]string{{}, {"--remake"}} {
		_, complaints, status = run(t, "", append([]string{"demo", "--only-make", "--workspace", path}, args...)...)
		assert.Equal(t, 2, status)
		assert.Contains(t, complaints, "was not made by the demo")
	}
	_, _, status = run(t, "honey-and-smoke\n", "user", "ann@example.org", "--workspace", path)
	require.Equal(t, 0, status)
	s, err := store.Open(path)
	require.NoError(t, err)
	defer s.Close()
	u, err := s.People.SignIn(t.Context(), "ann@example.org", "honey-and-smoke")
	require.NoError(t, err)
	assert.Equal(t, "Ann", u.Name)
	list, err := s.Definitions.Quizzes(t.Context())
	require.NoError(t, err)
	assert.Empty(t, list)
}

// A second server of one workspace says who has it; a hang-up ends a server as it should
// be ended, and a copy can be made while it serves.
func TestOneServerThatEndsWell(t *testing.T) {
	w := newWorkplace(t)
	address := freeAddress(t)
	first := w.serve(t, address)
	second := exec.Command(os.Args[0])
	second.Env = append(os.Environ(), asCommand+"=serve --workspace "+w.file+" --listen "+freeAddress(t))
	said, err := second.CombinedOutput()
	assert.Error(t, err)
	assert.Contains(t, string(said), "is being served already, by process")
	assert.Contains(t, string(said), "at http://"+address)

	to := filepath.Join(t.TempDir(), "copy.db")
	out, complaints, status := run(t, "", "backup", to, "--workspace", w.file)
	assert.Equal(t, 0, status, complaints)
	assert.Contains(t, out, "is a whole copy")
	_, complaints, status = run(t, "", "restore", to, "--workspace", w.file)
	assert.Equal(t, 2, status)
	assert.Contains(t, complaints, "stop that one first")

	require.NoError(t, first.Process.Signal(syscall.SIGHUP))
	require.NoError(t, first.Wait(), "it ends by itself")
	left, err := filepath.Glob(w.file + "*")
	require.NoError(t, err)
	assert.Equal(t, []string{w.file}, left)
	out, complaints, status = run(t, "", "restore", to, "--workspace", w.file)
	assert.Equal(t, 0, status, complaints)
	assert.Contains(t, out, "What was there before is kept as")
}

// What is typed is not in the log: no passwords, no answers, no addresses of passages.
func TestWhatIsLogged(t *testing.T) {
	w := newWorkplace(t)
	address := freeAddress(t)
	program := exec.Command(os.Args[0])
	server := &process{program, address}
	var log bytes.Buffer
	server.Env = append(os.Environ(), asCommand+"=serve --workspace "+w.file+" --listen "+address)
	server.Stdout, server.Stderr = &log, &log
	require.NoError(t, server.Start())
	t.Cleanup(server.kill)
	home := "http://" + address
	require.Eventually(
		t,
		func() bool { _, err := http.Get(home + "/healthz"); return err == nil },
		20*time.Second,
		20*time.Millisecond,
	)
	for path, form := range map[string]url.Values{
		"/studio/sign-in": {"email": {"secret-name@example.org"}, "password": {"secret-password"}},
		"/q/" + w.slug:    {"asked": {"q0"}, "answer.q0": {"secret-answer"}, "go": {"on"}},
		"/p/secret-number-of-a-passage/q0?near=secret-place": {"answer.q0": {"secret-answer"}},
		"/studio/quizzes/secret-quiz/acts":                   {"secret-act": {"x"}},
	} {
		r, err := http.PostForm(home+path, form)
		require.NoError(t, err)
		_, _ = io.Copy(io.Discard, r.Body)
		require.NoError(t, r.Body.Close())
	}
	require.NoError(t, server.Process.Signal(syscall.SIGTERM))
	require.NoError(t, server.Wait())
	assert.Contains(t, log.String(), "route=/q/:slug")
	assert.NotContains(t, log.String(), "secret")
}

// docs/security.md names tests that are there.
func TestSecurityIsTested(t *testing.T) {
	said, err := os.ReadFile("../../docs/security.md")
	require.NoError(t, err)
	var tests strings.Builder
	require.NoError(t, filepath.WalkDir("../..", func(path string, d os.DirEntry, err error) error {
		if err != nil || !strings.HasSuffix(path, "_test.go") {
			return err
		}
		data, err := os.ReadFile(path)
		tests.Write(data)
		return err
	}))
	names := regexp.MustCompile("`((?:Test|Fuzz)[A-Za-z]+)`").FindAllStringSubmatch(string(said), -1)
	assert.Greater(t, len(names), 30)
	for _, name := range names {
		assert.Contains(t, tests.String(), "func "+name[1]+"(", "docs/security.md names it")
	}
}

// A person who asks for it is forgotten, in all quizzes.
func TestForgettingAPerson(t *testing.T) {
	path := filepath.Join(t.TempDir(), "omphalos.db")
	s, err := store.Open(path)
	require.NoError(t, err)
	q, err := quiz.Read(orchard)
	require.NoError(t, err)
	z, err := s.Definitions.AddQuiz(t.Context(), q)
	require.NoError(t, err)
	r, err := s.Definitions.Release(t.Context(), z.ID, z.Revision, 1)
	require.NoError(t, err)
	for i, name := range []string{"Ann", "Ben", "Ann"} {
		one := &store.Response{
			QuizID:    z.ID,
			ReleaseID: r.ID,
			Passage:   store.PassageNumber(),
			Outcome:   "walk",
			Started:   time.Now(),
			Finished:  time.Now(),
			Contacts:  []store.Contact{{Field: "mail", Value: name + "@example.org"}},
		}
		require.NoError(t, s.Responses.AddResponses(t.Context(), []*store.Response{one}), i)
	}
	require.NoError(t, s.Close())
	for _, said := range []string{"2 responses deleted", "0 responses deleted"} {
		out, complaints, status := run(t, "", "forget", "ann@EXAMPLE.org", "--workspace", path)
		assert.Equal(t, 0, status, complaints)
		assert.Contains(t, out, said)
	}
	s, err = store.Open(path)
	require.NoError(t, err)
	defer s.Close()
	left, err := s.Responses.Answered(t.Context(), z.ID)
	require.NoError(t, err)
	assert.Equal(t, 1, left)
}

// Stand-ins are served where they are asked for, and nowhere else.
func TestStandInsAreAskedFor(t *testing.T) {
	w := newWorkplace(t)
	for flag, there := range map[string]bool{"": false, "--stand-ins": true, "--stand-ins=": true} {
		address, beside := freeAddress(t), ""
		host, port, err := net.SplitHostPort(address)
		require.NoError(t, err)
		n, err := strconv.Atoi(port)
		require.NoError(t, err)
		beside = net.JoinHostPort(host, strconv.Itoa(n+1))
		if strings.HasSuffix(flag, "=") {
			beside = freeAddress(t)
			flag += beside
		}
		server := begin(t, fmt.Sprintf("serve --workspace %s --listen %s %s", w.file, address, flag), address)
		require.Eventually(t, func() bool {
			r, err := http.Get("http://" + address + "/readyz")
			return err == nil && r.Body.Close() == nil
		}, 20*time.Second, 20*time.Millisecond)
		r, err := http.Get("http://" + beside + "/standin/booking")
		assert.Equal(t, there, err == nil, flag)
		if err == nil {
			assert.Equal(t, http.StatusOK, r.StatusCode)
			require.NoError(t, r.Body.Close())
		}
		server.kill()
	}
}
