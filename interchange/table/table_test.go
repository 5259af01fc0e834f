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
	"omphalos/core/program"
	"omphalos/core/quiz"
	"omphalos/core/quiztest"
)

// everything is a quiz with a question of each way to be written in a table.
func everything(t testing.TB) *program.Program {
	m := quiztest.New("cold", "hot")
	m.Scale("heat", quiz.Sum)
	m.Scale("honey", quiz.Sum).Kind = quiz.Keyword
	m.Ask("crop", quiz.Single, "apples heat=4", "other heat=1").Answers["other"].WriteIn = true
	m.Ask("topics", quiz.Several, "price heat=1", "care honey=1", "law")
	m.Ask("habits", quiz.Grid, "never", "often heat=2").Rows = map[string]*quiz.Row{
		"mow":   {Order: 1, Label: "Mow"},
		"spray": {Order: 2, Label: "Spray", Reversed: true},
	}
	one := decimal.One
	m.Ask("area", quiz.Number).Weigh = map[string]*quiz.Weighing{"heat": {Factor: &one}}
	m.Ask("when", quiz.Date)
	m.Ask("words", quiz.LongText)
	m.Bands("heat", "cold", "6=hot")
	m.Outcomes["hot"].Landings = map[string]*quiz.Landing{
		"go": {Kind: quiz.RedirectLanding, Address: "https://book.example/{?crop,topics,visitor.country,passage}"},
	}
	m.Contact = &quiz.Contact{
		Place:  quiz.AfterResult,
		Fields: map[string]*quiz.Question{"mail": {Kind: quiz.Email, Label: "E-mail"}},
	}
	return m.Compile(t)
}

func run(t testing.TB, p *program.Program, in string, o Options) (out string, complaints []string, good int) {
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
		`line 8: does not fit the heading: it has 3 cells, and the heading has 11`,
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
	out, complaints, _ := run(
		t,
		p,
		`{"id":"a","crop":"apples","topics":["price","care"],"habits":{"mow":"often","spray":"never"},"area":1.5,"when":"2026-04-30","visitor":{"country":"IE"}}

{"id":7,"crop":"other","crop.text":"quinces"}
{"id":
["a"]
{"id":"x","colour":"red"}
{"topics":[1]}
`,
		Options{From: JSONL},
	)
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
		"": "is empty", "id,colour\n": `"colour" is no question`, "crop,crop\n": "there twice",
		"habits\n": "is no question", "habits.dig\n": "is no question", "visitor.shoe\n": "is no question",
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
		good, bad, err := Score(
			p,
			bytes.NewReader(data),
			&out,
			Options{Ignore: true, Bad: func(*RowError) { complaints++ }},
		)
		require.Equal(t, complaints, bad)
		if err != nil {
			return
		}
		records, err := csv.NewReader(&out).ReadAll()
		require.NoError(t, err)
		require.Len(t, records, good+1)
	})
}

// Whatever a spreadsheet writes is read: parted by semicolons or tabs, with a byte order
// mark; what can't be is told with its line, and what the text should be.
func TestTextsOfTables(t *testing.T) {
	p := small(t)
	score := func(text string) (string, []string, error) {
		var out bytes.Buffer
		var bad []string
		_, _, err := Score(
			p,
			strings.NewReader(text),
			&out,
			Options{Bad: func(e *RowError) { bad = append(bad, e.Error()) }},
		)
		return out.String(), bad, err
	}
	want, bad, err := score("id,crop,wish\n1,apples,\"bees; honey\"\n")
	require.NoError(t, err)
	require.Empty(t, bad)
	for _, text := range []string{
		"\ufeffid;crop;wish\n1;apples;\"bees; honey\"\n",
		"id\tcrop\twish\r\n1\tapples\tbees; honey\r\n",
		"\"id\",\"crop\",\"wish\"\n1,apples,\"bees; honey\"\n",
	} {
		got, bad, err := score(text)
		require.NoError(t, err, text)
		require.Empty(t, bad, text)
		assert.Equal(t, want, got, text)
	}
	_, bad, err = score(
		"id,crop,visitor.country,visitor.date\n1,apples\n2,\xe4pfel,IE,\n3,apples,Atlantis,\n4,apples,ie,30.4.2026\n5,apples,ie,2026-04-30\n6,ap\x00ples,,\n",
	)
	require.NoError(t, err)
	assert.Equal(t, []string{
		"line 2: does not fit the heading: it has 2 cells, and the heading has 4",
		"line 3: cell 2 is not UTF-8: it may be Latin-1 (ISO 8859-1), as older spreadsheets write it; " +
			"save the table as UTF-8",
		"line 4: visitor.country: \"Atlantis\" is not what it must be: a country, such as Ireland or IE (ISO 3166-1)",
		"line 5: visitor.date: \"30.4.2026\" is not what it must be: a date such as 2026-04-30",
		"line 7: cell 2 holds the character NUL",
	}, bad)
	_, _, err = score("\xff\xfei\x00d\x00")
	assert.ErrorIs(t, err, ErrEncoding)
	_, _, err = score("id,cr\xf6p\n")
	assert.ErrorIs(t, err, ErrEncoding)
}

// Required questions that were left blank are told, and what leaves the range is an
// error of its row.
func TestBlankAndBeyond(t *testing.T) {
	p := small(t)
	blank, bad := 0, []string{}
	var out bytes.Buffer
	good, _, err := Score(
		p,
		strings.NewReader("id,crop,size\n1,,\n2,apples,3\n3,apples,900000000000\n4,apples,9000000000000\n"),
		&out,
		Options{Blank: func(int, int) { blank++ }, Bad: func(e *RowError) { bad = append(bad, e.Error()) }},
	)
	require.NoError(t, err)
	assert.Equal(t, 2, good)
	assert.Equal(t, 1, blank)
	assert.Equal(
		t,
		[]string{
			"line 4: takes a score beyond what can be counted with, ±9.2 × 10¹²",
			"line 5: size: is too large to be counted with",
		},
		bad,
	)
}

func TestSharesThatAreTooMany(t *testing.T) {
	p := small(t)
	for text, says := range map[string]string{
		"crop,apples,70\ncrop,pears,40\n":    `the shares of "crop" come to 110 %, and are at most 100 % together`,
		"crop,apples,170\n":                  "is not a percentage",
		"crop,apples,70\ncrop,apples,10\n":   "is there twice",
		"crop,plums,70\n":                    `has no answer "plums"`,
		"wish,contains bees,70\nwish,-,40\n": `the shares of "wish" come to 110 %`,
		"crop,apples\n":                      "line 2: does not fit the heading: it has 2 cells, and the heading has 3",
	} {
		_, err := ReadShares(p, strings.NewReader("question,answer,percent\n"+text))
		assert.ErrorContains(t, err, says, text)
	}
	shares, err := ReadShares(
		p,
		strings.NewReader("question;answer;percent\ncrop;apples;70 %\nwish;contains bees;10\n"),
	)
	require.NoError(t, err)
	assert.Equal(t, 70.0, shares["crop"]["apples"])
}

// small makes a quiz of a choice, a number without limits and a wish in words.
func small(t *testing.T) *program.Program {
	m := quiztest.New("only", "bees")
	m.Scale("land", quiz.Sum)
	m.Ask("crop", quiz.Single, "apples land=1", "pears").Required = true
	hundred := decimal.FromInt(100)
	m.Ask("size", quiz.Number).Weigh = map[string]*quiz.Weighing{"land": {Factor: &hundred}}
	m.Ask("wish", quiz.ShortText)
	m.Decide(
		quiz.Step{
			Kind:    quiz.RuleStep,
			Outcome: "bees",
			When: &quiz.Condition{
				Subject: quiz.Subject{Answer: "wish"},
				Test:    quiz.Test{Op: quiz.Contains, Value: quiz.Words("bees")},
			},
		},
	)
	return m.Compile(t)
}
