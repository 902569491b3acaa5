package pictures_test

import (
	"bytes"
	"sync"
	"sync/atomic"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"mivlet/desk"
	"mivlet/desk/access"
	"mivlet/desk/desktest"
)

// A house takes as many pictures as it is allotted, also where many come at once, and tells what to do then.
func TestMorePicturesThanAllotted(t *testing.T) {
	t.Parallel()
	b := desktest.FreshWith(t, func(o *desk.Options) { o.Allotted = access.Allotment{Pictures: 3} })
	var came, refused atomic.Int64
	var all sync.WaitGroup
	for i := range 8 {
		all.Go(func() {
			_, err := b.Pictures.Arrive("a.jpg", bytes.NewReader(desktest.Photo(60, 40, uint64(i))), "juniors")
			if err == nil {
				came.Add(1)
				return
			}
			desktest.Refusal(t, err, access.TooMuch, "3 pictures, as many as it may have")
			refused.Add(1)
		})
	}
	all.Wait()
	assert.EqualValues(t, 3, came.Load())
	assert.EqualValues(t, 5, refused.Load())
	ps, err := b.Kept.PicturesAfter(0, 9)
	require.NoError(t, err)
	_, err = b.Shelves.NewVariant(ps[0].ID)
	desktest.Refusal(t, err, access.TooMuch, "as many as it may have")
}

// What is allotted in bytes is what pictures had when they arrived.
func TestMoreBytesThanAllotted(t *testing.T) {
	t.Parallel()
	photo := desktest.Photo(60, 40, 1)
	b := desktest.FreshWith(t, func(o *desk.Options) { o.Allotted = access.Allotment{Bytes: int64(len(photo)) + 1, People: 1} })
	_, err := b.Pictures.Arrive("a.jpg", bytes.NewReader(photo), "juniors")
	require.NoError(t, err)
	_, err = b.Pictures.Arrive("b.jpg", bytes.NewReader(desktest.Photo(60, 40, 2)), "juniors")
	desktest.Refusal(t, err, access.TooMuch, "are taken")
	pictures, held, err := b.Kept.Held()
	require.NoError(t, err)
	assert.Equal(t, 1, pictures)
	assert.EqualValues(t, len(photo), held)
}

// Who has had as long as the house may decode in a day brings in more on the next one; what is there can be worked with.
func TestLongerThanAllotted(t *testing.T) {
	t.Parallel()
	b := desktest.FreshWith(t, func(o *desk.Options) { o.Allotted = access.Allotment{Decoding: 5} })
	id := b.Ready("juniors-boat", 1)
	took, err := b.Kept.AddDecoded(b.Today(), 0)
	require.NoError(t, err)
	assert.Less(t, took, time.Minute)
	require.NoError(t, b.Pictures.RoomToDecode())
	after, err := b.Kept.AddDecoded(b.Today(), 0)
	require.NoError(t, err)
	assert.Greater(t, after, took, "what was decoded for it counts")
	b.Pictures.Decoded(5 * time.Minute)
	_, err = b.Pictures.Arrive("b.jpg", bytes.NewReader(desktest.Photo(60, 40, 2)), "juniors")
	desktest.Refusal(t, err, access.TooMuch, "5 minutes of decoding for today")
	_, err = b.Cuts.MakeCuts(id, "column")
	require.NoError(t, err)
	b.SetTime(b.Time().Add(24 * time.Hour))
	_, err = b.Pictures.Arrive("b.jpg", bytes.NewReader(desktest.Photo(60, 40, 2)), "juniors")
	require.NoError(t, err)
}
