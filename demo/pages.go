package demo

import (
	"fmt"

	"mivlet/core/layout"
	"mivlet/core/page"
	"mivlet/core/rules"
)

// draft is one page of the scenario.
type draft struct {
	section, slug string
	live          bool
	doc           page.Doc
}

// sizes is a table that one of the pages offers to take along.
const sizes = "vest,chest in cm,weight in kg\nS,up to 90,30-50\nM,90-105,50-70\nL,105-120,70-90\n"

// maker makes the blocks of a page, each with an ID of its own.
type maker struct {
	letter string
	number map[string]uint // of pictures, by name
	column int
	blocks []page.Block
}

func (m *maker) add(b page.Block) *maker {
	b.ID, b.Column = fmt.Sprintf("%s%d", m.letter, len(m.blocks)+1), m.column
	m.blocks = append(m.blocks, b)
	return m
}

func (m *maker) heading(text string) *maker {
	return m.add(page.Block{Kind: page.Heading, Text: text})
}

func (m *maker) level(n int, text string) *maker {
	return m.add(page.Block{Kind: page.Heading, Level: n, Text: text})
}

func (m *maker) text(words string) *maker { return m.add(page.Block{Kind: page.Text, Text: words}) }

// album shows at most some pictures of an album; with 0 all.
func (m *maker) album(number uint, look page.AlbumLook, most int) *maker {
	return m.add(page.Block{Kind: page.Album, Album: &page.AlbumShow{Album: number, Look: look, Shape: "4:3", Most: most}})
}

func (m *maker) divider() *maker { return m.add(page.Block{Kind: page.Divider}) }

func (m *maker) kept(html string) *maker { return m.add(page.Block{Kind: page.HTML, Text: html}) }

// place is a placement of a picture by its name; "" waits for one.
func (m *maker) place(name, slot string, side page.Side, caption string) page.Placement {
	return page.Placement{Picture: m.number[name], Slot: slot, Side: side, Caption: caption}
}

func (m *maker) picture(name, slot string, side page.Side, caption string) *maker {
	return m.stands(m.place(name, slot, side, caption))
}

func (m *maker) stands(p page.Placement) *maker {
	return m.add(page.Block{Kind: page.Picture, Placement: &p})
}

func (m *maker) beside(p page.Placement, words string) *maker {
	return m.add(page.Block{Kind: page.Beside, Placement: &p, Text: words})
}

func (m *maker) several(kind page.Kind, all ...page.Placement) *maker {
	return m.add(page.Block{Kind: kind, Pictures: all})
}

func (m *maker) band(f page.BandLayout) *maker {
	m.column = 0
	return m.add(page.Block{Kind: page.Band, Band: &f})
}

// in goes on in a column of the band, counted from 0.
func (m *maker) in(column int) *maker { m.column = column; return m }

func (m *maker) doc(title string) page.Doc {
	return page.Doc{Version: page.Version, Title: title, Blocks: m.blocks}
}

// pages are those of the club: over its five sections, with every kind of block,
// some with something to mend.
func pages(number, albums map[string]uint, table string) []draft {
	begin := func(letter string) *maker { return &maker{letter: letter, number: number} }
	enlarges := func(p page.Placement) page.Placement { p.Link = page.Link{Kind: rules.EnlargeLink}; return p }
	var all []draft
	add := func(section, slug string, live bool, doc page.Doc) {
		all = append(all, draft{section, slug, live, doc})
	}

	add("juniors", "autumn-on-the-water", false, begin("a").
		text("On a clear Saturday in September the juniors took the boats out for the first time after the summer. The water was still warm, the air was not, and nobody wanted to be the one to say so.").
		heading("First off the jetty").
		text("By a quarter to nine three boats were on the water. **Red** led, **yellow** followed, and **teal** turned round to wave at the jetty. We practised:\n\n- starting without a push\n- turning on the spot\n- stopping before the reeds").
		text("Next Saturday we meet at ten, at the slipway. Bring a dry jumper and something to eat; the kettle is on from half past nine.").
		heading("Who may come").
		text("Everybody from eight to fifteen who can swim fifty metres. The first three mornings cost nothing.").doc("Autumn on the water"))

	add("boatshed", "where-things-hang", true, begin("b").
		text("The shed was swept, the racks were numbered, and every boat has a place again. Please put it back there: wet side down, bow to the door.").
		picture("boatshed-eight-boats-on-racks", "column", page.Centre, "Numbers run from the top left to the bottom right.").
		heading("Paddles").
		picture("boatshed-paddles-by-the-door", "side", page.Right, "Sorted by length: short ones next to the door.").
		text("Paddles stand by the door, blades up, in the order of their length. A paddle that splinters goes on the bench at the back with a piece of red tape round it, so that nobody takes it out on the lake by mistake.").
		text("The bucket beside them is for sponges. It is not for shoes. A shoe was found in it again last week; it is on the notice board, and its owner may come and explain.").
		text("The ring hangs where it can be reached without a key. Nothing may ever stand in front of it.").doc("Where things hang"))

	add("touring", "across-the-lake", true, begin("t").
		text("Eleven kilometres, one island, two flasks of tea. The October tour went the long way round, because the wind came from where nobody had expected it.").
		heading("The island at seven").
		picture("touring-island-in-the-mist", "column", page.None, "Nobody was up yet.").
		text("We went ashore on the lee side and had breakfast on the stones. By nine the mist had lifted and the hills were back.").doc("Across the lake in October"))

	add("river", "what-lives-in-the-inflow", true, begin("r").
		text("Twice a year River Watch counts what lives between the stones of the inflow. This time: forty-one mayfly larvae, nine caddis cases, one very surprised bullhead.").
		picture("river-sampling-at-the-inflow", "column", page.Centre, "").
		text("The water was clear and eight degrees cold. The full table follows when it has been checked by a second pair of eyes.").doc("What lives in the inflow"))

	soup := begin("s")
	add("socials", "soup-night", true, soup.
		beside(soup.place("socials-is-it-deep", "side", page.Left, "Drawn by one of the juniors."), "On the evening of the first frost there is soup in the shed. Bring a bowl, a spoon and a story about falling in.").
		text("- **When:** the Friday after the first frost, from seven\n- **Where:** in the boatshed, between the racks\n- **Bring:** bowl, spoon, story").
		divider().
		text("Ask whoever is at the desk on Saturdays.").
		album(albums["Round the fire"], page.InRows, 0).doc("Soup night"))

	season := begin("w")
	add("touring", "the-season-in-pictures", true, season.
		stands(enlarges(season.place("touring-crossing-in-a-line", "wide", page.Centre, "The last crossing of the year."))).
		text("Nine tours, two hundred kilometres, and one capsize that nobody owns up to.").
		several(page.Pair, enlarges(season.place("touring-island-in-the-mist", "half", page.None, "Out at seven")), enlarges(season.place("touring-jetty-at-dusk", "half", page.None, "Home at seven"))).
		heading("The whole year").
		several(page.Strip, season.place("touring-island-in-the-mist", "strip", page.None, ""), season.place("touring-jetty-at-dusk", "strip", page.None, ""), season.place("touring-crossing-in-a-line", "strip", page.None, "")).
		text("> Nobody fell in. Somebody got out in a hurry.\n\nThe dates of next year hang [in the shed](/boatshed/where-things-hang).").
		heading("All of it").
		album(albums["The season in 24 pictures"], page.Grid, 12).doc("The season in pictures"))

	vests := begin("v")
	lined := vests.place("boatshed-vests-on-hooks", "half", page.None, "Small ones hang to the left.")
	lined.Line, lined.Shadow = &page.Border{Width: 1, Colour: "#10343a"}, &page.Shadow{X: 8, Y: 8, Colour: "#cfe0dc"}
	table1 := page.Attachment{Hash: table, Name: "vest-sizes.csv", MediaType: "text/csv", Bytes: int64(len(sizes))}
	add("boatshed", "which-vest-is-yours", false, vests.
		text("A vest that is too large comes up round the ears; one that is too small does not keep anybody up. Try it on before you need it.").
		band(page.BandLayout{Pattern: "two", Ground: page.Mist, Above: &layout.Lengths{Phone: 20, Tablet: 32, Desktop: 40}, Below: &layout.Lengths{Phone: 20, Tablet: 32, Desktop: 40}}).
		heading("By weight").
		text("| vest | kilograms |\n|---|---|\n| S | 30 to 50 |\n| M | 50 to 70 |\n| L | 70 to 90 |").
		add(page.Block{Kind: page.File, Text: "All sizes as a table", File: &table1}).
		in(1).stands(lined).
		band(page.BandLayout{Pattern: "side-main", Ground: page.Deep, Order: []int{1, 0}}).
		stands(page.Placement{Picture: number["boatshed-paddles-by-the-door"], Slot: "side", Side: page.None, Rule: &layout.Rule{Percent: 80}}).
		in(1).heading("And the paddle?").
		text("Reach up: the top of the paddle comes to the root of your fingers. Half a hand more is fine, half a hand less is not.").
		band(page.BandLayout{Pattern: "text"}).
		kept("<dl><dt>Wash</dt><dd>in the lake, never in a machine</dd><dt>Dry</dt><dd>on a hook, never on the stove</dd></dl>").doc("Which vest is yours?"))

	// Something to mend on each of the following.
	stroke := begin("k")
	add("juniors", "learn-the-stroke", false, stroke.
		text("Watch it a few times, then try it on the jetty, then on the water. More is told [on the old page](/juniors/paddling).").
		picture("juniors-paddle-stroke", "column", page.Centre, page.CaptionPrompt).
		level(4, "What goes wrong").
		text("Most of us pull with the arms. Turn from the hips; the arms only hold on.").
		band(page.BandLayout{Pattern: "three"}).
		level(3, "Dip").text("Far in front, near the boat.").
		in(1).level(3, "Pull").text("To the hip and no further.").
		in(2).level(3, "Lift").text("Elbow first, without a splash.").doc("Learn the stroke"))

	along := begin("c")
	add("juniors", "who-comes-along", false, along.
		picture("juniors-two-friends-wave", "column", page.Centre, "Ready for the first morning.").
		text("New ones come along with somebody who knows the way.").doc("Who comes along"))

	party := begin("p")
	add("socials", "winter-party", false, party.
		text("Who was there, when, and the best moment, in two sentences.").
		stands(page.Placement{Slot: "column", Side: page.Centre, Caption: page.CaptionPrompt}).
		heading("What happened").
		text("Nothing yet: the party is in January.").doc("Winter party"))
	for i := range all {
		all[i].doc.Details = known[all[i].slug].Tidied()
	}
	return append(all, fronts(number)...)
}
