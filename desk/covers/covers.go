package covers

import (
	"errors"
	"fmt"
	"image"
	"slices"

	"mivlet/core/fit"
	"mivlet/core/page"
	"mivlet/core/rules"
	"mivlet/core/titlecard"
	"mivlet/desk/access"
	"mivlet/desk/pages"
	"mivlet/desk/snapshot"
	"mivlet/store"
)

// Set chooses the picture that stands for a page in lists, as one step; picture 0 leaves it
// to the rule again. seen is the mark that the page's details and cover had; "" takes them as
// they are.
func (d *Desk) Set(id uint, seen string, picture uint) error {
	return d.set(id, seen, picture, "cover", func(doc *page.Doc) **page.Cover { return &doc.Cover })
}

// SetLink is Set for the picture that is shown where a page is shared.
func (d *Desk) SetLink(id uint, seen string, picture uint) error {
	return d.set(id, seen, picture, "link picture", func(doc *page.Doc) **page.Cover {
		doc.Card = nil
		return &doc.Shared
	})
}

func (d *Desk) set(id uint, seen string, picture uint, what string, of func(*page.Doc) **page.Cover) error {
	if err := d.pages.MayWorkOn(id); err != nil {
		return err
	}
	if picture != 0 {
		if _, err := d.Visible(picture); err != nil {
			return err
		}
	}
	text := "Chose a " + what
	if picture == 0 {
		text = "Left the " + what + " to the rule"
	}
	return d.pages.Edit(id, pages.Newest, text, func(doc page.Doc) (page.Doc, error) {
		if seen != "" && seen != pages.DetailsMark(doc) {
			return doc, access.Refuse(access.Clash, "Somebody else has changed the cover in the meantime.", "Look at it as it is now.")
		}
		chosen := of(&doc)
		if *chosen = nil; picture != 0 {
			*chosen = &page.Cover{Picture: picture}
		}
		return doc, nil
	})
}

// Frame moves the focus of a page's cover, and draws its frame in, as one step. The focus is
// a part of the picture's own frame as it is seen, 0 to 1; closer is 1 for all of that frame,
// up to [page.Closest]. The picture on the page stays as it is.
func (d *Desk) Frame(id uint, seen string, focus fit.Focus, closer float64) error {
	return d.frame(id, seen, focus, closer, func(n *snapshot.Snapshot) (store.Picture, error) {
		pic, _ := n.Cover()
		return pic, nil
	}, func(doc *page.Doc, c *page.Cover) { doc.Cover = c })
}

// FrameLink is Frame for the picture that is shown where a page is shared.
func (d *Desk) FrameLink(id uint, seen string, focus fit.Focus, closer float64) error {
	return d.frame(id, seen, focus, closer, func(n *snapshot.Snapshot) (store.Picture, error) {
		pic, _, err := d.snapshot.LinkPicture(d.Store, n)
		return pic, err
	}, func(doc *page.Doc, c *page.Cover) {
		if doc.Card != nil {
			doc.Card = &page.TitleCard{Ground: doc.Card.Ground, Behind: c}
			return
		}
		doc.Shared = c
	})
}

// SetCard has a title card shown where a page is shared, as one step; nil takes it off, and
// the link picture is as it was before. Over a picture it is the one that is shown now.
func (d *Desk) SetCard(id uint, seen string, c *page.TitleCard) error {
	if err := d.pages.MayWorkOn(id); err != nil {
		return err
	}
	if c != nil && c.Behind != nil {
		if _, err := d.Visible(c.Behind.Picture); err != nil {
			return err
		}
	}
	p, err := d.Store.Page(id)
	if err != nil {
		return access.NotFound(err, "The page")
	}
	if missing := titlecard.Missing(p.Doc.Title + d.Rules().House); c != nil && len(missing) > 0 {
		return access.Refuse(access.Bad, fmt.Sprintf("A title card cannot be drawn: its letters have no “%s”.", string(missing)), "Choose a picture for the link.")
	}
	text := "Chose a title card for the link"
	if c == nil {
		text = "Took the title card off the link"
	}
	return d.pages.Edit(id, pages.Newest, text, func(doc page.Doc) (page.Doc, error) {
		if seen != "" && seen != pages.DetailsMark(doc) {
			return doc, access.Refuse(access.Clash, "Somebody else has changed the link picture in the meantime.", "Look at it as it is now.")
		}
		doc.Card = c
		if err := doc.Check(); err != nil {
			return doc, access.Because(access.Bad, "There is no such title card.", "Choose one from the list.", err)
		}
		return doc, nil
	})
}

func (d *Desk) frame(id uint, seen string, focus fit.Focus, closer float64, shown func(*snapshot.Snapshot) (store.Picture, error), put func(*page.Doc, *page.Cover)) error {
	if !(focus.X >= 0 && focus.X <= 1 && focus.Y >= 0 && focus.Y <= 1) {
		return access.Refuse(access.Bad, fmt.Sprintf("The focus lies from 0 to 1, not at %v, %v.", focus.X, focus.Y), "Choose a spot on the picture.")
	}
	if err := d.pages.MayWorkOn(id); err != nil {
		return err
	}
	n, err := d.snapshot.Snap(id)
	if err != nil {
		return err
	}
	pic, err := shown(n)
	if err != nil {
		return err
	}
	whole, err := d.Visible(pic.ID) // as it is framed itself
	if err != nil {
		return access.Because(access.Missing, "No picture stands for the page.", "Choose one first.", err)
	}
	return d.pages.Edit(id, pages.Newest, "Framed what stands for the page", func(doc page.Doc) (page.Doc, error) {
		if seen != pages.DetailsMark(doc) {
			return doc, access.Refuse(access.Clash, "Somebody else has changed the cover in the meantime.", "Look at it as it is now.")
		}
		put(&doc, drawnIn(whole, focus, closer))
		return doc, nil
	})
}

// OfLink returns what is shown where a page is shared, as [Desk.Of] does for its cover.
func (d *Desk) OfLink(id uint) (View, snapshot.LinkBy, error) {
	if err := d.MayLook(); err != nil {
		return View{}, "", err
	}
	n, err := d.snapshot.Snap(id)
	if err != nil {
		return View{}, "", err
	}
	v := View{Page: n.Page, Title: n.Doc.Title, Closer: 1}
	pic, by, err := d.snapshot.LinkPicture(d.Store, n)
	if err != nil || pic.ID == 0 {
		return v, by, err
	}
	whole, err := d.Store.Picture(pic.ID)
	if err != nil {
		return v, by, err
	}
	v.Picture = &whole
	own := n.Doc.Shared
	switch by {
	case snapshot.LinkCover:
		own = n.Doc.Cover
	case snapshot.LinkCard:
		own = n.Doc.Card.Behind
	}
	if v.By = page.CoverRule; own != nil {
		v.By = page.CoverOwn
	}
	v.Focus, v.Closer = framed(whole, own)
	lines, err := d.linesOf(pic)
	if err != nil {
		return v, by, err
	}
	v.Faults = d.faults(pic, n.Section, lines, page.LinkShapes)
	return v, by, nil
}

func (d *Desk) linesOf(pic store.Picture) ([]image.Rectangle, error) {
	lines, err := d.derive.LinesOf(pic)
	boxes := make([]image.Rectangle, len(lines))
	for i, l := range lines {
		boxes[i] = l.Bounds
	}
	return boxes, err
}

// drawnIn is a cover that shows a part of a picture's own frame.
func drawnIn(pic store.Picture, focus fit.Focus, closer float64) *page.Cover {
	c := &page.Cover{Picture: pic.ID}
	view := pic.Work.Recipe.View(pic.Facts.Upright())
	seen := view.Seen()
	part := page.Closer(seen, focus, closer)
	if part != seen {
		box := fit.BoxOf(view.Part(part))
		c.Frame = &box
	}
	c.Focus = &fit.Focus{
		X: min(max((focus.X*float64(seen.Dx())-float64(part.Min.X))/float64(part.Dx()), 0), 1),
		Y: min(max((focus.Y*float64(seen.Dy())-float64(part.Min.Y))/float64(part.Dy()), 0), 1),
	}
	return c
}

// View is what stands for a page, in its panel and among the covers.
type View struct {
	store.Page
	Title   string // of the group that it is the front page of, else of the page
	Group   string // section, category or house, for a front page; "" for others
	By      page.CoverBy
	Picture *store.Picture // nil where none stands for it
	// Of the picture's own frame: where the focus lies, and how far the frame is drawn in.
	Focus  fit.Focus
	Closer float64
	Faults []Fault
	// Listed tells that a live list shows the page.
	Listed bool
}

// Fault is what falls short in a cover.
type Fault struct {
	Code  string            // soft, face, text, twin or foreign
	Shape string            // title of the shape that it is about; "" for all
	Value string            // the other page, or section
	Boxes []image.Rectangle // faces or lines that are cut off, in pixels of the upright original
}

// All returns what stands for every page, groups first, blanks before others. Text is not
// looked for: see [Desk.Of].
func (d *Desk) All() ([]View, error) {
	if err := d.MayLook(); err != nil {
		return nil, err
	}
	var all []View
	err := d.Store.View(func(s store.Records) error {
		drafts, err := s.Pages()
		if err != nil {
			return err
		}
		taken, err := d.snapshot.Snapshots(s, drafts)
		if err != nil {
			return err
		}
		for _, n := range taken {
			all = append(all, d.coverOf(n, nil))
		}
		return nil
	})
	twins(all)
	slices.SortStableFunc(all, func(a, b View) int { return rank(a) - rank(b) })
	return all, err
}

// rank puts groups before pages, and blanks before the others.
func rank(v View) int {
	n := 0
	if v.Group == "" {
		n = 2
	}
	if v.By != page.NoCover {
		n++
	}
	return n
}

// Of returns what stands for one page, with the text in it looked for.
func (d *Desk) Of(id uint) (View, error) {
	if err := d.MayLook(); err != nil {
		return View{}, err
	}
	n, err := d.snapshot.Snap(id)
	if err != nil {
		return View{}, err
	}
	pic, by := n.Cover()
	if by == page.NoCover {
		return d.coverOf(n, nil), nil
	}
	lines, err := d.linesOf(pic)
	if err != nil {
		return View{}, err
	}
	return d.coverOf(n, lines), nil
}

// coverOf tells what stands for a page. lines are those of text in the picture, where they
// have been looked for.
func (d *Desk) coverOf(n *snapshot.Snapshot, lines []image.Rectangle) View {
	v := View{Page: n.Page, Title: n.Doc.Title, Closer: 1}
	if title, front := FrontOf(n.House.Rules, n.Page); front {
		v.Title = title
		switch {
		case n.Section != "":
			v.Group = "section"
		case n.Slug != "":
			v.Group = "category"
		default:
			v.Group = "house"
		}
	}
	v.Listed = n.Live() && n.Listed()
	pic, by := n.Cover()
	v.By = by
	if by == page.NoCover {
		return v
	}
	whole := n.Pictures[pic.ID]
	v.Picture = &whole
	v.Focus, v.Closer = framed(whole, n.Doc.Cover)
	v.Faults = d.faults(pic, n.Section, lines, page.CoverSlots)
	return v
}

// framed is where the focus of a cover lies in the picture's own frame, and how far its
// frame is drawn in; where nothing was chosen, the picture's own focus and all of it.
func framed(pic store.Picture, c *page.Cover) (fit.Focus, float64) {
	source := pic.Facts.Upright()
	view := pic.Work.Recipe.View(source)
	if c == nil || c.Focus == nil {
		return view.Focus, 1
	}
	seen := view.Seen()
	if c.Frame == nil {
		return *c.Focus, 1
	}
	part := view.Turn.RectToUpright(c.Frame.Rect().Sub(view.Frame.Min), fit.SizeOf(view.Frame))
	f := fit.Focus{X: (float64(part.Min.X) + c.Focus.X*float64(part.Dx())) / float64(seen.Dx()), Y: (float64(part.Min.Y) + c.Focus.Y*float64(part.Dy())) / float64(seen.Dy())}
	return fit.Focus{X: min(max(f.X, 0), 1), Y: min(max(f.Y, 0), 1)}, float64(seen.Dx()) / float64(max(1, part.Dx()))
}

// faults are what falls short in a picture where it stands for a page of a section, in some
// shapes.
func (d *Desk) faults(pic store.Picture, section string, lines []image.Rectangle, shapes []rules.Slot) []Fault {
	var all []Fault
	if section != "" && pic.Section != section {
		all = append(all, Fault{Code: "foreign", Value: d.SectionTitle(pic.Section)})
	}
	plain := pic.Work.Recipe.View(pic.Facts.Upright())
	for _, slot := range shapes {
		cuts := plain.Plan(slot.Want(), slot.Scales())
		first, best := cuts[0], cuts[len(cuts)-1]
		if best.Effective < 1 {
			all = append(all, Fault{Code: "soft", Shape: slot.Title, Value: fmt.Sprint(best.Size.W)})
		}
		faces := make([]image.Rectangle, len(pic.Faces))
		for i, f := range pic.Faces {
			faces[i] = f.Bounds
		}
		if cut := cutOff(faces, first.Source); len(cut) > 0 {
			all = append(all, Fault{Code: "face", Shape: slot.Title, Boxes: cut})
		}
		if cut := cutOff(lines, first.Source); len(cut) > 0 {
			all = append(all, Fault{Code: "text", Shape: slot.Title, Boxes: cut})
		}
	}
	return all
}

// cutOff are those boxes that a shape which shows one part of a picture cuts off.
func cutOff(boxes []image.Rectangle, shown image.Rectangle) (all []image.Rectangle) {
	for _, b := range boxes {
		if page.CutOff(b, shown) {
			all = append(all, b)
		}
	}
	return all
}

// twins notes of groups that have the same picture as another.
func twins(all []View) {
	first := map[uint]int{}
	for i, v := range all {
		if v.Group == "" || v.Picture == nil {
			continue
		}
		if at, ok := first[v.Picture.ID]; ok {
			all[i].Faults = append(all[i].Faults, Fault{Code: "twin", Value: all[at].Title})
			all[at].Faults = append(all[at].Faults, Fault{Code: "twin", Value: v.Title})
			continue
		}
		first[v.Picture.ID] = i
	}
}

// Fill puts pictures on blanks, in their order: the first on the first, until one of
// the two ends. It returns how many were filled. Where one cannot be, the ones before it are.
func (d *Desk) Fill(blanks []uint, pictures []uint) (int, error) {
	if len(pictures) == 0 || len(blanks) == 0 {
		return 0, access.Refuse(access.Bad, "Choose pictures, and blanks to fill.", "Nothing was changed.")
	}
	n := 0
	var trouble error
	for n < min(len(blanks), len(pictures)) {
		if trouble = d.Set(blanks[n], "", pictures[n]); trouble != nil {
			break
		}
		n++
	}
	var refused *access.Refusal
	if errors.As(trouble, &refused) && n > 0 {
		refused.Next = fmt.Sprintf("%s chosen before this one. %s", access.Count(n, "cover"), refused.Next)
	}
	return n, trouble
}
