package recipe

import (
	"encoding/json"
	"fmt"
	"slices"

	"mivlet/core/veil"
)

// The versions of the JSON form. A recipe with veils is written as the newest one. In the
// first one veils were averages of what they hid, which can be guessed back; in the second
// their places were written with Min and Max.
const (
	versionAveraged = 1
	versionCorners  = 2
	Version         = 3
)

type form struct {
	Version int    `json:"version"`
	Edits   []Edit `json:"edits"`
}

// MarshalJSON writes the versioned form. One without veils is as it always was, so that
// nothing that was made from it is taken for something else.
func (r Recipe) MarshalJSON() ([]byte, error) {
	f := form{versionAveraged, r.Edits}
	if f.Edits == nil {
		f.Edits = []Edit{}
	}
	if slices.ContainsFunc(r.Edits, func(e Edit) bool { return e.Op == OpVeil }) {
		f.Version = Version
	}
	return json.Marshal(f)
}

// UnmarshalJSON reads the versioned form; veils of the older version become those that
// stand for them now. It refuses versions and edits it does not know rather than showing
// a picture with a step left out.
func (r *Recipe) UnmarshalJSON(data []byte) error {
	var f form
	if err := json.Unmarshal(data, &f); err != nil {
		return err
	}
	switch f.Version {
	case versionAveraged:
		for i, e := range f.Edits {
			if e.Veil != nil {
				now := veil.Upgraded(*e.Veil, string(e.Veil.Style))
				f.Edits[i].Veil = &now
			}
		}
	case versionCorners, Version: // a veil reads both
	default:
		return fmt.Errorf("recipe version %d is not known: versions 1 to %d are", f.Version, Version)
	}
	for i, e := range f.Edits {
		if err := e.Check(); err != nil {
			return fmt.Errorf("edit %d: %w", i+1, err)
		}
	}
	r.Edits = f.Edits
	return nil
}
