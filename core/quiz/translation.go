package quiz

import (
	"maps"
	"slices"

	"golang.org/x/text/language"
	"golang.org/x/text/language/display"
)

// Translations are the texts of a quiz in another language, each by its pointer
// ("/questions/crop/label"). What is not among them is shown as it was written; what stood
// at a place that is not there any more waits for its return.
type Translations map[Pointer]Translated

// Translated is a text in another language, and the words that it says so: where those are
// others by now, it may be out of date.
type Translated struct {
	Text string `json:"text"`
	Of   string `json:"of,omitempty"`
}

// A Text is what respondents read at one place of a quiz.
type Text struct {
	At    Pointer
	Words string
	Long  bool // Markdown, of several lines
}

// MostLanguages is in how many others than its own a quiz can be.
const MostLanguages = 24

// Texts returns all that respondents read, that is not empty, in the order in which they come
// by it.
func (q *Quiz) Texts() []Text {
	var list []Text
	q.eachText(func(at Pointer, text *string, long bool) {
		if *text != "" {
			list = append(list, Text{at, *text, long})
		}
	})
	return list
}

// Language returns the language in which the quiz was written: a primary subtag of BCP 47.
func (q *Quiz) Language() string {
	if s := q.Settings; s != nil && s.Language != "" {
		if tag, err := language.Parse(s.Language); err == nil {
			return primary(tag)
		}
	}
	return "en"
}

// LanguageName is what a language is called in English: "German" for "de".
func LanguageName(in string) string {
	tag, err := language.Parse(in)
	if err != nil {
		return in
	}
	return display.English.Languages().Name(tag)
}

func primary(tag language.Tag) string {
	base, _ := tag.Base()
	return base.String()
}

// Languages returns all languages that the quiz is in, the one in which it was written first.
func (q *Quiz) Languages() []string {
	return append([]string{q.Language()}, slices.Sorted(maps.Keys(q.Translations))...)
}

// In returns the quiz as it is asked in one of its languages, without those that it is in
// beside that; itself where it is in no such language. All keys stay as they are, and so does
// what it computes.
func (q *Quiz) In(language string) *Quiz {
	words := q.Translations[language]
	if words == nil {
		return q
	}
	in, err := Read(q.Write())
	if err != nil {
		panic("quiz: copying a document: " + err.Error()) // Write writes what can be read
	}
	in.eachText(func(at Pointer, text *string, _ bool) {
		if t := words[at]; *text != "" && t.Text != "" {
			*text = t.Text
		}
	})
	if in.Settings == nil {
		in.Settings = new(Settings)
	}
	in.Settings.Language, in.Translations = language, nil
	return in
}

// eachText gives every place at which a text can stand that respondents read.
func (q *Quiz) eachText(give func(at Pointer, text *string, long bool)) {
	line := func(at Pointer, text *string) { give(at, text, false) }
	long := func(at Pointer, text *string) { give(at, text, true) }
	picture := func(at Pointer, p *Picture) {
		if p != nil {
			line(at+"/picture/description", &p.Description)
		}
	}
	blocks := func(at Pointer, list map[string]*Block) {
		for _, key := range InOrder(list) {
			b, here := list[key], at.Join(key)
			long(here+"/text", &b.Text)
			picture(here, b.Picture)
			line(here+"/label", &b.Label)
		}
	}
	question := func(at Pointer, asked *Question) {
		line(at+"/label", &asked.Label)
		long(at+"/help", &asked.Help)
		picture(at, asked.Picture)
		for _, key := range InOrder(asked.Answers) {
			a, here := asked.Answers[key], at.Join("answers", key)
			line(here+"/label", &a.Label)
			line(here+"/note", &a.Note)
			picture(here, a.Picture)
		}
		for _, key := range InOrder(asked.Rows) {
			line(at.Join("rows", key, "label"), &asked.Rows[key].Label)
		}
		if l := asked.Limits; l != nil {
			line(at+"/limits/unit", &l.Unit)
			line(at+"/limits/lowWords", &l.LowWords)
			line(at+"/limits/highWords", &l.HighWords)
		}
		long(at+"/reason", &asked.Reason)
	}
	line("/title", &q.Title)
	if o := q.Opening; o != nil {
		line("/opening/heading", &o.Heading)
		long("/opening/text", &o.Text)
		picture("/opening", o.Picture)
		line("/opening/button", &o.Button)
	}
	if q.Look != nil && q.Look.Shared != nil {
		line("/look/shared/title", &q.Look.Shared.Title)
		long("/look/shared/text", &q.Look.Shared.Text)
	}
	in := ""
	for _, key := range q.QuestionKeys() {
		asked := q.Questions[key]
		if s := q.Sections[asked.Section]; s != nil && asked.Section != in {
			in = asked.Section
			line(At("sections", in, "heading"), &s.Heading)
			long(At("sections", in, "text"), &s.Text)
			picture(At("sections", in), s.Picture)
		}
		question(At("questions", key), asked)
	}
	if s := q.Settings; s != nil {
		line("/settings/next", &s.Next)
		line("/settings/back", &s.Back)
		line("/settings/finish", &s.Finish)
	}
	if c := q.Contact; c != nil {
		line("/contact/heading", &c.Heading)
		long("/contact/text", &c.Text)
		for _, key := range InOrder(c.Fields) {
			question(At("contact", "fields", key), c.Fields[key])
		}
		line("/contact/button", &c.Button)
	}
	for _, key := range InOrder(q.Outcomes) {
		o, at := q.Outcomes[key], At("outcomes", key)
		line(at+"/headline", &o.Headline)
		long(at+"/text", &o.Text)
		picture(at, o.Picture)
		if o.Shared != nil {
			line(at+"/shared/title", &o.Shared.Title)
			long(at+"/shared/text", &o.Shared.Text)
		}
		for _, landing := range InOrder(o.Landings) {
			blocks(at.Join("landings", landing, "blocks"), o.Landings[landing].Blocks)
		}
	}
	for _, key := range InOrder(q.Scales) {
		s, at := q.Scales[key], At("scales", key)
		line(at+"/name", &s.Name)
		line(at+"/unit", &s.Unit)
		for _, fee := range InOrder(s.Fees) {
			line(at.Join("fees", fee, "name"), &s.Fees[fee].Name)
		}
	}
	for _, key := range InOrder(q.FollowUps) {
		if f := q.FollowUps[key]; f.Kind == MailFollowUp {
			line(At("followUps", key, "subject"), &f.Subject)
			blocks(At("followUps", key, "blocks"), f.Blocks)
		}
	}
}

// Gaps counts the texts of the quiz that a language has no words for, and those whose words
// were written for others than stand there now.
func (q *Quiz) Gaps(language string) (missing, old int) {
	words := q.Translations[language]
	for _, t := range q.Texts() {
		switch said := words[t.At]; {
		case said.Text == "":
			missing++
		case said.Of != "" && said.Of != t.Words:
			old++
		}
	}
	return missing, old
}

// translations checks the languages of a quiz and what is said in them.
func (c *checker) translations() {
	if n := len(c.q.Translations); n > MostLanguages {
		c.refuse("many", "/translations", "there-are-languages-at-most", n, MostLanguages)
	}
	if len(c.q.Translations) == 0 {
		return
	}
	long := map[Pointer]bool{}
	c.q.eachText(func(at Pointer, _ *string, is bool) { long[at] = is })
	for _, in := range slices.Sorted(maps.Keys(c.q.Translations)) {
		at := At("translations", in)
		if tag, err := language.Parse(in); err != nil || primary(tag) != in {
			c.refuse("language", at, "is-not-a-primary-language", clip(in))
		}
		if in == c.q.Language() {
			c.note("language", at, "is-what-it-was-written-in")
		}
		for _, place := range slices.Sorted(maps.Keys(c.q.Translations[in])) {
			t, here := c.q.Translations[in][place], at.Join(string(place))
			c.text(here+"/of", t.Of, MaxText)
			switch isLong, there := long[place]; {
			case !there, isLong:
				c.text(here+"/text", t.Text, MaxText)
			default:
				c.text(here+"/text", t.Text, MaxLabel)
			}
			if _, there := long[place]; there {
				c.fillins(here+"/text", t.Text, MaxText)
			}
		}
	}
}
