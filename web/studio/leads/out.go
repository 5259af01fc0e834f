package leads

import (
	"cmp"
	"context"
	"log/slog"
	"net/http"
	"slices"
	"strconv"
	"strings"
	"time"

	"github.com/gin-gonic/gin"

	"omphalos/interchange/card"
	"omphalos/interchange/invitation"
	"omphalos/interchange/rows"
	"omphalos/store"
	"omphalos/store/tally"
	"omphalos/web/studio/desk"
	"omphalos/web/ui"
)

// Long are the routes that may take longer than a page.
func (s *Room) Long() []ui.Route {
	var routes []ui.Route
	for _, f := range rows.Formats {
		routes = append(routes, ui.Get("/leads/leads."+string(f), s.export(f)))
	}
	return append(routes, ui.Get("/leads/leads.vcf", s.cards))
}

// outColumns are the columns of leads taken out, by their keys.
var outColumns = []rows.Column{
	{Key: "lead", Words: "Number of the lead", Kind: rows.Whole},
	{Key: "name", Words: "Name"},
	{Key: "company", Words: "Company"},
	{Key: "email", Words: "E-mail address"},
	{Key: "phone", Words: "Telephone"},
	{Key: "state", Words: "State"},
	{Key: "owner", Words: "In the hands of"},
	{Key: "next", Words: "Next step", Kind: rows.Day},
	{Key: "objected", Words: "Objects to being written to or called"},
	{Key: "quiz", Words: "Quiz"},
	{Key: "response", Words: "Number of the newest response", Kind: rows.Whole},
	{Key: "outcome", Words: "Outcome"},
	{Key: "standing", Words: "Standing"},
	{Key: "scale", Words: "What is scored"},
	{Key: "score", Words: "Score"},
	{Key: "reach", Words: "Score, of all that can be reached (0 to 1)", Kind: rows.Number},
	{Key: "source", Words: "Source"},
	{Key: "medium", Words: "Medium"},
	{Key: "campaign", Words: "Campaign"},
	{Key: "country", Words: "Country"},
	{Key: "language", Words: "Language"},
	{Key: "device", Words: "Device"},
	{Key: "first", Words: "First response", Kind: rows.Moment},
	{Key: "latest", Words: "Newest response", Kind: rows.Moment},
	{Key: "responses", Words: "Responses", Kind: rows.Whole},
}

// cells writes a lead in the order of outColumns.
func (s *Room) cells(ctx context.Context, in *sentence, l *store.Lead) ([]rows.Cell, error) {
	by, err := s.ruler(ctx, l.ReleaseID)
	if err != nil {
		return nil, err
	}
	owner := ""
	if l.OwnerID != 0 {
		owner = in.nameOf(l.OwnerID)
	}
	objected := ""
	if l.Objected {
		objected = "yes"
	}
	next := rows.Cell{}
	if day, err := time.Parse(time.DateOnly, l.Next); err == nil {
		next = rows.Cell{Given: true, At: day}
	}
	reach := rows.Cell{}
	if l.Reach >= 0 {
		reach = rows.Cell{Given: true, N: int64(l.Reach) * 1000}
	}
	return []rows.Cell{
		rows.Counted(int64(l.ID)), rows.Said(l.Name), rows.Said(l.Company), rows.Said(l.Email), rows.Said(l.Phone),
		rows.Said(in.settings.State(l.State).Name), rows.Said(owner), next, rows.Said(objected),
		rows.Said(in.quizzes[l.QuizID]), rows.Counted(int64(l.Number)),
		rows.Said(cmp.Or(by.outcomes[l.Outcome].Name, l.Outcome)), rows.Said(l.Standing),
		rows.Said(by.name), rows.Said(l.Score), reach,
		rows.Said(l.Source), rows.Said(l.Medium), rows.Said(l.Campaign), rows.Said(l.Country),
		rows.Said(l.Language), rows.Said(l.Device),
		{Given: true, At: l.First.In(in.days.Zone)}, {Given: true, At: l.Latest.In(in.days.Zone)},
		rows.Counted(int64(l.Responses)),
	}, nil
}

// sent calls f with the leads of the sentence, in its order, some at a time.
func (s *Room) sent(c *gin.Context, f func(in *sentence, l *store.Lead) error, between func() error) error {
	ctx := c.Request.Context()
	in, err := s.sentenceAt(c)
	if err != nil {
		return err
	}
	found, err := in.found(ctx)
	if err != nil {
		return err
	}
	var ids []int
	_, order := in.order()
	err = s.Store.Responses.LeadTally(ctx, func(t *tally.Tally) {
		slice := in.slice(t, found)
		ids = slice.Page(order, 0, slice.Count())
	})
	const together = 500
	for err == nil && len(ids) > 0 {
		some := ids[:min(len(ids), together)]
		ids = ids[len(some):]
		var list []store.Lead
		if list, err = s.Store.Responses.Leads(ctx, some); err != nil {
			return err
		}
		for i := range list {
			if err := f(in, &list[i]); err != nil {
				return err
			}
		}
		err = between()
	}
	return err
}

// export sends the leads of the sentence in a format.
func (s *Room) export(f rows.Format) gin.HandlerFunc {
	return func(c *gin.Context) {
		done, ok := s.Sending(c)
		if !ok {
			return
		}
		defer done()
		attach(c, f.Media(), "leads."+string(f))
		to := desk.Slowly(c.Writer)
		columns := slices.Clone(outColumns)
		for i, column := range columns {
			if column.Kind == rows.Moment {
				columns[i].Words += " (" + s.Store.Responses.Zone().String() + ")"
			}
		}
		w, err := rows.New(f, to, columns, rows.Options{Name: "Leads", Words: c.Query("words") != ""})
		if err == nil {
			one := func(in *sentence, l *store.Lead) error {
				cells, err := s.cells(c.Request.Context(), in, l)
				if err != nil {
					return err
				}
				return w.Row(cells)
			}
			err = s.sent(c, one, func() error { return cmp.Or(w.Flush(), to.Flush()) })
		}
		if err == nil {
			err = cmp.Or(w.Close(), to.Flush())
		}
		s.sentOr(c, err)
	}
}

// attach begins a file.
func attach(c *gin.Context, media, name string) {
	c.Header("Content-Type", media)
	c.Header("Content-Disposition", `attachment; filename="`+name+`"`)
	c.Status(http.StatusOK)
}

// sentOr cuts what could not be sent whole.
func (s *Room) sentOr(c *gin.Context, err error) {
	if err != nil {
		slog.Error("taking leads out", "error", err)
		desk.Cut(c.Writer)
	}
}

const vcard = "text/vcard; charset=utf-8"

// cards sends the leads of the sentence as cards.
func (s *Room) cards(c *gin.Context) {
	done, ok := s.Sending(c)
	if !ok {
		return
	}
	defer done()
	attach(c, vcard, "leads.vcf")
	to := desk.Slowly(c.Writer)
	one := func(in *sentence, l *store.Lead) error { return card.Write(to, cardOf(in, l)) }
	s.sentOr(c, cmp.Or(s.sent(c, one, to.Flush), to.Flush()))
}

// card sends one lead as a card.
func (s *Room) card(c *gin.Context) {
	l, ok := s.lead(c)
	if !ok {
		return
	}
	in, err := s.sentenceAt(c)
	if err != nil {
		s.Fail(c, err)
		return
	}
	attach(c, vcard, "lead-"+strconv.FormatUint(uint64(l.ID), 10)+".vcf")
	s.sentOr(c, card.Write(c.Writer, cardOf(in, l)))
}

func cardOf(in *sentence, l *store.Lead) card.Card {
	var categories []string
	for _, words := range []string{l.Standing, in.settings.State(l.State).Name} {
		if words != "" {
			categories = append(categories, strings.ReplaceAll(words, ",", " "))
		}
	}
	return card.Card{UID: "omphalos-lead-" + strconv.FormatUint(uint64(l.ID), 10), Name: l.Name,
		Company: l.Company, Email: l.Email, Phone: l.Phone,
		Country: countryOf(l), Revised: l.Latest.UTC().Format("20060102T150405Z"), Categories: categories}
}

// appointment sends the next step as an entry of a calendar.
func (s *Room) appointment(c *gin.Context) {
	l, ok := s.lead(c)
	if !ok {
		return
	}
	day, err := time.Parse(time.DateOnly, l.Next)
	if err != nil {
		s.Fail(c, store.ErrNotFound)
		return
	}
	id := strconv.FormatUint(uint64(l.ID), 10)
	attach(c, "text/calendar; charset=utf-8", "lead-"+id+".ics")
	a := invitation.Appointment{ID: "omphalos-lead-" + id + "-" + l.Next, Title: "Next step with " + l.Called(),
		Start: day, Day: true,
		Made: s.today(), Link: ui.Origin(c.Request, s.Public) + "/studio/leads?lead=" + id}
	s.sentOr(c, a.Write(c.Writer))
}

// files are the formats in which the leads of the sentence can be taken out.
func (in *sentence) files() []desk.Hidden {
	beside := func(file string) string { return strings.Replace(in.to(in.fields), in.address, in.address+"/"+file, 1) }
	return []desk.Hidden{
		{Name: "CSV", Value: beside("leads.csv")}, {Name: "Workbook (XLSX)", Value: beside("leads.xlsx")},
		{Name: "JSON Lines", Value: beside("leads.jsonl")}, {Name: "Parquet", Value: beside("leads.parquet")},
		{Name: "Cards for an address book (vCard)", Value: beside("leads.vcf")},
	}
}
