// Package strip takes out of the file of a picture what is not the picture: positions, dates, names, numbers
// of cameras, small copies and comments. The coded pixels stay as they are, byte for byte, and so do the
// colour profile, the motion and the way the picture is turned.
//
//	clean, err := strip.Strip(data, known)
package strip

import (
	"encoding/binary"
	"errors"
	"fmt"

	"mivlet/core/facts"
)

// Errors by kind.
var (
	ErrType    = errors.New("nothing can be taken out of this kind of file")
	ErrDamaged = errors.New("the file is damaged")
)

// Strip returns the file without what is not the picture; known are its facts. It fails with [ErrType] for
// other than JPEG, PNG, GIF and WebP, and with [ErrDamaged].
func Strip(data []byte, known facts.Facts) ([]byte, error) {
	switch known.MediaType {
	case "image/jpeg":
		return jpeg(data, known.Orientation)
	case "image/png":
		return png(data, known.Orientation)
	case "image/gif":
		return gif(data)
	case "image/webp":
		return webp(data, known.Orientation)
	}
	return nil, fmt.Errorf("%w: %s", ErrType, known.MediaType)
}

// turned is the only thing that stays of Exif (CIPA DC-008, 4.5 and 4.6.4): how the picture is turned. nil
// where it stands upright.
func turned(o facts.Orientation) []byte {
	if o <= facts.Upright || o > 8 {
		return nil
	}
	const orientation, short = 0x0112, 3
	exif := []byte("MM\x00\x2a\x00\x00\x00\x08") // big end first, the first directory follows
	exif = binary.BigEndian.AppendUint16(exif, 1)
	exif = binary.BigEndian.AppendUint16(exif, orientation)
	exif = binary.BigEndian.AppendUint16(exif, short)
	exif = binary.BigEndian.AppendUint32(exif, 1)
	exif = binary.BigEndian.AppendUint16(exif, uint16(o)) //nolint:gosec // 2 to 8
	return append(exif, 0, 0, 0, 0, 0, 0)                 // the value is padded, and no directory follows
}
