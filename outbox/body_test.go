package outbox

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"omphalos/core/decimal"
	"omphalos/core/passage"
	"omphalos/core/program"
	"omphalos/core/quiz"
	"omphalos/store"
)

// somebody is a respondent with a name that is hard to write.
func somebody(t *testing.T) *Landed {
	t.Helper()
	q, err := quiz.Read([]byte(`{"format":"omphalos/quiz@1","title":"Hives","sections":{"main":{"order":1}},
"questions":{"crop":{"order":1,"section":"main","kind":"single","label":"Crop","answers":{"apples":{"order":1,"label":"Apples & \"pears\"","adds":{"need":4}}}}},
"scales":{"need":{"order":1,"name":"Need","kind":"points"}},"decision":{"otherwise":"a"},
"outcomes":{"a":{"order":1,"name":"A","headline":"Pays","standing":"fit","landings":{"page":{"order":1,"kind":"page"}}}},
"contact":{"place":"before","fields":{"name":{"order":1,"kind":"name","label":"Name"},"yes":{"order":2,"kind":"consent","label":"Yes"}}},
"followUps":{"ads":{"order":1,"kind":"conversion","receiver":"ads","consent":"yes","event":"qualified","worth":{"scale":"need","currency":"EUR","outcomes":{"a":12.5}}}}}`))
	require.NoError(t, err)
	p, err := program.Compile(q)
	require.NoError(t, err)
	v, err := p.Read(0, program.Typed{Values: []string{"apples"}})
	require.NoError(t, err)
	return (&Landed{Program: p, Number: "r1", In: passage.Input{Answers: program.Answers{v},
		Visitor: &program.Visitor{}, Contact: map[string]string{"name": "Una \"<O'Hara>\" & co\n", "yes": "yes"}}}).Land()
}

// What is filled into a body of somebody's own is written as its type has it, and stays words.
func TestABodyOfItsOwn(t *testing.T) {
	l := somebody(t)
	for _, c := range []struct{ kind, body, want string }{
		{"", `{"who": "{name}", "crop": "{crop}", "need": {need}}`,
			`{"who": "Una \"\u003cO'Hara\u003e\" \u0026 co\n", "crop": "Apples \u0026 \"pears\"", "need": 4}`},
		{"application/x-www-form-urlencoded", "who={name}&outcome={outcome}",
			"who=Una+%22%3CO%27Hara%3E%22+%26+co%0A&outcome=Pays"},
		{"application/xml", "<who>{name}</who>", "<who>Una &quot;&lt;O&#39;Hara&gt;&quot; &amp; co\n</who>"},
		{"text/plain; charset=utf-8", "{name}: {nothing}", "Una \"<O'Hara>\" & co\n: {nothing}"},
	} {
		body, kind, err := filled(&store.Receiver{Type: c.kind, Body: c.body}, nil, l)
		require.NoError(t, err)
		assert.Equal(t, c.want, string(body))
		if c.kind != "" {
			assert.Equal(t, c.kind, kind)
		}
	}
	_, _, err := filled(&store.Receiver{Body: `{"who": {name}}`}, nil, l)
	assert.ErrorContains(t, err, "put fill-ins into quotation marks")
}

// A conversion is worth what its outcome is, else what a scale came to; it is told by the
// delivery's key.
func TestWhatAConversionIsWorth(t *testing.T) {
	l := somebody(t)
	f := l.Program.Quiz.FollowUps["ads"]
	d := &store.Delivery{Key: "k1", Made: time.Date(2026, 11, 26, 10, 0, 0, 0, time.UTC)}
	l.Extra = l.conversion(f, d)
	body, _, err := l.converted(f)
	require.NoError(t, err)
	assert.JSONEq(t, `{"event":"qualified","event_id":"k1","time":"2026-11-26T10:00:00Z","value":12.5,"currency":"EUR"}`, string(body))
	f.Worth.Outcomes = nil
	assert.Equal(t, "4", l.conversion(f, d)["value"])
	f.Worth = nil
	assert.Empty(t, l.conversion(f, d)["value"])
	own, _, err := filled(&store.Receiver{Type: "application/x-www-form-urlencoded",
		Body: "id={event_id}&e={event}&v={value}"}, l.Extra, l)
	require.NoError(t, err)
	assert.Equal(t, "id=k1&e=qualified&v=12.5", string(own))
	assert.Equal(t, 4*decimal.One, l.Result.Scores[0])
}

// What became of a try: a failure is tried later, and given up after three days; a receiver is
// waited for as long as it asks.
func TestWhatBecomesOfATry(t *testing.T) {
	at := time.Date(2026, 11, 26, 10, 0, 0, 0, time.UTC)
	fails := assert.AnError
	d := store.Delivery{State: store.Waiting, Tries: 1, First: at}
	settled(&d, fails, at)
	assert.Equal(t, store.Waiting, d.State)
	assert.Equal(t, fails.Error(), d.Why)
	assert.WithinRange(t, d.Due, at.Add(firstAgain/2), at.Add(firstAgain))
	settled(&d, later{fails, time.Hour}, at)
	assert.Equal(t, at.Add(time.Hour), d.Due)
	settled(&d, later{fails, 100 * time.Hour}, at)
	assert.Equal(t, at.Add(lastAgain), d.Due, "not longer than it would be tried anyway")
	settled(&d, fails, at.Add(givenUp+time.Second))
	assert.Equal(t, store.Dead, d.State)
	settled(&d, nil, at)
	assert.Equal(t, store.Delivered, d.State)
	assert.Empty(t, d.Why)
	settled(&d, errCancelled, at)
	assert.Equal(t, store.Cancelled, d.State)
}
