package leads

import (
	"context"
	"net/url"
	"strconv"
	"strings"

	"omphalos/core/quiz"
	"omphalos/store/slice"
	"omphalos/web/studio/desk"
)

// Within one quiz leads are named by what they answered and scored, too, as in Learn:
// answer.crop=apples, score.promise=10..18.
type within struct {
	quiz  uint
	doc   *quiz.Quiz // as it was released last
	slice slice.Slice
}

// ofResponses tells whether a field asks for something of a response that leads don't say by
// themselves.
func ofResponses(field string) bool {
	kind, _, keyed := strings.Cut(field, ".")
	return field == "release" || field == "pressed" || keyed && (kind == "answer" || kind == "score" || kind == "amount")
}

// readWithin takes what is asked of responses, where the sentence is of one quiz.
func (s *Room) readWithin(ctx context.Context, in *sentence, query url.Values) error {
	asked := url.Values{}
	for field, values := range query {
		if ofResponses(field) {
			asked[field] = values
		}
	}
	of := in.fields["quiz"]
	if len(asked) == 0 || len(of) != 1 {
		return nil
	}
	id, err := strconv.ParseUint(of[0], 10, 64)
	if err != nil {
		return nil // no quiz has it
	}
	releases, err := s.Store.Definitions.Releases(ctx, uint(id))
	if err != nil || len(releases) == 0 {
		return err
	}
	doc, err := releases[0].Read()
	if err != nil {
		return nil // nothing of it can be asked
	}
	read, _ := slice.Read(in.days, releases, asked)
	if len(read.Parts) == 0 {
		return nil
	}
	in.within = &within{uint(id), doc, read}
	for field, values := range read.Asked {
		in.fields[field] = values
	}
	return nil
}

func (in *sentence) chips() (list []desk.Chip) {
	if in.within == nil {
		return nil
	}
	for _, field := range slice.Fields(in.within.slice.Asked) {
		values := in.within.slice.Asked[field]
		kind, key, _ := strings.Cut(field, ".")
		words := "with " + key + " " + strings.Replace(values[0], "..", " to ", 1)
		switch question, _, _ := strings.Cut(key, "."); kind {
		case "release":
			words = "who took release " + strings.Join(values, " or ")
		case "pressed":
			words = "who pressed " + quotedAll(values, in.within.doc.Button)
		case "answer":
			words = "who answered " + in.within.answers(question, values) + " to " + in.within.question(question)
		case "amount":
			words = "who answered " + strings.Replace(values[0], "..", " to ", 1) + " to " + in.within.question(question)
		case "score":
			if scale := in.within.doc.Scales[key]; scale != nil {
				words = "with " + scale.Name + " " + strings.Replace(values[0], "..", " to ", 1)
			}
		}
		list = append(list, desk.Chip{Words: words, Drop: in.without(field)})
	}
	return list
}

func (w *within) question(key string) string {
	if asked := w.doc.Questions[key]; asked != nil {
		return "“" + asked.Label + "”"
	}
	return "“" + key + "”"
}

func (w *within) answers(key string, values []string) string {
	return quotedAll(values, func(value string) string {
		if asked := w.doc.Questions[key]; asked != nil && asked.Answers[value] != nil {
			return asked.Answers[value].Label
		}
		return value
	})
}

// quotedAll reads several values, by what each is called.
func quotedAll(values []string, called func(string) string) string {
	names := make([]string, len(values))
	for i, value := range values {
		names[i] = "“" + called(value) + "”"
	}
	return strings.Join(names, " or ")
}
