// Package facts tells what a file is, judged by its bytes: its type, its size
// as it is stored and as it stands upright, its frames, and what travels inside
// it unseen. It reads the head of the file and decodes no pixels.
package facts

import (
	"errors"
	"fmt"
	"image"
	_ "image/gif"  // registers GIF
	_ "image/jpeg" // registers JPEG
	_ "image/png"  // registers PNG
	"io"
	"time"

	"github.com/gabriel-vasile/mimetype"
	_ "golang.org/x/image/webp" // registers WebP

	"mivlet/core/fit"
)

// Facts is what can be known of a picture without looking at its pixels.
type Facts struct {
	MediaType   string      `json:"media_type"`
	Stored      fit.Size    `json:"stored"`      // pixels as they lie in the file
	Orientation Orientation `json:"orientation"` // how they are to be turned
	Frames      int         `json:"frames"`      // 1 for a still
	Bytes       int64       `json:"bytes"`
	Taken       time.Time   `json:"taken,omitzero"` // as the camera's clock said, without zone
	Camera      string      `json:"camera,omitempty"`
	Position    bool        `json:"position"`  // carries a GPS position
	Thumbnail   bool        `json:"thumbnail"` // carries a small copy of itself
	Credit      string      `json:"credit,omitempty"`
	Alt         string      `json:"alt,omitempty"`         // IPTC alt text that came with it
	Description string      `json:"description,omitempty"` // caption that came with it
}

// Upright returns the size of the picture as it is to be seen.
func (f Facts) Upright() fit.Size {
	if f.Orientation.Swaps() {
		return fit.Size{W: f.Stored.H, H: f.Stored.W}
	}
	return f.Stored
}

// Extension returns the extension for a media type, with its dot, or "".
func Extension(mediaType string) string { return extensions[mediaType] }

var extensions = map[string]string{
	"image/jpeg": ".jpg",
	"image/png":  ".png",
	"image/gif":  ".gif",
	"image/webp": ".webp",
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
	Kind      error // ErrNotPicture or ErrNotTaken
}

func (e *TypeError) Error() string { return fmt.Sprintf("%v: its bytes say %s", e.Kind, e.MediaType) }

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
	if _, err := r.Seek(0, io.SeekStart); err != nil {
		return f, err
	}
	cfg, _, err := image.DecodeConfig(r)
	if err != nil {
		return f, fmt.Errorf("%w: its head cannot be read (%v)", ErrDamaged, err)
	}
	f.Stored = fit.Size{W: cfg.Width, H: cfg.Height}
	if f.Stored.Empty() {
		return f, fmt.Errorf("%w: it says that it measures %d × %d", ErrDamaged, cfg.Width, cfg.Height)
	}
	if f.MediaType == "image/gif" {
		if _, err := r.Seek(0, io.SeekStart); err != nil {
			return f, err
		}
		f.Frames = max(1, gifFrames(r))
	}
	readTags(r, &f)
	return f, nil
}

// sniff tells the media type by content and refuses what is not taken.
func sniff(r io.ReadSeeker) (string, error) {
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
	if m.Is("image/vnd.mozilla.apng") {
		return "image/png", nil
	}
	name := m.String()
	for p := m; p != nil; p = p.Parent() {
		if len(p.String()) > 6 && p.String()[:6] == "image/" {
			return "", &TypeError{p.String(), ErrNotTaken}
		}
	}
	return "", &TypeError{name, ErrNotPicture}
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
