package table

import (
	"encoding/csv"
	"errors"
	"fmt"
	"io"
	"slices"
	"strconv"
	"strings"
	"sync"

	"omphalos/core/passage"
	"omphalos/core/quiz"
)

// ErrShares says that a line of a table of shares can't be used.
var ErrShares = errors.New("a table of shares has the columns question, answer, percent")

// ReadShares reads how often each answer is given: CSV with the columns question,
// answer and percent, "-" as answer for those who pass the question by. The error
// is about the first line that can't be used.
func ReadShares(p *passage.Program, in io.Reader) (passage.Shares, error) {
	r := csv.NewReader(in)
	r.TrimLeadingSpace = true
	heading, err := r.Read()
	if err != nil {
		return nil, fmt.Errorf("reading the shares: %w", errors.Join(ErrShares, err))
	}
	at := map[string]int{}
	for i, name := range heading {
		at[strings.ToLower(strings.TrimSpace(strings.TrimPrefix(name, "\ufeff")))] = i
	}
	question, hasQuestion := at["question"]
	answer, hasAnswer := at["answer"]
	percent, hasPercent := at["percent"]
	if !hasQuestion || !hasAnswer || !hasPercent {
		return nil, fmt.Errorf("reading the shares: %w, and this one has %s", ErrShares, strings.Join(heading, ", "))
	}
	shares := passage.Shares{}
	for {
		cells, err := r.Read()
		if err == io.EOF {
			return shares, nil
		}
		line, _ := r.FieldPos(0)
		if err != nil {
			return nil, fmt.Errorf("reading the shares: %w", err)
		}
		key, name := strings.TrimSpace(cells[question]), strings.TrimSpace(cells[answer])
		i := p.Position(key)
		if i < 0 {
			return nil, fmt.Errorf("reading the shares: line %d: there is no question %q", line, key)
		}
		if names := p.Names(i); p.Named(i) && !slices.Contains(names, name) {
			return nil, fmt.Errorf("reading the shares: line %d: the question %q has no answer %q, but %s", line, key, name, strings.Join(names, ", "))
		}
		n, err := strconv.ParseFloat(strings.TrimRight(cells[percent], " %"), 64)
		if err != nil || !(n >= 0 && n <= 100) {
			return nil, fmt.Errorf("reading the shares: line %d: %q is not a percentage from 0 to 100", line, cells[percent])
		}
		if shares[key] == nil {
			shares[key] = map[string]float64{}
		}
		shares[key][name] = n
	}
}

// Observe reads respondents as Score does and returns how often they gave each
// answer, and how many they were.
func Observe(p *passage.Program, in io.Reader, o Options) (passage.Shares, int, error) {
	seen := p.Observer()
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
func WriteAnswers(out io.Writer, p *passage.Program, in passage.Input) error {
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
	w := csv.NewWriter(out)
	if err := w.WriteAll([][]string{names, cells}); err != nil {
		return fmt.Errorf("writing the answers: %w", err)
	}
	return nil
}
