package player

import (
	"context"
	"errors"
	"fmt"
	"strings"
	"time"

	"omphalos/core/edit"
	"omphalos/core/program"
	"omphalos/core/quiz"
	"omphalos/store"
)

// errClosed says that a link opens nothing any more.
var errClosed = errors.New("the link has ended")

// An unfinishedError says why a draft can't be walked.
type unfinishedError struct{ said string }

func (e *unfinishedError) Error() string { return e.said }

// walkOf returns the journey of a walk through the draft as it is now, or as it was handed
// over.
func (p *player) walkOf(ctx context.Context, id string) (*journey, error) {
	walk, err := p.store.Definitions.Walk(ctx, id)
	if err != nil {
		return nil, err
	}
	var hand *store.Hand
	if walk.HandID > 0 {
		if hand, err = p.store.Definitions.HandByID(ctx, walk.HandID); err != nil {
			return nil, err
		}
		if !hand.Open(time.Now()) {
			return nil, errClosed
		}
	}
	r, err := p.draft(ctx, walk.QuizID, hand)
	if err != nil {
		return nil, err
	}
	looks := RehearsalPrefix + walk.ID + "/" + looksPlace + "?v=" + r.dress.version
	visitor := walk.Facts()
	r = r.in(visitor.Language)
	j := &journey{ctx: ctx, released: r.dressedAt(looks), typed: walk.Typed(), visitor: visitor, player: p,
		rehearsal: walk, handed: hand}
	j.passage = &store.Passage{ID: walk.ID, QuizID: walk.QuizID, Started: walk.Updated, Updated: walk.Updated}
	at := j.walk()
	j.passage.Finished = walk.Finished && at.End != program.Unfinished && len(at.Missing) == 0
	return j, nil
}

// draft returns the draft of a quiz, compiled once for each revision.
func (p *player) draft(ctx context.Context, id uint, hand *store.Hand) (*released, error) {
	z, err := p.store.Definitions.Quiz(ctx, id)
	if err != nil {
		return nil, err
	}
	key := fmt.Sprint(id, ":", z.Revision)
	if hand != nil && hand.Document != "" {
		key = fmt.Sprint("handed ", hand.ID)
	}
	if found, known := p.drafts.Get(key); known {
		return found, nil
	}
	q, err := z.Document()
	if hand != nil && hand.Document != "" {
		q, err = quiz.Read([]byte(hand.Document))
	}
	if err != nil {
		return nil, fmt.Errorf("reading the draft of quiz %d: %w", id, err)
	}
	written := edit.Written(q)
	program, err := program.CompileDraft(written, written.Check())
	var problem quiz.Problem
	if errors.As(err, &problem) {
		return nil, &unfinishedError{sentence("It is not finished: " + strings.TrimSpace(problem.Message))}
	}
	if err != nil {
		return nil, err
	}
	one := compiled(program, "")
	p.drafts.Add(key, one)
	return one, nil
}
