// Package api is the interface for other systems: HTTP and JSON, as its own description in
// OpenAPI 3.1 tells. Who calls it shows an access token, which has scopes and an end; faults
// are problem details (RFC 9457).
package api

import (
	"context"
	"errors"
	"log/slog"
	"net/http"
	"strings"
	"time"

	"github.com/danielgtaylor/huma/v2"
	"github.com/danielgtaylor/huma/v2/adapters/humagin"
	"github.com/gin-gonic/gin"

	"omphalos/outbox"
	"omphalos/store"
	"omphalos/web/guard"
)

// Options say what the interface works with.
type Options struct {
	Public string         // address under which the application is known, "" for the one that is asked
	Outbox *outbox.Worker // what sends; nil where nothing goes out
	Each   int            // requests with one token in a minute, 0 for 600
}

type api struct {
	Options
	huma.API
	store *store.Store
	rate  *guard.Rate
	slow  *guard.Slow // those who guess tokens
}

// Prefix is where the interface is, Version the version of its description.
const (
	Prefix  = "/api/v1"
	Version = "1.0.0"
)

const (
	usualEach   = 600
	slowestWait = time.Minute
	longestBody = 1 << 20
)

// Mount serves the interface, its description and its page.
func Mount(engine *gin.Engine, s *store.Store, with Options) {
	if with.Each == 0 {
		with.Each = usualEach
	}
	a := &api{Options: with, store: s, rate: guard.NewRate(with.Each), slow: guard.NewSlow(slowestWait)}
	a.API = humagin.New(engine, config())
	a.UseMiddleware(a.let)
	a.describe()
	pages(engine, a)
}

// Description returns the description of the interface as OpenAPI 3.1 in JSON, and as 3.0 for
// programs that read no more.
func Description() (newer, older []byte, err error) {
	a := &api{API: humagin.New(newEngine(), config())}
	a.describe()
	if newer, err = a.OpenAPI().MarshalJSON(); err != nil {
		return nil, nil, err
	}
	older, err = a.OpenAPI().Downgrade()
	return newer, older, err
}

func config() huma.Config {
	c := huma.DefaultConfig("Omphalos", Version)
	c.Info.Description = "Quizzes, their responses and leads are read; leads, tables and webhooks are " +
		"written. Every request shows an access token: Authorization: Bearer omphalos_…"
	c.DocsPath, c.SchemasPath, c.CreateHooks = "", "", nil
	c.OpenAPIPath = Prefix + "/openapi"
	c.RejectUnknownQueryParameters = true
	c.Components.SecuritySchemes = map[string]*huma.SecurityScheme{"token": {Type: "http", Scheme: "bearer",
		Description: "An access token, made in the studio under Outbox, Access."}}
	c.Tags = []*huma.Tag{
		{Name: "Quizzes", Description: "What was designed, and what was released of it."},
		{Name: "Responses", Description: "What respondents answered, and the figures of it."},
		{Name: "Leads", Description: "People who said who they are."},
		{Name: "Tables", Description: "Signposts, products and places, that quizzes look up as they are now."},
		{Name: "Webhooks", Description: "Other systems that are called when somebody lands."},
	}
	return c
}

func (a *api) describe() {
	a.quizzes()
	a.responses()
	a.leads()
	a.signposts()
	a.products()
	a.places()
	a.webhooks()
}

const tokenKey = "token"

// let lets in who shows a token with the scope that an operation asks for.
func (a *api) let(c huma.Context, next func(huma.Context)) {
	client := guard.Client(humagin.Unwrap(c).ClientIP())
	if wait := a.slow.Wait(client); wait > 0 {
		a.refuse(c, http.StatusTooManyRequests, wait, "There were too many wrong tokens. Try again later.")
		return
	}
	scheme, text, _ := strings.Cut(c.Header("Authorization"), " ")
	if !strings.EqualFold(scheme, "Bearer") || text == "" {
		c.SetHeader("WWW-Authenticate", `Bearer realm="Omphalos"`)
		a.refuse(c, http.StatusUnauthorized, 0, "Show an access token: Authorization: Bearer omphalos_…")
		return
	}
	token, err := a.store.People.Access(c.Context(), strings.TrimSpace(text))
	switch scope := scopeOf(c.Operation()); {
	case errors.Is(err, store.ErrNoAccess):
		a.slow.Wrong(client)
		c.SetHeader("WWW-Authenticate", `Bearer realm="Omphalos", error="invalid_token"`)
		a.refuse(c, http.StatusUnauthorized, 0, "There is no such access token.")
	case errors.Is(err, store.ErrAccessEnded):
		c.SetHeader("WWW-Authenticate", `Bearer realm="Omphalos", error="invalid_token"`)
		a.refuse(c, http.StatusUnauthorized, 0, "The access token has ended. Make another one.")
	case err != nil:
		a.refuse(c, http.StatusInternalServerError, 0, "Something is in the way just now.")
		slog.Error("api", "error", err)
	case !token.May(scope):
		c.SetHeader("WWW-Authenticate", `Bearer realm="Omphalos", error="insufficient_scope", scope="`+string(scope)+`"`)
		a.refuse(c, http.StatusForbidden, 0, "The access token does not allow "+string(scope)+".")
	case !a.rate.Allow(token.Hash):
		a.refuse(c, http.StatusTooManyRequests, time.Minute/time.Duration(a.Each)+time.Second,
			"There were too many requests with this token. Try again later.")
	default:
		next(huma.WithValue(c, tokenKey, token))
	}
}

func (a *api) refuse(c huma.Context, status int, wait time.Duration, why string) {
	if wait > 0 {
		c.SetHeader("Retry-After", seconds(wait))
	}
	_ = huma.WriteErr(a, c, status, why) // who does not hear it asks again
}

// scopeOf returns the scope that an operation asks for.
func scopeOf(op *huma.Operation) store.Scope {
	for _, one := range op.Security {
		for _, scope := range one["token"] {
			return store.Scope(scope)
		}
	}
	return ""
}

// user is who made the token that a request shows.
func user(ctx context.Context) uint {
	if t, is := ctx.Value(tokenKey).(*store.AccessToken); is {
		return t.UserID
	}
	return 0
}

// A path is an operation of the interface, as it is told.
func path(method, at string, scope store.Scope, tag, id, summary string, errors ...int) huma.Operation {
	status := http.StatusOK
	if method == http.MethodDelete {
		status = http.StatusNoContent
	}
	return huma.Operation{
		OperationID:   id,
		Method:        method,
		Path:          Prefix + at,
		Summary:       summary,
		Tags:          []string{tag},
		DefaultStatus: status,
		MaxBodyBytes:  longestBody,
		Security:      []map[string][]string{{"token": {string(scope)}}},
		Errors:        append([]int{http.StatusUnauthorized, http.StatusForbidden, http.StatusTooManyRequests}, errors...),
	}
}

// problem turns an error of the store into problem details.
func problem(err error, refused ...error) error {
	for _, r := range refused {
		if errors.Is(err, r) {
			return huma.Error422UnprocessableEntity(err.Error())
		}
	}
	switch {
	case err == nil:
		return nil
	case errors.Is(err, store.ErrNotFound):
		return huma.Error404NotFound("This is not there.")
	case errors.Is(err, store.ErrBusy):
		return huma.Error503ServiceUnavailable("Too much is waiting to be written just now. Try again in a moment.")
	}
	slog.Error("api", "error", err)
	return huma.Error500InternalServerError("Something is in the way just now. Nothing was changed.")
}

// newEngine serves nothing: the description is read off it.
func newEngine() *gin.Engine {
	gin.SetMode(gin.ReleaseMode)
	return gin.New()
}
