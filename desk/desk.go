// Package desk holds the use cases: what an editor can do, in whole
// transactions, and what is refused with its reason. The web and the command
// line ask the desk; the desk asks the core what is right and the store to
// keep it.
package desk

import (
	"io/fs"
	"net/http"
	"sync"
	"sync/atomic"
	"time"

	"golang.org/x/sync/singleflight"

	"mivlet/core/raster"
	"mivlet/core/rules"
	"mivlet/store"
)

// Desk is where one person does the work; [Desk.As] gives another person's. It
// is safe for concurrent use.
type Desk struct {
	*house
	who Person
}

// house is what all desks share.
type house struct {
	store    *store.Store
	rules    atomic.Pointer[version]
	now      func() time.Time
	sources  *sources
	once     singleflight.Group
	naming   sync.Mutex // a name is checked and taken in one go
	quality  sync.Map   // JPEG quality last found, by hash of the original
	lines    sync.Map   // lines of text that were found, by hash of the original
	moving   sync.Map   // what was made of an animation for the screen, by what it depends on
	plain    plainCut   // the pixels of the cut that was compared last
	rooms    rooms
	visitor  *http.Client
	site     string
	demo     bool
	slowdown slowdown
	jobs     jobs
	measured atomic.Pointer[measured]
	decoding chan struct{} // a place for each file that is decoded as it arrives
	card     card
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
}

// New returns a desk on a store, with the house rules that hold. It is the
// house's own desk, which may do everything.
func New(s *store.Store, o Options) (*Desk, error) {
	if o.Now == nil {
		o.Now = time.Now
	}
	h := &house{store: s, now: o.Now, site: o.SiteURL, demo: o.Demo, sources: newSources(160 << 20), decoding: make(chan struct{}, 2), card: card{files: o.Card}, visitor: &http.Client{Timeout: 20 * time.Second}}
	r, number, err := s.Rules()
	if err != nil {
		return nil, err
	}
	h.rules.Store(&version{r, number})
	return &Desk{h, theHouse}, nil
}

// As returns the desk of another person.
func (d *Desk) As(p Person) *Desk { return &Desk{d.house, p} }

// Who returns whose desk it is.
func (d *Desk) Who() Person { return d.who }

// Rules returns the house rules that hold.
func (d *Desk) Rules() rules.Rules { return d.rules.Load().Rules }

// SiteURL returns the address of the practice site.
func (d *Desk) SiteURL() string { return d.site }

func (d *Desk) limits() raster.Limits {
	l := d.Rules().Limits
	return raster.Limits{Side: l.Side, Pixels: l.Pixels, Bytes: l.Bytes}
}

// Counts is what waits at each station.
type Counts struct {
	Arrivals int64 // pictures waiting
	Bench    int64 // pictures on the bench
	Pages    int   // pages that differ from what visitors see
	Live     int   // pages that visitors see
	Shelves  int64 // pictures on all shelves
}

// Counts returns what waits at each station.
func (d *Desk) Counts() (Counts, error) {
	var c Counts
	if err := d.mayLook(); err != nil {
		return c, err
	}
	var err error
	if c.Arrivals, err = d.store.CountOf(store.Arrivals, d.ownSections()); err != nil {
		return c, err
	}
	if c.Bench, err = d.store.CountOf(store.Bench, d.ownSections()); err != nil {
		return c, err
	}
	if c.Shelves, err = d.store.OnShelf(); err != nil {
		return c, err
	}
	pages, err := d.Pages()
	for _, p := range pages {
		if p.Live() {
			c.Live++
		}
		if p.Differs {
			c.Pages++
		}
	}
	return c, err
}
