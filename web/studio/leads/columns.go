package leads

import (
	"strings"

	"omphalos/store/tally"
)

// A column of the list, with the address that sorts by it, "" where that can't be.
type column struct{ Name, Sort, Order string }

// sortable are the columns that sort, with whether the most comes first.
var sortable = []struct {
	key, name string
	by        tally.Kind
	falling   bool
}{
	{"", "Who", "", false},
	{"reach", "Score", tally.Reach, true},
	{"finished", "Reached", tally.Finished, true},
	{"state", "State", tally.State, false},
	{"owner", "With", tally.Owner, false},
	{"next", "Next", tally.Next, false},
	{"source", "Source", tally.Source, false},
}

// order is how the leads are sorted: by the newest where nothing that is known is said.
func (in *sentence) order() (by string, order tally.Order) {
	key, falling := strings.CutPrefix(in.fields.Get("sort"), "-")
	for _, c := range sortable {
		if c.key == key && key != "" {
			return key, tally.Order{By: tally.Property{Kind: c.by}, Falling: falling}
		}
	}
	return "finished", tally.Order{By: tally.Property{Kind: tally.Finished}, Falling: true}
}

func (in *sentence) columns(by string, order tally.Order) []column {
	var list []column
	for _, c := range sortable {
		one := column{Name: c.name}
		if c.key != "" {
			next := c.key
			if c.falling {
				next = "-" + next
			}
			if c.key == by {
				one.Order = "ascending"
				if next = "-" + c.key; order.Falling {
					one.Order, next = "descending", c.key
				}
			}
			one.Sort = in.at("sort", next)
		}
		list = append(list, one)
	}
	return list
}
