package finding

import "omphalos/core/quiz"

// followUps notes what goes out to something that is not there.
func (f *finder) followUps() {
	for _, k := range quiz.InOrder(f.q.FollowUps) {
		u, place := f.q.FollowUps[k], quiz.At("followUps", k)
		if u.Off {
			continue
		}
		if u.Kind.Calls() && u.Receiver != "" && f.outside.Receiver != nil && !f.outside.Receiver(u.Receiver) {
			f.note("receiver-missing", place+"/receiver", nil, "there-is-no-receiver", u.Receiver)
		}
		if u.Kind == quiz.ListFollowUp && u.List != "" && f.outside.List != nil && !f.outside.List(u.List) {
			f.note("list-missing", place+"/list", nil, "there-is-no-list", u.List)
		}
		if u.Kind.Letter() && f.outside.Mailless {
			f.note("mail-unset", place, nil, "mail-waits")
		}
	}
}
