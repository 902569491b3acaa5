package facts

import (
	"errors"
	"image"
	"io"
	"math"

	"mivlet/core/fit"
)

// boxStructure reads the properties of an AVIF or HEIC still from its boxes
// (ISO/IEC 14496-12 and 23008-12, memory): size, depth, clean aperture, turn, mirror and
// profile. They are those of the picture that is meant: a phone's file holds others, too, such
// as a map of what is brighter on other screens. Where a file does not say which picture is
// meant, it is the largest, and what any of them has holds.
func boxStructure(rs io.ReadSeeker) (s structure, err error) {
	r, err := newReader(rs)
	if err != nil {
		return s, err
	}
	var aperture []byte
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
			s.items = newItems()
			said := appearance{turn: Upright}
			s.walkBoxes(body[min(4, len(body)):], &said, 0)
			if len(s.items.owned[s.items.primary]) > 0 {
				said = appearance{turn: Upright}
				for _, p := range s.items.own(s.items.primary) {
					said.read(p.kind, p.body)
				}
			}
			s.Turn, s.Profile, s.Primary, s.Depth = said.turn, said.profile, said.primaries, said.depth
			aperture = said.aperture
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
	if err := s.items.check(rs); err != nil {
		return s, err
	}
	if len(aperture) > 0 {
		clean, ok := cleanAperture(aperture, s.Size)
		if !ok {
			return s, errors.New("its clean aperture lies outside of it")
		}
		s.Clean, s.Coded, s.Size = clean, s.Size, fit.SizeOf(clean)
	}
	return s, nil
}

// appearance is how a picture is to be shown, as its properties say. They are applied in the order
// in which the picture has them.
type appearance struct {
	turn      Orientation
	aperture  []byte
	profile   []byte
	primaries string
	depth     int
}

// read reads one property.
func (a *appearance) read(kind string, body []byte) {
	switch {
	case kind == "pixi" && len(body) >= 6:
		a.depth = max(a.depth, int(body[5]))
	case kind == "irot" && len(body) >= 1:
		// Quarters against the clock (ISO/IEC 23008-12, 6.5.10, memory).
		a.turn = a.turn.Then([4]Orientation{Upright, Turn90AntiClocks, Turn180, Turn90Clockwise}[body[0]&3])
	case kind == "imir" && len(body) >= 1:
		a.turn = a.turn.Then([2]Orientation{MirrorTopBottom, MirrorLeftRight}[body[0]&1])
	case kind == "clap" && len(body) >= 32:
		a.aperture = body
	case kind == "colr" && len(body) >= 4:
		switch string(body[:4]) {
		case "prof", "rICC":
			a.profile = body[4:]
		case "nclx":
			if len(body) >= 8 {
				a.primaries = colours(int(be.Uint16(body[4:])), int(be.Uint16(body[6:])))
			}
		}
	}
}

// cleanAperture is the part of a picture that is to be seen (ISO/IEC 14496-12, 12.1.4, memory):
// fractions for its width and height, and for how far its middle lies right and below of the
// picture's. Where it begins within a pixel, that pixel is seen.
func cleanAperture(b []byte, whole fit.Size) (image.Rectangle, bool) {
	fraction := func(at int) (float64, bool) {
		over, under := int32(be.Uint32(b[at:])), be.Uint32(b[at+4:])
		return float64(over) / float64(under), under != 0
	}
	w, ok1 := fraction(0)
	h, ok2 := fraction(8)
	right, ok3 := fraction(16)
	below, ok4 := fraction(24)
	if !ok1 || !ok2 || !ok3 || !ok4 || w < 1 || h < 1 {
		return image.Rectangle{}, false
	}
	x := int(math.Floor(right + (float64(whole.W)-w)/2))
	y := int(math.Floor(below + (float64(whole.H)-h)/2))
	clean := image.Rect(x, y, x+int(math.Round(w)), y+int(math.Round(h)))
	return clean, clean.In(whole.Rect())
}

// walkBoxes reads the properties among boxes, and those inside them.
func (s *structure) walkBoxes(b []byte, said *appearance, depth int) {
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
			s.walkBoxes(body, said, depth+1)
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
		case kind == "auxC" && len(body) > 4 && string(body[4:]) != "" && containsAlpha(body):
			s.Alpha = true
		default:
			said.read(kind, body)
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
