package banners

import (
	"errors"
	"slices"
	"sync"

	"mivlet/core/banner"
	"mivlet/core/page"
	"mivlet/core/rules"
	"mivlet/desk/access"
	"mivlet/store"
)

// turns counts how often each spot was asked for, so that banners take turns.
type turns struct {
	mu  sync.Mutex
	all map[string]uint64
}

// next is how often a spot was asked for before.
func (t *turns) next(spot string) uint64 {
	t.mu.Lock()
	defer t.mu.Unlock()
	if t.all == nil {
		t.all = map[string]uint64{}
	}
	n := t.all[spot]
	t.all[spot] = n + 1
	return n
}

// site is what decides which banners run, as it is at one moment.
type site struct {
	rules   rules.Rules
	today   string
	banners []store.Banner
	in      map[uint]banner.Occasion
	files   map[uint][]store.BannerFile
	seen    map[uint]store.Picture
}

// siteOf reads what decides which banners run. Nothing of it is kept: whoever stops a banner,
// or the clock, is obeyed at once.
func (d *Desk) siteOf(s store.Records) (site, error) {
	all, err := s.Banners(false)
	if err != nil {
		return site{}, err
	}
	return d.siteWith(s, all)
}

// asked reads a page, and no more than what decides which banner a visitor gets in some of its
// spots.
func (d *Desk) asked(s store.Records, id uint, spots []string) (banner.Page, site, error) {
	p, err := pageOf(s, id)
	if err != nil {
		return p, site{}, err
	}
	all, err := s.BannersFor(spots, d.Today())
	if err != nil {
		return p, site{}, err
	}
	at, err := d.siteWith(s, all)
	return p, at, err
}

// siteWith reads what goes with some banners.
func (d *Desk) siteWith(s store.Records, all []store.Banner) (site, error) {
	at := site{rules: d.Rules(), today: d.Today(), banners: all, in: map[uint]banner.Occasion{}}
	if len(all) == 0 {
		return at, nil
	}
	occasions, err := s.Occasions()
	if err != nil {
		return at, err
	}
	for _, o := range occasions {
		at.in[o.ID] = o.Known()
	}
	ids := make([]uint, len(all))
	for i, b := range all {
		ids[i] = b.ID
	}
	if at.files, err = s.BannerFiles(ids...); err != nil {
		return at, err
	}
	var pictures []uint
	for _, b := range at.banners {
		pictures = append(pictures, b.Doc.Picture)
		if b.Live != nil {
			pictures = append(pictures, b.Live.Picture)
		}
	}
	at.seen, err = s.PicturesIn(pictures)
	return at, err
}

// known is a banner as visitors get it or, where nobody has approved it, as it would be.
func (d *Desk) known(at site, b store.Banner) banner.Banner {
	k := banner.Banner{ID: b.ID, Doc: b.Doc, Stopped: b.Stopped}
	if b.Live != nil {
		k.Doc, k.Approved = *b.Live, true
	}
	if o, ok := at.in[k.Occasion]; ok {
		k.In = &o
	}
	pic, there := at.seen[k.Picture]
	switch {
	case !there:
	case k.Approved:
		spot, _ := at.rules.Spot(k.Spot)
		k.Fit = sized(spot, at.files[b.ID]) && !d.pictures.Refused(pic)
	default:
		k.Fit = len(d.stops(at.rules, k.Doc, pic)) == 0
	}
	return k
}

// sized reports whether the files of a banner are of a spot's sizes: the house may have changed
// those since it was approved.
func sized(spot rules.Spot, files []store.BannerFile) bool {
	for _, slot := range spot.Slots() {
		if !slices.ContainsFunc(files, func(f store.BannerFile) bool { return f.Width == slot.Width && f.Height == slot.Height }) {
			return false
		}
	}
	return len(files) > 0
}

// inSpot are the banners of a spot.
func (d *Desk) inSpot(at site, spot string) []banner.Banner {
	var all []banner.Banner
	for _, b := range at.banners {
		if k := d.known(at, b); k.Spot == spot {
			all = append(all, k)
		}
	}
	return all
}

// pageOf is a page as visitors get it; one that is not live, as it would be.
func pageOf(s store.Records, id uint) (banner.Page, error) {
	p, err := s.Page(id)
	if err != nil {
		return banner.Page{}, access.NotFound(err, "The page")
	}
	doc := p.Doc
	known := banner.Page{Section: p.Section, Front: p.Slug == "", Live: p.Live(), Placed: doc.Spots()}
	if p.Live() {
		live, err := s.NewestLive(id)
		if err != nil {
			return known, err
		}
		if doc, err = page.Parse([]byte(live.Doc)); err != nil {
			return known, err
		}
		if known.Marked, err = s.SpotsOf(id); err != nil {
			return known, err
		}
	}
	known.Title, known.Tags = doc.Title, doc.Details.Tags
	return known, nil
}

// Frames returns, by their IDs, what stands in those spots of a live page in which something
// runs. Anybody may ask: it is what visitors get.
func (d *Desk) Frames(id uint, marked []string) (map[string]string, error) {
	frames := map[string]string{}
	err := d.Store.View(func(s store.Records) error {
		p, at, err := d.asked(s, id, marked)
		if err != nil {
			return err
		}
		for _, spot := range marked {
			known, ok := at.rules.Spot(spot)
			if ok && len(banner.Running(at.rules, known, d.inSpot(at, spot), p, at.today)) > 0 {
				frames[spot] = page.SpotFrame(known, id)
			}
		}
		return nil
	})
	return frames, err
}

// Choose returns the banner that a visitor gets now in a spot of a page, and counts that it was
// shown; false where nothing runs. Anybody may ask.
// Those who are not counted get the one of the day, and take nobody's turn.
func (d *Desk) Choose(spot string, id uint, counts bool) (page.BannerShow, bool, error) {
	var show page.BannerShow
	var chosen banner.Banner
	ok := false
	err := d.Store.View(func(s store.Records) error {
		p, at, err := d.asked(s, id, []string{spot})
		if err != nil {
			return err
		}
		known, there := at.rules.Spot(spot)
		if !there {
			return nil
		}
		running := banner.Running(at.rules, known, d.inSpot(at, spot), p, at.today)
		if len(running) == 0 {
			return nil
		}
		turn := uint64(d.Now().Unix() / (24 * 60 * 60)) //nolint:gosec // after 1970
		if counts {
			turn = d.turns.next(spot)
		}
		chosen, ok = banner.Pick(known, running, turn)
		show = showOf(at.rules, known, chosen, at.files[chosen.ID])
		return nil
	})
	var refusal *access.Refusal
	if errors.As(err, &refusal) {
		err = nil // a page that is not there shows nothing
	}
	if ok && counts {
		d.tally.add(store.BannerDay{BannerID: chosen.ID, Day: d.Today(), Shown: 1})
	}
	return show, ok, err
}

// showOf is a banner as its frame shows it.
func showOf(r rules.Rules, spot rules.Spot, b banner.Banner, files []store.BannerFile) page.BannerShow {
	show := page.BannerShow{Language: r.Words.Language, Spot: spot, Follow: followPath(b.ID), New: b.New, Alt: b.Alt}
	for _, f := range files {
		file := page.BannerFile{Address: f.Path, Width: f.Width, Height: f.Height, Phone: f.Phone, Moves: f.Moves}
		if f.Lighter {
			file.MediaType = f.MediaType
		}
		show.Files = append(show.Files, file)
	}
	return show
}

// Follow returns where a banner leads, and counts that somebody followed it. One that has ended
// while it was looked at leads on; one that was stopped or deleted leads nowhere.
func (d *Desk) Follow(id uint, counts bool) (address string, err error) {
	b, err := d.Store.Banner(id)
	if err != nil {
		return "", err
	}
	if b.Live == nil || b.Stopped || b.Dropped() {
		return "", store.ErrNotFound
	}
	if counts {
		d.tally.add(store.BannerDay{BannerID: id, Day: d.Today(), Followed: 1})
	}
	return b.Live.Address, nil
}
