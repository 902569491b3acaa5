package pages

import (
	"fmt"
	"slices"
	"strings"

	"mivlet/core/layout"
	"mivlet/core/page"
	"mivlet/desk/access"
)

// TextClash is the refusal of a text that was written over one that somebody else
// has changed meanwhile. Both are kept, to choose from.
type TextClash struct {
	Block  string
	Mine   string
	Theirs string
	Mark   string // of theirs
}

// Error tells it in a sentence.
func (c *TextClash) Error() string {
	return "somebody else has changed this block meanwhile; both are kept to choose from"
}

// mostText is the most a block of text may hold, in bytes.
const mostText = 64 << 10

// AddBlock puts a new block of a kind into a gap of a page: words, a divider, HTML
// to keep, a band of a pattern, or a place that waits for its pictures. It returns
// the new block. For a file there is [Desk.AddFile].
func (d *Desk) AddBlock(id uint, at page.Gap, kind page.Kind, pattern, text string) (block string, err error) {
	b := page.Block{ID: access.NewBlock(), Kind: kind, Text: text}
	switch kind {
	case page.Heading, page.Text, page.Divider, page.HTML, page.Facts:
	case page.List:
		b.List = &page.Listing{Of: page.OfSection, Look: page.Tiles, Most: 6, Days: true, All: true}
		if b.List.Which, err = d.sectionOf(id); err != nil {
			return "", err
		}
	case page.Band:
		if _, ok := d.Rules().Pattern(pattern); !ok {
			return "", access.Refuse(access.Bad, fmt.Sprintf("The house has no pattern %q.", pattern), "Choose one from the list.")
		}
		b.Band = &page.BandLayout{Pattern: pattern}
	case page.Picture, page.Beside, page.Pair, page.Strip:
		places := page.Waiting(kind, d.Rules())
		b.Placement, b.Pictures = places.Placement, places.Pictures
	default:
		return "", access.Refuse(access.Bad, "There is no such kind of block.", "Choose one from the list.")
	}
	err = d.Edit(id, Newest, "Added "+kindText(kind), func(doc page.Doc) (page.Doc, error) { return doc.InsertAt(at, b) })
	return b.ID, err
}

// sectionOf is the section of a page, or the first of the house for one that has none.
func (d *Desk) sectionOf(id uint) (string, error) {
	p, err := d.OwnPage(id)
	if err != nil || p.Section != "" {
		return p.Section, err
	}
	return d.Rules().Sections[0].Code, nil
}

// kindText names a kind of block for the history.
func kindText(k page.Kind) string {
	return map[page.Kind]string{page.Heading: "a heading", page.Text: "a text", page.Divider: "a divider", page.HTML: "HTML to keep", page.Band: "a band",
		page.Picture: "a place for a picture", page.Beside: "a picture beside words", page.Pair: "a pair", page.Strip: "a strip", page.File: "a file", page.List: "a list of pages", page.Facts: "the facts of the page", page.Album: "an album", page.Spot: "a spot"}[k]
}

// SetText writes the words of a block. mark is that of the block as the writer saw
// it: where somebody else has changed it since, it fails with a [*TextClash].
func (d *Desk) SetText(id uint, block, mark, text string) error {
	if err := d.MayWorkOn(id); err != nil {
		return err
	}
	text = strings.TrimSpace(strings.ReplaceAll(text, "\r\n", "\n"))
	if len(text) > mostText {
		return access.Refuse(access.Bad, "That text is too long for one block.", "Split it into several blocks. Your text is still in the field.")
	}
	return d.Edit(id, Newest, "Wrote "+beginning(text), func(doc page.Doc) (page.Doc, error) {
		b, ok := doc.Block(block)
		switch {
		case !ok:
			return doc, access.Refuse(access.Missing, "Somebody has taken this block off in the meantime.", "Copy what you wrote, or undo what they did.")
		case !HoldsWords(b.Kind):
			return doc, access.Refuse(access.Bad, "This block has no text.", "Choose a heading or a text.")
		case b.Text == text:
			return doc, nil
		case mark != b.Mark():
			return doc, &TextClash{block, text, b.Text, b.Mark()}
		}
		b.Text = text
		return doc.Replace(b)
	})
}

// beginning is how a text begins, for the history.
func beginning(text string) string {
	line, _, _ := strings.Cut(text, "\n")
	if line == "" {
		return "nothing"
	}
	if r := []rune(line); len(r) > 32 {
		line = string(r[:32]) + "…"
	}
	return fmt.Sprintf("“%s”", line)
}

// HoldsWords reports whether somebody can write in a block of a kind.
func HoldsWords(k page.Kind) bool {
	return k == page.Heading || k == page.Text || k == page.Beside || k == page.HTML || k == page.File
}

// SetLevel makes a heading one of another level, 2 to 4.
func (d *Desk) SetLevel(id uint, block string, level int) error {
	return d.Edit(id, Newest, fmt.Sprintf("Made a heading level %d", level), func(doc page.Doc) (page.Doc, error) {
		b, ok := doc.Block(block)
		switch {
		case !ok || b.Kind != page.Heading:
			return doc, access.Refuse(access.Missing, "The heading is not on the page any more.", "Look again.")
		case level < 2 || level > 4:
			return doc, access.Refuse(access.Bad, "Headings on a page have the levels 2 to 4.", "The title is level 1.")
		}
		b.Level = level
		return doc.Replace(b)
	})
}

// SetBand changes the measures of a band. mark is that of its block as whoever asks
// saw it.
func (d *Desk) SetBand(id uint, block, mark string, f page.BandLayout) error {
	if err := d.MayWorkOn(id); err != nil {
		return err
	}
	if err := d.checkBand(f); err != nil {
		return err
	}
	return d.Edit(id, Newest, "Changed a band", func(doc page.Doc) (page.Doc, error) {
		b, ok := doc.Block(block)
		if !ok || b.Kind != page.Band {
			return doc, access.Refuse(access.Missing, "The band is not on the page any more.", "Look again.")
		}
		if b.Mark() != mark {
			return doc, access.Refuse(access.Clash, "Somebody else has changed this band in the meantime.", "Look at it as it is now; what you chose was not kept.")
		}
		f.Background = b.Band.Background
		b.Band = &f
		return doc.Replace(b)
	})
}

// checkBand refuses measures that no band can have.
func (d *Desk) checkBand(f page.BandLayout) error {
	p, ok := d.Rules().Pattern(f.Pattern)
	if !ok {
		return access.Refuse(access.Bad, fmt.Sprintf("The house has no pattern %q.", f.Pattern), "Choose one from the list.")
	}
	if f.Cap != 0 && (f.Cap < 200 || f.Cap > mostWide) {
		return access.Refuse(access.Bad, "That width cannot be used for a band.", fmt.Sprintf("Enter 200 to %d px, or leave it blank for the default.", mostWide))
	}
	for _, l := range []*layout.Lengths{f.Gutter, f.Padding, f.Above, f.Below} {
		if l != nil && (min(l.Phone, l.Tablet, l.Desktop) < 0 || max(l.Phone, l.Tablet, l.Desktop) > mostAir) {
			return access.Refuse(access.Bad, "That space cannot be used.", fmt.Sprintf("Enter 0 to %d px.", mostAir))
		}
	}
	if !slices.Contains(page.Grounds, f.Ground) {
		return access.Refuse(access.Bad, fmt.Sprintf("There is no background %q.", f.Ground), "Choose one from the list.")
	}
	seen := map[int]bool{}
	for _, c := range f.Order {
		seen[c] = c >= 0 && c < len(p.Shares)
	}
	for _, ok := range seen {
		if !ok || len(seen) != len(f.Order) || len(f.Order) != len(p.Shares) {
			return access.Refuse(access.Bad, "That order leaves out a column.", fmt.Sprintf("Name each of the %d columns once.", len(p.Shares)))
		}
	}
	return nil
}

// MoveBlock moves a block of a page up (by -1) or down (by 1), or further.
func (d *Desk) MoveBlock(id uint, block string, by int) error {
	return d.moved(id, block, func(doc page.Doc) (page.Doc, error) { return doc.Move(block, by) })
}

// MoveBlockTo moves a block of a page into another gap.
func (d *Desk) MoveBlockTo(id uint, block string, to page.Gap) error {
	return d.moved(id, block, func(doc page.Doc) (page.Doc, error) { return doc.MoveTo(block, to) })
}

func (d *Desk) moved(id uint, block string, act func(page.Doc) (page.Doc, error)) error {
	return d.Edit(id, Newest, "Moved a block", func(doc page.Doc) (page.Doc, error) {
		if _, ok := doc.Block(block); !ok {
			return doc, access.Refuse(access.Missing, "The block is not on the page any more.", "Look again.")
		}
		return act(doc)
	})
}

// DropBlock takes a block off a page that holds no picture; for those there is
// [Desk.TakeOff]. Undo puts it back. What stood in a band stays, in the one before
// it. mark is that of the block as whoever asks saw it.
func (d *Desk) DropBlock(id uint, block, mark string) error {
	return d.Edit(id, Newest, "Removed a block", func(doc page.Doc) (page.Doc, error) {
		b, ok := doc.Block(block)
		if !ok || len(b.Holds()) > 0 {
			return doc, access.Refuse(access.Missing, "The block is not on the page any more.", "Look again.")
		}
		if b.Mark() != mark {
			return doc, access.Refuse(access.Clash, "Somebody else has changed this block in the meantime.", "Look at it, then take it off.")
		}
		return doc.Remove(block)
	})
}
