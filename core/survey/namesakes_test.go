package survey_test

import (
	"bytes"
	"encoding/json"
	"image"
	"image/color"
	"image/jpeg"
	"math"
	"testing"
	"testing/fstest"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"golang.org/x/image/draw"

	"mivlet/core/survey"
)

// drawn is an invented picture that is not flat; each number gives another one.
func drawn(t *testing.T, n float64, w, h int) *fstest.MapFile {
	t.Helper()
	m := image.NewRGBA(image.Rect(0, 0, 900, 600))
	for y := range 600 {
		for x := range 900 {
			v := math.Sin(n*float64(x)/97) + math.Cos(float64(y)/(31*n)) + math.Sin(float64(x*y)/(40000*n))
			m.SetRGBA(x, y, color.RGBA{uint8(128 + 40*v), uint8(90 + 30*v), uint8(128 - 40*v), 255})
		}
	}
	small := image.NewRGBA(image.Rect(0, 0, w, h))
	draw.CatmullRom.Scale(small, small.Rect, m, m.Rect, draw.Src, nil)
	var out bytes.Buffer
	require.NoError(t, jpeg.Encode(&out, small, nil))
	return &fstest.MapFile{Data: out.Bytes()}
}

// Two pictures that are described alike are told from one picture that is there in two sizes: by their looks, and by
// names that tell no more than sizes.
func TestOnePictureInTwoSizesIsDescribedOnce(t *testing.T) {
	t.Parallel()
	const two = `<!doctype html><html lang="en"><title>Pier</title><p><img src="%s" alt="Two boats lie at the pier" width="300" height="200"></p><p><img src="%s" alt="Two boats lie at the pier" width="150" height="100"></p>`
	for _, c := range []struct {
		name, a, b string
		files      fstest.MapFS
		told       bool
	}{
		{"the same in two sizes", "big.jpg", "little.jpg", fstest.MapFS{"big.jpg": drawn(t, 1, 600, 400), "little.jpg": drawn(t, 1, 300, 200)}, false},
		{"another one", "big.jpg", "little.jpg", fstest.MapFS{"big.jpg": drawn(t, 1, 600, 400), "little.jpg": drawn(t, 2.3, 300, 200)}, true},
		{"a part of it, named by its sizes", "pier-600-0a1b2c3d4e5f.jpg", "pier-300-9f8e7d6c5b4a.jpg", fstest.MapFS{"pier-600-0a1b2c3d4e5f.jpg": drawn(t, 1, 600, 400), "pier-300-9f8e7d6c5b4a.jpg": drawn(t, 2.3, 300, 100)}, false},
		{"numbers that are no sizes", "pier-1.jpg", "pier-2.jpg", fstest.MapFS{"pier-1.jpg": drawn(t, 1, 600, 400), "pier-2.jpg": drawn(t, 2.3, 600, 400)}, true},
		{"camera's numbers", "IMG_2041.jpg", "IMG_2042.jpg", fstest.MapFS{"IMG_2041.jpg": drawn(t, 1, 600, 400), "IMG_2042.jpg": drawn(t, 2.3, 600, 400)}, true},
		{"for finer screens", "pier.jpg", "pier@2x.jpg", fstest.MapFS{"pier.jpg": drawn(t, 1, 300, 200), "pier@2x.jpg": drawn(t, 2.3, 600, 300)}, false},
	} {
		page := bytes.Replace(bytes.Replace([]byte(two), []byte("%s"), []byte(c.a), 1), []byte("%s"), []byte(c.b), 1)
		c.files["index.html"] = &fstest.MapFile{Data: page}
		found, err := survey.Read(t.Context(), c.files, survey.Options{})
		require.NoError(t, err)
		told := false
		for _, f := range found.Findings() {
			told = told || f.Code == "alt-same-as-other"
		}
		assert.Equal(t, c.told, told, c.name)
	}
}

// A small file that a page offers together with a larger one is not stretched: a browser takes the other one.
func TestWhatIsOfferedWithALargerOneIsNotStretched(t *testing.T) {
	t.Parallel()
	for page, want := range map[string]bool{
		`<img src="a-200.jpg" width="600" height="400" alt="Two boats lie at the pier">`:                                                              true,
		`<img src="a-200.jpg" srcset="a-200.jpg 200w, a-900.jpg 900w" sizes="600px" width="600" height="400" alt="Two boats lie at the pier">`:        false,
		`<picture><source srcset="a-900.jpg"><img src="a-200.jpg" width="600" height="400" alt="Two boats lie at the pier"></picture>`:                false,
		`<img src="a-200.jpg" srcset="a-200.jpg 200w, a-100.jpg 100w" sizes="600px" width="600" height="400" alt="Two boats lie at the pier">`:        true,
		`<img src="a-200.jpg" srcset="a-900.jpg 900w" sizes="9px" width="600" height="400" alt="Two boats"><img src="a-200.jpg" width="600" alt="B">`: true,
	} {
		files := fstest.MapFS{"index.html": {Data: []byte(`<!doctype html><html lang="en"><title>Pier</title>` + page)}, "a-200.jpg": drawn(t, 1, 200, 133), "a-900.jpg": drawn(t, 1, 900, 600), "a-100.jpg": drawn(t, 1, 100, 66)}
		found, err := survey.Read(t.Context(), files, survey.Options{})
		require.NoError(t, err)
		told := false
		for _, f := range found.Findings() {
			told = told || f.Code == survey.Enlarged && f.Picture == "a-200.jpg"
		}
		assert.Equal(t, want, told, page)
	}
}

// A finding that was kept is what it was.
func TestFindingsAreKeptWhole(t *testing.T) {
	t.Parallel()
	f := survey.Finding{Code: survey.FarTooLarge, Level: "warn", Picture: "a.jpg", Values: []any{4000, 640, "x", 0.5}, Times: 2, Cost: survey.Cost{Bytes: 9, Seconds: 1.5, Pages: 3}}
	data, err := json.Marshal(f)
	require.NoError(t, err)
	var got survey.Finding
	require.NoError(t, json.Unmarshal(data, &got))
	assert.Equal(t, f, got)
	assert.Error(t, json.Unmarshal([]byte(`{"code": 3}`), &got))
}
