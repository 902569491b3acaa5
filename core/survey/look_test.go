package survey_test

import (
	"context"
	"encoding/json"
	"os"
	"path/filepath"
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"mivlet/core/private"
	"mivlet/core/raster"
	"mivlet/core/survey"
	"mivlet/internal/reference"
)

// A photo is found again in other sizes and formats, as ImageMagick writes them, and no other photo is taken
// for it.
func TestTheSamePictureIsFoundAgain(t *testing.T) {
	t.Parallel()
	if testing.Short() {
		t.Skip("photos of 12 megapixels and more are made smaller")
	}
	dir := t.TempDir()
	want := map[string]string{}
	for _, name := range []string{"DSC_0402", "DSC_0417", "DSC_0466", "IMG_2093"} {
		photo := "../../demo/pictures/" + name + ".JPG"
		data, err := os.ReadFile(photo)
		require.NoError(t, err)
		require.NoError(t, os.WriteFile(filepath.Join(dir, name+".JPG"), data, 0o600))
		for made, how := range map[string][]string{"-small.jpg": {"-resize", "400x", "-quality", "60"}, "-web.png": {"-resize", "300x"}, "-grey.gif": {"-resize", "500x", "-colors", "64"}} {
			reference.Run(t, "convert", append(append([]string{photo, "-auto-orient"}, how...), filepath.Join(dir, name+made))...)
			want[name+made] = name + ".JPG"
		}
	}
	require.NoError(t, os.WriteFile(filepath.Join(dir, "index.html"), []byte("<p>Words"), 0o600))
	site := os.DirFS(dir)
	found, err := survey.Read(t.Context(), site, survey.Options{})
	require.NoError(t, err)
	last := 0
	require.NoError(t, found.Look(t.Context(), site, survey.Looking{Progress: func(done, all int) { assert.Equal(t, 16, all); last = done }}))
	assert.Equal(t, 16, last)
	got := map[string]string{}
	for _, f := range found.Findings() {
		if f.Code == survey.SameLook {
			got[f.Picture] = f.Values[0].(string)
		}
	}
	assert.Equal(t, want, got)

	ctx, stop := context.WithCancel(t.Context())
	stop()
	assert.ErrorIs(t, found.Look(ctx, site, survey.Looking{}), context.Canceled)
	assert.True(t, slices.ContainsFunc(found.Findings(), func(f survey.Finding) bool { return f.Code == survey.Unused }))
}

// What can be seen in pictures is told: a still copy of what moves, a mosaic, and what whoever inspects them finds. It
// is the same when it is recalled.
func TestWhatIsSeenInPictures(t *testing.T) {
	t.Parallel()
	dir := t.TempDir()
	const demo = "../../demo/pictures/"
	for from, to := range map[string]string{"kettle.gif": "kettle.gif", "paddle-stroke.gif": "stroke.gif"} {
		data, err := os.ReadFile(demo + from)
		require.NoError(t, err)
		require.NoError(t, os.WriteFile(filepath.Join(dir, to), data, 0o600))
	}
	at := func(name string) string { return filepath.Join(dir, name) }
	reference.Run(t, "convert", demo+"kettle.gif[0]", "-resize", "150%", "-background", "white", "-flatten", at("still.jpg"))
	reference.Run(t, "convert", demo+"Screenshot 2026-11-02.png", "(", "+clone", "-crop", "240x240+300+200", "+repage", "-filter", "Box", "-resize", "24x24!", "-scale", "240x240!", ")", "-geometry", "+300+200", "-composite", at("covered.png"))
	reference.Run(t, "convert", demo+"Screenshot 2026-11-02.png", "-region", "400x36+672+322", "-blur", "0x3", "+region", at("soft.png"))
	reference.Run(t, "convert", demo+"DSC_0417.JPG", "-resize", "600x", at("people.jpg"))
	require.NoError(t, os.WriteFile(at("index.html"), []byte(`<p><img src="still.jpg"><img src="covered.png"><img src="soft.png"><img src="people.jpg"><img src="kettle.gif">`), 0o600))
	site := os.DirFS(dir)
	found, err := survey.Read(t.Context(), site, survey.Options{})
	require.NoError(t, err)
	require.NoError(t, found.Look(t.Context(), site, survey.Looking{Inspect: func(src *raster.Source) (int, []private.Kind) {
		if src.Upright().W == 600 {
			return 2, []private.Kind{private.Email, private.Phone}
		}
		return 0, nil
	}}))
	told := func(s *survey.Survey) map[string][]any {
		all := map[string][]any{}
		for _, f := range s.Findings() {
			switch f.Code {
			case survey.StillCopy, survey.WeakVeil, survey.SoftVeil, survey.Faces, survey.Readable:
				all[string(f.Code)+" "+f.Picture] = f.Values
				assert.Equal(t, f.Code != survey.StillCopy, f.Cost.Private, f.Code)
			}
		}
		return all
	}
	want := map[string][]any{"stands-still still.jpg": {"kettle.gif"}, "weak-veil covered.png": {1}, "soft-veil soft.png": {1}, "faces people.jpg": {2}, "readable people.jpg": {"email", "phone"}}
	assert.Equal(t, want, told(found))

	kept, err := json.Marshal(found.Seen())
	require.NoError(t, err)
	var recalled map[string]survey.Seen
	require.NoError(t, json.Unmarshal(kept, &recalled))
	again, err := survey.Read(t.Context(), site, survey.Options{})
	require.NoError(t, err)
	assert.Empty(t, told(again))
	again.Recall(recalled)
	assert.Equal(t, want, told(again))
}
