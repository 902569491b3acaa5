package desktest

import (
	"os"
	"path/filepath"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"mivlet/desk/pictures"
	"mivlet/store/datafolder"
)

// FilesOf reads all kept files, by their hashes.
func FilesOf(t *testing.T, dir string) map[string][]byte {
	t.Helper()
	all := map[string][]byte{}
	names, err := filepath.Glob(filepath.Join(dir, "files", "??", "*"))
	require.NoError(t, err)
	for _, n := range names {
		data, err := os.ReadFile(n)
		require.NoError(t, err)
		all[filepath.Base(n)] = data
	}
	return all
}

// IsWhole holds the data folder against its own check.
func (b *Fixture) IsWhole() {
	b.T.Helper()
	r, err := datafolder.Verify(b.Dir, time.Hour)
	require.NoError(b.T, err)
	assert.Empty(b.T, r.Faults)
}

// AgeFiles makes all kept files look as if they were kept long ago.
func (b *Fixture) AgeFiles() {
	b.T.Helper()
	old := time.Now().Add(-100 * 24 * time.Hour)
	for hash := range FilesOf(b.T, b.Dir) {
		require.NoError(b.T, os.Chtimes(filepath.Join(b.Dir, "files", hash[:2], hash), old, old))
	}
}

// AsBefore undoes what a change did, and brings the page live as it is.
func (b *Fixture) AsBefore(picture uint) {
	b.T.Helper()
	if err := b.Shelves.BringBack(picture); err != nil {
		require.NoError(b.T, err)
	}
	v, err := b.Bench.View(picture)
	require.NoError(b.T, err)
	for _, e := range v.Consents {
		require.NoError(b.T, b.Pictures.DropConsent(picture, e.ID, pictures.ConsentMark(e), "it was noted by mistake"))
	}
	if !b.PageView().Shows(picture) {
		b.PlaceIn(picture, "side")
	}
	b.GoLive()
}

// LiveFiles are the files that visitors get, by path and content.
func (b *Fixture) LiveFiles() map[string]string {
	b.T.Helper()
	files, err := b.Kept.FilesOf(b.PageID)
	require.NoError(b.T, err)
	all := map[string]string{}
	for _, f := range files {
		all[f.Path+" "+f.Hash] = f.CutKey
	}
	return all
}

// Traceable holds what is live against the house: where the page is not listed as
// changed, it is what the draft gives now, file by file; where it is, its files are those
// of the version that is recorded with them.
func (b *Fixture) Traceable(when string) {
	b.T.Helper()
	pages, err := b.Pages.Pages()
	require.NoError(b.T, err)
	files, err := b.Kept.FilesOf(b.PageID)
	require.NoError(b.T, err)
	for _, f := range files {
		if f.PictureID == 0 || f.For != "" {
			continue
		}
		cuts, err := b.Kept.Cuts(f.PictureID, f.CutKey)
		require.NoError(b.T, err)
		var hashes []string
		for _, c := range cuts {
			hashes = append(hashes, c.Hash)
		}
		assert.Contains(b.T, hashes, f.Hash, "%s: it is the cut that is recorded", when)
		pic, err := b.Kept.Picture(f.PictureID)
		require.NoError(b.T, err)
		if pages[0].Differs {
			continue
		}
		now, err := b.Cuts.MakeCuts(f.PictureID, "side")
		require.NoError(b.T, err)
		hashes = nil
		for _, c := range now {
			hashes = append(hashes, c.Hash)
		}
		assert.Contains(b.T, hashes, f.Hash, "%s: not listed as changed, so it is what the picture is now", when)
		assert.Equal(b.T, pic.OriginalHash, f.Original, when)
	}
	for _, v := range b.PageView().Findings {
		exposed, err := b.Bench.Exposures(v.Picture.ID)
		require.NoError(b.T, err)
		assert.True(b.T, v.Level != "stop" || len(exposed) > 0, "%s: what says stop now and is live is offered to be withdrawn", when)
	}
}
