package store

import (
	"context"
	"errors"
	"fmt"

	"gorm.io/gorm"
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
	late     bool                    // the passage had a response before
	within   Bounds                  // of what the quiz takes
	instead  []Response              // earlier ones that this response counts instead of
	refused  error                   // why it was left out of its group
	done     chan error
}

// write has an entry written and returns when it is on disk. A context that has ended is
// an error; one that ends while the entry waits is not waited for.
func (rs *Responses) write(ctx context.Context, e *entry) error {
	if err := ctx.Err(); err != nil {
		return err
	}
	if e.passage.WorkspaceID != rs.in {
		return fmt.Errorf("the passage %w in this workspace", ErrNotFound)
	}
	d := rs.disk
	e.done = make(chan error, 1)
	d.closing.RLock()
	if d.closed {
		d.closing.RUnlock()
		return errors.New("the workspace is closed")
	}
	select {
	case d.queue <- e:
		d.closing.RUnlock()
		return <-e.done
	default:
		d.closing.RUnlock()
		return ErrBusy
	}
}

// writeGroups writes what comes in until the queue is closed.
func (d *disk) writeGroups() {
	defer close(d.written)
	for first := range d.queue {
		group := []*entry{first}
	more:
		for len(group) < largestGroup {
			select {
			case e, open := <-d.queue:
				if !open {
					break more
				}
				group = append(group, e)
			default:
				break more
			}
		}
		err := d.commit(group, false)
		if errors.Is(err, gorm.ErrDuplicatedKey) || errors.Is(err, gorm.ErrForeignKeyViolated) {
			for _, e := range group { // one of them is at fault: the others shall not suffer
				e.finish(d, d.commit([]*entry{e}, true))
			}
			continue
		}
		for _, e := range group {
			e.finish(d, err)
		}
	}
}

// remembered returns a passage of a workspace that was read or written lately.
func (d *disk) remembered(in WorkspaceID, id string) (Passage, bool) {
	p, known := d.passages.Get(id)
	return p, known && p.WorkspaceID == in
}

// finish remembers how the passage is on disk, and answers. What came late to a finished
// passage has changed nothing there.
func (e *entry) finish(d *disk, err error) {
	if err == nil && e.refused != nil {
		e.done <- e.refused
		return
	}
	if err == nil {
		before, known := d.remembered(e.passage.WorkspaceID, e.passage.ID)
		switch {
		case e.gone, e.late:
			d.passages.Remove(e.passage.ID)
		case e.alone != nil, e.response != nil, known && !before.Finished, !known && e.passage.fresh:
			e.passage.fresh = false
			d.passages.Add(e.passage.ID, *e.passage)
		}
		e.passage.fresh = false
		over := e.gone || e.late || e.response != nil || e.passage.Finished
		rs := d.workspace(e.passage.WorkspaceID).Responses
		rs.flows.wrote(e.passage, over)
		if e.response != nil && !e.late {
			if l := e.response.Lead; l != nil {
				rs.leads.touch(l.ID)
			}
			rs.markContact(e.response.QuizID, e.response.Number, e.response.Contacts)
		}
	}
	e.done <- err
}

// commit writes a group in one transaction, or nothing of it. With care it looks first
// whether a passage has a response; without, the database refuses a second one.
func (d *disk) commit(group []*entry, care bool) (err error) {
	if err := beginWriting(d.writer); err != nil {
		return err
	}
	defer func() {
		if fault := recover(); fault != nil { // must not end all writing
			err = fmt.Errorf("writing passages: %v", fault)
		}
		if err != nil {
			takeBack(d.writer)
		}
	}()
	of := map[WorkspaceID][]*entry{}
	for _, e := range group {
		of[e.passage.WorkspaceID] = append(of[e.passage.WorkspaceID], e)
	}
	for in, group := range of {
		tx := within(context.Background(), d.writer, in)
		if err := refuse(tx, group); err != nil {
			return err
		}
		if err := d.writePassages(tx, group); err != nil {
			return err
		}
		if err := d.writeResponses(tx, group, care); err != nil {
			return err
		}
	}
	return endWriting(d.writer)
}
