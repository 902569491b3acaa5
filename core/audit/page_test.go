package audit_test

import (
	"encoding/json"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"mivlet/core/audit"
	"mivlet/core/consent"
	"mivlet/core/facts"
	"mivlet/core/fit"
	"mivlet/core/layout"
	"mivlet/core/page"
	"mivlet/core/rules"
	"mivlet/core/words"
)

// site is a site with one live page, one that moved, and one file.
func site(path string) (there bool, moved string) {
	switch path {
	case "/juniors/autumn":
		return true, ""
	case "/juniors/old":
		return false, "/juniors/autumn"
	case "/juniors/boat-640.jpg":
		return true, ""
	}
	return false, ""
}

// fine is a page on which nothing falls short.
func fine(t *testing.T) audit.Page {
	t.Helper()
	one, two := work(t), work(t)
	two.Name, two.Said.Alt = "juniors-second-launch", "Two kayaks turn before the reeds"
	return audit.Page{House: rules.Default(), Works: map[uint]audit.Picture{1: one, 2: two}, Weights: map[string]int64{}, Leads: site, Site: "https://club.example",
		Doc: page.Doc{Version: page.Version, Title: "Autumn", Blocks: []page.Block{
			{ID: "h", Kind: page.Heading, Text: "First"},
			{ID: "t", Kind: page.Text, Text: "See [autumn](/juniors/autumn) and [the federation](https://paddle.example/rules)."},
			{ID: "a", Kind: page.Picture, Placement: &page.Placement{Picture: 1, Slot: "column", Side: page.Centre, Caption: "At nine"}},
			{ID: "b", Kind: page.Picture, Placement: &page.Placement{Picture: 2, Slot: "side", Side: page.Left}},
		}}}
}

// Every finding of a page is raised by one change, at its place, and mended: by what
// it offers, or by the hand of an editor.
func TestEveryFindingOfAPageIsRaisedAndMended(t *testing.T) {
	require.Empty(t, audit.CheckPage(fine(t)))
	at := func(p *audit.Page, i int) *page.Placement { return p.Doc.Blocks[i].Placement }
	pic := func(p *audit.Page, id uint, change func(*audit.Picture)) {
		w := p.Works[id]
		change(&w)
		p.Works[id] = w
	}
	for name, c := range map[string]struct {
		raise func(*audit.Page)
		level words.Level
		block string
		do    audit.Mending     // what is offered; "" where only an editor can mend it
		mend  func(*audit.Page) // by the editor
	}{
		"WCAG 2.2, F65: no alternative": {raise: func(p *audit.Page) { pic(p, 1, func(w *audit.Picture) { w.Said.Alt = "" }) }, level: words.Stop, block: "a",
			mend: func(p *audit.Page) { at(p, 2).Alt = "A junior pushes off" }},
		"soft on every screen": {raise: func(p *audit.Page) {
			pic(p, 1, func(w *audit.Picture) { w.Facts.Stored = fit.Size{W: 500, H: 400} })
		}, level: words.Stop, block: "a", do: audit.SetWidth},
		"a little soft": {raise: func(p *audit.Page) {
			pic(p, 1, func(w *audit.Picture) { w.Facts.Stored = fit.Size{W: 800, H: 600} })
		}, level: words.Warn, block: "a", do: audit.SetWidth},
		"heavy": {raise: func(p *audit.Page) { p.Weights[audit.WeightOf("a", 0)] = 900_000 }, level: words.Warn, block: "a", do: audit.SetWidth},
		"too wide for its column": {raise: func(p *audit.Page) {
			p.Doc.Blocks = append(p.Doc.Blocks, page.Block{ID: "c", Kind: page.Band, Band: &page.BandLayout{Pattern: "three"}},
				page.Block{ID: "d", Kind: page.Picture, Placement: &page.Placement{Picture: 1, Slot: "half", Side: page.None}})
		}, level: words.Warn, block: "d", do: audit.SetWidth},
		"refused, no veil": {raise: func(p *audit.Page) {
			pic(p, 1, func(w *audit.Picture) { w.Seen = []consent.Entry{{State: consent.Refused}} })
		}, level: words.Stop, block: "a",
			mend: func(p *audit.Page) { at(p, 2).Picture = 2; at(p, 3).Picture = 2 }},
		"a camera's name": {raise: func(p *audit.Page) { pic(p, 2, func(w *audit.Picture) { w.Name = "DSC_0417" }) }, level: words.Stop, block: "b",
			mend: func(p *audit.Page) { pic(p, 2, func(w *audit.Picture) { w.Name = "juniors-second-launch" }) }},
		"caption never written":   {raise: func(p *audit.Page) { at(p, 2).Caption = page.CaptionPrompt }, level: words.Warn, block: "a", do: audit.ClearCaption},
		"a place still waits":     {raise: func(p *audit.Page) { at(p, 3).Picture = 0 }, level: words.Stop, block: "b", do: audit.DropPlace},
		"words never written":     {raise: func(p *audit.Page) { p.Doc.Blocks[1].Text = "Tell it in the order it went." }, level: words.Warn, block: "t", do: audit.DropBlock},
		"a heading without words": {raise: func(p *audit.Page) { p.Doc.Blocks[0].Text = " " }, level: words.Warn, block: "h", do: audit.DropBlock},
		"an animation would stand still": {raise: func(p *audit.Page) {
			pic(p, 1, func(w *audit.Picture) { w.Facts.Frames, w.Facts.MediaType = 24, "image/gif" })
			p.House.Slots = append(p.House.Slots, rules.Slot{ID: "still", Title: "Still", Width: 500, Densities: []float64{1, 2}, Budget: 300_000, Formats: []string{"jpeg"}})
			at(p, 2).Slot = "still"
		}, level: words.Warn, block: "a", do: audit.SetSlot},
		"a slot that is gone": {raise: func(p *audit.Page) { at(p, 2).Slot = "poster" }, level: words.Stop, block: "a", do: audit.SetSlot},
		"a broken link":       {raise: func(p *audit.Page) { p.Doc.Blocks[1].Text = "See [spring](/juniors/spring)." }, level: words.Warn, block: "t", do: audit.DropLink},
		"a link that moved": {raise: func(p *audit.Page) { p.Doc.Blocks[1].Text = "See [old](https://club.example/juniors/old)." }, level: words.Warn,
			block: "t", do: audit.Relink},
		"no address": {raise: func(p *audit.Page) { p.Doc.Blocks[1].Text = "See [it](autumn)." }, level: words.Warn, block: "t", do: audit.DropLink},
		"a bare file by accident": {raise: func(p *audit.Page) {
			at(p, 2).Link = page.Link{Kind: rules.AddressLink, Address: "/juniors/boat-640.jpg"}
		}, level: words.Warn, block: "a", do: audit.DropLink},
		"a picture's broken link": {raise: func(p *audit.Page) {
			at(p, 2).Link = page.Link{Kind: rules.AddressLink, Address: "/juniors/gone"}
		}, level: words.Warn, block: "a", do: audit.DropLink},
		"kept HTML with a broken link": {raise: func(p *audit.Page) {
			p.Doc.Blocks[1] = page.Block{ID: "t", Kind: page.HTML, Text: `<p>See <a href="/gone">it</a>.</p>`}
		}, level: words.Warn, block: "t", do: audit.DropLink},
		"WCAG 2.2, G141: a level left out": {raise: func(p *audit.Page) { p.Doc.Blocks[0].Level = 4 }, level: words.Warn, block: "h", do: audit.SetLevel},
		"a level left out in words": {raise: func(p *audit.Page) { p.Doc.Blocks[1].Text = "#### Deep" }, level: words.Warn, block: "t",
			mend: func(p *audit.Page) { p.Doc.Blocks[1].Text = "### Deep" }},
		"common practice: two pictures with the same words": {raise: func(p *audit.Page) {
			pic(p, 2, func(w *audit.Picture) { w.Said.Alt = p.Works[1].Said.Alt })
		}, level: words.Warn, block: "a", mend: func(p *audit.Page) { at(p, 3).Alt = "Two kayaks turn before the reeds" }},
	} {
		t.Run(name, func(t *testing.T) {
			p := fine(t)
			c.raise(&p)
			found := audit.CheckPage(p)
			require.NotEmpty(t, found)
			f := found[0]
			assert.Equal(t, c.level, f.Level)
			assert.Equal(t, c.block, f.Block)
			assert.NotEmpty(t, f.Code)
			require.Equal(t, c.do, f.Mend.Do)
			if c.mend != nil {
				c.mend(&p)
			} else {
				assert.NotEmpty(t, f.Mend.Do)
				var err error
				p.Doc, err = f.Apply(p.Doc)
				require.NoError(t, err)
				p.Weights = nil // its files are made anew
			}
			for _, left := range audit.CheckPage(p) { // a stop may leave a warning, such as being a little soft
				assert.True(t, f.Level == words.Stop && left.Level == words.Warn && left.Step == f.Step, "mended, and yet: %s", left.Code)
			}
			_, err := page.Parse(mustJSON(t, p.Doc))
			assert.NoError(t, err)
		})
	}
}

// A place that still fits says nothing: a picture that fills its column is as wide as
// that, whatever its slot was.
func TestWhatFillsItsColumnIsNotTooWide(t *testing.T) {
	p := fine(t)
	p.Doc.Blocks = append(p.Doc.Blocks, page.Block{ID: "c", Kind: page.Band, Band: &page.BandLayout{Pattern: "three"}},
		page.Block{ID: "d", Kind: page.Picture, Placement: &page.Placement{Picture: 1, Slot: "half", Side: page.None, Rule: &layout.Rule{Percent: 100}}})
	assert.Empty(t, audit.CheckPage(p))
}

// Where an address leads (RFC 3986, section 4.2; RFC 6068; example names of RFC 2606).
func TestAddresses(t *testing.T) {
	for address, want := range map[string]audit.AddressKind{
		"https://paddle.example/a?b#c": audit.Elsewhere, "http://paddle.example": audit.Elsewhere, "mailto:desk@club.example": audit.Elsewhere, "tel:+441632960123": audit.Elsewhere,
		"/juniors/autumn": audit.OnSite, "https://club.example/juniors/autumn": audit.OnSite, "#top": audit.Here,
		"": audit.NoAddress, "autumn": audit.NoAddress, "//paddle.example/x": audit.NoAddress, "https://": audit.NoAddress, "javascript:alert(1)": audit.NoAddress,
		"data:text/html,x": audit.NoAddress, "https://./": audit.NoAddress, "mailto:": audit.NoAddress, "http://a b": audit.NoAddress,
	} {
		got, _ := audit.Address(address, "https://club.example")
		assert.Equal(t, want, got, address)
	}
	_, at := audit.Address("https://club.example", "https://club.example")
	assert.Equal(t, "/", at)
}

// Taking a link off keeps its words, in every way that CommonMark writes one.
func TestALinkIsTakenOffAndItsWordsStay(t *testing.T) {
	for source, want := range map[string]string{
		"See [the page](/gone) now.":         "See the page now.",
		"See [the page](</gone>) now.":       "See the page now.",
		`See [the page](/gone "Title") now.`: "See the page now.",
		"[a](/gone) [b](/other) [c](/gone)":  "a [b](/other) c",
	} {
		p := fine(t)
		p.Doc.Blocks = []page.Block{{ID: "t", Kind: page.Text, Text: source}}
		f := audit.OnPage{Block: "t", Mend: audit.Mend{Do: audit.DropLink, Value: "/gone"}}
		d, err := f.Apply(p.Doc)
		require.NoError(t, err)
		assert.Equal(t, want, d.Blocks[0].Text)
		p.Doc.Blocks = []page.Block{{ID: "t", Kind: page.Picture, Placement: &page.Placement{Picture: 1, Caption: source}}}
		d, err = f.Apply(p.Doc)
		require.NoError(t, err)
		assert.Equal(t, want, d.Blocks[0].Placement.Caption)
		assert.Equal(t, source, p.Doc.Blocks[0].Placement.Caption, "what it was made from stays")
	}
	_, err := audit.OnPage{Block: "zz"}.Apply(page.Doc{})
	assert.Error(t, err)
	_, err = audit.OnPage{Block: "t", Mend: audit.Mend{Do: "paint"}}.Apply(page.Doc{Blocks: []page.Block{{ID: "t", Kind: page.Text}}})
	assert.Error(t, err)
}

func mustJSON(t *testing.T, d page.Doc) []byte {
	t.Helper()
	data, err := json.Marshal(d)
	require.NoError(t, err)
	return data
}

func TestWhatStandsForAPage(t *testing.T) {
	t.Parallel()
	r := rules.Default()
	r.Sections[0].Code = "juniors"
	r.Categories = []rules.Category{{Code: "events", Title: "Events"}}
	list := func(l page.Listing) page.Doc {
		l.Look = page.Tiles
		return page.Doc{Blocks: []page.Block{{ID: "l", Kind: page.List, List: &l}}}
	}
	codes := func(p audit.Page) (all []audit.Code) {
		p.House = r
		for _, f := range audit.CheckPage(p) {
			all = append(all, f.Code)
		}
		return all
	}
	known := map[string]int{"section:juniors": 2}
	for _, c := range []struct {
		what string
		page audit.Page
		want []audit.Code
	}{
		{"a blank that lists show", audit.Page{Listed: true}, []audit.Code{audit.NoCover}},
		{"a picture stands for it", audit.Page{Listed: true, StandsFor: 3}, nil},
		{"a blank that nobody sees", audit.Page{}, nil},
		{"a category that is gone", audit.Page{Doc: page.Doc{Details: page.Details{Categories: []string{"events", "gone"}}}}, []audit.Code{audit.GoneCategory}},
		{"an address that leads nowhere", audit.Page{Doc: page.Doc{Details: page.Details{Address: "no address"}}}, []audit.Code{audit.NoSuchAddress}},
		{"a list of something", audit.Page{Doc: list(page.Listing{Of: page.OfSection, Which: "juniors"}), Known: known}, nil},
		{"an empty list", audit.Page{Doc: list(page.Listing{Of: page.OfCategory, Which: "events"}), Known: known}, []audit.Code{audit.ListOfNothing}},
		{"an empty tag", audit.Page{Doc: list(page.Listing{Of: page.OfTag, Which: "x"}), Known: known}, []audit.Code{audit.ListOfNothing}},
		{"nothing chosen", audit.Page{Doc: list(page.Listing{Of: page.OfHand})}, []audit.Code{audit.ListOfNothing}},
		{"no such section", audit.Page{Doc: list(page.Listing{Of: page.OfSection, Which: "x"})}, []audit.Code{audit.ListSource}},
		{"no such category", audit.Page{Doc: list(page.Listing{Of: page.OfCategory, Which: "x"})}, []audit.Code{audit.ListSource}},
		{"all sections", audit.Page{Doc: list(page.Listing{Of: page.OfSections})}, nil},
	} {
		assert.Equal(t, c.want, codes(c.page), c.what)
	}
	// A cover of its own is looked at as a picture on the page is: a refusal stops the page.
	refused := audit.Picture{Facts: facts.Facts{Stored: fit.Size{W: 3000, H: 2000}, Orientation: facts.Upright, Frames: 9}, Name: "juniors-boat", Seen: []consent.Entry{{ID: "a", Whom: "one", State: consent.Refused}}, House: r, Section: "juniors"}
	covered := audit.Page{Doc: page.Doc{Cover: &page.Cover{Picture: 3}}, Works: map[uint]audit.Picture{3: refused}, StandsFor: 3, House: r}
	found := audit.CheckPage(covered)
	require.NotEmpty(t, found)
	var stops []audit.Code
	for _, f := range found {
		assert.Equal(t, uint(3), f.Picture)
		if f.Level == words.Stop {
			stops = append(stops, f.Code)
		}
	}
	assert.Equal(t, []audit.Code{audit.Refused}, stops, "and that it stands still is no fault of a cover")
}

// A picture behind a band, at the top or as a cover says nothing by itself: that it has a
// description for other places is no fault there.
func TestAPictureBehindTextNeedsNoOtherDescription(t *testing.T) {
	t.Parallel()
	p := fine(t)
	w := p.Works[1]
	w.Said.Alt = "A boat on a quiet lake"
	p.Works[1] = w
	back := page.Background{Cover: page.Cover{Picture: 1}, Height: page.UsualHeight, Elsewhere: &page.UsualElsewhere}
	band := page.Block{ID: "b", Kind: page.Band, Band: &page.BandLayout{Pattern: "wide", Background: &back}}
	for name, doc := range map[string]page.Doc{
		"behind": {Version: page.Version, Blocks: []page.Block{band}}, "cover": {Version: page.Version, Cover: &back.Cover},
		"card": {Version: page.Version, Card: &page.TitleCard{Behind: &back.Cover}}, "top": {Version: page.Version},
	} {
		p.Doc, p.Top = doc, nil
		if name == "top" {
			p.Top = &back
		}
		for _, f := range audit.CheckPage(p) {
			assert.NotEqual(t, audit.Said, f.Code, "%s: %v", name, f.Values)
		}
	}
}
