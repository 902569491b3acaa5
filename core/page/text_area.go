package page

import (
	"image"
	"math"
	"slices"
	"strings"
	"unicode/utf8"

	"mivlet/core/layout"
	"mivlet/core/rules"
)

// TextAreas are the areas of a band in which text may stand over its background on a device,
// in CSS px from its upper left corner; nil where nothing is written there. Text stands at
// the foot of the band. How high it gets is reckoned from its length, with room for half as
// much again, as letters and settings of whoever reads differ; where something else than
// words stands in the band, an area is as high as all of it.
func (d Doc) TextAreas(r rules.Rules, id string, on layout.Device) []image.Rectangle {
	s, ok := d.spread(r, id)
	if !ok || s.Frame.Background == nil {
		return nil
	}
	room, band := BandRoom(r, s.Frame), s.Frame.Section(r)
	viewport, box := room.viewport(on), room.At(on)
	below := belowUsual
	if s.Frame.Below != nil {
		below = s.Frame.Below.On(on)
	}
	columns, title := 0.0, 0.0
	for i, blocks := range s.Columns {
		high := heightOf(blocks, band.Column(viewport, i))
		if band.Stacked(viewport) {
			columns += high
		} else {
			columns = max(columns, high)
		}
	}
	full := float64(box.W) - 2*band.ColumnLeft(viewport, 0)
	if d.titled(id) {
		title = lines(d.Title, titleSize*bold, full)*titleSize*1.2 + 16
	}
	area := func(left, width float64) image.Rectangle {
		top := max(0, box.H-below-int(1.5*(columns+title)))
		return image.Rect(int(left), top, int(math.Ceil(left+width)), box.H)
	}
	if title > 0 {
		return []image.Rectangle{area(band.ColumnLeft(viewport, 0), full)}
	}
	var all []image.Rectangle
	for i, blocks := range s.Columns {
		a := area(band.ColumnLeft(viewport, i), band.Column(viewport, i))
		if slices.ContainsFunc(blocks, Block.writes) && !slices.Contains(all, a) {
			all = append(all, a)
		}
	}
	return all
}

// The measures of text on the site, in CSS px: its letters, and how wide one is on the
// average as a part of its size.
const (
	textSize   = 18.0
	titleSize  = 33.6
	plain      = 0.5
	bold       = 0.62
	belowUsual = 24
)

// lines is how many lines some words take.
func lines(words string, letter, width float64) float64 {
	return max(1, math.Ceil(float64(utf8.RuneCountInString(words))*letter/max(1, width-letter)))
}

// heightOf reckons how high blocks get below each other in a column; without end where
// something else than words stands among them.
func heightOf(blocks []Block, width float64) float64 {
	high := 0.0
	for _, b := range blocks {
		switch b.Kind {
		case Heading:
			size := [3]float64{22.4, 18.4, 16}[b.HeadingLevel()-2]
			high += lines(b.Text, size*bold, width)*size*1.2 + 32
		case Text:
			for _, line := range strings.Split(b.Text, "\n") {
				if strings.TrimSpace(line) == "" {
					high += 16
					continue
				}
				high += lines(line, textSize*plain, width) * textSize * 1.6
			}
			high += 16
		default:
			return math.MaxInt32
		}
	}
	return high
}

// writes reports whether text stands in a block, over what lies behind it.
func (b Block) writes() bool {
	switch b.Kind {
	case Divider:
		return false
	case Picture, Pair, Strip:
		return slices.ContainsFunc(b.Holds(), func(p Placement) bool { return p.Caption != "" })
	}
	return true
}

// OnlyLarge reports whether nothing but large text stands in a band: the title, and headings
// of level 2, which the site writes bold and larger than 18.66 px.
func (d Doc) OnlyLarge(r rules.Rules, id string) bool {
	s, ok := d.spread(r, id)
	if !ok {
		return false
	}
	for _, blocks := range s.Columns {
		for _, b := range blocks {
			if b.writes() && b.HeadingLevel() != 2 {
				return false
			}
		}
	}
	return true
}
