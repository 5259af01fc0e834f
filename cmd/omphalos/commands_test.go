package main

import (
	"bytes"
	"encoding/json"
	"errors"
	"os"
	"path/filepath"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"omphalos/core/decimal"
	"omphalos/core/finding"
	"omphalos/core/odds"
	"omphalos/core/quiz"
	"omphalos/core/quiztest"
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
	err := c.ExecuteContext(t.Context())
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
	assert.Equal(t, "demo/orchard.json: nothing found in 6 questions, 1 scale, 3 outcomes\n", out)

	broken := strings.NewReplacer(`"otherwise": "not_yet"`, `"otherwise": "nobody"`, `"at": 18`, `"at": 10`,
		`{"readiness": 5}`, `{"rediness": 5}`).
		Replace(string(orchard))
	out, _, status = run(t, broken, "check", "-")
	assert.Equal(t, 1, status)
	assert.Equal(
		t,
		`error    /questions/crop/answers/cherries/adds/rediness  “What do you grow?”, answer “Cherries or plums”: adds to the scale "rediness", which does not exist. (unknown)
error    /questions/bloom/answers/soon/adds/rediness  “When does your orchard bloom?”, answer “In the next four weeks”: adds to the scale "rediness", which does not exist. (unknown)
error    /decision/steps/bands/cuts/warm/at  Decision: two cuts at 10 leave an empty band between them; move one. (cut)
error    /decision/otherwise  Decision: names the outcome "nobody", which does not exist. (unknown)
`,
		out,
	)

	out, _, status = run(t, "", "check", file(t, "q.json", `{"format":"omphalos/quiz@1","titel":"x"}`))
	assert.Equal(t, 1, status)
	assert.Contains(t, out, `needs the field`)
	_, complaints, status := run(t, "", "check", "no-such-file.json")
	assert.Equal(t, 2, status)
	assert.Contains(t, complaints, "no-such-file.json")
}

// What is found is written with its patch as JSON and with its line as SARIF, and a
// warning fails where it is asked to.
func TestCheckForMachines(t *testing.T) {
	quiz := file(t, "quiz.json", strings.Replace(string(orchard), `"at": 18`, `"at": 30`, 1))
	_, _, status := run(t, "", "check", quiz)
	assert.Equal(t, 0, status, "a warning is no error")
	out, _, status := run(t, "", "check", quiz, "--format", "json", "--fail-on", "warning")
	assert.Equal(t, 1, status)
	var list struct{ Findings []finding.Finding }
	require.NoError(t, json.Unmarshal([]byte(out), &list))
	require.Len(t, list.Findings, 2)
	band := list.Findings[0]
	assert.Equal(
		t,
		"The band from 30 for “Walk the rows together” is out of reach: Readiness goes from −1 to 29.",
		band.Sentence,
	)
	assert.EqualValues(t, "/decision/steps/bands/cuts/hot", band.Pointer)
	assert.Equal(t, "remove", band.Mend.Patch[0].Op)
	assert.Equal(t, "unreachable-outcome", list.Findings[1].Code)
	out, _, status = run(t, "", "check", quiz, "--format", "sarif")
	assert.Equal(t, 0, status)
	assert.Contains(t, out, `"version": "2.1.0"`)
	assert.Contains(t, out, `"ruleId": "band-out-of-reach"`)
	for _, bad := range [][]string{{"check", quiz, "--format", "xml"}, {"check", quiz, "--fail-on", "trifle"}} {
		_, complaints, status := run(t, "", bad...)
		assert.Equal(t, 2, status)
		assert.Contains(t, complaints, "must be")
	}
}

func TestOdds(t *testing.T) {
	out, complaints, status := run(t, "", "odds", "demo/orchard.json")
	require.Equal(t, 0, status, complaints)
	assert.Contains(t, out, "exact\n")
	assert.Regexp(t, `Walk the rows together +31.48 %`, out)
	assert.Regexp(t, `combinations +1296`, out)
	assert.Contains(t, out, "Readiness: -1 to 29, mean 15.00, spread 4.95")
	assert.Contains(t, out,
		"16   7.79 % ████████████████████████████████████████████████\n")

	shares := file(t, "shares.csv", "question,answer,percent\nbudget,nothing,100\ncrop,apples,70 %\n")
	out, _, status = run(t, "", "odds", "demo/orchard.json", "--shares", shares, "--json")
	require.Equal(t, 0, status)
	var o odds.Odds
	require.NoError(t, json.Unmarshal([]byte(out), &o))
	assert.InDelta(t, 1, o.Answers["budget"]["nothing"], 1e-12)
	assert.InDelta(t, 0.1, o.Answers["crop"]["none"], 1e-12)
	assert.Nil(t, o.Sampled)

	seen := file(
		t,
		"seen.csv",
		"crop,size,bloom,hives,budget,decides\napples,large,soon,some,ample,me\napples,small,soon,some,ample,me\n",
	)
	out, _, status = run(t, "", "odds", "demo/orchard.json", "--observed", seen, "--json")
	require.Equal(t, 0, status)
	require.NoError(t, json.Unmarshal([]byte(out), &o))
	assert.InDelta(t, 0.5, o.Answers["size"]["small"], 1e-12)
	assert.InDelta(t, 1, o.Answers["budget"]["ample"], 1e-12)

	exported := "number,finished,outcome,answer.crop,answer.size,country,score.readiness,answer.gone\n" +
		"Number,Finished,Outcome,What?,How large?,Country,Readiness,Gone\n" +
		"1,2026-10-01T00:00:00.000Z,later,apples,large,IE,4,x\n2,2026-10-01T00:00:00.000Z,later,berries,small,IE,4,\n" +
		"3,2026-10-01T00:00:00.000Z,later,melons,small,IE,4,\n"
	var said string
	out, said, status = run(t, "", "odds", "demo/orchard.json", "--observed", file(t, "learn.csv", exported), "--json")
	require.Equal(t, 0, status, said)
	require.NoError(t, json.Unmarshal([]byte(out), &o))
	assert.InDelta(t, 0.5, o.Answers["crop"]["berries"], 1e-12, "responses as Learn exports them")
	assert.Contains(t, said, `the column "answer.gone" is left out`)
	assert.Contains(t, said, "line 5: ")
	assert.Contains(t, said, "shares are observed in 2 of 3 rows of ")
	_, said, status = run(t, "", "odds", "demo/orchard.json", "--observed", file(t, "other.csv", "foo,bar\n1,2\n"))
	assert.Equal(t, 2, status, "a table of something else")
	assert.Contains(t, said, `the columns "foo", "bar": each is no question`)
	out, said, status = run(t, exported, "score", "demo/orchard.json", "-", "--ignore-unknown")
	assert.Equal(t, 1, status, said)
	assert.Equal(t, 3, strings.Count(out, "\n"), "a heading and two that can be scored: %s", out)

	out, _, status = run(t, "", "odds", "demo/orchard.json", "--steps", "1", "--sample", "1000")
	assert.Equal(t, 0, status)
	assert.Contains(t, out, "sampled over 1000 passages with seed 1: standard error at most 1.58 %")

	for says, bad := range map[string]string{
		"no question": "question,answer,percent\ncolour,red,5\n", "has no answer": "question,answer,percent\ncrop,figs,5\n",
		"from 0 to 100": "question,answer,percent\ncrop,apples,500\n", "columns question, answer, percent": "crop,apples\n"} {
		_, complaints, status = run(t, "", "odds", "demo/orchard.json", "--shares", file(t, "bad.csv", bad))
		assert.Equal(t, 2, status)
		assert.Contains(t, complaints, says)
	}
}

// What odds rest on is said, zero steps are none, and what is wrong with a visitor is told.
func TestOddsSayWhatTheyRestOn(t *testing.T) {
	m := quiztest.New("other", "bees")
	m.Scale("land", quiz.Sum)
	m.Ask("wish", quiz.ShortText)
	factor := decimal.One
	m.Ask("size", quiz.Number).Weigh = map[string]*quiz.Weighing{"land": {Factor: &factor}}
	m.Decide(
		quiz.Step{
			Kind:    quiz.RuleStep,
			Outcome: "bees",
			When: &quiz.Condition{
				Subject: quiz.Subject{Answer: "wish"},
				Test:    quiz.Test{Op: quiz.Contains, Value: quiz.Words("bees")},
			},
		},
	)
	path := file(t, "quiz.json", string(m.Write()))
	out, complaints, status := run(t, "", "odds", path)
	require.Equal(t, 0, status, complaints)
	assert.Contains(t, out, "assumed of wish: as many answer one way as another: else; contains bees; -")
	assert.Contains(t, out, "assumed of size: it has no limits")
	assert.Contains(t, out, "never beyond any bound: it is unbounded")
	answers, _, status := run(t, "", "odds", path, "--witness", "bees")
	require.Equal(t, 0, status)
	out, complaints, _ = run(t, answers, "score", path)
	assert.Contains(t, out, ",bees,", complaints)

	for says, args := range map[string][]string{
		"--steps is 0": {"--steps", "0"}, "--sample is -1": {"--sample", "-1"}, "--sample is 0": {"--sample", "0"},
		`visitor.country: "Atlantis" is not what it must be: a country`: {"--visitor", "country=Atlantis"},
	} {
		_, complaints, status := run(t, "", append([]string{"odds", path}, args...)...)
		assert.Equal(t, 2, status)
		assert.Contains(t, complaints, says)
	}
	_, complaints, status = run(
		t,
		"id,wish\n1,\n2,bees\n",
		"score",
		file(
			t,
			"needed.json",
			strings.Replace(string(m.Write()), `"kind": "shorttext",`, `"kind": "shorttext", "required": true,`, 1),
		),
	)
	assert.Equal(t, 0, status)
	assert.Equal(t, "1 of 2 rows left required questions, or rows of them, blank: what is blank counts as skipped\n", complaints)
}

// What today bounds is bounded by the day that is named, in odds, witnesses and findings.
func TestADateIsAskedForOnADay(t *testing.T) {
	soon, late := 0, 9
	m := quiztest.New("early", "late")
	m.Ask("when", quiz.Date).Limits = &quiz.Limits{Soonest: &soon, Latest: &late}
	m.Decide(quiz.Step{Kind: quiz.RuleStep, Outcome: "late", When: &quiz.Condition{
		Subject: quiz.Subject{Answer: "when"}, Test: quiz.Test{Op: quiz.AtLeast, Value: quiz.Words("2026-12-01")}}})
	m.Questions["when"].Required = true
	path := file(t, "quiz.json", string(m.Write()))
	for day, share := range map[string]string{"2026-11-26": "50.00 %", "2026-11-30": "90.00 %",
		"2026-12-24": "100.00 %", "2026-11-01": "out of reach"} {
		out, complaints, status := run(t, "", "odds", path, "--day", day)
		require.Equal(t, 0, status, complaints)
		assert.Regexp(t, `late +`+share, out, day)
	}
	answers, _, status := run(t, "", "odds", path, "--day", "2026-11-26", "--witness", "late")
	require.Equal(t, 0, status)
	assert.Regexp(t, `2026-12-0[1-5]`, answers)
	_, complaints, status := run(t, "", "odds", path, "--day", "2026-11-01", "--witness", "late")
	assert.Equal(t, 1, status, complaints)
	found := func(day string) string {
		out, _, _ := run(t, "", "check", path, "--day", day)
		return out
	}
	assert.Contains(t, found("2026-11-01"), "never-holds")
	assert.NotContains(t, found("2026-11-26"), "never-holds")
	_, complaints, status = run(t, "", "check", path, "--day", "tomorrow")
	assert.Equal(t, 2, status)
	assert.Contains(t, complaints, "must be a day")
}

// Texts go to a translator and come back without the web.
func TestTranslate(t *testing.T) {
	texts, complaints, status := run(t, "", "translate", "demo/finder.json", "--into", "fr")
	require.Equal(t, 0, status, complaints)
	assert.Contains(t, texts, `srcLang="en" trgLang="fr"`)
	back := strings.Replace(texts, "<source xml:space=\"preserve\">Your first hive</source>",
		"<source>Your first hive</source><target>Votre première ruche</target>", 1)
	out, complaints, status := run(t, "", "translate", "demo/finder.json", "--from", file(t, "back.xlf", back))
	require.Equal(t, 0, status, complaints)
	assert.Contains(t, complaints, "1 text in French came in.")
	q, err := quiz.Read([]byte(out))
	require.NoError(t, err)
	assert.Equal(t, "Votre première ruche", q.In("fr").Title)
	for says, args := range map[string][]string{"say either": nil, "another language": {"--into", "en"},
		"can't be read as XLIFF": {"--from", file(t, "no.xlf", "<p/>")}, "no such file": {"--from", "nowhere.xlf"}} {
		_, complaints, status := run(t, "", append([]string{"translate", "demo/finder.json"}, args...)...)
		assert.Equal(t, 2, status, says)
		assert.Contains(t, complaints, says)
	}
}

// The answers of a witness, scored, get where it was asked to go.
func TestWitness(t *testing.T) {
	for _, outcome := range []string{"walk", "plan", "not_yet"} {
		answers, complaints, status := run(t, "", "odds", "demo/orchard.json", "--witness", outcome)
		require.Equal(t, 0, status, complaints)
		out, _, _ := run(t, answers, "score", "demo/orchard.json")
		assert.Contains(t, out, ","+outcome+",")
	}
	quiz := file(t, "quiz.json", strings.Replace(string(orchard), `"at": 18`, `"at": 30`, 1))
	_, complaints, status := run(t, "", "odds", quiz, "--witness", "walk")
	assert.Equal(t, 1, status)
	assert.Contains(t, complaints, "no way through the quiz leads to walk")
	_, complaints, status = run(t, "", "odds", quiz, "--witness", "nobody")
	assert.Equal(t, 2, status)
	assert.Contains(t, complaints, "the outcomes are walk, plan, not_yet")
}

func TestScore(t *testing.T) {
	heading := "id,crop,size,bloom,hives,budget,decides\n"
	out, complaints, status := run(
		t,
		heading+"a,apples,large,soon,some,ample,me\nb,papaya,large,soon,some,ample,me\nc,none,small,not_now,enough,nothing,other\n",
		"score",
		"demo/orchard.json",
	)
	assert.Equal(t, 1, status, "a bad row tells in the exit status")
	assert.Equal(t, "line 3: crop: \"papaya\" is not one of the answers\n1 of 3 rows could not be scored\n", complaints)
	assert.Equal(t, "id,readiness,outcome,landing,address,end\n"+
		"a,28,walk,booking,http://127.0.0.1:8643/standin/booking?crop=apples&size=large&readiness=28&response=a,decided\n"+
		"c,-1,not_yet,page,,decided\n", out)

	lines := file(
		t,
		"a.jsonl",
		`{"id":"a","crop":"none","size":"small","bloom":"not_now","hives":"enough","budget":"nothing","decides":"other"}`,
	)
	target := filepath.Join(t.TempDir(), "out.jsonl")
	_, complaints, status = run(
		t,
		"",
		"score",
		"demo/orchard.json",
		lines,
		"--format",
		"jsonl",
		"--explain",
		"-o",
		target,
	)
	assert.Equal(t, 0, status, complaints)
	written, err := os.ReadFile(target)
	require.NoError(t, err)
	assert.Contains(
		t,
		string(written),
		`{"id":"a","scores":{"readiness":-1},"outcome":"not_yet","landing":"page","end":"decided","explanation":{"asked":[{"question":"crop"`,
	)

	for _, bad := range [][]string{{"score", "demo/orchard.json", "--format", "xlsx"},
		{"score", "nothing.json"}, {"score", "demo/orchard.json", "nothing.csv"}} {
		_, complaints, status = run(t, "", bad...)
		assert.Equal(t, 2, status)
		assert.NotEmpty(t, complaints)
	}
	_, complaints, status = run(t, "colour\nred\n", "score", "demo/orchard.json")
	assert.Equal(t, 2, status)
	assert.Contains(t, complaints, `the column "colour" is no question`)
}
