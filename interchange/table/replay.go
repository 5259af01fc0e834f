package table

import (
	"bytes"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"runtime"
	"strconv"
	"sync"

	"omphalos/core/passage"
	"omphalos/core/program"
	"omphalos/core/replay"
)

// ErrOutcome says that the table does not tell which outcome respondents got.
var ErrOutcome = errors.New("has no column “outcome” that says what they got: name the version that " +
	"gave it to them (--against)")

// ReplayOptions say how Replay reads.
type ReplayOptions struct {
	From Format // CSV where empty
	Kept bool   // what they got before stands in the column "outcome"
	Most int    // movers that are told
	Bad  func(*RowError)
}

// Replay walks respondents of a table through the versions of a replay. Columns are those that
// Score reads, or those of responses that were taken out ("answer.crop", "number", "outcome",
// "country"); others are left out. What a version does not ask, or does not take as an answer,
// counts as skipped. It returns what they came to, and how many rows were bad.
func Replay(of *replay.Replay, in io.Reader, o ReplayOptions) (*replay.Sums, int, error) {
	r := &replayer{of: of, o: o, free: make(chan *batch, inFlight), work: make(chan *batch, inFlight)}
	for range inFlight {
		r.free <- &batch{}
	}
	read := readLines(in, r.send, r.take)
	if o.From != JSONL {
		names, fromCSV, err := csvBatches(in, r.send, r.take)
		if err != nil {
			return nil, 0, err
		}
		if r.layout, err = r.layOut(names); err != nil {
			return nil, 0, err
		}
		read = fromCSV
	}
	all, bad := of.Sums(), 0
	var mine sync.Mutex
	var workers sync.WaitGroup
	for range runtime.GOMAXPROCS(0) {
		workers.Go(func() {
			w := &replayWorker{replayer: r, player: of.Player(), rows: make([]Row, len(of.Programs()))}
			for b := range r.work {
				wrong := w.play(b)
				mine.Lock()
				all.Add(w.player.Take(), o.Most)
				bad += len(wrong)
				for _, e := range wrong {
					o.Bad(e)
				}
				mine.Unlock()
				r.free <- b
			}
		})
	}
	err := read()
	close(r.work)
	workers.Wait()
	return all, bad, err
}

type replayer struct {
	of     *replay.Replay
	o      ReplayOptions
	layout *layout // of all rows of CSV
	free   chan *batch
	work   chan *batch
}

func (r *replayer) take() *batch {
	b := <-r.free
	b.reset()
	return b
}

func (r *replayer) send(b *batch) bool {
	r.work <- b
	return true
}

// A replayWorker plays batches.
type replayWorker struct {
	*replayer
	player *replay.Player
	rows   []Row // by version
	read   []bool
}

func (w *replayWorker) play(b *batch) (bad []*RowError) {
	cells := b.cells
	for i, line := range b.lines {
		own := cells[:b.width[i]]
		cells = cells[b.width[i]:]
		err := b.errs[i]
		if err == nil {
			err = w.one(line, own)
		}
		if err != nil {
			bad = append(bad, &RowError{line, err})
		}
	}
	return bad
}

// one plays a row. It is bad where its own version does not take an answer.
func (w *replayWorker) one(line int, cells []string) error {
	l := w.layout
	if l == nil {
		var err error
		if l, cells, err = w.fromJSON(cells[0]); err != nil {
			return err
		}
	}
	one := replay.Response{Number: line}
	if l.number >= 0 {
		if n, err := strconv.Atoi(cells[l.number]); err == nil {
			one.Number = n
		}
	}
	if w.o.Kept {
		if one.Was = cells[l.outcome]; one.Was == "" {
			return errors.New("the outcome is missing")
		}
		one.Asked = func(question string) bool { // as far as the table tells
			i := w.of.Before.Position(question)
			return i >= 0 && w.rows[0].Input.Answers[i].State == program.Given // filled first
		}
	}
	w.read = append(w.read[:0], make([]bool, len(w.rows))...)
	if err := w.fill(0, l, cells); err != nil {
		return err
	}
	one.Input = func(version int) passage.Input {
		if !w.read[version] {
			_ = w.fill(version, l, cells) // what it does not take counts as skipped
		}
		return w.rows[version].Input
	}
	w.player.Play(one, true)
	return nil
}

// fill reads a row for a version: cell by cell, so that one that it does not take leaves the
// others as they are.
func (w *replayWorker) fill(version int, l *layout, cells []string) (wrong error) {
	row := &w.rows[version]
	row.clear(len(w.of.Programs()[version].Questions))
	w.read[version] = true
	for _, c := range l.columns[version] {
		row.fill([]placed{c}, cells)
		if row.err != nil {
			wrong, row.err = errors.Join(wrong, row.err), nil
		}
	}
	return wrong
}

// fromJSON reads an object as a row.
func (w *replayWorker) fromJSON(text string) (*layout, []string, error) {
	var object map[string]any
	d := json.NewDecoder(bytes.NewReader([]byte(text)))
	d.UseNumber()
	if err := d.Decode(&object); err != nil {
		return nil, nil, fmt.Errorf("is no JSON object: %w", err)
	}
	flat := map[string]string{}
	if err := flatten("", object, flat); err != nil {
		return nil, nil, err
	}
	var names, cells []string
	for name, value := range flat {
		names, cells = append(names, name), append(cells, value)
	}
	l, err := w.layOut(names)
	return l, cells, err
}
