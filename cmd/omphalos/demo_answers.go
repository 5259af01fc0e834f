package main

import (
	"context"
	"errors"
	"fmt"
	"math"
	"math/rand/v2"
	"slices"
	"strings"
	"time"

	"golang.org/x/sync/errgroup"

	"omphalos/core/decimal"
	"omphalos/core/passage"
	"omphalos/core/program"
	"omphalos/core/quiz"
	"omphalos/store"
)

// demoResponses is how many responses the demo has by itself: those of its lead quiz, and of
// the one about the season, which come over demoDays.
const (
	leadResponses = 64
	demoResponses = leadResponses + 2000
)

// demoDays is over how many days many responses have come in.
const demoDays = 90

// demoBatch is how many responses are kept in one commit where there are many.
const demoBatch = 10_000

// demoRespondents answer by chance, the same ones every time.
type demoRespondents struct {
	chance  *rand.Rand
	program *program.Program
	walker  *passage.Walker
}

func newRespondents(r *store.Release) (*demoRespondents, error) {
	q, err := r.Read()
	if err != nil {
		return nil, err
	}
	program, err := program.Compile(q)
	if err != nil {
		return nil, err
	}
	return &demoRespondents{rand.New(rand.NewPCG(7, 11)), program, passage.NewWalker(program)}, nil
}

// oneOf picks one, each as likely as it is often there.
func (d *demoRespondents) oneOf(list ...string) string { return list[d.chance.IntN(len(list))] }

// answerDemo lets invented respondents answer as they would through the pages.
func answerDemo(ctx context.Context, s *store.Store, r *store.Release, slug string, respondents int) error {
	d, err := newRespondents(r)
	if err != nil {
		return err
	}
	for range respondents {
		begun, err := s.Responses.Start(
			ctx,
			r,
			slug,
			program.Visitor{Language: "en", Device: d.oneOf("phone", "desktop")},
		)
		if err != nil {
			return err
		}
		response, typed, err := d.answers(begun)
		if err != nil {
			return err
		}
		if _, err := s.Responses.Finish(ctx, begun, typed, response); err != nil {
			return err
		}
	}
	return nil
}

// answerSeason lets many answer over ninety days, from several sources, more of them each
// day: the first of two releases, and in the last days half of them the second. A third leaves
// on the way, fewer of the second. Half of those who are not turned away leave an address;
// most of these leads have been won or lost since, and what makes them won is known here.
func answerSeason(ctx context.Context, s *store.Store, releases [2]*store.Release, slug string, respondents int) error {
	d, err := newRespondents(releases[1])
	if err != nil {
		return err
	}
	now := time.Now().UTC()
	begin := now.AddDate(0, 0, -demoDays)
	type kept struct {
		responses []*store.Response
		left      []*store.Passage
		departed  []store.Departure
	}
	seen := map[store.Sight]int{}
	made := make(chan kept, 2)
	var keeping errgroup.Group // while the next are made up
	keeping.Go(func() error {
		var failed error
		for k := range made {
			if failed == nil {
				failed = errors.Join(s.Responses.AddResponses(ctx, k.responses, k.left...),
					s.Responses.AddDepartures(ctx, k.departed))
			}
		}
		return failed
	})
	var next kept
	for i := range respondents {
		at := begin.Add(
			time.Duration(float64(now.Sub(begin)) * math.Sqrt((float64(i)+d.chance.Float64())/float64(respondents))),
		)
		arm := 0
		if now.Sub(at) < tried*24*time.Hour {
			arm = d.chance.IntN(2)
		}
		r := releases[arm]
		begun := store.Begin("", r, slug, d.visitor())
		response, typed, err := d.answers(begun)
		if err != nil {
			close(made)
			return errors.Join(err, keeping.Wait())
		}
		begun.Started = at.Add(-d.stays(response.Asked))
		response.Of(begun)
		response.Finished = at
		d.lead(response, now)
		d.presses(response)
		if i >= respondents-demoFollowed {
			if err := d.follow(response); err != nil {
				close(made)
				return errors.Join(err, keeping.Wait())
			}
		}
		next.responses = append(next.responses, response)
		seen[sightOf(begun, at)]++
		if d.chance.Float64() < [2]float64{0.52, 0.34}[arm] {
			gone := store.Begin("", r, slug, d.visitor())
			d.leaves(gone, typed, response.Asked, at, arm)
			seen[sightOf(gone, at)]++
			if now.Sub(at) < unfinishedKept {
				next.left = append(next.left, gone)
			} else { // the passage itself is forgotten by now
				next.departed = append(next.departed, gone.Departure())
			}
		}
		for range d.chance.IntN(3) { // who only had a look
			seen[sightOf(store.Begin("", r, slug, d.visitor()), at)]++
		}
		if len(next.responses) == demoBatch || i == respondents-1 {
			made <- next
			next = kept{}
		}
	}
	close(made)
	if err := keeping.Wait(); err != nil {
		return err
	}
	sights := make([]store.Sight, 0, len(seen))
	for sight, n := range seen {
		sight.Count = n
		sights = append(sights, sight)
	}
	if err := s.Responses.AddSights(ctx, sights); err != nil {
		return err
	}
	return s.Responses.Index(ctx)
}

func (d *demoRespondents) visitor() program.Visitor {
	v := program.Visitor{
		Language: d.oneOf("en", "en", "en", "de", "nl"),
		Device:   d.oneOf("phone", "phone", "desktop", "tablet"),
		Country:  d.oneOf("IE", "IE", "IE", "GB", "NL", "DE"),
		Source:   d.oneOf("", "letter", "letter", "search", "fair"),
	}
	switch v.Source {
	case "letter":
		v.Medium, v.Campaign = "mail", d.oneOf("autumn", "winter")
	case "search":
		v.Medium = "cpc"
	}
	return v
}

// sightOf is the sight of whoever began a passage.
func sightOf(p *store.Passage, at time.Time) store.Sight {
	return store.Sight{QuizID: p.QuizID, ReleaseID: p.ReleaseID, Day: at.Format(time.DateOnly),
		Source: p.Came.Source, Medium: p.Came.Medium,
		Campaign: p.Came.Campaign, Country: p.Came.Country, Language: p.Came.Language, Device: p.Came.Device}
}

// hard are questions at which people think, and leave, more than elsewhere.
var hard = map[string]float64{"budget": 3, "hectares": 1.6, "trouble": 1.4}

// stays makes up how long somebody stayed at each question, and returns how long it was
// altogether.
func (d *demoRespondents) stays(asked []store.Stop) time.Duration {
	all := 0
	for i, s := range asked {
		asked[i].Seconds = 2 + int(4*max(hard[s.Question], 1)*(0.4+d.chance.ExpFloat64()*0.8))
		all += asked[i].Seconds
	}
	return time.Duration(all) * time.Second
}

// leaves has somebody leave a passage at one of the questions that were asked, sooner rather
// than later, and more often at a hard one.
func (d *demoRespondents) leaves(p *store.Passage, typed map[string]program.Typed, asked []store.Stop,
	at time.Time, arm int) {
	kept, place := map[string]program.Typed{}, 0
	for place = 0; place < len(asked)-1; place++ {
		heavy := max(hard[asked[place].Question], 1)
		if arm == 1 && asked[place].Question == "budget" { // it is asked in a softer way
			heavy = 1.2
		}
		if d.chance.Float64() < 0.15*heavy {
			break
		}
		kept[asked[place].Question] = typed[asked[place].Question]
	}
	stops := asked[:place]
	p.Started = at.Add(-d.stays(stops))
	p.Place = asked[place].Question
	p.Type(kept, at)
}

// presses has some respondents press the button of their landing.
func (d *demoRespondents) presses(r *store.Response) {
	button, known := map[string]string{"team": "visit", "spring": "guide", "wild": "wild"}[r.Outcome]
	if known && d.chance.Float64() < map[string]float64{"team": 0.44, "spring": 0.27, "wild": 0.12}[r.Outcome] {
		r.Presses = []store.Press{{Block: r.Landing + "." + button, Made: r.Finished.Add(20 * time.Second)}}
	}
}

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

// answers walks a passage with answers by chance: of those in a list the first ones are more
// likely, for most people grow something and have thought about it a little.
func (d *demoRespondents) answers(begun *store.Passage) (*store.Response, map[string]program.Typed, error) {
	in := passage.Input{Answers: make(program.Answers, len(d.program.Questions)), Visitor: begun.Facts()}
	typed := map[string]program.Typed{}
	for i := range in.Answers {
		t := d.answer(i)
		var err error
		if in.Answers[i], err = d.program.Read(i, t); err != nil {
			return nil, nil, err
		}
		typed[d.program.Key(i)] = t
	}
	result := d.walker.Walk(in)
	response := store.Record(d.program, in, result)
	if template := passage.AddressOf(d.program, result); template != nil {
		var err error
		if response.Address, err = passage.NewFiller(d.program, in, result, store.ResponseNumber(begun.ID)).
			Address(template); err != nil {
			return nil, nil, err
		}
	}
	return response, typed, nil
}

func (d *demoRespondents) answer(i int) program.Typed {
	q, keys := d.program.Question(i), d.program.AnswerKeys(i)
	switch q.Kind {
	case quiz.Number:
		return program.Typed{Values: []string{fmt.Sprint(int(d.chance.ExpFloat64()*8) % 61)}}
	case quiz.Rating:
		low, high := q.Range()
		return program.Typed{
			Values: []string{
				(low + decimal.Decimal(d.chance.IntN(int((high-low)/decimal.One)+1))*decimal.One).String(),
			},
		}
	case quiz.Several:
		picks := slices.Clone(keys)
		d.chance.Shuffle(len(picks), func(i, k int) { picks[i], picks[k] = picks[k], picks[i] })
		return program.Typed{Values: picks[:1+d.chance.IntN(2)]}
	}
	return program.Typed{Values: []string{keys[min(d.chance.IntN(len(keys)), d.chance.IntN(len(keys)+1))]}}
}
