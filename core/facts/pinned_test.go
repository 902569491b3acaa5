package facts_test

import (
	"bytes"
	"image"
	"math/rand/v2"
	"os"
	"path/filepath"
	"testing"

	"github.com/stretchr/testify/require"

	"mivlet/core/facts"
	"mivlet/core/fit"
	"mivlet/internal/pinned"
)

// ordinary are files of all kinds, as programs and cameras write them.
func ordinary(t *testing.T) (all [][]byte) {
	t.Helper()
	small, err := filepath.Glob("testdata/ordinary/*") // made once by Go's encoders, libwebp and libavif
	require.NoError(t, err)
	require.Len(t, small, 9)
	for _, name := range small {
		data, err := os.ReadFile(name)
		require.NoError(t, err)
		all = append(all, data)
	}
	for _, name := range []string{"DSC_0417.JPG", "IMG_2088.JPG", "kettle.gif", "Logo NEW.png", "pool nights.png"} {
		data, err := os.ReadFile("../../demo/pictures/" + name)
		require.NoError(t, err)
		all = append(all, data[:min(len(data), 60_000)])
	}
	return append(all, []byte("RIFF\x40\x00\x00\x00WEBPVP8X\x0a\x00\x00\x00\x12\x00\x00\x00\x03\x00\x00\x02\x00\x00ANIM\x06\x00\x00\x00\x00\x00\x00\x00\x02\x00ANMF\x10\x00\x00\x00\x00\x00\x00\x00\x00\x00\x03\x00\x00\x02\x00\x00\x50\x00\x00\x02"),
		[]byte("\x00\x00\x00\x18ftypavif\x00\x00\x00\x00avifmif1\x00\x00\x00\x39meta\x00\x00\x00\x00\x00\x00\x00\x2diprp\x00\x00\x00\x25ipco\x00\x00\x00\x14ispe\x00\x00\x00\x00\x00\x00\x00\x04\x00\x00\x00\x03\x00\x00\x00\x09irot\x01"),
		[]byte(`<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 40 30"/>`))
}

// What is told of files stays as it was, also of those in which something was changed by chance: a byte or
// some, near the beginning or anywhere, or the end that is missing.
func TestFilesByChance(t *testing.T) {
	t.Parallel()
	files := ordinary(t)
	pinned.Hold(t, "files", 2400, func(seed uint64) any {
		n := rand.New(rand.NewPCG(seed, 71))
		data := bytes.Clone(files[int(seed)%len(files)])
		if seed >= uint64(len(files)) { // the first of each kind is as it is
			within := len(data)
			if n.IntN(3) > 0 {
				within = min(within, 120)
			}
			for range 1 + n.IntN(3) {
				at := n.IntN(within)
				switch n.IntN(4) {
				case 0:
					data[at] = byte(n.Uint32())
				case 1:
					data[at]++
				case 2:
					data[at]--
				case 3:
					data[at] = []byte{0, 1, 0x7f, 0x80, 0xff}[n.IntN(5)]
				}
			}
			if n.IntN(5) == 0 {
				data = data[:n.IntN(len(data))]
			}
		}
		known, err := facts.Read(bytes.NewReader(data))
		says := ""
		if err != nil {
			says = err.Error()
		}
		mediaType, _ := facts.MediaType(bytes.NewReader(data))
		icc, named := facts.Profile(bytes.NewReader(data), mediaType)
		page := 0
		if second, err := facts.TIFFPage(bytes.NewReader(data), 2); err == nil && second != nil {
			page = 2
		}
		return []any{known, says, mediaType, len(icc), named, facts.Extras(data), page, known.Upright(), known.Decoded(), known.HDR(), known.KeepsMotion()}
	})
	pinned.Hold(t, "cuts", len(files), func(seed uint64) any {
		var all []any
		for cut := range min(len(files[seed]), 400) {
			data := files[seed][:cut]
			known, err := facts.Read(bytes.NewReader(data))
			icc, named := facts.Profile(bytes.NewReader(data), known.MediaType)
			all = append(all, known.MediaType, known.Stored, known.CutOff, err == nil, len(icc), named, facts.Extras(data))
		}
		return all
	})
	pinned.Hold(t, "turns", 100, func(seed uint64) any {
		n := rand.New(rand.NewPCG(seed, 72))
		a, b := facts.Orientation(n.IntN(10)), facts.Orientation(1+n.IntN(8))
		of := fit.Size{W: 3 + n.IntN(9), H: 2 + n.IntN(9)}
		at := image.Pt(n.IntN(of.W), n.IntN(of.H))
		r := image.Rect(0, 0, 1+n.IntN(of.W), 1+n.IntN(of.H))
		return []any{b.Then(facts.Orientation(1 + n.IntN(8))), b.ToStored(at, of), b.RectToStored(r, of), a == b}
	})
}
