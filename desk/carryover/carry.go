package carryover

import (
	"context"
	"errors"
	"fmt"
	"slices"
	"strconv"
	"strings"

	"mivlet/core/carry"
	"mivlet/core/survey"
	"mivlet/core/words"
	"mivlet/desk/access"
	"mivlet/desk/former"
	"mivlet/desk/jobs"
	"mivlet/store"
)

// mostTitle is how long the title of a page is, at most, in letters.
const mostTitle = 120

// ToCarry is a page of a former site that can become one of the house's.
type ToCarry struct {
	Path, Title string
	Pictures    int
	As          uint   // the page that it became; 0 where it did not, or where that was deleted
	AsTitle     string // what that is called
}

// Pages lists the pages of a site, and what they became.
func (d *Desk) Pages(id uint) (v former.View, all []ToCarry, err error) {
	if v, err = d.former.Of(id); err != nil {
		return v, nil, err
	}
	found, err := d.former.Known(id)
	if err != nil {
		return v, nil, err
	}
	asPages, _ := carriedOf(found.All)
	titles, err := d.Store.PageTitles(0)
	if err != nil {
		return v, nil, err
	}
	for _, p := range found.Pages {
		one := ToCarry{Path: p.Path, Title: words.VisibleLine(p.Title, mostTitle)}
		for _, u := range p.Uses {
			if u.Kind == survey.Image && found.Files[u.File] != nil {
				one.Pictures++
			}
		}
		for _, t := range titles {
			if t.ID == asPages[p.Path] {
				one.As, one.AsTitle = t.ID, t.Title
			}
		}
		all = append(all, one)
	}
	return v, all, nil
}

// carriedOf are the pages that pages of a site became, by path, and the pictures that its files became.
func carriedOf(all []store.FormerChoice) (asPages, asPictures map[string]uint) {
	asPages, asPictures = map[string]uint{}, map[string]uint{}
	for _, c := range all {
		if c.Kind != store.FormerCarried {
			continue
		}
		n, _ := strconv.ParseUint(c.Text, 10, 63)
		if c.Page != "" {
			asPages[c.Page] = uint(n)
		} else {
			asPictures[c.File] = uint(n)
		}
	}
	return asPages, asPictures
}

// carrying is a page of a former site on its way.
type carrying struct {
	former.Known
	from       *survey.Page
	section    string
	asPages    map[string]uint
	asPictures map[string]uint
	missing    []string // pictures that did not come, each with why
}

// toCarry is a page of a former site that is to become one of a section; without one, links are led on.
type toCarry struct {
	Site    uint   `json:"site"`
	Page    string `json:"page"`
	Section string `json:"section"`
}

// mostPages is how many pages are carried over at a time.
const mostPages = 500

// Begin begins to make pages of a former site drafts of a section, beside the screens, one after the other. Their
// pictures come as if somebody had dropped them there, with their descriptions and captions. At last links between
// all pages that came over are led to those.
func (d *Desk) Begin(id uint, chosen []string, section string) (*jobs.Job, error) {
	if err := d.MayWork(section); err != nil {
		return nil, err
	}
	if _, known := d.Rules().Section(section); !known {
		return nil, access.Refuse(access.Bad, "Choose the section that the pages are for.", "Each page belongs to one.")
	}
	switch n := len(chosen); {
	case n == 0:
		return nil, access.Refuse(access.Bad, "No page is chosen.", "Tick those that come over.")
	case n > mostPages:
		return nil, access.Refuse(access.Bad, fmt.Sprintf("%d pages are chosen. Up to %d come over at a time.", n, mostPages), "Carry the others over later.")
	}
	known, err := d.former.Known(id)
	if err != nil {
		return nil, err
	}
	asPages, _ := carriedOf(known.All)
	var tasks []jobs.Of[toCarry]
	for _, at := range chosen {
		i := slices.IndexFunc(known.Pages, func(p *survey.Page) bool { return p.Path == at })
		if i < 0 {
			return nil, access.Refuse(access.Missing, fmt.Sprintf("There is no page %q in that site.", at), "Choose one from the list.")
		}
		if was, err := d.Store.Page(asPages[at]); err == nil && was.DroppedAt == nil {
			return nil, access.Refuse(access.Clash, fmt.Sprintf("%s has been carried over already: %s.", at, was.Doc.Title), "Work on that draft, or delete it first.")
		}
		tasks = append(tasks, jobs.Of[toCarry]{Steps: len(known.Pages[i].Uses) + 1, Of: toCarry{id, at, section}})
	}
	title := "Carrying over " + access.Count(len(chosen), "page")
	if len(chosen) == 1 {
		title = "Carrying over " + chosen[0]
	}
	j, err := d.carrying.Begin(d.jobs, id, title, append(tasks, jobs.Of[toCarry]{Steps: 1, Of: toCarry{Site: id}}))
	if errors.Is(err, jobs.ErrGoesOn) {
		return nil, access.Refuse(access.Clash, "Other pages of this site are being carried over.", "Wait until that is done.")
	}
	return j, err
}

// carry does one task of it. A page that was on its way when the program ended is begun anew.
func (d *Desk) carry(ctx context.Context, j *jobs.Job, of toCarry) error {
	known, err := d.former.Known(of.Site)
	if err != nil {
		return err
	}
	c := carrying{Known: known, section: of.Section}
	c.asPages, c.asPictures = carriedOf(c.All)
	if of.Page == "" {
		return d.leadOn(&c)
	}
	i := slices.IndexFunc(c.Pages, func(p *survey.Page) bool { return p.Path == of.Page })
	if i < 0 {
		return access.Refuse(access.Missing, of.Page+" is no longer in that site.", "Choose another one.")
	}
	c.from = c.Pages[i]
	return d.carryOver(ctx, &c, j.Come)
}

// Going is the job that carries a page of a site over, or that did and left something out; 0 where there is none
// to tell of.
func (d *Desk) Going(id uint) (uint, error) { return d.carrying.ToTell(d.jobs, id) }

func (d *Desk) carryOver(ctx context.Context, c *carrying, come func(int)) error {
	f, err := d.former.Open(c.ID, false, c.from.Path)
	if err != nil {
		return err
	}
	data := make([]byte, min(f.Size(), survey.LargestPage))
	if _, err := f.ReadAt(data, 0); err != nil {
		return err
	}
	read, err := carry.Read(data, carry.Options{Link: func(address string) string { return d.linkOf(c, address) }})
	if err != nil {
		return err
	}
	id, err := d.draft(c, words.VisibleLine(read.Title, mostTitle))
	if err != nil {
		return err
	}
	behind, err := d.write(id, read.Blocks)
	if err != nil {
		return err
	}
	come(1)
	for i, b := range read.Blocks {
		if ctx.Err() != nil {
			return ctx.Err() // what came stays, as a draft
		}
		if b.Kind != carry.Picture {
			continue
		}
		if behind[i], err = d.place(c, id, gapOf(read.Blocks, behind, i), b); err != nil {
			return err
		}
		come(2 + i)
	}
	if len(c.missing) > 0 {
		return access.Refuse(access.Missing, fmt.Sprintf("%s is there, without %s: %s.", c.from.Path, access.Count(len(c.missing), "picture"), strings.Join(c.missing, "; ")), "Add what is missing by hand.")
	}
	return nil
}
