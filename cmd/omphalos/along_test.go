package main

import (
	"encoding/json"
	"os"
	"path/filepath"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"omphalos/store"
)

// The demo is made once; a second start finds it again, a remake begins anew.
func TestDemo(t *testing.T) {
	path := filepath.Join(t.TempDir(), "demo", "omphalos.db")
	count := func() (int, string) {
		s, err := store.Open(path)
		require.NoError(t, err)
		defer s.Close()
		list, err := s.Definitions.Quizzes(t.Context())
		require.NoError(t, err)
		require.Len(t, list, 5)
		products, err := s.Definitions.Products(t.Context())
		require.NoError(t, err)
		signs, err := s.Definitions.Signposts(t.Context())
		require.NoError(t, err)
		require.Len(t, products, 5)
		require.Len(t, signs, 3)
		_, err = s.People.SignIn(t.Context(), demoEmail, demoPassword)
		require.NoError(t, err)
		return list[4].Responses, list[4].Title
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

// A passage is walked, kept, run again, and broken by a weight.
func TestRehearse(t *testing.T) {
	path := file(t, "orchard.json", string(orchard))
	best := []string{"crop=apples,size=large,bloom=soon,hives=some", "budget=ample,decides=me"}
	walked, _, status := run(t, "", "rehearse", path, "--answers", best[0], "--answers", best[1], "--visitor",
		"country=IE")
	assert.Equal(t, 0, status)
	assert.Contains(t, walked, "To “What do you grow?” the answer was “Apples or pears”: Readiness +4.\n")
	assert.Contains(t, walked, "so it is “Walk the rows together”")
	assert.NotContains(t, walked, "could not leave out")
	partly, _, _ := run(t, "", "rehearse", path, "--answers", "crop=apples")
	assert.Contains(t, partly, "A respondent could not leave out: size, bloom, hives, budget, decides.\n")

	none, _, status := run(t, "", "rehearse", path)
	assert.Equal(t, 0, status)
	assert.Contains(t, none, "No rehearsal is kept with this quiz")
	asJSON, _, status := run(t, "", "rehearse", path, "--answers", best[0], "--answers", best[1], "--keep",
		"The best", "--json")
	assert.Equal(t, 0, status)
	var told struct{ Outcome, End string }
	require.NoError(t, json.Unmarshal([]byte(asJSON), &told))
	assert.Equal(t, "walk", told.Outcome)
	holds, _, status := run(t, "", "rehearse", path)
	assert.Equal(t, 0, status)
	assert.Equal(t, "holds   The best: walk\n1 kept rehearsal, 0 broken\n", holds)

	kept, err := os.ReadFile(path)
	require.NoError(t, err)
	changed := strings.Replace(string(kept), `"at": 18`, `"at": 99`, 1)
	require.NotEqual(t, string(kept), changed)
	require.NoError(t, os.WriteFile(path, []byte(changed), 0o600))
	broken, _, status := run(t, "", "rehearse", path)
	assert.Equal(t, 1, status)
	assert.Contains(t, broken, "broken  The rehearsal “The best” must get “Walk the rows "+
		"together”, and gets “Plan it with us”.\n1 kept rehearsal, 1 broken\n")
	checked, _, _ := run(t, "", "check", path)
	assert.Contains(t, checked, "/rehearsals/rehearsal_1  The rehearsal “The best” must get")

	for _, wrong := range [][]string{{"--answers", "crop"}, {"--answers", "crop=melons"}, {"--answers", "tree=oak"},
		{"--answers", "crop=apples", "--visitor", "country=Atlantis"}, {"--keep", "x"}} {
		_, complaint, status := run(t, "", append([]string{"rehearse", path}, wrong...)...)
		assert.Equal(t, 2, status, wrong)
		assert.NotEmpty(t, complaint, wrong)
	}
}

// A quiz is taken along from one workspace into another, to the byte.
func TestExportAndImport(t *testing.T) {
	from, to := filepath.Join(t.TempDir(), "from.db"), filepath.Join(t.TempDir(), "to.db")
	path := file(t, "orchard.json", string(orchard))
	said, complaint, status := run(t, "", "import", "--workspace", from, path)
	require.Equal(t, 0, status, complaint)
	assert.Contains(t, said, "/q/is-your-orchard-ready-for-hired-bees")
	packed := filepath.Join(t.TempDir(), "orchard.zip")
	said, complaint, status = run(t, "", "export", "--workspace", from, "--quiz",
		"is-your-orchard-ready-for-hired-bees", packed)
	require.Equal(t, 0, status, complaint)
	assert.Contains(t, said, "holds “Is your orchard ready for hired bees?”")
	_, complaint, status = run(t, "", "import", "--workspace", to, packed)
	require.Equal(t, 0, status, complaint)
	documents := map[string]string{}
	for _, w := range []string{from, to} {
		s, err := store.Open(w)
		require.NoError(t, err)
		z, err := s.Definitions.QuizAt(t.Context(), "is-your-orchard-ready-for-hired-bees")
		require.NoError(t, err)
		documents[w] = z.Draft
		require.NoError(t, s.Close())
	}
	assert.Equal(t, documents[from], documents[to])
	said, complaint, status = run(t, "", "export", "--workspace", from, "--quiz",
		"is-your-orchard-ready-for-hired-bees", "--as", "qti", packed)
	require.Equal(t, 0, status, complaint)
	assert.Contains(t, said, "The opening is not there.")
	said, complaint, status = run(t, "", "import", "--workspace", to, packed)
	require.Equal(t, 0, status, complaint)
	assert.Contains(t, said, "is a draft now")
	for _, wrong := range [][]string{
		{"export", "--workspace", from, "--quiz", "elsewhere", packed}, {"export", "--workspace", from, packed},
		{"export", "--workspace", from, "--quiz", "x", "--as", "paper", packed},
		{"import", "--workspace", to, file(t, "broken.zip", "PK nothing")}, {"import", "--workspace", to,
			file(t, "x.json", "{}")}, {"import", "--workspace", to, "gone.zip"},
	} {
		_, complaint, status := run(t, "", wrong...)
		assert.Equal(t, 2, status, wrong)
		assert.NotEmpty(t, complaint, wrong)
	}
}

// Responses go out in every format, all or those that fit; a mistake says what to do, and
// leaves a file that is there as it is.
func TestExportOfResponses(t *testing.T) {
	from, folder := filepath.Join(t.TempDir(), "from.db"), t.TempDir()
	_, complaint, status := run(t, "", "demo", "--only-make", "--responses", "164", "--workspace", from)
	require.Equal(t, 0, status, complaint)
	export := func(args ...string) (string, string, int) {
		return run(t, "", append([]string{"export", "--workspace", from, "--quiz",
			"what-would-our-bees-bring-you-this-season"}, args...)...)
	}
	lines := func(args ...string) int {
		said, complaint, status := export(append(args, "--format", "jsonl")...)
		require.Equal(t, 0, status, complaint)
		return strings.Count(said, "\n")
	}
	assert.Equal(t, 100, lines())
	letters := lines("--where", "source=letter")
	others := lines("--where", "source=search&source=friends") + lines("--where", "source=letter", "--where",
		"outcome=spring&outcome=team")
	assert.True(t, 0 < letters && letters < 100, letters)
	assert.NotZero(t, others)
	assert.Equal(t, 100, lines("--since", "2020-01-01", "--until", "2120-01-01"))
	assert.Zero(t, lines("--until", "2020-01-01"))
	for _, format := range []string{"csv", "xlsx", "jsonl", "parquet"} {
		to := filepath.Join(folder, "responses."+format)
		said, complaint, status := export("--format", format, to)
		require.Equal(t, 0, status, complaint)
		assert.Contains(t, said, to+" holds 100 responses to “What would our bees bring you this season?”")
		info, err := os.Stat(to)
		require.NoError(t, err)
		assert.Greater(t, info.Size(), int64(1000))
	}
	said, complaint, status := export("--format", "csv", "--words", "-")
	require.Equal(t, 0, status, complaint)
	assert.Equal(t, 102, strings.Count(said, "\r\n"))
	assert.Contains(t, said, "What do you grow most of?")
	there := file(t, "there.csv", "kept")
	for told, args := range map[string][]string{
		"sorce is no field":      {"--format", "csv", "--where", "sorce=letter", there},
		"answer.corp":            {"--format", "csv", "--where", "answer.corp=apples", there},
		"no release 9":           {"--format", "csv", "--where", "release=9", there},
		"is not FIELD=VALUE":     {"--format", "csv", "--where", "outcome", there},
		"is no day":              {"--format", "csv", "--since", "yesterday", there},
		"csv, xlsx, jsonl":       {"--format", "xls", there},
		"in which --format":      {"--since", "2026-10-01", there},
		"say one of them":        {"--format", "csv", "--as", "qti", there},
		"no such file or direct": {"--format", "csv", filepath.Join(folder, "nowhere", "x.csv")},
	} {
		_, complaint, status := export(args...)
		assert.Equal(t, 2, status, args)
		assert.Contains(t, complaint, told)
	}
	still, err := os.ReadFile(there)
	require.NoError(t, err)
	assert.Equal(t, "kept", string(still))
	left, err := os.ReadDir(filepath.Dir(there))
	require.NoError(t, err)
	assert.Len(t, left, 1, "and no part of another beside it")
}
