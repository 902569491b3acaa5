package intake

import (
	"bytes"
	"cmp"
	"crypto/sha256"
	"encoding/hex"
	"fmt"
	"path"
	"slices"
	"strings"

	"mivlet/core/facts"
	"mivlet/core/fit"
	"mivlet/core/raster"
	"mivlet/desk/access"
	"mivlet/desk/jobs"
	"mivlet/store"
)

// mostPages is how many pages of a file are brought in at a time.
const mostPages = 50

// BringPages brings the other pages of a file in, of which the first one arrived, each as a picture of
// its own, beside the screens. Those that came before are left out, and when all have come none is offered.
func (d *Desk) BringPages(id uint) (*jobs.Job, error) {
	p, err := d.Mine(d.Store, id)
	if err != nil {
		return nil, err
	}
	switch {
	case p.Facts.Pages < 2:
		return nil, access.Refuse(access.Bad, access.NameOr(p)+" has no other pages to bring in.", "Bring the file again if you threw them away.")
	case p.Facts.Pages > mostPages:
		return nil, access.Refuse(access.Bad, fmt.Sprintf("%s has %d pages. Up to %d are brought in at a time.", access.NameOr(p), p.Facts.Pages, mostPages),
			"Split the file, and bring its parts.")
	}
	var tasks []jobs.Of[otherPage]
	for n := 2; n <= p.Facts.Pages; n++ {
		if !slices.Contains(p.PagesBrought, n) {
			tasks = append(tasks, jobs.Of[otherPage]{Steps: 1, Of: otherPage{id, n}})
		}
	}
	return d.bringLater(d.jobs, "Bringing pages in", tasks)
}

// otherPage is a page of a file, of which the first page is a picture.
type otherPage struct {
	Picture uint `json:"picture"`
	Page    int  `json:"page"`
}

// bringOne brings a page in, unless that was done before the program ended.
func (d *Desk) bringOne(of otherPage) error {
	p, err := d.Mine(d.Store, of.Picture)
	if err != nil || slices.Contains(p.PagesBrought, of.Page) || p.Facts.Pages < 2 {
		return err
	}
	if err := d.bringPage(p, of.Page); err != nil {
		return fmt.Errorf("page %d: %w", of.Page, err)
	}
	return d.pageCame(of)
}

// bringPage brings one page of a file in.
func (d *Desk) bringPage(p store.Picture, n int) error {
	f, err := d.Store.Files.Open(cmp.Or(p.ArrivedHash, p.OriginalHash))
	if err != nil {
		return err
	}
	defer f.Close()
	page, err := facts.TIFFPage(f, n)
	if err != nil {
		return err
	}
	known, err := facts.Read(page)
	if err != nil {
		return d.derive.RefuseFile(p.OriginalName, err)
	}
	name := fmt.Sprintf("%s-page-%d.png", strings.TrimSuffix(p.OriginalName, path.Ext(p.OriginalName)), n)
	src, done, err := d.derive.Decode(page, known, fit.Size{})
	if err != nil {
		return d.derive.RefuseFile(name, err)
	}
	size := src.Upright()
	e, err := raster.Encode(src.Cut(size.Rect(), size), raster.Options{Format: raster.PNG})
	done()
	if err != nil {
		return err
	}
	sum := sha256.Sum256(e.Data)
	same, err := d.Store.PicturesByOriginal(hex.EncodeToString(sum[:]))
	if err != nil || slices.ContainsFunc(same, func(o store.Picture) bool {
		return o.Section == p.Section && o.OriginalName == name && o.Station != store.Bin
	}) {
		return err // the program ended right behind its coming
	}
	_, err = d.pictures.Arrive(name, bytes.NewReader(e.Data), p.Section)
	return err
}

// pageCame notes that a page of a file is here. When all are, they are not offered again.
func (d *Desk) pageCame(of otherPage) error {
	return d.pictures.Stirring(of.Picture, func(s store.Records) error {
		p, err := d.Mine(s, of.Picture)
		if err != nil {
			return err
		}
		p.PagesBrought = append(p.PagesBrought, of.Page)
		others := p.Facts.Pages - 1
		all := len(p.PagesBrought) == others
		if all {
			p.Facts.Pages, p.PagesBrought = 1, nil
		}
		if err := s.SavePicture(&p); err != nil || !all {
			return err
		}
		return d.pictures.TracePicture(s, p, "Brought the other %d pages of %s in", others, p.OriginalName)
	})
}
