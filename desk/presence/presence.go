// Package presence lets people who have the same thing open know of each other. A room
// is whatever can be open on several screens: a picture on the bench, or a page. Whoever
// is in a room sees who else is, and is told when what is in it has changed.
package presence

import (
	"fmt"
	"slices"
	"sync"
)

// Rooms are all rooms that somebody is in. The zero value is ready; it is safe for
// concurrent use.
type Rooms struct {
	mu     sync.Mutex
	all    map[string][]*Visit
	others others
}

// Member is somebody who is in a room.
type Member struct {
	ID   uint
	Name string
}

// Visit is a visitor's stay in a room, from one open screen.
type Visit struct {
	who   Member
	rooms *Rooms
	room  string
	at    string // where in it they are; empty for nowhere
	news  chan struct{}
}

// Picture is the room of a picture on the bench.
func Picture(id uint) string { return fmt.Sprintf("picture %d", id) }

// Page is the room of a page.
func Page(id uint) string { return fmt.Sprintf("page %d", id) }

// Album names the room of an album.
func Album(id uint) string { return fmt.Sprintf("album %d", id) }

// Enter begins a visit, and tells those who are in the room.
func (r *Rooms) Enter(room string, who Member) *Visit {
	v := &Visit{who: who, rooms: r, room: room, news: make(chan struct{}, 1)}
	r.mu.Lock()
	defer r.mu.Unlock()
	if r.all == nil {
		r.all = map[string][]*Visit{}
	}
	r.all[room] = append(r.all[room], v)
	r.tell(room)
	return v
}

// Leave ends the visit.
func (v *Visit) Leave() {
	r := v.rooms
	r.mu.Lock()
	defer r.mu.Unlock()
	r.all[v.room] = slices.DeleteFunc(r.all[v.room], func(o *Visit) bool { return o == v })
	if len(r.all[v.room]) == 0 {
		delete(r.all, v.room)
	}
	r.tell(v.room)
}

// BeAt notes where in a room somebody is at work, such as at a block of a page; "" for
// nowhere. Others in the room are shown it.
func (r *Rooms) BeAt(room string, who uint, place string) {
	r.mu.Lock()
	defer r.mu.Unlock()
	for _, v := range r.all[room] {
		if v.who.ID == who {
			v.at = place
		}
	}
	r.tell(room)
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
	r := v.rooms
	r.mu.Lock()
	defer r.mu.Unlock()
	var others []Other
	for _, o := range r.there(v.room) {
		if o.ID == v.who.ID {
			continue
		}
		if i := slices.IndexFunc(others, func(x Other) bool { return x.Name == o.Name }); i >= 0 {
			if o.At != "" {
				others[i].At = o.At
			}
			continue
		}
		others = append(others, Other{o.Name, o.At})
	}
	return others
}

// In are the people in a room, in the order they came, each once.
func (r *Rooms) In(room string) (names []string) {
	r.mu.Lock()
	defer r.mu.Unlock()
	for _, v := range r.there(room) {
		if !slices.Contains(names, v.Name) {
			names = append(names, v.Name)
		}
	}
	return names
}

// Notify tells everybody in a room that what is in it has changed.
func (r *Rooms) Notify(room string) {
	r.mu.Lock()
	defer r.mu.Unlock()
	r.tell(room)
}

// NotifyAll tells everybody in every room to look again: somebody may have been signed
// out.
func (r *Rooms) NotifyAll() {
	r.mu.Lock()
	defer r.mu.Unlock()
	r.tellAll()
	r.pass(everywhere)
}

func (r *Rooms) tellAll() {
	for room := range r.all {
		r.tellHere(room)
	}
}

// tell wants the lock, as all below do.
func (r *Rooms) tell(room string) {
	r.tellHere(room)
	r.pass(room)
}

// tellHere tells those who are in a room by this program. Who has news waiting already needs no more.
func (r *Rooms) tellHere(room string) {
	for _, v := range r.all[room] {
		select {
		case v.news <- struct{}{}:
		default:
		}
	}
}
