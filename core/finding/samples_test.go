package finding_test

import (
	"omphalos/core/decimal"
	"omphalos/core/quiz"
	"omphalos/core/quiztest"
)

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
		"After “crop” a rule leads on when Need is at least 5: that never happens. Nobody who gets this " +
			"far has such a score on Need.", true},
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
		"“no” takes 1 % of respondents, if they answer as expected.", false},
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
	{"product-untranslated", "/outcomes/yes/landings/page/products",
		func(m quiztest.Maker) { products(m, "hive"); inGerman(m); m.Translations["fr"] = m.Translations["de"] },
		func(m quiztest.Maker) { products(m, "hive"); inGerman(m) },
		"One product that is shown here has no words in French: it is shown as it was written. Give it some " +
			"in the catalogue.", false},
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
