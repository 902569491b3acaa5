package page

import (
	"mivlet/core/layout"
	"mivlet/core/rules"
)

// Side is where a picture stands in its column.
type Side string

// The sides. With None the picture stands in the flow as it comes.
const (
	None   Side = "none"
	Left   Side = "left"
	Centre Side = "centre"
	Right  Side = "right"
)

// Sides lists all sides in the order they are offered.
var Sides = []Side{None, Left, Centre, Right}

// Placement is one picture on one page.
type Placement struct {
	Picture uint   `json:"picture"` // the picture's number; 0 while its place waits for one
	Slot    string `json:"slot"`
	Side    Side   `json:"side"`
	Caption string `json:"caption,omitempty"`
	// Alt is the description where this page needs another than the usual one.
	Alt        string `json:"alt,omitempty"`
	Decorative bool   `json:"decorative,omitempty"` // here it deliberately says nothing

	Rule   *layout.Rule `json:"rule,omitempty"`   // how wide it is in its column; nil is as its slot says
	Air    *Edges       `json:"air,omitempty"`    // around it; nil is as the house has it
	Line   *Border      `json:"line,omitempty"`   // around it; nil is as the house has it
	Shadow *Shadow      `json:"shadow,omitempty"` // nil is none
	Link   Link         `json:"link,omitzero"`
}

// Edges is a length for each edge, in CSS px.
type Edges struct {
	Top    int `json:"top"`
	Right  int `json:"right"`
	Bottom int `json:"bottom"`
	Left   int `json:"left"`
}

// Border is a line around a picture.
type Border struct {
	Width  int    `json:"width"`  // CSS px; 0 is none
	Colour string `json:"colour"` // such as #444444
}

// Shadow is a block of colour behind a picture, set off by some CSS px to the
// right and down; negative is to the left and up.
type Shadow struct {
	X      int    `json:"x"`
	Y      int    `json:"y"`
	Colour string `json:"colour"`
}

// Link is where a picture leads. The zero value is what the house says.
type Link struct {
	Kind    rules.Link `json:"kind,omitempty"`
	Address string     `json:"address,omitempty"` // with AddressLink
	New     bool       `json:"new,omitempty"`     // opens a window of its own
}

// Leads returns where the picture leads by the rules of the house.
func (l Link) Leads(r rules.Rules) rules.Link {
	if l.Kind == "" {
		return r.Placing.Link
	}
	return l.Kind
}

// Beside reports whether text is meant to flow beside the picture.
func (p Placement) Beside() bool { return p.Side == Left || p.Side == Right }

// Said returns what the picture is described with here: what this page says, else the
// usual words; nothing where it is decorative, here or usually.
func (p Placement) Said(usual string, decorative bool) string {
	switch {
	case p.Decorative || p.Alt == "" && decorative:
		return ""
	case p.Alt != "":
		return p.Alt
	}
	return usual
}

// Waits reports whether the place has no picture yet.
func (p Placement) Waits() bool { return p.Picture == 0 }
