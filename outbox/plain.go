package outbox

import "text/template"

// plainly returns a template of plain words.
func plainly(name string) *template.Template {
	return template.Must(template.New(name).ParseFS(letters, name))
}
