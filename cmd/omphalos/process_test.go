package main

import (
	"bufio"
	"fmt"
	"io"
	"net"
	"net/http"
	"net/url"
	"os"
	"os/exec"
	"path/filepath"
	"regexp"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"omphalos/core/quiz"
	"omphalos/core/quiztest"
	"omphalos/store"
)

// asCommand makes the test program behave as the application, or as the bare handlers
// that it is measured against, in a process of its own.
const asCommand = "OMPHALOS_TEST_AS"

func TestMain(m *testing.M) {
	switch command := os.Getenv(asCommand); {
	case command == "":
		os.Exit(m.Run())
	case strings.HasPrefix(command, "bare "):
		bare(strings.TrimPrefix(command, "bare "))
	default:
		os.Args = append([]string{"omphalos"}, strings.Fields(command)...)
		main()
	}
}

// A process is a server of its own on loopback.
type process struct {
	*exec.Cmd
	address string
}

// begin starts the test program as a command that serves on an address.
func begin(t testing.TB, command, address string) *process {
	t.Helper()
	return started(t, exec.Command(os.Args[0]), command, address)
}

func started(t testing.TB, program *exec.Cmd, command, address string) *process {
	t.Helper()
	p := &process{program, address}
	p.Env = append(os.Environ(), asCommand+"="+command)
	p.Stdout, p.Stderr = io.Discard, io.Discard
	require.NoError(t, p.Start())
	t.Cleanup(func() { p.kill() })
	require.Eventually(t, func() bool {
		c, err := net.Dial("tcp", address)
		if err == nil {
			_ = c.Close()
		}
		return err == nil
	}, 20*time.Second, 10*time.Millisecond, "it serves")
	return p
}

// kill ends the process as a power cut would: by its own id, at once.
func (p *process) kill() {
	if p.ProcessState == nil {
		_ = p.Process.Kill()
		_ = p.Wait()
	}
}

// freeAddress is a free address on loopback.
func freeAddress(t testing.TB) string {
	t.Helper()
	l, err := net.Listen("tcp", "127.0.0.1:0")
	require.NoError(t, err)
	defer l.Close()
	return l.Addr().String()
}

// A workplace is a workspace with a quiz of six questions on one page, released, and one
// that has an opening.
type workplace struct {
	file, slug, opening string
	quiz                uint
}

func newWorkplace(t testing.TB) workplace {
	t.Helper()
	return newWorkplaceWith(t, func(quiztest.Maker) {})
}

// newWorkplaceWith is newWorkplace with something else about the quiz.
func newWorkplaceWith(t testing.TB, and func(quiztest.Maker)) workplace {
	t.Helper()
	w := workplace{file: filepath.Join(t.TempDir(), "omphalos.db")}
	s, err := store.Open(w.file)
	require.NoError(t, err)
	defer s.Close()
	release := func(document []byte) *store.Quiz {
		q, err := quiz.Read(document)
		require.NoError(t, err)
		z, err := s.Definitions.AddQuiz(t.Context(), q)
		require.NoError(t, err)
		_, err = s.Definitions.Release(t.Context(), z.ID, z.Revision, 1)
		require.NoError(t, err)
		return z
	}
	w.opening = release(orchard).Slug
	m := quiztest.New("low", "high")
	m.Pace = quiz.OnePage
	m.Scale("points", quiz.Sum)
	for i := range 6 {
		m.Ask(fmt.Sprintf("q%d", i), quiz.Single, "a points=1", "b points=2", "c points=3").Required = true
	}
	m.Bands("points", "low", "12=high")
	and(m)
	z := release(m.Write())
	w.slug, w.quiz = z.Slug, z.ID
	return w
}

func (w workplace) serve(t testing.TB, address string) *process {
	t.Helper()
	return begin(t, fmt.Sprintf("serve --workspace %s --listen %s --starts 0 --finishes 0 --reach 127.0.0.1",
		w.file, address), address)
}

// serveWithin serves from a process that can make no file larger than so many KB, which is
// what a full disk looks like to it.
func (w workplace) serveWithin(t testing.TB, address string, most int) *process {
	t.Helper()
	return started(t, exec.Command("bash", "-c", fmt.Sprintf(`ulimit -f %d; exec "$0"`, most), os.Args[0]),
		fmt.Sprintf("serve --workspace %s --listen %s --starts 0 --finishes 0", w.file, address), address)
}

// filledIn is the form that finishes a passage under a number.
func filledIn(number string) string {
	form := url.Values{"passage": {number}, "go": {"on"}}
	for i := range 6 {
		form.Add("asked", fmt.Sprintf("q%d", i))
		form.Set(fmt.Sprintf("answer.q%d", i), string("abc"[(i+len(number))%3]))
	}
	return form.Encode()
}

// A line is one connection that asks and hears, as plainly as HTTP/1.1 allows, so that
// asking costs little.
type line struct {
	net.Conn
	in *bufio.Reader
}

func dial(address string) (*line, error) {
	c, err := net.DialTimeout("tcp", address, 5*time.Second)
	if err != nil {
		return nil, err
	}
	return &line{c, bufio.NewReader(c)}, nil
}

func getRequest(path string) string {
	return "GET " + path + " HTTP/1.1\r\nHost: load\r\n\r\n"
}

func postRequest(path, form string) string {
	return fmt.Sprintf(
		"POST %s HTTP/1.1\r\nHost: load\r\nContent-Type: application/x-www-form-urlencoded\r\nContent-Length: %d\r\n\r\n%s",
		path,
		len(form),
		form,
	)
}

// ask sends a request and returns the status and how long the body was.
func (l *line) ask(request string) (status int, length int64, err error) {
	if err := l.SetDeadline(time.Now().Add(30 * time.Second)); err != nil {
		return 0, 0, err
	}
	if _, err := io.WriteString(l, request); err != nil {
		return 0, 0, err
	}
	r, err := http.ReadResponse(l.in, nil)
	if err != nil {
		return 0, 0, err
	}
	length, err = io.Copy(io.Discard, r.Body)
	return r.StatusCode, length, err
}

// page is ask that returns the body.
func (l *line) page(request string) (status int, body string, err error) {
	if _, err := io.WriteString(l, request); err != nil {
		return 0, "", err
	}
	r, err := http.ReadResponse(l.in, nil)
	if err != nil {
		return 0, "", err
	}
	data, err := io.ReadAll(r.Body)
	return r.StatusCode, string(data), err
}

var peak = regexp.MustCompile(`VmHWM:\s+(\d+) kB`)

// memory returns the most memory that the process has held, in MB (Linux).
func (p *process) memory() string {
	status, err := os.ReadFile(fmt.Sprintf("/proc/%d/status", p.Process.Pid))
	if err != nil {
		return "unknown"
	}
	var kB int
	if found := peak.FindSubmatch(status); found != nil {
		_, _ = fmt.Sscan(string(found[1]), &kB)
	}
	return fmt.Sprintf("%d MB", kB/1024)
}
