// Package facts tells what a file is, judged by its bytes: its type, its size
// as it is stored and as it stands upright, its frames, and what travels inside
// it unseen. It reads the head of the file and decodes no pixels.
package facts

import (
	"cmp"
	"errors"
	"fmt"
	"io"
	"strings"
	"time"

	"github.com/gabriel-vasile/mimetype"

	"mivlet/core/fit"
	"mivlet/core/svg"
)

// Facts is what can be known of a picture without looking at its pixels.
type Facts struct {
	MediaType   string      `json:"media_type"`
	Stored      fit.Size    `json:"stored"`      // pixels as they lie in the file; of a drawing, into which it is drawn
	Orientation Orientation `json:"orientation"` // how they are to be turned
	// Clean is the part of the coded pixels that is to be seen, which Stored is the size of, and
	// Coded how many pixels are coded; both are empty where all are seen.
	Coded      fit.Size  `json:"coded,omitzero"`
	Clean      fit.Box   `json:"clean,omitzero"`
	Frames     int       `json:"frames"`            // 1 for a still
	Pages      int       `json:"pages,omitempty"`   // pictures in the file, of which the first is read; 0 and 1 for one
	Loop       int       `json:"loop"`              // times an animation plays; 0 is for ever
	DurationMS int64     `json:"duration_ms"`       // of one play
	Alpha      bool      `json:"alpha"`             // some pixels may be transparent
	Depth      int       `json:"depth"`             // bits for each channel
	Profile    string    `json:"profile"`           // colour profile by name; empty means sRGB by default
	Guessed    bool      `json:"guessed,omitempty"` // its colours are a printer's, and no profile says which printer's
	Bytes      int64     `json:"bytes"`
	CutOff     bool      `json:"cut_off,omitempty"` // the file is shorter than it says
	Taken      time.Time `json:"taken,omitzero"`    // as the camera's clock said, without zone
	Camera     string    `json:"camera,omitempty"`
	Position   bool      `json:"position"`  // carries a GPS position
	Thumbnail  bool      `json:"thumbnail"` // carries a small copy of itself
	MakerNotes bool      `json:"maker_notes"`
	Serial     bool      `json:"serial,omitempty"` // carries the number of a camera, a lens or its owner
	People     []string  `json:"people,omitempty"` // names of who is seen, as somebody noted in it

	Packed bool `json:"packed,omitempty"` // a drawing whose file is compressed

	// Differs is what of a drawing is not drawn as its author sees it; nil where there is nothing.
	Differs *svg.Differs `json:"differs,omitempty"`

	// The words that came with it.
	Title           string   `json:"title,omitempty"`
	Description     string   `json:"description,omitempty"`
	Alt             string   `json:"alt,omitempty"`              // IPTC alt text
	LongDescription string   `json:"long_description,omitempty"` // IPTC extended description
	Credit          string   `json:"credit,omitempty"`
	Copyright       string   `json:"copyright,omitempty"`
	Keywords        []string `json:"keywords,omitempty"`
}

// Upright returns the size of the picture as it is to be seen.
func (f Facts) Upright() fit.Size { return f.Orientation.Turned(f.Stored) }

// Decoded is how many pixels a decoder of the file makes, whether they are seen or not.
func (f Facts) Decoded() fit.Size {
	if f.Coded.Empty() {
		return f.Stored
	}
	return f.Coded
}

// KeepsMotion reports whether it moves and its motion can be read, so that a
// cut of it moves, too.
func (f Facts) KeepsMotion() bool {
	return f.Frames > 1 && (f.MediaType == "image/gif" || f.MediaType == "image/webp" || f.MediaType == "image/png")
}

// Ending is that of the name of the file itself, with its dot, or "" where its type is unknown.
func (f Facts) Ending() string {
	if f.Packed {
		return svg.PackedEnding
	}
	return Extension(f.MediaType)
}

// Extension returns the extension for a media type, with its dot, or "".
func Extension(mediaType string) string { return extensions[mediaType] }

// extensions of the media types that are known (IANA media types registry).
var extensions = map[string]string{
	"image/jpeg":    ".jpg",
	"image/png":     ".png",
	"image/gif":     ".gif",
	"image/webp":    ".webp",
	"image/avif":    ".avif",
	"image/heic":    ".heic",
	"image/bmp":     ".bmp",
	"image/tiff":    ".tif",
	"image/svg+xml": ".svg",
}

// Errors by kind. Each is wrapped with what was found.
var (
	ErrEmpty      = errors.New("the file is empty")
	ErrNotPicture = errors.New("the file is not a picture")
	ErrNotTaken   = errors.New("this kind of picture is not taken")
	ErrDamaged    = errors.New("the picture is damaged")
)

// TypeError tells which type was found where a picture was expected.
type TypeError struct {
	MediaType string
	Kind      error  // ErrNotPicture or ErrNotTaken
	Way       string // the way of writing the type that is not read, where others are; else empty
}

func (e *TypeError) Error() string {
	if e.Way != "" {
		return fmt.Sprintf("%v: its bytes say %s, and it is written with %s", e.Kind, e.MediaType, e.Way)
	}
	return fmt.Sprintf("%v: its bytes say %s", e.Kind, e.MediaType)
}

// Unwrap returns the kind.
func (e *TypeError) Unwrap() error { return e.Kind }

// Read returns the facts of the file that r reads, from its start. It leaves r
// somewhere in the file.
func Read(r io.ReadSeeker) (Facts, error) {
	f := Facts{Orientation: Upright, Frames: 1}
	end, err := r.Seek(0, io.SeekEnd)
	if err != nil {
		return f, err
	}
	if end == 0 {
		return f, ErrEmpty
	}
	f.Bytes = end

	if f.MediaType, err = sniff(r); err != nil {
		return f, err
	}
	skeleton, err := readers[f.MediaType](r)
	if unread := Unread(f.MediaType, err); unread != nil {
		return f, unread
	}
	if err != nil {
		return f, fmt.Errorf("%w: its head cannot be read (%v)", ErrDamaged, err)
	}
	f.Stored, f.Frames, f.Loop, f.DurationMS = skeleton.Size, skeleton.Frames, skeleton.Loop, skeleton.Duration.Milliseconds()
	f.CutOff, f.Clean, f.Coded, f.Pages = skeleton.CutOff, fit.BoxOf(skeleton.Clean), skeleton.Coded, skeleton.Pages
	f.Alpha, f.Depth, f.Profile = skeleton.Alpha, skeleton.Depth, skeleton.Primary
	f.Title, f.Description, f.Differs = skeleton.Title, skeleton.Description, skeleton.Differs
	f.Packed = skeleton.Packed
	if f.Stored.Empty() || f.Stored.W > maxSide || f.Stored.H > maxSide {
		return f, fmt.Errorf("%w: it says that it measures %d × %d", ErrDamaged, f.Stored.W, f.Stored.H)
	}
	if len(skeleton.Profile) > 0 {
		f.Profile = cmp.Or(profileName(skeleton.Profile), "a profile without a name")
	}
	f.Guessed = skeleton.Model == "CMYK" && f.Profile == ""
	readTags(r, &f)
	readXMP(skeleton.XMP, &f)
	if skeleton.Turn != 0 {
		f.Orientation = skeleton.Turn // boxes rule over tags in files that have both
	}
	return f, nil
}

// maxSide is the longest side that is believed at all, in pixels.
const maxSide = 1 << 24

// sniff tells the media type by content and refuses what is not taken.
func sniff(r io.ReadSeeker) (string, error) {
	if _, err := r.Seek(0, io.SeekStart); err != nil {
		return "", err
	}
	var head [4]byte
	if n, _ := io.ReadFull(r, head[:]); n == 4 && isBigTIFF(head) {
		return "", &TypeError{"image/tiff", ErrNotTaken, "64-bit offsets (BigTIFF)"}
	}
	if _, err := r.Seek(0, io.SeekStart); err != nil {
		return "", err
	}
	m, err := mimetype.DetectReader(r)
	if err != nil {
		return "", err
	}
	for kind := range extensions {
		if m.Is(kind) {
			return kind, nil
		}
	}
	switch m.String() {
	case "image/apng", "image/vnd.mozilla.apng":
		return "image/png", nil
	case "image/heif", "image/heic-sequence", "image/heif-sequence":
		return "image/heic", nil
	}
	name := m.String()
	if m.Is("application/gzip") || m.Is("text/xml") || strings.HasPrefix(name, "text/plain; charset=utf-16") {
		if begins, err := drawingBegins(r); begins || err != nil {
			return "image/svg+xml", err
		}
	}
	for p := m; p != nil; p = p.Parent() {
		if len(p.String()) > 6 && p.String()[:6] == "image/" {
			return "", &TypeError{p.String(), ErrNotTaken, ""}
		}
	}
	return "", &TypeError{name, ErrNotPicture, ""}
}

// drawingBegins looks for a drawing behind declarations and remarks that are longer than what files
// are usually told by.
func drawingBegins(r io.ReadSeeker) (bool, error) {
	if _, err := r.Seek(0, io.SeekStart); err != nil {
		return false, err
	}
	head, err := io.ReadAll(io.LimitReader(r, 64<<10))
	return svg.Begins(head), err
}

// MediaType tells the media type of a picture by its content and leaves r at
// its start.
func MediaType(r io.ReadSeeker) (string, error) {
	kind, err := sniff(r)
	if err == nil {
		_, err = r.Seek(0, io.SeekStart)
	}
	return kind, err
}
