package tenyears_test

import (
	"context"
	"os"
	"os/exec"
	"path/filepath"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"mivlet/core/survey"
	"mivlet/demo/tenyears"
)

// says is what the findings of a code say in the words of who made the site.
var says = map[survey.Code]string{
	survey.Position: tenyears.Position, survey.Serial: tenyears.Serial, survey.FarTooLarge: tenyears.TooLarge, survey.Enlarged: tenyears.Stretched,
	survey.NoAlt: tenyears.NoAlt, "alt-file-name": tenyears.UselessAlt, "alt-placeholder": tenyears.UselessAlt, "alt-missing-link": tenyears.SilentLink, "alt-decorative-link": tenyears.SilentLink,
	survey.PhotoAsPNG: tenyears.PNGPhoto, survey.WrongEnding: tenyears.OtherEnding, survey.SameContent: tenyears.Again, survey.Unused: tenyears.Unused,
	survey.BrokenPicture: tenyears.Missing, survey.BrokenLink: tenyears.DeadLink, survey.CameraName: tenyears.CameraName, survey.AwkwardName: tenyears.AwkwardName,
	survey.NotSized: tenyears.Unsized,
}

// Of all that is wrong with the site everything is found, and nothing is found that is not wrong.
func TestAllThatIsWrongIsFound(t *testing.T) {
	t.Parallel()
	dir := t.TempDir()
	faults, err := tenyears.Write(dir)
	require.NoError(t, err)
	found, err := survey.Read(context.Background(), os.DirFS(dir), survey.Options{})
	require.NoError(t, err)
	assert.Len(t, found.Pages, tenyears.Pages+1)
	report := found.Report()
	got := map[string][]string{}
	for _, f := range report.Findings {
		what, known := says[f.Code]
		if !assert.True(t, known, "%s is none of the faults: %+v", f.Code, f) {
			continue
		}
		key := f.Page + "|" + f.Picture
		if f.Picture == "" {
			key += f.Address
		}
		got[what] = append(got[what], key)
	}
	kinds := map[string]bool{}
	for _, f := range faults {
		kinds[f.What] = true
	}
	assert.Len(t, kinds, 16, "each kind of fault is somewhere")
	for what := range kinds {
		want := tenyears.Of(faults, what)
		slices.Sort(got[what])
		hits := 0
		for _, key := range got[what] {
			if _, ok := slices.BinarySearch(want, key); ok {
				hits++
			}
		}
		t.Logf("%-13s %3d there, %3d found: precision %.2f, recall %.2f", what, len(want), len(got[what]), float64(hits)/float64(max(1, len(got[what]))), float64(hits)/float64(len(want)))
		assert.Equal(t, want, got[what], what)
	}
	t.Log(report.Sum)
	assert.Equal(t, len(tenyears.Of(faults, tenyears.Position)), report.Sum.Positions)
	assert.Greater(t, report.Sum.Bytes, 2*report.Sum.CouldBe, "it says that half of it is too much, at least")
}

// exiftool finds the positions and numbers that the site says it has in its files, and no others.
func TestWhatTheFilesTell(t *testing.T) {
	t.Parallel()
	dir := t.TempDir()
	faults, err := tenyears.Write(dir)
	require.NoError(t, err)
	for tag, what := range map[string]string{"GPSPosition": tenyears.Position, "SerialNumber": tenyears.Serial} {
		out, err := exec.Command("exiftool", "-q", "-q", "-r", "-if", "$"+tag, "-p", "|$directory/$filename", dir).Output() //nolint:gosec // a tool on files of our own
		require.NoError(t, err)
		all := strings.Split(strings.TrimSpace(strings.ReplaceAll(string(out), filepath.ToSlash(dir)+"/", "")), "\n")
		slices.Sort(all)
		assert.Equal(t, tenyears.Of(faults, what), all, tag)
	}
}

// It is the same site each time.
func TestItIsTheSameSite(t *testing.T) {
	t.Parallel()
	a, b := t.TempDir(), t.TempDir()
	one, err := tenyears.Write(a)
	require.NoError(t, err)
	two, err := tenyears.Write(b)
	require.NoError(t, err)
	assert.Equal(t, one, two)
	out, err := exec.Command("diff", "-r", a, b).CombinedOutput() //nolint:gosec // a tool on files of our own
	assert.NoError(t, err, "%s", out)
}
