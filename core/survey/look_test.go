package survey_test

import (
	"context"
	"os"
	"path/filepath"
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

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
	require.NoError(t, found.Look(t.Context(), site, raster.Limits{}, func(done, all int) { assert.Equal(t, 16, all); last = done }))
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
	assert.ErrorIs(t, found.Look(ctx, site, raster.Limits{}, nil), context.Canceled)
	assert.True(t, slices.ContainsFunc(found.Findings(), func(f survey.Finding) bool { return f.Code == survey.Unused }))
}
