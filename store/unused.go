package store

import "time"

// Unused is a picture that nothing uses: no page's draft, nothing that is live, no album and no banner.
type Unused struct {
	Picture
	Since  time.Time  // when it was first seen to be unused, or changed last
	ToldAt *time.Time // when it was told that it leaves; nil where it was not
}

// Census is what there is of pictures, in numbers.
type Census struct {
	Pictures  int
	Originals int64 // bytes of the files as they arrived
	Positions int   // pictures with a position inside the original
	InBin     int
	Seen      int // answers of people who are seen
	Refused   int // of them refusals
}
