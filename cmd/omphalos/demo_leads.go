package main

import (
	"fmt"
	"math"
	"slices"
	"strings"
	"time"

	"omphalos/core/quiz"
	"omphalos/store"
)

// lead has a respondent leave an address, and tells what has come of it since. The odds of
// winning are e to the power of a sum: of the score, of who decides and of the source.
func (d *demoRespondents) lead(r *store.Response, now time.Time) {
	if r.Outcome == "wild" || d.chance.IntN(2) == 0 {
		return
	}
	name := d.oneOf("Ada", "Bram", "Cleo", "Dara", "Egon", "Finn", "Greta", "Hugo", "Ida", "Jonas") + " " + d.oneOf(
		"Alder",
		"Birch",
		"Elm",
		"Hazel",
		"Linden",
		"Oakes",
		"Rowan",
		"Thorn",
		"Willow",
		"Yew",
	)
	mail := fmt.Sprintf(
		"%s.%d@example.org",
		strings.ToLower(strings.ReplaceAll(name, " ", ".")),
		d.chance.IntN(100_000),
	)
	r.Contacts = []store.Contact{{Field: "name", Kind: quiz.Name, Value: name},
		{Field: "mail", Kind: quiz.Email, Value: mail}}
	d.more(r, name)
	r.Consents = []store.Consent{
		{
			Field:   "agree",
			Words:   "Quillbrook may write to me about my answers.",
			Privacy: "https://quillbrook.example/privacy",
		},
	}
	sum := -4.5
	for _, s := range r.Scores {
		sum += 0.18 * s.Millionths.Float64()
	}
	if slices.Contains(r.Answers, store.ResponseAnswer{Question: "decides", Answer: "me"}) {
		sum += 0.8
	}
	if r.Source == "fair" {
		sum += 0.5
	}
	after := time.Duration(d.chance.ExpFloat64() * float64(14*24*time.Hour))
	won := d.chance.Float64() < 1/(1+math.Exp(-sum))
	d.works(r, r.Finished.Add(after), won, now)
}

// more has some say more of themselves.
func (d *demoRespondents) more(r *store.Response, name string) {
	if d.chance.IntN(3) > 0 {
		_, family, _ := strings.Cut(name, " ")
		farm := family + " " + d.oneOf("Farm", "Orchards", "Fruit", "Holding", "Hill")
		r.Contacts = append(r.Contacts, store.Contact{Field: "farm", Kind: quiz.Company, Value: farm})
	}
	if d.chance.IntN(3) == 0 { // a range that is kept for things made up
		number := fmt.Sprintf("+3532091%05d", d.chance.IntN(100_000))
		r.Contacts = append(r.Contacts, store.Contact{Field: "phone", Kind: quiz.Phone, Value: number})
	}
}

// works has colleagues work a lead until it ends, or until now.
func (d *demoRespondents) works(r *store.Response, ends time.Time, won bool, now time.Time) {
	owner := uint(d.chance.IntN(len(colleagues)) + 2) // the first user is the marketer
	l := &store.Lead{State: store.New, Changed: r.Finished, OwnerID: owner}
	r.Lead = l
	tell := func(kind, before, after string, at time.Time) {
		l.Events = append(l.Events, store.LeadEvent{Kind: kind, Before: before, After: after, UserID: owner,
			Batch: store.Token(), Made: at})
	}
	called := r.Finished.Add(time.Duration(d.chance.ExpFloat64() * float64(40*time.Hour)))
	if called.After(now) {
		if d.chance.IntN(3) == 0 {
			l.OwnerID = 0
		}
		return
	}
	tell(store.Stated, store.New, store.InTalks, called)
	l.State, l.Changed = store.InTalks, called
	tell(store.Noted, "", d.oneOf("Called back at nine, wants a visit first.", "Has had hives before, from a neighbour.",
		"Wants to hear what twelve hives would cost.", "Asks for the second half of April."), called)
	if ends.After(now) {
		l.Next = now.AddDate(0, 0, d.chance.IntN(16)-2).Format(time.DateOnly)
		return
	}
	end := store.Lost
	if won {
		end = store.Won
	}
	tell(store.Stated, store.InTalks, end, ends)
	l.State, l.Changed = end, ends
}
