package page_test

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"mivlet/core/page"
)

func ids(d page.Doc) string {
	var all []string
	for _, b := range d.Blocks {
		all = append(all, b.ID)
	}
	return strings.Join(all, "")
}

func lettered(names string) page.Doc {
	d := page.Doc{Version: page.Version}
	for _, n := range names {
		d.Blocks = append(d.Blocks, page.Block{ID: string(n), Kind: page.Text})
	}
	return d
}

func TestBlocksArePutBehindOthersAndMoved(t *testing.T) {
	d := lettered("abc")
	for after, want := range map[string]string{"": "xabc", "a": "axbc", "c": "abcx", "gone": "abcx"} {
		with, err := d.InsertAt(page.Behind(after), page.Block{ID: "x", Kind: page.Text})
		require.NoError(t, err)
		assert.Equal(t, want, ids(with), "after %q", after)
	}
	assert.Equal(t, "abc", ids(d), "the old document is as it was")
	for _, c := range []struct {
		id   string
		by   int
		want string
	}{{"a", 1, "bac"}, {"c", -2, "cab"}, {"b", 9, "acb"}, {"b", -9, "bac"}, {"a", 0, "abc"}} {
		moved, err := d.Move(c.id, c.by)
		require.NoError(t, err)
		assert.Equal(t, c.want, ids(moved), "%s by %d", c.id, c.by)
	}
	_, err := d.Move("z", 1)
	assert.ErrorContains(t, err, "no block z")
}

// Moving loses no block, whatever is moved where.
func TestMovingKeepsAllBlocks(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		d := lettered("abcdefg"[:rapid.IntRange(1, 7).Draw(t, "n")])
		id := d.Blocks[rapid.IntRange(0, len(d.Blocks)-1).Draw(t, "which")].ID
		moved, err := d.Move(id, rapid.IntRange(-10, 10).Draw(t, "by"))
		if err != nil || len(moved.Blocks) != len(d.Blocks) {
			t.Fatalf("%v became %v: %v", ids(d), ids(moved), err)
		}
		for _, b := range d.Blocks {
			if _, ok := moved.Block(b.ID); !ok {
				t.Fatalf("%s lost %s", ids(moved), b.ID)
			}
		}
	})
}

func TestAMarkChangesWithTheBlock(t *testing.T) {
	b := page.Block{ID: "a", Kind: page.Text, Text: "One"}
	mark := b.Mark()
	b.Text = "Two"
	assert.NotEqual(t, mark, b.Mark())
	b.Text = "One"
	assert.Equal(t, mark, b.Mark())
}

func TestArrangementsAreWholeDocuments(t *testing.T) {
	for _, a := range page.Arrangements {
		n := 0
		blocks, ok := page.Arranged(a.ID, func() string { n++; return string(rune('a' + n)) })
		require.True(t, ok)
		_, err := page.Doc{Version: page.Version, Title: a.Title, Blocks: blocks}.Move("nothing", 1)
		assert.Error(t, err)
		assert.Len(t, blocks, n)
	}
	_, ok := page.Arranged("poster", nil)
	assert.False(t, ok)
}

// Text is CommonMark (spec 0.31), with tables; nothing in it acts.
func TestWordsOfEveryKind(t *testing.T) {
	for source, want := range map[string]string{
		"- one\n- two":                    "<ul>\n<li>one</li>\n<li>two</li>\n</ul>\n",
		"> said so":                       "<blockquote>\n<p>said so</p>\n</blockquote>\n",
		"*slanted* and **strong**":        "<p><em>slanted</em> and <strong>strong</strong></p>\n",
		"---":                             "<hr>\n",
		"| a | b |\n|---|---|\n| 1 | 2 |": "<table>\n<thead>\n<tr>\n<th scope=\"col\">a</th>\n<th scope=\"col\">b</th>\n</tr>\n</thead>\n<tbody>\n<tr>\n<td>1</td>\n<td>2</td>\n</tr>\n</tbody>\n</table>\n",
	} {
		assert.Equal(t, want, page.TextHTML(source), source)
	}
	for _, bad := range []string{"<script>alert(1)</script>", "[x](javascript:alert(1))", "<img src=x onerror=alert(1)>", "<iframe src=https://a.example></iframe>"} {
		html := page.TextHTML(bad)
		for _, acts := range []string{"<script", "javascript:", "onerror", "<iframe"} {
			assert.NotContains(t, html, acts, bad)
		}
	}
}
