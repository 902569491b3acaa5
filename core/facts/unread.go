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
// picture is written, and that way is known to be used; nil for all other errors, and for none. What
// a decoder says of numbers that no program writes is damage.
func Unread(mediaType string, err error) *TypeError {
	var inTIFF tiff.UnsupportedError
	var inJPEG jpeg.UnsupportedError
	var told *TypeError
	way := ""
	switch {
	case errors.As(err, &told):
		return told
	case errors.As(err, &inTIFF):
		way = tiffWays[string(inTIFF)]
		if strings.HasPrefix(string(inTIFF), "BitsPerSample of") {
			way = "an unusual number of bits for each colour"
		}
	case errors.As(err, &inJPEG):
		way = jpegWays[string(inJPEG)]
	case errors.Is(err, bmp.ErrUnsupported):
		way = "run lengths, or bits that are spread in an unusual way"
	}
	if way == "" {
		return nil
	}
	return &TypeError{mediaType, ErrNotTaken, way}
}

// tiffWays are ways to write a TIFF, by what its decoder says of them (TIFF 6.0, sections 8, 16, 19
// and 22; Adobe Photoshop TIFF technical notes for later ones; memory).
var tiffWays = map[string]string{
	"compression value 6":     "JPEG inside",
	"compression value 7":     "JPEG inside",
	"compression value 34925": "LZMA",
	"compression value 50000": "Zstandard",
	"compression value 50001": "WebP inside",
	"color model":             "colours for print (CMYK) or another colour model",
	"extra samples":           "transparency or other channels in an unusual way",
	"sample format":           "numbers with a decimal point",
}

// jpegWays are ways to write a JPEG, by what the standard library says of them; see jpegWay for those
// that its head tells.
var jpegWays = map[string]string{
	"luma/chroma subsampling ratio":                                           "fewer pixels of colour in an unusual way",
	"unknown color model: 4-component JPEG doesn't have Adobe APP14 metadata": "four colours that it does not name",
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
