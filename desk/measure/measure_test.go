package measure_test

import (
	"bytes"
	"image"
	"image/color"
	"image/png"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"mivlet/desk/access"
	"mivlet/desk/desktest"
)

// shot is a screenshot of a page whose column of 640 CSS px is grey, at two device px each.
func shot(t *testing.T) []byte {
	t.Helper()
	m := image.NewRGBA(image.Rect(0, 0, 1600, 900))
	for y := range 900 {
		for x := range 1600 {
			c := color.RGBA{255, 255, 255, 255}
			if x >= 160 && x < 1440 {
				c = color.RGBA{120, 120, 120, 255}
			}
			m.SetRGBA(x, y, c)
		}
	}
	var b bytes.Buffer
	require.NoError(t, png.Encode(&b, m))
	return b.Bytes()
}

// A column is found on a screenshot, its width is kept, and a width that somebody knows
// sets the scale.
func TestAColumnIsMeasured(t *testing.T) {
	t.Parallel()
	b := desktest.Fresh(t)
	sheet, err := b.Measure.AddSheet("The club's page", bytes.NewReader(shot(t)), 2)
	require.NoError(t, err)
	assert.Equal(t, []any{1600, 900, 2.0}, []any{sheet.Width, sheet.Height, sheet.Scale})
	columns, err := b.Measure.FindColumns(sheet.ID)
	require.NoError(t, err)
	require.Len(t, columns, 1)
	assert.Equal(t, 1280, columns[0].Width())
	require.NoError(t, b.Measure.AddReading(sheet.ID, false, 160, 1440, "Column"))
	sheet, err = b.Measure.Sheet(sheet.ID)
	require.NoError(t, err)
	require.Len(t, sheet.Readings, 1)
	require.NoError(t, b.Measure.SetScale(sheet.ID, 0, sheet.Readings[0].ID, 1280))
	sheet, err = b.Measure.Sheet(sheet.ID)
	require.NoError(t, err)
	assert.Equal(t, 1.0, sheet.Scale, "1280 device px are 1280 CSS px")
	lines, err := b.Measure.SheetLines(sheet.ID)
	require.NoError(t, err)
	assert.Len(t, lines.Upright, 2)
	f, err := b.Measure.SheetImage(sheet.ID)
	require.NoError(t, err)
	assert.Equal(t, image.Pt(1600, 900), image.Pt(desktest.PixelsOf(t, f).Upright().W, 900))
	require.NoError(t, b.Measure.DropReading(sheet.ID, sheet.Readings[0].ID))
	require.NoError(t, b.Measure.DropSheet(sheet.ID))
	_, err = b.Measure.Sheet(sheet.ID)
	desktest.Refusal(t, err, access.Missing, "")
}

func TestWhatCannotBeMeasured(t *testing.T) {
	t.Parallel()
	b := desktest.Fresh(t)
	_, err := b.Measure.AddSheet("x", bytes.NewReader([]byte("no picture")), 2)
	assert.Error(t, err)
	sheet, err := b.Measure.AddSheet("x", bytes.NewReader(shot(t)), 2)
	require.NoError(t, err)
	desktest.Refusal(t, b.Measure.SetScale(sheet.ID, 9, 0, 0), access.Bad, "between 0.5 and 8")
	for _, edges := range [][2]int{{5, 5}, {-1, 5}, {5, 1601}} {
		assert.Error(t, b.Measure.AddReading(sheet.ID, false, edges[0], edges[1], "x"), "%v", edges)
	}
	all, err := b.Measure.Sheets()
	require.NoError(t, err)
	require.Len(t, all, 1)
	assert.Empty(t, all[0].Readings)
}
