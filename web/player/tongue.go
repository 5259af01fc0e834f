package player

import (
	"embed"
	"encoding/json"
	"io/fs"
	"path"
	"regexp"
	"strconv"
	"strings"
	"unicode"
	"unicode/utf8"

	"golang.org/x/text/language"
	"golang.org/x/text/message"
	"golang.org/x/text/message/catalog"
	numbers "golang.org/x/text/number"

	"omphalos/core/program"
	"omphalos/core/quiz"
	"omphalos/core/saying"
)

// Respondents' pages speak the quiz's language. The words of each lie in a file of words/,
// named by its tag (BCP 47): what stands in English here, and what that is in it. Whoever can
// write a language adds a file.

//go:embed words/*.json
var wordFiles embed.FS

var spoken = readWords()

// A vocabulary is all languages.
type vocabulary struct {
	matcher  language.Matcher
	tags     []language.Tag
	catalog  catalog.Catalog
	words    map[language.Tag]map[string]string
	printers map[language.Tag]*message.Printer
}

func readWords() *vocabulary {
	builder := catalog.NewBuilder(catalog.Fallback(language.English))
	v := &vocabulary{tags: []language.Tag{language.English}, words: map[language.Tag]map[string]string{},
		printers: map[language.Tag]*message.Printer{}}
	files, err := fs.Glob(wordFiles, "words/*.json")
	if err != nil {
		panic("player: " + err.Error())
	}
	for _, file := range files {
		tag := language.MustParse(strings.TrimSuffix(path.Base(file), ".json"))
		data, err := wordFiles.ReadFile(file)
		if err != nil {
			panic("player: " + err.Error())
		}
		words := map[string]string{}
		if err := json.Unmarshal(data, &words); err != nil {
			panic("player: " + file + ": " + err.Error())
		}
		for english, said := range words {
			if err := builder.SetString(tag, english, said); err != nil {
				panic("player: " + file + ": " + err.Error())
			}
		}
		v.tags, v.words[tag] = append(v.tags, tag), words
	}
	v.catalog, v.matcher = builder, language.NewMatcher(v.tags)
	for _, tag := range v.tags {
		v.printers[tag] = message.NewPrinter(tag, message.Catalog(builder))
	}
	return v
}

// Languages returns those that respondents' pages speak by themselves (BCP 47).
func Languages() []string {
	var list []string
	for _, tag := range spoken.tags {
		list = append(list, tag.String())
	}
	return list
}

// A tongue is the language of a page, as the quiz says it (BCP 47); "" is English.
type tongue string

// known returns the language among those that are spoken here.
func (t tongue) known() language.Tag {
	tag, err := language.Parse(string(t))
	if err != nil {
		return language.English
	}
	_, at, sure := spoken.matcher.Match(tag)
	if sure < language.Low {
		return language.English
	}
	return spoken.tags[at]
}

// say says an English sentence, whose verbs are those of fmt, in the language; one that there
// are no words for stays as it is.
func (t tongue) say(english string, parts ...any) string {
	tag := t.known()
	if len(parts) > 0 {
		return t.apart(spoken.printers[tag].Sprintf(english, parts...))
	}
	if said, known := spoken.words[tag][english]; known {
		return said
	}
	return t.apart(english)
}

// apart keeps English words together within a text that is read from right to left, with
// their full stop at their end: between the marks of UAX #9 that isolate them.
func (t tongue) apart(words string) string {
	last, _ := utf8.DecodeLastRuneInString(words)
	if t.known() != language.English || t.direction() != "rtl" || !unicode.IsPunct(last) {
		return words
	}
	return "\u2066" + words + "\u2069"
}

// voice says what core says of a passage in the language, with figures and days as it writes
// them.
func (t tongue) voice() *saying.Voice {
	return saying.NewVoice(t.say, t.figures, t.date)
}

// Direction is that in which the language is written: "rtl", or "" for from left to right.
func (t tongue) direction() string { return quiz.Direction(string(t)) }

// Voice says our words in a quiz's language.
func Voice(q *quiz.Quiz) *saying.Voice {
	if q.Settings == nil {
		return tongue("").voice()
	}
	return tongue(q.Settings.Language).voice()
}

// scripted are the sentences that the script of the pages says.
var scripted = []string{
	"Not sent yet. Trying again.", "Try now",
	"Not asked any more:", "Asked further down:", "None of them holds these words.", "Found:",
	"Type to find yours",
	"Nothing in the list is called so. Choose from it, or leave this empty.",
	"Where you are is not known: choose by name", "You stay here.",
}

// script returns the words of the script as JSON, "" where they are its own.
func (t tongue) script() string {
	words := map[string]string{}
	for _, english := range scripted {
		if said := t.say(english); said != english {
			words[english] = said
		}
	}
	if len(words) == 0 {
		return ""
	}
	data, _ := json.Marshal(words) // a map of texts can always be written
	return string(data)
}

// refused says what is wrong with what was typed.
func (t tongue) refused(r *program.Refused) string {
	if r.Says != "" && t.known() != language.English {
		return t.say(r.Says, r.Parts...)
	}
	return t.apart(sentence(r.Message))
}

// sorry says that something could not be kept: in other languages without the reason.
func (t tongue) sorry(english string) string {
	if t.known() == language.English {
		return t.apart(english)
	}
	return t.say("Your answer could not be kept just now. It is still here: try again in a moment.")
}

// comma tells whether the language writes decimals behind a comma.
func (t tongue) comma() bool { return strings.Contains(t.figures("0.5"), ",") }

// number is one as it is written in English: with a point, and commas between thousands.
var number = regexp.MustCompile(`[0-9]+(?:,[0-9]{3})*(?:\.[0-9]+)?`)

// figures writes the numbers in a text as the language does, with as many decimals.
func (t tongue) figures(text string) string {
	tag := t.known()
	if tag == language.English {
		return text
	}
	return number.ReplaceAllStringFunc(text, func(english string) string {
		whole, decimals, _ := strings.Cut(strings.ReplaceAll(english, ",", ""), ".")
		if strings.HasPrefix(whole, "0") && len(whole) > 1 || len(whole) > 15 {
			return english // a code, and no amount
		}
		n, err := strconv.ParseFloat(whole+"."+decimals+"0", 64)
		if err != nil {
			return english
		}
		return spoken.printers[tag].Sprint(numbers.Decimal(n, numbers.Scale(len(decimals))))
	})
}
