package web_test

import (
	"fmt"
	"net/http"
	"regexp"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"omphalos/core/quiz"
	"omphalos/core/quiztest"
	"omphalos/store"
)

// room is the room of releases, by hand.
func (c *client) releaseRoom(z *store.Quiz) (room string, read func() string) {
	room = fmt.Sprintf("/studio/quizzes/%d/release", z.ID)
	return room, func() string {
		c.t.Helper()
		r, page := c.get(room)
		require.Equal(c.t, http.StatusOK, r.StatusCode)
		return page
	}
}

// What would change is told in sentences at their place, each taken back by itself; who gets
// what before and after; a warning is ticked off by name, and remembered.
func TestWhatAReleaseWouldChange(t *testing.T) {
	t.Parallel()
	a := newApp(t)
	z := a.orchard(t)
	a.release(t, z)
	c := a.client(t).signIn()
	room, read := c.releaseRoom(z)
	assert.Contains(t, read(), "the draft has not changed since")
	a.edit(t, z.ID, `[{"op":"replace","path":"/decision/steps/bands/cuts/hot/at","value":24}]`)
	a.edit(t, z.ID, `[{"op":"replace","path":"/questions/crop/label","value":"What grows there?"}]`)
	a.edit(t, z.ID, `[{"op":"remove","path":"/questions/crop/answers/none/adds/readiness"}]`)
	page := read()
	assert.Contains(t, page, "Cut of Readiness 18 → 24")
	assert.Contains(t, page, "Words of “What do you grow?” are now “What grows there?”")
	assert.Contains(t, page, "Who is expected to get what")
	assert.NotContains(t, page, "walked again", "nobody has responded")
	assert.Contains(t, page, `name="tick"`, "an answer without a weight is a warning")
	_, compared := c.get(room + "/compare")
	assert.Contains(t, compared, "<del>What do you grow?</del>")
	assert.Contains(t, compared, "<ins>What grows there?</ins>")

	revision := func() string {
		now, err := a.store.Definitions.Quiz(t.Context(), z.ID)
		require.NoError(t, err)
		return fmt.Sprint(now.Revision)
	}
	r, refused := c.form(room, "revision", revision(), "note", "A line on it")
	assert.Equal(t, http.StatusUnprocessableEntity, r.StatusCode)
	assert.Contains(t, refused, "Tick off what you have seen")
	assert.Contains(t, refused, "A line on it", "what was typed stays")

	c.form(room+"/back", "patch", `[{"op":"add","path":"/decision/steps/bands/cuts/hot/at","value":18}]`)
	page = read()
	assert.NotContains(t, page, "Cut of Readiness 18 → 24")
	assert.Contains(t, page, "are now “What grows there?”", "the others stay")

	warning := strings.SplitN(strings.SplitN(page, `name="tick" value="`, 2)[1], `"`, 2)[0]
	warning = strings.NewReplacer("&#34;", `"`, "&#39;", "'", "&amp;", "&").Replace(warning)
	r, _ = c.form(room, "revision", revision(), "note", "Clearer words", "tick", warning)
	assert.Equal(t, http.StatusSeeOther, r.StatusCode)
	page = read()
	assert.Contains(t, page, "Clearer words")
	assert.Contains(t, page, "1 warning was ticked off")
	assert.Contains(t, page, "by Quillbrook marketing")
	a.edit(t, z.ID, `[{"op":"replace","path":"/questions/size/label","value":"How large is it?"}]`)
	assert.Regexp(t, `name="tick"[^>]+checked`, read(), "it is remembered")
}

// Responses are walked again through the draft; an earlier release is made public again, and
// brought back as the draft; who is mid-way ends on theirs.
func TestReleasesOnALine(t *testing.T) {
	t.Parallel()
	a := newApp(t)
	z := a.orchard(t)
	a.release(t, z)
	c := a.client(t)
	at := c.walk("berries", "small", "soon", "no_hives", "nothing")
	studio := a.client(t).signIn()
	room, read := studio.releaseRoom(z)
	a.edit(t, z.ID, `[{"op":"replace","path":"/outcomes/plan/headline","value":"Another headline"},{"op":"replace","path":"/decision/steps/bands/cuts/warm/at","value":8}]`)
	now, err := a.store.Definitions.Quiz(t.Context(), z.ID)
	require.NoError(t, err)
	r, page := studio.form(room, "revision", fmt.Sprint(now.Revision))
	require.Equal(t, http.StatusSeeOther, r.StatusCode, page)
	r, _ = c.answer(at, "me")
	_, result := c.get(r.Header.Get("Location"))
	assert.Contains(t, result, "Plan it with us", "they end on theirs")
	assert.NotContains(t, result, "Another headline")

	a.edit(t, z.ID, `[{"op":"replace","path":"/decision/steps/bands/cuts/warm/at","value":14}]`)
	assert.Contains(t, read(), "The newest 1 response, walked again: 1 would get another outcome")
	studio.form(room+"/again/1", "do", "public")
	page = read()
	assert.Contains(t, page, "Release 3")
	assert.Contains(t, page, "release 1 once more")
	r, _ = studio.form(room+"/again/1", "do", "draft")
	assert.Equal(t, http.StatusSeeOther, r.StatusCode)
	assert.Equal(t, "Plan it with us", a.draft(t, z.ID).Outcomes["plan"].Headline)
	assert.Contains(t, read(), "the draft has not changed since")
	_, compared := studio.get(room + "/compare?from=1&to=2")
	assert.Contains(t, compared, "<ins>Another headline</ins>")
	assert.Contains(t, compared, fmt.Sprintf(`href="/studio/quizzes/%d/versions/2?since=1#part-o-plan"`, z.ID),
		"seen on that release's sheet")
	_, same := studio.get(room + "/compare?from=1&to=3")
	assert.Contains(t, same, "They are the same.")
	r, _ = studio.form(room+"/again/9", "do", "public")
	assert.Equal(t, http.StatusSeeOther, r.StatusCode)
	assert.Contains(t, read(), "There is no such release.")
}

// With whose eyes somebody looks at the sheet is nothing to a release: before and after are told
// of everybody.
func TestAReleaseIsForEverybody(t *testing.T) {
	t.Parallel()
	a := newApp(t)
	m := quiztest.New("lead", "partner")
	m.Ask("want", quiz.Single, "hive", "jar")
	m.Decide(quiz.Step{Kind: quiz.RuleStep, Outcome: "partner",
		When: &quiz.Condition{Subject: quiz.Subject{Visitor: "country"}, Test: quiz.Test{Op: quiz.Is,
			Value: quiz.Words("IE")}}})
	m.Decision.Otherwise = "lead"
	z := a.add(t, string(m.Write()))
	a.release(t, z)
	a.edit(t, z.ID, `[{"op":"replace","path":"/questions/want/label","value":"What is wanted?"}]`)
	c := a.client(t).signIn()
	_, read := c.releaseRoom(z)
	plain := read()
	c.get(fmt.Sprintf("/studio/quizzes/%d?eyes=on&country=ie", z.ID))
	_, seen := c.get(fmt.Sprintf("/studio/quizzes/%d", z.ID))
	require.Contains(t, seen, `value="Ireland"`, "the sheet is seen from Ireland")
	assert.Equal(t, plain, read())
	at := fmt.Sprintf("/studio/quizzes/%d/versions/1", z.ID)
	_, mine := c.get(at)
	_, anybodys := a.client(t).signIn().get(at)
	assert.Equal(t, anybodys, mine)
}

// A release is looked at on a sheet that nothing can be changed on; beside another version, each
// place tells what was there.
func TestTheSheetOfARelease(t *testing.T) {
	t.Parallel()
	a := newApp(t)
	z := a.orchard(t)
	a.release(t, z)
	a.edit(t, z.ID, `[{"op":"replace","path":"/questions/crop/label","value":"What grows there?"}]`)
	a.edit(t, z.ID, `[{"op":"remove","path":"/questions/hives"}]`)
	c := a.client(t).signIn()
	at := fmt.Sprintf("/studio/quizzes/%d/versions/", z.ID)
	_, was := c.get(at + "1")
	assert.Contains(t, was, "What do you grow?")
	assert.Contains(t, was, "How many hives did you have last year?")
	assert.NotContains(t, was, "What grows there?")
	_, same := c.get(at + "1?since=1")
	assert.Contains(t, same, "is the same as")
	for _, nothing := range []string{"7", "-1", "x"} {
		r, _ := c.get(at + nothing)
		assert.Equal(t, http.StatusNotFound, r.StatusCode)
	}

	b := a.newTab(t)
	b.signIn()
	b.open(at + "0?since=1")
	assert.Contains(t, b.text(".room .saidhere"), "Deleted the question “How many hives did you have last year?”")
	assert.Contains(t, b.text("#questions .row:has(.saidhere)"), "before: What do you grow?")
	b.until("it stands above its question",
		`document.querySelector("#questions .row:has(.saidhere)").nextElementSibling.id == "part-q-crop"`)
	b.until("nothing can be changed",
		`![...document.querySelectorAll(".desk :enabled")].some((field) => field.checkVisibility())`)
	b.axe("a version")
}

// A quiz moves; the old address leads on, with what it brings along, and who is mid-way goes on.
func TestAnAddressThatMoves(t *testing.T) {
	t.Parallel()
	a := newApp(t)
	z := a.orchard(t)
	a.release(t, z)
	c := a.client(t)
	at := c.walk("berries", "small")
	studio := a.client(t).signIn()
	room, read := studio.releaseRoom(z)
	studio.form(room+"/address", "slug", "Ready For Bees")
	assert.Contains(t, read(), "ready-for-bees would do")
	studio.form(room+"/address", "slug", "ready")
	assert.Contains(t, read(), "/q/ready")
	r, _ := c.get("/q/" + z.Slug + "?utm_source=letter")
	assert.Equal(t, http.StatusPermanentRedirect, r.StatusCode)
	assert.Equal(t, "/q/ready?utm_source=letter", r.Header.Get("Location"))
	r, _ = a.client(t).get("/q/ready")
	assert.Equal(t, http.StatusOK, r.StatusCode)
	r, _ = c.answer(at, "soon")
	assert.Equal(t, http.StatusSeeOther, r.StatusCode, "who is mid-way goes on")
	assert.Contains(t, r.Header.Get("Location"), "/hives")
}

// Where its address is shared, a quiz shows what is said for that, and its opening where nothing
// is; so do quizzes that begin with a question, and the room shows how it looks.
func TestHowItLooksWhereItIsShared(t *testing.T) {
	t.Parallel()
	a := newApp(t)
	z := a.orchard(t)
	a.release(t, z)
	meta := func(page, name string) string {
		found := regexp.MustCompile(`property="og:` + name + `" content="([^"]*)"`).FindStringSubmatch(page)
		if found == nil {
			return ""
		}
		return found[1]
	}
	shown := func() string {
		_, page := a.client(t).get("/q/" + z.Slug)
		return page
	}
	assert.Equal(t, "Is your orchard ready for hired bees?", meta(shown(), "title"))
	assert.Contains(t, meta(shown(), "description"), "Six short questions")

	b := a.newTab(t)
	b.signIn()
	b.open(fmt.Sprintf("/studio/quizzes/%d", z.ID))
	b.fill(`[data-path="/look/shared/title"]`, "Which hive suits you?")
	b.fill(`[data-path="/look/shared/text"]`, "Six **questions**, and you know.")
	b.kept()
	a.edit(t, z.ID, `[{"op":"add","path":"/look/shared/picture","value":{"source":"/pictures/x.webp","description":"A hive"}},{"op":"remove","path":"/opening"}]`)
	now, err := a.store.Definitions.Quiz(t.Context(), z.ID)
	require.NoError(t, err)
	a.release(t, now)
	page := shown()
	assert.Contains(t, page, `name="asked"`, "it begins with a question")
	assert.Equal(t, "Which hive suits you?", meta(page, "title"))
	assert.Equal(t, "Six questions, and you know.", meta(page, "description"))
	assert.Contains(t, meta(page, "image"), a.URL+"/got/"+z.Slug+"/the-quiz/card.png", "a picture drawn for it")
	_, read := a.client(t).signIn().releaseRoom(z)
	assert.Regexp(t, `(?s)<figure.+Which hive suits you\?.+Six questions, and you know\..+</figure>`, read())
	drawn, _ := a.client(t).signIn().get(fmt.Sprintf("/showing/%d/card.the-quiz", z.ID))
	assert.Equal(t, "image/png", drawn.Header.Get("Content-Type"), "as it would be with the next release")
	drawn, _ = a.client(t).get(fmt.Sprintf("/showing/%d/card.the-quiz", z.ID))
	assert.Equal(t, http.StatusNotFound, drawn.StatusCode, "to those who design it")

	const wordless = "the letters of “蜂箱”: it goes without the title."
	assert.NotContains(t, read(), "without the title")
	a.edit(t, z.ID, `[{"op":"add","path":"/look/shared/title","value":"蜂箱"},
		{"op":"add","path":"/settings/results","value":{"passOn":true}},
		{"op":"add","path":"/outcomes/walk/shared","value":{"title":"蜂箱"}}]`)
	assert.Contains(t, read(), wordless)
	_, sheet := a.client(t).signIn().get(fmt.Sprintf("/studio/quizzes/%d", z.ID))
	assert.Equal(t, 1, strings.Count(sheet, wordless), "of the one outcome")
}

// The room as a marketer sees it, with a change and a warning.
func TestReleaseRoomIsAccessible(t *testing.T) {
	t.Parallel()
	a := newApp(t)
	z := a.orchard(t)
	a.release(t, z)
	a.edit(t, z.ID, `[{"op":"remove","path":"/questions/crop/answers/none/adds/readiness"}]`)
	b := a.newTab(t)
	b.signIn()
	b.open(fmt.Sprintf("/studio/quizzes/%d/release", z.ID))
	b.axe("Release with a change")
	b.click("#changes form .quiet")
	b.until("it is taken back", `document.querySelector(".flash")?.textContent.includes("Taken back.")`)
	b.open(fmt.Sprintf("/studio/quizzes/%d/release/compare", z.ID))
	b.axe("Compare releases")
}
