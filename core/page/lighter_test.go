package page_test

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"mivlet/core/page"
)

// What is compared is all but lighter files: any other difference, however small, stays one.
func TestWithoutLighter(t *testing.T) {
	t.Parallel()
	usual := `<main><figure>
  <img src="a.jpg?v=1" srcset="a.jpg 300w" alt="A boat">
</figure><picture class="background"><source media="(width >= 600px)" srcset="b.jpg"><img src="c.jpg" alt=""></picture></main>`
	without := string(page.WithoutLighter([]byte(usual)))
	offered := `<main><figure>
  <picture class="lighter" style="display:contents">
    <source type="image/avif" srcset="a.avif 300w"><source type="image/webp" srcset="a.webp 300w">
    <img src="a.jpg?v=1" srcset="a.jpg 300w" alt="A boat">
  </picture>
</figure><picture class="background"><source type="image/avif" srcset="b.avif" media="(width >= 600px)"><source media="(width >= 600px)" srcset="b.jpg"><img src="c.jpg" alt=""></picture></main>`
	assert.Equal(t, without, string(page.WithoutLighter([]byte(offered))))
	for name, other := range map[string]string{
		"another file":        `<main><figure><img src="a.jpg?v=2" srcset="a.jpg 300w" alt="A boat"></figure><picture class="background"><source media="(width >= 600px)" srcset="b.jpg"><img src="c.jpg" alt=""></picture></main>`,
		"another description": `<main><figure><img src="a.jpg?v=1" srcset="a.jpg 300w" alt="A bot"></figure><picture class="background"><source media="(width >= 600px)" srcset="b.jpg"><img src="c.jpg" alt=""></picture></main>`,
		"no background":       `<main><figure><img src="a.jpg?v=1" srcset="a.jpg 300w" alt="A boat"></figure></main>`,
		"another JPEG source": `<main><figure><img src="a.jpg?v=1" srcset="a.jpg 300w" alt="A boat"></figure><picture class="background"><source media="(width >= 600px)" srcset="x.jpg"><img src="c.jpg" alt=""></picture></main>`,
		"a picture around it": `<main><figure><picture class="other"><img src="a.jpg?v=1" srcset="a.jpg 300w" alt="A boat"></picture></figure><picture class="background"><source media="(width >= 600px)" srcset="b.jpg"><img src="c.jpg" alt=""></picture></main>`,
		"words":               `<main>Hello<figure><img src="a.jpg?v=1" srcset="a.jpg 300w" alt="A boat"></figure><picture class="background"><source media="(width >= 600px)" srcset="b.jpg"><img src="c.jpg" alt=""></picture></main>`,
		"a comment":           `<main><!-- x --><figure><img src="a.jpg?v=1" srcset="a.jpg 300w" alt="A boat"></figure><picture class="background"><source media="(width >= 600px)" srcset="b.jpg"><img src="c.jpg" alt=""></picture></main>`,
	} {
		assert.NotEqual(t, without, string(page.WithoutLighter([]byte(other))), name)
	}
	assert.NotEqual(t, string(page.WithoutLighter([]byte("<p>one two</p>"))), string(page.WithoutLighter([]byte("<p>onetwo</p>"))))
}

// Changes of blocks, in reading order.
func TestCompare(t *testing.T) {
	t.Parallel()
	before := page.Doc{Title: "Autumn", Blocks: []page.Block{{ID: "a", Kind: page.Text, Text: "one"}, {ID: "b", Kind: page.Text, Text: "two"}, {ID: "c", Kind: page.Text, Text: "three"}}}
	now := page.Doc{Title: "Late autumn", Blocks: []page.Block{{ID: "d", Kind: page.Text, Text: "new"}, {ID: "c", Kind: page.Text, Text: "three"}, {ID: "a", Kind: page.Text, Text: "ONE"}}}
	var all []string
	for _, c := range page.Compare(before, now) {
		all = append(all, c.What+" "+c.Before.Text+" "+c.Block.Text)
	}
	assert.Equal(t, []string{"changed Autumn Late autumn", "added  new", "changed one ONE", "taken off  two"}, all)
	assert.Empty(t, page.Compare(now, now))
}
