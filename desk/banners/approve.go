package banners

import (
	"fmt"
	"path"
	"reflect"
	"slices"

	"mivlet/core/banner"
	"mivlet/core/facts"
	"mivlet/core/rules"
	"mivlet/core/words"
	"mivlet/desk/access"
	"mivlet/desk/address"
	"mivlet/desk/cuts"
	"mivlet/desk/derive"
	"mivlet/desk/pages"
	"mivlet/desk/pictures"
	"mivlet/store"
)

// Seen is the state of a banner that a publisher has looked at before approving it.
type Seen struct {
	Version int // of the banner
	Picture int // version of its picture; 0 where it has none
}

// Seen is the state of a banner as it is in a view.
func (v View) Seen() Seen {
	s := Seen{Version: v.Version}
	if v.Picture != nil {
		s.Picture = v.Picture.Version
	}
	return s
}

// Approve makes a banner what visitors get, exactly as the publisher has seen it: its files
// first, then all of it at once. Where anything has changed since, also while the files were
// made, nothing goes live.
func (d *Desk) Approve(id uint, seen Seen) error {
	b, err := d.Banner(id)
	if err != nil {
		return err
	}
	if err := d.MayPublish(b.Section); err != nil {
		return err
	}
	at, err := d.moment()
	if err != nil {
		return err
	}
	if err := unchanged(b, at.seen[b.Doc.Picture], seen); err != nil {
		return err
	}
	found, err := d.findings(at, b)
	if err != nil {
		return err
	}
	if slices.ContainsFunc(found, func(f banner.Finding) bool { return f.Level == words.Stop }) {
		return access.Refuse(access.Bad, "This banner cannot be approved yet.", "Fix what is marked as a stop first.")
	}
	spot, _ := at.rules.Spot(b.Doc.Spot) // without one, there is a stop
	files, err := d.files(at.rules, spot, at.seen[b.Doc.Picture])
	if err != nil {
		return err
	}
	return d.on(id, func(s store.Records, b *store.Banner) error {
		var now store.Picture
		if b.Doc.Picture != 0 {
			var err error
			if now, err = s.Picture(b.Doc.Picture); err != nil {
				return access.NotFound(err, "The picture")
			}
		}
		if err := unchanged(*b, now, seen); err != nil {
			return err
		}
		live, today := b.Doc, d.Now()
		b.Live, b.ApprovedAt, b.ApprovedBy, b.Stopped = &live, &today, d.Person.Name, false
		if err := s.Approve(b, files, d.Now()); err != nil {
			return err
		}
		if err := pages.Restation(s, picturesOf(*b)); err != nil {
			return err
		}
		return d.Trace(s, b.Section, "Approved the banner %s", live.Title)
	})
}

// unchanged refuses to approve what was changed since a publisher looked at it.
func unchanged(b store.Banner, pic store.Picture, seen Seen) error {
	if b.Version != seen.Version || pic.Version != seen.Picture {
		return access.Refuse(access.Clash, "The banner or its picture was changed since you looked.", "Look at it as it is now, then approve it.")
	}
	return nil
}

// files makes the files of a picture for all sizes of a spot. One that moves has files that
// stand still besides.
func (d *Desk) files(r rules.Rules, spot rules.Spot, pic store.Picture) ([]store.BannerFile, error) {
	slots := slotsFor(spot, pic)
	made, err := d.cuts.CutsForAll(r, pic, slots)
	if err != nil {
		return nil, fmt.Errorf("the files of the banner: %w", err)
	}
	formats := slices.DeleteFunc(slices.Clone(r.Placing.Lighter), func(f string) bool { return f == "avif" }) // somebody waits
	if pic.Facts.KeepsMotion() {
		formats = nil // what stands still beside what moves would move in a format that can
	}
	var files []store.BannerFile
	for i, slot := range slots {
		phone, own := spot.PhoneSlot()
		lighter, err := cuts.LighterThan(made[i], formats, func(format string) ([]store.Cut, error) {
			return d.cuts.CutsUnder(r, pic, slot.As(format))
		})
		if err != nil {
			return nil, fmt.Errorf("the lighter files of the banner: %w", err)
		}
		for k, c := range slices.Concat(append([][]store.Cut{made[i]}, lighter...)...) {
			files = append(files, store.BannerFile{Lighter: k >= len(made[i]),
				Path: filePath(pic, c), Hash: c.Hash, MediaType: c.MediaType, PictureID: pic.ID, PictureVersion: pic.Version,
				CutKey: c.Key, Original: pic.OriginalHash, Veils: pictures.Hiding(pic), Width: c.Width, Height: c.Height,
				Phone: own && (slot.ID == phone.ID || slot.ID == phone.ID+movingSlot), Moves: derive.Moves(pic, slot)})
		}
	}
	return unique(files), nil
}

// slotsFor are the slots that a picture is cut for: each size, and each as it stands still where
// it moves.
func slotsFor(spot rules.Spot, pic store.Picture) []rules.Slot {
	var slots []rules.Slot
	for _, slot := range spot.Slots() {
		still := slot
		still.Formats = []string{"jpeg", "png"}
		slots = append(slots, still)
		if derive.Moves(pic, slot) {
			slot.ID += movingSlot
			slots = append(slots, slot)
		}
	}
	return slots
}

// movingSlot ends the IDs of slots whose files move.
const movingSlot = "-moving"

// unique leaves out files that a picture of few pixels gives twice.
func unique(files []store.BannerFile) []store.BannerFile {
	var all []store.BannerFile
	for _, f := range files {
		if !slices.ContainsFunc(all, func(o store.BannerFile) bool { return o.Path == f.Path }) {
			all = append(all, f)
		}
	}
	return all
}

// filePath is where visitors find a file of a banner. It tells its content, so that no browser
// shows an old copy.
func filePath(pic store.Picture, c store.Cut) string {
	return path.Join("/", rules.SpotsFolder, fmt.Sprintf("%s-%d-%s%s", address.NameOf(pic), c.Width, store.Mark(c.Hash), facts.Extension(c.MediaType)))
}

// followPath is the address that leads where a banner leads.
func followPath(id uint) string { return fmt.Sprintf("/%s/follow/%d", rules.SpotsFolder, id) }

// Stop takes a banner off the air at once. [Desk.GoOn] lets it go on.
func (d *Desk) Stop(id uint) error { return d.stop(id, true, "Stopped the banner %s") }

// GoOn lets a banner go on that was stopped.
func (d *Desk) GoOn(id uint) error { return d.stop(id, false, "Let the banner %s go on") }

func (d *Desk) stop(id uint, stopped bool, what string) error {
	b, err := d.Banner(id)
	if err != nil {
		return err
	}
	if !stopped { // whoever works on it may take it off; to show it is a publisher's
		if err := d.MayPublish(b.Section); err != nil {
			return err
		}
	}
	return d.on(id, func(s store.Records, b *store.Banner) error {
		if b.Stopped == stopped {
			return nil
		}
		if err := s.StopBanner(id, stopped); err != nil {
			return err
		}
		return d.Trace(s, b.Section, what, b.Doc.Title)
	})
}

// Changed reports whether a banner says something else than visitors get.
func Changed(b store.Banner) bool { return b.Live != nil && !reflect.DeepEqual(*b.Live, b.Doc) }
