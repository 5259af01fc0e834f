// Package web is the application as a browser sees it. Its rooms are the
// studio of the marketer, the player of the respondent and the stand-ins for
// services outside.
package web

import (
	"context"
	"fmt"
	"net/http"
	"net/netip"
	"net/url"
	"slices"
	"strings"
	"time"

	"github.com/alexedwards/scs/v2"
	"github.com/gin-gonic/gin"

	"omphalos/outbox"
	"omphalos/store"
	"omphalos/web/api"
	"omphalos/web/assets"
	"omphalos/web/player"
	"omphalos/web/studio"
	"omphalos/web/studio/desk"
	"omphalos/web/ui"
)

// Options say what the application works with. With the zero value it knows no countries,
// limits nobody, and believes no proxy.
type Options struct {
	Countries func(netip.Addr) string // as player.Options
	Limits    player.Limits
	Proxies   []string        // addresses or ranges of proxies that say who a visitor is
	Public    string          // own address, "https://quiz.example.org"; "" for the one that is asked
	Security  string          // where security problems are told (RFC 9116), "mailto:…" or "https://…"; "" for none
	Idle      time.Duration   // after which a session ends in which nobody did anything; 0 for 12 hours
	Outbox    *outbox.Worker  // what sends; nil where nothing goes out
	Reaches   outbox.Reach    // where calls and mail may go
	StandIns  string          // address of the stand-ins, "" where there are none
	Ending    <-chan struct{} // closed when what never ends by itself must end; nil for never
	Parts     bool            // there is a page of the parts that rooms are built from, for those who build them
	Sources   string          // folder from which templates and assets come as they are saved; "" for those built in
}

// New returns the application over a workspace. It panics on proxies that are no addresses;
// CheckProxies tells so before.
func New(s *store.Store, with Options) http.Handler {
	gin.SetMode(gin.ReleaseMode)
	engine := gin.New()
	if with.Sources != "" {
		ui.Develop(with.Sources)
		engine.GET("/develop/changes", changes(with.Sources))
	}
	if err := engine.SetTrustedProxies(with.Proxies); err != nil {
		panic("web: " + err.Error())
	}
	sessions := scs.New()
	sessions.Store = s.People.Sessions(context.Background())
	sessions.Cookie.Name = "omphalos"
	sessions.Cookie.SameSite = http.SameSiteLaxMode
	sessions.Cookie.Secure = strings.HasPrefix(with.Public, "https://")
	sessions.HashTokenInStore = true
	var wrong problems
	engine.HandleMethodNotAllowed = true
	engine.Use(logRequest, gin.CustomRecoveryWithWriter(nil, func(c *gin.Context, err any) {
		wrong.ours(c, err)
	}), headers)
	engine.NoRoute(func(c *gin.Context) { wrong.notThere(c) })
	engine.NoMethod(func(c *gin.Context) { wrong.notAllowed(c) })
	engine.GET(assets.Prefix+"*file", asset)
	engine.GET("/pictures/:name", pictures(s))
	engine.GET("/", func(c *gin.Context) { c.Redirect(http.StatusSeeOther, "/studio") })

	engine.GET(
		"/favicon.ico",
		func(c *gin.Context) { c.Redirect(http.StatusMovedPermanently, assets.Path("drawing-mark.svg")) },
	)
	engine.GET("/robots.txt", func(c *gin.Context) { c.String(http.StatusOK, robots) })

	health(engine, s)
	api.Mount(engine, s, api.Options{Public: with.Public, Outbox: with.Outbox})
	if with.Security != "" {
		engine.GET("/.well-known/security.txt", securityTxt(with))
	}

	told, member := studio.Mount(
		engine.Group("/studio"),
		s,
		sessions,
		desk.Options{
			Public:   with.Public,
			Idle:     with.Idle,
			StandIns: with.StandIns,
			Outbox:   with.Outbox,
			Ending:   with.Ending,
			Lost:     with.Countries == nil,
			Parts:    with.Parts || with.Sources != "",
		},
	)
	wrong.studio = told
	wrong.player = player.Mount(
		engine,
		s,
		player.Options{
			Countries: with.Countries,
			Limits:    with.Limits,
			Public:    with.Public,
			Member:    member,
		},
	)

	// CrossOriginProtection refuses changes that another site asks a browser for.
	protected := http.NewCrossOriginProtection()
	signedIn, public := sessions.LoadAndSave(engine), packed(engine)
	return believing(
		with.Proxies,
		protected.Handler(headed(http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
			if sessions.Cookie.Secure {
				w.Header().Set("Strict-Transport-Security", "max-age=31536000")
			}
			if strings.HasPrefix(r.URL.Path, "/studio") {
				signedIn.ServeHTTP(w, r)
				return
			}
			public.ServeHTTP(w, r)
		}))),
	)
}

// believing takes what a request says of where it came from, and how, from proxies only.
func believing(proxies []string, next http.Handler) http.Handler {
	var ranges []netip.Prefix
	for _, p := range proxies {
		if at, err := netip.ParseAddr(p); err == nil {
			ranges = append(ranges, netip.PrefixFrom(at, at.BitLen()))
		} else if r, err := netip.ParsePrefix(p); err == nil {
			ranges = append(ranges, r)
		}
	}
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		from, _ := netip.ParseAddrPort(r.RemoteAddr)
		if !slices.ContainsFunc(ranges, func(p netip.Prefix) bool { return p.Contains(from.Addr().Unmap()) }) {
			for _, name := range []string{"X-Forwarded-For", "X-Forwarded-Proto", "X-Forwarded-Host", "X-Real-Ip", "Forwarded"} {
				r.Header.Del(name)
			}
		}
		next.ServeHTTP(w, r)
	})
}

// asset sends a file that ships with the application.
func asset(c *gin.Context) {
	c.Writer.Header().Del("Cache-Control")
	assets.Handler().ServeHTTP(c.Writer, c.Request)
}

// CheckPublic tells whether an address can be the application's: a scheme and a host, and
// nothing behind.
func CheckPublic(address string) error {
	u, err := url.Parse(address)
	if err != nil || u.Scheme != "https" && u.Scheme != "http" || u.Host == "" ||
		strings.TrimSuffix(address, "/") != u.Scheme+"://"+u.Host {
		return fmt.Errorf("the address %q is not one such as https://quiz.example.org", address)
	}
	return nil
}

// CheckProxies tells whether proxies are addresses or ranges of them.
func CheckProxies(list []string) error {
	for _, p := range list {
		_, wrong := netip.ParseAddr(p)
		if _, notRange := netip.ParsePrefix(p); wrong != nil && notRange != nil {
			return fmt.Errorf("the proxy %q is neither an address nor a range such as 10.0.0.0/8", p)
		}
	}
	return nil
}
