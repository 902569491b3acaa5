package rules

import (
	"fmt"
	"slices"
	"strings"
	"sync"
	"time"
	_ "time/tzdata" // the zones of the world, where a machine has none

	"mivlet/core/fit"
)

// Spot is a sized place on the site for dated notices, which are called banners.
type Spot struct {
	ID    string `json:"id"`
	Title string `json:"title"`

	Width  int `json:"width"` // CSS px, exactly
	Height int `json:"height"`
	// The size where the page is too narrow for the other; 0 for the same, made smaller.
	PhoneWidth  int `json:"phone_width,omitempty"`
	PhoneHeight int `json:"phone_height,omitempty"`

	Where Where `json:"where"`
	// On are the pages that it stands on: see [OnFront] and [OnEvery], or codes of sections.
	// What is placed by hand, as a block, stands where it was placed.
	On []string `json:"on,omitempty"`

	Turn  Turn  `json:"turn"`
	Empty Empty `json:"empty"`
}

// Where is where a spot stands on a page.
type Where string

// The places.
const (
	Above   Where = "above"  // the content
	Below   Where = "below"  // the content
	Beside  Where = "beside" // the content, where the window is wide enough; else below it
	AsBlock Where = "block"  // of one page, where somebody puts it
)

// What a spot can be on besides sections.
const (
	OnFront = "front" // the front page of the house
	OnEvery = "every" // page
)

// Turn is how several banners share a spot.
type Turn string

// The ways to share.
const (
	ByTurns Turn = "turns" // one after the other
	InOrder Turn = "order" // the first that may run has it to itself
	ByShare Turn = "share" // each as often as its share says
)

// Empty is what shows where no banner runs.
type Empty string

// What can show.
const (
	ShowNothing Empty = "nothing" // and leaves no hole
	ShowOwn     Empty = "own"     // a banner of the house's own
)

// SpotSize is a usual size of banners.
type SpotSize struct {
	Title         string
	Width, Height int
}

// SpotSizes are the fixed sizes that are offered, in CSS px (IAB, fixed size ad
// specifications: medium rectangle, leaderboard, wide skyscraper, half page, mobile
// leaderboard, billboard).
var SpotSizes = []SpotSize{
	{"a rectangle", 300, 250}, {"a wide strip", 728, 90}, {"a tall strip", 160, 600}, {"a tall board", 300, 600}, {"a strip for phones", 320, 50}, {"a wide board", 970, 250},
}

// Spot returns the spot with an ID.
func (r Rules) Spot(id string) (Spot, bool) {
	return find(r.Spots, func(s Spot) bool { return s.ID == id })
}

// spotSlot begins the IDs of the slots of spots.
const spotSlot = "spot-"

// spotBudget is the most that a banner may weigh, in bytes (common practice: what the page
// itself did not ask for comes in 150 kB).
const spotBudget = 150_000

// Slot is the slot that pictures for the spot are cut for.
func (s Spot) Slot() Slot {
	return Slot{ID: spotSlot + s.ID, Title: s.Title, Purpose: "a banner", Width: s.Width, Height: s.Height, Densities: Screens, Budget: spotBudget}
}

// Phone is the size that phones show.
func (s Spot) Phone() fit.Size {
	if s.PhoneWidth > 0 {
		return fit.Size{W: s.PhoneWidth, H: s.PhoneHeight}
	}
	return fit.Size{W: s.Width, H: s.Height}
}

// PhoneSlot is the slot for phones; false where they show the same.
func (s Spot) PhoneSlot() (Slot, bool) {
	p := s.Slot()
	p.ID += "-phone"
	p.Width, p.Height = s.PhoneWidth, s.PhoneHeight
	return p, s.PhoneWidth > 0 && s.PhoneWidth != s.Width
}

// Slots are all slots of the spot, the one for desktops first.
func (s Spot) Slots() []Slot {
	all := []Slot{s.Slot()}
	if p, ok := s.PhoneSlot(); ok {
		all = append(all, p)
	}
	return all
}

// slotOfSpot is the slot of a spot with an ID.
func (r Rules) slotOfSpot(id string) (Slot, bool) {
	spot, ok := strings.CutPrefix(id, spotSlot)
	if !ok {
		return Slot{}, false
	}
	for _, s := range r.Spots {
		for _, slot := range s.Slots() {
			if slot.ID == spotSlot+spot {
				return slot, true
			}
		}
	}
	return Slot{}, false
}

// SlotsWith are the slots of the house, and the one with an ID where it is that of a spot.
func (r Rules) SlotsWith(id string) []Slot {
	if s, ok := r.slotOfSpot(id); ok {
		return append(slices.Clone(r.Slots), s)
	}
	return r.Slots
}

// StandsOn reports whether the spot stands on the pages of a section by itself; the front page
// of the house has no section, and is a front.
func (s Spot) StandsOn(section string, front bool) bool {
	if s.Where == AsBlock {
		return false
	}
	return slices.ContainsFunc(s.On, func(on string) bool {
		return on == OnEvery || on == OnFront && front && section == "" || section != "" && on == section
	})
}

// Zone is the time zone that days of the house are days of; UTC where the rules name none.
// Its names are those of the IANA time zone database.
func (r Rules) Zone() *time.Location {
	if known, ok := zones.Load(r.TimeZone); ok {
		return known.(*time.Location)
	}
	zone, err := time.LoadLocation(r.TimeZone)
	if err != nil {
		return time.UTC
	}
	zones.Store(r.TimeZone, zone)
	return zone
}

// zones are the time zones that were read, by their names: days are asked for all the time.
var zones sync.Map

// Day is the day of the house that a moment belongs to, such as 2026-05-14.
func (r Rules) Day(at time.Time) string { return at.In(r.Zone()).Format(time.DateOnly) }

// spots have exact sizes, and stand on something.
func (c *checker) spots(r Rules) {
	_, err := time.LoadLocation(r.TimeZone)
	c.must(err == nil && r.TimeZone != "Local", "/time_zone", "%q is no time zone: write it like Europe/London", r.TimeZone)
	seen := map[string]bool{}
	for _, s := range r.Spots {
		at := "/spots/" + s.ID
		c.identity(at, s.ID, s.Title, seen)
		c.must(!strings.HasSuffix(s.ID, "-phone"), at, "%q ends like the sizes for phones: choose another ending", s.ID)
		for _, side := range []struct {
			name string
			px   int
		}{{"width", s.Width}, {"height", s.Height}} {
			c.must(side.px >= 20 && side.px <= 2000, at+"/"+side.name, "20 to 2,000 px, not %d", side.px)
		}
		c.must((s.PhoneWidth == 0) == (s.PhoneHeight == 0), at+"/phone_height", "a size for phones has a width and a height, or neither")
		c.must(s.PhoneWidth == 0 || s.PhoneWidth >= 20 && s.PhoneWidth <= s.Width, at+"/phone_width", "20 to %d px, no wider than the spot, not %d", s.Width, s.PhoneWidth)
		c.must(s.PhoneHeight == 0 || s.PhoneHeight >= 20 && s.PhoneHeight <= 2000, at+"/phone_height", "20 to 2,000 px, not %d", s.PhoneHeight)
		c.must(slices.Contains(r.Wheres(), s.Where), at+"/where", "above, below, beside or block, not %q", s.Where)
		c.must(slices.Contains(r.Turns(), s.Turn), at+"/turn", "turns, order or share, not %q", s.Turn)
		c.must(slices.Contains(r.Empties(), s.Empty), at+"/empty", "nothing or own, not %q", s.Empty)
		for _, on := range s.On {
			_, section := r.Section(on)
			c.must(on == OnFront || on == OnEvery || section, at+"/on", "front, every, or the code of a section, not %q", on)
		}
	}
	for _, s := range r.Sections {
		c.must(s.Code != SpotsFolder && s.Folder != SpotsFolder, "/sections/"+s.Code, "%q is where banners lie on the site", SpotsFolder)
	}
	for _, one := range r.Categories {
		c.must(one.Code != SpotsFolder, "/categories/"+one.Code, "%q is where banners lie on the site", SpotsFolder)
	}
}

// SpotsFolder is the folder of the site that banners lie in.
const SpotsFolder = "spots"

// addSpot adds a spot below the content of every page, in the first of the usual sizes.
func addSpot(key, title string) Spot {
	size := SpotSizes[0]
	return Spot{ID: key, Title: title, Width: size.Width, Height: size.Height, Where: Below, On: []string{OnEvery}, Turn: ByTurns, Empty: ShowNothing}
}

// Size writes the size of the spot, such as 728 × 90.
func (s Spot) Size() string { return fmt.Sprintf("%d × %d", s.Width, s.Height) }
