package fillin

import (
	"net/url"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// RFC 6570, §3.2: the table of expansions, over the variables of its §3.2
// (values from memory of the RFC). They are what an address may hold.
func TestTableOfRFC6570(t *testing.T) {
	variables := map[string][]string{
		"count": {
			"one",
			"two",
			"three",
		}, "dom": {"example", "com"}, "dub": {"me/too"}, "hello": {"Hello World!"}, "half": {"50%"}, "var": {"value"},
		"who": {"fred"}, "base": {"http://example.com/home/"}, "path": {"/foo/bar"}, "list": {"red", "green", "blue"},
		"v": {"6"}, "x": {"1024"}, "y": {"768"}, "empty": {""},
	}
	for template, want := range map[string]string{
		// 3.2.1 variable expansion
		"{count}": "one,two,three", "{count*}": "one,two,three", "{/count}": "/one,two,three", "{/count*}": "/one/two/three",
		"{;count}": ";count=one,two,three", "{;count*}": ";count=one;count=two;count=three",
		"{?count}":  "?count=one,two,three",
		"{?count*}": "?count=one&count=two&count=three", "{&count*}": "&count=one&count=two&count=three",
		// 3.2.2 simple string expansion
		"{var}": "value", "{hello}": "Hello%20World%21", "{half}": "50%25", "O{empty}X": "OX",
		"O{undef}X": "OX", "{x,y}": "1024,768",
		"{x,hello,y}": "1024,Hello%20World%21,768", "?{x,empty}": "?1024,", "?{x,undef}": "?1024",
		"?{undef,y}": "?768", "{var:3}": "val", "{var:30}": "value",
		"{list}": "red,green,blue", "{list*}": "red,green,blue",
		// 3.2.3 reserved expansion
		"{+var}": "value", "{+hello}": "Hello%20World!", "{+half}": "50%25",
		"{base}index":  "http%3A%2F%2Fexample.com%2Fhome%2Findex",
		"{+base}index": "http://example.com/home/index", "O{+empty}X": "OX", "{+path}/here": "/foo/bar/here",
		"here?ref={+path}":    "here?ref=/foo/bar",
		"up{+path}{var}/here": "up/foo/barvalue/here", "{+x,hello,y}": "1024,Hello%20World!,768",
		"{+path,x}/here": "/foo/bar,1024/here", "{+path:6}/here": "/foo/b/here",
		// 3.2.4 fragment expansion
		"{#var}": "#value", "{#hello}": "#Hello%20World!", "foo{#empty}": "foo#", "foo{#undef}": "foo",
		"{#path,x}/here": "#/foo/bar,1024/here", "{#list*}": "#red,green,blue",
		// 3.2.5 label expansion
		"{.who}": ".fred", "{.who,who}": ".fred.fred", "{.half,who}": ".50%25.fred",
		"www{.dom*}": "www.example.com", "X{.empty}": "X.", "X{.list*}": "X.red.green.blue",
		// 3.2.6 path segment expansion
		"{/who}": "/fred", "{/half,who}": "/50%25/fred", "{/who,dub}": "/fred/me%2Ftoo",
		"{/var,empty}": "/value/", "{/var,undef}": "/value", "{/var,x}/here": "/value/1024/here",
		"{/var:1,var}": "/v/value", "{/list*,path:4}": "/red/green/blue/%2Ffoo",
		// 3.2.7 path-style parameters
		"{;who}": ";who=fred", "{;half}": ";half=50%25", "{;empty}": ";empty",
		"{;v,empty,who}": ";v=6;empty;who=fred", "{;x,y,empty}": ";x=1024;y=768;empty", "{;hello:5}": ";hello=Hello",
		// 3.2.8 form-style query
		"{?who}": "?who=fred", "{?x,y}": "?x=1024&y=768", "{?x,y,empty}": "?x=1024&y=768&empty=",
		"{?x,y,undef}": "?x=1024&y=768", "{?var:3}": "?var=val", "{?list*}": "?list=red&list=green&list=blue",
		// 3.2.9 form-style query continuation
		"{&who}": "&who=fred", "?fixed=yes{&x}": "?fixed=yes&x=1024", "{&x,y,empty}": "&x=1024&y=768&empty=",
		"{&list*}": "&list=red&list=green&list=blue",
	} {
		parsed, ok := parseTemplate(template)
		require.True(t, ok, template)
		assert.Equal(t, want, parsed.expand(func(name string) []string { return variables[name] }), template)
	}
	for _, template := range []string{"{", "}", "{}", "{a", "a}b", "{a b}", "{a:0}", "{a:x}", "{a:123456}",
		"{=a}", "{|a}", "{a,}", "\xff{a}"} {
		_, ok := parseTemplate(template)
		assert.False(t, ok, template)
	}
}

// A prefix is a whole number from 1 to 9999, without zeros before it (RFC 6570, 2.4.1).
func TestBoundOfAPrefix(t *testing.T) {
	for prefix, ok := range map[string]bool{"1": true, "9": true, "999": true, "1000": true, "9999": true, "10000": false,
		"99999": false, "0": false, "01": false, "": false, "-1": false, "1x": false} {
		_, err := ParseAddress("https://x.example/{v:" + prefix + "}")
		assert.Equal(t, ok, err == nil, "%q: %v", prefix, err)
	}
}

// Letters outside ASCII are percent-encoded in UTF-8 (RFC 3986, 2.5; RFC 6570, 3.2.1), in
// values and in what stands in the template; a prefix counts characters, and what is
// encoded already stays so where reserved characters may stand.
func TestAddressesOfAnyLanguage(t *testing.T) {
	for value, want := range map[string]string{
		"é": "%C3%A9", "Łódź": "%C5%81%C3%B3d%C5%BA", "中文": "%E4%B8%AD%E6%96%87",
		"😀": "%F0%9F%98%80", "𐍈x": "%F0%90%8D%88x", "a b%20c": "a%20b%2520c",
	} {
		for template, with := range map[string]string{"{v}": want, "{?v}": "?v=" + want, "{&v*}": "&v=" + want,
			"{/v}": "/" + want} {
			a, err := ParseAddress("https://x.example/" + template)
			require.NoError(t, err)
			got, err := a.Expand(func(string) []string { return []string{value} })
			require.NoError(t, err)
			assert.Equal(t, "https://x.example/"+with, got)
		}
	}
	for template, want := range map[string]string{
		"https://x.example/{v:1}":    "https://x.example/%E4%B8%AD",
		"https://x.example/{#v:1}":   "https://x.example/#%E4%B8%AD",
		"https://x.example/é/{v:2}":  "https://x.example/%C3%A9/%E4%B8%AD%E6%96%87",
		"https://x.example/{+coded}": "https://x.example/a%20b%25/c",
	} {
		a, err := ParseAddress(template)
		require.NoError(t, err)
		got, err := a.Expand(func(name string) []string {
			return map[string][]string{"v": {"中文字"}, "coded": {"a%20b%/c"}}[name]
		})
		require.NoError(t, err)
		assert.Equal(t, want, got)
	}
}

func TestAddresses(t *testing.T) {
	look := func(name string) []string {
		return map[string][]string{"crop": {"apples & pears"}, "topics": {"a", "b"},
			"evil": {"//evil.example/"}, "at": {"@evil.example"}}[name]
	}
	for template, want := range map[string]string{
		"https://book.example.com/visit?crop={crop}": "https://book.example.com/visit?crop=apples%20%26%20pears",
		"https://book.example.com/visit{?crop,gone}": "https://book.example.com/visit?crop=apples%20%26%20pears",
		"https://book.example.com/visit{?topics*}":   "https://book.example.com/visit?topics=a&topics=b",
		"https://book.example.com{/crop}":            "https://book.example.com/apples%20%26%20pears",
		"http://book.example.com:8080/{+evil}":       "http://book.example.com:8080///evil.example/",
		"HTTPS://book.example.com":                   "HTTPS://book.example.com",
	} {
		a, err := ParseAddress(template)
		require.NoError(t, err, template)
		got, err := a.Expand(look)
		require.NoError(t, err, template)
		assert.Equal(t, want, got)
	}
	for template, why := range map[string]error{
		"javascript:alert(1)": ErrScheme, "ftp://x.example/": ErrScheme, "/relative": ErrScheme, "": ErrScheme,
		"{evil}": ErrScheme, " https://x.example": ErrScheme,
		"https://": ErrHost, "https:///path": ErrHost, "https://{crop}/": ErrHost,
		"https://book.example{at}": ErrHost, "https://book.example{.at}": ErrHost,
		"https://user@x.example/": ErrHost, "https://x.example/{": ErrTemplate,
		"https://x.example/{a b}": ErrTemplate, "https://x.example/" + strings.Repeat("x", 2000): ErrLength,
	} {
		_, err := ParseAddress(template)
		assert.ErrorIs(t, err, why, template)
	}
}

// What a button leads to; values from memory of RFC 6068 and RFC 3966.
func TestButtons(t *testing.T) {
	look := func(name string) []string { return map[string][]string{"crop": {"apples & pears\r\nBcc: x"}}[name] }
	for address, want := range map[string]string{
		"https://quillbrook.example/{crop}":                         "https://quillbrook.example/apples%20%26%20pears%0D%0ABcc%3A%20x",
		"mailto:una@quillbrook.example":                             "mailto:una@quillbrook.example",
		"MAILTO:una@quillbrook.example?subject=Bees%20for%20{crop}": "MAILTO:una@quillbrook.example?subject=Bees%20for%20apples%20%26%20pears%0D%0ABcc%3A%20x",
		"tel:+353-1-234-5678":                                       "tel:+353-1-234-5678",
		"tel:112":                                                   "tel:112",
	} {
		a, err := ParseButton(address)
		require.NoError(t, err, address)
		got, err := a.Expand(look)
		require.NoError(t, err)
		assert.Equal(t, want, got)
	}
	for _, wrong := range []string{"mailto:", "mailto:una", "mailto:{crop}@quillbrook.example", "mailto:a@b.example,c@d.example", "tel:", "tel:{crop}", "tel:call me", "javascript:alert(1)", "data:text/html,x", "sms:123", "una@quillbrook.example"} {
		_, err := ParseButton(wrong)
		assert.ErrorIs(t, err, ErrButton, wrong)
	}
	_, err := ParseAddress("mailto:una@quillbrook.example")
	assert.ErrorIs(t, err, ErrScheme, "a redirect leads to a page")
}

func TestTexts(t *testing.T) {
	look := func(name string) (string, bool) {
		v, known := map[string]string{"name": "A*n*n <b>", "crop": "apples & pears", "gone": "", "grid.row": "often"}[name]
		return v, known
	}
	for text, want := range map[string]string{
		"Dear {name}!":                       `Dear A\*n\*n \<b\>!`,
		"{crop}{gone}.":                      `apples \& pears.`,
		"{unknown} {not a name} {}":          "{unknown} {not a name} {}",
		"[see](https://x.example/?c={crop})": "[see](https://x.example/?c=apples%20%26%20pears)",
		"You said {grid.row}":                "You said often",
	} {
		assert.Equal(t, want, Text(text, look), text)
	}
	assert.Equal(t, []string{"name", "grid.row"}, Names("{name} and {grid.row} and {no name}"))
}

// FuzzAddress: wherever the answers of a respondent go, the site is the one
// that was written down.
func FuzzAddress(f *testing.F) {
	f.Add("https://book.example.com/visit{?crop}", "apples")
	f.Add("http://x.example:80{/a,b}{#c}", "//evil.example")
	f.Add("https://x.example?{+a}", "@evil.example/#")
	f.Fuzz(func(t *testing.T, template, value string) {
		a, err := ParseAddress(template)
		if err != nil {
			return
		}
		s, err := a.Expand(func(string) []string { return []string{value} })
		if err != nil {
			return
		}
		got, err := url.Parse(s)
		require.NoError(t, err)
		rest, _ := cutScheme(template)
		host := rest[:len(rest)-len(strings.TrimLeft(rest, "ABCDEFGHIJKLMNOPQRSTUVWXYZabcdefghijklmnopqrstuvwxyz0123456789.-:[]_~!$&'()*+,;=%\x7f"))]
		if strings.Contains(host, "%") {
			return // an escaped host is decoded on the way
		}
		require.True(t, strings.HasPrefix(rest, got.Host), "%q leads to %q", template, got.Host)
		require.Contains(t, []string{"http", "https"}, strings.ToLower(got.Scheme))
	})
}

// FuzzText: a text without anything known to fill in stays as it is.
func FuzzText(f *testing.F) {
	f.Add("Dear {name}, [see](https://x.example/{name})", "<b>")
	f.Fuzz(func(t *testing.T, text, value string) {
		require.Equal(t, text, Text(text, func(string) (string, bool) { return "", false }))
		filled := Text("a {x} b", func(string) (string, bool) { return value, true })
		require.False(t, strings.ContainsAny(filled, "\n\r"))
		require.True(t, strings.HasPrefix(filled, "a ") && strings.HasSuffix(filled, " b"))
	})
}
