package api

import (
	"embed"
	"log/slog"
	"net/http"
	"slices"
	"strings"

	"github.com/danielgtaylor/huma/v2"
	"github.com/gin-gonic/gin"

	"omphalos/web/ui"
)

//go:embed *.html
var templates embed.FS

// A page of the interface tells what can be asked for, from its description.
type page struct {
	Address string // of the interface
	Version string
	Tags    []tag
}

type tag struct {
	Name, About string
	Operations  []operation
}

type operation struct {
	ID, Method, Path, Summary string
	Scope                     string
	Fields                    []field // what goes along
	Takes, Gives              []field
	Body                      bool
}

type field struct {
	Name, In, Type, About string
	Needed                bool
}

// pages serves the page.
func pages(engine *gin.Engine, a *api) {
	views := ui.Load(templates)
	engine.GET("/api", func(c *gin.Context) {
		p := page{Address: ui.Origin(c.Request, a.Public) + Prefix, Version: Version, Tags: a.told()}
		if err := views.Page(c.Writer, http.StatusOK, "api", p); err != nil {
			slog.Error("showing the interface", "error", err)
		}
	})
}

// told tells the operations by their tags, in the order of the description.
func (a *api) told() []tag {
	d := a.OpenAPI()
	by := map[string]*tag{}
	var tags []tag
	for _, t := range d.Tags {
		tags = append(tags, tag{Name: t.Name, About: t.Description})
	}
	for i := range tags {
		by[tags[i].Name] = &tags[i]
	}
	for path, item := range d.Paths {
		for method, op := range map[string]*huma.Operation{"GET": item.Get, "PUT": item.Put, "POST": item.Post,
			"DELETE": item.Delete} {
			if op == nil || len(op.Tags) == 0 {
				continue
			}
			t := by[op.Tags[0]]
			t.Operations = append(t.Operations, a.operation(method, path, op))
		}
	}
	order := []string{"GET", "PUT", "POST", "DELETE"}
	for i := range tags {
		slices.SortFunc(tags[i].Operations, func(a, b operation) int {
			if by := strings.Compare(a.Path, b.Path); by != 0 {
				return by
			}
			return slices.Index(order, a.Method) - slices.Index(order, b.Method)
		})
	}
	return tags
}

func (a *api) operation(method, path string, op *huma.Operation) operation {
	told := operation{ID: op.OperationID, Method: method, Path: strings.TrimPrefix(path, Prefix),
		Summary: op.Summary, Scope: string(scopeOf(op))}
	for _, p := range op.Parameters {
		if strings.HasPrefix(p.Name, "If-") {
			continue // all take them
		}
		told.Fields = append(told.Fields, field{p.Name, p.In, typeOf(p.Schema), p.Description, p.Required})
	}
	if op.RequestBody != nil {
		told.Body = true
		told.Takes = a.fields(op.RequestBody.Content["application/json"], true)
	}
	if answer := op.Responses["200"]; answer != nil {
		told.Gives = a.fields(answer.Content["application/json"], false)
	}
	return told
}

// fields tells the fields of a body: of a list those of its items.
func (a *api) fields(media *huma.MediaType, written bool) []field {
	if media == nil {
		return nil
	}
	s := a.resolved(media.Schema)
	if s == nil {
		return nil
	}
	if items := s.Properties["items"]; items != nil {
		if s = a.resolved(a.resolved(items).Items); s == nil {
			return nil
		}
	}
	var list []field
	for name, p := range s.Properties {
		if p = a.resolved(p); p == nil || written && p.ReadOnly {
			continue
		}
		list = append(list, field{Name: name, Type: typeOf(p), About: p.Description,
			Needed: slices.Contains(s.Required, name)})
	}
	slices.SortFunc(list, func(a, b field) int { return strings.Compare(a.Name, b.Name) })
	return list
}

// resolved returns the schema that another refers to.
func (a *api) resolved(s *huma.Schema) *huma.Schema {
	if s != nil && s.Ref != "" {
		return a.OpenAPI().Components.Schemas.SchemaFromRef(s.Ref)
	}
	return s
}

func typeOf(s *huma.Schema) string {
	switch {
	case s == nil:
		return ""
	case s.Ref != "":
		return s.Ref[strings.LastIndexByte(s.Ref, '/')+1:]
	case s.Type == "array":
		return "list of " + typeOf(s.Items)
	case s.Format != "":
		return s.Type + ", " + s.Format
	}
	return s.Type
}
