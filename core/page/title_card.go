package page

import (
	"fmt"
	"image/color"
	"slices"
)

// TitleCard is a picture of the page's title, shown where its link is shared.
type TitleCard struct {
	Ground Ground `json:"ground,omitempty"`
	Behind *Cover `json:"behind,omitempty"` // a picture, darkened, in the place of the ground
}

// Colours are those of the ground and of the text on it, as the site has them.
func (g Ground) Colours() (ground, text color.RGBA) {
	switch g {
	case Mist:
		return color.RGBA{0xee, 0xf3, 0xf2, 0xff}, color.RGBA{0x20, 0x26, 0x2b, 0xff}
	case Deep:
		return color.RGBA{0x10, 0x34, 0x3a, 0xff}, color.RGBA{0xf4, 0xf7, 0xf6, 0xff}
	}
	return color.RGBA{0xff, 0xff, 0xff, 0xff}, color.RGBA{0x20, 0x26, 0x2b, 0xff}
}

func (c TitleCard) check() error {
	if !slices.Contains(Grounds, c.Ground) {
		return fmt.Errorf("the ground %q of the title card is not known: it is one of %q", c.Ground, Grounds)
	}
	if c.Behind != nil {
		return c.Behind.check()
	}
	return nil
}
