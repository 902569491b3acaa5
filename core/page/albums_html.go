package page

import (
	"cmp"
	"fmt"
	"html"
	"io"
	"strings"

	"mivlet/core/album"
	"mivlet/core/fit"
	"mivlet/core/layout"
)

// album writes the thumbnails of an album, each of which leads to the page of its picture.
func (h *writer) album(b Block) error {
	if len(b.Pictures) == 0 {
		return nil
	}
	thumbs, err := h.thumbs(b)
	if err != nil {
		return err
	}
	style := fmt.Sprintf("display:flex;flex-wrap:wrap;gap:%dpx;list-style:none;padding:0", AlbumGap)
	more := []string{fmt.Sprintf("id=\"album-%s\" aria-label=\"%s\"", b.ID, html.EscapeString(b.Album.Title))}
	if b.Album.Shuffled && b.Album.Look == Grid { // rows are measured for their order
		more = append(more, "data-shuffled")
	}
	class := "album album-" + string(b.Album.Look)
	if b.Album.Look == InRows {
		h.rows(b, thumbs)
	} else {
		s, _ := h.doc.Stand(h.Rules, b.ID, 0)
		class += fmt.Sprintf(" album-across-%d", max(s.Place.Parts, 1))
	}
	h.open("section", class, "", more...)
	h.open("ul", "album-thumbs", style)
	for n, m := range thumbs {
		h.thumb(b, n, m)
	}
	h.close("ul")
	if beyond := len(b.Pictures) - len(thumbs); beyond > 0 {
		more := fmt.Sprintf("And %d more", beyond)
		if h.Album != nil {
			more = fmt.Sprintf("<a href=\"%s\">%s</a>", html.EscapeString(h.Album(b, len(thumbs))), more)
		}
		h.line("<p%s>%s</p>", h.look("album-more", ""), more)
	}
	h.close("section")
	return nil
}

// thumbs are the images of the thumbnails that an album shows.
func (h *writer) thumbs(b Block) ([]Image, error) {
	var all []Image
	for n := range b.Pictures {
		s, _ := h.doc.Stand(h.Rules, b.ID, n)
		if s.Beyond {
			break
		}
		if s.Waits() { // the album has lost it
			all = append(all, Image{})
			continue
		}
		m, err := h.Image(s)
		if err != nil {
			return nil, err
		}
		all = append(all, m)
	}
	return all, nil
}

// thumb writes one thumbnail. A picture without a description is called by its place, as
// somebody has to be told where the link leads (WCAG 2.2, F89, memory).
func (h *writer) thumb(b Block, n int, m Image) {
	if m.Src == "" {
		return
	}
	h.open("li", "album-thumb", "")
	if h.Album != nil {
		label := ""
		if strings.TrimSpace(m.Alt) == "" {
			label = fmt.Sprintf(" aria-label=\"Picture %d of %d\"", n+1, len(b.Pictures))
		}
		h.line("<a href=\"%s\"%s>", html.EscapeString(h.Album(b, n)), label)
		h.depth++
	}
	style := ""
	if h.Inline {
		style = fmt.Sprintf(" style=\"display:block;height:auto;max-width:100%%;width:%dpx\"", m.Width)
	}
	loading := "lazy"
	if h.first {
		loading = "eager"
	}
	h.first = false
	h.img(m, loading, style)
	if h.Album != nil {
		h.close("a")
	}
	h.close("li")
}

// rows works out how the thumbnails of an album fill rows on each device, tells the
// stylesheet, and each image how wide it stands.
func (h *writer) rows(b Block, thumbs []Image) {
	s, _ := h.doc.Stand(h.Rules, b.ID, 0)
	sizes := make([]fit.Size, len(thumbs))
	for i, m := range thumbs {
		sizes[i] = fit.Size{W: max(m.Width, 1), H: max(m.Height, 1)}
	}
	widths := map[layout.Device][]int{}
	for _, d := range []layout.Device{layout.Desktop, layout.Tablet, layout.Phone} {
		room := album.Room{Width: int(s.Place.Width(d.Viewport())), Height: float64(rowBest.On(d)), Most: rowMost, Gap: AlbumGap}
		rows := album.Rows(sizes, room)
		for _, row := range rows {
			widths[d] = append(widths[d], row.Widths...)
		}
		h.measure(b.ID, d, rows, room)
	}
	tablet := h.Rules.Page.Breaks.Tablet
	for i := range thumbs {
		if thumbs[i].SrcSet != "" {
			share := 100 * float64(widths[layout.Phone][i]) / float64(layout.Phone.Viewport())
			thumbs[i].Sizes = fmt.Sprintf("(max-width: %dpx) %.1fvw, %dpx", tablet-1, share, max(widths[layout.Tablet][i], widths[layout.Desktop][i]))
		}
	}
}

// measure writes the shares that thumbnails have of their rows on a device. A hundredth of a
// pixel is left over, so that rounding breaks no row.
func (h *writer) measure(block string, d layout.Device, rows []album.Row, room album.Room) {
	if h.Measures == nil {
		return
	}
	var css strings.Builder
	at := 0
	for _, row := range rows {
		gaps := (len(row.Widths) - 1) * room.Gap
		for _, w := range row.Widths {
			at++
			fmt.Fprintf(&css, ".content #album-%s li:nth-child(%d) { width: calc((100%% - %dpx) * %.5f - 0.01px); }\n", block, at, gaps, float64(w)/float64(room.Width-gaps))
		}
	}
	switch below := map[layout.Device]int{layout.Tablet: h.Rules.Page.Breaks.Desktop, layout.Phone: h.Rules.Page.Breaks.Tablet}[d]; below {
	case 0:
		_, _ = io.WriteString(h.Measures, css.String())
	default:
		_, _ = fmt.Fprintf(h.Measures, "@media (max-width: %dpx) {\n%s}\n", below-1, css.String())
	}
}

// AlbumPicture is one picture of an album on a page of its own: it is where a thumbnail leads
// without a script, and what is shared of it.
type AlbumPicture struct {
	Album          string // title of the album
	Nth, Of        int    // counted from 1
	Image          Image
	Caption        string
	Back           string // address of the page that shows the album
	Previous, Next string // addresses; "" at the ends
}

// Title is what the page of the picture is called.
func (a AlbumPicture) Title() string { return fmt.Sprintf("%s, %d of %d", a.Album, a.Nth, a.Of) }

// HTML writes what stands inside the main element of its page.
func (a AlbumPicture) HTML() string {
	h := writer{}
	link := func(class, rel, address, text string) {
		if address != "" {
			h.line("<a class=\"%s\"%s href=\"%s\">%s</a>", class, rel, html.EscapeString(address), text)
		}
	}
	h.open("div", "flow album-page", "")
	h.line("<h1>%s</h1>", html.EscapeString(a.Album))
	h.open("figure", "album-large", "")
	h.img(a.Image, "eager", "")
	h.motion(a.Image)
	if caption := strings.TrimSpace(a.Caption); caption != "" {
		h.line("<figcaption>%s</figcaption>", html.EscapeString(caption))
	}
	h.close("figure")
	h.open("nav", "album-ways", "", fmt.Sprintf("aria-label=\"%s\"", html.EscapeString(cmp.Or(a.Album, "Album"))))
	link("album-previous", " rel=\"prev\"", a.Previous, "Previous")
	h.line("<span class=\"album-at\">%d of %d</span>", a.Nth, a.Of)
	link("album-next", " rel=\"next\"", a.Next, "Next")
	link("album-back", "", a.Back, "Back to the page")
	h.close("nav")
	h.close("div")
	return h.b.String()
}
