package page_test

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"mivlet/core/page"
)

// laid reads a page from its blocks: a capital letter is a band, a small one a text, and a
// digit behind it the column that it stands in.
func laid(text string) page.Doc {
	d := page.Doc{Version: page.Version}
	for _, f := range strings.Fields(text) {
		b := page.Block{ID: f[:1], Kind: page.Text}
		if len(f) > 1 {
			b.Column = int(f[1] - '0')
		}
		if f[0] < 'a' {
			b.Kind, b.Band = page.Band, &page.BandLayout{Pattern: "two"}
		}
		d.Blocks = append(d.Blocks, b)
	}
	return d
}

// read writes what laid reads.
func read(d page.Doc) string {
	var all []string
	for _, b := range d.Blocks {
		f := b.ID
		if b.Column > 0 {
			f += string(rune('0' + b.Column))
		}
		all = append(all, f)
	}
	return strings.Join(all, " ")
}

// A block moves among those of its column, out of its band at the edges; a band moves with
// all that stands in it. Worked by hand.
func TestMovesAmongBandsAndColumns(t *testing.T) {
	t.Parallel()
	const from = "a b B c d1 e f1 C g"
	for _, one := range []struct {
		id   string
		by   int
		want string
	}{
		{"b", -1, "b a B c d1 e f1 C g"},
		{"a", -1, from}, // the first stays
		{"a", 2, "b B a c d1 e f1 C g"},
		{"c", -1, "a b c B d1 e f1 C g"}, // past the first of its column it leaves the band
		{"e", -1, "a b B e c d1 f1 C g"}, // over its neighbour in the column, not over the other column's
		{"d", 1, "a b B c e f1 d1 C g"},  // the same downwards
		{"f", 1, "a b B c d1 e C f1 g"},  // past the last it comes into the next band
		{"g", 1, from},                   // the last stays
		{"g", -1, "a b B c d1 e f1 g C"}, // out of its band
		{"B", -1, "B c d1 e f1 a b C g"}, // before what stands before the first band
		{"B", 1, "a b C g B c d1 e f1"},  // after the next band
		{"C", 1, from},                   // the last band stays
		{"C", -1, "a b C g B c d1 e f1"}, // before the other
		{"C", -2, "C g a b B c d1 e f1"}, // and further
		{"B", -5, "B c d1 e f1 a b C g"},
	} {
		moved, err := laid(from).Move(one.id, one.by)
		require.NoError(t, err)
		assert.Equal(t, one.want, read(moved), "%s by %d", one.id, one.by)
	}
	first, err := laid("B c").Move("B", -1)
	require.NoError(t, err)
	assert.Equal(t, "B c", read(first), "a band that begins the page stays")
}

// A gap is named by the block before it, and by the column where that is a band.
func TestGapsAmongBandsAndColumns(t *testing.T) {
	t.Parallel()
	const from = "a B c d1 C e"
	for _, one := range []struct {
		id   string
		to   page.Gap
		want string
	}{
		{"e", page.Gap{}, "e a B c d1 C"},
		{"e", page.Gap{After: "d"}, "a B c d1 e1 C"},            // into the column of the block before it
		{"e", page.Gap{After: "B", Column: 1}, "a B e1 c d1 C"}, // into the column that is named
		{"e", page.Gap{After: "B", Column: -3}, "a B e c d1 C"}, // none lies before the first
		{"e", page.Gap{After: "c", Column: 1}, "a B c e d1 C"},  // the block before it decides
		{"d", page.Gap{After: "a"}, "a d B c C e"},
		{"e", page.Gap{After: "gone"}, "a B c d1 C e"}, // at the end
		{"e", page.Gap{After: "e"}, from},              // where it is
		{"B", page.Gap{After: "d"}, from},              // a band is not put into itself
		{"B", page.Gap{After: "e"}, "a C e B c d1"},
		{"C", page.Gap{After: "a"}, "a C e B c d1"}, // between bands
		{"C", page.Gap{After: "c"}, from},           // nor into another one: behind it, where it stands
		{"C", page.Gap{}, "a C e B c d1"},
	} {
		moved, err := laid(from).MoveTo(one.id, one.to)
		require.NoError(t, err)
		assert.Equal(t, one.want, read(moved), "%s to %+v", one.id, one.to)
	}
	_, err := laid(from).MoveTo("x", page.Gap{})
	assert.ErrorContains(t, err, "no block x")

	with, err := laid(from).InsertAt(page.Gap{After: "c"}, page.Block{ID: "D", Kind: page.Band, Column: 1, Band: &page.BandLayout{}})
	require.NoError(t, err)
	assert.Equal(t, "a B c d1 D C e", read(with), "a new band comes behind the one it would divide")
	_, err = laid(from).InsertAt(page.Gap{}, page.Block{ID: "a", Kind: page.Text})
	assert.ErrorContains(t, err, "already")
	for _, gap := range []int{-1, 7} {
		_, err = laid(from).Insert(gap, page.Block{ID: "x", Kind: page.Text})
		assert.ErrorContains(t, err, "no gap", "%d", gap)
	}
	for gap, want := range map[int]string{0: "x a B c d1 C e", 6: "a B c d1 C e x"} {
		with, err := laid(from).Insert(gap, page.Block{ID: "x", Kind: page.Text})
		require.NoError(t, err)
		assert.Equal(t, want, read(with))
	}
}

// A picture leaves its block: the last takes the block along, what is left of a pair stands
// alone, words stay.
func TestWhatIsLeftOfABlock(t *testing.T) {
	t.Parallel()
	at := func(pictures ...uint) (all []page.Placement) {
		for _, p := range pictures {
			all = append(all, page.Placement{Picture: p, Side: page.None, Slot: "column"})
		}
		return all
	}
	one := at(1)[0]
	d := page.Doc{Version: page.Version, Blocks: []page.Block{
		{ID: "p", Kind: page.Picture, Placement: &one}, {ID: "b", Kind: page.Beside, Placement: &one, Text: "Words"}, {ID: "e", Kind: page.Beside, Placement: &one},
		{ID: "q", Kind: page.Pair, Pictures: at(1, 2)}, {ID: "s", Kind: page.Strip, Pictures: at(1, 2, 3)}, {ID: "u", Kind: page.Strip, Pictures: at(4)}}}
	require.NoError(t, d.Check())
	for _, c := range []struct {
		id   string
		n    int
		left []uint // of its pictures; nil where the block is gone
		kind page.Kind
	}{
		{"p", 0, nil, ""}, {"e", 0, nil, ""}, {"u", 0, nil, ""}, {"b", 0, []uint{}, page.Text},
		{"q", 0, []uint{2}, page.Picture}, {"q", 1, []uint{1}, page.Picture}, {"s", 0, []uint{2, 3}, page.Strip}, {"s", 2, []uint{1, 2}, page.Strip},
	} {
		left, err := d.RemovePicture(c.id, c.n)
		require.NoError(t, err)
		require.NoError(t, left.Check(), c.id)
		b, there := left.Block(c.id)
		assert.Equal(t, c.left != nil, there, "%s %d", c.id, c.n)
		if !there {
			continue
		}
		assert.Equal(t, c.kind, b.Kind)
		got := []uint{}
		for _, p := range b.Holds() {
			got = append(got, p.Picture)
		}
		assert.Equal(t, c.left, got, "%s %d", c.id, c.n)
	}
	for _, wrong := range []struct {
		id string
		n  int
	}{{"p", 1}, {"s", 3}, {"s", -1}, {"x", 0}} {
		_, err := d.RemovePicture(wrong.id, wrong.n)
		assert.ErrorContains(t, err, "no picture", "%v", wrong)
	}
	assert.Equal(t, []uint{1, 2, 3, 4}, d.Pictures(), "the page before it was not touched")

	other := page.Placement{Picture: 9, Side: page.None}
	changed, err := d.WithPlacement("s", 2, other)
	require.NoError(t, err)
	b, _ := changed.Block("s")
	assert.Equal(t, []uint{1, 2, 9}, []uint{b.Pictures[0].Picture, b.Pictures[1].Picture, b.Pictures[2].Picture})
	for _, n := range []int{-1, 3} {
		_, err = d.WithPlacement("s", n, other)
		assert.Error(t, err, "%d", n)
	}
	_, err = d.WithPlacement("p", 1, other)
	assert.Error(t, err)
	_, err = d.WithPlacement("x", 0, other)
	assert.Error(t, err)
}
