package former

import (
	"archive/zip"
	"context"
	"errors"
	"fmt"
	"io"
	"path"

	"mivlet/core/mend"
	"mivlet/core/raster"
	"mivlet/core/survey"
	"mivlet/desk/access"
	"mivlet/desk/jobs"
	"mivlet/store"
)

// Mending is the job that mends a site; 0 where none does.
func (d *Desk) Mending(id uint) (uint, error) { return d.mending.Going(d.jobs, id) }

// Mend mends a site beside the screens: a new archive is made, which takes the place of one that was made
// before only when all of it is there.
func (d *Desk) Mend(id uint) (*jobs.Job, error) {
	if err := d.MayKeep(); err != nil {
		return nil, err
	}
	f, found, err := d.surveyed(id)
	if err != nil {
		return nil, err
	}
	steps := len(found.Files) + len(found.Pages)
	j, err := d.mending.Begin(d.jobs, id, "Mending "+f.Title, []jobs.Of[toMend]{{Steps: steps, Of: toMend{id}}})
	if errors.Is(err, jobs.ErrGoesOn) {
		return nil, access.Refuse(access.Clash, f.Title+" is being mended already.", "Wait until that is done, or stop it.")
	}
	return j, err
}

// toMend is a site that is to be mended.
type toMend struct {
	Site uint `json:"site"`
}

// mend mends a site as was decided until now.
func (d *Desk) mend(ctx context.Context, j *jobs.Job, of toMend) error {
	if err := d.MayKeep(); err != nil { // they may keep the house no longer
		return err
	}
	f, err := d.site(of.Site)
	if err != nil {
		return err
	}
	choices, err := d.Store.FormerChoices(of.Site)
	if err != nil {
		return err
	}
	found, err := d.survey(ctx, f)
	if err != nil {
		return err
	}
	plan, err := d.plan(ctx, f, choices)
	if err != nil {
		return err
	}
	from, err := d.Store.OpenFormer(f.Hash)
	if err != nil {
		return err
	}
	defer from.Close()
	out, in := io.Pipe()
	var outcomes []mend.Outcome
	written := make(chan struct{})
	go func() {
		defer close(written)
		z := zip.NewWriter(in)
		var err error
		outcomes, err = plan.Write(ctx, from, found.Survey, d.limits(), mend.Archive{Files: from, Into: z}, func(done, _ int) { j.Come(done) })
		if err == nil {
			err = z.Close()
		}
		in.CloseWithError(err)
	}()
	hash, err := d.Store.Files.Put(out, "application/zip")
	out.CloseWithError(errors.Join(err, io.ErrClosedPipe))
	<-written
	if err != nil {
		if ctx.Err() != nil {
			return ctx.Err() // what was mended before stays
		}
		return err
	}
	return d.keepMended(ctx, f, hash, outcomes)
}

// keepMended notes what was mended, with how it stands now.
func (d *Desk) keepMended(ctx context.Context, f store.FormerSite, hash string, outcomes []mend.Outcome) error {
	mended, err := d.Store.OpenFormer(hash)
	if err != nil {
		return err
	}
	defer mended.Close()
	now, err := survey.Read(ctx, mended, survey.Options{Hosts: f.Hosts})
	if err != nil {
		return err
	}
	var stayed []string
	for _, o := range outcomes {
		if o.Fault != "" {
			stayed = append(stayed, o.Picture+": "+o.Fault)
		}
	}
	sum := now.Report().Sum
	return d.Store.Tx(func(s store.Records) error {
		if err := s.SaveMended(f.ID, hash, sum, stayed, d.Now()); err != nil {
			return err
		}
		return d.Trace(s, "", "Mended %s", f.Title)
	})
}

// limits are those of the house, for what is decoded.
func (d *Desk) limits() raster.Limits {
	l := d.Rules().Limits
	return raster.Limits{Side: l.Side, Pixels: l.Pixels, Bytes: l.Bytes, Frames: l.Frames, FramePixels: l.FramePixels}
}

// Take opens the archive of the mended site, and says what it is to be called.
func (d *Desk) Take(id uint) (store.File, string, error) {
	f, err := d.site(id)
	if err != nil {
		return nil, "", err
	}
	if f.MendedHash == "" {
		return nil, "", access.Refuse(access.Missing, "The site has not been mended yet.", "Mend it first.")
	}
	file, err := d.Store.Files.Open(f.MendedHash)
	if err != nil {
		return nil, "", err
	}
	return file, f.Title + "-mended.zip", d.Store.Tx(func(s store.Records) error { return d.Trace(s, "", "Took the mended %s away", f.Title) })
}

// Drop forgets a former site, with all that was decided about it. word is its title, typed again: it cannot
// be undone.
func (d *Desk) Drop(id uint, word string) error {
	if err := d.MayKeep(); err != nil {
		return err
	}
	f, err := d.site(id)
	if err != nil {
		return err
	}
	if job, err := d.Mending(id); err != nil {
		return err
	} else if job != 0 {
		return access.Refuse(access.Clash, f.Title+" is being mended.", "Stop that first, or wait until it is done.")
	}
	all, err := d.Store.Destinations()
	if err != nil {
		return err
	}
	for _, to := range all {
		if to.FormerSite == id {
			return access.Refuse(access.Clash, f.Title+" is sent to "+to.Title+".", "Remove that destination first. Its files stay there.")
		}
	}
	if word != f.Title {
		return access.Refuse(access.Bad, fmt.Sprintf("Type %s to confirm: this cannot be undone.", f.Title), "Take the mended site away first, if you need it.")
	}
	return d.Store.Tx(func(s store.Records) error {
		if err := s.DropFormerSite(id); err != nil {
			return err
		}
		return d.Trace(s, "", "Forgot the former site %s", path.Base(f.Title))
	})
}
