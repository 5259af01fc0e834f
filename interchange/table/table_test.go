package table

import (
	"bytes"
	"encoding/csv"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"omphalos/core/decimal"
	"omphalos/core/passage"
	"omphalos/core/quiz"
	"omphalos/core/quiztest"
)

// everything is a quiz with a question of each way to be written in a table.
func everything(t testing.TB) *passage.Program {
	m := quiztest.New("cold", "hot")
	m.Scale("heat", quiz.Sum)
	m.Scale("honey", quiz.Sum).Kind = quiz.Keyword
	m.Ask("crop", quiz.Single, "apples heat=4", "other heat=1").Answers["other"].WriteIn = true
	m.Ask("topics", quiz.Several, "price heat=1", "care honey=1", "law")
	m.Ask("habits", quiz.Grid, "never", "often heat=2").Rows = map[string]*quiz.Row{"mow": {Order: 1, Label: "Mow"}, "spray": {Order: 2, Label: "Spray", Reversed: true}}
	one := decimal.One
	m.Ask("area", quiz.Number).Weigh = map[string]*quiz.Weighing{"heat": {Factor: &one}}
	m.Ask("when", quiz.Date)
	m.Ask("words", quiz.LongText)
	m.Bands("heat", "cold", "6=hot")
	m.Outcomes["hot"].Landings = map[string]*quiz.Landing{"go": {Kind: quiz.RedirectLanding, Address: "https://book.example/{?crop,topics,visitor.country,passage}"}}
	m.Contact = &quiz.Contact{Place: quiz.AfterResult, Fields: map[string]*quiz.Question{"mail": {Kind: quiz.Email, Label: "E-mail"}}}
	return m.Compile(t)
}

func run(t testing.TB, p *passage.Program, in string, o Options) (out string, complaints []string, good int) {
	t.Helper()
	var b bytes.Buffer
	o.Bad = func(e *RowError) { complaints = append(complaints, e.Error()) }
	good, bad, err := Score(p, strings.NewReader(in), &b, o)
	require.NoError(t, err)
	require.Equal(t, len(complaints), bad)
	return b.String(), complaints, good
}

func TestATableIsScored(t *testing.T) {
	p := everything(t)
	in := "\ufeffid,crop.text,crop,topics,habits.mow,habits.spray,area,when,words,visitor.country,mail\r\n" +
		"a,,apples,price|care,often,never,1.5,2026-04-30,\"two\nlines, and \"\"more\"\"\",IE,a@example.org\r\n" +
		"b,\"quinces, few\",other,,,,,,,,\r\n" +
		"c,,papaya,,,,,,,,\r\n" +
		"d,,,,often,maybe,,,,,\r\n" +
		"e,,apples,,,,many,,,,\r\n" +
		"f,,apples\r\n" +
		"g,,,,,,-2,,,,\r\n"
	out, complaints, good := run(t, p, in, Options{})
	assert.Equal(t, 3, good)
	assert.Equal(t, "id,heat,honey,outcome,landing,address,end\n"+
		"a,10.5,1,hot,go,\"https://book.example/?crop=apples&topics=price,care&visitor.country=IE&passage=a\",decided\n"+
		"b,1,0,cold,page,,decided\n"+
		"g,-2,0,cold,page,,decided\n", out)
	assert.Equal(t, []string{
		`line 5: crop: "papaya" is not one of the answers`,
		`line 6: habits.spray: "maybe" is not one of the answers`,
		`line 7: area: "many" is not a number`,
		`line 8: at character 1: wrong number of fields`,
	}, complaints)

	out, _, _ = run(t, p, in, Options{Explain: true, To: JSONL})
	var first Scored
	require.NoError(t, json.Unmarshal([]byte(strings.SplitN(out, "\n", 2)[0]), &first))
	assert.Equal(t, "hot", first.Outcome)
	assert.Equal(t, decimal.Must("10.5"), first.Scores["heat"])
	assert.Equal(t, "apples", first.Explanation.Asked[0].Answer)
}

// The same respondents as JSON Lines give the same rows.
func TestJSONLinesAreScoredAlike(t *testing.T) {
	p := everything(t)
	out, complaints, _ := run(t, p, `{"id":"a","crop":"apples","topics":["price","care"],"habits":{"mow":"often","spray":"never"},"area":1.5,"when":"2026-04-30","visitor":{"country":"IE"}}

{"id":7,"crop":"other","crop.text":"quinces"}
{"id":
["a"]
{"id":"x","colour":"red"}
{"topics":[1]}
`, Options{From: JSONL})
	assert.Equal(t, "id,heat,honey,outcome,landing,address,end\n"+
		"a,10.5,1,hot,go,\"https://book.example/?crop=apples&topics=price,care&visitor.country=IE&passage=a\",decided\n"+
		"7,1,0,cold,page,,decided\n", out)
	require.Len(t, complaints, 4)
	assert.Contains(t, complaints[0], "line 4: is not a JSON object")
	assert.Contains(t, complaints[1], "line 5: is not a JSON object")
	assert.Contains(t, complaints[2], `line 6: the column "colour" is no question`)
	assert.Contains(t, complaints[3], "line 7: topics lists something that is not text")
}

func TestHeadings(t *testing.T) {
	p := everything(t)
	for heading, says := range map[string]string{
		"": "is empty", "id,colour\n": `"colour" is no question`, "crop,crop\n": "there twice", "habits\n": "is no question", "habits.dig\n": "is no question", "visitor.shoe\n": "is no question",
	} {
		_, _, err := Score(p, strings.NewReader(heading), io.Discard, Options{})
		assert.ErrorContains(t, err, says, heading)
	}
	out, _, _ := run(t, p, "colour,crop\nred,apples\n", Options{Ignore: true})
	assert.Contains(t, out, "\n,4,0,cold")
}

type full struct{}

func (full) Write([]byte) (int, error) { return 0, errors.New("the disk is full") }

// Order is kept over many batches, and an output that fails ends the reading.
func TestManyRows(t *testing.T) {
	p := everything(t)
	var in strings.Builder
	in.WriteString("id,area\n")
	for i := range 20_000 {
		fmt.Fprintf(&in, "%d,%d\n", i, i%10)
	}
	out, _, good := run(t, p, in.String(), Options{})
	assert.Equal(t, 20_000, good)
	records, err := csv.NewReader(strings.NewReader(out)).ReadAll()
	require.NoError(t, err)
	for i, r := range records[1:] {
		require.Equal(t, []string{fmt.Sprint(i), fmt.Sprint(i % 10)}, r[:2])
	}
	_, _, err = Score(p, strings.NewReader(in.String()), full{}, Options{})
	assert.ErrorContains(t, err, "the disk is full")
}

// FuzzTable: whatever the table, each row is scored or reported, and what is
// written is a table again.
func FuzzTable(f *testing.F) {
	f.Add([]byte("id,crop,topics,area,habits.mow,when\n1,apples,price|law,2.5,often,2026-01-01\n2,x,,,,\n"))
	f.Add([]byte("crop,crop.text\nother,\"a\nb\"\n\"other\"x,\n"))
	f.Add([]byte("id\n\"\n"))
	p := everything(f)
	f.Fuzz(func(t *testing.T, data []byte) {
		var out bytes.Buffer
		complaints := 0
		good, bad, err := Score(p, bytes.NewReader(data), &out, Options{Ignore: true, Bad: func(*RowError) { complaints++ }})
		require.Equal(t, complaints, bad)
		if err != nil {
			return
		}
		records, err := csv.NewReader(&out).ReadAll()
		require.NoError(t, err)
		require.Len(t, records, good+1)
	})
}
