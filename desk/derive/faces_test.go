package derive_test

import (
	"bytes"
	"image"
	"image/draw"
	"image/jpeg"
	"os"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	scaled "golang.org/x/image/draw"

	"mivlet/core/facts"
	"mivlet/core/raster"
	"mivlet/desk/derive"
)

// Faces are found in the working copy as they would be in the picture: here people who fill the third of a photo of 3,000
// pixels, so that their faces are some 70 pixels wide in it and 40 in the copy. The photos are samples of the
// package that the net's weights come from; where the faces of this one are was counted.
func TestFacesAreFoundInTheWorkingCopy(t *testing.T) {
	t.Parallel()
	if testing.Short() {
		t.Skip("slow")
	}
	f, err := os.Open("../../core/face/reference/node_modules/@vladmandic/face-api/demo/sample5.jpg")
	require.NoError(t, err, "scripts/test fetches the sample photos")
	defer f.Close()
	sample, err := jpeg.Decode(f)
	require.NoError(t, err)
	const width = 1000
	by := float64(width) / float64(sample.Bounds().Dx())
	middles := []image.Point{{865, 213}, {1191, 316}, {1488, 525}, {680, 538}, {462, 1009}}

	photo := image.NewRGBA(image.Rect(0, 0, 3000, 2000))
	draw.Draw(photo, photo.Rect, image.White, image.Point{}, draw.Src)
	at := image.Rect(0, 0, width, int(by*float64(sample.Bounds().Dy()))).Add(image.Pt(1234, 567))
	scaled.CatmullRom.Scale(photo, at, sample, sample.Bounds(), draw.Src, nil)
	var file bytes.Buffer
	require.NoError(t, jpeg.Encode(&file, photo, &jpeg.Options{Quality: 90}))
	known, err := facts.Read(bytes.NewReader(file.Bytes()))
	require.NoError(t, err)
	whole := known.Upright()
	src, err := raster.DecodeFor(bytes.NewReader(file.Bytes()), known, raster.Limits{}, derive.ForCopies(whole))
	require.NoError(t, err)

	all := derive.FindFaces(src.Glance(derive.CopySize(whole)), whole)
	assert.Len(t, all, len(middles))
	for _, m := range middles {
		m = image.Pt(int(by*float64(m.X)), int(by*float64(m.Y))).Add(at.Min)
		found := false
		for _, one := range all {
			found = found || m.In(one.Bounds) && one.Bounds.Dx() < 200 && one.Bounds.Dy() < 250
		}
		assert.True(t, found, "one about %v", m)
	}
}
