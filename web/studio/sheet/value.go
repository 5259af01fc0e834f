package sheet

import (
	"cmp"
	"fmt"
	"maps"
	"slices"

	"omphalos/core/decimal"
	"omphalos/core/edit"
	"omphalos/core/quiz"
	"omphalos/web/studio/desk"
)

// A value says how numbers or dates of a question weigh: a row for the factor, and
// one for each bracket.
type value struct {
	Factor   []cell // nil of dates
	Brackets []bracketRow
	Add      string // patch that adds a bracket, "" where no scale can take it
	Reversed bool
	On, Off  string // patches that reverse it, and do not; "" where nothing weighs
	Curves   []curve
	Spread   []slide // of ratings: how many are expected at each point
	Date     bool
}

type bracketRow struct {
	From   string       // "" for the one below the others
	Path   quiz.Pointer // of the lower end on the first scale
	Also   string       // of the others
	Cells  []cell
	Remove string // patch
}

func (sh *Sheet) value(q *quiz.Question, key string, path quiz.Pointer) *value {
	if !q.Kind.Numeric() && q.Kind != quiz.Date {
		return nil
	}
	v := value{Date: q.Kind == quiz.Date, Spread: sh.spread(q, key, path)}
	keys, from := bracketKeys(q)
	var on, off []edit.Op
	for n, col := range sh.Columns {
		w := q.Weigh[col.Key]
		at := path.Join("weigh", col.Key)
		if w != nil {
			v.Reversed = v.Reversed || w.Reversed
			on = append(on, edit.Op{Op: "add", Path: at + "/reversed", Value: true})
			off = append(off, edit.Op{Op: "add", Path: at + "/reversed", Value: false})
			if len(w.Brackets) > 0 {
				v.Curves = append(v.Curves, newCurve(col.Name, w, keys))
			}
		}
		if v.Date {
			continue
		}
		c := cell{Path: at, Type: "factor", Class: "none", Column: n, Label: fmt.Sprintf("%s of each point", col.Name)}
		if w != nil && w.Factor != nil {
			c.Path, c.Type, c.Value, c.Class = at+"/factor", "times", "×"+w.Factor.String(), shade(*w.Factor, col.most)
		} else if w != nil && len(w.Brackets) > 0 {
			c.Hint = "below"
		}
		v.Factor = append(v.Factor, c)
	}
	if on != nil && !v.Date {
		v.On, v.Off = desk.PatchText(on), desk.PatchText(off)
	}
	for _, k := range keys {
		row := bracketRow{}
		var gone []edit.Op
		if from[k] != nil {
			row.From = from[k].String()
		}
		for n, col := range sh.Columns {
			at := path.Join("weigh", col.Key, "brackets", k)
			c := cell{
				Path:   at,
				Type:   "bracket",
				Class:  "none",
				Column: n,
				Label:  fmt.Sprintf("%s from %s", col.Name, cmp.Or(row.From, "the lowest on")),
			}
			if from[k] != nil {
				c.From = desk.JSONText(from[k])
			}
			if w := q.Weigh[col.Key]; w != nil && w.Brackets[k] != nil {
				c.Value, c.Class = w.Brackets[k].Adds.Signed(), shade(w.Brackets[k].Adds, col.most)
				gone = append(gone, edit.Op{Op: "remove", Path: at})
				if row.Path == "" {
					row.Path = at + "/from"
				} else {
					row.Also += string(at) + "/from "
				}
			} else if w != nil && w.Factor != nil {
				c.Path, c.Replaces = path.Join("weigh", col.Key), k
			}
			row.Cells = append(row.Cells, c)
		}
		row.Remove = desk.PatchText(gone)
		v.Brackets = append(v.Brackets, row)
	}
	v.Add = sh.addBracket(q, path, keys, from)
	return &v
}

// bracketKeys returns the keys of a question's brackets over all scales, rising.
func bracketKeys(q *quiz.Question) (keys []string, from map[string]*quiz.Bound) {
	from = map[string]*quiz.Bound{}
	for _, scale := range slices.Sorted(maps.Keys(q.Weigh)) {
		for k, b := range q.Weigh[scale].Brackets {
			if _, known := from[k]; !known {
				from[k] = b.From
				keys = append(keys, k)
			}
		}
	}
	at := func(k string) decimal.Decimal {
		if from[k] == nil {
			return decimal.Min
		}
		return from[k].Value()
	}
	slices.SortFunc(keys, func(a, b string) int { return cmp.Or(cmp.Compare(at(a), at(b)), cmp.Compare(a, b)) })
	return keys, from
}

// addBracket prepares the patch that adds a bracket above the others, on the scales
// that have brackets, or on the first.
func (sh *Sheet) addBracket(q *quiz.Question, path quiz.Pointer, keys []string, from map[string]*quiz.Bound) string {
	var start *quiz.Bound
	if len(keys) > 0 {
		start = quiz.NumberBound(decimal.One)
		if q.Kind == quiz.Date {
			start = quiz.DayBound(decimal.FromInt(20454)) // the first of 2026
		}
		if last := from[keys[len(keys)-1]]; last != nil && q.Kind == quiz.Date {
			start = quiz.DayBound(last.Value().Add(decimal.FromInt(30)))
		} else if last != nil {
			start = quiz.NumberBound(last.Value().Add(decimal.One))
		} else if low, _ := q.Bounds(); low != nil && q.Kind != quiz.Date {
			start = quiz.NumberBound(low.Add(decimal.One))
		}
	}
	key := ""
	for i := len(keys) + 1; ; i++ {
		if key = fmt.Sprintf("bracket_%d", i); !slices.Contains(keys, key) {
			break
		}
	}
	fresh := &quiz.Bracket{From: start}
	var ops []edit.Op
	for _, col := range sh.Columns {
		if w := q.Weigh[col.Key]; w != nil && len(w.Brackets) > 0 {
			ops = append(ops, edit.Op{Op: "add", Path: path.Join("weigh", col.Key, "brackets", key), Value: fresh})
		}
	}
	if ops == nil && len(sh.Columns) > 0 {
		ops = append(
			ops,
			edit.Op{
				Op:    "add",
				Path:  path.Join("weigh", sh.Columns[0].Key),
				Value: &quiz.Weighing{Brackets: map[string]*quiz.Bracket{key: fresh}},
			},
		)
	}
	if ops == nil {
		return ""
	}
	return desk.PatchText(ops)
}

// A curve draws what brackets add, as steps: a path in a drawing of 132 × 26.
type curve struct{ Name, Path string }

func newCurve(name string, w *quiz.Weighing, keys []string) curve {
	var adds []float64
	if first := w.Brackets[keys[0]]; first == nil || first.From != nil {
		adds = append(adds, 0) // below the lowest bracket nothing is added
	}
	for _, k := range keys {
		if b := w.Brackets[k]; b != nil {
			adds = append(adds, b.Adds.Float64())
		}
	}
	low, high := slices.Min(adds), slices.Max(adds)
	y := func(n float64) float64 {
		if high == low {
			return curveHeight / 2
		}
		return 3 + (curveHeight-6)*(high-n)/(high-low)
	}
	step := float64(curveWidth) / float64(len(adds))
	path := fmt.Sprintf("M0 %.1f", y(adds[0]))
	for i, n := range adds {
		path += fmt.Sprintf("V%.1fH%.1f", y(n), step*float64(i+1))
	}
	return curve{name, path}
}
