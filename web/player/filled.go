package player

import (
	"net/url"
	"strings"
)

// A link may bring answers along: ?a.crop=apples begins with that chosen. Several picks are
// parted by |, a row of a grid is a.grid.row. What can't be an answer is passed over, and what
// is there can be changed as if it had been chosen by hand.

// filledPrefix begins the parameters that are answers.
const filledPrefix = "a."

// fillFrom takes the answers out of an address.
func (j *journey) fillFrom(query url.Values) {
	for name, values := range query {
		key, is := strings.CutPrefix(name, filledPrefix)
		if !is || len(values) == 0 || len(values[0]) > longestValue {
			continue
		}
		key, row, _ := strings.Cut(key, ".")
		i := j.program.Position(key)
		if i < 0 || j.program.Question(i).Kind.Personal() {
			continue
		}
		t := j.typed[key]
		if row != "" {
			rows := map[string]string{row: values[0]}
			for k, v := range t.Rows {
				if k != row {
					rows[k] = v
				}
			}
			t.Rows = rows
		} else {
			t.Values = strings.Split(values[0], "|")
		}
		t = j.program.Keep(i, t)
		if _, err := j.program.Read(i, t); err == nil && (len(t.Values) > 0 || len(t.Rows) > 0) {
			j.put(key, t)
		}
	}
}
