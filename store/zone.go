package store

import (
	"context"
	"errors"
	"fmt"
	"log/slog"
	"time"
)

const zoneSetting = "time-zone"

// ErrZone says that nothing of the name is a time zone.
var ErrZone = errors.New("there is no time zone of this name")

// Zone returns the time zone of the workspace, in which its days are counted: UTC until one is
// set.
func (r room) Zone() *time.Location {
	if known, is := r.disk.zones.Load(r.in); is {
		return known.(*time.Location)
	}
	var name string
	err := setting(r.db(context.Background()), zoneSetting, &name)
	zone, wrong := time.LoadLocation(name) // "" is UTC
	if err = errors.Join(err, wrong); err != nil {
		slog.Error("the time zone of the workspace", "error", err)
		return time.UTC
	}
	r.disk.zones.Store(r.in, zone)
	return zone
}

// HasZone tells whether a time zone has been set.
func (d *Definitions) HasZone(ctx context.Context) (bool, error) {
	var n int64
	err := d.db(ctx).Model(&Setting{}).Where("name = ?", zoneSetting).Count(&n).Error
	return n > 0, found(err, "looking for the time zone")
}

// SetZone sets the time zone by its name in the IANA database. Days of openings and of those who
// were screened out stay as they have been counted. The error wraps ErrZone.
func (d *Definitions) SetZone(ctx context.Context, name string) error {
	if _, err := time.LoadLocation(name); err != nil || name == "" || name == "Local" {
		return fmt.Errorf("%w: write one such as Europe/Dublin", ErrZone)
	}
	err := keepSetting(d.db(ctx), zoneSetting, name)
	d.disk.zones.Delete(d.in)
	return err
}

// today is the day that it is in the workspace, as it is counted.
func (r room) today() string { return r.dayOf(now()) }

func (r room) dayOf(at time.Time) string { return at.In(r.Zone()).Format(time.DateOnly) }
