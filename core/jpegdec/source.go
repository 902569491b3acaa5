package jpegdec

import (
	"bytes"
	"encoding/binary"
	"io"
	"math"
)

// source hands out the bytes of a file, a stretch at a time.
type source struct {
	r    io.Reader
	buf  []byte // what was read
	pos  int    // of the next byte in it
	err  error  // of reading; io.EOF at the end
	hold []byte // room for a stretch
}

// window is how many bytes of a file are at hand together: more than a segment has.
const window = 1 << 16

func newSource(r io.Reader) *source { return &source{r: r, hold: make([]byte, window)} }

// sourceOf hands out bytes that were read already.
func sourceOf(b []byte) *source { return &source{buf: b, err: io.EOF} }

// fill sees to it that at least n bytes lie ahead, unless the file ends before.
func (s *source) fill(n int) bool {
	if len(s.buf)-s.pos >= n {
		return true
	}
	if s.err == nil {
		kept := copy(s.hold, s.buf[s.pos:])
		s.pos = 0
		for kept < n && s.err == nil {
			var got int
			got, s.err = s.r.Read(s.hold[kept:])
			kept += got
		}
		s.buf = s.hold[:kept]
	}
	return len(s.buf)-s.pos >= n
}

// failed is why no more bytes came.
func (s *source) failed() error {
	if s.err == nil || s.err == io.EOF {
		return io.ErrUnexpectedEOF
	}
	return s.err
}

// segment returns the body of a marker's segment. It is good until the next call.
func (s *source) segment() ([]byte, error) {
	if !s.fill(2) {
		return nil, s.failed()
	}
	n := int(binary.BigEndian.Uint16(s.buf[s.pos:])) - 2
	if n < 0 {
		return nil, DamageError("a segment that is shorter than its own length")
	}
	s.pos += 2
	if !s.fill(n) {
		return nil, s.failed()
	}
	body := s.buf[s.pos:][:n]
	s.pos += n
	return body, nil
}

// marker returns the next marker, passing over what fills the space before it (T.81, B.1.1.2).
func (s *source) marker() (byte, error) {
	for {
		if !s.fill(2) {
			return 0, s.failed()
		}
		at := bytes.IndexByte(s.buf[s.pos:len(s.buf)-1], 0xFF)
		if at < 0 {
			s.pos = len(s.buf) - 1
			continue
		}
		s.pos += at + 1
		if m := s.buf[s.pos]; m != 0xFF && m != 0 {
			s.pos++
			return m, nil
		}
	}
}

// until takes the bytes up to the next marker, and that marker with them. It hands them over as
// they come.
func (s *source) until(take func([]byte)) (byte, error) { return s.upTo(math.MaxInt, take) }

// upTo is until for so many bytes, or one more: what is stuffed is not parted. It returns 0 where no
// marker is among them.
func (s *source) upTo(most int, take func([]byte)) (byte, error) {
	for most > 0 {
		if !s.fill(2) {
			return 0, s.failed()
		}
		ahead := s.buf[s.pos:]
		n, m := min(len(ahead)-1, most), byte(0)
		if at := bytes.IndexByte(ahead[:n], 0xFF); at >= 0 {
			if n = at + 1; ahead[n] != 0xFF { // else it fills the space before a marker
				m = ahead[n]
				n++
			}
		}
		take(ahead[:n])
		s.pos += n
		most -= n
		if m != 0 {
			return m, nil
		}
	}
	return 0, nil
}

// afterScan passes over a scan and returns the marker that ends it.
func (s *source) afterScan() (byte, error) {
	for {
		if m, err := s.marker(); err != nil || !restarts(m) {
			return m, err
		}
	}
}
