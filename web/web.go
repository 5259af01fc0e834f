// Package web is the application as a browser sees it. Its rooms are the
// studio of the marketer, the player of the respondent and the stand-ins for
// services outside.
package web

import (
	"net/http"
	"strings"

	"github.com/alexedwards/scs/v2"
	"github.com/gin-gonic/gin"

	"omphalos/store"
	"omphalos/web/assets"
	"omphalos/web/player"
	"omphalos/web/standin"
	"omphalos/web/studio"
)

// New returns the application over a workspace.
func New(s *store.Store) http.Handler {
	gin.SetMode(gin.ReleaseMode)
	engine := gin.New()
	engine.Use(logRequest, gin.Recovery(), headers, limitBody)
	engine.GET(assets.Prefix+"*file", func(c *gin.Context) {
		c.Writer.Header().Del("Cache-Control")
		assets.Handler().ServeHTTP(c.Writer, c.Request)
	})
	engine.GET("/pictures/:name", pictures(s))
	engine.GET("/", func(c *gin.Context) { c.Redirect(http.StatusSeeOther, "/studio") })

	sessions := scs.New()
	sessions.Store = s.Sessions()
	sessions.Cookie.Name = "omphalos"
	sessions.Cookie.SameSite = http.SameSiteLaxMode
	studio.Mount(engine.Group("/studio"), s, sessions)
	player.Mount(engine, s)
	standin.Mount(engine.Group("/standin"))

	// CrossOriginProtection refuses changes that another site asks a browser for.
	protected := http.NewCrossOriginProtection()
	signedIn := sessions.LoadAndSave(engine)
	return protected.Handler(http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		if strings.HasPrefix(r.URL.Path, "/studio") {
			signedIn.ServeHTTP(w, r)
			return
		}
		engine.ServeHTTP(w, r)
	}))
}
