package facts

import (
	"io"
	"time"

	"mivlet/core/fit"
)

// gifStructure walks the blocks of a GIF (GIF89a specification, section 20 and
// following) without unpacking them. A file that breaks off gives the frames
// until there.
func gifStructure(rs io.ReadSeeker) (s structure, err error) {
	r, err := newReader(rs)
	if err != nil {
		return s, err
	}
	head, err := r.take(13)
	if err != nil {
		return s, err
	}
	s.Size = fit.Size{W: int(le.Uint16(head[6:])), H: int(le.Uint16(head[8:]))}
	s.Depth, s.Model, s.Loop = 8, "palette", 1
	if err := skipColours(r, head[10]); err != nil {
		return s, err
	}
	for s.gifBlock(r) {
	}
	s.Frames = max(1, s.Frames)
	if s.Frames == 1 {
		s.Loop, s.Duration = 1, 0
	}
	return s, nil
}

// gifBlock walks one block and reports whether another may follow.
func (s *structure) gifBlock(r *reader) bool {
	kind, err := r.ReadByte()
	if err != nil {
		return false
	}
	switch kind {
	case 0x21:
		label, err := r.ReadByte()
		return err == nil && s.gifExtension(r, label)
	case 0x2C: // image descriptor, then the colours, the code size and sub-blocks
		d, err := r.take(9)
		if err != nil || skipColours(r, d[8]) != nil || r.skip(1) != nil {
			return false
		}
		s.Frames++
		return skipSubBlocks(r) == nil
	}
	return false // trailer, or nothing that belongs here
}

func (s *structure) gifExtension(r *reader, label byte) bool {
	n, err := r.ReadByte()
	if err != nil {
		return false
	}
	if n == 0 {
		return true
	}
	first, err := r.take(int(n))
	if err != nil {
		return false
	}
	switch {
	case label == 0xF9 && len(first) >= 4: // graphic control
		s.Duration += time.Duration(le.Uint16(first[1:])) * 10 * time.Millisecond
		s.Alpha = s.Alpha || first[0]&1 == 1
	case label == 0xFF && string(first) == "NETSCAPE2.0": // how often it plays (common practice)
		n, err := r.ReadByte()
		if err != nil || n == 0 {
			return err == nil
		}
		body, err := r.take(int(n))
		if err != nil {
			return false
		}
		if len(body) >= 3 && body[0] == 1 {
			if again := int(le.Uint16(body[1:])); again == 0 {
				s.Loop = 0
			} else {
				s.Loop = again + 1 // the number counts repeats
			}
		}
	}
	return skipSubBlocks(r) == nil
}

// skipColours passes over the colour table that packed announces, if any.
func skipColours(r *reader, packed byte) error {
	if packed&0x80 == 0 {
		return nil
	}
	return r.skip(int64(3 << (packed&7 + 1)))
}

func skipSubBlocks(r *reader) error {
	for {
		n, err := r.ReadByte()
		if err != nil || n == 0 {
			return err
		}
		if err := r.skip(int64(n)); err != nil {
			return err
		}
	}
}
