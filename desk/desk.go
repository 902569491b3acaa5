// Package desk holds the use cases: what an editor can do, in whole
// transactions, and what is refused with its reason. The web and the command
// line ask the desk; the desk asks the core what is right and the store to
// keep it.
package desk

import (
	"net/http"
	"sync"
	"time"

	"golang.org/x/sync/singleflight"

	"mivlet/core/raster"
	"mivlet/core/rules"
	"mivlet/store"
)

// Desk is where the work is done. It is safe for concurrent use.
type Desk struct {
	store   *store.Store
	rules   rules.Rules
	now     func() time.Time
	sources *sources
	once    singleflight.Group
	naming  sync.Mutex // a name is checked and taken in one go
	quality sync.Map   // JPEG quality last found, by hash of the original
	visitor *http.Client
	site    string
}

// Options are what a desk needs besides its store.
type Options struct {
	Now     func() time.Time // the clock; time.Now where nil
	SiteURL string           // address of the practice site, such as http://127.0.0.1:8081
}

// New returns a desk on a store, with the house rules that hold.
func New(s *store.Store, o Options) (*Desk, error) {
	r, err := s.Rules()
	if err != nil {
		return nil, err
	}
	if o.Now == nil {
		o.Now = time.Now
	}
	return &Desk{store: s, rules: r, now: o.Now, site: o.SiteURL, sources: newSources(160 << 20),
		visitor: &http.Client{Timeout: 20 * time.Second}}, nil
}

// Rules returns the house rules that hold.
func (d *Desk) Rules() rules.Rules { return d.rules }

// SiteURL returns the address of the practice site.
func (d *Desk) SiteURL() string { return d.site }

func (d *Desk) limits() raster.Limits {
	return raster.Limits{Side: d.rules.Limits.Side, Pixels: d.rules.Limits.Pixels}
}

// Counts is what waits at each station.
type Counts struct {
	Arrivals int64 // pictures waiting
	Bench    int64 // pictures on the bench
	Pages    int   // pages that differ from what visitors see
	Live     int   // pages that visitors see
}

// Counts returns what waits at each station.
func (d *Desk) Counts() (Counts, error) {
	var c Counts
	var err error
	if c.Arrivals, err = d.store.Count(store.Arrivals); err != nil {
		return c, err
	}
	if c.Bench, err = d.store.Count(store.Bench); err != nil {
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
