package pictures_test

import (
	"bytes"
	"errors"
	"io"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"mivlet/desk/access"
	"mivlet/desk/desktest"
	"mivlet/desk/pictures"
)

func TestWhatIsRefusedLeavesNothing(t *testing.T) {
	t.Parallel()
	b := desktest.Fresh(t)
	whole := desktest.Photo(400, 300, 1)
	arithmetic := bytes.Replace(whole, []byte{0xFF, 0xC0}, []byte{0xFF, 0xC9}, 1) // the marker alone says it
	for name, c := range map[string]struct {
		data []byte
		kind access.Kind
		says string
	}{
		"empty.jpg":  {nil, access.Bad, "is empty"},
		"letter.jpg": {[]byte("Dear club"), access.Bad, "its content is text"},
		"half.jpg":   {whole[:len(whole)/2], access.Bad, "ends in the middle"},
		"big.tif":    {[]byte("II\x2b\x00\x08\x00\x00\x00"), access.Bad, "big.tif is whole, but it is written with 64-bit offsets (BigTIFF), which Mivlet does not read. Open it in a program for pictures"},
		"print.jpg":  {arithmetic, access.Bad, "arithmetic coding"},
		"film.mp4":   {[]byte("\x00\x00\x00\x18ftypmp42\x00\x00\x00\x00mp42isom"), access.Bad, "a video"},
	} {
		_, err := b.Pictures.Arrive(name, bytes.NewReader(c.data), "juniors")
		desktest.Refusal(t, err, c.kind, c.says)
	}
	_, err := b.Pictures.Arrive("huge.jpg", io.LimitReader(desktest.Endless{}, 70_000_000), "juniors")
	desktest.Refusal(t, err, access.TooMuch, "60 MB")
	_, err = b.Pictures.Arrive("a.jpg", bytes.NewReader(whole), "nobody")
	desktest.Refusal(t, err, access.Bad, "no section")
	_, err = b.Pictures.Arrive("a.jpg", io.MultiReader(bytes.NewReader(whole[:100]), brokenLine{}), "juniors")
	assert.ErrorContains(t, err, "the line broke")
	assert.Zero(t, b.CountFiles())
	waiting, err := b.Pictures.Waiting()
	require.NoError(t, err)
	assert.Empty(t, waiting)
}

type brokenLine struct{}

func (brokenLine) Read([]byte) (int, error) { return 0, errors.New("the line broke") }

func TestArrivalKnowsItsTwin(t *testing.T) {
	t.Parallel()
	b := desktest.Fresh(t)
	first := b.Arrive(`C:\card\DSC_0001.JPG`, desktest.Photo(400, 300, 1))
	assert.Equal(t, "DSC_0001.JPG", first.OriginalName, "folders of another machine are no part of the name")
	assert.Nil(t, first.Twin)
	second := b.Arrive("again.jpg", desktest.Photo(400, 300, 1))
	require.NotNil(t, second.Twin)
	assert.Equal(t, first.ID, second.Twin.ID)
	assert.Equal(t, 3, b.CountFiles(), "one original, its working copy, its thumbnail")
	require.NoError(t, b.Shelves.ThrowAway(first.ID))
	third := b.Arrive("third.jpg", desktest.Photo(400, 300, 1))
	assert.Equal(t, second.ID, third.Twin.ID, "what lies in the bin is no twin")
	require.NoError(t, b.Shelves.BringBack(first.ID))
	waiting, err := b.Pictures.Waiting()
	require.NoError(t, err)
	assert.Len(t, waiting, 3)
}

func TestANameThatBreaksTheConventionComesBackMended(t *testing.T) {
	t.Parallel()
	b := desktest.Fresh(t)
	b.Ready("juniors-first-launch", 1)
	second := b.Ready("juniors-second", 2)
	for typed, proposal := range map[string]string{
		"First Launch!":        "juniors-first-launch-2", // the mended one is taken: the next number
		"juniors-first-launch": "juniors-first-launch-2",
		"DSC_0417":             "juniors-a-boat-on-a-quiet-lake", // nothing to mend: drawn from the alt text
	} {
		var refused *pictures.NameRefusal
		require.ErrorAs(t, b.Pictures.SetName(second, typed), &refused, typed)
		assert.Equal(t, proposal, refused.Proposal, typed)
		assert.NotEmpty(t, refused.Problems)
	}
	on, err := b.Bench.View(second)
	require.NoError(t, err)
	assert.Equal(t, "juniors-second", on.Work.Name, "refused, and the old name is kept")
}

func TestUndoDoesNotTakeANameThatHasGoneToAnother(t *testing.T) {
	t.Parallel()
	b := desktest.Fresh(t)
	first := b.Ready("juniors-heron", 1)
	require.NoError(t, b.Pictures.SetName(first, "juniors-crane"))
	b.Ready("juniors-heron", 2)
	desktest.Refusal(t, b.Bench.GoTo(first, 2), access.Clash, "belongs to another picture")
}
