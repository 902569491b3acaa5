package motion_test

import (
	"bytes"
	"fmt"
	"image"
	"image/color"
	"image/draw"
	"image/gif"
	"math/rand/v2"
	"os"
	"path/filepath"
	"strings"
	"testing"
	"time"

	"github.com/gen2brain/webp"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"mivlet/core/motion"
	"mivlet/internal/reference"
)

const (
	wide = 61 // odd, so that no rectangle is even by chance
	high = 47
)

// film has frames that fill makes, one after the other on what the last one left.
func film(frames int, fill func(m *image.NRGBA, i int)) motion.Film {
	f := motion.Film{Loop: 3}
	m := image.NewNRGBA(image.Rect(0, 0, wide, high))
	for i := range frames {
		fill(m, i)
		frame := image.NewNRGBA(m.Rect)
		copy(frame.Pix, m.Pix)
		f.Frames, f.Delays = append(f.Frames, frame), append(f.Delays, time.Duration(30+10*i)*time.Millisecond)
	}
	return f
}

func paint(m *image.NRGBA, r image.Rectangle, c color.Color) {
	draw.Draw(m, r, image.NewUniform(c), image.Point{}, draw.Src)
}

// films are of every kind: by name.
var films = map[string]motion.Film{
	"a box that wanders": film(6, func(m *image.NRGBA, i int) {
		paint(m, m.Rect, color.NRGBA{220, 230, 240, 255})
		paint(m, image.Rect(5+4*i, 9+i, 20+4*i, 21+i), color.NRGBA{200, 30, 40, 255})
	}),
	"a box that wanders over nothing": film(6, func(m *image.NRGBA, i int) {
		paint(m, m.Rect, color.Transparent)
		paint(m, image.Rect(3, 30, 50, 40), color.NRGBA{0, 90, 200, 255})
		paint(m, image.Rect(5+4*i, 9+i, 20+4*i, 21+i), color.NRGBA{200, 30, 40, 255})
	}),
	"nothing at first, then many colours": film(3, func(m *image.NRGBA, i int) {
		for y := range high * i / 2 {
			for x := range wide {
				m.SetNRGBA(x, y, color.NRGBA{byte(16 * (x / 4)), byte(16 * (y / 4)), byte(90 * i), 255})
			}
		}
	}),
	"never anything": film(2, func(*image.NRGBA, int) {}),
	"what comes and goes": film(7, func(m *image.NRGBA, i int) {
		paint(m, m.Rect, color.Transparent)
		if i%2 == 1 {
			paint(m, image.Rect(40, 2, 61, 47), color.NRGBA{10, 200, 40, 255})
		}
		paint(m, image.Rect(i, i, 9+i, 9+i), color.NRGBA{uint8(30 * i), 30, 40, 255})
	}),
	"nothing changes": film(4, func(m *image.NRGBA, _ int) { paint(m, m.Rect, color.NRGBA{1, 2, 3, 255}) }),
	"colours of its own for each": film(4, func(m *image.NRGBA, i int) {
		for x := range wide {
			for y := range high {
				m.SetNRGBA(x, y, color.NRGBA{uint8(x*4 + i), uint8(64 * i), uint8(y / 16 * 60), 255})
			}
		}
	}),
	"grain of 250 colours": func() motion.Film {
		r := rand.New(rand.NewPCG(1, 2))
		return film(5, func(m *image.NRGBA, i int) {
			for y := range high {
				for x := 10 * i; x < wide; x++ {
					m.SetNRGBA(x, y, color.NRGBA{uint8(r.IntN(250)), 7, 9, 255})
				}
			}
		})
	}(),
	"one pixel": film(3, func(m *image.NRGBA, i int) {
		paint(m, m.Rect, color.NRGBA{1, 2, 3, 255})
		m.SetNRGBA(wide-1, high-1, color.NRGBA{uint8(100 * i), 0, 0, 255})
	}),
}

// A GIF of at most 255 colours shows the very frames, as image/gif reads it and ImageMagick
// composes it: both follow GIF89a, 23 (the disposal methods).
func TestGIFShowsItsFrames(t *testing.T) {
	for name, f := range films {
		t.Run(name, func(t *testing.T) {
			t.Parallel()
			data, err := f.GIF(0)
			require.NoError(t, err)
			g, err := gif.DecodeAll(bytes.NewReader(data))
			require.NoError(t, err)
			require.Len(t, g.Image, len(f.Frames))
			for i, d := range f.Delays {
				assert.Equal(t, int(d/(10*time.Millisecond)), g.Delay[i])
			}
			assert.Equal(t, f.Loop, g.LoopCount+1)
			composed(t, data, "f.gif", f)
		})
	}
}

// composed compares the frames of a file with those of a film: of a GIF as ImageMagick composes them,
// of a WebP as vips does.
func composed(t *testing.T, data []byte, name string, f motion.Film) {
	t.Helper()
	dir := t.TempDir()
	file, frames := filepath.Join(dir, name), filepath.Join(dir, "frames.png")
	require.NoError(t, os.WriteFile(file, data, 0o600))
	size := f.Frames[0].Bounds().Size()
	if name == "f.webp" {
		reference.Run(t, "vips", "copy", file+"[n=-1]", frames)
		file = frames
	}
	all := []byte(reference.Run(t, "convert", file, "-coalesce", "-depth", "8", "rgba:-"))
	each := 4 * size.X * size.Y
	require.Len(t, all, each*len(f.Frames))
	for i, want := range f.Frames {
		got := all[i*each:][:each]
		for y := range size.Y {
			for x := range size.X {
				w, g := color.NRGBAModel.Convert(want.At(x, y)).(color.NRGBA), got[4*(y*size.X+x):]
				if w.A == 0 && g[3] == 0 {
					continue
				}
				require.Equal(t, []byte{w.R, w.G, w.B, w.A}, g[:4], "frame %d at %d, %d", i, x, y)
			}
		}
	}
}

// The same of an animated WebP without loss (RFC 9649, 2.7.1).
func TestWebPShowsItsFrames(t *testing.T) {
	lossless := func(m image.Image) ([]byte, error) {
		var b bytes.Buffer
		err := webp.Encode(&b, m, webp.Options{Lossless: true, Exact: true, Quality: 50, Method: 1})
		return b.Bytes(), err
	}
	for name, f := range films {
		t.Run(name, func(t *testing.T) {
			t.Parallel()
			data, err := f.WebP(lossless)
			require.NoError(t, err)
			composed(t, data, "f.webp", f)
			file := filepath.Join(t.TempDir(), "f.webp")
			require.NoError(t, os.WriteFile(file, data, 0o600))
			info := reference.Run(t, "webpmux", "-info", file)
			assert.Contains(t, info, fmt.Sprintf("Number of frames: %d", len(f.Frames)))
			assert.Contains(t, info, "Loop Count : 3")
		})
	}
}

// What stands still shows the same in every frame, however many colours there are: a pattern that
// each frame mixes anew would crawl.
func TestWhatStandsStillDoesNotCrawl(t *testing.T) {
	f := film(4, func(m *image.NRGBA, i int) {
		for y := range high {
			for x := range wide {
				m.SetNRGBA(x, y, color.NRGBA{uint8(x*4 + y%3), uint8(y * 5), uint8(x*y/9 + x%5), 255})
			}
		}
		paint(m, image.Rect(10*i, 10, 10*i+9, 20), color.NRGBA{255, uint8(60 * i), 0, 255})
	})
	for _, tolerance := range []int{0, 9} {
		data, err := f.GIF(tolerance)
		require.NoError(t, err)
		g, err := gif.DecodeAll(bytes.NewReader(data))
		require.NoError(t, err)
		canvas, first := image.NewRGBA(g.Image[0].Rect), image.NewRGBA(g.Image[0].Rect)
		for i, m := range g.Image {
			draw.Draw(canvas, m.Rect, m, m.Rect.Min, draw.Over)
			if i == 0 {
				copy(first.Pix, canvas.Pix)
			}
			for y := range high {
				for x := range wide {
					if y < 10 || y >= 20 {
						require.Equal(t, first.RGBAAt(x, y), canvas.RGBAAt(x, y), "frame %d at %d, %d", i, x, y)
					}
				}
			}
			assert.LessOrEqual(t, m.Rect.Dy(), 10+37*((3-i)/3), "only what changes is drawn in frame %d", i)
		}
	}
}

// Colours are off by no more than is borne, and the file is lighter for it.
func TestTolerance(t *testing.T) {
	f := film(3, func(m *image.NRGBA, i int) {
		r := rand.New(rand.NewPCG(3, uint64(i)))
		for y := range high {
			for x := range wide {
				v := 60 + x + r.IntN(30)
				m.SetNRGBA(x, y, color.NRGBA{uint8(v), uint8(v), uint8(v), 255})
			}
		}
	})
	last := 1 << 30
	for _, tolerance := range []int{0, 5, 10, 20} {
		data, err := f.GIF(tolerance)
		require.NoError(t, err)
		assert.Less(t, len(data), last, "tolerance %d", tolerance)
		last = len(data)
		g, err := gif.DecodeAll(bytes.NewReader(data))
		require.NoError(t, err)
		canvas := image.NewRGBA(g.Image[0].Rect)
		worst := 0
		for i, m := range g.Image {
			draw.Draw(canvas, m.Rect, m, m.Rect.Min, draw.Over)
			for y := range high {
				for x := range wide {
					w, c := f.Frames[i].(*image.NRGBA).NRGBAAt(x, y), canvas.RGBAAt(x, y)
					worst = max(worst, int(w.G)-int(c.G), int(c.G)-int(w.G))
				}
			}
		}
		assert.LessOrEqual(t, worst, tolerance)
		if tolerance > 0 {
			assert.Greater(t, worst, tolerance/2, "it makes use of it")
		}
	}
}

// More colours than a palette holds: one palette serves all frames where they are of the same
// colours, and frames of others have their own, as gifsicle tells.
func TestPalettes(t *testing.T) {
	gradient := func(blue func(i int) int) motion.Film {
		return film(5, func(m *image.NRGBA, i int) {
			for y := range high {
				for x := range wide {
					m.SetNRGBA(x, y, color.NRGBA{uint8((x + i) % wide * 4), uint8(y * 5), uint8(blue(i) + x%5), 255})
				}
			}
		})
	}
	tables := func(f motion.Film) int {
		data, err := f.GIF(0)
		require.NoError(t, err)
		file := filepath.Join(t.TempDir(), "f.gif")
		require.NoError(t, os.WriteFile(file, data, 0o600))
		info := reference.Run(t, "gifsicle", "--info", file)
		assert.Contains(t, info, fmt.Sprintf("%d images", len(f.Frames)))
		return strings.Count(info, "local color table")
	}
	assert.Equal(t, 0, tables(gradient(func(int) int { return 90 })))
	assert.Greater(t, tables(gradient(func(i int) int { return 62 * i })), 0)
	assert.Equal(t, 0, tables(films["a box that wanders"]))
}

// What gifsicle makes of the same frames with all its effort is at most a twentieth lighter: of letters
// that come one by one, a box that wanders, what comes and goes, and grain.
func TestNoHeavierThanGifsicle(t *testing.T) {
	letters := film(12, func(m *image.NRGBA, i int) {
		if i == 0 {
			paint(m, m.Rect, color.White)
		}
		for k := range 5 {
			paint(m, image.Rect(4*i+2, 5+8*k, 4*i+4+k%2, 10+8*k-i%3), color.Black)
		}
	})
	for name, f := range map[string]motion.Film{"letters": letters, "box": films["a box that wanders"], "comes and goes": films["what comes and goes"], "grain": films["grain of 250 colours"]} {
		data, err := f.GIF(0)
		require.NoError(t, err)
		file := filepath.Join(t.TempDir(), "f.gif")
		require.NoError(t, os.WriteFile(file, data, 0o600))
		theirs := reference.Run(t, "gifsicle", "-O3", file)
		assert.LessOrEqual(t, len(data), len(theirs)*105/100, name)
	}
}

// What is no film is refused.
func TestNoFilm(t *testing.T) {
	m := image.NewNRGBA(image.Rect(0, 0, 2, 2))
	for _, f := range []motion.Film{
		{},
		{Frames: []image.Image{m}},
		{Frames: []image.Image{m, image.NewNRGBA(image.Rect(0, 0, 3, 2))}, Delays: make([]time.Duration, 2)},
	} {
		_, err := f.GIF(0)
		assert.Error(t, err)
		_, err = f.WebP(func(image.Image) ([]byte, error) { return nil, nil })
		assert.Error(t, err)
	}
}
