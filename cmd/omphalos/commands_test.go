package main

import (
	"bytes"
	"errors"
	"os"
	"path/filepath"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"omphalos/store"
)

// run runs the command line and returns what it wrote and its exit status.
func run(t *testing.T, stdin string, args ...string) (out, complaints string, status int) {
	t.Helper()
	var stdout, stderr bytes.Buffer
	c := root()
	c.SetArgs(args)
	c.SetIn(strings.NewReader(stdin))
	c.SetOut(&stdout)
	c.SetErr(&stderr)
	err := c.Execute()
	var silent exit
	switch {
	case errors.As(err, &silent):
		status = int(silent)
	case err != nil:
		status = 2
		stderr.WriteString(err.Error())
	}
	return stdout.String(), stderr.String(), status
}

func file(t *testing.T, name, content string) string {
	t.Helper()
	path := filepath.Join(t.TempDir(), name)
	require.NoError(t, os.WriteFile(path, []byte(content), 0o600))
	return path
}

func TestCheck(t *testing.T) {
	out, _, status := run(t, "", "check", "demo/orchard.json")
	assert.Equal(t, 0, status)
	assert.Equal(t, "demo/orchard.json: no problems in 6 questions, 1 scales, 3 outcomes\n", out)

	broken := strings.NewReplacer(`"otherwise": "not_yet"`, `"otherwise": "nobody"`, `"at": 18`, `"at": 10`, `{"readiness": 5}`, `{"rediness": 5}`).Replace(string(orchard))
	out, _, status = run(t, broken, "check", "-")
	assert.Equal(t, 1, status)
	assert.Equal(t, `/questions/crop/answers/cherries/adds/rediness: adds to the scale "rediness", which does not exist
/questions/bloom/answers/soon/adds/rediness: adds to the scale "rediness", which does not exist
/decision/steps/bands/cuts/warm/at: two cuts at 10 leave an empty band between them; move one
/decision/otherwise: names the outcome "nobody", which does not exist
`, out)

	out, _, status = run(t, "", "check", file(t, "q.json", `{"format":"omphalos/quiz@1","titel":"x"}`))
	assert.Equal(t, 1, status)
	assert.Contains(t, out, `the document: needs the field`)
	_, complaints, status := run(t, "", "check", "no-such-file.json")
	assert.Equal(t, 2, status)
	assert.Contains(t, complaints, "no-such-file.json")
}

func TestScore(t *testing.T) {
	heading := "id,crop,size,bloom,hives,budget,decides\n"
	out, complaints, status := run(t, heading+"a,apples,large,soon,some,ample,me\nb,papaya,large,soon,some,ample,me\nc,none,small,not_now,enough,nothing,other\n", "score", "demo/orchard.json")
	assert.Equal(t, 1, status, "a bad row tells in the exit status")
	assert.Equal(t, "line 3: crop: \"papaya\" is not one of the answers\n1 of 3 rows could not be scored\n", complaints)
	assert.Equal(t, "id,readiness,outcome,landing,address,end\n"+
		"a,28,walk,booking,http://127.0.0.1:8642/standin/booking?crop=apples&size=large&readiness=28&passage=a,decided\n"+
		"c,-1,not_yet,page,,decided\n", out)

	lines := file(t, "a.jsonl", `{"id":"a","crop":"none","size":"small","bloom":"not_now","hives":"enough","budget":"nothing","decides":"other"}`)
	target := filepath.Join(t.TempDir(), "out.jsonl")
	_, complaints, status = run(t, "", "score", "demo/orchard.json", lines, "--format", "jsonl", "--explain", "-o", target)
	assert.Equal(t, 0, status, complaints)
	written, err := os.ReadFile(target)
	require.NoError(t, err)
	assert.Contains(t, string(written), `{"id":"a","scores":{"readiness":-1},"outcome":"not_yet","landing":"page","end":"decided","explanation":{"asked":[{"question":"crop"`)

	for _, bad := range [][]string{{"score", "demo/orchard.json", "--format", "xlsx"}, {"score", "nothing.json"}, {"score", "demo/orchard.json", "nothing.csv"}} {
		_, complaints, status = run(t, "", bad...)
		assert.Equal(t, 2, status)
		assert.NotEmpty(t, complaints)
	}
	_, complaints, status = run(t, "colour\nred\n", "score", "demo/orchard.json")
	assert.Equal(t, 2, status)
	assert.Contains(t, complaints, `the column "colour" is no question`)
}

// The demo is made once; a second start finds it again, a remake begins anew.
func TestDemo(t *testing.T) {
	path := filepath.Join(t.TempDir(), "demo", "omphalos.db")
	count := func() (int, string) {
		s, err := store.Open(path)
		require.NoError(t, err)
		defer s.Close()
		list, err := s.Quizzes()
		require.NoError(t, err)
		require.Len(t, list, 1)
		_, err = s.SignIn(demoEmail, demoPassword)
		require.NoError(t, err)
		return list[0].Responses, list[0].Title
	}
	for _, args := range [][]string{{}, {}, {"--remake"}} {
		_, complaints, status := run(t, "", append([]string{"demo", "--only-make", "--workspace", path}, args...)...)
		require.Equal(t, 0, status, complaints)
		responses, title := count()
		assert.Equal(t, 64, responses)
		assert.Equal(t, "Is your orchard ready for hired bees?", title)
	}
	_, _, status := run(t, "too short\n", "user", "ann@example.org", "--workspace", path)
	assert.Equal(t, 2, status)
	out, _, status := run(t, "long enough now\n", "user", "ann@example.org", "--workspace", path)
	assert.Equal(t, 0, status)
	assert.Contains(t, out, "may sign in")
}
