package publish

import (
	"io"
	"slices"
	"sync"
	"time"

	"mivlet/core/page"
	"mivlet/desk/address"
	"mivlet/desk/jobs"
	"mivlet/desk/snapshot"
	"mivlet/store"
)

// ahead are the pages whose files are made while somebody still works on them, in the order in
// which they were changed. One is worked on at a time: making files takes the whole machine.
type ahead struct {
	mu      sync.Mutex
	due     []uint
	changed time.Time     // when a page was changed last
	running *jobs.Job     // nil while nothing is made
	hurry   chan struct{} // closed by who waits for it
}

// quiet is how long nothing may have changed before files are made: who is at work comes first.
const quiet = 2 * time.Second

// Ahead makes the files of a page's draft beside the screens, so that whoever publishes it waits
// for nothing. What is made already is not made again; what changes meanwhile is made after it.
func (d *Desk) Ahead(id uint) error {
	if err := d.pages.MayWorkOn(id); err != nil {
		return err
	}
	a := &d.ahead
	a.mu.Lock()
	defer a.mu.Unlock()
	if !slices.Contains(a.due, id) {
		a.due = append(a.due, id)
	}
	a.changed = time.Now()
	if a.running == nil {
		later := d.beside()
		a.hurry = make(chan struct{})
		a.running = d.jobs.Start("Making files ahead", []jobs.Task{{Steps: 1, Do: func(*jobs.Job) error { later.catchUp(); return nil }}})
	}
	return nil
}

// catchUp makes what is due, until nothing is, or until the house closes.
func (d *Desk) catchUp() {
	for {
		d.ahead.mu.Lock()
		job := d.ahead.running
		if len(d.ahead.due) == 0 || job.Stopping() {
			d.ahead.due, d.ahead.running = nil, nil
			d.ahead.mu.Unlock()
			return
		}
		if rest := time.Until(d.ahead.changed.Add(quiet)); rest > 0 && !d.ahead.hurried() {
			hurry := d.ahead.hurry
			d.ahead.mu.Unlock()
			select {
			case <-time.After(rest):
			case <-hurry:
			case <-job.Halted():
			}
			continue
		}
		id := d.ahead.due[0]
		d.ahead.due = d.ahead.due[1:]
		d.ahead.mu.Unlock()
		d.makeAhead(id, job.Stopping)
	}
}

// hurried reports whether somebody waits. It wants the lock.
func (a *ahead) hurried() bool {
	select {
	case <-a.hurry:
		return true
	default:
		return false
	}
}

// AheadDone makes what is due at once, and waits until nothing is.
func (d *Desk) AheadDone() {
	d.ahead.mu.Lock()
	job := d.ahead.running
	if job != nil && !d.ahead.hurried() {
		close(d.ahead.hurry)
	}
	d.ahead.mu.Unlock()
	if job != nil {
		job.Wait()
	}
}

// makeAhead makes the cuts of a page, picture by picture. What cannot be made is told where the
// page is signed; here it is left out.
func (d *Desk) makeAhead(id uint, stopping func() bool) {
	n, err := d.snapshot.Snap(id)
	if err != nil {
		return
	}
	nowhere := func(store.Picture, store.Cut) string { return "" }
	for _, s := range n.Doc.Stands(n.House.Rules) {
		if stopping() {
			return
		}
		if !s.Waits() {
			_, _ = d.snapshot.CutImage(n, s, nowhere)
		}
	}
	_ = d.standFor(n)
	how := d.Writing(n, nowhere, func(page.Attachment) string { return "" })
	how.Image = func(page.Stand) (page.Image, error) { return page.Image{}, nil } // made above
	_ = page.WriteHTML(io.Discard, n.Doc, how)                                    // what stands behind bands
}

// standFor makes the files of what stands for a page elsewhere.
func (d *Desk) standFor(n *snapshot.Snapshot) error {
	if _, err := d.snapshot.CoverFiles(n, address.Places{}); err != nil {
		return err
	}
	_, err := d.snapshot.LinkFile(n, address.Places{})
	return err
}
