package explore

import (
	"maps"
	"slices"

	"omphalos/core/program"
)

// mostStrangers bounds how many kinds of visitor are told apart together.
const mostStrangers = 256

// A facing is what visitors an outcome's landings tell apart beyond those that the
// path and the decision do.
type facing struct {
	overlays []overlay // the first is the visitor as assumed
}

// An overlay changes some facts of a visitor, and contact fields.
type overlay struct{ facts, contact map[string]string }

// facts gathers the clauses that ask for facts of the visitor or contact fields.
func facts(into map[string][]*program.Condition, c *program.Condition) {
	if c == nil {
		return
	}
	for _, part := range c.Parts {
		facts(into, part)
	}
	if c.Group != "" {
		return
	}
	switch c.Subject {
	case program.OfFact:
		into[c.Fact] = append(into[c.Fact], c)
	case program.OfContact:
		into["contact."+c.Fact] = append(into["contact."+c.Fact], c)
	}
}

// meet finds the kinds of visitor that conditions tell apart.
func (e *Explorer) meet() {
	early := map[string][]*program.Condition{}
	for _, s := range e.p.Sections {
		facts(early, s.When)
	}
	for i := range e.p.Questions {
		facts(early, e.p.Questions[i].When)
		for _, r := range e.p.Questions[i].Then {
			facts(early, r.When)
		}
	}
	if e.lands() {
		for i := range e.p.Steps {
			facts(early, e.p.Steps[i].When)
			for _, r := range e.p.Steps[i].Rules {
				for _, c := range r.Cells {
					facts(early, c)
				}
			}
		}
	}
	late := make([]map[string][]*program.Condition, len(e.p.Outcomes))
	for i, o := range e.p.Outcomes {
		late[i] = map[string][]*program.Condition{}
		if !e.lands() {
			continue
		}
		for _, l := range o.Landings {
			facts(late[i], l.When)
			for _, c := range e.shown(&l) {
				facts(late[i], c)
			}
		}
		for _, c := range e.afterwards() {
			facts(late[i], c)
		}
		for fact, clauses := range late[i] {
			if early[fact] != nil { // is told apart from the first question on
				early[fact] = append(early[fact], clauses...)
				delete(late[i], fact)
			}
		}
	}
	for _, o := range e.overlays(early) {
		e.strangers = append(e.strangers, o.on(e.assumed.Visitor))
	}
	for i := range e.p.Outcomes {
		e.landings = append(e.landings, facing{e.overlays(late[i])})
	}
}

// overlays returns the combinations of what facts can be; of too many, those that
// change one fact, and then not all is followed. The first changes none.
func (e *Explorer) overlays(asked map[string][]*program.Condition) []overlay {
	names := slices.Sorted(maps.Keys(asked))
	values, all := make([][]string, len(names)), 1
	for i, name := range names {
		values[i] = e.others(name, asked[name])
		all = min(all*(1+len(values[i])), mostStrangers+1)
	}
	list := []overlay{{}}
	for i, name := range names {
		known := list
		if all > mostStrangers {
			known, e.partial = list[:1], true
		}
		for _, value := range values[i] {
			for _, o := range known {
				list = append(list, o.with(name, value))
			}
		}
	}
	return list
}

// others returns what a fact, or a field of contact, can be beside what is assumed: a
// value for each way in which clauses can tell it apart.
func (e *Explorer) others(name string, clauses []*program.Condition) []string {
	stock, assumed := program.StockOfFact(name, clauses), e.assumed.Visitor.Fact(name)
	var kept func(string) (string, bool)
	if field, found := cutContact(name); found {
		at := slices.IndexFunc(e.p.Contact, func(q program.Question) bool { return q.Key == field })
		if at < 0 {
			return nil
		}
		stock, kept, assumed = e.p.Contact[at].StockOf(clauses), e.p.Contact[at].Kept, ""
	}
	values, whole := stock.Classes(clauses, kept)
	e.partial = e.partial || !whole
	told := map[string]bool{signatureWhere(clauses, assumed): true}
	var list []string
	for _, value := range append([]string{""}, values...) {
		if sig := signatureWhere(clauses, value); !told[sig] {
			told[sig] = true
			list = append(list, value)
		}
	}
	return list
}

// signatureWhere is signatureOf of words that may not be known.
func signatureWhere(clauses []*program.Condition, text string) string {
	if text != "" {
		return program.SignatureOf(clauses, text)
	}
	sig := make([]byte, len(clauses))
	for i, c := range clauses {
		if c.WithoutAnswer() {
			sig[i] = 1
		}
	}
	return string(sig)
}

func (o overlay) with(name, value string) overlay {
	to := overlay{maps.Clone(o.facts), maps.Clone(o.contact)}
	into := &to.facts
	if field, found := cutContact(name); found {
		into, name = &to.contact, field
	}
	if *into == nil {
		*into = map[string]string{}
	}
	(*into)[name] = value
	return to
}

func cutContact(name string) (string, bool) {
	const prefix = "contact."
	if len(name) > len(prefix) && name[:len(prefix)] == prefix {
		return name[len(prefix):], true
	}
	return name, false
}

// on returns the visitor with other facts.
func (o overlay) on(v *program.Visitor) *program.Visitor {
	if len(o.facts) == 0 {
		return v
	}
	var to program.Visitor
	if v != nil {
		to = *v
		to.Query = maps.Clone(v.Query)
	}
	for fact, value := range o.facts {
		to.Set(fact, value)
	}
	return &to
}
