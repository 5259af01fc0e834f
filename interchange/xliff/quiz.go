package xliff

import (
	"fmt"

	"golang.org/x/text/language"

	"omphalos/core/edit"
	"omphalos/core/quiz"
)

// Of returns what a quiz says, and what it says so in a language.
func Of(q *quiz.Quiz, in string) Document {
	d := Document{Title: q.Title, From: q.Language(), To: in}
	for _, t := range q.Texts() {
		said := q.Translations[in][t.At]
		d.Lines = append(d.Lines, Line{At: t.At, Words: t.Words, Said: said.Text, Done: said.Of == "" || said.Of == t.Words})
	}
	return d
}

// Taken is what a document changes of a quiz.
type Taken struct {
	Language string // a primary subtag
	Words    quiz.Translations
	Empty    int // texts that have no words in it
	Gone     int // texts that the quiz does not have any more
}

// Into returns what the document says that the quiz does not say yet. What was not touched by
// whoever had it stays as it is, out of date where it was. The error wraps ErrXLIFF where the
// languages are others than the quiz's.
func (d Document) Into(q *quiz.Quiz) (Taken, error) {
	t := Taken{Language: primary(d.To), Words: quiz.Translations{}}
	if from := primary(d.From); from != q.Language() {
		return t, fmt.Errorf("the file %w: it is translated from %s, and the quiz is written in %s", ErrXLIFF,
			quiz.LanguageName(d.From), quiz.LanguageName(q.Language()))
	}
	if t.Language == "" || t.Language == q.Language() {
		return t, fmt.Errorf("the file %w: it is translated into %q, and the quiz is written in %s", ErrXLIFF, d.To,
			quiz.LanguageName(q.Language()))
	}
	written := map[quiz.Pointer]string{}
	for _, text := range q.Texts() {
		written[text.At] = text.Words
	}
	for _, l := range d.Lines {
		words, there := written[l.At]
		kept := q.Translations[t.Language][l.At]
		of := l.Words
		if tidy(words) == of {
			of = words // with the space at its ends
		}
		switch {
		case !there && l.Said != "":
			t.Gone++
		case there && l.Said == "":
			t.Empty++
		case there && (l.Said != tidy(kept.Text) || l.Done && kept.Of != "" && of != kept.Of):
			t.Words[l.At] = quiz.Translated{Text: l.Said, Of: of}
		}
	}
	return t, nil
}

func primary(tag string) string {
	parsed, err := language.Parse(tag)
	if err != nil {
		return ""
	}
	base, _ := parsed.Base()
	return base.String()
}

// Ops are the edits of a quiz that say it; nil where there is nothing new.
func (t Taken) Ops(q *quiz.Quiz) []edit.Op {
	switch {
	case len(t.Words) == 0:
		return nil
	case q.Translations == nil:
		return []edit.Op{{Op: "add", Path: "/translations", Value: map[string]any{t.Language: t.Words}}}
	case q.Translations[t.Language] == nil:
		return []edit.Op{{Op: "add", Path: quiz.At("translations", t.Language), Value: t.Words}}
	}
	var ops []edit.Op
	for _, text := range q.Texts() {
		if said, there := t.Words[text.At]; there {
			ops = append(ops, edit.Op{Op: "add", Path: quiz.At("translations", t.Language, string(text.At)), Value: said})
		}
	}
	return ops
}

// Sentence says what was taken in, and what was not.
func (t Taken) Sentence() string {
	name := quiz.LanguageName(t.Language)
	said := "Nothing in the file is new in " + name + "."
	if n := len(t.Words); n > 0 {
		said = quiz.Count(n, "text") + " in " + name + " came in."
	}
	if t.Empty > 0 {
		said += " " + quiz.Count(t.Empty, "text") + " of the file " + has(t.Empty) + " no words yet."
	}
	if t.Gone > 0 {
		said += " " + quiz.Count(t.Gone, "text") + " of it " + has(t.Gone) + " no place in the quiz any more."
	}
	return said
}

func has(n int) string {
	if n == 1 {
		return "has"
	}
	return "have"
}
