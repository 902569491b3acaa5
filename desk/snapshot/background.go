package snapshot

import (
	"fmt"
	"image"
	"math"

	"mivlet/core/audit"
	"mivlet/core/contrast"
	"mivlet/core/fit"
	"mivlet/core/layout"
	"mivlet/core/page"
	"mivlet/core/recipe"
	"mivlet/core/rules"
	"mivlet/desk/cuts"
	"mivlet/desk/derive"
	"mivlet/store"
)

// Backing makes the files of a picture behind a band, or at the top of a page, for all
// devices; address tells where each of them will be found, and may note it.
func (d *Desk) Backing(n *Snapshot, back page.Background, room page.Room, address func(store.Picture, store.Cut) string) (page.Backing, error) {
	pic := Covering(n.Pictures[back.Picture], back.Cover)
	slots := room.Slots()
	made, err := d.cuts.CutsOfStill(n.House.Rules, pic, slots)
	if err != nil {
		return page.Backing{}, fmt.Errorf("the background: %w", err)
	}
	at := func(c store.Cut) string { return address(pic, c) }
	var b page.Backing
	for i, device := range layout.Devices {
		m, media := cuts.Image(made[i], room.Sizes(), "", at), room.Media(device)
		lighter, err := d.lighter(n, pic, slots[i], made[i])
		if err != nil {
			return page.Backing{}, fmt.Errorf("the background: %w", err)
		}
		for _, others := range lighter {
			b.Sources = append(b.Sources, page.ForDevice{Media: media, MediaType: others[0].MediaType, SrcSet: cuts.SrcSet(others, at), Sizes: room.Sizes(),
				Width: others[0].Width, Height: others[0].Height})
		}
		if media != "" {
			files := page.ForDevice{Media: media, SrcSet: m.SrcSet, Sizes: m.Sizes, Width: m.Width, Height: m.Height}
			if files.SrcSet == "" {
				files.SrcSet, files.Sizes = fit.SrcSet([]fit.Candidate{{URL: m.Src, Width: m.Width}}), room.Sizes()
			}
			b.Sources = append(b.Sources, files)
			continue
		}
		b.Image = m
	}
	return b, nil
}

// Behind is a background as a device gets it.
type Behind struct {
	Picture store.Picture
	Room    page.Room
	Cuts    []store.Cut // in ascending density
}

// Behind returns the backgrounds of a page on a device, with their cuts made: what stands at
// its top, and those of its bands.
func (d *Desk) Behind(n *Snapshot, on layout.Device) ([]Behind, error) {
	var all []Behind
	add := func(b page.Background, room page.Room) error {
		pic := Covering(n.Pictures[b.Picture], b.Cover)
		made, err := d.cuts.CutsOfStill(n.House.Rules, pic, []rules.Slot{room.Slot(on)})
		if err == nil {
			all = append(all, Behind{pic, room, made[0]})
		}
		return err
	}
	if top := n.Top(); top != nil {
		if err := add(*top, page.TopRoom(n.House.Rules, *top)); err != nil {
			return nil, err
		}
	}
	for _, b := range n.backed() {
		if err := add(*b.Band.Background, page.BandRoom(n.House.Rules, b.Band)); err != nil {
			return nil, err
		}
	}
	return all, nil
}

// Views tells how pictures of the snapshot are seen behind bands.
func (n *Snapshot) Views(c page.Cover) (recipe.View, bool) {
	pic, ok := n.Pictures[c.Picture]
	if !ok {
		return recipe.View{}, false
	}
	return Covering(pic, c).Work.Recipe.View(pic.Facts.Upright()), true
}

// Top returns the background at the top of the page that comes from the front page of its
// section, else of the house; nil for none, and where the page has a header of its own.
func (n *Snapshot) Top() *page.Background { return n.over.of(n.Page) }

// Leaf returns the background at the top of the pages that list all of what the page lists;
// nil for none.
func (n *Snapshot) Leaf() *page.Background { return n.over.ofLeaves(n.Page) }

// tops are the backgrounds that live front pages give to the pages of their groups, by
// section.
type tops map[string]page.Background

// topsOf reads them from the documents of the front pages.
func topsOf(fronts map[string]string) (tops, error) {
	all := tops{}
	for section, text := range fronts {
		doc, err := page.Parse([]byte(text))
		if err != nil {
			return nil, fmt.Errorf("the live front page of %q: %w", section, err)
		}
		if b := doc.FirstBackground(); b != nil && b.Elsewhere != nil {
			all[section] = *b
		}
	}
	return all, nil
}

// of is what stands at the top of a page.
func (t tops) of(p store.Page) *page.Background {
	if p.Doc.FirstBackground() != nil {
		return nil
	}
	return t.given(p)
}

// ofLeaves is what stands at the top of the pages that list all of what a page lists; nil
// for none. They belong to its group: a front page gives them what it gives the others.
func (t tops) ofLeaves(p store.Page) *page.Background {
	if !p.Doc.Leads() {
		return nil
	}
	if own := p.Doc.FirstBackground(); own != nil && own.Elsewhere != nil && p.Slug == "" {
		return own
	}
	return t.given(p)
}

// used is what is shown on a page, or at the top of its leaves, and comes from another page.
func (t tops) used(p store.Page) *page.Background {
	if top := t.of(p); top != nil {
		return top
	}
	if leaf := t.ofLeaves(p); leaf != p.Doc.FirstBackground() {
		return leaf
	}
	return nil
}

// given is what the live front pages of others give to a page.
func (t tops) given(p store.Page) *page.Background {
	for _, section := range []string{p.Section, ""} {
		if b, ok := t[section]; ok && (p.Slug != "" || p.Section != section) {
			return &b
		}
	}
	return nil
}

// Contrasts measures the text over the backgrounds of the page, on the pixels that lie
// behind it on each device. It may have to make a working copy, and keeps it: call it outside
// of transactions.
func (d *Desk) Contrasts(n *Snapshot) (map[string][]audit.Contrast, error) {
	all := map[string][]audit.Contrast{}
	for _, b := range n.backed() {
		measured, err := d.contrastsOf(n, b)
		if err != nil {
			return nil, err
		}
		all[b.ID] = measured
	}
	return all, nil
}

// measured are the contrasts that were measured already; false where one was not.
func (d *Desk) measured(n *Snapshot) (map[string][]audit.Contrast, bool) {
	all := map[string][]audit.Contrast{}
	for _, b := range n.backed() {
		known, ok := d.contrasts.Get(n.texts(b).key())
		if !ok {
			return nil, false
		}
		all[b.ID] = known
	}
	return all, true
}

// backed are the bands with a picture behind them.
func (n *Snapshot) backed() []page.Block {
	var all []page.Block
	for _, b := range n.Doc.Blocks {
		if b.Band != nil && b.Band.Background != nil {
			all = append(all, b)
		}
	}
	return all
}

// over is text over a background on one device.
type over struct {
	on    layout.Device
	top   bool
	box   fit.Size
	areas []image.Rectangle // CSS px
	need  float64
}

// texts are all texts over one background.
type texts struct {
	pic   store.Picture // as it stands there
	shade contrast.Shade
	all   []over
}

func (t texts) key() string {
	return derive.Fingerprint(12, "contrast", derive.LookKey(t.pic), t.shade, fmt.Sprint(t.all))
}

// texts are those over the background of a band.
func (n *Snapshot) texts(b page.Block) texts {
	r, back := n.House.Rules, *b.Band.Background
	need := contrast.ForText
	if n.Doc.OnlyLarge(r, b.ID) {
		need = contrast.ForLargeText
	}
	var all []over
	for _, device := range layout.Devices {
		if areas := n.Doc.TextAreas(r, b.ID, device); len(areas) > 0 {
			all = append(all, over{device, false, page.BandRoom(r, b.Band).At(device), areas, need})
		}
		if back.Elsewhere != nil && n.Slug == "" {
			need := contrast.ForText
			if back.Below {
				need = contrast.ForLargeText // the name of the house stands there alone
			}
			all = append(all, over{device, true, page.TopRoom(r, back).At(device), nil, need})
		}
	}
	return texts{Covering(n.Pictures[back.Picture], back.Cover), back.Laid(), all}
}

func (d *Desk) contrastsOf(n *Snapshot, b page.Block) ([]audit.Contrast, error) {
	t := n.texts(b)
	key := t.key()
	if known, ok := d.contrasts.Get(key); ok {
		return known, nil
	}
	measured, err := derive.Once(d.derive, "contrast "+key, func() ([]audit.Contrast, error) { return d.measure(t) })
	if err == nil {
		d.contrasts.Put(key, measured)
	}
	return measured, err
}

// measure looks at the picture once for each box.
func (d *Desk) measure(t texts) ([]audit.Contrast, error) {
	var measured []audit.Contrast
	dark, lit := 0, 0
	for _, o := range t.all {
		m, err := d.derive.Boxed(t.pic, o.box)
		if err != nil {
			return nil, err
		}
		scale := float64(m.Bounds().Dx()) / float64(o.box.W)
		areas := make([]image.Rectangle, len(o.areas))
		for i, a := range o.areas {
			px := func(v int) int { return int(math.Round(float64(v) * scale)) }
			areas[i] = image.Rect(px(a.Min.X), px(a.Min.Y), px(a.Max.X), px(a.Max.Y)).Add(m.Bounds().Min)
		}
		on := func(s contrast.Shade) contrast.Backing {
			return contrast.Behind(contrast.On(s.Ground(), m), scale, areas...)
		}
		dark = max(dark, contrast.Enough(false, o.need, on(contrast.Shade{})).Percent)
		lit = max(lit, contrast.Enough(true, o.need, on(contrast.Shade{Light: true})).Percent)
		measured = append(measured, audit.Contrast{On: o.on, Top: o.top, Ratio: on(t.shade).Least(t.shade), Need: o.need})
	}
	for i := range measured {
		measured[i].Dark, measured[i].Lit = dark, lit
	}
	return measured, nil
}
