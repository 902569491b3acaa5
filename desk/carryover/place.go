package carryover

import (
	"errors"
	"fmt"
	"path"

	"mivlet/core/carry"
	"mivlet/core/mend"
	"mivlet/core/page"
	"mivlet/desk/access"
	"mivlet/desk/landing"
	"mivlet/desk/pages"
	"mivlet/desk/pictures"
	"mivlet/store"
)

// place has a picture come to a gap of the page, with its words. What cannot come is noted. It returns the block.
func (d *Desk) place(c *carrying, id uint, gap page.Gap, b carry.Block) (block string, err error) {
	file := ""
	for _, u := range c.from.Uses {
		if u.Address == b.Address {
			file = u.File
		}
	}
	switch f := c.Files[file]; {
	case f == nil:
		c.missing = append(c.missing, b.Address+" is not in the site")
		return "", nil
	case f.Facts == nil:
		c.missing = append(c.missing, b.Address+" is no picture")
		return "", nil
	}
	if was := c.asPictures[file]; was != 0 {
		if block, err = d.pages.Insert(id, gap, page.Placement{Picture: was}); err == nil {
			return block, d.caption(id, block, b.Text)
		}
	}
	if block, err = d.land(c, id, gap, file); err != nil || block == "" {
		return block, err
	}
	alt, said := c.Choices.Words[mend.Spot{Page: c.from.Path, Address: b.Address}]
	if !said {
		alt = b.Alt
	}
	if alt != "" {
		_, err := d.landing.Finish(id, landing.Place{Block: block}, alt, c.Choices.Names[file])
		if refused := (*pictures.NameRefusal)(nil); errors.As(err, &refused) { // the house names otherwise
			_, err = d.landing.Finish(id, landing.Place{Block: block}, alt, "")
		}
		if err != nil && !isRefusal(err) { // what a description still lacks is told where it stands
			return block, err
		}
	}
	return block, d.caption(id, block, b.Text)
}

// land takes a file in where it stands; "" where it is refused, which is noted.
func (d *Desk) land(c *carrying, id uint, gap page.Gap, file string) (string, error) {
	f, err := d.former.Open(c.ID, false, file)
	if err != nil {
		return "", err
	}
	block, err := d.landing.Land(id, pages.Target{Gap: gap}, path.Base(file), f)
	if isRefusal(err) {
		c.missing = append(c.missing, err.Error())
		return "", nil
	}
	if err != nil {
		return "", err
	}
	at, err := d.placed(id, block)
	if err != nil || at.Picture == 0 {
		return block, err
	}
	c.asPictures[file] = at.Picture
	return block, d.Store.Tx(func(s store.Records) error {
		p, err := s.Picture(at.Picture)
		if err != nil {
			return err
		}
		return errors.Join(s.ChooseForFormer(&store.FormerChoice{FormerSiteID: c.ID, Kind: store.FormerCarried, File: file, Text: fmt.Sprint(at.Picture), Person: d.Person.Name, At: d.Now()}),
			d.TracePicture(s, p, "Carried over from %s, where it stood on %s", c.Title, c.from.Path))
	})
}

// placed is how the picture of a block stands; nothing where the block holds none.
func (d *Desk) placed(id uint, block string) (page.Placement, error) {
	p, err := d.pages.OwnPage(id)
	if err != nil {
		return page.Placement{}, err
	}
	b, ok := p.Doc.Block(block)
	if !ok || len(b.Holds()) == 0 {
		return page.Placement{}, nil
	}
	return b.Holds()[0], nil
}

func (d *Desk) caption(id uint, block, text string) error {
	if text == "" {
		return nil
	}
	was, err := d.placed(id, block)
	if err != nil {
		return err
	}
	return d.landing.Caption(id, landing.Place{Block: block}, was.Caption, page.PlainCaption(text))
}

func isRefusal(err error) bool {
	var r *access.Refusal
	return errors.As(err, &r)
}
