package edit

import (
	"encoding/json"
	"fmt"
	"slices"
	"strconv"
	"strings"

	"omphalos/core/quiz"
)

// When changes a condition in one place. At leads within it to a group or a comparison
// ("all/0/any/1", "" for the whole); Part says what is changed there, and Label what it
// becomes:
//
//	begin    a first comparison, where there is no condition yet
//	how      a group to "all", "any", "none" or "one"
//	clause   a group gets another comparison; nest, another group
//	subject  "answer crop", "row hours monday", "scale points", "visitor country", "outcome"
//	op       an operator
//	value    what it compares with; toggle takes one of several in or out; from and to
//	remove   the part goes; what is empty then goes with it
type When struct {
	Path  quiz.Pointer `json:"path"` // of the condition
	At    string       `json:"at,omitempty"`
	Part  string       `json:"part"`
	Label string       `json:"label,omitempty"`
}

func (a When) do(t *plan) error {
	q, err := t.quiz()
	if err != nil {
		return err
	}
	w := whenPlan{q: q, path: a.Path}
	w.root = w.find()
	if err := w.change(a.At, a.Part, a.Label); err != nil {
		return err
	}
	t.made = a.Path
	if how, parts := w.root.Group(); how == "" || len(parts) == 0 {
		t.ops = append(t.ops, Op{Op: "remove", Path: a.Path})
		return nil
	}
	t.put(a.Path, w.root)
	return nil
}

// quiz reads the document of the plan.
func (t *plan) quiz() (*quiz.Quiz, error) {
	b, err := json.Marshal(t.tree)
	if err != nil {
		return nil, err
	}
	return quiz.Read(b)
}

type whenPlan struct {
	q    *quiz.Quiz
	path quiz.Pointer
	root *quiz.Condition
}

// find returns a copy of the condition at the path, as a group.
func (w *whenPlan) find() *quiz.Condition {
	var found *quiz.Condition
	w.q.EachCondition(func(pointer quiz.Pointer, c *quiz.Condition) {
		if pointer == w.path {
			found = c
		}
	})
	if found == nil {
		return &quiz.Condition{All: []*quiz.Condition{}}
	}
	b, _ := json.Marshal(found) // a Condition can always be written
	fresh := new(quiz.Condition)
	_ = readJSON(b, fresh)
	if how, _ := fresh.Group(); how == "" {
		return &quiz.Condition{All: []*quiz.Condition{fresh}}
	}
	return fresh
}

// at returns the part that steps lead to, and the group that it is in.
func (w *whenPlan) at(steps string) (part, group *quiz.Condition, i int, err error) {
	part = w.root
	if steps == "" {
		return part, nil, 0, nil
	}
	words := strings.Split(steps, "/")
	for n := 0; n+1 < len(words); n += 2 {
		_, parts := part.Group()
		i, err = strconv.Atoi(words[n+1])
		if err != nil || i < 0 || i >= len(parts) {
			return nil, nil, 0, fmt.Errorf("this part of the condition %w: it is not there any more", ErrAct)
		}
		group, part = part, parts[i]
	}
	return part, group, i, nil
}

func setGroup(c *quiz.Condition, how string, parts []*quiz.Condition) {
	c.All, c.Any, c.None, c.One = nil, nil, nil, nil
	switch how {
	case "any":
		c.Any = parts
	case "none":
		c.None = parts
	case "one":
		c.One = parts
	default:
		c.All = parts
	}
}

func (w *whenPlan) change(at string, part, label string) error {
	c, group, i, err := w.at(at)
	if err != nil {
		return err
	}
	how, parts := c.Group()
	switch part {
	case "begin", "clause", "nest":
		if how == "" {
			return fmt.Errorf("adding to a comparison %w", ErrAct)
		}
		fresh := w.fresh()
		if part == "nest" {
			fresh = &quiz.Condition{Any: []*quiz.Condition{fresh}}
		}
		setGroup(c, how, append(parts, fresh))
		return nil
	case "how":
		setGroup(c, label, parts)
		return nil
	case "remove":
		if group == nil {
			setGroup(w.root, "all", nil)
			return nil
		}
		groupHow, siblings := group.Group()
		setGroup(group, groupHow, slices.Delete(siblings, i, i+1))
		if len(siblings) == 1 && strings.Count(at, "/") > 1 {
			return w.change(at[:strings.LastIndex(at[:strings.LastIndexByte(at, '/')], "/")], "remove", "")
		}
		return nil
	}
	if how != "" {
		return fmt.Errorf("%s of a group %w", part, ErrAct)
	}
	switch part {
	case "subject":
		s, known := quiz.ReadSubject(label)
		if !known {
			return fmt.Errorf("%q as a subject %w", label, ErrAct)
		}
		*c = w.compare(s)
	case "op":
		c.Op = quiz.Op(label)
		w.fit(c)
	case "value":
		c.Value = w.read(c.Subject, label)
		if c.Op == quiz.IsOneOf || c.Op == quiz.Includes {
			c.Value = &quiz.Value{List: true, Items: []quiz.Item{}}
			for word := range strings.SplitSeq(label, ",") {
				if word = strings.TrimSpace(word); word != "" {
					c.Value.Items = append(c.Value.Items, w.read(c.Subject, word).Items...)
				}
			}
		}
	case "from", "to":
		ends := slices.Clone(c.Value.Items)
		if v := w.read(c.Subject, label); len(ends) == 2 && v != nil {
			ends[map[string]int{"from": 0, "to": 1}[part]] = v.Items[0]
			c.Value = &quiz.Value{Items: ends, List: true}
		}
	case "toggle":
		items := []quiz.Item{}
		if c.Value != nil {
			items = slices.Clone(c.Value.Items)
		}
		had := len(items)
		items = slices.DeleteFunc(items, func(i quiz.Item) bool { return i.String() == label })
		if len(items) == had {
			items = append(items, quiz.Item{Text: label, IsText: true})
		}
		c.Value = &quiz.Value{Items: items, List: true}
	default:
		return fmt.Errorf("%q of a condition %w", part, ErrAct)
	}
	return nil
}
