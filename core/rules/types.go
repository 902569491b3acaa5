package rules

import (
	"bytes"
	"encoding/hex"
	"slices"
	"strings"
)

// Type is what the house does with one type of file. Its extension, its media
// type and how it is recognised belong together.
type Type struct {
	Title     string `json:"title"`
	MediaType string `json:"media_type"`
	Extension string `json:"extension"` // with its dot, lower case
	Do        Do     `json:"do"`
	To        string `json:"to,omitempty"`    // media type that it is converted to
	Say       string `json:"say,omitempty"`   // told to the editor where it is refused
	Bytes     string `json:"bytes,omitempty"` // leading bytes in hex, of a type of the house's own
}

// Do is what is done with a file that comes in.
type Do string

// What can be done.
const (
	Keep    Do = "keep"
	Convert Do = "convert"
	Refuse  Do = "refuse"
)

// known are the types that Mivlet reads itself (IANA media types registry).
var known = map[string]string{
	"image/jpeg": ".jpg", "image/png": ".png", "image/gif": ".gif", "image/webp": ".webp", "image/avif": ".avif",
	"image/heic": ".heic", "image/bmp": ".bmp", "image/tiff": ".tif", "image/svg+xml": ".svg",
}

// Own reports whether the type is the house's own: Mivlet knows it by its
// leading bytes alone and cannot make cuts of it.
func (t Type) Own() bool { return known[t.MediaType] == "" }

// targets are the media types that a picture can be converted to.
var targets = []string{"image/jpeg", "image/png", "image/webp"}

// Targets lists the media types that a picture can be converted to.
func Targets() []string { return slices.Clone(targets) }

// Recognise returns the type of the house's own that a file begins with.
func (r Rules) Recognise(head []byte) (Type, bool) {
	return find(r.Types, func(t Type) bool {
		if !t.Own() || t.Bytes == "" {
			return false
		}
		lead, err := hex.DecodeString(t.Bytes)
		return err == nil && len(lead) > 0 && bytes.HasPrefix(head, lead)
	})
}

// Taken lists the types of pictures that the house takes, as editors call them:
// JPEG is written JPG.
func (r Rules) Taken() []string {
	var kinds []string
	for _, t := range r.Types {
		if t.Do != Refuse && !t.Own() {
			kinds = append(kinds, strings.ToUpper(strings.TrimPrefix(t.Extension, ".")))
		}
	}
	return kinds
}

// usualTypes is the list a house starts from.
func usualTypes() []Type {
	return []Type{
		{Title: "JPEG photo", MediaType: "image/jpeg", Extension: ".jpg", Do: Keep},
		{Title: "PNG picture", MediaType: "image/png", Extension: ".png", Do: Keep},
		{Title: "GIF, also moving", MediaType: "image/gif", Extension: ".gif", Do: Keep},
		{Title: "WebP, also moving", MediaType: "image/webp", Extension: ".webp", Do: Keep},
		{Title: "AVIF picture", MediaType: "image/avif", Extension: ".avif", Do: Keep},
		{Title: "HEIC photo from a phone", MediaType: "image/heic", Extension: ".heic", Do: Convert, To: "image/jpeg"},
		{Title: "BMP picture", MediaType: "image/bmp", Extension: ".bmp", Do: Convert, To: "image/png"},
		{Title: "TIFF scan", MediaType: "image/tiff", Extension: ".tif", Do: Convert, To: "image/png"},
		{Title: "SVG drawing", MediaType: "image/svg+xml", Extension: ".svg", Do: Refuse,
			Say: "A drawing of this type can carry scripts. Save it as PNG, twice as wide as its place, and bring that."},
	}
}
