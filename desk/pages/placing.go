package pages

import (
	"fmt"
	"io"
	"regexp"
	"slices"
	"strings"

	"mivlet/core/layout"
	"mivlet/core/page"
	"mivlet/core/rules"
	"mivlet/desk/access"
	"mivlet/store"
)

// Insert places a picture into a gap of a page; without a slot, in the one that it brings
// (see [page.Kind.SlotFor]). Others may work on other blocks
// meanwhile. What the picture still lacks is shown where it stands, and keeps the
// page from going live.
func (d *Desk) Insert(pageID uint, at page.Gap, p page.Placement) (block string, err error) {
	pic, err := d.placeable(p.Picture)
	if err != nil {
		return "", err
	}
	if p.Slot == "" { // it was dropped: it brings its own
		p.Slot, p.Caption = page.Picture.SlotFor(d.Rules(), pic.Work.Slot), page.PlainCaption(pic.Work.Caption)
	}
	if err := d.checkPlacement(page.Picture, &p); err != nil {
		return "", err
	}
	block = access.NewBlock()
	b := page.Block{ID: block, Kind: page.Picture, Placement: &p}
	err = d.Edit(pageID, Newest, "Placed "+access.NameOr(pic), func(doc page.Doc) (page.Doc, error) {
		doc, err := doc.InsertAt(at, b)
		if err != nil {
			return doc, err
		}
		return doc, d.checkSide(doc, block, 0)
	})
	return block, err
}

// placeable returns a picture that can stand on a page.
func (d *Desk) placeable(id uint) (store.Picture, error) {
	pic, err := d.Visible(id)
	if err != nil {
		return pic, err
	}
	return pic, Placeable(pic)
}

// Placeable refuses a picture that can stand nowhere yet, or no more.
func Placeable(pic store.Picture) error {
	switch pic.Station {
	case store.Bin:
		return access.Refuse(access.Bad, access.NameOr(pic)+" is in the bin.", "Bring it back first.")
	case store.Arrivals:
		return access.Refuse(access.Bad, access.NameOr(pic)+" has only just arrived.", "Send it to the bench first.")
	}
	return nil
}

// Replace puts another picture where one stands, or where a place waits for one.
// The place stays as it is. mark is that of its block as whoever asks saw it.
func (d *Desk) Replace(pageID uint, block string, n int, mark string, picture uint) error {
	if err := d.MayWorkOn(pageID); err != nil {
		return err
	}
	pic, err := d.placeable(picture)
	if err != nil {
		return err
	}
	return d.Edit(pageID, Newest, "Put "+access.NameOr(pic)+" in its place", func(doc page.Doc) (page.Doc, error) {
		b, err := placed(doc, block, n, mark)
		if err != nil {
			return doc, err
		}
		p := b.Holds()[n]
		if p.Picture = picture; pic.Work.Caption != "" && (p.Caption == "" || page.IsPrompt(p.Caption)) {
			p.Caption = page.PlainCaption(pic.Work.Caption)
		}
		p.Alt, p.Decorative = "", false // these were said of the other
		return doc.WithPlacement(block, n, p)
	})
}

// SetPlacement changes how the nth picture of a block stands. mark is that of its
// block as whoever asks saw it.
func (d *Desk) SetPlacement(pageID uint, block string, n int, mark string, p page.Placement) error {
	if err := d.MayWorkOn(pageID); err != nil {
		return err
	}
	return d.Edit(pageID, Newest, "Changed a placement", func(doc page.Doc) (page.Doc, error) {
		b, err := placed(doc, block, n, mark)
		if err != nil {
			return doc, err
		}
		if err := d.checkPlacement(b.Kind, &p); err != nil {
			return doc, err
		}
		p.Picture = b.Holds()[n].Picture
		if doc, err = doc.WithPlacement(block, n, p); err != nil {
			return doc, err
		}
		return doc, d.checkSide(doc, block, n)
	})
}

// TakeOff takes a picture, or a place that waits, off a page. Undo puts it back; the
// picture stays. mark is that of its block as whoever asks saw it.
func (d *Desk) TakeOff(pageID uint, block string, n int, mark string) error {
	return d.Edit(pageID, Newest, "Removed a picture", func(doc page.Doc) (page.Doc, error) {
		if _, err := placed(doc, block, n, mark); err != nil {
			return doc, err
		}
		return doc.RemovePicture(block, n)
	})
}

// placed returns a block that holds an nth picture, and is as it was seen.
func placed(doc page.Doc, block string, n int, mark string) (page.Block, error) {
	b, ok := doc.Block(block)
	if !ok || n < 0 || n >= len(b.Holds()) {
		return b, access.Refuse(access.Missing, "The picture is not on the page any more.", "Look again.")
	}
	if b.Mark() != mark {
		return b, access.Refuse(access.Clash, "Somebody else has changed how this picture stands.", "Look at it as it is now; what you chose was not kept.")
	}
	return b, nil
}

// AddToStrip puts a picture at the end of a strip, or, with 0, a place that waits for
// one. mark is that of its block as whoever asks saw it.
func (d *Desk) AddToStrip(pageID uint, block, mark string, picture uint) error {
	if err := d.MayWorkOn(pageID); err != nil {
		return err
	}
	p := page.Placement{Picture: picture, Side: page.None}
	text := "Added a place to a strip"
	if picture != 0 {
		pic, err := d.placeable(picture)
		if err != nil {
			return err
		}
		p.Caption, text = page.PlainCaption(pic.Work.Caption), "Put "+access.NameOr(pic)+" into a strip"
	}
	return d.Edit(pageID, Newest, text, func(doc page.Doc) (page.Doc, error) {
		b, err := placed(doc, block, 0, mark)
		if err != nil {
			return doc, err
		}
		if b.Kind != page.Strip {
			return doc, access.Refuse(access.Bad, "That block is not a strip.", "Place the picture in a gap of its own.")
		}
		p.Slot = b.Pictures[0].Slot
		b.Pictures = append(slices.Clone(b.Pictures), p)
		return doc.Replace(b)
	})
}

// Sides returns the sides that a picture can take where it stands: text flows only
// beside one that leaves room for it.
func (d *Desk) Sides(s page.Stand) []page.Side {
	at := s.Place
	switch {
	case s.Kind == page.Pair || s.Kind == page.Strip:
		return []page.Side{page.None}
	case s.Kind == page.Beside:
		return []page.Side{page.Left, page.Right}
	case s.Flow:
		at = layout.Place{Section: d.Rules().Text(), Rule: layout.Rule{Fixed: s.Slot.Width}}
	}
	if at.Beside(layout.Widest) {
		return page.Sides
	}
	return []page.Side{page.None, page.Centre}
}

// checkSide refuses a side that has no room where the picture stands.
func (d *Desk) checkSide(doc page.Doc, block string, n int) error {
	s, ok := doc.Stand(d.Rules(), block, n)
	if !ok || slices.Contains(d.Sides(s), s.Side) {
		return nil
	}
	return access.Refuse(access.Bad, fmt.Sprintf("%s is as wide as the column: no text has room beside it.", s.House.Title), "Choose a narrower slot, or centre.")
}

// The most that can be asked of a placement, in CSS px.
const (
	mostAir  = 200
	mostLine = 40
	mostWide = 4000
)

var colourForm = regexp.MustCompile(`^#[0-9a-fA-F]{6}$`)

// checkPlacement refuses what does not go together in a block of a kind, with its reason.
func (d *Desk) checkPlacement(kind page.Kind, p *page.Placement) error {
	slot, ok := d.Rules().Slot(p.Slot)
	if !ok {
		return access.Refuse(access.Bad, "No slot is chosen.", "Choose how wide the picture is on the page.")
	}
	if !kind.Takes(slot) {
		return access.Refuse(access.Bad, slot.Title+" does not go there.", "Choose another slot: a strip takes those with a height, everything else those with a width.")
	}
	if p.Side == "" {
		p.Side = page.None
	}
	if !slices.Contains(page.Sides, p.Side) {
		return access.Refuse(access.Bad, fmt.Sprintf("There is no side called %q.", p.Side), "Choose none, left, centre or right.")
	}
	p.Caption, p.Alt = strings.TrimSpace(p.Caption), strings.TrimSpace(p.Alt)
	within := func(v, least, most int) bool { return v >= least && v <= most }
	if r := p.Rule; r != nil {
		if !within(r.Fixed, 0, mostWide) || !within(r.Cap, 0, mostWide) || r.Percent < 0 || r.Percent > 100 || r.Fixed == 0 && r.Percent == 0 && r.Cap == 0 {
			return access.Refuse(access.Bad, "That width cannot be used.", fmt.Sprintf("Enter a width in pixels, such as 300: at most %d, or 1 to 100 percent of the column.", mostWide))
		}
	}
	if a := p.Air; a != nil && !(within(a.Top, 0, mostAir) && within(a.Right, 0, mostAir) && within(a.Bottom, 0, mostAir) && within(a.Left, 0, mostAir)) {
		return access.Refuse(access.Bad, "That space cannot be used.", fmt.Sprintf("Enter 0 to %d px for each side.", mostAir))
	}
	if l := p.Line; l != nil && (!within(l.Width, 0, mostLine) || l.Width > 0 && !colourForm.MatchString(l.Colour)) {
		return access.Refuse(access.Bad, "That border cannot be used.", fmt.Sprintf("Enter 0 to %d px, and a colour such as #8a8172.", mostLine))
	}
	if s := p.Shadow; s != nil && (!within(s.X, -mostLine, mostLine) || !within(s.Y, -mostLine, mostLine) || !colourForm.MatchString(s.Colour)) {
		return access.Refuse(access.Bad, "That shadow cannot be used.", fmt.Sprintf("Enter at most %d px to each side, and a colour such as #8a8172.", mostLine))
	}
	return d.checkLink(&p.Link)
}

// checkLink refuses an address that none could follow.
func (d *Desk) checkLink(l *page.Link) error {
	l.Address = strings.TrimSpace(l.Address)
	if l.Kind != rules.AddressLink {
		l.Address, l.New = "", false
		if l.Kind != "" && l.Kind != rules.NoLink && l.Kind != rules.EnlargeLink {
			return access.Refuse(access.Bad, fmt.Sprintf("There is no kind of link called %q.", l.Kind), "Choose none, enlarge or an address.")
		}
		return nil
	}
	if trouble := d.snapshot.Followable(l.Address); trouble != "" {
		return access.Refuse(access.Bad, trouble, "Give a page of this site, such as /juniors/autumn, or a whole address that begins with https://.")
	}
	return nil
}

// Target is where a file is dropped on a page: a gap, or the place of a picture.
type Target struct {
	Gap   page.Gap
	Block string // where a picture stands, or a place waits; "" for the gap
	Nth   int    // which of the block's pictures, from 0
	Mark  string // that of the block as whoever drops it saw it
}

// Land takes a picture from somebody's own folder straight to a spot on a page. It goes the way of
// every arrival; what it lacks is shown where it stands.
func (d *Desk) Land(pageID uint, to Target, name string, r io.Reader) (string, error) {
	pg, err := d.OwnPage(pageID)
	if err != nil {
		return "", err
	}
	slot := page.Picture.SlotFor(d.Rules(), "")
	if to.Block != "" { // before anything is taken in
		b, err := placed(pg.Doc, to.Block, to.Nth, to.Mark)
		if err != nil {
			return "", err
		}
		slot = b.Holds()[to.Nth].Slot
	}
	came, err := d.bring(pageID, slot, name, r)
	if err != nil {
		return "", err
	}
	if to.Block != "" {
		return to.Block, d.Replace(pageID, to.Block, to.Nth, to.Mark, came)
	}
	return d.Insert(pageID, to.Gap, page.Placement{Picture: came, Slot: slot})
}

// Bring takes a file in for something that stands for a page, or behind it, and sends it to
// the bench.
func (d *Desk) Bring(pageID uint, name string, r io.Reader) (uint, error) {
	if err := d.MayWorkOn(pageID); err != nil {
		return 0, err
	}
	return d.bring(pageID, page.Picture.SlotFor(d.Rules(), ""), name, r)
}

func (d *Desk) bring(pageID uint, slot, name string, r io.Reader) (uint, error) {
	section, err := d.sectionOf(pageID)
	if err != nil {
		return 0, err
	}
	return d.bench.Bring(section, slot, name, r)
}
