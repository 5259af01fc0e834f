package release

import (
	"encoding/csv"
	"fmt"
	"strings"

	"omphalos/core/excerpt"
	"omphalos/interchange/listing"
	"omphalos/store"
	"omphalos/web/studio/desk"
)

// The longest cell of a list, in letters, and how many further columns are taken.
const (
	longestCell = 200
	mostColumns = 16
)

// readPeople reads a list: a line each, columns parted by commas, semicolons or tabs. Where
// the first line names columns (name, address, others), they are taken by name.
func readPeople(text string) (list []store.Invitation, wrong string) {
	text = strings.TrimSpace(strings.ReplaceAll(text, "\r\n", "\n"))
	if text == "" {
		return nil, "Paste the list first: a name and an address in each line."
	}
	r := csv.NewReader(strings.NewReader(text))
	r.FieldsPerRecord, r.TrimLeadingSpace, r.LazyQuotes = -1, true, true
	first, _, _ := strings.Cut(text, "\n")
	for _, parting := range []rune{'\t', ';'} {
		if strings.ContainsRune(first, parting) {
			r.Comma = parting
		}
	}
	rows, err := r.ReadAll()
	if err != nil {
		return nil, "The list can't be read: " + err.Error() + "."
	}
	columns := []string{"name", "address"}
	if len(rows) > 0 && named(rows[0]) {
		columns = nil
		for _, cell := range rows[0] {
			columns = append(columns, strings.ToLower(strings.TrimSpace(cell)))
		}
		rows = rows[1:]
	}
	if len(columns) > mostColumns+2 {
		return nil, fmt.Sprintf("The list has %d columns: at most %d are taken.", len(columns), mostColumns+2)
	}
	for _, row := range rows {
		i, facts := store.Invitation{}, map[string]string{}
		for k, cell := range row {
			cell = excerpt.Bounded(strings.TrimSpace(listing.Plain(cell)), longestCell)
			switch {
			case k >= len(columns) && strings.Contains(cell, "@") || k < len(columns) && isAddress(columns[k]):
				i.Address = cell
			case k < len(columns) && columns[k] == "name":
				i.Name = cell
			case k < len(columns) && columns[k] != "" && cell != "":
				facts[columns[k]] = cell
			}
		}
		if i.Address == "" && strings.Contains(i.Name, "@") {
			i.Address, i.Name = i.Name, ""
		}
		if i.Name == "" && i.Address == "" {
			continue
		}
		i.Facts = desk.JSONText(facts)
		list = append(list, i)
	}
	if len(list) == 0 {
		return nil, "There is nobody on the list: put a name, or an address, in each line."
	}
	return list, ""
}

// named tells whether a line names columns.
func named(row []string) bool {
	for _, cell := range row {
		if word := strings.ToLower(strings.TrimSpace(cell)); word == "name" || isAddress(word) {
			return true
		}
	}
	return false
}

func isAddress(column string) bool {
	return column == "address" || column == "e-mail" || column == "email" || column == "mail"
}
