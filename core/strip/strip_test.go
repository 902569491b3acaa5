package strip_test

import (
	"bytes"
	"encoding/json"
	"os"
	"path/filepath"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"mivlet/core/facts"
	"mivlet/core/strip"
	"mivlet/internal/reference"
)

func factsOf(t testing.TB, data []byte) facts.Facts {
	t.Helper()
	known, err := facts.Read(bytes.NewReader(data))
	require.NoError(t, err)
	return known
}

// told is what exiftool tells of a file, by group and name, but for what it says of the file as such and of
// the coding of its pixels.
func told(t *testing.T, name string) map[string]any {
	t.Helper()
	var all []map[string]any
	require.NoError(t, json.Unmarshal([]byte(reference.Output(t, "exiftool", "-j", "-G1", "-a", "-ee", name)), &all))
	rest := map[string]any{}
	for key, value := range all[0] {
		group, _, _ := strings.Cut(key, ":")
		switch {
		case strings.HasSuffix(key, ":Comment"):
			rest[key] = value
		case key == "SourceFile", group == "ExifTool", group == "System", group == "File", group == "Composite":
		case strings.HasPrefix(group, "ICC"), group == "JFIF", group == "PNG", group == "PNG-pHYs", group == "GIF", group == "RIFF":
		default:
			rest[key] = value
		}
	}
	return rest
}

// Whatever exiftool puts into a file is gone, and the pixels, as ImageMagick turns and decodes them, are the
// same.
func TestNothingIsLeftButThePicture(t *testing.T) {
	t.Parallel()
	dir := t.TempDir()
	for _, c := range []struct {
		name    string
		convert []string
		turned  bool // whether Exif says so, and browsers follow
	}{
		{"base.jpg", nil, true},
		{"progressive.jpg", []string{"-interlace", "JPEG"}, true},
		{"grey.jpg", []string{"-colorspace", "Gray"}, true},
		{"cmyk.jpg", []string{"-colorspace", "CMYK"}, false},
		{"restarts.jpg", []string{"-define", "jpeg:restart-interval=2"}, false},
		{"plain.png", nil, true},
		{"clear.png", []string{"-alpha", "set", "-channel", "A", "-evaluate", "set", "50%"}, false},
		{"few.png", []string{"-colors", "16", "-type", "Palette"}, false},
		{"lossy.webp", nil, true},
		{"lossless.webp", []string{"-define", "webp:lossless=true"}, false},
		{"still.gif", nil, false},
		{"moving.gif", []string{"(", "+clone", "-negate", ")", "-loop", "3", "-delay", "20"}, false},
	} {
		t.Run(c.name, func(t *testing.T) {
			t.Parallel()
			name := filepath.Join(dir, c.name)
			reference.Run(t, "convert", append(append([]string{"-size", "61x37", "plasma:red-blue", "-seed", "7", "-set", "comment", "Lina lives here"}, c.convert...), name)...)
			tags := []string{"-q", "-m", "-overwrite_original", "-XMP-iptcExt:PersonInImage=Lina Marr", "-XMP-exif:GPSLatitude=47.4", "-XMP-aux:SerialNumber=99123", "-Comment=Lina lives here"}
			if !strings.HasSuffix(c.name, ".gif") {
				tags = append(tags, "-EXIF:GPSLatitude=47.4", "-EXIF:GPSLatitudeRef=N", "-EXIF:SerialNumber=99123", "-EXIF:OwnerName=Ines Varrow", "-EXIF:DateTimeOriginal=2026:09:12 08:41:07")
			}
			if c.turned {
				tags = append(tags, "-EXIF:Orientation#=6")
			}
			if strings.HasSuffix(c.name, ".jpg") {
				small := filepath.Join(dir, "small-"+c.name)
				reference.Run(t, "convert", "-size", "16x12", "xc:red", small)
				tags = append(tags, "-IPTC:City=Brindlemere", "-Photoshop:XResolution=72", "-EXIF:ThumbnailImage<="+small)
			}
			reference.Run(t, "exiftool", append(tags, name)...)
			before, err := os.ReadFile(name)
			require.NoError(t, err)
			if strings.HasSuffix(c.name, ".jpg") {
				before = append(before, "a film of Lina that the phone put behind the picture"...)
			}
			known := factsOf(t, before)
			require.Greater(t, len(told(t, name)), 2, "the file tells a lot")

			clean, err := strip.Strip(before, known)
			require.NoError(t, err)
			after := filepath.Join(dir, "clean-"+c.name)
			require.NoError(t, os.WriteFile(after, clean, 0o600))
			rest := told(t, after)
			if c.turned {
				assert.Equal(t, "Rotate 90 CW", rest["IFD0:Orientation"])
			}
			for _, allowed := range []string{"IFD0:Orientation", "IFD0:YCbCrPositioning", "Adobe:DCTEncodeVersion", "Adobe:APP14Flags0", "Adobe:APP14Flags1", "Adobe:ColorTransform"} {
				delete(rest, allowed)
			}
			assert.Empty(t, rest)
			for _, word := range []string{"Lina", "Ines", "99123", "Brindlemere", "2026:09", "xmp"} {
				assert.NotContains(t, string(clean), word)
			}
			assert.Equal(t, pixels(t, name), pixels(t, after), "the pixels are as they were")
			now := factsOf(t, clean)
			assert.Equal(t, []any{known.Stored, known.Orientation, known.Frames, known.Loop, known.DurationMS, known.Alpha, known.Profile},
				[]any{now.Stored, now.Orientation, now.Frames, now.Loop, now.DurationMS, now.Alpha, now.Profile})
			again, err := strip.Strip(clean, now)
			require.NoError(t, err)
			assert.Equal(t, clean, again, "nothing more is to be taken out")
		})
	}
}

// pixels are all frames as ImageMagick decodes and turns them.
func pixels(t *testing.T, name string) string {
	t.Helper()
	return reference.Output(t, "convert", name, "-auto-orient", "-format", "%w %h %# ", "info:")
}

// A colour profile stays, byte for byte, as exiftool takes it out.
func TestProfilesStay(t *testing.T) {
	t.Parallel()
	dir := t.TempDir()
	profile := "/usr/share/color/icc/ghostscript/a98.icc"
	for _, kind := range []string{"jpg", "png", "webp"} {
		name, after := filepath.Join(dir, "p."+kind), filepath.Join(dir, "after."+kind)
		reference.Run(t, "convert", "-size", "40x30", "plasma:red-blue", "-profile", profile, name)
		reference.Run(t, "exiftool", "-q", "-overwrite_original", "-EXIF:OwnerName=Ines", name)
		data, err := os.ReadFile(name)
		require.NoError(t, err)
		clean, err := strip.Strip(data, factsOf(t, data))
		require.NoError(t, err)
		require.NoError(t, os.WriteFile(after, clean, 0o600))
		want := reference.Output(t, "exiftool", "-b", "-icc_profile", name)
		require.NotEmpty(t, want)
		assert.Equal(t, want, reference.Output(t, "exiftool", "-b", "-icc_profile", after), kind)
		assert.Empty(t, reference.Output(t, "exiftool", "-OwnerName", after))
	}
}

// What is cut off or no picture is refused, and never made into something else.
func TestWhatIsDamagedIsRefused(t *testing.T) {
	t.Parallel()
	dir := t.TempDir()
	for _, kind := range []string{"jpg", "png", "gif", "webp"} {
		name := filepath.Join(dir, "d."+kind)
		reference.Run(t, "convert", "-size", "40x30", "plasma:", name)
		data, err := os.ReadFile(name)
		require.NoError(t, err)
		known := factsOf(t, data)
		for n := range data {
			_, err := strip.Strip(data[:n], known)
			require.ErrorIs(t, err, strip.ErrDamaged, "%s, the first %d of %d bytes", kind, n, len(data))
		}
	}
	_, err := strip.Strip([]byte("BM"), facts.Facts{MediaType: "image/bmp"})
	assert.ErrorIs(t, err, strip.ErrType)
}

func FuzzStrip(f *testing.F) {
	types := []string{"image/jpeg", "image/png", "image/gif", "image/webp"}
	f.Add([]byte("\xff\xd8\xff\xe1\x00\x04ab\xff\xda\x00\x02\xff\x00\xff\xd9"), uint8(0))
	f.Add([]byte("\x89PNG\r\n\x1a\n\x00\x00\x00\x00IEND\xae\x42\x60\x82"), uint8(1))
	f.Add([]byte("GIF89a\x01\x00\x01\x00\x00\x00\x00\x21\xfe\x01a\x00\x3b"), uint8(2))
	f.Add([]byte("RIFF\x0c\x00\x00\x00WEBPVP8 \x00\x00\x00\x00"), uint8(3))
	f.Fuzz(func(t *testing.T, data []byte, kind uint8) {
		known := facts.Facts{MediaType: types[int(kind)%len(types)], Orientation: facts.Orientation(kind >> 4)}
		clean, err := strip.Strip(data, known)
		if err != nil {
			return
		}
		again, err := strip.Strip(clean, known)
		if err != nil || !bytes.Equal(again, clean) {
			t.Fatalf("what was taken out of is not kept: %v", err)
		}
	})
}
