package page

import (
	"bytes"
	"errors"
	"fmt"
	"html"
	"slices"
	"strconv"

	"mivlet/core/fit"
	"mivlet/core/rules"
)

// Card is a live page as lists show it: what was signed when it went live.
type Card struct {
	Page    uint
	Path    string
	Title   string
	From    string // see [Details]
	Until   string
	Summary string
	Files   []CardFile // of its cover; none where it has none
}

// CardFile is a file of a cover.
type CardFile struct {
	Slot    string `json:"slot"`
	Address string `json:"address"` // on the site
	Path    string `json:"path"`    // the same without its mark
	Hash    string `json:"hash"`    // of its content
	Width   int    `json:"width"`   // in pixels
	Height  int    `json:"height"`
	// MediaType tells files for all browsers from lighter ones for those that know them; cards of
	// earlier days do not say it, and have only the former.
	MediaType string `json:"media_type,omitempty"`
}

// lighter reports whether the file is offered beside others.
func (f CardFile) lighter() bool { return slices.Contains(LighterTypes, f.MediaType) }

// ListView is what a list block shows at one moment.
type ListView struct {
	Cards []Card
	Total int    // how many there are; at least as many as there are cards
	All   string // address of the page that lists all of them; "" for none
	// Address is where a file is fetched from; nil is its own address.
	Address func(CardFile) string
}

// KnownBy returns what lists may go by that show the page: its section, categories, tags
// and number; of the front page of a section or a category, that it is one. number, section
// and slug are the page's; a front page has only one of section and slug, or none.
func (d Doc) KnownBy(r rules.Rules, number uint, section, slug string) []string {
	keys := []string{Key(OfHand, strconv.FormatUint(uint64(number), 10))}
	switch {
	case section == "" && slug == "":
		return keys
	case section == "":
		return append(keys, Key(OfCategories, ""))
	case slug == "":
		return append(keys, Key(OfSections, ""))
	}
	keys = append(keys, Key(OfSection, section))
	for _, code := range d.Details.CategoriesOf(r) {
		keys = append(keys, Key(OfCategory, code))
	}
	for _, t := range d.Details.Tags {
		keys = append(keys, Key(OfTag, t))
	}
	return keys
}

// Marks around a list in a live page, between which it is made anew.
func listBegins(block string) string { return "<!-- list " + block + " -->" }
func listEnds(block string) string   { return "<!-- end of list " + block + " -->" }

// list writes a list block.
func (h *writer) list(b Block) error {
	var view ListView
	if h.List != nil {
		var err error
		if view, err = h.List(b); err != nil {
			return err
		}
	}
	h.line("%s", listBegins(b.ID))
	h.cards(b, view)
	h.line("%s", listEnds(b.ID))
	return nil
}

func (h *writer) cards(b Block, view ListView) {
	if len(view.Cards) == 0 {
		h.line("<p%s>Nothing is published here yet.</p>", h.look("list-empty", ""))
		return
	}
	l := *b.List
	slot, pictured := l.Look.Slot()
	class, sizes := "list list-"+string(l.Look), fmt.Sprintf("%dpx", slot.Width)
	if l.Look == Tiles {
		wide, narrow, s := h.doc.TilePlace(h.Rules, b.ID)
		class, sizes = fmt.Sprintf("%s across-%d narrow-%d", class, wide, narrow), s
	}
	h.open("ul", class, "list-style:none;padding:0")
	for _, c := range view.Cards {
		h.open("li", "card-of-page", "")
		h.line("<a href=\"%s\">", html.EscapeString(c.Path))
		h.depth++
		if pictured {
			h.coverOf(c, slot, sizes, view.Address)
		}
		h.line("<span%s>%s</span>", h.look("card-title", ""), html.EscapeString(c.Title))
		h.close("a")
		if d := (Details{From: c.From, Until: c.Until}); l.Days && d.Days() != "" {
			h.line("<p%s>%s</p>", h.look("card-day", ""), d.timeHTML())
		}
		if l.Summary && c.Summary != "" {
			h.line("<p%s>%s</p>", h.look("card-summary", ""), html.EscapeString(c.Summary))
		}
		h.close("li")
	}
	h.close("ul")
	if view.All != "" && view.Total > len(view.Cards) {
		h.line("<p%s><a href=\"%s\">All of them: %d</a></p>", h.look("list-all", ""), html.EscapeString(view.All), view.Total)
	}
}

// coverOf writes the cover of a card. Its words are the title beside it, in the same link,
// so the picture says nothing of its own (WCAG 2.2, technique H2).
func (h *writer) coverOf(c Card, slot rules.Slot, sizes string, address func(CardFile) string) {
	var files []CardFile
	for _, f := range c.Files {
		if f.Slot == slot.ID {
			files = append(files, f)
		}
	}
	if len(files) == 0 {
		h.line("<span%s></span>", h.look("cover blank", ""))
		return
	}
	if address == nil {
		address = func(f CardFile) string { return f.Address }
	}
	slices.SortFunc(files, func(a, b CardFile) int { return a.Width - b.Width })
	var usual, lighter []CardFile
	for _, f := range files {
		if f.lighter() {
			lighter = append(lighter, f)
		} else {
			usual = append(usual, f)
		}
	}
	if len(usual) == 0 { // the house makes all of its files so
		usual, lighter = lighter, nil
	}
	set := func(files []CardFile) string {
		var all []fit.Candidate
		for _, f := range files {
			all = append(all, fit.Candidate{URL: address(f), Width: f.Width})
		}
		return fit.SrcSet(all)
	}
	m := Image{Src: address(usual[0]), Width: usual[0].Width, Height: usual[0].Height}
	if len(files) > 1 {
		m.SrcSet, m.Sizes = set(usual), sizes
	}
	for _, mediaType := range LighterTypes {
		if of := slices.DeleteFunc(slices.Clone(lighter), func(f CardFile) bool { return f.MediaType != mediaType }); len(of) > 0 {
			m.Lighter = append(m.Lighter, Lighter{MediaType: mediaType, SrcSet: set(of)})
		}
	}
	h.img(m, "lazy", h.look("cover", "width:100%;height:auto"))
}

// WriteCards writes what stands between the marks of a list of a page.
func WriteCards(d Doc, r rules.Rules, b Block, view ListView) []byte {
	h := writer{Writing: Writing{Rules: r}, doc: d}
	h.cards(b, view)
	return h.b.Bytes()
}

// ErrNoMarks means that a live page does not hold the list that its document tells of.
var ErrNoMarks = errors.New("the list is not on the page")

// Relist puts another list in the place of one in the HTML of a live page; everything else
// stays as it was signed, byte for byte. It fails with [ErrNoMarks].
func Relist(page []byte, block string, list []byte) ([]byte, error) {
	begins, ends := []byte(listBegins(block)), []byte(listEnds(block))
	from := bytes.Index(page, begins)
	to := bytes.Index(page, ends)
	if from < 0 || to < from || bytes.Count(page, begins) != 1 || bytes.Count(page, ends) != 1 {
		return nil, fmt.Errorf("block %s: %w", block, ErrNoMarks)
	}
	line := bytes.LastIndexByte(page[:from], '\n') + 1
	indent := page[line:from]
	var inside bytes.Buffer
	inside.WriteByte('\n')
	for _, l := range bytes.SplitAfter(bytes.TrimRight(list, "\n"), []byte("\n")) {
		inside.Write(indent)
		inside.Write(l)
	}
	inside.WriteByte('\n')
	inside.Write(indent)
	return slices.Concat(page[:from+len(begins)], inside.Bytes(), page[to:]), nil
}

// Dozen is how many pages stand on one page of all of them.
const Dozen = 12

// Leaf is one of the pages that list all of what a list is about, a dozen each.
type Leaf struct {
	Number int // counted from the oldest; 0 is the newest, which has the address without a number
	From   int // the cards that it shows, in their order
	To     int // behind the last
}

// Leaves divides n cards, the newest first, into pages. They are counted from the oldest,
// so that a new card changes the newest page alone; that one holds from one dozen to two.
func Leaves(n int) []Leaf {
	full := max(0, n/Dozen-1)
	newest := n - full*Dozen
	all := []Leaf{{0, 0, newest}}
	for i := full; i > 0; i-- {
		from := newest + (full-i)*Dozen
		all = append(all, Leaf{i, from, from + Dozen})
	}
	return all
}

// Path is the address of a leaf, where the first has all.
func (l Leaf) Path(all string) string {
	if l.Number == 0 {
		return all
	}
	return fmt.Sprintf("%s/%d", all, l.Number)
}

// WriteLeaf writes what stands inside the main element of a leaf.
func WriteLeaf(d Doc, r rules.Rules, b Block, all string, leaves []Leaf, at int, cards []Card) []byte {
	h := writer{Writing: Writing{Rules: r}, doc: Doc{Blocks: []Block{b}}}
	h.line("<h1>%s: all of them</h1>", html.EscapeString(d.Title))
	h.open("div", "flow", flowStyle(r))
	shown := b
	l := *b.List
	l.Days, l.Look = true, l.Look.OnLeaf()
	shown.List = &l
	h.cards(shown, ListView{Cards: cards, Total: len(cards)})
	h.open("nav", "leaves", "", `aria-label="More of them"`)
	if at > 0 {
		h.line("<a rel=\"prev\" href=\"%s\">Newer ones</a>", html.EscapeString(leaves[at-1].Path(all)))
	}
	if at+1 < len(leaves) {
		h.line("<a rel=\"next\" href=\"%s\">Older ones</a>", html.EscapeString(leaves[at+1].Path(all)))
	}
	h.close("nav")
	h.close("div")
	return h.b.Bytes()
}
