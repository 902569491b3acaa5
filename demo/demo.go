// Package demo holds the scenario that Mivlet is shown with: the Brindlemere
// Paddle Club, an invented club on an invented lake. All people, names, numbers
// and places are made up. The pictures were rendered from the scenes in this
// folder; starting the demo renders nothing.
package demo

import (
	"bytes"
	"errors"
	"fmt"
	"image"
	"slices"
	"strings"
	"time"

	"mivlet/core/consent"
	"mivlet/core/facts"
	"mivlet/core/rules"
	"mivlet/store"
)

// Here reports whether the program was built with the demo's pictures.
func Here() bool {
	_, err := pictures.ReadDir("pictures")
	return err == nil
}

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
	r.TimeZone = "Europe/London"
	r.Spots = []rules.Spot{
		{ID: "partners", Title: "Partners of the club", Width: 728, Height: 90, PhoneWidth: 320, PhoneHeight: 50, Where: rules.Below, On: []string{rules.OnEvery}, Turn: rules.ByTurns, Empty: rules.ShowNothing},
		{ID: "notices", Title: "Beside the pages", Width: 160, Height: 600, Where: rules.Beside, On: []string{rules.OnFront, "touring", "juniors"}, Turn: rules.InOrder, Empty: rules.ShowNothing},
		{ID: "board", Title: "Board", Width: 300, Height: 250, Where: rules.AsBlock, Turn: rules.ByTurns, Empty: rules.ShowNothing},
	}
	r.Categories = []rules.Category{
		{Code: "on-the-water", Title: "On the water"}, {Code: "dates", Title: "Dates"}, {Code: "gear", Title: "Boats and gear"}, {Code: "nature", Title: "Lake and shore"},
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
	// Further pictures of the shelves, from the same originals.
	{"DSC_0488.JPG", "touring", store.Shelf, "wide", image.Rectangle{}, "touring-crossing-in-a-line", "Seven paddlers cross the lake side by side, between wooded hills"},
	{"DSC_0421.JPG", "touring", store.Shelf, "half", image.Rectangle{}, "touring-jetty-at-dusk", "A wooden jetty leads out into the lake under a pink evening sky"},
	{"P1040860.JPG", "boatshed", store.Shelf, "half", image.Rectangle{}, "boatshed-vests-on-hooks", "Vests in clear colours hang on hooks along a plank wall"},
	{"DSC_0466.JPG", "river", store.Shelf, "half", image.Rectangle{}, "river-bucket-and-net", "A red bucket stands ready while somebody reaches for the net"},
	{"paddle-stroke.gif", "juniors", store.Shelf, "column", image.Rectangle{}, "juniors-paddle-stroke", "A paddler in a red kayak dips the paddle left and right, over and over"},
	{"cartoon final (2).png", "socials", store.Shelf, "side", image.Rectangle{}, "socials-is-it-deep", "Cartoon: a child asks a duck whether the lake is deep, jumps, and stands in it to the waist"},
	{"IMG_2101.JPG", "juniors", store.Shelf, "column", image.Rectangle{}, "juniors-two-friends-wave", "Two juniors wave beside the lake, one in red and one in orange"},
	// Taken along for the albums: other parts of the same originals.
	{"DSC_0430.JPG", "touring", store.Shelf, "column", image.Rectangle{}, "touring-yellow-kayak-and-reeds", "A paddler in a yellow kayak leans into the stroke beside the reeds"},
	{"DSC_0430.JPG", "touring", store.Shelf, "column", image.Rect(0, 500, 1200, 1700), "touring-reeds-at-the-edge", "Brown reeds stand in the shallow water at the edge of the lake"},
	{"DSC_0533.JPG", "boatshed", store.Shelf, "column", image.Rect(1100, 350, 3000, 1050), "boatshed-boats-on-the-roof", "A yellow and a red kayak are tied to the roof of the van"},
	{"DSC_0488.JPG", "touring", store.Shelf, "column", image.Rect(0, 900, 1100, 1600), "touring-red-boat-behind", "A red kayak follows the others across the lake"},
	{"DSC_0488.JPG", "touring", store.Shelf, "column", image.Rect(950, 900, 3000, 1500), "touring-three-in-a-row", "Three kayaks in yellow, teal and orange cross side by side"},
	{"DSC_0488.JPG", "touring", store.Shelf, "column", image.Rect(3000, 850, 5100, 1600), "touring-green-passes-violet", "A green kayak passes a violet one below the hills"},
	{"IMG_2093.JPG", "boatshed", store.Shelf, "column", image.Rect(500, 1650, 3900, 2450), "boatshed-red-kayak-at-rest", "A red kayak lies on the lowest rack"},
	{"IMG_2140.JPG", "socials", store.Shelf, "column", image.Rect(1050, 950, 1950, 1750), "socials-flames", "Yellow flames rise from a ring of stones"},
	{"IMG_2140.JPG", "socials", store.Shelf, "column", image.Rect(350, 700, 1500, 1800), "socials-two-with-mugs", "Two people with mugs sit on a log by the fire"},
	{"P1040860.JPG", "boatshed", store.Shelf, "column", image.Rect(650, 250, 1700, 1050), "boatshed-red-and-teal-vest", "A red and a teal vest hang side by side on a plank wall"},
	{"IMG_2088.JPG", "boatshed", store.Shelf, "column", image.Rect(400, 2350, 2100, 3450), "boatshed-five-blades", "Five paddle blades stand before a life ring"},
	{"DSC_0466.JPG", "river", store.Shelf, "column", image.Rect(900, 1300, 1900, 1950), "river-red-bucket", "A red bucket stands in the shallow water between stones"},
	{"DSC_0466.JPG", "river", store.Shelf, "column", image.Rect(1350, 500, 2350, 1500), "river-two-with-a-net", "Two volunteers bend over a long net between boulders"},
	{"DSC_0402.JPG", "touring", store.Shelf, "column", image.Rect(550, 850, 1450, 1450), "touring-alone-in-the-mist", "A red kayak drifts alone on grey water"},
	{"DSC_0417.JPG", "juniors", store.Shelf, "column", image.Rect(2600, 1900, 5900, 3600), "juniors-red-kayak-on-the-lake", "A junior in a red kayak looks over the quiet lake"},
	{"IMG_2093.JPG", "boatshed", store.Shelf, "column", image.Rect(400, 0, 3900, 1700), "boatshed-white-above-blue", "A white kayak lies above a blue and a teal one"},
	{"IMG_2088.JPG", "boatshed", store.Shelf, "column", image.Rect(450, 200, 2150, 1500), "boatshed-upper-blades", "The upper blades of five paddles lean against dark planks"},
	{"DSC_0466.JPG", "river", store.Shelf, "column", image.Rect(200, 0, 2600, 1100), "river-firs-above-the-inflow", "Firs stand above the low wall at the inflow"},
	// For banners.
	{"ropes banner.png", "boatshed", store.Shelf, "spot-partners", image.Rectangle{}, "boatshed-ropes-of-pell", "Pell and Daughter, ropes: knots shown on Saturdays"},
	{"kettle.gif", "socials", store.Shelf, "spot-partners", image.Rectangle{}, "socials-the-tin-kettle", "The Tin Kettle: soup until four, by the jetty"},
	{"pool nights.png", "juniors", store.Shelf, "spot-notices", image.Rectangle{}, "juniors-pool-nights", "Pool nights for juniors: all winter, Thursdays at six"},
}

// Fill puts the scenario into an empty store and returns the numbers of the
// pages that are to go live. with changes the rules that the club begins with.
func Fill(s *store.Store, now time.Time, with ...func(*rules.Rules)) (live []uint, err error) {
	house := Rules()
	for _, change := range with {
		change(&house)
	}
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
		if hashes[i], err = s.Files.Put(bytes.NewReader(data), known[i].MediaType); err != nil {
			return nil, err
		}
	}
	table, err := s.Files.Put(strings.NewReader(sizes), "text/csv")
	if err != nil {
		return nil, err
	}
	err = s.Tx(func(s store.Records) error {
		if err := s.SaveRules(house, "Ines Varrow", "The rules the club began with", now); err != nil {
			return err
		}
		if err := addPeople(s, now); err != nil {
			return err
		}
		numbers := map[string]uint{} // by name
		for i, it := range items {
			p := store.Picture{Section: it.section, OriginalHash: hashes[i], OriginalName: it.file, Facts: known[i],
				Station: it.station, Person: it.by(), Folder: it.folder(), CreatedAt: now, UpdatedAt: now}
			if err := addPicture(s, &p, it, now); err != nil {
				return fmt.Errorf("%s: %w", it.file, err)
			}
			if it.name != "" {
				numbers[it.name] = p.ID
			}
		}
		if err := refuseOnce(s, numbers["juniors-two-friends-wave"], now); err != nil {
			return err
		}
		if err := s.AddAttachment(&store.Attachment{Section: "juniors", Title: "All sizes as a table", Name: "vest-sizes.csv", OriginalName: "vest-sizes.csv",
			Hash: table, MediaType: "text/csv", Bytes: int64(len(sizes)), Person: "Odo Tamsin", CreatedAt: now}); err != nil {
			return err
		}
		albums, err := addAlbums(s, numbers, now)
		if err != nil {
			return err
		}
		if err := addBanners(s, numbers, now); err != nil {
			return err
		}
		for i, one := range pages(numbers, albums, table) {
			at := now.Add(-time.Duration(i) * 7 * time.Hour)
			p := store.Page{Section: one.section, Slug: one.slug, Doc: one.doc, Version: 1, UpdatedAt: at}
			if err := s.AddPage(&p); err != nil {
				return err
			}
			switch top := one.doc.FirstBackground(); {
			case one.live && top != nil && top.Elsewhere != nil:
				live = slices.Insert(live, 0, p.ID) // others show its picture
			case one.live:
				live = append(live, p.ID)
			}
		}
		return nil
	})
	if err != nil {
		return nil, err
	}
	return live, errors.Join(fillFormer(s, now), fillRounds(s, now))
}

// refuseOnce notes that somebody on a picture said no.
func refuseOnce(s store.Records, id uint, now time.Time) error {
	p, err := s.Picture(id)
	if err != nil {
		return err
	}
	p.Consents = []consent.Entry{
		{ID: "first", Whom: "the one in orange", State: consent.Refused, Note: "their father, by telephone", By: "Marta Quillfeather", On: now.Format("2006-01-02")},
		{ID: "second", Whom: "the one in red", State: consent.Allowed, Until: now.AddDate(0, 9, 0).Format("2006-01-02"), By: "Marta Quillfeather", On: now.Format("2006-01-02")},
	}
	return s.SavePicture(&p)
}

// addPicture adds a picture with the steps that led to where it is.
func addPicture(s store.Records, p *store.Picture, it item, now time.Time) error {
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

// Stale returns the page whose shared link is old in the demo, and the picture that is shown
// for it now.
func Stale(s store.Records) (page, picture uint, err error) {
	p, err := s.PageAt("river", "what-lives-in-the-inflow")
	if err != nil {
		return 0, 0, err
	}
	found, _, err := s.Shelf(store.ShelfQuery{Section: "river", Text: "river-bucket-and-net", Most: 1, Now: time.Now()})
	if err == nil && len(found) == 0 {
		err = store.ErrNotFound
	}
	if err != nil {
		return 0, 0, err
	}
	return p.ID, found[0].ID, nil
}
