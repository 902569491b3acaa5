package facts

import (
	"fmt"
	"io"
	"time"

	"mivlet/core/fit"
)

// webpStructure walks the chunks of a WebP file (RFC 9649).
func webpStructure(rs io.ReadSeeker) (s structure, err error) {
	r, err := newReader(rs)
	if err != nil {
		return s, err
	}
	if err := r.skip(12); err != nil {
		return s, err
	}
	s.Depth, s.Model, s.Loop = 8, "RGB", 1
	for {
		head, err := r.take(8)
		if err != nil {
			break
		}
		kind, n := string(head[:4]), int64(le.Uint32(head[4:]))
		want := map[string]int64{"VP8X": 10, "VP8 ": 10, "VP8L": 5, "ANIM": 6, "ANMF": 16, "ICCP": min(n, profileLimit)}[kind]
		want = min(want, n)
		body, err := r.take(int(want))
		if err != nil {
			break
		}
		if err := s.readWebP(kind, body); err != nil {
			return s, err
		}
		if kind == "ANMF" && want == 16 {
			read, err := webpFrame(r, body, n-16)
			if err != nil {
				return s, err
			}
			want += read
		}
		if (kind == "VP8 " || kind == "VP8L") && s.Frames == 0 {
			break // a still: nothing after the pixels matters
		}
		if r.skip(n-want+n%2) != nil {
			break
		}
	}
	s.Frames = max(1, s.Frames)
	if s.Size.Empty() {
		return s, io.ErrUnexpectedEOF
	}
	return s, nil
}

// readWebP reads the head of one chunk. Pixels of another size than the canvas
// are refused, before anybody makes room for them.
func (s *structure) readWebP(kind string, b []byte) error {
	switch {
	case kind == "VP8X" && len(b) >= 10:
		s.Alpha = b[0]&0x10 != 0
		s.Size = fit.Size{W: 1 + uint24(b[4:]), H: 1 + uint24(b[7:])}
	case kind == "VP8 " && len(b) >= 10:
		return s.pixelsOf(fit.Size{W: int(le.Uint16(b[6:])) & 0x3FFF, H: int(le.Uint16(b[8:])) & 0x3FFF})
	case kind == "VP8L" && len(b) >= 5:
		bits := le.Uint32(b[1:])
		s.Alpha = s.Alpha || s.Size.Empty() && bits>>28&1 == 1
		return s.pixelsOf(fit.Size{W: int(bits&0x3FFF) + 1, H: int(bits>>14&0x3FFF) + 1})
	case kind == "ANIM" && len(b) >= 6:
		s.Loop = int(le.Uint16(b[4:]))
	case kind == "ANMF" && len(b) >= 16:
		if x, y, w, h := 2*uint24(b), 2*uint24(b[3:]), 1+uint24(b[6:]), 1+uint24(b[9:]); x+w > s.Size.W || y+h > s.Size.H {
			return fmt.Errorf("a frame of %d × %d at %d, %d leaves the picture", w, h, x, y)
		}
		s.Frames++
		s.Duration += time.Duration(uint24(b[12:])) * time.Millisecond
	case kind == "ICCP":
		s.Profile = b
	}
	return nil
}

// pixelsOf takes the size of a still's pixels, which is that of the canvas
// where there is one.
func (s *structure) pixelsOf(size fit.Size) error {
	if !s.Size.Empty() && s.Size != size {
		return fmt.Errorf("pixels of %d × %d in a picture of %d × %d", size.W, size.H, s.Size.W, s.Size.H)
	}
	s.Size = size
	return nil
}

// webpFrame compares the size that the head of a frame says with the one of the pixels
// inside (RFC 9649, 2.7.1.1), and returns how many bytes of the frame it has read.
func webpFrame(r *reader, head []byte, left int64) (read int64, err error) {
	said := fit.Size{W: 1 + uint24(head[6:]), H: 1 + uint24(head[9:])}
	for left-read >= 18 {
		b, err := r.take(8)
		if err != nil {
			return read, nil // cut off: told elsewhere
		}
		read += 8
		kind, n := string(b[:4]), int64(le.Uint32(b[4:]))
		if kind == "VP8 " || kind == "VP8L" {
			pixels, err := r.take(10)
			if err != nil {
				return read, nil
			}
			read += 10
			var inner structure
			if err := inner.readWebP(kind, pixels); err != nil {
				return read, err
			}
			if inner.Size != said {
				return read, fmt.Errorf("%w: %d × %d and %d × %d", errSizes, inner.Size.W, inner.Size.H, said.W, said.H)
			}
			return read, nil
		}
		if n+n%2 > left-read || r.skip(n+n%2) != nil {
			return read, nil
		}
		read += n + n%2
	}
	return read, nil
}

func uint24(b []byte) int { return int(b[0]) | int(b[1])<<8 | int(b[2])<<16 }
