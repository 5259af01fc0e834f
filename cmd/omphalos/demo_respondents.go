package main

import (
	"fmt"
	"math/rand/v2"
	"slices"
	"time"

	"omphalos/core/decimal"
	"omphalos/core/passage"
	"omphalos/core/program"
	"omphalos/core/quiz"
	"omphalos/store"
)

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
