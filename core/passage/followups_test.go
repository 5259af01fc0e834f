package passage_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"omphalos/core/passage"
	"omphalos/core/program"
	"omphalos/core/quiz"
)

const withFollowUps = `{"format":"omphalos/quiz@1","title":"Hives","sections":{"main":{"order":1}},
"questions":{
	"crop":{"order":1,"section":"main","kind":"single","label":"Crop","answers":{"apples":{"order":1,"label":"Apples","adds":{"need":4}},"barley":{"order":2,"label":"Barley"},"none":{"order":3,"label":"None","then":{"go":"part","to":"cold"}}}}},
"scales":{"need":{"order":1,"name":"Need","kind":"points"}},
"decision":{"steps":{"rule":{"order":1,"kind":"rule","when":{"scale":"need","op":"at least","value":3},"outcome":"hot"}},"otherwise":"cold"},
"outcomes":{"hot":{"order":1,"name":"Hot","standing":"fit","landings":{"page":{"order":1,"kind":"page"}}},"cold":{"order":2,"name":"Cold","standing":"not a fit","landings":{"page":{"order":1,"kind":"page"}}}},
"contact":{"place":"before","fields":{"mail":{"order":1,"kind":"email","label":"E-mail"},"letters":{"order":2,"kind":"consent","label":"Letters"}}},
"followUps":{
	"result":{"order":1,"kind":"mail","subject":"Result","blocks":{"a":{"order":1,"kind":"text","text":"For all"},"b":{"order":2,"kind":"text","text":"For apples","when":{"answer":"crop","op":"is","value":"apples"}}}},
	"letters":{"order":2,"kind":"list","list":"letters","consent":"letters"},
	"ads":{"order":3,"kind":"conversion","receiver":"ads","consent":"letters","when":{"standing":true,"op":"is","value":"fit"}},
	"crm":{"order":4,"kind":"call","receiver":"crm","when":{"outcome":true,"op":"is","value":"cold"}},
	"off":{"order":5,"kind":"call","receiver":"crm","off":true}}}`

// What goes out hangs on the outcome, its standing, consent and an address, and nothing goes out
// after parting ways.
func TestFollowUps(t *testing.T) {
	q, err := quiz.Read([]byte(withFollowUps))
	require.NoError(t, err)
	p, err := program.Compile(q)
	require.NoError(t, err)
	w := passage.NewWalker(p)
	goes := func(crop string, contact map[string]string) []string {
		v, err := p.Read(0, program.Typed{Values: []string{crop}})
		require.NoError(t, err)
		w.Walk(passage.Input{Answers: program.Answers{v}, Visitor: &program.Visitor{}, Contact: contact})
		return w.FollowUps()
	}
	all := map[string]string{"mail": "una@example.org", "letters": "yes"}
	assert.Equal(t, []string{"result", "letters", "ads"}, goes("apples", all))
	assert.Equal(t, []string{"a", "b"}, w.LetterBlocks("result"))
	assert.Equal(t, "una@example.org", w.Email())
	assert.Equal(t, []string{"result", "letters", "crm"}, goes("barley", all))
	assert.Equal(t, []string{"a"}, w.LetterBlocks("result"))
	assert.Equal(t, []string{"result"}, goes("apples", map[string]string{"mail": "una@example.org"}),
		"without consent nobody is told")
	assert.Empty(t, goes("apples", nil))
	assert.Equal(t, []passage.Due{
		{Key: "result", Why: "No e-mail address was given"},
		{Key: "letters", Why: "“Letters” was not agreed to"},
		{Key: "ads", Why: "“Letters” was not agreed to"},
		{Key: "crm", Why: "It does not hold that the outcome is “Cold”"},
	}, w.Considered())
	assert.Empty(t, goes("none", all))
	assert.Equal(t, "Nothing goes out after parting ways", w.Considered()[0].Why)
}

// The odds tell no more answers apart for the sake of what goes out.
func TestFollowUpsLeaveTheOddsAlone(t *testing.T) {
	q, err := quiz.Read([]byte(`{"format":"omphalos/quiz@1","title":"Hives","sections":{"main":{"order":1}},
"questions":{"trees":{"order":1,"section":"main","kind":"number","label":"Trees"},"why":{"order":2,"section":"main","kind":"shorttext","label":"Why"}},
"scales":{},"decision":{"otherwise":"a"},"outcomes":{"a":{"order":1,"name":"A","landings":{"page":{"order":1,"kind":"page"}}}},
"followUps":{"crm":{"order":1,"kind":"call","receiver":"crm","when":{"all":[{"answer":"trees","op":"at least","value":7},{"answer":"why","op":"contains","value":"bees"}]}}}}`))
	require.NoError(t, err)
	p, err := program.Compile(q)
	require.NoError(t, err)
	assert.Empty(t, p.Questions[0].Asked)
	trees, err := p.Read(0, program.Typed{Values: []string{"8"}})
	require.NoError(t, err)
	why, err := p.Read(1, program.Typed{Values: []string{"Bees!"}})
	require.NoError(t, err)
	w := passage.NewWalker(p)
	w.Walk(passage.Input{Answers: program.Answers{trees, why}, Visitor: &program.Visitor{}})
	assert.Equal(t, []string{"crm"}, w.FollowUps())
}

// The headline of an outcome is filled in where a text names the outcome, and does not name itself.
func TestTheOutcomeIsFilledInWhole(t *testing.T) {
	q, err := quiz.Read([]byte(withFollowUps))
	require.NoError(t, err)
	q.Outcomes["hot"].Headline = "Your {crop} need {need} of {outcome}"
	p, err := program.Compile(q)
	require.NoError(t, err)
	v, err := p.Read(0, program.Typed{Values: []string{"apples"}})
	require.NoError(t, err)
	in := passage.Input{Answers: program.Answers{v}, Visitor: &program.Visitor{}}
	f := passage.NewFiller(p, in, passage.Walk(p, in), "r1")
	assert.Equal(t, "So: Your Apples need 4 of {outcome}", f.Plainly("So: {outcome}"))
}
