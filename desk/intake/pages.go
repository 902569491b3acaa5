package intake

import (
	"bytes"
	"cmp"
	"fmt"
	"path"
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
// its own, beside the screens. When all have come they are not offered again.
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
	later := d.beside()
	var tasks []jobs.Task
	came := 0
	for n := 2; n <= p.Facts.Pages; n++ {
		tasks = append(tasks, jobs.Task{Steps: 1, Do: func() error {
			if err := later.bringPage(p, n); err != nil {
				return fmt.Errorf("page %d: %w", n, err)
			}
			if came++; came == p.Facts.Pages-1 {
				return later.pagesCame(id)
			}
			return nil
		}})
	}
	return d.jobs.Start("Bringing pages in", tasks), nil
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
	_, err = d.pictures.Arrive(name, bytes.NewReader(e.Data), p.Section)
	return err
}

// pagesCame notes that the other pages of a file are here.
func (d *Desk) pagesCame(id uint) error {
	return d.pictures.Stirring(id, func(s store.Records) error {
		p, err := d.Mine(s, id)
		if err != nil {
			return err
		}
		all := p.Facts.Pages
		p.Facts.Pages = 1
		if err := s.SavePicture(&p); err != nil {
			return err
		}
		return d.pictures.TracePicture(s, p, "Brought the other %d pages of %s in", all-1, p.OriginalName)
	})
}
