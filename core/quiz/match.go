package quiz

import (
	"encoding/json"
	"fmt"
	"maps"
	"reflect"
	"slices"
	"strconv"
	"strings"
	"sync"

	"omphalos/core/decimal"
)

// match holds a JSON value against a Go type and returns the first difference, or all, each
// with its place in the value; nil for none.
func match(v any, t reflect.Type, all bool) []Problem {
	wrong := func(format string, args ...any) []Problem {
		return []Problem{{Code: "format", Message: fmt.Sprintf(format, args...), Refuse: true}}
	}
	if t.Kind() == reflect.Pointer {
		t = t.Elem()
	}
	switch t {
	case reflect.TypeFor[decimal.Decimal]():
		n, ok := v.(json.Number)
		if !ok {
			return wrong("is %s, and must be a number", describe(v))
		}
		if _, err := decimal.Parse(n.String()); err != nil {
			return wrong("%s", err)
		}
		return nil
	case reflect.TypeFor[Value](), reflect.TypeFor[Bound]():
		return matchSelf(v, t, wrong)
	}
	switch t.Kind() {
	case reflect.String:
		if _, ok := v.(string); !ok {
			return wrong("is %s, and must be text in quotation marks", describe(v))
		}
	case reflect.Bool:
		if _, ok := v.(bool); !ok {
			return wrong("is %s, and must be true or false", describe(v))
		}
	case reflect.Int:
		if n, ok := v.(json.Number); !ok || json.Unmarshal([]byte(n), new(int)) != nil {
			return wrong("is %s, and must be a whole number", describe(v))
		}
	case reflect.Float64:
		if n, ok := v.(json.Number); !ok || json.Unmarshal([]byte(n), new(float64)) != nil {
			return wrong("is %s, and must be a number", describe(v))
		}
	case reflect.Slice:
		list, ok := v.([]any)
		if !ok {
			return wrong("is %s, and must be a list in [ ]", describe(v))
		}
		var found []Problem
		for i, item := range list {
			if p := match(item, t.Elem(), all); p != nil {
				if found = append(found, in(strconv.Itoa(i), p)...); !all {
					return found
				}
			}
		}
		return found
	case reflect.Map, reflect.Struct:
		object, ok := v.(map[string]any)
		if !ok {
			return wrong("is %s, and must be an object in { }", describe(v))
		}
		return matchObject(object, t, all)
	}
	return nil
}

func matchObject(object map[string]any, t reflect.Type, all bool) (found []Problem) {
	var known map[string]reflect.Type
	if t.Kind() == reflect.Struct {
		f := fieldsOf(t)
		known = f.types
		for _, name := range f.required {
			if _, there := object[name]; !there {
				found = append(found, Problem{Code: "format", Message: fmt.Sprintf("needs the field %q", name), Refuse: true})
				if !all {
					return found
				}
			}
		}
	}
	for _, name := range slices.Sorted(maps.Keys(object)) {
		element, fits := t, true
		if known != nil {
			element, fits = known[name]
		} else {
			element = t.Elem()
		}
		var wrong []Problem
		if !fits {
			wrong = []Problem{{Code: "format", Message: "is a field that the format does not know" +
				near(name, known), Refuse: true}}
		} else {
			wrong = match(object[name], element, all)
		}
		if wrong != nil {
			if found = append(found, in(name, wrong)...); !all {
				return found
			}
		}
	}
	return found
}

// in places problems of a value in what holds the value.
func in(key string, list []Problem) []Problem {
	for i := range list {
		list[i].Pointer = At(key) + list[i].Pointer
	}
	return list
}

func matchSelf(v any, t reflect.Type, wrong func(string, ...any) []Problem) []Problem {
	data, err := json.Marshal(v)
	if err == nil {
		err = json.Unmarshal(data, reflect.New(t).Interface())
	}
	if err != nil {
		return wrong("%s", err)
	}
	return nil
}

// fields are the JSON fields of a struct, those of embedded structs included,
// and the names of those that may not be left out.
type fields struct {
	types    map[string]reflect.Type
	required []string
}

var knownFields sync.Map // reflect.Type → fields

func fieldsOf(t reflect.Type) fields {
	if known, ok := knownFields.Load(t); ok {
		return known.(fields)
	}
	f := fields{types: map[string]reflect.Type{}}
	for i := range t.NumField() {
		field := t.Field(i)
		if field.Anonymous {
			inner := fieldsOf(field.Type)
			maps.Copy(f.types, inner.types)
			f.required = append(f.required, inner.required...)
			continue
		}
		name, options, _ := strings.Cut(field.Tag.Get("json"), ",")
		f.types[name] = field.Type
		if options == "" {
			f.required = append(f.required, name)
		}
	}
	knownFields.Store(t, f)
	return f
}

// near offers the field that differs only in case or in one letter more or less.
func near(name string, known map[string]reflect.Type) string {
	for _, f := range slices.Sorted(maps.Keys(known)) {
		if strings.EqualFold(f, name) || strings.EqualFold(f+"s", name) || strings.EqualFold(f, name+"s") {
			return fmt.Sprintf("; %q is meant, perhaps", f)
		}
	}
	return ""
}

func describe(v any) string {
	switch v := v.(type) {
	case nil:
		return "null"
	case bool:
		return fmt.Sprint(v)
	case json.Number:
		return clip(v.String())
	case string:
		return fmt.Sprintf("the text %q", clip(v))
	case []any:
		return "a list"
	}
	return "an object"
}
