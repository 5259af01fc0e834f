package learn

import (
	"cmp"
	"net/http"
	"net/url"
	"slices"
	"strings"
	"time"
	"unicode"
	"unicode/utf8"

	"github.com/gin-gonic/gin"
	"github.com/rivo/uniseg"
	"golang.org/x/text/cases"

	"omphalos/core/quiz"
	"omphalos/store"
	"omphalos/web/studio/desk"
)

// What respondents wrote: answers in words, and own words beside an answer. It is read from
// the newest responses of the slice; words are counted by how many have written them.

const (
	mostRead    = 20_000 // responses
	mostTexts   = 200    // shown at once
	mostWords   = 40
	mostCounted = 100_000 // words that are told apart
)

type wordsPage struct {
	desk.Frame
	Back, Address string
	Hidden        []desk.Hidden
	Number, Label string
	Search        string
	Count, Found  int // texts, and those that are searched for
	Texts         []written
	Words         []wordCount
}

// Something written in a response.
type written struct {
	Number  int
	When    time.Time
	Text    string
	Address string
}

// A wordCount is how many have written a word.
type wordCount struct {
	Word    string
	Count   int
	Width   float64
	Address string // of those who have
	Chosen  bool
}

// asksWords tells whether something is written to a question.
func asksWords(asked *quiz.Question) bool {
	if asked.Kind == quiz.ShortText || asked.Kind == quiz.LongText {
		return true
	}
	for _, a := range asked.Answers {
		if a.WriteIn {
			return true
		}
	}
	return false
}

// words shows what was written to a question.
func (s *Room) words(c *gin.Context) {
	z, in, ok := s.sliced(c)
	if !ok {
		return
	}
	key := c.Param("question")
	asked := in.pool.Quiz.Questions[key]
	if asked == nil || !asksWords(asked) {
		s.Fail(c, store.ErrNotFound)
		return
	}
	page := wordsPage{
		Frame: s.Frame(c, z.Title, "learn", z), Back: in.slice.at(in.slice.clone()) + "#q-" + key,
		Hidden: in.slice.hide(), Label: asked.Label, Search: strings.TrimSpace(c.Query("words")),
		Address: in.slice.address + "/words/" + key,
	}
	counts, fold := map[string]int{}, cases.Fold()
	searched := fold.String(page.Search)
	err := s.Store.Responses.NewestOf(c.Request.Context(), z.ID, in.slice.All(), mostRead, func(r *store.Response) error {
		said := false // words stand beside several answers of responses that were kept earlier
		for _, a := range r.Answers {
			text := a.WriteIn
			if text == "" && !asked.Kind.HasAnswers() {
				text = a.Answer
			}
			if a.Question != key || text == "" || said {
				continue
			}
			said = true
			page.Count++
			folded := fold.String(text)
			for word := range wordsOf(folded) {
				if counts[word] > 0 || len(counts) < mostCounted {
					counts[word]++
				}
			}
			if strings.Contains(folded, searched) {
				page.Found++
				page.Texts = append(page.Texts, written{r.Number, r.Finished, strings.Clone(text), in.slice.of(r.Number)})
			}
		}
		if len(page.Texts) > 2*mostTexts {
			page.Texts = slices.Delete(page.Texts, 0, len(page.Texts)-mostTexts)
		}
		return nil
	})
	if err != nil {
		s.Fail(c, err)
		return
	}
	page.Texts = page.Texts[max(0, len(page.Texts)-mostTexts):]
	slices.Reverse(page.Texts)
	page.count(counts, searched, in.slice.clone())
	s.Show(c, http.StatusOK, "words", page)
}

// count puts the words that most have written into the page.
func (p *wordsPage) count(counts map[string]int, searched string, fields url.Values) {
	for word, n := range counts {
		p.Words = append(p.Words, wordCount{Word: word, Count: n})
	}
	slices.SortFunc(p.Words, func(a, b wordCount) int { return cmp.Or(b.Count-a.Count, strings.Compare(a.Word, b.Word)) })
	p.Words = p.Words[:min(len(p.Words), mostWords)]
	for i := range p.Words {
		w := &p.Words[i]
		w.Width = 100 * part(w.Count, p.Words[0].Count)
		w.Chosen = w.Word == searched
		if fields.Del("words"); !w.Chosen {
			fields.Set("words", w.Word)
		}
		w.Address = p.Address + "?" + fields.Encode()
	}
}

// fewestLetters is how long a word is at least that says something, in scripts of letters.
const fewestLetters = 4

// wordsOf are the words of a text (Unicode Standard Annex 29) that may say something, each
// once.
func wordsOf(text string) map[string]bool {
	words, state, word := map[string]bool{}, -1, ""
	for text != "" {
		word, text, state = uniseg.FirstWordInString(text, state)
		first, _ := utf8.DecodeRuneInString(word)
		switch {
		case !unicode.IsLetter(first):
		case utf8.RuneCountInString(word) >= fewestLetters, unicode.In(first, unicode.Han, unicode.Hiragana,
			unicode.Katakana, unicode.Hangul):
			words[word] = true
		}
	}
	return words
}
