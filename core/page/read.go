package page

import (
	"io"
	"strconv"
	"strings"

	"github.com/PuerkitoBio/goquery"
)

// Read is what a visitor's browser is given by a page: its pictures and stylesheets.
type Read struct {
	Pictures []ReadImage // in figures, in reading order
	Still    []ReadImage // what stands for those that move while they are held still
	Enlarged []ReadImage // shown large when somebody asks
	Listed   []ReadImage // covers in lists; one without words stands beside its title
	Cards    int         // pages in lists
	Head     ReadHead
	Behind   []ReadImage // behind bands, and at the top
	Styles   []string    // addresses of its stylesheets
}

// ReadImage is an image of a page.
type ReadImage struct {
	Src   string
	Alt   string
	Files map[string]int // widths in pixels that the page says of each file it may be, by address
}

// ReadHTML reads the HTML of a published page.
func ReadHTML(html io.Reader) (Read, error) {
	doc, err := goquery.NewDocumentFromReader(html)
	if err != nil {
		return Read{}, err
	}
	r := Read{Pictures: images(doc, "main figure img:not(.still), main .album-thumb img"), Enlarged: images(doc, "main .large img:not(.still)"), Listed: images(doc, "main .list img")}
	r.Still = images(doc, "main figure img.still, main .large img.still")
	r.Behind = images(doc, "picture.background img")
	r.Head = readHead(doc)
	r.Cards = doc.Find("main .list .card-of-page").Length()
	doc.Find("link[rel=stylesheet]").Each(func(_ int, link *goquery.Selection) {
		r.Styles = append(r.Styles, link.AttrOr("href", ""))
	})
	return r, nil
}

func images(doc *goquery.Document, selector string) (all []ReadImage) {
	doc.Find(selector).Each(func(_ int, img *goquery.Selection) {
		m := ReadImage{Src: img.AttrOr("src", ""), Alt: strings.TrimSpace(img.AttrOr("alt", ""))}
		width, _ := strconv.Atoi(img.AttrOr("width", ""))
		m.Files = map[string]int{m.Src: width}
		img.AddSelection(img.Closest("picture").Find("source")).Each(func(_ int, from *goquery.Selection) {
			for _, candidate := range strings.Split(from.AttrOr("srcset", ""), ",") {
				if fields := strings.Fields(candidate); len(fields) == 2 {
					m.Files[fields[0]], _ = strconv.Atoi(strings.TrimSuffix(fields[1], "w"))
				}
			}
		})
		all = append(all, m)
	})
	return all
}
