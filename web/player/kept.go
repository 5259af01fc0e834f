package player

import (
	"cmp"
	"context"
	"log/slog"
	"net/http"
	"strconv"
	"time"

	"github.com/gin-gonic/gin"

	"omphalos/core/passage"
	"omphalos/core/quiz"
	"omphalos/interchange/postcard"
	"omphalos/store"
	"omphalos/store/tally"
)

// resultWays are what somebody can do with a result: "" and false what is not offered.
type resultWays struct {
	Again  string // address under which the quiz begins anew
	PassOn string // public address of the outcome
	Keep   bool   // print it
	Drawn  string // address of a picture of it
	MailTo string // the address that it can be mailed to, or was
	Mail   string // where it is asked for by mail
	Mailed bool
}

// Any tells whether there is one.
func (w resultWays) Any() bool { return w != resultWays{} }

func (j *journey) offered() quiz.Results {
	if s := j.program.Quiz.Settings; s != nil && s.Results != nil {
		return *s.Results
	}
	return quiz.Results{}
}

// ways are what the quiz offers for an outcome with a headline. Whoever may take the quiz only so
// often is not asked to take it again, and nobody is offered a picture that could not say it.
func (j *journey) ways(outcome, headline string) resultWays {
	offered, slug := j.offered(), j.passage.Slug
	w := resultWays{Keep: offered.Keep}
	if j.rehearsal != nil {
		slug = "…"
	}
	if offered.Again && j.program.Quiz.Repeating() == nil {
		w.Again = j.outward(j.inLanguage("/q/" + slug))
	}
	if offered.Keep && postcard.Writes(headline) {
		w.Drawn = j.place(drawnPlace)
	}
	if offered.PassOn {
		w.PassOn = j.outward(j.withScore(j.inLanguage(PassedPrefix+slug+"/"+outcome), slug, outcome))
	}
	return w
}

// drawnPlace is the last part of the address of a result's picture.
const drawnPlace = "my-result.png"

// drawn sends a result as a picture to whoever got it: a card with the words that their page has,
// and with the scores that it shows.
func (p *player) drawn(c *gin.Context, j *journey) {
	if !j.passage.Finished || !j.offered().Keep {
		p.lead(c, j.here())
		return
	}
	in := j.input()
	r := passage.NewWalker(j.program).Walk(in)
	key := passage.OutcomeKey(j.program, r)
	o, as := j.program.Quiz.Outcomes[key], j.program.Quiz.OutcomeShared(key)
	filler := passage.NewFiller(j.program, in, r, j.response())
	as.Title, as.Text = filler.Plainly(cmp.Or(o.Headline, as.Title)), filler.Text(cmp.Or(o.Text, as.Text))
	data, err := p.card(j.ctx, j.released, as, j.scores(o, r))
	if err != nil {
		p.fail(c, err)
		return
	}
	c.Header("Cache-Control", "private, no-store")
	c.Data(http.StatusOK, "image/png", data)
}

// mailPlace is the last part of the address at which a result is asked for by mail, which no
// question's key can be.
const mailPlace = "mail-my-result"

// mailWays adds that a result can be mailed, to the address that was given, where mail goes out
// at all.
func (p *player) mailWays(j *journey, w *passage.Walker, ways *resultWays) {
	if !j.offered().Mail || j.anonymous() {
		return
	}
	if ways.MailTo = w.Email(); ways.MailTo == "" {
		return
	}
	if j.rehearsal != nil { // is shown, and mails nothing
		return
	}
	settings, err := p.store.Outbox.MailSettings(j.ctx)
	if err == nil && settings.Ready() {
		var kept *store.Response
		if kept, err = p.store.Responses.ByPassage(j.ctx, j.passage.ID); err == nil {
			ways.Mailed, err = p.store.Outbox.ResultMailed(j.ctx, kept)
		}
	}
	if err != nil {
		slog.Error("offering a result by mail", "error", err)
	}
	if err != nil || !settings.Ready() {
		ways.MailTo, ways.Mailed = "", false
		return
	}
	ways.Mail = j.place(mailPlace)
}

// mailResult has a result mailed to the respondent.
func (p *player) mailResult(c *gin.Context, j *journey) {
	w := passage.NewWalker(j.program)
	w.Walk(j.input())
	var ways resultWays
	if p.mailWays(j, w, &ways); ways.Mail != "" && !ways.Mailed {
		kept, err := p.store.Responses.ByPassage(c.Request.Context(), j.passage.ID)
		if err == nil {
			err = p.store.Outbox.MailResult(c.Request.Context(), kept, j.program.Quiz.Title)
		}
		if err != nil {
			p.fail(c, err)
			return
		}
	}
	p.lead(c, j.place("end", "stay", "here"))
}

// LeastGotten is how many responses there must be before it is told how many got an outcome.
const LeastGotten = 30

// gottenTime is how often that is counted.
const gottenTime = time.Minute

// shareOf tells how many of all who answered got an outcome, "" where that is not wanted or
// there are too few to tell.
func (p *player) shareOf(j *journey, outcome string) string {
	if !j.offered().Share || j.passage.QuizID == 0 {
		return ""
	}
	counts, known := p.gotten.Get(j.passage.QuizID)
	if !known {
		var err error
		if counts, err = p.countGotten(j.ctx, j.passage.QuizID); err != nil {
			slog.Error("counting outcomes", "error", err)
			return ""
		}
	}
	all := 0
	for _, n := range counts {
		all += n
	}
	if all < LeastGotten || counts[outcome] == 0 {
		return ""
	}
	if !known {
		p.gotten.Add(j.passage.QuizID, counts)
	}
	percent := (200*counts[outcome] + all) / (2 * all)
	return j.tongue().say("%s %% of all who answered got this result.", j.tongue().figures(strconv.Itoa(max(percent, 1))))
}

// countGotten counts the responses of a quiz by their outcomes.
func (p *player) countGotten(ctx context.Context, quizID uint) (map[string]int, error) {
	counts := map[string]int{}
	err := p.store.Responses.Tally(ctx, quizID, func(t *tally.Tally) {
		for _, count := range t.Slice().Split(tally.Property{Kind: tally.Outcome}) {
			counts[count.Value] = count.Count
		}
	})
	return counts, err
}
