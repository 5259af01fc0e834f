package sheet

import (
	"cmp"
	"math/rand/v2"

	"omphalos/core/excerpt"
	"omphalos/core/expect"
	"omphalos/core/passage"
	"omphalos/core/program"
	"omphalos/core/quiz"
)

// A fill is something that a text or an address may fill in, in braces, with what a
// sample respondent would see there. What says what it is.
type fill struct{ Name, What, Sample string }

// longestSample is how much of a sample is shown, in characters.
const longestSample = 28

// fills lists what a text or an address may fill in. Scores have no sample, which would
// change with every weight.
func (sh *Sheet) fills() []fill {
	if sh.names != nil {
		return sh.names
	}
	var filler *passage.Filler
	if sh.program != nil {
		in, r := sh.sample()
		filler = passage.NewFiller(sh.program, in, r, samplePassage)
	}
	add := func(name, what, sample string) {
		sh.names = append(sh.names, fill{"{" + name + "}", excerpt.Of(what, longestWhat), excerpt.Of(sample, longestSample)})
	}
	plain := func(name string) string {
		if filler == nil {
			return ""
		}
		return filler.Plain(name)
	}
	for _, k := range sh.Doc.QuestionKeys() {
		q := sh.Doc.Questions[k]
		if q.Kind == quiz.Interlude {
			continue
		}
		add(k, q.Label, plain(k))
		for _, row := range quiz.InOrder(q.Rows) {
			add(k+"."+row, q.Label+" "+q.Rows[row].Label, plain(k+"."+row))
		}
	}
	for _, k := range quiz.InOrder(sh.Doc.Scales) { // without a sample, which would change with every weight
		add(k, sh.Doc.Scales[k].Name, "")
	}
	if c := sh.Doc.Contact; c != nil {
		for _, k := range quiz.InOrder(c.Fields) {
			add(k, c.Fields[k].Label, sampleContacts[c.Fields[k].Kind])
		}
	}
	add("outcome", "headline of the outcome; its key in an address", "")
	add("response", "number of the response", samplePassage)
	for _, fact := range []string{"country", "source", "device"} {
		add("visitor."+fact, "the visitor's "+fact, plain("visitor."+fact))
	}
	if sh.Doc.Settings != nil && sh.Doc.Settings.Review != "" {
		add("score", "how many answers were right", plain("score"))
		add("highest", "highest of that: how many could be right", plain("highest"))
		add("percent", "how many of a hundred were right", plain("percent"))
	}
	return sh.names
}

// longestWhat is how much of what something is is shown, in characters.
const longestWhat = 60

// sampleContacts are what somebody might say of themselves.
var sampleContacts = map[quiz.Kind]string{
	quiz.Name: "Una Byrne", quiz.Email: "una@quillbrook.example", quiz.Phone: "+353 1 234 5678",
	quiz.Company: "Byrne Orchards", quiz.Country: "Ireland", quiz.Consent: "yes",
}

// samplePassage is a number that a passage might have.
const samplePassage = "x7k2m9q4"

// sample is a respondent who gives the first answer to everything.
func (sh *Sheet) sample() (passage.Input, *passage.Result) {
	if sh.sampled.result == nil {
		in := passage.Input{
			Answers: make(program.Answers, len(sh.program.Questions)),
			Visitor: &program.Visitor{
				Country:  cmp.Or(sh.eyes.Country, "IE"),
				Language: cmp.Or(sh.eyes.Language, "en"),
				Device:   cmp.Or(sh.eyes.Device, "phone"),
				Source:   cmp.Or(sh.eyes.Source, "letter"),
			},
		}
		for i := range in.Answers {
			for _, name := range sh.program.Names(i) {
				if v, ok := sh.program.Giving(i, name); ok && v.State == program.Given {
					in.Answers[i] = v
					break
				}
			}
		}
		sh.sampled.in, sh.sampled.result = in, passage.Walk(sh.program, in)
	}
	return sh.sampled.in, sh.sampled.result
}

// mostTried is how many passages are drawn to find one that lands somewhere: some milliseconds.
const mostTried = 400

// sampleOf returns a respondent who lands where a place of the document is, and false where
// none is met; for a place that is of no landing, the sample. The same quiz has the same one.
func (sh *Sheet) sampleOf(place quiz.Pointer) (passage.Input, *passage.Result, bool) {
	in, r := sh.sample()
	keys := place.Keys()
	lands := func(r *passage.Result) bool {
		return passage.OutcomeKey(sh.program, r) == keys[1] && passage.LandingKey(sh.program, r) == keys[3]
	}
	if len(keys) < 4 || keys[0] != "outcomes" || lands(r) {
		return in, r, true
	}
	if sh.possible != nil && sh.possible.ExactOutcomes() {
		if _, reached := sh.possible.Landings[keys[1]][keys[3]]; !reached {
			return in, r, false
		}
	}
	drawer := expect.NewDrawer(sh.program, expect.Assume(sh.program, in.Visitor, expect.Shares{}))
	chance, walker := rand.New(rand.NewPCG(1, 1)), passage.NewWalker(sh.program)
	drawn := passage.Input{Answers: make(program.Answers, len(sh.program.Questions)), Visitor: in.Visitor}
	for range mostTried {
		drawer.Draw(chance, drawn.Answers)
		if got := walker.Walk(drawn); lands(got) {
			return drawn, got, true
		}
	}
	return in, r, false
}
