package raster

import (
	"bytes"
	"image"
	"image/color"
	"image/draw"
	"image/gif"
	"time"

	"github.com/soniakeys/quant/median"
)

// encodeGIFStill writes one picture as a GIF of at most 256 colours.
func encodeGIFStill(m image.Image, why string) (Encoded, error) {
	data, err := encodeGIF([]image.Image{m}, []time.Duration{0}, 1)
	if err != nil {
		return Encoded{}, err
	}
	back, err := gif.Decode(bytes.NewReader(data))
	if err != nil {
		return Encoded{}, err
	}
	return Encoded{Data: data, MediaType: "image/gif", SSIM: ssim(luma(m), luma(back), sparse, 0), Why: why}, nil
}

// encodeGIF writes frames that each show the whole picture. loop is how often
// it plays; 0 is for ever.
func encodeGIF(frames []image.Image, delays []time.Duration, loop int) ([]byte, error) {
	g := gif.GIF{LoopCount: repeats(loop)}
	for i, m := range frames {
		p, clear := reduced(m)
		g.Image = append(g.Image, p)
		g.Delay = append(g.Delay, int(delays[i].Round(10*time.Millisecond)/(10*time.Millisecond)))
		disposal := byte(gif.DisposalNone)
		if clear {
			disposal = gif.DisposalBackground // or the frame before shows through
		}
		g.Disposal = append(g.Disposal, disposal)
	}
	b := frames[0].Bounds()
	g.Config = image.Config{Width: b.Dx(), Height: b.Dy(), ColorModel: g.Image[0].Palette}
	var out bytes.Buffer
	err := gif.EncodeAll(&out, &g)
	return out.Bytes(), err
}

// repeats is how image/gif counts plays: 0 for ever, -1 once, else repeats.
func repeats(plays int) int {
	switch plays {
	case 0:
		return 0
	case 1:
		return -1
	}
	return plays - 1
}

// reduced brings a picture to a palette of its own. clear tells that parts of
// it are transparent: a GIF knows only all or nothing, and half is the border.
func reduced(m image.Image) (p *image.Paletted, clear bool) {
	if p := palette(m); p != nil {
		return p, false
	}
	clear = !opaque(m)
	most := 256
	if clear {
		most--
	}
	colours := median.Quantizer(most).Quantize(make(color.Palette, 0, most), m)
	p = image.NewPaletted(m.Bounds(), colours)
	draw.FloydSteinberg.Draw(p, p.Rect, m, m.Bounds().Min)
	if clear {
		p.Palette = append(p.Palette, color.RGBA{})
		last := uint8(len(p.Palette) - 1)
		for y := range p.Rect.Dy() {
			for x := range p.Rect.Dx() {
				if _, _, _, a := m.At(x, y).RGBA(); a < 0x8000 {
					p.Pix[y*p.Stride+x] = last
				}
			}
		}
	}
	return p, clear
}
