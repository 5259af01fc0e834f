package player

import (
	"os"
	"path/filepath"
	"regexp"
	"slices"
	"sync"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"omphalos/core/passage"
	"omphalos/core/program"
	"omphalos/core/quiz"
	"omphalos/outbox"
)

// Every sentence that the pages say is in every language, with the same parts in the same
// order, and none is there that nothing says.
func TestEveryLanguageSaysEverything(t *testing.T) {
	said := map[string]bool{}
	for _, sentence := range slices.Concat(program.Sentences(), passage.Sayings(), quiz.Clauses(),
		outbox.Sayings(), scripted) {
		said[sentence] = true
	}
	broken, continued := regexp.MustCompile(`\s+`), regexp.MustCompile(`" ?\+ ?"`) // a sentence over several lines
	literal := `"((?:[^"\\\\]|\\\\.)+)"`
	for pattern, form := range map[string]string{
		"*.html": `Say ` + literal,
		"*.go": `(?:say|Say|words, parts =|words =)\(? ?` + literal + `|newProblem\(r, ` + literal + `(?:,\s*` +
			literal + `)?|gate\.[A-Z][a-z]+: +\{` + literal + `, ` + literal + `\}|text :?= ` + literal,
	} {
		files, err := filepath.Glob(pattern)
		require.NoError(t, err)
		for _, file := range files {
			if file == "tongue_test.go" {
				continue
			}
			source, err := os.ReadFile(file)
			require.NoError(t, err)
			text := continued.ReplaceAllString(broken.ReplaceAllString(string(source), " "), "")
			for _, m := range regexp.MustCompile(form).FindAllStringSubmatch(text, -1) {
				for _, sentence := range m[1:] {
					if sentence != "" {
						said[sentence] = true
					}
				}
			}
		}
	}
	for _, ending := range []string{"Choose %d", "Choose %d to %d", "Choose at least %d"} { // put together
		delete(said, ending)
		said[ending+"."], said[ending+", or none."] = true, true
	}
	require.Len(t, spoken.words, 7, "beside English")
	verbs := regexp.MustCompile(`%[a-z]`)
	for tag, words := range spoken.words {
		for english, translated := range words {
			assert.True(t, said[english], "%s: nothing says %q", tag, english)
			assert.NotEmpty(t, translated)
			assert.Equal(t, verbs.FindAllString(english, -1), verbs.FindAllString(translated, -1), "%s: %q", tag, english)
		}
	}
	for _, sentence := range []string{"Next", "Choose", "That is right.", "This is needed.",
		"This quiz is over", "Choose up to %d."} {
		require.True(t, said[sentence], "the source was read: %q", sentence)
	}
	for _, list := range spoken.words {
		for sentence := range said {
			_, there := list[sentence]
			assert.True(t, there, "there are no words for %q", sentence)
		}
	}
}

// The script says what comes with the page in its language, all of that, and nothing else.
func TestTheScriptSpeaksTheLanguage(t *testing.T) {
	files, err := filepath.Glob("../assets/src/player/*.js")
	require.NoError(t, err)
	var says []string
	own := regexp.MustCompile("(?:textContent|placeholder|title|aria-label\"?)\\s*[:=]\\s*[\"'`][^\"'`]*\\pL{2}")
	for _, file := range append(files, "../assets/src/player.js") {
		source, err := os.ReadFile(file)
		require.NoError(t, err)
		for _, m := range regexp.MustCompile(`say\(\s*"([^"]+)"`).FindAllStringSubmatch(string(source), -1) {
			says = append(says, m[1])
		}
		assert.Empty(t, own.FindAllString(string(source), -1), "%s has words of its own", file)
	}
	assert.ElementsMatch(t, scripted, says)
}

func TestTongues(t *testing.T) {
	for tag, want := range map[tongue]string{"": "Next", "en-GB": "Next", "de": "Weiter", "de-AT": "Weiter",
		"pt-BR": "Seguinte", "xx": "Next", "not a tag": "Next", "ja": "Next", "ar": "Next"} {
		assert.Equal(t, want, tag.say("Next"), tag)
	}
	assert.Equal(t, "Wählen Sie 2 bis 3 aus.", tongue("de").say("Choose %d to %d.", 2, 3))
	assert.Equal(t, "Something else at 100 %", tongue("de").say("Something else at 100 %"), "what there are no words for")
	for text, want := range map[string]string{"€ 1,234.50": "€ 1.234,50", "12 of 30": "12 of 30",
		"3 × 12.35": "3 × 12,35", "2.9 % + 0.30": "2,9 % + 0,30", "007": "007", "−1.5": "−1,5"} {
		assert.Equal(t, want, tongue("de").figures(text))
		assert.Equal(t, text, tongue("en").figures(text))
	}
	assert.Equal(t, "rtl", tongue("ar").direction())
	assert.Equal(t, "rtl", tongue("he-IL").direction())
	assert.Empty(t, tongue("de").direction())
	assert.Empty(t, tongue("").script())
	assert.Contains(t, tongue("fr").script(), "Vous restez ici.")
}

// Many pages speak at once.
func TestTonguesAtOnce(t *testing.T) {
	t.Parallel()
	want := tongue("de").figures("1,234.50") + tongue("pl").say("Choose at most %d answers.", 2)
	var all sync.WaitGroup
	for range 8 {
		all.Go(func() {
			for range 200 {
				assert.Equal(t, want, tongue("de").figures("1,234.50")+tongue("pl").say("Choose at most %d answers.", 2))
			}
		})
	}
	all.Wait()
}
