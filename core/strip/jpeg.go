package strip

import (
	"bytes"
	"encoding/binary"

	"mivlet/core/facts"
)

// jpeg keeps of a JPEG (ITU-T T.81, B.1 and B.2) all segments of its coding, the colour profile in APP2
// (ICC.1:2022, annex B.4), the colour transform in APP14 (T.872, 6.5.3) and the head of JFIF without its
// small copy (T.871, 10). What follows the end of the picture is left out.
func jpeg(data []byte, o facts.Orientation) ([]byte, error) {
	if len(data) < 2 || data[0] != 0xFF || data[1] != 0xD8 {
		return nil, ErrDamaged
	}
	out := append(make([]byte, 0, len(data)), data[:2]...)
	exif := turned(o)
	at := 2
	for {
		if at >= len(data) || data[at] != 0xFF {
			return nil, ErrDamaged
		}
		for at < len(data) && data[at] == 0xFF { // a marker may be filled up with those
			at++
		}
		if at >= len(data) {
			return nil, ErrDamaged
		}
		marker := data[at]
		at++
		if marker == 0xD9 { // the end
			return append(out, 0xFF, 0xD9), nil
		}
		if marker >= 0xD0 && marker <= 0xD7 || marker == 0x01 {
			continue
		}
		if at+2 > len(data) {
			return nil, ErrDamaged
		}
		n := int(binary.BigEndian.Uint16(data[at:]))
		if n < 2 || at+n > len(data) {
			return nil, ErrDamaged
		}
		body := data[at+2 : at+n]
		at += n
		jfif := marker == 0xE0 && len(body) >= 14 && bytes.HasPrefix(body, []byte("JFIF\x00"))
		if exif != nil && !jfif { // JFIF comes first, then Exif
			out = segment(out, 0xE1, append([]byte("Exif\x00\x00"), exif...))
			exif = nil
		}
		switch {
		case jfif:
			out = segment(out, marker, append(bytes.Clone(body[:12]), 0, 0))
		case marker == 0xE2 && bytes.HasPrefix(body, []byte("ICC_PROFILE\x00")), marker == 0xEE && bytes.HasPrefix(body, []byte("Adobe")):
			out = segment(out, marker, body)
		case marker >= 0xE0 && marker <= 0xEF, marker == 0xFE:
		default:
			out = segment(out, marker, body)
		}
		if marker == 0xDA {
			end := scanEnd(data, at)
			out = append(out, data[at:end]...)
			if end == len(data) {
				return nil, ErrDamaged // it is cut off
			}
			at = end
		}
	}
}

func segment(out []byte, marker byte, body []byte) []byte {
	out = append(out, 0xFF, marker)
	out = binary.BigEndian.AppendUint16(out, uint16(len(body)+2)) //nolint:gosec // as long as it came, or shorter
	return append(out, body...)
}

// scanEnd is where the coded pixels end that begin at a place: at a marker other than a restart (T.81,
// B.1.1.2 and B.1.1.5: in them, 0xFF is followed by 0).
func scanEnd(data []byte, at int) int {
	for ; at+1 < len(data); at++ {
		if next := data[at+1]; data[at] == 0xFF && next != 0 && next != 0xFF && (next < 0xD0 || next > 0xD7) {
			return at
		}
	}
	return len(data)
}
