package mend

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"golang.org/x/net/html"

	"mivlet/core/fit"
)

// What is set in a tag is what a reader of HTML finds there; every other byte of the page stays. The odd ones
// are after the steps of HTML, 13.2.5.32 to 13.2.5.40.
func TestTagsAreChangedWhereTheyAre(t *testing.T) {
	t.Parallel()
	for page, want := range map[string]string{
		`<p><img src=a></p>`:                    `<p><img src=a alt="X" loading="lazy"></p>`,
		`<img src="a" alt="old">`:               `<img src="a" alt="X" loading="lazy">`,
		`<img src="a" alt='old' />`:             `<img src="a" alt='X' loading="lazy" />`,
		`<IMG SRC=a ALT=old ISMAP>`:             `<IMG SRC=a ALT="X" ISMAP loading="lazy">`,
		"<img\n  src = 'a'\n  alt\n>":           "<img\n  src = 'a'\n  alt=\"X\" loading=\"lazy\"\n>",
		`<img alt src=a>`:                       `<img alt="X" src=a loading="lazy">`,
		`<img src="a"alt="b"class=c>`:           `<img src="a"alt="X"class=c loading="lazy">`,
		`<img src=a alt=b alt=c>`:               `<img src=a alt="X" alt=c loading="lazy">`, // the first one counts
		`<img/src=a/alt=b>`:                     `<img/src=a/alt=b alt="X" loading="lazy">`, // an unquoted value goes on to the white space
		`<img src="a>b" alt=">">`:               `<img src="a>b" alt="X" loading="lazy">`,
		`<img src=a alt=>`:                      `<img loading="lazy" src=a alt="X">`, // what follows the sign would be its value
		`<img =x src=a>`:                        `<img =x src=a alt="X" loading="lazy">`,
		`<img>`:                                 `<img alt="X" loading="lazy">`,
		`<img />`:                               `<img alt="X" loading="lazy" />`,
		`<img src=a alt = old title="t">tail`:   `<img src=a alt="X" title="t" loading="lazy">tail`,
		"<img\fsrc=a\talt=\r\n\"old\"\r\n>\r\n": "<img\fsrc=a\talt=\r\n\"X\" loading=\"lazy\"\r\n>\r\n",
	} {
		p := newPage([]byte(page), "utf-8")
		tag, ok := tagAt(p.data, strings.Index(strings.ToLower(page), "<img"))
		require.True(t, ok, page)
		p.set(tag, [][2]string{{"alt", "X"}, {"loading", "lazy"}})
		got, err := apply(p.data, p.edits)
		require.NoError(t, err)
		assert.Equal(t, want, string(got), page)
		attributes := map[string]string{}
		z := html.NewTokenizer(strings.NewReader(string(got)))
		for z.Next() != html.ErrorToken {
			if token := z.Token(); token.Data == "img" {
				for _, a := range token.Attr {
					if _, again := attributes[a.Key]; !again {
						attributes[a.Key] = a.Val
					}
				}
			}
		}
		assert.Equal(t, []string{"X", "lazy"}, []string{attributes["alt"], attributes["loading"]}, page)
	}
	for _, page := range []string{``, `<`, `<img`, `<img src="a`, `<img src=a`, `<img alt=`, `<img src='a>`} {
		_, ok := tagAt([]byte(page), 0)
		assert.False(t, ok, page)
	}
}

// A text is written in the encoding of the page; what that has no sign for becomes a reference (HTML, 13.5).
func TestTextsInTheEncodingOfThePage(t *testing.T) {
	t.Parallel()
	for name, want := range map[string]string{
		"utf-8":        `<img alt="Tom &amp; &quot;Zoë&quot; <3 – 猫" src=a>`,
		"windows-1252": "<img alt=\"Tom &amp; &quot;Zo\xeb&quot; <3 \x96 &#29483;\" src=a>",
		"shift_jis":    "<img alt=\"Tom &amp; &quot;Zo&#235;&quot; <3 &#8211; \x94\x4c\" src=a>",
	} {
		p := newPage([]byte(`<img alt="" src=a>`), name)
		tag, ok := tagAt(p.data, 0)
		require.True(t, ok)
		p.set(tag, [][2]string{{"alt", `Tom & "Zoë" <3 – 猫`}})
		got, err := apply(p.data, p.edits)
		require.NoError(t, err)
		assert.Equal(t, want, string(got), name)
		again, ok := tagAt(got, 0)
		require.True(t, ok)
		alt, _ := again.find("alt")
		assert.Equal(t, `Tom & "Zoë" <3 – 猫`, newPage(got, name).says(alt), name)
	}
}

// Addresses are said in the way in which they were said.
func TestAddressesStayInTheirWay(t *testing.T) {
	t.Parallel()
	for _, c := range []struct{ address, from, to, page, want string }{
		{"a.jpg", "x/a.jpg", "x/a-300.jpg", "x/p.html", "a-300.jpg"},
		{"../x/a.jpg?v=2", "x/a.jpg", "x/b c.jpg", "y/p.html", "../x/b%20c.jpg"},
		{`..\x\a.jpg`, "x/a.jpg", "x/b.jpg", "y/p.html", "../x/b.jpg"},
		{"/x/a.jpg", "x/a.jpg", "z/b.jpg", "p.html", "/z/b.jpg"},
		{"http://club.example/x/a.jpg", "x/a.jpg", "z/b,c.jpg", "p.html", "http://club.example/z/b%2Cc.jpg"},
		{"x/a.jpg", "x/a.jpg", "b.jpg", "p.html", "b.jpg"},
		{"a.jpg", "x/y/a.jpg", "x/z/b.jpg", "x/y/p.html", "../z/b.jpg"},
		{"a.jpg", "x/y/a.jpg", "b.jpg", "x/y/p.html", "../../b.jpg"},
		{"a.jpg", "a.jpg", "a.jpg", "p.html", "a.jpg"},
	} {
		got, ok := leadTo(c.address, c.from, c.to, c.page)
		assert.True(t, ok, c.address)
		assert.Equal(t, c.want, got, c.address)
	}
	_, ok := leadTo("a.jpg", "other/a.jpg", "b.jpg", "x/p.html") // a <base> has its say
	assert.False(t, ok)
}

// Widths come with heights that need little rounding, the widest is the picture's own where that is less than
// is wanted, and none is close to another.
func TestLadder(t *testing.T) {
	t.Parallel()
	own := sizeOf(4000, 2667)
	for _, c := range []struct {
		own   [2]int
		shown []float64
		most  int
	}{
		{[2]int{4000, 3000}, []float64{300, 300, 300}, 616}, {[2]int{4000, 3000}, []float64{350, 700, 640}, 1416},
		{[2]int{900, 600}, []float64{350, 700, 640}, 900}, {[2]int{4000, 2667}, []float64{390, 768, 1280}, 2576},
	} {
		all := ladder(sizeOf(c.own[0], c.own[1]), c.shown)
		require.NotEmpty(t, all)
		assert.LessOrEqual(t, all[0], c.most)
		for i, w := range all {
			assert.LessOrEqual(t, w, c.own[0])
			if i > 0 {
				assert.LessOrEqual(t, float64(w), step*float64(all[i-1]))
			}
			if w < c.own[0] {
				high := float64(w) * float64(c.own[1]) / float64(c.own[0])
				assert.InDelta(t, high, float64(int(high+0.5)), 0.2, "%v: %d is %f high", c.own, w, high)
			}
		}
	}
	assert.Empty(t, ladder(own, nil))
	assert.Empty(t, ladder(own, []float64{0, 0}))
}

// A browser is told how wide a picture is (HTML, 4.8.4.2.2), and never less than was seen.
func TestSizes(t *testing.T) {
	t.Parallel()
	assert.Equal(t, "300px", sizes([3]float64{300, 300, 300}))
	assert.Equal(t, "(max-width: 768px) 100vw, 700px", sizes([3]float64{390, 700, 640}))
	assert.Equal(t, "(max-width: 768px) 95vw, 620px", sizes([3]float64{370, 620, 620}))
}

func FuzzTag(f *testing.F) {
	for _, page := range []string{`<img src=a>`, `<img alt='x' src="b"/>`, "<img\nalt\n=\nq>", `<img ="" ' <>`} {
		f.Add(page)
	}
	f.Fuzz(func(t *testing.T, page string) {
		p := newPage([]byte(page), "utf-8")
		tag, ok := tagAt(p.data, 0)
		if !ok {
			return
		}
		// What is read is what another reader reads.
		z := html.NewTokenizer(strings.NewReader(page))
		if kind := z.Next(); kind == html.StartTagToken || kind == html.SelfClosingTagToken {
			if n := len(z.Raw()); n != tag.to {
				t.Fatalf("it ends at %d, and not at %d: %q", n, tag.to, page)
			}
		}
		p.set(tag, [][2]string{{"alt", "X"}, {"src", "Y"}})
		got, err := apply(p.data, p.edits)
		if err != nil {
			t.Fatal(err)
		}
		again, ok := tagAt(got, 0)
		alt, there := again.find("alt")
		if !ok || !there || string(got[alt.value:alt.end]) != "X" || string(got[again.to:]) != page[tag.to:] {
			t.Fatalf("%q became %q", page, got)
		}
	})
}

func sizeOf(w, h int) fit.Size { return fit.Size{W: w, H: h} }
