package api

import (
	"crypto/sha256"
	"encoding/base64"
	"encoding/json"
	"fmt"
	"math"
	"strconv"
	"time"

	"github.com/danielgtaylor/huma/v2/conditional"
)

// Paging asks for a page of a list.
type Paging struct {
	After int `query:"after" minimum:"0" doc:"The page behind this place: the value of next of the page before."`
	Limit int `query:"limit" minimum:"1" maximum:"200" default:"50" doc:"How many at the most."`
}

// A List is a page of a list.
type List[T any] struct {
	Items []T  `json:"items" nullable:"false"`
	Next  *int `json:"next,omitempty" doc:"Where the next page begins: the value for after. Absent on the last page."`
}

// pageOf cuts what was read, one more than a page holds, to a page.
func pageOf[T any](items []T, p Paging, place func(T) int) List[T] {
	page := List[T]{Items: items}
	if page.Items == nil {
		page.Items = []T{}
	}
	if len(items) > p.Limit {
		page.Items = items[:p.Limit]
		next := place(page.Items[p.Limit-1])
		page.Next = &next
	}
	return page
}

// Got is what is read: with an ETag (RFC 9110, 8.8.3), by which it is asked for only where it
// is another, and changed only where it is still the same.
type Got[T any] struct {
	ETag string `header:"ETag"`
	Body T
}

// got answers with what was read, or that it is what the client has.
func got[T any](body T, asked *conditional.Params) (*Got[T], error) {
	tag := tagOf(body)
	if asked.HasConditionalParams() {
		if err := asked.PreconditionFailed(tag, time.Time{}); err != nil {
			return nil, err
		}
	}
	return &Got[T]{ETag: strconv.Quote(tag), Body: body}, nil
}

// tagOf is the same for what is written the same.
func tagOf(body any) string {
	b, err := json.Marshal(body)
	if err != nil {
		return ""
	}
	sum := sha256.Sum256(b)
	return base64.RawURLEncoding.EncodeToString(sum[:12])
}

// unchanged refuses a change of what is another than the client thinks; there is nothing of
// what is not there.
func unchanged(now any, there bool, asked *conditional.Params) error {
	if !asked.HasConditionalParams() {
		return nil
	}
	tag := ""
	if there {
		tag = tagOf(now)
	}
	if err := asked.PreconditionFailed(tag, time.Time{}); err != nil {
		return err
	}
	return nil
}

func seconds(d time.Duration) string { return fmt.Sprint(int(math.Ceil(d.Seconds()))) }
