package page_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"mivlet/core/page"
	"mivlet/core/rules"
)

// lined is a page of single pictures, numbered from 1, with words behind the fourth and a place
// that waits at the end.
func lined(n int) page.Doc {
	d := page.Doc{Version: page.Version, Title: "Boats"}
	for i := range n {
		if i == 4 {
			d.Blocks = append(d.Blocks, page.Block{ID: "words", Kind: page.Text, Text: "Between."})
		}
		d.Blocks = append(d.Blocks, page.Block{ID: string(rune('a' + i)), Kind: page.Picture, Placement: &page.Placement{Picture: uint(i + 1), Slot: "column", Side: page.None, Caption: "c" + string(rune('a'+i)),
			Alt: "other", Air: &page.Edges{Top: 9}, Link: page.Link{Kind: rules.EnlargeLink}}})
	}
	d.Blocks = append(d.Blocks, page.Block{ID: "hole", Kind: page.Picture, Placement: &page.Placement{Slot: "column"}})
	return d
}

func idsOf(all []page.Block) (ids string) {
	for _, b := range all {
		ids += b.ID
	}
	return ids
}

// A run ends at words, at a place that waits, at another kind of block and at another column.
func TestARunOfPictures(t *testing.T) {
	d := lined(6)
	for id, want := range map[string]string{"a": "abcd", "c": "abcd", "d": "abcd", "e": "ef", "f": "ef", "words": "", "hole": "", "nowhere": ""} {
		assert.Equal(t, want, idsOf(d.Run(id)), id)
	}
	d.Blocks[2].Column = 1
	assert.Equal(t, "ab", idsOf(d.Run("a")))
	assert.Equal(t, "c", idsOf(d.Run("c")))
}

// Pictures that come to stand together keep their words, where they lead and their order; what
// was said of their width and the space around them goes.
func TestPicturesStandTogether(t *testing.T) {
	r := rules.Default()
	d, err := lined(6).Together("b", page.Strip, r)
	require.NoError(t, err)
	assert.Equal(t, "awordsefhole", idsOf(d.Blocks))
	strip := d.Blocks[0]
	require.Equal(t, page.Strip, strip.Kind)
	require.Len(t, strip.Pictures, 4)
	for i, p := range strip.Pictures {
		slot, ok := r.Slot(p.Slot)
		require.True(t, ok)
		assert.True(t, page.Strip.Takes(slot))
		assert.Equal(t, page.Placement{Picture: uint(i + 1), Slot: p.Slot, Side: page.None, Caption: "c" + string(rune('a'+i)), Alt: "other", Link: page.Link{Kind: rules.EnlargeLink}}, p)
	}

	// Two by two; one that is left over stays as it is.
	odd := lined(3)
	d, err = odd.Together("c", page.Pair, r)
	require.NoError(t, err)
	assert.Equal(t, "achole", idsOf(d.Blocks))
	assert.Equal(t, page.Pair, d.Blocks[0].Kind)
	assert.Equal(t, []uint{1, 2}, []uint{d.Blocks[0].Pictures[0].Picture, d.Blocks[0].Pictures[1].Picture})
	assert.Equal(t, odd.Blocks[2], d.Blocks[1])
	assert.Equal(t, lined(3), odd, "what it was made from stays")

	for _, one := range []struct {
		id   string
		kind page.Kind
	}{{"a", page.Text}, {"a", page.Album}, {"hole", page.Pair}, {"nowhere", page.Strip}} {
		_, err := lined(4).Together(one.id, one.kind, r)
		assert.Error(t, err, "%s as %s", one.id, one.kind)
	}
	without := rules.Default()
	without.Slots = without.Slots[:1]
	_, err = lined(4).Together("a", page.Strip, without)
	assert.ErrorContains(t, err, "no slot")
	_, err = lined(1).Together("a", page.Pair, r)
	assert.ErrorContains(t, err, "two pictures")
}

// Another block takes the place of all of them, in their column.
func TestABlockInsteadOfARun(t *testing.T) {
	d := lined(6)
	for i := range d.Blocks {
		d.Blocks[i].Column = 1
	}
	got, err := d.InsteadOf(d.Run("b"), page.Block{ID: "new", Kind: page.Album})
	require.NoError(t, err)
	assert.Equal(t, "newwordsefhole", idsOf(got.Blocks))
	assert.Equal(t, 1, got.Blocks[0].Column)
	_, err = d.InsteadOf(nil, page.Block{ID: "new"})
	assert.Error(t, err)
	_, err = d.InsteadOf([]page.Block{{ID: "gone"}}, page.Block{ID: "new"})
	assert.Error(t, err)
}
