package store

import (
	"crypto/rand"
	"crypto/sha256"
	"encoding/hex"
	"encoding/json"
	"time"
)

// Trace is one entry of the trail: who did what, when, in which section. Entries are
// chained: each carries a digest of what it says and one of the chain until there, so
// that one that was changed or taken out is noticed. The digest is salted and the salt
// goes when words are erased, so that they cannot be guessed from it.
type Trace struct {
	ID        uint
	At        time.Time
	Nanos     int // what At has beyond whole microseconds, where it was kept in a place that knows no finer
	PersonID  uint
	Person    string
	Section   string
	PictureID uint // what it is about; 0 where it is about no picture
	What      string
	Salt      string
	Digest    string
	Chain     string
	Erased    bool // its words were erased; the digest stays
}

// TableName is the table the trail is kept in.
func (Trace) TableName() string { return "trail" }

// Seal makes an entry the next of a chain that ended with before, with a salt of its own.
func (t *Trace) Seal(before string) {
	t.Salt = rand.Text()
	t.At = t.At.UTC().Truncate(time.Microsecond) // not every database knows finer moments
	t.Digest = t.Says()
	t.Chain = Link(before, t.Digest)
}

// Says is the digest of what the entry says now; it differs from Digest where the entry
// was changed.
func (t *Trace) Says() string {
	said, err := json.Marshal([]any{t.At.UTC().UnixNano() + int64(t.Nanos), t.PersonID, t.Person, t.Section, t.PictureID, t.What})
	if err != nil {
		panic(err) // numbers and words always have a JSON form
	}
	sum := sha256.Sum256(append([]byte(t.Salt), said...))
	return hex.EncodeToString(sum[:])
}

// Link is the end of a chain after an entry with a digest.
func Link(before, digest string) string {
	sum := sha256.Sum256([]byte(before + digest))
	return hex.EncodeToString(sum[:])
}

// TrailFilter narrows the trail; empty fields do not.
type TrailFilter struct {
	Person  string
	Section string
	Before  uint // only entries older than this one
	Most    int
}

// BackupText is how the trail tells of a backup.
const BackupText = "Wrote a backup"
