package bench

import (
	"bytes"
	"context"
	"fmt"
	"image"
	"image/color"
	"image/jpeg"
	"io"
	"net/http"
	"net/http/httptest"
	"strings"
	"testing"

	"mivlet/core/page"
	"mivlet/core/rules"
	"mivlet/desk"
	"mivlet/desk/bench"
	"mivlet/desk/pictures"
	"mivlet/desk/publish"
	"mivlet/edge/visitor"
	"mivlet/store/datafolder"
)

// largePage is a house with pages of many blocks and pictures.
type largePage struct {
	*desk.Desk
	page     uint
	pictures []uint
}

func layOut(w io.Writer, p publish.SitePage) error {
	_, err := io.WriteString(w, "<!DOCTYPE html><title>"+p.Title+"</title><main>"+p.Main+"</main>")
	return err
}

// large lays out a page of some blocks, of which some hold pictures.
func large(b *testing.B, blocks, shown int) largePage {
	b.Helper()
	s, err := datafolder.Open(b.TempDir())
	if err != nil {
		b.Fatal(err)
	}
	b.Cleanup(func() { s.Close() })
	r := rules.Default()
	r.Sections = []rules.Section{{Code: "juniors", Title: "Juniors", Sign: "wave", Folder: "juniors"}}
	var d *desk.Desk
	site := httptest.NewServer(http.HandlerFunc(func(w http.ResponseWriter, req *http.Request) {
		f, err := d.Publish.Published(req.URL.Path, req.URL.Query().Get("v"))
		if err != nil {
			http.NotFound(w, req)
			return
		}
		defer f.Close()
		w.Header().Set("Content-Type", f.MediaType)
		_, _ = io.Copy(w, f)
	}))
	b.Cleanup(site.Close)
	if d, err = desk.New(&s.Store, desk.Options{SiteURL: site.URL, Visitor: visitor.New()}); err != nil {
		b.Fatal(err)
	}
	must := func(err error) {
		b.Helper()
		if err != nil {
			b.Fatal(err)
		}
	}
	must(d.House.ChangeRules(func(rules.Rules) (rules.Rules, error) { return r, nil }))
	_, err = d.House.ApplyRules("to measure")
	must(err)
	h := largePage{Desk: d}
	h.page, err = d.Pages.NewPage("juniors", "A large page", "empty")
	must(err)
	for n := range shown {
		came, err := d.Pictures.Arrive(fmt.Sprintf("DSC_%04d.JPG", n), bytes.NewReader(plainPhoto(n)), "juniors")
		must(err)
		must(d.Bench.Send([]uint{came.ID}, bench.Assignment{Slot: "side", Section: "juniors"}))
		must(d.Pictures.SetName(came.ID, fmt.Sprintf("juniors-launch-number-%d", n)))
		must(d.Pictures.SetWords(came.ID, pictures.Newest, pictures.Words{Alt: fmt.Sprintf("Boat number %d leaves the jetty", n)}))
		h.pictures = append(h.pictures, came.ID)
	}
	after := ""
	for n := range blocks {
		var id string
		if n*shown/blocks != (n+1)*shown/blocks {
			id, err = d.Pages.Insert(h.page, page.Behind(after), page.Placement{Picture: h.pictures[n*shown/blocks], Slot: "side", Side: page.Centre})
		} else {
			id, err = d.Pages.AddBlock(h.page, page.Behind(after), page.Text, "", strings.Repeat("Words about a morning on the water. ", 10))
		}
		must(err)
		after = id
	}
	return h
}

func plainPhoto(seed int) []byte {
	m := image.NewRGBA(image.Rect(0, 0, 900, 600))
	for y := range 600 {
		for x := range 900 {
			m.SetRGBA(x, y, color.RGBA{uint8(x/4 + seed*7), uint8(y / 3), uint8(seed * 13), 255})
		}
	}
	var b bytes.Buffer
	_ = jpeg.Encode(&b, m, nil)
	return b.Bytes()
}

// Opening and saving a page of 300 blocks and 120 pictures.
func BenchmarkPageOf300(b *testing.B) {
	h := large(b, 300, 120)
	v, err := h.Pages.Page(h.page)
	if err != nil {
		b.Fatal(err)
	}
	text := ""
	for _, one := range v.Blocks {
		if one.Kind == page.Text {
			text = one.ID
			break
		}
	}
	b.Run("open", func(b *testing.B) {
		for b.Loop() {
			if _, err := h.Pages.Page(h.page); err != nil {
				b.Fatal(err)
			}
		}
	})
	b.Run("save", func(b *testing.B) {
		mark := ""
		for n := 0; b.Loop(); n++ {
			if mark == "" {
				now, _ := v.Doc.Block(text)
				mark = now.Mark()
			}
			words := fmt.Sprint("Other words ", n)
			if err := h.Pages.SetText(h.page, text, mark, words); err != nil {
				b.Fatal(err)
			}
			now, _ := v.Doc.Block(text)
			now.Text = words
			mark = now.Mark()
		}
	})
	publish := func() {
		p, err := h.Pages.Page(h.page)
		if err == nil {
			_, err = h.Publish.Publish(context.Background(), h.page, p.Seen, "", layOut)
		}
		if err != nil {
			b.Fatal(err)
		}
	}
	publish() // makes the cuts
	b.Run("publish", func(b *testing.B) {
		for b.Loop() {
			publish()
		}
	})
}

// Publishing 50 pages together, of 4 pictures each, after a picture on all of them
// was changed.
func BenchmarkPublish50(b *testing.B) {
	h := large(b, 8, 4)
	pages := []uint{h.page}
	for range 49 {
		id, err := h.Pages.DuplicatePage(h.page)
		if err != nil {
			b.Fatal(err)
		}
		pages = append(pages, id)
	}
	for _, id := range pages {
		p, err := h.Pages.Page(id)
		if err == nil {
			_, err = h.Publish.Publish(context.Background(), id, p.Seen, "", layOut)
		}
		if err != nil {
			b.Fatal(err)
		}
	}
	for n := 0; b.Loop(); n++ {
		if err := h.Pictures.SetWords(h.pictures[0], pictures.Newest, pictures.Words{Alt: fmt.Sprintf("A boat leaves the jetty for the time number %d", n)}); err != nil {
			b.Fatal(err)
		}
		job, err := h.Publish.PublishChanged(0, layOut)
		if err != nil {
			b.Fatal(err)
		}
		job.Wait()
		if p := job.Progress(); p.Done != 50 || len(p.Failed) > 0 {
			b.Fatalf("%d of 50 pages, %v", p.Done, p.Failed)
		}
	}
}
