package page

import (
	"fmt"
	"html"
	"strings"
)

// img writes an image and, where it moves, what stands for it while it is held still; both have
// the same style.
func (h *writer) img(m Image, loading, style string) {
	if len(m.Lighter) > 0 {
		h.open("picture", "lighter", "display:contents")
		defer h.close("picture")
		for _, l := range m.Lighter {
			sizes := ""
			if m.Sizes != "" {
				sizes = fmt.Sprintf(" sizes=\"%s\"", html.EscapeString(m.Sizes))
			}
			h.line("<source type=\"%s\" srcset=\"%s\"%s>", l.MediaType, html.EscapeString(l.SrcSet), sizes)
		}
	}
	indent := strings.Repeat("  ", h.depth+1)
	if m.Still == nil {
		h.line("<img%s%s loading=\"%s\">", m.attributes(indent), style, loading)
		return
	}
	h.line("<img class=\"moves\"%s%s loading=\"%s\">", m.attributes(indent), style, loading)
	h.line("<img class=\"still\"%s%s loading=\"lazy\">", m.Still.attributes(indent), style)
}

// motion writes what holds an image still, where it moves: it needs no script.
func (h *writer) motion(m Image) {
	if m.Still != nil {
		h.line("<label class=\"motion\"><input type=\"checkbox\"> <span class=\"pause\">Pause</span><span class=\"play\">Play</span></label>")
	}
}

// movingIn are the elements with images that move.
const movingIn = ".content :is(.picture, .large, .album-large)"

// motionCSS holds still what moves while its box is ticked, without a script (WCAG 2.2, SC 2.2.2
// Pause, Stop, Hide). Who asks for less motion sees it still first (Media Queries 5,
// prefers-reduced-motion), and the box lets it move.
var motionCSS = fmt.Sprintf(`%[1]s .still, .content .motion .play { display: none; }
.content .motion { display: flex; gap: 0.4em; align-items: center; width: fit-content; min-height: 28px; font: 0.9rem/1.4 system-ui, sans-serif; }
.content .motion input { width: 1.25em; height: 1.25em; margin: 0; }
%[1]s:has(.motion :checked) .moves { display: none; }
%[1]s:has(.motion :checked) .still { display: block; }
@media (prefers-reduced-motion: reduce) {
  %[1]s .moves, .content .motion .pause { display: none; }
  %[1]s .still { display: block; }
  .content .motion .play { display: inline; }
  %[1]s:has(.motion :checked) .moves { display: block; }
  %[1]s:has(.motion :checked) .still { display: none; }
}
@supports not selector(:has(*)) { .content .motion { display: none; } }
`, movingIn)
