package rules

import (
	"bytes"
	"cmp"
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

// documents are the types of files that visitors can download where the house says nothing
// else of them: documents, tables, texts and archives (IANA media types registry).
var documents = map[string]string{
	"application/pdf": ".pdf", "application/rtf": ".rtf", "text/rtf": ".rtf", "text/csv": ".csv", "text/plain": ".txt", "application/json": ".json", "text/calendar": ".ics",
	"application/gpx+xml": ".gpx", "application/epub+zip": ".epub", "application/zip": ".zip",
	"application/vnd.oasis.opendocument.text": ".odt", "application/vnd.oasis.opendocument.spreadsheet": ".ods", "application/vnd.oasis.opendocument.presentation": ".odp",
	"application/vnd.openxmlformats-officedocument.wordprocessingml.document":   ".docx",
	"application/vnd.openxmlformats-officedocument.spreadsheetml.sheet":         ".xlsx",
	"application/vnd.openxmlformats-officedocument.presentationml.presentation": ".pptx",
}

// acting are types whose files can act in a browser or on a machine, so that no house gives
// them to visitors.
var acting = []string{
	"text/html", "application/xhtml+xml", "image/svg+xml", "text/xml", "application/xml", "text/css", "text/javascript", "application/javascript", "application/wasm",
	"application/x-executable", "application/x-elf", "application/x-object", "application/x-sharedlib", "application/x-mach-binary", "application/vnd.microsoft.portable-executable",
	"application/x-msdownload", "application/x-sh", "text/x-shellscript", "text/x-python", "text/x-perl", "text/x-php", "application/java-archive", "application/jar", "application/x-java-applet",
	"application/x-shockwave-flash", "application/vnd.android.package-archive",
}

// drawing is the type whose files can act, and can be converted to pictures that do not.
const drawing = "image/svg+xml"

// Drawing reports whether files of the type are drawings. They can carry scripts, so they come to
// visitors as pictures that were drawn of them, or not at all.
func (t Type) Drawing() bool { return t.MediaType == drawing }

// Acts reports whether files of a media type, with or without parameters, can act in a browser or
// on a machine.
func Acts(mediaType string) bool {
	plain, _, _ := strings.Cut(mediaType, ";")
	return slices.Contains(acting, strings.ToLower(strings.TrimSpace(plain)))
}

// OfPicture reports whether an extension, such as .JPG, is that of a picture.
func OfPicture(extension string) bool {
	extension = strings.ToLower(extension)
	for _, ext := range known {
		if ext == extension {
			return true
		}
	}
	return slices.Contains([]string{".jpeg", ".jpe", ".tiff", ".heif", ".jfif"}, extension)
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

// Arriving is what the house does with a file that its content tells to be of a media type, and
// that begins with head: the one answer for every way in. The house's list rules, by the media
// type and then by leading bytes; what it does not name is kept for visitors to
// download. What can act is never kept. known is false for what nothing is said of.
func (r Rules) Arriving(mediaType string, head []byte) (t Type, known bool) {
	t, known = r.Type(mediaType)
	if !known {
		t, known = r.Recognise(head)
	}
	if ext, is := documents[mediaType]; !known && is {
		t, known = Type{Title: strings.ToUpper(strings.TrimPrefix(ext, ".")), MediaType: mediaType, Extension: ext, Do: Keep}, true
	}
	if drawn := t.Do == Convert && t.Drawing() && mediaType == drawing; known && !drawn && (Acts(mediaType) || Acts(t.MediaType)) {
		t.Do, t.To = Refuse, ""
		t.Say = cmp.Or(t.Say, "Files of this type can act by themselves. Save what it shows as a picture or as a PDF.")
	}
	return t, known
}

// Documents lists the extensions of the files that are kept for visitors to download, though
// the house's list does not name their types.
func (r Rules) Documents() []string {
	var all []string
	for media, ext := range documents {
		if _, named := r.Type(media); !named && !slices.Contains(all, ext) {
			all = append(all, ext)
		}
	}
	slices.Sort(all)
	return all
}

// Downloads lists the extensions of all files that are kept for visitors to download.
func (r Rules) Downloads() []string {
	all := r.Documents()
	for _, t := range r.Types {
		if t.Own() && t.Do == Keep {
			all = append(all, t.Extension)
		}
	}
	slices.Sort(all)
	return slices.Compact(all)
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
