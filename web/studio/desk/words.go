package desk

import (
	"cmp"
	"strconv"
	"strings"

	"github.com/gin-gonic/gin"

	"omphalos/core/quiz"
	"omphalos/store"
)

// SentenceOf makes a sentence of a message, which may begin with what its
// place does: "has 5000 characters".
func SentenceOf(s string) string {
	first, _, _ := strings.Cut(s, " ")
	switch first {
	case "is", "has", "must", "needs", "asks", "leads", "adds", "names", "holds", "measures", "stands", "shows":
		s = "This " + s
	case "":
		return s
	}
	s = strings.ToUpper(s[:1]) + s[1:]
	if !strings.HasSuffix(s, ".") {
		s += "."
	}
	return s
}

// Quoted puts words in quotation marks, or the key where there are none.
func Quoted(words, key string) string { return "“" + cmp.Or(strings.TrimSpace(words), key) + "”" }

// Itoa writes a number of the store.
func Itoa(id uint) string { return strconv.FormatUint(uint64(id), 10) }

// Number reads a whole number of 0 or more out of the address.
func Number(c *gin.Context, name string) (int, bool) {
	n, err := strconv.Atoi(c.Param(name))
	return n, err == nil && n >= 0
}

// Title reads a quiz's title out of a form and says what is wrong with it.
func Title(c *gin.Context) (words, wrong string) {
	words = strings.TrimSpace(c.PostForm("title"))
	switch n := len([]rune(words)); {
	case n == 0:
		return words, "Give the quiz a title first."
	case n > quiz.MaxTitle:
		return words, "This title is too long for a list: shorten it to 200 characters at most."
	}
	return words, ""
}

// Address returns the address of a quiz's sheet.
func Address(z *store.Quiz) string { return "/studio/quizzes/" + Itoa(z.ID) }
