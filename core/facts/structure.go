package facts

import (
	"bufio"
	"encoding/binary"
	"fmt"
	"image"
	"io"
	"time"

	"mivlet/core/fit"
	"mivlet/core/svg"
)

// structure is what the skeleton of a file tells: everything but the words.
// Each format has its reader in a file of its own.
type structure struct {
	Size     fit.Size
	Frames   int           // 1 for a still
	Pages    int           // pictures in a file that holds several beside each other; 0 and 1 for one
	Loop     int           // times an animation plays; 0 is for ever, 1 for a still
	Duration time.Duration // of one play
	Alpha    bool          // some pixels may be transparent
	Depth    int           // bits for each channel
	Model    string        // "RGB", "grey", "CMYK" or "palette"
	Turn     Orientation   // as boxes of the file tell it; 0 where they do not
	Profile  []byte        // ICC profile, whole
	Primary  string        // colour space that the file names without a profile
	CutOff   bool          // the file is shorter than it says
	XMP      []byte        // words in a place that the metadata library does not look at

	// Clean is the part of what is coded that is to be seen, which Size is the size of, and Coded the
	// size of all that is coded; empty where all is seen.
	Clean image.Rectangle
	Coded fit.Size

	Title, Description string       // words of a drawing
	Differs            *svg.Differs // of a drawing, where it is not drawn as it is meant
	Packed             bool         // it is a drawing whose file is compressed

	items    *items // of a box file
	controls int    // heads of frames that were met in a PNG
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

// reader walks a skeleton by lengths. What is passed over is not read.
type reader struct {
	*bufio.Reader
	file io.ReadSeeker
	size int64
}

func newReader(file io.ReadSeeker) (*reader, error) {
	size, err := file.Seek(0, io.SeekEnd)
	if err != nil {
		return nil, err
	}
	_, err = file.Seek(0, io.SeekStart)
	return &reader{bufio.NewReaderSize(file, 16<<10), file, size}, err
}

func (r *reader) take(n int) ([]byte, error) {
	if n < 0 || n > profileLimit {
		return nil, fmt.Errorf("a part of %d bytes", n)
	}
	b := make([]byte, n)
	_, err := io.ReadFull(r.Reader, b)
	return b, err
}

// skip passes over n bytes; it fails where the file ends before.
func (r *reader) skip(n int64) error {
	if n < 0 {
		return fmt.Errorf("a part of %d bytes", n)
	}
	if n <= int64(r.Buffered()) {
		_, err := r.Discard(int(n))
		return err
	}
	read, err := r.file.Seek(0, io.SeekCurrent)
	if err != nil {
		return err
	}
	to := read - int64(r.Buffered()) + n
	if to > r.size {
		return io.ErrUnexpectedEOF
	}
	if _, err = r.file.Seek(to, io.SeekStart); err == nil {
		r.Reset(r.file)
	}
	return err
}

var (
	be = binary.BigEndian
	le = binary.LittleEndian
)
