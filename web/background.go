package web

import (
	"fmt"
	"image"
	"net/http"
	"slices"
	"strings"

	"github.com/go-chi/chi/v5"

	"mivlet/core/audit"
	"mivlet/core/fit"
	"mivlet/core/layout"
	"mivlet/core/page"
	"mivlet/core/rules"
	"mivlet/desk/backgrounds"
	"mivlet/desk/pictures"
	"mivlet/desk/snapshot"
	"mivlet/store"
)

// backgroundRoutes are the pictures behind the bands of a page.
func (s *server) backgroundRoutes(r chi.Router) {
	r.Get("/background", func(w http.ResponseWriter, r *http.Request) { s.showPage(w, r, showing{behind: r.FormValue("block")}) })
	r.Post("/background", s.setBackground)
	r.Get("/behind/{block}/{device}", s.behindLook)
}

// backgroundPanel is the picture behind a band, in the panel.
type backgroundPanel struct {
	*backgrounds.View        // nil where there is none yet
	Block, Mark       string // of the band
	First             bool   // the band is the first, so that the title can stand in it
	Front             string // what the page is the front page of: section or house; "" for none
	Seen              fit.Size
	Devices           []behindDevice // the widest first
	Tray              []pictures.Item
	Find              string
}

// behindDevice is what is seen of a background on a device.
type behindDevice struct {
	layout.Device
	Viewport int
	Box      fit.Size        // CSS px
	Shown    image.Rectangle // of the picture, in pixels of its own frame as it is seen
	Text     []image.Rectangle
	Contrast *audit.Contrast // nil where no text stands over it
	Least    int             // height as it was chosen; 0 is as high as the text
	Above    int             // height at the top of other pages
}

// Lines draws where text stands, in CSS px of the box.
func (d behindDevice) Lines() string {
	var path strings.Builder
	for _, a := range d.Text {
		for i, part := range []int{45, 80, 70} { // a heading and two lines
			fmt.Fprintf(&path, "M%d %dh%d", a.Min.X, a.Max.Y-(3-i)*d.Box.H/7, a.Dx()*part/100)
		}
	}
	return path.String()
}

func (s *server) backgroundPanel(r *http.Request, p store.Page, house rules.Rules, block page.Block) (*backgroundPanel, error) {
	d := s.at(r)
	f := &backgroundPanel{Block: block.ID, Mark: block.Mark(), First: p.Doc.Blocks[0].ID == block.ID, Find: r.FormValue("find")}
	if p.Slug == "" {
		if f.Front = "section"; p.Section == "" {
			f.Front = "house"
		}
	}
	var err error
	if f.Tray, err = d.Pages.Tray(f.Find); err != nil {
		return nil, err
	}
	if f.View, err = d.Backgrounds.Of(p.ID, block.ID); err != nil || f.View == nil {
		return f, err
	}
	pic := snapshot.Covering(f.Shows, f.Background.Cover)
	view := pic.Work.Recipe.View(pic.Facts.Upright())
	f.Seen = fit.SizeOf(view.Seen())
	f.Background.Focus = &view.Focus
	room := page.BandRoom(house, block.Band)
	for _, device := range slices.Backward(layout.Devices[:]) {
		box := room.At(device)
		one := behindDevice{Device: device, Viewport: device.Viewport(), Box: box, Shown: fit.BoxFrame(view.Seen(), box, view.Focus),
			Text: p.Doc.TextAreas(house, block.ID, device), Least: f.Height.On(device)}
		if f.Elsewhere != nil {
			one.Above = f.Elsewhere.On(device)
		}
		for i, c := range f.Contrasts {
			if c.On == device && (one.Contrast == nil || c.Ratio/c.Need < one.Contrast.Ratio/one.Contrast.Need) {
				one.Contrast = &f.Contrasts[i]
			}
		}
		f.Devices = append(f.Devices, one)
	}
	return f, nil
}

// Across is where the focus lies, in percent from the left.
func (f backgroundPanel) Across() int { return int(100*f.Background.Focus.X + 0.5) }

// Down is where the focus lies, in percent from the top.
func (f backgroundPanel) Down() int { return int(100*f.Background.Focus.Y + 0.5) }

// At is the spot of the focus, in pixels.
func (f backgroundPanel) At() image.Point {
	return image.Pt(int(f.Background.Focus.X*float64(f.Seen.W)), int(f.Background.Focus.Y*float64(f.Seen.H)))
}

// Unit is a length for what is drawn on the picture, in its pixels.
func (f backgroundPanel) Unit() int { return max(1, max(f.Seen.W, f.Seen.H)/28) }

// Enough is the percent by which all text can be read, in the tone that is chosen.
func (f backgroundPanel) Enough() int {
	if f.Light {
		return f.Lit
	}
	return f.Dark
}

// Opacity is how much lies over the picture, 0 to 1.
func (f backgroundPanel) Opacity() float64 { return float64(f.Shade) / 100 }

// Reads reports whether all text over it can be read.
func (f backgroundPanel) Reads() bool {
	return !slices.ContainsFunc(f.Contrasts, func(c audit.Contrast) bool { return c.Ratio < c.Need })
}

// setBackground reads the whole form; without a picture, nothing stands behind the band any more.
func (s *server) setBackground(w http.ResponseWriter, r *http.Request) {
	block := r.FormValue("block")
	var b *page.Background
	if picture := number(r.FormValue("picture")); picture != 0 {
		b = &page.Background{Cover: page.Cover{Picture: picture}, Height: page.UsualHeight, Shade: whole(r, "shade", 0), Light: r.FormValue("tone") == "light",
			Header: r.FormValue("header") != "", Below: r.FormValue("below") != ""}
		if filled(r, "across", "down") && r.FormValue("another") == "" {
			b.Focus = &fit.Focus{X: float64(whole(r, "across", 50)) / 100, Y: float64(whole(r, "down", 50)) / 100}
		}
		if _, there := r.Form["height-phone"]; there {
			b.Height = heightsOf(r, "height", layout.Lengths{})
		}
		if r.FormValue("elsewhere") != "" {
			heights := heightsOf(r, "above", page.UsualElsewhere)
			b.Elsewhere = &heights
		}
	}
	s.pageChangedTo(w, r, s.at(r).Backgrounds.Set(id(r), block, r.FormValue("mark"), b), showing{behind: block})
}

// heightsOf reads a height for each device; what is not said is as usual.
func heightsOf(r *http.Request, name string, usual layout.Lengths) layout.Lengths {
	return layout.Lengths{Phone: whole(r, name+"-phone", usual.Phone), Tablet: whole(r, name+"-tablet", usual.Tablet), Desktop: whole(r, name+"-desktop", usual.Desktop)}
}

// behindLook serves what a picture looks like behind a band of a draft. Its address changes
// with the draft and with the picture.
func (s *server) behindLook(w http.ResponseWriter, r *http.Request) {
	i := slices.IndexFunc(layout.Devices[:], func(d layout.Device) bool { return d.String() == chi.URLParam(r, "device") })
	if i < 0 {
		http.NotFound(w, r)
		return
	}
	f, err := s.at(r).Backgrounds.Look(id(r), chi.URLParam(r, "block"), layout.Devices[i])
	s.serveFile(w, r, f, err, "private, max-age=3600")
}

// draftBacking is a background as the screen of the page shows it.
func draftBacking(v pageView, id string, b page.Background, room page.Room) page.Backing {
	address := func(d layout.Device) string {
		return fmt.Sprintf("%s/pages/%d/behind/%s/%s?v=%d-%d", v.base, v.ID, id, d, v.Version, v.PageView.Seen.Pictures[b.Picture])
	}
	var all page.Backing
	for _, d := range layout.Devices {
		box := room.At(d)
		if media := room.Media(d); media != "" {
			all.Sources = append(all.Sources, page.ForDevice{Media: media, SrcSet: fmt.Sprintf("%s %dw", address(d), box.W), Sizes: room.Sizes(), Width: box.W, Height: box.H})
			continue
		}
		all.Image = page.Image{Src: address(d), Width: box.W, Height: box.H}
	}
	return all
}
