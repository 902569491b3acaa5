package takealong_test

import (
	"archive/zip"
	"bytes"
	"crypto/sha256"
	"encoding/hex"
	"errors"
	"io"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"mivlet/desk/desktest"
	"mivlet/desk/takealong"
)

// What is packed are files that were cut for the page, with what is hidden hidden, and never an
// original; their names are in the order of the steps.
func TestCutsArePackedAndNoOriginals(t *testing.T) {
	t.Parallel()
	b := desktest.Fresh(t)
	ids := []uint{b.Ready("juniors-boats", 1), b.Ready("juniors-rope", 2)}
	cuts := map[string]uint{}
	for _, id := range ids {
		b.Place(id)
	}
	var packed takealong.Packed
	var out bytes.Buffer
	require.NoError(t, b.TakeAlong.Pack(&out, b.PageID, func(p takealong.Packed) (map[string][]byte, error) {
		packed = p
		return map[string][]byte{"steps.html": []byte("steps"), "page.html": []byte(p.HTML)}, nil
	}))
	for _, id := range ids {
		all, err := b.Kept.AllCuts(id)
		require.NoError(t, err)
		for _, c := range all {
			cuts[c.Hash] = id
		}
	}
	z, err := zip.NewReader(bytes.NewReader(out.Bytes()), int64(out.Len()))
	require.NoError(t, err)
	var names []string
	for _, f := range z.File {
		names = append(names, f.Name)
		if strings.HasPrefix(f.Name, "pictures/") {
			in, err := f.Open()
			require.NoError(t, err)
			data, err := io.ReadAll(in)
			require.NoError(t, err)
			sum := sha256.Sum256(data)
			assert.Contains(t, cuts, hex.EncodeToString(sum[:]), f.Name)
		}
	}
	require.Len(t, packed.Items, 2)
	assert.Equal(t, []string{packed.Items[0].Name, packed.Items[1].Name, "page.html", "steps.html"}, names)
	assert.Regexp(t, `^pictures/01-juniors-.*\.jpg$`, names[0])
	assert.Equal(t, "A boat on a quiet lake", packed.Items[0].Alt)
	assert.Contains(t, packed.HTML, `src="ADDRESS-OF-PICTURE-2"`)
	assert.NotContains(t, packed.HTML, b.Desk.Site)
	// Nothing stands half done: what fails is told.
	full := errors.New("the disk is full")
	require.ErrorIs(t, b.TakeAlong.Pack(failing{full}, b.PageID, func(takealong.Packed) (map[string][]byte, error) { return nil, nil }), full)
	require.ErrorIs(t, b.TakeAlong.Pack(io.Discard, b.PageID, func(takealong.Packed) (map[string][]byte, error) { return nil, full }), full)
}

type failing struct{ err error }

func (f failing) Write([]byte) (int, error) { return 0, f.err }
