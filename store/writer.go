package store

import (
	"errors"
	"fmt"
	"slices"

	"gorm.io/gorm"
	"gorm.io/gorm/clause"
	"gorm.io/gorm/logger"
)

// Passages are written by one goroutine in groups: while a group is being put on disk,
// what comes in waits and makes up the next. Each is answered after the commit that
// holds it, so the cost of reaching the disk is shared and nothing is acknowledged
// before it is there.

// ErrBusy says that more is waiting to be written than can be kept in a moment.
var ErrBusy = errors.New("too much is waiting to be written")

const (
	longestQueue = 1024 // entries that may wait
	largestGroup = 128  // entries in one commit
)

// An entry is what is to be written of one passage.
type entry struct {
	passage  *Passage                // as it is to be
	response *Response               // where it is finished; afterwards the one that is kept
	alone    func(tx *gorm.DB) error // instead of writing the passage
	gone     bool                    // nothing is left of the passage
	done     chan error
}

// write has an entry written and returns when it is on disk.
func (s *Store) write(e *entry) error {
	e.done = make(chan error, 1)
	s.closing.RLock()
	if s.closed {
		s.closing.RUnlock()
		return errors.New("the workspace is closed")
	}
	select {
	case s.queue <- e:
		s.closing.RUnlock()
		return <-e.done
	default:
		s.closing.RUnlock()
		return ErrBusy
	}
}

// writeGroups writes what comes in until the queue is closed.
func (s *Store) writeGroups() {
	defer close(s.written)
	for first := range s.queue {
		group := []*entry{first}
	more:
		for len(group) < largestGroup {
			select {
			case e, open := <-s.queue:
				if !open {
					break more
				}
				group = append(group, e)
			default:
				break more
			}
		}
		err := s.commit(group)
		if len(group) > 1 && (errors.Is(err, gorm.ErrDuplicatedKey) || errors.Is(err, gorm.ErrForeignKeyViolated)) {
			for _, e := range group { // one of them is at fault: the others shall not suffer
				e.finish(s, s.commit([]*entry{e}))
			}
			continue
		}
		for _, e := range group {
			e.finish(s, err)
		}
	}
}

// finish remembers how the passage is on disk, and answers. What came late to a finished
// passage has changed nothing there.
func (e *entry) finish(s *Store, err error) {
	if err == nil {
		before, known := s.passages.Get(e.passage.ID)
		switch {
		case e.gone:
			s.passages.Remove(e.passage.ID)
		case e.alone != nil, known && !before.Finished, !known && e.passage.fresh:
			e.passage.fresh = false
			s.passages.Add(e.passage.ID, *e.passage)
		}
		e.passage.fresh = false
	}
	e.done <- err
}

// commit writes a group in one transaction, or nothing of it.
func (s *Store) commit(group []*entry) (err error) {
	tx := s.writer
	if err := tx.Exec("BEGIN IMMEDIATE").Error; err != nil {
		return err
	}
	defer func() {
		if fault := recover(); fault != nil { // must not end all writing
			err = fmt.Errorf("writing passages: %v", fault)
		}
		if err != nil {
			// Where the disk is full SQLite has done so by itself, and says so.
			_ = tx.Session(&gorm.Session{Logger: logger.Discard}).Exec("ROLLBACK")
		}
	}()
	if err := writePassages(tx, group); err != nil {
		return err
	}
	if err := writeResponses(tx, group); err != nil {
		return err
	}
	return tx.Exec("COMMIT").Error
}

// writePassages puts passages into their state, in the order in which they came. Finished
// ones stay as they are.
func writePassages(tx *gorm.DB, group []*entry) error {
	var fresh []*Passage
	at := map[string]int{} // place in fresh by number
	for _, e := range group {
		p := e.passage
		i, here := at[p.ID]
		switch {
		case e.alone != nil: // when the others are there
		case here && !fresh[i].Finished:
			fresh[i] = p.onDisk()
		case !here && p.fresh:
			at[p.ID] = len(fresh)
			fresh = append(fresh, p.onDisk())
		}
	}
	if len(fresh) > 0 {
		upsert := tx.Omit(clause.Associations).Clauses(clause.OnConflict{
			Columns:   []clause.Column{{Name: "id"}},
			DoUpdates: clause.AssignmentColumns([]string{"answers", "updated", "finished"}),
			Where:     clause.Where{Exprs: []clause.Expression{clause.Eq{Column: clause.Column{Table: "passages", Name: "finished"}, Value: false}}},
		})
		if err := create(upsert, fresh); err != nil {
			return err
		}
	}
	for _, e := range group {
		var err error
		if p := e.passage; e.alone != nil {
			err = e.alone(tx)
		} else if _, here := at[p.ID]; !here {
			err = tx.Exec("UPDATE passages SET answers = ?, updated = ?, finished = ? WHERE id = ? AND NOT finished", p.onDisk().Answers, p.Updated, p.Finished, p.ID).Error
		}
		if err != nil {
			return err
		}
	}
	return nil
}

// onDisk returns the passage as it is written: what was typed in one that is finished is
// with its response.
func (p *Passage) onDisk() *Passage {
	if !p.Finished {
		return p
	}
	bare := *p
	bare.Answers = "{}"
	return &bare
}

// chunks are the numbers of rows that one statement inserts: few, so that the statements
// stay prepared.
var chunks = []int{64, 16, 4, 1}

func create[T any](tx *gorm.DB, rows []T) error {
	tx = tx.Session(&gorm.Session{})
	for _, size := range chunks {
		for ; len(rows) >= size; rows = rows[size:] {
			if err := tx.Create(rows[:size:size]).Error; err != nil {
				return err
			}
		}
	}
	return nil
}

// writeResponses keeps the responses of a group, one for each passage: an entry whose
// passage has one already gets that.
func writeResponses(tx *gorm.DB, group []*entry) error {
	var asked []string
	for _, e := range group {
		if e.response != nil {
			asked = append(asked, e.passage.ID)
		}
	}
	if len(asked) == 0 {
		return nil
	}
	for !slices.Contains(chunks, len(asked)) && len(asked) < chunks[0] {
		asked = append(asked, asked[0]) // the same, so that the query stays prepared
	}
	var there []*Response
	if err := tx.Preload("Contacts").Where("passage IN ?", asked).Find(&there).Error; err != nil {
		return err
	}
	kept := map[string]*Response{}
	for _, r := range there {
		kept[r.Passage] = r
	}
	last := numbers{}
	var fresh []*Response
	for _, e := range group {
		if e.response == nil {
			continue
		}
		r := e.response
		if before := kept[r.Passage]; before != nil {
			e.response = before
			continue
		}
		if err := last.give(tx, r); err != nil {
			return err
		}
		kept[r.Passage] = r
		fresh = append(fresh, r)
	}
	return createResponses(tx, fresh)
}

// numbers are the numbers of the newest response by quiz, within one transaction.
type numbers map[uint]int

// give numbers a response after those that are there.
func (n numbers) give(tx *gorm.DB, r *Response) error {
	if _, known := n[r.QuizID]; !known {
		newest := 0
		err := tx.Raw("SELECT max(coalesce((SELECT max(number) FROM responses WHERE quiz_id = ?), 0), coalesce((SELECT max(number) FROM erasures WHERE quiz_id = ?), 0))", r.QuizID, r.QuizID).Scan(&newest).Error
		if err != nil {
			return err
		}
		n[r.QuizID] = newest
	}
	n[r.QuizID]++
	r.Number = n[r.QuizID]
	return nil
}

func createResponses(tx *gorm.DB, list []*Response) error {
	if err := create(tx.Omit(clause.Associations), list); err != nil {
		return err
	}
	if err := count(tx, list); err != nil {
		return err
	}
	var contacts []Contact
	var consents []Consent
	for _, r := range list {
		for i := range r.Consents {
			r.Consents[i].ResponseID, r.Consents[i].Given = r.ID, r.Finished
		}
		for i := range r.Contacts {
			r.Contacts[i].ResponseID = r.ID
		}
		contacts, consents = append(contacts, r.Contacts...), append(consents, r.Consents...)
	}
	if err := create(tx, contacts); err != nil {
		return err
	}
	return create(tx, consents)
}

// count adds responses to the counts of their outcomes.
func count(tx *gorm.DB, list []*Response) error {
	more := map[OutcomeCount]int{}
	for _, r := range list {
		more[OutcomeCount{QuizID: r.QuizID, Outcome: r.Outcome}]++
	}
	for at, n := range more {
		err := tx.Exec("INSERT INTO outcome_counts (quiz_id, outcome, count) VALUES (?, ?, ?) ON CONFLICT (quiz_id, outcome) DO UPDATE SET count = count + excluded.count", at.QuizID, at.Outcome, n).Error
		if err != nil {
			return err
		}
	}
	return nil
}
