package facts_test

import (
	"bytes"
	"encoding/binary"
	"os"
	"path/filepath"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"mivlet/core/facts"
	"mivlet/internal/reference"
)

func factsOf(t *testing.T, name string) facts.Facts {
	t.Helper()
	f, err := os.Open(name)
	require.NoError(t, err)
	defer f.Close()
	k, err := facts.Read(f)
	require.NoError(t, err, name)
	return k
}

// Words that exiftool writes are the words that are read, in every format that
// carries them.
func TestWordsThatTravelInTheFile(t *testing.T) {
	dir := t.TempDir()
	for _, kind := range []string{"jpg", "png", "webp", "tif"} {
		name := filepath.Join(dir, "w."+kind)
		reference.Run(t, "convert", "-size", "40x30", "gradient:", name)
		reference.Run(t, "exiftool", "-q", "-overwrite_original", "-XMP-dc:Title=First launch", "-XMP-dc:Description=Off the jetty at nine",
			"-XMP-iptcCore:AltTextAccessibility=A boat and a pair of hands", "-XMP-iptcCore:ExtDescrAccessibility=All of it, told at length",
			"-XMP-photoshop:Credit=Ines Varrow", "-XMP-dc:Rights=Brindlemere Paddle Club", "-XMP-dc:Subject=lake", "-XMP-dc:Subject=boats",
			"-EXIF:DateTimeOriginal=2026:09:12 08:41:07", "-EXIF:Model=BO-24", name)
		k := factsOf(t, name)
		assert.Equal(t, "First launch", k.Title, kind)
		assert.Equal(t, "Off the jetty at nine", k.Description, kind)
		assert.Equal(t, "A boat and a pair of hands", k.Alt, kind)
		assert.Equal(t, "All of it, told at length", k.LongDescription, kind)
		assert.Equal(t, "Ines Varrow", k.Credit, kind)
		assert.Equal(t, "Brindlemere Paddle Club", k.Copyright, kind)
		assert.ElementsMatch(t, []string{"lake", "boats"}, k.Keywords, kind)
		assert.Equal(t, "2026-09-12 08:41:07", k.Taken.Format("2006-01-02 15:04:05"), kind)
		assert.False(t, k.Position, kind)
	}
	// IPTC in its old form.
	name := filepath.Join(dir, "iptc.jpg")
	reference.Run(t, "convert", "-size", "40x30", "gradient:", name)
	reference.Run(t, "exiftool", "-q", "-overwrite_original", "-IPTC:ObjectName=First launch", "-IPTC:Credit=Odo Tamsin", "-IPTC:Keywords=lake", "-GPSLatitude=47.4", "-GPSLatitudeRef=N", name)
	k := factsOf(t, name)
	assert.Equal(t, "First launch", k.Title)
	assert.Equal(t, "Odo Tamsin", k.Credit)
	assert.Equal(t, []string{"lake"}, k.Keywords)
	assert.True(t, k.Position)
}

// Frames, delays and loops as ImageMagick tells them.
func TestAnimationsAsImageMagickSeesThem(t *testing.T) {
	dir := t.TempDir()
	for name, args := range map[string][]string{
		"ever.gif":   {"-delay", "8", "-loop", "0"},
		"thrice.gif": {"-delay", "12", "-loop", "3"},
	} {
		file := filepath.Join(dir, name)
		reference.Run(t, "convert", append(args, "-size", "30x20", "xc:red", "xc:green", "xc:blue", file)...)
		told := strings.Fields(reference.Run(t, "identify", "-format", "%T ", file))
		k := factsOf(t, file)
		assert.Equal(t, len(told), k.Frames, name)
		sum := int64(0)
		for _, d := range told {
			var n int64
			for _, c := range d {
				n = n*10 + int64(c-'0')
			}
			sum += n * 10
		}
		assert.Equal(t, sum, k.DurationMS, name)
	}
	assert.Equal(t, 0, factsOf(t, filepath.Join(dir, "ever.gif")).Loop, "for ever")
	animated := filepath.Join(dir, "a.webp")
	reference.Run(t, "gif2webp", "-quiet", filepath.Join(dir, "ever.gif"), "-o", animated)
	k := factsOf(t, animated)
	assert.Equal(t, 3, k.Frames)
	assert.EqualValues(t, 240, k.DurationMS)
	assert.Equal(t, 0, k.Loop)
}

func TestProfilesByName(t *testing.T) {
	dir := t.TempDir()
	for _, kind := range []string{"jpg", "png", "webp"} {
		name := filepath.Join(dir, "p."+kind)
		reference.Run(t, "convert", "-size", "40x30", "gradient:red-blue", "-profile", "/usr/share/color/icc/compatibleWithAdobeRGB1998.icc", name)
		assert.Equal(t, "Compatible with Adobe RGB (1998)", factsOf(t, name).Profile, kind)
	}
	assert.Equal(t, "Compatible with Adobe RGB (1998)", demo(t, "IMG_2140.JPG").Profile)
}

func TestDrawingsAndDepths(t *testing.T) {
	logo := factsOf(t, "../../demo/scenes/logo.svg")
	assert.Equal(t, "image/svg+xml", logo.MediaType)
	assert.Equal(t, 3000, logo.Stored.W, "that of what is drawn of it")
	dir := t.TempDir()
	deep := filepath.Join(dir, "d.png")
	reference.Run(t, "convert", "-size", "40x30", "gradient:", "-depth", "16", "-define", "png:bit-depth=16", deep)
	assert.Equal(t, 16, factsOf(t, deep).Depth)
	inks := filepath.Join(dir, "inks.jpg")
	reference.Run(t, "convert", "-size", "40x30", "gradient:red-blue", "-colorspace", "CMYK", "-strip", inks)
	assert.True(t, factsOf(t, inks).Guessed, "no profile says which printer's colours they are")
	named := filepath.Join(dir, "named.jpg")
	reference.Run(t, "convert", "-size", "40x30", "gradient:red-blue", "-colorspace", "CMYK", "-strip", "-profile", "/usr/share/color/icc/ghostscript/default_cmyk.icc", named)
	assert.False(t, factsOf(t, named).Guessed)
	assert.False(t, demo(t, "DSC_0417.JPG").Guessed)
	assert.True(t, demo(t, "Logo NEW.png").Alpha)
	assert.False(t, demo(t, "DSC_0417.JPG").Alpha)
}

// Drawings are known however they are written: behind a long declaration, or in UTF-16.
func TestDrawingsAreKnown(t *testing.T) {
	const root = `<svg xmlns="http://www.w3.org/2000/svg" width="40" height="30"/>`
	wide := []byte{0xff, 0xfe}
	for _, c := range `<?xml version="1.0" encoding="UTF-16"?>` + root {
		wide = append(wide, byte(c), byte(c>>8))
	}
	for name, file := range map[string][]byte{
		"long":   []byte(`<?xml version="1.0"?><!-- ` + strings.Repeat("made by hand ", 2000) + `--><!DOCTYPE svg [<!ENTITY a "b">]>` + root),
		"UTF-16": wide,
		"plain":  []byte(root),
		"packed": packed(t, root),
		"both":   packed(t, string(wide)),
	} {
		f, err := facts.Read(bytes.NewReader(file))
		require.NoError(t, err, name)
		assert.Equal(t, "image/svg+xml", f.MediaType, name)
		assert.Equal(t, map[bool]string{true: ".svgz", false: ".svg"}[name == "packed" || name == "both"], f.Ending(), name)
	}
	_, err := facts.Read(strings.NewReader(`<?xml version="1.0"?><html><svg xmlns="http://www.w3.org/2000/svg"/></html>`))
	assert.ErrorIs(t, err, facts.ErrDamaged, "a drawing is not what it begins with")
	_, err = facts.Read(strings.NewReader("\xff\xfeD\x00e\x00a\x00r\x00"))
	assert.ErrorIs(t, err, facts.ErrNotPicture, "words in UTF-16")
	_, err = facts.Read(bytes.NewReader(packed(t, "letters that nobody draws")))
	assert.ErrorIs(t, err, facts.ErrNotPicture, "other files are compressed, too")
}

// packed is a file as gzip compresses it.
func packed(t *testing.T, file string) []byte {
	t.Helper()
	at := filepath.Join(t.TempDir(), "file")
	require.NoError(t, os.WriteFile(at, []byte(file), 0o600))
	reference.Run(t, "gzip", "-9", at)
	data, err := os.ReadFile(at + ".gz")
	require.NoError(t, err)
	return data
}

// A profile whose tags lie about where they are gives nothing, and no panic.
func FuzzICCTag(f *testing.F) {
	icc := make([]byte, 160)
	copy(icc[36:], "acsp")
	binary.BigEndian.PutUint32(icc[128:], 1)
	copy(icc[132:], "desc")
	binary.BigEndian.PutUint32(icc[136:], 144)
	binary.BigEndian.PutUint32(icc[140:], 16)
	f.Add(icc)
	f.Fuzz(func(t *testing.T, data []byte) {
		if tag := facts.ICCTag(data, "desc"); len(tag) > len(data) {
			t.Fatal("a tag larger than its profile")
		}
	})
}

// Half of a position tells where, too; and a day that only IPTC has is the day.
func TestWhatOneTagAloneTells(t *testing.T) {
	t.Parallel()
	for tag, want := range map[string]func(facts.Facts) bool{
		"-EXIF:GPSLongitude=8.5":                 func(f facts.Facts) bool { return f.Position },
		"-EXIF:GPSLatitude=47.4":                 func(f facts.Facts) bool { return f.Position },
		"-XMP-exif:GPSLongitude=8.5":             func(f facts.Facts) bool { return f.Position },
		"-XMP-exif:GPSDestLatitude=47.4":         func(f facts.Facts) bool { return f.Position },
		"-EXIF:GPSLongitudeRef=E":                func(f facts.Facts) bool { return !f.Position },
		"-IPTC:DateCreated=2026:11:02":           func(f facts.Facts) bool { return f.Taken.Format(time.DateOnly) == "2026-11-02" },
		"-XMP-photoshop:DateCreated=2026:11:02":  func(f facts.Facts) bool { return f.Taken.Format(time.DateOnly) == "2026-11-02" },
		"-IPTC:DigitalCreationDate=2026:11:02":   func(f facts.Facts) bool { return f.Taken.IsZero() },
		"-EXIF:DateTimeOriginal=2026:11:02 9:00": func(f facts.Facts) bool { return f.Taken.Hour() == 9 },
	} {
		name := filepath.Join(t.TempDir(), "a.jpg")
		reference.Run(t, "convert", "-size", "40x30", "gradient:", name)
		reference.Run(t, "exiftool", "-q", "-overwrite_original", tag, name)
		got := factsOf(t, name)
		assert.True(t, want(got), "%s: %+v", tag, got)
	}
}
