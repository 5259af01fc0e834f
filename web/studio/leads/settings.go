package leads

import (
	"errors"
	"fmt"
	"net/http"
	"slices"
	"strconv"
	"strings"

	"github.com/gin-gonic/gin"

	"omphalos/core/atlas"
	"omphalos/store"
	"omphalos/web/studio/desk"
	"omphalos/web/ui"
)

type settingsPage struct {
	desk.Frame
	Wrong    string
	States   []stateField
	Rules    []ruleField
	Keep     store.Retention
	Days     string // as typed
	Quizzes  []desk.Option
	Outcomes []desk.Option
	Expected string // how many would go now, "" where nothing does
}

// A stateField is a state as it is typed; the last one is empty.
type stateField struct {
	Key, Name, End string
	Digit          int
}

// A ruleField is a rule as it is typed; the last one is empty.
type ruleField struct {
	Number                                    int
	Quiz, Outcome, Standing, Country, Percent string
	Owners                                    []desk.Option

	hands []string // IDs of those who were chosen
}

func (s *Room) settings(c *gin.Context) { s.showSettings(c, http.StatusOK, nil, nil, "") }

// showSettings shows the settings that are kept, or others that could not be, with the sentences
// as they were typed.
func (s *Room) showSettings(c *gin.Context, status int, typed *store.LeadSettings, said []ruleField, wrong string) {
	ctx := c.Request.Context()
	in, err := s.sentenceOf(ctx, nil)
	if err != nil {
		s.Fail(c, err)
		return
	}
	settings := in.settings
	if typed != nil {
		settings = typed
	}
	page := settingsPage{Frame: s.Frame(c, "Settings of leads", "leads", nil), Wrong: wrong, Keep: settings.Keep}
	for i, state := range settings.States {
		page.States = append(page.States, stateField{state.Key, state.Name, state.End, i + 1})
	}
	if len(page.States) < 9 {
		page.States = append(page.States, stateField{Key: settings.FreshState(), Digit: len(page.States) + 1})
	}
	for i, r := range append(slices.Clone(settings.Rules), store.OwnerRule{}) {
		field := ruleField{Number: i, Outcome: r.Outcome, Standing: r.Standing, Country: r.Country}
		if r.QuizID != 0 {
			field.Quiz = strconv.FormatUint(uint64(r.QuizID), 10)
			if r.Outcome != "" {
				field.Outcome = outcomeValue(r.QuizID, r.Outcome)
			}
		}
		if r.From != 0 {
			field.Percent = strconv.Itoa(r.From / 10)
		}
		for _, u := range in.users {
			field.Owners = append(field.Owners, desk.Option{Value: strconv.FormatUint(uint64(u.ID), 10),
				Name: in.names[u.ID], Chosen: slices.Contains(r.Owners, u.ID)})
		}
		page.Rules = append(page.Rules, field)
	}
	if settings.Keep.Days > 0 {
		page.Days = strconv.Itoa(settings.Keep.Days)
	}
	if typed != nil {
		page.Days = c.PostForm("days")
		page.Rules = slices.DeleteFunc(page.Rules, func(f ruleField) bool { return f.Number < len(settings.Rules) })
		page.Rules[0].Number = len(said) // the empty one
		for i := range said {
			said[i].Number = i
			said[i].Owners = slices.Clone(page.Rules[0].Owners)
			for k := range said[i].Owners {
				said[i].Owners[k].Chosen = slices.Contains(said[i].hands, said[i].Owners[k].Value)
			}
		}
		page.Rules = append(said, page.Rules...)
	}
	for id, title := range in.quizzes {
		page.Quizzes = append(page.Quizzes, desk.Option{Value: strconv.FormatUint(uint64(id), 10), Name: title})
	}
	for value, name := range in.outcomes {
		of, _, _ := strings.Cut(value, "/")
		id, _ := strconv.ParseUint(of, 10, 64)
		page.Outcomes = append(page.Outcomes, desk.Option{Value: value, Name: name + " · " + in.quizzes[uint(id)]})
	}
	byName := func(a, b desk.Option) int { return strings.Compare(a.Name+a.Value, b.Name+b.Value) }
	slices.SortFunc(page.Quizzes, byName)
	slices.SortFunc(page.Outcomes, byName)
	if n, on, err := s.Store.Responses.LeadsToForget(ctx, s.today()); err != nil {
		s.Fail(c, err)
		return
	} else if on && typed == nil {
		page.Expected = forgetWords(n, settings.Keep)
	}
	s.Show(c, status, "settings", page)
}

// forgetWords says what the next day will do.
func forgetWords(n int, keep store.Retention) string {
	what := "deleted, with their responses"
	if keep.Anonymous {
		what = "made anonymous"
	}
	if n == 0 {
		return "Within the next seven days no lead comes of that age."
	}
	return fmt.Sprintf("Within the next seven days %s will be %s.", ui.Plural(n, "lead", "leads"), what)
}

// settle keeps the settings of the form.
func (s *Room) settle(c *gin.Context) {
	ctx := c.Request.Context()
	before, err := s.Store.Responses.LeadSettings(ctx)
	if err != nil {
		s.Fail(c, err)
		return
	}
	typed, said, wrong := settingsOf(c)
	if wrong == "" && typed.Keep.Days > 0 && (before.Keep.Days == 0 || typed.Keep.Days < before.Keep.Days) &&
		c.PostForm("sure") == "" {
		wrong = "Leads go for good by the new rule. Say that you are sure, and keep it again."
	}
	if gone := takenOut(before, typed); wrong == "" && len(gone) > 0 && c.PostForm("sure") == "" {
		n, err := s.Store.Responses.LeadsIn(ctx, gone)
		if err != nil {
			s.Fail(c, err)
			return
		}
		if n > 0 {
			wrong = fmt.Sprintf("%s in a state that is taken out, and would come into the first. Say "+
				"that you are sure, and keep it again.", ui.Plural(n, "lead is", "leads are"))
		}
	}
	if wrong == "" {
		err = s.Store.Responses.KeepLeadSettings(ctx, typed)
	}
	switch {
	case errors.Is(err, store.ErrLeadSettings):
		_, why, _ := strings.Cut(err.Error(), ": ")
		wrong = desk.SentenceOf(why) + " Nothing was changed."
	case err != nil:
		s.Fail(c, err)
		return
	}
	if wrong != "" {
		s.showSettings(c, http.StatusUnprocessableEntity, typed, said, wrong)
		return
	}
	s.Say(c, "The settings are kept.", "")
	c.Redirect(http.StatusSeeOther, "/studio/leads/settings")
}

// takenOut returns the keys of states that are there no more.
func takenOut(before, after *store.LeadSettings) (gone []string) {
	for _, state := range before.States {
		if !slices.ContainsFunc(after.States, func(s store.LeadState) bool { return s.Key == state.Key }) {
			gone = append(gone, state.Key)
		}
	}
	return gone
}

// settingsOf reads the form, with the sentences as they were typed, and says what is wrong with
// it.
func settingsOf(c *gin.Context) (s *store.LeadSettings, said []ruleField, wrong string) {
	s = &store.LeadSettings{}
	names, ends := c.PostFormArray("name"), c.PostFormArray("end")
	for i, key := range c.PostFormArray("key") {
		if i >= len(names) || i >= len(ends) || strings.TrimSpace(names[i]) == "" {
			continue // taken out
		}
		s.States = append(s.States, store.LeadState{Key: key, Name: names[i], End: ends[i]})
	}
	for i := 0; ; i++ {
		of := func(field string) string { return c.PostForm(fmt.Sprintf("rule.%d.%s", i, field)) }
		if _, there := c.GetPostForm(fmt.Sprintf("rule.%d.quiz", i)); !there {
			break
		}
		var r store.OwnerRule
		as := ruleField{Quiz: of("quiz"), Outcome: of("outcome"), Standing: of("standing"),
			Country: of("country"), Percent: of("percent"), hands: c.PostFormArray(fmt.Sprintf("rule.%d.owner", i))}
		if as.Quiz+as.Outcome+as.Standing+as.Country+as.Percent != "" || len(as.hands) > 0 {
			said = append(said, as)
		}
		for _, text := range c.PostFormArray(fmt.Sprintf("rule.%d.owner", i)) {
			if id, err := strconv.ParseUint(text, 10, 64); err == nil {
				r.Owners = append(r.Owners, uint(id))
			}
		}
		if len(r.Owners) == 0 {
			continue // a rule that names nobody is none
		}
		if id, err := strconv.ParseUint(of("quiz"), 10, 64); err == nil {
			r.QuizID = uint(id)
		}
		if quiz, key, has := strings.Cut(of("outcome"), "/"); has {
			id, _ := strconv.ParseUint(quiz, 10, 64)
			r.QuizID, r.Outcome = uint(id), key
		}
		r.Standing = of("standing")
		if r.Country = strings.ToUpper(strings.TrimSpace(of("country"))); r.Country != "" &&
			atlas.Name(r.Country, "en") == r.Country {
			wrong = fmt.Sprintf("“%s” is no country, as IE is one.", r.Country)
		}
		if text := strings.TrimSpace(of("percent")); text != "" {
			n, err := strconv.Atoi(text)
			if err != nil || n < 0 || n > 100 {
				wrong = fmt.Sprintf("“%s” is no percent from 0 to 100.", text)
			}
			r.From = 10 * n
		}
		s.Rules = append(s.Rules, r)
	}
	if text := strings.TrimSpace(c.PostForm("days")); text != "" {
		n, err := strconv.Atoi(text)
		if err != nil || n < 0 || n > 36500 {
			wrong = fmt.Sprintf("“%s” is no number of days.", text)
		}
		s.Keep.Days = n
	}
	s.Keep.Anonymous = c.PostForm("anonymous") == "yes"
	return s, said, wrong
}
