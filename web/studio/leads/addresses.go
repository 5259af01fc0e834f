package leads

import (
	"maps"
	"net/url"
	"slices"
	"strconv"
	"time"

	"omphalos/web/studio/desk"
)

// hide lists the fields of the address but some.
func (in *sentence) hide(but ...string) []desk.Hidden {
	var list []desk.Hidden
	for _, field := range slices.Sorted(maps.Keys(in.fields)) {
		if slices.Contains(but, field) {
			continue
		}
		for _, value := range in.fields[field] {
			list = append(list, desk.Hidden{Name: field, Value: value})
		}
	}
	return list
}

// at is the address of the first page with a field set, or without it where the value is "".
func (in *sentence) at(field, value string) string {
	fields := maps.Clone(in.fields)
	fields.Set(field, value)
	if value == "" {
		fields.Del(field)
	}
	return in.to(fields)
}

// page are the fields of the address of the page, without the lead that is open.
func (in *sentence) page() url.Values {
	fields := maps.Clone(in.fields)
	if in.after != "" {
		fields.Set("after", in.after)
	}
	return fields
}

func (in *sentence) to(fields url.Values) string {
	if len(fields) == 0 {
		return in.address
	}
	return in.address + "?" + fields.Encode()
}

// without is the address without some fields.
func (in *sentence) without(fields ...string) string {
	left := url.Values{}
	for name, values := range in.fields {
		if !slices.Contains(fields, name) {
			left[name] = values
		}
	}
	return in.to(left)
}

// timeWords says the days of the sentence.
func (in *sentence) timeWords() string {
	from, to := in.fields.Get("from"), in.fields.Get("to")
	switch {
	case from == "" && to == "":
		return "of any time"
	case to == "":
		return "since " + from
	case from == "":
		return "until " + to
	}
	return "from " + from + " to " + to
}

// recents are the last days, counted from today.
func (in *sentence) recents(now time.Time) []desk.Option {
	var list []desk.Option
	for _, n := range []int{7, 30, 90} {
		from := now.AddDate(0, 0, 1-n).Format(time.DateOnly)
		fields := url.Values{"from": {from}}
		for name, values := range in.fields {
			if name != "from" && name != "to" {
				fields[name] = values
			}
		}
		list = append(list, desk.Option{Value: in.to(fields), Name: "the last " + strconv.Itoa(n) + " days",
			Chosen: in.fields.Get("from") == from && !in.fields.Has("to")})
	}
	return append(list, desk.Option{Value: in.without("from", "to"), Name: "any time",
		Chosen: !in.fields.Has("from") && !in.fields.Has("to")})
}
