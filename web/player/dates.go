package player

import (
	"cmp"
	"regexp"
	"strings"
	"time"

	"github.com/goodsign/monday"
	"golang.org/x/text/language"
)

// clocks says where clocks show the times that are told.
func (t tongue) clocks(zone *time.Location) string {
	city := zone.String()
	if _, named, found := strings.Cut(city, "/"); found {
		city = strings.ReplaceAll(named[strings.LastIndex(named, "/")+1:], "_", " ")
	}
	return t.say("As clocks show it in %s.", city)
}

// day names a day of this year or the next; dayAndTime with the time.
func (t tongue) day(at time.Time) string {
	if t.known() == language.English {
		return at.Format("Monday 2 January")
	}
	return monday.Format(at, yearBehind.ReplaceAllString(t.written(true), ""), t.locale())
}

// yearBehind is the year of a date as a layout, which stands behind the day in all languages.
var yearBehind = regexp.MustCompile(`,?( de)? 2006$`)

// date writes a day with its year, and with its weekday or without.
func (t tongue) date(at time.Time, weekday bool) string {
	if t.known() == language.English {
		if weekday {
			return at.Format("Monday 2 January 2006")
		}
		return at.Format("2 January 2006")
	}
	return monday.Format(at, t.written(weekday), t.locale())
}

// written is how the language writes dates, as a layout of package time.
func (t tongue) written(weekday bool) string {
	if weekday {
		return cmp.Or(monday.FullFormatsByLocale[t.locale()], "Monday, 2 January 2006")
	}
	return cmp.Or(monday.LongFormatsByLocale[t.locale()], "2 January 2006")
}

func (t tongue) dayAndTime(at time.Time) string { return t.day(at) + at.Format(", 15:04") }

// locale is the language as goodsign/monday has it.
func (t tongue) locale() monday.Locale {
	base, _ := t.known().Base()
	for _, l := range monday.ListLocales() {
		if strings.HasPrefix(string(l), base.String()+"_") {
			return l
		}
	}
	return monday.LocaleEnUS
}
