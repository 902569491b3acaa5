package tenyears

import (
	"bytes"
	"encoding/binary"
	"image"
	"image/color"
	"image/jpeg"
	"image/png"
	"math"
	"math/rand/v2"
)

// size is that of a picture, in pixels.
type size struct{ w, h int }

// The sizes that pictures have: as they come from a camera, about right, and small.
var (
	huge  = size{2400, 1800}
	right = size{1280, 960}
	small = size{320, 240}
	sizes = []size{huge, right, small}
)

var photoAsPNG = size{480, 360}

const scenes = 4

// stock is a few pictures in all sizes, of which all others are made: each with something inside that the
// others do not have.
type stock struct{ pictures [scenes]map[size][]byte }

func newStock() (*stock, error) {
	s := &stock{}
	for scene := range scenes {
		s.pictures[scene] = map[size][]byte{}
		for _, of := range sizes {
			var b bytes.Buffer
			if err := jpeg.Encode(&b, drawn(scene, of), &jpeg.Options{Quality: 88}); err != nil {
				return nil, err
			}
			s.pictures[scene][of] = b.Bytes()
		}
	}
	return s, nil
}

// drawn is water under a sky, with something on it.
func drawn(scene int, of size) image.Image {
	m := image.NewYCbCr(image.Rect(0, 0, of.w, of.h), image.YCbCrSubsampleRatio420)
	for y := range of.h {
		for x := range of.w {
			u, v := float64(x)/float64(of.w), float64(y)/float64(of.h)
			light := 210 - 70*v
			if v > 0.45 {
				light = 90 + 40*math.Sin(60*v*v+5*u+float64(scene)) + 12*math.Sin(211*u+97*v)
			}
			if math.Hypot(u-0.3-0.1*float64(scene), (v-0.6)*2) < 0.12 {
				light = 60 + 100*u
			}
			m.Y[m.YOffset(x, y)] = uint8(min(max(light, 0), 255))
		}
	}
	for i := range m.Cb {
		m.Cb[i], m.Cr[i] = uint8(140+5*scene), uint8(118-6*scene)
	}
	return m
}

// jpeg is a picture of the stock with a comment of its own and, where asked, with a position or the number
// of a camera.
func (s *stock) jpeg(scene int, of size, number int, position, serial bool) []byte {
	plain := s.pictures[scene][of]
	out := append([]byte{}, plain[:2]...)
	segment := func(marker byte, data []byte) {
		out = append(out, 0xff, marker)
		out = binary.BigEndian.AppendUint16(out, uint16(len(data)+2))
		out = append(out, data...)
	}
	if position || serial {
		segment(0xe1, append([]byte("Exif\x00\x00"), exif(position, serial)...))
	}
	segment(0xfe, []byte{'n', byte('0' + number/100%10), byte('0' + number/10%10), byte('0' + number%10)})
	return append(out, plain[2:]...)
}

// exif is what a camera writes into a file (Exif 2.32, 4.6): a directory that leads to another.
func exif(position, serial bool) []byte {
	le := binary.LittleEndian
	tag := func(b []byte, id, kind uint16, count, value uint32) []byte {
		return le.AppendUint32(le.AppendUint32(le.AppendUint16(le.AppendUint16(b, id), kind), count), value)
	}
	const begins = 8 // the first directory has one entry: 2 + 12 + 4 bytes
	b := append([]byte("II*\x00"), le.AppendUint32(nil, begins)...)
	b = le.AppendUint16(b, 1)
	const second = begins + 18
	if serial {
		b = tag(b, 0x8769, 4, 1, second) // ExifIFD
		b = append(le.AppendUint32(b, 0), le.AppendUint16(nil, 1)...)
		b = tag(b, 0xa431, 2, 8, second+18) // BodySerialNumber
		return append(le.AppendUint32(b, 0), "4711008\x00"...)
	}
	b = tag(b, 0x8825, 4, 1, second) // GPSInfo
	b = append(le.AppendUint32(b, 0), le.AppendUint16(nil, 4)...)
	const values = second + 2 + 4*12 + 4
	b = tag(b, 1, 2, 2, 'S')
	b = tag(b, 2, 5, 3, values)
	b = tag(b, 3, 2, 2, 'W')
	b = tag(b, 4, 5, 3, values+24)
	b = le.AppendUint32(b, 0)
	for _, v := range []uint32{48, 1, 52, 1, 36, 1, 123, 1, 23, 1, 36, 1} { // far out in the Pacific
		b = le.AppendUint32(b, v)
	}
	return b
}

// noise is a photo as PNG, which packs badly.
func noise(seed uint64) ([]byte, error) {
	n := rand.New(rand.NewPCG(seed, 3))
	m := image.NewRGBA(image.Rect(0, 0, photoAsPNG.w, photoAsPNG.h))
	for y := range photoAsPNG.h {
		for x := range photoAsPNG.w {
			m.SetRGBA(x, y, color.RGBA{uint8(x/3 + n.IntN(30)), uint8(y/3 + n.IntN(30)), uint8(90 + n.IntN(30)), 255})
		}
	}
	var b bytes.Buffer
	err := png.Encode(&b, m)
	return b.Bytes(), err
}
