package outbox

import (
	"context"
	"errors"
	"fmt"
	"hash/crc32"
	"slices"

	"omphalos/core/program"
	"omphalos/core/quiz"
	"omphalos/store"
)

// notice tells colleagues of somebody, or in a digest of several.
func (w *Worker) notice(ctx context.Context, j *job) error {
	settings, err := j.in.Outbox.MailSettings(ctx)
	if err != nil {
		return err
	}
	d := &j.list[0]
	if len(j.list) == 1 && laneName(j.lane) == store.MailLane() {
		l, r, err := w.landed(ctx, j.in, d)
		if err != nil {
			return err
		}
		letter := l.Notice(d.FollowUp, r)
		if letter.To, err = w.colleagues(ctx, j.in, l.Program.Quiz.FollowUps[d.FollowUp], r); err != nil {
			return err
		}
		d.Recipient, d.About = letter.To[0], letter.Subject
		return w.post(ctx, settings, d.Key, letter)
	}
	return w.digest(ctx, j, settings)
}

// Notice writes what colleagues are told of somebody: the follow-up's own words, then who they
// are and what they answered. Nothing is known of a rehearsal but its passage: its response is
// nil.
func (l *Landed) Notice(key string, r *store.Response) *Letter {
	f := l.Program.Quiz.FollowUps[key]
	s := l.sheet(l.filler.Plainly(f.Subject))
	for _, b := range l.Walker.LetterBlocks(key) {
		s.Blocks = append(s.Blocks, l.part(f.Blocks[b]))
	}
	s.Facts = l.facts()
	if r != nil {
		s.Blocks = append(s.Blocks, part{Button: "Open the lead", Address: l.leadAddress(r)})
	}
	return s.letter()
}

// leadAddress is where a lead is seen, or the response of somebody who is none.
func (l *Landed) leadAddress(r *store.Response) string {
	if r.Lead != nil {
		return fmt.Sprintf("%s/studio/leads?lead=%d", l.Base, r.Lead.ID)
	}
	return fmt.Sprintf("%s/studio/quizzes/%d/learn/%d", l.Base, r.QuizID, r.Number)
}

// facts are who somebody is, what they came to and what they answered.
func (l *Landed) facts() []fact {
	_, o := l.Outcome()
	list := []fact{{"Outcome", o.Name}}
	if o.Standing != "" {
		list = append(list, fact{"Standing", string(o.Standing)})
	}
	q := l.Program.Quiz
	for i, key := range l.Program.ScaleKeys() {
		if kind := q.Scales[key].Kind; kind == quiz.Points || kind == quiz.Money {
			list = append(list, fact{q.Scales[key].Name, l.Program.ScoreText(i, l.Result.Scores[i])})
		}
	}
	if q.Contact != nil {
		for _, key := range quiz.InOrder(q.Contact.Fields) {
			if value := l.filler.Plain(key); value != "" {
				list = append(list, fact{q.Contact.Fields[key].Label, value})
			}
		}
	}
	for _, i := range l.Result.Seen {
		if i < len(l.In.Answers) && l.In.Answers[i].State == program.Given {
			list = append(list, fact{l.filler.Plainly(l.Program.Question(i).Label), l.filler.Plain(l.Program.Key(i))})
		}
	}
	return list
}

// colleagues returns to whom a notice goes: in whose hands the lead is, else the addresses.
func (w *Worker) colleagues(ctx context.Context, in *store.Store, f *quiz.FollowUp,
	r *store.Response) ([]string, error) {
	if f.To == quiz.ToOwner && r != nil && r.Lead != nil && r.Lead.OwnerID != 0 {
		owner, err := in.People.User(ctx, r.Lead.OwnerID)
		if err == nil {
			return []string{owner.Email}, nil
		}
		if !errors.Is(err, store.ErrNotFound) {
			return nil, err
		}
	}
	if len(f.Addresses) == 0 {
		return nil, fmt.Errorf("%w: the lead is in nobody's hands, and no address is named", errDead)
	}
	return f.Addresses, nil
}

// digest tells colleagues of all that came since the last one.
func (w *Worker) digest(ctx context.Context, j *job, settings *store.MailSettings) error {
	var last *Landed
	var f *quiz.FollowUp
	var to []string
	by := map[string][]listed{}
	for i := range j.list {
		l, r, err := w.landed(ctx, j.in, &j.list[i])
		if errors.Is(err, errCancelled) {
			continue // the others are told of
		}
		if err != nil {
			return err
		}
		last, f = l, l.Program.Quiz.FollowUps[j.list[i].FollowUp]
		whose, err := w.colleagues(ctx, j.in, f, r)
		if err != nil {
			return err
		}
		for _, address := range whose {
			if !slices.Contains(to, address) {
				to = append(to, address)
			}
			by[address] = append(by[address], l.listed(r))
		}
	}
	if last == nil {
		return fmt.Errorf("%w: nobody is left to tell of", errCancelled)
	}
	for _, address := range to {
		s := last.sheet(digestSubject(f, len(by[address])))
		s.Others = by[address]
		letter := s.letter()
		letter.To = []string{address}
		// A second try after some were sent carries the same keys.
		if err := w.post(ctx, settings, fmt.Sprintf("%s.%x", j.list[0].Key,
			crc32.ChecksumIEEE([]byte(address))), letter); err != nil {
			return err
		}
		for k := range j.list {
			j.list[k].Recipient, j.list[k].About = address, letter.Subject
		}
	}
	return nil
}

func digestSubject(f *quiz.FollowUp, n int) string {
	since := map[quiz.Digest]string{quiz.Daily: "since yesterday", quiz.Weekly: "in a week"}[f.Digest]
	return fmt.Sprintf("%s %s", quiz.Count(n, "lead"), since)
}

// listed is somebody as a digest tells of them.
func (l *Landed) listed(r *store.Response) listed {
	one := listed{Name: fmt.Sprintf("Response %d", r.Number), Outcome: l.outcomeName(), Address: l.leadAddress(r)}
	if r.Lead != nil {
		one.Name, one.Score = r.Lead.Called(), r.Lead.Score
	}
	one.Outcome += ", " + r.Finished.In(l.Program.Quiz.Zone()).Format("Mon 2 Jan, 15:04")
	return one
}
