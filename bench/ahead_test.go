package bench

import (
	"bytes"
	"fmt"
	"testing"

	"mivlet/core/page"
	"mivlet/demo"
	"mivlet/desk/bench"
	"mivlet/desk/pictures"
)

// BenchmarkPublishTen measures publishing a page with ten new photos of 4 to 24 megapixels, with its
// check as a visitor: at once, and after their files were made while somebody wrote on the page.
//
//	go test -run '^$' -bench PublishTen -benchtime 1x ./bench
func BenchmarkPublishTen(b *testing.B) {
	for _, ahead := range []bool{false, true} {
		b.Run(fmt.Sprintf("ahead=%v", ahead), func(b *testing.B) {
			for b.Loop() {
				b.StopTimer()
				h := large(b, 1, 0)
				for i, name := range ten {
					photo, err := demo.Picture(name)
					need(b, err)
					came, err := h.Pictures.Arrive(name, bytes.NewReader(photo), "juniors")
					need(b, err)
					need(b, h.Bench.Send([]uint{came.ID}, bench.Assignment{Slot: "column", Section: "juniors"}))
					need(b, h.Pictures.SetName(came.ID, fmt.Sprintf("juniors-boat-%03d", i)))
					need(b, h.Pictures.SetWords(came.ID, pictures.Newest, pictures.Words{Alt: fmt.Sprintf("Boat number %d leaves the jetty", i)}))
					_, err = h.Pages.Insert(h.page, page.Gap{}, page.Placement{Picture: came.ID, Slot: "column"})
					need(b, err)
				}
				if ahead {
					need(b, h.Publish.Ahead(h.page))
					h.Publish.AheadDone()
				}
				p, err := h.Pages.Page(h.page)
				need(b, err)
				b.StartTimer()
				_, err = h.Publish.Publish(b.Context(), h.page, p.Seen, "measured", layOut)
				need(b, err)
			}
		})
	}
}

// ten are photos of the demo, of 4 to 24 megapixels.
var ten = []string{"DSC_0402.JPG", "DSC_0417.JPG", "DSC_0421.JPG", "DSC_0430.JPG", "DSC_0466.JPG", "DSC_0488.JPG", "DSC_0533.JPG", "IMG_2088.JPG", "IMG_2093.JPG", "P1040860.JPG"}
