package facts

import (
	"bytes"
	"encoding/binary"
	"fmt"
)

// Extras lists what a finished file carries besides the picture: every segment
// of a JPEG (ITU-T T.81, B.1) and every chunk of a PNG (W3C PNG, 11) that is
// not structure. A clean cut gives nil.
func Extras(data []byte) []string {
	switch {
	case bytes.HasPrefix(data, []byte{0xFF, 0xD8}):
		return jpegExtras(data)
	case bytes.HasPrefix(data, []byte("\x89PNG\r\n\x1a\n")):
		return pngExtras(data)
	}
	return nil
}

func jpegExtras(data []byte) []string {
	var found []string
	for i := 2; i+4 <= len(data) && data[i] == 0xFF; {
		marker := data[i+1]
		if marker == 0xDA { // the scan: picture from here on
			break
		}
		length := int(binary.BigEndian.Uint16(data[i+2:]))
		switch {
		case marker == 0xE0 && bytes.HasPrefix(data[i+4:], []byte("JFIF\x00")):
		case marker >= 0xE0 && marker <= 0xEF:
			found = append(found, fmt.Sprintf("APP%d", marker&0xF))
		case marker == 0xFE:
			found = append(found, "comment")
		}
		i += 2 + max(length, 2)
	}
	return found
}

func pngExtras(data []byte) []string {
	structure := map[string]bool{"IHDR": true, "PLTE": true, "tRNS": true, "IDAT": true, "IEND": true}
	var found []string
	for i := 8; i+12 <= len(data); {
		kind := string(data[i+4 : i+8])
		if !structure[kind] {
			found = append(found, kind)
		}
		i += 12 + int(binary.BigEndian.Uint32(data[i:]))
	}
	return found
}
