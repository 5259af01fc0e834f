package player

import (
	"context"
	"fmt"
	"log/slog"
	"maps"
	"net/url"
	"slices"

	"omphalos/core/decimal"
	"omphalos/core/fillin"
	"omphalos/core/gate"
	"omphalos/core/passage"
	"omphalos/core/program"
	"omphalos/core/quiz"
	"omphalos/store"
)

// A journey is a passage with its release and what has been typed.
type journey struct {
	*released
	ctx     context.Context // of the request, which a journey does not outlive
	passage *store.Passage
	typed   map[string]program.Typed
	visitor *program.Visitor
	player  *player
	fresh   bool // not on disk yet: its page is at the quiz's address
	own     bool // whoever asks has begun it
	carries bool // and their device keeps no cookies, so that addresses say so
	begins  bool // with this request: whether it does is not known yet
	reckoned

	gate   gate.Gate                  // of the quiz, as it is now
	doubts map[int][2]decimal.Decimal // numbers just typed that are read in two ways, by question

	rehearsal *store.Walk // of which this is a step; nil for a respondent's passage
	handed    *store.Hand // by which it was handed to somebody; nil for the studio's own
}

func (p *player) newJourney(ctx context.Context, begun *store.Passage, r *released) *journey {
	visitor := p.withClicks(begun)
	j := &journey{ctx: ctx, released: r.in(visitor.Language), passage: begun, typed: begun.Typed(),
		visitor: visitor, player: p}
	if personal, waits := p.personal.Get(begun.ID); waits && !begun.Finished {
		maps.Copy(j.typed, personal)
	}
	return j
}

// parted returns what has been typed, apart what says who somebody is.
func (j *journey) parted() (lasting, personal map[string]program.Typed) {
	lasting, personal = map[string]program.Typed{}, map[string]program.Typed{}
	for key, t := range j.typed {
		if asked := j.program.Quiz.Ask(key); asked != nil && asked.Kind.Personal() {
			personal[key] = t
		} else {
			lasting[key] = t
		}
	}
	return lasting, personal
}

// contactPage is the last part of the address of the contact section, which no
// question's key can be.
const contactPage = "your-contact"

// wantsContact tells whether the passage has come to its end, and contact is to be
// asked for at a place and has not been given.
func (j *journey) wantsContact(place quiz.ContactPlace) bool {
	q := j.program.Quiz
	if j.anonymous() || q.Contact == nil || q.Contact.Place != place || len(q.Contact.Fields) == 0 {
		return false
	}
	for _, key := range j.program.ContactKeys() {
		if _, given := j.typed[key]; given {
			return false
		}
	}
	r := j.walk()
	return r.End != program.Unfinished && len(r.Missing) == 0 && r.Contact
}

// anonymous tells whether nothing is kept of who somebody is.
func (j *journey) anonymous() bool { return anonymous(j.program) }

func anonymous(p *program.Program) bool {
	s := p.Quiz.Settings
	return s != nil && s.Anonymous
}

// response is the number of the passage that other systems get: it tells nothing of the
// passage's own, which is the key to it.
func (j *journey) response() string { return store.ResponseNumber(j.passage.ID) }

func (j *journey) contactAddress() string { return j.place(contactPage) }

func (j *journey) end() string { return j.place("end") }

// place is the address of a page of the passage, with some parameters and their values.
func (j *journey) place(page string, pairs ...string) string {
	query := url.Values{}
	for i := 0; i+1 < len(pairs); i += 2 {
		query.Set(pairs[i], pairs[i+1])
	}
	at := passagePrefix + j.passage.ID + "/" + page
	if j.rehearsal != nil {
		at = RehearsalPrefix + j.rehearsal.ID + "/" + page
	} else if j.carries || j.begins && j.personal() {
		query.Set(tokenField, j.token())
	}
	if len(query) == 0 {
		return at
	}
	return at + "?" + query.Encode()
}

// action is where the form of a page goes that begins with a question: the page's own
// address while the passage is not on disk.
func (j *journey) action(first int) string {
	if j.fresh {
		return ""
	}
	return j.address(first)
}

func (j *journey) address(question int) string {
	return j.place(j.program.Key(question))
}

// here is the address of where the passage has come to.
func (j *journey) here() string {
	if j.passage.Finished {
		return j.end()
	}
	return j.place(j.upToNow())
}

// before is the address of the page before one that begins with a question: the
// opening before the first.
func (j *journey) before(first int) string {
	if i := slices.Index(j.path(), first); i > 0 {
		return j.address(j.together(j.path()[i-1])[0])
	}
	if j.rehearsal != nil {
		return j.place(openingPlace)
	}
	return "/q/" + j.passage.Slug
}

// after returns the question after the last of a page, and false at the passage's end.
func (j *journey) after(last int) (int, bool) {
	path := j.path()
	i := slices.Index(path, last)
	if i+1 < len(path) {
		return path[i+1], true
	}
	return 0, false
}

// redirect returns the filled-in address of a redirect landing, "" for others
// and where nothing safe comes of it.
func (j *journey) redirect(r *passage.Result) string {
	l := passage.LandingOf(j.program, r)
	if l.Kind != quiz.RedirectLanding {
		return ""
	}
	address, err := j.goal(passage.NewFiller(j.program, j.input(), r, j.response()), l.Address, l.Signpost, false)
	if err != nil {
		slog.Warn("a redirect falls back to the page", "error", err)
		return ""
	}
	return address
}

// goal returns where an address template or a signpost leads, filled in; that of a button may
// be a letter or a call. A sign that is
// not up gives an error.
func (j *journey) goal(f *passage.Filler, address string, sign *quiz.Signpost, button bool) (string, error) {
	if sign != nil {
		row := f.Row(sign.Row)
		up, err := j.sign(sign.Table, row)
		if err != nil {
			return "", err
		}
		if up == "" {
			return "", fmt.Errorf("no signpost %q in the table %q", row, sign.Table)
		}
		address = up
	}
	parse := fillin.ParseAddress
	if button {
		parse = fillin.ParseButton
	}
	template, err := parse(address)
	if err != nil {
		return "", err
	}
	return f.Address(template)
}

// sign returns where a signpost leads. A rehearsal does not count as using it.
func (j *journey) sign(table, row string) (string, error) {
	if j.rehearsal != nil {
		return j.player.store.Definitions.SignpostAt(j.ctx, table, row)
	}
	return j.player.store.Definitions.Signpost(j.ctx, table, row)
}

// leaves tells whether a response is sent to an address at once. One that is shown inside
// another page is not: its own page leads there, past the frame.
func (j *journey) leaves(r *store.Response) bool {
	return r.Address != "" && !j.passage.Framed && j.program.Quiz.Outcomes[r.Outcome].Landings[r.Landing].After == 0
}

// missing returns the required questions of the passage without a full answer.
func (j *journey) missing() []int { return j.walk().Missing }
