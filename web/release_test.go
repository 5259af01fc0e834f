package web_test

import (
	"bytes"
	"encoding/base64"
	"fmt"
	"html"
	"image/png"
	"mime/multipart"
	"net/http"
	"net/url"
	"os"
	"regexp"
	"strings"
	"sync"
	"sync/atomic"
	"testing"
	"time"

	"github.com/chromedp/cdproto/emulation"
	"github.com/chromedp/chromedp"
	"github.com/makiuchi-d/gozxing"
	"github.com/makiuchi-d/gozxing/qrcode"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"omphalos/core/gate"
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
}

// Opening, closing, pausing: each with a page of its own; who is mid-way has some time more.
func TestWhenAQuizIsOpen(t *testing.T) {
	t.Parallel()
	a := newApp(t)
	z := a.orchard(t)
	a.release(t, z)
	c := a.client(t)
	at := c.walk("berries")
	studio := a.client(t).signIn()
	room, read := studio.releaseRoom(z)
	tomorrow := time.Now().UTC().AddDate(0, 0, 1)
	opens := func(what string, status int, says string) {
		t.Helper()
		r, page := a.client(t).get("/q/" + z.Slug)
		assert.Equal(t, status, r.StatusCode, what)
		assert.Contains(t, page, says, what)
		r, _ = a.client(t).form("/q/" + z.Slug)
		assert.Equal(t, status != http.StatusOK, r.StatusCode != http.StatusSeeOther, what)
	}
	opens("nothing said", http.StatusOK, "See if they would")
	studio.form(room+"/open", "opens", tomorrow.Format("2006-01-02T15:04"), "grace", "60")
	opens("tomorrow", http.StatusServiceUnavailable, "This quiz opens on "+tomorrow.Format("Monday 2 January"))
	studio.form(room+"/open", "opens", "tomorrow", "grace", "60")
	assert.Contains(t, read(), "is no date with a time")
	studio.form(room+"/open", "opens", "2026-04-30T09:00", "closes", "2026-04-29T09:00")
	assert.Contains(t, read(), "It would close before it opens")
	studio.form(room+"/open", "closes", time.Now().UTC().Add(-2*time.Minute).Format("2006-01-02T15:04"),
		"grace", "60", "words", "Come back in *spring*.")
	opens("over", http.StatusGone, "Come back in *spring*.")
	r, _ := c.answer(at, "small")
	assert.Equal(t, http.StatusSeeOther, r.StatusCode, "who is mid-way has an hour")
	studio.form(room+"/open", "closes", time.Now().UTC().Add(-2*time.Minute).Format("2006-01-02T15:04"), "grace", "0")
	r, _ = c.get(r.Header.Get("Location"))
	assert.Equal(t, http.StatusGone, r.StatusCode, "or none")
	studio.form(room+"/open", "grace", "60")
	opens("open again", http.StatusOK, "See if they would")
	studio.form(room+"/open", "do", "pause")
	opens("paused", http.StatusServiceUnavailable, "rests for a while")
	studio.form(room+"/open", "do", "open")
	studio.form(room+"/open", "do", "close")
	opens("closed", http.StatusGone, "It has closed")
	assert.Contains(t, read(), "It is closed for good.")
}

// A quiz that closes at a number of responses takes exactly that many of 200 who finish at once.
func TestClosingAtANumber(t *testing.T) {
	t.Parallel()
	a := newApp(t)
	m := quiztest.New("lead")
	m.Ask("want", quiz.Single, "hive", "jar")
	z := a.add(t, string(m.Write()))
	a.release(t, z)
	require.NoError(t, a.store.Definitions.SetGate(t.Context(), z.ID, gate.Gate{Most: 40}))
	form := url.Values{"asked": {"want"}, "answer.want": {"hive"}, "go": {"on"}}.Encode()
	var taken, full atomic.Int64
	var all sync.WaitGroup
	for range 200 {
		all.Go(func() {
			r, err := http.NewRequest(http.MethodPost, a.URL+"/q/"+z.Slug, strings.NewReader(form))
			if err != nil {
				t.Error(err)
				return
			}
			r.Header.Set("Content-Type", "application/x-www-form-urlencoded")
			answer, err := http.DefaultTransport.RoundTrip(r)
			if err != nil {
				t.Error(err)
				return
			}
			answer.Body.Close()
			switch answer.StatusCode {
			case http.StatusSeeOther:
				taken.Add(1)
			case http.StatusGone:
				full.Add(1)
			default:
				t.Error(answer.StatusCode)
			}
		})
	}
	all.Wait()
	assert.EqualValues(t, 40, taken.Load())
	assert.EqualValues(t, 160, full.Load())
	n, err := a.store.Responses.Answered(t.Context(), z.ID)
	require.NoError(t, err)
	assert.Equal(t, 40, n)
	_, page := a.client(t).get("/q/" + z.Slug)
	assert.Contains(t, page, "This quiz is full")
}

// Links for a letter or a fair, with codes that an independent decoder reads.
func TestLinksAndCodes(t *testing.T) {
	t.Parallel()
	a := newApp(t)
	z := a.orchard(t)
	a.release(t, z)
	c := a.client(t).signIn()
	room, read := c.releaseRoom(z)
	c.form(room+"/links", "name", "nothing said")
	assert.Contains(t, read(), "Say where the link is used")
	c.form(room+"/links", "name", "The spring letter", "source", "spring letter", "campaign", "été", "start", "now")
	links, err := a.store.Definitions.Links(t.Context(), z.ID)
	require.NoError(t, err)
	require.Len(t, links, 1)
	want := a.URL + "/q/" + z.Slug + "?start=now&utm_campaign=%C3%A9t%C3%A9&utm_source=spring+letter"
	assert.Contains(t, read(), strings.ReplaceAll(strings.ReplaceAll(want, "&", "&amp;"), "+", "&#43;"))
	for query, address := range map[string]string{
		"": a.URL + "/q/" + z.Slug, fmt.Sprintf("?link=%d", links[0].ID): want,
		fmt.Sprintf("?link=%d&level=highest&ink=17232a&paper=f4f6f5", links[0].ID): want,
	} {
		r, body := c.get(room + "/code/png" + query)
		assert.Equal(t, "image/png", r.Header.Get("Content-Type"))
		picture, err := png.Decode(bytes.NewReader([]byte(body)))
		require.NoError(t, err)
		bitmap, err := gozxing.NewBinaryBitmapFromImage(picture)
		require.NoError(t, err)
		read, err := qrcode.NewQRCodeReader().Decode(bitmap, nil)
		require.NoError(t, err, query)
		assert.Equal(t, address, read.GetText())
	}
	r, drawing := c.get(room + "/code/svg?ink=17232a")
	assert.Equal(t, "image/svg+xml", r.Header.Get("Content-Type"))
	assert.Contains(t, drawing, `fill="#17232a"`)
	r, _ = c.get(room + "/code/gif")
	assert.Equal(t, http.StatusNotFound, r.StatusCode)
	c.form(room+"/links", "forget", fmt.Sprint(links[0].ID))
	assert.NotContains(t, read(), "The spring letter")
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

// A quiz is taken along as a file, and taken in by dropping that on the list.
func TestTakenAlong(t *testing.T) {
	t.Parallel()
	a, other := newApp(t), newApp(t)
	z := a.orchard(t)
	c := a.client(t).signIn()
	r, packed := c.get(fmt.Sprintf("/studio/quizzes/%d/along.zip", z.ID))
	assert.Equal(t, "application/zip", r.Header.Get("Content-Type"))

	b := other.newTab(t)
	b.signIn()
	b.open("/studio")
	b.axe("Quizzes, with a file to take in")
	b.run(fmt.Sprintf(`{
		const bytes = Uint8Array.from(atob(%q), (l) => l.charCodeAt(0)), data = new DataTransfer();
		data.items.add(new File([bytes], "orchard.zip", { type: "application/zip" }));
		dispatchEvent(new DragEvent("dragover", { dataTransfer: data, bubbles: true, cancelable: true }));
		dispatchEvent(new DragEvent("drop", { dataTransfer: data, bubbles: true, cancelable: true }));
	}`, base64.StdEncoding.EncodeToString([]byte(packed))))
	b.until("it is here",
		`location.pathname === "/studio/quizzes/1" && document.querySelector(".flash")?.textContent.includes("It is here.")`)
	taken, err := other.store.Definitions.Quiz(t.Context(), 1)
	require.NoError(t, err)
	assert.Equal(t, z.Draft, taken.Draft)

	studio := other.client(t).signIn()
	for name, says := range map[string]string{"": "Choose a file first",
		"PK no": "is no quiz with its pictures", "{}": "This is no quiz that can be read",
		"<a/>": "is no package of QTI 3.0"} {
		r, page := studio.takeIn(name)
		assert.Equal(t, http.StatusUnprocessableEntity, r.StatusCode, name)
		assert.Contains(t, page, says, name)
	}
}

// takeIn sends a file to the list of quizzes.
func (c *client) takeIn(file string) (*http.Response, string) {
	c.t.Helper()
	var form bytes.Buffer
	w := multipart.NewWriter(&form)
	if file != "" {
		f, err := w.CreateFormFile("file", "x")
		require.NoError(c.t, err)
		_, err = f.Write([]byte(file))
		require.NoError(c.t, err)
	}
	require.NoError(c.t, w.Close())
	request, err := http.NewRequest(http.MethodPost, c.app.URL+"/studio/take-in", &form)
	require.NoError(c.t, err)
	request.Header.Set("Content-Type", w.FormDataContentType())
	return c.send(request)
}

// A quiz goes to other applications as QTI 3.0, and comes from there; what is lost is told
// before and after.
func TestAsQTI(t *testing.T) {
	t.Parallel()
	a := newApp(t)
	z := a.orchard(t)
	c := a.client(t).signIn()
	_, page := c.get(fmt.Sprintf("/studio/quizzes/%d/release", z.ID))
	assert.Contains(t, page, "The opening is not there.")
	_, packed := c.get(fmt.Sprintf("/studio/quizzes/%d/qti.zip", z.ID))
	r, _ := c.takeIn(packed)
	require.Equal(t, http.StatusSeeOther, r.StatusCode)
	_, page = c.get(r.Header.Get("Location"))
	assert.Contains(t, page, "It is here.")
	was, is := a.draft(t, z.ID), a.draft(t, 2)
	assert.Equal(t, was.QuestionKeys(), is.QuestionKeys())
	assert.Equal(t, was.Questions["crop"].Answers, is.Questions["crop"].Answers)
	assert.Empty(t, is.Check())
}

// An experiment at a half splits 400 passages within the bounds of chance, is the same on a
// device, leaves those who are mid-way alone, and ends by keeping one.
func TestAnExperiment(t *testing.T) {
	t.Parallel()
	a := newApp(t)
	m := quiztest.New("old", "new")
	m.Ask("want", quiz.Single, "hive", "jar")
	m.Ask("when", quiz.Single, "now", "later")
	m.Decision.Otherwise = "old"
	z := a.add(t, string(m.Write()))
	a.release(t, z)
	begun := a.client(t)
	r, _ := begun.form("/q/"+z.Slug, "asked", "want", "answer.want", "hive", "go", "on")
	midWay := r.Header.Get("Location")
	a.edit(t, z.ID, `[{"op":"replace","path":"/decision/otherwise","value":"new"},{"op":"replace","path":"/questions/want/label","value":"What is wanted?"}]`)
	now, err := a.store.Definitions.Quiz(t.Context(), z.ID)
	require.NoError(t, err)
	a.release(t, now)
	studio := a.client(t).signIn()
	room, read := studio.releaseRoom(z)
	studio.form(room+"/try", "release", "2", "percent", "50")
	assert.Contains(t, read(), "can&#39;t be tried", "the public one beside itself")
	studio.form(room+"/try", "release", "1", "percent", "all")
	assert.Contains(t, read(), "1 to 99")
	studio.form(room+"/try", "release", "1", "percent", "50")
	assert.Contains(t, read(), "Two releases take those who begin")

	old := 0
	for i := range 400 {
		c := a.client(t)
		_, page := c.get("/q/" + z.Slug)
		mine := strings.Contains(page, "What is wanted?")
		number := regexp.MustCompile(`name="passage" value="([a-z2-7]+)"`).FindStringSubmatch(page)[1]
		if i%8 == 0 {
			for range 3 { // they come again
				_, again := c.get("/q/" + z.Slug)
				assert.Equal(t, mine, strings.Contains(again, "What is wanted?"), "the same on a device")
			}
		}
		if i%2 == 0 {
			c.Jar = nil // their browser keeps no cookies: the page and its form agree all the same
		}
		r, _ := c.form("/q/"+z.Slug, "passage", number, "asked", "want", "answer.want", "hive", "go", "on")
		require.Equal(t, http.StatusSeeOther, r.StatusCode)
		p, err := a.store.Responses.Passage(t.Context(), number)
		require.NoError(t, err)
		release, err := a.store.Definitions.ReleaseByID(t.Context(), p.ReleaseID)
		require.NoError(t, err)
		assert.Equal(t, mine, release.Number == 2, "what was shown is what is taken")
		if release.Number == 1 {
			old++
		}
	}
	assert.InDelta(t, 200, old, 4*10, "four standard deviations of 400 at a half")

	r, _ = begun.answer(midWay, "now")
	_, landed := begun.get(r.Header.Get("Location"))
	assert.NotEmpty(t, landed)
	last, err := a.store.Responses.Newest(t.Context(), z.ID, 1)
	require.NoError(t, err)
	assert.Equal(t, "old", last[0].Outcome, "who was mid-way ends on theirs")
	leads := regexp.MustCompile(`href="([^"]*/learn\?[^"]*)">Compare both`).FindStringSubmatch(read())
	require.NotNil(t, leads)
	_, compared := studio.get(html.UnescapeString(leads[1]))
	assert.Contains(t, compared, "compared with those to release 2")
	studio.form(room+"/try", "keep", "1")
	page := read()
	assert.NotContains(t, page, "Two releases take")
	assert.Contains(t, page, "release 1 once more")
	_, page = a.client(t).get("/q/" + z.Slug)
	assert.NotContains(t, page, "What is wanted?")
}

// Once on a device: who comes again is led to their result, and another device begins.
func TestOnceOnADevice(t *testing.T) {
	t.Parallel()
	a := newApp(t)
	m := quiztest.New("lead")
	m.Ask("want", quiz.Single, "hive", "jar")
	m.Settings = &quiz.Settings{Repeats: &quiz.Repeats{Most: 1}}
	z := a.add(t, string(m.Write()))
	a.release(t, z)
	c := a.client(t)
	r, _ := c.form("/q/"+z.Slug, "asked", "want", "answer.want", "hive", "go", "on")
	result := r.Header.Get("Location")
	for range 2 {
		r, _ = c.get("/q/" + z.Slug)
		assert.Equal(t, http.StatusSeeOther, r.StatusCode)
		assert.Equal(t, result, r.Header.Get("Location"))
		r, _ = c.form("/q/"+z.Slug, "asked", "want", "answer.want", "jar", "go", "on")
		assert.Equal(t, result, r.Header.Get("Location"))
	}
	n, err := a.store.Responses.Answered(t.Context(), z.ID)
	require.NoError(t, err)
	assert.Equal(t, 1, n)
	r, _ = a.client(t).get("/q/" + z.Slug)
	assert.Equal(t, http.StatusOK, r.StatusCode)
}

// A quiz that may be taken so often, or again after some days, in two tabs and at another
// address: the device is known again.
func TestAgainOnADevice(t *testing.T) {
	t.Parallel()
	a := newApp(t)
	m := quiztest.New("lead")
	m.Ask("want", quiz.Single, "hive", "jar")
	m.Opening = &quiz.Opening{Heading: "Bees"}
	m.Settings = &quiz.Settings{Repeats: &quiz.Repeats{Most: 2, Counts: quiz.LastCounts}}
	z := a.add(t, string(m.Write()))
	a.release(t, z)
	c := a.client(t)
	take := func(want string) string {
		r, _ := c.form("/q/" + z.Slug)
		r, _ = c.answer(r.Header.Get("Location"), want)
		return r.Header.Get("Location")
	}
	assert.Contains(t, take("hive"), "/end")
	r, _ := c.form("/q/" + z.Slug)
	tab := r.Header.Get("Location") // the second time begins in one tab, and in another one
	last := take("jar")
	assert.Contains(t, last, "/end")
	r, page := c.answer(tab, "hive")
	assert.Equal(t, http.StatusConflict, r.StatusCode)
	assert.Contains(t, page, "This quiz may be taken 2 times.")
	assert.Contains(t, page, `href="`+last+`"`)
	r, _ = c.get("/q/" + z.Slug)
	assert.Equal(t, last, r.Header.Get("Location"))
	n, err := a.store.Responses.Answered(t.Context(), z.ID)
	require.NoError(t, err)
	assert.Equal(t, 1, n, "the last time counts")
	_, page = a.client(t).signIn().get(fmt.Sprintf("/studio/quizzes/%d/learn", z.ID))
	assert.Equal(t, 1, strings.Count(page, "another one of theirs counts"))

	m.Settings.Repeats = &quiz.Repeats{Days: 7}
	z = a.add(t, string(m.Write()))
	a.release(t, z)
	last = take("hive")
	r, page = c.get("/q/" + z.Slug)
	assert.Equal(t, http.StatusConflict, r.StatusCode)
	assert.Contains(t, page, "You may take it again from "+time.Now().UTC().AddDate(0, 0, 7).Format("Monday 2 January"))
	assert.Contains(t, page, `href="`+last+`"`)
}

// A person is known by the address that they give, or by their invitation, on any device; whose
// address somebody else gives, their result is not shown.
func TestOnceAPerson(t *testing.T) {
	t.Parallel()
	a := newApp(t)
	m := quiztest.New("lead")
	m.Ask("mail", quiz.Email)
	m.Settings = &quiz.Settings{Repeats: &quiz.Repeats{By: quiz.ByPerson, Most: 1}}
	z := a.add(t, string(m.Write()))
	a.release(t, z)
	r, _ := a.client(t).form("/q/"+z.Slug, "asked", "mail", "answer.mail", "Una@example.org", "go", "on")
	assert.Contains(t, r.Header.Get("Location"), "/end")
	other := a.client(t)
	r, page := other.form("/q/"+z.Slug, "asked", "mail", "answer.mail", "una@Example.org", "go", "on")
	assert.Equal(t, http.StatusConflict, r.StatusCode)
	assert.Contains(t, page, "You have taken this quiz")
	assert.NotContains(t, page, "/end")
	r, _ = other.form("/q/"+z.Slug, "asked", "mail", "answer.mail", "ina@example.org", "go", "on")
	assert.Contains(t, r.Header.Get("Location"), "/end", "another person on the same device")

	_, err := a.store.Definitions.Invite(t.Context(), z.ID, []store.Invitation{{Name: "Ola", Address: "ola@example.org"}})
	require.NoError(t, err)
	list, err := a.store.Definitions.Invitations(t.Context(), z.ID, 0, 1)
	require.NoError(t, err)
	c := a.client(t)
	r, _ = c.form("/q/"+z.Slug+"?i="+list[0].Token, "asked", "mail", "answer.mail", "one@example.org", "go", "on")
	result := r.Header.Get("Location")
	r, _ = c.get("/q/" + z.Slug + "?i=" + list[0].Token)
	assert.Equal(t, result, r.Header.Get("Location"))
	n, err := a.store.Responses.Answered(t.Context(), z.ID)
	require.NoError(t, err)
	assert.Equal(t, 3, n)
}

// A quiz for colleagues is for those who sign in; they come to it from there, are known by name,
// and nobody is led elsewhere by an address of somebody else's making.
func TestForColleagues(t *testing.T) {
	t.Parallel()
	a := newApp(t)
	m := quiztest.New("lead")
	m.Ask("want", quiz.Single, "hive", "jar")
	m.Settings = &quiz.Settings{Repeats: &quiz.Repeats{By: quiz.ByPerson, Most: 1}}
	z := a.add(t, string(m.Write()))
	a.release(t, z)
	studio := a.client(t).signIn()
	studio.form(fmt.Sprintf("/studio/quizzes/%d/release/people", z.ID), "do", "who", "who", "members")
	_, page := studio.get(fmt.Sprintf("/studio/quizzes/%d/release", z.ID))
	assert.Regexp(t, `value="members"\s+selected`, page)

	c := a.client(t)
	r, page := c.get("/q/" + z.Slug + "?utm_source=letter")
	assert.Equal(t, http.StatusForbidden, r.StatusCode)
	to := "/studio/sign-in?to=" + url.QueryEscape("/q/"+z.Slug+"?utm_source=letter")
	assert.Contains(t, page, to)
	r, _ = c.form("/q/"+z.Slug, "asked", "want", "answer.want", "hive", "go", "on")
	assert.Equal(t, http.StatusForbidden, r.StatusCode)
	_, page = c.get(to)
	assert.Contains(t, page, `name="to" value="/q/`+z.Slug+`?utm_source=letter"`)
	for said, want := range map[string]string{"/q/" + z.Slug: "/q/" + z.Slug, "https://example.org/": "/studio",
		"//example.org/q/": "/studio", "/q/\\example.org": "/studio"} {
		r, _ = a.client(t).form("/studio/sign-in", "email", email, "password", password, "to", said)
		assert.Equal(t, want, r.Header.Get("Location"), said)
	}
	r, _ = studio.form("/q/"+z.Slug, "asked", "want", "answer.want", "hive", "go", "on")
	result := r.Header.Get("Location")
	assert.Contains(t, result, "/end")
	assert.Contains(t, a.last(t, z).Visitor, email)
	other := a.client(t).signIn() // on another device
	r, _ = other.get("/q/" + z.Slug)
	assert.Equal(t, result, r.Header.Get("Location"))
}

// An anonymous quiz keeps nothing of who somebody is: no contact, no names, no facts but the
// country and the device.
func TestAnAnonymousQuiz(t *testing.T) {
	t.Parallel()
	a := newApp(t)
	m := quiztest.New("lead")
	m.Ask("want", quiz.Single, "hive", "jar")
	m.Ask("mail", quiz.Email)
	m.Contact = &quiz.Contact{Place: quiz.BeforeResult,
		Fields: map[string]*quiz.Question{"name": {Kind: quiz.Name, Label: "Name", Required: true}}}
	m.Settings = &quiz.Settings{Anonymous: true}
	z := a.add(t, string(m.Write()))
	a.release(t, z)
	c := a.client(t)
	r, _ := c.form("/q/"+z.Slug+"?utm_source=letter&person=una", "asked", "want", "answer.want", "hive", "go", "on")
	r, _ = c.answer(r.Header.Get("Location"), "una@example.org")
	assert.Contains(t, r.Header.Get("Location"), "/end", "contact is not asked for")
	assert.Zero(t, a.count(t, "contacts"))
	assert.Zero(t, a.count(t, "consents"))
	kept := a.last(t, z)
	assert.NotContains(t, kept.Visitor, "una")
	assert.NotContains(t, kept.Visitor, "letter")
	require.NoError(t, a.store.Close())
	for _, file := range []string{a.file, a.file + "-wal"} {
		data, err := os.ReadFile(file)
		if err == nil {
			assert.NotContains(t, string(data), "una@example.org", "nowhere on disk")
		}
	}
}

// People on a list come by an address of their own, once or again; what the list says of them
// is asked for in conditions, and nobody else is let in.
func TestInvitations(t *testing.T) {
	t.Parallel()
	a := newApp(t)
	m := quiztest.New("lead", "partner")
	m.Ask("want", quiz.Single, "hive", "jar")
	m.Decide(quiz.Step{Kind: quiz.RuleStep, Outcome: "partner",
		When: &quiz.Condition{Subject: quiz.Subject{Visitor: "query.company"}, Test: quiz.Test{Op: quiz.Is,
			Value: quiz.Words("Quill")}}})
	m.Decision.Otherwise = "lead"
	z := a.add(t, string(m.Write()))
	a.release(t, z)
	studio := a.client(t).signIn()
	room, read := studio.releaseRoom(z)
	studio.form(room+"/people", "list", " ")
	assert.Contains(t, read(), "Paste the list first")
	studio.form(room+"/people", "list",
		"name;e-mail;company\nUna;una@example.org;Quill\n\"Ben; the second\";ben@example.org;Brook\n")
	studio.form(room+"/people", "list", "Cara, cara@example.org")
	studio.form(room+"/people", "do", "who", "who", "invited")
	page := read()
	assert.Contains(t, page, "3 people are on the list")
	assert.Contains(t, page, "company: Quill")
	list, err := a.store.Definitions.Invitations(t.Context(), z.ID, 0, 10)
	require.NoError(t, err)
	assert.Equal(t, "Ben; the second", list[1].Name)

	r, stranger := a.client(t).get("/q/" + z.Slug)
	assert.Equal(t, http.StatusForbidden, r.StatusCode)
	assert.Contains(t, stranger, "For those who are invited")
	r, _ = a.client(t).form("/q/"+z.Slug+"?i=made-up", "asked", "want", "answer.want", "hive", "go", "on")
	assert.Equal(t, http.StatusForbidden, r.StatusCode)

	una := a.client(t)
	r, _ = una.get("/i/" + list[0].Token)
	at := r.Header.Get("Location")
	assert.Equal(t, "/q/"+z.Slug+"?i="+list[0].Token, at)
	r, _ = una.form(at, "asked", "want", "answer.want", "hive", "go", "on")
	result := r.Header.Get("Location")
	assert.Equal(t, "partner", a.last(t, z).Outcome, "by what the list says of her")
	assert.NotContains(t, a.last(t, z).Visitor, list[0].Token, "her key is not kept with it")
	again := a.client(t) // another device
	r, _ = again.get(at)
	assert.Equal(t, result, r.Header.Get("Location"), "once: she is led to her result")
	r, _ = again.form(at, "asked", "want", "answer.want", "jar", "go", "on")
	assert.Equal(t, result, r.Header.Get("Location"))
	assert.Regexp(t, `(?s)Una.+finished.+Cara.+not yet`, read())
	studio.form(room+"/people", "do", "who", "who", "invited", "again", "yes")
	r, _ = again.form(at, "asked", "want", "answer.want", "jar", "go", "on")
	assert.NotEqual(t, result, r.Header.Get("Location"), "or again")
	n, err := a.store.Responses.Answered(t.Context(), z.ID)
	require.NoError(t, err)
	assert.Equal(t, 2, n)

	r, file := studio.get(room + "/people.csv")
	assert.Contains(t, r.Header.Get("Content-Type"), "text/csv")
	assert.Contains(t, file, "Cara,cara@example.org,"+a.URL+"/i/"+list[2].Token+",not yet")
	studio.form(room+"/people", "off", fmt.Sprint(list[2].ID))
	r, _ = a.client(t).get("/i/" + list[2].Token)
	assert.Equal(t, http.StatusNotFound, r.StatusCode)
}

// Who comes by a link is counted with it, where it is and in Learn.
func TestLinksAreCounted(t *testing.T) {
	t.Parallel()
	a := newApp(t)
	m := quiztest.New("lead")
	m.Ask("want", quiz.Single, "hive", "jar")
	z := a.add(t, string(m.Write()))
	a.release(t, z)
	studio := a.client(t).signIn()
	room, read := studio.releaseRoom(z)
	studio.form(room+"/links", "name", "The spring letter", "source", "letter", "campaign", "spring")
	studio.form(room+"/links", "name", "A fair", "source", "fair")
	studio.form(room+"/links", "name", "Of jars", "answers", "want=jar")
	links, err := a.store.Definitions.Links(t.Context(), z.ID)
	require.NoError(t, err)
	for i, n := range []int{2, 1, 1} {
		for range n {
			a.client(t).form("/q/"+z.Slug+"?"+links[i].Query, "asked", "want", "answer.want", "hive", "go", "on")
		}
	}
	a.client(t).form("/q/"+z.Slug+"?utm_source=letter", "asked", "want", "answer.want", "hive", "go", "on")
	counts, err := a.store.Responses.FinishedBy(t.Context(), z.ID, links)
	require.NoError(t, err)
	assert.Equal(t, []int{2, 1, -1}, counts, "all parts of a link, and what can't be told apart")
	assert.Regexp(t, `The spring letter</td>(?s:.*?)<td class="num">2</td>`, read())
	_, page := studio.get(fmt.Sprintf("/studio/quizzes/%d/learn", z.ID))
	assert.Regexp(t, `The spring letter</span>(?s:.*?)>2</b>(?s:.*?)40 %(?s:.*?)A fair`, page)
	assert.NotContains(t, page, "Of jars")
}

// A link brings answers along: they stand there as if chosen, and can be changed.
func TestAnswersFilledIn(t *testing.T) {
	t.Parallel()
	a := newApp(t)
	z := a.orchard(t)
	a.release(t, z)
	studio := a.client(t).signIn()
	room, _ := studio.releaseRoom(z)
	studio.form(room+"/links", "name", "For berry growers", "answers", "crop=berries, size=large")
	links, err := a.store.Definitions.Links(t.Context(), z.ID)
	require.NoError(t, err)
	require.Len(t, links, 1)
	assert.Equal(t, "a.crop=berries&a.size=large", links[0].Query)
	c := a.client(t)
	r, _ := c.form("/q/" + z.Slug + "?" + links[0].Query + "&a.bloom=never&a.nothing=x&a.hives=some")
	at := r.Header.Get("Location")
	assert.Contains(t, at, "/crop", "the first question comes first")
	_, page := c.get(at)
	assert.Regexp(t, `value="berries"\s+checked`, page)
	r, _ = c.answer(at, "apples")
	_, page = c.get(r.Header.Get("Location"))
	assert.Regexp(t, `value="large"\s+checked`, page)
	r, _ = c.answer(r.Header.Get("Location"), "large")
	_, page = c.get(r.Header.Get("Location"))
	assert.NotRegexp(t, `name="answer.bloom"[^>]*checked`, page, "what can't be an answer is passed over")

	m := quiztest.New("lead")
	m.Ask("want", quiz.Single, "hive", "jar")
	m.Ask("mail", quiz.Email)
	plain := a.add(t, string(m.Write()))
	a.release(t, plain)
	_, page = a.client(t).get("/q/" + plain.Slug + "?a.want=jar&a.mail=una@example.org")
	assert.Regexp(t, `value="jar"\s+checked`, page, "without an opening, too")
	assert.NotContains(t, page, "una@example.org", "who somebody is comes from them alone")
}

// On paper stands every question with what can be answered, when it is asked and where it goes
// on; what is of the screen is not printed.
func TestOnPaper(t *testing.T) {
	t.Parallel()
	a := newApp(t)
	m := quiztest.New("lead")
	m.Ask("want", quiz.Single, "hive", "jar", "nothing")
	m.Questions["want"].Answers["nothing"].Then = &quiz.Then{Go: quiz.PartWays, To: "lead"}
	m.Questions["want"].Answers["jar"].Then = &quiz.Then{Go: quiz.ToQuestion, To: "many"}
	m.Ask("where", quiz.Several, "garden", "roof", "wood")
	m.Questions["where"].Picks = &quiz.Picks{Max: 2}
	m.Questions["where"].ShowWhen = &quiz.Condition{Subject: quiz.Subject{Answer: "want"},
		Test: quiz.Test{Op: quiz.Is, Value: quiz.Words("hive")}}
	m.Ask("many", quiz.Number)
	m.Questions["many"].Label = "How many, for {name}?"
	m.Ask("words", quiz.LongText)
	m.Contact = &quiz.Contact{Place: quiz.BeforeResult,
		Fields: map[string]*quiz.Question{"name": {Kind: quiz.Name, Label: "Who are you?"}}}
	z := a.add(t, string(m.Write()))
	b := a.newTab(t)
	b.signIn()
	b.open(fmt.Sprintf("/studio/quizzes/%d/release/paper", z.ID))
	page := b.text("main")
	for _, says := range []string{
		"jar → go on with 3", "nothing → that is all", "Only if “want” is “hive”.", "(at most 2)",
		"How many, for ……?", "5 Who are you?",
	} {
		assert.Contains(t, page, says)
	}
	b.axe("paper")
	_, err := chromedp.Call(b.ctx, emulation.SetEmulatedMedia, emulation.SetEmulatedMediaParams{Media: "print"})
	require.NoError(t, err)
	assert.False(t, read[bool](b, `document.querySelector(".bar").checkVisibility()`))
	for _, name := range []string{"day", "finder", "keeper", "orchard", "season"} {
		data, err := os.ReadFile("../cmd/omphalos/demo/" + name + ".json")
		require.NoError(t, err)
		z := a.add(t, string(data))
		b.open(fmt.Sprintf("/studio/quizzes/%d/release/paper", z.ID))
		doc, err := z.Document()
		require.NoError(t, err)
		for key, q := range doc.Questions {
			if !strings.Contains(q.Label, "{") {
				assert.Contains(t, b.text("main"), q.Label, key)
			}
		}
	}
}
