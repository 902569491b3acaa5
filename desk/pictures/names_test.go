package pictures_test

import (
	"bytes"
	"fmt"
	"image"
	"image/jpeg"
	"io"
	"os"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"mivlet/core/rules"
	"mivlet/desk/access"
	"mivlet/desk/bench"
	"mivlet/desk/desktest"
	"mivlet/desk/pictures"
	"mivlet/store"
)

func TestRenamingIsPlannedAndFollowed(t *testing.T) {
	t.Parallel()
	b := desktest.Fresh(t)
	one, two := b.Ready("juniors-one", 1), b.Ready("juniors-two", 2)
	b.Place(one)
	_, err := b.Publish.Publish(t.Context(), b.PageID, b.PageView().Seen, "", desktest.PlainLayout)
	require.NoError(t, err)
	plan, err := b.Pictures.PlanNames([]uint{one, two}, "First launch")
	require.NoError(t, err)
	assert.Equal(t, "juniors-one", plan[0].From)
	assert.Equal(t, "juniors-first-launch-1", plan[0].To)
	assert.Equal(t, "juniors-first-launch-2", plan[1].To)
	assert.NotEmpty(t, plan[0].Steps)
	require.NoError(t, b.Pictures.Rename(map[uint]string{one: plan[0].To, two: plan[1].To}))
	assert.True(t, b.PageView().Differs, "the live page says that it wants publishing again")
	found, err := b.Shelves.Shelves(store.ShelfQuery{Text: "juniors-one"})
	require.NoError(t, err)
	require.Len(t, found.Pictures, 1, "the old name still finds it")
	assert.Equal(t, one, found.Pictures[0].ID)

	var refused *pictures.NameRefusal
	require.ErrorAs(t, b.Pictures.Rename(map[uint]string{one: "juniors-new-name", two: "juniors-first-launch-1!"}), &refused)
	c, err := b.Shelves.PictureCard(one)
	require.NoError(t, err)
	assert.Equal(t, "juniors-first-launch-1", c.Name, "all are renamed, or none")
}

// Under any order of acts no two pictures share a name.
func TestNoTwoPicturesShareAName(t *testing.T) {
	t.Parallel()
	b := desktest.Fresh(t)
	var ids []uint
	for i := range 4 {
		ids = append(ids, b.Arrive(fmt.Sprintf("DSC_000%d.JPG", i), desktest.Photo(160, 120, uint64(i))).ID)
	}
	require.NoError(t, b.Bench.Send(ids, bench.Assignment{Slot: "thumb", Section: "juniors"}))
	rapid.Check(t, func(t *rapid.T) {
		for range rapid.IntRange(1, 8).Draw(t, "acts") {
			id := rapid.SampledFrom(ids).Draw(t, "picture")
			name := "juniors-" + rapid.SampledFrom([]string{"boat", "boat-2", "boat-3", "lake"}).Draw(t, "name")
			switch rapid.IntRange(0, 4).Draw(t, "act") {
			case 0:
				_ = b.Pictures.SetName(id, name)
			case 1:
				_ = b.Pictures.Rename(map[uint]string{id: name})
			case 2:
				_ = b.Shelves.ThrowAway(id)
			case 3:
				_ = b.Shelves.BringBack(id)
			case 4:
				if plan, err := b.Pictures.PlanNames(ids, "boat"); err == nil {
					names := map[uint]string{}
					for _, p := range plan {
						names[p.Picture.ID] = p.To
					}
					_ = b.Pictures.Rename(names)
				}
			}
			seen := map[string]uint{}
			for _, id := range ids {
				p, err := b.Kept.Picture(id)
				if err != nil {
					t.Fatal(err)
				}
				if other, there := seen[p.Name]; there && p.Name != "" {
					t.Fatalf("%d and %d are both called %s", id, other, p.Name)
				}
				seen[p.Name] = id
			}
		}
	})
}

// smaller is the same photo at half its size, recompressed.
func smaller(t *testing.T, data []byte) []byte {
	m, err := jpeg.Decode(bytes.NewReader(data))
	require.NoError(t, err)
	out := image.NewRGBA(image.Rect(0, 0, m.Bounds().Dx()/2, m.Bounds().Dy()/2))
	for y := range out.Rect.Dy() {
		for x := range out.Rect.Dx() {
			out.Set(x, y, m.At(2*x, 2*y))
		}
	}
	var b bytes.Buffer
	require.NoError(t, jpeg.Encode(&b, out, &jpeg.Options{Quality: 50}))
	return b.Bytes()
}

func TestTwinsAndNearTwins(t *testing.T) {
	t.Parallel()
	b := desktest.Fresh(t)
	data, err := os.ReadFile("../../demo/pictures/P1040860.JPG")
	require.NoError(t, err)
	first := b.Arrive("a.jpg", data)
	assert.Nil(t, first.Twin)
	assert.Empty(t, first.Near)
	again := b.Arrive("b.jpg", data)
	require.NotNil(t, again.Twin, "exactly the same file")
	assert.Equal(t, first.ID, again.Twin.ID)
	near := b.Arrive("c.jpg", smaller(t, data))
	assert.Nil(t, near.Twin)
	require.NotEmpty(t, near.Near, "the same photo, smaller")

	photo, err := jpeg.Decode(bytes.NewReader(data))
	require.NoError(t, err)
	var cut bytes.Buffer
	corner := image.Rect(photo.Bounds().Dx()/10, 0, photo.Bounds().Dx(), photo.Bounds().Dy()*9/10)
	require.NoError(t, jpeg.Encode(&cut, photo.(interface {
		SubImage(image.Rectangle) image.Image
	}).SubImage(corner), nil))
	cropped := b.Arrive("d.jpg", cut.Bytes())
	require.NotEmpty(t, cropped.Near, "a tenth was cut off at two sides")
	assert.Contains(t, []uint{first.ID, again.ID}, cropped.Near[0].ID)
}

func TestTheHousesTypesRuleArrivals(t *testing.T) {
	t.Parallel()
	b := desktest.Fresh(t)
	svg := []byte(`<svg xmlns="http://www.w3.org/2000/svg" width="10" height="10"/>`)
	_, err := b.Pictures.Arrive("logo.svg", bytes.NewReader(svg), "juniors")
	desktest.Refusal(t, err, access.Bad, "Save it as PNG")
	bmp := append([]byte("BM\x46\x00\x00\x00\x00\x00\x00\x00\x36\x00\x00\x00\x28\x00\x00\x00\x02\x00\x00\x00\x02\x00\x00\x00\x01\x00\x18\x00\x00\x00\x00\x00\x10\x00\x00\x00\x13\x0b\x00\x00\x13\x0b\x00\x00\x00\x00\x00\x00\x00\x00\x00\x00"),
		bytes.Repeat([]byte{10, 20, 200, 10, 20, 200, 0, 0}, 2)...)
	a, err := b.Pictures.Arrive("scan.bmp", bytes.NewReader(bmp), "juniors")
	require.NoError(t, err)
	assert.Equal(t, "image/bmp", a.Converted)
	assert.Equal(t, "image/png", a.Facts.MediaType, "converted as the house says; the file that came is kept beside it")
	raw, err := b.Kept.Files.Open(a.ArrivedHash)
	require.NoError(t, err)
	kept, _ := io.ReadAll(raw)
	raw.Close()
	assert.Equal(t, bmp, kept)
	again, err := b.Pictures.Arrive("again.bmp", bytes.NewReader(bmp), "juniors")
	require.NoError(t, err)
	require.NotNil(t, again.Twin, "the file that came is known again")

	require.NoError(t, b.House.ChangeRules(func(r rules.Rules) (rules.Rules, error) {
		return r.AddType(rules.Type{Title: "PDF document", MediaType: "application/pdf", Extension: ".pdf", Bytes: "25504446", Do: rules.Refuse, Say: "Bring its first page as a picture."})
	}))
	require.NoError(t, b.House.ChangeRules(desktest.Setting("/types/image/jpeg/do", "refuse")))
	require.NoError(t, b.House.ChangeRules(desktest.Setting("/types/image/jpeg/say", "Bring it as WebP.")))
	_, err = b.House.ApplyRules("try it")
	require.NoError(t, err)
	_, err = b.Pictures.Arrive("letter.pdf", strings.NewReader("%PDF-1.7 and so on"), "juniors")
	desktest.Refusal(t, err, access.Bad, "PDF document")
	_, err = b.Pictures.Arrive("a.jpg", bytes.NewReader(desktest.Photo(90, 60, 1)), "juniors")
	desktest.Refusal(t, err, access.Bad, "Bring it as WebP.")
}
