package desk_test

import (
	"bytes"
	"context"
	"crypto/sha256"
	"encoding/hex"
	"image"
	"image/jpeg"
	"io"
	"math/bits"
	"os"
	"path/filepath"
	"sync"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"mivlet/core/recipe"
	"mivlet/core/twin"
	"mivlet/desk"
	"mivlet/desk/bench"
	"mivlet/desk/desktest"
	"mivlet/desk/pictures"
)

// What nothing refers to is swept away, and nothing else, however much goes on beside.
func TestSweepingBesideWorkThatGoesOn(t *testing.T) {
	t.Parallel()
	b := desktest.FreshInFolder(t, func(o *desk.Options) { o.Grace = time.Hour })
	// What arrives lay there already, left over since long: the very thing a sweep takes.
	leftOver := func(file []byte) {
		hash := sha256.Sum256(file)
		name := hex.EncodeToString(hash[:])
		path, old := filepath.Join(b.Dir, "files", name[:2], name), time.Now().AddDate(0, 0, -100)
		assert.NoError(t, os.MkdirAll(filepath.Dir(path), 0o700))
		assert.NoError(t, os.WriteFile(path+".left", file, 0o600))
		assert.NoError(t, os.Chtimes(path+".left", old, old))
		assert.NoError(t, os.Rename(path+".left", path))
	}
	var work, sweep sync.WaitGroup
	ended := make(chan struct{})
	sweeps := 0
	sweep.Go(func() {
		for {
			assert.NoError(t, b.Tidy())
			sweeps++
			select {
			case <-ended:
				return
			default:
			}
		}
	})
	rounds := 4
	if testing.Short() {
		rounds = 1 // enough to look for races
	}
	for n := range 3 {
		work.Go(func() {
			for i := range rounds {
				file := desktest.Photo(400, 300, uint64(4*n+i))
				leftOver(file)
				a, err := b.Pictures.Arrive("a.jpg", bytes.NewReader(file), "juniors")
				if !assert.NoError(t, err) {
					return
				}
				assert.NoError(t, b.Bench.Send([]uint{a.ID}, bench.Assignment{Slot: "thumb", Section: "juniors"}))
				_, err = b.Cuts.MakeCuts(a.ID, "thumb")
				assert.NoError(t, err)
				_, err = b.Shelves.SwapFile(a.ID, "b.jpg", bytes.NewReader(desktest.Photo(400, 300, uint64(100+n)))) // one content of several pictures
				assert.NoError(t, err)
				assert.NoError(t, b.Shelves.ThrowAway(a.ID))
			}
		})
	}
	work.Wait()
	close(ended)
	sweep.Wait()
	t.Logf("swept %d times beside the work", sweeps)
	b.IsWhole()
	// Thrown away long enough ago, everything of them goes.
	b.SetTime(b.Time().AddDate(0, 0, 40))
	b.AgeFiles()
	require.NoError(t, b.Tidy())
	assert.Empty(t, desktest.FilesOf(t, b.Dir), "nothing refers to anything any more")
}

// Old cuts, stage copies and thumbnails of frames go; what is live, or was, stays.
func TestWhatTheSweepKeeps(t *testing.T) {
	t.Parallel()
	b := desktest.FreshInFolder(t, func(*desk.Options) {})
	picture := b.Ready("juniors-boat", 1)
	b.Place(picture)
	b.GoLive()
	first := b.Images()[0].AttrOr("src", "")
	v := desktest.BoxVeil(200, 200, 400, 300)
	require.NoError(t, b.Bench.Edit(picture, recipe.Edit{Op: recipe.OpVeil, Veil: &v}))
	cuts, err := b.Cuts.MakeCuts(picture, "half")
	require.NoError(t, err)
	require.NoError(t, b.Bench.DropVeil(picture, pictures.Newest, b.VeilsOf(picture)[0]))
	b.SetTime(b.Time().AddDate(0, 0, 8))
	b.AgeFiles()
	require.NoError(t, b.Tidy())
	assert.False(t, b.Kept.Files.Has(cuts[0].Hash), "a cut with a veil that was taken off")
	status, _ := b.Visit(first)
	assert.Equal(t, 200, status, "what visitors see stays")
	f, _, err := b.Derive.Thumb(picture)
	require.NoError(t, err)
	f.Close()
	original, _, err := b.Shelves.OpenOriginal(picture)
	require.NoError(t, err)
	data, err := io.ReadAll(original)
	require.NoError(t, err)
	original.Close()
	assert.Equal(t, desktest.Photo(1600, 1000, 1), data)
	b.IsWhole()
}

// Pictures that came before crops were looked for are found by theirs after a day.
func TestCropsOfEarlierPicturesAreFound(t *testing.T) {
	t.Parallel()
	b := desktest.Fresh(t)
	file, err := os.ReadFile("../demo/pictures/DSC_0430.JPG")
	require.NoError(t, err)
	photo, err := jpeg.Decode(bytes.NewReader(file))
	require.NoError(t, err)
	first := b.Arrive("DSC_0430.JPG", file)
	p := b.PictureOf(first.ID)
	known := p.TwinCrops
	p.TwinCrops = nil
	there, err := b.Kept.Store.SetPreview(p)
	require.NoError(t, err)
	require.True(t, there)
	crop := func(side int) []byte {
		var file bytes.Buffer
		r := photo.Bounds()
		r.Min.X += r.Dx() / 10
		r.Max.Y -= side * r.Dy() / 10
		require.NoError(t, jpeg.Encode(&file, photo.(interface {
			SubImage(image.Rectangle) image.Image
		}).SubImage(r), nil))
		return file.Bytes()
	}
	assert.Empty(t, b.Arrive("before.jpg", crop(1)).Near, "nothing is known of it yet")

	require.NoError(t, b.Tidy())
	was, now := twin.ReadCrops(known), twin.ReadCrops(b.PictureOf(first.ID).TwinCrops)
	for i := range was {
		assert.LessOrEqual(t, bits.OnesCount64(was[i]^now[i]), 4, "nearly as if it came today: the copy on file lost a little")
	}
	near := b.Arrive("after.jpg", crop(0)).Near
	require.NotEmpty(t, near)
	var ids []uint
	for _, n := range near {
		ids = append(ids, n.ID)
	}
	assert.Contains(t, ids, first.ID)
	filled, err := b.Pictures.FillCrops(10)
	require.NoError(t, err)
	assert.Zero(t, filled, "once is enough")

	p = b.PictureOf(first.ID)
	copied := p.PreviewHash
	p.TwinCrops, p.PreviewHash = nil, ""
	_, err = b.Kept.Store.SetPreview(p)
	require.NoError(t, err)
	filled, err = b.Pictures.FillCrops(10)
	require.NoError(t, err)
	assert.Equal(t, 1, filled)
	assert.Equal(t, copied, b.PictureOf(first.ID).PreviewHash, "a copy that had to be made anew is kept")
}

// The bin is emptied while the program runs, not only when it starts.
func TestTheBinIsEmptiedOnTime(t *testing.T) {
	t.Parallel()
	b := desktest.Fresh(t)
	picture := b.Ready("juniors-boat", 1)
	require.NoError(t, b.Shelves.ThrowAway(picture))
	ctx, stop := context.WithCancel(t.Context())
	ended := make(chan struct{})
	go func() { defer close(ended); b.Upkeep(ctx, 5*time.Millisecond) }()
	there := func() bool { _, err := b.Kept.Picture(picture); return err == nil }
	require.Never(t, func() bool { return !there() }, 50*time.Millisecond, 10*time.Millisecond, "it has its days")
	b.SetTime(b.Time().AddDate(0, 0, 31))
	require.Eventually(t, func() bool { return !there() }, 2*time.Minute, 10*time.Millisecond)
	stop()
	<-ended
}
