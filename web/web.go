// Package web is the application as a browser sees it. Its rooms are the
// studio of the marketer, the player of the respondent and the stand-ins for
// services outside.
package web

import (
	"fmt"
	"net/http"
	"net/netip"
	"strings"

	"github.com/alexedwards/scs/v2"
	"github.com/gin-gonic/gin"

	"omphalos/store"
	"omphalos/web/assets"
	"omphalos/web/player"
	"omphalos/web/standin"
	"omphalos/web/studio"
)

// Options say what the application works with. With the zero value it knows no countries,
// limits nobody, and believes no proxy.
type Options struct {
	Countries func(netip.Addr) string // as player.Options
	Limits    player.Limits
	Proxies   []string        // addresses or ranges of proxies that say who a visitor is
	Ending    <-chan struct{} // closed when what never ends by itself must end; nil for never
}

// New returns the application over a workspace. It panics on proxies that are no addresses;
// CheckProxies tells so before.
func New(s *store.Store, with Options) http.Handler {
	gin.SetMode(gin.ReleaseMode)
	engine := gin.New()
	if err := engine.SetTrustedProxies(with.Proxies); err != nil {
		panic("web: " + err.Error())
	}
	sessions := scs.New()
	sessions.Store = s.Sessions()
	sessions.Cookie.Name = "omphalos"
	sessions.Cookie.SameSite = http.SameSiteLaxMode
	var wrong problems
	engine.HandleMethodNotAllowed = true
	engine.Use(logRequest, gin.CustomRecovery(func(c *gin.Context, err any) { wrong.ours(c, err) }), headers, limitBody(&wrong))
	engine.NoRoute(func(c *gin.Context) { wrong.notThere(c) })
	engine.NoMethod(func(c *gin.Context) { wrong.notAllowed(c) })
	engine.GET(assets.Prefix+"*file", func(c *gin.Context) {
		c.Writer.Header().Del("Cache-Control")
		assets.Handler().ServeHTTP(c.Writer, c.Request)
	})
	engine.GET("/pictures/:name", pictures(s))
	engine.GET("/", func(c *gin.Context) { c.Redirect(http.StatusSeeOther, "/studio") })

	engine.GET("/favicon.ico", func(c *gin.Context) { c.Redirect(http.StatusMovedPermanently, assets.Path("drawing-mark.svg")) })
	engine.GET("/robots.txt", func(c *gin.Context) { c.String(http.StatusOK, robots) })

	wrong.studio = studio.Mount(engine.Group("/studio"), s, sessions, with.Ending)
	wrong.player = player.Mount(engine, s, player.Options{Countries: with.Countries, Limits: with.Limits, Calendar: standin.Calendar{Store: s}})
	standin.Mount(engine.Group("/standin"))

	// CrossOriginProtection refuses changes that another site asks a browser for.
	protected := http.NewCrossOriginProtection()
	signedIn := sessions.LoadAndSave(engine)
	return protected.Handler(headed(http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		if strings.HasPrefix(r.URL.Path, "/studio") {
			signedIn.ServeHTTP(w, r)
			return
		}
		engine.ServeHTTP(w, r)
	})))
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
