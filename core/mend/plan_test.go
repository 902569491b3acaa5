package mend_test

import (
	"bytes"
	"errors"
	"fmt"
	"image"
	"image/color"
	"image/draw"
	"image/jpeg"
	"io/fs"
	"maps"
	"os"
	"path/filepath"
	"slices"
	"strings"
	"testing"
	"testing/fstest"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"mivlet/core/facts"
	"mivlet/core/mend"
	"mivlet/core/raster"
	"mivlet/core/survey"
	"mivlet/internal/reference"
)

// photo is a JPEG of a size, with a comment that tells, and Exif with a camera's number.
func photo(w, h, seed int) []byte {
	m := image.NewYCbCr(image.Rect(0, 0, w, h), image.YCbCrSubsampleRatio420)
	for i := range m.Y {
		m.Y[i] = uint8((i%w*seed + i/w*7) / 9)
	}
	for i := range m.Cb {
		m.Cb[i], m.Cr[i] = uint8(i/7), uint8(i/11)
	}
	var out bytes.Buffer
	_ = jpeg.Encode(&out, m, &jpeg.Options{Quality: 96})
	exif := "Exif\x00\x00MM\x00\x2a\x00\x00\x00\x08\x00\x01\x01\x10\x00\x02\x00\x00\x00\x06\x00\x00\x00\x1a\x00\x00\x00\x00BO-24\x00"
	head := fmt.Sprintf("\xff\xd8\xff\xe1\x00%c%s\xff\xfe\x00\x11Lina lives here", len(exif)+2, exif)
	return append([]byte(head), out.Bytes()[2:]...)
}

// memory is a sink.
type memory struct {
	from fs.FS
	to   fstest.MapFS
}

func (m memory) Put(at string, data []byte) error {
	if m.to[at] != nil {
		return fmt.Errorf("%s is written twice", at)
	}
	m.to[at] = &fstest.MapFile{Data: data}
	return nil
}

func (m memory) Copy(at string) error {
	data, err := fs.ReadFile(m.from, at)
	if err != nil {
		return err
	}
	return m.Put(at, data)
}

type mendedSite struct {
	plan     *mend.Plan
	was, now fstest.MapFS
	outcomes map[string]mend.Outcome
}

func mended(t *testing.T, site map[string]string, c mend.Choices) mendedSite {
	t.Helper()
	s := mendedSite{was: fstest.MapFS{}, now: fstest.MapFS{}, outcomes: map[string]mend.Outcome{}}
	for at, text := range site {
		s.was[at] = &fstest.MapFile{Data: []byte(text)}
	}
	found, err := survey.Read(t.Context(), s.was, survey.Options{})
	require.NoError(t, err)
	s.plan, err = mend.New(t.Context(), s.was, found, c)
	require.NoError(t, err)
	outcomes, err := s.plan.Write(t.Context(), s.was, found, raster.Limits{Pixels: 50e6}, memory{s.was, s.now}, nil)
	require.NoError(t, err)
	for _, o := range outcomes {
		s.outcomes[o.Picture] = o
	}
	// Whatever is done to a site: what is not a changed tag is the same to the byte, and every file is still there.
	for at, file := range s.was {
		require.Contains(t, s.now, at)
		if slices.ContainsFunc(outcomes, func(o mend.Outcome) bool { return o.Fault != "" }) {
			continue // not all that was planned is there
		}
		if strings.HasSuffix(at, ".html") || strings.HasSuffix(at, ".css") {
			back := string(s.now[at].Data)
			for _, p := range s.plan.Pages {
				for _, change := range slices.Backward(p.Changes) {
					if p.Path == at && strings.Contains(back, change.After) {
						back = strings.Replace(back, change.After, change.Before, 1)
					}
				}
			}
			assert.Equal(t, string(file.Data), back, at)
		}
	}
	return s
}

func (s mendedSite) size(t *testing.T, at string) [2]int {
	t.Helper()
	require.Contains(t, s.now, at)
	known, err := facts.Read(bytes.NewReader(s.now[at].Data))
	require.NoError(t, err)
	return [2]int{known.Upright().W, known.Upright().H}
}

func (s mendedSite) page(at string) string { return string(s.now[at].Data) }

// A picture that is much larger than it is shown is cut for screens of both kinds, stands at its own address
// in that size, and tells nothing any more.
func TestAPictureIsCutAsItIsShown(t *testing.T) {
	t.Parallel()
	s := mended(t, map[string]string{"a.jpg": string(photo(2400, 1600, 3)), "p.html": `<p>Before<img alt="a.jpg" title='a.jpg' src="a.jpg" width="300">after`}, mend.Choices{})
	assert.Equal(t, `<p>Before<img alt="a.jpg" title='a.jpg' src="a.jpg" width="300" srcset="a.jpg 600w, a-300.jpg 300w" sizes="300px" height="200">after`, s.page("p.html"))
	assert.Equal(t, [2]int{600, 400}, s.size(t, "a.jpg"))
	assert.Equal(t, [2]int{300, 200}, s.size(t, "a-300.jpg"))
	assert.Less(t, len(s.now["a.jpg"].Data), len(s.was["a.jpg"].Data)/4)
	for at, file := range s.now {
		assert.NotContains(t, string(file.Data), "Lina", at)
		assert.NotContains(t, string(file.Data), "BO-24", at)
	}
	assert.Equal(t, []mend.Kind{mend.Cleaned, mend.Lighter}, s.outcomes["a.jpg"].Kinds)
}

// An attribute without a value is none that a picture is looked for in, and is filled in where somebody says so.
func TestAttributesWithoutValues(t *testing.T) {
	t.Parallel()
	site := map[string]string{"a.jpg": string(photo(300, 200, 3)), "p.html": `<img src="a.jpg" alt title width="300" height="200">`}
	assert.Equal(t, site["p.html"], mended(t, site, mend.Choices{}).page("p.html"))
	s := mended(t, site, mend.Choices{Words: map[mend.Spot]string{{Page: "p.html", Address: "a.jpg"}: "The pier"}})
	assert.Equal(t, `<img src="a.jpg" alt="The pier" title width="300" height="200">`, s.page("p.html"))
}

// What something else speaks of keeps all its pixels: a link to the picture, a script, a style, an address that
// shares it. It is cleaned nevertheless.
func TestWhatElseSpeaksOfAPictureFindsAllOfIt(t *testing.T) {
	t.Parallel()
	for name, page := range map[string]string{
		"link":    `<a href="a.jpg"><img src="a.jpg" width="300"></a>`,
		"script":  `<img src="a.jpg" width="300"><script>show("a.jpg")</script>`,
		"style":   `<style>p { background: url(a.jpg) }</style><img src="a.jpg" width="300">`,
		"shared":  `<meta property="og:image" content="https://club.example/A.JPG"><img src="a.jpg" width="300">`,
		"later":   `<img src="a.jpg" width="300"><img data-src="a.jpg" src="b.gif">`,
		"sheet":   `<link rel=stylesheet href=s.css><img src="a.jpg" width="300">`,
		"written": `<img src="a.jpg" width="300"><noscript>&lt;img src=a.jpg></noscript>`,
	} {
		t.Run(name, func(t *testing.T) {
			t.Parallel()
			s := mended(t, map[string]string{"a.jpg": string(photo(2400, 1600, 3)), "s.css": `div { background: url("a.jpg") }`, "p.html": page}, mend.Choices{})
			assert.Equal(t, [2]int{2400, 1600}, s.size(t, "a.jpg"))
			assert.NotContains(t, s.page("a.jpg"), "Lina")
			assert.Contains(t, s.page("p.html"), `src="a-600.jpg" width="300" srcset="a-600.jpg 600w, a-300.jpg 300w"`)
		})
	}
}

// Where it cannot be said that a picture keeps its size, its tag is left alone, and its file has as many pixels.
func TestWhatIsNotUnderstoodIsLeftAlone(t *testing.T) {
	t.Parallel()
	for name, page := range map[string]string{
		"styles elsewhere":  `<link rel=stylesheet href="https://cdn.example/all.css"><img src="a.jpg" width="300">`,
		"worked out":        `<style>img { width: calc(50% - 3px) }</style><img src="a.jpg" width="300">`,
		"by attribute":      `<style>img[width] { border: 3px solid }</style><img src="a.jpg" width="300">`,
		"at most so high":   `<style>img { max-height: 200px }</style><img src="a.jpg" width="300">`,
		"flexible":          `<style>p { display: flex }</style><p><img src="a.jpg" width="300"></p>`,
		"when supported":    `<style>@supports (display: grid) { img { width: 10px } }</style><img src="a.jpg" width="300">`,
		"some windows":      `<link rel=stylesheet href=s.css media="(min-width: 900px)"><img src="a.jpg" width="300">`,
		"several already":   `<img src="a.jpg" srcset="a.jpg 2x" width="300">`,
		"a choice":          `<picture><source srcset="b.webp"><img src="a.jpg" width="300"></picture>`,
		"a part as high":    `<style>img { max-width: 100% }</style><img src="a.jpg" height="50%">`,
		"its own size":      `<style>img { max-width: 100%; width: auto }</style><img src="a.jpg">`,
		"in another tongue": "<html><head><meta charset=iso-2022-jp></head><img src=\"a.jpg\" width=\"300\">",
	} {
		t.Run(name, func(t *testing.T) {
			t.Parallel()
			s := mended(t, map[string]string{"a.jpg": string(photo(2400, 1600, 3)), "b.webp": "", "s.css": "img { width: 90% }", "p.html": page}, mend.Choices{})
			assert.Equal(t, page, s.page("p.html"))
			assert.Equal(t, [2]int{2400, 1600}, s.size(t, "a.jpg"))
			assert.NotContains(t, s.page("a.jpg"), "Lina")
		})
	}
}

// Styles for paper say nothing of a screen.
func TestStylesForPaper(t *testing.T) {
	t.Parallel()
	s := mended(t, map[string]string{"a.jpg": string(photo(2400, 1600, 3)), "s.css": "img { width: 9000px }", "p.html": `<link rel=stylesheet href=s.css media=print><img src="a.jpg" width="300">`}, mend.Choices{})
	assert.Contains(t, s.page("p.html"), `sizes="300px"`)
}

// What a page shows or leads to that cannot be changed keeps all its pixels: one in UTF-16, or one that is too long.
func TestPagesThatCannotBeChanged(t *testing.T) {
	t.Parallel()
	utf16 := func(text string) string {
		out := "\xff\xfe"
		for _, c := range text {
			out += string([]byte{byte(c), 0})
		}
		return out
	}
	for name, page := range map[string]string{
		"shown":    utf16(`<img src=a.jpg>`),
		"led to":   utf16(`<a href="a.jpg">large</a>`),
		"too long": `<img src=a.jpg>` + strings.Repeat(" ", 8<<20),
	} {
		s := mended(t, map[string]string{"a.jpg": string(photo(2400, 1600, 3)), "p.html": `<img src="a.jpg" width="300">`, "q.html": page}, mend.Choices{})
		assert.Equal(t, [2]int{2400, 1600}, s.size(t, "a.jpg"), name)
		assert.Equal(t, page, s.page("q.html"), name)
		assert.Contains(t, s.page("p.html"), `src="a-600.jpg"`, name)
	}
}

// A picture that is as wide as there is room is told how wide it was, so that it stays so, whatever the cut.
func TestRoomIsFilledAsBefore(t *testing.T) {
	t.Parallel()
	s := mended(t, map[string]string{"a.jpg": string(photo(2400, 1600, 3)),
		"p.html": `<style>body { margin: 0 } main { max-width: 600px } img { max-width: 100% }</style><main><img src="a.jpg"></main>`,
		"q.html": `<style>body { margin: 0 } main { max-width: 600px } img { max-width: 100%; height: auto }</style><main><img src="a.jpg"></main>`}, mend.Choices{})
	assert.Contains(t, s.page("p.html"), `<img src="a.jpg" srcset="a.jpg 1200w, a-780.jpg 780w, a-600.jpg 600w, a-390.jpg 390w" sizes="(max-width: 768px) 100vw, 600px" width="2400">`)
	assert.Contains(t, s.page("q.html"), `sizes="(max-width: 768px) 100vw, 600px" width="2400" height="1600">`)
}

// Who left a picture as it is finds it so, on all pages; who described one finds the words, in the encoding of
// the page; and a new name leads to the same picture as the old one.
func TestWhatEditorsDecide(t *testing.T) {
	t.Parallel()
	site := map[string]string{"a.jpg": string(photo(2400, 1600, 3)), "x/IMG 7.jpg": string(photo(800, 600, 5)),
		"p.html": `<meta charset=windows-1252><img src="a.jpg" width="300"><img src="x/IMG%207.jpg" alt="IMG 7" width="400">`}
	s := mended(t, site, mend.Choices{Left: map[string]bool{"a.jpg": true}, Names: map[string]string{"x/IMG 7.jpg": "juniors-pier"},
		Words: map[mend.Spot]string{{Page: "p.html", Address: "x/IMG%207.jpg"}: "Zoë on the pier", {Page: "p.html", Address: "a.jpg"}: ""}})
	assert.Equal(t, site["a.jpg"], s.page("a.jpg"))
	assert.Equal(t, "<meta charset=windows-1252><img src=\"a.jpg\" width=\"300\" alt=\"\"><img src=\"x/juniors-pier.jpg\" alt=\"Zo\xeb on the pier\" width=\"400\" height=\"300\">", s.page("p.html"))
	assert.Equal(t, s.page("x/juniors-pier.jpg"), s.page("x/IMG 7.jpg"))
	assert.Equal(t, []string{"a.jpg", "p.html", "x/IMG 7.jpg", "x/juniors-pier.jpg"}, slices.Sorted(maps.Keys(s.now)))
}

// One picture under several names is fetched once, and still found under all of them.
func TestTheSamePictureIsTakenFromOneFile(t *testing.T) {
	t.Parallel()
	same := string(photo(500, 400, 3))
	s := mended(t, map[string]string{"a/one.jpg": same, "b/two.jpg": same, "b/p.html": `<img src="two.jpg" width=500 height=400><img src="../a/one.jpg" width=500 height=400>`}, mend.Choices{})
	assert.Equal(t, `<img src="../a/one.jpg" width=500 height=400><img src="../a/one.jpg" width=500 height=400>`, s.page("b/p.html"))
	assert.Equal(t, s.page("a/one.jpg"), s.page("b/two.jpg"))
	assert.NotContains(t, s.page("b/two.jpg"), "Lina")
}

// A picture that cannot be made again keeps its file and its tags, with the reason; the page's other tags change.
func TestAPictureThatFailsStays(t *testing.T) {
	t.Parallel()
	broken := string(photo(2400, 1600, 3)[:9000])
	s := mended(t, map[string]string{"a.jpg": broken, "b.jpg": string(photo(2400, 1600, 5)), "p.html": `<img src="a.jpg" width="300"><img src="b.jpg" width="300">`},
		mend.Choices{Words: map[mend.Spot]string{{Page: "p.html", Address: "a.jpg"}: "The pier"}})
	assert.Equal(t, broken, s.page("a.jpg"))
	assert.NotEmpty(t, s.outcomes["a.jpg"].Fault)
	assert.Equal(t, `<img src="a.jpg" width="300" alt="The pier"><img src="b.jpg" width="300" srcset="b.jpg 600w, b-300.jpg 300w" sizes="300px" height="200">`, s.page("p.html"))
}

// A new file never takes the place of one that is there, whatever its name.
func TestNoFileIsWrittenOver(t *testing.T) {
	t.Parallel()
	other := string(photo(50, 40, 7))
	s := mended(t, map[string]string{"a.jpg": string(photo(2400, 1600, 3)), "A-300.JPG": other, "a-300-2.jpg": other[:40], "p.html": `<img src="a.jpg" width="300">`}, mend.Choices{})
	assert.Contains(t, s.page("p.html"), "a-300-3.jpg 300w")
	assert.Equal(t, [2]int{300, 200}, s.size(t, "a-300-3.jpg"))
	assert.Equal(t, other[:40], s.page("a-300-2.jpg"))
}

// A name that something may speak of without our knowing keeps all its pixels, and a folder with a space in it
// does not part a srcset.
func TestNamesWithSpaces(t *testing.T) {
	t.Parallel()
	s := mended(t, map[string]string{"my files/a (1).jpg": string(photo(2400, 1600, 3)), "my files/b.jpg": string(photo(2400, 1600, 5)),
		"p.html": `<img src="my files/a (1).jpg" width=300><div data-src="my files/a (1).jpg"></div><img src="my files/b.jpg" width=300>`}, mend.Choices{})
	assert.Equal(t, [2]int{2400, 1600}, s.size(t, "my files/a (1).jpg"))
	assert.Contains(t, s.page("p.html"), `srcset="my%20files/a%20%281%29-600.jpg 600w, my%20files/a%20%281%29-300.jpg 300w"`)
	assert.Contains(t, s.page("p.html"), `<img src="my files/b.jpg" width=300 srcset="my%20files/b.jpg 600w, my%20files/b-300.jpg 300w"`)
	assert.Equal(t, [2]int{600, 400}, s.size(t, "my files/b.jpg"))
}

// A name leads into no folder.
func TestNamesLeadNowhere(t *testing.T) {
	t.Parallel()
	site := fstest.MapFS{"p.html": {Data: []byte(`<img src=a.jpg>`)}, "a.jpg": {Data: photo(30, 20, 1)}}
	found, err := survey.Read(t.Context(), site, survey.Options{})
	require.NoError(t, err)
	for _, name := range []string{"../x", `..\x`, "/x", ".htaccess", ""} {
		_, err := mend.New(t.Context(), site, found, mend.Choices{Names: map[string]string{"a.jpg": name}})
		assert.ErrorContains(t, err, "invalid name")
	}
}

// What moves becomes lighter and goes on moving; still GIFs and bitmaps become files that pack better. Read by
// ImageMagick.
func TestOtherTypesBecomeLighter(t *testing.T) {
	t.Parallel()
	dir := t.TempDir()
	read := func(at string) string {
		data, err := os.ReadFile(at)
		require.NoError(t, err)
		return string(data)
	}
	make := func(name string, how ...string) string {
		at := filepath.Join(dir, name)
		reference.Run(t, "convert", append(how, at)...)
		return read(at)
	}
	stroke := read("../../demo/pictures/paddle-stroke.gif")
	site := map[string]string{
		"index.html": `<img src="stroke.gif" width="120" alt="a"><img src="still.gif" width="160" alt="b"><img src="photo.bmp" width="300" alt="c"><img src="map.bmp" width="300" alt="d">`,
		"stroke.gif": stroke,
		"still.gif":  make("still.gif", "-size", "900x600", "plasma:red-navy", "-colors", "64"),
		"photo.bmp":  make("photo.bmp", "-size", "600x400", "-seed", "3", "plasma:white-green", "-type", "TrueColor"),
		"map.bmp":    make("map.bmp", "-size", "600x400", "xc:white", "-fill", "black", "-draw", "circle 300,200 300,100", "-type", "Palette", "-colors", "16"),
	}
	s := mended(t, site, mend.Choices{})
	text := string(s.now["index.html"].Data)
	for at, want := range map[string]string{"stroke.gif": "GIF", "still.gif": "PNG", "photo.bmp": "JPEG", "map.bmp": "PNG"} {
		o := s.outcomes[at]
		assert.Empty(t, o.Fault, at)
		assert.Less(t, o.Now, o.Was*2/3, at)
		if at != "stroke.gif" {
			assert.Equal(t, site[at], string(s.now[at].Data), "%s: its address stays", at)
			assert.NotContains(t, text, `src="`+at, "%s: the page shows another", at)
		}
		var largest string
		for _, p := range s.plan.Pictures {
			if p.Path == at {
				require.NotEmpty(t, p.Cuts, at)
				largest = p.Cuts[0].Path
			}
		}
		require.NotNil(t, s.now[largest], "%s: %s", at, largest)
		out := filepath.Join(dir, "out"+filepath.Ext(largest))
		require.NoError(t, os.WriteFile(out, s.now[largest].Data, 0o600))
		told := reference.Run(t, "identify", "-format", "%m %n\n", out)
		line, _, _ := strings.Cut(told, "\n")
		assert.True(t, strings.HasPrefix(line, want), "%s became %s", at, line)
		if at == "stroke.gif" {
			frames := strings.Count(reference.Run(t, "identify", filepath.Join("../../demo/pictures/paddle-stroke.gif")), "\n")
			assert.Equal(t, fmt.Sprintf("GIF %d", frames), line, "it moves as before")
		}
	}
}

// Wherever a covered picture stood, it is covered now: at its own address, in cuts, under its new name, and in copies of
// it. Where it cannot be covered, nothing is written.
func TestCoveredPictures(t *testing.T) {
	t.Parallel()
	big := string(photo(900, 600, 3))
	site := map[string]string{
		"index.html": `<p><img src="a.jpg" width="300" height="200" alt="a"><img src="copy.jpg" width="300" height="200" alt="a"><a href="other.jpg">Other</a>`,
		"a.jpg":      big, "copy.jpg": big, "other.jpg": string(photo(90, 60, 5)),
	}
	hole := image.Rect(300, 150, 600, 450)
	covering := func() (*raster.Source, error) {
		m, err := jpeg.Decode(strings.NewReader(big))
		require.NoError(t, err)
		out := image.NewRGBA(m.Bounds())
		draw.Draw(out, out.Rect, m, image.Point{}, draw.Src)
		draw.Draw(out, hole, image.NewUniform(color.RGBA{200, 0, 0, 255}), image.Point{}, draw.Src)
		return raster.FromImage(out), nil
	}
	s := mended(t, site, mend.Choices{Covered: map[string]mend.Covering{"a.jpg": covering, "copy.jpg": covering}, Names: map[string]string{"a.jpg": "pier", "copy.jpg": "pier"}, Left: map[string]bool{"a.jpg": true}})
	seen := 0
	for at, file := range s.now {
		if !strings.HasSuffix(at, ".jpg") || at == "other.jpg" {
			continue
		}
		seen++
		m, err := jpeg.Decode(bytes.NewReader(file.Data))
		require.NoError(t, err, at)
		size := m.Bounds().Size()
		for _, p := range [][2]float64{{0.36, 0.28}, {0.5, 0.5}, {0.64, 0.72}} {
			r, g, b, _ := m.At(int(p[0]*float64(size.X)), int(p[1]*float64(size.Y))).RGBA()
			assert.InDeltaSlice(t, []float64{200, 0, 0}, []float64{float64(r >> 8), float64(g >> 8), float64(b >> 8)}, 12, "%s at %v", at, p)
		}
	}
	assert.GreaterOrEqual(t, seen, 4, "both, the new name and cuts: %v", slices.Sorted(maps.Keys(s.now)))
	assert.NotContains(t, s.outcomes["other.jpg"].Kinds, mend.Covered)
	assert.Contains(t, s.outcomes["copy.jpg"].Kinds, mend.Covered)

	found, err := survey.Read(t.Context(), s.was, survey.Options{})
	require.NoError(t, err)
	for _, wrong := range []mend.Covering{
		func() (*raster.Source, error) { return nil, errors.New("it is away") },
		func() (*raster.Source, error) { return raster.FromImage(image.NewGray(image.Rect(0, 0, 90, 60))), nil },
	} {
		plan, err := mend.New(t.Context(), s.was, found, mend.Choices{Covered: map[string]mend.Covering{"a.jpg": wrong}})
		require.NoError(t, err)
		to := memory{s.was, fstest.MapFS{}}
		_, err = plan.Write(t.Context(), s.was, found, raster.Limits{}, to, nil)
		assert.ErrorContains(t, err, "a.jpg cannot be covered")
		assert.NotContains(t, to.to, "a.jpg")
	}
}
