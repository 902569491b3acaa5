package facts

import (
	"bufio"
	"encoding/binary"
	"fmt"
	"io"
	"time"

	"mivlet/core/fit"
)

// structure is what the skeleton of a file tells: everything but the words.
// Each format has its reader in a file of its own.
type structure struct {
	Size     fit.Size
	Frames   int           // 1 for a still
	Loop     int           // times an animation plays; 0 is for ever, 1 for a still
	Duration time.Duration // of one play
	Alpha    bool          // some pixels may be transparent
	Depth    int           // bits for each channel
	Model    string        // "RGB", "grey", "CMYK" or "palette"
	Turn     Orientation   // as boxes of the file tell it; 0 where they do not
	Profile  []byte        // ICC profile, whole
	Primary  string        // colour space that the file names without a profile
	CutOff   bool          // the file is shorter than it says
}

// readers read the skeleton of each type that is known.
var readers = map[string]func(io.ReadSeeker) (structure, error){
	"image/jpeg":    jpegStructure,
	"image/png":     pngStructure,
	"image/gif":     gifStructure,
	"image/webp":    webpStructure,
	"image/avif":    boxStructure,
	"image/heic":    boxStructure,
	"image/bmp":     bmpStructure,
	"image/tiff":    tiffStructure,
	"image/svg+xml": svgStructure,
}

// profileLimit bounds the bytes of a colour profile that is read.
const profileLimit = 4 << 20

// reader counts what it reads, so that a skeleton can be walked by lengths.
type reader struct {
	*bufio.Reader
	at int64
}

func newReader(r io.ReadSeeker) (*reader, error) {
	_, err := r.Seek(0, io.SeekStart)
	return &reader{Reader: bufio.NewReaderSize(r, 32<<10)}, err
}

func (r *reader) take(n int) ([]byte, error) {
	if n < 0 || n > profileLimit {
		return nil, fmt.Errorf("a part of %d bytes", n)
	}
	b := make([]byte, n)
	got, err := io.ReadFull(r.Reader, b)
	r.at += int64(got)
	return b, err
}

func (r *reader) skip(n int64) error {
	if n < 0 {
		return fmt.Errorf("a part of %d bytes", n)
	}
	got, err := io.CopyN(io.Discard, r.Reader, n)
	r.at += got
	return err
}

var (
	be = binary.BigEndian
	le = binary.LittleEndian
)
