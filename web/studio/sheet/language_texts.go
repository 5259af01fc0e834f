package sheet

import (
	"fmt"
	"strings"

	"omphalos/core/quiz"
)

// A textPlace is texts that stand together: those of a question, of an outcome.
type textPlace struct {
	Name string
	At   string // where it stands on the sheet
	List []textLine
}

type textLine struct {
	quiz.Text
	What string // what it is: "help", "answer"
	Said string // in the other language
	Was  string // what Said was when the page was shown
	Old  string // what it was said of, where that is another by now
	Rows int
}

// texts are the texts of the quiz by place, with what they are in a language.
func (sh *Sheet) texts(in string, typed map[string]string) []textPlace {
	var list []textPlace
	words := sh.Doc.Translations[in]
	for _, t := range sh.Doc.Texts() {
		name, at := sh.placeOf(t.At)
		if len(list) == 0 || list[len(list)-1].Name != name {
			list = append(list, textPlace{Name: name, At: at})
		}
		line := textLine{Text: t, What: whatIs(t.At), Said: words[t.At].Text, Was: words[t.At].Text}
		if of := words[t.At].Of; of != "" && of != t.Words {
			line.Old = of
		}
		if said, is := typed[string(t.At)]; is {
			line.Said = said
		}
		line.Rows = 1 + min(len(t.Words)/60+strings.Count(t.Words, "\n"), 8)
		place := &list[len(list)-1]
		place.List = append(place.List, line)
	}
	return list
}

// placeOf names what a text belongs to, and says where that stands on the sheet.
func (sh *Sheet) placeOf(at quiz.Pointer) (name, jump string) {
	keys := at.Keys()
	jump = "#" + sh.Jump(at)
	switch {
	case at.Fits("/questions/*/**"):
		return sh.Where(quiz.At("questions", keys[1])), jump
	case at.Fits("/outcomes/*/**"):
		return fmt.Sprintf("%s: %s", sh.Where(at), sh.Doc.Outcomes[keys[1]].Name), jump
	case keys[0] == "look":
		return "Where it is shared", jump
	case keys[0] == "settings":
		return "Buttons", jump
	case keys[0] == "scales":
		return "Scores", jump
	case keys[0] == "title":
		return "Quiz", jump
	}
	return sh.Where(at), jump
}

// whats are what texts are, by the form of their places.
var whats = []struct{ form, what string }{
	{"/title", "title"},
	{"/questions/*/answers/*/label", "answer"},
	{"/questions/*/answers/*/note", "line below the answer"},
	{"/questions/*/rows/*/label", "row"},
	{"/questions/*/label", "question"},
	{"/contact/fields/*/label", "field"},
	{"/scales/*/name", "name of the score"},
	{"/scales/*/fees/*/name", "line of the bill"},
}

// fieldWords are what texts are by the last part of their place.
var fieldWords = map[string]string{
	"heading": "heading", "text": "text", "button": "button", "help": "help", "note": "note", "reason": "why it is right",
	"unit": "unit", "lowWords": "at the low end", "highWords": "at the high end", "headline": "headline",
	"label": "words on it",
	"title": "title", "subject": "subject", "next": "going on", "back": "going back", "finish": "going on at the end",
}

func whatIs(at quiz.Pointer) string {
	if strings.HasSuffix(string(at), "/picture/description") {
		return "what the picture shows"
	}
	for _, w := range whats {
		if at.Fits(w.form) {
			return w.what
		}
	}
	return fieldWords[at.Key()]
}
