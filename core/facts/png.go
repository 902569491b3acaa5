package facts

import (
	"bytes"
	"compress/zlib"
	"io"
	"time"

	"mivlet/core/fit"
)

// pngStructure walks the chunks of a PNG (W3C PNG, third edition), with those
// of an animation (acTL, fcTL).
func pngStructure(rs io.ReadSeeker) (s structure, err error) {
	r, err := newReader(rs)
	if err != nil {
		return s, err
	}
	if err := r.skip(8); err != nil {
		return s, err
	}
	s.Frames, s.Loop = 1, 1
	for {
		head, err := r.take(8)
		if err != nil {
			return s, orEnough(err, s)
		}
		n, kind := int(be.Uint32(head)), string(head[4:])
		switch kind {
		case "IHDR", "acTL", "fcTL", "iCCP", "cICP":
			body, err := r.take(n)
			if err != nil {
				return s, orEnough(err, s)
			}
			s.readChunk(kind, body)
			err = r.skip(4)
			if err != nil {
				return s, orEnough(err, s)
			}
		case "iTXt":
			body, err := r.take(n)
			if err != nil {
				return s, orEnough(err, s)
			}
			s.readText(body)
			if err := r.skip(4); err != nil {
				return s, orEnough(err, s)
			}
		default:
			if kind == "tRNS" {
				s.Alpha = true
			}
			if kind == "IEND" {
				return s, nil
			}
			if err := r.skip(int64(n) + 4); err != nil {
				return s, orEnough(err, s)
			}
		}
	}
}

// orEnough forgives a file that breaks off after its header: whether its
// pixels are whole shows when they are decoded.
func orEnough(err error, s structure) error {
	if s.Size.Empty() {
		return err
	}
	return nil
}

func (s *structure) readChunk(kind string, b []byte) {
	switch {
	case kind == "IHDR" && len(b) >= 13:
		s.Size = fit.Size{W: int(be.Uint32(b)), H: int(be.Uint32(b[4:]))}
		s.Depth = int(b[8])
		s.Model = map[byte]string{0: "grey", 2: "RGB", 3: "palette", 4: "grey", 6: "RGB"}[b[9]]
		s.Alpha = b[9] == 4 || b[9] == 6
	case kind == "acTL" && len(b) >= 8:
		s.Frames, s.Loop = max(1, int(be.Uint32(b))), int(be.Uint32(b[4:]))
	case kind == "fcTL" && len(b) >= 24:
		num, den := be.Uint16(b[20:]), be.Uint16(b[22:])
		if den == 0 {
			den = 100
		}
		s.Duration += time.Duration(num) * time.Second / time.Duration(den)
	case kind == "iCCP":
		if _, packed, ok := bytes.Cut(b, []byte{0}); ok && len(packed) > 1 {
			if z, err := zlib.NewReader(bytes.NewReader(packed[1:])); err == nil {
				s.Profile, _ = io.ReadAll(io.LimitReader(z, profileLimit))
			}
		}
	case kind == "cICP" && len(b) >= 4:
		s.Primary = primaries(int(b[0]))
	}
}

// readText keeps an XMP packet (XMP specification, part 3, 1.1.5): a keyword,
// two bytes about compression, two empty strings, and the packet.
func (s *structure) readText(b []byte) {
	keyword := []byte("XML:com.adobe.xmp\x00")
	if !bytes.HasPrefix(b, keyword) || len(b) < len(keyword)+4 {
		return
	}
	packed := b[len(keyword)] == 1
	_, rest, _ := bytes.Cut(b[len(keyword)+2:], []byte{0})
	_, packet, ok := bytes.Cut(rest, []byte{0})
	if !ok {
		return
	}
	if packed {
		z, err := zlib.NewReader(bytes.NewReader(packet))
		if err != nil {
			return
		}
		packet, _ = io.ReadAll(io.LimitReader(z, profileLimit))
	}
	s.XMP = packet
}

// primaries names the colour primaries of ITU-T H.273 that pictures come with.
func primaries(code int) string {
	return map[int]string{1: "sRGB", 9: "Rec. 2020", 12: "Display P3"}[code]
}
