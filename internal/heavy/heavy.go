// Package heavy makes small files that take much memory or time to open, for tests and
// measurements.
package heavy

import (
	"bytes"
	"compress/zlib"
	"encoding/binary"
	"hash/crc32"
	"image"
	"image/color"
	"image/gif"
)

// DeepPNG is a PNG of 16 bits for each of four channels that packs to nearly nothing
// (PNG, third edition, 11.2.1 and 11.2.3), w by h pixels.
func DeepPNG(w, h int) []byte {
	var out bytes.Buffer
	out.WriteString("\x89PNG\r\n\x1a\n")
	chunk := func(kind string, body []byte) {
		_ = binary.Write(&out, binary.BigEndian, uint32(len(body)))
		out.WriteString(kind)
		out.Write(body)
		_ = binary.Write(&out, binary.BigEndian, crc32.ChecksumIEEE(append([]byte(kind), body...)))
	}
	head := binary.BigEndian.AppendUint32(binary.BigEndian.AppendUint32(nil, uint32(w)), uint32(h))
	chunk("IHDR", append(head, 16, 6, 0, 0, 0))
	var packed bytes.Buffer
	z := zlib.NewWriter(&packed)
	row := make([]byte, 1+8*w)
	for range h {
		_, _ = z.Write(row)
	}
	_ = z.Close()
	chunk("IDAT", packed.Bytes())
	chunk("IEND", nil)
	return out.Bytes()
}

// ManyFrames is a GIF of n frames, each of side by side pixels.
func ManyFrames(n, side int) []byte {
	g := gif.GIF{}
	for range n {
		g.Image = append(g.Image, image.NewPaletted(image.Rect(0, 0, side, side), color.Palette{color.White, color.Black}))
		g.Delay = append(g.Delay, 2)
	}
	var b bytes.Buffer
	if err := gif.EncodeAll(&b, &g); err != nil {
		panic(err)
	}
	return b.Bytes()
}
