package outbox

import (
	"cmp"
	"context"
	"fmt"
	"html/template"
	"slices"

	"omphalos/core/passage"
	"omphalos/core/quiz"
	"omphalos/interchange/markdown"
	"omphalos/store"
)

// result mails a result to the respondent who asked for theirs.
func (w *Worker) result(ctx context.Context, in *store.Store, d *store.Delivery) error {
	l, _, err := w.walked(ctx, in, d)
	if err != nil {
		return err
	}
	if d.Recipient = l.Walker.Email(); d.Recipient == "" {
		return fmt.Errorf("%w: their address is not there any more", errCancelled)
	}
	var shown []store.Product
	if landing := passage.LandingOf(l.Program, l.Result); landing.Kind == quiz.ProductsLanding {
		if shown, err = in.Definitions.ProductsOn(ctx, l.Walker, landing, l.Program.Quiz.Language()); err != nil {
			return err
		}
	}
	letter := l.ResultLetter(shown)
	letter.To = []string{d.Recipient}
	d.About = letter.Subject
	return w.toRespondent(ctx, in, l.Program.Quiz, d, letter)
}

// ResultLetter writes what somebody got: the words and pictures of their outcome, their scores
// where the page shows them, what stands on the landing, and the products on it.
func (l *Landed) ResultLetter(products []store.Product) *Letter {
	_, o := l.Outcome()
	heading := l.filler.Plainly(cmp.Or(o.Headline, l.Program.Quiz.Title))
	s := l.sheet(l.In.Voice.Say(resultTitle, heading))
	title := "# " + l.filler.Text(cmp.Or(o.Headline, l.Program.Quiz.Title))
	s.Blocks = append(s.Blocks, part{HTML: markdown.HTML(title), Words: heading},
		part{Picture: picture(l.Base, o.Picture)})
	if o.Text != "" {
		s.Blocks = append(s.Blocks, l.part(&quiz.Block{Kind: quiz.TextBlock, Text: o.Text}))
	}
	s.Facts = l.scores(o)
	landing := passage.LandingOf(l.Program, l.Result)
	for _, key := range l.Walker.Blocks() {
		s.Blocks = append(s.Blocks, l.part(landing.Blocks[key]))
	}
	for _, one := range products {
		words := one.Name
		if price := cmp.Or(one.SalePriceText(), one.PriceText()); price != "" {
			words += ", " + l.In.Voice.Figures(price)
		}
		s.Blocks = append(s.Blocks,
			part{HTML: template.HTML("<p><strong>" + template.HTMLEscapeString(words) + "</strong></p>"),
				Words: words, Link: l.In.Voice.Say(resultLook), Address: one.Address})
	}
	return s.letter()
}

// scores are what the result shows of a passage's scores.
func (l *Landed) scores(o *quiz.Outcome) []fact {
	var list []fact
	keys := l.Program.ScaleKeys()
	for i, key := range keys {
		scale := l.Program.Quiz.Scales[key]
		shown := o.ShowScore == key
		if slices.Contains([]quiz.ScoreForm{quiz.AsBars, quiz.AsWheel, quiz.AsLeaders}, o.ShowAs) {
			shown = scale.Kind != quiz.Money
		}
		if shown {
			list = append(list, fact{scale.Name, l.In.Voice.Figures(l.Program.ScoreText(i, l.Result.Scores[i]))})
		}
	}
	return list
}
