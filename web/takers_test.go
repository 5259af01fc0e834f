package web_test

import (
	"fmt"
	"net/http"
	"net/url"
	"os"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"omphalos/core/quiz"
	"omphalos/core/quiztest"
	"omphalos/store"
)

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
