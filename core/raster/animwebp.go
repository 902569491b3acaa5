package raster

import (
	"bytes"
	"encoding/binary"
	"errors"
	"image"
	"time"
)

// encodeAnimatedWebP writes frames that each show the whole picture as one
// animated WebP (RFC 9649, 2.7: VP8X, ANIM and a chunk ANMF for each frame).
// loop is how often it plays; 0 is for ever. Each frame is written by write.
func encodeAnimatedWebP(frames []image.Image, delays []time.Duration, loop int, write func(image.Image) ([]byte, error)) ([]byte, error) {
	size := frames[0].Bounds()
	alpha := false
	var body bytes.Buffer
	for i, m := range frames {
		still, err := write(m)
		if err != nil {
			return nil, err
		}
		picture, err := pictureChunks(still)
		if err != nil {
			return nil, err
		}
		alpha = alpha || !opaque(m)
		head := put24(nil, 0, 0, size.Dx()-1, size.Dy()-1, int(delays[i].Milliseconds()))
		head = append(head, 0b10) // drawn over nothing that was before: it shows the whole picture
		chunk(&body, "ANMF", append(head, picture...))
	}
	var flags byte = 0b10 // it moves
	if alpha {
		flags |= 0b10000
	}
	var out bytes.Buffer
	chunk(&out, "VP8X", put24([]byte{flags, 0, 0, 0}, size.Dx()-1, size.Dy()-1))
	chunk(&out, "ANIM", binary.LittleEndian.AppendUint16([]byte{0, 0, 0, 0}, uint16(min(loop, 0xFFFF))))
	out.Write(body.Bytes())

	file := binary.LittleEndian.AppendUint32([]byte("RIFF"), uint32(out.Len()+4))
	return append(append(file, "WEBP"...), out.Bytes()...), nil
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
