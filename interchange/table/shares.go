package table

import (
	"encoding/csv"
	"errors"
	"fmt"
	"io"
	"maps"
	"math"
	"slices"
	"strconv"
	"strings"
	"sync"

	"omphalos/core/expect"
	"omphalos/core/passage"
	"omphalos/core/program"
	"omphalos/core/quiz"
	"omphalos/interchange/listing"
)

// ErrShares says that a line of a table of shares can't be used.
var ErrShares = errors.New("a table of shares has the columns question, answer, percent")

// ReadShares reads how often each answer is given: CSV with the columns question,
// answer and percent, "-" as answer for those who pass the question by. The error
// is about the first line that can't be used.
func ReadShares(p *program.Program, in io.Reader) (expect.Shares, error) {
	r, err := csvReader(in)
	if err != nil {
		return nil, fmt.Errorf("reading the shares: %w", err)
	}
	r.TrimLeadingSpace = true
	heading, err := r.Read()
	if err != nil {
		return nil, fmt.Errorf("reading the shares: %w", errors.Join(ErrShares, err))
	}
	at := map[string]int{}
	for i, name := range heading {
		at[strings.ToLower(strings.TrimSpace(name))] = i
	}
	question, hasQuestion := at["question"]
	answer, hasAnswer := at["answer"]
	percent, hasPercent := at["percent"]
	if !hasQuestion || !hasAnswer || !hasPercent {
		return nil, fmt.Errorf("reading the shares: %w, and this one has %s", ErrShares, strings.Join(heading, ", "))
	}
	shares := expect.Shares{}
	for {
		cells, err := r.Read()
		if err == io.EOF {
			return shares, overfull(p, shares)
		}
		if err != nil && !errors.As(err, new(*csv.ParseError)) {
			return nil, fmt.Errorf("reading the shares: %w", err)
		}
		line, err := rowError(r, cells, len(heading), err)
		if err != nil {
			return nil, fmt.Errorf("reading the shares: line %d: %w", line, err)
		}
		key, name := strings.TrimSpace(cells[question]), strings.TrimSpace(cells[answer])
		i := p.Position(key)
		if i < 0 {
			return nil, fmt.Errorf("reading the shares: line %d: there is no question %q", line, key)
		}
		if names := p.Names(i); p.Named(i) && !slices.Contains(names, name) {
			return nil, fmt.Errorf(
				"reading the shares: line %d: the question %q has no answer %q, but %s",
				line,
				key,
				name,
				strings.Join(names, ", "),
			)
		}
		n, err := strconv.ParseFloat(strings.TrimRight(cells[percent], " %"), 64)
		if err != nil || !(n >= 0 && n <= 100) {
			return nil, fmt.Errorf(
				"reading the shares: line %d: %q is not a percentage from 0 to 100",
				line,
				cells[percent],
			)
		}
		if shares[key] == nil {
			shares[key] = map[string]float64{}
		}
		if _, twice := shares[key][name]; twice {
			return nil, fmt.Errorf("reading the shares: line %d: the answer %q of %q is there twice", line, name, key)
		}
		shares[key][name] = n
	}
}

// overfull refuses shares of which more than all respondents would give one answer or
// another, where only one can be given.
func overfull(p *program.Program, shares expect.Shares) error {
	for _, key := range slices.Sorted(maps.Keys(shares)) {
		sums := map[string]float64{} // by row of a grid
		q := p.Question(p.Position(key))
		for name, percent := range shares[key] {
			row, _, dotted := strings.Cut(name, ".")
			switch {
			case q.Kind == quiz.Several:
			case q.Kind == quiz.Grid && dotted:
				sums["row "+row+" of "] += percent
			case q.Kind == quiz.Grid: // passing by is beside every row
			default:
				sums[""] += percent
			}
		}
		for _, of := range slices.Sorted(maps.Keys(sums)) {
			if sum := sums[of]; sum > 100+1e-6 {
				return fmt.Errorf(
					"reading the shares: the shares of %s%q come to %g %%, and are at most 100 %% together",
					of,
					key,
					math.Round(sum*100)/100,
				)
			}
		}
	}
	return nil
}

// Observe reads respondents as Score does and returns how often they gave each
// answer, and how many they were.
func Observe(p *program.Program, in io.Reader, o Options) (expect.Shares, int, error) {
	seen := expect.NewObserver(p)
	var one sync.Mutex
	o.walked = func(in passage.Input, r *passage.Result) {
		one.Lock()
		defer one.Unlock()
		seen.Add(in.Answers, r.Seen)
	}
	if _, _, err := Score(p, in, io.Discard, o); err != nil {
		return nil, 0, err
	}
	return seen.Shares(), seen.Passages, nil
}

// WriteAnswers writes one respondent as a table that Score reads: a column for each
// question that is answered, and for each fact that is known.
func WriteAnswers(out io.Writer, p *program.Program, in passage.Input) error {
	var names, cells []string
	add := func(name, cell string) {
		if cell != "" {
			names, cells = append(names, name), append(cells, cell)
		}
	}
	for i, v := range in.Answers {
		t := p.Typed(i, v)
		add(p.Key(i), strings.Join(t.Values, "|"))
		for _, row := range p.RowKeys(i) {
			add(p.Key(i)+"."+row, t.Rows[row])
		}
	}
	for _, fact := range quiz.Facts {
		add("visitor."+fact, in.Visitor.Fact(fact))
	}
	if in.Visitor != nil {
		for name, value := range in.Visitor.Query {
			add("visitor.query."+name, value)
		}
	}
	if len(names) == 0 { // who passes everything by is a row all the same
		add("id", "1")
	}
	for i := range cells {
		cells[i] = listing.Inert(cells[i])
	}
	w := csv.NewWriter(out)
	if err := w.WriteAll([][]string{names, cells}); err != nil {
		return fmt.Errorf("writing the answers: %w", err)
	}
	return nil
}
