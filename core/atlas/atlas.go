// Package atlas knows countries: their codes (ISO 3166-1 alpha-2) and their names in the
// languages that respondents' pages speak (CLDR, as golang.org/x/text has it).
package atlas

import (
	"cmp"
	"slices"
	"strings"
	"sync"
	"unicode"

	"golang.org/x/text/collate"
	"golang.org/x/text/language"
	"golang.org/x/text/language/display"
	"golang.org/x/text/runes"
	"golang.org/x/text/transform"
	"golang.org/x/text/unicode/norm"
)

// A Country has its code and its name in some language.
type Country struct{ Code, Name string }

// others are codes that the language registry has and ISO 3166-1 has not, or not any more.
var others = strings.Fields("AC AN CP CQ CS DG EA EU EZ FQ IC NT PC SU TA UN YU ZZ")

// Codes returns the codes of ISO 3166-1 alpha-2 in their order, and XK, by which Kosovo goes.
// They must not be changed.
var Codes = sync.OnceValue(func() []string {
	var list []string
	for a := 'A'; a <= 'Z'; a++ {
		for b := 'A'; b <= 'Z'; b++ {
			code := string(a) + string(b)
			if region, err := language.ParseRegion(code); err == nil && region.IsCountry() &&
				region.Canonicalize().String() == code && !slices.Contains(others, code) {
				list = append(list, code)
			}
		}
	}
	return list
})

// spoken are the languages whose names of countries are read.
var spoken = []language.Tag{language.English, language.German, language.French, language.Spanish, language.Italian,
	language.Dutch, language.Portuguese, language.Polish}

// common are names that people write for countries which have another one.
var common = map[string]string{"uk": "GB", "great britain": "GB", "england": "GB", "scotland": "GB", "wales": "GB",
	"northern ireland": "GB", "usa": "US", "america": "US", "republic of ireland": "IE", "eire": "IE", "holland": "NL",
	"the netherlands": "NL", "czech republic": "CZ", "korea": "KR", "russia": "RU", "uae": "AE", "turkey": "TR"}

// names maps folded names and codes to codes.
var names = sync.OnceValue(func() map[string]string {
	m := map[string]string{}
	for _, tag := range slices.Backward(spoken) { // English last: it wins
		regions := display.Regions(tag)
		for _, code := range Codes() {
			if name := regions.Name(language.MustParseRegion(code)); name != "" {
				m[fold(name)] = code
			}
		}
	}
	for name, code := range common {
		m[fold(name)] = code
	}
	for _, code := range Codes() {
		m[fold(code)] = code
	}
	return m
})

// fold takes case, accents and blanks out of a name.
func fold(s string) string {
	plain, _, err := transform.String(transform.Chain(norm.NFD, runes.Remove(runes.In(unicode.Mn)), norm.NFC), s)
	if err != nil {
		plain = s
	}
	return strings.Join(strings.Fields(strings.ToLower(strings.NewReplacer("’", "'", "-", " ", ".",
		"").Replace(plain))), " ")
}

// Code returns the code of a country that is named by it, in capitals or not, or by its name
// in one of the languages that are read.
func Code(text string) (code string, known bool) {
	if _, known = slices.BinarySearch(Codes(), text); known { // as most tables have it
		return text, true
	}
	code, known = names()[fold(text)]
	return code, known
}

// Name returns the name of a country in a language (BCP 47), in English where there is none in
// it; what is no code is returned as it is.
func Name(code, in string) string {
	region, err := language.ParseRegion(code)
	if err != nil || !region.IsCountry() {
		return code
	}
	if tag, err := language.Parse(in); err == nil {
		if namer := display.Regions(tag); namer != nil {
			if name := namer.Name(region); name != "" {
				return name
			}
		}
	}
	return cmp.Or(display.English.Regions().Name(region), code)
}

var (
	sorted   = map[string][]Country{}
	sortedMu sync.Mutex
)

// Countries returns all countries by their names in a language, sorted as it sorts. They must
// not be changed.
func Countries(in string) []Country {
	tag, err := language.Parse(in)
	if err != nil {
		tag = language.English
	}
	base, _ := tag.Base()
	key := base.String()
	sortedMu.Lock()
	defer sortedMu.Unlock()
	if list := sorted[key]; list != nil {
		return list
	}
	var list []Country
	for _, code := range Codes() {
		list = append(list, Country{code, Name(code, key)})
	}
	by := collate.New(tag)
	slices.SortFunc(list, func(a, b Country) int { return by.CompareString(a.Name, b.Name) })
	sorted[key] = list
	return list
}
