package page

import (
	"bytes"
	"fmt"
	"html"
	"regexp"
	"slices"
	"strings"

	"mivlet/core/fit"
	"mivlet/core/layout"
	"mivlet/core/rules"
)

// Marks around what a spot shows in a live page. The page is signed with nothing between
// them: which banner runs is decided whenever somebody asks for the page.
func spotBegins(id string) string { return "<!-- spot " + id + " -->" }
func spotEnds(id string) string   { return "<!-- end of spot " + id + " -->" }

var spotMark = regexp.MustCompile(`<!-- spot ([a-z][a-z0-9-]{0,30}) -->`)

// Spots returns the IDs of the spots that stand on the page as blocks, each once.
func (d Doc) Spots() []string {
	var all []string
	for _, b := range d.Blocks {
		if b.Kind == Spot && !slices.Contains(all, b.Text) {
			all = append(all, b.Text)
		}
	}
	return all
}

// StandingSpots are the spots of the house that stand on a page by themselves.
func StandingSpots(r rules.Rules, section string, front bool) []rules.Spot {
	var all []rules.Spot
	for _, s := range r.Spots {
		if s.StandsOn(section, front) {
			all = append(all, s)
		}
	}
	return all
}

// spots writes the places of the spots that stand somewhere around the content.
func (h *writer) spots(where rules.Where) {
	for _, s := range h.Spots {
		if s.Where == where {
			h.spot(s)
		}
	}
}

// spot writes the place of a spot. There is nothing in it, so that it takes no room.
func (h *writer) spot(s rules.Spot) {
	if h.Inline {
		return // elsewhere nobody fills it
	}
	h.line("<div%s>%s%s</div>", h.look(fmt.Sprintf("spot spot-%s spot-%s", s.Where, s.ID), ""), spotBegins(s.ID), spotEnds(s.ID))
}

// spotBlock writes a spot that was put on the page as a block. One that the house does not
// have any more is left out.
func (h *writer) spotBlock(b Block) {
	if s, ok := h.Rules.Spot(b.Text); ok && s.Where == rules.AsBlock {
		h.spot(s)
	}
}

// MarkedSpots returns the IDs of the spots that the HTML of a live page has a place for.
func MarkedSpots(page []byte) []string {
	var all []string
	for _, m := range spotMark.FindAllSubmatch(page, -1) {
		if id := string(m[1]); !slices.Contains(all, id) {
			all = append(all, id)
		}
	}
	return all
}

// SpotFrame is what stands in a spot where a banner runs: a frame whose content has an address
// of its own, so that a page which is kept somewhere goes on showing what runs now. page is the
// number of the page.
func SpotFrame(s rules.Spot, page uint) string {
	return fmt.Sprintf("<iframe src=\"/%s/%s?page=%d\" title=\"%s\" loading=\"lazy\"></iframe>", rules.SpotsFolder, s.ID, page, html.EscapeString(s.Title))
}

// FillSpots puts frames into the spots of a live page in which something runs, and changes
// nothing else of it.
func FillSpots(page []byte, runs func(id string) (frame string)) []byte {
	for _, id := range MarkedSpots(page) {
		begins, ends := spotBegins(id), spotEnds(id)
		if frame := runs(id); frame != "" {
			page = bytes.ReplaceAll(page, []byte(begins+ends), []byte(begins+frame+ends))
		}
	}
	return page
}

// EmptySpots takes out of a page what [FillSpots] put into it. Whatever else stands between the
// marks stays: nobody signed it.
func EmptySpots(page []byte, r rules.Rules, number uint) []byte {
	for _, s := range r.Spots {
		begins, ends := spotBegins(s.ID), spotEnds(s.ID)
		page = bytes.ReplaceAll(page, []byte(begins+SpotFrame(s, number)+ends), []byte(begins+ends))
	}
	return page
}

// besideGap is the room between the content and a spot beside it, in CSS px.
const besideGap = 20

// BesideFrom is the narrowest window in which a spot stands beside the content of a page, in
// CSS px; where it is narrower, the spot stands below.
func BesideFrom(r rules.Rules, s rules.Spot) int { return r.Page.Cap + s.Width + besideGap }

// spotCSS gives the frames of a spot their size: that for phones where the other does not fit.
func spotCSS(b *bytes.Buffer, r rules.Rules, s rules.Spot) {
	frame := func(size fit.Size) string {
		return fmt.Sprintf("{ width: %dpx; aspect-ratio: %d / %d; }", size.W, size.W, size.H)
	}
	fmt.Fprintf(b, ".spot-%s iframe %s\n", s.ID, frame(fit.Size{W: s.Width, H: s.Height}))
	if phone, own := s.PhoneSlot(); own {
		for _, narrow := range []string{fmt.Sprintf("@media (max-width: %dpx)", r.Page.Breaks.Tablet-1), fmt.Sprintf("@container (max-width: %dpx)", s.Width-1)} {
			fmt.Fprintf(b, "%s { .spot-%s iframe %s }\n", narrow, s.ID, frame(fit.Size{W: phone.Width, H: phone.Height}))
		}
	}
	if s.Where == rules.Beside { // the content moves aside and keeps its width
		fmt.Fprintf(b, "@media (min-width: %dpx) { main:has(> .spot-%s > iframe) { position: relative; left: -%dpx; } "+
			".spot-%[2]s { position: absolute; top: 0; left: calc(100%% + %[4]dpx); width: %[5]dpx; } }\n",
			BesideFrom(r, s), s.ID, (s.Width+besideGap)/2, besideGap, s.Width)
	}
}

// ShownWidth is how wide a spot is shown on a viewport that gives it so much room, in CSS px,
// and whether that is the size for phones.
func ShownWidth(r rules.Rules, s rules.Spot, viewport, room int) (width int, phone bool) {
	if p, own := s.PhoneSlot(); own && (room < s.Width || r.Page.Breaks.Device(viewport) == layout.Phone) {
		return min(p.Width, room), true
	}
	return min(s.Width, room), false
}

// BannerShow is a banner as its frame shows it.
type BannerShow struct {
	Language string
	Spot     rules.Spot
	Follow   string // address that leads where the banner leads
	New      bool   // in a window of its own
	Alt      string
	Files    []BannerFile
}

// BannerFile is one file of a banner.
type BannerFile struct {
	Address       string
	Width, Height int // in pixels
	Phone         bool
	Moves         bool
	MediaType     string // where it is offered beside others, to browsers that know it; else empty
}

// SpotCSS styles the content of the frames of spots. What moves stops after five seconds, and
// does not move for those who asked for less motion (WCAG 2.2, 2.2.2).
const SpotCSS = `html, body { margin: 0; padding: 0; overflow: hidden; }
a { display: block; position: relative; }
a:focus-visible { outline: 3px solid #12211c; outline-offset: -3px; box-shadow: inset 0 0 0 6px #fff; }
img { display: block; width: 100%; height: auto; }
.moving { position: absolute; inset: 0; animation: stop 1ms 5s forwards; }
@keyframes stop { to { visibility: hidden; } }
@media (prefers-reduced-motion: reduce) { .moving { display: none; } }
`

// WriteBanner writes the content of the frame of a spot: a document of its own.
func WriteBanner(b BannerShow) []byte {
	var w bytes.Buffer
	target := " target=\"_top\""
	alt := strings.TrimSpace(b.Alt)
	if b.New {
		target = " target=\"_blank\""
		alt += " (opens in a new window)"
	}
	fmt.Fprintf(&w, "<!DOCTYPE html>\n<html lang=\"%s\">\n<head>\n<meta charset=\"utf-8\">\n<meta name=\"viewport\" content=\"width=device-width, initial-scale=1\">\n<meta name=\"robots\" content=\"noindex\">\n<title>%s</title>\n<link rel=\"stylesheet\" href=\"/%s.css\">\n</head>\n<body>\n<a href=\"%s\"%s rel=\"sponsored noopener\">\n",
		html.EscapeString(b.Language), html.EscapeString(b.Spot.Title), rules.SpotsFolder, html.EscapeString(b.Follow), target)
	still := func(f BannerFile) bool { return !f.Moves }
	moving := func(f BannerFile) bool { return f.Moves }
	b.picture(&w, still, "", alt)
	if slices.ContainsFunc(b.Files, moving) {
		b.picture(&w, moving, "moving", "")
	}
	w.WriteString("</a>\n</body>\n</html>\n")
	return w.Bytes()
}

// lighter lists the media types of what is offered beside other files.
func (b BannerShow) lighter() (all []string) {
	for _, f := range b.Files {
		if f.MediaType != "" && !slices.Contains(all, f.MediaType) {
			all = append(all, f.MediaType)
		}
	}
	return all
}

func (b BannerShow) source(w *bytes.Buffer, phone bool, mediaType, files string) {
	w.WriteString("<source")
	if phone {
		fmt.Fprintf(w, " media=\"(max-width: %dpx)\"", b.Spot.PhoneWidth)
	}
	if mediaType != "" {
		fmt.Fprintf(w, " type=\"%s\"", mediaType)
	}
	fmt.Fprintf(w, " srcset=\"%s\" sizes=\"100vw\">", html.EscapeString(files))
}

// picture writes those of the files of which something holds: the phone's where the frame has
// its width.
func (b BannerShow) picture(w *bytes.Buffer, is func(BannerFile) bool, class, alt string) {
	set := func(phone bool, mediaType string) (first BannerFile, all string) {
		var list []fit.Candidate
		for _, f := range b.Files {
			if f.Phone == phone && is(f) && f.MediaType == mediaType {
				if len(list) == 0 {
					first = f
				}
				list = append(list, fit.Candidate{URL: f.Address, Width: f.Width})
			}
		}
		return first, fit.SrcSet(list)
	}
	if class != "" {
		fmt.Fprintf(w, "<span class=\"%s\">", class)
	}
	w.WriteString("<picture>")
	for _, phone := range []bool{true, false} {
		for _, mediaType := range b.lighter() {
			if _, all := set(phone, mediaType); all != "" {
				b.source(w, phone, mediaType, all)
			}
		}
		if _, all := set(phone, ""); phone && all != "" {
			b.source(w, phone, "", all)
		}
	}
	first, all := set(false, "")
	fmt.Fprintf(w, "<img src=\"%s\" srcset=\"%s\" sizes=\"100vw\" width=\"%d\" height=\"%d\" alt=\"%s\">", html.EscapeString(first.Address), html.EscapeString(all), b.Spot.Width, b.Spot.Height, html.EscapeString(alt))
	w.WriteString("</picture>")
	if class != "" {
		w.WriteString("</span>")
	}
	w.WriteByte('\n')
}
