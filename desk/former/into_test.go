package former_test

import (
	"archive/zip"
	"bytes"
	"context"
	"io/fs"
	"os"
	"path/filepath"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"mivlet/core/rules"
	"mivlet/core/survey"
	"mivlet/desk"
	"mivlet/desk/access"
	"mivlet/desk/desktest"
	"mivlet/internal/reference"
	"mivlet/store"
)

// Pictures of a site are looked into beside the screens: for faces and for what can be read of people. What was found
// stays with the site, and goes when more of it is fetched. A house that does not look for faces does not do it here.
func TestPicturesAreLookedInto(t *testing.T) {
	t.Parallel()
	b := desktest.FreshWith(t, func(o *desk.Options) {
		desktest.Reads(o)
		o.Measure = func(_ context.Context, files fs.FS, pages []string, _ func(int, int)) (all []survey.Measured, err error) {
			assert.Equal(t, []string{"index.html"}, pages)
			_, err = fs.Stat(files, "people.jpg")
			for v := range survey.Viewports {
				all = append(all, survey.Measured{Page: "index.html", Viewport: v, Widths: []float64{320, 900}, Chosen: []string{"people.jpg", "notice.png"}, Shift: 0.3})
			}
			return all, err
		}
	})
	b.UnderRules(func(r *rules.Rules) { r.Hiding.LeaveFace = false })
	dir := t.TempDir()
	at := func(name string) string { return filepath.Join(dir, name) }
	reference.Run(t, "convert", "../../demo/pictures/IMG_2101.JPG", "-auto-orient", "-resize", "1600x", at("people.jpg"))
	reference.Run(t, "convert", "-size", "900x300", "xc:white", "-font", "DejaVu-Sans", "-pointsize", "32", "-fill", "black", "-annotate", "+40+80", "Ask in the boathouse", "-annotate", "+40+160", "Phone: 01632 960 123", "-annotate", "+40+240", "boats@brindlemere.example", at("notice.png"))
	require.NoError(t, os.WriteFile(at("index.html"), []byte(`<title>Camp</title><img src="people.jpg" width="800" alt="At the pier"><img src="notice.png" width="900" alt="Notice">`), 0o600))
	var out bytes.Buffer
	z := zip.NewWriter(&out)
	require.NoError(t, z.AddFS(os.DirFS(dir)))
	require.NoError(t, z.Close())
	f, err := b.BringIn.Bring(context.Background(), "camp.zip", &out, nil)
	require.NoError(t, err)
	values := func() map[survey.Code][]any {
		t.Helper()
		v, err := b.Former.Of(f.ID)
		require.NoError(t, err)
		all := map[survey.Code][]any{}
		for _, one := range v.Report.Findings {
			all[one.Code] = one.Values
		}
		return all
	}
	assert.NotContains(t, values(), survey.Readable)
	look := func() {
		t.Helper()
		job, err := b.Former.LookInto(f.ID)
		require.NoError(t, err)
		assert.Empty(t, desktest.Ended(t, job).Failed)
		v, err := b.Former.Of(f.ID)
		require.NoError(t, err)
		assert.True(t, v.Seen)
	}
	look()
	found := values()
	assert.Equal(t, []any{"email", "phone"}, found[survey.Readable])
	require.Len(t, found[survey.Faces], 1)
	assert.Positive(t, found[survey.Faces][0])
	assert.Equal(t, []any{"0.30", 390}, found[survey.LayoutShift], "a browser measured it")
	v, err := b.Former.Of(f.ID)
	require.NoError(t, err)
	assert.False(t, v.Report.Sum.Estimated)
	assert.Len(t, v.Report.Sum.Comes, 3)

	b.UnderRules(func(r *rules.Rules) { r.Hiding.LeaveFace = true })
	look()
	assert.NotContains(t, values(), survey.Faces)

	seen, err := b.Kept.FormerLook(f.ID)
	require.NoError(t, err)
	whole, err := b.Kept.FormerSite(f.ID)
	require.NoError(t, err)
	whole.Hash = "another"
	require.NoError(t, b.Kept.Tx(func(s store.Records) error { return s.SaveFetched(whole) }))
	sites, err := b.Former.Sites()
	require.NoError(t, err)
	assert.NotEqual(t, seen.Hash, sites[0].Hash, "more of it has come since")

	_, err = b.As(access.PersonOf(store.Person{ID: 7, Name: "Runa", Login: "runa", Roles: []store.Role{{Section: "juniors", Role: string(access.Contributor)}}})).Former.LookInto(f.ID)
	desktest.Refusal(t, err, access.Forbidden, "")
}
