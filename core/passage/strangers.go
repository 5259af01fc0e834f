package passage

import (
	"maps"
	"slices"
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
func facts(into map[string][]*condition, c *condition) {
	if c == nil {
		return
	}
	for _, part := range c.parts {
		facts(into, part)
	}
	if c.group != "" {
		return
	}
	switch c.subject {
	case ofFact:
		into[c.fact] = append(into[c.fact], c)
	case ofContact:
		into["contact."+c.fact] = append(into["contact."+c.fact], c)
	}
}

// meet finds the kinds of visitor that conditions tell apart.
func (e *Explorer) meet() {
	early := map[string][]*condition{}
	for _, s := range e.p.sections {
		facts(early, s.when)
	}
	for i := range e.p.questions {
		facts(early, e.p.questions[i].when)
		for _, r := range e.p.questions[i].then {
			facts(early, r.when)
		}
	}
	if e.purpose == forEnds {
		for i := range e.p.steps {
			facts(early, e.p.steps[i].when)
			for _, r := range e.p.steps[i].rules {
				for _, c := range r.cells {
					facts(early, c)
				}
			}
		}
	}
	late := make([]map[string][]*condition, len(e.p.outcomes))
	for i, o := range e.p.outcomes {
		late[i] = map[string][]*condition{}
		if e.purpose != forEnds {
			continue
		}
		for _, l := range o.landings {
			facts(late[i], l.when)
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
	for i := range e.p.outcomes {
		e.landings = append(e.landings, facing{e.overlays(late[i])})
	}
}

// overlays returns the combinations of what facts can be; of too many, those that
// change one fact, and then not all is followed. The first changes none.
func (e *Explorer) overlays(asked map[string][]*condition) []overlay {
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
func (e *Explorer) others(name string, clauses []*condition) []string {
	stock, assumed := stockOfFact(name, clauses), e.assumed.Visitor.Fact(name)
	var kept func(string) (string, bool)
	if field, found := cutContact(name); found {
		at := slices.IndexFunc(e.p.contact, func(q question) bool { return q.key == field })
		if at < 0 {
			return nil
		}
		stock, kept, assumed = e.p.contact[at].stockOf(clauses), e.p.contact[at].kept, ""
	}
	values, whole := stock.classes(clauses, kept)
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
func signatureWhere(clauses []*condition, text string) string {
	if text != "" {
		return signatureOf(clauses, text)
	}
	sig := make([]byte, len(clauses))
	for i, c := range clauses {
		if c.withoutAnswer() {
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
func (o overlay) on(v *Visitor) *Visitor {
	if len(o.facts) == 0 {
		return v
	}
	var to Visitor
	if v != nil {
		to = *v
		to.Query = maps.Clone(v.Query)
	}
	for fact, value := range o.facts {
		to.Set(fact, value)
	}
	return &to
}
