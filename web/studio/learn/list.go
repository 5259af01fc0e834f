package learn

import (
	"context"
	"net/url"
	"slices"
	"strconv"
	"strings"

	"github.com/gin-gonic/gin"

	"omphalos/core/decimal"
	"omphalos/core/quiz"
	"omphalos/interchange/rows"
	"omphalos/store"
	"omphalos/store/slice"
	"omphalos/store/tally"
	"omphalos/web/studio/desk"
	"omphalos/web/ui"
)

const perPage = 50

// A list shows a page of the responses of a slice: in an order, with the columns that were
// chosen. Both stand in the address, as sort=-score.readiness and columns=source.
type list struct {
	Columns []column
	Rows    []responseRow
	Choices []columnChoice
	Hidden  []desk.Hidden // the fields of the address but the columns
	Plain   string        // address of the newest first
	Newer   string        // addresses, "" where there are none
	Older   string
	Further string // what comes next in another order
}

// A column of the list, with the address that sorts by it, "" where that can't be.
type column struct {
	Key, Name, Sort string
	Number          bool
	Order           string // ascending, descending, or "" where it is not sorted by it
}

// A columnChoice can be shown as a column.
type columnChoice struct {
	Key, Name string
	Chosen    bool
}

type responseRow struct {
	Number  int
	Address string // of its page
	Beside  bool   // another one of theirs counts
	Cells   []listCell
}

// A listCell says what stands in a column.
type listCell struct {
	Text    string
	Number  bool
	Outcome *desk.Share
}

// viewed are the fields of the address that say how responses are listed.
var viewed = []string{"sort", "columns"}

// usual are the columns where none are chosen, before and after the scales.
var usual = [2][]string{{"finished"}, {"outcome", "landing"}}

// listed are the responses of a page of a list.
type listed struct {
	at    store.Page
	found []store.Response
	more  bool // beyond them
}

// find reads the responses of the page that is asked for.
func (s *Room) find(c *gin.Context, z *store.Quiz, in *sliced) (l listed, err error) {
	l.at.Before, _ = strconv.Atoi(c.Query("before")) // what is no number asks for the newest
	l.at.After, _ = strconv.Atoi(c.Query("after"))
	_, order := in.slice.order()
	l.found, l.more, err = s.page(c.Request.Context(), z.ID, in.slice, order, l.at)
	return l, err
}

// list fills in a page of the responses of the slice, and tells whether it is there.
func (in *sliced) list(of listed, page *learnPage) bool {
	at, found, more := of.at, of.found, of.more
	table := slice.TableOf(in.columns, in.slice.releases, in.slice.days.Zone)
	l := &page.List
	shown := in.slice.view["columns"]
	shown = slices.DeleteFunc(slices.Clone(shown), func(key string) bool { return !table.Holds(key) })
	if len(shown) == 0 {
		shown = slices.Clone(usual[0])
		for _, key := range quiz.InOrder(in.quiz.Scales) {
			shown = append(shown, "score."+key)
		}
		shown = append(shown, usual[1]...)
	}
	by, order := in.slice.order()
	for _, c := range table.Columns {
		if c.Key != "number" {
			l.Choices = append(l.Choices, columnChoice{c.Key, c.Words, slices.Contains(shown, c.Key)})
		}
	}
	for _, key := range shown {
		l.Columns = append(l.Columns, in.slice.column(table, key, by, order.Falling))
	}
	l.Hidden = in.slice.hide("columns")
	if order.By.Kind != "" {
		l.Plain = in.slice.listed("sort", "")
	}
	if len(found) > 0 {
		leads := func(field string, number int) string {
			fields := in.slice.clone()
			fields.Set(field, strconv.Itoa(number))
			return in.slice.at(fields) + "#responses"
		}
		switch {
		case order.By.Kind != "":
			if more {
				l.Further = leads("after", found[len(found)-1].Number)
			}
		default:
			if at.Before > 0 || at.After > 0 && more {
				l.Newer = leads("after", found[0].Number)
			}
			if at.After > 0 || more {
				l.Older = leads("before", found[len(found)-1].Number)
			}
		}
	}
	for i := range found {
		l.Rows = append(l.Rows, in.row(table, shown, page.Outcomes, &found[i]))
	}
	return len(found) > 0 || at == (store.Page{})
}

// page reads a page of a slice in an order, and tells whether there are more beyond it.
func (s *Room) page(ctx context.Context, quiz uint, in *sentence, order tally.Order,
	at store.Page) (list []store.Response, more bool, err error) {
	find := func(order tally.Order, mark int) ([]store.Response, error) {
		list, _, err := s.Store.Responses.Find(ctx, quiz, in.All(), order, tally.Mark(mark), perPage+1)
		return list, err
	}
	sorted := order.By.Kind != ""
	switch {
	case sorted:
		list, err = find(order, at.After)
	case len(in.Parts) == 0:
		list, err = s.Store.Responses.List(ctx, quiz, at, perPage+1)
	case at.After > 0:
		list, err = find(tally.Order{}, at.After)
		slices.Reverse(list)
	default:
		list, err = find(order, at.Before)
	}
	more = len(list) > perPage
	switch {
	case more && at.After > 0 && !sorted: // the one that is too many is the newest
		list = list[1:]
	case more:
		list = list[:perPage]
	}
	return list, more, err
}

// row writes a response as a row of the list.
func (in *sliced) row(t *slice.Table, shown []string, outcomes []outcomeFigure, r *store.Response) responseRow {
	row := responseRow{Number: r.Number, Address: in.slice.of(r.Number), Beside: r.Beside}
	for _, key := range shown {
		of, cell := t.Column(key), t.CellOf(r, key)
		text := listCell{Text: in.said(of, cell), Number: of.Kind == rows.Whole || of.Kind == rows.Number}
		switch {
		case key == "outcome":
			if i := slices.IndexFunc(outcomes, func(o outcomeFigure) bool { return o.Outcome == r.Outcome }); i >= 0 {
				text.Outcome = &outcomes[i].Share
			}
		case key == "landing":
			text.Text = landsAt(in.quiz, r)
		}
		row.Cells = append(row.Cells, text)
	}
	return row
}

// said writes a cell for people: answers by their words.
func (in *sliced) said(of rows.Column, cell rows.Cell) string {
	if !cell.Given {
		return "–"
	}
	kind, key, _ := strings.Cut(of.Key, ".")
	key, _, _ = strings.Cut(key, ".")
	label := func(value string) string {
		if kind == "answer" {
			return in.slice.answer(key, value)
		}
		_, name := in.slice.named(tally.Kind(of.Key), value)
		return name
	}
	switch of.Kind {
	case rows.Whole:
		return ui.Count(cell.N)
	case rows.Number:
		return decimal.Decimal(cell.N).Words()
	case rows.Moment:
		return cell.At.Format("2006-01-02 15:04")
	case rows.Text:
		return label(cell.Text)
	case rows.Texts:
		words := make([]string, len(cell.Texts))
		for i, text := range cell.Texts {
			words[i] = label(text)
		}
		return strings.Join(words, ", ")
	}
	return rows.Plain(of.Kind, cell)
}

// viewOf takes the fields of an address that say how responses are listed.
func viewOf(query url.Values) url.Values {
	view := url.Values{}
	for _, field := range viewed {
		for _, value := range query[field] {
			if value != "" {
				view.Add(field, value)
			}
		}
	}
	return view
}
