package page

import (
	"bytes"
	"fmt"
	"html"
	"io"
	"strings"

	"mivlet/core/rules"
)

// Image is what a placement becomes in HTML: the files a browser may choose
// from and the words that go with them.
type Image struct {
	Src           string // the file for browsers that do not choose
	SrcSet        string
	Sizes         string
	Width, Height int // of Src, in pixels
	Alt           string
	// Lighter are files of the same sizes in formats that weigh less, for browsers that know them.
	Lighter []Lighter
	Large   *Image // what it opens enlarged; nil where it does not
	Still   *Image // what stands for a picture that moves while it is held still; nil for others
}

// Lighter are files of an image in another format.
type Lighter struct{ MediaType, SrcSet string }

// Writing is what a page's HTML needs from around it.
type Writing struct {
	Rules rules.Rules
	Image func(Stand) (Image, error)
	File  func(Attachment) (address string, err error)
	// Backing are the files of a picture that fills a room; nil leaves such pictures out.
	Backing func(Background, Room) (Backing, error)
	// List is what a list shows; nil shows none, for pages that live elsewhere.
	List func(Block) (ListView, error)
	// Album tells where each picture of an album enlarges; nil where none does.
	Album func(b Block, nth int) (address string)
	// Spots are those of the house that stand on the page by themselves.
	Spots []rules.Spot
	// Measures takes what the stylesheet of the page has to say besides; nil drops it.
	Measures io.Writer
	// Inline puts the measures into the elements instead of into classes, for pages
	// that live elsewhere without the stylesheet.
	Inline bool
}

// WriteHTML writes the blocks of d as indented, semantic HTML: what stands inside
// the page's main element. Places that wait for a picture are left out.
func WriteHTML(w io.Writer, d Doc, how Writing) error {
	h := writer{Writing: how, doc: d, first: true}
	h.spots(rules.Above)
	if d.Header() == nil || how.Backing == nil {
		h.title()
	}
	for _, s := range d.Spreads(how.Rules) {
		if err := h.spread(s); err != nil {
			return err
		}
	}
	h.spots(rules.Below)
	h.spots(rules.Beside)
	h.enlargements()
	_, err := w.Write(h.b.Bytes())
	return err
}

// WriteBlock writes one block of a page.
func WriteBlock(w io.Writer, d Doc, id string, how Writing) error {
	b, ok := d.Block(id)
	if !ok {
		return fmt.Errorf("the page has no block %s", id)
	}
	h := writer{Writing: how, doc: d, first: true}
	if err := h.block(b); err != nil {
		return err
	}
	h.enlargements()
	_, err := w.Write(h.b.Bytes())
	return err
}

// writer writes a page, indented by two spaces for each element it is inside.
type writer struct {
	Writing
	doc   Doc
	b     bytes.Buffer
	depth int
	first bool // the next picture is the first of the page
	large []large
}

func (h *writer) line(format string, args ...any) {
	h.b.WriteString(strings.Repeat("  ", h.depth))
	fmt.Fprintf(&h.b, format, args...)
	h.b.WriteByte('\n')
}

// open writes the start of an element, whose class and style are the second and
// third word of it: one of them is used.
func (h *writer) open(element, class, style string, more ...string) {
	h.line("<%s>", strings.Join(append([]string{element + h.look(class, style)}, more...), " "))
	h.depth++
}

func (h *writer) close(element string) {
	h.depth--
	h.line("</%s>", element)
}

// look is the class, or, inline, the style of an element.
func (h *writer) look(class, style string) string {
	switch {
	case !h.Inline:
		return fmt.Sprintf(" class=\"%s\"", html.EscapeString(class))
	case style != "":
		return fmt.Sprintf(" style=\"%s\"", html.EscapeString(style))
	}
	return ""
}

// html writes what is HTML already; what its lines mean by their indent stays.
func (h *writer) html(text string) {
	if strings.Contains(text, "<pre") || strings.Contains(text, "<textarea") {
		h.b.WriteString(text)
		return
	}
	for _, line := range strings.Split(strings.TrimSpace(text), "\n") {
		if strings.TrimSpace(line) != "" {
			h.line("%s", line)
		}
	}
}

func (h *writer) spread(s Spread) error {
	if s.Frame == nil {
		if len(s.Columns[0]) == 0 {
			return nil
		}
		h.open("div", "flow", flowStyle(h.Rules))
		if err := h.blocks(s.Columns[0]); err != nil {
			return err
		}
		h.close("div")
		return nil
	}
	h.open("div", s.Classes(), s.style(h.Rules))
	if err := h.background(s); err != nil {
		return err
	}
	h.open("div", "columns", columnsStyle(s, h.Rules))
	for i, blocks := range s.Columns {
		h.open("div", "column", columnStyle(s, i, h.Rules))
		if err := h.blocks(blocks); err != nil {
			return err
		}
		h.close("div")
	}
	h.close("div")
	h.close("div")
	return nil
}

func (h *writer) title() {
	if h.doc.Title != "" {
		h.line("<h1>%s</h1>", html.EscapeString(h.doc.Title))
	}
}

func (h *writer) blocks(all []Block) error {
	for _, b := range all {
		if err := h.block(b); err != nil {
			return fmt.Errorf("block %s: %w", b.ID, err)
		}
	}
	return nil
}

func (h *writer) block(b Block) error {
	switch b.Kind {
	case Heading:
		h.line("<h%d>%s</h%[1]d>", b.HeadingLevel(), html.EscapeString(b.Text))
	case Text:
		h.html(h.textHTML(b.Text))
	case HTML:
		h.open("div", "kept", "")
		h.html(CleanHTML(b.Text))
		h.close("div")
	case Divider:
		h.line("<hr>")
	case File:
		return h.file(b)
	case Facts:
		h.facts()
	case List:
		return h.list(b)
	case Album:
		return h.album(b)
	case Spot:
		h.spotBlock(b)
	case Picture:
		return h.figure(b, 0)
	case Beside:
		p := b.Placement
		h.open("div", "beside beside-"+string(p.Side), "display:flex;flex-wrap:wrap;gap:0 20px;align-items:flex-start")
		if err := h.figure(b, 0); err != nil {
			return err
		}
		h.open("div", "beside-words", "flex:1 1 150px")
		h.html(h.textHTML(b.Text))
		h.close("div")
		h.close("div")
	case Pair, Strip:
		class, style, more := "pair", fmt.Sprintf("display:flex;gap:%dpx", PairGap), []string(nil)
		if b.Kind == Strip { // what scrolls can be reached by key
			class, style, more = "strip", "display:flex;gap:8px;overflow-x:auto", []string{`tabindex="0"`, `role="group"`, `aria-label="Pictures"`}
		}
		h.open("div", class, style, more...)
		for n := range b.Pictures {
			if err := h.figure(b, n); err != nil {
				return err
			}
		}
		h.close("div")
	}
	return nil
}

func (h *writer) file(b Block) error {
	if h.File == nil {
		return fmt.Errorf("the file %q cannot be written: nobody says where it will lie", b.File.Name)
	}
	at, err := h.File(*b.File)
	if err != nil {
		return err
	}
	name := strings.TrimSpace(b.Text)
	if name == "" {
		name = b.File.Name
	}
	h.line("<p%s><a href=\"%s\" download>%s</a> <small>%s</small></p>", h.look("file-card", "border:1px solid;padding:10px"), html.EscapeString(at), html.EscapeString(name), html.EscapeString(b.File.Describe()))
	return nil
}

// figure writes the nth picture of a block. The first of a page is likely in view
// at once, so it is not put off.
func (h *writer) figure(b Block, n int) error {
	s, ok := h.doc.Stand(h.Rules, b.ID, n)
	if !ok {
		return fmt.Errorf("it holds no picture %d", n+1)
	}
	if s.Waits() {
		return nil
	}
	m, err := h.Image(s)
	if err != nil {
		return err
	}
	h.open("figure", s.Classes(), s.style(h.Rules))
	if h.Inline {
		m.Still = nil // elsewhere no stylesheet would show one of the two
	}
	h.link(s, m)
	h.motion(m)
	if caption := CaptionHTML(s.Caption); caption != "" {
		h.line("<figcaption>%s</figcaption>", caption)
	}
	h.close("figure")
	return nil
}

// link writes the picture inside of where it leads.
func (h *writer) link(s Stand, m Image) {
	switch leads := s.Link.Leads(h.Rules); {
	case leads == rules.AddressLink && s.Link.Address != "":
		out := ""
		if s.Link.New {
			out = " target=\"_blank\" rel=\"noopener\""
		}
		h.line("<a href=\"%s\"%s>", html.EscapeString(s.Link.Address), out)
	case leads == rules.EnlargeLink && m.Large != nil && !h.Inline: // elsewhere nothing would open it
		id := fmt.Sprintf("%s-%d", s.Block, s.Nth+1)
		h.large = append(h.large, large{id, *m.Large, s.Caption})
		h.line("<a id=\"small-%s\"%s href=\"#large-%[1]s\">", id, h.look("enlarges", ""))
	default:
		h.image(m, s)
		return
	}
	h.depth++
	h.image(m, s)
	h.close("a")
}

func (h *writer) image(m Image, s Stand) {
	loading := "lazy"
	if h.first {
		loading = "eager"
	}
	h.first = false
	style := ""
	if h.Inline {
		style = fmt.Sprintf(" style=\"%s\"", html.EscapeString(s.imageStyle(h.Rules)))
	}
	h.img(m, loading, style)
}

// attributes writes an image's files and words; the longer ones on lines of their
// own, indented.
func (m Image) attributes(indent string) string {
	var b strings.Builder
	fmt.Fprintf(&b, " src=\"%s\"", html.EscapeString(m.Src))
	if m.SrcSet != "" {
		fmt.Fprintf(&b, "\n%[1]ssrcset=\"%[2]s\"\n%[1]ssizes=\"%[3]s\"\n%[1]s", indent, html.EscapeString(m.SrcSet), html.EscapeString(m.Sizes))
	} else {
		b.WriteByte(' ')
	}
	fmt.Fprintf(&b, "width=\"%d\" height=\"%d\" alt=\"%s\"", m.Width, m.Height, html.EscapeString(m.Alt))
	return b.String()
}
