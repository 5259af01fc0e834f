package passage

import (
	"strings"

	"omphalos/core/decimal"
	"omphalos/core/quiz"
)

// A BillLine is one line of a quote.
type BillLine struct {
	Words  string          // what is paid for
	Detail string          // how it comes about: "3 frames × 12.35", "2.9 % + 0.30"; or ""
	Amount decimal.Decimal // rounded to the currency's decimals in Text
	Text   string          // of Amount, without the currency
	Sum    bool            // of the lines before it
}

// Bill returns the lines of a money scale, of the last Walk: what it starts with, what each
// answer, pick or row added, in order, then their sum and the fees, where there are any;
// and the total.
func (w *Walker) Bill(scale string) (lines []BillLine, total decimal.Decimal) {
	p := w.course.p
	i, known := p.scaleIndex[scale]
	if !known {
		return nil, 0
	}
	s := &p.scales[i]
	say := func(words, detail string, amount decimal.Decimal) {
		if amount != 0 {
			lines = append(
				lines,
				BillLine{Words: words, Detail: detail, Amount: amount, Text: trueMinus(amount.Text(s.decimals))},
			)
		}
	}
	say("To begin with", "", s.start)
	subtotal := s.start
	for _, q := range w.result.Seen {
		subtotal = subtotal.Add(w.course.addedBy(q, i))
		w.billed(q, i, say)
	}
	if s.method == quiz.Formula {
		worked, _ := s.formula.Eval(s.decimals, func(n int) decimal.Decimal { return w.course.operand(s.reads[n]) })
		say("By the formula", "", worked.Sub(subtotal))
		subtotal = worked
	}
	if len(s.fees) > 0 {
		say("Sum", "", subtotal)
		if subtotal != 0 {
			lines[len(lines)-1].Sum = true
		}
	}
	for f := range s.fees {
		say(s.fees[f].name, s.fees[f].words(s.decimals), s.feeOn(f, subtotal))
	}
	return lines, w.result.Scores[i]
}

// billed says what the answer to a question added.
func (w *Walker) billed(question, scale int, say func(words, detail string, amount decimal.Decimal)) {
	p, v := w.course.p, w.course.given(question)
	sum := w.course.addedBy(question, scale)
	if v == nil {
		return
	}
	q, asked := &p.questions[question], p.Question(question)
	label := func(o int16) string { return p.labelOf(question, o, *v) }
	switch q.form {
	case ofSome:
		var added decimal.Decimal
		for _, o := range v.Picks {
			say(label(o), "", amountOf(q.answers[o].adds, scale))
			added = added.Add(amountOf(q.answers[o].adds, scale))
		}
		say(asked.Label, "no more for all together", sum.Sub(added)) // what a cap takes off
	case ofGrid:
		for r, column := range v.Picks {
			if column >= 0 {
				say(asked.Rows[q.rows[r].key].Label, label(column), amountOf(q.rows[r].adds[column], scale))
			}
		}
	case ofOne:
		say(p.Words(question, *v), "", sum)
	default:
		detail := p.Words(question, *v)
		for _, weighs := range q.weighs {
			if weighs.scale == scale && len(weighs.brackets) == 0 && !weighs.turns {
				detail += " × " + trueMinus(weighs.factor.AtLeast(p.scales[scale].decimals))
			}
		}
		say(asked.Label, detail, sum)
	}
}

func (f *fee) words(decimals int) string {
	var parts []string
	if f.percent != 0 {
		parts = append(parts, f.percent.Words()+" %")
	}
	if f.fixed != 0 {
		parts = append(parts, trueMinus(f.fixed.Text(decimals)))
	}
	return strings.Join(parts, " + ")
}

func trueMinus(digits string) string {
	if below, found := strings.CutPrefix(digits, "-"); found {
		return "−" + below
	}
	return digits
}
