package desk

import (
	"fmt"
	"slices"
	"sync"
)

// Rooms are where people meet who have the same thing open: a picture on the
// bench, or a page. Whoever is in a room sees who else is, and is told when what
// is in it has changed.
type rooms struct {
	mu  sync.Mutex
	all map[string][]*Visit
}

// Visit is somebody's stay in a room, from one open screen.
type Visit struct {
	desk *Desk
	room string
	at   string // where in it they are; empty for nowhere
	news chan struct{}
}

func pictureRoom(id uint) string { return fmt.Sprintf("picture %d", id) }

// EnterBench enters the room of a picture on the bench.
func (d *Desk) EnterBench(id uint) (*Visit, error) {
	if _, err := d.mine(d.store, id); err != nil {
		return nil, err
	}
	return d.enter(pictureRoom(id)), nil
}

func pageRoom(id uint) string { return fmt.Sprintf("page %d", id) }

// EnterPage enters the room of a page.
func (d *Desk) EnterPage(id uint) (*Visit, error) {
	if err := d.mayLook(); err != nil {
		return nil, err
	}
	if _, err := d.store.Page(id); err != nil {
		return nil, missing(err, "The page")
	}
	return d.enter(pageRoom(id)), nil
}

// BeAt notes where on a page whoever is at the desk is at work, such as at a block;
// "" for nowhere. Others who have the page open are shown it.
func (d *Desk) BeAt(id uint, place string) error {
	p, err := d.ownPage(id)
	if err != nil {
		return err
	}
	if _, there := p.Doc.Block(place); place != "" && !there {
		return refuse(Missing, "There is no such place on the page.", "Look at the page as it is now.")
	}
	r := &d.rooms
	r.mu.Lock()
	defer r.mu.Unlock()
	for _, v := range r.all[pageRoom(id)] {
		if v.desk.who.ID == d.who.ID {
			v.at = place
		}
	}
	r.tell(pageRoom(id))
	return nil
}

// PageVersion returns the version that a page's draft is at.
func (d *Desk) PageVersion(id uint) (int, error) {
	if err := d.mayLook(); err != nil {
		return 0, err
	}
	p, err := d.store.Page(id)
	return p.Version, missing(err, "The page")
}

// Shown returns the step of a picture's history that is shown.
func (d *Desk) Shown(id uint) (int, error) {
	p, err := d.mine(d.store, id)
	return p.Step, err
}

func (d *Desk) enter(room string) *Visit {
	v := &Visit{desk: d, room: room, news: make(chan struct{}, 1)}
	d.rooms.mu.Lock()
	defer d.rooms.mu.Unlock()
	if d.rooms.all == nil {
		d.rooms.all = map[string][]*Visit{}
	}
	d.rooms.all[room] = append(d.rooms.all[room], v)
	d.rooms.tell(room)
	return v
}

// Leave ends the visit.
func (v *Visit) Leave() {
	r := &v.desk.rooms
	r.mu.Lock()
	defer r.mu.Unlock()
	r.all[v.room] = slices.DeleteFunc(r.all[v.room], func(o *Visit) bool { return o == v })
	if len(r.all[v.room]) == 0 {
		delete(r.all, v.room)
	}
	r.tell(v.room)
}

// Ended reports whether the visitor's session has been ended meanwhile, or their account:
// they hear nothing more.
func (v *Visit) Ended() (bool, error) {
	if v.desk.who.ID == 0 {
		return false, nil
	}
	_, there, err := v.desk.Returning(v.desk.who.ID, v.desk.who.epoch)
	return !there, err
}

// News is sent to when who is in the room, or what is in it, has changed.
func (v *Visit) News() <-chan struct{} { return v.news }

// Other is somebody else in the room, and where.
type Other struct {
	Name string `json:"name"`
	At   string `json:"at"`
}

// Others are the other people in the room, in the order they came, each once.
func (v *Visit) Others() []Other {
	r := &v.desk.rooms
	r.mu.Lock()
	defer r.mu.Unlock()
	var others []Other
	for _, o := range r.all[v.room] {
		if o.desk.who.ID == v.desk.who.ID {
			continue
		}
		if i := slices.IndexFunc(others, func(x Other) bool { return x.Name == o.desk.who.Name }); i >= 0 {
			if o.at != "" {
				others[i].At = o.at
			}
			continue
		}
		others = append(others, Other{o.desk.who.Name, o.at})
	}
	return others
}

// stir tells everybody in a room that what is in it has changed.
func (d *Desk) stir(room string) {
	d.rooms.mu.Lock()
	defer d.rooms.mu.Unlock()
	d.rooms.tell(room)
}

// stirAll tells everybody in every room to look again: somebody may have been signed
// out.
func (d *Desk) stirAll() {
	d.rooms.mu.Lock()
	defer d.rooms.mu.Unlock()
	for room := range d.rooms.all {
		d.rooms.tell(room)
	}
}

// tell wants the lock. Who has news waiting already needs no more.
func (r *rooms) tell(room string) {
	for _, v := range r.all[room] {
		select {
		case v.news <- struct{}{}:
		default:
		}
	}
}
