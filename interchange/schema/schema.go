// Package schema describes the quiz format omphalos/quiz@1 as a JSON Schema
// (draft 2020-12), made from the Go types of package quiz, so that the two
// can't drift apart.
package schema

import (
	"encoding/json"
	"reflect"
	"strings"
	"sync"

	"github.com/invopop/jsonschema"

	"omphalos/core/decimal"
	"omphalos/core/quiz"
)

// ID is the name of the schema; it is not an address to fetch it from.
const ID = "urn:omphalos:quiz:1"

// Quiz returns the schema, indented.
var Quiz = sync.OnceValue(func() []byte {
	r := jsonschema.Reflector{Mapper: special, RequiredFromJSONSchemaTags: true, Anonymous: true}
	s := r.Reflect(&quiz.Quiz{})
	s.ID = ID
	s.Title = "A quiz"
	s.Description = "What a quiz asks, how answers weigh, how the outcome is decided and where it lands."
	for name, definition := range s.Definitions {
		demand(name, definition)
	}
	if p, found := s.Definitions["Quiz"].Properties.Get("format"); found {
		p.Const = quiz.Format
	}
	data, err := json.MarshalIndent(s, "", "  ")
	if err != nil {
		panic("schema: " + err.Error())
	}
	return append(data, '\n')
})

// words are the types that hold one of a few words.
var words = map[reflect.Type][]string{
	reflect.TypeFor[quiz.Kind]():         list(quiz.Kinds...),
	reflect.TypeFor[quiz.Op]():           list(quiz.Ops...),
	reflect.TypeFor[quiz.Pace]():         list("", quiz.ByQuestion, quiz.BySection, quiz.OnePage),
	reflect.TypeFor[quiz.ContactPlace](): list(quiz.BeforeResult, quiz.AfterResult),
	reflect.TypeFor[quiz.Review]():       list("", quiz.ReviewEach, quiz.ReviewEnd),
	reflect.TypeFor[quiz.Taker]():        list(quiz.ByDevice, quiz.ByPerson),
	reflect.TypeFor[quiz.Counts]():       list(quiz.EachCounts, quiz.LastCounts, quiz.FirstCounts),
	reflect.TypeFor[quiz.ScaleKind]():    list(quiz.Points, quiz.Keyword, quiz.Pull, quiz.Money),
	reflect.TypeFor[quiz.Method]():       list("", quiz.Sum, quiz.Mean, quiz.Percent, quiz.Formula),
	reflect.TypeFor[quiz.Way](): list(quiz.ToQuestion, quiz.ToSection, quiz.Decide, quiz.ToOutcome,
		quiz.PartWays),
	reflect.TypeFor[quiz.StepKind]():     list(quiz.RuleStep, quiz.TableStep, quiz.BandsStep, quiz.LeaderStep),
	reflect.TypeFor[quiz.TiePolicy]():    list(quiz.TieOrder, quiz.TieQuestion, quiz.TieOutcome, quiz.TieNext),
	reflect.TypeFor[quiz.Standing]():     list("", quiz.Fit, quiz.KeepWarm, quiz.NotAFit),
	reflect.TypeFor[quiz.LandingKind]():  list(quiz.PageLanding, quiz.ProductsLanding, quiz.RedirectLanding),
	reflect.TypeFor[quiz.FollowUpKind](): list(quiz.FollowUpKinds...),
	reflect.TypeFor[quiz.Colleague]():    list("", quiz.ToOwner),
	reflect.TypeFor[quiz.Digest]():       list("", quiz.Daily, quiz.Weekly),
	reflect.TypeFor[quiz.Made]():         list(quiz.Mades...),
	reflect.TypeFor[quiz.Scheme]():       list(quiz.Schemes...),
	reflect.TypeFor[quiz.Typeface]():     list(quiz.Typefaces...),
	reflect.TypeFor[quiz.Weight]():       list(quiz.Weights...),
	reflect.TypeFor[quiz.Corners]():      list(quiz.CornerForms...),
	reflect.TypeFor[quiz.Density]():      list(quiz.Densities...),
	reflect.TypeFor[quiz.Width]():        list(quiz.Widths...),
	reflect.TypeFor[quiz.Align]():        list(quiz.Aligns...),
	reflect.TypeFor[quiz.AnswerForm]():   list(quiz.AnswerForms...),
	reflect.TypeFor[quiz.ButtonForm]():   list(quiz.ButtonForms...),
	reflect.TypeFor[quiz.Progress]():     list(quiz.Progresses...),
	reflect.TypeFor[quiz.Ornament]():     list(quiz.Ornaments...),
	reflect.TypeFor[quiz.Layout]():       list(quiz.Layouts...),
	reflect.TypeFor[quiz.AnswerLayout](): list(quiz.AnswerLayouts...),
	reflect.TypeFor[quiz.ScoreForm]():    list(quiz.ScoreForms...),
	reflect.TypeFor[quiz.BlockKind](): list(
		quiz.TextBlock,
		quiz.PictureBlock,
		quiz.ActionBlock,
		quiz.LinkBlock,
		quiz.BillBlock,
	),
}

func list[T ~string](values ...T) []string {
	texts := make([]string, len(values))
	for i, v := range values {
		texts[i] = string(v)
	}
	return texts
}

// special gives the schema of types that are written otherwise than they look.
func special(t reflect.Type) *jsonschema.Schema {
	number := &jsonschema.Schema{Type: "number", Description: "at most six decimals"}
	text := &jsonschema.Schema{Type: "string"}
	switch t {
	case reflect.TypeFor[decimal.Decimal]():
		return number
	case reflect.TypeFor[quiz.Bound]():
		return &jsonschema.Schema{
			OneOf: []*jsonschema.Schema{number, {Type: "string", Format: "date", Pattern: `^\d{4}-\d{2}-\d{2}$`}},
		}
	case reflect.TypeFor[quiz.Value]():
		one := []*jsonschema.Schema{number, text}
		return &jsonschema.Schema{
			OneOf: append(one, &jsonschema.Schema{Type: "array", Items: &jsonschema.Schema{OneOf: one}}),
		}
	}
	allowed, found := words[t]
	if !found {
		return nil
	}
	s := &jsonschema.Schema{Type: "string"}
	for _, w := range allowed {
		s.Enum = append(s.Enum, w)
	}
	return s
}

// structs are the types of the format by name, to know which fields are required.
var structs = map[string]reflect.Type{}

func init() { gather(reflect.TypeFor[quiz.Quiz]()) }

func gather(t reflect.Type) {
	switch t.Kind() {
	case reflect.Pointer, reflect.Slice, reflect.Map:
		gather(t.Elem())
	case reflect.Struct:
		if _, seen := structs[t.Name()]; seen {
			return
		}
		structs[t.Name()] = t
		for i := range t.NumField() {
			gather(t.Field(i).Type)
		}
	}
}

// demand names the fields without which package quiz does not read an object.
func demand(name string, s *jsonschema.Schema) {
	var needed func(t reflect.Type)
	needed = func(t reflect.Type) {
		for i := range t.NumField() {
			f := t.Field(i)
			if f.Anonymous {
				needed(f.Type)
			} else if tag := f.Tag.Get("json"); tag != "" && !strings.Contains(tag, ",") {
				s.Required = append(s.Required, tag)
			}
		}
	}
	if t, found := structs[name]; found {
		needed(t)
	}
}
