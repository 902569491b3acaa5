package publish_test

import (
	"bytes"
	"fmt"
	"image"
	"image/jpeg"
	"image/png"
	"io"
	"io/fs"
	"os"
	"path/filepath"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"mivlet/core/banner"
	"mivlet/core/layout"
	"mivlet/core/page"
	"mivlet/core/recipe"
	"mivlet/core/rules"
	"mivlet/core/veil"
	"mivlet/desk/bench"
	"mivlet/desk/derive"
	"mivlet/desk/desktest"
	"mivlet/desk/pages"
	"mivlet/desk/publish"
	"mivlet/store"
	"mivlet/store/datafolder"
)

// found is how many pictures the shelves give for some words.
func found(t *testing.T, b *desktest.Fixture, words string) int64 {
	t.Helper()
	v, err := b.Shelves.Shelves(store.ShelfQuery{Text: words})
	require.NoError(t, err)
	return v.All
}

// ways brings a picture into a fresh house, hides hiddenAt and gathers all bytes that
// come out of it for anybody but those who may see what is hidden, each by its way.
func ways(t *testing.T, file []byte, name string, v veil.Veil) map[string][]byte {
	b := desktest.Fresh(t)
	out := map[string][]byte{}
	kept := func(way string) func(derive.File, error) {
		return func(f derive.File, err error) {
			t.Helper()
			require.NoError(t, err, way)
			defer f.Close()
			data, err := io.ReadAll(f)
			require.NoError(t, err)
			out[way] = bytes.ReplaceAll(data, []byte(b.Site), nil) // each scene has a site of its own
		}
	}
	id := b.Arrive(name, file).ID
	require.NoError(t, b.Bench.Send([]uint{id}, bench.Assignment{Slot: "column", Section: "juniors"}))
	require.NoError(t, b.Pictures.SetName(id, "juniors-board"))
	require.NoError(t, desktest.Describe(b.Desk, id, "A board with names"))
	inHand, part, err := b.Derive.VeilLook(id, -1, v)
	kept("a veil in the hand")(inHand, err)
	assert.True(t, desktest.HiddenAt.In(part), "the look covers all of the veil: %v", part)
	require.NoError(t, b.Bench.Edit(id, recipe.Edit{Op: recipe.OpVeil, Veil: &v}))

	size := desktest.Scene(0).Rect
	kept("stage")(b.Derive.Stage(id, -1))
	for level := range 3 {
		for row := range (size.Dy()>>level + derive.TileSide - 1) / derive.TileSide {
			for col := range (size.Dx()>>level + derive.TileSide - 1) / derive.TileSide {
				kept(fmt.Sprint("tile ", level, col, row))(b.Derive.Tile(id, level, col, row))
			}
		}
	}
	thumb, _, err := b.Derive.Thumb(id)
	kept("thumbnail")(thumb, err)
	look, _, err := b.Derive.Look(id)
	kept("look")(look, err)
	kept("before encoding")(b.Cuts.PlainCut(id, ""))
	trial, err := b.Cuts.TryCut(id, "", 40_000)
	kept("trial")(trial.File, err)
	for _, slot := range b.Rules().Slots {
		cuts, err := b.Cuts.MakeCuts(id, slot.ID)
		require.NoError(t, err)
		for _, c := range cuts {
			kept(fmt.Sprint("cut for ", slot.ID, c.Density))(b.Cuts.OpenCut(c.Hash))
		}
	}
	require.NoError(t, b.Bench.Edit(id, recipe.Edit{Op: recipe.OpStraighten, Degrees: 3}))
	look, _, err = b.Derive.Look(id)
	kept("look, straightened")(look, err)
	require.NoError(t, b.Bench.Edit(id, recipe.Edit{Op: recipe.OpStraighten}))

	block := b.PlaceIn(id, "side")
	b.Place(id)
	require.NotEmpty(t, block)
	const band = "band" // the same in both houses, as it stands in the page
	require.NoError(t, b.Pages.Edit(b.PageID, pages.Newest, "a band", func(doc page.Doc) (page.Doc, error) {
		return doc.Insert(0, page.Block{ID: band, Kind: page.Band, Band: &page.BandLayout{Pattern: "wide"}})
	}))
	require.NoError(t, b.Backgrounds.Set(b.PageID, band, b.MarkOf(band), &page.Background{Cover: page.Cover{Picture: id}, Height: page.UsualHeight, Shade: 60}))
	for _, d := range layout.Devices {
		kept("behind a band, " + d.String())(b.Backgrounds.Look(b.PageID, band, d))
	}
	behind, err := b.Backgrounds.Of(b.PageID, band)
	require.NoError(t, err)
	out["contrasts"] = fmt.Append(nil, behind.Contrasts, behind.Dark, behind.Lit)
	held, err := b.Albums.Begin("juniors", "Boards", []uint{id})
	require.NoError(t, err)
	require.NoError(t, b.Pages.Edit(b.PageID, pages.Newest, "albums", func(doc page.Doc) (page.Doc, error) {
		for _, look := range page.AlbumLooks {
			if doc, err = doc.Insert(0, page.Block{ID: string(look), Kind: page.Album, Album: &page.AlbumShow{Album: held, Look: look}}); err != nil {
				return doc, err
			}
		}
		return doc, nil
	}))
	var album bytes.Buffer
	_, err = b.Albums.Archive(&album, held, 500)
	require.NoError(t, err)
	for at, data := range picturesIn(t, album.Bytes()) {
		out["album as ZIP "+at] = data
	}
	require.NoError(t, b.Covers.SetCard(b.PageID, "", &page.TitleCard{Behind: &page.Cover{Picture: id}}))
	kept("title card")(b.Previews.Look(b.PageID))
	assert.True(t, b.GoLive().OK())
	for n, f := range b.FilesLive() {
		live, err := b.Publish.Published(f.Path, store.Mark(f.Hash))
		kept(fmt.Sprint("live file ", n))(live.File, err)
		out["live addresses"] = append(out["live addresses"], f.Path...)
	}
	bannered(t, b, id)
	files, err := b.Kept.BannerFiles()
	require.NoError(t, err)
	for _, all := range files {
		for n, f := range all {
			live, err := b.Publish.Published(f.Path, "")
			kept(fmt.Sprint("banner file ", n))(live.File, err)
			out["banner addresses"] = append(out["banner addresses"], f.Path...)
		}
	}
	var zip bytes.Buffer
	require.NoError(t, b.Publish.PageArchive(&zip, b.PageID, publish.Dressing{}))
	for at, data := range picturesIn(t, zip.Bytes()) {
		out["zip "+at] = data
	}
	trail, err := b.Kept.Trail(store.TrailFilter{})
	require.NoError(t, err)
	for _, line := range trail {
		out["trail"] = append(out["trail"], line.What...)
	}
	got, err := b.Bench.View(id)
	require.NoError(t, err)
	for _, s := range got.Steps {
		out["history"] = append(out["history"], s.Text...)
	}
	out["found by words"] = fmt.Append(nil, found(t, b, "board"), found(t, b, "01632"))
	return out
}

// The definition of hiding: what comes out does not depend on what is hidden, bit for bit,
// whichever way it takes.
func TestWhateverIsHiddenAllWaysOutAreTheSame(t *testing.T) {
	t.Parallel()
	if testing.Short() {
		t.Skip("slow")
	}
	encode := map[string]func(io.Writer, image.Image) error{
		"board.png": png.Encode,
		"board.jpg": func(w io.Writer, m image.Image) error { return jpeg.Encode(w, m, &jpeg.Options{Quality: 88}) },
	}
	for name, write := range encode {
		t.Run(name, func(t *testing.T) {
			v := veil.Veil{Shape: veil.Rect, Bounds: desktest.HiddenAt, Style: veil.Cover, Reason: veil.Number}
			var both [2]map[string][]byte
			for i := range both {
				var file bytes.Buffer
				require.NoError(t, write(&file, desktest.Scene(i)))
				both[i] = ways(t, file.Bytes(), name, v)
			}
			require.Greater(t, len(both[0]), 30)
			for way, data := range both[0] {
				assert.NotEmpty(t, data, way)
				other, there := both[1][way]
				assert.True(t, there, "%s is a way of one scene alone", way)
				assert.True(t, bytes.Equal(data, other), "%s tells the scenes apart", way)
			}
			assert.Len(t, both[1], len(both[0]))
		})
	}
}

// A backup holds the originals, for those who keep the house. Of what visitors get it
// holds the same, whatever is hidden.
func TestBackupsOfLiveFilesTellNothing(t *testing.T) {
	t.Parallel()
	var live [2]map[string]bool
	for i := range live {
		b := desktest.Fresh(t)
		var file bytes.Buffer
		require.NoError(t, png.Encode(&file, desktest.Scene(i)))
		id := b.Arrive("board.png", file.Bytes()).ID
		require.NoError(t, b.Bench.Send([]uint{id}, bench.Assignment{Slot: "column", Section: "juniors"}))
		require.NoError(t, b.Pictures.SetName(id, "juniors-board"))
		require.NoError(t, desktest.Describe(b.Desk, id, "A board with names"))
		require.NoError(t, b.Bench.Edit(id, recipe.Edit{Op: recipe.OpVeil, Veil: &veil.Veil{Shape: veil.Rect, Bounds: desktest.HiddenAt, Style: veil.Cover}}))
		b.Place(id)
		b.GoLive()
		to := filepath.Join(t.TempDir(), "copy")
		_, err := datafolder.Backup(b.Dir, to, "", b.Time())
		require.NoError(t, err)
		live[i] = map[string]bool{}
		require.NoError(t, filepath.WalkDir(to, func(at string, e fs.DirEntry, err error) error {
			if err != nil || e.IsDir() {
				return err
			}
			data, err := os.ReadFile(at)
			for _, f := range b.FilesLive() {
				if hashOf(data) == f.Hash {
					live[i][f.Path+hashOf(bytes.ReplaceAll(data, []byte(b.Site), nil))] = true // each has a site of its own
				}
			}
			return err
		}))
		require.NotEmpty(t, live[i])
	}
	assert.Equal(t, live[0], live[1])
}

// bannered puts a picture on a banner that visitors get.
func bannered(t *testing.T, b *desktest.Fixture, picture uint) {
	t.Helper()
	b.UnderRules(func(r *rules.Rules) {
		r.Spots = []rules.Spot{{ID: "foot", Title: "Partners", Width: 120, Height: 60, PhoneWidth: 60, PhoneHeight: 60, Where: rules.Below, Turn: rules.ByTurns, Empty: rules.ShowNothing}}
	})
	id, err := b.Banners.Begin("juniors", "Rope", "foot")
	require.NoError(t, err)
	require.NoError(t, b.Banners.SetPicture(id, picture))
	require.NoError(t, b.Banners.Set(id, 2, banner.Doc{Title: "Rope", Spot: "foot", Alt: "The rope works by the lake", Address: "/touring"}))
	v, err := b.Banners.Of(id)
	require.NoError(t, err)
	require.NoError(t, b.Banners.Approve(id, v.Seen()))
}
