package facts_test

import (
	"bytes"
	"image"
	"image/color"
	"image/gif"
	"image/jpeg"
	"image/png"
	"os"
	"path/filepath"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"mivlet/core/facts"
	"mivlet/core/fit"
)

func demo(t *testing.T, name string) facts.Facts {
	t.Helper()
	f, err := os.Open(filepath.Join("../../demo/pictures", name))
	require.NoError(t, err)
	defer f.Close()
	got, err := facts.Read(f)
	require.NoError(t, err)
	return got
}

// The values were written into the files with exiftool.
func TestCameraFile(t *testing.T) {
	f := demo(t, "DSC_0417.JPG")
	assert.Equal(t, "image/jpeg", f.MediaType)
	assert.Equal(t, fit.Size{W: 6000, H: 4000}, f.Upright())
	assert.Equal(t, time.Date(2026, 9, 12, 8, 41, 7, 0, time.UTC), f.Taken)
	assert.Equal(t, "BO-24", f.Camera)
	assert.Equal(t, "Ines Varrow", f.Credit)
	assert.True(t, f.Position)
	assert.True(t, f.Thumbnail)
	assert.Equal(t, 1, f.Frames)
}

func TestPhotoStoredOnItsSide(t *testing.T) {
	f := demo(t, "DSC_0421.JPG")
	assert.Equal(t, facts.Turn90Clockwise, f.Orientation)
	assert.Equal(t, fit.Size{W: 4000, H: 3000}, f.Stored)
	assert.Equal(t, fit.Size{W: 3000, H: 4000}, f.Upright())
	assert.True(t, f.Orientation.OnSide())
}

func TestNoPositionWhereNoneWasWritten(t *testing.T) {
	f := demo(t, "IMG_2093.JPG")
	assert.False(t, f.Position)
	assert.False(t, f.Orientation.OnSide())
}

func TestFramesOfAnAnimation(t *testing.T) {
	f := demo(t, "paddle-stroke.gif")
	r, err := os.Open("../../demo/pictures/paddle-stroke.gif")
	require.NoError(t, err)
	defer r.Close()
	all, err := gif.DecodeAll(r)
	require.NoError(t, err)
	assert.Equal(t, len(all.Image), f.Frames)
	assert.Greater(t, f.Frames, 11)
}

func TestScreenshotHasNoTags(t *testing.T) {
	f := demo(t, "Screenshot 2026-11-02.png")
	assert.Equal(t, "image/png", f.MediaType)
	assert.True(t, f.Taken.IsZero())
	assert.False(t, f.Position)
}

func TestWhatIsNoPicture(t *testing.T) {
	for name, c := range map[string]struct {
		data []byte
		kind error
	}{
		"empty":                {nil, facts.ErrEmpty},
		"text named .jpg":      {[]byte("Dear club,\nplease find the photo attached.\n"), facts.ErrNotPicture},
		"PDF":                  {[]byte("%PDF-1.7\n1 0 obj\n"), facts.ErrNotPicture},
		"icon":                 {[]byte("\x00\x00\x01\x00\x01\x00\x10\x10"), facts.ErrNotTaken},
		"JPEG of three bytes":  {[]byte{0xFF, 0xD8, 0xFF}, facts.ErrDamaged},
		"PNG without a header": {[]byte("\x89PNG\r\n\x1a\n"), facts.ErrDamaged},
	} {
		_, err := facts.Read(bytes.NewReader(c.data))
		assert.ErrorIs(t, err, c.kind, name)
	}
}

// Every orientation must be undone exactly: a pixel taken upright comes from
// where the definition of the tag says (CIPA DC-008, memory).
func TestOrientationOfACorner(t *testing.T) {
	stored := fit.Size{W: 40, H: 30}
	// Where the upright top left pixel lies in the file.
	for o, want := range map[facts.Orientation]image.Point{
		1: {X: 0, Y: 0}, 2: {X: 39, Y: 0}, 3: {X: 39, Y: 29}, 4: {X: 0, Y: 29},
		5: {X: 0, Y: 0}, 6: {X: 0, Y: 29}, 7: {X: 39, Y: 29}, 8: {X: 39, Y: 0},
	} {
		assert.Equal(t, want, o.ToStored(image.Pt(0, 0), stored), "orientation %d", o)
	}
	// And the one to the right of it.
	for o, want := range map[facts.Orientation]image.Point{
		1: {X: 1, Y: 0}, 2: {X: 38, Y: 0}, 3: {X: 38, Y: 29}, 4: {X: 1, Y: 29},
		5: {X: 0, Y: 1}, 6: {X: 0, Y: 28}, 7: {X: 39, Y: 28}, 8: {X: 39, Y: 1},
	} {
		assert.Equal(t, want, o.ToStored(image.Pt(1, 0), stored), "orientation %d", o)
	}
	assert.Equal(t, image.Rect(0, 20, 5, 30), facts.Turn90Clockwise.RectToStored(image.Rect(0, 0, 10, 5), stored))
}

func FuzzRead(f *testing.F) {
	m := image.NewRGBA(image.Rect(0, 0, 4, 3))
	m.Set(1, 1, color.White)
	for _, encode := range []func(*bytes.Buffer) error{
		func(b *bytes.Buffer) error { return jpeg.Encode(b, m, nil) },
		func(b *bytes.Buffer) error { return png.Encode(b, m) },
		func(b *bytes.Buffer) error { return gif.Encode(b, m, nil) },
	} {
		var b bytes.Buffer
		if err := encode(&b); err != nil {
			f.Fatal(err)
		}
		f.Add(b.Bytes())
		f.Add(b.Bytes()[:b.Len()/2])
	}
	f.Add([]byte("RIFF\x40\x00\x00\x00WEBPVP8X\x0a\x00\x00\x00\x12\x00\x00\x00\x03\x00\x00\x02\x00\x00ANIM\x06\x00\x00\x00\x00\x00\x00\x00\x02\x00ANMF\x10\x00\x00\x00\x00\x00\x00\x00\x00\x00\x03\x00\x00\x02\x00\x00\x50\x00\x00\x02"))
	f.Add([]byte("\x00\x00\x00\x18ftypavif\x00\x00\x00\x00avifmif1\x00\x00\x00\x39meta\x00\x00\x00\x00\x00\x00\x00\x2diprp\x00\x00\x00\x25ipco\x00\x00\x00\x14ispe\x00\x00\x00\x00\x00\x00\x00\x04\x00\x00\x00\x03\x00\x00\x00\x09irot\x01"))
	f.Add([]byte(`<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 40 30"/>`))
	f.Fuzz(func(t *testing.T, data []byte) {
		got, err := facts.Read(bytes.NewReader(data))
		if err == nil && (got.Upright().Empty() || got.Frames < 1) {
			t.Fatalf("facts without a picture: %+v", got)
		}
	})
}

// What a finished file carries can be asked of any bytes.
func FuzzExtras(f *testing.F) {
	f.Add([]byte("\xff\xd8\xff\xe1\x00\x08Exif\x00\x00\xff\xda"))
	f.Add([]byte("\x89PNG\r\n\x1a\n\x00\x00\x00\x00tEXt\x00\x00\x00\x00"))
	f.Fuzz(func(_ *testing.T, data []byte) { facts.Extras(data) })
}
