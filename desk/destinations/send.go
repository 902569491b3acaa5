package destinations

import (
	"context"
	"crypto/sha256"
	"encoding/hex"
	"errors"
	"fmt"
	"io"
	"io/fs"
	"slices"
	"time"

	"mivlet/core/site"
	"mivlet/desk/access"
	"mivlet/desk/mirror"
	"mivlet/store"
)

// Work is what is to be done at a destination.
type Work struct {
	site.Plan
	Theirs  []string // paths at which somebody else put or changed something; they are not overwritten
	Missing int      // files that were sent before and are no longer there
	Broken  []mirror.Broken
	Left    []string // files that cannot be sent, as they are called
}

// round is one going through of a destination.
type round struct {
	*Desk
	to    store.Destination
	place Place
	site  *mirror.Site
	rows  map[string]store.SentFile
	work  Work
	there map[string]bool // wanted files that are there already, though nobody noted them
	look  bool            // each file that was sent is looked at
	// stamps are those that were asked for while it was planned: "" where nothing is there. Nil once
	// files are being sent.
	stamps map[string]string
	listed bool // stamps has those of all files
}

// prepare finds out what is to be done, and changes nothing.
func (d *Desk) prepare(ctx context.Context, to store.Destination, l *lane, look bool) (*round, error) {
	open := d.open[to.Kind]
	if open == nil {
		return nil, access.Refuse(access.Bad, fmt.Sprintf("Nothing can be sent to a destination of the kind %q here.", to.Kind), "")
	}
	r := &round{Desk: d, to: to, rows: map[string]store.SentFile{}, there: map[string]bool{}, stamps: map[string]string{}, look: look}
	secret, err := d.secretOf(to)
	if err != nil {
		return nil, err
	}
	if r.place, err = open(ctx, to, secret); err != nil {
		return nil, err
	}
	if err := r.plan(ctx, l); err != nil {
		return nil, errors.Join(err, r.close())
	}
	return r, nil
}

func (r *round) close() error {
	var err error
	if r.site != nil {
		err = r.site.Close()
	}
	return errors.Join(err, r.place.Close())
}

// source is what is sent to a destination: what is live, or a former site that was mended.
func (d *Desk) source(to store.Destination, l *lane) (*mirror.Site, error) {
	at := mirror.Target{Base: to.Base, Relative: to.Relative, Form: to.Form, Layout: to.Layout}
	if to.FormerSite == 0 {
		return d.mirror.Walk(at, &l.memory)
	}
	f, err := d.Store.FormerSite(to.FormerSite)
	if err != nil {
		return nil, access.NotFound(err, "The former site")
	}
	return d.mirror.Archive(at, f, &l.memory)
}

// plan finds out what is wanted, what was sent, and what is there.
func (r *round) plan(ctx context.Context, l *lane) (err error) {
	if r.site, err = r.source(r.to, l); err != nil {
		return err
	}
	r.work.Broken, r.work.Left = r.site.Broken, r.site.Left
	rows, err := r.Store.SentFiles(r.to.ID)
	if err != nil {
		return err
	}
	for _, row := range rows {
		r.rows[row.Path] = row
	}
	return r.compare(ctx)
}

// compare plans what to send, and looks at what is there where it would be overwritten.
func (r *round) compare(ctx context.Context) error {
	var wanted []site.File
	stay := map[[2]int]bool{} // pictures as they are shown somewhere now
	for _, m := range r.site.Files {
		wanted = append(wanted, m.File)
		if m.Picture != 0 {
			stay[[2]int{int(m.Picture), m.Version}] = true //nolint:gosec // a number of the database
		}
	}
	if list, can := r.place.(Lister); can && r.look {
		all, err := list.Stamps(ctx)
		if err != nil {
			return err
		}
		r.stamps, r.listed = all, true
	}
	if r.look {
		for file, row := range r.rows {
			if row.Sum == "" || r.site.Files[file] == nil {
				continue
			}
			stamp, err := r.stamp(ctx, file)
			if err != nil {
				return err
			}
			if stamp == "" {
				row.Sum, row.Stamp = "", ""
				r.rows[file] = row
				r.work.Missing++
			}
		}
	}
	var sent []site.Sent
	for _, row := range r.rows {
		s := site.Sent{Path: row.Path, Sum: row.Sum, Bytes: row.Bytes}
		if row.UnusedSince != nil {
			s.Unused = *row.UnusedSince
		}
		// A page that was taken off, and a picture that is shown otherwise now or not at all, must
		// not stay: it may have gone because of what could be seen.
		//nolint:gosec // a number of the database
		s.AtOnce = !row.Shared && !stay[[2]int{int(row.PictureID), row.PictureVersion}]
		sent = append(sent, s)
	}
	r.work.Plan = site.Compare(wanted, sent, r.Now(), time.Duration(r.to.GraceHours)*time.Hour)
	var send []site.File
	for _, f := range r.work.Send {
		ours, err := r.ours(ctx, f.Path, f.Sum)
		if err != nil {
			return err
		}
		if ours {
			send = append(send, f)
		}
	}
	r.work.Send = send
	for _, f := range r.work.Same {
		if row := r.rows[f.Path]; r.look || row.Theirs != "" {
			if _, err := r.ours(ctx, f.Path, f.Sum); err != nil {
				return err
			}
		}
	}
	slices.Sort(r.work.Theirs)
	return nil
}

// stamp returns that of what is at a path; "" where nothing is.
func (r *round) stamp(ctx context.Context, path string) (string, error) {
	if stamp, known := r.stamps[path]; known || r.listed {
		return stamp, nil
	}
	stamp, err := r.place.Stamp(ctx, path)
	if errors.Is(err, fs.ErrNotExist) {
		stamp, err = "", nil
	}
	if err == nil && r.stamps != nil {
		r.stamps[path] = stamp
	}
	return stamp, err
}

// found is what is at a path.
type found struct {
	stamp string // "" where nothing is
	sum   string // of its content; "" where the stamp says enough
	ours  bool   // nothing is there, or what was sent, or what was being sent when sending ended
}

// find looks at what is at a path. It is read only where its stamp is another one than that of what
// was sent.
func (r *round) find(ctx context.Context, path string) (f found, err error) {
	if f.stamp, err = r.stamp(ctx, path); err != nil {
		return f, err
	}
	row, known := r.rows[path]
	if f.stamp == "" || known && row.Sum != "" && f.stamp == row.Stamp {
		f.ours = true
		return f, nil
	}
	if f.sum, err = r.sumAt(ctx, path); err != nil {
		return f, err
	}
	f.ours = known && (f.sum == row.Sum || f.sum == row.Trying)
	return f, nil
}

// ours reports whether what is at a path may be overwritten. Whatever is not ours and not what is
// wanted is somebody else's.
func (r *round) ours(ctx context.Context, path, want string) (bool, error) {
	if !site.Safe(path) {
		return false, fmt.Errorf("invalid path %q: it cannot be sent", path)
	}
	f, err := r.find(ctx, path)
	if err != nil {
		return false, err
	}
	row := r.rows[path]
	switch {
	case f.sum == want:
		row.Stamp = f.stamp
		r.rows[path], r.there[path] = row, true
		return true, nil
	case f.ours:
		return true, nil
	}
	if was, err := r.site.Was(path); err != nil || was != "" && f.sum == was {
		return err == nil, err
	}
	row.DestinationID, row.Path, row.Theirs = r.to.ID, path, f.sum
	r.rows[path] = row
	r.work.Theirs = append(r.work.Theirs, path)
	return false, nil
}

// sumAt reads what is at a path.
func (r *round) sumAt(ctx context.Context, path string) (string, error) {
	in, err := r.place.Open(ctx, path)
	if err != nil {
		return "", err
	}
	defer in.Close()
	h := sha256.New()
	if _, err := io.Copy(h, in); err != nil {
		return "", err
	}
	return hex.EncodeToString(h.Sum(nil)), nil
}

// notedAtOnce is how many files are sent before they are noted: those that were not when sending
// was broken off are known by what was being sent.
const notedAtOnce = 64

// send does the work. What was done before it failed stays done, and is known.
func (r *round) send(ctx context.Context, l *lane) error {
	planned := r.stamps
	r.stamps, r.listed = nil, false
	all := len(r.work.Send) + len(r.work.Remove)
	l.progress(&Progress{0, all})
	if err := r.begin(); err != nil {
		return err
	}
	var done []store.SentFile
	note := func() error {
		err := r.Store.Tx(func(s store.Records) error { return s.SaveSent(done) })
		done = nil
		return err
	}
	held := slices.ContainsFunc(r.work.Theirs, func(p string) bool { return r.site.Files[p] != nil && r.site.Files[p].Kind == site.Shown })
	for i, f := range r.work.Send {
		if held && f.Kind == site.Page {
			break // it would show what somebody else put there
		}
		ours, err := r.stillOurs(ctx, f, planned[f.Path])
		if err != nil {
			return errors.Join(fmt.Errorf("%s: %w", f.Path, err), note())
		}
		if !ours {
			done = append(done, r.rows[f.Path])
			continue
		}
		row, err := r.put(ctx, r.site.Files[f.Path])
		if err != nil {
			return errors.Join(fmt.Errorf("%s: %w", f.Path, err), note())
		}
		r.rows[f.Path] = row
		if done = append(done, row); len(done) >= notedAtOnce {
			if err := note(); err != nil {
				return err
			}
		}
		l.progress(&Progress{i + 1, all})
	}
	if err := note(); err != nil {
		return err
	}
	r.work.Send = slices.DeleteFunc(r.work.Send, func(f site.File) bool { return slices.Contains(r.work.Theirs, f.Path) })
	if held {
		return access.Refuse(access.Clash, "Somebody else changed pictures or styles there that pages show: "+r.work.Theirs[0]+".", "Pages are sent once you have said what to do with them.")
	}
	return r.remove(ctx, l, all)
}

// stillOurs reports whether a file may be overwritten that could be when it was planned. Names that
// carry a mark of their content are not looked at again: nobody else writes there.
func (r *round) stillOurs(ctx context.Context, f site.File, planned string) (bool, error) {
	if f.Kind == site.Shown {
		return true, nil
	}
	stamp, err := r.stamp(ctx, f.Path)
	if err != nil || stamp == planned {
		return true, err
	}
	return r.ours(ctx, f.Path, f.Sum)
}

// begin notes what is going to be sent, what is somebody else's, and what nothing leads to any more.
func (r *round) begin() error {
	var rows []store.SentFile
	theirs := map[string]bool{}
	for _, p := range r.work.Theirs {
		theirs[p] = true
		rows = append(rows, r.rows[p])
	}
	for _, f := range r.work.Send {
		row := r.rows[f.Path]
		row.DestinationID, row.Path, row.Trying, row.Theirs = r.to.ID, f.Path, f.Sum, ""
		r.rows[f.Path] = row
		rows = append(rows, row)
	}
	for _, f := range r.work.Same {
		if row := r.rows[f.Path]; !theirs[f.Path] && (row.UnusedSince != nil || row.Theirs != "" || r.there[f.Path]) {
			row.UnusedSince, row.Theirs = nil, ""
			rows = append(rows, row)
		}
	}
	now := r.Now()
	for _, s := range r.work.Waiting {
		if row := r.rows[s.Path]; row.UnusedSince == nil {
			row.UnusedSince = &now
			rows = append(rows, row)
		}
	}
	return r.Store.Tx(func(s store.Records) error { return s.SaveSent(rows) })
}

// put sends one file.
func (r *round) put(ctx context.Context, m *mirror.File) (store.SentFile, error) {
	row := store.SentFile{DestinationID: r.to.ID, Path: m.Path, Sum: m.Sum, Bytes: m.Bytes, PictureID: m.Picture, PictureVersion: m.Version, Shared: m.Shared}
	if err := ctx.Err(); err != nil {
		return row, err
	}
	if r.there[m.Path] {
		stamp, err := r.place.Stamp(ctx, m.Path)
		row.Stamp = stamp
		return row, err
	}
	in, err := r.site.Open(m)
	if err != nil {
		return row, err
	}
	defer in.Close()
	row.Stamp, err = r.place.Put(ctx, m.Path, in)
	return row, err
}

// remove takes away what must not stay. What somebody else changed stays, and is theirs from now on.
func (r *round) remove(ctx context.Context, l *lane, all int) error {
	for i, s := range r.work.Remove {
		if err := ctx.Err(); err != nil {
			return err
		}
		f, err := r.find(ctx, s.Path)
		if err == nil && f.stamp != "" && f.ours {
			err = r.place.Remove(ctx, s.Path)
		}
		if err != nil {
			return fmt.Errorf("%s: %w", s.Path, err)
		}
		if err := r.Store.Tx(func(st store.Records) error { return st.DropSent(r.to.ID, []string{s.Path}) }); err != nil {
			return err
		}
		l.progress(&Progress{all - len(r.work.Remove) + i + 1, all})
	}
	return nil
}
