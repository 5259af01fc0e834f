package qti

import (
	"archive/zip"
	"bytes"
	"encoding/base64"
	"encoding/xml"
	"errors"
	"io"
	"os"
	"path/filepath"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"omphalos/core/decimal"
	"omphalos/core/quiz"
	"omphalos/core/quiztest"
)

var dot, _ = base64.StdEncoding.DecodeString(
	"iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAYAAAAfFcSJAAAADUlEQVR42mNk+M9QDwADhgGAWjR9awAAAABJRU5ErkJggg==")

// sayable is a quiz of which the standard can say everything.
func sayable() *quiz.Quiz {
	m := quiztest.New("little", "much")
	m.Title = "Bees & <blossom>"
	m.Sections = map[string]*quiz.Section{"first": {Order: 1, Heading: "The orchard",
		Text: "About it.\n\nAll of it."}, "then": {Order: 2}}
	m.Scale("need", quiz.Sum).Name = "Need of bees"
	m.Scale("patience", quiz.Sum).Start = 2 * decimal.One
	crop := m.Ask("crop", quiz.Single, "apples need=4 patience=-1.5", "berries need=2", "nothing")
	crop.Required, crop.Help, crop.Answers["apples"].Right = true, "The most of it.", true
	crop.Picture = &quiz.Picture{Source: "/pictures/" + pictureName(dot), Description: "A branch"}
	m.Ask("month", quiz.Dropdown, "march", "april need=1")
	m.Ask("pests", quiz.Several, "mites need=1", "moths need=2", "none").Picks = &quiz.Picks{Min: 0, Max: 2}
	m.Ask("mood", quiz.Rating).Weigh = map[string]*quiz.Weighing{"patience": {Factor: ref(decimal.One / 2)}}
	m.Questions["mood"].Limits = &quiz.Limits{Low: quiz.NumberBound(decimal.One), High: quiz.NumberBound(7 * decimal.One)}
	m.Ask("hives", quiz.Number).Weigh = map[string]*quiz.Weighing{"need": {Brackets: map[string]*quiz.Bracket{
		"bracket_1": {Adds: 5 * decimal.One},
		"bracket_2": {From: quiz.NumberBound(10 * decimal.One), Adds: 3 * decimal.One},
		"bracket_3": {From: quiz.NumberBound(100 * decimal.One), Adds: 0},
	}}}
	days := m.Ask("days", quiz.Grid, "seldom need=1", "often need=3")
	days.Rows = map[string]*quiz.Row{"monday": {Order: 1, Label: "Monday"}, "sunday": {Order: 2, Label: "Sunday",
		Adds: map[string]map[string]decimal.Decimal{"often": {"patience": 4 * decimal.One}}}}
	m.Ask("pause", quiz.Interlude).Help = "Take a breath.\n\nAnd another."
	m.Ask("words", quiz.LongText)
	m.Ask("mail", quiz.Email)
	for i, key := range []string{"crop", "month", "pests", "mood", "hives", "days", "pause", "words", "mail"} {
		m.Questions[key].Order = float64(i + 1)
		m.Questions[key].Section = "then"
		if i < 4 {
			m.Questions[key].Section = "first"
		}
	}
	m.Bands("need", "little", "6=much")
	m.Decision.Otherwise = "little"
	for _, s := range m.Scales {
		s.Order, s.Method = s.Order+1, ""
	}
	for _, q := range m.Questions {
		for _, a := range q.Answers {
			a.Order++
		}
	}
	for _, o := range m.Outcomes {
		o.Headline, o.Text = "Bees for you", "They come in spring.\n\nAnd stay."
	}
	return m.Quiz
}

func ref[T any](v T) *T { return &v }

func written(t testing.TB, q *quiz.Quiz) ([]byte, []string) {
	t.Helper()
	var file bytes.Buffer
	lost, err := Write(&file, q, map[string][]byte{pictureName(dot): dot, "other": dot})
	require.NoError(t, err)
	return file.Bytes(), lost
}

// What the standard can say comes back as it was: questions, amounts, rows, bands, pictures.
func TestThereAndBack(t *testing.T) {
	q := sayable()
	require.Empty(t, q.Check())
	file, lost := written(t, q)
	assert.Empty(t, lost)
	back, pictures, missed, err := Read(file)
	require.NoError(t, err)
	assert.Empty(t, missed)
	assert.Equal(t, map[string][]byte{pictureName(dot): dot}, pictures)
	assert.Empty(t, back.Check())
	assert.Equal(t, q.Title, back.Title)
	assert.Equal(t, q.Sections, back.Sections)
	assert.Equal(t, q.Scales, back.Scales)
	for key, asked := range q.Questions {
		for _, row := range asked.Rows { // said row by row where one differs
			if row.Adds == nil && key == "days" {
				row.Adds = map[string]map[string]decimal.Decimal{"often": {"need": 3 * decimal.One}}
			} else if key == "days" {
				row.Adds["often"]["need"] = 3 * decimal.One
			}
		}
		if key == "days" {
			asked.Answers["often"].Adds = nil
		}
		assert.Equal(t, asked, back.Questions[key], key)
	}
	assert.Len(t, back.Questions, len(q.Questions))
	for _, step := range q.Decision.Steps {
		for _, other := range back.Decision.Steps {
			assert.Equal(t, step.Scale, other.Scale)
			assert.Equal(t, step.Lowest, other.Lowest)
			assert.Equal(t, step.CutKeys(), step.CutKeys())
			assert.Equal(t, []quiz.Cut{{At: 6 * decimal.One, Outcome: "much"}}, cuts(other))
		}
	}
	for key, o := range q.Outcomes {
		assert.Equal(t, [3]string{o.Name, o.Headline, o.Text}, [3]string{back.Outcomes[key].Name,
			back.Outcomes[key].Headline, back.Outcomes[key].Text})
	}
	again, _ := written(t, q)
	twice, _ := written(t, q)
	assert.Equal(t, again, twice, "the same bytes")
}

func cuts(s *quiz.Step) (list []quiz.Cut) {
	for _, key := range s.CutKeys() {
		list = append(list, *s.Cuts[key])
	}
	return list
}

// Every quiz that there is can be written and read back, whatever is lost: it is told what,
// every file is XML, every reference leads to a file, and keys and labels of all questions stay.
func TestEveryQuizIsWritten(t *testing.T) {
	files, err := filepath.Glob("../../core/quiz/testdata/20*.json")
	require.NoError(t, err)
	quizzes := []*quiz.Quiz{quiztest.Thirty().Quiz, quiztest.Many(40).Quiz}
	for _, name := range files {
		data, err := os.ReadFile(name)
		require.NoError(t, err)
		q, err := quiz.Read(data)
		require.NoError(t, err)
		quizzes = append(quizzes, q)
	}
	for _, q := range quizzes {
		file, _ := written(t, q)
		z, err := zip.NewReader(bytes.NewReader(file), int64(len(file)))
		require.NoError(t, err)
		there := map[string]string{}
		for _, f := range z.File {
			there[f.Name] = opened(t, f)
			if strings.HasSuffix(f.Name, ".xml") {
				d := xml.NewDecoder(strings.NewReader(there[f.Name]))
				for err == nil {
					_, err = d.Token()
				}
				require.ErrorIs(t, err, io.EOF, f.Name)
				err = nil
			}
		}
		back, _, _, err := Read(file)
		require.NoError(t, err, q.Title)
		for key, asked := range q.Questions {
			require.NotNil(t, back.Questions[key], key)
			assert.Equal(t, strings.Join(strings.Fields(asked.Label), " "), back.Questions[key].Label)
			assert.Contains(t, there["test.xml"], `href="items/`+key+`.xml"`)
			assert.Contains(t, there[manifest], `href="items/`+key+`.xml"`)
		}
	}
	last := quizzes[len(quizzes)-1]
	last.Questions["pause"].ShowWhen = &quiz.Condition{}
	lost := Lost(last)
	assert.Contains(t, strings.Join(lost, "\n"), "is asked of some only: there it is asked of all.")
	assert.Contains(t, lost, "The opening is not there.")
}

func opened(t testing.TB, f *zip.File) string {
	r, err := f.Open()
	require.NoError(t, err)
	data, err := io.ReadAll(r)
	require.NoError(t, err)
	return string(data)
}

// Items as others write them; values from memory of the standard's best practices: one answer
// that is right, several with a mapping, and kinds of which there are none here.
func TestItemsOfOthers(t *testing.T) {
	item := func(inside string) []byte {
		return []byte(`<?xml version="1.0" encoding="UTF-8"?><qti-assessment-item xmlns="http://www.imsglobal.org/xsd/imsqtiasi_v3p0" identifier="i-1" title="Luggage" adaptive="false" time-dependent="false">` + inside + `</qti-assessment-item>`)
	}
	q, _, lost, err := Read(item(`
		<qti-response-declaration identifier="RESPONSE" cardinality="single" base-type="identifier"><qti-correct-response><qti-value>ChoiceB</qti-value></qti-correct-response></qti-response-declaration>
		<qti-outcome-declaration identifier="SCORE" cardinality="single" base-type="float"/>
		<qti-item-body><p>Look at the <em>text</em> in the picture.</p>
		<qti-choice-interaction response-identifier="RESPONSE" shuffle="true" max-choices="1"><qti-prompt>What does it say?</qti-prompt>
		<qti-simple-choice identifier="ChoiceA">Stay with it.</qti-simple-choice><qti-simple-choice identifier="ChoiceB">Never leave it.</qti-simple-choice></qti-choice-interaction></qti-item-body>
		<qti-response-processing template="https://purl.imsglobal.org/spec/qti/v3p0/rptemplates/match_correct.xml"/>`))
	require.NoError(t, err)
	assert.Equal(t, []string{"Answers that are shuffled stand in order."}, lost)
	asked := q.Questions["i_1"]
	assert.Equal(t, "What does it say?", asked.Label)
	assert.Equal(t, quiz.Single, asked.Kind)
	assert.Equal(t, &quiz.Answer{Order: 2, Label: "Never leave it.", Right: true,
		Adds: map[string]decimal.Decimal{"score": decimal.One}}, asked.Answers["choiceb"])
	assert.Equal(t, "Score", q.Scales["score"].Name)

	q, _, lost, err = Read(item(`
		<qti-response-declaration identifier="RESPONSE" cardinality="multiple" base-type="identifier"><qti-mapping default-value="0"><qti-map-entry map-key="H" mapped-value="1.5"/><qti-map-entry map-key="O" mapped-value="-1"/></qti-mapping></qti-response-declaration>
		<qti-item-body><qti-choice-interaction response-identifier="RESPONSE" max-choices="0" min-choices="2"><qti-prompt>Which make water?</qti-prompt>
		<qti-simple-choice identifier="H">Hydrogen</qti-simple-choice><qti-simple-choice identifier="O">Oxygen</qti-simple-choice></qti-choice-interaction></qti-item-body>
		<qti-response-processing template="https://purl.imsglobal.org/spec/qti/v3p0/rptemplates/map_response.xml"/>`))
	require.NoError(t, err)
	assert.Empty(t, lost)
	asked = q.Questions["i_1"]
	assert.Equal(t, quiz.Several, asked.Kind)
	assert.Equal(t, &quiz.Picks{Min: 2}, asked.Picks)
	assert.Equal(t, quiztest.Amounts("score=1.5"), asked.Answers["h"].Adds)
	assert.Equal(t, quiztest.Amounts("score=-1"), asked.Answers["o"].Adds)

	_, _, _, err = Read(item(`<qti-item-body><qti-hotspot-interaction response-identifier="RESPONSE"/></qti-item-body>`))
	require.ErrorIs(t, err, ErrQTI)
	assert.ErrorContains(t, err, "asks by a hotspot-interaction, which there is no kind of question for")
}

// What is no package is told, and does nothing worse; outside entities are not fetched.
func TestWhatIsNoPackage(t *testing.T) {
	packed := func(files map[string]string) []byte {
		var b bytes.Buffer
		z := zip.NewWriter(&b)
		for _, name := range sorted(files) {
			f, err := z.Create(name)
			require.NoError(t, err)
			_, err = io.WriteString(f, files[name])
			require.NoError(t, err)
		}
		require.NoError(t, z.Close())
		return b.Bytes()
	}
	refer := `<manifest><resources><resource type="imsqti_item_xmlv3p0" href="a.xml"/></resources></manifest>`
	for name, data := range map[string][]byte{
		"nothing":        []byte("PK"),
		"no manifest":    packed(map[string]string{"a.xml": "<a/>"}),
		"an empty one":   packed(map[string]string{manifest: ""}),
		"a missing item": packed(map[string]string{manifest: refer}),
		"outside":        packed(map[string]string{manifest: strings.Replace(refer, "a.xml", "../../etc/passwd", 1)}),
		"another root":   packed(map[string]string{manifest: refer, "a.xml": "<assessmentItem/>"}),
		"no body":        packed(map[string]string{manifest: refer, "a.xml": "<qti-assessment-item/>"}),
		"cut off":        packed(map[string]string{manifest: refer, "a.xml": "<qti-assessment-item><qti-item-body>"}),
		"an entity": []byte(
			`<!DOCTYPE x [<!ENTITY e SYSTEM "file:///etc/passwd">]><qti-assessment-item><qti-item-body>&e;</qti-item-body></qti-assessment-item>`),
		"a large file": packed(map[string]string{manifest: strings.Repeat(" ", maxXML+1)}),
	} {
		_, _, _, err := Read(data)
		assert.ErrorIs(t, err, ErrQTI, name)
	}
}

// Whatever the bytes, reading ends with a quiz that can be checked, or an error of ours.
func FuzzRead(f *testing.F) {
	file, _ := written(f, sayable())
	f.Add(file)
	z, err := zip.NewReader(bytes.NewReader(file), int64(len(file)))
	require.NoError(f, err)
	for _, one := range z.File {
		r, _ := one.Open()
		data, _ := io.ReadAll(r)
		f.Add(data)
	}
	f.Fuzz(func(t *testing.T, data []byte) {
		q, _, _, err := Read(data)
		if err != nil && !errors.Is(err, ErrQTI) {
			t.Fatal(err)
		}
		if err == nil {
			q.Check()
		}
	})
}
