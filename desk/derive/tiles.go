package derive

import (
	"bytes"
	"cmp"
	"image"
	"io"

	"mivlet/core/facts"
	"mivlet/core/fit"
	"mivlet/core/raster"
	"mivlet/core/recipe"
	"mivlet/core/veil"
	"mivlet/desk/access"
	"mivlet/store"
)

// TileSide is the side of a tile of the stage, in pixels.
const TileSide = 512

// MostLevel is the coarsest level of tiles: beyond it the working copy is as fine.
const MostLevel = 4

// Tile opens a tile of a picture's original with its veils, for looking close:
// level 0 has its own pixels, each further level half of them.
func (d *Desk) Tile(id uint, level, col, row int) (File, error) {
	p, err := d.Mine(d.Store, id)
	if err != nil {
		return File{}, err
	}
	if level < 0 || level > MostLevel || col < 0 || row < 0 || col > 1<<20 || row > 1<<20 {
		return File{}, access.Refuse(access.Missing, "There is no such tile.", "Look again.")
	}
	step := TileSide << level
	part := image.Rect(col*step, row*step, (col+1)*step, (row+1)*step).Intersect(p.Facts.Upright().Rect())
	if part.Empty() {
		return File{}, access.Refuse(access.Missing, "There is no such tile.", "Look again.")
	}
	src, done, err := d.Source(p)
	if err != nil {
		return File{}, err
	}
	defer done()
	size := fit.Size{W: max(1, part.Dx()>>level), H: max(1, part.Dy()>>level)}
	m := src.Do(raster.Transform{From: part, Size: size, Turn: facts.Upright, Veils: p.Work.Recipe.Veils()})
	return onTheFly(m, "tile", StageKey(p), level, col, row)
}

// onTheFly is a picture for the screen that is not kept. of is what it depends on.
func onTheFly(m image.Image, of ...any) (File, error) {
	data, err := raster.EncodeForScreen(m)
	if err != nil {
		return File{}, err
	}
	kind, err := facts.MediaType(bytes.NewReader(data))
	return InMemory(data, kind, Fingerprint(8, of...)), err
}

type nopCloser struct{ io.ReadSeeker }

func (nopCloser) Close() error { return nil }

// veilLookSide is the longest side of what a veil in the hand will look like, in
// pixels.
const veilLookSide = 480

// VeilLook is the region of a veil that is not kept yet as the cut will show it,
// with part telling where it lies in the upright original. i is the veil that it
// stands for, counted from 0; -1 is a further one.
func (d *Desk) VeilLook(id uint, i int, v veil.Veil) (f File, part image.Rectangle, err error) {
	p, err := d.Mine(d.Store, id)
	if err != nil {
		return f, part, err
	}
	if err := v.Check(); err != nil {
		return f, part, access.Because(access.Bad, access.Sentence(err), "The picture is as it was before.", err)
	}
	src, done, err := d.WorkingCopy(p)
	if err != nil {
		return f, part, err
	}
	defer done()
	whole, small := p.Facts.Upright(), src.Upright()
	veils := p.Work.Recipe.Veils()
	if v.Style == veil.Colour {
		v.Fill = cmp.Or(v.Fill, d.Rules().Hiding.Colour)
	}
	v.Told = src.Told(v.Scaled(fit.ScaleOf(whole, small)), []byte(p.Secret)) // near to what the original will tell
	if i >= 0 && i < len(veils) {
		veils[i] = v
	} else {
		veils = append(veils, v)
	}
	down := fit.ScaleOf(whole, small)
	on := src.VeilReach(v.Scaled(down))
	if on.Empty() {
		return f, part, access.Refuse(access.Bad, "The veil lies outside the picture.", "Draw it on the picture.")
	}
	for i := range veils {
		veils[i] = veils[i].Scaled(down)
	}
	size := within(fit.SizeOf(on), veilLookSide)
	m := src.Do(raster.Transform{From: on, Size: size, Turn: facts.Upright, Veils: veils})
	f, err = onTheFly(m, "veil", StageKey(p), i, v)
	return f, fit.ScaleOf(small, whole).Rect(on), err
}

// Stage opens the working copy of a picture with its veils drawn by the same
// computation as in the cut, whole and not turned: what lies on the stage. but is
// a veil that is left out, counted from 0, as it is in the hand; -1 is none.
func (d *Desk) Stage(id uint, but int) (File, error) { return d.stage(id, but, true) }

// StageStill is Stage for who asks for less motion: nothing on it moves.
func (d *Desk) StageStill(id uint, but int) (File, error) { return d.stage(id, but, false) }

func (d *Desk) stage(id uint, but int, moves bool) (File, error) {
	p, err := d.Mine(d.Store, id)
	if err != nil {
		return File{}, err
	}
	veils := p.Work.Recipe.Veils()
	if but >= 0 && but < len(veils) {
		veils = append(veils[:but], veils[but+1:]...)
	}
	if moves && p.Facts.KeepsMotion() {
		return d.stageMotion(p, veils)
	}
	if len(veils) == 0 {
		return d.Preview(id)
	}
	src, done, err := d.WorkingCopy(p)
	if err != nil {
		return File{}, err
	}
	defer done()
	return onTheFly(veiled(p, src, veils), "stage", StageKey(p), but)
}

// veiled is a working copy with veils drawn on it.
func veiled(p store.Picture, src *raster.Source, veils []veil.Veil) image.Image {
	size := src.Upright()
	view := recipe.View{Frame: p.Facts.Upright().Rect(), Turn: facts.Upright, Veils: veils}.Scaled(p.Facts.Upright(), size)
	return src.Do(raster.TransformFor(view, fit.Cut{Source: size.Rect(), Size: size}))
}

// InMemory shows what lies in memory.
func InMemory(data []byte, mediaType, tag string) File {
	return File{nopCloser{bytes.NewReader(data)}, mediaType, tag}
}
