package motion_test

import (
	"crypto/sha256"
	"encoding/binary"
	"image"
	"image/color"
	"math/rand/v2"
	"testing"
	"time"

	"mivlet/core/motion"
	"mivlet/internal/pinned"
)

// reel is a film by chance: boxes that wander, noise, gradients and holes, of few colours or many.
func reel(seed uint64) motion.Film {
	n := rand.New(rand.NewPCG(seed, 5))
	w, h := 1+n.IntN(60), 1+n.IntN(44)
	f := motion.Film{Loop: n.IntN(4)}
	m := image.NewNRGBA(image.Rect(0, 0, w, h))
	few := color.Palette{}
	for range 1 + n.IntN(300) {
		few = append(few, color.NRGBA{byte(n.Uint32()), byte(n.Uint32()), byte(n.Uint32()), 255})
	}
	clear := n.IntN(3) == 0
	if !clear {
		paint(m, m.Rect, few[0])
	}
	for i := range 2 + n.IntN(5) {
		switch n.IntN(5) {
		case 0:
			x, y := n.IntN(w), n.IntN(h)
			paint(m, image.Rect(x, y, x+1+n.IntN(w), y+1+n.IntN(h)), few[n.IntN(len(few))])
		case 1:
			for range 1 + n.IntN(200) {
				m.Set(n.IntN(w), n.IntN(h), few[n.IntN(len(few))])
			}
		case 2:
			for y := range h {
				for x := range w {
					m.SetNRGBA(x, y, color.NRGBA{byte(255 * x / w), byte(255 * y / h), byte(40 * i), 255})
				}
			}
		case 3:
			if clear {
				paint(m, image.Rect(n.IntN(w), n.IntN(h), w, h), color.NRGBA{})
			}
		}
		frame := image.NewNRGBA(m.Rect)
		copy(frame.Pix, m.Pix)
		f.Frames, f.Delays = append(f.Frames, frame), append(f.Delays, time.Duration(n.IntN(3000))*time.Millisecond/10)
	}
	return f
}

// standIn stands for an encoder, which may be another one on the next machine: its file tells what it
// was given.
func standIn(m image.Image) ([]byte, error) {
	b := m.Bounds()
	sum := sha256.New()
	for y := b.Min.Y; y < b.Max.Y; y++ {
		for x := b.Min.X; x < b.Max.X; x++ {
			c := color.NRGBAModel.Convert(m.At(x, y)).(color.NRGBA)
			sum.Write([]byte{c.R, c.G, c.B, c.A})
		}
	}
	body := sum.Sum([]byte{byte(b.Dx()), byte(b.Dy())})
	chunk := append(binary.LittleEndian.AppendUint32([]byte("VP8L"), uint32(len(body))), body...)
	return append(binary.LittleEndian.AppendUint32([]byte("RIFF"), uint32(4+len(chunk))), append([]byte("WEBP"), chunk...)...), nil
}

// What a film weighs hangs on many limits that no standard states.
func TestFilmsAsBefore(t *testing.T) {
	t.Parallel()
	pinned.Hold(t, "gif", 120, func(seed uint64) any {
		data, err := reel(seed).GIF(int(seed % 3 * 4))
		if err != nil {
			t.Fatal(err)
		}
		bare, err := motion.Bare(data)
		if err != nil {
			t.Fatal(err)
		}
		return [][]byte{data, bare}
	})
	pinned.Hold(t, "webp", 60, func(seed uint64) any {
		data, err := reel(seed).WebP(standIn)
		if err != nil {
			t.Fatal(err)
		}
		return data
	})
}
