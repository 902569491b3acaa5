// Package heif reads the pixels of HEIC pictures, as they are to be seen: cropped, turned and
// mirrored.
//
// The decoder is libheif 1.18.2 with libde265 1.0.15 (both LGPL-3.0), compiled to WebAssembly and
// run by wazero (Apache-2.0). decoder.wasm.gz is the file that github.com/gen2brain/heic v0.4.5
// (MIT) carries. That package itself gives memory back before its pixels are read, so that the
// first pixels of every picture are lost, and makes too little room for pictures of fewer than 128
// pixels across.
package heif

import (
	"context"
	_ "embed"
	"encoding/binary"
	"errors"
	"fmt"
	"image"
	"io"

	"github.com/tetratelabs/wazero"
	"github.com/tetratelabs/wazero/api"
	"github.com/tetratelabs/wazero/imports/wasi_snapshot_preview1"

	"mivlet/core/wasm"
)

//go:embed decoder.wasm.gz
var packed []byte

// ErrDecode means that the decoder cannot read a file.
var ErrDecode = errors.New("the decoder cannot read it")

// engine is the decoder, ready to be started.
var engine = wasm.Program(packed, wazero.NewRuntimeConfig(), func(ctx context.Context, rt wazero.Runtime) error {
	_, err := wasi_snapshot_preview1.Instantiate(ctx, rt)
	return err
})

// What the decoder says of the pixels (libheif's heif.h).
const (
	inYCbCr = 0
	inRGB   = 1
	inGrey  = 2

	chroma420 = 1
	chroma422 = 2
	chroma444 = 3
)

// about is what the decoder tells of a picture: 32-bit numbers, one after the other.
type about struct{ width, height, space, chroma, premultiplied uint32 }

// Decode reads the picture that a file means, with 8 bits for each channel. It fails with
// [ErrDecode], or where r does.
func Decode(r io.Reader) (image.Image, error) {
	file, err := io.ReadAll(r)
	if err != nil {
		return nil, err
	}
	start, err := engine()
	if err != nil {
		return nil, err
	}
	ctx := context.Background()
	mod, err := start(ctx)
	if err != nil {
		return nil, err
	}
	defer mod.Close(ctx) // and all of its memory with it
	d := &decoder{ctx, mod}
	in, err := d.room(len(file))
	if err != nil {
		return nil, err
	}
	if !mod.Memory().Write(in, file) {
		return nil, ErrDecode
	}
	told, err := d.room(4 * 5)
	if err != nil {
		return nil, err
	}
	if err := d.run(in, len(file), true, told, 0); err != nil {
		return nil, err
	}
	a, err := d.about(told)
	if err != nil {
		return nil, err
	}
	m, planes, err := a.picture()
	if err != nil {
		return nil, err
	}
	size := 0
	for _, p := range planes {
		size += len(*p)
	}
	if a.chroma == chroma444 {
		size *= 2 // it may write two bytes for each value
	}
	out, err := d.room(size)
	if err != nil {
		return nil, err
	}
	last := out + uint32(size) - 1
	if !mod.Memory().WriteByte(last, untouched) {
		return nil, ErrDecode
	}
	if err := d.run(in, len(file), false, told, out); err != nil {
		return nil, err
	}
	all, ok := mod.Memory().Read(out, uint32(size))
	if !ok {
		return nil, ErrDecode
	}
	if a.chroma == chroma444 && all[size-1] != untouched {
		all = eight(all)
	}
	for _, p := range planes {
		all = all[copy(*p, all):]
	}
	return m, nil
}

// untouched is what no value of 10 or 12 bits has in its upper byte.
const untouched = 0xA5

// eight brings values of 10 or 12 bits, two bytes each, to 8. The decoder does so itself but where each pixel has
// a chroma of its own. The middle of chroma tells how many bits there are: it is above all that 10 bits hold
// where there are 12.
func eight(deep []byte) []byte {
	const most10, most12 = 1<<10 - 1, 1<<12 - 1
	most := uint16(most10)
	for i := 0; i+1 < len(deep); i += 2 {
		if binary.LittleEndian.Uint16(deep[i:]) > most10 {
			most = most12
			break
		}
	}
	out := make([]byte, len(deep)/2)
	for i := range out {
		v := uint32(min(binary.LittleEndian.Uint16(deep[2*i:]), most))
		out[i] = uint8((v*255 + uint32(most)/2) / uint32(most))
	}
	return out
}

// decoder is a started decoder.
type decoder struct {
	ctx context.Context
	mod api.Module
}

// room makes room for n bytes in its memory, which is given back with the decoder.
func (d *decoder) room(n int) (uint32, error) {
	at, err := d.mod.ExportedFunction("malloc").Call(d.ctx, uint64(n))
	if err != nil || at[0] == 0 {
		return 0, fmt.Errorf("%w: no room for %d bytes (%v)", ErrDecode, n, err)
	}
	return uint32(at[0]), nil
}

// run reads what there is to tell of a file and, unless that is all, its pixels.
func (d *decoder) run(in uint32, n int, headOnly bool, told, out uint32) error {
	head := uint64(0)
	if headOnly {
		head = 1
	}
	at := func(i uint32) uint64 { return uint64(told + 4*i) }
	ok, err := d.mod.ExportedFunction("decode").Call(d.ctx, uint64(in), uint64(n), head, at(0), at(1), at(2), at(3), at(4), uint64(out))
	if err != nil {
		return fmt.Errorf("%w: %v", ErrDecode, err)
	}
	if ok[0] == 0 {
		return ErrDecode
	}
	return nil
}

func (d *decoder) about(told uint32) (about, error) {
	var a about
	for i, into := range []*uint32{&a.width, &a.height, &a.space, &a.chroma, &a.premultiplied} {
		v, ok := d.mod.Memory().ReadUint32Le(told + 4*uint32(i))
		if !ok {
			return a, ErrDecode
		}
		*into = v
	}
	return a, nil
}

// stride is how many bytes a row of so many pixels takes in the decoder's memory (libheif 1.18,
// HeifPixelImage: an even number of pixels, at least 64, and of bytes a multiple of 16; memory).
func stride(width, each int) int { return (max(64, (width+1)&^1)*each + 15) &^ 15 }

// mostBytes is more than the decoder's own memory has room for beside what it decodes.
const mostBytes = 1 << 31

// picture makes room for a picture, and lists its planes as the decoder writes them.
func (a about) picture() (image.Image, []*[]byte, error) {
	w, h := int(a.width), int(a.height)
	if w <= 0 || h <= 0 || w > 1<<16 || h > 1<<16 || int64(stride(w, 4))*int64(h) > mostBytes {
		return nil, nil, fmt.Errorf("%w: %d × %d pixels", ErrDecode, w, h)
	}
	rect := image.Rect(0, 0, w, h)
	switch a.space {
	case inYCbCr:
		cw, ch := (w+1)/2, (h+1)/2
		ratio, known := map[uint32]image.YCbCrSubsampleRatio{chroma420: image.YCbCrSubsampleRatio420, chroma422: image.YCbCrSubsampleRatio422, chroma444: image.YCbCrSubsampleRatio444}[a.chroma]
		switch {
		case !known:
			return nil, nil, fmt.Errorf("%w: chroma %d", ErrDecode, a.chroma)
		case ratio == image.YCbCrSubsampleRatio444:
			cw, ch = w, h
		case ratio == image.YCbCrSubsampleRatio422:
			ch = h
		}
		m := &image.YCbCr{YStride: stride(w, 1), CStride: stride(cw, 1), SubsampleRatio: ratio, Rect: rect}
		m.Y, m.Cb, m.Cr = make([]byte, m.YStride*h), make([]byte, m.CStride*ch), make([]byte, m.CStride*ch)
		return m, []*[]byte{&m.Y, &m.Cb, &m.Cr}, nil
	case inGrey:
		m := &image.Gray{Stride: stride(w, 1), Rect: rect}
		m.Pix = make([]byte, m.Stride*h)
		return m, []*[]byte{&m.Pix}, nil
	case inRGB:
		pix, row := make([]byte, stride(w, 4)*h), stride(w, 4)
		if a.premultiplied == 1 {
			m := &image.RGBA{Pix: pix, Stride: row, Rect: rect}
			return m, []*[]byte{&m.Pix}, nil
		}
		m := &image.NRGBA{Pix: pix, Stride: row, Rect: rect}
		return m, []*[]byte{&m.Pix}, nil
	}
	return nil, nil, fmt.Errorf("%w: colour space %d", ErrDecode, a.space)
}
