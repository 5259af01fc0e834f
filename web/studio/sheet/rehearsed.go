package sheet

import (
	"context"
	"encoding/json"

	"omphalos/core/edit"
	"omphalos/core/finding"
	"omphalos/core/quiz"
	"omphalos/store"
	"omphalos/web/studio/desk"
)

// rehearsed adds to a sheet what came of its kept rehearsals, and what was said by those to
// whom it was handed.
func (s *Room) rehearsed(ctx context.Context, sh *Sheet) error {
	var err error
	if sh.broke, err = s.Store.Definitions.BrokenBy(ctx, sh.Quiz, sh.Broken()); err != nil {
		return err
	}
	remarks, err := s.Store.Definitions.Remarks(ctx, sh.Quiz.ID)
	if err != nil {
		return err
	}
	sh.remarks = map[quiz.Pointer][]store.Remark{}
	for _, r := range remarks {
		if !r.Settled {
			sh.remarks[quiz.Pointer(r.Pointer)] = append(sh.remarks[quiz.Pointer(r.Pointer)], r)
		}
	}
	return nil
}

// Broken returns the keys of the kept rehearsals that do not hold.
func (sh *Sheet) Broken() []string {
	var broken []string
	for _, f := range sh.Findings {
		if f.Code == "rehearsal-broken" {
			broken = append(broken, f.Pointer.Key())
		}
	}
	return broken
}

// A said is a remark at its place on the sheet.
type said struct {
	store.Remark
	Quiz uint
	Back string // the part that it stands in
}

func (sh *Sheet) said(at quiz.Pointer) []said {
	var list []said
	for _, r := range sh.remarks[at] {
		list = append(list, said{r, sh.Quiz.ID, sh.Jump(at)})
	}
	return list
}

// tellBroken adds to the finding of a rehearsal which edit broke it, and what takes that edit
// back, whatever came after.
func (sh *Sheet) tellBroken(t *Told) {
	key := t.Pointer.Key()
	t.Link = desk.Address(sh.Quiz) + "/rehearse#kept-" + key
	e, known := sh.broke[key]
	if !known {
		return
	}
	t.Sentence += " It broke with “" + e.Sentence + "”."
	var ops []edit.Op
	if json.Unmarshal([]byte(e.Inverse), &ops) == nil && len(ops) > 0 {
		t.Back = &finding.Mend{Label: "Take that edit back", Patch: ops}
		t.BackPatch = e.Inverse
	}
}
