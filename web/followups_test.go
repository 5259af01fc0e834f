package web_test

import (
	"encoding/json"
	"fmt"
	"net/http"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"omphalos/core/quiz"
	"omphalos/store"
)

// without is a quiz as it is before anything is said to go out.
func without(t testing.TB, document string) string {
	t.Helper()
	var tree map[string]any
	require.NoError(t, json.Unmarshal([]byte(document), &tree))
	delete(tree, "followUps")
	b, err := json.Marshal(tree)
	require.NoError(t, err)
	return string(b)
}

// A follow-up is written on the sheet, looked at, rehearsed and released; the mail arrives with
// what was answered, its button leads on, and no more comes after one click.
func TestAFollowUpFromTheSheetToTheMailbox(t *testing.T) {
	t.Parallel()
	a := newApp(t)
	a.connect(t)
	z := a.add(t, without(t, following))
	b := a.newTab(t)
	b.signIn()
	b.open(fmt.Sprintf("/studio/quizzes/%d", z.ID))
	b.axeOf("#part-followups", "The sheet without follow-ups")
	b.click(`[data-act="add?path=/followUps&kind=mail"]`)
	at := "/followUps/followup_1"
	b.until("it is there", `document.querySelector("#followUps .followup")`)
	b.kept()
	b.fill(fmt.Sprintf(`[data-path="%s/subject"]`, at), "{name}, you grow {crop}")
	b.kept()
	b.fill(fmt.Sprintf(`[data-path="%s/blocks/text/text"]`, at), "It came to {need}.")
	b.kept()
	b.click(fmt.Sprintf(`[data-act="add?path=%s/blocks&kind=action"]`, at))
	b.until("a button", fmt.Sprintf(`document.querySelector('[data-path^="%s/blocks/block_2/label"]')`, at))
	b.fill(fmt.Sprintf(`[data-path="%s/blocks/block_2/label"]`, at), "Book a walk")
	b.fill(fmt.Sprintf(`[data-path="%s/blocks/block_2/address"]`, at), "https://quillbrook.example/book{?crop}")
	b.keys("\t")
	b.kept()
	b.click(fmt.Sprintf(`[data-act="when?path=%s/when&at=&part=begin"]`, at))
	b.until("a condition",
		fmt.Sprintf(`document.querySelector('[data-act^="when?path=%s/when&at=all/0&part=subject"]')`, at))
	b.kept()
	b.choose(fmt.Sprintf(`[data-act^="when?path=%s/when&at=all/0&part=subject"]`, at), "standing")
	b.kept()
	b.choose(fmt.Sprintf(`[data-path="%s/consent"]`, at), "letters")
	b.kept()
	b.axeOf("#followUps", "The sheet with a follow-up")
	f := a.draft(t, z.ID).FollowUps["followup_1"]
	require.NotNil(t, f)
	assert.True(t, f.When.All[0].Standing)
	assert.Equal(t, "letters", f.Consent)

	b.open(fmt.Sprintf("/studio/quizzes/%d/follow-ups/followup_1", z.ID))
	assert.Contains(t, b.text("h1"), "Una Byrne, you grow Apples *and* pears")
	b.until("it is framed", `document.querySelector("iframe")`)
	b.axe("How a mail looks")

	b.rehearse(z, "")
	b.taps("phone", "Apples")
	b.run(fmt.Sprintf(`{ const page = %s; page.querySelector("[name=name]").value = "Una"; page.querySelector("[name=mail]").value = "una@tallow.example"; page.querySelector("[name=mail]").form.requestSubmit(); }`, inside("phone")))
	b.until("it would not go out",
		`document.querySelector(".goesout")?.textContent.includes("“Send me the bee letter” was not agreed to")`)
	b.axe("What would go out")
	before := len(a.services.Mail.Letters())

	a.release(t, a.latest(t, z.ID))
	a.follows(t, z, "", "apples", "name", "Una", "mail", "una@tallow.example", "letters", "yes")
	letter := a.letter(t, "Una, you grow Apples *and* pears")
	assert.Zero(t, before, "nothing goes out from a rehearsal")
	assert.Contains(t, letter.Plain, "It came to 4.")

	b.open(fmt.Sprintf("%s/standin/mailbox?letter=%d", a.standIns, letter.ID))
	b.until("the letter is shown", `document.querySelector("iframe.arrivalframe")`)
	b.axe("The mailbox")
	answer, err := http.Get(fmt.Sprintf("%s/standin/mailbox/%d", a.standIns, letter.ID))
	require.NoError(t, err)
	assert.Contains(t, answer.Header.Get("Content-Security-Policy"), "sandbox")
	require.NoError(t, answer.Body.Close())
	b.run(`[...document.querySelectorAll("button")].find((b) => b.textContent.includes("in one click")).click()`)
	b.until("no more is wanted", `document.querySelector(".flash")?.textContent.includes("200")`)
	gone, err := a.store.Outbox.Unsubscribed(t.Context(), "Una@Tallow.example")
	require.NoError(t, err)
	assert.True(t, gone)
	a.follows(t, z, "", "apples", "name", "Una", "mail", "una@tallow.example", "letters", "yes")
	a.idle(t)
	assert.Len(t, a.services.Mail.Letters(), 1)

	b.open(fmt.Sprintf("/studio/quizzes/%d", z.ID))
	b.until("it is counted",
		`document.querySelector(".followfigures")?.textContent.replace(/\s+/g, " ").includes("1 delivered")`)
	c := a.client(t).signIn()
	assert.Contains(t, c.says("/studio/outbox?state=cancelled&open=2"), "they want no mail")
}

// latest is a quiz as it stands.
func (a *app) latest(t testing.TB, id uint) *store.Quiz {
	t.Helper()
	z, err := a.store.Definitions.Quiz(t.Context(), id)
	require.NoError(t, err)
	return z
}

// A receiver that fails is seen in the Outbox with why; when it is mended, what failed is sent
// again, under the same key.
func TestAFailingReceiver(t *testing.T) {
	t.Parallel()
	a, z := newFollowing(t)
	desk := a.services.Desks["calls"]
	desk.Answers(http.StatusServiceUnavailable, 0)
	a.follows(t, z, "", "barley", "name", "Bram", "mail", "bram@tallow.example")
	soon(t, "it fails", func() bool {
		list, err := a.store.Outbox.Deliveries(t.Context(), store.Search{State: store.Failing}, 10)
		return err == nil && len(list) == 1
	})
	b := a.newTab(t)
	b.signIn()
	b.open("/studio/outbox")
	b.axe("The outbox")
	b.run(`[...document.querySelectorAll(".outboxstates a")].find((a) => a.textContent.includes("Failing")).click()`)
	b.until("what fails", `document.querySelectorAll("tbody tr").length === 1 && document.querySelector("td.bad")`)
	b.run(`document.querySelector("td .link").click()`)
	b.until("why", `document.querySelector("aside")?.textContent.includes("it answers 503 Service Unavailable")`)
	assert.Contains(t, b.text("aside"), "response 1 to Hives")
	b.axe("A delivery that fails")
	desk.Answers(0, 0)
	b.run(`[...document.querySelectorAll("aside button")].find((b) => b.textContent === "Send now").click()`)
	b.until("it is told", `document.querySelector(".flash")?.textContent.includes("1 delivery is sent again.")`)
	soon(t, "it arrives", func() bool {
		calls := desk.Calls()
		return len(calls) > 0 && calls[0].Answered == http.StatusOK
	})
	calls := desk.Calls()
	assert.Equal(t, calls[len(calls)-1].Key, calls[0].Key, "the receiver can tell that it came twice")
	a.idle(t)
	c := a.client(t).signIn()
	assert.Contains(t, c.says("/studio/outbox?state=delivered&kind=call"), "No hives")
	assert.Contains(t, c.says("/studio/leads?lead=1"), "What went out call: No hives delivered")
}

// What something goes to is kept, refused with what to do, tried out and taken away.
func TestWhatTheOutboxGoesTo(t *testing.T) {
	t.Parallel()
	a := newApp(t)
	b := a.newTab(t)
	b.signIn()
	for at, where := range map[string]string{"/studio/outbox": "The empty outbox",
		"/studio/outbox/lists": "No lists", "/studio/outbox/receivers": "No receivers", "/studio/outbox/mail": "No mail"} {
		b.open(at)
		b.axe(where)
	}
	a.connect(t)
	for at, where := range map[string]string{"/studio/outbox/lists": "Lists",
		"/studio/outbox/receivers": "Receivers", "/studio/outbox/mail": "Mail", "/studio/outbox/lists/bee_letter": "A list"} {
		b.open(at)
		b.axe(where)
	}
	b.open(a.standIns + "/standin/desk/calls")
	b.axe("A desk")

	c := a.client(t).signIn()
	says := func(path string, pairs ...string) string { return plainly(c.done(path, pairs...)) }
	assert.Contains(t, says("/studio/outbox/mail", "host", "mail.example.org", "port", "587", "security",
		"none", "user", "u", "password", "p", "from", "hello@example.org"),
		"A password is not sent over a connection that others can read. Nothing was changed.")
	assert.Contains(t, says("/studio/outbox/mail/test", "to", "una@tallow.example"), "The server has taken it.")
	assert.Equal(t, "Mail goes out", a.services.Mail.Letters()[0].Subject)
	a.services.Mail.Refuse(true)
	assert.Contains(t, says("/studio/outbox/mail/test", "to", "una@tallow.example"), "It did not go out")
	assert.Contains(t, says("/studio/outbox/mail/test", "to", "una"), "Type one e-mail address")

	assert.Contains(t, says("/studio/outbox/receivers", "name", "Farm diary", "kind", "call", "address",
		"ftp://example.org"), "The address must begin with https:// or http://. Nothing was changed.")
	assert.Contains(t, says("/studio/outbox/receivers", "name", "Farm diary", "kind", "call", "address",
		"https://example.org", "headers", "Host: other"), "is set by the call itself")
	assert.Contains(t, says("/studio/outbox/receivers/orchard_book/test"), "“Orchard book” has taken a test call.")
	a.services.Desks["calls"].Answers(http.StatusInternalServerError, 0)
	assert.Contains(t, says("/studio/outbox/receivers/orchard_book/test"), "It was not taken: It answers 500")
	former, err := a.store.Outbox.Receiver(t.Context(), "orchard_book")
	require.NoError(t, err)
	assert.Contains(t, says("/studio/outbox/receivers/orchard_book/turn"), "signs too for two days")
	turned, err := a.store.Outbox.Receiver(t.Context(), "orchard_book")
	require.NoError(t, err)
	assert.Equal(t, []string{turned.Secret, former.Secret}, turned.Secrets(time.Now()))
	assert.Contains(t, says("/studio/outbox/receivers", "name", "Inside", "kind", "call", "address",
		"http://169.254.169.254/latest/meta-data"), "“Inside” is kept.")
	assert.Contains(t, says("/studio/outbox/receivers/inside/test"), "leads to an address that is not on the open net")
	assert.Contains(t, says("/studio/outbox/receivers/inside/remove"), "It is gone.")

	assert.Contains(t, says("/studio/outbox/lists", "name", ""), "Give it a name of 1 to 100 letters")
	assert.Contains(t, says("/studio/outbox/lists/bee_letter/remove"), "Say that you are sure")
	assert.Contains(t, says("/studio/outbox/lists/bee_letter/remove", "sure", "yes"), "The list “Bee letter” is gone.")
}

// What waits for somebody goes with them: when they are erased, when they object, and when
// their lead is where it shall not go out.
func TestNothingGoesToWhoIsGone(t *testing.T) {
	t.Parallel()
	a, z := newFollowing(t)
	a.edit(t, z.ID, `[{"op":"add","path":"/followUps/result/wait","value":1440},{"op":"add","path":"/followUps/result/unless","value":["talks"]},{"op":"remove","path":"/followUps/tell"},{"op":"remove","path":"/followUps/crm"}]`)
	a.release(t, a.latest(t, z.ID))
	for _, name := range []string{"Erased", "Objecting", "Talking", "Left"} {
		a.follows(t, z, "", "barley", "name", name, "mail", name+"@tallow.example")
	}
	waiting, err := a.store.Outbox.Deliveries(t.Context(), store.Search{State: store.Waiting}, 10)
	require.NoError(t, err)
	require.Len(t, waiting, 4)
	assert.WithinDuration(t, time.Now().Add(24*time.Hour), waiting[0].Due, time.Minute)
	ctx, rs := t.Context(), a.store.Responses
	_, err = rs.EraseLead(ctx, 1, 1)
	require.NoError(t, err)
	yes, talks := true, store.InTalks
	_, err = rs.ChangeLeads(ctx, []int{2}, store.LeadChange{Objected: &yes}, 1)
	require.NoError(t, err)
	_, err = rs.ChangeLeads(ctx, []int{3}, store.LeadChange{State: &talks}, 1)
	require.NoError(t, err)
	n, err := a.store.Outbox.Again(ctx, store.Search{QuizID: z.ID}) // now, and not in a day
	require.NoError(t, err)
	assert.Equal(t, 3, n, "what was due to the erased is gone with them")
	a.idle(t)
	letters := a.services.Mail.Letters()
	require.Len(t, letters, 1)
	assert.Equal(t, []string{"Left@tallow.example"}, letters[0].To)
	for state, many := range map[string]int{store.Delivered: 1, store.Cancelled: 2} {
		list, err := a.store.Outbox.Deliveries(ctx, store.Search{State: state}, 10)
		require.NoError(t, err)
		assert.Len(t, list, many, state)
	}
}

// A digest gathers what came, and goes out in the morning.
func TestADigest(t *testing.T) {
	t.Parallel()
	a, z := newFollowing(t)
	a.edit(t, z.ID, `[{"op":"add","path":"/followUps/tell/digest","value":"day"},{"op":"remove","path":"/followUps/tell/when"}]`)
	a.release(t, a.latest(t, z.ID))
	for i := range 3 {
		a.follows(t, z, "", []string{"apples", "barley", "apples"}[i], "name", fmt.Sprint("Lead ", i+1), "mail",
			fmt.Sprintf("lead%d@tallow.example", i+1))
	}
	list, err := a.store.Outbox.Deliveries(t.Context(), store.Search{Kind: quiz.NoticeFollowUp}, 10)
	require.NoError(t, err)
	require.Len(t, list, 3)
	zone, err := time.LoadLocation("Europe/Dublin")
	require.NoError(t, err)
	assert.Equal(t, "08:00", list[0].Due.In(zone).Format("15:04"))
	_, err = a.store.Outbox.Again(t.Context(), store.Search{Kind: quiz.NoticeFollowUp})
	require.NoError(t, err)
	digest := a.letter(t, "3 leads since yesterday")
	for i := range 3 {
		assert.Contains(t, digest.Plain, fmt.Sprint("Lead ", i+1))
	}
	assert.Contains(t, digest.HTML, "/studio/leads?lead=1")
}
