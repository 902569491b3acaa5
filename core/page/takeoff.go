package page

import (
	"bytes"
	"encoding/json"
	"io"
	"net/url"
	"strconv"
	"strings"

	"github.com/PuerkitoBio/goquery"
)

// Taking is a picture that is taken off a published page.
type Taking struct {
	Picture   uint
	Addresses map[string]bool // paths of the picture's files, without what follows a question mark
	// Space returns the address of a neutral space of w × h CSS px, which stands in the
	// picture's place; with nil nothing does, and its caption goes, too.
	Space func(w, h int) (string, error)
	// Pages are the pages of the picture in albums, by their addresses: they go with it, and
	// whatever leads to one of them leads past it.
	Pages map[string]Ways
}

// Ways are where the page of a picture in an album leads; "" for nowhere.
type Ways struct{ Previous, Next string }

// WaysOf reads them from the HTML of such a page.
func WaysOf(html io.Reader) (Ways, error) {
	doc, err := goquery.NewDocumentFromReader(html)
	if err != nil {
		return Ways{}, err
	}
	to := func(rel string) string { return doc.Find("main .album-ways a[rel="+rel+"]").AttrOr("href", "") }
	return Ways{to("prev"), to("next")}, nil
}

// past leads links past the pages that go.
func (t Taking) past(doc *goquery.Document) {
	doc.Find("main a").Each(func(_ int, a *goquery.Selection) {
		ways, goes := t.Pages[a.AttrOr("href", "")]
		if !goes {
			return
		}
		to := ways.Next
		if a.AttrOr("rel", "") == "prev" {
			to = ways.Previous
		}
		switch {
		case a.Closest(".album-thumb").Length() > 0:
			a.ReplaceWithSelection(a.Contents()) // what stands there leads nowhere
		case to != "":
			a.SetAttr("href", to)
		case a.Parent().Is(".album-more"):
			a.Parent().Remove()
		default:
			a.Remove()
		}
	})
}

// A neutral space says which picture it stands for, so that it can be found again.
const (
	spaceFor   = "data-space"
	spaceWords = "This picture was taken off."
)

// From rewrites the HTML of a page without the picture. Everything else stays as it is.
func (t Taking) From(html io.Reader) ([]byte, error) {
	doc, err := goquery.NewDocumentFromReader(html)
	if err != nil {
		return nil, err
	}
	number := strconv.FormatUint(uint64(t.Picture), 10)
	doc.Find("img").EachWithBreak(func(_ int, img *goquery.Selection) bool {
		from, _, _ := strings.Cut(img.AttrOr("src", ""), "?")
		if t.Addresses[from] || img.AttrOr(spaceFor, "") == number {
			err = t.off(img, number)
		}
		return err == nil
	})
	if err != nil {
		return nil, err
	}
	if err := t.offHead(doc); err != nil {
		return nil, err
	}
	t.past(doc)
	var b bytes.Buffer
	err = goquery.Render(&b, doc.Selection)
	return []byte(PlainVoid(b.String())), err
}

// offHead takes the picture out of what the page tells readers of shared links.
func (t Taking) offHead(doc *goquery.Document) error {
	address, err := url.Parse(doc.Find(`head > meta[property="og:image"]`).AttrOr("content", ""))
	if err != nil || !t.Addresses[address.Path] {
		return nil
	}
	doc.Find(`head > meta[property^="og:image"]`).Remove()
	doc.Find(`head > meta[name="twitter:card"]`).SetAttr("content", "summary")
	doc.Find(`head > script[type="application/ld+json"]`).EachWithBreak(func(_ int, s *goquery.Selection) bool {
		var things []map[string]any
		if err = json.Unmarshal([]byte(s.Text()), &things); err != nil {
			return false
		}
		for _, thing := range things {
			delete(thing, "image")
		}
		var data []byte
		if data, err = json.Marshal(things); err == nil {
			s.Nodes[0].FirstChild.Data = string(data)
		}
		return err == nil
	})
	return err
}

func (t Taking) off(img *goquery.Selection, number string) error {
	if behind := img.Closest("picture.background"); behind.Length() > 0 {
		behind.Remove() // the colour below it stays, and the text with it
		return nil
	}
	if t.Space == nil {
		img.Closest("figure, .large, .album-thumb").Remove()
		return nil
	}
	w, h := side(img, "width", 4), side(img, "height", 3)
	address, err := t.Space(w, h)
	if err != nil {
		return err
	}
	img.SetAttr(spaceFor, number).SetAttr("src", address).SetAttr("alt", spaceWords).SetAttr("width", strconv.Itoa(w)).SetAttr("height", strconv.Itoa(h))
	img.RemoveAttr("srcset").RemoveAttr("sizes")
	img.Closest("picture.lighter").Find("source").Remove() // a browser would take one of these first
	return nil
}

// side is a side of an image in CSS px, usual where the page does not say it.
func side(img *goquery.Selection, attribute string, usual int) int {
	n, err := strconv.Atoi(img.AttrOr(attribute, ""))
	if err != nil {
		n = usual
	}
	return max(1, n)
}
