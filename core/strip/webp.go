package strip

import (
	"bytes"
	"encoding/binary"

	"mivlet/core/facts"
)

// webp leaves the chunks of Exif, XMP and what nobody knows out of a WebP (RFC 9649, 2.7), and says so in its
// head.
func webp(data []byte, o facts.Orientation) ([]byte, error) {
	const head, frame = 12, 8
	if len(data) < head+frame || string(data[:4]) != "RIFF" || string(data[8:head]) != "WEBP" {
		return nil, ErrDamaged
	}
	const withExif, withXMP = 0x08, 0x04
	out := append(make([]byte, 0, len(data)), data[:head]...)
	end := min(len(data), int(binary.LittleEndian.Uint32(data[4:]))+frame) // what follows is no part of it
	exif := turned(o)
	extended, seen := false, false
	for at := head; at+frame <= end; {
		n := int64(binary.LittleEndian.Uint32(data[at+4:]))
		if n > int64(end-at-frame) {
			return nil, ErrDamaged
		}
		name, content := string(data[at:at+4]), data[at+frame:at+frame+int(n)]
		at += frame + int(n+n%2)
		switch name {
		case "VP8X":
			if len(content) < 10 {
				return nil, ErrDamaged
			}
			content = bytes.Clone(content)
			content[0] &^= withExif | withXMP
			if exif != nil {
				content[0] |= withExif
			}
			extended = true
		case "ANMF", "VP8 ", "VP8L":
			seen = true
		case "ICCP", "ANIM", "ALPH":
		default:
			continue
		}
		out = riffChunk(out, name, content)
	}
	if !seen {
		return nil, ErrDamaged
	}
	if extended && exif != nil {
		out = riffChunk(out, "EXIF", exif)
	}
	binary.LittleEndian.PutUint32(out[4:], uint32(len(out)-frame)) //nolint:gosec // no longer than it came
	return out, nil
}

func riffChunk(out []byte, name string, content []byte) []byte {
	out = binary.LittleEndian.AppendUint32(append(out, name...), uint32(len(content))) //nolint:gosec // as long as it came
	out = append(out, content...)
	if len(content)%2 == 1 {
		out = append(out, 0)
	}
	return out
}
