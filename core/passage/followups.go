package passage

import (
	"slices"

	"omphalos/core/program"
	"omphalos/core/quiz"
	"omphalos/core/saying"
)

// dueSayings say why something goes out or does not; the studio alone shows them.
var dueSayings = saying.Table{
	"nothing-goes-out":     "Nothing goes out after parting ways",
	"follow-up-not":        "It does not hold that %s",
	"follow-up-no-consent": "“%s” was not agreed to",
	"follow-up-no-email":   "No e-mail address was given",
	"follow-up-holds":      "It holds that %s",
	"follow-up-always":     "It goes to everybody",
}

// A Due follow-up is one that was considered for a passage: whether it goes out, and where not,
// why.
type Due struct {
	Key  string
	Goes bool
	Why  string // a sentence
}

// FollowUps returns the keys of what goes out after the Walker's last passage, in order. After
// parting ways, and before the end, nothing goes out.
func (w *Walker) FollowUps() []string {
	var keys []string
	for _, d := range w.followUps(false) {
		keys = append(keys, d.Key)
	}
	return keys
}

// Considered returns all follow-ups that are not turned off, with what was decided on each and
// why.
func (w *Walker) Considered() []Due { return w.followUps(true) }

func (w *Walker) followUps(tell bool) []Due {
	c, p := &w.course, w.course.Program
	ended := w.result.End == program.Decided || w.result.End == program.Named
	if !ended && !tell {
		return nil
	}
	why := func(key string, parts ...any) string {
		if !tell {
			return ""
		}
		return dueSayings.Say(key, parts...)
	}
	var list []Due
	for i := range p.FollowUps {
		f := &p.FollowUps[i]
		of := p.Quiz.FollowUps[f.Key]
		d := Due{Key: f.Key}
		switch {
		case !ended:
			d.Why = why("nothing-goes-out")
		case !f.When.Holds(c):
			d.Why = why("follow-up-not", w.sentence(tell, of.When))
		case !f.Consent.Holds(c):
			d.Why = why("follow-up-no-consent", w.label(of.Consent))
		case (of.Kind == quiz.MailFollowUp || of.Kind == quiz.ListFollowUp) && w.Email() == "":
			d.Why = why("follow-up-no-email")
		case of.When != nil:
			d.Goes, d.Why = true, why("follow-up-holds", w.sentence(tell, of.When))
		default:
			d.Goes, d.Why = true, why("follow-up-always")
		}
		if tell || d.Goes {
			list = append(list, d)
		}
	}
	return list
}

func (w *Walker) sentence(tell bool, c *quiz.Condition) string {
	if !tell {
		return ""
	}
	return w.course.Program.Quiz.Sentence(c)
}

func (w *Walker) label(key string) string {
	if asked := w.course.Program.Quiz.Ask(key); asked != nil {
		return asked.Label
	}
	return key
}

// Unkept returns the parameters of the visitor's address that name the click of an ad, and are
// not to be kept: on the Walker's last passage nobody agreed to it.
func (w *Walker) Unkept() []string {
	var names, kept []string
	c := &w.course
	for i := range c.Program.FollowUps {
		f := &c.Program.FollowUps[i]
		name := c.Program.Quiz.FollowUps[f.Key].Click
		switch {
		case name == "":
		case f.Consent != nil && f.Consent.Holds(c):
			kept = append(kept, name)
		default:
			names = append(names, name)
		}
	}
	return slices.DeleteFunc(names, func(name string) bool { return slices.Contains(kept, name) })
}

// Email returns the first e-mail address that was given on the Walker's last passage, "" for
// none.
func (w *Walker) Email() string {
	p := w.course.Program
	for _, key := range p.Quiz.Emails() {
		i := p.Position(key)
		if i < 0 {
			if typed := w.course.Contact[key]; typed != "" {
				return typed
			}
			continue
		}
		if v := w.course.Given(i); v != nil {
			return v.Text
		}
	}
	return ""
}

// LetterBlocks returns the keys of the blocks of a follow-up whose conditions hold after the
// Walker's last passage, in order.
func (w *Walker) LetterBlocks(followUp string) []string {
	p := w.course.Program
	at := slices.IndexFunc(p.FollowUps, func(f program.FollowUp) bool { return f.Key == followUp })
	if at < 0 {
		return nil
	}
	return w.holding(p.FollowUps[at].Blocks)
}
