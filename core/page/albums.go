package page

import (
	"cmp"
	"fmt"
	"math"
	"slices"

	"mivlet/core/album"
	"mivlet/core/layout"
	"mivlet/core/rules"
)

// AlbumShow is what a page shows of an album. It refers to the album by its number; what the
// album holds is filled in whenever a page is looked at or goes live.
type AlbumShow struct {
	Album uint      `json:"album"`
	Look  AlbumLook `json:"look"`
	Shape string    `json:"shape,omitempty"` // of thumbnails in an even grid, such as 4:3; empty is square
	Most  int       `json:"most,omitempty"`  // thumbnails that are shown; 0 is all
	// What is known of the album while it is filled.
	Title    string `json:"title,omitempty"`
	Shuffled bool   `json:"shuffled,omitempty"`
}

// AlbumLook is how an album stands on a page.
type AlbumLook string

// The looks.
const (
	Grid   AlbumLook = "grid" // an even grid of one shape
	InRows AlbumLook = "rows" // rows of one height, uncropped, that fill the width
)

// AlbumLooks lists all looks in the order they are offered.
var AlbumLooks = []AlbumLook{Grid, InRows}

// AlbumShapes are the shapes of thumbnails in a grid.
var AlbumShapes = []string{"1:1", "4:3", "3:2", "3:4"}

func (a AlbumShow) check() error {
	switch {
	case a.Album == 0:
		return fmt.Errorf("an album block names an album, not 0")
	case !slices.Contains(AlbumLooks, a.Look):
		return fmt.Errorf("an album is shown as %v, not as %q", AlbumLooks, a.Look)
	case a.Shape != "" && !slices.Contains(AlbumShapes, a.Shape):
		return fmt.Errorf("thumbnails have one of the shapes %v, not %q", AlbumShapes, a.Shape)
	case a.Most < 0 || a.Most > album.Most:
		return fmt.Errorf("an album shows 0 to %d thumbnails, not %d: 0 is all", album.Most, a.Most)
	}
	return nil
}

// Albums returns the numbers of the albums on the page, in reading order, each once.
func (d Doc) Albums() []uint {
	var all []uint
	for _, b := range d.Blocks {
		if b.Album != nil && !slices.Contains(all, b.Album.Album) {
			all = append(all, b.Album.Album)
		}
	}
	return all
}

// Filled is the page with what its albums hold; of one that is not there, nothing.
func (d Doc) Filled(albums map[uint]album.Album) Doc {
	return d.eachAlbum(func(b Block) Block {
		a := albums[b.Album.Album]
		show := *b.Album
		show.Title, show.Shuffled = a.Title, a.Order == album.Shuffled
		b.Album, b.Pictures = &show, nil
		for _, e := range a.Entries {
			b.Pictures = append(b.Pictures, Placement{Picture: e.Picture, Slot: albumSlot, Side: None, Caption: PlainCaption(e.Caption)})
		}
		return b
	})
}

// Unfilled is the page as it is kept: it refers to albums by their numbers alone.
func (d Doc) Unfilled() Doc { return d.eachAlbum(Block.unfilled) }

func (b Block) unfilled() Block {
	if b.Album != nil {
		show := *b.Album
		show.Title, show.Shuffled = "", false
		b.Album, b.Pictures = &show, nil
	}
	return b
}

func (d Doc) eachAlbum(do func(Block) Block) Doc {
	if len(d.Albums()) == 0 {
		return d
	}
	d.Blocks = slices.Clone(d.Blocks)
	for i, b := range d.Blocks {
		if b.Album != nil {
			d.Blocks[i] = do(b)
		}
	}
	return d
}

// How thumbnails of an album stand, in CSS px (common practice: about 150 in a grid; rows of
// about 200, lower on a phone).
const (
	albumSlot = "album"
	AlbumGap  = 8 // between two thumbnails
	rowMost   = 260
)

// stillFormats are those of thumbnails: what moves, moves enlarged.
var stillFormats = []string{"jpeg", "png"}

// rowScales are how large files of thumbnails in rows are: rows have many heights, and what is
// loaded has at most 1.39 times the pixels across that a screen has for it.
var rowScales = []float64{0.53, 0.73, 1, 1.37, 1.9, 2.56}

var rowBest = layout.Lengths{Phone: 120, Tablet: 180, Desktop: 200}

// albumAcross is how many thumbnails of a grid stand beside each other in a width, in CSS px.
func albumAcross(width float64) (wide, narrow int) {
	return min(max(int(width/150), 2), mostAcross), narrowAcross
}

const mostAcross, narrowAcross = 8, 3

// EnlargedSlot is the slot of a picture that was opened over its page: as large as the house
// says, whole.
func EnlargedSlot(r rules.Rules) rules.Slot {
	return rules.Slot{ID: "enlarged", Title: "Enlarged", Width: r.Placing.Enlarged, Height: r.Placing.Enlarged, Inside: true, Densities: []float64{1}, Budget: 700_000}
}

// albumStand works out where a picture of an album stands.
func albumStand(r rules.Rules, band *BandLayout, b Block, n int) Stand {
	s := Stand{Block: b.ID, Kind: Album, Nth: n, Placement: b.Pictures[n], Known: true, Beyond: b.Album.Most > 0 && n >= b.Album.Most}
	s.Place = layout.Place{Section: r.Text()}
	if band != nil {
		s.Place.Section = band.Section(r)
		s.Place.Column = min(b.Column, len(s.Place.Section.Shares)-1)
	}
	switch {
	case s.Beyond:
		s.Slot = EnlargedSlot(r)
	case b.Album.Look == InRows:
		s.Slot = rules.Slot{ID: albumSlot, Title: "Album", Height: rowMost, Densities: rowScales, Budget: 120_000, Formats: stillFormats}
	default:
		wide, narrow := albumAcross(s.Place.Width(layout.Desktop.Viewport()))
		s.Place.Between = layout.Same(AlbumGap)
		phone := s.Place
		s.Place.Parts, phone.Parts = wide, narrow
		s.sizes = layout.SizesBelow(phone, s.Place)
		widest := max(s.Place.Width(layout.Widest), s.Place.Width(r.Page.Breaks.Tablet), phone.Width(r.Page.Breaks.Tablet-1))
		s.Slot = rules.Slot{ID: albumSlot, Title: "Album", Width: int(math.Ceil(widest)), Shape: cmp.Or(b.Album.Shape, AlbumShapes[0]), Densities: rules.Screens, Budget: 90_000, Formats: stillFormats}
		s.Slot = s.Slot.ForScreens(func(viewport int) float64 {
			if viewport < r.Page.Breaks.Tablet {
				return phone.Width(viewport)
			}
			return s.Place.Width(viewport)
		})
	}
	s.House = s.Slot
	return s
}

// Sizes is how wide the picture stands on every screen, for a browser's choice of files.
func (s Stand) Sizes() string { return cmp.Or(s.sizes, s.Place.Sizes()) }
