package site_test

import (
	"strings"
	"testing"

	"github.com/PuerkitoBio/goquery"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"mivlet/core/site"
)

const own = `<!DOCTYPE html>
<html lang="{{language}}"><head><meta charset="utf-8"><title>{{ title }}</title><link rel="stylesheet" href="/ours.css">
{{head}}</head>
<body><header title="{{house}}">{{house}}<nav>{{sections}}</nav></header>
<main>{{content}}</main></body></html>`

// What a page consists of comes to its places, escaped where it is words, and nothing of it is read
// as a place again.
func TestALayoutIsFilled(t *testing.T) {
	t.Parallel()
	l, err := site.ParseLayout(own)
	require.NoError(t, err)
	assert.True(t, l.Any())
	out := l.Fill(site.Parts{Title: "Soup & {{content}} </title><script>", Language: "en", House: `"Club" <b>`, Head: []byte("<meta name=\"a\" content=\"{{house}}\">"),
		Content: []byte("<p>{{title}} stands here</p>"), Sections: []byte("<ul><li>One</li></ul>")})
	doc, err := goquery.NewDocumentFromReader(strings.NewReader(string(out)))
	require.NoError(t, err)
	assert.Equal(t, "Soup & {{content}} </title><script>", doc.Find("title").Text())
	assert.Equal(t, `"Club" <b>`, doc.Find("header").AttrOr("title", ""))
	assert.Equal(t, "{{house}}", doc.Find("meta[name=a]").AttrOr("content", ""))
	assert.Equal(t, "{{title}} stands here", doc.Find("main > div.content > p").Text())
	assert.Equal(t, 1, doc.Find("header nav ul li").Length())
	assert.Zero(t, doc.Find("script").Length())
	assert.Equal(t, "en", doc.Find("html").AttrOr("lang", ""))
}

// What stands over a picture at the top of a page comes along without what the built-in site shows there.
func TestTheTopOfAPageIsTakenApart(t *testing.T) {
	t.Parallel()
	const picture = "<picture class=\"background\"><img src=\"/a.jpg\" alt=\"\"></picture>\n"
	around := func(header string) []byte {
		return []byte("<html lang=\"en\">\n<head>\n<title>T</title>\n</head>\n<body>\n" + header + "<main class=\"content\">\nText</main>\n</body></html>")
	}
	p, err := site.TakeApart(around("<header class=\"site topped backed backed-light\">\n" + picture + "  <a class=\"site-name\" href=\"/\">House</a>\n</header>\n"))
	require.NoError(t, err)
	assert.Equal(t, "<header class=\"topped backed backed-light\" role=\"none\">\n"+picture+"</header>", string(p.Top))
	l, err := site.ParseLayout(strings.Replace(own, "<main>", "{{top}}<main>", 1))
	require.NoError(t, err)
	assert.Contains(t, string(l.Fill(p)), string(p.Top)+"<main>")

	p, err = site.TakeApart(around("<header class=\"site\">\n  <a class=\"site-name\" href=\"/\">House</a>\n</header>\n"))
	require.NoError(t, err)
	assert.Empty(t, p.Top)
	assert.Contains(t, string(l.Fill(p)), "\n<main>")
}

func TestLayoutsThatCannotBe(t *testing.T) {
	t.Parallel()
	for says, text := range map[string]string{
		`invalid place "{{contnet}}" in line 5`:                 strings.Replace(own, "{{content}}", "{{contnet}}", 1),
		"{{content}} stands in it 0 times":                      strings.Replace(own, "{{content}}", "", 1),
		"{{content}} stands in it 2 times":                      strings.Replace(own, "{{content}}", "{{content}}{{content}}", 1),
		"{{head}} stands in it 0 times":                         strings.Replace(own, "{{head}}", "", 1),
		"{{title}} stands in it 0 times":                        strings.Replace(own, "{{ title }}", "", 1),
		"{{title}} must stand in <title>":                       strings.Replace(own, "<title>{{ title }}</title>", "<title>x</title>", 1) + "{{title}}",
		"which takes no blocks":                                 strings.Replace(own, "<main>{{content}}</main>", "<h1>{{content}}</h1>", 1),
		"{{content}} must stand between <body>":                 strings.Replace(own, "<main>{{content}}</main>", "<main data-x='{{content}}'></main>", 1),
		"{{content}} must stand between <body> and </body>, as": strings.Replace(own, "<main>{{content}}</main>", "<!-- {{content}} -->", 1),
		"{{head}} must stand between <head>":                    strings.Replace(strings.Replace(own, "{{head}}", "", 1), "<main>", "<main>{{head}}", 1),
		"as an element does":                                    strings.Replace(own, "{{head}}", "<script>{{head}}</script>", 1),
		"{{top}} stands in it 2 times, and may once":            strings.Replace(own, "<main>", "{{top}}{{top}}<main>", 1),
		"{{top}} must stand between <body>":                     strings.Replace(own, "<main>", "<main title='{{top}}'>", 1),
		"{{top}} stands in <button>, which takes no blocks":     strings.Replace(own, "<main>", "<button>{{top}}</button><main>", 1),
		"it may have 200000":                                    strings.Repeat(" ", 200_001),
	} {
		_, err := site.ParseLayout(text)
		assert.ErrorContains(t, err, says)
	}
}
