package web_test

import (
	"encoding/csv"
	"encoding/json"
	"fmt"
	"net/http"
	"net/url"
	"strings"
	"testing"
	"time"

	"github.com/cloudevents/sdk-go/v2/event"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"omphalos/core/quiz"
	"omphalos/store"
	"omphalos/web/standin"
)

// following is a quiz of one question that a fit and another answer differently, with a
// follow-up of each kind.
const following = `{"format":"omphalos/quiz@1","title":"Hives","sections":{"main":{"order":1}},
"questions":{"crop":{"order":1,"section":"main","kind":"single","label":"What grows there?","required":true,"answers":{
	"apples":{"order":1,"label":"Apples *and* pears","adds":{"need":4}},"barley":{"order":2,"label":"Barley"},"none":{"order":3,"label":"Nothing","then":{"go":"part","to":"cold"}}}}},
"scales":{"need":{"order":1,"name":"Need","kind":"points"}},
"decision":{"steps":{"rule":{"order":1,"kind":"rule","when":{"scale":"need","op":"at least","value":3},"outcome":"hot"}},"otherwise":"cold"},
"outcomes":{"hot":{"order":1,"name":"Hives pay","headline":"Hives would pay for themselves","standing":"fit","landings":{"page":{"order":1,"kind":"page"}}},
	"cold":{"order":2,"name":"No hives","standing":"not a fit","landings":{"page":{"order":1,"kind":"page"}}}},
"contact":{"place":"before","privacy":"https://quillbrook.example/privacy","fields":{"name":{"order":1,"kind":"name","label":"Name"},"mail":{"order":2,"kind":"email","label":"E-mail"},"letters":{"order":3,"kind":"consent","label":"Send me the bee letter"}}},
"settings":{"timeZone":"Europe/Dublin"},
"followUps":{
	"result":{"order":1,"kind":"mail","subject":"{name}: {outcome}","blocks":{
		"text":{"order":1,"kind":"text","text":"You grow **{crop}**. Read [the guide](https://quillbrook.example/guide)."},
		"fit":{"order":2,"kind":"action","label":"Book a walk","address":"https://quillbrook.example/book{?crop,need}","when":{"standing":true,"op":"is","value":"fit"}}}},
	"tell":{"order":2,"kind":"notice","subject":"A lead: {outcome}","addresses":["sales@quillbrook.example"],"when":{"standing":true,"op":"is","value":"fit"}},
	"letters":{"order":3,"kind":"list","list":"bee_letter","consent":"letters"},
	"crm":{"order":4,"kind":"call","receiver":"orchard_book"},
	"ads":{"order":5,"kind":"conversion","receiver":"ads","consent":"letters","event":"qualified","click":"clid","worth":{"scale":"need","currency":"EUR"},"when":{"standing":true,"op":"is","value":"fit"}}}}`

// newFollowing is an application with that quiz released, its mail going to the mailbox among
// the stand-ins, and its calls to their desks.
func newFollowing(t testing.TB) (*app, *store.Quiz) {
	t.Helper()
	a := newApp(t)
	a.connect(t)
	z := a.add(t, following)
	a.release(t, z)
	return a, z
}

// connect has mail, calls, conversions and a list go to the stand-ins.
func (a *app) connect(t testing.TB) {
	t.Helper()
	out := a.store.Outbox
	require.NoError(t, out.KeepMailSettings(t.Context(), &store.MailSettings{Host: "127.0.0.1",
		Port: a.mailPort, Security: store.NoTLS,
		From: "hello@quillbrook.example", Name: "Quillbrook", Footer: "Quillbrook Apiary Supply, 2 Mill Lane"}))
	for desk, name := range map[string]string{"calls": "Orchard book", "ads": "Ads"} {
		kind := quiz.CallFollowUp
		if desk == "ads" {
			kind = quiz.ConversionFollowUp
		}
		require.NoError(t, out.PutReceiver(t.Context(), &store.Receiver{Kind: kind, Name: name,
			Address: a.standIns + "/standin/desk/" + desk, Secret: standin.DemoSecret}))
	}
	require.NoError(t, out.PutList(t.Context(), &store.List{Name: "Bee letter"}))
}

// follows takes the quiz as somebody, and returns what page they come to.
func (a *app) follows(t testing.TB, z *store.Quiz, query, crop string, contact ...string) string {
	t.Helper()
	c := a.client(t)
	r, page := c.answer("/q/"+z.Slug+query, crop)
	if r.StatusCode == http.StatusOK { // they part ways
		return plainly(page)
	}
	require.Equal(t, http.StatusSeeOther, r.StatusCode)
	at := r.Header.Get("Location")
	if strings.HasSuffix(at, "/your-contact") {
		r, _ = c.form(at, append(contact, "go", "on")...)
		require.Equal(t, http.StatusSeeOther, r.StatusCode)
		at = r.Header.Get("Location")
	}
	return c.says(at)
}

// soon waits until something holds, some seconds at the most.
func soon(t testing.TB, what string, holds func() bool) {
	t.Helper()
	require.Eventually(t, holds, 10*time.Second, 10*time.Millisecond, what)
}

// letter waits for the letter with a subject.
func (a *app) letter(t testing.TB, subject string) standin.Letter {
	t.Helper()
	var found standin.Letter
	soon(t, subject, func() bool {
		for _, l := range a.services.Mail.Letters() {
			if l.Subject == subject {
				found = l
				return true
			}
		}
		return false
	})
	return found
}

// Whoever lands gets what was promised, colleagues and other systems are told, and only those
// who agreed are put on a list; of others than fits no ad platform hears.
func TestWhatGoesOut(t *testing.T) {
	t.Parallel()
	a, z := newFollowing(t)
	assert.Contains(t, a.follows(t, z, "?clid=abc123", "apples", "name", "Una <Byrne>", "mail",
		"una@tallow.example", "letters", "yes"), "Hives would pay")
	result := a.letter(t, "Una <Byrne>: Hives would pay for themselves")
	assert.Equal(t, []string{"una@tallow.example"}, result.To)
	assert.Contains(t, result.HTML, "You grow <strong>Apples *and* pears</strong>", "an answer is no Markdown")
	assert.Contains(t, result.HTML, `href="https://quillbrook.example/book?crop=apples&amp;need=4"`)
	assert.Contains(t, result.Plain, "Read the guide (https://quillbrook.example/guide).")
	assert.Contains(t, result.Plain, "Book a walk:\nhttps://quillbrook.example/book?crop=apples&need=4\n")
	assert.Contains(t, result.Plain, "Quillbrook Apiary Supply, 2 Mill Lane")
	assert.Equal(t, "List-Unsubscribe=One-Click", result.Header.Get("List-Unsubscribe-Post"), "RFC 8058")

	told := a.letter(t, "A lead: Hives would pay for themselves")
	assert.Equal(t, []string{"sales@quillbrook.example"}, told.To)
	assert.Contains(t, told.Plain, "E-mail: una@tallow.example")
	assert.Empty(t, told.Leave)

	desk := a.services.Desks["calls"]
	soon(t, "the call", func() bool { return len(desk.Calls()) == 1 })
	call := desk.Calls()[0]
	assert.True(t, call.Signed, call.Signature)
	var e event.Event
	require.NoError(t, json.Unmarshal([]byte(call.Body), &e))
	require.NoError(t, e.Validate(), "CloudEvents 1.0")
	assert.Equal(t, call.Key, e.ID())
	var said struct {
		Outcome struct{ Key, Standing string }
		Scores  map[string]float64
		Answers []struct{ Question, Words string }
		Contact map[string]string
		Visitor struct{ Query map[string]string }
	}
	require.NoError(t, e.DataAs(&said))
	assert.Equal(t, "fit", said.Outcome.Standing)
	assert.Equal(t, 4.0, said.Scores["need"])
	assert.Equal(t, "una@tallow.example", said.Contact["mail"])
	assert.Equal(t, "abc123", said.Visitor.Query["clid"], "they agreed")

	ads := a.services.Desks["ads"]
	soon(t, "the conversion", func() bool { return len(ads.Calls()) == 1 })
	assert.JSONEq(t, fmt.Sprintf(
		`{"event":"qualified","event_id":%q,"time":%q,"value":4,"currency":"EUR","click":"abc123"}`,
		ads.Calls()[0].Key, field(t, ads.Calls()[0].Body, "time")), ads.Calls()[0].Body)

	ask := a.letter(t, "Please confirm: Bee letter")
	at := link(t, ask.Plain, "/sign-up/")
	c := a.client(t)
	assert.Contains(t, c.says(at), "Was it you?")
	assert.Equal(t, map[string]int{store.Asked: 1}, a.onList(t), "looking at it is no answer")
	_, page := c.form(at)
	assert.Contains(t, page, "You are on the list.")
	assert.Equal(t, map[string]int{store.Joined: 1}, a.onList(t))

	a.follows(t, z, "?clid=xyz", "barley", "name", "Bram", "mail", "bram@tallow.example")
	a.letter(t, "Bram:")
	soon(t, "the second call", func() bool { return len(desk.Calls()) == 2 })
	assert.NotContains(t, desk.Calls()[0].Body, "xyz", "a click is kept with consent alone")
	assert.Len(t, ads.Calls(), 1)
	a.follows(t, z, "", "none")
	a.idle(t)
	assert.Len(t, desk.Calls(), 2, "nothing goes out after parting ways")
	assert.Equal(t, map[string]int{store.Joined: 1}, a.onList(t))

	_, err := http.PostForm(result.Leave, url.Values{"List-Unsubscribe": {"One-Click"}})
	require.NoError(t, err)
	assert.Equal(t, map[string]int{store.Left: 1}, a.onList(t))
	before := len(a.services.Mail.Letters())
	a.follows(t, z, "", "apples", "name", "Una", "mail", "UNA@tallow.example", "letters", "yes")
	soon(t, "the third call", func() bool { return len(desk.Calls()) == 3 })
	a.idle(t)
	assert.Len(t, a.services.Mail.Letters(), before+1, "colleagues alone are told")
	assert.Equal(t, map[string]int{store.Left: 1}, a.onList(t), "for ever")
}

// A result goes by mail to whoever asks for theirs, once, to the address that was given; from
// where none was given, nobody is asked.
func TestAResultByMail(t *testing.T) {
	t.Parallel()
	a := newApp(t)
	a.connect(t)
	z := a.add(t, without(t, following))
	a.edit(t, z.ID, `[{"op":"add","path":"/settings/results","value":{"mail":true}},{"op":"add","path":"/outcomes/hot/text","value":"You grow **{crop}**."},
		{"op":"add","path":"/outcomes/hot/showScore","value":"need"},
		{"op":"add","path":"/outcomes/hot/landings/page/blocks","value":{"walk":{"order":1,"kind":"action","label":"Book a walk","address":"https://quillbrook.example/book{?crop}"}}}]`)
	a.release(t, a.latest(t, z.ID))
	c := a.client(t)
	begun, _ := c.answer("/q/"+z.Slug, "apples")
	r, _ := c.form(begun.Header.Get("Location"), "name", "Una", "mail", "una@tallow.example", "go", "on")
	end := r.Header.Get("Location")
	require.Contains(t, c.says(end), "Have it mailed to una@tallow.example")
	for range 2 {
		r, _ = c.form(strings.TrimSuffix(end, "end") + "mail-my-result")
		require.Equal(t, http.StatusSeeOther, r.StatusCode)
	}
	assert.Contains(t, c.says(end), "It is on its way to una@tallow.example.")
	letter := a.letter(t, "Your result: Hives would pay for themselves")
	assert.Equal(t, []string{"una@tallow.example"}, letter.To)
	assert.Contains(t, letter.Plain, "You grow Apples")
	assert.Contains(t, letter.Plain, "Need: 4")
	assert.Contains(t, letter.Plain, "https://quillbrook.example/book?crop=")
	assert.Contains(t, letter.HTML, "<h1>Hives would pay for themselves</h1>")
	a.idle(t)
	assert.Len(t, a.services.Mail.Letters(), 1, "once")
	assert.Contains(t, a.client(t).signIn().says("/studio/outbox"), "result, as they asked")
	assert.NotContains(t, a.follows(t, z, "", "apples", "name", "Bram"), "mailed")
	require.NoError(t, a.store.Outbox.KeepMailSettings(t.Context(), &store.MailSettings{Port: 587,
		Security: store.StartTLS}))
	mailless := a.client(t)
	begun, _ = mailless.answer("/q/"+z.Slug, "apples")
	r, _ = mailless.form(begun.Header.Get("Location"), "mail", "una@tallow.example", "go", "on")
	_, page := mailless.get(r.Header.Get("Location"))
	assert.NotContains(t, page, "resultways", "where no mail goes out there is nothing to offer")
	a.edit(t, z.ID, `[{"op":"add","path":"/settings/results/mail","value":false}]`)
	a.release(t, a.latest(t, z.ID))
	assert.NotContains(t, a.follows(t, z, "", "apples", "mail", "bram@tallow.example"), "mailed")
}

// Where consent is asked for below the result, what names a click waits for it, and is on no
// disk meanwhile.
func TestAClickWaitsForConsent(t *testing.T) {
	t.Parallel()
	a, z := newFollowing(t)
	a.edit(t, z.ID, `[{"op":"replace","path":"/contact/place","value":"after"}]`)
	a.release(t, a.latest(t, z.ID))
	visitor := func(number int) string {
		r, err := a.store.Responses.Response(t.Context(), z.ID, number)
		require.NoError(t, err)
		return r.Visitor
	}
	for i, consents := range []string{"yes", ""} {
		c := a.client(t)
		r, _ := c.answer("/q/"+z.Slug+"?clid=abc123&ref=7", "apples")
		require.Equal(t, http.StatusSeeOther, r.StatusCode)
		end := r.Header.Get("Location")
		assert.NotContains(t, visitor(i+1), "abc123")
		assert.Contains(t, visitor(i+1), `"ref":"7"`)
		r, _ = c.form(strings.TrimSuffix(end, "/end")+"/your-contact", "name", "Una", "mail",
			fmt.Sprintf("una%d@tallow.example", i), "letters", consents)
		require.Equal(t, http.StatusSeeOther, r.StatusCode)
		assert.Equal(t, consents == "yes", strings.Contains(visitor(i+1), "abc123"))
	}
	ads := a.services.Desks["ads"]
	soon(t, "the conversion", func() bool { return len(ads.Calls()) == 1 })
	assert.Equal(t, "abc123", field(t, ads.Calls()[0].Body, "click"))
	a.idle(t)
	assert.Len(t, ads.Calls(), 1)
}

// Others are told who joins and leaves a list: a system by a call, or somebody by mail.
func TestOthersAreToldOfAList(t *testing.T) {
	t.Parallel()
	a, z := newFollowing(t)
	ctx, out := t.Context(), a.store.Outbox
	service := &store.Receiver{Kind: quiz.CallFollowUp, Name: "List service", Address: a.standIns +
		"/standin/desk/list", Secret: standin.DemoSecret}
	require.NoError(t, out.PutReceiver(ctx, service))
	letter, err := out.List(ctx, "bee_letter")
	require.NoError(t, err)
	letter.Receiver, letter.Subject, letter.Text = service.Key, "One more step", "Is it **you**?"
	require.NoError(t, out.PutList(ctx, letter))
	desk := a.services.Desks["list"]
	a.follows(t, z, "", "barley", "name", "Una", "mail", "una@tallow.example", "letters", "yes")
	ask := a.letter(t, "One more step")
	assert.Contains(t, ask.HTML, "Is it <strong>you</strong>?")
	a.client(t).form(link(t, ask.Plain, "/sign-up/"))
	soon(t, "who joined", func() bool { return len(desk.Calls()) == 1 })
	assert.Equal(t, "omphalos.list.joined", desk.Calls()[0].Event)
	assert.Contains(t, desk.Calls()[0].Body, `"words": "Send me the bee letter"`, "with the proof")
	a.client(t).form(link(t, ask.Plain, "/no-more-mail/"))
	soon(t, "who left", func() bool { return len(desk.Calls()) == 2 })
	assert.Equal(t, "omphalos.list.left", desk.Calls()[0].Event)

	says := a.client(t).signIn().says("/studio/leads/person/1/everything.html")
	assert.Contains(t, says, "What went out")
	assert.Contains(t, says, "bee_letter: una@tallow.example, left; agreed on")

	letter.Receiver, letter.Address, letter.Once = "", "letters@quillbrook.example", true
	require.NoError(t, out.PutList(ctx, letter))
	a.follows(t, z, "", "barley", "name", "Bram", "mail", "bram@tallow.example", "letters", "yes")
	told := a.letter(t, "bram@tallow.example joined Bee letter")
	assert.Equal(t, []string{"letters@quillbrook.example"}, told.To)
	c := a.client(t).signIn()
	assert.Contains(t, c.says("/studio/outbox/lists/bee_letter"), "bram@tallow.example")
	answer, file := c.get("/studio/outbox/lists/bee_letter/people.csv")
	assert.Equal(t, "text/csv; charset=utf-8", answer.Header.Get("Content-Type"))
	rows, err := csv.NewReader(strings.NewReader(file)).ReadAll()
	require.NoError(t, err)
	require.Len(t, rows, 3)
	assert.Equal(t, []string{"bram@tallow.example", "Bram", "joined", "Send me the bee letter"}, rows[1][:4])
	assert.Equal(t, "left", rows[2][2])
}

// idle waits until nothing is waiting that could go out.
func (a *app) idle(t testing.TB) {
	t.Helper()
	soon(t, "nothing waits", func() bool {
		list, err := a.store.Outbox.Deliveries(t.Context(), store.Search{State: store.Waiting}, 1)
		return err == nil && len(list) == 0
	})
}

func (a *app) onList(t testing.TB) map[string]int {
	t.Helper()
	counts, err := a.store.Outbox.Counts(t.Context())
	require.NoError(t, err)
	return counts["bee_letter"]
}

// link finds an address in plain words, without the site.
func link(t testing.TB, words, place string) string {
	t.Helper()
	i := strings.Index(words, place)
	require.GreaterOrEqual(t, i, 0, words)
	return strings.Fields(words[i:])[0]
}

func field(t testing.TB, body, name string) string {
	t.Helper()
	var told map[string]any
	require.NoError(t, json.Unmarshal([]byte(body), &told))
	return fmt.Sprint(told[name])
}
