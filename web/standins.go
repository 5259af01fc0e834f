package web

import (
	"net/http"

	"github.com/gin-gonic/gin"

	"omphalos/web/assets"
	"omphalos/web/standin"
)

// StandIns returns the stand-ins for services outside, as such services would see the
// application that is at home ("http://127.0.0.1:8642"). They are for trying things and are
// served at an origin of their own.
func StandIns(home string) http.Handler {
	gin.SetMode(gin.ReleaseMode)
	engine := gin.New()
	engine.Use(logRequest, gin.Recovery(), headers)
	engine.GET(assets.Prefix+"*file", asset)
	standin.Mount(engine.Group("/standin"), home)
	return engine
}
