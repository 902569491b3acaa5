package strip

import (
	"encoding/binary"
	"hash/crc32"
	"strings"

	"mivlet/core/facts"
)

// kept are the chunks of a PNG that have a say in what is seen (W3C PNG, third edition, 11). All others go,
// texts, times and Exif among them.
var kept = map[string]bool{
	"IHDR": true, "PLTE": true, "IDAT": true, "IEND": true, "tRNS": true, "cHRM": true, "gAMA": true, "iCCP": true, "sBIT": true, "sRGB": true,
	"cICP": true, "mDCV": true, "cLLI": true, "bKGD": true, "pHYs": true, "acTL": true, "fcTL": true, "fdAT": true,
}

func png(data []byte, o facts.Orientation) ([]byte, error) {
	const head = "\x89PNG\r\n\x1a\n"
	const signature, frame = len(head), 12 // bytes; of a chunk, what is not its content
	if !strings.HasPrefix(string(data[:min(len(data), signature)]), head) {
		return nil, ErrDamaged
	}
	out := append(make([]byte, 0, len(data)), data[:signature]...)
	for at := signature; at+frame <= len(data); {
		n := int64(binary.BigEndian.Uint32(data[at:])) + frame
		if n > int64(len(data)-at) {
			return nil, ErrDamaged
		}
		chunk := data[at : at+int(n)]
		at += int(n)
		name := string(chunk[4:8])
		if kept[name] {
			out = append(out, chunk...)
		}
		switch exif := turned(o); {
		case name == "IHDR" && exif != nil:
			out = append(out, pngChunk("eXIf", exif)...)
		case name == "IEND":
			return out, nil
		}
	}
	return nil, ErrDamaged // it is cut off
}

func pngChunk(name string, content []byte) []byte {
	chunk := binary.BigEndian.AppendUint32(nil, uint32(len(content))) //nolint:gosec // a few bytes
	chunk = append(append(chunk, name...), content...)
	return binary.BigEndian.AppendUint32(chunk, crc32.ChecksumIEEE(chunk[4:]))
}
