package facts

import (
	"bytes"
	"cmp"
	"compress/zlib"
	"fmt"
	"io"
	"strconv"
	"strings"
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
		case "IHDR", "acTL", "fcTL", "iCCP", "cICP", "gAMA", "sRGB":
			body, err := r.take(n)
			if err != nil {
				return s, orEnough(err, s)
			}
			if err := s.readChunk(kind, body); err != nil {
				return s, err
			}
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
				return s, s.checkFrames()
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

func (s *structure) readChunk(kind string, b []byte) error {
	switch {
	case kind == "IHDR" && len(b) >= 13:
		s.Size = fit.Size{W: int(be.Uint32(b)), H: int(be.Uint32(b[4:]))}
		s.Depth = int(b[8])
		s.Model = map[byte]string{0: "grey", 2: "RGB", 3: "palette", 4: "grey", 6: "RGB"}[b[9]]
		s.Alpha = b[9] == 4 || b[9] == 6
	case kind == "acTL" && len(b) >= 8:
		s.Frames, s.Loop = max(1, int(be.Uint32(b))), int(be.Uint32(b[4:]))
	case kind == "fcTL" && len(b) >= 24:
		return s.readFrameControl(b)
	case kind == "iCCP":
		if _, packed, ok := bytes.Cut(b, []byte{0}); ok && len(packed) > 1 {
			if z, err := zlib.NewReader(bytes.NewReader(packed[1:])); err == nil {
				s.Profile, _ = io.ReadAll(io.LimitReader(z, profileLimit))
			}
		}
	case kind == "cICP" && len(b) >= 4:
		s.Primary = colours(int(b[0]), int(b[1]))
	case kind == "sRGB": // rules over gAMA, wherever it stands (W3C PNG, 11.3.2.5)
		s.Primary = "sRGB"
	case kind == "gAMA" && len(b) >= 4 && s.Primary == "":
		s.Primary = gammaName(be.Uint32(b))
	}
	return nil
}

// readFrameControl reads the head of one frame of an animation. A frame that
// leaves the picture is refused, as the specification wants it (W3C PNG,
// 11.3.6.2), before anybody makes room for it.
func (s *structure) readFrameControl(b []byte) error {
	w, h, x, y := uint64(be.Uint32(b[4:])), uint64(be.Uint32(b[8:])), uint64(be.Uint32(b[12:])), uint64(be.Uint32(b[16:]))
	if w == 0 || h == 0 || x+w > uint64(s.Size.W) || y+h > uint64(s.Size.H) {
		return fmt.Errorf("a frame of %d × %d at %d, %d leaves the picture", w, h, x, y)
	}
	num, den := be.Uint16(b[20:]), be.Uint16(b[22:])
	if den == 0 {
		den = 100
	}
	s.Duration += time.Duration(num) * time.Second / time.Duration(den)
	s.controls++
	return nil
}

// checkFrames refuses an animation with another number of frames than it says.
func (s *structure) checkFrames() error {
	if s.controls > 0 && s.controls != s.Frames {
		return fmt.Errorf("%d frames where it says %d", s.controls, s.Frames)
	}
	return nil
}

// gammaPrefix begins the name of a colour space that is sRGB but for its gamma.
const gammaPrefix = "Gamma "

// gammaName names the space of a gAMA chunk, which holds 100,000 times the
// inverse of the exponent (W3C PNG, 11.3.2.2). 45,455 stands for sRGB itself
// (common practice).
func gammaName(v uint32) string {
	if v == 0 || v > 44_500 && v < 46_500 {
		return ""
	}
	return fmt.Sprintf("%s%.3f", gammaPrefix, 100_000/float64(v))
}

// Gamma returns the exponent of a colour space that a file names by it alone,
// or 0.
func Gamma(space string) float64 {
	if !strings.HasPrefix(space, gammaPrefix) {
		return 0
	}
	g, err := strconv.ParseFloat(space[len(gammaPrefix):], 64)
	if err != nil || !(g > 0.1 && g < 10) {
		return 0
	}
	return g
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

// colours names the colour primaries of ITU-T H.273 that pictures come with, and, where they are for
// brighter screens than paper, how their values stand for light.
func colours(primaries, transfer int) string {
	name := map[int]string{1: "sRGB", 9: "Rec. 2020", 12: "Display P3"}[primaries]
	if bright := map[int]string{16: " PQ", 18: " HLG"}[transfer]; bright != "" {
		return cmp.Or(name, "Rec. 2020") + bright
	}
	return name
}

// HDR reports whether the lights of a picture are brighter than paper white: whether its values follow
// PQ or HLG (ITU-R BT.2100).
func (f Facts) HDR() bool {
	return strings.HasSuffix(f.Profile, " PQ") || strings.HasSuffix(f.Profile, " HLG")
}
