package slice

import (
	"strconv"
	"strings"

	"omphalos/core/quiz"
	"omphalos/interchange/rows"
	"omphalos/store"
)

// always are the columns that every quiz has.
var always = []rows.Column{
	{Key: "number", Words: "Number", Kind: rows.Whole},
	{Key: "finished", Words: "Finished", Kind: rows.Moment},
	{Key: "seconds", Words: "Seconds that it took", Kind: rows.Whole},
	{Key: "release", Words: "Release", Kind: rows.Whole},
	{Key: "end", Words: "End"},
	{Key: "outcome", Words: "Outcome"},
	{Key: "landing", Words: "Landing"},
	{Key: "address", Words: "Redirected to"},
	{Key: "country", Words: "Country"},
	{Key: "language", Words: "Language"},
	{Key: "device", Words: "Device"},
	{Key: "source", Words: "Source"},
	{Key: "medium", Words: "Medium"},
	{Key: "campaign", Words: "Campaign"},
}

// Columns are the columns of a quiz's responses: what is known of each, then its scales,
// questions and contact fields by their keys, in the order of the sheet. What only earlier
// releases had stands behind, so that a column is where it was as long as the sheet is.
func Columns(q *quiz.Quiz, releases []store.Release) []rows.Column {
	columns, at := append([]rows.Column{}, always...), map[string]int{}
	take := func(of []rows.Column) {
		for _, c := range of {
			i, known := at[c.Key]
			switch {
			case !known:
				at[c.Key], columns = len(columns), append(columns, c)
			case columns[i].Kind != c.Kind: // it was asked in another way
				columns[i].Kind = eitherKind(columns[i].Kind, c.Kind)
			}
		}
	}
	take(ownColumns(q))
	for _, r := range releases {
		if before, err := r.Read(); err == nil { // or its responses still have what is known of each
			take(ownColumns(before))
		}
	}
	return columns
}

// eitherKind holds what two kinds hold.
func eitherKind(a, b rows.Kind) rows.Kind {
	if a == rows.Texts || b == rows.Texts {
		return rows.Texts
	}
	return rows.Text
}

// ownColumns are those of a quiz's own scales, questions and contact fields.
func ownColumns(q *quiz.Quiz) []rows.Column {
	var columns []rows.Column
	add := func(key, words string, kind rows.Kind) {
		columns = append(columns, rows.Column{Key: key, Words: words, Kind: kind})
	}
	for _, key := range quiz.InOrder(q.Scales) {
		add("score."+key, q.Scales[key].Name, rows.Number)
	}
	for _, key := range q.QuestionKeys() {
		asked := q.Questions[key]
		switch {
		case asked.Kind == quiz.Interlude:
		case asked.Kind.Personal():
			add("contact."+key, asked.Label, rows.Text)
		case asked.Kind == quiz.Grid:
			for _, row := range quiz.InOrder(asked.Rows) {
				add("answer."+key+"."+row, asked.Label+" "+asked.Rows[row].Label, rows.Text)
			}
		default:
			add("answer."+key, asked.Label, kindOf(asked.Kind))
			for _, a := range asked.Answers {
				if a.WriteIn {
					add("words."+key, asked.Label+" (own words)", rows.Text)
					break
				}
			}
		}
	}
	if q.Contact != nil {
		for _, key := range quiz.InOrder(q.Contact.Fields) {
			add("contact."+key, q.Contact.Fields[key].Label, rows.Text)
		}
	}
	return columns
}

func kindOf(kind quiz.Kind) rows.Kind {
	switch {
	case kind == quiz.Several:
		return rows.Texts
	case kind.Numeric():
		return rows.Number
	case kind == quiz.Date:
		return rows.Day
	}
	return rows.Text
}

// Questions is a sheet that tells what stands in the columns: a row for each answer of each
// question, and for each scale and contact field.
func Questions(q *quiz.Quiz) rows.Sheet {
	s := rows.Sheet{Name: "Questions", Columns: []rows.Column{
		{Key: "column", Words: "Column"}, {Key: "words", Words: "What it says"}, {Key: "kind", Words: "Kind"},
		{Key: "answer", Words: "Value"}, {Key: "label", Words: "What the value says"},
	}}
	for _, c := range ownColumns(q) {
		what, key, _ := strings.Cut(c.Key, ".")
		key, _, _ = strings.Cut(key, ".")
		asked := q.Questions[key]
		if what == "answer" && asked != nil && len(asked.Answers) > 0 {
			for _, a := range quiz.InOrder(asked.Answers) {
				s.Rows = append(s.Rows, []rows.Cell{rows.Said(c.Key), rows.Said(c.Words),
					rows.Said(string(asked.Kind)), rows.Said(a), rows.Said(asked.Answers[a].Label)})
			}
			continue
		}
		kind := what
		if asked != nil {
			kind = string(asked.Kind)
		} else if q.Contact != nil && q.Contact.Fields[key] != nil {
			kind = string(q.Contact.Fields[key].Kind)
		}
		s.Rows = append(s.Rows, []rows.Cell{rows.Said(c.Key), rows.Said(c.Words), rows.Said(kind), {}, {}})
	}
	for i, key := range quiz.InOrder(q.Outcomes) {
		s.Rows = append(s.Rows, []rows.Cell{rows.Said("outcome"), rows.Said("Outcome " + strconv.Itoa(i+1)),
			rows.Said(string(q.Outcomes[key].Standing)), rows.Said(key), rows.Said(q.Outcomes[key].Name)})
	}
	return s
}
