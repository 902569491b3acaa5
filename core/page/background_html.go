package page

import (
	"bytes"
	"fmt"
	"html"
	"strings"

	"mivlet/core/layout"
	"mivlet/core/recipe"
	"mivlet/core/rules"
)

// Backing is the files of a picture behind a band, of which a browser takes one for the
// device that it is on (HTML Living Standard, 4.8.1, the picture element).
type Backing struct {
	Sources []ForDevice // those of a condition, the narrowest first, and of each the lightest format
	Image   Image       // for all others
}

// ForDevice is files that are meant under a condition.
type ForDevice struct {
	Media         string // on which devices; empty for all that are left
	MediaType     string // for browsers that know it; empty for all
	SrcSet, Sizes string
	Width, Height int // of the smallest file, in pixels
}

func (s ForDevice) condition() (text string) {
	if s.Media != "" {
		text = fmt.Sprintf(" media=\"%s\"", html.EscapeString(s.Media))
	}
	if s.MediaType != "" {
		text += fmt.Sprintf(" type=\"%s\"", s.MediaType)
	}
	return text
}

// write writes the files as an element of its own; early is for one that is in view at once.
func (b Backing) write(line func(format string, args ...any), indent string, look func(class, style string) string, early bool) {
	line("<picture%s>", look("background", "display:block;position:absolute;inset:0;z-index:-1"))
	for _, s := range b.Sources {
		line("  <source%s\n%[5]ssrcset=\"%[2]s\"\n%[5]ssizes=\"%[3]s\" %[4]s>", s.condition(), html.EscapeString(s.SrcSet), html.EscapeString(s.Sizes),
			fmt.Sprintf("width=\"%d\" height=\"%d\"", s.Width, s.Height), indent+"    ")
	}
	loading := " loading=\"lazy\""
	if early {
		loading = " fetchpriority=\"high\""
	}
	style := look("", "display:block;width:100%;height:100%;object-fit:cover")
	if strings.HasPrefix(style, " class") {
		style = "" // the stylesheet knows it as the image of a background
	}
	line("  <img%s%s%s>", b.Image.attributes(indent+"    "), style, loading)
	line("</picture>")
}

// background writes the picture behind a band, and the title where that stands over it.
func (h *writer) background(s Spread) error {
	back := s.Frame.Background
	if back == nil || h.Backing == nil {
		return nil
	}
	m, err := h.Backing(*back, BandRoom(h.Rules, s.Frame))
	if err != nil {
		return err
	}
	m.write(h.line, strings.Repeat("  ", h.depth), h.look, h.first)
	h.first = false
	if h.Inline && back.Shade > 0 {
		h.line("<div style=\"position:absolute;inset:0;z-index:-1;background:%s\"></div>", back.shade())
	}
	if h.doc.titled(s.ID) {
		h.title()
	}
	return nil
}

// HTML writes the files as an element, indented by a number of levels: the first inside of
// what stands over them.
func (b Backing) HTML(depth int) string {
	h := writer{depth: depth}
	b.write(h.line, strings.Repeat("  ", depth), h.look, true)
	return h.b.String()
}

// TopClasses name the looks of what stands over a background at the top of other pages.
func (b Background) TopClasses() string {
	c := "topped " + b.classes()
	if b.Below {
		c += " ways-below"
	}
	return c
}

// TopCSS writes the measures of a background at the top of other pages.
func TopCSS(r rules.Rules, b Background, views Views) []byte {
	var css bytes.Buffer
	b.css(&css, "header.topped", TopRoom(r, b), *b.Elsewhere, views)
	return css.Bytes()
}

func (b Background) classes() string {
	if b.Light {
		return "backed backed-light"
	}
	return "backed"
}

// shade is the colour that is laid over the picture.
func (b Background) shade() string {
	on := 0
	if b.Light {
		on = 255
	}
	return fmt.Sprintf("rgb(%d %[1]d %[1]d / %d%%)", on, b.Shade)
}

// Views tells how a picture is seen by its own recipe; false where it is not known.
type Views func(Cover) (recipe.View, bool)

// css writes the height on each device, the spot that stays in view, and the shade.
func (b Background) css(w *bytes.Buffer, of string, room Room, heights layout.Lengths, views Views) {
	fmt.Fprintf(w, "%s { --shade: %s; }\n", of, b.shade())
	for _, d := range []layout.Device{layout.Desktop, layout.Tablet, layout.Phone} {
		css := fmt.Sprintf("--least: %dpx;", heights.On(d))
		if views != nil {
			if v, ok := views(b.Cover); ok {
				x, y := room.Spot(v, d)
				css += fmt.Sprintf(" --spot: %d%% %d%%;", x, y)
			}
		}
		rule := fmt.Sprintf("%s { %s }", of, css)
		if media := room.Media(d); media != "" {
			rule = fmt.Sprintf("@media %s { %s }", media, rule)
		}
		fmt.Fprintln(w, rule)
	}
}

// style is that of a band with a picture behind it, for pages that live elsewhere.
func (b Background) style() string {
	text := b.Laid().Text()
	return fmt.Sprintf(";position:relative;isolation:isolate;min-height:%dpx;color:#%02x%02x%02x", b.Height.Phone, text.R, text.G, text.B)
}
