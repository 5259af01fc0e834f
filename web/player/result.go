package player

import (
	"cmp"
	"html/template"
	"log/slog"
	"slices"
	"strings"

	"omphalos/core/decimal"
	"omphalos/core/passage"
	"omphalos/core/quiz"
	"omphalos/store"
)

type resultPage struct {
	frame
	Headline string
	Text     string
	Picture  *shownPicture
	Layout   quiz.Layout
	Blocks   []blockView
	Scores   *scores
	Share    string // how many of all got it, "" where that is not told
	Ways     resultWays
	Why      []string
	Parted   bool
	Redirect string // filled-in address, for a delayed redirect
	After    int
	Stays    bool   // it does not go there by itself
	Here     string // address of this page, from where nobody is taken on
	Framed   bool   // the page stands inside another, which a redirect leaves
	Reviews  []reviewView
	Right    string // how many were answered rightly
	Booked   *appointmentView
	Products []productView
	Contact  *contactForm // asked for below
	Thanks   bool         // contact has just been given
	Before   bool         // it is of an earlier time
}

type blockView struct {
	Press   string // what is counted when it is pressed, "" for nothing
	Tongue  tongue
	Kind    quiz.BlockKind
	Text    string
	Label   string
	Address template.URL // http, https, mailto or tel
	Picture *shownPicture
	First   bool // the first call to action
	Bill    []passage.BillLine
	Total   string
}

// Say says a sentence of ours in the page's language.
func (b blockView) Say(english string, parts ...any) string { return b.Tongue.say(english, parts...) }

// resultPage builds the page of a walked passage's outcome.
func (p *player) resultPage(j *journey, w *passage.Walker, parted bool) resultPage {
	in := j.input()
	r := w.Walk(in)
	o := j.program.Quiz.Outcomes[passage.OutcomeKey(j.program, r)]
	filler := passage.NewFiller(j.program, in, r, j.response())
	page := resultPage{
		frame: j.frame(cmp.Or(o.Headline, j.program.Quiz.Title), quiz.At("outcomes", passage.OutcomeKey(j.program, r))),
		Headline: filler.Text(
			cmp.Or(o.Headline, j.tongue().say("Thank you")),
		), Text: filler.Text(o.Text), Picture: p.sizes.of(j.ctx, o.Picture),
		Parted: parted, After: passage.LandingOf(j.program, r).After,
		Here: j.place("end", "stay", "here"), Framed: j.passage.Framed,
	}
	page.Layout = cmp.Or(o.Layout, j.dress.Layout)
	if s := j.program.Quiz.Settings; s != nil && s.Review == quiz.ReviewEnd && !o.NoReview {
		page.Reviews = reviewViews(passage.Reviews(j.program, in, r), filler, j)
		if right, all := passage.Right(j.program, in, r); all > 0 {
			page.Right = j.tongue().say("%v of %v", right, all)
		}
	}
	if !parted {
		page.Booked = j.appointmentView(r)
	}
	if o.ShowWhy {
		e := passage.Explain(j.program, in)
		for _, sentence := range e.Sentences() {
			page.Why = append(page.Why, j.tongue().apart(sentence))
		}
	}
	page.Scores = j.scores(o, r)
	if !parted {
		key := passage.OutcomeKey(j.program, r)
		page.Ways, page.Share = j.ways(key, page.Headline), p.shareOf(j, key)
		p.mailWays(j, w, &page.Ways)
	}
	l := passage.LandingOf(j.program, r)
	first := true
	for _, key := range w.Blocks() {
		b := l.Blocks[key]
		view := blockView{
			Tongue:  j.tongue(),
			Kind:    b.Kind,
			Text:    filler.Text(b.Text),
			Label:   filler.Text(b.Label),
			Picture: p.sizes.of(j.ctx, b.Picture),
		}
		if b.Address != "" || b.Signpost != nil {
			address, _ := j.goal(filler, b.Address, b.Signpost, true) // a button that leads nowhere is not shown
			view.Address = template.URL(j.outward(address))           // checked by goal: http, https, mailto or tel
			if j.rehearsal == nil && !parted {
				press := j.place(pressedPlace, "block", passage.LandingKey(j.program, r)+"."+key)
				view.Press = strings.TrimPrefix(press, passagePrefix+j.passage.ID+"/")
			}
		}
		if b.Kind == quiz.BillBlock {
			var total decimal.Decimal
			view.Bill, total = w.Bill(b.Scale)
			for i := range view.Bill {
				view.Bill[i].Words = filler.Text(view.Bill[i].Words)
				view.Bill[i].Detail = j.tongue().figures(filler.Plainly(view.Bill[i].Detail))
				view.Bill[i].Text = j.tongue().figures(view.Bill[i].Text)
			}
			view.Total = j.tongue().figures(j.program.ScoreText(slices.Index(j.program.ScaleKeys(), b.Scale), total))
		}
		if b.Kind == quiz.ActionBlock {
			view.First, first = first, false
		}
		page.Blocks = append(page.Blocks, view)
	}
	if l.Kind == quiz.ProductsLanding {
		shown, err := p.store.Definitions.ProductsOn(j.ctx, w, l, j.program.Quiz.Language())
		if err != nil {
			slog.Error("reading the catalogue", "error", err)
		}
		for _, one := range shown {
			picture := p.sizes.of(j.ctx, &quiz.Picture{Source: one.Picture, Description: one.Description})
			one.Address = j.outward(one.Address)
			page.Products = append(page.Products, productView{one, picture})
		}
	}
	return page
}

type productView struct {
	store.Product
	Shown *shownPicture
}
