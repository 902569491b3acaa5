package takealong_test

import (
	"fmt"
	"strings"
	"testing"

	"github.com/PuerkitoBio/goquery"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"mivlet/core/takealong"
)

func ours(address string) bool { return strings.HasPrefix(address, "kept/") }

// Of each picture one file is taken, the widest; what shows it twice has one placeholder; the rest
// of the page stays.
func TestAPageIsPrepared(t *testing.T) {
	t.Parallel()
	const page = `<h2>Five &lt; six</h2>
<figure style="width: 640px"><picture><source type="image/webp" srcset="kept/a-640.webp 640w"><img src="kept/a-640.jpg" srcset="kept/a-640.jpg 640w, kept/a-1280.jpg 1280w, kept/a-360.jpg 360w" sizes="640px" width="640" height="400" alt="A &quot;boat&quot;"></picture><figcaption>On  the
 lake</figcaption></figure>
<p><a href="https://elsewhere.example/x">elsewhere</a> <a href="kept/plan.pdf">The plan</a></p>
<img src="kept/b.png" alt=""><img src="kept/a-1280.jpg" alt="again"><img src="https://elsewhere.example/c.jpg" alt="theirs">`
	out, items, err := takealong.Prepare(page, ours)
	require.NoError(t, err)
	assert.Equal(t, []takealong.Item{
		{Number: 1, Address: "kept/a-1280.jpg", Placeholder: "ADDRESS-OF-PICTURE-1", Picture: true, Alt: `A "boat"`, Caption: "On the lake"},
		{Number: 2, Address: "kept/plan.pdf", Placeholder: "ADDRESS-OF-FILE-2", Caption: "The plan"},
		{Number: 3, Address: "kept/b.png", Placeholder: "ADDRESS-OF-PICTURE-3", Picture: true},
	}, items)
	doc, err := goquery.NewDocumentFromReader(strings.NewReader(out))
	require.NoError(t, err)
	var sources []string
	doc.Find("img").Each(func(_ int, s *goquery.Selection) { sources = append(sources, s.AttrOr("src", "")) })
	assert.Equal(t, []string{"ADDRESS-OF-PICTURE-1", "ADDRESS-OF-PICTURE-3", "ADDRESS-OF-PICTURE-1", "https://elsewhere.example/c.jpg"}, sources)
	assert.Zero(t, doc.Find("source, picture, [srcset], [sizes]").Length())
	assert.Equal(t, "640", doc.Find("img").First().AttrOr("width", ""), "it is as large as before")
	assert.Equal(t, "width: 640px", doc.Find("figure").AttrOr("style", ""))
	assert.Equal(t, "Five < six", doc.Find("h2").Text())
	assert.Equal(t, "https://elsewhere.example/x", doc.Find("a").First().AttrOr("href", ""))
	assert.NotContains(t, out, "kept/")
}

// A picture is brought in elsewhere, and its placeholder gives way to its address there.
func ExamplePrepare() {
	page, items, err := takealong.Prepare(`<img src="kept/boat.jpg" alt="A boat">`, func(address string) bool { return address == "kept/boat.jpg" })
	fmt.Print(page)
	fmt.Println(items[0].Placeholder, items[0].Alt, err)
	// Output:
	// <img src="ADDRESS-OF-PICTURE-1" alt="A boat"/>
	// ADDRESS-OF-PICTURE-1 A boat <nil>
}
