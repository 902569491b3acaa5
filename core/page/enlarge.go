package page

import (
	"fmt"
	"html"
	"strings"
)

// large is a picture that opens over the page.
type large struct {
	id      string
	image   Image
	caption string
}

// enlargements writes what pictures open when they are enlarged: each lies over
// the page while the address ends in its name, so that it works without a script.
// Where there are several, each leads to the one before and the one after it.
func (h *writer) enlargements() {
	for i, l := range h.large {
		label := strings.TrimSpace(l.image.Alt)
		if label == "" {
			label = "Picture"
		}
		h.line("<div%s id=\"large-%s\" role=\"dialog\" aria-modal=\"true\" aria-label=\"%s\">", h.look("large", "display:none"), l.id, html.EscapeString(label))
		h.depth++
		h.img(l.image, "lazy", "")
		if caption := CaptionHTML(l.caption); caption != "" {
			h.line("<p>%s</p>", caption)
		}
		h.line("<div%s>", h.look("large-links", ""))
		h.depth++
		h.motion(l.image)
		if n := len(h.large); n > 1 {
			h.line("<a%s href=\"#large-%s\">Previous</a>", h.look("large-previous", ""), h.large[(i+n-1)%n].id)
			h.line("<span>%s</span>", fmt.Sprintf("%d of %d", i+1, n))
			h.line("<a%s href=\"#large-%s\">Next</a>", h.look("large-next", ""), h.large[(i+1)%n].id)
		}
		h.line("<a%s href=\"#small-%s\">Close</a>", h.look("large-close", ""), l.id)
		h.close("div")
		h.close("div")
	}
}
