package bench

import (
	"bytes"
	"fmt"
	"image"
	"image/color"
	"image/jpeg"
	"net/http"
	"testing"
	"time"

	"mivlet/core/page"
	"mivlet/desk/bench"
	"mivlet/desk/pictures"
)

// held is how many pictures the album has.
const held = 500

// BenchmarkAlbum measures an album of 500 pictures: its screen, the page that shows it while
// its cuts are made, the same once they are made, and how heavy its page is.
//
//	go test -run '^$' -bench 'Album$' -benchtime 1x -timeout 60m ./bench
func BenchmarkAlbum(b *testing.B) {
	h := large(b, 1, 0)
	var ids []uint
	for i := range held {
		came, err := h.Pictures.Arrive(fmt.Sprintf("P%03d.jpg", i), bytes.NewReader(oneOfMany(b, i)), "juniors")
		need(b, err)
		ids = append(ids, came.ID)
	}
	need(b, h.Bench.Send(ids, bench.Assignment{Slot: "column", Section: "juniors"}))
	for i, id := range ids {
		need(b, h.Pictures.SetName(id, fmt.Sprintf("juniors-boat-%03d", i)))
		need(b, h.Pictures.SetWords(id, pictures.Newest, pictures.Words{Alt: fmt.Sprintf("Boat number %d leaves the jetty", i)}))
	}
	album, err := h.Albums.Begin("juniors", "Five hundred", ids)
	need(b, err)
	block, err := h.Albums.Place(h.page, page.Gap{}, album)
	need(b, err)
	publish := func() {
		p, err := h.Pages.Page(h.page)
		need(b, err)
		r, err := h.Publish.Publish(b.Context(), h.page, p.Seen, "measured", layOut)
		need(b, err)
		if !r.OK() {
			b.Fatal(r.Checks)
		}
	}
	b.Run("making-cuts", func(b *testing.B) {
		for b.Loop() {
			job, err := h.Albums.Prepare(album)
			need(b, err)
			job.Wait()
		}
	})
	b.Run("screen", func(b *testing.B) {
		for b.Loop() {
			_, err := h.Albums.Of(album)
			need(b, err)
		}
	})
	b.Run("page-screen", func(b *testing.B) {
		for b.Loop() {
			_, err := h.Pages.Page(h.page)
			need(b, err)
		}
	})
	for _, most := range []int{24, held} {
		show := page.AlbumShow{Album: album, Look: page.Grid, Most: most}
		p, err := h.Pages.Page(h.page)
		need(b, err)
		at, _ := p.Doc.Block(block)
		need(b, h.Albums.SetShown(h.page, block, at.Mark(), show))
		b.Run(fmt.Sprintf("publishing-%d-thumbnails", most), func(b *testing.B) {
			for b.Loop() {
				start := time.Now()
				publish()
				b.ReportMetric(time.Since(start).Seconds(), "s/publish")
			}
			p, err := h.Pages.Page(h.page)
			need(b, err)
			res, err := http.Get(h.SiteURL() + p.Path())
			need(b, err)
			defer res.Body.Close()
			var html bytes.Buffer
			_, err = html.ReadFrom(res.Body)
			need(b, err)
			b.ReportMetric(float64(html.Len()), "html-bytes")
			b.ReportMetric(float64(bytes.Count(html.Bytes(), []byte(`loading="eager"`))), "eager")
		})
	}
}

// oneOfMany is a photo of 1.5 megapixels, each another one.
func oneOfMany(b *testing.B, n int) []byte {
	b.Helper()
	m := image.NewRGBA(image.Rect(0, 0, 1500, 1000))
	for y := range 1000 {
		for x := range 1500 {
			v := x*7 + y*13 + n*31
			m.SetRGBA(x, y, color.RGBA{uint8(x/8 + n), uint8(y/5 + v%17), uint8(v % 61), 255})
		}
	}
	var out bytes.Buffer
	need(b, jpeg.Encode(&out, m, nil))
	return out.Bytes()
}

func need(b *testing.B, err error) {
	b.Helper()
	if err != nil {
		b.Fatal(err)
	}
}
