package facts

import (
	"errors"
	"fmt"
	"image/jpeg"
	"strings"

	"golang.org/x/image/bmp"
	"golang.org/x/image/tiff"
)

// isBigTIFF reports whether a file begins as a TIFF with 64-bit offsets does (BigTIFF design,
// "header": version 43; memory).
func isBigTIFF(head [4]byte) bool {
	return head == [4]byte{'I', 'I', 43, 0} || head == [4]byte{'M', 'M', 0, 43}
}

// Unread returns a [*TypeError] where a decoder failed because it does not know the way in which a
// whole picture is written; nil for all other errors, and for none.
func Unread(mediaType string, err error) *TypeError {
	var inTIFF tiff.UnsupportedError
	var inJPEG jpeg.UnsupportedError
	var told *TypeError
	way := ""
	switch {
	case err == nil:
		return nil
	case errors.As(err, &told):
		return told
	case errors.As(err, &inTIFF):
		way = tiffWay(string(inTIFF))
	case errors.As(err, &inJPEG):
		way = string(inJPEG)
	case errors.Is(err, bmp.ErrUnsupported):
		way = "run lengths, or bits that are spread in an unusual way"
	default:
		return nil
	}
	return &TypeError{mediaType, ErrNotTaken, way}
}

// tiffWays are ways to write a TIFF that its decoder names by their numbers (TIFF 6.0, sections 8,
// 16 and 22; Adobe Photoshop TIFF technical notes for 8 and later ones; memory).
var tiffWays = map[string]string{
	"compression value 6":     "JPEG inside",
	"compression value 7":     "JPEG inside",
	"compression value 34925": "LZMA",
	"compression value 50000": "Zstandard",
	"compression value 50001": "WebP inside",
	"color model":             "colours for print (CMYK) or another colour model",
	"sample format":           "numbers with a decimal point",
}

func tiffWay(said string) string {
	for part, way := range tiffWays {
		if strings.HasSuffix(said, part) {
			return way
		}
	}
	return said
}

// jpegWay is the way in which a JPEG is written that begins its frame with a marker and so many
// bits for each sample, where that way is not read; else empty (ITU-T T.81, table B.1).
func jpegWay(marker byte, depth int) string {
	switch {
	case marker == 0xC3:
		return "no loss (lossless JPEG)"
	case marker >= 0xC9:
		return "arithmetic coding"
	case marker >= 0xC5:
		return "several sizes in one (hierarchical JPEG)"
	case depth > 8:
		return fmt.Sprintf("%d bits for each colour", depth)
	}
	return ""
}
