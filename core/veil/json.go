package veil

import (
	"encoding/json"
	"image"

	"mivlet/core/fit"
)

// point is a point as JSON has it. An older form had capitals, which are read, too.
type point struct {
	X int `json:"x"`
	Y int `json:"y"`
}

type plainVeil Veil

// form is a veil as JSON has it.
type form struct {
	plainVeil
	Bounds fit.Box `json:"bounds"`
	Points []point `json:"points,omitempty"`
}

// MarshalJSON writes the veil with its places as x, y, width and height.
func (v Veil) MarshalJSON() ([]byte, error) {
	f := form{plainVeil: plainVeil(v), Bounds: fit.BoxOf(v.Bounds)}
	for _, p := range v.Points {
		f.Points = append(f.Points, point(p))
	}
	return json.Marshal(f)
}

// UnmarshalJSON reads a veil, also as older documents have it.
func (v *Veil) UnmarshalJSON(data []byte) error {
	f := form{plainVeil: plainVeil(*v)}
	if err := json.Unmarshal(data, &f); err != nil {
		return err
	}
	*v = Veil(f.plainVeil)
	v.Bounds, v.Points = f.Bounds.Rect(), nil
	for _, p := range f.Points {
		v.Points = append(v.Points, image.Point(p))
	}
	return nil
}

// spotForm is a spot as JSON has it.
type spotForm struct {
	Frame  int     `json:"frame"`
	Bounds fit.Box `json:"bounds"`
}

// MarshalJSON writes the spot with its place as x, y, width and height.
func (s Keyframe) MarshalJSON() ([]byte, error) {
	return json.Marshal(spotForm{s.Frame, fit.BoxOf(s.Bounds)})
}

// UnmarshalJSON reads a spot, also as older documents have it.
func (s *Keyframe) UnmarshalJSON(data []byte) error {
	var f spotForm
	if err := json.Unmarshal(data, &f); err != nil {
		return err
	}
	*s = Keyframe{f.Frame, f.Bounds.Rect()}
	return nil
}
