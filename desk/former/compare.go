package former

import (
	"context"
	"errors"
	"io/fs"

	"mivlet/core/mend"
	"mivlet/desk/access"
	"mivlet/desk/jobs"
	"mivlet/store"
)

// Compare has a browser compare some pages of a mended site with what they were. It fails where none is there.
type Compare func(ctx context.Context, was, now fs.FS, pages []string, progress func(done, all int)) ([]mend.Compared, error)

// toCompare is a mended site that is to be compared.
type toCompare struct {
	Site uint `json:"site"`
}

// Compared is how a mended site compares with what was. Nothing is compared where Job is 0 and Pages is empty.
type Compared struct {
	May   bool // there is a browser that could
	Job   uint // the job that compares now, or could not; 0 for none
	Pages map[string][]mend.Compared
	mend.Verdict
}

// Compared tells how the pages of the mended site as it is now compare with what they were.
func (d *Desk) Compared(id uint) (c Compared, err error) {
	f, err := d.site(id)
	if err != nil {
		return c, err
	}
	if c.Job, err = d.comparing.ToTell(d.jobs, id); err != nil {
		return c, err
	}
	c.May, c.Pages = d.compare != nil, map[string][]mend.Compared{}
	kept, err := d.Store.FormerCompared(id)
	if errors.Is(err, store.ErrNotFound) || err == nil && kept.Hash != f.MendedHash {
		return c, nil
	}
	if err != nil {
		return c, err
	}
	for _, one := range kept.Pages {
		c.Pages[one.Page] = append(c.Pages[one.Page], one)
	}
	c.Verdict = mend.Judge(kept.Pages)
	return c, nil
}

// CompareAll compares all pages that mending changed with what they were, beside the screens: pixel by pixel, in windows
// of three widths, without their pictures.
func (d *Desk) CompareAll(id uint) (*jobs.Job, error) {
	if err := d.MayKeep(); err != nil {
		return nil, err
	}
	f, err := d.site(id)
	if err != nil {
		return nil, err
	}
	if f.MendedHash == "" {
		return nil, access.Refuse(access.Missing, "The site has not been mended yet.", "Mend it first.")
	}
	if d.compare == nil {
		return nil, access.Refuse(access.Missing, "There is no browser here that could compare pages.", "Ask whoever runs Mivlet to install Chromium. Until then, look at the pages one by one.")
	}
	pages, err := d.changed(d.Context, f)
	if err != nil {
		return nil, err
	}
	j, err := d.comparing.Begin(d.jobs, id, "Comparing the pages of "+f.Title, []jobs.Of[toCompare]{{Steps: max(len(pages), 1), Of: toCompare{id}}})
	if errors.Is(err, jobs.ErrGoesOn) {
		return nil, access.Refuse(access.Clash, "Its pages are being compared already.", "Wait until that is done, or stop it.")
	}
	return j, err
}

// changed are the pages of a site that mending changes.
func (d *Desk) changed(ctx context.Context, f store.FormerSite) (pages []string, err error) {
	choices, err := d.Store.FormerChoices(f.ID)
	if err != nil {
		return nil, err
	}
	plan, err := d.plan(ctx, f, choices)
	if err != nil {
		return nil, err
	}
	return plan.Paths(), nil
}

// compareAll does that.
func (d *Desk) compareAll(ctx context.Context, j *jobs.Job, of toCompare) error {
	if err := d.MayKeep(); err != nil { // they may keep the house no longer
		return err
	}
	f, err := d.site(of.Site)
	if err != nil {
		return err
	}
	pages, err := d.changed(ctx, f)
	if err != nil {
		return err
	}
	was, err := d.Store.OpenFormer(f.Hash)
	if err != nil {
		return err
	}
	defer was.Close()
	now, err := d.Store.OpenFormer(f.MendedHash)
	if err != nil {
		return err
	}
	defer now.Close()
	found, err := d.compare(ctx, was, now, pages, func(done, _ int) { j.Come(done) })
	if err != nil {
		return err
	}
	return d.Store.Tx(func(s store.Records) error {
		return s.SaveFormerCompared(store.FormerCompared{FormerSiteID: f.ID, Hash: f.MendedHash, At: d.Now(), Pages: found})
	})
}
