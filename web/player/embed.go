package player

import (
	"net/http"

	"github.com/gin-gonic/gin"

	"omphalos/web/assets"
)

// embedScript sends the script that puts a quiz into another page. Its address stays the
// same, so browsers ask for it again after some minutes.
func embedScript(c *gin.Context) {
	c.Header("Cache-Control", "public, max-age=300")
	c.Header("Cross-Origin-Resource-Policy", "cross-origin")
	if !assets.Send(c.Writer, c.Request, "embed.js") {
		c.AbortWithStatus(http.StatusNotFound)
	}
}
