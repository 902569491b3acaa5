package raster

import (
	"bytes"
	"encoding/binary"
	"errors"
	"fmt"
	"hash/crc32"
	"image"
	"image/draw"
	"image/png"
	"io"
	"time"
)

// decodeAPNG reads the frames of an animated PNG (W3C PNG, third edition, 5.5
// and 11.3.6). Each frame is handed to image/png as the still PNG that it is but
// for its wrapping, and drawn on what the last one left.
func decodeAPNG(r io.Reader) (*Animation, error) {
	u := &unwrapping{}
	if err := u.read(r); err != nil {
		return nil, err
	}
	a := &Animation{}
	canvas := image.NewNRGBA(image.Rect(0, 0, int(u.width), int(u.height)))
	for i, f := range u.frames {
		m, err := png.Decode(io.MultiReader(bytes.NewReader(u.head(f)), bytes.NewReader(f.data.Bytes()), bytes.NewReader(u.end())))
		if err != nil {
			return nil, fmt.Errorf("frame %d: %w", i+1, err)
		}
		at := m.Bounds().Sub(m.Bounds().Min).Add(f.at)
		before := canvas
		if f.disposal == disposePrevious {
			before = clone(canvas)
		}
		op := draw.Src
		if f.over {
			op = draw.Over
		}
		draw.Draw(canvas, at, m, m.Bounds().Min, op)
		a.add(clone(canvas), f.delay)
		switch f.disposal {
		case disposeBackground:
			draw.Draw(canvas, at, image.Transparent, image.Point{}, draw.Src)
		case disposePrevious:
			canvas = before
		}
	}
	return a, nil
}

// How a frame is disposed of before the next one (W3C PNG, 11.3.6.2).
const (
	disposeBackground = 1
	disposePrevious   = 2
)

// unwrapping takes an animated PNG apart.
type unwrapping struct {
	width, height uint32
	header        []byte // body of IHDR
	shared        bytes.Buffer
	frames        []*wrapped
}

// wrapped is one frame: where it stands, how long, and its pixels as chunks of
// a still PNG.
type wrapped struct {
	width, height uint32
	at            image.Point
	delay         time.Duration
	disposal      byte
	over          bool
	data          bytes.Buffer
}

// read walks the chunks. The default picture, where no frame head stands before
// it, belongs to no frame.
func (u *unwrapping) read(r io.Reader) error {
	if _, err := io.CopyN(io.Discard, r, 8); err != nil {
		return err
	}
	var head [8]byte
	for {
		if _, err := io.ReadFull(r, head[:]); err != nil {
			return err
		}
		n, kind := binary.BigEndian.Uint32(head[:]), string(head[4:])
		if kind == "IEND" {
			break
		}
		var body bytes.Buffer // grows with what is there, not with what is said
		if _, err := io.CopyN(&body, r, int64(n)); err != nil {
			return err
		}
		if _, err := io.CopyN(io.Discard, r, 4); err != nil {
			return err
		}
		if err := u.take(kind, body.Bytes()); err != nil {
			return err
		}
	}
	if len(u.frames) == 0 || u.header == nil {
		return errors.New("an animation without frames")
	}
	return nil
}

func (u *unwrapping) take(kind string, b []byte) error {
	switch kind {
	case "IHDR":
		if len(b) != 13 {
			return fmt.Errorf("a header of %d bytes, not 13", len(b))
		}
		u.header, u.width, u.height = b, binary.BigEndian.Uint32(b), binary.BigEndian.Uint32(b[4:])
	case "PLTE", "tRNS":
		putChunk(&u.shared, kind, b)
	case "fcTL":
		return u.begin(b)
	case "IDAT":
		if n := len(u.frames); n > 0 {
			putChunk(&u.frames[n-1].data, "IDAT", b)
		}
	case "fdAT":
		n := len(u.frames)
		if n == 0 || len(b) < 4 {
			return errors.New("pixels without a frame")
		}
		putChunk(&u.frames[n-1].data, "IDAT", b[4:])
	}
	return nil
}

// begin reads the head of a frame, which must lie inside the picture.
func (u *unwrapping) begin(b []byte) error {
	if len(b) < 26 {
		return fmt.Errorf("a frame head of %d bytes, not 26", len(b))
	}
	at := func(i int) uint32 { return binary.BigEndian.Uint32(b[i:]) }
	f := &wrapped{width: at(4), height: at(8), at: image.Pt(int(at(12)), int(at(16))), disposal: b[24], over: b[25] == 1}
	if f.width == 0 || f.height == 0 || uint64(at(12))+uint64(f.width) > uint64(u.width) || uint64(at(16))+uint64(f.height) > uint64(u.height) {
		return fmt.Errorf("a frame of %d × %d at %d, %d leaves the picture of %d × %d", f.width, f.height, f.at.X, f.at.Y, u.width, u.height)
	}
	num, den := binary.BigEndian.Uint16(b[20:]), binary.BigEndian.Uint16(b[22:])
	if den == 0 {
		den = 100
	}
	f.delay = time.Duration(num) * time.Second / time.Duration(den)
	if len(u.frames) == 0 && f.disposal == disposePrevious {
		f.disposal = disposeBackground // nothing was there before
	}
	u.frames = append(u.frames, f)
	return nil
}

// head is what stands before the pixels of a frame in a still PNG.
func (u *unwrapping) head(f *wrapped) []byte {
	body := bytes.Clone(u.header)
	binary.BigEndian.PutUint32(body, f.width)
	binary.BigEndian.PutUint32(body[4:], f.height)
	var out bytes.Buffer
	out.WriteString("\x89PNG\r\n\x1a\n")
	putChunk(&out, "IHDR", body)
	out.Write(u.shared.Bytes())
	return out.Bytes()
}

func (u *unwrapping) end() []byte {
	var out bytes.Buffer
	putChunk(&out, "IEND", nil)
	return out.Bytes()
}

// putChunk writes a chunk of a PNG (W3C PNG, 5.3).
func putChunk(w *bytes.Buffer, kind string, body []byte) {
	sum := crc32.NewIEEE()
	_, _ = sum.Write([]byte(kind))
	_, _ = sum.Write(body)
	w.Write(binary.BigEndian.AppendUint32(nil, uint32(len(body))))
	w.WriteString(kind)
	w.Write(body)
	w.Write(binary.BigEndian.AppendUint32(nil, sum.Sum32()))
}
