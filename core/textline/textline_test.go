package textline_test

import (
	"encoding/csv"
	"image"
	"os"
	"strconv"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"mivlet/core/facts"
	"mivlet/core/fit"
	"mivlet/core/raster"
	"mivlet/core/textline"
	"mivlet/internal/reference"
)

func pixels(t *testing.T, path string) image.Image {
	t.Helper()
	s := decoded(t, path)
	return s.Glance(s.Upright()).Image()
}

func decoded(t *testing.T, path string) *raster.Source {
	t.Helper()
	f, err := os.Open(path)
	require.NoError(t, err)
	defer f.Close()
	known, err := facts.Read(f)
	require.NoError(t, err)
	s, err := raster.Decode(f, known, raster.Limits{Side: 1 << 15, Pixels: 1 << 28, Bytes: 1 << 30})
	require.NoError(t, err)
	return s
}

// looked is a photo as the desk looks at it: brought down to a working copy.
func looked(t *testing.T, path string) image.Image {
	t.Helper()
	s := decoded(t, path)
	size := s.Upright()
	if max(size.W, size.H) > 1600 {
		size = fit.Inside(size, fit.Size{W: 1600, H: 1600})
	}
	return s.Glance(size).Image()
}

// Held against a program that reads text: where it is sure of a word of some
// letters, a line is found.
func TestLinesAgainstAReader(t *testing.T) {
	t.Parallel()
	const picture = "../../demo/pictures/Screenshot 2026-11-02.png"
	table := csv.NewReader(strings.NewReader(reference.Output(t, "tesseract", picture, "stdout", "--psm", "11", "tsv")))
	table.Comma, table.LazyQuotes, table.FieldsPerRecord = '\t', true, -1
	rows, err := table.ReadAll()
	require.NoError(t, err)
	found := textline.Find(pixels(t, picture))
	words, missed := 0, []string{}
	for _, row := range rows[1:] {
		sure, _ := strconv.ParseFloat(row[10], 64)
		if len(row) < 12 || sure < 80 || len(strings.TrimSpace(row[11])) < 4 {
			continue
		}
		var n [4]int
		for i := range n {
			n[i], err = strconv.Atoi(row[6+i])
			require.NoError(t, err)
		}
		word := image.Rect(n[0], n[1], n[0]+n[2], n[1]+n[3])
		words++
		in := 0
		for _, l := range found {
			both := l.Bounds.Intersect(word)
			in = max(in, both.Dx()*both.Dy())
		}
		if in*100 < word.Dx()*word.Dy()*80 {
			missed = append(missed, row[11])
		}
	}
	require.Greater(t, words, 25, "the reader reads the rota")
	assert.LessOrEqual(t, len(missed)*20, words, "at most one word in twenty is missed: %v", missed)
}

func TestNumbersLookLikeNumbers(t *testing.T) {
	t.Parallel()
	numbers := 0
	for _, l := range textline.Find(pixels(t, "../../demo/pictures/Screenshot 2026-11-02.png")) {
		if l.Figures {
			numbers++
		}
	}
	assert.GreaterOrEqual(t, numbers, 6, "six telephone numbers")
}

func TestNoTextWhereThereIsNone(t *testing.T) {
	t.Parallel()
	plain := image.NewRGBA(image.Rect(0, 0, 400, 300))
	assert.Empty(t, textline.Find(plain))
	assert.Empty(t, textline.Find(image.NewRGBA(image.Rect(0, 0, 1, 1))))
	for x := range 400 {
		for y := range 300 {
			plain.Pix[plain.PixOffset(x, y)] = uint8(x / 2)
			plain.Pix[plain.PixOffset(x, y)+3] = 255
		}
	}
	assert.Empty(t, textline.Find(plain), "a gradient")
}
