package page

import (
	"cmp"
	"fmt"
	"math"
	"slices"

	"mivlet/core/contrast"
	"mivlet/core/fit"
	"mivlet/core/layout"
	"mivlet/core/recipe"
	"mivlet/core/rules"
)

// Background is a picture behind a band. It says nothing by itself: what stands over it
// does.
type Background struct {
	Cover
	// Height is how high the band is at least on each device, in CSS px; 0 is as high as
	// what stands in it.
	Height layout.Lengths `json:"height"`
	// What is laid over the picture, so that the text can be read: so many percent of black,
	// or of white where Light is set.
	Shade int  `json:"shade,omitempty"`
	Light bool `json:"light,omitempty"`
	// Header puts the title of the page over the picture, where its band is the first.
	Header bool `json:"header,omitempty"`
	// Elsewhere is how high it is at the top of the other pages of the group whose front page
	// this is; nil where it is not shown there.
	Elsewhere *layout.Lengths `json:"elsewhere,omitempty"`
	// Below puts the way to the sections below the picture there, and not over it.
	Below bool `json:"below,omitempty"`
}

// UsualHeight is how high a band with a picture is at first, in CSS px (common practice: it
// leaves the beginning of the text in view).
var UsualHeight = layout.Lengths{Phone: 260, Tablet: 320, Desktop: 400}

// UsualElsewhere is how high it is at first at the top of other pages.
var UsualElsewhere = layout.Lengths{Phone: 120, Tablet: 150, Desktop: 180}

// The heights that a band with a picture can have, in CSS px.
const (
	LeastHeight = 60
	MostHeight  = 900
)

// Laid is what is laid over the picture.
func (b Background) Laid() contrast.Shade { return contrast.Shade{Light: b.Light, Percent: b.Shade} }

// check refuses measures that no background can have.
func (b Background) check() error {
	if err := b.Cover.check(); err != nil {
		return err
	}
	if b.Shade < 0 || b.Shade > 100 {
		return fmt.Errorf("the shade over a background is 0 to 100 percent, not %d", b.Shade)
	}
	for _, l := range []*layout.Lengths{&b.Height, b.Elsewhere} {
		if l == nil {
			continue
		}
		for _, d := range layout.Devices {
			if h := l.On(d); h != 0 && (h < LeastHeight || h > MostHeight) {
				return fmt.Errorf("a background is %d to %d px high on a %s, or 0, not %d", LeastHeight, MostHeight, d, h)
			}
		}
	}
	return nil
}

// Broadest is the viewport for which the largest file of a background is made, and Finest
// the most pixels across that one has (common practice: more is not seen behind text).
const (
	Broadest = layout.Wide
	Finest   = 2560
)

// Room is the box that a background fills: in a band, or across the whole window.
type Room struct {
	Breaks layout.Breaks
	Width  func(viewport int) int // in CSS px
	Height layout.Lengths
}

// BandRoom is the room of a band's background.
func BandRoom(r rules.Rules, f *BandLayout) Room {
	return Room{r.Page.Breaks, f.Section(r).Outer, f.Background.heights(f.Background.Height)}
}

// TopRoom is the room of a background at the top of other pages, across the window.
func TopRoom(r rules.Rules, b Background) Room {
	return Room{r.Page.Breaks, func(viewport int) int { return viewport }, b.heights(*b.Elsewhere)}
}

// heights are the heights for which files are made: where a band is as high as its text,
// the usual ones.
func (Background) heights(l layout.Lengths) layout.Lengths {
	return layout.Lengths{Phone: cmp.Or(l.Phone, UsualHeight.Phone), Tablet: cmp.Or(l.Tablet, UsualHeight.Tablet), Desktop: cmp.Or(l.Desktop, UsualHeight.Desktop)}
}

// widest is the widest viewport of a device that files are made for.
func (r Room) widest(d layout.Device) int {
	return [3]int{r.Breaks.Tablet - 1, r.Breaks.Desktop - 1, max(Broadest, r.Breaks.Desktop)}[d]
}

// At is the box on a usual screen of a device, in CSS px.
func (r Room) At(d layout.Device) fit.Size {
	return fit.Size{W: r.Width(r.viewport(d)), H: r.Height.On(d)}
}

func (r Room) viewport(d layout.Device) int {
	least := [3]int{1, r.Breaks.Tablet, r.Breaks.Desktop}[d]
	return min(max(d.Viewport(), least), r.widest(d))
}

// Slot is what the files of a background on a device are made for: its box, in all widths
// that a browser may want there.
func (r Room) Slot(d layout.Device) rules.Slot {
	box, widest := r.At(d), r.Width(r.widest(d))
	s := rules.Slot{ID: "background-" + d.String(), Title: "Background, " + d.String(), Width: box.W, Height: box.H, Budget: 400_000, Formats: []string{"jpeg", "png"}}
	for _, w := range []int{box.W, widest, 2 * box.W, 2 * widest} {
		if density := float64(min(w, Finest)) / float64(box.W); density >= 1 {
			s.Densities = append(s.Densities, density)
		}
	}
	slices.Sort(s.Densities)
	s.Densities = slices.Compact(s.Densities)
	return s
}

// Slots are the slots on all devices, the phone first.
func (r Room) Slots() []rules.Slot {
	var all []rules.Slot
	for _, d := range layout.Devices {
		all = append(all, r.Slot(d))
	}
	return all
}

// Media is the condition of a stylesheet under which the files of a device are meant; ""
// for the desktop, which all others come before.
func (r Room) Media(d layout.Device) string {
	if d == layout.Desktop {
		return ""
	}
	return fmt.Sprintf("(max-width: %dpx)", r.widest(d))
}

// Sizes is how wide the box is, as a browser is told it.
func (r Room) Sizes() string {
	if w := r.Width(layout.Widest); w < layout.Widest {
		return fmt.Sprintf("min(100vw, %dpx)", w)
	}
	return "100vw"
}

// Spot is where the focal point of a picture lies in the file of a device, in percent from
// the left and from the top. A browser that shows less of the file keeps that spot in view.
func (r Room) Spot(v recipe.View, d layout.Device) (x, y int) {
	seen, box := v.Seen(), r.At(d)
	shown := fit.BoxFrame(seen, box, v.Focus)
	part := func(f float64, whole, from, length int) int {
		return int(math.Round(100 * min(max((f*float64(whole)-float64(from))/float64(length), 0), 1)))
	}
	return part(v.Focus.X, seen.Dx(), shown.Min.X, shown.Dx()), part(v.Focus.Y, seen.Dy(), shown.Min.Y, shown.Dy())
}

// spread is a band with what stands in it.
func (d Doc) spread(r rules.Rules, id string) (Spread, bool) {
	for _, s := range d.Spreads(r) {
		if s.ID == id && s.Frame != nil {
			return s, true
		}
	}
	return Spread{}, false
}

// titled reports whether the title of the page stands in a band.
func (d Doc) titled(id string) bool { return d.Header() != nil && d.Blocks[0].ID == id }

// Header is the background of the page's first band, where the title stands over it.
func (d Doc) Header() *Background {
	if b := d.FirstBackground(); b != nil && b.Header {
		return b
	}
	return nil
}

// FirstBackground is the background of the page's first band, where nothing stands before
// it; nil for none.
func (d Doc) FirstBackground() *Background {
	if len(d.Blocks) == 0 || d.Blocks[0].Band == nil {
		return nil
	}
	return d.Blocks[0].Band.Background
}

// Backed reports whether a picture stands behind a band of the page.
func (d Doc) Backed() bool { return len(d.behind()) > 0 }

// plain is the block without a background, where that is a picture.
func (b Block) plain(picture uint) Block {
	if b.Band != nil && b.Band.Background != nil && b.Band.Background.Picture == picture {
		bare := *b.Band
		bare.Background = nil
		b.Band = &bare
	}
	return b
}
