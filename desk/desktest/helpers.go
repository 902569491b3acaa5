package desktest

import (
	"bytes"
	"image"
	"image/color"
	"image/draw"
	"io"
	"math/rand/v2"
	"os"
	"testing"

	"github.com/stretchr/testify/require"

	"mivlet/core/facts"
	"mivlet/core/raster"
	"mivlet/core/rules"
	"mivlet/core/veil"
	"mivlet/desk"
	"mivlet/desk/access"
	"mivlet/desk/derive"
	"mivlet/store"
)

// PixelsOf decodes what was made for a screen.
func PixelsOf(t *testing.T, f derive.File) *raster.Source {
	t.Helper()
	defer f.Close()
	data, err := io.ReadAll(f)
	require.NoError(t, err)
	known, err := facts.Read(bytes.NewReader(data))
	require.NoError(t, err)
	s, err := raster.Decode(bytes.NewReader(data), known, raster.Limits{Side: 1 << 15, Pixels: 1 << 28, Bytes: 1 << 30})
	require.NoError(t, err)
	return s
}

// DemoFile is a picture of the demo as it lies on the card.
func DemoFile(t *testing.T, name string) []byte {
	t.Helper()
	data, err := os.ReadFile("../../demo/pictures/" + name)
	require.NoError(t, err)
	return data
}

// AsRefusal returns the refusal that an error is.
func AsRefusal(err error) (*access.Refusal, bool) {
	r, ok := err.(*access.Refusal)
	return r, ok
}

// Setting changes one figure of the rules, as somebody would type it.
func Setting(path, value string) func(rules.Rules) (rules.Rules, error) {
	return func(r rules.Rules) (rules.Rules, error) { return r.Set(path, value) }
}

// TwoPeople are two people of juniors, each at a desk of their own.
func (b *Fixture) TwoPeople() (ines, odo *desk.Desk) {
	b.T.Helper()
	var desks []*desk.Desk
	for _, name := range []string{"Ines", "Odo"} {
		p := store.Person{Name: name, Login: name, CreatedAt: b.now, Roles: []store.Role{{Section: "juniors", Role: "publisher"}}}
		require.NoError(b.T, b.Kept.SavePerson(&p))
		who, ok, err := b.People.Returning(p.ID, 0)
		require.NoError(b.T, err)
		require.True(b.T, ok)
		desks = append(desks, b.As(who))
	}
	return desks[0], desks[1]
}

// BoxVeil is a veil over a number, in pixels.
func BoxVeil(x, y, w, h int) veil.Veil {
	return veil.Veil{Shape: veil.Rect, Bounds: image.Rect(x, y, x+w, y+h), Style: veil.Cover, Reason: veil.Number}
}

// HiddenAt is where the two scenes of a picture differ, in pixels.
var HiddenAt = image.Rect(480, 240, 720, 300)

// Scene is a picture with something written at HiddenAt; which says what.
func Scene(which int) *image.RGBA {
	noise := rand.New(rand.NewPCG(3, 3))
	m := image.NewRGBA(image.Rect(0, 0, 1350, 720))
	for i := range m.Pix {
		m.Pix[i] = uint8(180+noise.IntN(20)) | 3*uint8(i%4/3)*85
	}
	for x := HiddenAt.Min.X; x < HiddenAt.Max.X; x += 15 {
		stroke := image.Rect(x, HiddenAt.Min.Y, x+3+which*7, HiddenAt.Max.Y)
		draw.Draw(m, stroke, image.NewUniform(color.RGBA{20, uint8(which * 200), 40, 255}), image.Point{}, draw.Src)
	}
	return m
}

// FilesLive are the files that visitors get of the page.
func (b *Fixture) FilesLive() []store.Published {
	b.T.Helper()
	files, err := b.Kept.FilesOf(b.PageID)
	require.NoError(b.T, err)
	return files
}

// Elsewhere is the desk of somebody who works for another section alone.
func (b *Fixture) Elsewhere() *desk.Desk {
	b.T.Helper()
	p := store.Person{Name: "Odo Elsewhere", Login: "elsewhere", CreatedAt: b.Time(), Roles: []store.Role{{Section: "touring", Role: "publisher"}}}
	require.NoError(b.T, b.Kept.SavePerson(&p))
	who, ok, err := b.People.Returning(p.ID, 0)
	require.NoError(b.T, err)
	require.True(b.T, ok)
	return b.As(who)
}
