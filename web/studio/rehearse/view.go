package rehearse

import (
	"net/url"
	"slices"

	"omphalos/core/odds"
)

// A view is how the room is looked at. It stands in the address, so that it can be kept and
// sent.
type view struct {
	Show  string   // "phone" or "desktop" alone, "" for both
	Apart bool     // the frames walk apart
	Dark  bool     // the pages are dark
	Plain bool     // without scripts
	Slow  bool     // as over a slow line
	Picks []string // knots of the net: "question.answer", or ".outcome"
	Open  bool     // the net unfolded
}

func viewOf(query string) view {
	v, _ := url.ParseQuery(query)
	w := view{
		Show: v.Get("show"), Apart: v.Has("apart"), Dark: v.Has("dark"), Plain: v.Has("plain"),
		Slow: v.Has("slow"), Open: v.Has("open"), Picks: v["pick"],
	}
	if w.Show != "phone" && w.Show != "desktop" {
		w.Show = ""
	}
	if len(w.Picks) > mostPicks {
		w.Picks = w.Picks[:mostPicks]
	}
	return w
}

const mostPicks = 20

// Query is the view as a query, without "?".
func (v view) Query() string {
	q := url.Values{}
	if v.Show != "" {
		q.Set("show", v.Show)
	}
	for name, on := range map[string]bool{"apart": v.Apart, "dark": v.Dark, "plain": v.Plain, "slow": v.Slow,
		"open": v.Open} {
		if on {
			q.Set(name, "1")
		}
	}
	for _, pick := range v.Picks {
		q.Add("pick", pick)
	}
	return q.Encode()
}

func (v view) query(anchor string) string {
	if q := v.Query(); q != "" {
		return "?" + q + anchor
	}
	return "?" + anchor
}

// With is the address of the view with one thing turned: "phone", "desktop" or "both" shown,
// or one of the others on or off.
func (v view) With(what string) string {
	switch what {
	case "phone", "desktop":
		v.Show = what
	case "both":
		v.Show = ""
	case "apart":
		v.Apart = !v.Apart
	case "dark":
		v.Dark = !v.Dark
	case "plain":
		v.Plain = !v.Plain
	case "slow":
		v.Slow = !v.Slow
	case "open":
		v.Open = !v.Open
		return v.query("#ways")
	}
	return v.query("")
}

// Pick is the address of the view with a knot picked, or let go of.
func (v view) Pick(knot string) string {
	if i := slices.Index(v.Picks, knot); i >= 0 {
		v.Picks = slices.Delete(slices.Clone(v.Picks), i, i+1)
	} else {
		v.Picks = append(slices.Clone(v.Picks), knot)
	}
	return v.query("#ways")
}

// Unpicked is the address of the view with nothing picked.
func (v view) Unpicked() string {
	v.Picks = nil
	return v.query("#ways")
}

// nameOf names a knot in an address.
func nameOf(d *draft, k odds.Knot) string {
	if k.Question == odds.End {
		return "." + k.Name
	}
	return d.program.Key(k.Question) + "." + k.Name
}
