// Package recipe holds the ordered edits that lead from an untouched original
// to what is shown. Coordinates are pixels of the upright original, so a
// recipe means the same whatever is made from it.
package recipe

import (
	"encoding/json"
	"fmt"
	"image"

	"mivlet/core/fit"
)

// Version is the version of the JSON form that this package writes.
const Version = 1

// Recipe is a list of edits. The zero value shows the original as it is.
type Recipe struct {
	Edits []Edit
}

// Op names an edit.
type Op string

// OpFrame crops to a rectangle; a later frame replaces an earlier one.
const OpFrame Op = "frame"

// Edit is one step of a recipe.
type Edit struct {
	Op     Op  `json:"op"`
	X      int `json:"x"`
	Y      int `json:"y"`
	Width  int `json:"width"`
	Height int `json:"height"`
}

func (e Edit) rect() image.Rectangle { return image.Rect(e.X, e.Y, e.X+e.Width, e.Y+e.Height) }

// Frame returns the part of a source of the given upright size that the recipe
// shows.
func (r Recipe) Frame(source fit.Size) image.Rectangle {
	frame := source.Rect()
	for _, e := range r.Edits {
		if e.Op == OpFrame {
			frame = e.rect().Intersect(source.Rect())
		}
	}
	return frame
}

// WithFrame returns the recipe with the frame set. A frame of the whole source
// is no edit. It fails where the frame leaves the source or has no pixels.
func (r Recipe) WithFrame(frame image.Rectangle, source fit.Size) (Recipe, error) {
	if frame.Empty() {
		return r, fmt.Errorf("a frame of %d × %d pixels holds nothing", frame.Dx(), frame.Dy())
	}
	if !frame.In(source.Rect()) {
		return r, fmt.Errorf("the frame from %d,%d to %d,%d leaves the picture of %d × %d pixels",
			frame.Min.X, frame.Min.Y, frame.Max.X, frame.Max.Y, source.W, source.H)
	}
	var kept []Edit
	for _, e := range r.Edits {
		if e.Op != OpFrame {
			kept = append(kept, e)
		}
	}
	if frame != source.Rect() {
		kept = append(kept, Edit{Op: OpFrame, X: frame.Min.X, Y: frame.Min.Y, Width: frame.Dx(), Height: frame.Dy()})
	}
	return Recipe{Edits: kept}, nil
}

// Describe says the edit in plain words, for the history.
func (e Edit) Describe() string {
	switch e.Op {
	case OpFrame:
		return fmt.Sprintf("Framed to %d × %d from %d, %d", e.Width, e.Height, e.X, e.Y)
	}
	return "Unknown edit"
}

type form struct {
	Version int    `json:"version"`
	Edits   []Edit `json:"edits"`
}

// MarshalJSON writes the versioned form.
func (r Recipe) MarshalJSON() ([]byte, error) {
	edits := r.Edits
	if edits == nil {
		edits = []Edit{}
	}
	return json.Marshal(form{Version, edits})
}

// UnmarshalJSON reads the versioned form. It refuses versions and edits it does
// not know rather than showing a picture with a step left out.
func (r *Recipe) UnmarshalJSON(data []byte) error {
	var f form
	if err := json.Unmarshal(data, &f); err != nil {
		return err
	}
	if f.Version != Version {
		return fmt.Errorf("recipe version %d is not known", f.Version)
	}
	for i, e := range f.Edits {
		if e.Op != OpFrame {
			return fmt.Errorf("edit %d: %q is not known", i+1, e.Op)
		}
		if e.Width <= 0 || e.Height <= 0 || e.X < 0 || e.Y < 0 {
			return fmt.Errorf("edit %d: a frame of %d × %d at %d,%d is none", i+1, e.Width, e.Height, e.X, e.Y)
		}
	}
	r.Edits = f.Edits
	return nil
}
