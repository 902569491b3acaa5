// Package banner decides which dated notice, a banner, shows in a spot of the site, and tells
// in conditions why one does not. It knows no clock: whoever asks says which day it is, as a
// day of the house's own time zone ([rules.Rules.Day]), written as 2006-01-02. A banner that
// ends on a day is there until midnight of that day.
package banner

import (
	"encoding/json"
	"fmt"
	"strings"
	"time"

	"mivlet/core/audit"
)

// Version is the version of the JSON form that this package reads and writes.
const Version = 1

// Doc is what an editor says of a banner.
type Doc struct {
	Version int    `json:"version"`
	Title   string `json:"title"`         // to find it again; visitors do not see it
	For     string `json:"for,omitempty"` // for whom it runs: a partner, a section
	Spot    string `json:"spot"`          // ID of a spot of the house
	// Own means that it shows where no other banner runs; it needs no occasion.
	Own      bool `json:"own,omitempty"`
	Occasion uint `json:"occasion,omitempty"` // number of the period in which it may run; 0 for none
	Picture  uint `json:"picture,omitempty"`  // 0 for none yet

	Alt     string `json:"alt,omitempty"`     // names where it leads (WCAG 2.2, F89)
	Address string `json:"address,omitempty"` // where it leads
	New     bool   `json:"new,omitempty"`     // it opens a window of its own

	From  string `json:"from,omitempty"` // first day; empty is since ever
	Until string `json:"until,omitempty"`

	// The pages that it is for; each that is empty asks for nothing.
	Sections []string `json:"sections,omitempty"` // one of these
	Tags     []string `json:"tags,omitempty"`     // at least one of these, in lower case
	Words    []string `json:"words,omitempty"`    // all of these in the title of the page

	Place int `json:"place,omitempty"` // in a fixed order: a lower one comes first
	Share int `json:"share,omitempty"` // 1 to 100, of all shares of the spot; 0 is 1
}

// Occasion is a named period in which banners may run, both days included.
type Occasion struct {
	ID          uint
	Title       string
	From, Until string
}

// Banner is one with all that decides whether it shows.
type Banner struct {
	ID uint
	Doc
	Approved bool // by a publisher, as it is given here
	Stopped  bool
	Fit      bool      // its files are made, and nobody on its picture said no
	In       *Occasion // nil where there is none
}

// Most of what a banner says, in characters and in number.
const (
	mostText    = 300
	mostList    = 20
	mostShare   = 100
	mostAddress = 2000
)

// Parse reads the JSON form and refuses what it does not know.
func Parse(data []byte) (Doc, error) {
	var d Doc
	if err := json.Unmarshal(data, &d); err != nil {
		return d, err
	}
	if d.Version != Version {
		return d, fmt.Errorf("banner version %d is not known: version %d is", d.Version, Version)
	}
	return d, d.Check()
}

// Check refuses what cannot be. What is missing yet is no fault.
func (d Doc) Check() error {
	for name, day := range map[string]string{"first day": d.From, "last day": d.Until} {
		if day != "" && !IsDay(day) {
			return fmt.Errorf("the %s is written like 2026-05-14, not %q", name, day)
		}
	}
	if d.From != "" && d.Until != "" && d.From > d.Until {
		return fmt.Errorf("the last day (%s) comes before the first (%s)", d.Until, d.From)
	}
	for _, text := range []string{d.Title, d.For, d.Alt} {
		if len([]rune(text)) > mostText {
			return fmt.Errorf("a text has up to %d characters, not %d", mostText, len([]rune(text)))
		}
	}
	if d.Share < 0 || d.Share > mostShare {
		return fmt.Errorf("a share is 1 to %d, not %d", mostShare, d.Share)
	}
	if max(len(d.Sections), len(d.Tags), len(d.Words)) > mostList {
		return fmt.Errorf("up to %d sections, tags or words are chosen", mostList)
	}
	return checkAddress(d.Address)
}

// checkAddress lets through what a browser opens as a page or a letter, and nothing that acts.
// A banner leads on from an address of its own, so that a place on a page, or a telephone, is
// none for it.
func checkAddress(address string) error {
	kind, _ := audit.Address(address, "")
	leads := kind == audit.OnSite || kind == audit.Elsewhere && !strings.EqualFold(address[:min(4, len(address))], "tel:")
	if address == "" || leads && address == strings.TrimSpace(address) && len(address) <= mostAddress {
		return nil
	}
	return fmt.Errorf("%q is no address: write it like https://www.example.org or /touring", address)
}

// IsDay reports whether a text is a day as it is written here.
func IsDay(text string) bool {
	_, err := time.Parse(time.DateOnly, text)
	return err == nil
}

// Check refuses an occasion that is no period.
func (o Occasion) Check() error {
	switch {
	case strings.TrimSpace(o.Title) == "":
		return fmt.Errorf("an occasion needs a name")
	case !IsDay(o.From) || !IsDay(o.Until):
		return fmt.Errorf("an occasion has a first and a last day, written like 2026-05-14, not %q and %q", o.From, o.Until)
	case o.From > o.Until:
		return fmt.Errorf("the last day (%s) comes before the first (%s)", o.Until, o.From)
	}
	return nil
}

// Span returns the days on which a banner may run: its own, within its occasion. An empty day
// is open. It reports false where there is none.
func (b Banner) Span() (from, until string, ok bool) {
	from, until = b.From, b.Until
	switch {
	case b.Own:
	case b.In == nil:
		return "", "", false
	default:
		from = max(from, b.In.From)
		if until == "" || b.In.Until < until {
			until = b.In.Until
		}
	}
	return from, until, until == "" || from <= until
}

// RunsOn reports whether a banner may run on a day, as far as days go.
func (b Banner) RunsOn(day string) bool {
	from, until, ok := b.Span()
	return ok && from <= day && (until == "" || day <= until)
}
