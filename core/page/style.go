package page

import (
	"bytes"
	"cmp"
	"fmt"
	"strings"

	"mivlet/core/layout"
	"mivlet/core/rules"
)

// PairGap is the room between the two pictures of a pair, in CSS px, on every
// screen.
const PairGap = 12

// Classes name the looks of a picture: its slot and side, and itself where it has
// measures of its own.
func (s Stand) Classes() string {
	c := fmt.Sprintf("picture slot-%s side-%s", s.Placement.Slot, s.Side)
	if s.own() {
		c += " " + s.class()
	}
	return c
}

// own reports whether the picture has measures of its own.
func (s Stand) own() bool { return s.Rule != nil || s.Air != nil || s.Line != nil || s.Shadow != nil }

// class is that of its own measures.
func (s Stand) class() string { return fmt.Sprintf("own-%s-%d", s.Block, s.Nth+1) }

// width is its own width in its column, or "".
func (s Stand) width() string {
	if s.Rule == nil || s.Kind == Pair || s.Kind == Strip {
		return ""
	}
	column := "100%"
	if s.Flow {
		column = "min(100%, var(--column))"
	}
	room := column
	if s.Air != nil && s.Air.Left+s.Air.Right > 0 {
		room = fmt.Sprintf("calc(%s - %dpx)", column, s.Air.Left+s.Air.Right)
	}
	w := room
	switch {
	case s.Rule.Fixed > 0:
		w = fmt.Sprintf("%dpx", s.Rule.Fixed)
	case s.Rule.Percent > 0:
		w = fmt.Sprintf("calc(%s * %v)", column, s.Rule.Percent/100)
	}
	if s.Rule.Cap > 0 {
		room = fmt.Sprintf("min(%s, %dpx)", room, s.Rule.Cap)
	}
	return fmt.Sprintf("width: %s; max-width: %s;", w, room)
}

// frame is its own line and shadow, for its image.
func (s Stand) frame() string {
	var css []string
	if s.Line != nil {
		css = append(css, line(s.Line.Width, s.Line.Colour))
	}
	if s.Shadow != nil {
		css = append(css, fmt.Sprintf("box-shadow: %dpx %dpx 0 %s;", s.Shadow.X, s.Shadow.Y, s.Shadow.Colour))
	}
	return strings.Join(css, " ")
}

func line(width int, colour string) string {
	if width <= 0 {
		return "border: 0;"
	}
	return fmt.Sprintf("border: %dpx solid %s;", width, colour)
}

// margins are its own air. In the flow, where there is more room than the text
// takes, they begin at the edges of the text.
func (s Stand) margins() string {
	if s.Kind == Pair || s.Kind == Strip {
		return ""
	}
	edge := func(px int) string { return fmt.Sprintf("%dpx", px) }
	if s.Flow {
		edge = func(px int) string { return fmt.Sprintf("calc(max(0px, (100%% - var(--column)) / 2) + %dpx)", px) }
	}
	a := s.Air
	switch {
	case a == nil && s.Flow && s.Side == None && s.Rule != nil:
		return "margin-left: max(0px, (100% - var(--column)) / 2);"
	case a == nil:
		return ""
	case s.Side == Centre:
		return fmt.Sprintf("margin: %dpx auto %dpx;", a.Top, a.Bottom)
	case s.Side == Left:
		return fmt.Sprintf("margin: %dpx %dpx %dpx %s;", a.Top, a.Right, a.Bottom, edge(a.Left))
	case s.Side == Right:
		return fmt.Sprintf("margin: %dpx %s %dpx %dpx;", a.Top, edge(a.Right), a.Bottom, a.Left)
	}
	return fmt.Sprintf("margin: %dpx auto %dpx %s;", a.Top, a.Bottom, edge(a.Left))
}

// DocCSS writes the measures that a page has of its own: those of its bands and
// pictures that are not as the house has them. It may be empty. views tells how the pictures
// behind bands are seen.
func DocCSS(r rules.Rules, d Doc, views Views) []byte {
	var b bytes.Buffer
	for _, s := range d.Spreads(r) {
		if s.Frame != nil {
			s.css(&b, r)
			if back := s.Frame.Background; back != nil {
				back.css(&b, ".content .own-"+s.ID, BandRoom(r, s.Frame), back.Height, views)
			}
		}
	}
	for _, s := range d.Stands(r) {
		if !s.own() {
			continue
		}
		if css := strings.TrimSpace(s.width() + " " + s.margins()); css != "" {
			fmt.Fprintf(&b, ".content .picture.%s { %s }\n", s.class(), css)
		}
		if s.Air != nil && s.Beside() {
			fmt.Fprintf(&b, "@media (max-width: %dpx) { .content .picture.%s { margin: %dpx auto %dpx; } }\n", r.Page.Breaks.Tablet-1, s.class(), s.Air.Top, s.Air.Bottom)
		}
		if css := s.frame(); css != "" {
			fmt.Fprintf(&b, ".content .%s img { %s }\n", s.class(), css)
		}
	}
	return b.Bytes()
}

// Classes name the looks of a band.
func (s Spread) Classes() string {
	c := "band pattern-" + cmp.Or(s.Frame.Pattern, "wide")
	if s.Frame.Ground != Paper {
		c += " ground-" + string(s.Frame.Ground)
	}
	if b := s.Frame.Background; b != nil {
		c += " " + b.classes()
	}
	return c + " own-" + s.ID
}

// css writes a band's own measures for each device.
func (s Spread) css(b *bytes.Buffer, r rules.Rules) {
	f, own := s.Frame, ".content .own-"+s.ID
	if f.Cap > 0 {
		fmt.Fprintf(b, "%s { max-width: %dpx; }\n", own, f.Cap)
	}
	for _, one := range []struct {
		device layout.Device
		below  int
	}{{layout.Desktop, 0}, {layout.Tablet, r.Page.Breaks.Desktop}, {layout.Phone, r.Page.Breaks.Tablet}} {
		var css strings.Builder
		for _, m := range []struct {
			name string
			l    *layout.Lengths
		}{{"band-padding", f.Padding}, {"band-gutter", f.Gutter}, {"above", f.Above}, {"below", f.Below}} {
			if m.l != nil {
				fmt.Fprintf(&css, " --%s: %dpx;", m.name, m.l.On(one.device))
			}
		}
		switch {
		case css.Len() == 0:
		case one.below == 0:
			fmt.Fprintf(b, "%s {%s }\n", own, css.String())
		default:
			fmt.Fprintf(b, "@media (max-width: %dpx) { %s {%s } }\n", one.below-1, own, css.String())
		}
	}
	if len(f.Order) == len(s.Columns) {
		for at, column := range f.Order {
			fmt.Fprintf(b, "@media (max-width: %dpx) { %s > .columns > :nth-child(%d) { order: %d; } }\n", r.Page.Breaks.Tablet-1, own, column+1, at+1)
		}
	}
}

// ---- styles of elements, for pages that live elsewhere ----

func flowStyle(r rules.Rules) string {
	return fmt.Sprintf("max-width:%dpx;margin:0 auto", r.TextWidth())
}

func (s Spread) style(r rules.Rules) string {
	l := s.Frame.Section(r)
	css := fmt.Sprintf("box-sizing:border-box;margin:0 auto;padding:0 %dpx", l.Padding.Desktop)
	if w := cmp.Or(s.Frame.Cap, l.Cap, l.PageCap); w > 0 {
		css = fmt.Sprintf("max-width:%dpx;", w) + css
	}
	if ground, ok := map[Ground]string{Mist: ";background:#eef3f2", Deep: ";background:#10343a;color:#f4f7f6"}[s.Frame.Ground]; ok {
		css += ground
	}
	if s.Frame.Background != nil {
		css += s.Frame.Background.style()
	}
	return css
}

func columnsStyle(s Spread, r rules.Rules) string {
	return fmt.Sprintf("display:flex;flex-wrap:wrap;gap:0 %dpx", s.Frame.Section(r).Gutter.Desktop)
}

// columnStyle lets a column wrap below the others where it would get too narrow.
func columnStyle(s Spread, i int, r rules.Rules) string {
	return fmt.Sprintf("flex:%v 1 %dpx;min-width:0", s.Frame.Section(r).Shares[i], layout.MinimumBeside)
}

func (s Stand) style(r rules.Rules) string {
	w := fmt.Sprintf("%dpx", s.Slot.Width)
	switch {
	case s.Kind == Strip:
		return "flex:none;margin:0"
	case s.Kind == Pair:
		return "flex:1 1 0;margin:0"
	case s.Rule != nil && s.Rule.Percent > 0:
		w = fmt.Sprintf("%v%%", s.Rule.Percent)
	}
	air := s.Air
	if air == nil {
		a := r.Placing.Air
		air = map[Side]*Edges{Left: {a, a, a, 0}, Right: {a, 0, a, a}}[s.Side]
	}
	css := "width:" + w + ";max-width:100%"
	switch {
	case s.Beside() && s.Kind == Picture:
		css += ";float:" + string(s.Side)
	case s.Kind == Picture && air == nil:
		css += fmt.Sprintf(";margin:%dpx auto", r.Placing.Air)
	}
	if air != nil {
		css += fmt.Sprintf(";margin:%dpx %dpx %dpx %dpx", air.Top, air.Right, air.Bottom, air.Left)
	}
	return css
}

func (s Stand) imageStyle(r rules.Rules) string {
	l := Border{r.Placing.Line, r.Placing.LineColour}
	if s.Line != nil {
		l = *s.Line
	}
	css := "display:block;width:100%;height:auto;box-sizing:border-box;"
	if s.Kind == Strip {
		css = fmt.Sprintf("display:block;height:%dpx;width:auto;", s.Slot.Height)
	}
	css += line(l.Width, l.Colour)
	if s.Shadow != nil {
		css += fmt.Sprintf("box-shadow:%dpx %dpx 0 %s;", s.Shadow.X, s.Shadow.Y, s.Shadow.Colour)
	}
	return css
}
