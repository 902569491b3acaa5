package page_test

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"

	"mivlet/core/layout"
	"mivlet/core/page"
	"mivlet/core/rules"
)

// standing is a page with one picture in its flow, or in a band.
func standing(p page.Placement, banded bool) page.Doc {
	p.Picture, p.Slot = 1, "column"
	d := page.Doc{Version: page.Version}
	if banded {
		d.Blocks = append(d.Blocks, page.Block{ID: "B", Kind: page.Band, Band: &page.BandLayout{Pattern: "wide"}})
	}
	d.Blocks = append(d.Blocks, page.Block{ID: "p", Kind: page.Picture, Placement: &p})
	return d
}

// The measures of its own that a picture has, as its page's stylesheet says them.
func TestOwnMeasuresOfAPicture(t *testing.T) {
	t.Parallel()
	r := rules.Default()
	r.Page.Breaks.Tablet = 720
	air := &page.Edges{Top: 1, Right: 2, Bottom: 3, Left: 4}
	const own, image = ".content .picture.own-p-1 { ", ".content .own-p-1 img { "
	const edge = "calc(max(0px, (100% - var(--column)) / 2) + "
	for _, one := range []struct {
		name   string
		p      page.Placement
		banded bool
		want   []string
	}{
		{"a width", page.Placement{Side: page.None, Rule: &layout.Rule{Fixed: 300}}, false,
			[]string{own + "width: 300px; max-width: min(100%, var(--column)); margin-left: max(0px, (100% - var(--column)) / 2); }"}},
		{"a part of the text", page.Placement{Side: page.Centre, Rule: &layout.Rule{Percent: 50, Cap: 200}}, false,
			[]string{own + "width: calc(min(100%, var(--column)) * 0.5); max-width: min(min(100%, var(--column)), 200px); }"}},
		{"all of a column", page.Placement{Side: page.None, Rule: &layout.Rule{}}, true, []string{own + "width: 100%; max-width: 100%; }"}},
		{"a part of a column, with air", page.Placement{Side: page.Centre, Rule: &layout.Rule{Percent: 25}, Air: air}, true,
			[]string{own + "width: calc(100% * 0.25); max-width: calc(100% - 6px); margin: 1px auto 3px; }"}},
		{"air at one side", page.Placement{Side: page.None, Rule: &layout.Rule{}, Air: &page.Edges{Right: 5}}, true,
			[]string{own + "width: calc(100% - 5px); max-width: calc(100% - 5px); margin: 0px auto 0px 0px; }"}},
		{"no air at the sides", page.Placement{Side: page.None, Rule: &layout.Rule{}, Air: &page.Edges{Top: 5}}, true,
			[]string{own + "width: 100%; max-width: 100%; margin: 5px auto 0px 0px; }"}},
		{"air at the left of a column", page.Placement{Side: page.Left, Air: air}, true,
			[]string{own + "margin: 1px 2px 3px 4px; }", "@media (max-width: 719px) { .content .picture.own-p-1 { margin: 1px auto 3px; } }"}},
		{"air at the left of the text", page.Placement{Side: page.Left, Air: air}, false,
			[]string{own + "margin: 1px 2px 3px " + edge + "4px); }", "@media (max-width: 719px) { .content .picture.own-p-1 { margin: 1px auto 3px; } }"}},
		{"air at the right of the text", page.Placement{Side: page.Right, Air: air}, false,
			[]string{own + "margin: 1px " + edge + "2px) 3px 4px; }", "@media (max-width: 719px) { .content .picture.own-p-1 { margin: 1px auto 3px; } }"}},
		{"air in the middle", page.Placement{Side: page.Centre, Air: air}, false, []string{own + "margin: 1px auto 3px; }"}},
		{"a border and a shadow", page.Placement{Side: page.None, Line: &page.Border{Width: 2, Colour: "#123456"}, Shadow: &page.Shadow{X: 3, Y: -4, Colour: "#000000"}}, true,
			[]string{image + "border: 2px solid #123456; box-shadow: 3px -4px 0 #000000; }"}},
		{"a border of 1", page.Placement{Side: page.None, Line: &page.Border{Width: 1, Colour: "#123456"}}, true, []string{image + "border: 1px solid #123456; }"}},
		{"no border", page.Placement{Side: page.None, Line: &page.Border{}}, true, []string{image + "border: 0; }"}},
		{"a shadow", page.Placement{Side: page.None, Shadow: &page.Shadow{X: 1, Y: 2, Colour: "#000000"}}, true, []string{image + "box-shadow: 1px 2px 0 #000000; }"}},
		{"nothing of its own", page.Placement{Side: page.Left}, false, nil},
	} {
		css := strings.Split(strings.TrimSpace(string(page.DocCSS(r, standing(one.p, one.banded), nil))), "\n")
		if one.want == nil {
			one.want = []string{""}
		}
		assert.Equal(t, one.want, css, one.name)
	}
}

// Pairs and strips share their room: none of their pictures has a width or a margin of its own.
func TestPicturesInRowsKeepTheRoomTheyShare(t *testing.T) {
	t.Parallel()
	p := page.Placement{Picture: 1, Slot: "half", Side: page.None, Rule: &layout.Rule{Fixed: 90}, Air: &page.Edges{Left: 5}}
	for _, kind := range []page.Kind{page.Pair, page.Strip} {
		d := page.Doc{Version: page.Version, Blocks: []page.Block{{ID: "q", Kind: kind, Pictures: []page.Placement{p, p}}}}
		assert.Empty(t, string(page.DocCSS(rules.Default(), d, nil)), kind)
	}
}

// A band's own measures, device by device, from wide to narrow, and the order on a phone.
func TestOwnMeasuresOfABand(t *testing.T) {
	t.Parallel()
	r := rules.Default()
	r.Page.Breaks = layout.Breaks{Tablet: 720, Desktop: 1024}
	l := func(phone, tablet, desktop int) *layout.Lengths {
		return &layout.Lengths{Phone: phone, Tablet: tablet, Desktop: desktop}
	}
	d := page.Doc{Version: page.Version, Blocks: []page.Block{{ID: "B", Kind: page.Band, Band: &page.BandLayout{Pattern: "two", Cap: 800, Gutter: l(1, 2, 3), Padding: l(4, 5, 6), Above: l(7, 8, 9), Below: l(10, 11, 12), Order: []int{1, 0}}}}}
	assert.Equal(t, `.content .own-B { max-width: 800px; }
.content .own-B { --band-padding: 6px; --band-gutter: 3px; --above: 9px; --below: 12px; }
@media (max-width: 1023px) { .content .own-B { --band-padding: 5px; --band-gutter: 2px; --above: 8px; --below: 11px; } }
@media (max-width: 719px) { .content .own-B { --band-padding: 4px; --band-gutter: 1px; --above: 7px; --below: 10px; } }
@media (max-width: 719px) { .content .own-B > .columns > :nth-child(2) { order: 1; } }
@media (max-width: 719px) { .content .own-B > .columns > :nth-child(1) { order: 2; } }
`, string(page.DocCSS(r, d, nil)))
	d.Blocks[0].Band.Order = []int{0} // of another pattern: it does not hold
	assert.NotContains(t, string(page.DocCSS(r, d, nil)), "order")
}

// Pages that live elsewhere have no stylesheet of ours: the same measures stand in their elements.
func TestMeasuresInElements(t *testing.T) {
	t.Parallel()
	r := rules.Default()
	r.Placing.Air, r.Placing.Line, r.Placing.LineColour = 10, 1, "#8a8172"
	style := func(p page.Placement, banded bool) string {
		how := writing(oneImage)
		how.Rules, how.Inline = r, true
		_, doc := written(t, standing(p, banded), how)
		return doc.Find("figure").AttrOr("style", "") + " | " + doc.Find("img").AttrOr("style", "")
	}
	const image = "display:block;width:100%;height:auto;box-sizing:border-box;"
	air := &page.Edges{Top: 1, Right: 2, Bottom: 3, Left: 4}
	assert.Equal(t, "width:640px;max-width:100%;margin:10px auto | "+image+"border: 1px solid #8a8172;", style(page.Placement{Side: page.Centre}, false))
	assert.Equal(t, "width:640px;max-width:100%;float:left;margin:10px 10px 10px 0px | "+image+"border: 1px solid #8a8172;", style(page.Placement{Side: page.Left}, false))
	assert.Equal(t, "width:640px;max-width:100%;float:right;margin:10px 0px 10px 10px | "+image+"border: 1px solid #8a8172;", style(page.Placement{Side: page.Right}, false))
	assert.Equal(t, "width:50%;max-width:100%;margin:1px 2px 3px 4px | "+image+"border: 2px solid #111111;box-shadow:3px 4px 0 #222222;",
		style(page.Placement{Side: page.None, Rule: &layout.Rule{Percent: 50}, Air: air, Line: &page.Border{Width: 2, Colour: "#111111"}, Shadow: &page.Shadow{X: 3, Y: 4, Colour: "#222222"}}, true))
}
