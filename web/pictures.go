package web

import (
	"net/http"

	"github.com/gin-gonic/gin"

	"omphalos/store"
)

// pictures shows pictures by their names, which change with what they hold.
func pictures(s *store.Store) gin.HandlerFunc {
	return func(c *gin.Context) {
		p, err := s.Definitions.Picture(c.Request.Context(), c.Param("name"))
		if err != nil {
			c.AbortWithStatus(http.StatusNotFound)
			return
		}
		c.Header("Cache-Control", "public, max-age=31536000, immutable")
		c.Data(http.StatusOK, p.Type, p.Data)
	}
}
