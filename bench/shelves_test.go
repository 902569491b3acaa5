package bench

import (
	"bytes"
	"fmt"
	"image"
	"image/color"
	"image/jpeg"
	"math/rand/v2"
	"runtime"
	"testing"
	"time"

	"mivlet/core/facts"
	"mivlet/core/fit"
	"mivlet/desk"
	"mivlet/desk/shelves"
	"mivlet/store"
	"mivlet/store/datafolder"
)

const manyPictures = 100_000

// shelf is a store of a hundred thousand pictures.
func shelf(b *testing.B) *desk.Desk {
	b.Helper()
	s, err := datafolder.Open(b.TempDir())
	if err != nil {
		b.Fatal(err)
	}
	b.Cleanup(func() { _ = s.Close() })
	words := []string{"boat", "lake", "jetty", "paddle", "island", "mist", "launch", "harbour", "regatta", "reeds", "sponge", "kayak", "shore", "autumn", "spring", "bucket", "vest", "rack", "junior", "picnic"}
	noise := rand.New(rand.NewPCG(1, 1))
	word := func() string { return words[noise.IntN(len(words))] }
	now := time.Date(2026, 11, 1, 12, 0, 0, 0, time.UTC)
	for from := 0; from < manyPictures; from += 5000 {
		err := s.Tx(func(s store.Records) error {
			for i := from; i < from+5000; i++ {
				p := store.Picture{Section: "house", Folder: fmt.Sprintf("%d/%s", 2006+i%20, word()), OriginalHash: fmt.Sprintf("%064d", i), OriginalName: fmt.Sprintf("DSC_%04d.JPG", i%10000), Station: store.Shelf,
					Person: "Ines Varrow", CreatedAt: now.Add(-time.Duration(i) * time.Hour), Facts: facts.Facts{MediaType: "image/jpeg", Stored: fit.Size{W: 6000, H: 4000}, Frames: 1, Orientation: facts.Upright, Bytes: int64(1e6 + i), Position: i%3 == 0}}
				p.Work.Name = fmt.Sprintf("house-%s-%s-%d", word(), word(), i)
				p.Work.Alt = fmt.Sprintf("A %s and a %s beside the %s near the %s", word(), word(), word(), word())
				if i%7 == 0 {
					p.Work.Alt = ""
				}
				if err := s.AddPicture(&p); err != nil {
					return err
				}
			}
			return nil
		})
		if err != nil {
			b.Fatal(err)
		}
	}
	d, err := desk.New(&s.Store, desk.Options{})
	if err != nil {
		b.Fatal(err)
	}
	return d
}

// What a hand on the shelves asks for, at a hundred thousand pictures.
func BenchmarkShelvesOf100000(b *testing.B) {
	d := shelf(b)
	for name, q := range map[string]store.ShelfQuery{
		"first screen":           {},
		"search, two words":      {Text: "regatta mist"},
		"search, beginning":      {Text: "re"},
		"search, one name":       {Text: "house-lake-jetty 4711"},
		"filter, no description": {Filter: "no-alt"},
		"filter, never placed":   {Filter: "never-placed"},
		"folder":                 {Section: "house", Folder: "2019"},
		"by name, screen 500":    {Sort: store.ByName, Skip: 500 * shelves.ShelfPage},
		"heaviest first":         {Sort: store.ByHeavier},
	} {
		b.Run(name, func(b *testing.B) {
			for b.Loop() {
				if _, err := d.Shelves.Shelves(q); err != nil {
					b.Fatal(err)
				}
			}
		})
	}
}

// Two hundred photos of 6 megapixels that arrive one after the other: the time
// of each, and the memory that is held at the end.
func BenchmarkArrivalOf200(b *testing.B) {
	m := image.NewRGBA(image.Rect(0, 0, 3000, 2000))
	for y := range 2000 {
		for x := range 3000 {
			m.SetRGBA(x, y, color.RGBA{uint8(x / 12), uint8(y / 8), uint8((x * y) >> 12), 255})
		}
	}
	for b.Loop() {
		s, err := datafolder.Open(b.TempDir())
		if err != nil {
			b.Fatal(err)
		}
		d, err := desk.New(&s.Store, desk.Options{})
		if err != nil {
			b.Fatal(err)
		}
		var most uint64
		for i := range 200 {
			m.SetRGBA(i, i, color.RGBA{255, 0, 0, 255})
			b.StopTimer()
			var file bytes.Buffer
			if err := jpeg.Encode(&file, m, nil); err != nil {
				b.Fatal(err)
			}
			b.StartTimer()
			if _, err := d.Pictures.Arrive(fmt.Sprintf("DSC_%04d.JPG", i), &file, "house"); err != nil {
				b.Fatal(err)
			}
			var mem runtime.MemStats
			runtime.ReadMemStats(&mem)
			most = max(most, mem.HeapInuse)
		}
		b.ReportMetric(float64(most)/1e6, "MB-held-at-most")
		_ = s.Close()
	}
}
