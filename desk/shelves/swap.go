package shelves

import (
	"io"

	"mivlet/desk/access"
	"mivlet/desk/pictures"
	"mivlet/store"
)

// Swap tells what became of a recipe when a better original took the place of
// the old one.
type Swap struct {
	Picture store.Picture
	Notes   []string // what wants to be looked at
}

// SwapFile gives a picture a better original; every placement follows. Frames
// and veils are carried over where the new one has the same proportions;
// otherwise they are taken off or kept where they were, and told for review.
func (d *Desk) SwapFile(id uint, name string, r io.Reader) (Swap, error) {
	p, err := d.Mine(d.Store, id)
	if err != nil {
		return Swap{}, err
	}
	fresh, err := d.pictures.TakeIn(name, r, p.Section)
	if err != nil {
		return Swap{}, err
	}
	var notes []string
	err = d.pictures.Stirring(id, func(s store.Records) error {
		now, err := d.Mine(s, id)
		if err != nil {
			return err
		}
		// What was edited while the file came in is carried over, too.
		now.Work.Recipe, notes = pictures.Carry(now.Work.Recipe, now.Facts.Upright(), fresh.Facts.Upright())
		now.OriginalHash, now.OriginalName, now.Facts = fresh.OriginalHash, fresh.OriginalName, fresh.Facts
		now.Faces, now.FacesBy, now.Work.Left = fresh.Faces, fresh.FacesBy, nil
		now.PreviewHash, now.TwinA, now.TwinB, now.TwinC = fresh.PreviewHash, fresh.TwinA, fresh.TwinB, fresh.TwinC
		now.TwinCrops = fresh.TwinCrops
		now.Converted, now.ArrivedHash = fresh.Converted, fresh.ArrivedHash
		now.Soft = pictures.Softness(d.pictures, now) != ""
		if err := s.AddStep(&now, "Another file: "+fresh.OriginalName, d.Person.Name, d.Now()); err != nil {
			return err
		}
		// Steps before it belong to the old file and cannot be gone back to.
		if err := s.ForgetSteps(id, now.Step); err != nil {
			return err
		}
		p = now
		return d.TracePicture(s, p, "%s: another file, %s", access.NameOr(p), fresh.OriginalName)
	})
	return Swap{p, notes}, err
}
