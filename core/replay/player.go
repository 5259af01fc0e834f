package replay

import (
	"omphalos/core/passage"
)

// A Player walks responses through all versions. It serves one goroutine at a time.
type Player struct {
	replay  *Replay
	walkers []*passage.Walker
	seen    []bool // by question before: it stood on the passage
	inputs  []passage.Input
	read    []bool // by version: its input is there
	sums    *Sums
}

// Player returns a new one.
func (r *Replay) Player() *Player {
	p := &Player{replay: r, sums: r.Sums(), walkers: make([]*passage.Walker, len(r.versions)),
		seen:   make([]bool, len(r.Before.Questions)),
		inputs: make([]passage.Input, len(r.versions)), read: make([]bool, len(r.versions))}
	for i, version := range r.versions {
		p.walkers[i] = passage.NewWalker(version)
	}
	return p
}

// Take returns what has been played since the last time, the movers in the order in which they
// were played.
func (p *Player) Take() *Sums {
	sums := p.sums
	p.sums = p.replay.Sums()
	return sums
}

// Play walks a response. With tries it also looks whom each change moves by itself.
func (p *Player) Play(r Response, tries bool) {
	clear(p.read)
	walked := p.walk(r, 0)
	base := passage.OutcomeKey(p.replay.Before, walked)
	was := r.Was
	if was == "" {
		was = base
	}
	if r.Asked == nil {
		clear(p.seen)
		for _, i := range walked.Seen {
			p.seen[i] = true
		}
	}
	after := p.walk(r, 1)
	now := passage.OutcomeKey(p.replay.After, after)
	s := p.sums
	s.Count++
	s.Flow[Move{was, now}]++
	if r.Group != "" {
		s.count(r.Group, Move{was, now}, 1)
	}
	for _, i := range after.Seen {
		if p.replay.After.Asks(i) && !p.asked(r, i) {
			s.Touched++
			break
		}
	}
	if tries {
		s.Tried++
		for i := range p.replay.Changes {
			if at := p.replay.Changes[i].plus; at >= 0 && p.outcome(r, at) != base {
				s.Moves[i]++
			}
		}
	}
	if now == was {
		return
	}
	blame := Earlier
	if now != base {
		blame = p.blame(r, Move{base, now})
	}
	switch blame {
	case Earlier:
		s.Earlier++
	case Several:
		s.Several++
	default:
		s.Blamed[blame]++
	}
	s.Movers = append(s.Movers, Mover{r.Number, Move{was, now}, blame})
}

// blame returns the change because of which somebody lands elsewhere.
func (p *Player) blame(r Response, m Move) int {
	back, alone := Several, Several // the only change that takes them back, that moves them alone
	backs, alones := 0, 0
	for i := range p.replay.Changes {
		c := &p.replay.Changes[i]
		if c.minus >= 0 && p.outcome(r, c.minus) == m.Before {
			back = i
			backs++
		}
		if c.plus >= 0 && p.outcome(r, c.plus) == m.After {
			alone = i
			alones++
		}
	}
	switch {
	case backs == 1:
		return back
	case alones == 1:
		return alone
	}
	return Several
}

func (p *Player) outcome(r Response, version int) string {
	return passage.OutcomeKey(p.replay.versions[version], p.walk(r, version))
}

func (p *Player) walk(r Response, version int) *passage.Result {
	of := p.replay.shapes[version]
	if !p.read[of] {
		p.inputs[of], p.read[of] = r.Input(of), true
	}
	return p.walkers[version].Walk(p.inputs[of])
}

// asked tells whether somebody was asked a question of the version after.
func (p *Player) asked(r Response, question int) bool {
	if r.Asked != nil {
		return r.Asked(p.replay.After.Key(question))
	}
	before := p.replay.place[question]
	return before >= 0 && p.seen[before]
}
