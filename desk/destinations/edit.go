package destinations

import (
	"cmp"
	"context"
	"encoding/json"
	"fmt"
	"os"
	"path/filepath"
	"slices"
	"strings"

	"mivlet/core/site"
	"mivlet/desk/access"
	"mivlet/store"
)

// View is a destination with all that is known of it.
type View struct {
	store.Destination
	Files, Waiting int // that it has; that stay for a while
	Bytes          int64
	Theirs         []string  // paths that somebody else changed
	Due            bool      // something may have changed since it was sent to
	Now            *Progress // nil where nothing is being sent
	Saw            *Seen     // nil where nobody has looked
}

// All returns the destinations of the house.
func (d *Desk) All() ([]View, error) {
	if err := d.MayKeep(); err != nil {
		return nil, err
	}
	var all []View
	return all, d.Store.View(func(s store.Records) error {
		list, err := s.Destinations()
		if err != nil {
			return err
		}
		state, err := d.state(s)
		for _, to := range list {
			rows, bad := s.SentFiles(to.ID)
			v := View{Destination: to, Due: to.State != state, Now: d.lane(to.ID).Progress()}
			for _, r := range rows {
				if r.Theirs != "" {
					v.Theirs = append(v.Theirs, r.Path)
				}
				if r.Sum != "" {
					v.Files, v.Bytes = v.Files+1, v.Bytes+r.Bytes
				}
				if r.UnusedSince != nil {
					v.Waiting++
				}
			}
			if to.Seen != "" {
				v.Saw = &Seen{}
				bad = cmp.Or(bad, json.Unmarshal([]byte(to.Seen), v.Saw))
			}
			all, err = append(all, v), cmp.Or(err, bad)
		}
		return err
	})
}

// Of returns one destination.
func (d *Desk) Of(id uint) (View, error) {
	all, err := d.All()
	if err != nil {
		return View{}, err
	}
	i := slices.IndexFunc(all, func(v View) bool { return v.ID == id })
	if i < 0 {
		return View{}, access.NotFound(store.ErrNotFound, "The destination")
	}
	return all[i], nil
}

// Change is what a keeper says of a destination.
type Change struct {
	ID         uint // 0 for a new one
	Title      string
	Folder     string
	Base       string
	Relative   bool
	Form       string
	GraceHours int
}

// longestGrace is how many hours a file may stay that nothing leads to: three months.
const longestGrace = 24 * 92

// Save adds or changes a destination. Nothing is sent to a new one before somebody has seen what
// would be.
func (d *Desk) Save(c Change) (uint, error) {
	if err := d.MayKeep(); err != nil {
		return 0, err
	}
	base, err := site.ParseBase(c.Base)
	if err != nil {
		return 0, access.Because(access.Bad, "The public address cannot be used.", "Enter the address at which visitors find the folder, such as https://club.example/paddle.", err)
	}
	folder, err := d.folder(c.Folder)
	if err != nil {
		return 0, err
	}
	switch {
	case !slices.Contains(site.Forms, site.Form(c.Form)):
		return 0, access.Refuse(access.Bad, fmt.Sprintf("%q is no way to tell a server what has moved.", c.Form), "Choose one of the list.")
	case c.GraceHours < 0 || c.GraceHours > longestGrace:
		return 0, access.Refuse(access.Bad, fmt.Sprintf("%d hours are not possible.", c.GraceHours), fmt.Sprintf("Enter a number of hours between 0 and %d.", longestGrace))
	}
	title := strings.TrimSpace(cmp.Or(strings.TrimSpace(c.Title), base.Host+base.Path))
	if len(title) > 200 {
		return 0, access.Refuse(access.Bad, "The name is too long.", "Enter no more than 200 characters.")
	}
	id := c.ID
	return id, d.Store.Tx(func(s store.Records) error {
		all, err := s.Destinations()
		if err != nil {
			return err
		}
		to := store.Destination{Kind: InFolder, Paused: true, CreatedAt: d.Now()}
		for _, o := range all {
			if o.ID == c.ID {
				to = o
			} else if within(folder, o.Folder) || within(o.Folder, folder) {
				return access.Refuse(access.Bad, fmt.Sprintf("%s sends to %s already.", o.Title, o.Folder), "Choose a folder of its own: two destinations must not lie within each other.")
			}
		}
		if c.ID != 0 && to.ID == 0 {
			return access.NotFound(store.ErrNotFound, "The destination")
		}
		if to.ID != 0 && to.Folder != folder {
			if rows, err := s.SentFiles(to.ID); err != nil || len(rows) > 0 {
				return cmp.Or(err, error(access.Refuse(access.Bad, "Files were sent to the folder "+to.Folder+".", "Add another destination for the new folder, and remove this one.")))
			}
		}
		to.Title, to.Folder, to.Base, to.Relative, to.Form, to.GraceHours = title, folder, base.String(), c.Relative, c.Form, c.GraceHours
		to.State, to.Failed = "", ""
		if to.ID != 0 {
			if err := s.SaveDestination(to); err != nil {
				return err
			}
			return d.Trace(s, "", "Changed the destination %s", title)
		}
		if err := s.AddDestination(&to); err != nil {
			return err
		}
		id = to.ID
		return d.Trace(s, "", "Added the destination %s: %s", title, folder)
	})
}

// folder checks a folder that pages are to be sent to.
func (d *Desk) folder(text string) (string, error) {
	folder := filepath.Clean(strings.TrimSpace(text))
	if !filepath.IsAbs(folder) || folder == filepath.Dir(folder) {
		return "", access.Refuse(access.Bad, fmt.Sprintf("%q is not the whole path of a folder.", strings.TrimSpace(text)), "Enter all of it, such as /srv/www/paddle.")
	}
	info, err := os.Stat(folder)
	if err != nil || !info.IsDir() {
		return "", access.Because(access.Bad, "There is no folder "+folder+" on the machine that Mivlet runs on.", "Create it there, and let Mivlet write into it.", err)
	}
	real, err := filepath.EvalSymlinks(folder)
	if err != nil {
		return "", err
	}
	if own, err := filepath.EvalSymlinks(d.data); err == nil && d.data != "" && (within(real, own) || within(own, real)) {
		return "", access.Refuse(access.Bad, "Mivlet keeps its own data there, which nobody outside may see.", "Choose another folder.")
	}
	return folder, nil
}

// within reports whether a folder is another one, or lies in it.
func within(inner, outer string) bool {
	rel, err := filepath.Rel(outer, inner)
	return err == nil && rel != ".." && !strings.HasPrefix(rel, ".."+string(filepath.Separator))
}

// Remove forgets a destination. What was sent stays where it is.
func (d *Desk) Remove(id uint) error {
	return d.changing(id, "Removed the destination %s; its files stay there", func(s store.Records, to *store.Destination) error {
		return s.RemoveDestination(to.ID)
	})
}

// Pause lets nothing be sent to a destination, or lets it be again.
func (d *Desk) Pause(id uint, paused bool) error {
	what := "Nothing is sent to %s any more"
	if !paused {
		what = "What goes live is sent to %s"
	}
	return d.changing(id, what, func(s store.Records, to *store.Destination) error {
		to.Paused = paused
		return s.SaveDestination(*to)
	})
}

// Overwrite lets what somebody else put there be replaced by what is sent. theirs are the paths that
// whoever decided has seen.
func (d *Desk) Overwrite(id uint, theirs []string) error {
	return d.changing(id, "Let files be overwritten that somebody else changed at %s", func(s store.Records, to *store.Destination) error {
		rows, err := s.SentFiles(id)
		if err != nil {
			return err
		}
		var changed []store.SentFile
		for _, r := range rows {
			if r.Theirs != "" && slices.Contains(theirs, r.Path) {
				r.Sum, r.Stamp, r.Theirs = r.Theirs, "", ""
				changed = append(changed, r)
			}
		}
		if len(changed) == 0 {
			return access.Refuse(access.Bad, "None of these files is there as it was.", "Look at the destination again.")
		}
		to.State = ""
		if err := s.SaveDestination(*to); err != nil {
			return err
		}
		return s.SaveSent(changed)
	})
}

// changing does something with a destination in a transaction, and notes it.
func (d *Desk) changing(id uint, what string, do func(store.Records, *store.Destination) error) error {
	if err := d.MayKeep(); err != nil {
		return err
	}
	return d.Store.Tx(func(s store.Records) error {
		to, err := s.Destination(id)
		if err != nil {
			return access.NotFound(err, "The destination")
		}
		if err := do(s, &to); err != nil {
			return err
		}
		return d.Trace(s, "", what, to.Title)
	})
}

// DryRun tells what would be sent and removed. It changes nothing.
func (d *Desk) DryRun(ctx context.Context, id uint) (Work, error) {
	if err := d.MayKeep(); err != nil {
		return Work{}, err
	}
	to, err := d.Store.Destination(id)
	if err != nil {
		return Work{}, access.NotFound(err, "The destination")
	}
	l := d.lane(id)
	l.Lock()
	defer l.Unlock()
	r, err := d.prepare(ctx, to, l, true)
	if err != nil {
		return Work{}, refused(to, err)
	}
	return r.work, r.place.Close()
}
