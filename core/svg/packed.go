package svg

import (
	"bytes"
	"compress/gzip"
	"errors"
	"fmt"
	"io"
)

// PackedEnding is the ending of the names of drawings that are compressed (SVG 2, appendix P, media
// type registration: such files are gzip files).
const PackedEnding = ".svgz"

// gzipped is what a gzip file begins with (RFC 1952, 2.3.1), with its one method.
var gzipped = []byte{0x1f, 0x8b, 8}

// Packed reports whether a file that begins with head is compressed.
func Packed(head []byte) bool { return bytes.HasPrefix(head, gzipped) }

// unpacked is a file without its compression: as far as it goes, where it ends too early. It fails
// with [ErrDrawing] where it is damaged or comes out larger than drawings may be.
func unpacked(file []byte) ([]byte, error) {
	if !Packed(file) {
		return file, nil
	}
	r, err := gzip.NewReader(bytes.NewReader(file))
	if err != nil {
		return nil, fmt.Errorf("%w: %v", ErrDrawing, err)
	}
	out, err := io.ReadAll(io.LimitReader(r, maxBytes+1))
	if err != nil && !errors.Is(err, io.ErrUnexpectedEOF) {
		return nil, fmt.Errorf("%w: %v", ErrDrawing, err)
	}
	return out, nil
}
