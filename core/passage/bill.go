package passage

import (
	"strings"

	"omphalos/core/decimal"
	"omphalos/core/program"
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
	p := w.course.Program
	i, known := p.ScaleIndex[scale]
	if !known {
		return nil, 0
	}
	s := &p.Scales[i]
	line := func(words, detail string, amount decimal.Decimal) {
		if amount != 0 {
			lines = append(
				lines,
				BillLine{Words: words, Detail: detail, Amount: amount, Text: program.TrueMinus(amount.Text(s.Decimals))},
			)
		}
	}
	line(sayIn(w.voice, "bill-start"), "", s.Start)
	subtotal := s.Start
	for _, q := range w.result.Seen {
		subtotal = subtotal.Add(w.course.AddedBy(q, i))
		w.billed(q, i, line)
	}
	if s.Method == quiz.Formula {
		worked, _ := s.Formula.Eval(s.Decimals, func(n int) decimal.Decimal { return w.course.Operand(s.Reads[n]) })
		line(sayIn(w.voice, "bill-formula"), "", worked.Sub(subtotal))
		subtotal = worked
	}
	if len(s.Fees) > 0 {
		line(sayIn(w.voice, "bill-sum"), "", subtotal)
		if subtotal != 0 {
			lines[len(lines)-1].Sum = true
		}
	}
	for f := range s.Fees {
		line(s.Fees[f].Name, feeWords(&s.Fees[f], s.Decimals), s.FeeOn(f, subtotal))
	}
	return lines, w.result.Scores[i]
}

// billed says what the answer to a question added.
func (w *Walker) billed(question, scale int, line func(words, detail string, amount decimal.Decimal)) {
	p, v := w.course.Program, w.course.Given(question)
	sum := w.course.AddedBy(question, scale)
	if v == nil {
		return
	}
	q, asked := &p.Questions[question], p.Question(question)
	label := func(o int16) string { return p.LabelOf(question, o, *v) }
	switch q.Form {
	case program.OfSome:
		var added decimal.Decimal
		for _, o := range v.Picks {
			line(label(o), "", program.AmountOf(q.Answers[o].Adds, scale))
			added = added.Add(program.AmountOf(q.Answers[o].Adds, scale))
		}
		line(asked.Label, sayIn(w.voice, "bill-cap"), sum.Sub(added)) // what a cap takes off
	case program.OfGrid:
		for r, column := range v.Picks {
			if column >= 0 {
				line(asked.Rows[q.Rows[r].Key].Label, label(column), program.AmountOf(q.Rows[r].Adds[column], scale))
			}
		}
	case program.OfOne:
		line(p.Words(question, *v), "", sum)
	default:
		detail := p.Words(question, *v)
		for _, weighs := range q.Weighs {
			if weighs.Scale == scale && len(weighs.Brackets) == 0 && !weighs.Turns {
				detail += " × " + program.TrueMinus(weighs.Factor.AtLeast(p.Scales[scale].Decimals))
			}
		}
		line(asked.Label, detail, sum)
	}
}

func feeWords(f *program.Fee, decimals int) string {
	var parts []string
	if f.Percent != 0 {
		parts = append(parts, f.Percent.Words()+" %")
	}
	if f.Fixed != 0 {
		parts = append(parts, program.TrueMinus(f.Fixed.Text(decimals)))
	}
	return strings.Join(parts, " + ")
}
