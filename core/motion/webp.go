package motion

import (
	"bytes"
	"encoding/binary"
	"errors"
	"image"
	"image/draw"
	"math"
)

// WebP writes the film as an animated WebP (RFC 9649, 2.7: VP8X, ANIM and a chunk ANMF for each
// frame). What a frame changes is written by write, which returns a WebP that stands still.
func (f Film) WebP(write func(image.Image) ([]byte, error)) ([]byte, error) {
	all, err := f.canvases()
	if err != nil {
		return nil, err
	}
	size := all[0].Rect
	alpha := false
	var body bytes.Buffer
	for i, m := range all {
		r := size
		if i > 0 {
			r = even(changed(all[i-1], m))
		}
		still, err := write(within(f.Frames[i], r))
		if err != nil {
			return nil, err
		}
		picture, err := pictureChunks(still)
		if err != nil {
			return nil, err
		}
		alpha = alpha || !m.Opaque()
		delay := min(max(f.Delays[i].Milliseconds(), 0), 1<<24-1)
		head := put24(nil, r.Min.X/2, r.Min.Y/2, r.Dx()-1, r.Dy()-1, int(delay))
		head = append(head, 0b10) // what was in the rectangle before is not seen through it
		chunk(&body, "ANMF", append(head, picture...))
	}
	var flags byte = 0b10 // it moves
	if alpha {
		flags |= 0b10000
	}
	var out bytes.Buffer
	chunk(&out, "VP8X", put24([]byte{flags, 0, 0, 0}, size.Dx()-1, size.Dy()-1))
	chunk(&out, "ANIM", binary.LittleEndian.AppendUint16([]byte{0, 0, 0, 0}, uint16(min(f.Loop, math.MaxUint16))))
	out.Write(body.Bytes())

	file := binary.LittleEndian.AppendUint32([]byte("RIFF"), uint32(out.Len()+4))
	return append(append(file, "WEBP"...), out.Bytes()...), nil
}

// even is r from even places on, as the file states half of them; a pixel where r is empty.
func even(r image.Rectangle) image.Rectangle {
	if r.Empty() {
		return image.Rect(0, 0, 1, 1)
	}
	r.Min.X, r.Min.Y = r.Min.X&^1, r.Min.Y&^1
	return r
}

// within is the part of m in r, which counts from m's own corner; from 0, 0 on, and without the
// rest in memory between its rows.
func within(m image.Image, r image.Rectangle) image.Image {
	from := r.Min.Add(m.Bounds().Min)
	r = image.Rectangle{Max: r.Size()}
	if from == m.Bounds().Min && r.Size() == m.Bounds().Size() {
		return m
	}
	var part draw.Image = image.NewNRGBA(r)
	if _, ok := m.(*image.RGBA); ok {
		part = image.NewRGBA(r)
	}
	draw.Draw(part, r, m, from, draw.Src)
	return part
}

// pictureChunks takes the chunks that hold pixels out of a still WebP.
func pictureChunks(file []byte) ([]byte, error) {
	var out bytes.Buffer
	for b := file[min(12, len(file)):]; len(b) >= 8; {
		n := int(binary.LittleEndian.Uint32(b[4:]))
		if n > len(b)-8 {
			break
		}
		switch kind := string(b[:4]); kind {
		case "ALPH", "VP8 ", "VP8L":
			chunk(&out, kind, b[8:8+n])
		}
		b = b[min(8+n+n%2, len(b)):]
	}
	if out.Len() == 0 {
		return nil, errors.New("a WebP without a picture")
	}
	return out.Bytes(), nil
}

// chunk writes a chunk, padded to an even length.
func chunk(w *bytes.Buffer, kind string, body []byte) {
	w.WriteString(kind)
	w.Write(binary.LittleEndian.AppendUint32(nil, uint32(len(body))))
	w.Write(body)
	if len(body)%2 == 1 {
		w.WriteByte(0)
	}
}

func put24(b []byte, all ...int) []byte {
	for _, v := range all {
		b = append(b, byte(v), byte(v>>8), byte(v>>16))
	}
	return b
}
