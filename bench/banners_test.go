package bench

import (
	"fmt"
	"strings"
	"testing"
	"time"

	"mivlet/core/banner"
	"mivlet/core/facts"
	"mivlet/core/fit"
	"mivlet/core/page"
	"mivlet/core/rules"
	"mivlet/desk"
	"mivlet/store"
	"mivlet/store/datafolder"
)

// BenchmarkBanners measures what banners cost a visitor: which spots of a page are filled, and
// which banner is in one, in houses with more and more banners that have ended.
//
//	go test -run '^$' -bench Banners -benchtime 300x ./bench
func BenchmarkBanners(b *testing.B) {
	for _, n := range []int{4, 40, 400} {
		d, id := withBanners(b, n)
		b.Run(fmt.Sprintf("page/%d", n), func(b *testing.B) {
			for b.Loop() {
				frames, err := d.Banners.Frames(id, []string{"foot"})
				need(b, err)
				if len(frames) != 1 {
					b.Fatal("nothing runs")
				}
			}
		})
		b.Run(fmt.Sprintf("frame/%d", n), func(b *testing.B) {
			for b.Loop() {
				show, ok, err := d.Banners.Choose("foot", id, true)
				need(b, err)
				if !ok || len(page.WriteBanner(show)) == 0 {
					b.Fatal("nothing runs")
				}
			}
		})
	}
}

// running is how many of the banners run; the others have ended.
const running = 4

// withBanners is a house with a live page, and so many banners in its spot.
func withBanners(b *testing.B, n int) (*desk.Desk, uint) {
	b.Helper()
	s, err := datafolder.Open(b.TempDir())
	need(b, err)
	b.Cleanup(func() { s.Close() })
	now := time.Date(2026, 11, 2, 12, 0, 0, 0, time.UTC)
	r := rules.Default()
	r.Spots = []rules.Spot{{ID: "foot", Title: "Partners", Width: 300, Height: 250, Where: rules.Below, On: []string{rules.OnEvery}, Turn: rules.ByTurns, Empty: rules.ShowNothing}}
	need(b, s.SaveRules(r, "Ines", "measured", now))
	p := store.Page{Section: "house", Slug: "autumn", Version: 1, UpdatedAt: now, Doc: page.Doc{Version: page.Version, Title: "Autumn"}}
	need(b, s.Tx(func(s store.Records) error {
		if err := s.AddPage(&p); err != nil {
			return err
		}
		files := []store.Published{{Path: p.Path(), Hash: strings.Repeat("a", 64), MediaType: "text/html"}}
		if err := s.Publish(&p, files, "print", now); err != nil {
			return err
		}
		if err := s.AddLiveVersion(&store.LiveVersion{PageID: p.ID, At: now, Path: p.Path(), Doc: `{"version":4,"title":"Autumn","blocks":[]}`, Files: files}); err != nil {
			return err
		}
		if err := s.SetSpots(p.ID, []string{"foot"}); err != nil {
			return err
		}
		o := store.Occasion{Title: "All year", FromDay: "2026-01-01", Until: "2026-12-31", UpdatedAt: now}
		if err := s.SaveOccasion(&o); err != nil {
			return err
		}
		for i := range n {
			pic := store.Picture{Section: "house", OriginalHash: fmt.Sprintf("%064x", i+1), OriginalName: "a.jpg", Station: store.Shelf, CreatedAt: now, UpdatedAt: now,
				Facts: facts.Facts{MediaType: "image/jpeg", Stored: fit.Size{W: 600, H: 500}, Orientation: facts.Upright, Frames: 1}, Work: store.Work{Name: fmt.Sprint("house-", i), Alt: "Ropes"}}
			if err := s.AddPicture(&pic); err != nil {
				return err
			}
			until := ""
			if i >= running {
				until = "2026-10-31"
			}
			doc := banner.Doc{Until: until, Version: banner.Version, Title: fmt.Sprint("Banner ", i), Spot: "foot", Picture: pic.ID, Occasion: o.ID, Alt: "Ropes", Address: "/house"}
			one := store.Banner{Section: "house", Doc: doc, Live: &doc, UpdatedAt: now}
			if err := s.AddBanner(&one); err != nil {
				return err
			}
			file := store.BannerFile{Path: fmt.Sprintf("/spots/%d.jpg", i), Hash: fmt.Sprintf("%064x", i+1), MediaType: "image/jpeg", PictureID: pic.ID, CutKey: "k", Width: 300, Height: 250}
			if err := s.Approve(&one, []store.BannerFile{file}, now); err != nil {
				return err
			}
		}
		return nil
	}))
	d, err := desk.New(&s.Store, desk.Options{Now: func() time.Time { return now }})
	need(b, err)
	b.Cleanup(d.Jobs.End)
	return d, p.ID
}
