package audit

import (
	"fmt"
	"math"
	"slices"
	"strings"

	"mivlet/core/fit"
	"mivlet/core/layout"
	"mivlet/core/page"
	"mivlet/core/rules"
	"mivlet/core/words"
)

// The steps of a page's findings, beside those of its pictures.
const (
	Place Stretch = "place" // how a picture stands
	Write Stretch = "write" // the words of a block
	Cover Stretch = "cover" // what stands for the page elsewhere
	Tell  Stretch = "tell"  // the details of the page
	Back  Stretch = "back"  // the picture behind a band
)

// The findings of a page.
const (
	SampleText    Code = "sample-text"    // [the text]
	EmptyHeading  Code = "empty-heading"  // []
	SkippedLevel  Code = "skipped-level"  // [level before, level]
	NoSuchAddress Code = "no-address"     // [address]
	MovedLink     Code = "moved-link"     // [path, where it is now]
	BrokenLink    Code = "broken-link"    // [path]
	BareFile      Code = "bare-file"      // [address]
	EmptyPlace    Code = "empty-place"    // []
	SlotGone      Code = "slot-gone"      // [slot]
	SampleCaption Code = "sample-caption" // []
	TooWide       Code = "too-wide"       // [slot's title, its CSS px, CSS px that are shown]
	TooHeavy      Code = "too-heavy"      // [weight, weight that is allowed]
	NoCover       Code = "no-cover"       // []
	GoneCategory  Code = "gone-category"  // [code]
	ListOfNothing Code = "list-nothing"   // []
	ListSource    Code = "list-source"    // [what the house does not have]
	EmptyAlbum    Code = "empty-album"    // []
	GoneSpot      Code = "gone-spot"      // [its ID]
	LowContrast   Code = "low-contrast"   // [contrast of the text, contrast that it needs, where]
)

// OnPage is a finding at its place on a page.
type OnPage struct {
	Finding
	Block   string
	Nth     int  // which of the block's pictures, counted from 0
	Picture uint // 0 where it is about words, or a place that waits
	Mend    Mend // what would mend it at once; the zero value where nobody but an editor can
}

// Page is a page before it goes live.
type Page struct {
	Doc   page.Doc
	House rules.Rules
	// Works are the pictures of the page by their numbers, each with its usual words.
	Works map[uint]Picture
	// Weights are the bytes of the heaviest file of each stand that is cut already,
	// by block and number of the picture in it.
	Weights map[string]int64
	// Leads tells of a path of the site whether something is live there, or where it
	// has moved to.
	Leads func(path string) (there bool, moved string)
	// Known counts the live pages that are known by each key of lists; see [page.Doc.KnownBy].
	Known map[string]int
	// Listed tells that a live list shows the page, or would.
	Listed bool
	// StandsFor is the picture that stands for the page; 0 for none.
	StandsFor uint
	// Contrasts are the contrasts of text over the backgrounds of bands, by their IDs.
	Contrasts map[string][]Contrast
	// Top is the background at the top of the page that comes from the front page of its
	// group; nil for none.
	Top  *page.Background
	Site string // the site's own address, such as https://club.example
}

// Contrast is how well text can be read over a background on one kind of screen.
type Contrast struct {
	On    layout.Device
	Top   bool    // at the top of other pages, not in the band
	Ratio float64 // the least that is found behind the text, 1 to 21
	Need  float64 // see [contrast.ForText]
	// Percent of black, and of white, by which it is reached on all screens.
	Dark, Lit int
}

// Enough is the percent of shade of a tone by which the contrast is reached on all screens.
func (c Contrast) Enough(light bool) int {
	if light {
		return c.Lit
	}
	return c.Dark
}

// WeightOf names a stand in [Page.Weights].
func WeightOf(block string, nth int) string { return fmt.Sprintf("%s/%d", block, nth) }

// CheckPage returns what falls short on a page, in reading order.
func CheckPage(p Page) []OnPage {
	var fs []OnPage
	level := 1 // the title
	for i, b := range p.Doc.Blocks {
		for n := range b.Holds() {
			fs = append(fs, p.checkStand(i, n)...)
		}
		links, headings := b.Outline()
		fs = append(fs, p.checkWords(b, links)...)
		fs = append(fs, checkLevels(b, headings, &level)...)
		if b.Kind == page.List {
			fs = append(fs, p.checkList(b)...)
		}
		if b.Kind == page.Album && len(b.Pictures) == 0 {
			fs = append(fs, OnPage{Finding: finding(words.Stop, Write, EmptyAlbum), Block: b.ID, Mend: Mend{DropBlock, ""}})
		}
		if s, ok := p.House.Spot(b.Text); b.Kind == page.Spot && (!ok || s.Where != rules.AsBlock) {
			fs = append(fs, OnPage{Finding: finding(words.Warn, Write, GoneSpot, b.Text), Block: b.ID, Mend: Mend{DropBlock, ""}})
		}
		if b.Kind == page.Band {
			fs = append(fs, p.checkBackground(b)...)
		}
	}
	return append(fs, p.checkAround()...)
}

// checkAround looks at what is known of the page, and at what stands for it elsewhere.
func (p Page) checkAround() []OnPage {
	var fs []OnPage
	for _, code := range p.Doc.Details.Categories {
		if _, ok := p.House.Category(code); !ok {
			fs = append(fs, OnPage{Finding: finding(words.Warn, Tell, GoneCategory, code)})
		}
	}
	if address := p.Doc.Details.Address; address != "" {
		if f, _, wrong := p.checkLink(address, Tell); wrong {
			fs = append(fs, OnPage{Finding: f})
		}
	}
	if p.Listed && p.StandsFor == 0 {
		fs = append(fs, OnPage{Finding: finding(words.Warn, Cover, NoCover)})
	}
	chosen := p.Doc.StandFor()
	for i, c := range chosen {
		if p.stands(c.Picture) || i > 0 && c.Picture == chosen[0].Picture {
			continue // it is looked at already
		}
		fs = append(fs, p.checkUnder(c, page.Tile)...) // its title stands beside it: WCAG 2.2, technique H2
	}
	if p.Top != nil {
		fs = append(fs, p.checkUnder(p.Top.Cover, page.TopRoom(p.House, *p.Top).Slot(layout.Desktop))...)
	}
	return fs
}

// checkUnder looks at a picture that stands still and says nothing by itself, beside or
// below text.
func (p Page) checkUnder(c page.Cover, slot rules.Slot) []OnPage {
	w := p.Works[c.Picture]
	w.Slot = &slot
	w.Recipe = c.Over(w.Recipe, w.Facts.Upright())
	w.Said = words.Said{Decorative: true, Reason: "text stands beside it or over it"} // its own description is for where it is shown
	var fs []OnPage
	for _, f := range Check(w) {
		if f.Code != FirstFrameOnly && f.Code != StandsStill {
			fs = append(fs, OnPage{Finding: f, Picture: c.Picture})
		}
	}
	return fs
}

// checkBackground looks at the picture behind a band, and at the text over it.
func (p Page) checkBackground(b page.Block) []OnPage {
	back := b.Band.Background
	if back == nil {
		return nil
	}
	var fs []OnPage
	if !p.stands(back.Picture) {
		fs = p.checkUnder(back.Cover, page.BandRoom(p.House, b.Band).Slot(layout.Desktop))
		for i := range fs {
			fs[i].Block = b.ID
		}
	}
	var worst *Contrast
	for i, c := range p.Contrasts[b.ID] {
		if c.Ratio < c.Need && (worst == nil || c.Ratio < worst.Ratio) {
			worst = &p.Contrasts[b.ID][i]
		}
	}
	if worst == nil {
		return fs
	}
	where := "a " + worst.On.String()
	if worst.Top {
		where += ", at the top of other pages"
	}
	return append(fs, OnPage{Finding: finding(words.Warn, Back, LowContrast, fmt.Sprintf("%.1f", worst.Ratio), fmt.Sprintf("%.1f", worst.Need), where),
		Block: b.ID, Mend: Mend{SetShade, fmt.Sprint(worst.Enough(back.Light))}})
}

// stands reports whether a picture is placed on the page.
func (p Page) stands(picture uint) bool {
	return slices.ContainsFunc(p.Doc.Placements(), func(at page.Placement) bool { return at.Picture == picture })
}

// checkList looks for lists that show nothing.
func (p Page) checkList(b page.Block) []OnPage {
	l := *b.List
	told := func(level words.Level, code Code, values ...any) []OnPage {
		return []OnPage{{Finding: finding(level, Write, code, values...), Block: b.ID, Mend: Mend{DropBlock, ""}}}
	}
	switch l.Of {
	case page.OfSection:
		if _, ok := p.House.Section(l.Which); !ok {
			return told(words.Stop, ListSource, l.Which)
		}
	case page.OfCategory:
		if _, ok := p.House.Category(l.Which); !ok {
			return told(words.Stop, ListSource, l.Which)
		}
	case page.OfSections:
		return nil
	case page.OfHand:
		if len(l.Pages) == 0 {
			return told(words.Warn, ListOfNothing)
		}
		return nil
	}
	for _, key := range l.Keys(p.House) {
		if p.Known[key] > 0 {
			return nil
		}
	}
	return told(words.Warn, ListOfNothing)
}

// checkWords looks for words that were never written, and links that lead nowhere.
func (p Page) checkWords(b page.Block, links []string) []OnPage {
	var fs []OnPage
	told := func(m Mend, code Code, values ...any) {
		fs = append(fs, OnPage{Finding: finding(words.Warn, Write, code, values...), Block: b.ID, Mend: m})
	}
	if page.IsPrompt(b.Text) {
		told(Mend{DropBlock, ""}, SampleText, b.Text)
	}
	if b.Kind == page.Heading && strings.TrimSpace(b.Text) == "" {
		told(Mend{DropBlock, ""}, EmptyHeading)
	}
	for _, address := range links {
		if f, m, wrong := p.checkLink(address, Write); wrong {
			fs = append(fs, OnPage{Finding: f, Block: b.ID, Mend: m})
		}
	}
	return fs
}

// checkLevels stops levels of headings from being left out: who reads with their
// ears finds their way by them (WCAG 2.2, technique G141, memory).
func checkLevels(b page.Block, headings []int, level *int) []OnPage {
	var fs []OnPage
	for _, l := range headings {
		if l > *level+1 {
			m := Mend{}
			if b.Kind == page.Heading {
				m = Mend{SetLevel, fmt.Sprint(*level + 1)}
			}
			fs = append(fs, OnPage{Finding: finding(words.Warn, Write, SkippedLevel, *level, l), Block: b.ID, Mend: m})
		}
		*level = l
	}
	return fs
}

// pictureFile tells the endings of bare picture files.
var pictureFile = []string{".jpg", ".jpeg", ".png", ".gif", ".webp", ".avif", ".bmp", ".tif", ".tiff", ".heic", ".svg"}

// checkLink tells what is wrong with an address that stands in a stretch of the walk, and
// what would mend it.
func (p Page) checkLink(address string, at Stretch) (f Finding, m Mend, wrong bool) {
	off := Mend{DropLink, address}
	warn := func(m Mend, code Code, values ...any) (Finding, Mend, bool) {
		return finding(words.Warn, at, code, values...), m, true
	}
	kind, path := Address(address, p.Site)
	switch kind {
	case NoAddress:
		return warn(off, NoSuchAddress, address)
	case OnSite:
		there, moved := true, ""
		if p.Leads != nil {
			there, moved = p.Leads(path)
		}
		switch {
		case moved != "":
			return warn(Mend{Relink, address + " " + moved}, MovedLink, path, moved)
		case !there:
			return warn(off, BrokenLink, path)
		}
	}
	for _, ending := range pictureFile {
		if strings.HasSuffix(strings.ToLower(path), ending) {
			return warn(off, BareFile, address)
		}
	}
	return Finding{}, Mend{}, false
}

// checkStand looks at one picture as it stands on the page.
func (p Page) checkStand(i, n int) []OnPage {
	b := p.Doc.Blocks[i]
	s, _ := p.Doc.Stand(p.House, b.ID, n)
	var fs []OnPage
	told := func(f Finding, m Mend) {
		if b.Kind == page.Album {
			m = Mend{} // how it stands follows from the album
		}
		fs = append(fs, OnPage{Finding: f, Block: b.ID, Nth: n, Picture: s.Picture, Mend: m})
	}
	if s.Waits() && b.Kind == page.Album {
		return nil // its picture was taken out; the album says so
	}
	if s.Waits() {
		told(finding(words.Stop, Place, EmptyPlace), Mend{DropPlace, ""})
		return fs
	}
	if !s.Known {
		told(finding(words.Stop, Place, SlotGone, s.Placement.Slot), p.otherSlot(s))
		return fs
	}
	w := p.workAt(i, n, s)
	for _, f := range Check(w) {
		if s.Beyond && f.Step == Frame || b.Kind == page.Album && (f.Code == FirstFrameOnly || f.Code == StandsStill) {
			continue // enlarged it moves, and is never larger than it is
		}
		told(f, p.mendFor(f, s, w))
	}
	if page.IsPrompt(s.Caption) {
		told(finding(words.Warn, Place, SampleCaption), Mend{ClearCaption, ""})
	}
	// Room for a picture that fills its place is what the place gives; one of a given
	// width can be wider than that.
	if own := s.House.Width; s.Rule == nil && s.Kind == page.Picture && s.Slot.Stands() && s.Place.Rule.Fixed > 0 && own > s.Slot.Width {
		told(finding(words.Warn, Place, TooWide, s.House.Title, own, s.Slot.Width), Mend{SetWidth, fmt.Sprint(s.Slot.Width)})
	}
	if bytes := p.Weights[WeightOf(b.ID, n)]; s.Slot.Budget > 0 && bytes > s.Slot.Budget {
		smaller := int(float64(s.Slot.Width) * math.Sqrt(float64(s.Slot.Budget)/float64(bytes)) * 0.95)
		m := Mend{}
		if smaller >= 50 && s.Slot.Stands() {
			m = Mend{SetWidth, fmt.Sprint(smaller)}
		}
		told(finding(words.Warn, Place, TooHeavy, fit.Weight(bytes), fit.Weight(s.Slot.Budget)), m)
	}
	if s.Link.Leads(p.House) == rules.AddressLink {
		if f, m, wrong := p.checkLink(s.Link.Address, Place); wrong {
			told(f, m)
		}
	}
	return fs
}

// workAt is a picture as it stands there: for the slot as it is there, with its
// caption, the text beside it and the other pictures of the page.
func (p Page) workAt(i, n int, s page.Stand) Picture {
	w := p.Works[s.Picture]
	w.Slot = &s.Slot
	w.Said.Caption = page.CaptionText(s.Caption)
	if page.IsPrompt(s.Caption) {
		w.Said.Caption = ""
	}
	w.Said.Alt, w.Said.Decorative = p.altOf(s.Placement), w.Said.Decorative && s.Alt == ""
	if s.Decorative {
		w.Said.Decorative, w.Said.Reason = true, "said of this place"
	}
	w.Said.Beside, w.Said.Others = nil, nil
	b := p.Doc.Blocks[i]
	if b.Kind == page.Beside {
		w.Said.Beside = append(w.Said.Beside, b.Text)
	}
	for j, o := range p.Doc.Blocks {
		if o.Kind == page.Text && (j == i-1 || j == i+1) {
			w.Said.Beside = append(w.Said.Beside, o.Text)
		}
		for m, at := range o.Holds() {
			if (j != i || m != n) && !at.Waits() && at.Picture != s.Picture {
				w.Said.Others = append(w.Said.Others, p.altOf(at))
			}
		}
	}
	return w
}

// altOf is what a picture is described with where it stands.
func (p Page) altOf(at page.Placement) string {
	said := p.Works[at.Picture].Said
	return at.Said(said.Alt, said.Decorative)
}

// mendFor is what would mend a finding of a picture by how it stands.
func (p Page) mendFor(f Finding, s page.Stand, w Picture) Mend {
	switch {
	case f.Step == Frame && s.Slot.Stands() && s.Kind != page.Pair:
		cuts := w.Recipe.View(w.Facts.Upright()).Plan(s.Slot.Want(), s.Slot.Scales())
		wide := cuts[len(cuts)-1].Size.W
		if f.Level == words.Warn {
			wide /= 2 // crisp on sharp screens
		}
		if wide >= 50 {
			return Mend{SetWidth, fmt.Sprint(wide)}
		}
	case f.Step == Fit && w.Facts.Frames > 1 && w.Facts.KeepsMotion():
		for _, slot := range p.House.Slots {
			if slot.Stands() && slot.TakesMotion() && slot.Width <= int(s.Place.Section.Column(layout.Widest, s.Place.Column)) {
				return Mend{SetSlot, slot.ID}
			}
		}
	}
	return Mend{}
}

// otherSlot offers the slot that comes nearest to the room there is.
func (p Page) otherSlot(s page.Stand) Mend {
	room := s.Place.Section.Column(layout.Widest, s.Place.Column)
	best := Mend{}
	width := 0
	for _, slot := range p.House.Slots {
		if slot.Stands() && float64(slot.Width) <= room && slot.Width > width {
			width, best = slot.Width, Mend{SetSlot, slot.ID}
		}
	}
	return best
}
