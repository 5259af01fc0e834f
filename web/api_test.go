package web_test

import (
	"context"
	"encoding/json"
	"fmt"
	"net/http"
	"net/http/httptest"
	"os"
	"strings"
	"testing"
	"time"

	"github.com/gin-gonic/gin"
	"github.com/santhosh-tekuri/jsonschema/v6"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"omphalos/core/quiz"
	"omphalos/store"
	"omphalos/web/api"
	asking "omphalos/web/api/client"
)

// access makes a token, and a client that shows it.
func (a *app) access(t testing.TB, scopes ...store.Scope) *asking.ClientWithResponses {
	t.Helper()
	token, err := a.store.People.MakeAccess(t.Context(), "A test", scopes, time.Now().Add(time.Hour), 1)
	require.NoError(t, err)
	return a.showing(t, token)
}

func (a *app) showing(t testing.TB, token string) *asking.ClientWithResponses {
	t.Helper()
	c, err := asking.NewClientWithResponses(a.URL,
		asking.WithRequestEditorFn(func(_ context.Context, r *http.Request) error {
			r.Header.Set("Authorization", "Bearer "+token)
			return nil
		}))
	require.NoError(t, err)
	return c
}

// The client that is made from the description walks the interface from end to end.
func TestTheInterface(t *testing.T) {
	t.Parallel()
	a, z := newFollowing(t)
	for i := range 5 {
		a.follows(t, z, "?utm_source=letter", []string{"apples", "barley"}[i%2], "name",
			fmt.Sprint("Lead ", i+1), "mail", fmt.Sprintf("lead%d@tallow.example", i+1))
	}
	c, ctx := a.access(t, store.Scopes...), t.Context()

	quizzes, err := c.ListQuizzesWithResponse(ctx, nil)
	require.NoError(t, err)
	require.NotNil(t, quizzes.JSON200, string(quizzes.Body))
	require.Len(t, quizzes.JSON200.Items, 1)
	assert.Equal(t, "Hives", quizzes.JSON200.Items[0].Title)
	assert.EqualValues(t, 5, quizzes.JSON200.Items[0].Responses)
	release, err := c.GetReleaseWithResponse(ctx, 1, 1, nil)
	require.NoError(t, err)
	require.NotNil(t, release.JSON200, string(release.Body))
	assert.Equal(t, quiz.Format, release.JSON200.Document["format"])
	figures, err := c.GetFiguresWithResponse(ctx, 1, nil)
	require.NoError(t, err)
	assert.Equal(t, map[string]int64{"hot": 3, "cold": 2}, figures.JSON200.Outcomes)

	var numbers []int64
	limit := int64(2)
	for after := new(int64); after != nil; {
		page, err := c.ListResponsesWithResponse(ctx, 1, &asking.ListResponsesParams{After: after, Limit: &limit})
		require.NoError(t, err)
		require.NotNil(t, page.JSON200, string(page.Body))
		for _, r := range page.JSON200.Items {
			numbers = append(numbers, r.Number)
			assert.Equal(t, "letter", *r.Visitor.Source)
		}
		after = page.JSON200.Next
	}
	assert.Equal(t, []int64{1, 2, 3, 4, 5}, numbers)

	leads, err := c.ListLeadsWithResponse(ctx, nil)
	require.NoError(t, err)
	require.Len(t, leads.JSON200.Items, 5)
	state, err := c.PutLeadStateWithResponse(ctx, 1, nil, asking.StateOfLead{State: store.InTalks})
	require.NoError(t, err)
	assert.Equal(t, store.InTalks, state.JSON200.State)
	state, err = c.PutLeadStateWithResponse(ctx, 1, nil, asking.StateOfLead{State: "nowhere"})
	require.NoError(t, err)
	require.Equal(t, http.StatusUnprocessableEntity, state.StatusCode())
	assert.Equal(t, "application/problem+json", state.HTTPResponse.Header.Get("Content-Type"), "RFC 9457")
	assert.Contains(t, *state.ApplicationproblemJSON422.Detail, "there is no such state")
	talking := store.InTalks
	leads, err = c.ListLeadsWithResponse(ctx, &asking.ListLeadsParams{State: &talking})
	require.NoError(t, err)
	assert.Len(t, leads.JSON200.Items, 1)

	sign, err := c.PutSignpostWithResponse(ctx, "booking", "IE", nil,
		asking.PutSignpostJSONRequestBody{Address: "https://example.org/visit"})
	require.NoError(t, err)
	require.NotNil(t, sign.JSON200, string(sign.Body))
	tag := sign.HTTPResponse.Header.Get("ETag")
	other := []string{`"another"`}
	sign, err = c.PutSignpostWithResponse(ctx, "booking", "IE", &asking.PutSignpostParams{IfMatch: &other},
		asking.PutSignpostJSONRequestBody{Address: "https://example.org/other"})
	require.NoError(t, err)
	assert.Equal(t, http.StatusPreconditionFailed, sign.StatusCode(), "somebody else changed it")
	same := []string{tag}
	sign, err = c.PutSignpostWithResponse(ctx, "booking", "IE", &asking.PutSignpostParams{IfMatch: &same},
		asking.PutSignpostJSONRequestBody{Address: "ftp://example.org"})
	require.NoError(t, err)
	assert.Equal(t, http.StatusUnprocessableEntity, sign.StatusCode())
	gone, err := c.DeleteSignpostWithResponse(ctx, "booking", "IE", &asking.DeleteSignpostParams{IfMatch: &same})
	require.NoError(t, err)
	assert.Equal(t, http.StatusNoContent, gone.StatusCode())
	german := "Ein Stock"
	words := map[string]asking.ProductWords{"de": {Name: &german}}
	_, err = c.PutProductWithResponse(ctx, "hive", nil, asking.Product{Name: "A box", InStock: true, Words: &words})
	require.NoError(t, err)
	product, err := c.PutProductWithResponse(ctx, "hive", nil, asking.Product{Name: "A hive", InStock: true})
	require.NoError(t, err)
	require.NotNil(t, product.JSON200.Words, "who does not know of them leaves them")
	assert.Equal(t, words, *product.JSON200.Words)
	require.NotNil(t, product.JSON200, string(product.Body))
	assert.Equal(t, "hive", *product.JSON200.Key)
	place, err := c.PutPlaceWithResponse(ctx, "yards", "north", nil, asking.Place{Name: "The north yard",
		Latitude: 53.3, Longitude: -6.2})
	require.NoError(t, err)
	require.NotNil(t, place.JSON200, string(place.Body))

	hook, err := c.PutWebhookWithResponse(ctx, "diary", nil, asking.Webhook{Kind: asking.Call,
		Name: "Farm diary", Address: a.standIns + "/standin/desk/calls"})
	require.NoError(t, err)
	require.NotNil(t, hook.JSON200, string(hook.Body))
	secret, err := c.GetWebhookSecretWithResponse(ctx, "diary", nil)
	require.NoError(t, err)
	turned, err := c.TurnWebhookSecretWithResponse(ctx, "diary")
	require.NoError(t, err)
	assert.NotEqual(t, secret.JSON200.Secret, turned.JSON200.Secret)
	assert.NotNil(t, turned.JSON200.FormerUntil)
	tried, err := c.TestWebhookWithResponse(ctx, "diary")
	require.NoError(t, err)
	assert.Equal(t, http.StatusBadGateway, tried.StatusCode(), "the desk does not know the secret")
	a.services.Desks["calls"].Secret = turned.JSON200.Secret
	tried, err = c.TestWebhookWithResponse(ctx, "diary")
	require.NoError(t, err)
	assert.Less(t, tried.StatusCode(), 300, string(tried.Body))
}

// A token lets in as far as its scopes go; what is the same is not sent again; who guesses, or
// asks too often, waits.
func TestTheInterfaceIsGuarded(t *testing.T) {
	t.Parallel()
	a, z := newFollowing(t)
	a.follows(t, z, "", "apples", "name", "Una", "mail", "una@tallow.example")
	ctx := t.Context()
	reader := a.access(t, store.ReadResponses)
	r, err := reader.GetResponseWithResponse(ctx, 1, 1, nil)
	require.NoError(t, err)
	require.NotNil(t, r.JSON200, string(r.Body))
	assert.Nil(t, r.JSON200.Contact, "who they are is for those who may read leads")
	assert.NotContains(t, string(r.Body), "una@tallow.example")
	known := []string{r.HTTPResponse.Header.Get("ETag")}
	again, err := reader.GetResponseWithResponse(ctx, 1, 1, &asking.GetResponseParams{IfNoneMatch: &known})
	require.NoError(t, err)
	assert.Equal(t, http.StatusNotModified, again.StatusCode())
	assert.Empty(t, again.Body)
	leads, err := reader.ListLeadsWithResponse(ctx, nil)
	require.NoError(t, err)
	assert.Equal(t, http.StatusForbidden, leads.StatusCode())
	assert.Contains(t, leads.HTTPResponse.Header.Get("WWW-Authenticate"), `scope="read:leads"`)
	missing, err := reader.GetResponseWithResponse(ctx, 1, 99, nil)
	require.NoError(t, err)
	assert.Equal(t, http.StatusNotFound, missing.StatusCode())

	plain := a.client(t)
	answer, body := plain.get(api.Prefix + "/quizzes")
	assert.Equal(t, http.StatusUnauthorized, answer.StatusCode)
	var told struct {
		Status int
		Detail string
	}
	require.NoError(t, json.Unmarshal([]byte(body), &told))
	assert.Equal(t, http.StatusUnauthorized, told.Status)
	assert.Contains(t, told.Detail, "Show an access token")
	answer, _ = plain.get(api.Prefix + "/openapi.json")
	assert.Equal(t, http.StatusOK, answer.StatusCode, "what there is, anybody may know")

	stranger := a.showing(t, "omphalos_nobody")
	waits := false
	for range 12 {
		guess, err := stranger.ListQuizzesWithResponse(ctx, nil)
		require.NoError(t, err)
		waits = waits || guess.StatusCode() == http.StatusTooManyRequests &&
			guess.HTTPResponse.Header.Get("Retry-After") != ""
	}
	assert.True(t, waits, "guessing gets slower")
}

// Whoever asks too often with a token is told how long to wait; others are not held up.
func TestTheInterfaceHasARate(t *testing.T) {
	t.Parallel()
	a := newApp(t)
	engine := gin.New()
	api.Mount(engine, a.store, api.Options{Each: 3})
	few := &app{Server: httptest.NewServer(engine), store: a.store}
	t.Cleanup(few.Close)
	busy, other := few.access(t, store.ReadQuizzes), few.access(t, store.ReadQuizzes)
	statuses := map[int]int{}
	for range 8 { // a burst of twice as many as in a minute is taken
		r, err := busy.ListQuizzesWithResponse(t.Context(), nil)
		require.NoError(t, err)
		if statuses[r.StatusCode()]++; r.StatusCode() == http.StatusTooManyRequests {
			assert.Equal(t, "21", r.HTTPResponse.Header.Get("Retry-After"))
		}
	}
	assert.Equal(t, map[int]int{http.StatusOK: 6, http.StatusTooManyRequests: 2}, statuses)
	r, err := other.ListQuizzesWithResponse(t.Context(), nil)
	require.NoError(t, err)
	assert.Equal(t, http.StatusOK, r.StatusCode())
}

// The description is what lies beside the client, is a document of OpenAPI 3.1, and has a page.
func TestTheInterfaceIsDescribed(t *testing.T) {
	t.Parallel()
	newer, older, err := api.Description()
	require.NoError(t, err)
	kept, err := os.ReadFile("api/client/openapi.json")
	require.NoError(t, err)
	assert.JSONEq(t, string(older), string(kept), "go generate ./web/api/client makes it anew")
	var d struct {
		OpenAPI    string
		Components struct {
			Schemas map[string]any
		}
	}
	require.NoError(t, json.Unmarshal(newer, &d))
	assert.Equal(t, "3.1.0", d.OpenAPI)
	for name, schema := range d.Components.Schemas { // which are JSON Schemas (draft 2020-12) since 3.1
		text, err := json.Marshal(map[string]any{"$schema": "https://json-schema.org/draft/2020-12/schema",
			"components": map[string]any{"schemas": d.Components.Schemas}, "allOf": []any{schema}})
		require.NoError(t, err)
		read, err := jsonschema.UnmarshalJSON(strings.NewReader(string(text)))
		require.NoError(t, err)
		compiler := jsonschema.NewCompiler()
		require.NoError(t, compiler.AddResource("urn:omphalos:"+name, read))
		_, err = compiler.Compile("urn:omphalos:" + name)
		assert.NoError(t, err, name)
	}

	a := newApp(t)
	b := a.newTab(t)
	b.open("/api")
	assert.Contains(t, b.text("main"), "Put a lead into a state")
	b.run(`document.querySelectorAll("details").forEach((d) => { d.open = true; })`)
	b.axe("The interface")
	b.signIn()
	b.open("/studio/outbox/access")
	b.axe("Access")
	b.fill(`[name="name"]`, "Dashboard")
	b.click(`[value="read:responses"]`)
	b.run(`[...document.querySelectorAll("button")].find((b) => b.textContent === "Make it").click()`)
	b.until("it is shown once", `document.querySelector(".secret")?.textContent.startsWith("omphalos_")`)
	token := b.text(".secret")
	b.axe("A fresh token")
	c := a.showing(t, token)
	list, err := c.ListQuizzesWithResponse(t.Context(), nil)
	require.NoError(t, err)
	assert.Equal(t, http.StatusForbidden, list.StatusCode())
	b.open("/studio/outbox/access")
	assert.NotContains(t, b.text("main"), token)
	b.run(`document.querySelector("td button.tool").click()`)
	b.until("it is ended", `document.querySelector(".flash")?.textContent.includes("lets nobody in")`)
	list, err = c.ListQuizzesWithResponse(t.Context(), nil)
	require.NoError(t, err)
	assert.Equal(t, http.StatusUnauthorized, list.StatusCode())
}
