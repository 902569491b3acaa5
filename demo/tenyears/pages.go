package tenyears

import (
	"fmt"
	"net/url"
	"strings"

	"golang.org/x/text/encoding/charmap"
)

// styles are those of the pages of the middle age.
const styles = `body { margin: 0; font: 16px/1.5 sans-serif }
.page { width: 960px; margin: 0 auto }
.main { width: 640px }
.side { width: 300px; padding: 0 10px; box-sizing: border-box }
.main img, .side img { width: 100%; height: auto }
@media (max-width: 700px) { .page, .main, .side { width: auto } }
@media print { .main img { width: 9000px } }
`

// age is how pages were written at a time.
type age struct {
	folder string
	// How wide a picture is shown on a desktop, in CSS pixels; the narrow place is for every third.
	wide, narrow int
	// onPhone is how wide the narrow place is on a phone 390 wide, where that is wider.
	onPhone int
	write   func(s *site, title string, pieces []string) []byte
	img     func(p piece) string
}

var ages = []age{
	{"2016", 600, 300, 300, oldPage, oldPicture},
	{"2019", 640, 280, 390 - 2*10, middlePage, middlePicture}, // one column, with its padding
	{"2023", 640, 320, 320, newPage, newPicture},
}

// piece is a picture as it stands on a page.
type piece struct {
	address string // as the page says it
	alt     string
	hasAlt  bool
	shown   int
	ratio   float64
	narrow  bool
	unsized bool
	link    string // where it leads; empty for nowhere
}

// page writes a page with its pictures.
func (s *site) page(i int) (at, title string, err error) {
	a := ages[i*len(ages)/s.pages]
	title = fmt.Sprintf("Page %d of the club", i+1)
	at = fmt.Sprintf("%s/page-%d.html", a.folder, i+1)
	var pieces []string
	var last *picture
	for n := range 3 {
		if s.made >= s.pictures-s.pictures/20 {
			break
		}
		html, p, err := s.shownOn(at, a, n)
		if err != nil {
			return "", "", err
		}
		pieces, last = append(pieces, html), p
	}
	if i%9 == 4 && last != nil {
		html, err := s.again(a, i, *last)
		if err != nil {
			return "", "", err
		}
		pieces = append(pieces, html)
	}
	if i%12 == 5 {
		address := fmt.Sprintf("files/gone-%d.jpg", i)
		s.fault(Missing, at, address)
		pieces = append(pieces, a.img(piece{address: address, alt: s.words(), hasAlt: true, shown: a.narrow, ratio: 0.75}))
	}
	if i%12 == 7 {
		address := fmt.Sprintf("no-page-%d.html", i)
		s.fault(DeadLink, at, address)
		pieces = append(pieces, fmt.Sprintf("<p><a href=\"%s\">Read on</a></p>", address))
	}
	return at, title, s.keep(at, a.write(s, title, pieces))
}

// again shows the same file once more, under another name.
func (s *site) again(a age, i int, first picture) (string, error) {
	s.made++
	ending := ".jpg"
	if first.size.w == photoAsPNG.w {
		ending = ".png"
	}
	at := fmt.Sprintf("%s/files/z-copy-%d%s", a.folder, i, ending)
	s.fault(Again, "", at)
	for _, what := range []string{Position, Serial, PNGPhoto} {
		if s.inside(first.path, what) {
			s.fault(what, "", at)
		}
	}
	shown := first.size.w / 2
	if a.folder == "2023" && shown > a.wide { // no wider than the column
		s.fault(TooLarge, "", at)
	}
	return a.img(piece{address: strings.TrimPrefix(at, a.folder+"/"), alt: s.words(), hasAlt: true, shown: shown, ratio: 0.75}), s.keep(at, first.data)
}

func (s *site) inside(at, what string) bool {
	for _, f := range s.faults {
		if f.What == what && f.Picture == at {
			return true
		}
	}
	return false
}

// shownOn makes a picture and shows it on a page, with something wrong or with nothing.
func (s *site) shownOn(at string, a age, n int) (string, *picture, error) {
	q := piece{narrow: n == 2, ratio: 0.75, hasAlt: true}
	q.shown = a.wide
	widest := a.wide
	if q.narrow {
		q.shown, widest = a.narrow, a.onPhone
	}
	of := sizes[s.by.IntN(len(sizes))]
	if of == small && s.by.IntN(2) == 0 {
		of = right // most are about right
	}
	p := s.picture(a.folder+"/files", s.name(), of)
	switch s.by.IntN(14) {
	case 0:
		was := p.path
		p.path = strings.TrimSuffix(p.path, ".jpg") + ".png"
		s.moved(was, p.path)
		s.fault(OtherEnding, "", p.path)
	case 1:
		png, err := noise(uint64(s.made))
		if err != nil {
			return "", nil, err
		}
		was := p.path
		p.path, p.data, p.size = strings.TrimSuffix(p.path, ".jpg")+".png", png, photoAsPNG
		s.moved(was, p.path)
		s.forget(p.path, Position, Serial)
		s.fault(PNGPhoto, "", p.path)
	}
	if float64(p.size.w) > 2*2*float64(widest)*0.9 { // about twice what a sharp screen shows
		s.fault(TooLarge, "", p.path)
	} else if p.size.w > 2*widest { // neither fish nor fowl: made right
		q.shown, widest = p.size.w/2, p.size.w/2
		q.narrow = false
	}
	q.address = (&url.URL{Path: strings.TrimPrefix(p.path, a.folder+"/")}).EscapedPath()
	s.describe(&q, at, p)
	if a.folder == "2023" && q.shown != a.wide && q.shown != a.narrow {
		q.narrow = false
	}
	if p.size.w < widest {
		s.fault(Stretched, "", p.path)
	}
	return a.img(q), &p, s.keep(p.path, p.data)
}

// describe gives a picture its words, or does not.
func (s *site) describe(q *piece, at string, p picture) {
	switch s.by.IntN(8) {
	case 0:
		q.hasAlt = false
		s.fault(NoAlt, at, p.path)
	case 1:
		q.alt = p.path[strings.LastIndexByte(p.path, '/')+1:]
		s.fault(UselessAlt, at, p.path)
	case 2:
		q.alt = "photo"
		s.fault(UselessAlt, at, p.path)
	case 3:
		q.alt, q.link = "", "../index.html"
		s.fault(SilentLink, at, p.path)
	default:
		q.alt = s.words()
	}
	if s.by.IntN(3) == 0 {
		q.unsized = true
		s.fault(Unsized, at, p.path)
	}
}

// moved has all that was said of a file be said of it under another name.
func (s *site) moved(was, now string) {
	for i := range s.faults {
		if s.faults[i].Picture == was {
			s.faults[i].Picture = now
		}
	}
}

func (s *site) forget(at string, all ...string) {
	kept := s.faults[:0]
	for _, f := range s.faults {
		gone := false
		for _, what := range all {
			gone = gone || f.Picture == at && f.What == what
		}
		if !gone {
			kept = append(kept, f)
		}
	}
	s.faults = kept
}

func (q piece) attributes(capitals bool) string {
	var b strings.Builder
	if q.hasAlt {
		fmt.Fprintf(&b, ` alt="%s"`, strings.ReplaceAll(q.alt, "&", "&amp;"))
	}
	if !q.unsized {
		fmt.Fprintf(&b, ` width="%d" height="%d"`, q.shown, int(float64(q.shown)*q.ratio))
	}
	if capitals {
		return strings.NewReplacer(" alt=", " ALT=", " width=", " WIDTH=", " height=", " HEIGHT=").Replace(b.String())
	}
	return b.String()
}

func (q piece) linked(html string) string {
	if q.link == "" {
		return html
	}
	return `<a href="` + q.link + `">` + html + `</a>`
}

// oldPage is a page of tables, in an encoding of its time.
func oldPage(_ *site, title string, pieces []string) []byte {
	text := "<HTML><HEAD><META HTTP-EQUIV=\"Content-Type\" CONTENT=\"text/html; charset=windows-1252\"><TITLE>" + title + "</TITLE></HEAD>\n<BODY BGCOLOR=#FFFFFF>\n<TABLE WIDTH=800><TR><TD>\n<FONT SIZE=4>" + title + " – schön war’s</FONT><P>Words of the day.\n" +
		strings.Join(pieces, "\n<P>\n") + "\n</TABLE>\n</BODY></HTML>\n"
	out, err := charmap.Windows1252.NewEncoder().String(text)
	if err != nil {
		panic(err) // all of it is written above
	}
	return []byte(out)
}

func oldPicture(q piece) string {
	if q.unsized { // how wide is said in the style
		return q.linked(fmt.Sprintf(`<IMG BORDER=0 SRC="%s"%s STYLE="width:%dpx">`, q.address, q.attributes(true), q.shown))
	}
	return q.linked(fmt.Sprintf(`<IMG BORDER=0 SRC="%s"%s>`, q.address, q.attributes(true)))
}

func middlePage(_ *site, title string, pieces []string) []byte {
	return []byte("<!DOCTYPE html PUBLIC \"-//W3C//DTD XHTML 1.0 Transitional//EN\" \"http://www.w3.org/TR/xhtml1/DTD/xhtml1-transitional.dtd\">\n<html lang=\"en\"><head><meta charset=\"utf-8\" /><title>" + title + "</title><link rel=\"stylesheet\" href=\"/styles/site.css\" /></head>\n<body><div class=\"page\"><h1>" + title + "</h1>\n" +
		strings.Join(pieces, "\n") + "\n</div></body></html>\n")
}

func middlePicture(q piece) string {
	place := "main"
	if q.narrow {
		place = "side"
	}
	style := ""
	if q.shown != 640 && q.shown != 280 { // one that the styles have no place for
		style = fmt.Sprintf(` style="width:%dpx"`, q.shown)
	}
	return fmt.Sprintf(`<div class="%s">%s</div>`, place, q.linked(fmt.Sprintf(`<img src="%s"%s%s />`, q.address, q.attributes(false), style)))
}

func newPage(_ *site, title string, pieces []string) []byte {
	return []byte("<!doctype html>\n<html lang=\"en\">\n<meta charset=\"utf-8\">\n<meta name=\"viewport\" content=\"width=device-width\">\n<title>" + title + "</title>\n<style>main { max-width: 640px; margin: 0 auto } figure { margin: 0 } img { max-width: 100%; height: auto } .narrow { max-width: 320px }</style>\n<main>\n<h1>" + title + "</h1>\n" +
		strings.Join(pieces, "\n") + "\n</main>\n</html>\n")
}

func newPicture(q piece) string {
	class := ""
	if q.narrow {
		class = ` class="narrow"`
	}
	style := ""
	if q.unsized || q.shown != 640 {
		style = fmt.Sprintf(` style="width:%dpx"`, q.shown)
	}
	return fmt.Sprintf(`<figure%s>%s</figure>`, class, q.linked(fmt.Sprintf(`<img src="%s"%s%s loading="lazy">`, q.address, q.attributes(false), style)))
}
