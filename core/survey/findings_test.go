package survey

import (
	"bytes"
	"context"
	"fmt"
	"image"
	"image/color"
	"image/jpeg"
	"image/png"
	"io/fs"
	"math/rand/v2"
	"strings"
	"testing"
	"testing/fstest"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"mivlet/core/words"
)

// photo is a JPEG of some pixels, with grain so that it weighs what photos weigh.
func photo(w, h int) *fstest.MapFile {
	m := image.NewGray(image.Rect(0, 0, w, h))
	for i := range m.Pix {
		m.Pix[i] = uint8(i*i/7 + i%w)
	}
	var b bytes.Buffer
	_ = jpeg.Encode(&b, m, &jpeg.Options{Quality: 90})
	return &fstest.MapFile{Data: b.Bytes()}
}

func page(body string) *fstest.MapFile { return &fstest.MapFile{Data: []byte(body)} }

// told are the findings of a site, each on a line.
func told(t *testing.T, site fs.FS, o Options) (all []string) {
	t.Helper()
	s, err := Read(context.Background(), site, o)
	require.NoError(t, err)
	for _, f := range s.Findings() {
		all = append(all, strings.Join(strings.Fields(fmt.Sprintf("%s %s %s %s", f.Level, f.Code, f.Page, f.Picture)), " "))
	}
	return all
}

const sized = ` width=300 height=200 alt="A canoe at the pier"`

// Each thing that can be wrong is told where it is, and not where it is not.
func TestWhatIsTold(t *testing.T) {
	t.Parallel()
	plain := image.NewNRGBA(image.Rect(0, 0, 400, 300))
	noisy := image.NewRGBA(image.Rect(0, 0, 400, 300))
	grain := rand.New(rand.NewPCG(1, 2))
	for i := range noisy.Pix {
		noisy.Pix[i] = uint8(grain.Uint32())
		if i%4 == 3 {
			noisy.Pix[i] = 255
		}
	}
	plain.Set(3, 3, color.White)
	asPNG := func(m image.Image) *fstest.MapFile {
		var b bytes.Buffer
		require.NoError(t, png.Encode(&b, m))
		return &fstest.MapFile{Data: b.Bytes()}
	}
	for name, c := range map[string]struct {
		site fstest.MapFS
		want []string
	}{
		"nothing":                                {fstest.MapFS{"index.html": page(`<img src=pier.jpg` + sized + `>`), "pier.jpg": photo(600, 400)}, nil},
		"as large as is told of":                 {fstest.MapFS{"index.html": page(`<img src=pier.jpg` + sized + `>`), "pier.jpg": photo(810, 540)}, nil},
		"far too large":                          {fstest.MapFS{"index.html": page(`<img src=pier.jpg` + sized + `>`), "pier.jpg": photo(812, 541)}, []string{"warn far-too-large pier.jpg"}},
		"large, but it is shown large elsewhere": {fstest.MapFS{"index.html": page(`<img src=pier.jpg` + sized + `>`), "b.html": page(`<img src=pier.jpg width=600 height=400 alt="A canoe">`), "pier.jpg": photo(1500, 1000)}, nil},
		"stretched":                              {fstest.MapFS{"index.html": page(`<img src=pier.jpg` + sized + `>`), "pier.jpg": photo(285, 190)}, []string{"hint enlarged pier.jpg"}},
		"hardly stretched":                       {fstest.MapFS{"index.html": page(`<img src=pier.jpg` + sized + `>`), "pier.jpg": photo(287, 190)}, nil},
		"an icon that is stretched":              {fstest.MapFS{"index.html": page(`<img src=dot.png width=40 height=40 alt="A dot">`), "dot.png": asPNG(image.NewGray(image.Rect(0, 0, 8, 8)))}, nil},
		"a photo as PNG":                         {fstest.MapFS{"index.html": page(`<img src=pier.png` + sized + `>`), "pier.png": asPNG(noisy)}, []string{"warn photo-as-png pier.png"}},
		"a drawing as PNG":                       {fstest.MapFS{"index.html": page(`<img src=pier.png` + sized + `>`), "pier.png": asPNG(plain)}, nil},
		"another ending":                         {fstest.MapFS{"index.html": page(`<img src=pier.png` + sized + `>`), "pier.png": photo(600, 400)}, []string{"hint wrong-ending pier.png"}},
		"an ending of the same kind":             {fstest.MapFS{"index.html": page(`<img src=pier.JPEG` + sized + `>`), "pier.JPEG": photo(600, 400)}, nil},
		"twice":                                  {fstest.MapFS{"index.html": page(`<img src=a.jpg` + sized + `><img src=b.jpg width=300 height=200 alt="Other words">`), "a.jpg": photo(600, 400), "b.jpg": photo(600, 400)}, []string{"hint same-content b.jpg"}},
		"on no page":                             {fstest.MapFS{"index.html": page(`<p>Words`), "pier.jpg": photo(600, 400), "a.pdf": page("%PDF"), "x.js": page("1"), "robots.txt": page(""), "favicon.ico": page("")}, []string{"hint unused pier.jpg", "hint unused a.pdf"}},
		"linked, in styles, in icons":            {fstest.MapFS{"index.html": page(`<link rel=icon href=i.png><link rel=stylesheet href=s/a.css><a href="pier.jpg">Pier</a><body background=w.jpg><div style="background:url(v.jpg)">`), "s/a.css": page(`@import "b.css";`), "s/b.css": page(`p{background:url(../u.jpg)}`), "i.png": asPNG(plain), "pier.jpg": photo(60, 40), "u.jpg": photo(61, 40), "v.jpg": photo(62, 40), "w.jpg": photo(63, 40)}, nil},
		"of a camera":                            {fstest.MapFS{"index.html": page(`<img src=IMG_2041.jpg` + sized + `>`), "IMG_2041.jpg": photo(600, 400)}, []string{"hint camera-name IMG_2041.jpg"}},
		"a name with a space":                    {fstest.MapFS{"index.html": page(`<img src="the%20pier.jpg"` + sized + `>`), "the pier.jpg": photo(600, 400)}, []string{"hint awkward-name the pier.jpg"}},
		"not sized":                              {fstest.MapFS{"index.html": page(`<img src=pier.jpg width=300 alt="A canoe">`), "pier.jpg": photo(600, 400)}, []string{"hint not-sized index.html pier.jpg"}},
		"no alt":                                 {fstest.MapFS{"index.html": page(`<img src=pier.jpg width=300 height=200>`), "pier.jpg": photo(600, 400)}, []string{"stop alt-absent index.html pier.jpg"}},
		"a name instead of alt":                  {fstest.MapFS{"index.html": page(`<img src=pier.jpg width=300 height=200 aria-label="A canoe">`), "pier.jpg": photo(600, 400)}, nil},
		"decoration":                             {fstest.MapFS{"index.html": page(`<img src=pier.jpg width=300 height=200 alt="">`), "pier.jpg": photo(600, 400)}, nil},
		"decoration with words":                  {fstest.MapFS{"index.html": page(`<img src=pier.jpg` + sized + ` role=none>`), "pier.jpg": photo(600, 400)}, []string{"warn alt-decorative-words index.html pier.jpg"}},
		"a link without words":                   {fstest.MapFS{"index.html": page(`<a href=.><img src=pier.jpg width=300 height=200 alt=""></a>`), "pier.jpg": photo(600, 400)}, []string{"stop alt-decorative-link index.html pier.jpg"}},
		"a file name for words":                  {fstest.MapFS{"index.html": page(`<img src=pier.jpg width=300 height=200 alt="pier.jpg">`), "pier.jpg": photo(600, 400)}, []string{"stop alt-file-name index.html pier.jpg"}},
		"the same words for others":              {fstest.MapFS{"index.html": page(`<img src=a.jpg` + sized + `><img src=b.jpg` + sized + `><img src=a.jpg` + sized + `>`), "a.jpg": photo(600, 400), "b.jpg": photo(601, 400)}, []string{"warn alt-same-as-other index.html b.jpg"}},
		"not there":                              {fstest.MapFS{"index.html": page(`<img src=Pier.jpg` + sized + `><a href="b/">B</a>`), "pier.jpg": photo(600, 400)}, []string{"stop broken-picture index.html", "warn broken-link index.html", "hint unused pier.jpg"}},
		"folders and their pages":                {fstest.MapFS{"index.html": page(`<a href="b/">B</a><a href="c">C</a><a href="d">D</a><a href="/">Home</a>`), "b/index.htm": page(""), "c.html": page(""), "d/x.js": page("")}, nil},
		"not there, three times":                 {fstest.MapFS{"index.html": page(strings.Repeat(`<img src=gone.jpg`+sized+`>`, 3))}, []string{"stop broken-picture index.html"}},
		"damaged":                                {fstest.MapFS{"index.html": page(`<img src=a.jpg` + sized + `><img src=b.jpg width=300 height=200 alt=Boat><img src=c.png width=300 height=200 alt=Bow>`), "a.jpg": page(""), "b.jpg": page("no picture at all"), "c.png": {Data: asPNG(plain).Data[:20]}}, []string{"warn damaged a.jpg", "warn damaged b.jpg", "warn damaged c.png"}},
		"other hosts":                            {fstest.MapFS{"index.html": page(`<img src="http://other.example/x.jpg"` + sized + `><img src="https://www.club.example/y.jpg" width=1 height=1 alt="Y boat">`)}, []string{"stop broken-picture index.html"}},
	} {
		got := told(t, c.site, Options{Hosts: []string{"www.club.example"}})
		assert.Equal(t, c.want, got, name)
	}
}

// What costs most comes first: what tells of people, then stops, then what visitors wait for.
func TestTheOrderOfFindings(t *testing.T) {
	t.Parallel()
	site := fstest.MapFS{"index.html": page(`<img src=a.jpg` + sized + `><img src=b.jpg width=300 height=200 alt="Other words"><img src=c.jpg>`), "a.jpg": photo(1200, 800), "b.jpg": photo(2400, 1600), "IMG_1.jpg": photo(20, 10)}
	assert.Equal(t, []string{"stop alt-absent index.html", "stop broken-picture index.html", "warn far-too-large b.jpg", "warn far-too-large a.jpg", "hint unused IMG_1.jpg", "hint not-sized index.html", "hint camera-name IMG_1.jpg"}, told(t, site, Options{}))
	s, err := Read(context.Background(), site, Options{})
	require.NoError(t, err)
	r := s.Report()
	large := r.Findings[2]
	assert.Equal(t, words.Warn, large.Level)
	assert.Equal(t, []any{2400, 600}, large.Values)
	b := s.Files["b.jpg"]
	assert.InDelta(t, float64(b.Bytes)*(1-1./16), float64(large.Cost.Bytes), 1, "a quarter of its width is a sixteenth of its pixels")
	assert.InDelta(t, float64(large.Cost.Bytes)*8/1.6e6, large.Cost.Seconds, 0.01, "at 1.6 Mbit/s")
	assert.Equal(t, Sum{Pages: 1, Pictures: 3, Bytes: s.Files["a.jpg"].Bytes + b.Bytes + s.Files["IMG_1.jpg"].Bytes, CouldBe: s.Files["a.jpg"].couldBe() + b.couldBe(), PerPage: s.Files["a.jpg"].Bytes + b.Bytes, Undescribed: 1, Stop: 2, Warn: 2, Hint: 3, Estimated: true}, r.Sum)
	assert.Contains(t, r.Sum.String(), "; 1 picture without a description")
	assert.Len(t, ByKind(r.Findings), 6)
}

// Reading ends when nobody waits for it, and tells how far it is.
func TestReadingIsStopped(t *testing.T) {
	t.Parallel()
	site := fstest.MapFS{"index.html": page(`<p>Words`)}
	for i := range 50 {
		site[fmt.Sprintf("p%d.jpg", i)] = photo(60, 40)
	}
	ctx, stop := context.WithCancel(context.Background())
	last := 0
	_, err := Read(ctx, site, Options{Progress: func(read, all int) {
		assert.Equal(t, 51, all)
		assert.Equal(t, last+1, read)
		if last = read; read == 10 {
			stop()
		}
	}})
	assert.ErrorIs(t, err, context.Canceled)
	assert.Less(t, last, 20)
}

// A page that was made to take long does not: many pictures in one link, many styles, imports in a circle.
func TestPagesThatWereMadeToTakeLong(t *testing.T) {
	t.Parallel()
	var many strings.Builder
	for i := range 60_000 {
		fmt.Fprintf(&many, "<img src=%d>", i)
	}
	site := fstest.MapFS{
		"link.html":   page("<a href=x><figure>" + strings.Repeat("<img src=a aria-labelledby=q>", 20_000) + "<figcaption id=q>" + strings.Repeat("word ", 50_000)),
		"many.html":   page(many.String()),
		"deep.html":   page(strings.Repeat("<div>", 400) + strings.Repeat("<img src=a width=50%>", 2_000)),
		"circle.html": page(`<link rel=stylesheet href=a.css><img src=a>`),
		"a.css":       page(`@import "b.css"; @import "a.css";`),
		"b.css":       page(`@import "a.css"; @import "b.css"; img{width:10px}`),
	}
	ctx, stop := context.WithTimeout(context.Background(), time.Minute)
	defer stop()
	s, err := Read(ctx, site, Options{})
	require.NoError(t, err)
	assert.Len(t, s.Pages, 4)
	s.Findings()
}

// What comes with a page is one file of each picture: on a desk's usual screen the smallest that has enough
// pixels, or the largest there is; each once.
func TestBytesOfAPage(t *testing.T) {
	t.Parallel()
	site := fstest.MapFS{"p.html": {}}
	sizes := map[string]int{}
	for _, w := range []int{200, 400, 800} {
		at := fmt.Sprintf("%d.jpg", w)
		site[at] = photo(w, w/2)
		sizes[at] = len(site[at].Data)
	}
	for page, want := range map[string]int{
		`<img src=800.jpg width=300>`:                                                      sizes["800.jpg"],
		`<img src=800.jpg width=300><img src=800.jpg width=100>`:                           sizes["800.jpg"],
		`<img src=800.jpg srcset="200.jpg 200w, 400.jpg 400w, 800.jpg 800w" width=300>`:    sizes["400.jpg"],
		`<img src=200.jpg srcset="800.jpg 800w, 400.jpg 400w" width=300>`:                  sizes["400.jpg"],
		`<img src=200.jpg srcset="400.jpg 400w" width=900>`:                                sizes["400.jpg"],
		`<img src=400.jpg srcset="200.jpg 200w" width=900><img src="https://x.example/a">`: sizes["400.jpg"],
		`<p>none`: 0,
	} {
		site["p.html"] = &fstest.MapFile{Data: []byte(page)}
		found, err := Read(t.Context(), site, Options{})
		require.NoError(t, err)
		assert.EqualValues(t, want, found.Report().Sum.PerPage, page)
	}
}
