package tesseract

import (
	"image"
	"os"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"mivlet/core/facts"
	"mivlet/core/fit"
	"mivlet/core/raster"
)

// A table as the program writes it: words of one line belong together, what it is unsure of
// is left out, and so is what is no word.
func TestLinesOfATable(t *testing.T) {
	table := strings.Join([]string{
		"level\tpage_num\tblock_num\tpar_num\tline_num\tword_num\tleft\ttop\twidth\theight\tconf\ttext",
		"4\t1\t1\t1\t1\t0\t10\t20\t90\t12\t-1\t",
		"5\t1\t1\t1\t1\t1\t10\t20\t40\t12\t95.5\tFlood",
		"5\t1\t1\t1\t1\t2\t55\t21\t45\t12\t91\tgate",
		"5\t1\t1\t1\t2\t1\t10\t40\t30\t12\t12\tnoise",
		"5\t1\t1\t1\t3\t1\t10\t60\t30\t12\t60\t\"late",
		"5\t1\t1\t1\t3\t2\t45\t60\t30\t12\t96\tboat\"",
	}, "\n")
	got := lines([]byte(table))
	require.Len(t, got, 2)
	assert.Equal(t, "Flood gate", got[0].Text)
	assert.Equal(t, image.Rect(10, 20, 100, 33), got[0].Bounds)
	assert.Equal(t, `"late boat"`, got[1].Text, "quotes are words' own")
	assert.Empty(t, lines([]byte("nothing")))
}

// The demo's screenshot is read, at the places where its words stand.
func TestReadingAScreenshot(t *testing.T) {
	require.True(t, Reader{}.Ready(), "scripts/test installs it")
	f, err := os.Open("../../demo/pictures/Screenshot 2026-11-02.png")
	require.NoError(t, err)
	defer f.Close()
	known, err := facts.Read(f)
	require.NoError(t, err)
	src, err := raster.Decode(f, known, raster.Limits{})
	require.NoError(t, err)
	m := src.Glance(fit.Inside(src.Upright(), fit.Size{W: 1600, H: 1600})).Image()
	found := false
	for _, l := range (Reader{Patience: time.Minute}).Read(m) {
		assert.True(t, l.Bounds.In(m.Bounds()), "%v", l)
		found = found || strings.Contains(l.Text, "odo.tamsin@brindlemere.example")
	}
	assert.True(t, found)
}
