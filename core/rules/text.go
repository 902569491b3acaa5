package rules

import (
	"cmp"

	"mivlet/core/layout"
)

// The styles that a paragraph can have beside the usual one.
const (
	Lead  = "lead"  // an opening text, larger than the others
	Small = "small" // conditions, sources
	Note  = "note"  // something aside, marked by a line
)

// TextStyles are their names.
var TextStyles = []string{Lead, Small, Note}

// TextSizes are how large the letters of each style are, in CSS px on each device; 0 is the
// usual size.
type TextSizes struct {
	Lead  layout.Lengths `json:"lead,omitzero"`
	Small layout.Lengths `json:"small,omitzero"`
	Note  layout.Lengths `json:"note,omitzero"`
}

// UsualTextSizes are those of a house that has said nothing of them.
var UsualTextSizes = TextSizes{Lead: layout.Lengths{Phone: 19, Tablet: 21, Desktop: 22}, Small: layout.Same(14), Note: layout.Same(16)}

func (t TextSizes) of(style string) layout.Lengths {
	return map[string]layout.Lengths{Lead: t.Lead, Small: t.Small, Note: t.Note}[style]
}

// Of returns the sizes of a style.
func (t TextSizes) Of(style string) layout.Lengths {
	own, usual := t.of(style), UsualTextSizes.of(style)
	return layout.Lengths{Phone: cmp.Or(own.Phone, usual.Phone), Tablet: cmp.Or(own.Tablet, usual.Tablet), Desktop: cmp.Or(own.Desktop, usual.Desktop)}
}

// Letters below the smallest are hard to read for many, those above the largest are those of
// headings (common practice).
const (
	smallestText = 12
	largestText  = 40
)

func (c *checker) textSizes(t TextSizes) {
	for _, style := range TextStyles {
		for _, d := range layout.Devices {
			v := t.of(style).On(d)
			c.must(v == 0 || v >= smallestText && v <= largestText, "/text_sizes/"+style+"/"+d.String(), "letters are %d to %d px high, not %d", smallestText, largestText, v)
		}
	}
}
