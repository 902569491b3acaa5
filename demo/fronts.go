package demo

import (
	"mivlet/core/fit"
	"mivlet/core/layout"
	"mivlet/core/page"
)

// known is what is known of the pages besides what stands on them, by their slugs.
var known = map[string]page.Details{
	"autumn-on-the-water":      {From: "2026-09-12", Whom: "Juniors from eight to fifteen", Categories: []string{"on-the-water", "dates"}, Tags: []string{"juniors", "autumn", "first day"}, Summary: "Three boats, warm water, cold air: the first morning after the summer."},
	"where-things-hang":        {Categories: []string{"gear"}, Tags: []string{"boatshed", "order"}, Summary: "Every boat and every paddle has its place; here is where."},
	"across-the-lake":          {From: "2026-10-10", Until: "2026-10-11", Whom: "Nine of us, and a wind from the wrong side", Categories: []string{"on-the-water"}, Tags: []string{"tour", "island", "autumn"}, Summary: "Eleven kilometres, one island, two flasks of tea."},
	"what-lives-in-the-inflow": {From: "2026-10-24", Categories: []string{"nature"}, Tags: []string{"counting", "inflow"}, Summary: "Forty-one mayfly larvae and one very surprised bullhead."},
	"soup-night":               {From: "2026-11-27", Whom: "Everybody with a bowl and a story", Categories: []string{"dates"}, Tags: []string{"winter", "shed"}, Summary: "On the evening of the first frost there is soup in the shed."},
	"the-season-in-pictures":   {From: "2026-11-01", Categories: []string{"on-the-water"}, Tags: []string{"tour", "pictures"}, Summary: "Nine tours, two hundred kilometres, and one capsize that nobody owns up to."},
	"which-vest-is-yours":      {Categories: []string{"gear"}, Tags: []string{"vests", "safety"}, Summary: "Too large comes up round the ears; too small keeps nobody up."},
	"learn-the-stroke":         {Categories: []string{"on-the-water"}, Tags: []string{"technique"}, Summary: "Turn from the hips; the arms only hold on."},
	"winter-party":             {From: "2027-01-16", Whom: "Members and their families", Categories: []string{"dates"}, Tags: []string{"winter"}, Address: "https://brindlemere.example/party"},
}

// fronts are the front pages of the house, its sections and one category. They begin with
// lists. Two groups have no cover, so that there is something to fill.
func fronts(number map[string]uint) []draft {
	begin := func(letter string) *maker { return &maker{letter: letter, number: number} }
	list := func(l page.Listing) page.Block { return page.Block{Kind: page.List, List: &l} }
	wide := func(g page.Ground) page.BandLayout { return page.BandLayout{Pattern: "wide", Ground: g} }
	behind := func(name string, shade int) *page.Background {
		return &page.Background{Cover: page.Cover{Picture: number[name]}, Height: layout.Lengths{Phone: 320, Tablet: 320, Desktop: 400}, Shade: shade, Header: true}
	}
	// At the top of all pages of Touring stands the picture of its front page, lower.
	touring := behind("touring-crossing-in-a-line", 55)
	touring.Focus = &fit.Focus{X: 0.5, Y: 0.72}
	touring.Elsewhere = &page.UsualElsewhere
	front := func(section, slug string, doc page.Doc, cover *page.Cover) draft {
		doc.Cover = cover
		return draft{section, slug, true, doc}
	}
	chosen := func(name string, focus *fit.Focus) *page.Cover {
		return &page.Cover{Picture: number[name], Focus: focus}
	}
	latest := func(section string) page.Block {
		return list(page.Listing{Of: page.OfSection, Which: section, Look: page.Tiles, Most: 6, Days: true, Summary: true, All: true})
	}
	return []draft{
		front("juniors", "", begin("fj").text("Saturdays from ten, at the slipway. The first three mornings cost nothing.").
			band(wide(page.Paper)).add(latest("juniors")).doc("Juniors"), chosen("juniors-paddle-stroke", nil)),
		front("touring", "", begin("ft").band(page.BandLayout{Pattern: "wide", Background: touring}).text("Long water, slow boats, and somebody who knows where the tea is.").
			band(wide(page.Paper)).add(latest("touring")).doc("Touring"), chosen("touring-crossing-in-a-line", &fit.Focus{X: 0.62, Y: 0.55})),
		front("boatshed", "", begin("fb").text("What the club owns, where it hangs, and how to put it back.").
			band(wide(page.Paper)).add(latest("boatshed")).doc("Boatshed"), chosen("boatshed-vests-on-hooks", nil)),
		front("river", "", begin("fr").text("Twice a year we count what lives between the stones.").
			band(wide(page.Paper)).add(latest("river")).doc("River Watch"), nil),
		front("socials", "", begin("fs").text("Soup, fires, and one party in January.").
			band(wide(page.Paper)).add(latest("socials")).doc("Socials"), nil),
		front("", "dates", begin("fd").text("What comes next, and what was.").
			add(list(page.Listing{Of: page.OfCategory, Which: "dates", Look: page.Rows, Order: page.Newest, Days: true, Summary: true})).doc("Dates"), chosen("touring-jetty-at-dusk", nil)),
		front("", "", begin("fh").band(page.BandLayout{Pattern: "wide", Background: behind("touring-jetty-at-dusk", 48)}).text("We paddle on an invented lake, in boats of clear colours, whenever the weather lets us, and sometimes when it does not.").
			band(wide(page.Paper)).heading("From the water").
			add(list(page.Listing{Of: page.OfCategory, Which: "on-the-water", Look: page.Tiles, Most: 3, Days: true, Summary: true, All: true})).
			band(wide(page.Mist)).heading("Our sections").
			add(list(page.Listing{Of: page.OfSections, Look: page.Tiles})).
			band(page.BandLayout{Pattern: "two"}).heading("Dates").
			add(list(page.Listing{Of: page.OfCategory, Which: "dates", Look: page.Slim, Days: true})).
			in(1).heading("Boats and gear").
			add(list(page.Listing{Of: page.OfCategory, Which: "gear", Look: page.Bare, Summary: true})).
			doc("Brindlemere Paddle Club"), nil),
	}
}
