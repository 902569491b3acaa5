package demo

import (
	"time"

	"mivlet/core/banner"
	"mivlet/store"
)

// notice is a banner of the scenario. Days are counted from the day that the demo is laid out.
type notice struct {
	section, picture string
	occasion         string
	from, until      int // 0 is open
	doc              banner.Doc
}

// The occasions of the scenario, in days from the day that the demo is laid out.
var occasions = []struct {
	title       string
	from, until int
}{
	{"Winter season", -30, 75},
	{"Spring launch", 100, 160},
}

// The last one does not show, and the reason is a little hard: everything about it is as it
// should be, and another one holds the spot.
var notices = []notice{
	{"boatshed", "boatshed-ropes-of-pell", "Winter season", -10, 40, banner.Doc{Title: "Pell & Daughter, ropes", For: "Pell & Daughter", Spot: "partners",
		Alt: "Pell & Daughter, ropes: knots shown on Saturdays. To their workshop", Address: "https://ropes.example/workshop", New: true}},
	{"socials", "socials-the-tin-kettle", "Winter season", 0, 0, banner.Doc{Title: "The Tin Kettle", For: "the café by the jetty", Spot: "partners",
		Alt: "The Tin Kettle: soup until four, by the jetty. To its menu", Address: "https://kettle.example/menu"}},
	{"juniors", "juniors-pool-nights", "Winter season", -5, 23, banner.Doc{Title: "Pool nights", For: "Juniors", Spot: "notices",
		Alt: "Pool nights for juniors: all winter, Thursdays at six. To the juniors", Address: "/juniors"}},
	{"boatshed", "boatshed-paddles-by-the-door", "Winter season", -2, 12, banner.Doc{Title: "Paddle sale", For: "Boatshed", Spot: "notices",
		Alt: "Paddles for sale by the shed door. To the boatshed", Address: "/boatshed", Place: 1}},
}

// addBanners adds the banners of the scenario and their occasions, as drafts.
func addBanners(s store.Records, number map[string]uint, now time.Time) error {
	today := Rules().Day(now)
	day := func(n int) string {
		if n == 0 {
			return ""
		}
		return banner.DayAfter(today, n)
	}
	periods := map[string]uint{}
	for _, one := range occasions {
		o := store.Occasion{Title: one.title, FromDay: day(one.from), Until: day(one.until), UpdatedAt: now}
		if err := s.SaveOccasion(&o); err != nil {
			return err
		}
		periods[one.title] = o.ID
	}
	for _, n := range notices {
		doc := n.doc
		doc.Version, doc.Picture, doc.Occasion, doc.From, doc.Until = banner.Version, number[n.picture], periods[n.occasion], day(n.from), day(n.until)
		b := store.Banner{Section: n.section, Doc: doc, UpdatedAt: now}
		if err := s.AddBanner(&b); err != nil {
			return err
		}
	}
	return nil
}
