package page

import (
	"bytes"
	"fmt"
	"strings"

	"mivlet/core/layout"
	"mivlet/core/rules"
)

// CSS writes the measures of the house as a stylesheet: how wide sections,
// columns and slots are on each device. It says the same as core/layout.
func CSS(r rules.Rules) []byte {
	var b bytes.Buffer
	p := r.Page
	fmt.Fprintf(&b, ":root { --column: %dpx; --wide: %dpx; --padding: %dpx; --gutter: %dpx; --inner: %dpx; --air: %dpx; }\n",
		r.TextWidth(), r.PageWidth(), p.Padding.Desktop, p.Gutter.Desktop, p.ColumnPadding.Desktop, r.Placing.Air)
	for _, one := range []struct {
		below  int
		device layout.Device
	}{{p.Breaks.Desktop, layout.Tablet}, {p.Breaks.Tablet, layout.Phone}} {
		fmt.Fprintf(&b, "@media (max-width: %dpx) { :root { --padding: %dpx; --gutter: %dpx; --inner: %dpx; } }\n", one.below-1,
			p.Padding.On(one.device), p.Gutter.On(one.device), p.ColumnPadding.On(one.device))
	}
	fmt.Fprintf(&b, ".band { box-sizing: border-box; max-width: %dpx; margin-inline: auto; padding-inline: var(--band-padding, var(--padding)); }\n", p.Cap)
	b.WriteString(".columns { display: grid; column-gap: var(--band-gutter, var(--gutter)); }\n.columns > * { min-width: 0; box-sizing: border-box; padding-inline: var(--inner); }\n")
	for _, t := range p.Patterns {
		patternCSS(&b, t, p.Cap)
	}
	fmt.Fprintf(&b, "@media (max-width: %dpx) { .band > .columns { grid-template-columns: minmax(0, 1fr); } }\n", p.Breaks.Tablet-1)
	for _, t := range p.Patterns {
		for at, column := range t.Order {
			fmt.Fprintf(&b, "@media (max-width: %dpx) { .pattern-%s > .columns > :nth-child(%d) { order: %d; } }\n", p.Breaks.Tablet-1, t.ID, column+1, at+1)
		}
	}
	for _, s := range r.Slots {
		if s.Stands() {
			slotCSS(&b, r, s)
		}
		if s.Kind() == rules.ByHeight {
			fmt.Fprintf(&b, ".content .strip .slot-%s img { height: %dpx; }\n", s.ID, s.Height)
		}
	}
	textCSS(&b, r)
	b.WriteString(motionCSS)
	if len(r.Spots) > 0 {
		b.WriteString(".spot { container-type: inline-size; margin-inline: auto; }\n.spot:empty { display: none; }\n.spot iframe { display: block; border: 0; max-width: 100%; height: auto; margin: 1rem auto; }\n")
	}
	for _, s := range r.Spots {
		spotCSS(&b, r, s)
	}
	fmt.Fprintf(&b, ".content .picture img { %s }\n.content .pair { column-gap: %dpx; }\n", line(r.Placing.Line, r.Placing.LineColour), PairGap)
	for n := 1; n <= 3; n++ {
		fmt.Fprintf(&b, ".content .list-tiles.across-%d { --across: %[1]d; }\n", n)
	}
	for n := 1; n <= mostAcross; n++ {
		fmt.Fprintf(&b, ".content .album-across-%d { --across: %[1]d; }\n", n)
	}
	fmt.Fprintf(&b, "@media (max-width: %dpx) { .content .album-grid { --across: %d; } }\n", p.Breaks.Tablet-1, narrowAcross)
	fmt.Fprintf(&b, "@media (max-width: %dpx) { .content .list-tiles.narrow-1 { --across: 1; } .content .list-tiles.narrow-2 { --across: 2; } }\n", p.Breaks.Tablet-1)
	fmt.Fprintf(&b, "@media (max-width: %dpx) { .content .picture.side-left, .content .picture.side-right, .content .flow > .picture.side-left, .content .flow > .picture.side-right { float: none; margin: 1.5rem auto; } .content .beside-words { flex-basis: 100%%; } }\n", p.Breaks.Tablet-1)
	return b.Bytes()
}

func patternCSS(b *bytes.Buffer, t rules.Pattern, page int) {
	if t.Cap > 0 && t.Cap < page {
		fmt.Fprintf(b, ".pattern-%s { max-width: %dpx; }\n", t.ID, t.Cap)
	}
	shares := make([]string, len(t.Shares))
	for i, s := range t.Shares {
		shares[i] = fmt.Sprintf("minmax(0, %vfr)", s)
	}
	fmt.Fprintf(b, ".pattern-%s > .columns { grid-template-columns: %s; }\n", t.ID, strings.Join(shares, " "))
}

// slotCSS holds a picture to its slot. In a column of its own pattern it
// follows the column; elsewhere it has the width that the slot has on a desktop.
func slotCSS(b *bytes.Buffer, r rules.Rules, s rules.Slot) {
	fmt.Fprintf(b, ".slot-%s { width: %dpx; max-width: 100%%; }\n", s.ID, s.Width)
	if s.Width < r.TextWidth() {
		fmt.Fprintf(b, ".content .flow > .slot-%s.side-none { margin-left: max(0px, (100%% - var(--column)) / 2); }\n", s.ID)
	}
	if s.Kind() != rules.ByColumn {
		return
	}
	width := "100%"
	switch {
	case s.Rule.Fixed > 0:
		width = fmt.Sprintf("%dpx", s.Rule.Fixed)
	case s.Rule.Percent > 0:
		width = fmt.Sprintf("%v%%", s.Rule.Percent)
	}
	most := "100%"
	if s.Rule.Cap > 0 {
		most = fmt.Sprintf("min(100%%, %dpx)", s.Rule.Cap)
	}
	fmt.Fprintf(b, ".pattern-%s > .columns .slot-%s { width: %s; max-width: %s; }\n", s.Pattern, s.ID, width, most)
}
