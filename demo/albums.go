package demo

import (
	"time"

	"mivlet/core/album"
	"mivlet/store"
)

// set is an album of the scenario.
type set struct {
	section, title string
	pictures       []string // by name
	rule           album.Rule
}

var sets = []set{
	{"touring", "The season in 24 pictures", []string{
		"touring-island-in-the-mist",
		"touring-alone-in-the-mist",
		"touring-yellow-kayak-and-reeds",
		"touring-reeds-at-the-edge",
		"touring-crossing-in-a-line",
		"touring-red-boat-behind",
		"touring-three-in-a-row",
		"touring-green-passes-violet",
		"juniors-red-kayak-on-the-lake",
		"juniors-paddle-stroke",
		"river-firs-above-the-inflow",
		"river-two-with-a-net",
		"river-red-bucket",
		"boatshed-white-above-blue",
		"boatshed-red-kayak-at-rest",
		"river-bucket-and-net",
		"boatshed-upper-blades",
		"boatshed-five-blades",
		"boatshed-vests-on-hooks",
		"boatshed-red-and-teal-vest",
		"boatshed-boats-on-the-roof",
		"touring-jetty-at-dusk",
		"socials-two-with-mugs",
		"socials-flames",
	}, album.Rule{}},
	{"socials", "Round the fire", []string{"socials-two-with-mugs", "socials-flames", "socials-is-it-deep"}, album.Rule{Tag: "fire"}},
}

// captions are those that pictures have in the albums.
var captions = map[string]string{
	"touring-island-in-the-mist":     "Out at seven",
	"touring-alone-in-the-mist":      "He says he was not lost",
	"touring-yellow-kayak-and-reeds": "The first warm Sunday",
	"touring-red-boat-behind":        "Somebody has to be last",
	"boatshed-red-kayak-at-rest":     "Washed, dried, and asleep until March",
	"boatshed-five-blades":           "Blades up, please",
	"boatshed-boats-on-the-roof":     "Two knots each, and a third for the nerves",
	"touring-jetty-at-dusk":          "Home at seven",
	"socials-flames":                 "Kettle not shown",
}

// addAlbums adds the albums of the scenario and returns their numbers by title.
func addAlbums(s store.Records, number map[string]uint, now time.Time) (map[string]uint, error) {
	all := map[string]uint{}
	for _, one := range sets {
		doc := album.Album{Version: album.Version, Title: one.title, Rule: one.rule}
		for _, name := range one.pictures {
			doc = doc.Add(number[name]).Captioned(number[name], captions[name])
		}
		a := store.Album{Section: one.section, Doc: doc, UpdatedAt: now}
		if err := s.AddAlbum(&a); err != nil {
			return nil, err
		}
		all[one.title] = a.ID
	}
	return all, s.SetTags(number["socials-fire-on-the-shore"], []string{"fire"})
}
