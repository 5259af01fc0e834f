package leads

import (
	"maps"
	"net/url"
	"slices"

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
