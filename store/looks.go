package store

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"log/slog"
	"reflect"
	"slices"
	"strings"
	"unicode/utf8"

	"gorm.io/gorm"

	"omphalos/core/edit"
	"omphalos/core/quiz"
)

// A KeptLook is a look that several quizzes wear together: what one of them changes of it
// changes in the drafts of all. Releases stay as they are.
type KeptLook struct {
	Key, Name string
	Look      quiz.Look // without what is said where a quiz is shared
}

// Why a look is not kept.
var (
	ErrLookName = errors.New("a look needs a name, of 60 characters at most")
	ErrLooks    = errors.New("there are too many looks that are kept")
)

const (
	looksSetting    = "looks"
	mostLooks       = 100
	longestLookName = 60
)

// KeptLooks lists the looks that are kept, by name.
func (d *Definitions) KeptLooks(ctx context.Context) ([]KeptLook, error) {
	var list []KeptLook
	return list, setting(d.db(ctx), looksSetting, &list)
}

// KeepLook keeps a look under a name, in the place of what had it, and returns its key. The
// error wraps ErrLookName or ErrLooks.
func (d *Definitions) KeepLook(ctx context.Context, name string, l quiz.Look) (string, error) {
	name = strings.Join(strings.Fields(name), " ")
	if name == "" || utf8.RuneCountInString(name) > longestLookName {
		return "", fmt.Errorf("keeping a look: %w", ErrLookName)
	}
	var key string
	err := d.changeLooks(ctx, func(list []KeptLook) []KeptLook {
		at := slices.IndexFunc(list, func(k KeptLook) bool { return k.Name == name })
		if at < 0 {
			list = append(list, KeptLook{Key: freshLook(list), Name: name})
			at = len(list) - 1
		}
		key, list[at].Look = list[at].Key, l.Worn(list[at].Key)
		slices.SortFunc(list, func(a, b KeptLook) int { return strings.Compare(a.Name, b.Name) })
		return list
	})
	return key, err
}

func freshLook(list []KeptLook) string {
	for n := 1; ; n++ {
		key := fmt.Sprintf("look_%d", n)
		if !slices.ContainsFunc(list, func(k KeptLook) bool { return k.Key == key }) {
			return key
		}
	}
}

// ForgetLook forgets a look. The quizzes that wear it keep it, each as its own.
func (d *Definitions) ForgetLook(ctx context.Context, key string) error {
	return d.changeLooks(ctx, func(list []KeptLook) []KeptLook {
		return slices.DeleteFunc(list, func(k KeptLook) bool { return k.Key == key })
	})
}

func (d *Definitions) changeLooks(ctx context.Context, f func([]KeptLook) []KeptLook) error {
	return d.db(ctx).Transaction(func(tx *gorm.DB) error {
		var list []KeptLook
		if err := setting(tx, looksSetting, &list); err != nil {
			return err
		}
		if list = f(list); len(list) > mostLooks {
			return ErrLooks
		}
		return keepSetting(tx, looksSetting, list)
	})
}

// wornTogether brings a look that a draft changed to the others that wear it.
func (d *Definitions) wornTogether(ctx context.Context, z *Quiz, patch string, user uint) {
	if !strings.Contains(patch, `"/look`) {
		return
	}
	if err := d.spreadLook(ctx, z, user); err != nil {
		slog.Error("bringing a look to other quizzes", "quiz", z.ID, "error", err)
	}
}

func (d *Definitions) spreadLook(ctx context.Context, z *Quiz, user uint) error {
	q, err := z.Document()
	if err != nil || q.Look == nil || q.Look.Kept == "" {
		return err
	}
	key := q.Look.Kept
	worn, changed := q.Look.Worn(key), false
	err = d.changeLooks(ctx, func(list []KeptLook) []KeptLook {
		for i := range list {
			if list[i].Key == key && !reflect.DeepEqual(list[i].Look, worn) {
				list[i].Look, changed = worn, true
			}
		}
		return list
	})
	if err != nil || !changed {
		return err
	}
	var others []Quiz
	if err := d.db(ctx).Where("id <> ?", z.ID).Find(&others).Error; err != nil {
		return found(err, "looking for quizzes that wear the look %q", key)
	}
	for i := range others {
		if err := d.wear(ctx, &others[i], worn, user); err != nil {
			return err
		}
	}
	return nil
}

// wear puts a look onto a draft, which keeps what it says where it is shared. A draft that is
// changed meanwhile is read again.
func (d *Definitions) wear(ctx context.Context, z *Quiz, worn quiz.Look, user uint) error {
	const tries = 5
	for range tries {
		q, err := z.Document()
		if err != nil || q.Look == nil || q.Look.Kept != worn.Kept {
			return err
		}
		own := worn
		own.Shared = q.Look.Shared
		patch, err := json.Marshal([]edit.Op{{Op: "add", Path: "/look", Value: own}})
		if err != nil {
			return fmt.Errorf("writing a look: %w", err)
		}
		_, _, err = d.edit(ctx, z.ID, z.Revision, patch, user)
		if !errors.Is(err, ErrStale) {
			return err
		}
		if z, err = d.Quiz(ctx, z.ID); err != nil {
			return err
		}
	}
	return ErrBusy
}
