package page

import (
	"fmt"
	"image"

	"mivlet/core/fit"
	"mivlet/core/recipe"
	"mivlet/core/rules"
)

// Cover is the picture that stands for a page in lists, chosen for it. A page without one
// is stood for by its first large picture.
type Cover struct {
	Picture uint `json:"picture"`
	// Frame is the part of the upright original that is shown, in its pixels; nil is as the
	// picture is framed.
	Frame *fit.Box `json:"frame,omitempty"`
	// Focus is what survives every shape, as parts of the frame as it is seen, 0 to 1; nil is
	// the picture's own.
	Focus *fit.Focus `json:"focus,omitempty"`
}

// The shapes in which a cover is shown (common practice: a tile of 4:3, thumbnails of 150
// and 100).
var (
	Tile  = rules.Slot{ID: "cover-tile", Title: "Tile", Width: 400, Height: 300, Densities: rules.Screens, Budget: 160_000, Formats: []string{"jpeg", "png"}}
	Thumb = rules.Slot{ID: "cover-thumb", Title: "Thumbnail", Width: 150, Height: 150, Densities: rules.Screens, Budget: 40_000, Formats: []string{"jpeg", "png"}}
	Small = rules.Slot{ID: "cover-small", Title: "Small thumbnail", Width: 100, Height: 100, Densities: rules.Screens, Budget: 25_000, Formats: []string{"jpeg", "png"}}
)

// CoverSlots are the shapes in which a cover is shown, the largest first.
var CoverSlots = []rules.Slot{Tile, Thumb, Small}

// CoverBy tells why a picture stands for a page.
type CoverBy string

// Why a picture stands for a page, or that none does.
const (
	CoverOwn  CoverBy = "own"  // it was chosen
	CoverRule CoverBy = "rule" // it is the first large picture of the page
	NoCover   CoverBy = "none"
)

// Largeness tells how many pixels a picture has in its frame; 0 where it is not there.
type Largeness func(picture uint) fit.Size

// CoverFor returns the picture that stands for the page: its own; else the first on it
// that fills a tile on a plain screen; else none. It is never chosen at random.
func (d Doc) CoverFor(size Largeness) (picture uint, by CoverBy) {
	if d.Cover != nil && d.Cover.Picture != 0 {
		return d.Cover.Picture, CoverOwn
	}
	for _, at := range d.Placements() {
		if at.Waits() {
			continue
		}
		if s := size(at.Picture); s.W >= Tile.Width && s.H >= Tile.Height {
			return at.Picture, CoverRule
		}
	}
	return 0, NoCover
}

// Closest is how far a cover's frame can be drawn in: to a quarter of each side.
const Closest = 4.0

// Closer returns a frame that shows a part of a picture's own frame: seen is that frame as
// it is seen, at the origin; focus stays as near the middle as it allows; by is 1 for all
// of it, up to [Closest].
func Closer(seen image.Rectangle, focus fit.Focus, by float64) image.Rectangle {
	by = min(max(by, 1), Closest)
	w, h := max(1, int(float64(seen.Dx())/by)), max(1, int(float64(seen.Dy())/by))
	at := func(f float64, whole, part int) int {
		return min(max(int(f*float64(whole))-part/2, 0), whole-part)
	}
	x, y := at(focus.X, seen.Dx(), w), at(focus.Y, seen.Dy(), h)
	return image.Rect(x, y, x+w, y+h).Add(seen.Min)
}

// CutOff reports whether a shape that shows one part of a picture cuts a box off: more than
// a tenth of it is shown, and more than a tenth is not.
func CutOff(box, shown image.Rectangle) bool {
	all := box.Dx() * box.Dy()
	in := box.Intersect(shown)
	part := in.Dx() * in.Dy()
	return 10*part > all && 10*part < 9*all
}

// Over returns the recipe of a picture with the cover's own frame and focus in the place
// of the picture's: veils and turns stay. source is the size of the upright original.
func (c Cover) Over(r recipe.Recipe, source fit.Size) recipe.Recipe {
	if c.Frame != nil {
		if with, err := r.WithFrame(c.Frame.Rect().Intersect(source.Rect()), source); err == nil {
			r = with
		}
	}
	if c.Focus != nil {
		view := r.View(source)
		at := view.Part(image.Rectangle{Min: spot(*c.Focus, view.Seen()), Max: spot(*c.Focus, view.Seen()).Add(image.Pt(1, 1))}).Min
		if with, err := r.With(recipe.Edit{Op: recipe.OpFocus, FocusX: part(at.X, source.W), FocusY: part(at.Y, source.H)}, source); err == nil {
			r = with
		}
	}
	return r
}

// spot is the pixel that a focus points at.
func spot(f fit.Focus, in image.Rectangle) image.Point {
	return in.Min.Add(image.Pt(min(int(f.X*float64(in.Dx())), in.Dx()-1), min(int(f.Y*float64(in.Dy())), in.Dy()-1)))
}

func part(at, whole int) float64 { return min(max((float64(at)+0.5)/float64(whole), 0), 1) }

// check refuses a cover whose parts lie outside of what can be.
func (c Cover) check() error {
	switch {
	case c.Picture == 0:
		return fmt.Errorf("a cover names a picture, not 0")
	case c.Frame != nil && (c.Frame.X < 0 || c.Frame.Y < 0 || c.Frame.Width <= 0 || c.Frame.Height <= 0):
		return fmt.Errorf("the frame of the cover, %v, holds nothing", *c.Frame)
	case c.Focus != nil && !(c.Focus.X >= 0 && c.Focus.X <= 1 && c.Focus.Y >= 0 && c.Focus.Y <= 1):
		return fmt.Errorf("the focus of the cover lies from 0 to 1, not at %v, %v", c.Focus.X, c.Focus.Y)
	}
	return nil
}
