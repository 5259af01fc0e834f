package xliff_test

import (
	"bytes"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"omphalos/core/quiz"
	"omphalos/core/quiztest"
	"omphalos/interchange/xliff"
)

func written(t require.TestingT, d xliff.Document) string {
	var b bytes.Buffer
	require.NoError(t, xliff.Write(&b, d))
	return b.String()
}

var orchard = xliff.Document{Title: "Your orchard", From: "en", To: "de", Lines: []xliff.Line{
	{At: "/title", Words: "Your orchard", Said: "Ihr Obstgarten", Done: true, About: "Quiz: title"},
	{At: "/questions/crop/label", Words: "You, {name}, grow {crop} & {crop}?", Said: "{crop} und {crop}, {name}?", Done: true},
	{At: "/questions/crop/help", Words: "Two lines:\n\n- <one>\n- two"},
	{At: "/outcomes/hot/text", Words: "Call us", Said: "Rufen Sie an", Done: false},
}}

// What is filled in is a placeholder, what may be out of date is not done, and all comes back.
func TestWhatIsWritten(t *testing.T) {
	text := written(t, orchard)
	for _, part := range []string{
		`<xliff xmlns="urn:oasis:names:tc:xliff:document:2.0" version="2.1" srcLang="en" trgLang="de">`,
		`<unit id="questions.crop.label"><originalData><data id="d1">{name}</data><data id="d2">{crop}</data></originalData>`,
		`grow <ph id="2" dataRef="d2" equiv="{crop}"/> &amp; <ph id="2-2" dataRef="d2" equiv="{crop}"/>?</source>`,
		`<note>Quiz: title</note>`, `<segment state="initial"><source xml:space="preserve">Two lines:`,
		`<segment state="initial"><source xml:space="preserve">Call us</source><target`,
	} {
		assert.Contains(t, text, part)
	}
	got, err := xliff.Read([]byte(text))
	require.NoError(t, err)
	want := orchard
	want.Title, want.Lines = "", nil
	for _, l := range orchard.Lines {
		l.About = ""
		want.Lines = append(want.Lines, l)
	}
	assert.Equal(t, want, got)
}

// Any text comes back as it was, but for space at its ends.
func TestAnyTextComesBack(t *testing.T) {
	texts := rapid.StringOf(rapid.OneOf(rapid.RuneFrom([]rune("ab {}crop.<>&'\"]]>\n\t|\x01\x1f\uFFFE")), rapid.Rune()))
	rapid.Check(t, func(t *rapid.T) {
		l := xliff.Line{At: "/questions/crop/help", Words: texts.Draw(t, "words"), Said: texts.Draw(t, "said")}
		for _, text := range []*string{&l.Words, &l.Said} {
			*text = strings.TrimSpace(strings.ReplaceAll(strings.ToValidUTF8(*text, ""), "\r", ""))
		}
		got, err := xliff.Read([]byte(written(t, xliff.Document{From: "en", To: "ar", Lines: []xliff.Line{l}})))
		require.NoError(t, err)
		l.Done = got.Lines[0].Done
		assert.Equal(t, []xliff.Line{l}, got.Lines)
	})
}

// What tools make of a unit: segments, text between them, another order, marks, codes in pairs
// (from the rules of XLIFF 2.1, §4.2; common practice of tools, no source).
func TestWhatToolsSend(t *testing.T) {
	in := func(unit string) string {
		return `<xliff xmlns="urn:oasis:names:tc:xliff:document:2.0" version="2.0" srcLang="en" trgLang="de">` +
			`<file id="f"><group id="g"><unit id="opening.text">` + unit + `</unit></group></file></xliff>`
	}
	for name, c := range map[string]struct{ unit, words, said string }{
		"two segments": {`<segment state="translated"><source>One.</source><target>Eins.</target></segment>` +
			`<ignorable><source> </source></ignorable>` +
			`<segment state="final"><source>Two.</source><target>Zwei.</target></segment>`, "One. Two.", "Eins. Zwei."},
		"in another order": {`<segment state="translated"><source>One</source><target order="2">eins</target></segment>` +
			`<segment state="translated"><source>Two</source><target order="1">Zwei</target></segment>`, "OneTwo", "Zweieins"},
		"half of it": {`<segment><source>One.</source><target>Eins.</target></segment>` +
			`<segment><source>Two.</source></segment>`, "One.Two.", ""},
		"marks and pairs": {`<originalData><data id="d1">**</data></originalData><segment><source>A <pc id="1" ` +
			`dataRefStart="d1" dataRefEnd="d1">bee</pc></source><target>Eine <mrk id="m1" type="term"><pc id="1" ` +
			`dataRefStart="d1" dataRefEnd="d1">Biene</pc></mrk><cp hex="0021"/></target></segment>`,
			"A **bee**", "Eine **Biene**!"},
		"a code without data": {`<segment><source>Hi <ph id="1" equiv="{name}"/></source><target><ph id="1" ` +
			`disp="{name}"/>!</target></segment>`, "Hi {name}", "{name}!"},
	} {
		d, err := xliff.Read([]byte(in(c.unit)))
		require.NoError(t, err, name)
		require.Len(t, d.Lines, 1, name)
		l := d.Lines[0]
		assert.Equal(t, quiz.Pointer("/opening/text"), l.At, name)
		assert.Equal(t, c.words, l.Words, name)
		assert.Equal(t, c.said, l.Said, name)
	}
	deep := strings.Repeat("<mrk>", 100) + strings.Repeat("</mrk>", 100)
	for name, wrong := range map[string]string{
		"begin with <xliff>": `<html/>`, "version 1": `<xliff xmlns="urn:oasis:names:tc:xliff:document:1.2" version="1.2"/>`,
		"no version 2": `<xliff/>`, "srcLang, trgLang": `<xliff version="2.1" srcLang="en"/>`,
		"too deep": in(`<segment><source>` + deep + `</source></segment>`), "can't be read": "not XML <",
		"more than 4 MB": strings.Repeat(" ", xliff.MaxSize+1),
	} {
		_, err := xliff.Read([]byte(wrong))
		require.ErrorIs(t, err, xliff.ErrXLIFF, name)
		assert.ErrorContains(t, err, name)
	}
}

// What is written is read by another's library, and what that writes is read here: the npm
// package xliff, of the locize project.
func TestAgainstAnotherLibrary(t *testing.T) {
	node, err := exec.LookPath("node")
	require.NoError(t, err, "make test needs it, too")
	run := func(script, input string) string {
		c := exec.CommandContext(t.Context(), node, "--input-type=module", "-e", script)
		c.Dir, c.Stdin, c.Stderr = filepath.Join("..", ".."), strings.NewReader(input), os.Stderr
		out, err := c.Output()
		require.NoError(t, err)
		return string(out)
	}
	const read = `import x from "xliff"; import { readFileSync } from "node:fs"; const text = readFileSync(0, "utf8"); `
	assert.JSONEq(t, `[["en", "de"], ["Your orchard", "Ihr Obstgarten"], ["Call us", "Rufen Sie an"]]`,
		run(read+`const d = await x.xliff2js(text); const u = d.resources.quiz; const of = (id) => [u[id].source, u[id].target];
			console.log(JSON.stringify([[d.sourceLanguage, d.targetLanguage], of("title"), of("outcomes.hot.text")]))`,
			written(t, orchard)))
	theirs := run(`import x from "xliff"; console.log(await x.js2xliff({ sourceLanguage: "en", targetLanguage: "de",
		resources: { quiz: { "opening.heading": { source: "A & b", target: "A < b" } } } }))`, "")
	d, err := xliff.Read([]byte(theirs))
	require.NoError(t, err, theirs)
	require.Len(t, d.Lines, 1, theirs)
	assert.Equal(t, "A & b|A < b", d.Lines[0].Words+"|"+d.Lines[0].Said)
}

// What comes back changes what it says otherwise, marks what was written of older words, and
// leaves alone what nobody touched.
func TestWhatComesBack(t *testing.T) {
	m := quiztest.New("hot")
	m.Title = "Your orchard"
	m.Ask("crop", quiz.Single, "apples", "berries")
	m.Translations = map[string]quiz.Translations{"de": {"/title": {Text: "Ihr Hof", Of: "Your farm"},
		"/questions/crop/label": {Text: "Was?", Of: "crop"}, "/outcomes/hot/headline": {Text: "Heiß"}}}
	m.Outcomes["hot"].Headline = "Hot"
	d := xliff.Of(m.Quiz, "de")
	taken, err := d.Into(m.Quiz)
	require.NoError(t, err)
	assert.Empty(t, taken.Words, "nobody touched it")
	assert.Nil(t, taken.Ops(m.Quiz))

	for i := range d.Lines {
		switch d.Lines[i].At {
		case "/title": // confirmed as it is
			d.Lines[i].Done = true
		case "/questions/crop/answers/apples/label":
			d.Lines[i].Said = "Äpfel"
		}
	}
	d.Lines = append(d.Lines, xliff.Line{At: "/questions/gone/label", Words: "Gone", Said: "Weg"})
	m.Questions["crop"].Answers["apples"].Label = "All apples" // meanwhile
	taken, err = d.Into(m.Quiz)
	require.NoError(t, err)
	assert.Equal(t, quiz.Translations{"/title": {Text: "Ihr Hof", Of: "Your orchard"},
		"/questions/crop/answers/apples/label": {Text: "Äpfel", Of: "apples"}}, taken.Words)
	assert.Equal(t, "2 texts in German came in. 1 text of the file has no words yet. 1 text of it has no place in "+
		"the quiz any more.", taken.Sentence())
	assert.Len(t, taken.Ops(m.Quiz), 2)
	m.Translations = nil
	assert.Len(t, taken.Ops(m.Quiz), 1, "the language with all that it says")

	for says, other := range map[string]xliff.Document{"is translated from French": {From: "fr", To: "de"},
		`is translated into "en-GB"`: {From: "en", To: "en-GB"}, `into "?"`: {From: "en", To: "?"}} {
		_, err := other.Into(m.Quiz)
		require.ErrorIs(t, err, xliff.ErrXLIFF)
		assert.ErrorContains(t, err, says)
	}
}
