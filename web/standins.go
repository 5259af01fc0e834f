package web

import (
	"net/http"

	"github.com/gin-gonic/gin"

	"omphalos/web/assets"
	"omphalos/web/standin"
)

// StandIns serves the pages of the stand-ins for services outside. They are for trying things
// and are served at an origin of their own.
func StandIns(of *standin.Services) http.Handler {
	gin.SetMode(gin.ReleaseMode)
	engine := gin.New()
	engine.Use(logRequest, gin.Recovery(), headers)
	engine.GET(assets.Prefix+"*file", asset)
	of.Mount(engine.Group("/standin"))
	return engine
}
