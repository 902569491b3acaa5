package facts

import (
	"errors"
	"io"

	"mivlet/core/fit"
)

// boxStructure reads the properties of an AVIF or HEIC still from its boxes
// (ISO/IEC 14496-12 and 23008-12, memory): size, depth, turn, mirror and
// profile. Where a file does not say which of several pictures is meant, it is the
// largest.
func boxStructure(rs io.ReadSeeker) (s structure, err error) {
	r, err := newReader(rs)
	if err != nil {
		return s, err
	}
	for {
		head, err := r.take(8)
		if err != nil {
			break
		}
		n, kind := int64(be.Uint32(head))-8, string(head[4:])
		if n == -7 { // the length follows, in 64 bits
			wide, err := r.take(8)
			if err != nil {
				break
			}
			n = int64(be.Uint64(wide)) - 16
		}
		if n == -8 { // to the end of the file
			break
		}
		if kind == "meta" && s.Size.Empty() {
			body, err := r.take(int(min(n, profileLimit)))
			if err != nil {
				return s, err
			}
			turn, mirror := 0, -1
			s.items = newItems()
			s.walkBoxes(body[min(4, len(body)):], &turn, &mirror, 0)
			s.Turn = boxTurn(turn, mirror)
			n -= int64(len(body))
		}
		if r.skip(n) != nil {
			s.CutOff = true
			break
		}
	}
	if s.Size.Empty() {
		return s, errors.New("no size in its boxes")
	}
	s.Frames, s.Loop, s.Model = 1, 1, "RGB"
	if said := s.items.size(); !said.Empty() {
		s.Size = said
	}
	return s, s.items.check(rs)
}

// walkBoxes reads the properties among boxes, and those inside them.
func (s *structure) walkBoxes(b []byte, turn, mirror *int, depth int) {
	for len(b) >= 8 && depth < 8 {
		n := int(be.Uint32(b))
		kind := string(b[4:8])
		if n < 8 || n > len(b) {
			return
		}
		body := b[8:n]
		switch {
		case kind == "iprp" || kind == "ipco":
			if kind == "ipco" {
				s.items.readProperties(body)
			}
			s.walkBoxes(body, turn, mirror, depth+1)
		case kind == "ispe" && len(body) >= 12:
			if size := (fit.Size{W: int(be.Uint32(body[4:])), H: int(be.Uint32(body[8:]))}); size.W*size.H > s.Size.W*s.Size.H {
				s.Size = size
			}
		case kind == "pitm":
			s.items.readPrimary(body)
		case kind == "iinf":
			s.items.readInfo(body)
		case kind == "iloc":
			s.items.readLocations(body)
		case kind == "idat":
			s.items.inside = body
		case kind == "ipma":
			s.items.readOwners(body)
		case kind == "pixi" && len(body) >= 6:
			s.Depth = max(s.Depth, int(body[5]))
		case kind == "irot" && len(body) >= 1:
			*turn = int(body[0] & 3)
		case kind == "imir" && len(body) >= 1:
			*mirror = int(body[0] & 1)
		case kind == "auxC" && len(body) > 4 && string(body[4:]) != "" && containsAlpha(body):
			s.Alpha = true
		case kind == "colr" && len(body) >= 4:
			switch string(body[:4]) {
			case "prof", "rICC":
				s.Profile = body[4:]
			case "nclx":
				if len(body) >= 6 {
					s.Primary = primaries(int(be.Uint16(body[4:])))
				}
			}
		}
		b = b[n:]
	}
}

func containsAlpha(b []byte) bool {
	for i := 0; i+5 <= len(b); i++ {
		if string(b[i:i+5]) == "alpha" {
			return true
		}
	}
	return false
}

// boxTurn gives the Exif orientation for a turn of n quarters against the clock (irot)
// followed by a mirror (imir: 0 top-bottom, 1 left-right, -1 none), in the order in which
// they are applied (MIAF, ISO/IEC 23000-22; memory).
func boxTurn(quarters, mirror int) Orientation {
	turned := [4]Orientation{Upright, Turn90AntiClocks, Turn180, Turn90Clockwise}[quarters]
	switch mirror {
	case 0:
		return turned.Then(MirrorTopBottom)
	case 1:
		return turned.Then(MirrorLeftRight)
	}
	return turned
}
