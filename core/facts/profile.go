package facts

import (
	"bytes"
	"io"
	"strings"
	"unicode/utf16"
)

// Profile returns the ICC profile inside a picture and the name of the colour
// space that the file gives without one. Both are empty where the file says
// nothing, which means sRGB.
func Profile(r io.ReadSeeker, mediaType string) (icc []byte, named string) {
	read, ok := readers[mediaType]
	if !ok {
		return nil, ""
	}
	s, err := read(r)
	if err != nil {
		return nil, ""
	}
	return s.Profile, s.Primary
}

// profileName returns the description of an ICC profile: its desc tag, as text
// (version 2) or as a localised string (version 4), ICC.1:2022, 9.2.41.
func profileName(icc []byte) string {
	tag := ICCTag(icc, "desc")
	switch {
	case len(tag) >= 12 && string(tag[:4]) == "desc":
		n := int(be.Uint32(tag[8:]))
		if n > 0 && 12+n <= len(tag) {
			return strings.TrimRight(string(tag[12:12+n]), "\x00 ")
		}
	case len(tag) >= 28 && string(tag[:4]) == "mluc":
		n, at := int(be.Uint32(tag[20:])), int(be.Uint32(tag[24:]))
		if at >= 0 && n >= 0 && at+n <= len(tag) {
			units := make([]uint16, n/2)
			for i := range units {
				units[i] = be.Uint16(tag[at+2*i:])
			}
			return strings.TrimRight(string(utf16.Decode(units)), "\x00 ")
		}
	}
	return ""
}

// ICCTag returns the data of a tag of an ICC profile, or nil.
func ICCTag(icc []byte, signature string) []byte {
	if len(icc) < 132 || !bytes.Equal(icc[36:40], []byte("acsp")) {
		return nil
	}
	count := int(be.Uint32(icc[128:]))
	for i := 0; i < count && i < 200 && 144+12*i <= len(icc); i++ {
		entry := icc[132+12*i:]
		at, n := int(be.Uint32(entry[4:])), int(be.Uint32(entry[8:]))
		if string(entry[:4]) == signature && at >= 0 && n >= 8 && at+n <= len(icc) && at+n > at {
			return icc[at : at+n]
		}
	}
	return nil
}
