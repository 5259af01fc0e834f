// Package outbox is the room of what goes out when somebody lands: what is waiting, what fails
// and why, and what it goes to.
package outbox

import (
	"embed"

	"omphalos/web/studio/desk"
	"omphalos/web/ui"
)

//go:embed *.html
var templates embed.FS

// A Room is where deliveries are looked after.
type Room struct{ *desk.Desk }

// New returns the room at a desk.
func New(d *desk.Desk) *Room { return &Room{d.With(templates)} }

// Routes are the room's, each with what it takes.
func (s *Room) Routes() []ui.Route {
	return []ui.Route{
		ui.Get("/outbox", s.deliveries),
		ui.Post("/outbox/again", ui.Form, s.again),
		ui.Post("/outbox/cancel", ui.Form, s.cancel),
		ui.Get("/outbox/lists", s.lists),
		ui.Post("/outbox/lists", ui.Form, s.putList),
		ui.Post("/outbox/lists/:key/remove", ui.Form, s.removeList),
		ui.Get("/outbox/lists/:key", s.people),
		ui.Get("/outbox/lists/:key/people.csv", s.peopleFile),
		ui.Get("/outbox/receivers", s.receivers),
		ui.Post("/outbox/receivers", ui.Form, s.putReceiver),
		ui.Post("/outbox/receivers/:key/turn", ui.Form, s.turn),
		ui.Post("/outbox/receivers/:key/pause", ui.Form, s.pause),
		ui.Post("/outbox/receivers/:key/test", ui.Form, s.testReceiver),
		ui.Post("/outbox/receivers/:key/remove", ui.Form, s.removeReceiver),
		ui.Get("/outbox/access", s.access),
		ui.Post("/outbox/access", ui.Form, s.makeAccess),
		ui.Post("/outbox/access/:token/end", ui.Form, s.endAccess),
		ui.Get("/outbox/mail", s.mail),
		ui.Post("/outbox/mail", ui.Form, s.putMail),
		ui.Post("/outbox/mail/test", ui.Form, s.testMail),
	}
}
