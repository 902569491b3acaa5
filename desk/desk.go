// Package desk holds the use cases: what an editor can do, in whole
// transactions, and what is refused with its reason. The web and the command
// line ask the desk; the desk asks the core what is right and the store to
// keep it.
package desk

import (
	"cmp"
	"context"
	"crypto/rand"
	"io/fs"
	"net/http"
	"sync"
	"sync/atomic"
	"time"

	"golang.org/x/sync/semaphore"
	"golang.org/x/sync/singleflight"

	"mivlet/core/rules"
	"mivlet/store"
)

// Desk is where one person does the work; [Desk.As] gives another person's. It
// is safe for concurrent use.
type Desk struct {
	*house
	who     Person
	ctx     context.Context // of whoever waits for the work; see In
	settled *bool           // what is kept of every page was worked out in this request; nil where there is none
}

// house is what all desks share.
type house struct {
	store     *store.Store
	rules     atomic.Pointer[version]
	now       func() time.Time
	sources   *sources
	once      singleflight.Group
	naming    sync.Mutex // a name is checked and taken in one go
	budget    *decodingBudget
	grace     time.Duration
	releases  keyed               // one at a time publishes a page
	quality   *recent[int]        // JPEG quality last found, by hash of the original
	lines     *recent[[]TextLine] // lines of text that were found, by hash of the original
	plain     plainCut            // the pixels of the cut that was compared last
	rooms     rooms
	visitor   *http.Client
	site      string
	demo      bool
	passwords *passwords
	firstCode string
	jobs      jobs
	measured  atomic.Pointer[measured]
	arriving  *semaphore.Weighted // a place for each file that is decoded as it arrives
	card      card
}

// version is a version of the house rules.
type version struct {
	rules.Rules
	number uint
}

// Options are what a desk needs besides its store.
type Options struct {
	Now     func() time.Time // the clock; time.Now where nil
	SiteURL string           // address of the practice site, such as http://127.0.0.1:8081
	Demo    bool             // people of the demo sign in with one click
	Card    fs.FS            // what lies on the camera card; nil where there is none
	// Decoding is the most memory that pictures take while they are decoded, all
	// together, in bytes; 1 GiB where 0.
	Decoding int64
	// Grace is how long a file is kept that no record names; a day where 0.
	Grace time.Duration
}

// New returns a desk on a store, with the house rules that hold. It is the
// house's own desk, which may do everything.
func New(s *store.Store, o Options) (*Desk, error) {
	if o.Now == nil {
		o.Now = time.Now
	}
	h := &house{passwords: newPasswords(), firstCode: rand.Text()[:8], grace: cmp.Or(o.Grace, graceForFiles), budget: newDecodingBudget(o.Decoding), quality: newRecent[int](4096), lines: newRecent[[]TextLine](512), store: s, now: o.Now, site: o.SiteURL, demo: o.Demo, sources: newSources(160 << 20), arriving: semaphore.NewWeighted(2), card: card{files: o.Card}, visitor: &http.Client{Timeout: 20 * time.Second}}
	r, number, err := s.Rules()
	if err != nil {
		return nil, err
	}
	h.rules.Store(&version{r, number})
	return &Desk{h, theHouse, context.Background(), nil}, nil
}

// As returns the desk of another person.
func (d *Desk) As(p Person) *Desk { return &Desk{d.house, p, d.ctx, nil} }

// Who returns whose desk it is.
func (d *Desk) Who() Person { return d.who }

// Rules returns the house rules that hold.
func (d *Desk) Rules() rules.Rules { return d.rules.Load().Rules }

// SiteURL returns the address of the practice site.
func (d *Desk) SiteURL() string { return d.site }

// Counts returns what waits at each station: arrivals and the bench of the sections
// that whoever is at the desk works for, the rest of the house.
func (d *Desk) Counts() (store.Counts, error) {
	if err := d.mayLook(); err != nil {
		return store.Counts{}, err
	}
	if err := d.settle(false); err != nil {
		return store.Counts{}, err
	}
	return d.store.Counts(d.ownSections())
}
