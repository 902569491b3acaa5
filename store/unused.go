package store

import "time"

// Unused is a picture that nothing uses: no page's draft, nothing that is live, no album and no banner.
type Unused struct {
	Picture
	Since  time.Time  // when it was first seen to be unused, or changed last
	ToldAt *time.Time // when it was told that it leaves; nil where it was not
}
