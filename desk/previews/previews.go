// Package previews tells what is shown of a page where its link is shared: what the page
// says now, what is live, and what a previewer still holds of an earlier time. These are
// three things, and people wonder for days which of them they see.
package previews

import (
	"bytes"
	"context"
	"net/url"

	"mivlet/core/facts"
	"mivlet/core/fit"
	"mivlet/core/page"
	"mivlet/desk/access"
	"mivlet/desk/derive"
	"mivlet/desk/pages"
	"mivlet/desk/snapshot"
	"mivlet/store"
)

// Previewer keeps previews of links.
type Previewer interface {
	// Held returns what is held of a link; what was never shared before is fetched.
	Held(ctx context.Context, address string) (page.Held, error)
	// Fetch has it fetched again.
	Fetch(ctx context.Context, address string) (page.Held, error)
	// Picture returns the picture of a link as a manner shows it, as JPEG.
	Picture(ctx context.Context, address, manner string) ([]byte, error)
	// Base is its address, for people.
	Base() string
}

// Visitor fetches what is live.
type Visitor interface {
	Fetch(ctx context.Context, address string) (data []byte, mediaType string, err error)
}

// Rooms are the rooms below, and the outside world, that the work is done with.
type Rooms struct {
	Derive    *derive.Desk
	Snapshot  *snapshot.Desk
	Pages     *pages.Desk
	Visitor   Visitor
	Previewer Previewer // nil where there is none
}

// Desk is where previews are looked at.
type Desk struct {
	*access.Seat
	derive    *derive.Desk
	snapshot  *snapshot.Desk
	pages     *pages.Desk
	visitor   Visitor
	previewer Previewer
}

// New returns the desk of a seat.
func New(s *access.Seat, r Rooms) *Desk {
	return &Desk{s, r.Derive, r.Snapshot, r.Pages, r.Visitor, r.Previewer}
}

// At returns the same desk for another seat.
func (d *Desk) At(s *access.Seat) *Desk {
	return &Desk{s, d.derive.At(s), d.snapshot.At(s), d.pages.At(s), d.visitor, d.previewer}
}

// Shown is what a page says of itself at one time.
type Shown struct {
	Title, Description string
	Width, Height      int    // of its picture, in pixels; 0 where it has none
	File               string // hash of the picture's content; "" where it has none, or is not made yet
	Trouble            string // why it could not be read; "" where it was

	key string // of the picture's cut
}

// Differences are what two of them have not in common: title, description, picture.
func (s Shown) differs(o Shown, picture bool) (all []string) {
	if s.Title != o.Title {
		all = append(all, "title")
	}
	if s.Description != o.Description {
		all = append(all, "description")
	}
	if picture {
		all = append(all, "picture")
	}
	return all
}

// View is what is shown of a page where its link is shared.
type View struct {
	store.Page
	Address   string // of the live page
	Now       Shown
	By        snapshot.LinkBy // why its picture is shown
	Live      *Shown          // nil where the page is not live
	Held      *page.Held      // nil where nothing is held, and where there is no previewer
	Previewer string          // its address; "" where there is none
	Trouble   string          // why the previewer could not be asked
	ToPublish []string        // what visitors get otherwise than it is now
	ToFetch   []string        // what the previewer holds otherwise than it is live
	Fits      bool            // the picture has the pixels that readers show large
}

// Of compares the three for a page. What was never shared before is fetched by it.
func (d *Desk) Of(ctx context.Context, id uint) (View, error) {
	if err := d.MayLook(); err != nil {
		return View{}, err
	}
	n, err := d.snapshot.Snap(id)
	if err != nil {
		return View{}, err
	}
	v := View{Page: n.Page, Address: d.Site + n.Path(), Now: Shown{Title: n.Doc.Title, Description: n.Doc.Description()}}
	pic, by, err := d.snapshot.LinkPicture(d.Store, n)
	if err != nil {
		return v, err
	}
	v.By, v.Now.key = by, n.LinkKey(pic, by)
	if v.Fits = v.Now.key != ""; v.Fits {
		v.Now.Width, v.Now.Height = page.LinkShape.Width, page.LinkShape.Height
	}
	if !n.Live() {
		return v, nil
	}
	live, err := d.live(ctx, v)
	if err != nil {
		return v, err
	}
	v.Live = &live
	if live.Trouble == "" {
		v.ToPublish = v.Now.differs(live, v.Now.key != live.key)
	}
	if d.previewer == nil {
		return v, nil
	}
	v.Previewer = d.previewer.Base()
	h, err := d.previewer.Held(ctx, v.Address)
	if err != nil {
		v.Trouble = err.Error()
		return v, nil
	}
	v.Held = &h
	if h.Trouble != "" {
		v.ToFetch = []string{"page"}
	} else if live.Trouble == "" {
		v.ToFetch = live.differs(Shown{Title: h.Title, Description: h.Description}, h.Hash != live.File)
	}
	return v, nil
}

// live reads what the live page says of itself.
func (d *Desk) live(ctx context.Context, v View) (Shown, error) {
	if d.visitor == nil {
		return Shown{Trouble: "Nobody visits the site from here."}, nil
	}
	data, _, err := d.visitor.Fetch(ctx, v.Address)
	if err != nil {
		return Shown{Trouble: "The live page does not answer: " + err.Error() + "."}, nil
	}
	read, err := page.ReadHTML(bytes.NewReader(data))
	if err != nil {
		return Shown{Trouble: "The live page cannot be read: " + err.Error() + "."}, nil
	}
	s := Shown{Title: read.Head.Property("og:title"), Description: read.Head.Property("og:description")}
	at, err := url.Parse(read.Head.Property("og:image"))
	if err != nil || at.Path == "" {
		return s, nil
	}
	files, err := d.Store.FilesOf(v.ID)
	for _, f := range files {
		if f.Path == at.Path && f.For == page.LinkShape.ID {
			s.File, s.key, s.Width, s.Height = f.Hash, f.CutKey, f.Width, f.Height
		}
	}
	return s, err
}

// FetchAgain has the previewer fetch a live page again.
func (d *Desk) FetchAgain(ctx context.Context, id uint) error {
	if err := d.pages.MayWorkOn(id); err != nil {
		return err
	}
	p, err := d.Store.Page(id)
	if err != nil {
		return access.NotFound(err, "The page")
	}
	if !p.Live() || d.previewer == nil {
		return access.Refuse(access.Bad, "There is nothing to fetch: the page is not live.", "Publish it first.")
	}
	if _, err := d.previewer.Fetch(ctx, d.Site+p.Path()); err != nil {
		return access.Because(access.Bad, "The previewer did not fetch the page.", "Try it again in a moment.", err)
	}
	return nil
}

// Picture returns what a previewer shows of a page in one of its manners, as JPEG.
func (d *Desk) Picture(ctx context.Context, id uint, manner string) ([]byte, error) {
	if err := d.MayLook(); err != nil {
		return nil, err
	}
	p, err := d.Store.Page(id)
	if err != nil {
		return nil, access.NotFound(err, "The page")
	}
	if !p.Live() || d.previewer == nil {
		return nil, access.Refuse(access.Missing, "Nothing is held of this page.", "Publish it first.")
	}
	return d.previewer.Picture(ctx, d.Site+p.Path(), manner)
}

// LivePicture opens the link picture that visitors get of a page.
func (d *Desk) LivePicture(id uint) (derive.File, error) {
	if err := d.MayLook(); err != nil {
		return derive.File{}, err
	}
	files, err := d.Store.FilesOf(id)
	if err != nil {
		return derive.File{}, err
	}
	for _, f := range files {
		if f.For == page.LinkShape.ID {
			return d.derive.Open(f.Hash)
		}
	}
	return derive.File{}, access.Refuse(access.Missing, "No picture is live where this page is shared.", "Choose one, and publish the page.")
}

// Look opens the link picture of a draft as it would be shown.
func (d *Desk) Look(id uint) (derive.File, error) {
	if err := d.MayLook(); err != nil {
		return derive.File{}, err
	}
	n, err := d.snapshot.Snap(id)
	if err != nil {
		return derive.File{}, err
	}
	pic, by, err := d.snapshot.LinkPicture(d.Store, n)
	if err != nil {
		return derive.File{}, err
	}
	if by == snapshot.NoLink {
		return derive.File{}, access.Refuse(access.Missing, "No picture is shown where this page is shared.", "Choose one.")
	}
	if by == snapshot.LinkCard {
		data, err := d.snapshot.CardLook(n, pic)
		if err != nil {
			return derive.File{}, err
		}
		kind, err := facts.MediaType(bytes.NewReader(data))
		return derive.InMemory(data, kind, n.LinkKey(pic, by)), err
	}
	return d.derive.BoxedFile(pic, fit.Size{W: page.LinkShape.Width, H: page.LinkShape.Height})
}
