package facts

import (
	"bytes"
	"io"

	"mivlet/core/fit"
)

// jpegStructure walks the segments of a JPEG up to its first scan (ITU-T T.81,
// annex B; ICC profiles in APP2 after ICC.1:2022, annex B.4).
func jpegStructure(rs io.ReadSeeker) (s structure, err error) {
	r, err := newReader(rs)
	if err != nil {
		return s, err
	}
	if _, err := r.take(2); err != nil {
		return s, err
	}
	chunks := map[byte][]byte{}
	for {
		marker, err := nextMarker(r)
		if err != nil {
			return s, err
		}
		if marker == 0xDA || marker == 0xD9 {
			break
		}
		if marker == 0x01 || marker >= 0xD0 && marker <= 0xD8 {
			continue // stands alone, without a length
		}
		l, err := r.take(2)
		if err != nil {
			return s, err
		}
		n := int(be.Uint16(l)) - 2
		switch {
		case marker == 0xE2 || isFrame(marker):
			body, err := r.take(n)
			if err != nil {
				return s, err
			}
			if isFrame(marker) {
				s.readFrame(body)
				if way := jpegWay(marker, s.Depth); way != "" {
					return s, &TypeError{"image/jpeg", ErrNotTaken, way}
				}
			} else if id := []byte("ICC_PROFILE\x00"); bytes.HasPrefix(body, id) && len(body) > len(id)+2 {
				chunks[body[len(id)]] = body[len(id)+2:]
			}
		default:
			if err := r.skip(int64(n)); err != nil {
				return s, err
			}
		}
	}
	for i := byte(1); chunks[i] != nil; i++ {
		s.Profile = append(s.Profile, chunks[i]...)
	}
	s.Frames, s.Loop = 1, 1
	return s, nil
}

// isFrame reports whether a marker begins a frame header: SOF0 to SOF15, which
// DHT, JPG and DAC stand among.
func isFrame(marker byte) bool {
	return marker >= 0xC0 && marker <= 0xCF && marker != 0xC4 && marker != 0xC8 && marker != 0xCC
}

func (s *structure) readFrame(b []byte) {
	if len(b) < 6 {
		return
	}
	s.Depth = int(b[0])
	s.Size = fit.Size{W: int(be.Uint16(b[3:])), H: int(be.Uint16(b[1:]))}
	s.Model = map[byte]string{1: "grey", 3: "RGB", 4: "CMYK"}[b[5]]
}

func nextMarker(r *reader) (byte, error) {
	for {
		c, err := r.ReadByte()
		if err != nil {
			return 0, err
		}
		for c == 0xFF {
			if c, err = r.ReadByte(); err != nil {
				return 0, err
			}
			if c != 0xFF && c != 0 {
				return c, nil
			}
		}
	}
}
