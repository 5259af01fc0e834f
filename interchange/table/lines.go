package table

import (
	"bufio"
	"bytes"
	"encoding/json"
	"errors"
	"fmt"
	"io"

	"omphalos/core/quiz"
)

// readLines reads JSON Lines: an object a line, empty lines left out.
func readLines(in io.Reader, send func(*batch) bool, free func() *batch) func() error {
	return func() error {
		lines := bufio.NewScanner(in)
		lines.Buffer(make([]byte, 0, 1<<16), 4<<20)
		b := free()
		n := 0
		for lines.Scan() {
			n++
			text := bytes.TrimSpace(lines.Bytes())
			if len(text) == 0 {
				continue
			}
			b.add(n, []string{string(text)}, nil)
			if b.full() {
				if !send(b) {
					return nil
				}
				b = free()
			}
		}
		send(b)
		if err := lines.Err(); err != nil {
			return fmt.Errorf("reading the table after line %d: %w", n, err)
		}
		return nil
	}
}

// fillJSON reads one object. What is nested is named with dots; a list is
// several picks.
func (s *scorer) fillJSON(r *Row, text string) error {
	tree, err := quiz.Parse([]byte(text))
	var wrong quiz.Problem
	if errors.As(err, &wrong) {
		return fmt.Errorf("is not a JSON object as it should be: %s %s", wrong.Pointer, wrong.Message)
	}
	if err != nil {
		return err
	}
	object, ok := tree.(map[string]any)
	if !ok {
		return errors.New("is not a JSON object")
	}
	cells := map[string]string{}
	if err := flatten("", object, cells); err != nil {
		return err
	}
	names, values := make([]string, 0, len(cells)), make([]string, 0, len(cells))
	for name, value := range cells {
		names, values = append(names, name), append(values, value)
	}
	columns, left, err := columnsOf(s.p, names, s.o.Ignore)
	if err != nil {
		return err
	}
	s.leave(left)
	r.fill(columns, values)
	return r.err
}

func flatten(prefix string, object map[string]any, cells map[string]string) error {
	for name, v := range object {
		name = prefix + name
		switch v := v.(type) {
		case nil:
			cells[name] = ""
		case string:
			cells[name] = v
		case json.Number:
			cells[name] = v.String()
		case bool:
			if cells[name] = ""; v {
				cells[name] = "yes"
			}
		case map[string]any:
			if err := flatten(name+".", v, cells); err != nil {
				return err
			}
		case []any:
			joined := ""
			for i, item := range v {
				text, ok := item.(string)
				if !ok {
					return fmt.Errorf("%s lists something that is not text", name)
				}
				if i > 0 {
					joined += "|"
				}
				joined += text
			}
			cells[name] = joined
		}
	}
	return nil
}
