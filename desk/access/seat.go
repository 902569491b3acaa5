package access

import (
	"mivlet/core/rules"
)

// Who returns whose desk it is.
func (d *Seat) Who() Person { return d.Person }

// Rules returns the house rules that hold.
func (d *Seat) Rules() rules.Rules { return d.rules.Load().Rules }

// Held is the version of the rules that holds.
func (d *Seat) Held() Version { return *d.rules.Load() }

// SiteURL returns the address of the practice site.
func (d *Seat) SiteURL() string { return d.Site }

// Today is the day, as 2006-01-02.
func (d *Seat) Today() string { return d.Now().Format("2006-01-02") }
