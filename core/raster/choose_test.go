package raster_test

import (
	"image"
	"image/color"
	"image/draw"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"mivlet/core/fit"
	"mivlet/core/raster"
)

// sizes returns a picture at one and two densities, with the format that the smaller one decides on.
func sizes(t *testing.T, at func(scale int) image.Image, o raster.Options) (one, two raster.Encoded) {
	t.Helper()
	one, err := raster.Encode(at(1), o)
	require.NoError(t, err)
	two, err = raster.Encode(at(2), o.AsThis(one))
	require.NoError(t, err)
	assert.Equal(t, one.MediaType, two.MediaType, "all sizes have one format")
	return one, two
}

// A photo on white has flat areas, and still is many times lighter as a JPEG.
func TestAPhotoOnWhiteIsAJPEG(t *testing.T) {
	s := fromFile(t, "../../demo/pictures/IMG_2101.JPG")
	one, two := sizes(t, func(scale int) image.Image {
		m := image.NewRGBA(image.Rect(0, 0, 400*scale, 300*scale))
		draw.Draw(m, m.Rect, image.White, image.Point{}, draw.Src)
		photo := s.Cut(s.Upright().Rect(), fit.Size{W: 220 * scale, H: 176 * scale})
		draw.Draw(m, image.Rect(90*scale, 60*scale, 310*scale, 236*scale), photo, image.Point{}, draw.Src)
		return m
	}, raster.Options{})
	assert.Equal(t, "image/jpeg", one.MediaType)
	assert.Equal(t, "JPEG, because it looks the same and is lighter than PNG.", one.Why)
	assert.Equal(t, one.Why, two.Why)
	require.Len(t, one.Tried, 2)
	assert.Equal(t, raster.PNG, one.Tried[0].Format)
	assert.Greater(t, one.Tried[0].Bytes, 4*one.Tried[1].Bytes)
	assert.Equal(t, len(one.Data), one.Tried[1].Bytes)
	assert.GreaterOrEqual(t, one.SSIM, 0.988, "what is lost beside flat areas is seen sooner")
}

// A gradient has few neighbours that are the same in one size, and many in another.
func TestAGradientHasOneFormat(t *testing.T) {
	at := func(scale int) image.Image {
		m := image.NewRGBA(image.Rect(0, 0, 500*scale, 300*scale))
		for y := range 300 * scale {
			for x := range 500 * scale {
				m.SetRGBA(x, y, color.RGBA{R: uint8(x * 255 / (500 * scale)), G: uint8(y * 255 / (300 * scale)), B: uint8((x + y) * 255 / (800 * scale)), A: 255})
			}
		}
		return m
	}
	one, two := sizes(t, at, raster.Options{})
	assert.Equal(t, "image/jpeg", one.MediaType)
	assert.Less(t, len(two.Data), 20_000)
	alone, err := raster.Encode(at(2), raster.Options{})
	require.NoError(t, err)
	assert.Equal(t, "image/png", alone.MediaType, "it would have another format by itself")
}

// Letters of a screenshot stay sharp to the pixel, though a JPEG would be lighter.
func TestAScreenshotIsAPNG(t *testing.T) {
	s := fromFile(t, "../../demo/pictures/Screenshot 2026-11-02.png")
	one, _ := sizes(t, func(scale int) image.Image { return s.Cut(s.Upright().Rect(), fit.ByWidth(s.Upright(), 720*scale)) }, raster.Options{})
	assert.Equal(t, "image/png", one.MediaType, "%+v", one.Tried)
	assert.Contains(t, one.Why, "drawn in flat colours")
}

// Of the formats that a slot allows the lightest is taken that looks as is asked; and a format that
// cannot hold the picture is not taken for that.
func TestTheLightestOfASlotsFormats(t *testing.T) {
	s := fromFile(t, "../../demo/pictures/P1040860.JPG")
	photo := s.Cut(s.Upright().Rect(), fit.ByWidth(s.Upright(), 320))
	both, err := raster.Encode(photo, raster.Options{Allowed: []raster.Format{raster.JPEG, raster.WebP}})
	require.NoError(t, err)
	assert.Equal(t, "image/webp", both.MediaType)
	assert.Equal(t, "WebP, because it looks the same and is lighter than JPEG.", both.Why)
	require.Len(t, both.Tried, 2)
	assert.Less(t, both.Tried[1].Bytes, both.Tried[0].Bytes)
	for allowed, want := range map[raster.Format]string{raster.PNG: "image/png", raster.GIF: "image/gif", raster.WebP: "image/webp"} {
		e, err := raster.Encode(photo, raster.Options{Allowed: []raster.Format{allowed}})
		require.NoError(t, err)
		assert.Equal(t, want, e.MediaType)
		assert.Contains(t, e.Why, "in a format of its slot")
	}
	without, err := raster.Encode(photo, raster.Options{Allowed: []raster.Format{raster.GIF, raster.PNG}})
	require.NoError(t, err)
	assert.Equal(t, "image/png", without.MediaType, "256 colours come last for a photo")
	clear := image.NewNRGBA(image.Rect(0, 0, 40, 40))
	e, err := raster.Encode(clear, raster.Options{Allowed: []raster.Format{raster.JPEG}})
	require.NoError(t, err)
	assert.Equal(t, "image/png", e.MediaType)
	assert.Contains(t, e.Why, "none of the formats of its slot (jpeg) can hold it")
	_, err = raster.Encode(clear, raster.Options{Format: raster.JPEG})
	assert.ErrorContains(t, err, "no transparency")
}

// A transparency that no eye sees does not choose the format; one that is seen only in a larger
// size is kept there.
func TestOnlyTransparencyThatIsSeenCounts(t *testing.T) {
	s := fromFile(t, "../../demo/pictures/P1040860.JPG")
	photo := s.Cut(s.Upright().Rect(), fit.ByWidth(s.Upright(), 200))
	m := image.NewNRGBA(photo.Bounds())
	draw.Draw(m, m.Rect, photo, image.Point{}, draw.Src)
	for i := 3; i < len(m.Pix); i += 4 {
		m.Pix[i] = uint8(252 + i/4%4)
	}
	e, err := raster.Encode(m, raster.Options{})
	require.NoError(t, err)
	assert.Equal(t, "image/jpeg", e.MediaType)
	clear := image.NewNRGBA(m.Rect)
	copy(clear.Pix, m.Pix)
	clear.Pix[3] = 0
	larger, err := raster.Encode(clear, raster.Options{}.AsThis(e))
	require.NoError(t, err)
	assert.Equal(t, "image/png", larger.MediaType)
}

// Only where a format is chosen is more asked of what is drawn: a format that was asked for is written
// as like as ever.
func TestWhatIsAskedForIsNotJudgedHarder(t *testing.T) {
	s := fromFile(t, "../../demo/pictures/Screenshot 2026-11-02.png")
	m := s.Cut(s.Upright().Rect(), fit.ByWidth(s.Upright(), 720))
	asked, err := raster.Encode(m, raster.Options{Format: raster.JPEG})
	require.NoError(t, err)
	assert.InDelta(t, raster.SameToTheEye, asked.SSIM, 0.01)
	chosen, err := raster.Encode(m, raster.Options{})
	require.NoError(t, err)
	require.Len(t, chosen.Tried, 2)
	assert.Greater(t, chosen.Tried[1].Bytes, len(asked.Data))
	assert.GreaterOrEqual(t, chosen.Tried[1].SSIM, 0.988)
}
