package finding_test

import (
	"context"
	"encoding/json"
	"fmt"
	"maps"
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"omphalos/core/decimal"
	"omphalos/core/edit"
	"omphalos/core/finding"
	"omphalos/core/odds"
	"omphalos/core/quiz"
	"omphalos/core/quiztest"
)

// plain is a quiz of which nothing is found: two questions on one scale, two bands.
func plain() quiztest.Maker {
	m := quiztest.New("no", "yes")
	m.Scale("need", quiz.Sum).Name = "Need"
	m.Ask("crop", quiz.Single, "apples need=4", "pears need=1", "plums need=0").Required = true
	m.Ask("when", quiz.Single, "now need=3", "later need=0").Required = true
	m.Bands("need", "no", "4=yes")
	for _, o := range m.Outcomes {
		o.Headline = "Bees"
	}
	return m
}

func is(question, answer string) *quiz.Condition {
	return &quiz.Condition{
		Subject: quiz.Subject{Answer: question},
		Test:    quiz.Test{Op: quiz.Is, Value: quiz.Words(answer)},
	}
}

func atLeast(n int64) *quiz.Condition {
	return &quiz.Condition{
		Subject: quiz.Subject{Scale: "need"},
		Test:    quiz.Test{Op: quiz.AtLeast, Value: quiz.Amount(decimal.FromInt(n))},
	}
}

// best is a rehearsal that gets yes.
func best(must string) map[string]*quiz.Rehearsal {
	answers := map[string]*quiz.Given{"crop": {Values: []string{"apples"}}, "when": {Values: []string{"now"}}}
	return map[string]*quiz.Rehearsal{"best": {Name: "The best", Answers: answers, Outcome: must}}
}

func tableOf(rules ...map[string]string) quiz.Step {
	s := quiz.Step{
		Kind: quiz.TableStep,
		Columns: map[string]*quiz.Column{
			"crop": {Subject: quiz.Subject{Answer: "crop"}},
			"when": {Order: 1, Subject: quiz.Subject{Answer: "when"}},
		},
		Rules: map[string]*quiz.TableRule{},
	}
	for i, cells := range rules {
		r := &quiz.TableRule{Order: float64(i), Outcome: "yes", Cells: map[string]*quiz.Test{}}
		for k, answer := range cells {
			r.Cells[k] = &quiz.Test{Op: quiz.Is, Value: quiz.Words(answer)}
		}
		s.Rules[fmt.Sprintf("r%d", i)] = r
	}
	return s
}

// A sample is a change of the plain quiz that makes it have a finding, at a place,
// and one that comes near but does not; what is said; and whether it can be mended.
type sample struct {
	code, pointer string
	has, near     func(m quiztest.Maker)
	says          string
	mends         bool
}

var samples = []sample{
	{"unreachable-outcome", "/outcomes/maybe",
		func(m quiztest.Maker) { outcome(m, "maybe") },
		func(m quiztest.Maker) {
			outcome(m, "maybe")
			m.Questions["when"].Answers["later"].Then = &quiz.Then{Go: quiz.ToOutcome, To: "maybe"}
		},
		"Nobody can get “maybe”: no band, rule, leader or answer leads to it.", false},
	{"unreachable-outcome", "/outcomes/maybe",
		func(m quiztest.Maker) {
			outcome(m, "maybe")
			m.Decision.Steps["step_a"].Cuts["high"] = &quiz.Cut{At: decimal.FromInt(8), Outcome: "maybe"}
		},
		func(m quiztest.Maker) {
			outcome(m, "maybe")
			m.Decision.Steps["step_a"].Cuts["high"] = &quiz.Cut{At: decimal.FromInt(7), Outcome: "maybe"}
		},
		"Nobody can get “maybe”: its band is out of reach, Need goes from 0 to 7.", false},
	{"unreachable-landing", "/outcomes/yes/landings/never",
		func(m quiztest.Maker) {
			m.Outcomes["yes"].Landings["never"] = &quiz.Landing{Order: -1, Kind: quiz.PageLanding, When: atLeast(8)}
		},
		func(m quiztest.Maker) {
			m.Outcomes["yes"].Landings["never"] = &quiz.Landing{
				Order: -1,
				Kind:  quiz.PageLanding,
				When: &quiz.Condition{
					Subject: quiz.Subject{Visitor: "country"}, Test: quiz.Test{Op: quiz.Is, Value: quiz.Words("IE")}},
			}
		},
		"Nobody with “yes” lands here: Need is at least 8, and that never happens. Need goes from 0 " +
			"to 7 at the end.", true},
	{"unreachable-question", "/questions/when",
		func(m quiztest.Maker) {
			m.Questions["when"].ShowWhen = &quiz.Condition{
				All: []*quiz.Condition{is("crop", "apples"), is("crop", "pears")},
			}
		},
		func(m quiztest.Maker) {
			m.Questions["when"].ShowWhen = &quiz.Condition{
				Any: []*quiz.Condition{is("crop", "apples"), is("crop", "pears")},
			}
		},
		"Nobody comes to “when”: it shows when “crop” is “apples” and “crop” is " +
			"“pears”, and that never happens. “crop” takes one answer only.", true},
	{"unreachable-question", "/questions/when",
		func(m quiztest.Maker) {
			for _, a := range m.Questions["crop"].Answers {
				a.Then = &quiz.Then{Go: quiz.Decide}
			}
		},
		func(m quiztest.Maker) { m.Questions["crop"].Answers["apples"].Then = &quiz.Then{Go: quiz.Decide} },
		"Nobody comes to “when”: all ways lead past it, or end before.", false},
	{"unreachable-answer", "/questions/size/weigh/need/brackets/huge",
		func(m quiztest.Maker) { number(m, "huge", 501) },
		func(m quiztest.Maker) { number(m, "huge", 500) },
		"“size”: nothing that can be answered is in the bracket from 501; values go from 0 to 500.", true},
	{"unreachable-answer", "/questions/size/weigh/need/brackets/odd",
		func(m quiztest.Maker) { stepped(m, 41, 49) },
		func(m quiztest.Maker) { stepped(m, 41, 51) },
		"“size”: nothing that can be answered is in the bracket from 41 to below 49; values go from " +
			"0 to 500, in steps of 10.", true},
	{"unreachable-outcome", "/outcomes/maybe", // by bounds, where the odds are a sample
		func(m quiztest.Maker) { huge(m, 508) },
		func(m quiztest.Maker) { huge(m, 507) },
		"Nobody can get “maybe”: its band is out of reach, Need can't leave 0 to 507.", false},
	{"expectation-misfit", "/questions/wants/expect",
		func(m quiztest.Maker) { wants(m, 90, 80, 70) },
		func(m quiztest.Maker) { wants(m, 90, 60, 50) },
		"“wants”: these expectations can't be had where 1 to 2 are picked. The nearest that can: " +
			"“fruit” 76.7 %, “honey” 66.7 %, “calm” 56.7 %; the odds are told with them.", true},
	{"tie-never-settled", "/decision/steps/step_b/ties",
		func(m quiztest.Maker) {
			leader(m, "a rival=1", "b rival=2")
			m.Decision.Steps["step_b"].Lead = new(decimal.Decimal)
			m.Decision.Steps["step_b"].Ties = &quiz.Ties{By: quiz.TieOutcome, Outcome: "no"}
			*m.Decision.Steps["step_b"].Lead = decimal.One
		},
		func(m quiztest.Maker) {
			leader(m, "a rival=1", "b rival=2")
			m.Decision.Steps["step_b"].Ties = &quiz.Ties{By: quiz.TieOutcome, Outcome: "no"}
		},
		"A tie is never settled here: the step asks for a lead of 1, which those who are tied have not, " +
			"so they go on to “otherwise”.", true},
	{"range-end", "/scales/need",
		func(m quiztest.Maker) { open(m, 100) },
		func(m quiztest.Maker) { open(m, 1) },
		"Need can go beyond ±9.2 × 10¹², the end of what is counted with: a respondent who answers " +
			"so is told that the number is too large. Give the numbers that it counts limits.", false},
	{"own-amounts", "/questions/habits/rows/mow/adds",
		func(m quiztest.Maker) { rows(m, "often") },
		func(m quiztest.Maker) { rows(m, "often", "rarely") },
		"“habits”: the row “mow” has amounts of its own on Need, so that “rarely” add " +
			"nothing to it there. Give the row an amount for each column.", false},
	{"never-holds", "/questions/when/showWhen",
		func(m quiztest.Maker) {
			m.Questions["when"].ShowWhen = &quiz.Condition{
				All: []*quiz.Condition{is("crop", "apples"), is("crop", "pears")},
			}
		},
		func(m quiztest.Maker) {
			m.Questions["when"].ShowWhen = &quiz.Condition{
				Any: []*quiz.Condition{is("crop", "apples"), is("crop", "pears")},
			}
		},
		"This never holds: “crop” is “apples” and “crop” is “pears”. “crop” takes " +
			"one answer only; “any” was meant where “all” stands.", true},
	{"never-holds", "/decision/steps/step_b/when",
		func(m quiztest.Maker) { rule(m, -1, atLeast(8)) },
		func(m quiztest.Maker) { rule(m, -1, atLeast(7)) },
		"Need is at least 8 never happens: Need goes from 0 to 7.", false},
	{"never-holds", "/questions/crop/then/t/when",
		func(m quiztest.Maker) { then(m, atLeast(5)) },
		func(m quiztest.Maker) { then(m, atLeast(4)) },
		"After “crop” a rule leads on when Need is at least 5: that never happens. Before that " +
			"question Need has not come so far.", true},
	{"always-holds", "/questions/when/showWhen",
		func(m quiztest.Maker) { m.Questions["when"].ShowWhen = atLeast(0) },
		func(m quiztest.Maker) { m.Questions["when"].ShowWhen = atLeast(1) },
		"“when” shows when Need is at least 0: that is always so for those who come this far.", true},
	{"always-holds", "/questions/crop/then/t/when",
		func(m quiztest.Maker) { then(m, atLeast(0)) },
		func(m quiztest.Maker) { then(m, atLeast(1)) },
		"After “crop” a rule leads on when Need is at least 0: that is always so.", true},
	{"band-out-of-reach", "/decision/steps/step_a/cuts/high",
		func(m quiztest.Maker) {
			m.Decision.Steps["step_a"].Cuts["high"] = &quiz.Cut{At: decimal.FromInt(8), Outcome: "yes"}
		},
		func(m quiztest.Maker) {
			m.Decision.Steps["step_a"].Cuts["high"] = &quiz.Cut{At: decimal.FromInt(7), Outcome: "yes"}
		},
		"The band from 8 for “yes” is out of reach: Need goes from 0 to 7.", true},
	{"band-out-of-reach", "/decision/steps/step_a/lowest",
		func(m quiztest.Maker) { m.Decision.Steps["step_a"].Cuts["cut_a"].At = 0 },
		func(m quiztest.Maker) { m.Decision.Steps["step_a"].Cuts["cut_a"].At = decimal.One },
		"The band below 0 for “no” is out of reach: Need goes from 0 to 7.", true},
	{"shadowed", "/decision/steps/step_b/rules/r1",
		func(m quiztest.Maker) {
			table(m, map[string]string{"crop": "apples"}, map[string]string{"crop": "apples", "when": "now"})
		},
		func(m quiztest.Maker) {
			table(m, map[string]string{"crop": "apples", "when": "now"}, map[string]string{"crop": "apples"})
		},
		"Row 2 of the table never decides: the rows before it take all that it asks for.", true},
	{"shadowed", "/decision/steps/step_b",
		func(m quiztest.Maker) { rule(m, 1, is("crop", "apples")) },
		func(m quiztest.Maker) { rule(m, -1, is("crop", "apples")) },
		"The rule for “yes” never decides: whenever “crop” is “apples”, a step before it has " +
			"named an outcome.", true},
	{"not-covered", "/decision/steps/step_b",
		func(m quiztest.Maker) {
			delete(m.Decision.Steps, "step_a")
			table(m, map[string]string{"crop": "apples"}, map[string]string{"when": "now"})
		},
		func(m quiztest.Maker) {
			delete(m.Decision.Steps, "step_a")
			table(
				m,
				map[string]string{"crop": "apples"},
				map[string]string{"when": "now"},
				map[string]string{"when": "later"},
			)
		},
		"The table covers 4 of 6 combinations; the other 2 go to “otherwise”: “crop” is one of " +
			"“pears”, “plums” and “when” is “later”.", true},
	{"not-covered", "/decision/steps",
		func(m quiztest.Maker) {
			delete(m.Decision.Steps, "step_a")
			rule(m, 1, is("crop", "apples"))
			m.Decide(quiz.Step{Kind: quiz.RuleStep, Outcome: "no", When: is("crop", "pears")})
		},
		func(m quiztest.Maker) {
			rule(m, -1, is("crop", "apples"))
			rule(m, -2, is("crop", "pears"))
		},
		"The rules cover 2 of 3 combinations; the other 1 go to “otherwise”: “crop” is “plums”.", true},
	{"changes-nothing", "/questions/idle",
		func(m quiztest.Maker) { m.Ask("idle", quiz.YesNo, "yes", "no") },
		func(m quiztest.Maker) {
			m.Ask("idle", quiz.YesNo, "yes", "no").Required = true
			m.Outcomes["yes"].Text = "You said {idle}."
		},
		"“idle” changes nothing: its answers weigh nothing, lead nowhere and nothing asks for them. " +
			"Every question costs respondents; weigh it or leave it out.", false},
	{"unweighted", "/questions/crop/answers/plums/adds",
		func(m quiztest.Maker) { m.Questions["crop"].Answers["plums"].Adds = nil },
		func(m quiztest.Maker) { m.Questions["crop"].Answers["plums"].Adds = quiztest.Amounts("need=0") },
		"“crop”: “plums” has no weight, and other answers do.", true},
	{"nearly-everybody", "/outcomes/yes",
		func(m quiztest.Maker) {
			m.Decision.Steps["step_a"].Cuts["cut_a"].At = decimal.One
			expect(m, 16, 30)
		},
		func(m quiztest.Maker) {
			m.Decision.Steps["step_a"].Cuts["cut_a"].At = decimal.One
			expect(m, 17, 30)
		},
		"“yes” takes 95 % of respondents: the quiz sorts hardly anybody out.", false},
	{"nearly-nobody", "/outcomes/no",
		func(m quiztest.Maker) {
			m.Decision.Steps["step_a"].Cuts["cut_a"].At = decimal.One
			expect(m, 3, 30)
		},
		func(m quiztest.Maker) {
			m.Decision.Steps["step_a"].Cuts["cut_a"].At = decimal.One
			expect(m, 4, 30)
		},
		"“no” takes under 1 % of respondents, if they answer as expected.", false},
	{"ties", "/decision/steps/step_b",
		func(m quiztest.Maker) { leader(m, "a rival=1", "b need=1") },
		func(m quiztest.Maker) { leader(m, "a rival=8", "b need=9") },
		"17 % of respondents have no single leader here: the answers pull alike. Give one of them more weight.", false},
	{"fill-in-missing", "/outcomes/yes/text",
		func(m quiztest.Maker) {
			m.Outcomes["yes"].Text = "For your {crop}."
			m.Questions["crop"].Required = false
			m.Questions["when"].Answers["now"].Adds = quiztest.Amounts("need=4")
		},
		func(m quiztest.Maker) {
			m.Outcomes["yes"].Text = "For your {crop}." // who gets it has answered
			m.Questions["crop"].Required = false
		},
		"“yes” fills in the answer to “crop”, which respondents may pass by: nothing would stand there.", true},
	{"fill-in-missing", "/questions/when/label",
		func(m quiztest.Maker) {
			m.Questions["crop"].Required = false
			m.Questions["when"].Label = "When do the {crop} bloom?"
		},
		func(m quiztest.Maker) {
			m.Questions["crop"].Required = false
			m.Questions["when"].Label = "When do the {crop} bloom?"
			m.Questions["when"].ShowWhen = atLeast(1)
		},
		"“When do the {crop} bloom?” fills in the answer to “crop”, which respondents may pass " +
			"by: nothing would stand there.", true},
	{"contact-unasked", "/contact/when",
		func(m quiztest.Maker) { contact(m, quiz.PartWays) },
		func(m quiztest.Maker) { contact(m, quiz.ToOutcome) },
		"Contact is asked for with “far”, but all who get it part ways: nothing is kept of them, and " +
			"they are not asked.", false},
	{"signpost-missing", "/outcomes/yes/landings/page/signpost",
		func(m quiztest.Maker) { signpost(m, "north") },
		func(m quiztest.Maker) { signpost(m, "south") },
		"There is no signpost “north” in the table “yards”: respondents get the page instead.", false},
	{"product-missing", "/outcomes/yes/landings/page/products/named/1",
		func(m quiztest.Maker) { products(m, "hive", "smoker") },
		func(m quiztest.Maker) { products(m, "hive", "hive") },
		"The catalogue has no product “smoker”: respondents do not see it.", true},
	{"receiver-missing", "/followUps/out/receiver",
		func(m quiztest.Maker) { goesOut(m, quiz.FollowUp{Kind: quiz.CallFollowUp, Receiver: "diary"}) },
		func(m quiztest.Maker) { goesOut(m, quiz.FollowUp{Kind: quiz.CallFollowUp, Receiver: "book"}) },
		"There is no receiver diary. Choose another one, or make it under Outbox.", false},
	{"list-missing", "/followUps/out/list",
		func(m quiztest.Maker) { goesOut(m, quiz.FollowUp{Kind: quiz.ListFollowUp, List: "news"}) },
		func(m quiztest.Maker) { goesOut(m, quiz.FollowUp{Kind: quiz.ListFollowUp, List: "letter"}) },
		"There is no list news. Choose another one, or make it under Outbox.", false},
	{"mail-unset", "/followUps/out",
		func(m quiztest.Maker) { goesOut(m, quiz.FollowUp{Kind: quiz.NoticeFollowUp, Subject: "A lead"}) },
		func(m quiztest.Maker) {
			goesOut(m, quiz.FollowUp{Kind: quiz.NoticeFollowUp, Subject: "A lead", Off: true})
		},
		"Mail waits until a mail server is named under Outbox.", false},
	{"untranslated", "/translations/de",
		func(m quiztest.Maker) {
			m.Translations = map[string]quiz.Translations{"de": {"/title": {Text: "Ein Quiz", Of: m.Title}}}
		},
		func(m quiztest.Maker) { inGerman(m) },
		"10 texts have no words in German yet: they are shown as they were written.", false},
	{"translation-old", "/translations/de",
		func(m quiztest.Maker) {
			inGerman(m)["/title"] = quiz.Translated{Text: "Ein Quiz", Of: "It was called otherwise"}
		},
		func(m quiztest.Maker) { inGerman(m) }, "One text has changed since it was put into German.", false},
	{"days-over", "/questions/when/limits",
		func(m quiztest.Maker) { date(m, "2026-01-01") },
		func(m quiztest.Maker) { date(m, "2027-01-01") },
		"“when” can't be answered today: no day lies within all of its limits. Move them, or take one away.", false},
	{"calendar-missing", "/questions/when/table",
		func(m quiztest.Maker) { m.Ask("when", quiz.Appointment).Table = "calls" },
		func(m quiztest.Maker) { m.Ask("when", quiz.Appointment).Table = "visits" },
		"“when” offers times of the calendar “calls”, which has no hours: respondents can't " +
			"choose one. Give it hours under Calendars.", false},
	{"places-missing", "/questions/where/table",
		func(m quiztest.Maker) { m.Ask("where", quiz.Location).Table = "shops" },
		func(m quiztest.Maker) { m.Ask("where", quiz.Location).Table = "yards" },
		"“where” offers the places of the table “shops”, which has none: respondents can't answer.", false},
	{"rehearsal-broken", "/rehearsals/best",
		func(m quiztest.Maker) { m.Rehearsals = best("no") },
		func(m quiztest.Maker) { m.Rehearsals = best("yes") },
		"The rehearsal “The best” must get “no”, and gets “yes”.", true},
	{"asked-not-kept", "/contact",
		func(m quiztest.Maker) {
			m.Settings = &quiz.Settings{Anonymous: true}
			m.Contact = &quiz.Contact{Place: quiz.BeforeResult,
				Fields: map[string]*quiz.Question{"mail": {Kind: quiz.Email, Label: "Mail"}}}
		},
		func(m quiztest.Maker) {
			m.Contact = &quiz.Contact{Place: quiz.BeforeResult,
				Fields: map[string]*quiz.Question{"mail": {Kind: quiz.Email, Label: "Mail"}}}
		},
		"The quiz is anonymous: contact is not asked for.", true},
	{"asked-not-kept", "/questions/mail",
		func(m quiztest.Maker) { m.Settings = &quiz.Settings{Anonymous: true}; m.Ask("mail", quiz.Email) },
		func(m quiztest.Maker) { m.Ask("mail", quiz.Email) },
		"The quiz is anonymous: the answer to “mail” says who somebody is, and is not kept.", false},
	{"score-unfed", "/decision/steps/step_a/scale",
		func(m quiztest.Maker) {
			m.Scale("other", quiz.Sum).Name = "Other"
			m.Decision.Steps["step_a"].Scale = "other"
		},
		func(m quiztest.Maker) { m.Scale("other", quiz.Sum).Name = "Other" },
		"Other decides, and nothing adds to it: everybody gets the same. Weigh answers in its column.", false},
	{"outcome-wordless", "/outcomes/yes/headline",
		func(m quiztest.Maker) { m.Outcomes["yes"].Headline = " " },
		func(m quiztest.Maker) { m.Outcomes["yes"].Headline, m.Outcomes["yes"].Text = "", "See you." },
		"Respondents with “yes” see a page without words: write a headline, or what they can do next.", false},
	{"sample-address", "/outcomes/yes/landings/page/address",
		func(m quiztest.Maker) {
			m.Outcomes["yes"].Landings = map[string]*quiz.Landing{"page": {Kind: quiz.RedirectLanding,
				Address: "https://www.Example.com/x{?crop}"}}
		},
		func(m quiztest.Maker) {
			m.Outcomes["yes"].Landings = map[string]*quiz.Landing{"page": {Kind: quiz.RedirectLanding,
				Address: "https://quillbrook.example/x"}}
		},
		"This leads to example.com, which is nobody’s: put the address of your own page here.", false},
	{"country-untold", "/decision/steps/ie/when/all/0",
		func(m quiztest.Maker) {
			m.Decision.Steps["ie"] = &quiz.Step{Order: -1, Kind: quiz.RuleStep, Outcome: "yes",
				When: &quiz.Condition{All: []*quiz.Condition{
					{Subject: quiz.Subject{Visitor: "country"}, Test: quiz.Test{Op: quiz.Is,
						Value: quiz.Words("IE")}}, is("when", "now")}}}
		},
		func(m quiztest.Maker) {
			m.Decision.Steps["ie"] = &quiz.Step{Order: -1, Kind: quiz.RuleStep, Outcome: "yes",
				When: &quiz.Condition{All: []*quiz.Condition{
					{Subject: quiz.Subject{Visitor: "language"}, Test: quiz.Test{Op: quiz.Is,
						Value: quiz.Words("en")}}, is("when", "now")}}}
		},
		"This asks for the visitor’s country, which this server can’t tell: it was started without a " +
			"database of countries (omphalos serve --countries). It is never known here.", false},
	{"person-unknown", "/settings/repeats/by",
		func(m quiztest.Maker) {
			m.Settings = &quiz.Settings{Repeats: &quiz.Repeats{By: quiz.ByPerson, Most: 1}}
		},
		func(m quiztest.Maker) {
			m.Settings = &quiz.Settings{Repeats: &quiz.Repeats{By: quiz.ByPerson, Most: 1}}
			m.Ask("mail", quiz.Email)
		},
		"How often a person may take it goes by an invitation, an e-mail address or a telephone number: " +
			"nothing asks for those before the result. Who comes without an invitation is told apart by the device.", true},
	{"contrast", "/look/ink",
		func(m quiztest.Maker) { m.Look = &quiz.Look{Colours: quiz.Colours{Ink: "#777777", Paper: "#ffffff"}} },
		func(m quiztest.Maker) { m.Look = &quiz.Look{Colours: quiz.Colours{Ink: "#767676", Paper: "#ffffff"}} },
		"Text in #777777 is hard to see on #ffffff: the contrast is 4.4 to 1, and should be 4.5 to 1.", true},
	{"many-questions", "/questions",
		func(m quiztest.Maker) { ask(m, 9) },
		func(m quiztest.Maker) { ask(m, 8) },
		"Respondents are asked 11.0 questions on average. Every further one costs finishes; a handful is " +
			"common practice.", false},
	{"picture-elsewhere", "/questions/crop/picture",
		func(m quiztest.Maker) {
			m.Questions["crop"].Picture = &quiz.Picture{Source: "https://example.org/tree.png", Description: "A tree"}
		},
		func(m quiztest.Maker) {
			m.Questions["crop"].Picture = &quiz.Picture{Source: "/tree.png", Description: "A tree"}
		},
		"The picture of “crop” is on another site, from where it is not shown: save it, and take it in here.", true},
	{"picture-undescribed", "/questions/crop/picture/description",
		func(m quiztest.Maker) { m.Questions["crop"].Picture = &quiz.Picture{Source: "/tree.png"} },
		func(m quiztest.Maker) {
			m.Questions["crop"].Picture = &quiz.Picture{Source: "/tree.png", Description: "A tree"}
		},
		"The picture of “crop” has no description: say what it shows, for those who can't see it.", false},
	{"long-list", "/questions/county/kind",
		func(m quiztest.Maker) { county(m, 10) },
		func(m quiztest.Maker) { county(m, 9) },
		"“county” has 10 answers: a drop-down is shorter on a phone.", true},
	{"stale-expectation", "/questions/crop/expect/cherries",
		func(m quiztest.Maker) {
			m.Questions["crop"].Expect = map[string]decimal.Decimal{"cherries": decimal.FromInt(40)}
		},
		func(m quiztest.Maker) {
			m.Questions["crop"].Expect = map[string]decimal.Decimal{"plums": decimal.FromInt(40)}
		},
		"“crop” expects the answer “cherries”, which is not there.", true},
	{"otherwise", "/decision/otherwise",
		func(m quiztest.Maker) { m.Decision.Otherwise = "" },
		func(m quiztest.Maker) {},
		"Decision: say which outcome it is when no step names one.", true},
	{"landing", "/outcomes/yes/landings",
		func(m quiztest.Maker) { m.Outcomes["yes"].Landings = nil },
		func(m quiztest.Maker) {},
		"“yes”: the outcome lands nowhere; give it a page or an address.", true},
	{"backwards", "/questions/when/answers/now/then/to",
		func(m quiztest.Maker) {
			m.Questions["when"].Answers["now"].Then = &quiz.Then{Go: quiz.ToQuestion, To: "crop"}
		},
		func(m quiztest.Maker) {
			m.Questions["crop"].Answers["pears"].Then = &quiz.Then{Go: quiz.ToQuestion, To: "when"}
		},
		"“when”, answer “now”: leads back to “crop”; a passage only goes forward.", true},
	{"unknown", "/questions/when/answers/now/adds/greed",
		func(m quiztest.Maker) { m.Questions["when"].Answers["now"].Adds = quiztest.Amounts("greed=1") },
		func(m quiztest.Maker) {},
		"“when”, answer “now”: adds to the scale \"greed\", which does not exist.", true},
}

func outcome(m quiztest.Maker, key string) {
	m.Outcomes[key] = &quiz.Outcome{
		Order:    9,
		Name:     key,
		Landings: map[string]*quiz.Landing{"page": {Kind: quiz.PageLanding}},
	}
}

func rule(m quiztest.Maker, order float64, when *quiz.Condition) {
	m.Decide(quiz.Step{Kind: quiz.RuleStep, Outcome: "yes", When: when}).Order = order
}

func then(m quiztest.Maker, when *quiz.Condition) {
	m.Questions["crop"].Then = map[string]*quiz.ThenRule{"t": {When: when, Then: quiz.Then{Go: quiz.Decide}}}
}

func table(m quiztest.Maker, rules ...map[string]string) {
	m.Decide(tableOf(rules...))
	m.Decision.Steps["step_b"] = m.Decision.Steps["step_"+string(rune('a'+len(m.Decision.Steps)-1))]
	m.Decision.Steps["step_b"].Order = -1
	if len(m.Decision.Steps) == 2 && m.Decision.Steps["step_a"] == m.Decision.Steps["step_b"] {
		delete(m.Decision.Steps, "step_a")
	}
}

func number(m quiztest.Maker, key string, from int64) {
	q := m.Ask("size", quiz.Number)
	q.Required, q.Limits = true, &quiz.Limits{Low: quiztest.NumberBound(0), High: quiztest.NumberBound(500)}
	q.Weigh = map[string]*quiz.Weighing{
		"need": {
			Brackets: map[string]*quiz.Bracket{"small": {}, key: {From: quiztest.NumberBound(from), Adds: decimal.One}},
		},
	}
}

// stepped weighs a number in steps of ten by brackets from and to.
func stepped(m quiztest.Maker, from, to int64) {
	ten := decimal.FromInt(10)
	q := m.Ask("size", quiz.Number)
	q.Required, q.Limits = true, &quiz.Limits{Low: quiztest.NumberBound(0), High: quiztest.NumberBound(500), Step: &ten}
	q.Weigh = map[string]*quiz.Weighing{
		"need": {
			Brackets: map[string]*quiz.Bracket{
				"small": {},
				"odd":   {From: quiztest.NumberBound(from), Adds: decimal.One},
				"rest":  {From: quiztest.NumberBound(to)},
			},
		},
	}
}

// huge adds a number of more values than are counted one by one, two of them so that no
// sum of theirs can be, and a band from a score on.
func huge(m quiztest.Maker, from int64) {
	half := decimal.One / 2
	for _, key := range []string{"size", "width"} {
		q := m.Ask(key, quiz.Number)
		q.Limits = &quiz.Limits{Low: quiztest.NumberBound(0), High: quiztest.NumberBound(500)}
		q.Weigh = map[string]*quiz.Weighing{"need": {Factor: &half}}
	}
	outcome(m, "maybe")
	m.Decision.Steps["step_a"].Cuts["high"] = &quiz.Cut{At: decimal.FromInt(from), Outcome: "maybe"}
}

// open adds a number without limits.
func open(m quiztest.Maker, factor int64) {
	times := decimal.FromInt(factor)
	m.Ask("size", quiz.Number).Weigh = map[string]*quiz.Weighing{"need": {Factor: &times}}
}

// wants asks for one or two of three, which are expected so often.
func wants(m quiztest.Maker, percents ...int64) {
	q := m.Ask("wants", quiz.Several, "fruit need=1", "honey need=1", "calm need=1")
	q.Required, q.Picks, q.Expect = true, &quiz.Picks{Max: 2}, map[string]decimal.Decimal{}
	for i, key := range []string{"fruit", "honey", "calm"} {
		q.Expect[key] = decimal.FromInt(percents[i])
	}
}

// rows adds a grid of which one row has amounts of its own in some columns.
func rows(m quiztest.Maker, own ...string) {
	q := m.Ask("habits", quiz.Grid, "rarely need=1", "often need=2")
	q.Rows = map[string]*quiz.Row{"mow": {Label: "mow", Adds: map[string]map[string]decimal.Decimal{}}}
	for _, k := range own {
		q.Rows["mow"].Adds[k] = quiztest.Amounts("need=3")
	}
}

// expect says how many answer what weighs nothing, to both questions.
func expect(m quiztest.Maker, plums, later int64) {
	m.Questions["crop"].Expect = map[string]decimal.Decimal{"plums": decimal.FromInt(plums)}
	m.Questions["when"].Expect = map[string]decimal.Decimal{"later": decimal.FromInt(later)}
}

func leader(m quiztest.Maker, answers ...string) {
	m.Scale("rival", quiz.Sum)
	m.Ask("more", quiz.Single, answers...).Required = true
	delete(m.Decision.Steps, "step_a")
	m.Decision.Steps["step_b"] = &quiz.Step{
		Kind:       quiz.LeaderStep,
		Contenders: map[string]*quiz.Contender{"need": {Outcome: "yes"}, "rival": {Outcome: "no"}},
	}
	for _, q := range []string{"crop", "when"} {
		for _, a := range m.Questions[q].Answers {
			a.Adds["need"] = a.Adds["need"].Div(decimal.FromInt(2))
		}
	}
	m.Questions["crop"].Answers["pears"].Adds["need"] = decimal.One
	m.Questions["when"].Answers["now"].Adds["need"] = 0
}

func contact(m quiztest.Maker, way quiz.Way) {
	outcome(m, "far")
	m.Questions["when"].Answers["later"].Then = &quiz.Then{Go: way, To: "far"}
	m.Contact = &quiz.Contact{
		Place:  quiz.AfterResult,
		Fields: map[string]*quiz.Question{"mail": {Kind: quiz.Email, Label: "E-mail"}},
		When: &quiz.Condition{
			Subject: quiz.Subject{Outcome: true},
			Test:    quiz.Test{Op: quiz.Is, Value: quiz.Words("far")},
		},
	}
}

func signpost(m quiztest.Maker, row string) {
	m.Outcomes["yes"].Landings["page"] = &quiz.Landing{
		Kind:     quiz.RedirectLanding,
		Signpost: &quiz.Signpost{Table: "yards", Row: row},
	}
}

func goesOut(m quiztest.Maker, f quiz.FollowUp) {
	m.FollowUps = map[string]*quiz.FollowUp{"out": &f}
}

func products(m quiztest.Maker, keys ...string) {
	l := &quiz.Landing{Kind: quiz.ProductsLanding, Products: &quiz.Products{}}
	for _, k := range keys {
		l.Products.Named = append(l.Products.Named, quiz.Named{Key: k})
	}
	m.Outcomes["yes"].Landings["page"] = l
}

func ask(m quiztest.Maker, more int) {
	for i := range more {
		m.Ask(fmt.Sprintf("q%d", i), quiz.Single, "a need=0.01", "b need=0").Required = true
	}
}

func county(m quiztest.Maker, n int) {
	var answers []string
	for i := range n {
		answers = append(answers, fmt.Sprintf("c%d need=0.0%d", i, i%3))
	}
	m.Ask("county", quiz.Single, answers...).Required = true
}

var outside = finding.Outside{
	Signpost: func(table, row string) bool { return table == "yards" && row == "south" },
	Product:  func(key string) bool { return key == "hive" },
	Places:   func(table string) bool { return table == "yards" },
	Calendar: func(name string) bool { return name == "visits" },
	Receiver: func(key string) bool { return key == "book" },
	List:     func(key string) bool { return key == "letter" },
	Mailless: true,
	Lost:     true,
	Today:    20783 * decimal.One, // 2026-11-26
}

// date asks for a day from tomorrow until another.
func date(m quiztest.Maker, until string) {
	tomorrow := 1
	day, _ := quiz.ParseDay(until)
	m.Ask("when", quiz.Date).Limits = &quiz.Limits{Soonest: &tomorrow, High: quiz.DayBound(day)}
}

// found returns the findings of a written quiz.
func found(t *testing.T, document []byte) []finding.Finding {
	t.Helper()
	q, err := quiz.Read(document)
	require.NoError(t, err)
	list, _, _ := finding.Of(q, odds.Options{}, outside)
	return list
}

func with(list []finding.Finding, code string, pointer quiz.Pointer) *finding.Finding {
	i := slices.IndexFunc(list, func(f finding.Finding) bool { return f.Code == code && f.Pointer == pointer })
	if i < 0 {
		return nil
	}
	return &list[i]
}

func TestNothingIsFoundInAPlainQuiz(t *testing.T) {
	assert.Empty(t, found(t, plain().Write()))
}

// Each finding: one quiz has it and a near miss has not; the patch that it offers
// makes it go away.
func TestEachFinding(t *testing.T) {
	tested := map[string]bool{"odds-untold": true} // by TestOddsThatTakeTooLong
	for _, s := range samples {
		tested[s.code] = true
		t.Run(s.code+" "+s.pointer, func(t *testing.T) {
			m := plain()
			s.near(m)
			assert.Nil(t, with(found(t, m.Write()), s.code, quiz.Pointer(s.pointer)), "the near miss")
			m = plain()
			s.has(m)
			list := found(t, m.Write())
			f := with(list, s.code, quiz.Pointer(s.pointer))
			require.NotNil(t, f, "%+v", list)
			assert.Equal(t, s.says, f.Sentence)
			require.Equal(t, s.mends, f.Mend != nil)
			if f.Mend == nil {
				return
			}
			assert.NotEmpty(t, f.Mend.Label)
			patch, err := json.Marshal(f.Mend.Patch)
			require.NoError(t, err)
			change, err := edit.Apply(m.Write(), patch)
			require.NoError(t, err, "%s", patch)
			assert.Nil(t, with(found(t, change.Document), s.code, quiz.Pointer(s.pointer)), "after the mend %s", patch)
		})
	}
	for code := range finding.Codes {
		assert.True(t, tested[code], "%s has no test", code)
	}
}

// Where there is no time for the odds, what can be told without them is, and that they
// are missing.
// What is out of reach of a date that today bounds is found, and the way there is not among
// the odds; what is asked on a day that nobody tells is told as of any day.
func TestOddsAreThoseOfToday(t *testing.T) {
	m := plain()
	date(m, "2027-01-01")
	m.Decision.Steps["early"] = &quiz.Step{Order: 0, Kind: quiz.RuleStep, Outcome: "no",
		When: &quiz.Condition{Subject: quiz.Subject{Answer: "when"}, Test: quiz.Test{Op: quiz.LessThan,
			Value: quiz.Words("2026-11-27")}}}
	q, err := quiz.Read(m.Write())
	require.NoError(t, err)
	list, p, o := finding.Of(q, odds.Options{}, outside)
	require.NotNil(t, o)
	never := with(list, "never-holds", "/decision/steps/early/when")
	require.NotNil(t, never, "%v", list)
	assert.Zero(t, o.Steps["early"])
	assert.Nil(t, p.Question(p.Position("when")).Limits.Low, "what is compiled is the quiz as it is kept")
	list, _, _ = finding.Of(q, odds.Options{}, finding.Outside{})
	assert.Nil(t, with(list, "never-holds", "/decision/steps/early/when"), "a day before can be given some day")
}

func TestOddsThatTakeTooLong(t *testing.T) {
	ctx, stop := context.WithCancel(t.Context())
	stop()
	m := plain()
	county(m, 12)
	list, p, o := finding.Of(m.Quiz, odds.Options{Context: ctx}, outside)
	assert.NotNil(t, p)
	assert.Nil(t, o)
	assert.NotNil(t, with(list, "long-list", "/questions/county/kind"))
	require.NotNil(t, with(list, "odds-untold", ""))
}

// Whatever a quiz looks like: findings have a known code and level, a sentence and a
// place that is there, and mends can be applied.
func TestFindingsOfAnyQuiz(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		m := quiztest.Draw(t, quiztest.Limits{Questions: 6, Answers: 4})
		list, _, o := finding.Of(m.Quiz, odds.Options{}, finding.Outside{})
		require.NotNil(t, o)
		for _, f := range list {
			require.Contains(t, slices.Collect(maps.Keys(finding.Codes)), f.Code)
			require.Equal(t, finding.Codes[f.Code].Level, f.Level)
			require.NotContains(t, f.Sentence, "%!", f.Code)
			if f.Mend != nil {
				patch, err := json.Marshal(f.Mend.Patch)
				require.NoError(t, err)
				_, err = edit.Apply(m.Write(), patch)
				require.NoError(t, err, "%s %s", f.Code, patch)
			}
		}
	})
}

// inGerman puts all of a quiz into German.
func inGerman(m quiztest.Maker) quiz.Translations {
	words := quiz.Translations{}
	for _, text := range m.Texts() {
		words[text.At] = quiz.Translated{Text: "Deutsch: " + text.Words, Of: text.Words}
	}
	m.Translations = map[string]quiz.Translations{"de": words}
	return words
}
