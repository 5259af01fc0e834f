package studio

import (
	"strconv"

	"github.com/gin-gonic/gin"
)

func itoa(id uint) string { return strconv.FormatUint(uint64(id), 10) }

// number reads a whole number of 0 or more out of the address.
func number(c *gin.Context, name string) (int, bool) {
	n, err := strconv.Atoi(c.Param(name))
	return n, err == nil && n >= 0
}
