package program

import (
	"slices"
	"sync"

	"omphalos/core/atlas"
	"omphalos/core/decimal"
	"omphalos/core/quiz"
)

// A Wordstock is what words can be: those of a tongue, or those of a list.
type Wordstock struct {
	tongue *tongue
	list   []string
	whole  bool // the list holds all that there is
}

// StockOf returns what the answer to a question in words can be.
func (q *Question) StockOf(clauses []*Condition) Wordstock {
	switch q.Kind {
	case quiz.Consent:
		return Wordstock{list: []string{"yes"}, whole: true}
	case quiz.Email:
		return Wordstock{tongue: &mail}
	case quiz.Phone, quiz.Appointment:
		return Wordstock{list: append(probes(q.Kind), Variants(clauses)...)}
	}
	t := plain
	if q.Kind == quiz.LongText {
		t.most = longestText
	}
	if q.low != nil {
		t.least = max(t.least, int((*q.low+decimal.One-1)/decimal.One))
	}
	if q.high != nil {
		t.most = min(t.most, int(*q.high/decimal.One))
	}
	return Wordstock{tongue: &t}
}

// StockOfFact returns what a fact of the visitor can be where it is known.
func StockOfFact(name string, clauses []*Condition) Wordstock {
	switch name {
	case "country":
		return Wordstock{list: atlas.Codes(), whole: true}
	case "weekday":
		return Wordstock{list: weekdays, whole: true}
	case "device":
		return Wordstock{list: []string{"phone", "tablet", "desktop"}, whole: true}
	case "time":
		return Wordstock{list: minutes(), whole: true}
	case "date":
		return Wordstock{
			list: days(clauses),
			whole: !slices.ContainsFunc(
				clauses,
				func(c *Condition) bool { return c.Op == quiz.Contains || c.Op == quiz.Includes },
			),
		}
	case "language":
		return Wordstock{tongue: &subtag}
	}
	return Wordstock{tongue: &plain}
}

var minutes = sync.OnceValue(func() []string {
	var list []string
	for m := range 24 * 60 {
		list = append(
			list,
			string([]byte{byte('0' + m/600), byte('0' + m/60%10), ':', byte('0' + m%60/10), byte('0' + m%10)}),
		)
	}
	return list
})

// days returns the days that comparisons name, and those beside them.
func days(clauses []*Condition) []string {
	list := []string{"2026-01-01"}
	for _, c := range clauses {
		for _, word := range c.Words {
			if day, err := quiz.ParseDay(word); err == nil {
				list = append(list, quiz.DayText(day), quiz.DayText(day-decimal.One), quiz.DayText(day+decimal.One))
			}
		}
	}
	return list
}

// probes are answers of kinds whose form is checked, some of many.
func probes(k quiz.Kind) []string {
	if k == quiz.Appointment {
		return []string{"2026-04-30T09:30:00Z", "2026-10-01T14:00:00+01:00"}
	}
	return examplePhones()
}

// Classes returns one text for each way in which clauses can tell texts apart, and
// whether there are no others. kept, where set, returns a text as it is kept, and
// whether it can be given.
func (s Wordstock) Classes(clauses []*Condition, kept func(string) (string, bool)) (list []string, whole bool) {
	candidates, whole := s.list, s.whole
	if s.tongue != nil {
		candidates, whole = s.tongue.texts(clauses)
	}
	told := map[string]bool{}
	for _, text := range candidates {
		if kept != nil {
			var given bool
			if text, given = kept(text); !given {
				continue
			}
		}
		if sig := SignatureOf(clauses, text); !told[sig] {
			told[sig] = true
			list = append(list, text)
		}
	}
	return list, whole || !slices.ContainsFunc(clauses, Compares)
}
