// Package destinations is the room from which live pages are sent to other places: folders that
// another web server serves, and object storage. What is sent is what visitors of the built-in site get, under file
// names that any server understands; only what changed goes out, pictures before the pages that
// show them. What somebody else changed there is noticed before it is overwritten.
package destinations

import (
	"context"
	"io"
	"path/filepath"
	"sync"
	"time"

	"mivlet/desk/access"
	"mivlet/desk/jobs"
	"mivlet/desk/mirror"
	"mivlet/desk/visit"
	"mivlet/store"
)

// Place is a destination that is open for sending. Paths are separated by slashes. Its methods are
// not called at the same time.
type Place interface {
	// Put writes a file, whole or not at all, and returns what changes with it.
	Put(ctx context.Context, path string, data io.Reader) (stamp string, err error)
	// Stamp returns what changes with a file. It fails with [io/fs.ErrNotExist] where there is none.
	Stamp(ctx context.Context, path string) (string, error)
	// Open opens a file for reading.
	Open(ctx context.Context, path string) (io.ReadCloser, error)
	// Remove takes a file away, and the folders above it that are empty then. One that is not there
	// is no error.
	Remove(ctx context.Context, path string) error
	Close() error
}

// Lister is a place that tells the stamps of all its files more quickly than one by one.
type Lister interface {
	// Stamps returns what [Place.Stamp] does, by path.
	Stamps(ctx context.Context) (map[string]string, error)
}

// OpenPlace opens a destination. It fails with an [UnknownHostError] where nobody has said yet that
// the server which answers is the one that is meant.
type OpenPlace func(ctx context.Context, d store.Destination, s Secret) (Place, error)

// The kinds of destinations.
const (
	InFolder   = "folder" // of this machine
	OverSSH    = "sftp"   // a folder of another machine
	OverWebDAV = "webdav" // a folder of a web server
	InBucket   = "s3"     // of object storage
)

// Secret is what a server is signed in to with: one of them.
type Secret struct {
	Password string `json:"password,omitempty"`
	Key      string `json:"key,omitempty"` // private, as OpenSSH writes it
}

// UnknownHostError is that a server shows a key which nobody has said to be its own.
type UnknownHostError struct{ Key, Fingerprint string }

func (e *UnknownHostError) Error() string {
	return "nobody has confirmed yet that the key " + e.Fingerprint + " is the server's own"
}

// Rooms are what the room uses.
type Rooms struct {
	Jobs    *jobs.Desk
	Mirror  *mirror.Desk
	Visitor visit.Visitor        // looks at what was sent; where nil, nobody does
	Open    map[string]OpenPlace // by kind; without one, nothing of that kind can be added
	Sealer  access.Keys
	Data    string // folder of this house's own data, which no destination may touch
}

// Desk is where destinations are kept and sent to.
type Desk struct {
	*access.Seat
	*shared
	jobs   *jobs.Desk
	mirror *mirror.Desk
}

// shared is what the desks of all people share.
type shared struct {
	visitor visit.Visitor
	open    map[string]OpenPlace
	sealer  access.Keys
	data    string

	mu    sync.Mutex
	lanes map[uint]*lane
}

// lane is where one destination is sent to, by one at a time.
type lane struct {
	sync.Mutex
	memory mirror.Memory
	mu     sync.Mutex
	now    *Progress
	wait   time.Duration // before it is tried again by itself
	next   time.Time
}

// Progress is how far sending has come.
type Progress struct{ Done, All int }

// New returns the desk of the house itself.
func New(s *access.Seat, r Rooms) *Desk {
	data := r.Data
	if whole, err := filepath.Abs(data); data != "" && err == nil {
		data = whole
	}
	return &Desk{s, &shared{visitor: r.Visitor, open: r.Open, sealer: r.Sealer, data: data, lanes: map[uint]*lane{}}, r.Jobs, r.Mirror}
}

// At returns the same desk for another seat.
func (d *Desk) At(s *access.Seat) *Desk {
	return &Desk{s, d.shared, d.jobs.At(s), d.mirror.At(s)}
}

// lane returns that of a destination.
func (s *shared) lane(id uint) *lane {
	s.mu.Lock()
	defer s.mu.Unlock()
	l := s.lanes[id]
	if l == nil {
		l = &lane{}
		s.lanes[id] = l
	}
	return l
}

// underWay is how far sending is at this moment, for each destination that something is being sent to.
func (s *shared) underWay() map[uint]*Progress {
	s.mu.Lock()
	defer s.mu.Unlock()
	all := map[uint]*Progress{}
	for id, l := range s.lanes {
		if p := l.Progress(); p != nil {
			all[id] = p
		}
	}
	return all
}

func (l *lane) progress(p *Progress) {
	l.mu.Lock()
	defer l.mu.Unlock()
	l.now = p
}

// Progress returns how far it is; nil where nothing is being sent.
func (l *lane) Progress() *Progress {
	l.mu.Lock()
	defer l.mu.Unlock()
	if l.now == nil {
		return nil
	}
	p := *l.now
	return &p
}
