package survey

import (
	"context"
	"maps"
	"slices"
	"strings"
	"testing"
	"testing/fstest"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// Examples of HTML (4.8.4.3.12, "parse a srcset attribute") and of its web platform tests
// (html/semantics/embedded-content/the-img-element/srcset/parse-a-srcset-attribute.html, memory).
func TestSrcset(t *testing.T) {
	t.Parallel()
	for text, want := range map[string][]string{
		"":                                       nil,
		",":                                      nil,
		",,,":                                    nil,
		"  data:,a  1x  ":                        {"data:,a"},
		"data:,a 1x, data:,b 2x":                 {"data:,a", "data:,b"},
		"a.jpg 600w, b.jpg 1200w":                {"a.jpg", "b.jpg"},
		"a.jpg, b.jpg 2x":                        {"a.jpg", "b.jpg"},
		"a.jpg,b.jpg 2x":                         {"a.jpg,b.jpg"}, // a comma within an address is its own
		"a.jpg 1x (, b.jpg 2x":                   {"a.jpg"},
		"a.jpg (1x, 2x), b.jpg":                  {"a.jpg", "b.jpg"},
		"\n a.jpg\t1x ,\f b.jpg":                 {"a.jpg", "b.jpg"},
		"/x/with%20space.jpg 2x,  //other/c.jpg": {"/x/with%20space.jpg", "//other/c.jpg"},
	} {
		assert.Equal(t, want, srcSet(text), text)
	}
}

// Addresses are resolved as RFC 3986, 5.4, has it in its examples, where those stay within the site.
func TestAddresses(t *testing.T) {
	t.Parallel()
	s := newSpace([]string{"www.Club.example"})
	base := s.pageURL("b/c/d;p")
	for address, want := range map[string]string{
		"g": "b/c/g", "./g": "b/c/g", "g/": "b/c/g/", "/g": "g", "g?y": "b/c/g", "g#s": "b/c/g", ";x": "b/c/;x",
		".": "b/c/", "./": "b/c/", "..": "b/", "../": "b/", "../g": "b/g", "../..": "", "../../g": "g", "../../../g": "g", "../../../../g": "g",
		"/./g": "g", "/../g": "g", "g.": "b/c/g.", ".g": "b/c/.g", "..g": "b/c/..g", "./g/.": "b/c/g/", "g/./h": "b/c/g/h", "g/../h": "b/c/h",
		"http://www.club.example/a%20b.jpg": "a b.jpg", "https://WWW.CLUB.EXAMPLE/": "", "//www.club.example/x": "x",
		" spaced out.jpg ": "b/c/spaced out.jpg", `back\slash.jpg`: "b/c/back/slash.jpg", "100%.jpg": "b/c/100%.jpg", "broken%2.jpg": "b/c/broken%2.jpg", "ü.jpg": "b/c/ü.jpg", "%C3%BC.jpg": "b/c/ü.jpg",
		"new\nline.jpg": "b/c/newline.jpg",
	} {
		at, to := s.locate(base, address)
		assert.Equal(t, inside, to, address)
		assert.Equal(t, want, at, address)
	}
	for _, address := range []string{"http://other.example/g", "//other.example/g", "mailto:a@b.example", "javascript:void(0)", "data:image/gif;base64,R0lG", "ftp://www.club.example/x", "http://[::1"} {
		_, to := s.locate(base, address)
		assert.Equal(t, elsewhere, to, address)
	}
	for _, address := range []string{"", "  ", "#top"} {
		_, to := s.locate(base, address)
		assert.Equal(t, nothing, to, address)
	}
}

// widthOf is how wide the one picture of a page is shown, in each window.
func widthOf(t *testing.T, page string) Use {
	t.Helper()
	d, err := readPage("index.html", []byte(page), newSpace(nil))
	require.NoError(t, err)
	d.find(newStyles(d.sheet))
	require.Len(t, d.Uses, 1, page)
	d.Uses[0].fill(2000, 1000)
	return d.Uses[0]
}

// How wide a picture is follows from HTML (15.4.3) and CSS: what stands in a style is worth more than an
// attribute, what is important more than what is not, and of two that are worth the same the later.
func TestHowWideAPictureIs(t *testing.T) {
	t.Parallel()
	for page, want := range map[string][3]float64{
		`<img src=a>`:                                                      {2000, 2000, 2000},
		`<img src=a width=300>`:                                            {300, 300, 300},
		`<img src=a width="300px">`:                                        {300, 300, 300},
		`<img src=a width=50%>`:                                            {187, 376, 632}, // of the window without the margin of the body
		`<img src=a height=100>`:                                           {200, 200, 200}, // twice as wide as high
		`<img src=a style="height:100px">`:                                 {200, 200, 200},
		`<img src=a width=300 style="width:200px">`:                        {200, 200, 200},
		`<img src=a width=300 style="width:auto">`:                         {2000, 2000, 2000},
		`<img src=a style="max-width:100%">`:                               {374, 752, 1264},
		`<img src=a style="width:10em">`:                                   {160, 160, 160},
		`<img src=a style="width:50vw">`:                                   {195, 384, 640},
		`<img src=a style="display:none">`:                                 {0, 0, 0},
		`<style>img{width:100%}</style><body style="margin:0"><img src=a>`: {390, 768, 1280},
		`<style>img{width:100%}.c{width:600px;padding:20px}</style><div class=c><img src=a></div>`:                                   {600, 600, 600},
		`<style>img{width:100%}.c{width:600px;padding:20px;box-sizing:border-box}</style><div class=c><img src=a></div>`:             {560, 560, 560},
		`<style>img{width:100%}.c{max-width:600px;padding:0 5px 0 15px}</style><div class=c><img src=a></div>`:                       {354, 600, 600},
		`<style>img{width:100%}@media (max-width:700px){img{width:50%}}</style><body style="margin:0"><img src=a>`:                   {195, 768, 1280},
		`<style>img{width:100px}@media screen and (min-width:48em){img{width:200px}}@media print{img{width:9px}}</style><img src=a>`: {100, 200, 200},
		`<style media="(min-width:1000px)">img{width:10px}</style><img src=a width=20>`:                                              {20, 20, 10},
		`<style>#i{width:1px}.c{width:2px}img{width:3px}</style><img id=i class=c src=a>`:                                            {1, 1, 1},
		`<style>#i{width:1px}.c{width:2px!important}img{width:3px}</style><img id=i class=c src=a>`:                                  {2, 2, 2},
		`<style>.c{width:2px}.d{width:4px}</style><img class="d c" src=a>`:                                                           {4, 4, 4},
		`<style>.d{width:4px}img:hover,.c{width:2px}</style><img class="d c" src=a>`:                                                 {2, 2, 2},
		`<style>p > img[src]{width:7px}</style><p><img src=a>`:                                                                       {7, 7, 7},
		`<table width=800><tr><td width=200><img src=a width=100%></table>`:                                                          {200, 200, 200},
		`<table width=100% style="margin:0"><tr><td><img src=a width=50%></table>`:                                                   {187, 376, 632},
		`<figure><img src=a width=100%></figure>`:                                                                                    {294, 672, 1184},
		`<noscript><img src=a width=9></noscript>`:                                                                                   {9, 9, 9},
		`<style>img{width:calc(100% - 20px)}</style><img src=a width=30>`:                                                            {30, 30, 30}, // what has to be worked out is not
	} {
		assert.Equal(t, want, widthOf(t, page).Shown, page)
	}
}

// What a page says of a picture, as browsers build the page (HTML, 13.2; the malformed ones after html5lib's
// tree construction tests, memory).
func TestWhatAPageSays(t *testing.T) {
	t.Parallel()
	for page, want := range map[string]Use{
		`<img src=a alt="">`:                                    {Address: "a", HasAlt: true, Hidden: true},
		`<IMG SRC=a ALT='x &amp; y'>`:                           {Address: "a", HasAlt: true, Alt: "x & y"},
		`<img src=a>`:                                           {Address: "a"},
		`<image src=a alt=x>`:                                   {Address: "a", HasAlt: true, Alt: "x"}, // is an img to browsers
		`<img srcset="b 1x, c 2x" alt=x>`:                       {Address: "b", Others: []string{"c"}, HasAlt: true, Alt: "x"},
		`<picture><source srcset=d><img src=a alt=x></picture>`: {Address: "a", Others: []string{"d"}, HasAlt: true, Alt: "x"},
		`<a href=z><img src=a alt=x></a>`:                       {Address: "a", HasAlt: true, Alt: "x", Links: true, LinksTo: "z"},
		`<a href=z><img src=a alt=x> words</a>`:                 {Address: "a", HasAlt: true, Alt: "x", LinksTo: "z"},
		`<a href=z aria-label=w><img src=a alt=x></a>`:          {Address: "a", HasAlt: true, Alt: "x", LinksTo: "z"},
		`<figure><img src=a alt=x><figcaption>The  <b>pier</b></figcaption></figure>`: {Address: "a", HasAlt: true, Alt: "x", Caption: "The pier"},
		`<img src=a role=presentation alt=x>`:                                         {Address: "a", HasAlt: true, Alt: "x", Hidden: true},
		`<div aria-hidden=true><img src=a></div>`:                                     {Address: "a", Hidden: true},
		`<img src=a aria-label=" two  words ">`:                                       {Address: "a", Name: "two words"},
		`<p id=q>The pier<img src=a aria-labelledby=q>`:                               {Address: "a", Name: "The pier"},
		`<input type=IMAGE src=a alt=Go>`:                                             {Address: "a", HasAlt: true, Alt: "Go", Links: true, button: true},
		`<img src=a width=3 height=4 alt=x>`:                                          {Address: "a", HasAlt: true, Alt: "x", Sized: true},
		`<p><b><i><img src=a alt=x</i></b>`:                                           {Address: "a", HasAlt: true, Alt: "x</i"}, // an unquoted value ends at white space or >
		`<table><img src=a alt=x><tr><td></table>`:                                    {Address: "a", HasAlt: true, Alt: "x"},    // put before the table
		`<svg><desc><img src=a alt=x></desc></svg>`:                                   {Address: "a", HasAlt: true, Alt: "x"},
	} {
		got := widthOf(t, page)
		got.Near = ""
		want.Kind = Image
		want.Tag = strings.Index(strings.ToLower(page), "<img")
		got.Shown, got.own, got.height, got.bounded, got.autoWidth, got.natural, got.Sure, got.AutoHeight = want.Shown, want.own, want.height, false, false, false, false, false
		assert.Equal(t, want, got, page)
	}
}

// The words that a picture stands among help whoever describes it: those of the smallest thing that has some.
func TestWordsAroundAPicture(t *testing.T) {
	t.Parallel()
	for page, want := range map[string]string{
		`<h1>Club</h1><p>At the <b>pier</b> <img src=a> at dawn</p>`:                      "At the pier at dawn",
		`<div>Boats <p><a href=x><img src=a></a></p></div>`:                               "Boats",
		`<figure><img src=a><figcaption>The pier</figcaption><style>p{}</style></figure>`: "The pier",
		`<img src=a>`: "",
		`<div><div><div><div><div><div><div><img src=a></div></div></div></div></div></div>far</div>`: "",
		`<p>` + strings.Repeat("x ", 5000) + `<img src=a>`:                                            strings.TrimSpace(strings.Repeat("x ", longestName/2)) + " ",
	} {
		assert.Equal(t, want, widthOf(t, page).Near, page)
	}
}

// The encoding of a page is what it says, or what it looks like (HTML, 13.2.3.2; Encoding, 4.2).
func TestEncodings(t *testing.T) {
	t.Parallel()
	for name, page := range map[string]string{
		"meta of old":     "<meta http-equiv=Content-Type content='text/html; charset=iso-8859-1'><img src='\xfc.jpg'>",
		"meta":            "<meta charset=windows-1252><img src='\xfc.jpg'>",
		"UTF-8":           "<meta charset=utf-8><img src='ü.jpg'>",
		"byte order mark": "\xef\xbb\xbf<img src='ü.jpg'>",
		"UTF-16":          "\xff\xfe<\x00i\x00m\x00g\x00 \x00s\x00r\x00c\x00=\x00'\x00\xfc\x00.\x00j\x00p\x00g\x00'\x00>\x00",
		"nothing":         "<img src='\xfc.jpg'>",
	} {
		assert.Equal(t, "ü.jpg", widthOf(t, page).Address, name)
	}
}

// Styles show pictures, too, and bring other styles along (CSS Values 4, 4.5; CSS Cascade 4, 2).
func TestAddressesInStyles(t *testing.T) {
	t.Parallel()
	var s sheet
	s.add(`@import "one.css"; @import url(two.css) print; a { background: #fff URL( "b c.png" ) no-repeat, url(d.gif) }
		@font-face { src: url('f.woff2') format("woff2") } .x { background-image: url(e.png } .y { cursor: url(g.cur), auto }`, "")
	assert.Equal(t, []string{"one.css", "two.css"}, s.imports)
	assert.Subset(t, s.addresses, []string{"b c.png", "d.gif", "f.woff2"})
	assert.Equal(t, []string{"h.png"}, addressesOf("color: red; background: url('h.png')"))
}

// No page and no style, however broken, stops the reading.
func FuzzPage(f *testing.F) {
	for _, seed := range []string{`<img src=a width=1e400%>`, `<style>@media ((min-width:9px{img{width:100%`, `<a href=%zz><img srcset="a 1x,,(,"`, "<base href='//['><img src='\x00'>", `<style>` + strings.Repeat("@media x{", 50)} {
		f.Add(seed)
	}
	f.Fuzz(func(t *testing.T, page string) {
		d, err := readPage("a/b.html", []byte(page), newSpace(nil))
		if err != nil {
			return
		}
		d.find(newStyles(d.sheet))
		for _, u := range d.Uses {
			u.fill(100, 0)
			at, to := newSpace(nil).locate(d.base, u.Address)
			if to == inside && (strings.HasPrefix(at, "/") || strings.HasPrefix(at, "../")) {
				t.Fatalf("%q leads out of the site: %q", u.Address, at)
			}
			for _, w := range u.Shown {
				if w != w || w < 0 {
					t.Fatalf("%q is %v px wide", page, w)
				}
			}
		}
	})
}

// What systems put into folders and archives is no part of a site; what a site says of itself to programs is.
func TestClutter(t *testing.T) {
	t.Parallel()
	site := fstest.MapFS{}
	for _, at := range []string{"club/index.html", "club/.well-known/security.txt", "club/.htaccess", "club/a/p.html",
		"club/.git/config.html", "club/.DS_Store", "club/a/._p.html", "club/a/Thumbs.db", "__MACOSX/club/._index.html", ".DS_Store"} {
		site[at] = &fstest.MapFile{Data: []byte("x")}
	}
	top, err := Top(site)
	require.NoError(t, err)
	s, err := Read(context.Background(), top, Options{})
	require.NoError(t, err)
	assert.Equal(t, []string{"a/p.html", "index.html"}, s.PagePaths())
	assert.Equal(t, []string{".htaccess", ".well-known/security.txt"}, slices.Sorted(maps.Keys(s.Files)))
}
