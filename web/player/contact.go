package player

import (
	"cmp"
	"errors"
	"net/http"
	"net/url"

	"github.com/gin-gonic/gin"

	"omphalos/core/atlas"
	"omphalos/core/passage"
	"omphalos/core/program"
	"omphalos/core/quiz"
	"omphalos/interchange/markdown"
	"omphalos/store"
)

// A contactForm asks who the respondent is.
type contactForm struct {
	frame
	Heading, Text, Button string
	Privacy, Action       string
	Wrong                 string
	Fields                []contactField
	After                 bool // it stands below the result
	Progress              progress
}

type contactField struct {
	Key, Label, Help, Value string
	Input, Fill             string // HTML's type of input, and what may be filled in
	Consent                 bool
	Needed                  bool
	Wrong                   string
	Lands                   []atlas.Country // of a country, those that can be chosen
}

// contactPage builds the form, with what was typed into it and what is wrong with it.
func (j *journey) contactPage(typed url.Values, wrongs map[string]string, wrong string) contactForm {
	contact := j.program.Quiz.Contact
	given, in := j.input(), j.tongue()
	filler := passage.NewFiller(j.program, given, passage.Walk(j.program, given), j.response())
	form := contactForm{
		frame:   j.frame(cmp.Or(contact.Heading, in.say("Who are you?")), "/contact"),
		Heading: filler.Text(cmp.Or(contact.Heading, in.say("Who are you?"))),
		Text:    filler.Text(contact.Text),
		Button:  cmp.Or(contact.Button, in.say("Send")),
		Privacy: j.outward(contact.Privacy),
		Action:  j.contactAddress(),
		Wrong:   wrong,
		After:   contact.Place == quiz.AfterResult,
	}
	if !form.After {
		form.Progress = j.atContact()
	}
	for _, key := range j.program.ContactKeys() {
		f := contact.Fields[key]
		var lands []atlas.Country
		if f.Kind == quiz.Country {
			lands = j.lands()
		}
		form.Fields = append(
			form.Fields,
			contactField{
				Key:     key,
				Label:   filler.Text(f.Label),
				Help:    filler.Text(f.Help),
				Value:   typed.Get(key),
				Input:   inputs[f.Kind],
				Fill:    fillings[f.Kind],
				Consent: f.Kind == quiz.Consent,
				Needed:  f.Required,
				Wrong:   wrongs[key],
				Lands:   lands,
			},
		)
	}
	return form
}

// readContact takes the fields out of a form and says what is wrong with them.
func (j *journey) readContact(c *gin.Context) map[string]string {
	wrongs := map[string]string{}
	for i, key := range j.program.ContactKeys() {
		t := program.Typed{Values: []string{c.PostForm(key)}}
		if j.program.Quiz.Contact.Fields[key].Kind == quiz.Phone {
			if whole, possible := program.Phone(t.Values[0], j.home()); possible {
				t.Values[0] = whole
			}
		}
		if _, err := j.program.ReadContact(i, t); err != nil {
			var refused *program.Refused
			errors.As(err, &refused)
			wrongs[key] = j.tongue().refused(refused)
			continue
		}
		j.put(key, t)
	}
	return wrongs
}

// contacts returns what is kept of the contact section.
func (j *journey) contacts() []store.Contact {
	var list []store.Contact
	in := j.input()
	for _, key := range j.program.ContactKeys() {
		if value := in.Contact[key]; value != "" {
			list = append(list, store.Contact{Field: key, Kind: j.program.Quiz.Contact.Fields[key].Kind, Value: value})
		}
	}
	return list
}

// longestConsent is how many characters of what was agreed to are kept: all that a label
// can have.
const longestConsent = 20_000

// consents returns what was agreed to, in the words that stood there: in the contact
// section and by questions on the passage.
func (j *journey) consents() []store.Consent {
	var list []store.Consent
	in, filler := j.input(), j.filler()
	privacy := ""
	if contact := j.program.Quiz.Contact; contact != nil {
		privacy = contact.Privacy
		for _, key := range j.program.ContactKeys() {
			if f := contact.Fields[key]; f.Kind == quiz.Consent && in.Contact[key] != "" {
				list = append(
					list,
					store.Consent{Field: key, Words: markdown.Words(filler.Text(f.Label), longestConsent), Privacy: privacy},
				)
			}
		}
	}
	for _, at := range j.walk().Seen {
		if q := j.program.Question(at); q.Kind == quiz.Consent && in.Answers[at].State == program.Given {
			list = append(
				list,
				store.Consent{
					Field:   j.program.Key(at),
					Words:   markdown.Words(filler.Text(q.Label), longestConsent),
					Privacy: privacy,
				},
			)
		}
	}
	return list
}

// contact takes the contact section before the result.
func (p *player) contact(c *gin.Context, j *journey) {
	if c.PostForm("go") == "back" {
		path := j.path()
		p.lead(c, j.address(path[len(path)-1]))
		return
	}
	if wrongs := j.readContact(c); len(wrongs) > 0 {
		p.show(
			c,
			http.StatusUnprocessableEntity,
			"contact",
			j.contactPage(c.Request.PostForm, wrongs, j.tongue().say("Some of this can't be taken yet: see below.")),
		)
		return
	}
	path := j.path()
	p.finish(c, j, path[len(path)-1], func(err error) {
		status, sorry := sorryFor(c, err)
		p.show(
			c,
			status,
			"contact",
			j.contactPage(c.Request.PostForm, nil,
				j.tongue().sorry("This could not be kept just now. It is still here: "+sorry)),
		)
	})
}

// contactAfter takes the contact section below the result.
func (p *player) contactAfter(c *gin.Context, j *journey) {
	end := j.end()
	if !j.wantsContact(quiz.AfterResult) {
		p.lead(c, end)
		return
	}
	if wrongs := j.readContact(c); len(wrongs) > 0 {
		p.show(
			c,
			http.StatusUnprocessableEntity,
			"contact",
			j.contactPage(c.Request.PostForm, wrongs, j.tongue().say("Some of this can't be taken yet: see below.")),
		)
		return
	}
	if j.rehearsal != nil {
		if err := p.keepWalk(j, true); err != nil {
			p.fail(c, err)
			return
		}
		p.lead(c, j.place("end", "thanks", "1"))
		return
	}
	w := passage.NewWalker(j.program)
	j.settleClicks(w, true)
	err := p.store.Responses.AddContact(c.Request.Context(), j.passage, j.typed, j.contacts(), j.consents(),
		store.FollowUps(j.program, w))
	if err != nil {
		status, sorry := sorryFor(c, err)
		p.show(
			c,
			status,
			"contact",
			j.contactPage(c.Request.PostForm, nil,
				j.tongue().sorry("This could not be kept just now. It is still here: "+sorry)),
		)
		return
	}
	p.lead(c, j.place("end", "thanks", "1"))
}
