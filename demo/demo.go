// Package demo holds the scenario that Mivlet is shown with: the Brindlemere
// Paddle Club, an invented club on an invented lake. All people, names, numbers
// and places are made up. The pictures were rendered from the scenes in this
// folder; starting the demo renders nothing.
package demo

import (
	"bytes"
	"embed"
	"fmt"
	"image"
	"time"

	"mivlet/core/facts"
	"mivlet/core/page"
	"mivlet/core/rules"
	"mivlet/store"
)

//go:embed pictures
var pictures embed.FS

// Picture returns one of the demo pictures, as a camera or an editor left it.
func Picture(name string) ([]byte, error) { return pictures.ReadFile("pictures/" + name) }

// Rules are the club's house rules.
func Rules() rules.Rules {
	r := rules.Default()
	r.House = "Brindlemere Paddle Club"
	r.Sections = []rules.Section{
		{Code: "juniors", Title: "Juniors", Sign: "wave", Folder: "juniors"}, {Code: "touring", Title: "Touring", Sign: "peak", Folder: "touring"}, {Code: "boatshed", Title: "Boatshed", Sign: "hull", Folder: "boatshed"},
		{Code: "river", Title: "River Watch", Sign: "drop", Folder: "river"}, {Code: "socials", Title: "Socials", Sign: "star", Folder: "socials"},
	}
	return r
}

// item is one picture of the scenario and how far it has come.
type item struct {
	file, section string
	station       store.Station
	slot          string
	frame         image.Rectangle
	name, alt     string
}

var items = []item{
	// On the shelves: they stand on pages.
	{"IMG_2093.JPG", "boatshed", store.Shelf, "column", image.Rectangle{}, "boatshed-eight-boats-on-racks", "Eight kayaks in clear colours lie on a wooden rack in the boatshed"},
	{"IMG_2088.JPG", "boatshed", store.Shelf, "side", image.Rect(180, 360, 2220, 3420), "boatshed-paddles-by-the-door", "Five paddles lean against the dark shed wall above a life ring"},
	{"DSC_0466.JPG", "river", store.Shelf, "column", image.Rectangle{}, "river-sampling-at-the-inflow", "Two volunteers stand knee-deep between boulders and dip a net"},
	{"DSC_0402.JPG", "touring", store.Shelf, "column", image.Rectangle{}, "touring-island-in-the-mist", "A red kayak drifts towards an island of dark firs in the mist"},
	// On the bench, each at another point of the walk.
	{"IMG_2140.JPG", "socials", store.Bench, "column", image.Rectangle{}, "socials-fire-on-the-shore", "Four people with mugs sit round a fire on the shore after sunset"},
	{"P1040860.JPG", "boatshed", store.Bench, "side", image.Rect(620, 380, 1780, 1330), "boatshed-life-vests-drying", ""},
	{"DSC_0488.JPG", "touring", store.Bench, "wide", image.Rectangle{}, "touring-seven-boats-abreast", "Seven kayaks cross the lake in a loose line below wooded hills"},
	{"P1040877.JPG", "boatshed", store.Bench, "column", image.Rectangle{}, "", ""},
	{"DSC_0430.JPG", "juniors", store.Bench, "column", image.Rectangle{}, "", ""},
	// Just arrived.
	{"Logo NEW.png", "juniors", store.Arrivals, "", image.Rectangle{}, "", ""},
	{"cartoon final (2).png", "juniors", store.Arrivals, "", image.Rectangle{}, "", ""},
	{"paddle-stroke.gif", "juniors", store.Arrivals, "", image.Rectangle{}, "", ""},
	{"Screenshot 2026-11-02.png", "juniors", store.Arrivals, "", image.Rectangle{}, "", ""},
	{"DSC_0533.JPG", "juniors", store.Arrivals, "", image.Rectangle{}, "", ""},
	{"IMG_2101.JPG", "juniors", store.Arrivals, "", image.Rectangle{}, "", ""},
	{"DSC_0421.JPG", "juniors", store.Arrivals, "", image.Rectangle{}, "", ""},
	{"DSC_0417.JPG", "juniors", store.Arrivals, "", image.Rectangle{}, "", ""},
}

// Fill puts the scenario into an empty store and returns the numbers of the
// pages that are to go live.
func Fill(s *store.Store, now time.Time) (live []uint, err error) {
	hashes := make([]string, len(items))
	known := make([]facts.Facts, len(items))
	for i, it := range items {
		data, err := Picture(it.file)
		if err != nil {
			return nil, err
		}
		if known[i], err = facts.Read(bytes.NewReader(data)); err != nil {
			return nil, fmt.Errorf("%s: %w", it.file, err)
		}
		if hashes[i], err = s.Blobs.Put(bytes.NewReader(data)); err != nil {
			return nil, err
		}
	}
	err = s.Tx(func(s *store.Store) error {
		if err := s.SaveRules(Rules(), "Ines Varrow", "The rules the club began with", now); err != nil {
			return err
		}
		if err := addPeople(s, now); err != nil {
			return err
		}
		numbers := map[string]uint{}
		for i, it := range items {
			p := store.Picture{Section: it.section, OriginalHash: hashes[i], OriginalName: it.file, Facts: known[i],
				Station: it.station, Person: it.by(), Folder: it.folder(), CreatedAt: now, UpdatedAt: now}
			if err := addPicture(s, &p, it, now); err != nil {
				return fmt.Errorf("%s: %w", it.file, err)
			}
			numbers[it.file] = p.ID
		}
		for _, one := range pages(numbers) {
			p := store.Page{Section: one.section, Slug: one.slug, Doc: one.doc, Version: 1, UpdatedAt: now}
			if err := s.AddPage(&p); err != nil {
				return err
			}
			if one.live {
				live = append(live, p.ID)
			}
		}
		return nil
	})
	return live, err
}

// addPicture adds a picture with the steps that led to where it is.
func addPicture(s *store.Store, p *store.Picture, it item, now time.Time) error {
	if err := s.AddPicture(p); err != nil {
		return err
	}
	var err error
	step := func(text string, change func(*store.Work)) {
		if err == nil {
			change(&p.Work)
			err = s.AddStep(p, text, it.by(), now)
		}
	}
	if it.slot != "" {
		slot, _ := Rules().Slot(it.slot)
		step("Fitted for "+slot.Title, func(w *store.Work) { w.Slot = it.slot })
	}
	if !it.frame.Empty() {
		r, bad := p.Work.Recipe.WithFrame(it.frame, p.Facts.Upright())
		if bad != nil {
			return bad
		}
		step(r.Edits[0].Describe(), func(w *store.Work) { w.Recipe = r })
	}
	if it.name != "" {
		step("Named "+it.name, func(w *store.Work) { w.Name = it.name })
	}
	if it.alt != "" {
		step("Described: “"+it.alt+"”", func(w *store.Work) { w.Alt = it.alt })
	}
	return err
}

// draft is one page of the scenario.
type draft struct {
	section, slug string
	live          bool
	doc           page.Doc
}

func pages(number map[string]uint) []draft {
	heading := func(id, text string) page.Block { return page.Block{ID: id, Kind: page.Heading, Text: text} }
	text := func(id, words string) page.Block { return page.Block{ID: id, Kind: page.Text, Text: words} }
	picture := func(id, file, slot string, side page.Side, caption string) page.Block {
		return page.Block{ID: id, Kind: page.Picture, Placement: &page.Placement{Picture: number[file], Slot: slot, Side: side, Caption: caption}}
	}
	return []draft{
		{"juniors", "autumn-on-the-water", false, page.Doc{Version: page.Version, Title: "Autumn on the water", Blocks: []page.Block{
			text("a1", "On a clear Saturday in September the juniors took the boats out for the first time after the summer. The water was still warm, the air was not, and nobody wanted to be the one to say so."),
			heading("a2", "First off the jetty"),
			text("a3", "By a quarter to nine three boats were on the water. **Red** led, **yellow** followed, and **teal** turned round to wave at the jetty. We practised:\n\n- starting without a push\n- turning on the spot\n- stopping before the reeds"),
			text("a4", "Next Saturday we meet at ten, at the slipway. Bring a dry jumper and something to eat; the kettle is on from half past nine."),
			heading("a5", "Who may come"),
			text("a6", "Everybody from eight to fifteen who can swim fifty metres. The first three mornings cost nothing."),
		}}},
		{"boatshed", "where-things-hang", true, page.Doc{Version: page.Version, Title: "Where things hang", Blocks: []page.Block{
			text("b1", "The shed was swept, the racks were numbered, and every boat has a place again. Please put it back there: wet side down, bow to the door."),
			picture("b2", "IMG_2093.JPG", "column", page.Centre, "Numbers run from the top left to the bottom right."),
			heading("b3", "Paddles"),
			picture("b4", "IMG_2088.JPG", "side", page.Right, "Sorted by length: short ones next to the door."),
			text("b5", "Paddles stand by the door, blades up, in the order of their length. A paddle that splinters goes on the bench at the back with a piece of red tape round it, so that nobody takes it out on the lake by mistake."),
			text("b6", "The bucket beside them is for sponges. It is not for shoes. A shoe was found in it again last week; it is on the notice board, and its owner may come and explain."),
			text("b7", "The ring hangs where it can be reached without a key. Nothing may ever stand in front of it."),
		}}},
		{"touring", "across-the-lake", false, page.Doc{Version: page.Version, Title: "Across the lake in October", Blocks: []page.Block{
			text("t1", "Eleven kilometres, one island, two flasks of tea. The October tour went the long way round, because the wind came from where nobody had expected it."),
			heading("t2", "The island at seven"),
			picture("t3", "DSC_0402.JPG", "column", page.None, "Nobody was up yet."),
			text("t4", "We went ashore on the lee side and had breakfast on the stones. By nine the mist had lifted and the hills were back."),
		}}},
		{"river", "what-lives-in-the-inflow", false, page.Doc{Version: page.Version, Title: "What lives in the inflow", Blocks: []page.Block{
			text("r1", "Twice a year River Watch counts what lives between the stones of the inflow. This time: forty-one mayfly larvae, nine caddis cases, one very surprised bullhead."),
			picture("r2", "DSC_0466.JPG", "column", page.Centre, ""),
			text("r3", "The water was clear and eight degrees cold. The full table follows when it has been checked by a second pair of eyes."),
		}}},
	}
}
