package main

import (
	"bytes"
	"context"
	"encoding/json"
	"image"
	_ "image/jpeg"
	"os"
	"path/filepath"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"mivlet/internal/reference"
)

const photo = "../../demo/pictures/IMG_2101.JPG" // 1600 × 2000, stored on its side

// call runs the command line as the shell would, with its streams caught.
func call(t *testing.T, args ...string) (code int, out, errs string) {
	t.Helper()
	var stdout, stderr bytes.Buffer
	code = run(context.Background(), args, &stdout, &stderr)
	return code, stdout.String(), stderr.String()
}

func TestCutTellsEachCutAsJSON(t *testing.T) {
	t.Parallel()
	dir := t.TempDir()
	code, out, errs := call(t, "cut", "--width", "640", "--density", "1,2", "-o", dir, photo, "--json")
	assert.Zero(t, code, errs)
	lines := bytes.Split(bytes.TrimSpace([]byte(out)), []byte("\n"))
	require.Len(t, lines, 2)
	for i, want := range []struct {
		width, height int
		density       float64
	}{{640, 800, 1}, {1280, 1600, 2}} {
		var got map[string]any
		require.NoError(t, json.Unmarshal(lines[i], &got))
		assert.Equal(t, photo, got["source"])
		assert.EqualValues(t, want.width, got["width"])
		assert.EqualValues(t, want.height, got["height"])
		assert.Equal(t, want.density, got["density"])
		assert.Equal(t, want.density, got["effective_density"])
		assert.Equal(t, "jpeg", got["format"])
		data, err := os.ReadFile(got["file"].(string))
		require.NoError(t, err)
		assert.EqualValues(t, len(data), got["bytes"])
		cfg, _, err := image.DecodeConfig(bytes.NewReader(data))
		require.NoError(t, err)
		assert.Equal(t, want.width, cfg.Width)
		assert.Equal(t, want.height, cfg.Height, "upright")
	}
}

// What a cut came from: half of the pixels for a small one; and where there was a choice, what was
// chosen from.
func TestCutsAreExplained(t *testing.T) {
	t.Parallel()
	_, out, _ := call(t, "cut", "--width", "300", "--explain", "-o", t.TempDir(), photo)
	how := lines(t, out)[0]["explained"].(map[string]any)
	assert.EqualValues(t, 4, how["decoded_eighths"])
	assert.EqualValues(t, 1000, how["decoded_width"], "as it is stored, on its side")
	assert.EqualValues(t, 800, how["decoded_height"])
	assert.Equal(t, "JPEG, because it is a photograph.", how["why"])
	assert.Len(t, how["tried"], 1)

	_, out, _ = call(t, "cut", "--width", "300", "--crop", "200,300,1000,500", "--explain", "-o", t.TempDir(), photo)
	how = lines(t, out)[0]["explained"].(map[string]any)
	assert.EqualValues(t, 8, how["decoded_eighths"])
	assert.InDelta(t, 500, how["decoded_width"], 15, "no more than the frame, on its side")
	assert.InDelta(t, 1000, how["decoded_height"], 15)

	_, out, _ = call(t, "cut", "--width", "700", "--density", "1,2", "--explain", "-o", t.TempDir(), rota)
	both := lines(t, out)
	tried := both[0]["explained"].(map[string]any)["tried"].([]any)
	require.Len(t, tried, 2)
	assert.Equal(t, "png", tried[0].(map[string]any)["format"])
	assert.Equal(t, "jpeg", tried[1].(map[string]any)["format"])
	assert.Empty(t, both[1]["explained"].(map[string]any)["tried"], "the first size has decided")
	assert.Equal(t, both[0]["format"], both[1]["format"])
}

func TestOneThatFailsDoesNotKeepTheOthers(t *testing.T) {
	t.Parallel()
	dir := t.TempDir()
	text := filepath.Join(dir, "letter.jpg")
	require.NoError(t, os.WriteFile(text, []byte("Dear club"), 0o600))
	code, out, errs := call(t, "cut", "--width", "300", "-o", dir, text, filepath.Join(dir, "missing.jpg"), photo, "--json")
	assert.Equal(t, 1, code)
	assert.Contains(t, errs, "letter.jpg: the file is not a picture")
	assert.Contains(t, errs, "missing.jpg: no such file")
	assert.Contains(t, out, `"width":300`)
}

func TestWrongUsage(t *testing.T) {
	t.Parallel()
	for _, args := range [][]string{
		{"cut", photo}, {"cut", "--width", "640"}, {"cut", "--width", "-3", photo}, {"cut", "--width", "640", "--density", "two", photo},
		{"cut", "--width", "640", "--density", "0", photo}, {"cut", "--wide", "640", photo}, {"fold"}, {"serve"}, {"demo", "extra"},
	} {
		code, _, errs := call(t, args...)
		assert.Equal(t, 2, code, "%v", args)
		assert.NotEmpty(t, errs, "%v", args)
	}
}

func TestNothingIsOverwritten(t *testing.T) {
	t.Parallel()
	dir := t.TempDir()
	code, _, _ := call(t, "cut", "--width", "300", "-o", dir, photo)
	assert.Zero(t, code)
	made := filepath.Join(dir, "IMG_2101-300.jpg")
	before, err := os.ReadFile(made)
	require.NoError(t, err)

	code, _, errs := call(t, "cut", "--width", "300", "-o", dir, photo)
	assert.Equal(t, 1, code)
	assert.Contains(t, errs, "--force")
	code, _, errs = call(t, "cut", "--width", "300", "-o", dir, "--force", photo)
	assert.Zero(t, code, errs)

	// A source is never overwritten, not even by force.
	twin := filepath.Join(dir, "a.jpg")
	require.NoError(t, os.WriteFile(twin, before, 0o600))
	source := filepath.Join(dir, "a-300.jpg")
	require.NoError(t, os.Link(twin, source))
	code, _, errs = call(t, "cut", "--width", "300", "-o", dir, "--force", twin)
	assert.Equal(t, 1, code)
	assert.Contains(t, errs, "overwrite its source")
}

func TestTheCutCarriesNothing(t *testing.T) {
	t.Parallel()
	dir := t.TempDir()
	code, _, _ := call(t, "cut", "--width", "300", "-o", dir, photo)
	assert.Zero(t, code)
	data, err := os.ReadFile(filepath.Join(dir, "IMG_2101-300.jpg"))
	require.NoError(t, err)
	for _, secret := range []string{"Exif", "Varrow", "GPS", "http://ns.adobe.com", "Photoshop"} {
		assert.NotContains(t, string(data), secret)
	}
}

// lines reads the JSON objects of a call.
func lines(t *testing.T, out string) []map[string]any {
	t.Helper()
	var all []map[string]any
	for _, line := range bytes.Split(bytes.TrimSpace([]byte(out)), []byte("\n")) {
		var one map[string]any
		require.NoError(t, json.Unmarshal(line, &one), string(line))
		all = append(all, one)
	}
	return all
}

func TestEditsOnTheCommandLine(t *testing.T) {
	t.Parallel()
	for name, c := range map[string]struct {
		args          []string
		width, height float64
		format        string
	}{
		"by height":  {[]string{"--height", "300"}, 240, 300, "jpeg"},
		"exact box":  {[]string{"--width", "200", "--height", "200", "--focus", "0.5,0.2"}, 200, 200, "jpeg"},
		"inside":     {[]string{"--width", "200", "--height", "200", "--inside"}, 160, 200, "jpeg"},
		"cropped":    {[]string{"--width", "300", "--crop", "100,200,600,400"}, 300, 200, "jpeg"},
		"turned":     {[]string{"--width", "300", "--turn", "90", "--flip", "h"}, 300, 240, "jpeg"},
		"straight":   {[]string{"--width", "300", "--straighten", "-2.5"}, 300, 0, "jpeg"},
		"veiled":     {[]string{"--width", "300", "--veil", "ellipse:500,400,300,300:figure", "--veil", "rect:0,0,50,50"}, 300, 375, "jpeg"},
		"as WebP":    {[]string{"--width", "300", "--format", "webp"}, 300, 375, "webp"},
		"as PNG":     {[]string{"--width", "100", "--format", "png"}, 100, 125, "png"},
		"buffered":   {[]string{"--width", "300", "--buffer", "50"}, 350, 438, "jpeg"},
		"in quality": {[]string{"--width", "300", "--quality", "50"}, 300, 375, "jpeg"},
	} {
		code, out, errs := call(t, append([]string{"cut", photo, "--json", "-o", t.TempDir()}, c.args...)...)
		if !assert.Zero(t, code, "%s: %s", name, errs) {
			continue
		}
		got := lines(t, out)[0]
		assert.Equal(t, c.width, got["width"], name)
		if c.height > 0 {
			assert.Equal(t, c.height, got["height"], name)
		}
		assert.Equal(t, c.format, got["format"], name)
		assert.NotEmpty(t, got["notes"], name)
		assert.EqualValues(t, 1, got["frames"], name)
	}
}

func TestWrongEditsAreWrongUsage(t *testing.T) {
	t.Parallel()
	for _, args := range [][]string{
		{"--crop", "1,2,3"}, {"--crop", "a,2,3,4"}, {"--turn", "45"}, {"--flip", "x"}, {"--straighten", "40"}, {"--focus", "2,0"},
		{"--veil", "star:1,2,3,4"}, {"--veil", "rect:1,2,3,4:fog"}, {"--veil", "rect:1,2,3,4:cover:99"}, {"--veil", "rect"}, {"--format", "bmp"}, {"--quality", "101"},
	} {
		code, _, errs := call(t, append([]string{"cut", photo, "--width", "300", "-o", t.TempDir()}, args...)...)
		assert.Equal(t, 2, code, "%v: %s", args, errs)
	}
	code, _, errs := call(t, "cut", photo, "--width", "300", "--crop", "1500,0,900,100", "-o", t.TempDir())
	assert.Equal(t, 1, code, "a frame that leaves this picture is this picture's failure")
	assert.Contains(t, errs, "leaves the picture")
}

// A cut of an animation keeps its frames, timing and loop, or says that it
// stands still (judged by facts, which walks the file's blocks and chunks).
func TestAnAnimationKeepsItsMotion(t *testing.T) {
	t.Parallel()
	if testing.Short() {
		t.Skip("slow")
	}
	const stroke = "../../demo/pictures/paddle-stroke.gif"
	dir := t.TempDir()
	_, told, _ := call(t, "facts", "--json", stroke)
	before := lines(t, told)[0]
	for format, want := range map[string]string{"auto": "image/webp", "webp": "image/webp", "gif": "image/gif"} {
		code, out, errs := call(t, "cut", stroke, "--width", "300", "--format", format, "--force", "--json", "-o", dir)
		require.Zero(t, code, errs)
		got := lines(t, out)[0]
		assert.EqualValues(t, 24, got["frames"])
		assert.EqualValues(t, 192, got["height"])
		_, told, _ = call(t, "facts", "--json", got["file"].(string))
		after := lines(t, told)[0]
		assert.Equal(t, want, after["media_type"])
		for _, fact := range []string{"frames", "loop", "duration_ms"} {
			assert.Equal(t, before[fact], after[fact], "%s of %s", fact, format)
		}
		if format == "auto" {
			assert.Less(t, got["bytes"], before["bytes"].(float64)/2, "a small copy is not heavier than the original")
		}
	}

	code, out, _ := call(t, "cut", stroke, "--width", "300", "--still", "5", "--json", "-o", dir)
	require.Zero(t, code)
	still := lines(t, out)[0]
	assert.EqualValues(t, 1, still["frames"])
	assert.Contains(t, still["notes"], "It moves (24 frames), and this cut stands still: frame 5.")
	code, _, errs := call(t, "cut", stroke, "--width", "300", "--still", "99", "-o", dir)
	assert.Equal(t, 1, code)
	assert.Contains(t, errs, "no frame 99")
}

func TestABudgetThatCannotBeMetSaysWhatWould(t *testing.T) {
	t.Parallel()
	code, out, _ := call(t, "cut", photo, "--width", "640", "--max-bytes", "5000", "--json", "-o", t.TempDir())
	assert.Zero(t, code)
	notes := lines(t, out)[0]["notes"].([]any)
	assert.Contains(t, notes[len(notes)-1], "would meet the budget")
}

func TestFactsAsJSON(t *testing.T) {
	t.Parallel()
	code, out, errs := call(t, "facts", "--json", photo, "missing.jpg")
	assert.Equal(t, 1, code)
	assert.Contains(t, errs, "missing.jpg: no such file")
	got := lines(t, out)[0]
	for key, want := range map[string]any{
		"media_type": "image/jpeg", "width": 1600.0, "height": 2000.0, "stored_width": 2000.0, "stored_height": 1600.0, "orientation": 8.0,
		"frames": 1.0, "gps": true, "thumbnail": true, "taken": "2026-09-19T10:33:54", "credit": "Ines Varrow", "alpha": false, "profile": "",
	} {
		assert.Equal(t, want, got[key], key)
	}
	assert.Len(t, got["sha256"], 64)
	for _, key := range []string{"file", "loop", "duration_ms", "bytes", "alt", "description"} {
		assert.Contains(t, got, key)
	}
}

// What is kept is what was asked for, as exiftool and our own reader see it.
func TestKeepingWords(t *testing.T) {
	t.Parallel()
	dir := t.TempDir()
	for _, format := range []string{"jpeg", "png"} {
		code, out, errs := call(t, "cut", photo, "--width", "100", "--format", format, "--keep", "credit,alt", "--json", "-o", dir)
		require.Zero(t, code, errs)
		file := lines(t, out)[0]["file"].(string)
		_, out, _ = call(t, "facts", "--json", file)
		got := lines(t, out)[0]
		assert.Equal(t, "Ines Varrow", got["credit"], format)
		assert.Equal(t, false, got["gps"], format)
		assert.Equal(t, false, got["thumbnail"], format)
		seen := reference.Run(t, "exiftool", "-s3", "-XMP-photoshop:Credit", "-XMP-dc:Rights", "-EXIF:all", "-IPTC:all", file)
		assert.Equal(t, "Ines Varrow\nBrindlemere Paddle Club\n", seen, format)
	}
	code, _, _ := call(t, "cut", photo, "--width", "100", "--keep", "position", "-o", dir)
	assert.Equal(t, 2, code, "a position is never kept")
}
