package table

import (
	"bufio"
	"bytes"
	"encoding/csv"
	"errors"
	"fmt"
	"io"
	"runtime"
	"sync"

	"omphalos/core/passage"
	"omphalos/core/program"
)

// Options say how Score reads and writes.
type Options struct {
	From, To Format // CSV where empty
	Explain  bool   // adds the explanation to each row
	Ignore   bool   // leaves columns out that belong to nothing in the quiz
	// Blank is told of each good row in which required questions were left blank, and how
	// many; they count as passed by. It is called by several goroutines.
	Blank func(line, questions int)
	// Left is told of each column that is left out, once.
	Left func(column string)
	// Bad is told of each bad row, in the order of the input.
	Bad func(*RowError)
	// Done is told how many rows have been written, from time to time.
	Done func(rows int)

	walked func(passage.Input, *passage.Result) // told of each good row, by several goroutines
}

// Score reads respondents and writes what their passages came to, row for row
// in the same order, in constant memory and on all processors. It returns how
// many rows were good and how many bad.
func Score(p *program.Program, in io.Reader, out io.Writer, o Options) (good, bad int, err error) {
	s := scorer{
		p:     p,
		o:     o,
		free:  make(chan *batch, inFlight),
		work:  make(chan *batch, inFlight),
		order: make(chan *batch, inFlight),
		stop:  make(chan struct{}),
	}
	for range inFlight {
		s.free <- &batch{done: make(chan struct{}, 1)}
	}
	var read func() error
	if o.From == JSONL {
		read = readLines(in, s.send, s.take)
	} else {
		var names []string
		if names, read, err = csvBatches(in, s.send, s.take); err != nil {
			return 0, 0, err
		}
		var left []string
		if s.columns, left, err = columnsOf(p, names, o.Ignore); err != nil {
			return 0, 0, err
		}
		s.leave(left)
	}
	failed := make(chan error, 1)
	go func() {
		failed <- read()
		close(s.work)
		close(s.order)
	}()
	var workers sync.WaitGroup
	for range runtime.GOMAXPROCS(0) {
		workers.Go(s.worker)
	}
	good, bad, err = s.write(out)
	workers.Wait()
	return good, bad, errors.Join(err, <-failed)
}

const (
	batchRows = 256
	inFlight  = 16
)

// A batch is some rows of input, and what they became.
type batch struct {
	cells  []string // of all rows
	width  []int    // cells of each row
	lines  []int
	errs   []error
	output bytes.Buffer
	bad    []*RowError
	good   int
	done   chan struct{}
}

func (b *batch) add(line int, cells []string, err error) {
	b.lines = append(b.lines, line)
	b.errs = append(b.errs, err)
	if err != nil {
		cells = nil
	}
	b.cells = append(b.cells, cells...)
	b.width = append(b.width, len(cells))
}

func (b *batch) full() bool { return len(b.lines) == batchRows }

func (b *batch) reset() {
	b.cells, b.width, b.lines, b.errs, b.bad, b.good = b.cells[:0], b.width[:0], b.lines[:0], b.errs[:0], b.bad[:0], 0
	b.output.Reset()
}

// A scorer passes batches from the reader to the workers and, in order, to the writer.
type scorer struct {
	p       *program.Program
	o       Options
	columns []placed // of CSV
	free    chan *batch
	work    chan *batch
	order   chan *batch
	stop    chan struct{} // closed when nothing can be written any more
	left    sync.Map      // columns that are left out
}

// leave tells of columns that are left out.
func (s *scorer) leave(columns []string) {
	for _, column := range columns {
		if _, told := s.left.LoadOrStore(column, true); !told && s.o.Left != nil {
			s.o.Left(column)
		}
	}
}

func (s *scorer) take() *batch {
	b := <-s.free
	b.reset()
	return b
}

// send hands a batch on; false tells that there is no use in reading on.
func (s *scorer) send(b *batch) bool {
	select {
	case <-s.stop:
		return false
	default:
	}
	s.order <- b
	s.work <- b
	return true
}

func (s *scorer) worker() {
	w := newRowWriter(s.p, s.o)
	row := Row{}
	for b := range s.work {
		at := 0
		for i, line := range b.lines {
			cells := b.cells[at : at+b.width[i]]
			at += b.width[i]
			row.clear(len(s.p.Questions))
			row.Line, row.err = line, b.errs[i]
			if row.err == nil {
				if s.o.From == JSONL {
					row.err = s.fillJSON(&row, cells[0])
				} else {
					row.fill(s.columns, cells)
				}
			}
			if row.err == nil {
				row.err = w.write(&b.output, &row)
			}
			if row.err != nil {
				b.bad = append(b.bad, &RowError{line, row.err})
				continue
			}
			b.good++
		}
		b.done <- struct{}{}
	}
}

func (s *scorer) write(out io.Writer) (good, bad int, err error) {
	buffered := bufio.NewWriterSize(out, 1<<16)
	if s.o.To != JSONL {
		w := csv.NewWriter(buffered)
		_ = w.Write(heading(s.p, s.o)) // the error comes again at the flush
		w.Flush()
	}
	stopped := false
	for b := range s.order {
		<-b.done
		if !stopped {
			_, err = buffered.Write(b.output.Bytes())
			good += b.good
			bad += len(b.bad)
			for _, e := range b.bad {
				if s.o.Bad != nil {
					s.o.Bad(e)
				}
			}
			if s.o.Done != nil {
				s.o.Done(good + bad)
			}
			if err != nil {
				stopped = true
				close(s.stop)
			}
		}
		s.free <- b
	}
	if err == nil {
		err = buffered.Flush()
	}
	if err != nil {
		err = fmt.Errorf("writing the scores: %w", err)
	}
	return good, bad, err
}
