package facts

import (
	"bytes"
	"encoding/binary"
	"fmt"
	"io"
	"slices"
	"strings"
	"time"

	"github.com/bep/imagemeta"
)

var tagFormats = map[string]imagemeta.ImageFormat{
	"image/jpeg": imagemeta.JPEG,
	"image/png":  imagemeta.PNG,
	"image/webp": imagemeta.WebP,
	"image/avif": imagemeta.AVIF,
	"image/heic": imagemeta.HEIF,
	"image/tiff": imagemeta.TIFF,
}

// readTags fills in what EXIF, IPTC and XMP say. Tags that cannot be read are
// no reason to refuse a picture: what was read until then is kept.
func readTags(r io.ReadSeeker, f *Facts) {
	format, ok := tagFormats[f.MediaType]
	if !ok {
		return
	}
	if _, err := r.Seek(0, io.SeekStart); err != nil {
		return
	}
	_, _ = imagemeta.Decode(imagemeta.Options{
		R:               r,
		ImageFormat:     format,
		Sources:         imagemeta.EXIF | imagemeta.IPTC | imagemeta.XMP,
		ShouldHandleTag: func(imagemeta.TagInfo) bool { return true },
		HandleTag:       func(t imagemeta.TagInfo) error { f.take(t); return nil },
		Timeout:         5 * time.Second,
	})
}

// readXMP reads an XMP packet that stood where the library does not look. It is
// handed over in the least file that the library takes: a JPEG of one segment.
func readXMP(packet []byte, f *Facts) {
	const head = "http://ns.adobe.com/xap/1.0/\x00"
	n := len(head) + len(packet) + 2
	if len(packet) == 0 || n > 0xFFFF {
		return
	}
	file := binary.BigEndian.AppendUint16([]byte{0xFF, 0xD8, 0xFF, 0xE1}, uint16(n))
	file = append(append(append(file, head...), packet...), 0xFF, 0xD9)
	_, _ = imagemeta.Decode(imagemeta.Options{R: bytes.NewReader(file), ImageFormat: imagemeta.JPEG, Sources: imagemeta.XMP,
		HandleTag: func(t imagemeta.TagInfo) error { f.take(t); return nil }, Timeout: 5 * time.Second,
		ShouldHandleTag: func(imagemeta.TagInfo) bool { return true }})
}

// take keeps one tag. Where several sources tell the same thing, the first wins.
func (f *Facts) take(t imagemeta.TagInfo) {
	if (strings.Contains(t.Tag, "Latitude") || strings.Contains(t.Tag, "Longitude")) && !strings.HasSuffix(t.Tag, "Ref") { // one of them tells, too
		f.Position = true
		return
	}
	switch t.Tag {
	case "Orientation":
		var o Orientation
		if _, err := fmt.Sscan(fmt.Sprint(t.Value), &o); err == nil && o >= Upright && o <= Turn90AntiClocks {
			if t.Source == imagemeta.EXIF && strings.HasPrefix(t.Namespace, "IFD0") {
				f.Orientation = o
			}
		}
	case "DateTimeOriginal", "CreateDate", "DateTimeDigitized", "DateCreated": // the last is of IPTC, a day alone, or of XMP
		if f.Taken.IsZero() || t.Tag == "DateTimeOriginal" {
			if when, ok := moment(fmt.Sprint(t.Value)); ok {
				f.Taken = when
			}
		}
	case "Model":
		keep(&f.Camera, t.Value)
	case "ThumbnailOffset", "JPEGInterchangeFormat":
		f.Thumbnail = true
	case "MakerNote", "MakerNoteApple", "MakerNoteCanon", "MakerNoteNikon":
		f.MakerNotes = true
	case "BodySerialNumber", "SerialNumber", "LensSerialNumber", "CameraSerialNumber", "CameraOwnerName", "OwnerName":
		f.Serial = true
	case "PersonInImage", "RegionName", "PersonInImageName":
		f.People = addNames(f.People, t.Value)
	case "Artist", "Credit", "By-line", "Byline", "Creator", "creator":
		keep(&f.Credit, t.Value)
	case "Copyright", "CopyrightNotice", "Rights", "rights":
		keep(&f.Copyright, t.Value)
	case "Title", "title", "ObjectName":
		keep(&f.Title, t.Value)
	case "AltTextAccessibility":
		keep(&f.Alt, t.Value)
	case "ExtDescrAccessibility":
		keep(&f.LongDescription, t.Value)
	case "ImageDescription", "Caption-Abstract", "Caption", "Description", "description":
		keep(&f.Description, t.Value)
	case "Keywords", "Subject", "subject":
		f.keywords(t.Value)
	}
}

// keywords adds one or several, each once.
func (f *Facts) keywords(value any) { f.Keywords = addNames(f.Keywords, value) }

func addNames(all []string, value any) []string {
	var words []string
	switch v := value.(type) {
	case []string:
		words = v
	default:
		words = []string{fmt.Sprint(v)}
	}
	for _, w := range words {
		if w = strings.TrimSpace(w); w != "" && !slices.Contains(all, w) {
			all = append(all, w)
		}
	}
	return all
}

func keep(into *string, value any) {
	if s := strings.TrimSpace(strings.Trim(fmt.Sprint(value), "\x00")); *into == "" && s != "" {
		*into = s
	}
}

// moment reads the forms in which Exif and XMP write a moment, and IPTC a day (IIM 4.2, 2:55).
func moment(s string) (time.Time, bool) {
	s = strings.Trim(s, "\x00 ")
	for _, form := range []string{"2006:01:02 15:04:05", "2006-01-02T15:04:05", "2006-01-02T15:04:05Z07:00", "2006:01:02 15:04:05Z07:00", "20060102", "2006:01:02", "2006-01-02"} {
		if when, err := time.Parse(form, s); err == nil {
			return time.Date(when.Year(), when.Month(), when.Day(), when.Hour(), when.Minute(), when.Second(), 0, time.UTC), true
		}
	}
	return time.Time{}, false
}
