package web_test

import (
	"bytes"
	"encoding/csv"
	"encoding/json"
	"fmt"
	"net/http"
	"net/url"
	"slices"
	"strings"
	"testing"
	"time"

	"github.com/parquet-go/parquet-go"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"github.com/xuri/excelize/v2"

	"omphalos/core/quiz"
	"omphalos/core/quiztest"
	"omphalos/interchange/listing"
	"omphalos/store"
)

// A posting is what is posted for one question, the column where it comes out, and how.
type posting struct {
	question, column string
	fields           url.Values
	out              string // as one text; several with "; " between
}

// everyKind are postings of every kind of question, with what tables tend to break.
func everyKind() (quiztest.Maker, []posting) {
	m := quiztest.New("fit")
	m.Pace = quiz.OnePage
	var list []posting
	ask := func(kind quiz.Kind, answers []string, values ...string) *quiz.Question {
		key := fmt.Sprintf("k%d", len(m.Questions))
		q := m.Ask(key, kind, answers...)
		list = append(list, posting{key, "answer." + key, url.Values{"answer." + key: values}, strings.Join(values, "; ")})
		return q
	}
	three := []string{"a", "b", "c"}
	ask(quiz.Single, three, "b")
	ask(quiz.Dropdown, three, "c")
	ask(quiz.Pictures, three, "a")
	ask(quiz.YesNo, []string{"yes", "no"}, "no")
	ask(quiz.Several, three, "a", "c")
	both := ask(quiz.Several, three, "a", "b", "c")
	both.Answers["b"].WriteIn, both.Answers["c"].WriteIn = true, true
	list[len(list)-1].fields.Set("words."+list[len(list)-1].question, "'=own, \"words\"; 🐝")
	list = append(list, posting{list[len(list)-1].question, "words." + list[len(list)-1].question, nil, "'=own, \"words\"; 🐝"})
	ask(quiz.Rating, nil, "0")
	ask(quiz.Stars, nil, "5")
	ask(quiz.Number, nil, "-1234.567891")
	ask(quiz.Date, nil, "1850-03-04")
	ask(quiz.Date, nil, "1900-02-28")
	for _, text := range []string{"=SUM(1,2)", "'quoted", "''-5", "-5", "@name", "שלום עולם", "👩‍🌾 a\tb", "x, \"y\"; z"} {
		posted := text
		if ask(quiz.ShortText, nil, posted); strings.Contains(text, "\t") {
			list[len(list)-1].out = strings.ReplaceAll(text, "\t", " ") // of one line
		}
	}
	ask(quiz.LongText, nil, "one\r\ntwo\r\n\r\n=four")
	list[len(list)-1].out = "one\ntwo\n\n=four"
	grid := ask(quiz.Grid, []string{"often", "never"})
	grid.Rows = map[string]*quiz.Row{"mow": {Label: "Mow"}, "dig": {Order: 1, Label: "Dig"}}
	key := list[len(list)-1].question
	list = list[:len(list)-1]
	for row, column := range map[string]string{"mow": "never", "dig": "often"} {
		list = append(list, posting{key, "answer." + key + "." + row, url.Values{"row." + key + "." + row: {column}}, column})
	}
	for kind, text := range map[quiz.Kind]string{quiz.Name: "Åse O'Brien", quiz.Email: "ann@example.org",
		quiz.Phone: "+35314960000", quiz.Company: "=Orchards & Co"} {
		ask(kind, nil, text)
		list[len(list)-1].column = "contact." + list[len(list)-1].question
	}
	ask(quiz.Country, nil, "IE")
	ask(quiz.Consent, nil, "yes")
	ask(quiz.Location, nil, "north")
	m.Questions[list[len(list)-1].question].Table = "yards"
	return m, list
}

// What respondents post comes out once and whole: in the response, in figures, in each format
// and through the interface for other systems; in whatever company it is posted.
func TestWhatIsPostedComesOut(t *testing.T) {
	t.Parallel()
	a := newApp(t)
	m, list := everyKind()
	require.NoError(t, a.store.Definitions.PutPlaces(t.Context(), []store.Place{{Table: "yards", Key: "north", Name: "North yard"}}))
	z := a.add(t, string(m.Write()))
	a.release(t, z)
	var combinations [][]posting
	for i := range list { // each alone, each with the next, all together
		alone := []posting{list[i]}
		if list[i].fields == nil {
			alone = append(alone, list[i-1])
		}
		if i+1 < len(list) && list[i+1].fields == nil {
			alone = append(alone, list[i+1])
		}
		combinations = append(combinations, alone, append(slices.Clone(alone), list[(i+3)%len(list)]))
	}
	combinations = append(combinations, list)
	for i, some := range combinations {
		combinations[i] = whole(some, list)
		pairs := []string{"go", "on"}
		for _, q := range m.QuestionKeys() {
			pairs = append(pairs, "asked", q)
		}
		for _, p := range combinations[i] {
			for field, values := range p.fields {
				for _, v := range values {
					pairs = append(pairs, field, v)
				}
			}
		}
		r, page := a.client(t).form("/q/"+z.Slug, pairs...)
		require.Equal(t, http.StatusSeeOther, r.StatusCode, "%v: %s", some, plainly(page))
	}
	c := a.client(t).signIn()
	get := func(path string) []byte {
		r, page := c.get(fmt.Sprintf("/studio/quizzes/%d/learn%s", z.ID, path))
		require.Equal(t, http.StatusOK, r.StatusCode, path)
		return []byte(page)
	}
	due := func(i int, column string) string {
		for _, p := range combinations[i] {
			if p.column == column {
				return p.out
			}
		}
		return ""
	}

	lines, err := csv.NewReader(bytes.NewReader(get("/responses.csv"))).ReadAll()
	require.NoError(t, err)
	require.Len(t, lines, len(combinations)+1)
	columns := lines[0]
	for _, p := range list {
		at := slices.Index(columns, p.column)
		require.GreaterOrEqual(t, at, 0, p.column)
		for i := range combinations {
			assert.Equal(t, due(i, p.column), listing.Plain(lines[i+1][at]), "csv, %s of %d", p.column, i+1)
		}
	}
	book, err := excelize.OpenReader(bytes.NewReader(get("/responses.xlsx")))
	require.NoError(t, err)
	cells, err := book.GetRows("Responses", excelize.Options{RawCellValue: true})
	require.NoError(t, err)
	require.Len(t, cells, len(combinations)+1, "one heading")
	days := time.Date(1899, 12, 30, 0, 0, 0, 0, time.UTC)
	for i := range combinations {
		for k, column := range columns {
			if what, _, _ := strings.Cut(column, "."); what != "answer" && what != "words" && what != "contact" {
				continue
			}
			got := ""
			if k < len(cells[i+1]) {
				got = cells[i+1][k]
			}
			assert.Equal(t, due(i, column), got, "xlsx, %s of %d, counted from %s", column, i+1, days)
		}
	}
	objects := json.NewDecoder(bytes.NewReader(get("/responses.jsonl")))
	objects.UseNumber()
	file := get("/responses.parquet")
	packed := parquet.NewReader(bytes.NewReader(file))
	defer packed.Close()
	for i := range combinations {
		var object map[string]any
		require.NoError(t, objects.Decode(&object))
		row := map[string]any{}
		require.NoError(t, packed.Read(&row))
		for _, p := range list {
			assert.Equal(t, due(i, p.column), oneText(object[p.column]), "jsonl, %s of %d", p.column, i+1)
			assert.Equal(t, due(i, p.column), oneText(row[p.column]), "parquet, %s of %d", p.column, i+1)
		}
	}

	last := len(combinations)
	response, learn := plainly(string(get(fmt.Sprintf("/%d", last)))), plainly(string(get("")))
	for _, p := range list {
		if strings.HasPrefix(p.column, "words.") {
			assert.Equal(t, 1, strings.Count(response, "=own"), "once on the response: %s", response)
			_, words := c.get(fmt.Sprintf("/studio/quizzes/%d/learn/words/%s", z.ID, p.question))
			assert.Contains(t, plainly(words), p.out)
			continue
		}
		n := 0
		for _, some := range combinations {
			n += min(1, len(slices.DeleteFunc(slices.Clone(some), func(o posting) bool { return o.question != p.question })))
		}
		assert.Regexp(t, fmt.Sprintf(`\b%s %d answered`, p.question, n), learn, "counted in Learn")
	}
	api := a.access(t, store.ReadResponses, store.ReadLeads)
	told, err := api.GetResponseWithResponse(t.Context(), int64(z.ID), int64(last), nil)
	require.NoError(t, err)
	require.NotNil(t, told.JSON200, string(told.Body))
	for _, p := range list {
		what, key, _ := strings.Cut(p.column, ".")
		key, grid, _ := strings.Cut(key, ".")
		var got []string
		for _, one := range told.JSON200.Answers {
			switch {
			case one.Question != key || grid != "" && *one.Row != grid:
			case what == "words":
				got = append(got, *one.WriteIn)
			default:
				got = append(got, one.Values...)
			}
		}
		if what == "contact" {
			got = append(got, (*told.JSON200.Contact)[key])
		}
		assert.Equal(t, p.out, strings.Join(got, "; "), "through the interface, %s", p.column)
	}
}

// whole adds the words beside answers that take them, and the answers beside words.
func whole(some, all []posting) []posting {
	for _, p := range slices.Clone(some) {
		for _, other := range all {
			if other.question == p.question && !slices.ContainsFunc(some, func(o posting) bool { return o.column == other.column }) &&
				!strings.Contains(other.column, ".mow") && !strings.Contains(other.column, ".dig") {
				some = append(some, other)
			}
		}
	}
	return some
}

// oneText writes a value as a cell of CSV has it.
func oneText(value any) string {
	switch v := value.(type) {
	case nil:
		return ""
	case []byte:
		return string(v)
	case int32: // a day
		return time.Unix(int64(v)*24*60*60, 0).UTC().Format(time.DateOnly)
	case map[string]any:
		return oneText(v["list"])
	case []any:
		var texts []string
		for _, element := range v {
			texts = append(texts, oneText(element))
		}
		return strings.Join(texts, "; ")
	}
	return fmt.Sprint(value)
}
