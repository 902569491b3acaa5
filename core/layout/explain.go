package layout

import (
	"fmt"
	"math"
	"strings"
)

// Explain tells the arithmetic of a place at a viewport in one line, such as
// “1100 − 2·0 − 1·0 = 1100; ÷ 2 = 550; − 2·30 = 490 → 980 px at 2x”.
func (p Place) Explain(viewport int, density float64) string {
	s := p.Section
	d := s.Breaks.Device(viewport)
	outer := s.Outer(viewport)
	n := len(s.Shares)
	var b strings.Builder
	if s.Stacked(viewport) || n == 1 {
		fmt.Fprintf(&b, "%d − 2·%d = %d", outer, s.Padding.On(d), s.Content(viewport))
	} else {
		room := s.Content(viewport) - (n-1)*s.Gutter.On(d)
		fmt.Fprintf(&b, "%d − 2·%d − %d·%d = %d; %s = %s", outer, s.Padding.On(d), n-1, s.Gutter.On(d), room,
			s.shareInWords(p.Column), figure(float64(room)*s.share(p.Column)))
	}
	if c := s.ColumnPadding.On(d); c > 0 || n > 1 {
		fmt.Fprintf(&b, "; − 2·%d = %s", c, figure(s.Column(viewport, p.Column)))
	}
	column, width := s.Column(viewport, p.Column), p.Width(viewport)
	switch {
	case p.Rule.Percent > 0:
		fmt.Fprintf(&b, "; %s %% of it = %s", number(p.Rule.Percent), figure(width))
	case width < column:
		fmt.Fprintf(&b, "; held to %s", figure(width))
	}
	fmt.Fprintf(&b, " → %d px at %sx", int(math.Round(width*density)), number(density))
	return b.String()
}

// shareInWords tells the share of a column: “÷ 3” or “× 2/3”.
func (s Band) shareInWords(column int) string {
	total, own := s.allShares(), s.Shares[column]
	if own != 0 && math.Abs(total/own-math.Round(total/own)) < 1e-9 {
		return "÷ " + number(total/own)
	}
	return fmt.Sprintf("× %s/%s", number(own), number(total))
}

func figure(v float64) string { return number(math.Round(v*10) / 10) }
