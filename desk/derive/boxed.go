package derive

import (
	"bytes"
	"image"

	"mivlet/core/facts"
	"mivlet/core/fit"
	"mivlet/core/page"
	"mivlet/core/raster"
	"mivlet/desk/access"
	"mivlet/store"
)

// Boxed is a picture as it fills a box of CSS px, from its working copy: with its veils,
// around its focus. It is never larger than the copy has pixels, so it can be smaller than
// the box.
func (d *Desk) Boxed(p store.Picture, box fit.Size) (image.Image, error) {
	src, done, err := d.WorkingCopy(p)
	if err != nil {
		return nil, err
	}
	defer done()
	view := p.Work.Recipe.View(p.Facts.Upright()).Scaled(p.Facts.Upright(), src.Upright())
	cut := view.Plan(fit.Want{Width: box.W, Height: box.H}, []float64{1})[0]
	return src.Do(raster.TransformFor(view, cut)), nil
}

// BoxedWhole is [Desk.Boxed] from the original.
func (d *Desk) BoxedWhole(p store.Picture, box fit.Size) (image.Image, error) {
	view := p.Work.Recipe.View(p.Facts.Upright())
	return d.Still(p, raster.TransformFor(view, view.Plan(fit.Want{Width: box.W, Height: box.H}, []float64{1})[0]))
}

// BoxLook opens what a picture looks like in a box, with a frame and a focus of its own
// there.
func (d *Desk) BoxLook(c page.Cover, box fit.Size) (File, error) {
	if err := d.MayLook(); err != nil {
		return File{}, err
	}
	if box.W < 1 || box.H < 1 || box.W > page.Finest || box.H > page.MostHeight {
		return File{}, access.Refuse(access.Bad, "There is no such box.", "Open the page again.")
	}
	p, err := d.Visible(c.Picture)
	if err != nil {
		return File{}, err
	}
	p.Work.Recipe = c.Over(p.Work.Recipe, p.Facts.Upright())
	return d.BoxedFile(p, box)
}

// BoxedFile is [Desk.Boxed] as a file for the screen, for those who have asked already
// whether they may. It is remembered for a while and never kept in a file, so that nothing of
// it outlives the picture.
func (d *Desk) BoxedFile(p store.Picture, box fit.Size) (File, error) {
	key := Fingerprint(12, "box", LookKey(p), box)
	data, ok := d.boxes.Get(key)
	if !ok {
		var err error
		data, err = Once(d, "box "+key, func() ([]byte, error) {
			m, err := d.Boxed(p, box)
			if err != nil {
				return nil, err
			}
			return raster.EncodeForScreen(m)
		})
		if err != nil {
			return File{}, err
		}
		d.boxes.Put(key, data)
	}
	kind, err := facts.MediaType(bytes.NewReader(data))
	return InMemory(data, kind, key), err
}
