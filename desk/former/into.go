package former

import (
	"context"
	"errors"
	"log/slog"

	"mivlet/core/survey"
	"mivlet/desk/access"
	"mivlet/desk/jobs"
	"mivlet/store"
)

// toLook is a site whose pictures are to be looked into.
type toLook struct {
	Site uint `json:"site"`
}

// LookInto looks into the pictures of a site beside the screens, at their pixels: for faces, for what can be read of
// people, for mosaics and blurs, for still copies of what moves, and for one picture in several sizes. Where there is a browser, it
// measures how they are shown.
func (d *Desk) LookInto(id uint) (*jobs.Job, error) {
	if err := d.MayKeep(); err != nil {
		return nil, err
	}
	f, err := d.site(id)
	if err != nil {
		return nil, err
	}
	j, err := d.looking.Begin(d.jobs, id, "Looking into the pictures of "+f.Title, []jobs.Of[toLook]{{Steps: max(f.Sum.Pictures, 1), Of: toLook{id}}})
	if errors.Is(err, jobs.ErrGoesOn) {
		return nil, access.Refuse(access.Clash, "Its pictures are being looked into already.", "Wait until that is done, or stop it.")
	}
	return j, err
}

// lookInto does that.
func (d *Desk) lookInto(ctx context.Context, j *jobs.Job, of toLook) error {
	if err := d.MayKeep(); err != nil { // they may keep the house no longer
		return err
	}
	f, err := d.site(of.Site)
	if err != nil {
		return err
	}
	files, err := d.Store.OpenFormer(f.Hash)
	if err != nil {
		return err
	}
	defer files.Close()
	found, err := survey.Read(ctx, files, survey.Options{Hosts: f.Hosts}) // one of its own: others read the one that is known
	if err != nil {
		return err
	}
	o := survey.Looking{Limits: d.limits(), Inspect: d.derive.Inspect, Progress: func(done, _ int) { j.Come(done) }}
	if err := found.Look(ctx, files, o); err != nil {
		return err
	}
	look := store.FormerLook{FormerSiteID: f.ID, Hash: f.Hash, At: d.Now(), Seen: found.Seen()}
	if d.measure != nil {
		var pages []string
		for _, p := range found.Pages {
			if len(p.Uses) > 0 {
				pages = append(pages, p.Path)
			}
		}
		if look.Measured, err = d.measure(ctx, files, pages, nil); ctx.Err() != nil {
			return ctx.Err()
		} else if err != nil {
			slog.Info("how wide pictures are shown stays an estimate", "site", f.ID, "reason", err)
		}
	}
	if err := d.Store.Tx(func(s store.Records) error { return s.SaveFormerLook(look) }); err != nil {
		return err
	}
	d.forget(f.Hash)
	return nil
}

// forget has a site be read anew.
func (s *shared) forget(hash string) {
	s.mu.Lock()
	defer s.mu.Unlock()
	var all []known
	for _, k := range s.read {
		if k.hash != hash {
			all = append(all, k)
		}
	}
	s.read = all
}
