package recipe

import (
	"encoding/json"
	"fmt"
)

// Version is the version of the JSON form that this package writes.
const Version = 1

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
		if err := e.Check(); err != nil {
			return fmt.Errorf("edit %d: %w", i+1, err)
		}
	}
	r.Edits = f.Edits
	return nil
}
