package svg

import (
	"sync"

	"golang.org/x/image/font/gofont/gobold"
	"golang.org/x/image/font/gofont/gobolditalic"
	"golang.org/x/image/font/gofont/goitalic"
	"golang.org/x/image/font/gofont/gomono"
	"golang.org/x/image/font/gofont/goregular"
	"golang.org/x/image/font/sfnt"
)

// typefaces are what words in drawings are written in, whatever a drawing asks for: those of this
// machine look otherwise on another one. Go's typefaces have Latin, Greek and Cyrillic letters.
var typefaces = [][]byte{goregular.TTF, gobold.TTF, goitalic.TTF, gobolditalic.TTF, gomono.TTF}

var regular = sync.OnceValues(func() (*sfnt.Font, error) { return sfnt.Parse(goregular.TTF) })

// written reports whether there is a letter for a character.
func written(r rune) bool {
	f, err := regular()
	if err != nil {
		return false
	}
	var b sfnt.Buffer
	i, err := f.GlyphIndex(&b, r)
	return err == nil && i != 0
}
