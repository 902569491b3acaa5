package bench

import (
	"context"
	"fmt"
	"io"
	"net/url"
	"testing"
	"time"

	"mivlet/core/page"
	"mivlet/core/rules"
	"mivlet/desk"
	"mivlet/desk/lists"
	"mivlet/practice"
	"mivlet/store"
	"mivlet/store/datafolder"
)

// BenchmarkPublishOnLists measures publishing one page of a house of 2,000, that stands on
// no list, and on twelve: six of its section, three of a category, three of a tag, each with
// six tiles and a way on to all of them.
//
//	go test -run '^$' -bench PublishOnLists -benchtime 10x ./bench
func BenchmarkPublishOnLists(b *testing.B) {
	for _, on := range []int{0, 12} {
		b.Run(fmt.Sprintf("%d-lists", on), func(b *testing.B) {
			d, kept, id := largeHouse(b, on)
			site := practice.Site{Rules: d.Rules}
			layout := func(w io.Writer, p lists.SitePage) error {
				return site.Write(w, practice.Page{Title: p.Title, Section: p.Section, Main: p.Main, Head: p.Head, Style: p.Style, Top: (*practice.Top)(p.Top)})
			}
			if err := d.Lists.UseLayout(layout); err != nil {
				b.Fatal(err)
			}
			publish := func() {
				v, err := d.Pages.Page(id)
				if err == nil {
					_, err = d.Publish.Publish(b.Context(), id, v.Seen, "measured", layout)
				}
				if err != nil {
					b.Fatal(err)
				}
			}
			publish()
			n := 0
			for b.Loop() {
				b.StopTimer()
				n++
				if err := d.Pages.RenamePage(id, fmt.Sprintf("Renamed %d times", n), "the-page"); err != nil {
					b.Fatal(err)
				}
				b.StartTimer()
				publish()
			}
			b.StopTimer()
			ids, err := kept.Listing([]string{page.Key(page.OfSection, "s0"), page.Key(page.OfCategory, "c"), page.Key(page.OfTag, "t")})
			if err != nil || len(ids) != on {
				b.Fatal(len(ids), err)
			}
		})
	}
}

// largeHouse is a house of 2,000 live pages in ten sections, some pages with lists, and one
// page that they show.
func largeHouse(b *testing.B, withLists int) (*desk.Desk, *datafolder.Folder, uint) {
	b.Helper()
	kept, err := datafolder.Open(b.TempDir())
	if err != nil {
		b.Fatal(err)
	}
	b.Cleanup(func() { _ = kept.Close() })
	now := time.Date(2026, 11, 2, 12, 0, 0, 0, time.UTC)
	r := rules.Default()
	r.Sections = nil
	for i := range 10 {
		r.Sections = append(r.Sections, rules.Section{Code: fmt.Sprint("s", i), Title: fmt.Sprint("Section ", i), Sign: rules.Signs[i], Folder: fmt.Sprint("s", i)})
	}
	r.Categories = []rules.Category{{Code: "c", Title: "Category"}}
	if err := kept.SaveRules(r, "Ines", "measured", now); err != nil {
		b.Fatal(err)
	}
	near := &nearby{}
	d, err := desk.New(&kept.Store, desk.Options{SiteURL: "http://club.example", Visitor: near, Now: func() time.Time { now = now.Add(time.Second); return now }})
	if err != nil {
		b.Fatal(err)
	}
	near.desk = d
	b.Cleanup(d.Jobs.End)
	known := page.Details{From: "2030-01-01", Categories: []string{"c"}, Tags: []string{"t"}, Summary: "One sentence."}
	err = kept.Tx(func(s store.Records) error {
		for i := range 2000 {
			p := store.Page{Section: fmt.Sprint("s", i%10), Slug: fmt.Sprint("page-", i), Version: 1, UpdatedAt: now, Doc: page.Doc{Version: page.Version, Title: fmt.Sprint("Page ", i), Details: known}}
			if err := s.AddPage(&p); err != nil {
				return err
			}
			hash := fmt.Sprintf("%064x", i+1)
			files := []store.Published{{Path: p.Path(), Hash: hash, MediaType: "text/html"}}
			var cover []page.CardFile
			for n, width := range []int{400, 800} {
				f := store.Published{Path: fmt.Sprintf("/s%d/cover-%d-%d.jpg", i%10, i, width), Hash: fmt.Sprintf("%016x%048x", 1<<20+2*i+n, i+1), MediaType: "image/jpeg",
					PictureID: uint(i + 1), For: page.Tile.ID, Width: width, Height: width * 3 / 4}
				files = append(files, f)
				cover = append(cover, page.CardFile{Slot: f.For, Path: f.Path, Address: lists.Address(f), Hash: f.Hash, Width: f.Width, Height: f.Height})
			}
			if err := s.Publish(&p, files, "print", now); err != nil {
				return err
			}
			c := store.LiveCard{PageID: p.ID, Title: p.Doc.Title, FromDay: fmt.Sprintf("20%02d-01-%02d", 10+i%16, 1+i%28), Summary: known.Summary, FirstAt: now, Cover: uint(i + 1), Files: cover}
			if err := s.SetCard(c, p.Doc.KnownBy(r, p.ID, p.Section, p.Slug), nil); err != nil {
				return err
			}
		}
		return nil
	})
	if err != nil {
		b.Fatal(err)
	}
	begin := func(section, slug string, doc page.Doc) uint {
		doc.Version = page.Version
		id, err := d.Pages.Add(store.Page{Section: section, Slug: slug, Doc: doc})
		if err != nil {
			b.Fatal(err)
		}
		return id
	}
	for i := range withLists {
		l := page.Listing{Of: page.OfSection, Which: "s0", Look: page.Tiles, Most: 6, Days: true, Summary: true, All: true}
		switch {
		case i >= 9:
			l.Of, l.Which = page.OfTag, "t"
		case i >= 6:
			l.Of, l.Which = page.OfCategory, "c"
		}
		id := begin("s1", fmt.Sprint("list-", i), page.Doc{Title: fmt.Sprint("List ", i), Blocks: []page.Block{{ID: "l", Kind: page.List, List: &l}}})
		v, err := d.Pages.Page(id)
		if err == nil {
			_, err = d.Publish.Publish(b.Context(), id, v.Seen, "measured", func(w io.Writer, p lists.SitePage) error { _, err := w.Write([]byte(p.Main)); return err })
		}
		if err != nil {
			b.Fatal(err)
		}
	}
	return d, kept, begin("s0", "the-page", page.Doc{Title: "The page", Details: known, Blocks: []page.Block{{ID: "t", Kind: page.Text, Text: "Words."}}})
}

// nearby is a visitor who needs no network.
type nearby struct{ desk *desk.Desk }

// Fetch returns what is published at an address.
func (n *nearby) Fetch(_ context.Context, address string) ([]byte, string, error) {
	at, err := url.Parse(address)
	if err != nil {
		return nil, "", err
	}
	f, err := n.desk.Publish.Published(at.Path, at.Query().Get("v"))
	if err != nil {
		return nil, "", err
	}
	defer f.Close()
	data, err := io.ReadAll(f)
	return data, f.MediaType, err
}
