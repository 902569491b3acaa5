package survey

import (
	"bytes"
	"net/url"
	"strconv"
	"strings"
	"unicode/utf8"

	"github.com/PuerkitoBio/goquery"
	"golang.org/x/net/html"
	"golang.org/x/net/html/charset"
	"golang.org/x/text/transform"
)

// Kind is the way in which a page shows a picture.
type Kind string

// The kinds.
const (
	Image      Kind = "image"      // <img>, or a button that is a picture
	Background Kind = "background" // of CSS, or of old HTML
	Poster     Kind = "poster"     // of a film
)

// Use is one picture on one page.
type Use struct {
	Kind    Kind
	Tag     int      // where its tag begins, in bytes of the page; -1 where nobody can say. Of images only
	Address string   // as the page says it
	Others  []string // addresses of srcset and <source>, of which a browser may choose one instead
	File    string   // the path of the file in the site; empty where it is elsewhere or not there
	Alt     string
	HasAlt  bool // it has an alt attribute, which may be empty
	Hidden  bool // it says that it is decoration: an empty alt, or a role that says so
	Name    string
	Caption string
	Near    string // the words that it stands among, their beginning
	Links   bool   // it is all that a link has
	LinksTo string
	Sized   bool // the page says its width and height, so that nothing moves when it comes

	Shown      [len(Viewports)]float64 // how wide it is shown, in CSS pixels; 0 where it is not, or nobody can say
	Sure       bool                    // all that styles say of its size was understood, so that it can be kept while the file changes
	AutoHeight bool                    // styles have its height follow from its width

	others                      []string // paths of the files that Others lead to
	bounded, autoWidth, natural bool
	own                         [len(Viewports)]bool // the page says no width: it is that of the file, and at most Shown where that is not 0
	button                      bool                 // it is no <img>
	height                      float64              // that the page says instead of a width, in CSS pixels; 0 for none
}

// Viewports are the widths of the windows that a page is looked at in, in CSS pixels: of a phone, a tablet
// and a desktop (common practice).
var Viewports = [3]float64{390, 768, 1280}

// Page is what is known of one page.
type Page struct {
	Path     string
	Title    string
	Language string // BCP 47, as the page says it
	Encoding string // by its name in the Encoding Standard
	Uses     []Use
	measured bool // in a browser
	chosen   [len(Viewports)][]string
	shift    [len(Viewports)]float64
}

// document is a page while it is read.
type document struct {
	*Page
	base   *url.URL
	root   *goquery.Document
	sheet  sheet    // of <style>
	links  []string // addresses that it leads to
	sheets []string // addresses of style sheets

	// What is asked of many pictures is worked out once: a page may have a hundred thousand in one link.
	ids      map[string]string     // text of what has an id
	captions map[*html.Node]string // of figures
	near     map[*html.Node]string // beginnings of the texts of elements
	silent   map[*html.Node]bool   // links with one picture and no words
}

// readPage reads a page as browsers do: broken HTML gives a page, too (HTML, 13.2), and its encoding
// follows from what it says and what it looks like (HTML, 13.2.3.2).
func readPage(at string, data []byte, space space) (*document, error) {
	written, name, _ := charset.DetermineEncoding(data[:min(len(data), 1024)], "text/html")
	if bytesStandForThemselves(name) {
		data = marked(data)
	}
	root, err := html.ParseWithOptions(transform.NewReader(bytes.NewReader(data), written.NewDecoder()), html.ParseOptionEnableScripting(false)) // <noscript> holds what there is
	if err != nil {
		return nil, err
	}
	d := &document{Page: &Page{Path: at, Encoding: name}, base: space.pageURL(at), root: goquery.NewDocumentFromNode(root), captions: map[*html.Node]string{}, near: map[*html.Node]string{}, silent: map[*html.Node]bool{}}
	if href, ok := d.root.Find("base[href]").First().Attr("href"); ok {
		if u, err := url.Parse(strings.TrimSpace(href)); err == nil {
			d.base = d.base.ResolveReference(u)
		}
	}
	d.Title = oneLine(d.root.Find("head title").First().Text())
	d.Language = strings.TrimSpace(d.root.Find("html").AttrOr("lang", ""))
	d.root.Find("style").Each(func(_ int, s *goquery.Selection) { d.sheet.add(s.Text(), s.AttrOr("media", "")) })
	d.root.Find("a[href], area[href]").Each(func(_ int, s *goquery.Selection) { d.links = append(d.links, s.AttrOr("href", "")) })
	d.root.Find("link[href]").Each(func(_ int, s *goquery.Selection) {
		rel := " " + strings.ToLower(s.AttrOr("rel", "")) + " "
		switch {
		case strings.Contains(rel, " stylesheet ") && !strings.Contains(rel, " alternate "):
			d.link(s.AttrOr("href", ""), readMedia(s.AttrOr("media", "")))
		case strings.Contains(rel, " icon "), strings.Contains(rel, "-icon "):
			d.links = append(d.links, s.AttrOr("href", ""))
		}
	})
	for _, from := range []string{"script[src]", "iframe[src]", "frame[src]", "embed[src]", "video[src]", "audio[src]", "video source[src]", "audio source[src]", "track[src]", "object[data]"} {
		name := from[strings.LastIndexByte(from, '[')+1 : len(from)-1]
		d.root.Find(from).Each(func(_ int, s *goquery.Selection) { d.links = append(d.links, s.AttrOr(name, "")) })
	}
	return d, nil
}

// link takes a style sheet in, unless it is for something else than a screen. One that is for some windows only
// is taken to be for all: so it is not clear how large pictures are.
func (d *document) link(address string, on []media) {
	for _, m := range on {
		if m.never {
			return
		}
		d.sheet.unclear = d.sheet.unclear || m.least > 0 || m.most > 0
	}
	d.sheets = append(d.sheets, address)
}

// find gathers the pictures of the page, as its styles show them.
func (d *document) find(styles *styles) {
	d.root.Find("img, input[type=image i]").Each(func(_ int, s *goquery.Selection) {
		if use, ok := d.image(s, styles); ok {
			d.Uses = append(d.Uses, use)
		}
	})
	d.root.Find("video[poster]").Each(func(_ int, s *goquery.Selection) {
		d.Uses = append(d.Uses, Use{Kind: Poster, Address: s.AttrOr("poster", ""), Hidden: true, Sized: true})
	})
	d.root.Find("[background]").Each(func(_ int, s *goquery.Selection) { // HTML, 15.3: body, table, td …
		d.Uses = append(d.Uses, Use{Kind: Background, Address: s.AttrOr("background", ""), Hidden: true, Sized: true})
	})
	d.root.Find("[style]").Each(func(_ int, s *goquery.Selection) {
		for _, address := range addressesOf(s.AttrOr("style", "")) {
			d.Uses = append(d.Uses, Use{Kind: Background, Address: address, Hidden: true, Sized: true})
		}
	})
	for _, address := range d.sheet.addresses {
		d.Uses = append(d.Uses, Use{Kind: Background, Address: address, Hidden: true, Sized: true})
	}
}

func (d *document) image(s *goquery.Selection, styles *styles) (Use, bool) {
	u := Use{Kind: Image, Tag: tagOf(s.Get(0)), Address: strings.TrimSpace(s.AttrOr("src", ""))}
	u.Others = srcSet(s.AttrOr("srcset", ""))
	if picture := s.Parent(); picture.Is("picture") {
		picture.ChildrenFiltered("source").Each(func(_ int, source *goquery.Selection) {
			u.Others = append(u.Others, srcSet(source.AttrOr("srcset", ""))...)
		})
	}
	if u.Address == "" && len(u.Others) > 0 {
		u.Address, u.Others = u.Others[0], u.Others[1:]
	}
	if u.Address == "" {
		return u, false
	}
	u.Alt, u.HasAlt = s.Attr("alt")
	u.Alt = shortened(u.Alt, longestText)
	role := strings.ToLower(strings.TrimSpace(s.AttrOr("role", "")))
	u.Hidden = u.HasAlt && strings.TrimSpace(u.Alt) == "" || role == "presentation" || role == "none" || s.Closest("[aria-hidden=true]").Length() > 0
	u.Name = oneLine(s.AttrOr("aria-label", ""))
	for _, id := range strings.Fields(s.AttrOr("aria-labelledby", "")) {
		u.Name = oneLine(u.Name + " " + d.textOf(id))
	}
	if figure := s.Closest("figure"); figure.Length() > 0 {
		u.Caption = once(d.captions, figure.Get(0), func() string { return shortened(oneLine(figure.Find("figcaption").First().Text()), longestText) })
	}
	u.Near = d.wordsAround(s)
	if a := s.Closest("a[href]"); a.Length() > 0 {
		u.LinksTo = a.AttrOr("href", "")
		u.Links = once(d.silent, a.Get(0), func() bool {
			return oneLine(a.Text()) == "" && strings.TrimSpace(a.AttrOr("aria-label", "")) == "" && a.Find("img").Length() == 1
		})
	}
	if s.Is("input") {
		u.Links, u.button = true, true // it does something, and nothing else says what
	}
	styles.shown(s.Get(0), &u)
	return u, true
}

// wordsAround are the words of the smallest thing around a picture that has some.
func (d *document) wordsAround(s *goquery.Selection) string {
	for up, steps := s.Parent(), 0; up.Length() > 0 && steps < 6; up, steps = up.Parent(), steps+1 {
		if text := once(d.near, up.Get(0), func() string { return beginning(up.Get(0), longestName) }); text != "" {
			return text
		}
	}
	return ""
}

// beginning is the beginning of the text of an element. It stops reading where it has enough.
func beginning(n *html.Node, most int) string {
	var b strings.Builder
	for child := range n.Descendants() {
		if child.Type != html.TextNode || child.Parent != nil && (child.Parent.Data == "script" || child.Parent.Data == "style") {
			continue
		}
		b.WriteString(child.Data + " ")
		if b.Len() > 8*most {
			break
		}
	}
	return shortened(oneLine(b.String()), most)
}

// textOf is the text of the first element that has an id.
func (d *document) textOf(id string) string {
	if d.ids == nil {
		d.ids = map[string]string{}
		d.root.Find("[id]").Each(func(_ int, s *goquery.Selection) {
			if id := s.AttrOr("id", ""); d.ids[id] == "" && len(d.ids) < mostIDs {
				d.ids[id] = shortened(oneLine(s.Text()), longestName)
			}
		})
	}
	return d.ids[id]
}

// Limits of what is said with pictures, on one page.
const (
	mostIDs     = 5000
	longestName = 300  // characters
	longestText = 1000 // characters of a description or a caption
)

// once is what is known of an element, worked out when it is asked for first.
func once[T any](known map[*html.Node]T, n *html.Node, work func() T) T {
	v, ok := known[n]
	if !ok {
		v = work()
		known[n] = v
	}
	return v
}

// oneLine is a text with all its white space brought to single spaces.
func oneLine(text string) string { return strings.Join(strings.Fields(text), " ") }

// attribute is the number that an old attribute begins with, such as width="300"; per cent apart (HTML,
// 2.3.4.4: rules for parsing dimension values).
func attribute(n *html.Node, name string) (value float64, percent, ok bool) {
	for _, a := range n.Attr {
		if a.Key != name || a.Namespace != "" {
			continue
		}
		text := strings.TrimLeft(a.Val, space5)
		end := 0
		for end < len(text) && (text[end] >= '0' && text[end] <= '9' || text[end] == '.') {
			end++
		}
		v, err := strconv.ParseFloat(text[:end], 64)
		return v, strings.HasPrefix(text[end:], "%"), err == nil
	}
	return 0, false, false
}

// shortened is the beginning of a text.
func shortened(text string, most int) string {
	if utf8.RuneCountInString(text) <= most {
		return text
	}
	return string([]rune(text)[:most])
}
